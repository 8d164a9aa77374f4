//! Working the derived trail: ticking with its number, answering, waiting, repairing, backing out. One transaction each,
//! journalled.

use crate::people::Person;
use crate::schema::{answers, clocks, repairs, scrapped, steps as seat_steps, ticks};
use crate::trail_record::{AnswerState, Trail, cost, trail};
use crate::{Id, Result, StoreError, journal};
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::anatomy::sequence::Cost;
use ironseat_core::anatomy::steps::{self, Stage, Step};
use ironseat_core::anatomy::{Measure, Unit};
use ironseat_core::trail::StepKind;
use std::collections::BTreeSet;

/// What is said when a step is ticked.
#[derive(Debug, Clone, Default)]
#[allow(missing_docs)]
pub struct Done {
    /// The other person, where two are needed.
    pub second: String,
    /// What was measured, as typed.
    pub value: String,
    /// Why a number outside its limits may stay.
    pub reason: String,
}

fn put(c: &mut MysqlConnection, rebuild: Id, step: &str, who: &Person, second: &str, value: Option<f64>, reason: &str) -> Result<()> {
    diesel::insert_into(ticks::table)
        .values((
            ticks::rebuild_id.eq(rebuild),
            ticks::step.eq(step),
            ticks::person_id.eq(who.id),
            ticks::second_name.eq(second),
            ticks::at.eq(crate::now()),
            ticks::value.eq(value),
            ticks::reason.eq(reason),
        ))
        .execute(c)?;
    Ok(())
}

/// The number of a step, judged: outside its limits it stays only with a reason.
fn measured(s: &Step, who: &Person, done: &Done) -> Result<(Option<f64>, String)> {
    let Some(m) = &s.measure else { return Ok((None, String::new())) };
    let value = m.unit.read(&done.value, who.units)?;
    let Some(wrong) = m.against(value, who.units) else { return Ok((Some(value), String::new())) };
    let reason = done.reason.trim();
    match reason.chars().count() {
        0 => Err(Refusal::new("value", format!("{wrong}: set it and measure again, or say below why it may stay so")).into()),
        1..10 => Err(Refusal::new("reason", "expected a reason that another fitter understands, of ten letters or more").into()),
        10..=400 => Ok((Some(value), reason.to_owned())),
        _ => Err(Refusal::new("reason", "expected at most 400 characters").into()),
    }
}

/// Ticks a step. Somebody else's tick of the same step stands: it is told, nothing is lost. A step with a wait starts its
/// clock; what rests on it is held until that has run out or somebody says that it is over.
///
/// # Errors
/// Held with what is missing; `second` when two people are needed; `value` or `reason` for its number; a conflict with the
/// name of who was first.
pub fn tick(c: &mut MysqlConnection, who: &Person, rebuild: Id, step: &str, done: &Done) -> Result<()> {
    let second = done.second.trim();
    c.transaction(|c| {
        let mut locked = journal::open(c, rebuild)?;
        let t = trail(c, rebuild)?;
        let s = t.step(step).ok_or(StoreError::NotFound)?;
        if let Some(first) = t.ticks.get(step) {
            return Err(StoreError::Conflict(format!("{} has ticked this already: it stands", first.by)));
        }
        if step.starts_with("ask.") {
            return Err(StoreError::Held("say what was found, or that it cannot be told".into()));
        }
        if let Some(why) = t.held(s) {
            return Err(StoreError::Held(format!("This step is held, {why}.")));
        }
        if s.seat.is_some() {
            return Err(StoreError::Held("work this seat on its sheets: its signature ticks this step".into()));
        }
        if s.people > 1 && (second.chars().count() < 2 || second.chars().count() > 80) {
            return Err(Refusal::new("second", "two people do this: expected the other one's name").into());
        }
        let (value, reason) = measured(s, who, done)?;
        let second = if s.people > 1 { second } else { "" };
        put(c, rebuild, step, who, second, value, &reason)?;
        let mut note = serde_json::json!({"step": step, "second": second});
        if let (Some(v), Some(m)) = (value, &s.measure) {
            note["value"] = v.into();
            note["unit"] = serde_json::to_value(m.unit)?;
            note["reason"] = reason.into();
        }
        locked.note(who.id, "ticked", &note);
        if s.wait_min > 0.0 {
            let label: String =
                format!("{}, {}", t.rebuild.anatomy.name_of(&s.about), s.wait_word).trim_start_matches(", ").chars().take(160).collect();
            let seconds = (s.wait_min * 60.0).clamp(1.0, 86_400.0).round() as i32;
            diesel::insert_into(clocks::table)
                .values((
                    clocks::id.eq(Id::new()),
                    clocks::rebuild_id.eq(rebuild),
                    clocks::seat.eq(""),
                    clocks::kind.eq("trail"),
                    clocks::label.eq(&label),
                    clocks::started_at.eq(crate::now()),
                    clocks::seconds.eq(seconds),
                    clocks::person_id.eq(who.id),
                    clocks::step.eq(step),
                ))
                .execute(c)?;
            locked.note(who.id, "clock", &serde_json::json!({"step": step, "seconds": seconds, "label": label}));
        }
        locked.write(c)
    })
}

fn stop_clocks(c: &mut MysqlConnection, rebuild: Id, steps: &[&str]) -> Result<usize> {
    Ok(diesel::update(
        clocks::table.filter(clocks::rebuild_id.eq(rebuild)).filter(clocks::step.eq_any(steps)).filter(clocks::ended_at.is_null()),
    )
    .set(clocks::ended_at.eq(crate::now()))
    .execute(c)?)
}

/// Says that a wait is over: it is cold, it held, it has cured. Before its time this is a person's word, and the journal
/// keeps it.
///
/// # Errors
/// Not found; held when no clock runs for the step.
pub fn wait_over(c: &mut MysqlConnection, who: &Person, rebuild: Id, step: &str) -> Result<()> {
    c.transaction(|c| {
        let mut locked = journal::open(c, rebuild)?;
        let t = trail(c, rebuild)?;
        // Clocks of seats name no step: only their own sheets end them.
        let _ = t.step(step).ok_or(StoreError::NotFound)?;
        let left = t.waiting(step).map_or(0, |k| k.left(crate::now()));
        if stop_clocks(c, rebuild, &[step])? == 0 {
            return Err(StoreError::Held("no clock runs for this step".into()));
        }
        locked.note(who.id, "wait over", &serde_json::json!({"step": step, "left_s": left}));
        locked.write(c)
    })
}

/// Takes a tick back while nothing done rests on it.
///
/// # Errors
/// Held with what rests on it.
pub fn untick(c: &mut MysqlConnection, who: &Person, rebuild: Id, step: &str) -> Result<()> {
    c.transaction(|c| {
        let mut locked = journal::open(c, rebuild)?;
        let t = trail(c, rebuild)?;
        let done = t.done();
        if let Some(rests) = t.steps.iter().find(|s| done.contains(&s.id) && s.before.iter().any(|b| b == step)) {
            return Err(StoreError::Held(format!("“{}” rests on it: take that back first.", rests.words)));
        }
        let n = diesel::delete(ticks::table.find((rebuild, step))).execute(c)?;
        if n == 0 {
            return Err(StoreError::Held("this is not ticked by hand: its own sheets say that it is done".into()));
        }
        stop_clocks(c, rebuild, &[step])?;
        locked.note(who.id, "unticked", &serde_json::json!({"step": step}));
        locked.write(c)
    })
}

/// Records what was found; the step that waits for it is free then. A new answer replaces the old one, the journal keeps it.
///
/// # Errors
/// `value` when something was found but nothing is said, or too long; `note` when too long.
pub fn answer(
    c: &mut MysqlConnection,
    who: &Person,
    rebuild: Id,
    question: &str,
    state: AnswerState,
    value: &str,
    note: &str,
) -> Result<()> {
    let (value, note) = (value.trim(), note.trim());
    for (field, text, longest) in [("value", value, 200), ("note", note, 400)] {
        if text.chars().count() > longest {
            return Err(Refusal::new(field, format!("expected at most {longest} characters")).into());
        }
    }
    c.transaction(|c| {
        let mut locked = journal::open(c, rebuild)?;
        let t = trail(c, rebuild)?;
        let q = t.question(question).ok_or(StoreError::NotFound)?;
        let step = format!("ask.{question}");
        // A new mark can only be written down once it is made; what was found is never too early, but may be too late.
        if let Some(why) = t.step(&step).filter(|_| question.starts_with("again.")).and_then(|s| t.held(s)) {
            return Err(StoreError::Held(format!("This step is held, {why}.")));
        }
        let value = match (state, q.unit) {
            (AnswerState::Recorded, None) => {
                q.read(value, who.units)?;
                value.to_owned()
            }
            // Kept in its own unit, whatever it was typed in.
            (AnswerState::Recorded, Some(unit)) => {
                let word = match unit {
                    Unit::Mm => " mm",
                    Unit::Um => " um",
                    Unit::Ohm | Unit::Degree | Unit::NewtonMetre => "",
                };
                let list: Vec<String> = q.read(value, who.units)?.iter().map(|v| format!("{}{word}", (v * 1e4).round() / 1e4)).collect();
                list.join("; ")
            }
            _ => String::new(),
        };
        diesel::replace_into(answers::table)
            .values((
                answers::rebuild_id.eq(rebuild),
                answers::question.eq(question),
                answers::state.eq(state.key()),
                answers::value.eq(&value),
                answers::note.eq(note),
                answers::person_id.eq(who.id),
                answers::at.eq(crate::now()),
            ))
            .execute(c)?;
        if !t.ticks.contains_key(&step) {
            put(c, rebuild, &step, who, "", None, "")?;
        }
        locked.note(who.id, "as found", &serde_json::json!({"question": question, "state": state.key(), "value": value, "note": note}));
        locked.write(c)
    })
}

/// Opens steps again, and everything done that rests on them; their clocks end.
pub(crate) fn reopen(c: &mut MysqlConnection, t: &Trail, mut open: BTreeSet<String>) -> Result<()> {
    loop {
        let more: Vec<String> = t
            .steps
            .iter()
            .filter(|s| t.ticks.contains_key(&s.id) && !open.contains(&s.id) && s.before.iter().any(|b| open.contains(b)))
            .map(|s| s.id.clone())
            .collect();
        if more.is_empty() {
            break;
        }
        open.extend(more);
    }
    let list: Vec<&str> = open.iter().map(String::as_str).collect();
    stop_clocks(c, t.rebuild.id, &list)?;
    diesel::delete(ticks::table.filter(ticks::rebuild_id.eq(t.rebuild.id)).filter(ticks::step.eq_any(list))).execute(c)?;
    Ok(())
}

/// Takes that set off again: re-opens its steps and whatever was done on top of them, and marks what is scrapped.
///
/// # Errors
/// As [`cost`]; held when nothing has to come off.
pub fn back_out(c: &mut MysqlConnection, who: &Person, rebuild: Id, part: &str) -> Result<Cost> {
    c.transaction(|c| {
        let mut locked = journal::open(c, rebuild)?;
        let t = trail(c, rebuild)?;
        let cost = cost(&t, part)?;
        if cost.off.is_empty() {
            return Err(StoreError::Held("nothing has to come off for it".into()));
        }
        // A seat that comes off is put on, proved and signed again; what was measured and said before stays on record.
        let seats: Vec<&str> = t.rebuild.anatomy.seats.iter().filter(|s| cost.off.contains(&s.part)).map(|s| s.id.as_str()).collect();
        let again = [StepKind::Heat, StepKind::PutOn, StepKind::Cool, StepKind::Home, StepKind::Nip, StepKind::Sign].map(StepKind::key);
        diesel::update(
            seat_steps::table
                .filter(seat_steps::rebuild_id.eq(rebuild))
                .filter(seat_steps::seat.eq_any(&seats))
                .filter(seat_steps::kind.eq_any(again)),
        )
        .set((
            seat_steps::done.eq(false),
            seat_steps::done_by.eq(None::<Id>),
            seat_steps::done_at.eq(None::<NaiveDateTime>),
            seat_steps::detail.eq(""),
        ))
        .execute(c)?;
        reopen(c, &t, cost.off.iter().map(|id| format!("on.{id}")).collect())?;
        let at = crate::now();
        let lost: Vec<_> =
            cost.scrapped.iter().map(|p| (scrapped::rebuild_id.eq(rebuild), scrapped::part.eq(p), scrapped::at.eq(at))).collect();
        diesel::insert_into(scrapped::table).values(lost).execute(c)?;
        locked.note(
            who.id,
            "backed out",
            &serde_json::json!({"for": part, "off": cost.off, "scrapped": cost.scrapped, "minutes": cost.minutes}),
        );
        locked.write(c)?;
        Ok(cost)
    })
}

/// Notes that a face of a part was machined: the marks that rest on it are void, and the trail asks for new ones. What was
/// drawn to an old mark already is opened again.
///
/// # Errors
/// `what` when nothing is said; held while the part is on, or when no mark rests on it.
pub fn repair(c: &mut MysqlConnection, who: &Person, rebuild: Id, part: &str, what: &str) -> Result<()> {
    let what = what.trim();
    if !(3..=200).contains(&what.chars().count()) {
        return Err(Refusal::new("what", "expected what was done to it, such as “A face ground 0.05 mm”").into());
    }
    c.transaction(|c| {
        let mut locked = journal::open(c, rebuild)?;
        let t = trail(c, rebuild)?;
        let a = &t.rebuild.anatomy;
        let name = a.part(part).ok_or_else(|| Refusal::new("part", "choose the part that was machined"))?.name.clone();
        let void = steps::voided_by(a, part);
        if void.is_empty() {
            return Err(StoreError::Held(format!("no mark rests on {name}: nothing has to be asked again")));
        }
        if t.ticks.contains_key(&format!("on.{part}")) {
            return Err(StoreError::Held(format!("{name} is on: back it out first, then say what was done to it")));
        }
        let at = crate::now();
        diesel::insert_into(repairs::table)
            .values((
                repairs::id.eq(Id::new()),
                repairs::rebuild_id.eq(rebuild),
                repairs::part.eq(part),
                repairs::what.eq(what),
                repairs::person_id.eq(who.id),
                repairs::at.eq(at),
            ))
            .execute(c)?;
        reopen(c, &t, steps::opened_by(a, part))?;
        locked.note(who.id, "repaired", &serde_json::json!({"part": part, "what": what, "void": void}));
        locked.write(c)
    })
}

/// Takes a repair back that was noted by mistake: the old marks count again.
///
/// # Errors
/// Not found.
pub fn repair_back(c: &mut MysqlConnection, who: &Person, rebuild: Id, repair: Id) -> Result<()> {
    c.transaction(|c| {
        let mut locked = journal::open(c, rebuild)?;
        let t = trail(c, rebuild)?;
        let r = t.repairs.iter().find(|r| r.id == repair).ok_or(StoreError::NotFound)?;
        reopen(c, &t, steps::opened_by(&t.rebuild.anatomy, &r.part))?;
        diesel::update(repairs::table.find(repair)).set(repairs::taken_back_at.eq(crate::now())).execute(c)?;
        locked.note(who.id, "repair taken back", &serde_json::json!({"part": r.part, "what": r.what}));
        locked.write(c)
    })
}

/// What was found on a machine of the demo, by question: state, value, note.
pub(crate) type Found<'a> = &'a dyn Fn(&Trail, &str) -> (AnswerState, String, String);

/// A number that a good fitter would have read: within its limits, and of a size that such a thing has.
fn likely(t: &Trail, s: &Step, m: &Measure) -> f64 {
    let part = t.rebuild.anatomy.part(&s.about);
    match (m.lo, m.hi, m.unit) {
        (Some(lo), Some(hi), _) => f64::midpoint(lo, hi),
        (Some(lo), None, Unit::Mm) => (lo + 0.1).max(lo * 1.2),
        (Some(lo), None, _) => (lo * 1.2).round(),
        (None, Some(hi), _) => hi * 0.5,
        (None, None, Unit::Mm) => part.and_then(|p| p.back_off_mm).map_or(0.5, |b| b.get()),
        (None, None, Unit::NewtonMetre) => 0.18,
        (None, None, _) => 3.0,
    }
}

/// Ticks everything up to a stage: for the demo, whose rebuilds stand in the middle of their work.
pub(crate) fn catch_up(c: &mut MysqlConnection, who: &Person, rebuild: Id, last: Stage, upto: &str, found: Found) -> Result<()> {
    let t = trail(c, rebuild)?;
    for s in t.steps.iter().filter(|s| s.stage <= last && !t.ticks.contains_key(&s.id)) {
        if s.id == upto {
            break;
        }
        if let Some(q) = s.id.strip_prefix("ask.") {
            let (state, value, note) = found(&t, q);
            answer(c, who, rebuild, q, state, &value, &note)?;
            continue;
        }
        let value = match s.measure.as_ref() {
            Some(m) if m.lo.or(m.hi).is_none() && !m.beside.is_empty() => trail(c, rebuild)?.found(&m.beside).map(|v| v[0]),
            Some(m) => Some(likely(&t, s, m)),
            None => None,
        };
        put(c, rebuild, &s.id, who, if s.people > 1 { "Yuki Halloran" } else { "" }, value, "")?;
    }
    Ok(())
}
