//! Turning high spots against each other.

use crate::quantity::{Micrometres, Millimetres};
use crate::refusal::{Result, expect};

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
/// marks in one plane on one side. Source: docs/trade.md, Runout.
///
/// # Errors
/// `overhang_mm` below 0 or `span_mm` not above 0.
pub fn clocking(
    front: Micrometres,
    rear: Micrometres,
    overhang: Millimetres,
    span: Millimetres,
    present_deg: f64,
) -> Result<Clocking> {
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

/// What remains when a ring's high spot is put over the low spot of its seat: |e_s - e_r|. Source: docs/trade.md,
/// Runout.
///
/// ```
/// use ironseat_core::{quantity::Micrometres, rotation::ring_on_seat};
/// assert_eq!(ring_on_seat(Micrometres::of(4.0), Micrometres::of(3.0)).get(), 1.0);
/// ```
#[must_use]
pub fn ring_on_seat(seat: Micrometres, ring: Micrometres) -> Micrometres {
    Micrometres((seat.0 - ring.0).abs())
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// Against the vectors turned by hand: no angle between the marks is better than none.
        #[test]
        fn both_marks_in_one_line_are_best(f in 0.0f64..20.0, r in 0.0f64..20.0, a in 1.0f64..200.0, b in 10.0f64..300.0, deg in 0.0f64..360.0) {
            let c = clocking(Micrometres(f), Micrometres(r), Millimetres(a), Millimetres(b), deg).unwrap();
            let (x, y) = (f * (1.0 + a / b) - r * (a / b) * deg.to_radians().cos(), -r * (a / b) * deg.to_radians().sin());
            prop_assert!((c.present_tir.0 - 2.0 * x.hypot(y)).abs() < 1e-6);
            prop_assert!(c.best_tir.0 <= c.present_tir.0 + 1e-9);
            let at = |d| clocking(Micrometres(f), Micrometres(r), Millimetres(a), Millimetres(b), d).unwrap().present_tir.0;
            if c.tolerance_deg > 0.0 && c.tolerance_deg < 180.0 {
                prop_assert!((at(c.tolerance_deg) / c.best_tir.0 - 1.1).abs() < 1e-6);
            }
        }
    }
}
