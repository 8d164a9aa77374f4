//! The model: lands, parts, housings, seats, and what is to be set. Everything is plain data with units in its types.

use super::kinds::Role;
use super::{Hold, PartKind};
use crate::fasten::Hand;
use crate::fit::Material;
use crate::fit::heat::Cage;
use crate::fit::lame::Finish;
use crate::quantity::{Kelvins, Micrometres, Millimetres};
use crate::terms::End;
use serde::{Deserialize, Serialize};

/// Kind of a land.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, Default)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum LandKind {
    #[default]
    Plain,
    Thread,
    Keyway,
    Groove,
    Taper,
    Spline,
    Hole,
}

/// A stretch of shaft of one diameter.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Land {
    /// Short id.
    pub id: String,
    /// As said.
    pub name: String,
    /// Along the axis.
    pub length_mm: Millimetres,
    /// Diameter; a thread's outside.
    pub d_mm: Millimetres,
    /// Plain unless said.
    #[serde(default)]
    pub kind: LandKind,
    /// Hand of a thread.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hand: Option<Hand>,
    /// Pitch of a thread.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pitch_mm: Option<Millimetres>,
    /// Diameter at end B of a taper; `d_mm` is that at end A.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub d_b_mm: Option<Millimetres>,
}

/// Something that sits on the shaft.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Part {
    /// Short id.
    pub id: String,
    /// As said.
    pub name: String,
    /// What it is.
    pub kind: PartKind,
    /// Land it sits on.
    pub land: String,
    /// Its A face, from the A end of the land; may be negative where it overhangs.
    #[serde(default)]
    pub at_mm: Millimetres,
    /// Along the axis.
    pub width_mm: Millimetres,
    /// Outside.
    pub outside_mm: Millimetres,
    /// Which way it faces: a lip, an eye, the open side of a pair's contact angle.
    #[serde(default)]
    pub faces: Option<End>,
    /// What is written on a bearing.
    #[serde(default)]
    pub designation: Option<String>,
    /// Its bore; that of its land unless said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bore_mm: Option<Millimetres>,
    /// End it comes from.
    #[serde(default)]
    pub from: End,
    /// Can be laid on sideways.
    #[serde(default, skip_serializing_if = "not")]
    pub split: bool,
    /// How it sits.
    #[serde(default)]
    pub fit: Hold,
    /// Parts it locks.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub locks: Vec<String>,
    /// Parts it covers: they are in before it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub covers: Vec<String>,
    /// Its key.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub key: Option<String>,
    /// Part or housing it is fitted into at the bench.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub carried_by: Option<String>,
    /// Housing it lies in when that goes over the shaft.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub inside: Option<String>,
    /// End of what a lip keeps in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub keeps: Option<End>,
    /// Hand of a nut.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hand: Option<Hand>,
    /// Slots of a nut, and tabs of its washer.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub slots: Option<u32>,
    /// Tabs of the washer under a nut.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tabs: Option<u32>,
    /// Torque of a nut, if the maker gives one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub torque_nm: Option<f64>,
    /// A nut that is tightened from zero to a mark.
    #[serde(default, skip_serializing_if = "not")]
    pub match_mark: bool,
    /// How far a flinger is backed off from contact.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub back_off_mm: Option<Millimetres>,
    /// Stands at an angle that must be kept.
    #[serde(default, skip_serializing_if = "not")]
    pub clocked: bool,
    /// Can only be pulled off through its balls.
    #[serde(default, skip_serializing_if = "not")]
    pub through_balls: bool,
    /// Times the tab was bent before.
    #[serde(default, skip_serializing_if = "none")]
    pub tab_bent: u32,
    /// Set by a screw or by shims once it is on.
    #[serde(default, skip_serializing_if = "not")]
    pub adjusted: bool,
    /// Has a spring plunger.
    #[serde(default, skip_serializing_if = "not")]
    pub plunger: bool,
    /// Has an oiler that is held down until the spindle lies in place.
    #[serde(default, skip_serializing_if = "not")]
    pub oiler: bool,
    /// Hands-on minutes; by kind and size unless said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub minutes: Option<f64>,
    /// Hands it needs; by mass unless said.
    #[serde(default, skip_serializing_if = "none")]
    pub people: u32,
    /// Part of the shaft or of its carrier by manufacture: never taken off.
    #[serde(default, skip_serializing_if = "not")]
    pub solid: bool,
    /// Fitted into its carrier at the bench, or once that stands in its place.
    #[serde(default, skip_serializing_if = "at_bench")]
    pub fitted: Fitted,
    /// How a nut is turned.
    #[serde(default, skip_serializing_if = "around")]
    pub turned_by: TurnedBy,
    /// What locks a nut that has neither a tab washer nor a set screw.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub locked_by: Option<LockedBy>,
    /// Largest torque that a nut may have got; by its lock unless said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub torque_hi_nm: Option<f64>,
    /// What goes on the thread or into the joint.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub compound: Option<String>,
    /// Minutes that it cures.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cure_min: Option<f64>,
    /// Length of the tool that reaches it; 25 mm unless said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tool_mm: Option<Millimetres>,
    /// Mass; from its rings in steel unless said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mass_kg: Option<f64>,
    /// Gap voltage that a probe is set to.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub gap_volts: Option<f64>,
    /// What a nut is turned against, where that stands too far off to be told from the sizes.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub against: Option<String>,
    /// Its profile where one ring is not enough.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub rings: Vec<PartRing>,
}

/// Where something that is carried is fitted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Fitted {
    /// Into its carrier before that goes to its place.
    #[default]
    AtBench,
    /// Into its carrier where that stands.
    InPlace,
}

/// How a nut is turned: what room the tool needs.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum TurnedBy {
    /// A spanner round its outside.
    #[default]
    Outside,
    /// Pins or a socket in its face: no wall around it.
    Face,
    /// Through an opening of what stands around it.
    Window,
}

/// What locks a nut by itself.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum LockedBy {
    Tab,
    Pin,
    Wire,
    Stake,
    Compound,
    Prevailing,
}

impl LockedBy {
    /// All, with their names in build sheets.
    pub const ALL: [(Self, &'static str); 6] = [
        (Self::Tab, "tab"),
        (Self::Pin, "pin"),
        (Self::Wire, "wire"),
        (Self::Stake, "stake"),
        (Self::Compound, "compound"),
        (Self::Prevailing, "prevailing"),
    ];
}

/// A ring of a part's profile, along the axis from its A face.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct PartRing {
    pub from_mm: Millimetres,
    pub to_mm: Millimetres,
    pub bore_mm: Millimetres,
    pub outside_mm: Millimetres,
}

/// How tight what a reading rests on is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Condition {
    /// Tightened and cold.
    #[default]
    Tight,
    /// Nipped only.
    Nipped,
    /// With the nut slack that sets it: as found it can be read only once that is loosened.
    Slack,
}

/// How the shaft stands when it is worked on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Stands {
    /// Its weight lies across its bearings.
    #[default]
    Level,
    /// End A is up: the rotor hangs from what carries it along its axis.
    Vertical,
}

/// What lubricates the bearings.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Lubricant {
    Grease,
    Oil,
}

impl Part {
    /// Whether it locks that nut: a tab washer beside it or named by one of the two, a screw that names it.
    #[must_use]
    pub fn locks_nut(&self, nut: &Self) -> bool {
        match self.kind.role() {
            Role::TabWasher => {
                nut.locks.contains(&self.id)
                    || self.locks.contains(&nut.id)
                    || (self.land == nut.land && self.from == nut.from)
            }
            Role::Screw => self.locks.contains(&nut.id),
            _ => false,
        }
    }
    /// What its facing is called: a bearing has a thick side when it carries thrust at an angle, otherwise only the
    /// side it is marked on.
    #[must_use]
    pub fn facing_word(&self) -> &'static str {
        let read = || self.designation.as_deref().and_then(|d| crate::fit::designation::read(d).ok());
        use crate::fit::designation::BearingType::{AngularContact, TaperRoller};
        let plain =
            self.kind.role() == Role::Rolling && read().is_none_or(|b| !matches!(b.kind, AngularContact | TaperRoller));
        if plain { "marked side" } else { self.kind.facing_word() }
    }
}

#[allow(clippy::trivially_copy_pass_by_ref)] // serde hands a reference
fn not(flag: &bool) -> bool {
    !flag
}

#[allow(clippy::trivially_copy_pass_by_ref)] // serde hands a reference
fn at_bench(f: &Fitted) -> bool {
    *f == Fitted::AtBench
}

#[allow(clippy::trivially_copy_pass_by_ref)] // serde hands a reference
fn around(t: &TurnedBy) -> bool {
    *t == TurnedBy::Outside
}

#[allow(clippy::trivially_copy_pass_by_ref)] // serde hands a reference
fn lying(s: &Stands) -> bool {
    *s == Stands::Level
}

#[allow(clippy::trivially_copy_pass_by_ref)] // serde hands a reference
fn tight(c: &Condition) -> bool {
    *c == Condition::Tight
}

#[allow(clippy::trivially_copy_pass_by_ref)] // serde hands a reference
fn none(n: &u32) -> bool {
    *n == 0
}

/// A bore in a housing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Bore {
    /// From, along the axis from end A of the shaft.
    pub from_mm: Millimetres,
    /// To.
    pub to_mm: Millimetres,
    /// Diameter.
    pub d_mm: Millimetres,
}

/// Something that goes around: drawn hatched.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Housing {
    /// Short id.
    pub id: String,
    /// As said.
    pub name: String,
    /// Outside where the bearing sits: stiffness of the seat.
    pub outside_mm: Millimetres,
    /// Bores from A to B, touching.
    pub bores: Vec<Bore>,
    /// What it is cast from.
    pub material: Material,
    /// Stands on feet (drawn below).
    #[serde(default)]
    pub feet: bool,
    /// End it goes over the shaft from; none: the shaft is laid into it, it holds nothing up.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub from: Option<End>,
    /// Parted along the axis.
    #[serde(default, skip_serializing_if = "not")]
    pub split: bool,
    /// Parts it covers.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub covers: Vec<String>,
    /// Stands at an angle that must be kept.
    #[serde(default, skip_serializing_if = "not")]
    pub clocked: bool,
    /// Mass; from its bores in its metal unless said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mass_kg: Option<f64>,
}

/// What a hole in a housing is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum HoleKind {
    Drain,
    Feed,
    Port,
}

/// A hole that must face somewhere.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Hole {
    /// Short id.
    pub id: String,
    /// As said.
    pub name: String,
    /// Housing it is in, or part: a drain of a cover.
    pub housing: String,
    /// What for.
    pub kind: HoleKind,
    /// Direction, 0 up, clockwise seen from end A; a drain is at 180.
    #[serde(default)]
    pub at_deg: f64,
}

/// "Before" by hand, with its reason.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Rule {
    /// Goes on first.
    pub first: String,
    /// Goes on after it.
    pub then: String,
    /// Why.
    #[serde(default)]
    pub reason: String,
}

/// Which way the shaft turns.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Rotation {
    /// Seen from this end.
    pub seen_from: End,
    /// Clockwise.
    pub clockwise: bool,
}

impl Rotation {
    /// Clockwise when seen from an end.
    #[must_use]
    pub fn clockwise_from(self, end: End) -> bool {
        self.clockwise == (self.seen_from == end)
    }
}

/// Two bearings meant to work against each other.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct PairOf {
    /// One.
    pub a: String,
    /// The other.
    pub b: String,
    /// DB, DF or DT.
    pub arrangement: String,
    /// Spacers between them.
    #[serde(default)]
    pub spacers: Vec<String>,
}

/// A thrust set of two diameters whose larger one lies towards an end.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct ThrustSet {
    pub smaller: String,
    pub larger: String,
    pub larger_towards: End,
}

/// A float to be set.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct FloatOf {
    pub id: String,
    pub name: String,
    pub lo_mm: Millimetres,
    pub hi_mm: Millimetres,
    /// Shim that sets it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub shim: Option<String>,
    #[serde(default = "yes")]
    pub thicker_reduces: bool,
    /// Parts that bound it; the bearings and what locates them when empty.
    #[serde(default)]
    pub after: Vec<String>,
    /// Where the limit comes from.
    #[serde(default)]
    pub source: String,
    /// Must not be on yet: total travel before the shoes are in.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub without: Vec<String>,
    /// Carry the shaft for this reading though what they belong into is out: a bush slipped on for a trial.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub trial: Vec<String>,
    /// How tight what it rests on is.
    #[serde(default, skip_serializing_if = "tight")]
    pub condition: Condition,
}

impl FloatOf {
    /// Middle of its limits: what it is set to.
    #[must_use]
    pub fn middle(&self) -> Millimetres {
        Millimetres(f64::midpoint(self.lo_mm.0, self.hi_mm.0))
    }
}

fn yes() -> bool {
    true
}

/// A sweep with its limit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct RunoutOf {
    pub id: String,
    pub name: String,
    /// What the reading rests on.
    pub part: String,
    pub limit_um: Micrometres,
    #[serde(default)]
    pub source: String,
    /// Surface that the dial touches: a part, housing or land.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reads: Option<String>,
    /// Must not be on yet: total travel before the shoes are in.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub without: Vec<String>,
    /// Carry the shaft for this reading though what they belong into is out: a bush slipped on for a trial.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub trial: Vec<String>,
    /// How tight what it rests on is.
    #[serde(default, skip_serializing_if = "tight")]
    pub condition: Condition,
}

/// A gap around a wheel.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct GapOf {
    pub id: String,
    pub name: String,
    pub min_mm: Millimetres,
    /// Parts and housings that make it; wheels inside a housing that is named count. All when empty.
    #[serde(default)]
    pub after: Vec<String>,
    #[serde(default)]
    pub source: String,
    /// Must not be on yet: total travel before the shoes are in.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub without: Vec<String>,
    /// Carry the shaft for this reading though what they belong into is out: a bush slipped on for a trial.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub trial: Vec<String>,
    /// How tight what it rests on is.
    #[serde(default, skip_serializing_if = "tight")]
    pub condition: Condition,
}

/// A ring of bolts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct BoltRing {
    /// Part or housing it holds.
    pub part: String,
    /// Part or housing it is fastened to; the one whose face its flange meets unless said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub to: Option<String>,
    pub n: u32,
    pub torque_nm: f64,
    /// Largest torque that may have been given; a tenth more unless said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub torque_hi_nm: Option<f64>,
    /// Bolt circle; with `head`, what hides the heads is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub circle_mm: Option<Millimetres>,
    /// End the heads look to.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub head: Option<End>,
    /// What goes on the threads.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub compound: Option<String>,
}

/// How deep a ring must sit, from a datum a depth micrometer can reach.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Depth {
    /// What is measured from.
    pub datum: String,
    /// Drawing value.
    pub expected_mm: Millimetres,
    /// Either way.
    pub tolerance_mm: Millimetres,
}

/// A bearing seat: a ring on a land, and its outer ring in a bore.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Seat {
    /// Short id.
    pub id: String,
    /// As said.
    pub name: String,
    /// The bearing part.
    pub part: String,
    /// Housing around it.
    pub housing: String,
    /// Class of the journal.
    pub shaft_class: String,
    /// Class of the bore.
    pub housing_class: String,
    /// Bore of a hollow shaft; 0 if solid.
    #[serde(default)]
    pub shaft_bore_mm: Millimetres,
    /// Shaft steel.
    pub shaft_material: Material,
    /// Finish of the journal.
    #[serde(default)]
    pub finish: Finish,
    /// Cage.
    #[serde(default)]
    pub cage: Cage,
    /// The end it is put on from.
    pub from: End,
    /// What it is driven against, as said.
    pub against: String,
    /// What holds it afterwards, as said; empty if nothing.
    #[serde(default)]
    pub nut: String,
    /// Depth check.
    pub depth: Depth,
    /// Runs preloaded on purpose.
    #[serde(default)]
    pub preload_meant: bool,
    /// How much hotter the inner ring runs.
    #[serde(default)]
    pub inner_hotter_k: Kelvins,
    /// Limits that need a lead to overrule.
    #[serde(default)]
    pub critical: bool,
    /// Where the limits come from, with date.
    pub source: String,
}

/// A machine type.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Anatomy {
    /// Stable name.
    pub key: String,
    /// As said.
    pub name: String,
    /// Counts up with every change.
    pub version: u32,
    /// Shaft from end A to end B.
    pub lands: Vec<Land>,
    /// Parts on it.
    pub parts: Vec<Part>,
    /// Housings around it.
    #[serde(default)]
    pub housings: Vec<Housing>,
    /// Bearing seats.
    #[serde(default)]
    pub seats: Vec<Seat>,
    /// Which way it turns.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rotation: Option<Rotation>,
    /// Grease or oil.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lubricant: Option<Lubricant>,
    /// How the shaft stands.
    #[serde(default, skip_serializing_if = "lying")]
    pub stands: Stands,
    /// Speed it is run in to; 0 when not said.
    #[serde(default, skip_serializing_if = "naught")]
    pub run_in_rpm: f64,
    /// "Before" by hand.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub before: Vec<Rule>,
    /// Bearings that work against each other.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub pairs: Vec<PairOf>,
    /// Thrust sets of two diameters.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub thrust_sets: Vec<ThrustSet>,
    /// Floats to be set.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub floats: Vec<FloatOf>,
    /// Sweeps with limits.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub runouts: Vec<RunoutOf>,
    /// Gaps around wheels.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub gaps: Vec<GapOf>,
    /// Holes that must face somewhere.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub holes: Vec<Hole>,
    /// Rings of bolts.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub bolt_rings: Vec<BoltRing>,
}

#[allow(clippy::trivially_copy_pass_by_ref)] // serde hands a reference
fn naught(v: &f64) -> bool {
    *v == 0.0
}
