//! Tampering behind the program's back: every kind of change on every column of every table, found from the schema, is
//! named by what checks the record. Chains that are cut or hashed anew are missed against a list of heads that was kept
//! elsewhere.

use crate::support::Fresh;
use crate::support::hands::{filled, state, step, tick, with};
use diesel::prelude::*;
use diesel::sql_types::{BigInt, Text};
use ironseat_core::decide::Command;
use ironseat_core::quantity::Units;
use ironseat_core::sheet::SheetKind;
use ironseat_core::terms::{StepKind, Surface};
use ironseat_store::chain::digests::How;
use ironseat_store::chain::digests::{Chain, NO_RECORD};
use ironseat_store::chain::entry::Verdict;
use ironseat_store::chain::heads::Head;
use ironseat_store::read::pictures;
use ironseat_store::read::rebuilds;
use ironseat_store::read::seats::seat_record;
use ironseat_store::write::pictures::NewPicture;
use ironseat_store::write::readings::Outcome;
use ironseat_store::write::readings::{NewReading, record_reading};
use ironseat_store::write::work;
use ironseat_store::{Id, StoreError, chain};
use std::collections::BTreeSet;

#[derive(QueryableByName)]
struct Col {
    #[diesel(sql_type = Text)]
    tbl: String,
    #[diesel(sql_type = Text)]
    col: String,
    #[diesel(sql_type = Text)]
    kind: String,
}

#[derive(QueryableByName)]
struct Count {
    #[diesel(sql_type = BigInt)]
    n: i64,
}

/// Chains are no rows of a record; that they are tampered with is seen all the same.
const CHAINS: [&str; 3] = ["journal", "shop_journal", "shop_chains"];

/// What a thorough look finds, in all chains: none when everything is whole.
fn found(c: &mut MysqlConnection) -> Vec<String> {
    faults(c, usize::MAX)
}

fn faults(c: &mut MysqlConnection, most: usize) -> Vec<String> {
    let mut out = Vec::new();
    // Short chains first: where one fault is enough the long ones need not be read.
    for (chain, name) in Chain::ALL {
        match chain::shop::verify(c, chain) {
            Ok(v) if v.whole() => {}
            Ok(v) => out.push(format!("{name}: {}", v.words())),
            Err(e) => out.push(format!("{name}: {e}")),
        }
    }
    for (id, number) in chain::rebuild::all_rebuilds(c).unwrap().into_iter().rev() {
        if out.len() >= most {
            break;
        }
        let v = chain::rebuild::verify(c, id, true).unwrap();
        if !v.whole() {
            out.push(format!("{number}: {}", v.words()));
        }
    }
    out
}

fn count(c: &mut MysqlConnection, sql: &str) -> i64 {
    diesel::sql_query(sql).get_result::<Count>(c).unwrap().n
}

/// Tampers, looks, and puts everything back. Foreign keys are no hindrance to who can write SQL.
fn after(c: &mut MysqlConnection, sql: &str) -> Option<Vec<String>> {
    let run = |c: &mut MysqlConnection, sql: &str| diesel::sql_query(sql).execute(c);
    run(c, "SET foreign_key_checks = 0").unwrap();
    let mut out = None;
    let _ = c.transaction::<(), diesel::result::Error, _>(|c| {
        let n = run(c, sql).unwrap_or_else(|e| panic!("{sql}: {e}"));
        out = (n > 0).then(|| faults(c, 1));
        Err(diesel::result::Error::RollbackTransaction)
    });
    run(c, "SET foreign_key_checks = 1").unwrap();
    out
}

fn columns(c: &mut MysqlConnection) -> Vec<Col> {
    diesel::sql_query(
        "SELECT table_name AS tbl, column_name AS col, data_type AS kind FROM information_schema.columns \
         WHERE table_schema = DATABASE() ORDER BY table_name, ordinal_position",
    )
    .load::<Col>(c)
    .unwrap()
    .into_iter()
    .filter(|k| CHAINS.contains(&k.tbl.as_str()) || !NO_RECORD.iter().any(|t| t.0 == k.tbl))
    .collect()
}

#[tokio::test]
async fn every_kind_of_change_on_every_column_is_named() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    filled(&f, c);
    assert_eq!(found(c), Vec::<String>::new(), "whole before anything is touched");

    let all = columns(c);
    let tables: BTreeSet<String> = all.iter().map(|k| k.tbl.clone()).collect();
    let empty: Vec<&String> =
        tables.iter().filter(|t| count(c, &format!("SELECT COUNT(*) AS n FROM `{t}`")) == 0).collect();
    assert!(empty.is_empty(), "nothing to tamper with in {empty:?}");
    // What a person sets for the eye is nobody's record.
    let loose = [("people", "units"), ("people", "theme"), ("tokens", "used_at"), ("journal", "id")];
    let mut tried = 0;
    for k in all.iter().filter(|k| !loose.contains(&(k.tbl.as_str(), k.col.as_str()))) {
        let (t, col) = (&k.tbl, &k.col);
        let other = match k.kind.as_str() {
            "double" | "int" | "smallint" | "bigint" => format!("COALESCE(`{col}`, 0) + 1000"),
            "tinyint" => format!("1 - `{col}`"),
            "datetime" => format!("COALESCE(`{col}` - INTERVAL 1 SECOND, UTC_TIMESTAMP(6))"),
            "date" => format!("`{col}` - INTERVAL 1 DAY"),
            "binary" => format!("UNHEX(INSERT(HEX(COALESCE(`{col}`, REPEAT(x'00', 16))), 1, 2, 'FE'))"),
            "mediumblob" => format!("CONCAT(`{col}`, x'00')"),
            _ if col == "document" || col == "rules" => format!("REPLACE(`{col}`, ':', ': ')"),
            _ => format!(
                "IF(`{col}` = '' OR `{col}` IS NULL, 'x', CONCAT(LEFT(`{col}`, CHAR_LENGTH(`{col}`) - 1), '~'))"
            ),
        };
        let sql = format!("UPDATE `{t}` SET `{col}` = {other} LIMIT 1");
        let said = after(c, &sql).unwrap_or_else(|| panic!("{sql} changed nothing"));
        assert!(!said.is_empty(), "{sql} went unseen");
        tried += 1;
    }
    for t in &tables {
        let said = after(c, &format!("DELETE FROM `{t}` LIMIT 1")).unwrap();
        assert!(!said.is_empty(), "a row taken out of {t} went unseen");
    }
    assert!(tried > 100, "{tried}");
}

/// A copy of a row under another key: put in, it is named.
#[tokio::test]
async fn what_is_put_in_is_named() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    filled(&f, c);
    let all = columns(c);
    let tables: BTreeSet<String> = all.iter().map(|k| k.tbl.clone()).collect();
    for t in tables.iter().filter(|t| *t != "picture_bodies" && *t != "shop_chains") {
        let own: Vec<&Col> = all.iter().filter(|k| k.tbl == *t).collect();
        let names = own.iter().map(|k| format!("`{}`", k.col)).collect::<Vec<_>>().join(", ");
        let unique = |k: &Col| {
            matches!(
                k.col.as_str(),
                "id" | "step"
                    | "question"
                    | "part"
                    | "n"
                    | "seq"
                    | "number"
                    | "handle"
                    | "version"
                    | "name"
                    | "seat"
                    | "topic"
                    | "cell"
                    | "um"
                    | "secret_hash"
            )
        };
        let values = own
            .iter()
            .map(|k| match k.kind.as_str() {
                _ if !unique(k) || k.col == "seat" && own.iter().any(|o| o.col == "cell") => format!("`{}`", k.col),
                "binary" => "UNHEX(REPLACE(UUID(), '-', ''))".to_owned(),
                "int" | "smallint" | "bigint" => format!("`{}` + 1000", k.col),
                _ => format!("CONCAT(LEFT(`{}`, 6), 'z')", k.col),
            })
            .collect::<Vec<_>>()
            .join(", ");
        let sql = format!("INSERT INTO `{t}` ({names}) SELECT {values} FROM `{t}` LIMIT 1");
        let said = after(c, &sql).unwrap_or_else(|| panic!("{sql} put nothing in"));
        assert!(!said.is_empty(), "{sql} went unseen");
    }
}

#[tokio::test]
async fn what_was_tampered_with_is_told_where_it_is_printed_and_never_vouched_for_later() {
    let f = Fresh::demo().await;
    let (c, tomasz, pump) = (&mut f.connection(), f.person("tomasz"), f.rebuild("R-0412"));
    let sql = |c: &mut MysqlConnection, s: &str| diesel::sql_query(s).execute(c).unwrap();
    let one = "SELECT r.id AS id FROM readings r JOIN sheets s ON s.id = r.sheet_id JOIN rebuilds b ON b.id = s.rebuild_id WHERE b.number = 'R-0412' LIMIT 1";
    sql(c, &format!("UPDATE readings SET value = value + 0.001 WHERE id = (SELECT id FROM ({one}) AS x)"));
    let named = |c: &mut MysqlConnection| match chain::rebuild::verify_printed(c, pump).unwrap() {
        Verdict::Changed { rows } => rows,
        other => panic!("{other:?}"),
    };
    let rows = named(c);
    assert!(rows.len() == 1 && rows[0].table == "readings" && rows[0].how == How::Edited, "{rows:?}");
    assert!(rows[0].to_string().starts_with("a reading was edited behind the record"));
    // Work goes on, and what was edited stays named: no later entry vouches for it.
    let head = rebuilds::get(c, pump).unwrap();
    let before = seat_record(c, &head, "de").unwrap().readings.len();
    let text = "40.008".into();
    let new = NewReading {
        id: Id::new(),
        cell: "A1".into(),
        text,
        instrument: None,
        over: None,
        sure: false,
        units: Units::Metric,
        reason: String::new(),
    };
    assert_eq!(
        record_reading(c, &tomasz, pump, "de", SheetKind::Grid(Surface::Journal), &new).unwrap(),
        Outcome::Stored
    );
    assert_eq!(seat_record(c, &head, "de").unwrap().readings.len(), before + 1);
    assert_eq!(named(c), rows);
    // The rebuild's own row is written at release: a title that was edited before is not vouched for by that.
    sql(c, "UPDATE rebuilds SET title = 'Another pump' WHERE number = 'R-0412'");
    sql(c, "UPDATE rebuilds SET finished_at = NULL WHERE number = 'R-0412'");
    assert!(named(c).iter().any(|r| r.table == "rebuilds"));
    // A name, the rules and an instrument stand on the certificate as well.
    for (s, back) in [
        ("UPDATE people SET name = CONCAT(name, ' jr')", "UPDATE people SET name = LEFT(name, CHAR_LENGTH(name) - 3)"),
        ("UPDATE instruments SET u_mm = u_mm / 2", "UPDATE instruments SET u_mm = u_mm * 2"),
    ] {
        let sheave = f.rebuild("R-0398");
        assert!(chain::rebuild::verify_printed(c, sheave).unwrap().whole());
        sql(c, s);
        assert!(!chain::rebuild::verify_printed(c, sheave).unwrap().whole(), "{s}");
        sql(c, back);
    }
}

#[tokio::test]
async fn a_cut_tail_and_a_chain_hashed_anew_are_missed_against_a_list_kept_elsewhere() {
    let f = Fresh::demo().await;
    let (c, tomasz, pump) = (&mut f.connection(), f.person("tomasz"), f.rebuild("R-0412"));
    let kept: Vec<Head> = chain::heads::heads(c).unwrap();
    // The list is text: it comes back as it was.
    let again: Vec<Head> = kept.iter().map(|h| h.to_string().parse().unwrap()).collect();
    assert_eq!(again, kept);
    for line in ["", "R-1", "R-1 - x ab", "R-1 nonsense 3 abc", &format!("R-1 - 3 {}", "g".repeat(64))] {
        assert!(line.parse::<Head>().is_err(), "{line}");
    }
    // Work goes on: heads of yesterday still stand.
    let answerable = state(c, pump).questions[0].id.clone();
    let command = Command::Answer {
        question: answerable,
        state: ironseat_core::decide::AnswerState::CannotTell,
        value: String::new(),
        note: "worn off".into(),
    };
    work::work(c, &tomasz, pump, &command).unwrap();
    assert!(chain::heads::missing(c, &kept).unwrap().is_empty());
    let kept = chain::heads::heads(c).unwrap();
    let sql = |c: &mut MysqlConnection, s: &str| diesel::sql_query(s).execute(c).unwrap();
    // Whoever rewrites everything, hashes and rows, leaves a chain that is whole in itself: the list knows better.
    sql(c, "SET foreign_key_checks = 0");
    for t in [
        "steps",
        "sheets",
        "calls",
        "clocks",
        "sign_offs",
        "ticks",
        "answers",
        "rounds",
        "scrapped",
        "repairs",
        "pictures",
        "journal",
    ] {
        sql(c, &format!("DELETE FROM `{t}` WHERE rebuild_id = (SELECT id FROM rebuilds WHERE number = 'R-0419')"));
    }
    sql(c, "DELETE FROM rebuilds WHERE number = 'R-0419'");
    sql(c, "SET foreign_key_checks = 1");
    let gone = chain::heads::missing(c, &kept).unwrap();
    assert!(gone.len() == 1 && gone[0].name == "R-0419", "{gone:?}");
    assert!(!chain::shop::verify(c, Chain::Rebuilds).unwrap().whole(), "and the shop's own record misses it");
    let seq = rebuilds::get(c, pump).unwrap().record_seq;
    sql(
        c,
        &format!(
            "DELETE FROM journal WHERE seq = {seq} AND rebuild_id = (SELECT id FROM rebuilds WHERE number = 'R-0412')"
        ),
    );
    sql(
        c,
        &format!(
            "UPDATE rebuilds SET journal_seq = {}, journal_hash = (SELECT j.hash FROM journal j WHERE j.rebuild_id = rebuilds.id AND j.seq = {}) WHERE number = 'R-0412'",
            seq - 1,
            seq - 1
        ),
    );
    assert!(!chain::rebuild::verify(c, pump, true).unwrap().whole(), "rows that the cut entry spoke for are left");
    assert!(chain::heads::missing(c, &kept).unwrap().iter().any(|h| h.name == "R-0412"));
}

/// A correction to something signed opens the signature: a reason, a new one, and both are kept.
#[tokio::test]
async fn a_signature_binds_its_numbers() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (ines, tomasz) = (f.person("ines"), f.person("tomasz"));
    // A seat is worked to its signature.
    let (id, seat) = (f.rebuild("R-0412"), "ie".to_owned());
    work::work(c, &tomasz, id, &Command::Thermometer { seat: seat.clone(), temperature: "23".into() }).unwrap();
    step(c, &tomasz, id, &seat, StepKind::Cool, "").unwrap();
    for cell in SheetKind::Home.cells() {
        let text = if cell.key.starts_with('F') { "out" } else { "142.01" };
        let reason = String::new();
        let (id_of, units) = (Id::new(), Units::Metric);
        let new = NewReading {
            id: id_of,
            cell: cell.key,
            text: text.into(),
            instrument: None,
            over: None,
            sure: false,
            units,
            reason,
        };
        record_reading(c, &tomasz, id, &seat, SheetKind::Home, &new).unwrap();
    }
    while let Some(next) = state(c, id).way_to(state(c, id).act_of(&seat, StepKind::Sign).unwrap()).cloned() {
        let t = state(c, id);
        tick(c, &tomasz, id, &next.id, &with(&t, &next)).unwrap();
    }
    work::signed(c, &ines, id, &Command::Sign { seat: seat.clone() }, "2408").unwrap();
    let head = rebuilds::get(c, id).unwrap();
    let journal = SheetKind::Grid(Surface::Journal);
    let rec = seat_record(c, &head, &seat).unwrap();
    let first = rec.standing(journal)[0].clone();
    let correction = |reason: &str| NewReading {
        id: Id::new(),
        cell: first.cell.clone(),
        text: format!("{}", first.value + 0.0005),
        instrument: first.instrument_id,
        over: Some(first.id),
        sure: true,
        units: Units::Metric,
        reason: reason.into(),
    };
    let e = record_reading(c, &tomasz, id, &seat, journal, &correction("")).unwrap_err();
    assert!(matches!(&e, StoreError::Refused(r) if r.field == "reason" && r.message.contains("signed")), "{e}");
    assert!(state(c, id).signed(&seat));
    let signs = rebuilds::signatures(c, id).unwrap().len();
    record_reading(c, &tomasz, id, &seat, journal, &correction("the first was read beside the land")).unwrap();
    assert!(!state(c, id).signed(&seat), "what was signed is another now");
    let last = chain::rebuild::entries(c, id).unwrap().pop().unwrap();
    assert!(last.kind == "signature opened" && last.body.contains("beside the land"), "{last:?}");
    // Signed anew, both stand; signed twice, it is signed once.
    for _ in 0..3 {
        work::signed(c, &ines, id, &Command::Sign { seat: seat.clone() }, "2408").unwrap();
    }
    assert_eq!(rebuilds::signatures(c, id).unwrap().len(), signs + 1);
    assert!(chain::rebuild::verify(c, id, true).unwrap().whole());
    // The same answer and the same overrule twice are one entry each.
    let question = state(c, id).questions[0].id.clone();
    let command = Command::Answer {
        question,
        state: ironseat_core::decide::AnswerState::CannotTell,
        value: String::new(),
        note: "gone".into(),
    };
    work::work(c, &tomasz, id, &command).unwrap();
    let length = chain::rebuild::entries(c, id).unwrap().len();
    work::work(c, &tomasz, id, &command).unwrap();
    assert_eq!(chain::rebuild::entries(c, id).unwrap().len(), length);
}

/// Bytes that were exchanged are not shown as evidence, neither the whole picture nor the small one.
#[tokio::test]
async fn an_exchanged_picture_is_not_shown() {
    let f = Fresh::demo().await;
    let (c, tomasz, pump) = (&mut f.connection(), f.person("tomasz"), f.rebuild("R-0412"));
    let question = state(c, pump).questions[0].id.clone();
    let new = NewPicture { id: Id::new(), width: 2, height: 2, whole: vec![255, 216, 1, 2], small: vec![255, 216, 3] };
    ironseat_store::write::pictures::add(c, &tomasz, pump, &question, &new).unwrap();
    assert_eq!(pictures::body(c, pump, new.id, false).unwrap(), new.whole);
    assert_eq!(pictures::body(c, pump, new.id, true).unwrap(), new.small);
    for column in ["whole", "small"] {
        let put = |c: &mut MysqlConnection, bytes: &str| {
            diesel::sql_query(format!("UPDATE picture_bodies SET {column} = {bytes}")).execute(c).unwrap();
        };
        put(c, &format!("CONCAT({column}, x'00')"));
        for small in [true, false] {
            let e = pictures::body(c, pump, new.id, small).unwrap_err();
            assert!(matches!(&e, StoreError::Conflict(s) if s.contains("changed behind the record")), "{e}");
        }
        put(c, &format!("LEFT({column}, LENGTH({column}) - 1)"));
        assert!(pictures::body(c, pump, new.id, true).is_ok());
    }
}
