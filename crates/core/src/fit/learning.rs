//! The shop's own friction: the usual value is the prior, each force trace moves it (docs/trade.md, Fits and heat).

use crate::fit::Friction;
use crate::refusal::{Result, expect};
use serde::{Deserialize, Serialize};

/// What is believed of the friction of one material, lubricant and size band: a normal-inverse-gamma distribution over
/// its mean and spread.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Belief {
    mean: f64,
    /// How many fits the mean is worth.
    weight: f64,
    shape: f64,
    scale: f64,
    /// Fits that were seen.
    pub fits: u32,
}

/// Fits that the usual figure is worth before any of the shop's own.
const PRIOR_FITS: f64 = 4.0;

impl Belief {
    /// The usual range as a prior: its middle is the mean, low to high is two standard deviations either way.
    #[must_use]
    pub fn usual(f: Friction) -> Self {
        let deviation = (f.high - f.low) / 4.0;
        // A shape of 3 gives the variance a mean of scale/2.
        Self { mean: f.mid, weight: PRIOR_FITS, shape: 3.0, scale: 2.0 * deviation * deviation, fits: 0 }
    }

    /// Takes in the friction that one trace gave.
    ///
    /// ```
    /// use ironseat_core::fit::{Friction, learning::Belief};
    /// let mut b = Belief::usual(Friction::OILED);
    /// for _ in 0..30 { b = b.learn(0.10)?; }
    /// let f = b.friction();
    /// assert!((f.mid - 0.10).abs() < 0.004 && f.high < 0.14 && b.fits == 30);
    /// # Ok::<(), ironseat_core::Refusal>(())
    /// ```
    ///
    /// # Errors
    /// `mu` outside 0.005 to 1: such a trace is not of a press fit.
    pub fn learn(self, mu: f64) -> Result<Self> {
        expect(
            (0.005..=1.0).contains(&mu),
            "mu",
            "expected a friction from 0.005 to 1: look at pressure and sizes of this trace",
        )?;
        let weight = self.weight + 1.0;
        Ok(Self {
            mean: (self.weight * self.mean + mu) / weight,
            weight,
            shape: self.shape + 0.5,
            scale: self.scale + 0.5 * self.weight / weight * (mu - self.mean).powi(2),
            fits: self.fits + 1,
        })
    }

    /// Mean of the friction.
    #[must_use]
    pub fn mean(&self) -> f64 {
        self.mean
    }

    /// Standard deviation of the next fit's friction (of the Student t that is foretold).
    #[must_use]
    pub fn spread(&self) -> f64 {
        (self.scale * (1.0 + 1.0 / self.weight) / (self.shape - 1.0)).sqrt()
    }

    /// Low, mid and high for the press sum: the mean and two standard deviations either way, never below 0.02.
    #[must_use]
    pub fn friction(&self) -> Friction {
        let s = self.spread();
        Friction { low: (self.mean - 2.0 * s).max(0.02), mid: self.mean, high: self.mean + 2.0 * s }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn the_order_of_fits_does_not_matter_and_evidence_draws_the_mean(mut mu in prop::collection::vec(0.04f64..0.25, 1..30)) {
            let learn = |list: &[f64]| list.iter().fold(Belief::usual(Friction::OILED), |b, m| b.learn(*m).unwrap());
            let a = learn(&mu);
            mu.reverse();
            let b = learn(&mu);
            prop_assert!((a.mean - b.mean).abs() < 1e-12 && (a.spread() - b.spread()).abs() < 1e-9);
            let data = mu.iter().sum::<f64>() / mu.len() as f64;
            prop_assert!((a.mean - data).abs() <= (Friction::OILED.mid - data).abs() + 1e-12);
            let f = a.friction();
            prop_assert!(f.low <= f.mid && f.mid <= f.high);
        }
    }

    #[test]
    fn the_prior_shows_the_usual_range_and_fits_that_agree_narrow_it() {
        let prior = Belief::usual(Friction::OILED);
        assert!((prior.friction().high - 0.12 - 0.0335).abs() < 1e-3, "{:?}", prior.friction());
        let seen = (0..20).fold(prior, |b, _| b.learn(0.12).unwrap());
        assert!(seen.spread() < prior.spread() / 2.0);
        assert_eq!(prior.learn(3.0).unwrap_err().field, "mu");
    }
}
