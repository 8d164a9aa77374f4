//! Axial setting: float, shims, gaps, keys, stack-up (handbook 05).

use crate::instrument::SLACK;
use crate::quantity::Millimetres;
use crate::refusal::{Refusal, Result, expect};
use crate::rotation::least_squares;

/// Float from pushed and pulled readings, against a window.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Float {
    pub float: Millimetres,
    pub range: Millimetres,
    pub call: FloatCall,
    /// What the shim's thickness must change by, + thicker; none with look again.
    pub change: Option<Millimetres>,
}

/// The call on a float.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum FloatCall {
    Go,
    Stop,
    LookAgain,
}

/// Float = mean of |pulled - pushed|; a range over U means that the set-up moves, so nothing is concluded. A thicker
/// adjusting shim between bracket and base ring gives less float unless `thicker_reduces` is false. Source: handbook 05.
///
/// ```
/// use ironseat_core::axial::float;
/// let f = float(&[(0.0, 0.21), (0.0, 0.212)], (0.25, 0.35), None, 0.01, true)?;
/// assert!((f.change.unwrap().get() + 0.089).abs() < 1e-9); // 0.089 mm off the adjusting shim
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `pairs` when empty; `hi_mm` below lo; `aim_mm` outside the window; `u_mm` when negative.
pub fn float(pairs: &[(f64, f64)], window: (f64, f64), aim: Option<f64>, u: f64, thicker_reduces: bool) -> Result<Float> {
    let (lo, hi) = window;
    expect(!pairs.is_empty(), "pairs", "at least one pair of pushed and pulled is expected")?;
    expect(hi >= lo, "hi_mm", "the upper end of the window must not be below the lower one")?;
    expect(u >= 0.0, "u_mm", "an uncertainty is 0 or more")?;
    let aim = aim.unwrap_or(f64::midpoint(lo, hi));
    expect(aim >= lo - SLACK && aim <= hi + SLACK, "aim_mm", "the aim must lie inside the window")?;
    let floats: Vec<f64> = pairs.iter().map(|(a, b)| (b - a).abs()).collect();
    let mean = floats.iter().sum::<f64>() / floats.len() as f64;
    let (least, most) = floats.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), f| (l.min(*f), h.max(*f)));
    let range = most - least;
    let inside = mean >= lo - SLACK && mean <= hi + SLACK;
    let call = if range > u + SLACK {
        FloatCall::LookAgain
    } else if inside {
        FloatCall::Go
    } else {
        FloatCall::Stop
    };
    let change = match call {
        FloatCall::LookAgain => None,
        FloatCall::Go => Some(0.0),
        FloatCall::Stop => Some((mean - aim) * if thicker_reduces { 1.0 } else { -1.0 }),
    };
    Ok(Float { float: Millimetres(mean), range: Millimetres(range), call, change: change.map(Millimetres) })
}

/// A gap that shims move.
#[derive(Debug, Clone, PartialEq)]
#[allow(missing_docs)]
pub struct Gap {
    pub now: f64,
    pub wanted: f64,
    /// How much the gap grows per unit of each shim.
    pub signs: Vec<f64>,
}

/// Changes of several shims together, least squares over the gaps; also the largest |gap then - wanted|.
///
/// # Errors
/// `gaps` when fewer than shims, of other lengths, or not independent; `shims_mm` when one would vanish.
pub fn several_shims(gaps: &[Gap], shims: &[f64]) -> Result<(Vec<f64>, f64)> {
    expect(!shims.is_empty() && shims.iter().all(|s| *s > 0.0), "shims_mm", "expected the present thickness of each shim, above 0")?;
    expect(gaps.len() >= shims.len(), "gaps", "at least as many gaps as shims are expected")?;
    expect(gaps.iter().all(|g| g.signs.len() == shims.len()), "gaps", "every gap needs one sign per shim")?;
    let rows: Vec<Vec<f64>> = gaps.iter().map(|g| g.signs.clone()).collect();
    let wanted: Vec<f64> = gaps.iter().map(|g| g.wanted - g.now).collect();
    let change = least_squares(&rows, &wanted)
        .ok_or_else(|| Refusal::new("gaps", "these gaps cannot tell the shims apart: measure one that moves with only one of them"))?;
    expect(shims.iter().zip(&change).all(|(s, c)| s + c > 0.0), "shims_mm", "a shim would vanish: look at the signs and the gaps")?;
    let left =
        gaps.iter().zip(&wanted).map(|(g, w)| (g.signs.iter().zip(&change).map(|(s, c)| s * c).sum::<f64>() - w).abs()).fold(0.0, f64::max);
    Ok((change, left))
}

/// A choice of leaves from stock.
#[derive(Debug, Clone, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Leaves {
    /// Thick first.
    pub leaves: Vec<u64>,
    pub error: i64,
    /// Thinnest stock that could be ground to size.
    pub grind_from: Option<u64>,
}

/// What makes one choice better than another: the smaller key.
fn rank(leaves: &[u64], wanted: u64) -> (u64, usize, u64, Vec<std::cmp::Reverse<u64>>) {
    let total: u64 = leaves.iter().sum();
    (total.abs_diff(wanted), leaves.len(), total, leaves.iter().copied().map(std::cmp::Reverse).collect())
}

/// Exact search over stock, µm: least |error|, then fewest leaves, then smaller total, then thick leaves first. Branch and
/// bound over thickness in falling order; no leaf at all is allowed.
///
/// # Errors
/// `max_leaves` above 12; `stock` with more than 500 thicknesses.
pub fn shim_stock(wanted: u64, stock: &[(u64, u64)], max_leaves: usize) -> Result<Leaves> {
    expect(max_leaves <= 12, "max_leaves", "expected at most 12 leaves")?;
    expect(stock.len() <= 500, "stock", "expected at most 500 thicknesses")?;
    let mut sizes: Vec<(u64, u64)> = stock.iter().copied().filter(|(um, n)| *um > 0 && *n > 0).collect();
    sizes.sort_by_key(|s| std::cmp::Reverse(s.0));
    // The same thickness twice is one box.
    sizes.dedup_by(|b, a| {
        a.0 == b.0 && {
            a.1 = a.1.saturating_add(b.1);
            true
        }
    });
    let grind_from = sizes.iter().map(|s| s.0).filter(|um| *um >= wanted).min();
    struct Search<'a> {
        sizes: &'a [(u64, u64)],
        wanted: u64,
        best: Vec<u64>,
    }
    impl Search<'_> {
        fn go(&mut self, from: usize, left: usize, chosen: &mut Vec<u64>, total: u64) {
            if rank(chosen, self.wanted) < rank(&self.best, self.wanted) {
                self.best.clone_from(chosen);
            }
            if left == 0 {
                return;
            }
            let best_error = rank(&self.best, self.wanted).0;
            for i in from..self.sizes.len() {
                let (um, count) = self.sizes[i];
                // Leaves only get thinner: too thick now stays too thick, and too little can never be made up.
                if total + um > self.wanted + best_error {
                    continue;
                }
                if total + um * (left as u64) + best_error < self.wanted {
                    return;
                }
                let used = chosen.iter().filter(|c| **c == um).count() as u64;
                if used < count {
                    chosen.push(um);
                    self.go(i, left - 1, chosen, total + um);
                    chosen.pop();
                }
            }
        }
    }
    let mut search = Search { sizes: &sizes, wanted, best: Vec::new() };
    search.go(0, max_leaves, &mut Vec::new(), 0);
    let total: u64 = search.best.iter().sum();
    Ok(Leaves { error: total as i64 - wanted as i64, leaves: search.best, grind_from })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn brute(wanted: u64, stock: &[(u64, u64)], most: usize) -> (u64, usize, u64) {
        let all: Vec<u64> = stock.iter().flat_map(|(um, n)| std::iter::repeat_n(*um, *n as usize)).collect();
        (0u32..1 << all.len())
            .filter(|m| m.count_ones() as usize <= most)
            .map(|m| {
                let t: u64 = (0..all.len()).filter(|i| m >> i & 1 == 1).map(|i| all[i]).sum();
                (t.abs_diff(wanted), m.count_ones() as usize, t)
            })
            .min()
            .unwrap()
    }

    proptest! {
        #[test]
        fn stock_search_equals_brute_force(wanted in 0u64..600, stock in prop::collection::vec((5u64..300, 0u64..3), 0..6), most in 0usize..5) {
            let mut merged: std::collections::BTreeMap<u64, u64> = Default::default();
            for (um, n) in &stock { *merged.entry(*um).or_default() += n; }
            let list: Vec<_> = merged.into_iter().collect();
            let found = shim_stock(wanted, &list, most).unwrap();
            let total: u64 = found.leaves.iter().sum();
            prop_assert_eq!((total.abs_diff(wanted), found.leaves.len(), total), brute(wanted, &list, most));
        }

        #[test]
        fn the_changed_shim_gives_the_aim(a in 0.01f64..0.9, reduces: bool) {
            let f = float(&[(0.0, a)], (0.25, 0.35), None, 0.01, reduces).unwrap();
            let after = a - f.change.unwrap().get() * if reduces { 1.0 } else { -1.0 };
            prop_assert!((0.25 - 1e-9..=0.35 + 1e-9).contains(&after));
        }

        #[test]
        fn several_shims_put_back_give_what_was_wanted(p in -0.5f64..0.5, q in -0.5f64..0.5) {
            let gaps = [Gap { now: 1.0, wanted: 1.0 + p, signs: vec![1.0, 0.0] }, Gap { now: 0.3, wanted: 0.3 + q, signs: vec![1.0, -1.0] }];
            let (change, left) = several_shims(&gaps, &[4.0, 4.0]).unwrap();
            prop_assert!(left < 1e-9 && (change[0] - p).abs() < 1e-9 && (change[0] - change[1] - q).abs() < 1e-9);
        }
    }
}
