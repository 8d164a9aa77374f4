//! Heads of all chains, kept elsewhere to prove later that nothing was cut off; and how far the record is.

use crate::db::schema::{rebuilds, record};
use crate::{RebuildId, Result, chain};
use diesel::prelude::*;

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
    for (chain, name) in chain::digests::Chain::ALL {
        let (seq, hash) = chain::shop::head(c, chain)?;
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
            None => chain::shop::hash_at(c, &h.name, h.seq)?,
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
pub fn revision(c: &mut MysqlConnection, rebuild: Option<RebuildId>) -> Result<i64> {
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
