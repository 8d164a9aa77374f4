//! Everybody who works here, as the lead sees them.

use crate::db::schema::people;
use crate::rows::person::{NO_PASSWORD, Role};
use crate::{CustomerId, PersonId, Result};
use chrono::NaiveDateTime;
use diesel::prelude::*;

/// A person as the list shows them.
#[derive(Debug, Clone, Queryable)]
#[allow(missing_docs)]
pub struct Listed {
    pub id: PersonId,
    pub handle: String,
    pub name: String,
    role: String,
    password_hash: String,
    pin_hash: Option<String>,
    /// Until when a code counts.
    pub code_until: Option<NaiveDateTime>,
    pub put_away_at: Option<NaiveDateTime>,
    /// The customer that a viewer belongs to.
    pub customer: Option<CustomerId>,
}

impl Listed {
    /// What they may do.
    #[must_use]
    pub fn role(&self) -> Role {
        Role::of(&self.role)
    }
    /// They have set a password.
    #[must_use]
    pub fn signs_in(&self) -> bool {
        self.password_hash != NO_PASSWORD
    }
    /// They have set a PIN.
    #[must_use]
    pub fn signs(&self) -> bool {
        self.pin_hash.is_some()
    }
}

/// Everybody, those who are put away last.
///
/// # Errors
/// Database errors.
pub fn list(c: &mut MysqlConnection) -> Result<Vec<Listed>> {
    Ok(people::table
        .order((people::put_away_at.is_not_null(), people::name))
        .select((
            people::id,
            people::handle,
            people::name,
            people::role,
            people::password_hash,
            people::pin_hash,
            people::code_until,
            people::put_away_at,
            people::customer_id,
        ))
        .load(c)?)
}
