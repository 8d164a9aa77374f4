//! Stores: what the shop measures and presses with, the leaves in its drawer, and where the bolts of its covers stand.

pub mod instruments;

use crate::ground::address::encode;
use crate::ground::error::{WebError, WebResult, refused};
use crate::ground::extract::{Form, Lead, Reader, Upload, wants_fragment};
use crate::ground::view::Shell;
use crate::ground::view::day;
use crate::ground::view::page;
use crate::ground::view::page_as;
use crate::ground::view::today;
use crate::parts::hand_in::{Chosen, hidden, sent};
use crate::parts::pattern::question;
use crate::parts::table::{self, RoleView};
use crate::state::App;
use askama::Template;
use axum::extract::{Path, Query, State};
use axum::http::{HeaderMap, StatusCode};
use axum::response::{Html, IntoResponse as _, Redirect, Response};
use instruments::{InstrumentForm, PACES};
use ironseat_core::fasten::Pattern;
use ironseat_core::quantity::show::{self, capital};
use ironseat_core::quantity::{Millimetres, Units};
use ironseat_core::reckon::unit_in;
use ironseat_core::rows::{Role, Table};
use ironseat_core::stock::{BOLTS, LEAVES, Leaf};
use ironseat_core::{Refusal, stock as rows};
use ironseat_drawing::bolt_pattern;
use ironseat_store::read::rebuilds::live_clocks;
use ironseat_store::read::{self, shop};
use ironseat_store::rows::person::Person;
use ironseat_store::write;
use ironseat_store::write::uploads::{self, UploadKind};
use ironseat_store::{InstrumentId, PatternId, StoreError, UploadId};

struct InstrumentRow {
    name: String,
    serial: String,
    range: String,
    u: String,
    due: String,
    overdue: bool,
    id: InstrumentId,
    /// Why it is out of use; empty for one in use.
    away: String,
}

struct LeafRow {
    thickness: String,
    pieces: u64,
}

struct PatternRow {
    id: PatternId,
    name: String,
    count: usize,
    svg: String,
    ask: String,
}

#[derive(Template)]
#[template(path = "rooms/stores/stores.html")]
struct StoresPage {
    shell: Shell,
    instruments: Vec<InstrumentRow>,
    leaves: Vec<LeafRow>,
    patterns: Vec<PatternRow>,
    /// Id of the instrument that is put in next.
    next: InstrumentId,
    /// What was typed of one.
    f: InstrumentForm,
    paces: [(&'static str, &'static str); 3],
    length: &'static str,
    small: &'static str,
    said: &'static str,
    kind: String,
    pasted: String,
    field: String,
    error: String,
}

struct Row {
    line: usize,
    understood: String,
    wrong: String,
}

#[derive(Template)]
#[template(path = "rooms/stores/stock_look.html", blocks = ["understood"])]
struct LookPage {
    shell: Shell,
    upload: UploadId,
    kind: &'static str,
    name: String,
    roles: Vec<RoleView>,
    unit: &'static str,
    pattern: String,
    rows: Vec<Row>,
    right: usize,
    wrong: usize,
    svg: String,
    hidden: Vec<(String, String)>,
    field: String,
    error: String,
}

/// A thickness as people here say it.
fn thickness(um: u64, units: Units) -> String {
    show::join(show::size(Millimetres::of(um as f64 / 1000.0), Millimetres::of(0.001), units))
}

/// A cover with its bolts numbered by their turn.
fn drawn(p: &Pattern, w: f64, h: f64, id: &str) -> String {
    let order: Vec<u64> = p.order().unwrap_or_default().into_iter().map(|b| b as u64 + 1).collect();
    bolt_pattern(p.bolts(), &order, w, h, id)
}

async fn build(app: &App, reader: &Reader) -> WebResult<StoresPage> {
    let (clocks, instruments, leaves, patterns) = app
        .store
        .run(|c| {
            Ok((live_clocks(c)?, shop::list_instruments(c)?, read::stock::all_leaves(c)?, read::stock::patterns(c)?))
        })
        .await?;
    let (units, zone) = (reader.person.units, reader.person.zone);
    let size = |v: f64, res: f64| show::size(Millimetres::new(v).unwrap_or_default(), Millimetres::of(res), units);
    Ok(StoresPage {
        shell: Shell::new(reader, &clocks, "stores", "/stores".into(), String::new()),
        instruments: instruments
            .iter()
            .filter(|i| i.ours())
            .map(|i| InstrumentRow {
                name: i.name.clone(),
                serial: i.serial.clone(),
                range: format!("{} – {}", size(i.lo_mm, 1.0).0, show::join(size(i.hi_mm, 1.0))),
                u: show::join(size(i.u_mm, 0.0001)),
                due: day(i.due_on, zone),
                overdue: i.due_on < today(zone),
                id: i.id,
                away: i.away.clone(),
            })
            .collect(),
        next: InstrumentId::new(),
        f: InstrumentForm::default(),
        paces: PACES.map(|p| (p.0, p.1)),
        length: units.sheet_unit(),
        small: unit_in("u_um", units),
        leaves: leaves.iter().map(|l| LeafRow { thickness: thickness(l.um, units), pieces: l.pieces }).collect(),
        patterns: patterns
            .iter()
            .map(|(id, p)| PatternRow {
                id: *id,
                name: p.name().to_owned(),
                count: p.bolts().len(),
                svg: drawn(p, 260.0, 170.0, &format!("p{}", id)),
                ask: question(p),
            })
            .collect(),
        said: "",
        kind: String::new(),
        pasted: String::new(),
        field: String::new(),
        error: String::new(),
    })
}

/// The room with what was typed of an instrument and not taken.
pub async fn page_with(
    app: &App,
    reader: &Reader,
    status: StatusCode,
    f: InstrumentForm,
    field: String,
    error: String,
) -> WebResult<Response> {
    let kind = "instruments".to_owned();
    page_as(status, &StoresPage { f, field, error, kind, ..build(app, reader).await? })
}

/// What there is.
pub async fn show(State(app): State<App>, reader: Reader, Query(q): Query<Chosen>) -> WebResult {
    let said = match q.get("kept").map(String::as_str) {
        Some("leaves") => "Kept: this is what lies in the drawer now.",
        Some("pattern") => "Kept: the bolts are drawn below.",
        Some("instrument") => "Kept. The record of the stores says what was changed, by whom.",
        Some("deleted") => "Deleted. The record of the stores says by whom.",
        _ => "",
    };
    page(&StoresPage { said, ..build(&app, &reader).await? })
}

fn kind_of(word: &str) -> Result<(UploadKind, &'static [Role; 2], &'static str), WebError> {
    match word {
        "leaves" => Ok((UploadKind::Leaves, &LEAVES, "leaves")),
        "pattern" => Ok((UploadKind::Pattern, &BOLTS, "pattern")),
        _ => Err(StoreError::NotFound.into()),
    }
}

/// Hands a list of leaves or the places of bolts in.
pub async fn hand_in(
    State(app): State<App>,
    Lead(reader): Lead,
    Path(kind): Path<String>,
    form: Upload,
) -> WebResult<Response> {
    let (what, _, word) = kind_of(&kind)?;
    let (name, bytes) = sent(&form);
    if let Err(r) = table::read(&bytes) {
        let (status, field, error) = refused(r.into(), "file")?;
        let pasted = form.fields.get("pasted").cloned().unwrap_or_default();
        return page_as(status, &StoresPage { field, error, kind, pasted, ..build(&app, &reader).await? });
    }
    let who = reader.person.clone();
    let upload = app.store.run(move |c| uploads::keep(c, &who, what, &name, &bytes)).await?;
    Ok(Redirect::to(&format!("/stores/{word}/{upload}")).into_response())
}

/// What a file says.
#[derive(Clone)]
enum Read {
    Leaves(Vec<rows::Read<Leaf>>),
    Bolts(Vec<rows::Read<(f64, f64)>>),
}

struct Loaded {
    name: String,
    table: Table,
    columns: Vec<Option<usize>>,
    unit: &'static str,
    read: Read,
    pattern: String,
}

async fn load(app: &App, who: &Person, kind: &str, upload: UploadId, q: &Chosen) -> WebResult<Loaded> {
    let (what, roles, _) = kind_of(kind)?;
    let person = who.clone();
    let (name, bytes) = app.store.run(move |c| uploads::get(c, &person, what, upload)).await?;
    let table = table::read(&bytes).map_err(StoreError::from)?;
    let columns = table::columns(&table, roles, q);
    let unit = table::unit(q, &table, &columns, who.units);
    let read = if what == UploadKind::Leaves {
        Read::Leaves(rows::read_leaves(&table, &columns, unit))
    } else {
        Read::Bolts(rows::read_bolts(&table, &columns, unit))
    };
    let stem = || name.trim_end_matches(".csv").chars().take(80).collect();
    let pattern = q.get("name").cloned().unwrap_or_else(stem);
    Ok(Loaded { name, table, columns, unit, read, pattern })
}

fn look_page(
    reader: &Reader,
    clocks: &[ironseat_store::rows::rebuild::Clock],
    l: &Loaded,
    kind: &str,
    upload: UploadId,
    q: &Chosen,
) -> WebResult<LookPage> {
    let (_, roles, word) = kind_of(kind)?;
    let units = reader.person.units;
    let said = |r: &Refusal| format!("{}: {}", capital(&r.field), r.message);
    let rows: Vec<Row> = match &l.read {
        Read::Leaves(list) => list
            .iter()
            .map(|(line, r)| match r {
                Ok(x) => Row {
                    line: *line,
                    understood: format!("{}, {} of them", thickness(x.um, units), x.pieces),
                    wrong: String::new(),
                },
                Err(e) => Row { line: *line, understood: String::new(), wrong: said(e) },
            })
            .collect(),
        Read::Bolts(list) => list
            .iter()
            .map(|(line, r)| match r {
                Ok((x, y)) => {
                    let at = |v: f64| {
                        show::join(show::size(Millimetres::new(v).unwrap_or_default(), Millimetres::of(0.01), units))
                    };
                    Row { line: *line, understood: format!("right {}, up {}", at(*x), at(*y)), wrong: String::new() }
                }
                Err(e) => Row { line: *line, understood: String::new(), wrong: said(e) },
            })
            .collect(),
    };
    let wrong = rows.iter().filter(|r| !r.wrong.is_empty()).count();
    let (svg, field, error) = match &l.read {
        Read::Bolts(list) if wrong == 0 => match rows::pattern(&l.pattern, list) {
            Ok(p) => (drawn(&p, 420.0, 260.0, "cover"), String::new(), String::new()),
            Err(r) => (String::new(), r.field, capital(&r.message)),
        },
        _ => Default::default(),
    };
    Ok(LookPage {
        shell: Shell::new(reader, clocks, "stores", format!("/stores/{word}/{upload}"), String::new()),
        upload,
        kind: word,
        name: l.name.clone(),
        roles: table::roles(&l.table, roles, &l.columns),
        unit: l.unit,
        pattern: l.pattern.clone(),
        right: rows.len() - wrong,
        rows,
        wrong,
        svg,
        hidden: hidden(q),
        field,
        error,
    })
}

/// What was understood of a file.
pub async fn look(
    State(app): State<App>,
    Lead(reader): Lead,
    Path((kind, upload)): Path<(String, UploadId)>,
    Query(q): Query<Chosen>,
    headers: HeaderMap,
) -> WebResult<Response> {
    let l = load(&app, &reader.person, &kind, upload, &q).await?;
    let clocks = app.store.run(live_clocks).await?;
    let p = look_page(&reader, &clocks, &l, &kind, upload, &q)?;
    if wants_fragment(&headers) {
        return Ok(Html(p.as_understood().render()?).into_response());
    }
    page_as(StatusCode::OK, &p)
}

/// Keeps what was shown: every row, or nothing.
pub async fn keep(
    State(app): State<App>,
    Lead(reader): Lead,
    Path((kind, upload)): Path<(String, UploadId)>,
    Form(q): Form<Chosen>,
) -> WebResult<Response> {
    let l = load(&app, &reader.person, &kind, upload, &q).await?;
    let who = reader.person.clone();
    let read = l.read.clone();
    let name = l.pattern.clone();
    let done = app
        .store
        .run(move |c| {
            match &read {
                Read::Leaves(list) => {
                    let all = list.iter().map(|r| r.1.clone()).collect::<Result<Vec<_>, _>>()?;
                    write::stock::set_leaves(c, &who, &all)?;
                }
                Read::Bolts(list) => write::stock::keep_pattern(c, &who, &rows::pattern(&name, list)?)?,
            }
            uploads::done(c, upload)
        })
        .await;
    let (status, field, error) = match done {
        Ok(()) => return Ok(Redirect::to(&format!("/stores?kept={kind}#{}", encode(&kind))).into_response()),
        Err(e) => refused(e, "general")?,
    };
    let clocks = app.store.run(live_clocks).await?;
    let p = look_page(&reader, &clocks, &l, &kind, upload, &q)?;
    page_as(status, &LookPage { field, error, ..p })
}

/// Deletes a pattern.
#[derive(serde::Deserialize)]
pub struct DeleteForm {
    #[serde(default)]
    pattern: String,
}

/// Deletes a pattern.
pub async fn change(State(app): State<App>, Lead(reader): Lead, Form(f): Form<DeleteForm>) -> WebResult<Response> {
    let id: PatternId = f.pattern.parse().map_err(|_| StoreError::NotFound)?;
    app.store.run(move |c| write::stock::delete_pattern(c, &reader.person, id)).await?;
    Ok(Redirect::to("/stores?kept=deleted#pattern").into_response())
}
