//! Sheets of acts: readings taken at an act of the trail, ending in a computation of core. A reading is a row like those
//! of a seat's sheets; what a person typed beside them stands with the sheet.

use crate::bench::{self, Bench};
use crate::people::Person;
use crate::readings::{NewReading, Outcome, ReadingRow, unseen};
use crate::rebuilds::Rebuild;
use crate::schema::{people, readings, sheets};
use crate::seat_record::{self, SeatRecord};
use crate::shop::{self, Instrument};
use crate::stored::{self, Document, Stored};
use crate::transaction::transaction;
use crate::{Id, InstrumentId, RebuildId, Result, SheetId, StoreError, record};
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::anatomy::acts::Act;
use ironseat_core::decide::{Event, Judged, Read, State, knows, seat_at};
use ironseat_core::quantity::Units;
use ironseat_core::reckon::SHEETS_OF_SEAT;
use ironseat_core::sheet::{self, Declared, Given, read_place};
use serde_json::{Map, Value};
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

/// Most sheets of one rebuild: every act may have some.
pub const MOST: usize = 400;

impl Document for Given {
    const NAME: &'static str = "head of a sheet";
}

/// A sheet of an act with all its readings, corrected ones too, oldest first.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct ActSheet {
    pub id: SheetId,
    /// Id of the act.
    pub act: String,
    /// The computation that it ends in.
    pub name: String,
    /// What a person typed beside the readings.
    pub typed: Given,
    pub instrument_id: Option<InstrumentId>,
    pub readings: Vec<ReadingRow>,
    /// Expanded uncertainty of the coarsest instrument that read what stands, in mm; none when nobody noted one.
    pub u_mm: Option<f64>,
}

impl ActSheet {
    /// One that was only begun.
    fn begun(id: SheetId, act: &str, name: &str, typed: Given) -> Self {
        Self {
            id,
            act: act.to_owned(),
            name: name.to_owned(),
            typed,
            instrument_id: None,
            readings: Vec::new(),
            u_mm: None,
        }
    }
    /// The readings that stand, by place.
    #[must_use]
    pub fn standing(&self) -> BTreeMap<String, &ReadingRow> {
        let mut out: BTreeMap<String, &ReadingRow> = BTreeMap::new();
        for r in &self.readings {
            let newest = out.get(&r.cell).is_none_or(|old| old.seq < r.seq);
            if newest {
                out.insert(r.cell.clone(), r);
            }
        }
        out
    }
    /// Their values.
    #[must_use]
    pub fn values(&self) -> BTreeMap<String, f64> {
        self.standing().into_iter().map(|(k, r)| (k, r.value)).collect()
    }
}

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
    let all = seat_record::seat_records(c, rebuild)?;
    Ok(all.into_iter().filter(|r| asked.contains(&r.facts.seat.id)).map(SeatRecord::judged).collect())
}

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
fn over(known: Map<String, Value>, typed: &Given) -> Given {
    let mut fields = known;
    fields.extend(typed.fields.clone());
    Given { fields, counts: typed.counts.clone() }
}

/// What the rebuild knows of a question: from its anatomy and seat, and from the sheet that was read before this one.
fn known(b: &Bench, act: &Act, name: &str) -> Map<String, Value> {
    let mut out = knows(&b.state, act, name);
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
fn decided(
    c: &mut MysqlConnection,
    rebuild: RebuildId,
    act: &str,
    name: &str,
) -> Result<(Bench, Act, &'static Declared)> {
    let now = bench::load(c, rebuild)?;
    at(c, now, act, name)
}

/// An act and its sheet, with the figures of the act's seat.
fn at(c: &mut MysqlConnection, mut b: Bench, act: &str, name: &str) -> Result<(Bench, Act, &'static Declared)> {
    let sheet = Declared::of(name).ok_or(StoreError::NotFound)?;
    let act = b.state.act(act).cloned().ok_or(StoreError::NotFound)?;
    if let Some(seat) = seat_at(b.state.anatomy(), &act).map(str::to_owned) {
        b.judge(c, &seat)?;
    }
    Ok((b, act, sheet))
}

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
        let mut locked = record::open(c, rebuild)?;
        let (mut b, act, declared) = decided(c, rebuild, act, name)?;
        let outcome = take_one(c, &mut locked, &mut b, &act, declared, who, new)?;
        locked.write(c)?;
        Ok(outcome)
    })
}

/// Takes one reading, and puts it into the rebuild as it stands.
pub(crate) fn take_one(
    c: &mut MysqlConnection,
    locked: &mut record::Locked,
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

/// What holds the readings of a sheet: they are the number of an act that cannot be done yet.
#[must_use]
pub fn held(b: &Bench, act: &Act, declared: &Declared, units: Units) -> Option<String> {
    let id = ironseat_core::decide::ActId::of(&act.id)?;
    if !(declared.belongs(&id) && declared.leaves.is_some() && act.measure.is_some()) || b.state.is_done(&act.id) {
        return None;
    }
    let first = b.state.reasons(act, units).into_iter().next()?;
    Some(format!("this is read once it can be: {}", first.words))
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
        let mut locked = record::open(c, rebuild)?;
        let (mut b, act, declared) = decided(c, rebuild, act, name)?;
        if give_one(c, &mut locked, &mut b, &act, declared, who, new)? { locked.write(c) } else { Ok(()) }
    })
}

/// Keeps what stands beside the readings, and puts it into the rebuild as it stands; false when nothing changes.
fn give_one(
    c: &mut MysqlConnection,
    locked: &mut record::Locked,
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

/// A question that was asked whole becomes the sheet of an act: what stands beside the readings, and each of them as if it
/// had been typed there. All of it or nothing.
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
        let mut locked = record::open(c, rebuild)?;
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
        let mut locked = record::open(c, rebuild)?;
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
