//! Sheets and readings of seats, as they are kept.

use crate::db::schema::{people, readings, sheets};
use crate::{InstrumentId, ReadingId, SheetId};
use chrono::NaiveDateTime;
use diesel::prelude::*;

/// A sheet of a seat.
#[derive(Debug, Clone, Queryable, Selectable)]
#[diesel(table_name = sheets)]
#[allow(missing_docs)]
pub struct Sheet {
    pub id: SheetId,
    pub kind: String,
    pub instrument_id: Option<InstrumentId>,
}

/// A reading as recorded. The newest of a cell stands; the others were corrected.
#[derive(Debug, Clone, Queryable, Selectable)]
#[diesel(table_name = readings)]
#[allow(missing_docs)]
pub struct ReadingRow {
    pub id: ReadingId,
    pub sheet_id: SheetId,
    pub cell: String,
    pub seq: i32,
    pub value: f64,
    pub typed: String,
    pub expected: Option<f64>,
    pub instrument_id: Option<InstrumentId>,
    #[diesel(select_expression = people::name)]
    pub person: String,
    pub at: NaiveDateTime,
}
