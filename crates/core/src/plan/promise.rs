//! When will it be done? A date as a probability, by simulation over what steps really took (docs/trade.md, Planning).

use super::{Task, solve};
use crate::refusal::{Result, expect};
use crate::stack::Random;

/// How long a kind of step takes: median and spread, learnt from the shop's own.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Estimate {
    /// Half of the steps are done by then.
    pub median_min: f64,
    /// Two thirds of the steps lie between median/spread and median·spread; 1 is certain.
    pub spread: f64,
    /// Steps that were seen.
    pub seen: usize,
}

impl Estimate {
    /// Before anything was seen: the usual minutes, spread 1.35.
    #[must_use]
    pub fn first(minutes: f64) -> Self {
        Self { median_min: minutes, spread: 1.35, seen: 0 }
    }

    /// From the minutes that steps of this kind took; the first estimate is worth three steps. Working times are
    /// skewed, so the sum is over logarithms.
    ///
    /// ```
    /// use ironseat_core::plan::Estimate;
    /// let e = Estimate::first(20.0).learn(&[30.0, 32.0, 28.0, 31.0, 30.0, 29.0, 30.0, 33.0, 30.0])?;
    /// assert!((27.0..30.0).contains(&e.median_min) && e.spread < 1.35);
    /// # Ok::<(), ironseat_core::Refusal>(())
    /// ```
    ///
    /// # Errors
    /// `minutes` with one not above 0.
    pub fn learn(self, minutes: &[f64]) -> Result<Self> {
        const WORTH: f64 = 3.0;
        expect(
            minutes.iter().all(|m| *m > 0.0 && m.is_finite()),
            "minutes",
            "a step that was done took more than 0 minutes",
        )?;
        let n = minutes.len() as f64;
        let mean = (WORTH * self.median_min.ln() + minutes.iter().map(|m| m.ln()).sum::<f64>()) / (WORTH + n);
        let squares = WORTH * (self.spread.ln().powi(2) + (self.median_min.ln() - mean).powi(2))
            + minutes.iter().map(|m| (m.ln() - mean).powi(2)).sum::<f64>();
        Ok(Self {
            median_min: mean.exp(),
            spread: (squares / (WORTH + n)).sqrt().exp(),
            seen: self.seen + minutes.len(),
        })
    }
}

/// What a simulation says of an end.
#[derive(Debug, Clone, PartialEq)]
pub struct Promise {
    /// Ends of the trials, sorted.
    pub ends: Vec<u64>,
}

impl Promise {
    /// Probability of being done by a minute.
    #[must_use]
    pub fn by(&self, minute: u64) -> f64 {
        self.ends.partition_point(|e| *e <= minute) as f64 / self.ends.len().max(1) as f64
    }
    /// The minute by which a share of the trials is done: 0.9 is a date to promise.
    #[must_use]
    pub fn at(&self, share: f64) -> u64 {
        let k = (share.clamp(0.0, 1.0) * self.ends.len() as f64).ceil() as usize;
        self.ends.get(k.saturating_sub(1)).copied().unwrap_or(0)
    }
}

/// Runs a plan `trials` times with minutes drawn about their estimates, keeping the order in which tasks take hands and
/// means; gives the ends of the tasks in `of` (all of them when empty).
///
/// ```
/// use ironseat_core::plan::{Task, promise};
/// let tasks = [Task { minutes: 60, people: 1, ..Task::default() }, Task { minutes: 30, people: 1, after: vec![0], ..Task::default() }];
/// let p = promise(&tasks, 1, &[], &[1.3, 1.3], &[], 500, 1)?;
/// assert!(p.by(60) < 0.1 && p.by(300) == 1.0 && (80..110).contains(&p.at(0.5)));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `spread` of another length than tasks or below 1; `trials` outside 1 to 10 000; what [`solve`] refuses.
pub fn promise(
    tasks: &[Task],
    people: u64,
    means: &[u64],
    spread: &[f64],
    of: &[usize],
    trials: usize,
    seed: u64,
) -> Result<Promise> {
    expect(
        spread.len() == tasks.len() && spread.iter().all(|s| *s >= 1.0 && s.is_finite()),
        "spread",
        "expected a spread of 1 or more for each task",
    )?;
    expect((1..=10_000).contains(&trials), "trials", "expected 1 to 10 000 trials")?;
    let plan = solve(tasks, people, means, 0.1, seed)?;
    let mut order: Vec<usize> = (0..tasks.len()).collect();
    order.sort_by_key(|i| plan.starts[*i]);
    super::repair(&mut order, tasks);
    let mut r = Random::new(seed ^ 0x5eed);
    let mut drawn = tasks.to_vec();
    let mut starts = vec![0; tasks.len()];
    let mut ends = Vec::with_capacity(trials);
    for _ in 0..trials {
        for (d, (t, s)) in drawn.iter_mut().zip(tasks.iter().zip(spread)) {
            // A normal deviate from twelve uniform ones is close enough for working times.
            let z = (0..12).map(|_| r.unit()).sum::<f64>() - 6.0;
            d.minutes = (t.minutes as f64 * (s.ln() * z).exp()).round() as u64;
        }
        let mut shop = super::Generation { tasks: &drawn, people, means, work: 0 };
        shop.place(&order, &mut starts);
        let end = |i: &usize| starts[*i] + drawn[*i].minutes + drawn[*i].wait;
        let all: Vec<usize> = (0..tasks.len()).collect();
        ends.push(
            if of.is_empty() { &all[..] } else { of }.iter().filter(|i| **i < tasks.len()).map(end).max().unwrap_or(0),
        );
    }
    ends.sort_unstable();
    Ok(Promise { ends })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(32))]
        #[test]
        fn a_certain_shop_ends_as_planned_and_a_later_date_is_never_less_likely(minutes in prop::collection::vec(1u64..60, 1..8), spread in 1.0f64..1.8) {
            let tasks: Vec<Task> = minutes.iter().enumerate().map(|(i, m)| Task { minutes: *m, people: 1, after: if i % 3 == 2 { vec![i - 1] } else { vec![] }, ..Task::default() }).collect();
            let sure = promise(&tasks, 2, &[], &vec![1.0; tasks.len()], &[], 5, 1).unwrap();
            prop_assert!(sure.ends.iter().all(|e| *e == sure.ends[0]));
            let p = promise(&tasks, 2, &[], &vec![spread; tasks.len()], &[], 100, 7).unwrap();
            prop_assert!((0..200).all(|m| p.by(m) <= p.by(m + 1)));
            prop_assert!(p.by(p.at(0.9)) >= 0.9);
        }
    }

    #[test]
    fn a_wide_spread_promises_later() {
        let tasks = [Task { minutes: 100, people: 1, ..Task::default() }];
        let at = |s: f64| promise(&tasks, 1, &[], &[s], &[0], 2000, 3).unwrap().at(0.9);
        assert!(at(1.6) > at(1.2) && at(1.2) > at(1.0));
        assert_eq!(promise(&tasks, 1, &[], &[0.5], &[], 10, 1).unwrap_err().field, "spread");
    }
}
