//! What joints ask of the order: both ends there before anything is fastened, everything loosened before anything is
//! moved against it, stored force let out on purpose, and what is hot held by the next act of hands.

use super::super::body::{Way, What};
use super::super::kinds::Role;
use super::super::{Hold, Stands, clamp, joints, space};
use super::laws::{Because, plain};
use super::work::{How, Work, must_come_later};
use super::{Act, Law, Phase, Stage, Verb};
use crate::anatomy::joints::Partner;
use crate::caution::Caution;
use crate::terms::{ActId, End};

/// Acts that follow each other without anything in between, once the first of them is begun: a ring that is hot, until
/// what holds it home is nipped.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Run {
    /// What is hot.
    pub body: String,
    /// Acts in their order: heat, put on, what is laid behind it, its nut, nip.
    pub acts: Vec<String>,
}

impl Run {
    /// It was begun, the ring is on, and what holds it is not nipped yet: nothing else is taken in hand.
    #[must_use]
    pub fn open(&self, done: impl Fn(&str) -> bool) -> bool {
        self.acts.get(1).is_some_and(|on| done(on)) && self.acts.last().is_some_and(|end| !done(end))
    }
    /// Whether an act belongs to it.
    #[must_use]
    pub fn holds(&self, act: &str) -> bool {
        self.acts.iter().any(|a| a == act)
    }
    /// The same in a round.
    #[must_use]
    pub fn in_round(&self, n: u32) -> Self {
        let again = |a: &String| ActId::of(a).map_or_else(|| a.clone(), |i| i.in_round(n).text());
        Self { body: self.body.clone(), acts: self.acts.iter().map(again).collect() }
    }
}

/// Both ends of every joint when mounting.
pub(super) fn mounting(w: &mut Work) {
    for k in 0..w.a.bolt_rings.len() {
        partner_first(w, k);
    }
    laid_in(w);
    screws_last(w);
    driven(w);
    proofs(w);
}

/// The run that is begun and must not be left alone while another act takes hold of something, and the act that comes
/// next in it.
#[must_use]
pub fn left_alone<'a>(runs: &'a [Run], act: &Act, done: impl Fn(&str) -> bool) -> Option<(&'a Run, &'a str)> {
    let run = runs.iter().find(|r| act.verb.moves() && !r.holds(&act.id) && r.open(&done))?;
    Some((run, run.acts.iter().find(|a| !done(a))?))
}

/// What is fastened is there with what it is fastened to, both in their place.
fn partner_first(w: &mut Work, k: usize) {
    let ring = w.a.bolt_rings[k].clone();
    let Some(i) = w.all.number(&ring.part).filter(|i| *i != 0) else { return };
    let bolts = ActId::bolts(w.id(i)).text();
    let root = w.all.root(i);
    match joints::partner(w.a, w.all, &ring) {
        Partner::One(to) if w.all.root(to) == root => {
            // On the bench: tight before the whole of it moves.
            let (fitted, moves) = (ActId::on(w.id(i)).text(), ActId::on(w.id(root)).text());
            let (name, whole) = (w.name(i).to_owned(), w.name(root).to_owned());
            w.g.edge(&fitted, &bolts, plain(Law::Joint, format!("{name} is in its place first")));
            if i != root {
                w.g.edge(&bolts, &moves, plain(Law::Joint, format!("{name} is bolted to {whole} before that moves")));
            }
        }
        Partner::One(to) => {
            let words = format!("{} is bolted to {}: that stands in its place first", w.name(i), w.name(to));
            for first in stands(w, to) {
                w.g.edge(&first, &bolts, plain(Law::Joint, words.clone()));
            }
        }
        Partner::Halves(_) => {}
        Partner::Unsaid | Partner::Several(_) => {
            // Nothing is assumed: it waits for everything that it could be fastened to.
            let words = format!("what {} is bolted to is not said: all housings stand first", w.name(i));
            for h in (1..w.all.list.len()).filter(|h| matches!(w.all.list[*h].what, What::Housing(_))) {
                let first = w.step(w.hides(h));
                if w.all.root(h) != root && !must_come_later(w, &bolts, &first) {
                    w.g.edge(&first, &bolts, plain(Law::Joint, words.clone()));
                }
            }
        }
    }
}

/// Acts after which a body stands in its place for good: with its carrier; of a parted housing its upper half, drawn
/// down.
fn stands(w: &Work, i: usize) -> Vec<String> {
    let root = w.all.root(i);
    let mut out = vec![ActId::on(w.id(i)).text(), ActId::on(w.id(root)).text()];
    for b in [i, root] {
        if w.all.list[b].split && matches!(w.all.list[b].what, What::Housing(_)) {
            out.push(ActId::close(w.id(b)).text());
            out.push(ActId::bolts(w.id(b)).text());
        }
    }
    out
}

/// The shaft lies in all its beds, level, before anything is closed over it in one of them or fastened to one.
fn laid_in(w: &mut Work) {
    let beds = joints::beds(w.a, w.all);
    if beds.is_empty() {
        return;
    }
    let (fastened, caps, over) = (fastened_to(w, &beds), caps_over(w, &beds), whole_over(w));
    let set: Vec<_> = w.tighteners.iter().filter(|t| t.how == How::Adjusting).cloned().collect();
    for bed in &beds {
        let laid = ActId::on(w.id(*bed)).text();
        let name = w.name(*bed).to_owned();
        for other in &beds {
            let words = format!("the shaft lies in {name}, too, before {} is closed over it", w.name(*other));
            w.g.edge(&laid, &ActId::close(w.id(*other)).text(), plain(Law::Joint, words));
        }
        for cap in caps.iter().copied() {
            let words = format!("the shaft lies in {name} before {} is laid over it", w.name(cap));
            w.g.edge(&laid, &ActId::on(w.id(cap)).text(), plain(Law::Joint, words));
        }
        for i in &fastened {
            let words = format!("the shaft lies in {name} before {} is fastened", w.name(*i));
            w.g.edge(&laid, &ActId::bolts(w.id(*i)).text(), plain(Law::Joint, words));
        }
        // Set against what stands, with the shaft in it; what holds an oiler down is done before.
        for t in &set {
            let words = format!("the shaft lies in {name} before {} is set", w.name(t.body));
            if !must_come_later(w, &t.tight, &laid) {
                w.g.edge(&laid, &t.tight, plain(Law::Joint, words));
            }
        }
        for p in w.a.parts.iter().filter(|p| p.oiler) {
            let words = format!("the shaft would shear the oiler of {} off", p.name);
            w.g.edge(&ActId::oiler(&p.id).text(), &laid, plain(Law::Joint, words));
        }
        // What carries it there is on before it is laid in.
        for b in lies_on(w, *bed) {
            let (on, words) = (ActId::on(w.id(b)).text(), format!("the shaft lies on {} in {name}", w.name(b)));
            if !must_come_later(w, &laid, &on) {
                w.g.edge(&on, &laid, plain(Law::Joint, words));
            }
            // The weight of the rotor rests on nothing that is hot, or not home.
            let (home, words) = (
                ActId::home(w.id(b)).text(),
                format!("{} is cold and home before the shaft lies on it in {name}", w.name(b)),
            );
            if !must_come_later(w, &laid, &home) {
                w.g.edge(&home, &laid, plain(Law::Joint, words));
            }
        }
        // A whole housing goes over a shaft that lies: it could not be lifted with it.
        for h in over.iter().copied() {
            let (over, words) =
                (ActId::on(w.id(h)).text(), format!("the shaft lies in {name} before {} goes over it", w.name(h)));
            if !must_come_later(w, &over, &laid) {
                w.g.edge(&laid, &over, plain(Law::Joint, words));
            }
        }
    }
}

/// Rings that go on the shaft from an end and that it lies on in a bed; shells are rolled in and out where it lies.
fn lies_on(w: &Work, bed: usize) -> Vec<usize> {
    let on_shaft = |b: &usize| {
        matches!(w.all.list[*b].way, Way::Axial(_)) && w.all.root(*b) == *b && w.all.list[*b].stands_in.is_none()
    };
    clamp::gripped(w.all, bed).filter(on_shaft).collect()
}

/// Flanges that are bolted to one of these, or that hold their halves together.
fn fastened_to(w: &Work, beds: &[usize]) -> Vec<usize> {
    let held = |b: &crate::anatomy::BoltRing| {
        let i = w.all.number(&b.part).filter(|i| *i != 0)?;
        let to = joints::partner(w.a, w.all, b).body();
        (beds.contains(&i) || to.is_some_and(|t| beds.contains(&t) || beds.contains(&w.all.root(t)))).then_some(i)
    };
    w.a.bolt_rings.iter().filter_map(held).collect()
}

/// Caps on open housings.
fn caps_over(w: &Work, beds: &[usize]) -> Vec<usize> {
    let cap = |c: &usize| w.all.part(w.a, *c).is_some_and(|p| p.kind.role() == Role::Cap);
    (1..w.all.list.len())
        .filter(cap)
        .filter(|c| w.all.list[*c].way == Way::Sideways)
        .filter(|c| joints::beds_under(w.a, w.all, *c).any(|b| beds.contains(&b)))
        .collect()
}

/// Housings that go over the shaft from an end and stand by themselves.
fn whole_over(w: &Work) -> Vec<usize> {
    let whole = |h: &usize| {
        matches!(w.all.list[*h].what, What::Housing(_))
            && matches!(w.all.list[*h].way, Way::Axial(_))
            && w.all.list[*h].parent.is_none()
    };
    (1..w.all.list.len()).filter(whole).collect()
}

/// A screw bites when what it locks stands where it stays.
fn screws_last(w: &mut Work) {
    for i in 1..w.all.list.len() {
        let Some(p) = w.all.part(w.a, i).filter(|p| p.kind.role() == Role::Screw) else { continue };
        let lock = ActId::lock(w.id(i)).text();
        for l in p.locks.iter().flat_map(|l| w.all.pieces_of(l)) {
            let root = w.all.root(l);
            let words = format!("{} bites once {} stands where it stays", p.name, w.name(l));
            let fed = [ActId::on(w.id(root)).text(), ActId::on(w.id(l)).text()];
            for first in fed {
                if !must_come_later(w, &lock, &first) {
                    w.g.edge(&first, &lock, plain(Law::Joint, words.clone()));
                }
            }
        }
    }
}

/// The act after which a seal lies in its pocket: its own where that is there before, else the one that brings it.
pub(super) fn in_pocket(w: &Work, i: usize, pocket: usize) -> String {
    let (on, around) = (ActId::on(w.id(i)).text(), w.step(w.hides(pocket)));
    if must_come_later(w, &around, &on) { on } else { around }
}

/// Ways to the two faces of a seal while an act is done.
pub(super) fn faces(w: &Work, i: usize, act: &str) -> [Option<Vec<usize>>; 2] {
    [End::A, End::B].map(|end| {
        space::taking(w.all, i, &space::before_face(w.all, i, end, space::TOOL, (0.0, 1.0), &|h| w.stands(h, act)))
    })
}

/// What hangs on the shaft until its pocket is around it is driven home by an act of its own; what is measured of it
/// comes after that. Where nobody reaches it there, a note asks.
fn driven(w: &mut Work) {
    for i in 1..w.all.list.len() {
        let loose = w.all.list[i].parent.is_none() && w.all.list[i].stands_in.is_none();
        let pocketed = |p: &&crate::anatomy::Part| matches!(p.kind.role(), Role::Lip | Role::Cup);
        let Some(p) = w.all.part(w.a, i).filter(|_| loose).filter(pocketed) else { continue };
        let Some(o) = joints::pocket(w.a, w.all, i) else { continue };
        let (id, on) = (w.id(i).to_owned(), ActId::on(w.id(i)).text());
        let around = in_pocket(w, i, o);
        if around == on {
            continue;
        }
        let ways = faces(w, i, &around);
        let Some(hiding) = w.least_hidden(ways, &around) else { continue };
        let (name, into) = (&p.name, w.name(o));
        let (words, tool) = if p.kind.role() == Role::Cup {
            (
                format!("Drive {name} home into {into} by its own ring, square: the note changes when it is home."),
                "cup driver",
            )
        } else {
            (
                format!(
                    "Drive {name} home into {into}: square, opposite then quarter points; lip oiled, looked at all round."
                ),
                "seal driver",
            )
        };
        let drive = ActId::drive(&id).text();
        let act = Act::new(&drive, Verb::Set, Phase::Mount, Stage::CloseUp, &id, words).with(tool, 6.0);
        w.g.add(if p.kind.role() == Role::Lip { act.gives([format!("{id}.depth")]) } else { act });
        w.g.edge(&on, &drive, plain(Law::Joint, format!("{} hangs on the shaft first", p.name)));
        w.g.edge(&around, &drive, plain(Law::Joint, format!("{} has its pocket in {}", p.name, w.name(o))));
        let tilt = ActId::tilt(&id).text();
        w.g.edge(&drive, &tilt, plain(Law::Joint, format!("{} is driven home before its tilt is read", p.name)));
        let home = ActId::home(&id).text();
        w.g.edge(&drive, &home, plain(Law::Joint, format!("{} is driven before it is proved home", p.name)));
        for k in hiding {
            let then = w.step(w.hides(k));
            w.g.edge(&drive, &then, Because::Room { tool, held: i, standing: k });
        }
    }
}

/// What is on is proved home before anything hides the proof, stands in its way off again, or is pressed against it;
/// what holds it home is no such thing.
fn proofs(w: &mut Work) {
    for i in 1..w.all.list.len() {
        let home = ActId::home(w.id(i)).text();
        if w.g.number(&home).is_none() || w.all.list[i].parent.is_some() {
            continue;
        }
        let holders = holders(w, i);
        let Way::Axial(from) = w.all.list[i].way else { continue };
        for o in 1..w.all.list.len() {
            let same = w.all.root(o) == w.all.root(i) || w.all.list[o].what == w.all.list[i].what;
            if same || holders.contains(&o) || w.tighteners.iter().any(|t| t.body == o && t.locks.contains(&i)) {
                continue;
            }
            let whole = w.all.list[o].build == super::super::Build::Whole;
            let hides = whole && space::around(w.a, w.all, i, o).is_some();
            let blocks = !hides && space::in_way(w.a, w.all, i, from, o).is_some();
            if !(hides || blocks || whole && against(w, i, o)) {
                continue;
            }
            let then = w.step(w.hides(o));
            // What must be there before it is on must be there before it is home.
            if must_come_later(w, &then, &home) {
                continue;
            }
            let why = if hides {
                format!("{} is proved home before {} comes around it", w.name(i), w.name(o))
            } else if blocks {
                format!("{} is proved home before {} stands in its way off", w.name(i), w.name(o))
            } else {
                format!("{} is proved home before {} is put against it", w.name(i), w.name(o))
            };
            w.g.edge(&home, &then, plain(Law::Joint, why));
        }
    }
}

/// Two bodies whose faces touch.
fn against(w: &Work, i: usize, o: usize) -> bool {
    let rings = |k: usize| &w.all.list[k].rings;
    rings(i).iter().any(|m| {
        rings(o)
            .iter()
            .any(|r| ((m.x0 - r.x1).abs() <= clamp::TOUCH || (m.x1 - r.x0).abs() <= clamp::TOUCH) && m.across(r) > 0.1)
    })
}

/// What holds a body home while it cools: its own nut, and what is laid between by hand.
pub(super) fn holders(w: &Work, i: usize) -> Vec<usize> {
    if w.g.number(&ActId::heat(w.id(i)).text()).is_none() {
        return Vec::new();
    }
    w.tighteners.iter().find_map(|t| held_by(w, i, t)).unwrap_or_default()
}

/// What lies between a hot body and the nut that holds it home, that nut last; none where something stands between that
/// is no washer or ring laid on by hand.
fn held_by(w: &Work, i: usize, t: &super::work::Tightener) -> Option<Vec<usize>> {
    if t.how != How::Nut {
        return None;
    }
    let at = t.stack.members.iter().position(|m| *m == i)?;
    let laid = |m: &usize| {
        w.all
            .part(w.a, *m)
            .is_some_and(|p| !p.fit.tight() && (p.kind.role() == Role::TabWasher || p.kind.role().sets_distance()))
    };
    let between = &t.stack.members[..at];
    // It can only be nipped at once where the rest of its stack is there before.
    let on = ActId::on(w.id(i)).text();
    let there = |m: &usize| {
        let first = ActId::on(w.id(w.all.root(*m))).text();
        w.all.root(*m) == w.all.root(i) || must_come_later(w, &first, &on)
    };
    let rest = t.stack.members[at + 1..].iter().chain(t.stack.stops.iter().filter(|s| **s != 0));
    if !rest.into_iter().all(there) {
        return None;
    }
    between.iter().all(laid).then(|| between.iter().rev().copied().chain([t.body]).collect())
}

/// Runs of what goes on hot and is held by its own nut, with everything that they need before the first of them.
pub(super) fn runs(w: &mut Work) -> Vec<Run> {
    let mut out = Vec::new();
    for i in 1..w.all.list.len() {
        let heat = ActId::heat(w.id(i)).text();
        if w.g.number(&heat).is_none() {
            continue;
        }
        let held = w.tighteners.iter().find_map(|t| held_by(w, i, t).map(|h| (t.nipped.clone(), h)));
        let Some((t, holders)) = held else { continue };
        let mut acts = vec![heat.clone(), ActId::on(w.id(i)).text()];
        acts.extend(holders.iter().map(|h| ActId::on(w.id(*h)).text()));
        acts.push(t.clone());
        let home = ActId::home(w.id(i)).text();
        w.g.edge(&t, &home, plain(Law::Joint, format!("{} is held until it is cold", w.name(i))));
        let words = format!("once {} is hot nothing may be missing that holds it home", w.name(i));
        if let Some(hot) = w.g.number(&heat) {
            // What is put before it does not come behind it: that stays as it is.
            let behind = w.g.behind(hot);
            for n in acts[1..].iter().filter_map(|act| w.g.number(act)).collect::<Vec<_>>() {
                for f in w.g.first(n).to_vec() {
                    if !behind[f] && !acts.contains(&w.g.acts[f].id) {
                        w.g.before(f, hot, plain(Law::Joint, words.clone()));
                    }
                }
            }
        }
        acts.retain(|a| w.g.number(a).is_some());
        out.push(Run { body: w.id(i).to_owned(), acts });
    }
    out
}

/// The same on a list of acts: steps of seats came in between.
pub fn close_runs(runs: &[Run], acts: &mut [Act]) {
    use std::collections::{BTreeMap, BTreeSet};
    for run in runs {
        let at: BTreeMap<&str, usize> = acts.iter().enumerate().map(|(k, s)| (s.id.as_str(), k)).collect();
        let Some(&heat) = run.acts.first().and_then(|h| at.get(h.as_str())) else { continue };
        let above = |from: Vec<usize>, seen: &mut BTreeSet<usize>| {
            let mut open = from;
            while let Some(k) = open.pop() {
                if seen.insert(k) {
                    open.extend(acts[k].before.iter().filter_map(|b| at.get(b.id.as_str())));
                }
            }
        };
        let mut known = BTreeSet::new();
        above(vec![heat], &mut known);
        let mut missing = Vec::new();
        for act in run.acts[1..].iter().filter_map(|a| at.get(a.as_str())) {
            for b in &acts[*act].before {
                let Some(&k) = at.get(b.id.as_str()) else { continue };
                if known.contains(&k) || run.holds(&b.id) {
                    continue;
                }
                let mut rests = BTreeSet::new();
                above(vec![k], &mut rests);
                if !rests.contains(&heat) {
                    known.extend(rests);
                    missing.push(b.id.clone());
                }
            }
        }
        let words = crate::anatomy::text::Text::new("Once it is hot nothing may be missing that holds it home");
        for id in missing {
            acts[heat].before.push(super::Before { id, law: Law::Joint, words: words.clone() });
        }
    }
}

/// Both ends of every joint when taking apart.
pub(super) fn apart(w: &mut Work) {
    for k in 0..w.a.bolt_rings.len() {
        let ring = w.a.bolt_rings[k].clone();
        let Some(i) = w.all.number(&ring.part).filter(|i| *i != 0) else { continue };
        let loosen = ActId::loosen(w.id(i)).text();
        let Partner::One(to) = joints::partner(w.a, w.all, &ring) else { continue };
        if w.all.root(to) == w.all.root(i) {
            continue;
        }
        let words = format!("{} is still bolted to {}", w.name(i), w.name(to));
        for b in [to, w.all.root(to)] {
            for moved in [ActId::off(w.id(b)).text(), ActId::open(w.id(b)).text()] {
                w.g.edge(&loosen, &moved, plain(Law::Joint, words.clone()));
            }
        }
    }
    lifted(w);
    held_up(w);
    for i in 1..w.all.list.len() {
        if w.all.part(w.a, i).is_some_and(|p| p.fit == Hold::Oil) && w.all.list[i].parent.is_none() {
            let_go(w, i);
        }
    }
}

/// The shaft is lifted out of its beds, all at once, when nothing holds it in any of them.
fn lifted(w: &mut Work) {
    let beds = joints::beds(w.a, w.all);
    let fastened = fastened_to(w, &beds);
    let (caps, over) = (caps_over(w, &beds), whole_over(w));
    for bed in &beds {
        let lift = ActId::off(w.id(*bed)).text();
        let held = |what: &str| plain(Law::Joint, format!("the shaft is still held by {what}"));
        for other in &beds {
            let name = format!("the upper half of {}", w.name(*other));
            w.g.edge(&ActId::open(w.id(*other)).text(), &lift, held(&name));
        }
        for c in &caps {
            w.g.edge(&ActId::off(w.id(*c)).text(), &lift, held(w.name(*c)));
        }
        for i in &fastened {
            w.g.edge(&ActId::loosen(w.id(*i)).text(), &lift, held(w.name(*i)));
        }
        for b in lies_on(w, *bed) {
            let off = ActId::off(w.id(b)).text();
            if !must_come_later(w, &off, &lift) {
                w.g.edge(&lift, &off, plain(Law::Joint, format!("the shaft still lies on {}", w.name(b))));
            }
        }
        for h in over.iter().copied() {
            let off = ActId::off(w.id(h)).text();
            if !must_come_later(w, &lift, &off) {
                w.g.edge(&off, &lift, held(w.name(h)));
            } else if let Some(act) = w.g.act_mut(&lift) {
                // Its way off leads past this bed.
                let with = format!("{} {} rises with it: slung, too.", act.words.raw(), w.all.list[h].name);
                act.words = crate::anatomy::text::Text::new(with);
            }
        }
    }
}

/// A collar that was drawn up by oil jumps when the oil lets it go: its nut stays on the thread and catches it.
fn let_go(w: &mut Work, i: usize) {
    let (id, name) = (w.id(i).to_owned(), w.name(i).to_owned());
    let nut = w.tighteners.iter().find(|t| {
        t.how == How::Nut
            && (t.stack.members.contains(&i) || w.all.part(w.a, t.body).is_some_and(|p| p.locks.contains(&id)))
    });
    let between: Vec<usize> = nut.map_or_else(Vec::new, |t| {
        t.stack.members.iter().copied().take_while(|m| *m != i).chain(t.locks.iter().copied()).collect()
    });
    let nut = nut.map(|t| t.body);
    let catch = nut.map_or("a stop plate bolted to the shaft end".to_owned(), |n| w.name(n).to_owned());
    let words = format!(
        "Let {name} go: expansion pressure until it jumps against {catch}, nobody in line with it. Expansion pressure off first, then the push; wait until the oil has run out."
    );
    let go = ActId::release(&id).text();
    let act = Act::new(&go, Verb::Loosen, Phase::Apart, Stage::TakeApart, &id, words)
        .with("pumps and gauges", 15.0)
        .careful(Caution::Injection);
    w.g.add(act.waits(20.0, "the oil film leaves"));
    w.g.edge(&go, &ActId::off(&id).text(), plain(Law::Joint, format!("{name} is let go before it is drawn off")));
    for o in 1..w.all.list.len() {
        let Way::Axial(from) = w.all.list[i].way else { continue };
        // What stands where it jumps, but for its nut, is off before.
        if o != i && nut != Some(o) && !between.contains(&o) && space::in_way(w.a, w.all, i, from, o).is_some() {
            let off = w.gone(w.hides(o));
            w.g.edge(&off, &go, plain(Law::Joint, format!("{} stands where {name} jumps", w.name(o))));
        }
    }
    let Some(n) = nut else { return };
    let (loosen, off) = (ActId::loosen(w.id(n)).text(), ActId::off(w.id(n)).text());
    if let Some(act) = w.g.act_mut(&loosen) {
        let back = format!(" Back it off by what {name} may jump and leave it on its thread: it catches {name}.");
        act.words = crate::anatomy::text::Text::new(format!("{}{back}", act.words.raw()));
    }
    w.g.edge(&loosen, &go, plain(Law::Joint, format!("{} is backed off by what {name} may jump", w.all.list[n].name)));
    w.g.edge(&go, &off, plain(Law::Joint, format!("{} catches {name} when the oil lets it go", w.all.list[n].name)));
}

/// What carries a rotor that stands, and what is tightened on it: body and act.
fn hangs_from(w: &Work) -> (Vec<usize>, Vec<(usize, String)>) {
    if w.a.stands != Stands::Vertical {
        return (Vec::new(), Vec::new());
    }
    let carries = |i: &usize| {
        w.all
            .part(w.a, *i)
            .is_some_and(|p| p.kind.role().bears() && p.kind.role() != Role::Bush || p.kind.role().taper_ring())
    };
    let carriers: Vec<usize> = (1..w.all.list.len()).filter(carries).collect();
    let holds = |t: &&super::work::Tightener| {
        t.stack.members.iter().any(|m| carriers.contains(m)) || carriers.contains(&t.body)
    };
    let tight = w.tighteners.iter().filter(holds).map(|t| (t.body, t.tight.clone())).collect();
    (carriers, tight)
}

/// A rotor that stands is held before what it hangs from is undone.
fn held_up(w: &mut Work) {
    let (carriers, tight) = hangs_from(w);
    if carriers.is_empty() {
        return;
    }
    let hold = ActId::hold("rotor").text();
    let words = "Hang the rotor: eye bolt in its upper end, the hoist takes the weight until what carries it is free; a second stop below.";
    w.g.add(
        Act::new(&hold, Verb::Set, Phase::Apart, Stage::TakeApart, "", words)
            .with("hoist", 10.0)
            .hands(2)
            .careful(Caution::Lifting),
    );
    for b in &carriers {
        let why = plain(Law::Joint, format!("the rotor hangs from {}", w.all.list[*b].name));
        for k in [*b, w.all.root(*b)] {
            for act in [ActId::off(w.id(k)).text(), ActId::open(w.id(k)).text()] {
                w.g.edge(&hold, &act, why.clone());
            }
        }
    }
    for (b, _) in &tight {
        let why = plain(Law::Joint, format!("the rotor hangs from what {} holds", w.all.list[*b].name));
        for act in [ActId::loosen(w.id(*b)).text(), ActId::off(w.id(*b)).text()] {
            w.g.edge(&hold, &act, why.clone());
        }
    }
}

/// A rotor that stands is let down on what carries it once that is there and tight.
pub(super) fn hung(w: &mut Work) {
    let (carriers, tight) = hangs_from(w);
    if carriers.is_empty() {
        return;
    }
    let down = ActId::down("rotor").text();
    let words = "Let the rotor down on what carries it, slowly, the coupling free; then the sling off.";
    w.g.add(
        Act::new(&down, Verb::Set, Phase::Mount, Stage::FitAndMount, "", words)
            .with("hoist", 8.0)
            .hands(2)
            .careful(Caution::Lifting),
    );
    for b in &carriers {
        for first in w.there(*b) {
            w.g.edge(&first, &down, plain(Law::Joint, format!("{} carries the rotor: it is there first", w.name(*b))));
        }
    }
    for (b, act) in &tight {
        w.g.edge(act, &down, plain(Law::Joint, format!("{} holds what the rotor hangs from", w.name(*b))));
    }
    // Readings rest on a rotor that hangs where it will hang.
    let rest: Vec<String> = w
        .g
        .acts
        .iter()
        .filter(|s| s.phase == Phase::Mount && matches!(s.verb, Verb::Float | Verb::Gap | Verb::Position | Verb::Sweep))
        .map(|s| s.id.clone())
        .collect();
    for act in rest {
        if !must_come_later(w, &act, &down) {
            w.g.edge(&down, &act, plain(Law::Joint, "the rotor hangs where it runs first"));
        }
    }
}

/// What may still have to be opened by a reading is locked after it: a round would have to break the lock. Where the
/// lock is out of reach by then it is locked first, and a bad reading is a back-out.
pub(super) fn locked_after(w: &mut Work) {
    let reads = |s: &Act| {
        s.phase == Phase::Mount
            && matches!(s.verb, Verb::Float | Verb::Gap | Verb::Drag | Verb::Preload | Verb::Sweep)
            && s.stage != Stage::Prove
    };
    let list: Vec<String> = w.g.acts.iter().filter(|s| reads(s)).map(|s| s.id.clone()).collect();
    for t in w.tighteners.clone() {
        let own = ActId::lock(w.id(t.body)).text();
        let locks: Vec<String> = std::iter::once(own)
            .chain(t.locks.iter().flat_map(|l| [ActId::tab(w.id(*l)).text(), ActId::lock(w.id(*l)).text()]))
            .filter(|id| w.g.number(id).is_some())
            .collect();
        for read in &list {
            let Some((n, tight)) = w.g.number(read).zip(w.g.number(&t.tight)) else { continue };
            // It rests on this nut directly.
            if !w.g.first(n).contains(&tight) {
                continue;
            }
            for lock in &locks {
                if !must_come_later(w, lock, read) {
                    let words = format!("{} may have to be opened again by this reading", w.name(t.body));
                    w.g.edge(read, lock, plain(Law::Joint, words));
                }
            }
        }
    }
}

/// The shaft is turned while bolts are drawn down only where everything that carries it is in.
pub(super) fn turned(w: &mut Work) {
    let carriers: Vec<usize> = (1..w.all.list.len())
        .filter(|i| w.all.part(w.a, *i).is_some_and(|p| p.kind.role().bears() || p.kind.role().taper_ring()))
        .collect();
    for k in 0..w.a.bolt_rings.len() {
        let ring = w.a.bolt_rings[k].clone();
        let Some(i) = w.all.number(&ring.part).filter(|i| *i != 0) else { continue };
        let bolts = ActId::bolts(w.id(i)).text();
        let there = |b: &usize| w.there(*b).into_iter().take(1).all(|on| must_come_later(w, &on, &bolts));
        if carriers.is_empty() || !carriers.iter().all(there) {
            let words = super::tighten::bolt_words(w.name(i), &ring, false);
            if let Some(act) = w.g.act_mut(&bolts) {
                act.words = crate::anatomy::text::Text::new(words).capital();
            }
        }
    }
}
