//! Rebuilds: which there are, what they pin, their clocks and signatures.

use crate::bench::{self, Bench};
pub use crate::lifecycle::{NewRebuild, add_anatomy, list_anatomies, start};
use crate::schema::{anatomies, clocks, people, rebuilds, sign_offs};
use crate::stored;
use crate::{ClockId, CustomerId, RebuildId, Result};
use chrono::{NaiveDate, NaiveDateTime};
use diesel::prelude::*;
use ironseat_core::anatomy::{Anatomy, MachineType, SeatFacts};
use lru::LruCache;
use std::num::NonZeroUsize;
use std::sync::{Arc, LazyLock, Mutex};

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
    pub kind: Arc<MachineType>,
}

impl Rebuild {
    /// Its anatomy, as pinned.
    #[must_use]
    pub fn anatomy(&self) -> &Anatomy {
        &self.kind.anatomy
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
static KNOWN: LazyLock<Mutex<LruCache<String, Arc<MachineType>>>> =
    LazyLock::new(|| Mutex::new(LruCache::new(NonZeroUsize::new(64).unwrap_or(NonZeroUsize::MIN))));

fn machine_type(document: String) -> Result<Arc<MachineType>> {
    let known = || KNOWN.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
    if let Some(m) = known().get(&document) {
        return Ok(m.clone());
    }
    let made = Arc::new(MachineType::new(stored::read(&document)?)?);
    known().put(document, made.clone());
    Ok(made)
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = rebuilds)]
struct RebuildRow {
    id: RebuildId,
    number: String,
    title: String,
    customer: String,
    due_on: NaiveDate,
    finished_at: Option<NaiveDateTime>,
    record_seq: i32,
    record_hash: String,
    #[diesel(select_expression = anatomies::document)]
    document: String,
}

fn rebuild(r: RebuildRow) -> Result<Rebuild> {
    Ok(Rebuild {
        id: r.id,
        number: r.number,
        title: r.title,
        customer: r.customer,
        due_on: r.due_on,
        finished_at: r.finished_at,
        record_seq: r.record_seq,
        record_hash: r.record_hash,
        kind: machine_type(r.document)?,
    })
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

/// Which rebuilds the Floor shows.
#[derive(Debug, Clone, Default)]
pub struct FloorQuery {
    /// Words of number, title or customer.
    pub find: String,
    /// All finished ones, instead of the open and the lately finished.
    pub finished: bool,
    /// Page from 0.
    pub page: i64,
    /// Of one customer alone.
    pub customer: Option<CustomerId>,
}

/// A finished rebuild stays on the Floor for so many days.
const LATELY_DAYS: i64 = 14;

/// Strips on a page of the Floor.
pub const FLOOR_PAGE: i64 = 25;

/// The Floor: one page of rebuilds with everything their strips show, and how many there are. Eight queries, however
/// many.
///
/// # Errors
/// Database errors.
pub fn floor(c: &mut MysqlConnection, q: &FloorQuery) -> Result<(Vec<Bench>, i64)> {
    let pattern = format!("%{}%", q.find.trim().chars().take(60).collect::<String>().replace(['%', '_', '\\'], " "));
    let lately = crate::now() - chrono::Duration::days(LATELY_DAYS);
    let chosen = || {
        let base = rebuilds::table.inner_join(anatomies::table).into_boxed();
        let base = if q.finished {
            base.filter(rebuilds::finished_at.is_not_null())
        } else {
            base.filter(rebuilds::finished_at.is_null().or(rebuilds::finished_at.gt(lately)))
        };
        let base = match q.customer {
            Some(own) => base.filter(rebuilds::customer_id.eq(own)),
            None => base,
        };
        if q.find.trim().is_empty() {
            base
        } else {
            let words = rebuilds::title.like(pattern.clone()).or(rebuilds::customer.like(pattern.clone()));
            // Numbers have plain letters only: a word with others is none of them.
            if pattern.is_ascii() {
                base.filter(words.or(rebuilds::number.like(pattern.clone())))
            } else {
                base.filter(words)
            }
        }
    };
    let count: i64 = chosen().count().get_result(c)?;
    let rows: Vec<RebuildRow> = chosen()
        .order((rebuilds::finished_at.is_not_null(), rebuilds::due_on, rebuilds::number))
        .limit(FLOOR_PAGE)
        .offset(q.page.clamp(0, 10_000) * FLOOR_PAGE)
        .select(RebuildRow::as_select())
        .load(c)?;
    let heads = rows.into_iter().map(rebuild).collect::<Result<Vec<_>>>()?;
    Ok((bench::of(c, heads)?, count))
}

/// A rebuild and its anatomy.
///
/// # Errors
/// [`crate::StoreError::NotFound`].
pub fn get(c: &mut MysqlConnection, id: RebuildId) -> Result<Rebuild> {
    let here = rebuilds::table.inner_join(anatomies::table).filter(rebuilds::id.eq(id));
    rebuild(here.select(RebuildRow::as_select()).first(c)?)
}

#[diesel::dsl::auto_type]
pub(crate) fn clock_query() -> _ {
    let row: diesel::dsl::AsSelect<Clock, diesel::mysql::Mysql> = Clock::as_select();
    clocks::table.inner_join(rebuilds::table).select(row)
}

/// All clocks that nobody has ended, for the top edge of every page.
///
/// # Errors
/// Database errors.
pub fn live_clocks(c: &mut MysqlConnection) -> Result<Vec<Clock>> {
    Ok(clock_query().filter(clocks::ended_at.is_null()).order(clocks::started_at).limit(12).load(c)?)
}

/// The signatures on a rebuild, oldest first.
///
/// # Errors
/// Database errors.
pub fn signatures(c: &mut MysqlConnection, id: RebuildId) -> Result<Vec<SignOff>> {
    Ok(sign_offs::table
        .inner_join(people::table)
        .filter(sign_offs::rebuild_id.eq(id))
        .order(sign_offs::at)
        .select(SignOff::as_select())
        .load(c)?)
}
