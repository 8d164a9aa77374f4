//! The record of a rebuild: one entry for every change, chained by hashes, written in the change's own transaction. An
//! entry binds the rows that its transaction changed ([`crate::chain::digests`]).

use crate::chain::digests::{Rows, Scope};
use crate::chain::entry::{GENESIS, Link, Text, Verdict, follow, hash};
use crate::db::schema::{people, pictures, rebuilds, record};
use crate::db::transaction::transaction;
use crate::{PersonId, PictureId, RebuildId, Result, StoreError, chain};
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::decide::Event;

/// Ids of all pictures of a rebuild, those that were taken away too.
pub(crate) fn all(c: &mut MysqlConnection, rebuild: RebuildId) -> Result<Vec<PictureId>> {
    Ok(pictures::table.filter(pictures::rebuild_id.eq(rebuild)).select(pictures::id).load(c)?)
}

/// An entry as read.
#[derive(Debug, Clone, Queryable, Selectable)]
#[diesel(table_name = record)]
#[allow(missing_docs)]
pub struct Entry {
    pub seq: i32,
    pub at: NaiveDateTime,
    pub person_id: PersonId,
    #[diesel(select_expression = people::name)]
    pub person: String,
    pub kind: String,
    pub body: String,
    pub bound: String,
    pub prev_hash: String,
    pub hash: String,
}

/// A rebuild that is locked for writing: the head of its chain.
#[derive(Debug)]
pub struct Locked {
    rebuild: RebuildId,
    seq: i32,
    head: String,
    /// Set when the rebuild is finished: nothing may be written then.
    pub finished: bool,
    /// Rows as they were when it was locked.
    before: Rows,
    fresh: Vec<(NaiveDateTime, PersonId, String, String)>,
    pictures: Vec<PictureId>,
}

#[derive(Debug, Insertable)]
#[diesel(table_name = record)]
struct NewEntry {
    rebuild_id: RebuildId,
    seq: i32,
    at: NaiveDateTime,
    person_id: PersonId,
    kind: String,
    body: String,
    bound: String,
    prev_hash: String,
    hash: String,
}

/// Locks a rebuild's row: writers to one rebuild go one after the other, and what is read afterwards is the newest.
/// Must be the first statement of the transaction.
pub(crate) fn lock(c: &mut MysqlConnection, rebuild: RebuildId) -> Result<Locked> {
    let (seq, head, finished): (i32, String, Option<NaiveDateTime>) = rebuilds::table
        .find(rebuild)
        .select((rebuilds::record_seq, rebuilds::record_hash, rebuilds::finished_at))
        .for_update()
        .first(c)?;
    let before = chain::digests::rows(c, Scope::Rebuild(rebuild), false)?;
    Ok(Locked { rebuild, seq, head, finished: finished.is_some(), before, fresh: Vec::new(), pictures: Vec::new() })
}

/// The record of a rebuild that is put in by this transaction: nothing was there before.
pub(crate) fn begin(rebuild: RebuildId) -> Locked {
    let (before, fresh, pictures) = (Rows::new(), Vec::new(), Vec::new());
    Locked { rebuild, seq: 0, head: GENESIS.to_owned(), finished: false, before, fresh, pictures }
}

impl Locked {
    /// Adds an entry; it is written by [`Locked::write`].
    pub(crate) fn note(&mut self, person: PersonId, event: &Event) {
        self.fresh.push((crate::now(), person, event.kind(), event.body()));
    }
    /// The rebuild that is locked.
    pub(crate) fn rebuild(&self) -> RebuildId {
        self.rebuild
    }
    /// Binds the bytes of a picture that is put in.
    pub(crate) fn bind_picture(&mut self, picture: PictureId) {
        self.pictures.push(picture);
    }

    /// Writes all added entries and the new head; the last one binds the rows that are others now.
    pub(crate) fn write(mut self, c: &mut MysqlConnection) -> Result<()> {
        if self.fresh.is_empty() {
            return Ok(());
        }
        let mut after = chain::digests::rows(c, Scope::Rebuild(self.rebuild), false)?;
        for picture in &self.pictures {
            after.extend(chain::digests::picture(c, *picture)?);
        }
        let said = said_of(c, self.rebuild, &chain::digests::touched(&self.before, &after))?;
        let mut bound = chain::digests::change(&self.before, &after, &said)?;
        let last = self.fresh.len();
        let mut entries = Vec::new();
        for (k, (at, person_id, kind, body)) in std::mem::take(&mut self.fresh).into_iter().enumerate() {
            self.seq += 1;
            let bound = if k + 1 == last { std::mem::take(&mut bound) } else { String::new() };
            let (chain, person) = (self.rebuild.to_string(), person_id.to_string());
            let text =
                Text { chain: &chain, seq: self.seq, at, person: &person, kind: &kind, body: &body, bound: &bound };
            let next = hash(&self.head, &text);
            let prev_hash = std::mem::replace(&mut self.head, next.clone());
            entries.push(NewEntry {
                rebuild_id: self.rebuild,
                seq: self.seq,
                at,
                person_id,
                kind,
                body,
                bound,
                prev_hash,
                hash: next,
            });
        }
        diesel::insert_into(record::table).values(&entries).execute(c)?;
        diesel::update(rebuilds::table.find(self.rebuild))
            .set((rebuilds::record_seq.eq(self.seq), rebuilds::record_hash.eq(&self.head)))
            .execute(c)?;
        Ok(())
    }
}

/// What the chain says of some rows, by their keys.
fn said_of(c: &mut MysqlConnection, rebuild: RebuildId, keys: &[&str]) -> Result<Rows> {
    if keys.is_empty() {
        return Ok(Rows::new());
    }
    let base = record::table.filter(record::rebuild_id.eq(rebuild)).order(record::seq).select(record::bound);
    // Few are touched at a time: only entries that speak of one of them are read.
    let list: Vec<String> = if keys.len() > 12 {
        base.filter(record::bound.ne("")).load(c)?
    } else {
        let mut any: Box<
            dyn BoxableExpression<record::table, diesel::mysql::Mysql, SqlType = diesel::sql_types::Bool>,
        > = Box::new(record::bound.like(format!("%\"{}\"%", keys[0])));
        for k in &keys[1..] {
            any = Box::new(any.or(record::bound.like(format!("%\"{k}\"%"))));
        }
        base.filter(any).load(c)?
    };
    chain::digests::fold(list.iter().map(String::as_str))
}

/// Are the bytes of a picture those that were put in?
pub(crate) fn picture_stands(c: &mut MysqlConnection, rebuild: RebuildId, picture: PictureId) -> Result<bool> {
    let now = chain::digests::picture(c, picture)?;
    let keys: Vec<&str> = now.keys().map(|row| row.1.as_str()).collect();
    let said = said_of(c, rebuild, &keys)?;
    Ok(!now.is_empty() && now.iter().all(|(row, digest)| said.get(row) == Some(digest)))
}

/// Binds the rows of rebuilds that were kept before rows were bound, once. Returns how many.
///
/// # Errors
/// Database errors.
pub(crate) fn bind_old(c: &mut MysqlConnection) -> Result<usize> {
    let mut n = 0;
    for (id, _) in all_rebuilds(c)? {
        let bound: i64 =
            record::table.filter(record::rebuild_id.eq(id)).filter(record::bound.ne("")).count().get_result(c)?;
        let last: Option<PersonId> = record::table
            .filter(record::rebuild_id.eq(id))
            .order(record::seq.desc())
            .select(record::person_id)
            .first(c)
            .optional()?;
        let (0, Some(person)) = (bound, last) else { continue };
        transaction(c, |c| {
            let mut locked = lock(c, id)?;
            locked.before = Rows::new();
            locked.pictures = crate::chain::rebuild::all(c, id)?;
            locked.note(person, &Event::Bound { rows: chain::digests::rows(c, Scope::Rebuild(id), false)?.len() });
            locked.write(c)
        })?;
        n += 1;
    }
    Ok(n)
}

/// All entries of a rebuild.
///
/// # Errors
/// Database errors.
pub fn entries(c: &mut MysqlConnection, rebuild: RebuildId) -> Result<Vec<Entry>> {
    Ok(record::table
        .inner_join(people::table)
        .filter(record::rebuild_id.eq(rebuild))
        .order(record::seq)
        .select(Entry::as_select())
        .load(c)?)
}

/// Checks a chain against its entries and the head kept with the rebuild, and every row against what the entries say of
/// it; names the first broken entry, or the rows. `bodies` reads the bytes of pictures too.
///
/// # Errors
/// [`StoreError::NotFound`] for an unknown rebuild.
pub fn verify(c: &mut MysqlConnection, rebuild: RebuildId, bodies: bool) -> Result<Verdict> {
    // Head, entries and rows as of one moment, whoever writes meanwhile.
    transaction(c, |c| verify_now(c, rebuild, bodies))
}

fn verify_now(c: &mut MysqlConnection, rebuild: RebuildId, bodies: bool) -> Result<Verdict> {
    let (seq, head): (i32, String) =
        rebuilds::table.find(rebuild).select((rebuilds::record_seq, rebuilds::record_hash)).first(c)?;
    let list = entries(c, rebuild)?;
    let chain = rebuild.to_string();
    let links = list.iter().map(|e| Link {
        seq: e.seq,
        at: e.at,
        prev: &e.prev_hash,
        hash: &e.hash,
        again: {
            let person = e.person_id.to_string();
            let text = Text {
                chain: &chain,
                seq: e.seq,
                at: e.at,
                person: &person,
                kind: &e.kind,
                body: &e.body,
                bound: &e.bound,
            };
            hash(&e.prev_hash, &text)
        },
    });
    let verdict = follow(links, seq, &head);
    let Verdict::Whole { .. } = verdict else { return Ok(verdict) };
    let mut said = chain::digests::fold(list.iter().map(|e| e.bound.as_str()))?;
    if !bodies {
        said.retain(|row, _| row.0 != "picture_bodies");
    }
    let rows = chain::digests::compare(&said, &chain::digests::rows(c, Scope::Rebuild(rebuild), bodies)?);
    Ok(if rows.is_empty() { verdict } else { Verdict::Changed { rows } })
}

/// As [`verify`], and whether what stands beside a rebuild's own rows on a page is whole: names, rules, instruments.
///
/// # Errors
/// As [`verify`].
pub fn verify_printed(c: &mut MysqlConnection, rebuild: RebuildId) -> Result<Verdict> {
    let own = verify(c, rebuild, false)?;
    if own.whole() {
        for chain in [chain::digests::Chain::People, chain::digests::Chain::Rules, chain::digests::Chain::Stores] {
            let other = chain::shop::verify(c, chain)?;
            if !other.whole() {
                return Ok(other);
            }
        }
    }
    Ok(own)
}

/// Ids and numbers of all rebuilds, for `iron-seat verify`.
///
/// # Errors
/// Database errors.
pub fn all_rebuilds(c: &mut MysqlConnection) -> Result<Vec<(RebuildId, String)>> {
    Ok(rebuilds::table.order(rebuilds::number).select((rebuilds::id, rebuilds::number)).load(c)?)
}

/// What is said of a rebuild that takes no more.
pub(crate) fn finished() -> StoreError {
    StoreError::Held("this rebuild is finished and signed: its record takes no more changes".into())
}

/// Guard for writers: a finished rebuild takes no more.
pub(crate) fn open(c: &mut MysqlConnection, rebuild: RebuildId) -> Result<Locked> {
    let locked = lock(c, rebuild)?;
    if locked.finished {
        return Err(finished());
    }
    Ok(locked)
}
