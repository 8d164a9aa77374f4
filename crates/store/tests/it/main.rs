//! The records on a real database. One program, so that it is linked once.

#![allow(clippy::too_many_lines, clippy::unwrap_used, clippy::panic, missing_docs)]

mod act_sheets;
mod archive;
mod backup;
mod drafts;
mod edits;
mod golden;
mod machine_types;
mod migrations;
mod records;
mod roster;
mod stored;
#[allow(dead_code)]
mod support;
mod tampering;
mod trail;
