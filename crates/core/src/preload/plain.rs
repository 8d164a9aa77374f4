//! Plain-bearing spindles: cap shims, lift test, clearance rule; and taper rollers (docs/trade.md, Axial setting and
//! Preload and running).

use crate::instrument::SLACK;
use crate::quantity::{Micrometres, Millimetres, Newtons};
use crate::refusal::{Refusal, Result, expect};

/// Clearance of a plain bronze spindle bearing on diameter, 0.0006 to 0.001 of it, unless the sheet says otherwise.
///
/// ```
/// use ironseat_core::{preload::running_clearance, quantity::Millimetres};
/// let (lo, hi) = running_clearance(Millimetres::of(60.0));
/// assert!((lo.get() - 36.0).abs() < 1e-9 && (hi.get() - 60.0).abs() < 1e-9);
/// ```
#[must_use]
pub fn running_clearance(d: Millimetres) -> (Micrometres, Micrometres) {
    (Micrometres(d.0 * 0.6), Micrometres(d.0))
}

/// What the cap shims of a plain bearing must become.
#[derive(Debug, Clone, PartialEq)]
pub struct CapShims {
    /// Total thickness to take out of each side; negative: to put in.
    pub take_out: Micrometres,
    /// Leaves to take out of each side, from those that are in, thick first.
    pub leaves: Vec<f64>,
    /// Lift that will result.
    pub lift_then: Micrometres,
}

/// A cap that goes down by x closes the bearing by x at the top: the lift (radial play by indicator) less the middle of
/// the window comes out on both sides. Of the leaves that are in, the set that comes nearest without closing the
/// bearing below the window. Adjust in steps, try by hand after each. Source: docs/trade.md, Axial setting.
///
/// ```
/// use ironseat_core::{preload::cap_shims, quantity::Micrometres as Um};
/// let s = cap_shims(Um::of(110.0), (Um::of(36.0), Um::of(60.0)), &[50.0, 50.0, 25.0])?;
/// assert_eq!((&s.leaves[..], s.lift_then.get()), (&[50.0][..], 60.0));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `hi_um` below lo; `lift_um` negative; `leaves_um` with more than 16, or any not above 0.
pub fn cap_shims(lift: Micrometres, window: (Micrometres, Micrometres), leaves: &[f64]) -> Result<CapShims> {
    let (lo, hi) = (window.0.0, window.1.0);
    expect(hi >= lo, "hi_um", "expected the upper end of the window not to be below the lower one")?;
    expect(lift.0 >= 0.0, "lift_um", "expected a lift of 0 or more")?;
    expect(leaves.len() <= 16 && leaves.iter().all(|l| *l > 0.0), "leaves_um", "expected up to 16 leaves above 0")?;
    let want = lift.0 - f64::midpoint(lo, hi);
    let mut best: (f64, u32, usize) = (f64::INFINITY, u32::MAX, 0);
    for set in 0..1usize << leaves.len() {
        let out: f64 = (0..leaves.len()).filter(|k| set >> k & 1 == 1).map(|k| leaves[k]).sum();
        let then = lift.0 - out;
        if then < lo - SLACK && out > 0.0 {
            continue;
        }
        let key = ((out - want).abs(), set.count_ones());
        if key.0 < best.0 - SLACK || (key.0 <= best.0 + SLACK && key.1 < best.1) {
            best = (key.0, key.1, set);
        }
    }
    let mut taken: Vec<f64> = (0..leaves.len()).filter(|k| best.2 >> k & 1 == 1).map(|k| leaves[k]).collect();
    taken.sort_by(|a, b| b.total_cmp(a));
    let out: f64 = taken.iter().sum();
    Ok(CapShims { take_out: Micrometres(want), leaves: taken, lift_then: Micrometres(lift.0 - out) })
}

/// What to do with the screws of an expander.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Fills {
    /// It still moves the bearing: a little more on every screw.
    Turn,
    /// It fills its bore, and the lift is right: lock the screws.
    Lock,
    /// It fills its bore, and the lift is not right: that is a matter of the shims under the cap.
    Shims,
    /// It never moved, or the lift went back: a screw that does not bite, or a shaft that moved.
    LookAgain,
}

/// An expander that was screwed in turn by turn.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Expanded {
    /// Change of the lift from the first reading to the last.
    pub moved: Micrometres,
    /// Change over the last turn of the screws.
    pub last: Micrometres,
    /// To come out from under each side of the cap, negative: to put in; once it fills its bore and is not right.
    pub shims: Option<Micrometres>,
    /// What to do.
    pub next: Fills,
}

/// The cap's shims set how small a plain bearing is; its expander spreads it until it fills its bore, and then the lift
/// changes no more. Further turns only strip small screws in soft metal. Source: docs/trade.md, Axial setting.
///
/// ```
/// use ironseat_core::{preload::{Fills, expanded}, quantity::Micrometres as Um};
/// let steps = [(0.0, 20.0), (0.25, 38.0), (0.5, 48.0), (0.75, 49.0)];
/// let e = expanded(&steps, (Um::of(36.0), Um::of(60.0)), Um::of(3.0))?;
/// assert_eq!((e.next, e.last, e.shims), (Fills::Lock, Um::of(1.0), None));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `steps` when there are none, or the turns do not grow; `hi_um` below lo.
pub fn expanded(steps: &[(f64, f64)], window: (Micrometres, Micrometres), u: Micrometres) -> Result<Expanded> {
    expect(window.1.0 >= window.0.0, "hi_um", "expected the upper end of the window not to be below the lower one")?;
    expect(steps.windows(2).all(|w| w[1].0 > w[0].0), "steps", "expected the turns to grow from reading to reading")?;
    let (Some(first), Some(now)) = (steps.first(), steps.last()) else {
        return Err(Refusal::new("steps", "at least one reading is expected"));
    };
    let moved = now.1 - first.1;
    let change = |w: &[(f64, f64)]| w[1].1 - w[0].1;
    let last = steps.windows(2).last().map_or(0.0, change);
    let most = steps.windows(2).map(change).fold(0.0, |a: f64, b| if b.abs() > a.abs() { b } else { a });
    let still = steps.len() > 2 && last.abs() <= u.0 + SLACK;
    let moves = most.abs() > u.0 + SLACK;
    // More than the dial gives, and against the way that it went.
    let back = moves && last.abs() > u.0 + SLACK && last * most < 0.0;
    let inside = now.1 >= window.0.0 - SLACK && now.1 <= window.1.0 + SLACK;
    let next = match (still, moves) {
        _ if back => Fills::LookAgain,
        (true, false) => Fills::LookAgain,
        (true, true) if inside => Fills::Lock,
        (true, true) => Fills::Shims,
        (false, _) => Fills::Turn,
    };
    let out = now.1 - f64::midpoint(window.0.0, window.1.0);
    Ok(Expanded {
        moved: Micrometres(moved),
        last: Micrometres(last),
        shims: (next == Fills::Shims).then_some(Micrometres(out)),
        next,
    })
}

/// Radial play from a lift test: up less down at each end, and the tilt between the ends.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Lift {
    pub front: Micrometres,
    pub rear: Micrometres,
    pub both_in: bool,
}

/// Judges the lift at both ends against a window.
#[must_use]
pub fn lift(front: Micrometres, rear: Micrometres, window: (Micrometres, Micrometres)) -> Lift {
    let inside = |v: Micrometres| v.0 >= window.0.0 - SLACK && v.0 <= window.1.0 + SLACK;
    Lift { front, rear, both_in: inside(front) && inside(rear) }
}

/// Axial approach of a taper-roller row: about 7.7e-5·Q^0.9/L^0.8/sin a mm, Q the load of a roller, line contact.
/// **Approximate**: to be shown as such. Source: docs/trade.md, Preload and running.
///
/// ```
/// use ironseat_core::{preload::taper_approach, quantity::{Millimetres, Newtons}};
/// let d = taper_approach(Newtons::of(3000.0), 17, Millimetres::of(14.0), 14.0)?;
/// assert!((14.0..15.0).contains(&d.get()));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `rollers` below 3; `length_mm` not above 0; `angle_deg` outside 5 to 35; `fa_n` negative.
pub fn taper_approach(fa: Newtons, rollers: u32, length: Millimetres, angle_deg: f64) -> Result<Micrometres> {
    expect(fa.0 >= 0.0, "fa_n", "expected a load of 0 or more")?;
    expect(rollers >= 3, "rollers", "expected three rollers or more")?;
    expect(length.0 > 0.0, "length_mm", "expected a roller length above 0")?;
    expect((5.0..=35.0).contains(&angle_deg), "angle_deg", "expected a cup angle of 5 to 35 degrees")?;
    let sin = angle_deg.to_radians().sin();
    let q = fa.0 / (f64::from(rollers) * sin);
    Ok(Micrometres(7.7e-5 * q.powf(0.9) / length.0.powf(0.8) / sin * 1000.0))
}

/// Axial stiffness of a taper-roller row at a load, N/µm; the slope of [`taper_approach`]. Approximate.
///
/// # Errors
/// As [`taper_approach`]; `fa_n` must be above 0.
pub fn taper_stiffness(fa: Newtons, rollers: u32, length: Millimetres, angle_deg: f64) -> Result<f64> {
    expect(fa.0 > 0.0, "fa_n", "expected a load above 0")?;
    let d = taper_approach(fa, rollers, length, angle_deg)?;
    Ok(fa.0 / (0.9 * d.0))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn shims_never_close_the_bearing_below_its_window(lift in 0.0f64..300.0, leaves in prop::collection::vec(5.0f64..80.0, 0..9)) {
            let s = cap_shims(Micrometres(lift), (Micrometres(36.0), Micrometres(60.0)), &leaves).unwrap();
            prop_assert!(s.lift_then.0 >= 36.0 - 1e-6 || s.leaves.is_empty());
            prop_assert!((s.lift_then.0 - 48.0).abs() <= (lift - 48.0).abs() + 1e-9, "never worse than leaving it");
        }

        #[test]
        fn the_slope_of_the_approach_is_the_stiffness(fa in 100.0f64..20_000.0) {
            let at = |f: f64| taper_approach(Newtons(f), 17, Millimetres(14.0), 14.0).unwrap().0;
            let slope = (fa * 0.002) / (at(fa * 1.001) - at(fa * 0.999));
            let k = taper_stiffness(Newtons(fa), 17, Millimetres(14.0), 14.0).unwrap();
            prop_assert!((slope / k - 1.0).abs() < 1e-3);
        }
    }

    #[test]
    fn an_expander_is_turned_until_it_fills_its_bore_and_no_further() {
        let of = |steps: &[f64]| {
            let steps: Vec<(f64, f64)> = steps.iter().enumerate().map(|(k, l)| (k as f64 * 0.25, *l)).collect();
            let e = expanded(&steps, (Micrometres(36.0), Micrometres(60.0)), Micrometres(3.0)).unwrap();
            (e.next, e.shims.map(|s| s.0))
        };
        for (lifts, next, shims) in [
            (&[20.0][..], Fills::Turn, None),
            (&[20.0, 20.0], Fills::Turn, None),
            (&[20.0, 38.0, 50.0], Fills::Turn, None),
            (&[20.0, 38.0, 50.0, 52.0], Fills::Lock, None),
            (&[50.0, 70.0, 72.0], Fills::Shims, Some(24.0)),
            (&[10.0, 20.0, 20.0], Fills::Shims, Some(-28.0)),
            (&[20.0, 21.0, 20.0], Fills::LookAgain, None),
            (&[20.0, 38.0, 30.0], Fills::LookAgain, None),
        ] {
            assert_eq!(of(lifts), (next, shims), "{lifts:?}");
        }
        let w = (Micrometres(36.0), Micrometres(60.0));
        assert_eq!(expanded(&[(0.5, 1.0), (0.5, 1.0)], w, Micrometres(3.0)).unwrap_err().field, "steps");
        assert_eq!(expanded(&[], w, Micrometres(3.0)).unwrap_err().field, "steps");
    }

    #[test]
    fn a_lift_is_judged_at_both_ends() {
        let w = (Micrometres(36.0), Micrometres(60.0));
        assert!(
            lift(Micrometres(40.0), Micrometres(60.0), w).both_in
                && !lift(Micrometres(40.0), Micrometres(61.0), w).both_in
        );
        assert_eq!(
            cap_shims(Micrometres(10.0), (Micrometres(60.0), Micrometres(36.0)), &[]).unwrap_err().field,
            "hi_um"
        );
        assert_eq!(taper_approach(Newtons(1.0), 2, Millimetres(10.0), 14.0).unwrap_err().field, "rollers");
    }
}
