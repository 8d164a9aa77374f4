//! House rules: where good shops differ and what this one does, each with its reason; and what the shop has.

use crate::ground::error::WebResult;
use crate::ground::extract::{Form, Lead, Reader};
use crate::ground::view::{Shell, page, page_as};
use crate::state::App;
use askama::Template;
use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse as _, Redirect};
use ironseat_core::Refusal;
use ironseat_core::quantity::{Micrometres, Units, number, show as fmt};
use ironseat_core::rules::{HouseRules, InterferenceSchool, SeatLubricant};
use ironseat_store::read::rebuilds::live_clocks;
use ironseat_store::rows::person::Role;
use ironseat_store::rows::shop::ShopSettings;
use ironseat_store::{StoreError, read, rows, write};
use serde::Deserialize;
use std::sync::LazyLock;

struct ThingView {
    name: String,
    note: String,
    overdue: bool,
}

#[derive(Template)]
#[template(path = "rooms/rules/rules.html")]
struct RulesPage {
    shell: Shell,
    shop: String,
    f: RulesForm,
    /// Zones that can be typed.
    zones: &'static [&'static str],
    /// They were changed just now.
    kept: bool,
    instruments: Vec<ThingView>,
    tools: Vec<ThingView>,
    presses: Vec<ThingView>,
    field: String,
    error: String,
    may_change: bool,
}

/// The form as typed: text, so that nothing typed is lost.
#[derive(Deserialize, Clone, Default)]
pub struct RulesForm {
    #[serde(default)]
    revision: i32,
    #[serde(default)]
    units: String,
    #[serde(default)]
    school: String,
    #[serde(default)]
    rz_shaft_um: String,
    #[serde(default)]
    rz_ring_um: String,
    #[serde(default)]
    lubricant: String,
    #[serde(default)]
    open_cap_c: String,
    #[serde(default)]
    sealed_cap_c: String,
    #[serde(default)]
    sealed_cap_reason: String,
    #[serde(default)]
    guard_band: String,
    #[serde(default)]
    form_share: String,
    #[serde(default)]
    press_share: String,
    #[serde(default)]
    hands_s: String,
    #[serde(default)]
    zone: String,
}

impl RulesForm {
    fn of(s: &ShopSettings) -> Self {
        let (r, n) = (&s.rules, |v: f64| format!("{v}"));
        Self {
            revision: s.revision,
            zone: s.zone.name().to_owned(),
            units: if r.units == Units::Inch { "inch" } else { "metric" }.into(),
            school: if r.school == InterferenceSchool::Roughness { "roughness" } else { "diameter" }.into(),
            rz_shaft_um: n(r.rz_shaft_um),
            rz_ring_um: n(r.rz_ring_um),
            lubricant: match r.lubricant {
                SeatLubricant::Dry => "dry",
                SeatLubricant::Oiled => "oiled",
                SeatLubricant::Paste => "paste",
            }
            .into(),
            open_cap_c: n(r.open_cap_c),
            sealed_cap_c: n(r.sealed_cap_c),
            sealed_cap_reason: r.sealed_cap_reason.clone(),
            guard_band: if r.guard_band { "on" } else { "" }.into(),
            form_share: n(r.form_share),
            press_share: n(r.press_share),
            hands_s: n(r.hands_s),
        }
    }

    fn rules(&self) -> Result<HouseRules, Refusal> {
        let n = |field: &str, text: &str| {
            number(text).ok_or_else(|| Refusal::new(field, "expected a number, such as 0.8 or 80"))
        };
        HouseRules {
            units: if self.units == "inch" { Units::Inch } else { Units::Metric },
            school: if self.school == "roughness" {
                InterferenceSchool::Roughness
            } else {
                InterferenceSchool::Diameter
            },
            rz_shaft_um: n("rz_shaft_um", &self.rz_shaft_um)?,
            rz_ring_um: n("rz_ring_um", &self.rz_ring_um)?,
            lubricant: match self.lubricant.as_str() {
                "dry" => SeatLubricant::Dry,
                "paste" => SeatLubricant::Paste,
                _ => SeatLubricant::Oiled,
            },
            open_cap_c: n("open_cap_c", &self.open_cap_c)?,
            sealed_cap_c: n("sealed_cap_c", &self.sealed_cap_c)?,
            sealed_cap_reason: self.sealed_cap_reason.trim().chars().take(400).collect(),
            guard_band: self.guard_band == "on",
            form_share: n("form_share", &self.form_share)?,
            press_share: n("press_share", &self.press_share)?,
            hands_s: n("hands_s", &self.hands_s)?,
            // Its own page decides about it.
            learned: None,
        }
        .check()
    }
}

async fn build(app: &App, reader: &Reader, typed: Option<RulesForm>, refused: Option<Refusal>) -> WebResult<RulesPage> {
    let units = reader.person.units;
    let ((have, list), settings, clocks) =
        app.store.run(|c| Ok((read::shop::load(c)?, read::shop::settings(c)?, live_clocks(c)?))).await?;
    let settings = settings.ok_or(StoreError::NotFound)?;
    let size = |v: f64| {
        fmt::size(
            ironseat_core::quantity::Millimetres::new(v).unwrap_or_default(),
            ironseat_core::quantity::Millimetres::of(0.1),
            units,
        )
        .0
    };
    let today = ironseat_store::now().date();
    Ok(RulesPage {
        shell: Shell::new(reader, &clocks, "rules", "/rules".into(), String::new()),
        shop: settings.name.clone(),
        zones: ZONES.as_slice(),
        kept: false,
        f: typed.unwrap_or_else(|| RulesForm::of(&settings)),
        instruments: list
            .iter()
            .map(|i| ThingView {
                name: i.name.clone(),
                note: format!(
                    "{}U {}, due {}",
                    if i.serial.is_empty() { String::new() } else { format!("no. {}, ", i.serial) },
                    fmt::join(fmt::small(Micrometres::new(i.u_mm * 1000.0).unwrap_or_default(), units)),
                    i.due_on.format("%-d %b %Y")
                ),
                overdue: i.due_on < today,
            })
            .collect(),
        tools: have
            .tubes
            .iter()
            .map(|t| ThingView {
                name: t.name.clone(),
                note: format!(
                    "{} / {} / {} {}",
                    size(t.bore.get()),
                    size(t.outside.get()),
                    size(t.length.get()),
                    units.sheet_unit()
                ),
                overdue: false,
            })
            .collect(),
        presses: have
            .presses
            .iter()
            .map(|p| ThingView { name: p.name.clone(), note: fmt::join(fmt::force(p.capacity, units)), overdue: false })
            .collect(),
        field: refused.as_ref().map_or(String::new(), |e| e.field.clone()),
        error: refused.map_or(String::new(), |e| e.message),
        may_change: reader.person.role == Role::Lead,
    })
}

/// The rules.
pub async fn show(State(app): State<App>, reader: Reader, Query(q): Query<RulesQuery>) -> WebResult {
    page(&RulesPage { kept: q.kept.is_some(), ..build(&app, &reader, None, None).await? })
}

/// Where one comes back to after keeping them.
#[derive(Deserialize)]
pub struct RulesQuery {
    kept: Option<String>,
}

/// Zones by region and city, with UTC first.
static ZONES: LazyLock<Vec<&str>> = LazyLock::new(|| {
    let cities = chrono_tz::TZ_VARIANTS.iter().map(|z| z.name()).filter(|n| n.contains('/') && !n.starts_with("Etc/"));
    std::iter::once("UTC").chain(cities).collect()
});

/// A lead changes them.
pub async fn change(State(app): State<App>, Lead(reader): Lead, Form(f): Form<RulesForm>) -> WebResult {
    let (revision, who) = (f.revision, reader.person.clone());
    let typed = f.rules().and_then(|rules| Ok((rules, rows::shop::zone(&f.zone)?)));
    let (status, refused, typed) = match typed {
        Ok((rules, zone)) => {
            match app.store.run(move |c| write::shop::change_rules(c, &who, &rules, zone, revision)).await {
                Ok(()) => return Ok(Redirect::to("/rules?kept").into_response()),
                // Theirs are shown; the sentence says so.
                Err(StoreError::Conflict(s)) => (StatusCode::CONFLICT, Refusal::new("revision", s), None),
                Err(e) => return Err(e.into()),
            }
        }
        Err(e) => (StatusCode::UNPROCESSABLE_ENTITY, e, Some(f)),
    };
    page_as(status, &build(&app, &reader, typed, Some(refused)).await?)
}
