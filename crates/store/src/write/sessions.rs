//! Browser sessions: opaque text under a random id, with an expiry.

use crate::Result;
use crate::db::schema::sessions;
use chrono::NaiveDateTime;
use diesel::prelude::*;

/// Adds a session; false when the id is taken.
///
/// # Errors
/// Database errors.
pub fn create(c: &mut MysqlConnection, id: &str, record: &str, expires_at: NaiveDateTime) -> Result<bool> {
    let n = diesel::insert_or_ignore_into(sessions::table)
        .values((sessions::id.eq(id), sessions::record.eq(record), sessions::expires_at.eq(expires_at)))
        .execute(c)?;
    Ok(n == 1)
}

/// Writes a session, old or new.
///
/// # Errors
/// Database errors.
pub fn save(c: &mut MysqlConnection, id: &str, record: &str, expires_at: NaiveDateTime) -> Result<()> {
    diesel::replace_into(sessions::table)
        .values((sessions::id.eq(id), sessions::record.eq(record), sessions::expires_at.eq(expires_at)))
        .execute(c)?;
    Ok(())
}

/// Reads a session that has not expired.
///
/// # Errors
/// Database errors.
pub fn load(c: &mut MysqlConnection, id: &str) -> Result<Option<String>> {
    Ok(sessions::table
        .filter(sessions::id.eq(id))
        .filter(sessions::expires_at.gt(crate::now()))
        .select(sessions::record)
        .first(c)
        .optional()?)
}

/// Ends a session.
///
/// # Errors
/// Database errors.
pub fn delete(c: &mut MysqlConnection, id: &str) -> Result<()> {
    diesel::delete(sessions::table.find(id)).execute(c)?;
    Ok(())
}

/// Removes what has expired.
///
/// # Errors
/// Database errors.
pub fn purge(c: &mut MysqlConnection) -> Result<usize> {
    Ok(diesel::delete(sessions::table.filter(sessions::expires_at.le(crate::now()))).execute(c)?)
}
