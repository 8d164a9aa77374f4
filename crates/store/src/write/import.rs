//! Readings that come as a table: what each row is taken for, shown before anything is kept, and kept by the same rules
//! as if they had been typed. Looking is keeping that is undone, so what was shown is what is done.

use crate::chain::rebuild::Locked;
use crate::db::transaction::{transaction, undone};
use crate::read::bench::{self, Bench};
use crate::read::seats::{SeatRecord, seat_record};
use crate::read::sheet_room;
use crate::read::shop;
use crate::rows::act_sheet::ActSheet;
use crate::rows::person::Person;
use crate::rows::shop::Instrument;
use crate::write;
use crate::write::readings::{self, NewReading, Outcome};
use crate::{InstrumentId, ReadingId, RebuildId, Result, StoreError, chain};
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::anatomy::acts::Act;
use ironseat_core::quantity::Units;
use ironseat_core::rows::{FileRow, Role, Table};
use ironseat_core::sheet::{self, Declared, Reading, SheetKind, Takes, read_place};
use ironseat_core::terms::StepKind;
use sha2::{Digest as _, Sha256};
use std::collections::{BTreeMap, BTreeSet};
use uuid::Uuid;

/// Columns that are known. Without a column for the sheet, rows belong to the one that was chosen; without one for the
/// place they are taken in the order in which hands move.
pub const ROLES: [Role; 7] = [
    Role {
        key: "value",
        name: "reading",
        words: &["value", "reading", "measured", "actual", "result", "size"],
        needed: true,
    },
    Role { key: "cell", name: "place", words: &["cell", "place", "position", "point", "station"], needed: false },
    Role { key: "unit", name: "unit", words: &["unit", "units"], needed: false },
    Role { key: "key", name: "sheet", words: &["key", "sheet"], needed: false },
    Role { key: "instrument", name: "instrument", words: &["serial", "instrument", "gauge", "device"], needed: false },
    Role { key: "rebuild", name: "rebuild", words: &["rebuild", "job", "order"], needed: false },
    Role { key: "stands", name: "stands", words: &["stands"], needed: false },
];

/// How a table is to be read.
#[derive(Debug, Clone, Default)]
pub struct TableForm {
    /// Column of each of [`ROLES`].
    pub columns: Vec<Option<usize>>,
    /// Sheet of rows that name none, `seat/kind` or `act/computation`.
    pub sheet: String,
    /// Instrument of rows that name none.
    pub instrument: Option<InstrumentId>,
    /// Units of figures that name none.
    pub units: Units,
    /// Lines whose far-off values a person insists on.
    pub sure: BTreeSet<usize>,
    /// Why a seat that is signed is read again.
    pub reason: String,
}

/// What becomes of a row.
#[derive(Debug, Clone, PartialEq)]
pub enum Became {
    /// A reading where none stands.
    New,
    /// A correction of what stands there, as that was typed.
    Corrects(String),
    /// It stands there already, or came in before.
    Same,
    /// No reading of a sheet, and why.
    Left(&'static str),
    /// Not kept until a person says so.
    Ask(Reading),
    /// What was expected, and in which column.
    Wrong(Refusal),
}

/// A row as it was understood.
#[derive(Debug, Clone, PartialEq)]
#[allow(missing_docs)]
pub struct Understood {
    /// Line of the file.
    pub line: usize,
    /// Seat or part, and the sheet.
    pub sheet: String,
    pub place: String,
    /// What stands in the file.
    pub text: String,
    /// In the unit of the place, as files write it.
    pub value: Option<f64>,
    pub unit: &'static str,
    pub instrument: String,
    pub became: Became,
}

/// A table as it was understood.
#[derive(Debug, Clone, PartialEq)]
pub struct Imported {
    /// Row by row.
    pub lines: Vec<Understood>,
    /// How far the record had come: what is kept was seen against the same.
    pub stand: i64,
}

impl Imported {
    /// Rows that are kept, or were.
    #[must_use]
    pub fn kept(&self) -> usize {
        self.lines.iter().filter(|l| matches!(l.became, Became::New | Became::Corrects(_))).count()
    }
}

/// The sheets that rows may belong to, in the order of the work: key, and how it is said.
#[must_use]
pub fn sheets(b: &Bench) -> Vec<(String, String)> {
    let mut out = Vec::new();
    for seat in &b.rebuild.anatomy().seats {
        for kind in SheetKind::ALL {
            let name = StepKind::of(kind.key()).map_or(kind.key(), StepKind::name);
            out.push((format!("{}/{}", seat.id, kind.key()), format!("{}: {name}", seat.name)));
        }
    }
    for act in b.state.acts.iter() {
        let Some(id) = ironseat_core::terms::ActId::of(&act.id) else { continue };
        for d in sheet::SHEETS.iter().filter(|d| d.belongs(&id) || b.sheet(&act.id, d.name).is_some()) {
            out.push((format!("{}/{}", act.id, d.name), format!("{}: {}", act.words.say(Units::Metric), d.title)));
        }
    }
    out
}

/// What would become of a table: nothing is kept.
///
/// # Errors
/// Not found; held when the rebuild is finished.
pub fn look(
    c: &mut MysqlConnection,
    who: &Person,
    rebuild: RebuildId,
    t: &Table,
    asked: &TableForm,
) -> Result<Imported> {
    undone(c, |c| {
        let mut locked = chain::rebuild::open(c, rebuild)?;
        read(c, &mut locked, who, rebuild, t, asked)
    })
}

/// Keeps what can be kept. `stand` is what a person saw it against.
///
/// # Errors
/// As [`look`]; a conflict when somebody wrote meanwhile.
pub fn keep(
    c: &mut MysqlConnection,
    who: &Person,
    rebuild: RebuildId,
    t: &Table,
    asked: &TableForm,
    stand: i64,
) -> Result<Imported> {
    transaction(c, |c| {
        let mut locked = chain::rebuild::open(c, rebuild)?;
        if stand != chain::heads::revision(c, Some(rebuild))? {
            return Err(StoreError::Conflict(
                "somebody wrote in this rebuild meanwhile: look at what the rows become now, then keep them".into(),
            ));
        }
        let brought = read(c, &mut locked, who, rebuild, t, asked)?;
        locked.write(c)?;
        Ok(brought)
    })
}

/// A table that is being read into a rebuild.
struct Into<'a> {
    bench: Bench,
    seats: BTreeMap<String, SeatRecord>,
    /// Seats whose sheets took readings.
    touched: BTreeSet<(String, &'static str)>,
    gauges: Vec<Instrument>,
    /// Places of a sheet that rows without one have had.
    next: BTreeMap<String, usize>,
    asked: &'a TableForm,
    who: &'a Person,
    /// Of the rebuild and all that stands in the table: the same row never counts twice.
    seed: Sha256,
}

fn read(
    c: &mut MysqlConnection,
    locked: &mut Locked,
    who: &Person,
    rebuild: RebuildId,
    t: &Table,
    asked: &TableForm,
) -> Result<Imported> {
    let stand = chain::heads::revision(c, Some(rebuild))?;
    let mut seed = Sha256::new();
    seed.update(rebuild.to_string());
    for l in &t.lines {
        seed.update(l.cells.join("\u{1f}"));
    }
    let bench = bench::load(c, rebuild)?;
    let gauges = shop::list_instruments(c)?.into_iter().filter(Instrument::in_use).collect();
    let (seats, touched, next) = (BTreeMap::new(), BTreeSet::new(), BTreeMap::new());
    let mut into = Into { bench, seats, touched, gauges, next, asked, who, seed };
    let mut lines = Vec::new();
    for l in &t.lines {
        lines.push(into.line(c, locked, l)?);
    }
    for (seat, kind) in &into.touched {
        if let Some((record, kind)) = into.seats.get(seat).zip(SheetKind::of(kind)) {
            readings::settle(c, rebuild, record, kind, who)?;
        }
    }
    Ok(Imported { lines, stand })
}

/// Where a row belongs.
enum Sheet {
    Seat(String, SheetKind),
    Act(Box<Act>, &'static Declared),
}

impl Into<'_> {
    fn column(&self, key: &str) -> Option<usize> {
        let at = ROLES.iter().position(|r| r.key == key)?;
        self.asked.columns.get(at).copied().flatten()
    }

    /// One row. What is wrong with it is its own; what is wrong with the database is everybody's.
    fn line(&mut self, c: &mut MysqlConnection, locked: &mut Locked, l: &FileRow) -> Result<Understood> {
        let text = |key: &str| l.at(self.column(key)).trim().to_owned();
        let mut out = Understood {
            line: l.number,
            sheet: String::new(),
            place: text("cell"),
            text: text("value"),
            value: None,
            unit: "",
            instrument: text("instrument"),
            became: Became::New,
        };
        let (key, rebuild, unit, stands) = (text("key"), text("rebuild"), text("unit"), text("stands"));
        let key = if key.is_empty() { self.asked.sheet.clone() } else { key };
        out.sheet.clone_from(&key);
        let read = if !rebuild.is_empty() && rebuild != self.bench.rebuild.number {
            Err(Refusal::new(
                "rebuild",
                format!("expected {}: this row is of another rebuild", self.bench.rebuild.number),
            ))
        } else if stands == "no" {
            Ok(Became::Left("corrected before it left"))
        } else if out.text.is_empty() {
            Ok(Became::Left("nothing was read"))
        } else {
            match self.sheet(&key) {
                Ok(Some(sheet)) => return self.of_sheet(c, locked, out, &sheet, &key, &unit),
                Ok(None) => Ok(Became::Left("no reading of a sheet: it is recorded at its act")),
                Err(r) => Err(r),
            }
        };
        out.became = read.unwrap_or_else(Became::Wrong);
        Ok(out)
    }

    /// The sheet by its key; none for the number of an act and what was found.
    fn sheet(&self, key: &str) -> std::result::Result<Option<Sheet>, Refusal> {
        if key.is_empty() {
            return Err(Refusal::new("key", "choose the sheet that the rows belong to"));
        }
        let known = || self.bench.state.act(key).is_some() || key.starts_with("ask.");
        let Some((place, name)) = key.rsplit_once('/') else {
            return if known() { Ok(None) } else { Err(Refusal::new("key", "there is no such sheet in this rebuild")) };
        };
        if let Some(kind) = SheetKind::of(name).filter(|_| self.bench.rebuild.anatomy().seat(place).is_some()) {
            return Ok(Some(Sheet::Seat(place.to_owned(), kind)));
        }
        match self.bench.state.act(place).cloned().zip(Declared::of(name)) {
            Some((act, declared)) => Ok(Some(Sheet::Act(Box::new(act), declared))),
            None if known() => Ok(None),
            None => Err(Refusal::new("key", "there is no such sheet in this rebuild")),
        }
    }

    #[expect(clippy::too_many_lines, reason = "what a row may be, in the order in which it is told apart")]
    fn of_sheet(
        &mut self,
        c: &mut MysqlConnection,
        locked: &mut Locked,
        mut out: Understood,
        sheet: &Sheet,
        key: &str,
        unit: &str,
    ) -> Result<Understood> {
        // The places of the sheet: key, as it is said, its unit.
        let places: Vec<(String, String, &'static str)> = match sheet {
            Sheet::Seat(seat, kind) => {
                if !self.seats.contains_key(seat) {
                    let record = seat_record(c, &self.bench.rebuild, seat)?;
                    self.seats.insert(seat.clone(), record);
                }
                let of = |t: Takes| if t == Takes::Feeler { "goes_in" } else { "mm" };
                out.sheet = format!(
                    "{}, {}",
                    self.seats[seat].facts.seat.name,
                    StepKind::of(kind.key()).map_or(kind.key(), StepKind::name)
                );
                kind.cells().into_iter().map(|k| (k.key, k.label, of(k.takes))).collect()
            }
            Sheet::Act(act, declared) => {
                if let Some((seat, _)) = &act.seat {
                    let judged = self.bench.state.judged.as_ref().is_some_and(|j| j.facts.seat.id == *seat);
                    if !judged {
                        self.bench.judge(c, seat)?;
                    }
                }
                let part = if act.body.is_empty() { &act.id } else { self.bench.state.anatomy().name_of(&act.body) };
                out.sheet = format!("{part}, {}", declared.title);
                let values = self.bench.sheet(&act.id, declared.name).map(ActSheet::values).unwrap_or_default();
                let given = sheet_room::given(&self.bench, act, declared.name);
                let places = declared.places(&given, &values);
                places.into_iter().map(|p| (p.key.clone(), p.label.clone(), p.unit_word())).collect()
            }
        };
        let wrong = |out: Understood, field: &str, words: String| {
            Ok(Understood { became: Became::Wrong(Refusal::new(field, words)), ..out })
        };
        let at = if self.column("cell").is_none() || out.place.is_empty() {
            let next = self.next.entry(key.to_owned()).or_default();
            *next += 1;
            Some(*next - 1).filter(|k| *k < places.len())
        } else {
            let said = out.place.to_lowercase();
            places.iter().position(|p| p.0.eq_ignore_ascii_case(&said) || p.1.to_lowercase() == said)
        };
        let Some((cell, label, own)) = at.map(|k| places[k].clone()) else {
            let (first, last) = (places.first().map_or("", |p| &p.0), places.last().map_or("", |p| &p.0));
            return wrong(
                out,
                "cell",
                format!("there is no such place on this sheet: it has {} from {first} to {last}", places.len()),
            );
        };
        (out.place, out.unit) = (label, own);
        let gauge = match out.instrument.to_lowercase() {
            none if none.is_empty() => self.asked.instrument,
            named => {
                let is = |i: &&Instrument| i.serial.to_lowercase() == named || i.name.to_lowercase() == named;
                match self.gauges.iter().find(is) {
                    Some(i) => Some(i.id),
                    None => {
                        return wrong(
                            out,
                            "instrument",
                            "no instrument of the shop goes by this name or number".into(),
                        );
                    }
                }
            }
        };
        // A unit that is the place's own needs no reading; another one is read as it would be typed.
        let (text, units) = match unit {
            "" => (out.text.clone(), self.asked.units),
            u if u == own => (out.text.clone(), Units::Metric),
            u => (format!("{} {u}", out.text), self.asked.units),
        };
        let mut new = NewReading {
            id: self.id(out.line),
            cell,
            text,
            instrument: gauge,
            over: None,
            sure: self.asked.sure.contains(&out.line),
            units,
            reason: self.asked.reason.clone(),
        };
        let done = self.take(c, locked, sheet, &mut new, &mut out);
        if let Some(g) = gauge.and_then(|id| self.gauges.iter().find(|i| i.id == id)).filter(|_| own != "goes_in") {
            out.instrument.clone_from(&g.name);
        }
        out.became = match done {
            Ok(became) => became,
            Err(StoreError::Refused(r)) => Became::Wrong(r),
            Err(StoreError::Held(s) | StoreError::Conflict(s)) => Became::Wrong(Refusal::new("key", s)),
            Err(other) => return Err(other),
        };
        Ok(out)
    }

    /// Takes a reading as if it had been typed over what stands.
    fn take(
        &mut self,
        c: &mut MysqlConnection,
        locked: &mut Locked,
        sheet: &Sheet,
        new: &mut NewReading,
        out: &mut Understood,
    ) -> Result<Became> {
        let (reading, stands) = match sheet {
            Sheet::Seat(seat, kind) => {
                let record = &self.seats[seat];
                let takes = kind.cells().into_iter().find(|k| k.key == new.cell).map_or(Takes::Size, |k| k.takes);
                let nominal = sheet::nominal(*kind, &record.facts);
                let stands = record.standing(*kind).into_iter().find(|r| r.cell == new.cell).cloned();
                (sheet::read(takes, &new.text, new.units, nominal, new.sure)?, stands)
            }
            Sheet::Act(act, declared) => {
                let old = self.bench.sheet(&act.id, declared.name);
                let values = old.map(ActSheet::values).unwrap_or_default();
                let given = sheet_room::given(&self.bench, act, declared.name);
                let place = declared.places(&given, &values).into_iter().find(|p| p.key == new.cell);
                let place = place.ok_or_else(|| Refusal::new("cell", "there is no such place on this sheet"))?;
                let expected = declared.foretell(&given, &values, &place.key).map(|x| x.0);
                let stands = old.and_then(|s| s.standing().get(&new.cell).map(|r| (*r).clone()));
                (read_place(&place, &new.text, new.units, expected, new.sure)?, stands)
            }
        };
        match reading {
            Reading::Value(v) => out.value = Some(v),
            ask => return Ok(Became::Ask(ask)),
        }
        if stands.as_ref().is_some_and(|r| out.value.is_some_and(|v| (v - r.value).abs() < 1e-9)) {
            return Ok(Became::Same);
        }
        new.over = stands.as_ref().map(|r| r.id);
        let outcome = match sheet {
            Sheet::Seat(seat, kind) => {
                let record = self.seats.get_mut(seat).ok_or(StoreError::NotFound)?;
                let outcome = readings::take(c, locked, record, self.who, *kind, new)?;
                if outcome == Outcome::Stored {
                    self.touched.insert((seat.clone(), kind.key()));
                }
                outcome
            }
            Sheet::Act(act, declared) => {
                write::act_sheets::take_one(c, locked, &mut self.bench, act, declared, self.who, new)?
            }
        };
        Ok(match (outcome, stands) {
            (Outcome::Stored, Some(r)) => Became::Corrects(r.typed),
            (Outcome::Stored, None) => Became::New,
            (Outcome::Repeated, _) => Became::Same,
            (Outcome::Ask(r), _) => Became::Ask(r),
        })
    }

    /// Id of the reading of a line: the same table brought in twice is the same readings.
    fn id(&self, line: usize) -> ReadingId {
        let mut seed = self.seed.clone();
        seed.update(line.to_string());
        let mut bytes = [0; 16];
        bytes.copy_from_slice(&seed.finalize()[..16]);
        bytes[6] = bytes[6] & 0x0f | 0x80;
        bytes[8] = bytes[8] & 0x3f | 0x80;
        ReadingId::from(Uuid::from_bytes(bytes))
    }
}
