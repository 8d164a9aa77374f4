//! Readings: taking them, correcting them, and the calls that follow, in one transaction each.

use crate::db::schema::{calls, readings, sheets, steps};
use crate::db::stored::{self, Stored};
use crate::db::transaction::transaction;
use crate::read::rebuilds::get;
use crate::read::seats::{SeatRecord, seat_record, seat_records};
use crate::rows::person::Person;
use crate::rows::reading::ReadingRow;
use crate::rows::shop::Instrument;
use crate::write::ticks::open_steps;
use crate::{CallId, InstrumentId, PersonId, ReadingId, RebuildId, Result, StoreError, chain};
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::call::Call;
use ironseat_core::decide::{Event, Read};
use ironseat_core::quantity::{Millimetres, Units, show};
use ironseat_core::sheet::{self, Cell, Reading, SheetKind, Takes};
use ironseat_core::terms::StepKind;
use ironseat_core::terms::text;

/// A reading as it arrives.
#[derive(Debug, Clone)]
pub struct NewReading {
    /// Made by the page: a repeat changes nothing.
    pub id: ReadingId,
    /// Where.
    pub cell: String,
    /// As typed.
    pub text: String,
    /// With what; none for a feeler.
    pub instrument: Option<InstrumentId>,
    /// The reading the person saw in the cell, none if it was empty: two people never overwrite each other unseen.
    pub over: Option<ReadingId>,
    /// The person insists on a value that is far off.
    pub sure: bool,
    /// Units of the sheet.
    pub units: Units,
    /// Why it is read once more on a seat that is signed.
    pub reason: String,
}

/// What became of it.
#[derive(Debug, Clone, PartialEq)]
pub enum Outcome {
    /// Stored; durable.
    Stored,
    /// Was stored before under the same id.
    Repeated,
    /// Not stored: the cell asks.
    Ask(Reading),
}

/// Takes one reading.
///
/// # Errors
/// A refusal of `text`, `cell` or `instrument`; a conflict when someone else's reading stands in the cell; held when
/// the rebuild is finished.
pub fn record_reading(
    c: &mut MysqlConnection,
    who: &Person,
    rebuild: RebuildId,
    seat: &str,
    kind: SheetKind,
    new: &NewReading,
) -> Result<Outcome> {
    transaction(c, |c| {
        let mut locked = chain::rebuild::open(c, rebuild)?;
        let outcome = {
            let head = get(c, rebuild)?;
            let mut seat_now = seat_record(c, &head, seat)?;
            let outcome = take(c, &mut locked, &mut seat_now, who, kind, new)?;
            if outcome == Outcome::Stored {
                settle(c, rebuild, &seat_now, kind, who)?;
            }
            outcome
        };
        locked.write(c)?;
        Ok(outcome)
    })
}

/// Takes many readings of one seat in one transaction: all or none. For imports and generated data.
///
/// # Errors
/// As [`record_reading`]; a value that the cell would ask about is refused.
pub fn record_readings(
    c: &mut MysqlConnection,
    who: &Person,
    rebuild: RebuildId,
    seat: &str,
    list: &[(SheetKind, NewReading)],
) -> Result<()> {
    transaction(c, |c| {
        let mut locked = chain::rebuild::open(c, rebuild)?;
        let head = get(c, rebuild)?;
        let mut seat_now = seat_record(c, &head, seat)?;
        for (kind, new) in list {
            if let Outcome::Ask(_) = take(c, &mut locked, &mut seat_now, who, *kind, new)? {
                return Err(
                    Refusal::new("text", format!("{} is not a likely value for cell {}", new.text, new.cell)).into()
                );
            }
        }
        for kind in SheetKind::ALL.into_iter().filter(|k| list.iter().any(|(l, _)| l == k)) {
            settle(c, rebuild, &seat_now, kind, who)?;
        }
        locked.write(c)
    })
}

impl ReadingRow {
    /// Keeps a reading.
    pub(crate) fn put(&self, c: &mut MysqlConnection, who: &Person) -> Result<()> {
        diesel::insert_into(readings::table)
            .values((
                readings::id.eq(self.id),
                readings::sheet_id.eq(self.sheet_id),
                readings::cell.eq(&self.cell),
                readings::seq.eq(self.seq),
                readings::value.eq(self.value),
                readings::typed.eq(&self.typed),
                readings::expected.eq(self.expected),
                readings::instrument_id.eq(self.instrument_id),
                readings::person_id.eq(who.id),
                readings::at.eq(self.at),
            ))
            .execute(c)?;
        Ok(())
    }
}

/// Takes one reading, and puts it into the seat as it stands.
pub(crate) fn take(
    c: &mut MysqlConnection,
    locked: &mut chain::rebuild::Locked,
    record: &mut SeatRecord,
    who: &Person,
    kind: SheetKind,
    new: &NewReading,
) -> Result<Outcome> {
    let sheet_id = record.sheet(kind).ok_or(StoreError::NotFound)?.id;
    if record.readings.iter().any(|r| r.id == new.id) {
        return Ok(Outcome::Repeated);
    }
    let cell: Cell = kind
        .cells()
        .into_iter()
        .find(|k| k.key == new.cell)
        .ok_or_else(|| Refusal::new("cell", "there is no such cell on this sheet"))?;
    let nominal = sheet::nominal(kind, &record.facts);
    let value = match sheet::read(cell.takes, &new.text, new.units, nominal, new.sure)? {
        Reading::Value(v) => v,
        ask => return Ok(Outcome::Ask(ask)),
    };
    let stands = record.readings.iter().filter(|r| r.sheet_id == sheet_id && r.cell == new.cell).max_by_key(|r| r.seq);
    unseen(stands, new.over)?;
    let reason = if record.signed {
        text::AGAIN.read("reason", &new.reason, |range| {
            format!("this seat is signed: say in {range} why it is read again; it is then signed anew, and both signatures stay")
        })?
    } else {
        String::new()
    };
    let instrument = if cell.takes == Takes::Feeler {
        None
    } else {
        Some(usable(record, kind, new.instrument, nominal, new.units)?)
    };
    let expected = match kind {
        SheetKind::Grid(which) => record.measured(which, None).and_then(|m| {
            let station = usize::from(new.cell.as_bytes().get(1).copied().unwrap_or(b'1').wrapping_sub(b'1'))
                .min(sheet::STATIONS - 1);
            sheet::foretell(&m.rows, station, m.gauge.u.get()).map(|(v, _)| v.get())
        }),
        SheetKind::Home => None,
    };
    let row = ReadingRow {
        id: new.id,
        sheet_id,
        cell: new.cell.clone(),
        seq: stands.map_or(0, |r| r.seq + 1),
        value,
        typed: new.text.trim().chars().take(80).collect(),
        expected,
        instrument_id: instrument.as_ref().map(|i| i.id),
        person: who.name.clone(),
        at: crate::now(),
    };
    let over = stands.map(|r| r.typed.clone());
    row.put(c, who)?;
    let read = Read {
        reading: row.id.to_string(),
        seat: record.facts.seat.id.clone(),
        sheet: kind.key().into(),
        cell: row.cell.clone(),
        value: row.value,
        typed: row.typed.clone(),
        instrument: instrument.map(|i| i.name),
        over,
        ..Read::default()
    };
    locked.note(who.id, &if read.over.is_some() { Event::Correction(read) } else { Event::Reading(read) });
    if record.signed {
        let seat = record.facts.seat.id.clone();
        open_steps(c, locked.rebuild(), &[&seat], &[StepKind::Sign])?;
        locked.note(who.id, &Event::SignatureOpened { seat, reason });
        record.signed = false;
    }
    record.readings.push(row);
    Ok(Outcome::Stored)
}

/// A conflict when another reading stands in a place than the one that a person saw there.
pub(crate) fn unseen(stands: Option<&ReadingRow>, over: Option<ReadingId>) -> Result<()> {
    if stands.map(|r| r.id) == over {
        return Ok(());
    }
    Err(StoreError::Conflict(match stands {
        Some(r) => {
            format!(
                "{} read {} here meanwhile. Yours is not stored: press Enter again to put it over theirs.",
                r.person, r.typed
            )
        }
        None => "the reading you corrected is not there: press Enter again to store yours".into(),
    }))
}

fn usable(
    record: &SeatRecord,
    kind: SheetKind,
    id: Option<InstrumentId>,
    nominal: Millimetres,
    units: Units,
) -> Result<Instrument> {
    let refuse = |m: String| StoreError::Refused(Refusal::new("instrument", m));
    let i = match id {
        Some(id) => record.instruments.iter().position(|i| i.id == id),
        None => record.chosen(kind).and_then(|i| record.instruments.iter().position(|j| j.id == i.id)),
    }
    .ok_or_else(|| refuse("choose the instrument that takes this reading".into()))?;
    let taken = &record.instruments[i];
    if !taken.away.is_empty() {
        return Err(refuse(format!("the {} is out of use ({}): choose another", taken.name, taken.away)));
    }
    if !record.reaches(kind, i, nominal) {
        let size = show::join(show::size(nominal, Millimetres::new(0.1)?, units));
        return Err(refuse(format!("the {} does not reach this: choose one for {size}", record.instruments[i].name)));
    }
    Ok(record.instruments[i].clone())
}

/// Writes the calls of a sheet and of the fit, and ticks the step when the sheet is full.
pub(crate) fn settle(
    c: &mut MysqlConnection,
    rebuild: RebuildId,
    record: &SeatRecord,
    kind: SheetKind,
    who: &Person,
) -> Result<()> {
    let seat = &record.facts.seat.id;
    put_calls(c, rebuild, seat, kind.key(), &record.calls(kind, None))?;
    if kind != SheetKind::Home {
        match record.fit() {
            Ok(fit) => put_calls(c, rebuild, seat, "fit", &fit.calls)?,
            Err(waits) => put_calls(c, rebuild, seat, "fit", &[*waits])?,
        }
    }
    if record.standing(kind).len() == kind.cells().len() {
        diesel::update(
            steps::table
                .filter(steps::rebuild_id.eq(rebuild))
                .filter(steps::seat.eq(seat))
                .filter(steps::kind.eq(kind.key()))
                .filter(steps::done.eq(false)),
        )
        .set((steps::done.eq(true), steps::done_by.eq(who.id), steps::done_at.eq(crate::now())))
        .execute(c)?;
    }
    Ok(())
}

/// Makes the calls of seats anew from what was read, after their limits changed.
pub(crate) fn judge_again(c: &mut MysqlConnection, rebuild: RebuildId, seats: &[String], who: &Person) -> Result<()> {
    let head = get(c, rebuild)?;
    for record in seat_records(c, &head)?.iter().filter(|r| seats.contains(&r.facts.seat.id)) {
        for kind in SheetKind::ALL.into_iter().filter(|k| !record.standing(*k).is_empty()) {
            settle(c, rebuild, record, kind, who)?;
        }
    }
    Ok(())
}

/// Keeps the calls on a topic. An overrule stands only as long as what was overruled.
fn put_calls(c: &mut MysqlConnection, rebuild: RebuildId, seat: &str, topic: &str, list: &[Call]) -> Result<()> {
    let Some(worst) = list.first() else { return Ok(()) };
    let here = || {
        calls::table
            .filter(calls::rebuild_id.eq(rebuild))
            .filter(calls::seat.eq(seat.to_owned()))
            .filter(calls::topic.eq(topic.to_owned()))
    };
    let list = list.to_vec();
    let document = stored::write(&list)?;
    match here().select((calls::id, calls::document)).first::<(CallId, Stored<Vec<Call>>)>(c).optional()? {
        Some((_, old)) if old.0 == list => {}
        Some((id, _)) => {
            diesel::update(calls::table.find(id))
                .set((
                    calls::verdict.eq(worst.verdict.key()),
                    calls::document.eq(document),
                    calls::overruled_by.eq(None::<PersonId>),
                    calls::overrule_reason.eq(""),
                    calls::at.eq(crate::now()),
                ))
                .execute(c)?;
        }
        None => {
            diesel::insert_into(calls::table)
                .values((
                    calls::id.eq(CallId::new()),
                    calls::rebuild_id.eq(rebuild),
                    calls::seat.eq(seat),
                    calls::topic.eq(topic),
                    calls::verdict.eq(worst.verdict.key()),
                    calls::document.eq(document),
                    calls::overrule_reason.eq(""),
                    calls::at.eq(crate::now()),
                ))
                .execute(c)?;
        }
    }
    Ok(())
}

/// Chooses the instrument of a sheet, for the readings that follow.
///
/// # Errors
/// `instrument` when it does not reach.
pub fn choose_instrument(
    c: &mut MysqlConnection,
    who: &Person,
    rebuild: RebuildId,
    seat: &str,
    kind: SheetKind,
    instrument: InstrumentId,
) -> Result<()> {
    transaction(c, |c| {
        let mut locked = chain::rebuild::open(c, rebuild)?;
        let head = get(c, rebuild)?;
        let seat_now = seat_record(c, &head, seat)?;
        let chosen = usable(&seat_now, kind, Some(instrument), sheet::nominal(kind, &seat_now.facts), who.units)?;
        let sheet = seat_now.sheet(kind).ok_or(StoreError::NotFound)?;
        diesel::update(sheets::table.find(sheet.id)).set(sheets::instrument_id.eq(chosen.id)).execute(c)?;
        locked.note(
            who.id,
            &Event::Instrument {
                seat: seat.into(),
                sheet: kind.key().into(),
                instrument: chosen.name,
                act: String::new(),
            },
        );
        locked.write(c)
    })
}
