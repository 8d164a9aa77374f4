//! The Floor: which rebuilds it shows, in the order in which they want a person, over all its pages.

use crate::db::cache::Cache;
use crate::db::schema::rebuilds::dsl as r;
use crate::read::bench::{self, Bench, Revision};
use crate::read::rebuilds;
use crate::rows::rebuild::Clock;
use crate::{CustomerId, RebuildId, Result, chain};
use chrono::NaiveDate;
use diesel::prelude::*;
use ironseat_core::decide::urgency::{Urgency, Wants};
use std::collections::HashMap;
use std::sync::Arc;

/// Which rebuilds the Floor shows.
#[derive(Debug, Clone, Default, PartialEq, Eq, Hash)]
pub struct FloorQuery {
    /// Words of number, title or customer.
    pub find: String,
    /// All finished ones, instead of the open and the lately finished.
    pub finished: bool,
    /// Page from 0.
    pub page: i64,
    /// Of one customer alone.
    pub customer: Option<CustomerId>,
}

/// A finished rebuild stays on the Floor for so many days.
const LATELY_DAYS: i64 = 14;

/// Strips on a page of the Floor.
pub const FLOOR_PAGE: usize = 25;

/// A rebuild on the Floor.
#[derive(Debug)]
#[allow(missing_docs)]
pub struct Strip {
    pub bench: Bench,
    pub stand: Revision,
    pub urgency: Urgency,
}

/// One page of the Floor.
#[derive(Debug)]
#[allow(missing_docs)]
pub struct Floor {
    pub strips: Vec<Strip>,
    /// All that answer, on every page.
    pub count: usize,
    /// How many of them want a person now.
    pub wanting: usize,
    /// All clocks that run, for the top edge.
    pub running: Vec<Clock>,
    /// How far the record had come before anything was read.
    pub seen: i64,
}

impl Floor {
    /// Pages there are, at least one.
    #[must_use]
    pub fn pages(&self) -> usize {
        self.count.div_ceil(FLOOR_PAGE).max(1)
    }
}

/// What was asked, and how far everything had come then.
#[derive(PartialEq, Eq, Hash)]
struct Asking {
    query: FloorQuery,
    stand: i64,
    shop: i64,
    since: NaiveDate,
}

/// By rebuild and the head of its record.
type ByHead = Cache<(RebuildId, String), Wants>;

/// In the order of their dates.
type Places = Arc<Vec<(RebuildId, Wants)>>;

static WANTS: ByHead = Cache::new(20_000);

static ORDER: Cache<Asking, Places> = Cache::new(16);

/// So many rebuilds that nobody has looked at yet are read at a time.
const AT_A_TIME: usize = 100;

/// The order, and into `read` what had to be read for it: the page is of the same rebuilds, mostly.
fn places(
    c: &mut MysqlConnection,
    q: &FloorQuery,
    since: NaiveDate,
    (shop, running): (i64, &[Clock]),
    read: &mut HashMap<RebuildId, Bench>,
) -> Result<Places> {
    let pattern = format!("%{}%", q.find.trim().chars().take(60).collect::<String>().replace(['%', '_', '\\'], " "));
    let mut chosen = r::rebuilds.into_boxed();
    chosen = if q.finished {
        chosen.filter(r::finished_at.is_not_null())
    } else {
        chosen.filter(r::finished_at.is_null().or(r::finished_at.gt(since.and_time(chrono::NaiveTime::MIN))))
    };
    if let Some(own) = q.customer {
        chosen = chosen.filter(r::customer_id.eq(own));
    }
    if !q.find.trim().is_empty() {
        let words = r::title.like(pattern.clone()).or(r::customer.like(pattern.clone()));
        // Numbers have plain letters only: a word with others is none of them.
        chosen =
            if pattern.is_ascii() { chosen.filter(words.or(r::number.like(pattern))) } else { chosen.filter(words) };
    }
    let rows: Vec<(RebuildId, String)> =
        chosen.order((r::finished_at.is_not_null(), r::due_on, r::number)).select((r::id, r::record_hash)).load(c)?;
    let mut unknown: Vec<RebuildId> = rows.iter().filter(|x| WANTS.get(x).is_none()).map(|x| x.0).collect();
    // What is read for the order and what is read for the page are one reading, wherever that is few: those that were
    // seen before cost nothing.
    if !unknown.is_empty() && rows.len() <= AT_A_TIME {
        unknown = rows.iter().map(|x| x.0).collect();
    }
    let mut fresh = HashMap::new();
    for some in unknown.chunks(AT_A_TIME) {
        let heads = rebuilds::heads(c, some)?;
        // Of a shop that nobody has looked at yet, only the last of them stay: thousands of machines are many.
        read.clear();
        for b in bench::of(c, heads, running, shop)? {
            WANTS.put((b.rebuild.id, b.rebuild.record_hash.clone()), b.state.wants());
            fresh.insert(b.rebuild.id, b.state.wants());
            read.insert(b.rebuild.id, b);
        }
    }
    let place = |x: (RebuildId, String)| Some((x.0, fresh.get(&x.0).copied().or_else(|| WANTS.get(&x))?));
    Ok(Arc::new(rows.into_iter().filter_map(place).collect()))
}

/// A page of the Floor, with everything its strips show: what wants a person first, over all pages, then by date. Five
/// queries when nothing changed since somebody looked.
///
/// # Errors
/// Database errors.
pub fn floor(c: &mut MysqlConnection, q: &FloorQuery) -> Result<Floor> {
    // Before anything else: what is read after it is not older.
    let (seen, shop) = (chain::heads::revision(c, None)?, chain::shop::revision(c)?);
    let now = crate::now();
    let since = (now - chrono::Duration::days(LATELY_DAYS)).date();
    let asked = Asking { query: FloorQuery { page: 0, ..q.clone() }, stand: seen, shop, since };
    let running = rebuilds::live_clocks(c)?;
    let mut read = HashMap::new();
    let places = match ORDER.get(&asked) {
        Some(p) => p,
        None => {
            let fresh = places(c, &asked.query, since, (shop, &running), &mut read)?;
            ORDER.put(asked, fresh.clone());
            fresh
        }
    };
    let left = |id: RebuildId| running.iter().filter(|k| k.rebuild_id == id).map(|k| k.left(now)).min();
    let mut order: Vec<(RebuildId, Urgency)> =
        places.iter().map(|(id, wants)| (*id, wants.urgency(left(*id)))).collect();
    order.sort_by_key(|x| x.1);
    let wanting = order.iter().filter(|x| x.1.wants_someone()).count();
    let from = usize::try_from(q.page).unwrap_or(0).saturating_mul(FLOOR_PAGE);
    let page: Vec<(RebuildId, Urgency)> = order.iter().skip(from).take(FLOOR_PAGE).copied().collect();
    let ids: Vec<RebuildId> = page.iter().map(|x| x.0).filter(|id| !read.contains_key(id)).collect();
    if !ids.is_empty() {
        let heads = rebuilds::heads(c, &ids)?;
        read.extend(bench::of(c, heads, &running, shop)?.into_iter().map(|b| (b.rebuild.id, b)));
    }
    let strip = |(id, urgency): (RebuildId, Urgency)| {
        let bench = read.remove(&id)?;
        Some(Strip { stand: Revision::of(&bench.rebuild, shop), bench, urgency })
    };
    let strips = page.into_iter().filter_map(strip).collect();
    Ok(Floor { strips, count: order.len(), wanting, running, seen })
}
