//! The same for other programs: a key in the head of a request, JSON or a file in the answer.

pub mod described;
pub mod reckon;

use crate::ground::error::WebError;
use crate::ground::extract::Reader;
use crate::parts::archive::{self, unpacked};
use crate::parts::hand_in::{Chosen, asked};
use crate::parts::papers::{self, Paper};
use crate::parts::{readings_csv, section, table};
use crate::state::App;
use axum::Json;
use axum::body::Bytes;
use axum::extract::{Path, Query, State};
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::{IntoResponse, Response};
use ironseat_core::fasten::Pattern;
use ironseat_core::quantity::Units;
use ironseat_core::rows::Table;
use ironseat_core::stock::{BOLTS, LEAVES, Leaf};
use ironseat_core::{Refusal, stock as rows};
use ironseat_store::archive::SCHEMA;
use ironseat_store::read;
use ironseat_store::read::bench;
use ironseat_store::read::floor::{self, FloorQuery};
use ironseat_store::read::readings_export;
use ironseat_store::read::sheet_room;
use ironseat_store::rows::person::Person;
use ironseat_store::rows::token::Scope;
use ironseat_store::write::import::{self, Became, Understood};
use ironseat_store::write::{self, tokens};
use ironseat_store::{RebuildId, StoreError};
use serde_json::{Map, Value, json};

/// Why a program gets no answer.
pub struct ApiError(StatusCode, Refusal);

impl IntoResponse for ApiError {
    fn into_response(self) -> Response {
        let mut r = (self.0, Json(json!({ "error": self.1 }))).into_response();
        if self.0 == StatusCode::UNAUTHORIZED {
            r.headers_mut().insert(header::WWW_AUTHENTICATE, header::HeaderValue::from_static("Bearer"));
        }
        r
    }
}

impl From<StoreError> for ApiError {
    fn from(e: StoreError) -> Self {
        let said = |status, field: &str, words: String| Self(status, Refusal::new(field, words));
        match e {
            StoreError::NotFound => said(StatusCode::NOT_FOUND, "id", "nothing is kept under this address".into()),
            StoreError::Refused(r) => Self(StatusCode::UNPROCESSABLE_ENTITY, r),
            StoreError::Held(s) | StoreError::Conflict(s) => said(StatusCode::CONFLICT, "state", s),
            StoreError::TooMany(s) => said(StatusCode::TOO_MANY_REQUESTS, "state", s),
            e @ StoreError::Full => said(StatusCode::INSUFFICIENT_STORAGE, "state", e.to_string()),
            e @ (StoreError::Unavailable(_) | StoreError::Clash) => {
                tracing::warn!(cause = %e, "database unavailable");
                said(StatusCode::SERVICE_UNAVAILABLE, "state", "the record book does not answer: ask again".into())
            }
            other => {
                tracing::error!(error = %other, "store");
                said(StatusCode::INTERNAL_SERVER_ERROR, "state", "the fault is ours, please report it".into())
            }
        }
    }
}
impl From<WebError> for ApiError {
    fn from(e: WebError) -> Self {
        match e {
            WebError::Store(e) => e.into(),
            WebError::TooLarge => {
                Self(StatusCode::PAYLOAD_TOO_LARGE, Refusal::new("body", "this is more than is taken"))
            }
            other => StoreError::Internal(format!("{other:?}")).into(),
        }
    }
}
impl From<Refusal> for ApiError {
    fn from(r: Refusal) -> Self {
        StoreError::from(r).into()
    }
}

type Answer<T = Response> = Result<T, ApiError>;

/// Whose key a request carries, if it opens this.
async fn opened(app: &App, headers: &HeaderMap, scope: Scope) -> Answer<Reader> {
    let no = |words: &str| ApiError(StatusCode::UNAUTHORIZED, Refusal::new("authorization", words));
    let given = headers.get(header::AUTHORIZATION).and_then(|v| v.to_str().ok());
    let secret = given.and_then(|v| v.strip_prefix("Bearer ")).map(|s| s.trim().to_owned());
    let secret = secret
        .ok_or_else(|| no("expected the head “Authorization: Bearer KEY”: a key is made under “Password and PIN”"))?;
    match app.store.run(move |c| tokens::open(c, &secret, scope)).await {
        Ok(person) => Ok(Reader { person, csrf: String::new() }),
        Err(StoreError::NotFound) => Err(no("this key opens nothing: it is none, or it was put away")),
        Err(StoreError::Held(s)) => Err(ApiError(StatusCode::FORBIDDEN, Refusal::new("authorization", s))),
        Err(e) => Err(e.into()),
    }
}

fn moment(t: chrono::NaiveDateTime) -> Value {
    json!(t.format("%Y-%m-%dT%H:%M:%S%.6fZ").to_string())
}

fn head(r: &ironseat_store::rows::rebuild::Rebuild) -> Map<String, Value> {
    let v = json!({
        "id": r.id, "number": r.number, "title": r.title, "customer": r.customer, "from": r.origin, "due_on": r.due_on,
        "finished_at": r.finished_at.map(moment), "entries": r.record_seq, "head": r.record_hash,
    });
    v.as_object().cloned().unwrap_or_default()
}

/// `GET /api/rebuilds`: rebuilds by how soon they want a person, a page at a time.
pub async fn rebuilds(State(app): State<App>, headers: HeaderMap, Query(q): Query<Chosen>) -> Answer {
    opened(&app, &headers, Scope::Read).await?;
    let text = |k: &str| q.get(k).cloned().unwrap_or_default();
    let page = match q.get("page").map(|p| p.parse::<i64>()) {
        None => 1,
        Some(Ok(n)) if (1..1_000_000).contains(&n) => n,
        Some(_) => return Err(Refusal::new("page", "expected a number from 1").into()),
    };
    let finished = q.get("finished").is_some_and(|v| v == "true");
    let asked = FloorQuery { find: text("find"), finished, page: page - 1, customer: None };
    let f = app.store.run(move |c| floor::floor(c, &asked)).await?;
    let list: Vec<Value> = f.strips.iter().map(|s| Value::Object(head(&s.bench.rebuild))).collect();
    Ok(Json(json!({ "rebuilds": list, "page": page, "pages": f.pages() })).into_response())
}

/// `GET /api/rebuilds/{id}`: how far it is, act by act, and what its sheets say.
pub async fn rebuild(State(app): State<App>, headers: HeaderMap, Path(id): Path<RebuildId>) -> Answer {
    opened(&app, &headers, Scope::Read).await?;
    let b = app.store.run(move |c| bench::load(c, id)).await?;
    let s = &b.state;
    let acts: Vec<Value> = s
        .acts
        .iter()
        .map(|a| {
            let (done, m) = (s.done.get(&a.id), s.limits(a));
            json!({
                "id": a.id, "words": a.words.say(Units::Metric), "stage": a.stage.word(), "done": done.is_some(),
                "by": done.map(|d| d.by.clone()), "value": done.and_then(|d| d.value),
                "unit": m.as_ref().map(|m| m.unit.word()), "lower": m.as_ref().and_then(|m| m.lo), "upper": m.as_ref().and_then(|m| m.hi),
            })
        })
        .collect();
    let sheets: Vec<Value> = b
        .sheets
        .iter()
        .filter_map(|x| {
            let (declared, out) = sheet_room::worked(&b, x)?;
            let (whole, answer) = match out {
                ironseat_core::sheet::Outcome::Answer(_, a) => (true, Some(a)),
                ironseat_core::sheet::Outcome::SoFar(_, a) => (false, Some(a)),
                _ => (false, None),
            };
            Some(json!({ "key": format!("{}/{}", x.act, x.name), "title": declared.title, "whole": whole, "answer": answer }))
        })
        .collect();
    let mut out = head(&b.rebuild);
    out.insert("acts".into(), json!(acts));
    out.insert("sheets".into(), json!(sheets));
    Ok(Json(Value::Object(out)).into_response())
}

/// `GET /api/rebuilds/{id}/readings`: every reading.
pub async fn readings(State(app): State<App>, headers: HeaderMap, Path(id): Path<RebuildId>) -> Answer {
    opened(&app, &headers, Scope::Read).await?;
    let (_, list) = app.store.run(move |c| readings_export::readings(c, id)).await?;
    let one = |t: &readings_export::ExportedReading| {
        let mut v = json!(t);
        v["at_utc"] = moment(t.at);
        v
    };
    Ok(Json(json!({ "readings": list.iter().map(one).collect::<Vec<_>>() })).into_response())
}

/// `GET /api/rebuilds/{id}/files/FILE`: the readings, the archive, the half section, a paper.
pub async fn file(
    State(app): State<App>,
    headers: HeaderMap,
    Path((id, file)): Path<(RebuildId, String)>,
    Query(q): Query<Chosen>,
) -> Answer {
    let reader = opened(&app, &headers, Scope::Read).await?;
    match file.as_str() {
        "readings.csv" => {
            let (b, list) = app.store.run(move |c| readings_export::readings(c, id)).await?;
            Ok(([(header::CONTENT_TYPE, "text/csv; charset=utf-8")], readings_csv::file(&b, &list)?).into_response())
        }
        "archive.zip" => Ok(archive::file(archive::pack(&app, &reader, id, &headers).await?)),
        "section.svg" => {
            let b = app.store.run(move |c| bench::load(c, id)).await?;
            Ok(crate::ground::view::svg_file(section::as_file(&b, Units::Metric)))
        }
        _ => {
            let name = file.strip_suffix(".pdf").ok_or(StoreError::NotFound)?.to_owned();
            let paper = Paper { name, letter: q.get("size").is_some_and(|s| s == "letter") };
            let (_, bytes) = papers::set(&app, &reader, id, &paper, &headers).await?;
            Ok(([(header::CONTENT_TYPE, "application/pdf")], bytes).into_response())
        }
    }
}

/// Rows of a body: a table as text, or JSON with a list of objects under `name`.
fn table_of(headers: &HeaderMap, body: &Bytes, name: &str) -> Result<Table, Refusal> {
    let kind = headers.get(header::CONTENT_TYPE).and_then(|v| v.to_str().ok()).unwrap_or_default();
    if !kind.starts_with("application/json") {
        return table::read(body);
    }
    let bad = |m: String| Refusal::new(name, m);
    let expected = || bad(format!("expected an object with a list of objects under “{name}”"));
    let v: Value = serde_json::from_slice(body).map_err(|e| bad(format!("expected JSON: {e}")))?;
    let list = v.get(name).and_then(Value::as_array).ok_or_else(expected)?;
    let mut keys: Vec<String> = Vec::new();
    for o in list {
        for k in o.as_object().ok_or_else(expected)?.keys() {
            if !keys.contains(k) {
                keys.push(k.clone());
            }
        }
    }
    let text = |v: &Value| match v {
        Value::Null => String::new(),
        Value::String(s) => s.clone(),
        Value::Bool(b) => if *b { "yes" } else { "no" }.to_owned(),
        other => other.to_string(),
    };
    let rows = list.iter().map(|o| keys.iter().map(|k| text(&o[k.as_str()])).collect());
    let head = std::iter::once(keys.clone());
    Table::new(head.chain(rows).collect())
}

fn became(u: &Understood) -> Value {
    let (word, why) = match &u.became {
        Became::New => ("new", Value::Null),
        Became::Corrects(was) => ("corrects", json!(was)),
        Became::Same => ("same", Value::Null),
        Became::Left(why) => ("left", json!(why)),
        Became::Ask(r) => ("asks", json!(crate::parts::slip::asked_about(r, u.unit, Units::Metric).0)),
        Became::Wrong(r) => ("wrong", json!(r)),
    };
    json!({
        "line": u.line, "became": word, "why": why, "sheet": u.sheet, "place": u.place, "text": u.text, "value": u.value,
        "unit": u.unit, "instrument": u.instrument,
    })
}

/// `POST /api/rebuilds/{id}/readings`: readings in. All rows or none; with `look=true` nothing is kept, with
/// `partly=true` what can be kept is.
pub async fn readings_in(
    State(app): State<App>,
    headers: HeaderMap,
    Path(id): Path<RebuildId>,
    Query(q): Query<Chosen>,
    body: Bytes,
) -> Answer {
    let reader = opened(&app, &headers, Scope::Measure).await?;
    let table = table_of(&headers, &body, "readings")?;
    let mut asked = asked(&table, &q, reader.person.units);
    // Figures of a program that names no unit are those of the record.
    if !q.contains_key("units") {
        asked.units = Units::Metric;
    }
    let on = |k: &str| q.get(k).is_some_and(|v| v == "true");
    let (look, partly) = (on("look"), on("partly"));
    let who = reader.person;
    let seen = app
        .store
        .run(move |c| {
            let seen = import::look(c, &who, id, &table, &asked)?;
            let whole = !seen.lines.iter().any(|u| matches!(u.became, Became::Wrong(_) | Became::Ask(_)));
            if look || !(whole || partly) {
                return Ok((seen, false));
            }
            Ok((import::keep(c, &who, id, &table, &asked, seen.stand)?, true))
        })
        .await?;
    let (b, kept) = seen;
    let lines: Vec<Value> = b.lines.iter().map(became).collect();
    let status = if kept || look { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
    let mut out = json!({ "kept": if kept { b.kept() } else { 0 }, "lines": lines });
    if !kept && !look {
        out["error"] = json!(Refusal::new(
            "readings",
            "some rows cannot be kept as they are, so none was: lines say which and why"
        ));
    }
    Ok((status, Json(out)).into_response())
}

/// `POST /api/archives`: a rebuild in, whole or not at all; with `look=true` nothing is kept.
pub async fn archive_in(State(app): State<App>, headers: HeaderMap, Query(q): Query<Chosen>, body: Bytes) -> Answer {
    let reader = opened(&app, &headers, Scope::TakeIn).await?;
    let a = unpacked(body.to_vec()).await?;
    let (who, look) = (reader.person, q.get("look").is_some_and(|v| v == "true"));
    let work = if look { ironseat_store::archive::look } else { ironseat_store::archive::take_in };
    let t = app.store.run(move |c| work(c, &who, &a)).await?;
    let out = json!({
        "rebuild": t.rebuild, "number": t.number, "title": t.title, "from": t.from, "entries": t.entries, "head": t.head,
        "readings": t.readings, "pictures": t.pictures, "already": t.already, "kept": !look && !t.already,
    });
    Ok(Json(out).into_response())
}

/// `GET /api/archive.schema.json`: what `rebuild.json` looks like.
pub async fn archive_schema() -> Response {
    ([(header::CONTENT_TYPE, "application/schema+json")], SCHEMA).into_response()
}

/// `GET /api/stock/leaves`.
pub async fn leaves(State(app): State<App>, headers: HeaderMap) -> Answer {
    opened(&app, &headers, Scope::Read).await?;
    leaves_now(&app).await
}

fn first_wrong<T: Clone>(list: &[rows::Read<T>]) -> Result<Vec<T>, Refusal> {
    let one =
        |(line, r): &rows::Read<T>| r.clone().map_err(|e| Refusal::new(e.field, format!("line {line}: {}", e.message)));
    list.iter().map(one).collect()
}

/// `POST /api/stock/leaves`: what lies in the drawer, said anew.
pub async fn leaves_in(State(app): State<App>, headers: HeaderMap, Query(q): Query<Chosen>, body: Bytes) -> Answer {
    let who = opened(&app, &headers, Scope::TakeIn).await?.person;
    let t = table_of(&headers, &body, "leaves")?;
    let columns = table::columns(&t, &LEAVES, &q);
    let list: Vec<Leaf> = first_wrong(&rows::read_leaves(&t, &columns, table::unit(&q, &t, &columns, Units::Metric)))?;
    app.store.run(move |c| write::stock::set_leaves(c, &who, &list)).await?;
    leaves_now(&app).await
}

async fn leaves_now(app: &App) -> Answer {
    let list = app.store.run(read::stock::all_leaves).await?;
    Ok(Json(json!({ "leaves": list })).into_response())
}

fn pattern_json(p: &Pattern) -> Value {
    let order: Vec<usize> = p.order().unwrap_or_default().into_iter().map(|k| k + 1).collect();
    let bolts: Vec<Value> = p.bolts().iter().map(|(x, y)| json!({"x_mm": x, "y_mm": y})).collect();
    json!({ "name": p.name(), "bolts": bolts, "order": order })
}

/// `GET /api/stock/patterns`.
pub async fn patterns(State(app): State<App>, headers: HeaderMap) -> Answer {
    opened(&app, &headers, Scope::Read).await?;
    let list = app.store.run(read::stock::patterns).await?;
    Ok(Json(json!({ "patterns": list.iter().map(|p| pattern_json(&p.1)).collect::<Vec<_>>() })).into_response())
}

/// `POST /api/stock/patterns?name=…`: where the bolts of a cover stand.
pub async fn pattern_in(State(app): State<App>, headers: HeaderMap, Query(q): Query<Chosen>, body: Bytes) -> Answer {
    let who: Person = opened(&app, &headers, Scope::TakeIn).await?.person;
    let t = table_of(&headers, &body, "bolts")?;
    let columns = table::columns(&t, &BOLTS, &q);
    let places = first_wrong(&rows::read_bolts(&t, &columns, table::unit(&q, &t, &columns, Units::Metric)))?;
    let p = Pattern::new(q.get("name").map_or("", String::as_str), places)?;
    let kept = p.clone();
    app.store.run(move |c| write::stock::keep_pattern(c, &who, &kept)).await?;
    Ok(Json(pattern_json(&p)).into_response())
}
