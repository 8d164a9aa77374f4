//! Building an anatomy on the drawing: each change is one small operation that is checked as a whole.

use super::answers::Asked;
use super::items::{Item, List};
use super::{
    Anatomy, Bore, Fitted, Hold, Housing, Land, LandKind, LockedBy, Lubricant, Part, PartKind, Role, Rotation, Stands,
    TurnedBy,
};
use crate::anatomy::names::{free_id, named};
use crate::fasten::Hand;
use crate::fit::Material;
use crate::quantity::Millimetres;
use crate::quantity::show::capital;
use crate::refusal::{Refusal, Result, expect};
use crate::terms::End;

/// One change.
#[derive(Debug, Clone, PartialEq)]
#[allow(missing_docs)]
pub enum Edit {
    Rename {
        name: String,
    },
    /// A land behind another (at end B when none is named).
    AddLand {
        behind: Option<String>,
        name: String,
        length: Millimetres,
        d: Millimetres,
        kind: LandKind,
    },
    SetLand {
        id: String,
        name: String,
        length: Millimetres,
        d: Millimetres,
        kind: LandKind,
    },
    DropLand {
        id: String,
    },
    /// A part from the shelf, laid on a land, behind what lies there. Into a housing when one is named: what lies in a
    /// bore takes its size there, anything else lies in it when that goes over the shaft.
    AddPart {
        kind: PartKind,
        land: String,
        into: Option<String>,
    },
    SetPart {
        id: String,
        set: Box<PartSet>,
    },
    /// The same part on another land or place.
    MovePart {
        id: String,
        land: String,
        at: Millimetres,
    },
    /// Turns it round: lip, thick side, eye.
    FlipPart {
        id: String,
    },
    DropPart {
        id: String,
    },
    AddHousing {
        name: String,
        from: Millimetres,
        to: Millimetres,
        bore: Millimetres,
        outside: Millimetres,
    },
    DropHousing {
        id: String,
    },
    SetHousing {
        id: String,
        set: Box<HousingSet>,
    },
    /// What a thread or taper has beyond its size.
    SetLandMore {
        id: String,
        hand: Option<Hand>,
        pitch: Option<Millimetres>,
        d_b: Option<Millimetres>,
    },
    /// What a part has beyond its place, size and fit.
    SetPartMore {
        id: String,
        set: Box<PartMore>,
    },
    /// Which way the shaft turns and how fast it is run in.
    SetTurning {
        rotation: Option<Rotation>,
        rpm: f64,
        lubricant: Option<Lubricant>,
        stands: Stands,
    },
    /// A limit, pair, hole, bolt ring, rule or seat: in the place of the one named, or new.
    Put {
        over: String,
        item: Box<Item>,
    },
    Take {
        list: List,
        key: String,
    },
    /// One of the answers that a note offers.
    Answer {
        asked: Asked,
        of: String,
        with: String,
    },
}

/// What a form sets of a housing.
#[derive(Debug, Clone, PartialEq)]
#[allow(missing_docs)]
pub struct HousingSet {
    pub name: String,
    pub outside: Millimetres,
    pub bores: Vec<Bore>,
    pub material: Material,
    pub feet: bool,
    pub from: Option<End>,
    pub split: bool,
    pub clocked: bool,
    pub covers: Vec<String>,
    pub mass_kg: Option<f64>,
}

/// What a form sets of a part beyond [`PartSet`].
#[derive(Debug, Clone, PartialEq, Default)]
#[allow(missing_docs)]
pub struct PartMore {
    pub locks: Vec<String>,
    pub covers: Vec<String>,
    pub keeps: Option<End>,
    pub slots: Option<u32>,
    pub tabs: Option<u32>,
    pub torque_nm: Option<f64>,
    pub match_mark: bool,
    pub back_off: Option<Millimetres>,
    pub clocked: bool,
    pub through_balls: bool,
    pub adjusted: bool,
    pub plunger: bool,
    pub oiler: bool,
    pub tab_bent: u32,
    pub minutes: Option<f64>,
    pub people: u32,
    pub solid: bool,
    pub fitted: Fitted,
    pub turned_by: TurnedBy,
    pub locked_by: Option<LockedBy>,
    pub torque_hi_nm: Option<f64>,
    pub compound: Option<String>,
    pub cure_min: Option<f64>,
    pub tool: Option<Millimetres>,
    pub mass_kg: Option<f64>,
    pub gap_volts: Option<f64>,
    pub against: Option<String>,
}

/// What a form sets of a part.
#[derive(Debug, Clone, PartialEq, Default)]
#[allow(missing_docs)]
pub struct PartSet {
    pub name: String,
    pub at: Millimetres,
    pub width: Millimetres,
    pub outside: Millimetres,
    pub bore: Option<Millimetres>,
    pub designation: String,
    pub from: End,
    pub faces: Option<End>,
    pub fit: Hold,
    pub split: bool,
    pub hand: Option<Hand>,
    pub locks: Vec<String>,
    pub key: Option<String>,
    pub carried_by: Option<String>,
    pub inside: Option<String>,
}

fn fresh(a: &Anatomy, word: &str) -> String {
    let taken = |id: &str| {
        a.parts.iter().any(|p| p.id == id)
            || a.housings.iter().any(|h| h.id == id)
            || a.lands.iter().any(|l| l.id == id)
    };
    free_id(word, 24, "part", taken)
}

/// A new anatomy: one plain land.
#[must_use]
pub fn blank(key: &str, name: &str) -> Anatomy {
    Anatomy {
        key: key.to_owned(),
        name: name.to_owned(),
        version: 1,
        lands: vec![Land {
            id: "land-1".into(),
            name: "journal".into(),
            length_mm: Millimetres(60.0),
            d_mm: Millimetres(40.0),
            ..Land::default()
        }],
        parts: Vec::new(),
        housings: Vec::new(),
        seats: Vec::new(),
        rotation: None,
        stands: Stands::Level,
        lubricant: None,
        run_in_rpm: 0.0,
        before: Vec::new(),
        pairs: Vec::new(),
        thrust_sets: Vec::new(),
        floats: Vec::new(),
        runouts: Vec::new(),
        gaps: Vec::new(),
        holes: Vec::new(),
        bolt_rings: Vec::new(),
    }
}

/// Usual size of a part from the shelf on a land: (width, outside).
fn usual(kind: PartKind, d: f64) -> (f64, f64) {
    let round = |v: f64| (v * 2.0).round() / 2.0;
    let (w, o) = kind.row().usual;
    (round(w.on(d).max(1.0)), round(o.on(d).max(d + 1.0)))
}

impl Edit {
    /// Applies the change and checks the whole.
    ///
    /// ```
    /// use ironseat_core::anatomy::{PartKind, edit::{Edit, blank}};
    /// let a = Edit::AddPart { kind: PartKind::Seal, land: "land-1".into(), into: None }.apply(&blank("k", "Machine"))?;
    /// assert_eq!((a.parts[0].id.as_str(), a.parts[0].outside_mm.get()), ("lip-seal", 60.0));
    /// # Ok::<(), ironseat_core::Refusal>(())
    /// ```
    ///
    /// # Errors
    /// What is wrong, with the field of the form: nothing is changed.
    #[allow(clippy::too_many_lines)] // one arm per change
    pub fn apply(&self, a: &Anatomy) -> Result<Anatomy> {
        let mut a = a.clone();
        match self {
            Self::Rename { name } => a.name = named(name)?,
            Self::AddLand { behind, name, length, d, kind } => {
                let id = fresh(&a, "land");
                let land =
                    Land { id, name: named(name)?, length_mm: *length, d_mm: *d, kind: *kind, ..Land::default() };
                let at = behind
                    .as_ref()
                    .and_then(|b| a.lands.iter().position(|l| l.id == *b))
                    .map_or(a.lands.len(), |p| p + 1);
                size(&land)?;
                a.lands.insert(at, land);
            }
            Self::SetLand { id, name, length, d, kind } => {
                let name = named(name)?;
                let land = a.lands.iter_mut().find(|l| l.id == *id).ok_or_else(|| gone("this land"))?;
                (land.name, land.length_mm, land.d_mm, land.kind) = (name, *length, *d, *kind);
                size(land)?;
            }
            Self::DropLand { id } => {
                let on = a.parts.iter().filter(|p| p.land == *id).map(|p| p.name.as_str()).collect::<Vec<_>>();
                expect(on.is_empty(), "land", format!("{} lies on it: take that off first", on.join(", ")))?;
                expect(a.lands.len() > 1, "land", "a shaft needs at least one land")?;
                a.lands.retain(|l| l.id != *id);
                for r in a.runouts.iter_mut().filter(|r| r.reads.as_deref() == Some(id)) {
                    r.reads = None;
                }
            }
            Self::AddPart { kind, land, into } => {
                let l = a.land(land).ok_or_else(|| gone("this land"))?;
                let d = l.d_mm.0;
                let (width, outside) = usual(*kind, d);
                // Behind what lies on the land already, nearer to the end it comes from.
                let at =
                    a.parts.iter().filter(|p| p.land == *land).map(|p| p.at_mm.0 + p.width_mm.0).fold(0.0, f64::max);
                let start = a.start(land).map_or(0.0, |s| s.0);
                let from = if start + at + width / 2.0 > a.length().0 / 2.0 { End::B } else { End::A };
                let mut part = Part::plain(&fresh(&a, kind.word()), *kind, land);
                part.name = capital(kind.word());
                (part.at_mm, part.width_mm, part.outside_mm, part.from) =
                    (Millimetres(at), Millimetres(width), Millimetres(outside), from);
                if kind.has_facing() {
                    part.faces = Some(from);
                }
                if kind.role() == Role::Rolling {
                    let (text, b) = shelf_bearing(d).ok_or_else(|| {
                        Refusal::new(
                            "land",
                            format!("no deep-groove bearing has a bore of {d} mm: change the land first"),
                        )
                    })?;
                    part.designation = Some(text);
                    (part.width_mm, part.outside_mm, part.fit) = (b.width, b.outer, Hold::Shrink);
                }
                if let Some(id) = into {
                    let middle = start + part.at_mm.0 + part.width_mm.0 / 2.0;
                    let h = a.housings.iter().find(|h| h.id == *id).ok_or_else(|| gone("this housing"))?;
                    let bore =
                        h.bores.iter().find(|b| b.from_mm.0 <= middle && middle <= b.to_mm.0).or(h.bores.first());
                    if kind.lies_in_bore() {
                        part.carried_by = Some(id.clone());
                        if let Some(b) = bore.filter(|b| b.d_mm.0 > d + 1.0) {
                            part.outside_mm = b.d_mm;
                        }
                    } else {
                        part.inside = Some(id.clone());
                    }
                }
                a.parts.push(part);
            }
            Self::SetPart { id, set } => {
                let name = named(&set.name)?;
                let p = a.parts.iter_mut().find(|p| p.id == *id).ok_or_else(|| gone("this part"))?;
                // A stepped profile belongs to its sizes.
                if (p.width_mm, p.outside_mm, p.bore_mm) != (set.width, set.outside, set.bore) {
                    p.rings.clear();
                }
                (p.name, p.at_mm, p.width_mm, p.outside_mm, p.bore_mm) =
                    (name, set.at, set.width, set.outside, set.bore);
                (p.from, p.faces, p.fit, p.split, p.hand) = (set.from, set.faces, set.fit, set.split, set.hand);
                // The form shows one lock: several stay as long as it is among them.
                if set.locks.len() != 1 || !p.locks.contains(&set.locks[0]) {
                    p.locks.clone_from(&set.locks);
                }
                (p.key, p.carried_by, p.inside) = (set.key.clone(), set.carried_by.clone(), set.inside.clone());
                let typed = set.designation.trim();
                p.designation = (!typed.is_empty()).then(|| typed.to_owned());
                if p.kind.role() == Role::Rolling {
                    let b = crate::fit::designation::read(typed).map_err(|e| Refusal::new("designation", e.message))?;
                    (p.width_mm, p.outside_mm) = (b.width, b.outer);
                }
            }
            Self::MovePart { id, land, at } => {
                let _ = a.land(land).ok_or_else(|| gone("this land"))?;
                let p = a.parts.iter_mut().find(|p| p.id == *id).ok_or_else(|| gone("this part"))?;
                (p.land, p.at_mm) = (land.clone(), *at);
            }
            Self::FlipPart { id } => {
                let p = a.parts.iter_mut().find(|p| p.id == *id).ok_or_else(|| gone("this part"))?;
                p.turn_round()?;
            }
            Self::DropPart { id } => {
                let seats = a.seats.iter().any(|s| s.part == *id);
                expect(!seats, "part", "a seat with its sheets rests on it: it stays in this version")?;
                a.parts.retain(|p| p.id != *id);
                a.forget(id);
            }
            Self::AddHousing { name, from, to, bore, outside } => {
                expect(to.0 > from.0, "to", "expected a place beyond the first one, towards end B")?;
                expect(bore.0 > 0.0 && outside.0 > bore.0, "outside", "expected an outside larger than the bore")?;
                let id = fresh(&a, name);
                let bores = vec![Bore { from_mm: *from, to_mm: *to, d_mm: *bore }];
                a.housings.push(Housing { split: true, ..Housing::plain(&id, &named(name)?, *outside, bores) });
            }
            Self::DropHousing { id } => {
                expect(
                    !a.seats.iter().any(|s| s.housing == *id),
                    "housing",
                    "a seat with its sheets lies in it: it stays in this version",
                )?;
                a.housings.retain(|h| h.id != *id);
                a.forget(id);
            }
            Self::SetHousing { id, set } => {
                let name = named(&set.name)?;
                expect(!set.bores.is_empty(), "bores", "expected at least one bore, such as 22 to 120 bore 184")?;
                for b in &set.bores {
                    expect(
                        b.to_mm.0 > b.from_mm.0,
                        "bores",
                        "expected each bore to run from a place to one further towards end B",
                    )?;
                    expect(
                        b.d_mm.0 > 0.0 && b.d_mm.0 < set.outside.0,
                        "outside",
                        "expected an outside larger than every bore",
                    )?;
                }
                let h = a.housings.iter_mut().find(|h| h.id == *id).ok_or_else(|| gone("this housing"))?;
                (h.name, h.outside_mm, h.material) = (name, set.outside, set.material);
                (h.feet, h.from, h.split, h.clocked) = (set.feet, set.from, set.split, set.clocked);
                h.bores.clone_from(&set.bores);
                h.covers.clone_from(&set.covers);
                expect(set.mass_kg.is_none_or(|m| m > 0.0 && m <= 1e6), "mass", "expected a mass above 0 kg")?;
                h.mass_kg = set.mass_kg;
            }
            Self::SetLandMore { id, hand, pitch, d_b } => {
                let l = a.lands.iter_mut().find(|l| l.id == *id).ok_or_else(|| gone("this land"))?;
                expect(
                    pitch.is_none_or(|p| p.0 > 0.0 && p.0 <= 20.0),
                    "pitch",
                    "expected a pitch above 0 and up to 20 mm",
                )?;
                expect(d_b.is_none_or(|d| d.0 > 0.0), "d_b", "expected a diameter above 0")?;
                (l.hand, l.pitch_mm, l.d_b_mm) = (*hand, *pitch, *d_b);
            }
            Self::SetPartMore { id, set } => {
                expect(set.slots.is_none_or(|s| (1..=200).contains(&s)), "slots", "expected 1 to 200 slots")?;
                expect(set.tabs.is_none_or(|s| (1..=200).contains(&s)), "tabs", "expected 1 to 200 tabs")?;
                expect(set.torque_nm.is_none_or(|t| t > 0.0 && t <= 1e6), "torque", "expected a torque above 0 N·m")?;
                expect(
                    set.back_off.is_none_or(|b| b.0 > 0.0 && b.0 <= 100.0),
                    "back_off",
                    "expected a way back above 0 and up to 100 mm",
                )?;
                expect(
                    set.minutes.is_none_or(|m| m > 0.0 && m <= 2000.0),
                    "minutes",
                    "expected minutes above 0 and up to 2000",
                )?;
                expect(set.people <= 8, "people", "expected up to 8 people")?;
                let p = a.parts.iter_mut().find(|p| p.id == *id).ok_or_else(|| gone("this part"))?;
                p.locks.clone_from(&set.locks);
                p.covers.clone_from(&set.covers);
                (p.keeps, p.slots, p.tabs, p.torque_nm, p.match_mark) =
                    (set.keeps, set.slots, set.tabs, set.torque_nm, set.match_mark);
                (p.back_off_mm, p.clocked, p.through_balls, p.adjusted) =
                    (set.back_off, set.clocked, set.through_balls, set.adjusted);
                (p.plunger, p.oiler, p.tab_bent, p.minutes, p.people) =
                    (set.plunger, set.oiler, set.tab_bent, set.minutes, set.people);
                let some = |v: Option<f64>, field: &str, most: f64, what: &str| {
                    expect(v.is_none_or(|v| v > 0.0 && v <= most), field, format!("expected {what} above 0"))
                };
                some(set.torque_hi_nm, "torque_hi", 1e6, "a torque in N·m")?;
                some(set.cure_min, "cure", 10_000.0, "minutes")?;
                some(set.tool.map(|m| m.0), "tool", 2000.0, "a length in mm")?;
                some(set.mass_kg, "mass", 1e6, "a mass in kg")?;
                (p.solid, p.fitted, p.turned_by, p.locked_by) = (set.solid, set.fitted, set.turned_by, set.locked_by);
                (p.torque_hi_nm, p.cure_min, p.tool_mm, p.mass_kg, p.gap_volts) =
                    (set.torque_hi_nm, set.cure_min, set.tool, set.mass_kg, set.gap_volts);
                p.compound.clone_from(&set.compound);
                p.against.clone_from(&set.against);
            }
            Self::SetTurning { rotation, rpm, lubricant, stands } => {
                expect((0.0..=200_000.0).contains(rpm), "rpm", "expected 0 to 200 000 rpm")?;
                (a.rotation, a.run_in_rpm, a.lubricant, a.stands) = (*rotation, *rpm, *lubricant, *stands);
            }
            Self::Put { over, item } => a.put_item(over, (**item).clone())?,
            Self::Take { list, key } => a.take_item(*list, key)?,
            Self::Answer { asked, of, with } => a.answer(*asked, of, with)?,
        }
        a.check()
    }

    /// What was done, for the list of changes.
    #[must_use]
    pub fn said(&self) -> String {
        match self {
            Self::Rename { name } => format!("called {name}"),
            Self::AddLand { name, .. } => format!("land {name} laid"),
            Self::SetLand { name, .. } => format!("land {name} changed"),
            Self::DropLand { .. } => "land taken out".into(),
            Self::AddPart { kind, .. } => format!("{} put on", kind.word()),
            Self::SetPart { set, .. } => format!("{} changed", set.name),
            Self::MovePart { .. } => "part moved".into(),
            Self::FlipPart { .. } => "part turned round".into(),
            Self::DropPart { .. } => "part taken off".into(),
            Self::AddHousing { name, .. } => format!("housing {name} drawn"),
            Self::DropHousing { .. } => "housing taken away".into(),
            Self::SetHousing { set, .. } => format!("housing {} changed", set.name),
            Self::SetLandMore { .. } => "land changed".into(),
            Self::SetPartMore { .. } => "part changed".into(),
            Self::SetTurning { .. } => "turning set".into(),
            Self::Put { over, item } if over.is_empty() => format!("{} added", item.list().word()),
            Self::Put { item, .. } => format!("{} changed", item.list().word()),
            Self::Take { list, .. } => format!("{} taken out", list.word()),
            Self::Answer { asked, .. } => asked.done().into(),
        }
    }
}

fn size(l: &Land) -> Result<()> {
    expect(l.length_mm.0 > 0.0 && l.length_mm.0 <= 20_000.0, "length", "expected a length above 0 and up to 20 m")?;
    expect(l.d_mm.0 > 0.0 && l.d_mm.0 <= 5000.0, "d", "expected a diameter above 0 and up to 5 m")
}

fn gone(what: &str) -> Refusal {
    Refusal::new("part", format!("{what} is not there any more: somebody changed it"))
}

/// A common deep-groove bearing for a bore.
fn shelf_bearing(d: f64) -> Option<(String, crate::fit::designation::Bearing)> {
    let code = (d / 5.0).round() as u32;
    let text = match d as u32 {
        10 => "6200".to_owned(),
        12 => "6201".to_owned(),
        15 => "6202".to_owned(),
        17 => "6203".to_owned(),
        _ => format!("62{code:02}"),
    };
    crate::fit::designation::read(&text).ok().filter(|b| (b.d.0 - d).abs() < 0.5).map(|b| (text, b))
}

impl Anatomy {
    /// Takes an id out of everything that names it.
    fn forget(&mut self, id: &str) {
        for p in &mut self.parts {
            p.locks.retain(|x| x != id);
            p.covers.retain(|x| x != id);
            for o in [&mut p.key, &mut p.carried_by, &mut p.inside, &mut p.against] {
                if o.as_deref() == Some(id) {
                    *o = None;
                }
            }
        }
        for h in &mut self.housings {
            h.covers.retain(|x| x != id);
        }
        self.before.retain(|r| r.first != id && r.then != id);
        self.pairs.retain(|p| p.a != id && p.b != id);
        for p in &mut self.pairs {
            p.spacers.retain(|x| x != id);
        }
        self.thrust_sets.retain(|t| t.smaller != id && t.larger != id);
        self.runouts.retain(|r| r.part != id);
        for r in &mut self.runouts {
            r.without.retain(|x| x != id);
            r.trial.retain(|x| x != id);
            if r.reads.as_deref() == Some(id) {
                r.reads = None;
            }
        }
        self.bolt_rings.retain(|b| b.part != id);
        for b in self.bolt_rings.iter_mut().filter(|b| b.to.as_deref() == Some(id)) {
            b.to = None;
        }
        self.holes.retain(|h| h.housing != id);
        for f in &mut self.floats {
            f.after.retain(|x| x != id);
            f.without.retain(|x| x != id);
            f.trial.retain(|x| x != id);
            if f.shim.as_deref() == Some(id) {
                f.shim = None;
            }
        }
        for g in &mut self.gaps {
            g.after.retain(|x| x != id);
            g.without.retain(|x| x != id);
            g.trial.retain(|x| x != id);
        }
    }
}

impl Housing {
    /// A whole housing of grey iron that the shaft is laid into.
    #[must_use]
    pub fn plain(id: &str, name: &str, outside: Millimetres, bores: Vec<Bore>) -> Self {
        Self {
            id: id.to_owned(),
            name: name.to_owned(),
            outside_mm: outside,
            bores,
            material: Material::GreyIron,
            feet: false,
            from: None,
            split: false,
            covers: Vec::new(),
            clocked: false,
            mass_kg: None,
        }
    }
}

impl Part {
    /// A part of a kind on a land, without sizes yet.
    #[must_use]
    pub fn plain(id: &str, kind: PartKind, land: &str) -> Self {
        Self {
            id: id.to_owned(),
            name: id.to_owned(),
            kind,
            land: land.to_owned(),
            at_mm: Millimetres(0.0),
            width_mm: Millimetres(1.0),
            outside_mm: Millimetres(1.0),
            faces: None,
            designation: None,
            bore_mm: None,
            from: End::A,
            split: false,
            fit: Hold::Slide,
            locks: Vec::new(),
            covers: Vec::new(),
            key: None,
            carried_by: None,
            inside: None,
            keeps: None,
            hand: None,
            slots: None,
            tabs: None,
            torque_nm: None,
            match_mark: false,
            back_off_mm: None,
            clocked: false,
            through_balls: false,
            tab_bent: 0,
            adjusted: false,
            plunger: false,
            oiler: false,
            minutes: None,
            people: 0,
            solid: false,
            fitted: super::Fitted::AtBench,
            turned_by: super::TurnedBy::Outside,
            locked_by: None,
            torque_hi_nm: None,
            compound: None,
            cure_min: None,
            tool_mm: None,
            mass_kg: None,
            gap_volts: None,
            against: None,
            rings: Vec::new(),
        }
    }
}

#[cfg(test)]
mod tests;
