//! What is handed in: a file or pasted rows, the choices of its page, and how its columns are read.

use crate::ground::extract::Upload;
use crate::parts::table;
use axum::body::Bytes;
use ironseat_core::quantity::Units;
use ironseat_core::rows::Table;
use ironseat_store::write::import::{ROLES, TableForm};
use std::collections::BTreeMap;

/// What was sent: the file, else what was pasted.
pub fn sent(form: &Upload) -> (String, Bytes) {
    let pasted = form.fields.get("pasted").filter(|t| !t.trim().is_empty());
    match pasted.filter(|_| form.file.is_empty()) {
        Some(text) => ("pasted rows".to_owned(), Bytes::from(text.clone())),
        None => (form.name.clone(), form.file.clone()),
    }
}

/// The choices of a page as they stand in its address.
pub type Chosen = BTreeMap<String, String>;

/// Choices as hidden fields of the form that keeps what they show.
pub fn hidden(chosen: &Chosen) -> Vec<(String, String)> {
    let of = |k: &str| !matches!(k, "_csrf" | "stand" | "act");
    chosen.iter().filter(|(k, _)| of(k)).map(|(k, v)| (k.clone(), v.clone())).collect()
}

/// How a table is read, from the choices of its page.
pub fn asked(t: &Table, q: &Chosen, units: Units) -> TableForm {
    let text = |k: &str| q.get(k).cloned().unwrap_or_default();
    TableForm {
        columns: table::columns(t, &ROLES, q),
        sheet: text("sheet"),
        instrument: text("instrument").parse().ok(),
        units: match text("units").as_str() {
            "metric" => Units::Metric,
            "inch" => Units::Inch,
            _ => units,
        },
        sure: q.keys().filter_map(|k| k.strip_prefix("sure.")?.parse().ok()).collect(),
        reason: text("reason"),
    }
}
