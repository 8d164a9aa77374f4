//! The way: who must be there before whom, from the rings alone.

use super::Law;
use crate::anatomy::body::{Bodies, Way, What};
use crate::anatomy::kinds::{Build, Role};
use crate::anatomy::space::{self, Meeting};
use crate::anatomy::text::{Text, mm};
use crate::anatomy::{Anatomy, Finding, FindingKind, joints};

/// Something comes to its place, or a parted housing is closed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
#[allow(missing_docs)]
pub enum Step {
    Place(usize),
    Close(usize),
}

impl Step {
    /// The body.
    #[must_use]
    pub fn body(self) -> usize {
        match self {
            Self::Place(b) | Self::Close(b) => b,
        }
    }
}

/// The first comes before the second when mounting, and after it when taking apart.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Relation {
    pub first: Step,
    pub then: Step,
    pub why: Because,
}

/// Why.
#[derive(Debug, Clone, PartialEq)]
#[allow(missing_docs)]
pub enum Because {
    /// A moving body meets one that is there.
    Meets { mover: usize, standing: usize, hit: Meeting },
    /// Something whole lies around what comes from the side.
    Around { mover: usize, standing: usize },
    /// Fitted into its carrier at the bench.
    Bench { body: usize, carrier: usize },
    /// Fitted into its carrier where that stands.
    Stands { body: usize, carrier: usize },
    /// Wider than both openings of its carrier.
    Captive { body: usize, carrier: usize, outside: f64, opening: f64 },
    /// A parted housing is closed over its lower half.
    Halves { housing: usize },
    /// The room of a tool is taken.
    Room { tool: &'static str, held: usize, standing: usize },
    /// It lies in the stack that is pressed together.
    Stack { tightener: usize, member: usize },
    /// What is said to cover something.
    Covers { body: usize, cover: usize },
    /// What locks or holds something.
    Holds { holder: usize, held: usize },
    /// A reading needs it.
    Reads { what: String, needs: usize, how: &'static str },
    /// A rule of the build sheet, by number.
    Rule(usize),
    /// A fixed sentence.
    Plain(Law, String),
}

/// A fixed sentence under its law.
pub(super) fn plain(law: Law, words: impl Into<String>) -> Because {
    Because::Plain(law, words.into())
}

impl Because {
    /// Its law.
    #[must_use]
    pub fn law(&self) -> Law {
        match self {
            Self::Meets { .. }
            | Self::Around { .. }
            | Self::Bench { .. }
            | Self::Stands { .. }
            | Self::Captive { .. }
            | Self::Halves { .. } => Law::Way,
            Self::Room { .. } => Law::Reach,
            Self::Stack { .. } => Law::Clamp,
            Self::Covers { .. } | Self::Rule(_) => Law::Rule,
            Self::Holds { .. } => Law::Lock,
            Self::Reads { .. } => Law::BothSides,
            Self::Plain(law, _) => *law,
        }
    }

    /// The sentence.
    #[must_use]
    pub fn say(&self, a: &Anatomy, all: &Bodies) -> Text {
        let name = |i: usize| all.list[i].name.as_str();
        Text::new(match self {
            Self::Meets { mover, standing, hit } => meets(name(*mover), name(*standing), hit),
            Self::Around { mover, standing } => {
                format!("{} lies around {}: that goes in first", name(*standing), name(*mover))
            }
            Self::Bench { body, carrier } => format!("{} is fitted into {} at the bench", name(*body), name(*carrier)),
            Self::Stands { body, carrier } => {
                format!("{} is fitted into {} where that stands", name(*body), name(*carrier))
            }
            Self::Captive { body, carrier, outside, opening } => format!(
                "{} ({}) goes through neither opening of {} ({}): it must lie in it before the shaft is fed through",
                name(*body),
                mm(*outside),
                name(*carrier),
                mm(*opening)
            ),
            Self::Halves { housing } => format!("the lower half of {} is there before its upper half", name(*housing)),
            Self::Room { tool, held, standing } => {
                format!("{} would be in the way of the {tool} at {}", name(*standing), name(*held))
            }
            Self::Stack { tightener, member } => {
                format!("{} lies in the stack that {} presses together", name(*member), name(*tightener))
            }
            Self::Covers { body, cover } => format!("{} covers {}", name(*cover), name(*body)),
            Self::Holds { holder, held } => format!("{} holds {}", name(*holder), name(*held)),
            Self::Reads { what, needs, how } => format!("{what} rests on {}{how}", name(*needs)),
            Self::Rule(k) => a.before.get(*k).map_or_else(String::new, |r| {
                let (x, y) = (a.name_of(&r.first), a.name_of(&r.then));
                if r.reason.is_empty() {
                    format!("the build sheet wants {x} before {y}")
                } else {
                    format!("the build sheet wants {x} before {y}: {}", r.reason)
                }
            }),
            Self::Plain(_, words) => words.clone(),
        })
    }
}

/// Two rings that meet, in words with both sizes.
fn meets(mover: &str, standing: &str, (m, o): &Meeting) -> String {
    if o.r1 >= m.r1 && o.r0 > m.r0 {
        format!("{mover} ({} outside) cannot get through {standing} (bore {})", mm(2.0 * m.r1), mm(2.0 * o.r0))
    } else {
        format!("{mover} (bore {}) cannot get past {standing} ({})", mm(2.0 * m.r0), mm(2.0 * o.r1))
    }
}

/// Everything the way says, and what can never get to its place.
#[must_use]
pub fn relations(a: &Anatomy, all: &Bodies) -> (Vec<Relation>, Vec<Finding>) {
    let mut out = Vec::new();
    let mut stuck = Vec::new();
    for m in 1..all.list.len() {
        let b = &all.list[m];
        if let Some(c) = b.parent {
            out.push(Relation { first: Step::Place(m), then: Step::Place(c), why: bench(a, all, m, c) });
            if !b.captive {
                into_carrier(a, all, m, c, &mut out, &mut stuck);
            }
            continue;
        }
        if let Some(c) = b.stands_in {
            // Into a parted carrier once it is closed.
            out.push(Relation {
                first: arrival(all, c),
                then: Step::Place(m),
                why: Because::Stands { body: m, carrier: c },
            });
        }
        to_place(a, all, m, &mut out, &mut stuck);
    }
    for (h, _) in all.list.iter().enumerate().filter(|(_, b)| b.split && matches!(b.what, What::Housing(_))) {
        out.push(Relation { first: Step::Place(h), then: Step::Close(h), why: Because::Halves { housing: h } });
        for o in 1..all.list.len() {
            if all.root(o) != h
                && all.list[o].parent.is_none()
                && space::around(a, all, h, o).is_some()
                && all.list[o].stands_in != Some(h)
            {
                out.push(Relation {
                    first: Step::Close(h),
                    then: arrival(all, o),
                    why: Because::Around { mover: h, standing: o },
                });
            }
        }
    }
    capped(a, all, &mut out);
    for (k, r) in a.before.iter().enumerate() {
        for x in all.pieces_of(&r.first) {
            for y in all.pieces_of(&r.then).into_iter().filter(|y| *y != x) {
                out.push(Relation { first: Step::Place(x), then: Step::Place(y), why: Because::Rule(k) });
            }
        }
    }
    covers(a, all, &mut out);
    (out, stuck)
}

/// A cap is bolted down on the open housing under it: over the shaft that lies in that already.
fn capped(a: &Anatomy, all: &Bodies, out: &mut Vec<Relation>) {
    let caps = (1..all.list.len())
        .filter(|c| all.part(a, *c).is_some_and(|p| p.kind.role() == Role::Cap) && all.list[*c].way == Way::Sideways);
    for c in caps {
        for h in joints::beds_under(a, all, c) {
            let words = format!("{} closes over the shaft once that lies in {}", all.list[c].name, all.list[h].name);
            out.push(Relation { first: Step::Place(h), then: Step::Place(c), why: Because::Plain(Law::Way, words) });
        }
    }
}

fn bench(a: &Anatomy, all: &Bodies, m: usize, c: usize) -> Because {
    let b = &all.list[m];
    if b.captive
        && let What::Housing(h) = all.list[c].what
    {
        let bores = &a.housings[h].bores;
        let opening = bores.first().map_or(0.0, |b| b.d_mm.0).max(bores.last().map_or(0.0, |b| b.d_mm.0));
        if 2.0 * b.radii().1 <= opening + 1e-6 {
            return Because::Plain(
                Law::Way,
                format!("{} lies inside {} and finds no other way to its place", b.name, all.list[c].name),
            );
        }
        return Because::Captive { body: m, carrier: c, outside: 2.0 * b.radii().1, opening };
    }
    Because::Bench { body: m, carrier: c }
}

/// A body is there from this step on, as far as what comes from the side is concerned.
fn arrival(all: &Bodies, o: usize) -> Step {
    let root = all.root(o);
    if all.list[o].split && matches!(all.list[o].what, What::Housing(_)) { Step::Close(o) } else { Step::Place(root) }
}

/// Into its carrier at the bench: from the end that is said, else from the other one.
fn into_carrier(a: &Anatomy, all: &Bodies, m: usize, c: usize, out: &mut Vec<Relation>, stuck: &mut Vec<Finding>) {
    let b = &all.list[m];
    let Way::Axial(said) = b.way else {
        for o in all.children(c).iter().filter(|o| **o != m) {
            if space::around(a, all, m, *o).is_some() {
                out.push(Relation {
                    first: Step::Place(m),
                    then: Step::Place(*o),
                    why: Because::Around { mover: m, standing: *o },
                });
            }
        }
        return;
    };
    // A carrier that is given as one ring does not show its pocket or groove: there is one where something is fitted.
    let shown = match all.list[c].what {
        What::Housing(_) => true,
        What::Part(k) => !a.parts[k].rings.is_empty() && b.build != Build::Yields,
        What::Shaft => false,
    };
    let blocked = |end| if shown { space::in_way(a, all, m, end, c) } else { None };
    let from = match (blocked(said), blocked(said.other())) {
        (None, _) => said,
        (Some(_), None) => said.other(),
        (Some(hit), Some(_)) => {
            // A half that lies in a parted carrier is laid in.
            if all.list[c].way != Way::Sideways {
                stuck.push(Finding::new(
                    FindingKind::Stuck,
                    [b.id.clone(), all.list[c].id.clone()],
                    format!(
                        "{} cannot get into {}: {}. Mend a size.",
                        b.name,
                        all.list[c].name,
                        meets(&b.name, &all.list[c].name, &hit)
                    ),
                ));
            }
            return;
        }
    };
    let busy = |end| {
        all.children(c)
            .iter()
            .any(|o| *o != m && all.group(*o).iter().any(|k| space::in_way(a, all, m, end, *k).is_some()))
    };
    // From the other side where that is free for good.
    let from = if busy(from) && blocked(from.other()).is_none() && !busy(from.other()) { from.other() } else { from };
    for o in all.children(c).iter().filter(|o| **o != m) {
        for k in all.group(*o) {
            if let Some(hit) = space::in_way(a, all, m, from, k) {
                out.push(Relation {
                    first: Step::Place(m),
                    then: Step::Place(*o),
                    why: Because::Meets { mover: m, standing: k, hit },
                });
                break;
            }
        }
    }
}

/// To its place on the machine, with all that it carries.
fn to_place(a: &Anatomy, all: &Bodies, m: usize, out: &mut Vec<Relation>, stuck: &mut Vec<Finding>) {
    let group = all.group(m);
    match all.list[m].way {
        Way::Axial(from) => {
            for g in &group {
                if let Some(hit) = space::in_way(a, all, *g, from, 0) {
                    let (n, l) = (&all.list[*g].name, land_of(a, &hit));
                    let (m0, o1) = (2.0 * hit.0.r0, 2.0 * hit.1.r1);
                    stuck.push(Finding::new(
                        FindingKind::Stuck,
                        [all.list[*g].id.clone()],
                        format!("{n} cannot get to its place: its bore is {}, {l} on the way is {}. Bring it from the other end, make it split, or mend a size.", mm(m0), mm(o1)),
                    ));
                    break;
                }
            }
            for o in 1..all.list.len() {
                if all.root(o) == m || all.list[o].stands_in.is_some_and(|c| group.contains(&c)) {
                    continue;
                }
                let hit = group.iter().find_map(|g| space::in_way(a, all, *g, from, o).map(|h| (*g, h)));
                if let Some((g, hit)) = hit {
                    let then = Step::Place(all.root(o));
                    out.push(Relation {
                        first: Step::Place(m),
                        then,
                        why: Because::Meets { mover: g, standing: o, hit },
                    });
                }
            }
        }
        Way::Sideways => {
            let own = all.list[m].what;
            for o in 1..all.list.len() {
                let same = all.root(o) == m || all.list[o].what == own || all.list[o].stands_in == Some(m);
                // The shaft is laid into an open housing, or into a lower half: nothing of it lies around what is on
                // the shaft.
                if !same && !all.open(a, o) && !matches!(own, What::Housing(_)) && space::around(a, all, m, o).is_some()
                {
                    out.push(Relation {
                        first: Step::Place(m),
                        then: arrival(all, o),
                        why: Because::Around { mover: m, standing: o },
                    });
                }
            }
        }
    }
}

fn land_of(a: &Anatomy, hit: &Meeting) -> String {
    let mid = f64::midpoint(hit.1.x0, hit.1.x1);
    let mut x = 0.0;
    for l in &a.lands {
        x += l.length_mm.0;
        if mid < x {
            return l.name.clone();
        }
    }
    "the shaft".into()
}

/// Steps that wait for each other by the way alone: bodies of one loop; none when there is an order.
#[must_use]
pub fn tangled(relations: &[Relation]) -> Option<Vec<usize>> {
    // A body has two steps: it is placed, and it is closed.
    let number = |s: Step| 2 * s.body() + usize::from(matches!(s, Step::Close(_)));
    let n = relations.iter().map(|r| number(r.first).max(number(r.then)) + 1).max().unwrap_or(0);
    let (mut after, mut waits) = (vec![Vec::new(); n], vec![0usize; n]);
    for r in relations {
        after[number(r.first)].push(number(r.then));
        waits[number(r.then)] += 1;
    }
    let mut open: Vec<usize> = (0..n).filter(|s| waits[*s] == 0).collect();
    while let Some(s) = open.pop() {
        for next in &after[s] {
            waits[*next] -= 1;
            if waits[*next] == 0 {
                open.push(*next);
            }
        }
    }
    let mut left: Vec<usize> = (0..n).filter(|s| waits[*s] > 0).map(|s| s / 2).collect();
    left.dedup();
    (!left.is_empty()).then_some(left)
}

/// What the sheet says of covering and keys.
fn covers(a: &Anatomy, all: &Bodies, out: &mut Vec<Relation>) {
    let lists = a.parts.iter().map(|p| (&p.id, &p.covers)).chain(a.housings.iter().map(|h| (&h.id, &h.covers)));
    for (id, list) in lists {
        let Some(cover) = all.number(id).filter(|c| *c != 0) else { continue };
        let then = if all.list[cover].split && matches!(all.list[cover].what, What::Housing(_)) {
            Step::Close(cover)
        } else {
            Step::Place(cover)
        };
        for x in list.iter().flat_map(|x| all.pieces_of(x)) {
            if all.root(x) != all.root(cover) {
                out.push(Relation { first: Step::Place(x), then, why: Because::Covers { body: x, cover } });
            }
        }
    }
    for (i, p) in a.parts.iter().enumerate() {
        let Some(hub) = all.number(&p.id).filter(|h| *h != 0 && all.list[*h].what == What::Part(i)) else { continue };
        if let Some(key) = p.key.as_ref().and_then(|k| all.number(k)).filter(|k| *k != 0) {
            let words = format!("{} is the key of {}", all.list[key].name, p.name);
            out.push(Relation {
                first: Step::Place(key),
                then: Step::Place(hub),
                why: Because::Plain(Law::Way, words),
            });
        }
    }
}
