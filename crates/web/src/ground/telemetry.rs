//! For whoever watches the program: a reference for each request, in its page, its header and its log lines; whether it
//! lives, whether it is ready; and figures to draw curves from.

use crate::state::App;
use crate::state::figures::{HEADER, REFERENCE, figures, new_reference};
use axum::extract::{MatchedPath, Request, State};
use axum::http::{HeaderValue, StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse as _, Response};
use ironseat_store::db::migrate::{self, Schema};
use metrics_exporter_prometheus::PrometheusHandle;
use std::time::Instant;
use tracing::Instrument as _;

/// Around every request: a span with its reference, and its count and time by route.
pub async fn each(request: Request, next: Next) -> Response {
    figures();
    let reference = new_reference();
    let method = request.method().as_str().to_owned();
    // The pattern of the route, never the address: ids and names do not belong into figures.
    let route = request.extensions().get::<MatchedPath>().map_or("none", MatchedPath::as_str).to_owned();
    let span = tracing::info_span!("request", reference, method, path = request.uri().path());
    let begun = Instant::now();
    let mut response = REFERENCE.scope(reference.clone(), next.run(request)).instrument(span.clone()).await;
    let (status, took) = (response.status().as_u16(), begun.elapsed());
    let _in = span.enter();
    tracing::debug!(status, ms = took.as_secs_f64() * 1000.0, "answered");
    metrics::counter!("ironseat_requests_total", "route" => route.clone(), "method" => method, "status" => status.to_string()).increment(1);
    metrics::histogram!("ironseat_request_seconds", "route" => route).record(took.as_secs_f64());
    if let Ok(v) = HeaderValue::from_str(&reference) {
        response.headers_mut().insert(HEADER, v);
    }
    response
}

/// Does the process answer at all? Nothing else is asked: one that waits for its database must not be killed for it.
pub async fn alive() -> &'static str {
    "alive\n"
}

/// Can it work: does the database answer, with the schema that this program needs?
pub async fn ready(State(app): State<App>) -> Response {
    match app.store.run(migrate::look).await {
        Ok(Schema::Ready) => (StatusCode::OK, "ok\n").into_response(),
        Ok(other) => {
            let why = other.held().unwrap_or_default();
            tracing::warn!(why, "not ready");
            (StatusCode::SERVICE_UNAVAILABLE, format!("{why}\n")).into_response()
        }
        Err(e) => {
            tracing::warn!(cause = %e, "not ready");
            (StatusCode::SERVICE_UNAVAILABLE, "the database does not answer\n").into_response()
        }
    }
}

/// The figures as text, in the form that collectors of metrics read: counts and times by route, connections, listeners.
pub async fn metrics(State(app): State<App>) -> Response {
    let (used, most) = app.store.connections();
    #[allow(clippy::cast_precision_loss)]
    let set = |name: &'static str, n: usize| metrics::gauge!(name).set(n as f64);
    set("ironseat_database_connections_used", used);
    set("ironseat_database_connections_most", most);
    set("ironseat_listeners", app.live.listeners());
    let text = figures().map(PrometheusHandle::render).unwrap_or_default();
    ([(header::CONTENT_TYPE, "text/plain; version=0.0.4; charset=utf-8")], text).into_response()
}
