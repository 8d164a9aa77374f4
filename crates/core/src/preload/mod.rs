//! Preload of ball bearings: contact with change of angle, pairs, spacers, push test (docs/trade.md, Preload and
//! running). No centrifugal or gyroscopic terms: not to be used above dm·n = 500 000 mm/min without saying so.

mod plain;
mod spacer_sheet;

pub use plain::{
    CapShims, Expanded, Fills, Lift, cap_shims, expanded, lift, running_clearance, taper_approach, taper_stiffness,
};
pub use spacer_sheet::{SpacerSheet, parallel_limit, spacer_sheet};

use crate::instrument::SLACK;
use crate::numeric;
use crate::quantity::{Megapascals, Micrometres, Millimetres, Newtons};
use crate::refusal::{Refusal, Result, expect};
use std::f64::consts::PI;

/// Hertz constant for steel on steel, N/mm^1.5 (docs/trade.md, Preload and running).
const HERTZ: f64 = 2.15e5;

/// Radius of a groove over the diameter of its balls, where no sheet says another.
pub const CONFORMITY: f64 = 0.52;

/// An angular-contact or deep-groove ball bearing.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BallBearing {
    z: f64,
    /// B·Dw, mm: how far the curvature centres lie apart.
    reach: f64,
    a0: f64,
    kn: f64,
    ball: f64,
    pitch: f64,
    /// Sum and difference of the curvatures at the inner contact, sum in 1/mm.
    inner: (f64, f64),
}

/// Complete elliptic integrals K and E of the parameter m, by the arithmetic-geometric mean.
fn elliptic(m: f64) -> (f64, f64) {
    let (mut a, mut b, mut sum, mut power) = (1.0, (1.0 - m).sqrt(), m, 1.0);
    for _ in 0..40 {
        let c: f64 = (a - b) / 2.0;
        (a, b) = (f64::midpoint(a, b), (a * b).sqrt());
        power *= 2.0;
        sum += power * c * c;
        if c.abs() < 1e-17 {
            break;
        }
    }
    let k = PI / (2.0 * a);
    (k, k * (1.0 - sum / 2.0))
}

/// Ratio of the axes of an elliptical contact from the curvature difference F(rho). Source: Hertz; Harris.
fn axis_ratio(difference: f64) -> f64 {
    // F = ((k²+1)E - 2K)/((k²-1)E) rises with the axis ratio k.
    let f = |k: f64| {
        let (kk, ee) = elliptic(1.0 - 1.0 / (k * k));
        ((k * k + 1.0) * ee - 2.0 * kk) / ((k * k - 1.0) * ee)
    };
    let (mut lo, mut hi) = (1.0f64 + 1e-9, 1e6);
    for _ in 0..200 {
        let mid = (lo * hi).sqrt();
        if f(mid) < difference { lo = mid } else { hi = mid }
    }
    (lo * hi).sqrt()
}

/// Dimensionless approach delta* of a contact.
fn delta_star(difference: f64) -> f64 {
    let k = axis_ratio(difference);
    let (kk, ee) = elliptic(1.0 - 1.0 / (k * k));
    2.0 * kk / PI * (PI / (2.0 * k * k * ee)).cbrt()
}

/// Semi-axes of a steel contact per (Q/sum)^(1/3), mm. Source: Hertz, steel on steel; Harris.
const SEMI_AXIS: f64 = 0.0236;
/// Greatest pressure that leaves the balls' marks in the raceways: ISO 76, ball bearings, MPa.
pub const MARKS_MPA: f64 = 4200.0;
/// Preload alone should stay below: what a running contact is usually given, MPa.
pub const WARN_MPA: f64 = 2000.0;

impl BallBearing {
    /// Validates: z an integer from 3, angle above 0 to 60°, conformities above 0.5 and below 1, ball below pitch.
    ///
    /// # Errors
    /// Always the field `bearing`.
    pub fn new(z: f64, ball: f64, pitch: f64, angle_deg: f64, fi: f64, fo: f64) -> Result<Self> {
        let ok = |holds: bool, what: &str| expect(holds, "bearing", what);
        ok(z.fract() == 0.0 && (3.0..=1000.0).contains(&z), "z: expected a whole number of balls from 3")?;
        ok(ball > 0.0 && pitch > ball, "ball_mm: expected a ball above 0 and smaller than the pitch circle")?;
        ok(angle_deg > 0.0 && angle_deg <= 60.0, "angle_deg: expected a contact angle above 0 and up to 60 degrees")?;
        ok(fi > 0.5 && fi < 1.0 && fo > 0.5 && fo < 1.0, "fi, fo: expected conformities above 0.5 and below 1")?;
        let a0 = angle_deg.to_radians();
        let gamma = ball * a0.cos() / pitch;
        let stiffness = |f: f64, g: f64| {
            let sum = 4.0 - 1.0 / f + g;
            HERTZ * (sum / ball).powf(-0.5) * delta_star((1.0 / f + g) / sum).powf(-1.5)
        };
        let g = 2.0 * gamma / (1.0 - gamma);
        let sum = 4.0 - 1.0 / fi + g;
        let (ki, ko) = (stiffness(fi, g), stiffness(fo, -2.0 * gamma / (1.0 + gamma)));
        let kn = (ki.powf(-2.0 / 3.0) + ko.powf(-2.0 / 3.0)).powf(-1.5);
        ok(kn.is_finite() && kn > 0.0, "these sizes make no contact that can be computed")?;
        Ok(Self { z, reach: (fi + fo - 1.0) * ball, a0, kn, ball, pitch, inner: (sum / ball, (1.0 / fi + g) / sum) })
    }

    /// K_n, N/mm^1.5.
    #[must_use]
    pub fn kn(&self) -> f64 {
        self.kn
    }
    /// Pitch circle, mm.
    #[must_use]
    pub fn pitch(&self) -> f64 {
        self.pitch
    }
    /// Unloaded contact angle in radians.
    #[must_use]
    pub fn angle(&self) -> f64 {
        self.a0
    }

    fn force_at(&self, a: f64) -> f64 {
        let s = (self.a0.cos() / a.cos() - 1.0).max(0.0);
        self.z * self.kn * self.reach.powf(1.5) * s.powf(1.5) * a.sin()
    }

    fn angle_of_approach(&self, mm: f64) -> f64 {
        ((mm.max(0.0) / self.reach + self.a0.sin()) / self.a0.cos()).atan()
    }

    /// Contact angle under an axial load, radians.
    #[must_use]
    pub fn loaded_angle(&self, force: Newtons) -> f64 {
        if force.0 <= 0.0 {
            return self.a0;
        }
        numeric::where_it_reaches(force.0, self.a0, PI / 2.0 - 1e-9, |angle| self.force_at(angle))
    }

    /// Axial approach under a load: B·Dw·sin(a - a0)/cos a.
    #[must_use]
    pub fn approach(&self, force: Newtons) -> Micrometres {
        let a = self.loaded_angle(force);
        Micrometres(self.reach * (a - self.a0).sin() / a.cos() * 1000.0)
    }

    /// Axial load at an approach; 0 when apart.
    #[must_use]
    pub fn load(&self, approach: Micrometres) -> Newtons {
        Newtons(if approach.0 <= 0.0 { 0.0 } else { self.force_at(self.angle_of_approach(approach.0 / 1000.0)) })
    }

    /// Slope of load over approach, N/µm; 0 when apart.
    #[must_use]
    pub fn stiffness(&self, approach: Micrometres) -> f64 {
        if approach.0 <= 0.0 {
            return 0.0;
        }
        let a = self.angle_of_approach(approach.0 / 1000.0);
        let s = self.a0.cos() / a.cos() - 1.0;
        let by_angle = self.z
            * self.kn
            * self.reach.powf(1.5)
            * (1.5 * s.sqrt() * self.a0.cos() * a.sin() / a.cos().powi(2) * a.sin() + s.powf(1.5) * a.cos());
        by_angle / (self.reach * self.a0.cos() / a.cos().powi(2)) / 1000.0
    }

    /// Load of one ball.
    #[must_use]
    pub fn ball_load(&self, force: Newtons) -> Newtons {
        Newtons(force.0 / (self.z * self.loaded_angle(force).sin()))
    }

    /// Greatest pressure of the inner contact under an axial load; with like conformities it is the worse one. Source:
    /// Hertz.
    #[must_use]
    pub fn contact_pressure(&self, force: Newtons) -> Megapascals {
        let q = self.ball_load(force).0;
        if q <= 0.0 {
            return Megapascals(0.0);
        }
        let k = axis_ratio(self.inner.1);
        let (_, ee) = elliptic(1.0 - 1.0 / (k * k));
        let unit = SEMI_AXIS * (q / self.inner.0).cbrt();
        let (a, b) = (unit * (2.0 * k * k * ee / PI).cbrt(), unit * (2.0 * ee / (PI * k)).cbrt());
        Megapascals(1.5 * q / (PI * a * b))
    }

    /// Quick check form (0.00044/sin a0)·(Q²/Dw)^(1/3) mm.
    #[must_use]
    pub fn quick_approach(&self, force: Newtons) -> Micrometres {
        let q = force.0 / (self.z * self.a0.sin());
        Micrometres(0.44 / self.a0.sin() * (q * q / self.ball).cbrt())
    }
}

/// A preloaded pair, or several in tandem against several.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pair {
    /// Each bearing.
    pub bearing: BallBearing,
    left: f64,
    right: f64,
    /// Approach of the left ones at preload.
    pub approach_left: Micrometres,
    /// Approach of the right ones.
    pub approach_right: Micrometres,
}

/// Where a pair stands under an outer load.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Work {
    pub shift: Micrometres,
    pub load_left: Newtons,
    pub load_right: Newtons,
    /// N/µm.
    pub stiffness: f64,
}

impl Pair {
    /// A pair at a preload; bearings in tandem share it.
    #[must_use]
    pub fn new(bearing: BallBearing, left: u32, right: u32, preload: Newtons) -> Self {
        let (l, r) = (f64::from(left), f64::from(right));
        Self {
            bearing,
            left: l,
            right: r,
            approach_left: bearing.approach(Newtons(preload.0 / l)),
            approach_right: bearing.approach(Newtons(preload.0 / r)),
        }
    }

    fn left_load(&self, shift: f64) -> f64 {
        self.left * self.bearing.load(Micrometres(self.approach_left.0 + shift)).0
    }
    fn right_load(&self, shift: f64) -> f64 {
        self.right * self.bearing.load(Micrometres(self.approach_right.0 - shift)).0
    }

    /// N/µm at a shift.
    fn slope(&self, shift: f64) -> f64 {
        self.left * self.bearing.stiffness(Micrometres(self.approach_left.0 + shift))
            + self.right * self.bearing.stiffness(Micrometres(self.approach_right.0 - shift))
    }

    /// Outer load at which the right side comes free.
    #[must_use]
    pub fn lift_off(&self) -> Newtons {
        Newtons(self.left_load(self.approach_right.0))
    }

    /// Shift, loads and stiffness under an outer load that loads the left side.
    #[must_use]
    pub fn under(&self, outer: Newtons) -> Work {
        let shift = self.shift_under(outer.0, None);
        Work {
            shift: Micrometres(shift),
            load_left: Newtons(self.left_load(shift)),
            load_right: Newtons(self.right_load(shift)),
            stiffness: self.slope(shift),
        }
    }

    /// Shift under an outer load; with a shift that is near already, only a step or two away.
    fn shift_under(&self, outer: f64, near: Option<f64>) -> f64 {
        let net = |s: f64| self.left_load(s) - self.right_load(s);
        if outer <= 0.0 {
            0.0
        } else {
            let (mut lo, mut hi) = (0.0, 1.0f64.max(self.approach_right.0));
            while net(hi) < outer && hi < 1e7 {
                lo = hi;
                hi *= 2.0;
            }
            // Newton's steps on the slope, kept inside the bracket.
            let mut at = near.filter(|n| *n > lo && *n < hi).unwrap_or_else(|| f64::midpoint(lo, hi));
            for _ in 0..100 {
                let off = net(at) - outer;
                if off < 0.0 {
                    lo = at
                } else {
                    hi = at
                }
                let newton = at - off / self.slope(at);
                let next = if newton > lo && newton < hi { newton } else { f64::midpoint(lo, hi) };
                if (next - at).abs() <= 1e-14 * at.abs().max(1e-6) {
                    break;
                }
                at = next;
            }
            at
        }
    }
}

impl Pair {
    /// The curve of a pair from no outer load to a largest one: (outer load, where it stands), for the drawing. Points
    /// are even in shift, so each costs two contact sums and no search.
    ///
    /// ```
    /// use ironseat_core::{preload::{BallBearing, Pair}, quantity::Newtons};
    /// let b = BallBearing::new(18.0, 8.731, 65.0, 15.0, 0.52, 0.52)?;
    /// let pair = Pair::new(b, 1, 1, Newtons::of(300.0));
    /// let curve = pair.curve(Newtons::of(2000.0), 100);
    /// assert!(curve.len() == 100 && (curve[99].0.get() - 2000.0).abs() < 1e-6);
    /// # Ok::<(), ironseat_core::Refusal>(())
    /// ```
    #[must_use]
    pub fn curve(&self, largest: Newtons, points: usize) -> Vec<(Newtons, Work)> {
        let end = self.under(largest).shift.0;
        let last = points.saturating_sub(1).max(1) as f64;
        (0..points)
            .map(|k| {
                let shift = end * k as f64 / last;
                let (left, right) = (self.left_load(shift), self.right_load(shift));
                let work = Work {
                    shift: Micrometres(shift),
                    load_left: Newtons(left),
                    load_right: Newtons(right),
                    stiffness: self.slope(shift),
                };
                (Newtons(left - right), work)
            })
            .collect()
    }
}

/// Light, medium or heavy preload as a share of the static rating C0: 0.5-1, 1.5-2, 3-4 %. A default, to be marked so.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Class {
    Light,
    Medium,
    Heavy,
}

impl Class {
    /// All, the least first, with their names in the contract.
    pub const ALL: [(Self, &'static str); 3] =
        [(Self::Light, "light"), (Self::Medium, "medium"), (Self::Heavy, "heavy")];

    /// The window in N. Source: docs/trade.md, Preload and running.
    ///
    /// ```
    /// use ironseat_core::{preload::Class, quantity::Newtons};
    /// assert_eq!(Class::Medium.window(Newtons::of(20_000.0)), (Newtons::of(300.0), Newtons::of(400.0)));
    /// ```
    #[must_use]
    pub fn window(self, c0: Newtons) -> (Newtons, Newtons) {
        let (lo, hi) = match self {
            Self::Light => (0.005, 0.01),
            Self::Medium => (0.015, 0.02),
            Self::Heavy => (0.03, 0.04),
        };
        (Newtons(lo * c0.0), Newtons(hi * c0.0))
    }

    /// Where a preload lies among the windows, in the words of the contract.
    ///
    /// ```
    /// use ironseat_core::{preload::Class, quantity::Newtons};
    /// let of = |n: f64| Class::of(Newtons::of(n), Newtons::of(20_000.0));
    /// assert_eq!((of(99.0), of(100.0), of(250.0), of(400.0), of(900.0)), ("under", "light", "between", "medium", "over"));
    /// ```
    #[must_use]
    pub fn of(preload: Newtons, c0: Newtons) -> &'static str {
        let within = |w: (Newtons, Newtons)| preload.0 >= w.0.0 - SLACK && preload.0 <= w.1.0 + SLACK;
        match Self::ALL.iter().find(|(c, _)| within(c.window(c0))) {
            Some((_, name)) => name,
            None if preload.0 < Self::Light.window(c0).0.0 => "under",
            None if preload.0 > Self::Heavy.window(c0).1.0 => "over",
            None => "between",
        }
    }
}

/// Preload from the running drag: (M - M0)/(0.5·mu·dm·n). Break-away is not running drag. Source: docs/trade.md,
/// Preload and running.
///
/// # Errors
/// `m0_nm` above the torque.
pub fn from_drag(torque_nm: f64, m0_nm: f64, mu: f64, pitch: Millimetres, bearings: u64) -> Result<(f64, Newtons)> {
    let m1 = torque_nm - m0_nm;
    expect(m1 >= -SLACK, "m0_nm", "grease and seals alone cannot drag more than the whole")?;
    Ok((m1.max(0.0), Newtons(m1.max(0.0) * 1000.0 / (0.5 * mu * pitch.0 * bearings as f64))))
}

/// Back-to-back or face-to-face.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Facing {
    BackToBack,
    FaceToFace,
}

/// Heat of the inner assembly over the outer one.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Warm {
    pub hotter_k: f64,
    pub alpha: f64,
    pub raceway_mm: f64,
    pub rows_apart_mm: f64,
}

/// Where the approach of a pair comes from, µm: (spacers, fits, heat). Source: docs/trade.md, Preload and running.
#[must_use]
pub fn approach_parts(
    facing: Facing,
    inner_mm: f64,
    outer_mm: f64,
    fits_um: f64,
    warm: Option<Warm>,
    angle: f64,
) -> (f64, f64, f64) {
    let spacers = (outer_mm - inner_mm) * 1000.0 * if facing == Facing::BackToBack { 1.0 } else { -1.0 };
    let heat = warm.map_or(0.0, |w| {
        let per = w.alpha * w.hotter_k * 1000.0;
        per * w.raceway_mm / angle.tan() + per * w.rows_apart_mm * if facing == Facing::BackToBack { -1.0 } else { 1.0 }
    });
    (spacers, fits_um / angle.tan(), heat)
}

/// What a push test says of an equal pair.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct PushTest {
    pub preload: Newtons,
    /// N/µm; none when not fitted or not to be told.
    pub joint: Option<f64>,
    pub rms: Micrometres,
    /// The best preload is an end of the search: it is not measured.
    pub at_bound: bool,
    /// Twice the standard deviation of the preload; none without a point too many, or at an end of the search.
    pub u: Option<Newtons>,
}

/// Preloads that are looked for, N.
const SEARCH_N: (f64, f64) = (0.1, 100_000.0);

/// Fits the preload (and a joint stiffness) to loads and shifts: least squares, a scan over preload, then golden
/// section; and how sure it is, from what the fit leaves. Source: linear propagation of a least-squares fit (JCGM 100).
///
/// # Errors
/// `points` with fewer than two loads that are not 0, with a shift against its load, or with none under one.
pub fn push_test(bearing: BallBearing, points: &[(f64, f64)], fit_joint: bool) -> Result<PushTest> {
    let mut used: Vec<(f64, f64)> = points.iter().copied().filter(|(l, _)| *l != 0.0).collect();
    expect(points.iter().all(|(l, s)| l * s >= 0.0), "points", "expected a shift to go the way of its load")?;
    expect(used.iter().all(|(_, s)| *s != 0.0), "points", "a load that shifts nothing was not felt: leave it out")?;
    expect(used.len() >= 2, "points", "at least two loads other than 0 are expected")?;
    expect(used.len() <= 2000, "points", "at most 2000 points are taken")?;
    // Lightest first: each shift is found from the one before.
    used.sort_by(|a, b| a.0.abs().total_cmp(&b.0.abs()));
    let shifts = |preload: f64| -> Vec<f64> {
        let pair = Pair::new(bearing, 1, 1, Newtons(preload));
        let mut at = (0.0, 0.0);
        used.iter()
            .map(|(l, _)| {
                let l = l.abs();
                if l > at.0 {
                    let near = if at.0 > 0.0 { Some(at.1 * l / at.0) } else { None };
                    at = (l, pair.shift_under(l, near));
                }
                at.1
            })
            .collect()
    };
    let loads_squared: f64 = used.iter().map(|(l, _)| l * l).sum();
    let compliance_and_error = |preload: f64| {
        let rest: Vec<f64> = used.iter().zip(shifts(preload)).map(|((l, s), x)| s - x * l.signum()).collect();
        let c = if fit_joint {
            (used.iter().zip(&rest).map(|((l, _), r)| l * r).sum::<f64>() / loads_squared).max(0.0)
        } else {
            0.0
        };
        let sse: f64 = used.iter().zip(&rest).map(|((l, _), r)| (r - c * l).powi(2)).sum();
        (c, sse)
    };
    let at = |x: f64| compliance_and_error(x.exp()).1;
    let (from, to) = (SEARCH_N.0.ln(), SEARCH_N.1.ln());
    // Preload and joint can stand in for each other, so there may be more than one valley: go down into each, keep the
    // deepest.
    let steps = if fit_joint { (96_000 / used.len() as u32).clamp(60, 480) } else { 60 };
    let close: Vec<f64> = (0..=steps).map(|k| from + (to - from) * f64::from(k) / f64::from(steps)).collect();
    let depth: Vec<f64> = close.iter().map(|x| at(*x)).collect();
    let deep =
        |k: &usize| (*k == 0 || depth[*k] <= depth[*k - 1]) && (*k == depth.len() - 1 || depth[*k] <= depth[*k + 1]);
    let mut valleys: Vec<usize> = (0..close.len()).filter(deep).collect();
    valleys.sort_by(|a, b| depth[*a].total_cmp(&depth[*b]));
    valleys.truncate(if used.len() > 500 { 3 } else { 6 });
    let valley =
        |k: usize| numeric::golden_section(close[k.saturating_sub(1)], close[(k + 1).min(close.len() - 1)], 60, at);
    let log_preload = valleys.into_iter().map(valley).min_by(|a, b| at(*a).total_cmp(&at(*b))).unwrap_or(close[0]);
    let preload = log_preload.exp();
    let (c, sse) = compliance_and_error(preload);
    if !sse.is_finite() {
        return Err(Refusal::new("points", "these points cannot be fitted"));
    }
    let at_bound = preload <= SEARCH_N.0 * 1.001 || preload >= SEARCH_N.1 * 0.999;
    let parameters = if fit_joint { 2 } else { 1 };
    let u = (used.len() > parameters && !at_bound).then(|| {
        let h = preload * 1e-4;
        let (more, less) = (shifts(preload + h), shifts(preload - h));
        let slope: Vec<f64> =
            used.iter().zip(more.iter().zip(&less)).map(|((l, _), (m, n))| (m - n) / (2.0 * h) * l.signum()).collect();
        let variance = sse / (used.len() - parameters) as f64;
        let own: f64 = slope.iter().map(|j| j * j).sum();
        let mixed: f64 = slope.iter().zip(&used).map(|(j, (l, _))| j * l).sum();
        // With a joint the two stand in for each other: what is left of the slope once the joint has taken its part.
        let left = if fit_joint { own - mixed * mixed / loads_squared } else { own };
        Newtons(2.0 * (variance / left).sqrt())
    });
    Ok(PushTest {
        preload: Newtons(preload),
        joint: (fit_joint && c > 0.0).then(|| 1.0 / c),
        rms: Micrometres((sse / used.len() as f64).sqrt()),
        at_bound,
        u: u.filter(|u| u.0.is_finite()),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn spindle(angle: f64) -> BallBearing {
        BallBearing::new(18.0, 8.731, 65.0, angle, 0.52, 0.52).unwrap()
    }

    #[test]
    fn the_check_form_agrees_for_25_degrees_and_light_load() {
        let b = spindle(25.0);
        let (full, quick) = (b.approach(Newtons::of(200.0)).get(), b.quick_approach(Newtons::of(200.0)).get());
        assert!((full / quick - 1.0).abs() < 0.15, "{full} {quick}");
    }

    #[test]
    fn the_two_arrangements_answer_with_opposite_signs() {
        let warm = Some(Warm { hotter_k: 10.0, alpha: 12e-6, raceway_mm: 0.0, rows_apart_mm: 46.0 });
        let (s1, _, t1) = approach_parts(Facing::BackToBack, 30.0, 30.008, 0.0, warm, 0.26);
        let (s2, _, t2) = approach_parts(Facing::FaceToFace, 30.0, 30.008, 0.0, warm, 0.26);
        assert!((s1 + s2).abs() < 1e-9 && (t1 + t2).abs() < 1e-9 && s1 > 0.0 && t1 < 0.0);
        assert_eq!(
            approach_parts(Facing::BackToBack, 30.0, 30.0, 0.0, None, 0.26).0,
            0.0,
            "equal spacers leave the pair as ground"
        );
    }

    proptest! {
        #[test]
        fn load_and_approach_are_inverse_and_the_slope_is_the_stiffness(angle in 10f64..45.0, force in 1f64..5000.0) {
            let b = spindle(angle);
            let d = b.approach(Newtons::of(force));
            prop_assert!((b.load(d).get() / force - 1.0).abs() < 1e-6);
            let h = d.get() * 1e-4;
            let slope = (b.load(Micrometres::of(d.get() + h)).get() - b.load(Micrometres::of(d.get() - h)).get()) / (2.0 * h);
            prop_assert!((slope / b.stiffness(d) - 1.0).abs() < 1e-4);
        }

        #[test]
        fn the_pair_curve_is_monotone(preload in 10f64..2000.0, a in 0f64..3000.0, more in 1f64..500.0) {
            let p = Pair::new(spindle(15.0), 1, 1, Newtons::of(preload));
            let (x, y) = (p.under(Newtons::of(a)), p.under(Newtons::of(a + more)));
            prop_assert!(y.shift.get() > x.shift.get() && y.load_right.get() <= x.load_right.get() + 1e-9);
            prop_assert!((x.load_left.get() - x.load_right.get() - a).abs() < 1e-3 * (1.0 + a));
        }
    }
}
