//! Sheets of acts as they stand.

use crate::db::schema::{people, readings, sheets};
use crate::db::stored::Stored;
use crate::read::seats::{self, SeatRecord};
use crate::read::shop;
use crate::rows::act_sheet::ActSheet;
use crate::rows::reading::ReadingRow;
use crate::rows::rebuild::Rebuild;
use crate::{InstrumentId, RebuildId, Result, SheetId};
use diesel::prelude::*;
use ironseat_core::decide::{Judged, State, seat_at};
use ironseat_core::seat::asks::SHEETS_OF_SEAT;
use ironseat_core::sheet::Given;
use std::collections::BTreeSet;

#[derive(Queryable, Selectable)]
#[diesel(table_name = sheets)]
struct Row {
    id: SheetId,
    act: String,
    kind: String,
    given: Option<Stored<Given>>,
    instrument_id: Option<InstrumentId>,
}

/// The sheets of the acts of a rebuild: three queries where there are any.
pub(crate) fn of_rebuild(c: &mut MysqlConnection, rebuild: RebuildId) -> Result<Vec<ActSheet>> {
    let rows: Vec<Row> = sheets::table
        .filter(sheets::rebuild_id.eq(rebuild))
        .filter(sheets::act.ne(""))
        .order((sheets::act, sheets::kind))
        .select(Row::as_select())
        .load(c)?;
    if rows.is_empty() {
        return Ok(Vec::new());
    }
    let ids: Vec<SheetId> = rows.iter().map(|r| r.id).collect();
    let all: Vec<ReadingRow> = readings::table
        .inner_join(people::table)
        .filter(readings::sheet_id.eq_any(ids))
        .order((readings::at, readings::seq))
        .select(ReadingRow::as_select())
        .load(c)?;
    let gauges = shop::list_instruments(c)?;
    let one = |r: Row| {
        let mut sheet = ActSheet {
            readings: all.iter().filter(|x| x.sheet_id == r.id).cloned().collect(),
            id: r.id,
            act: r.act,
            name: r.kind,
            typed: r.given.map(|g| g.0).unwrap_or_default(),
            instrument_id: r.instrument_id,
            u_mm: None,
        };
        let of = |id: InstrumentId| gauges.iter().find(|i| i.id == id).map(|i| i.u_mm);
        sheet.u_mm = sheet.standing().values().filter_map(|r| r.instrument_id).filter_map(of).reduce(f64::max);
        sheet
    };
    Ok(rows.into_iter().map(one).collect())
}

/// The figures of the seats that sheets ask something of, so that every room works these out alike: seven queries where
/// there is such a sheet.
pub(crate) fn seats_asked(
    c: &mut MysqlConnection,
    rebuild: &Rebuild,
    state: &State,
    sheets: &[ActSheet],
) -> Result<Vec<Judged>> {
    let asks = |s: &&ActSheet| SHEETS_OF_SEAT.contains(&s.name.as_str());
    let at = |s: &ActSheet| seat_at(state.anatomy(), state.act(&s.act)?).map(str::to_owned);
    let asked: BTreeSet<String> = sheets.iter().filter(asks).filter_map(at).collect();
    if asked.is_empty() {
        return Ok(Vec::new());
    }
    let all = seats::seat_records(c, rebuild)?;
    Ok(all.into_iter().filter(|r| asked.contains(&r.facts.seat.id)).map(SeatRecord::judged).collect())
}
