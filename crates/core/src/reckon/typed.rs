//! What people type into the fields of a computation and read from its results, in both systems of units. The contract
//! itself knows metric units alone, by the suffixes of its names.

use super::input::{Field, FieldKind};
use super::schema::unit;
use crate::quantity::as_written;
use crate::quantity::show::{self, LBF, fixed};
use crate::quantity::{
    Celsius, Micrometres, Millimetres, Newtons, Seconds, Units, number, parse_length, parse_temperature,
};
use crate::refusal::{Refusal, Result};
use serde_json::{Map, Value, json};

/// Words of units that may be typed behind a number: of what the contract calls by the first, how much one is.
const WORDS: [(&str, &[(&str, f64)]); 6] = [
    ("N", &[("n", 1.0), ("kn", 1000.0), ("lbf", LBF), ("lb", LBF), ("kgf", 9.806_65)]),
    (
        "N·m",
        &[
            ("nm", 1.0),
            ("n·m", 1.0),
            ("n-m", 1.0),
            ("lbf·ft", LBF * 0.3048),
            ("lbft", LBF * 0.3048),
            ("lb-ft", LBF * 0.3048),
            ("ft-lb", LBF * 0.3048),
            ("ft-lbf", LBF * 0.3048),
            ("lbf·in", LBF * 0.0254),
            ("lb-in", LBF * 0.0254),
            ("in-lb", LBF * 0.0254),
            ("in-lbf", LBF * 0.0254),
        ],
    ),
    ("MPa", &[("mpa", 1.0), ("bar", 0.1), ("kpa", 0.001), ("psi", PSI)]),
    ("g", &[("g", 1.0), ("kg", 1000.0), ("oz", 28.349_523_125), ("lb", 453.592_37)]),
    ("seconds", &[("s", 1.0), ("min", 60.0), ("h", 3600.0)]),
    ("minutes", &[("min", 1.0), ("s", 1.0 / 60.0), ("h", 60.0)]),
];
const PSI: f64 = 0.006_894_757_293;

/// The unit a number of this name is typed in when no other is said.
#[must_use]
pub fn unit_in(name: &str, units: Units) -> &'static str {
    let metric = unit(name).unwrap_or("");
    match (units, metric) {
        (Units::Inch, "mm") => "in",
        (Units::Inch, "µm") => "thou",
        (Units::Inch, "N") => "lbf",
        (Units::Inch, "N·m") => "lbf·ft",
        (Units::Inch, "MPa") => "psi",
        (Units::Inch, "°C") => "°F",
        (Units::Inch, "g") => "oz",
        _ => metric,
    }
}

/// A number as it is typed, with or without its unit: what the contract takes.
///
/// ```
/// use ironseat_core::quantity::Units;
/// use ironseat_core::reckon::number_in;
/// assert_eq!(number_in("torque_nm", "100", Units::Metric)?, 100.0);
/// assert!((number_in("torque_nm", "74 ft-lb", Units::Metric)? - 100.33).abs() < 0.01);
/// assert!((number_in("d_mm", "1.5", Units::Inch)? - 38.1).abs() < 1e-9);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// The field, with what was expected.
pub fn number_in(name: &str, text: &str, units: Units) -> Result<f64> {
    let here = |m: String| Refusal::new(name, m);
    let said = unit_in(name, units);
    match unit(name).unwrap_or("") {
        "mm" | "µm" => {
            let per = if unit(name) == Some("mm") { 1.0 } else { 1000.0 };
            let word = match said {
                "µm" => "um",
                other => other,
            };
            let said = parse_length(text, word, None, None).map_err(|e| here(e.message))?.value.0;
            Ok(if per == 1.0 { said } else { as_written(said * per) })
        }
        "°C" => parse_temperature(text, said == "°F").map(|t| t.0).map_err(|e| here(e.message)),
        metric => {
            let text = text.trim();
            let end = text
                .find(|c: char| !(c.is_ascii_digit() || matches!(c, '.' | ',' | '+' | '-' | '−' | ' ')))
                .unwrap_or(text.len());
            let (figure, word) = (text[..end].trim(), text[end..].trim().to_lowercase());
            let example = if said.is_empty() { "such as 12.5".to_owned() } else { format!("in {said}, such as 12.5") };
            let value = number(figure.trim_start_matches('+'))
                .filter(|v| v.is_finite())
                .ok_or_else(|| here(format!("expected a number {example}")))?;
            let known = WORDS.iter().find(|(m, _)| *m == metric).map_or(&[][..], |(_, w)| *w);
            let plain = |w: &str| w.replace([' ', '.'], "");
            let word = if word.is_empty() { plain(&said.to_lowercase()) } else { plain(&word) };
            if word == plain(&metric.to_lowercase()) {
                return Ok(value);
            }
            let scale = known.iter().find(|(w, _)| *w == word).map(|(_, s)| *s);
            scale.map(|s| as_written(value * s)).ok_or_else(|| {
                let list: Vec<&str> = known.iter().map(|(w, _)| *w).collect();
                here(if list.is_empty() {
                    format!("expected a number {example}, with no other unit")
                } else {
                    format!("“{}” is no unit of this: use {}", super::input::short(&word), list.join(", "))
                })
            })
        }
    }
}

/// A number of a result as it is read, with its unit.
#[must_use]
pub fn shown(name: &str, value: f64, units: Units) -> (String, &'static str) {
    let said = unit_in(name, units);
    match unit(name).unwrap_or("") {
        "mm" => show::size(Millimetres(value), Millimetres(0.001), units),
        "µm" => show::small(Micrometres(value), units),
        "N" => show::force(Newtons(value), units),
        "°C" => show::temperature(Celsius(value), units),
        "seconds" => (show::clock(Seconds(value)), if value >= 3600.0 { "h:min:s" } else { "min:s" }),
        "N·m" if said != "N·m" => (figures(value / LBF / 0.3048), said),
        "MPa" if said != "MPa" => (figures(value / PSI), said),
        // No share is reckoned better than that, and none is typed finer.
        "%" => (figures((value * 100.0).round() / 100.0), said),
        "g" if said != "g" => (figures(value / 28.349_523_125), said),
        // A scale at the bench weighs no finer, and no thermometer reads a finer difference.
        "g" | "K" => (figures((value * 10.0).round() / 10.0), said),
        _ => (figures(value), said),
    }
}

/// A value of a question or of an answer as a text with its unit.
#[must_use]
pub fn said(name: &str, v: &Value, units: Units) -> String {
    match v {
        Value::Number(n) => {
            let (number, unit) = shown(name, n.as_f64().unwrap_or(0.0), units);
            if unit.is_empty() { number } else { format!("{number} {unit}") }
        }
        Value::Bool(b) => if *b { "yes" } else { "no" }.into(),
        Value::String(s) => s.replace('_', " "),
        Value::Null => "—".into(),
        Value::Array(list) => {
            // Numbers of one unit say it once.
            let numbers: Option<Vec<_>> = list.iter().map(|x| Some(shown(name, x.as_f64()?, units))).collect();
            match numbers.as_deref() {
                Some([first, rest @ ..]) if !first.1.is_empty() && rest.iter().all(|x| x.1 == first.1) => {
                    let each: Vec<&str> = numbers.iter().flatten().map(|x| x.0.as_str()).collect();
                    format!("{} {}", each.join(", "), first.1)
                }
                _ => {
                    let between = if list.iter().all(Value::is_array) { "; " } else { ", " };
                    list.iter().map(|x| said(name, x, units)).collect::<Vec<_>>().join(between)
                }
            }
        }
        Value::Object(map) => map
            .iter()
            .map(|(k, x)| format!("{} {}", k.replace('_', " "), said(k, x, units)))
            .collect::<Vec<_>>()
            .join(", "),
    }
}

/// Four figures that count, without zeros at the end.
fn figures(value: f64) -> String {
    if value == 0.0 || !value.is_finite() {
        return fixed(0.0, 0);
    }
    let before = value.abs().log10().floor() as i32 + 1;
    let text = fixed(value, usize::try_from((4 - before).clamp(0, 6)).unwrap_or(0));
    if text.contains('.') { text.trim_end_matches('0').trim_end_matches('.').to_owned() } else { text }
}

/// What was typed into the fields of a computation, as its input. `typed` gives the text of a path: `lo_mm`,
/// `pairs.0.pulled_mm`; `rows` how many rows of a list there are. Empty texts are left out.
///
/// # Errors
/// The path of the field, with what was expected.
pub fn typed_input(
    fields: &[Field],
    typed: &dyn Fn(&str) -> String,
    rows: &dyn Fn(&str) -> usize,
    units: Units,
) -> Result<Map<String, Value>> {
    under("", fields, typed, rows, units)
}

fn under(
    prefix: &str,
    fields: &[Field],
    typed: &dyn Fn(&str) -> String,
    rows: &dyn Fn(&str) -> usize,
    units: Units,
) -> Result<Map<String, Value>> {
    let mut map = Map::new();
    for f in fields {
        let path = format!("{prefix}{}", f.name);
        let value = match f.kind {
            FieldKind::Objects(inner) => {
                let each = |i: usize| under(&format!("{path}.{i}."), inner, typed, rows, units);
                let list = (0..rows(&path)).map(each).collect::<Result<Vec<_>>>()?;
                let list: Vec<Value> = list.into_iter().filter(|m| !m.is_empty()).map(Value::Object).collect();
                if list.is_empty() { None } else { Some(Value::Array(list)) }
            }
            FieldKind::Object(inner) => {
                let inside = under(&format!("{path}."), inner, typed, rows, units)?;
                if inside.is_empty() { None } else { Some(Value::Object(inside)) }
            }
            _ => {
                let text = typed(&path);
                let text = text.trim();
                if text.is_empty() {
                    None
                } else {
                    Some(one(f, text, !prefix.is_empty(), units).map_err(|e| Refusal::new(&path, e.message))?)
                }
            }
        };
        if let Some(v) = value {
            map.insert(f.name.to_owned(), v);
        }
    }
    Ok(map)
}

/// Numbers between blanks; a unit belongs to the number before it.
fn row(f: &Field, text: &str, units: Units) -> Result<Vec<f64>> {
    let mut tokens: Vec<String> = Vec::new();
    for t in text.split(|c: char| c.is_whitespace() || c == ';').filter(|t| !t.is_empty()) {
        match tokens.last_mut() {
            Some(last) if t.starts_with(char::is_alphabetic) => *last += &format!(" {t}"),
            _ => tokens.push(t.to_owned()),
        }
    }
    tokens.iter().map(|t| number_in(f.name, t, units)).collect()
}

/// The value of one field. Names stand on a line each; in the field of a row, which has one line, between commas.
fn one(f: &Field, text: &str, in_row: bool, units: Units) -> Result<Value> {
    let lines = || text.split(|c| c == '\n' || in_row && c == ',').map(str::trim).filter(|l| !l.is_empty());
    let refuse = |m: &str| Refusal::new(f.name, m.to_owned());
    Ok(match f.kind {
        FieldKind::Number | FieldKind::Positive | FieldKind::NotNegative => json!(number_in(f.name, text, units)?),
        FieldKind::Whole(lo, hi) => {
            let n = number(text).filter(|n| n.fract() == 0.0 && *n >= 0.0);
            json!(n.ok_or_else(|| refuse(&format!("expected a whole number from {lo} to {hi}")))? as u64)
        }
        FieldKind::Flag => match text {
            "yes" => json!(true),
            "no" => json!(false),
            _ => return Err(refuse("expected yes or no")),
        },
        FieldKind::Text | FieldKind::Word(_) | FieldKind::Material => json!(text),
        FieldKind::Numbers => json!(row(f, text, units)?),
        FieldKind::Grid => json!(lines().map(|l| row(f, l, units)).collect::<Result<Vec<_>>>()?),
        FieldKind::Texts => json!(lines().collect::<Vec<_>>()),
        FieldKind::Pairs => {
            let pair = |l: &str| {
                let (a, b) = l.split_once([',', '<', ' ', '\t'])?;
                Some([a.trim().to_owned(), b.trim_start_matches([',', '<', ' ']).trim().to_owned()])
            };
            let all: Option<Vec<_>> = lines().map(pair).collect();
            json!(all.ok_or_else(|| refuse("expected two names on each line, the first one first"))?)
        }
        FieldKind::Counts => {
            let count = |l: &str| {
                let (name, n) = l.rsplit_once([' ', '\t', '=', ':'])?;
                Some((name.trim_end_matches(['=', ':', ' ']).trim().to_owned(), json!(number(n)?)))
            };
            let all: Option<Map<String, Value>> = lines().map(count).collect();
            Value::Object(all.ok_or_else(|| refuse("expected a name and a number on each line"))?)
        }
        FieldKind::Objects(_) | FieldKind::Object(_) => return Err(refuse("expected its fields")),
    })
}

/// An input as it would be typed in metric units: paths with their texts.
#[must_use]
pub fn as_typed(fields: &[Field], input: &Map<String, Value>) -> Vec<(String, String)> {
    let mut out = Vec::new();
    put("", fields, input, &mut out);
    out
}

fn put(prefix: &str, fields: &[Field], input: &Map<String, Value>, out: &mut Vec<(String, String)>) {
    for f in fields {
        let Some(v) = input.get(f.name).filter(|v| !v.is_null()) else { continue };
        let path = format!("{prefix}{}", f.name);
        // As a person writes it: 40, not 40.0.
        let plain = |v: &Value| match (v.as_str(), v.as_f64()) {
            (Some(text), _) => text.to_owned(),
            (None, Some(number)) => number.to_string(),
            (None, None) => v.to_string(),
        };
        let list = |v: &Value, with: &str| v.as_array().into_iter().flatten().map(plain).collect::<Vec<_>>().join(with);
        match f.kind {
            FieldKind::Objects(inner) => {
                for (i, item) in v.as_array().into_iter().flatten().enumerate() {
                    put(&format!("{path}.{i}."), inner, item.as_object().unwrap_or(&Map::new()), out);
                }
            }
            FieldKind::Object(inner) => {
                put(&format!("{path}."), inner, v.as_object().unwrap_or(&Map::new()), out);
            }
            FieldKind::Flag => out.push((path, if v == &json!(true) { "yes" } else { "no" }.into())),
            FieldKind::Numbers => out.push((path, list(v, " "))),
            FieldKind::Texts => out.push((path, list(v, if prefix.is_empty() { "\n" } else { ", " }))),
            FieldKind::Grid => {
                let rows: Vec<String> = v.as_array().into_iter().flatten().map(|r| list(r, " ")).collect();
                out.push((path, rows.join("\n")));
            }
            FieldKind::Pairs => {
                let rows: Vec<String> = v.as_array().into_iter().flatten().map(|r| list(r, ", ")).collect();
                out.push((path, rows.join("\n")));
            }
            FieldKind::Counts => {
                let rows = v.as_object().into_iter().flatten().map(|(k, n)| format!("{k} {n}"));
                out.push((path, rows.collect::<Vec<_>>().join("\n")));
            }
            _ => out.push((path, plain(v))),
        }
    }
}
