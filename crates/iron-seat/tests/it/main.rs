//! The program from outside. One program, so that it is linked once.

#![allow(clippy::too_many_lines, clippy::unwrap_used, clippy::panic, missing_docs)]

mod architecture;
mod cli;
mod errors;
mod formats;
