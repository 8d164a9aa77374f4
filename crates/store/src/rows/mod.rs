//! Rows as they are kept, one struct for each, with what they say of themselves.

pub mod act_sheet;
pub mod person;
pub mod reading;
pub mod rebuild;
pub mod shop;
pub mod token;
