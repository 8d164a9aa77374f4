//! A question of the Reckoner and its answer, wherever they are shown.

use askama::Template;
use ironseat_core::Refusal;
use ironseat_core::fit::Material;
use ironseat_core::quantity::{Units, show};
use ironseat_core::reckon::{Entry, Field, FieldKind, Gives, Output, number_in, said, say, shown, unit_in};
use serde_json::{Map, Value};
use std::collections::BTreeMap;

/// Names in the address and in forms that are not fields of the question.
pub const OURS: &str = "pin.";

/// Rows of a list that stand open, and how many there may be.
pub const ROWS: (usize, usize) = (3, 120);

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
pub const SLIDES: [(&str, [f64; 3]); 6] = [
    ("growth_um", [0.0, 40.0, 0.5]),
    ("closing_um", [0.0, 30.0, 0.5]),
    ("inner_hotter_k", [0.0, 40.0, 1.0]),
    ("ring_hotter_k", [0.0, 40.0, 1.0]),
    ("preload_n", [0.0, 3000.0, 10.0]),
    ("outer_n", [0.0, 6000.0, 25.0]),
];

pub fn slide(name: &str, units: Units) -> Option<[String; 3]> {
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
        let field = |k: &str| k != "units" && k != "_csrf" && !k.starts_with(OURS);
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

pub fn choices(list: impl Iterator<Item = (String, String)>, value: &str) -> Vec<Choice> {
    list.map(|(v, label)| Choice { chosen: v == value, value: v, label }).collect()
}

/// A field of a computation with what is typed into it.
pub fn field(f: &Field, prefix: &str, typed: &Typed, units: Units, wrong: Option<&Refusal>) -> FieldView {
    let path = format!("{prefix}{}", f.name);
    let value = typed.at(&path);
    let words = |w: &str| w.replace('_', " ");
    let same = |w: &str| (w.to_owned(), words(w));
    let (shape, choices) = match f.kind {
        FieldKind::Flag => {
            ("choice", choices([("yes", "yes"), ("no", "no")].iter().map(|(a, b)| ((*a).into(), (*b).into())), &value))
        }
        FieldKind::Word(list) => ("choice", choices(list.iter().map(|w| same(w)), &value)),
        FieldKind::Material => ("choice", choices(Material::ALL.iter().map(|(n, _)| same(n)), &value)),
        FieldKind::Number | FieldKind::Positive | FieldKind::NotNegative | FieldKind::Whole(..) => {
            ("number", Vec::new())
        }
        FieldKind::Text => ("line", Vec::new()),
        FieldKind::Texts if !prefix.is_empty() => ("line", Vec::new()),
        FieldKind::Objects(_) => ("rows", Vec::new()),
        FieldKind::Object(_) => ("group", Vec::new()),
        _ => ("lines", Vec::new()),
    };
    let usual = f.default.map_or(String::new(), |said| match said().as_str() {
        "true" => "yes".into(),
        "false" => "no".into(),
        text => match text.parse::<f64>() {
            Ok(0.0) => "0".into(),
            Ok(v) if shape == "number" && !matches!(f.kind, FieldKind::Whole(..)) => shown(f.name, v, units).0,
            _ => words(text),
        },
    });
    let (mut columns, mut rows, mut group) = (Vec::new(), Vec::new(), Vec::new());
    match f.kind {
        FieldKind::Objects(inner) if shape == "rows" => {
            let behind = |i: &Field| match i.kind {
                FieldKind::Texts => "a comma between",
                _ => unit_in(i.name, units),
            };
            columns = inner.iter().map(|i| (show::capital(i.about), behind(i))).collect();
            let open = (typed.rows(&path) + 1).clamp(ROWS.0, ROWS.1);
            let row = |i: usize| -> Vec<FieldView> {
                inner.iter().map(|c| field(c, &format!("{path}.{i}."), typed, units, wrong)).collect()
            };
            rows = (0..open).map(row).collect();
        }
        FieldKind::Object(inner) if shape == "group" => {
            group = inner.iter().map(|c| field(c, &format!("{path}."), typed, units, wrong)).collect();
        }
        _ => {}
    }
    let hint = match f.kind {
        FieldKind::Numbers if shape == "lines" => "one after the other, a blank between them",
        FieldKind::Grid => "a row on each line, a blank between its numbers",
        FieldKind::Texts if shape == "lines" => "one on each line",
        FieldKind::Pairs => "two names on each line, a comma between them",
        FieldKind::Counts => "a name and a number on each line",
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
        words: say(e.name, asked, answer, units).unwrap_or_default(),
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
pub fn span(e: &Entry, o: &Output, answer: &Map<String, Value>, units: Units) -> Option<(Vec<&'static str>, SpanView)> {
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

pub fn one_result(o: &Output, v: &Value, units: Units, out: &mut AnswerView) {
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

/// An answer, told: its verdict, drawing, figures and tables.
#[derive(Template)]
#[template(path = "parts/_answer.html")]
pub struct Told<'a> {
    a: &'a AnswerView,
}

/// See [`Told`].
pub fn told(a: &AnswerView) -> Told<'_> {
    Told { a }
}

/// A field of a question, a group of them, or rows.
#[derive(Template)]
#[template(path = "parts/_reckon_field.html")]
pub struct AnyField<'a> {
    f: &'a FieldView,
}

/// See [`AnyField`].
pub fn any_field(f: &FieldView) -> AnyField<'_> {
    AnyField { f }
}

/// A field or rows.
#[derive(Template)]
#[template(path = "parts/_reckon_one.html")]
pub struct OneField<'a> {
    f: &'a FieldView,
}

/// See [`OneField`].
pub fn one(f: &FieldView) -> OneField<'_> {
    OneField { f }
}

/// What is typed into or chosen from.
#[derive(Template)]
#[template(path = "parts/_reckon_control.html")]
pub struct Control<'a> {
    f: &'a FieldView,
    label: String,
}

/// Of a field, by a name of its own where no label stands beside it.
pub fn control(f: &FieldView, label: impl ToString) -> Control<'_> {
    Control { f, label: label.to_string() }
}
