//! House rules: where good shops differ (docs/trade.md, Rules of the house), and what this one does.

use crate::fit::{Friction, lame::Finish};
use crate::quantity::{Celsius, Seconds, Units};
use crate::refusal::{Result, expect};
use crate::terms::text;
use serde::{Deserialize, Serialize};

/// Which rule gives the interference that is really there.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, Default)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum InterferenceSchool {
    #[default]
    Diameter,
    Roughness,
}

/// What is on the seat when a ring is pressed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, Default)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum SeatLubricant {
    Dry,
    #[default]
    Oiled,
    Paste,
}

impl SeatLubricant {
    /// The usual friction.
    #[must_use]
    pub fn friction(self) -> Friction {
        match self {
            Self::Dry => Friction::DRY,
            Self::Oiled => Friction::OILED,
            Self::Paste => Friction::PASTE,
        }
    }
    /// As said.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Self::Dry => "dry",
            Self::Oiled => "oiled",
            Self::Paste => "with paste",
        }
    }
}

/// Friction that a shop learned from its own presses, with how many there were.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Learned {
    pub lubricant: SeatLubricant,
    pub low: f64,
    pub mid: f64,
    pub high: f64,
    pub fits: u32,
}

/// The rules of one shop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(default, deny_unknown_fields)]
pub struct HouseRules {
    /// Units a new person starts in.
    pub units: Units,
    /// Interference school.
    pub school: InterferenceSchool,
    /// Rz of a ground shaft, when the roughness school is used and nothing was measured, µm.
    pub rz_shaft_um: f64,
    /// Rz of a ring bore, µm.
    pub rz_ring_um: f64,
    /// Seat lubricant.
    pub lubricant: SeatLubricant,
    /// Cap of an open ring, °C: may be lowered from 120.
    pub open_cap_c: f64,
    /// Cap of a greased and closed bearing, °C: 80, up to 95 with a reason.
    pub sealed_cap_c: f64,
    /// Why the sealed cap was raised above 80 °C.
    pub sealed_cap_reason: String,
    /// Guard band of ISO 14253-1; false: simple acceptance.
    pub guard_band: bool,
    /// Share of the journal's tolerance that its form may take up.
    pub form_share: f64,
    /// Share of the press capacity that may be used.
    pub press_share: f64,
    /// How long a person's hands need from heater to shoulder, s.
    pub hands_s: f64,
    /// Friction from the shop's own presses; none: the usual figures.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub learned: Option<Learned>,
}

/// So many presses of its own a shop needs before they stand for the usual friction.
pub const FITS_TO_LEARN: u32 = 4;

impl Default for HouseRules {
    fn default() -> Self {
        Self {
            units: Units::Metric,
            school: InterferenceSchool::Diameter,
            rz_shaft_um: 2.5,
            rz_ring_um: 2.0,
            lubricant: SeatLubricant::Oiled,
            open_cap_c: 120.0,
            sealed_cap_c: 80.0,
            sealed_cap_reason: String::new(),
            guard_band: true,
            form_share: 0.5,
            press_share: 0.8,
            hands_s: 20.0,
            learned: None,
        }
    }
}

impl HouseRules {
    /// Refuses rules that would hurt: each error names its field.
    ///
    /// # Errors
    /// The first figure outside its bounds.
    pub fn check(self) -> Result<Self> {
        let within = |v: f64, lo: f64, hi: f64| v.is_finite() && v >= lo && v <= hi;
        expect(within(self.rz_shaft_um, 0.0, 100.0), "rz_shaft_um", "expected Rz of the shaft between 0 and 100 µm")?;
        expect(within(self.rz_ring_um, 0.0, 100.0), "rz_ring_um", "expected Rz of the ring between 0 and 100 µm")?;
        expect(
            within(self.open_cap_c, 40.0, 120.0),
            "open_cap_c",
            "expected 40 to 120 °C: hotter changes the ring's steel",
        )?;
        expect(
            within(self.sealed_cap_c, 40.0, 95.0),
            "sealed_cap_c",
            "expected 40 to 95 °C: hotter spoils grease and seals",
        )?;
        expect(
            self.sealed_cap_c <= 80.0 || !self.sealed_cap_reason.trim().is_empty(),
            "sealed_cap_reason",
            "a cap above 80 °C needs a reason on record",
        )?;
        text::RULE
            .read("sealed_cap_reason", &self.sealed_cap_reason, |range| format!("expected a reason with {range}"))?;
        expect(within(self.form_share, 0.1, 1.0), "form_share", "expected a share between 0.1 and 1")?;
        expect(within(self.press_share, 0.1, 1.0), "press_share", "expected a share between 0.1 and 1; 0.8 is usual")?;
        expect(within(self.hands_s, 1.0, 600.0), "hands_s", "expected between 1 and 600 seconds")?;
        let own = |l: &Learned| {
            within(l.low, 0.005, 1.0)
                && within(l.mid, l.low, 1.0)
                && within(l.high, l.mid, 1.0)
                && l.fits >= FITS_TO_LEARN
        };
        expect(self.learned.as_ref().is_none_or(own), "learned", format!("expected {FITS_TO_LEARN} presses or more"))?;
        Ok(self)
    }

    /// Friction of a press: the shop's own where it was learned with what the seat is wiped with, else the usual one.
    #[must_use]
    pub fn friction(&self) -> Friction {
        match self.learned.filter(|l| l.lubricant == self.lubricant) {
            Some(l) => Friction { low: l.low, mid: l.mid, high: l.high },
            None => self.lubricant.friction(),
        }
    }

    /// Sealed cap as a temperature.
    #[must_use]
    pub fn sealed_cap(&self) -> Celsius {
        Celsius(self.sealed_cap_c)
    }
    /// Hands as a time.
    #[must_use]
    pub fn hands(&self) -> Seconds {
        Seconds(self.hands_s)
    }
    /// The effective-interference rule, for a finish.
    #[must_use]
    pub fn effective(&self, finish: Finish) -> crate::fit::School {
        use crate::quantity::Micrometres;
        match self.school {
            InterferenceSchool::Diameter => crate::fit::School::Diameter(finish),
            InterferenceSchool::Roughness => crate::fit::School::Roughness {
                rz_inner: Micrometres(self.rz_shaft_um),
                rz_outer: Micrometres(self.rz_ring_um),
            },
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_shop_learns_its_friction_for_what_it_wipes_seats_with() {
        let own = Learned { lubricant: SeatLubricant::Oiled, low: 0.08, mid: 0.1, high: 0.12, fits: 6 };
        let rules = HouseRules { learned: Some(own), ..HouseRules::default() }.check().unwrap();
        assert_eq!(rules.friction(), Friction { low: 0.08, mid: 0.1, high: 0.12 });
        let dry = HouseRules { lubricant: SeatLubricant::Dry, ..rules.clone() };
        assert_eq!(dry.friction(), Friction::DRY, "what was learned oiled says nothing of dry");
        for wrong in [Learned { fits: 3, ..own }, Learned { low: 0.2, ..own }, Learned { high: f64::NAN, ..own }] {
            assert_eq!(HouseRules { learned: Some(wrong), ..rules.clone() }.check().unwrap_err().field, "learned");
        }
        let text = serde_json::to_string(&HouseRules::default()).unwrap();
        assert!(!text.contains("learned"), "what is not there changes no digest");
    }

    #[test]
    fn a_raised_cap_needs_its_reason() {
        let raised = HouseRules { sealed_cap_c: 95.0, ..HouseRules::default() };
        assert_eq!(raised.clone().check().unwrap_err().field, "sealed_cap_reason");
        assert!(HouseRules { sealed_cap_reason: "trial of our grease, 40 rings".into(), ..raised }.check().is_ok());
        assert_eq!(HouseRules { open_cap_c: 150.0, ..HouseRules::default() }.check().unwrap_err().field, "open_cap_c");
    }
}
