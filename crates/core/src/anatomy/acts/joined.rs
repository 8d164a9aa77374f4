//! What joints ask of the order: both ends there before anything is fastened, everything loosened before anything is
//! moved against it. Beds, hot rings, pockets and what hangs have their own files.

use super::super::body::What;
use super::super::kinds::Role;
use super::super::{Hold, joints};
use super::laws::plain;
use super::work::{Work, must_come_later};
use super::{Act, Law, Phase, Stage, Verb};
use super::{beds, hot, pockets, stored};
use crate::anatomy::joints::Partner;
use crate::terms::ActId;

/// Both ends of every joint when mounting.
pub(super) fn mounting(w: &mut Work) {
    for k in 0..w.a.bolt_rings.len() {
        partner_first(w, k);
    }
    beds::laid_in(w);
    screws_last(w);
    pockets::driven(w);
    hot::proofs(w);
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
    beds::lifted(w);
    stored::held_up(w);
    for i in 1..w.all.list.len() {
        if w.all.part(w.a, i).is_some_and(|p| p.fit == Hold::Oil) && w.all.list[i].parent.is_none() {
            stored::let_go(w, i);
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
