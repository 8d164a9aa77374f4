//! Bench: doing the work. The half section is the map; the trail stands on the left, the step in hand below.

use crate::app::App;
use crate::call_view::CallView;
use crate::error::{WebError, WebResult};
use crate::extract::{Form, Hand, Lead, Reader, wants_fragment};
use crate::seat_view::FitView;
use crate::view::{ClockView, Shell, moment, page, page_as};
use askama::Template;
use axum::extract::{Path, Query, State};
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::{Html, IntoResponse as _, Redirect, Response};
use ironseat_core::Refusal;
use ironseat_core::call::{Method, Verdict, Which};
use ironseat_core::quantity::{Micrometres, Millimetres, Units, show as fmt};
use ironseat_core::seat::surface_limits;
use ironseat_core::trail::{self, StepKind};
use ironseat_drawing::{HalfSection, Mark, SeatMark, SectionView, half_section};
use ironseat_store::rebuilds::{self, Clock, Overview};
use ironseat_store::record::{SeatRecord, seat_record};
use ironseat_store::work::{self, Act};
use ironseat_store::{Id, StoreError};
use serde::Deserialize;
use std::collections::{BTreeMap, BTreeSet};

/// A step in the trail.
struct StepView {
    key: &'static str,
    name: &'static str,
    note: String,
    /// `done`, `hand`, `held`, `todo`, `clock`, or the key of a call.
    mark: &'static str,
    href: String,
    in_hand: bool,
    optional: bool,
}

/// A seat in the trail.
struct SeatView {
    name: String,
    done: usize,
    all: usize,
    open: bool,
    href: String,
    steps: Vec<StepView>,
}

/// The step in hand.
struct HandView {
    key: &'static str,
    name: &'static str,
    says: String,
    caution: &'static str,
    held: String,
    done: bool,
    done_by: String,
    detail: String,
    sheet: String,
    post: String,
    overrule: String,
    clock: Option<ClockView>,
    fit: Option<FitView>,
    target: String,
    reopen: bool,
    next: String,
}

#[derive(Template)]
#[template(path = "bench.html", blocks = ["live"])]
struct BenchPage {
    shell: Shell,
    id: Id,
    number: String,
    title: String,
    customer: String,
    finished: bool,
    can_finish: bool,
    section: HalfSection,
    seats: Vec<SeatView>,
    seat_name: String,
    bearing: String,
    hand: Option<HandView>,
    call: Option<CallView>,
    critical: bool,
    /// Label, value, and whether it is words.
    brief: Vec<(&'static str, String, bool)>,
    meanwhile: String,
    meanwhile_href: String,
    error: String,
    field: String,
    typed: String,
}

/// Parts that are on: the rings whose step is done.
pub fn fitted(o: &Overview) -> BTreeSet<String> {
    o.rebuild.anatomy.seats.iter().filter(|s| o.step(&s.id, StepKind::PutOn).is_some_and(|x| x.done)).map(|s| s.part.clone()).collect()
}

/// The seat that wants hands: one with a free step, before one that waits for its clock.
pub fn next_seat(o: &Overview) -> Option<String> {
    let seats = &o.rebuild.anatomy.seats;
    let open = |s: &&ironseat_core::anatomy::Seat| o.trail(&s.id).in_hand().is_some();
    let waits = |id: &str| o.clock(id).is_some_and(|k| k.left(ironseat_store::now()) > 0);
    seats.iter().filter(open).find(|s| !waits(&s.id)).or_else(|| seats.iter().find(open)).map(|s| s.id.clone())
}

/// The mark of each seat in the drawing.
pub fn marks(o: &Overview, selected: Option<&str>, units: Units) -> BTreeMap<String, SeatMark> {
    let now = ironseat_store::now();
    o.rebuild
        .anatomy
        .seats
        .iter()
        .map(|s| {
            let fit = o.call(&s.id, "fit");
            let signed = o.step(&s.id, StepKind::Sign).is_some_and(|x| x.done);
            let mean = fit.and_then(|f| {
                f.calls.iter().find_map(|c| match (&c.situation, c.figure) {
                    (ironseat_core::call::Situation::FitGood { mean, .. }, _) => Some(*mean),
                    _ => None,
                })
            });
            let worst = o
                .calls
                .iter()
                .filter(|c| c.seat == s.id && c.overruled_by.is_none())
                .filter_map(|c| c.calls.first())
                .filter(|c| {
                    !matches!(
                        c.situation,
                        ironseat_core::call::Situation::FitWaits { .. }
                            | ironseat_core::call::Situation::HomeWaits { .. }
                            | ironseat_core::call::Situation::NothingRead { .. }
                    )
                })
                .max_by_key(|c| c.verdict);
            let (mark, value) = if let Some(k) = o.clock(&s.id) {
                (
                    Mark::Clock,
                    format!(
                        "{} {}",
                        if k.kind == "heat" { "heating" } else { "cooling" },
                        if k.left(now) == 0 {
                            "time is up".into()
                        } else {
                            fmt::clock(ironseat_core::quantity::Seconds::of(k.left(now) as f64))
                        }
                    ),
                )
            } else if signed {
                (Mark::Go, mean.map_or("signed".into(), |m| format!("{}, signed", fmt::join(fmt::signed(m, units)))))
            } else {
                let shown = |m: Option<Micrometres>| m.map_or(String::new(), |m| fmt::join(fmt::signed(m, units)));
                match worst {
                    None if selected == Some(&s.id) => (Mark::InHand, "not measured".into()),
                    None => (Mark::Todo, "not measured".into()),
                    Some(c) => match c.verdict {
                        Verdict::Go => (Mark::Go, if mean.is_some() { shown(mean) } else { "good so far".into() }),
                        Verdict::Stop => (Mark::Stop, short(c, units)),
                        Verdict::LookAgain => (Mark::LookAgain, short(c, units)),
                        Verdict::Undecided => (Mark::Undecided, "undecided".into()),
                    },
                }
            };
            (s.id.clone(), SeatMark { mark, value, href: format!("/rebuilds/{}?seat={}", o.rebuild.id, s.id) })
        })
        .collect()
}

fn short(c: &ironseat_core::call::Call, units: Units) -> String {
    c.figure.map_or_else(|| c.verdict.word().to_lowercase(), |f| f.show(units))
}

#[derive(Deserialize, Default, Clone)]
pub struct BenchParams {
    #[serde(default)]
    seat: String,
    #[serde(default)]
    step: String,
}

struct Loaded {
    over: Overview,
    clocks: Vec<Clock>,
    record: Option<SeatRecord>,
    seat: String,
    step: Option<StepKind>,
}

/// Steps that show the fit, and so need the readings.
fn shows_fit(kind: Option<StepKind>) -> bool {
    matches!(kind, Some(StepKind::Choose | StepKind::Heat | StepKind::PutOn))
}

async fn load(app: &App, id: Id, q: BenchParams) -> WebResult<Loaded> {
    Ok(app
        .store
        .run(move |c| {
            let over = rebuilds::bench(c, id)?;
            let clocks = rebuilds::live_clocks(c)?;
            let seat = if over.rebuild.anatomy.seat(&q.seat).is_some() {
                q.seat
            } else {
                next_seat(&over).or_else(|| over.rebuild.anatomy.seats.first().map(|s| s.id.clone())).unwrap_or_default()
            };
            let step = StepKind::of(&q.step)
                .filter(|k| over.step(&seat, *k).is_some())
                .or_else(|| over.trail(&seat).in_hand())
                .or(Some(StepKind::Sign));
            let record = if shows_fit(step) && over.rebuild.anatomy.seat(&seat).is_some() {
                Some(seat_record(c, &over.rebuild, &seat)?)
            } else {
                None
            };
            Ok(Loaded { over, clocks, record, seat, step })
        })
        .await?)
}

fn trail_view(o: &Overview, seat: &str, step: Option<StepKind>) -> Vec<SeatView> {
    let id = o.rebuild.id;
    let views = o.rebuild.anatomy.seats.iter().map(|s| {
        let t = o.trail(&s.id);
        let (done, all) = t.progress();
        let steps = t
            .steps
            .iter()
            .filter(|x| x.kind.belongs(t.method))
            .map(|x| {
                let row = o.step(&s.id, x.kind);
                let is_done = row.is_some_and(|r| r.done);
                let held = t.held(x.kind);
                let clock =
                    o.clock(&s.id).filter(|k| matches!((k.kind.as_str(), x.kind), ("heat", StepKind::Heat) | ("cool", StepKind::Cool)));
                let verdict = x
                    .kind
                    .sheet()
                    .and_then(|k| o.call(&s.id, k.key()))
                    .filter(|c| c.overruled_by.is_none())
                    .and_then(rebuilds::StoredCall::verdict);
                let mark = match (clock, verdict, is_done) {
                    (Some(_), ..) => "clock",
                    (_, Some(v), true) => v.key(),
                    (.., true) => "go",
                    _ if held.is_some() => "held",
                    _ => "todo",
                };
                let note = match (clock, is_done, &held) {
                    (Some(k), ..) => fmt::clock(ironseat_core::quantity::Seconds::of(k.left(ironseat_store::now()) as f64)),
                    (_, true, _) => row.map_or(String::new(), |r| {
                        [Method::of(&r.detail).map_or(r.detail.clone(), |m| m.words().to_owned()), r.done_by.clone().unwrap_or_default()]
                            .into_iter()
                            .filter(|v| !v.is_empty())
                            .collect::<Vec<_>>()
                            .join(", ")
                    }),
                    (_, false, Some(why)) => format!("held: {why}"),
                    (_, false, None) if x.kind.optional() => "if you like: else the drawing's limits".into(),
                    _ => String::new(),
                };
                StepView {
                    key: x.kind.key(),
                    name: trail::name(x.kind),
                    note,
                    mark,
                    href: format!("/rebuilds/{id}?seat={}&step={}", s.id, x.kind.key()),
                    in_hand: s.id == seat && Some(x.kind) == step,
                    optional: x.kind.optional(),
                }
            })
            .collect();
        SeatView { name: s.name.clone(), done, all, open: s.id == seat, href: format!("/rebuilds/{id}?seat={}", s.id), steps }
    });
    views.collect()
}

fn hand_view(l: &Loaded, units: Units) -> WebResult<Option<HandView>> {
    let Some(kind) = l.step else { return Ok(None) };
    let o = &l.over;
    let Ok(facts) = o.rebuild.anatomy.facts(&l.seat) else { return Ok(None) };
    let t = o.trail(&l.seat);
    let row = o.step(&l.seat, kind);
    let done = row.is_some_and(|r| r.done);
    let base = format!("/rebuilds/{}/seats/{}", o.rebuild.id, l.seat);
    let fit = l.record.as_ref().map(SeatRecord::fit).and_then(Result::ok);
    Ok(Some(HandView {
        key: kind.key(),
        name: trail::name(kind),
        says: trail::says(kind, &facts, t.method, units),
        caution: kind.caution(t.method).map_or("", |c| c.words()),
        held: if done { String::new() } else { t.held(kind).unwrap_or_default() },
        done,
        done_by: row
            .filter(|r| r.done)
            .map_or(String::new(), |r| format!("{}, {}", r.done_by.clone().unwrap_or_default(), r.done_at.map_or(String::new(), moment))),
        detail: row.map_or(String::new(), |r| Method::of(&r.detail).map_or(r.detail.clone(), |m| m.words().to_owned())),
        sheet: kind.sheet().map_or(String::new(), |k| format!("{base}/sheets/{}", k.key())),
        post: format!("{base}/steps/{}", kind.key()),
        overrule: format!("{base}/overrule/{}", topic(kind)),
        clock: o.clock(&l.seat).map(ClockView::of),
        target: fit.as_ref().map_or(String::new(), |f| fmt::join(fmt::temperature(f.heat.target, units))),
        fit: fit.as_ref().map(|f| FitView::of(f, &facts, units)),
        reopen: done && kind.sheet().is_none() && kind != StepKind::Sign && o.rebuild.finished_at.is_none(),
        next: t
            .in_hand()
            .filter(|k| *k != kind)
            .map_or(String::new(), |k| format!("/rebuilds/{}?seat={}&step={}", o.rebuild.id, l.seat, k.key())),
    }))
}

/// The topic whose call stands beside a step.
fn topic(kind: StepKind) -> &'static str {
    match kind.sheet() {
        Some(k) => k.key(),
        None if matches!(kind, StepKind::Nip | StepKind::Sign) => "home",
        None => "fit",
    }
}

fn build(reader: &Reader, l: &Loaded) -> WebResult<BenchPage> {
    let units = reader.person.units;
    let o = &l.over;
    let r = &o.rebuild;
    let seat_marks = marks(o, Some(&l.seat), units);
    let on = fitted(o);
    let section = half_section(
        &r.anatomy,
        &SectionView { width: 968.0, height: 296.0, fitted: &on, marks: &seat_marks, selected: Some(&l.seat), small: false, id: "hs" },
    );
    let hand = hand_view(l, units)?;
    let call = l.step.and_then(|k| o.call(&l.seat, topic(k))).and_then(|c| CallView::stored(c, units));
    let seat = r.anatomy.seat(&l.seat);
    // While this ring cools or heats, another seat may want hands.
    let other = if o.clock(&l.seat).is_some() { next_seat(o).filter(|s| *s != l.seat) } else { None };
    let meanwhile = other
        .as_ref()
        .and_then(|s| Some((r.anatomy.seat(s)?, o.trail(s).in_hand()?)))
        .map_or(String::new(), |(s, k)| format!("{}, {}", trail::name(k), s.name.to_lowercase()));
    let all_signed = r.anatomy.seats.iter().all(|s| o.step(&s.id, StepKind::Sign).is_some_and(|x| x.done));
    let here = format!("/rebuilds/{}?seat={}&step={}", r.id, l.seat, l.step.map_or("", StepKind::key));
    Ok(BenchPage {
        shell: Shell::new(reader, &l.clocks, "", here, format!("/rebuilds/{}/events", r.id)),
        id: r.id,
        number: r.number.clone(),
        title: r.title.clone(),
        customer: r.customer.clone(),
        finished: r.finished_at.is_some(),
        can_finish: all_signed && r.finished_at.is_none(),
        section,
        seats: trail_view(o, &l.seat, l.step),
        seat_name: seat.map_or(String::new(), |s| s.name.clone()),
        bearing: seat.and_then(|s| r.anatomy.part(&s.part)).and_then(|p| p.designation.clone()).unwrap_or_default(),
        critical: seat.is_some_and(|s| s.critical),
        hand,
        call,
        brief: brief(o, &l.seat, units),
        meanwhile_href: other.map_or(String::new(), |s| format!("/rebuilds/{}?seat={s}", r.id)),
        meanwhile,
        error: String::new(),
        field: String::new(),
        typed: String::new(),
    })
}

/// What is known of a seat before anything is read.
fn brief(o: &Overview, seat: &str, units: Units) -> Vec<(&'static str, String, bool)> {
    let Ok(f) = o.rebuild.anatomy.facts(seat) else { return Vec::new() };
    let limits = |which| {
        let (lo, hi, _) = surface_limits(which, &f);
        let show = |v: f64| fmt::size(Millimetres::new(v).unwrap_or_default(), Millimetres::of(0.001), units).0;
        format!("{} … {} {}", show(lo), show(hi), units.sheet_unit())
    };
    let (lo, hi) = f.drawn_interference();
    let size = |v| fmt::size(v, Millimetres::of(0.1), units).0;
    vec![
        ("journal", limits(Which::Journal), false),
        ("ring bore", limits(Which::RingBore), false),
        ("tight by, drawn", format!("{} … {}", fmt::signed(lo, units).0, fmt::join(fmt::signed(hi, units))), false),
        ("bearing", format!("{} × {} × {}", size(f.bearing.d), size(f.bearing.outer), size(f.bearing.width)), false),
        ("housing bore", limits(Which::HousingBore), false),
        ("goes on from", format!("end {}, against {}", f.seat.from.letter(), f.seat.against), true),
        ("limits from", f.seat.source.clone(), true),
    ]
}

/// The Bench of a rebuild.
pub async fn show(
    State(app): State<App>,
    reader: Reader,
    Path(id): Path<Id>,
    Query(q): Query<BenchParams>,
    headers: HeaderMap,
) -> WebResult {
    let p = build(&reader, &load(&app, id, q).await?)?;
    if wants_fragment(&headers) { Ok(Html(p.as_live().render()?).into_response()) } else { page(&p) }
}

/// What `bin/bench` compares the Bench with: the same queries, as many bytes, no drawing and no template.
pub async fn bare(State(app): State<App>, _: Reader, Path((id, bytes)): Path<(Id, usize)>) -> WebResult {
    let l = load(&app, id, BenchParams::default()).await?;
    let mut body = l.over.rebuild.number;
    body.extend(std::iter::repeat_n('.', bytes.min(1 << 20).saturating_sub(body.len())));
    Ok(Html(body).into_response())
}

/// A page again, with a sentence beside the field and what was typed.
async fn again(app: &App, reader: &Reader, id: Id, q: BenchParams, e: StoreError, typed: String) -> WebResult {
    let (status, field, error) = match e {
        StoreError::Refused(Refusal { field, message, .. }) => (StatusCode::UNPROCESSABLE_ENTITY, field, message),
        StoreError::Held(s) | StoreError::Conflict(s) => (StatusCode::CONFLICT, "step".to_owned(), s),
        StoreError::TooMany(s) => (StatusCode::TOO_MANY_REQUESTS, "pin".to_owned(), s),
        other => return Err(other.into()),
    };
    let mut p = build(reader, &load(app, id, q).await?)?;
    p.error = error;
    p.field = field;
    p.typed = typed;
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
        Err(e) => again(&app, &reader, id, BenchParams { seat, step }, e, typed).await,
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
        Err(e) => again(&app, &reader, id, BenchParams { seat, step: f.step }, e, f.reason).await,
    }
}

#[derive(Deserialize)]
pub struct FinishForm {
    #[serde(default)]
    pin: String,
}

/// Closes the rebuild.
pub async fn finish(State(app): State<App>, Lead(reader): Lead, Path(id): Path<Id>, Form(f): Form<FinishForm>) -> WebResult<Response> {
    let who = reader.person.clone();
    match app.store.run(move |c| rebuilds::finish(c, &who, id, &f.pin)).await {
        Ok(()) => Ok(Redirect::to(&format!("/rebuilds/{id}/certificate")).into_response()),
        Err(e) => again(&app, &reader, id, BenchParams::default(), e, String::new()).await,
    }
}

/// The drawing alone.
pub async fn section_svg(State(app): State<App>, reader: Reader, Path(id): Path<Id>) -> WebResult {
    let over = app.store.run(move |c| rebuilds::bench(c, id)).await?;
    let on = fitted(&over);
    let seat_marks = marks(&over, None, reader.person.units);
    let drawn = half_section(
        &over.rebuild.anatomy,
        &SectionView { width: 968.0, height: 318.0, fitted: &on, marks: &seat_marks, selected: None, small: false, id: "hs" },
    );
    Ok(([(header::CONTENT_TYPE, "image/svg+xml")], drawn.svg.replacen("<svg ", "<svg xmlns=\"http://www.w3.org/2000/svg\" ", 1))
        .into_response())
}
