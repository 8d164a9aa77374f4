//! The steps of one bearing seat: what each is called, says and asks for. In the graph of a rebuild they are acts like
//! others (`anatomy::acts::with_seats`).

use crate::anatomy::SeatFacts;
use crate::quantity::Units;
use crate::quantity::show::{self, capital};
use crate::sheet::SheetKind;
use crate::terms::{Method, StepKind, Surface};

impl StepKind {
    /// The sheet it fills, if it does.
    #[must_use]
    pub fn sheet(self) -> Option<SheetKind> {
        Some(match self {
            Self::Journal => SheetKind::Grid(Surface::Journal),
            Self::RingBore => SheetKind::Grid(Surface::RingBore),
            Self::HousingBore => SheetKind::Grid(Surface::HousingBore),
            Self::RingOutside => SheetKind::Grid(Surface::RingOutside),
            Self::Home => SheetKind::Home,
            _ => return None,
        })
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
            assert!(k.name().starts_with(char::is_uppercase));
        }
        assert!(StepKind::of("no such step").is_none());
    }
}
