//! Every computation by name: JSON in, JSON out. One table ties name, fields and computation together; the command
//! line and the web read it, so that neither knows a formula.

mod after;
mod apart;
mod axial;
mod closing;
mod compare;
mod declare;
mod document;
mod fasten;
mod fits;
mod heat;
mod input;
mod measuring;
mod order;
mod output;
mod preload;
mod questions;
mod runout;
mod schema;
mod seals;
mod sentence;
mod typed;
mod work;

pub use document::document;
pub use input::{Field, FieldKind, LONGEST};
pub use output::{Gives, Output};
pub(crate) use questions::HEADLINES;
pub use questions::{QUESTIONS, question};
pub use schema::{error_schema, unit};
pub use sentence::say;
pub use typed::{as_typed, number_in, said, shown, typed_input, unit_in};

use crate::quantity::Units;
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
    /// What it takes for granted.
    pub holds: &'static str,
    /// What is said beside an answer outside a limit of validity.
    pub limits: &'static [&'static str],
    /// An input that works.
    pub example: &'static str,
    compute: fn(&Map<String, Value>) -> Result<Answered>,
}

/// An answer, none when a number in it is not finite, and the limits of validity that it lies outside.
type Answered = (Option<Map<String, Value>>, Vec<&'static str>);

/// All computations, in the order of the work.
pub fn entries() -> impl Iterator<Item = &'static Entry> {
    measuring::ENTRIES
        .iter()
        .copied()
        .chain(fits::ENTRIES)
        .chain(heat::ENTRIES)
        .chain(runout::ENTRIES)
        .chain(compare::ENTRIES)
        .chain(axial::ENTRIES)
        .chain(fasten::ENTRIES)
        .chain(seals::ENTRIES)
        .chain(closing::ENTRIES)
        .chain(after::ENTRIES)
        .chain(apart::ENTRIES)
        .chain(preload::ENTRIES)
        .chain(order::ENTRIES)
        .chain(work::ENTRIES)
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
    input::inspect(&map, entry.fields)?;
    let (answer, warnings) = (entry.compute)(&map)?;
    let beyond = "these inputs lead beyond what can be computed: use sizes of real parts";
    let mut answer = answer.ok_or_else(|| Refusal::new(input::extreme(&map), beyond))?;
    if let Some(words) = say(entry.name, &map, &answer, Units::Metric) {
        answer.insert(WORDS.name.into(), Value::String(words));
    }
    let assumed = input::assumed(&map, entry.fields);
    if !warnings.is_empty() {
        answer.insert(WARNINGS.name.into(), serde_json::json!(warnings));
    }
    if !assumed.is_empty() {
        answer.insert(ASSUMED.name.into(), serde_json::json!(assumed));
    }
    Ok(Value::Object(answer))
}

/// Added to an answer that ends in a call or a cause.
pub const WORDS: Output =
    output::said("words", Gives::Text, "only when there is something to say: the answer as a sentence");
/// Added to an answer that lies outside a limit of validity.
pub const WARNINGS: Output =
    output::said("warnings", Gives::Texts, "only when there are any: limits of validity that do not hold here");
/// Added to an answer that rests on estimates.
pub const ASSUMED: Output =
    output::said("assumed", Gives::Texts, "only when there are any: inputs not given whose default is an estimate");

fn object(text: &str) -> Result<Map<String, Value>> {
    match serde_json::from_str::<Value>(text) {
        Ok(Value::Object(map)) => Ok(map),
        Ok(_) => Err(Refusal::new("input", "expected one JSON object")),
        Err(e) if input::endless_at(text, e.line(), e.column()) => Err(Refusal::new(
            input::field_at(text, e.line(), e.column()).unwrap_or_else(|| "input".into()),
            "that number is too large: expected a finite one",
        )),
        Err(e) => Err(Refusal::new(
            "input",
            format!("expected one JSON object; reading stopped at line {}, column {}", e.line(), e.column()),
        )),
    }
}
