//! Time, people, means: a resource-constrained schedule with passive waits (docs/trade.md, Planning).
//!
//! Serial generation from a priority list, improved by annealing over lists. The time that a search may take is counted
//! in steps of work, so the same seed gives the same plan on machines that keep up; a clock ends it on those that do
//! not.

mod job_shop;
mod promise;
mod shop;

pub use promise::{Estimate, Promise, promise};
pub use shop::{Calendar, Due, Shop, ShopPlan, ShopTask, plan, replan};

use crate::order::Precedence;
use crate::refusal::{Refusal, Result, expect};
use crate::stack::Random;
use std::time::{Duration, Instant};

/// Steps of work taken for a second of search: of serial generation, and of the critical-path search.
const SERIAL_STEPS: f64 = 2.2e8;
const PATH_STEPS: f64 = 7.0e7;

/// A task: hands for `minutes`, then a passive wait.
#[derive(Debug, Clone, Default)]
#[allow(missing_docs)]
pub struct Task {
    pub minutes: u64,
    pub wait: u64,
    pub people: u64,
    /// Means held with the hands, and during the wait; indices.
    pub means: Vec<usize>,
    pub wait_means: Vec<usize>,
    pub after: Vec<usize>,
    pub release: u64,
}

/// A plan.
#[derive(Debug, Clone, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Plan {
    pub starts: Vec<u64>,
    pub makespan: u64,
    pub lower_bound: u64,
}

/// Use of one resource over time: how much is taken from a moment to the next one, rising in time; nothing before the
/// first and after the last.
#[derive(Debug, Clone, Default)]
struct Timeline(Vec<(u64, u64)>);

impl Timeline {
    /// Earliest time from `t` at which `need` fits for `length`.
    fn next_fit(&self, t: u64, length: u64, need: u64, capacity: u64, work: &mut u64) -> u64 {
        if length == 0 || need == 0 {
            return t;
        }
        let mut at = t;
        let first = self.0.partition_point(|x| x.0 <= t).saturating_sub(1);
        *work += 2;
        for (k, (from, used)) in self.0.iter().enumerate().skip(first) {
            *work += 1;
            if *from >= at + length {
                break;
            }
            if used + need > capacity
                && let Some((end, _)) = self.0.get(k + 1)
            {
                at = at.max(*end);
            }
        }
        at
    }

    /// Where a moment stands, made when it is not there yet.
    fn moment(&mut self, at: u64) -> usize {
        let k = self.0.partition_point(|x| x.0 < at);
        if self.0.get(k).is_none_or(|x| x.0 != at) {
            let used = if k == 0 { 0 } else { self.0[k - 1].1 };
            self.0.insert(k, (at, used));
        }
        k
    }

    fn add(&mut self, from: u64, to: u64, amount: u64) {
        if to > from && amount > 0 {
            let (first, last) = (self.moment(from), self.moment(to));
            for x in &mut self.0[first..last] {
                x.1 += amount;
            }
        }
    }
}

/// What a search may still take: steps of work, so that one seed gives one plan, and the clock for machines that are
/// slower than the steps were counted on.
struct Budget {
    seconds: f64,
    end: Option<Instant>,
}

impl Budget {
    fn left(&self, work: u64, steps_a_second: f64) -> bool {
        (work as f64) < self.seconds * steps_a_second && self.end.is_none_or(|end| Instant::now() < end)
    }
}

struct Generation<'a> {
    tasks: &'a [Task],
    people: u64,
    means: &'a [u64],
    work: u64,
}

impl Generation<'_> {
    /// Places tasks in the order of a list as early as they go. The list respects precedence.
    fn place(&mut self, list: &[usize], starts: &mut [u64]) -> u64 {
        let mut people = Timeline::default();
        let mut means = vec![Timeline::default(); self.means.len()];
        let mut makespan = 0;
        for &i in list {
            let t = &self.tasks[i];
            let mut at = t
                .after
                .iter()
                .map(|p| starts[*p] + self.tasks[*p].minutes + self.tasks[*p].wait)
                .max()
                .unwrap_or(0)
                .max(t.release);
            loop {
                let mut next = people.next_fit(at, t.minutes, t.people, self.people, &mut self.work);
                for m in &t.means {
                    next = next.max(means[*m].next_fit(at, t.minutes, 1, self.means[*m], &mut self.work));
                }
                for m in &t.wait_means {
                    next = next
                        .max(means[*m].next_fit(at + t.minutes, t.wait, 1, self.means[*m], &mut self.work) - t.minutes);
                }
                if next == at {
                    break;
                }
                at = next;
            }
            people.add(at, at + t.minutes, t.people);
            for m in &t.means {
                means[*m].add(at, at + t.minutes, 1);
            }
            for m in &t.wait_means {
                means[*m].add(at + t.minutes, at + t.minutes + t.wait, 1);
            }
            starts[i] = at;
            makespan = makespan.max(at + t.minutes + t.wait);
        }
        makespan
    }
}

/// So few tasks that every list is tried: 8 make at most 40 320.
const FEW: usize = 8;

/// All lists that respect precedence, one after the other. Placing each as early as it goes makes every plan in which
/// nothing can be moved forward alone, and one of these is best.
struct Lists<'a> {
    tasks: &'a [Task],
    list: Vec<usize>,
    shop: Generation<'a>,
    best: u64,
    best_starts: Vec<u64>,
    proven: bool,
}

impl Lists<'_> {
    fn all(&mut self, budget: &Budget, bound: u64, starts: &mut Vec<u64>) {
        if self.best <= bound {
            return;
        }
        if self.list.len() == self.tasks.len() {
            let made = self.shop.place(&self.list, starts);
            if made < self.best {
                self.best = made;
                self.best_starts.clone_from(starts);
            }
            self.proven &= budget.left(self.shop.work, SERIAL_STEPS);
            return;
        }
        for i in 0..self.tasks.len() {
            if self.proven && !self.list.contains(&i) && self.tasks[i].after.iter().all(|a| self.list.contains(a)) {
                self.list.push(i);
                self.all(budget, bound, starts);
                self.list.pop();
            }
        }
    }
}

/// Finds a plan of small makespan within `seconds`, with a lower bound.
///
/// # Errors
/// `tasks`: a loop, more people than there are, means there are none of, or more than 5000 tasks.
pub fn solve(tasks: &[Task], people: u64, means: &[u64], seconds: f64, seed: u64) -> Result<Plan> {
    let end = Instant::now() + Duration::from_secs_f64(seconds.clamp(0.0, 3600.0));
    search(tasks, people, means, &Budget { seconds, end: Some(end) }, seed)
}

#[expect(clippy::too_many_lines, reason = "one search: its bounds share all of its state")]
fn search(tasks: &[Task], people: u64, means: &[u64], budget: &Budget, seed: u64) -> Result<Plan> {
    let n = tasks.len();
    expect(n <= 5000, "tasks", "at most 5000 tasks are taken")?;
    expect(tasks.iter().all(|t| t.people <= people), "tasks", "a task needs more people than there are")?;
    expect(
        tasks.iter().all(|t| t.means.iter().chain(&t.wait_means).all(|m| means[*m] > 0)),
        "tasks",
        "a task needs means there are none of",
    )?;
    if n == 0 {
        return Ok(Plan { starts: Vec::new(), makespan: 0, lower_bound: 0 });
    }
    let mut precedence = Precedence::new(n);
    for (i, t) in tasks.iter().enumerate() {
        for a in &t.after {
            precedence.add(*a, i);
        }
    }
    let Some(order) = precedence.order() else {
        return Err(Refusal::new("tasks", "the tasks wait for each other in a loop"));
    };
    let (head, tail) = heads_and_tails(tasks, &order);
    let bound = lower_bound(tasks, people, means, &head, &tail);
    let mut shop = Generation { tasks, people, means, work: 0 };
    let mut starts = vec![0; n];

    // Begin with what has the longest way still to go.
    let mut list = order.clone();
    let rank: Vec<usize> = {
        let mut r = vec![0; n];
        for (k, i) in order.iter().enumerate() {
            r[*i] = k;
        }
        r
    };
    list.sort_by_key(|i| (std::cmp::Reverse(tail[*i]), rank[*i]));
    repair(&mut list, tasks);
    let mut best = shop.place(&list, &mut starts);
    if job_shop::fits(tasks, people, means) {
        let starts = job_shop::JobShop::new(tasks).improve(&starts, bound, budget, seed);
        let makespan = (0..n).map(|i| starts[i] + tasks[i].minutes + tasks[i].wait).max().unwrap_or(0);
        return Ok(Plan { starts, makespan, lower_bound: bound.min(makespan) });
    }
    let mut best_starts = starts.clone();
    if n <= FEW {
        let mut lists = Lists { tasks, list: Vec::with_capacity(n), shop, best, best_starts, proven: true };
        lists.all(budget, bound, &mut starts);
        // Every list was tried, and one of them makes the best plan there is: no plan can end before.
        let lower_bound = if lists.proven { lists.best } else { bound.min(lists.best) };
        return Ok(Plan { starts: lists.best_starts, makespan: lists.best, lower_bound });
    }
    let (mut here, mut now) = (list.clone(), best);
    let mut r = Random::new(seed);
    let one = shop.work.max(1);
    let mut heat = best as f64 * 0.02;
    let cooling = 0.999f64.powf((one as f64 * 6000.0 / (budget.seconds * SERIAL_STEPS).max(1.0)).clamp(0.02, 50.0));
    let mut since = 0u32;
    while best > bound && budget.left(shop.work, SERIAL_STEPS) && n > 1 {
        let mut trial = here.clone();
        // Move one task to another place among those it may stand between; prefer tasks that end late in the plan.
        let i = r.below(n);
        let task = trial.remove(i);
        let lo = tasks[task].after.iter().filter_map(|p| trial.iter().position(|x| x == p)).max().map_or(0, |p| p + 1);
        let hi = trial.iter().position(|x| tasks[*x].after.contains(&task)).unwrap_or(trial.len());
        let reach = if r.unit() < 0.7 { 12 } else { n };
        let (lo, hi) = (lo.max(i.saturating_sub(reach)), hi.min(i + reach));
        trial.insert(if hi > lo { lo + r.below(hi - lo + 1) } else { lo }, task);
        shop.work += n as u64 / 4 + 60;
        let made = shop.place(&trial, &mut starts);
        if made <= now || r.unit() < (-((made - now) as f64) / heat.max(1e-9)).exp() {
            here = trial;
            now = made;
        }
        since += 1;
        if made < best {
            best = made;
            best_starts.clone_from(&starts);
            since = 0;
        }
        heat *= cooling;
        if since > 4000 {
            // Stuck: take the order of the best plan's starts, warm up and go on.
            here = (0..n).collect();
            here.sort_by_key(|k| (best_starts[*k], rank[*k]));
            now = best;
            heat = best as f64 * 0.01;
            since = 0;
        }
    }
    Ok(Plan { starts: best_starts, makespan: best, lower_bound: bound.min(best) })
}

/// Makes a list respect precedence with as little change as can be.
fn repair(list: &mut Vec<usize>, tasks: &[Task]) {
    let mut placed = vec![false; tasks.len()];
    let mut out = Vec::with_capacity(list.len());
    fn put(i: usize, tasks: &[Task], placed: &mut [bool], out: &mut Vec<usize>) {
        // Depth first over a graph without loops; an explicit stack, as chains may be long.
        let mut stack = vec![(i, 0)];
        while let Some((t, k)) = stack.pop() {
            if placed[t] {
                continue;
            }
            match tasks[t].after.get(k) {
                Some(a) => {
                    stack.push((t, k + 1));
                    stack.push((*a, 0));
                }
                None => {
                    placed[t] = true;
                    out.push(t);
                }
            }
        }
    }
    for &i in list.iter() {
        put(i, tasks, &mut placed, &mut out);
    }
    *list = out;
}

/// Earliest start, and longest way from start to the end of everything, without resources.
fn heads_and_tails(tasks: &[Task], order: &[usize]) -> (Vec<u64>, Vec<u64>) {
    let mut head: Vec<u64> = tasks.iter().map(|t| t.release).collect();
    for &i in order {
        for a in &tasks[i].after {
            head[i] = head[i].max(head[*a] + tasks[*a].minutes + tasks[*a].wait);
        }
    }
    let mut tail: Vec<u64> = tasks.iter().map(|t| t.minutes + t.wait).collect();
    for &i in order.iter().rev() {
        for a in &tasks[i].after {
            tail[*a] = tail[*a].max(tasks[*a].minutes + tasks[*a].wait + tail[i]);
        }
    }
    (head, tail)
}

/// The longest path, and for each resource its load between the least head and the least tail of its tasks.
fn lower_bound(tasks: &[Task], people: u64, means: &[u64], head: &[u64], tail: &[u64]) -> u64 {
    let path = (0..tasks.len()).map(|i| head[i] + tail[i]).max().unwrap_or(0);
    let mut bound = path;
    let mut load = |uses: Vec<(usize, u64, u64)>, capacity: u64| {
        // (task, offset of the use from its start, amount·length)
        if capacity == 0 || uses.is_empty() {
            return;
        }
        let first = uses.iter().map(|(i, off, _)| head[*i] + off).min().unwrap_or(0);
        let area: u64 = uses.iter().map(|u| u.2).sum();
        let last = uses
            .iter()
            .map(|(i, off, _)| tail[*i] - off - if *off == 0 { tasks[*i].minutes } else { tasks[*i].wait })
            .min()
            .unwrap_or(0);
        bound = bound.max(first + area.div_ceil(capacity) + last);
    };
    load(
        tasks
            .iter()
            .enumerate()
            .filter(|(_, t)| t.people > 0 && t.minutes > 0)
            .map(|(i, t)| (i, 0, t.people * t.minutes))
            .collect(),
        people,
    );
    for (m, capacity) in means.iter().enumerate() {
        let mut uses = Vec::new();
        for (i, t) in tasks.iter().enumerate() {
            let hands = t.means.iter().filter(|x| **x == m).count() as u64;
            let waits = t.wait_means.iter().filter(|x| **x == m).count() as u64;
            if hands > 0 && t.minutes > 0 {
                uses.push((i, 0, t.minutes * hands));
            }
            if waits > 0 && t.wait > 0 && t.minutes > 0 {
                uses.push((i, t.minutes, t.wait * waits));
            }
        }
        load(uses, *capacity);
    }
    bound
}

/// Does a plan hold? Used by tests and by whoever changes a plan by hand.
#[must_use]
pub fn holds(tasks: &[Task], people: u64, means: &[u64], starts: &[u64]) -> bool {
    let end = |i: usize| starts[i] + tasks[i].minutes + tasks[i].wait;
    let waits =
        tasks.iter().enumerate().all(|(i, t)| starts[i] >= t.release && t.after.iter().all(|a| starts[i] >= end(*a)));
    // Usage only rises where something starts.
    let moments: Vec<u64> = tasks.iter().enumerate().flat_map(|(i, t)| [starts[i], starts[i] + t.minutes]).collect();
    waits
        && moments.iter().all(|&at| {
            let hands = |i: &usize| starts[*i] <= at && at < starts[*i] + tasks[*i].minutes;
            let waiting = |i: &usize| starts[*i] + tasks[*i].minutes <= at && at < end(*i);
            let busy: u64 = (0..tasks.len()).filter(hands).map(|i| tasks[i].people).sum();
            busy <= people
                && (0..means.len()).all(|m| {
                    let a = (0..tasks.len())
                        .filter(hands)
                        .map(|i| tasks[i].means.iter().filter(|x| **x == m).count())
                        .sum::<usize>();
                    let b = (0..tasks.len())
                        .filter(waiting)
                        .map(|i| tasks[i].wait_means.iter().filter(|x| **x == m).count())
                        .sum::<usize>();
                    (a + b) as u64 <= means[m]
                })
        })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn a_plan_holds_and_is_never_better_than_its_bound(raw in prop::collection::vec((0u64..30, 0u64..40, 0u64..3, 0usize..3, 0usize..3, any::<u8>(), 0u64..20), 1..14), people in 2u64..4, seed: u64) {
            let tasks: Vec<Task> = raw.iter().enumerate().map(|(i, (minutes, wait, hands, m, w, a, release))| Task {
                minutes: *minutes, wait: *wait, people: *hands, release: *release,
                means: if *m < 2 { vec![*m] } else { vec![] },
                wait_means: if *w < 2 { vec![*w] } else { vec![] },
                after: (0..i).filter(|j| (*a as usize >> (j % 8)) & 5 == 5).collect(),
            }).collect();
            let means = [1, 2];
            let budget = Budget { seconds: 0.002, end: None };
            let p = search(&tasks, people, &means, &budget, seed).unwrap();
            prop_assert!(holds(&tasks, people, &means, &p.starts));
            prop_assert!(p.lower_bound <= p.makespan);
            prop_assert_eq!(p.makespan, (0..tasks.len()).map(|i| p.starts[i] + tasks[i].minutes + tasks[i].wait).max().unwrap());
            prop_assert_eq!(&p, &search(&tasks, people, &means, &budget, seed).unwrap());
        }
    }
}
