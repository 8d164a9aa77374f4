//! Signing in, and signing: what takes a hash is hashed off the connections, a few at a time.

use super::secrets::{self, hash};
use super::{roster, work};
use crate::rows::person::Person;
use crate::{RebuildId, Result, Store, StoreError};
use std::time::Duration;
use tokio::sync::Semaphore;

impl Store {
    /// Checks name and password. Hashing takes as long for an unknown name as for a wrong password, holds no
    /// connection, and only a few are hashed at the same time.
    ///
    /// # Errors
    /// [`StoreError::TooMany`] after too many failures from one place, or when too many wait.
    pub async fn sign_in(&self, handle: String, password: String, from: String) -> Result<Option<Person>> {
        let t = self.run(move |c| secrets::try_password(c, &handle, &from)).await?;
        let (t, right) = hashed(move || (t.matches(&password), t)).await.map(|(right, t)| (t, right))?;
        self.run(move |c| secrets::tried(c, &t, right)).await
    }

    /// Sets password and PIN with a code: the first sign-in, or one after they were made void.
    ///
    /// # Errors
    /// `code`, `password`, `pin`; [`StoreError::TooMany`].
    pub async fn first_sign_in(&self, f: roster::First, from: String) -> Result<Person> {
        let wanted = f.clone();
        let t = self.run(move |c| roster::before_code(c, &wanted, &from)).await?;
        let (t, right, password, pin) = hashed(move || {
            let right = t.matches(&roster::plain(&f.code));
            (t, right, hash(&f.password), f.pin.as_deref().map(hash).transpose())
        })
        .await?;
        let (password, pin) = (password?, pin?);
        self.run(move |c| roster::after_code(c, &t, right, &password, pin.as_deref())).await
    }

    /// A person changes their own password or PIN, with the password of now.
    ///
    /// # Errors
    /// `old`, `password`, `pin`; [`StoreError::TooMany`].
    pub async fn change_own(&self, who: Person, old: String, own: roster::Own, from: String) -> Result<Person> {
        let (person, wanted) = (who.clone(), own.clone());
        let t = self.run(move |c| roster::before_own(c, &person, &wanted, &from)).await?;
        let secret = match &own {
            roster::Own::Password(p) | roster::Own::Pin(p) => p.clone(),
        };
        let (t, right, fresh) = hashed(move || (t.matches(&old), hash(&secret), t)).await.map(|(r, h, t)| (t, r, h))?;
        let fresh = fresh?;
        self.run(move |c| roster::after_own(c, &t, right, &who, &own, &fresh)).await
    }

    /// Does something to a rebuild; where a person puts a name under it, with the person's own PIN.
    ///
    /// # Errors
    /// As [`work::work`] and [`work::signed`].
    pub async fn obey(
        &self,
        who: Person,
        rebuild: RebuildId,
        command: ironseat_core::decide::Command,
        pin: String,
    ) -> Result<()> {
        if !command.needs_pin() {
            return self.run(move |c| work::work(c, &who, rebuild, &command)).await;
        }
        let (person, wanted) = (who.clone(), command.clone());
        let t = self.run(move |c| work::before_pin(c, &person, rebuild, &wanted)).await?;
        let (t, right) = hashed(move || (t.matches(pin.trim()), t)).await.map(|(right, t)| (t, right))?;
        self.run(move |c| work::after_pin(c, &who, rebuild, &command, &t, right)).await
    }
}

/// A hash takes 19 MiB and 30 ms on purpose: so many at the same time, the others wait their turn.
static HASHING: Semaphore = Semaphore::const_new(2);

async fn hashed<T: Send + 'static>(work: impl FnOnce() -> T + Send + 'static) -> Result<T> {
    let turn = tokio::time::timeout(Duration::from_secs(8), HASHING.acquire()).await;
    let Ok(Ok(_turn)) = turn else {
        return Err(StoreError::TooMany("many sign in just now: try again in a moment".into()));
    };
    tokio::task::spawn_blocking(work).await.map_err(|e| StoreError::Internal(e.to_string()))
}
