//! For whoever watches the program: a reference for each request, in its page, its header and its log lines; whether it
//! lives, whether it is ready; and figures to draw curves from.

use crate::app::App;
use axum::extract::{MatchedPath, Request, State};
use axum::http::{HeaderValue, StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse as _, Response};
use ironseat_store::migrate::{self, Schema};
use metrics_exporter_prometheus::{Matcher, PrometheusBuilder, PrometheusHandle};
use std::sync::OnceLock;
use std::time::Instant;
use tracing::Instrument as _;

tokio::task_local! {
    static REFERENCE: String;
}

/// Header with the reference of a request.
const HEADER: &str = "x-reference";

/// Reference of the request that is answered, to stand on an error page.
#[must_use]
pub fn reference() -> String {
    REFERENCE.try_with(Clone::clone).unwrap_or_else(|_| new_reference())
}

fn new_reference() -> String {
    format!("{:08X}", rand::random::<u32>())
}

/// Upper bounds of the buckets that times are counted in, seconds.
const BUCKETS: [f64; 11] = [0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0];

/// Figures of this process, counted from the first request on.
fn figures() -> Option<&'static PrometheusHandle> {
    static FIGURES: OnceLock<Option<PrometheusHandle>> = OnceLock::new();
    FIGURES
        .get_or_init(|| {
            let counted = PrometheusBuilder::new().set_buckets_for_metric(Matcher::Suffix("_seconds".into()), &BUCKETS);
            counted
                .and_then(PrometheusBuilder::install_recorder)
                .map_err(|e| tracing::warn!(cause = %e, "nothing is counted"))
                .ok()
        })
        .as_ref()
}

/// Puts what was counted into its buckets now and then, so that it does not pile up when nobody collects it.
pub async fn keep_up(mut stop: tokio::sync::watch::Receiver<bool>) {
    loop {
        tokio::select! {
            () = tokio::time::sleep(std::time::Duration::from_secs(10)) => {}
            _ = stop.changed() => return,
        }
        if let Some(f) = figures() {
            f.run_upkeep();
        }
    }
}

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
