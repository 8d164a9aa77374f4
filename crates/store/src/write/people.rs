//! People, roles, passwords and PINs.

use crate::chain::digests::Chain;
use crate::chain::shop::changed;
use crate::db::schema::people;
use crate::rows::person::Role;
use crate::write::secrets::good_password;
use crate::write::secrets::good_pin;
use crate::write::secrets::hash;
use crate::{CustomerId, Id, PersonId, Result, StoreError};
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::quantity::Units;
use ironseat_core::terms::text;

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
    /// The customer that a viewer belongs to.
    pub customer: Option<CustomerId>,
}

/// Sign-in name, name and initials as they are kept.
pub(crate) fn good_name(handle: &str, name: &str) -> Result<(String, String, String)> {
    let refuse = |field: &str, message: &str| Err(StoreError::Refused(Refusal::new(field, message)));
    let (handle, name) = (handle.trim().to_lowercase(), name.split_whitespace().collect::<Vec<_>>().join(" "));
    let name = text::PERSON
        .read("name", &name, |range| format!("expected the name as it should stand on a certificate, {range}"))?;
    if !text::HANDLE.fits(&handle) || !handle.bytes().all(|b| b.is_ascii_lowercase() || b.is_ascii_digit()) {
        return refuse("handle", "expected a short sign-in name of small letters and digits");
    }
    let initials =
        name.split(' ').filter_map(|w| w.chars().next()).take(2).flat_map(char::to_uppercase).take(4).collect();
    Ok((handle, name, initials))
}

/// Adds a person.
///
/// # Errors
/// `handle`, `name`, `password` or `pin` with what was expected; a conflict when the handle is taken.
pub fn add(c: &mut MysqlConnection, p: &NewPerson) -> Result<PersonId> {
    let (handle, name, initials) = good_name(&p.handle, &p.name)?;
    let name = name.as_str();
    good_password(&p.password, &p.handle, name)?;
    p.pin.as_deref().map_or(Ok(()), good_pin)?;
    let id = Id::new();
    // Hashed before anything is locked: it takes as long as it is meant to.
    let (password, pin) = (hash(&p.password)?, p.pin.as_deref().map(hash).transpose()?);
    changed(c, Chain::People, None, &format!("{name} put in as {}.", p.role.key()), |c| {
        diesel::insert_into(people::table)
            .values((
                people::id.eq(id),
                people::handle.eq(&handle),
                people::name.eq(name),
                people::initials.eq(initials),
                people::role.eq(p.role.key()),
                people::password_hash.eq(password),
                people::pin_hash.eq(pin),
                people::units.eq(unit_key(p.units)),
                people::theme.eq("auto"),
                people::customer_id.eq(p.customer),
            ))
            .execute(c)?;
        Ok(id)
    })
}

pub(crate) fn unit_key(units: Units) -> &'static str {
    match units {
        Units::Metric => "metric",
        Units::Inch => "inch",
    }
}

/// Remembers a person's units.
///
/// # Errors
/// Database errors.
pub fn set_units(c: &mut MysqlConnection, person: PersonId, units: Units) -> Result<()> {
    diesel::update(people::table.find(person)).set(people::units.eq(unit_key(units))).execute(c)?;
    Ok(())
}

/// Remembers a person's theme: `light`, `dark` or `auto`.
///
/// # Errors
/// `theme` for another word.
pub fn set_theme(c: &mut MysqlConnection, person: PersonId, theme: &str) -> Result<()> {
    if !matches!(theme, "light" | "dark" | "auto") {
        return Err(Refusal::new("theme", "expected light, dark or auto").into());
    }
    diesel::update(people::table.find(person)).set(people::theme.eq(theme)).execute(c)?;
    Ok(())
}
