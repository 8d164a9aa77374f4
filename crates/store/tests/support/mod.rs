//! A database of its own for each test, on the server that `bin/test` starts.

#![allow(dead_code, clippy::unwrap_used, missing_docs)]

pub mod hands;

use diesel::{Connection as _, MysqlConnection, connection::SimpleConnection as _};
use ironseat_store::people::{self, Person};
use ironseat_store::{Id, Store, load_demo, rebuilds};

/// A store on a fresh database that is dropped again.
pub struct Fresh {
    pub store: Store,
    pub url: String,
    name: String,
    admin: String,
}

impl Fresh {
    pub async fn empty() -> Self {
        let fresh = Self::bare().await;
        fresh.store.migrate().await.unwrap();
        fresh
    }

    /// A database without any table.
    pub async fn bare() -> Self {
        let admin = std::env::var("IRONSEAT_TEST_DATABASE")
            .expect("IRONSEAT_TEST_DATABASE names a MariaDB for tests: run bin/test, which starts one");
        let name = format!("ironseat_t_{}", uuid::Uuid::now_v7().simple());
        let mut c = MysqlConnection::establish(&admin).unwrap();
        c.batch_execute(&format!("CREATE DATABASE {name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci")).unwrap();
        let url = format!("{}/{name}", admin.trim_end_matches('/'));
        let store = Store::open(&url, 8).unwrap();
        Self { store, url, name, admin }
    }

    pub async fn demo() -> Self {
        let fresh = Self::empty().await;
        fresh.store.run(load_demo).await.unwrap();
        fresh
    }

    /// A connection, with every table gone.
    pub fn wiped(&self) -> MysqlConnection {
        let name = &self.name;
        let mut c = self.connection();
        c.batch_execute(&format!("DROP DATABASE {name}; CREATE DATABASE {name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci; USE {name}")).unwrap();
        c
    }

    pub fn connection(&self) -> MysqlConnection {
        let mut c = MysqlConnection::establish(&self.url).unwrap();
        c.batch_execute("SET time_zone = '+00:00'").unwrap();
        c
    }

    pub fn person(&self, handle: &str) -> Person {
        people::sign_in(&mut self.connection(), handle, ironseat_store::DEMO_PASSWORD).unwrap().unwrap()
    }

    pub fn rebuild(&self, number: &str) -> Id {
        let q = rebuilds::FloorQuery { find: number.into(), ..Default::default() };
        rebuilds::floor(&mut self.connection(), &q).unwrap().0.first().unwrap().rebuild.id
    }
}

impl Drop for Fresh {
    fn drop(&mut self) {
        if let Ok(mut c) = MysqlConnection::establish(&self.admin) {
            let _ = c.batch_execute(&format!("DROP DATABASE IF EXISTS {}", self.name));
        }
    }
}
