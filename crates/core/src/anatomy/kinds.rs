//! Kinds of parts: one row a kind. A new kind is one row here; the compiler names what the row does not say.

use crate::caution::Caution;
use serde::{Deserialize, Serialize};

/// How a part behaves as a ring that others have to pass.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Build {
    /// Metal: nothing passes through it.
    Whole,
    /// Gives way within half its section on the way: circlips, split rings, O-rings, lips.
    Yields,
    /// Lies in its seat; parts that name it or cover its place have its keyway.
    Key,
    /// Goes in along a ray through what carries it: set screws, probes.
    Ray,
}

/// What a part does, by which everything else asks: the order of the work, its readings, its words, what is looked at.
/// No place but this table names a kind; a new kind that does what another one does says its role and is done.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Role {
    /// A rolling bearing with a designation: one body, or two rings when one of them is tight elsewhere.
    Rolling,
    /// The inner ring of a taper bearing, with its rollers.
    Cone,
    /// The ring that a cone runs in.
    Cup,
    /// Takes thrust with a flat face.
    ThrustWasher,
    /// Tilting shoes: they lie in an order.
    Shoes,
    /// What the shoes stand on.
    BaseRing,
    /// Carries the shaft with its bore, on a film.
    Bush,
    /// Turns with the shaft and is what thrust is taken from.
    Collar,
    /// Turned on a thread: clamps its stack.
    Nut,
    /// Locks a nut by its tab.
    TabWasher,
    /// Springs into a groove: clamps its stack.
    Clip,
    /// Turned in along a ray: locks.
    Screw,
    /// Bolted or laid on: closes.
    Cover,
    /// Closes from within a bore.
    Insert,
    /// Closes over a split: pulled down by screws, or set by shims.
    Cap,
    /// A wire leads away from it.
    Sensor,
    /// Runs round with the shaft inside something: its gap is read.
    Rotor,
    /// Sets a distance; ground to it.
    Spacer,
    /// Sets a distance by leaves.
    Shim,
    /// Sets a distance and holds by its screws.
    Expander,
    /// Keeps something in by a lip: pressed to a depth, guarded on its way.
    Lip,
    /// Keeps something in by being squeezed in a groove.
    Cord,
    /// Keeps something in as a split or whole ring.
    SealRing,
    /// Keeps something in between two faces.
    Gasket,
    /// Lies in a seat and drives.
    Key,
    /// Throws off what runs along the shaft: set free of what it touches.
    Flinger,
    /// Takes thrust and stands still.
    Plate,
    /// Nothing beyond its place.
    Plain,
}

impl Role {
    /// Carries the shaft by rolling or sliding: readings rest on it.
    #[must_use]
    pub fn bears(self) -> bool {
        matches!(self, Self::Rolling | Self::ThrustWasher | Self::Shoes | Self::BaseRing | Self::Bush)
    }
    /// One ring of a taper bearing.
    #[must_use]
    pub fn taper_ring(self) -> bool {
        matches!(self, Self::Cone | Self::Cup)
    }
    /// Keeps something in.
    #[must_use]
    pub fn seals(self) -> bool {
        matches!(self, Self::Lip | Self::Cord | Self::SealRing | Self::Gasket)
    }
    /// Closes what lies behind it.
    #[must_use]
    pub fn closes(self) -> bool {
        matches!(self, Self::Cover | Self::Insert | Self::Cap)
    }
    /// Sets a distance.
    #[must_use]
    pub fn sets_distance(self) -> bool {
        matches!(self, Self::Spacer | Self::Shim | Self::Expander)
    }
}

/// The drawn shape.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Shape {
    Rings,
    Cone,
    Cup,
    Washer,
    Plain,
    Leaf,
    Lip,
    Cord,
    SplitRing,
    Collar,
    Key,
    Impeller,
    Wheel,
    Pulley,
    Gear,
    Flinger,
    Nut,
    TabWasher,
    Clip,
    Screw,
    Cover,
    Insert,
    Cap,
    Expander,
    Shoes,
    BaseRing,
    Probe,
    Bush,
    Gasket,
    Plate,
}

/// A length from the shelf: a share of the land's diameter, or millimetres.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub enum Usual {
    Share(f64),
    Mm(f64),
}

impl Usual {
    /// On a land of this diameter.
    #[must_use]
    pub fn on(self, d: f64) -> f64 {
        match self {
            Self::Share(s) => s * d,
            Self::Mm(v) => v,
        }
    }
}

/// Everything that a kind brings with it.
///
/// In `on`, `off` and `kit` the marks `{name}`, `{faces}`, `{into}` and `{from}` stand for the part, the way it faces,
/// what carries it and the end it comes from. Where `on` or `off` is not given, the fit says how.
#[derive(Debug)]
#[allow(missing_docs)]
pub struct Row {
    pub kind: PartKind,
    /// Name in build sheets.
    pub key: &'static str,
    /// As said, on the shelf too.
    pub word: &'static str,
    pub build: Build,
    pub role: Role,
    pub shape: Shape,
    /// What its facing is called; none when both sides are alike.
    pub facing: Option<&'static str>,
    /// Hands-on minutes up to 100 mm outside.
    pub minutes: f64,
    /// Scrap once it was fitted and taken off.
    pub single_use: bool,
    /// Fitted into a bore at the bench unless said otherwise.
    pub lies_in_bore: bool,
    /// Width and outside from the shelf.
    pub usual: (Usual, Usual),
    /// What to look for before it is used again; none for what is not looked at alone.
    pub look: Option<&'static str>,
    /// What of it is measured before it goes on.
    pub kit: Option<&'static str>,
    pub on: Option<&'static str>,
    pub off: Option<&'static str>,
    /// Tools it goes on and comes off with; by its fit when none.
    pub tools: Option<(&'static str, &'static str)>,
    pub caution: Option<Caution>,
}

macro_rules! kinds {
    ($($(#[$m:meta])* $kind:ident { $($field:ident : $value:expr),* $(,)? })*) => {
        /// Kind of a part: each is one row of the table.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
        #[serde(rename_all = "snake_case")]
        #[allow(missing_docs)]
        pub enum PartKind { $($(#[$m])* $kind,)* }

        impl PartKind {
            /// All kinds, in the order of the shelf.
            pub const ALL: &'static [Self] = &[$($(#[$m])* Self::$kind,)*];

            /// Its row.
            #[must_use]
            pub fn row(self) -> &'static Row {
                match self {
                    $($(#[$m])* Self::$kind => const { &Row { kind: Self::$kind, $($field: $value,)* } },)*
                }
            }
        }
    };
}

use Build::{Key as InSeat, Ray, Whole, Yields};
use Usual::{Mm, Share};

kinds! {
    Bearing {
        key: "bearing", word: "bearing", build: Whole, role: Role::Rolling, shape: Shape::Rings, facing: Some("thick side"),
        minutes: 15.0, single_use: false, lies_in_bore: false, usual: (Share(0.45), Share(2.0)),
        look: Some("path, dents, colour, cage; bore and outside for creep"),
        kit: Some("Lay the new {name} beside the old one: the same number, bore, width, open or sealed, clearance; the old one is scrap unless it was passed."),
        on: None, off: None, tools: None, caution: None,
    }
    TaperCone {
        key: "taper_cone", word: "taper cone", build: Whole, role: Role::Cone, shape: Shape::Cone, facing: Some("large rib"),
        minutes: 15.0, single_use: false, lies_in_bore: false, usual: (Share(0.45), Share(2.0)),
        look: Some("rollers, large rib, cage, colour; bore for creep"), kit: Some("Lay the new {name} beside the old one and try it in its cup."),
        on: None, off: None, tools: None, caution: None,
    }
    Cup {
        key: "cup", word: "cup", build: Whole, role: Role::Cup, shape: Shape::Cup, facing: Some("thick wall"),
        minutes: 12.0, single_use: false, lies_in_bore: true, usual: (Share(0.45), Share(2.0)),
        look: Some("path, dents, colour; outside for creep"), kit: Some("Lay the new {name} beside the old one: both are changed as a pair."),
        on: None, off: None, tools: None, caution: None,
    }
    ThrustWasher {
        key: "thrust_washer", word: "thrust washer", build: Whole, role: Role::ThrustWasher, shape: Shape::Washer, facing: Some("grooved face"),
        minutes: 3.0, single_use: false, lies_in_bore: false, usual: (Share(0.5), Share(1.4)),
        look: Some("faces for scoring, runout, nick at the edges"), kit: Some("Measure {name} at four points; washers of one set against each other."),
        on: Some("Lay {name} on{faces}; centre it before anything nips it."), off: None, tools: Some(("hands", "hands")), caution: None,
    }
    Spacer {
        key: "spacer", word: "spacer", build: Whole, role: Role::Spacer, shape: Shape::Plain, facing: None,
        minutes: 3.0, single_use: false, lies_in_bore: false, usual: (Share(0.5), Share(1.4)),
        look: Some("faces parallel, burrs"), kit: Some("Measure the height of {name} at four points, with a gauge that reads microns."),
        on: None, off: None, tools: None, caution: None,
    }
    Shim {
        key: "shim", word: "shim", build: Whole, role: Role::Shim, shape: Shape::Leaf, facing: None,
        minutes: 3.0, single_use: false, lies_in_bore: false, usual: (Mm(2.0), Share(1.4)),
        look: None, kit: Some("Measure each leaf of {name} at three points; no burr, no fold."),
        on: None, off: None, tools: None, caution: Some(Caution::SharpEdges),
    }
    Seal {
        key: "seal", word: "lip seal", build: Yields, role: Role::Lip, shape: Shape::Lip, facing: Some("lip"),
        minutes: 6.0, single_use: true, lies_in_bore: true, usual: (Mm(8.0), Share(1.5)),
        look: None, kit: Some("Measure the new {name} against shaft, bore and width; lip without nick, spring in place."),
        on: Some("Drive {name} square into {into}{faces}, opposite then quarter points; lip oiled."),
        off: Some("Lever {name} out without touching the shaft: it is scrap."), tools: Some(("seal driver", "seal hook")), caution: None,
    }
    ORing {
        key: "o_ring", word: "O-ring", build: Yields, role: Role::Cord, shape: Shape::Cord, facing: None,
        minutes: 3.0, single_use: true, lies_in_bore: true, usual: (Mm(3.0), Share(1.15)),
        look: None, kit: Some("Lay a new {name} out and compare it with the groove."),
        on: Some("Lay {name} in from several points and back towards the start, so that no length is left over; grease holds it."),
        off: None, tools: Some(("hands", "blunt pick")), caution: None,
    }
    Ring {
        key: "ring", word: "seal ring", build: Whole, role: Role::SealRing, shape: Shape::SplitRing, facing: None,
        minutes: 3.0, single_use: false, lies_in_bore: true, usual: (Mm(3.0), Share(1.15)),
        look: Some("gap, groove, edges"), kit: None, on: None, off: None, tools: None, caution: Some(Caution::SharpEdges),
    }
    Sleeve {
        key: "sleeve", word: "sleeve", build: Whole, role: Role::Plain, shape: Shape::Plain, facing: None,
        minutes: 6.0, single_use: false, lies_in_bore: false, usual: (Share(0.5), Share(1.4)),
        look: Some("wear track under the lip, faces square"), kit: None, on: None, off: None, tools: None, caution: None,
    }
    Collar {
        key: "collar", word: "thrust collar", build: Whole, role: Role::Collar, shape: Shape::Collar, facing: None,
        minutes: 15.0, single_use: false, lies_in_bore: false, usual: (Share(0.4), Share(2.2)),
        look: Some("faces for scoring, runout, nick at the edges"), kit: None, on: None, off: None, tools: None, caution: None,
    }
    Key {
        key: "key", word: "key", build: InSeat, role: Role::Key, shape: Shape::Key, facing: None,
        minutes: 3.0, single_use: false, lies_in_bore: false, usual: (Share(0.6), Share(1.16)),
        look: None, kit: None, on: Some("Bed {name} in its seat, chamfered corners down."),
        off: Some("Lift {name} out of its seat; mark its up side."), tools: Some(("soft drift", "soft drift")), caution: None,
    }
    Impeller {
        key: "impeller", word: "impeller", build: Whole, role: Role::Rotor, shape: Shape::Impeller, facing: Some("eye"),
        minutes: 12.0, single_use: false, lies_in_bore: false, usual: (Share(0.9), Share(3.0)),
        look: Some("bore, keyway, wear ring step, erosion, balance marks"), kit: None, on: None, off: None, tools: None, caution: None,
    }
    Wheel {
        key: "wheel", word: "wheel", build: Whole, role: Role::Rotor, shape: Shape::Wheel, facing: Some("eye"),
        minutes: 12.0, single_use: false, lies_in_bore: false, usual: (Share(0.9), Share(3.0)),
        look: Some("bore, keyway, blades, balance marks"), kit: None, on: None, off: None, tools: None, caution: None,
    }
    Pulley {
        key: "pulley", word: "pulley", build: Whole, role: Role::Plain, shape: Shape::Pulley, facing: None,
        minutes: 12.0, single_use: false, lies_in_bore: false, usual: (Share(0.9), Share(3.0)),
        look: Some("bore, groove, cracks"), kit: None, on: None, off: None, tools: None, caution: None,
    }
    Gear {
        key: "gear", word: "gear", build: Whole, role: Role::Plain, shape: Shape::Gear, facing: None,
        minutes: 12.0, single_use: false, lies_in_bore: false, usual: (Share(0.9), Share(3.0)),
        look: Some("teeth, bore, keyway"), kit: None, on: None, off: None, tools: None, caution: None,
    }
    Flinger {
        key: "flinger", word: "flinger", build: Whole, role: Role::Flinger, shape: Shape::Flinger, facing: Some("face"),
        minutes: 6.0, single_use: false, lies_in_bore: false, usual: (Share(0.5), Share(1.4)),
        look: Some("bore, groove, cracks"), kit: None, on: Some("Slide {name} in{faces} until it touches."), off: None,
        tools: None, caution: None,
    }
    Nut {
        key: "nut", word: "nut", build: Whole, role: Role::Nut, shape: Shape::Nut, facing: None,
        minutes: 6.0, single_use: false, lies_in_bore: false, usual: (Share(0.3), Share(1.5)),
        look: Some("threads by hand, slots, faces square"), kit: None,
        on: Some("Oil face and thread of {name}, turn it backwards until the thread drops in, then on by hand to the stop: that is zero."),
        off: None, tools: Some(("hands", "hands")), caution: None,
    }
    TabWasher {
        key: "tab_washer", word: "tab washer", build: Whole, role: Role::TabWasher, shape: Shape::TabWasher, facing: Some("bent tab"),
        minutes: 3.0, single_use: false, lies_in_bore: false, usual: (Mm(2.0), Share(1.4)),
        look: None, kit: Some("Look at {name}: tongue whole, and a tab that was never bent."),
        on: Some("Lay {name} on with its tongue in the groove{faces}."), off: None, tools: Some(("hands", "hands")), caution: None,
    }
    Circlip {
        key: "circlip", word: "circlip", build: Yields, role: Role::Clip, shape: Shape::Clip, facing: Some("sharp side"),
        minutes: 3.0, single_use: false, lies_in_bore: false, usual: (Mm(2.0), Share(1.4)),
        look: None, kit: Some("Look at {name}: flat, sprung, sharp side known."),
        on: Some("Spring {name} home{faces}; try it all round with a pick."), off: Some("Spring {name} out, cloth over it."),
        tools: Some(("circlip pliers", "circlip pliers")), caution: Some(Caution::SnapRing),
    }
    SetScrew {
        key: "set_screw", word: "set screw", build: Ray, role: Role::Screw, shape: Shape::Screw, facing: None,
        minutes: 3.0, single_use: false, lies_in_bore: false, usual: (Share(0.5), Share(1.4)),
        look: None, kit: None, on: Some("Start {name} with a clean thread."), off: Some("Back {name} out; look for the dimple beneath."),
        tools: Some(("hex key", "hex key")), caution: None,
    }
    Cover {
        key: "cover", word: "cover", build: Whole, role: Role::Cover, shape: Shape::Cover, facing: None,
        minutes: 10.0, single_use: false, lies_in_bore: false, usual: (Share(0.4), Share(2.4)),
        look: Some("joint face, cracks, drain and feed holes open"), kit: None, on: None, off: None, tools: None, caution: None,
    }
    Insert {
        key: "insert", word: "insert", build: Whole, role: Role::Insert, shape: Shape::Insert, facing: Some("face"),
        minutes: 10.0, single_use: false, lies_in_bore: true, usual: (Share(0.5), Share(1.4)),
        look: Some("joint face, cracks, drain and feed holes open"), kit: None, on: None, off: None, tools: None, caution: None,
    }
    Cap {
        key: "cap", word: "cap", build: Whole, role: Role::Cap, shape: Shape::Cap, facing: None,
        minutes: 10.0, single_use: false, lies_in_bore: false, usual: (Share(0.4), Share(2.4)),
        look: Some("joint face, cracks, drain and feed holes open"), kit: None, on: None, off: None, tools: None, caution: None,
    }
    Expander {
        key: "expander", word: "expander", build: Whole, role: Role::Expander, shape: Shape::Expander, facing: None,
        minutes: 10.0, single_use: false, lies_in_bore: true, usual: (Share(0.5), Share(1.4)),
        look: Some("faces, burrs, screws free"), kit: None, on: Some("Start the screws of {name} before the cap is pulled down."),
        off: None, tools: Some(("screwdriver", "screwdriver")), caution: None,
    }
    ShoeSet {
        key: "shoe_set", word: "shoe set", build: Whole, role: Role::Shoes, shape: Shape::Shoes, facing: Some("face"),
        minutes: 15.0, single_use: false, lies_in_bore: true, usual: (Share(0.5), Share(1.4)),
        look: Some("white metal wiped or white, edges rounded on both sides, no nick"),
        kit: Some("Measure every shoe of {name}: all within the limit, both edges rounded."),
        on: Some("Lay the shoes of {name} in their order{faces}, oiled; free to tilt."),
        off: Some("Lift the shoes of {name} out one by one and lay them in their order."), tools: Some(("hands", "hands")), caution: None,
    }
    BaseRing {
        key: "base_ring", word: "base ring", build: Whole, role: Role::BaseRing, shape: Shape::BaseRing, facing: None,
        minutes: 10.0, single_use: false, lies_in_bore: true, usual: (Share(0.5), Share(1.4)),
        look: Some("levelling plates whole and interlocked"), kit: None,
        on: Some("Set {name} with its levelling plates interlocked and free."), off: None, tools: Some(("hands", "hands")), caution: None,
    }
    Probe {
        key: "probe", word: "probe", build: Ray, role: Role::Sensor, shape: Shape::Probe, facing: None,
        minutes: 10.0, single_use: false, lies_in_bore: true, usual: (Share(0.5), Share(1.4)),
        look: Some("wire, insulation, ohms"), kit: None, on: Some("Screw {name} in, its wire routed before any cover."),
        off: Some("Unscrew {name} and lay its wire aside."), tools: Some(("wrench", "wrench")), caution: None,
    }
    Bush {
        key: "bush", word: "bush", build: Whole, role: Role::Bush, shape: Shape::Bush, facing: None,
        minutes: 12.0, single_use: false, lies_in_bore: true, usual: (Share(0.5), Share(1.4)),
        look: Some("bore for scoring and size, both alike"),
        kit: Some("Measure bore, outside and length of {name}; pair it with its hole."), on: None, off: None, tools: None, caution: None,
    }
    Gasket {
        key: "gasket", word: "gasket", build: Whole, role: Role::Gasket, shape: Shape::Gasket, facing: None,
        minutes: 3.0, single_use: true, lies_in_bore: false, usual: (Mm(2.0), Share(1.4)),
        look: None, kit: Some("Lay a new {name} on its face: holes open, the same thickness."),
        on: None, off: None, tools: None, caution: None,
    }
    Plate {
        key: "plate", word: "plate", build: Whole, role: Role::Plate, shape: Shape::Plate, facing: None,
        minutes: 10.0, single_use: false, lies_in_bore: false, usual: (Share(0.4), Share(2.4)),
        look: Some("faces for scoring, nick at the edges"), kit: None, on: None, off: None, tools: None, caution: None,
    }
    #[cfg(test)]
    Trial {
        key: "trial", word: "trial ring", build: Whole, role: Role::Plain, shape: Shape::Plain, facing: Some("painted face"),
        minutes: 4.0, single_use: true, lies_in_bore: false, usual: (Mm(5.0), Share(1.3)),
        look: None, kit: Some("Count {name}."), on: Some("Hang {name} on{faces}."), off: None, tools: Some(("tongs", "tongs")), caution: None,
    }
}

impl PartKind {
    /// Name in build sheets.
    #[must_use]
    pub fn key(self) -> &'static str {
        self.row().key
    }
    /// As said.
    #[must_use]
    pub fn word(self) -> &'static str {
        self.row().word
    }
    /// From its name in build sheets.
    #[must_use]
    pub fn of(key: &str) -> Option<Self> {
        Self::ALL.iter().copied().find(|k| k.key() == key)
    }
    /// What it does.
    #[must_use]
    pub fn role(self) -> Role {
        self.row().role
    }
    /// Hands-on minutes to put it on, before the shop has its own: by kind, more from 100 mm outside on.
    #[must_use]
    pub fn minutes(self, outside_mm: f64) -> f64 {
        self.row().minutes
            * if outside_mm > 250.0 {
                2.0
            } else if outside_mm > 100.0 {
                1.4
            } else {
                1.0
            }
    }
    /// Always scrap once it was fitted and taken off: a used seal is never put back, a gasket and an O-ring neither.
    #[must_use]
    pub fn single_use(self) -> bool {
        self.row().single_use
    }
    /// Faces a way that matters: lip, thick side, eye, large diameter.
    #[must_use]
    pub fn has_facing(self) -> bool {
        self.row().facing.is_some()
    }
    /// What its facing is called.
    #[must_use]
    pub fn facing_word(self) -> &'static str {
        self.row().facing.unwrap_or("face")
    }
    /// Holds a hot ring home while it cools: it goes on and is nipped before that is cold.
    #[must_use]
    pub fn holds_home(self) -> bool {
        self.role().sets_distance() || matches!(self.role(), Role::Nut | Role::TabWasher)
    }
    /// Sits in a bore at the bench before its carrier goes over the shaft.
    #[must_use]
    pub fn lies_in_bore(self) -> bool {
        self.row().lies_in_bore
    }
}

/// How a part sits.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Hold {
    Loose,
    #[default]
    Slide,
    Press,
    Shrink,
    Oil,
    Screwed,
}

impl Hold {
    /// All, with their names in build sheets.
    pub const ALL: [(Self, &'static str); 6] = [
        (Self::Loose, "loose"),
        (Self::Slide, "slide"),
        (Self::Press, "press"),
        (Self::Shrink, "shrink"),
        (Self::Oil, "oil"),
        (Self::Screwed, "screwed"),
    ];

    /// Name in build sheets.
    #[must_use]
    pub fn key(self) -> &'static str {
        Self::ALL.iter().find(|k| k.0 == self).map_or("", |k| k.1)
    }
    /// Holds by interference.
    #[must_use]
    pub fn tight(self) -> bool {
        matches!(self, Self::Press | Self::Shrink | Self::Oil)
    }
    /// Tool it is put on with: what a change of tools counts.
    #[must_use]
    pub fn tool(self) -> &'static str {
        match self {
            Self::Loose | Self::Slide => "hands",
            Self::Press => "press and tube",
            Self::Shrink => "gloves and tongs",
            Self::Oil => "pumps and gauges",
            Self::Screwed => "wrench",
        }
    }
    /// Minutes that nothing but waiting passes after it is on: cooling by size, oil film and hold.
    #[must_use]
    pub fn wait_minutes(self, outside_mm: f64) -> f64 {
        match self {
            Self::Shrink => (outside_mm / 4.0).clamp(10.0, 60.0).round(),
            Self::Oil => crate::fit::hydraulic::HOLD_MIN as f64 + 20.0,
            Self::Loose | Self::Slide | Self::Press | Self::Screwed => 0.0,
        }
    }
}
