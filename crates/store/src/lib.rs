//! Records in MariaDB through Diesel, in floors: [`db`] < [`rows`] < [`chain`] < [`read`] < [`mod@write`] <
//! [`archive`]. One function per use case, each one transaction; nothing that matters is kept in memory, so any number
//! of processes on one database behave as one.

pub mod archive;
pub mod chain;
pub mod db;
mod demo;
pub mod read;
pub mod rows;
pub mod write;

pub use db::{
    AnatomyId, CallId, ClockId, CustomerId, DispositionId, DraftId, Id, InstrumentId, PatternId, PersonId, PictureId,
    PinId, PressId, ReadingId, RebuildId, RepairId, Result, SheetId, SignOffId, StepId, Store, StoreError, TokenId,
    ToolId, UploadId, now, of,
};
pub use demo::{DEMO_PASSWORD, DEMO_SIGN_INS, bench_data, first_run, load_demo, machine_types};
