//! What a machine type is made of: spine, parts, housings, seats (docs/trade.md, Order of assembly). A rebuild pins one
//! version of it.

pub mod acts;
pub mod answers;
pub mod as_found;
pub mod body;
pub mod build_sheet;
pub mod clamp;
mod derive;
pub mod difference;
pub mod edit;
pub mod facing;
mod findings;
pub mod items;
pub mod joints;
pub mod keepable;
mod kinds;
mod measure;
mod model;
pub mod names;
pub mod older;
pub mod scene;
pub mod space;
pub mod text;

pub use derive::{Against, Cost, Derived, MachineType, derive};
pub use findings::{Finding, FindingKind};
pub use kinds::{Build, Hold, PartKind, Role, Row, Shape, Usual};
pub use measure::{Measure, Unit};
pub use model::*;

use crate::fit::designation::{self, Bearing, Seals};
use crate::fit::{Material, iso286};
use crate::quantity::{Micrometres, Millimetres};
use crate::refusal::{Refusal, Result, expect};
use crate::terms::End;

impl Anatomy {
    /// Checks that every reference leads somewhere and every size can be, and that bearings fit their lands and seats.
    ///
    /// # Errors
    /// Field `lands`, `parts`, `housings` or `seats`, with the id in the sentence.
    pub fn check(self) -> Result<Self> {
        let a = self.check_words()?;
        for p in a.parts.iter().filter(|p| p.kind.role() == Role::Rolling) {
            let (b, land) = (a.bearing(p)?, a.land(&p.land).map_or(0.0, |l| l.d_mm.0));
            expect(
                (b.d.0 - land).abs() < 0.5,
                "parts",
                format!("{} has a bore of {} mm, its land is {land} mm", p.id, b.d.0),
            )?;
        }
        for s in &a.seats {
            a.facts(&s.id)?;
        }
        Ok(a)
    }

    /// Checks that every reference leads somewhere and every size can be.
    ///
    /// # Errors
    /// Field `lands`, `parts`, `housings` or `seats`, with the id in the sentence.
    pub fn check_words(self) -> Result<Self> {
        keepable::keepable(&self)?;
        unique("lands", self.lands.iter().map(|l| &l.id))?;
        unique("parts", self.parts.iter().map(|p| &p.id))?;
        unique("housings", self.housings.iter().map(|h| &h.id))?;
        unique("seats", self.seats.iter().map(|s| &s.id))?;
        expect(!self.lands.is_empty(), "lands", "a shaft needs at least one land")?;
        let size = |v: f64| v.is_finite() && v.abs() <= 50_000.0;
        for l in &self.lands {
            let whole = l.length_mm.0 > 0.0 && l.d_mm.0 > 0.0 && size(l.length_mm.0) && size(l.d_mm.0);
            expect(whole, "lands", format!("land {} needs a length and a diameter above 0", l.id))?;
        }
        for p in &self.parts {
            let land = self.land(&p.land).ok_or_else(|| {
                Refusal::new("parts", format!("{} sits on land {}, which is not there", p.id, p.land))
            })?;
            expect(
                p.width_mm.0 > 0.0
                    && p.outside_mm.0 > land.d_mm.0.min(self.bore_of(p).0)
                    && [p.width_mm.0, p.outside_mm.0, p.at_mm.0].iter().all(|v| size(*v)),
                "parts",
                format!("{} must be wider than 0 and larger outside than its land ({} mm)", p.id, land.d_mm.0),
            )?;
            for r in &p.rings {
                let whole = r.to_mm.0 > r.from_mm.0 && r.outside_mm.0 > r.bore_mm.0 && r.bore_mm.0 >= 0.0;
                expect(
                    whole,
                    "parts",
                    format!("each ring of {} runs from A to B and is larger outside than its bore", p.id),
                )?;
            }
        }
        for h in &self.housings {
            expect(
                !h.bores.is_empty()
                    && h.bores.iter().all(|b| b.to_mm.0 > b.from_mm.0 && b.d_mm.0 > 0.0 && b.d_mm.0 < h.outside_mm.0),
                "housings",
                format!("{} needs bores that run from A to B and are smaller than its outside", h.id),
            )?;
        }
        for s in &self.seats {
            expect(
                self.part(&s.part).is_some(),
                "seats",
                format!("seat {} names part {}, which is not there", s.id, s.part),
            )?;
            let housing = self.housings.iter().any(|h| h.id == s.housing);
            expect(housing, "seats", format!("seat {} names housing {}, which is not there", s.id, s.housing))?;
        }
        self.references()?;
        Ok(self)
    }

    /// Everything that one thing says of another leads somewhere.
    #[expect(clippy::too_many_lines, reason = "every list that names another one, once")]
    fn references(&self) -> Result<()> {
        let most =
            [("lands", self.lands.len(), 300), ("parts", self.parts.len(), 600), ("housings", self.housings.len(), 60)];
        for (field, n, limit) in most {
            expect(n <= limit, field, format!("at most {limit} are taken: this sheet has {n}"))?;
        }
        let ids: std::collections::HashSet<&str> =
            self.parts.iter().map(|p| p.id.as_str()).chain(self.housings.iter().map(|h| h.id.as_str())).collect();
        expect(
            ids.len() == self.parts.len() + self.housings.len(),
            "housings",
            "a part and a housing have the same id",
        )?;
        let there = |field: &str, who: &str, id: &str| {
            expect(ids.contains(id), field, format!("{who} names {id}, which is neither a part nor a housing"))
        };
        for p in &self.parts {
            for id in
                p.locks.iter().chain(&p.covers).chain(&p.key).chain(&p.carried_by).chain(&p.inside).chain(&p.against)
            {
                there("parts", &p.id, id)?;
                expect(*id != p.id, "parts", format!("{} names itself", p.id))?;
            }
            let bore = self.bore_of(p).0;
            expect(
                bore < p.outside_mm.0,
                "parts",
                format!("{} has a bore of {bore} mm and an outside of {} mm", p.id, p.outside_mm.0),
            )?;
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
            expect(
                ["DB", "DF", "DT"].contains(&p.arrangement.as_str()),
                "pairs",
                "expected the arrangement DB, DF or DT",
            )?;
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
            for id in f.shim.iter().chain(&f.after).chain(&f.without).chain(&f.trial) {
                there("floats", &f.id, id)?;
            }
        }
        for r in &self.runouts {
            there("runouts", &r.id, &r.part)?;
            for id in r.without.iter().chain(&r.trial) {
                there("runouts", &r.id, id)?;
            }
            if let Some(id) = &r.reads {
                expect(
                    ids.contains(id.as_str()) || self.land(id).is_some(),
                    "runouts",
                    format!("{} reads {id}, which is neither a part, a housing nor a land", r.id),
                )?;
            }
        }
        for g in &self.gaps {
            for id in g.after.iter().chain(&g.without).chain(&g.trial) {
                there("gaps", &g.id, id)?;
            }
        }
        // Only what a nut sets has a reading with that nut slack.
        let slack = |field: &'static str, id: &str, c: Condition| {
            expect(
                c != Condition::Slack,
                field,
                format!("{id} is read tight or nipped: slack belongs to a float that a nut sets"),
            )
        };
        self.runouts.iter().try_for_each(|r| slack("runouts", &r.id, r.condition))?;
        self.gaps.iter().try_for_each(|g| slack("gaps", &g.id, g.condition))?;
        for h in &self.holes {
            there("holes", &h.id, &h.housing)?;
        }
        for b in &self.bolt_rings {
            there("bolt_rings", "a bolt ring", &b.part)?;
            if let Some(to) = &b.to {
                there("bolt_rings", &format!("the bolt ring of {}", b.part), to)?;
                let parted = self.housings.iter().any(|h| h.id == b.part && h.split);
                expect(parted || *to != b.part, "bolt_rings", format!("{} is fastened to itself", b.part))?;
            }
            expect(
                (1..=200).contains(&b.n) && b.torque_nm > 0.0,
                "bolt_rings",
                "expected 1 to 200 bolts and a torque above 0",
            )?;
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
        let text = part
            .designation
            .as_deref()
            .ok_or_else(|| Refusal::new("parts", format!("bearing {} needs its designation", part.id)))?;
        designation::read(text).map_err(|e| Refusal::new("parts", format!("{}: {}", part.id, e.message)))
    }

    /// Everything a fitter needs to know of one seat before measuring it.
    ///
    /// # Errors
    /// `seats`, when the seat or something it names is not there.
    pub fn facts(&self, seat_id: &str) -> Result<SeatFacts> {
        let bad = |what: String| Refusal::new("seats", what);
        let seat = self.seat(seat_id).ok_or_else(|| bad(format!("there is no seat {seat_id}")))?;
        let part = self
            .part(&seat.part)
            .ok_or_else(|| bad(format!("seat {} names part {}, which is not there", seat.id, seat.part)))?;
        let index =
            self.lands.iter().position(|l| l.id == part.land).ok_or_else(|| bad(format!("{} has no land", part.id)))?;
        let housing = self
            .housings
            .iter()
            .find(|h| h.id == seat.housing)
            .ok_or_else(|| bad(format!("seat {} names housing {}, which is not there", seat.id, seat.housing)))?;
        let bearing = self.bearing(part)?;
        let journal = iso286::limits(bearing.d, &seat.shaft_class)
            .map_err(|e| bad(format!("seat {}: {}", seat.id, e.message)))?;
        let bore = iso286::limits(bearing.outer, &seat.housing_class)
            .map_err(|e| bad(format!("seat {}: {}", seat.id, e.message)))?;
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
            enters_bore: false,
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
    /// The ring enters a bore that is there already: heated, its outside would grow into it.
    pub enters_bore: bool,
}

impl SeatFacts {
    /// With how the ring is closed, by the word of a person who has looked; what the designation says stands where it
    /// says so.
    #[must_use]
    pub fn closed(mut self, said: Option<&str>) -> Self {
        if let (Seals::Unknown, Some((_, seals))) = (self.bearing.seals, Seals::SAID.iter().find(|s| Some(s.0) == said))
        {
            self.bearing.seals = *seals;
        }
        self
    }
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
pub(crate) mod tests;
