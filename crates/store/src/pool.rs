//! The bounded pool of synchronous connections.

use crate::{Result, StoreError};
use deadpool::managed::{Manager, Metrics, Object, Pool, RecycleError, RecycleResult};
use deadpool_sync::SyncWrapper;
use diesel::connection::{SimpleConnection as _, TransactionManager as _};
use diesel::{Connection as _, ConnectionError, MysqlConnection};
use std::time::Duration;

/// After so long a connection is asked whether it is still there. One that was just used is not: that saves a round
/// trip and a change of thread on every request; one that breaks in use is thrown away by [`crate::Store::run`].
const RESTED: Duration = Duration::from_millis(500);

const SETTINGS: &str = "SET time_zone = '+00:00', sql_mode = 'STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION,ERROR_FOR_DIVISION_BY_ZERO', innodb_lock_wait_timeout = 5";

/// Makes and checks connections to one address.
#[derive(Debug)]
pub(crate) struct Connections {
    url: String,
}

pub(crate) type Connection = Object<Connections>;

impl Manager for Connections {
    type Type = SyncWrapper<MysqlConnection>;
    type Error = ConnectionError;

    async fn create(&self) -> std::result::Result<Self::Type, ConnectionError> {
        let url = self.url.clone();
        SyncWrapper::new(deadpool::Runtime::Tokio1, move || {
            let mut c = MysqlConnection::establish(&url)?;
            c.batch_execute(SETTINGS).map_err(ConnectionError::CouldntSetupConfiguration)?;
            Ok(c)
        })
        .await
    }

    async fn recycle(&self, c: &mut Self::Type, metrics: &Metrics) -> RecycleResult<ConnectionError> {
        if c.is_mutex_poisoned() {
            return Err(RecycleError::message("work on this connection panicked"));
        }
        if metrics.last_used() < RESTED {
            return Ok(());
        }
        let there = c.interact(|c| {
            !<MysqlConnection as diesel::Connection>::TransactionManager::is_broken_transaction_manager(c)
                && c.batch_execute("DO 1").is_ok()
        });
        match there.await {
            Ok(true) => Ok(()),
            _ => Err(RecycleError::message("the connection is gone")),
        }
    }
}

/// A pool; no connection is made yet.
pub(crate) fn open(url: &str, connections: usize) -> Result<Pool<Connections>> {
    let patience = Some(Duration::from_secs(5));
    Pool::builder(Connections { url: url.to_owned() })
        .max_size(connections)
        .runtime(deadpool::Runtime::Tokio1)
        .wait_timeout(patience)
        .create_timeout(patience)
        .build()
        .map_err(|e| StoreError::Unavailable(e.to_string()))
}
