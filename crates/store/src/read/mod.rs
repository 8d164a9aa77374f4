//! What is there: a rebuild as it stands, the floor, what goes out. Nothing in here writes.

pub mod act_sheets;
pub mod bench;
pub mod customers;
pub mod drafts;
pub mod floor;
pub mod forecasts;
pub mod people;
pub mod pictures;
pub mod pins;
pub mod readings_export;
pub mod rebuilds;
pub mod room;
pub mod roster;
pub mod seats;
pub mod sheet_room;
pub mod shop;
pub mod stock;
pub mod tokens;
pub mod versions;
