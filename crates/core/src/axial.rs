//! Axial setting: float, shims, gaps, keys, stack-up (docs/trade.md, Axial setting).

use crate::instrument::SLACK;
use crate::numeric::least_squares;
use crate::quantity::Millimetres;
use crate::refusal::{Refusal, Result, expect};
use crate::rotation;

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
/// adjusting shim between bracket and base ring gives less float unless `thicker_reduces` is false. Source:
/// docs/trade.md, Axial setting.
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
pub fn float(
    pairs: &[(f64, f64)],
    window: (f64, f64),
    aim: Option<f64>,
    u: f64,
    thicker_reduces: bool,
) -> Result<Float> {
    let (lo, hi) = window;
    expect(!pairs.is_empty(), "pairs", "at least one pair of pushed and pulled is expected")?;
    expect(hi >= lo, "hi_mm", "expected the upper end of the window not to be below the lower one")?;
    expect(u >= 0.0, "u_mm", "an uncertainty is 0 or more")?;
    let aim = aim.unwrap_or(f64::midpoint(lo, hi));
    expect(aim >= lo - SLACK && aim <= hi + SLACK, "aim_mm", "expected the aim to lie inside the window")?;
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

/// A shim of so many mm or less is none.
pub const VANISHED: f64 = 1e-9;

/// Changes of several shims together, least squares over the gaps; also the largest |gap then - wanted|.
///
/// # Errors
/// `gaps` when fewer than shims, of other lengths, or not independent; `shims_mm` when one would vanish.
pub fn several_shims(gaps: &[Gap], shims: &[f64]) -> Result<(Vec<f64>, f64)> {
    expect(
        !shims.is_empty() && shims.iter().all(|s| *s > 0.0),
        "shims_mm",
        "expected the present thickness of each shim, above 0",
    )?;
    expect(gaps.len() >= shims.len(), "gaps", "at least as many gaps as shims are expected")?;
    expect(gaps.iter().all(|g| g.signs.len() == shims.len()), "gaps", "every gap needs one sign per shim")?;
    let rows: Vec<Vec<f64>> = gaps.iter().map(|g| g.signs.clone()).collect();
    let wanted: Vec<f64> = gaps.iter().map(|g| g.wanted - g.now).collect();
    let change = least_squares(&rows, &wanted).ok_or_else(|| {
        Refusal::new("gaps", "these gaps cannot tell the shims apart: measure one that moves with only one of them")
    })?;
    expect(
        shims.iter().zip(&change).all(|(s, c)| s + c > VANISHED),
        "shims_mm",
        "a shim would vanish: look at the signs and the gaps",
    )?;
    let left = gaps
        .iter()
        .zip(&wanted)
        .map(|(g, w)| (g.signs.iter().zip(&change).map(|(s, c)| s * c).sum::<f64>() - w).abs())
        .fold(0.0, f64::max);
    Ok((change, left))
}

/// A choice of leaves from stock.
#[derive(Debug, Clone, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct ShimStack {
    /// Thick first.
    pub leaves: Vec<u64>,
    pub error: i64,
    /// Thinnest stock that could be ground to size.
    pub grind_from: Option<u64>,
}

/// Exact search over stock, µm: least |error|, then fewest leaves, then smaller total, then thickest leaf first as
/// large as possible. Which totals can be made of so many leaves is written down as sets of bits, one thickness after
/// the other, so the work is bounded by the stock and the thickness, whatever they are; no leaf at all is allowed.
///
/// ```
/// let found = ironseat_core::axial::shim_stock(380, &[(100, 4), (250, 2), (500, 1)], 3)?;
/// assert_eq!((found.leaves, found.error), (vec![250, 100], -30));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `wanted_um` above 100 000; `max_leaves` above 12; `stock` with more than 1000 entries.
pub fn shim_stock(wanted: u64, stock: &[(u64, u64)], max_leaves: usize) -> Result<ShimStack> {
    expect(wanted <= THICKEST_UM, "wanted_um", format!("expected a thickness up to {THICKEST_UM} µm"))?;
    expect(max_leaves <= MOST_LEAVES, "max_leaves", format!("expected at most {MOST_LEAVES} leaves"))?;
    expect(stock.len() <= 1000, "stock", "expected at most 1000 thicknesses")?;
    let mut sizes: Vec<(u64, u64)> = stock.iter().copied().filter(|(um, n)| *um > 0 && *n > 0).collect();
    sizes.sort_by_key(|s| s.0);
    // The same thickness twice is one box.
    sizes.dedup_by(|b, a| {
        a.0 == b.0 && {
            a.1 = a.1.saturating_add(b.1);
            true
        }
    });
    let grind_from = sizes.iter().map(|s| s.0).find(|um| *um >= wanted);
    // Without a leaf the error is all of it: nothing beyond twice that can be better.
    sizes.retain(|s| s.0 <= 2 * wanted);
    let made = Made::of(&sizes, max_leaves, 2 * wanted as usize);
    let totals =
        (0..=2 * wanted as usize).filter_map(|t| Some((t, (0..=max_leaves).find(|k| made.first(*k, t).is_some())?)));
    let (total, leaves) = totals.min_by_key(|(t, k)| ((*t as u64).abs_diff(wanted), *k, *t)).unwrap_or((0, 0));
    Ok(ShimStack { error: total as i64 - wanted as i64, leaves: made.leaves(&sizes, leaves, total), grind_from })
}

/// Thickest stack that is looked for, µm, and most leaves of one: what a shop piles up.
const THICKEST_UM: u64 = 100_000;
const MOST_LEAVES: usize = 12;

/// For so many leaves and each total: from which thickness on, thin ones first, it can be made.
struct Made {
    by: Vec<Vec<u16>>,
}

/// Cannot be made.
const NEVER: u16 = u16::MAX;

impl Made {
    fn of(sizes: &[(u64, u64)], most: usize, longest: usize) -> Self {
        let words = longest / 64 + 1;
        let mut set = vec![vec![0u64; words]; most + 1];
        let mut by = vec![vec![NEVER; longest + 1]; most + 1];
        set[0][0] = 1;
        by[0][0] = 0;
        for (i, (um, count)) in sizes.iter().enumerate() {
            // More leaves first: what is read below is still without this thickness.
            for k in (1..=most).rev() {
                for copies in 1..=k.min(usize::try_from(*count).unwrap_or(k)) {
                    let shift = *um as usize * copies;
                    if shift > longest {
                        break;
                    }
                    let (low, high) = set.split_at_mut(k);
                    or_shifted(&mut high[0], &low[k - copies], shift, |word, fresh| {
                        let mut bits = fresh;
                        while bits != 0 {
                            let t = word * 64 + bits.trailing_zeros() as usize;
                            if t <= longest {
                                by[k][t] = i as u16 + 1;
                            }
                            bits &= bits - 1;
                        }
                    });
                }
            }
        }
        Self { by }
    }

    /// Number of thicknesses, thin ones first, that are enough for it.
    fn first(&self, leaves: usize, total: usize) -> Option<usize> {
        Some(self.by[leaves][total]).filter(|i| *i != NEVER).map(usize::from)
    }

    /// The leaves, thick first, the thickest as large as possible, then the next.
    fn leaves(&self, sizes: &[(u64, u64)], mut left: usize, mut total: usize) -> Vec<u64> {
        let mut out = Vec::with_capacity(left);
        let mut below = sizes.len();
        while left > 0 {
            // The thickest that leaves something which the thinner ones can make; as many of it as possible.
            let fits = |i: usize, n: usize| {
                let rest = total.checked_sub(n * sizes[i].0 as usize)?;
                self.first(left - n, rest).filter(|f| *f <= i).map(|_| (i, n, rest))
            };
            let copies = |i: usize| (1..=left.min(usize::try_from(sizes[i].1).unwrap_or(left))).rev();
            let Some((i, n, rest)) = (0..below).rev().find_map(|i| copies(i).find_map(|n| fits(i, n))) else { break };
            out.extend(std::iter::repeat_n(sizes[i].0, n));
            (left, total, below) = (left - n, rest, i);
        }
        out
    }
}

/// Adds the bits of one set, moved up, to another; each word with what is fresh in it is told.
fn or_shifted(to: &mut [u64], from: &[u64], shift: usize, mut fresh: impl FnMut(usize, u64)) {
    let (words, bits) = (shift / 64, shift % 64);
    for w in words..to.len() {
        let mut v = from[w - words] << bits;
        if bits > 0 && w > words {
            v |= from[w - words - 1] >> (64 - bits);
        }
        let new = v & !to[w];
        if new != 0 {
            to[w] |= new;
            fresh(w, new);
        }
    }
}

/// Clearance over a key: seat in the hub and seat in the shaft less the key's height. Below 0 the hub rides on the key
/// and runs out. Source: docs/trade.md, Axial setting.
///
/// ```
/// use ironseat_core::{axial::key_clearance, quantity::Millimetres as Mm};
/// assert!((key_clearance(Mm::of(3.4), Mm::of(5.0), Mm::of(8.2)).get() - 0.2).abs() < 1e-12);
/// ```
#[must_use]
pub fn key_clearance(hub_depth: Millimetres, shaft_depth: Millimetres, key: Millimetres) -> Millimetres {
    Millimetres(hub_depth.0 + shaft_depth.0 - key.0)
}

/// What a clearance figure means: the classic mix-up.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Meant {
    Total,
    PerSide,
}

impl Meant {
    /// The total that a figure stands for.
    #[must_use]
    pub fn total(self, figure: Millimetres) -> Millimetres {
        Millimetres(figure.0 * if self == Self::PerSide { 2.0 } else { 1.0 })
    }
}

/// Gaps around a wheel.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Gaps {
    /// Mean gap.
    pub mean: Millimetres,
    /// Length of the offset.
    pub offset: Millimetres,
    /// Towards the widest gap, degrees; none without a length.
    pub offset_deg: Option<f64>,
    /// The least of what was read, and of the fit with its oval.
    pub smallest: Millimetres,
    /// Amplitude of the oval, from six gaps.
    pub oval: Option<Millimetres>,
    /// One pair of opposite gaps less the other, with four equal steps.
    pub cross: Option<Millimetres>,
}

impl Gaps {
    /// Where to move the housing by the offset: from the wide side towards the narrow one.
    #[must_use]
    pub fn move_deg(&self) -> Option<f64> {
        self.offset_deg.map(|d| (d + 180.0).rem_euclid(360.0))
    }
    /// Opposite sums agree within the uncertainty; otherwise oval or misread.
    #[must_use]
    pub fn consistent(&self, u: Millimetres) -> bool {
        self.cross.is_none_or(|c| c.0.abs() <= u.0 + SLACK)
    }
}

/// g(t) = G + ex·cos t + ey·sin t, and the oval from six gaps. Equal steps from 0 without angles. Source:
/// docs/trade.md, Axial setting.
///
/// ```
/// let g = ironseat_core::axial::gaps(&[0.42, 0.40, 0.34, 0.36], None)?;
/// assert!((g.mean.get() - 0.38).abs() < 1e-9 && (g.smallest.get() - (0.38 - 0.04f64.hypot(0.02))).abs() < 1e-9);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `gaps_mm` with fewer than three; `angles_deg` of another length or too close together.
pub fn gaps(gaps: &[f64], angles: Option<&[f64]>) -> Result<Gaps> {
    let n = gaps.len();
    expect(n >= 3, "gaps_mm", "at least three gaps are expected")?;
    expect(gaps.iter().all(|g| *g >= 0.0), "gaps_mm", "a gap is 0 or more: where it rubs it is 0")?;
    let even: Vec<f64>;
    let angles = match angles {
        Some(a) => a,
        None => {
            even = (0..n).map(|k| 360.0 * k as f64 / n as f64).collect();
            &even
        }
    };
    expect(angles.len() == n, "angles_deg", "as many angles as gaps are expected")?;
    let fit = rotation::around(gaps, angles)?;
    let (ex, ey) = fit.first;
    // Four at right angles, in any order: opposite sums must agree.
    let mut sorted: Vec<(f64, f64)> = angles.iter().map(|a| a.rem_euclid(360.0)).zip(gaps.iter().copied()).collect();
    sorted.sort_by(|a, b| a.0.total_cmp(&b.0));
    let square =
        n == 4 && (0..4).all(|k| ((sorted[(k + 1) % 4].0 - sorted[k].0).rem_euclid(360.0) - 90.0).abs() < 1e-6);
    Ok(Gaps {
        mean: Millimetres(fit.mean),
        offset: Millimetres(ex.hypot(ey)),
        offset_deg: rotation::direction(ex, ey, 1.0),
        smallest: Millimetres(gaps.iter().copied().fold(fit.mean - ex.hypot(ey) - fit.second.unwrap_or(0.0), f64::min)),
        oval: fit.second.map(Millimetres),
        cross: square.then(|| Millimetres(sorted[0].1 + sorted[2].1 - sorted[1].1 - sorted[3].1)),
    })
}

/// Gap at an angle when a horizontal rotor runs: it lifts by half its bearing clearance, towards where the top is.
///
/// ```
/// use ironseat_core::{axial::{gaps, lifted}, quantity::Millimetres as Mm};
/// // Set low by half the clearance at rest, the wheel runs in the middle.
/// let g = gaps(&[0.40, 0.45, 0.40, 0.35], None)?;
/// assert!((lifted(&g, 90.0, 90.0, Mm::of(0.10)).get() - 0.40).abs() < 1e-9);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
#[must_use]
pub fn lifted(g: &Gaps, at_deg: f64, top_deg: f64, bearing_clearance: Millimetres) -> Millimetres {
    let here = g.mean.0 + g.offset.0 * g.offset_deg.map_or(0.0, |o| (at_deg - o).to_radians().cos());
    Millimetres(here - bearing_clearance.0 / 2.0 * (at_deg - top_deg).to_radians().cos())
}

/// Uncertainty of an indirect reading: something else nearby was measured, so it is doubled and the call says so.
#[must_use]
pub fn indirect(u: Millimetres) -> Millimetres {
    Millimetres(2.0 * u.0)
}

/// What the shim behind a collar must change by for the rotor to stand where it should. `inboard` is how far the rotor
/// sits too far inboard; the build sheet says whether a thicker shim moves it outboard (then it must become thicker).
/// Source: docs/trade.md, Axial setting: thinner by P if too far inboard, where a thicker shim pushes inboard.
///
/// ```
/// use ironseat_core::{axial::position_shim, quantity::Millimetres as Mm};
/// assert_eq!(position_shim(Mm::of(0.12), true).get(), -0.12);
/// assert_eq!(position_shim(Mm::of(0.12), false).get(), 0.12);
/// ```
#[must_use]
pub fn position_shim(inboard: Millimetres, thicker_moves_inboard: bool) -> Millimetres {
    Millimetres(if thicker_moves_inboard { -inboard.0 } else { inboard.0 })
}

/// Where a rotor stands in its total travel: 0 at one limit, 1 at the other.
///
/// # Errors
/// `travel_mm` not above 0; `at_mm` outside it.
pub fn travel_share(at: Millimetres, travel: Millimetres) -> Result<f64> {
    expect(travel.0 > 0.0, "travel_mm", "expected a total travel above 0")?;
    expect(
        at.0 >= -SLACK && at.0 <= travel.0 + SLACK,
        "at_mm",
        "the running position lies outside the total travel: read both again",
    )?;
    Ok(at.0 / travel.0)
}

/// A flinger is pushed in until it touches, then backed off; what the gap must read afterwards, and whether it does.
/// Source: docs/trade.md, Axial setting.
///
/// ```
/// use ironseat_core::{axial::backed_off, quantity::Millimetres as Mm};
/// assert!(backed_off(Mm::of(31.20), Mm::of(30.45), Mm::of(0.75), Mm::of(0.05)));
/// ```
#[must_use]
pub fn backed_off(now: Millimetres, touching: Millimetres, wanted: Millimetres, tolerance: Millimetres) -> bool {
    ((now.0 - touching.0).abs() - wanted.0).abs() <= tolerance.0 + SLACK
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
