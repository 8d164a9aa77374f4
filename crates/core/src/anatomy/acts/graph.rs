//! The graph of acts: nodes, reasons between them, what follows from others left out, and the offered order.

use super::laws::Because;
use super::{Act, Before, Phase, Run, Verb};
use crate::anatomy::Anatomy;
use crate::anatomy::body::Bodies;
use rustc_hash::FxHashMap;
use std::collections::{BinaryHeap, HashMap};

/// Acts with their reasons.
#[derive(Debug, Default)]
pub struct Graph {
    /// By number.
    pub acts: Vec<Act>,
    index: HashMap<String, usize>,
    /// Reasons by (first, then).
    why: FxHashMap<(usize, usize), Because>,
    after: Vec<Vec<usize>>,
    /// The other way round: what comes directly before each.
    first: Vec<Vec<usize>>,
    /// What leads to the act that was asked about last: many questions in a row are about one.
    leading: std::cell::RefCell<Option<(usize, Vec<bool>)>>,
}

/// Of pairs (first, then, reason) those that do not follow from the others: the graph need not carry the tens of
/// thousands that a long stack has. Where they run in a circle all of them stay, so that it can be told. Of equal pairs
/// the first stays.
pub(super) fn needed(pairs: Vec<(usize, usize, &Because)>) -> Vec<(usize, usize, &Because)> {
    let n = pairs.iter().map(|(x, y, _)| x.max(y) + 1).max().unwrap_or(0);
    let (mut before, mut after) = (vec![Vec::new(); n], vec![Vec::new(); n]);
    let mut waits = vec![0usize; n];
    for (k, (x, y, _)) in pairs.iter().enumerate() {
        before[*y].push((*x, k));
        after[*x].push(*y);
        waits[*y] += 1;
    }
    // What lies before every circle, and what lies behind every one: in each of the two nothing runs in a circle.
    let (mut order, ahead) = freed(&after, waits.clone());
    let (behind, _) = freed(&parents(&before), after.iter().map(Vec::len).collect());
    let mut side = vec![0u8; n];
    for i in &order {
        side[*i] = 1;
    }
    if !ahead {
        for i in behind.into_iter().rev().filter(|i| side[*i] == 0).collect::<Vec<_>>() {
            side[i] = 2;
            order.push(i);
        }
    }
    let inside = |x: usize, y: usize| side[x] == side[y] && side[x] > 0;
    for (y, list) in before.iter_mut().enumerate() {
        list.retain(|(x, _)| inside(*x, y));
    }
    let mut kept: Vec<usize> = direct(&order, &before).into_iter().flatten().collect();
    kept.extend(pairs.iter().enumerate().filter(|(_, (x, y, _))| !inside(*x, *y)).map(|(k, _)| k));
    // In the order in which they were given, so that the same machine gives the same graph.
    kept.sort_unstable();
    kept.into_iter().map(|k| pairs[k]).collect()
}

fn parents(before: &[Vec<(usize, usize)>]) -> Vec<Vec<usize>> {
    before.iter().map(|list| list.iter().map(|(x, _)| *x).collect()).collect()
}

/// Nodes in an order, as far as there is one, and whether that is all of them.
fn freed(after: &[Vec<usize>], mut waits: Vec<usize>) -> (Vec<usize>, bool) {
    let mut order: Vec<usize> = (0..waits.len()).filter(|i| waits[*i] == 0).collect();
    let mut at = 0;
    while at < order.len() {
        for y in &after[order[at]] {
            waits[*y] -= 1;
            if waits[*y] == 0 {
                order.push(*y);
            }
        }
        at += 1;
    }
    let all = order.len() == waits.len();
    (order, all)
}

/// Apart comes before together, and what is asked before what is done.
fn standing(s: &Act) -> f64 {
    let phase = if s.phase == Phase::Apart { 0.0 } else { 1e6 };
    phase
        + match s.verb {
            Verb::Isolate => -1e5,
            Verb::Ask => -5e4,
            Verb::Inspect if s.phase == Phase::Apart && s.stage == super::Stage::Inspect => 3e4,
            Verb::Measure if s.stage == super::Stage::Parts => -2e4,
            Verb::Prove => 1e5,
            _ => 0.0,
        }
}

/// The same number for the same text, 0 for none.
fn same<'a>(texts: impl Iterator<Item = &'a str>) -> Vec<usize> {
    let mut seen: HashMap<&str, usize> = HashMap::from([("", 0)]);
    texts
        .map(|t| {
            let next = seen.len();
            *seen.entry(t).or_insert(next)
        })
        .collect()
}

/// For each node of an order the numbers of its pairs that do not follow from others; `before` holds (first, number of
/// the pair).
fn direct(order: &[usize], before: &[Vec<(usize, usize)>]) -> Vec<Vec<usize>> {
    let n = before.len();
    let words = n.div_ceil(64);
    let mut reach = vec![0u64; n * words];
    let mut place = vec![0; n];
    for (k, i) in order.iter().enumerate() {
        place[*i] = k;
    }
    let mut out = vec![Vec::new(); n];
    let mut seen = vec![0u64; words];
    let mut list = Vec::new();
    for &b in order {
        list.clone_from(&before[b]);
        // Nearest first: what is reached through a nearer one is left out.
        list.sort_by_key(|(x, k)| (std::cmp::Reverse(place[*x]), *k));
        seen.fill(0);
        for (x, k) in &list {
            if seen[x / 64] >> (x % 64) & 1 == 0 {
                out[b].push(*k);
                seen[x / 64] |= 1 << (x % 64);
                for w in 0..words {
                    seen[w] |= reach[x * words + w];
                }
            }
        }
        reach[b * words..(b + 1) * words].copy_from_slice(&seen);
    }
    out
}

impl Graph {
    /// Adds an act; the number of the one that is there already when the id is taken.
    pub fn add(&mut self, act: Act) -> usize {
        if let Some(i) = self.index.get(&act.id) {
            return *i;
        }
        let i = self.acts.len();
        self.index.insert(act.id.clone(), i);
        self.acts.push(act);
        self.after.push(Vec::new());
        self.first.push(Vec::new());
        i
    }
    /// Number of an act.
    #[must_use]
    pub fn number(&self, id: &str) -> Option<usize> {
        self.index.get(id).copied()
    }
    /// An act to change.
    pub fn act_mut(&mut self, id: &str) -> Option<&mut Act> {
        let i = self.number(id)?;
        self.acts.get_mut(i)
    }
    /// One act before another, by number; the first reason stays.
    pub fn before(&mut self, first: usize, then: usize, why: Because) {
        if first != then
            && let std::collections::hash_map::Entry::Vacant(e) = self.why.entry((first, then))
        {
            e.insert(why);
            self.after[first].push(then);
            self.first[then].push(first);
            // A new way changes what was known, but for what led there already.
            let known = self.leading.get_mut();
            if known.as_ref().is_some_and(|k| k.1.get(then) != Some(&false) && k.1.get(first) != Some(&true)) {
                *known = None;
            }
        }
    }
    /// One act before another, by id; nothing when one is not there.
    pub fn edge(&mut self, first: &str, then: &str, why: Because) {
        if let (Some(a), Some(b)) = (self.number(first), self.number(then)) {
            self.before(a, b, why);
        }
    }
    /// Whether one comes directly or not before another.
    #[must_use]
    pub fn leads(&self, first: usize, then: usize) -> bool {
        let mut known = self.leading.borrow_mut();
        let fresh = known.as_ref().is_none_or(|k| k.0 != then || k.1.len() != self.acts.len());
        if fresh {
            let mut seen = vec![false; self.acts.len()];
            seen[then] = true;
            let mut open = vec![then];
            while let Some(i) = open.pop() {
                for n in &self.first[i] {
                    if !std::mem::replace(&mut seen[*n], true) {
                        open.push(*n);
                    }
                }
            }
            *known = Some((then, seen));
        }
        known.as_ref().is_some_and(|k| k.1[first])
    }

    /// Everything that comes behind an act, directly or not, and the act itself.
    #[must_use]
    pub fn behind(&self, first: usize) -> Vec<bool> {
        let mut seen = vec![false; self.acts.len()];
        seen[first] = true;
        let mut open = vec![first];
        while let Some(i) = open.pop() {
            open.extend(self.after[i].iter().filter(|n| !std::mem::replace(&mut seen[**n], true)));
        }
        seen
    }

    fn plain(&self) -> (Vec<usize>, Vec<usize>) {
        let n = self.acts.len();
        let mut waits = vec![0usize; n];
        for list in &self.after {
            for b in list {
                waits[*b] += 1;
            }
        }
        let mut free: BinaryHeap<std::cmp::Reverse<usize>> =
            (0..n).filter(|i| waits[*i] == 0).map(std::cmp::Reverse).collect();
        let mut order = Vec::with_capacity(n);
        while let Some(std::cmp::Reverse(a)) = free.pop() {
            order.push(a);
            for b in &self.after[a] {
                waits[*b] -= 1;
                if waits[*b] == 0 {
                    free.push(std::cmp::Reverse(*b));
                }
            }
        }
        (order, waits)
    }

    /// Acts that wait for each other, as a shortest loop of numbers; none when there is an order.
    #[must_use]
    pub fn shortest_loop(&self) -> Option<Vec<usize>> {
        let (order, waits) = self.plain();
        if order.len() == self.acts.len() {
            return None;
        }
        // Whatever waits has something before it that waits, too: going back ends in a circle.
        let mut back = vec![(0..self.acts.len()).find(|i| waits[*i] > 0)?];
        let circle = loop {
            let here = back[back.len() - 1];
            let next = *self.first[here].iter().find(|b| waits[**b] > 0)?;
            match back.iter().position(|b| *b == next) {
                Some(at) => break back.split_off(at),
                None => back.push(next),
            }
        };
        let mut best: Option<Vec<usize>> = None;
        for &start in circle.iter().take(60) {
            let mut from: FxHashMap<usize, usize> = FxHashMap::default();
            let mut queue = std::collections::VecDeque::from([start]);
            'search: while let Some(a) = queue.pop_front() {
                for b in self.after[a].iter().filter(|b| waits[**b] > 0) {
                    if *b == start {
                        let mut path = vec![a];
                        while path[path.len() - 1] != start {
                            path.push(from[&path[path.len() - 1]]);
                        }
                        path.reverse();
                        if best.as_ref().is_none_or(|p| path.len() < p.len()) {
                            best = Some(path);
                        }
                        break 'search;
                    }
                    if !from.contains_key(b) {
                        from.insert(*b, a);
                        queue.push_back(*b);
                    }
                }
            }
        }
        best
    }

    /// Takes one reason out: used to leave a loop so that the other acts can still be given.
    pub fn drop(&mut self, first: usize, then: usize) {
        self.why.remove(&(first, then));
        self.after[first].retain(|b| *b != then);
        self.first[then].retain(|b| *b != first);
        *self.leading.get_mut() = None;
    }
    /// Why one stands directly before another.
    #[must_use]
    pub fn reason(&self, first: usize, then: usize) -> Option<&Because> {
        self.why.get(&(first, then))
    }
    /// Its acts, and every reason by their numbers.
    #[must_use]
    pub fn into_parts(self) -> (Vec<Act>, FxHashMap<(usize, usize), Because>) {
        (self.acts, self.why)
    }
    /// Acts that come directly before one.
    #[must_use]
    pub fn first(&self, i: usize) -> &[usize] {
        &self.first[i]
    }
    /// Acts that come directly after one.
    #[must_use]
    pub fn after(&self, i: usize) -> &[usize] {
        &self.after[i]
    }

    /// Writes into each act what must be done before it, without what follows from others.
    pub fn reduce(&mut self, a: &Anatomy, all: &Bodies) {
        let (order, _) = self.plain();
        let mut before = vec![Vec::new(); self.acts.len()];
        for (i, list) in self.after.iter().enumerate() {
            for b in list {
                before[*b].push((i, i));
            }
        }
        let mut place = vec![0; self.acts.len()];
        for (k, i) in order.iter().enumerate() {
            place[*i] = k;
        }
        for (b, mut kept) in direct(&order, &before).into_iter().enumerate() {
            kept.sort_by_key(|x| place[*x]);
            self.acts[b].before = kept
                .into_iter()
                .filter_map(|x| {
                    let why = self.why.get(&(x, b))?;
                    Some(Before { id: self.acts[x].id.clone(), law: why.law(), words: why.say(a, all).capital() })
                })
                .collect();
        }
    }

    /// The offered order: least waiting, turning over and changing of tools, acts of one place together; what runs
    /// without anything in between stays together.
    #[must_use]
    pub fn offered(&self, end_of: &dyn Fn(&Act) -> Option<crate::terms::End>, runs: &[Run]) -> Vec<usize> {
        let n = self.acts.len();
        let (plain, _) = self.plain();
        let mut waits = vec![0usize; n];
        for list in &self.after {
            for b in list {
                waits[*b] += 1;
            }
        }
        // Longest waiting still to come behind each: what leads to a hot ring is urgent.
        let mut behind = vec![0.0f64; n];
        for &i in plain.iter().rev() {
            behind[i] = self.acts[i].wait_min + self.after[i].iter().map(|x| behind[*x]).fold(0.0, f64::max);
        }
        // What does not change while the order is made.
        let own: Vec<f64> = self.acts.iter().zip(&behind).map(|(s, behind)| standing(s) - 0.2 * behind).collect();
        let ends: Vec<Option<crate::terms::End>> = self.acts.iter().map(end_of).collect();
        let (tools, bodies) =
            (same(self.acts.iter().map(|s| s.tool.as_str())), same(self.acts.iter().map(|s| s.body.as_str())));
        let mut free: Vec<usize> = (0..n).filter(|i| waits[*i] == 0).collect();
        let mut from = vec![0.0f64; n];
        let (mut now, mut end, mut tool, mut body) = (0.0f64, None, 0, 0);
        let mut order = Vec::with_capacity(n);
        let runs: Vec<Vec<usize>> =
            runs.iter().map(|r| r.acts.iter().filter_map(|a| self.number(a)).collect()).collect();
        // What has to come next, first of all.
        let mut next: std::collections::VecDeque<usize> = std::collections::VecDeque::new();
        while !free.is_empty() {
            let price = |i: usize| {
                let turn = ends[i].is_some_and(|e| end.is_some_and(|x| x != e));
                let idle = (from[i] - now).max(0.0);
                let there = if bodies[i] > 0 && bodies[i] == body { -3.0 } else { 0.0 };
                own[i] + idle + if turn { 4.0 } else { 0.0 } + if tools[i] == tool { 0.0 } else { 1.0 } + there
            };
            let mut at = 0;
            let mut least = f64::INFINITY;
            for (k, i) in free.iter().enumerate() {
                let p = price(*i);
                if p < least - 1e-9 || (p < least + 1e-9 && *i < free[at]) {
                    (least, at) = (p.min(least), k);
                }
            }
            if let Some(k) = next.front().and_then(|x| free.iter().position(|f| f == x)) {
                at = k;
            }
            let i = free.swap_remove(at);
            if next.front() == Some(&i) {
                next.pop_front();
            }
            if let Some(run) = runs.iter().find(|r| r.first() == Some(&i)) {
                next.extend(&run[1..]);
            }
            now = now.max(from[i]) + self.acts[i].minutes;
            end = ends[i].or(end);
            (tool, body) = (tools[i], bodies[i]);
            order.push(i);
            for x in &self.after[i] {
                from[*x] = from[*x].max(now + self.acts[i].wait_min);
                waits[*x] -= 1;
                if waits[*x] == 0 {
                    free.push(*x);
                }
            }
        }
        order
    }
}
