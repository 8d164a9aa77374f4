//! What more than one room shows.

pub mod act_sheets;
pub mod answer;
pub mod archive;
pub mod call;
pub mod certificate;
pub mod dispositions;
pub mod drawn;
pub mod entries;
pub mod files;
pub mod fit;
pub mod forecast;
pub mod found;
pub mod found_left;
pub mod hand_in;
pub mod joints;
pub mod papers;
pub mod pattern;
pub mod pinned;
pub mod readings_csv;
pub mod seat_marks;
pub mod section;
pub mod session;
pub mod slip;
pub mod table;
pub mod turns;
