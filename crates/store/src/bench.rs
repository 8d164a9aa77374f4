//! Rebuilds as they stand, for Floor, Bench, Ledger and Certificate: one reading of the records for all of them, so
//! that they say the same; a fixed number of queries however many rebuilds there are.

use crate::pictures::{self, Picture};
use crate::rebuilds::{self, Clock, Rebuild, clock_query};
use crate::schema::{answers, calls, clocks, people, repairs, rounds, scrapped, steps, ticks};
use crate::seat_record::seat_record;
use crate::{Id, Result};
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::anatomy::End;
use ironseat_core::decide::{self, Answer, AnswerState, Called, Done, Facts, HalfSigned, Judged, Repair, State};
use ironseat_core::seat::steps::StepKind;
use std::collections::{BTreeMap, HashMap};

/// A rebuild as it stands.
#[derive(Debug)]
#[allow(missing_docs)]
pub struct Bench {
    pub rebuild: Rebuild,
    pub state: State,
    /// Its own clocks that nobody has ended.
    pub clocks: Vec<Clock>,
    /// From [`load`]: all that run anywhere, for the top edge.
    pub running: Vec<Clock>,
    /// From [`load`]: pictures by question.
    pub pictures: BTreeMap<String, Vec<Picture>>,
}

impl Bench {
    /// Reads the figures of a seat, for what is decided or shown of it.
    ///
    /// # Errors
    /// Not found.
    pub fn judge(&mut self, c: &mut MysqlConnection, seat: &str) -> Result<()> {
        let record = seat_record(c, &self.rebuild, seat)?;
        let fit = record.fit();
        self.state.judged = Some(Judged { facts: record.facts, fit });
        Ok(())
    }
}

fn micros(t: NaiveDateTime) -> i64 {
    t.and_utc().timestamp_micros()
}

/// One rebuild with everything its rooms show. Ten queries.
///
/// # Errors
/// Not found; an anatomy that cannot be built.
pub fn load(c: &mut MysqlConnection, id: Id) -> Result<Bench> {
    let rebuild = rebuilds::get(c, id)?;
    // Its own clocks and all that run anywhere: one query.
    let running: Vec<Clock> = clock_query().filter(clocks::ended_at.is_null()).order(clocks::started_at).load(c)?;
    let mut facts = common(c, &[id])?.remove(&id).unwrap_or_default();
    type AnswerRow = (String, String, String, String, String);
    let rows: Vec<AnswerRow> = answers::table
        .inner_join(people::table)
        .filter(answers::rebuild_id.eq(id))
        .select((answers::question, answers::state, answers::value, answers::note, people::name))
        .load(c)?;
    let answer =
        |(q, state, value, note, by): AnswerRow| Some((q, Answer { state: AnswerState::of(&state)?, value, note, by }));
    facts.answers = rows.into_iter().filter_map(answer).collect();
    facts.scrapped =
        scrapped::table.filter(scrapped::rebuild_id.eq(id)).select(scrapped::part).load(c)?.into_iter().collect();
    let pictures = pictures::of_rebuild(c, id)?;
    let mut b = stand(rebuild, facts, running.iter().filter(|k| k.rebuild_id == id).cloned().collect());
    (b.running, b.pictures) = (running, pictures);
    Ok(b)
}

/// Many rebuilds, without what was found on them: six queries.
pub(crate) fn of(c: &mut MysqlConnection, heads: Vec<Rebuild>) -> Result<Vec<Bench>> {
    let ids: Vec<Id> = heads.iter().map(|h| h.id).collect();
    let mut facts = common(c, &ids)?;
    let mut own: HashMap<Id, Vec<Clock>> = HashMap::new();
    for k in
        clock_query().filter(clocks::ended_at.is_null()).filter(clocks::rebuild_id.eq_any(&ids)).load::<Clock>(c)?
    {
        own.entry(k.rebuild_id).or_default().push(k);
    }
    let one = |h: Rebuild| {
        let (facts, clocks) = (facts.remove(&h.id).unwrap_or_default(), own.remove(&h.id).unwrap_or_default());
        stand(h, facts, clocks)
    };
    Ok(heads.into_iter().map(one).collect())
}

fn stand(rebuild: Rebuild, mut facts: Facts, clocks: Vec<Clock>) -> Bench {
    facts.finished = rebuild.finished_at.is_some();
    facts.clocks = clocks
        .iter()
        .map(|k| decide::Clock {
            seat: k.seat.clone(),
            kind: k.kind.clone(),
            step: k.step.clone(),
            label: k.label.clone(),
            started: micros(k.started_at),
            seconds: k.seconds.into(),
        })
        .collect();
    let state = State::new(rebuild.kind.clone(), facts, micros(crate::now()));
    Bench { rebuild, state, clocks, running: Vec::new(), pictures: BTreeMap::new() }
}

/// What of the records every room shows. Five queries.
fn common(c: &mut MysqlConnection, ids: &[Id]) -> Result<HashMap<Id, Facts>> {
    let mut out: HashMap<Id, Facts> = HashMap::new();
    type TickRow = (Id, String, String, String, NaiveDateTime, Option<f64>, String, String, String);
    let rows: Vec<TickRow> = ticks::table
        .inner_join(people::table)
        .filter(ticks::rebuild_id.eq_any(ids))
        .select((
            ticks::rebuild_id,
            ticks::step,
            people::name,
            ticks::second_name,
            ticks::at,
            ticks::value,
            ticks::reason,
            ticks::readings,
            ticks::faces,
        ))
        .load(c)?;
    for (id, step, by, second, at, value, reason, readings, faces) in rows {
        let done =
            Done { by, second, at: micros(at), value, reason, readings, faces: End::of(&faces), ..Done::default() };
        out.entry(id).or_default().ticks.insert(step, done);
    }
    // Done, or with an apprentice's name under it that waits for a second one.
    type StepRow = (Id, String, String, bool, Option<(String, String)>, Option<NaiveDateTime>, String);
    let rows: Vec<StepRow> = steps::table
        .left_join(people::table.on(steps::done_by.eq(people::id.nullable())))
        .filter(steps::rebuild_id.eq_any(ids))
        .filter(steps::done.eq(true).or(steps::done_by.is_not_null()))
        .order((steps::rebuild_id, steps::position))
        .select((
            steps::rebuild_id,
            steps::seat,
            steps::kind,
            steps::done,
            (people::name, people::handle).nullable(),
            steps::done_at,
            steps::detail,
        ))
        .load(c)?;
    for (id, seat, kind, is_done, person, at, detail) in rows {
        let Some(kind) = StepKind::of(&kind) else { continue };
        let (by, person) = person.unwrap_or_default();
        let facts = out.entry(id).or_default();
        if is_done {
            let done = Done { by, at: at.map_or(0, micros), detail, of_seat: true, ..Done::default() };
            facts.seat_steps.insert((seat, kind), done);
        } else if kind == StepKind::Sign {
            facts.half_signed.insert(seat, HalfSigned { by, person });
        }
    }
    type CallRow = (Id, String, String, String, Option<String>, String);
    let rows: Vec<CallRow> = calls::table
        .left_join(people::table.on(calls::overruled_by.eq(people::id.nullable())))
        .filter(calls::rebuild_id.eq_any(ids))
        .select((
            calls::rebuild_id,
            calls::seat,
            calls::topic,
            calls::document,
            people::name.nullable(),
            calls::overrule_reason,
        ))
        .load(c)?;
    for (id, seat, topic, document, overruled_by, overrule_reason) in rows {
        let called = Called { seat, topic, calls: serde_json::from_str(&document)?, overruled_by, overrule_reason };
        out.entry(id).or_default().calls.push(called);
    }
    let rows: Vec<(Id, Id, String, String, String, NaiveDateTime)> = repairs::table
        .inner_join(people::table)
        .filter(repairs::rebuild_id.eq_any(ids))
        .filter(repairs::taken_back_at.is_null())
        .order(repairs::at)
        .select((repairs::rebuild_id, repairs::id, repairs::part, repairs::what, people::name, repairs::at))
        .load(c)?;
    for (rebuild, id, part, what, by, at) in rows {
        out.entry(rebuild).or_default().repairs.push(Repair { id: id.to_string(), part, what, by, at: micros(at) });
    }
    let rows: Vec<(Id, String)> = rounds::table
        .filter(rounds::rebuild_id.eq_any(ids))
        .order(rounds::n)
        .select((rounds::rebuild_id, rounds::document))
        .load(c)?;
    for (id, document) in rows {
        out.entry(id).or_default().rounds.push(serde_json::from_str(&document)?);
    }
    Ok(out)
}
