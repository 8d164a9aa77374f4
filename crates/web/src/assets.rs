//! Styles, scripts and fonts, embedded: no page makes an external request.

use axum::extract::Path;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};

#[derive(rust_embed::RustEmbed)]
#[folder = "assets/"]
struct Files;

/// A shipped file. Names carry no version, so browsers ask again after an hour.
pub async fn get(Path(path): Path<String>) -> Response {
    match Files::get(&path) {
        Some(file) => {
            let mime = mime_guess::from_path(&path).first_or_octet_stream();
            ([(header::CONTENT_TYPE, mime.as_ref()), (header::CACHE_CONTROL, "public, max-age=3600")], file.data).into_response()
        }
        None => StatusCode::NOT_FOUND.into_response(),
    }
}
