//! Files that are given out: under their name, and tables as every spreadsheet opens them.

use axum::http::header;
use axum::response::{IntoResponse as _, Response};
use ironseat_store::StoreError;

/// A file that a browser keeps under this name.
pub fn attachment(kind: &'static str, name: &str, bytes: Vec<u8>) -> Response {
    let as_file = format!("attachment; filename=\"{name}\"");
    ([(header::CONTENT_TYPE, kind.to_owned()), (header::CONTENT_DISPOSITION, as_file)], bytes).into_response()
}

/// A table that a browser keeps under this name.
pub fn table(name: &str, bytes: Vec<u8>) -> Response {
    attachment("text/csv; charset=utf-8", name, bytes)
}

/// Rows as CSV, with a byte-order mark, by which spreadsheets know that it is UTF-8. Texts that people wrote are
/// [`defused`] by whoever makes the rows: a figure may begin with its sign.
///
/// # Errors
/// A row that has another number of cells than its head.
pub fn csv<'a>(
    head: impl IntoIterator<Item = &'a str>,
    rows: impl Iterator<Item = Vec<String>>,
) -> Result<Vec<u8>, StoreError> {
    let said = |e: csv::Error| StoreError::Internal(e.to_string());
    let mut w = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer("\u{feff}".as_bytes().to_vec());
    w.write_record(head).map_err(said)?;
    for row in rows {
        w.write_record(row).map_err(said)?;
    }
    w.into_inner().map_err(|e| StoreError::Internal(e.to_string()))
}

/// A text that a spreadsheet does not take for a formula.
pub fn defused(s: &str) -> String {
    if s.starts_with(['=', '+', '-', '@', '\t', '\r', '\n']) { format!("'{s}") } else { s.to_owned() }
}
