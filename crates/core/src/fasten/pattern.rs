//! In which order the bolts of a joint are tightened, and what each does to its neighbours (docs/trade.md, Fastening
//! and sealing).

use crate::quantity::Newtons;
use crate::refusal::{Result, expect};
use crate::terms::text;
use serde::{Deserialize, Serialize};

/// Where the bolts of a cover stand, mm from anywhere, seen from their heads: x to the right, y up.
///
/// ```
/// use ironseat_core::fasten::Pattern;
/// let cover = Pattern::new("Sump", vec![(0.0, 0.0), (90.0, 0.0), (90.0, 60.0), (0.0, 60.0)])?;
/// assert_eq!(cover.order()?, [0, 2, 3, 1]);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Pattern {
    name: String,
    bolts: Vec<(f64, f64)>,
}

impl Pattern {
    /// A pattern.
    ///
    /// # Errors
    /// `name` when empty or over 80 characters; `bolts` as [`drawn_order`].
    pub fn new(name: &str, bolts: Vec<(f64, f64)>) -> Result<Self> {
        let name = text::DRAWN.read("name", name, |range| format!("expected a name with {range}"))?;
        check(&bolts)?;
        Ok(Self { name, bolts })
    }
    /// Its name.
    #[must_use]
    pub fn name(&self) -> &str {
        &self.name
    }
    /// Places, mm.
    #[must_use]
    pub fn bolts(&self) -> &[(f64, f64)] {
        &self.bolts
    }
    /// In which order they are tightened, from 0: each next as far as possible from those done.
    ///
    /// # Errors
    /// As [`drawn_order`].
    pub fn order(&self) -> Result<Vec<usize>> {
        drawn_order(&self.bolts)
    }
}

/// Order of a drawn pattern, from 0: each next bolt as far as possible from the nearest of those done, ties to the one
/// farthest from the last, then the lowest number; the same rule as for a circle. Source: docs/trade.md, Fastening and
/// sealing.
///
/// ```
/// let square = [(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)];
/// assert_eq!(ironseat_core::fasten::drawn_order(&square)?, [0, 2, 1, 3]);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `bolts` when empty, more than 400, not finite, or two at one place.
pub fn drawn_order(bolts: &[(f64, f64)]) -> Result<Vec<usize>> {
    check(bolts)?;
    let apart = |a: usize, b: usize| (bolts[a].0 - bolts[b].0).hypot(bolts[a].1 - bolts[b].1);
    let mut order = vec![0];
    while order.len() < bolts.len() {
        let mut best: Option<(usize, f64, f64)> = None;
        for i in (0..bolts.len()).filter(|i| !order.contains(i)) {
            let nearest = order.iter().map(|j| apart(i, *j)).fold(f64::INFINITY, f64::min);
            let last = apart(i, order[order.len() - 1]);
            // Distances from coordinates: equal means equal within rounding.
            let better =
                best.is_none_or(|(_, n, l)| nearest > n + TIE || ((nearest - n).abs() <= TIE && last > l + TIE));
            if better {
                best = Some((i, nearest, last));
            }
        }
        order.extend(best.map(|b| b.0));
    }
    Ok(order)
}

const TIE: f64 = 1e-9;

fn check(bolts: &[(f64, f64)]) -> Result<()> {
    expect((1..=400).contains(&bolts.len()), "bolts", "expected 1 to 400 bolts")?;
    expect(bolts.iter().all(|b| b.0.is_finite() && b.1.is_finite()), "bolts", "expected finite places")?;
    let double = (0..bolts.len()).any(|i| (0..i).any(|j| bolts[i] == bolts[j]));
    expect(!double, "bolts", "two bolts stand at one place")
}

/// Order of a rectangular cover, from 0: from the middle outwards, crossing from each bolt to the one opposite through
/// the middle. Source: docs/trade.md, Fastening and sealing.
///
/// ```
/// // Two rows of three: the middle pair first, then corner to opposite corner.
/// let cover = [(0.0, 0.0), (5.0, 0.0), (10.0, 0.0), (0.0, 4.0), (5.0, 4.0), (10.0, 4.0)];
/// assert_eq!(ironseat_core::fasten::rectangle_order(&cover)?, [1, 4, 0, 5, 2, 3]);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// As [`drawn_order`].
pub fn rectangle_order(bolts: &[(f64, f64)]) -> Result<Vec<usize>> {
    check(bolts)?;
    let n = bolts.len() as f64;
    let (mx, my) = (bolts.iter().map(|b| b.0).sum::<f64>() / n, bolts.iter().map(|b| b.1).sum::<f64>() / n);
    let mut left: Vec<usize> = (0..bolts.len()).collect();
    let mut order = Vec::with_capacity(bolts.len());
    let mut take = |left: &mut Vec<usize>, at: (f64, f64)| {
        let mut best = 0;
        let far = |k: usize| (bolts[left[k]].0 - at.0).hypot(bolts[left[k]].1 - at.1);
        for k in 1..left.len() {
            if far(k) < far(best) - TIE {
                best = k;
            }
        }
        order.push(left.remove(best));
        bolts[order[order.len() - 1]]
    };
    while !left.is_empty() {
        let (x, y) = take(&mut left, (mx, my));
        if !left.is_empty() {
            take(&mut left, (2.0 * mx - x, 2.0 * my - y));
        }
    }
    Ok(order)
}

/// A gasketed ring of bolts: tightening one lets its neighbours relax.
#[derive(Debug, Clone, PartialEq)]
pub struct Ring {
    /// Clamp of each bolt now.
    pub clamp: Vec<f64>,
    /// Share of a bolt's gain that the one beside it loses, and the one after that. Typical gaskets 0.25 and 0.08.
    pub loss: (f64, f64),
}

impl Ring {
    /// A loose ring.
    ///
    /// # Errors
    /// `n` outside 3 to 400; `loss` outside 0 to 0.45 for the neighbour or larger for the second than the first: such a
    /// ring would never settle.
    pub fn new(n: usize, loss: (f64, f64)) -> Result<Self> {
        expect((3..=400).contains(&n), "n", "expected 3 to 400 bolts")?;
        expect(
            loss.1 >= 0.0 && loss.1 <= loss.0 && loss.0 + loss.1 <= 0.45,
            "loss",
            "expected shares from 0 that add up to at most 0.45",
        )?;
        Ok(Self { clamp: vec![0.0; n], loss })
    }

    /// One round: each bolt of the order is brought to the clamp; one that has more is left alone.
    pub fn round(&mut self, order: &[usize], to: Newtons) {
        let n = self.clamp.len();
        for &i in order.iter().filter(|i| **i < n) {
            let gain = to.get() - self.clamp[i];
            if gain <= 0.0 {
                continue;
            }
            self.clamp[i] = to.get();
            for (away, share) in [(1, self.loss.0), (2, self.loss.1)] {
                for j in [(i + away) % n, (i + n - away) % n] {
                    if j != i {
                        self.clamp[j] = (self.clamp[j] - share * gain).max(0.0);
                    }
                }
            }
        }
    }

    /// Least clamp over the most, 1 when even.
    #[must_use]
    pub fn evenness(&self) -> f64 {
        let (lo, hi) = self.clamp.iter().fold((f64::INFINITY, 0.0f64), |(l, h), c| (l.min(*c), h.max(*c)));
        if hi > 0.0 { lo / hi } else { 0.0 }
    }
}

/// Rounds at full clamp that a ring needs after its stages until it is even to a share, at most 20.
///
/// ```
/// use ironseat_core::{fasten::{Ring, crossing_order, rounds_until_even}, quantity::Newtons};
/// let order: Vec<usize> = crossing_order(8).into_iter().map(|k| k - 1).collect();
/// let mut ring = Ring::new(8, (0.25, 0.05))?;
/// ring.round(&order, Newtons::of(30_000.0));
/// assert!(ring.evenness() < 0.6); // one round leaves it unequal: hence the last rounds in circle order
/// assert!((2..8).contains(&rounds_until_even(&mut ring, Newtons::of(30_000.0), 0.95)));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
pub fn rounds_until_even(ring: &mut Ring, clamp: Newtons, share: f64) -> usize {
    let circle: Vec<usize> = (0..ring.clamp.len()).collect();
    let mut rounds = 0;
    while ring.evenness() < share && rounds < 20 {
        ring.round(&circle, clamp);
        rounds += 1;
    }
    rounds
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_drawn_circle_is_ordered_like_a_circle() {
        for n in [3usize, 4, 6, 8, 12] {
            let at = |k: usize| (std::f64::consts::TAU * k as f64 / n as f64).sin_cos();
            let drawn: Vec<usize> =
                drawn_order(&(0..n).map(at).collect::<Vec<_>>()).unwrap().into_iter().map(|k| k + 1).collect();
            assert_eq!(drawn, super::super::crossing_order(n), "{n}");
        }
    }

    proptest! {
        #[test]
        fn every_bolt_comes_once(places in prop::collection::btree_set((0i32..30, 0i32..30), 1..25)) {
            let bolts: Vec<(f64, f64)> = places.into_iter().map(|(x, y)| (f64::from(x), f64::from(y))).collect();
            for mut order in [drawn_order(&bolts).unwrap(), rectangle_order(&bolts).unwrap()] {
                order.sort_unstable();
                prop_assert_eq!(order, (0..bolts.len()).collect::<Vec<_>>());
            }
        }

        #[test]
        fn rounds_make_a_ring_even_and_never_tighter_than_asked(n in 3usize..20, a in 0.0f64..0.3, b in 0.0f64..0.1) {
            let mut ring = Ring::new(n, (a.max(b), b)).unwrap();
            for _ in 0..20 { ring.round(&(0..n).collect::<Vec<_>>(), Newtons(1000.0)) }
            prop_assert!(ring.evenness() > 0.97, "{}", ring.evenness());
            prop_assert!(ring.clamp.iter().all(|c| *c <= 1000.0 + 1e-9 && *c >= 0.0));
        }
    }

    #[test]
    fn impossible_rings_are_refused() {
        assert_eq!(Ring::new(2, (0.1, 0.0)).unwrap_err().field, "n");
        assert_eq!(Ring::new(8, (0.1, 0.2)).unwrap_err().field, "loss");
        assert_eq!(drawn_order(&[(0.0, 0.0), (0.0, 0.0)]).unwrap_err().field, "bolts");
    }
}
