//! How good the shop's forecasts are by their kind, which of them were off by more than the others, and the friction
//! that its own presses say.

use crate::ground::address::encode;
use crate::ground::error::{WebError, WebResult, refused};
use crate::ground::extract::{Form, Lead, Reader, Worker};
use crate::ground::view::Shell;
use crate::ground::view::moment;
use crate::ground::view::page;
use crate::ground::view::page_as;
use crate::parts::forecast::value;
use crate::state::App;
use askama::Template;
use axum::extract::State;
use axum::response::{IntoResponse as _, Redirect, Response};
use ironseat_core::foreseen::{self, records};
use ironseat_core::quantity::show::capital;
use ironseat_core::rules::FITS_TO_LEARN;
use ironseat_store::read::forecasts::{Press, Seen};
use ironseat_store::read::rebuilds::live_clocks;
use ironseat_store::{RebuildId, StoreError, read, write};
use serde::Deserialize;

/// So many that stood out are listed.
const LISTED: usize = 40;

struct KindRow {
    words: &'static str,
    count: usize,
    mean: String,
    spread: String,
    half: String,
}

struct OffRow {
    href: String,
    number: String,
    words: String,
    foreseen: String,
    came: String,
    off: String,
    by: String,
    rebuild: RebuildId,
    /// Names it in a form.
    of: String,
    /// What happened, and who said so.
    said: String,
    finished: bool,
    /// What was typed and not taken, and why.
    typed: String,
    error: String,
}

struct PressRow {
    href: String,
    number: String,
    place: String,
    mu: String,
    at: String,
}

#[derive(Template)]
#[template(path = "rooms/forecasts/forecasts.html")]
struct ForecastPage {
    shell: Shell,
    kinds: Vec<KindRow>,
    off: Vec<OffRow>,
    presses: Vec<PressRow>,
    /// What a seat is wiped with, and its usual friction.
    lubricant: &'static str,
    usual: String,
    /// What the presses say, and whether there are enough of them.
    says: String,
    enough: bool,
    wanted: u32,
    /// What the house goes by now, when it is its own.
    own: String,
    revision: i32,
    /// What belongs to no row.
    error: String,
}

fn span(f: ironseat_core::fit::Friction) -> String {
    format!("{:.3}, from {:.3} to {:.3}", f.mid, f.low, f.high)
}

/// The page.
pub async fn show(State(app): State<App>, reader: Reader) -> WebResult {
    page(&build(&app, &reader).await?)
}

async fn build(app: &App, reader: &Reader) -> WebResult<ForecastPage> {
    if !reader.person.works_here() {
        return Err(WebError::Store(StoreError::NotFound));
    }
    let (units, zone) = (reader.person.units, reader.person.zone);
    let ((all, presses), settings, clocks) =
        app.store.run(|c| Ok((read::forecasts::all(c)?, read::shop::settings(c)?, live_clocks(c)?))).await?;
    let settings = settings.ok_or(StoreError::NotFound)?;
    let list: Vec<foreseen::Foreseen> = all.iter().map(|s| s.foreseen).collect();
    let records = records(&list);
    let kinds = records
        .iter()
        .map(|r| KindRow {
            words: r.kind.words(),
            count: r.count,
            mean: value(r.kind, r.mean, units),
            spread: r.spread.map_or_else(|| "—".into(), |s| value(r.kind, s, units)),
            half: value(r.kind, r.half, units),
        })
        .collect();
    let stood_out = |s: &&Seen| records.iter().any(|r| r.stands_out(&s.foreseen));
    let off_row = |s: &Seen| {
        let kind = s.foreseen.kind;
        let (key, of) = s.at.split_once('=').unwrap_or(("step", ""));
        OffRow {
            href: format!("/rebuilds/{}?{key}={}", s.rebuild, encode(of)),
            number: s.number.clone(),
            words: if s.place.is_empty() { kind.words().to_owned() } else { format!("{}, {}", s.place, kind.words()) },
            foreseen: value(kind, s.foreseen.foreseen, units),
            came: value(kind, s.foreseen.came, units),
            off: value(kind, s.foreseen.off(), units),
            by: format!("{}, {}", s.by, moment(s.when, zone)),
            rebuild: s.rebuild,
            of: s.of.clone(),
            said: s.said.as_ref().map_or_else(String::new, |(what, by)| format!("{what} ({by})")),
            finished: s.finished,
            typed: String::new(),
            error: String::new(),
        }
    };
    let press_row = |p: &Press| PressRow {
        href: format!("/rebuilds/{}", p.rebuild),
        number: p.number.clone(),
        place: p.place.clone(),
        mu: format!("{:.3}", p.mu),
        at: moment(p.when, zone),
    };
    let mu: Vec<f64> = presses.iter().map(|p| p.mu).collect();
    let (friction, learned) = foreseen::learn(settings.rules.lubricant, &mu);
    let own = settings.rules.learned.filter(|l| l.lubricant == settings.rules.lubricant);
    Ok(ForecastPage {
        shell: Shell::new(reader, &clocks, "forecasts", "/forecasts".into(), "/events".into()),
        kinds,
        off: all.iter().filter(stood_out).take(LISTED).map(off_row).collect(),
        presses: presses.iter().rev().take(LISTED).map(press_row).collect(),
        lubricant: settings.rules.lubricant.words(),
        usual: span(settings.rules.lubricant.friction()),
        says: span(friction),
        enough: learned.is_some(),
        wanted: FITS_TO_LEARN,
        own: own.map_or_else(String::new, |l| {
            format!(
                "{}, from {} presses",
                span(ironseat_core::fit::Friction { low: l.low, mid: l.mid, high: l.high }),
                l.fits
            )
        }),
        revision: settings.revision,
        error: String::new(),
    })
}

/// What happened there.
#[derive(Deserialize)]
pub struct ExplainForm {
    rebuild: RebuildId,
    of: String,
    #[serde(default)]
    what: String,
}

/// Keeps what happened where something came far from what was foreseen.
pub async fn explain(
    State(app): State<App>,
    Worker(reader): Worker,
    Form(f): Form<ExplainForm>,
) -> WebResult<Response> {
    let (who, of, what) = (reader.person.clone(), f.of.clone(), f.what.clone());
    let done = app.store.run(move |c| write::forecasts::explain(c, &who, f.rebuild, &of, &what)).await;
    let Err(e) = done else { return Ok(Redirect::to("/forecasts#off").into_response()) };
    let (status, _, words) = refused(e, "what")?;
    let mut p = build(&app, &reader).await?;
    let words = capital(words.trim_end_matches('.')) + ".";
    match p.off.iter_mut().find(|r| r.rebuild == f.rebuild && r.of == f.of && !r.finished) {
        Some(row) => (row.typed, row.error) = (f.what, words),
        None => p.error = words,
    }
    page_as(status, &p)
}

/// Which friction the house goes by.
#[derive(Deserialize)]
pub struct LearnForm {
    revision: i32,
    #[serde(default)]
    friction: String,
}

/// A lead takes the shop's own friction, or goes back to the usual one.
pub async fn learn(State(app): State<App>, Lead(reader): Lead, Form(f): Form<LearnForm>) -> WebResult<Response> {
    let who = reader.person;
    let own = match f.friction.as_str() {
        "own" => true,
        "usual" => false,
        _ => return Err(WebError::Unreadable),
    };
    app.store
        .run(move |c| {
            let (_, presses) = read::forecasts::all(c)?;
            let settings = read::shop::settings(c)?.ok_or(StoreError::NotFound)?;
            let mu: Vec<f64> = presses.iter().map(|p| p.mu).collect();
            let learned = foreseen::learn(settings.rules.lubricant, &mu).1;
            if own && learned.is_none() {
                return Err(StoreError::Held(format!(
                    "a shop learns its friction from {FITS_TO_LEARN} presses or more"
                )));
            }
            write::shop::learn(c, &who, learned.filter(|_| own), f.revision)
        })
        .await?;
    Ok(Redirect::to("/forecasts").into_response())
}
