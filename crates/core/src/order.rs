//! Order of assembly: what must go on before what, and what a forgotten part costs (docs/trade.md, Order of assembly).

use crate::refusal::{Result, expect};
use std::collections::{BTreeMap, BTreeSet, VecDeque};

/// "a before b" among numbered things.
#[derive(Debug, Clone, Default)]
pub struct Precedence {
    /// Sorted.
    after: Vec<Vec<usize>>,
}

impl Precedence {
    /// Over n things.
    #[must_use]
    pub fn new(n: usize) -> Self {
        Self { after: vec![Vec::new(); n] }
    }
    /// Adds a before b; once is enough.
    pub fn add(&mut self, a: usize, b: usize) {
        if let Err(place) = self.after[a].binary_search(&b) {
            self.after[a].insert(place, b);
        }
    }
    /// Whether a stands directly before b.
    #[must_use]
    pub fn has(&self, a: usize, b: usize) -> bool {
        self.after.get(a).is_some_and(|s| s.binary_search(&b).is_ok())
    }
    /// All pairs, each once.
    pub fn pairs(&self) -> impl Iterator<Item = (usize, usize)> + '_ {
        self.after.iter().enumerate().flat_map(|(a, s)| s.iter().map(move |b| (a, *b)))
    }

    /// An order that respects every pair, lowest number first among the free; none when there is a loop.
    #[must_use]
    pub fn order(&self) -> Option<Vec<usize>> {
        let n = self.after.len();
        let mut waiting = vec![0usize; n];
        for (_, b) in self.pairs() {
            waiting[b] += 1;
        }
        let mut free: BTreeSet<usize> = (0..n).filter(|i| waiting[*i] == 0).collect();
        let mut order = Vec::with_capacity(n);
        while let Some(a) = free.pop_first() {
            order.push(a);
            for b in &self.after[a] {
                waiting[*b] -= 1;
                if waiting[*b] == 0 {
                    free.insert(*b);
                }
            }
        }
        (order.len() == n).then_some(order)
    }

    /// A shortest loop, from any start; none when there is an order.
    #[must_use]
    pub fn shortest_loop(&self) -> Option<Vec<usize>> {
        let n = self.after.len();
        let mut best: Option<Vec<usize>> = None;
        for start in 0..n {
            let mut from = vec![usize::MAX; n];
            let mut queue = VecDeque::from([start]);
            'search: while let Some(a) = queue.pop_front() {
                for b in &self.after[a] {
                    if *b == start {
                        let mut path = vec![a];
                        while path[path.len() - 1] != start {
                            path.push(from[path[path.len() - 1]]);
                        }
                        path.reverse();
                        if best.as_ref().is_none_or(|p| path.len() < p.len()) {
                            best = Some(path);
                        }
                        break 'search;
                    }
                    if from[*b] == usize::MAX {
                        from[*b] = a;
                        queue.push_back(*b);
                    }
                }
            }
        }
        best
    }

    /// Everything that comes directly or not after one, itself left out.
    #[must_use]
    pub fn reached(&self, from: usize) -> BTreeSet<usize> {
        let mut seen = BTreeSet::new();
        let mut open = vec![from];
        while let Some(a) = open.pop() {
            for b in &self.after[a] {
                if *b != from && seen.insert(*b) {
                    open.push(*b);
                }
            }
        }
        seen
    }
}

/// A part as far as passing goes; indices into lands, parts and housings.
#[derive(Debug, Clone, Default)]
#[allow(missing_docs)]
pub struct Passing {
    pub bore: f64,
    pub outside: f64,
    pub land: usize,
    pub pos: f64,
    /// None: end A.
    pub from_b: bool,
    pub split: bool,
    /// What must be on before it: what it locks or covers, its key.
    pub after: Vec<usize>,
    pub inside: Option<usize>,
}

/// What the geometry says.
#[derive(Debug, Clone)]
pub struct Geometry {
    /// (part, land): a part that cannot pass the first land on its way.
    pub impossible: Vec<(usize, usize)>,
    /// Pairs over parts, and the shaft as the last number when there are housings.
    pub precedence: Precedence,
}

/// Works out what must go before what. `lands` are diameters from A to B, `housings` openings at both ends; `n + 1`
/// things when there are housings, the last being the shaft. Source: docs/trade.md, Order of assembly, rules 1, 2, 4,
/// 5.
///
/// # Errors
/// `parts` with more than 2000.
pub fn geometry(lands: &[f64], parts: &[Passing], housings: &[(f64, f64)]) -> Result<Geometry> {
    expect(parts.len() <= 2000 && lands.len() <= 5000, "parts", "at most 2000 parts and 5000 lands are taken")?;
    let n = parts.len();
    let mut g = Geometry { impossible: Vec::new(), precedence: Precedence::new(n + usize::from(!housings.is_empty())) };
    let place = |p: &Passing| (p.land, p.pos);
    for (i, q) in parts.iter().enumerate() {
        if !q.split {
            let tight = |l: &usize| q.bore < lands[*l] - 1e-9;
            let stuck = if q.from_b { (q.land + 1..lands.len()).rev().find(tight) } else { (0..q.land).find(tight) };
            if let Some(l) = stuck {
                g.impossible.push((i, l));
            }
            for (j, p) in parts.iter().enumerate() {
                let passes = if q.from_b { place(p) > place(q) } else { place(p) < place(q) };
                if i != j && passes && p.outside > q.bore + 1e-9 {
                    g.precedence.add(i, j);
                }
            }
        }
        for before in &q.after {
            g.precedence.add(*before, i);
        }
        if let Some((a, b)) = q.inside.map(|h| housings[h])
            && q.outside > a + 1e-9
            && q.outside > b + 1e-9
        {
            g.precedence.add(i, n);
        }
    }
    Ok(g)
}

/// The least set to come off so that a forgotten part can go on: everything done that comes after it, last first.
#[must_use]
pub fn back_out(p: &Precedence, done: &[usize], part: usize) -> Vec<usize> {
    let after = p.reached(part);
    done.iter().rev().copied().filter(|d| after.contains(d)).collect()
}

/// Numbers for names, in the order in which they are met.
#[derive(Debug, Default)]
pub(crate) struct Names {
    index: BTreeMap<String, usize>,
    /// By number.
    pub list: Vec<String>,
}

impl Names {
    pub(crate) fn number(&mut self, name: &str) -> usize {
        if let Some(i) = self.index.get(name) {
            return *i;
        }
        self.list.push(name.to_owned());
        self.index.insert(name.to_owned(), self.list.len() - 1);
        self.list.len() - 1
    }
    pub(crate) fn find(&self, name: &str) -> Option<usize> {
        self.index.get(name).copied()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn some(n: usize, pairs: &[(usize, usize)]) -> Precedence {
        let mut p = Precedence::new(n);
        for (a, b) in pairs {
            p.add(a % n, b % n);
        }
        p
    }

    proptest! {
        #[test]
        fn an_order_respects_every_pair_or_there_is_a_loop(n in 1usize..9, pairs in prop::collection::vec((0usize..9, 0usize..9), 0..14)) {
            let p = some(n, &pairs);
            match p.order() {
                Some(o) => {
                    prop_assert!(p.shortest_loop().is_none());
                    let at = |x: usize| o.iter().position(|y| *y == x);
                    for (a, b) in p.pairs() { prop_assert!(at(a) < at(b)); }
                }
                None => {
                    let l = p.shortest_loop().unwrap();
                    for k in 0..l.len() { prop_assert!(p.after[l[k]].contains(&l[(k + 1) % l.len()])); }
                }
            }
        }

        #[test]
        fn what_comes_off_is_closed_and_least(n in 2usize..8, pairs in prop::collection::vec((0usize..8, 0usize..8), 0..14), forgotten in 0usize..8) {
            let upwards: Vec<_> = pairs.iter().map(|(a, b)| (a % n, b % n)).filter(|(a, b)| a < b).collect();
            let p = some(n, &upwards);
            let part = forgotten % n;
            let done: Vec<usize> = p.order().unwrap().into_iter().filter(|i| *i != part).collect();
            let off = back_out(&p, &done, part);
            // Closed: what comes after something that is off is off. Least: each has a path from the part.
            for (a, b) in p.pairs() { prop_assert!(!(off.contains(&a) || a == part) || off.contains(&b) || b == part); }
            let brute: Vec<usize> = done.iter().rev().copied().filter(|d| {
                let mut reach = vec![part];
                for _ in 0..n { for (a, b) in p.pairs() { if reach.contains(&a) && !reach.contains(&b) { reach.push(b) } } }
                reach.contains(d)
            }).collect();
            prop_assert_eq!(off, brute);
        }
    }
}
