//! What is done once after the schema was brought up to date: old rows get what newer ones have.

use crate::db::backup;
use crate::db::migrate::migrate;
use crate::{Result, Store, chain};
use diesel::MysqlConnection;
use std::path::Path;

impl Store {
    /// Brings the schema and old rows up to date. Returns how many migrations ran.
    ///
    /// # Errors
    /// As [`migrate`].
    pub async fn migrate(&self) -> Result<usize> {
        self.run(|c| migrate(c, renew)).await
    }

    /// Puts a backup back into the empty database at `url`, or goes on where that was interrupted, and brings it up to
    /// date.
    ///
    /// # Errors
    /// Held: the file is not whole, the database is not empty, the tool is missing or says why not.
    pub async fn restore(&self, url: &str, from: &Path) -> Result<()> {
        backup::put_back(self, url, from).await?;
        self.migrate().await.map(|_| ())
    }
}

fn renew(c: &mut MysqlConnection) -> Result<()> {
    chain::rebuild::bind_old(c)?;
    chain::shop::bind_old(c)
}
