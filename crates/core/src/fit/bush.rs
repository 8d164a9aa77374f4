//! Plain bushes pressed in: closing and reaming, pairing with holes (docs/trade.md, Fits and heat).

use super::Material;
use super::lame::{Stress, stiffness};
use crate::instrument::SLACK;
use crate::quantity::{Megapascals, Micrometres, Millimetres};
use crate::refusal::{Result, expect};

/// What becomes of a bush.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum BushCall {
    AsPressed,
    Ream,
    TooLarge,
    TooSmall,
}

impl BushCall {
    /// Name in the contract.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::AsPressed => "as_pressed",
            Self::Ream => "ream",
            Self::TooLarge => "too_large",
            Self::TooSmall => "too_small",
        }
    }

    /// Of a bore that is smallest and largest so, and what is to be reamed from the smallest place to the middle of the
    /// wanted size.
    fn of((least, most): (f64, f64), wanted: (f64, f64), ream_max: f64) -> (Self, Option<Micrometres>) {
        let to_middle = (f64::midpoint(wanted.0, wanted.1) - least) * 1000.0;
        let (call, ream) = if most > wanted.1 + SLACK {
            (Self::TooLarge, None)
        } else if least >= wanted.0 - SLACK {
            (Self::AsPressed, Some(0.0))
        } else if to_middle > ream_max + 1e-6 {
            (Self::TooSmall, Some(to_middle))
        } else {
            (Self::Ream, Some(to_middle))
        };
        (call, ream.map(Micrometres))
    }
}

/// A pressed bush.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Pressed {
    pub pressure: Megapascals,
    pub closing: Micrometres,
    pub bore_after: Millimetres,
    pub call: BushCall,
    /// To the middle of the wanted size; none when too large.
    pub ream: Option<Micrometres>,
    /// Of the housing as hub and the bush inside it.
    pub stress: Stress,
}

/// Bore closing 2·p·d_o²·d_i/(E·(d_o²-d_i²)), or a share of the interference for thin sintered bushes. `delta` is taken
/// as effective. Source: Lamé; docs/trade.md, Fits and heat.
///
/// # Errors
/// `outside_mm` not above the bore, `housing_outside_mm` not above that, `wanted_max_mm` below the minimum,
/// `closing_share` outside 0 to 1.
#[allow(clippy::too_many_arguments)] // the sizes of three nested rings
pub fn pressed(
    bore: f64,
    outside: f64,
    housing_outside: f64,
    delta: Micrometres,
    bush: Material,
    housing: Material,
    share: Option<f64>,
    wanted: (f64, f64),
    ream_max: f64,
    yields: (Option<f64>, Option<f64>),
) -> Result<Pressed> {
    expect(outside > bore, "outside_mm", "expected the outside of the bush to be larger than its bore")?;
    expect(housing_outside > outside, "housing_outside_mm", "expected the housing to be larger than the bush")?;
    expect(wanted.1 >= wanted.0, "wanted_max_mm", "expected the largest wanted size not to be below the smallest")?;
    expect(share.is_none_or(|s| (0.0..=1.0).contains(&s)), "closing_share", "expected a share from 0 to 1")?;
    let p = stiffness(outside, housing_outside, bore, housing, bush) * delta.0 / 1000.0;
    let lame = 2000.0 * p * outside * outside * bore / (bush.young_mpa() * (outside * outside - bore * bore));
    let closing = share.map_or(lame, |s| s * delta.0);
    let after = bore - closing / 1000.0;
    let (call, ream) = BushCall::of((after, after), wanted, ream_max);
    let yields = (yields.1.unwrap_or(housing.yield_mpa()), yields.0.unwrap_or(bush.yield_mpa()));
    let (q, k) = ((outside / housing_outside).powi(2), (bore / outside).powi(2));
    Ok(Pressed {
        stress: Stress::at(Megapascals(p), q, k, housing, yields),
        pressure: Megapascals(p),
        closing: Micrometres(closing),
        bore_after: Millimetres(after),
        call,
        ream,
    })
}

/// A bush that is in, as it was read.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Closed {
    /// Bore before, less the mean of what is read now.
    pub closing: Micrometres,
    /// Largest less smallest that is read now.
    pub oval: Micrometres,
    /// Of its interference.
    pub share: Option<f64>,
    pub call: BushCall,
    /// From the smallest that is read to the middle of the wanted size; none when it is too large.
    pub ream: Option<Micrometres>,
}

/// Closing of a bush that is in, and what is to be reamed: nothing may be larger than the largest wanted size, and the
/// smallest place says whether it is reamed. Source: docs/trade.md, Fits and heat.
///
/// ```
/// use ironseat_core::fit::bush::{BushCall, closed};
/// use ironseat_core::quantity::Micrometres;
/// let c = closed(20.0, &[19.978, 19.982], Micrometres::of(25.0), (20.0, 20.021), 250.0)?;
/// assert!((c.closing.get() - 20.0).abs() < 1e-6 && c.call == BushCall::Ream && (c.ream.unwrap().get() - 32.5).abs() < 1e-6);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `after_mm` when empty, not above 0 or far from the bore before; `wanted_max_mm` below the smallest wanted size.
pub fn closed(before: f64, after: &[f64], delta: Micrometres, wanted: (f64, f64), ream_max: f64) -> Result<Closed> {
    let near = |v: &f64| *v > 0.0 && (v - before).abs() < 0.1 * before;
    expect(!after.is_empty() && after.len() <= 100, "after_mm", "expected 1 to 100 readings of the bore")?;
    expect(after.iter().all(near), "after_mm", "expected bores within a tenth of what it was before")?;
    expect(wanted.1 >= wanted.0, "wanted_max_mm", "expected the largest wanted size not to be below the smallest")?;
    let mean = after.iter().sum::<f64>() / after.len() as f64;
    let (least, most) = after.iter().fold((f64::INFINITY, 0.0f64), |(a, b), v| (a.min(*v), b.max(*v)));
    let closing = (before - mean) * 1000.0;
    let (call, ream) = BushCall::of((least, most), wanted, ream_max);
    Ok(Closed {
        closing: Micrometres(closing),
        oval: Micrometres((most - least) * 1000.0),
        share: (delta.0 > 0.0).then(|| closing / delta.0),
        call,
        ream,
    })
}

/// Largest bush or hole that is matched, mm.
const LARGEST_MM: f64 = 10_000.0;

/// Matches bushes to holes: least worst |interference - wanted|, then least sum of it. Returns the hole of each bush.
/// The worst is found by bisection over the costs, the sum by the Hungarian method under it.
///
/// # Errors
/// `bushes_mm` when empty or over 200; `holes_mm` when fewer than bushes; diameters above 10 000.
pub fn pair(bushes: &[f64], holes: &[f64], wanted: Micrometres) -> Result<Vec<usize>> {
    expect(!bushes.is_empty() && bushes.len() <= 200, "bushes_mm", "expected 1 to 200 bushes")?;
    let size = |v: &f64| *v > 0.0 && *v <= LARGEST_MM;
    expect(bushes.iter().all(size), "bushes_mm", format!("expected diameters above 0 and up to {LARGEST_MM:.0} mm"))?;
    expect(holes.iter().all(size), "holes_mm", format!("expected diameters above 0 and up to {LARGEST_MM:.0} mm"))?;
    expect(
        holes.len() >= bushes.len() && holes.len() <= 1000,
        "holes_mm",
        "expected at least as many holes as bushes, and at most 1000",
    )?;
    let cost: Vec<Vec<f64>> =
        bushes.iter().map(|b| holes.iter().map(|h| ((b - h) * 1000.0 - wanted.0).abs()).collect()).collect();
    let mut levels: Vec<f64> = cost.iter().flatten().copied().collect();
    levels.sort_by(f64::total_cmp);
    let (mut lo, mut hi) = (0, levels.len() - 1);
    while lo < hi {
        let mid = usize::midpoint(lo, hi);
        if all_matched(&cost, levels[mid] + 1e-7) { hi = mid } else { lo = mid + 1 }
    }
    let worst = levels[lo] + 1e-7;
    // Beyond the worst a pair costs more than all allowed ones together.
    let barred = (levels[levels.len() - 1] + 1.0) * (bushes.len() as f64 + 1.0);
    let allowed: Vec<Vec<f64>> =
        cost.iter().map(|r| r.iter().map(|c| if *c <= worst { *c } else { barred }).collect()).collect();
    Ok(hungarian(&allowed))
}

fn all_matched(cost: &[Vec<f64>], limit: f64) -> bool {
    let mut of_hole: Vec<Option<usize>> = vec![None; cost[0].len()];
    fn place(b: usize, cost: &[Vec<f64>], limit: f64, seen: &mut [bool], of_hole: &mut [Option<usize>]) -> bool {
        for h in 0..of_hole.len() {
            if cost[b][h] <= limit && !seen[h] {
                seen[h] = true;
                if of_hole[h].is_none_or(|other| place(other, cost, limit, seen, of_hole)) {
                    of_hole[h] = Some(b);
                    return true;
                }
            }
        }
        false
    }
    (0..cost.len()).all(|b| place(b, cost, limit, &mut vec![false; cost[0].len()], &mut of_hole))
}

/// Least-sum assignment of rows to columns (Kuhn and Munkres, with potentials).
fn hungarian(cost: &[Vec<f64>]) -> Vec<usize> {
    let (n, m) = (cost.len(), cost[0].len());
    let (mut u, mut v) = (vec![0.0; n + 1], vec![0.0; m + 1]);
    let mut row_of = vec![0usize; m + 1];
    for i in 1..=n {
        row_of[0] = i;
        let (mut at, mut least, mut used, mut from) =
            (0, vec![f64::INFINITY; m + 1], vec![false; m + 1], vec![0usize; m + 1]);
        loop {
            used[at] = true;
            let (row, mut delta, mut next) = (row_of[at], f64::INFINITY, 0);
            for j in 1..=m {
                if used[j] {
                    continue;
                }
                let reduced = cost[row - 1][j - 1] - u[row] - v[j];
                if reduced < least[j] {
                    least[j] = reduced;
                    from[j] = at;
                }
                if least[j] < delta {
                    delta = least[j];
                    next = j;
                }
            }
            for j in 0..=m {
                if used[j] {
                    u[row_of[j]] += delta;
                    v[j] -= delta;
                } else {
                    least[j] -= delta;
                }
            }
            at = next;
            if row_of[at] == 0 {
                break;
            }
        }
        while at != 0 {
            let before = from[at];
            row_of[at] = row_of[before];
            at = before;
        }
    }
    let mut hole_of = vec![0; n];
    for j in 1..=m {
        if row_of[j] > 0 {
            hole_of[row_of[j] - 1] = j - 1;
        }
    }
    hole_of
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn pairing_equals_brute_force(b in prop::collection::vec(38.0f64..38.1, 1..5), extra in prop::collection::vec(37.9f64..38.05, 5..7)) {
            let found = pair(&b, &extra, Micrometres::of(40.0)).unwrap();
            let value = |holes: &[usize]| {
                let c: Vec<f64> = b.iter().zip(holes).map(|(b, h)| ((b - extra[*h]) * 1000.0 - 40.0).abs()).collect();
                (c.iter().copied().fold(0.0, f64::max), c.iter().sum::<f64>())
            };
            let mut best = (f64::INFINITY, f64::INFINITY);
            fn all(k: usize, n: usize, m: usize, chosen: &mut Vec<usize>, see: &mut dyn FnMut(&[usize])) {
                if k == n { see(chosen); return; }
                for h in 0..m { if !chosen.contains(&h) { chosen.push(h); all(k + 1, n, m, chosen, see); chosen.pop(); } }
            }
            all(0, b.len(), extra.len(), &mut Vec::new(), &mut |h| { let v = value(h); if v.0 < best.0 - 1e-6 || (v.0 < best.0 + 1e-6 && v.1 < best.1) { best = (best.0.min(v.0), v.1); } });
            let got = value(&found);
            prop_assert!((got.0 - best.0).abs() < 1e-5 && (got.1 - best.1).abs() < 1e-4, "{got:?} {best:?}");
        }
    }
}
