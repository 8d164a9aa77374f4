//! The written contract, from the registry: `docs/reckon.md` is this text.

use super::input::{Field, FieldKind, shape};
use super::output::{Gives, Output};
use super::{Entry, entries, reckon, schema};
use serde_json::Value;
use std::fmt::Write;

/// Every computation as Markdown: what for, formula, source, fields, results, limits, example with its answer.
#[must_use]
pub fn document() -> String {
    let mut out = String::from(
        "# Reckoning by name\n\n\
         Written by the program from its registry; a test keeps it so (`UPDATE_EXPECT=1` renews it). \
         `iron-seat reckon NAME` takes one JSON object on standard input and gives one on standard output; \
         `--many` takes and gives one a line; `--schema NAME` gives the JSON Schema; `POST /api/reckon/NAME` is the same \
         over HTTP, described at `/api/openapi.json`. A bad input gives `{\"error\": {\"field\", \"message\"}}` and exit \
         code 2. Where there is something to say, `words` is the answer as a sentence. The suffix of a name is its unit; `null` is the same as not given. An answer outside a limit of \
         validity carries `warnings`, one that rests on estimates carries `assumed`.\n\n",
    );
    for e in entries() {
        let _ = writeln!(out, "- [`{}`](#{}): {}", e.name, e.name.replace('.', ""), e.purpose);
    }
    for e in entries() {
        entry(&mut out, e);
    }
    out
}

fn entry(out: &mut String, e: &Entry) {
    let _ = write!(
        out,
        "\n## {}\n\n{}\n\nFormula: `{}`. Source: {}. Holds for: {}.\n\n",
        e.name, e.purpose, e.formula, e.source, e.holds
    );
    let _ = write!(out, "| takes | what | |\n|---|---|---|\n");
    for f in e.fields {
        let _ = writeln!(out, "| `{}` | {} | {} |", f.name, cell(&takes(f)), if f.required { "required" } else { "" });
    }
    let _ = write!(out, "\n| gives | what |\n|---|---|\n");
    for o in e.outputs {
        let _ = writeln!(out, "| `{}` | {} |", o.name, cell(&given(o)));
    }
    if !e.limits.is_empty() {
        out.push_str("\nWarns:\n\n");
        for l in e.limits {
            let _ = writeln!(out, "- {l}");
        }
    }
    let answer = reckon(e.name, e.example).map_or_else(|r| r.to_string(), |a| rounded(&a).to_string());
    let _ = write!(out, "\n```json\n{}\n{answer}\n```\n", e.example);
}

fn cell(text: &str) -> String {
    text.replace('|', "\\|")
}

fn with_unit(name: &str, about: &str) -> String {
    schema::unit(name).map_or_else(|| about.to_owned(), |u| format!("{about}, in {u}"))
}

fn takes(f: &Field) -> String {
    let more = match f.kind {
        FieldKind::Word(words) => format!("; one of {}", words.join(", ")),
        FieldKind::Whole(..) => "; whole".into(),
        FieldKind::Positive => "; above 0".into(),
        FieldKind::NotNegative => "; 0 or more".into(),
        FieldKind::Objects(fields) => format!("; list of {}", shape(fields)),
        FieldKind::Object(fields) => format!("; {}", shape(fields)),
        _ => String::new(),
    };
    with_unit(f.name, &f.meaning()) + &more
}

fn given(o: &Output) -> String {
    let more = match o.kind {
        Gives::Word(words) => {
            format!("; {}", words.iter().filter(|w| !w.is_empty()).copied().collect::<Vec<_>>().join(", "))
        }
        Gives::Objects(inner) => {
            format!("; list of {{{}}}", inner.iter().map(|i| i.name).collect::<Vec<_>>().join(", "))
        }
        _ => String::new(),
    };
    with_unit(o.name, o.about) + &more + if o.nullable { "; null when there is none" } else { "" }
}

/// Six figures are enough for the eye; the last ones differ from machine to machine.
fn rounded(v: &Value) -> Value {
    match v {
        Value::Number(n) => {
            n.as_f64().filter(|f| f.fract() != 0.0).map_or_else(|| v.clone(), |f| six_figures(f).into())
        }
        Value::Array(a) => a.iter().map(rounded).collect(),
        Value::Object(m) => Value::Object(m.iter().map(|(k, v)| (k.clone(), rounded(v))).collect()),
        _ => v.clone(),
    }
}

fn six_figures(f: f64) -> f64 {
    let scale = 10f64.powi(5 - f.abs().log10().floor() as i32);
    if scale.is_finite() && scale != 0.0 { (f * scale).round() / scale } else { f }
}
