//! Several readings of one thing, and readings of warm parts (docs/trade.md, Measuring).

use crate::fit::Material;
use crate::instrument::SLACK;
use crate::quantity::{Celsius, Micrometres, Millimetres};
use crate::refusal::{Result, expect};

/// What repeated readings say before anything is concluded from them.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Repeats {
    /// Mean of the readings.
    pub mean: f64,
    /// Largest less smallest.
    pub range: f64,
    /// Standard deviation of one reading; none with a single one.
    pub deviation: Option<f64>,
    /// The range is larger than the uncertainty: repeat it, the set-up moves.
    pub moves: bool,
}

/// Mean, range and standard deviation of repeated readings in any one unit; `u` is the expanded uncertainty (k = 2) of
/// the instrument. Source: docs/trade.md, Measuring.
///
/// ```
/// let r = ironseat_core::readings::repeats(&[40.012, 40.013, 40.011], 0.003)?;
/// assert!(!r.moves && (r.range - 0.002).abs() < 1e-9 && (r.deviation.unwrap() - 0.001).abs() < 1e-9);
/// assert!(ironseat_core::readings::repeats(&[40.012, 40.018], 0.003)?.moves);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `readings` when empty or not finite; `u` when negative.
pub fn repeats(readings: &[f64], u: f64) -> Result<Repeats> {
    expect(
        !readings.is_empty() && readings.iter().all(|r| r.is_finite()),
        "readings",
        "at least one finite reading is expected",
    )?;
    expect(u >= 0.0, "u", "an uncertainty is 0 or more")?;
    let n = readings.len() as f64;
    let mean = readings.iter().sum::<f64>() / n;
    let (lo, hi) = readings.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), r| (l.min(*r), h.max(*r)));
    let squares: f64 = readings.iter().map(|r| (r - mean).powi(2)).sum();
    Ok(Repeats {
        mean,
        range: hi - lo,
        deviation: (readings.len() > 1).then(|| (squares / (n - 1.0)).sqrt()),
        moves: hi - lo > u + SLACK,
    })
}

/// A length brought to 20 °C.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AtTwenty {
    /// The length at 20 °C.
    pub length: Millimetres,
    /// What was added, alpha·L·(20 - T).
    pub correction: Micrometres,
    /// Part and gauge differ by more than a tenth of the tolerance: let them stand together.
    pub matters: bool,
}

/// Brings a reading of a warm part to 20 °C. The gauge was set to read true at its own temperature `gauge`; what it
/// shows is short by the part's growth and long by its own. Source: ISO 1; docs/trade.md, Measuring.
///
/// ```
/// use ironseat_core::{fit::Material, quantity::{Celsius, Micrometres, Millimetres}, readings::at_twenty};
/// // A 100 mm steel journal measured at 30 °C with a gauge at 20 °C reads 11.5 µm too large.
/// let a = at_twenty(Millimetres::of(100.0115), Material::CarbonSteel, Celsius::of(30.0), Celsius::of(20.0), Micrometres::of(22.0));
/// assert!((a.length.get() - 100.0).abs() < 1e-5 && a.matters);
/// ```
#[must_use]
pub fn at_twenty(
    read: Millimetres,
    part: Material,
    part_c: Celsius,
    gauge_c: Celsius,
    tolerance: Micrometres,
) -> AtTwenty {
    // Gauges are of steel of the bearing kind: the bench's micrometers and setting rings.
    let growth = part.expansion() * (part_c.0 - 20.0) - Material::BearingSteel.expansion() * (gauge_c.0 - 20.0);
    let correction = Micrometres(-read.0 * growth * 1000.0);
    AtTwenty {
        length: Millimetres(read.0 + correction.0 / 1000.0),
        correction,
        matters: correction.0.abs() > tolerance.0.abs() / 10.0 + SLACK,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn a_shift_moves_the_mean_and_leaves_range_and_deviation(v in prop::collection::vec(-5.0f64..5.0, 2..9), by in -9.0f64..9.0) {
            let a = repeats(&v, 0.1).unwrap();
            let b = repeats(&v.iter().map(|x| x + by).collect::<Vec<_>>(), 0.1).unwrap();
            prop_assert!((b.mean - a.mean - by).abs() < 1e-9 && (a.range - b.range).abs() < 1e-9);
            prop_assert!((a.deviation.unwrap() - b.deviation.unwrap()).abs() < 1e-9);
            prop_assert!(a.deviation.unwrap() <= a.range + 1e-12);
        }

        #[test]
        fn part_and_gauge_of_one_steel_at_one_temperature_need_no_correction(l in 1.0f64..500.0, t in 5.0f64..60.0) {
            let a = at_twenty(Millimetres(l), Material::BearingSteel, Celsius(t), Celsius(t), Micrometres(10.0));
            prop_assert!(a.correction.0.abs() < 1e-9 && !a.matters);
        }
    }

    #[test]
    fn nothing_to_repeat_is_refused() {
        assert_eq!(repeats(&[], 0.1).unwrap_err().field, "readings");
        assert_eq!(repeats(&[1.0], -0.1).unwrap_err().field, "u");
        assert_eq!(repeats(&[1.0], 0.1).unwrap().deviation, None);
    }
}
