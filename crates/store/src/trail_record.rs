//! The derived trail of a rebuild: what is ticked, what was found, what had to come off again. One transaction each,
//! journalled. The steps follow from the pinned anatomy and are never stored.

use crate::people::Person;
use crate::rebuilds::{self, Rebuild};
use crate::schema::{answers, people, scrapped, steps as seat_steps, ticks};
use crate::{Id, Result, StoreError, journal};
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::anatomy::as_found::{self, Question};
use ironseat_core::anatomy::sequence::{self, Cost};
use ironseat_core::anatomy::steps::{self, Stage, Step};
use ironseat_core::anatomy::{Derived, derive};
use ironseat_core::trail::StepKind;
use std::collections::{BTreeMap, BTreeSet};

/// A step that is done.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Tick {
    pub by: String,
    pub second: String,
    pub at: NaiveDateTime,
    /// Its own sheets say that it is done: nobody ticked it by hand.
    pub by_sheets: bool,
}

/// What was found.
#[derive(Debug, Clone, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Answer {
    pub state: AnswerState,
    pub value: String,
    pub note: String,
    pub by: String,
}

/// Recorded, or why not.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum AnswerState {
    Recorded,
    CannotTell,
    NotPresent,
}

impl AnswerState {
    /// All, with their names in records.
    pub const ALL: [(Self, &'static str, &'static str); 3] = [
        (Self::Recorded, "recorded", "recorded"),
        (Self::CannotTell, "cannot_tell", "cannot tell"),
        (Self::NotPresent, "not_present", "not present"),
    ];
    /// From its name in records.
    #[must_use]
    pub fn of(key: &str) -> Option<Self> {
        Self::ALL.iter().find(|s| s.1 == key).map(|s| s.0)
    }
    /// Name in records.
    #[must_use]
    pub fn key(self) -> &'static str {
        Self::ALL.iter().find(|s| s.0 == self).map_or("", |s| s.1)
    }
    /// As said.
    #[must_use]
    pub fn word(self) -> &'static str {
        Self::ALL.iter().find(|s| s.0 == self).map_or("", |s| s.2)
    }
}

/// The trail of a rebuild as it stands.
#[derive(Debug)]
#[allow(missing_docs)]
pub struct Trail {
    pub rebuild: Rebuild,
    pub derived: Derived,
    pub steps: Vec<Step>,
    pub questions: Vec<Question>,
    pub ticks: BTreeMap<String, Tick>,
    pub answers: BTreeMap<String, Answer>,
    /// Parts scrapped by coming off again and not replaced since.
    pub scrapped: BTreeSet<String>,
}

impl Trail {
    /// Ids of the steps that are done.
    #[must_use]
    pub fn done(&self) -> BTreeSet<String> {
        self.ticks.keys().cloned().collect()
    }
    /// A step by id.
    #[must_use]
    pub fn step(&self, id: &str) -> Option<&Step> {
        self.steps.iter().find(|s| s.id == id)
    }
    /// Why a step is held, as a sentence; none when it may be done.
    #[must_use]
    pub fn held(&self, step: &Step) -> Option<String> {
        let missing = steps::missing(&self.steps, &self.done(), &step.id);
        let first = missing.first()?;
        let more = match missing.len() - 1 {
            0 => String::new(),
            n => format!(", and {n} more"),
        };
        Some(format!("first: {}{more}", first.words.trim_end_matches('.')))
    }
    /// The step in hand: the first that is open and not held.
    #[must_use]
    pub fn in_hand(&self) -> Option<&Step> {
        let done = self.done();
        self.steps.iter().find(|s| !done.contains(&s.id) && s.before.iter().all(|b| done.contains(b)))
    }
    /// Parts and housings that are on, in the order in which they went on.
    #[must_use]
    pub fn on(&self) -> Vec<String> {
        let mut list: Vec<(&NaiveDateTime, &str)> =
            self.ticks.iter().filter_map(|(id, t)| Some((&t.at, id.strip_prefix("on.")?))).collect();
        list.sort();
        list.into_iter().map(|(_, id)| id.to_owned()).collect()
    }
}

/// Reads the trail of a rebuild.
///
/// # Errors
/// Not found; an anatomy that cannot be built.
pub fn trail(c: &mut MysqlConnection, id: Id) -> Result<Trail> {
    let rebuild = rebuilds::get(c, id)?;
    let derived = derive(&rebuild.anatomy)?;
    let order = sequence::best(&rebuild.anatomy, &derived).unwrap_or_default();
    let all = steps::steps(&rebuild.anatomy, &derived, &order);
    let rows: Vec<(String, String, String, NaiveDateTime)> = ticks::table
        .inner_join(people::table)
        .filter(ticks::rebuild_id.eq(id))
        .select((ticks::step, people::name, ticks::second_name, ticks::at))
        .load(c)?;
    let mut done: BTreeMap<String, Tick> =
        rows.into_iter().map(|(s, by, second, at)| (s, Tick { by, second, at, by_sheets: false })).collect();
    // A seat that is signed is on: its own sheets prove it.
    let signed: Vec<(String, Option<NaiveDateTime>)> = seat_steps::table
        .filter(seat_steps::rebuild_id.eq(id))
        .filter(seat_steps::kind.eq(StepKind::Sign.key()))
        .filter(seat_steps::done.eq(true))
        .select((seat_steps::seat, seat_steps::done_at))
        .load(c)?;
    for (seat, at) in signed {
        if let Some(s) = rebuild.anatomy.seat(&seat) {
            let at = at.unwrap_or_else(crate::now);
            done.entry(format!("on.{}", s.part)).or_insert(Tick { by: "signed sheets".into(), second: String::new(), at, by_sheets: true });
        }
    }
    let rows: Vec<(String, String, String, String, String)> = answers::table
        .inner_join(people::table)
        .filter(answers::rebuild_id.eq(id))
        .select((answers::question, answers::state, answers::value, answers::note, people::name))
        .load(c)?;
    let found = rows
        .into_iter()
        .filter_map(|(q, state, value, note, by)| Some((q, Answer { state: AnswerState::of(&state)?, value, note, by })))
        .collect();
    let off: Vec<String> = scrapped::table.filter(scrapped::rebuild_id.eq(id)).select(scrapped::part).load(c)?;
    let scrapped = off.into_iter().filter(|p| !done.contains_key(&format!("on.{p}"))).collect();
    let questions = as_found::questions(&rebuild.anatomy);
    Ok(Trail { derived, steps: all, questions, ticks: done, answers: found, scrapped, rebuild })
}

fn put(c: &mut MysqlConnection, rebuild: Id, step: &str, who: &Person, second: &str) -> Result<()> {
    diesel::insert_into(ticks::table)
        .values((
            ticks::rebuild_id.eq(rebuild),
            ticks::step.eq(step),
            ticks::person_id.eq(who.id),
            ticks::second_name.eq(second),
            ticks::at.eq(crate::now()),
        ))
        .execute(c)?;
    Ok(())
}

/// Ticks a step. Somebody else's tick of the same step stands: it is told, nothing is lost.
///
/// # Errors
/// Held with what is missing; `second` when two people are needed; a conflict with the name of who was first.
pub fn tick(c: &mut MysqlConnection, who: &Person, rebuild: Id, step: &str, second: &str) -> Result<()> {
    let second = second.trim();
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
        let second = if s.people > 1 { second } else { "" };
        put(c, rebuild, step, who, second)?;
        locked.note(who.id, "ticked", &serde_json::json!({"step": step, "second": second}));
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
    if state == AnswerState::Recorded && value.is_empty() {
        return Err(Refusal::new("value", "expected what was found; or say that it cannot be told, or is not there").into());
    }
    for (field, text, longest) in [("value", value, 200), ("note", note, 400)] {
        if text.chars().count() > longest {
            return Err(Refusal::new(field, format!("expected at most {longest} characters")).into());
        }
    }
    c.transaction(|c| {
        let mut locked = journal::open(c, rebuild)?;
        let t = trail(c, rebuild)?;
        if !t.questions.iter().any(|q| q.id == question) {
            return Err(StoreError::NotFound);
        }
        let value = if state == AnswerState::Recorded { value } else { "" };
        diesel::replace_into(answers::table)
            .values((
                answers::rebuild_id.eq(rebuild),
                answers::question.eq(question),
                answers::state.eq(state.key()),
                answers::value.eq(value),
                answers::note.eq(note),
                answers::person_id.eq(who.id),
                answers::at.eq(crate::now()),
            ))
            .execute(c)?;
        let step = format!("ask.{question}");
        if !t.ticks.contains_key(&step) {
            put(c, rebuild, &step, who, "")?;
        }
        locked.note(who.id, "as found", &serde_json::json!({"question": question, "state": state.key(), "value": value, "note": note}));
        locked.write(c)
    })
}

/// What has to come off so that a part can go on or be got at.
///
/// # Errors
/// `part` when it is not there.
pub fn cost(t: &Trail, part: &str) -> Result<Cost> {
    let on = t.on();
    let ids: Vec<&str> = on.iter().map(String::as_str).collect();
    Ok(sequence::back_out(&t.rebuild.anatomy, &t.derived, &ids, part, ids.contains(&part))?)
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
        // Everything done that rests on a step that is opened again is opened, too.
        let mut open: BTreeSet<String> = cost.off.iter().map(|id| format!("on.{id}")).collect();
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
        let list: Vec<&String> = open.iter().collect();
        diesel::delete(ticks::table.filter(ticks::rebuild_id.eq(rebuild)).filter(ticks::step.eq_any(list))).execute(c)?;
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

/// Ticks everything up to a stage, as found not written down: for the demo, whose rebuilds stand in the middle of their work.
pub(crate) fn catch_up(c: &mut MysqlConnection, who: &Person, rebuild: Id, last: Stage) -> Result<()> {
    let t = trail(c, rebuild)?;
    for s in t.steps.iter().filter(|s| s.stage <= last && !t.ticks.contains_key(&s.id)) {
        if let Some(q) = s.id.strip_prefix("ask.") {
            diesel::insert_into(answers::table)
                .values((
                    answers::rebuild_id.eq(rebuild),
                    answers::question.eq(q),
                    answers::state.eq(AnswerState::CannotTell.key()),
                    answers::value.eq(""),
                    answers::note.eq("not written down when it was taken apart"),
                    answers::person_id.eq(who.id),
                    answers::at.eq(crate::now()),
                ))
                .execute(c)?;
        }
        put(c, rebuild, &s.id, who, if s.people > 1 { "Yuki Halloran" } else { "" })?;
    }
    Ok(())
}
