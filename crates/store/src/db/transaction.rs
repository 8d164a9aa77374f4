//! Transactions that are whole or nothing on a cluster too.
//!
//! A node of a Galera cluster rolls a transaction back when another node was faster, and says so at its next statement.
//! MariaDB 10.11 forgets to say so now and then: what follows is then kept statement by statement, and half a
//! transaction stands (seen: 2 of 371 readings without their entry, six people on one rebuild at three nodes;
//! `bin/trial cluster`). So nothing is kept by itself while work is done, and a savepoint that was set at its beginning
//! must still be there at its end.

use crate::{Result, StoreError};
use diesel::MysqlConnection;
use diesel::connection::{Connection as _, SimpleConnection as _, TransactionManager as _};

const BEGIN: &str = "SET autocommit = 0; SAVEPOINT whole";

const END: &str = "RELEASE SAVEPOINT whole; COMMIT; SET autocommit = 1";

/// Does work as one transaction, or as a part of the one that is open.
///
/// # Errors
/// What `work` says; [`StoreError::Clash`] when the transaction lost against another, or was lost: all of it may be
/// done again.
pub fn transaction<T>(c: &mut MysqlConnection, work: impl FnOnce(&mut MysqlConnection) -> Result<T>) -> Result<T> {
    let manager = <MysqlConnection as diesel::Connection>::TransactionManager::transaction_manager_status_mut(c);
    if manager.transaction_depth()?.is_some() {
        return c.transaction(work);
    }
    let done = c.transaction(|c| {
        c.batch_execute(BEGIN)?;
        match work(c) {
            Ok(t) => {
                c.batch_execute(END).map_err(lost)?;
                Ok(t)
            }
            Err(e @ (StoreError::Clash | StoreError::Unavailable(_))) => Err(e),
            // What a torn transaction says is not to be believed either.
            Err(e) => match c.batch_execute("RELEASE SAVEPOINT whole").map_err(lost) {
                Err(torn @ StoreError::Clash) => Err(torn),
                _ => Err(e),
            },
        }
    });
    if done.is_err() {
        // A connection that is gone says so at its next use.
        let _ = c.batch_execute("SET autocommit = 1");
    }
    done
}

/// Does work, and undoes it: what would be done is known without anything being kept.
///
/// # Errors
/// As [`transaction`].
pub fn undone<T>(c: &mut MysqlConnection, work: impl FnOnce(&mut MysqlConnection) -> Result<T>) -> Result<T> {
    let mut seen = None;
    let end = transaction(c, |c| {
        seen = Some(work(c)?);
        Err::<(), _>(StoreError::Internal("looked at".into()))
    });
    match (seen, end) {
        // A transaction that was lost on the way saw nothing that is to be believed.
        (_, Err(e @ (StoreError::Clash | StoreError::Unavailable(_)))) | (None, Err(e)) => Err(e),
        (Some(t), _) => Ok(t),
        (None, Ok(())) => Err(StoreError::Clash),
    }
}

fn lost(e: diesel::result::Error) -> StoreError {
    if e.to_string().contains("SAVEPOINT") {
        tracing::warn!("the database lost a transaction on the way: all of it is done again");
    }
    e.into()
}
