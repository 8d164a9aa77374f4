//! Sheets of acts: readings taken at an act of the trail, ending in a computation of core. A reading is a row like
//! those of a seat's sheets; what a person typed beside them stands with the sheet.

use crate::db::schema::sheets;
use crate::db::stored;
use crate::db::transaction::transaction;
use crate::read::bench::Bench;
use crate::read::sheet_room::{decided, given, held, known, over};
use crate::read::shop;
use crate::rows::act_sheet::ActSheet;
use crate::rows::person::Person;
use crate::rows::reading::ReadingRow;
use crate::write::readings::{NewReading, Outcome, unseen};
use crate::{Id, InstrumentId, RebuildId, Result, SheetId, StoreError, chain};
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::anatomy::acts::Act;
use ironseat_core::decide::{Event, Read};
use ironseat_core::quantity::Units;
use ironseat_core::sheet::{self, Declared, Given, read_place};
use serde_json::{Map, Value};
use std::sync::Arc;

/// Most sheets of one rebuild: every act may have some.
pub const MOST: usize = 400;

/// The row of a sheet, made when it is not there yet.
fn row(c: &mut MysqlConnection, b: &Bench, act: &Act, name: &str) -> Result<SheetId> {
    if let Some(s) = b.sheet(&act.id, name) {
        return Ok(s.id);
    }
    if b.sheets.len() >= MOST {
        return Err(StoreError::Held(format!("{MOST} sheets are begun in this rebuild already")));
    }
    let id: SheetId = Id::new();
    diesel::insert_into(sheets::table)
        .values((
            sheets::id.eq(id),
            sheets::rebuild_id.eq(b.rebuild.id),
            sheets::seat.eq(""),
            sheets::act.eq(&act.id),
            sheets::kind.eq(name),
        ))
        .execute(c)?;
    Ok(id)
}

/// Takes one reading of a sheet of an act.
///
/// # Errors
/// A refusal of `text`, `cell` or `instrument`; a conflict when someone else's reading stands there; held when the
/// rebuild is finished, or while what the reading rests on is not done.
pub fn take(
    c: &mut MysqlConnection,
    who: &Person,
    rebuild: RebuildId,
    act: &str,
    name: &str,
    new: &NewReading,
) -> Result<Outcome> {
    transaction(c, |c| {
        let mut locked = chain::rebuild::open(c, rebuild)?;
        let (mut b, act, declared) = decided(c, rebuild, act, name)?;
        let outcome = take_one(c, &mut locked, &mut b, &act, declared, who, new)?;
        locked.write(c)?;
        Ok(outcome)
    })
}

/// Takes one reading, and puts it into the rebuild as it stands.
pub(crate) fn take_one(
    c: &mut MysqlConnection,
    locked: &mut chain::rebuild::Locked,
    b: &mut Bench,
    act: &Act,
    declared: &'static Declared,
    who: &Person,
    new: &NewReading,
) -> Result<Outcome> {
    let old = b.sheet(&act.id, declared.name);
    if old.is_some_and(|s| s.readings.iter().any(|r| r.id == new.id)) {
        return Ok(Outcome::Repeated);
    }
    // A number that its act will be judged by is read in the condition that the act states.
    if let Some(first) = held(b, act, declared, who.units) {
        return Err(StoreError::Held(first));
    }
    let given = given(b, act, declared.name);
    let values = old.map(ActSheet::values).unwrap_or_default();
    let place = declared
        .places(&given, &values)
        .into_iter()
        .find(|p| p.key == new.cell)
        .ok_or_else(|| Refusal::new("cell", "there is no such place on this sheet"))?;
    let expected = declared.foretell(&given, &values, &place.key).map(|x| x.0);
    let value = match read_place(&place, &new.text, new.units, expected, new.sure)? {
        sheet::Reading::Value(v) => v,
        ask => return Ok(Outcome::Ask(ask)),
    };
    let standing = old.map(ActSheet::standing).unwrap_or_default();
    let stands = standing.get(&place.key).copied();
    unseen(stands, new.over)?;
    let instruments = shop::list_instruments(c)?;
    let chosen = new.instrument.or_else(|| old.and_then(|s| s.instrument_id));
    let instrument = match chosen {
        Some(id) => Some(
            instruments
                .iter()
                .find(|i| i.id == id && i.in_use())
                .ok_or_else(|| Refusal::new("instrument", "choose an instrument in use: this one was put away"))?,
        ),
        None => None,
    };
    let sheet_id = row(c, b, act, declared.name)?;
    let kept = ReadingRow {
        id: new.id,
        sheet_id,
        cell: place.key.clone(),
        seq: stands.map_or(0, |r| r.seq + 1),
        value,
        typed: new.text.trim().chars().take(80).collect(),
        expected,
        instrument_id: instrument.map(|i| i.id),
        person: who.name.clone(),
        at: crate::now(),
    };
    kept.put(c, who)?;
    let read = Read {
        reading: new.id.to_string(),
        seat: String::new(),
        sheet: declared.name.into(),
        cell: place.key,
        value,
        typed: kept.typed.clone(),
        instrument: instrument.map(|i| i.name.clone()),
        over: stands.map(|r| r.typed.clone()),
        act: act.id.clone(),
        place: place.label,
    };
    locked.note(who.id, &if read.over.is_some() { Event::Correction(read) } else { Event::Reading(read) });
    let sheets = Arc::make_mut(&mut b.sheets);
    match sheets.iter_mut().find(|s| s.id == sheet_id) {
        Some(s) => s.readings.push(kept),
        None => {
            let begun = ActSheet::begun(sheet_id, &act.id, declared.name, Given::default());
            sheets.push(ActSheet { readings: vec![kept], ..begun });
        }
    }
    Ok(Outcome::Stored)
}

/// What stands beside the readings, as typed; what the rebuild knows as well is not kept.
///
/// # Errors
/// What was expected in which field; held when the rebuild is finished.
pub fn give(
    c: &mut MysqlConnection,
    who: &Person,
    rebuild: RebuildId,
    act: &str,
    name: &str,
    new: &Given,
) -> Result<()> {
    transaction(c, |c| {
        let mut locked = chain::rebuild::open(c, rebuild)?;
        let (mut b, act, declared) = decided(c, rebuild, act, name)?;
        if give_one(c, &mut locked, &mut b, &act, declared, who, new)? { locked.write(c) } else { Ok(()) }
    })
}

/// Keeps what stands beside the readings, and puts it into the rebuild as it stands; false when nothing changes.
fn give_one(
    c: &mut MysqlConnection,
    locked: &mut chain::rebuild::Locked,
    b: &mut Bench,
    act: &Act,
    declared: &'static Declared,
    who: &Person,
    new: &Given,
) -> Result<bool> {
    let name = declared.name;
    let known = known(b, act, name);
    let mut kept = new.clone();
    let own = |k: &String| declared.given().iter().any(|f| f.name == *k);
    kept.fields.retain(|k, v| own(k) && known.get(k) != Some(v));
    let counted = declared.counted();
    kept.counts.retain(|k, n| counted.iter().any(|(f, _, usual, most)| f == k && *n >= 1 && *n <= *most && n != usual));
    let sheet = b.sheet(&act.id, name);
    let before = sheet.map(|s| s.typed.clone()).unwrap_or_default();
    if kept == before {
        return Ok(false);
    }
    let read = sheet.map(ActSheet::values).unwrap_or_default();
    declared.may_give(&over(known.clone(), &before), &over(known, &kept), &read)?;
    let id = row(c, b, act, name)?;
    let document = stored::write(&kept)?;
    if document.len() > 20_000 {
        return Err(Refusal::new("given", "this is more than a sheet takes: use the Reckoner for it").into());
    }
    diesel::update(sheets::table.find(id)).set(sheets::given.eq(document)).execute(c)?;
    locked.note(who.id, &Event::Given { act: act.id.clone(), sheet: name.to_owned(), given: kept.clone() });
    let sheets = Arc::make_mut(&mut b.sheets);
    match sheets.iter_mut().find(|s| s.id == id) {
        Some(s) => s.typed = kept,
        None => sheets.push(ActSheet::begun(id, &act.id, name, kept)),
    }
    Ok(true)
}

/// A question that was asked whole becomes the sheet of an act: what stands beside the readings, and each of them as if
/// it had been typed there. All of it or nothing.
///
/// # Errors
/// The field that no sheet holds; a reading that asks whether it is right; a conflict when somebody has read there
/// already; what [`give`] and [`take`] say.
pub fn take_over(
    c: &mut MysqlConnection,
    who: &Person,
    rebuild: RebuildId,
    act: &str,
    name: &str,
    input: &Map<String, Value>,
) -> Result<()> {
    transaction(c, |c| {
        let mut locked = chain::rebuild::open(c, rebuild)?;
        let (mut b, act, declared) = decided(c, rebuild, act, name)?;
        if b.sheet(&act.id, name).is_some_and(|s| !s.readings.is_empty()) {
            return Err(StoreError::Conflict("readings stand on this sheet of that act already: open it there".into()));
        }
        let (beside, read) = declared.filled(input)?;
        give_one(c, &mut locked, &mut b, &act, declared, who, &beside)?;
        let places = declared.places(&given(&b, &act, name), &read);
        for place in places.iter().filter(|p| read.contains_key(&p.key)) {
            let new = NewReading {
                id: Id::new(),
                cell: place.key.clone(),
                text: read[&place.key].to_string(),
                instrument: None,
                over: None,
                sure: false,
                units: Units::Metric,
                reason: String::new(),
            };
            if let Outcome::Ask(_) = take_one(c, &mut locked, &mut b, &act, declared, who, &new)? {
                let words =
                    format!("{}: is {} right? Mend it, or read it on the sheet, which asks", place.label, new.text);
                return Err(Refusal::new(place.key.as_str(), words).into());
            }
        }
        locked.write(c)
    })
}

/// Chooses the instrument of a sheet, for the readings that follow; none: it is not noted.
///
/// # Errors
/// `instrument` when there is no such one.
pub fn choose_instrument(
    c: &mut MysqlConnection,
    who: &Person,
    rebuild: RebuildId,
    act: &str,
    name: &str,
    instrument: Option<InstrumentId>,
) -> Result<()> {
    transaction(c, |c| {
        let mut locked = chain::rebuild::open(c, rebuild)?;
        let (b, act, _) = decided(c, rebuild, act, name)?;
        let all = shop::list_instruments(c)?;
        let chosen = match instrument {
            Some(id) => Some(
                all.iter()
                    .find(|i| i.id == id && i.in_use())
                    .ok_or_else(|| Refusal::new("instrument", "choose one of the shop's instruments in use"))?,
            ),
            None => None,
        };
        let id = row(c, &b, &act, name)?;
        diesel::update(sheets::table.find(id)).set(sheets::instrument_id.eq(chosen.map(|i| i.id))).execute(c)?;
        locked.note(
            who.id,
            &Event::Instrument {
                seat: String::new(),
                sheet: name.to_owned(),
                instrument: chosen.map_or_else(|| "instrument that nobody noted".to_owned(), |i| i.name.clone()),
                act: act.id.clone(),
            },
        );
        locked.write(c)
    })
}
