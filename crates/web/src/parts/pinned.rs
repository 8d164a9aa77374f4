//! Answers that are pinned to a rebuild, as rows.

use crate::ground::address::encode;
use crate::ground::view::moment;
use crate::parts::act_sheets::{address, part_name};
use crate::parts::answer::{OURS, answered};
use chrono_tz::Tz;
use ironseat_core::quantity::Units;
use ironseat_core::reckon::{Entry, as_typed, entry, question};
use ironseat_core::sheet::{Outcome, headline};
use ironseat_store::read::bench::Bench;
use ironseat_store::read::pins::{self, Pin};
use ironseat_store::read::sheet_room;
use ironseat_store::rows::act_sheet::ActSheet;
use ironseat_store::{Id, PinId, RebuildId};
use serde_json::{Map, Value};

/// So many figures of an answer stand in a list.
pub const IN_A_LINE: usize = 3;

/// What stands in the address beside the question.
#[derive(Debug, Clone, Default)]
pub struct About {
    pub rebuild: Option<RebuildId>,
    pub seat: String,
    pub about: String,
    /// Act that it was read at.
    pub act: String,
    pub replaces: Option<PinId>,
}

impl About {
    pub fn of(pairs: &[(String, String)]) -> Self {
        let at = |name: &str| pairs.iter().find(|(k, _)| k.strip_prefix(OURS) == Some(name)).map(|(_, v)| v.as_str());
        Self {
            rebuild: at("rebuild").and_then(|v| v.parse().ok()),
            seat: at("seat").unwrap_or_default().to_owned(),
            about: at("about").unwrap_or_default().to_owned(),
            act: at("act").unwrap_or_default().to_owned(),
            replaces: at("replaces").and_then(|v| v.parse().ok()),
        }
    }
}

/// A pinned sheet as lists show it.
pub struct PinRow {
    pub id: PinId,
    pub asks: &'static str,
    pub about: String,
    /// What came out, in a line.
    pub says: String,
    pub by: String,
    /// The question with what was typed, to be looked at or reckoned anew.
    pub href: String,
    pub stands: bool,
}

/// An answer in a line: its call and the figures that were asked for, else the first ones.
pub fn in_a_line(e: &Entry, asked: &Map<String, Value>, answer: &Map<String, Value>, units: Units) -> String {
    let mut a = answered(e, asked, answer, units);
    let first = headline(e.name);
    if !first.is_empty() {
        let place = |f: &crate::parts::answer::FigureView| first.iter().position(|l| *l == f.name);
        a.figures.retain(|f| place(f).is_some());
        a.figures.sort_by_key(place);
    }
    let figure = |f: &crate::parts::answer::FigureView| format!("{} {} {}", f.label, f.number, f.unit);
    let span = |s: &crate::parts::answer::SpanView| format!("{} {} … {} {}", s.label, s.cells[0], s.cells[2], s.unit);
    let figures = a.spans.iter().map(span).chain(a.figures.iter().filter(|f| f.figure).map(figure)).take(IN_A_LINE);
    let says = std::iter::once(a.call_word.clone()).chain(figures).map(|s| s.trim().to_owned());
    says.filter(|s| !s.is_empty()).collect::<Vec<_>>().join("; ")
}

/// The sheets of the acts of a rebuild on which something is read.
pub fn sheet_rows(b: &Bench, units: Units, zone: Tz) -> Vec<PinRow> {
    let row = |s: &ActSheet| {
        let last = s.readings.last()?;
        let (declared, out) = sheet_room::worked(b, s)?;
        let act = b.state.act(&s.act)?;
        let says = match &out {
            Outcome::Answer(asked, answer) => in_a_line(declared.entry().ok()?, asked, answer, units),
            Outcome::Refused(r) => r.message.clone(),
            Outcome::Wants(_) | Outcome::SoFar(..) => format!("{} read, not whole", s.values().len()),
        };
        Some(PinRow {
            id: Id::new(),
            asks: declared.title,
            about: part_name(b, act),
            says,
            by: format!("{}, {}", last.person, moment(last.at, zone)),
            href: address(b.rebuild.id, &s.act, &s.name),
            stands: true,
        })
    };
    b.sheets.iter().filter_map(row).collect()
}

pub fn row(b: &Bench, p: &Pin, stands: bool, units: Units, zone: Tz) -> Option<PinRow> {
    let e = entry(&p.name).ok()?;
    let asked = &p.document.0;
    let mut pairs = as_typed(e.fields, &asked.input);
    let ours =
        [("units", "metric".to_owned()), ("pin.rebuild", b.rebuild.id.to_string()), ("pin.about", p.about.clone())];
    pairs.extend(ours.map(|(k, v)| (k.to_owned(), v)));
    if stands {
        pairs.push(("pin.replaces".into(), p.id.to_string()));
    }
    let says = in_a_line(e, &asked.input, &asked.answer, units);
    Some(PinRow {
        id: p.id,
        asks: question(e.name),
        about: p.about.clone(),
        says,
        by: format!("{}, {}", p.by, moment(p.at, zone)),
        href: format!("/reckoner/{}?{}", e.name, serde_urlencoded::to_string(pairs).unwrap_or_default()),
        stands,
    })
}

/// The sheets of a rebuild: those that stand, or all that ever were.
pub fn rows(b: &Bench, all: bool, units: Units, zone: Tz) -> Vec<PinRow> {
    let stands = |p: &Pin| pins::standing(&b.pins).any(|s| s.id == p.id);
    b.pins.iter().filter(|p| all || stands(p)).filter_map(|p| row(b, p, stands(p), units, zone)).collect()
}

/// Questions that a seat fills a part of: what they ask, and their address.
pub fn of_seat(rebuild: RebuildId, seat: &str) -> Vec<(&'static str, String)> {
    let address = |name: &str| format!("/reckoner/{name}?pin.rebuild={rebuild}&pin.seat={}", encode(seat));
    ironseat_core::seat::asks::OF_SEAT.iter().map(|name| (question(name), address(name))).collect()
}
