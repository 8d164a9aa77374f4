//! The trail of a whole rebuild: stage by stage, what is in hand, what is held and why, what was found and measured, what
//! waits, and what has to come off when something was forgotten.

use crate::app::App;
use crate::error::{WebResult, refused};
use crate::extract::{Form, Hand, Lead, Reader, wants_fragment};
use crate::view::{Shell, page, page_as};
use askama::Template;
use axum::extract::{Path, Query, State};
use axum::http::{HeaderMap, StatusCode};
use axum::response::{Html, IntoResponse as _, Redirect, Response};
use ironseat_core::Refusal;
use ironseat_store::rebuilds::{Clock, live_clocks};
use ironseat_store::trail_record::{self, AnswerState, Trail};
use ironseat_store::trail_work::{self, Done};
use ironseat_store::versions::{self, Newer};
use ironseat_store::{Id, StoreError};
use serde::Deserialize;

pub mod pictures;
mod view;

use view::{TrailPage, build};
pub use view::{TrailQuery, found_words};

async fn load(app: &App, id: Id) -> WebResult<(Trail, Vec<Clock>, Option<i32>)> {
    Ok(app
        .store
        .run(move |c| {
            let t = trail_record::trail(c, id)?;
            let newer = versions::newest(c, &t.rebuild)?;
            Ok((t, live_clocks(c)?, newer))
        })
        .await?)
}

/// The trail.
pub async fn show(
    State(app): State<App>,
    reader: Reader,
    Path(id): Path<Id>,
    Query(q): Query<TrailQuery>,
    headers: HeaderMap,
) -> WebResult {
    let (t, clocks, newer) = load(&app, id).await?;
    let p = build(&reader, &t, &clocks, newer, &q)?;
    if wants_fragment(&headers) { Ok(Html(p.as_live().render()?).into_response()) } else { page(&p) }
}

/// The page again, with a sentence beside its field and what was typed.
pub async fn again(
    app: &App,
    reader: &Reader,
    id: Id,
    q: TrailQuery,
    e: StoreError,
    typed: impl FnOnce(&mut TrailPage),
) -> WebResult<Response> {
    let (status, field, error) = refused(e, "step")?;
    let (t, clocks, newer) = load(app, id).await?;
    let mut p = build(reader, &t, &clocks, newer, &q)?;
    (p.field, p.error) = (field, error);
    typed(&mut p);
    page_as(status, &p)
}

/// What is done on the trail.
#[derive(Deserialize, Default, Clone)]
#[serde(default)]
pub struct ActForm {
    act: String,
    step: String,
    part: String,
    second: String,
    question: String,
    state: String,
    value: String,
    note: String,
    reason: String,
    faces: String,
    what: String,
    repair: String,
}

/// Ticks, takes back, answers, says that a wait is over, notes a repair, backs out.
pub async fn act(State(app): State<App>, Hand(reader): Hand, Path(id): Path<Id>, Form(f): Form<ActForm>) -> WebResult<Response> {
    let who = reader.person.clone();
    let g = f.clone();
    let outcome = app
        .store
        .run(move |c| match g.act.as_str() {
            "tick" => trail_work::tick(c, &who, id, &g.step, &Done { second: g.second, value: g.value, reason: g.reason, faces: g.faces }),
            "untick" => trail_work::untick(c, &who, id, &g.step),
            "wait-over" => trail_work::wait_over(c, &who, id, &g.step),
            "answer" => {
                let state =
                    AnswerState::of(&g.state).ok_or_else(|| Refusal::new("state", "expected recorded, cannot tell or not present"))?;
                trail_work::answer(c, &who, id, &g.question, state, &g.value, &g.note)
            }
            "repair" => trail_work::repair(c, &who, id, &g.part, &g.what),
            "repair-back" => {
                let repair = g.repair.parse().map_err(|_| StoreError::NotFound)?;
                trail_work::repair_back(c, &who, id, repair)
            }
            "back-out" => trail_work::back_out(c, &who, id, &g.part).map(|_| ()),
            _ => Err(Refusal::new("act", "this is not known here").into()),
        })
        .await;
    let here = format!("/rebuilds/{id}/trail");
    let e = match outcome {
        // On to the next step in hand; a tick that was taken back, or whose wait runs, stays in view.
        Ok(()) if matches!(f.act.as_str(), "untick" | "wait-over") => {
            return Ok(Redirect::to(&format!("{here}?step={}", f.step)).into_response());
        }
        Ok(()) => return Ok(Redirect::to(&here).into_response()),
        Err(e) => e,
    };
    let repairing = f.act == "repair";
    let q = TrailQuery { step: f.step.clone(), part: if repairing { String::new() } else { f.part.clone() }, found: String::new() };
    again(&app, &reader, id, q, e, |p| {
        p.second = f.second;
        p.open_repair = repairing;
        p.what = f.what;
        if repairing && p.field == "step" && !p.machinable.is_empty() {
            p.field = "what".into();
        }
        if let Some(hand) = p.hand.as_mut() {
            if let Some(ask) = hand.ask.as_mut().filter(|_| f.act == "answer") {
                (ask.value, ask.note) = (f.value.clone(), f.note);
                ask.state = AnswerState::of(&f.state).map_or("", AnswerState::word);
            }
            hand.otherwise = p.field == "faces";
            if hand.otherwise {
                hand.reason.clone_from(&f.reason);
            }
            if let Some(m) = hand.measure.as_mut().filter(|_| f.act == "tick") {
                m.outside = p.field == "reason" || (p.field == "value" && p.error.contains("say below"));
                (m.value, m.reason) = (f.value, f.reason);
            }
        }
    })
    .await
}

#[derive(Template)]
#[template(path = "version.html")]
struct VersionPage {
    shell: Shell,
    id: Id,
    number: String,
    title: String,
    customer: String,
    has_seats: bool,
    key: String,
    pinned: u32,
    newer: Option<Newer>,
    error: String,
}

async fn version_page(app: &App, reader: &Reader, id: Id, error: String) -> WebResult<VersionPage> {
    let (t, clocks, newer) =
        app.store.run(move |c| Ok((ironseat_store::rebuilds::get(c, id)?, live_clocks(c)?, versions::newer(c, id)?))).await?;
    Ok(VersionPage {
        shell: Shell::new(reader, &clocks, "", format!("/rebuilds/{id}/version"), String::new()),
        id,
        number: t.number,
        title: t.title,
        customer: t.customer,
        has_seats: !t.anatomy.seats.is_empty(),
        key: t.anatomy.key,
        pinned: t.anatomy.version,
        newer,
        error,
    })
}

/// What a newer version of the machine type changes for this rebuild.
pub async fn version(State(app): State<App>, reader: Reader, Path(id): Path<Id>) -> WebResult {
    page(&version_page(&app, &reader, id, String::new()).await?)
}

/// The version that was looked at.
#[derive(Deserialize)]
pub struct VersionForm {
    version: u32,
}

/// Takes a newer version over.
pub async fn take_over(State(app): State<App>, Lead(reader): Lead, Path(id): Path<Id>, Form(f): Form<VersionForm>) -> WebResult<Response> {
    let who = reader.person.clone();
    match app.store.run(move |c| versions::take_over(c, &who, id, f.version)).await {
        Ok(()) => Ok(Redirect::to(&format!("/rebuilds/{id}/trail")).into_response()),
        Err(StoreError::Held(s) | StoreError::Conflict(s)) => page_as(StatusCode::CONFLICT, &version_page(&app, &reader, id, s).await?),
        Err(e) => Err(e.into()),
    }
}
