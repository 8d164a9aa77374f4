//! What a machine type is made of: spine, parts, housings, seats (handbook 08). A rebuild pins one version of it.

use crate::fit::designation::{self, Bearing};
use crate::fit::heat::Cage;
use crate::fit::lame::Finish;
use crate::fit::{Material, iso286};
use crate::quantity::{Kelvins, Micrometres, Millimetres};
use crate::refusal::{Refusal, Result, expect};
use serde::{Deserialize, Serialize};

/// An end of the shaft; A is drawn on the left.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub enum End {
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
}

/// A stretch of shaft of one diameter.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
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
}

/// Kind of a part: each has its own drawn shape.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum PartKind {
    Bearing,
    Seal,
    Spacer,
    Impeller,
    Nut,
    TabWasher,
    Sleeve,
    Cover,
    Pulley,
    Circlip,
}

/// Something that sits on the shaft.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
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
}

/// A bore in a housing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
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
}

/// How deep a ring must sit, from a datum a depth micrometer can reach.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
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
    pub housings: Vec<Housing>,
    /// Bearing seats.
    pub seats: Vec<Seat>,
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
        Ok(self)
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
