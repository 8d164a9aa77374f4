//! Building an anatomy on the drawing: each change is one small operation that is checked as a whole.

use super::{Anatomy, Bore, End, Hold, Housing, Land, LandKind, Part, PartKind};
use crate::fasten::Hand;
use crate::fit::Material;
use crate::quantity::Millimetres;
use crate::quantity::show::capital;
use crate::refusal::{Refusal, Result, expect};

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
    /// A part from the shelf, laid on a land, behind what lies there.
    AddPart {
        kind: PartKind,
        land: String,
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

/// An id made from a name, not taken yet: `lip-seal-2`.
fn fresh(a: &Anatomy, word: &str) -> String {
    let base: String = word.to_lowercase().chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '-' }).collect();
    let base = base.trim_matches('-').chars().take(24).collect::<String>();
    let base = if base.is_empty() { "part".to_owned() } else { base };
    let taken =
        |id: &str| a.parts.iter().any(|p| p.id == id) || a.housings.iter().any(|h| h.id == id) || a.lands.iter().any(|l| l.id == id);
    (1..).map(|k| if k == 1 { base.clone() } else { format!("{base}-{k}") }).find(|id| !taken(id)).unwrap_or(base)
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
    let (w, o) = match kind {
        PartKind::Bearing | PartKind::TaperCone | PartKind::Cup => (0.45 * d, 2.0 * d),
        PartKind::Seal => (8.0, 1.5 * d),
        PartKind::Impeller | PartKind::Wheel | PartKind::Pulley | PartKind::Gear => (0.9 * d, 3.0 * d),
        PartKind::Nut => (0.3 * d, 1.5 * d),
        PartKind::TabWasher | PartKind::Circlip | PartKind::Shim | PartKind::Gasket => (2.0, 1.4 * d),
        PartKind::Collar => (0.4 * d, 2.2 * d),
        PartKind::Cover | PartKind::Cap | PartKind::Plate => (0.4 * d, 2.4 * d),
        PartKind::ORing | PartKind::Ring => (3.0, 1.15 * d),
        PartKind::Key => (0.6 * d, 1.16 * d),
        _ => (0.5 * d, 1.4 * d),
    };
    (round(w.max(1.0)), round(o.max(d + 1.0)))
}

impl Edit {
    /// Applies the change and checks the whole.
    ///
    /// ```
    /// use ironseat_core::anatomy::{PartKind, edit::{Edit, blank}};
    /// let a = Edit::AddPart { kind: PartKind::Seal, land: "land-1".into() }.apply(&blank("k", "Machine"))?;
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
                let land = Land { id, name: named(name)?, length_mm: *length, d_mm: *d, kind: *kind, ..Land::default() };
                let at = behind.as_ref().and_then(|b| a.lands.iter().position(|l| l.id == *b)).map_or(a.lands.len(), |p| p + 1);
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
            }
            Self::AddPart { kind, land } => {
                let l = a.land(land).ok_or_else(|| gone("this land"))?;
                let d = l.d_mm.0;
                let (width, outside) = usual(*kind, d);
                // Behind what lies on the land already, nearer to the end it comes from.
                let at = a.parts.iter().filter(|p| p.land == *land).map(|p| p.at_mm.0 + p.width_mm.0).fold(0.0, f64::max);
                let start = a.start(land).map_or(0.0, |s| s.0);
                let from = if start + at + width / 2.0 > a.length().0 / 2.0 { End::B } else { End::A };
                let mut part = Part::plain(&fresh(&a, kind.word()), *kind, land);
                part.name = capital(kind.word());
                (part.at_mm, part.width_mm, part.outside_mm, part.from) = (Millimetres(at), Millimetres(width), Millimetres(outside), from);
                if kind.has_facing() {
                    part.faces = Some(from);
                }
                if *kind == PartKind::Bearing {
                    let (text, b) = shelf_bearing(d).ok_or_else(|| {
                        Refusal::new("land", format!("no deep-groove bearing has a bore of {d} mm: change the land first"))
                    })?;
                    part.designation = Some(text);
                    (part.width_mm, part.outside_mm, part.fit) = (b.width, b.outer, Hold::Shrink);
                }
                a.parts.push(part);
            }
            Self::SetPart { id, set } => {
                let name = named(&set.name)?;
                let p = a.parts.iter_mut().find(|p| p.id == *id).ok_or_else(|| gone("this part"))?;
                (p.name, p.at_mm, p.width_mm, p.outside_mm, p.bore_mm) = (name, set.at, set.width, set.outside, set.bore);
                (p.from, p.faces, p.fit, p.split, p.hand) = (set.from, set.faces, set.fit, set.split, set.hand);
                // The form shows one lock: several stay as long as it is among them.
                if set.locks.len() != 1 || !p.locks.contains(&set.locks[0]) {
                    p.locks.clone_from(&set.locks);
                }
                (p.key, p.carried_by, p.inside) = (set.key.clone(), set.carried_by.clone(), set.inside.clone());
                let typed = set.designation.trim();
                p.designation = (!typed.is_empty()).then(|| typed.to_owned());
                if p.kind == PartKind::Bearing {
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
                expect(p.kind.has_facing(), "faces", format!("{} is the same both ways", p.name))?;
                p.faces = Some(if p.faces == Some(End::A) { End::B } else { End::A });
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
                a.housings.push(Housing {
                    id,
                    name: named(name)?,
                    outside_mm: *outside,
                    bores: vec![Bore { from_mm: *from, to_mm: *to, d_mm: *bore }],
                    material: Material::GreyIron,
                    feet: false,
                    from: None,
                    split: true,
                    covers: Vec::new(),
                    clocked: false,
                });
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
        }
    }
}

fn named(name: &str) -> Result<String> {
    let name = name.trim();
    let n = name.chars().count();
    expect((1..=80).contains(&n), "name", "expected a name of 1 to 80 characters")?;
    Ok(name.to_owned())
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
            for o in [&mut p.key, &mut p.carried_by, &mut p.inside] {
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
        self.bolt_rings.retain(|b| b.part != id);
        self.holes.retain(|h| h.housing != id);
        for f in &mut self.floats {
            f.after.retain(|x| x != id);
            if f.shim.as_deref() == Some(id) {
                f.shim = None;
            }
        }
        for g in &mut self.gaps {
            g.after.retain(|x| x != id);
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
        }
    }
}

#[cfg(test)]
mod tests {
    use super::super::tests::machine;
    use super::super::{build_sheet, derive};
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_machine_is_built_from_nothing() {
        let mut a = blank("my-blower", "My blower");
        let mm = Millimetres::of;
        for e in [
            Edit::AddLand { behind: None, name: "body".into(), length: mm(120.0), d: mm(60.0), kind: LandKind::Plain },
            Edit::AddLand { behind: None, name: "B journal".into(), length: mm(60.0), d: mm(40.0), kind: LandKind::Plain },
            Edit::AddPart { kind: PartKind::Bearing, land: "land-1".into() },
            Edit::AddPart { kind: PartKind::Bearing, land: "land-2".into() },
            Edit::AddPart { kind: PartKind::Seal, land: "land-2".into() },
        ] {
            a = e.apply(&a).unwrap_or_else(|r| panic!("{e:?}: {r}"));
            assert!(!e.said().is_empty());
        }
        assert_eq!(a.lands.iter().map(|l| l.id.as_str()).collect::<Vec<_>>(), ["land-1", "land", "land-2"]);
        assert_eq!(a.parts[0].designation.as_deref(), Some("6208"));
        assert_eq!((a.parts[0].from, a.parts[1].from), (End::A, End::B));
        assert!(derive(&a).unwrap().buildable());
        assert_eq!(build_sheet::read(&build_sheet::write(&a)).unwrap(), a);
        // The bearing further in is told to be stuck with both sizes once it comes from the wrong end.
        let set = PartSet { name: "Wrong".into(), designation: "6208".into(), from: End::A, ..PartSet::default() };
        let wrong = Edit::SetPart { id: a.parts[1].id.clone(), set: Box::new(set) }.apply(&a).unwrap();
        assert!(!derive(&wrong).unwrap().buildable());
    }

    #[test]
    fn what_is_taken_off_is_forgotten_everywhere_and_what_carries_others_stays() {
        let m = machine();
        let e = Edit::DropLand { id: "ja".into() }.apply(&m).unwrap_err();
        assert!(e.message.contains("Bearing B1 lies on it"), "{e}");
        let without = Edit::DropPart { id: "cover".into() }.apply(&m).unwrap();
        assert!(without.parts.iter().all(|p| p.carried_by.as_deref() != Some("cover")));
        assert_eq!(Edit::FlipPart { id: "seal".into() }.apply(&m).unwrap().parts[0].faces, Some(End::B));
        assert!(Edit::FlipPart { id: "cover".into() }.apply(&m).unwrap_err().message.contains("same both ways"));
        for (e, field) in [
            (Edit::Rename { name: "  ".into() }, "name"),
            (
                Edit::AddLand { behind: None, name: "x".into(), length: Millimetres(0.0), d: Millimetres(1.0), kind: LandKind::Plain },
                "length",
            ),
            (Edit::AddPart { kind: PartKind::Bearing, land: "nowhere".into() }, "part"),
            (
                Edit::AddHousing {
                    name: "h".into(),
                    from: Millimetres(5.0),
                    to: Millimetres(1.0),
                    bore: Millimetres(1.0),
                    outside: Millimetres(2.0),
                },
                "to",
            ),
        ] {
            assert_eq!(e.apply(&m).unwrap_err().field, field, "{e:?}");
        }
    }

    proptest! {
        #[test]
        fn every_kind_can_be_put_on_any_land_and_taken_off_again(kind in 0usize..31, land in 0usize..4) {
            let m = machine();
            let (kind, _, _) = PartKind::ALL[kind];
            let on = Edit::AddPart { kind, land: m.lands[land].id.clone() }.apply(&m);
            if let Ok(on) = on {
                prop_assert_eq!(on.parts.len(), m.parts.len() + 1);
                let id = on.parts[m.parts.len()].id.clone();
                prop_assert_eq!(Edit::DropPart { id }.apply(&on).unwrap(), m);
            } else {
                prop_assert!(kind == PartKind::Bearing, "{kind:?}");
            }
        }
    }
}
