//! The grid sheet: a journal or a bore read in several planes at several stations.

use crate::quantity::{Micrometres, Millimetres};
use crate::refusal::{Result, expect};
use serde::{Deserialize, Serialize};

/// Outside or inside.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Feature {
    /// A shaft's land, read over its outside.
    Journal,
    /// A hole, read inside.
    Bore,
}

/// The longitudinal form of the surface.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Shape {
    /// Middle and ends agree within the uncertainty.
    Straight,
    /// Thickest in the middle.
    Barrel,
    /// Thinnest in the middle.
    Hourglass,
    /// A bore that is wide at the ends.
    Bellmouth,
}

impl Shape {
    /// Name in the contract.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::Straight => "straight",
            Self::Barrel => "barrel",
            Self::Hourglass => "hourglass",
            Self::Bellmouth => "bellmouth",
        }
    }
}

/// What a grid of two-point readings says.
#[derive(Debug, Clone, PartialEq)]
pub struct Grid {
    /// Smallest reading.
    pub min: Millimetres,
    /// Largest reading.
    pub max: Millimetres,
    /// Mean of all readings.
    pub mean: Millimetres,
    /// Two-point roundness (max - min)/2 at each station.
    pub roundness: Vec<Micrometres>,
    /// Mean of the last station less mean of the first; none with one station.
    pub taper: Option<Micrometres>,
    /// Middle less the mean of the ends; none below three stations.
    pub barrel: Option<Micrometres>,
    /// Form along the axis; none below three stations.
    pub shape: Option<Shape>,
    /// Bound of cylindricity, (max - min)/2 of all readings.
    pub cylindricity: Micrometres,
}

/// Reckons a grid. `rows`: one row per station from end A, one reading per plane, in mm.
///
/// Two-point readings cannot see an odd number of lobes: see docs/trade.md, Measuring.
///
/// # Errors
/// `readings_mm`: no row, fewer than two planes, rows of different lengths, a size of 0 or less.
///
/// ```
/// use ironseat_core::journal_sheet::{grid, Shape, Feature};
/// use ironseat_core::quantity::Micrometres;
/// let g = grid(&[vec![30.0, 30.001], vec![30.004, 30.005], vec![30.008, 30.009]], Feature::Journal, Micrometres::of(3.0))?;
/// assert!((g.taper.unwrap().get() - 8.0).abs() < 1e-6);
/// assert_eq!(g.shape, Some(Shape::Straight));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
pub fn grid(rows: &[Vec<f64>], surface: Feature, u: Micrometres) -> Result<Grid> {
    const F: &str = "readings_mm";
    expect(!rows.is_empty(), F, "at least one station is expected")?;
    let planes = rows[0].len();
    expect(planes >= 2, F, "at least two planes are expected at each station")?;
    expect(rows.iter().all(|r| r.len() == planes), F, "every station needs the same number of planes")?;
    expect(rows.iter().flatten().all(|v| v.is_finite() && *v > 0.0), F, "expected every reading to be a size above 0")?;

    Ok(figures(rows, surface, u))
}

/// Figures of a grid that is still being filled: empty cells are passed over; none while nothing is read.
/// Taper needs both end stations, the barrel needs all of them.
#[must_use]
pub fn so_far(rows: &[Vec<Option<f64>>], surface: Feature, u: Micrometres) -> Option<Grid> {
    let read: Vec<Vec<f64>> = rows.iter().map(|r| r.iter().flatten().copied().collect()).collect();
    let filled: Vec<Vec<f64>> = read.iter().filter(|r| !r.is_empty()).cloned().collect();
    if filled.is_empty() {
        return None;
    }
    let mut g = figures(&filled, surface, u);
    if read.first().is_some_and(Vec::is_empty) || read.last().is_some_and(Vec::is_empty) {
        g.taper = None;
    }
    if filled.len() < read.len() {
        g.barrel = None;
        g.shape = None;
    }
    Some(g)
}

/// The sums behind both: rows are not empty.
fn figures(rows: &[Vec<f64>], surface: Feature, u: Micrometres) -> Grid {
    let span = |r: &mut dyn Iterator<Item = f64>| {
        r.fold((f64::INFINITY, f64::NEG_INFINITY), |(lo, hi), v| (lo.min(v), hi.max(v)))
    };
    let means: Vec<f64> = rows.iter().map(|r| r.iter().sum::<f64>() / r.len() as f64).collect();
    let (min, max) = span(&mut rows.iter().flatten().copied());
    let n = means.len();
    let count = rows.iter().map(Vec::len).sum::<usize>();
    let roundness = rows
        .iter()
        .map(|r| {
            let (lo, hi) = span(&mut r.iter().copied());
            Micrometres((hi - lo) * 500.0)
        })
        .collect();
    let ends = (means[0] + means[n - 1]) / 2.0;
    let barrel = (n >= 3).then(|| Micrometres((f64::midpoint(means[(n - 1) / 2], means[n / 2]) - ends) * 1000.0));
    let shape = barrel.map(|b| match surface {
        _ if b.0.abs() <= u.0 + crate::instrument::SLACK => Shape::Straight,
        _ if b.0 > 0.0 => Shape::Barrel,
        Feature::Journal => Shape::Hourglass,
        Feature::Bore => Shape::Bellmouth,
    });
    Grid {
        min: Millimetres(min),
        max: Millimetres(max),
        mean: Millimetres(rows.iter().flatten().sum::<f64>() / count as f64),
        roundness,
        taper: (n >= 2).then(|| Micrometres((means[n - 1] - means[0]) * 1000.0)),
        barrel,
        shape,
        cylindricity: Micrometres((max - min) * 500.0),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn a_full_sheet_so_far_is_the_grid(rows in prop::collection::vec(prop::collection::vec(39.9f64..40.1, 4), 3)) {
            let u = Micrometres::of(3.0);
            let filled: Vec<Vec<Option<f64>>> = rows.iter().map(|r| r.iter().copied().map(Some).collect()).collect();
            prop_assert_eq!(so_far(&filled, Feature::Journal, u).unwrap(), grid(&rows, Feature::Journal, u).unwrap());
        }

        #[test]
        fn a_larger_journal_has_the_same_form(rows in prop::collection::vec(prop::collection::vec(39.9f64..40.1, 4), 3), more in 0f64..1.0) {
            let u = Micrometres::of(3.0);
            let larger: Vec<Vec<f64>> = rows.iter().map(|r| r.iter().map(|v| v + more).collect()).collect();
            let (a, b) = (grid(&rows, Feature::Journal, u).unwrap(), grid(&larger, Feature::Journal, u).unwrap());
            prop_assert!((a.cylindricity.get() - b.cylindricity.get()).abs() < 1e-6 && (b.mean.get() - a.mean.get() - more).abs() < 1e-9);
        }
    }

    #[test]
    fn half_a_sheet_claims_no_taper() {
        let rows = vec![vec![Some(40.0), Some(40.001)], vec![None, None], vec![None, None]];
        let g = so_far(&rows, Feature::Journal, Micrometres::of(3.0)).expect("something is read");
        assert_eq!((g.taper, g.barrel), (None, None));
        assert_eq!(so_far(&[vec![None]], Feature::Bore, Micrometres::of(3.0)), None);
    }
}
