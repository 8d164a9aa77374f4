//! Press fits: what interference is really there, the pressure it makes, the force to press it.

use super::Material;
use crate::instrument::SLACK;
use crate::quantity::{Kelvins, Megapascals, Micrometres, Millimetres, Newtons};
use crate::refusal::{Result, expect};
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;

/// How a surface was finished: decides what the diameter rule takes off.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, Default)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Finish {
    #[default]
    Ground,
    Turned,
}

/// What is left of the interference after the peaks are flattened: two schools (docs/trade.md, Rules of the house and
/// Fits and heat).
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum School {
    /// delta·d/(d+2) ground, d/(d+3) turned.
    Diameter(Finish),
    /// delta - 0.8·(Rz inner + Rz outer), DIN 7190-1.
    Roughness {
        /// Rz of the inner part.
        rz_inner: Micrometres,
        /// Rz of the outer part.
        rz_outer: Micrometres,
    },
}

impl School {
    /// Effective interference, never below 0.
    #[must_use]
    pub fn effective(&self, delta: Micrometres, d: Millimetres) -> Micrometres {
        let left = match self {
            Self::Diameter(Finish::Ground) => delta.0 * d.0 / (d.0 + 2.0),
            Self::Diameter(Finish::Turned) => delta.0 * d.0 / (d.0 + 3.0),
            Self::Roughness { rz_inner, rz_outer } => delta.0 - 0.8 * (rz_inner.0 + rz_outer.0),
        };
        Micrometres(left.max(0.0))
    }
}

/// Friction of pressing: low, mid, high.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Friction {
    /// Lowest that is met.
    pub low: f64,
    /// Usual.
    pub mid: f64,
    /// Highest that is met.
    pub high: f64,
}

impl Friction {
    /// Dry 0.12-0.15-0.18.
    pub const DRY: Self = Self { low: 0.12, mid: 0.15, high: 0.18 };
    /// Oiled 0.08-0.12-0.14: the default, as the seat is always wiped with oil.
    pub const OILED: Self = Self { low: 0.08, mid: 0.12, high: 0.14 };
    /// Paste 0.05-0.07-0.08.
    pub const PASTE: Self = Self { low: 0.05, mid: 0.07, high: 0.08 };

    /// By the lubricant's name: dry, oiled, paste.
    #[must_use]
    pub fn of(lubricant: &str) -> Option<Self> {
        Some(match lubricant {
            "dry" => Self::DRY,
            "oiled" => Self::OILED,
            "paste" => Self::PASTE,
            _ => return None,
        })
    }
}

/// A cylindrical press fit.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PressFit {
    /// Joint diameter.
    pub d: Millimetres,
    /// Outside of the hub (a ring: its raceway; a housing: its outside); infinity for a thick housing.
    pub hub_outside: f64,
    /// Bore of a hollow shaft; 0 if solid.
    pub shaft_bore: Millimetres,
    /// Engaged length.
    pub length: Millimetres,
    /// Smallest measured interference.
    pub delta_min: Micrometres,
    /// Largest measured interference.
    pub delta_max: Micrometres,
    /// Material of the outer part.
    pub hub: Material,
    /// Material of the inner part.
    pub shaft: Material,
    /// Which rule gives the effective interference.
    pub school: School,
    /// Friction while pressing.
    pub friction: Friction,
    /// How much hotter the ring runs than the shaft; below 0 it is colder and tighter.
    pub ring_hotter: Kelvins,
    /// Yield of hub and inner part, MPa; none: that of their materials.
    pub yields: (Option<f64>, Option<f64>),
}

impl PressFit {
    /// A bearing-steel ring on a solid carbon-steel shaft, ground, oiled; the defaults of the contract.
    #[must_use]
    pub fn ring_on_shaft(d: Millimetres, hub_outside: Millimetres, length: Millimetres) -> Self {
        Self {
            d,
            hub_outside: hub_outside.0,
            shaft_bore: Millimetres(0.0),
            length,
            delta_min: Micrometres(0.0),
            delta_max: Micrometres(0.0),
            hub: Material::BearingSteel,
            shaft: Material::CarbonSteel,
            school: School::Diameter(Finish::Ground),
            friction: Friction::OILED,
            ring_hotter: Kelvins(0.0),
            yields: (None, None),
        }
    }

    /// Sets the measured interference range.
    #[must_use]
    pub fn interference(mut self, min: Micrometres, max: Micrometres) -> Self {
        self.delta_min = min;
        self.delta_max = max;
        self
    }
}

/// One level (low, mid or high) of the answer.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Level {
    /// Effective interference.
    pub delta_eff: Micrometres,
    /// Contact pressure.
    pub pressure: Megapascals,
    /// Press force at full engagement.
    pub force: Newtons,
    /// Growth of the hub's outside, on diameter.
    pub growth: Micrometres,
}

/// What a press fit does.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct PressAnswer {
    /// Smallest interference with the lowest friction.
    pub low: Level,
    /// Mean with mean.
    pub mid: Level,
    /// Largest with highest.
    pub high: Level,
    /// Hoop stress at the hub's bore, high.
    pub hub_hoop: Megapascals,
    /// Tresca stress at the hub's bore, high.
    pub hub_tresca: Megapascals,
    /// Hoop stress at the bore of a hollow shaft, high (negative); none when solid.
    pub shaft_bore_hoop: Option<Megapascals>,
    /// Press no further than this before the shoulder: 1.5 x the high force.
    pub stop_force: Newtons,
    /// Pressing out later, from (1.5 x low) to (2.5 x high).
    pub removal: (Newtons, Newtons),
    /// Effective interference in service, mid, with the ring hotter.
    pub service_delta_eff_mid: Micrometres,
    /// Stress at the largest interference, and what a ring colder in service adds.
    pub stress: Stress,
}

/// What the parts of a press fit carry, against what they can.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Stress {
    /// Hoop stress at the hub's bore.
    pub hoop: Megapascals,
    /// Tresca stress at the hub's bore over its yield.
    pub hub_share: f64,
    /// The same of the inner part: at its bore when hollow.
    pub shaft_share: f64,
    /// Judged.
    pub call: StressCall,
}

/// How near to yield.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum StressCall {
    Go,
    Warn,
    Stop,
}

impl StressCall {
    /// Name in the contract.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::Go => "go",
            Self::Warn => "warn",
            Self::Stop => "stop",
        }
    }
}

impl StressCall {
    /// A share of yield, judged.
    #[must_use]
    pub fn of(share: f64) -> Self {
        if share > 1.0 + SLACK {
            Self::Stop
        } else if share > NEAR_YIELD + SLACK {
            Self::Warn
        } else {
            Self::Go
        }
    }
}

/// From this share of yield on it is said.
pub const NEAR_YIELD: f64 = 0.7;
/// Hoop stress at which hardened rings have cracked, MPa.
pub const BRITTLE_HOOP_MPA: f64 = 120.0;

impl Stress {
    /// Stress of a hub and of what is inside it at a contact pressure. Tresca: hub 2p/(1 - q), hollow inner part 2p/(1
    /// - k), solid p, with q and k the squares of the diameter ratios. Source: Lamé's thick cylinders; DIN 7190-1.
    #[must_use]
    pub fn at(p: Megapascals, q: f64, k: f64, hub: Material, yields: (f64, f64)) -> Self {
        let p = p.0;
        let hoop = p * (1.0 + q) / (1.0 - q);
        let hub_share = 2.0 * p / (1.0 - q) / yields.0;
        let shaft_share = if k > 0.0 { 2.0 * p / (1.0 - k) } else { p } / yields.1;
        let cracks = hub == Material::BearingSteel && hoop > BRITTLE_HOOP_MPA + SLACK;
        let call =
            StressCall::of(hub_share.max(shaft_share)).max(if cracks { StressCall::Warn } else { StressCall::Go });
        Self { hoop: Megapascals(hoop), hub_share, shaft_share, call }
    }
}

/// Contact pressure per effective interference, MPa per mm.
/// p = delta / (d·[(1/Eo)((Do²+d²)/(Do²-d²)+nu_o) + (1/Ei)((d²+di²)/(d²-di²)-nu_i)]).
pub(crate) fn stiffness(d: f64, hub_outside: f64, bore: f64, hub: Material, shaft: Material) -> f64 {
    let q = if hub_outside.is_infinite() { 0.0 } else { (d / hub_outside).powi(2) };
    let k = (bore / d).powi(2);
    1.0 / (d
        * (((1.0 + q) / (1.0 - q) + hub.poisson()) / hub.young_mpa()
            + ((1.0 + k) / (1.0 - k) - shaft.poisson()) / shaft.young_mpa()))
}

/// Reckons a press fit. Source: Lamé's thick cylinders; DIN 7190-1; docs/trade.md, Fits and heat.
///
/// Valid while both parts stay elastic: compare [`PressAnswer::hub_tresca`] with the yield.
///
/// # Errors
/// `hub_outside_mm` not above d; `shaft_bore_mm` not below d; `delta_max_um` below the minimum; `mu_high` when
/// frictions do not rise; lengths not above 0 by their names.
pub fn press(f: &PressFit) -> Result<PressAnswer> {
    let d = f.d.0;
    expect(d > 0.0, "d_mm", "expected a diameter above 0")?;
    expect(f.length.0 > 0.0, "length_mm", "expected an engaged length above 0")?;
    expect(f.hub_outside > d, "hub_outside_mm", "expected the outside of the hub to be larger than the joint")?;
    expect(
        f.shaft_bore.0 >= 0.0 && f.shaft_bore.0 < d,
        "shaft_bore_mm",
        "expected the bore of the shaft to be smaller than the joint (0 if solid)",
    )?;
    expect(
        f.delta_max.0 >= f.delta_min.0,
        "delta_max_um",
        "expected the largest interference not to be below the smallest",
    )?;
    expect(
        f.friction.low > 0.0 && f.friction.low <= f.friction.mid && f.friction.mid <= f.friction.high,
        "mu_high",
        "expected friction to rise from low over mid to high",
    )?;

    let per_mm = stiffness(d, f.hub_outside, f.shaft_bore.0, f.hub, f.shaft);
    let q = if f.hub_outside.is_infinite() { 0.0 } else { (d / f.hub_outside).powi(2) };
    let level = |delta: f64, mu: f64| {
        let delta_eff = f.school.effective(Micrometres(delta), f.d);
        let p = per_mm * delta_eff.0 / 1000.0;
        // Strain at the free outside is 2·p·q/(1-q)/E.
        let growth = if f.hub_outside.is_infinite() {
            0.0
        } else {
            2000.0 * p * q / (1.0 - q) * f.hub_outside / f.hub.young_mpa()
        };
        Level {
            delta_eff,
            pressure: Megapascals(p),
            force: Newtons(PI * d * f.length.0 * p * mu),
            growth: Micrometres(growth),
        }
    };
    let low = level(f.delta_min.0, f.friction.low);
    let mid = level((f.delta_min.0 + f.delta_max.0) / 2.0, f.friction.mid);
    let high = level(f.delta_max.0, f.friction.high);
    let p = high.pressure.0;
    let k = (f.shaft_bore.0 / d).powi(2);
    // A ring that is colder in service shrinks on.
    let colder = f.hub.expansion() * d * 1000.0 * (-f.ring_hotter.0).max(0.0);
    let service = Megapascals(per_mm * (high.delta_eff.0 + colder) / 1000.0);
    let yields = (f.yields.0.unwrap_or(f.hub.yield_mpa()), f.yields.1.unwrap_or(f.shaft.yield_mpa()));
    Ok(PressAnswer {
        stress: Stress::at(service, q, k, f.hub, yields),
        hub_hoop: Megapascals(p * (1.0 + q) / (1.0 - q)),
        hub_tresca: Megapascals(2.0 * p / (1.0 - q)),
        shaft_bore_hoop: (f.shaft_bore.0 > 0.0).then(|| Megapascals(-2.0 * p / (1.0 - k))),
        stop_force: Newtons(1.5 * high.force.0),
        removal: (Newtons(1.5 * low.force.0), Newtons(2.5 * high.force.0)),
        service_delta_eff_mid: Micrometres(
            (mid.delta_eff.0 - f.hub.expansion() * d * 1000.0 * f.ring_hotter.0).max(0.0),
        ),
        low,
        mid,
        high,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn fit(d: f64, ratio: f64, delta: f64) -> PressFit {
        PressFit::ring_on_shaft(Millimetres::of(d), Millimetres::of(d * ratio), Millimetres::of(20.0))
            .interference(Micrometres::of(delta), Micrometres::of(delta))
    }

    #[test]
    fn the_check_value_holds() {
        let a = press(
            &PressFit::ring_on_shaft(Millimetres::of(60.0), Millimetres::of(74.0), Millimetres::of(31.0))
                .interference(Micrometres::of(25.4), Micrometres::of(25.4)),
        )
        .expect("valid");
        assert!((a.mid.pressure.get() - 14.46).abs() < 0.01);
        assert!((a.mid.force.get() - 10_100.0).abs() < 50.0);
        assert!((a.mid.growth.get() - 19.9).abs() < 0.05);
    }

    proptest! {
        #[test]
        fn more_interference_never_lowers_anything(d in 5.0f64..300.0, ratio in 1.05f64..3.0, a in -50f64..200.0, more in 0f64..100.0) {
            let (x, y) = (press(&fit(d, ratio, a)).unwrap(), press(&fit(d, ratio, a + more)).unwrap());
            prop_assert!(y.mid.pressure.get() >= x.mid.pressure.get() && y.mid.force.get() >= x.mid.force.get() && y.mid.growth.get() >= x.mid.growth.get());
        }

        #[test]
        fn equal_materials_agree_with_the_closed_form(d in 5.0f64..300.0, ratio in 1.05f64..3.0, hollow in 0.0f64..0.95, delta in 0f64..100.0) {
            let mut f = fit(d, ratio, delta);
            f.shaft = Material::BearingSteel;
            f.shaft_bore = Millimetres::of(d * hollow);
            let a = press(&f).unwrap();
            let k = 1.0 / ratio;
            let closed = a.mid.delta_eff.get() * k * (1.0 - hollow * hollow) / (1.0 - k * k * hollow * hollow);
            prop_assert!((a.mid.growth.get() - closed).abs() < 1e-6 * (1.0 + closed));
        }
    }
}
