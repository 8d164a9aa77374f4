//! Rebuilds: which there are, what they pin, their clocks and signatures.

use crate::db::cache::Cache;
use crate::db::schema::{anatomies, clocks, people, rebuilds, shop_chains, sign_offs};
use crate::rows::rebuild::{Clock, Rebuild, SignOff, machine_type};
use crate::{AnatomyId, ClockId, CustomerId, RebuildId, Result, StoreError};
use aliases::waiting;
use chrono::NaiveDate;
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::anatomy::{MachineType, older};
use std::collections::HashMap;
use std::sync::Arc;

/// Machine types that a rebuild can be started from: (id, name), newest version of each.
///
/// # Errors
/// Database errors.
pub fn list_anatomies(c: &mut MysqlConnection) -> Result<Vec<(AnatomyId, String)>> {
    let kinds = crate::read::drafts::kinds(c)?;
    Ok(kinds.into_iter().map(|k| (k.id, k.anatomy.name)).collect())
}

/// A rebuild without the document of its anatomy, which is large and mostly known.
#[derive(Queryable, Selectable)]
#[diesel(table_name = rebuilds)]
struct HeadRow {
    id: RebuildId,
    number: String,
    title: String,
    customer: String,
    due_on: NaiveDate,
    finished_at: Option<NaiveDateTime>,
    record_seq: i32,
    record_hash: String,
    origin: String,
    anatomy_id: AnatomyId,
    derivation: i32,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = rebuilds)]
struct RebuildRow {
    #[diesel(embed)]
    head: HeadRow,
    #[diesel(select_expression = anatomies::document)]
    document: String,
}

fn of(r: HeadRow, kind: Arc<MachineType>) -> Rebuild {
    let HeadRow {
        id, number, title, customer, due_on, finished_at, record_seq, record_hash, origin, derivation, ..
    } = r;
    let older = (derivation < older::TODAY).then_some(derivation);
    Rebuild { id, number, title, customer, due_on, finished_at, record_seq, record_hash, origin, older, kind }
}

/// Machine types by the id of their version.
static BY_ID: Cache<AnatomyId, Arc<MachineType>> = Cache::new(64);

/// Rebuilds for pages, in the order of their ids given: the document of a version that is known is not read again. Who
/// decides reads it, with [`get`].
pub(crate) fn heads(c: &mut MysqlConnection, ids: &[RebuildId]) -> Result<Vec<Rebuild>> {
    let rows: Vec<HeadRow> = rebuilds::table.filter(rebuilds::id.eq_any(ids)).select(HeadRow::as_select()).load(c)?;
    let mut list = with_kinds(c, rows)?;
    list.sort_by_key(|r| ids.iter().position(|id| *id == r.id));
    Ok(list)
}

mod aliases {
    #![allow(missing_docs)]
    use crate::db::schema::rebuilds;
    diesel::alias!(rebuilds as waiting: Waiting);
}

/// What runs.
type Running = (ClockId, RebuildId, String, String, String, NaiveDateTime, i32, String);

/// Number and customer of the rebuild it runs on.
type Theirs = (String, Option<CustomerId>);

/// The rebuild, the shop's stand, and one of the clocks.
type Row = (HeadRow, Option<i64>, Option<Running>, Option<Theirs>);

/// One rebuild for pages, how far the shop's record has come, and all clocks that nobody has ended: one query, since
/// every look at the Bench asks it.
///
/// # Errors
/// Not found.
pub(crate) fn head(c: &mut MysqlConnection, id: RebuildId) -> Result<(Rebuild, i64, Vec<Clock>)> {
    let clock = (
        clocks::id,
        clocks::rebuild_id,
        clocks::seat,
        clocks::kind,
        clocks::label,
        clocks::started_at,
        clocks::seconds,
        clocks::step,
    );
    // As `chain::shop::revision`.
    let shop = shop_chains::table.select(diesel::dsl::sum(shop_chains::seq)).single_value();
    let theirs = waiting.fields((rebuilds::number, rebuilds::customer_id));
    let rows: Vec<Row> = rebuilds::table
        .left_join(clocks::table.on(clocks::ended_at.is_null()))
        .left_join(waiting.on(waiting.field(rebuilds::id).nullable().eq(clocks::rebuild_id.nullable())))
        .filter(rebuilds::id.eq(id))
        .select((HeadRow::as_select(), shop, clock.nullable(), theirs.nullable()))
        .load(c)?;
    let (mut head, mut running) = (None, Vec::new());
    for (row, shop, clock, theirs) in rows {
        head = Some((row, shop));
        if let (Some((id, rebuild_id, seat, kind, label, started_at, seconds, step)), Some((number, customer))) =
            (clock, theirs)
        {
            let ended_at = None;
            running.push(Clock {
                id,
                rebuild_id,
                number,
                seat,
                kind,
                label,
                started_at,
                seconds,
                ended_at,
                step,
                customer,
            });
        }
    }
    let (row, shop) = head.ok_or(StoreError::NotFound)?;
    let rebuild = with_kinds(c, vec![row])?.pop().ok_or(StoreError::NotFound)?;
    running.sort_by_key(|k| k.started_at);
    Ok((rebuild, shop.unwrap_or(0), running))
}

fn with_kinds(c: &mut MysqlConnection, rows: Vec<HeadRow>) -> Result<Vec<Rebuild>> {
    let mut kinds: HashMap<AnatomyId, Arc<MachineType>> =
        rows.iter().filter_map(|r| Some((r.anatomy_id, BY_ID.get(&r.anatomy_id)?))).collect();
    let unknown: Vec<AnatomyId> = rows.iter().map(|r| r.anatomy_id).filter(|a| !kinds.contains_key(a)).collect();
    if !unknown.is_empty() {
        let read: Vec<(AnatomyId, String)> = anatomies::table
            .filter(anatomies::id.eq_any(&unknown))
            .select((anatomies::id, anatomies::document))
            .load(c)?;
        for (id, document) in read {
            let kind = machine_type(document)?;
            BY_ID.put(id, kind.clone());
            kinds.insert(id, kind);
        }
    }
    let one = |r: HeadRow| kinds.get(&r.anatomy_id).cloned().map(|kind| of(r, kind));
    Ok(rows.into_iter().filter_map(one).collect())
}

/// A rebuild and its anatomy.
///
/// # Errors
/// [`crate::StoreError::NotFound`].
pub fn get(c: &mut MysqlConnection, id: RebuildId) -> Result<Rebuild> {
    let here = rebuilds::table.inner_join(anatomies::table).filter(rebuilds::id.eq(id));
    let r: RebuildRow = here.select(RebuildRow::as_select()).first(c)?;
    Ok(of(r.head, machine_type(r.document)?))
}

#[diesel::dsl::auto_type]
pub(crate) fn clock_query() -> _ {
    let row: diesel::dsl::AsSelect<Clock, diesel::mysql::Mysql> = Clock::as_select();
    clocks::table.inner_join(rebuilds::table).select(row)
}

/// All clocks that nobody has ended, for the top edge of every page.
///
/// # Errors
/// Database errors.
pub fn live_clocks(c: &mut MysqlConnection) -> Result<Vec<Clock>> {
    Ok(clock_query().filter(clocks::ended_at.is_null()).order(clocks::started_at).load(c)?)
}

/// The signatures on a rebuild, oldest first.
///
/// # Errors
/// Database errors.
pub fn signatures(c: &mut MysqlConnection, id: RebuildId) -> Result<Vec<SignOff>> {
    Ok(sign_offs::table
        .inner_join(people::table)
        .filter(sign_offs::rebuild_id.eq(id))
        .order(sign_offs::at)
        .select(SignOff::as_select())
        .load(c)?)
}

/// Serial number of the machine of a rebuild; empty when nobody wrote it down.
///
/// # Errors
/// Not found.
pub fn serial(c: &mut MysqlConnection, id: RebuildId) -> Result<String> {
    Ok(rebuilds::table.find(id).select(rebuilds::serial).first(c)?)
}

/// A rebuild that came with an archive.
#[derive(Debug, Clone, Queryable, Selectable)]
#[diesel(table_name = rebuilds)]
#[allow(missing_docs)]
pub struct Elsewhere {
    pub id: RebuildId,
    pub number: String,
    pub title: String,
    pub origin: String,
}

/// Rebuilds that came from other shops.
///
/// # Errors
/// Database errors.
pub fn from_elsewhere(c: &mut MysqlConnection) -> Result<Vec<Elsewhere>> {
    let theirs = rebuilds::table.filter(rebuilds::origin.ne("")).order((rebuilds::origin, rebuilds::number));
    Ok(theirs.select(Elsewhere::as_select()).limit(500).load(c)?)
}
