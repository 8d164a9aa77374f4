//! The steps of one bearing seat: what each is called, says and asks for. In the graph of a rebuild they are acts like
//! others (`anatomy::acts::with_seats`).

use crate::anatomy::{Anatomy, SeatFacts};
use crate::call::{Method, Which};
use crate::caution::Caution;
use crate::quantity::show::capital;
use crate::quantity::{Units, show};
use crate::sheet::SheetKind;
use serde::{Deserialize, Serialize};

/// Kind of a step.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
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
            Self::PutOn if matches!(method, Some(Method::Press)) => Some(Caution::Press),
            Self::PutOn if method == Some(Method::WarmHousing) => Some(Caution::Hot),
            Self::PutOn if method.is_some_and(Method::heats) => Some(Caution::HotRing),
            Self::Nip => Some(Caution::Nut),
            _ => None,
        }
    }
    /// Steps that say that this one is done: what is on was hot, or was put on without heat.
    #[must_use]
    pub fn said_by(self) -> &'static [Self] {
        match self {
            Self::Journal => &[Self::Journal],
            Self::RingBore => &[Self::RingBore],
            Self::HousingBore => &[Self::HousingBore],
            Self::RingOutside => &[Self::RingOutside],
            Self::Choose => &[Self::Choose],
            Self::Heat => &[Self::Heat, Self::PutOn],
            Self::PutOn => &[Self::PutOn, Self::Sign],
            Self::Nip => &[Self::Nip],
            Self::Cool => &[Self::Cool],
            Self::Home => &[Self::Home, Self::Sign],
            Self::Sign => &[Self::Sign],
        }
    }
    /// The topic whose call stands beside it.
    #[must_use]
    pub fn topic(self) -> &'static str {
        match self.sheet() {
            Some(k) => k.key(),
            None if matches!(self, Self::Nip | Self::Sign) => SheetKind::Home.key(),
            None => "fit",
        }
    }
}

/// Steps of one seat: the nut only where there is one.
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
        K::Journal => {
            format!("Outside micrometer, wiped and zeroed. The {d} land, four planes at three stations, from end A.")
        }
        K::RingBore => format!(
            "Bore gauge, zeroed on the ring gauge. {}, four planes at three stations; mark plane 1.",
            facts.designation
        ),
        K::HousingBore => "Bore gauge. Four planes at three stations; else the drawing's limits stand in.".into(),
        K::RingOutside => "Outside micrometer over the ring; else the limits of its class stand in.".into(),
        K::Choose => "Read the fit, then choose. Least force through least risk.".into(),
        K::Heat => "Put the ring on the heater, probe on the inner ring; start the clock when it is on.".into(),
        K::PutOn if method == Some(Method::Press) => {
            format!(
                "Press it against {} through the ring that is tight. Look after the first millimetre: square, no click.",
                seat.against
            )
        }
        K::PutOn if method == Some(Method::WarmHousing) => {
            format!(
                "Gloves. Warm {} all round, wipe the bore, and let the ring drop straight against {}.",
                facts.housing_name, seat.against
            )
        }
        K::PutOn if method == Some(Method::Slide) => format!("Slide it against {} by hand.", seat.against),
        K::PutOn => format!(
            "Gloves. One straight push against {}, hold it there until it grips, then say so here.",
            seat.against
        ),
        K::Cool => {
            "It shrinks in width too: keep it against the shoulder. The clock tells when it is near the shaft.".into()
        }
        K::Home => format!(
            "Thinnest feeler between ring and {} at four places, then the depth from {}.",
            seat.against, seat.depth.datum
        ),
        K::Nip => {
            format!(
                "{}: nip, turn the shaft, nip again. It holds the ring home; it is tightened when that is cold.",
                capital(&seat.nut)
            )
        }
        // Who signs, and beside whom, decides what is said: [`crate::decide::State::signing`].
        K::Sign => String::new(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_step_has_its_words_and_its_name_in_records() {
        for k in StepKind::ALL {
            assert_eq!(StepKind::of(k.key()), Some(k));
            assert!(name(k).starts_with(char::is_uppercase));
        }
        assert!(StepKind::of("no such step").is_none());
    }
}
