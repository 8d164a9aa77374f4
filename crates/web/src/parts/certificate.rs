//! Certificate: what the customer gets; made to be printed.

use crate::ground::error::WebResult;
use crate::ground::extract::Reader;
use crate::ground::view::{Shell, moment};
use crate::parts::call::CallView;
use crate::parts::dispositions;
use crate::parts::dispositions::FateLine;
use crate::parts::fit::FitView;
use crate::parts::found_left::FoundLeft;
use crate::parts::joints::joints;
use crate::parts::pinned::{self, PinRow};
use crate::parts::seat_marks::marks;
use crate::state::App;
use askama::Template;
use chrono_tz::Tz;
use ironseat_core::decide;
use ironseat_core::journal_sheet::{Feature, so_far};
use ironseat_core::quantity::{Micrometres, Millimetres, show as fmt};
use ironseat_core::seat::surface_limits;
use ironseat_core::sheet::SheetKind;
use ironseat_core::terms::{StepKind, Surface};
use ironseat_drawing::{Fitted, SectionView, half_section};
use ironseat_store::chain::entry::Verdict;
use ironseat_store::read::bench::{self, Bench};
use ironseat_store::read::seats::{SeatRecord, seat_records};
use ironseat_store::read::{self, shop};
use ironseat_store::rows::rebuild::SignOff;
use ironseat_store::rows::shop::{Instrument, ShopSettings};
use ironseat_store::{RebuildId, chain};
use serde_json::{Value, json};

pub struct Surfaced {
    name: &'static str,
    min: String,
    mean: String,
    max: String,
    limit: String,
    gauge: String,
}

pub struct SeatPart {
    name: String,
    bearing: String,
    surfaces: Vec<Surfaced>,
    fit: Option<FitView>,
    method: String,
    heated: String,
    home: String,
    signed: String,
    remarks: Vec<String>,
}

#[derive(Template)]
#[template(path = "parts/certificate.html")]
pub struct CertificatePage {
    shell: Shell,
    shop: String,
    id: RebuildId,
    number: String,
    title: String,
    customer: String,
    found_left: Vec<FoundLeft>,
    pins: Vec<PinRow>,
    /// Sheets of acts.
    sheets: Vec<PinRow>,
    dispositions: Vec<FateLine>,
    /// What stands wrong on the machine, and what a lead released it with.
    remarks: Vec<String>,
    anatomy: String,
    version: u32,
    finished: String,
    released_by: String,
    section: String,
    seats: Vec<SeatPart>,
    chain: String,
    whole: bool,
    guard: bool,
}

/// Who signed a seat. What was signed and is another now was signed before: all signatures stand.
fn signatures(signs: &[SignOff], seat: &str, state: &decide::State, zone: Tz) -> String {
    let own: Vec<_> = signs.iter().filter(|s| s.seat == seat).collect();
    let second = own.last().is_some_and(|s| s.counter());
    // Those that stand today: one, or an apprentice's and the one beside it.
    let stand = match (state.signed(seat), state.under_signature(seat)) {
        (true, _) if second => 2,
        (_, true) => 1,
        _ => 0,
    };
    let words = own.iter().enumerate().map(|(k, s)| {
        let how = if s.counter() { "counter-signed by " } else { "" };
        let after = match (own.len() - k <= stand, state.half_signed.contains_key(seat)) {
            (false, _) => ", opened again since",
            (true, true) => ", waits for a counter-signature",
            (true, false) => "",
        };
        format!("{how}{} ({}), {}{after}", s.person, s.role, moment(s.at, zone))
    });
    words.collect::<Vec<_>>().join("; ")
}

/// What a certificate is made from.
pub struct Loaded {
    pub bench: Bench,
    /// Of the machine.
    pub serial: String,
    records: Vec<SeatRecord>,
    verdict: Verdict,
    settings: Option<ShopSettings>,
    signs: Vec<SignOff>,
    instruments: Vec<Instrument>,
}

impl Loaded {
    /// Name of the shop that did the work: what came from elsewhere with an archive is not ours.
    pub fn shop(&self) -> String {
        let from = &self.bench.rebuild.origin;
        if !from.is_empty() {
            return from.clone();
        }
        self.settings.as_ref().map_or_else(String::new, |s| s.name.clone())
    }
}

/// Reads it.
pub async fn load(app: &App, id: RebuildId) -> WebResult<Loaded> {
    let read = move |c: &mut _| {
        let bench = bench::load(c, id)?;
        Ok(Loaded {
            records: seat_records(c, &bench.rebuild)?,
            verdict: chain::rebuild::verify_printed(c, id)?,
            settings: shop::settings(c)?,
            signs: read::rebuilds::signatures(c, id)?,
            instruments: shop::list_instruments(c)?,
            serial: read::rebuilds::serial(c, id)?,
            bench,
        })
    };
    Ok(app.store.run(read).await?)
}

#[expect(clippy::too_many_lines, reason = "a certificate from its head to its foot")]
pub fn build(reader: &Reader, l: &Loaded) -> CertificatePage {
    let (b, records, verdict, settings, signs) = (&l.bench, &l.records, &l.verdict, &l.settings, &l.signs);
    let (units, id) = (reader.person.units, b.rebuild.id);
    let state = &b.state;
    let seats = records
        .iter()
        .map(|rec| {
            let f = &rec.facts;
            let seat = &f.seat.id;
            let surfaces = [Surface::Journal, Surface::RingBore, Surface::HousingBore, Surface::RingOutside]
                .into_iter()
                .filter_map(|w| {
                    let m = rec.measured(w, None)?;
                    let g =
                        so_far(&m.rows, if w.outside() { Feature::Journal } else { Feature::Bore }, m.gauge.u.um())?;
                    let (lo, hi, _) = surface_limits(w, f);
                    let show = |v: f64| fmt::size(Millimetres::new(v).unwrap_or_default(), m.gauge.resolution, units).0;
                    Some(Surfaced {
                        name: w.words(),
                        min: show(g.min.get()),
                        mean: show(g.mean.get()),
                        max: show(g.max.get()),
                        limit: format!("{} … {}", show(lo), show(hi)),
                        gauge: m.gauge.name.clone(),
                    })
                })
                .collect();
            let remarks = state
                .calls
                .iter()
                .filter(|c| c.seat == *seat)
                .flat_map(|c| {
                    let v = CallView::stored(c, units).unwrap_or_default();
                    let mut list = Vec::new();
                    if !v.overruled.is_empty() {
                        list.push(format!(
                            "Overruled ({}{}): {}. {}",
                            v.word.to_lowercase(),
                            if f.seat.critical { ", critical" } else { "" },
                            v.title,
                            v.overruled
                        ));
                    } else if !v.is_go {
                        list.push(format!("{}: {}", v.word, v.title));
                    }
                    if !v.overdue.is_empty() {
                        list.push(format!("Calibration overdue: {}", v.overdue));
                    }
                    list
                })
                .collect();
            SeatPart {
                name: f.seat.name.clone(),
                bearing: f.designation.clone(),
                surfaces,
                fit: rec.fit().ok().map(|fit| FitView::of(&fit, f, units, id)),
                method: state.method(seat).map_or(String::new(), |m| m.words().to_owned()),
                heated: state.step(seat, StepKind::Heat).map_or(String::new(), |s| s.detail.clone()),
                home: state
                    .call(seat, SheetKind::Home.key())
                    .and_then(|c| CallView::stored(c, units))
                    .map_or("not proved".into(), |c| format!("{} {}", c.title, c.figure)),
                signed: signatures(signs, seat, state, reader.person.zone),
                remarks,
            }
        })
        .collect();
    let r = &b.rebuild;
    let section = half_section(
        r.anatomy(),
        &SectionView {
            width: 968.0,
            height: 290.0,
            fitted: Fitted::Parts { on: &state.fitted(), scrapped: &state.scrapped },
            marks: &marks(state, id, None, units),
            selected: None,
            in_hand: None,
            joints: &joints(state),
            small: false,
            id: "cs",
        },
    );
    let (whole, chain) = match verdict {
        Verdict::Whole { entries, head, .. } => (true, format!("{entries} entries, {head}")),
        other => (false, other.words()),
    };
    CertificatePage {
        shell: Shell::new(reader, &b.running, "", format!("/rebuilds/{id}/certificate"), String::new()),
        guard: settings.as_ref().is_none_or(|s| s.rules.guard_band),
        shop: l.shop(),
        id,
        number: r.called(),
        title: r.title.clone(),
        customer: r.customer.clone(),
        // What is the same for every machine of this kind is not said on paper: numbers, and what was turned round.
        pins: pinned::rows(b, false, units, reader.person.zone),
        sheets: pinned::sheet_rows(b, units, reader.person.zone),
        found_left: crate::parts::found_left::rows(b, units)
            .into_iter()
            .filter(|x| !x.limit.is_empty() || !x.notable.is_empty())
            .collect(),
        dispositions: dispositions::of(b, reader.person.zone),
        remarks: {
            let released = signs.iter().filter(|s| s.seat.is_empty() && s.said != "released").map(|s| s.said.clone());
            state.tandem_remarks().into_iter().chain(released).collect()
        },
        anatomy: r.anatomy().name.clone(),
        version: r.anatomy().version,
        finished: r.finished_at.map_or(String::new(), |t| moment(t, reader.person.zone)),
        released_by: signs
            .iter()
            .filter(|s| s.seat.is_empty())
            .map(|s| s.person.clone())
            .collect::<Vec<_>>()
            .join(", "),
        section: section.svg,
        seats,
        chain,
        whole,
    }
}

/// The instruments that readings name, each once.
fn used(l: &Loaded) -> Vec<&Instrument> {
    let seats = l.records.iter().flat_map(|r| r.readings.iter());
    let acts = l.bench.sheets.iter().flat_map(|s| s.readings.iter());
    let ids: std::collections::BTreeSet<String> =
        seats.chain(acts).filter_map(|r| r.instrument_id).map(|i| i.to_string()).collect();
    l.instruments.iter().filter(|i| ids.contains(&i.id.to_string())).collect()
}

/// The same certificate as data for paper: every figure is that of the page. `pictures` are files with what they show.
pub fn paper(reader: &Reader, l: &Loaded, pictures: &[(String, String, String)]) -> Value {
    let p = build(reader, l);
    let units = reader.person.units;
    let seat = |s: &SeatPart| {
        let mut facts = Vec::new();
        if let Some(f) = s.fit.as_ref().filter(|_| !s.surfaces.is_empty()) {
            facts.push(["Interference".to_owned(), format!("{} … {} {}, mean {}", f.min, f.max, f.unit, f.mean)]);
            facts.push([
                "Clearance left".to_owned(),
                if f.left.is_empty() { f.left_note.clone() } else { f.left.clone() },
            ]);
        }
        let heated = if s.heated.is_empty() { String::new() } else { format!(", {}", s.heated) };
        let method = if s.method.is_empty() { "not yet".to_owned() } else { format!("{}{heated}", s.method) };
        let signed = if s.signed.is_empty() { "not yet".to_owned() } else { s.signed.clone() };
        facts.extend([
            ["Put on".to_owned(), method],
            ["Home".to_owned(), s.home.clone()],
            ["Signed".to_owned(), signed],
        ]);
        let surface = |x: &Surfaced| json!({"name": x.name, "min": x.min, "mean": x.mean, "max": x.max, "limit": x.limit, "gauge": x.gauge});
        json!({
            "name": s.name,
            "bearing": s.bearing,
            "surfaces": s.surfaces.iter().map(surface).collect::<Vec<_>>(),
            "facts": facts,
            "remarks": s.remarks,
        })
    };
    let found = |x: &FoundLeft| {
        let note: Vec<&str> = [x.notable, x.note.as_str()].into_iter().filter(|t| !t.is_empty()).collect();
        let note = note.join("; ");
        json!({"what": x.what, "found": x.found, "left": x.left, "change": x.change, "limit": x.limit, "source": x.source, "note": note})
    };
    let rows = |list: &[PinRow]| list.iter().map(|r| json!([r.asks, r.about, r.says, r.by])).collect::<Vec<_>>();
    let gauge = |i: &&Instrument| {
        let u = fmt::join(fmt::small(Micrometres::new(i.u_mm * 1000.0).unwrap_or_default(), units));
        json!({"name": i.name, "serial": i.serial, "u": u, "due": i.due_on.to_string()})
    };
    let released =
        if p.finished.is_empty() { "not yet".to_owned() } else { format!("{}, {}", p.finished, p.released_by) };
    let sheet = format!("{}, version {}", p.anatomy, p.version);
    let picture = |(file, of, by): &(String, String, String)| json!({"file": file, "of": of, "by": by});
    json!({
        "shop": p.shop,
        "number": p.number,
        "draft": p.finished.is_empty(),
        "head": [
            ["Machine", p.title.as_str()],
            ["Serial number", l.serial.as_str()],
            ["Customer", p.customer.as_str()],
            ["Build sheet", sheet.as_str()],
            ["Released", released.as_str()],
        ],
        "unit": units.sheet_unit(),
        "seats": p.seats.iter().map(seat).collect::<Vec<_>>(),
        "found_left": p.found_left.iter().map(found).collect::<Vec<_>>(),
        "parts": [
            {"title": "What became of the parts", "head": ["Part", "Becomes", "Why", "Who"], "rows": p.dispositions.iter().map(|f| json!([f.part, f.fate, f.why, f.by])).collect::<Vec<_>>()},
            {"title": "Read on the way", "head": ["Sheet", "Of", "Answer", "Who"], "rows": rows(&p.sheets)},
            {"title": "Reckoned", "head": ["Asked", "Of", "Answer", "Who"], "rows": rows(&p.pins)},
        ],
        "instruments": used(l).iter().map(gauge).collect::<Vec<_>>(),
        "pictures": pictures.iter().map(picture).collect::<Vec<_>>(),
        "remarks": p.remarks,
        "guard": if p.guard {
            "Limits judged with the guard band of ISO 14253-1, uncertainty at k = 2."
        } else {
            "Limits judged by simple acceptance, without guard band."
        },
        "estimates": "Estimated inputs: raceways from boundary sizes, ring mass from volume.",
        "whole": p.whole,
        "record": p.chain,
        "chain": p.chain.rsplit(' ').next().unwrap_or(""),
    })
}
