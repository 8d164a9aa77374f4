//! The rooms, a module each; none knows another.

pub mod anatomies;
pub mod api;
pub mod archives;
pub mod bench;
pub mod certificate;
pub mod customers;
pub mod events;
pub mod floor;
pub mod forecasts;
pub mod keys;
pub mod ledger;
pub mod orders;
pub mod papers;
pub mod people;
pub mod readings_in;
pub mod reckoner;
pub mod rules;
pub mod sheet;
pub mod shop_ledger;
pub mod sign_in;
pub mod stores;
pub mod why;
