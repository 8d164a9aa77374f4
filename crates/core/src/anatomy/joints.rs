//! Joints: what holds two bodies together, with both of its ends (docs/trade.md, Order of assembly): what bolts go into,
//! what the shaft is laid into, what a seal is driven into.

use super::body::{Bodies, Space, Way, What};
use super::clamp::{self, TOUCH};
use super::kinds::Role;
use super::{Anatomy, BoltRing};
use std::collections::BTreeSet;

/// What a ring of bolts is fastened to.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Partner {
    /// One body: said, or the one whose face the flange meets.
    One(usize),
    /// The halves of one housing.
    Halves(usize),
    /// No face meets the flange: the sheet has to say it.
    Unsaid,
    /// Several faces meet it: the sheet has to say which.
    Several(Vec<usize>),
}

impl Partner {
    /// The body, where it is known.
    #[must_use]
    pub fn body(&self) -> Option<usize> {
        match self {
            Self::One(b) | Self::Halves(b) => Some(*b),
            Self::Unsaid | Self::Several(_) => None,
        }
    }
}

/// Flange faces share at least this of the radius with what they are bolted to, mm.
const FLANGE: f64 = 1.0;

/// Something that bolts can go into: a housing, what closes, a plate.
#[must_use]
pub fn takes_bolts(a: &Anatomy, all: &Bodies, i: usize) -> bool {
    match all.list[i].what {
        What::Housing(_) => true,
        What::Part(k) => a.parts[k].kind.role().closes() || a.parts[k].kind.role() == Role::Plate,
        What::Shaft => false,
    }
}

/// Bodies whose face lies against a face of this one, through gaskets and shims between them.
fn meets(a: &Anatomy, all: &Bodies, i: usize) -> Vec<usize> {
    let mut out = Vec::new();
    for to_a in [true, false] {
        let mut open = vec![i];
        let mut seen = BTreeSet::from([i]);
        while let Some(k) = open.pop() {
            for face in &all.list[k].rings {
                let x = if to_a { face.x0 } else { face.x1 };
                for (o, b) in all.list.iter().enumerate().skip(1).filter(|(o, _)| !seen.contains(o)) {
                    let touches = b.rings.iter().any(|r| {
                        let near = if to_a { r.x1 } else { r.x0 };
                        (near - x).abs() <= TOUCH && r.across(face) > FLANGE
                    });
                    if !touches {
                        continue;
                    }
                    if takes_bolts(a, all, o) {
                        if !out.contains(&o) {
                            out.push(o);
                        }
                    } else if all.part(a, o).is_some_and(|p| matches!(p.kind.role(), Role::Gasket | Role::Shim)) {
                        open.push(o);
                    }
                }
            }
            seen.insert(k);
            seen.extend(open.iter().copied());
        }
    }
    out
}

/// What a ring of bolts is fastened to.
///
/// ```
/// # use ironseat_core::anatomy::{Anatomy, body::Bodies, joints::{Partner, partner}};
/// let pump: Anatomy = serde_json::from_str(r#"{"key":"p","name":"Pump","version":1,
///   "lands":[{"id":"j","name":"journal","length_mm":60,"d_mm":40}],
///   "parts":[{"id":"cover","name":"Cover","kind":"cover","land":"j","at_mm":0,"width_mm":10,"outside_mm":120,"bore_mm":42}],
///   "housings":[{"id":"case","name":"case","outside_mm":120,"material":"grey_iron","from":"A","bores":[{"from_mm":10,"to_mm":50,"d_mm":80}]}],
///   "bolt_rings":[{"part":"cover","n":4,"torque_nm":20}]}"#).unwrap();
/// let all = Bodies::of(&pump);
/// assert_eq!(partner(&pump, &all, &pump.bolt_rings[0]), Partner::One(all.number("case").unwrap()));
/// ```
#[must_use]
pub fn partner(a: &Anatomy, all: &Bodies, ring: &BoltRing) -> Partner {
    let Some(i) = all.number(&ring.part).filter(|i| *i != 0) else { return Partner::Unsaid };
    let said = ring.to.as_deref().and_then(|t| all.number(t)).filter(|t| *t != i);
    if let Some(t) = said {
        return Partner::One(t);
    }
    if all.list[i].split && matches!(all.list[i].what, What::Housing(_)) {
        return Partner::Halves(i);
    }
    // A cap is pulled down on the open housing that it stands on.
    if all.part(a, i).is_some_and(|p| p.kind.role() == Role::Cap) && all.list[i].way == Way::Sideways {
        let beds: Vec<usize> = beds_under(a, all, i).collect();
        if let [bed] = beds[..] {
            return Partner::One(bed);
        }
    }
    let mut list = meets(a, all, i);
    // What it carries, and what goes on after it from the same end, is fastened to it and not the other way round.
    list.retain(|o| all.root(*o) != i);
    match list[..] {
        [one] => Partner::One(one),
        [] => Partner::Unsaid,
        _ => {
            // Of several the one that it is fitted into, or the one housing among them.
            let carrier = all.list[i].parent.or(all.list[i].stands_in).filter(|c| list.contains(c));
            let housings: Vec<usize> =
                list.iter().copied().filter(|o| matches!(all.list[*o].what, What::Housing(_))).collect();
            match (carrier, &housings[..]) {
                (Some(c), _) => Partner::One(c),
                (None, [h]) => Partner::One(*h),
                _ => Partner::Several(list),
            }
        }
    }
}

/// Open housings under most of the length of a body.
pub fn beds_under<'a>(a: &'a Anatomy, all: &'a Bodies, i: usize) -> impl Iterator<Item = usize> + 'a {
    let (x0, x1) = all.list[i].reach();
    let under = move |h: usize| all.list[h].rings.iter().any(|r| r.x1.min(x1) - r.x0.max(x0) > (x1 - x0) / 2.0);
    (1..all.list.len()).filter(move |h| all.open(a, *h) && under(*h))
}

/// Whether the shaft is laid into a housing: it is open above, or parted and stands on feet or carries the shaft. A cap
/// in two halves that is brought up from below is none.
#[must_use]
pub fn is_bed(a: &Anatomy, all: &Bodies, i: usize) -> bool {
    let What::Housing(h) = all.list[i].what else { return false };
    all.open(a, i) || all.list[i].split && (a.housings[h].feet || clamp::gripped(all, i).next().is_some())
}

/// Housings that the shaft is laid into.
#[must_use]
pub fn beds(a: &Anatomy, all: &Bodies) -> Vec<usize> {
    (1..all.list.len()).filter(|i| is_bed(a, all, *i)).collect()
}

/// The body that has the pocket of a seal which is fitted into none at the bench: it hangs on the shaft until that comes
/// around it. None for one that rides on the shaft and seals against a face.
#[must_use]
pub fn pocket(a: &Anatomy, all: &Bodies, i: usize) -> Option<usize> {
    let own = all.list[i].rings.first()?;
    (1..all.list.len()).filter(|o| *o != i && all.root(*o) != i).find(|o| {
        let holds = match all.list[*o].what {
            What::Housing(_) => true,
            What::Part(k) => a.parts[k].kind.role().closes(),
            What::Shaft => false,
        };
        let around = |r: &Space| (r.r0 - own.r1).abs() < 0.5 && r.along(own) > 0.5 * (own.x1 - own.x0);
        holds && all.list[*o].rings.iter().any(around)
    })
}
