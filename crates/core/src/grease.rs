//! How much grease (docs/trade.md, Preload and running).

use crate::instrument::SLACK;
use crate::quantity::{Grams, Millimetres};
use crate::refusal::{Result, expect};
use std::f64::consts::PI;

/// Steel, g/mm³.
const STEEL: f64 = 7.85e-3;
/// Grease, g/mm³.
const GREASE: f64 = 0.9e-3;

/// Grease for a bearing.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Fill {
    /// Free space, an estimate from sizes and mass.
    pub free_mm3: f64,
    /// Speed times mean diameter, mm/min.
    pub speed_factor: f64,
    /// Share of the free space, least and most.
    pub fill_pct: (f64, f64),
    pub grams: (Grams, Grams),
    pub top_up: Grams,
}

/// Share of the free space by speed factor n·dm: the faster, the less, because heat from churning rises with speed.
/// Source: docs/trade.md, Preload and running.
#[must_use]
pub fn share(speed_factor: f64) -> (f64, f64) {
    match speed_factor {
        f if f < 50_000.0 - SLACK => (50.0, 60.0),
        f if f <= 300_000.0 + SLACK => (30.0, 40.0),
        f if f <= 600_000.0 + SLACK => (20.0, 25.0),
        _ => (15.0, 15.0),
    }
}

/// Free space ~ pi/4·(D² - d²)·B - mass/density; grams = free·0.9e-3·share; top-up 0.005·D·B.
///
/// ```
/// use ironseat_core::{grease, quantity::{Grams, Millimetres as Mm}};
/// let g = grease::fill(Mm::of(40.0), Mm::of(80.0), Mm::of(18.0), Grams::of(370.0), 2900.0)?;
/// assert_eq!(g.fill_pct, (30.0, 40.0));
/// assert!((g.top_up.get() - 7.2).abs() < 1e-9);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `outer_mm` not above the bore; `mass_g` that leaves no free space.
pub fn fill(d: Millimetres, outer: Millimetres, width: Millimetres, mass: Grams, rpm: f64) -> Result<Fill> {
    expect(outer.0 > d.0, "outer_mm", "expected the outside to be larger than the bore")?;
    let free = PI / 4.0 * (outer.0 * outer.0 - d.0 * d.0) * width.0 - mass.0 / STEEL;
    expect(free > 0.0, "mass_g", "that mass leaves no free space: look at mass and sizes")?;
    let speed_factor = rpm * f64::midpoint(d.0, outer.0);
    let (lo, hi) = share(speed_factor);
    let grams = |pct: f64| Grams(free * GREASE * pct / 100.0);
    Ok(Fill {
        free_mm3: free,
        speed_factor,
        fill_pct: (lo, hi),
        grams: (grams(lo), grams(hi)),
        top_up: Grams(0.005 * outer.0 * width.0),
    })
}

#[cfg(test)]
mod tests {
    #[test]
    fn faster_never_means_more_grease() {
        let shares: Vec<_> =
            [0.0, 49_999.0, 50_000.0, 300_000.0, 300_001.0, 600_000.0, 700_000.0].map(super::share).to_vec();
        assert!(shares.windows(2).all(|w| w[1].1 <= w[0].1));
    }
}
