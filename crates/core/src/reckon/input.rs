//! Reading the input of a named computation: types, ranges, missing and unknown fields, each refused by name.

use crate::fit::Material;
use crate::refusal::{Refusal, Result};
use serde_json::{Map, Value};

/// What a field takes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Kind {
    /// A finite number.
    Number,
    /// A finite number above 0.
    Positive,
    /// A finite number of 0 or more.
    NotNegative,
    /// True or false.
    Flag,
    /// Any text.
    Text,
    /// One of these words.
    Word(&'static [&'static str]),
    /// A material of handbook 03.
    Material,
    /// Rows of numbers, checked by the computation.
    Rows,
    /// Objects, checked by the computation.
    Objects,
    /// One object, checked by the computation.
    Object,
}

/// One field of a computation.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Field {
    /// Name with its unit as suffix.
    pub name: &'static str,
    /// What it takes.
    pub kind: Kind,
    /// An error when missing.
    pub required: bool,
    /// Meaning, and the default when not required.
    pub about: &'static str,
}

/// A required field.
pub(crate) const fn need(name: &'static str, kind: Kind, about: &'static str) -> Field {
    Field { name, kind, required: true, about }
}
/// An optional field.
pub(crate) const fn may(name: &'static str, kind: Kind, about: &'static str) -> Field {
    Field { name, kind, required: false, about }
}

/// Input whose every present field has the right type.
#[derive(Debug)]
pub struct Input(Map<String, Value>);

impl Input {
    /// Checks a map against the fields.
    ///
    /// # Errors
    /// The first unknown, mistyped or missing field; `null` counts as not given.
    pub fn read(map: &Map<String, Value>, fields: &[Field]) -> Result<Self> {
        if let Some(unknown) = map.keys().find(|k| !fields.iter().any(|f| f.name == k.as_str())) {
            let known: Vec<_> = fields.iter().map(|f| f.name).collect();
            return Err(Refusal::new(
                unknown.chars().take(60).collect::<String>(),
                format!("this field is not known here: expected {}", known.join(", ")),
            ));
        }
        let mut kept = Map::new();
        for field in fields {
            match map.get(field.name).filter(|v| !v.is_null()) {
                Some(value) => {
                    check(field, value)?;
                    kept.insert(field.name.to_owned(), value.clone());
                }
                None if field.required => return Err(Refusal::new(field.name, format!("this field is needed: {}", field.about))),
                None => {}
            }
        }
        Ok(Self(kept))
    }

    /// Whether a field was given.
    #[must_use]
    pub fn has(&self, name: &str) -> bool {
        self.0.contains_key(name)
    }
    /// A number, if given.
    #[must_use]
    pub fn maybe(&self, name: &str) -> Option<f64> {
        self.0.get(name).and_then(Value::as_f64)
    }
    /// A number that is required or has a default.
    #[must_use]
    pub fn num(&self, name: &str, default: f64) -> f64 {
        self.maybe(name).unwrap_or(default)
    }
    /// A text, or its default.
    #[must_use]
    pub fn text<'a>(&'a self, name: &str, default: &'a str) -> &'a str {
        self.0.get(name).and_then(Value::as_str).unwrap_or(default)
    }
    /// A flag, or its default.
    #[must_use]
    pub fn flag(&self, name: &str, default: bool) -> bool {
        self.0.get(name).and_then(Value::as_bool).unwrap_or(default)
    }
    /// A list, if given.
    #[must_use]
    pub fn list(&self, name: &str) -> Option<&Vec<Value>> {
        self.0.get(name).and_then(Value::as_array)
    }
    /// An object, if given.
    #[must_use]
    pub fn object(&self, name: &str) -> Option<&Map<String, Value>> {
        self.0.get(name).and_then(Value::as_object)
    }
    /// A material, or its default.
    #[must_use]
    pub fn material(&self, name: &str, default: Material) -> Material {
        material(self.text(name, "")).unwrap_or(default)
    }
}

fn material(name: &str) -> Option<Material> {
    Material::ALL.iter().find(|(n, _)| *n == name).map(|(_, m)| *m)
}

fn check(field: &Field, value: &Value) -> Result<()> {
    let refuse = |message: String| Err(Refusal::new(field.name, message));
    let number = |lowest: f64, included: bool, words: &str| match value.as_f64() {
        Some(v) if v.is_finite() && (v > lowest || (included && v == lowest)) => Ok(()),
        Some(_) => refuse(format!("expected {words}")),
        None => refuse(format!("expected {words}, written as a JSON number")),
    };
    match field.kind {
        Kind::Number => number(f64::NEG_INFINITY, false, "a finite number"),
        Kind::Positive => number(0.0, false, "a number above 0"),
        Kind::NotNegative => number(0.0, true, "a number of 0 or more"),
        Kind::Flag if value.is_boolean() => Ok(()),
        Kind::Flag => refuse("expected true or false".into()),
        Kind::Text if value.is_string() => Ok(()),
        Kind::Text => refuse("expected a text in quotes".into()),
        Kind::Word(words) if value.as_str().is_some_and(|w| words.contains(&w)) => Ok(()),
        Kind::Word(words) => refuse(format!("expected one of {}", words.join(", "))),
        Kind::Material if value.as_str().is_some_and(|w| material(w).is_some()) => Ok(()),
        Kind::Material => refuse(format!("expected one of {}", Material::ALL.map(|(n, _)| n).join(", "))),
        Kind::Object if value.is_object() => Ok(()),
        Kind::Object => refuse("expected an object".into()),
        Kind::Rows | Kind::Objects if value.is_array() => Ok(()),
        Kind::Rows | Kind::Objects => refuse("expected a list".into()),
    }
}

/// The top-level field in which a JSON text goes wrong at a line and column: the last key of depth 1 before it.
pub(crate) fn field_at(text: &str, line: usize, column: usize) -> Option<String> {
    let start: usize = text.split_inclusive('\n').take(line.saturating_sub(1)).map(str::len).sum();
    let end = (start + column).min(text.len());
    let (mut depth, mut string, mut escaped, mut last, mut key) = (0, false, false, String::new(), None);
    for c in text.get(..end)?.chars() {
        if string {
            match c {
                _ if escaped => escaped = false,
                '\\' => escaped = true,
                '"' => string = false,
                _ => last.push(c),
            }
            continue;
        }
        match c {
            '"' => {
                string = true;
                last.clear();
            }
            '{' | '[' => depth += 1,
            '}' | ']' => depth -= 1,
            ':' if depth == 1 => key = Some(last.clone()),
            _ => {}
        }
    }
    key
}
