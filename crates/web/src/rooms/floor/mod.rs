//! Floor: what is going on; one strip per rebuild, sorted by what needs a person now.

use crate::ground::address::encode;
use crate::ground::error::{WebError, WebResult};
use crate::ground::extract::{Form, Lead, Reader};
use crate::ground::view::Shell;
use crate::ground::view::day;
use crate::ground::view::local;
use crate::ground::view::page;
use crate::ground::view::page_around;
use crate::ground::view::page_as;
use crate::ground::view::today;
use crate::parts::call::CallView;
use crate::parts::seat_marks::marks;
use crate::parts::section as drawn;
use crate::state::App;
use askama::Template;
use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse as _, Redirect};
use chrono_tz::Tz;
use ironseat_core::decide::urgency::Urgency;
use ironseat_core::quantity::Units;
use ironseat_core::quantity::show::capital;
use ironseat_core::terms::Verdict;
use ironseat_drawing::{Fitted, Joints, SectionView};
use ironseat_store::db::cache::Cache;
use ironseat_store::read::bench::{Bench, Revision};
use ironseat_store::read::floor::{self, FloorQuery};
use ironseat_store::read::rebuilds;
use ironseat_store::read::shop;
use ironseat_store::rows::person::Role;
use ironseat_store::write::{self, rebuilds::NewRebuild};
use ironseat_store::{AnatomyId, Id, RebuildId, StoreError};
use serde::Deserialize;
use std::sync::Arc;

/// One strip.
#[derive(Template)]
#[template(path = "rooms/floor/_strip.html")]
struct Strip {
    number: String,
    title: String,
    customer: String,
    due: String,
    late: bool,
    href: String,
    section: String,
    done: usize,
    all: usize,
    /// One block per step that counts: `done`, `hand`, or empty.
    blocks: Vec<&'static str>,
    stage: &'static str,
    key: &'static str,
    headline: String,
    detail: String,
    ends_ms: i64,
    certificate: String,
}

#[derive(Template)]
#[template(path = "rooms/floor/floor.html")]
struct FloorPage {
    shell: Shell,
    shop: String,
    today: String,
    headline: String,
    /// Each as it is drawn.
    strips: Vec<Arc<str>>,
    find: String,
    finished: bool,
    page: usize,
    pages: usize,
    /// There are strips, but none on this page.
    beyond: bool,
    anatomies: Vec<(AnatomyId, String)>,
    /// Names of customers who are known.
    customers: Vec<String>,
    error: String,
    field: String,
    typed: StartForm,
    new_id: RebuildId,
    open_form: bool,
    seen: i64,
}

#[derive(Deserialize, Default)]
pub struct FloorParams {
    #[serde(default)]
    find: String,
    #[serde(default)]
    finished: bool,
    #[serde(default)]
    page: i64,
}

/// One block a step; a long trail gets as many as a strip can show.
fn blocks(done: usize, all: usize) -> Vec<&'static str> {
    let n = all.min(24);
    (0..n)
        .map(|k| match (k * all / n, (k + 1) * all / n) {
            (_, to) if to <= done => "done",
            (from, _) if from <= done => "hand",
            _ => "",
        })
        .collect()
}

fn strip(o: &Bench, urgency: Urgency, units: Units, zone: Tz) -> Strip {
    let (r, state) = (&o.rebuild, &o.state);
    let section = drawn::section(
        &r.kind,
        &SectionView {
            width: 300.0,
            height: 124.0,
            fitted: Fitted::Parts { on: &state.fitted(), scrapped: &state.scrapped },
            marks: &marks(state, r.id, None, units),
            selected: None,
            in_hand: None,
            joints: &Joints::default(),
            small: true,
            id: &format!("s{}", r.id),
        },
    );
    let (done, all) = state.progress();
    let now = ironseat_store::now();
    let next = state.in_hand();
    // What is said of the act in hand: a seat's step by its name, with the seat behind it.
    let step = next.and_then(|x| x.seat.as_ref());
    let seat = step.and_then(|(seat, _)| r.anatomy().seat(seat)).map_or(String::new(), |x| x.name.clone());
    let step_words = match (step, next) {
        (Some((_, k)), _) => format!("{}, {}", k.name().to_lowercase(), seat.to_lowercase()),
        (None, Some(act)) => act.words.say(units),
        (None, None) => String::new(),
    };
    let worst = state.calls.iter().filter(|c| c.wants_someone()).max_by_key(|c| c.verdict());
    let call = |c| CallView::stored(c, units).unwrap_or_default();
    let clock = o.clocks.iter().min_by_key(|k| k.left(now));
    let (key, headline, detail, ends_ms) = match (urgency, worst, clock) {
        (Urgency::Finished, ..) => {
            ("go", "Finished and signed".to_owned(), "its certificate can be printed".to_owned(), 0)
        }
        (Urgency::Now, Some(c), _) if c.verdict() == Some(Verdict::Stop) => {
            let v = call(c);
            (v.key, v.title, v.action, 0)
        }
        (Urgency::Now, _, Some(k)) => ("clock", format!("{}: time is up", k.label), step_words, 0),
        (Urgency::Waits, _, Some(k)) => {
            let busy = next.is_none_or(|x| state.busy(x));
            let nothing = || "nothing else can be done meanwhile".to_owned();
            let meanwhile = if busy { nothing() } else { format!("Meanwhile: {step_words}") };
            ("clock", k.label.clone(), meanwhile, crate::ground::view::ClockView::of(k).ends_ms)
        }
        (_, Some(c), _) => {
            let v = call(c);
            (v.key, v.title, v.action, 0)
        }
        (_, None, _) => match (step, next) {
            (Some((_, k)), _) => ("todo", k.name().to_owned(), seat, 0),
            (None, Some(act)) => ("todo", capital(act.stage.word()), act.words.say(units), 0),
            (None, None) => ("todo", "Every step is done".to_owned(), "a lead closes the rebuild".to_owned(), 0),
        },
    };
    Strip {
        number: r.called(),
        title: r.title.clone(),
        customer: r.customer.clone(),
        due: r.finished_at.map_or_else(
            || format!("due {}", day(r.due_on, zone)),
            |t| format!("done {}", day(local(t, zone).date_naive(), zone)),
        ),
        late: r.finished_at.is_none() && r.due_on < today(zone),
        href: format!("/rebuilds/{}", r.id),
        certificate: if r.finished_at.is_some() { format!("/rebuilds/{}/certificate", r.id) } else { String::new() },
        section: section.svg.clone(),
        blocks: blocks(done, all),
        done,
        all,
        stage: next.map_or("released when a lead signs", |x| x.stage.word()),
        key,
        headline,
        detail,
        ends_ms,
    }
}

/// What a strip was made from: it is made again when any of it changes.
#[derive(PartialEq, Eq, Hash)]
struct MadeFrom {
    stand: Revision,
    /// Dates are said as seen from today.
    today: chrono::NaiveDate,
    inch: bool,
}

/// About 4 kB each.
static MADE: Cache<MadeFrom, Arc<str>> = Cache::new(1024);

/// A strip as it is drawn; one that nothing was written to, and without a clock, is not drawn again.
fn drawn_strip(o: &floor::Strip, units: Units, zone: Tz) -> Result<Arc<str>, askama::Error> {
    let from = MadeFrom { stand: o.stand.clone(), today: today(zone), inch: units == Units::Inch };
    let still = o.bench.clocks.is_empty();
    if let Some(there) = MADE.get(&from).filter(|_| still) {
        return Ok(there);
    }
    let fresh: Arc<str> = strip(&o.bench, o.urgency, units, zone).render()?.into();
    if still {
        MADE.put(from, fresh.clone());
    }
    Ok(fresh)
}

async fn build(app: &App, reader: &Reader, q: &FloorParams) -> WebResult<FloorPage> {
    let query = FloorQuery { find: q.find.clone(), finished: q.finished, page: q.page, customer: None };
    // A viewer without a customer sees nothing: no rebuild is of nobody.
    let query = if reader.person.works_here() {
        query
    } else {
        FloorQuery { customer: Some(reader.person.customer.unwrap_or_default()), ..query }
    };
    let lead = reader.person.role == Role::Lead;
    let (floor, settings, anatomies, customers) = app
        .store
        .run(move |c| {
            let floor = floor::floor(c, &query)?;
            let anatomies = if lead { rebuilds::list_anatomies(c)? } else { Vec::new() };
            let known = if lead {
                ironseat_store::read::customers::list(c)?.into_iter().map(|x| x.name).collect()
            } else {
                Vec::new()
            };
            Ok((floor, shop::settings(c)?, anatomies, known))
        })
        .await?;
    let (units, zone) = (reader.person.units, reader.person.zone);
    let strips = floor.strips.iter().map(|o| drawn_strip(o, units, zone)).collect::<Result<Vec<_>, _>>()?;
    let page = usize::try_from(q.page).unwrap_or(0);
    let here = format!("/?find={}&finished={}&page={page}", encode(&q.find), q.finished);
    Ok(FloorPage {
        shell: Shell::new(reader, &floor.running, "floor", here, "/events".into()),
        shop: settings.map_or(String::new(), |s| s.name),
        today: local(ironseat_store::now(), zone).format("%A, %H:%M %Z").to_string(),
        headline: match (q.finished, floor.count, floor.wanting) {
            (true, ..) => "Finished rebuilds".into(),
            (_, 0, _) => "Nothing on the floor".into(),
            (_, 1, 0) => "One rebuild on the floor".into(),
            (_, n, 0) => format!("{n} rebuilds on the floor"),
            (_, _, 1) => "One rebuild wants someone now".into(),
            (_, _, n) => format!("{n} rebuilds want someone now"),
        },
        beyond: strips.is_empty() && floor.count > 0,
        strips,
        find: q.find.clone(),
        finished: q.finished,
        page,
        pages: floor.pages(),
        anatomies,
        customers,
        error: String::new(),
        field: String::new(),
        typed: StartForm::default(),
        new_id: Id::new(),
        open_form: false,
        seen: floor.seen,
    })
}

/// The Floor.
pub async fn show(State(app): State<App>, reader: Reader, Query(q): Query<FloorParams>) -> WebResult {
    let p = build(&app, &reader, &q).await?;
    let large = p.strips.iter().map(|s| s.len()).sum();
    page_around(&p, large)
}

#[derive(Template)]
#[template(path = "ground/_clocks.html")]
struct ClocksFragment {
    shell: Shell,
}

/// The clocks of the top edge, for pages that keep them fresh.
pub async fn clocks(State(app): State<App>, reader: Reader) -> WebResult {
    let list = app.store.run(rebuilds::live_clocks).await?;
    page(&ClocksFragment { shell: Shell::new(&reader, &list, "", String::new(), String::new()) })
}

/// What a lead fills in to start a rebuild.
#[derive(Deserialize, Default, Clone)]
pub struct StartForm {
    #[serde(default)]
    id: String,
    #[serde(default)]
    number: String,
    #[serde(default)]
    title: String,
    #[serde(default)]
    customer: String,
    #[serde(default)]
    serial: String,
    #[serde(default)]
    anatomy: String,
    #[serde(default)]
    due_on: String,
}

/// Starts a rebuild.
pub async fn start(State(app): State<App>, Lead(reader): Lead, Form(f): Form<StartForm>) -> WebResult {
    let refuse = |field: &str, message: &str| StoreError::Refused(ironseat_core::Refusal::new(field, message));
    let parsed = (|| {
        let due_on = chrono::NaiveDate::parse_from_str(f.due_on.trim(), "%Y-%m-%d")
            .map_err(|_| refuse("due_on", "expected a date such as 2026-12-04"))?;
        let anatomy: AnatomyId = f.anatomy.parse().map_err(|_| refuse("anatomy", "choose the machine type"))?;
        Ok(NewRebuild {
            id: f.id.parse().unwrap_or_default(),
            number: f.number.trim().to_uppercase(),
            title: f.title.clone(),
            customer: f.customer.clone(),
            anatomy,
            due_on,
            serial: f.serial.clone(),
        })
    })();
    let made = match parsed {
        Ok(new) => {
            let who = reader.person.clone();
            let id = new.id;
            app.store.run(move |c| write::rebuilds::start(c, &who, &new)).await.map(|()| id)
        }
        Err(e) => Err(e),
    };
    match made {
        Ok(id) => Ok(Redirect::to(&format!("/rebuilds/{id}")).into_response()),
        Err(StoreError::Refused(e)) => {
            let mut p = build(&app, &reader, &FloorParams::default()).await?;
            p.error = e.message;
            p.field = e.field;
            p.typed = f;
            p.open_form = true;
            page_as(StatusCode::UNPROCESSABLE_ENTITY, &p)
        }
        Err(e) => Err(WebError::from(e)),
    }
}
