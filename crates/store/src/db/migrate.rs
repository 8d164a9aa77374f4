//! The schema: brought up to date, and looked at before anything is served. A run that was killed in the middle is
//! taken up again: every statement of a migration may run twice, because MariaDB ends a transaction at each change of a
//! table.

use crate::db::named_lock;
use crate::{Result, StoreError};
use diesel::migration::MigrationSource;
use diesel::mysql::Mysql;
use diesel::prelude::*;
use diesel::sql_types::Text;
use diesel_migrations::{EmbeddedMigrations, MigrationHarness as _, embed_migrations};
use std::collections::BTreeSet;

const MIGRATIONS: EmbeddedMigrations = embed_migrations!();

/// The schema as it is when all migrations ran, written by a test from a real one.
const EXPECTED: &str = include_str!("../../schema.txt");

/// Stands as long as a backup is being put back, so that half of one is never taken for the whole.
pub(crate) const RESTORING: &str = "restore_running";

/// What a schema is, seen from this program.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Schema {
    /// As it should be.
    Ready,
    /// Migrations have not run yet, or not to their end.
    Older,
    /// Brought up to date by a newer program.
    Newer,
    /// A backup is being put back, or that was interrupted.
    Restoring,
    /// Something is not as the migrations made it.
    Damaged(Vec<String>),
}

impl Schema {
    /// Why nothing is served, as a sentence; none when all is well.
    #[must_use]
    pub fn held(&self) -> Option<String> {
        Some(match self {
            Self::Ready => return None,
            Self::Older => "The database is older than this program: run iron-seat migrate first.".into(),
            Self::Newer => "The database was brought up to date by a newer program: start that one, or put a backup from before back into an empty database.".into(),
            Self::Restoring => "A backup is being put back into this database, or that was interrupted: run iron-seat restore with the same file again.".into(),
            Self::Damaged(what) => {
                let list: Vec<&str> = what.iter().take(4).map(String::as_str).collect();
                let more = if what.len() > 4 { format!(", and {} more", what.len() - 4) } else { String::new() };
                format!("The database is damaged: {}{more}. Put the newest backup back into an empty database with iron-seat restore.", list.join(", "))
            }
        })
    }
}

fn internal(e: impl std::fmt::Display) -> StoreError {
    StoreError::Internal(e.to_string())
}

/// Brings the schema up to date, and then has `renew` bring old rows up to date, before anybody else comes in. Returns
/// how many migrations ran.
///
/// # Errors
/// Held for a database of a newer program, one that is damaged, or one that somebody else is bringing up to date.
pub fn migrate(c: &mut MysqlConnection, renew: impl FnOnce(&mut MysqlConnection) -> Result<()>) -> Result<usize> {
    alone(c, |c| {
        match look(c)? {
            Schema::Newer | Schema::Restoring => return Err(StoreError::Held(look(c)?.held().unwrap_or_default())),
            _ => {}
        }
        let n = c.run_pending_migrations(MIGRATIONS).map(|m| m.len()).map_err(internal)?;
        if let Some(why) = look(c)?.held() {
            return Err(StoreError::Held(why));
        }
        renew(c)?;
        Ok(n)
    })
}

/// One at a time, however many are started.
pub(crate) fn alone<T>(c: &mut MysqlConnection, work: impl FnOnce(&mut MysqlConnection) -> Result<T>) -> Result<T> {
    let busy =
        StoreError::Held("somebody else has been bringing this database up to date for a minute: try again".into());
    named_lock::alone(c, "schema", 60, busy, work)
}

/// Looks at the schema: three queries, no row of a record.
///
/// # Errors
/// Database errors.
pub fn look(c: &mut MysqlConnection) -> Result<Schema> {
    let now = lines(c)?;
    let there = tables_of(&now);
    if there.contains(RESTORING) {
        return Ok(Schema::Restoring);
    }
    let ran: BTreeSet<String> = if there.contains("__diesel_schema_migrations") {
        c.applied_migrations().map_err(internal)?.iter().map(ToString::to_string).collect()
    } else {
        BTreeSet::new()
    };
    let known = known()?;
    if ran.iter().any(|v| !known.contains(v)) {
        return Ok(Schema::Newer);
    }
    if known.iter().any(|v| !ran.contains(v)) {
        return Ok(Schema::Older);
    }
    let damage: Vec<String> = EXPECTED.lines().filter(|l| !now.contains(*l)).map(missing).collect();
    Ok(if damage.is_empty() { Schema::Ready } else { Schema::Damaged(damage) })
}

fn known() -> Result<BTreeSet<String>> {
    let list = MigrationSource::<Mysql>::migrations(&MIGRATIONS).map_err(internal)?;
    Ok(list.iter().map(|m| m.name().version().to_string()).collect())
}

/// `readings.value double` as words.
fn missing(line: &str) -> String {
    let (name, what) = line.split_once(' ').unwrap_or((line, ""));
    match name.split_once('.') {
        Some((table, "key")) => format!("{table} has lost the key {what}"),
        Some((table, column)) => format!("{table} has no {column} as it was made"),
        None => line.to_owned(),
    }
}

#[derive(QueryableByName)]
struct SchemaLine {
    #[diesel(sql_type = Text)]
    line: String,
}

/// The schema as lines: columns with their types, and keys with what they stand on.
fn lines(c: &mut MysqlConnection) -> Result<BTreeSet<String>> {
    let list: Vec<SchemaLine> = diesel::sql_query(
        "SELECT CONVERT(CONCAT(table_name, '.', column_name, ' ', column_type, IF(is_nullable = 'YES', ' null', '')) USING utf8mb4) AS line \
           FROM information_schema.columns WHERE table_schema = DATABASE() \
         UNION ALL \
         SELECT CONVERT(CONCAT(table_name, '.key ', IF(non_unique = 0, 'unique ', ''), GROUP_CONCAT(column_name ORDER BY seq_in_index SEPARATOR '+')) USING utf8mb4) \
           FROM information_schema.statistics WHERE table_schema = DATABASE() GROUP BY table_name, index_name, non_unique \
         UNION ALL \
         SELECT CONVERT(CONCAT(table_name, '.key ', column_name, ' to ', referenced_table_name) USING utf8mb4) \
           FROM information_schema.key_column_usage WHERE table_schema = DATABASE() AND referenced_table_name IS NOT NULL",
    )
    .load(c)?;
    Ok(list.into_iter().map(|l| l.line).collect())
}

fn tables_of(lines: &BTreeSet<String>) -> BTreeSet<&str> {
    lines.iter().filter_map(|l| l.split_once('.').map(|x| x.0)).collect()
}

/// Names of the tables that there are.
pub(crate) fn tables(c: &mut MysqlConnection) -> Result<Vec<String>> {
    Ok(tables_of(&lines(c)?).into_iter().map(str::to_owned).collect())
}

/// The schema of now as the file beside this module has it.
///
/// # Errors
/// Database errors.
pub fn written(c: &mut MysqlConnection) -> Result<String> {
    Ok(lines(c)?.iter().filter(|l| !l.starts_with("__diesel")).fold(String::new(), |out, l| out + l + "\n"))
}
