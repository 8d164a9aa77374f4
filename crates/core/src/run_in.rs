//! Run-in: steps of speed, each held until the temperature settles (docs/trade.md, Preload and running).

use crate::instrument::SLACK;
use crate::quantity::{Celsius, Kelvins};
use crate::refusal::{Refusal, Result, expect};

/// What to do with the present step.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum RunIn {
    Stop,
    /// It will be too hot in the end, or it still rises.
    Hold,
    /// A sensor that does not feel the bearing, or a machine that slows.
    LookAgain,
    Next,
}

/// A step of a run-in, judged.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Step {
    pub limit: Celsius,
    /// Rise over the last ten minutes; none when the log is shorter.
    pub rise: Option<Kelvins>,
    /// 10 K or more within two minutes.
    pub jump: bool,
    /// Fitted end temperature.
    pub end: Option<Celsius>,
    pub will_exceed: bool,
    pub call: RunIn,
}

/// Furthest time of a log, s: thirty years.
const LONGEST_S: f64 = 1e9;

/// How many of these times at which a speed was raised lie behind the last reading of a log; the readings since the
/// last of them are those of the present speed.
///
/// ```
/// use ironseat_core::run_in::present;
/// let log = [(0.0, 20.0), (600.0, 30.0), (1500.0, 34.0)];
/// assert_eq!(present(&log, &[600.0, 1800.0]), (1, 1));
/// ```
#[must_use]
pub fn present(log: &[(f64, f64)], began: &[f64]) -> (usize, usize) {
    let now = log.last().map_or(f64::NEG_INFINITY, |p| p.0);
    let behind = began.iter().filter(|b| **b <= now + SLACK);
    let since = behind.clone().copied().fold(f64::NEG_INFINITY, f64::max);
    (behind.count(), log.partition_point(|p| p.0 < since - SLACK))
}

/// Judges a log of (seconds, °C) that lies at one speed from a reading on. Limit default: the lower of 60 °C and 35 K
/// over the room. Source: docs/trade.md, Preload and running.
///
/// # Errors
/// `log` when empty or when time does not rise.
pub fn step(whole: &[(f64, f64)], since: usize, room: Celsius, limit: Option<Celsius>) -> Result<Step> {
    let log = &whole[since.min(whole.len())..];
    let Some(&(now, last)) = log.last() else {
        return Err(Refusal::new("log", "at least one reading is expected"));
    };
    expect(whole.windows(2).all(|w| w[1].0 > w[0].0), "log", "expected time to rise from reading to reading")?;
    expect(whole.iter().all(|p| p.0.abs() <= LONGEST_S), "log", "expected times up to 1e9 s")?;
    let limit = limit.unwrap_or(Celsius((room.0 + 35.0).min(60.0)));
    let before = now - 600.0;
    let rise = (log[0].0 <= before + SLACK).then(|| {
        let i = log.partition_point(|p| p.0 <= before).clamp(1, log.len() - 1);
        let ((t0, c0), (t1, c1)) = (log[i - 1], log[i]);
        Kelvins(last - (c0 + (c1 - c0) * (before - t0) / (t1 - t0)))
    });
    // Lowest reading within the two minutes before each.
    let mut window: std::collections::VecDeque<(f64, f64)> = Default::default();
    let mut jump = false;
    // A jump as the speed was raised is one, too; what jumped before is over.
    for (k, &(t, c)) in whole.iter().enumerate() {
        while window.front().is_some_and(|p| p.0 < t - 120.0 - SLACK) {
            window.pop_front();
        }
        jump |= k >= since && window.front().is_some_and(|p| c - p.1 >= 10.0 - SLACK);
        while window.back().is_some_and(|p| p.1 >= c) {
            window.pop_back();
        }
        window.push_back((t, c));
    }
    let end = end_temperature(log);
    let will_exceed = end.is_some_and(|e| e.0 > limit.0 + SLACK);
    let call = if last >= limit.0 - SLACK || jump {
        RunIn::Stop
    } else if will_exceed {
        RunIn::Hold
    } else if rise.is_some_and(|r| last - room.0 < 1.0 - SLACK || r.0 < -1.0 - SLACK) {
        RunIn::LookAgain
    } else if rise.is_some_and(|r| r.0 < 1.0 - SLACK) {
        RunIn::Next
    } else {
        RunIn::Hold
    };
    Ok(Step { limit, rise, jump, end, will_exceed, call })
}

/// Steps of speed of a run-in if the maker gives none, percent.
const STEPS_PCT: [f64; 6] = [15.0, 30.0, 45.0, 60.0, 80.0, 100.0];

/// One step of a run-in to come.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Planned {
    pub pct: f64,
    pub rpm: f64,
    /// Least time, before a rise of 1 K in ten minutes can be seen.
    pub least_min: u64,
}

/// Speeds of a run-in and how long each is held at least: twenty minutes, and half an hour from the step at which half
/// the speed is reached. Each step ends when the rise is below 1 K in 10 min. Source: docs/trade.md, Preload and
/// running; the least times are ours.
///
/// ```
/// let plan = ironseat_core::run_in::plan(8000.0, None)?;
/// assert_eq!((plan[0].rpm, plan[5].rpm), (1200.0, 8000.0));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `full_rpm` not above 0; `steps_pct` that do not rise to 100, or more than 20 of them.
pub fn plan(full_rpm: f64, steps_pct: Option<&[f64]>) -> Result<Vec<Planned>> {
    let steps_pct = steps_pct.unwrap_or(&STEPS_PCT);
    expect(full_rpm > 0.0 && full_rpm.is_finite(), "full_rpm", "expected a speed above 0")?;
    let rise = steps_pct.windows(2).all(|w| w[1] > w[0]) && steps_pct.first().is_some_and(|p| *p > 0.0);
    let whole = steps_pct.last().is_some_and(|p| (p - 100.0).abs() < SLACK) && steps_pct.len() <= 20;
    expect(rise && whole, "steps_pct", "expected up to 20 shares of the full speed that rise to 100 %")?;
    let one =
        |pct: &f64| Planned { pct: *pct, rpm: full_rpm * pct / 100.0, least_min: if *pct < 50.0 { 20 } else { 30 } };
    Ok(steps_pct.iter().map(one).collect())
}

/// The step to go to after one that ended so, counted from 0: the next one once it has settled, one lower once it has
/// cooled after a stop; none while it holds, and none after the last.
#[must_use]
pub fn goes_to(at: usize, call: RunIn, steps: usize) -> Option<usize> {
    match call {
        RunIn::Next => Some(at + 1).filter(|n| *n < steps),
        RunIn::Stop => Some(at.saturating_sub(1)),
        RunIn::Hold | RunIn::LookAgain => None,
    }
}

/// Least squares of T = end + b·exp(-t/tau), from four readings; none when the best time constant lies outside span/50
/// to 20·span.
fn end_temperature(log: &[(f64, f64)]) -> Option<Celsius> {
    if log.len() < 4 {
        return None;
    }
    let (t0, span) = (log[0].0, log[log.len() - 1].0 - log[0].0);
    let n = log.len() as f64;
    let fit = |ln_tau: f64| {
        let tau = ln_tau.exp();
        let e = |t: f64| (-(t - t0) / tau).exp();
        let (me, mc) = (log.iter().map(|p| e(p.0)).sum::<f64>() / n, log.iter().map(|p| p.1).sum::<f64>() / n);
        let (mut see, mut sec, mut scc) = (0.0, 0.0, 0.0);
        for (t, c) in log {
            let (a, b) = (e(*t) - me, c - mc);
            see += a * a;
            sec += a * b;
            scc += b * b;
        }
        let b = if see > 0.0 { sec / see } else { 0.0 };
        (mc - b * me, (scc - b * sec).max(0.0))
    };
    let (from, to) = ((span / 50.0).ln(), (span * 20.0).ln());
    let grid: Vec<f64> = (0..=120).map(|k| from + (to - from) * f64::from(k) / 120.0).collect();
    let best = (0..grid.len()).min_by(|a, b| fit(grid[*a]).1.total_cmp(&fit(grid[*b]).1))?;
    if best == 0 || best == grid.len() - 1 {
        return None;
    }
    let ln_tau = crate::numeric::golden_section(grid[best - 1], grid[best + 1], 70, |x| fit(x).1);
    Some(Celsius(fit(ln_tau).0))
}
