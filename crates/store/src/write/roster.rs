//! Who is there: put in, renamed, given another role, given a new code, put away. Each change is an entry of the record
//! of people.

use crate::chain::digests::Chain;
use crate::chain::shop::changed;
use crate::db::schema::{people, tokens};
use crate::read::roster::{Listed, list};
use crate::rows::person::{NO_PASSWORD, Person, Role};
use crate::write::people::{good_name, unit_key};
use crate::write::secrets::{Trial, good_password, good_pin, hash, pin_digits, tried, try_code, try_own};
use crate::{CustomerId, PersonId, Result, StoreError};
use chrono::{Duration, NaiveDateTime};
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::quantity::Units;
use rand::Rng as _;

/// A code counts for so many days.
pub const CODE_DAYS: i64 = 7;

/// A code to be read out and typed once: twelve letters and digits that are not mistaken for each other.
#[must_use]
pub fn new_code() -> String {
    const OF: &[u8] = b"ABCDEFGHJKLMNPQRSTUVWXYZ23456789";
    let mut r = rand::rng();
    let mut four = || (0..4).map(|_| char::from(OF[r.random_range(0..OF.len())])).collect::<String>();
    [four(), four(), four()].join("-")
}

/// A code without what is only there to read it by.
pub(crate) fn plain(code: &str) -> String {
    code.chars().filter(char::is_ascii_alphanumeric).collect::<String>().to_uppercase()
}

fn code_columns(code: &str) -> Result<(String, NaiveDateTime)> {
    Ok((hash(&plain(code))?, crate::now() + Duration::days(CODE_DAYS)))
}

/// Puts a person in, who signs in for the first time with the code that is returned.
///
/// # Errors
/// `name` or `handle`; a conflict when the sign-in name is taken.
pub fn invite(
    c: &mut MysqlConnection,
    by: Option<&Person>,
    handle: &str,
    name: &str,
    role: Role,
    customer: Option<CustomerId>,
) -> Result<String> {
    let customer = of_role(c, role, customer)?;
    let (handle, name, initials) = good_name(handle, name)?;
    let code = new_code();
    let (hashed, until) = code_columns(&code)?;
    let units = crate::read::shop::settings(c)?.map_or(Units::Metric, |s| s.rules.units);
    changed(c, Chain::People, by, &format!("{name} put in as {}.", role.key()), |c| {
        let taken: i64 = people::table.filter(people::handle.eq(&handle)).count().get_result(c)?;
        if taken > 0 {
            return Err(Refusal::new(
                "handle",
                "this sign-in name is taken, maybe by somebody who is put away: choose another",
            )
            .into());
        }
        diesel::insert_into(people::table)
            .values((
                people::id.eq(PersonId::new()),
                people::handle.eq(&handle),
                people::name.eq(&name),
                people::initials.eq(&initials),
                people::role.eq(role.key()),
                people::password_hash.eq(NO_PASSWORD),
                people::units.eq(unit_key(units)),
                people::theme.eq("auto"),
                people::code_hash.eq(hashed),
                people::code_until.eq(until),
                people::customer_id.eq(customer),
            ))
            .execute(c)?;
        Ok(())
    })?;
    Ok(code)
}

/// A viewer belongs to a customer, everybody else to the shop.
fn of_role(c: &mut MysqlConnection, role: Role, customer: Option<CustomerId>) -> Result<Option<CustomerId>> {
    if role > Role::Viewer {
        return Ok(None);
    }
    let known = crate::read::customers::list(c)?.into_iter().find(|x| Some(x.id) == customer);
    known
        .map(|x| Some(x.id))
        .ok_or_else(|| Refusal::new("customer", "choose the customer whose rebuilds are looked at").into())
}

fn one(c: &mut MysqlConnection, id: PersonId) -> Result<Listed> {
    list(c)?.into_iter().find(|p| p.id == id).ok_or(StoreError::NotFound)
}

/// A shop without a lead who can sign in is locked for ever. Asked under the lock of the record of people.
fn another_lead(c: &mut MysqlConnection, but: PersonId) -> Result<()> {
    let left =
        list(c)?.into_iter().any(|p| p.id != but && p.role() == Role::Lead && p.put_away_at.is_none() && p.signs_in());
    if left {
        Ok(())
    } else {
        Err(StoreError::Held("this is the last lead who can sign in: make somebody else a lead first".into()))
    }
}

/// Gives a person another name, as it stands on certificates from then on.
///
/// # Errors
/// `name`.
pub fn rename(c: &mut MysqlConnection, by: &Person, id: PersonId, name: &str) -> Result<()> {
    let was = one(c, id)?;
    let (_, name, initials) = good_name(&was.handle, name)?;
    changed(c, Chain::People, Some(by), &format!("{} is called {name}.", was.name), |c| {
        diesel::update(people::table.find(id))
            .set((people::name.eq(&name), people::initials.eq(&initials)))
            .execute(c)?;
        Ok(())
    })
}

/// Gives a person another role.
///
/// # Errors
/// Held for the last lead.
pub fn set_role(
    c: &mut MysqlConnection,
    by: Option<&Person>,
    id: PersonId,
    role: Role,
    customer: Option<CustomerId>,
) -> Result<()> {
    let was = one(c, id)?;
    let customer = of_role(c, role, customer)?;
    changed(c, Chain::People, by, &format!("{} is {} instead of {}.", was.name, role.key(), was.role().key()), |c| {
        if was.role() == Role::Lead && role != Role::Lead {
            another_lead(c, id)?;
        }
        diesel::update(people::table.find(id))
            .set((people::role.eq(role.key()), people::customer_id.eq(customer)))
            .execute(c)?;
        Ok(())
    })
}

/// Puts a person away: no sign-in, every session ends, signatures stay.
///
/// # Errors
/// Held for the last lead.
pub fn put_away(c: &mut MysqlConnection, by: &Person, id: PersonId) -> Result<()> {
    let was = one(c, id)?;
    changed(c, Chain::People, Some(by), &format!("{} put away.", was.name), |c| {
        if was.put_away_at.is_none() {
            if was.role() == Role::Lead {
                another_lead(c, id)?;
            }
            diesel::update(people::table.find(id)).set(people::put_away_at.eq(crate::now())).execute(c)?;
        }
        Ok(())
    })
}

/// Takes a person in again.
///
/// # Errors
/// Not found.
pub fn bring_back(c: &mut MysqlConnection, by: &Person, id: PersonId) -> Result<()> {
    let was = one(c, id)?;
    changed(c, Chain::People, Some(by), &format!("{} taken in again.", was.name), |c| {
        diesel::update(people::table.find(id)).set(people::put_away_at.eq(None::<NaiveDateTime>)).execute(c)?;
        Ok(())
    })
}

/// Password, PIN and keys are void from now on; the code that is returned sets new ones.
///
/// # Errors
/// Not found.
pub fn reset(c: &mut MysqlConnection, by: Option<&Person>, id: PersonId) -> Result<String> {
    let was = one(c, id)?;
    let code = new_code();
    let (hashed, until) = code_columns(&code)?;
    changed(
        c,
        Chain::People,
        by,
        &format!("{}: password, PIN and keys are void, a new code is given out.", was.name),
        |c| {
            diesel::update(people::table.find(id))
                .set((
                    people::password_hash.eq(NO_PASSWORD),
                    people::pin_hash.eq(None::<String>),
                    people::code_hash.eq(hashed),
                    people::code_until.eq(until),
                ))
                .execute(c)?;
            diesel::update(tokens::table.filter(tokens::person_id.eq(id)).filter(tokens::put_away_at.is_null()))
                .set(tokens::put_away_at.eq(crate::now()))
                .execute(c)?;
            Ok(())
        },
    )?;
    Ok(code)
}

/// What a person sets with a code.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct First {
    pub handle: String,
    pub code: String,
    pub password: String,
    /// None for who does not sign: a viewer.
    pub pin: Option<String>,
}

/// Looks at what is set before a try of the code is spent on it, and counts the try.
pub(crate) fn before_code(c: &mut MysqlConnection, f: &First, from: &str) -> Result<Trial> {
    good_password(&f.password, &f.handle, "")?;
    f.pin.as_deref().map_or(Ok(()), good_pin)?;
    try_code(c, &f.handle, from)
}

/// Sets password and PIN, and ends the code.
pub(crate) fn after_code(
    c: &mut MysqlConnection,
    t: &Trial,
    right: bool,
    password: &str,
    pin: Option<&str>,
) -> Result<Person> {
    let Some(p) = tried(c, t, right)? else {
        return Err(Refusal::new(
            "code",
            "this code does not go with this name, or counts no more: ask a lead for a new one",
        )
        .into());
    };
    if pin.is_none() && p.role > Role::Viewer {
        return Err(Refusal::new("pin", format!("expected a PIN of {}: you sign with it", pin_digits())).into());
    }
    changed(c, Chain::People, Some(&p), &format!("{} set password and PIN.", p.name), |c| {
        diesel::update(people::table.find(p.id))
            .set((
                people::password_hash.eq(password),
                people::pin_hash.eq(pin),
                people::code_hash.eq(None::<String>),
                people::code_until.eq(None::<NaiveDateTime>),
            ))
            .execute(c)?;
        Ok(())
    })?;
    crate::read::people::get(c, p.id)?.ok_or(StoreError::NotFound)
}

/// What of their own a person changes.
#[derive(Debug, Clone)]
pub enum Own {
    /// Another password.
    Password(String),
    /// Another PIN.
    Pin(String),
}

/// Looks at it before a try of the old password is spent, and counts the try.
pub(crate) fn before_own(c: &mut MysqlConnection, who: &Person, own: &Own, from: &str) -> Result<Trial> {
    match own {
        Own::Password(p) => good_password(p, &who.handle, &who.name)?,
        Own::Pin(p) => good_pin(p)?,
    }
    try_own(c, who.id, from)
}

pub(crate) fn after_own(
    c: &mut MysqlConnection,
    t: &Trial,
    right: bool,
    who: &Person,
    own: &Own,
    hashed: &str,
) -> Result<Person> {
    if tried(c, t, right)?.is_none() {
        return Err(Refusal::new("old", "that is not your password of now").into());
    }
    let what = if matches!(own, Own::Password(_)) { "password" } else { "PIN" };
    changed(c, Chain::People, Some(who), &format!("{} changed their {what}.", who.name), |c| {
        let here = people::table.find(who.id);
        match own {
            Own::Password(_) => diesel::update(here).set(people::password_hash.eq(hashed)).execute(c)?,
            Own::Pin(_) => diesel::update(here).set(people::pin_hash.eq(hashed)).execute(c)?,
        };
        Ok(())
    })?;
    crate::read::people::get(c, who.id)?.ok_or(StoreError::NotFound)
}
