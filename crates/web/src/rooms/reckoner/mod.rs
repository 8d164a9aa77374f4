//! The Reckoner: every named computation as a form, made from its declaration, found by the question it answers. What
//! is typed stands in the address, so that a colleague sees the same.

pub mod as_sheet;
pub mod pinned;

use crate::ground::address::encode;
use crate::ground::error::{WebError, WebResult};
use crate::ground::extract::Reader;
use crate::ground::view::Shell;
use crate::ground::view::page;
use crate::parts::answer::{AnswerView, FieldView, FigureView, ROWS, Typed, answered, field, units_of};
use crate::parts::drawn;
use crate::parts::turns::{Unanswered, answer};
use crate::state::App;
use askama::Template;
use axum::extract::{Path, Query, State};
use ironseat_core::Refusal;
use ironseat_core::quantity::{Units, show};
use ironseat_core::reckon::Entry;
use ironseat_core::reckon::QUESTIONS;
use ironseat_core::reckon::as_typed;
use ironseat_core::reckon::entry;
use ironseat_core::reckon::question;
use ironseat_core::reckon::typed_input;
use ironseat_core::sheet::Declared;
use ironseat_core::sheet::headline;
use ironseat_store::read::rebuilds::live_clocks;
use ironseat_store::read::{bench, pins, stock};
use ironseat_store::{Id, StoreError};
use serde_json::{Map, Value, json};

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
#[template(path = "rooms/reckoner/reckoner.html")]
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

#[derive(Template)]
#[template(path = "rooms/reckoner/reckon.html")]
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
    has_error: bool,
    /// Needed fields without a number.
    wanted: String,
    answer: Option<AnswerView>,
    /// Where it is read.
    where_to_read: String,
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
#[expect(clippy::too_many_lines, reason = "what the page shows, from top to bottom")]
async fn page_for(
    app: &App,
    reader: &Reader,
    e: &'static Entry,
    pairs: Vec<(String, String)>,
    refused: Option<Refusal>,
) -> WebResult<ReckonPage> {
    let about = crate::parts::pinned::About::of(&pairs);
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
    let covers = covers.iter().map(|(_, p)| (p.name().to_owned(), crate::parts::pattern::question(p))).collect();
    let mut wrong = None;
    let mut where_to_read = if empty { as_sheet::drawing(e.name, &Map::new()) } else { String::new() };
    let (mut wanted, mut out, mut error) = (String::new(), None, String::new());
    match typed_input(e.fields, &|p| typed.at(p), &|p| typed.rows(p), units) {
        _ if empty => {}
        Err(r) => wrong = Some(r),
        Ok(input) => {
            let missing = e.fields.iter().filter(|f| f.required && !input.contains_key(f.name)).map(|f| f.about);
            wanted = missing.collect::<Vec<_>>().join(", ");
            where_to_read = as_sheet::drawing(e.name, &input);
            if wanted.is_empty() {
                let asked = Value::Object(input.clone()).to_string();
                match answer(e.name.to_owned(), asked).await {
                    Ok(Value::Object(map)) => {
                        let drawing = drawn::drawn(e.name, &input, &map, own).unwrap_or_default();
                        // What the answer draws says more than where it was read.
                        if !drawing.is_empty() {
                            where_to_read.clear();
                        }
                        let mut view = AnswerView { drawing, ..answered(e, &input, &map, own) };
                        // What was asked comes first, as on its sheet.
                        let place = |f: &FigureView| headline(e.name).iter().position(|l| *l == f.name);
                        view.figures.sort_by_key(|f| place(f).unwrap_or(usize::MAX));
                        out = Some(view);
                    }
                    Ok(_) => {}
                    Err(Unanswered::Refused(r)) => wrong = Some(r),
                    Err(Unanswered::Busy(r) | Unanswered::Fault(r)) => error = show::capital(&r.message) + ".",
                }
            }
        }
    }
    let fields: Vec<FieldView> = e.fields.iter().map(|f| field(f, "", &typed, units, wrong.as_ref())).collect();
    let has_error = wrong.as_ref().is_some_and(|w| beside(&fields, &w.field));
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
    if let Some(r) = refused.as_ref().filter(|_| out.is_none() && error.is_empty() && !has_error) {
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
        has_error,
        wanted,
        answer: out,
        where_to_read,
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
