//! Who works here: roles and what each may do.

use crate::db::schema::{people, shops};
use crate::rows::shop::known_zone;
use crate::{CustomerId, PersonId};
use chrono_tz::Tz;
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::decide::Who;
use ironseat_core::quantity::Units;
use serde::Deserialize;
use serde::Serialize;

/// What a person may do; each may do what stands before.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Role {
    /// Reads.
    Viewer,
    /// Measures and works; a second person counter-signs what an apprentice signs.
    Apprentice,
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
            Self::Apprentice => "apprentice",
            Self::Bench => "bench",
            Self::Lead => "lead",
        }
    }
    /// As it was kept; what nobody knows may only look.
    pub(crate) fn of(key: &str) -> Self {
        key.parse().unwrap_or(Self::Viewer)
    }
}

impl std::str::FromStr for Role {
    type Err = Refusal;
    fn from_str(key: &str) -> std::result::Result<Self, Refusal> {
        let all = [Self::Viewer, Self::Apprentice, Self::Bench, Self::Lead];
        all.into_iter()
            .find(|r| r.key() == key)
            .ok_or_else(|| Refusal::new("role", "expected viewer, apprentice, bench or lead"))
    }
}

/// A person who is signed in.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Person {
    pub id: PersonId,
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
    /// The customer that a viewer belongs to.
    pub customer: Option<CustomerId>,
    /// The shop's zone, that times are said in.
    pub zone: Tz,
}

impl Person {
    /// Of the shop, not a customer's.
    #[must_use]
    pub fn works_here(&self) -> bool {
        self.role > Role::Viewer
    }
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = people)]
pub(crate) struct PersonRow {
    id: PersonId,
    handle: String,
    name: String,
    initials: String,
    role: String,
    password_hash: String,
    pin_hash: Option<String>,
    units: String,
    theme: String,
    customer_id: Option<CustomerId>,
    #[diesel(select_expression = shops::table.select(shops::zone).single_value())]
    zone: Option<String>,
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
            customer: r.customer_id,
            zone: known_zone(&r.zone.unwrap_or_default()),
        }
    }
}

impl Person {
    /// As core knows who decides.
    #[must_use]
    pub fn who(&self) -> Who<'_> {
        Who {
            person: &self.handle,
            apprentice: self.role == Role::Apprentice,
            lead: self.role == Role::Lead,
            role: self.role.key(),
            units: self.units,
        }
    }
}

/// Stands where no password is: no hash is ever equal to it.
pub(crate) const NO_PASSWORD: &str = "!";
