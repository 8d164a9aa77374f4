//! The trail of a whole rebuild: stage by stage, what is in hand, what is held and why, what was found, and what has to
//! come off when something was forgotten.

use crate::app::App;
use crate::error::WebResult;
use crate::extract::{Form, Hand, Reader, wants_fragment};
use crate::view::{Shell, page, page_as};
use askama::Template;
use axum::extract::{Path, Query, State};
use axum::http::{HeaderMap, StatusCode};
use axum::response::{Html, IntoResponse as _, Redirect, Response};
use ironseat_core::Refusal;
use ironseat_core::anatomy::as_found::Ask;
use ironseat_core::anatomy::sequence::Cost;
use ironseat_core::anatomy::steps::{Stage, Step, meanwhile};
use ironseat_core::quantity::show as fmt;
use ironseat_drawing::{Fitted, SectionView, half_section};
use ironseat_store::rebuilds::{Clock, live_clocks};
use ironseat_store::trail_record::{self, AnswerState, Trail};
use ironseat_store::{Id, StoreError};
use serde::Deserialize;
use std::collections::{BTreeMap, BTreeSet};

/// What of the trail is looked at.
#[derive(Deserialize, Default, Clone)]
#[serde(default)]
pub struct TrailQuery {
    step: String,
    /// Part that was forgotten or is to be got at.
    part: String,
}

struct StepRow {
    id: String,
    words: String,
    done: bool,
    held: bool,
    current: bool,
}

struct StageRows {
    word: &'static str,
    done: usize,
    all: usize,
    open: bool,
    steps: Vec<StepRow>,
}

struct AskForm {
    question: String,
    facing: bool,
    state: &'static str,
    value: String,
    note: String,
}

struct HandView {
    id: String,
    stage: &'static str,
    words: String,
    tool: String,
    note: String,
    caution: &'static str,
    held: String,
    done: String,
    /// Ticked by hand, so that it can be taken back.
    by_hand: bool,
    two: bool,
    seat: String,
    ask: Option<AskForm>,
}

struct CostView {
    part: String,
    name: String,
    off: Vec<String>,
    scrapped: Vec<String>,
    reheat: Vec<String>,
    minutes: String,
}

#[derive(Template)]
#[template(path = "trail.html", blocks = ["live"])]
struct TrailPage {
    shell: Shell,
    id: Id,
    number: String,
    title: String,
    customer: String,
    finished: bool,
    svg: String,
    stages: Vec<StageRows>,
    hand: Option<HandView>,
    meanwhile: Vec<(String, String)>,
    parts: Vec<(String, String, bool)>,
    cost: Option<CostView>,
    field: String,
    error: String,
    second: String,
}

async fn load(app: &App, id: Id) -> WebResult<(Trail, Vec<Clock>)> {
    Ok(app.store.run(move |c| Ok((trail_record::trail(c, id)?, live_clocks(c)?))).await?)
}

fn hand(t: &Trail, s: &Step) -> HandView {
    let tick = t.ticks.get(&s.id);
    let question = s.id.strip_prefix("ask.").and_then(|q| t.questions.iter().find(|x| x.id == q));
    HandView {
        id: s.id.clone(),
        stage: s.stage.word(),
        words: s.words.clone(),
        tool: s.tool.clone(),
        note: s.effort(),
        caution: s.caution.map_or("", |c| c.words()),
        held: if tick.is_some() { String::new() } else { t.held(s).unwrap_or_default() },
        done: tick.map_or(String::new(), |k| {
            let with = if k.second.is_empty() { String::new() } else { format!(" with {}", k.second) };
            format!("{}{with}, {}", k.by, crate::view::moment(k.at))
        }),
        by_hand: tick.is_some_and(|k| !k.by_sheets),
        two: s.people > 1,
        seat: s.seat.clone().unwrap_or_default(),
        ask: question.map(|q| {
            let a = t.answers.get(&q.id);
            AskForm {
                question: q.id.clone(),
                facing: q.ask == Ask::Facing,
                state: a.map_or("", |a| a.state.word()),
                value: a.map_or(String::new(), |a| a.value.clone()),
                note: a.map_or(String::new(), |a| a.note.clone()),
            }
        }),
    }
}

fn cost_view(t: &Trail, part: &str, cost: &Cost) -> CostView {
    let names = |ids: &[String]| ids.iter().map(|i| t.rebuild.anatomy.name_of(i).to_owned()).collect();
    CostView {
        part: part.to_owned(),
        name: t.rebuild.anatomy.name_of(part).to_owned(),
        off: names(&cost.off),
        scrapped: names(&cost.scrapped),
        reheat: names(&cost.reheat),
        minutes: fmt::minutes(cost.minutes),
    }
}

fn build(reader: &Reader, t: &Trail, clocks: &[Clock], q: &TrailQuery) -> WebResult<TrailPage> {
    let a = &t.rebuild.anatomy;
    let done = t.done();
    let current = t.step(&q.step).or_else(|| t.in_hand());
    let on: BTreeSet<String> = t.on().into_iter().collect();
    let cost = if q.part.is_empty() { None } else { Some(cost_view(t, &q.part, &trail_record::cost(t, &q.part)?)) };
    let free = |s: &Step| s.before.iter().all(|b| done.contains(b));
    let stages = Stage::ALL
        .into_iter()
        .map(|stage| {
            let steps: Vec<StepRow> = t
                .steps
                .iter()
                .filter(|s| s.stage == stage)
                .map(|s| StepRow {
                    id: s.id.clone(),
                    words: s.words.clone(),
                    done: done.contains(&s.id),
                    held: !done.contains(&s.id) && !free(s),
                    current: current.is_some_and(|c| c.id == s.id),
                })
                .collect();
            StageRows {
                word: stage.word(),
                done: steps.iter().filter(|s| s.done).count(),
                all: steps.len(),
                open: current.is_some_and(|c| c.stage == stage),
                steps,
            }
        })
        .filter(|s| s.all > 0)
        .collect();
    // While something waits, other steps are free: those that do not rest on it.
    let waiting = current.filter(|s| s.wait_min > 0.0).map(|s| s.id.as_str());
    let meanwhile = waiting
        .map_or_else(Vec::new, |w| meanwhile(&t.steps, &done, w).into_iter().take(4).map(|s| (s.id.clone(), s.words.clone())).collect());
    let svg = half_section(
        a,
        &SectionView {
            width: 1200.0,
            height: 330.0,
            fitted: Fitted::Parts { on: &on, scrapped: &t.scrapped },
            marks: &BTreeMap::new(),
            selected: None,
            in_hand: current.map(|s| s.about.as_str()).filter(|s| !s.is_empty()),
            small: false,
            id: "tr",
        },
    )
    .svg;
    Ok(TrailPage {
        shell: Shell::new(reader, clocks, "", format!("/rebuilds/{}/trail", t.rebuild.id), format!("/rebuilds/{}/events", t.rebuild.id)),
        id: t.rebuild.id,
        number: t.rebuild.number.clone(),
        title: t.rebuild.title.clone(),
        customer: t.rebuild.customer.clone(),
        finished: t.rebuild.finished_at.is_some(),
        svg,
        stages,
        hand: current.map(|s| hand(t, s)),
        meanwhile,
        parts: a
            .parts
            .iter()
            .map(|p| (p.id.clone(), p.name.clone(), p.id == q.part))
            .chain(a.housings.iter().map(|h| (h.id.clone(), h.name.clone(), h.id == q.part)))
            .collect(),
        cost,
        field: String::new(),
        error: String::new(),
        second: String::new(),
    })
}

/// The trail.
pub async fn show(
    State(app): State<App>,
    reader: Reader,
    Path(id): Path<Id>,
    Query(q): Query<TrailQuery>,
    headers: HeaderMap,
) -> WebResult {
    let (t, clocks) = load(&app, id).await?;
    let p = build(&reader, &t, &clocks, &q)?;
    if wants_fragment(&headers) { Ok(Html(p.as_live().render()?).into_response()) } else { page(&p) }
}

/// What is done on the trail.
#[derive(Deserialize, Default)]
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
}

/// Ticks, takes back, answers, backs out.
pub async fn act(State(app): State<App>, Hand(reader): Hand, Path(id): Path<Id>, Form(f): Form<ActForm>) -> WebResult<Response> {
    let who = reader.person.clone();
    let (act, step, part) = (f.act.clone(), f.step.clone(), f.part.clone());
    let (second, question, state, value, note) = (f.second.clone(), f.question.clone(), f.state.clone(), f.value.clone(), f.note.clone());
    let outcome = app
        .store
        .run(move |c| match act.as_str() {
            "tick" => trail_record::tick(c, &who, id, &step, &second),
            "untick" => trail_record::untick(c, &who, id, &step),
            "answer" => {
                let state =
                    AnswerState::of(&state).ok_or_else(|| Refusal::new("state", "expected recorded, cannot tell or not present"))?;
                trail_record::answer(c, &who, id, &question, state, &value, &note)
            }
            "back-out" => trail_record::back_out(c, &who, id, &part).map(|_| ()),
            _ => Err(Refusal::new("act", "this is not known here").into()),
        })
        .await;
    let here = format!("/rebuilds/{id}/trail");
    let (status, field, error) = match outcome {
        // On to the next step in hand; a tick that was taken back stays in view.
        Ok(()) if f.act == "untick" => return Ok(Redirect::to(&format!("{here}?step={}", f.step)).into_response()),
        Ok(()) => return Ok(Redirect::to(&here).into_response()),
        Err(StoreError::Refused(Refusal { field, message })) => (StatusCode::UNPROCESSABLE_ENTITY, field, message),
        Err(StoreError::Held(s) | StoreError::Conflict(s)) => (StatusCode::CONFLICT, "step".to_owned(), s),
        Err(other) => return Err(other.into()),
    };
    let (t, clocks) = load(&app, id).await?;
    let mut p = build(&reader, &t, &clocks, &TrailQuery { step: f.step, part: f.part })?;
    (p.field, p.error, p.second) = (field, error, f.second);
    if let Some(ask) = p.hand.as_mut().and_then(|h| h.ask.as_mut()) {
        (ask.value, ask.note) = (f.value, f.note);
        ask.state = AnswerState::of(&f.state).map_or("", AnswerState::word);
    }
    page_as(status, &p)
}
