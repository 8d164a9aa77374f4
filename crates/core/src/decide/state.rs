//! A rebuild as it stands: what is done, found, waiting and called; and from it what may be done, what is held and why.

use super::step_left::StepLeft;
use super::{AnswerState, Who};
use crate::anatomy::acts::{self, Act, Round, Run, Verb};
use crate::anatomy::as_found::{Ask, Question};
use crate::anatomy::body::whole;
use crate::anatomy::{Anatomy, Cost, MachineType, Measure, PairOf, Part, SeatFacts, facing, older};
use crate::call::{Call, Situation};
use crate::inspect::{Disposition, Fate};
use crate::quantity::{Seconds, Units, show};
use crate::refusal::Result;
use crate::seat::Fit;
use crate::terms::{ActId, End, Method, StepKind, Verdict};
use std::collections::{BTreeMap, BTreeSet, HashMap};
use std::sync::Arc;

/// An act that is done.
#[derive(Debug, Clone, PartialEq, Default)]
#[allow(missing_docs)]
pub struct Done {
    pub by: String,
    pub second: String,
    /// Microseconds since 1970.
    pub at: i64,
    /// What was measured, in the unit of the act.
    pub value: Option<f64>,
    /// Why a number outside its limits may stay.
    pub reason: String,
    /// The single readings that the value was made from, set apart by blanks.
    pub readings: String,
    /// The end that a part with two faces faces now, as somebody said it.
    pub faces: Option<End>,
    /// What a seat's step left: the method, a temperature.
    pub detail: String,
    /// A seat's own step says it; a tick of the trail otherwise.
    pub of_seat: bool,
    /// It was not asked for when the rebuild was worked on: it counts as done with what came after it.
    pub carried: bool,
}

/// What is asked of the facing of a part.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Facing {
    /// The end that it faces by the build sheet, where that says it.
    pub sheet: Option<End>,
    /// One of a pair that carries thrust both ways: it has to be said.
    pub of_pair: bool,
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

/// A repair that voids marks.
#[derive(Debug, Clone, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Repair {
    pub id: String,
    pub part: String,
    pub what: String,
    pub by: String,
    pub at: i64,
}

/// A clock that nobody has ended.
#[derive(Debug, Clone, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Clock {
    /// Of a seat; empty for an act that waits.
    pub seat: String,
    /// `heat`, `cool` or `trail`.
    pub kind: String,
    pub step: String,
    pub label: String,
    /// Microseconds since 1970.
    pub started: i64,
    pub seconds: i64,
}

impl Clock {
    /// Seconds left at a time; 0 when it has run out.
    #[must_use]
    pub fn left(&self, at: i64) -> i64 {
        (self.seconds - (at - self.started).div_euclid(1_000_000)).max(0)
    }
}

/// The calls on a topic of a seat, worst first.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Called {
    pub seat: String,
    pub topic: String,
    pub calls: Vec<Call>,
    pub overruled_by: Option<String>,
    pub overrule_reason: String,
}

impl Called {
    /// The worst verdict.
    #[must_use]
    pub fn verdict(&self) -> Option<Verdict> {
        self.calls.first().map(|c| c.verdict)
    }
    /// It wants a person: not good, not overruled, and not only waiting for the next reading.
    #[must_use]
    pub fn wants_someone(&self) -> bool {
        let waits = |c: &Call| {
            matches!(
                c.situation,
                Situation::FitWaits { .. } | Situation::HomeWaits { .. } | Situation::NothingRead { .. }
            )
        };
        self.overruled_by.is_none() && self.calls.first().is_some_and(|c| c.verdict != Verdict::Go && !waits(c))
    }
}

/// A seat with its fit, for what needs its figures.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Judged {
    pub facts: SeatFacts,
    pub fit: std::result::Result<Fit, Box<Call>>,
}

/// What is on record of a rebuild.
#[derive(Debug, Clone, Default)]
#[allow(missing_docs)]
pub struct Facts {
    /// Ticks of the machine's acts, by id.
    pub ticks: BTreeMap<String, Done>,
    /// Steps of seats that are done.
    pub seat_steps: BTreeMap<(String, StepKind), Done>,
    /// Seats that an apprentice has signed and nobody has counter-signed yet.
    pub half_signed: BTreeMap<String, HalfSigned>,
    pub answers: BTreeMap<String, Answer>,
    pub rounds: Vec<Round>,
    /// Those not taken back, oldest first.
    pub repairs: Vec<Repair>,
    /// Parts that were scrapped by coming off.
    pub scrapped: BTreeSet<String>,
    /// What was said last of each part.
    pub disposed: BTreeMap<String, Disposition>,
    pub clocks: Vec<Clock>,
    pub calls: Vec<Called>,
    pub finished: bool,
    /// Derivation that it was begun under, where that is older than that of today.
    pub derivation: Option<i32>,
}

/// A signature that waits for a second one.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct HalfSigned {
    /// Name of the apprentice.
    pub by: String,
    /// Sign-in name of the apprentice.
    pub person: String,
}

/// A rebuild as it stands at a time.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct State {
    pub kind: Arc<MachineType>,
    /// Every act, the seats' own too, in the offered order.
    pub acts: Arc<Vec<Act>>,
    pub rounds: Arc<Vec<Round>>,
    pub questions: Arc<Vec<Question>>,
    /// By id of the act.
    pub done: Arc<BTreeMap<String, Done>>,
    pub answers: Arc<BTreeMap<String, Answer>>,
    /// Scrapped by coming off again and not replaced since.
    pub scrapped: Arc<BTreeSet<String>>,
    pub repairs: Arc<Vec<Repair>>,
    /// What becomes of each part, as it was said last.
    pub disposed: Arc<BTreeMap<String, Disposition>>,
    pub clocks: Vec<Clock>,
    pub calls: Arc<Vec<Called>>,
    pub finished: bool,
    /// Microseconds since 1970.
    pub now: i64,
    /// The seat that a command needs figures of.
    pub judged: Option<Judged>,
    /// Seats that the sheets of acts ask something of.
    pub seats: Arc<Vec<Judged>>,
    /// Seats that an apprentice has signed and nobody has counter-signed yet.
    pub half_signed: Arc<BTreeMap<String, HalfSigned>>,
    seat_steps: Arc<BTreeMap<(String, StepKind), Done>>,
    /// Acts that follow each other without anything in between.
    runs: Arc<Vec<Run>>,
    index: Arc<HashMap<String, usize>>,
}

/// Stands with an act that counts as done because what comes after it is done.
const NOT_ASKED: &str = "not asked for on its own when it was done";

/// Why an act is held.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Reason {
    /// As a sentence.
    pub words: String,
    /// The act to do first, where there is one.
    pub first: String,
}

/// What an older derivation did not ask for, or by another name, counts as done with what came after it.
fn carry_over(kind: &MachineType, list: &[Act], derivation: i32, done: &mut BTreeMap<String, Done>) {
    let ticked: BTreeSet<String> = done.keys().cloned().collect();
    for now in older::carried(&kind.anatomy, &kind.derived, list, derivation, &ticked) {
        let from = done[&now.from].clone();
        let (value, reason) = match (now.implied, now.number) {
            (true, _) => (None, NOT_ASKED.to_owned()),
            (false, true) => (from.value, from.reason.clone()),
            // The number belongs to the act that asks for one.
            (false, false) => (None, String::new()),
        };
        let d = Done { value, reason, carried: true, faces: None, of_seat: false, ..from };
        done.entry(now.act).or_insert(d);
    }
}

impl State {
    /// From what is on record, at a time in microseconds since 1970.
    #[must_use]
    pub fn new(kind: Arc<MachineType>, facts: Facts, now: i64) -> Self {
        let a = &kind.named;
        let mut list = kind.derived.acts.clone();
        let repaired: Vec<String> = facts.repairs.iter().map(|r| r.part.clone()).collect();
        acts::after_repairs(a, &repaired, &mut list);
        let mut list = facts.rounds.iter().fold(list, |all, r| acts::with_round(a, all, r));
        let gone = facts.disposed.values().filter(|d| d.fate == Fate::Replace);
        let mut later: Vec<acts::Later> = gone.map(|d| acts::new_part(a, &d.part, &d.reason)).collect();
        let told: Vec<String> = later.iter().map(|l| l.question.id.clone()).collect();
        later.extend(
            acts::new_again(a, &facts.scrapped, &facts.rounds).into_iter().filter(|l| !told.contains(&l.question.id)),
        );
        let found = |q: &Question| facts.answers.get(&q.id).filter(|x| x.state == AnswerState::Recorded);
        later.extend(kind.derived.questions.iter().filter_map(|q| acts::differs(a, q, &found(q)?.value)));
        let methods = facts
            .seat_steps
            .iter()
            .filter(|((_, k), _)| *k == StepKind::Choose)
            .filter_map(|((seat, _), d)| Some((seat.clone(), Method::of(&d.detail)?)))
            .collect();
        acts::with_seats(a, &mut list, &methods);
        let mut done = facts.ticks;
        for act in &list {
            let Some((seat, kind)) = &act.seat else { continue };
            let said = kind.said_by().iter().find_map(|k| facts.seat_steps.get(&(seat.clone(), *k)));
            if let Some(d) = said {
                let left = StepLeft::of(&d.detail);
                let of_seat = || Done { of_seat: true, faces: left.faces, reason: left.reason.to_owned(), ..d.clone() };
                done.entry(act.id.clone()).or_insert_with(of_seat);
            }
        }
        let answered = |q: &str| facts.answers.contains_key(q);
        let asked = acts::with_later(a, later, |id| done.contains_key(id), answered, &mut list);
        let rounds = std::iter::once(1).chain(facts.rounds.iter().map(|r| r.n));
        let runs: Vec<Run> = rounds.flat_map(|n| kind.derived.runs.iter().map(move |r| r.in_round(n))).collect();
        // What goes on cold by the chosen method runs into nothing.
        let runs: Vec<Run> =
            runs.into_iter().filter(|r| r.acts.first().is_some_and(|h| list.iter().any(|s| s.id == *h))).collect();
        acts::close_runs(&runs, &mut list);
        if let Some(old) = facts.derivation {
            carry_over(&kind, &list, old, &mut done);
        }
        let mut questions = kind.derived.questions.clone();
        questions.extend(acts::asked_again(a, &repaired));
        questions.extend(asked);
        let scrapped =
            facts.scrapped.into_iter().filter(|p| !done.contains_key(&ActId::On(p.clone()).to_string())).collect();
        let index = list.iter().enumerate().map(|(k, s)| (s.id.clone(), k)).collect();
        Self {
            acts: Arc::new(list),
            rounds: Arc::new(facts.rounds),
            questions: Arc::new(questions),
            done: Arc::new(done),
            answers: Arc::new(facts.answers),
            scrapped: Arc::new(scrapped),
            repairs: Arc::new(facts.repairs),
            disposed: Arc::new(facts.disposed),
            clocks: facts.clocks,
            calls: Arc::new(facts.calls),
            finished: facts.finished,
            now,
            judged: None,
            seats: Arc::default(),
            half_signed: Arc::new(facts.half_signed),
            seat_steps: Arc::new(facts.seat_steps),
            runs: Arc::new(runs),
            index: Arc::new(index),
            kind,
        }
    }

    /// The same records at another time: what does not depend on it is shared.
    #[must_use]
    pub fn at(&self, clocks: Vec<Clock>, finished: bool, now: i64) -> Self {
        Self { clocks, finished, now, judged: None, ..self.clone() }
    }

    /// The machine type as pinned.
    #[must_use]
    pub fn anatomy(&self) -> &Anatomy {
        &self.kind.anatomy
    }
    /// An act by id.
    #[must_use]
    pub fn act(&self, id: &str) -> Option<&Act> {
        self.index.get(id).map(|k| &self.acts[*k])
    }
    /// The act that is a step of a seat; none where the chosen method leaves it out.
    #[must_use]
    pub fn act_of(&self, seat: &str, step: StepKind) -> Option<&Act> {
        self.acts.iter().find(|s| s.seat.as_ref().is_some_and(|x| x.0 == seat && x.1 == step))
    }
    /// Is it done?
    #[must_use]
    pub fn is_done(&self, id: &str) -> bool {
        self.done.contains_key(id)
    }
    /// A step of a seat, where it is done by itself.
    #[must_use]
    pub fn step(&self, seat: &str, step: StepKind) -> Option<&Done> {
        self.seat_steps.get(&(seat.to_owned(), step))
    }
    /// Ids of everything done.
    #[must_use]
    pub fn done_ids(&self) -> BTreeSet<String> {
        self.done.keys().cloned().collect()
    }
    /// The method chosen for a seat.
    #[must_use]
    pub fn method(&self, seat: &str) -> Option<Method> {
        self.step(seat, StepKind::Choose).and_then(|d| Method::of(&d.detail))
    }
    /// The call on a topic of a seat.
    #[must_use]
    pub fn call(&self, seat: &str, topic: &str) -> Option<&Called> {
        self.calls.iter().find(|c| c.seat == seat && c.topic == topic)
    }
    /// Whether a name stands under a seat, an apprentice's alone too: what is read again opens it.
    #[must_use]
    pub fn under_signature(&self, seat: &str) -> bool {
        self.signed(seat) || self.half_signed.contains_key(seat)
    }
    /// What is said where a seat is signed, and whether this person may sign it now.
    #[must_use]
    pub fn signing(&self, seat: &str, who: &Who) -> (String, bool) {
        let own = "Your PIN says that you did this and saw these numbers.";
        match self.half_signed.get(seat) {
            None if who.apprentice => {
                (format!("{own} The seat is done when a second person has counter-signed."), true)
            }
            None => (own.to_owned(), true),
            Some(first) if who.apprentice || first.person == who.person => (
                format!("{} has signed. It is done when somebody who signs alone has counter-signed.", first.by),
                false,
            ),
            Some(first) => (
                format!(
                    "{} has signed as an apprentice. Your PIN says that you saw these numbers and how it was done.",
                    first.by
                ),
                true,
            ),
        }
    }
    /// Whether a seat is signed, and counter-signed where that is needed.
    #[must_use]
    pub fn signed(&self, seat: &str) -> bool {
        self.step(seat, StepKind::Sign).is_some()
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
    /// Limits of an act's number, with what was found where it has to stay near that.
    #[must_use]
    pub fn limits(&self, act: &Act) -> Option<Measure> {
        act.measure.as_ref().map(|m| m.beside_found(self.found(&m.beside).as_deref()))
    }
    /// What is asked of the facing of a part with two faces, at the act that puts it in its place; none where it is the
    /// same both ways.
    #[must_use]
    pub fn facing(&self, act: &Act) -> Option<Facing> {
        let a = self.anatomy();
        let part = a.part(whole(&act.body)).filter(|p| act.verb == Verb::Place && p.kind.has_facing())?;
        let of_pair = a.pairs.iter().any(|p| p.arrangement != "DT" && (p.a == part.id || p.b == part.id));
        let asked = self.questions.iter().any(|q| q.topic.ask() == Ask::Facing && q.about == act.body);
        (of_pair || asked && part.faces.is_some()).then_some(Facing { sheet: part.faces, of_pair })
    }
    /// Which way a part was left facing: the word of whoever put it in, never the build sheet's.
    #[must_use]
    pub fn left_facing(&self, part: &str) -> Option<End> {
        let said =
            self.done.iter().filter(|(id, _)| ActId::of(id).is_some_and(|i| i.puts_on().map(whole) == Some(part)));
        said.max_by_key(|(_, d)| d.at)?.1.faces
    }

    /// The pairs that stand in tandem against their sheet; one ring may be taken as facing an end, the others face as they
    /// were left.
    fn tandems<'a>(&'a self, turned: Option<(&'a str, End)>) -> impl Iterator<Item = &'a PairOf> + 'a {
        let a = self.anatomy();
        let faces = move |part: &str| match turned {
            Some((p, e)) if p == part => Some(e),
            _ => self.left_facing(part).filter(|_| self.fitted().contains(part)),
        };
        let as_left = move |id: &str| a.part(id).and_then(|p| Some(Part { faces: Some(faces(id)?), ..p.clone() }));
        let tandem = move |p: &&PairOf| {
            as_left(&p.a).zip(as_left(&p.b)).is_some_and(|(x, y)| facing::arrangement(a, &x, &y) == Some("DT"))
        };
        a.pairs.iter().filter(|p| p.arrangement != "DT").filter(tandem)
    }
    /// The pair that stands in tandem against its sheet, of those that are asked for; one ring may be taken as facing an
    /// end, the others face as they were left.
    #[must_use]
    pub fn in_tandem<'a>(&'a self, turned: Option<(&'a str, End)>, of: impl Fn(&PairOf) -> bool) -> Option<&'a PairOf> {
        self.tandems(turned).find(|p| of(p))
    }
    /// What the certificate says of pairs that stand in tandem against their sheet.
    #[must_use]
    pub fn tandem_remarks(&self) -> Vec<String> {
        let a = self.anatomy();
        let says = |p: &PairOf| {
            format!(
                "{} and {} stand in tandem, and the build sheet wants {}: nothing takes the thrust the other way.",
                show::capital(a.name_of(&p.a)),
                a.name_of(&p.b),
                facing::shape(&p.arrangement)
            )
        };
        self.tandems(None).map(says).collect()
    }
    /// The pair that an act reads, sets or signs, while it stands in tandem.
    fn tandem_in_the_way(&self, act: &Act) -> Option<&PairOf> {
        let signs = |p: &PairOf| {
            let seat = act.seat.as_ref().and_then(|x| self.anatomy().seat(&x.0));
            seat.is_some_and(|s| s.part == p.a || s.part == p.b)
        };
        self.in_tandem(None, |p| match act.verb {
            Verb::Preload | Verb::Drag => act.body == p.a,
            Verb::Measure => p.spacers.contains(&act.body),
            Verb::Sign => signs(p),
            Verb::Prove => act.body.is_empty(),
            _ => false,
        })
    }

    /// The clock that an act itself waits on: a ring on the heater, a ring that cools, a pressure that is held.
    #[must_use]
    pub fn clock(&self, act: &Act) -> Option<&Clock> {
        let of_seat = |k: &Clock| match &act.seat {
            Some((seat, StepKind::Heat)) => k.seat == *seat && k.kind == "heat",
            Some((seat, StepKind::Cool)) => k.seat == *seat && k.kind == "cool",
            _ => false,
        };
        self.clocks.iter().find(|k| if k.step.is_empty() { of_seat(k) } else { k.step == act.id })
    }
    /// It waits for its own clock just now, and hands are free for something else.
    #[must_use]
    pub fn busy(&self, act: &Act) -> bool {
        self.clock(act).is_some_and(|k| k.left(self.now) > 0)
    }
    /// A clock that still runs after an act that is done: nothing that rests on it can be done.
    #[must_use]
    pub fn waiting(&self, id: &str) -> Option<&Clock> {
        let seat = self.act(id).and_then(|s| s.seat.as_ref()).filter(|s| s.1 == StepKind::PutOn).map(|s| s.0.as_str());
        let of = |k: &&Clock| {
            if k.step.is_empty() { k.kind == "cool" && seat == Some(k.seat.as_str()) } else { k.step == id }
        };
        self.clocks.iter().find(|k| of(k) && k.left(self.now) > 0)
    }
    /// Clocks that run after something that an act rests on, directly or not, with the act that they run after: until
    /// then nothing rests on it but what holds it home.
    fn waits_above(&self, act: &Act) -> Vec<(String, &Clock)> {
        let cools_itself = act.seat.as_ref().is_some_and(|x| x.1 == StepKind::Cool);
        if cools_itself || self.clocks.iter().all(|k| k.left(self.now) == 0) {
            return Vec::new();
        }
        let mut seen = BTreeSet::new();
        let mut open: Vec<&str> = act.before.iter().map(|b| b.id.as_str()).collect();
        let mut out = Vec::new();
        while let Some(id) = open.pop() {
            let Some(first) = self.act(id).filter(|_| seen.insert(id)) else { continue };
            if let Some(k) = self.waiting(id).filter(|_| !acts::while_cooling(self.anatomy(), act, first)) {
                out.push((id.to_owned(), k));
            }
            open.extend(first.before.iter().map(|b| b.id.as_str()));
        }
        out
    }

    /// What is hot and not held yet, and the act that comes next for it, while another one would take hold of something.
    fn left_alone(&self, act: &Act) -> Option<(&Run, &Act)> {
        let (run, next) = acts::left_alone(&self.runs, act, |id| self.is_done(id))?;
        Some((run, self.act(next)?))
    }
    /// The isolation, while it is open and this is another act: nothing else is in hand before.
    fn unsafe_yet(&self, act: &Act) -> Option<&Act> {
        self.acts.iter().find(|s| s.verb == Verb::Isolate && s.id != act.id && !self.is_done(&s.id))
    }
    /// The call that holds an act of a seat until it is mended or overruled, and the act whose call it is.
    fn call_in_the_way(&self, act: &Act) -> Option<(&Called, String)> {
        let (seat, kind) = act.seat.as_ref()?;
        let open = |c: &&Called| c.verdict().is_some_and(|v| v != Verdict::Go) && c.overruled_by.is_none();
        let sheets = act.before.iter().filter_map(|b| self.act(&b.id)?.seat.as_ref()).filter(|x| x.0 == *seat);
        let of_sheet = sheets
            .filter_map(|x| self.call(seat, x.1.sheet()?.key()).filter(open).map(|c| (c, x.1.name().to_owned())))
            .next();
        let of_fit = || {
            let c = self.call(seat, "fit").filter(|_| matches!(kind, StepKind::Heat | StepKind::PutOn))?;
            (c.verdict() == Some(Verdict::Stop) && c.overruled_by.is_none()).then(|| (c, "the fit".to_owned()))
        };
        of_sheet.or_else(of_fit)
    }

    /// What becomes of a part is said at its look, while it is off; none for what is on, or is no part.
    #[must_use]
    pub fn looked_at(&self, act: &Act) -> Option<String> {
        let Some(ActId::Look(part)) = ActId::of(&act.id).map(|i| i.first_time().clone()) else { return None };
        let a = self.anatomy();
        let known = a.part(&part).is_some() || a.housings.iter().any(|h| h.id == part);
        (known && !self.fitted().contains(&part)).then_some(part)
    }
    /// What was said of a part that this act puts on, when that keeps it off.
    fn kept_off(&self, act: &Act) -> Option<&Disposition> {
        let id = ActId::of(&act.id)?;
        let goes_on = |x: &&(String, StepKind)| matches!(x.1, StepKind::PutOn | StepKind::Heat);
        let of_seat = act.seat.as_ref().filter(goes_on).and_then(|x| self.anatomy().seat(&x.0));
        // A ring of a bearing that comes apart is a piece of the part that was looked at.
        let heats = match id.first_time() {
            ActId::Heat(body) => Some(body.as_str()),
            _ => None,
        };
        let part = of_seat.map(|x| x.part.as_str()).or_else(|| id.puts_on().or(heats).map(whole))?;
        self.disposed.get(part).filter(|d| d.fate.holds())
    }

    /// Whether an act can be done now: what it rests on is done and no longer waits, and no call stands in its way.
    #[must_use]
    pub fn free(&self, act: &Act) -> bool {
        self.unsafe_yet(act).is_none()
            && act.before.iter().all(|b| self.is_done(&b.id))
            && self.waits_above(act).is_empty()
            && self.call_in_the_way(act).is_none()
            && self.kept_off(act).is_none()
            && self.tandem_in_the_way(act).is_none()
            && self.left_alone(act).is_none()
    }
    /// Everything that holds an act: empty when it may be done.
    #[must_use]
    pub fn reasons(&self, act: &Act, units: Units) -> Vec<Reason> {
        let full = |w: String| if w.ends_with(['.', '?', '!']) { w } else { format!("{w}.") };
        if let Some(first) = self.unsafe_yet(act) {
            return vec![Reason { words: full(first.words.say(units)), first: first.id.clone() }];
        }
        let missing = act.before.iter().filter(|b| !self.is_done(&b.id)).filter_map(|b| Some((self.act(&b.id)?, b)));
        let missing = missing.map(|(first, b)| Reason {
            words: format!("{} {}", full(first.words.say(units)), full(b.words.say(units))),
            first: first.id.clone(),
        });
        let waits = self.waits_above(act).into_iter().map(|(first, k)| Reason {
            words: format!("{}: {} left.", k.label, show::clock(Seconds(k.left(self.now) as f64))),
            first,
        });
        let called = self.call_in_the_way(act).map(|(c, name)| {
            let word = c.verdict().map_or("", Verdict::word).to_lowercase();
            let first = act.seat.as_ref().and_then(|(seat, _)| {
                let kind = SHEETS_AND_FIT.into_iter().find(|k| k.topic() == c.topic)?;
                self.act_of(seat, kind).map(|s| s.id.clone())
            });
            let words = format!("The call on {} is {word}: mend it, or overrule it with a reason.", quoted(&name));
            Reason { words, first: first.unwrap_or_default() }
        });
        let off = self.kept_off(act).map(|d| Reason {
            words: format!(
                "{} was looked at and is to be {}: {}. Say what became of it.",
                self.anatomy().name_of(&d.part),
                if d.fate == Fate::Refer { "referred" } else { "repaired" },
                d.reason.trim_end_matches('.')
            ),
            first: ActId::Look(d.part.clone()).to_string(),
        });
        let alone = self.left_alone(act).map(|(run, next)| Reason {
            words: format!(
                "{} is hot and nothing holds it yet: {}",
                crate::quantity::show::capital(self.anatomy().name_of(whole(&run.body))),
                next.words.say(units)
            ),
            first: next.id.clone(),
        });
        let tandem = self
            .tandem_in_the_way(act)
            .map(|p| Reason { words: tandem_words(self.anatomy(), p), first: ActId::on(&p.b).text() });
        missing.chain(waits).chain(called).chain(off).chain(alone).chain(tandem).collect()
    }
    /// Why an act is held, as one sentence; none when it may be done.
    #[must_use]
    pub fn held(&self, act: &Act, units: Units) -> Option<String> {
        let all = self.reasons(act, units);
        (!all.is_empty()).then(|| {
            let list: Vec<&str> = all.iter().map(|r| r.words.as_str()).collect();
            format!("first: {}", list.join(" ").trim_end_matches('.'))
        })
    }
    /// What leads to a held act and can be done now: the nearest in the offered order.
    #[must_use]
    pub fn way_to(&self, act: &Act) -> Option<&Act> {
        let mut open = vec![act];
        let mut seen = BTreeSet::from([act.id.as_str()]);
        let mut best: Option<usize> = None;
        if let Some(first) = self.unsafe_yet(act) {
            return Some(first);
        }
        // What is hot is held first: its own next act waits for nothing but itself.
        if let Some((_, next)) = self.left_alone(act) {
            return if self.free(next) { Some(next) } else { self.way_to(next) };
        }
        while let Some(s) = open.pop() {
            for b in s.before.iter().filter(|b| !self.is_done(&b.id)) {
                let Some(k) = self.index.get(&b.id).copied().filter(|k| seen.insert(self.acts[*k].id.as_str())) else {
                    continue;
                };
                if self.free(&self.acts[k]) {
                    best = Some(best.map_or(k, |n: usize| n.min(k)));
                    continue;
                }
                if let Some(next) = self.left_alone(&self.acts[k]).and_then(|(_, n)| self.index.get(&n.id).copied()) {
                    let next = Some(next).filter(|n| self.free(&self.acts[*n]));
                    best = [best, next].into_iter().flatten().min();
                }
                open.push(&self.acts[k]);
            }
        }
        best.map(|k| &self.acts[k])
    }

    /// May it be left out? The drawing's limits stand in then.
    #[must_use]
    pub fn optional(act: &Act) -> bool {
        act.seat.as_ref().is_some_and(|x| x.1.optional())
    }
    /// Open acts that can be done now, but for the one named and for what waits on its own clock.
    #[must_use]
    pub fn meanwhile(&self, without: &str) -> Vec<&Act> {
        self.acts.iter().filter(|s| s.id != without && !self.is_done(&s.id) && self.free(s) && !self.busy(s)).collect()
    }
    /// The act in hand: the first that is open and free and wants hands; else what waits on its clock; else the first
    /// that is open. None when everything is done.
    #[must_use]
    pub fn in_hand(&self) -> Option<&Act> {
        let open = || self.acts.iter().filter(|s| !self.is_done(&s.id) && !Self::optional(s));
        open()
            .find(|s| self.free(s) && !self.busy(s))
            .or_else(|| open().find(|s| self.free(s)))
            .or_else(|| open().next())
    }
    /// (done, all) of what counts: what may be left out does not.
    #[must_use]
    pub fn progress(&self) -> (usize, usize) {
        let counted = || self.acts.iter().filter(|s| !Self::optional(s));
        (counted().filter(|s| self.is_done(&s.id)).count(), counted().count())
    }
    /// Parts and housings that are on the machine.
    #[must_use]
    pub fn fitted(&self) -> BTreeSet<String> {
        acts::fitted(self.anatomy(), &self.kind.derived.bodies, &self.done_ids(), &self.rounds)
    }
    /// Bodies that were put on, in the order in which they went on.
    #[must_use]
    pub fn on(&self) -> Vec<String> {
        let ids = self.done.iter().filter_map(|(id, d)| Some((d.at, ActId::of(id)?.puts_on()?.to_owned())));
        let mut list: Vec<(i64, String)> = ids.collect();
        list.sort();
        let (mut seen, done) = (BTreeSet::new(), self.done_ids());
        list.into_iter()
            .map(|x| x.1)
            .filter(|id| seen.insert(id.clone()) && !acts::out_again(&self.rounds, &done, id))
            .collect()
    }
    /// What has to come off so that a part can go on or be got at.
    ///
    /// # Errors
    /// `part` when it is not there.
    pub fn cost(&self, part: &str) -> Result<Cost> {
        let on = self.on();
        let ids: Vec<&str> = on.iter().map(String::as_str).collect();
        let d = &self.kind.derived;
        // Asked of a part that is on, it comes off itself, too.
        let itself = d
            .bodies
            .pieces_of(part)
            .into_iter()
            .map(|i| d.bodies.list[i].id.clone())
            .filter(|id| ids.contains(&id.as_str()));
        let itself: Vec<String> = itself.collect();
        let mut cost = d.back_out(self.anatomy(), &ids, part)?;
        for id in itself {
            d.add_price(self.anatomy(), &id, &mut cost);
            cost.off.push(id);
        }
        Ok(cost)
    }
    /// A done act that rests on this one.
    #[must_use]
    pub fn resting_on(&self, id: &str) -> Option<&Act> {
        self.acts.iter().find(|s| self.is_done(&s.id) && s.waits_for(id))
    }
}

const SHEETS_AND_FIT: [StepKind; 6] = [
    StepKind::Journal,
    StepKind::RingBore,
    StepKind::HousingBore,
    StepKind::RingOutside,
    StepKind::Home,
    StepKind::Choose,
];

/// Why a pair that has become tandem goes no further.
pub(super) fn tandem_words(a: &Anatomy, p: &PairOf) -> String {
    format!(
        "{} and {} would stand in tandem, and the sheet wants {}: nothing takes the thrust the other way. Turn one of them round.",
        crate::quantity::show::capital(a.name_of(&p.a)),
        a.name_of(&p.b),
        facing::shape(&p.arrangement)
    )
}

fn quoted(name: &str) -> String {
    if name.starts_with("the ") { name.to_owned() } else { format!("“{name}”") }
}
