//! Sheet: measuring. The drawing shows where the next reading is taken; one large entry; the call is alive.

pub mod of_act;
pub mod view;

use crate::ground::error::{WebError, WebResult};
use crate::ground::extract::{Form, Reader, Worker, wants_fragment};
use crate::ground::view::page;
use crate::parts::slip;
use crate::state::App;
use askama::Template as _;
use axum::extract::{Path, Query, State};
use axum::http::{HeaderMap, StatusCode};
use axum::response::{Html, IntoResponse as _, Redirect, Response};
use ironseat_core::quantity::Units;
use ironseat_core::sheet::{self, Reading, SheetKind};
use ironseat_store::write::readings::{self, NewReading, Outcome};
use ironseat_store::{InstrumentId, StoreError};
use serde::Deserialize;
pub use view::SheetParams;
use view::{Place, SheetPage, build, judge, load};

fn kind_of(kind: &str) -> WebResult<SheetKind> {
    SheetKind::of(kind).ok_or(WebError::Store(StoreError::NotFound))
}

/// A sheet.
pub async fn show(
    State(app): State<App>,
    reader: Reader,
    Path((id, seat, kind)): Path<Place>,
    Query(q): Query<SheetParams>,
    headers: HeaderMap,
) -> WebResult {
    let kind = kind_of(&kind)?;
    let (r, s, k) = load(&app, id, seat).await?;
    let p = build(&reader, &r, &s, &k, kind, &q);
    if wants_fragment(&headers) { page(&p) } else { page(&p.whole()) }
}

/// The call as it would be with what stands in the entry: nothing is stored.
pub async fn preview(
    State(app): State<App>,
    reader: Reader,
    Path((id, seat, kind)): Path<Place>,
    Query(q): Query<SheetParams>,
) -> WebResult {
    let kind = kind_of(&kind)?;
    let units = reader.person.units;
    let (r, s, k) = load(&app, id, seat).await?;
    let mut p = build(&reader, &r, &s, &k, kind, &SheetParams { cell: q.cell.clone(), text: String::new() });
    let takes = kind.cells().into_iter().find(|c| c.key == q.cell).map(|c| c.takes);
    let typed = takes.filter(|_| finished(&q.text, s.chosen(kind).map_or(0.001, |i| i.resolution_mm), units));
    if let Some(Reading::Value(v)) =
        typed.and_then(|t| sheet::read(t, &q.text, units, sheet::nominal(kind, &s.facts), true).ok())
    {
        p.figures.clear();
        p.fit = None;
        judge(&mut p, &s, kind, Some((&q.cell, v)), units);
    }
    Ok(Html(p.as_judged().render()?).into_response())
}

/// Is a number typed as far as the instrument reads? Half a number would be judged as a wild one.
fn finished(text: &str, resolution_mm: f64, units: Units) -> bool {
    if !text.trim().chars().all(|c| c.is_ascii_digit() || c == '.' || c == ',') {
        return true; // a fraction, a sign or a unit: meant as it stands
    }
    let wanted = (-resolution_mm.log10()).floor().max(0.0) as usize + usize::from(units == Units::Inch);
    text.trim().split(['.', ',']).nth(1).is_some_and(|decimals| decimals.len() >= wanted)
}

#[derive(Deserialize)]
pub struct ReadingForm {
    #[serde(default)]
    id: String,
    #[serde(default)]
    cell: String,
    #[serde(default)]
    text: String,
    #[serde(default)]
    instrument: String,
    #[serde(default)]
    over: String,
    #[serde(default)]
    sure: bool,
    #[serde(default)]
    reason: String,
    #[serde(default)]
    units: String,
}

/// Takes a reading. 303 to the next cell, or the fragment; 422 and 409 with the sentence and what was typed.
pub async fn record(
    State(app): State<App>,
    Worker(reader): Worker,
    Path((id, seat, kind_text)): Path<Place>,
    headers: HeaderMap,
    Form(f): Form<ReadingForm>,
) -> WebResult<Response> {
    let kind = kind_of(&kind_text)?;
    let new = f.reading(reader.person.units)?;
    let (who, at) = (reader.person.clone(), seat.clone());
    let outcome = app.store.run(move |c| readings::record_reading(c, &who, id, &at, kind, &new)).await;
    let answer = taken(outcome, &f)?;
    if answer.stored && !wants_fragment(&headers) {
        return Ok(Redirect::to(&format!("/rebuilds/{id}/seats/{seat}/sheets/{kind_text}")).into_response());
    }
    let (r, s, k) = load(&app, id, seat).await?;
    let mut p = build(&reader, &r, &s, &k, kind, &answer.params);
    p.ask = answer.ask.as_ref().map(|a| slip::of_seat(a, reader.person.units));
    answer.put(&mut p, &f);
    let body = if wants_fragment(&headers) { p.render()? } else { p.whole().render()? };
    Ok((answer.status, Html(body)).into_response())
}

impl ReadingForm {
    /// What is to be taken.
    fn reading(&self, own: Units) -> WebResult<NewReading> {
        // Without the id that the page made for it, a reading that is sent twice would be kept twice.
        let Ok(id) = self.id.parse() else { return Err(WebError::Unreadable) };
        Ok(NewReading {
            id,
            cell: self.cell.clone(),
            text: self.text.clone(),
            instrument: self.instrument.parse().ok(),
            over: self.over.parse().ok(),
            sure: self.sure,
            // The unit that stood in the entry when it was typed counts, even if it is sent later.
            units: match self.units.as_str() {
                "in" => Units::Inch,
                "mm" => Units::Metric,
                _ => own,
            },
            reason: self.reason.clone(),
        })
    }
}

/// What became of a reading, as its page says it.
struct Answered {
    stored: bool,
    status: StatusCode,
    params: SheetParams,
    error: String,
    field: String,
    ask: Option<Reading>,
}

/// What to answer; an error where the page has nothing to say to it.
fn taken(outcome: Result<Outcome, StoreError>, f: &ReadingForm) -> WebResult<Answered> {
    let mut out = Answered {
        stored: false,
        status: StatusCode::UNPROCESSABLE_ENTITY,
        params: SheetParams { cell: f.cell.clone(), text: f.text.clone() },
        error: String::new(),
        field: "text".to_owned(),
        ask: None,
    };
    match outcome {
        Ok(Outcome::Stored | Outcome::Repeated) => {
            (out.stored, out.status, out.params) = (true, StatusCode::OK, SheetParams::default());
        }
        Ok(Outcome::Ask(a)) => out.ask = Some(a),
        Err(StoreError::Refused(e)) => (out.error, out.field) = (e.message, e.field),
        Err(StoreError::Conflict(s) | StoreError::Held(s)) => (out.status, out.error) = (StatusCode::CONFLICT, s),
        Err(e) => return Err(e.into()),
    }
    Ok(out)
}

impl Answered {
    fn put(&self, p: &mut SheetPage, f: &ReadingForm) {
        p.error.clone_from(&self.error);
        p.field.clone_from(&self.field);
        p.reason = if self.stored { String::new() } else { f.reason.chars().take(400).collect() };
        if !self.stored {
            // What was typed stays; the page is not a place to keep ten thousand characters.
            p.typed = f.text.chars().take(400).collect();
        }
    }
}

#[derive(Deserialize)]
pub struct InstrumentForm {
    #[serde(default)]
    instrument: String,
}

/// Chooses the instrument of a sheet.
pub async fn instrument(
    State(app): State<App>,
    Worker(reader): Worker,
    Path((id, seat, kind_text)): Path<Place>,
    headers: HeaderMap,
    Form(f): Form<InstrumentForm>,
) -> WebResult<Response> {
    let kind = kind_of(&kind_text)?;
    let chosen: InstrumentId = f.instrument.parse().map_err(|_| WebError::Unreadable)?;
    let (who, at) = (reader.person.clone(), seat.clone());
    app.store.run(move |c| readings::choose_instrument(c, &who, id, &at, kind, chosen)).await?;
    if !wants_fragment(&headers) {
        return Ok(Redirect::to(&format!("/rebuilds/{id}/seats/{seat}/sheets/{kind_text}")).into_response());
    }
    let (r, s, k) = load(&app, id, seat).await?;
    Ok(Html(build(&reader, &r, &s, &k, kind, &SheetParams::default()).render()?).into_response())
}
