//! Fields of a named computation and how an input is checked against them: types, ranges, missing and unknown fields,
//! each refused by name. Lists of objects are checked by the fields of their items.

use crate::fit::Material;
use crate::refusal::{Refusal, Result};
use serde_json::{Map, Value};

/// Longest list that is taken: beyond it the answer would not come within a second.
pub const LONGEST: usize = 200_000;

/// What a field takes.
#[derive(Debug, Clone, Copy)]
pub enum FieldKind {
    /// A finite number.
    Number,
    /// A finite number above 0.
    Positive,
    /// A finite number of 0 or more.
    NotNegative,
    /// A whole number from the first to the second.
    Whole(u64, u64),
    /// True or false.
    Flag,
    /// Any text.
    Text,
    /// One of these words.
    Word(&'static [&'static str]),
    /// A material of the table.
    Material,
    /// A list of finite numbers.
    Numbers,
    /// Rows of finite numbers.
    Grid,
    /// A list of texts.
    Texts,
    /// A list of pairs of texts.
    Pairs,
    /// A list of objects with these fields.
    Objects(&'static [Field]),
    /// One object with these fields.
    Object(&'static [Field]),
    /// Names with a number each.
    Counts,
}

/// One field of a computation.
#[derive(Debug, Clone, Copy)]
pub struct Field {
    /// Name with its unit as suffix.
    pub name: &'static str,
    /// What it takes.
    pub kind: FieldKind,
    /// An error when missing.
    pub required: bool,
    /// Its default is an estimate: the answer names it when it was not given.
    pub estimate: bool,
    /// Meaning.
    pub about: &'static str,
    /// What stands for it when it is left out, as said.
    pub default: Option<fn() -> String>,
}

impl Field {
    /// Meaning, with the default where there is one.
    #[must_use]
    pub fn meaning(&self) -> String {
        self.default.map_or_else(|| self.about.to_owned(), |said| format!("{} ({})", self.about, said()))
    }
}

/// Checks a map against the fields; `null` counts as not given.
///
/// # Errors
/// The first unknown, mistyped or missing field.
pub(crate) fn inspect(map: &Map<String, Value>, fields: &[Field]) -> Result<()> {
    if let Some(unknown) = map.keys().find(|k| !fields.iter().any(|f| f.name == k.as_str())) {
        let known: Vec<_> = fields.iter().map(|f| f.name).collect();
        return Err(Refusal::new(
            short(unknown),
            format!("this field is not known here: expected {}", known.join(", ")),
        ));
    }
    for field in fields {
        match map.get(field.name).filter(|v| !v.is_null()) {
            Some(value) => check(field, value)?,
            None if field.required => {
                return Err(Refusal::new(field.name, format!("this field is needed: {}", field.about)));
            }
            None => {}
        }
    }
    Ok(())
}

/// What is repeated of a text that somebody typed.
pub(crate) fn short(text: &str) -> String {
    text.chars().take(40).collect()
}

pub(crate) fn material(name: &str) -> Option<Material> {
    Material::ALL.iter().find(|(n, _)| *n == name).map(|(_, m)| *m)
}

fn check(field: &Field, value: &Value) -> Result<()> {
    let refuse = |message: String| Err(Refusal::new(field.name, message));
    let number = |lowest: f64, included: bool, words: &str| match value.as_f64() {
        Some(v) if v.is_finite() && (v > lowest || (included && v == lowest)) => Ok(()),
        Some(_) => refuse(format!("expected {words}")),
        None => refuse(format!("expected {words}, written as a JSON number")),
    };
    let every = |words: &str, holds: &dyn Fn(&Value) -> bool| match value.as_array() {
        Some(list) if list.len() > LONGEST => refuse(format!("at most {LONGEST} entries are taken at once")),
        Some(list) if list.iter().all(holds) => Ok(()),
        _ => refuse(format!("expected {words}")),
    };
    let finite = |v: &Value| v.as_f64().is_some_and(f64::is_finite);
    let inside = |v: &Value, fields: &[Field]| match v.as_object() {
        None => refuse(format!("expected {}", shape(fields))),
        Some(map) => inspect(map, fields).map_err(|r| Refusal::new(field.name, format!("{}: {}", r.field, r.message))),
    };
    match field.kind {
        FieldKind::Number => number(f64::NEG_INFINITY, false, "a finite number"),
        FieldKind::Positive => number(0.0, false, "a number above 0"),
        FieldKind::NotNegative => number(0.0, true, "a number of 0 or more"),
        FieldKind::Whole(lo, hi) => match value.as_f64() {
            Some(v) if v.fract() == 0.0 && v >= lo as f64 && v <= hi as f64 => Ok(()),
            _ => refuse(format!("expected a whole number from {lo} to {hi}")),
        },
        FieldKind::Flag if value.is_boolean() => Ok(()),
        FieldKind::Flag => refuse("expected true or false".into()),
        FieldKind::Text if value.is_string() => Ok(()),
        FieldKind::Text => refuse("expected a text in quotes".into()),
        FieldKind::Word(words) if value.as_str().is_some_and(|w| words.contains(&w)) => Ok(()),
        FieldKind::Word(words) => refuse(format!("expected one of {}", words.join(", "))),
        FieldKind::Material if value.as_str().is_some_and(|w| material(w).is_some()) => Ok(()),
        FieldKind::Material => refuse(format!("expected one of {}", Material::ALL.map(|(n, _)| n).join(", "))),
        FieldKind::Numbers => every("a list of finite numbers", &finite),
        FieldKind::Grid => every("rows of finite numbers", &|row| {
            row.as_array().is_some_and(|r| r.len() <= LONGEST && r.iter().all(finite))
        }),
        FieldKind::Texts => every("a list of texts", &Value::is_string),
        FieldKind::Pairs => every("a list of pairs [a, b] of names", &|p| {
            p.as_array().is_some_and(|p| p.len() == 2 && p.iter().all(Value::is_string))
        }),
        FieldKind::Objects(fields) => {
            every(&format!("a list of {}", shape(fields)), &|_| true)?;
            value.as_array().into_iter().flatten().try_for_each(|v| inside(v, fields))
        }
        FieldKind::Object(fields) => inside(value, fields),
        FieldKind::Counts if value.as_object().is_some_and(|m| m.values().all(finite)) => Ok(()),
        FieldKind::Counts => refuse("expected names with a number each, such as {\"press\": 1}".into()),
    }
}

/// The fields of an object as a person would write them.
pub(crate) fn shape(fields: &[Field]) -> String {
    format!("{{{}}}", fields.iter().map(|f| f.name).collect::<Vec<_>>().join(", "))
}

/// Fields whose default matters and was used, as "name: meaning (default)".
pub(crate) fn assumed(map: &Map<String, Value>, fields: &[Field]) -> Vec<String> {
    let mut out = Vec::new();
    for f in fields {
        let given = map.get(f.name).filter(|v| !v.is_null());
        if f.estimate && given.is_none() {
            out.push(format!("{}: {}", f.name, f.meaning()));
        }
        if let (FieldKind::Object(inner), Some(object)) = (f.kind, given.and_then(Value::as_object)) {
            out.extend(assumed(object, inner).into_iter().map(|a| format!("{}.{a}", f.name)));
        }
    }
    out
}

/// The input that leads beyond what can be computed: the one that holds the number farthest from 1, up or down.
pub(crate) fn extreme(map: &Map<String, Value>) -> String {
    fn far(v: &Value) -> f64 {
        match v {
            Value::Number(n) => n.as_f64().filter(|v| *v != 0.0).map_or(0.0, |v| v.abs().log10().abs()),
            Value::Array(list) => list.iter().map(far).fold(0.0, f64::max),
            Value::Object(map) => map.values().map(far).fold(0.0, f64::max),
            _ => 0.0,
        }
    }
    let mut most = ("input", -1.0);
    for (name, value) in map {
        let far = far(value);
        if far > most.1 {
            most = (name, far);
        }
    }
    most.0.into()
}

fn offset(text: &str, line: usize, column: usize) -> usize {
    let start: usize = text.split_inclusive('\n').take(line.saturating_sub(1)).map(str::len).sum();
    (start + column).min(text.len())
}

/// Does a number stand there that is larger than any that can be reckoned with? The reader of JSON stops at it, and its
/// sentence is no place to ask.
pub(crate) fn endless_at(text: &str, line: usize, column: usize) -> bool {
    let at = offset(text, line, column);
    let (Some(before), Some(after)) = (text.get(..at), text.get(at..)) else { return false };
    let part = |c: char| c.is_ascii_digit() || ".eE+-".contains(c);
    let from = before.rfind(|c| !part(c)).map_or(0, |k| k + 1);
    let to = at + after.find(|c| !part(c)).unwrap_or(after.len());
    text.get(from..to).and_then(|n| n.parse::<f64>().ok()).is_some_and(f64::is_infinite)
}

/// The top-level field in which a JSON text goes wrong at a line and column: the last key of depth 1 before it.
pub(crate) fn field_at(text: &str, line: usize, column: usize) -> Option<String> {
    let end = offset(text, line, column);
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
