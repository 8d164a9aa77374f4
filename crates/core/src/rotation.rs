//! Runout: what the indicator says, and why (handbook 04).

use crate::quantity::{Micrometres, Millimetres};
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

/// Least squares, normal equations with full pivoting by Cholesky on the small symmetric matrix; `None` when singular.
#[allow(clippy::needless_range_loop)] // two rows of one matrix: indices say it plainly
pub(crate) fn least_squares(rows: &[Vec<f64>], values: &[f64]) -> Option<Vec<f64>> {
    let n = rows.first()?.len();
    let mut a = vec![vec![0.0; n + 1]; n];
    for (row, v) in rows.iter().zip(values) {
        for i in 0..n {
            for j in 0..n {
                a[i][j] += row[i] * row[j];
            }
            a[i][n] += row[i] * v;
        }
    }
    let scale = (0..n).map(|i| a[i][i]).fold(0.0, f64::max);
    for k in 0..n {
        let p = (k..n).max_by(|x, y| a[*x][k].abs().total_cmp(&a[*y][k].abs()))?;
        if a[p][k].abs() <= 1e-12 * scale {
            return None;
        }
        a.swap(k, p);
        for i in 0..n {
            if i != k {
                let f = a[i][k] / a[k][k];
                for j in k..=n {
                    a[i][j] -= f * a[k][j];
                }
            }
        }
    }
    Some((0..n).map(|i| a[i][n] / a[i][i]).collect())
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

/// Fits the harmonics that the angles can carry: at most a third of the number of different angles, at most three, fewer
/// while the matrix is worse conditioned than 100. Source: least squares; handbook 04.
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
    let even: Vec<f64>;
    let degrees = match angles {
        Some(a) => {
            expect(a.len() == n, "angles_deg", "as many angles as readings are expected")?;
            a
        }
        None => {
            even = (0..n).map(|k| 360.0 * k as f64 / n as f64).collect();
            &even
        }
    };
    let mut different: Vec<f64> = degrees.iter().map(|a| a.rem_euclid(360.0)).collect();
    different.sort_by(f64::total_cmp);
    different.dedup_by(|a, b| (*a - *b).abs() < 1e-9);
    if different.len() > 1 && (different[0] + 360.0 - different[different.len() - 1]).abs() < 1e-9 {
        different.pop();
    }
    expect(different.len() >= 4, "angles_deg", "at least four different angles are expected")?;
    let mut highest = (different.len() / 3).min(3).min(most);
    let rad: Vec<f64> = degrees.iter().map(|a| a.rem_euclid(360.0).to_radians()).collect();
    let coefficients = loop {
        expect(highest >= 1, "angles_deg", "these angles lie too close together to tell a high spot")?;
        let rows: Vec<Vec<f64>> = rad.iter().map(|t| basis(*t, highest)).collect();
        if condition(&rows) <= WORST_CONDITION
            && let Some(c) = least_squares(&rows, readings)
        {
            break c;
        }
        highest -= 1;
    };
    let curve = |t: f64| basis(t, highest).iter().zip(&coefficients).map(|(b, c)| b * c).sum::<f64>();
    let rms = (rad.iter().zip(readings).map(|(t, r)| (r - curve(*t)).powi(2)).sum::<f64>() / n as f64).sqrt();
    let span = |v: &mut dyn Iterator<Item = f64>| {
        let (lo, hi) = v.fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), x| (l.min(x), h.max(x)));
        hi - lo
    };
    let harmonics: Vec<Harmonic> = (1..=highest)
        .map(|k| {
            let (a, b) = (coefficients[2 * k - 1], coefficients[2 * k]);
            Harmonic { amplitude: Micrometres(a.hypot(b)), degrees: direction(a, b, k as f64) }
        })
        .collect();
    // A pure first harmonic has its span exactly; otherwise look all round in half degrees.
    let fit_tir = if highest == 1 { 2.0 * harmonics[0].amplitude.0 } else { span(&mut (0..720).map(|k| curve(f64::from(k) * PI / 360.0))) };
    Ok(Sweep {
        mean: Micrometres(coefficients[0]),
        tir: Micrometres(span(&mut readings.iter().copied())),
        fit_tir: Micrometres(fit_tir),
        harmonics,
        rms: Micrometres(rms),
    })
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
            && let Some(c) = least_squares(&rows, values)
        {
            return Ok(Around { mean: c[0], first: (c[1], c[2]), second: (highest == 2).then(|| c[3].hypot(c[4])) });
        }
    }
    Err(Refusal::new("angles_deg", "these angles lie too close together to tell an offset"))
}

/// An axis vector at a station.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Station {
    pub z: Millimetres,
    pub x: Micrometres,
    pub y: Micrometres,
}

/// What several stations say together.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Line {
    pub offset: (f64, f64),
    /// µm per mm.
    pub tilt: (f64, f64),
    /// Remainder at the station nearest to the middle; none with two stations.
    pub bow: Option<(f64, f64)>,
    pub cause: Cause,
}

/// The pattern.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Cause {
    True,
    Bow,
    Tilt,
    OffsetAndTilt,
    Offset,
}

impl Cause {
    /// Name in the contract.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::True => "true",
            Self::Bow => "bow",
            Self::Tilt => "tilt",
            Self::OffsetAndTilt => "offset_and_tilt",
            Self::Offset => "offset",
        }
    }
}

impl Line {
    /// Runout to be expected at another station: twice the length of the line there.
    #[must_use]
    pub fn predict(&self, z: Millimetres) -> Micrometres {
        Micrometres(2.0 * (self.offset.0 + self.tilt.0 * z.0).hypot(self.offset.1 + self.tilt.1 * z.0))
    }
}

/// Fits a line through the axis vectors: offset, tilt, and what is left in the middle. Source: complex least squares; handbook 04.
///
/// # Errors
/// `stations` with fewer than two different places.
pub fn line(stations: &[Station], seat_z: Option<Millimetres>, u: Micrometres) -> Result<Line> {
    expect(stations.len() >= 2, "stations", "at least two stations are expected")?;
    let (lo, hi) = stations.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), s| (l.min(s.z.0), h.max(s.z.0)));
    expect(hi > lo, "stations", "at least two different places along the shaft are expected")?;
    let n = stations.len() as f64;
    let z0 = stations.iter().map(|s| s.z.0).sum::<f64>() / n;
    let zz: f64 = stations.iter().map(|s| (s.z.0 - z0).powi(2)).sum();
    let fit = |v: &dyn Fn(&Station) -> f64| {
        let mean = stations.iter().map(v).sum::<f64>() / n;
        let slope = stations.iter().map(|s| (s.z.0 - z0) * v(s)).sum::<f64>() / zz;
        (mean - slope * z0, slope)
    };
    let ((ox, tx), (oy, ty)) = (fit(&|s| s.x.0), fit(&|s| s.y.0));
    let middle = f64::midpoint(lo, hi);
    let bow = (stations.len() > 2).then(|| {
        let s =
            stations.iter().fold(stations[0], |best, s| if (s.z.0 - middle).abs() < (best.z.0 - middle).abs() - 1e-12 { *s } else { best });
        (s.x.0 - ox - tx * s.z.0, s.y.0 - oy - ty * s.z.0)
    });
    let largest = stations.iter().map(|s| s.x.0.hypot(s.y.0)).fold(0.0, f64::max);
    let seat = seat_z.map_or(lo, |z| z.0);
    let (t, o) = (tx.hypot(ty) * (hi - lo), (ox + tx * seat).hypot(oy + ty * seat));
    let b = bow.map_or(0.0, |(x, y)| x.hypot(y));
    let slack = crate::instrument::SLACK;
    let cause = if largest <= u.0 + slack {
        Cause::True
    } else if b > u.0 + slack && b > largest / 2.0 {
        Cause::Bow
    } else if t > u.0 + slack && o <= u.0.max(t / 4.0) + slack {
        Cause::Tilt
    } else if t > u.0 + slack {
        Cause::OffsetAndTilt
    } else {
        Cause::Offset
    };
    Ok(Line { offset: (ox, oy), tilt: (tx, ty), bow, cause })
}

/// Turning two marked high spots against each other.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Clocking {
    pub best_tir: Micrometres,
    pub present_tir: Micrometres,
    /// Angle off best that makes it 10 % more.
    pub tolerance_deg: f64,
}

/// Nose runout of a spindle from the eccentricities of its bearings: N = E_f·(1 + a/b) - E_r·(a/b). Best with both
/// marks in one plane on one side. Source: handbook 04.
///
/// # Errors
/// `overhang_mm` below 0 or `span_mm` not above 0.
pub fn clocking(front: Micrometres, rear: Micrometres, overhang: Millimetres, span: Millimetres, present_deg: f64) -> Result<Clocking> {
    expect(overhang.0 > 0.0, "overhang_mm", "expected an overhang above 0")?;
    expect(span.0 > 0.0, "span_mm", "expected a span above 0")?;
    let k = overhang.0 / span.0;
    let (f, r) = (front.0 * (1.0 + k), rear.0 * k);
    let tir = |deg: f64| 2.0 * (f * f + r * r - 2.0 * f * r * deg.to_radians().cos()).max(0.0).sqrt();
    let best = 2.0 * (f - r).abs();
    let tolerance = if f.max(r) == 0.0 {
        180.0
    } else if best <= 1e-9 {
        0.0
    } else {
        let wanted = (1.1 * best / 2.0).powi(2);
        let cos = (f * f + r * r - wanted) / (2.0 * f * r);
        if f * r == 0.0 || cos < -1.0 { 180.0 } else { cos.clamp(-1.0, 1.0).acos().to_degrees() }
    };
    Ok(Clocking { best_tir: Micrometres(best), present_tir: Micrometres(tir(present_deg)), tolerance_deg: tolerance })
}

/// How much a vee-block of an included angle magnifies n lobes, indicator on the bisector:
/// |1 + (-1)^n·cos(n·(90° - half))/sin(half)|. Source: support function of the lobed profile; handbook 02.
///
/// ```
/// use ironseat_core::rotation::vee_factor;
/// assert!((vee_factor(60.0, 3)? - 3.0).abs() < 1e-12 && (vee_factor(90.0, 5)? - 2.0).abs() < 1e-12);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `angle_deg` outside (0, 180); `lobes` below 2.
pub fn vee_factor(angle_deg: f64, lobes: u32) -> Result<f64> {
    expect(angle_deg > 0.0 && angle_deg < 180.0, "angle_deg", "expected an included angle above 0 and below 180 degrees")?;
    expect(lobes >= 2, "lobes", "expected two lobes or more")?;
    let half = (angle_deg / 2.0).to_radians();
    let sign = if lobes.is_multiple_of(2) { 1.0 } else { -1.0 };
    Ok((1.0 + sign * (f64::from(lobes) * (PI / 2.0 - half)).cos() / half.sin()).abs())
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn the_handbooks_vee_values_hold() {
        for (angle, values) in [
            (90.0, &[(2, 1.0), (3, 2.0), (4, 0.41), (5, 2.0), (6, 1.0), (7, 0.0), (8, 2.41), (9, 0.0), (10, 1.0)][..]),
            (60.0, &[(3, 3.0), (6, 3.0), (9, 3.0), (4, 0.0), (5, 0.0), (7, 0.0)]),
            (120.0, &[(2, 1.58), (3, 1.0), (4, 0.42), (5, 2.0), (6, 0.15), (7, 2.0)]),
        ] {
            for (n, want) in values {
                assert!((vee_factor(angle, *n).unwrap() - want).abs() < 0.006, "{angle} {n}");
            }
        }
    }

    /// The factor measured: a lobed profile is laid into a vee and turned, the indicator read on the bisector.
    #[test]
    fn a_lobed_shaft_turned_in_a_vee_reads_the_factor() {
        for (angle, n) in [(60.0f64, 3u32), (120.0, 2), (120.0, 6), (108.0, 5), (72.0, 7), (90.0, 3)] {
            let half = (angle / 2.0).to_radians();
            let read = |turn: f64| {
                let support = |dir: f64| 10.0 + 0.001 * (f64::from(n) * (dir - turn)).cos();
                // Flanks touch where their normals point: 90° - half away from straight down, on both sides.
                let (l, r) = (support(-PI / 2.0 - (PI / 2.0 - half)), support(-PI / 2.0 + (PI / 2.0 - half)));
                (l + r) / (2.0 * half.sin()) + support(PI / 2.0)
            };
            let all: Vec<f64> = (0..3600).map(|k| read(f64::from(k) * PI / 1800.0)).collect();
            let tir = all.iter().fold(f64::NEG_INFINITY, |a, b| a.max(*b)) - all.iter().fold(f64::INFINITY, |a, b| a.min(*b));
            assert!((tir / 0.002 - vee_factor(angle, n).unwrap()).abs() < 1e-3, "{angle} {n}: {}", tir / 0.002);
        }
    }

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
}
