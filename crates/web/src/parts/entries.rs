//! Entries of the records of the shop.

use crate::ground::view::moment;
use chrono_tz::Tz;
use ironseat_store::chain;

/// An entry as it is shown.
pub struct EntryRow {
    pub seq: i32,
    pub said: String,
    pub who: String,
    pub at: String,
}

impl EntryRow {
    /// Newest first.
    pub fn all(entries: Vec<chain::shop::ShopEntry>, zone: Tz) -> Vec<Self> {
        let line = |e: chain::shop::ShopEntry| Self { seq: e.seq, said: e.said, who: e.person, at: moment(e.at, zone) };
        entries.into_iter().rev().map(line).collect()
    }
}
