//! True parts with their faults, and what an ideal instrument would see of them.

use super::between;
use crate::fit::{Friction, PressFit, press};
use crate::preload::{BallBearing, Pair};
use crate::quantity::{Celsius, Micrometres, Millimetres, Newtons, Seconds};
use crate::refusal::Result;
use crate::stack::Random;
use std::f64::consts::PI;

/// A narrow lump on a journal.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Burr {
    /// Where, degrees from the mark.
    pub at_deg: f64,
    /// How high.
    pub high: Micrometres,
    /// How wide, degrees.
    pub wide_deg: f64,
}

/// A journal as it really is.
#[derive(Debug, Clone, PartialEq)]
pub struct Journal {
    /// Diameter in the middle.
    pub d: Millimetres,
    /// Length.
    pub length: Millimetres,
    /// Diameter at end B less diameter at end A.
    pub taper: Micrometres,
    /// Middle larger (+) or smaller (-) than the ends, on diameter.
    pub barrel: Micrometres,
    /// Radial amplitude of lobes: (how many, amplitude, first high spot in degrees).
    pub lobes: Vec<(u32, Micrometres, f64)>,
    /// Eccentricity of the axis at both ends to the axis of rotation: (µm, degrees).
    pub axis: [(Micrometres, f64); 2],
    /// Bow in the middle: (µm, degrees).
    pub bow: (Micrometres, f64),
    /// A lump.
    pub burr: Option<Burr>,
}

impl Journal {
    /// A journal of a nominal size with faults drawn from a seed; the harder, the larger they are (1 to 5).
    #[must_use]
    pub fn seeded(nominal: Millimetres, length: Millimetres, hard: u32, seed: u64) -> Self {
        let mut r = Random::new(seed);
        let scale = f64::from(hard.clamp(1, 5));
        let mut part = |lo: f64, hi: f64| between(&mut r, lo, hi);
        Self {
            d: Millimetres(nominal.0 + part(0.002, 0.016)),
            length,
            taper: Micrometres(part(-1.5, 1.5) * scale),
            barrel: Micrometres(part(-1.0, 1.0) * scale),
            lobes: vec![
                (2, Micrometres(part(0.0, 0.8) * scale), part(0.0, 180.0)),
                (3, Micrometres(part(0.0, 0.8) * scale), part(0.0, 120.0)),
            ],
            axis: [
                (Micrometres(part(0.0, 3.0) * scale), part(0.0, 360.0)),
                (Micrometres(part(0.0, 3.0) * scale), part(0.0, 360.0)),
            ],
            bow: (Micrometres(part(0.0, 2.0) * scale), part(0.0, 360.0)),
            burr: (hard >= 4).then(|| Burr {
                at_deg: part(0.0, 360.0),
                high: Micrometres(part(5.0, 15.0)),
                wide_deg: 6.0,
            }),
        }
    }

    /// A journal without a fault.
    #[must_use]
    pub fn true_one(d: Millimetres, length: Millimetres) -> Self {
        let none = (Micrometres(0.0), 0.0);
        Self {
            d,
            length,
            taper: Micrometres(0.0),
            barrel: Micrometres(0.0),
            lobes: Vec::new(),
            axis: [none; 2],
            bow: none,
            burr: None,
        }
    }

    fn share(&self, z: Millimetres) -> f64 {
        (z.0 / self.length.0).clamp(0.0, 1.0)
    }

    /// Radius in mm about the journal's own axis, at an angle and a place.
    #[must_use]
    pub fn radius(&self, deg: f64, z: Millimetres) -> f64 {
        let f = self.share(z);
        let diameter =
            self.d.0 + self.taper.0 / 1000.0 * (f - 0.5) + self.barrel.0 / 1000.0 * (1.0 - (2.0 * f - 1.0).powi(2));
        let lobes: f64 =
            self.lobes.iter().map(|(n, a, at)| a.0 / 1000.0 * (f64::from(*n) * (deg - at).to_radians()).cos()).sum();
        let burr = self.burr.map_or(0.0, |b| {
            let off = ((deg - b.at_deg + 180.0).rem_euclid(360.0) - 180.0) / (b.wide_deg / 2.0);
            if off.abs() < 1.0 { b.high.0 / 1000.0 * (1.0 + (PI * off).cos()) / 2.0 } else { 0.0 }
        });
        diameter / 2.0 + lobes + burr
    }

    /// Two-point diameter in mm: what a micrometer spans. It cannot see an odd number of lobes.
    #[must_use]
    pub fn diameter(&self, deg: f64, z: Millimetres) -> f64 {
        self.radius(deg, z) + self.radius(deg + 180.0, z)
    }

    /// Axis vector in µm at a place.
    #[must_use]
    pub fn eccentricity(&self, z: Millimetres) -> (f64, f64) {
        let f = self.share(z);
        let vector = |(e, deg): (Micrometres, f64), by: f64| {
            (by * e.0 * deg.to_radians().cos(), by * e.0 * deg.to_radians().sin())
        };
        let parts =
            [vector(self.axis[0], 1.0 - f), vector(self.axis[1], f), vector(self.bow, 1.0 - (2.0 * f - 1.0).powi(2))];
        parts.iter().fold((0.0, 0.0), |s, p| (s.0 + p.0, s.1 + p.1))
    }

    /// Indicator in µm when the shaft turns by an angle in true bearings, zero at its mean; plunger pushed in is +.
    #[must_use]
    pub fn indicator(&self, deg: f64, z: Millimetres) -> f64 {
        let (x, y) = self.eccentricity(z);
        let t = deg.to_radians();
        (self.radius(deg, z) - self.d.0 / 2.0) * 1000.0 + x * t.cos() + y * t.sin()
    }
}

/// A press fit as it really is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PressTruth {
    /// Sizes and interference; least and most are the same.
    pub fit: PressFit,
    /// Friction that it really has.
    pub mu: f64,
    /// Where something stops it short of the shoulder.
    pub obstacle: Option<Millimetres>,
}

impl PressTruth {
    /// Force at a travel: rising with the engaged length, then the shoulder (or what lies in the way), as stiff as
    /// a hundred times the rise.
    ///
    /// # Errors
    /// What [`press`] refuses.
    pub fn force(&self, travel: Millimetres) -> Result<Newtons> {
        let friction = Friction { low: self.mu, mid: self.mu, high: self.mu };
        let full = press(&PressFit { friction, ..self.fit })?.mid.force.0;
        let slope = full / self.fit.length.0;
        let stop = self.obstacle.map_or(self.fit.length.0, |o| o.0.min(self.fit.length.0));
        let beyond = (travel.0 - stop).max(0.0);
        Ok(Newtons(slope * travel.0.min(stop).max(0.0) + 100.0 * slope * beyond))
    }
}

/// A ring that cools.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct RingTruth {
    pub room: Celsius,
    pub start: Celsius,
    pub tau: Seconds,
    /// What the thermometer shows too little, because it does not touch well.
    pub leak: f64,
}

impl RingTruth {
    /// What the thermometer shows after a time.
    #[must_use]
    pub fn shown(&self, after: Seconds) -> Celsius {
        let real = self.room.0 + (self.start.0 - self.room.0) * (-after.0 / self.tau.0).exp();
        Celsius(real - self.leak * (real - self.room.0))
    }
}

/// A rotor between its thrust faces.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct FloatTruth {
    pub float: Millimetres,
    /// Where the indicator's zero happens to be.
    pub zero: Millimetres,
    /// The housing is not clamped: it gives by this much.
    pub loose: Millimetres,
}

impl FloatTruth {
    /// Pushed and pulled readings of the k-th pair.
    #[must_use]
    pub fn pair(&self, k: usize) -> (f64, f64) {
        let give = self.loose.0 * (k as f64 * 1.7).sin().abs();
        (self.zero.0, self.zero.0 + self.float.0 + give)
    }
}

/// A bearing pair as it really is.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Bearing {
    pub bearing: BallBearing,
    pub preload: Newtons,
    /// N/µm.
    pub joint: f64,
}

impl Bearing {
    /// Shift of the nose in µm under an axial load, either way.
    #[must_use]
    pub fn shift(&self, load: Newtons) -> f64 {
        let pair = Pair::new(self.bearing, 1, 1, self.preload);
        load.0.signum() * pair.under(Newtons(load.0.abs())).shift.0 + load.0 / self.joint
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::axial::float;
    use crate::fit::{heat::Cooling, trace};
    use crate::journal_sheet::{Feature, grid};
    use crate::preload::push_test;
    use crate::rotation::{Station, line, sweep};
    use proptest::prelude::*;

    proptest! {
        /// What an ideal instrument sees of a truth, put through the sheets, gives the truth back.
        #[test]
        fn sheets_find_what_the_truth_hides(seed: u64, hard in 1u32..4) {
            let j = Journal::seeded(Millimetres(40.0), Millimetres(30.0), hard, seed);
            let rows: Vec<Vec<f64>> = [0.0, 15.0, 30.0].map(|z| [0.0, 45.0, 90.0, 135.0].map(|a| j.diameter(a, Millimetres(z))).to_vec()).to_vec();
            let g = grid(&rows, Feature::Journal, Micrometres(0.1)).unwrap();
            prop_assert!((g.taper.unwrap().0 - j.taper.0).abs() < 1e-6 && (g.barrel.unwrap().0 - j.barrel.0).abs() < 1e-6);
            let z = Millimetres(20.0);
            let read: Vec<f64> = (0..12).map(|k| j.indicator(f64::from(k) * 30.0, z)).collect();
            let s = sweep(&read, None, 3).unwrap();
            let (x, y) = j.eccentricity(z);
            prop_assert!((s.harmonics[0].amplitude.0 - x.hypot(y)).abs() < 1e-6);
            prop_assert!((s.harmonics[1].amplitude.0 - j.lobes[0].1.0).abs() < 1e-6 && (s.harmonics[2].amplitude.0 - j.lobes[1].1.0).abs() < 1e-6);
            let straight = Journal { bow: (Micrometres(0.0), 0.0), ..j };
            let stations: Vec<Station> = [0.0, 10.0, 30.0].map(|z| { let (x, y) = straight.eccentricity(Millimetres(z)); Station { z: Millimetres(z), x: Micrometres(x), y: Micrometres(y) } }).to_vec();
            prop_assert!(line(&stations, None, Micrometres(0.1)).unwrap().bow.is_some_and(|(x, y)| x.hypot(y) < 1e-9));
        }

        #[test]
        fn a_trace_gives_its_friction_back(mu in 0.05f64..0.2, delta in 8.0f64..30.0) {
            let fit = PressFit::ring_on_shaft(Millimetres(40.0), Millimetres(48.0), Millimetres(18.0)).interference(Micrometres(delta), Micrometres(delta));
            let p = PressTruth { fit, mu, obstacle: None };
            let points: Vec<(f64, f64)> = (1..=40).map(|k| f64::from(k) * 0.46).map(|t| (t, p.force(Millimetres(t)).unwrap().0)).collect();
            let pressure = press(&fit).unwrap().mid.pressure.0;
            let t = trace::read(&points, 40.0, 18.0, (0.0, 1e9), Some(pressure), 0.3).unwrap();
            prop_assert!((t.mu.unwrap() / mu - 1.0).abs() < 1e-6 && t.home);
            let short = PressTruth { obstacle: Some(Millimetres(10.0)), ..p };
            let points: Vec<(f64, f64)> = (1..=30).map(|k| f64::from(k) * 0.35).map(|t| (t, short.force(Millimetres(t)).unwrap().0)).collect();
            prop_assert_eq!(trace::read(&points, 40.0, 18.0, (0.0, 1e9), None, 0.3).unwrap().call, trace::TraceCall::Early);
        }
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(24))]
        #[test]
        fn a_push_test_gives_its_preload_back(preload in 50.0f64..800.0) {
            let bearing = BallBearing::new(18.0, 8.731, 65.0, 15.0, 0.52, 0.52).unwrap();
            let b = Bearing { bearing, preload: Newtons(preload), joint: 300.0 };
            let points: Vec<(f64, f64)> = [-400.0, -200.0, 100.0, 250.0, 500.0].map(|l| (l, b.shift(Newtons(l)))).to_vec();
            let t = push_test(bearing, &points, true).unwrap();
            prop_assert!((t.preload.0 / preload - 1.0).abs() < 0.02 && (t.joint.unwrap() / 300.0 - 1.0).abs() < 0.05, "{t:?}");
        }
    }

    #[test]
    fn a_cooling_ring_and_a_float_read_as_they_are() {
        let r = RingTruth { room: Celsius(20.0), start: Celsius(110.0), tau: Seconds(600.0), leak: 0.0 };
        let c = Cooling::from_readings(r.room, r.shown(Seconds(0.0)), r.shown(Seconds(60.0)), Seconds(60.0)).unwrap();
        assert!((c.tau.0 - 600.0).abs() < 1e-6);
        let leaky = RingTruth { leak: 0.05, ..r };
        assert!(leaky.shown(Seconds(0.0)) < r.shown(Seconds(0.0)));
        let f = FloatTruth { float: Millimetres(0.31), zero: Millimetres(1.2), loose: Millimetres(0.0) };
        let pairs: Vec<(f64, f64)> = (0..3).map(|k| f.pair(k)).collect();
        assert!((float(&pairs, (0.25, 0.35), None, 0.01, true).unwrap().float.0 - 0.31).abs() < 1e-9);
        let loose = FloatTruth { loose: Millimetres(0.05), ..f };
        let pairs: Vec<(f64, f64)> = (0..4).map(|k| loose.pair(k)).collect();
        assert!(
            float(&pairs, (0.25, 0.35), None, 0.01, true).unwrap().change.is_none(),
            "look again: it is not clamped"
        );
    }

    #[test]
    fn three_lobes_hide_from_a_micrometer_and_show_in_a_sweep() {
        let mut j = Journal::true_one(Millimetres(40.0), Millimetres(30.0));
        j.lobes = vec![(3, Micrometres(6.0), 0.0)];
        let z = Millimetres(10.0);
        assert!((0..8).all(|k| (j.diameter(f64::from(k) * 22.5, z) - 40.0).abs() < 1e-12));
        let s = sweep(&(0..12).map(|k| j.indicator(f64::from(k) * 30.0, z)).collect::<Vec<_>>(), None, 3).unwrap();
        assert!((s.harmonics[2].amplitude.0 - 6.0).abs() < 1e-9);
    }
}
