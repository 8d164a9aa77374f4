//! What every page shares: the top edge, its clocks, the person, units and theme.

use crate::ground::address::encode;
use crate::ground::error::WebResult;
use crate::ground::extract::Reader;
use askama::Template;
use axum::response::{Html, IntoResponse as _, Response};
use chrono::{NaiveDate, NaiveDateTime, TimeZone as _};
use chrono_tz::Tz;
use ironseat_core::quantity::Units;
use ironseat_store::rows::person::Role;
use ironseat_store::rows::rebuild::Clock;

/// As many clocks as the top edge has room for.
const CLOCKS: usize = 12;

/// A clock in the top edge.
#[derive(Debug)]
pub struct ClockView {
    pub label: String,
    pub number: String,
    pub href: String,
    /// Milliseconds since 1970 at which it runs out.
    pub ends_ms: i64,
    pub left: String,
    pub rung: bool,
}

impl ClockView {
    /// As it stands now.
    pub fn of(k: &Clock) -> Self {
        let left = k.left(ironseat_store::now());
        Self {
            label: k.label.clone(),
            number: k.number.clone(),
            href: if k.step.is_empty() {
                format!("/rebuilds/{}?seat={}&step={}", k.rebuild_id, k.seat, k.kind)
            } else {
                format!("/rebuilds/{}?step={}", k.rebuild_id, encode(&k.step))
            },
            ends_ms: k.started_at.and_utc().timestamp_millis() + i64::from(k.seconds) * 1000,
            left: ironseat_core::quantity::show::clock(ironseat_core::quantity::Seconds::of(left as f64)),
            rung: left == 0,
        }
    }
}

/// The top edge.
#[derive(Debug)]
pub struct Shell {
    /// Id of who is signed in: readings that wait in the browser belong to a person.
    pub person: String,
    pub name: String,
    pub initials: String,
    pub role: &'static str,
    /// Of the shop: a customer's viewer sees fewer rooms.
    pub works_here: bool,
    pub can_work: bool,
    pub is_lead: bool,
    pub csrf: String,
    pub theme: String,
    pub inch: bool,
    pub clocks: Vec<ClockView>,
    pub now_ms: i64,
    /// `floor`, `rules` or empty inside a rebuild.
    pub room: &'static str,
    /// Page to come back to after changing units.
    pub here: String,
    /// Address of the live events, empty for none.
    pub events: String,
}

impl Shell {
    /// Builds it for a reader.
    pub fn new(reader: &Reader, clocks: &[Clock], room: &'static str, here: String, events: String) -> Self {
        let p = &reader.person;
        Self {
            person: p.id.to_string(),
            name: p.name.clone(),
            initials: p.initials.clone(),
            role: p.role.key(),
            works_here: p.works_here(),
            can_work: p.role > Role::Viewer,
            is_lead: p.role == Role::Lead,
            csrf: reader.csrf.clone(),
            theme: p.theme.clone(),
            inch: p.units == Units::Inch,
            clocks: clocks
                .iter()
                .filter(|c| c.live() && (p.works_here() || c.customer.is_some() && c.customer == p.customer))
                .take(CLOCKS)
                .map(ClockView::of)
                .collect(),
            now_ms: ironseat_store::now().and_utc().timestamp_millis(),
            room,
            here,
            events,
        }
    }
}

/// A rendered page around something large that is there already, so that it is copied once.
pub fn page_around<T: Template>(t: &T, large: usize) -> WebResult {
    let mut text = String::with_capacity(large + T::SIZE_HINT + 8192);
    t.render_into(&mut text)?;
    Ok(Html(text).into_response())
}

/// A rendered page.
pub fn page<T: Template>(t: &T) -> WebResult {
    Ok(Html(t.render()?).into_response())
}

/// A rendered page under another status, such as 422.
pub fn page_as<T: Template>(status: axum::http::StatusCode, t: &T) -> WebResult<Response> {
    Ok((status, Html(t.render()?)).into_response())
}

/// A drawing as a file of its own. Its style stands in it, so this answer alone may have one; nothing in it can run or
/// load.
pub fn svg_file(svg: String) -> Response {
    let own = [
        (axum::http::header::CONTENT_TYPE, "image/svg+xml"),
        (axum::http::header::CONTENT_SECURITY_POLICY, "default-src 'none'; style-src 'unsafe-inline'; sandbox"),
    ];
    (own, svg).into_response()
}

/// A time of the records, as the clock on the shop's wall shows it.
pub fn local(t: NaiveDateTime, zone: Tz) -> chrono::DateTime<Tz> {
    zone.from_utc_datetime(&t)
}

/// The date in the shop.
pub fn today(zone: Tz) -> NaiveDate {
    local(ironseat_store::now(), zone).date_naive()
}

/// A date as people here write it.
pub fn day(d: NaiveDate, zone: Tz) -> String {
    let today = today(zone);
    match (d - today).num_days() {
        0 => "today".into(),
        1 => "tomorrow".into(),
        2..=6 => d.format("%a").to_string(),
        _ => d.format("%-d %b").to_string(),
    }
}

/// A moment in microseconds since 1970, as core keeps them.
pub fn moment_of(micros: i64, zone: Tz) -> String {
    chrono::DateTime::from_timestamp_micros(micros).map_or(String::new(), |t| moment(t.naive_utc(), zone))
}

/// A moment, with the zone it is said in.
pub fn moment(t: NaiveDateTime, zone: Tz) -> String {
    local(t, zone).format("%-d %b %Y, %H:%M %Z").to_string()
}
