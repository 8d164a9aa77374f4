//! A question of the Reckoner that becomes the sheet of an act: which acts it may belong to, its drawing that leads the
//! hand, and taking it over.

use crate::ground::error::{WebError, WebResult};
use crate::ground::extract::{Form, Worker};
use crate::ground::view::page_as;
use crate::parts::act_sheets::{address, where_to_read_on};
use crate::parts::answer::{Typed, units_of};
use crate::parts::pinned::About;
use crate::rooms::reckoner::page_for;
use crate::state::App;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse as _, Redirect, Response};
use ironseat_core::Refusal;
use ironseat_core::decide::suits;
use ironseat_core::quantity::Units;
use ironseat_core::reckon::typed_input;
use ironseat_core::sheet::{Declared, Given};
use ironseat_store::StoreError;
use ironseat_store::read::bench::{self, Bench};
use ironseat_store::write::act_sheets;
use serde_json::{Map, Value};
use std::collections::BTreeMap;

/// An act that a sheet may belong to.
pub struct ActChoice {
    pub id: String,
    pub words: String,
    pub chosen: bool,
}

/// Acts that a sheet belongs to, those that can be done now first; where it belongs to none, whatever can be done now.
pub fn acts(b: &Bench, declared: &Declared, chosen: &str, units: Units) -> Vec<ActChoice> {
    let s = &b.state;
    let mut list: Vec<_> = s.acts.iter().filter(|a| suits(s, a, declared)).collect();
    if list.is_empty() {
        list = s.acts.iter().filter(|a| !s.is_done(&a.id) && s.free(a)).collect();
    }
    list.sort_by_key(|a| (s.is_done(&a.id), !s.free(a)));
    let alone = list.len() == 1;
    let one = |a: &ironseat_core::anatomy::acts::Act| ActChoice {
        chosen: alone || a.id == chosen,
        words: a.words.say(units),
        id: a.id.clone(),
    };
    list.into_iter().take(80).map(one).collect()
}

/// Where the next reading of a question is taken: what is typed stands as read. Nothing for one that is no sheet.
pub fn drawing(name: &str, input: &Map<String, Value>) -> String {
    let Some(declared) = Declared::of(name) else { return String::new() };
    let (given, read) = declared.filled(input).unwrap_or_else(|_| {
        let fields = input.iter().filter(|(_, v)| !v.is_array());
        (Given { fields: fields.map(|(k, v)| (k.clone(), v.clone())).collect(), ..Given::default() }, BTreeMap::new())
    });
    let places = declared.places(&given, &read);
    let next = places.iter().find(|p| !read.contains_key(&p.key));
    where_to_read_on(declared, &given, &places, next, |p| read.contains_key(&p.key))
}

/// Makes a sheet with readings of what is typed.
pub async fn take_over(
    State(app): State<App>,
    Worker(reader): Worker,
    Path(name): Path<String>,
    Form(pairs): Form<Vec<(String, String)>>,
) -> WebResult<Response> {
    let declared = Declared::of(&name).ok_or(WebError::Store(StoreError::NotFound))?;
    let e = declared.entry().map_err(StoreError::from)?;
    let (about, typed, units) = (About::of(&pairs), Typed::of(&pairs), units_of(&pairs, reader.person.units));
    let done = async {
        let to = about.rebuild.ok_or_else(|| Refusal::new("pin.rebuild", "choose the rebuild that it belongs to"))?;
        let input = typed_input(e.fields, &|p| typed.at(p), &|p| typed.rows(p), units)?;
        let (who, chosen) = (reader.person.clone(), about.act.clone());
        app.store
            .run(move |c| {
                let choices = acts(&bench::look(c, to)?, declared, &chosen, who.units);
                let act = choices.into_iter().find(|a| a.chosen).map(|a| a.id);
                let act = act.ok_or_else(|| Refusal::new("pin.act", "choose the act that it was read at"))?;
                act_sheets::take_over(c, &who, to, &act, declared.name, &input)?;
                Ok(address(to, &act, declared.name))
            })
            .await
    };
    let (status, refused) = match done.await {
        Ok(at) => return Ok(Redirect::to(&at).into_response()),
        Err(StoreError::Refused(r)) => (StatusCode::UNPROCESSABLE_ENTITY, r),
        Err(StoreError::Conflict(s) | StoreError::Held(s)) => (StatusCode::CONFLICT, Refusal::new("", s)),
        Err(e) => return Err(e.into()),
    };
    page_as(status, &page_for(&app, &reader, e, pairs, Some(refused)).await?)
}
