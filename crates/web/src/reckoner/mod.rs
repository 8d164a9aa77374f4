//! The Reckoner: every named computation as a form, made from its declaration, found by the question it answers. What is
//! typed stands in the address, so that a colleague sees the same.

pub mod as_sheet;
pub mod drawn;
pub mod pinned;

use crate::app::App;
use crate::error::{WebError, WebResult};
use crate::extract::Reader;
use crate::reckon_api::{Said, answer};
use crate::view::{Shell, encode, page};
use askama::Template;
use axum::extract::{Path, Query, State};
use ironseat_core::Refusal;
use ironseat_core::call;
use ironseat_core::fit::Material;
use ironseat_core::quantity::{Units, show};
use ironseat_core::reckon::{
    Entry, Field, Gives, Kind, Output, QUESTIONS, as_typed, entry, leads as leads_of, number_in, question, said, shown,
    typed_input, unit_in,
};
use ironseat_core::sheet::Declared;
use ironseat_store::bench;
use ironseat_store::rebuilds::live_clocks;
use ironseat_store::{Id, StoreError, pins, stock};
use serde_json::{Map, Value, json};
use std::collections::BTreeMap;

/// Rows of a list that stand open, and how many there may be.
const ROWS: (usize, usize) = (3, 120);

struct QuestionView {
    asks: &'static str,
    name: &'static str,
    purpose: &'static str,
}

struct PartView {
    title: &'static str,
    list: Vec<QuestionView>,
}

#[derive(Template)]
#[template(path = "reckoner.html")]
struct FrontPage {
    shell: Shell,
    parts: Vec<PartView>,
    find: String,
    count: usize,
}

/// What is looked for.
#[derive(serde::Deserialize, Default)]
#[serde(default)]
pub struct FindQuery {
    find: String,
}

/// Words of a computation that a search looks in: question, purpose, name and fields.
fn speaks_of(e: &Entry, words: &[String]) -> bool {
    let fields =
        e.fields.iter().map(|f| f.about).chain(e.outputs.iter().map(|o| o.about)).collect::<Vec<_>>().join(" ");
    let text = format!("{} {} {} {fields} {}", question(e.name), e.purpose, e.name, e.formula).to_lowercase();
    words.iter().all(|w| text.contains(w.as_str()))
}

/// All questions, or those that speak of some words.
pub async fn front(State(app): State<App>, reader: Reader, Query(q): Query<FindQuery>) -> WebResult {
    let clocks = app.store.run(live_clocks).await?;
    let find: String = q.find.chars().take(60).collect();
    let words: Vec<String> = find.to_lowercase().split_whitespace().map(str::to_owned).collect();
    let mut parts = Vec::new();
    for (title, list) in QUESTIONS {
        let list: Vec<QuestionView> = list
            .iter()
            .filter_map(|(asks, name)| Some((asks, entry(name).ok()?)))
            .filter(|(_, e)| speaks_of(e, &words))
            .map(|(asks, e)| QuestionView { asks, name: e.name, purpose: e.purpose })
            .collect();
        if !list.is_empty() {
            parts.push(PartView { title, list });
        }
    }
    let count = parts.iter().map(|p| p.list.len()).sum();
    let here = if find.is_empty() { "/reckoner".into() } else { format!("/reckoner?find={}", encode(&find)) };
    let shell = Shell::new(&reader, &clocks, "reckoner", here, "/events".into());
    page(&FrontPage { shell, parts, find, count })
}

pub struct Choice {
    pub value: String,
    pub label: String,
    pub chosen: bool,
}

#[derive(Default)]
pub struct FieldView {
    pub path: String,
    pub label: String,
    pub unit: &'static str,
    /// `number`, `line`, `lines`, `choice`, `rows` or `group`.
    pub shape: &'static str,
    pub value: String,
    /// How several are written into it.
    pub hint: &'static str,
    /// What stands for it when nothing is typed.
    pub usual: String,
    pub needed: bool,
    pub error: String,
    pub choices: Vec<Choice>,
    /// Of rows: heads of the columns, with their units.
    pub columns: Vec<(String, &'static str)>,
    pub rows: Vec<Vec<FieldView>>,
    pub group: Vec<FieldView>,
    /// It can be slid: least, most, step, in its unit.
    pub slide: Option<[String; 3]>,
}

/// Figures that are tried rather than known: fits, heat and load, with how far each may be slid.
const SLIDES: [(&str, [f64; 3]); 6] = [
    ("growth_um", [0.0, 40.0, 0.5]),
    ("closing_um", [0.0, 30.0, 0.5]),
    ("inner_hotter_k", [0.0, 40.0, 1.0]),
    ("ring_hotter_k", [0.0, 40.0, 1.0]),
    ("preload_n", [0.0, 3000.0, 10.0]),
    ("outer_n", [0.0, 6000.0, 25.0]),
];

fn slide(name: &str, units: Units) -> Option<[String; 3]> {
    let ends = SLIDES.iter().find(|s| s.0 == name)?.1;
    // As it is typed: in inches the ends are where the same lengths are.
    let typed = |v: f64| match number_in(name, "1", units) {
        Ok(one) if one > 0.0 => ((v / one) * 1e4).round() / 1e4,
        _ => v,
    };
    Some(ends.map(|v| typed(v).to_string()))
}

pub struct FigureView {
    pub name: &'static str,
    /// A number, and no word.
    pub figure: bool,
    pub label: String,
    pub number: String,
    pub unit: &'static str,
    /// In the other system.
    pub other: String,
}

/// Least, mean and most of one thing.
pub struct SpanView {
    pub label: String,
    pub unit: &'static str,
    /// Least, mean, most; empty where there is none.
    pub cells: [String; 3],
}

pub struct TableView {
    pub label: String,
    pub head: Vec<String>,
    pub rows: Vec<Vec<String>>,
}

impl TableView {
    /// Sentences stand one below the other, each row under its first one; a table would cut them into columns.
    pub fn tells(&self) -> bool {
        self.head.len() > 1 && self.rows.iter().flatten().any(|c| c.chars().count() > 60)
    }
    /// What stands behind the first of a row: what it is, unless it says nothing.
    pub fn behind<'a>(&'a self, row: &'a [String]) -> Vec<(&'a str, &'a str)> {
        let told = |x: &(&'a str, &'a str)| !matches!(x.1, "—" | "no" | "");
        self.head.iter().zip(row).skip(1).map(|(h, c)| (h.as_str(), c.as_str())).filter(told).collect()
    }
}

#[derive(Default)]
pub struct AnswerView {
    /// `go`, `stop`, `look_again` or empty.
    pub call: &'static str,
    pub call_word: String,
    pub words: String,
    pub figures: Vec<FigureView>,
    /// Figures that were not asked for, behind the others.
    pub rest: Vec<FigureView>,
    /// The first figure is what was asked.
    pub lead: bool,
    pub spans: Vec<SpanView>,
    pub tables: Vec<TableView>,
    /// Empty where there is none.
    pub drawing: String,
    pub warnings: Vec<String>,
    pub assumed: Vec<String>,
}

#[derive(Template)]
#[template(path = "reckon.html")]
struct ReckonPage {
    shell: Shell,
    asks: &'static str,
    e: &'static Entry,
    fields: Vec<FieldView>,
    units: &'static str,
    /// What was typed is in the other system than the person's.
    other_units: bool,
    /// Nothing is typed yet.
    empty: bool,
    /// A field says what is wrong with it.
    amiss: bool,
    /// Needed fields without a number.
    wanted: String,
    answer: Option<AnswerView>,
    /// Where it is read.
    leads: String,
    /// What is wrong with no field in particular.
    error: String,
    example: String,
    /// What the stores put into the fields.
    from_stores: String,
    /// Covers of the shop, and the question with each.
    covers: Vec<(String, String)>,
    /// The rebuild that it is asked for.
    of: Option<pinned::Of>,
    /// Pins the answer.
    pin: Option<pinned::PinForm>,
}

impl ReckonPage {
    /// Rows of so many columns take the whole width: the answer stands below them.
    fn stacked(&self) -> bool {
        self.fields.iter().any(|f| f.columns.len() > 6)
    }
}

/// What was typed, by path.
pub struct Typed {
    pub map: BTreeMap<String, String>,
}

/// The system that plain numbers were typed in.
pub fn units_of(pairs: &[(String, String)], own: Units) -> Units {
    match pairs.iter().find(|(k, _)| k == "units").map(|(_, v)| v.as_str()) {
        Some("metric") => Units::Metric,
        Some("inch") => Units::Inch,
        _ => own,
    }
}

impl Typed {
    pub fn of(pairs: &[(String, String)]) -> Self {
        let field = |k: &str| k != "units" && k != "_csrf" && !k.starts_with(pinned::OURS);
        let map = pairs.iter().filter(|(k, v)| field(k) && !v.trim().is_empty()).take(4000).cloned().collect();
        Self { map }
    }
    pub fn at(&self, path: &str) -> String {
        self.map.get(path).cloned().unwrap_or_default()
    }
    pub fn rows(&self, path: &str) -> usize {
        let of = |(k, v): (&String, &String)| {
            let n = k.strip_prefix(path)?.strip_prefix('.')?.split('.').next()?.parse::<usize>().ok()?;
            (!v.trim().is_empty()).then_some(n + 1)
        };
        self.map.iter().filter_map(of).max().unwrap_or(0).min(ROWS.1)
    }
}

fn choices(list: impl Iterator<Item = (String, String)>, value: &str) -> Vec<Choice> {
    list.map(|(v, label)| Choice { chosen: v == value, value: v, label }).collect()
}

/// A field of a computation with what is typed into it.
pub fn field(f: &Field, prefix: &str, typed: &Typed, units: Units, wrong: Option<&Refusal>) -> FieldView {
    let path = format!("{prefix}{}", f.name);
    let value = typed.at(&path);
    let words = |w: &str| w.replace('_', " ");
    let same = |w: &str| (w.to_owned(), words(w));
    let (shape, choices) = match f.kind {
        Kind::Flag => {
            ("choice", choices([("yes", "yes"), ("no", "no")].iter().map(|(a, b)| ((*a).into(), (*b).into())), &value))
        }
        Kind::Word(list) => ("choice", choices(list.iter().map(|w| same(w)), &value)),
        Kind::Material => ("choice", choices(Material::ALL.iter().map(|(n, _)| same(n)), &value)),
        Kind::Number | Kind::Positive | Kind::NotNegative | Kind::Whole(..) => ("number", Vec::new()),
        Kind::Text => ("line", Vec::new()),
        Kind::Texts if !prefix.is_empty() => ("line", Vec::new()),
        Kind::Objects(_) => ("rows", Vec::new()),
        Kind::Object(_) => ("group", Vec::new()),
        _ => ("lines", Vec::new()),
    };
    let usual = f.default.map_or(String::new(), |said| match said().as_str() {
        "true" => "yes".into(),
        "false" => "no".into(),
        text => match text.parse::<f64>() {
            Ok(0.0) => "0".into(),
            Ok(v) if shape == "number" && !matches!(f.kind, Kind::Whole(..)) => shown(f.name, v, units).0,
            _ => words(text),
        },
    });
    let (mut columns, mut rows, mut group) = (Vec::new(), Vec::new(), Vec::new());
    match f.kind {
        Kind::Objects(inner) if shape == "rows" => {
            let behind = |i: &Field| match i.kind {
                Kind::Texts => "a comma between",
                _ => unit_in(i.name, units),
            };
            columns = inner.iter().map(|i| (show::capital(i.about), behind(i))).collect();
            let open = (typed.rows(&path) + 1).clamp(ROWS.0, ROWS.1);
            let row = |i: usize| -> Vec<FieldView> {
                inner.iter().map(|c| field(c, &format!("{path}.{i}."), typed, units, wrong)).collect()
            };
            rows = (0..open).map(row).collect();
        }
        Kind::Object(inner) if shape == "group" => {
            group = inner.iter().map(|c| field(c, &format!("{path}."), typed, units, wrong)).collect();
        }
        _ => {}
    }
    let hint = match f.kind {
        Kind::Numbers if shape == "lines" => "one after the other, a blank between them",
        Kind::Grid => "a row on each line, a blank between its numbers",
        Kind::Texts if shape == "lines" => "one on each line",
        Kind::Pairs => "two names on each line, a comma between them",
        Kind::Counts => "a name and a number on each line",
        _ => "",
    };
    FieldView {
        hint,
        error: wrong.filter(|w| w.field == path).map_or(String::new(), |w| show::capital(&w.message) + "."),
        label: show::capital(f.about),
        unit: unit_in(f.name, units),
        needed: f.required,
        path,
        shape,
        value,
        usual,
        choices,
        columns,
        rows,
        group,
        slide: slide(f.name, units).filter(|_| shape == "number"),
    }
}

/// An answer as it is shown.
pub fn answered(e: &Entry, asked: &Map<String, Value>, answer: &Map<String, Value>, units: Units) -> AnswerView {
    let texts = |name: &str| {
        let list = answer.get(name).and_then(Value::as_array);
        list.into_iter().flatten().filter_map(Value::as_str).map(str::to_owned).collect::<Vec<_>>()
    };
    let mut out = AnswerView {
        words: call::say(e.name, asked, answer, units).unwrap_or_default(),
        warnings: texts("warnings"),
        assumed: texts("assumed"),
        ..AnswerView::default()
    };
    let mut taken: Vec<&str> = Vec::new();
    for o in e.outputs {
        let Some(v) = answer.get(o.name) else { continue };
        if taken.contains(&o.name) {
            continue;
        }
        match span(e, o, answer, units) {
            Some((names, view)) => {
                taken.extend(names);
                out.spans.push(view);
            }
            None => one_result(o, v, units, &mut out),
        }
    }
    out
}

/// Results that are the least, the mean and the most of one thing, as their names say.
fn span(e: &Entry, o: &Output, answer: &Map<String, Value>, units: Units) -> Option<(Vec<&'static str>, SpanView)> {
    const ENDS: [[&str; 3]; 2] = [["_low", "_mid", "_high"], ["_min", "_mean", "_max"]];
    let ends = ENDS.iter().find(|ends| o.name.contains(ends[0]) || o.name.starts_with(&ends[0][1..]))?;
    let of = |end: &str| {
        let name = if o.name.contains(ends[0]) {
            o.name.replacen(ends[0], end, 1)
        } else {
            o.name.replacen(&ends[0][1..], &end[1..], 1)
        };
        let output = e.outputs.iter().find(|x| x.name == name)?;
        Some((output.name, answer.get(output.name)?.as_f64()?))
    };
    let (least, mean, most) = (of(ends[0])?, of(ends[1]), of(ends[2])?);
    // One unit for the three: that of the largest.
    let largest =
        [Some(least), mean, Some(most)].into_iter().flatten().max_by(|a, b| a.1.abs().total_cmp(&b.1.abs()))?;
    let unit = shown(o.name, largest.1, units).1;
    let cell = |v: f64| {
        let (number, own) = shown(o.name, v, units);
        if own == unit { number } else { format!("{number} {own}") }
    };
    let label = show::capital(o.about.trim_end_matches(", least").trim_end_matches("smallest").trim());
    let label = if label.is_empty() { "Size".into() } else { label };
    let names = [Some(least.0), mean.map(|m| m.0), Some(most.0)].into_iter().flatten().collect();
    let cells = [cell(least.1), mean.map_or(String::new(), |m| cell(m.1)), cell(most.1)];
    Some((names, SpanView { label, unit, cells }))
}

fn one_result(o: &Output, v: &Value, units: Units, out: &mut AnswerView) {
    let label = show::capital(o.about);
    if let ("call", Some(word)) = (o.name, v.as_str()) {
        out.call = match word {
            "go" | "good" | "ok" | "ideal" | "conforming" | "home" | "as_pressed" | "next" => "go",
            "stop" | "poor" | "not_good" | "not_conforming" | "cocked" | "early" | "loose" | "late" | "too_large"
            | "too_small" => "stop",
            _ => "look_again",
        };
        out.call_word = word.replace('_', " ");
        return;
    }
    match v {
        Value::Array(list) if list.iter().any(Value::is_object) => {
            let inner: &[Output] = match o.kind {
                Gives::Objects(inner) => inner,
                _ => &[],
            };
            let head = inner.iter().map(|i| show::capital(i.about)).collect();
            let cells = |x: &Value| inner.iter().map(|i| said(i.name, &x[i.name], units)).collect();
            out.tables.push(TableView { label, head, rows: list.iter().map(cells).collect() });
        }
        Value::Array(list) if list.len() > 6 => {
            let rows =
                list.iter().enumerate().map(|(i, x)| vec![(i + 1).to_string(), said(o.name, x, units)]).collect();
            out.tables.push(TableView { label, head: vec!["No.".into(), String::new()], rows });
        }
        // Names with a number each: the least first.
        Value::Object(map) if map.values().all(Value::is_number) => {
            let mut list: Vec<(&String, &Value)> = map.iter().collect();
            list.sort_by(|a, b| a.1.as_f64().unwrap_or(0.0).total_cmp(&b.1.as_f64().unwrap_or(0.0)));
            let rows = list.into_iter().map(|(k, x)| vec![k.clone(), said(o.name, x, units)]).collect();
            out.tables.push(TableView { label, head: vec!["Name".into(), "Figure".into()], rows });
        }
        Value::Number(n) => {
            let n = n.as_f64().unwrap_or(0.0);
            let (number, unit) = shown(o.name, n, units);
            let other = shown(o.name, n, units.other());
            let other = if other.1 == unit { String::new() } else { format!("{} {}", other.0, other.1) };
            out.lead |= out.figures.is_empty();
            out.figures.push(FigureView { name: o.name, figure: true, label, number, unit, other });
        }
        other => {
            let number = said(o.name, other, units);
            let number = if number.is_empty() { "none".into() } else { number };
            out.figures.push(FigureView { name: o.name, figure: false, label, number, unit: "", other: String::new() });
        }
    }
}

/// The question that the drawer knows something of, and the one that the covers of the shop do.
const LEAVES: &str = "shim.stock";
const COVERS: &str = "torque.pattern";

/// One computation with what is typed into it.
pub async fn show(
    State(app): State<App>,
    reader: Reader,
    Path(name): Path<String>,
    Query(pairs): Query<Vec<(String, String)>>,
) -> WebResult {
    let e = entry(&name).map_err(|_| WebError::Store(StoreError::NotFound))?;
    page(&page_for(&app, &reader, e, pairs, None).await?)
}

/// The page of a question, with what is wrong with pinning its answer.
async fn page_for(
    app: &App,
    reader: &Reader,
    e: &'static Entry,
    pairs: Vec<(String, String)>,
    refused: Option<Refusal>,
) -> WebResult<ReckonPage> {
    let about = pinned::About::of(&pairs);
    let (rebuild, seat, act, own) = (about.rebuild, about.seat.clone(), about.act.clone(), reader.person.units);
    let declared = Declared::of(e.name);
    let read = app.store.run(move |c| {
        let leaves = if e.name == LEAVES { stock::all_leaves(c)? } else { Vec::new() };
        let covers = if e.name == COVERS { stock::patterns(c)? } else { Vec::new() };
        let found = pins::asked_for(c, e.name, rebuild, &seat)?;
        let at_work = found.rebuild.as_ref().filter(|r| declared.is_some() && r.finished_at.is_none()).map(|r| r.id);
        let acts = match (at_work, declared) {
            (Some(id), Some(d)) => as_sheet::acts(&bench::look(c, id)?, d, &act, own),
            _ => Vec::new(),
        };
        Ok((live_clocks(c)?, found, leaves, covers, acts))
    });
    let (clocks, found, leaves, covers, acts) = read.await?;
    let (mut typed, mut units) = (Typed::of(&pairs), units_of(&pairs, own));
    // What the seat knows stands in the fields as long as nothing else does.
    if let Some(known) = found.known.as_ref().filter(|_| typed.map.is_empty()) {
        (typed.map, units) = (as_typed(e.fields, known).into_iter().collect(), Units::Metric);
    }
    let empty = typed.map.is_empty();
    // So does what lies in the drawer.
    let mut from_stores = String::new();
    let others_inch = units == Units::Inch && !typed.map.is_empty();
    if !leaves.is_empty() && typed.rows("stock") == 0 && !others_inch {
        units = Units::Metric;
        let rows: Vec<Value> = leaves.iter().take(ROWS.1).map(|l| json!({"um": l.um, "count": l.pieces})).collect();
        let known = Map::from_iter([("stock".to_owned(), json!(rows))]);
        typed.map.extend(as_typed(e.fields, &known));
        from_stores = "The leaves stand as they lie in the drawer.".into();
    }
    let covers = covers.iter().map(|(_, p)| (p.name().to_owned(), crate::exchange::stores::question(p))).collect();
    let mut wrong = None;
    let mut leads = if empty { as_sheet::drawing(e.name, &Map::new()) } else { String::new() };
    let (mut wanted, mut out, mut error) = (String::new(), None, String::new());
    match typed_input(e.fields, &|p| typed.at(p), &|p| typed.rows(p), units) {
        _ if empty => {}
        Err(r) => wrong = Some(r),
        Ok(input) => {
            let missing = e.fields.iter().filter(|f| f.required && !input.contains_key(f.name)).map(|f| f.about);
            wanted = missing.collect::<Vec<_>>().join(", ");
            leads = as_sheet::drawing(e.name, &input);
            if wanted.is_empty() {
                let asked = Value::Object(input.clone()).to_string();
                match answer(e.name.to_owned(), asked).await {
                    Ok(Value::Object(map)) => {
                        let drawing = drawn::drawn(e.name, &input, &map, own).unwrap_or_default();
                        // What the answer draws says more than where it was read.
                        if !drawing.is_empty() {
                            leads.clear();
                        }
                        let mut view = AnswerView { drawing, ..answered(e, &input, &map, own) };
                        // What was asked comes first, as on its sheet.
                        let place = |f: &FigureView| leads_of(e.name).iter().position(|l| *l == f.name);
                        view.figures.sort_by_key(|f| place(f).unwrap_or(usize::MAX));
                        out = Some(view);
                    }
                    Ok(_) => {}
                    Err(Said::Refused(r)) => wrong = Some(r),
                    Err(Said::Busy(r) | Said::Fault(r)) => error = show::capital(&r.message) + ".",
                }
            }
        }
    }
    let fields: Vec<FieldView> = e.fields.iter().map(|f| field(f, "", &typed, units, wrong.as_ref())).collect();
    let amiss = wrong.as_ref().is_some_and(|w| beside(&fields, &w.field));
    if let Some(w) = wrong.filter(|w| !beside(&fields, &w.field)) {
        error = show::capital(&w.message) + ".";
    }
    let here = format!("/reckoner/{}?{}", e.name, serde_urlencoded::to_string(&pairs).unwrap_or_default());
    let example = match serde_json::from_str::<Value>(e.example) {
        Ok(Value::Object(map)) => {
            let mut pairs = as_typed(e.fields, &map);
            pairs.push(("units".into(), "metric".into()));
            serde_urlencoded::to_string(pairs).unwrap_or_default()
        }
        _ => String::new(),
    };
    let here = here.trim_end_matches('?').to_owned();
    // Without an answer there is no form to say it beside.
    if let Some(r) = refused.as_ref().filter(|_| out.is_none() && error.is_empty() && !amiss) {
        error = show::capital(&r.message) + ".";
    }
    let again = about.replaces.is_some();
    let hidden = || {
        let pairs = [
            ("pin.rebuild", about.rebuild.map(|r| r.to_string()).unwrap_or_default()),
            ("pin.seat", about.seat.clone()),
            ("pin.about", about.about.clone()),
            ("pin.replaces", about.replaces.map(|r| r.to_string()).unwrap_or_default()),
        ];
        pairs.into_iter().filter(|(_, v)| !v.is_empty()).collect()
    };
    let of = found.rebuild.as_ref().map(|r| pinned::Of {
        href: format!("/rebuilds/{}", r.id),
        number: r.number.clone(),
        title: r.title.clone(),
        seat: found.seat.clone(),
        hidden: hidden(),
        again,
    });
    let pin = out.is_some().then(|| pinned::PinForm {
        id: Id::new(),
        about: if about.about.is_empty() { found.seat.clone() } else { about.about.clone() },
        rebuilds: found
            .open
            .iter()
            .map(|(id, number, title)| (*id, format!("{number} {title}"), Some(*id) == about.rebuild))
            .collect(),
        typed: typed.map.clone().into_iter().collect(),
        sheet: declared.map(|d| d.title),
        acts,
        again,
        field: refused.as_ref().map_or_else(String::new, |r| r.field.replace("about", "pin.about")),
        error: refused.map_or_else(String::new, |r| show::capital(&r.message) + "."),
    });
    Ok(ReckonPage {
        shell: Shell::new(reader, &clocks, "reckoner", here, "/events".into()),
        of,
        pin,
        asks: question(e.name),
        e,
        fields,
        units: if units == Units::Inch { "inch" } else { "metric" },
        other_units: units != own && !empty,
        empty,
        amiss,
        wanted,
        answer: out,
        leads,
        error,
        example,
        from_stores,
        covers,
    })
}

/// Whether a refusal stands beside its field.
fn beside(fields: &[FieldView], path: &str) -> bool {
    fields.iter().any(|f| f.path == path || beside(&f.group, path) || f.rows.iter().any(|r| beside(r, path)))
}
