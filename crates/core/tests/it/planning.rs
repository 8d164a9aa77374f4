//! The planner against oracles of its own: Johnson's rule, every order tried, and a shop whose best end is known.

use ironseat_core::plan::{Estimate, Plan, Task, solve};
use proptest::prelude::*;

/// Jobs as rows of (means, minutes), one task after the other.
fn shop(rows: &[Vec<(usize, u64)>]) -> Vec<Task> {
    let mut tasks: Vec<Task> = Vec::new();
    for row in rows {
        for (i, (m, minutes)) in row.iter().enumerate() {
            let after = if i == 0 { vec![] } else { vec![tasks.len() - 1] };
            tasks.push(Task { minutes: *minutes, people: 1, means: vec![*m], after, ..Task::default() });
        }
    }
    tasks
}

/// Nothing overlaps on its means, nothing starts before what it waits for.
fn keeps(tasks: &[Task], p: &Plan) {
    let end = |i: usize| p.starts[i] + tasks[i].minutes;
    for (i, t) in tasks.iter().enumerate() {
        assert!(
            p.starts[i] >= t.release && t.after.iter().all(|a| end(*a) + tasks[*a].wait <= p.starts[i]),
            "task {i}"
        );
        for (j, other) in tasks.iter().enumerate().take(i) {
            assert!(other.means != t.means || end(i) <= p.starts[j] || end(j) <= p.starts[i], "{i} and {j} at once");
        }
    }
    assert_eq!(p.makespan, (0..tasks.len()).map(|i| end(i) + tasks[i].wait).max().unwrap_or(0));
    assert!(p.lower_bound <= p.makespan);
}

/// Every order of 0..n.
fn orders(n: usize) -> Vec<Vec<usize>> {
    if n == 0 {
        return vec![vec![]];
    }
    let mut out = Vec::new();
    for o in orders(n - 1) {
        for at in 0..n {
            let mut o = o.clone();
            o.insert(at, n - 1);
            out.push(o);
        }
    }
    out
}

/// Earliest end when the tasks of each means are done in the given order; none when they wait in a ring.
fn end_of(tasks: &[Task], sequences: &[Vec<usize>]) -> Option<u64> {
    let mut end: Vec<Option<u64>> = vec![None; tasks.len()];
    let before = |i: usize| {
        sequences.iter().find_map(|s| s.iter().position(|x| *x == i).map(|k| (k > 0).then(|| s[k - 1]))).flatten()
    };
    let mut left = tasks.len();
    while left > 0 {
        let mut moved = false;
        for (i, t) in tasks.iter().enumerate().filter(|(i, _)| end[*i].is_none()).collect::<Vec<_>>() {
            let on_means = before(i).map(|b| end[b]);
            let waits: Option<Vec<u64>> = t.after.iter().map(|a| end[*a].map(|e| e + tasks[*a].wait)).collect();
            let (Some(waits), true) = (waits, on_means != Some(None)) else { continue };
            let start = waits.into_iter().chain(on_means.flatten()).chain([t.release]).max().unwrap_or(0);
            end[i] = Some(start + t.minutes);
            (moved, left) = (true, left - 1);
        }
        if !moved {
            return None;
        }
    }
    (0..tasks.len()).map(|i| end[i].map(|e| e + tasks[i].wait)).max().flatten()
}

/// The 6x6 shop of the literature of 1963: its best end is 55.
#[test]
fn a_small_shop_of_the_literature_is_planned_to_its_best_end() {
    const ROWS: [[(usize, u64); 6]; 6] = [
        [(2, 1), (0, 3), (1, 6), (3, 7), (5, 3), (4, 6)],
        [(1, 8), (2, 5), (4, 10), (5, 10), (0, 10), (3, 4)],
        [(2, 5), (3, 4), (5, 8), (0, 9), (1, 1), (4, 7)],
        [(1, 5), (0, 5), (2, 5), (3, 3), (4, 8), (5, 9)],
        [(2, 9), (1, 3), (4, 5), (5, 4), (0, 3), (3, 1)],
        [(1, 3), (3, 3), (5, 9), (0, 10), (4, 4), (2, 1)],
    ];
    let tasks = shop(&ROWS.map(|r| r.to_vec()));
    for seed in 1..5 {
        let p = searched(&tasks, 6, &[1; 6], 0.05, seed, |p| p.makespan == 55);
        keeps(&tasks, &p);
        assert_eq!(p.makespan, 55, "seed {seed}");
    }
}

/// A search of this many seconds; on a machine that does something else just then it is given more time.
fn searched(tasks: &[Task], people: u64, means: &[u64], seconds: f64, seed: u64, good: impl Fn(&Plan) -> bool) -> Plan {
    let p = solve(tasks, people, means, seconds, seed).unwrap();
    if good(&p) { p } else { solve(tasks, people, means, 3.0, seed).unwrap() }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// Two means in line: Johnson's rule (1954) is exact. First those that are quicker on the first, rising; then the
    /// others, falling on the second. A short search is never below that, and within a twentieth of it.
    #[test]
    fn two_means_in_line_end_as_johnson_says(times in prop::collection::vec((1u64..40, 1u64..40), 1..9), seed: u64) {
        let rows: Vec<_> = times.iter().map(|(a, b)| vec![(0, *a), (1, *b)]).collect();
        let tasks = shop(&rows);
        let (mut quick, mut slow): (Vec<_>, Vec<_>) = times.iter().partition(|(a, b)| a < b);
        quick.sort_by_key(|(a, _)| *a);
        slow.sort_by_key(|(_, b)| std::cmp::Reverse(*b));
        let (mut first, mut second) = (0, 0);
        for (a, b) in quick.into_iter().chain(slow) {
            first += a;
            second = first.max(second) + b;
        }
        let near = |p: &Plan| p.makespan as f64 <= 1.05 * second as f64;
        let p = searched(&tasks, 2, &[1, 1], 0.02, seed, near);
        keeps(&tasks, &p);
        prop_assert!(p.makespan >= second && near(&p), "{} for {second}", p.makespan);
    }

    /// Three jobs over two means, with waits and releases: the best of every order on both.
    #[test]
    fn a_tiny_shop_ends_as_the_best_of_all_orders(
        jobs in prop::collection::vec((1u64..20, 1u64..20, any::<bool>(), 0u64..15, 0u64..12), 3..4), seed: u64,
    ) {
        let mut tasks = Vec::new();
        for (a, b, turned, release, wait) in jobs {
            let (x, y) = if turned { (1, 0) } else { (0, 1) };
            tasks.push(Task { minutes: a, people: 1, means: vec![x], release, wait, ..Task::default() });
            tasks.push(Task { minutes: b, people: 1, means: vec![y], after: vec![tasks.len() - 1], wait: wait / 2, ..Task::default() });
        }
        let on = |m: usize| (0..tasks.len()).filter(|i| tasks[*i].means[0] == m).collect::<Vec<_>>();
        let all = |m: usize| orders(on(m).len()).into_iter().map(|o| o.into_iter().map(|k| on(m)[k]).collect::<Vec<_>>()).collect::<Vec<_>>();
        let best = all(0).iter().flat_map(|s| all(1).into_iter().map(move |z| [s.clone(), z])).filter_map(|s| end_of(&tasks, &s)).min().unwrap();
        let p = searched(&tasks, 2, &[1, 1], 0.05, seed, |p| p.makespan == best);
        keeps(&tasks, &p);
        prop_assert_eq!(p.makespan, best);
    }

    /// One pair of hands for everything: with no waits it is busy to the end, in whatever order.
    #[test]
    fn one_pair_of_hands_is_never_idle_without_a_wait(minutes in prop::collection::vec(1u64..60, 1..10), seed: u64) {
        let tasks: Vec<Task> = minutes.iter().map(|m| Task { minutes: *m, people: 1, ..Task::default() }).collect();
        prop_assert_eq!(solve(&tasks, 1, &[], 0.002, seed).unwrap().makespan, minutes.iter().sum::<u64>());
    }

    /// More work on the same shop with the same seed never gives a later end, and every plan can be worked: also where
    /// a rebuild comes to the same means twice, one time right after the other.
    #[test]
    fn more_time_is_never_worse(rows in prop::collection::vec(prop::collection::vec((0usize..4, 1u64..30), 2..5), 2..6), seed: u64) {
        let tasks = shop(&rows);
        let end = |seconds| {
            let p = solve(&tasks, 4, &[1; 4], seconds, seed).unwrap();
            keeps(&tasks, &p);
            p.makespan
        };
        let (short, long) = (end(0.0005), end(0.02));
        prop_assert!(long <= short, "{long} after {short}");
    }

    /// What was measured draws an estimate to itself, from its side, the more the more there is.
    #[test]
    fn an_estimate_learns_from_what_was_measured(first in 5.0f64..60.0, real in 5.0f64..60.0, n in 1usize..40) {
        let some = Estimate::first(first).learn(&vec![real; n]).unwrap();
        let more = Estimate::first(first).learn(&vec![real; 4 * n]).unwrap();
        let off = |e: Estimate| (e.median_min.ln() - real.ln()).abs();
        prop_assert!(off(more) <= off(some) && off(some) <= (first.ln() - real.ln()).abs() + 1e-12);
        prop_assert!((some.median_min - first) * (real - first) >= -1e-9, "towards it");
        prop_assert_eq!((some.seen, more.seen), (n, 4 * n));
    }
}

#[test]
fn what_cannot_be_planned_is_told() {
    let t = |people, means: Vec<usize>, after: Vec<usize>| Task { minutes: 5, people, means, after, ..Task::default() };
    for (tasks, people, words) in [
        (vec![t(3, vec![], vec![])], 2, "more people than there are"),
        (vec![t(1, vec![1], vec![])], 2, "means there are none of"),
        (vec![t(1, vec![], vec![1]), t(1, vec![], vec![0])], 2, "wait for each other in a loop"),
        (vec![t(1, vec![], vec![]); 5001], 2, "at most 5000"),
    ] {
        let e = solve(&tasks, people, &[1, 0], 0.01, 1).unwrap_err();
        assert!(e.field == "tasks" && e.message.contains(words), "{}", e.message);
    }
    assert_eq!(solve(&[], 1, &[], 0.01, 1).unwrap().makespan, 0);
    for bad in [&[0.0][..], &[f64::NAN], &[-3.0, 4.0]] {
        assert!(Estimate::first(10.0).learn(bad).unwrap_err().message.contains("more than 0 minutes"));
    }
}
