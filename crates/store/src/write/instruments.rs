//! Instruments of the shop: put in, calibrated anew, put away. What took a reading stays as it was when it took it: a
//! new calibration is another row, so that no certificate changes behind its signature.

use crate::chain::digests::Chain;
use crate::chain::shop::changed;
use crate::db::schema::instruments;
use crate::rows::person::{Person, Role};
use crate::rows::shop::Instrument;
use crate::{Id, InstrumentId, Result, StoreError};
use chrono::{Datelike as _, NaiveDate};
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::terms::text;

/// Instruments that are kept, put away ones too.
pub const MOST: i64 = 2000;

fn lead(who: &Person) -> Result<()> {
    if who.role == Role::Lead { Ok(()) } else { Err(StoreError::Held("a lead says what is measured with".into())) }
}

fn refuse<T>(field: &str, words: &str) -> Result<T> {
    Err(Refusal::new(field, words).into())
}

fn figure(field: &str, v: f64, most: f64) -> Result<()> {
    if v.is_finite() && v > 0.0 && v <= most {
        return Ok(());
    }
    refuse(field, &format!("expected a length above 0 and up to {most} mm"))
}

fn until(due: NaiveDate) -> Result<()> {
    if (2000..=2200).contains(&due.year()) { Ok(()) } else { refuse("due", "expected a date such as 2027-06-30") }
}

fn check(i: &Instrument) -> Result<()> {
    text::INSTRUMENT
        .read("name", &i.name, |range| format!("expected a name of {range}, such as “Outside micrometer 25–50”"))?;
    text::SERIAL.read("serial", &i.serial, |range| format!("expected {range}"))?;
    if !(i.lo_mm.is_finite() && i.lo_mm >= 0.0) {
        return refuse("lo", "expected a length of 0 or more");
    }
    if !(i.hi_mm.is_finite() && i.hi_mm > i.lo_mm && i.hi_mm <= 20_000.0) {
        return refuse("hi", "expected a length above the lower end, up to 20 m");
    }
    until(i.due_on)?;
    figure("resolution", i.resolution_mm, 1.0)?;
    figure("u", i.u_mm, 1.0)
}

/// What holds is looked at again under the lock of the chain: two leads may be at it.
fn add(c: &mut MysqlConnection, who: &Person, i: &Instrument, said: &str) -> Result<()> {
    changed(c, Chain::Stores, Some(who), said, |c| {
        free(c, i)?;
        if instruments::table.count().get_result::<i64>(c)? >= MOST {
            return Err(StoreError::Held(format!("{MOST} instruments are kept already")));
        }
        diesel::insert_into(instruments::table).values(i).execute(c)?;
        Ok(())
    })
}

fn um(mm: f64) -> f64 {
    (mm * 1e7).round() / 1e4
}

/// Puts one in. The same id again changes nothing.
///
/// # Errors
/// A refusal of `name`, `serial`, `lo`, `hi`, `resolution` or `u`; a conflict when one in use has its number; held for
/// anyone but a lead.
pub fn put_in(c: &mut MysqlConnection, who: &Person, new: &Instrument) -> Result<()> {
    lead(who)?;
    let i = Instrument {
        name: new.name.trim().to_owned(),
        serial: new.serial.trim().to_owned(),
        origin: String::new(),
        away: String::new(),
        ..new.clone()
    };
    check(&i)?;
    if get(c, i.id).is_ok() {
        return Ok(());
    }
    let said = format!(
        "Instrument {} put in: number {}, {} to {} mm, U {} µm.",
        i.name,
        i.serial,
        i.lo_mm,
        i.hi_mm,
        um(i.u_mm)
    );
    add(c, who, &i, &said)
}

/// A number stands on one instrument in use.
fn free(c: &mut MysqlConnection, i: &Instrument) -> Result<()> {
    if i.serial.is_empty() {
        return Ok(());
    }
    let same = instruments::table
        .filter(instruments::serial.eq(&i.serial))
        .filter(instruments::origin.eq(""))
        .filter(instruments::away.eq(""))
        .filter(instruments::id.ne(i.id))
        .select(instruments::name)
        .first::<String>(c)
        .optional()?;
    match same {
        Some(name) => refuse("serial", &format!("{name} has this number: each has its own")),
        None => Ok(()),
    }
}

fn get(c: &mut MysqlConnection, id: InstrumentId) -> Result<Instrument> {
    Ok(instruments::table.find(id).filter(instruments::origin.eq("")).select(Instrument::as_select()).first(c)?)
}

/// One in use.
fn used(c: &mut MysqlConnection, id: InstrumentId) -> Result<Instrument> {
    let i = get(c, id)?;
    if i.in_use() {
        return Ok(i);
    }
    Err(StoreError::Conflict(format!("{} is out of use: {}", i.name, i.away)))
}

fn set_away(c: &mut MysqlConnection, id: InstrumentId, why: &str) -> Result<()> {
    diesel::update(instruments::table.find(id)).set(instruments::away.eq(why)).execute(c)?;
    Ok(())
}

/// What a new calibration says: the instrument of before is put away, and one with the same number takes its place.
///
/// # Errors
/// Not found; a refusal of `u`; a conflict when it is out of use; held for anyone but a lead.
pub fn calibrated(c: &mut MysqlConnection, who: &Person, id: InstrumentId, u_mm: f64, due_on: NaiveDate) -> Result<()> {
    lead(who)?;
    figure("u", u_mm, 1.0)?;
    until(due_on)?;
    let old = used(c, id)?;
    let today = crate::now().date();
    let said = format!("Instrument {} calibrated: number {}, U {} µm, until {due_on}.", old.name, old.serial, um(u_mm));
    changed(c, Chain::Stores, Some(who), &said, |c| {
        let old = used(c, id)?;
        set_away(c, id, &format!("calibrated anew on {today}"))?;
        let new = Instrument { id: Id::new(), u_mm, due_on, ..old };
        diesel::insert_into(instruments::table).values(&new).execute(c)?;
        Ok(())
    })
}

/// Takes it out of use. What it has read stays.
///
/// # Errors
/// Not found; a refusal of `why`; held for anyone but a lead.
pub fn put_away(c: &mut MysqlConnection, who: &Person, id: InstrumentId, why: &str) -> Result<()> {
    lead(who)?;
    let why =
        &text::PUT_AWAY.read("why", why, |range| format!("expected why, in {range}: “dropped”, “lent to the lock”"))?;
    let i = get(c, id)?;
    if !i.in_use() {
        return Ok(());
    }
    changed(c, Chain::Stores, Some(who), &format!("Instrument {} put away: {why}.", i.name), |c| set_away(c, id, why))
}

/// Takes it in use again.
///
/// # Errors
/// Not found; a refusal of `serial` when another has its number by now; held for anyone but a lead.
pub fn take_back(c: &mut MysqlConnection, who: &Person, id: InstrumentId) -> Result<()> {
    lead(who)?;
    let i = get(c, id)?;
    if i.in_use() {
        return Ok(());
    }
    changed(c, Chain::Stores, Some(who), &format!("Instrument {} taken in use again.", i.name), |c| {
        free(c, &i)?;
        set_away(c, id, "")
    })
}
