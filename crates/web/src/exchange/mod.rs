//! What leaves the house and comes into it: rebuilds as archives, readings and stock as tables, and the same for other
//! programs with a key.

pub mod api;
pub mod archive;
pub mod archives;
pub mod described;
pub mod files;
pub mod instruments;
pub mod readings;
pub mod stores;
mod table;

use crate::extract::Upload;
use axum::body::Bytes;
use std::collections::BTreeMap;

/// What was sent: the file, else what was pasted.
fn sent(form: &Upload) -> (String, Bytes) {
    let pasted = form.fields.get("pasted").filter(|t| !t.trim().is_empty());
    match pasted.filter(|_| form.file.is_empty()) {
        Some(text) => ("pasted rows".to_owned(), Bytes::from(text.clone())),
        None => (form.name.clone(), form.file.clone()),
    }
}

/// The choices of a page as they stand in its address.
type Chosen = BTreeMap<String, String>;

/// Choices as hidden fields of the form that keeps what they show.
fn hidden(chosen: &Chosen) -> Vec<(String, String)> {
    let of = |k: &str| !matches!(k, "_csrf" | "stand" | "act");
    chosen.iter().filter(|(k, _)| of(k)).map(|(k, v)| (k.clone(), v.clone())).collect()
}
