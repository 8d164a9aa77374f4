//! Reading lists and lists of objects; every error names the outer field.

use super::Input;
use crate::refusal::{Refusal, Result};
use serde_json::{Map, Value};

/// Longest list that is taken: beyond it the answer would not come within a second.
pub(super) const LONGEST: usize = 200_000;

/// A list of finite numbers, if given.
pub(super) fn numbers(i: &Input, field: &'static str) -> Result<Option<Vec<f64>>> {
    let Some(list) = i.list(field) else { return Ok(None) };
    too_long(field, list.len())?;
    list.iter()
        .map(|v| v.as_f64().filter(|n| n.is_finite()).ok_or_else(|| Refusal::new(field, "expected a list of finite numbers")))
        .collect::<Result<Vec<_>>>()
        .map(Some)
}

/// A list of finite numbers that must be there.
pub(super) fn needed(i: &Input, field: &'static str) -> Result<Vec<f64>> {
    numbers(i, field)?.ok_or_else(|| Refusal::new(field, "this list is needed"))
}

fn too_long(field: &str, n: usize) -> Result<()> {
    if n > LONGEST { Err(Refusal::new(field, format!("at most {LONGEST} entries are taken at once"))) } else { Ok(()) }
}

/// One object of a list.
pub(super) struct Item<'a> {
    field: &'static str,
    map: &'a Map<String, Value>,
}

/// A list of objects with these keys only.
pub(super) fn items<'a>(i: &'a Input, field: &'static str, keys: &[&str]) -> Result<Vec<Item<'a>>> {
    let list = i.list(field).map_or(&[][..], Vec::as_slice);
    too_long(field, list.len())?;
    list.iter()
        .map(|v| {
            let map = v.as_object().ok_or_else(|| Refusal::new(field, format!("expected objects with {}", keys.join(", "))))?;
            match map.keys().find(|k| !keys.contains(&k.as_str())) {
                Some(k) => Err(Refusal::new(
                    field,
                    format!("“{}” is not known here: expected {}", k.chars().take(40).collect::<String>(), keys.join(", ")),
                )),
                None => Ok(Item { field, map }),
            }
        })
        .collect()
}

impl Item<'_> {
    fn refuse<T>(&self, what: String) -> Result<T> {
        Err(Refusal::new(self.field, what))
    }

    /// A number, or none when missing or null.
    pub(super) fn maybe(&self, key: &str) -> Result<Option<f64>> {
        match self.map.get(key) {
            None | Some(Value::Null) => Ok(None),
            Some(v) => match v.as_f64().filter(|n| n.is_finite()) {
                Some(n) => Ok(Some(n)),
                None => self.refuse(format!("{key}: expected a finite number")),
            },
        }
    }
    /// A number that must be there.
    pub(super) fn num(&self, key: &str) -> Result<f64> {
        self.maybe(key)?.map_or_else(|| self.refuse(format!("{key} is missing in one of them")), Ok)
    }
}

impl Item<'_> {
    /// A text, or its default.
    pub(super) fn text(&self, key: &str, default: &str) -> Result<String> {
        match self.map.get(key) {
            None | Some(Value::Null) => Ok(default.to_owned()),
            Some(Value::String(s)) => Ok(s.clone()),
            Some(_) => self.refuse(format!("{key}: expected a text")),
        }
    }
    /// The id, which must be there and not empty.
    pub(super) fn id(&self) -> Result<String> {
        let id = self.text("id", "")?;
        if id.is_empty() { self.refuse("each one needs an id".into()) } else { Ok(id) }
    }
    /// A flag, false when missing.
    pub(super) fn flag(&self, key: &str) -> Result<bool> {
        match self.map.get(key) {
            None | Some(Value::Null) => Ok(false),
            Some(Value::Bool(b)) => Ok(*b),
            Some(_) => self.refuse(format!("{key}: expected true or false")),
        }
    }
    /// A list of texts, empty when missing.
    pub(super) fn texts(&self, key: &str) -> Result<Vec<String>> {
        match self.map.get(key) {
            None | Some(Value::Null) => Ok(Vec::new()),
            Some(Value::Array(a)) if a.iter().all(Value::is_string) => Ok(a.iter().filter_map(Value::as_str).map(str::to_owned).collect()),
            Some(_) => self.refuse(format!("{key}: expected a list of ids")),
        }
    }
}
