//! Ids made by the client: UUIDv7 in BINARY(16), so that repeating a request changes nothing.

use diesel::backend::Backend;
use diesel::deserialize::{self, FromSql, FromSqlRow};
use diesel::expression::AsExpression;
use diesel::mysql::Mysql;
use diesel::serialize::{self, IsNull, Output, ToSql};
use diesel::sql_types::Binary;
use serde::{Deserialize, Serialize};
use std::fmt;
use std::io::Write as _;
use std::str::FromStr;
use uuid::Uuid;

/// Id of any record.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, AsExpression, FromSqlRow, Serialize, Deserialize,
)]
#[diesel(sql_type = Binary)]
#[serde(transparent)]
pub struct Id(pub Uuid);

impl Id {
    /// A new id, ordered by time.
    #[must_use]
    pub fn new() -> Self {
        Self(Uuid::now_v7())
    }
}
impl Default for Id {
    fn default() -> Self {
        Self::new()
    }
}
impl fmt::Display for Id {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.fmt(f)
    }
}
impl FromStr for Id {
    type Err = uuid::Error;
    fn from_str(s: &str) -> Result<Self, uuid::Error> {
        Uuid::parse_str(s).map(Self)
    }
}
impl ToSql<Binary, Mysql> for Id {
    fn to_sql<'b>(&'b self, out: &mut Output<'b, '_, Mysql>) -> serialize::Result {
        out.write_all(self.0.as_bytes())?;
        Ok(IsNull::No)
    }
}
impl FromSql<Binary, Mysql> for Id {
    fn from_sql(bytes: <Mysql as Backend>::RawValue<'_>) -> deserialize::Result<Self> {
        let v = <Vec<u8> as FromSql<Binary, Mysql>>::from_sql(bytes)?;
        Ok(Self(Uuid::from_slice(&v)?))
    }
}
