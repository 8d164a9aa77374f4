//! Work that only one connection at a time may do, wherever it runs. Locks hold for a whole server: the database is
//! part of their names. On a cluster each node has its own.

use crate::{Result, StoreError};
use diesel::prelude::*;
use sha2::{Digest as _, Sha256};
use sql::{database, get_lock, release_lock};

#[allow(missing_docs)]
mod sql {
    use diesel::sql_types::{Integer, Text};
    diesel::define_sql_function! { fn get_lock(name: Text, seconds: Integer) -> Nullable<Integer>; }
    diesel::define_sql_function! { fn release_lock(name: Text) -> Nullable<Integer>; }
    diesel::define_sql_function! { fn database() -> Text; }
}

/// Does work while nobody else does any under the same name; `busy` is told after so many seconds of waiting.
pub(crate) fn alone<T>(
    c: &mut MysqlConnection,
    what: &str,
    seconds: i32,
    busy: StoreError,
    work: impl FnOnce(&mut MysqlConnection) -> Result<T>,
) -> Result<T> {
    let here: String = diesel::select(database()).get_result(c)?;
    let name = hex::encode(&Sha256::digest(format!("{here}|{what}"))[..20]);
    let got: Option<i32> = diesel::select(get_lock(&name, seconds)).get_result(c)?;
    if got != Some(1) {
        return Err(busy);
    }
    let done = work(c);
    // A connection that is gone has let go of it already: what the work said counts.
    let _: QueryResult<Option<i32>> = diesel::select(release_lock(&name)).get_result(c);
    done
}
