//! A database of its own for each test, on the server that `bin/test` starts.

pub mod hands;

use diesel::connection::SimpleConnection as _;
use diesel::{Connection as _, MysqlConnection, RunQueryDsl as _};
use ironseat_store::read::{floor, people, roster};
use ironseat_store::rows::person::Person;
use ironseat_store::{RebuildId, Store, load_demo};
use std::fmt::Write as _;
use tokio::sync::OnceCell;

/// A store on a fresh database that is dropped again.
pub struct Fresh {
    pub store: Store,
    pub url: String,
    name: String,
    admin: String,
}

impl Fresh {
    /// Migrated, and otherwise empty: a copy of one that is migrated once for all tests of a program.
    pub async fn empty() -> Self {
        static MODEL: OnceCell<Model> = OnceCell::const_new();
        let model = MODEL.get_or_init(async || Model::of(Self::migrated().await)).await;
        model.copied(Self::bare().await)
    }

    /// By the migrations themselves.
    pub async fn migrated() -> Self {
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
        static MODEL: OnceCell<Model> = OnceCell::const_new();
        let model = MODEL
            .get_or_init(async || {
                let fresh = Self::migrated().await;
                fresh.store.run(load_demo).await.unwrap();
                Model::of(fresh)
            })
            .await;
        model.copied(Self::bare().await)
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

/// A database that others are copies of.
struct Model {
    /// Kept, so that it is there to be copied.
    from: Fresh,
    /// Makes its tables.
    tables: Vec<(String, String)>,
}

impl Model {
    fn of(from: Fresh) -> Self {
        #[derive(diesel::QueryableByName)]
        struct Name {
            #[diesel(sql_type = diesel::sql_types::Text)]
            name: String,
        }
        #[derive(diesel::QueryableByName)]
        struct Made {
            #[diesel(sql_type = diesel::sql_types::Text, column_name = "Create Table")]
            made: String,
        }
        let c = &mut from.connection();
        let sql = "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE()";
        let names = diesel::sql_query(sql).load::<Name>(c).unwrap();
        let tables = names.into_iter().map(|n| {
            let made = diesel::sql_query(format!("SHOW CREATE TABLE {}", n.name)).get_result::<Made>(c).unwrap();
            (n.name, made.made)
        });
        Self { tables: tables.collect(), from }
    }

    fn copied(&self, into: Fresh) -> Fresh {
        let mut copy = "SET foreign_key_checks = 0;".to_owned();
        for (name, made) in &self.tables {
            let _ = write!(copy, "{made}; INSERT INTO {name} SELECT * FROM {}.{name};", self.from.name);
        }
        into.connection().batch_execute(&copy).unwrap();
        into
    }
}

impl Drop for Fresh {
    fn drop(&mut self) {
        if let Ok(mut c) = MysqlConnection::establish(&self.admin) {
            let _ = c.batch_execute(&format!("DROP DATABASE IF EXISTS {}", self.name));
        }
    }
}
