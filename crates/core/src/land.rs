//! A land with gouges, burrs and old tracks on it: what stands up is stoned off, what is sunk carries nothing
//! (docs/trade.md, Taking apart).

use crate::instrument::SLACK;
use crate::quantity::{Micrometres, Millimetres};
use crate::refusal::{Refusal, Result, expect};
use std::f64::consts::PI;

/// A mark on a land.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Mark {
    /// From the A side end of the land to its nearer edge.
    pub along: Millimetres,
    /// Its width along the shaft.
    pub wide: Millimetres,
    /// Where around, degrees from the mark of the shaft.
    pub at_deg: f64,
    /// Its length around; 0 for a track that goes all round.
    pub around: Millimetres,
    /// The dial over it: above 0 it stands up, below it is sunk.
    pub dial: Micrometres,
}

/// What a land with marks is good for.
#[derive(Debug, Clone, PartialEq)]
pub struct Marked {
    /// Share of the land that carries nothing, 0 to 1.
    pub lost: f64,
    /// Highest that stands up; 0 when nothing does.
    pub raised: Micrometres,
    /// Deepest that is sunk, as a number above 0; 0 when nothing is.
    pub deepest: Micrometres,
    /// Off the diameter to clean the deepest up.
    pub clean_up: Micrometres,
    /// What to do with it.
    pub next: Next,
}

/// What to do with a land.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Next {
    /// Too little of it carries: build it up and grind it back.
    BuildUp,
    /// A gouge deep enough to begin a crack: dye it first.
    Dye,
    /// Something stands up: stone it off, read again.
    Stone,
    /// It carries its ring as it is.
    Leave,
}

impl Next {
    /// In the contract.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::BuildUp => "stop",
            Self::Dye => "look_again",
            Self::Stone => "dress",
            Self::Leave => "go",
        }
    }
}

/// Judges a land by its marks: areas of what is sunk by more than the dial can be wrong, added up as if none lay in
/// another, which is to the safe side.
///
/// ```
/// use ironseat_core::{land::{Mark, Next, marked}, quantity::{Micrometres as Um, Millimetres as Mm}};
/// // A track 3 mm wide all round a land of 20 mm: 15 % of it carries nothing.
/// let track = Mark { along: Mm::of(8.0), wide: Mm::of(3.0), at_deg: 0.0, around: Mm::of(0.0), dial: Um::of(-12.0) };
/// let m = marked((Mm::of(40.0), Mm::of(20.0)), &[track], Um::of(3.0), 0.1, Um::of(100.0))?;
/// assert!((m.lost - 0.15).abs() < 1e-9 && m.next == Next::BuildUp && m.clean_up == Um::of(24.0));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `marks` when one lies beyond the land, or goes round by more than there is.
pub fn marked(
    land: (Millimetres, Millimetres),
    marks: &[Mark],
    u: Micrometres,
    most_lost: f64,
    deep: Micrometres,
) -> Result<Marked> {
    let (round, width) = (PI * land.0.0, land.1.0);
    for (k, m) in marks.iter().enumerate() {
        let no = k + 1;
        if m.along.0 + m.wide.0 > width + SLACK || m.along.0 < 0.0 {
            return Err(Refusal::new("marks", format!("mark {no} lies beyond the land, which is {width} mm wide")));
        }
        expect(m.at_deg.abs() <= 360.0, "marks", format!("mark {no}: expected its place around within a turn"))?;
        let far = format!("mark {no} goes round by more than the land does: 0 for a track all round");
        expect(m.around.0 <= round + SLACK, "marks", far)?;
    }
    let area = |m: &Mark| m.wide.0 * if m.around.0 == 0.0 { round } else { m.around.0 };
    let sunk = marks.iter().filter(|m| m.dial.0 < -u.0 - SLACK);
    let lost = (sunk.clone().map(area).sum::<f64>() / (round * width)).min(1.0);
    let deepest = sunk.map(|m| -m.dial.0).fold(0.0, f64::max);
    let raised = marks.iter().map(|m| m.dial.0).filter(|d| *d > u.0 + SLACK).fold(0.0, f64::max);
    let next = if lost > most_lost + SLACK {
        Next::BuildUp
    } else if deepest > deep.0 + SLACK {
        Next::Dye
    } else if raised > 0.0 {
        Next::Stone
    } else {
        Next::Leave
    };
    Ok(Marked {
        lost,
        raised: Micrometres(raised),
        deepest: Micrometres(deepest),
        clean_up: Micrometres(2.0 * deepest),
        next,
    })
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]
    use super::*;
    use proptest::prelude::*;

    fn mark(along: f64, wide: f64, around: f64, dial: f64) -> Mark {
        Mark {
            along: Millimetres(along),
            wide: Millimetres(wide),
            at_deg: 0.0,
            around: Millimetres(around),
            dial: Micrometres(dial),
        }
    }
    fn judged(marks: &[Mark]) -> Result<Marked> {
        marked((Millimetres(40.0), Millimetres(20.0)), marks, Micrometres(3.0), 0.1, Micrometres(100.0))
    }

    #[test]
    fn what_stands_up_is_stoned_and_what_is_deep_is_dyed() {
        let next = |m: &[Mark]| judged(m).unwrap().next;
        assert_eq!(next(&[]), Next::Leave);
        assert_eq!(
            next(&[mark(2.0, 1.0, 6.0, -20.0), mark(2.0, 1.0, 6.0, 3.0)]),
            Next::Leave,
            "3 is what a dial gives"
        );
        assert_eq!(next(&[mark(2.0, 1.0, 6.0, 8.0)]), Next::Stone);
        assert_eq!(next(&[mark(2.0, 1.0, 6.0, 8.0), mark(5.0, 1.0, 6.0, -140.0)]), Next::Dye);
        assert_eq!(next(&[mark(2.0, 3.0, 0.0, -5.0), mark(9.0, 1.0, 6.0, -140.0)]), Next::BuildUp);
        for beyond in [mark(18.0, 3.0, 1.0, -5.0), mark(0.0, 1.0, 126.0, -5.0), mark(-1.0, 1.0, 1.0, 0.0)] {
            assert_eq!(judged(&[beyond]).unwrap_err().field, "marks");
        }
    }

    proptest! {
        /// A gouge more never makes a land better; one that stands up loses nothing of it.
        #[test]
        fn a_mark_more_is_never_better(list in prop::collection::vec((0.0f64..15.0, 0.1f64..5.0, 0.0f64..120.0, -200.0f64..60.0), 1..8)) {
            let all: Vec<Mark> = list.iter().map(|m| mark(m.0, m.1, m.2, m.3)).collect();
            let (less, whole) = (judged(&all[1..]).unwrap(), judged(&all).unwrap());
            prop_assert!(whole.lost >= less.lost && whole.deepest.0 >= less.deepest.0 && whole.raised.0 >= less.raised.0);
            if all[0].dial.0 > 0.0 {
                prop_assert_eq!(whole.lost, less.lost);
            }
            prop_assert!((0.0..=1.0).contains(&whole.lost));
        }
    }
}
