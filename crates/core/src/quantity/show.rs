//! Showing values: the unit a person works in, and the decimals an instrument can resolve.
//! Each writer returns number and unit, such as `("40.012", "mm")`.

use crate::quantity::{Celsius, Micrometres, Millimetres, Newtons, Seconds};
use serde::{Deserialize, Serialize};

/// The system a person reads in. Inches are decimal, small differences in tenths of a thou.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Units {
    /// Millimetres, micrometres, newtons, °C.
    #[default]
    Metric,
    /// Inches, thou, pounds-force, °F.
    Inch,
}

impl Units {
    /// The other system.
    #[must_use]
    pub fn other(self) -> Self {
        match self {
            Self::Metric => Self::Inch,
            Self::Inch => Self::Metric,
        }
    }
    /// Unit word a sheet in this system takes when none is typed.
    #[must_use]
    pub fn sheet_unit(self) -> &'static str {
        match self {
            Self::Metric => "mm",
            Self::Inch => "in",
        }
    }
}

/// A size with the decimals of an instrument of this resolution.
#[must_use]
pub fn size(value: Millimetres, resolution: Millimetres, units: Units) -> (String, &'static str) {
    let decimals = |step: f64| (-step.log10()).ceil().clamp(0.0, 6.0) as usize;
    match units {
        Units::Metric => (fixed(value.0, decimals(resolution.0 * 1.000_001)), "mm"),
        // An instrument that resolves 0.001 mm is read to a tenth of a thou, and so on down.
        Units::Inch => (fixed(value.0 / 25.4, decimals(resolution.0 * 1.000_001) + 1), "in"),
    }
}

/// A small difference: whole micrometres (one decimal below 10), or thou.
#[must_use]
pub fn small(value: Micrometres, units: Units) -> (String, &'static str) {
    match units {
        Units::Metric => {
            let near_whole = (value.0 - value.0.round()).abs() < 0.05;
            (fixed(value.0, usize::from(value.0.abs() < 10.0 && !near_whole)), "µm")
        }
        Units::Inch => (fixed(value.0 / 25.4, 2), "thou"),
    }
}

/// As [`small`], with its sign always written.
#[must_use]
pub fn signed(value: Micrometres, units: Units) -> (String, &'static str) {
    let (s, u) = small(value, units);
    (if value.0 > 0.0 && s.chars().any(|c| c.is_ascii_digit() && c != '0') { format!("+{s}") } else { s }, u)
}

/// A force: N below 1 kN, then kN; lbf, then short tons-force.
#[must_use]
pub fn force(value: Newtons, units: Units) -> (String, &'static str) {
    let v = value.0;
    match units {
        Units::Metric if v.abs() < 1000.0 => (fixed(v, 0), "N"),
        Units::Metric => (fixed(v / 1000.0, if v.abs() < 100_000.0 { 1 } else { 0 }), "kN"),
        Units::Inch => {
            let lbf = v / LBF;
            if lbf.abs() < 10_000.0 { (fixed(lbf, 0), "lbf") } else { (fixed(lbf / 2000.0, 1), "tonf") }
        }
    }
}

/// Forces of one band, in the unit of the largest: a band never mixes N and kN.
///
/// ```
/// use ironseat_core::quantity::{Newtons, Units, show};
/// let band = show::forces([Newtons::new(700.0)?, Newtons::new(2800.0)?], Units::Metric);
/// assert_eq!(band, (["0.7".to_owned(), "2.8".to_owned()], "kN"));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
#[must_use]
pub fn forces<const N: usize>(values: [Newtons; N], units: Units) -> ([String; N], &'static str) {
    let largest = values.iter().copied().fold(Newtons(0.0), |a, b| if b.0.abs() > a.0.abs() { b } else { a });
    let (_, unit) = force(largest, units);
    let of = |v: Newtons| match unit {
        "N" => fixed(v.0, 0),
        "kN" => fixed(v.0 / 1000.0, if largest.0.abs() < 100_000.0 { 1 } else { 0 }),
        "lbf" => fixed(v.0 / LBF, 0),
        _ => fixed(v.0 / LBF / 2000.0, 1),
    };
    (values.map(of), unit)
}

/// Newtons in a pound-force.
pub(crate) const LBF: f64 = 4.448_221_615;

/// A temperature to the whole degree.
#[must_use]
pub fn temperature(value: Celsius, units: Units) -> (String, &'static str) {
    match units {
        Units::Metric => (fixed(value.0, 0), "°C"),
        Units::Inch => (fixed(value.0 * 1.8 + 32.0, 0), "°F"),
    }
}

/// A span of time as `mm:ss`, or `h:mm:ss` from an hour.
#[must_use]
pub fn clock(value: Seconds) -> String {
    let s = value.0.max(0.0).round() as u64;
    if s >= 3600 {
        format!("{}:{:02}:{:02}", s / 3600, s / 60 % 60, s % 60)
    } else {
        format!("{:02}:{:02}", s / 60, s % 60)
    }
}

/// A number with so many decimals, never minus zero, and a true minus before it.
///
/// ```
/// use ironseat_core::quantity::show::fixed;
/// assert_eq!((fixed(-0.0004, 3).as_str(), fixed(-1.25, 1).as_str()), ("0.000", "\u{2212}1.2"));
/// ```
#[must_use]
pub fn fixed(value: f64, decimals: usize) -> String {
    let text = format!("{:.decimals$}", value.abs());
    let zero = text.bytes().all(|b| b == b'0' || b == b'.');
    if value < 0.0 && !zero { format!("\u{2212}{text}") } else { text }
}

/// A number in a sentence: up to two decimals, without zeros at the end.
///
/// ```
/// assert_eq!(ironseat_core::quantity::show::tidy(12.500001), "12.5");
/// ```
#[must_use]
pub fn tidy(value: f64) -> String {
    format!("{}", (value * 100.0).round() / 100.0)
}

/// A sentence with its first letter large.
///
/// ```
/// assert_eq!(ironseat_core::quantity::show::capital("lip seal"), "Lip seal");
/// ```
#[must_use]
pub fn capital(s: &str) -> String {
    let mut c = s.chars();
    let mut out = String::with_capacity(s.len() + 2);
    out.extend(c.next().into_iter().flat_map(char::to_uppercase));
    out.push_str(c.as_str());
    out
}

/// Minutes of work or waiting; hours from an hour and a half on.
///
/// ```
/// use ironseat_core::quantity::show::minutes;
/// assert_eq!((minutes(12.4), minutes(150.0)), ("12 min".into(), "2.5 h".into()));
/// ```
#[must_use]
pub fn minutes(value: f64) -> String {
    if value >= 90.0 { fixed(value / 60.0, 1) + " h" } else { fixed(value, 0) + " min" }
}

/// Number and unit with a blank between.
#[must_use]
pub fn join((number, unit): (String, &'static str)) -> String {
    format!("{number} {unit}")
}
