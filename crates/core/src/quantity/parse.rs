//! What people type at the bench: `28.013 mm`, `+3 tenths`, `2-3/16 in`, `12 thou`, `1,25`.

use super::{Celsius, Millimetres};
use crate::refusal::{Refusal, Result};
use crate::terms::text::FIGURE;

/// A length as typed, understood.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ParsedLength {
    /// The length; for a deviation it already contains the nominal.
    pub value: Millimetres,
    /// True when the text was a signed deviation from the nominal.
    pub deviation: bool,
    /// Set when the value is ten, 25.4 or 1000 times away from what was expected.
    pub suspicion: Option<Suspicion>,
}

/// A slip of the unit or of the decimal point that ought to be asked about before storing.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Suspicion {
    /// How many times too large the value is (below 1: too small).
    pub factor: f64,
    /// What was probably meant.
    pub did_you_mean: Millimetres,
}

/// Millimetres in one unit word; the words are those of docs/trade.md, Measuring, case is not heeded.
fn unit_mm(word: &str) -> Option<f64> {
    Some(match word {
        "mm" => 1.0,
        "um" | "µm" | "μm" | "micron" | "microns" => 0.001,
        "in" | "inch" | "inches" | "\"" | "″" | "”" => 25.4,
        "thou" | "mil" | "mils" => 0.0254,
        "tenth" | "tenths" => 0.00254,
        _ => return None,
    })
}

fn refuse<T>(message: impl Into<String>) -> Result<T> {
    Err(Refusal::new("text", message))
}

/// Reads a length.
///
/// `unit` counts when the text names none (`mm um in thou mil tenth`). With a `nominal`, a signed text is a
/// deviation from it. With `expect`, a value 10, 25.4 or 1000 times away is marked suspicious: |value/expect| over
/// the factor within 0.8 to 1.25.
///
/// # Errors
/// Field `text` (empty, no number, two numbers, comma and point together, exponent, unknown unit ...) or `unit`.
///
/// ```
/// use ironseat_core::quantity::{parse_length, Millimetres};
/// let read = parse_length("+3 tenths", "mm", Some(Millimetres::of(28.0)), None)?;
/// assert!((read.value.get() - 28.00762).abs() < 1e-9 && read.deviation);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
pub fn parse_length(
    text: &str,
    unit: &str,
    nominal: Option<Millimetres>,
    expect: Option<Millimetres>,
) -> Result<ParsedLength> {
    let default_unit = match unit {
        "mm" | "um" | "in" | "thou" | "mil" | "tenth" => unit_mm(unit).unwrap_or(1.0),
        _ => return Err(Refusal::new("unit", "expected mm, um, in, thou, mil or tenth as the sheet's unit")),
    };
    let (sign, magnitude, word) = split(text)?;
    let scale = if word.is_empty() {
        default_unit
    } else {
        match unit_mm(&word) {
            Some(s) => s,
            None => {
                return refuse(format!("“{}” is not a unit I know: use mm, µm, in, thou, mil or tenths", clip(&word)));
            }
        }
    };
    let mut value = sign.unwrap_or(1.0) * magnitude * scale;
    let mut deviation = false;
    if let (Some(nominal), Some(_)) = (nominal, sign) {
        value += nominal.0;
        deviation = true;
    }
    if !value.is_finite() {
        return refuse("that number is too large to be a size");
    }
    if scale != 1.0 || deviation {
        value = as_written(value);
    }
    Ok(ParsedLength { value: Millimetres(value), deviation, suspicion: expect.and_then(|e| suspect(value, e.0)) })
}

/// A number that was converted, to twelve figures: 9 µm is the same as 0.009 mm, and +13 µm on 28 mm as 28.013 mm, so
/// that none of them lies a rounding of the machine beyond a limit that is met.
pub(crate) fn as_written(value: f64) -> f64 {
    format!("{value:.11e}").parse().unwrap_or(value)
}

fn suspect(value: f64, expect: f64) -> Option<Suspicion> {
    let ratio = (value / expect).abs();
    for f in [10.0, 25.4, 1000.0] {
        for (near, factor) in [(ratio / f, f), (ratio * f, 1.0 / f)] {
            if (0.8..=1.25).contains(&near) {
                return Some(Suspicion { factor, did_you_mean: Millimetres(value / factor) });
            }
        }
    }
    None
}

fn clip(s: &str) -> String {
    s.chars().take(20).collect()
}

/// Sign (if written), magnitude and unit word of a text.
fn split(text: &str) -> Result<(Option<f64>, f64, String)> {
    if text.chars().take(FIGURE.most + 1).count() > FIGURE.most {
        return refuse("that is far longer than a size: type one number, such as 28.013 or 2-3/16 in");
    }
    // Tab and no-break space are blanks, as a table or a gauge may send them.
    let lower = text.replace(['\t', '\u{a0}'], " ").trim().to_lowercase();
    let mut rest = lower.as_str();
    if rest.is_empty() {
        return refuse("nothing typed: expected a size such as 28.013, +3 tenths or 2-3/16 in");
    }
    let mut sign = None;
    for (mark, s) in [('+', 1.0), ('-', -1.0), ('−', -1.0)] {
        if let Some(r) = rest.strip_prefix(mark) {
            sign = Some(s);
            rest = r.trim_start();
            break;
        }
    }
    let end =
        rest.find(|c: char| !(c.is_ascii_digit() || matches!(c, '.' | ',' | '/' | '-' | ' '))).unwrap_or(rest.len());
    let (number, word) = rest.split_at(end);
    let word = word.trim();
    if number.trim().is_empty() {
        return refuse(format!("“{}” has no number in front: expected a size such as 28.013 or 12 thou", clip(text)));
    }
    if word.starts_with('e') && word[1..].chars().next().is_some_and(|c| c.is_ascii_digit() || c == '+' || c == '-') {
        return refuse("write the size in full, without an exponent");
    }
    if word.chars().any(|c| c.is_ascii_digit()) {
        return refuse("that looks like two numbers: type one reading at a time");
    }
    Ok((sign, magnitude(number.trim())?, word.to_owned()))
}

/// `12`, `.5`, `1,25`, `3/8`, `2-3/16`, `2 3/16`.
fn magnitude(number: &str) -> Result<f64> {
    let Some((front, below)) = number.split_once('/') else {
        return decimal(number);
    };
    let front = front.trim();
    let (whole, above) = match front.rsplit_once(['-', ' ']) {
        Some((w, a)) => (w.trim().trim_end_matches('-').trim_end(), a.trim()),
        None => ("0", front),
    };
    let digits = |s: &str| -> Result<f64> {
        if s.is_empty() || !s.chars().all(|c| c.is_ascii_digit()) {
            return refuse("a fraction is written with whole numbers, such as 3/8 or 2-3/16");
        }
        s.parse().or_else(|_| refuse("a fraction is written with whole numbers, such as 3/8 or 2-3/16"))
    };
    let (w, a, b) = (digits(whole)?, digits(above)?, digits(below.trim())?);
    if b == 0.0 {
        return refuse("a fraction cannot have 0 below the line");
    }
    Ok(w + a / b)
}

/// A plain number as it is typed: a point or a comma before its decimals, never both; none where it is not one.
///
/// ```
/// use ironseat_core::quantity::number;
/// assert_eq!((number(" 0,8 "), number("−9.8"), number("1e3")), (Some(0.8), Some(-9.8), Some(1000.0)));
/// assert!(["", "1,000.5", "inf", "NaN", "1 2", "0x10"].iter().all(|t| number(t).is_none()));
/// ```
#[must_use]
pub fn number(text: &str) -> Option<f64> {
    let dotted = text.trim().replace('−', "-").replace(',', ".");
    dotted.parse::<f64>().ok().filter(|v| v.is_finite())
}

fn decimal(s: &str) -> Result<f64> {
    if s.contains('.') && s.contains(',') {
        return refuse("use either a point or a comma for the decimals, not both");
    }
    if s.contains([' ', '-']) {
        return refuse("that looks like two numbers: type one reading at a time");
    }
    let dotted = s.replace(',', ".");
    if dotted.matches('.').count() > 1 || !dotted.chars().any(|c| c.is_ascii_digit()) {
        return refuse("that is not a number: expected one decimal point, such as 28.013");
    }
    dotted.parse().or_else(|_| refuse("that is not a number: expected a size such as 28.013"))
}

/// Reads a temperature: `84`, `84 c`, `183 °F`, `357 K`; no unit means Celsius, or Fahrenheit when `fahrenheit`.
///
/// # Errors
/// Field `text`, when there is no number, the unit is unknown, or it is below absolute zero.
pub fn parse_temperature(text: &str, fahrenheit: bool) -> Result<Celsius> {
    let lower = text.trim().to_lowercase().replace('−', "-");
    let body = lower.trim_end_matches(|c: char| c.is_alphabetic() || c == '°' || c == ' ');
    let unit: String = lower[body.len()..].chars().filter(|c| c.is_alphabetic()).collect();
    let (negative, digits) = body.trim().strip_prefix('-').map_or((false, body.trim()), |d| (true, d.trim()));
    if digits.is_empty() || digits.len() > FIGURE.most {
        return refuse("expected a temperature such as 84 or 183 F");
    }
    let n = decimal(digits)? * if negative { -1.0 } else { 1.0 };
    let c = match (unit.as_str(), fahrenheit) {
        ("c", _) | ("", false) => n,
        ("f", _) | ("", true) => (n - 32.0) / 1.8,
        ("k", _) => n - 273.15,
        _ => return refuse("temperatures are read in °C, °F or K"),
    };
    if c < -273.15 {
        return refuse("that is colder than anything can be");
    }
    Ok(Celsius(c))
}
