//! The rooms from outside, in process, on a real database. One program, so that it is linked once.

#![allow(clippy::too_many_lines, clippy::unwrap_used, clippy::panic, missing_docs)]

mod alone;
#[allow(dead_code)]
mod browser;
mod exchange;
mod hostile;
mod machines;
mod matrix;
mod rooms;
mod sheets;
mod styles;
#[path = "../../../store/tests/it/support/mod.rs"]
#[allow(dead_code)]
mod support;
