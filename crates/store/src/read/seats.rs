//! Everything recorded on one seat, read back, with the shop that judges it.

use crate::db::schema::answers;
use crate::db::schema::people;
use crate::db::schema::readings;
use crate::db::schema::sheets;
use crate::db::schema::steps;
use crate::read::shop;
use crate::rows::reading::{ReadingRow, Sheet};
use crate::rows::rebuild::Rebuild;
use crate::rows::shop::Instrument;
use crate::{InstrumentId, RebuildId, Result, SheetId, StoreError};
use diesel::prelude::*;
use ironseat_core::anatomy::SeatFacts;
use ironseat_core::anatomy::as_found::closure_of;
use ironseat_core::call::Call;
use ironseat_core::decide::Judged;
use ironseat_core::fit::designation::Seals;
use ironseat_core::quantity::Millimetres;
use ironseat_core::seat::{self, Measured, Shop, Surfaces, surface_limits};
use ironseat_core::sheet::{self, SheetKind};
use ironseat_core::terms::{StepKind, Surface};
use std::collections::HashMap;

/// All readings of a rebuild with the seat and kind of their sheet, for the ledger: one query.
///
/// # Errors
/// Database errors.
pub fn ledger(c: &mut MysqlConnection, rebuild: RebuildId) -> Result<Vec<(String, String, ReadingRow)>> {
    Ok(readings::table
        .inner_join(people::table)
        .inner_join(sheets::table)
        .filter(sheets::rebuild_id.eq(rebuild))
        .filter(sheets::act.eq(""))
        .order((readings::at, readings::seq))
        .select((sheets::seat, sheets::kind, ReadingRow::as_select()))
        .load(c)?)
}

/// Everything recorded on one seat, with the shop that judges it.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct SeatRecord {
    pub facts: SeatFacts,
    pub sheets: Vec<Sheet>,
    /// All readings of the seat, corrected ones too, oldest first.
    pub readings: Vec<ReadingRow>,
    pub shop: Shop,
    pub instruments: Vec<Instrument>,
    /// Somebody has signed it: what is changed now opens the signature again.
    pub signed: bool,
}

impl SeatRecord {
    /// The sheet of a kind.
    #[must_use]
    pub fn sheet(&self, kind: SheetKind) -> Option<&Sheet> {
        self.sheets.iter().find(|s| s.kind == kind.key())
    }

    /// The readings that stand on a sheet.
    #[must_use]
    pub fn standing(&self, kind: SheetKind) -> Vec<&ReadingRow> {
        let Some(sheet) = self.sheet(kind) else { return Vec::new() };
        kind.cells()
            .iter()
            .filter_map(|cell| {
                self.readings.iter().filter(|r| r.sheet_id == sheet.id && r.cell == cell.key).max_by_key(|r| r.seq)
            })
            .collect()
    }

    /// An instrument of the list.
    #[must_use]
    pub fn instrument(&self, id: Option<InstrumentId>) -> Option<(&Instrument, &seat::Gauge)> {
        let i = self.instruments.iter().position(|i| Some(i.id) == id)?;
        Some((&self.instruments[i], self.shop.gauges.get(i)?))
    }

    /// The instrument a sheet would take: the one chosen, else the cheapest that is good enough, else the finest.
    #[must_use]
    pub fn chosen(&self, kind: SheetKind) -> Option<&Instrument> {
        let own = self.instrument(self.sheet(kind).and_then(|s| s.instrument_id));
        if let Some((i, _)) = own.filter(|(i, _)| i.in_use()) {
            return Some(i);
        }
        let nominal = sheet::nominal(kind, &self.facts);
        let tolerance = match kind {
            SheetKind::Grid(which) => {
                let (lo, hi, _) = seat::surface_limits(which, &self.facts);
                hi - lo
            }
            SheetKind::Home => 2.0 * self.facts.seat.depth.tolerance_mm.get(),
        };
        let reach: Vec<usize> = (0..self.instruments.len())
            .filter(|i| self.reaches(kind, *i, nominal) && !self.shop.gauges[*i].overdue)
            .collect();
        let good = reach
            .iter()
            .copied()
            .filter(|i| self.instruments[*i].u_mm <= tolerance / 4.0 + 1e-9)
            .min_by(|a, b| self.instruments[*a].cost.total_cmp(&self.instruments[*b].cost));
        good.or_else(|| {
            reach.into_iter().min_by(|a, b| self.instruments[*a].u_mm.total_cmp(&self.instruments[*b].u_mm))
        })
        .map(|i| &self.instruments[i])
    }

    /// Can instrument number `i` be used on a sheet? Its range holds the size that is expected there, not only the
    /// nominal one: a 25 to 50 micrometer does not close over a journal of 50.01.
    #[must_use]
    pub fn reaches(&self, kind: SheetKind, i: usize, nominal: Millimetres) -> bool {
        let g = &self.shop.gauges[i];
        match kind {
            SheetKind::Grid(which) => {
                let (lo, hi, _) = surface_limits(which, &self.facts);
                g.reaches(which, Millimetres::new(f64::midpoint(lo, hi)).unwrap_or(nominal))
            }
            SheetKind::Home => g.depth && g.range.1.get() >= nominal.get(),
        }
    }

    /// The readings of a surface, as core judges them; `extra` is a reading that is still being typed.
    #[must_use]
    pub fn measured(&self, which: Surface, extra: Option<(&str, f64)>) -> Option<Measured> {
        let kind = SheetKind::Grid(which);
        let standing = self.standing(kind);
        if standing.is_empty() && extra.is_none() {
            return None;
        }
        let mut pairs: Vec<(String, f64)> = standing
            .iter()
            .filter(|r| extra.is_none_or(|(cell, _)| cell != r.cell))
            .map(|r| (r.cell.clone(), r.value))
            .collect();
        pairs.extend(extra.map(|(cell, v)| (cell.to_owned(), v)));
        let mut used: Vec<&seat::Gauge> =
            standing.iter().filter_map(|r| self.instrument(r.instrument_id)).map(|(_, g)| g).collect();
        let chosen = self.chosen(kind).and_then(|i| self.instrument(Some(i.id))).map(|(_, g)| g);
        if standing.is_empty() || extra.is_some() {
            used.extend(chosen);
        }
        let gauge = used.iter().max_by(|a, b| a.u.get().total_cmp(&b.u.get()))?;
        let mut overdue: Vec<String> = used.iter().filter(|g| g.overdue).map(|g| g.name.clone()).collect();
        overdue.sort();
        overdue.dedup();
        let earlier = |cell: &str| {
            let stands = standing.iter().find(|r| r.cell == cell);
            // What is being typed comes after what stands.
            let upto = if extra.is_some_and(|x| x.0 == cell) { i32::MAX } else { stands?.seq };
            let own = self.readings.iter().filter(|r| Some(r.sheet_id) == stands.map(|s| s.sheet_id));
            own.filter(|r| r.cell == cell && r.seq < upto).max_by_key(|r| r.seq).map(|r| (cell.to_owned(), r.value))
        };
        let before: Vec<(String, f64)> = pairs.iter().filter_map(|(cell, _)| earlier(cell)).collect();
        Some(Measured { rows: sheet::rows(&pairs), before: sheet::rows(&before), gauge: (*gauge).clone(), overdue })
    }

    /// All measured surfaces.
    #[must_use]
    pub fn surfaces(&self) -> Surfaces {
        let m = |w| self.measured(w, None);
        Surfaces {
            journal: m(Surface::Journal),
            ring_bore: m(Surface::RingBore),
            housing_bore: m(Surface::HousingBore),
            ring_outside: m(Surface::RingOutside),
        }
    }

    /// The calls of a sheet, worst first; `extra` is a reading that is still being typed.
    #[must_use]
    pub fn calls(&self, kind: SheetKind, extra: Option<(&str, f64)>) -> Vec<Call> {
        match kind {
            SheetKind::Grid(which) => match self.measured(which, extra) {
                Some(m) => seat::judge_grid(which, &self.facts, &m, &self.shop),
                None => Vec::new(),
            },
            SheetKind::Home => {
                let mut pairs: Vec<(String, f64)> = self
                    .standing(kind)
                    .iter()
                    .filter(|r| extra.is_none_or(|(c, _)| c != r.cell))
                    .map(|r| (r.cell.clone(), r.value))
                    .collect();
                pairs.extend(extra.map(|(c, v)| (c.to_owned(), v)));
                let left = kind.cells().len() - pairs.len();
                let (feelers, depths): (Vec<_>, Vec<_>) = pairs.into_iter().partition(|(c, _)| c.starts_with('F'));
                let gauge = self.chosen(kind).and_then(|i| self.instrument(Some(i.id))).map(|(_, g)| g);
                let overdue: Vec<String> =
                    gauge.filter(|g| g.overdue && !depths.is_empty()).map(|g| g.name.clone()).into_iter().collect();
                let depths: Vec<f64> = depths.into_iter().map(|(_, v)| v).collect();
                vec![seat::judge_home(&self.facts, &feelers, &depths, left, gauge, &overdue, &self.shop)]
            }
        }
    }

    /// The fit, or the call that says what it waits for.
    ///
    /// # Errors
    /// That call.
    pub fn fit(&self) -> std::result::Result<seat::Fit, Box<Call>> {
        seat::fit(&self.facts, &self.surfaces(), &self.shop)
    }

    /// What is known of the seat, with its fit.
    pub(crate) fn judged(self) -> Judged {
        let fit = self.fit();
        Judged { facts: self.facts, fit }
    }
}

/// What is known of seats before anything is measured, with how their rings are closed where somebody has looked: one
/// query when any of them is not known to be open or closed.
fn known(c: &mut MysqlConnection, rebuild: &Rebuild, seats: &[&str]) -> Result<Vec<SeatFacts>> {
    let facts: Vec<SeatFacts> = seats.iter().map(|s| rebuild.facts(s)).collect::<std::result::Result<_, _>>()?;
    if facts.iter().all(|f| f.bearing.seals != Seals::Unknown) {
        return Ok(facts);
    }
    let questions: Vec<String> = seats.iter().map(|s| closure_of(s)).collect();
    let said: HashMap<String, String> = answers::table
        .filter(answers::rebuild_id.eq(rebuild.id))
        .filter(answers::question.eq_any(&questions))
        .select((answers::question, answers::value))
        .load::<(String, String)>(c)?
        .into_iter()
        .collect();
    Ok(facts.into_iter().zip(&questions).map(|(f, q)| f.closed(said.get(q).map(String::as_str))).collect())
}

/// Seats of a rebuild with a name under them, an apprentice's alone too.
fn signed(c: &mut MysqlConnection, rebuild: RebuildId) -> Result<Vec<String>> {
    Ok(steps::table
        .filter(steps::rebuild_id.eq(rebuild))
        .filter(steps::kind.eq(StepKind::Sign.key()))
        .filter(steps::done.eq(true).or(steps::done_by.is_not_null()))
        .select(steps::seat)
        .load(c)?)
}

/// Reads everything of one seat: seven queries.
///
/// # Errors
/// [`StoreError::NotFound`] for an unknown seat.
pub fn seat_record(c: &mut MysqlConnection, rebuild: &Rebuild, seat: &str) -> Result<SeatRecord> {
    rebuild.facts(seat).map_err(|_| StoreError::NotFound)?;
    let facts = known(c, rebuild, &[seat])?.pop().ok_or(StoreError::NotFound)?;
    let list: Vec<Sheet> = sheets::table
        .filter(sheets::rebuild_id.eq(rebuild.id))
        .filter(sheets::seat.eq(seat))
        .filter(sheets::act.eq(""))
        .select(Sheet::as_select())
        .load(c)?;
    let ids: Vec<SheetId> = list.iter().map(|s| s.id).collect();
    let (shop, instruments) = shop::load(c)?;
    let signed = signed(c, rebuild.id)?.iter().any(|s| s == seat);
    Ok(SeatRecord { facts, readings: load_readings(c, &ids)?, sheets: list, shop, instruments, signed })
}

/// Reads everything of all seats: seven queries however many there are.
///
/// # Errors
/// Database errors.
pub fn seat_records(c: &mut MysqlConnection, rebuild: &Rebuild) -> Result<Vec<SeatRecord>> {
    let rows: Vec<(String, Sheet)> = sheets::table
        .filter(sheets::rebuild_id.eq(rebuild.id))
        .filter(sheets::act.eq(""))
        .select((sheets::seat, Sheet::as_select()))
        .load(c)?;
    let ids: Vec<SheetId> = rows.iter().map(|(_, s)| s.id).collect();
    let readings = load_readings(c, &ids)?;
    let (shop, instruments) = shop::load(c)?;
    let signed = signed(c, rebuild.id)?;
    let seats: Vec<&str> = rebuild.anatomy().seats.iter().map(|s| s.id.as_str()).collect();
    known(c, rebuild, &seats)?
        .into_iter()
        .map(|facts| {
            let sheets: Vec<Sheet> = rows.iter().filter(|(s, _)| *s == facts.seat.id).map(|(_, s)| s.clone()).collect();
            let readings = readings.iter().filter(|r| sheets.iter().any(|s| s.id == r.sheet_id)).cloned().collect();
            let signed = signed.contains(&facts.seat.id);
            Ok(SeatRecord { facts, sheets, readings, shop: shop.clone(), instruments: instruments.clone(), signed })
        })
        .collect()
}

fn load_readings(c: &mut MysqlConnection, sheet_ids: &[SheetId]) -> Result<Vec<ReadingRow>> {
    Ok(readings::table
        .inner_join(people::table)
        .filter(readings::sheet_id.eq_any(sheet_ids))
        .order((readings::at, readings::seq))
        .select(ReadingRow::as_select())
        .load(c)?)
}
