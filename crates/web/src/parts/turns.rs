//! Reckoning within bounds of time and of how many at once.

use axum::Json;
use axum::http::{StatusCode, header};
use axum::response::IntoResponse as _;
use axum::response::Response;
use ironseat_core::Refusal;
use serde_json::{Value, json};
use std::time::Duration;
use tokio::sync::Semaphore;

/// A plan or a million trials keeps a core busy for seconds: so many at once, the others wait their turn.
pub static AT_ONCE: Semaphore = Semaphore::const_new(2);

/// Whoever waits longer than this for a turn is told so.
pub const TURN: Duration = Duration::from_secs(5);

/// Seconds that an answer may be asked to take here; the command line takes more.
pub const LONGEST: f64 = 5.0;

/// Why there is no answer.
#[derive(Debug)]
pub enum Unanswered {
    /// An input that cannot be worked with.
    Refused(Refusal),
    /// Others are reckoning.
    Busy(Refusal),
    /// Our own fault.
    Fault(Refusal),
}

impl Unanswered {
    pub fn response(self) -> Response {
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
) -> Result<T, Unanswered> {
    let Ok(Ok(_turn)) = tokio::time::timeout(TURN, AT_ONCE.acquire()).await else {
        return Err(Unanswered::Busy(Refusal::new("input", "others are reckoning just now: ask again in a moment")));
    };
    match tokio::task::spawn_blocking(work).await {
        Ok(done) => done.map_err(Unanswered::Refused),
        Err(_) => Err(Unanswered::Fault(fault)),
    }
}

/// Reckons a named computation, within bounds of time and of how many at once.
///
/// # Errors
/// Why there is no answer.
pub async fn answer(name: String, input: String) -> Result<Value, Unanswered> {
    let seconds = serde_json::from_str::<Value>(&input).ok().and_then(|v| v.get("seconds").and_then(Value::as_f64));
    if seconds.is_some_and(|s| s > LONGEST) {
        return Err(Unanswered::Refused(Refusal::new(
            "seconds",
            format!("expected at most {LONGEST} s here: the command line takes as many as are asked for"),
        )));
    }
    let fault = Refusal::new("input", "this could not be reckoned: the fault is ours, please report the input");
    in_turn(fault, move || ironseat_core::reckon::reckon(&name, &input)).await
}
