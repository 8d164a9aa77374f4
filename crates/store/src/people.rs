//! People, roles, passwords and PINs.

use crate::schema::{people, sign_in_failures};
use crate::{Id, Result, StoreError};
use argon2::password_hash::{PasswordHash, PasswordHasher as _, PasswordVerifier as _, SaltString, rand_core::OsRng};
use argon2::{Algorithm, Argon2, Params, Version};
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::quantity::Units;
use serde::{Deserialize, Serialize};

/// What a person may do; each may do what stands before.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Role {
    /// Reads.
    Viewer,
    /// Measures, works, signs own work.
    Bench,
    /// Overrules critical limits, changes house rules, starts rebuilds.
    Lead,
}

impl Role {
    /// Name in records.
    #[must_use]
    pub fn key(self) -> &'static str {
        match self {
            Self::Viewer => "viewer",
            Self::Bench => "bench",
            Self::Lead => "lead",
        }
    }
    fn of(key: &str) -> Self {
        match key {
            "lead" => Self::Lead,
            "bench" => Self::Bench,
            _ => Self::Viewer,
        }
    }
}

/// A person who is signed in.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Person {
    pub id: Id,
    pub handle: String,
    pub name: String,
    pub initials: String,
    pub role: Role,
    pub units: Units,
    /// `light`, `dark` or `auto`.
    pub theme: String,
    /// Hash of the password: a session made with another one is void.
    pub password_hash: String,
    pub has_pin: bool,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = people)]
struct PersonRow {
    id: Id,
    handle: String,
    name: String,
    initials: String,
    role: String,
    password_hash: String,
    pin_hash: Option<String>,
    units: String,
    theme: String,
}

impl From<PersonRow> for Person {
    fn from(r: PersonRow) -> Self {
        Self {
            id: r.id,
            handle: r.handle,
            name: r.name,
            initials: r.initials,
            role: Role::of(&r.role),
            units: if r.units == "inch" { Units::Inch } else { Units::Metric },
            theme: r.theme,
            password_hash: r.password_hash,
            has_pin: r.pin_hash.is_some(),
        }
    }
}

/// Failures within this many minutes count.
const WINDOW_MINUTES: i64 = 5;
/// So many are allowed.
const TRIES: i64 = 6;

fn argon() -> Argon2<'static> {
    // OWASP's second choice: 19 MiB, two passes.
    Argon2::new(Algorithm::Argon2id, Version::V0x13, Params::new(19 * 1024, 2, 1, None).unwrap_or_default())
}

fn hash(secret: &str) -> Result<String> {
    argon()
        .hash_password(secret.as_bytes(), &SaltString::generate(&mut OsRng))
        .map(|h| h.to_string())
        .map_err(|e| StoreError::Internal(e.to_string()))
}

fn matches(secret: &str, hash: &str) -> bool {
    PasswordHash::new(hash).is_ok_and(|h| argon().verify_password(secret.as_bytes(), &h).is_ok())
}

/// A person to be added.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct NewPerson {
    pub handle: String,
    pub name: String,
    pub role: Role,
    pub password: String,
    pub pin: Option<String>,
    pub units: Units,
}

/// Adds a person.
///
/// # Errors
/// `handle`, `name`, `password` or `pin` with what was expected; a conflict when the handle is taken.
pub fn add(c: &mut MysqlConnection, p: &NewPerson) -> Result<Id> {
    let refuse = |field: &str, message: &str| Err(StoreError::Refused(Refusal::new(field, message)));
    let name = p.name.trim();
    if name.is_empty() || name.chars().count() > 120 {
        return refuse("name", "expected the name as it should stand on a certificate, up to 120 characters");
    }
    if p.handle.is_empty() || p.handle.len() > 40 || !p.handle.bytes().all(|b| b.is_ascii_lowercase() || b.is_ascii_digit()) {
        return refuse("handle", "expected a short sign-in name of small letters and digits");
    }
    if p.password.chars().count() < 8 || p.password.len() > 200 {
        return refuse("password", "expected at least 8 characters");
    }
    if p.pin.as_ref().is_some_and(|pin| !(4..=8).contains(&pin.len()) || !pin.bytes().all(|b| b.is_ascii_digit())) {
        return refuse("pin", "expected a PIN of 4 to 8 digits");
    }
    let initials: String = name.split_whitespace().filter_map(|w| w.chars().next()).take(2).collect::<String>().to_uppercase();
    let id = Id::new();
    diesel::insert_into(people::table)
        .values((
            people::id.eq(id),
            people::handle.eq(&p.handle),
            people::name.eq(name),
            people::initials.eq(initials),
            people::role.eq(p.role.key()),
            people::password_hash.eq(hash(&p.password)?),
            people::pin_hash.eq(p.pin.as_deref().map(hash).transpose()?),
            people::units.eq(unit_key(p.units)),
            people::theme.eq("auto"),
        ))
        .execute(c)?;
    Ok(id)
}

fn unit_key(units: Units) -> &'static str {
    match units {
        Units::Metric => "metric",
        Units::Inch => "inch",
    }
}

/// Is anybody there yet?
///
/// # Errors
/// Database errors.
pub fn any(c: &mut MysqlConnection) -> Result<bool> {
    Ok(people::table.count().get_result::<i64>(c)? > 0)
}

/// A person by id.
///
/// # Errors
/// Database errors.
pub fn get(c: &mut MysqlConnection, id: Id) -> Result<Option<Person>> {
    Ok(people::table.find(id).select(PersonRow::as_select()).first(c).optional()?.map(Into::into))
}

/// Checks name and password. Takes as long for an unknown name as for a wrong password.
///
/// # Errors
/// [`StoreError::TooMany`] after six failures within five minutes, from whichever process they came.
pub fn sign_in(c: &mut MysqlConnection, handle: &str, password: &str) -> Result<Option<Person>> {
    let handle: String = handle.trim().to_lowercase().chars().filter(char::is_ascii_alphanumeric).take(40).collect();
    throttle(c, &handle)?;
    let row: Option<PersonRow> = people::table.filter(people::handle.eq(&handle)).select(PersonRow::as_select()).first(c).optional()?;
    // A hash of nothing, so that a missing name costs the same time.
    let stored = match &row {
        Some(r) => r.password_hash.clone(),
        None => "$argon2id$v=19$m=19456,t=2,p=1$AAAAAAAAAAAAAAAAAAAAAA$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA".into(),
    };
    let right = matches(password, &stored);
    match row {
        Some(r) if right => Ok(Some(r.into())),
        _ => {
            failed(c, &handle)?;
            Ok(None)
        }
    }
}

/// Checks a person's PIN at a hold point, under the same limit as signing in.
///
/// # Errors
/// [`StoreError::TooMany`], or `pin` when it is wrong or none was ever set.
pub fn check_pin(c: &mut MysqlConnection, person: Id, pin: &str) -> Result<()> {
    let (handle, stored): (String, Option<String>) = people::table.find(person).select((people::handle, people::pin_hash)).first(c)?;
    let key: String = format!("pin{handle}").chars().take(40).collect();
    throttle(c, &key)?;
    match stored {
        Some(h) if matches(pin.trim(), &h) => Ok(()),
        Some(_) => {
            failed(c, &key)?;
            Err(Refusal::new("pin", "that is not your PIN").into())
        }
        None => Err(Refusal::new("pin", "you have no PIN yet: ask a lead to set one").into()),
    }
}

fn throttle(c: &mut MysqlConnection, key: &str) -> Result<()> {
    let since = crate::now() - chrono::Duration::minutes(WINDOW_MINUTES);
    let n: i64 =
        sign_in_failures::table.filter(sign_in_failures::handle.eq(key)).filter(sign_in_failures::at.gt(since)).count().get_result(c)?;
    if n >= TRIES {
        return Err(StoreError::TooMany(format!("too many wrong tries: wait {WINDOW_MINUTES} minutes, or ask a lead")));
    }
    Ok(())
}

fn failed(c: &mut MysqlConnection, key: &str) -> Result<()> {
    diesel::insert_into(sign_in_failures::table)
        .values((sign_in_failures::handle.eq(key), sign_in_failures::at.eq(crate::now())))
        .execute(c)?;
    Ok(())
}

/// Remembers a person's units.
///
/// # Errors
/// Database errors.
pub fn set_units(c: &mut MysqlConnection, person: Id, units: Units) -> Result<()> {
    diesel::update(people::table.find(person)).set(people::units.eq(unit_key(units))).execute(c)?;
    Ok(())
}

/// Remembers a person's theme: `light`, `dark` or `auto`.
///
/// # Errors
/// `theme` for another word.
pub fn set_theme(c: &mut MysqlConnection, person: Id, theme: &str) -> Result<()> {
    if !matches!(theme, "light" | "dark" | "auto") {
        return Err(Refusal::new("theme", "expected light, dark or auto").into());
    }
    diesel::update(people::table.find(person)).set(people::theme.eq(theme)).execute(c)?;
    Ok(())
}
