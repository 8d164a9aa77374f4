//! The plan of a shop: calendars of people and means, due dates and weights, re-planning with small change
//! (docs/trade.md, Planning).

use super::{Task, Timeline};
use crate::order::Precedence;
use crate::refusal::{Refusal, Result, expect};

/// Minutes in which somebody or something is there, from a start to an end, rising and apart. Empty: always.
pub type Calendar = Vec<(u64, u64)>;

/// A rebuild's date.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Due {
    /// Minute by which it shall be done.
    pub by: u64,
    /// What a late minute weighs.
    pub weight: f64,
}

/// One task of the shop's plan: hands of one or two named people.
#[derive(Debug, Clone, Default)]
pub struct ShopTask {
    /// Minutes, wait, means, precedence and release.
    pub task: Task,
    /// Which rebuild it belongs to.
    pub rebuild: usize,
    /// Where a person has pinned it, or it already runs.
    pub pinned: Option<u64>,
}

/// The shop.
#[derive(Debug, Clone, Default)]
pub struct Shop {
    /// Calendar of each person.
    pub people: Vec<Calendar>,
    /// Calendar of each means; one of each.
    pub means: Vec<Calendar>,
    /// Date of each rebuild.
    pub due: Vec<Option<Due>>,
}

/// A plan with names on it.
#[derive(Debug, Clone, PartialEq)]
pub struct ShopPlan {
    /// Start of each task.
    pub starts: Vec<u64>,
    /// Who does it.
    pub who: Vec<Vec<usize>>,
    /// End of each rebuild.
    pub ends: Vec<u64>,
    /// Weighted late minutes.
    pub late: f64,
    /// Last end.
    pub makespan: u64,
}

/// Busy stretches of one person or means, and when it is there.
struct Lane<'a> {
    calendar: &'a Calendar,
    busy: Timeline,
}

impl Lane<'_> {
    /// Earliest minute from `t` at which it is there and free for `length`; none when the calendar ends before.
    fn free_from(&self, t: u64, length: u64, work: &mut u64) -> Option<u64> {
        let mut at = t;
        loop {
            let free = self.busy.next_fit(at, length, 1, 1, work);
            let there = if self.calendar.is_empty() {
                free
            } else {
                let (from, _) = self.calendar.iter().find(|(from, to)| free.max(*from) + length <= *to)?;
                free.max(*from)
            };
            if there == free {
                return Some(free);
            }
            at = there;
        }
    }
}

/// Plans by serial generation with the most urgent first: least time in hand before the date, by weight, then the
/// longest way still to go; then improves by moving rebuilds up and down. Hands are not interrupted: a step fits into
/// one stretch of the calendar. Pinned tasks stay where they are.
///
/// # Errors
/// `tasks`: a loop, an unknown person count, means or rebuild, a step longer than any stretch of a calendar, pins that
/// overlap.
pub fn plan(tasks: &[ShopTask], shop: &Shop, rounds: usize) -> Result<ShopPlan> {
    let n = tasks.len();
    expect(n <= 5000, "tasks", "at most 5000 tasks are taken")?;
    for t in tasks {
        expect(t.task.people as usize <= shop.people.len(), "tasks", "a task needs more people than there are")?;
        expect(
            t.task.means.iter().chain(&t.task.wait_means).all(|m| *m < shop.means.len()),
            "tasks",
            "a task needs means there are none of",
        )?;
        expect(t.rebuild < shop.due.len(), "tasks", "a task belongs to no rebuild")?;
        expect(t.task.after.iter().all(|a| *a < n), "tasks", "a task waits for one that is not there")?;
    }
    let mut precedence = Precedence::new(n);
    for (i, t) in tasks.iter().enumerate() {
        for a in &t.task.after {
            precedence.add(*a, i);
        }
    }
    let order = precedence.order().ok_or_else(|| Refusal::new("tasks", "the tasks wait for each other in a loop"))?;
    let mut tail: Vec<u64> = tasks.iter().map(|t| t.task.minutes + t.task.wait).collect();
    for &i in order.iter().rev() {
        for a in &tasks[i].task.after {
            tail[*a] = tail[*a].max(tasks[*a].task.minutes + tasks[*a].task.wait + tail[i]);
        }
    }
    // Rank of rebuilds: time in hand divided by weight.
    let mut rank: Vec<f64> = (0..shop.due.len())
        .map(|r| {
            let way = (0..n).filter(|i| tasks[*i].rebuild == r).map(|i| tail[i]).max().unwrap_or(0);
            shop.due[r].map_or(f64::INFINITY, |d| (d.by as f64 - way as f64) / d.weight.max(1e-6))
        })
        .collect();
    let mut best = generate(tasks, shop, &order, &tail, &rank)?;
    for k in 0..rounds {
        if best.late == 0.0 {
            break;
        }
        // Put the latest rebuild, by weight, just before another.
        let cost = |r: usize| shop.due[r].map_or(0.0, |d| best.ends[r].saturating_sub(d.by) as f64 * d.weight);
        let mut worst: Vec<usize> = (0..rank.len()).filter(|r| cost(*r) > 0.0).collect();
        worst.sort_by(|a, b| cost(*b).total_cmp(&cost(*a)));
        let r = worst[k % worst.len()];
        let above = rank
            .iter()
            .enumerate()
            .filter(|(o, v)| *o != r && **v <= rank[r])
            .map(|(_, v)| *v)
            .fold(f64::INFINITY, f64::min);
        let mut trial = rank.clone();
        trial[r] = if above.is_finite() { above - 1.0 } else { trial[r] - 1.0 };
        let made = generate(tasks, shop, &order, &tail, &trial)?;
        if (made.late, made.makespan) < (best.late, best.makespan) {
            best = made;
            rank = trial;
        }
    }
    Ok(best)
}

fn generate(tasks: &[ShopTask], shop: &Shop, order: &[usize], tail: &[u64], rank: &[f64]) -> Result<ShopPlan> {
    let n = tasks.len();
    let lane = |calendar| Lane { calendar, busy: Timeline::default() };
    let mut people: Vec<Lane> = shop.people.iter().map(lane).collect();
    let mut means: Vec<Lane> = shop.means.iter().map(lane).collect();
    let mut starts = vec![0; n];
    let mut who = vec![Vec::new(); n];
    let mut work = 0;
    let mut place = vec![0; n];
    for (k, i) in order.iter().enumerate() {
        place[*i] = k;
    }
    let mut list: Vec<usize> = order.to_vec();
    list.sort_by(|a, b| {
        // What is pinned comes first, and what comes before it is looked after by repair.
        let key = |i: usize| (tasks[i].pinned.is_none(), rank[tasks[i].rebuild]);
        let (x, y) = (key(*a), key(*b));
        x.0.cmp(&y.0).then(x.1.total_cmp(&y.1)).then(tail[*b].cmp(&tail[*a])).then(place[*a].cmp(&place[*b]))
    });
    let plain: Vec<Task> = tasks.iter().map(|t| t.task.clone()).collect();
    super::repair(&mut list, &plain);
    // Pinned ones take their people and means before anything else is laid around them.
    let (mut pinned, free): (Vec<usize>, Vec<usize>) = list.into_iter().partition(|i| tasks[*i].pinned.is_some());
    // In time order as few people as can be suffice for stretches that are given.
    pinned.sort_by_key(|i| tasks[*i].pinned);
    for i in pinned.into_iter().chain(free) {
        let t = &tasks[i].task;
        let ready =
            t.after.iter().map(|a| starts[*a] + plain[*a].minutes + plain[*a].wait).max().unwrap_or(0).max(t.release);
        let mut at = tasks[i].pinned.unwrap_or(ready);
        let never =
            || Refusal::new("tasks", "a step is longer than any stretch in which its people and means are there");
        let chosen = loop {
            let mut next = at;
            for m in &t.means {
                next = next.max(means[*m].free_from(at, t.minutes, &mut work).ok_or_else(never)?);
            }
            for m in &t.wait_means {
                // A means held by a passive wait may stand over night: its calendar does not count.
                next = next.max(means[*m].busy.next_fit(at + t.minutes, t.wait, 1, 1, &mut work) - t.minutes);
            }
            let mut when: Vec<(u64, usize)> = people
                .iter()
                .enumerate()
                .filter_map(|(p, l)| Some((l.free_from(next, t.minutes, &mut work)?, p)))
                .collect();
            when.sort_unstable();
            if when.len() < t.people as usize {
                return Err(never());
            }
            let team = &when[..t.people as usize];
            let together = team.last().map_or(next, |w| w.0);
            if together == at || tasks[i].pinned.is_some() {
                if tasks[i].pinned.is_some() && together > at {
                    return Err(Refusal::new(
                        "tasks",
                        "two pinned steps need the same hands or means at one time: move one",
                    ));
                }
                break team.iter().map(|w| w.1).collect::<Vec<_>>();
            }
            at = together;
        };
        for p in &chosen {
            people[*p].busy.add(at, at + t.minutes, 1);
        }
        for m in &t.means {
            means[*m].busy.add(at, at + t.minutes, 1);
        }
        for m in &t.wait_means {
            means[*m].busy.add(at + t.minutes, at + t.minutes + t.wait, 1);
        }
        starts[i] = at;
        who[i] = chosen;
    }
    let end = |i: usize| starts[i] + plain[i].minutes + plain[i].wait;
    let mut ends = vec![0; shop.due.len()];
    for i in 0..n {
        ends[tasks[i].rebuild] = ends[tasks[i].rebuild].max(end(i));
    }
    let late =
        shop.due.iter().zip(&ends).map(|(d, e)| d.map_or(0.0, |d| e.saturating_sub(d.by) as f64 * d.weight)).sum();
    Ok(ShopPlan { makespan: ends.iter().copied().max().unwrap_or(0), starts, who, ends, late })
}

/// Plans again after a change: what runs stays, and what could keep its place keeps it. Tasks that cannot are let go
/// one rebuild after another, latest first, until the plan holds and is not later by weight than planned from nothing
/// by more than `worth` minutes; that price buys peace in the shop.
///
/// # Errors
/// As [`plan`].
pub fn replan(tasks: &[ShopTask], shop: &Shop, before: &[Option<u64>], now: u64, worth: f64) -> Result<ShopPlan> {
    expect(before.len() == tasks.len(), "before", "expected the former start of each task, or none")?;
    let running = |i: usize| before[i].filter(|s| *s < now);
    let with = |kept: &dyn Fn(usize) -> bool| -> Vec<ShopTask> {
        tasks
            .iter()
            .enumerate()
            .map(|(i, t)| {
                let pinned = t.pinned.or(running(i)).or(before[i].filter(|_| kept(i)));
                let mut task = t.task.clone();
                if running(i).is_none() {
                    task.release = task.release.max(now);
                }
                ShopTask { task, rebuild: t.rebuild, pinned }
            })
            .collect()
    };
    let fresh = plan(&with(&|_| false), shop, 30)?;
    let mut latest: Vec<usize> = (0..shop.due.len()).collect();
    let last = |r: usize| {
        (0..tasks.len()).filter(|i| tasks[*i].rebuild == r).filter_map(|i| before[i]).max().unwrap_or(u64::MAX)
    };
    latest.sort_by_key(|r| std::cmp::Reverse(last(*r)));
    for let_go in 0..=latest.len() {
        let kept = |i: usize| !latest[..let_go].contains(&tasks[i].rebuild);
        let trial = with(&kept);
        if let Ok(p) = plan(&trial, shop, 0)
            && holds(&trial, &p)
            && p.late <= fresh.late + worth
        {
            return Ok(p);
        }
    }
    Ok(fresh)
}

/// Whether starts respect what comes before: a pin may have broken it.
fn holds(tasks: &[ShopTask], p: &ShopPlan) -> bool {
    tasks.iter().enumerate().all(|(i, t)| {
        t.task.after.iter().all(|a| p.starts[i] >= p.starts[*a] + tasks[*a].task.minutes + tasks[*a].task.wait)
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn step(rebuild: usize, minutes: u64, after: &[usize], means: &[usize]) -> ShopTask {
        ShopTask {
            task: Task { minutes, people: 1, after: after.to_vec(), means: means.to_vec(), ..Task::default() },
            rebuild,
            pinned: None,
        }
    }

    fn overlaps(tasks: &[ShopTask], p: &ShopPlan) -> bool {
        let span = |i: usize| (p.starts[i], p.starts[i] + tasks[i].task.minutes);
        (0..tasks.len()).any(|i| {
            (0..i).any(|j| {
                let ((a, b), (c, d)) = (span(i), span(j));
                let shared = p.who[i].iter().any(|w| p.who[j].contains(w))
                    || tasks[i].task.means.iter().any(|m| tasks[j].task.means.contains(m));
                shared && a < d && c < b
            })
        })
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(200))]
        #[test]
        fn nobody_is_in_two_places_and_nobody_works_at_night(raw in prop::collection::vec((0usize..3, 5u64..120, any::<bool>(), 0usize..3), 1..16)) {
            let mut last = [None; 3];
            let tasks: Vec<ShopTask> = raw.iter().enumerate().map(|(i, (r, m, chain, means))| {
                let after: Vec<usize> = last[*r].filter(|_| *chain).into_iter().collect();
                last[*r] = Some(i);
                step(*r, *m, &after, if *means < 2 { std::slice::from_ref(means) } else { &[] })
            }).collect();
            let day: Calendar = (0..20).map(|d| (d * 1440 + 420, d * 1440 + 900)).collect();
            let shop = Shop { people: vec![day.clone(), day.clone()], means: vec![Vec::new(), day.clone()], due: vec![Some(Due { by: 800, weight: 1.0 }), Some(Due { by: 600, weight: 3.0 }), None] };
            let p = plan(&tasks, &shop, 10).unwrap();
            prop_assert!(!overlaps(&tasks, &p) && holds(&tasks, &p));
            for (i, t) in tasks.iter().enumerate() {
                let (a, b) = (p.starts[i], p.starts[i] + t.task.minutes);
                prop_assert!(day.iter().any(|(from, to)| a >= *from && b <= *to));
                prop_assert_eq!(p.who[i].len(), 1);
            }
            // A step that takes longer moves only what it must, and what runs stays.
            let before: Vec<Option<u64>> = p.starts.iter().map(|s| Some(*s)).collect();
            let now = 500;
            let again = replan(&tasks, &shop, &before, now, 0.0).unwrap();
            prop_assert!(!overlaps(&tasks, &again));
            for (i, s) in p.starts.iter().enumerate().filter(|(_, s)| **s < now) {
                prop_assert_eq!(again.starts[i], *s);
            }
        }
    }

    #[test]
    fn an_urgent_rebuild_goes_first_and_a_pin_stays() {
        let always = Shop {
            people: vec![Vec::new()],
            means: Vec::new(),
            due: vec![Some(Due { by: 500, weight: 1.0 }), Some(Due { by: 60, weight: 1.0 })],
        };
        let tasks = [step(0, 100, &[], &[]), step(1, 50, &[], &[])];
        let p = plan(&tasks, &always, 0).unwrap();
        assert_eq!((p.starts[1], p.late), (0, 0.0));
        let mut pinned = tasks.clone();
        pinned[0].pinned = Some(20);
        let p = plan(&pinned, &always, 5).unwrap();
        assert_eq!(p.starts[0], 20);
        assert_eq!(p.starts[1], 120);
        pinned[1].pinned = Some(30);
        assert!(plan(&pinned, &always, 0).unwrap_err().message.contains("move one"));
    }

    #[test]
    fn a_plan_that_still_holds_is_left_alone() {
        let shop = Shop { people: vec![Vec::new(), Vec::new()], means: Vec::new(), due: vec![None, None] };
        let tasks = [step(0, 60, &[], &[]), step(0, 60, &[0], &[]), step(1, 60, &[], &[])];
        let before = [Some(0), Some(200), Some(100)];
        let p = replan(&tasks, &shop, &before, 10, 0.0).unwrap();
        assert_eq!(p.starts, [0, 200, 100], "it could be earlier, but nobody asked");
    }

    #[test]
    fn what_cannot_be_planned_is_told() {
        let short: Calendar = vec![(0, 30), (60, 90)];
        let shop = Shop { people: vec![short], means: Vec::new(), due: vec![None] };
        assert!(plan(&[step(0, 45, &[], &[])], &shop, 0).unwrap_err().message.contains("longer than any stretch"));
        let mut two = step(0, 10, &[], &[]);
        two.task.people = 2;
        assert!(plan(&[two], &shop, 0).unwrap_err().message.contains("more people"));
        assert!(plan(&[step(0, 5, &[1], &[]), step(0, 5, &[0], &[])], &shop, 0).unwrap_err().message.contains("loop"));
    }
}
