//! Numbers that a trail asks for: read as typed, held against a limit, shown in either system.

use crate::quantity::show;
use crate::quantity::{Micrometres, Millimetres, Units, number, parse_length};
use crate::refusal::{Refusal, Result, expect};
use serde::{Deserialize, Serialize};

/// N·m in a pound-force foot.
const FOOT_POUND: f64 = 1.355_817_948_331_4;

/// What a number counts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Unit {
    /// A length, in millimetres when no unit is typed.
    Mm,
    /// A small length, in micrometres when no unit is typed.
    Um,
    /// A resistance.
    Ohm,
    /// A torque.
    NewtonMetre,
    /// An angle from the mark at the top, clockwise seen from end A.
    Degree,
    /// A gap voltage of a probe.
    Volt,
}

impl Unit {
    /// Reads what was typed, in this unit. Without a unit of its own a length counts in the person's system.
    ///
    /// ```
    /// use ironseat_core::anatomy::Unit;
    /// use ironseat_core::quantity::Units;
    /// let read = |unit: Unit, text| unit.read(text, Units::Metric);
    /// assert_eq!((read(Unit::Um, "12")?, read(Unit::Um, "0.012 mm")?, read(Unit::Degree, "45°")?), (12.0, 12.0, 45.0));
    /// assert_eq!((read(Unit::Ohm, "109.8 ohm")?, Unit::Um.read("2", Units::Inch)?), (109.8, 50.8));
    /// assert_eq!((read(Unit::NewtonMetre, "88.5 ft lb")?, read(Unit::NewtonMetre, "120")?), (119.99, 120.0));
    /// # Ok::<(), ironseat_core::Refusal>(())
    /// ```
    ///
    /// # Errors
    /// Field `value`, with what was expected.
    pub fn read(self, text: &str, units: Units) -> Result<f64> {
        let text = text.trim();
        let plain = |ends: &[&str]| {
            let lower = text.to_lowercase();
            let bare = ends.iter().find_map(|e| lower.strip_suffix(e)).unwrap_or(&lower);
            number(bare)
        };
        match self {
            Self::Mm | Self::Um => {
                let unit = self.hint_in(units).1;
                let mm = parse_length(text, unit, None, None).map_err(|e| Refusal::new("value", e.message))?.value.0;
                expect(mm.abs() <= 20_000.0, "value", "expected a length up to 20 m")?;
                // A factor of a thousand leaves a trace in the last digit that nobody typed.
                Ok(if self == Self::Mm { mm } else { (mm * 1e9).round() / 1e6 })
            }
            Self::Ohm => plain(&["ohms", "ohm", "ω", "Ω"])
                .filter(|v| (0.0..=1e9).contains(v))
                .ok_or_else(|| Refusal::new("value", "expected ohms as the meter shows them, such as 109.8")),
            Self::NewtonMetre => {
                let feet = plain(&["lbf·ft", "lbf ft", "lb ft", "ft·lbf", "ft·lb", "ft lbf", "ft lb"]);
                let metres = plain(&["n·m", "n m", "nm"]);
                let bare = plain(&[]);
                let nm = match (bare, units) {
                    (Some(v), Units::Metric) => Some(v),
                    (Some(v), Units::Inch) => Some(v * FOOT_POUND),
                    (None, _) => metres.or(feet.map(|v| v * FOOT_POUND)),
                };
                // A hundredth is more than any wrench shows; what lies behind it is left over from the other system.
                nm.map(|v| {
                    if v.fract() == 0.0 || bare.is_some() && units == Units::Metric {
                        v
                    } else {
                        (v * 100.0).round() / 100.0
                    }
                })
                .filter(|v| (0.0..=1e6).contains(v))
                .ok_or_else(|| {
                    Refusal::new("value", "expected a torque as the wrench shows it, such as 120 N·m or 88 lbf·ft")
                })
            }
            Self::Volt => plain(&["volts", "volt", "v"])
                .filter(|v| v.abs() <= 100.0)
                .ok_or_else(|| Refusal::new("value", "expected volts as the meter shows them, such as -9.8")),
            Self::Degree => plain(&["degrees", "deg", "°"])
                .filter(|v| (0.0..=360.0).contains(v))
                .map(|v| if v >= 360.0 { 0.0 } else { v })
                .ok_or_else(|| {
                    Refusal::new("value", "expected degrees from 0 to 360, clockwise from the top seen from end A")
                }),
        }
    }

    /// A value with its unit, as a person of either system reads it.
    #[must_use]
    pub fn show(self, value: f64, units: Units) -> String {
        match self {
            Self::Mm => show::join(show::size(Millimetres(value), Millimetres(0.01), units)),
            Self::Um => show::join(show::small(Micrometres(value), units)),
            Self::Ohm => format!("{} Ω", show::tidy(value)),
            Self::NewtonMetre if units == Units::Inch => {
                format!("{} lbf·ft", show::tidy((value / FOOT_POUND * 10.0).round() / 10.0))
            }
            Self::NewtonMetre => format!("{} N·m", show::tidy(value)),
            Self::Degree => format!("{}°", show::tidy(value)),
            Self::Volt => format!("{} V", show::tidy(value)),
        }
    }

    /// What a number without a unit counts, as said beside its field.
    #[must_use]
    pub fn hint(self, units: Units) -> &'static str {
        self.hint_in(units).0
    }
    fn hint_in(self, units: Units) -> (&'static str, &'static str) {
        match (self, units) {
            (Self::Mm, Units::Metric) => ("mm", "mm"),
            (Self::Mm, Units::Inch) => ("in", "in"),
            (Self::Um, Units::Metric) => ("µm", "um"),
            (Self::Um, Units::Inch) => ("thou", "thou"),
            (Self::Ohm, _) => ("Ω", "mm"),
            (Self::NewtonMetre, Units::Metric) => ("N·m", "mm"),
            (Self::NewtonMetre, Units::Inch) => ("lbf·ft", "mm"),
            (Self::Degree, _) => ("degrees", "mm"),
            (Self::Volt, _) => ("V", "mm"),
        }
    }
    /// In answers of the program: `mm`, `um`, `nm`.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Mm => "mm",
            Self::Um => "um",
            Self::Ohm => "ohm",
            Self::NewtonMetre => "nm",
            Self::Degree => "deg",
            Self::Volt => "v",
        }
    }
}

/// A number that a step asks for, with its limits in its unit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Measure {
    /// Unit of the limits and of what is typed without one.
    pub unit: Unit,
    /// At least.
    pub lo: Option<f64>,
    /// At most.
    pub hi: Option<f64>,
    /// Where the limits come from.
    pub source: String,
    /// As-found question it stands beside; empty for none.
    pub beside: String,
    /// What it is of its part where no question names it: torque, tilt, lift.
    pub what: String,
    /// How many readings make it: three pairs of a float, four gaps.
    #[serde(default = "one")]
    pub points: u32,
    /// Share that it may differ from what was found.
    #[serde(default)]
    pub near: Option<f64>,
}

fn one() -> u32 {
    1
}

impl Measure {
    /// One reading with its limits.
    #[must_use]
    pub fn of(unit: Unit, lo: Option<f64>, hi: Option<f64>, source: &str) -> Self {
        Self {
            unit,
            lo,
            hi,
            source: source.to_owned(),
            beside: String::new(),
            what: String::new(),
            points: 1,
            near: None,
        }
    }
    /// With the limits that follow from what was found, where it has to stay near that.
    #[must_use]
    pub fn beside_found(&self, found: Option<&[f64]>) -> Self {
        match (self.near, found.and_then(<[f64]>::first)) {
            (Some(share), Some(was)) => {
                let give = (was * share).abs().max(0.5);
                Self { lo: Some(was - give), hi: Some(was + give), ..self.clone() }
            }
            _ => self.clone(),
        }
    }
    /// Reads what was typed: as many readings as it wants, set apart by semicolons or blanks. What counts is
    /// [`Measure::settled`].
    ///
    /// # Errors
    /// Field `value`, with how many are expected.
    pub fn read(&self, text: &str, units: Units) -> Result<(f64, Vec<f64>)> {
        if self.points <= 1 {
            let v = self.unit.read(text, units)?;
            return Ok((v, vec![v]));
        }
        let text = text.trim();
        let apart = |c: char| if text.contains(';') { c == ';' } else { c.is_whitespace() };
        let list: Vec<&str> = text.split(apart).map(str::trim).filter(|t| !t.is_empty()).collect();
        let n = self.points as usize;
        expect(
            list.len() >= n && list.len() <= 12,
            "value",
            format!(
                "expected {n} readings set apart by semicolons, such as {}",
                ["0.28", "0.29", "0.28", "0.30"].iter().take(n).copied().collect::<Vec<_>>().join("; ")
            ),
        )?;
        let all: Vec<f64> = list
            .iter()
            .map(|t| self.unit.read(t, units).map_err(|e| Refusal::new("value", format!("“{t}”: {}", e.message))))
            .collect::<Result<_>>()?;
        Ok((self.settled(&all), all))
    }

    /// What counts of several readings: the mean of repeats, and the least of gaps, as a lower limit alone is held
    /// against the least.
    #[must_use]
    pub fn settled(&self, all: &[f64]) -> f64 {
        let least = self.points > 1 && self.lo.is_some() && self.hi.is_none();
        let value = if least {
            all.iter().copied().fold(f64::INFINITY, f64::min)
        } else {
            all.iter().sum::<f64>() / all.len() as f64
        };
        (value * 1e6).round() / 1e6
    }

    /// Whether a value keeps its limits; a limit itself is kept.
    #[must_use]
    pub fn within(&self, value: f64) -> bool {
        self.lo.is_none_or(|l| value >= l - 1e-9) && self.hi.is_none_or(|h| value <= h + 1e-9)
    }

    /// How much it changed from what was found; of several points the least counts, as a limit is held against it. None
    /// when nothing was found.
    ///
    /// ```
    /// use ironseat_core::anatomy::{Measure, Unit};
    /// let gap = Measure::of(Unit::Mm, Some(0.25), None, "");
    /// assert!((gap.change(&[0.30, 0.22, 0.28], 0.27).unwrap() - 0.05).abs() < 1e-12);
    /// ```
    #[must_use]
    pub fn change(&self, found: &[f64], left: f64) -> Option<f64> {
        found.iter().copied().reduce(f64::min).map(|was| left - was)
    }

    /// The limits as said: `0.25 … 0.35 mm`, `at most 12 µm`; empty when there are none.
    #[must_use]
    pub fn limit(&self, units: Units) -> String {
        let s = |v: f64| self.unit.show(v, units);
        match (self.lo, self.hi) {
            (Some(lo), Some(hi)) => format!("{} … {}", s(lo), s(hi)),
            (Some(lo), None) => format!("at least {}", s(lo)),
            (None, Some(hi)) => format!("at most {}", s(hi)),
            (None, None) => String::new(),
        }
    }

    /// What is wrong with a value, as a sentence; none when it keeps its limits.
    ///
    /// ```
    /// use ironseat_core::anatomy::{Measure, Unit};
    /// use ironseat_core::quantity::Units;
    /// let m = Measure::of(Unit::Mm, Some(0.25), Some(0.35), "sheet 4");
    /// assert_eq!(m.against(0.41, Units::Metric).unwrap(), "0.41 mm is above 0.35 mm (sheet 4)");
    /// assert!(m.against(0.35, Units::Metric).is_none());
    /// ```
    #[must_use]
    pub fn against(&self, value: f64, units: Units) -> Option<String> {
        // Rounded to inches both may read alike: then the limit's own unit tells them apart.
        let alike = |limit: f64, units| self.unit.show(value, units) == self.unit.show(limit, units);
        let near = |units| [self.lo, self.hi].into_iter().flatten().any(|l| alike(l, units));
        let units = if near(units) { Units::Metric } else { units };
        // As shown they may still be the same: then every digit is shown.
        let full = near(units);
        let s = |v: f64| {
            if full { format!("{} {}", show::tidy(v), self.unit.hint(units)) } else { self.unit.show(v, units) }
        };
        let source = if self.source.is_empty() { String::new() } else { format!(" ({})", self.source) };
        if self.within(value) {
            None
        } else if let Some(lo) = self.lo.filter(|l| value < *l) {
            Some(format!("{} is below {}{source}", s(value), s(lo)))
        } else {
            self.hi.map(|hi| format!("{} is above {}{source}", s(value), s(hi)))
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn m(lo: Option<f64>, hi: Option<f64>) -> Measure {
        Measure::of(Unit::Um, lo, hi, "")
    }

    #[test]
    fn what_is_typed_is_read_in_its_unit_or_refused_with_what_was_expected() {
        for (unit, text, value) in [
            (Unit::Mm, "0.3", 0.3),
            (Unit::Mm, "12 thou", 0.3048),
            (Unit::Um, "8", 8.0),
            (Unit::Um, "1 thou", 25.4),
            (Unit::Ohm, "109,8 Ω", 109.8),
            (Unit::Ohm, "110 ohms", 110.0),
            (Unit::NewtonMetre, "120 Nm", 120.0),
            (Unit::NewtonMetre, "0.185", 0.185),
            (Unit::NewtonMetre, "10 lbf·ft", 13.56),
            (Unit::Degree, "360", 0.0),
            (Unit::Degree, "67.5 deg", 67.5),
        ] {
            assert!((unit.read(text, Units::Metric).unwrap() - value).abs() < 1e-9, "{text}");
        }
        for (unit, text, said) in [
            (Unit::Mm, "", "expected a size"),
            (Unit::Mm, "30 m", "not a unit I know"),
            (Unit::Mm, "99999", "up to 20 m"),
            (Unit::Ohm, "-1", "expected ohms"),
            (Unit::Ohm, "open", "expected ohms"),
            (Unit::NewtonMetre, "tight", "expected a torque"),
            (Unit::NewtonMetre, "-5", "expected a torque"),
            (Unit::Degree, "361", "expected degrees"),
            (Unit::Degree, "NaN", "expected degrees"),
        ] {
            let e = unit.read(text, Units::Metric).unwrap_err();
            assert!(e.field == "value" && e.message.contains(said), "{text}: {}", e.message);
        }
    }

    #[test]
    fn limits_are_said_in_either_system() {
        assert_eq!(m(None, Some(12.0)).limit(Units::Metric), "at most 12 µm");
        assert!(
            m(None, Some(25.4)).limit(Units::Inch).contains("thou")
                || m(None, Some(25.4)).limit(Units::Inch).contains("in")
        );
        assert_eq!(m(Some(5.0), None).limit(Units::Metric), "at least 5 µm");
        assert_eq!(m(None, None).limit(Units::Metric), "");
        let nut = Measure { unit: Unit::NewtonMetre, ..m(Some(120.0), None) };
        assert_eq!(
            (nut.limit(Units::Metric), nut.limit(Units::Inch)),
            ("at least 120 N·m".into(), "at least 88.5 lbf·ft".into())
        );
        assert_eq!(
            nut.against(119.99, Units::Inch).unwrap(),
            "119.99 N·m is below 120 N·m",
            "88.5 lbf·ft is below 88.5 lbf·ft says nothing"
        );
        assert!(m(Some(5.0), None).against(4.0, Units::Metric).unwrap().contains("below"));
    }

    proptest! {
        /// A sentence stands exactly beside what does not keep its limits.
        #[test]
        fn what_breaks_a_limit_is_told(lo in prop::option::of(-50.0..50.0f64), span in prop::option::of(0.0..50.0f64), v in -120.0..120.0f64) {
            let hi = span.map(|s| lo.unwrap_or(0.0) + s);
            let x = m(lo, hi);
            prop_assert_eq!(x.against(v, Units::Metric).is_none(), x.within(v));
            prop_assert_eq!(x.within(v), lo.is_none_or(|l| v >= l - 1e-9) && hi.is_none_or(|h| v <= h + 1e-9));
        }
    }
}
