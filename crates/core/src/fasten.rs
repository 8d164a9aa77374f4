//! Bolts and nuts: torque, order, lock positions, marks, hand of thread (handbook 06, 07).

use crate::instrument::SLACK;
use crate::quantity::Millimetres;
use crate::refusal::{Result, expect};
use std::f64::consts::PI;

/// What is on a thread, with its torque coefficient K (±25 % scatter).
pub const SURFACES: [(&str, f64); 7] =
    [("dry", 0.20), ("zinc", 0.20), ("oiled", 0.15), ("anti_seize", 0.13), ("retaining", 0.16), ("waxed", 0.12), ("stainless_dry", 0.28)];

/// K of a surface by its name.
#[must_use]
pub fn surface_k(name: &str) -> Option<f64> {
    SURFACES.iter().find(|(n, _)| *n == name).map(|(_, k)| *k)
}

/// T = F·(P/(2·pi) + mu_t·d2/(2·cos 30°) + mu_b·d_b/2), N·m from N and mm. Source: handbook 07.
#[must_use]
pub fn exact_torque(force_n: f64, d: f64, pitch: f64, mu_thread: f64, mu_head: f64, head_d: f64) -> f64 {
    let d2 = d - 0.649_519 * pitch;
    force_n * (pitch / (2.0 * PI) + mu_thread * d2 / (2.0 * (PI / 6.0).cos()) + mu_head * head_d / 2.0) / 1000.0
}

/// Proof load of a property class at a size, N.
#[must_use]
pub fn proof_load(class: &str, d: f64, pitch: f64) -> Option<f64> {
    let stress = match class {
        "4.6" => 225.0,
        "5.8" => 380.0,
        "8.8" => {
            if d <= 16.0 + SLACK {
                580.0
            } else {
                600.0
            }
        }
        "10.9" => 830.0,
        "12.9" => 970.0,
        _ => return None,
    };
    Some(stress * PI / 4.0 * (d - 0.9382 * pitch).powi(2))
}

/// Crossing order of n bolts on a circle, from 1: each next as far as possible from the nearest of those done, ties to
/// the one farthest from the last, then the lowest number. Source: handbook 07.
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
    pub lock_deg: Option<f64>,
    pub float_at_lock: Option<Millimetres>,
}

/// (float - aim)/pitch·360°, then the nearest of first + k·step, the lower of equals.
///
/// # Errors
/// `aim_mm` above the float: the nut would have to be backed off.
pub fn nut_turn(float: Millimetres, aim: Millimetres, pitch: Millimetres, step: Option<f64>, first: f64) -> Result<NutTurn> {
    expect(aim.0 <= float.0 + SLACK, "aim_mm", "the aim is looser than it is now: slacken first, then set it by tightening")?;
    let turn = (float.0 - aim.0) / pitch.0 * 360.0;
    let lock = step.map(|s| {
        let k = ((turn - first) / s - 0.5 - 1e-9 / s).ceil().max(0.0);
        first + k * s
    });
    Ok(NutTurn { turn_deg: turn, lock_deg: lock, float_at_lock: lock.map(|l| Millimetres(float.0 - pitch.0 * l / 360.0)) })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn the_handbooks_orders_hold() {
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
