//! A newer version of the machine type beside the one that a rebuild stays on.

use crate::ground::error::WebResult;
use crate::ground::extract::{Form, Lead, Reader};
use crate::ground::view::{Shell, page, page_as};
use crate::state::App;
use askama::Template;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse as _, Redirect, Response};
use ironseat_store::read;
use ironseat_store::read::rebuilds::{self, live_clocks};
use ironseat_store::read::versions::Newer;
use ironseat_store::{RebuildId, StoreError, write};
use serde::Deserialize;

#[derive(Template)]
#[template(path = "rooms/bench/version.html")]
struct VersionPage {
    shell: Shell,
    id: RebuildId,
    number: String,
    title: String,
    customer: String,
    key: String,
    pinned: u32,
    newer: Option<Newer>,
    error: String,
}

async fn build(app: &App, reader: &Reader, id: RebuildId, error: String) -> WebResult<VersionPage> {
    let (r, clocks, newer) =
        app.store.run(move |c| Ok((rebuilds::get(c, id)?, live_clocks(c)?, read::versions::newer(c, id)?))).await?;
    Ok(VersionPage {
        shell: Shell::new(reader, &clocks, "", format!("/rebuilds/{id}/version"), String::new()),
        id,
        key: r.anatomy().key.clone(),
        pinned: r.anatomy().version,
        number: r.number,
        title: r.title,
        customer: r.customer,
        newer,
        error,
    })
}

/// What a newer version of the machine type changes for this rebuild.
pub async fn show(State(app): State<App>, reader: Reader, Path(id): Path<RebuildId>) -> WebResult {
    page(&build(&app, &reader, id, String::new()).await?)
}

/// The version that was looked at.
#[derive(Deserialize)]
pub struct VersionForm {
    version: u32,
}

/// Takes a newer version over.
pub async fn take_over(
    State(app): State<App>,
    Lead(reader): Lead,
    Path(id): Path<RebuildId>,
    Form(f): Form<VersionForm>,
) -> WebResult<Response> {
    let who = reader.person.clone();
    match app.store.run(move |c| write::versions::take_over(c, &who, id, f.version)).await {
        Ok(()) => Ok(Redirect::to(&format!("/rebuilds/{id}")).into_response()),
        Err(StoreError::Held(s) | StoreError::Conflict(s)) => {
            page_as(StatusCode::CONFLICT, &build(&app, &reader, id, s).await?)
        }
        Err(e) => Err(e.into()),
    }
}
