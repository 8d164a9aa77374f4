//! Working the derived trail: ticking with its number, answering, waiting, repairing, backing out. One transaction each,
//! journalled.

use crate::people::Person;
use crate::schema::{answers, clocks, repairs, rounds, scrapped, steps as seat_steps, ticks};
use crate::trail_record::{AnswerState, Trail, cost, trail};
use crate::{Id, Result, StoreError, journal};
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::anatomy::acts::{self, Act, Phase, Stage, first_time, open_round};
use ironseat_core::anatomy::body::whole;
use ironseat_core::anatomy::{Cost, End, Measure, Unit};
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
    /// Why a number outside its limits may stay, or a part faces the other way.
    pub reason: String,
    /// The end that the part faces now, `A` or `B`, where it has two faces; empty where nobody said.
    pub faces: String,
}

/// What is kept with a tick: the value that is judged, the single readings, and why it may stay outside its limits.
#[derive(Default)]
struct Number {
    value: Option<f64>,
    readings: String,
    reason: String,
    /// The end that it faces.
    faces: Option<End>,
    /// Outside its limits, with a shim that can be changed for it: the next round mends it.
    round: bool,
}

fn put(c: &mut MysqlConnection, rebuild: Id, step: &str, who: &Person, second: &str, n: &Number) -> Result<()> {
    diesel::insert_into(ticks::table)
        .values((
            ticks::rebuild_id.eq(rebuild),
            ticks::step.eq(step),
            ticks::person_id.eq(who.id),
            ticks::second_name.eq(second),
            ticks::at.eq(crate::now()),
            ticks::value.eq(n.value),
            ticks::reason.eq(&n.reason),
            ticks::readings.eq(&n.readings),
            ticks::faces.eq(n.faces.map_or("", End::letter)),
        ))
        .execute(c)?;
    Ok(())
}

/// The shim that sets what a float reads.
fn shim_of<'a>(t: &'a Trail, s: &Act) -> Option<&'a str> {
    let id = first_time(&s.id).strip_prefix("float.")?;
    t.rebuild.anatomy.floats.iter().find(|f| f.id == id)?.shim.as_deref()
}

/// The number of a step, judged: outside its limits it stays only with a reason, or opens a round.
fn measured(t: &Trail, s: &Act, who: &Person, done: &Done) -> Result<Number> {
    let Some(m) = t.limits(s) else {
        if done.value.trim().is_empty() {
            return Ok(Number::default());
        }
        return Err(Refusal::new("value", "this act asks for no number: leave it out, or write it in the note of the rebuild").into());
    };
    let (value, list) = m.read(&done.value, who.units)?;
    let readings = if list.len() > 1 {
        list.iter().map(|v| format!("{}", (v * 1e4).round() / 1e4)).collect::<Vec<_>>().join(" ")
    } else {
        String::new()
    };
    let kept = |reason: &str, round: bool| Number {
        value: Some(value),
        readings: readings.clone(),
        reason: reason.to_owned(),
        round,
        faces: None,
    };
    let Some(wrong) = m.against(value, who.units) else { return Ok(kept("", false)) };
    if shim_of(t, s).is_some() && done.reason.trim().is_empty() {
        return Ok(kept("", true));
    }
    let over = m.unit == Unit::NewtonMetre && m.hi.is_some_and(|h| value > h);
    let mend = if over {
        "it is over-tightened: slacken it, look for stretch, replace what stretched and tighten it anew; or say below what was measured and why it may stay"
    } else {
        "set it and measure again, or say below why it may stay so"
    };
    let reason = done.reason.trim();
    match reason.chars().count() {
        0 => Err(Refusal::new("value", format!("{wrong}: {mend}")).into()),
        1..10 => Err(Refusal::new("reason", "expected a reason that another fitter understands, of ten letters or more").into()),
        10..=400 => Ok(kept(reason, false)),
        _ => Err(Refusal::new("reason", "expected at most 400 characters").into()),
    }
}

/// Which way the part was put in, in the fitter's word: against the build sheet only with a reason.
fn facing(t: &Trail, s: &Act, done: &Done) -> Result<Number> {
    let Some(sheet) = t.facing(s) else {
        if done.faces.is_empty() {
            return Ok(Number::default());
        }
        return Err(Refusal::new("faces", "this part is the same both ways").into());
    };
    let end = match done.faces.as_str() {
        "" => return Ok(Number::default()),
        said => End::of(said).ok_or_else(|| Refusal::new("faces", "expected the end that it faces, A or B"))?,
    };
    let reason = done.reason.trim();
    if end != sheet && !(10..=400).contains(&reason.chars().count()) {
        let words =
            format!("the build sheet has it facing end {}: turn it round, or say in ten letters or more why it is so", sheet.letter());
        return Err(Refusal::new("faces", words).into());
    }
    let reason = if end == sheet { String::new() } else { reason.to_owned() };
    Ok(Number { faces: Some(end), reason, ..Number::default() })
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
        if let Some(why) = t.held(s, who.units) {
            return Err(StoreError::Held(format!("This step is held, {why}.")));
        }
        if s.seat.is_some() {
            return Err(StoreError::Held("work this seat on its sheets: its signature ticks this step".into()));
        }
        if s.people > 1 && (second.chars().count() < 2 || second.chars().count() > 80) {
            return Err(Refusal::new("second", "two people do this: expected the other one's name").into());
        }
        let mut number = measured(&t, s, who, done)?;
        if number.value.is_none() {
            number = facing(&t, s, done)?;
        }
        let second = if s.people > 1 { second } else { "" };
        put(c, rebuild, step, who, second, &number)?;
        let mut note = serde_json::json!({"step": step, "second": second});
        if let (Some(v), Some(m)) = (number.value, &s.measure) {
            note["value"] = v.into();
            note["unit"] = serde_json::to_value(m.unit)?;
            note["reason"] = number.reason.as_str().into();
            if !number.readings.is_empty() {
                note["readings"] = number.readings.as_str().into();
            }
        } else if let Some(end) = number.faces {
            note["faces"] = format!("end {}", end.letter()).into();
            note["reason"] = number.reason.as_str().into();
        }
        locked.note(who.id, "ticked", &note);
        if number.round {
            open(c, &mut locked, &t, who, s)?;
        }
        if s.wait_min > 0.0 {
            let label: String =
                format!("{}, {}", t.rebuild.anatomy.name_of(&s.body), s.wait_word).trim_start_matches(", ").chars().take(160).collect();
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

/// Opens a round for a reading outside its limits: the shim comes out, is changed, and the same acts follow again.
fn open(c: &mut MysqlConnection, locked: &mut journal::Locked, t: &Trail, who: &Person, s: &Act) -> Result<()> {
    let Some(shim) = shim_of(t, s) else { return Ok(()) };
    let on = t.on();
    let have: Vec<&str> = on.iter().map(String::as_str).collect();
    let cost = t.derived.back_out(&t.rebuild.anatomy, &have, shim)?;
    let n = t.rounds.last().map_or(2, |r| r.n + 1);
    let mut done = t.done();
    done.insert(s.id.clone());
    let off: Vec<String> = cost.opened.iter().chain(&cost.off).cloned().collect();
    let round = open_round(&t.steps, &done, n, &s.id, shim, &off);
    diesel::insert_into(rounds::table)
        .values((
            rounds::rebuild_id.eq(t.rebuild.id),
            rounds::n.eq(i32::try_from(n).unwrap_or(i32::MAX)),
            rounds::document.eq(serde_json::to_string(&round)?),
            rounds::person_id.eq(who.id),
            rounds::at.eq(crate::now()),
        ))
        .execute(c)?;
    locked.note(who.id, "round", &serde_json::json!({"n": n, "reading": s.id, "shim": shim, "off": round.off, "again": round.again}));
    Ok(())
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
        if let Some(rests) = t.steps.iter().find(|s| done.contains(&s.id) && s.waits_for(step)) {
            return Err(StoreError::Held(format!("“{}” rests on it: take that back first.", rests.words.say(who.units))));
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
        // What is still hidden was not found, and a new mark can only be written down once it is made. That something cannot be
        // told may be said at any time.
        let found = state == AnswerState::Recorded || question.starts_with("again.");
        if let Some(why) = t.step(&step).filter(|_| found).and_then(|s| t.held(s, who.units)) {
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
                    Unit::Ohm | Unit::Degree | Unit::NewtonMetre | Unit::Volt => "",
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
            put(c, rebuild, &step, who, "", &Number::default())?;
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
            .filter(|s| t.ticks.contains_key(&s.id) && !open.contains(&s.id) && s.before.iter().any(|b| open.contains(&b.id)))
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

/// Ticks that no longer stand once something has come off: placing, closing, and the locks that were opened for it.
fn undone(t: &Trail, cost: &Cost) -> BTreeSet<String> {
    let mut first: BTreeSet<String> = BTreeSet::new();
    for id in &cost.off {
        first.extend([format!("on.{id}"), format!("heat.{id}")]);
    }
    first.extend(cost.opened.iter().map(|h| format!("close.{h}")));
    for act in &cost.acts {
        let (verb, id) = act.split_once('.').unwrap_or((act, ""));
        first.extend(match verb {
            "loosen" => vec![format!("nip.{id}"), format!("torque.{id}"), format!("set.{id}"), format!("bolts.{id}")],
            "straighten" => vec![format!("tab.{id}")],
            "unlock" => vec![format!("lock.{id}")],
            _ => vec![],
        });
    }
    t.steps.iter().filter(|s| first.contains(first_time(&s.id))).map(|s| s.id.clone()).collect()
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
        if cost.off.is_empty() && cost.opened.is_empty() {
            return Err(StoreError::Held("nothing has to come off for it".into()));
        }
        // A seat that comes off is put on, proved and signed again; what was measured and said before stays on record.
        let off: Vec<&str> = cost.off.iter().map(|id| whole(id)).collect();
        let seats: Vec<&str> = t.rebuild.anatomy.seats.iter().filter(|s| off.contains(&s.part.as_str())).map(|s| s.id.as_str()).collect();
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
        reopen(c, &t, undone(&t, &cost))?;
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
        let void = acts::voided_by(a, part);
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
        reopen(c, &t, acts::opened_by(a, part))?;
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
        reopen(c, &t, acts::opened_by(&t.rebuild.anatomy, &r.part))?;
        diesel::update(repairs::table.find(repair)).set(repairs::taken_back_at.eq(crate::now())).execute(c)?;
        locked.note(who.id, "repair taken back", &serde_json::json!({"part": r.part, "what": r.what}));
        locked.write(c)
    })
}

/// What was found on a machine of the demo, by question: state, value, note.
pub(crate) type Found<'a> = &'a dyn Fn(&Trail, &str) -> (AnswerState, String, String);

/// A number that a good fitter would have read: within its limits, and of a size that such a thing has.
fn likely(t: &Trail, s: &Act, m: &Measure) -> f64 {
    let part = t.rebuild.anatomy.part(&s.body);
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

/// Ticks acts in the offered order up to one that is named, or a whole phase: for the demo, whose rebuilds stand in the
/// middle of their work. Acts of a seat's own sheets are left to those.
pub(crate) fn catch_up(c: &mut MysqlConnection, who: &Person, rebuild: Id, upto: Upto, found: Found) -> Result<()> {
    let t = trail(c, rebuild)?;
    for s in t.steps.iter().filter(|s| !t.ticks.contains_key(&s.id)) {
        let wanted = match upto {
            Upto::Act(id) if s.id == id => break,
            Upto::Act(_) | Upto::End => true,
            Upto::Parts => s.phase == Phase::Apart || s.stage == Stage::Parts,
        };
        if !wanted || s.seat.is_some() {
            continue;
        }
        if let Some(q) = s.id.strip_prefix("ask.") {
            let (state, value, note) = found(&t, q);
            answer(c, who, rebuild, q, state, &value, &note)?;
            continue;
        }
        let value = match t.limits(s) {
            Some(m) if m.lo.or(m.hi).is_none() && !m.beside.is_empty() => trail(c, rebuild)?.found(&m.beside).map(|v| v[0]),
            Some(m) => Some(likely(&t, s, &m)),
            None => None,
        };
        put(
            c,
            rebuild,
            &s.id,
            who,
            if s.people > 1 { "Yuki Halloran" } else { "" },
            &Number { value, faces: t.facing(s), ..Number::default() },
        )?;
    }
    Ok(())
}

/// How far a demo rebuild has come.
#[derive(Clone, Copy)]
pub(crate) enum Upto<'a> {
    /// Apart, inspected, parts checked.
    Parts,
    /// Up to this act, which is not done.
    Act(&'a str),
    /// All of it.
    End,
}
