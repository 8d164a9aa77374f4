//! Ledger: everything recorded on a rebuild, limits beside, corrections kept, and the journal beneath.

use crate::app::App;
use crate::error::WebResult;
use crate::extract::Reader;
use crate::found_left::{self, FoundLeft};
use crate::view::{Shell, moment, page};
use askama::Template;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse as _;
use ironseat_core::anatomy::Unit;
use ironseat_core::quantity::{Micrometres, Millimetres, Units, show as fmt};
use ironseat_core::seat::surface_limits;
use ironseat_core::sheet::{SheetKind, Takes};
use ironseat_core::trail::{self, StepKind};
use ironseat_store::rebuilds::{self, Overview};
use ironseat_store::record::{self, ReadingRow};
use ironseat_store::shop::{self, Instrument};
use ironseat_store::trail_record::{self, Trail};
use ironseat_store::{Id, journal};

struct Line {
    place: String,
    value: String,
    unit: &'static str,
    corrected: bool,
    change: String,
    instrument: String,
    who: String,
    at: String,
}

struct Group {
    seat: String,
    sheet: &'static str,
    limit: String,
    source: String,
    lines: Vec<Line>,
}

struct Event {
    seq: i32,
    at: String,
    who: String,
    words: String,
}

#[derive(Template)]
#[template(path = "ledger.html")]
struct LedgerPage {
    shell: Shell,
    id: Id,
    number: String,
    title: String,
    customer: String,
    has_seats: bool,
    found_left: Vec<FoundLeft>,
    groups: Vec<Group>,
    events: Vec<Event>,
    whole: bool,
    chain: String,
}

struct Loaded {
    over: Overview,
    trail: Trail,
    readings: Vec<(String, String, ReadingRow)>,
    instruments: Vec<Instrument>,
    entries: Vec<journal::Entry>,
    verdict: journal::Verdict,
}

async fn load(app: &App, id: Id, units: Units) -> WebResult<Loaded> {
    Ok(app
        .store
        .run(move |c| {
            Ok(Loaded {
                over: rebuilds::bench(c, id, units)?,
                trail: trail_record::trail(c, id)?,
                readings: record::ledger(c, id)?,
                instruments: shop::list_instruments(c)?,
                entries: journal::entries(c, id)?,
                verdict: journal::verify(c, id)?,
            })
        })
        .await?)
}

/// An entry of the journal in words.
fn words(kind: &str, body: &str, units: Units) -> String {
    let v: serde_json::Value = serde_json::from_str(body).unwrap_or_default();
    let s = |k: &str| v[k].as_str().unwrap_or("").to_owned();
    let sheet = || s("sheet").replace('_', " ");
    match kind {
        "started" => format!("started from {} version {}", s("anatomy"), v["version"]),
        "reading" => format!(
            "{} {} {}: {}{}",
            s("seat"),
            sheet(),
            s("cell"),
            s("typed"),
            if v["instrument"].is_null() { String::new() } else { format!(", {}", s("instrument")) }
        ),
        "correction" => format!("{} {} {}: {} over {}", s("seat"), sheet(), s("cell"), s("typed"), s("over")),
        "instrument" => format!("{} {}: took the {}", s("seat"), sheet(), s("instrument")),
        "step" => format!(
            "{}: {}{}",
            s("seat"),
            StepKind::of(&s("step")).map_or("", trail::name).to_lowercase(),
            if s("detail").is_empty() { String::new() } else { format!(", {}", s("detail").replace('_', " ")) }
        ),
        "reopened" => format!("{}: took back “{}”", s("seat"), StepKind::of(&s("step")).map_or("", trail::name).to_lowercase()),
        "clock" => format!(
            "{}: clock set, {} min {} s",
            s("label"),
            v["seconds"].as_i64().unwrap_or(0) / 60,
            v["seconds"].as_i64().unwrap_or(0) % 60
        ),
        "thermometer" => format!("{}: thermometer says {} °C", s("seat"), v["c"]),
        "overruled" => format!("{} {}: overruled, {}", s("seat"), s("topic").replace('_', " "), s("reason")),
        "signed" => format!("{}: signed as {}", s("seat"), s("role")),
        "ticked" => {
            let with = if s("second").is_empty() { String::new() } else { format!(", with {}", s("second")) };
            let read = v["value"].as_f64().map_or(String::new(), |x| {
                serde_json::from_value::<Unit>(v["unit"].clone()).map_or(String::new(), |u| format!(", {}", u.show(x, units)))
            });
            let why = if s("reason").is_empty() { String::new() } else { format!(", left so: {}", s("reason")) };
            format!("trail: {} done{read}{with}{why}", s("step"))
        }
        "wait over" => format!("trail: the wait of {} is over, {} s before its time", s("step"), v["left_s"]),
        "repaired" => format!("{} machined: {}; marks void", s("part"), s("what")),
        "repair taken back" => format!("{}: “{}” noted by mistake", s("part"), s("what")),
        "picture" => format!("picture beside {}, {}", s("question"), s("sha256").chars().take(12).collect::<String>()),
        "picture taken away" => "a picture taken away".into(),
        "version" => format!("version {} taken over instead of {}", v["to"], v["from"]),
        "unticked" => format!("trail: {} taken back", s("step")),
        "as found" => {
            let what = if s("state") == "recorded" { s("value") } else { s("state").replace('_', " ") };
            format!("as found, {}: {what}", s("question"))
        }
        "backed out" => format!(
            "backed out for {}: {}",
            s("for"),
            v["off"].as_array().map_or(String::new(), |l| l.iter().filter_map(|x| x.as_str()).collect::<Vec<_>>().join(", "))
        ),
        "finished" if s("said").is_empty() => "released".into(),
        "finished" => s("said"),
        other => other.to_owned(),
    }
}

fn groups(l: &Loaded, units: Units) -> Vec<Group> {
    let mut out = Vec::new();
    for seat in &l.over.rebuild.anatomy.seats {
        let Ok(facts) = l.over.rebuild.anatomy.facts(&seat.id) else { continue };
        for kind in SheetKind::ALL {
            let of_sheet: Vec<&ReadingRow> =
                l.readings.iter().filter(|(s, k, _)| *s == seat.id && k == kind.key()).map(|(.., r)| r).collect();
            if of_sheet.is_empty() {
                continue;
            }
            let (limit, source) = match kind {
                SheetKind::Grid(which) => {
                    let (lo, hi, source) = surface_limits(which, &facts);
                    let show = |v: f64| fmt::size(Millimetres::new(v).unwrap_or_default(), Millimetres::of(0.001), units).0;
                    (format!("{} … {}", show(lo), show(hi)), source)
                }
                SheetKind::Home => {
                    let d = &seat.depth;
                    let show = |v: f64| fmt::size(Millimetres::new(v).unwrap_or_default(), Millimetres::of(0.01), units).0;
                    (
                        format!(
                            "feeler out; {} … {}",
                            show(d.expected_mm.get() - d.tolerance_mm.get()),
                            show(d.expected_mm.get() + d.tolerance_mm.get())
                        ),
                        seat.source.clone(),
                    )
                }
            };
            let mut lines = Vec::new();
            for cell in kind.cells() {
                let mut here: Vec<&&ReadingRow> = of_sheet.iter().filter(|r| r.cell == cell.key).collect();
                here.sort_by_key(|r| r.seq);
                for (i, r) in here.iter().enumerate() {
                    let gauge = l.instruments.iter().find(|x| Some(x.id) == r.instrument_id);
                    let res = Millimetres::of(gauge.map_or(0.001, |g| g.resolution_mm));
                    let (value, unit) = if cell.takes == Takes::Feeler {
                        (if r.value > 0.5 { "in" } else { "out" }.to_owned(), "")
                    } else {
                        fmt::size(Millimetres::new(r.value).unwrap_or_default(), res, units)
                    };
                    let before = i.checked_sub(1).and_then(|j| here.get(j)).filter(|_| cell.takes != Takes::Feeler);
                    lines.push(Line {
                        place: cell.label.clone(),
                        value,
                        unit,
                        corrected: i + 1 < here.len(),
                        change: before
                            .and_then(|b| Micrometres::new((r.value - b.value) * 1000.0).ok())
                            .map_or(String::new(), |d| fmt::join(fmt::signed(d, units))),
                        instrument: gauge.map_or(String::new(), |g| g.name.clone()),
                        who: r.person.clone(),
                        at: r.at.format("%-d %b %H:%M").to_string(),
                    });
                }
            }
            let sheet = StepKind::of(kind.key()).map_or("", trail::name);
            out.push(Group { seat: seat.name.clone(), sheet, limit, source, lines });
        }
    }
    out
}

/// The ledger.
pub async fn show(State(app): State<App>, reader: Reader, Path(id): Path<Id>) -> WebResult {
    let l = load(&app, id, reader.person.units).await?;
    let (whole, chain) = match &l.verdict {
        journal::Verdict::Whole { entries, head } => (true, format!("{entries} entries, chain whole, head {}", &head[..16])),
        journal::Verdict::Broken { seq, why } => (false, format!("the chain breaks at entry {seq}: {why}")),
    };
    let r = &l.over.rebuild;
    page(&LedgerPage {
        shell: Shell::new(&reader, &l.over.running, "", format!("/rebuilds/{id}/ledger"), String::new()),
        id,
        number: r.number.clone(),
        title: r.title.clone(),
        customer: r.customer.clone(),
        has_seats: !r.anatomy.seats.is_empty(),
        found_left: found_left::rows(&l.trail, reader.person.units),
        groups: groups(&l, reader.person.units),
        events: l
            .entries
            .iter()
            .rev()
            .take(400)
            .map(|e| Event { seq: e.seq, at: moment(e.at), who: e.person.clone(), words: words(&e.kind, &e.body, reader.person.units) })
            .collect(),
        whole,
        chain,
    })
}

/// A field of CSV: quoted, and never taken for a formula by a spreadsheet.
fn field(s: &str) -> String {
    let guarded = if s.starts_with(['=', '+', '@', '\t', '\r']) { format!("'{s}") } else { s.to_owned() };
    format!("\"{}\"", guarded.replace('"', "\"\""))
}

/// All readings as CSV, in millimetres.
pub async fn csv(State(app): State<App>, reader: Reader, Path(id): Path<Id>) -> WebResult {
    let l = load(&app, id, reader.person.units).await?;
    let mut text = String::from("format,seat,sheet,cell,seq,value_mm,typed,instrument,person,at_utc\r\n");
    for (seat, sheet, r) in &l.readings {
        let gauge = l.instruments.iter().find(|x| Some(x.id) == r.instrument_id).map_or("", |g| &g.name);
        text.push_str(&format!(
            "iron-seat-readings-1,{},{},{},{},{},{},{},{},{}\r\n",
            field(seat),
            field(sheet),
            r.cell,
            r.seq,
            r.value,
            field(&r.typed),
            field(gauge),
            field(&r.person),
            r.at.format("%Y-%m-%dT%H:%M:%S%.6fZ")
        ));
    }
    let name = format!("attachment; filename=\"{}-readings.csv\"", l.over.rebuild.number);
    Ok(([(header::CONTENT_TYPE, "text/csv; charset=utf-8".to_owned()), (header::CONTENT_DISPOSITION, name)], text).into_response())
}
