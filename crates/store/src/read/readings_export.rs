//! Every reading of a rebuild, from wherever it was readings: the sheets of its seats, the acts of its trail, what was
//! found. One list for the CSV file and for whatever else leaves the house.

use crate::db::schema::{answers, people};
use crate::read::bench::{self, Bench};
use crate::read::{self, sheet_room, shop};
use crate::rows::reading::ReadingRow;
use crate::rows::shop::Instrument;
use crate::{RebuildId, Result};
use chrono::{DateTime, NaiveDateTime};
use diesel::prelude::*;
use ironseat_core::anatomy::acts::Act;
use ironseat_core::decide::{Done, State};
use ironseat_core::quantity::{Millimetres, Units};
use ironseat_core::seat::surface_limits;
use ironseat_core::sheet::{Declared, SheetKind, Takes};
use ironseat_core::terms::{ActId, StepKind};
use serde::Serialize;

/// One reading. Lengths and their limits are in `unit`; limits that a reading does not have are none.
#[derive(Debug, Clone, Default, PartialEq, Serialize)]
#[allow(missing_docs)]
pub struct ExportedReading {
    /// Name of the seat or part.
    pub place: String,
    /// What is read there, as the bench says it.
    pub what: String,
    /// Seat and sheet, act or question, as the record names it.
    pub key: String,
    pub cell: String,
    /// Counts up with each correction of a cell.
    pub seq: i32,
    /// It is the newest of its cell, and so what is judged.
    pub stands: bool,
    pub value: Option<f64>,
    pub unit: &'static str,
    pub lower: Option<f64>,
    pub upper: Option<f64>,
    /// Where the limits come from.
    pub source: String,
    /// Expanded uncertainty of the instrument, k = 2.
    pub uncertainty: Option<f64>,
    pub typed: String,
    pub instrument: String,
    pub serial: String,
    pub person: String,
    #[serde(skip)]
    pub at: NaiveDateTime,
    /// Why it may stay outside its limits.
    pub reason: String,
}

fn limit(v: f64) -> Option<f64> {
    Some((v * 1e6).round() / 1e6)
}

fn of_sheets(b: &Bench, rows: Vec<(String, String, ReadingRow)>, gauges: &[Instrument]) -> Vec<ExportedReading> {
    let newest = |sheet, cell: &str| {
        rows.iter().filter(|(.., r)| r.sheet_id == sheet && r.cell == cell).map(|(.., r)| r.seq).max()
    };
    let one = |(seat, sheet, r): &(String, String, ReadingRow)| {
        let kind = StepKind::of(sheet).and_then(StepKind::sheet);
        let facts = b.rebuild.facts(seat).ok();
        let cells = kind.map_or_else(Vec::new, |k| k.cells());
        let cell = cells.iter().find(|c| c.key == r.cell);
        let (lower, upper, source) = match (kind, &facts) {
            (Some(SheetKind::Grid(which)), Some(f)) => {
                let (lo, hi, source) = surface_limits(which, f);
                (limit(lo), limit(hi), source)
            }
            (Some(SheetKind::Home), Some(f)) if cell.is_some_and(|c| c.takes == Takes::Depth) => {
                let d = &f.seat.depth;
                let at = |sign: f64| limit(d.expected_mm.get() + sign * d.tolerance_mm.get());
                (at(-1.0), at(1.0), f.seat.source.clone())
            }
            _ => (None, None, String::new()),
        };
        let gauge = gauges.iter().find(|g| Some(g.id) == r.instrument_id);
        let feeler = cell.is_some_and(|c| c.takes == Takes::Feeler);
        let label = cell.map_or(r.cell.as_str(), |c| &c.label);
        ExportedReading {
            place: facts.map_or_else(|| seat.clone(), |f| f.seat.name),
            what: format!("{}, {label}", StepKind::of(sheet).map_or_else(|| sheet.clone(), |k| k.name().to_owned())),
            key: format!("{seat}/{sheet}"),
            cell: r.cell.clone(),
            seq: r.seq,
            stands: newest(r.sheet_id, &r.cell) == Some(r.seq),
            value: Some(r.value),
            unit: if feeler { "goes_in" } else { "mm" },
            lower,
            upper,
            source,
            uncertainty: gauge.map(|g| g.u_mm),
            typed: r.typed.clone(),
            instrument: gauge.map_or_else(String::new, |g| g.name.clone()),
            serial: gauge.map_or_else(String::new, |g| g.serial.clone()),
            person: r.person.clone(),
            at: r.at,
            reason: String::new(),
        }
    };
    rows.iter().map(one).collect()
}

fn moment(micros: i64) -> NaiveDateTime {
    DateTime::from_timestamp_micros(micros).unwrap_or_default().naive_utc()
}

/// The number of an act with the single readings that make it.
fn of_act(s: &State, act: &Act, done: &Done) -> Vec<ExportedReading> {
    let Some((value, m)) = done.value.zip(s.limits(act)) else { return Vec::new() };
    let name = if act.body.is_empty() { act.id.as_str() } else { s.anatomy().name_of(&act.body) };
    let person = if done.second.is_empty() { done.by.clone() } else { format!("{}, {}", done.by, done.second) };
    let whole = ExportedReading {
        place: name.to_owned(),
        what: act.words.say(Units::Metric),
        key: act.id.clone(),
        cell: "judged".into(),
        seq: 1,
        stands: true,
        value: Some(value),
        unit: m.unit.word(),
        lower: m.lo,
        upper: m.hi,
        source: m.source,
        typed: if done.readings.is_empty() { value.to_string() } else { done.readings.clone() },
        person,
        at: moment(done.at),
        reason: done.reason.clone(),
        ..ExportedReading::default()
    };
    let single = |(k, text): (usize, &str)| ExportedReading {
        cell: (k + 1).to_string(),
        value: text.parse().ok(),
        typed: text.to_owned(),
        reason: String::new(),
        ..whole.clone()
    };
    let mut out: Vec<ExportedReading> = done.readings.split_whitespace().enumerate().map(single).collect();
    out.push(whole);
    out
}

/// Readings of the sheets of acts.
fn of_acts(b: &Bench, gauges: &[Instrument]) -> Vec<ExportedReading> {
    let mut out = Vec::new();
    for s in b.sheets.iter() {
        let Some((declared, act)) = Declared::of(&s.name).zip(b.state.act(&s.act)) else { continue };
        let places = declared.places(&sheet_room::given(b, act, &s.name), &s.values());
        let name = if act.body.is_empty() { act.id.as_str() } else { b.state.anatomy().name_of(&act.body) };
        for r in &s.readings {
            let place = places.iter().find(|p| p.key == r.cell);
            let gauge = gauges.iter().find(|g| Some(g.id) == r.instrument_id);
            let unit = place.filter(|p| !p.pressed()).map_or("", |p| p.unit_word());
            out.push(ExportedReading {
                place: name.to_owned(),
                what: format!("{}, {}", declared.title, place.map_or(r.cell.as_str(), |p| p.label.as_str())),
                key: format!("{}/{}", s.act, s.name),
                cell: r.cell.clone(),
                seq: r.seq,
                stands: s.standing().get(&r.cell).is_some_and(|x| x.id == r.id),
                value: Some(r.value),
                unit,
                uncertainty: gauge.map(|g| if unit == "um" { limit(g.u_mm * 1000.0).unwrap_or(0.0) } else { g.u_mm }),
                typed: r.typed.clone(),
                instrument: gauge.map_or_else(String::new, |g| g.name.clone()),
                serial: gauge.map_or_else(String::new, |g| g.serial.clone()),
                person: r.person.clone(),
                at: r.at,
                ..ExportedReading::default()
            });
        }
    }
    out
}

/// Every reading of a rebuild, in the order of seats, then of the trail, then of what was found.
///
/// # Errors
/// Not found.
pub fn readings(c: &mut MysqlConnection, id: RebuildId) -> Result<(Bench, Vec<ExportedReading>)> {
    let b = bench::load(c, id)?;
    let gauges = shop::list_instruments(c)?;
    let mut out = of_sheets(&b, read::seats::ledger(c, id)?, &gauges);
    out.extend(of_acts(&b, &gauges));
    let s = &b.state;
    for act in s.acts.iter() {
        let Some(done) = s.done.get(&act.id) else { continue };
        out.extend(of_act(s, act, done));
        // What a thermometer read, and the like: a seat's step keeps it in words.
        if done.of_seat && !done.detail.is_empty() && done.value.is_none() {
            let celsius = done.detail.strip_suffix(" °C").and_then(|v| v.parse().ok());
            out.push(ExportedReading {
                place: act
                    .seat
                    .as_ref()
                    .and_then(|x| s.anatomy().seat(&x.0))
                    .map_or_else(String::new, |x| x.name.clone()),
                what: act.words.say(Units::Metric),
                key: act.id.clone(),
                cell: "left".into(),
                seq: 1,
                stands: true,
                value: celsius,
                unit: if celsius.is_some() { "degc" } else { "" },
                typed: done.detail.clone(),
                person: done.by.clone(),
                at: moment(done.at),
                ..ExportedReading::default()
            });
        }
    }
    let times: Vec<(String, NaiveDateTime, String)> = answers::table
        .inner_join(people::table)
        .filter(answers::rebuild_id.eq(id))
        .select((answers::question, answers::at, people::name))
        .load(c)?;
    for q in s.questions.iter() {
        let Some((_, at, person)) = times.iter().find(|t| t.0 == q.id) else { continue };
        let Some(answer) = s.answers.get(&q.id) else { continue };
        let found = s.found(&q.id).unwrap_or_default();
        let one = |k: usize, value: Option<f64>| ExportedReading {
            place: s.anatomy().name_of(&q.about).to_owned(),
            what: q.words.clone(),
            key: ActId::Ask(q.id.clone()).to_string(),
            cell: (k + 1).to_string(),
            seq: 1,
            stands: true,
            value,
            unit: q.topic.unit().filter(|_| value.is_some()).map_or("", |u| u.word()),
            typed: if answer.value.is_empty() { answer.state.word().to_owned() } else { answer.value.clone() },
            person: person.clone(),
            at: *at,
            reason: answer.note.clone(),
            ..ExportedReading::default()
        };
        if found.is_empty() {
            out.push(one(0, None));
        }
        out.extend(found.iter().enumerate().map(|(k, v)| one(k, Some(*v))));
    }
    // A value as kept has the noise of a conversion behind its last digit.
    for t in &mut out {
        t.value = t.value.and_then(|v| Millimetres::new(v).ok()).and_then(|v| limit(v.get()));
    }
    Ok((b, out))
}
