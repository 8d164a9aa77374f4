//! A bearing seat's own steps as acts of the machine's graph: measured, judged and chosen before anything is heated,
//! cold before it is proved, proved and nipped before it is signed. So nothing is asked for twice and nothing can be
//! signed while what belongs before it is missing.

use super::super::Anatomy;
use super::super::as_found::{Question, closure_of, questions};
use super::super::body::whole;
use super::super::text::Text;
use super::{Act, Before, Law, Phase, Stage, Verb, first_time};
use crate::caution::Caution;
use crate::terms::{ActId, Method, StepKind};
use std::collections::BTreeMap;

/// Steps of all seats, by the id of theirs: the nut only where there is one.
#[must_use]
pub fn steps(anatomy: &Anatomy) -> Vec<(String, StepKind)> {
    anatomy
        .seats
        .iter()
        .flat_map(|s| {
            StepKind::ALL.into_iter().filter(|k| *k != StepKind::Nip || !s.nut.is_empty()).map(|k| (s.id.clone(), k))
        })
        .collect()
}

impl StepKind {
    /// The caution that stands in the step.
    #[must_use]
    pub fn caution(self, method: Option<Method>) -> Option<Caution> {
        match self {
            Self::Journal => Some(Caution::Measuring),
            Self::Heat => Some(Caution::Heater),
            Self::PutOn if matches!(method, Some(Method::Press)) => Some(Caution::Press),
            Self::PutOn if method == Some(Method::WarmHousing) => Some(Caution::Hot),
            Self::PutOn if method.is_some_and(Method::heats) => Some(Caution::HotRing),
            Self::Nip => Some(Caution::Nut),
            _ => None,
        }
    }
}

/// Adds the seats' own steps to the acts of a machine, in their place of the offered order. What the chosen method does
/// not ask for is left out: nothing is heated that is pressed, and nothing waits for cooling then.
///
/// ```
/// # use ironseat_core::anatomy::{Anatomy, acts::with_seats, derive};
/// # let a: Anatomy = serde_json::from_str(r#"{"key":"p","name":"Pump","version":1,
/// #   "lands":[{"id":"body","name":"body","length_mm":60,"d_mm":48},{"id":"j","name":"journal","length_mm":20,"d_mm":40}],
/// #   "parts":[{"id":"b","name":"Bearing","kind":"bearing","land":"j","width_mm":18,"outside_mm":80,"designation":"6208","fit":"shrink","from":"B"}],
/// #   "housings":[{"id":"h","name":"Bracket","outside_mm":120,"material":"grey_iron","from":"B","bores":[{"from_mm":55,"to_mm":85,"d_mm":80}]}],
/// #   "seats":[{"id":"de","name":"Drive end","part":"b","housing":"h","shaft_class":"k6","housing_class":"H7","shaft_material":"carbon_steel",
/// #     "from":"B","against":"the shoulder","depth":{"datum":"the end","expected_mm":2,"tolerance_mm":0.1},"source":"sheet 1"}]}"#).unwrap();
/// let mut acts = derive(&a)?.acts;
/// with_seats(&a, &mut acts, &Default::default());
/// let at = |id: &str| acts.iter().position(|s| s.id == id).unwrap();
/// assert!(at("at.de.journal") < at("at.de.choose") && at("at.de.choose") < at("on.b") && at("on.b") < at("at.de.sign"));
/// assert!(acts[at("on.b")].waits_for("at.de.choose"));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
pub fn with_seats(a: &Anatomy, acts: &mut Vec<Act>, methods: &BTreeMap<String, Method>) {
    let questions = questions(a);
    let mut all: BTreeMap<&str, Vec<StepKind>> = BTreeMap::new();
    let list = steps(a);
    for (seat, kind) in &list {
        all.entry(seat).or_default().push(*kind);
    }
    for s in &a.seats {
        let method = methods.get(&s.id).copied();
        let kinds = all.remove(s.id.as_str()).unwrap_or_default();
        One { seat: &s.id, name: &s.name, part: &s.part, method, acts }.add(&kinds);
        if let Some(q) = questions.iter().find(|q| q.id == closure_of(&s.id)) {
            ask_closure(q, &s.id, acts);
        }
    }
}

/// How the ring is closed is looked at before it is chosen how it goes on: it caps the heat.
fn ask_closure(q: &Question, seat: &str, acts: &mut Vec<Act>) {
    let of = |kind| acts.iter().position(|x| x.seat.as_ref().is_some_and(|x| x.0 == seat && x.1 == kind));
    let (Some(bore), Some(choose)) = (of(StepKind::RingBore), of(StepKind::Choose)) else { return };
    let id = ActId::ask(&q.id).text();
    let why = Text::new("How hot it may get follows from how it is closed");
    acts[choose].before.push(Before { id: id.clone(), law: Law::Contact, words: why });
    let act = Act::new(id, Verb::Ask, Phase::Mount, Stage::Parts, &q.about, q.words.clone()).with("eyes", 1.0);
    acts.insert(bore, act);
}

struct One<'a> {
    seat: &'a str,
    name: &'a str,
    part: &'a str,
    method: Option<Method>,
    acts: &'a mut Vec<Act>,
}

impl One<'_> {
    fn find(&self, kind: StepKind) -> Option<usize> {
        self.acts.iter().position(|s| s.seat.as_ref().is_some_and(|x| x.0 == self.seat && x.1 == kind))
    }

    fn add(mut self, kinds: &[StepKind]) {
        use StepKind as K;
        let cold = self.method.is_some_and(|m| !m.heats());
        if cold && let Some(k) = self.find(K::Heat) {
            self.leave_out(k);
        }
        let heats = self.find(K::Heat).is_some() || self.method.is_some_and(Method::heats);
        let first =
            self.acts.iter().position(|s| s.phase == Phase::Mount && s.stage > Stage::Parts).unwrap_or(self.acts.len());
        for (n, kind) in [K::Journal, K::RingBore, K::HousingBore, K::RingOutside].into_iter().enumerate() {
            self.own(kind, first + n, &[]);
        }
        let on = |me: &Self| me.find(K::PutOn).unwrap_or(me.acts.len());
        if self.find(K::PutOn).is_none() {
            let end = self.before_proof();
            self.own(K::PutOn, end, &[]);
        }
        let at = self.find(K::Heat).map_or_else(|| on(&self), |h| h.min(on(&self)));
        self.own(
            K::Choose,
            at,
            &[
                (K::Journal, "The fit is judged from both surfaces"),
                (K::RingBore, "The fit is judged from both surfaces"),
            ],
        );
        if heats && self.find(K::Heat).is_none() {
            let at = on(&self);
            self.own(K::Heat, at, &[]);
        }
        self.rest(K::Heat, K::Choose, "How hot follows from how it goes on");
        self.rest(K::PutOn, K::Choose, "How it goes on is chosen from the fit");
        if heats {
            self.rest(K::PutOn, K::Heat, "It goes on hot");
        }
        if kinds.contains(&K::Nip) {
            let at = on(&self) + 1;
            self.own(K::Nip, at, &[(K::PutOn, "The nut holds what is on")]);
        }
        if heats {
            let at = self.find(K::Home).filter(|h| *h > on(&self)).unwrap_or_else(|| on(&self) + 1);
            self.own(K::Cool, at, &[(K::PutOn, "It cools on its seat")]);
        }
        let at = self.find(K::Cool).unwrap_or_else(|| on(&self)) + 1;
        self.own(K::Home, at, &[(K::PutOn, "What is on is proved home")]);
        self.rest(K::Home, K::Cool, "A warm ring still moves: it is proved cold");
        let last = [K::PutOn, K::Nip, K::Cool, K::Home]
            .into_iter()
            .filter_map(|k| self.find(k))
            .max()
            .map_or(self.acts.len(), |k| k + 1);
        self.own(
            K::Sign,
            last,
            &[(K::Home, "What is signed is proved home"), (K::Nip, "What is signed is held by its nut")],
        );
        self.rest(K::Sign, K::Cool, "What is signed is cold");
    }

    fn before_proof(&self) -> usize {
        self.acts.iter().position(|s| s.stage == Stage::Prove).unwrap_or(self.acts.len())
    }

    /// An act of the seat's own, unless one of the machine stands for it already; with its reasons.
    fn own(&mut self, kind: StepKind, at: usize, first: &[(StepKind, &str)]) {
        if self.find(kind).is_none() {
            let id = ActId::AtSeat { seat: self.seat.to_owned(), step: kind }.to_string();
            let (verb, stage, tool, minutes) = match kind {
                StepKind::Journal | StepKind::RingOutside => (Verb::Measure, Stage::Parts, "outside micrometer", 8.0),
                StepKind::RingBore | StepKind::HousingBore => (Verb::Measure, Stage::Parts, "bore gauge", 8.0),
                StepKind::Choose => (Verb::Choose, Stage::FitAndMount, "", 2.0),
                StepKind::Heat => (Verb::Heat, Stage::FitAndMount, "induction heater", 10.0),
                StepKind::PutOn => (Verb::Place, Stage::FitAndMount, "hands", 5.0),
                StepKind::Nip => (Verb::Nip, Stage::FitAndMount, "hook wrench", 4.0),
                StepKind::Cool => (Verb::Cool, Stage::FitAndMount, "", 0.0),
                StepKind::Home => (Verb::ProveHome, Stage::FitAndMount, "feelers and depth gauge", 6.0),
                StepKind::Sign => (Verb::Sign, Stage::FitAndMount, "", 1.0),
            };
            let mut act =
                Act::new(id, verb, Phase::Mount, stage, self.part, format!("{}, {}.", kind.name(), self.name))
                    .with(tool, minutes);
            act.seat = Some((self.seat.to_owned(), kind));
            act.caution = kind.caution(self.method);
            if kind == StepKind::Journal {
                act.before = self.off_first();
            }
            self.acts.insert(at.min(self.acts.len()), act);
        }
        for (before, why) in first {
            self.rest(kind, *before, why);
        }
    }

    /// What of the part is still on from before and hides the land under it. What is new is measured on the bench,
    /// whatever is still on.
    fn off_first(&self) -> Vec<Before> {
        let of = |s: &&Act| s.verb == Verb::TakeOff && whole(&s.body) == self.part && first_time(&s.id) == s.id;
        let why = || Text::new("A journal is measured when it is bare");
        self.acts.iter().filter(of).map(|s| Before { id: s.id.clone(), law: Law::Evidence, words: why() }).collect()
    }

    fn rest(&mut self, then: StepKind, first: StepKind, why: &str) {
        let (Some(then), Some(first)) = (self.find(then), self.find(first)) else { return };
        let id = self.acts[first].id.clone();
        if then != first && !self.acts[then].waits_for(&id) {
            self.acts[then].before.push(Before { id, law: Law::Contact, words: Text::new(why) });
        }
    }

    /// Takes an act out; what waited for it waits for what came before it.
    fn leave_out(&mut self, at: usize) {
        let gone = self.acts.remove(at);
        for s in self.acts.iter_mut().filter(|s| s.waits_for(&gone.id)) {
            s.before.retain(|b| b.id != gone.id);
            let more: Vec<Before> = gone.before.iter().filter(|b| !s.waits_for(&b.id)).cloned().collect();
            s.before.extend(more);
        }
    }
}
