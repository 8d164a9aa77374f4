//! Tokens of programs, and what each opens.

use crate::db::schema::{people as person_rows, tokens};
use crate::{PersonId, TokenId};
use chrono::NaiveDateTime;
use diesel::prelude::*;

/// What a key opens.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Scope {
    /// Rebuilds, their readings, papers and archives.
    Read,
    /// Readings in.
    Measure,
    /// Archives, stock and bolt patterns in.
    TakeIn,
}

impl Scope {
    /// All, with their names and what they open.
    pub const ALL: [(Self, &'static str, &'static str); 3] = [
        (Self::Read, "read", "rebuilds, readings, papers and archives out"),
        (Self::Measure, "measure", "readings in"),
        (Self::TakeIn, "take_in", "archives, shim leaves and bolt patterns in"),
    ];
    /// Its name.
    #[must_use]
    pub fn key(self) -> &'static str {
        Self::ALL.iter().find(|s| s.0 == self).map_or("", |s| s.1)
    }
    pub(crate) fn of(key: &str) -> Option<Self> {
        Self::ALL.iter().find(|s| s.1 == key).map(|s| s.0)
    }
}

/// A key as lists show it.
#[derive(Debug, Clone, Queryable, Selectable)]
#[diesel(table_name = tokens)]
#[allow(missing_docs)]
pub struct Token {
    pub id: TokenId,
    pub person_id: PersonId,
    #[diesel(select_expression = person_rows::name)]
    pub person: String,
    pub name: String,
    pub scopes: String,
    pub made_at: NaiveDateTime,
    pub used_at: Option<NaiveDateTime>,
    pub put_away_at: Option<NaiveDateTime>,
}
