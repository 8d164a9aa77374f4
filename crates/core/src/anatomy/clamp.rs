//! What a tightener clamps: from it ring by ring, face to face, to the shoulder or housing face that stops it.

use super::body::{Bodies, Space, What};
use super::kinds::Role;
use super::{Anatomy, facing};
use crate::fit::designation;
use crate::terms::End;
use std::collections::BTreeSet;

/// Faces no farther apart than this touch, mm.
pub const TOUCH: f64 = 0.6;
/// Faces share at least this of the radius, mm.
const BAND: f64 = 0.1;

/// What a tightener presses together.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Stack {
    /// Bodies between it and the stop, nearest first.
    pub members: Vec<usize>,
    /// What stops it: the shaft (0), housings.
    pub stops: Vec<usize>,
    /// The press goes through rolling contact: turning it changes a float or a preload.
    pub crosses: bool,
}

#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Debug)]
enum Zone {
    Full,
    Inner,
    Outer,
}

/// Rings of a body in one zone.
fn zone(a: &Anatomy, all: &Bodies, i: usize, z: Zone) -> Vec<Space> {
    let rings = &all.list[i].rings;
    let Some(p) = all.part(a, i).filter(|p| p.kind.role() == Role::Rolling && z != Zone::Full) else {
        return rings.clone();
    };
    let inside = p.designation.as_deref().and_then(|d| designation::read(d).ok()).and_then(|b| b.inside);
    rings
        .iter()
        .map(|r| {
            let share = |s: f64| r.r0 + (r.r1 - r.r0) * s;
            let (d1, d2) =
                inside.map_or((share(0.35), share(0.65)), |i| (i.inner_shoulder.0 / 2.0, i.outer_shoulder.0 / 2.0));
            if z == Zone::Inner { Space { r1: d1, ..*r } } else { Space { r0: d2, ..*r } }
        })
        .collect()
}

fn two_rings(a: &Anatomy, all: &Bodies, i: usize) -> bool {
    all.list[i].piece == super::body::Piece::Whole && all.part(a, i).is_some_and(|p| p.kind.role() == Role::Rolling)
}

/// Faces of rings that look to an end, with their bands.
fn faces(rings: &[Space], to: End) -> Vec<(f64, f64, f64)> {
    rings.iter().map(|r| (if to == End::A { r.x0 } else { r.x1 }, r.r0, r.r1)).collect()
}

fn touching(all: &Bodies, i: usize, face: (f64, f64, f64), to: End) -> bool {
    all.list[i].rings.iter().any(|r| {
        let near = if to == End::A { r.x1 } else { r.x0 };
        (near - face.0).abs() <= TOUCH && r.r1.min(face.2) - r.r0.max(face.1) > BAND
    })
}

/// The stack that a body presses together when it is drawn towards an end.
#[must_use]
pub fn stack(a: &Anatomy, all: &Bodies, tightener: usize, to: End) -> Stack {
    let mut out = Stack::default();
    let mut seen: BTreeSet<(usize, Zone)> = BTreeSet::new();
    let mut open = vec![(tightener, Zone::Full)];
    // What it is turned against may stand off: the sheet says so.
    let said = all.part(a, tightener).and_then(|p| p.against.as_deref()).and_then(|t| all.number(t));
    // Only what is near along the axis can touch; bodies are few enough to look at each.
    while let Some((i, z)) = open.pop() {
        let rings = zone(a, all, i, z);
        let from = faces(&rings, to);
        let mut stopped = false;
        for (k, b) in all.list.iter().enumerate() {
            if k == i || k == tightener {
                continue;
            }
            let said = i == tightener && said == Some(k);
            let face = from.iter().find(|f| touching(all, k, **f, to)).or(from.first().filter(|_| said));
            let Some(face) = face else { continue };
            match b.what {
                What::Shaft | What::Housing(_) => {
                    stopped = true;
                    if !out.stops.contains(&k) {
                        out.stops.push(k);
                    }
                }
                What::Part(n) => {
                    let role = a.parts[n].kind.role();
                    if slides(a, all, i, k) {
                        continue;
                    }
                    if matches!(b.build, super::Build::Key | super::Build::Ray) || role.seals() && role != Role::Gasket
                    {
                        continue;
                    }
                    stopped = true;
                    let zones: &[Zone] = if two_rings(a, all, k) { &[Zone::Inner, Zone::Outer] } else { &[Zone::Full] };
                    for z in zones {
                        let near = if to == End::A { End::B } else { End::A };
                        let meets =
                            faces(&zone(a, all, k, *z), near).iter().any(|f| f.2.min(face.2) - f.1.max(face.1) > BAND);
                        if (*z == Zone::Full || meets || said) && seen.insert((k, *z)) {
                            if !out.members.contains(&k) {
                                out.members.push(k);
                            }
                            open.push((k, *z));
                        }
                    }
                }
            }
        }
        if stopped || i == tightener {
            continue;
        }
        // Nothing stops this ring: the press goes on through its rolling contact.
        if z == Zone::Inner || z == Zone::Outer {
            let other = if z == Zone::Inner { Zone::Outer } else { Zone::Inner };
            out.crosses = true;
            if seen.insert((i, other)) {
                open.push((i, other));
            }
        } else if facing::is_taper(all.part(a, i)) {
            for k in mates(a, all, i) {
                out.crosses = true;
                if seen.insert((k, Zone::Full)) {
                    out.members.push(k);
                    open.push((k, Zone::Full));
                }
            }
        }
    }
    out
}

/// A thrust bearing that stands still against what turns: nothing is clamped through its film.
fn slides(a: &Anatomy, all: &Bodies, from: usize, to: usize) -> bool {
    let role = |i: usize| all.part(a, i).map(|p| p.kind.role());
    let still = |i: usize| all.list[i].parent.is_some() || all.list[i].stands_in.is_some();
    match (role(from), role(to)) {
        (Some(Role::Shoes), Some(k)) | (Some(k), Some(Role::Shoes)) => {
            !matches!(k, Role::BaseRing | Role::Shoes | Role::Shim | Role::Cover)
        }
        (Some(Role::ThrustWasher), Some(_)) => still(from) && !still(to),
        (Some(_), Some(Role::ThrustWasher)) => still(to) && !still(from) && all.root(from) != all.root(to),
        _ => false,
    }
}

/// The other ring of a taper bearing.
fn mates(a: &Anatomy, all: &Bodies, i: usize) -> Vec<usize> {
    let b = &all.list[i];
    let reach = b.reach();
    (1..all.list.len())
        .filter(|k| *k != i && facing::is_taper(all.part(a, *k)))
        .filter(|k| {
            let o = &all.list[*k];
            let p = o.reach();
            let kinds = all.part(a, i).map(|p| p.kind) != all.part(a, *k).map(|p| p.kind) || o.what == b.what;
            kinds && reach.0 < p.1 && p.0 < reach.1
        })
        .collect()
}

/// Whether a split or whole housing grips a body in its bores: that is as wide outside as the bore, and lies in it.
#[must_use]
pub fn grips(all: &Bodies, housing: usize, k: usize) -> bool {
    let bores = &all.list[housing].rings;
    let in_bore = |r: &Space| bores.iter().any(|h| (h.r0 - r.r1).abs() < 0.3 && h.along(r) > 0.5);
    k != housing && matches!(all.list[k].what, What::Part(_)) && all.list[k].rings.iter().any(in_bore)
}

/// Bodies that a split or whole housing grips in its bores.
pub fn gripped(all: &Bodies, housing: usize) -> impl Iterator<Item = usize> + '_ {
    (1..all.list.len()).filter(move |k| grips(all, housing, *k))
}
