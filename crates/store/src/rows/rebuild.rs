//! A rebuild with its machine type, clocks and signatures, as they are kept.

use crate::db::cache::Cache;
use crate::db::schema::{clocks, people, rebuilds, sign_offs};
use crate::db::stored;
use crate::{ClockId, CustomerId, RebuildId, Result};
use chrono::{NaiveDate, NaiveDateTime};
use diesel::prelude::*;
use ironseat_core::anatomy::{Anatomy, MachineType, SeatFacts};
use std::sync::Arc;

/// A rebuild with the anatomy version it pins.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Rebuild {
    pub id: RebuildId,
    pub number: String,
    pub title: String,
    pub customer: String,
    pub due_on: NaiveDate,
    pub finished_at: Option<NaiveDateTime>,
    pub record_seq: i32,
    pub record_hash: String,
    /// The shop that it came from with an archive; empty for one of ours.
    pub origin: String,
    /// Derivation that it was begun under, where that is older than that of today: what was added since counts as done with
    /// what came after it. Its records stay as they are.
    pub older: Option<i32>,
    pub kind: Arc<MachineType>,
}

impl Rebuild {
    /// Its anatomy, as pinned.
    #[must_use]
    pub fn anatomy(&self) -> &Anatomy {
        &self.kind.anatomy
    }
    /// Its number, and for one that came with an archive the shop that it came from: numbers are counted in each shop.
    #[must_use]
    pub fn called(&self) -> String {
        if self.origin.is_empty() { self.number.clone() } else { format!("{} from {}", self.number, self.origin) }
    }
    /// What is known of one of its seats before anything is measured.
    ///
    /// # Errors
    /// `seats` when it is not there.
    pub fn facts(&self, seat: &str) -> Result<SeatFacts> {
        Ok(SeatFacts { enters_bore: self.kind.enters_bore(seat), ..self.anatomy().facts(seat)? })
    }
}

/// Machine types with what follows from them, by their document: a document never changes, so what was derived once
/// holds.
static KNOWN: Cache<String, Arc<MachineType>> = Cache::new(64);

pub(crate) fn machine_type(document: String) -> Result<Arc<MachineType>> {
    if let Some(m) = KNOWN.get(&document) {
        return Ok(m);
    }
    let made = Arc::new(MachineType::new(stored::read(&document)?)?);
    KNOWN.put(document, made.clone());
    Ok(made)
}

/// A clock.
#[derive(Debug, Clone, Queryable, Selectable)]
#[diesel(table_name = clocks)]
#[allow(missing_docs)]
pub struct Clock {
    pub id: ClockId,
    pub rebuild_id: RebuildId,
    #[diesel(select_expression = rebuilds::number)]
    pub number: String,
    pub seat: String,
    pub kind: String,
    pub label: String,
    pub started_at: NaiveDateTime,
    pub seconds: i32,
    pub ended_at: Option<NaiveDateTime>,
    /// Act that waits; empty for the clock of a seat.
    pub step: String,
    /// Whose machine it runs on.
    #[diesel(select_expression = rebuilds::customer_id)]
    pub customer: Option<CustomerId>,
}

impl Clock {
    /// Seconds left at a time; 0 when it has run out.
    #[must_use]
    pub fn left(&self, at: NaiveDateTime) -> i64 {
        (i64::from(self.seconds) - (at - self.started_at).num_seconds()).max(0)
    }
    /// Not ended yet by a person.
    #[must_use]
    pub fn live(&self) -> bool {
        self.ended_at.is_none()
    }
}

/// A signature.
#[derive(Debug, Clone, Queryable, Selectable)]
#[diesel(table_name = sign_offs)]
#[allow(missing_docs)]
pub struct SignOff {
    pub rebuild_id: RebuildId,
    pub seat: String,
    #[diesel(select_expression = people::name)]
    pub person: String,
    pub role: String,
    pub said: String,
    pub at: NaiveDateTime,
}

/// What stands with a signature beside an apprentice's.
pub(crate) const COUNTER_SIGNED: &str = "counter-signed: saw these numbers and how it was done";

impl SignOff {
    /// Whether it stands beside an apprentice's.
    #[must_use]
    pub fn counter(&self) -> bool {
        self.said == COUNTER_SIGNED
    }
}
