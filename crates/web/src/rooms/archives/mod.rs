//! Archives: rebuilds that come from elsewhere, looked at before they are taken in.

use crate::ground::error::{WebResult, refused};
use crate::ground::extract::{Form, Lead, Reader, Upload, Worker};
use crate::ground::view::{Shell, page, page_as};
use crate::parts::archive::{LARGEST, file, pack, unpacked};
use crate::parts::hand_in::sent;
use crate::state::App;
use askama::Template;
use axum::extract::{Path, State};
use axum::http::{HeaderMap, StatusCode};
use axum::response::{IntoResponse as _, Redirect, Response};
use ironseat_core::Refusal;
use ironseat_store::archive::TakenIn;
use ironseat_store::read::rebuilds::{self, Elsewhere, live_clocks};
use ironseat_store::write::uploads::{self, UploadKind};
use ironseat_store::{RebuildId, StoreError, UploadId, archive as kept};

/// Bytes that a form with an archive may have.
pub const BODY: usize = LARGEST + (64 << 10);

#[derive(Template)]
#[template(path = "rooms/archives/archives.html")]
struct ArchivesPage {
    shell: Shell,
    from: Vec<Elsewhere>,
    field: String,
    error: String,
}

#[derive(Template)]
#[template(path = "rooms/archives/archive.html")]
struct ArchivePage {
    shell: Shell,
    upload: UploadId,
    name: String,
    a: Option<TakenIn>,
    error: String,
}

async fn build(app: &App, reader: &Reader) -> WebResult<ArchivesPage> {
    let (clocks, from) = app.store.run(|c| Ok((live_clocks(c)?, rebuilds::from_elsewhere(c)?))).await?;
    let shell = Shell::new(reader, &clocks, "archives", "/archives".into(), String::new());
    Ok(ArchivesPage { shell, from, field: String::new(), error: String::new() })
}

/// What came from elsewhere, and the way in.
pub async fn list(State(app): State<App>, Lead(reader): Lead) -> WebResult {
    page(&build(&app, &reader).await?)
}

/// Hands an archive in to be looked at.
pub async fn hand_in(State(app): State<App>, Lead(reader): Lead, form: Upload) -> WebResult<Response> {
    let (name, bytes) = sent(&form);
    if bytes.is_empty() || !bytes.starts_with(b"PK") {
        let words = if bytes.is_empty() {
            "choose the archive of a rebuild (.zip)"
        } else {
            "expected the archive of a rebuild (.zip): this file is something else"
        };
        let (status, field, error) = refused(Refusal::new("archive", words).into(), "archive")?;
        return page_as(status, &ArchivesPage { field, error, ..build(&app, &reader).await? });
    }
    let who = reader.person.clone();
    let id = app.store.run(move |c| uploads::keep(c, &who, UploadKind::Archive, &name, &bytes)).await?;
    Ok(Redirect::to(&format!("/archives/{id}")).into_response())
}

async fn page_of(app: &App, reader: &Reader, upload: UploadId) -> WebResult<(StatusCode, ArchivePage)> {
    let who = reader.person.clone();
    let ((name, bytes), clocks) =
        app.store.run(move |c| Ok((uploads::get(c, &who, UploadKind::Archive, upload)?, live_clocks(c)?))).await?;
    let who = reader.person.clone();
    let seen = match unpacked(bytes).await {
        Ok(a) => app.store.run(move |c| kept::look(c, &who, &a)).await,
        Err(crate::ground::error::WebError::Store(e)) => Err(e),
        Err(e) => return Err(e),
    };
    let (status, a, error) = match seen {
        Ok(a) => (StatusCode::OK, Some(a), String::new()),
        Err(e) => {
            let (status, _, error) = refused(e, "archive")?;
            (status, None, error)
        }
    };
    let shell = Shell::new(reader, &clocks, "archives", format!("/archives/{upload}"), String::new());
    Ok((status, ArchivePage { shell, upload, name, a, error }))
}

/// What an archive holds, and what taking it in would do.
pub async fn show(State(app): State<App>, Lead(reader): Lead, Path(upload): Path<UploadId>) -> WebResult<Response> {
    let (status, p) = page_of(&app, &reader, upload).await?;
    page_as(status, &p)
}

/// Nothing but the token.
#[derive(serde::Deserialize)]
pub struct Nothing {}

/// Takes it in.
pub async fn take_in(
    State(app): State<App>,
    Lead(reader): Lead,
    Path(upload): Path<UploadId>,
    Form(Nothing {}): Form<Nothing>,
) -> WebResult<Response> {
    let who = reader.person.clone();
    let (_, bytes) = app.store.run(move |c| uploads::get(c, &who, UploadKind::Archive, upload)).await?;
    let a = unpacked(bytes).await?;
    let who = reader.person.clone();
    let done = app
        .store
        .run(move |c| {
            let t = kept::take_in(c, &who, &a)?;
            uploads::done(c, upload)?;
            Ok(t.rebuild)
        })
        .await;
    match done {
        Ok(id) => Ok(Redirect::to(&format!("/rebuilds/{id}/ledger")).into_response()),
        Err(e @ (StoreError::Refused(_) | StoreError::Held(_) | StoreError::Conflict(_))) => {
            let (status, _, error) = refused(e, "archive")?;
            let (_, p) = page_of(&app, &reader, upload).await?;
            page_as(status, &ArchivePage { error, ..p })
        }
        Err(e) => Err(e.into()),
    }
}

/// The archive as a download.
pub async fn give_out(
    State(app): State<App>,
    Worker(reader): Worker,
    Path(id): Path<RebuildId>,
    headers: HeaderMap,
) -> WebResult {
    pack(&app, &reader, id, &headers).await.map(file)
}
