//! The record of a rebuild: one entry for every change, chained by hashes, written in the change's own transaction.

use crate::schema::{people, rebuilds, record};
use crate::{Id, Result, StoreError};
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::decide::Event;
use sha2::{Digest as _, Sha256};

/// Hash before the first entry.
pub const GENESIS: &str = "0000000000000000000000000000000000000000000000000000000000000000";

/// An entry as read.
#[derive(Debug, Clone, Queryable)]
#[allow(missing_docs)]
pub struct Entry {
    pub seq: i32,
    pub at: NaiveDateTime,
    pub person_id: Id,
    pub person: String,
    pub kind: String,
    pub body: String,
    pub prev_hash: String,
    pub hash: String,
}

/// What a verification found.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Verdict {
    /// Every entry follows from the one before.
    Whole {
        /// Number of entries.
        entries: usize,
        /// Hash of the last.
        head: String,
    },
    /// The chain breaks here.
    Broken {
        /// First entry that does not follow.
        seq: i32,
        /// What is wrong with it.
        why: String,
    },
}

fn hash(prev: &str, rebuild: Id, seq: i32, at: NaiveDateTime, person: Id, kind: &str, body: &str) -> String {
    // Lengths are part of the text, so that no two entries can be written as one.
    let text = format!("{prev}|{rebuild}|{seq}|{}|{person}|{kind}|{}|{body}", at.and_utc().timestamp_micros(), body.len());
    Sha256::digest(text.as_bytes()).iter().fold(String::with_capacity(64), |mut s, b| {
        use std::fmt::Write as _;
        let _ = write!(s, "{b:02x}");
        s
    })
}

/// A rebuild that is locked for writing: the head of its chain.
#[derive(Debug)]
pub struct Locked {
    rebuild: Id,
    seq: i32,
    head: String,
    /// Set when the rebuild is finished: nothing may be written then.
    pub finished: bool,
    fresh: Vec<NewEntry>,
}

#[derive(Debug, Insertable)]
#[diesel(table_name = record)]
struct NewEntry {
    rebuild_id: Id,
    seq: i32,
    at: NaiveDateTime,
    person_id: Id,
    kind: String,
    body: String,
    prev_hash: String,
    hash: String,
}

/// Locks a rebuild's row: writers to one rebuild go one after the other, and what is read afterwards is the newest.
/// Must be the first statement of the transaction.
pub(crate) fn lock(c: &mut MysqlConnection, rebuild: Id) -> Result<Locked> {
    let (seq, head, finished): (i32, String, Option<NaiveDateTime>) =
        rebuilds::table.find(rebuild).select((rebuilds::record_seq, rebuilds::record_hash, rebuilds::finished_at)).for_update().first(c)?;
    Ok(Locked { rebuild, seq, head, finished: finished.is_some(), fresh: Vec::new() })
}

impl Locked {
    /// Adds an entry; it is written by [`Locked::write`].
    pub(crate) fn note(&mut self, person: Id, event: &Event) {
        let (at, kind, body) = (crate::now(), event.kind(), event.body());
        self.seq += 1;
        let next = hash(&self.head, self.rebuild, self.seq, at, person, &kind, &body);
        self.fresh.push(NewEntry {
            rebuild_id: self.rebuild,
            seq: self.seq,
            at,
            person_id: person,
            kind,
            body,
            prev_hash: std::mem::replace(&mut self.head, next.clone()),
            hash: next,
        });
    }

    /// Writes all added entries and the new head.
    pub(crate) fn write(self, c: &mut MysqlConnection) -> Result<()> {
        if self.fresh.is_empty() {
            return Ok(());
        }
        diesel::insert_into(record::table).values(&self.fresh).execute(c)?;
        diesel::update(rebuilds::table.find(self.rebuild))
            .set((rebuilds::record_seq.eq(self.seq), rebuilds::record_hash.eq(&self.head)))
            .execute(c)?;
        Ok(())
    }
}

/// All entries of a rebuild.
///
/// # Errors
/// Database errors.
pub fn entries(c: &mut MysqlConnection, rebuild: Id) -> Result<Vec<Entry>> {
    Ok(record::table
        .inner_join(people::table)
        .filter(record::rebuild_id.eq(rebuild))
        .order(record::seq)
        .select((record::seq, record::at, record::person_id, people::name, record::kind, record::body, record::prev_hash, record::hash))
        .load(c)?)
}

/// Checks a chain against its entries and the head kept with the rebuild; names the first broken entry.
///
/// # Errors
/// [`StoreError::NotFound`] for an unknown rebuild.
pub fn verify(c: &mut MysqlConnection, rebuild: Id) -> Result<Verdict> {
    let (seq, head): (i32, String) = rebuilds::table.find(rebuild).select((rebuilds::record_seq, rebuilds::record_hash)).first(c)?;
    let list = entries(c, rebuild)?;
    let mut prev = GENESIS.to_owned();
    for (i, e) in list.iter().enumerate() {
        let broken = |why: &str| Ok(Verdict::Broken { seq: e.seq, why: why.into() });
        if usize::try_from(e.seq).ok() != Some(i + 1) {
            return broken("an entry before it is missing");
        }
        if e.prev_hash != prev {
            return broken("it does not follow from the entry before");
        }
        if hash(&prev, rebuild, e.seq, e.at, e.person_id, &e.kind, &e.body) != e.hash {
            return broken("its text is not what was hashed");
        }
        prev.clone_from(&e.hash);
    }
    if usize::try_from(seq).ok() != Some(list.len()) || head != prev {
        return Ok(Verdict::Broken {
            seq: i32::try_from(list.len()).unwrap_or(i32::MAX) + 1,
            why: "entries at the end are missing".into(),
        });
    }
    Ok(Verdict::Whole { entries: list.len(), head: prev })
}

/// Ids and numbers of all rebuilds, for `iron-seat verify`.
///
/// # Errors
/// Database errors.
pub fn all_rebuilds(c: &mut MysqlConnection) -> Result<Vec<(Id, String)>> {
    Ok(rebuilds::table.order(rebuilds::number).select((rebuilds::id, rebuilds::number)).load(c)?)
}

/// Newest ids of entries (with their rebuilds) above `after`, for live events.
///
/// # Errors
/// Database errors.
pub fn since(c: &mut MysqlConnection, after: i64) -> Result<Vec<(i64, Id)>> {
    Ok(record::table.filter(record::id.gt(after)).order(record::id).select((record::id, record::rebuild_id)).limit(2000).load(c)?)
}

/// Largest id of an entry.
///
/// # Errors
/// Database errors.
pub fn newest(c: &mut MysqlConnection) -> Result<i64> {
    Ok(record::table.select(diesel::dsl::max(record::id)).first::<Option<i64>>(c)?.unwrap_or(0))
}

/// Guard for writers: a finished rebuild takes no more.
pub(crate) fn open(c: &mut MysqlConnection, rebuild: Id) -> Result<Locked> {
    let locked = lock(c, rebuild)?;
    if locked.finished {
        return Err(StoreError::Held("this rebuild is finished and signed: its record takes no more changes".into()));
    }
    Ok(locked)
}
