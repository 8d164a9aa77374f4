//! Errors become a page or a fragment that a person can act on, with a reference that is also in the log.

use crate::state::App;
use askama::Template;
use axum::extract::{Request, State};
use axum::http::{HeaderValue, StatusCode, header};
use axum::middleware::Next;
use axum::response::{Html, IntoResponse, Response};
use ironseat_core::Refusal;
use ironseat_store::StoreError;

/// What went wrong with a request.
#[derive(Debug)]
pub enum WebError {
    /// Not signed in; where the person wanted to go.
    SignedOut,
    /// Signed in, but may not.
    NotAllowed(&'static str),
    /// A form without its token, or from another origin.
    Forged,
    /// Anything the store says.
    Store(StoreError),
    /// A template that failed.
    Template(askama::Error),
    /// A form that cannot be read at all.
    Unreadable,
    /// More than a form or a picture may hold.
    TooLarge,
    /// Asked under a host name that is none of ours.
    Elsewhere,
}

impl From<StoreError> for WebError {
    fn from(e: StoreError) -> Self {
        Self::Store(e)
    }
}
impl From<askama::Error> for WebError {
    fn from(e: askama::Error) -> Self {
        Self::Template(e)
    }
}

/// What may be sent at most.
const TOO_MUCH: &str = "That is more than is taken at once: a build sheet has at most 1 MB, a table 2 MB, a picture 12 MB, the archive of a rebuild 48 MB. Nothing of it was kept: send less, or in parts.";

/// Result of a handler.
pub type WebResult<T = Response> = Result<T, WebError>;

#[derive(Template)]
#[template(path = "ground/error.html")]
struct ErrorPage<'a> {
    title: &'a str,
    sentence: &'a str,
    reference: &'a str,
    retry: bool,
}

const MARK: &str = "x-iron-seat";

fn page(status: StatusCode, title: &str, sentence: &str) -> Response {
    let reference = crate::state::figures::reference();
    if status.is_server_error() {
        tracing::error!(reference, %status, sentence, "request failed");
    }
    let body = ErrorPage { title, sentence, reference: &reference, retry: status == StatusCode::SERVICE_UNAVAILABLE }
        .render()
        .unwrap_or_else(|_| sentence.to_owned());
    let mut r = (status, Html(body)).into_response();
    r.headers_mut().insert(MARK, HeaderValue::from_static("said"));
    r
}

impl IntoResponse for WebError {
    fn into_response(self) -> Response {
        match self {
            Self::SignedOut => {
                let mut r = page(
                    StatusCode::UNAUTHORIZED,
                    "You are signed out",
                    "Sign in again. What you typed and had not sent is still on the page you left.",
                );
                r.headers_mut().insert(MARK, HeaderValue::from_static("signed-out"));
                r
            }
            Self::NotAllowed(what) => page(StatusCode::FORBIDDEN, "Not with this sign-in", what),
            Self::Forged => page(
                StatusCode::FORBIDDEN,
                "This form is not from here",
                "The form came from another page or an old sign-in. Open the page again and send it from there.",
            ),
            Self::Unreadable => page(
                StatusCode::BAD_REQUEST,
                "The form could not be read",
                "Open the page again and send it from there.",
            ),
            Self::Elsewhere => page(
                StatusCode::MISDIRECTED_REQUEST,
                "Not under this name",
                "The program does not go by this host name. Whoever looks after it names it with --host when it is started.",
            ),
            Self::TooLarge => page(StatusCode::PAYLOAD_TOO_LARGE, "Too much at once", TOO_MUCH),
            Self::Store(StoreError::NotFound) => page(
                StatusCode::NOT_FOUND,
                "Nothing is kept under this address",
                "The rebuild, seat or sheet is not there. Go back to the Floor.",
            ),
            Self::Store(StoreError::Conflict(s) | StoreError::Held(s)) => page(StatusCode::CONFLICT, "Not now", &s),
            Self::Store(StoreError::TooMany(s)) => page(StatusCode::TOO_MANY_REQUESTS, "Wait a little", &s),
            Self::Store(StoreError::Refused(e)) => page(
                StatusCode::UNPROCESSABLE_ENTITY,
                "Something is not as expected",
                &format!("{}: {}", e.field, e.message),
            ),
            Self::Store(e @ StoreError::Full) => {
                tracing::error!(cause = %e, "disk full");
                page(
                    StatusCode::INSUFFICIENT_STORAGE,
                    "The record book is full",
                    "The disk that the records are written to has no room left: tell whoever looks after the program. Readings that you typed wait in the page and are sent again by themselves; nothing that was acknowledged is lost.",
                )
            }
            Self::Store(StoreError::Unavailable(e)) => {
                tracing::warn!(cause = e, "database unavailable");
                unavailable()
            }
            Self::Store(other) => {
                tracing::error!(error = %other, "store");
                page(
                    StatusCode::INTERNAL_SERVER_ERROR,
                    "The program stumbled",
                    "Nothing that was acknowledged is lost. Try again; if it stays, tell whoever looks after the program the reference below.",
                )
            }
            Self::Template(e) => {
                tracing::error!(error = %e, "template");
                page(
                    StatusCode::INTERNAL_SERVER_ERROR,
                    "The program stumbled",
                    "Nothing that was acknowledged is lost. Try again; if it stays, tell whoever looks after the program the reference below.",
                )
            }
        }
    }
}

/// What a store refused, for a page that is shown again: status, field and sentence. What belongs to no field stands at
/// `general`.
///
/// # Errors
/// Anything that is no refusal.
pub fn refused(e: StoreError, general: &str) -> WebResult<(StatusCode, String, String)> {
    match e {
        StoreError::Refused(ironseat_core::Refusal { field, message, .. }) => {
            Ok((StatusCode::UNPROCESSABLE_ENTITY, field, message))
        }
        StoreError::Held(s) | StoreError::Conflict(s) => Ok((StatusCode::CONFLICT, general.to_owned(), s)),
        StoreError::TooMany(s) => Ok((StatusCode::TOO_MANY_REQUESTS, "pin".to_owned(), s)),
        other => Err(other.into()),
    }
}

fn unavailable() -> Response {
    page(
        StatusCode::SERVICE_UNAVAILABLE,
        "The record book does not answer",
        "The database cannot be reached just now. Readings that you typed wait in the page and are sent again by themselves. This page tries again every few seconds.",
    )
}

/// What the framework refused before anything of ours was asked, for programs.
fn bare(status: StatusCode) -> Refusal {
    match status {
        StatusCode::BAD_REQUEST => Refusal::new("id", "expected an id as an address of this program has it"),
        StatusCode::NOT_FOUND => Refusal::new("address", "nothing is kept under this address"),
        StatusCode::METHOD_NOT_ALLOWED => Refusal::new("method", "this address is not asked in this way"),
        StatusCode::PAYLOAD_TOO_LARGE => Refusal::new("body", TOO_MUCH),
        s if s.is_server_error() => Refusal::new("state", "the fault is ours, please report it"),
        _ => Refusal::new("body", "that could not be read"),
    }
}

/// Addresses for machines that watch: their answers stay plain.
const WATCHED: [&str; 4] = ["/healthz", "/readyz", "/livez", "/metrics"];

/// Outermost look at every answer: bare refusals of the framework become pages, and people who are signed out are led
/// to the sign-in with a way back.
pub async fn finish(State(app): State<App>, request: Request, next: Next) -> Response {
    let wanted = request.uri().path_and_query().map_or("/".to_owned(), ToString::to_string);
    let is_get = request.method() == axum::http::Method::GET;
    let fragment = request.headers().contains_key("hx-request");
    let program = request.uri().path().starts_with("/api/");
    let api = request.uri().path().starts_with("/assets/") || WATCHED.contains(&request.uri().path());
    let response = next.run(request).await;
    let mark = response.headers().get(MARK).cloned();
    if mark.as_ref().is_some_and(|m| m == "signed-out") {
        let to = format!("/sign-in?next={}", crate::ground::address::encode(&wanted));
        if fragment {
            return (StatusCode::UNAUTHORIZED, [("HX-Redirect", to)]).into_response();
        }
        if is_get {
            return axum::response::Redirect::to(&to).into_response();
        }
        return response;
    }
    let status = response.status();
    let plain = response.headers().get(header::CONTENT_TYPE).is_none_or(|t| t.as_bytes().starts_with(b"text/plain"));
    if mark.is_some() || !plain || !(status.is_client_error() || status.is_server_error()) {
        return response;
    }
    if program {
        return (status, axum::Json(serde_json::json!({ "error": bare(status) }))).into_response();
    }
    if api {
        return response;
    }
    match status {
        StatusCode::NOT_FOUND => {
            page(status, "No such page", "Nothing is kept under this address. Go back to the Floor.")
        }
        StatusCode::PAYLOAD_TOO_LARGE => page(status, "Too much at once", TOO_MUCH),
        StatusCode::METHOD_NOT_ALLOWED => {
            page(status, "Not this way", "This address only takes a form that was sent from its page.")
        }
        // Not asked again where it was just asked in vain: whoever waits is told at once.
        s if s.is_server_error() && app.store.was_quiet() => {
            tracing::warn!(status = %s, "database unavailable");
            unavailable()
        }
        s if s.is_server_error() => match app.store.ping().await {
            Err(_) => unavailable(),
            Ok(()) => page(
                s,
                "The program stumbled",
                "Nothing that was acknowledged is lost. Try again; if it stays, tell whoever looks after the program the reference below.",
            ),
        },
        s => page(s, "That could not be read", "Open the page again and send it from there."),
    }
}
