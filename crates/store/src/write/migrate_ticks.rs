//! Carrying ticks over to a newer derivation: what was done stays done under the names that it has now.

use crate::db::schema::{anatomies, rebuilds, ticks};
use crate::db::stored::Stored;
use crate::db::transaction::transaction;
use crate::{PersonId, RebuildId, Result, chain};
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::anatomy::{Anatomy, derive, older};
use ironseat_core::decide::Event;
use std::collections::BTreeMap;

/// Derivation whose names ticks have now.
const DERIVATION: i32 = 2;

/// Stands with an act that counts as done because what comes after it is done.
const NOT_ASKED: &str = "not asked for on its own when it was done";

/// Gives the ticks of rebuilds that were begun under an older derivation their newer names. What the older one did not
/// ask for on its own and what lies before something that is done counts as done with it. Done once for each rebuild;
/// ticks without a newer name stay as they are. Returns how many rebuilds were carried over.
///
/// # Errors
/// Database errors; an anatomy that cannot be read.
pub fn carry_over(c: &mut MysqlConnection) -> Result<usize> {
    let old: Vec<RebuildId> =
        rebuilds::table.filter(rebuilds::derivation.lt(DERIVATION)).select(rebuilds::id).load(c)?;
    for id in &old {
        transaction(c, |c| one(c, *id))?;
    }
    Ok(old.len())
}

#[derive(Clone, Queryable, Selectable, Insertable)]
#[diesel(table_name = ticks)]
struct Row {
    rebuild_id: RebuildId,
    step: String,
    person_id: PersonId,
    second_name: String,
    at: NaiveDateTime,
    value: Option<f64>,
    reason: String,
}

fn one(c: &mut MysqlConnection, id: RebuildId) -> Result<()> {
    let mut locked = chain::rebuild::lock(c, id)?;
    let Stored(a): Stored<Anatomy> = rebuilds::table
        .inner_join(anatomies::table)
        .filter(rebuilds::id.eq(id))
        .select(anatomies::document)
        .first(c)?;
    let d = derive(&a)?;
    let rows: Vec<Row> =
        ticks::table.filter(ticks::rebuild_id.eq(id)).order(ticks::at).select(Row::as_select()).load(c)?;
    let by: BTreeMap<String, Row> = rows.iter().map(|r| (r.step.clone(), r.clone())).collect();
    let fresh: Vec<Row> = older::carried(&a, &d, &by.keys().cloned().collect())
        .into_iter()
        .map(|now| {
            let from = by[&now.from].clone();
            let (value, reason) = match (now.implied, now.number) {
                (true, _) => (None, NOT_ASKED.to_owned()),
                (false, true) => (from.value, from.reason),
                // The number belongs to the act that asks for one.
                (false, false) => (None, String::new()),
            };
            Row { step: now.act, value, reason, ..from }
        })
        .collect();
    diesel::insert_into(ticks::table).values(&fresh).execute(c)?;
    diesel::update(rebuilds::table.find(id)).set(rebuilds::derivation.eq(DERIVATION)).execute(c)?;
    if let (Some(last), false, false) = (rows.last(), locked.finished, fresh.is_empty()) {
        let ticks = fresh.iter().map(|r| r.step.clone()).collect();
        locked.note(last.person_id, &Event::CarriedOver { derivation: DERIVATION, ticks });
        locked.write(c)?;
    }
    Ok(())
}
