//! Instruments of the stores: put in, calibrated anew, put away, taken in use again.

use crate::ground::error::{WebError, WebResult, refused};
use crate::ground::extract::{Form, Lead};
use crate::rooms::stores::page_with;
use crate::state::App;
use axum::extract::State;
use axum::response::{IntoResponse as _, Redirect, Response};
use chrono::NaiveDate;
use ironseat_core::Refusal;
use ironseat_core::quantity::Units;
use ironseat_core::reckon::number_in;
use ironseat_store::rows::shop::Instrument;
use ironseat_store::write::instruments;
use ironseat_store::{InstrumentId, StoreError};
use serde::Deserialize;

/// What is typed, as it was.
#[derive(Debug, Clone, Default, Deserialize)]
#[serde(default)]
pub struct InstrumentForm {
    pub act: String,
    pub instrument: String,
    pub name: String,
    pub serial: String,
    pub outside: String,
    pub inside: String,
    pub depth: String,
    pub lo: String,
    pub hi: String,
    pub resolution: String,
    pub u: String,
    pub due: String,
    pub pace: String,
    pub why: String,
}

/// How soon it is taken where several are good enough: word, what it stands for.
pub const PACES: [(&str, &str, f64); 3] = [
    ("hand", "at hand, taken first", 1.0),
    ("bench", "at the bench", 6.0),
    ("case", "in its case, for what nothing else decides", 40.0),
];

fn length(field: &'static str, name: &str, text: &str, units: Units) -> Result<f64, Refusal> {
    number_in(name, text, units).map_err(|e| Refusal::new(field, e.message))
}

impl InstrumentForm {
    fn due(&self) -> Result<NaiveDate, Refusal> {
        let date = self.due.trim().parse().ok();
        date.ok_or_else(|| Refusal::new("due", "expected a date such as 2027-06-30"))
    }
    fn u_mm(&self, units: Units) -> Result<f64, Refusal> {
        Ok(length("u", "u_um", &self.u, units)? / 1000.0)
    }
    fn instrument(&self, units: Units) -> Result<Instrument, Refusal> {
        let id = self
            .instrument
            .parse()
            .map_err(|_| Refusal::new("general", "open the page again and put it in from there"))?;
        let pace = PACES.iter().find(|p| p.0 == self.pace);
        Ok(Instrument {
            id,
            name: self.name.clone(),
            serial: self.serial.clone(),
            outside: !self.outside.is_empty(),
            inside: !self.inside.is_empty(),
            depth: !self.depth.is_empty(),
            lo_mm: length("lo", "lo_mm", &self.lo, units)?,
            hi_mm: length("hi", "hi_mm", &self.hi, units)?,
            resolution_mm: length("resolution", "resolution_mm", &self.resolution, units)?,
            u_mm: self.u_mm(units)?,
            cost: pace.ok_or_else(|| Refusal::new("pace", "choose how soon it is taken"))?.2,
            due_on: self.due()?,
            origin: String::new(),
            away: String::new(),
        })
    }
}

/// Does what is asked with an instrument.
pub async fn change(State(app): State<App>, Lead(reader): Lead, Form(f): Form<InstrumentForm>) -> WebResult<Response> {
    let (who, asked) = (reader.person.clone(), f.clone());
    let done = app
        .store
        .run(move |c| {
            let id = || asked.instrument.parse::<InstrumentId>().map_err(|_| StoreError::NotFound);
            match asked.act.as_str() {
                "put-in" => instruments::put_in(c, &who, &asked.instrument(who.units)?),
                "calibrated" => instruments::calibrated(c, &who, id()?, asked.u_mm(who.units)?, asked.due()?),
                "away" => instruments::put_away(c, &who, id()?, &asked.why),
                "back" => instruments::take_back(c, &who, id()?),
                _ => Err(StoreError::NotFound),
            }
        })
        .await;
    let Err(e) = done else { return Ok(Redirect::to("/stores?kept=instrument#instruments").into_response()) };
    if matches!(e, StoreError::NotFound) {
        return Err(WebError::Store(e));
    }
    let (status, field, error) = refused(e, "general")?;
    page_with(&app, &reader, status, f, field, error).await
}
