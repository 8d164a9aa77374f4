//! Lobes in a vee-block.

use crate::refusal::{Result, expect};
use std::f64::consts::PI;

/// How much a vee-block of an included angle magnifies n lobes, indicator on the bisector:
/// |1 + (-1)^n·cos(n·(90° - half))/sin(half)|. Source: support function of the lobed profile; docs/trade.md, Measuring.
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
    expect(
        angle_deg > 0.0 && angle_deg < 180.0,
        "angle_deg",
        "expected an included angle above 0 and below 180 degrees",
    )?;
    expect(lobes >= 2, "lobes", "expected two lobes or more")?;
    let half = (angle_deg / 2.0).to_radians();
    let sign = if lobes.is_multiple_of(2) { 1.0 } else { -1.0 };
    Ok((1.0 + sign * (f64::from(lobes) * (PI / 2.0 - half)).cos() / half.sin()).abs())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_known_vee_values_hold() {
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
            let tir =
                all.iter().fold(f64::NEG_INFINITY, |a, b| a.max(*b)) - all.iter().fold(f64::INFINITY, |a, b| a.min(*b));
            assert!((tir / 0.002 - vee_factor(angle, n).unwrap()).abs() < 1e-3, "{angle} {n}: {}", tir / 0.002);
        }
    }
}
