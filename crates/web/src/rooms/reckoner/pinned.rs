//! Answers of the Reckoner that are kept with a rebuild: asking for one, pinning it, and the list of them.

use crate::ground::error::{WebError, WebResult};
use crate::ground::extract::{Form, Worker};
use crate::ground::view::page_as;
use crate::parts::answer::{Typed, units_of};
use crate::parts::pinned::About;
use crate::parts::turns::{Unanswered, answer};
use crate::rooms::reckoner::as_sheet::ActChoice;
use crate::rooms::reckoner::page_for;
use crate::state::App;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse as _, Redirect, Response};
use ironseat_core::Refusal;
use ironseat_core::reckon::{entry, typed_input};
use ironseat_store::read::pins::Answered;
use ironseat_store::write::pins::{self, NewPin};
use ironseat_store::{PinId, RebuildId, StoreError};
use serde_json::{Map, Value};

/// The rebuild that a question is asked for.
pub struct Of {
    pub href: String,
    pub number: String,
    pub title: String,
    /// That filled fields; empty for none.
    pub seat: String,
    /// What goes along in the address.
    pub hidden: Vec<(&'static str, String)>,
    /// A sheet is being reckoned anew.
    pub again: bool,
}

/// The form that pins an answer.
pub struct PinForm {
    pub id: PinId,
    pub about: String,
    /// Id, what it is called, and whether it is the one that is asked for.
    pub rebuilds: Vec<(RebuildId, String, bool)>,
    /// Everything that was typed, as it goes along.
    pub typed: Vec<(String, String)>,
    pub again: bool,
    pub error: String,
    /// What the error is about, as a form names it.
    pub field: String,
    /// It may become a sheet of an act: its title.
    pub sheet: Option<&'static str>,
    /// Acts of the rebuild that is asked for.
    pub acts: Vec<ActChoice>,
}

/// Works out the answer to what is typed and keeps it with a rebuild.
pub async fn pin(
    State(app): State<App>,
    Worker(reader): Worker,
    Path(name): Path<String>,
    Form(pairs): Form<Vec<(String, String)>>,
) -> WebResult<Response> {
    let e = entry(&name).map_err(|_| WebError::Store(StoreError::NotFound))?;
    let about = About::of(&pairs);
    let typed = Typed::of(&pairs);
    let units = units_of(&pairs, reader.person.units);
    let at = |k: &str| pairs.iter().find(|(n, _)| n == k).map(|(_, v)| v.as_str());
    let id: PinId = at("pin.id").and_then(|v| v.parse().ok()).unwrap_or_default();
    let done = async {
        let to = about.rebuild.ok_or_else(|| Refusal::new("pin.rebuild", "choose the rebuild that it belongs to"))?;
        let input = typed_input(e.fields, &|p| typed.at(p), &|p| typed.rows(p), units)?;
        let given = match answer(e.name.to_owned(), Value::Object(input.clone()).to_string()).await {
            Ok(Value::Object(map)) => map,
            Ok(_) => Map::new(),
            Err(Unanswered::Refused(r) | Unanswered::Busy(r) | Unanswered::Fault(r)) => {
                return Err(StoreError::Refused(r));
            }
        };
        let new = NewPin {
            id,
            name: e.name.to_owned(),
            about: about.about.clone(),
            asked: Answered { input, answer: given },
            replaces: about.replaces,
        };
        let who = reader.person.clone();
        app.store.run(move |c| pins::pin(c, &who, to, &new)).await.map(|()| to)
    };
    let (status, refused) = match done.await {
        Ok(to) => return Ok(Redirect::to(&format!("/rebuilds/{to}/ledger#reckoned")).into_response()),
        Err(StoreError::Refused(r)) => (StatusCode::UNPROCESSABLE_ENTITY, r),
        Err(StoreError::Conflict(s) | StoreError::Held(s)) => (StatusCode::CONFLICT, Refusal::new("about", s)),
        Err(e) => return Err(e.into()),
    };
    page_as(status, &page_for(&app, &reader, e, pairs, Some(refused)).await?)
}

/// Takes a sheet away.
pub async fn away(
    State(app): State<App>,
    Worker(reader): Worker,
    Path((id, pin)): Path<(RebuildId, PinId)>,
    Form(_): Form<Vec<(String, String)>>,
) -> WebResult<Response> {
    let who = reader.person;
    app.store.run(move |c| pins::take_away(c, &who, id, pin)).await?;
    Ok(Redirect::to(&format!("/rebuilds/{id}/ledger#reckoned")).into_response())
}
