//! Bolts and nuts: torque, order, lock positions, marks, hand of thread (docs/trade.md, Preload and running and
//! Fastening and sealing).

mod pattern;
mod strength;

pub use pattern::{Pattern, Ring, drawn_order, rectangle_order, rounds_until_even};
pub use strength::{Ground, engaged_for, proof_load, proof_stress, stress_area, stripping};

use crate::instrument::SLACK;
use crate::quantity::{Millimetres, Newtons};
use crate::refusal::{Result, expect};
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;

/// What is on a thread, with its torque coefficient K (±25 % scatter).
pub const SURFACES: [(&str, f64); 7] = [
    ("dry", 0.20),
    ("zinc", 0.20),
    ("oiled", 0.15),
    ("anti_seize", 0.13),
    ("retaining", 0.16),
    ("waxed", 0.12),
    ("stainless_dry", 0.28),
];

/// K of a surface by its name.
#[must_use]
pub fn surface_k(name: &str) -> Option<f64> {
    SURFACES.iter().find(|(n, _)| *n == name).map(|(_, k)| *k)
}

/// T = F·(P/(2·pi) + mu_t·d2/(2·cos 30°) + mu_b·d_b/2), N·m from N and mm. Source: docs/trade.md, Fastening and
/// sealing.
#[must_use]
pub fn exact_torque(force_n: f64, d: f64, pitch: f64, mu_thread: f64, mu_head: f64, head_d: f64) -> f64 {
    let d2 = d - 0.649_519 * pitch;
    force_n * (pitch / (2.0 * PI) + mu_thread * d2 / (2.0 * (PI / 6.0).cos()) + mu_head * head_d / 2.0) / 1000.0
}

/// Clamp that the same torque may really give: K scatters by a quarter either way. (least, most)
#[must_use]
pub fn scatter(force: Newtons) -> (Newtons, Newtons) {
    (Newtons(force.0 / 1.25), Newtons(force.0 / 0.75))
}

/// T = K·D·F in N·m. Source: docs/trade.md, Fastening and sealing.
///
/// ```
/// use ironseat_core::{fasten::{surface_k, torque}, quantity::{Millimetres, Newtons}};
/// let t = torque(surface_k("oiled").unwrap(), Millimetres::of(12.0), Newtons::of(30_000.0));
/// assert!((t - 54.0).abs() < 1e-9);
/// ```
#[must_use]
pub fn torque(k: f64, d: Millimetres, force: Newtons) -> f64 {
    k * d.0 * force.0 / 1000.0
}

/// Wrench setting with an extension of length E at an angle to the wrench: T·L/(L + E·cos). Source: docs/trade.md,
/// Fastening and sealing.
///
/// # Errors
/// `angle_deg` when the extension folds back over the whole wrench.
pub fn wrench_setting(torque_nm: f64, wrench: Millimetres, extension: Millimetres, angle_deg: f64) -> Result<f64> {
    let arm = wrench.0 + extension.0 * angle_deg.to_radians().cos();
    expect(arm > 0.0, "angle_deg", "the extension folds back over the wrench: no torque would reach the nut")?;
    Ok(torque_nm * wrench.0 / arm)
}

/// Hand of a thread.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Hand {
    Left,
    Right,
}

impl Hand {
    /// Name in the contract.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::Left => "left",
            Self::Right => "right",
        }
    }
    /// Which way loosens, seen from the nut's end: true is clockwise.
    #[must_use]
    pub fn loosens_clockwise(self) -> bool {
        self == Self::Left
    }
    /// The hand that the drag of a turning shaft tightens: seen from the nut's end, a shaft turning clockwise wants a
    /// left-hand nut. Sudden slowing works the other way, so a lock is still needed. Source: docs/trade.md, Fastening
    /// and sealing.
    ///
    /// ```
    /// use ironseat_core::fasten::Hand;
    /// assert_eq!(Hand::wanted(true), Hand::Left);
    /// assert!(Hand::Left.loosens_clockwise());
    /// ```
    #[must_use]
    pub fn wanted(shaft_clockwise_from_nut: bool) -> Self {
        if shaft_clockwise_from_nut { Self::Left } else { Self::Right }
    }
}

/// An old match mark against a new zero.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct MatchMark {
    /// New less old, above -180 and up to 180.
    pub difference_deg: f64,
    pub valid: bool,
    /// How far the stand-out may have changed.
    pub standout_limit: Millimetres,
    /// None when the stand-out was not measured.
    pub standout_ok: Option<bool>,
}

/// Whether the angle from zero (the nut just stops by hand) to the mark still holds, and whether the stand-out of the
/// nut agrees within P·limit/360. A void mark is struck out and a new one made. Source: docs/trade.md, Preload and
/// running.
///
/// ```
/// use ironseat_core::{fasten::match_mark, quantity::Millimetres as Mm};
/// let m = match_mark(62.0, 65.0, 5.0, Mm::of(2.0), Some((Mm::of(7.50), Mm::of(7.60))));
/// assert!(m.valid && m.standout_ok == Some(false)); // the angle agrees, the stand-out does not: look again
/// ```
#[must_use]
pub fn match_mark(
    old_deg: f64,
    new_deg: f64,
    limit_deg: f64,
    pitch: Millimetres,
    standouts: Option<(Millimetres, Millimetres)>,
) -> MatchMark {
    let raw = (new_deg - old_deg).rem_euclid(360.0);
    let difference_deg = if raw > 180.0 { raw - 360.0 } else { raw };
    let limit = pitch.0 * limit_deg / 360.0;
    MatchMark {
        difference_deg,
        valid: difference_deg.abs() <= limit_deg + SLACK,
        standout_limit: Millimetres(limit),
        standout_ok: standouts.map(|(old, new)| (new.0 - old.0).abs() <= limit + SLACK),
    }
}

/// Turn a spring plunger back by this much once it has bottomed.
pub const PLUNGER_BACK_DEG: f64 = 180.0;
/// Turn an adjusting screw that a key or collet rides on back by this much from contact, lock, try again.
pub const ADJUSTER_BACK_DEG: f64 = 90.0;

/// Set screws in turn: which screw is turned to which share of its torque. Tightening one home first cocks the ring, so
/// all are snugged, then go up together. Source: docs/trade.md, Axial setting.
///
/// ```
/// assert_eq!(ironseat_core::fasten::set_screws(2), [(1, 30), (2, 30), (1, 60), (2, 60), (1, 100), (2, 100)]);
/// ```
#[must_use]
pub fn set_screws(n: usize) -> Vec<(usize, u32)> {
    [30, 60, 100].into_iter().flat_map(|pct| (1..=n).map(move |k| (k, pct))).collect()
}

/// Crossing order of n bolts on a circle, from 1: each next as far as possible from the nearest of those done, ties to
/// the one farthest from the last, then the lowest number. Source: docs/trade.md, Fastening and sealing.
///
/// ```
/// assert_eq!(ironseat_core::fasten::crossing_order(8), [1, 5, 3, 7, 2, 6, 4, 8]);
/// ```
#[must_use]
pub fn crossing_order(n: usize) -> Vec<usize> {
    let apart = |a: usize, b: usize| {
        let d = a.abs_diff(b);
        d.min(n - d)
    };
    let mut order: Vec<usize> = Vec::with_capacity(n);
    while order.len() < n {
        let next = (0..n).filter(|i| !order.contains(i)).max_by_key(|i| {
            let nearest = order.iter().map(|j| apart(*i, *j)).min().unwrap_or(0);
            let last = order.last().map_or(0, |j| apart(*i, *j));
            (nearest, last, std::cmp::Reverse(*i))
        });
        order.extend(next);
    }
    order.into_iter().map(|i| i + 1).collect()
}

fn gcd(a: u64, b: u64) -> u64 {
    if b == 0 { a } else { gcd(b, a % b) }
}

/// Angle between lock positions of a nut with slots and a washer with tabs: 360/lcm.
///
/// # Errors
/// `slots` or `tabs` outside 1 to 1000.
pub fn lock_step(slots: u64, tabs: u64) -> Result<f64> {
    expect((1..=1000).contains(&slots), "slots", "expected 1 to 1000 slots")?;
    expect((1..=1000).contains(&tabs), "tabs", "expected 1 to 1000 tabs")?;
    Ok(360.0 / (slots / gcd(slots, tabs) * tabs) as f64)
}

/// The next turns, in the tightening direction only, that end on a lock position. `present` is the angle past one.
///
/// # Errors
/// `least_deg` when negative; `count` outside 1 to 1000.
pub fn lock_turns(step: f64, present: f64, least: f64, count: usize) -> Result<Vec<f64>> {
    expect(least >= 0.0, "least_deg", "a nut is not backed off to find a slot: expected 0 or more")?;
    expect((1..=1000).contains(&count), "count", "expected 1 to 1000 positions")?;
    let past = present.rem_euclid(step);
    let to_next = if past < SLACK || step - past < SLACK { 0.0 } else { step - past };
    let skip = ((least - to_next - SLACK) / step).ceil().max(0.0);
    Ok((0..count).map(|k| to_next + (skip + k as f64) * step).collect())
}

/// Turn of an adjusting nut from a float to an aim (negative: preload), and the nearest lock position.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct NutTurn {
    pub turn_deg: f64,
    /// Nearest lock position, the lower of equals.
    pub lock: Option<LockAt>,
    /// Last lock not past the aim.
    pub before: Option<LockAt>,
    /// First lock at or past it.
    pub after: Option<LockAt>,
    /// The nearest lock is past the aim.
    pub past_aim: Option<bool>,
}

/// A lock position and the float that it leaves.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct LockAt {
    pub deg: f64,
    pub float: Millimetres,
}

/// (float - aim)/pitch·360°, and the lock positions first + k·step, 0 or more, on either side of it.
///
/// # Errors
/// `aim_mm` above the float: the nut would have to be backed off.
pub fn nut_turn(
    float: Millimetres,
    aim: Millimetres,
    pitch: Millimetres,
    step: Option<f64>,
    first: f64,
) -> Result<NutTurn> {
    expect(
        aim.0 <= float.0 + SLACK,
        "aim_mm",
        "the aim is looser than it is now: slacken first, then set it by tightening",
    )?;
    let turn = (float.0 - aim.0) / pitch.0 * 360.0;
    let at = |deg: f64| LockAt { deg, float: Millimetres(float.0 - pitch.0 * deg / 360.0) };
    let Some(s) = step else {
        return Ok(NutTurn { turn_deg: turn, lock: None, before: None, after: None, past_aim: None });
    };
    // The lowest lock that is no turn back, counted from the first one; the last at or before the aim, and the next.
    let lowest = (-first / s - SLACK / s).ceil();
    let k = ((turn - first) / s + SLACK / s).floor();
    let place = |k: f64| at((first + k * s).max(0.0));
    let before = (k >= lowest).then(|| place(k));
    let exact = before.is_some_and(|b| (b.deg - turn).abs() <= SLACK);
    let after = if exact { before } else { Some(place((k + 1.0).max(lowest))) };
    let near = |l: Option<LockAt>| l.map(|l| (l.deg - turn).abs());
    let lock = match (near(before), near(after)) {
        (Some(b), Some(a)) if b <= a + SLACK => before,
        (_, Some(_)) => after,
        _ => before,
    };
    Ok(NutTurn { turn_deg: turn, lock, before, after, past_aim: lock.map(|l| l.deg > turn + SLACK) })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn the_usual_orders_hold() {
        assert_eq!(crossing_order(4), [1, 3, 2, 4]);
        let six = crossing_order(6);
        assert!([[1, 4, 2, 5, 3, 6], [1, 4, 6, 3, 5, 2]].iter().any(|o| six == o), "{six:?}");
    }

    proptest! {
        #[test]
        fn every_bolt_comes_once(n in 1usize..60) {
            let mut o = crossing_order(n);
            o.sort_unstable();
            prop_assert_eq!(o, (1..=n).collect::<Vec<_>>());
        }

        #[test]
        fn lock_positions_close_and_never_go_backwards(slots in 1u64..40, tabs in 1u64..40, present in 0f64..720.0, least in 0f64..90.0) {
            let step = lock_step(slots, tabs).unwrap();
            prop_assert!(((360.0 / step).round() - 360.0 / step).abs() < 1e-6);
            let turns = lock_turns(step, present, least, 4).unwrap();
            prop_assert!(turns[0] >= least - 1e-6 && turns.windows(2).all(|w| (w[1] - w[0] - step).abs() < 1e-9));
            for t in turns {
                let at = (present + t).rem_euclid(step);
                prop_assert!(at < 1e-6 || step - at < 1e-6);
            }
        }
    }
}
