//! What every page stands on: errors, who comes in, the shell of a page, what is counted.

pub mod address;
pub mod assets;
pub mod auth;
pub mod error;
pub mod extract;
pub mod pieces;
pub mod telemetry;
pub mod view;
