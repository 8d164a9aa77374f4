//! Papers of a rebuild as PDF.

use crate::ground::error::WebResult;
use crate::ground::extract::Reader;
use crate::parts::papers::{Paper, set};
use crate::state::App;
use axum::extract::{Path, Query, State};
use axum::http::{HeaderMap, header};
use axum::response::IntoResponse as _;
use ironseat_store::{RebuildId, StoreError};
use serde::Deserialize;

#[derive(Deserialize, Default)]
#[serde(default)]
pub struct PaperQuery {
    /// `letter`, else A4.
    size: String,
}

/// A paper of a rebuild.
pub async fn show(
    State(app): State<App>,
    reader: Reader,
    Path((id, file)): Path<(RebuildId, String)>,
    Query(q): Query<PaperQuery>,
    headers: HeaderMap,
) -> WebResult {
    let name = file.strip_suffix(".pdf").ok_or(StoreError::NotFound)?.to_owned();
    let paper = Paper { name: name.clone(), letter: q.size == "letter" };
    let (number, bytes) = set(&app, &reader, id, &paper, &headers).await?;
    let as_file = format!("inline; filename=\"{number}-{name}.pdf\"");
    Ok(([(header::CONTENT_TYPE, "application/pdf".to_owned()), (header::CONTENT_DISPOSITION, as_file)], bytes)
        .into_response())
}
