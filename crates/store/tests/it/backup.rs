//! Backups: put back they are the same, row by row; what is not whole is not put back; nothing is written over.

use crate::support::Fresh;
use crate::support::hands::state;
use diesel::connection::SimpleConnection as _;
use diesel::prelude::*;
use diesel::sql_types::{BigInt, Nullable, Text};
use flate2::write::GzEncoder;
use ironseat_core::quantity::Units;
use ironseat_core::sheet::SheetKind;
use ironseat_core::terms::Surface;
use ironseat_store::chain::digests::Chain;
use ironseat_store::db::backup::backup;
use ironseat_store::db::migrate::{self, Schema};
use ironseat_store::write::pictures::{self, NewPicture};
use ironseat_store::write::readings::{NewReading, record_reading};
use ironseat_store::{Id, RebuildId, chain};
use sha2::{Digest as _, Sha256};
use std::io::Write as _;
use std::path::PathBuf;

/// A folder that is gone afterwards.
struct Folder(PathBuf);
impl Folder {
    fn new() -> Self {
        let f = std::env::temp_dir().join(format!("iron-seat-backup-{}", RebuildId::new()));
        std::fs::create_dir(&f).unwrap();
        Self(f)
    }
    fn file(&self, name: &str) -> PathBuf {
        self.0.join(name)
    }
}
impl Drop for Folder {
    fn drop(&mut self) {
        let _ = std::fs::remove_dir_all(&self.0);
    }
}

#[derive(QueryableByName)]
struct Sum {
    #[diesel(sql_type = Text, column_name = "Table")]
    table: String,
    #[diesel(sql_type = Nullable<BigInt>, column_name = "Checksum")]
    sum: Option<i64>,
}

/// What the database itself makes of every table, without what is of the moment.
fn sums(c: &mut MysqlConnection) -> Vec<(String, Option<i64>)> {
    let tables: Vec<String> =
        migrate::written(c).unwrap().lines().filter_map(|l| l.split_once('.').map(|x| x.0.to_owned())).collect();
    let mut tables: Vec<String> = tables.into_iter().filter(|t| t != "sessions" && t != "sign_in_failures").collect();
    tables.dedup();
    assert!(tables.len() > 20);
    let list: Vec<Sum> = diesel::sql_query(format!("CHECKSUM TABLE {}", tables.join(", "))).load(c).unwrap();
    list.into_iter().map(|s| (s.table.rsplit('.').next().unwrap().to_owned(), s.sum)).collect()
}

fn whole(c: &mut MysqlConnection) {
    for (id, number) in chain::rebuild::all_rebuilds(c).unwrap() {
        assert!(chain::rebuild::verify(c, id, true).unwrap().whole(), "{number}");
    }
    for (chain, name) in Chain::ALL {
        assert!(chain::shop::verify(c, chain).unwrap().whole(), "{name}");
    }
}

fn with_a_picture(f: &Fresh) {
    let (c, id) = (&mut f.connection(), f.rebuild("R-0412"));
    let question = state(c, id).questions[0].id.clone();
    // Bytes of every kind, in a table of their own.
    let bytes: Vec<u8> = (0..=255).cycle().take(70_000).collect();
    let picture = NewPicture { id: Id::new(), width: 2, height: 2, whole: bytes, small: vec![0, 39, 92, 10, 13, 26] };
    pictures::add(c, &f.person("tomasz"), id, &question, &picture).unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_put_back_is_the_same() {
    let (f, to, dir) = (Fresh::demo().await, Fresh::bare().await, Folder::new());
    with_a_picture(&f);
    let file = dir.file("whole");
    backup(&f.url, &file).unwrap();
    assert!(backup(&f.url, &file).unwrap_err().to_string().contains("already"), "never over another");
    to.store.restore(&to.url, &file).await.unwrap();
    let (a, b) = (&mut f.connection(), &mut to.connection());
    assert_eq!(sums(a), sums(b));
    assert_eq!(migrate::written(a).unwrap(), migrate::written(b).unwrap());
    assert_eq!(chain::heads::heads(a).unwrap(), chain::heads::heads(b).unwrap());
    whole(b);
    // Who was signed in does not lie about in files.
    let said = to.store.restore(&to.url, &file).await.unwrap_err().to_string();
    assert!(said.contains("not empty"), "{said}");
    assert_eq!(sums(a), sums(b), "nothing was written over");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_backup_in_use_is_of_one_moment() {
    let (f, to, dir) = (Fresh::demo().await, Fresh::bare().await, Folder::new());
    let (id, who, mut c) = (f.rebuild("R-0412"), f.person("tomasz"), f.connection());
    let (stop, stopped) = std::sync::mpsc::channel::<()>();
    let writer = std::thread::spawn(move || {
        let (mut n, mut over) = (0, None);
        while stopped.try_recv().is_err() {
            let (id_now, text) = (Id::new(), format!("40.00{}", n % 9));
            let new = NewReading {
                id: id_now,
                cell: "A1".into(),
                text,
                instrument: None,
                over,
                sure: true,
                units: Units::Metric,
                reason: String::new(),
            };
            record_reading(&mut c, &who, id, "de", SheetKind::Grid(Surface::Journal), &new).unwrap();
            (n, over) = (n + 1, Some(id_now));
        }
        n
    });
    for k in 0..3 {
        backup(&f.url, &dir.file(&format!("{k}"))).unwrap();
    }
    stop.send(()).unwrap();
    assert!(writer.join().unwrap() > 5, "it wrote meanwhile");
    for k in 0..3 {
        let c = &mut to.wiped();
        to.store.restore(&to.url, &dir.file(&format!("{k}"))).await.unwrap();
        whole(c);
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_not_whole_is_not_put_back() {
    let (f, to, dir) = (Fresh::demo().await, Fresh::bare().await, Folder::new());
    let file = dir.file("whole");
    backup(&f.url, &file).unwrap();
    let good = std::fs::read(&file).unwrap();
    let mut bit = good.clone();
    *bit.last_mut().unwrap() ^= 1;
    let mut middle = good.clone();
    let at = middle.len() / 2;
    middle[at] = middle[at].wrapping_add(1);
    let mut longer = good.clone();
    longer.push(0);
    for (name, bytes) in [
        ("bit", bit),
        ("middle", middle),
        ("cut", good[..good.len() - 1].to_vec()),
        ("longer", longer),
        ("short", good[..40].to_vec()),
        ("other", b"PK\x03\x04".repeat(60)),
    ] {
        let file = dir.file(name);
        std::fs::write(&file, bytes).unwrap();
        let said = to.store.restore(&to.url, &file).await.unwrap_err().to_string();
        assert!(said.contains("no whole backup"), "{name}: {said}");
        assert_eq!(migrate::written(&mut to.connection()).unwrap(), "", "{name}: nothing was begun");
    }
    assert!(to.store.restore(&to.url, &dir.file("nowhere")).await.unwrap_err().to_string().contains("cannot be read"));
    assert!(backup(&f.url, &dir.file("no/such/folder")).unwrap_err().to_string().contains("could not be written"));
    assert!(!dir.file("no").exists());
}

/// A file with a right checksum around any text.
fn made_up(sql: &str) -> Vec<u8> {
    let mut z = GzEncoder::new(Vec::new(), flate2::Compression::fast());
    z.write_all(sql.as_bytes()).unwrap();
    let z = z.finish().unwrap();
    let sha: String = Sha256::digest(&z).iter().map(|b| format!("{b:02x}")).collect();
    [format!("iron-seat-backup-1 sha256={sha} bytes={:020}\n", z.len()).into_bytes(), z].concat()
}

#[tokio::test(flavor = "multi_thread")]
async fn one_that_was_interrupted_is_never_taken_for_the_whole_and_is_taken_up_again() {
    let (f, to, dir) = (Fresh::demo().await, Fresh::bare().await, Folder::new());
    let (half, file, mark) = (dir.file("half"), dir.file("whole"), dir.file("mark"));
    // It breaks off in the middle; and a command to the tool in it is no command.
    std::fs::write(
        &half,
        made_up(&format!(
            "CREATE TABLE people (id INT);\n\\! touch {}\nINSERT INTO nowhere VALUES (1);\n",
            mark.display()
        )),
    )
    .unwrap();
    assert!(to.store.restore(&to.url, &half).await.is_err());
    assert!(!mark.exists());
    let c = &mut to.connection();
    assert_eq!(migrate::look(c).unwrap(), Schema::Restoring);
    assert!(to.store.migrate().await.unwrap_err().to_string().contains("restore"));
    backup(&f.url, &file).unwrap();
    to.store.restore(&to.url, &file).await.unwrap();
    assert_eq!(migrate::look(c).unwrap(), Schema::Ready);
    assert_eq!(sums(&mut f.connection()), sums(c));
    let _ = c.batch_execute("DO 1");
}
