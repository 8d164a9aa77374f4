//! What binds rows to the record. Each entry carries digests of the rows that its transaction changed; folded in their
//! order they say what every row must be now. A row that was edited, taken out or put in behind the program's back is
//! named by it.
//!
//! Digests are made by the database over every column that it has, so that a column which is added later is bound
//! without a word here. A column that is empty counts as not there: adding one changes no digest.

use crate::{PictureId, RebuildId, Result};
use diesel::prelude::*;
use diesel::sql_types::Text;
use std::collections::BTreeMap;
use std::fmt::{self, Write as _};
use std::sync::OnceLock;

/// What a chain speaks for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Scope {
    /// One rebuild.
    Rebuild(RebuildId),
    /// What belongs to no rebuild.
    Shop(Chain),
}

/// Chains of the shop.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Chain {
    /// Who is there, and what each may do.
    People,
    /// House rules.
    Rules,
    /// Instruments, tools, presses.
    Stores,
    /// Versions of machine types.
    Types,
    /// Which rebuilds there are: one that is gone is missed.
    Rebuilds,
    /// Whose machines they are.
    Customers,
}

impl Chain {
    /// All, with their names in the database.
    pub const ALL: [(Self, &'static str); 6] = [
        (Self::People, "people"),
        (Self::Rules, "rules"),
        (Self::Stores, "stores"),
        (Self::Types, "types"),
        (Self::Rebuilds, "rebuilds"),
        (Self::Customers, "customers"),
    ];
    /// Its name.
    #[must_use]
    pub fn name(self) -> &'static str {
        Self::ALL.iter().find(|c| c.0 == self).map_or("", |c| c.1)
    }
    fn tables(self) -> &'static [&'static str] {
        match self {
            Self::People => &["people", "tokens"],
            Self::Rules => &["shops"],
            Self::Stores => &["instruments", "tools", "presses", "leaves", "bolt_patterns"],
            Self::Types => &["anatomies"],
            Self::Rebuilds => &["rebuilds"],
            Self::Customers => &["customers"],
        }
    }
}

/// Tables of a rebuild, and which of their rows are its own; `{}` stands for its id.
pub(crate) const OF_REBUILD: [(&str, &str); 16] = [
    ("rebuilds", "id = {}"),
    ("anatomies", "id = (SELECT anatomy_id FROM rebuilds WHERE id = {})"),
    ("steps", "rebuild_id = {}"),
    ("sheets", "rebuild_id = {}"),
    ("readings", "sheet_id IN (SELECT id FROM sheets WHERE rebuild_id = {})"),
    ("calls", "rebuild_id = {}"),
    ("clocks", "rebuild_id = {}"),
    ("sign_offs", "rebuild_id = {}"),
    ("ticks", "rebuild_id = {}"),
    ("answers", "rebuild_id = {}"),
    ("rounds", "rebuild_id = {}"),
    ("scrapped", "rebuild_id = {}"),
    ("repairs", "rebuild_id = {}"),
    ("pictures", "rebuild_id = {}"),
    ("pins", "rebuild_id = {}"),
    ("dispositions", "rebuild_id = {}"),
];

/// Bytes of pictures: they never change, so they are looked at when one is put in, and when a record is verified.
const BODIES: (&str, &str) = ("picture_bodies", "picture_id IN (SELECT id FROM pictures WHERE rebuild_id = {})");

/// Columns that no entry speaks for: the heads of chains, which are checked by themselves, what a person sets for the
/// eye, and when a key was last used.
const LOOSE: [(&str, &str); 5] = [
    ("rebuilds", "journal_seq"),
    ("rebuilds", "journal_hash"),
    ("people", "units"),
    ("people", "theme"),
    ("tokens", "used_at"),
];

/// Which shop something came from: its own chain was written there and does not know, those of this shop do.
pub(crate) const ORIGIN: &str = "origin";

/// Tables that are no record, and why.
pub const NO_RECORD: [(&str, &str); 10] = [
    ("sessions", "who is signed in just now"),
    ("sign_in_failures", "wrong tries of the last minutes"),
    ("uploads", "files that are looked at before anything of them is kept"),
    ("upload_parts", "their bytes"),
    ("drafts", "machine types being drawn: a version is bound when it is kept"),
    ("draft_states", "their undo"),
    ("journal", "the chain itself, checked by its hashes"),
    ("shop_chains", "heads of the chains of the shop, checked with them"),
    ("shop_journal", "the chains of the shop, checked by their hashes"),
    ("__diesel_schema_migrations", "which migrations ran"),
];

/// Table and key of a row, and its digest.
pub(crate) type Rows = BTreeMap<(String, String), String>;

/// Digests of rows that an entry changed, by table and key; none for a row that is gone.
type Change = BTreeMap<String, BTreeMap<String, Option<String>>>;

#[derive(QueryableByName)]
pub(crate) struct Column {
    #[diesel(sql_type = Text)]
    pub(crate) tbl: String,
    #[diesel(sql_type = Text)]
    pub(crate) col: String,
    #[diesel(sql_type = Text)]
    pub(crate) kind: String,
    #[diesel(sql_type = Text)]
    pub(crate) part: String,
}

#[derive(QueryableByName)]
struct Digest {
    #[diesel(sql_type = Text)]
    tbl: String,
    #[diesel(sql_type = Text)]
    k: String,
    #[diesel(sql_type = Text)]
    digest: String,
}

/// Columns of every table, read once: migrations run before anything is bound.
pub(crate) fn columns(c: &mut MysqlConnection) -> Result<&'static Vec<Column>> {
    static KNOWN: OnceLock<Vec<Column>> = OnceLock::new();
    if let Some(known) = KNOWN.get() {
        return Ok(known);
    }
    let list = diesel::sql_query(
        "SELECT table_name AS tbl, column_name AS col, data_type AS kind, column_key AS part FROM information_schema.columns \
         WHERE table_schema = DATABASE() ORDER BY table_name, ordinal_position",
    )
    .load(c)?;
    Ok(KNOWN.get_or_init(|| list))
}

/// One `SELECT` of table, key and digest.
fn select(columns: &[Column], table: &str, filter: &str, own: &str) -> String {
    let of = || columns.iter().filter(|k| k.tbl == table);
    let text = |k: &Column| {
        let bytes = matches!(k.kind.as_str(), "binary" | "varbinary" | "blob" | "mediumblob" | "longblob" | "tinyblob");
        let words = k.kind.ends_with("char") || k.kind.ends_with("text");
        (
            bytes,
            if bytes || words { format!("NULLIF(HEX(`{}`), '')", k.col) } else { format!("CAST(`{}` AS CHAR)", k.col) },
        )
    };
    let mut digest = String::new();
    let loose = |k: &Column| LOOSE.contains(&(table, k.col.as_str())) || !own.is_empty() && k.col == ORIGIN;
    for k in of().filter(|k| !loose(k)) {
        let _ = write!(digest, ", CONCAT('{}=', {})", k.col, text(k).1);
    }
    let keys: Vec<String> = of()
        .filter(|k| k.part == "PRI" && k.col != own)
        .map(|k| if text(k).0 { format!("LOWER(HEX(`{}`))", k.col) } else { format!("CAST(`{}` AS CHAR)", k.col) })
        .collect();
    format!(
        "SELECT '{table}' AS tbl, CONVERT(CONCAT_WS('/', {}) USING utf8mb4) AS k, LEFT(SHA2(CONCAT_WS('|'{digest}), 256), 32) AS digest FROM `{table}` WHERE {filter}",
        keys.join(", ")
    )
}

/// The rows of a scope as they are now: one query. `bodies` looks at the bytes of pictures too.
pub(crate) fn rows(c: &mut MysqlConnection, scope: Scope, bodies: bool) -> Result<Rows> {
    let known = columns(c)?;
    let list: Vec<String> = match scope {
        Scope::Rebuild(id) => {
            let id = format!("x'{}'", id.plain());
            let own = |(table, filter): &(&str, &str)| select(known, table, &filter.replace("{}", &id), "rebuild_id");
            OF_REBUILD.iter().chain(bodies.then_some(&BODIES)).map(own).collect()
        }
        // What a rebuild is stands in its own chain; here, only that it is there, and where from.
        Scope::Shop(Chain::Rebuilds) => {
            vec![
                "SELECT 'rebuilds' AS tbl, LOWER(HEX(id)) AS k, LEFT(SHA2(CONCAT(HEX(id), HEX(origin)), 256), 32) AS digest FROM rebuilds"
                    .to_owned(),
            ]
        }
        Scope::Shop(chain) => chain.tables().iter().map(|t| select(known, t, "1 = 1", "")).collect(),
    };
    query(c, &list.join(" UNION ALL "))
}

/// The bytes of one picture.
pub(crate) fn picture(c: &mut MysqlConnection, picture: PictureId) -> Result<Rows> {
    let known = columns(c)?;
    let sql = select(known, BODIES.0, &format!("picture_id = x'{}'", picture.plain()), "");
    query(c, &sql)
}

fn query(c: &mut MysqlConnection, sql: &str) -> Result<Rows> {
    let list: Vec<Digest> = diesel::sql_query(sql).load(c)?;
    Ok(list.into_iter().map(|d| ((d.tbl, d.k), d.digest)).collect())
}

/// What changed between two looks: as it stands in an entry, empty when nothing did. `said` is what the chain said of
/// rows that were there before: one that was tampered with meanwhile keeps what was said of it, and so stays named.
pub(crate) fn change(before: &Rows, after: &Rows, said: &Rows) -> Result<String> {
    let mut out = Change::new();
    let honest = |row: &(String, String)| before.get(row).is_none_or(|was| said.get(row) == Some(was));
    for (row, digest) in after.iter().filter(|(row, d)| before.get(*row) != Some(*d) && honest(row)) {
        out.entry(row.0.clone()).or_default().insert(row.1.clone(), Some(digest.clone()));
    }
    for row in before.keys().filter(|row| !after.contains_key(*row) && honest(row)) {
        out.entry(row.0.clone()).or_default().insert(row.1.clone(), None);
    }
    Ok(if out.is_empty() { String::new() } else { serde_json::to_string(&out)? })
}

/// Keys of rows that were there before and are changed now.
pub(crate) fn touched<'a>(before: &'a Rows, after: &Rows) -> Vec<&'a str> {
    before.iter().filter(|(row, was)| after.get(*row) != Some(*was)).map(|(row, _)| row.1.as_str()).collect()
}

/// What the entries of a chain say of rows, in their order.
pub(crate) fn fold<'a>(entries: impl IntoIterator<Item = &'a str>) -> Result<Rows> {
    let mut out = Rows::new();
    for text in entries.into_iter().filter(|t| !t.is_empty()) {
        let change: Change = serde_json::from_str(text)?;
        for (table, rows) in change {
            for (key, digest) in rows {
                match digest {
                    Some(d) => out.insert((table.clone(), key), d),
                    None => out.remove(&(table.clone(), key)),
                };
            }
        }
    }
    Ok(out)
}

/// How a row differs from what the chain says of it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum How {
    /// Something in it is another.
    Edited,
    /// It is gone.
    TakenOut,
    /// No entry speaks of it.
    PutIn,
}

/// A row that is not what the record says.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Fault {
    /// Its table.
    pub table: String,
    /// Its key there.
    pub key: String,
    /// What is wrong with it.
    pub how: How,
}

impl fmt::Display for Fault {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let what = match self.table.as_str() {
            "readings" => "a reading",
            "sign_offs" => "a signature",
            "calls" => "a call",
            "ticks" => "a tick",
            "answers" => "what was found",
            "clocks" => "a clock",
            "steps" => "a step of a seat",
            "sheets" => "a sheet",
            "rounds" => "a round",
            "repairs" => "a repair",
            "scrapped" => "a scrapped part",
            "pictures" | "picture_bodies" => "a picture",
            "rebuilds" => "the rebuild itself",
            "anatomies" => "the machine type",
            "people" => "a person",
            "shops" => "the house rules",
            "instruments" => "an instrument",
            "tools" => "a tool",
            "presses" => "a press",
            "customers" => "a customer",
            "dispositions" => "what becomes of a part",
            "tokens" => "a key",
            "leaves" => "a shim leaf",
            "bolt_patterns" => "a bolt pattern",
            other => other,
        };
        let how = match self.how {
            How::Edited => "was edited",
            How::TakenOut => "was taken out",
            How::PutIn => "was put in",
        };
        write!(f, "{what} {how} behind the record ({} {})", self.table, self.key)
    }
}

/// Where rows differ from what a chain says of them.
pub(crate) fn compare(said: &Rows, now: &Rows) -> Vec<Fault> {
    let fault = |row: &(String, String), how| Fault { table: row.0.clone(), key: row.1.clone(), how };
    let gone = said.iter().filter_map(|(row, d)| match now.get(row) {
        None => Some(fault(row, How::TakenOut)),
        Some(n) if n != d => Some(fault(row, How::Edited)),
        Some(_) => None,
    });
    gone.chain(now.keys().filter(|row| !said.contains_key(*row)).map(|row| fault(row, How::PutIn))).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn rows(list: &[(&str, &str)]) -> Rows {
        list.iter().map(|(k, d)| (("ticks".to_owned(), (*k).to_owned()), (*d).to_owned())).collect()
    }

    #[test]
    fn what_is_folded_is_what_was_changed() {
        let (a, b) = (rows(&[("x", "1"), ("y", "2")]), rows(&[("x", "1"), ("y", "3"), ("z", "4")]));
        let first = change(&Rows::new(), &a, &Rows::new()).unwrap();
        let then = change(&a, &b, &a).unwrap();
        assert_eq!(then, r#"{"ticks":{"y":"3","z":"4"}}"#);
        let last = change(&b, &rows(&[("z", "4")]), &b).unwrap();
        assert_eq!(fold([first.as_str(), "", &then]).unwrap(), b);
        assert_eq!(fold([first.as_str(), &then, &last]).unwrap(), rows(&[("z", "4")]));
        assert_eq!(change(&b, &b, &b).unwrap(), "");
    }

    #[test]
    fn a_row_that_was_tampered_with_stays_named_when_it_is_written_again() {
        let said = rows(&[("x", "1")]);
        let (tampered, after) = (rows(&[("x", "evil")]), rows(&[("x", "evil, and done")]));
        assert_eq!(change(&tampered, &after, &said).unwrap(), "", "its new text is not vouched for");
        assert_eq!(compare(&said, &after), [Fault { table: "ticks".into(), key: "x".into(), how: How::Edited }]);
        assert_eq!(change(&tampered, &Rows::new(), &said).unwrap(), "");
        assert_eq!(compare(&said, &Rows::new())[0].how, How::TakenOut);
        assert_eq!(compare(&Rows::new(), &said)[0].how, How::PutIn);
        assert!(compare(&said, &said).is_empty());
    }
}
