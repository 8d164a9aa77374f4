//! Readings from a file: which column is what, what each row becomes, and only then kept.

use crate::ground::error::{WebError, WebResult, refused};
use crate::ground::extract::{Form, Upload, Worker, wants_fragment};
use crate::ground::view::{Shell, page_as};
use crate::parts::hand_in::{Chosen, asked, hidden, sent};
use crate::parts::table::{self, LARGEST, RoleView};
use crate::state::App;
use askama::Template;
use axum::extract::{Path, Query, State};
use axum::http::{HeaderMap, StatusCode};
use axum::response::{Html, IntoResponse as _, Redirect, Response};
use ironseat_core::quantity::Units;
use ironseat_core::quantity::show::capital;
use ironseat_core::rows::Table;
use ironseat_store::read::bench::{self, Bench};
use ironseat_store::read::shop;
use ironseat_store::rows::person::Person;
use ironseat_store::rows::shop::Instrument;
use ironseat_store::write::import::{self, Became, Imported, ROLES, TableForm, Understood};
use ironseat_store::write::uploads::{self, UploadKind};
use ironseat_store::{InstrumentId, RebuildId, StoreError, UploadId};

/// Bytes that a form with a table may have.
pub const BODY: usize = LARGEST + (256 << 10);

#[derive(Template)]
#[template(path = "rooms/readings_in/readings_in.html")]
struct HandInPage {
    shell: Shell,
    id: RebuildId,
    number: String,
    title: String,
    customer: String,
    finished: bool,
    pasted: String,
    sheet: String,
    field: String,
    error: String,
}

/// A row as the page shows it.
struct Row {
    line: usize,
    sheet: String,
    place: String,
    text: String,
    /// As it will stand, in the person's units.
    value: String,
    instrument: String,
    /// One word for the eye, and what there is to say.
    word: &'static str,
    kind: &'static str,
    said: String,
    /// A person may insist.
    ask: bool,
    sure: bool,
}

/// A choice of a list.
struct Listed {
    key: String,
    name: String,
    chosen: bool,
}

#[derive(Template)]
#[template(path = "rooms/readings_in/readings_look.html", blocks = ["understood"])]
struct LookPage {
    shell: Shell,
    id: RebuildId,
    upload: UploadId,
    number: String,
    title: String,
    customer: String,
    name: String,
    roles: Vec<RoleView>,
    /// The columns in words; open while one that is needed is not chosen.
    columns: String,
    wants_column: bool,
    sheets: Vec<Listed>,
    instruments: Vec<Listed>,
    units: &'static str,
    /// A signed seat is among them: why it is read again.
    wants_reason: bool,
    reason: String,
    /// Rows name no sheet, and none was chosen.
    wants_sheet: bool,
    rows: Vec<Row>,
    /// On the button; empty when nothing can be kept.
    keep: String,
    wrong: usize,
    same: usize,
    hidden: Vec<(String, String)>,
    stand: i64,
    error: String,
}

/// Where a file is handed in.
pub async fn begin(
    State(app): State<App>,
    Worker(reader): Worker,
    Path(id): Path<RebuildId>,
    Query(q): Query<Chosen>,
) -> WebResult<Response> {
    let b = app.store.run(move |c| bench::look(c, id)).await?;
    let sheet = q.get("sheet").cloned().unwrap_or_default();
    page_as(StatusCode::OK, &hand_in_page(&reader, &b, sheet, String::new(), String::new(), String::new()))
}

fn hand_in_page(
    reader: &crate::ground::extract::Reader,
    b: &Bench,
    sheet: String,
    pasted: String,
    field: String,
    error: String,
) -> HandInPage {
    let r = &b.rebuild;
    HandInPage {
        shell: Shell::new(reader, &b.running, "", format!("/rebuilds/{}/readings-in", r.id), String::new()),
        id: r.id,
        number: r.called(),
        title: r.title.clone(),
        customer: r.customer.clone(),
        finished: b.state.finished,
        pasted,
        sheet,
        field,
        error,
    }
}

/// Hands a file in.
pub async fn hand_in(
    State(app): State<App>,
    Worker(reader): Worker,
    Path(id): Path<RebuildId>,
    form: Upload,
) -> WebResult<Response> {
    let (name, bytes) = sent(&form);
    let sheet = form.fields.get("sheet").cloned().unwrap_or_default();
    if let Err(r) = table::read(&bytes) {
        let b = app.store.run(move |c| bench::look(c, id)).await?;
        let pasted = form.fields.get("pasted").cloned().unwrap_or_default();
        let (status, field, error) = refused(r.into(), "file")?;
        return page_as(status, &hand_in_page(&reader, &b, sheet, pasted, field, error));
    }
    let who = reader.person.clone();
    let upload = app.store.run(move |c| uploads::keep(c, &who, UploadKind::Readings, &name, &bytes)).await?;
    let query =
        if sheet.is_empty() { String::new() } else { format!("?sheet={}", crate::ground::address::encode(&sheet)) };
    Ok(Redirect::to(&format!("/rebuilds/{id}/readings-in/{upload}{query}")).into_response())
}

struct Loaded {
    bench: Bench,
    name: String,
    table: Table,
    asked: TableForm,
    gauges: Vec<Instrument>,
}

async fn load(app: &App, who: &Person, id: RebuildId, upload: UploadId, q: &Chosen) -> WebResult<Loaded> {
    let person = who.clone();
    let (bench, (name, bytes), gauges) = app
        .store
        .run(move |c| {
            Ok((
                bench::look(c, id)?,
                uploads::get(c, &person, UploadKind::Readings, upload)?,
                shop::list_instruments(c)?,
            ))
        })
        .await?;
    let table = table::read(&bytes).map_err(StoreError::from)?;
    let asked = asked(&table, q, who.units);
    Ok(Loaded { bench, name, table, asked, gauges })
}

fn row(u: &Understood, units: Units, asked: &TableForm) -> Row {
    let (word, kind, said, ask) = match &u.became {
        Became::New => ("new", "new", String::new(), false),
        Became::Corrects(was) => ("corrects", "corrects", format!("read {was} before"), false),
        Became::Same => ("there already", "same", String::new(), false),
        Became::Left(why) => ("left out", "same", (*why).to_owned(), false),
        Became::Ask(r) => {
            let (sentence, meant, insist) = crate::parts::slip::asked_about(r, u.unit, units);
            let meant = if meant.is_empty() { String::new() } else { format!(" {meant}?") };
            ("asks", "wrong", format!("{sentence}{meant}"), insist)
        }
        Became::Wrong(r) => ("not kept", "wrong", capital(&r.message), false),
    };
    let value = u.value.map_or_else(String::new, |v| match u.unit {
        "goes_in" => if v > 0.5 { "goes in" } else { "stays out" }.to_owned(),
        "mm" | "um" => {
            let (number, unit) = ironseat_core::reckon::shown(if u.unit == "mm" { "v_mm" } else { "v_um" }, v, units);
            format!("{number} {unit}")
        }
        other => format!("{v} {other}"),
    });
    Row {
        line: u.line,
        sheet: u.sheet.clone(),
        place: u.place.clone(),
        text: u.text.clone(),
        value,
        instrument: u.instrument.clone(),
        word,
        kind,
        said,
        ask,
        sure: asked.sure.contains(&u.line),
    }
}

/// What the button keeps.
fn keep_words(all: usize, corrects: usize) -> String {
    let what = if all == 1 { "reading" } else { "readings" };
    match (all, corrects) {
        (0, _) => String::new(),
        (_, 0) => format!("Keep {all} {what}"),
        (1, _) => "Keep 1 correction".into(),
        _ => format!("Keep {all} {what}, {corrects} of them corrections"),
    }
}

fn look_page(
    reader: &crate::ground::extract::Reader,
    l: Loaded,
    upload: UploadId,
    q: &Chosen,
    b: &Imported,
    error: String,
) -> LookPage {
    let r = &l.bench.rebuild;
    let units = reader.person.units;
    let count = |f: fn(&Became) -> bool| b.lines.iter().filter(|u| f(&u.became)).count();
    let option = |key: String, name: String, now: &str| Listed { chosen: key == now, key, name };
    let chosen_gauge = l.asked.instrument.map(|i: InstrumentId| i.to_string()).unwrap_or_default();
    LookPage {
        shell: Shell::new(
            reader,
            &l.bench.running,
            "",
            format!("/rebuilds/{}/readings-in/{upload}", r.id),
            String::new(),
        ),
        id: r.id,
        upload,
        number: r.called(),
        title: r.title.clone(),
        customer: r.customer.clone(),
        name: l.name,
        columns: table::said(&l.table, &ROLES, &l.asked.columns),
        wants_column: ROLES.iter().zip(&l.asked.columns).any(|(r, c)| r.needed && c.is_none()),
        roles: table::roles(&l.table, &ROLES, &l.asked.columns),
        sheets: import::sheets(&l.bench).into_iter().map(|(k, n)| option(k, n, &l.asked.sheet)).collect(),
        instruments: l
            .gauges
            .iter()
            .filter(|i| i.in_use())
            .map(|i| option(i.id.to_string(), format!("{} {}", i.name, i.serial), &chosen_gauge))
            .collect(),
        units: if l.asked.units == Units::Inch { "inch" } else { "metric" },
        wants_reason: !l.asked.reason.is_empty()
            || b.lines.iter().any(|u| matches!(&u.became, Became::Wrong(r) if r.field == "reason")),
        reason: l.asked.reason.clone(),
        wants_sheet: b
            .lines
            .iter()
            .any(|u| matches!(&u.became, Became::Wrong(r) if r.field == "key" && u.sheet.is_empty())),
        rows: b.lines.iter().map(|u| row(u, units, &l.asked)).collect(),
        keep: keep_words(b.kept(), count(|x| matches!(x, Became::Corrects(_)))),
        wrong: count(|x| matches!(x, Became::Wrong(_) | Became::Ask(_))),
        same: count(|x| matches!(x, Became::Same | Became::Left(_))),
        hidden: hidden(q),
        stand: b.stand,
        error,
    }
}

/// What was understood of a file.
pub async fn look(
    State(app): State<App>,
    Worker(reader): Worker,
    Path((id, upload)): Path<(RebuildId, UploadId)>,
    Query(q): Query<Chosen>,
    headers: HeaderMap,
) -> WebResult<Response> {
    let l = load(&app, &reader.person, id, upload, &q).await?;
    let (who, table, asked) = (reader.person.clone(), l.table.clone(), l.asked.clone());
    let b = app.store.run(move |c| import::look(c, &who, id, &table, &asked)).await?;
    let p = look_page(&reader, l, upload, &q, &b, String::new());
    if wants_fragment(&headers) {
        return Ok(Html(p.as_understood().render()?).into_response());
    }
    page_as(StatusCode::OK, &p)
}

/// Keeps what was shown.
pub async fn keep(
    State(app): State<App>,
    Worker(reader): Worker,
    Path((id, upload)): Path<(RebuildId, UploadId)>,
    Form(q): Form<Chosen>,
) -> WebResult<Response> {
    let l = load(&app, &reader.person, id, upload, &q).await?;
    let stand: i64 = q.get("stand").and_then(|s| s.parse().ok()).ok_or(WebError::Unreadable)?;
    let (who, table, asked) = (reader.person.clone(), l.table.clone(), l.asked.clone());
    let done = app
        .store
        .run(move |c| {
            let b = import::keep(c, &who, id, &table, &asked, stand)?;
            uploads::done(c, upload)?;
            Ok(b)
        })
        .await;
    match done {
        Ok(b) => Ok(Redirect::to(&format!("/rebuilds/{id}/ledger?brought={}", b.kept())).into_response()),
        Err(e @ (StoreError::Held(_) | StoreError::Conflict(_))) => {
            let (status, _, error) = refused(e, "general")?;
            let (who, table, asked) = (reader.person.clone(), l.table.clone(), l.asked.clone());
            let b = app.store.run(move |c| import::look(c, &who, id, &table, &asked)).await?;
            page_as(status, &look_page(&reader, l, upload, &q, &b, error))
        }
        Err(e) => Err(e.into()),
    }
}
