//! Entries of the records of the shop.

use crate::ground::view::moment;
use chrono_tz::Tz;
use ironseat_store::shop_record;

/// An entry as it is shown.
pub struct Line {
    pub seq: i32,
    pub said: String,
    pub who: String,
    pub at: String,
}

impl Line {
    /// Newest first.
    pub fn all(entries: Vec<shop_record::ShopEntry>, zone: Tz) -> Vec<Self> {
        let line = |e: shop_record::ShopEntry| Self { seq: e.seq, said: e.said, who: e.person, at: moment(e.at, zone) };
        entries.into_iter().rev().map(line).collect()
    }
}
