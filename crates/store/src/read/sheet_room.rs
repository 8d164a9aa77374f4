//! A sheet of an act as it is opened on the Bench.

use crate::read::bench::{self, Bench};
use crate::read::shop;
use crate::rows::act_sheet::ActSheet;
use crate::rows::shop::Instrument;
use crate::{RebuildId, Result, StoreError};
use diesel::prelude::*;
use ironseat_core::anatomy::acts::Act;
use ironseat_core::decide::{prefill, seat_at};
use ironseat_core::quantity::Units;
use ironseat_core::sheet::{self, Declared, Given};
use serde_json::{Map, Value};

/// A sheet worked out, as every room says it; none for a sheet or an act that this program does not know.
#[must_use]
pub fn worked(b: &Bench, s: &ActSheet) -> Option<(&'static Declared, sheet::Outcome)> {
    let (declared, act) = (Declared::of(&s.name)?, b.state.act(&s.act)?);
    Some((declared, declared.outcome(&given(b, act, &s.name), &s.values(), s.u_mm)))
}

/// What stands beside the readings of a sheet: what the rebuild knows, and over it what a person typed.
#[must_use]
pub fn given(b: &Bench, act: &Act, name: &str) -> Given {
    let typed = b.sheet(&act.id, name).map(|s| s.typed.clone()).unwrap_or_default();
    over(known(b, act, name), &typed)
}

/// What is typed over what is known.
pub(crate) fn over(known: Map<String, Value>, typed: &Given) -> Given {
    let mut fields = known;
    fields.extend(typed.fields.clone());
    Given { fields, counts: typed.counts.clone() }
}

/// What the rebuild knows of a question: from its anatomy and seat, and from the sheet that was read before this one.
pub(crate) fn known(b: &Bench, act: &Act, name: &str) -> Map<String, Value> {
    let mut out = prefill(&b.state, act, name);
    if name == "bush.closed"
        && let Some((_, sheet::Outcome::Answer(asked, said))) =
            b.sheet(&act.id, "bush.closing").and_then(|s| worked(b, s))
    {
        let same = ["bore_mm", "delta_um", "wanted_min_mm", "wanted_max_mm", "ream_max_um"];
        let before = same.into_iter().filter_map(|f| Some((f, asked.get(f)?)));
        let foreseen = said.get("closing_um").map(|v| ("foreseen_um", v));
        out.extend(before.chain(foreseen).map(|(f, v)| (f.to_owned(), v.clone())));
    }
    out
}

/// A rebuild with a sheet of an act, and the instruments of the shop.
#[derive(Debug)]
#[allow(missing_docs)]
pub struct Room {
    pub bench: Bench,
    pub act: Act,
    pub instruments: Vec<Instrument>,
}

/// Reads what the sheet of an act shows.
///
/// # Errors
/// Not found: no such act, or no such sheet.
pub fn room(c: &mut MysqlConnection, rebuild: RebuildId, act: &str, name: &str) -> Result<Room> {
    let seen = bench::look(c, rebuild)?;
    let (bench, act, _) = at(c, seen, act, name)?;
    Ok(Room { bench, act, instruments: shop::list_instruments(c)? })
}

/// The act and the sheet, decided on what the record says now.
pub(crate) fn decided(
    c: &mut MysqlConnection,
    rebuild: RebuildId,
    act: &str,
    name: &str,
) -> Result<(Bench, Act, &'static Declared)> {
    let now = bench::load(c, rebuild)?;
    at(c, now, act, name)
}

/// An act and its sheet, with the figures of the act's seat.
pub(crate) fn at(
    c: &mut MysqlConnection,
    mut b: Bench,
    act: &str,
    name: &str,
) -> Result<(Bench, Act, &'static Declared)> {
    let sheet = Declared::of(name).ok_or(StoreError::NotFound)?;
    let act = b.state.act(act).cloned().ok_or(StoreError::NotFound)?;
    if let Some(seat) = seat_at(b.state.anatomy(), &act).map(str::to_owned) {
        b.judge(c, &seat)?;
    }
    Ok((b, act, sheet))
}

/// What holds the readings of a sheet: they are the number of an act that cannot be done yet.
#[must_use]
pub fn held(b: &Bench, act: &Act, declared: &Declared, units: Units) -> Option<String> {
    let id = ironseat_core::terms::ActId::of(&act.id)?;
    if !(declared.belongs(&id) && declared.leaves.is_some() && act.measure.is_some()) || b.state.is_done(&act.id) {
        return None;
    }
    let first = b.state.reasons(act, units).into_iter().next()?;
    Some(format!("this is read once it can be: {}", first.words))
}
