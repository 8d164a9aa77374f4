//! The database: its pool, transactions, migrations, backups, and what is kept as a document. It knows no table's
//! meaning.

pub mod backup;
pub mod cache;
mod error;
mod id;
pub mod migrate;
pub(crate) mod named_lock;
mod pool;
pub(crate) mod schema;
mod store;
pub mod stored;
pub mod transaction;

pub use error::{Result, StoreError};
pub use id::{
    AnatomyId, CallId, ClockId, CustomerId, DispositionId, DraftId, Id, InstrumentId, PatternId, PersonId, PictureId,
    PinId, PressId, ReadingId, RebuildId, RepairId, SheetId, SignOffId, StepId, TokenId, ToolId, UploadId, of,
};
pub use store::Store;

/// Now, in UTC, to the microsecond the database keeps.
#[must_use]
pub fn now() -> chrono::NaiveDateTime {
    use chrono::SubsecRound as _;
    chrono::Utc::now().naive_utc().trunc_subsecs(6)
}
