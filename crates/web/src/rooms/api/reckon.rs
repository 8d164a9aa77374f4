//! Named computations over HTTP: the same JSON as on the command line, and their description.

use crate::parts::turns::{Unanswered, answer, in_turn};
use crate::rooms::api::described;
use axum::Json;
use axum::extract::Path;
use axum::response::IntoResponse as _;
use axum::response::Response;
use ironseat_core::Refusal;
use ironseat_core::anatomy::build_sheet::EXAMPLE;
use ironseat_core::reckon::{entries, error_schema};
use serde_json::{Map, Value, json};

/// `POST /api/reckon/NAME`.
pub async fn reckon(Path(name): Path<String>, body: String) -> Response {
    answer(name, body).await.map_or_else(Unanswered::response, |a| Json(a).into_response())
}

/// `POST /api/derive`: a build sheet as text in, what follows from it out.
pub async fn derive(body: String) -> Response {
    let fault =
        Refusal::new("sheet", "nothing could be derived from this: the fault is ours, please report the build sheet");
    let derived = in_turn(fault, move || {
        let a = ironseat_core::anatomy::build_sheet::parse(&body)?;
        Ok(ironseat_core::anatomy::derive(&a)?.json(ironseat_core::quantity::Units::Metric))
    });
    derived.await.map_or_else(Unanswered::response, |a| Json(a).into_response())
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
