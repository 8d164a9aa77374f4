//! Job-shop shapes: every task holds one means of which there is one, and people are no bottleneck.
//!
//! A tabu search on the critical path. A plan is the sequence of tasks on each means; a neighbour moves one task of a
//! critical block before or behind the block's ends, judged by the longest path through the moved stretch. Source:
//! Balas and Vazacopoulos (1998) for the moves and their estimate, Nowicki and Smutnicki (1996) for the tabu search
//! that goes back to good plans.

use super::Task;
use crate::stack::Random;

const NONE: usize = usize::MAX;

/// Whether only the means hold tasks apart: each task with hands holds one means of one, nothing holds means in its
/// wait, and people would not be short even if every means ran at once.
pub(super) fn fits(tasks: &[Task], people: u64, means: &[u64]) -> bool {
    let busiest = tasks.iter().map(|t| t.people).max().unwrap_or(0);
    let used = (0..means.len()).filter(|m| tasks.iter().any(|t| t.means.contains(m))).count() as u64;
    tasks.len() <= 2000
        && tasks
            .iter()
            .all(|t| t.means.len() == 1 && t.wait_means.is_empty() && t.minutes > 0 && means[t.means[0]] == 1)
        && busiest.saturating_mul(used) <= people
}

/// A complete choice: who comes next and before on the same means.
#[derive(Clone)]
struct Chosen {
    next: Vec<usize>,
    previous: Vec<usize>,
    first: Vec<usize>,
}

/// Longest paths of a choice.
struct Paths {
    order: Vec<usize>,
    /// Earliest start.
    head: Vec<u64>,
    /// From the start of a task to the end of everything.
    tail: Vec<u64>,
    waiting: Vec<u32>,
    makespan: u64,
}

pub(super) struct JobShop<'a> {
    tasks: &'a [Task],
    followers: Vec<Vec<usize>>,
    paths: Paths,
}

/// A move of one task within its means: behind `to` or before it.
#[derive(Clone, Copy)]
struct Move {
    task: usize,
    to: usize,
    behind: bool,
}

impl<'a> JobShop<'a> {
    pub(super) fn new(tasks: &'a [Task]) -> Self {
        let n = tasks.len();
        let mut followers = vec![Vec::new(); n];
        for (i, t) in tasks.iter().enumerate() {
            for a in &t.after {
                followers[*a].push(i);
            }
        }
        let paths = Paths {
            order: Vec::with_capacity(n),
            head: vec![0; n],
            tail: vec![0; n],
            waiting: vec![0; n],
            makespan: 0,
        };
        Self { tasks, followers, paths }
    }

    /// Improves on starts that hold until the work is used up or the bound is met; gives the best starts.
    pub(super) fn improve(&mut self, starts: &[u64], bound: u64, budget: &super::Budget, seed: u64) -> Vec<u64> {
        let n = self.tasks.len();
        let step = 3 * n as u64 + 40;
        let mut r = Random::new(seed);
        let mut now = self.chosen(starts);
        self.walk(&now);
        let mut best = self.paths.makespan;
        let mut best_starts = self.paths.head.clone();
        let mut elite: Vec<(u64, Chosen)> = vec![(best, now.clone())];
        let mut tabu = vec![0u32; n * n];
        let mut round_best = best;
        let (mut turn, mut since, mut work) = (1u32, 0u32, 0u64);
        let means = 1 + self.tasks.iter().map(|t| t.means[0]).max().unwrap_or(0);
        let tenure = 10 + (n / means.max(1)) as u32;
        let mut moves = Vec::new();
        let patience = 2500 + 5 * n as u32;
        while best > bound && budget.left(work, super::PATH_STEPS) {
            work += step;
            turn += 1;
            since += 1;
            self.moves(&now, &mut r, &mut moves);
            let Some(m) = self.choose(&now, &moves, &tabu, turn, best, n, &mut r) else { break };
            self.forbid(&now, m, &mut tabu, turn + tenure + r.below(1 + tenure as usize / 2) as u32, n);
            let back = Move {
                task: m.task,
                to: if m.behind { now.next[m.task] } else { now.previous[m.task] },
                behind: !m.behind,
            };
            Self::apply(&mut now, self.tasks, m);
            work += moves.len() as u64 * 12;
            // The moves above make no loop; should one do so all the same, it is no plan and is taken back.
            if !self.walk(&now) {
                Self::apply(&mut now, self.tasks, back);
                self.walk(&now);
                continue;
            }
            let made = self.paths.makespan;
            if made < round_best {
                round_best = made;
                since = 0;
                Self::keep(&mut elite, made, &now);
                if made < best {
                    best = made;
                    best_starts.clone_from(&self.paths.head);
                }
            }
            if since > patience {
                // Stuck: go part of the way from one good plan to another and search on from there.
                let a = r.below(elite.len());
                let b = r.below(elite.len());
                now = elite[a].1.clone();
                self.walk(&now);
                let goal = elite[b].1.clone();
                work += self.relink(&mut now, &goal, a == b, &mut r) * step;
                self.walk(&now);
                tabu.iter_mut().for_each(|t| *t = 0);
                work += (n * n / 16) as u64;
                round_best = self.paths.makespan;
                since = 0;
            }
        }
        best_starts
    }

    /// Keeps a handful of good plans that differ.
    fn keep(elite: &mut Vec<(u64, Chosen)>, made: u64, now: &Chosen) {
        const HANDFUL: usize = 8;
        if let Some(same) = elite.iter_mut().find(|e| e.0 == made) {
            same.1 = now.clone();
            return;
        }
        elite.push((made, now.clone()));
        elite.sort_by_key(|e| e.0);
        elite.truncate(HANDFUL);
    }

    /// The sequences that starts imply.
    fn chosen(&self, starts: &[u64]) -> Chosen {
        let n = self.tasks.len();
        let mut by_start: Vec<usize> = (0..n).collect();
        by_start.sort_by_key(|i| starts[*i]);
        let means = 1 + self.tasks.iter().map(|t| t.means[0]).max().unwrap_or(0);
        let mut c = Chosen { next: vec![NONE; n], previous: vec![NONE; n], first: vec![NONE; means] };
        let mut last = vec![NONE; means];
        for i in by_start {
            let m = self.tasks[i].means[0];
            if last[m] == NONE {
                c.first[m] = i;
            } else {
                c.next[last[m]] = i;
                c.previous[i] = last[m];
            }
            last[m] = i;
        }
        c
    }

    /// Heads and tails of a choice; false when it runs in a loop.
    fn walk(&mut self, c: &Chosen) -> bool {
        let n = self.tasks.len();
        let p = &mut self.paths;
        p.order.clear();
        for i in 0..n {
            p.waiting[i] = self.tasks[i].after.len() as u32 + u32::from(c.previous[i] != NONE);
            p.head[i] = self.tasks[i].release;
            if p.waiting[i] == 0 {
                p.order.push(i);
            }
        }
        let mut k = 0;
        p.makespan = 0;
        while k < p.order.len() {
            let i = p.order[k];
            k += 1;
            let hands = p.head[i] + self.tasks[i].minutes;
            let end = hands + self.tasks[i].wait;
            p.makespan = p.makespan.max(end);
            for f in &self.followers[i] {
                p.head[*f] = p.head[*f].max(end);
                p.waiting[*f] -= 1;
                if p.waiting[*f] == 0 {
                    p.order.push(*f);
                }
            }
            let f = c.next[i];
            if f != NONE {
                p.head[f] = p.head[f].max(hands);
                p.waiting[f] -= 1;
                if p.waiting[f] == 0 {
                    p.order.push(f);
                }
            }
        }
        if p.order.len() < n {
            return false;
        }
        for &i in p.order.iter().rev() {
            let t = &self.tasks[i];
            let after = self.followers[i].iter().map(|f| p.tail[*f]).max().unwrap_or(0) + t.wait;
            let next = if c.next[i] == NONE { 0 } else { p.tail[c.next[i]] };
            p.tail[i] = t.minutes + after.max(next);
        }
        true
    }

    /// Moves of the ends of every block of one critical path, chosen at random where paths fork.
    fn moves(&self, c: &Chosen, r: &mut Random, out: &mut Vec<Move>) {
        out.clear();
        let p = &self.paths;
        // Walk back from a task that ends last.
        let last: Vec<usize> = (0..self.tasks.len())
            .filter(|i| p.head[*i] + self.tasks[*i].minutes + self.tasks[*i].wait == p.makespan)
            .collect();
        let mut path = vec![last[r.below(last.len())]];
        loop {
            let i = path[path.len() - 1];
            let mut from = [NONE; 2];
            let m = c.previous[i];
            if m != NONE && p.head[m] + self.tasks[m].minutes == p.head[i] {
                from[0] = m;
            }
            if let Some(a) = self.tasks[i]
                .after
                .iter()
                .find(|a| p.head[**a] + self.tasks[**a].minutes + self.tasks[**a].wait == p.head[i])
            {
                from[1] = *a;
            }
            let before = match from {
                [NONE, NONE] => break,
                [a, NONE] => a,
                [NONE, b] => b,
                [a, b] => {
                    if r.unit() < 0.5 {
                        a
                    } else {
                        b
                    }
                }
            };
            path.push(before);
        }
        path.reverse();
        let mut from = 0;
        while from < path.len() {
            let mut to = from;
            while to + 1 < path.len() && c.next[path[to]] == path[to + 1] {
                to += 1;
            }
            let block = &path[from..=to];
            from = to + 1;
            if block.len() < 2 {
                continue;
            }
            let (first, end) = (block[0], block[block.len() - 1]);
            for (k, task) in block.iter().enumerate() {
                if *task != end {
                    self.push_behind(*task, end, out);
                    if k > 0 {
                        self.push_behind(first, *task, out);
                    }
                }
                if *task != first {
                    self.push_before(*task, first, out);
                    if k + 1 < block.len() {
                        self.push_before(end, *task, out);
                    }
                }
            }
        }
    }

    /// Behind `to`, unless a follower of the task is or may lead to `to`: a rebuild may come to the same means twice.
    fn push_behind(&self, task: usize, to: usize, out: &mut Vec<Move>) {
        let p = &self.paths;
        if self.followers[task].iter().all(|f| *f != to && p.tail[to] >= p.tail[*f]) {
            out.push(Move { task, to, behind: true });
        }
    }

    /// Before `to`, unless `to` is or may lead to what the task comes after.
    fn push_before(&self, task: usize, to: usize, out: &mut Vec<Move>) {
        let p = &self.paths;
        let reach = p.head[to] + self.tasks[to].minutes;
        if self.tasks[task].after.iter().all(|a| *a != to && reach >= p.head[*a] + self.tasks[*a].minutes) {
            out.push(Move { task, to, behind: false });
        }
    }

    /// The stretch a move touches, in its new order.
    fn stretch(c: &Chosen, m: Move, out: &mut Vec<usize>) {
        out.clear();
        if m.behind {
            let mut x = c.next[m.task];
            loop {
                out.push(x);
                if x == m.to {
                    break;
                }
                x = c.next[x];
            }
            out.push(m.task);
        } else {
            out.push(m.task);
            let mut x = m.to;
            while x != m.task {
                out.push(x);
                x = c.next[x];
            }
        }
    }

    /// Longest path through a stretch in its new order.
    fn estimate(&self, c: &Chosen, m: Move, line: &[usize], heads: &mut Vec<u64>) -> u64 {
        let p = &self.paths;
        let (before, behind) =
            if m.behind { (c.previous[m.task], c.next[m.to]) } else { (c.previous[m.to], c.next[m.task]) };
        let mut free = if before == NONE { 0 } else { p.head[before] + self.tasks[before].minutes };
        heads.clear();
        for &x in line {
            let t = &self.tasks[x];
            let ready = t
                .after
                .iter()
                .map(|a| p.head[*a] + self.tasks[*a].minutes + self.tasks[*a].wait)
                .max()
                .unwrap_or(0)
                .max(t.release);
            heads.push(ready.max(free));
            free = ready.max(free) + t.minutes;
        }
        let mut rest = if behind == NONE { 0 } else { p.tail[behind] };
        let mut worst = 0;
        for (k, &x) in line.iter().enumerate().rev() {
            let t = &self.tasks[x];
            let after = self.followers[x].iter().map(|f| p.tail[*f]).max().unwrap_or(0) + t.wait;
            rest = t.minutes + after.max(rest);
            worst = worst.max(heads[k] + rest);
        }
        worst
    }

    #[allow(clippy::too_many_arguments)]
    fn choose(
        &self,
        c: &Chosen,
        moves: &[Move],
        tabu: &[u32],
        turn: u32,
        best: u64,
        n: usize,
        r: &mut Random,
    ) -> Option<Move> {
        let (mut line, mut heads) = (Vec::new(), Vec::new());
        let (mut chosen, mut least, mut ties) = (None, u64::MAX, 0usize);
        for &m in moves {
            Self::stretch(c, m, &mut line);
            let cost = self.estimate(c, m, &line, &mut heads);
            let barred = if m.behind {
                line[..line.len() - 1].iter().any(|x| tabu[x * n + m.task] > turn)
            } else {
                line[1..].iter().any(|x| tabu[m.task * n + x] > turn)
            };
            if barred && cost >= best {
                continue;
            }
            if cost < least {
                (chosen, least, ties) = (Some(m), cost, 1);
            } else if cost == least {
                ties += 1;
                if r.below(ties) == 0 {
                    chosen = Some(m);
                }
            }
        }
        chosen.or_else(|| (!moves.is_empty()).then(|| moves[r.below(moves.len())]))
    }

    /// Bars the orders a move undoes.
    fn forbid(&self, c: &Chosen, m: Move, tabu: &mut [u32], until: u32, n: usize) {
        let mut line = Vec::new();
        Self::stretch(c, m, &mut line);
        for &x in line.iter().filter(|x| **x != m.task) {
            if m.behind { tabu[m.task * n + x] = until } else { tabu[x * n + m.task] = until }
        }
    }

    fn apply(c: &mut Chosen, tasks: &[Task], m: Move) {
        let means = tasks[m.task].means[0];
        let (a, b) = (c.previous[m.task], c.next[m.task]);
        if a == NONE {
            c.first[means] = b
        } else {
            c.next[a] = b
        }
        if b != NONE {
            c.previous[b] = a;
        }
        let (a, b) = if m.behind { (m.to, c.next[m.to]) } else { (c.previous[m.to], m.to) };
        c.previous[m.task] = a;
        c.next[m.task] = b;
        if a == NONE {
            c.first[means] = m.task
        } else {
            c.next[a] = m.task
        }
        if b != NONE {
            c.previous[b] = m.task;
        }
    }

    /// Swaps neighbours towards another plan, about half the way; at random when it is the same plan. Only swaps on a
    /// longest path between the two are sure not to make a loop, so each is tried and taken back when it does.
    fn relink(&mut self, now: &mut Chosen, goal: &Chosen, shake: bool, r: &mut Random) -> u64 {
        let n = self.tasks.len();
        let mut place = vec![0usize; n];
        for f in &goal.first {
            let (mut x, mut k) = (*f, 0);
            while x != NONE {
                place[x] = k;
                k += 1;
                x = goal.next[x];
            }
        }
        let wrong = |c: &Chosen| -> Vec<usize> {
            (0..n).filter(|i| c.next[*i] != NONE && (shake || place[*i] > place[c.next[*i]])).collect()
        };
        let distance: usize = if shake { 12 + n / 20 } else { wrong(now).len() * 2 };
        let mut tried = 0;
        for _ in 0..distance.clamp(6, 4 * n) {
            let list = wrong(now);
            if list.is_empty() {
                break;
            }
            let i = list[r.below(list.len())];
            let m = Move { task: i, to: now.next[i], behind: true };
            Self::apply(now, self.tasks, m);
            tried += 1;
            if !self.walk(now) {
                Self::apply(now, self.tasks, Move { task: i, to: now.previous[i], behind: false });
                tried += 1;
            }
        }
        tried
    }
}
