//! Keys for other programs: made by whoever they belong to, shown once, put away by their owner or a lead.

use crate::ground::error::{WebResult, refused};
use crate::ground::extract::{Form, Reader};
use crate::ground::view::{Shell, moment, page, page_as};
use crate::state::App;
use askama::Template;
use axum::extract::State;
use axum::response::{IntoResponse as _, Redirect, Response};
use ironseat_core::Refusal;
use ironseat_store::read::rebuilds::live_clocks;
use ironseat_store::rows::person::Role;
use ironseat_store::rows::token::{Scope, Token};
use ironseat_store::{StoreError, TokenId, read, write};

struct KeyRow {
    id: TokenId,
    name: String,
    /// Somebody else's.
    person: String,
    scopes: String,
    made: String,
    used: String,
    away: String,
}

struct ScopeRow {
    key: &'static str,
    opens: &'static str,
    chosen: bool,
}

#[derive(Template)]
#[template(path = "rooms/keys/keys.html")]
struct KeysPage {
    shell: Shell,
    keys: Vec<KeyRow>,
    scopes: Vec<ScopeRow>,
    /// Of the key that is made next.
    next: TokenId,
    name: String,
    /// A key that was just made: shown once.
    secret: String,
    field: String,
    error: String,
}

async fn build(app: &App, reader: &Reader) -> WebResult<KeysPage> {
    let lead = reader.person.role == Role::Lead;
    let (me, zone) = (reader.person.id, reader.person.zone);
    let (clocks, list) =
        app.store.run(move |c| Ok((live_clocks(c)?, read::tokens::list(c, (!lead).then_some(me))?))).await?;
    let row = |t: &Token| KeyRow {
        id: t.id,
        name: t.name.clone(),
        person: if t.person_id == me { String::new() } else { t.person.clone() },
        scopes: t.scopes.replace(' ', ", "),
        made: moment(t.made_at, zone),
        used: t.used_at.map_or_else(|| "never".into(), |at| moment(at, zone)),
        away: t.put_away_at.map_or_else(String::new, |at| moment(at, zone)),
    };
    let mut keys: Vec<KeyRow> = list.iter().map(row).collect();
    keys.sort_by_key(|k| !k.away.is_empty());
    Ok(KeysPage {
        shell: Shell::new(reader, &clocks, "me", "/me/keys".into(), String::new()),
        keys,
        scopes: Scope::ALL
            .iter()
            .filter(|s| lead || s.0 != Scope::TakeIn)
            .map(|(s, key, opens)| ScopeRow { key, opens, chosen: *s == Scope::Read })
            .collect(),
        next: TokenId::new(),
        name: String::new(),
        secret: String::new(),
        field: String::new(),
        error: String::new(),
    })
}

/// One's keys; for a lead those of everybody.
pub async fn show(State(app): State<App>, reader: Reader) -> WebResult {
    page(&build(&app, &reader).await?)
}

/// Makes a key or puts one away.
pub async fn change(
    State(app): State<App>,
    reader: Reader,
    Form(pairs): Form<Vec<(String, String)>>,
) -> WebResult<Response> {
    let of = |k: &str| pairs.iter().find(|p| p.0 == k).map_or(String::new(), |p| p.1.clone());
    let (act, name, id) = (of("act"), of("token_name"), of("token"));
    let scopes: Vec<String> = pairs.iter().filter(|p| p.0 == "scopes").map(|p| p.1.clone()).collect();
    let (who, asked) = (reader.person.clone(), (name.clone(), scopes.clone()));
    let done = app
        .store
        .run(move |c| match act.as_str() {
            "make" => write::tokens::make(c, &who, id.parse().unwrap_or_default(), &asked.0, &asked.1).map(Some),
            "away" => write::tokens::put_away(c, &who, id.parse().map_err(|_| StoreError::NotFound)?).map(|()| None),
            _ => Err(Refusal::new("act", "this is not known here").into()),
        })
        .await;
    match done {
        Ok(None) => Ok(Redirect::to("/me/keys").into_response()),
        // Shown on the answer itself: it stands in no address and in no log.
        Ok(Some(secret)) => page(&KeysPage { secret, name, ..build(&app, &reader).await? }),
        Err(e) => {
            let (status, field, error) = refused(e, "general")?;
            let mut p = build(&app, &reader).await?;
            for s in &mut p.scopes {
                s.chosen = scopes.iter().any(|x| x == s.key);
            }
            page_as(status, &KeysPage { field, error, name, ..p })
        }
    }
}
