//! What is hot is held by the next act of hands, and what is on is proved home before anything hides the proof.

use super::super::body::Way;
use super::super::kinds::Role;
use super::super::{clamp, space};
use super::laws::plain;
use super::work::{How, Work, must_come_later};
use super::{Act, Law};
use crate::terms::ActId;

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

/// The run that is begun and must not be left alone while another act takes hold of something, and the act that comes
/// next in it.
#[must_use]
pub fn left_alone<'a>(runs: &'a [Run], act: &Act, done: impl Fn(&str) -> bool) -> Option<(&'a Run, &'a str)> {
    let run = runs.iter().find(|r| act.verb.moves() && !r.holds(&act.id) && r.open(&done))?;
    Some((run, run.acts.iter().find(|a| !done(a))?))
}

/// What is on is proved home before anything hides the proof, stands in its way off again, or is pressed against it;
/// what holds it home is no such thing.
pub(super) fn proofs(w: &mut Work) {
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
