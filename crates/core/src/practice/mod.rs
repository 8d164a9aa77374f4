//! Practice: a hidden true part, and instruments that read it (docs/trade.md, Practice). The same physics as everywhere
//! else in core, run forwards; everything follows from a seed.

mod truth;

pub use truth::{Bearing, Burr, FloatTruth, Journal, PressTruth, RingTruth};

use crate::quantity::Millimetres;
use crate::stack::Random;
use std::f64::consts::PI;

/// A stand-in instrument: what it adds to the truth. Lengths in mm.
#[derive(Debug, Clone, PartialEq)]
pub struct StandIn {
    /// Steps it shows.
    pub resolution: Millimetres,
    /// Standard deviation of its noise.
    pub noise: Millimetres,
    /// What it loses when the direction of movement turns.
    pub backlash: Millimetres,
    /// Tilt of the stylus: it reads the movement over the cosine.
    pub tilt_deg: f64,
    /// Drift while it warms up: this much in the end, by an exponential with a time constant of ten minutes.
    pub drift: Millimetres,
    random: Random,
    last: Option<f64>,
    slack: f64,
    age_s: f64,
}

impl StandIn {
    /// A perfect instrument with a resolution.
    #[must_use]
    pub fn perfect(resolution: Millimetres, seed: u64) -> Self {
        let none = Millimetres(0.0);
        Self {
            resolution,
            noise: none,
            backlash: none,
            tilt_deg: 0.0,
            drift: none,
            random: Random::new(seed),
            last: None,
            slack: 0.0,
            age_s: 0.0,
        }
    }

    /// A usual one of a kind in the usual list: its noise is a quarter of the expanded uncertainty.
    ///
    /// ```
    /// use ironseat_core::{practice::StandIn, quantity::Millimetres};
    /// let mut a = StandIn::usual(Millimetres::of(0.001), Millimetres::of(0.003), 7);
    /// let mut b = StandIn::usual(Millimetres::of(0.001), Millimetres::of(0.003), 7);
    /// assert_eq!(a.read(40.0123), b.read(40.0123)); // everything follows from the seed
    /// ```
    #[must_use]
    pub fn usual(resolution: Millimetres, uncertainty: Millimetres, seed: u64) -> Self {
        Self { noise: Millimetres(uncertainty.0 / 4.0), ..Self::perfect(resolution, seed) }
    }

    /// Lets it stand for some seconds: it warms up.
    pub fn wait(&mut self, seconds: f64) {
        self.age_s += seconds.max(0.0);
    }

    /// Reads a true value in mm.
    pub fn read(&mut self, truth: f64) -> f64 {
        // Backlash: the first movement after a turn is not seen.
        let mut seen = truth;
        if let Some(last) = self.last {
            let step = truth - last;
            let free = self.backlash.0;
            self.slack = (self.slack + step).clamp(-free / 2.0, free / 2.0);
            seen = truth - self.slack;
        }
        self.last = Some(truth);
        let tilted = seen / self.tilt_deg.to_radians().cos();
        let drifted = tilted + self.drift.0 * (1.0 - (-self.age_s / 600.0).exp());
        let noisy = drifted + self.noise.0 * self.normal();
        if self.resolution.0 > 0.0 { (noisy / self.resolution.0).round() * self.resolution.0 } else { noisy }
    }

    /// A normal deviate (Box and Muller).
    fn normal(&mut self) -> f64 {
        let (u, v) = (self.random.unit().max(1e-300), self.random.unit());
        (-2.0 * u.ln()).sqrt() * (2.0 * PI * v).cos()
    }
}

/// A number drawn from a range by a seed: faults of a practice part.
pub(crate) fn between(r: &mut Random, lo: f64, hi: f64) -> f64 {
    lo + (hi - lo) * r.unit()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn noise_has_the_spread_it_is_given_and_no_bias() {
        let mut i = StandIn::usual(Millimetres(0.0), Millimetres(0.004), 3);
        let all: Vec<f64> = (0..4000).map(|_| i.read(10.0)).collect();
        let r = crate::readings::repeats(&all, 1.0).unwrap();
        assert!((r.mean - 10.0).abs() < 1e-4 && (r.deviation.unwrap() / 0.001 - 1.0).abs() < 0.05);
    }

    #[test]
    fn backlash_hides_the_first_movement_after_a_turn() {
        let mut i = StandIn { backlash: Millimetres(0.02), ..StandIn::perfect(Millimetres(0.0), 1) };
        let up: Vec<f64> = [0.0, 0.1, 0.2].map(|v| i.read(v)).to_vec();
        let down = i.read(0.1);
        assert!((up[2] - 0.19).abs() < 1e-12 && (down - 0.11).abs() < 1e-12, "{up:?} {down}");
    }

    #[test]
    fn a_tilted_stylus_reads_too_much_and_a_warm_one_drifts() {
        let mut i = StandIn { tilt_deg: 60.0, ..StandIn::perfect(Millimetres(0.0), 1) };
        assert!((i.read(0.1) - 0.2).abs() < 1e-12);
        let mut i = StandIn { drift: Millimetres(0.01), ..StandIn::perfect(Millimetres(0.0), 1) };
        let cold = i.read(1.0);
        i.wait(3000.0);
        assert!((i.read(1.0) - cold - 0.01).abs() < 1e-4);
    }
}
