//! Bench: doing the work. The half section is the map; the trail stands on the left, the step in hand below.

use crate::app::App;
use crate::error::{WebError, WebResult, refused};
use crate::extract::{Form, Hand, Lead, Reader, wants_fragment};
use crate::view::{page, page_as};
use askama::Template;
use axum::extract::{Path, Query, State};
use axum::http::HeaderMap;
use axum::response::{Html, IntoResponse as _, Redirect, Response};
use ironseat_core::call::Method;
use ironseat_core::quantity::Units;
use ironseat_core::trail::StepKind;
use ironseat_drawing::{Fitted, SectionView, half_section};
use ironseat_store::rebuilds::{self};
use ironseat_store::work::{self, Act};
use ironseat_store::{Id, StoreError};
use serde::Deserialize;
use std::collections::BTreeSet;

mod view;

pub use view::{BenchParams, marks};
use view::{build, load};

/// The Bench of a rebuild.
pub async fn show(
    State(app): State<App>,
    reader: Reader,
    Path(id): Path<Id>,
    Query(q): Query<BenchParams>,
    headers: HeaderMap,
) -> WebResult {
    let l = load(&app, id, q, reader.person.units).await?;
    // Without a bearing seat there are no sheets: the trail is the bench.
    if l.over.rebuild.anatomy.seats.is_empty() {
        return Ok(Redirect::to(&format!("/rebuilds/{id}/trail")).into_response());
    }
    let p = build(&reader, &l)?;
    if wants_fragment(&headers) { Ok(Html(p.as_live().render()?).into_response()) } else { page(&p) }
}

/// What `bin/bench` compares the Bench with: the same queries, as many bytes, no drawing and no template.
pub async fn bare(State(app): State<App>, _: Reader, Path((id, bytes)): Path<(Id, usize)>) -> WebResult {
    let l = load(&app, id, BenchParams::default(), Units::Metric).await?;
    let mut body = l.over.rebuild.number;
    body.extend(std::iter::repeat_n('.', bytes.min(1 << 20).saturating_sub(body.len())));
    Ok(Html(body).into_response())
}

/// A page again, with a sentence beside the field and what was typed.
async fn again(app: &App, reader: &Reader, id: Id, q: BenchParams, e: StoreError, typed: String, releasing: bool) -> WebResult {
    let (status, field, error) = refused(e, "step")?;
    let mut p = build(reader, &load(app, id, q, reader.person.units).await?)?;
    p.error = error;
    p.field = field;
    p.typed = typed;
    p.release_reason = releasing;
    page_as(status, &p)
}

#[derive(Deserialize, Default)]
pub struct ActForm {
    act: String,
    #[serde(default)]
    method: String,
    #[serde(default)]
    temperature: String,
    #[serde(default)]
    pin: String,
}

/// Works a step.
pub async fn act(
    State(app): State<App>,
    Hand(reader): Hand,
    Path((id, seat, step)): Path<(Id, String, String)>,
    Form(f): Form<ActForm>,
) -> WebResult<Response> {
    let kind = StepKind::of(&step).ok_or(WebError::Store(StoreError::NotFound))?;
    let fahrenheit = reader.person.units == Units::Inch;
    let typed = f.temperature.clone();
    let act = match f.act.as_str() {
        "choose" => Method::of(&f.method).map(Act::Choose),
        "heat" => Some(Act::Heat),
        "tick" => Some(Act::Tick { temperature: f.temperature, fahrenheit }),
        "cooling" => Some(Act::Cooling { temperature: f.temperature, fahrenheit }),
        "sign" => Some(Act::Sign { pin: f.pin }),
        "reopen" => Some(Act::Reopen),
        _ => None,
    };
    let Some(act) = act else { return Err(WebError::Unreadable) };
    let stays = matches!(act, Act::Heat | Act::Cooling { .. } | Act::Reopen);
    let who = reader.person.clone();
    let at = seat.clone();
    match app.store.run(move |c| work::act(c, &who, id, &at, kind, &act)).await {
        Ok(()) if stays => Ok(Redirect::to(&format!("/rebuilds/{id}?seat={seat}&step={step}")).into_response()),
        Ok(()) => Ok(Redirect::to(&format!("/rebuilds/{id}?seat={seat}")).into_response()),
        Err(e) => again(&app, &reader, id, BenchParams { seat, step }, e, typed, false).await,
    }
}

#[derive(Deserialize, Default)]
pub struct OverruleForm {
    #[serde(default)]
    reason: String,
    #[serde(default)]
    pin: String,
    #[serde(default)]
    step: String,
}

/// Overrules a call with a reason.
pub async fn overrule(
    State(app): State<App>,
    Hand(reader): Hand,
    Path((id, seat, topic)): Path<(Id, String, String)>,
    Form(f): Form<OverruleForm>,
) -> WebResult<Response> {
    let (who, at, reason) = (reader.person.clone(), seat.clone(), f.reason.clone());
    match app.store.run(move |c| work::overrule(c, &who, id, &at, &topic, &reason, &f.pin)).await {
        Ok(()) => Ok(Redirect::to(&format!("/rebuilds/{id}?seat={seat}&step={}", f.step)).into_response()),
        Err(e) => again(&app, &reader, id, BenchParams { seat, step: f.step }, e, f.reason, false).await,
    }
}

#[derive(Deserialize)]
pub struct FinishForm {
    #[serde(default)]
    pin: String,
    /// Why it is released with steps open.
    #[serde(default)]
    reason: String,
    /// Page the form stands on.
    #[serde(default)]
    from: String,
}

/// Closes the rebuild.
pub async fn finish(State(app): State<App>, Lead(reader): Lead, Path(id): Path<Id>, Form(f): Form<FinishForm>) -> WebResult<Response> {
    let who = reader.person.clone();
    let (pin, reason) = (f.pin, f.reason.clone());
    match app.store.run(move |c| rebuilds::finish(c, &who, id, &pin, &reason)).await {
        Ok(()) => Ok(Redirect::to(&format!("/rebuilds/{id}/certificate")).into_response()),
        Err(e) if f.from == "trail" => {
            crate::trail::again(&app, &reader, id, crate::trail::TrailQuery::default(), e, |p| {
                (p.release_reason, p.can_finish) = (f.reason, true)
            })
            .await
        }
        Err(e) => {
            let asks = matches!(&e, StoreError::Refused(r) if r.field == "reason") || !f.reason.is_empty();
            again(&app, &reader, id, BenchParams::default(), e, f.reason, asks).await
        }
    }
}

/// The drawing alone.
pub async fn section_svg(State(app): State<App>, reader: Reader, Path(id): Path<Id>) -> WebResult {
    let units = reader.person.units;
    let over = app.store.run(move |c| rebuilds::bench(c, id, units)).await?;
    let none = BTreeSet::new();
    let seat_marks = marks(&over, None, units);
    let drawn = half_section(
        &over.rebuild.anatomy,
        &SectionView {
            width: 968.0,
            height: 318.0,
            fitted: Fitted::Parts { on: &over.machine.fitted, scrapped: &none },
            marks: &seat_marks,
            selected: None,
            in_hand: None,
            small: false,
            id: "hs",
        },
    );
    Ok(crate::view::svg_file(drawn.standalone()))
}
