//! Clearance left in a bearing once both rings are fitted.

use super::lame::stiffness;
use super::{Finish, Material, School};
use crate::quantity::{Kelvins, Micrometres, Millimetres};
use crate::refusal::{Result, expect};
use serde::{Deserialize, Serialize};

/// A bearing between its shaft and its housing.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct FittedBearing {
    pub d: Millimetres,
    pub inner_raceway: Millimetres,
    pub outer_raceway: Millimetres,
    pub outer: Millimetres,
    pub shaft_bore: Millimetres,
    /// None: thick, taken as infinite.
    pub housing_outside: Option<Millimetres>,
    pub shaft: Material,
    pub housing: Material,
    /// Interference (min, max) on the shaft; negative is clearance.
    pub shaft_delta: (Micrometres, Micrometres),
    /// Interference (min, max) in the housing.
    pub housing_delta: (Micrometres, Micrometres),
    /// Internal clearance (min, max) of the group before fitting.
    pub clearance: (Micrometres, Micrometres),
    /// How much hotter the inner ring runs than the outer.
    pub inner_hotter: Kelvins,
    pub finish: Finish,
    /// A bearing that is meant to run preloaded is never stopped for lack of clearance.
    pub preload_meant: bool,
}

/// Whether a bearing can run with what is left.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum ClearanceCall {
    Go,
    LookAgain,
    Stop,
}

/// What is left.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct ClearanceLeft {
    /// Clearance of the group before anything is fitted.
    pub group: (Micrometres, Micrometres),
    /// Growth of the inner raceway (min, max).
    pub growth: (Micrometres, Micrometres),
    /// Closing of the outer raceway (min, max).
    pub closing: (Micrometres, Micrometres),
    /// Lost to the hotter inner ring.
    pub heat: Micrometres,
    /// Left over: least, most.
    pub left: (Micrometres, Micrometres),
    /// Middle of the two.
    pub mean: Micrometres,
    /// The verdict.
    pub call: ClearanceCall,
    /// Left in the upper half of the group.
    pub large: bool,
}

/// Reckons the clearance left. Growth and closing after Lamé with bearing-steel rings, diameter rule on both seats.
/// Stop when the mean is below 0; look again when the least is below 2 µm. Source: docs/trade.md, Fits and heat.
///
/// # Errors
/// Sizes must rise d < inner raceway < outer raceway < outside < housing: the larger one of the first pair that does
/// not is named; `shaft_bore_mm` not below d; the `max` field of reversed limits.
pub fn clearance_left(b: &FittedBearing) -> Result<ClearanceLeft> {
    let housing = b.housing_outside.map_or(f64::INFINITY, |h| h.0);
    expect(
        b.shaft_bore.0 >= 0.0 && b.shaft_bore.0 < b.d.0,
        "shaft_bore_mm",
        "expected the bore of the shaft to be smaller than the bearing's bore",
    )?;
    for (small, large, field) in [
        (b.d.0, b.inner_raceway.0, "inner_raceway_mm"),
        (b.inner_raceway.0, b.outer_raceway.0, "outer_raceway_mm"),
        (b.outer_raceway.0, b.outer.0, "outer_mm"),
        (b.outer.0, housing, "housing_outside_mm"),
    ] {
        expect(
            small < large,
            field,
            "expected sizes to rise from the bore over both raceways and the outside to the housing",
        )?;
    }
    for ((lo, hi), field) in [
        (b.shaft_delta, "shaft_delta_max_um"),
        (b.housing_delta, "housing_delta_max_um"),
        (b.clearance, "clearance_max_um"),
    ] {
        expect(lo.0 <= hi.0, field, "expected the maximum not to be below the minimum")?;
    }
    let steel = Material::BearingSteel;
    let school = School::Diameter(b.finish);
    let growth = |delta: Micrometres| {
        let p = stiffness(b.d.0, b.inner_raceway.0, b.shaft_bore.0, steel, b.shaft) * school.effective(delta, b.d).0;
        let q = (b.d.0 / b.inner_raceway.0).powi(2);
        2.0 * p * q / (1.0 - q) * b.inner_raceway.0 / steel.young_mpa()
    };
    let closing = |delta: Micrometres| {
        let p = stiffness(b.outer.0, housing, b.outer_raceway.0, b.housing, steel) * school.effective(delta, b.outer).0;
        let k = (b.outer_raceway.0 / b.outer.0).powi(2);
        2.0 * p / (1.0 - k) * b.outer_raceway.0 / steel.young_mpa()
    };
    let (g0, g1) = (growth(b.shaft_delta.0), growth(b.shaft_delta.1));
    let (c0, c1) = (closing(b.housing_delta.0), closing(b.housing_delta.1));
    let heat = steel.expansion() * b.inner_hotter.0 * b.outer_raceway.0 * 1000.0;
    let left = (b.clearance.0.0 - g1 - c1 - heat, b.clearance.1.0 - g0 - c0 - heat);
    let mean = (left.0 + left.1) / 2.0;
    let slack = crate::instrument::SLACK;
    let call = if b.preload_meant {
        ClearanceCall::Go
    } else if mean < -slack {
        ClearanceCall::Stop
    } else if left.0 < 2.0 - slack {
        ClearanceCall::LookAgain
    } else {
        ClearanceCall::Go
    };
    Ok(ClearanceLeft {
        group: b.clearance,
        growth: (Micrometres(g0), Micrometres(g1)),
        closing: (Micrometres(c0), Micrometres(c1)),
        heat: Micrometres(heat),
        left: (Micrometres(left.0), Micrometres(left.1)),
        mean: Micrometres(mean),
        call,
        large: mean >= (b.clearance.0.0 + b.clearance.1.0) / 2.0 - slack,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn small_bearing(shaft: f64, housing: f64) -> FittedBearing {
        let um = |v: f64| (Micrometres::of(v), Micrometres::of(v));
        FittedBearing {
            d: Millimetres::of(17.0),
            inner_raceway: Millimetres::of(21.6),
            outer_raceway: Millimetres::of(35.4),
            outer: Millimetres::of(40.0),
            shaft_bore: Millimetres::of(0.0),
            housing_outside: Some(Millimetres::of(70.0)),
            shaft: Material::CarbonSteel,
            housing: Material::GreyIron,
            shaft_delta: um(shaft),
            housing_delta: um(housing),
            clearance: (Micrometres::of(3.0), Micrometres::of(18.0)),
            inner_hotter: Kelvins::of(0.0),
            finish: Finish::Ground,
            preload_meant: false,
        }
    }

    #[test]
    fn a_hundredth_on_both_rings_of_a_small_bearing_leaves_nothing() {
        assert_eq!(clearance_left(&small_bearing(10.0, 10.0)).expect("valid").call, ClearanceCall::Stop);
        assert_ne!(clearance_left(&small_bearing(3.0, -5.0)).expect("valid").call, ClearanceCall::Stop);
    }

    proptest! {
        #[test]
        fn more_interference_never_leaves_more(a in -20f64..40.0, b in -20f64..40.0, more in 0f64..30.0) {
            let base = clearance_left(&small_bearing(a, b)).unwrap().mean.get();
            prop_assert!(clearance_left(&small_bearing(a + more, b)).unwrap().mean.get() <= base + 1e-9);
            prop_assert!(clearance_left(&small_bearing(a, b + more)).unwrap().mean.get() <= base + 1e-9);
        }
    }
}
