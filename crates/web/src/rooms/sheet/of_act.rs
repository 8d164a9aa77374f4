//! The sheet of an act: what it reads, the computation it ends in, and what of it is the number of the act.

use crate::ground::address::encode;
use crate::ground::error::{WebError, WebResult};
use crate::ground::extract::{Form, Reader, Worker, wants_fragment};
use crate::ground::view::{Shell, local, page};
use crate::parts::act_sheets::{address, part_name, where_to_read_on};
use crate::parts::answer::{AnswerView, FieldView, FigureView, Typed, answered, field, units_of};
use crate::parts::{drawn, slip};
use crate::rooms::sheet::view::{ActPart, CellView, InstrumentView, SheetPage, SheetParams, initials};
use crate::rooms::sheet::{InstrumentForm, ReadingForm, taken};
use crate::state::App;
use askama::Template as _;
use axum::extract::{Path, Query, State};
use axum::http::{HeaderMap, StatusCode};
use axum::response::{Html, IntoResponse as _, Redirect, Response};
use ironseat_core::Refusal;
use ironseat_core::quantity::show::capital;
use ironseat_core::quantity::{Units, number};
use ironseat_core::reckon::{as_typed, shown, typed_input, unit_in};
use ironseat_core::sheet::{Declared, Given, Outcome, Place, Reading, read_place};
use ironseat_store::read::sheet_room::{self, Room};
use ironseat_store::rows::act_sheet::ActSheet;
use ironseat_store::rows::shop::Instrument;
use ironseat_store::{Id, InstrumentId, RebuildId, StoreError, write};
use std::collections::BTreeMap;

type Where = (RebuildId, String, String);

async fn load(app: &App, (id, act, name): &Where) -> WebResult<(Room, &'static Declared)> {
    let sheet = Declared::of(name).ok_or(WebError::Store(StoreError::NotFound))?;
    let (id, act) = (*id, act.clone());
    Ok((app.store.run(move |c| sheet_room::room(c, id, &act, sheet.name)).await?, sheet))
}

fn is_typed(pairs: &[(String, String)], declared: &Declared, units: Units) -> Result<Given, Refusal> {
    let typed = Typed::of(pairs);
    let fields: Vec<_> = declared.given().into_iter().copied().collect();
    let mut given =
        Given { fields: typed_input(&fields, &|p| typed.at(p), &|p| typed.rows(p), units)?, ..Given::default() };
    for (name, what, _, most) in declared.counted() {
        let path = format!("count.{name}");
        let text = typed.at(&path);
        if text.trim().is_empty() {
            continue;
        }
        let n = number(&text).filter(|n| n.fract() == 0.0 && (1.0..=most as f64).contains(n));
        let n = n.ok_or_else(|| Refusal::new(&path, format!("expected a whole number from 1 to {most}: {what}")))?;
        given.counts.insert(name.to_owned(), n as usize);
    }
    Ok(given)
}

/// Builds the page. `extra` is a reading that is still being typed, `wrong` what was typed beside the readings and why
/// it was not taken.
#[expect(clippy::too_many_lines, reason = "what the sheet shows, from top to bottom")]
fn build(
    reader: &Reader,
    room: &Room,
    declared: &'static Declared,
    q: &SheetParams,
    extra: Option<(&str, f64)>,
    wrong: Option<(&[(String, String)], &Refusal)>,
) -> SheetPage {
    let (b, act) = (&room.bench, &room.act);
    let (units, zone) = (reader.person.units, reader.person.zone);
    let given = sheet_room::given(b, act, declared.name);
    let sheet = b.sheet(&act.id, declared.name);
    let mut values = sheet.map(ActSheet::values).unwrap_or_default();
    let standing = sheet.map(ActSheet::standing).unwrap_or_default();
    let places = declared.places(&given, &values);
    let active =
        places.iter().find(|p| p.key == q.cell).or_else(|| places.iter().find(|p| !values.contains_key(&p.key)));
    let expected = active.and_then(|p| declared.foretell(&given, &values, &p.key));
    if let Some((key, v)) = extra {
        values.insert(key.to_owned(), v);
    }
    let base = address(b.rebuild.id, &act.id, declared.name);
    let back = format!("/rebuilds/{}?step={}", b.rebuild.id, encode(&act.id));
    let id: InstrumentId = sheet.and_then(|s| s.instrument_id).unwrap_or_default();
    let cells = places.iter().map(|p| cell(p, sheet, &standing, active, &base, units, zone)).collect();
    let out = declared.outcome(&given, &values, sheet.and_then(|s| s.u_mm));
    let answer = |asked: &serde_json::Map<_, _>, map: &serde_json::Map<_, _>| {
        let mut view = answered(declared.entry().ok()?, asked, map, units);
        let place = |f: &FigureView| declared.headline.iter().position(|l| *l == f.name);
        let (mut asked_for, rest) = view.figures.into_iter().partition::<Vec<_>, _>(|f| place(f).is_some());
        asked_for.sort_by_key(place);
        (view.figures, view.rest, view.lead) = (asked_for, rest, true);
        view.drawing = drawn::drawn(declared.name, asked, map, units).unwrap_or_default();
        Some(view)
    };
    let mut part = ActPart {
        held: sheet_room::held(b, act, declared, units).map_or_else(String::new, |h| capital(&h)),
        read: values.len(),
        so_far: false,
        wants: String::new(),
        wrong: String::new(),
        verdict: None,
        answer: None,
        why: reckoner(declared, &given, &values, b.rebuild.id),
        ..head(declared, &given, units, wrong)
    };
    match &out {
        Outcome::Wants(w) => part.wants.clone_from(w),
        Outcome::Refused(r) => part.wrong = capital(&r.message) + ".",
        Outcome::SoFar(asked, map) => {
            part.so_far = true;
            // No judgement before the last: it would be one on half a circle.
            part.answer = answer(asked, map).map(|a| AnswerView {
                call: "",
                call_word: String::new(),
                words: String::new(),
                ..a
            });
        }
        Outcome::Answer(asked, map) => part.answer = answer(asked, map),
    }
    part.open |= !part.wants.is_empty() || matches!(out, Outcome::Refused(_));
    let map = part.answer.as_mut().map_or_else(String::new, |a| std::mem::take(&mut a.drawing));
    let drawing = where_to_read_on(declared, &given, &places, active, |p| standing.contains_key(&p.key));
    let mut done_says = String::new();
    if let (Some(m), Some(list)) =
        (b.state.limits(act), declared.left(&out).filter(|_| Declared::at(&act.id).any(|d| d.name == declared.name)))
    {
        let v = m.settled(&list);
        let shown = m.unit.show(v, units);
        let limit = m.limit(units);
        part.verdict = match m.against(v, units) {
            Some(wrong) => Some(("stop", "Stop", capital(&wrong) + ".")),
            None if limit.is_empty() => None,
            None => Some(("go", "Go", format!("{shown}; {limit}."))),
        };
        done_says = match b.state.done.get(&act.id).and_then(|d| d.value) {
            None => format!("{shown} stands in the field of its act, ready to be recorded there."),
            Some(old) if (old - v).abs() > 5e-5 => {
                format!(
                    "Its act was done with {}; this sheet says {shown} now: take it back there and do it again.",
                    m.unit.show(old, units)
                )
            }
            Some(_) => String::new(),
        };
    }
    let unit = active.map_or("", |p| if p.pressed() { "" } else { unit_in(p.field, units) });
    SheetPage {
        shell: Shell::new(
            reader,
            &b.running,
            "",
            format!("{base}?cell={}", q.cell),
            format!("/rebuilds/{}/events", b.rebuild.id),
        ),
        seen: b.rebuild.record_seq,
        number: b.rebuild.called(),
        back: back.clone(),
        base,
        finished: b.rebuild.finished_at.is_some(),
        seat_name: part_name(b, act),
        sheet_name: declared.title,
        says: declared.says.to_owned(),
        drawing,
        map,
        head: match active {
            Some(p) if standing.contains_key(&p.key) => format!("Correct {}", p.label),
            Some(p) => capital(&p.label),
            None if places.is_empty() => "First what stands beside it".into(),
            None => "All read".into(),
        },
        where_: active.map_or_else(String::new, |p| p.label.clone()),
        cell: active.map_or_else(String::new, |p| p.key.clone()),
        over: active.and_then(|p| standing.get(&p.key)).map_or_else(String::new, |r| r.id.to_string()),
        id: Id::new(),
        rebuild: b.rebuild.id,
        feeler: false,
        pressed: active.is_some_and(Place::pressed),
        expects: active.zip(expected).map_or_else(String::new, |(p, (v, off))| span(p, v, off, units)),
        expects_note: if expected.is_some() { "foretold from what was read".into() } else { String::new() },
        unit,
        system: units.sheet_unit(),
        instruments: instruments(&room.instruments, id, units),
        instrument: sheet.and_then(|s| s.instrument_id).map_or_else(String::new, |i| i.to_string()),
        coarse: String::new(),
        all: places.len(),
        figures: Vec::new(),
        call: None,
        fit: None,
        fit_title: String::new(),
        error: String::new(),
        field: String::new(),
        typed: q.text.clone(),
        signed: false,
        reason: String::new(),
        ask: None,
        table_of: Vec::new(),
        done_next: back,
        done_says,
        asks_first: part.open,
        of_act: Some(part),
        cells,
    }
}

fn cell(
    p: &Place,
    sheet: Option<&ActSheet>,
    standing: &BTreeMap<String, &ironseat_store::rows::reading::ReadingRow>,
    active: Option<&Place>,
    base: &str,
    units: Units,
    zone: chrono_tz::Tz,
) -> CellView {
    // A large force is read in kilonewtons: then its unit stands beside it.
    let said = |v: f64| match shown(p.field, v, units) {
        _ if p.pressed() => "drawn".to_owned(),
        (number, unit) if unit == unit_in(p.field, units) => number,
        (number, unit) => format!("{number} {unit}"),
    };
    let stands = standing.get(&p.key).copied();
    let earlier = |s: &ActSheet| {
        let own = s.readings.iter().filter(|r| r.cell == p.key && stands.is_some_and(|x| x.id != r.id));
        own.map(|r| said(r.value)).collect::<Vec<_>>().join(", ")
    };
    let missed = stands.filter(|_| p.is_length()).and_then(|r| {
        let off = r.value - r.expected?;
        let um = if p.field.ends_with("_mm") { off * 1000.0 } else { off };
        let um = ironseat_core::quantity::Micrometres::new(um).ok()?;
        Some(ironseat_core::quantity::show::signed(um, units).0)
    });
    CellView {
        key: p.key.clone(),
        label: p.label.clone(),
        value: stands.map_or_else(String::new, |r| said(r.value)),
        missed: missed.unwrap_or_default(),
        earlier: sheet.map_or_else(String::new, earlier),
        who: stands
            .map_or_else(String::new, |r| format!("{} {}", initials(&r.person), local(r.at, zone).format("%H:%M"))),
        href: format!("{base}?cell={}", p.key),
        active: active.is_some_and(|a| a.key == p.key),
        reading: stands.map_or_else(String::new, |r| r.id.to_string()),
    }
}

/// From least to most of what is foretold, in the reader's units.
fn span(p: &Place, v: f64, off: f64, units: Units) -> String {
    let of = |v: f64| shown(p.field, v, units).0;
    let (lo, hi) = (of(v - off), of(v + off));
    if lo == hi { of(v) } else { format!("{lo} – {hi}") }
}

fn instruments(list: &[Instrument], chosen: InstrumentId, units: Units) -> Vec<InstrumentView> {
    let today = ironseat_store::now().date();
    let note = |i: &Instrument| {
        let u = shown("u_um", i.u_mm * 1000.0, units);
        format!("U {} {}{}", u.0, u.1, if i.due_on < today { ", calibration overdue" } else { "" })
    };
    // One that was put away stands there for what it has read.
    list.iter()
        .filter(|i| i.in_use() || i.id == chosen)
        .map(|i| InstrumentView {
            id: i.id,
            name: i.name.clone(),
            chosen: i.id == chosen,
            note: note(i),
            overdue: i.due_on < today,
        })
        .collect()
}

/// The fields beside the readings: as typed when they were not taken, else as they are given.
fn head(declared: &Declared, given: &Given, units: Units, wrong: Option<(&[(String, String)], &Refusal)>) -> ActPart {
    let typed = match wrong {
        Some((pairs, _)) => Typed::of(pairs),
        None => {
            let fields: Vec<_> = declared.given().into_iter().copied().collect();
            Typed { map: as_typed(&fields, &given.fields).into_iter().collect() }
        }
    };
    // What was typed stays in the system that it was typed in.
    let system = wrong.map_or(Units::Metric, |(pairs, _)| units_of(pairs, units));
    let refusal = wrong.map(|w| w.1);
    let counts = declared.counted().into_iter().map(|(name, what, usual, _)| {
        let path = format!("count.{name}");
        let n = given.counts.get(name).map_or(usual, |n| *n).to_string();
        let text = if wrong.is_some() { typed.at(&path) } else { n };
        let said = refusal.filter(|r| r.field == path).map_or_else(String::new, |r| capital(&r.message) + ".");
        (name, what, text, said)
    });
    let view = |f: &ironseat_core::reckon::Field| field(f, "", &typed, system, refusal);
    let (needed, seldom): (Vec<_>, Vec<_>) = declared.given().into_iter().partition(|f| f.required);
    let filled =
        |f: &FieldView| !f.error.is_empty() || !f.value.is_empty() || f.group.iter().any(|g| !g.value.is_empty());
    let more: Vec<FieldView> = seldom.into_iter().map(view).collect();
    ActPart {
        fields: needed.into_iter().map(view).collect(),
        more_open: refusal.is_some() && more.iter().any(filled),
        more,
        counts: counts.collect(),
        units: if system == Units::Inch { "inch" } else { "metric" },
        open: refusal.is_some(),
        held: String::new(),
        read: 0,
        so_far: false,
        wants: String::new(),
        wrong: String::new(),
        verdict: None,
        answer: None,
        why: String::new(),
    }
}

/// The question in the Reckoner with what stands here.
fn reckoner(declared: &Declared, given: &Given, values: &BTreeMap<String, f64>, rebuild: RebuildId) -> String {
    let Ok(e) = declared.entry() else { return String::new() };
    let mut pairs = as_typed(e.fields, &declared.input(given, values, None));
    pairs.push(("units".into(), "metric".into()));
    pairs.push(("pin.rebuild".into(), rebuild.to_string()));
    format!("/reckoner/{}?{}", declared.name, serde_urlencoded::to_string(pairs).unwrap_or_default())
}

/// A sheet of an act.
pub async fn show(
    State(app): State<App>,
    reader: Reader,
    Path(at): Path<Where>,
    Query(q): Query<SheetParams>,
    headers: HeaderMap,
) -> WebResult {
    let (room, declared) = load(&app, &at).await?;
    let p = build(&reader, &room, declared, &q, None, None);
    if wants_fragment(&headers) { page(&p) } else { page(&p.whole()) }
}

/// The answer as it would be with what stands in the entry: nothing is stored.
pub async fn preview(
    State(app): State<App>,
    reader: Reader,
    Path(at): Path<Where>,
    Query(q): Query<SheetParams>,
) -> WebResult {
    let (room, declared) = load(&app, &at).await?;
    let units = reader.person.units;
    let given = sheet_room::given(&room.bench, &room.act, declared.name);
    let values = room.bench.sheet(&room.act.id, declared.name).map(ActSheet::values).unwrap_or_default();
    let place = declared.places(&given, &values).into_iter().find(|p| p.key == q.cell);
    let read = place.and_then(|p| read_place(&p, &q.text, units, None, true).ok());
    let extra = match read {
        Some(Reading::Value(v)) => Some((q.cell.as_str(), v)),
        _ => None,
    };
    let none = SheetParams { cell: q.cell.clone(), text: String::new() };
    Ok(Html(build(&reader, &room, declared, &none, extra, None).as_judged().render()?).into_response())
}

/// Takes a reading. As [`super::record`].
pub async fn record(
    State(app): State<App>,
    Worker(reader): Worker,
    Path(at): Path<Where>,
    headers: HeaderMap,
    Form(f): Form<ReadingForm>,
) -> WebResult<Response> {
    let new = f.reading(reader.person.units)?;
    let (who, to) = (reader.person.clone(), at.clone());
    let outcome = app.store.run(move |c| write::act_sheets::take(c, &who, to.0, &to.1, &to.2, &new)).await;
    let answer = taken(outcome, &f)?;
    if answer.stored && !wants_fragment(&headers) {
        return Ok(Redirect::to(&address(at.0, &at.1, &at.2)).into_response());
    }
    let (room, declared) = load(&app, &at).await?;
    let mut p = build(&reader, &room, declared, &answer.params, None, None);
    if let Some(a) = &answer.ask {
        let given = sheet_room::given(&room.bench, &room.act, declared.name);
        let values = room.bench.sheet(&room.act.id, declared.name).map(ActSheet::values).unwrap_or_default();
        let place = declared.places(&given, &values).into_iter().find(|p| p.key == f.cell);
        p.ask = place.map(|place| slip::of_act(a, place.field, reader.person.units));
    }
    answer.put(&mut p, &f);
    let body = if wants_fragment(&headers) { p.render()? } else { p.whole().render()? };
    Ok((answer.status, Html(body)).into_response())
}

/// Keeps what stands beside the readings.
pub async fn give(
    State(app): State<App>,
    Worker(reader): Worker,
    Path(at): Path<Where>,
    Form(pairs): Form<Vec<(String, String)>>,
) -> WebResult<Response> {
    let declared = Declared::of(&at.2).ok_or(WebError::Store(StoreError::NotFound))?;
    let units = units_of(&pairs, reader.person.units);
    let done = async {
        let given = is_typed(&pairs, declared, units)?;
        let (who, to) = (reader.person.clone(), at.clone());
        app.store.run(move |c| write::act_sheets::give(c, &who, to.0, &to.1, &to.2, &given)).await
    };
    let (status, refusal) = match done.await {
        Ok(()) => return Ok(Redirect::to(&address(at.0, &at.1, &at.2)).into_response()),
        Err(StoreError::Refused(r)) => (StatusCode::UNPROCESSABLE_ENTITY, r),
        Err(StoreError::Held(s) | StoreError::Conflict(s)) => (StatusCode::CONFLICT, Refusal::new("", s)),
        Err(e) => return Err(e.into()),
    };
    let (room, declared) = load(&app, &at).await?;
    let mut p = build(&reader, &room, declared, &SheetParams::default(), None, Some((&pairs, &refusal)));
    if refusal.field.is_empty() {
        p.error = refusal.message;
    }
    Ok((status, Html(p.render()?)).into_response())
}

/// Chooses the instrument of the sheet, or none.
pub async fn instrument(
    State(app): State<App>,
    Worker(reader): Worker,
    Path(at): Path<Where>,
    headers: HeaderMap,
    Form(f): Form<InstrumentForm>,
) -> WebResult<Response> {
    let chosen: Option<InstrumentId> = match f.instrument.as_str() {
        "" => None,
        text => Some(text.parse().map_err(|_| WebError::Unreadable)?),
    };
    let (who, to) = (reader.person.clone(), at.clone());
    app.store.run(move |c| write::act_sheets::choose_instrument(c, &who, to.0, &to.1, &to.2, chosen)).await?;
    if !wants_fragment(&headers) {
        return Ok(Redirect::to(&address(at.0, &at.1, &at.2)).into_response());
    }
    let (room, declared) = load(&app, &at).await?;
    Ok(Html(build(&reader, &room, declared, &SheetParams::default(), None, None).render()?).into_response())
}
