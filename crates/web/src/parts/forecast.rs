//! A forecast in the units of whoever reads.

use ironseat_core::foreseen::ForecastKind;
use ironseat_core::quantity::Units;
use ironseat_core::reckon::shown;

/// A figure of a forecast in a person's units.
pub fn value(kind: ForecastKind, v: f64, units: Units) -> String {
    let (number, unit) = shown(kind.field(), v, units);
    format!("{number} {unit}")
}
