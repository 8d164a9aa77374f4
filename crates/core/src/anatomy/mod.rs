//! What a machine type is made of: spine, parts, housings, seats (handbook 08). A rebuild pins one version of it.

pub mod as_found;
pub mod build_sheet;
mod derive;
pub mod edit;
mod kinds;
pub mod sequence;
pub mod steps;

pub use derive::{Derived, Fault, Why, because, derive, say};
pub use kinds::{Hold, PartKind};

use crate::fasten::Hand;
use crate::fit::designation::{self, Bearing};
use crate::fit::heat::Cage;
use crate::fit::lame::Finish;
use crate::fit::{Material, iso286};
use crate::quantity::{Kelvins, Micrometres, Millimetres};
use crate::refusal::{Refusal, Result, expect};
use serde::{Deserialize, Serialize};

/// An end of the shaft; A is drawn on the left.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Hash, Serialize, Deserialize)]
#[allow(missing_docs)]
pub enum End {
    #[default]
    A,
    B,
}

impl End {
    /// The letter.
    #[must_use]
    pub fn letter(self) -> &'static str {
        match self {
            Self::A => "A",
            Self::B => "B",
        }
    }
}

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
    /// Hands it needs; by size unless said.
    #[serde(default, skip_serializing_if = "none")]
    pub people: u32,
}

#[allow(clippy::trivially_copy_pass_by_ref)] // serde hands a reference
fn not(flag: &bool) -> bool {
    !flag
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
    /// Housing it is in.
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
    /// Parts that must be on; all of them when empty.
    #[serde(default)]
    pub after: Vec<String>,
    /// Where the limit comes from.
    #[serde(default)]
    pub source: String,
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
    pub part: String,
    pub limit_um: Micrometres,
    #[serde(default)]
    pub source: String,
}

/// A gap around a wheel.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct GapOf {
    pub id: String,
    pub name: String,
    pub min_mm: Millimetres,
    /// Parts and housings that make it; all when empty.
    #[serde(default)]
    pub after: Vec<String>,
    #[serde(default)]
    pub source: String,
}

impl GapOf {
    /// Taking any of these off loses it.
    #[must_use]
    pub fn before_off(&self, a: &Anatomy) -> Vec<String> {
        if self.after.is_empty() { a.housings.iter().map(|h| h.id.clone()).collect() } else { self.after.clone() }
    }
}

/// A ring of bolts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct BoltRing {
    /// Part or housing it holds.
    pub part: String,
    pub n: u32,
    pub torque_nm: f64,
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

impl Anatomy {
    /// Checks that every reference leads somewhere and every size can be.
    ///
    /// # Errors
    /// Field `lands`, `parts`, `housings` or `seats`, with the id in the sentence.
    pub fn check(self) -> Result<Self> {
        unique("lands", self.lands.iter().map(|l| &l.id))?;
        unique("parts", self.parts.iter().map(|p| &p.id))?;
        unique("housings", self.housings.iter().map(|h| &h.id))?;
        unique("seats", self.seats.iter().map(|s| &s.id))?;
        expect(!self.lands.is_empty(), "lands", "a shaft needs at least one land")?;
        for l in &self.lands {
            expect(l.length_mm.0 > 0.0 && l.d_mm.0 > 0.0, "lands", format!("land {} needs a length and a diameter above 0", l.id))?;
        }
        for p in &self.parts {
            let land =
                self.land(&p.land).ok_or_else(|| Refusal::new("parts", format!("{} sits on land {}, which is not there", p.id, p.land)))?;
            expect(
                p.width_mm.0 > 0.0 && p.outside_mm.0 > land.d_mm.0,
                "parts",
                format!("{} must be wider than 0 and larger outside than its land ({} mm)", p.id, land.d_mm.0),
            )?;
            if p.kind == PartKind::Bearing {
                let b = self.bearing(p)?;
                expect(
                    (b.d.0 - land.d_mm.0).abs() < 0.5,
                    "parts",
                    format!("{} has a bore of {} mm, its land is {} mm", p.id, b.d.0, land.d_mm.0),
                )?;
            }
        }
        for h in &self.housings {
            expect(
                !h.bores.is_empty() && h.bores.iter().all(|b| b.to_mm.0 > b.from_mm.0 && b.d_mm.0 > 0.0 && b.d_mm.0 < h.outside_mm.0),
                "housings",
                format!("{} needs bores that run from A to B and are smaller than its outside", h.id),
            )?;
        }
        for s in &self.seats {
            self.facts(&s.id)?;
        }
        self.references()?;
        Ok(self)
    }

    /// Everything that one thing says of another leads somewhere.
    fn references(&self) -> Result<()> {
        let most = [("lands", self.lands.len(), 300), ("parts", self.parts.len(), 600), ("housings", self.housings.len(), 60)];
        for (field, n, limit) in most {
            expect(n <= limit, field, format!("at most {limit} are taken: this sheet has {n}"))?;
        }
        let ids: std::collections::HashSet<&str> =
            self.parts.iter().map(|p| p.id.as_str()).chain(self.housings.iter().map(|h| h.id.as_str())).collect();
        expect(ids.len() == self.parts.len() + self.housings.len(), "housings", "a part and a housing have the same id")?;
        let there = |field: &str, who: &str, id: &str| {
            expect(ids.contains(id), field, format!("{who} names {id}, which is neither a part nor a housing"))
        };
        for p in &self.parts {
            for id in p.locks.iter().chain(&p.covers).chain(&p.key).chain(&p.carried_by).chain(&p.inside) {
                there("parts", &p.id, id)?;
                expect(*id != p.id, "parts", format!("{} names itself", p.id))?;
            }
            let bore = self.bore_of(p).0;
            expect(bore < p.outside_mm.0, "parts", format!("{} has a bore of {bore} mm and an outside of {} mm", p.id, p.outside_mm.0))?;
        }
        for h in &self.housings {
            for id in &h.covers {
                there("housings", &h.id, id)?;
            }
        }
        for r in &self.before {
            there("before", "a rule", &r.first)?;
            there("before", "a rule", &r.then)?;
        }
        for p in &self.pairs {
            for id in [&p.a, &p.b].into_iter().chain(&p.spacers) {
                there("pairs", "a pair", id)?;
            }
            expect(["DB", "DF", "DT"].contains(&p.arrangement.as_str()), "pairs", "expected the arrangement DB, DF or DT")?;
        }
        for t in &self.thrust_sets {
            there("thrust_sets", "a thrust set", &t.smaller)?;
            there("thrust_sets", "a thrust set", &t.larger)?;
        }
        unique("floats", self.floats.iter().map(|f| &f.id))?;
        unique("runouts", self.runouts.iter().map(|f| &f.id))?;
        unique("gaps", self.gaps.iter().map(|f| &f.id))?;
        for f in &self.floats {
            expect(f.hi_mm.0 >= f.lo_mm.0, "floats", format!("{} has its upper limit below its lower one", f.id))?;
            for id in f.shim.iter().chain(&f.after) {
                there("floats", &f.id, id)?;
            }
        }
        for r in &self.runouts {
            there("runouts", &r.id, &r.part)?;
        }
        for g in &self.gaps {
            for id in &g.after {
                there("gaps", &g.id, id)?;
            }
        }
        for h in &self.holes {
            expect(
                self.housings.iter().any(|x| x.id == h.housing),
                "holes",
                format!("{} is in {}, which is not a housing", h.id, h.housing),
            )?;
        }
        for b in &self.bolt_rings {
            there("bolt_rings", "a bolt ring", &b.part)?;
            expect((1..=200).contains(&b.n) && b.torque_nm > 0.0, "bolt_rings", "expected 1 to 200 bolts and a torque above 0")?;
        }
        Ok(())
    }

    /// A land by id.
    #[must_use]
    pub fn land(&self, id: &str) -> Option<&Land> {
        self.lands.iter().find(|l| l.id == id)
    }
    /// A part by id.
    #[must_use]
    pub fn part(&self, id: &str) -> Option<&Part> {
        self.parts.iter().find(|p| p.id == id)
    }
    /// A seat by id.
    #[must_use]
    pub fn seat(&self, id: &str) -> Option<&Seat> {
        self.seats.iter().find(|s| s.id == id)
    }
    /// Bore of a part: its own, its designation's, or its land's diameter.
    #[must_use]
    pub fn bore_of(&self, p: &Part) -> Millimetres {
        let read = || p.designation.as_deref().and_then(|d| designation::read(d).ok()).map(|b| b.d);
        p.bore_mm.or_else(read).unwrap_or_else(|| self.land(&p.land).map_or(Millimetres(0.0), |l| l.d_mm))
    }
    /// Hands-on minutes of a part.
    #[must_use]
    pub fn minutes_of(&self, p: &Part) -> f64 {
        p.minutes.unwrap_or_else(|| p.kind.minutes(p.outside_mm.0))
    }
    /// Name of a part or housing; the id itself when there is none.
    #[must_use]
    pub fn name_of<'a>(&'a self, id: &'a str) -> &'a str {
        let part = self.parts.iter().find(|p| p.id == id).map(|p| p.name.as_str());
        part.or_else(|| self.housings.iter().find(|h| h.id == id).map(|h| h.name.as_str())).unwrap_or(id)
    }
    /// Length of the shaft.
    #[must_use]
    pub fn length(&self) -> Millimetres {
        Millimetres(self.lands.iter().map(|l| l.length_mm.0).sum())
    }
    /// A end of a land, from end A of the shaft.
    #[must_use]
    pub fn start(&self, land: &str) -> Option<Millimetres> {
        let i = self.lands.iter().position(|l| l.id == land)?;
        Some(Millimetres(self.lands[..i].iter().map(|l| l.length_mm.0).sum()))
    }
    /// A face of a part, from end A of the shaft.
    #[must_use]
    pub fn place(&self, part: &Part) -> Millimetres {
        Millimetres(self.start(&part.land).map_or(0.0, |s| s.0) + part.at_mm.0)
    }

    /// The designation of a bearing part, read.
    ///
    /// # Errors
    /// `parts`.
    pub fn bearing(&self, part: &Part) -> Result<Bearing> {
        let text =
            part.designation.as_deref().ok_or_else(|| Refusal::new("parts", format!("bearing {} needs its designation", part.id)))?;
        designation::read(text).map_err(|e| Refusal::new("parts", format!("{}: {}", part.id, e.message)))
    }

    /// Everything a fitter needs to know of one seat before measuring it.
    ///
    /// # Errors
    /// `seats`, when the seat or something it names is not there.
    pub fn facts(&self, seat_id: &str) -> Result<SeatFacts> {
        let bad = |what: String| Refusal::new("seats", what);
        let seat = self.seat(seat_id).ok_or_else(|| bad(format!("there is no seat {seat_id}")))?;
        let part = self.part(&seat.part).ok_or_else(|| bad(format!("seat {} names part {}, which is not there", seat.id, seat.part)))?;
        let index = self.lands.iter().position(|l| l.id == part.land).ok_or_else(|| bad(format!("{} has no land", part.id)))?;
        let housing = self
            .housings
            .iter()
            .find(|h| h.id == seat.housing)
            .ok_or_else(|| bad(format!("seat {} names housing {}, which is not there", seat.id, seat.housing)))?;
        let bearing = self.bearing(part)?;
        let journal = iso286::limits(bearing.d, &seat.shaft_class).map_err(|e| bad(format!("seat {}: {}", seat.id, e.message)))?;
        let bore = iso286::limits(bearing.outer, &seat.housing_class).map_err(|e| bad(format!("seat {}: {}", seat.id, e.message)))?;
        let a_face = self.place(part).0;
        let passed = match seat.from {
            End::A => &self.lands[..index],
            End::B => &self.lands[index + 1..],
        };
        let protrusion = match seat.from {
            End::A => a_face,
            End::B => self.length().0 - a_face - part.width_mm.0,
        };
        Ok(SeatFacts {
            largest_land: Millimetres(passed.iter().map(|l| l.d_mm.0).fold(0.0, f64::max)),
            protrusion: Millimetres(protrusion.max(0.0)),
            part_name: part.name.clone(),
            designation: part.designation.clone().unwrap_or_default(),
            land_length: self.lands[index].length_mm,
            housing_outside: housing.outside_mm,
            housing_material: housing.material,
            housing_name: housing.name.clone(),
            seat: seat.clone(),
            bearing,
            journal,
            bore,
        })
    }
}

fn unique<'a>(field: &str, ids: impl Iterator<Item = &'a String>) -> Result<()> {
    let mut seen = std::collections::BTreeSet::new();
    for id in ids {
        expect(!id.is_empty() && seen.insert(id), field, format!("the id “{id}” is empty or used twice"))?;
    }
    Ok(())
}

/// One seat, with everything about it looked up.
#[derive(Debug, Clone)]
pub struct SeatFacts {
    /// The seat.
    pub seat: Seat,
    /// Name of the bearing part.
    pub part_name: String,
    /// As written on it.
    pub designation: String,
    /// The designation, read.
    pub bearing: Bearing,
    /// Limits of the journal.
    pub journal: iso286::ClassLimits,
    /// Limits of the housing bore.
    pub bore: iso286::ClassLimits,
    /// Length of the land.
    pub land_length: Millimetres,
    /// Largest land the ring and its tube slide over.
    pub largest_land: Millimetres,
    /// Shaft beyond the seated ring, on the side it comes from.
    pub protrusion: Millimetres,
    /// Outside of the housing.
    pub housing_outside: Millimetres,
    /// Its material.
    pub housing_material: Material,
    /// Its name.
    pub housing_name: String,
}

impl SeatFacts {
    /// Interference that the drawing's limits allow, least and most: journal class against the ring's class.
    #[must_use]
    pub fn drawn_interference(&self) -> (Micrometres, Micrometres) {
        let ring = self.ring_lower(crate::fit::rings::Ring::Inner);
        (Micrometres(self.journal.lower.0), Micrometres(self.journal.upper.0 - ring.0))
    }
    /// Interference in the housing by its limits (negative: clearance).
    #[must_use]
    pub fn drawn_housing_interference(&self) -> (Micrometres, Micrometres) {
        let ring = self.ring_lower(crate::fit::rings::Ring::Outer);
        (Micrometres(ring.0 - self.bore.upper.0), Micrometres(-self.bore.lower.0))
    }
    /// Lower deviation of a ring by its class; 0 outside the tables.
    #[must_use]
    pub fn ring_lower(&self, ring: crate::fit::rings::Ring) -> Micrometres {
        let d = match ring {
            crate::fit::rings::Ring::Inner => self.bearing.d,
            crate::fit::rings::Ring::Outer => self.bearing.outer,
        };
        crate::fit::rings::ring_tolerance(ring, d, &self.bearing.class).unwrap_or(Micrometres(0.0))
    }
    /// Raceways and shoulders: estimated for balls, by a share of the section for other rings.
    #[must_use]
    pub fn inside(&self) -> designation::Inside {
        self.bearing.inside.unwrap_or_else(|| {
            let (d, o) = (self.bearing.d.0, self.bearing.outer.0);
            let (pitch, roller) = (f64::midpoint(d, o), 0.25 * (o - d));
            designation::Inside {
                pitch: Millimetres(pitch),
                ball: Millimetres(roller),
                inner_raceway: Millimetres(pitch - roller),
                outer_raceway: Millimetres(pitch + roller),
                inner_shoulder: Millimetres(pitch - 0.6 * roller),
                outer_shoulder: Millimetres(pitch + 0.6 * roller),
            }
        })
    }
    /// Mass estimate in grams: seven tenths of the ring space is steel.
    #[must_use]
    pub fn mass_g(&self) -> f64 {
        0.7 * 7.85e-3 * self.face_mm2() * self.bearing.width.0
    }
    /// All faces that lose heat, mm².
    #[must_use]
    pub fn area_mm2(&self) -> f64 {
        std::f64::consts::PI * (self.bearing.outer.0 + self.bearing.d.0) * self.bearing.width.0 + 2.0 * self.face_mm2()
    }
    fn face_mm2(&self) -> f64 {
        std::f64::consts::FRAC_PI_4 * (self.bearing.outer.0.powi(2) - self.bearing.d.0.powi(2))
    }
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
pub(crate) mod tests {
    use super::*;
    use crate::anatomy::steps::{Stage, steps};
    use proptest::prelude::*;
    use std::collections::BTreeSet;

    /// A small blower rotor, not in the demo: a collar in the middle, a hot bearing each side, seal and cover behind B1.
    pub(crate) fn machine() -> Anatomy {
        let text = r#"{
          "key": "test-blower", "name": "Test blower", "version": 1,
          "lands": [
            {"id": "ta", "name": "A thread", "length_mm": 20, "d_mm": 38, "kind": "thread"},
            {"id": "ja", "name": "A journal", "length_mm": 40, "d_mm": 40},
            {"id": "mid", "name": "body", "length_mm": 200, "d_mm": 60},
            {"id": "jb", "name": "B journal", "length_mm": 60, "d_mm": 40}],
          "parts": [
            {"id": "seal", "name": "Inner seal", "kind": "seal", "land": "mid", "at_mm": 4, "width_mm": 8, "outside_mm": 85, "faces": "A", "keeps": "A", "carried_by": "cover"},
            {"id": "cover", "name": "Inner cover", "kind": "cover", "land": "mid", "at_mm": 2, "width_mm": 14, "outside_mm": 120, "bore_mm": 62, "from": "A"},
            {"id": "b1", "name": "Bearing B1", "kind": "bearing", "land": "ja", "at_mm": 20, "width_mm": 18, "outside_mm": 80, "designation": "6208", "fit": "shrink", "from": "A", "faces": "A"},
            {"id": "tab", "name": "Tab washer", "kind": "tab_washer", "land": "ta", "at_mm": 12, "width_mm": 2, "outside_mm": 60, "from": "A", "tab_bent": 1, "locks": ["b1"]},
            {"id": "nut", "name": "Lock nut", "kind": "nut", "land": "ta", "at_mm": 2, "width_mm": 10, "outside_mm": 58, "from": "A", "hand": "right", "slots": 4, "tabs": 17, "locks": ["tab"]},
            {"id": "fl", "name": "Flinger", "kind": "flinger", "land": "jb", "at_mm": 4, "width_mm": 6, "outside_mm": 70, "from": "B", "back_off_mm": 0.8},
            {"id": "b2", "name": "Bearing B2", "kind": "bearing", "land": "jb", "at_mm": 20, "width_mm": 18, "outside_mm": 80, "designation": "6208", "fit": "shrink", "from": "B"}],
          "rotation": {"seen_from": "A", "clockwise": false},
          "floats": [{"id": "f", "name": "End play", "lo_mm": 0.2, "hi_mm": 0.4}]
        }"#;
        serde_json::from_str::<Anatomy>(text).unwrap().check().unwrap()
    }

    /// Random stepped shafts with sleeves from both ends.
    pub(crate) fn drawn() -> impl Strategy<Value = Anatomy> {
        let land = 20u32..60;
        let part = (0usize..6, 0u32..3, 2u32..40, any::<bool>(), 0u8..4, any::<bool>());
        (prop::collection::vec(land, 2..6), prop::collection::vec(part, 1..12)).prop_map(|(lands, parts)| {
            let mut a = Anatomy { key: "drawn".into(), name: "Drawn".into(), version: 1, ..machine() };
            a.floats.clear();
            a.lands = lands
                .iter()
                .enumerate()
                .map(|(i, d)| Land {
                    id: format!("l{i}"),
                    name: format!("land {i}"),
                    length_mm: Millimetres(30.0),
                    d_mm: Millimetres(f64::from(*d)),
                    kind: LandKind::Plain,
                    hand: None,
                    pitch_mm: None,
                    d_b_mm: None,
                })
                .collect();
            let sleeve = machine().parts[5].clone();
            a.parts = parts
                .iter()
                .enumerate()
                .map(|(i, (land, pos, thick, from_b, fit, single))| {
                    let land = land % a.lands.len();
                    Part {
                        id: format!("p{i}"),
                        name: format!("Part {i}"),
                        kind: if *single { PartKind::Seal } else { PartKind::Sleeve },
                        land: a.lands[land].id.clone(),
                        at_mm: Millimetres(f64::from(*pos) * 9.0 + i as f64 * 0.01),
                        width_mm: Millimetres(8.0),
                        outside_mm: Millimetres(a.lands[land].d_mm.0 + f64::from(*thick)),
                        bore_mm: Some(Millimetres(
                            a.lands.iter().map(|l| l.d_mm.0).fold(0.0, f64::max).min(a.lands[land].d_mm.0 + f64::from(*thick) - 1.0),
                        )),
                        from: if *from_b { End::B } else { End::A },
                        fit: if *fit == 0 { Hold::Shrink } else { Hold::Slide },
                        back_off_mm: None,
                        ..sleeve.clone()
                    }
                })
                .collect();
            a
        })
    }

    #[test]
    fn the_derived_order_agrees_with_a_list_made_by_hand() {
        let m = machine();
        let d = derive(&m).unwrap();
        assert!(d.buildable(), "{:?}", d.faults);
        let pairs: BTreeSet<(&str, &str)> = d.precedence.pairs().map(|(a, b)| (d.ids[a].as_str(), d.ids[b].as_str())).collect();
        let by_hand: BTreeSet<(&str, &str)> = [
            ("seal", "cover"), // fitted into it at the bench
            ("cover", "b1"),   // bore 62 cannot pass the ring's 80
            ("b1", "tab"),     // it locks the ring, and bore 40 cannot pass 60
            ("b1", "nut"),     // bore 40 cannot pass 58
            ("tab", "nut"),    // the nut locks the washer
            ("fl", "b2"),      // bore 40 cannot pass 80
        ]
        .into();
        let missing: Vec<_> = by_hand.difference(&pairs).collect();
        assert!(missing.is_empty(), "{missing:?}");
        let more: Vec<_> = pairs.difference(&by_hand).filter(|p| **p != ("cover", "tab") && **p != ("cover", "nut")).collect();
        assert!(more.is_empty(), "{more:?}");
        let why = d.why(d.number("cover").unwrap(), d.number("b1").unwrap()).unwrap();
        assert_eq!(because(&m, "cover", "b1", &why), "Inner cover (bore 62 mm) cannot get past Bearing B1 (80 mm)");
    }

    #[test]
    fn the_questions_agree_with_a_list_made_by_hand() {
        let ids: BTreeSet<String> = as_found::questions(&machine()).into_iter().map(|q| q.id).collect();
        let by_hand = ["float.f", "seal.faces", "seal.depth", "b1.faces", "tab.faces", "nut.standout", "nut.mark", "fl.faces", "b2.faces"];
        assert_eq!(ids, by_hand.iter().map(ToString::to_string).collect());
        let all = as_found::questions(&machine());
        let held: Vec<&str> = as_found::holding(&all, "nut", &|id| id == "float.f").iter().map(|q| q.id.as_str()).collect();
        assert_eq!(held, ["nut.standout", "nut.mark"]);
    }

    #[test]
    fn the_trail_has_its_stages_moves_and_holds() {
        let m = machine();
        let d = derive(&m).unwrap();
        let order = sequence::best(&m, &d).unwrap();
        let all = steps(&m, &d, &order);
        let find = |id: &str| {
            all.iter().find(|s| s.id == id).unwrap_or_else(|| panic!("{id} in {:?}", all.iter().map(|s| &s.id).collect::<Vec<_>>()))
        };
        assert!(find("off.nut").words.contains("anticlockwise loosens"));
        assert!(find("off.nut").before.contains(&"ask.nut.standout".to_owned()));
        assert!(find("off.b1").before.contains(&"off.tab".to_owned()));
        assert!(find("on.seal").words.contains("lip to end A") && find("on.cover").before.contains(&"on.seal".to_owned()));
        assert!(
            find("on.b1").wait_min > 0.0
                && find("on.b1").wait_word == "cooling"
                && find("on.b1").caution == Some(crate::caution::Caution::HotRing)
        );
        assert!(find("back.fl").words.contains("0.8 mm"));
        assert!(find("torque.nut").words.contains("5.29 degrees apart") && find("torque.nut").before.contains(&"on.b1".to_owned()));
        assert!(find("tab.tab").before.contains(&"torque.nut".to_owned()));
        assert_eq!(find("float.f").people, 2);
        assert!(find("prove.turn").before.len() > 10);
        let stages: Vec<Stage> = all.iter().map(|s| s.stage).collect();
        assert!(stages.windows(2).all(|w| w[0] <= w[1]));
        // Every step can be reached: working what is free empties the trail.
        let mut done = BTreeSet::new();
        loop {
            let free: Vec<String> = steps::meanwhile(&all, &done, "").iter().map(|s| s.id.clone()).collect();
            if free.is_empty() {
                break;
            }
            done.extend(free);
        }
        assert_eq!(done.len(), all.len(), "{:?}", all.iter().filter(|s| !done.contains(&s.id)).collect::<Vec<_>>());
        assert_eq!(steps::missing(&all, &BTreeSet::new(), "receive.kind").len(), 1);
    }

    #[test]
    fn a_machined_face_voids_the_marks_that_rest_on_it() {
        let m = machine();
        assert_eq!(steps::voided_by(&m, "tab"), ["nut.mark", "nut.standout"]);
        assert_eq!(steps::voided_by(&m, "b1"), ["nut.mark", "nut.standout"]);
        assert!(steps::voided_by(&m, "b2").is_empty() && steps::voided_by(&m, "seal").is_empty());
    }

    #[test]
    fn what_contradicts_is_told_with_both_sizes_and_names() {
        let mut m = machine();
        let faults = |m: &Anatomy| derive(m).unwrap().faults.iter().map(|f| say(m, f)).collect::<Vec<_>>().join("\n");
        assert_eq!(faults(&m), "");
        m.parts[0].faces = Some(End::B);
        m.parts[4].hand = Some(Hand::Left);
        assert!(
            faults(&m).contains("Inner seal has its lip the wrong way") && faults(&m).contains("a right-hand thread is wanted"),
            "{}",
            faults(&m)
        );
        let mut m = machine();
        m.parts[2].from = End::B;
        assert!(faults(&m).contains("its bore is 40 mm, body on the way is 60 mm"), "{}", faults(&m));
        let mut m = machine();
        m.before.push(Rule { first: "nut".into(), then: "cover".into(), reason: String::new() });
        assert!(faults(&m).contains("wait for each other"), "{}", faults(&m));
        assert!(!derive(&m).unwrap().buildable());
        let mut m = machine();
        m.parts[6].faces = Some(End::A);
        m.parts[2].faces = Some(End::B);
        m.pairs.push(PairOf { a: "b1".into(), b: "b2".into(), arrangement: "DB".into(), spacers: vec![] });
        assert!(faults(&m).contains("form an X (face-to-face) where a diamond (back-to-back) is meant"), "{}", faults(&m));
        m.parts[5].at_mm = Millimetres(18.0);
        assert!(faults(&m).contains("stand in the same place"), "{}", faults(&m));
    }

    #[test]
    fn a_housing_waits_for_what_it_cannot_pass_and_takes_in_what_is_captive() {
        let mut m = machine();
        let bore = |from: f64, to: f64, d: f64| Bore { from_mm: Millimetres(from), to_mm: Millimetres(to), d_mm: Millimetres(d) };
        m.housings.push(Housing {
            id: "case".into(),
            name: "Case".into(),
            outside_mm: Millimetres(300.0),
            bores: vec![bore(60.0, 70.0, 90.0), bore(70.0, 250.0, 250.0), bore(250.0, 262.0, 90.0)],
            material: Material::GreyIron,
            feet: false,
            from: Some(End::A),
            split: false,
            covers: vec![],
            clocked: false,
        });
        let mut wheel = m.parts[5].clone();
        (wheel.id, wheel.name, wheel.kind) = ("wheel".into(), "Wheel".into(), PartKind::Wheel);
        (wheel.land, wheel.at_mm, wheel.outside_mm, wheel.inside) =
            ("mid".into(), Millimetres(80.0), Millimetres(200.0), Some("case".into()));
        m.parts.push(wheel);
        let d = derive(&m).unwrap();
        let why = |a: &str, b: &str| d.why(d.number(a).unwrap(), d.number(b).unwrap());
        assert!(matches!(why("wheel", "case"), Some(Why::Captive { .. })));
        assert!(
            matches!(why("case", "cover"), Some(Why::HousingPasses { .. })),
            "{:?}",
            d.precedence.pairs().map(|(a, b)| (&d.ids[a], &d.ids[b])).collect::<Vec<_>>()
        );
        assert!(d.buildable(), "{:?}", d.faults);
        assert!(why("wheel", "case").is_some_and(|w| because(&m, "wheel", "case", &w).contains("goes through neither opening")));
    }
}
