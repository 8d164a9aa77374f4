//! Marks on bearings, and what they tell (docs/trade.md, Taking apart).

use serde::{Deserialize, Serialize};

/// Where on a ring a mark is seen.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Where {
    InnerRaceway,
    OuterRaceway,
    Balls,
    Cage,
    Bore,
    Outside,
    Face,
}

/// A mark on a bearing and what it tells.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Mark {
    /// Stable name.
    pub key: &'static str,
    /// What is seen.
    pub seen: &'static str,
    /// Where it is found.
    pub places: &'static [Where],
    /// Likely causes, likeliest first.
    pub causes: &'static [&'static str],
    /// What to check next.
    pub check: &'static [&'static str],
    /// The bearing was well and may have simply done its time.
    pub healthy: bool,
}

use Where::{Bore, Cage, Face, InnerRaceway, OuterRaceway, Outside};

const RACEWAYS: &[Where] = &[InnerRaceway, OuterRaceway];
const ROLLING: &[Where] = &[InnerRaceway, OuterRaceway, Where::Balls];

/// All marks. Source: docs/trade.md, Taking apart.
#[rustfmt::skip]
pub static MARKS: [Mark; 18] = [
    Mark { key: "even_path", seen: "an even frosted path in the middle", places: RACEWAYS, causes: &["normal running"], check: &["hours run, and the noise that was heard"], healthy: true },
    Mark { key: "one_side", seen: "the path lies on one side", places: RACEWAYS, causes: &["thrust", "the shaft grew and the floating end did not move", "the wrong side carries the load"], check: &["which way the thick side faces", "whether the floating ring can move", "end play"], healthy: false },
    Mark { key: "wandering", seen: "the path wanders across the ring", places: RACEWAYS, causes: &["misaligned seats", "a cocked ring", "a bent shaft"], check: &["shoulder squareness", "sweep at both seats", "straightness"], healthy: false },
    Mark { key: "all_round_still_ring", seen: "the path runs all round the ring that stands still", places: &[OuterRaceway], causes: &["out of balance", "the still ring creeps"], check: &["balance", "size of the housing bore"], healthy: false },
    Mark { key: "two_zones", seen: "two dark zones opposite each other", places: RACEWAYS, causes: &["an oval seat", "a pinched housing"], check: &["bore grid with the cap on", "roundness of the journal"], healthy: false },
    Mark { key: "ball_pitch_dents", seen: "dents at the pitch of the balls", places: RACEWAYS, causes: &["pressed through the balls", "a shock or a fall"], check: &["how it was mounted", "which ring took the force"], healthy: false },
    Mark { key: "rest_pitch", seen: "shiny dents at the pitch of the balls, dull bottoms", places: RACEWAYS, causes: &["vibration while it stood still"], check: &["what runs beside it", "how it is carried and stored"], healthy: false },
    Mark { key: "flutes", seen: "flutes, a grey washboard", places: RACEWAYS, causes: &["current through the bearing"], check: &["earthing of the shaft", "insulation, by a licensed person"], healthy: false },
    Mark { key: "flaking_early", seen: "flaking long before its time", places: ROLLING, causes: &["too little clearance", "overload", "dirt"], check: &["the clearance that was left", "fits of both rings", "filter and seals"], healthy: false },
    Mark { key: "flaking_late", seen: "flaking after a long life", places: ROLLING, causes: &["fatigue: it has done its time"], check: &["hours against the reckoned life"], healthy: true },
    Mark { key: "smearing", seen: "smeared, torn metal", places: ROLLING, causes: &["balls skid: too little load", "quick start with stiff grease"], check: &["preload", "grease and its fill"], healthy: false },
    Mark { key: "blue", seen: "blue or straw colour", places: &[InnerRaceway, OuterRaceway, Where::Balls, Cage], causes: &["no oil", "over-greased", "preload too high"], check: &["fill", "preload as left", "cooling"], healthy: false },
    Mark { key: "fretting", seen: "a brown ring", places: &[Bore, Outside], causes: &["a loose fit that works"], check: &["size of the seat", "fit class for this load"], healthy: false },
    Mark { key: "cracked_inner", seen: "the inner ring is cracked", places: &[InnerRaceway, Bore, Face], causes: &["too tight", "a taper driven too far", "dirt under a face"], check: &["interference", "drive-up", "the shoulder and its fillet"], healthy: false },
    Mark { key: "cage_broken", seen: "the cage is broken", places: &[Cage], causes: &["vibration", "misalignment", "no oil at the cage"], check: &["runout", "lubricant", "speed changes"], healthy: false },
    Mark { key: "rust_pitch", seen: "rust at the pitch of the balls", places: RACEWAYS, causes: &["it stood wet"], check: &["seals", "standstill and washing down"], healthy: false },
    Mark { key: "grooves", seen: "fine grooves all along", places: ROLLING, causes: &["dirt"], check: &["seals", "cleanliness at mounting"], healthy: false },
    Mark { key: "creep", seen: "polished, with fine lines round it", places: &[Bore, Outside], causes: &["the ring creeps in its seat"], check: &["size of the seat", "which ring turns against the load"], healthy: false },
];

/// Marks that are found at a place.
///
/// ```
/// use ironseat_core::takedown::{Where, marks_at};
/// assert!(marks_at(Where::Bore).any(|m| m.key == "fretting"));
/// ```
pub fn marks_at(place: Where) -> impl Iterator<Item = &'static Mark> {
    MARKS.iter().filter(move |m| m.places.contains(&place))
}

/// Causes that the marks seen have in common, with how many marks point at each; most first. A cause is told by its
/// first words.
#[must_use]
pub fn causes(seen: &[&str]) -> Vec<(&'static str, usize)> {
    let mut count: Vec<(&'static str, usize)> = Vec::new();
    for m in MARKS.iter().filter(|m| seen.contains(&m.key)) {
        for c in m.causes {
            match count.iter_mut().find(|(k, _)| k == c) {
                Some((_, n)) => *n += 1,
                None => count.push((c, 1)),
            }
        }
    }
    count.sort_by_key(|c| std::cmp::Reverse(c.1));
    count
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn marks_point_at_causes() {
        assert!(MARKS.iter().all(|m| !m.causes.is_empty() && !m.check.is_empty() && !m.places.is_empty()));
        assert_eq!(causes(&["flaking_early", "grooves"])[0], ("dirt", 2));
        assert!(causes(&["no such"]).is_empty());
    }
}
