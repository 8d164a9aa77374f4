//! Words with numbers in them that read in either system of units.

use super::Unit;
use crate::quantity::Units;
use crate::quantity::show::{capital, tidy};
use serde::{Serialize, Serializer};
use std::fmt;

/// A sentence; its sizes are kept as numbers until somebody reads it.
#[derive(Debug, Clone, PartialEq, Eq, Default, Hash, PartialOrd, Ord)]
pub struct Text(String);

const OPEN: char = '\u{1}';
const CLOSE: char = '\u{2}';

/// A number within a sentence.
fn mark(letter: char, v: f64) -> String {
    format!("{OPEN}{letter}{v}{CLOSE}")
}
/// Millimetres within a sentence.
#[must_use]
pub fn mm(v: f64) -> String {
    mark('m', v)
}
/// Micrometres within a sentence.
#[must_use]
pub fn um(v: f64) -> String {
    mark('u', v)
}
/// A torque within a sentence.
#[must_use]
pub fn nm(v: f64) -> String {
    mark('t', v)
}

/// A name as it stands inside a sentence: its first letter small, unless it is an abbreviation or a shape (`O-ring`).
///
/// ```
/// use ironseat_core::anatomy::text::inside;
/// assert_eq!((inside("Lock nut"), inside("O-ring"), inside("DE bearing")), ("lock nut".into(), "O-ring".into(), "DE bearing".into()));
/// ```
#[must_use]
pub fn inside(name: &str) -> String {
    let mut c = name.chars();
    match (c.next(), c.next()) {
        (Some(a), Some(b)) if a.is_uppercase() && b.is_lowercase() => a.to_lowercase().chain([b]).chain(c).collect(),
        _ => name.to_owned(),
    }
}

impl Text {
    /// From words made with [`mm`], [`um`] and [`nm`].
    #[must_use]
    pub fn new(words: impl Into<String>) -> Self {
        Self(words.into())
    }
    /// As a person of either system reads it.
    ///
    /// ```
    /// use ironseat_core::{anatomy::text::{Text, mm}, quantity::Units};
    /// let t = Text::new(format!("float {}", mm(0.25)));
    /// assert_eq!((t.say(Units::Metric), t.say(Units::Inch)), ("float 0.25 mm".into(), "float 0.0098 in".into()));
    /// ```
    #[must_use]
    pub fn say(&self, units: Units) -> String {
        let mut out = String::with_capacity(self.0.len());
        let mut rest = self.0.as_str();
        while let Some(at) = rest.find(OPEN) {
            out.push_str(&rest[..at]);
            let end = rest[at..].find(CLOSE).map_or(rest.len(), |e| at + e);
            let inner = &rest[at + OPEN.len_utf8()..end];
            let mut chars = inner.chars();
            let letter = chars.next();
            let v: f64 = chars.as_str().parse().unwrap_or(0.0);
            out.push_str(&match (letter, units) {
                (Some('m'), Units::Metric) => format!("{} mm", tidy(v)),
                (Some('m'), Units::Inch) => inches(v),
                (Some('u'), _) => Unit::Um.show(v, units),
                _ => Unit::NewtonMetre.show(v, units),
            });
            rest = rest.get(end + CLOSE.len_utf8()..).unwrap_or("");
        }
        out.push_str(rest);
        out
    }
    /// With a capital first letter.
    #[must_use]
    pub fn capital(self) -> Self {
        Self(capital(&self.0))
    }
    /// Another sentence behind it.
    #[must_use]
    pub fn and(self, more: &str) -> Self {
        Self(format!("{} {more}", self.0))
    }
    /// The words as they are kept.
    #[must_use]
    pub fn raw(&self) -> &str {
        &self.0
    }
}

/// Four decimals of an inch below one inch, three above.
fn inches(v: f64) -> String {
    let inch = v / 25.4;
    let places = if inch.abs() < 1.0 { 4 } else { 3 };
    let text = format!("{inch:.places$}");
    format!("{} in", text.trim_end_matches('0').trim_end_matches('.'))
}

impl fmt::Display for Text {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.say(Units::Metric))
    }
}
impl Serialize for Text {
    fn serialize<S: Serializer>(&self, s: S) -> Result<S::Ok, S::Error> {
        s.serialize_str(&self.to_string())
    }
}
