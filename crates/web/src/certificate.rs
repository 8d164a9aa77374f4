//! Certificate: what the customer gets; made to be printed.

use crate::app::App;
use crate::call_view::CallView;
use crate::error::WebResult;
use crate::extract::Reader;
use crate::found_left::FoundLeft;
use crate::reckoner::pinned::{self, PinRow};
use crate::seat_marks::marks;
use crate::seat_view::FitView;
use crate::view::{Shell, moment, page};
use askama::Template;
use axum::extract::{Path, State};
use chrono_tz::Tz;
use ironseat_core::call::Which;
use ironseat_core::decide;
use ironseat_core::journal_sheet::{Surface, so_far};
use ironseat_core::quantity::{Millimetres, show as fmt};
use ironseat_core::seat::steps::StepKind;
use ironseat_core::seat::surface_limits;
use ironseat_core::sheet::SheetKind;
use ironseat_drawing::{Fitted, SectionView, half_section};
use ironseat_store::readings::seat_records;
use ironseat_store::{RebuildId, bench, rebuilds, record, shop};

struct Surfaced {
    name: &'static str,
    min: String,
    mean: String,
    max: String,
    limit: String,
    gauge: String,
}

struct SeatPart {
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
#[template(path = "certificate.html")]
struct CertificatePage {
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
    released_as: String,
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
fn signatures(signs: &[rebuilds::SignOff], seat: &str, state: &decide::State, zone: Tz) -> String {
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

/// The certificate; before the rebuild is finished it says so across the top.
pub async fn show(State(app): State<App>, reader: Reader, Path(id): Path<RebuildId>) -> WebResult {
    let units = reader.person.units;
    let (b, records, verdict, settings, signs) = app
        .store
        .run(move |c| {
            let b = bench::load(c, id)?;
            let records = seat_records(c, &b.rebuild)?;
            Ok((b, records, record::verify_printed(c, id)?, shop::settings(c)?, rebuilds::signatures(c, id)?))
        })
        .await?;
    let state = &b.state;
    let seats = records
        .iter()
        .map(|rec| {
            let f = &rec.facts;
            let seat = &f.seat.id;
            let surfaces = [Which::Journal, Which::RingBore, Which::HousingBore, Which::RingOutside]
                .into_iter()
                .filter_map(|w| {
                    let m = rec.measured(w, None)?;
                    let g =
                        so_far(&m.rows, if w.outside() { Surface::Journal } else { Surface::Bore }, m.gauge.u.um())?;
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
                signed: signatures(&signs, seat, state, reader.person.zone),
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
            small: false,
            id: "cs",
        },
    );
    let (whole, chain) = match &verdict {
        record::Verdict::Whole { entries, head, .. } => (true, format!("{entries} entries, {head}")),
        other => (false, other.words()),
    };
    page(&CertificatePage {
        shell: Shell::new(&reader, &b.running, "", format!("/rebuilds/{id}/certificate"), String::new()),
        guard: settings.as_ref().is_none_or(|s| s.rules.guard_band),
        shop: settings.map_or(String::new(), |s| s.name),
        id,
        number: r.number.clone(),
        title: r.title.clone(),
        customer: r.customer.clone(),
        // What is the same for every machine of this kind is not said on paper: numbers, and what was turned round.
        pins: pinned::rows(&b, false, units, reader.person.zone),
        sheets: pinned::sheet_rows(&b, units, reader.person.zone),
        found_left: crate::found_left::rows(&b, units)
            .into_iter()
            .filter(|x| !x.limit.is_empty() || !x.notable.is_empty())
            .collect(),
        released_as: signs
            .iter()
            .filter(|s| s.seat.is_empty() && s.said != "released")
            .map(|s| s.said.clone())
            .collect::<Vec<_>>()
            .join("; "),
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
    })
}
