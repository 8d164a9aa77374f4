//! Floor: what is going on; one strip per rebuild, sorted by what needs a person now.

use crate::app::App;
use crate::drawn;

use crate::call_view::CallView;
use crate::error::{WebError, WebResult};
use crate::extract::{Form, Lead, Reader};
use crate::seat_marks::marks;
use crate::view::{Shell, day, encode, page, page_as};
use askama::Template;
use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse as _, Redirect};
use ironseat_core::quantity::Units;
use ironseat_core::quantity::show::capital;
use ironseat_core::seat::steps;
use ironseat_drawing::{Fitted, SectionView};
use ironseat_store::bench::Bench;
use ironseat_store::people::Role;
use ironseat_store::rebuilds::{self, FLOOR_PAGE, FloorQuery, NewRebuild};
use ironseat_store::{AnatomyId, Id, RebuildId, StoreError, record, shop};
use serde::Deserialize;

/// One strip.
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
    urgency: u8,
    certificate: String,
}

#[derive(Template)]
#[template(path = "floor.html")]
struct FloorPage {
    shell: Shell,
    shop: String,
    today: String,
    headline: String,
    strips: Vec<Strip>,
    find: String,
    finished: bool,
    page: i64,
    pages: i64,
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

fn strip(o: &Bench, units: Units) -> Strip {
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
            small: true,
            id: &format!("s{}", r.number),
        },
    );
    let (done, all) = state.progress();
    let now = ironseat_store::now();
    let next = state.in_hand();
    // What is said of the act in hand: a seat's step by its name, with the seat behind it.
    let step = next.and_then(|x| x.seat.as_ref());
    let seat = step.and_then(|(seat, _)| r.anatomy().seat(seat)).map_or(String::new(), |x| x.name.clone());
    let step_words = match (step, next) {
        (Some((_, k)), _) => format!("{}, {}", steps::name(*k).to_lowercase(), seat.to_lowercase()),
        (None, Some(act)) => act.words.say(units),
        (None, None) => String::new(),
    };
    let worst = state.calls.iter().filter(|c| c.wants_someone()).max_by_key(|c| c.verdict());
    let clock = o.clocks.iter().min_by_key(|k| k.left(now));
    let (key, headline, detail, ends_ms, urgency) = if r.finished_at.is_some() {
        ("go", "Finished and signed".to_owned(), "its certificate can be printed".to_owned(), 0, 9)
    } else if let Some(c) = worst.filter(|c| c.verdict() == Some(ironseat_core::call::Verdict::Stop)) {
        let v = CallView::stored(c, units).unwrap_or_default();
        (v.key, v.title, v.action, 0, 0)
    } else if let Some(k) = clock.filter(|k| k.left(now) == 0) {
        ("clock", format!("{}: time is up", k.label), step_words, 0, 0)
    } else if let Some(k) = clock {
        let v = crate::view::ClockView::of(k);
        (
            "clock",
            k.label.clone(),
            if next.is_none_or(|x| state.busy(x)) {
                "nothing else can be done meanwhile".into()
            } else {
                format!("Meanwhile: {step_words}")
            },
            v.ends_ms,
            2,
        )
    } else if let Some(c) = worst {
        let v = CallView::stored(c, units).unwrap_or_default();
        (v.key, v.title, v.action, 0, 1)
    } else {
        match (step, next) {
            (Some((_, k)), _) => ("todo", steps::name(*k).to_owned(), seat, 0, 3),
            (None, Some(act)) => ("todo", capital(act.stage.word()), act.words.say(units), 0, 3),
            (None, None) => ("todo", "Every step is done".to_owned(), "a lead closes the rebuild".to_owned(), 0, 1),
        }
    };
    Strip {
        number: r.number.clone(),
        title: r.title.clone(),
        customer: r.customer.clone(),
        due: r.finished_at.map_or_else(|| format!("due {}", day(r.due_on)), |t| format!("done {}", day(t.date()))),
        late: r.finished_at.is_none() && r.due_on < now.date(),
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
        urgency,
    }
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
    let (seen, list, count, clocks, settings, anatomies, customers) = app
        .store
        .run(move |c| {
            // Before anything else: what is read after it is not older.
            let seen = record::stand(c, None)?;
            let (list, count) = rebuilds::floor(c, &query)?;
            let anatomies = if lead { rebuilds::list_anatomies(c)? } else { Vec::new() };
            let known = if lead {
                ironseat_store::customers::list(c)?.into_iter().map(|x| x.name).collect()
            } else {
                Vec::new()
            };
            Ok((seen, list, count, rebuilds::live_clocks(c)?, shop::settings(c)?, anatomies, known))
        })
        .await?;
    let mut strips: Vec<Strip> = list.iter().map(|o| strip(o, reader.person.units)).collect();
    strips.sort_by_key(|s| s.urgency);
    let wanting = strips.iter().filter(|s| s.urgency < 2).count();
    let here = format!("/?find={}&finished={}&page={}", encode(&q.find), q.finished, q.page);
    Ok(FloorPage {
        shell: Shell::new(reader, &clocks, "floor", here, "/events".into()),
        shop: settings.map_or(String::new(), |s| s.name),
        today: ironseat_store::now().format("%A, %H:%M").to_string(),
        headline: match (q.finished, strips.len(), wanting) {
            (true, ..) => "Finished rebuilds".into(),
            (_, 0, _) => "Nothing on the floor".into(),
            (_, 1, 0) => "One rebuild on the floor".into(),
            (_, n, 0) => format!("{} rebuilds on the floor", count.max(n as i64)),
            (_, _, 1) => "One rebuild wants someone now".into(),
            (_, _, n) => format!("{n} rebuilds want someone now"),
        },
        strips,
        find: q.find.clone(),
        finished: q.finished,
        page: q.page.max(0),
        pages: (count + FLOOR_PAGE - 1) / FLOOR_PAGE,
        anatomies,
        customers,
        error: String::new(),
        field: String::new(),
        typed: StartForm::default(),
        new_id: Id::new(),
        open_form: false,
        seen,
    })
}

/// The Floor.
pub async fn show(State(app): State<App>, reader: Reader, Query(q): Query<FloorParams>) -> WebResult {
    page(&build(&app, &reader, &q).await?)
}

#[derive(Template)]
#[template(path = "_clocks.html")]
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
            app.store.run(move |c| rebuilds::start(c, &who, &new)).await.map(|()| id)
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
