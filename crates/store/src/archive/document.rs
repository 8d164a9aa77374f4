//! What an archive holds, as it is written: types of its own, so that a column here changes no file elsewhere. Whoever
//! changes one counts [`FORMAT`] up, says how the older one reads, and puts one as it is written now beside those of
//! `tests/golden/archives`.

use crate::rows::shop::Instrument;
use crate::{CustomerId, InstrumentId, PersonId, PictureId};
use chrono::NaiveDate;
use diesel::prelude::*;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Name of the format.
pub const FORMAT: &str = "iron-seat-rebuild-1";

/// What the document looks like, as JSON Schema; a test writes it from the database.
pub const SCHEMA: &str = include_str!("../../archive.schema.json");

/// A row of a table, by the names of its columns.
pub type Row = serde_json::Map<String, serde_json::Value>;

/// Somebody who wrote in it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, Queryable)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Writer {
    pub id: PersonId,
    pub name: String,
    pub initials: String,
}

/// Whose machine it is.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, Queryable)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Owner {
    pub id: CustomerId,
    pub name: String,
}

/// What readings were taken with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Gauge {
    pub id: InstrumentId,
    pub name: String,
    pub outside: bool,
    pub inside: bool,
    pub depth: bool,
    pub lo_mm: f64,
    pub hi_mm: f64,
    pub resolution_mm: f64,
    pub u_mm: f64,
    pub cost: f64,
    pub due_on: NaiveDate,
    /// Its own number, engraved on it.
    pub serial: String,
}

impl From<Instrument> for Gauge {
    fn from(i: Instrument) -> Self {
        // Where it lies and whether it is taken is the shop's own business.
        let Instrument {
            id,
            name,
            outside,
            inside,
            depth,
            lo_mm,
            hi_mm,
            resolution_mm,
            u_mm,
            cost,
            due_on,
            serial,
            origin: _,
            away: _,
        } = i;
        Self { id, name, outside, inside, depth, lo_mm, hi_mm, resolution_mm, u_mm, cost, due_on, serial }
    }
}

impl Gauge {
    /// As one of another shop, under the name that it goes by here.
    pub(super) fn of_shop(self, shop: &str, called: String) -> Instrument {
        let Self { id, name: _, outside, inside, depth, lo_mm, hi_mm, resolution_mm, u_mm, cost, due_on, serial } =
            self;
        Instrument {
            id,
            name: called,
            outside,
            inside,
            depth,
            lo_mm,
            hi_mm,
            resolution_mm,
            u_mm,
            cost,
            due_on,
            serial,
            origin: shop.to_owned(),
            away: String::new(),
        }
    }
}

/// The document of an archive: `rebuild.json`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Document {
    pub format: String,
    pub number: String,
    /// Last entry of its record, and that entry's hash.
    pub entries: i64,
    pub head: String,
    pub people: Vec<Writer>,
    pub customers: Vec<Owner>,
    pub instruments: Vec<Gauge>,
    /// Rows by table, in the order of their keys.
    pub tables: BTreeMap<String, Vec<Row>>,
}

/// The bytes of a picture, as they are kept: whole and small.
#[derive(Debug, Clone, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Bytes {
    pub whole: Vec<u8>,
    pub small: Vec<u8>,
}

/// What an archive holds that this program takes in again.
#[derive(Debug, Clone, PartialEq)]
#[allow(missing_docs)]
pub struct Archive {
    /// The shop that gave it out.
    pub shop: String,
    pub document: Document,
    pub pictures: BTreeMap<PictureId, Bytes>,
}
