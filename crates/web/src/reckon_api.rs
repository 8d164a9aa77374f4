//! Named computations over HTTP: the same JSON as on the command line, and their description.

use crate::exchange::described;
use axum::Json;
use axum::extract::Path;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use ironseat_core::Refusal;
use ironseat_core::anatomy::build_sheet::EXAMPLE;
use ironseat_core::reckon::{entries, error_schema};
use serde_json::{Map, Value, json};
use std::time::Duration;
use tokio::sync::Semaphore;

/// A plan or a million trials keeps a core busy for seconds: so many at once, the others wait their turn.
static AT_ONCE: Semaphore = Semaphore::const_new(2);
/// Whoever waits longer than this for a turn is told so.
const TURN: Duration = Duration::from_secs(5);
/// Seconds that an answer may be asked to take here; the command line takes more.
const LONGEST: f64 = 5.0;

/// Why there is no answer.
#[derive(Debug)]
pub enum Said {
    /// An input that cannot be worked with.
    Refused(Refusal),
    /// Others are reckoning.
    Busy(Refusal),
    /// Our own fault.
    Fault(Refusal),
}

impl Said {
    fn response(self) -> Response {
        let (status, e) = match self {
            Self::Refused(e) if e.field == "name" => (StatusCode::NOT_FOUND, e),
            Self::Refused(e) => (StatusCode::UNPROCESSABLE_ENTITY, e),
            Self::Busy(e) => {
                let said = Json(json!({ "error": e }));
                return (StatusCode::SERVICE_UNAVAILABLE, [(header::RETRY_AFTER, "2")], said).into_response();
            }
            Self::Fault(e) => (StatusCode::INTERNAL_SERVER_ERROR, e),
        };
        (status, Json(json!({ "error": e }))).into_response()
    }
}

/// Works when it is its turn, off the threads that answer others.
pub async fn in_turn<T: Send + 'static>(
    fault: Refusal,
    work: impl FnOnce() -> Result<T, Refusal> + Send + 'static,
) -> Result<T, Said> {
    let Ok(Ok(_turn)) = tokio::time::timeout(TURN, AT_ONCE.acquire()).await else {
        return Err(Said::Busy(Refusal::new("input", "others are reckoning just now: ask again in a moment")));
    };
    match tokio::task::spawn_blocking(work).await {
        Ok(done) => done.map_err(Said::Refused),
        Err(_) => Err(Said::Fault(fault)),
    }
}

/// Reckons a named computation, within bounds of time and of how many at once.
///
/// # Errors
/// Why there is no answer.
pub async fn answer(name: String, input: String) -> Result<Value, Said> {
    let seconds = serde_json::from_str::<Value>(&input).ok().and_then(|v| v.get("seconds").and_then(Value::as_f64));
    if seconds.is_some_and(|s| s > LONGEST) {
        return Err(Said::Refused(Refusal::new(
            "seconds",
            format!("expected at most {LONGEST} s here: the command line takes as many as are asked for"),
        )));
    }
    let fault = Refusal::new("input", "this could not be reckoned: the fault is ours, please report the input");
    in_turn(fault, move || ironseat_core::reckon::reckon(&name, &input)).await
}

/// `POST /api/reckon/NAME`.
pub async fn reckon(Path(name): Path<String>, body: String) -> Response {
    answer(name, body).await.map_or_else(Said::response, |a| Json(a).into_response())
}

/// `POST /api/derive`: a build sheet as text in, what follows from it out.
pub async fn derive(body: String) -> Response {
    let fault =
        Refusal::new("sheet", "nothing could be derived from this: the fault is ours, please report the build sheet");
    let derived = in_turn(fault, move || {
        let a = ironseat_core::anatomy::build_sheet::parse(&body)?;
        Ok(ironseat_core::anatomy::derive(&a)?.json(ironseat_core::quantity::Units::Metric))
    });
    derived.await.map_or_else(Said::response, |a| Json(a).into_response())
}

/// `GET /api/openapi.json`: OpenAPI 3.1, generated from the registry.
pub async fn openapi() -> Json<Value> {
    let content = |schema: Value| json!({"application/json": {"schema": schema}});
    let error = || content(json!({"$ref": "#/components/schemas/Error"}));
    let mut paths = Map::new();
    for e in entries() {
        let mut ask = content(e.input_schema());
        ask["application/json"]["example"] = serde_json::from_str(e.example).unwrap_or_default();
        let operation = json!({
            "operationId": e.name,
            "tags": [e.name.split('.').next()],
            "summary": e.purpose,
            "description": format!("{}. Source: {}.", e.formula, e.source),
            "requestBody": {"required": true, "content": ask},
            "responses": {
                "200": {"description": "The answer.", "content": content(e.output_schema())},
                "422": {"description": "An input that cannot be worked with: the field and what was expected.", "content": error()},
                "503": {"description": "Others are reckoning: ask again after the seconds in Retry-After.", "content": error()},
            },
        });
        paths.insert(format!("/api/reckon/{}", e.name), json!({ "post": operation }));
    }
    let text = || json!({"text/plain": {"schema": {"type": "string", "description": "A build sheet, format 1 or 2."}, "example": EXAMPLE}});
    let answer = json!({"type": "object", "required": ["faults", "notes", "acts"], "properties": {
        "faults": {"type": "array", "items": {"type": "object"}}, "notes": {"type": "array", "items": {"type": "object"}},
        "acts": {"type": "array", "items": {"type": "object"}}}});
    paths.insert(
        "/api/derive".into(),
        json!({ "post": {
            "operationId": "derive",
            "tags": ["anatomy"],
            "summary": "Acts of a machine in an order that respects all reasons, and what is wrong with its build sheet",
            "requestBody": {"required": true, "content": text()},
            "responses": {
                "200": {"description": "The answer, with its faults.", "content": content(answer)},
                "422": {"description": "No build sheet: the line and what was expected.", "content": error()},
            },
        }}),
    );
    paths.extend(described::paths());
    Json(json!({
        "openapi": "3.1.0",
        "info": {"title": "Iron Seat", "version": env!("CARGO_PKG_VERSION"), "description":
            "Reckoning by name needs no key: one JSON object in, one out. The suffix of a field is its unit; null is the same as not given. An unknown name gives status 404 with the field `name`. Rebuilds, readings and stock want a key."},
        "paths": paths,
        "components": {
            "schemas": {"Error": error_schema(), "Rebuild": described::document()},
            "securitySchemes": described::security(),
        },
    }))
}
