//! Ids made by the client: UUIDv7 in BINARY(16), so that repeating a request changes nothing.

use diesel::backend::Backend;
use diesel::deserialize::{self, FromSql, FromSqlRow};
use diesel::expression::AsExpression;
use diesel::mysql::Mysql;
use diesel::serialize::{self, IsNull, Output, ToSql};
use diesel::sql_types::Binary;
use serde::{Deserialize, Serialize};
use std::cmp::Ordering;
use std::fmt;
use std::hash::{Hash, Hasher};
use std::io::Write as _;
use std::marker::PhantomData;
use std::str::FromStr;
use uuid::Uuid;

/// Id of a record of one table: that of a person is not taken for that of a rebuild.
#[derive(AsExpression, FromSqlRow, Serialize, Deserialize)]
#[diesel(sql_type = Binary)]
#[serde(transparent)]
pub struct Id<Of>(Uuid, #[serde(skip)] PhantomData<fn() -> Of>);

macro_rules! tables {
    ($($(#[$doc:meta])* $of:ident $id:ident;)*) => {
        /// What an id is of.
        pub mod of {
            $($(#[$doc])* #[derive(Debug)] pub enum $of {})*
        }
        $($(#[$doc])* pub type $id = Id<of::$of>;)*
    };
}
tables! {
    /// Somebody who signs in.
    Person PersonId;
    /// Whose machines are rebuilt.
    Customer CustomerId;
    /// A machine type in one of its versions.
    Anatomy AnatomyId;
    /// A drawing that is being made.
    Draft DraftId;
    /// A rebuild.
    Rebuild RebuildId;
    /// A step of a seat.
    Step StepId;
    /// A sheet of readings.
    Sheet SheetId;
    /// A reading.
    Reading ReadingId;
    /// What the shop thinks of a topic.
    Call CallId;
    /// Something that waits.
    Clock ClockId;
    /// A signature.
    SignOff SignOffId;
    /// A face that was machined, and the like.
    Repair RepairId;
    /// What becomes of a part.
    Disposition DispositionId;
    /// A picture.
    Picture PictureId;
    /// An answer of the Reckoner that is kept with a rebuild.
    Pin PinId;
    /// An instrument.
    Instrument InstrumentId;
    /// A sleeve, a driver.
    Tool ToolId;
    /// A press.
    Press PressId;
    /// A key for another program.
    Token TokenId;
    /// A file that is looked at before anything of it is kept.
    Upload UploadId;
    /// Where the bolts of a cover stand.
    Pattern PatternId;
}

impl<Of> Id<Of> {
    /// A new id, ordered by time.
    #[must_use]
    pub fn new() -> Self {
        Self::from(Uuid::now_v7())
    }

    /// As 32 hexadecimal digits, for SQL that is put together.
    pub(crate) fn plain(self) -> impl fmt::Display {
        self.0.simple()
    }
}
impl<Of> From<Uuid> for Id<Of> {
    fn from(id: Uuid) -> Self {
        Self(id, PhantomData)
    }
}
// By hand: derived ones would ask it of the table too.
impl<Of> Clone for Id<Of> {
    fn clone(&self) -> Self {
        *self
    }
}
impl<Of> Copy for Id<Of> {}
impl<Of> PartialEq for Id<Of> {
    fn eq(&self, other: &Self) -> bool {
        self.0 == other.0
    }
}
impl<Of> Eq for Id<Of> {}
impl<Of> Hash for Id<Of> {
    fn hash<H: Hasher>(&self, to: &mut H) {
        self.0.hash(to);
    }
}
impl<Of> PartialOrd for Id<Of> {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}
impl<Of> Ord for Id<Of> {
    fn cmp(&self, other: &Self) -> Ordering {
        self.0.cmp(&other.0)
    }
}
impl<Of> Default for Id<Of> {
    fn default() -> Self {
        Self::new()
    }
}
impl<Of> fmt::Debug for Id<Of> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        fmt::Display::fmt(self, f)
    }
}
impl<Of> fmt::Display for Id<Of> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.fmt(f)
    }
}
impl<Of> FromStr for Id<Of> {
    type Err = uuid::Error;
    fn from_str(s: &str) -> Result<Self, uuid::Error> {
        Uuid::parse_str(s).map(Self::from)
    }
}
impl<Of> ToSql<Binary, Mysql> for Id<Of> {
    fn to_sql<'b>(&'b self, out: &mut Output<'b, '_, Mysql>) -> serialize::Result {
        out.write_all(self.0.as_bytes())?;
        Ok(IsNull::No)
    }
}
impl<Of> FromSql<Binary, Mysql> for Id<Of> {
    fn from_sql(bytes: <Mysql as Backend>::RawValue<'_>) -> deserialize::Result<Self> {
        let v = <Vec<u8> as FromSql<Binary, Mysql>>::from_sql(bytes)?;
        Ok(Self::from(Uuid::from_slice(&v)?))
    }
}
