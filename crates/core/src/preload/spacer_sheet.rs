//! The spacer sheet: heights of a matched pair of spacers (docs/trade.md, Preload and running).

use crate::instrument::SLACK;
use crate::quantity::{Micrometres, Millimetres};
use crate::refusal::{Result, expect};

/// What the heights of two spacers say.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SpacerSheet {
    /// Mean height of the inner one.
    pub inner: Millimetres,
    /// Mean height of the outer one.
    pub outer: Millimetres,
    /// Largest less smallest height of the inner one.
    pub inner_parallel: Micrometres,
    /// Largest less smallest height of the outer one.
    pub outer_parallel: Micrometres,
    /// Inner less outer: what sets the preload; less inner preloads a back-to-back pair.
    pub offset: Micrometres,
    /// Both are parallel within the limit of the class.
    pub parallel: bool,
}

/// How far a spacer may be out of parallel: 2 µm with bearings of class 4 and 2, 3 µm with class 5, 5 µm else (ours).
#[must_use]
pub fn parallel_limit(class: &str) -> Micrometres {
    Micrometres(match class {
        "4" | "2" => 2.0,
        "5" => 3.0,
        _ => 5.0,
    })
}

/// Judges heights at three to eight points of each spacer. `tolerance` is that of the offset: an instrument whose
/// uncertainty is more than a quarter of it is refused, because here microns decide. Source: docs/trade.md, Preload and
/// running.
///
/// ```
/// use ironseat_core::{preload::spacer_sheet, quantity::Micrometres as Um};
/// let s = spacer_sheet(&[29.994, 29.9945, 29.994], &[30.0, 30.0005, 30.0], Um::of(0.6), Um::of(3.0), Um::of(2.0))?;
/// assert!(s.parallel && (s.offset.get() + 6.0).abs() < 1e-6);
/// let e = spacer_sheet(&[30.0; 3], &[30.0; 3], Um::of(30.0), Um::of(3.0), Um::of(2.0)).unwrap_err();
/// assert!(e.message.contains("microns decide")); // a calliper
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `inner_mm`, `outer_mm` without three to eight heights above 0; `u_um` too coarse for the tolerance; `tolerance_um`
/// not above 0.
pub fn spacer_sheet(
    inner: &[f64],
    outer: &[f64],
    u: Micrometres,
    tolerance: Micrometres,
    limit: Micrometres,
) -> Result<SpacerSheet> {
    for (field, heights) in [("inner_mm", inner), ("outer_mm", outer)] {
        let fine = (3..=8).contains(&heights.len()) && heights.iter().all(|h| h.is_finite() && *h > 0.0);
        expect(fine, field, "expected three to eight heights above 0")?;
    }
    expect(tolerance.0 > 0.0, "tolerance_um", "expected a tolerance of the offset above 0")?;
    expect(
        u.0 >= 0.0 && u.0 <= tolerance.0 / 4.0 + SLACK,
        "u_um",
        format!(
            "here microns decide: this instrument can be wrong by {} µm, take one that reads to {} µm or better",
            u.0,
            tolerance.0 / 4.0
        ),
    )?;
    let mean = |h: &[f64]| h.iter().sum::<f64>() / h.len() as f64;
    let spread = |h: &[f64]| {
        let (lo, hi) = h.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(l, m), v| (l.min(*v), m.max(*v)));
        (hi - lo) * 1000.0
    };
    let (pi, po) = (spread(inner), spread(outer));
    Ok(SpacerSheet {
        inner: Millimetres(mean(inner)),
        outer: Millimetres(mean(outer)),
        inner_parallel: Micrometres(pi),
        outer_parallel: Micrometres(po),
        offset: Micrometres((mean(inner) - mean(outer)) * 1000.0),
        parallel: pi <= limit.0 + SLACK && po <= limit.0 + SLACK,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// Both ground together on one chuck: the offset stays, and equal spacers have none.
        #[test]
        fn grinding_both_leaves_the_offset(heights in prop::collection::vec(29.99f64..30.01, 3..8), off in 0.0f64..0.05) {
            let sheet = |i: &[f64], o: &[f64]| spacer_sheet(i, o, Micrometres(0.6), Micrometres(3.0), Micrometres(2.0)).unwrap();
            prop_assert!(sheet(&heights, &heights).offset.0.abs() < 1e-9);
            let outer = [30.0, 30.001, 30.0005];
            let ground = |h: &[f64]| h.iter().map(|v| v - off).collect::<Vec<_>>();
            let (a, b) = (sheet(&heights, &outer), sheet(&ground(&heights), &ground(&outer)));
            prop_assert!((a.offset.0 - b.offset.0).abs() < 1e-6 && (a.inner_parallel.0 - b.inner_parallel.0).abs() < 1e-6);
        }
    }

    #[test]
    fn a_spacer_out_of_parallel_is_told_by_class() {
        let s = |limit| {
            spacer_sheet(&[30.0, 30.0025, 30.0], &[30.0; 4], Micrometres(0.6), Micrometres(3.0), limit).unwrap()
        };
        assert!(
            !s(parallel_limit("4")).parallel && s(parallel_limit("5")).parallel && s(parallel_limit("normal")).parallel
        );
        assert_eq!(
            spacer_sheet(&[30.0], &[30.0; 3], Micrometres(0.6), Micrometres(3.0), Micrometres(2.0)).unwrap_err().field,
            "inner_mm"
        );
    }
}
