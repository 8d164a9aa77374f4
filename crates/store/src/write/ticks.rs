//! Ticks: put, and opened again with what rests on them.

use crate::PersonId;
use crate::RebuildId;
use crate::Result;
use crate::db::schema::{clocks, steps, ticks};
use crate::rows::person::Person;
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::decide::Ticked;
use ironseat_core::terms::StepKind;

pub(crate) fn open_steps(
    c: &mut MysqlConnection,
    rebuild: RebuildId,
    seats: &[&String],
    kinds: &[StepKind],
) -> Result<()> {
    if seats.is_empty() {
        return Ok(());
    }
    diesel::update(
        steps::table
            .filter(steps::rebuild_id.eq(rebuild))
            .filter(steps::seat.eq_any(seats))
            .filter(steps::kind.eq_any(kinds.iter().map(|k| k.key()))),
    )
    .set((
        steps::done.eq(false),
        steps::done_by.eq(None::<PersonId>),
        steps::done_at.eq(None::<NaiveDateTime>),
        steps::detail.eq(""),
    ))
    .execute(c)?;
    Ok(())
}

/// Takes ticks away and ends their clocks.
pub(crate) fn reopen(
    c: &mut MysqlConnection,
    rebuild: RebuildId,
    acts: &std::collections::BTreeSet<String>,
) -> Result<()> {
    if acts.is_empty() {
        return Ok(());
    }
    let list: Vec<&String> = acts.iter().collect();
    stop_waits(c, rebuild, &list)?;
    diesel::delete(ticks::table.filter(ticks::rebuild_id.eq(rebuild)).filter(ticks::step.eq_any(list))).execute(c)?;
    Ok(())
}

pub(crate) fn put_tick(c: &mut MysqlConnection, rebuild: RebuildId, who: &Person, t: &Ticked) -> Result<()> {
    diesel::insert_into(ticks::table)
        .values((
            ticks::rebuild_id.eq(rebuild),
            ticks::step.eq(&t.step),
            ticks::person_id.eq(who.id),
            ticks::second_name.eq(&t.second),
            ticks::at.eq(crate::now()),
            ticks::value.eq(t.value),
            ticks::reason.eq(t.reason.as_deref().unwrap_or_default()),
            ticks::readings.eq(t.readings.as_deref().unwrap_or_default()),
            ticks::faces.eq(t.faces.as_deref().map_or("", |f| f.trim_start_matches("end "))),
        ))
        .execute(c)?;
    Ok(())
}

/// Ends the clocks of acts that wait.
pub(crate) fn stop_waits(c: &mut MysqlConnection, rebuild: RebuildId, acts: &[&String]) -> Result<()> {
    diesel::update(
        clocks::table
            .filter(clocks::rebuild_id.eq(rebuild))
            .filter(clocks::step.eq_any(acts))
            .filter(clocks::ended_at.is_null()),
    )
    .set(clocks::ended_at.eq(crate::now()))
    .execute(c)?;
    Ok(())
}
