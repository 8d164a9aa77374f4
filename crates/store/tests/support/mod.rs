//! A database of its own for each test, on the server that `bin/test` starts.

#![allow(dead_code, clippy::unwrap_used, missing_docs)]

pub mod hands;

use diesel::{Connection as _, MysqlConnection, connection::SimpleConnection as _};
use ironseat_store::people::{self, Person};
use ironseat_store::{RebuildId, Store, floor, load_demo, roster};
use std::fmt::Write as _;

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

    /// The demo, copied from one that is loaded once for all tests of a program.
    pub async fn demo() -> Self {
        static MODEL: tokio::sync::OnceCell<Fresh> = tokio::sync::OnceCell::const_new();
        let model = MODEL
            .get_or_init(|| async {
                let fresh = Self::empty().await;
                fresh.store.run(load_demo).await.unwrap();
                fresh
            })
            .await;
        let fresh = Self::empty().await;
        let c = &mut fresh.connection();
        let mut copy = "SET foreign_key_checks = 0;".to_owned();
        for table in tables(c) {
            let _ = write!(copy, "REPLACE INTO {0}.{table} SELECT * FROM {1}.{table};", fresh.name, model.name);
        }
        c.batch_execute(&copy).unwrap();
        fresh
    }

    /// A connection, with every table gone.
    pub fn wiped(&self) -> MysqlConnection {
        let name = &self.name;
        let mut c = self.connection();
        c.batch_execute(&format!(
            "DROP DATABASE {name}; CREATE DATABASE {name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci; USE {name}"
        ))
        .unwrap();
        c
    }

    pub fn connection(&self) -> MysqlConnection {
        let mut c = MysqlConnection::establish(&self.url).unwrap();
        c.batch_execute("SET time_zone = '+00:00'").unwrap();
        c
    }

    pub fn person(&self, handle: &str) -> Person {
        let c = &mut self.connection();
        let id = roster::list(c).unwrap().into_iter().find(|p| p.handle == handle).unwrap().id;
        people::get(c, id).unwrap().unwrap()
    }

    pub fn rebuild(&self, number: &str) -> RebuildId {
        let q = floor::FloorQuery { find: number.into(), ..Default::default() };
        floor::floor(&mut self.connection(), &q).unwrap().strips.first().unwrap().bench.rebuild.id
    }
}

/// Names of all tables.
fn tables(c: &mut MysqlConnection) -> Vec<String> {
    #[derive(diesel::QueryableByName)]
    struct Name {
        #[diesel(sql_type = diesel::sql_types::Text)]
        name: String,
    }
    let sql = "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE()";
    diesel::RunQueryDsl::load::<Name>(diesel::sql_query(sql), c).unwrap().into_iter().map(|n| n.name).collect()
}

impl Drop for Fresh {
    fn drop(&mut self) {
        if let Ok(mut c) = MysqlConnection::establish(&self.admin) {
            let _ = c.batch_execute(&format!("DROP DATABASE IF EXISTS {}", self.name));
        }
    }
}
