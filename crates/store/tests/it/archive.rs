//! A rebuild that leaves one shop and comes into another.

use crate::support::Fresh;
use expect_test::expect_file;
use ironseat_store::archive::{self, Archive, SCHEMA};
use ironseat_store::chain::digests::Chain;
use ironseat_store::read::{self, drafts, forecasts, readings_export, roster};
use ironseat_store::write::pictures::{self, NewPicture};
use ironseat_store::{Id, StoreError, chain, load_demo};
use serde_json::{Value, json};

/// Another shop, with its own people and the same machine types under ids of its own.
async fn elsewhere() -> Fresh {
    let f = Fresh::empty().await;
    f.store.run(load_demo).await.unwrap();
    f
}

fn numbers(f: &Fresh) -> Vec<String> {
    chain::rebuild::all_rebuilds(&mut f.connection()).unwrap().into_iter().map(|r| r.1).collect()
}

/// One of the demo with a picture in it.
fn with_picture(f: &Fresh) -> Archive {
    let c = &mut f.connection();
    let id = f.rebuild("R-0415");
    let question = ironseat_store::read::bench::load(c, id).unwrap().state.questions[0].id.clone();
    let new = NewPicture { id: Id::new(), width: 4, height: 3, whole: vec![7, 0, 255, 39], small: vec![1] };
    pictures::add(c, &f.person("tomasz"), id, &question, &new).unwrap();
    archive::collect(c, id).unwrap()
}

#[tokio::test(flavor = "multi_thread")]
async fn the_schema_of_an_archive_is_what_the_file_says() {
    let f = Fresh::empty().await;
    let now = format!("{}\n", serde_json::to_string_pretty(&archive::schema(&mut f.connection()).unwrap()).unwrap());
    expect_file!["../../archive.schema.json"].assert_eq(&now);
    assert!(SCHEMA.contains("\"readings\""));
}

#[tokio::test(flavor = "multi_thread")]
async fn every_rebuild_comes_back_as_it_went_out() {
    let (home, away) = (Fresh::demo().await, elsewhere().await);
    with_picture(&home);
    crate::support::hands::filled(&home, &mut home.connection());
    let lead = away.person("ines");
    let before = (numbers(&away).len(), drafts::kinds(&mut away.connection()).unwrap().len());
    let learned = |f: &Fresh| forecasts::all(&mut f.connection()).map(|(s, p)| (s.len(), p.len())).unwrap();
    let foreseen_before = learned(&away);
    for (id, number) in chain::rebuild::all_rebuilds(&mut home.connection()).unwrap() {
        let sent = archive::collect(&mut home.connection(), id).unwrap();
        // As it travels: text and back.
        let document = serde_json::from_str(&serde_json::to_string(&sent.document).unwrap()).unwrap();
        let sent = Archive { document, ..sent };
        let c = &mut away.connection();
        let shown = archive::look(c, &lead, &sent).unwrap();
        assert!(chain::rebuild::verify(c, id, true).is_err(), "{number}: looking keeps nothing");
        let kept = archive::take_in(c, &lead, &sent).unwrap();
        assert_eq!(shown, kept, "{number}: what is done is what was shown");
        let again = archive::collect(c, id).unwrap();
        let text = |a: &Archive| serde_json::to_string(&a.document).unwrap();
        assert!(text(&again) == text(&sent), "{number}: letter by letter");
        assert_eq!((&again.pictures, &again.shop), (&sent.pictures, &sent.shop), "{number}");
        assert!(chain::rebuild::verify(c, id, true).unwrap().whole(), "{number}");
        let (there, here) =
            (readings_export::readings(c, id).unwrap(), readings_export::readings(&mut home.connection(), id).unwrap());
        assert_eq!(there.1, here.1, "{number}: every reading with its limits and uncertainty");
        let said = |b: &ironseat_store::read::bench::Bench| {
            b.state.acts.iter().map(|a| (a.id.clone(), b.state.is_done(&a.id))).collect::<Vec<_>>()
        };
        assert_eq!(said(&there.0), said(&here.0), "{number}: every act");
        // Once more changes nothing.
        assert!(archive::take_in(c, &lead, &sent).unwrap().already);
    }
    let c = &mut away.connection();
    for (chain, name) in Chain::ALL {
        assert!(chain::shop::verify(c, chain).unwrap().whole(), "{name}");
    }
    assert!(learned(&home).0 > 0 && learned(&away) == foreseen_before, "another shop's forecasts are not ours");
    // What came along is under its own readings, and nowhere among what this shop works with.
    assert_eq!(numbers(&away).len(), before.0 + numbers(&home).len());
    assert_eq!(drafts::kinds(c).unwrap().len(), before.1, "machine types of another shop are not ours to begin on");
    let gauges = read::shop::load(c).unwrap();
    let foreign: Vec<bool> = gauges.1.iter().map(|i| !i.ours()).collect();
    assert!(foreign.iter().any(|x| *x), "instruments came along");
    for (i, g) in gauges.0.gauges.iter().enumerate() {
        assert!(!foreign[i] || !(g.outside || g.inside || g.depth), "{} cannot be picked up here", g.name);
    }
    let strangers = roster::list(c).unwrap().into_iter().filter(|p| p.handle.starts_with("elsewhere-")).count();
    assert!(strangers > 0, "{strangers}");
    assert!(
        roster::list(c)
            .unwrap()
            .iter()
            .filter(|p| p.handle.starts_with("elsewhere-"))
            .all(|p| !p.signs_in() && !p.signs())
    );
    let last = chain::shop::entries(c, Chain::Rebuilds).unwrap().pop().unwrap();
    assert!(last.said.contains("taken in from an archive"), "{}", last.said);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_was_changed_on_the_way_is_not_taken_in() {
    let (home, away) = (Fresh::demo().await, elsewhere().await);
    let sent = with_picture(&home);
    let (lead, c) = (away.person("ines"), &mut away.connection());
    let h = &mut home.connection();
    crate::support::hands::filled(&home, h);
    let full = chain::rebuild::all_rebuilds(h).unwrap().into_iter().find(|r| r.1 == "R-0501").unwrap().0;
    let full = archive::collect(h, full).unwrap();
    let before = (ironseat_store::chain::heads::heads(c).unwrap(), read::shop::list_instruments(c).unwrap().len());
    let refused = |c: &mut diesel::MysqlConnection, a: &Archive, what: &str| match archive::take_in(c, &lead, a) {
        Err(StoreError::Refused(r)) => assert_eq!(r.field, "archive", "{what}: {}", r.message),
        other => panic!("{what}: {other:?}"),
    };
    let mut tried = 0;
    for (sent, (table, rows)) in [&sent, &full].into_iter().flat_map(|a| a.document.tables.iter().map(move |t| (a, t)))
    {
        // The first row and the last: every value of it another, one after the other.
        for n in [0, rows.len().saturating_sub(1)].into_iter().filter(|n| *n < rows.len()) {
            for (column, value) in &rows[n] {
                let other = match value {
                    Value::String(s) => {
                        // One digit or letter is another; what cannot be read any more is refused as well.
                        let last = s.chars().rev().find(char::is_ascii_alphanumeric);
                        let turn = |x: char| if x == '1' { '2' } else { '1' };
                        json!(last.map_or_else(
                            || "x".to_owned(),
                            |l| {
                                let at = s.rfind(l).unwrap();
                                format!("{}{}{}", &s[..at], turn(l), &s[at + 1..])
                            }
                        ))
                    }
                    Value::Number(n) if n.is_i64() => json!(n.as_i64().unwrap() + 1),
                    Value::Number(n) => json!(n.as_f64().unwrap() + 0.001),
                    _ => json!("2026-11-27"),
                };
                let mut changed = sent.clone();
                changed.document.tables.get_mut(table).unwrap()[n].insert(column.clone(), other.clone());
                refused(c, &changed, &format!("{table} {n} {column}: {value} as {other}"));
                tried += 1;
            }
        }
        for n in [0, rows.len().saturating_sub(1)].into_iter().filter(|n| *n < rows.len()) {
            let (mut less, mut twice) = (sent.clone(), sent.clone());
            less.document.tables.get_mut(table).unwrap().remove(n);
            refused(c, &less, &format!("{table} without {n}"));
            let one = rows[n].clone();
            twice.document.tables.get_mut(table).unwrap().push(one);
            refused(c, &twice, &format!("{table} with {n} twice"));
        }
    }
    assert!(tried > 250, "{tried}");
    let mut odd = Vec::new();
    let mut with = |what: &'static str, work: &dyn Fn(&mut Archive)| {
        let mut a = sent.clone();
        work(&mut a);
        odd.push((what, a));
    };
    with("another picture", &|a| a.pictures.values_mut().next().unwrap().whole.push(1));
    with("no picture", &|a| a.pictures.clear());
    with("a newer format", &|a| a.document.format = "iron-seat-rebuild-9".into());
    with("a table from tomorrow", &|a| drop(a.document.tables.insert("weather".into(), Vec::new())));
    with("a column from tomorrow", &|a| {
        drop(a.document.tables.get_mut("rebuilds").unwrap()[0].insert("mood".into(), json!(1)))
    });
    with("nobody who wrote", &|a| a.document.people.clear());
    with("a shop over two lines", &|a| a.shop = "Quay\nShop".into());
    with("a name over two lines", &|a| a.document.people[0].name = "Ines\nOkafor".into());
    with("no shop", &|a| a.shop = "  ".into());
    with("more entries than there are", &|a| a.document.entries += 1);
    for (what, a) in &odd {
        refused(c, a, what);
    }
    assert!(matches!(archive::take_in(c, &away.person("tomasz"), &sent), Err(StoreError::Held(_))));
    assert_eq!(
        (ironseat_store::chain::heads::heads(c).unwrap(), read::shop::list_instruments(c).unwrap().len()),
        before,
        "none of it left a trace"
    );

    // The same rebuild with another record is neither of the two.
    archive::take_in(c, &lead, &sent).unwrap();
    let id = home.rebuild("R-0415");
    let question = ironseat_store::read::bench::load(h, id).unwrap().state.questions[0].id.clone();
    let new = NewPicture { id: Id::new(), width: 4, height: 3, whole: vec![8], small: vec![1] };
    pictures::add(h, &home.person("tomasz"), id, &question, &new).unwrap();
    let later = archive::collect(h, id).unwrap();
    assert!(matches!(archive::take_in(c, &lead, &later), Err(StoreError::Conflict(_))));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_record_that_is_not_whole_does_not_go_out() {
    use diesel::connection::SimpleConnection as _;
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    c.batch_execute("UPDATE readings SET value = value + 0.001 LIMIT 1").unwrap();
    let all = chain::rebuild::all_rebuilds(c).unwrap();
    let held: Vec<_> = all.iter().filter(|r| matches!(archive::collect(c, r.0), Err(StoreError::Held(_)))).collect();
    assert_eq!(held.len(), 1, "the one that was edited, and no other");
}

/// An archive that was ever written comes in for ever. `UPDATE_EXPECT=1` writes the one of today, where there is none
/// yet.
#[tokio::test(flavor = "multi_thread")]
async fn archives_of_every_version_still_come_in() {
    let folder = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/golden/archives");
    let today = folder.join(format!("{}.json", archive::FORMAT));
    if std::env::var("UPDATE_EXPECT").is_ok() && !today.exists() {
        let home = Fresh::demo().await;
        let sent = archive::collect(&mut home.connection(), home.rebuild("R-0409")).unwrap();
        std::fs::create_dir_all(&folder).unwrap();
        std::fs::write(&today, serde_json::to_string(&sent.document).unwrap() + "\n").unwrap();
    }
    assert!(today.exists(), "UPDATE_EXPECT=1 writes {}", today.display());
    for file in std::fs::read_dir(&folder).unwrap() {
        let path = file.unwrap().path();
        let document: archive::Document = serde_json::from_str(&std::fs::read_to_string(&path).unwrap()).unwrap();
        let (number, entries) = (document.number.clone(), document.entries);
        let away = elsewhere().await;
        let (lead, c) = (away.person("ines"), &mut away.connection());
        let sent = Archive { shop: "The shop of then".into(), document, pictures: Default::default() };
        let kept = archive::take_in(c, &lead, &sent).unwrap();
        assert_eq!((&kept.number, kept.entries), (&number, entries), "{}", path.display());
        assert!(chain::rebuild::verify(c, kept.rebuild, true).unwrap().whole(), "{}", path.display());
        assert!(!readings_export::readings(c, kept.rebuild).unwrap().1.is_empty(), "{}", path.display());
    }
}
