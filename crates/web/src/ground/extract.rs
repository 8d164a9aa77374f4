//! Authorisation is an argument: a handler that wants a `Worker` cannot be reached by a viewer. Forms carry their
//! token.

use crate::ground::auth::AuthSession;
use crate::ground::error::WebError;
use crate::state::App;
use axum::body::Bytes;
use axum::extract::{ConnectInfo, FromRequest, FromRequestParts, Request, State};
use axum::http::request::Parts;
use axum::http::{HeaderMap, Uri, header};
use axum::middleware::Next;
use axum::response::{IntoResponse as _, Response};
use axum_login::tower_sessions::Session;
use ironseat_store::read::customers;
use ironseat_store::rows::person::{Person, Role};
use ironseat_store::{RebuildId, Store, StoreError};
use serde::de::DeserializeOwned;
use std::net::SocketAddr;
use subtle::ConstantTimeEq as _;

/// Key of the form token in the session.
pub const CSRF: &str = "csrf";
/// When the session began, and when it was last seen, in seconds since 1970.
pub const BORN: &str = "born";
const SEEN: &str = "seen";

/// So long a session lasts at most, however much it is used.
const LONGEST: i64 = 7 * 24 * 3600;
/// That it is used is written down so often: each time puts its end off.
const TOUCH: i64 = 600;

/// Where a request comes from, as far as the connection tells.
#[derive(Debug, Clone, Copy)]
pub struct From(pub std::net::IpAddr);

impl<S: Send + Sync> FromRequestParts<S> for From {
    type Rejection = std::convert::Infallible;
    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Self, Self::Rejection> {
        let peer = parts.extensions.get::<ConnectInfo<SocketAddr>>().map(|c| c.0.ip());
        Ok(Self(peer.unwrap_or(std::net::IpAddr::V4(std::net::Ipv4Addr::LOCALHOST))))
    }
}

/// Someone who may read.
#[derive(Debug, Clone)]
pub struct Reader {
    /// Who.
    pub person: Person,
    /// Token that every form of this session carries.
    pub csrf: String,
}

impl<S: Send + Sync> FromRequestParts<S> for Reader {
    type Rejection = WebError;
    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, WebError> {
        let auth = AuthSession::from_request_parts(parts, state).await.map_err(|_| WebError::SignedOut)?;
        let person = auth.user.ok_or(WebError::SignedOut)?.0;
        if !person.works_here() {
            sees(&auth.backend.0, &person, &parts.uri).await?;
        }
        let session = Session::from_request_parts(parts, state).await.map_err(|_| WebError::SignedOut)?;
        let csrf: String = session.get(CSRF).await.map_err(|_| WebError::SignedOut)?.ok_or(WebError::SignedOut)?;
        let lost = |_| WebError::SignedOut;
        let (now, born): (i64, Option<i64>) = (chrono::Utc::now().timestamp(), session.get(BORN).await.map_err(lost)?);
        if born.is_some_and(|b| now - b > LONGEST) {
            session.flush().await.map_err(lost)?;
            return Err(WebError::SignedOut);
        }
        let seen: Option<i64> = session.get(SEEN).await.map_err(lost)?;
        if seen.is_none_or(|s| now - s > TOUCH) {
            session.insert(SEEN, now).await.map_err(lost)?;
        }
        Ok(Self { person, csrf })
    }
}

/// A customer's viewer sees that customer's rebuilds and what is the viewer's own, and nothing else: every other room
/// is closed, and another's rebuild is not there.
async fn sees(store: &Store, person: &Person, uri: &Uri) -> Result<(), WebError> {
    // What "Why" shows of a rebuild is decided where it reads it: an address can be written in many ways.
    const OPEN: [&str; 8] = ["/", "/clocks", "/events", "/me", "/me/units", "/me/theme", "/sign-out", "/why"];
    let path = uri.path();
    let rebuild = match path.strip_prefix("/rebuilds/") {
        Some(rest) => rest.split('/').next(),
        None if OPEN.contains(&path) => return Ok(()),
        None => {
            return Err(WebError::NotAllowed(
                "This room is for the people of the shop. Your rebuilds stand on the Floor.",
            ));
        }
    };
    let nothing = || WebError::Store(StoreError::NotFound);
    let id: RebuildId = rebuild.and_then(|r| r.parse().ok()).ok_or_else(nothing)?;
    let who = person.clone();
    match store.run(move |c| customers::may_see(c, &who, id)).await {
        Ok(true) => Ok(()),
        Ok(false) => Err(nothing()),
        Err(e) => Err(e.into()),
    }
}

/// Someone who may measure and work.
#[derive(Debug, Clone)]
pub struct Worker(pub Reader);

impl<S: Send + Sync> FromRequestParts<S> for Worker {
    type Rejection = WebError;
    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, WebError> {
        let reader = Reader::from_request_parts(parts, state).await?;
        if reader.person.role == Role::Viewer {
            return Err(WebError::NotAllowed(
                "You can look at everything here, but measuring and working is for the bench.",
            ));
        }
        Ok(Self(reader))
    }
}

/// Someone who may change rules and start rebuilds.
#[derive(Debug, Clone)]
pub struct Lead(pub Reader);

impl<S: Send + Sync> FromRequestParts<S> for Lead {
    type Rejection = WebError;
    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, WebError> {
        let reader = Reader::from_request_parts(parts, state).await?;
        if reader.person.role < Role::Lead {
            return Err(WebError::NotAllowed("Only a lead does this. Ask one to sign in."));
        }
        Ok(Self(reader))
    }
}

/// A form body whose token was checked against the session.
#[derive(Debug)]
pub struct Form<T>(pub T);

impl<T: DeserializeOwned> FromRequest<App> for Form<T> {
    type Rejection = WebError;
    async fn from_request(request: Request, app: &App) -> Result<Self, WebError> {
        let (mut parts, body) = request.into_parts();
        let session = Session::from_request_parts(&mut parts, app).await.map_err(|_| WebError::SignedOut)?;
        let token: Option<String> = session.get(CSRF).await.map_err(|_| WebError::SignedOut)?;
        let given = parts.headers.get("x-csrf-token").and_then(|v| v.to_str().ok()).map(str::to_owned);
        let bytes =
            Bytes::from_request(Request::from_parts(parts, body), app).await.map_err(|_| WebError::Unreadable)?;
        let pairs: Vec<(String, String)> = serde_urlencoded::from_bytes(&bytes).map_err(|_| WebError::Unreadable)?;
        let given = given.or_else(|| pairs.iter().find(|(k, _)| k == "_csrf").map(|(_, v)| v.clone()));
        if !same_token(token.as_deref(), given.as_deref()) {
            return Err(WebError::Forged);
        }
        serde_urlencoded::from_bytes(&bytes).map(Form).map_err(|_| WebError::Unreadable)
    }
}

/// A form with a file, as `multipart/form-data`. Its token was checked before the file was read.
#[derive(Debug, Default)]
pub struct Upload {
    /// The fields of the form.
    pub fields: std::collections::BTreeMap<String, String>,
    /// The file; empty when none was chosen.
    pub file: Bytes,
    /// Its name.
    pub name: String,
}

impl FromRequest<App> for Upload {
    type Rejection = WebError;
    async fn from_request(request: Request, app: &App) -> Result<Self, WebError> {
        let (mut parts, body) = request.into_parts();
        let session = Session::from_request_parts(&mut parts, app).await.map_err(|_| WebError::SignedOut)?;
        let token: Option<String> = session.get(CSRF).await.map_err(|_| WebError::SignedOut)?;
        let request = Request::from_parts(parts, body);
        let mut form = axum::extract::Multipart::from_request(request, app).await.map_err(|_| WebError::Unreadable)?;
        let mut out = Self::default();
        let too_much = |e: axum::extract::multipart::MultipartError| {
            if e.status() == axum::http::StatusCode::PAYLOAD_TOO_LARGE {
                WebError::TooLarge
            } else {
                WebError::Unreadable
            }
        };
        while let Some(field) = form.next_field().await.map_err(too_much)? {
            let name = field.name().unwrap_or("").to_owned();
            if field.file_name().is_some() {
                // Fields stand before the file: nothing is read for a form that is not from here.
                if !same_token(token.as_deref(), out.fields.get("_csrf").map(String::as_str)) {
                    return Err(WebError::Forged);
                }
                field.file_name().unwrap_or_default().clone_into(&mut out.name);
                out.file = field.bytes().await.map_err(too_much)?;
            } else {
                // Rows may be pasted instead of sent as a file.
                let most = if name == "pasted" { 200_000 } else { 4000 };
                let text = field.text().await.map_err(too_much)?;
                if text.len() > most || out.fields.len() > 20 {
                    return Err(WebError::Unreadable);
                }
                out.fields.insert(name, text);
            }
        }
        if same_token(token.as_deref(), out.fields.get("_csrf").map(String::as_str)) {
            Ok(out)
        } else {
            Err(WebError::Forged)
        }
    }
}

/// Compared in constant time.
fn same_token(kept: Option<&str>, given: Option<&str>) -> bool {
    matches!((kept, given), (Some(t), Some(g)) if t.as_bytes().ct_eq(g.as_bytes()).into())
}

/// Was this asked for by htmx? Then a fragment is enough, except where somebody goes back to a page.
#[must_use]
pub fn wants_fragment(headers: &HeaderMap) -> bool {
    headers.contains_key("hx-request") && !headers.contains_key("hx-history-restore-request")
}

/// Answers only under names that this program goes by. A page of another site whose name is pointed at this machine is
/// told so before anything is read.
pub async fn known_host(State(app): State<App>, request: Request, next: Next) -> Response {
    let named = request.headers().get(header::HOST).and_then(|v| v.to_str().ok()).or_else(|| request.uri().host());
    if named.is_some_and(|h| !app.goes_by(h)) {
        tracing::warn!(host = named.unwrap_or_default().chars().take(80).collect::<String>(), "unknown host name");
        return WebError::Elsewhere.into_response();
    }
    next.run(request).await
}
