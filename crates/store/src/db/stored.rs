//! Documents in columns: JSON that says in which format it is, so that what was stored long ago is read for ever.
//! `tests/golden/stored` holds one of each kind in each format there was.

use crate::{Result, StoreError};
use diesel::backend::Backend;
use diesel::deserialize::{self, FromSql, FromSqlRow};
use diesel::mysql::Mysql;
use diesel::sql_types::Text;
use ironseat_core::anatomy::Anatomy;
use ironseat_core::anatomy::acts::Round;
use ironseat_core::call::Call;
use ironseat_core::fasten::Pattern;
use ironseat_core::rules::HouseRules;
use ironseat_core::sheet::Given;
use serde::de::{DeserializeOwned, IgnoredAny};
use serde::{Deserialize, Serialize};
use serde_json::Value;

impl Document for Given {
    const NAME: &'static str = "head of a sheet";
}

impl Document for Pattern {
    const NAME: &'static str = "bolt pattern";
}

/// What is kept as a document.
pub trait Document: Serialize + DeserializeOwned {
    /// As it is said in an error.
    const NAME: &'static str;
    /// Counts up with a change that would take an older document wrongly, which is what [`Document::renewed`] is for;
    /// a field that has a default is no such change. Documents of the first releases name no format: that is 0.
    const FORMAT: u32 = 1;

    /// An older document as one of this format.
    #[must_use]
    fn renewed(_format: u32, older: Value) -> Value {
        older
    }
}

impl Document for Anatomy {
    const NAME: &'static str = "machine type";
}

impl Document for HouseRules {
    const NAME: &'static str = "house rules";
}

impl Document for Vec<Call> {
    const NAME: &'static str = "list of calls";
}

impl Document for Round {
    const NAME: &'static str = "round of a float";
}

#[derive(Serialize)]
struct Written<'a, T> {
    format: u32,
    is: &'a T,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Found<T> {
    format: u32,
    is: T,
}

/// A document as it stands in its column.
///
/// # Errors
/// It cannot be written as JSON.
pub fn write<T: Document>(document: &T) -> Result<String> {
    Ok(serde_json::to_string(&Written { format: T::FORMAT, is: document })?)
}

/// A document from its column.
///
/// # Errors
/// A newer format than is known here, or no such document.
pub fn read<T: Document>(text: &str) -> Result<T> {
    let named = serde_json::from_str::<Found<IgnoredAny>>(text).ok().map(|f| f.format);
    match named {
        Some(f) if f == T::FORMAT => Ok(serde_json::from_str::<Found<T>>(text)?.is),
        Some(f) if f > T::FORMAT => Err(StoreError::Held(format!(
            "this {} was written by a newer version of the program (format {f}): install that one",
            T::NAME
        ))),
        Some(f) => Ok(serde_json::from_value(T::renewed(f, serde_json::from_str::<Found<Value>>(text)?.is))?),
        None => Ok(serde_json::from_value(T::renewed(0, serde_json::from_str(text)?))?),
    }
}

/// A document in a row.
#[derive(Debug, Clone, FromSqlRow)]
pub struct Stored<T>(pub T);

impl<T: Document> FromSql<Text, Mysql> for Stored<T> {
    fn from_sql(bytes: <Mysql as Backend>::RawValue<'_>) -> deserialize::Result<Self> {
        let text = <String as FromSql<Text, Mysql>>::from_sql(bytes)?;
        Ok(Self(read(&text)?))
    }
}
