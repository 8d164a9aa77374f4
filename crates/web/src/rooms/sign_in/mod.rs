//! Signing in and out, the first run, and a person's own settings.

use crate::ground::auth::{AuthSession, Credentials, User};
use crate::ground::error::WebResult;
use crate::ground::extract::{Form, From, Reader};
use crate::ground::view::{page, page_as};
use crate::parts::session::begin;
use crate::state::App;
use askama::Template;
use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse as _, Redirect};
use axum_login::tower_sessions::Session;
use ironseat_core::quantity::Units;
use ironseat_core::quantity::show::capital;
use ironseat_store::read::{self, shop};
use ironseat_store::rows::person::Role;
use ironseat_store::write::people::NewPerson;
use ironseat_store::{DEMO_PASSWORD, DEMO_SIGN_INS, StoreError, write};
use serde::Deserialize;
use subtle::ConstantTimeEq as _;

#[derive(Template, Default)]
#[template(path = "rooms/sign_in/sign_in.html")]
struct SignInPage {
    shop: String,
    next: String,
    handle: String,
    error: String,
    demo: Vec<(&'static str, &'static str)>,
    demo_password: &'static str,
    /// Nobody is there yet: set the shop up.
    first: bool,
    field: String,
    shop_typed: String,
    name_typed: String,
    code: String,
}

/// Where to go after signing in: a path of ours, never another site.
fn safe(next: &str) -> &str {
    // Browsers leave tabs and line ends out and read a backslash as a slash: only plain printing characters make a
    // path.
    let plain = next.bytes().all(|b| b.is_ascii_graphic() && b != b'\\');
    if plain && next.starts_with('/') && !next.starts_with("//") && !next.starts_with("/sign") { next } else { "/" }
}

#[derive(Deserialize)]
pub struct Next {
    #[serde(default)]
    next: String,
}

async fn blank(app: &App, next: &str) -> WebResult<SignInPage> {
    let (settings, anyone) = app.store.run(|c| Ok((shop::settings(c)?, read::people::any(c)?))).await?;
    let demo = settings.as_ref().is_some_and(|s| s.demo);
    Ok(SignInPage {
        shop: settings.map_or(String::new(), |s| s.name),
        next: safe(next).to_owned(),
        demo: if demo { DEMO_SIGN_INS.iter().map(|(h, r, _)| (*h, *r)).collect() } else { Vec::new() },
        demo_password: DEMO_PASSWORD,
        first: !anyone,
        ..SignInPage::default()
    })
}

/// The sign-in page, or the first run on an empty database.
pub async fn show(State(app): State<App>, auth: AuthSession, Query(q): Query<Next>) -> WebResult {
    if auth.user.is_some() {
        return Ok(Redirect::to(safe(&q.next)).into_response());
    }
    page(&blank(&app, &q.next).await?)
}

#[derive(Deserialize)]
pub struct SignIn {
    #[serde(default)]
    handle: String,
    #[serde(default)]
    password: String,
    #[serde(default)]
    next: String,
}

/// Signs in. Same-origin is checked before; a session has no token yet.
pub async fn sign_in(
    State(app): State<App>,
    mut auth: AuthSession,
    session: Session,
    From(from): From,
    axum::Form(f): axum::Form<SignIn>,
) -> WebResult {
    let creds = Credentials { handle: f.handle.clone(), password: f.password, from: from.to_string() };
    let (status, error) = match auth.authenticate(creds).await {
        Ok(Some(user)) => {
            begin(&mut auth, &session, &user).await?;
            return Ok(Redirect::to(safe(&f.next)).into_response());
        }
        Ok(None) => {
            tracing::warn!(handle = shown(&f.handle), %from, "sign-in refused");
            (
                StatusCode::UNPROCESSABLE_ENTITY,
                "Name and password do not go together. Check both and try again.".to_owned(),
            )
        }
        Err(axum_login::Error::Backend(StoreError::TooMany(s))) => {
            tracing::warn!(handle = shown(&f.handle), %from, "sign-in locked: too many wrong tries");
            (StatusCode::TOO_MANY_REQUESTS, capital(&s) + ".")
        }
        Err(axum_login::Error::Backend(e)) => return Err(e.into()),
        Err(e) => return Err(StoreError::Unavailable(e.to_string()).into()),
    };
    let mut p = blank(&app, &f.next).await?;
    p.handle = f.handle.chars().take(40).collect();
    p.error = error;
    page_as(status, &p)
}

/// A sign-in name as it may stand in a log.
fn shown(handle: &str) -> String {
    handle.chars().filter(char::is_ascii_alphanumeric).take(40).collect()
}

#[derive(Deserialize)]
pub struct Nothing {}

/// Signs out.
pub async fn sign_out(mut auth: AuthSession, reader: Reader, _: Form<Nothing>) -> WebResult {
    tracing::info!(person = reader.person.handle, "signed out");
    auth.logout().await.map_err(|e| StoreError::Unavailable(e.to_string()))?;
    Ok(Redirect::to("/sign-in").into_response())
}

#[derive(Deserialize)]
pub struct FirstRun {
    shop: String,
    name: String,
    handle: String,
    password: String,
    pin: String,
    #[serde(default)]
    code: String,
}

/// Compared without case, blanks and hyphens, and in constant time.
fn same_code(given: &str, wanted: &str) -> bool {
    let plain =
        |s: &str| s.bytes().filter(u8::is_ascii_alphanumeric).map(|b| b.to_ascii_uppercase()).collect::<Vec<u8>>();
    let (g, w) = (plain(given), plain(wanted));
    !w.is_empty() && g.ct_eq(&w).into()
}

/// Sets up an empty shop with its first lead. Works once.
pub async fn first_run(
    State(app): State<App>,
    mut auth: AuthSession,
    session: Session,
    axum::Form(f): axum::Form<FirstRun>,
) -> WebResult {
    // Whoever cannot read where the program was started does not set the shop up.
    if !same_code(&f.code, &app.config.first_run_code) {
        tracing::warn!("first run with a wrong code");
        let p = SignInPage {
            field: "code".into(),
            error: "Expected the code that the program printed where it was started.".into(),
            shop_typed: f.shop,
            name_typed: f.name,
            handle: f.handle,
            ..blank(&app, "/").await?
        };
        return page_as(StatusCode::UNPROCESSABLE_ENTITY, &p);
    }
    let lead = NewPerson {
        handle: f.handle.trim().to_lowercase(),
        name: f.name.clone(),
        role: Role::Lead,
        password: f.password,
        pin: Some(f.pin.trim().to_owned()),
        units: Units::Metric,
        customer: None,
    };
    let shop_name = f.shop.clone();
    let made = app
        .store
        .run(move |c| {
            let id = ironseat_store::first_run(c, &shop_name, &lead)?;
            read::people::get(c, id)
        })
        .await;
    match made {
        Ok(Some(person)) => {
            begin(&mut auth, &session, &User(person)).await?;
            Ok(Redirect::to("/").into_response())
        }
        Ok(None) => Err(StoreError::NotFound.into()),
        Err(StoreError::Refused(e)) => {
            let p = SignInPage {
                code: f.code,
                field: e.field,
                error: capital(&e.message) + ".",
                shop_typed: f.shop,
                name_typed: f.name,
                handle: f.handle,
                ..blank(&app, "/").await?
            };
            page_as(StatusCode::UNPROCESSABLE_ENTITY, &p)
        }
        Err(e) => Err(e.into()),
    }
}

#[derive(Deserialize)]
pub struct Setting {
    #[serde(default)]
    units: String,
    #[serde(default)]
    theme: String,
    #[serde(default)]
    here: String,
}

/// Flips the units.
pub async fn units(State(app): State<App>, reader: Reader, Form(f): Form<Setting>) -> WebResult {
    let units = if f.units == "inch" { Units::Inch } else { Units::Metric };
    app.store.run(move |c| write::people::set_units(c, reader.person.id, units)).await?;
    Ok(Redirect::to(safe(&f.here)).into_response())
}

/// Chooses the theme.
pub async fn theme(State(app): State<App>, reader: Reader, Form(f): Form<Setting>) -> WebResult {
    app.store.run(move |c| write::people::set_theme(c, reader.person.id, &f.theme)).await?;
    Ok(Redirect::to(safe(&f.here)).into_response())
}
