//! What the Reckoner answered, pinned to a rebuild: a sheet with what was typed, the answer, and who asked when.

use crate::db::schema::{people, pins, rebuilds};
use crate::db::stored::{Document, Stored};
use crate::read::seats::seat_record;
use crate::rows::rebuild::Rebuild;
use crate::{PinId, RebuildId, Result};
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::seat::asks::of_seat;
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};

/// What was asked and what was answered, as computations name it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct Answered {
    pub input: Map<String, Value>,
    pub answer: Map<String, Value>,
}

impl Document for Answered {
    const NAME: &'static str = "reckoned sheet";
}

/// A pinned sheet.
#[derive(Debug, Clone, Queryable, Selectable)]
#[diesel(table_name = pins)]
#[allow(missing_docs)]
pub struct Pin {
    pub id: PinId,
    /// Name of the computation.
    pub name: String,
    /// What of the machine it is about, as said by the person.
    pub about: String,
    pub document: Stored<Answered>,
    pub replaces: Option<PinId>,
    #[diesel(select_expression = people::name)]
    pub by: String,
    pub at: NaiveDateTime,
    pub taken_away_at: Option<NaiveDateTime>,
}

/// The pinned sheets of a rebuild, oldest first, those that were taken away or replaced too.
pub(crate) fn of_rebuild(c: &mut MysqlConnection, rebuild: RebuildId) -> Result<Vec<Pin>> {
    Ok(pins::table
        .inner_join(people::table)
        .filter(pins::rebuild_id.eq(rebuild))
        .order((pins::at, pins::id))
        .select(Pin::as_select())
        .load(c)?)
}

/// Those that stand: neither taken away nor replaced by a newer one.
pub fn standing(all: &[Pin]) -> impl Iterator<Item = &Pin> {
    all.iter().filter(|p| p.taken_away_at.is_none() && !all.iter().any(|n| n.replaces == Some(p.id)))
}

/// What a question is asked for, as far as a rebuild knows it.
#[derive(Debug, Default)]
#[allow(missing_docs)]
pub struct AskedFor {
    pub rebuild: Option<Rebuild>,
    /// Name of the seat that filled fields.
    pub seat: String,
    /// Fields that the seat fills.
    pub known: Option<Map<String, Value>>,
    /// Open rebuilds that an answer can be pinned to: number and title.
    pub open: Vec<(RebuildId, String, String)>,
}

/// Finds what a question is asked for.
///
/// # Errors
/// Not found.
pub fn asked_for(c: &mut MysqlConnection, name: &str, rebuild: Option<RebuildId>, seat: &str) -> Result<AskedFor> {
    let open = rebuilds::table
        .filter(rebuilds::finished_at.is_null())
        .order((rebuilds::due_on, rebuilds::number))
        .limit(200)
        .select((rebuilds::id, rebuilds::number, rebuilds::title))
        .load(c)?;
    let Some(id) = rebuild else { return Ok(AskedFor { open, ..AskedFor::default() }) };
    let rebuild = crate::read::rebuilds::get(c, id)?;
    let mut out = AskedFor { open, ..AskedFor::default() };
    if !seat.is_empty() {
        let record = seat_record(c, &rebuild, seat)?;
        out.known = of_seat(name, &record.facts, record.fit().ok().as_ref());
        out.seat.clone_from(&record.facts.seat.name);
    }
    Ok(AskedFor { rebuild: Some(rebuild), ..out })
}
