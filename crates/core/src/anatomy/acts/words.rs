//! How a body goes on and comes off, as said.

use super::super::body::{Bodies, Piece, Way, What};
use super::super::kinds::Role;
use super::super::{Anatomy, Hold, HoleKind, LandKind, Part};
use super::laws::Step;
use crate::caution::Caution;
use crate::fasten::Hand;
use crate::quantity::show::capital;
use crate::terms::End;
use rustc_hash::{FxHashMap as HashMap, FxHashSet as HashSet};

/// An end as said.
pub(super) fn end_word(e: End) -> &'static str {
    match e {
        End::A => "end A",
        End::B => "end B",
    }
}

/// Which ring is pushed or supported: the one that is tight at the joint being made.
pub(super) fn pushed(a: &Anatomy, all: &Bodies, i: usize) -> &'static str {
    let b = &all.list[i];
    let Some(p) = all.part(a, i) else { return "" };
    if p.kind.role() != Role::Rolling || b.piece != Piece::Whole {
        return "";
    }
    let housing = tight_in_housing(a, p);
    let carried = b.parent.is_some() || b.stands_in.is_some();
    match (p.fit.tight() && !carried, (carried && p.fit.tight()) || housing) {
        (true, true) => ", a plate on both rings",
        (true, false) => ", force through the inner ring",
        (false, true) => ", force through the outer ring",
        (false, false) => "",
    }
}

/// Tight in its housing by the classes of its seat.
pub(super) fn tight_in_housing(a: &Anatomy, p: &Part) -> bool {
    let seat = a.seats.iter().find(|s| s.part == p.id);
    seat.and_then(|s| a.facts(&s.id).ok()).is_some_and(|f| {
        let (lo, hi) = f.drawn_housing_interference();
        lo.0 + hi.0 > 0.0
    })
}

fn faces(a: &Anatomy, all: &Bodies, i: usize) -> String {
    let piece = all.list[i].piece;
    all.part(a, i).and_then(|p| Some((p, p.faces?))).map_or_else(String::new, |(p, e)| {
        // Of a taper the sheet says where the cup's thick wall looks; the cone's large rib looks the other way.
        let (word, end) = match (p.kind.role(), piece) {
            (Role::Rolling, Piece::Inner) => ("large rib", e.other()),
            (Role::Rolling, Piece::Outer) => ("thick wall", e),
            (Role::Bush, _) => ("marked end", e),
            _ => (p.facing_word(), e),
        };
        if p.kind.role() == Role::Rolling && piece != Piece::Whole && !super::super::facing::is_taper(Some(p)) {
            return String::new();
        }
        format!(", {word} to {}", end_word(end))
    })
}

fn fill(words: &str, name: &str, faces: &str, into: &str, from: &str) -> String {
    words.replace("{name}", name).replace("{faces}", faces).replace("{into}", into).replace("{from}", from)
}

/// Words of placing a body. `hot` is whether a shrink ring may go on hot.
pub(super) fn on(a: &Anatomy, all: &Bodies, i: usize, hot: bool) -> String {
    let b = &all.list[i];
    let name = &b.name;
    let p = match b.what {
        What::Part(k) => &a.parts[k],
        What::Housing(h) => return housing_on(a, all, i, h),
        What::Shaft => return String::new(),
    };
    let carrier = b.parent.or(b.stands_in).map(|c| all.list[c].name.as_str());
    let from = match b.way {
        Way::Axial(e) => end_word(e),
        Way::Sideways => "the side",
    };
    let facing = faces(a, all, i);
    if b.captive {
        return format!(
            "Lay {name} in {} at its open side{facing}, before the shaft is fed through.",
            carrier.unwrap_or("its housing")
        );
    }
    if p.kind.role() == Role::Lip && carrier.is_none() {
        let then = match super::super::joints::pocket(a, all, i) {
            Some(o) => format!("it is driven into {} once that is around it", all.list[o].name),
            None => "it grips the shaft, its lip lies against the face beside it".to_owned(),
        };
        return format!("Slide {name} over its land{facing}, lip oiled: {then}.");
    }
    if let Some(words) = p.kind.row().on {
        let mut said = fill(words, name, &facing, carrier.unwrap_or("its pocket"), from);
        if p.kind.role() == Role::Nut {
            said = nut_on(p, &said);
        }
        return said;
    }
    let ring = pushed(a, all, i);
    match (p.fit, carrier) {
        (Hold::Shrink, None) if hot => {
            format!("Push {name} home from {from}{facing} in one go; hold it until it grips.")
        }
        (Hold::Shrink, None) => {
            format!(
                "Press {name} home from {from}{facing}{ring}; not heated: its outside would grow in the bore that it has to enter."
            )
        }
        (Hold::Shrink | Hold::Press, Some(c)) => {
            format!("Press {name} square into {c}{facing}{ring}; or warm {c} and let it drop in.")
        }
        (Hold::Oil, _) => format!(
            "Expansion pressure on until oil shows at the edge, then push {name} home from {from} by its drive-up. \
             Expansion pressure off, push held {} minutes, then the push off.",
            crate::fit::hydraulic::HOLD_MIN
        ),
        (Hold::Press, None) => format!("Press {name} home from {from}{facing}{ring}."),
        (Hold::Screwed, _) => format!("Screw {name} in{facing}."),
        (Hold::Loose | Hold::Slide, _) => slide_on(p, b.split || b.way == Way::Sideways, name, &facing, carrier, from),
    }
}

fn slide_on(p: &Part, sideways: bool, name: &str, facing: &str, carrier: Option<&str>, from: &str) -> String {
    match (p.kind.role(), sideways, carrier) {
        (Role::Bush, true, _) => {
            format!("Roll the shells of {name} in{facing}, marks together, oiled; feed hole to feed hole.")
        }
        (Role::Bush, false, Some(c)) => {
            format!("Slide {name} into {c} by hand, oiled: it floats and turns freely.")
        }
        (Role::SealRing, true, Some(c)) => {
            format!("Lay {name} into {c} ring by ring, cut square, gaps staggered a quarter turn.")
        }
        (Role::SealRing, _, _) if p.split => {
            format!("Open {name} only as far as the land, oil under it, gaps staggered.")
        }
        (Role::Shim, true, _) => format!("Lay the leaves of {name} in the joint, thick outside, thin inside."),
        (_, true, _) => format!("Lay the halves of {name} on{facing}, marks together."),
        (_, false, Some(c)) => format!("Slide {name} into {c}{facing}."),
        (_, false, None) => format!("Slide {name} on from {from}{facing}."),
    }
}

fn nut_on(p: &Part, said: &str) -> String {
    // One preparation: what is laid on a dry thread does not go on oil.
    let said = match p.compound.as_deref() {
        Some(c) => said.replacen(
            &format!("Oil face and thread of {}, turn it", p.name),
            &format!("{} on the clean, dry thread of {}, nothing else on it. Turn it", capital(c), p.name),
            1,
        ),
        None => said.to_owned(),
    };
    let hand = match p.hand {
        Some(Hand::Left) => " Left-hand thread: anticlockwise goes on.",
        Some(Hand::Right) | None => "",
    };
    format!("{said}{hand}")
}

fn housing_on(a: &Anatomy, all: &Bodies, i: usize, h: usize) -> String {
    let (b, h) = (&all.list[i], &a.housings[h]);
    let name = &b.name;
    if h.split {
        return if super::super::joints::is_bed(a, all, i) {
            format!("Set the lower half of {name} down and lay the shaft into it, level.")
        } else {
            format!("Bring the lower half of {name} up from below, marks to the marks.")
        };
    }
    let Some(from) = h.from else {
        return format!("Lay the shaft into {name}, level; nothing is dragged over an edge.");
    };
    // Rings on the shaft that are tight in its bores are pushed by their outer rings.
    let tight: Vec<&str> = super::super::clamp::gripped(all, i)
        .filter(|k| all.list[*k].parent.is_none())
        .filter_map(|k| {
            all.part(a, k).filter(|p| p.kind.role() == Role::Rolling && tight_in_housing(a, p)).map(|p| p.name.as_str())
        })
        .collect();
    let how = if tight.is_empty() {
        "level and slow; feel that nothing touches".to_owned()
    } else {
        format!("warmed if it is tight; {} pushed by the outer ring, never through the balls", tight.join(" and "))
    };
    format!("Bring {name} over the shaft from {}, {how}.", end_word(from))
}

/// Words of taking a body off.
pub(super) fn off(a: &Anatomy, all: &Bodies, i: usize) -> String {
    let b = &all.list[i];
    let name = &b.name;
    let p = match b.what {
        What::Part(k) => &a.parts[k],
        What::Housing(h) => {
            return match (a.housings[h].split, a.housings[h].from) {
                (true, _) if super::super::joints::is_bed(a, all, i) => {
                    format!("Lift the shaft out of the lower half of {name}.")
                }
                (true, _) => format!("Let the lower half of {name} down, held from below until it is free."),
                (false, None) => format!("Lift the shaft out of {name}, level."),
                (false, Some(e)) => {
                    format!("Draw {name} off towards {}: jack it square, support it before it comes free.", end_word(e))
                }
            };
        }
        What::Shaft => return String::new(),
    };
    let carrier = b.parent.or(b.stands_in).map(|c| all.list[c].name.as_str());
    let from = match b.way {
        Way::Axial(e) => end_word(e),
        Way::Sideways => "the side",
    };
    if b.captive {
        return format!("Take {name} out of {} at its open side.", carrier.unwrap_or("its housing"));
    }
    if p.kind.role() == Role::Nut {
        return format!("Turn {name} off by hand; count the turns.");
    }
    if let Some(words) = p.kind.row().off {
        return fill(words, name, "", carrier.unwrap_or("its pocket"), from);
    }
    match (p.fit, carrier) {
        (Hold::Oil, _) => format!("Draw {name} off towards {from}: the oil has let it go."),
        (Hold::Press | Hold::Shrink, Some(c)) => {
            format!("Press {name} out of {c}, supported close by{}.", pushed(a, all, i))
        }
        (Hold::Shrink, None) if b.piece == Piece::Inner || p.kind.role() != Role::Rolling => {
            format!("Warm {name} quickly and draw it off towards {from} before the shaft warms.")
        }
        (Hold::Press | Hold::Shrink, None) if p.through_balls => {
            format!("Pull {name} off by its outer ring, in line: it is scrap.")
        }
        (Hold::Press | Hold::Shrink, None) => format!("Pull {name} off towards {from}{}.", pushed(a, all, i)),
        (Hold::Screwed, _) => format!("Unscrew {name}."),
        (Hold::Loose | Hold::Slide, _) if b.split && p.kind.role() == Role::Bush => format!(
            "Take the weight of the shaft by a tenth of a millimetre and roll the shells of {name} out; keep them paired."
        ),
        (Hold::Loose | Hold::Slide, _) if b.split => format!("Part {name} and lift its halves away; keep them paired."),
        (Hold::Loose | Hold::Slide, Some(c)) => format!("Take {name} out of {c}."),
        (Hold::Loose | Hold::Slide, None) => format!("Draw {name} off towards {from}."),
    }
}

/// Tool of taking a body off.
pub(super) fn off_tool(p: &Part) -> &'static str {
    p.kind.row().tools.map_or(
        match p.fit {
            Hold::Oil => "pumps and gauges",
            Hold::Shrink => "induction ring or puller",
            Hold::Press => "puller or press",
            Hold::Screwed => "wrench",
            Hold::Loose | Hold::Slide => "hands",
        },
        |t| t.1,
    )
}

/// Caution of moving a part.
pub(super) fn caution(p: &Part, mounting: bool, heavy: bool) -> Option<Caution> {
    if let Some(c) = p.kind.row().caution {
        return Some(c);
    }
    match p.fit {
        Hold::Oil => Some(Caution::Injection),
        Hold::Shrink if mounting => Some(Caution::HotRing),
        Hold::Shrink => Some(Caution::Hot),
        Hold::Press if mounting => Some(Caution::Press),
        Hold::Press => Some(Caution::Burst),
        Hold::Loose | Hold::Slide | Hold::Screwed => heavy.then_some(Caution::Lifting),
    }
}

/// Where a hole has to look before its housing goes on.
pub(super) fn hole(a: &Anatomy, h: &super::super::Hole) -> String {
    let of = a.name_of(&h.housing);
    match h.kind {
        HoleKind::Drain => format!("{} of {of} down", h.name),
        HoleKind::Feed => {
            format!("{} of {of} to its feed hole, at {} degrees", h.name, crate::quantity::show::tidy(h.at_deg))
        }
        HoleKind::Port => format!("{} of {of} to its pipe, as found", h.name),
    }
}

/// Lips of a moving group that cross an edge on their way: they are guarded in this act.
pub(super) fn lip_guard(a: &Anatomy, all: &Bodies, mover: usize) -> Option<String> {
    let Way::Axial(from) = all.list[all.root(mover)].way else { return None };
    for g in all.group(mover) {
        if all.part(a, g).is_none_or(|p| p.kind.role() != Role::Lip) {
            continue;
        }
        let (x0, x1) = all.list[g].reach();
        let lip = all.list[g].radii().0;
        let mut x = 0.0;
        for l in &a.lands {
            let (l0, l1) = (x, x + l.length_mm.0);
            x = l1;
            let passed = if from == End::A { l0 < x0 } else { l1 > x1 };
            let edge = match l.kind {
                LandKind::Thread | LandKind::Keyway | LandKind::Groove | LandKind::Spline | LandKind::Hole => true,
                LandKind::Plain | LandKind::Taper => false,
            };
            // An edge well below the lip does not touch it.
            if passed && edge && l.d_mm.0 / 2.0 > lip - 2.5 {
                return Some(format!("Guard the lip of {} with a sleeve or tape over {}.", all.list[g].name, l.name));
            }
        }
    }
    None
}

/// The machine as it stands at a step: what the relations say must be there already.
pub(super) fn must_precede(ahead: &HashMap<Step, Vec<Step>>, first: usize, then: usize) -> bool {
    let mut seen = HashSet::default();
    let mut open = vec![Step::Place(first)];
    while let Some(s) = open.pop() {
        if s == Step::Place(then) {
            return true;
        }
        open.extend(ahead.get(&s).into_iter().flatten().filter(|x| seen.insert(**x)));
    }
    false
}
