//! Files that were handed in and are looked at before anything of them is kept. They are their person's, and go after a
//! day.

use crate::db::schema::{upload_parts, uploads};
use crate::db::transaction::transaction;
use crate::rows::person::Person;
use crate::{Result, StoreError, UploadId};
use chrono::TimeDelta;
use diesel::prelude::*;

/// Bytes of one row: less than what the database takes in one go.
const PART: usize = 4 << 20;

/// So long they are kept.
const KEPT: TimeDelta = TimeDelta::hours(24);

/// So many of one person; older ones go.
const MOST: i64 = 8;

/// What a file is taken for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum UploadKind {
    Readings,
    Archive,
    Leaves,
    Pattern,
}

impl UploadKind {
    fn key(self) -> &'static str {
        match self {
            Self::Readings => "readings",
            Self::Archive => "archive",
            Self::Leaves => "leaves",
            Self::Pattern => "pattern",
        }
    }
}

/// Keeps a file for a while.
///
/// # Errors
/// Database errors.
pub fn keep(c: &mut MysqlConnection, who: &Person, kind: UploadKind, name: &str, bytes: &[u8]) -> Result<UploadId> {
    let id = UploadId::new();
    let name: String = name.chars().filter(|x| !x.is_control()).take(160).collect();
    transaction(c, |c| {
        let old: Vec<UploadId> = uploads::table
            .filter(uploads::person_id.eq(who.id))
            .order(uploads::at.desc())
            .offset(MOST - 1)
            .limit(100)
            .select(uploads::id)
            .load(c)?;
        diesel::delete(uploads::table.filter(uploads::id.eq_any(old))).execute(c)?;
        diesel::insert_into(uploads::table)
            .values((
                uploads::id.eq(id),
                uploads::person_id.eq(who.id),
                uploads::kind.eq(kind.key()),
                uploads::name.eq(name),
                uploads::at.eq(crate::now()),
            ))
            .execute(c)?;
        for (n, part) in (0i32..).zip(bytes.chunks(PART)) {
            diesel::insert_into(upload_parts::table)
                .values((upload_parts::upload_id.eq(id), upload_parts::n.eq(n), upload_parts::body.eq(part)))
                .execute(c)?;
        }
        Ok(())
    })?;
    Ok(id)
}

/// Name and bytes of a file of one's own.
///
/// # Errors
/// Not found, also for one of another person or another kind, and after it went.
pub fn get(c: &mut MysqlConnection, who: &Person, kind: UploadKind, id: UploadId) -> Result<(String, Vec<u8>)> {
    let name: String = uploads::table
        .filter(uploads::id.eq(id))
        .filter(uploads::person_id.eq(who.id))
        .filter(uploads::kind.eq(kind.key()))
        .select(uploads::name)
        .first(c)
        .optional()?
        .ok_or(StoreError::NotFound)?;
    let parts: Vec<Vec<u8>> = upload_parts::table
        .filter(upload_parts::upload_id.eq(id))
        .order(upload_parts::n)
        .select(upload_parts::body)
        .load(c)?;
    Ok((name, parts.concat()))
}

/// Takes a file away whose work is done.
///
/// # Errors
/// Database errors.
pub fn done(c: &mut MysqlConnection, id: UploadId) -> Result<()> {
    diesel::delete(uploads::table.find(id)).execute(c)?;
    Ok(())
}

/// Takes files away that nobody came back to.
///
/// # Errors
/// Database errors.
pub fn purge(c: &mut MysqlConnection) -> Result<usize> {
    Ok(diesel::delete(uploads::table.filter(uploads::at.lt(crate::now() - KEPT))).execute(c)?)
}
