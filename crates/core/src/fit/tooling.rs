//! Which ring takes the force, and which tube of the shop may be used for it.

use crate::quantity::Millimetres;
use serde::{Deserialize, Serialize};

/// A tube, socket or old ring of the shop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Tube {
    /// Name in the shop's list.
    pub name: String,
    /// Bore.
    pub bore: Millimetres,
    /// Outside.
    pub outside: Millimetres,
    /// Length.
    pub length: Millimetres,
}

/// The ring the force may go through: only ever the tight one.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum ForceThrough {
    /// On to a shaft.
    InnerRing,
    /// Into a housing.
    OuterRing,
    /// A plate that bears on both faces.
    BothRings,
    /// Neither is tight: by hand.
    Neither,
}

/// The tight ring takes the force.
#[must_use]
pub fn force_through(tight_on_shaft: bool, tight_in_housing: bool) -> ForceThrough {
    match (tight_on_shaft, tight_in_housing) {
        (true, true) => ForceThrough::BothRings,
        (true, false) => ForceThrough::InnerRing,
        (false, true) => ForceThrough::OuterRing,
        (false, false) => ForceThrough::Neither,
    }
}

/// What a tube has to clear when an inner ring is pushed on.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct InnerRingPush {
    /// Shaft under the ring.
    pub shaft: Millimetres,
    /// Largest land that the tube slides over.
    pub largest_land: Millimetres,
    /// Inner shoulder d1 of the ring: the tube must not reach past it, or it bears on cage or seal.
    pub shoulder: Millimetres,
    /// Shaft that stands out beyond the seated ring: the tube must be longer.
    pub protrusion: Millimetres,
}

/// How a tube suits.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Suit {
    /// The tube.
    pub tube: Tube,
    /// Why not; none when it fits.
    pub why_not: Option<WhyNot>,
    /// Share of the ring's face that it covers, 0 to 1.
    pub cover: f64,
}

/// What is wrong with a tube.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum WhyNot {
    /// It does not go over the shaft; bore wanted.
    TooNarrow(Millimetres),
    /// It would bear on cage, seal or outer ring; outside allowed.
    TooWide(Millimetres),
    /// It bottoms on the shaft end before the ring is home; length wanted.
    TooShort(Millimetres),
}

/// Judges every tube of the shop for pushing an inner ring home; those that fit come first, best cover first.
///
/// Tube bore >= shaft + 0.2 mm and more than the largest land it slides over; outside <= inner shoulder d1;
/// length > protruding shaft. Source: docs/trade.md, Fits and heat.
#[must_use]
pub fn tubes_for_inner_ring(push: &InnerRingPush, tubes: &[Tube]) -> Vec<Suit> {
    let need_bore = (push.shaft.0 + 0.2).max(push.largest_land.0 + 0.05);
    let face = push.shoulder.0.powi(2) - push.shaft.0.powi(2);
    let mut list: Vec<Suit> = tubes
        .iter()
        .map(|t| {
            let why_not = if t.bore.0 < need_bore {
                Some(WhyNot::TooNarrow(Millimetres(need_bore)))
            } else if t.outside.0 > push.shoulder.0 {
                Some(WhyNot::TooWide(push.shoulder))
            } else if t.length.0 <= push.protrusion.0 {
                Some(WhyNot::TooShort(push.protrusion))
            } else {
                None
            };
            let cover = ((t.outside.0.min(push.shoulder.0).powi(2) - t.bore.0.powi(2)) / face).clamp(0.0, 1.0);
            Suit { tube: t.clone(), why_not, cover }
        })
        .collect();
    list.sort_by(|a, b| a.why_not.is_some().cmp(&b.why_not.is_some()).then(b.cover.total_cmp(&a.cover)));
    list
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_tube_is_refused_for_the_first_thing_that_is_wrong() {
        let mm = Millimetres::of;
        let push = InnerRingPush { shaft: mm(40.0), largest_land: mm(40.0), shoulder: mm(52.8), protrusion: mm(120.0) };
        let tube =
            |name: &str, b: f64, o: f64, l: f64| Tube { name: name.into(), bore: mm(b), outside: mm(o), length: mm(l) };
        let suits = tubes_for_inner_ring(
            &push,
            &[
                tube("narrow", 40.1, 52.0, 200.0),
                tube("wide", 41.0, 60.0, 200.0),
                tube("short", 41.0, 52.0, 100.0),
                tube("thin", 42.0, 48.0, 200.0),
                tube("right", 40.5, 52.0, 200.0),
            ],
        );
        assert_eq!(suits.iter().map(|s| s.tube.name.as_str()).take(2).collect::<Vec<_>>(), ["right", "thin"]);
        let why = |n: &str| suits.iter().find(|s| s.tube.name == n).and_then(|s| s.why_not);
        assert!(
            matches!(why("narrow"), Some(WhyNot::TooNarrow(_)))
                && matches!(why("wide"), Some(WhyNot::TooWide(_)))
                && matches!(why("short"), Some(WhyNot::TooShort(_)))
        );
    }
}
