//! The rules from outside: laws, vectors, the referee, words. One program, so that it is linked once.

#![allow(clippy::too_many_lines, clippy::unwrap_used, clippy::panic, missing_docs)]

mod answers;
mod checks;
mod contract;
#[allow(dead_code)]
mod demo;
mod fuzz;
mod kinds;
mod laws;
mod planning;
mod pressing;
mod quantities;
mod referee;
mod sets;
mod sheets;
mod typed;
mod vectors;
mod whole_rebuild;
mod words;
