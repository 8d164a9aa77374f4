//! What parts that came off tell: what marks on a bearing say, and what becomes of each part
//! (docs/trade.md, Taking apart).

use crate::anatomy::{Anatomy, Role};
use serde::{Deserialize, Serialize};

/// What becomes of a part.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
#[allow(missing_docs)]
pub enum Fate {
    Reuse,
    Dress,
    Repair,
    Replace,
    Refer,
}

impl Fate {
    /// All, with their names in records, as said, and what a reason says.
    pub const ALL: [(Self, &'static str, &'static str, &'static str); 5] = [
        (Self::Reuse, "reuse", "Use again", "what was looked at, if there is more to say"),
        (Self::Dress, "dress", "Dress", "what was dressed, and how far: “burr stoned off the A face”"),
        (Self::Repair, "repair", "Repair", "the process and the size to: “weld, grind to 40.002 … 40.018 mm”"),
        (Self::Replace, "replace", "Replace", "why, and what is ordered: “fluted; 6208 C3”"),
        (Self::Refer, "refer", "Refer", "who decides, and what about: “crack in the web, to the maker”"),
    ];
    /// From its name in records.
    #[must_use]
    pub fn of(key: &str) -> Option<Self> {
        Self::ALL.iter().find(|f| f.1 == key).map(|f| f.0)
    }
    /// Name in records.
    #[must_use]
    pub fn key(self) -> &'static str {
        Self::ALL.iter().find(|f| f.0 == self).map_or("", |f| f.1)
    }
    /// As said.
    #[must_use]
    pub fn word(self) -> &'static str {
        Self::ALL.iter().find(|f| f.0 == self).map_or("", |f| f.2)
    }
    /// The part does not go on until something else was said of it.
    #[must_use]
    pub fn holds(self) -> bool {
        matches!(self, Self::Repair | Self::Refer)
    }
    /// It is not said without a reason.
    #[must_use]
    pub fn wants_reason(self) -> bool {
        self != Self::Reuse
    }
}

/// A mark on a bearing, where it is, and what it says.
#[derive(Debug, PartialEq, Eq)]
pub struct Mark {
    /// Name in records.
    pub key: &'static str,
    /// What is seen.
    pub seen: &'static str,
    /// The likely cause.
    pub cause: &'static str,
    /// What to look at next.
    pub next: &'static str,
    /// The bearing is done for.
    pub ends: bool,
}

macro_rules! marks {
    ($($key:literal: $seen:literal => $cause:literal, $next:literal $(, $ends:ident)?;)*) => {
        /// Marks on bearings, in the order in which one looks: path, dents, surface, colour, bore and outside, cage, wet and dirt.
        pub const MARKS: &[Mark] = &[$(Mark { key: $key, seen: $seen, cause: $cause, next: $next, ends: marks!(@$($ends)?) }),*];
    };
    (@) => { false };
    (@ends) => { true };
}

marks! {
    "even": "An even frosted path in the middle of the still ring" => "a load that stands still and a ring that fits: as it should be", "nothing: the pattern of a good bearing";
    "one_side": "The path lies on one side of the groove" => "thrust, from the machine, from heat, or from a ring that was put in the wrong way round", "the float, the free bearing, and which way the rings faced";
    "wanders": "The path wanders from side to side" => "a ring that is cocked, or seats out of line", "runout of the shoulders, faces of the spacers, the line of the housings";
    "all_round": "The path goes all round on the ring that stands still" => "the load turns with the shaft: out of balance, or the ring creeps", "balance, and the fit of the still ring";
    "two_zones": "Two dark zones opposite each other" => "a seat that is oval, or a housing that pinches the ring", "roundness of the housing, its foot and its split line";
    "dents_pitch": "Dents at the pitch of the balls" => "pressed on through the balls, or a blow", "how it was put on: force only through the ring that is tight", ends;
    "shiny_pitch": "Shiny hollows at the pitch of the balls" => "vibration while it stood still", "how it was stored and carried, and machines that run beside it", ends;
    "flutes": "Flutes across the path, or a grey washboard" => "current through the bearing", "earthing, brushes, insulation, the drive; ohms across the bearing", ends;
    "flaked": "Flaked metal" => "rolled tired: early it is too much load or too little film, late it is age", "load, preload and oil; the metal in the oil", ends;
    "smeared": "Smeared, dull streaks" => "rollers that slid: too little load, or oil that was not there when it started", "the least load, and the oil at the start", ends;
    "blue": "Blue or straw in colour" => "hot: no oil, too much grease, too little clearance, or preload", "the clearance that was left, the grease by volume, the oil feed", ends;
    "fretted": "Brown or black rust of its own on bore or outside" => "the ring moved on its seat: the fit is loose", "size and form of the seat";
    "cracked": "The inner ring is cracked" => "too tight, driven too far up its taper, or dirt under its face", "interference, the drive-up, the shoulder", ends;
    "cage": "The cage is broken or worn on one side" => "too fast, starved, vibrating, or a ring that is out of line", "speed, oil, alignment", ends;
    "rust_pitch": "Rust at the pitch of the balls" => "it stood wet", "seals, breather, water in the oil", ends;
    "grooved": "Grooves and embedded dirt" => "dirt that came in, or was never washed out", "seals, filters, and how clean the assembly was", ends;
}

/// A mark by its name in records.
#[must_use]
pub fn mark(key: &str) -> Option<&'static Mark> {
    MARKS.iter().find(|m| m.key == key)
}

/// Whether marks of bearings are asked of a part.
#[must_use]
pub fn is_bearing(a: &Anatomy, part: &str) -> bool {
    a.part(part).is_some_and(|p| matches!(p.kind.row().role, Role::Bearing | Role::TaperRing))
}

/// What was said of a part.
#[derive(Debug, Clone, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Disposition {
    pub part: String,
    pub fate: Fate,
    pub reason: String,
    /// Marks that were seen, by their names in records.
    pub marks: Vec<String>,
    pub by: String,
    /// Microseconds since 1970.
    pub at: i64,
}

impl Disposition {
    /// The marks as they are known here.
    #[must_use]
    pub fn seen(&self) -> Vec<&'static Mark> {
        self.marks.iter().filter_map(|m| mark(m)).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_are_their_own_and_read_back() {
        for (fate, key, ..) in Fate::ALL {
            assert_eq!(Fate::of(key), Some(fate));
            assert_eq!(serde_json::to_string(&fate).unwrap(), format!("\"{key}\""));
        }
        let mut keys: Vec<&str> = MARKS.iter().map(|m| m.key).collect();
        keys.sort_unstable();
        keys.dedup();
        assert_eq!(keys.len(), MARKS.len());
        assert!(mark("flutes").is_some_and(|m| m.ends && m.cause.contains("current")));
        assert!(mark("even").is_some_and(|m| !m.ends));
    }
}
