//! Bodies: what moves as one piece, its profile in rings, and what carries it.

use super::kinds::{Build, Role};
use super::{Anatomy, Fitted, Part};
use crate::fit::designation::{self, BearingType};
use crate::terms::End;
use std::collections::HashMap;

/// A ring of space: along the axis from end A of the shaft, and by radius, mm.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Space {
    pub x0: f64,
    pub x1: f64,
    pub r0: f64,
    pub r1: f64,
}

impl Space {
    /// How far two share the axis; negative when they do not.
    #[must_use]
    pub fn along(&self, o: &Self) -> f64 {
        self.x1.min(o.x1) - self.x0.max(o.x0)
    }
    /// How far two share the radius; negative when they do not.
    #[must_use]
    pub fn across(&self, o: &Self) -> f64 {
        self.r1.min(o.r1) - self.r0.max(o.r0)
    }
}

/// How a body gets to its place.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Way {
    /// Along the axis, from an end.
    Axial(End),
    /// From the side: halves, keys, screws, open or split housings.
    Sideways,
}

/// What a body is made from.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum What {
    Shaft,
    Part(usize),
    Housing(usize),
}

/// Which piece of a bearing that comes apart.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Piece {
    Whole,
    Inner,
    Outer,
    Cage,
}

impl Piece {
    /// What follows the part's id.
    #[must_use]
    pub fn suffix(self) -> &'static str {
        match self {
            Self::Whole => "",
            Self::Inner => ".inner",
            Self::Outer => ".outer",
            Self::Cage => ".cage",
        }
    }
}

/// What moves as one piece.
#[derive(Debug, Clone)]
pub struct Body {
    /// Id in the build sheet; of a piece `brg.inner`.
    pub id: String,
    /// As said.
    pub name: String,
    /// What it is made from.
    pub what: What,
    /// Which piece of it.
    pub piece: Piece,
    /// Profile where it belongs.
    pub rings: Vec<Space>,
    /// How it behaves as a ring.
    pub build: Build,
    /// How it gets to its place.
    pub way: Way,
    /// Body it is fitted into at the bench: both move as one.
    pub parent: Option<usize>,
    /// Body it is fitted into where that stands.
    pub stands_in: Option<usize>,
    /// Lies in its carrier wider than both openings.
    pub captive: bool,
    /// Halves: upper and lower.
    pub split: bool,
}

impl Body {
    /// From end A to end B.
    #[must_use]
    pub fn reach(&self) -> (f64, f64) {
        self.rings.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), r| (a.min(r.x0), b.max(r.x1)))
    }
    /// Least and largest radius.
    #[must_use]
    pub fn radii(&self) -> (f64, f64) {
        self.rings.iter().fold((f64::INFINITY, 0.0f64), |(a, b), r| (a.min(r.r0), b.max(r.r1)))
    }
}

/// Id of the part that a piece belongs to: `brg` of `brg.inner`.
#[must_use]
pub fn whole(id: &str) -> &str {
    id.split('.').next().unwrap_or(id)
}

/// All bodies of a machine; the shaft, with what is part of it, is number 0.
#[derive(Debug, Clone)]
pub struct Bodies {
    /// By number.
    pub list: Vec<Body>,
    index: HashMap<String, usize>,
    /// A carrier that carries itself, as ids.
    pub circular: Vec<String>,
    children: Vec<Vec<usize>>,
}

/// Ring spaces of the shaft, each with its land.
fn lands(a: &Anatomy) -> Vec<Space> {
    let mut x = 0.0;
    let mut out = Vec::new();
    for l in &a.lands {
        let (x0, x1) = (x, x + l.length_mm.0);
        x = x1;
        match l.d_b_mm {
            // A taper in eight steps, each as thick as its thicker end.
            Some(d_b) => {
                let step = (x1 - x0) / 8.0;
                for k in 0..8 {
                    let d = |t: f64| l.d_mm.0 + (d_b.0 - l.d_mm.0) * t / 8.0;
                    let r1 = d(f64::from(k)).max(d(f64::from(k) + 1.0)) / 2.0;
                    out.push(Space { x0: x0 + step * f64::from(k), x1: x0 + step * f64::from(k + 1), r0: 0.0, r1 });
                }
            }
            None => out.push(Space { x0, x1, r0: 0.0, r1: l.d_mm.0 / 2.0 }),
        }
    }
    out
}

/// Which ring of a roller bearing comes off by itself.
fn pieces(p: &Part) -> Option<(BearingType, &'static str)> {
    if p.kind.role() != Role::Rolling {
        return None;
    }
    let text = p.designation.as_deref()?;
    let b = designation::read(text).ok()?;
    let letters: String =
        text.trim().chars().take_while(char::is_ascii_alphabetic).flat_map(char::to_uppercase).collect();
    match b.kind {
        BearingType::CylindricalRoller if letters == "N" || letters == "NF" => Some((b.kind, "outer")),
        BearingType::CylindricalRoller => Some((b.kind, "inner")),
        BearingType::TaperRoller => Some((b.kind, "outer")),
        BearingType::ThrustBall => Some((b.kind, "outer")),
        BearingType::DeepGroove
        | BearingType::AngularContact
        | BearingType::SelfAligningBall
        | BearingType::SphericalRoller => None,
    }
}

impl Anatomy {
    /// Whole profile of a part where it belongs.
    fn profile(&self, p: &Part) -> Vec<Space> {
        let x = self.place(p).0;
        if p.rings.is_empty() {
            return vec![Space { x0: x, x1: x + p.width_mm.0, r0: self.bore_of(p).0 / 2.0, r1: p.outside_mm.0 / 2.0 }];
        }
        let ring = |r: &super::PartRing| Space {
            x0: x + r.from_mm.0,
            x1: x + r.to_mm.0,
            r0: r.bore_mm.0 / 2.0,
            r1: r.outside_mm.0 / 2.0,
        };
        p.rings.iter().map(ring).collect()
    }
}

impl Bodies {
    /// Bodies of an anatomy.
    #[must_use]
    pub fn of(a: &Anatomy) -> Self {
        let shaft = Body {
            id: "shaft".into(),
            name: "the shaft".into(),
            what: What::Shaft,
            piece: Piece::Whole,
            rings: lands(a),
            build: Build::Whole,
            way: Way::Sideways,
            parent: None,
            stands_in: None,
            captive: false,
            split: false,
        };
        let mut all = Self { list: vec![shaft], index: HashMap::new(), circular: Vec::new(), children: Vec::new() };
        for (i, p) in a.parts.iter().enumerate() {
            all.add_part(a, i, p);
        }
        for (i, h) in a.housings.iter().enumerate() {
            let rings = h
                .bores
                .iter()
                .map(|b| Space { x0: b.from_mm.0, x1: b.to_mm.0, r0: b.d_mm.0 / 2.0, r1: h.outside_mm.0 / 2.0 })
                .collect();
            all.put(Body {
                id: h.id.clone(),
                name: h.name.clone(),
                what: What::Housing(i),
                piece: Piece::Whole,
                rings,
                build: Build::Whole,
                way: h.from.filter(|_| !h.split).map_or(Way::Sideways, Way::Axial),
                parent: None,
                stands_in: None,
                captive: false,
                split: h.split,
            });
        }
        all.carriers(a);
        // What is one piece with its carrier becomes part of its profile.
        for (i, p) in a.parts.iter().enumerate().filter(|(_, p)| p.solid) {
            let carrier = p.carried_by.as_deref().and_then(|c| all.number(c)).unwrap_or(0);
            let rings = a.profile(&a.parts[i]);
            all.list[carrier].rings.extend(rings);
            all.index.insert(p.id.clone(), carrier);
        }
        let mut children = vec![Vec::new(); all.list.len()];
        for (i, b) in all.list.iter().enumerate() {
            if let Some(c) = b.parent {
                children[c].push(i);
            }
        }
        all.children = children;
        all
    }

    fn put(&mut self, b: Body) {
        self.index.insert(b.id.clone(), self.list.len());
        self.list.push(b);
    }

    fn add_part(&mut self, a: &Anatomy, i: usize, p: &Part) {
        if p.solid {
            return;
        }
        let row = p.kind.row();
        // A ring that is cut gives way as a circlip does; a whole one does not.
        let build = if row.role == Role::SealRing && p.split { Build::Yields } else { row.build };
        // A split ring that goes in where its carrier stands is wound round the shaft there: packing.
        let wound = p.split && build == Build::Yields && p.fitted == Fitted::InPlace;
        let sideways = matches!(build, Build::Key | Build::Ray) || (p.split && build != Build::Yields) || wound;
        let way = if sideways { Way::Sideways } else { Way::Axial(p.from) };
        let whole = Body {
            id: p.id.clone(),
            name: p.name.clone(),
            what: What::Part(i),
            piece: Piece::Whole,
            rings: a.profile(p),
            build,
            way,
            parent: None,
            stands_in: None,
            captive: false,
            split: p.split && sideways && build == Build::Whole,
        };
        let Some((kind, loose)) = pieces(p) else { return self.put(whole) };
        let s = whole.rings[0];
        let piece = |piece: Piece, word: &str, space: Space| Body {
            id: format!("{}{}", p.id, piece.suffix()),
            name: format!("{}, {word}", p.name),
            piece,
            rings: vec![space],
            ..whole.clone()
        };
        let (mid, roller) = (f64::midpoint(s.r0, s.r1), 0.25 * (s.r1 - s.r0));
        match kind {
            BearingType::CylindricalRoller if loose == "outer" => {
                self.put(piece(Piece::Inner, "ring with rollers", Space { r1: mid + roller, ..s }));
                self.put(piece(Piece::Outer, "loose outer ring", Space { r0: mid + roller, ..s }));
            }
            BearingType::CylindricalRoller => {
                self.put(piece(Piece::Inner, "loose inner ring", Space { r1: mid - roller, ..s }));
                self.put(piece(Piece::Outer, "ring with rollers", Space { r0: mid - roller, ..s }));
            }
            BearingType::ThrustBall => {
                let third = (s.x1 - s.x0) / 3.0;
                let towards_b = p.faces == Some(End::B);
                let (shaft, housing) = if towards_b { (s.x0, s.x1 - third) } else { (s.x1 - third, s.x0) };
                self.put(piece(
                    Piece::Inner,
                    "shaft washer",
                    Space { x0: shaft, x1: shaft + third, r1: s.r1 - 0.5, ..s },
                ));
                self.put(piece(
                    Piece::Cage,
                    "balls in their cage",
                    Space { x0: s.x0 + third, x1: s.x1 - third, r0: s.r0 + 1.0, r1: s.r1 - 1.0 },
                ));
                self.put(piece(
                    Piece::Outer,
                    "housing washer",
                    Space { x0: housing, x1: housing + third, r0: s.r0 + 0.5, ..s },
                ));
            }
            _ => {
                self.put(piece(Piece::Inner, "cone", Space { r1: mid, ..s }));
                self.put(piece(Piece::Outer, "cup", Space { r0: mid, ..s }));
            }
        }
        // The part's own name stands for the ring that is seated on the shaft.
        let inner = self.list.len() - if kind == BearingType::ThrustBall { 3 } else { 2 };
        self.index.insert(p.id.clone(), inner);
    }

    /// The housing whose bore holds this ring, if one does.
    fn bore_around(&self, a: &Anatomy, s: &Space) -> Option<usize> {
        let fits = |b: &Space| (b.r0 - s.r1).abs() < 0.3 && b.along(s) > 0.5 * (s.x1 - s.x0);
        let h = a.housings.iter().position(|h| {
            h.bores
                .iter()
                .any(|b| fits(&Space { x0: b.from_mm.0, x1: b.to_mm.0, r0: b.d_mm.0 / 2.0, r1: h.outside_mm.0 / 2.0 }))
        })?;
        self.number(&a.housings[h].id)
    }

    fn carriers(&mut self, a: &Anatomy) {
        for i in 1..self.list.len() {
            let What::Part(k) = self.list[i].what else { continue };
            let p = &a.parts[k];
            let piece = self.list[i].piece;
            let said = p
                .carried_by
                .as_deref()
                .and_then(|c| self.number(c))
                .filter(|_| matches!(piece, Piece::Whole | Piece::Outer));
            if let Some(c) = said {
                if p.fitted == Fitted::InPlace {
                    self.list[i].stands_in = Some(c);
                } else {
                    self.list[i].parent = Some(c);
                }
                continue;
            }
            // A loose ring belongs in the bore that holds it.
            let loose_ring = piece == Piece::Outer || p.kind.role() == Role::Cup;
            if loose_ring
                && let Some(c) =
                    self.bore_around(a, &self.list[i].rings[0]).filter(|c| self.list[*c].way != Way::Sideways)
            {
                if p.fitted == Fitted::InPlace {
                    self.list[i].stands_in = Some(c);
                } else {
                    self.list[i].parent = Some(c);
                }
                continue;
            }
            if piece != Piece::Whole {
                continue;
            }
            // Wider than both openings: it lies in the housing before the shaft is fed through.
            if let Some(h) = p
                .inside
                .as_deref()
                .and_then(|h| a.housings.iter().find(|x| x.id == h))
                .filter(|h| h.from.is_some() && !h.split)
            {
                let ends = h.bores.first().map_or(0.0, |b| b.d_mm.0).max(h.bores.last().map_or(0.0, |b| b.d_mm.0));
                if p.outside_mm.0 > ends + 1e-6 {
                    self.list[i].parent = self.number(&h.id);
                    self.list[i].captive = true;
                    continue;
                }
            }
            // Tight in its housing and loose on the shaft: it goes with the housing.
            let in_housing = a.seats.iter().find(|s| s.part == p.id).filter(|_| !p.fit.tight()).and_then(|s| {
                let f = a.facts(&s.id).ok()?;
                let (shaft, bore) = (f.drawn_interference(), f.drawn_housing_interference());
                (shaft.0.0 + shaft.1.0 <= 0.0 && bore.0.0 + bore.1.0 > 0.0).then(|| self.number(&s.housing)).flatten()
            });
            if let Some(c) = in_housing.filter(|c| self.list[*c].way != Way::Sideways) {
                self.list[i].parent = Some(c);
            }
        }
        // Nothing carries itself.
        for i in 1..self.list.len() {
            let (mut at, mut steps) = (i, 0);
            while let Some(c) = self.list[at].parent {
                at = c;
                steps += 1;
                if at == i || steps > self.list.len() {
                    self.circular = vec![self.list[i].id.clone()];
                    self.list[i].parent = None;
                    break;
                }
            }
        }
    }

    /// Number of a body; a bearing that comes apart is known by its name, too: that is its ring on the shaft.
    #[must_use]
    pub fn number(&self, id: &str) -> Option<usize> {
        self.index.get(id).copied()
    }
    /// How many, the shaft left out.
    #[must_use]
    pub fn count(&self) -> usize {
        self.list.len() - 1
    }
    /// A housing that is open above: the shaft is laid into it, caps close it.
    #[must_use]
    pub fn open(&self, a: &Anatomy, i: usize) -> bool {
        matches!(self.list[i].what, What::Housing(h) if a.housings[h].from.is_none() && !a.housings[h].split)
    }
    /// Lays a body into the housing that it is said to lie inside, before the shaft is fed through.
    pub(super) fn lay_in(&mut self, i: usize, housing: usize) {
        self.list[i].parent = Some(housing);
        self.list[i].captive = true;
        self.children[housing].push(i);
    }
    /// All pieces of a part or housing.
    #[must_use]
    pub fn pieces_of(&self, id: &str) -> Vec<usize> {
        let Some(first) = self.number(id).filter(|i| *i > 0) else { return Vec::new() };
        let b = &self.list[first];
        if b.id == id {
            return vec![first];
        }
        // What is one piece with its carrier is known by that; pieces lie beside each other, the one on the shaft first.
        if b.id.strip_prefix(id) != Some(b.piece.suffix()) {
            return Vec::new();
        }
        (first..self.list.len()).take_while(|k| self.list[*k].what == b.what).collect()
    }
    /// The body at the root of its group: what moves when it moves.
    #[must_use]
    pub fn root(&self, mut i: usize) -> usize {
        while let Some(c) = self.list[i].parent {
            i = c;
        }
        i
    }
    /// A body and all that it carries.
    #[must_use]
    pub fn group(&self, i: usize) -> Vec<usize> {
        let mut out = vec![i];
        let mut at = 0;
        while at < out.len() {
            out.extend(&self.children[out[at]]);
            at += 1;
        }
        out
    }
    /// What is fitted into a body at the bench, directly.
    #[must_use]
    pub fn children(&self, i: usize) -> &[usize] {
        &self.children[i]
    }
    /// The member of a carrier's own fittings that holds a body: itself or what carries it.
    #[must_use]
    pub fn within(&self, mut i: usize, carrier: usize) -> Option<usize> {
        loop {
            match self.list[i].parent {
                Some(c) if c == carrier => return Some(i),
                Some(c) => i = c,
                None => return None,
            }
        }
    }
    /// The part that a body is made from.
    #[must_use]
    pub fn part<'a>(&self, a: &'a Anatomy, i: usize) -> Option<&'a Part> {
        match self.list[i].what {
            What::Part(k) => a.parts.get(k),
            What::Shaft | What::Housing(_) => None,
        }
    }
}

/// Mass of a body with what it carries, kg: as said, else its whole profile in its metal. What is hollow inside its
/// profile says its mass.
#[must_use]
pub fn mass(a: &Anatomy, all: &Bodies, i: usize) -> f64 {
    all.group(i)
        .into_iter()
        .map(|k| {
            let b = &all.list[k];
            let volume: f64 =
                b.rings.iter().map(|r| std::f64::consts::PI * (r.r1.powi(2) - r.r0.powi(2)) * (r.x1 - r.x0)).sum();
            match b.what {
                What::Part(p) => a.parts[p].mass_kg.unwrap_or(7.85e-6 * volume),
                What::Housing(h) => a.housings[h].mass_kg.unwrap_or(a.housings[h].material.density() * 1e-9 * volume),
                What::Shaft => 0.0,
            }
        })
        .sum()
}
