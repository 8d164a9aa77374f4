//! What changes something: one function per use case, each one transaction.

pub mod act_sheets;
pub mod customers;
pub mod drafts;
pub mod forecasts;
pub mod import;
pub mod instruments;
pub mod people;
pub mod pictures;
pub mod pins;
pub mod readings;
pub mod rebuilds;
pub mod roster;
pub mod secrets;
pub mod sessions;
pub mod shop;
mod sign_in;
pub mod stock;
pub mod ticks;
pub mod tokens;
mod upkeep;
pub mod uploads;
pub mod versions;
pub mod work;
