//! Ledger: everything recorded on a rebuild, limits beside, corrections kept, and the record beneath.

use crate::app::App;
use crate::error::WebResult;
use crate::extract::Reader;
use crate::found_left::{self, FoundLeft};
use crate::view::{Shell, moment, page};
use askama::Template;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse as _;
use ironseat_core::decide::Event;
use ironseat_core::quantity::{Micrometres, Millimetres, Units, show as fmt};
use ironseat_core::seat::steps::{self, StepKind};
use ironseat_core::seat::surface_limits;
use ironseat_core::sheet::{SheetKind, Takes};
use ironseat_store::bench::{self, Bench};
use ironseat_store::readings::{self, ReadingRow};
use ironseat_store::shop::{self, Instrument};
use ironseat_store::{RebuildId, record};

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

struct EntryLine {
    seq: i32,
    at: String,
    who: String,
    words: String,
}

#[derive(Template)]
#[template(path = "ledger.html")]
struct LedgerPage {
    shell: Shell,
    id: RebuildId,
    number: String,
    title: String,
    customer: String,
    found_left: Vec<FoundLeft>,
    groups: Vec<Group>,
    events: Vec<EntryLine>,
    whole: bool,
    chain: String,
    remarks: Vec<String>,
}

struct Loaded {
    bench: Bench,
    readings: Vec<(String, String, ReadingRow)>,
    instruments: Vec<Instrument>,
    entries: Vec<record::Entry>,
    verdict: record::Verdict,
}

async fn load(app: &App, id: RebuildId) -> WebResult<Loaded> {
    Ok(app
        .store
        .run(move |c| {
            Ok(Loaded {
                bench: bench::load(c, id)?,
                readings: readings::ledger(c, id)?,
                instruments: shop::list_instruments(c)?,
                entries: record::entries(c, id)?,
                verdict: record::verify_printed(c, id)?,
            })
        })
        .await?)
}

/// An entry in words: those that this program does not know are shown as they are kept.
fn words(l: &Loaded, e: &record::Entry, units: Units) -> String {
    Event::read(&e.kind, &e.body)
        .map_or_else(|| format!("{} {}", e.kind, e.body), |event| event.say(&l.bench.state, units))
}

fn groups(l: &Loaded, units: Units) -> Vec<Group> {
    let mut out = Vec::new();
    for seat in &l.bench.rebuild.anatomy().seats {
        let Ok(facts) = l.bench.rebuild.facts(&seat.id) else { continue };
        for kind in SheetKind::ALL {
            let of_sheet: Vec<&ReadingRow> =
                l.readings.iter().filter(|(s, k, _)| *s == seat.id && k == kind.key()).map(|(.., r)| r).collect();
            if of_sheet.is_empty() {
                continue;
            }
            let (limit, source) = match kind {
                SheetKind::Grid(which) => {
                    let (lo, hi, source) = surface_limits(which, &facts);
                    let show =
                        |v: f64| fmt::size(Millimetres::new(v).unwrap_or_default(), Millimetres::of(0.001), units).0;
                    (format!("{} … {}", show(lo), show(hi)), source)
                }
                SheetKind::Home => {
                    let d = &seat.depth;
                    let show =
                        |v: f64| fmt::size(Millimetres::new(v).unwrap_or_default(), Millimetres::of(0.01), units).0;
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
            let sheet = StepKind::of(kind.key()).map_or("", steps::name);
            out.push(Group { seat: seat.name.clone(), sheet, limit, source, lines });
        }
    }
    out
}

/// The ledger.
pub async fn show(State(app): State<App>, reader: Reader, Path(id): Path<RebuildId>) -> WebResult {
    let l = load(&app, id).await?;
    let whole = l.verdict.whole();
    let chain = l.verdict.short();
    let remarks = match &l.verdict {
        record::Verdict::Whole { remarks, .. } => remarks.clone(),
        _ => Vec::new(),
    };
    let r = &l.bench.rebuild;
    page(&LedgerPage {
        shell: Shell::new(&reader, &l.bench.running, "", format!("/rebuilds/{id}/ledger"), String::new()),
        id,
        number: r.number.clone(),
        title: r.title.clone(),
        customer: r.customer.clone(),
        found_left: found_left::rows(&l.bench, reader.person.units),
        groups: groups(&l, reader.person.units),
        events: l
            .entries
            .iter()
            .rev()
            .take(400)
            .map(|e| EntryLine {
                seq: e.seq,
                at: moment(e.at),
                who: e.person.clone(),
                words: words(&l, e, reader.person.units),
            })
            .collect(),
        whole,
        chain,
        remarks,
    })
}

/// A field of CSV: quoted, and never taken for a formula by a spreadsheet.
fn field(s: &str) -> String {
    let guarded = if s.starts_with(['=', '+', '-', '@', '\t', '\r', '\n']) { format!("'{s}") } else { s.to_owned() };
    format!("\"{}\"", guarded.replace('"', "\"\""))
}

/// All readings as CSV, in millimetres.
pub async fn csv(State(app): State<App>, _: Reader, Path(id): Path<RebuildId>) -> WebResult {
    let l = load(&app, id).await?;
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
    let name = format!("attachment; filename=\"{}-readings.csv\"", l.bench.rebuild.number);
    Ok(([(header::CONTENT_TYPE, "text/csv; charset=utf-8".to_owned()), (header::CONTENT_DISPOSITION, name)], text)
        .into_response())
}
