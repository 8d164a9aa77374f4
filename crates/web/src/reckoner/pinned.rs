//! Answers of the Reckoner that are kept with a rebuild: asking for one, pinning it, and the list of them.

use super::as_sheet::ActChoice;
use super::{Typed, answered, page_for, units_of};
use crate::app::App;
use crate::error::{WebError, WebResult};
use crate::extract::{Form, Worker};
use crate::reckon_api::{Said, answer};
use crate::sheet::of_act::{address, part_name};
use crate::view::{encode, moment, page_as};
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse as _, Redirect, Response};
use chrono_tz::Tz;
use ironseat_core::Refusal;
use ironseat_core::quantity::Units;
use ironseat_core::reckon::{Entry, as_typed, entry, leads, question, typed_input};
use ironseat_core::sheet::Outcome;
use ironseat_store::act_sheets::{self, ActSheet};
use ironseat_store::bench::Bench;
use ironseat_store::pins::{self, Asked, NewPin, Pin};
use ironseat_store::{Id, PinId, RebuildId, StoreError};
use serde_json::{Map, Value};

/// So many figures of an answer stand in a list.
const IN_A_LINE: usize = 3;

/// Names in the address and in forms that are not fields of the question.
pub const OURS: &str = "pin.";

/// What stands in the address beside the question.
#[derive(Debug, Clone, Default)]
pub struct About {
    pub rebuild: Option<RebuildId>,
    pub seat: String,
    pub about: String,
    /// Act that it was read at.
    pub act: String,
    pub replaces: Option<PinId>,
}

impl About {
    pub fn of(pairs: &[(String, String)]) -> Self {
        let at = |name: &str| pairs.iter().find(|(k, _)| k.strip_prefix(OURS) == Some(name)).map(|(_, v)| v.as_str());
        Self {
            rebuild: at("rebuild").and_then(|v| v.parse().ok()),
            seat: at("seat").unwrap_or_default().to_owned(),
            about: at("about").unwrap_or_default().to_owned(),
            act: at("act").unwrap_or_default().to_owned(),
            replaces: at("replaces").and_then(|v| v.parse().ok()),
        }
    }
}

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
            Err(Said::Refused(r) | Said::Busy(r) | Said::Fault(r)) => return Err(StoreError::Refused(r)),
        };
        let new = NewPin {
            id,
            name: e.name.to_owned(),
            about: about.about.clone(),
            asked: Asked { input, answer: given },
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

/// A pinned sheet as lists show it.
pub struct PinRow {
    pub id: PinId,
    pub asks: &'static str,
    pub about: String,
    /// What came out, in a line.
    pub says: String,
    pub by: String,
    /// The question with what was typed, to be looked at or reckoned anew.
    pub href: String,
    pub stands: bool,
}

/// An answer in a line: its call and the figures that were asked for, else the first ones.
fn in_a_line(e: &Entry, asked: &Map<String, Value>, answer: &Map<String, Value>, units: Units) -> String {
    let mut a = answered(e, asked, answer, units);
    let leads = leads(e.name);
    if !leads.is_empty() {
        let place = |f: &super::FigureView| leads.iter().position(|l| *l == f.name);
        a.figures.retain(|f| place(f).is_some());
        a.figures.sort_by_key(place);
    }
    let figure = |f: &super::FigureView| format!("{} {} {}", f.label, f.number, f.unit);
    let span = |s: &super::SpanView| format!("{} {} … {} {}", s.label, s.cells[0], s.cells[2], s.unit);
    let figures = a.spans.iter().map(span).chain(a.figures.iter().filter(|f| f.figure).map(figure)).take(IN_A_LINE);
    let says = std::iter::once(a.call_word.clone()).chain(figures).map(|s| s.trim().to_owned());
    says.filter(|s| !s.is_empty()).collect::<Vec<_>>().join("; ")
}

/// The sheets of the acts of a rebuild on which something is read.
pub fn sheet_rows(b: &Bench, units: Units, zone: Tz) -> Vec<PinRow> {
    let row = |s: &ActSheet| {
        let last = s.readings.last()?;
        let (declared, out) = act_sheets::worked(b, s)?;
        let act = b.state.act(&s.act)?;
        let says = match &out {
            Outcome::Answer(asked, answer) => in_a_line(declared.entry().ok()?, asked, answer, units),
            Outcome::Refused(r) => r.message.clone(),
            Outcome::Wants(_) | Outcome::SoFar(..) => format!("{} read, not whole", s.values().len()),
        };
        Some(PinRow {
            id: Id::new(),
            asks: declared.title,
            about: part_name(b, act),
            says,
            by: format!("{}, {}", last.person, moment(last.at, zone)),
            href: address(b.rebuild.id, &s.act, &s.name),
            stands: true,
        })
    };
    b.sheets.iter().filter_map(row).collect()
}

fn row(b: &Bench, p: &Pin, stands: bool, units: Units, zone: Tz) -> Option<PinRow> {
    let e = entry(&p.name).ok()?;
    let asked = &p.document.0;
    let mut pairs = as_typed(e.fields, &asked.input);
    let ours =
        [("units", "metric".to_owned()), ("pin.rebuild", b.rebuild.id.to_string()), ("pin.about", p.about.clone())];
    pairs.extend(ours.map(|(k, v)| (k.to_owned(), v)));
    if stands {
        pairs.push(("pin.replaces".into(), p.id.to_string()));
    }
    let says = in_a_line(e, &asked.input, &asked.answer, units);
    Some(PinRow {
        id: p.id,
        asks: question(e.name),
        about: p.about.clone(),
        says,
        by: format!("{}, {}", p.by, moment(p.at, zone)),
        href: format!("/reckoner/{}?{}", e.name, serde_urlencoded::to_string(pairs).unwrap_or_default()),
        stands,
    })
}

/// The sheets of a rebuild: those that stand, or all that ever were.
pub fn rows(b: &Bench, all: bool, units: Units, zone: Tz) -> Vec<PinRow> {
    let stands = |p: &Pin| pins::standing(&b.pins).any(|s| s.id == p.id);
    b.pins.iter().filter(|p| all || stands(p)).filter_map(|p| row(b, p, stands(p), units, zone)).collect()
}

/// Questions that a seat fills a part of: what they ask, and their address.
pub fn of_seat(rebuild: RebuildId, seat: &str) -> Vec<(&'static str, String)> {
    let address = |name: &str| format!("/reckoner/{name}?pin.rebuild={rebuild}&pin.seat={}", encode(seat));
    ironseat_core::reckon::OF_SEAT.iter().map(|name| (question(name), address(name))).collect()
}
