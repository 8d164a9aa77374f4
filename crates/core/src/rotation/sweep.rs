//! One sweep: least squares of what is once, twice and three times a turn.

use crate::numeric;
use crate::quantity::Micrometres;
use crate::refusal::{Refusal, Result, expect};
use std::f64::consts::PI;

/// Highest condition of the harmonic matrix that is trusted; above it the highest harmonic is left out.
const WORST_CONDITION: f64 = 100.0;

/// One harmonic: amplitude, and the angle of its (first) high spot in degrees; no angle when there is no length.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Harmonic {
    /// Amplitude.
    pub amplitude: Micrometres,
    /// Direction in [0, 360/order).
    pub degrees: Option<f64>,
}

/// A sweep, taken apart.
#[derive(Debug, Clone, PartialEq)]
pub struct Sweep {
    /// Mean of the fitted curve.
    pub mean: Micrometres,
    /// Largest less smallest reading.
    pub tir: Micrometres,
    /// The same of the fitted curve all round.
    pub fit_tir: Micrometres,
    /// Once, twice, three times a turn, as far as the angles allow.
    pub harmonics: Vec<Harmonic>,
    /// Root mean square of what is left over.
    pub rms: Micrometres,
}

#[allow(clippy::needless_range_loop)] // rows and columns of one matrix: indices say it plainly
/// 2-norm condition of a matrix, from the eigenvalues of its normal matrix (Jacobi rotations).
fn condition(rows: &[Vec<f64>]) -> f64 {
    let n = rows.first().map_or(0, Vec::len);
    let mut a = vec![vec![0.0; n]; n];
    for row in rows {
        for i in 0..n {
            for j in 0..n {
                a[i][j] += row[i] * row[j];
            }
        }
    }
    for _ in 0..60 {
        let mut off = 0.0;
        for p in 0..n {
            for q in p + 1..n {
                off += a[p][q].abs();
                if a[p][q].abs() < 1e-300 {
                    continue;
                }
                let theta = (a[q][q] - a[p][p]) / (2.0 * a[p][q]);
                let t = theta.signum() / (theta.abs() + (theta * theta + 1.0).sqrt());
                let t = if theta == 0.0 { 1.0 } else { t };
                let c = 1.0 / (t * t + 1.0).sqrt();
                let s = t * c;
                for k in 0..n {
                    let (x, y) = (a[k][p], a[k][q]);
                    a[k][p] = c * x - s * y;
                    a[k][q] = s * x + c * y;
                }
                for k in 0..n {
                    let (x, y) = (a[p][k], a[q][k]);
                    a[p][k] = c * x - s * y;
                    a[q][k] = s * x + c * y;
                }
            }
        }
        if off < 1e-14 {
            break;
        }
    }
    let eigen: Vec<f64> = (0..n).map(|i| a[i][i]).collect();
    let (lo, hi) = eigen.iter().fold((f64::INFINITY, 0.0f64), |(l, h), e| (l.min(*e), h.max(*e)));
    if lo <= 0.0 { f64::INFINITY } else { (hi / lo).sqrt() }
}

fn basis(t: f64, highest: usize) -> Vec<f64> {
    let mut row = vec![1.0];
    for k in 1..=highest {
        row.push((k as f64 * t).cos());
        row.push((k as f64 * t).sin());
    }
    row
}

/// Angle in [0, period) of a vector, none when it has no length.
pub(crate) fn direction(x: f64, y: f64, order: f64) -> Option<f64> {
    if x.hypot(y) < 1e-9 {
        return None;
    }
    let period = 360.0 / order;
    let a = (y.atan2(x).to_degrees() / order).rem_euclid(period);
    Some(if period - a < 1e-9 { 0.0 } else { a })
}

/// Amplitude of one wave of a sweep in equal steps, n times a turn. Source: discrete Fourier series.
///
/// # Errors
/// `readings_um` with too few to tell it: more than two readings a wave.
pub fn wave(readings: &[f64], n: u32) -> Result<Micrometres> {
    let (count, n) = (readings.len(), f64::from(n));
    let wanted = 2.0 * n + 1.0;
    expect(
        count as f64 >= wanted,
        "readings_um",
        format!("at least {wanted} readings in equal steps tell so many lobes"),
    )?;
    let of = |part: fn(f64) -> f64| {
        let step = std::f64::consts::TAU * n / count as f64;
        readings.iter().enumerate().map(|(k, r)| r * part(step * k as f64)).sum::<f64>() * 2.0 / count as f64
    };
    Ok(Micrometres(of(f64::cos).hypot(of(f64::sin))))
}

/// Fits the harmonics that the angles can carry: at most a third of the number of different angles, at most three,
/// fewer while the matrix is worse conditioned than 100. Source: least squares; docs/trade.md, Runout.
///
/// ```
/// use ironseat_core::rotation::sweep;
/// let readings: Vec<f64> = (0..12).map(|k| 12.0 * ((k as f64 * 30.0 - 70.0).to_radians()).cos()).collect();
/// let s = sweep(&readings, None, 9)?;
/// assert!((s.harmonics[0].amplitude.get() - 12.0).abs() < 1e-9 && (s.harmonics[0].degrees.unwrap() - 70.0).abs() < 1e-6);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `readings_um` with fewer than four; `angles_deg` of another length, with fewer than four different ones, or when not
/// even the first harmonic can be told.
pub fn sweep(readings: &[f64], angles: Option<&[f64]>, most: usize) -> Result<Sweep> {
    let n = readings.len();
    expect(n >= 4, "readings_um", "at least four readings are expected in a sweep")?;
    let Some(degrees) = angles else { return Ok(even_sweep(readings, (n / 3).min(MOST).min(most))) };
    expect(degrees.len() == n, "angles_deg", "as many angles as readings are expected")?;
    let mut different: Vec<f64> = degrees.iter().map(|a| a.rem_euclid(360.0)).collect();
    different.sort_by(f64::total_cmp);
    different.dedup_by(|a, b| (*a - *b).abs() < 1e-9);
    if different.len() > 1 && (different[0] + 360.0 - different[different.len() - 1]).abs() < 1e-9 {
        different.pop();
    }
    expect(different.len() >= 4, "angles_deg", "at least four different angles are expected")?;
    let mut highest = (different.len() / 3).min(MOST).min(most);
    let rad: Vec<f64> = degrees.iter().map(|a| a.rem_euclid(360.0).to_radians()).collect();
    let coefficients = loop {
        expect(highest >= 1, "angles_deg", "these angles lie too close together to tell a high spot")?;
        let rows: Vec<Vec<f64>> = rad.iter().map(|t| basis(*t, highest)).collect();
        if condition(&rows) <= WORST_CONDITION
            && let Some(c) = numeric::least_squares(&rows, readings)
        {
            break c;
        }
        highest -= 1;
    };
    let mut curve = Curve { mean: coefficients[0], ..Curve::default() };
    for k in 0..highest {
        curve.parts[k] = (coefficients[2 * k + 1], coefficients[2 * k + 2]);
    }
    let left: f64 = rad.iter().zip(readings).map(|(t, r)| (r - curve.at(t.cos(), t.sin())).powi(2)).sum();
    Ok(curve.sweep(readings, highest, left))
}

/// Equal steps from 0: the columns are orthogonal, so each coefficient is a sum, and angles follow by turning on.
fn even_sweep(readings: &[f64], highest: usize) -> Sweep {
    let n = readings.len() as f64;
    let (step_s, step_c) = (2.0 * PI / n).sin_cos();
    let mut curve = Curve::default();
    let (mut c, mut s) = (1.0, 0.0);
    for r in readings {
        curve.mean += r;
        let (mut ck, mut sk) = (c, s);
        for part in &mut curve.parts[..highest] {
            part.0 += r * ck;
            part.1 += r * sk;
            (ck, sk) = (ck * c - sk * s, sk * c + ck * s);
        }
        (c, s) = (c * step_c - s * step_s, s * step_c + c * step_s);
    }
    curve.mean /= n;
    for part in &mut curve.parts {
        *part = (part.0 * 2.0 / n, part.1 * 2.0 / n);
    }
    let (mut c, mut s, mut left) = (1.0, 0.0, 0.0);
    for r in readings {
        left += (r - curve.at(c, s)).powi(2);
        (c, s) = (c * step_c - s * step_s, s * step_c + c * step_s);
    }
    curve.sweep(readings, highest, left)
}

/// Highest harmonic that is ever fitted.
const MOST: usize = 3;

/// The fitted curve.
#[derive(Debug, Clone, Copy, Default)]
struct Curve {
    mean: f64,
    /// Cosine and sine part of each harmonic.
    parts: [(f64, f64); MOST],
}

impl Curve {
    /// Value at the angle of this cosine and sine.
    fn at(&self, c: f64, s: f64) -> f64 {
        let (mut ck, mut sk, mut sum) = (c, s, self.mean);
        for (a, b) in self.parts {
            sum += a * ck + b * sk;
            (ck, sk) = (ck * c - sk * s, sk * c + ck * s);
        }
        sum
    }

    /// Largest less smallest value all round: looked for in steps of 10°, then polished by Newton's steps on the slope.
    fn span(&self) -> f64 {
        const STEPS: usize = 36;
        if self.parts[1..].iter().all(|p| *p == (0.0, 0.0)) {
            return 2.0 * self.parts[0].0.hypot(self.parts[0].1);
        }
        let (step_s, step_c) = (2.0 * PI / STEPS as f64).sin_cos();
        let (mut c, mut s) = (1.0, 0.0);
        let mut values = [0.0; STEPS];
        for v in &mut values {
            *v = self.at(c, s);
            (c, s) = (c * step_c - s * step_s, s * step_c + c * step_s);
        }
        let side = |k: usize| (values[(k + STEPS - 1) % STEPS], values[(k + 1) % STEPS]);
        let (mut lo, mut hi) = (f64::INFINITY, f64::NEG_INFINITY);
        for (k, v) in values.iter().enumerate() {
            let (before, after) = side(k);
            if (*v >= before && *v >= after) || (*v <= before && *v <= after) {
                let peak = self.polished(2.0 * PI * k as f64 / STEPS as f64);
                lo = lo.min(peak.min(*v));
                hi = hi.max(peak.max(*v));
            }
        }
        hi - lo
    }

    /// The value where the slope vanishes near an angle.
    fn polished(&self, from: f64) -> f64 {
        let mut t = from;
        for _ in 0..4 {
            let (s, c) = t.sin_cos();
            let (mut ck, mut sk, mut slope, mut bend) = (c, s, 0.0, 0.0);
            for (k, (a, b)) in (1..).zip(self.parts) {
                let k = f64::from(k);
                slope += k * (b * ck - a * sk);
                bend -= k * k * (a * ck + b * sk);
                (ck, sk) = (ck * c - sk * s, sk * c + ck * s);
            }
            let step = if bend == 0.0 { 0.0 } else { slope / bend };
            // Never farther than the neighbours that were looked at.
            t = (t - step).clamp(from - 0.18, from + 0.18);
        }
        let (s, c) = t.sin_cos();
        self.at(c, s)
    }

    fn sweep(&self, readings: &[f64], highest: usize, squares_left: f64) -> Sweep {
        let (lo, hi) = readings.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), x| (l.min(*x), h.max(*x)));
        let harmonics = (1..=highest)
            .map(|k| {
                let (a, b) = self.parts[k - 1];
                Harmonic { amplitude: Micrometres(a.hypot(b)), degrees: direction(a, b, k as f64) }
            })
            .collect();
        Sweep {
            mean: Micrometres(self.mean),
            tir: Micrometres(hi - lo),
            fit_tir: Micrometres(self.span()),
            harmonics,
            rms: Micrometres((squares_left / readings.len() as f64).sqrt()),
        }
    }
}

/// Mean, first harmonic and size of the second of values around a wheel.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Around {
    pub mean: f64,
    pub first: (f64, f64),
    pub second: Option<f64>,
}

/// Fits values around a wheel: offset, and the oval from six different angles on, while the matrix is well conditioned.
pub(crate) fn around(values: &[f64], degrees: &[f64]) -> Result<Around> {
    let mut different: Vec<f64> = degrees.iter().map(|a| a.rem_euclid(360.0)).collect();
    different.sort_by(f64::total_cmp);
    different.dedup_by(|a, b| (*a - *b).abs() < 1e-9);
    let rad: Vec<f64> = degrees.iter().map(|a| a.rem_euclid(360.0).to_radians()).collect();
    for highest in [2, 1] {
        if highest == 2 && different.len() < 6 {
            continue;
        }
        let rows: Vec<Vec<f64>> = rad.iter().map(|t| basis(*t, highest)).collect();
        if different.len() >= 3
            && condition(&rows) <= WORST_CONDITION
            && let Some(c) = numeric::least_squares(&rows, values)
        {
            return Ok(Around { mean: c[0], first: (c[1], c[2]), second: (highest == 2).then(|| c[3].hypot(c[4])) });
        }
    }
    Err(Refusal::new("angles_deg", "these angles lie too close together to tell an offset"))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn a_pure_cosine_gives_one_harmonic_and_turns_with_its_angles(amp in 1f64..50.0, phase in 0f64..360.0, turn in 0f64..360.0, offset in -100f64..100.0) {
            let angles: Vec<f64> = (0..12).map(|k| f64::from(k) * 30.0).collect();
            let r: Vec<f64> = angles.iter().map(|a| offset + amp * (a - phase).to_radians().cos()).collect();
            let s = sweep(&r, Some(&angles), 3).unwrap();
            prop_assert!((s.harmonics[0].amplitude.get() - amp).abs() < 1e-9 && s.harmonics[1].amplitude.get() < 1e-9 && s.rms.get() < 1e-9);
            let turned: Vec<f64> = angles.iter().map(|a| a + turn).collect();
            let t = sweep(&r, Some(&turned), 3).unwrap();
            let diff = (t.harmonics[0].degrees.unwrap() - s.harmonics[0].degrees.unwrap() - turn).rem_euclid(360.0);
            prop_assert!(!(1e-6..=360.0 - 1e-6).contains(&diff));
            let lifted: Vec<f64> = r.iter().map(|v| v + 7.0).collect();
            prop_assert!((sweep(&lifted, None, 3).unwrap().tir.get() - s.tir.get()).abs() < 1e-9);
        }
    }

    proptest! {
        /// The quick way for equal steps and the general one are the same least squares.
        #[test]
        fn equal_steps_are_fitted_like_typed_ones(r in prop::collection::vec(-40.0f64..40.0, 4..40)) {
            let n = r.len();
            let angles: Vec<f64> = (0..n).map(|k| 360.0 * k as f64 / n as f64).collect();
            let (quick, typed) = (sweep(&r, None, 3).unwrap(), sweep(&r, Some(&angles), 3).unwrap());
            prop_assert_eq!(quick.harmonics.len(), typed.harmonics.len());
            for (a, b) in quick.harmonics.iter().zip(&typed.harmonics) {
                prop_assert!((a.amplitude.0 - b.amplitude.0).abs() < 1e-8);
            }
            for (a, b) in [(quick.mean, typed.mean), (quick.rms, typed.rms), (quick.fit_tir, typed.fit_tir), (quick.tir, typed.tir)] {
                prop_assert!((a.0 - b.0).abs() < 1e-8, "{a:?} {b:?}");
            }
            // The span is what a close look all round finds, and never less.
            let curve = |t: f64| typed.mean.0 + typed.harmonics.iter().zip(1..).map(|(h, k)| h.amplitude.0 * (f64::from(k) * (t - h.degrees.unwrap_or(0.0)).to_radians()).cos()).sum::<f64>();
            let all: Vec<f64> = (0..3600).map(|k| curve(f64::from(k) / 10.0)).collect();
            let span = all.iter().fold(f64::NEG_INFINITY, |a, b| a.max(*b)) - all.iter().fold(f64::INFINITY, |a, b| a.min(*b));
            prop_assert!(quick.fit_tir.0 >= span - 1e-9 && quick.fit_tir.0 < span + 1e-3, "{} {span}", quick.fit_tir.0);
        }
    }
}
