//! Sheets of acts, as other rooms show them.

use crate::ground::address::encode;
use ironseat_core::anatomy::Unit;
use ironseat_core::anatomy::acts::Act;
use ironseat_core::decide::{questions_at, suits};
use ironseat_core::reckon::as_typed;
use ironseat_core::sheet::{Declared, Family, Given, Place};
use ironseat_drawing::{LandView, WhereToRead, land_view, where_to_read};
use ironseat_store::RebuildId;
use ironseat_store::read::bench::Bench;
use ironseat_store::read::sheet_room;

/// Address of a sheet.
pub fn address(rebuild: RebuildId, act: &str, name: &str) -> String {
    format!("/rebuilds/{rebuild}/acts/{}/sheets/{name}", encode(act))
}

pub fn part_name(b: &Bench, act: &Act) -> String {
    let seat = act.seat.as_ref().and_then(|(seat, _)| b.state.anatomy().seat(seat)).map(|s| s.name.clone());
    seat.unwrap_or_else(|| {
        if act.body.is_empty() { b.rebuild.title.clone() } else { b.state.anatomy().name_of(&act.body).to_owned() }
    })
}

/// The number of an act as it is typed there, with its unit.
pub fn as_number(unit: Unit, values: &[f64]) -> String {
    let word = match unit {
        Unit::Mm => " mm",
        Unit::Um => " um",
        Unit::NewtonMetre => " N·m",
        Unit::Volt => " V",
        Unit::Ohm | Unit::Degree => "",
    };
    let one = |v: &f64| format!("{}{word}", (v * 1e4).round() / 1e4);
    values.iter().map(one).collect::<Vec<_>>().join("; ")
}

/// What a whole sheet of an act leaves for its number, as it is typed there, and the sheet.
pub fn left_for(b: &Bench, act: &Act) -> Option<(String, &'static Declared)> {
    let m = act.measure.as_ref()?;
    Declared::at(&act.id).find_map(|d| {
        let (_, out) = sheet_room::worked(b, b.sheet(&act.id, d.name)?)?;
        Some((as_number(m.unit, &d.left(&out)?), d))
    })
}

/// A sheet as lists show it.
pub struct SheetRow {
    pub title: &'static str,
    pub href: String,
    /// `7 of 12`, or nothing.
    pub read: String,
    /// It belongs to the act.
    pub own: bool,
}

/// Sheets of an act: its own, those begun on it, and all others by family.
pub fn offered(b: &Bench, act: &Act) -> (Vec<SheetRow>, Vec<(&'static str, Vec<SheetRow>)>) {
    let belongs = |d: &Declared| suits(&b.state, act, d);
    let row = |d: &'static Declared| {
        let sheet = b.sheet(&act.id, d.name);
        let read = sheet.filter(|s| !s.readings.is_empty()).map_or_else(String::new, |s| {
            let (given, values) = (sheet_room::given(b, act, d.name), s.values());
            format!("{} of {}", values.len(), d.places(&given, &values).len())
        });
        SheetRow { title: d.title, href: address(b.rebuild.id, &act.id, d.name), read, own: belongs(d) }
    };
    let here = |d: &&'static Declared| belongs(d) || b.sheet(&act.id, d.name).is_some();
    let all = ironseat_core::sheet::SHEETS;
    let first = all.iter().filter(here).map(row).collect();
    let rest = Family::ALL
        .iter()
        .map(|(f, word)| (*word, all.iter().filter(|d| d.family == *f && !here(d)).map(row).collect::<Vec<_>>()))
        .filter(|(_, list)| !list.is_empty())
        .collect();
    (first, rest)
}

/// Questions that come up at an act and want no reading: what they ask, and the Reckoner filled with what is known.
pub fn questions(b: &Bench, act: &Act) -> Vec<(&'static str, String)> {
    let one = |name: &&'static str| {
        let e = ironseat_core::reckon::entry(name).ok()?;
        let mut pairs = as_typed(e.fields, &ironseat_core::decide::prefill(&b.state, act, name));
        let ours = [
            ("units", "metric".to_owned()),
            ("pin.rebuild", b.rebuild.id.to_string()),
            ("pin.about", part_name(b, act)),
        ];
        pairs.extend(ours.map(|(k, v)| (k.to_owned(), v)));
        let query = serde_urlencoded::to_string(pairs).ok()?;
        Some((ironseat_core::reckon::question(name), format!("/reckoner/{name}?{query}")))
    };
    questions_at(&b.state, act).iter().filter_map(one).collect()
}

/// The drawing that leads the hand.
pub fn where_to_read_on(
    declared: &Declared,
    given: &Given,
    places: &[Place],
    active: Option<&Place>,
    done: impl Fn(&Place) -> bool,
) -> String {
    if declared.name == "journal.grid" {
        let at = |p: &Place| {
            let mut path = p.key.rsplit('.');
            let plane = path.next()?.parse().ok()?;
            Some((path.next()?.parse().ok()?, plane))
        };
        let read: Vec<(usize, usize)> = places.iter().filter(|p| done(p)).filter_map(at).collect();
        return land_view(&LandView {
            size: "",
            ratio: 0.9,
            bore: false,
            neighbours: false,
            next: active.and_then(at),
            done: &read,
            stations: places.iter().filter_map(at).map(|p| p.0 + 1).max().unwrap_or(1),
            name: declared.title,
            id: "lead",
        });
    }
    let list: Vec<(String, bool)> = places.iter().map(|p| (p.key.clone(), done(p))).collect();
    let next = active.map(|p| (p.key.as_str(), p.label.as_str()));
    let bolts = declared.bolts_at(given);
    where_to_read(&WhereToRead {
        name: declared.name,
        title: declared.title,
        next,
        places: &list,
        bolts: &bolts,
        id: "lead",
    })
    .unwrap_or_default()
}
