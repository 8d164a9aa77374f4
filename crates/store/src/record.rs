//! The record of a rebuild: one entry for every change, chained by hashes, written in the change's own transaction. An
//! entry binds the rows that its transaction changed ([`crate::bound`]).

use crate::bound::{self, Fault, Rows, Scope};
use crate::schema::{people, rebuilds, record};
use crate::shop_record;
use crate::transaction::transaction;
use crate::{PersonId, PictureId, RebuildId, Result, StoreError, hex};
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::decide::Event;
use sha2::{Digest as _, Sha256};

/// Hash before the first entry.
pub const GENESIS: &str = "0000000000000000000000000000000000000000000000000000000000000000";

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

/// What a verification found.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Verdict {
    /// Every entry follows from the one before, and every row is what the entries say.
    Whole {
        /// Number of entries.
        entries: usize,
        /// Hash of the last.
        head: String,
        /// What is odd and breaks nothing: a clock that was set back.
        remarks: Vec<String>,
    },
    /// The chain is whole, and rows are not what it says.
    Changed {
        /// Each of them.
        rows: Vec<Fault>,
    },
    /// The chain breaks here.
    Broken {
        /// First entry that does not follow.
        seq: i32,
        /// What is wrong with it.
        why: String,
    },
}

impl Verdict {
    /// What is odd and breaks nothing.
    #[must_use]
    pub fn remarks(&self) -> &[String] {
        match self {
            Self::Whole { remarks, .. } => remarks,
            Self::Changed { .. } | Self::Broken { .. } => &[],
        }
    }
    /// For a page: how many entries, and the beginning of the head's hash; else what is wrong.
    #[must_use]
    pub fn short(&self) -> String {
        match self {
            Self::Whole { entries, head, .. } => {
                let entry = if *entries == 1 { "entry" } else { "entries" };
                format!("{entries} {entry}, chain and rows whole, head {}", &head[..16])
            }
            other => other.words(),
        }
    }
    /// As a sentence, whichever chain it is about.
    #[must_use]
    pub fn words(&self) -> String {
        match self {
            Self::Whole { entries: 1, head, .. } => format!("whole, 1 entry, {head}"),
            Self::Whole { entries, head, .. } => format!("whole, {entries} entries, {head}"),
            Self::Broken { seq, why } => format!("broken at entry {seq}: {why}"),
            Self::Changed { rows } => {
                let first = rows.iter().take(3).map(Fault::to_string).collect::<Vec<_>>().join("; ");
                if rows.len() > 3 { format!("{first}; and {} more", rows.len() - 3) } else { first }
            }
        }
    }
    /// Nothing is wrong.
    #[must_use]
    pub fn whole(&self) -> bool {
        matches!(self, Self::Whole { .. })
    }
}

/// What an entry of a chain says.
pub(crate) struct Text<'a> {
    /// The chain: id of a rebuild, or name of a chain of the shop.
    pub(crate) chain: &'a str,
    pub(crate) seq: i32,
    pub(crate) at: NaiveDateTime,
    pub(crate) person: &'a str,
    pub(crate) kind: &'a str,
    pub(crate) body: &'a str,
    pub(crate) bound: &'a str,
}

/// Hash of an entry of a chain. Lengths are part of the text, so that no two entries can be written as one.
pub(crate) fn hash(prev: &str, t: &Text) -> String {
    let Text { chain, seq, at, person, kind, body, bound } = t;
    let mut text =
        format!("{prev}|{chain}|{seq}|{}|{person}|{kind}|{}|{body}", at.and_utc().timestamp_micros(), body.len());
    // Entries from before rows were bound carry none.
    if !bound.is_empty() {
        text += &format!("|{}|{bound}", bound.len());
    }
    hex(&Sha256::digest(text.as_bytes()))
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
    let before = bound::rows(c, Scope::Rebuild(rebuild), false)?;
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
        let mut after = bound::rows(c, Scope::Rebuild(self.rebuild), false)?;
        for picture in &self.pictures {
            after.extend(bound::picture(c, *picture)?);
        }
        let said = said_of(c, self.rebuild, &bound::touched(&self.before, &after))?;
        let mut bound = bound::change(&self.before, &after, &said)?;
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
    bound::fold(list.iter().map(String::as_str))
}

/// Are the bytes of a picture those that were put in?
pub(crate) fn picture_stands(c: &mut MysqlConnection, rebuild: RebuildId, picture: PictureId) -> Result<bool> {
    let now = bound::picture(c, picture)?;
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
            locked.pictures = crate::pictures::all(c, id)?;
            locked.note(person, &Event::Bound { rows: bound::rows(c, Scope::Rebuild(id), false)?.len() });
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
    let mut said = bound::fold(list.iter().map(|e| e.bound.as_str()))?;
    if !bodies {
        said.retain(|row, _| row.0 != "picture_bodies");
    }
    let rows = bound::compare(&said, &bound::rows(c, Scope::Rebuild(rebuild), bodies)?);
    Ok(if rows.is_empty() { verdict } else { Verdict::Changed { rows } })
}

/// As [`verify`], and whether what stands beside a rebuild's own rows on a page is whole: names, rules, instruments.
///
/// # Errors
/// As [`verify`].
pub fn verify_printed(c: &mut MysqlConnection, rebuild: RebuildId) -> Result<Verdict> {
    let own = verify(c, rebuild, false)?;
    if own.whole() {
        for chain in [bound::Chain::People, bound::Chain::Rules, bound::Chain::Stores] {
            let other = shop_record::verify(c, chain)?;
            if !other.whole() {
                return Ok(other);
            }
        }
    }
    Ok(own)
}

/// An entry as its chain is followed.
pub(crate) struct Link<'a> {
    pub(crate) seq: i32,
    pub(crate) at: NaiveDateTime,
    pub(crate) prev: &'a str,
    pub(crate) hash: &'a str,
    /// Hash of what it says.
    pub(crate) again: String,
}

/// Follows a chain to its head.
pub(crate) fn follow<'a>(links: impl Iterator<Item = Link<'a>>, seq: i32, head: &str) -> Verdict {
    let (mut prev, mut entries, mut remarks) = (GENESIS.to_owned(), 0, Vec::new());
    let mut last: Option<NaiveDateTime> = None;
    for e in links {
        entries += 1;
        let broken = |why: &str| Verdict::Broken { seq: e.seq, why: why.into() };
        if e.seq != entries {
            return broken("an entry before it is missing");
        }
        if e.prev != prev {
            return broken("it does not follow from the entry before");
        }
        if e.again != e.hash {
            return broken("its text is not what was hashed");
        }
        if last.is_some_and(|l| e.at < l) {
            remarks.push(format!("the clock was set back before entry {}", e.seq));
        }
        last = Some(e.at);
        e.hash.clone_into(&mut prev);
    }
    if seq != entries || head != prev {
        return Verdict::Broken { seq: entries + 1, why: "entries at the end are missing".into() };
    }
    Verdict::Whole { entries: usize::try_from(entries).unwrap_or(0), head: prev, remarks }
}

/// Ids and numbers of all rebuilds, for `iron-seat verify`.
///
/// # Errors
/// Database errors.
pub fn all_rebuilds(c: &mut MysqlConnection) -> Result<Vec<(RebuildId, String)>> {
    Ok(rebuilds::table.order(rebuilds::number).select((rebuilds::id, rebuilds::number)).load(c)?)
}

/// The head of a chain, as it is kept elsewhere: `R-0412 0193… 118 ab12…`, or `people - 7 ab12…`.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Head {
    /// Number of the rebuild, or name of a chain of the shop.
    pub name: String,
    /// The rebuild; none for a chain of the shop.
    pub rebuild: Option<RebuildId>,
    /// Its last entry.
    pub seq: i32,
    /// That entry's hash.
    pub hash: String,
}

impl std::fmt::Display for Head {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let id = self.rebuild.map_or_else(|| "-".to_owned(), |id| id.to_string());
        write!(f, "{} {id} {} {}", self.name, self.seq, self.hash)
    }
}

impl std::str::FromStr for Head {
    type Err = String;
    fn from_str(line: &str) -> std::result::Result<Self, String> {
        let bad = || line.chars().take(80).collect::<String>();
        let [name, id, seq, hash] = line.split_whitespace().collect::<Vec<_>>()[..] else { return Err(bad()) };
        let rebuild = if id == "-" { None } else { Some(id.parse().map_err(|_| bad())?) };
        if hash.len() != 64 || !hash.bytes().all(|b| b.is_ascii_hexdigit()) {
            return Err(bad());
        }
        Ok(Self { name: name.into(), rebuild, seq: seq.parse().map_err(|_| bad())?, hash: hash.to_lowercase() })
    }
}

/// Heads of all chains.
///
/// # Errors
/// Database errors.
pub fn heads(c: &mut MysqlConnection) -> Result<Vec<Head>> {
    let list: Vec<(RebuildId, String, i32, String)> = rebuilds::table
        .order(rebuilds::number)
        .select((rebuilds::id, rebuilds::number, rebuilds::record_seq, rebuilds::record_hash))
        .load(c)?;
    let mut out: Vec<Head> =
        list.into_iter().map(|(id, name, seq, hash)| Head { name, rebuild: Some(id), seq, hash }).collect();
    for (chain, name) in bound::Chain::ALL {
        let (seq, hash) = shop_record::head(c, chain)?;
        out.push(Head { name: name.into(), rebuild: None, seq, hash });
    }
    Ok(out)
}

/// Heads of an earlier day that no longer stand in their chain: it was cut, hashed anew, or is gone.
///
/// # Errors
/// Database errors.
pub fn missing(c: &mut MysqlConnection, heads: &[Head]) -> Result<Vec<Head>> {
    let mut out = Vec::new();
    for h in heads.iter().filter(|h| h.seq > 0) {
        let there: Option<String> = match h.rebuild {
            Some(id) => record::table
                .filter(record::rebuild_id.eq(id))
                .filter(record::seq.eq(h.seq))
                .select(record::hash)
                .first(c)
                .optional()?,
            None => shop_record::hash_at(c, &h.name, h.seq)?,
        };
        if there.as_deref() != Some(h.hash.as_str()) {
            out.push(h.clone());
        }
    }
    Ok(out)
}

/// Newest ids of entries (with their rebuilds) above `after`, for live events.
///
/// # Errors
/// Database errors.
pub fn since(c: &mut MysqlConnection, after: i64) -> Result<Vec<(i64, RebuildId)>> {
    Ok(record::table
        .filter(record::id.gt(after))
        .order(record::id)
        .select((record::id, record::rebuild_id))
        .limit(2000)
        .load(c)?)
}

/// How far a rebuild's record has come, or all of them together: another number means that something changed.
///
/// # Errors
/// Database errors; not found.
pub fn stand(c: &mut MysqlConnection, rebuild: Option<RebuildId>) -> Result<i64> {
    use diesel::dsl::sum;
    Ok(match rebuild {
        Some(id) => rebuilds::table.find(id).select(rebuilds::record_seq).first::<i32>(c)?.into(),
        None => rebuilds::table.select(sum(rebuilds::record_seq)).first::<Option<i64>>(c)?.unwrap_or(0),
    })
}

/// Largest id of an entry.
///
/// # Errors
/// Database errors.
pub fn newest(c: &mut MysqlConnection) -> Result<i64> {
    Ok(record::table.select(diesel::dsl::max(record::id)).first::<Option<i64>>(c)?.unwrap_or(0))
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

#[cfg(test)]
mod tests {
    use super::*;

    fn chain(seconds: &[i64]) -> (Vec<(i32, NaiveDateTime, String, String)>, String) {
        let mut prev = GENESIS.to_owned();
        let at = |s: i64| chrono::DateTime::from_timestamp(1_790_000_000 + s, 0).unwrap_or_default().naive_utc();
        let mut out = Vec::new();
        for (seq, s) in (1..).zip(seconds) {
            let text =
                Text { chain: "people", seq, at: at(*s), person: "Ines", kind: "changed", body: "so", bound: "" };
            let next = hash(&prev, &text);
            out.push((seq, at(*s), std::mem::replace(&mut prev, next.clone()), next));
        }
        (out, prev)
    }

    fn followed(list: &[(i32, NaiveDateTime, String, String)], seq: i32, head: &str) -> Verdict {
        let links =
            list.iter().map(|(seq, at, prev, hash)| Link { seq: *seq, at: *at, prev, hash, again: hash.clone() });
        follow(links, seq, head)
    }

    #[test]
    fn a_clock_that_was_set_back_is_remarked_and_breaks_nothing() {
        let (list, head) = chain(&[0, 5, 5, 2, 9]);
        let Verdict::Whole { entries, remarks, .. } = followed(&list, 5, &head) else { panic!("whole") };
        assert_eq!((entries, remarks), (5, vec!["the clock was set back before entry 4".to_owned()]));
        let (list, head) = chain(&[0, 5, 5, 6]);
        assert!(matches!(followed(&list, 4, &head), Verdict::Whole { remarks, .. } if remarks.is_empty()));
    }

    #[test]
    fn a_chain_breaks_where_it_was_cut_or_exchanged() {
        let (list, head) = chain(&[0, 1, 2, 3]);
        let (other, _) = chain(&[0, 7, 8]);
        let at = |v: Verdict| match v {
            Verdict::Broken { seq, why } => format!("{seq}: {why}"),
            other => format!("{other:?}"),
        };
        assert_eq!(at(followed(&list[..3], 4, &head)), "4: entries at the end are missing");
        assert_eq!(at(followed(&list[1..], 4, &head)), "2: an entry before it is missing");
        let mixed = [list[0].clone(), other[1].clone(), list[2].clone(), list[3].clone()];
        assert_eq!(at(followed(&mixed, 4, &head)), "3: it does not follow from the entry before");
    }
}
