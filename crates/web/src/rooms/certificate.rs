//! Certificate: what the customer gets; made to be printed.

use crate::ground::error::WebResult;
use crate::ground::extract::Reader;
use crate::ground::view::page;
use crate::parts::certificate::{build, load};
use crate::state::App;
use axum::extract::{Path, State};
use ironseat_store::RebuildId;

/// The certificate; before the rebuild is finished it says so across the top.
pub async fn show(State(app): State<App>, reader: Reader, Path(id): Path<RebuildId>) -> WebResult {
    page(&build(&reader, &load(&app, id).await?))
}
