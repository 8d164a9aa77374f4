//! Carrying ticks over to a newer derivation: what was done stays done under the names that it has now.

use crate::schema::{anatomies, rebuilds, ticks};
use crate::{Id, Result, record};
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
    let old: Vec<Id> = rebuilds::table.filter(rebuilds::derivation.lt(DERIVATION)).select(rebuilds::id).load(c)?;
    for id in &old {
        c.transaction(|c| one(c, *id))?;
    }
    Ok(old.len())
}

type Row = (String, Id, String, NaiveDateTime, Option<f64>, String);

fn one(c: &mut MysqlConnection, id: Id) -> Result<()> {
    let mut locked = record::lock(c, id)?;
    let document: String = rebuilds::table
        .inner_join(anatomies::table)
        .filter(rebuilds::id.eq(id))
        .select(anatomies::document)
        .first(c)?;
    let a: Anatomy = serde_json::from_str(&document)?;
    let d = derive(&a)?;
    let rows: Vec<Row> = ticks::table
        .filter(ticks::rebuild_id.eq(id))
        .order(ticks::at)
        .select((ticks::step, ticks::person_id, ticks::second_name, ticks::at, ticks::value, ticks::reason))
        .load(c)?;
    let by: BTreeMap<String, Row> = rows.iter().map(|r| (r.0.clone(), r.clone())).collect();
    let fresh: Vec<Row> = older::carried(&a, &d, &by.keys().cloned().collect())
        .into_iter()
        .map(|now| {
            let (_, person, second, at, value, reason) = by[&now.from].clone();
            let (value, reason) = match (now.implied, now.number) {
                (true, _) => (None, NOT_ASKED.to_owned()),
                (false, true) => (value, reason),
                // The number belongs to the act that asks for one.
                (false, false) => (None, String::new()),
            };
            (now.act, person, second, at, value, reason)
        })
        .collect();
    for r in &fresh {
        diesel::insert_into(ticks::table)
            .values((
                ticks::rebuild_id.eq(id),
                ticks::step.eq(&r.0),
                ticks::person_id.eq(r.1),
                ticks::second_name.eq(&r.2),
                ticks::at.eq(r.3),
                ticks::value.eq(r.4),
                ticks::reason.eq(&r.5),
            ))
            .execute(c)?;
    }
    diesel::update(rebuilds::table.find(id)).set(rebuilds::derivation.eq(DERIVATION)).execute(c)?;
    if let (Some(last), false, false) = (rows.last(), locked.finished, fresh.is_empty()) {
        let ticks = fresh.iter().map(|r| r.0.clone()).collect();
        locked.note(last.1, &Event::CarriedOver { derivation: DERIVATION, ticks });
        locked.write(c)?;
    }
    Ok(())
}
