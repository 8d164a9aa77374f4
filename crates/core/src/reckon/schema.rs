//! JSON Schema of what a computation takes and gives, from its fields and results.

use super::input::{Field, FieldKind, LONGEST};
use super::output::{Gives, Output};
use super::{ASSUMED, Entry, WARNINGS, WORDS};
use crate::fit::Material;
use serde_json::{Map, Value, json};

/// Unit words by suffix; the longest that fits counts.
const UNITS: [(&str, &str); 20] = [
    ("_um_mm", "µm per mm"),
    ("_n_mm", "N/mm"),
    ("_n_um", "N/µm"),
    ("_mv_um", "mV/µm"),
    ("_w_m2k", "W/m²K"),
    ("_j_kgk", "J/kgK"),
    ("_mm2", "mm²"),
    ("_mm3", "mm³"),
    ("_mm", "mm"),
    ("_um", "µm"),
    ("_n", "N"),
    ("_mpa", "MPa"),
    ("_c", "°C"),
    ("_k", "K"),
    ("_deg", "degrees"),
    ("_rad", "radians"),
    ("_nm", "N·m"),
    ("_s", "seconds"),
    ("_min", "minutes"),
    ("_g", "g"),
];
/// Suffixes of a single kind, and names that only look as if they had a unit.
const MORE_UNITS: [(&str, &str); 3] = [("_v", "V"), ("_pct", "%"), ("_ohm", "Ω")];

/// Names that are a unit themselves, as in a log of times and temperatures.
const ALONE: [(&str, &str); 2] = [("s", "seconds"), ("c", "°C")];

/// The unit that the suffix of a name says.
#[must_use]
pub fn unit(name: &str) -> Option<&'static str> {
    if let Some((_, unit)) = ALONE.iter().find(|(n, _)| *n == name) {
        return Some(unit);
    }
    UNITS.iter().chain(&MORE_UNITS).find(|(suffix, _)| name.ends_with(suffix)).map(|(_, unit)| *unit)
}

fn field(f: &Field) -> Value {
    let mut s = match f.kind {
        FieldKind::Number => json!({"type": "number"}),
        FieldKind::Positive => json!({"type": "number", "exclusiveMinimum": 0}),
        FieldKind::NotNegative => json!({"type": "number", "minimum": 0}),
        FieldKind::Whole(lo, hi) => json!({"type": "integer", "minimum": lo, "maximum": hi}),
        FieldKind::Flag => json!({"type": "boolean"}),
        FieldKind::Text => json!({"type": "string"}),
        FieldKind::Word(words) => json!({"type": "string", "enum": words}),
        FieldKind::Material => json!({"type": "string", "enum": Material::ALL.map(|(n, _)| n)}),
        FieldKind::Numbers => json!({"type": "array", "items": {"type": "number"}, "maxItems": LONGEST}),
        FieldKind::Grid => {
            json!({"type": "array", "items": {"type": "array", "items": {"type": "number"}}, "maxItems": LONGEST})
        }
        FieldKind::Texts => json!({"type": "array", "items": {"type": "string"}, "maxItems": LONGEST}),
        FieldKind::Pairs => {
            json!({"type": "array", "maxItems": LONGEST, "items": {"type": "array", "items": {"type": "string"}, "minItems": 2, "maxItems": 2}})
        }
        FieldKind::Objects(fields) => json!({"type": "array", "items": fields_schema(fields), "maxItems": LONGEST}),
        FieldKind::Object(fields) => fields_schema(fields),
        FieldKind::Counts => json!({"type": "object", "additionalProperties": {"type": "number"}}),
    };
    if !f.required {
        nullable(&mut s);
    }
    describe(&mut s, f.name, &f.meaning());
    s
}

fn nullable(schema: &mut Value) {
    let kind = schema["type"].take();
    schema["type"] = json!([kind, "null"]);
    if let Some(words) = schema.get_mut("enum").and_then(Value::as_array_mut) {
        words.push(Value::Null);
    }
}

fn describe(schema: &mut Value, name: &str, about: &str) {
    schema["description"] = Value::String(unit(name).map_or_else(|| about.to_owned(), |u| format!("{about}, {u}")));
}

fn fields_schema(fields: &[Field]) -> Value {
    let properties: Map<String, Value> = fields.iter().map(|f| (f.name.to_owned(), field(f))).collect();
    let required: Vec<&str> = fields.iter().filter(|f| f.required).map(|f| f.name).collect();
    json!({"type": "object", "additionalProperties": false, "required": required, "properties": properties})
}

fn output(o: &Output) -> Value {
    let mut s = match o.kind {
        Gives::Number => json!({"type": "number"}),
        Gives::Flag => json!({"type": "boolean"}),
        Gives::Text => json!({"type": "string"}),
        Gives::Word(words) => json!({"type": "string", "enum": words}),
        Gives::Numbers => json!({"type": "array", "items": {"type": "number"}}),
        Gives::Texts => json!({"type": "array", "items": {"type": "string"}}),
        Gives::Pairs => {
            json!({"type": "array", "items": {"type": "array", "items": {"type": "string"}, "minItems": 2, "maxItems": 2}})
        }
        Gives::Counts => json!({"type": "object", "additionalProperties": {"type": "number"}}),
        Gives::Objects(inner) => json!({"type": "array", "items": outputs_schema(inner, &[])}),
    };
    if o.nullable {
        nullable(&mut s);
    }
    describe(&mut s, o.name, o.about);
    s
}

fn outputs_schema(outputs: &[Output], sometimes: &[Output]) -> Value {
    let properties: Map<String, Value> =
        outputs.iter().chain(sometimes).map(|o| (o.name.to_owned(), output(o))).collect();
    let required: Vec<&str> = outputs.iter().map(|o| o.name).collect();
    json!({"type": "object", "additionalProperties": false, "required": required, "properties": properties})
}

/// JSON Schema of the error that takes the place of an answer.
#[must_use]
pub fn error_schema() -> Value {
    json!({
        "type": "object", "additionalProperties": false, "required": ["error"],
        "properties": {"error": {
            "type": "object", "additionalProperties": false, "required": ["field", "message"],
            "properties": {
                "field": {"type": "string", "description": "the field that cannot be worked with"},
                "message": {"type": "string", "description": "what was expected"},
            },
        }},
    })
}

impl Entry {
    /// JSON Schema of the input.
    #[must_use]
    pub fn input_schema(&self) -> Value {
        fields_schema(self.fields)
    }
    /// JSON Schema of the answer.
    #[must_use]
    pub fn output_schema(&self) -> Value {
        outputs_schema(self.outputs, &[WORDS, WARNINGS, ASSUMED])
    }
    /// Both, with what the computation is for.
    ///
    /// ```
    /// let entry = ironseat_core::reckon::entry("gauge.capable")?;
    /// assert_eq!(entry.schema()["input"]["required"], serde_json::json!(["lo", "hi", "u"]));
    /// # Ok::<(), ironseat_core::Refusal>(())
    /// ```
    #[must_use]
    pub fn schema(&self) -> Value {
        json!({
            "$schema": "https://json-schema.org/draft/2020-12/schema",
            "title": self.name,
            "description": self.purpose,
            "input": self.input_schema(),
            "output": self.output_schema(),
            "error": error_schema(),
        })
    }
}
