//! The record of what belongs to no rebuild: people, rules, stores, machine types, and which rebuilds there are. Each
//! has a chain of its own, with what was said and the rows that were changed.

use crate::chain::digests::{Chain, Rows, Scope};
use crate::chain::entry::{Link, Text, Verdict, follow, hash};
use crate::db::schema::{shop_chains, shop_record};
use crate::db::transaction::transaction;
use crate::rows::person::Person;
use crate::{Result, chain};
use chrono::NaiveDateTime;
use diesel::prelude::*;

/// Who stands in an entry that nobody made who was signed in: the first run, the command line, the demo.
const CONSOLE: &str = "at the console";

/// An entry as read.
#[derive(Debug, Clone, Queryable, Insertable)]
#[diesel(table_name = shop_record)]
#[allow(missing_docs)]
pub struct ShopEntry {
    pub chain: String,
    pub seq: i32,
    pub at: NaiveDateTime,
    pub person: String,
    pub said: String,
    pub bound: String,
    pub prev_hash: String,
    pub hash: String,
}

impl ShopEntry {
    fn hashed(&self) -> String {
        let (person, body, bound) = (self.person.as_str(), self.said.as_str(), self.bound.as_str());
        hash(
            &self.prev_hash,
            &Text { chain: &self.chain, seq: self.seq, at: self.at, person, kind: "changed", body, bound },
        )
    }
}

/// Makes a change under the lock of its chain, and writes who made it, what was said of it and the rows that are others
/// now. Nothing is written where nothing changed.
///
/// # Errors
/// What the change says.
pub(crate) fn changed<T>(
    c: &mut MysqlConnection,
    chain: Chain,
    who: Option<&Person>,
    said: &str,
    work: impl FnOnce(&mut MysqlConnection) -> Result<T>,
) -> Result<T> {
    transaction(c, |c| {
        let head: (i32, String) = shop_chains::table
            .find(chain.name())
            .select((shop_chains::seq, shop_chains::hash))
            .for_update()
            .first(c)?;
        let before = chain::digests::rows(c, Scope::Shop(chain), false)?;
        let done = work(c)?;
        write(c, chain, head, who, said, &before)?;
        Ok(done)
    })
}

fn write(
    c: &mut MysqlConnection,
    chain: Chain,
    head: (i32, String),
    who: Option<&Person>,
    said: &str,
    before: &Rows,
) -> Result<()> {
    let after = chain::digests::rows(c, Scope::Shop(chain), false)?;
    let known = if before.is_empty() {
        Rows::new()
    } else {
        chain::digests::fold(entries(c, chain)?.iter().map(|e| e.bound.as_str()))?
    };
    let bound = chain::digests::change(before, &after, &known)?;
    if bound.is_empty() {
        return Ok(());
    }
    let (seq, at, name) = (head.0 + 1, crate::now(), chain.name());
    let person = who.map_or(CONSOLE, |p| p.name.as_str()).to_owned();
    let said: String = said.chars().take(400).collect();
    let mut entry =
        ShopEntry { chain: name.into(), seq, at, person, said, bound, prev_hash: head.1, hash: String::new() };
    entry.hash = entry.hashed();
    let hash = entry.hash.clone();
    diesel::insert_into(shop_record::table).values(&entry).execute(c)?;
    diesel::update(shop_chains::table.find(name))
        .set((shop_chains::seq.eq(seq), shop_chains::hash.eq(hash)))
        .execute(c)?;
    Ok(())
}

/// Binds what was kept before it was bound, once.
///
/// # Errors
/// Database errors.
pub(crate) fn bind_old(c: &mut MysqlConnection) -> Result<()> {
    for (chain, _) in Chain::ALL {
        transaction(c, |c| {
            let head: (i32, String) = shop_chains::table
                .find(chain.name())
                .select((shop_chains::seq, shop_chains::hash))
                .for_update()
                .first(c)?;
            if head.0 > 0 {
                return Ok(());
            }
            write(c, chain, head, None, "What was here already is bound to the record.", &Rows::new())
        })?;
    }
    Ok(())
}

/// All entries of a chain.
///
/// # Errors
/// Database errors.
pub fn entries(c: &mut MysqlConnection, chain: Chain) -> Result<Vec<ShopEntry>> {
    Ok(shop_record::table.filter(shop_record::chain.eq(chain.name())).order(shop_record::seq).load(c)?)
}

/// Head of a chain: how many entries, and the hash of the last.
///
/// # Errors
/// Database errors.
pub fn head(c: &mut MysqlConnection, chain: Chain) -> Result<(i32, String)> {
    Ok(shop_chains::table.find(chain.name()).select((shop_chains::seq, shop_chains::hash)).first(c)?)
}

/// How many entries all chains of the shop have: nothing of people, rules, stores, machine types and the list of
/// rebuilds changes without one more.
///
/// # Errors
/// Database errors.
pub(crate) fn revision(c: &mut MysqlConnection) -> Result<i64> {
    Ok(shop_chains::table.select(diesel::dsl::sum(shop_chains::seq)).first::<Option<i64>>(c)?.unwrap_or(0))
}

/// Hash of one entry.
pub(crate) fn hash_at(c: &mut MysqlConnection, chain: &str, seq: i32) -> Result<Option<String>> {
    Ok(shop_record::table.find((chain, seq)).select(shop_record::hash).first(c).optional()?)
}

/// Checks a chain of the shop, and its rows.
///
/// # Errors
/// Database errors.
pub fn verify(c: &mut MysqlConnection, chain: Chain) -> Result<Verdict> {
    let (seq, hashed) = head(c, chain)?;
    let list = entries(c, chain)?;
    let links =
        list.iter().map(|e| Link { seq: e.seq, at: e.at, prev: &e.prev_hash, hash: &e.hash, again: e.hashed() });
    let verdict = follow(links, seq, &hashed);
    if !verdict.whole() {
        return Ok(verdict);
    }
    let said = chain::digests::fold(list.iter().map(|e| e.bound.as_str()))?;
    let rows = chain::digests::compare(&said, &chain::digests::rows(c, Scope::Shop(chain), false)?);
    Ok(if rows.is_empty() { verdict } else { Verdict::Changed { rows } })
}
