//! Heating a ring: how hot it must be, how hot it may be, and how long before it grips.

use super::Material;
use crate::quantity::{Celsius, Kelvins, Micrometres, Millimetres, Seconds};
use crate::refusal::{Refusal, Result, expect};
use serde::{Deserialize, Serialize};

/// Cage of the bearing: one of the things that limit the heat.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, Default)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Cage {
    #[default]
    Steel,
    Brass,
    Polyamide,
    Phenolic,
    None,
}

impl Cage {
    /// By its name in the contract.
    #[must_use]
    pub fn of(name: &str) -> Option<Self> {
        Some(match name {
            "steel" => Self::Steel,
            "brass" => Self::Brass,
            "polyamide" => Self::Polyamide,
            "phenolic" => Self::Phenolic,
            "none" => Self::None,
            _ => return None,
        })
    }
    /// Cap of an open bearing with this cage.
    fn cap(self) -> f64 {
        match self {
            Self::Polyamide => 110.0,
            Self::Phenolic => 100.0,
            Self::Steel | Self::Brass | Self::None => 120.0,
        }
    }
}

/// The hottest a ring may get, by the weakest thing in it, and what that is.
#[must_use]
pub fn weakest_cap(cage: Cage, sealed: bool, class: &str, sealed_cap: Celsius) -> (Celsius, &'static str) {
    let mut cap = (
        cage.cap(),
        match cage {
            Cage::Polyamide => "polyamide cage",
            Cage::Phenolic => "phenolic cage",
            _ => "ring steel",
        },
    );
    if matches!(class, "4" | "2") && cap.0 > 100.0 {
        cap = (100.0, "spindle class");
    }
    if sealed && cap.0 > sealed_cap.0 {
        cap = (sealed_cap.0, "grease and seals");
    }
    (Celsius(cap.0), cap.1)
}

/// What greased and closed bearings bear: beyond it the grease bleeds and the lips harden.
pub const SEALED_CAP: Celsius = Celsius(80.0);
/// Heat that still air takes off a ring, W/(m²·K): a bare ring of a few hundred grams, measured 10 to 15.
pub const STILL_AIR_W_M2K: f64 = 12.0;
/// Specific heat of steel, J/(kg·K).
pub const STEEL_J_KGK: f64 = 470.0;

/// Slide clearance when none is given: the larger of 10 µm and 0.5 µm per mm of bore.
#[must_use]
pub fn default_slide(d: Millimetres) -> Micrometres {
    Micrometres((0.5 * d.0).max(10.0))
}

/// A cap will do that leaves at least so much to slide with: 10 µm, or a quarter micrometre a millimetre of bore. A
/// ring of 200 mm with 10 µm to spare tilts, touches and sticks halfway.
#[must_use]
pub fn least_slide(d: Millimetres) -> Micrometres {
    Micrometres((0.25 * d.0).max(10.0))
}

/// So near the shaft or the room a ring is called cold.
pub const COLD: Kelvins = Kelvins(5.0);

/// What the heater has to do.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct HeatTarget {
    /// Slide clearance reckoned with.
    pub slide: Micrometres,
    /// Temperature at which the ring slides on.
    pub needed: Celsius,
    /// Highest temperature allowed.
    pub cap: Celsius,
    /// Lower of the two, never below the shaft.
    pub target: Celsius,
    /// The cap gives enough growth.
    pub enough: bool,
    /// Interference left at the target, to be pressed.
    pub remaining: Micrometres,
}

/// T = T_shaft + (delta_max + slide)/(alpha·d), held under the cap. Source: docs/trade.md, Fits and heat.
///
/// # Errors
/// `d_mm` not above 0; `cap_c` not above the shaft.
pub fn heat_target(
    d: Millimetres,
    delta_max: Micrometres,
    shaft: Celsius,
    material: Material,
    slide: Micrometres,
    cap: Celsius,
) -> Result<HeatTarget> {
    expect(d.0 > 0.0, "d_mm", "expected a diameter above 0")?;
    expect(cap.0 > shaft.0, "cap_c", "expected the cap to be above the shaft's temperature")?;
    let per_k = material.expansion() * d.0 * 1000.0;
    let needed = shaft.0 + (delta_max.0 + slide.0) / per_k;
    let target = needed.min(cap.0).max(shaft.0);
    Ok(HeatTarget {
        slide,
        needed: Celsius(needed),
        cap,
        target: Celsius(target),
        enough: needed <= cap.0 + crate::instrument::SLACK,
        remaining: Micrometres((delta_max.0 - per_k * (target - shaft.0)).max(0.0)),
    })
}

/// An exponential fall towards the room: T(t) = env + (first - env)·exp(-t/tau).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Cooling {
    /// Room.
    pub env: Celsius,
    /// Ring at the start.
    pub first: Celsius,
    /// Time constant.
    pub tau: Seconds,
}

impl Cooling {
    /// From two thermometer readings `apart` seconds from each other.
    ///
    /// # Errors
    /// `first_c` not above the room; `second_c` not between; `second_s` not later.
    pub fn from_readings(env: Celsius, first: Celsius, second: Celsius, apart: Seconds) -> Result<Self> {
        Self::warm(env, first)?;
        expect(
            second.0 > env.0 && second.0 < first.0,
            "second_c",
            "expected the second reading to lie between the room and the first",
        )?;
        expect(apart.0 > 0.0, "second_s", "expected the second reading to be later than the first")?;
        Ok(Self { env, first, tau: Seconds(apart.0 / ((first.0 - env.0) / (second.0 - env.0)).ln()) })
    }

    /// From mass (g) and area (mm²): tau = m·c/(h·A), c in J/kgK, h in W/m²K.
    ///
    /// # Errors
    /// `first_c` not above the room.
    pub fn from_mass(env: Celsius, first: Celsius, mass_g: f64, area_mm2: f64, h: f64, c: f64) -> Result<Self> {
        Self::warm(env, first)?;
        Ok(Self { env, first, tau: Seconds(mass_g / 1000.0 * c / (h * area_mm2 * 1e-6)) })
    }

    fn warm(env: Celsius, first: Celsius) -> Result<()> {
        expect(first.0 > env.0, "first_c", "expected the ring to be warmer than the room to cool")
    }

    /// Temperature after a time.
    #[must_use]
    pub fn at(&self, t: Seconds) -> Celsius {
        Celsius(self.env.0 + (self.first.0 - self.env.0) * (-t.0 / self.tau.0).exp())
    }

    /// Time until a temperature is reached: 0 when it already is, none when it never will be.
    #[must_use]
    pub fn until(&self, target: Celsius) -> Option<Seconds> {
        if self.first.0 <= target.0 {
            Some(Seconds(0.0))
        } else if target.0 <= self.env.0 {
            None
        } else {
            Some(Seconds(self.tau.0 * ((self.first.0 - self.env.0) / (target.0 - self.env.0)).ln()))
        }
    }
}

/// Least time that is put on a heating clock, s.
const SHORTEST_HEATING_S: f64 = 30.0;

/// How long a heater takes: m·c·rise/P with c = 470 J/kgK, at least half a minute. Only sets the clock; the thermometer
/// decides.
#[must_use]
pub fn heating_time(mass_g: f64, rise: Kelvins, watts: f64) -> Seconds {
    Seconds((mass_g / 1000.0 * 470.0 * rise.0 / watts).max(SHORTEST_HEATING_S))
}

/// Temperature at which a heated ring's bore equals the shaft: shaft + delta/(alpha·d).
#[must_use]
pub fn grip_temperature(d: Millimetres, delta: Micrometres, shaft: Celsius, material: Material) -> Celsius {
    shaft + Kelvins(delta.0 / (material.expansion() * d.0 * 1000.0))
}

/// Hottest a closed bearing may ever be, whatever the reason: its grease and seals are gone beyond.
pub const NEVER_SEALED: Celsius = Celsius(95.0);
/// Hottest an open one may ever be: ring steel loses its hardness and its size beyond.
pub const NEVER_OPEN: Celsius = Celsius(150.0);

/// Refuses a cap above the weakest one unless a reason is on record, and one that no reason is good enough for.
///
/// # Errors
/// `cap_c`, `reason`.
pub fn raised_cap(cap: Celsius, weakest: Celsius, sealed: bool, reason: &str) -> Result<Celsius> {
    let never = if sealed { NEVER_SEALED } else { NEVER_OPEN };
    if cap.0 > never.0 + crate::instrument::SLACK {
        let what = if sealed { "grease and seals are gone" } else { "ring steel loses its hardness" };
        return Err(Refusal::new("cap_c", format!("above {:.0} °C {what}, whatever the reason", never.0)));
    }
    if cap.0 > weakest.0 + crate::instrument::SLACK && reason.trim().is_empty() {
        return Err(Refusal::new("reason", format!("a cap above {:.0} °C needs a reason on record", weakest.0)));
    }
    Ok(cap)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn the_weakest_item_caps_the_heat() {
        for (cage, sealed, class, cap) in [
            (Cage::Steel, false, "normal", 120.0),
            (Cage::Polyamide, false, "normal", 110.0),
            (Cage::Phenolic, false, "4", 100.0),
            (Cage::Steel, false, "4", 100.0),
            (Cage::Polyamide, true, "2", 80.0),
        ] {
            assert_eq!(weakest_cap(cage, sealed, class, Celsius::of(80.0)).0.get(), cap);
        }
    }

    #[test]
    fn heating_takes_what_the_mass_asks_for() {
        assert!(
            (heating_time(373.0, Kelvins::of(74.0), 600.0).get() - 30.0).abs() < 1e-9,
            "21.6 s, but never under half a minute"
        );
        assert!((heating_time(3730.0, Kelvins::of(74.0), 600.0).get() - 216.2).abs() < 0.1);
    }

    proptest! {
        #[test]
        fn more_interference_never_needs_less_heat(d in 5f64..300.0, delta in -30f64..200.0, more in 0f64..50.0) {
            let t = |x: f64| heat_target(Millimetres::of(d), Micrometres::of(x), Celsius::of(20.0), Material::BearingSteel, Micrometres::of(10.0), Celsius::of(120.0)).unwrap();
            prop_assert!(t(delta + more).needed.get() >= t(delta).needed.get());
            prop_assert!(t(delta).target.get() <= 120.0 && t(delta).remaining.get() >= 0.0);
        }

        #[test]
        fn cooling_reaches_each_temperature_when_it_says(first in 60f64..150.0, second in 30f64..59.0, share in 0.1f64..0.9) {
            let c = Cooling::from_readings(Celsius::of(20.0), Celsius::of(first), Celsius::of(second), Seconds::of(100.0)).unwrap();
            let aim = Celsius::of(20.0 + (first - 20.0) * share);
            prop_assert!((c.at(c.until(aim).unwrap()).get() - aim.get()).abs() < 1e-6);
        }
    }
}
