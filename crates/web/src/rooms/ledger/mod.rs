//! Ledger: everything recorded on a rebuild, limits beside, corrections kept, and the record beneath.

use crate::ground::error::WebResult;
use crate::ground::extract::Reader;
use crate::ground::view::{Shell, local, moment, page};
use crate::parts::act_sheets::part_name;
use crate::parts::dispositions::FateLine;
use crate::parts::found_left::{self, FoundLeft};
use crate::parts::pinned::{self, PinRow};
use crate::parts::readings_csv::file;
use crate::parts::{dispositions, files};
use crate::state::App;
use askama::Template;
use axum::extract::{Path, Query, State};
use chrono_tz::Tz;
use ironseat_core::decide::Event;
use ironseat_core::quantity::{Micrometres, Millimetres, Units, show as fmt};
use ironseat_core::reckon::shown;
use ironseat_core::seat::surface_limits;
use ironseat_core::sheet::{Declared, SheetKind, Takes};
use ironseat_core::terms::StepKind;
use ironseat_store::chain::entry::Verdict;
use ironseat_store::chain::rebuild::Entry;
use ironseat_store::read::bench::{self, Bench};
use ironseat_store::read::readings_export;
use ironseat_store::read::seats;
use ironseat_store::read::sheet_room;
use ironseat_store::read::shop;
use ironseat_store::rows::act_sheet::ActSheet;
use ironseat_store::rows::reading::ReadingRow;
use ironseat_store::rows::shop::Instrument;
use ironseat_store::{RebuildId, chain};
use serde::Deserialize;

struct LedgerRow {
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
    lines: Vec<LedgerRow>,
}

struct EntryLine {
    seq: i32,
    at: String,
    who: String,
    words: String,
}

#[derive(Template)]
#[template(path = "rooms/ledger/ledger.html")]
struct LedgerPage {
    shell: Shell,
    id: RebuildId,
    number: String,
    title: String,
    customer: String,
    /// The shop that it came from with an archive.
    origin: String,
    finished: bool,
    /// What was brought in just now.
    brought: String,
    found_left: Vec<FoundLeft>,
    pins: Vec<PinRow>,
    /// Sheets of acts.
    sheets: Vec<PinRow>,
    dispositions: Vec<FateLine>,
    to_order: usize,
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
    entries: Vec<Entry>,
    verdict: Verdict,
}

async fn load(app: &App, id: RebuildId) -> WebResult<Loaded> {
    Ok(app
        .store
        .run(move |c| {
            Ok(Loaded {
                bench: bench::load(c, id)?,
                readings: seats::ledger(c, id)?,
                instruments: shop::list_instruments(c)?,
                entries: chain::rebuild::entries(c, id)?,
                verdict: chain::rebuild::verify_printed(c, id)?,
            })
        })
        .await?)
}

/// An entry in words: those that this program does not know are shown as they are kept.
fn words(l: &Loaded, e: &Entry, units: Units) -> String {
    Event::read(&e.kind, &e.body)
        .map_or_else(|| format!("{} {}", e.kind, e.body), |event| event.say(&l.bench.state, units))
}

fn groups(l: &Loaded, units: Units, zone: Tz) -> Vec<Group> {
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
                    lines.push(LedgerRow {
                        place: cell.label.clone(),
                        value,
                        unit,
                        corrected: i + 1 < here.len(),
                        change: before
                            .and_then(|b| Micrometres::new((r.value - b.value) * 1000.0).ok())
                            .map_or(String::new(), |d| fmt::join(fmt::signed(d, units))),
                        instrument: gauge.map_or(String::new(), |g| g.name.clone()),
                        who: r.person.clone(),
                        at: local(r.at, zone).format("%-d %b %H:%M").to_string(),
                    });
                }
            }
            let sheet = StepKind::of(kind.key()).map_or("", StepKind::name);
            out.push(Group { seat: seat.name.clone(), sheet, limit, source, lines });
        }
    }
    out.extend(of_acts(l, units, zone));
    out
}

/// What was read at acts of the trail.
fn of_acts(l: &Loaded, units: Units, zone: Tz) -> Vec<Group> {
    let b = &l.bench;
    let group = |s: &ActSheet| {
        let (declared, act) = (Declared::of(&s.name)?, b.state.act(&s.act)?);
        let (given, values) = (sheet_room::given(b, act, &s.name), s.values());
        let mut lines = Vec::new();
        for place in declared.places(&given, &values) {
            let here: Vec<&ReadingRow> = s.readings.iter().filter(|r| r.cell == place.key).collect();
            for (i, r) in here.iter().enumerate() {
                let (value, unit) =
                    if place.pressed() { ("drawn".to_owned(), "") } else { shown(place.field, r.value, units) };
                let before = i.checked_sub(1).and_then(|j| here.get(j)).filter(|_| !place.pressed());
                lines.push(LedgerRow {
                    place: place.label.clone(),
                    value,
                    unit,
                    corrected: i + 1 < here.len(),
                    change: before.map_or_else(String::new, |b| {
                        let (number, unit) = shown(place.field, r.value - b.value, units);
                        format!("{number} {unit}")
                    }),
                    instrument: l
                        .instruments
                        .iter()
                        .find(|x| Some(x.id) == r.instrument_id)
                        .map_or_else(String::new, |g| g.name.clone()),
                    who: r.person.clone(),
                    at: local(r.at, zone).format("%-d %b %H:%M").to_string(),
                });
            }
        }
        let m = b.state.limits(act).filter(|_| declared.leaves.is_some());
        Some(Group {
            seat: part_name(b, act),
            sheet: declared.title,
            limit: m.as_ref().map_or_else(String::new, |m| m.limit(units)),
            source: m.map_or_else(String::new, |m| m.source),
            lines,
        })
    };
    b.sheets.iter().filter_map(group).filter(|g| !g.lines.is_empty()).collect()
}

/// What was done just before.
#[derive(Deserialize, Default)]
#[serde(default)]
pub struct LedgerQuery {
    brought: Option<u32>,
}

/// The ledger.
pub async fn show(
    State(app): State<App>,
    reader: Reader,
    Path(id): Path<RebuildId>,
    Query(q): Query<LedgerQuery>,
) -> WebResult {
    let l = load(&app, id).await?;
    let whole = l.verdict.whole();
    let chain = l.verdict.short();
    let remarks = match &l.verdict {
        Verdict::Whole { remarks, .. } => remarks.clone(),
        _ => Vec::new(),
    };
    let r = &l.bench.rebuild;
    let dispositions = dispositions::of(&l.bench, reader.person.zone);
    page(&LedgerPage {
        to_order: dispositions.iter().filter(|f| f.replace).count(),
        dispositions,
        shell: Shell::new(&reader, &l.bench.running, "", format!("/rebuilds/{id}/ledger"), String::new()),
        id,
        number: r.called(),
        title: r.title.clone(),
        customer: r.customer.clone(),
        origin: r.origin.clone(),
        finished: l.bench.state.finished,
        brought: match q.brought {
            None => String::new(),
            Some(1) => "1 reading was kept from the file.".into(),
            Some(n) => format!("{n} readings were kept from the file."),
        },
        found_left: found_left::rows(&l.bench, reader.person.units),
        pins: pinned::rows(&l.bench, true, reader.person.units, reader.person.zone),
        sheets: pinned::sheet_rows(&l.bench, reader.person.units, reader.person.zone),
        groups: groups(&l, reader.person.units, reader.person.zone),
        events: l
            .entries
            .iter()
            .rev()
            .take(400)
            .map(|e| EntryLine {
                seq: e.seq,
                at: moment(e.at, reader.person.zone),
                who: e.person.clone(),
                words: words(&l, e, reader.person.units),
            })
            .collect(),
        whole,
        chain,
        remarks,
    })
}

/// Every reading as CSV, in millimetres and the units beside.
pub async fn csv(State(app): State<App>, _: Reader, Path(id): Path<RebuildId>) -> WebResult {
    let (b, list) = app.store.run(move |c| readings_export::readings(c, id)).await?;
    Ok(files::table(&format!("{}-readings.csv", b.rebuild.number), file(&b, &list)?))
}
