//! What was foreseen in all rebuilds beside what came: from readings that had a forecast, floats after a shim, presses
//! with a trace, pairs with a push test.

use crate::db::schema::{people, readings, rebuilds, record as entries, rounds, sheets};
use crate::read::bench::{self, Bench};
use crate::read::sheet_room::worked;
use crate::rows::act_sheet::ActSheet;
use crate::{RebuildId, Result};
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::decide::Event;
use ironseat_core::foreseen::{self, ForecastKind, Foreseen};
use ironseat_core::sheet::Outcome;
use ironseat_core::terms::ActId;
use serde_json::{Map, Value};
use std::collections::BTreeSet;

/// So many readings are looked at, the newest first, and so many rebuilds.
const READINGS: i64 = 20_000;

const REBUILDS: i64 = 200;

/// A forecast with where it was made.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Seen {
    pub rebuild: RebuildId,
    pub number: String,
    /// Act or seat, for the address of the bench.
    pub at: String,
    pub place: String,
    /// The sheet and its place, or the act: by this it is said what happened there.
    pub of: String,
    pub foreseen: Foreseen,
    pub by: String,
    pub when: NaiveDateTime,
    /// The rebuild takes no more entries.
    pub finished: bool,
    /// What happened, and who said so; the newest stands.
    pub said: Option<(String, String)>,
}

/// Friction that a trace gave.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Press {
    pub rebuild: RebuildId,
    pub number: String,
    pub place: String,
    pub mu: f64,
    pub when: NaiveDateTime,
}

type Row = (RebuildId, String, String, String, String, String, f64, f64, String, NaiveDateTime);

type Counted = (Row, i32, Option<NaiveDateTime>);

/// Rebuilds of this shop: what another one foresaw and pressed says nothing of it.
#[diesel::dsl::auto_type]
fn ours() -> _ {
    let here: &'static str = "";
    rebuilds::table.filter(rebuilds::origin.eq(here)).select(rebuilds::id)
}

fn of_readings(c: &mut MysqlConnection) -> Result<Vec<Seen>> {
    let rows: Vec<Counted> = readings::table
        .inner_join(people::table)
        .inner_join(sheets::table.inner_join(rebuilds::table))
        .filter(readings::expected.is_not_null())
        .filter(rebuilds::origin.eq(""))
        .order(readings::at.desc())
        .limit(READINGS)
        .select((
            (
                rebuilds::id,
                rebuilds::number,
                sheets::seat,
                sheets::act,
                sheets::kind,
                readings::cell,
                readings::value,
                readings::expected.assume_not_null(),
                people::name,
                readings::at,
            ),
            readings::seq,
            rebuilds::finished_at,
        ))
        .load(c)?;
    let seen = |((rebuild, number, seat, act, kind, cell, value, expected, by, when), _, finished): Counted| {
        let sheet = Some(kind.as_str()).filter(|_| !act.is_empty());
        let foreseen = foreseen::of_reading(sheet, &cell, expected, value)?;
        Some(Seen {
            rebuild,
            number,
            at: if act.is_empty() { format!("seat={seat}") } else { format!("step={act}") },
            place: String::new(),
            of: format!("{}/{kind}/{cell}", if act.is_empty() { seat } else { act }),
            foreseen,
            by,
            when,
            finished: finished.is_some(),
            said: None,
        })
    };
    // What was read again says nothing of the forecast before it.
    Ok(rows.into_iter().filter(|r| r.1 == 0).filter_map(seen).collect())
}

fn moment(micros: i64) -> NaiveDateTime {
    chrono::DateTime::from_timestamp_micros(micros).unwrap_or_default().naive_utc()
}

/// Floats that were read again after their shim was changed: foreseen is the middle of the window.
fn floats(b: &Bench, out: &mut Vec<Seen>) {
    let s = &b.state;
    for act in s.acts.iter() {
        let Some(id) = ActId::of(&act.id).filter(|i| i.round() > 1) else { continue };
        let ActId::Float(f) = id.first_time() else { continue };
        let Some(float) = s.anatomy().floats.iter().find(|x| x.id == *f) else { continue };
        let Some((done, came)) = s.done.get(&act.id).and_then(|d| Some((d, d.value?))) else { continue };
        out.push(Seen {
            rebuild: b.rebuild.id,
            number: b.rebuild.number.clone(),
            at: format!("step={}", act.id),
            place: float.name.clone(),
            of: act.id.clone(),
            foreseen: foreseen::of_float(float, came),
            by: done.by.clone(),
            when: moment(done.at),
            finished: s.finished,
            said: None,
        });
    }
}

/// A sheet with what it asked and what it answered.
type Worked<'a> = (&'a ActSheet, Map<String, Value>, Map<String, Value>);

fn answers<'a>(b: &'a Bench, name: &str) -> Vec<Worked<'a>> {
    let of = |s: &'a ActSheet| match worked(b, s) {
        Some((_, Outcome::Answer(input, answer))) => Some((s, input, answer)),
        _ => None,
    };
    b.sheets.iter().filter(|s| s.name == name).filter_map(of).collect()
}

fn place_of(b: &Bench, act: &str) -> String {
    b.state.act(act).map_or_else(String::new, |a| b.state.anatomy().name_of(&a.body).to_owned())
}

fn sheets_of(b: &Bench, out: &mut Vec<Seen>, presses: &mut Vec<Press>) {
    let number = |m: &Map<String, Value>, k: &str| m.get(k).and_then(Value::as_f64);
    let one = |s: &ActSheet, foreseen: Foreseen| {
        let last = s.readings.last()?;
        Some(Seen {
            rebuild: b.rebuild.id,
            number: b.rebuild.number.clone(),
            at: format!("step={}", s.act),
            place: place_of(b, &s.act),
            of: format!("{}/{}", s.act, s.name),
            foreseen,
            by: last.person.clone(),
            when: last.at,
            finished: b.state.finished,
            said: None,
        })
    };
    for (s, input, answer) in answers(b, "press.trace") {
        out.extend(foreseen::of_trace(&input, &answer).and_then(|f| one(s, f)));
        if let (Some(mu), Some(last)) = (number(&answer, "mu"), s.readings.last()) {
            presses.push(Press {
                rebuild: b.rebuild.id,
                number: b.rebuild.number.clone(),
                place: place_of(b, &s.act),
                mu,
                when: last.at,
            });
        }
    }
    for (s, input, answer) in answers(b, "bush.closed") {
        if let (Some(foreseen), Some(came)) = (number(&input, "foreseen_um"), number(&answer, "closing_um")) {
            out.extend(one(s, Foreseen { kind: ForecastKind::Closing, foreseen, tolerance: None, came }));
        }
    }
    for (s, input, _) in answers(b, "runin.step") {
        out.extend(foreseen::of_run_in(&input).and_then(|f| one(s, f)));
    }
    // The spacers of a pair say what its push test will find.
    let pair = |act: &str| {
        let body = &b.state.act(act)?.body;
        b.state.anatomy().pairs.iter().position(|p| p.a == *body || p.b == *body || p.spacers.contains(body))
    };
    for (s, _, tested) in answers(b, "preload.push_test") {
        let spacers = answers(b, "preload.spacers");
        let same = spacers.iter().find(|(x, ..)| pair(&x.act).is_some() && pair(&x.act) == pair(&s.act));
        if let (Some(foreseen), Some(came)) =
            (same.and_then(|(.., a)| number(a, "preload_n")), number(&tested, "preload_n"))
        {
            let f = Foreseen { kind: ForecastKind::Preload, foreseen, tolerance: number(&tested, "u_preload_n"), came };
            out.extend(one(s, f));
        }
    }
}

/// What was said to have happened stands in the records.
fn explained(c: &mut MysqlConnection, out: &mut [Seen]) -> Result<()> {
    let ids: BTreeSet<String> = out.iter().map(|s| s.rebuild.to_string()).collect();
    let ids: Vec<RebuildId> = ids.iter().filter_map(|i| i.parse().ok()).collect();
    let kind = EXPLAINED;
    let rows: Vec<(RebuildId, String, String)> = entries::table
        .inner_join(people::table)
        .filter(entries::rebuild_id.eq_any(ids))
        .filter(entries::kind.eq(kind))
        .order((entries::rebuild_id, entries::seq))
        .select((entries::rebuild_id, entries::body, people::name))
        .load(c)?;
    for (rebuild, body, by) in rows {
        let Some(Event::Explained { of, what, .. }) = Event::read(EXPLAINED, &body) else { continue };
        for s in out.iter_mut().filter(|s| s.rebuild == rebuild && s.of == of) {
            s.said = Some((what.clone(), by.clone()));
        }
    }
    Ok(())
}

/// What came at an act further from what was foreseen than was said to be possible, with what was said of it: one query
/// where there is such.
///
/// # Errors
/// Database errors.
pub fn off_at(c: &mut MysqlConnection, b: &Bench, act: &str) -> Result<Vec<Seen>> {
    let again = ActId::of(act).is_some_and(|i| i.round() > 1);
    if !again && b.sheets.iter().all(|s| s.act != act) {
        return Ok(Vec::new());
    }
    let mut out = Vec::new();
    floats(b, &mut out);
    sheets_of(b, &mut out, &mut Vec::new());
    let at = format!("step={act}");
    out.retain(|s| s.at == at && s.foreseen.beyond());
    if !out.is_empty() {
        explained(c, &mut out)?;
    }
    Ok(out)
}

/// Kind of the entries.
const EXPLAINED: &str = "explained";

/// Everything that was foreseen, the newest first, and every press that gave a friction, oldest first.
///
/// # Errors
/// Database errors.
pub fn all(c: &mut MysqlConnection) -> Result<(Vec<Seen>, Vec<Press>)> {
    let mut out = of_readings(c)?;
    let with_sheets: Vec<RebuildId> = sheets::table
        .filter(sheets::kind.eq_any(["press.trace", "preload.push_test", "bush.closed", "runin.step"]))
        .filter(sheets::act.ne(""))
        .filter(sheets::rebuild_id.eq_any(ours()))
        .select(sheets::rebuild_id)
        .distinct()
        .limit(REBUILDS)
        .load(c)?;
    let with_rounds: Vec<RebuildId> = rounds::table
        .filter(rounds::rebuild_id.eq_any(ours()))
        .select(rounds::rebuild_id)
        .distinct()
        .limit(REBUILDS)
        .load(c)?;
    let ids: BTreeSet<String> = with_sheets.iter().chain(&with_rounds).map(ToString::to_string).collect();
    let mut presses = Vec::new();
    for id in ids.iter().filter_map(|i| i.parse().ok()) {
        let b = bench::look(c, id)?;
        floats(&b, &mut out);
        sheets_of(&b, &mut out, &mut presses);
    }
    explained(c, &mut out)?;
    out.sort_by_key(|s| std::cmp::Reverse(s.when));
    presses.sort_by_key(|p| p.when);
    Ok((out, presses))
}
