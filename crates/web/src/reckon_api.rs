//! Named computations over HTTP: the same JSON as on the command line.

use axum::Json;
use axum::extract::Path;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};

/// `POST /api/reckon/NAME`.
pub async fn reckon(Path(name): Path<String>, body: String) -> Response {
    match ironseat_core::reckon::reckon(&name, &body) {
        Ok(answer) => Json(answer).into_response(),
        Err(e) => {
            let status = if e.field == "name" { StatusCode::NOT_FOUND } else { StatusCode::UNPROCESSABLE_ENTITY };
            (status, Json(serde_json::json!({ "error": e }))).into_response()
        }
    }
}
