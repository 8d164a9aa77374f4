//! Papers of a rebuild as PDF.

use crate::ground::error::{WebError, WebResult};
use crate::ground::extract::Reader;
use crate::parts::papers::{Paper, set};
use crate::state::App;
use axum::extract::{Path, Query, State};
use axum::http::{HeaderMap, StatusCode, header};
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
    let (number, bytes) =
        match set(&app, &reader, id, &Paper { name: name.clone(), letter: q.size == "letter" }, &headers).await {
            Ok(set) => set,
            Err(WebError::Store(StoreError::TooMany(words))) => {
                return Ok((StatusCode::SERVICE_UNAVAILABLE, words).into_response());
            }
            Err(e) => return Err(e),
        };
    let as_file = format!("inline; filename=\"{number}-{name}.pdf\"");
    Ok(([(header::CONTENT_TYPE, "application/pdf".to_owned()), (header::CONTENT_DISPOSITION, as_file)], bytes)
        .into_response())
}
