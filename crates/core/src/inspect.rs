//! What parts that came off tell: what marks on them say, and what becomes of each part
//! (docs/trade.md, Taking apart).

use crate::anatomy::{Anatomy, LandKind, Role};
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

/// What a mark lies on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum On {
    /// Raceways, balls and cage.
    Bearing,
    /// A land of the shaft.
    Land,
    /// A thread of the shaft.
    Thread,
    /// A keyway of the shaft.
    Keyway,
    /// A housing, a cover or a cap.
    Housing,
    /// What slides: shoes, bushes, collars.
    Slides,
    /// What turns free: impellers and wheels.
    Wheel,
    /// Lips, cords and rings that keep something in.
    Lip,
}

/// A mark, what it lies on, and what it says.
#[derive(Debug, PartialEq, Eq)]
pub struct Mark {
    /// Name in records.
    pub key: &'static str,
    /// What it lies on.
    pub on: On,
    /// What is seen.
    pub seen: &'static str,
    /// The likely cause.
    pub cause: &'static str,
    /// What to look at or to do next.
    pub next: &'static str,
    /// The part is done for.
    pub ends: bool,
}

macro_rules! marks {
    ($($on:ident { $($key:literal: $seen:literal => $cause:literal, $next:literal $(, $ends:ident)?;)* })*) => {
        /// Marks, in the order in which one looks; of bearings: path, dents, surface, colour, bore and outside, cage,
        /// wet and dirt.
        pub const MARKS: &[Mark] = &[$($(
            Mark { key: $key, on: On::$on, seen: $seen, cause: $cause, next: $next, ends: marks!(@$($ends)?) }
        ),*),*];
    };
    (@) => { false };
    (@ends) => { true };
}

marks! {
    Bearing {
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
    Land {
    "land_creep": "Polished bright, with fine lines round it" => "the ring creeps: its fit is loose for this load", "the size of the land against its limits; no punch marks, no knurl";
    "land_scored": "Scores along the land" => "a ring that went on cocked or dry, or dirt under it", "stone off what stands up; then the sheet of gouges says whether enough of it carries";
    "land_dent": "A dent with a raised edge" => "a knock on the bench or in the rack", "stone the edge flush, blue it, read the size again";
    "land_bites": "Two bites opposite each other, near the shoulder" => "the edges of a splitter that was closed on the shaft", "stone them; how the next ring is pulled";
    "land_track": "A groove worn all round where a lip ran" => "the lip, and dirt under it", "its depth by a dial; the new lip beside it, or a thin sleeve";
    "land_blue": "Blue or straw in colour" => "it ran dry, or a ring turned on it", "cracks by dye, hardness, runout; whoever answers for the shaft";
    "land_crack": "A hairline in the corner of the shoulder" => "bending, again and again, from a sharp corner or a bite", "dye; the shaft goes to whoever answers for it", ends;
    }
    Thread {
    "thread_torn": "Torn or flattened threads" => "a nut that was driven with a punch, or crossed", "run a nut over it, chase what catches; runout of the nut's face";
    "thread_galled": "Smeared threads that bind" => "put on dry, like on like", "chase it, and what it was to be wetted with";
    }
    Keyway {
    "key_crack": "A hairline out of the corner" => "a key that worked, or a corner that is sharp", "dye; the shaft goes to whoever answers for it", ends;
    "key_rolled": "Edges rolled over, wide at the top" => "a key that was loose and hammered", "width of the keyway, and the key's own";
    }
    Housing {
    "bore_creep": "The bore polished bright, with fine lines round it" => "the outer ring creeps", "size and roundness of the bore";
    "bore_pinched": "Two dark zones opposite each other in the bore" => "the bore is oval: its foot, its cap or its bolts pull it", "the bore with its cap drawn down, and the foot";
    "housing_crack": "A hairline from a corner or a bolt hole" => "drawn down unevenly, frost, or a blow", "dye, both ends of it marked", ends;
    "housing_heat": "Heat colour or burnt paint" => "it ran hot inside", "size of the bore, oil feed, what lies inside";
    "joint_nick": "A nick or a dull patch on the joint face" => "parted with a blade, or worked loose", "stone it flat, blue both halves together";
    "passage": "An oil hole that is closed, or half so" => "dirt, or sealing compound that was squeezed in", "air through every hole, feed and drain";
    "dowel_burr": "A burr at a dowel hole" => "a dowel that was driven back in", "stone it; the dowel goes in by hand";
    }
    Slides {
    "wiped": "White metal wiped over its edge" => "the film failed: started dry, too hot, or too much load", "oil before the start, load, what lies on the other side", ends;
    "scored": "Scores the way it runs" => "dirt in the oil", "filter and flushing; depth of the scores";
    "edge_sharp": "The edges sharp, not rounded" => "new, or cut and not finished", "round both sides so that oil gets in";
    "shoe_nick": "A nick or a raised burr" => "laid on metal, or levelling plates that bite", "scrape the burr; the levelling plates interlock freely";
    "crazed": "Cracks like dried mud" => "the metal is tired", "load and vibration; the bond, by ringing it", ends;
    "pitted": "Fine pits like frost" => "current through the film", "earthing and brushes; ohms to the frame", ends;
    }
    Wheel {
    "vane_thin": "Edges of the vanes thin and rough" => "worn by what it pumps", "wall left, balance, clearance at the ring";
    "spongy": "Spongy pits behind the inlet" => "bubbles that collapse: too little head at the inlet", "the inlet, its strainer and the level before it";
    "rub": "A bright rub on one side" => "it hangs off the middle, or the shaft is bent", "gap around it and runout, before anything is dressed";
    "fins_rolled": "Fins of the labyrinth rolled over" => "it touched while it ran", "clearance left; dress them sharp, or replace the ring";
    "wheel_crack": "A hairline at the root of a vane or in the bore" => "vibration, or driven on too tight", "dye; do not run it", ends;
    }
    Lip {
    "lip_hard": "Hard, and it cracks when it is bent" => "heat, or the wrong material", "temperature there, and the material", ends;
    "lip_cut": "A cut across the lip" => "pressed over a burr, a thread or a keyway", "the lead-in; a sleeve over the thread next time", ends;
    "blown": "Nibbled away at one edge" => "pressed into a gap that is too wide", "the gap behind it, the pressure", ends;
    "flat": "Worn flat all round" => "age, or too much squeeze", "the gland: squeeze and fill", ends;
    }
}

/// A mark by its name in records.
#[must_use]
pub fn mark(key: &str) -> Option<&'static Mark> {
    MARKS.iter().find(|m| m.key == key)
}

/// What marks on a part or a housing lie on; none where none are listed.
#[must_use]
pub fn on_part(a: &Anatomy, part: &str) -> Option<On> {
    let Some(p) = a.part(part) else {
        return a.housings.iter().any(|h| h.id == part).then_some(On::Housing);
    };
    match p.kind.role() {
        Role::Shoes | Role::BaseRing | Role::Bush | Role::Collar => Some(On::Slides),
        Role::Rolling | Role::ThrustWasher | Role::Cone | Role::Cup => Some(On::Bearing),
        Role::Cover | Role::Insert | Role::Cap => Some(On::Housing),
        Role::Rotor => Some(On::Wheel),
        Role::Lip | Role::Cord | Role::SealRing => Some(On::Lip),
        Role::Gasket
        | Role::Nut
        | Role::TabWasher
        | Role::Clip
        | Role::Screw
        | Role::Sensor
        | Role::Spacer
        | Role::Shim
        | Role::Expander
        | Role::Key
        | Role::Flinger
        | Role::Plate
        | Role::Plain => None,
    }
}

/// What marks on a land of the shaft lie on.
#[must_use]
pub fn on_land(kind: LandKind) -> On {
    match kind {
        LandKind::Thread => On::Thread,
        LandKind::Keyway => On::Keyway,
        LandKind::Plain | LandKind::Taper | LandKind::Groove | LandKind::Spline | LandKind::Hole => On::Land,
    }
}

/// The marks of what they lie on.
pub fn marks_on(on: On) -> impl Iterator<Item = &'static Mark> {
    MARKS.iter().filter(move |m| m.on == on)
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
        assert!(MARKS.iter().all(|m| !m.seen.ends_with('.') && !m.next.ends_with('.') && m.cause.len() > 5), "words");
    }
}
