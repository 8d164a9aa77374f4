//! The derived trail of a rebuild as it stands: what is ticked, what was found, what waits. The steps follow from the pinned
//! anatomy and are never stored.

use crate::pictures::Picture;
use crate::rebuilds::{self, Clock, Rebuild};
use crate::schema::{answers, people, repairs, rounds, scrapped, steps as seat_steps, ticks};
use crate::{Id, Result};
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::anatomy::acts::{self, Act, Before, Round, SeatAct, Verb};
use ironseat_core::anatomy::as_found::{Ask, Question};
use ironseat_core::anatomy::{Cost, Derived, End, Measure, derive};
use ironseat_core::quantity::{Seconds, Units, show};
use ironseat_core::trail::StepKind;
use std::collections::{BTreeMap, BTreeSet};

/// A step that is done.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Tick {
    pub by: String,
    pub second: String,
    pub at: NaiveDateTime,
    /// What was measured, in the unit of the step.
    pub value: Option<f64>,
    /// Why a number outside its limits may stay.
    pub reason: String,
    /// The single readings that the value was made from, set apart by blanks.
    pub readings: String,
    /// The end that a part with two faces faces now, as somebody said it.
    pub faces: Option<End>,
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
    pub steps: Vec<Act>,
    /// Rounds that readings outside their limits opened.
    pub rounds: Vec<Round>,
    pub questions: Vec<Question>,
    pub ticks: BTreeMap<String, Tick>,
    pub answers: BTreeMap<String, Answer>,
    /// Parts scrapped by coming off again and not replaced since.
    pub scrapped: BTreeSet<String>,
    /// Repairs after which marks are void, oldest first.
    pub repairs: Vec<Repair>,
    /// Pictures by question.
    pub pictures: BTreeMap<String, Vec<Picture>>,
    /// Clocks of this rebuild that run or have run out and were not ended.
    pub clocks: Vec<Clock>,
    /// Steps of the bearing seats on their own sheets, and whether they are done.
    pub seats: BTreeMap<String, Vec<(StepKind, bool)>>,
}

/// A repair that voids marks.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Repair {
    pub id: Id,
    pub part: String,
    pub what: String,
    pub by: String,
    pub at: NaiveDateTime,
}

impl Trail {
    /// Ids of the steps that are done.
    #[must_use]
    pub fn done(&self) -> BTreeSet<String> {
        self.ticks.keys().cloned().collect()
    }
    /// A step by id.
    #[must_use]
    pub fn step(&self, id: &str) -> Option<&Act> {
        self.steps.iter().find(|s| s.id == id)
    }
    /// A clock that still runs for a step: nothing that rests on it can be done.
    #[must_use]
    pub fn waiting(&self, step: &str) -> Option<&Clock> {
        let now = crate::now();
        // A ring that is on its seat cools by the clock of the seat's own sheets.
        let seat = self.step(step).and_then(|s| s.seat.as_ref()).filter(|s| s.1 == SeatAct::PutOn).map(|s| s.0.as_str());
        let of = |k: &&Clock| if k.step.is_empty() { k.kind == "cool" && seat == Some(k.seat.as_str()) } else { k.step == step };
        self.clocks.iter().find(|k| of(k) && k.left(now) > 0)
    }
    /// Whether a step can be done now: what it rests on is done and no longer waits.
    #[must_use]
    pub fn free(&self, step: &Act) -> bool {
        self.unsafe_yet(step).is_none()
            && step.before.iter().all(|b| self.ticks.contains_key(&b.id) && (self.waiting(&b.id).is_none() || self.hot_ok(step, b)))
    }
    /// The isolation, while it is open and this is another step.
    fn unsafe_yet(&self, step: &Act) -> Option<&Act> {
        self.steps.iter().find(|s| s.verb == Verb::Isolate).filter(|s| s.id != step.id && !self.ticks.contains_key(&s.id))
    }
    /// Steps that are open and free, but for those named.
    #[must_use]
    pub fn meanwhile(&self, without: &str) -> Vec<&Act> {
        self.steps.iter().filter(|s| s.id != without && !self.ticks.contains_key(&s.id) && self.free(s)).collect()
    }
    /// A question by id, those that are asked again after a repair too.
    #[must_use]
    pub fn question(&self, id: &str) -> Option<&Question> {
        self.questions.iter().find(|q| q.id == id)
    }
    /// Numbers of what was found, in the question's unit.
    #[must_use]
    pub fn found(&self, question: &str) -> Option<Vec<f64>> {
        let a = self.answers.get(question).filter(|a| a.state == AnswerState::Recorded)?;
        let read = self.question(question)?.read(&a.value, Units::Metric).ok()?;
        (!read.is_empty()).then_some(read)
    }
    fn hot_ok(&self, step: &Act, before: &Before) -> bool {
        self.step(&before.id).is_some_and(|first| acts::while_cooling(&self.rebuild.anatomy, step, first))
    }
    /// Everything that holds a step, each with its reason: empty when it may be done.
    #[must_use]
    pub fn reasons(&self, step: &Act, units: Units) -> Vec<String> {
        if let Some(first) = self.unsafe_yet(step) {
            return vec![first.words.say(units)];
        }
        let missing = acts::missing(&self.steps, &self.done(), &step.id);
        let waits = step.before.iter().filter(|b| !self.hot_ok(step, b)).filter_map(|b| self.waiting(&b.id));
        missing
            .into_iter()
            .map(|(act, b)| {
                let first = act.words.say(units);
                let stop = if first.ends_with(['.', '?']) { "" } else { "." };
                format!("{first}{stop} {}.", b.words.say(units).trim_end_matches('.'))
            })
            .chain(waits.map(|k| format!("{}: {} left.", k.label, show::clock(Seconds::of(k.left(crate::now()) as f64)))))
            .collect()
    }
    /// Why a step is held, as one sentence; none when it may be done.
    #[must_use]
    pub fn held(&self, step: &Act, units: Units) -> Option<String> {
        let all = self.reasons(step, units);
        (!all.is_empty()).then(|| format!("first: {}", all.join(" ").trim_end_matches('.')))
    }
    /// Limits of a step's number, with what was found where it has to stay near that.
    #[must_use]
    pub fn limits(&self, step: &Act) -> Option<Measure> {
        step.measure.as_ref().map(|m| m.beside_found(self.found(&m.beside).as_deref()))
    }
    /// The end that a part with two faces looks at by the build sheet, at the act that puts it in its place.
    #[must_use]
    pub fn facing(&self, step: &Act) -> Option<End> {
        let faces = self.rebuild.anatomy.part(&step.body).and_then(|p| p.faces).filter(|_| step.verb == Verb::Place);
        faces.filter(|_| self.questions.iter().any(|q| q.ask == Ask::Facing && q.about == step.body))
    }
    /// Which way a part was left facing: the word of whoever put it in, never the build sheet's.
    #[must_use]
    pub fn left_facing(&self, part: &str) -> Option<End> {
        let said = self.ticks.iter().filter(|(id, _)| acts::first_time(id).strip_prefix("on.") == Some(part));
        said.max_by_key(|(_, t)| t.at)?.1.faces
    }
    /// Whether a seat's own sheets are signed.
    #[must_use]
    pub fn signed(&self, seat: &str) -> bool {
        self.seats.get(seat).is_some_and(|l| l.iter().any(|(k, done)| *k == StepKind::Sign && *done))
    }
    /// The step in hand: the first that is open and not held.
    #[must_use]
    pub fn in_hand(&self) -> Option<&Act> {
        self.steps.iter().find(|s| !self.ticks.contains_key(&s.id) && self.free(s))
    }
    /// Parts and housings that are on, in the order in which they went on.
    #[must_use]
    pub fn on(&self) -> Vec<String> {
        let mut list: Vec<(&NaiveDateTime, &str)> =
            self.ticks.iter().filter_map(|(id, t)| Some((&t.at, acts::first_time(id).strip_prefix("on.")?))).collect();
        list.sort();
        let (mut seen, done) = (BTreeSet::new(), self.done());
        list.into_iter()
            .filter(|(_, id)| seen.insert(*id) && !acts::out_again(&self.rounds, &done, id))
            .map(|(_, id)| id.to_owned())
            .collect()
    }
}

/// Reads the trail of a rebuild.
///
/// # Errors
/// Not found; an anatomy that cannot be built.
pub fn trail(c: &mut MysqlConnection, id: Id) -> Result<Trail> {
    let rebuild = rebuilds::get(c, id)?;
    let derived = derive(&rebuild.anatomy)?;
    let mut all = derived.acts.clone();
    let rows: Vec<(Id, String, String, String, NaiveDateTime)> = repairs::table
        .inner_join(people::table)
        .filter(repairs::rebuild_id.eq(id))
        .filter(repairs::taken_back_at.is_null())
        .order(repairs::at)
        .select((repairs::id, repairs::part, repairs::what, people::name, repairs::at))
        .load(c)?;
    let repairs: Vec<Repair> = rows.into_iter().map(|(id, part, what, by, at)| Repair { id, part, what, by, at }).collect();
    let repaired: Vec<String> = repairs.iter().map(|r| r.part.clone()).collect();
    acts::after_repairs(&rebuild.anatomy, &repaired, &mut all);
    let documents: Vec<String> = rounds::table.filter(rounds::rebuild_id.eq(id)).order(rounds::n).select(rounds::document).load(c)?;
    let rounds: Vec<Round> = documents.iter().map(|d| serde_json::from_str(d)).collect::<std::result::Result<_, _>>()?;
    for r in &rounds {
        all = acts::with_round(&rebuild.anatomy, all, r);
    }
    type TickRow = (String, String, String, NaiveDateTime, Option<f64>, String, String, String);
    let rows: Vec<TickRow> = ticks::table
        .inner_join(people::table)
        .filter(ticks::rebuild_id.eq(id))
        .select((ticks::step, people::name, ticks::second_name, ticks::at, ticks::value, ticks::reason, ticks::readings, ticks::faces))
        .load(c)?;
    let mut done: BTreeMap<String, Tick> = rows
        .into_iter()
        .map(|(s, by, second, at, value, reason, readings, faces)| {
            (s, Tick { by, second, at, value, reason, readings, faces: End::of(&faces), by_sheets: false })
        })
        .collect();
    // A seat's own sheets say that its ring is hot, is on, is home.
    let rows: Vec<(String, String, bool, Option<NaiveDateTime>)> = seat_steps::table
        .filter(seat_steps::rebuild_id.eq(id))
        .order(seat_steps::position)
        .select((seat_steps::seat, seat_steps::kind, seat_steps::done, seat_steps::done_at))
        .load(c)?;
    let mut seats: BTreeMap<String, Vec<(StepKind, bool)>> = BTreeMap::new();
    let mut times: BTreeMap<(String, &'static str), NaiveDateTime> = BTreeMap::new();
    for (seat, kind, done, at) in rows {
        let Some(kind) = StepKind::of(&kind) else { continue };
        if done {
            times.insert((seat.clone(), kind.key()), at.unwrap_or_else(crate::now));
        }
        seats.entry(seat).or_default().push((kind, done));
    }
    for s in &all {
        let Some((seat, act)) = &s.seat else { continue };
        let Some(at) = act.said_by().iter().find_map(|k| times.get(&(seat.clone(), k.key()))) else { continue };
        let tick = Tick {
            by: "its own sheets".into(),
            second: String::new(),
            at: *at,
            value: None,
            reason: String::new(),
            readings: String::new(),
            faces: None,
            by_sheets: true,
        };
        done.entry(s.id.clone()).or_insert(tick);
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
    let mut questions = derived.questions.clone();
    questions.extend(acts::asked_again(&rebuild.anatomy, &repaired));
    let (pictures, clocks) = (crate::pictures::of_rebuild(c, id)?, rebuilds::clocks_of(c, id)?);
    Ok(Trail { derived, steps: all, rounds, questions, ticks: done, answers: found, scrapped, repairs, pictures, clocks, seats, rebuild })
}

/// What has to come off so that a part can go on or be got at.
///
/// # Errors
/// `part` when it is not there.
pub fn cost(t: &Trail, part: &str) -> Result<Cost> {
    let on = t.on();
    let ids: Vec<&str> = on.iter().map(String::as_str).collect();
    // Asked of a part that is on, it comes off itself, too.
    let itself =
        t.derived.bodies.pieces_of(part).into_iter().map(|i| t.derived.bodies.list[i].id.clone()).filter(|id| ids.contains(&id.as_str()));
    let itself: Vec<String> = itself.collect();
    let mut cost = t.derived.back_out(&t.rebuild.anatomy, &ids, part)?;
    for id in itself {
        t.derived.add_price(&t.rebuild.anatomy, &id, &mut cost);
        cost.off.push(id);
    }
    Ok(cost)
}
