//! Every computation by name: JSON in, JSON out. One table ties name, fields and computation together; the command
//! line and the web read it, so that neither knows a formula.

mod axial;
mod document;
mod fasten;
mod fits;
mod input;
mod measuring;
mod order;
mod output;
mod preload;
mod runout;
mod schema;
mod work;

pub use document::document;
pub use input::{Field, Input, Kind, LONGEST};
pub use output::{Gives, Limit, Output};
pub use schema::{error_schema, unit};

use crate::refusal::{Refusal, Result};
use serde_json::{Map, Value};

/// One named computation.
pub struct Entry {
    /// Name in the contract.
    pub name: &'static str,
    /// What it is for, one sentence.
    pub purpose: &'static str,
    /// The formula or rule in one line.
    pub formula: &'static str,
    /// Where the formula comes from.
    pub source: &'static str,
    /// Fields it takes.
    pub fields: &'static [Field],
    /// What it gives.
    pub outputs: &'static [Output],
    /// Where it stops holding.
    pub limits: &'static [Limit],
    /// An input that works.
    pub example: &'static str,
    compute: fn(&Input) -> Result<Map<String, Value>>,
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

/// The computation of a name.
///
/// # Errors
/// `name` when there is none.
pub fn entry(name: &str) -> Result<&'static Entry> {
    entries()
        .find(|e| e.name == name)
        .ok_or_else(|| Refusal::new("name", format!("there is no computation “{}”: see the list", input::short(name))))
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
    let entry = entry(name)?;
    let map = object(text)?;
    let input = Input::read(&map, entry.fields)?;
    let mut answer =
        (entry.compute)(&input).map_err(|r| if r.field == OVERFLOW { Refusal::new(input::extreme(&map), r.message) } else { r })?;
    let warnings: Vec<&str> = entry.limits.iter().filter(|l| (l.broken)(&input, &answer)).map(|l| l.words).collect();
    if let Some(words) = crate::call::reckoned::say(entry.name, &map, &answer) {
        answer.insert(WORDS.name.into(), Value::String(words));
    }
    let assumed = input::assumed(&input, entry.fields);
    if !warnings.is_empty() {
        answer.insert(WARNINGS.name.into(), serde_json::json!(warnings));
    }
    if !assumed.is_empty() {
        answer.insert(ASSUMED.name.into(), serde_json::json!(assumed));
    }
    Ok(Value::Object(answer))
}

/// Added to an answer that ends in a call or a cause.
pub const WORDS: Output = output::gives("words", Gives::Text, "only when there is something to say: the answer as a sentence");
/// Added to an answer that lies outside a limit of validity.
pub const WARNINGS: Output = output::gives("warnings", Gives::Texts, "only when there are any: limits of validity that do not hold here");
/// Added to an answer that rests on estimates.
pub const ASSUMED: Output =
    output::gives("assumed", Gives::Texts, "only when there are any: inputs not given whose default is an estimate");

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

/// What a computation gives back.
pub(crate) type Answer = Result<Map<String, Value>>;

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
leave_as_json!(bool, str, String, Value, crate::fit::designation::Seals, crate::fit::designation::BearingType);
macro_rules! leave_as_number {
    ($($t:ident),*) => { $(impl Leave for crate::quantity::$t { fn leave(&self) -> Option<Value> { self.get().leave() } })* };
}
leave_as_number!(Grams, Millimetres, Micrometres, Newtons, Megapascals, Celsius, Seconds);

/// Stands for the field of a refusal until the input that led beyond what can be computed is found.
pub(crate) const OVERFLOW: &str = "overflow";

/// Writes an object; a number that is not finite is refused, in the name of the most extreme input.
macro_rules! answer {
    ($($name:ident : $value:expr),* $(,)?) => {{
        let mut map = serde_json::Map::new();
        $( map.insert(stringify!($name).to_owned(), $crate::reckon::Leave::leave(&$value).ok_or_else(|| {
            $crate::Refusal::new($crate::reckon::OVERFLOW, "these inputs lead beyond what can be computed: use sizes of real parts")
        })?); )*
        Ok(map)
    }};
}
pub(crate) use answer;
