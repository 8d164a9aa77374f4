//! Papers of a rebuild as PDF: the certificate, the travel sheet for a bench without power, labels for its parts. What
//! sets them is handed in by the program, so that whoever tries the rooms need not build it.

use crate::ground::error::WebResult;
use crate::ground::extract::Reader;
use crate::parts::certificate;
use crate::parts::joints::joints;
use crate::state::App;
use crate::state::printer::{Order, Unprinted};
use axum::http::{HeaderMap, header};
use ironseat_core::inspect::Fate;
use ironseat_core::quantity::show::capital;
use ironseat_drawing::{Fitted, SectionView, half_section};
use ironseat_store::read::bench::Bench;
use ironseat_store::read::pictures::{self, Picture};
use ironseat_store::{RebuildId, StoreError};
use serde_json::{Value, json};
use std::collections::BTreeMap;

const NOT_BUILT: &str = "what sets papers is still being built, which bin/start does in the minutes after its first start: print the page instead, or come back";

/// Pictures that stand on a certificate.
const PICTURES: usize = 12;

/// The half section, and the names of the parts that it numbers, in their order.
fn section(b: &Bench) -> (Vec<u8>, Vec<String>) {
    let s = &b.state;
    let drawn = half_section(
        s.anatomy(),
        &SectionView {
            width: 968.0,
            height: 290.0,
            fitted: Fitted::Parts { on: &s.fitted(), scrapped: &s.scrapped },
            marks: &BTreeMap::new(),
            selected: None,
            in_hand: None,
            joints: &joints(s),
            small: false,
            id: "ps",
        },
    );
    (drawn.standalone().into_bytes(), drawn.rows.into_iter().map(|r| r.0).collect())
}

/// Where the square on a paper leads.
fn address(headers: &HeaderMap, app: &App, id: RebuildId) -> String {
    let host = headers.get(header::HOST).and_then(|h| h.to_str().ok()).unwrap_or("localhost");
    format!("{}://{host}/rebuilds/{id}", if app.config.tls { "https" } else { "http" })
}

/// Which paper, and on which.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Paper {
    /// `certificate`, `travel-sheet` or `labels`.
    pub name: String,
    pub letter: bool,
}

/// Sets a paper: the number of its rebuild, and the PDF.
///
/// # Errors
/// Not found; held while what sets papers is not there; too many while others are printing.
pub async fn set(
    app: &App,
    reader: &Reader,
    id: RebuildId,
    paper: &Paper,
    headers: &HeaderMap,
) -> WebResult<(String, Vec<u8>)> {
    let Some(printer) = app.config.printer else {
        return Err(StoreError::Held(NOT_BUILT.into()).into());
    };
    let l = certificate::load(app, id).await?;
    let b = &l.bench;
    let (drawing, named) = section(b);
    let mut files = vec![("section.svg".to_owned(), drawing)];
    let mut data = match paper.name.as_str() {
        "certificate" => {
            let all: Vec<(String, Picture)> = b
                .pictures
                .iter()
                .flat_map(|(question, list)| list.iter().map(|p| (question.clone(), p.clone())))
                .take(PICTURES)
                .collect();
            let ids: Vec<_> = all.iter().map(|(_, p)| p.id).collect();
            let bodies = app
                .store
                .run(move |c| ids.iter().map(|p| pictures::body(c, id, *p, false)).collect::<Result<Vec<_>, _>>())
                .await?;
            let mut shown = Vec::new();
            for (k, ((question, p), bytes)) in all.iter().zip(bodies).enumerate() {
                let end = if bytes.starts_with(b"\x89PNG") { "png" } else { "jpg" };
                let of = b.state.question(question).map_or_else(|| question.clone(), |q| q.words.clone());
                shown.push((format!("picture-{k}.{end}"), of, p.by.clone()));
                files.push((format!("picture-{k}.{end}"), bytes));
            }
            certificate::paper(reader, &l, &shown)
        }
        "travel-sheet" => travel(reader, &l),
        "labels" => labels(b, l.shop()),
        _ => return Err(StoreError::NotFound.into()),
    };
    data["address"] = json!(address(headers, app, id));
    data["named"] = json!(named);
    let order = Order { paper: paper.name.clone(), letter: paper.letter, data, files };
    let pdf = printer(order).await.map_err(|e| match e {
        Unprinted::NotBuilt => StoreError::Held(NOT_BUILT.into()),
        Unprinted::Busy => StoreError::TooMany("Others are printing just now: ask again in a moment".into()),
        Unprinted::Fault(why) => StoreError::Internal(why),
    })?;
    Ok((b.rebuild.number.clone(), pdf))
}

/// Every act, done or with an empty box, in the offered order.
fn travel(reader: &Reader, l: &certificate::Loaded) -> Value {
    let b = &l.bench;
    let (s, units) = (&b.state, reader.person.units);
    let mut stages: Vec<(String, Vec<Value>)> = Vec::new();
    let dispositions: Vec<&str> = Fate::ALL.iter().map(|f| f.0.word()).collect();
    for act in s.acts.iter() {
        let word = act.stage.word().to_owned();
        let done = s.done.get(&act.id);
        let m = s.limits(act);
        let asks = act.id.starts_with("ask.");
        let fate = act.id.strip_prefix("look.").and_then(|part| s.disposed.get(part));
        let read = done.and_then(|d| d.value).zip(m.as_ref()).map_or_else(String::new, |(v, m)| m.unit.show(v, units));
        let given: Vec<String> = act
            .given
            .iter()
            .map(|q| crate::parts::found::found_words(s, q, units))
            .filter(|w| !w.is_empty())
            .map(|w| format!("as found {w}"))
            .collect();
        let line = json!({
            "words": act.words.say(units),
            "done": done.is_some(),
            "by": done.map_or("", |d| d.by.as_str()),
            "read": read,
            "boxes": m.as_ref().map_or(u32::from(asks), |m| m.points),
            "unit": m.as_ref().map_or("", |m| m.unit.hint(units)),
            "limit": m.as_ref().map_or_else(String::new, |m| m.limit(units)),
            "caution": act.caution.map_or("", |c| c.words()),
            "given": given,
            "choices": if act.id.starts_with("look.") { dispositions.clone() } else { Vec::new() },
            "said": fate.map_or("", |d| d.fate.word()),
        });
        match stages.last_mut().filter(|(w, _)| *w == word) {
            Some((_, list)) => list.push(line),
            None => stages.push((word, vec![line])),
        }
    }
    let r = &b.rebuild;
    json!({
        "shop": l.shop(),
        "number": r.number,
        "head": [["Machine", r.title.as_str()], ["Serial number", l.serial.as_str()], ["Customer", r.customer.as_str()]],
        "first": ironseat_core::caution::FIRST,
        "stages": stages.iter().map(|(word, acts)| json!({"word": capital(word), "acts": acts})).collect::<Vec<_>>(),
    })
}

/// A label for each part that comes off.
fn labels(b: &Bench, shop: String) -> Value {
    let r = &b.rebuild;
    let label =
        |name: &str, place: String| json!({"number": r.number, "part": name, "where": place, "machine": r.title});
    let a = r.anatomy();
    let on = |land: &str| a.land(land).map_or_else(String::new, |l| format!("on {}", l.name));
    let parts = a.parts.iter().map(|p| label(&p.name, on(&p.land)));
    let housings = a.housings.iter().map(|h| label(&h.name, String::new()));
    json!({"shop": shop, "number": r.number, "labels": parts.chain(housings).collect::<Vec<_>>()})
}
