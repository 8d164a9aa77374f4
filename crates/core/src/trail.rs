//! The trail of a seat: its steps, what each asks for, and what holds one.

use crate::anatomy::acts::SeatAct;
use crate::anatomy::{Anatomy, SeatFacts};
use crate::call::{Method, Verdict, Which};
use crate::caution::Caution;
use crate::quantity::show::capital;
use crate::quantity::{Units, show};
use crate::sheet::SheetKind;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Kind of a step.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum StepKind {
    Journal,
    RingBore,
    HousingBore,
    RingOutside,
    Choose,
    Heat,
    PutOn,
    Cool,
    Home,
    Nip,
    Sign,
}

impl StepKind {
    /// In the order of the work.
    pub const ALL: [Self; 11] = [
        Self::Journal,
        Self::RingBore,
        Self::HousingBore,
        Self::RingOutside,
        Self::Choose,
        Self::Heat,
        Self::PutOn,
        Self::Nip,
        Self::Cool,
        Self::Home,
        Self::Sign,
    ];

    /// Name in records.
    #[must_use]
    pub fn key(self) -> &'static str {
        match self {
            Self::Journal => "journal",
            Self::RingBore => "ring_bore",
            Self::HousingBore => "housing_bore",
            Self::RingOutside => "ring_outside",
            Self::Choose => "choose",
            Self::Heat => "heat",
            Self::PutOn => "put_on",
            Self::Cool => "cool",
            Self::Home => "home",
            Self::Nip => "nip",
            Self::Sign => "sign",
        }
    }
    /// From its name in records.
    #[must_use]
    pub fn of(key: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|k| k.key() == key)
    }

    /// The sheet it fills, if it does.
    #[must_use]
    pub fn sheet(self) -> Option<SheetKind> {
        Some(match self {
            Self::Journal => SheetKind::Grid(Which::Journal),
            Self::RingBore => SheetKind::Grid(Which::RingBore),
            Self::HousingBore => SheetKind::Grid(Which::HousingBore),
            Self::RingOutside => SheetKind::Grid(Which::RingOutside),
            Self::Home => SheetKind::Home,
            _ => return None,
        })
    }
    /// May be left out: the drawing's limits stand in.
    #[must_use]
    pub fn optional(self) -> bool {
        matches!(self, Self::HousingBore | Self::RingOutside)
    }

    /// Does it belong to the chosen method? Before the choice everything does.
    #[must_use]
    pub fn belongs(self, method: Option<Method>) -> bool {
        match (self, method) {
            (Self::Heat | Self::Cool, Some(m)) => m.heats(),
            _ => true,
        }
    }
    /// The caution that stands in the step.
    #[must_use]
    pub fn caution(self, method: Option<Method>) -> Option<Caution> {
        match self {
            Self::Journal => Some(Caution::Measuring),
            Self::Heat => Some(Caution::Heater),
            Self::PutOn if method == Some(Method::Press) => Some(Caution::Press),
            Self::PutOn if method.is_some_and(Method::heats) => Some(Caution::HotRing),
            Self::Nip => Some(Caution::Nut),
            _ => None,
        }
    }
    /// Stage of the work (handbook 01) it stands in.
    #[must_use]
    pub fn stage(self) -> &'static str {
        match self {
            Self::Journal | Self::RingBore | Self::HousingBore | Self::RingOutside => "inspect",
            Self::Choose | Self::Heat | Self::PutOn | Self::Nip | Self::Cool | Self::Home => "fit and mount",
            Self::Sign => "record",
        }
    }
}

impl SeatAct {
    /// The step of the sheets that is this act.
    #[must_use]
    pub fn step(self) -> StepKind {
        match self {
            Self::Heat => StepKind::Heat,
            Self::PutOn => StepKind::PutOn,
            Self::Nip => StepKind::Nip,
            Self::Home => StepKind::Home,
        }
    }
    /// Steps that say that it is done: what is on was hot, or was put on without heat.
    #[must_use]
    pub fn said_by(self) -> &'static [StepKind] {
        match self {
            Self::Heat => &[StepKind::Heat, StepKind::PutOn],
            Self::PutOn => &[StepKind::PutOn, StepKind::Sign],
            Self::Nip => &[StepKind::Nip],
            Self::Home => &[StepKind::Home, StepKind::Sign],
        }
    }
}

/// Steps of one seat: the nut only where there is one.
#[must_use]
pub fn steps(anatomy: &Anatomy) -> Vec<(String, StepKind)> {
    anatomy
        .seats
        .iter()
        .flat_map(|s| StepKind::ALL.into_iter().filter(|k| *k != StepKind::Nip || !s.nut.is_empty()).map(|k| (s.id.clone(), k)))
        .collect()
}

/// Where a step stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, Default)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum StepState {
    #[default]
    Open,
    Done,
}

/// One step as far as holding goes.
#[derive(Debug, Clone, PartialEq)]
pub struct Standing {
    /// Which.
    pub kind: StepKind,
    /// Done or open.
    pub state: StepState,
    /// The call of its sheet, if it has one.
    pub verdict: Option<Verdict>,
    /// A person overruled that call.
    pub overruled: bool,
}

/// What may be done next and what is held, for one seat.
#[derive(Debug, Clone, PartialEq)]
pub struct SeatTrail {
    /// All steps of the seat.
    pub steps: Vec<Standing>,
    /// The chosen method.
    pub method: Option<Method>,
    /// A clock of the cooling step is still running.
    pub cooling: bool,
    /// A clock of the heating step is still running.
    pub heating: bool,
    /// Verdict of the fit as a whole, and whether it was overruled.
    pub fit: Option<(Verdict, bool)>,
    /// What the rest of the machine still wants before a step, as the words of the first act and how many more there are.
    pub machine: BTreeMap<StepKind, (String, usize)>,
}

impl SeatTrail {
    fn get(&self, kind: StepKind) -> Option<&Standing> {
        self.steps.iter().find(|s| s.kind == kind)
    }
    fn done(&self, kind: StepKind) -> bool {
        !kind.belongs(self.method) || self.get(kind).is_none_or(|s| s.state == StepState::Done)
    }

    /// Steps that must be done before this one.
    #[must_use]
    pub fn before(kind: StepKind) -> &'static [StepKind] {
        use StepKind as K;
        match kind {
            K::Journal | K::RingBore | K::HousingBore | K::RingOutside => &[],
            K::Choose => &[K::Journal, K::RingBore],
            K::Heat => &[K::Choose],
            K::PutOn => &[K::Choose, K::Heat],
            K::Cool => &[K::PutOn],
            K::Nip => &[K::PutOn],
            K::Home => &[K::PutOn, K::Cool],
            K::Sign => &[K::Home, K::Nip],
        }
    }

    /// Why a step is held, as a sentence; none when it may be done.
    #[must_use]
    pub fn held(&self, kind: StepKind) -> Option<String> {
        if !kind.belongs(self.method) {
            return Some("not needed with the chosen method".into());
        }
        if let Some(missing) = Self::before(kind).iter().find(|k| !self.done(**k)) {
            return Some(match missing {
                StepKind::Journal => "the journal is not measured yet".into(),
                StepKind::RingBore => "the ring bore is not measured yet".into(),
                StepKind::Choose => "no method is chosen yet".into(),
                StepKind::Heat => "the ring is not hot yet".into(),
                StepKind::PutOn => "the ring is not on yet".into(),
                StepKind::Cool => "the ring is still warm".into(),
                StepKind::Home => "the ring is not proved home".into(),
                StepKind::Nip => "the nut is not nipped".into(),
                _ => "a step before it is open".into(),
            });
        }
        for k in Self::before(kind) {
            if let Some(s) = self.get(*k).filter(|s| s.verdict.is_some_and(|v| v != Verdict::Go) && !s.overruled) {
                let word = s.verdict.map_or("", Verdict::word).to_lowercase();
                return Some(format!("the call on “{}” is {word}: mend it, or overrule it with a reason", name(s.kind)));
            }
        }
        if matches!(kind, StepKind::Heat | StepKind::PutOn) && self.fit.is_some_and(|(v, overruled)| v == Verdict::Stop && !overruled) {
            return Some("the call on the fit is stop: mend it, or overrule it with a reason".into());
        }
        self.machine.get(&kind).map(|(words, more)| {
            let first = words.trim_end_matches('.');
            match more {
                0 => format!("first: {first}"),
                n => format!("first: {first}, and {n} more on the trail"),
            }
        })
    }

    /// The step in hand: the first open one that is not held, optional ones left aside.
    #[must_use]
    pub fn in_hand(&self) -> Option<StepKind> {
        let open = |s: &&Standing| s.state == StepState::Open && s.kind.belongs(self.method) && !s.kind.optional();
        self.steps.iter().filter(open).find(|s| self.held(s.kind).is_none()).or_else(|| self.steps.iter().find(open)).map(|s| s.kind)
    }

    /// (done, all) of the steps that belong to the method and are not optional.
    #[must_use]
    pub fn progress(&self) -> (usize, usize) {
        let counted: Vec<_> = self.steps.iter().filter(|s| s.kind.belongs(self.method) && !s.kind.optional()).collect();
        (counted.iter().filter(|s| s.state == StepState::Done).count(), counted.len())
    }
}

/// Short name of a step.
#[must_use]
pub fn name(kind: StepKind) -> &'static str {
    use StepKind as K;
    match kind {
        K::Journal => "Measure the journal",
        K::RingBore => "Measure the ring bore",
        K::HousingBore => "Measure the housing bore",
        K::RingOutside => "Measure the ring outside",
        K::Choose => "Choose how it goes on",
        K::Heat => "Heat the ring",
        K::PutOn => "Put the ring on",
        K::Cool => "Let it grip and cool",
        K::Home => "Prove that it is home",
        K::Nip => "Nip the nut",
        K::Sign => "Sign the seat",
    }
}

/// What the step says: a verb, the tool, the number; two lines at most.
#[must_use]
pub fn says(kind: StepKind, facts: &SeatFacts, method: Option<Method>, units: Units) -> String {
    let d = show::join(show::size(facts.bearing.d, crate::quantity::Millimetres(1.0), units));
    let seat = &facts.seat;
    use StepKind as K;
    match kind {
        K::Journal => format!("Outside micrometer, wiped and zeroed. The {d} land, four planes at three stations, from end A."),
        K::RingBore => format!("Bore gauge, zeroed on the ring gauge. {}, four planes at three stations; mark plane A.", facts.designation),
        K::HousingBore => "Bore gauge. Four planes at three stations; else the drawing's limits stand in.".into(),
        K::RingOutside => "Outside micrometer over the ring; else the limits of its class stand in.".into(),
        K::Choose => "Read the fit, then choose. Least force through least risk.".into(),
        K::Heat => "Put the ring on the heater, probe on the inner ring; start the clock when it is on.".into(),
        K::PutOn if method == Some(Method::Press) => {
            format!("Press it against {} through the inner ring. Look after the first millimetre: square, no click.", seat.against)
        }
        K::PutOn if method == Some(Method::Slide) => format!("Slide it against {} by hand.", seat.against),
        K::PutOn => format!("Gloves. One straight push against {}, hold it there until it grips, then say so here.", seat.against),
        K::Cool => "It shrinks in width too: keep it against the shoulder. The clock tells when it is near the shaft.".into(),
        K::Home => format!("Thinnest feeler between ring and {} at four places, then the depth from {}.", seat.against, seat.depth.datum),
        K::Nip => {
            format!("{}: nip, turn the shaft, nip again. It holds the ring home; it is tightened when that is cold.", capital(&seat.nut))
        }
        K::Sign => "Your PIN says that you did this and saw these numbers.".into(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn trail(done: &[StepKind], method: Option<Method>) -> SeatTrail {
        let steps = StepKind::ALL
            .into_iter()
            .map(|kind| Standing {
                kind,
                state: if done.contains(&kind) { StepState::Done } else { StepState::Open },
                verdict: None,
                overruled: false,
            })
            .collect();
        SeatTrail { steps, method, cooling: false, heating: false, fit: None, machine: BTreeMap::new() }
    }

    #[test]
    fn pressing_needs_no_heater_and_no_cooling() {
        let t = trail(&[StepKind::Journal, StepKind::RingBore, StepKind::Choose, StepKind::PutOn], Some(Method::Press));
        assert_eq!(t.in_hand(), Some(StepKind::Nip), "the nut holds it home");
        assert_eq!(t.held(StepKind::Home), None, "it may be proved with the nut or without");
        assert!(t.held(StepKind::Heat).is_some_and(|w| w.contains("not needed")));
    }

    #[test]
    fn a_stop_holds_until_it_is_overruled() {
        let mut t = trail(&[StepKind::Journal, StepKind::RingBore], None);
        t.steps[0].verdict = Some(Verdict::Stop);
        assert!(t.held(StepKind::Choose).is_some_and(|w| w.contains("stop")));
        t.steps[0].overruled = true;
        assert_eq!(t.held(StepKind::Choose), None);
    }

    #[test]
    fn each_held_step_says_what_is_missing() {
        use StepKind as K;
        let done = [K::Journal, K::RingBore, K::Choose, K::Heat, K::PutOn, K::Cool, K::Home];
        for (missing, step, word) in [
            (K::Journal, K::Choose, "journal is not measured"),
            (K::RingBore, K::Choose, "ring bore is not measured"),
            (K::Choose, K::Heat, "no method"),
            (K::Heat, K::PutOn, "not hot"),
            (K::PutOn, K::Cool, "not on yet"),
            (K::Cool, K::Home, "still warm"),
            (K::PutOn, K::Nip, "not on yet"),
            (K::Home, K::Sign, "not proved home"),
            (K::Nip, K::Sign, "not nipped"),
        ] {
            let have: Vec<K> = done.iter().copied().filter(|k| *k != missing).collect();
            let held = trail(&have, Some(Method::Heat)).held(step);
            assert!(held.as_ref().is_some_and(|w| w.contains(word)), "{step:?} without {missing:?}: {held:?}");
        }
        assert_eq!(trail(&done, Some(Method::Heat)).held(K::Nip), None);
    }

    #[test]
    fn optional_sheets_hold_nothing_and_do_not_count() {
        let t = trail(&[StepKind::Journal, StepKind::RingBore], None);
        assert_eq!((t.held(StepKind::Choose), t.in_hand(), t.progress()), (None, Some(StepKind::Choose), (2, 9)));
        assert_eq!(t.held(StepKind::HousingBore), None);
    }

    #[test]
    fn what_the_machine_wants_first_holds_a_seat() {
        let mut t = trail(&[StepKind::Journal, StepKind::RingBore, StepKind::Choose], Some(Method::Heat));
        assert_eq!(t.held(StepKind::Heat), None);
        t.machine.insert(StepKind::Heat, ("Slide Plate on from end A.".into(), 0));
        assert_eq!(t.held(StepKind::Heat).unwrap(), "first: Slide Plate on from end A");
        t.machine.insert(StepKind::Heat, ("Slide Plate on from end A.".into(), 2));
        assert!(t.held(StepKind::Heat).unwrap().ends_with("from end A, and 2 more on the trail"));
        // Its own steps come first: without a method nobody asks for the plate.
        let mut t = trail(&[], None);
        t.machine.insert(StepKind::Heat, ("Slide Plate on.".into(), 0));
        assert_eq!(t.held(StepKind::Heat).unwrap(), "no method is chosen yet");
    }

    #[test]
    fn a_stop_on_the_fit_holds_heater_and_press() {
        let mut t = trail(&[StepKind::Journal, StepKind::RingBore, StepKind::Choose], Some(Method::Press));
        t.fit = Some((Verdict::Stop, false));
        assert!(t.held(StepKind::PutOn).is_some_and(|w| w.contains("fit is stop")));
        t.fit = Some((Verdict::Stop, true));
        assert_eq!(t.held(StepKind::PutOn), None);
    }

    #[test]
    fn every_step_has_its_words_and_its_name_in_records() {
        for k in StepKind::ALL {
            assert_eq!(StepKind::of(k.key()), Some(k));
            assert!(name(k).starts_with(char::is_uppercase) && !k.stage().is_empty());
        }
        assert!(StepKind::of("no such step").is_none());
    }

    proptest! {
        #[test]
        fn working_the_step_in_hand_always_ends(press: bool) {
            let mut done = vec![];
            let method = if press { Method::Press } else { Method::Heat };
            for _ in 0..12 {
                let t = trail(&done, done.contains(&StepKind::Choose).then_some(method));
                let Some(next) = t.in_hand() else { break };
                prop_assert_eq!(t.held(next), None);
                done.push(next);
            }
            prop_assert!(trail(&done, Some(method)).in_hand().is_none() && done.contains(&StepKind::Sign));
        }
    }
}
