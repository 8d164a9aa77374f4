//! Rounds: what is done again after a shim was changed. A reading outside its limits takes the shim out, changes it,
//! and brings the same acts back under ids that end in `#2`; what was read before stays on record.

use super::{Act, Before, Law, Phase, Stage, Verb};
use crate::anatomy::Anatomy;
use crate::anatomy::body::Bodies;
use crate::anatomy::text::Text;
use crate::terms::ActId;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// One round.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Round {
    /// Counts from 2: the first time is no round.
    pub n: u32,
    /// Reading that opened it.
    pub reading: String,
    /// Shim that is changed.
    pub shim: String,
    /// Bodies that come off for it, first to come off first; the shim last.
    pub off: Vec<String>,
    /// Acts that are done again, in their order.
    pub again: Vec<String>,
}

/// An id without its round.
///
/// ```
/// assert_eq!(ironseat_core::anatomy::acts::first_time("float.thrust#3"), "float.thrust");
/// ```
#[must_use]
pub fn first_time(id: &str) -> &str {
    id.split('#').next().unwrap_or(id)
}

/// Whether a body came off in a round and is not on again.
#[must_use]
pub fn out_again(rounds: &[Round], done: &BTreeSet<String>, body: &str) -> bool {
    let newest = rounds.iter().rev().find(|r| done.contains(&ActId::off(body).in_round(r.n).text()));
    newest.is_some_and(|r| !done.contains(&ActId::on(body).in_round(r.n).text()))
}

/// Parts and housings that are on the machine: what did not come off yet, and what is on again. A bearing that comes
/// apart is on when a piece of it is.
///
/// ```
/// # use ironseat_core::anatomy::{Anatomy, acts::fitted, derive};
/// # let pump: Anatomy = serde_json::from_str(r#"{"key":"p","name":"Pump","version":1,
/// #   "lands":[{"id":"j","name":"journal","length_mm":60,"d_mm":40}],
/// #   "parts":[{"id":"ring","name":"Sleeve","kind":"sleeve","land":"j","at_mm":20,"width_mm":20,"outside_mm":48}]}"#).unwrap();
/// let d = derive(&pump)?;
/// assert!(fitted(&pump, &d.bodies, &[].into(), &[]).contains("ring"));
/// assert!(fitted(&pump, &d.bodies, &["off.ring".into()].into(), &[]).is_empty());
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
#[must_use]
pub fn fitted(a: &Anatomy, all: &Bodies, done: &BTreeSet<String>, rounds: &[Round]) -> BTreeSet<String> {
    let on = |id: &str| {
        let again = done.contains(&ActId::on(id).text()) || !done.contains(&ActId::off(id).text());
        again && !out_again(rounds, done, id)
    };
    let there = |id: &String| {
        let pieces = all.pieces_of(id);
        pieces.is_empty() || pieces.iter().any(|i| on(&all.list[*i].id))
    };
    a.parts.iter().map(|p| &p.id).chain(a.housings.iter().map(|h| &h.id)).filter(|id| there(id)).cloned().collect()
}

/// The round that a reading opens: what comes off for the shim, and what of the done acts rests on that.
#[must_use]
pub fn open_round(acts: &[Act], done: &BTreeSet<String>, n: u32, reading: &str, shim: &str, off: &[String]) -> Round {
    let mut off: Vec<String> = off.to_vec();
    off.push(shim.to_owned());
    // Placed last time: the newest act that placed each.
    let placed = |body: &str| {
        acts.iter()
            .rev()
            .find(|a| first_time(&a.id) == ActId::on(body).text() && done.contains(&a.id))
            .map(|a| a.id.clone())
    };
    let mut hit: BTreeSet<String> = off.iter().filter_map(|b| placed(b)).collect();
    // Upper halves that are lifted: only what they close is done again.
    for b in &off {
        if let Some(close) =
            acts.iter().rev().find(|a| first_time(&a.id) == ActId::close(b).text() && done.contains(&a.id))
        {
            hit.insert(close.id.clone());
            hit.remove(&placed(b).unwrap_or_default());
        }
    }
    hit.insert(reading.to_owned());
    loop {
        let more: Vec<String> = acts
            .iter()
            .filter(|a| {
                done.contains(&a.id)
                    && !hit.contains(&a.id)
                    && a.phase == Phase::Mount
                    && a.before.iter().any(|b| hit.contains(&b.id))
            })
            .map(|a| a.id.clone())
            .collect();
        if more.is_empty() {
            break;
        }
        hit.extend(more);
    }
    let again = acts.iter().filter(|a| hit.contains(&a.id)).map(|a| a.id.clone()).collect();
    Round { n, reading: reading.to_owned(), shim: shim.to_owned(), off, again }
}

/// What unlocks and loosens a body before it comes off in a round, in that order: only what was locked and fastened.
fn undone_before<'a>(acts: &'a [Act], base: &BTreeMap<String, Act>, r: &Round, body: &str) -> Vec<&'a Act> {
    let again = |id: ActId| r.again.iter().any(|x| first_time(x) == id.text());
    let was = |s: &Act| match ActId::of(&s.id) {
        Some(ActId::Straighten(w)) => again(ActId::Tab(w)),
        Some(ActId::Unlock(n)) => again(ActId::Lock(n)),
        Some(ActId::Loosen(n)) => {
            [ActId::nip(&n), ActId::torque(&n), ActId::set(&n), ActId::bolts(&n)].into_iter().any(again)
        }
        Some(ActId::Release(c)) => again(ActId::On(c)),
        _ => false,
    };
    let (mut need, mut open) = (BTreeSet::new(), vec![ActId::off(body).text(), ActId::open(body).text()]);
    while let Some(id) = open.pop() {
        for b in base.get(&id).iter().flat_map(|s| &s.before) {
            if base.get(&b.id).is_some_and(|s| s.phase == Phase::Apart && s.verb.moves()) && need.insert(b.id.clone()) {
                open.push(b.id.clone());
            }
        }
    }
    acts.iter().filter(|s| need.contains(&s.id) && was(s)).collect()
}

/// What comes off in a round, with what unlocks and loosens it before; and the last of these acts.
fn taken_out(
    a: &Anatomy,
    acts: &[Act],
    base: &BTreeMap<String, Act>,
    r: &Round,
    named: &dyn Fn(&str) -> String,
) -> (Vec<Act>, String) {
    let mut fresh = Vec::new();
    let mut last = r.reading.clone();
    for body in &r.off {
        // Its lock, then its fastener, then the part.
        for undo in undone_before(acts, base, r, body) {
            let id = named(&undo.id);
            if fresh.iter().any(|x: &Act| x.id == id) {
                continue;
            }
            let why = Text::new("What holds it is undone before it comes off");
            let before = vec![Before { id: last.clone(), law: Law::Joint, words: why }];
            last.clone_from(&id);
            fresh.push(Act {
                id,
                phase: Phase::Mount,
                stage: Stage::SetAxially,
                before,
                given: Vec::new(),
                ..undo.clone()
            });
        }
        let halves = r.again.iter().any(|id| first_time(id) == ActId::close(body).text())
            && !r.again.iter().any(|id| first_time(id) == ActId::on(body).text());
        let from = if halves { ActId::open(body) } else { ActId::off(body) }.text();
        let words =
            base.get(&from).map_or_else(|| Text::new(format!("Take {} off.", a.name_of(body))), |x| x.words.clone());
        let mut act = Act { words, ..Act::new(named(&from), Verb::TakeOff, Phase::Mount, Stage::SetAxially, body, "") };
        if let Some(b) = base.get(&from) {
            (act.tool, act.minutes, act.people, act.caution) = (b.tool.clone(), b.minutes, b.people, b.caution);
        }
        act.before =
            vec![Before { id: last.clone(), law: Law::Way, words: Text::new("It stands in the way of the shim") }];
        last.clone_from(&act.id);
        fresh.push(act);
    }
    (fresh, last)
}

/// The acts with a round in them: taking off, the change, the same acts again, and what now waits for those.
#[must_use]
pub fn with_round(a: &Anatomy, acts: Vec<Act>, r: &Round) -> Vec<Act> {
    // What is done again carries its round; an id that is not known here carries it just so.
    let named = |id: &str| {
        ActId::of(first_time(id)).map_or_else(|| format!("{}#{}", first_time(id), r.n), |i| i.in_round(r.n).text())
    };
    let again: BTreeSet<&str> = r.again.iter().map(String::as_str).collect();
    let renamed: BTreeMap<String, String> = r.again.iter().map(|id| (id.clone(), named(id))).collect();
    let base: BTreeMap<String, Act> = acts.iter().map(|x| (x.id.clone(), x.clone())).collect();
    let float = match ActId::of(first_time(&r.reading)) {
        Some(ActId::Float(id)) => id,
        _ => String::new(),
    };
    let shim = ActId::Shim(float).in_round(r.n).text();
    let (mut fresh, last) = taken_out(a, &acts, &base, r, &named);
    let words = format!(
        "Change {} by what the float said; measure it at three points, and again as it goes in.",
        a.name_of(&r.shim)
    );
    let mut act = Act::new(&shim, Verb::Set, Phase::Mount, Stage::SetAxially, &r.shim, words)
        .with("surface grinder or leaves", 20.0);
    act.before = vec![Before { id: last, law: Law::BothSides, words: Text::new("It is out first") }];
    fresh.push(act);
    for id in &r.again {
        let Some(b) = base.get(id) else { continue };
        let mut act = b.clone();
        act.id = named(id);
        // A ring that is put on again is put on by hand: its own sheets stand.
        act.seat = None;
        act.before = b
            .before
            .iter()
            .filter_map(|x| renamed.get(&x.id).map(|n| Before { id: n.clone(), ..x.clone() }))
            .chain(std::iter::once(Before {
                id: shim.clone(),
                law: Law::BothSides,
                words: Text::new("The shim is changed first"),
            }))
            .collect();
        fresh.push(act);
    }
    let mut out = Vec::with_capacity(acts.len() + fresh.len());
    let at = acts.iter().rposition(|x| again.contains(x.id.as_str())).map_or(acts.len(), |k| k + 1);
    for (k, mut x) in acts.into_iter().enumerate() {
        if k == at {
            out.append(&mut fresh);
        }
        if !again.contains(x.id.as_str()) {
            for b in &mut x.before {
                if let Some(n) = renamed.get(&b.id) {
                    b.id.clone_from(n);
                }
            }
        }
        out.push(x);
    }
    out.append(&mut fresh);
    out
}
