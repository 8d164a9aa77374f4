//! Anatomies: machine types, each described once; the order, the questions and the steps follow from the drawing.

pub mod form;
mod play;
pub mod set_forms;
mod view;

use crate::ground::error::{WebError, WebResult, refused};
use crate::ground::extract::{Form, Lead, Reader, wants_fragment};
use crate::ground::view::{page, page_as};
use crate::state::App;
use axum::Json;
use axum::extract::{Path, Query, State};
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::{IntoResponse as _, Redirect, Response};
use form::EditForm;
use ironseat_core::Refusal;
use ironseat_core::anatomy::edit::blank;
use ironseat_core::anatomy::{Anatomy, build_sheet};
use ironseat_store::read::drafts::Draft;
use ironseat_store::write::drafts::Change;
use ironseat_store::{DraftId, StoreError, read, write};
use serde::Deserialize;
use view::{DraftPage, KindPage, ListPage};

/// All machine types.
pub async fn list(State(app): State<App>, reader: Reader) -> WebResult {
    page(&ListPage::load(&app, &reader, "", "", String::new()).await?)
}

#[derive(Deserialize)]
pub struct NewForm {
    id: DraftId,
    #[serde(default)]
    name: String,
    #[serde(default)]
    sheet: String,
}

/// Begins a draft from a name, or from a build sheet that was pasted or chosen.
pub async fn begin(State(app): State<App>, Lead(reader): Lead, Form(f): Form<NewForm>) -> WebResult<Response> {
    let who = reader.person.clone();
    let (id, name, sheet) = (f.id, f.name.clone(), f.sheet.clone());
    let made = app
        .store
        .run(move |c| {
            let a = if sheet.trim().is_empty() {
                let key = read::drafts::key_for(c, &name)?;
                blank(&key, name.trim())
            } else {
                build_sheet::read(&sheet)?
            };
            write::drafts::begin(c, &who, id, &a)
        })
        .await;
    match made {
        Ok(()) => Ok(Redirect::to(&format!("/drafts/{id}")).into_response()),
        Err(StoreError::Refused(Refusal { field, message, .. })) => {
            let field = if field == "sheet" || !f.sheet.trim().is_empty() { "sheet" } else { "name" };
            let mut p = ListPage::load(&app, &reader, field, &message, f.sheet).await?;
            p.name = f.name;
            page_as(StatusCode::UNPROCESSABLE_ENTITY, &p)
        }
        Err(e) => Err(e.into()),
    }
}

#[derive(Deserialize, Default)]
pub struct VersionQuery {
    v: Option<i32>,
}

async fn kind(app: &App, key: String, v: Option<i32>) -> WebResult<Anatomy> {
    Ok(app.store.run(move |c| read::drafts::version(c, &key, v)).await?)
}

/// One machine type: drawing, parts, order with reasons, questions, steps.
pub async fn show(
    State(app): State<App>,
    reader: Reader,
    Path(key): Path<String>,
    Query(q): Query<VersionQuery>,
) -> WebResult {
    let a = kind(&app, key, q.v).await?;
    page(&KindPage::build(&app, &reader, &a).await?)
}

/// The build sheet as text.
pub async fn sheet(
    State(app): State<App>,
    _: Reader,
    Path(key): Path<String>,
    Query(q): Query<VersionQuery>,
) -> WebResult {
    let a = kind(&app, key, q.v).await?;
    let name = format!("attachment; filename=\"{}-{}.toml\"", a.key, a.version);
    Ok((
        [(header::CONTENT_TYPE, "application/toml".to_owned()), (header::CONTENT_DISPOSITION, name)],
        build_sheet::write(&a),
    )
        .into_response())
}

/// The procedure as a strip of numbered pictures, to print.
pub async fn strip(
    State(app): State<App>,
    reader: Reader,
    Path(key): Path<String>,
    Query(q): Query<VersionQuery>,
) -> WebResult {
    let a = kind(&app, key, q.v).await?;
    page(&play::StripPage::build(
        view::shell(&app, &reader, format!("/anatomies/{}/strip", a.key)).await?,
        &a,
        reader.person.units,
    )?)
}

#[derive(Deserialize)]
pub struct TriedQuery {
    v: Option<i32>,
    act: usize,
    at: usize,
}

/// What speaks against doing an act at another place of the order.
pub async fn tried(
    State(app): State<App>,
    reader: Reader,
    Path(key): Path<String>,
    Query(q): Query<TriedQuery>,
) -> WebResult {
    let a = kind(&app, key, q.v).await?;
    Ok(Json(play::tried(&a, q.act, q.at, reader.person.units)?).into_response())
}

/// The drawing alone.
pub async fn section(
    State(app): State<App>,
    _: Reader,
    Path(key): Path<String>,
    Query(q): Query<VersionQuery>,
) -> WebResult {
    let a = kind(&app, key, q.v).await?;
    Ok(crate::ground::view::svg_file(view::standalone(&a)))
}

#[derive(Deserialize)]
pub struct IdForm {
    id: DraftId,
}

/// Begins a draft of the next version.
pub async fn edit(
    State(app): State<App>,
    Lead(reader): Lead,
    Path(key): Path<String>,
    Form(f): Form<IdForm>,
) -> WebResult<Response> {
    let a = kind(&app, key, None).await?;
    let (who, id) = (reader.person, f.id);
    app.store.run(move |c| write::drafts::begin(c, &who, id, &a)).await?;
    Ok(Redirect::to(&format!("/drafts/{id}")).into_response())
}

/// What of a draft is in hand.
#[derive(Deserialize, Default, Clone)]
pub struct InHand {
    /// Id of a part.
    #[serde(default)]
    pub part: String,
    /// Id of a land.
    #[serde(default)]
    pub land: String,
    /// The list of a form.
    #[serde(default)]
    pub list: String,
    /// Key of that form in its list; empty for a new one.
    #[serde(default)]
    pub item: String,
}

/// Which form of the lists is folded open, on the draft as it was seen.
#[derive(Deserialize)]
pub struct FormQuery {
    #[serde(default)]
    list: String,
    #[serde(default)]
    item: String,
    #[serde(default)]
    seen: i32,
}

/// The fields of one form of the lists.
pub async fn form(
    State(app): State<App>,
    Lead(reader): Lead,
    Path(id): Path<DraftId>,
    Query(q): Query<FormQuery>,
) -> WebResult {
    let d = app.store.run(move |c| read::drafts::draft(c, id)).await?;
    let hand = InHand { list: q.list, item: q.item, ..InHand::default() };
    let f = set_forms::in_hand(&d.anatomy, &hand).ok_or(StoreError::NotFound)?;
    let shell = view::shell(&app, &reader, format!("/drafts/{id}")).await?;
    page(&set_forms::Fields::of(&f, &id.to_string(), &shell.csrf, q.seen))
}

/// A draft on the drawing board.
pub async fn draft(
    State(app): State<App>,
    Lead(reader): Lead,
    Path(id): Path<DraftId>,
    Query(hand): Query<InHand>,
    headers: HeaderMap,
) -> WebResult {
    let d = app.store.run(move |c| read::drafts::draft(c, id)).await?;
    let p = DraftPage::build(&app, &reader, &d, hand, None).await?;
    if wants_fragment(&headers) { page(&p) } else { page(&p.whole()) }
}

/// Changes a draft; the board comes back with what follows from it.
pub async fn change(
    State(app): State<App>,
    Lead(reader): Lead,
    Path(id): Path<DraftId>,
    headers: HeaderMap,
    Form(f): Form<EditForm>,
) -> WebResult<Response> {
    let (who, seen) = (reader.person.clone(), f.seen);
    let typed = f.clone();
    let fragment = wants_fragment(&headers);
    let change = match f.op.as_str() {
        "undo" => Ok(Change::Undo),
        "redo" => Ok(Change::Redo),
        _ => match app.store.run(move |c| read::drafts::draft(c, id)).await {
            Ok(d) => match set_forms::edit(&f, &d.anatomy) {
                Ok(Some(e)) => Ok(Change::Edit(e)),
                Ok(None) => f.edit().map(Change::Edit).map_err(StoreError::from),
                Err(e) => Err(e.into()),
            },
            Err(e) => Err(e),
        },
    };
    let outcome: Result<Draft, StoreError> = match change {
        Ok(change) => app.store.run(move |c| write::drafts::change(c, &who, id, seen, &change)).await,
        Err(e) => Err(e),
    };
    let (status, d, hand, said) = match outcome {
        Ok(d) => {
            let hand = typed.hand_after(&d.anatomy);
            if !fragment {
                return Ok(Redirect::to(&format!("/drafts/{id}?part={}&land={}", hand.part, hand.land)).into_response());
            }
            (StatusCode::OK, d, hand, None)
        }
        Err(e) => {
            let (status, field, message) = refused(e, "board")?;
            let d = app.store.run(move |c| read::drafts::draft(c, id)).await?;
            let hand = InHand { part: typed.part.clone(), land: typed.land.clone(), ..InHand::default() };
            (status, d, hand, Some((field, message, typed)))
        }
    };
    let p = DraftPage::build(&app, &reader, &d, hand, said).await?;
    if fragment { page_as(status, &p) } else { page_as(status, &p.whole()) }
}

/// Keeps a draft as the next version.
pub async fn keep(
    State(app): State<App>,
    Lead(reader): Lead,
    Path(id): Path<DraftId>,
    Form(_): Form<Nothing>,
) -> WebResult<Response> {
    let who = reader.person;
    let a = app.store.run(move |c| write::drafts::keep(c, &who, id)).await?;
    Ok(Redirect::to(&format!("/anatomies/{}", a.key)).into_response())
}

/// Throws a draft away.
pub async fn discard(
    State(app): State<App>,
    Lead(reader): Lead,
    Path(id): Path<DraftId>,
    Form(_): Form<Nothing>,
) -> WebResult<Response> {
    let who = reader.person;
    app.store.run(move |c| write::drafts::discard(c, &who, id)).await.map_err(WebError::from)?;
    Ok(Redirect::to("/anatomies").into_response())
}

/// A form with its token only.
#[derive(Deserialize)]
pub struct Nothing {}
