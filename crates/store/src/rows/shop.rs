//! Instruments and settings of the shop.

use crate::db::schema::instruments;
use crate::{InstrumentId, Result};
use chrono::NaiveDate;
use chrono_tz::Tz;
use diesel::prelude::*;
use ironseat_core::quantity::Millimetres;
use ironseat_core::rules::HouseRules;
use ironseat_core::seat::Gauge;

/// An instrument of the list; in an archive without the shop that it lies in.
#[derive(Debug, Clone, PartialEq, Queryable, Selectable, Insertable)]
#[diesel(table_name = instruments)]
#[allow(missing_docs)]
pub struct Instrument {
    pub id: InstrumentId,
    pub name: String,
    pub outside: bool,
    pub inside: bool,
    pub depth: bool,
    pub lo_mm: f64,
    pub hi_mm: f64,
    pub resolution_mm: f64,
    pub u_mm: f64,
    pub cost: f64,
    pub due_on: NaiveDate,
    /// Its own number, engraved on it.
    pub serial: String,
    /// The shop that it belongs to, when it came with an archive; empty for one of ours.
    pub origin: String,
    /// Why it is not taken any more; empty for one in use. Readings that it took keep it.
    pub away: String,
}

impl Instrument {
    /// Somebody may take it.
    #[must_use]
    pub fn in_use(&self) -> bool {
        self.ours() && self.away.is_empty()
    }
    /// It lies here; another came with an archive, under the readings that it took.
    #[must_use]
    pub fn ours(&self) -> bool {
        self.origin.is_empty()
    }
    /// As core knows it, on a day.
    ///
    /// # Errors
    /// A stored figure that is not a number.
    pub fn gauge(&self, today: NaiveDate) -> Result<Gauge> {
        Ok(Gauge {
            name: self.name.clone(),
            // What lies in another shop, or was put away, reaches nothing here.
            outside: self.outside && self.in_use(),
            inside: self.inside && self.in_use(),
            depth: self.depth && self.in_use(),
            range: (Millimetres::new(self.lo_mm)?, Millimetres::new(self.hi_mm)?),
            resolution: Millimetres::new(self.resolution_mm)?,
            u: Millimetres::new(self.u_mm)?,
            cost: self.cost,
            overdue: self.due_on < today,
        })
    }
}

/// A shop's name and rules.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct ShopSettings {
    pub name: String,
    pub demo: bool,
    pub rules: HouseRules,
    /// The zone that times are said in; records keep UTC.
    pub zone: Tz,
    /// Counts up with each change, so that two leads do not overwrite each other.
    pub revision: i32,
}

/// A zone as kept: empty is UTC, and so is one that this program does not know any more.
pub(crate) fn known_zone(name: &str) -> Tz {
    name.parse().unwrap_or(Tz::UTC)
}

/// A zone as typed.
///
/// # Errors
/// `zone`, with what was expected.
pub fn zone(typed: &str) -> ironseat_core::refusal::Result<Tz> {
    let typed = typed.trim().replace(' ', "_");
    let refused =
        || ironseat_core::Refusal::new("zone", "expected a zone by its region and city, such as Europe/Lisbon, or UTC");
    Tz::from_str_insensitive(&typed).map_err(|_| refused())
}
