//! What is wrong with a machine as it is described, and what is worth a look.

use super::acts::{self, Graph};
use super::answers::Ask;
use super::body::Bodies;
use super::text::Text;
use super::{Anatomy, Role, facing, joints, space};
use crate::fasten::Hand;
use crate::terms::{ActId, End};
use serde::Serialize;
use std::collections::BTreeSet;

/// Kind of a fault or a note.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum FindingKind {
    /// Cannot pass a land or an opening.
    Stuck,
    /// Acts that wait for each other.
    Loop,
    /// Two bodies in one place.
    Overlap,
    /// A pair forms another arrangement than is meant.
    Arrangement,
    /// A cone and its cup face the same end.
    TaperFacing,
    /// A lip turned away from what it keeps in.
    Lip,
    /// A thread that its drag undoes.
    Hand,
    /// The larger washer of a thrust set on the wrong side.
    ThrustSet,
    /// The sheet does not say what is needed.
    Missing,
}

/// A fault, or something worth a look.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[allow(missing_docs)]
pub struct Finding {
    pub kind: FindingKind,
    pub bodies: Vec<String>,
    pub words: Text,
    /// What can be answered to it with one touch.
    #[serde(skip)]
    pub ask: Option<Ask>,
}

impl Finding {
    /// One of a kind, about bodies.
    pub fn new(kind: FindingKind, bodies: impl IntoIterator<Item = String>, words: impl Into<String>) -> Self {
        Self { kind, bodies: bodies.into_iter().collect(), words: Text::new(words).capital(), ask: None }
    }

    /// The same with what can be answered to it.
    #[must_use]
    pub fn asks(self, ask: Option<Ask>) -> Self {
        Self { ask, ..self }
    }
}

/// Every loop is a fault; one reason of it is left out, so that the other acts can still be given.
pub(super) fn untie(a: &Anatomy, all: &Bodies, g: &mut Graph, faults: &mut Vec<Finding>) {
    for _ in 0..40 {
        let Some(l) = g.shortest_loop() else { return };
        let pairs: Vec<(usize, usize)> = (0..l.len()).map(|k| (l[k], l[(k + 1) % l.len()])).collect();
        let words: Vec<String> =
            pairs.iter().filter_map(|(x, y)| g.reason(*x, *y)).map(|w| w.say(a, all).raw().to_owned()).collect();
        let mut bodies: Vec<String> = Vec::new();
        for i in &l {
            let b = g.acts[*i].body.clone();
            if !b.is_empty() && !bodies.contains(&b) {
                bodies.push(b);
            }
        }
        // Told once: the same loop appears when mounting and when taking apart.
        let known = faults.iter().any(|f| {
            f.kind == FindingKind::Loop
                && f.bodies.iter().collect::<BTreeSet<_>>() == bodies.iter().collect::<BTreeSet<_>>()
        });
        if !known {
            faults.push(Finding::new(
                FindingKind::Loop,
                bodies,
                format!("These wait for each other: {}.", words.join("; ")),
            ));
        }
        let rule = pairs.iter().find(|(x, y)| matches!(g.reason(*x, *y), Some(acts::Because::Rule(_))));
        let (x, y) = *rule.unwrap_or(&pairs[pairs.len() - 1]);
        g.drop(x, y);
    }
}

pub(super) fn overlaps(a: &Anatomy, all: &Bodies, faults: &mut Vec<Finding>) {
    let reach: Vec<(f64, f64)> = all.list.iter().map(super::body::Body::reach).collect();
    for x in 0..all.list.len() {
        for y in x + 1..all.list.len() {
            if reach[x].0 >= reach[y].1 || reach[y].0 >= reach[x].1 {
                continue;
            }
            if let Some((p, q)) = space::overlap(a, all, x, y) {
                let (m, o) = (&all.list[x], &all.list[y]);
                let size = |r: &space::Space| {
                    format!("{} to {} across", super::text::mm(2.0 * r.r0), super::text::mm(2.0 * r.r1))
                };
                faults.push(Finding::new(
                    FindingKind::Overlap,
                    [m.id.clone(), o.id.clone()],
                    format!(
                        "{} ({}) and {} ({}) stand in the same place: mend a width or a place.",
                        m.name,
                        size(&p),
                        o.name,
                        size(&q)
                    ),
                ));
            }
        }
    }
}

/// Facings that contradict.
pub(super) fn facings(a: &Anatomy, faults: &mut Vec<Finding>, notes: &mut Vec<Finding>) {
    for p in &a.parts {
        if p.kind.role() == Role::Lip
            && let (Some(faces), Some(keeps)) = (p.faces, p.keeps)
            && faces != keeps
        {
            faults.push(
                Finding::new(
                    FindingKind::Lip,
                    [p.id.clone()],
                    format!("{} has its lip the wrong way: it must face what it keeps in.", p.name),
                )
                .asks(Ask::turn(&[p])),
            );
        }
        if p.kind.role() == Role::Nut {
            hand(a, p, faults, notes);
        }
    }
    for pair in &a.pairs {
        let (Some(x), Some(y)) = (a.part(&pair.a), a.part(&pair.b)) else { continue };
        match facing::arrangement(a, x, y) {
            Some(formed) if formed != pair.arrangement => faults.push(
                Finding::new(
                    FindingKind::Arrangement,
                    [pair.a.clone(), pair.b.clone()],
                    format!(
                        "{} and {} form {} where {} is meant: turn both round.",
                        x.name,
                        y.name,
                        facing::shape(formed),
                        facing::shape(&pair.arrangement)
                    ),
                )
                .asks(Ask::pair(a, pair)),
            ),
            Some(_) => {}
            None => faults.push(
                Finding::new(
                    FindingKind::Missing,
                    [pair.a.clone(), pair.b.clone()],
                    format!("{} and {} are a pair: say which way each faces.", x.name, y.name),
                )
                .asks(Ask::pair(a, pair)),
            ),
        }
    }
    for cone in a.parts.iter().filter(|p| p.kind.role() == Role::Cone) {
        let reach = |p: &super::Part| (a.place(p).0, a.place(p).0 + p.width_mm.0);
        for cup in a.parts.iter().filter(|p| p.kind.role() == Role::Cup) {
            let ((x0, x1), (y0, y1)) = (reach(cone), reach(cup));
            if x0 < y1 && y0 < x1 && cone.faces.zip(cup.faces).is_some_and(|(c, u)| c == u) {
                faults.push(Finding::new(
                    FindingKind::TaperFacing,
                    [cone.id.clone(), cup.id.clone()],
                    format!("{} and {} do not meet: a cone and its cup face opposite ways, large rib to one end, thick wall to the other. Turn one round.", cone.name, cup.name),
                )
                .asks(Ask::turn(&[cone, cup])));
            }
        }
    }
    for set in &a.thrust_sets {
        if let (Some(s), Some(l)) = (a.part(&set.smaller), a.part(&set.larger)) {
            let larger_towards = if a.place(l).0 < a.place(s).0 { End::A } else { End::B };
            if l.outside_mm.0 <= s.outside_mm.0 || larger_towards != set.larger_towards {
                faults.push(Finding::new(
                    FindingKind::ThrustSet,
                    [set.smaller.clone(), set.larger.clone()],
                    format!(
                        "{} must be larger than {} and lie towards end {}.",
                        l.name,
                        s.name,
                        set.larger_towards.letter()
                    ),
                ));
            }
        }
    }
}

/// Drag that undoes a thread is a fault only where nothing locks the nut.
fn hand(a: &Anatomy, p: &super::Part, faults: &mut Vec<Finding>, notes: &mut Vec<Finding>) {
    let locked = a.parts.iter().any(|q| q.locks_nut(p)) || p.locked_by.is_some() || p.tabs.is_some();
    if !locked {
        notes.push(
            Finding::new(
                FindingKind::Missing,
                [p.id.clone()],
                format!("Nothing locks {}: say what does (a tab washer, a screw, locked_by).", p.name),
            )
            .asks(Ask::locked_by(&p.id)),
        );
    }
    let (Some(rotation), Some(hand)) = (a.rotation, p.hand) else {
        if p.hand.is_none() {
            notes.push(
                Finding::new(
                    FindingKind::Missing,
                    [p.id.clone()],
                    format!("{}: its hand is not said. It is asked as found, and no direction is claimed.", p.name),
                )
                .asks(Ask::hand(&p.id)),
            );
        }
        return;
    };
    let wanted = Hand::wanted(rotation.clockwise_from(p.from));
    if hand != wanted {
        let words = format!("{}: the shaft's drag would undo it, a {}-hand thread is wanted", p.name, wanted.name());
        if locked {
            notes.push(Finding::new(FindingKind::Hand, [p.id.clone()], format!("{words}; its lock holds it.")));
        } else {
            faults.push(Finding::new(FindingKind::Hand, [p.id.clone()], format!("{words}, and nothing locks it.")));
        }
    }
}

/// Joints of which the sheet leaves an end open.
fn ends(a: &Anatomy, all: &Bodies, notes: &mut Vec<Finding>) {
    for b in &a.bolt_rings {
        let name = a.name_of(&b.part);
        let partner = joints::partner(a, all, b);
        let meets = if let joints::Partner::Several(list) = &partner { &list[..] } else { &[] };
        let words = match &partner {
            joints::Partner::One(_) | joints::Partner::Halves(_) => continue,
            joints::Partner::Unsaid => format!(
                "What are the bolts of {name} fastened to (to)? No face meets its flange: until it is said they wait for all housings."
            ),
            joints::Partner::Several(list) => format!(
                "Which of these are the bolts of {name} fastened to (to): {}? Until it is said they wait for all housings.",
                list.iter().map(|i| all.list[*i].name.as_str()).collect::<Vec<_>>().join(", ")
            ),
        };
        let ask = Ask::to(all, &b.part, meets, |o| joints::takes_bolts(a, all, o));
        notes.push(Finding::new(FindingKind::Missing, [b.part.clone()], words).asks(ask));
    }
    for p in a.parts.iter().filter(|p| p.kind.role() == Role::Nut) {
        let Some(i) = all.number(&p.id) else { continue };
        let stack = super::clamp::stack(a, all, i, p.from.other());
        if stack.members.is_empty() && stack.stops.is_empty() {
            notes.push(Finding::new(
                FindingKind::Missing,
                [p.id.clone()],
                format!(
                    "What is {} turned against (against)? Nothing touches its face: it holds nothing as it is drawn.",
                    p.name
                ),
            )
            .asks(Ask::against(a, all, p)));
        }
    }
}

/// Seals that hang on the shaft until their pocket comes over them, where nobody reaches them any more.
pub(super) fn undriven(a: &Anatomy, all: &Bodies, g: &Graph, notes: &mut Vec<Finding>) {
    for p in a.parts.iter().filter(|p| p.kind.role() == Role::Lip) {
        let Some(i) = all.number(&p.id).filter(|i| all.list[*i].parent.is_none()) else { continue };
        let Some(o) = joints::pocket(a, all, i).filter(|_| all.list[i].stands_in.is_none()) else { continue };
        let number = |id: ActId| g.number(&id.text());
        let later = number(ActId::on(&p.id))
            .zip(number(ActId::on(&all.list[all.root(o)].id)))
            .is_some_and(|(seal, pocket)| g.leads(seal, pocket));
        if later && number(ActId::drive(&p.id)).is_none() {
            notes.push(Finding::new(
                FindingKind::Missing,
                [p.id.clone()],
                format!(
                    "How is {} driven home? It hangs on the shaft until {} comes over it, and nobody reaches it there: fit it into that at the bench (carried_by), or mend a size.",
                    p.name, all.list[o].name
                ),
            )
            .asks(Ask::carried_by(all, &p.id, o)));
        }
    }
}

/// What the sheet does not say and somebody will need.
pub(super) fn missing(a: &Anatomy, all: &Bodies, faults: &mut Vec<Finding>, notes: &mut Vec<Finding>) {
    ends(a, all, notes);
    for p in a.parts.iter().filter(|p| p.kind.role() == Role::Rolling && p.designation.is_none()) {
        faults.push(Finding::new(FindingKind::Missing, [p.id.clone()], format!("{} needs its designation.", p.name)));
    }
    for r in &a.runouts {
        if r.reads.is_none() {
            notes.push(Finding::new(
                FindingKind::Missing,
                [r.part.clone()],
                format!(
                    "{}: the sheet does not say which surface the dial touches (reads): whether it can be reached is not checked.",
                    r.name
                ),
            )
            .asks(Ask::reads(a, &r.id, &r.part)));
        }
    }
    for b in &a.bolt_rings {
        if b.circle_mm.is_none() || b.head.is_none() {
            notes.push(
                Finding::new(
                    FindingKind::Missing,
                    [b.part.clone()],
                    format!(
                        "The bolts of {}: without circle_mm and head it is not checked what hides their heads.",
                        a.name_of(&b.part)
                    ),
                )
                .asks(b.circle_mm.and_then(|_| Ask::head(&b.part))),
            );
        }
    }
    let open = |p: &super::Part| {
        p.designation.as_deref().and_then(|d| crate::fit::designation::read(d).ok()).is_some_and(|b| !b.seals.greased())
    };
    if a.lubricant.is_none() && a.parts.iter().any(|p| p.kind.role() == Role::Rolling && open(p)) {
        notes.push(
            Finding::new(
                FindingKind::Missing,
                [],
                "Open bearings: the sheet does not say grease or oil (lubricant), so no filling is given.",
            )
            .asks(Ask::lubricant()),
        );
    }
}
