//! Sheets that end in a computation: what is read, in the order in which hands move, what each place expects, and what
//! of the answer belongs to the act. Each is declared once, in [`super::SHEETS`]; Bench, record, export and print
//! follow from it, and its form, answer and drawing are those of the computation.

use super::{Reading, slipped};
use crate::quantity::{Millimetres, Units, parse_length};
use crate::reckon::{Entry, Field, FieldKind, entry, number_in, reckon, unit};
use crate::refusal::{Refusal, Result};
use crate::rotation::{self, Sweep};
use crate::terms::ActId;
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value, json};
use std::collections::BTreeMap;

/// Part of the work that a sheet belongs to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Family {
    Measure,
    TrueUp,
    SetAxially,
    Preload,
    Torque,
    Seals,
    Fit,
    Inspect,
}

impl Family {
    /// All, in the order of the work, with their headings.
    pub const ALL: [(Self, &'static str); 8] = [
        (Self::Measure, "Measure"),
        (Self::TrueUp, "True up"),
        (Self::Fit, "Fit"),
        (Self::SetAxially, "Set axially"),
        (Self::Preload, "Preload"),
        (Self::Torque, "Torque and lock"),
        (Self::Seals, "Seals and closing"),
        (Self::Inspect, "Inspect and run in"),
    ];
}

/// How the places of a list are said.
#[derive(Debug, Clone, Copy)]
pub enum Label {
    /// Equal steps around a circle from the mark: `at 30°`. While some are missing, the computation is told the angles.
    Around(&'static str),
    /// Counted: `bush 3`.
    Counted(&'static str),
}

/// What a place expects from what was read before it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Expect {
    /// Nothing that can be foretold.
    Nothing,
    /// What the same field read before.
    Same,
    /// A curve once a turn through what was read.
    Turn,
    /// A straight line along the shaft.
    Line,
}

/// What is read into one field of the computation.
#[derive(Debug, Clone, Copy)]
pub enum Reads {
    /// One number.
    One(&'static str),
    /// A list: how many are usual and how many there may be.
    List(&'static str, usize, usize, Label, Expect),
    /// Several readings of one number, whose mean counts: how many are usual and how many there may be.
    Mean(&'static str, usize, usize, Label),
    /// Rows of a few numbers each, `(field, as said)`.
    Rows(&'static str, &'static [(&'static str, &'static str)], usize, usize, &'static str, Expect),
    /// Rows of a few numbers each that go on as long as somebody reads.
    Log(&'static str, &'static [(&'static str, &'static str)], usize, usize, &'static str),
    /// A grid: rows that are usual, columns, what a row and a column are called; around a circle or not.
    Grid(&'static str, usize, usize, &'static str, Label, Expect),
    /// Bolts drawn in the order and rounds that the computation gives: each is pressed once.
    Bolts,
}

/// What of question and answer is the number of an act.
pub type FiguresLeft = fn(&Map<String, Value>, &Map<String, Value>) -> Option<Vec<f64>>;

/// A sheet.
#[derive(Debug)]
pub struct Declared {
    /// The computation that it ends in; also its name in addresses and in the record.
    pub name: &'static str,
    /// As a heading.
    pub title: &'static str,
    /// Part of the work.
    pub family: Family,
    /// What hands do, verb first.
    pub says: &'static str,
    /// Acts that it belongs to, by the first word of their id; of a seat's own step `at:put_on`.
    pub acts: &'static [&'static str],
    /// What is read, in the order in which hands move.
    pub reads: &'static [Reads],
    /// Results that were asked for, the first one largest; the others stand behind them.
    pub headline: &'static [&'static str],
    /// What of it is the number of its act: from what was asked and what was answered.
    pub leaves: Option<FiguresLeft>,
}

/// One place to read.
#[derive(Debug, Clone)]
pub struct Place {
    /// Path in the input of the computation: `readings_um.3`, `pairs.0.pushed_mm`.
    pub key: String,
    /// Field that says its unit.
    pub field: &'static str,
    /// As said: `at 90°`.
    pub label: String,
    kind: FieldKind,
}

impl Place {
    /// It is pressed, not read.
    #[must_use]
    pub fn pressed(&self) -> bool {
        self.field == PRESSED
    }
    /// Its unit as files write it: `mm`, `um`, `n`; empty for a plain number.
    #[must_use]
    pub fn unit_word(&self) -> &'static str {
        match unit(self.field) {
            Some("µm") => "um",
            Some("N") => "n",
            Some("V") => "v",
            Some("Ω") => "ohm",
            Some("degrees") => "deg",
            Some("°C") => "degc",
            Some("seconds") => "s",
            Some(other) => other,
            None => "",
        }
    }
    /// Its number is a length.
    #[must_use]
    pub fn is_length(&self) -> bool {
        matches!(unit(self.field), Some("mm" | "µm"))
    }
}

const PRESSED: &str = "pressed";

/// What stands beside the readings: fields that are typed or known, and how many places a list has.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct Given {
    pub fields: Map<String, Value>,
    pub counts: BTreeMap<String, usize>,
}

/// A sheet worked out.
#[derive(Debug, Clone, PartialEq)]
pub enum Outcome {
    /// Nothing to say yet: what is still wanted.
    Wants(String),
    /// From what was read so far: figures, no judgement.
    SoFar(Map<String, Value>, Map<String, Value>),
    /// From everything: what was asked, and the answer.
    Answer(Map<String, Value>, Map<String, Value>),
    /// Everything is read, and something in it cannot be.
    Refused(Refusal),
}

impl Declared {
    /// The sheet of a computation.
    #[must_use]
    pub fn of(name: &str) -> Option<&'static Self> {
        super::SHEETS.iter().find(|s| s.name == name)
    }

    /// Sheets that belong to an act.
    pub fn at(act: &str) -> impl Iterator<Item = &'static Self> {
        let id = ActId::of(act);
        super::SHEETS.iter().filter(move |s| id.as_ref().is_some_and(|id| s.belongs(id)))
    }

    /// Whether it belongs to an act.
    #[must_use]
    pub fn belongs(&self, act: &ActId) -> bool {
        let word = match act.first_time() {
            ActId::AtSeat { step, .. } => format!("at:{}", step.key()),
            // What is proved closed up is read as it was the first time.
            ActId::Prove(of) if of.starts_with("float.") => "float".into(),
            ActId::Prove(of) => format!("prove.{of}"),
            id => id.to_string().split('.').next().unwrap_or_default().to_owned(),
        };
        self.acts.iter().any(|a| *a == word)
    }

    /// The computation.
    ///
    /// # Errors
    /// None for a sheet of the table: a test sees to it.
    pub fn entry(&self) -> Result<&'static Entry> {
        entry(self.name)
    }

    fn fields(&self) -> &'static [Field] {
        self.entry().map_or(&[], |e| e.fields)
    }

    /// Fields that are not read into places: they are typed, or known from the rebuild.
    #[must_use]
    pub fn given(&self) -> Vec<&'static Field> {
        let read = |f: &&Field| !self.reads.iter().any(|r| r.field() == f.name);
        self.fields().iter().filter(read).collect()
    }

    /// Lists whose length a person may say: field, what is counted, how many are usual, how many there may be.
    #[must_use]
    pub fn counted(&self) -> Vec<(&'static str, String, usize, usize)> {
        let about = |field: &str| self.fields().iter().find(|f| f.name == field).map_or("", |f| f.about).to_owned();
        self.reads
            .iter()
            .filter_map(|r| match *r {
                Reads::List(field, usual, most, ..) | Reads::Mean(field, usual, most, _) => {
                    Some((field, about(field), usual, most))
                }
                Reads::Rows(field, _, usual, most, word, _) | Reads::Log(field, _, usual, most, word) => {
                    Some((field, format!("{word}s"), usual, most))
                }
                Reads::Grid(field, rows, _, word, ..) => Some((field, format!("{word}s"), rows, 12)),
                Reads::One(_) | Reads::Bolts => None,
            })
            .collect()
    }

    /// The places, in the order in which hands move; `read` says how far a log has come.
    #[must_use]
    pub fn places(&self, given: &Given, read: &BTreeMap<String, f64>) -> Vec<Place> {
        let mut out = Vec::new();
        for r in self.reads {
            let kind = self.fields().iter().find(|f| f.name == r.field()).map_or(FieldKind::Number, |f| f.kind);
            let count = |usual: usize, most: usize| given.counts.get(r.field()).map_or(usual, |n| (*n).clamp(1, most));
            match *r {
                Reads::One(field) => {
                    let about = self.fields().iter().find(|f| f.name == field).map_or(field, |f| f.about);
                    out.push(Place { key: field.into(), field, label: about.into(), kind });
                }
                Reads::List(field, usual, most, label, _) | Reads::Mean(field, usual, most, label) => {
                    let n = count(usual, most);
                    let kind = FieldKind::Number;
                    let place = |k| Place { key: format!("{field}.{k}"), field, label: label.say(k, n), kind };
                    out.extend((0..n).map(place));
                }
                Reads::Rows(field, inner, usual, most, word, _) => {
                    out.extend((0..count(usual, most)).flat_map(|k| row(field, kind, inner, word, k)));
                }
                Reads::Log(field, inner, usual, most, word) => {
                    let rows = read.keys().filter_map(|key| row_of(field, key)).max().map_or(0, |k| k + 1);
                    let n = count(usual, most).max(rows + usize::from(rows >= usual)).min(most);
                    out.extend((0..n).flat_map(|k| row(field, kind, inner, word, k)));
                }
                Reads::Grid(field, usual, columns, word, label, _) => {
                    let cell = |r: usize, c: usize| Place {
                        key: format!("{field}.{r}.{c}"),
                        field,
                        label: format!("{word} {}, {}", r + 1, label.say(c, columns)),
                        kind: FieldKind::Number,
                    };
                    out.extend((0..count(usual, 12)).flat_map(|r| (0..columns).map(move |c| cell(r, c))));
                }
                Reads::Bolts => out.extend(self.bolts(given)),
            }
        }
        out
    }

    /// Whether what stands beside the readings may become this: once something is read, the angle of a place on a
    /// circle and the order of bolts are what they were, and no reading is left without its place.
    ///
    /// # Errors
    /// `count.FIELD` or the field, with what to do instead.
    pub fn may_give(&self, old: &Given, new: &Given, read: &BTreeMap<String, f64>) -> Result<()> {
        if read.is_empty() {
            return Ok(());
        }
        for r in self.reads {
            let field = r.field();
            let count = |g: &Given| g.counts.get(field).copied();
            let around = matches!(r, Reads::List(.., Label::Around(_), _) | Reads::Mean(.., Label::Around(_)));
            let mine = |k: &&String| row_of(field, k).is_some();
            if around && count(old) != count(new) && read.keys().any(|k| mine(&k)) {
                let words =
                    "places of this circle are read already, and another number of steps would move them: keep it";
                return Err(Refusal::new(format!("count.{field}"), words));
            }
            if matches!(r, Reads::Bolts) && old.fields != new.fields {
                let changed =
                    new.fields.keys().chain(old.fields.keys()).find(|k| old.fields.get(*k) != new.fields.get(*k));
                let words = "bolts are drawn already in the order that this gave: keep it";
                return Err(Refusal::new(changed.map_or("n", String::as_str), words));
            }
        }
        let places = self.places(new, read);
        match read.keys().find(|k| !places.iter().any(|p| p.key == **k)) {
            Some(lost) => {
                let field = lost.split('.').next().unwrap_or_default();
                Err(Refusal::new(format!("count.{field}"), "more are read already than that: keep their places"))
            }
            None => Ok(()),
        }
    }

    fn bolts(&self, given: &Given) -> Vec<Place> {
        let Ok(answer) = self.reckon(&given.fields) else { return Vec::new() };
        let rounds = answer.get("rounds").and_then(Value::as_array);
        let of = |(k, round): (usize, &Value)| {
            let pct = round["pct"].as_f64().unwrap_or(0.0);
            let order = round["order"].as_array().cloned().unwrap_or_default();
            let place = move |bolt: &Value| {
                let bolt = bolt.as_u64()?;
                let label = format!("bolt {bolt} to {pct} %");
                Some(Place { key: format!("{k}.{bolt}"), field: PRESSED, label, kind: FieldKind::Number })
            };
            order.iter().filter_map(place).collect::<Vec<_>>()
        };
        rounds.into_iter().flatten().enumerate().flat_map(of).take(400).collect()
    }

    fn reckon(&self, input: &Map<String, Value>) -> Result<Map<String, Value>> {
        match reckon(self.name, &Value::Object(input.clone()).to_string())? {
            Value::Object(map) => Ok(map),
            _ => Ok(Map::new()),
        }
    }

    /// The input of the computation from what was read and given. `u_mm` is the uncertainty of the coarsest instrument
    /// that read it; a typed one comes first.
    #[must_use]
    pub fn input(&self, given: &Given, read: &BTreeMap<String, f64>, u_mm: Option<f64>) -> Map<String, Value> {
        let mut map = given.fields.clone();
        let places = self.places(given, read);
        let takes = |name: &str| self.fields().iter().any(|f| f.name == name);
        let put_u = |map: &mut Map<String, Value>, name: &str, u: Option<f64>| {
            if let Some(u) = u.filter(|_| takes(name) && !map.contains_key(name)) {
                map.insert(name.into(), json!((u * 1e6).round() / 1e6));
            }
        };
        put_u(&mut map, "u_um", u_mm.map(|u| u * 1000.0));
        put_u(&mut map, "u_mm", u_mm);
        for r in self.reads {
            let field = r.field();
            let mine: Vec<&Place> =
                places.iter().filter(|p| p.field == field || p.key.starts_with(&format!("{field}."))).collect();
            let value = |key: &str| read.get(key).copied();
            match *r {
                Reads::One(_) => {
                    if let Some(v) = value(field) {
                        map.insert(field.into(), json!(v));
                    }
                }
                Reads::List(.., label, _) => {
                    let there: Vec<usize> = (0..mine.len()).filter(|k| value(&mine[*k].key).is_some()).collect();
                    if there.is_empty() {
                        continue;
                    }
                    map.insert(
                        field.into(),
                        json!(there.iter().filter_map(|k| value(&mine[*k].key)).collect::<Vec<_>>()),
                    );
                    if there.len() < mine.len() && matches!(label, Label::Around(_)) && takes("angles_deg") {
                        let angles: Vec<f64> = there.iter().map(|k| angle(*k, mine.len())).collect();
                        map.entry("angles_deg").or_insert_with(|| json!(angles));
                    }
                }
                Reads::Mean(..) => {
                    let all: Vec<f64> = mine.iter().filter_map(|p| value(&p.key)).collect();
                    if !all.is_empty() {
                        map.insert(field.into(), json!(all.iter().sum::<f64>() / all.len() as f64));
                    }
                }
                Reads::Rows(_, inner, ..) | Reads::Log(_, inner, ..) => {
                    let rows = mine.iter().filter_map(|p| row_of(field, &p.key)).max().map_or(0, |k| k + 1);
                    let one = |k: usize| {
                        let each =
                            |(f, _): &(&str, &str)| Some(((*f).to_owned(), json!(value(&format!("{field}.{k}.{f}"))?)));
                        inner.iter().map(each).collect::<Option<Map<String, Value>>>().map(Value::Object)
                    };
                    let whole: Vec<Value> = (0..rows).filter_map(one).collect();
                    if !whole.is_empty() {
                        map.insert(field.into(), Value::Array(whole));
                    }
                }
                Reads::Grid(_, _, columns, ..) => {
                    let rows = mine.len() / columns;
                    let one = |r: usize| {
                        (0..columns).filter_map(|c| value(&format!("{field}.{r}.{c}"))).collect::<Vec<f64>>()
                    };
                    let all: Vec<Vec<f64>> = (0..rows).map(one).filter(|r| !r.is_empty()).collect();
                    if !all.is_empty() {
                        map.insert(field.into(), json!(all));
                    }
                }
                Reads::Bolts => {}
            }
        }
        map
    }

    /// Whether everything that it asks for is read; a log is whole once the usual rows are.
    #[must_use]
    pub fn complete(&self, given: &Given, read: &BTreeMap<String, f64>) -> bool {
        let places = self.places(given, read);
        let left = places.iter().filter(|p| !read.contains_key(&p.key));
        let open = |p: &Place| {
            self.reads.iter().any(|r| match *r {
                Reads::Log(field, _, usual, ..) => row_of(field, &p.key).is_some_and(|k| k >= usual),
                // A grid or list that may be left out.
                _ => false,
            })
        };
        !places.is_empty() && left.into_iter().all(open)
    }

    /// Works the sheet out.
    #[must_use]
    pub fn outcome(&self, given: &Given, read: &BTreeMap<String, f64>, u_mm: Option<f64>) -> Outcome {
        let input = self.input(given, read, u_mm);
        let wanted: Vec<&str> = self
            .given()
            .into_iter()
            .filter(|f| f.required && !input.contains_key(f.name))
            // The first words of it: the rest stands beside its field.
            .map(|f| f.about.split([',', ';']).next().unwrap_or(f.about))
            .collect();
        if !wanted.is_empty() {
            return Outcome::Wants(wanted.join(", "));
        }
        let whole = self.complete(given, read);
        match self.reckon(&input) {
            Ok(answer) if whole => Outcome::Answer(input, answer),
            Ok(answer) if !read.is_empty() => Outcome::SoFar(input, answer),
            Err(r) if whole => Outcome::Refused(r),
            // A field beside the readings is wrong however few there are.
            Err(r)
                if self.given().iter().any(|f| r.field == f.name || r.field.starts_with(&format!("{}.", f.name)))
                    && r.field != "angles_deg" =>
            {
                Outcome::Refused(r)
            }
            _ => Outcome::Wants(String::new()),
        }
    }

    /// What a place will probably read, with how far it may be off, in the unit of its field.
    #[must_use]
    pub fn foretell(&self, given: &Given, read: &BTreeMap<String, f64>, key: &str) -> Option<(f64, f64)> {
        let places = self.places(given, read);
        let at = places.iter().position(|p| p.key == key)?;
        let place = &places[at];
        let r = self
            .reads
            .iter()
            .find(|r| r.field() == place.field || place.key.starts_with(&format!("{}.", r.field())))?;
        let value = |p: &Place| if p.key == key { None } else { read.get(&p.key).copied() };
        // The places of the same field: of a grid those of its row.
        let row = place.key.rsplit_once('.').map_or("", |x| x.0);
        let (fellows, expect): (Vec<&Place>, Expect) = match *r {
            Reads::One(_) | Reads::Log(..) | Reads::Bolts => return None,
            Reads::Mean(..) => (places.iter().filter(|p| p.field == place.field).collect(), Expect::Same),
            Reads::List(.., e) => (places.iter().filter(|p| p.field == place.field).collect(), e),
            Reads::Rows(.., e) => (places.iter().filter(|p| p.field == place.field).collect(), e),
            Reads::Grid(.., e) => {
                (places.iter().filter(|p| p.key.rsplit_once('.').map_or("", |x| x.0) == row).collect(), e)
            }
        };
        match expect {
            Expect::Nothing => None,
            Expect::Same => {
                let all: Vec<f64> = fellows.iter().filter_map(|p| value(p)).collect();
                let mean = all.iter().sum::<f64>() / all.len() as f64;
                let off = all.iter().map(|v| (v - mean).abs()).fold(0.0, f64::max);
                (!all.is_empty()).then_some((mean, off))
            }
            Expect::Turn => {
                let n = fellows.len();
                let mine = fellows.iter().position(|p| p.key == key)?;
                let known: Vec<(f64, f64)> = (0..n).filter_map(|k| Some((angle(k, n), value(fellows[k])?))).collect();
                let (angles, values): (Vec<f64>, Vec<f64>) = known.into_iter().unzip();
                let s = rotation::sweep(&values, Some(&angles), 1).ok()?;
                Some((at_angle(&s, angle(mine, n)), 2.0 * s.rms.0))
            }
            Expect::Line => {
                let Reads::Rows(field, inner, ..) = *r else { return None };
                let k = row_of(field, key)?;
                let along = inner[0].0;
                let z = read.get(&format!("{field}.{k}.{along}")).copied().filter(|_| place.field != along)?;
                let points: Vec<(f64, f64)> = (0..k)
                    .filter_map(|i| {
                        Some((
                            *read.get(&format!("{field}.{i}.{along}"))?,
                            *read.get(&format!("{field}.{i}.{}", place.field))?,
                        ))
                    })
                    .collect();
                line_at(&points, z)
            }
        }
    }

    /// The number of its act, as it is typed there, from a whole sheet.
    #[must_use]
    pub fn left(&self, outcome: &Outcome) -> Option<Vec<f64>> {
        match (outcome, self.leaves) {
            (Outcome::Answer(input, answer), Some(leaves)) => leaves(input, answer),
            _ => None,
        }
    }
}

impl Reads {
    /// The field that it fills; none for bolts.
    #[must_use]
    pub fn field(&self) -> &'static str {
        match *self {
            Self::One(f)
            | Self::Mean(f, ..)
            | Self::List(f, ..)
            | Self::Rows(f, ..)
            | Self::Log(f, ..)
            | Self::Grid(f, ..) => f,
            Self::Bolts => PRESSED,
        }
    }
}

impl Label {
    fn say(self, k: usize, n: usize) -> String {
        match self {
            Self::Around("") => format!("at {}°", (angle(k, n) * 10.0).round() / 10.0),
            Self::Around(what) => format!("{what} at {}°", (angle(k, n) * 10.0).round() / 10.0),
            Self::Counted(what) => format!("{what} {}", k + 1),
        }
    }
}

fn angle(k: usize, n: usize) -> f64 {
    k as f64 * 360.0 / n as f64
}

fn at_angle(s: &Sweep, deg: f64) -> f64 {
    let wave = |h: &rotation::Harmonic| h.amplitude.0 * (deg - h.degrees.unwrap_or(0.0)).to_radians().cos();
    s.mean.0 + s.harmonics.first().map_or(0.0, wave)
}

/// The straight line through points, at a place: with what the points leave.
fn line_at(points: &[(f64, f64)], z: f64) -> Option<(f64, f64)> {
    let n = points.len() as f64;
    let (mz, mv) = (points.iter().map(|p| p.0).sum::<f64>() / n, points.iter().map(|p| p.1).sum::<f64>() / n);
    let over: f64 = points.iter().map(|p| (p.0 - mz).powi(2)).sum();
    if points.len() < 2 || over < 1e-9 {
        return None;
    }
    let slope = points.iter().map(|p| (p.0 - mz) * (p.1 - mv)).sum::<f64>() / over;
    let at = |z: f64| mv + slope * (z - mz);
    let off = points.iter().map(|p| (p.1 - at(p.0)).abs()).fold(0.0, f64::max);
    Some((at(z), off))
}

fn row(field: &str, kind: FieldKind, inner: &[(&'static str, &'static str)], word: &str, k: usize) -> Vec<Place> {
    let of = |name: &str| match kind {
        FieldKind::Objects(fields) => fields.iter().find(|f| f.name == name).map_or(FieldKind::Number, |f| f.kind),
        _ => FieldKind::Number,
    };
    let place = |(f, said): &(&'static str, &'static str)| Place {
        key: format!("{field}.{k}.{f}"),
        field: f,
        label: format!("{word} {}, {said}", k + 1),
        kind: of(f),
    };
    inner.iter().map(place).collect()
}

/// Row of a place of a list of rows.
fn row_of(field: &str, key: &str) -> Option<usize> {
    key.strip_prefix(field)?.strip_prefix('.')?.split('.').next()?.parse().ok()
}

/// Reads what was typed into a place. `expected` is what it probably reads; `sure` stores what is far off, but never a
/// slip of the unit.
///
/// # Errors
/// Field `text`, with what was expected.
///
/// ```
/// use ironseat_core::quantity::Units;
/// use ironseat_core::sheet::{Declared, Given, Reading, read_place};
/// let sheet = Declared::of("runout.sweep").unwrap();
/// let places = sheet.places(&Given::default(), &Default::default());
/// assert_eq!((places.len(), places[3].label.as_str()), (12, "at 90°"));
/// assert_eq!(read_place(&places[3], "-8", Units::Metric, None, false)?, Reading::Value(-8.0));
/// // A dial does not read thousandths of a micrometre: 0.012 mm was meant.
/// assert!(matches!(read_place(&places[3], "0.012", Units::Metric, None, false)?, Reading::DidYouMean { .. }));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
pub fn read_place(place: &Place, text: &str, units: Units, expected: Option<f64>, sure: bool) -> Result<Reading> {
    let refuse = |m: &str| Refusal::new("text", m);
    if place.pressed() {
        return match text.trim().to_lowercase().as_str() {
            "1" | "done" | "yes" | "y" | "x" => Ok(Reading::Value(1.0)),
            _ => Err(refuse("press it when it is drawn, or type 1")),
        };
    }
    let value = number_in(place.field, text, units).map_err(|e| refuse(&e.message))?;
    let sign = match place.kind {
        FieldKind::Positive if value <= 0.0 => Some("expected a number above 0"),
        FieldKind::NotNegative if value < 0.0 => Some("expected a number of 0 or more"),
        _ => None,
    };
    if let Some(words) = sign {
        return Err(refuse(words));
    }
    let bare = text.trim().trim_start_matches(['+', '-', '−']).chars().all(|c| c.is_ascii_digit() || ".,".contains(c));
    match unit(place.field) {
        Some("µm") => {
            let mm = |um: f64| Millimetres(um / 1000.0);
            let fine = text.trim().split(['.', ',']).nth(1).is_some_and(|d| d.len() >= 3);
            if bare && fine && value.abs() < if units == Units::Inch { 2.54 } else { 1.0 } && value != 0.0 {
                return Ok(Reading::DidYouMean { typed: mm(value), meant: mm(value * 1000.0), factor: 0.001 });
            }
            if value.abs() > 3000.0 && !sure {
                return Ok(Reading::FarOff { typed: mm(value), nominal: mm(expected.unwrap_or(0.0)) });
            }
        }
        Some("mm") => {
            let near = expected.filter(|e| e.abs() >= 0.05);
            if let Some(e) = near {
                let word = units.sheet_unit();
                if let Some(s) = parse_length(text, word, None, Some(Millimetres(e)))?.suspicion {
                    return Ok(Reading::DidYouMean {
                        typed: Millimetres(value),
                        meant: s.did_you_mean,
                        factor: s.factor,
                    });
                }
                // One turn of the thimble, or the last digits alone, of what is a size and no gap.
                if e > 3.0
                    && let Some((meant, slip)) = slipped(text, value, units, e).filter(|_| !sure)
                {
                    return Ok(Reading::Perhaps { typed: Millimetres(value), meant: Millimetres(meant), slip });
                }
                let off = (value - e).abs();
                if off > 0.5 && off > 0.2 * e.abs() && !sure {
                    return Ok(Reading::FarOff { typed: Millimetres(value), nominal: Millimetres(e) });
                }
            }
            if value.abs() > 20_000.0 {
                return Err(refuse("expected a length up to 20 m"));
            }
        }
        _ => {}
    }
    Ok(Reading::Value((value * 1e9).round() / 1e9))
}

#[cfg(test)]
mod tests;
