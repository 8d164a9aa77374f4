//! What a sheet shows: entry, table, drawings, call and fit.

use crate::ground::error::WebResult;
use crate::ground::extract::Reader;
use crate::ground::view::{Shell, local};
use crate::parts::answer::{AnswerView, FieldView};
use crate::parts::call::CallView;
use crate::parts::fit::FitView;
use crate::parts::slip::AskView;
use crate::state::App;
use askama::Template;
use ironseat_core::instrument::capable;
use ironseat_core::journal_sheet::{Feature, so_far};
use ironseat_core::quantity::show::capital;
use ironseat_core::quantity::{Micrometres, Millimetres, Units, show as fmt};
use ironseat_core::seat::{steps, surface_limits};
use ironseat_core::sheet;
use ironseat_core::sheet::PLANES;
use ironseat_core::sheet::SheetKind;
use ironseat_core::sheet::Takes;
use ironseat_core::sheet::station;
use ironseat_core::terms::{StepKind, Surface};
use ironseat_drawing::{JournalMap, LandView, journal_map, land_view};
use ironseat_store::read::rebuilds;
use ironseat_store::read::seats::{SeatRecord, seat_record};
use ironseat_store::rows::rebuild::{Clock, Rebuild};
use ironseat_store::{Id, InstrumentId, RebuildId, SheetId};
use serde::Deserialize;

/// A cell in the table.
pub(super) struct CellView {
    pub(super) key: String,
    pub(super) label: String,
    pub(super) value: String,
    /// Signed distance from what was foretold, if anything was.
    pub(super) missed: String,
    pub(super) earlier: String,
    pub(super) who: String,
    pub(super) href: String,
    pub(super) active: bool,
    pub(super) reading: String,
}

pub(super) struct InstrumentView {
    pub(super) id: InstrumentId,
    pub(super) name: String,
    pub(super) chosen: bool,
    pub(super) note: String,
    pub(super) overdue: bool,
}

#[derive(Template)]
#[template(path = "rooms/sheet/_live.html", blocks = ["judged"])]
pub(super) struct SheetPage {
    pub(super) shell: Shell,
    /// How far the record had come when this was read.
    pub(super) seen: i32,
    pub(super) number: String,
    pub(super) back: String,
    pub(super) base: String,
    pub(super) finished: bool,
    pub(super) seat_name: String,
    pub(super) sheet_name: &'static str,
    pub(super) says: String,
    pub(super) drawing: String,
    pub(super) map: String,
    pub(super) head: String,
    pub(super) where_: String,
    pub(super) cell: String,
    pub(super) over: String,
    pub(super) id: SheetId,
    /// Rebuild that the sheet belongs to.
    pub(super) rebuild: RebuildId,
    pub(super) feeler: bool,
    /// The place is pressed once it is done.
    pub(super) pressed: bool,
    pub(super) expects: String,
    pub(super) expects_note: String,
    pub(super) unit: &'static str,
    /// The system that a number without a unit is in.
    pub(super) system: &'static str,
    pub(super) instruments: Vec<InstrumentView>,
    pub(super) instrument: String,
    pub(super) coarse: String,
    pub(super) cells: Vec<CellView>,
    pub(super) figures: Vec<(&'static str, String, String)>,
    pub(super) all: usize,
    pub(super) call: Option<CallView>,
    pub(super) fit: Option<FitView>,
    pub(super) fit_title: String,
    pub(super) error: String,
    pub(super) field: String,
    pub(super) typed: String,
    /// It is signed: why it is read again is asked for.
    pub(super) signed: bool,
    pub(super) reason: String,
    pub(super) ask: Option<AskView>,
    pub(super) table_of: Vec<(String, Vec<String>)>,
    pub(super) done_next: String,
    pub(super) done_says: String,
    /// Something beside the readings is wanted first: the focus does not jump over it.
    pub(super) asks_first: bool,
    /// Of a sheet of an act: its head and its answer.
    pub(super) of_act: Option<ActPart>,
}

#[derive(Deserialize, Default, Clone)]
pub struct SheetParams {
    #[serde(default)]
    pub(super) cell: String,
    #[serde(default)]
    pub(super) text: String,
}

pub(super) type Place = (RebuildId, String, String);

pub(super) async fn load(app: &App, id: RebuildId, seat: String) -> WebResult<(Rebuild, SeatRecord, Vec<Clock>)> {
    Ok(app
        .store
        .run(move |c| {
            let r = rebuilds::get(c, id)?;
            let s = seat_record(c, &r, &seat)?;
            Ok((r, s, rebuilds::live_clocks(c)?))
        })
        .await?)
}

/// Plane and station of a grid cell, from 0.
pub fn place_of(cell: &str) -> Option<(usize, usize)> {
    let mut c = cell.chars();
    let letter = c.next()?;
    let plane = PLANES.iter().position(|p| *p == letter)?;
    let at = c.next()?.to_digit(10)? as usize;
    Some((at.checked_sub(1)?, plane))
}

/// What a person sees of one sheet; `cell` is where the entry stands, else the first empty one.
#[expect(clippy::too_many_lines, reason = "what the sheet shows, from top to bottom")]
pub(super) fn build(
    reader: &Reader,
    r: &Rebuild,
    record: &SeatRecord,
    clocks: &[Clock],
    kind: SheetKind,
    q: &SheetParams,
) -> SheetPage {
    let units = reader.person.units;
    let facts = &record.facts;
    let all = kind.cells();
    let standing = record.standing(kind);
    let at = |key: &str| standing.iter().find(|s| s.cell == key).copied();
    let active = all.iter().find(|c| c.key == q.cell).or_else(|| all.iter().find(|c| at(&c.key).is_none()));
    let base = format!("/rebuilds/{}/seats/{}/sheets/{}", r.id, facts.seat.id, kind.key());
    let chosen = record.chosen(kind);
    let resolution = Millimetres::of(chosen.map_or(0.001, |i| i.resolution_mm));
    let size = |v: f64, res: Millimetres| fmt::size(Millimetres::new(v).unwrap_or_default(), res, units);
    let step = StepKind::of(kind.key()).unwrap_or(StepKind::Journal);

    let cells: Vec<CellView> = all
        .iter()
        .map(|c| {
            let stands = at(&c.key);
            let shown = |v: f64, i: Option<InstrumentId>| match c.takes {
                Takes::Feeler => {
                    if v > 0.5 {
                        "in".to_owned()
                    } else {
                        "out".to_owned()
                    }
                }
                _ => size(v, record.instrument(i).map_or(resolution, |(_, g)| g.resolution)).0,
            };
            let earlier: Vec<String> = record
                .readings
                .iter()
                .filter(|x| stands.is_some_and(|s| s.sheet_id == x.sheet_id && s.cell == x.cell && s.id != x.id))
                .map(|x| shown(x.value, x.instrument_id))
                .collect();
            CellView {
                key: c.key.clone(),
                label: c.label.clone(),
                value: stands.map_or(String::new(), |s| shown(s.value, s.instrument_id)),
                missed: stands
                    .and_then(|s| Some(fmt::signed(Micrometres::new((s.value - s.expected?) * 1000.0).ok()?, units).0))
                    .unwrap_or_default(),
                earlier: earlier.join(", "),
                who: stands.map_or(String::new(), |s| {
                    format!("{} {}", initials(&s.person), local(s.at, reader.person.zone).format("%H:%M"))
                }),
                href: format!("{base}?cell={}", c.key),
                active: active.is_some_and(|a| a.key == c.key),
                reading: stands.map_or(String::new(), |s| s.id.to_string()),
            }
        })
        .collect();

    let mut p = SheetPage {
        shell: Shell::new(reader, clocks, "", format!("{base}?cell={}", q.cell), format!("/rebuilds/{}/events", r.id)),
        seen: r.record_seq,
        number: r.called(),
        back: format!("/rebuilds/{}?seat={}&step={}", r.id, facts.seat.id, step.key()),
        base,
        finished: r.finished_at.is_some(),
        seat_name: facts.seat.name.clone(),
        sheet_name: step.name(),
        says: steps::says(step, facts, None, units),
        drawing: String::new(),
        map: String::new(),
        head: String::new(),
        where_: active.map_or(String::new(), |c| c.label.clone()),
        cell: active.map_or(String::new(), |c| c.key.clone()),
        over: active.and_then(|c| at(&c.key)).map_or(String::new(), |s| s.id.to_string()),
        id: Id::new(),
        rebuild: r.id,
        feeler: active.is_some_and(|c| c.takes == Takes::Feeler),
        expects: String::new(),
        expects_note: String::new(),
        unit: units.sheet_unit(),
        system: units.sheet_unit(),
        pressed: false,
        done_says: String::new(),
        asks_first: false,
        of_act: None,
        instruments: instruments(record, kind, units),
        instrument: chosen.map_or(String::new(), |i| i.id.to_string()),
        coarse: String::new(),
        all: all.len(),
        figures: Vec::new(),
        call: None,
        fit: None,
        fit_title: String::new(),
        error: String::new(),
        field: String::new(),
        typed: q.text.clone(),
        signed: record.signed,
        reason: String::new(),
        ask: None,
        table_of: Vec::new(),
        done_next: format!("/rebuilds/{}?seat={}", r.id, facts.seat.id),
        cells,
    };
    p.head = match active {
        Some(c) if p.over.is_empty() => capital(&c.label),
        Some(c) => format!("Correct {}", c.label),
        None => "All read".into(),
    };
    match kind {
        SheetKind::Grid(which) => grid_view(&mut p, record, which, active.map(|c| c.key.as_str()), units, resolution),
        SheetKind::Home => {
            let d = &facts.seat.depth;
            if active.is_some_and(|c| c.takes == Takes::Depth) {
                let (v, u) = size(d.expected_mm.get(), resolution);
                p.expects = format!("{v} {u}");
                p.expects_note = format!("± {}, from {}", fmt::join(fmt::small(d.tolerance_mm.um(), units)), d.datum);
            } else {
                p.expects = "out".into();
                p.expects_note = "the thinnest feeler must not go in".into();
            }
        }
    }
    judge(&mut p, record, kind, None, units);
    p
}

pub(super) fn initials(name: &str) -> String {
    name.split_whitespace().filter_map(|w| w.chars().next()).take(2).collect()
}

pub(super) fn instruments(record: &SeatRecord, kind: SheetKind, units: Units) -> Vec<InstrumentView> {
    let nominal = sheet::nominal(kind, &record.facts);
    let chosen = record.chosen(kind).map(|i| i.id);
    (0..record.instruments.len())
        .filter(|i| record.reaches(kind, *i, nominal))
        .map(|i| {
            let it = &record.instruments[i];
            let overdue = record.shop.gauges[i].overdue;
            let u = fmt::join(fmt::small(Micrometres::new(it.u_mm * 1000.0).unwrap_or_default(), units));
            InstrumentView {
                id: it.id,
                name: it.name.clone(),
                chosen: chosen == Some(it.id),
                note: format!("U {u}{}", if overdue { ", calibration overdue" } else { "" }),
                overdue,
            }
        })
        .collect()
}

pub(super) fn grid_view(
    p: &mut SheetPage,
    record: &SeatRecord,
    which: Surface,
    cell: Option<&str>,
    units: Units,
    resolution: Millimetres,
) {
    let facts = &record.facts;
    let kind = SheetKind::Grid(which);
    let (lo, hi, _) = surface_limits(which, facts);
    let pairs: Vec<(String, f64)> = record.standing(kind).iter().map(|s| (s.cell.clone(), s.value)).collect();
    let rows = sheet::rows(&pairs);
    let next = cell.and_then(place_of);
    let done: Vec<(usize, usize)> = pairs.iter().filter_map(|(c, _)| place_of(c)).collect();
    let d = sheet::nominal(kind, facts);
    let length = if which == Surface::Journal { facts.land_length } else { facts.bearing.width };
    let written = format!(
        "⌀ {} {}",
        fmt::size(d, Millimetres::of(1.0), units).0,
        match which {
            Surface::Journal => facts.seat.shaft_class.clone(),
            Surface::HousingBore => facts.seat.housing_class.clone(),
            _ => String::new(),
        }
    );
    p.drawing = land_view(&LandView {
        size: &written,
        ratio: length.get() / d.get(),
        bore: !which.outside(),
        neighbours: which == Surface::Journal,
        next,
        done: &done,
        stations: sheet::STATIONS,
        name: which.words(),
        id: "land",
    });
    p.map = journal_map(&JournalMap {
        rows: &rows,
        planes: &['1', '2', '3', '4'],
        stations: &[station(1), station(2), station(3)],
        middle: f64::midpoint(lo, hi),
        half: (hi - lo) / 2.0,
        units,
        next,
        id: "map",
    });
    p.table_of = rows
        .iter()
        .enumerate()
        .map(|(i, row)| {
            (
                station(i + 1).to_owned(),
                row.iter()
                    .map(|v| {
                        v.map_or("—".into(), |v| {
                            fmt::size(Millimetres::new(v).unwrap_or_default(), resolution, units).0
                        })
                    })
                    .collect(),
            )
        })
        .collect();
    let gauge_u = record.chosen(kind).map_or(0.003, |i| i.u_mm);
    let show = |v: f64| fmt::size(Millimetres::new(v).unwrap_or_default(), resolution, units);
    match next.and_then(|(st, _)| sheet::foretell(&rows, st, gauge_u)) {
        Some((v, off)) => {
            p.expects = format!("{} – {}", show(v.get() - off.get()).0, show(v.get() + off.get()).0);
            p.expects_note = "foretold from what was read".into();
        }
        None => {
            p.expects = format!("{} – {}", show(lo).0, show(hi).0);
            p.expects_note = "its limits".into();
        }
    }
    if let Ok((_, ironseat_core::instrument::Capability::NotGood)) = capable(lo, hi, gauge_u) {
        p.coarse = format!(
            "This instrument can be wrong by {}, the tolerance is {}: near a limit it cannot tell.",
            fmt::join(fmt::small(Micrometres::new(gauge_u * 1000.0).unwrap_or_default(), units)),
            fmt::join(fmt::small(Micrometres::new((hi - lo) * 1000.0).unwrap_or_default(), units))
        );
    }
}

/// Figures, call and fit; `extra` is a reading that is still being typed.
pub(super) fn judge(p: &mut SheetPage, record: &SeatRecord, kind: SheetKind, extra: Option<(&str, f64)>, units: Units) {
    p.call = CallView::list(&record.calls(kind, extra), units).map(|c| c.of_seat(p.rebuild, &record.facts.seat.id));
    let SheetKind::Grid(which) = kind else { return };
    if let Some(m) = record.measured(which, extra)
        && let Some(g) = so_far(&m.rows, if which.outside() { Feature::Journal } else { Feature::Bore }, m.gauge.u.um())
    {
        let size = |v| fmt::size(v, m.gauge.resolution, units);
        let small = |v| fmt::small(v, units);
        let round =
            g.roundness.iter().copied().fold(Micrometres::default(), |a, b| if b.get() > a.get() { b } else { a });
        let (n, u) = size(g.min);
        p.figures.push(("smallest", n, u.into()));
        let (n, u) = size(g.max);
        p.figures.push(("largest", n, u.into()));
        let (n, u) = small(round);
        p.figures.push(("out of round", n, u.into()));
        let taper = g.taper.map(|t| fmt::signed(t, units));
        p.figures.push((
            "taper A to B",
            taper.as_ref().map_or("—".into(), |t| t.0.clone()),
            taper.map_or("", |t| t.1).into(),
        ));
    }
    let mut surfaces = record.surfaces();
    let live = record.measured(which, extra);
    match which {
        Surface::Journal => surfaces.journal = live,
        Surface::RingBore => surfaces.ring_bore = live,
        Surface::HousingBore => surfaces.housing_bore = live,
        Surface::RingOutside => surfaces.ring_outside = live,
    }
    match ironseat_core::seat::fit(&record.facts, &surfaces, &record.shop) {
        Ok(f) => {
            p.fit = Some(FitView::of(&f, &record.facts, units, p.rebuild));
            p.fit_title = CallView::list(&f.calls, units)
                .filter(|c| !c.is_go)
                .map_or(String::new(), |c| format!("{}: {}. {}", c.word, c.title, c.action));
        }
        Err(waits) => p.fit_title = waits.reason(units),
    }
}

/// What the sheet of an act shows beside its places.
pub(crate) struct ActPart {
    /// Fields beside the readings, and lists whose length may be said: field, what is counted, how many, what is wrong.
    pub fields: Vec<FieldView>,
    /// Those that are seldom needed, and whether something stands in one.
    pub more: Vec<FieldView>,
    pub more_open: bool,
    pub counts: Vec<(&'static str, String, String, String)>,
    pub units: &'static str,
    /// Something in them is wanted or wrong.
    pub open: bool,
    pub held: String,
    pub read: usize,
    pub so_far: bool,
    pub wants: String,
    pub wrong: String,
    /// What the act says of its number: key, word, sentence.
    pub verdict: Option<(&'static str, &'static str, String)>,
    pub answer: Option<AnswerView>,
    /// The same question in the Reckoner.
    pub why: String,
}

/// A sheet with the page around it.
#[derive(Template)]
#[template(path = "rooms/sheet/sheet.html")]
pub(super) struct Whole<'a> {
    shell: &'a Shell,
    live: &'a SheetPage,
}

impl SheetPage {
    /// With the page around it.
    pub(super) fn whole(&self) -> Whole<'_> {
        Whole { shell: &self.shell, live: self }
    }
}

/// What stands beside the readings of a sheet of an act.
#[derive(Template)]
#[template(path = "rooms/sheet/_sheet_head.html")]
pub(super) struct Given<'a> {
    x: &'a ActPart,
    base: &'a str,
    csrf: &'a str,
    may: bool,
}

/// See [`Given`]; who may not write reads it.
pub(super) fn given<'a>(x: &'a ActPart, base: &'a str, csrf: &'a str, may: bool) -> Given<'a> {
    Given { x, base, csrf, may }
}
