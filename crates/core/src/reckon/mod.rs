//! Every computation by name: JSON in, JSON out. One table ties name, fields and computation together; the command
//! line and the web read it, so that neither knows a formula.

mod axial;
mod fasten;
mod fits;
mod input;
mod lists;
mod measuring;
mod order;
mod preload;
mod runout;
mod work;

pub use input::{Field, Input, Kind};

use crate::refusal::{Refusal, Result};
use serde_json::{Map, Value};

/// One named computation.
pub struct Entry {
    /// Name in the contract.
    pub name: &'static str,
    /// What it is for, one sentence.
    pub purpose: &'static str,
    /// Where the formula comes from.
    pub source: &'static str,
    /// Fields it takes.
    pub fields: &'static [Field],
    compute: fn(&Input) -> Result<Value>,
}

/// All computations, in the order of the work.
pub fn entries() -> impl Iterator<Item = &'static Entry> {
    measuring::ENTRIES
        .iter()
        .chain(&fits::ENTRIES)
        .chain(&runout::ENTRIES)
        .chain(&axial::ENTRIES)
        .chain(&fasten::ENTRIES)
        .chain(&preload::ENTRIES)
        .chain(&order::ENTRIES)
        .chain(&work::ENTRIES)
}

/// Reckons `name` on a JSON object.
///
/// ```
/// let answer = ironseat_core::reckon::reckon("gauge.capable", r#"{"lo": 0, "hi": 4, "u": 1}"#)?;
/// assert_eq!(answer["call"], "good");
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `name` when unknown, `input` when the text is no JSON object, otherwise the field.
pub fn reckon(name: &str, text: &str) -> Result<Value> {
    let entry = entries()
        .find(|e| e.name == name)
        .ok_or_else(|| Refusal::new("name", format!("there is no computation “{}”", name.chars().take(40).collect::<String>())))?;
    (entry.compute)(&Input::read(&object(text)?, entry.fields)?)
}

fn object(text: &str) -> Result<Map<String, Value>> {
    match serde_json::from_str::<Value>(text) {
        Ok(Value::Object(map)) => Ok(map),
        Ok(_) => Err(Refusal::new("input", "expected one JSON object")),
        Err(e) if e.to_string().starts_with("number out of range") => Err(Refusal::new(
            input::field_at(text, e.line(), e.column()).unwrap_or_else(|| "input".into()),
            "that number is too large: expected a finite one",
        )),
        Err(e) => {
            Err(Refusal::new("input", format!("expected one JSON object; reading stopped at line {}, column {}", e.line(), e.column())))
        }
    }
}

/// A value that may leave: `None` when a number in it is not finite, so that no NaN is ever answered.
pub(crate) trait Leave {
    /// The JSON value.
    fn leave(&self) -> Option<Value>;
}

impl Leave for f64 {
    fn leave(&self) -> Option<Value> {
        self.is_finite().then(|| serde_json::json!(self))
    }
}
impl<T: Leave> Leave for Option<T> {
    fn leave(&self) -> Option<Value> {
        self.as_ref().map_or(Some(Value::Null), Leave::leave)
    }
}
impl<T: Leave> Leave for Vec<T> {
    fn leave(&self) -> Option<Value> {
        self.iter().map(Leave::leave).collect::<Option<Vec<_>>>().map(Value::Array)
    }
}
impl<T: Leave + ?Sized> Leave for &T {
    fn leave(&self) -> Option<Value> {
        (**self).leave()
    }
}
macro_rules! leave_as_json {
    ($($t:ty),*) => { $(impl Leave for $t { fn leave(&self) -> Option<Value> { Some(serde_json::json!(self)) } })* };
}
leave_as_json!(bool, str, String, crate::fit::designation::Seals);
macro_rules! leave_as_number {
    ($($t:ident),*) => { $(impl Leave for crate::quantity::$t { fn leave(&self) -> Option<Value> { self.get().leave() } })* };
}
leave_as_number!(Millimetres, Micrometres, Newtons, Megapascals, Celsius, Seconds);

/// Writes an object; a number that is not finite is refused by its name.
macro_rules! answer {
    ($($name:ident : $value:expr),* $(,)?) => {{
        let mut map = serde_json::Map::new();
        $( map.insert(stringify!($name).to_owned(), $crate::reckon::Leave::leave(&$value).ok_or_else(|| {
            $crate::Refusal::new(stringify!($name), "these inputs lead beyond what can be computed: use sizes of real parts")
        })?); )*
        Ok(serde_json::Value::Object(map))
    }};
}
pub(crate) use answer;
