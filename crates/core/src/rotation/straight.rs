//! The straightness sheet: a sweep at each of several stations along the axis.

use super::{Harmonic, sweep};
use crate::quantity::{Micrometres, Millimetres};
use crate::refusal::{Result, expect};

/// How straight a shaft is.
#[derive(Debug, Clone, PartialEq)]
pub struct Straightness {
    /// Axis vector at each station, µm, less the line through the end stations.
    pub off_line: Vec<(f64, f64)>,
    /// Largest distance of the axis from the line through its ends, and at which station.
    pub bow: Micrometres,
    /// Index of that station.
    pub at: usize,
    /// Plane of the bow, degrees from the mark; none when straight.
    pub plane_deg: Option<f64>,
    /// Whether the stations agree on the plane: a bend lies in one plane, a twisted shaft does not.
    pub one_plane: bool,
}

/// Bow of a shaft from the first harmonic of a sweep at each station: the axis vectors less the line through the first
/// and last station, where the shaft is carried. `u` is the uncertainty of an axis vector. Source: docs/trade.md,
/// Measuring and Runout.
///
/// ```
/// use ironseat_core::{quantity::{Micrometres, Millimetres}, rotation::straightness};
/// let ring = |e: f64| (0..8).map(|k| e * (f64::from(k) * 45.0 - 90.0).to_radians().cos()).collect::<Vec<_>>();
/// let s = straightness(&[(Millimetres::of(0.0), ring(0.0)), (Millimetres::of(200.0), ring(15.0)), (Millimetres::of(400.0), ring(0.0))], Micrometres::of(2.0))?;
/// assert!((s.bow.get() - 15.0).abs() < 1e-9 && (s.plane_deg.unwrap() - 90.0).abs() < 1e-6 && s.at == 1);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `stations` with fewer than three or places that do not rise; what [`sweep()`] refuses.
pub fn straightness(stations: &[(Millimetres, Vec<f64>)], u: Micrometres) -> Result<Straightness> {
    expect(stations.len() >= 3, "stations", "at least three stations are expected: the ends carry the shaft")?;
    expect(stations.windows(2).all(|w| w[1].0.0 > w[0].0.0), "stations", "expected places to rise along the shaft")?;
    let axis = stations
        .iter()
        .map(|(_, r)| Ok(sweep(r, None, 1)?.harmonics.first().map_or((0.0, 0.0), vector)))
        .collect::<Result<Vec<_>>>()?;
    let (first, last) = (0, stations.len() - 1);
    let (z0, z1) = (stations[first].0.0, stations[last].0.0);
    let off_line: Vec<(f64, f64)> = stations
        .iter()
        .zip(&axis)
        .map(|((z, _), e)| {
            let f = (z.0 - z0) / (z1 - z0);
            (e.0 - axis[first].0 * (1.0 - f) - axis[last].0 * f, e.1 - axis[first].1 * (1.0 - f) - axis[last].1 * f)
        })
        .collect();
    let at = (0..off_line.len())
        .fold(0, |best, k| if length(off_line[k]) > length(off_line[best]) + 1e-12 { k } else { best });
    let bow = length(off_line[at]);
    let (bx, by) = off_line[at];
    // Across the plane of the bow nothing should be left but what the indicator cannot see.
    let one_plane = bow <= u.0 || off_line.iter().all(|(x, y)| ((x * by - y * bx) / bow).abs() <= u.0.max(bow / 4.0));
    Ok(Straightness { bow: Micrometres(bow), at, plane_deg: super::direction(bx, by, 1.0), one_plane, off_line })
}

fn vector(h: &Harmonic) -> (f64, f64) {
    h.degrees.map_or((0.0, 0.0), |d| (h.amplitude.0 * d.to_radians().cos(), h.amplitude.0 * d.to_radians().sin()))
}

fn length((x, y): (f64, f64)) -> f64 {
    x.hypot(y)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn ring(x: f64, y: f64) -> Vec<f64> {
        (0..12).map(|k| (f64::from(k) * 30.0).to_radians()).map(|t| x * t.cos() + y * t.sin()).collect()
    }

    proptest! {
        #[test]
        fn setting_the_shaft_over_or_askew_does_not_bend_it(bow in 3.0f64..40.0, ox in -30.0f64..30.0, tx in -0.1f64..0.1, ty in -0.1f64..0.1) {
            let shaft = |shape: &dyn Fn(f64) -> (f64, f64)| -> Straightness {
                let s: Vec<_> = [0.0, 100.0, 200.0, 300.0].map(|z| { let (x, y) = shape(z); (Millimetres(z), ring(x, y)) }).to_vec();
                straightness(&s, Micrometres(1.0)).unwrap()
            };
            let bent = |z: f64| bow * (z * std::f64::consts::PI / 300.0).sin();
            let (plain, askew) = (shaft(&|z| (0.0, bent(z))), shaft(&|z| (ox + tx * z, ty * z + bent(z))));
            prop_assert!((plain.bow.0 - askew.bow.0).abs() < 1e-6 && askew.one_plane);
            prop_assert!((askew.plane_deg.unwrap() - 90.0).abs() < 1e-3);
        }
    }

    #[test]
    fn a_twisted_shaft_is_told_from_a_bent_one() {
        let s = [(0.0, 0.0, 0.0), (100.0, 20.0, 0.0), (200.0, 0.0, 20.0), (300.0, 0.0, 0.0)]
            .map(|(z, x, y)| (Millimetres(z), ring(x, y)));
        assert!(!straightness(&s, Micrometres(2.0)).unwrap().one_plane);
        assert_eq!(straightness(&s[..2], Micrometres(2.0)).unwrap_err().field, "stations");
    }
}
