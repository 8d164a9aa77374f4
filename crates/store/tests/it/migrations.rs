//! Migrations: from the first version on, with data, cut off between any two statements; and schemas that are not
//! served.

use crate::support::Fresh;
use diesel::MysqlConnection;
use diesel::RunQueryDsl as _;
use diesel::connection::SimpleConnection as _;
use expect_test::expect_file;
use ironseat_core::terms::text;
use ironseat_store::chain;
use ironseat_store::db::migrate::{self, Schema};

/// Every migration: its version and its statements.
fn migrations() -> Vec<(String, Vec<String>)> {
    let mut dirs: Vec<_> = std::fs::read_dir(concat!(env!("CARGO_MANIFEST_DIR"), "/migrations"))
        .unwrap()
        .map(|d| d.unwrap().path())
        .collect();
    dirs.sort();
    dirs.iter()
        .map(|d| {
            let version = d.file_name().unwrap().to_str().unwrap().split('_').next().unwrap().replace('-', "");
            let sql = std::fs::read_to_string(d.join("up.sql")).unwrap();
            let plain: String =
                sql.lines().filter(|l| !l.trim_start().starts_with("--")).collect::<Vec<_>>().join("\n");
            (
                version,
                plain
                    .split(";\n")
                    .map(|s| s.trim().trim_end_matches(';').to_owned())
                    .filter(|s| !s.is_empty())
                    .collect(),
            )
        })
        .collect()
}

const RAN: &str = "CREATE TABLE IF NOT EXISTS __diesel_schema_migrations (version VARCHAR(50) PRIMARY KEY NOT NULL, run_on TIMESTAMP NOT NULL DEFAULT CURRENT_TIMESTAMP)";

/// A shop as the first version kept it: a lead, a viewer, a type, a rebuild with an entry.
const FIRST: &str = "
INSERT INTO people (id, handle, name, initials, role, password_hash, units, theme) VALUES
 (x'01', 'ines', 'Ines Okafor', 'IO', 'lead', 'x', 'metric', 'system'), (x'02', 'saltmarsh', 'Saltmarsh Works', 'SW', 'viewer', 'x', 'metric', 'system');
INSERT INTO shops (id, name, demo, rules, revision) VALUES (1, 'Quay', 0, '{}', 1);
INSERT INTO tools (id, name, bore_mm, outside_mm, length_mm) VALUES (x'03', 'tube', 41, 60, 200);";

/// All migrations before the `n`th whole, and the first `k` statements of it.
fn up_to(c: &mut MysqlConnection, n: usize, k: usize, with_data: bool) {
    c.batch_execute(RAN).unwrap();
    for (i, (version, statements)) in migrations().iter().enumerate().take(n + 1) {
        let whole = i < n;
        for s in statements.iter().take(if whole { usize::MAX } else { k }) {
            c.batch_execute(s).unwrap_or_else(|e| panic!("{version}: {e}: {s}"));
        }
        if whole {
            c.batch_execute(&format!("INSERT INTO __diesel_schema_migrations (version) VALUES ('{version}')")).unwrap();
        }
        if whole && i == 0 && with_data {
            c.batch_execute(FIRST).unwrap();
        }
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn the_schema_is_what_the_file_says() {
    let f = Fresh::bare().await;
    // A schema that is another than the file is refused, after it was made: what it is now is compared below.
    let _ = f.store.migrate().await;
    let c = &mut f.connection();
    expect_file!["../../schema.txt"].assert_eq(&migrate::written(c).unwrap());
}

#[tokio::test(flavor = "multi_thread")]
async fn a_run_that_was_cut_off_anywhere_is_taken_up_again() {
    let f = Fresh::bare().await;
    for (n, (version, statements)) in migrations().iter().enumerate() {
        // Before the first statement, between any two, and after the last with the run not yet noted.
        for k in 0..=statements.len() {
            let c = &mut f.wiped();
            up_to(c, n, k, true);
            assert_eq!(migrate::look(c).unwrap(), Schema::Older, "{version} cut off after {k}");
            assert!(migrate::look(c).unwrap().held().unwrap().contains("migrate"));
            f.store.migrate().await.unwrap_or_else(|e| panic!("{version} cut off after {k}: {e}"));
            assert_eq!(migrate::look(c).unwrap(), Schema::Ready, "{version} cut off after {k}");
            if n > 0 {
                for (chain, name) in ironseat_store::chain::digests::Chain::ALL {
                    assert!(
                        ironseat_store::chain::shop::verify(c, chain).unwrap().whole(),
                        "{name}: {version} cut off after {k}"
                    );
                }
                let there = ironseat_store::read::roster::list(c).unwrap();
                assert_eq!(there.len(), 2, "{version} cut off after {k}");
            }
        }
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn two_that_bring_it_up_to_date_at_once_do_it_once() {
    let f = Fresh::bare().await;
    let (a, b) = tokio::join!(f.store.migrate(), f.store.migrate());
    let (a, b) = (a.unwrap(), b.unwrap());
    assert_eq!((a.min(b), a.max(b)), (0, migrations().len()));
}

#[tokio::test(flavor = "multi_thread")]
async fn older_newer_and_damaged_schemas_are_told_apart() {
    let f = Fresh::bare().await;
    let c = &mut f.connection();
    assert_eq!(migrate::look(c).unwrap(), Schema::Older, "an empty database");
    f.store.migrate().await.unwrap();
    f.store.run(ironseat_store::load_demo).await.unwrap();
    assert_eq!(migrate::look(c).unwrap(), Schema::Ready);

    c.batch_execute("INSERT INTO __diesel_schema_migrations (version) VALUES ('20991231000000')").unwrap();
    assert_eq!(migrate::look(c).unwrap(), Schema::Newer);
    assert!(f.store.migrate().await.unwrap_err().to_string().contains("newer program"));
    c.batch_execute("DELETE FROM __diesel_schema_migrations WHERE version = '20991231000000'").unwrap();

    // Each kind of damage is named, and nothing is brought up to date over it.
    let damages = [
        (
            "ALTER TABLE draft_states DROP COLUMN said",
            "draft_states has no said",
            "ALTER TABLE draft_states ADD COLUMN said VARCHAR(160) NOT NULL",
        ),
        (
            "ALTER TABLE sessions MODIFY COLUMN expires_at DATETIME NOT NULL",
            "sessions has no expires_at",
            "ALTER TABLE sessions MODIFY COLUMN expires_at DATETIME(6) NOT NULL",
        ),
        (
            "ALTER TABLE readings ADD KEY other (sheet_id), DROP KEY reading_place",
            "readings has lost the key unique",
            "ALTER TABLE readings ADD UNIQUE KEY reading_place (sheet_id, cell, seq), DROP KEY other",
        ),
        ("RENAME TABLE rounds TO rounded", "rounds has no", "RENAME TABLE rounded TO rounds"),
    ];
    for (harm, named, mend) in damages {
        c.batch_execute(harm).unwrap();
        let said = migrate::look(c).unwrap().held().unwrap();
        assert!(said.contains(named) && said.contains("backup"), "{said}");
        assert!(f.store.migrate().await.unwrap_err().to_string().contains(named));
        c.batch_execute(mend).unwrap();
        assert_eq!(migrate::look(c).unwrap(), Schema::Ready, "{mend}");
    }
    for (id, number) in chain::rebuild::all_rebuilds(c).unwrap() {
        assert!(chain::rebuild::verify(c, id, true).unwrap().whole(), "{number}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_backup_of_an_older_version_is_brought_up_to_date_when_it_is_put_back() {
    let f = Fresh::bare().await;
    let file = std::env::temp_dir().join(format!("iron-seat-old-{}", ironseat_store::RebuildId::new()));
    up_to(&mut f.connection(), 3, 0, true);
    ironseat_store::db::backup::backup(&f.url, &file).unwrap();
    let c = &mut f.wiped();
    f.store.restore(&f.url, &file).await.unwrap();
    std::fs::remove_file(&file).unwrap();
    assert_eq!(migrate::look(c).unwrap(), Schema::Ready);
    assert_eq!(ironseat_store::read::roster::list(c).unwrap().len(), 2);
}

/// What a check lets through has room in its column.
#[tokio::test]
async fn columns_are_as_wide_as_checks_allow() {
    #[derive(diesel::QueryableByName)]
    struct Column {
        #[diesel(sql_type = diesel::sql_types::Text)]
        name: String,
        #[diesel(sql_type = diesel::sql_types::Unsigned<diesel::sql_types::BigInt>)]
        wide: u64,
    }
    let fresh = Fresh::empty().await;
    let widths: std::collections::BTreeMap<String, u64> = diesel::sql_query(
        "SELECT CONCAT(table_name, '.', column_name) AS name, character_maximum_length AS wide
           FROM information_schema.columns WHERE table_schema = DATABASE() AND data_type = 'varchar'",
    )
    .load::<Column>(&mut fresh.connection())
    .unwrap()
    .into_iter()
    .map(|c| (c.name, c.wide))
    .collect();
    for (rule, columns) in [
        (text::PERSON, "people.name shop_journal.person"),
        (text::SECOND, "ticks.second_name"),
        (text::HANDLE, "people.handle sign_in_failures.handle"),
        (text::SHOP, "shops.name rebuilds.origin anatomies.origin instruments.origin"),
        (text::ZONE, "shops.zone"),
        (text::CUSTOMER, "customers.name rebuilds.customer"),
        (text::CONTACT, "customers.contact"),
        (text::TITLE, "rebuilds.title"),
        (text::NUMBER, "rebuilds.number"),
        (text::SERIAL, "rebuilds.serial instruments.serial"),
        (text::INSTRUMENT, "instruments.name"),
        (text::PUT_AWAY, "instruments.away"),
        (text::TOKEN, "tokens.name"),
        (text::DRAWN, "drafts.name bolt_patterns.name"),
        (text::SHEET_NAME, "anatomies.name"),
        (text::ID, "steps.seat sheets.seat calls.seat scrapped.part"),
        (text::KEY, "anatomies.type_key drafts.type_key"),
        (text::PIN_ABOUT, "pins.about"),
        (text::FIGURE, "readings.typed"),
        (text::FOUND, "answers.value"),
        (text::NOTE, "answers.note"),
        (text::REPAIR, "repairs.what"),
        (text::OVERRULE, "calls.overrule_reason"),
        (text::AGAINST, "ticks.reason"),
        (text::FATE, "dispositions.reason"),
    ] {
        for column in columns.split(' ') {
            let wide = widths.get(column).unwrap_or_else(|| panic!("there is no {column}"));
            assert!(*wide >= rule.most as u64, "{column} holds {wide} of {} characters", rule.most);
        }
    }
}
