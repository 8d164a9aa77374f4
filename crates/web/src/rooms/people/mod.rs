//! People: who is there, put in, renamed, given another role or a new code, put away; and what of their own a person
//! changes.

use crate::ground::auth::{AuthSession, User};
use crate::ground::error::{WebResult, refused};
use crate::ground::extract::{Form, From, Lead, Reader};
use crate::ground::view::{Shell, moment, page, page_as};
use crate::parts::entries::EntryRow;
use crate::parts::session::begin;
use crate::state::App;
use askama::Template;
use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse as _, Redirect, Response};
use axum_login::tower_sessions::Session;
use ironseat_core::Refusal;
use ironseat_store::chain::digests::Chain;
use ironseat_store::read::rebuilds::live_clocks;
use ironseat_store::read::roster::Listed;
use ironseat_store::read::{self, customers};
use ironseat_store::rows::person::Role;
use ironseat_store::write::roster::{First, Own};
use ironseat_store::{CustomerId, PersonId, StoreError, chain, write};
use serde::Deserialize;

struct PersonView {
    id: PersonId,
    handle: String,
    name: String,
    role: &'static str,
    /// The customer that a viewer belongs to.
    of: String,
    /// How it stands with their sign-in.
    note: String,
    away: bool,
    me: bool,
}

/// A code that was just given out: shown once.
struct Given {
    name: String,
    handle: String,
    code: String,
}

#[derive(Template)]
#[template(path = "rooms/people/people.html")]
struct PeoplePage {
    shell: Shell,
    people: Vec<PersonView>,
    customers: Vec<(CustomerId, String)>,
    entries: Vec<EntryRow>,
    /// The record of people is whole; else what is wrong with it.
    broken: String,
    given: Option<Given>,
    f: PeopleForm,
    field: String,
    error: String,
}

/// Anything that a lead does to the list.
#[derive(Deserialize, Default, Clone)]
#[serde(default)]
pub struct PeopleForm {
    act: String,
    person: String,
    handle: String,
    name: String,
    role: String,
    customer: String,
}

async fn build(app: &App, reader: &Reader) -> WebResult<PeoplePage> {
    let (list, entries, verdict, clocks, customers) = app
        .store
        .run(|c| {
            let entries = chain::shop::entries(c, Chain::People)?;
            Ok((
                read::roster::list(c)?,
                entries,
                chain::shop::verify(c, Chain::People)?,
                live_clocks(c)?,
                customers::list(c)?,
            ))
        })
        .await?;
    let note = |p: &Listed| match (p.put_away_at, p.code_until, p.signs_in()) {
        (Some(at), ..) => format!("put away {}", moment(at, reader.person.zone)),
        (None, Some(until), _) if until > ironseat_store::now() => {
            format!("has a code until {}", moment(until, reader.person.zone))
        }
        (None, Some(_), false) => "the code has run out: give out a new one".into(),
        (None, _, false) => "cannot sign in: give out a code".into(),
        (None, _, true) if !p.signs() && p.role() > Role::Viewer => "signs in, has no PIN".into(),
        (None, _, true) => String::new(),
    };
    Ok(PeoplePage {
        shell: Shell::new(reader, &clocks, "people", "/people".into(), String::new()),
        customers: customers.iter().map(|x| (x.id, x.name.clone())).collect(),
        people: list
            .iter()
            .map(|p| PersonView {
                id: p.id,
                handle: p.handle.clone(),
                name: p.name.clone(),
                role: p.role().key(),
                of: customers.iter().find(|x| Some(x.id) == p.customer).map_or(String::new(), |x| x.name.clone()),
                note: note(p),
                away: p.put_away_at.is_some(),
                me: p.id == reader.person.id,
            })
            .collect(),
        entries: EntryRow::all(entries, reader.person.zone).into_iter().take(12).collect(),
        broken: if verdict.whole() { String::new() } else { verdict.words() },
        given: None,
        f: PeopleForm::default(),
        field: String::new(),
        error: String::new(),
    })
}

/// Who is there.
pub async fn show(State(app): State<App>, Lead(reader): Lead) -> WebResult {
    page(&build(&app, &reader).await?)
}

/// Changes the list.
pub async fn change(State(app): State<App>, Lead(reader): Lead, Form(f): Form<PeopleForm>) -> WebResult<Response> {
    let (who, g) = (reader.person.clone(), f.clone());
    let done = app
        .store
        .run(move |c| {
            if g.act == "invite" {
                return write::roster::invite(
                    c,
                    Some(&who),
                    &g.handle,
                    &g.name,
                    g.role.parse()?,
                    g.customer.parse().ok(),
                )
                .map(Some);
            }
            let id: PersonId = g.person.parse().map_err(|_| StoreError::NotFound)?;
            match g.act.as_str() {
                "rename" => write::roster::rename(c, &who, id, &g.name)?,
                "role" => write::roster::set_role(c, Some(&who), id, g.role.parse()?, g.customer.parse().ok())?,
                "away" => write::roster::put_away(c, &who, id)?,
                "back" => write::roster::bring_back(c, &who, id)?,
                "reset" => return write::roster::reset(c, Some(&who), id).map(Some),
                _ => return Err(Refusal::new("act", "this is not known here").into()),
            }
            Ok(None)
        })
        .await;
    match done {
        Ok(None) => Ok(Redirect::to("/people").into_response()),
        Ok(Some(code)) => {
            // The code is shown once, on the answer itself: it stands in no address and in no log.
            let mut p = build(&app, &reader).await?;
            let of =
                p.people.iter().find(|x| x.id.to_string() == f.person || x.handle == f.handle.trim().to_lowercase());
            p.given = of.map(|x| Given { name: x.name.clone(), handle: x.handle.clone(), code });
            page(&p)
        }
        Err(e) => {
            let (status, field, error) = refused(e, "general")?;
            let mut p = build(&app, &reader).await?;
            (p.f, p.field, p.error) = (f, field, error);
            page_as(status, &p)
        }
    }
}

#[derive(Template, Default)]
#[template(path = "rooms/people/first.html")]
struct FirstPage {
    handle: String,
    field: String,
    error: String,
}

/// Setting password and PIN with a code.
pub async fn first() -> WebResult {
    page(&FirstPage::default())
}

/// What is typed there.
#[derive(Deserialize, Default)]
#[serde(default)]
pub struct FirstForm {
    handle: String,
    code: String,
    password: String,
    pin: String,
}

/// Sets them, and signs in.
pub async fn set_first(
    State(app): State<App>,
    mut auth: AuthSession,
    session: Session,
    From(from): From,
    axum::Form(f): axum::Form<FirstForm>,
) -> WebResult<Response> {
    let pin = f.pin.trim().to_owned();
    let first =
        First { handle: f.handle.clone(), code: f.code, password: f.password, pin: (!pin.is_empty()).then_some(pin) };
    match app.store.first_sign_in(first, from.to_string()).await {
        Ok(person) => {
            begin(&mut auth, &session, &User(person)).await?;
            Ok(Redirect::to("/").into_response())
        }
        Err(e) => {
            let (status, field, error) = refused(e, "general")?;
            let field = if status == StatusCode::TOO_MANY_REQUESTS { "code".into() } else { field };
            page_as(status, &FirstPage { handle: f.handle.chars().take(40).collect(), field, error })
        }
    }
}

#[derive(Template)]
#[template(path = "rooms/people/me.html")]
struct MePage {
    shell: Shell,
    handle: String,
    field: String,
    error: String,
    /// Which of the two was typed.
    which: String,
    said: &'static str,
}

fn me(reader: &Reader, clocks: &[ironseat_store::rows::rebuild::Clock]) -> MePage {
    MePage {
        shell: Shell::new(reader, clocks, "me", "/me".into(), String::new()),
        handle: reader.person.handle.clone(),
        field: String::new(),
        error: String::new(),
        which: String::new(),
        said: "",
    }
}

/// A person's own page.
pub async fn own(State(app): State<App>, reader: Reader, Query(q): Query<Changed>) -> WebResult {
    let said = match q.changed.as_str() {
        "" => "",
        "pin" => "Your PIN is changed.",
        _ => "Your password is changed. Whoever else was signed in under your name is not any more.",
    };
    page(&MePage { said, ..me(&reader, &app.store.run(live_clocks).await?) })
}

/// What was changed just now.
#[derive(Deserialize, Default)]
#[serde(default)]
pub struct Changed {
    changed: String,
}

/// The password of now, and what is to be instead.
#[derive(Deserialize, Default)]
#[serde(default)]
pub struct OwnForm {
    act: String,
    old: String,
    fresh: String,
    again: String,
}

/// Changes password or PIN. Every other session of the person ends with the password.
pub async fn change_own(
    State(app): State<App>,
    mut auth: AuthSession,
    session: Session,
    reader: Reader,
    From(from): From,
    Form(f): Form<OwnForm>,
) -> WebResult<Response> {
    let own = if f.act == "pin" { Own::Pin(f.fresh.trim().to_owned()) } else { Own::Password(f.fresh.clone()) };
    let done = if f.fresh == f.again {
        app.store.change_own(reader.person.clone(), f.old, own, from.to_string()).await
    } else {
        Err(Refusal::new("again", "expected the same twice: the two differ").into())
    };
    let clocks = app.store.run(live_clocks).await?;
    match done {
        Ok(person) => {
            begin(&mut auth, &session, &User(person)).await?;
            Ok(Redirect::to(if f.act == "pin" { "/me?changed=pin" } else { "/me?changed=password" }).into_response())
        }
        Err(e) => {
            let (status, field, error) = refused(e, "general")?;
            let field = if status == StatusCode::TOO_MANY_REQUESTS { "old".into() } else { field };
            page_as(status, &MePage { field, error, which: f.act, ..me(&reader, &clocks) })
        }
    }
}
