//! Bench: doing the work, all of it in one room. The half section on top is the map; the trail of acts stands on the
//! left, the act in hand in the middle, the call on the right.

mod act_in_hand;
pub mod pictures;
pub mod version;
mod view;

use crate::ground::address::encode;
use crate::ground::error::{WebResult, refused};
use crate::ground::extract::{Form, Lead, Reader, Worker, wants_fragment};
use crate::ground::view::page_around;
use crate::ground::view::page_as;
use crate::parts::section;
use crate::state::App;
use askama::Template as _;
use axum::extract::{Path, Query, State};
use axum::http::HeaderMap;
use axum::response::{Html, IntoResponse as _, Redirect, Response};
use ironseat_core::Refusal;
use ironseat_core::anatomy::acts::Act;
use ironseat_core::decide::{self, AnswerState, Command, Ticking};
use ironseat_core::inspect::Fate;
use ironseat_core::quantity::Units;
use ironseat_core::terms::Method;
use ironseat_core::terms::StepKind;
use ironseat_store::db::cache::Cache;
use ironseat_store::read::bench;
use ironseat_store::read::bench::Glance;
use ironseat_store::read::bench::Revision;
use ironseat_store::read::room;
use ironseat_store::read::room::Room;
use ironseat_store::write::forecasts;
use ironseat_store::{RebuildId, StoreError};
use serde::Deserialize;
use std::sync::Arc;
use view::{BenchPage, Live, build};

/// What of the bench is looked at.
#[derive(Deserialize, Default, Clone, PartialEq, Eq, Hash)]
#[serde(default)]
pub struct BenchQuery {
    /// Id of an act; with `seat`, the key of one of its steps.
    pub step: String,
    /// A seat: its act in hand.
    pub seat: String,
    /// Part that was forgotten or is to be got at.
    pub part: String,
    /// What is being said of a facing or an angle, before it is recorded.
    pub found: String,
}

/// The act that is looked at: the one named, else the seat's, else the one in hand.
fn looked_at<'a>(s: &'a decide::State, q: &BenchQuery) -> Option<&'a Act> {
    if let Some(act) = s.act(&q.step) {
        return Some(act);
    }
    let of_seat = |seat: &str| {
        let own = || s.acts.iter().filter(|x| x.seat.as_ref().is_some_and(|x| x.0 == seat));
        let open = || own().filter(|x| !s.is_done(&x.id) && !decide::State::optional(x));
        let kind = StepKind::of(&q.step).and_then(|k| s.act_of(seat, k));
        kind.or_else(|| open().find(|x| s.free(x))).or_else(|| open().next()).or_else(|| own().next_back())
    };
    if q.seat.is_empty() { s.in_hand() } else { of_seat(&q.seat).or_else(|| s.in_hand()) }
}

/// The seat whose figures the act that is looked at shows.
fn judged(s: &decide::State, q: &BenchQuery) -> Option<String> {
    let act = looked_at(s, q)?;
    match &act.seat {
        Some((seat, StepKind::Choose | StepKind::Heat | StepKind::PutOn)) => Some(seat.clone()),
        Some(_) => None,
        // What asks how the ring comes off knows how tight it sits.
        None if decide::questions_at(s, act).contains(&"removal.ways") => {
            decide::seat_at(s.anatomy(), act).map(str::to_owned)
        }
        None => None,
    }
}

/// The act that is looked at, and the seat whose figures it shows.
fn looks(s: &decide::State, q: &BenchQuery) -> (String, Option<String>) {
    (looked_at(s, q).map_or_else(String::new, |x| x.id.clone()), judged(s, q))
}

/// What a room's live part was made from: it is made again when any of it changes. The token is of the session, and so
/// is the person.
#[derive(PartialEq, Eq, Hash)]
struct MadeFrom {
    stand: Revision,
    csrf: String,
    inch: bool,
    /// An instrument is overdue from a day on.
    today: chrono::NaiveDate,
    query: BenchQuery,
}

/// The act that is looked at, and the room's live part.
type Made = (Arc<str>, Arc<str>);

/// About 70 kB each.
static MADE: Cache<MadeFrom, Made> = Cache::new(128);

/// What was read: all of it, or where the rebuild stands and the room that was made from it before.
enum Found {
    Cache(Box<Glance>, Made),
    Read(Box<Room>, Option<MadeFrom>),
}

/// The Bench of a rebuild. A room that nothing was written to since it was made is not made again, unless one of its
/// clocks runs.
pub async fn show(
    State(app): State<App>,
    reader: Reader,
    Path(id): Path<RebuildId>,
    Query(q): Query<BenchQuery>,
    headers: HeaderMap,
) -> WebResult {
    let (query, csrf, inch) = (q.clone(), reader.csrf.clone(), reader.person.units == Units::Inch);
    let found = app
        .store
        .run(move |c| {
            let at = bench::glance(c, id)?;
            let today = ironseat_store::now().date();
            let from = MadeFrom { stand: at.stand.clone(), csrf: csrf.clone(), inch, today, query: query.clone() };
            let waits = at.waits();
            if let Some(kept) = MADE.get(&from).filter(|_| !waits) {
                return Ok(Found::Cache(Box::new(at), kept));
            }
            let l = room::room(c, at, |s| looks(s, &query))?;
            Ok(Found::Read(Box::new(l), (!waits).then_some(from)))
        })
        .await?;
    let (rebuild, running, (act, live)) = match found {
        Found::Cache(at, kept) => (at.rebuild, at.running, kept),
        Found::Read(l, from) => {
            let made = build(&reader, &l, &q)?;
            let live: Made = (l.act.as_str().into(), made.render()?.into());
            if let Some(from) = from.filter(|_| !made.for_one_command()) {
                MADE.put(from, live.clone());
            }
            (l.bench.rebuild, l.bench.running, live)
        }
    };
    if wants_fragment(&headers) {
        return Ok(Html(live.to_string()).into_response());
    }
    let large = live.len();
    page_around(&BenchPage::around(&reader, &rebuild, &running, &act, live), large)
}

/// Where the trail was a room of its own.
pub async fn moved(Path(id): Path<RebuildId>, Query(q): Query<BenchQuery>) -> Redirect {
    let pairs = [("step", q.step), ("seat", q.seat), ("part", q.part), ("found", q.found)];
    let list: Vec<String> =
        pairs.iter().filter(|p| !p.1.is_empty()).map(|(k, v)| format!("{k}={}", encode(v))).collect();
    let query = if list.is_empty() { String::new() } else { format!("?{}", list.join("&")) };
    Redirect::permanent(&format!("/rebuilds/{id}{query}"))
}

/// What `bin/bench` compares pages with: who asks is looked up as for any page, and as many bytes are written.
pub async fn bare(_: Reader, Path(bytes): Path<usize>) -> Html<String> {
    Html(".".repeat(bytes.min(1 << 20)))
}

/// What is done at the bench.
#[derive(Deserialize, Default, Clone)]
#[serde(default)]
pub struct ActForm {
    act: String,
    /// Id of the act it is about.
    step: String,
    seat: String,
    topic: String,
    method: String,
    temperature: String,
    pin: String,
    second: String,
    value: String,
    reason: String,
    faces: String,
    question: String,
    state: String,
    note: String,
    part: String,
    what: String,
    /// What was foreseen, by what names it.
    of: String,
    repair: String,
    fate: String,
    /// `mark.KEY` for each mark that was seen.
    #[serde(flatten)]
    rest: std::collections::BTreeMap<String, String>,
}

impl ActForm {
    fn marks(&self) -> Vec<String> {
        self.rest.keys().filter_map(|k| k.strip_prefix("mark.").map(str::to_owned)).collect()
    }

    /// What the person wants to do.
    fn command(&self) -> Result<Command, StoreError> {
        let f = self.clone();
        Ok(match f.act.as_str() {
            "tick" => Command::Tick {
                act: f.step,
                said: Ticking {
                    second: f.second,
                    value: f.value,
                    reason: f.reason,
                    faces: f.faces,
                    temperature: f.temperature,
                },
            },
            "untick" => Command::TakeBack { act: f.step },
            "wait-over" => Command::WaitOver { act: f.step, why: f.reason },
            "choose" => {
                let method =
                    Method::of(&f.method).ok_or_else(|| Refusal::new("method", "choose one of the ways below"))?;
                Command::Choose { seat: f.seat, method }
            }
            "on-heater" => Command::OnHeater { seat: f.seat },
            "thermometer" => Command::Thermometer { seat: f.seat, temperature: f.temperature },
            "sign" => Command::Sign { seat: f.seat },
            "overrule" => Command::Overrule { seat: f.seat, topic: f.topic, reason: f.reason },
            "answer" => {
                let state = AnswerState::of(&f.state)
                    .ok_or_else(|| Refusal::new("state", "expected recorded, cannot tell or not present"))?;
                Command::Answer { question: f.question, state, value: f.value, note: f.note }
            }
            "dispose" => {
                let marks = f.marks();
                Command::Dispose { part: f.part, fate: Fate::of(&f.fate), reason: f.reason, marks }
            }
            "repair" => Command::Repair { part: f.part, what: f.what },
            "repair-back" => Command::RepairBack { repair: f.repair },
            "back-out" => Command::BackOut { part: f.part },
            _ => return Err(Refusal::new("act", "this is not known here").into()),
        })
    }
}

/// Does what was said, and goes on to what is in hand then.
pub async fn act(
    State(app): State<App>,
    Worker(reader): Worker,
    Path(id): Path<RebuildId>,
    Form(f): Form<ActForm>,
) -> WebResult<Response> {
    let who = reader.person.clone();
    let g = f.clone();
    let outcome = match g.command() {
        // What it is about is worked out from the records.
        _ if g.act == "explain" => app.store.run(move |c| forecasts::explain(c, &who, id, &g.of, &g.what)).await,
        Ok(command) => app.store.obey(who, id, command, g.pin).await,
        Err(e) => Err(e),
    };
    let step = format!("?step={}", encode(&f.step));
    let on = match (outcome, f.act.as_str()) {
        (Err(e), _) => return again(&app, &reader, id, f, e).await,
        // What was taken back, or whose wait runs, stays in view.
        (Ok(()), "untick" | "wait-over" | "on-heater" | "thermometer" | "overrule" | "explain") => step,
        // A seat's next step, where it can be done now.
        (Ok(()), "choose" | "tick" | "sign") if !f.seat.is_empty() => format!("?seat={}", encode(&f.seat)),
        (Ok(()), _) => String::new(),
    };
    Ok(Redirect::to(&format!("/rebuilds/{id}{on}")).into_response())
}

/// Who closes the rebuild, and why with something open.
#[derive(Deserialize, Default)]
#[serde(default)]
pub struct FinishForm {
    pin: String,
    reason: String,
}

/// Closes the rebuild.
pub async fn finish(
    State(app): State<App>,
    Lead(reader): Lead,
    Path(id): Path<RebuildId>,
    Form(f): Form<FinishForm>,
) -> WebResult<Response> {
    let who = reader.person.clone();
    let (pin, command) = (f.pin, Command::Release { reason: f.reason.clone() });
    match app.store.obey(who, id, command, pin).await {
        Ok(()) => Ok(Redirect::to(&format!("/rebuilds/{id}/certificate")).into_response()),
        Err(e) => {
            again_with(&app, &reader, id, BenchQuery::default(), e, |p| {
                (p.release_reason, p.can_finish) = (f.reason, true)
            })
            .await
        }
    }
}

/// The page again, with a sentence beside its field and what was typed.
async fn again(app: &App, reader: &Reader, id: RebuildId, f: ActForm, e: StoreError) -> WebResult<Response> {
    let q = BenchQuery {
        step: f.step.clone(),
        part: if f.act == "back-out" { f.part.clone() } else { String::new() },
        ..BenchQuery::default()
    };
    again_with(app, reader, id, q, e, |p| p.typed(f)).await
}

/// The page again, with a sentence beside its field.
async fn again_with(
    app: &App,
    reader: &Reader,
    id: RebuildId,
    q: BenchQuery,
    e: StoreError,
    typed: impl FnOnce(&mut Live),
) -> WebResult<Response> {
    let wants = if let StoreError::Refused(r) = &e { r.wants } else { None };
    let (status, field, error) = refused(e, "step")?;
    let asked = q.clone();
    let l = app.store.run(move |c| {
        let at = bench::glance(c, id)?;
        room::room(c, at, |s| looks(s, &asked))
    });
    let l = l.await?;
    let mut live = build(reader, &l, &q)?;
    (live.field, live.error, live.wants) = (field, error, wants);
    typed(&mut live);
    let (b, live) = (&l.bench, live.render()?.into());
    page_as(status, &BenchPage::around(reader, &b.rebuild, &b.running, &l.act, live))
}

/// The drawing alone.
pub async fn section_svg(State(app): State<App>, reader: Reader, Path(id): Path<RebuildId>) -> WebResult {
    let b = app.store.run(move |c| bench::look(c, id)).await?;
    Ok(crate::ground::view::svg_file(section::as_file(&b, reader.person.units)))
}
