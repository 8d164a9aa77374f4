//! Iron Seat on the web: one module per room, one line per route, fragments and pages from the same templates.

mod anatomies;
pub mod app;
mod assets;
mod auth;
mod bench;
mod call_view;
mod certificate;
mod customers;
mod drawn;
mod error;
mod events;
mod exchange;
mod extract;
mod fates;
mod floor;
mod forecasts;
mod found_left;
mod keys;
mod ledger;
mod papers;
mod people;
mod reckon_api;
mod reckoner;
mod rules;
mod seat_marks;
mod seat_view;
mod sheet;
mod shop_ledger;
mod sign_in;
mod view;
mod watch;
mod why;

pub use app::{App, Config, router, routes};
pub use papers::{Order, Printer, Unprinted};
