//! Rows of a rebuild as JSON, by the columns that the database has: a column that is added later goes along without a
//! word here.

use super::document::{FORMAT, Row};
use crate::chain::digests::{OF_REBUILD, ORIGIN};
use crate::{RebuildId, Result, StoreError, chain};
use chrono::{NaiveDate, NaiveDateTime};
use diesel::prelude::*;
use diesel::sql_types::Text;
use ironseat_core::Refusal;
use serde_json::{Map, Value, json};
use uuid::Uuid;

/// Tables of a rebuild in an order in which rows find what they name. The record's table has kept its first name in the
/// database; outside it goes by what it is.
pub(super) const TABLES: [&str; 17] = [
    "anatomies",
    "rebuilds",
    "steps",
    "sheets",
    "readings",
    "calls",
    "clocks",
    "sign_offs",
    "ticks",
    "answers",
    "rounds",
    "scrapped",
    "repairs",
    "pictures",
    "pins",
    "dispositions",
    "record",
];
const RECORD: (&str, &str) = ("journal", "rebuild_id = {}");

/// Rows that go in with one statement: documents are long, and a statement has its bounds.
const AT_A_TIME: usize = 50;

/// What a column names outside the rebuild.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum To {
    Person,
    Customer,
    Instrument,
}

/// How the values of a column are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum ColumnKind {
    Id,
    Words,
    Whole,
    Number,
    Moment,
    Day,
}

#[derive(Debug)]
pub(super) struct Column {
    /// Outside.
    pub(super) name: String,
    inside: String,
    kind: ColumnKind,
    key: bool,
}

#[derive(Debug)]
pub(super) struct Table {
    /// Outside.
    pub(super) name: &'static str,
    inside: &'static str,
    filter: &'static str,
    pub(super) columns: Vec<Column>,
}

impl Table {
    /// Columns that name what is no part of the rebuild.
    pub(super) fn refers(&self) -> Vec<(String, To)> {
        let to = |c: &Column| match (self.name, c.name.as_str()) {
            (_, "person_id" | "done_by" | "overruled_by") => Some(To::Person),
            (_, "instrument_id") => Some(To::Instrument),
            ("rebuilds", "customer_id") => Some(To::Customer),
            _ => None,
        };
        self.columns.iter().filter_map(|c| Some((c.name.clone(), to(c)?))).collect()
    }
}

fn outside(name: &str) -> String {
    match name.strip_prefix("journal_") {
        Some(rest) => format!("record_{rest}"),
        None => name.to_owned(),
    }
}

/// The tables of a rebuild with their columns.
pub(super) fn tables(c: &mut MysqlConnection) -> Result<Vec<Table>> {
    let all = chain::digests::columns(c)?;
    let of = |name: &'static str, inside: &'static str, filter: &'static str| {
        let kept = |k: &&chain::digests::Column| {
            // Where it came from is the business of whoever takes it in; entries are counted anew everywhere.
            k.tbl == inside && k.col != ORIGIN && !(name == "record" && k.col == "id")
        };
        let column = |k: &chain::digests::Column| {
            let kind = match k.kind.as_str() {
                "binary" => ColumnKind::Id,
                "char" | "varchar" | "text" | "mediumtext" | "longtext" => ColumnKind::Words,
                "tinyint" | "smallint" | "int" | "bigint" => ColumnKind::Whole,
                "double" => ColumnKind::Number,
                "datetime" => ColumnKind::Moment,
                "date" => ColumnKind::Day,
                other => {
                    return Err(StoreError::Internal(format!(
                        "{inside}.{} is a {other}: archives do not know it",
                        k.col
                    )));
                }
            };
            Ok(Column { name: outside(&k.col), inside: k.col.clone(), kind, key: k.part == "PRI" })
        };
        let columns = all.iter().filter(kept).map(column).collect::<Result<Vec<_>>>()?;
        Ok::<_, StoreError>(Table { name, inside, filter, columns })
    };
    let mut out = Vec::new();
    for name in TABLES {
        let (inside, filter) = OF_REBUILD.into_iter().find(|t| t.0 == name).unwrap_or(RECORD);
        out.push(of(name, inside, filter)?);
    }
    Ok(out)
}

#[derive(QueryableByName)]
struct JsonLine {
    #[diesel(sql_type = Text)]
    line: String,
}

/// The rows of a rebuild in a table, in the order of their keys.
pub(super) fn read(c: &mut MysqlConnection, t: &Table, id: RebuildId) -> Result<Vec<Row>> {
    // Everything as hexadecimal digits: no text can be taken for what stands between values.
    let written = |k: &Column| match k.kind {
        ColumnKind::Id | ColumnKind::Words => format!("IFNULL(HEX(`{}`), '-')", k.inside),
        _ => format!("IFNULL(HEX(CAST(`{}` AS CHAR)), '-')", k.inside),
    };
    let columns: Vec<String> = t.columns.iter().map(written).collect();
    let keys: Vec<String> = t.columns.iter().filter(|k| k.key).map(|k| format!("`{}`", k.inside)).collect();
    let order = if t.name == "record" { "seq".to_owned() } else { keys.join(", ") };
    let filter = t.filter.replace("{}", &format!("x'{}'", id.plain()));
    let sql = format!(
        "SELECT CONVERT(CONCAT_WS(',', {}) USING utf8mb4) AS line FROM `{}` WHERE {filter} ORDER BY {order}",
        columns.join(", "),
        t.inside
    );
    let lines: Vec<JsonLine> = diesel::sql_query(sql).load(c)?;
    lines.iter().map(|l| row(t, &l.line)).collect()
}

fn row(t: &Table, line: &str) -> Result<Row> {
    let odd = |k: &Column| StoreError::Internal(format!("{}.{} holds what no archive can", t.inside, k.inside));
    let mut out = Row::new();
    for (k, hex) in t.columns.iter().zip(line.split(',')) {
        let value = if hex == "-" { Value::Null } else { value(k.kind, hex).ok_or_else(|| odd(k))? };
        out.insert(k.name.clone(), value);
    }
    if out.len() == t.columns.len() { Ok(out) } else { Err(StoreError::Internal("a row lost a column".into())) }
}

fn value(kind: ColumnKind, hex: &str) -> Option<Value> {
    let digits = |p: &[u8]| u8::from_str_radix(std::str::from_utf8(p).ok()?, 16).ok();
    let bytes: Vec<u8> = hex.as_bytes().chunks(2).map(digits).collect::<Option<_>>()?;
    if kind == ColumnKind::Id {
        return Some(json!(Uuid::from_slice(&bytes).ok()?.to_string()));
    }
    let text = String::from_utf8(bytes).ok()?;
    Some(match kind {
        ColumnKind::Whole => json!(text.parse::<i64>().ok()?),
        ColumnKind::Number => json!(text.parse::<f64>().ok()?),
        ColumnKind::Moment => json!(format!("{}Z", text.replacen(' ', "T", 1))),
        ColumnKind::Id | ColumnKind::Words | ColumnKind::Day => json!(text),
    })
}

fn words(s: &str) -> String {
    if s.is_empty() { "''".to_owned() } else { format!("CONVERT(x'{}' USING utf8mb4)", hex::encode(s.as_bytes())) }
}

/// A value as SQL: hexadecimal digits, numbers and dates alone.
fn sql(k: &Column, v: &Value) -> Option<String> {
    Some(match (k.kind, v) {
        (_, Value::Null) => "NULL".to_owned(),
        (ColumnKind::Id, Value::String(s)) => format!("x'{}'", hex::encode(s.parse::<Uuid>().ok()?.as_bytes())),
        (ColumnKind::Words, Value::String(s)) => words(s),
        (ColumnKind::Whole, Value::Number(n)) => n.as_i64()?.to_string(),
        (ColumnKind::Number, Value::Number(n)) => format!("{:e}", n.as_f64().filter(|v| v.is_finite())?),
        (ColumnKind::Moment, Value::String(s)) => {
            let at = NaiveDateTime::parse_from_str(s.strip_suffix('Z')?, "%Y-%m-%dT%H:%M:%S%.f").ok()?;
            format!("'{}'", at.format("%Y-%m-%d %H:%M:%S%.6f"))
        }
        (ColumnKind::Day, Value::String(s)) => format!("'{}'", NaiveDate::parse_from_str(s, "%Y-%m-%d").ok()?),
        _ => return None,
    })
}

/// Puts rows in; with `origin`, as what came from that shop.
///
/// # Errors
/// `archive`, with the row that cannot be kept.
pub(super) fn write(c: &mut MysqlConnection, t: &Table, list: &[Row], origin: Option<&str>) -> Result<()> {
    let bad = |n: usize, why: &str| -> StoreError {
        Refusal::new("archive", format!("row {} of {} cannot be kept: {why}", n + 1, t.name)).into()
    };
    let mut ready: Vec<(Vec<String>, String)> = Vec::new();
    for (n, r) in list.iter().enumerate() {
        if let Some(unknown) = r.keys().find(|k| !t.columns.iter().any(|c| c.name == **k)) {
            let shown: String = unknown.chars().take(40).collect();
            return Err(bad(n, &format!("{shown} is not known here, it needs a newer program")));
        }
        // A column that an older program did not have keeps what it begins with.
        let there: Vec<&Column> = t.columns.iter().filter(|k| r.contains_key(&k.name)).collect();
        let mut names: Vec<String> = there.iter().map(|k| format!("`{}`", k.inside)).collect();
        let mut values = Vec::new();
        for k in &there {
            values.push(sql(k, &r[&k.name]).ok_or_else(|| bad(n, &format!("{} is not what belongs there", k.name)))?);
        }
        if let Some(shop) = origin {
            names.push(ORIGIN.to_owned());
            values.push(words(shop));
        }
        ready.push((names, format!("({})", values.join(", "))));
    }
    let mut put = |some: &[(Vec<String>, String)]| -> Result<()> {
        let values: Vec<&str> = some.iter().map(|r| r.1.as_str()).collect();
        let text = format!("INSERT INTO `{}` ({}) VALUES {}", t.inside, some[0].0.join(", "), values.join(", "));
        diesel::sql_query(text).execute(c)?;
        Ok(())
    };
    let serious = |e: &StoreError| matches!(e, StoreError::Clash | StoreError::Unavailable(_) | StoreError::Full);
    let mut from = 0;
    for some in ready.chunk_by(|a, b| a.0 == b.0).flat_map(|run| run.chunks(AT_A_TIME)) {
        match put(some) {
            Err(e) if !serious(&e) => {
                // One of them is refused, and alone it says which; or they were too long together.
                for (k, one) in some.iter().enumerate() {
                    put(std::slice::from_ref(one)).map_err(|e| match e {
                        e if serious(&e) => e,
                        StoreError::Conflict(_) => bad(from + k, "another row stands there already"),
                        _ => bad(from + k, "the record book does not take it"),
                    })?;
                }
            }
            done => done?,
        }
        from += some.len();
    }
    Ok(())
}

/// JSON Schema of the document.
pub(super) fn schema(c: &mut MysqlConnection) -> Result<Value> {
    let nullable: Vec<JsonLine> = diesel::sql_query(
        "SELECT CONCAT(table_name, '.', column_name) AS line FROM information_schema.columns WHERE table_schema = DATABASE() AND is_nullable = 'YES'",
    )
    .load(c)?;
    let of = |kind: ColumnKind| match kind {
        ColumnKind::Id => json!({"type": "string", "format": "uuid"}),
        ColumnKind::Words => json!({"type": "string"}),
        ColumnKind::Whole => json!({"type": "integer"}),
        ColumnKind::Number => json!({"type": "number"}),
        ColumnKind::Moment => json!({"type": "string", "format": "date-time", "description": "UTC, microseconds"}),
        ColumnKind::Day => json!({"type": "string", "format": "date"}),
    };
    let object = |fields: &[(&str, Value)]| {
        let required: Vec<&str> = fields.iter().map(|f| f.0).collect();
        let properties: Map<String, Value> = fields.iter().map(|(k, v)| ((*k).to_owned(), v.clone())).collect();
        json!({"type": "object", "required": required, "additionalProperties": false, "properties": properties})
    };
    let list = |items: Value| json!({"type": "array", "items": items});
    let mut by_table = Vec::new();
    for t in tables(c)? {
        let field = |k: &Column| {
            let mut v = of(k.kind);
            if nullable.iter().any(|n| n.line == format!("{}.{}", t.inside, k.inside)) {
                v["type"] = json!([v["type"], "null"]);
            }
            (k.name.clone(), v)
        };
        let fields: Vec<(String, Value)> = t.columns.iter().map(field).collect();
        let fields: Vec<(&str, Value)> = fields.iter().map(|(k, v)| (k.as_str(), v.clone())).collect();
        by_table.push((t.name, list(object(&fields))));
    }
    let (id, words, yes, number) =
        (of(ColumnKind::Id), of(ColumnKind::Words), json!({"type": "boolean"}), of(ColumnKind::Number));
    let whole = || of(ColumnKind::Whole);
    let named = |more: &[(&str, Value)]| {
        let mut fields = vec![("id", id.clone()), ("name", words.clone())];
        fields.extend(more.iter().cloned());
        list(object(&fields))
    };
    let gauge: Vec<(&str, Value)> = [("serial", &words), ("outside", &yes), ("inside", &yes), ("depth", &yes)]
        .into_iter()
        .chain(["lo_mm", "hi_mm", "resolution_mm", "u_mm", "cost"].map(|f| (f, &number)))
        .map(|(k, v)| (k, v.clone()))
        .chain([("due_on", of(ColumnKind::Day))])
        .collect();
    let mut out = object(&[
        ("format", json!({"const": FORMAT})),
        ("number", words.clone()),
        ("entries", whole()),
        ("head", json!({"type": "string", "pattern": "^[0-9a-f]{64}$"})),
        ("people", named(&[("initials", words.clone())])),
        ("customers", named(&[])),
        ("instruments", named(&gauge)),
        ("tables", object(&by_table)),
    ]);
    let head = [
        ("$schema", json!("https://json-schema.org/draft/2020-12/schema")),
        ("title", json!("rebuild.json of an Iron Seat rebuild archive")),
        (
            "description",
            json!(
                "Every row of one rebuild, as it is kept. The hash of an entry of `record` and what `bound` says is described in docs/formats.md."
            ),
        ),
    ];
    for (k, v) in head {
        out[k] = v;
    }
    Ok(out)
}
