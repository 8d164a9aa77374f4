//! What leaves the house and comes into it, from outside: archives, readings and stock as files, keys for other
//! programs.

use crate::browser::{Answer, Browser, shop};
use crate::support::Fresh;
use axum::Router;
use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use http_body_util::BodyExt as _;
use ironseat_store::read::readings_export;
use ironseat_store::rows::person::Role;
use ironseat_store::write::roster;
use ironseat_store::write::tokens;
use ironseat_store::{Id, load_demo};
use ironseat_web::{App, Config, router};
use serde_json::{Value, json};
use std::io::{Cursor, Read as _};
use tower::ServiceExt as _;

/// Another shop, with ids of its own.
async fn elsewhere() -> (Fresh, Router) {
    let f = Fresh::empty().await;
    f.store.run(load_demo).await.unwrap();
    let app = router(App::new(f.store.clone(), Config::default()));
    (f, app)
}

/// A form with a file.
fn form(csrf: &str, fields: &[(&str, &str)], name: &str, file: &[u8]) -> Vec<u8> {
    let mut out = Vec::new();
    for (k, v) in [("_csrf", csrf)].iter().chain(fields) {
        out.extend(format!("--quay\r\nContent-Disposition: form-data; name=\"{k}\"\r\n\r\n{v}\r\n").bytes());
    }
    out.extend(
        format!("--quay\r\nContent-Disposition: form-data; name=\"file\"; filename=\"{name}\"\r\nContent-Type: application/octet-stream\r\n\r\n")
            .bytes(),
    );
    out.extend(file);
    out.extend(b"\r\n--quay--\r\n");
    out
}

async fn bytes(b: &Browser, path: &str) -> (StatusCode, Vec<u8>) {
    let r = Request::get(path).header(header::HOST, "127.0.0.1:4310").header(header::COOKIE, &b.cookie);
    let r = b.app.clone().oneshot(r.body(Body::empty()).unwrap()).await.unwrap();
    (r.status(), r.into_body().collect().await.unwrap().to_bytes().to_vec())
}

fn file_of(zip: &[u8], name: &str) -> Vec<u8> {
    let mut z = zip::ZipArchive::new(Cursor::new(zip)).unwrap();
    let mut out = Vec::new();
    z.by_name(name).unwrap().read_to_end(&mut out).unwrap();
    out
}

/// A request of another program.
async fn asks(
    app: &Router,
    method: &str,
    path: &str,
    key: &str,
    kind: &str,
    body: Vec<u8>,
) -> (StatusCode, Value, Vec<u8>) {
    let mut r = Request::builder().method(method).uri(path).header(header::HOST, "127.0.0.1:4310");
    if !key.is_empty() {
        r = r.header(header::AUTHORIZATION, format!("Bearer {key}"));
    }
    let r = r.header(header::CONTENT_TYPE, kind).body(Body::from(body)).unwrap();
    let r = app.clone().oneshot(r).await.unwrap();
    let status = r.status();
    let body = r.into_body().collect().await.unwrap().to_bytes().to_vec();
    (status, serde_json::from_slice(&body).unwrap_or(Value::Null), body)
}

#[tokio::test]
async fn an_archive_goes_through_two_shops_and_comes_back_as_it_went() {
    let ((home, app), (away, other)) = (shop().await, elsewhere().await);
    let id = home.rebuild("R-0398");
    let (status, sent) = bytes(&Browser::signed_in(&app, "tomasz").await, &format!("/rebuilds/{id}/archive.zip")).await;
    assert_eq!(status, StatusCode::OK);
    for name in ["READ-ME.txt", "about.json", "rebuild.schema.json", "build-sheet.toml", "section.svg", "readings.csv"]
    {
        assert!(!file_of(&sent, name).is_empty(), "{name}");
    }
    assert_eq!(
        bytes(&Browser::signed_in(&app, "ines").await, &format!("/rebuilds/{id}/archive.zip")).await.1,
        sent,
        "the same bytes"
    );

    let mut lead = Browser::signed_in(&other, "ines").await;
    let a = lead.upload("/archives", form(&lead.csrf, &[], "R-0398.zip", &sent)).await;
    assert_eq!(a.status, StatusCode::SEE_OTHER, "{}", a.body);
    let at = a.location().to_owned();
    let shown = lead.get(&at).await.body;
    for words in ["R-0398 from ", "finished and signed", "Take it in", "does not say who wrote it", "Tomasz Brandt"] {
        assert!(shown.contains(words), "{words}: {shown}");
    }
    assert_eq!(lead.get(&format!("/rebuilds/{id}")).await.status, StatusCode::NOT_FOUND, "looking keeps nothing");
    // Nobody else sees what was handed in.
    assert_eq!(Browser::signed_in(&other, "tomasz").await.get(&at).await.status, StatusCode::FORBIDDEN);
    let done = lead.post(&at, "").await;
    assert_eq!(done.location(), format!("/rebuilds/{id}/ledger"), "{}", done.body);
    let ledger = lead.get(&format!("/rebuilds/{id}/ledger")).await.body;
    assert!(ledger.contains("This rebuild came from") && ledger.contains("chain and rows whole"), "{ledger}");
    let (_, again) = bytes(&lead, &format!("/rebuilds/{id}/archive.zip")).await;
    for name in ["rebuild.json", "about.json", "readings.csv", "section.svg"] {
        assert!(file_of(&again, name) == file_of(&sent, name), "{name} came back as it went");
    }
    // Every room of it opens there, and it says where from.
    for room in ["", "/certificate", "/ledger.csv", "/section.svg"] {
        assert_eq!(lead.get(&format!("/rebuilds/{id}{room}")).await.status, StatusCode::OK, "{room}");
    }
    assert!(lead.get("/archives").await.body.contains("R-0398"));
    assert!(lead.get("/?find=R-0398").await.body.matches("R-0398").count() >= 2, "both stand on the Floor");
    assert!(lead.get(&at).await.status == StatusCode::NOT_FOUND, "what was taken in is not kept twice");

    // What is no archive, or one that was changed, is told beside the field or on its page.
    for (name, body, words) in
        [("a.txt", b"hello".to_vec(), "this file is something else"), ("", Vec::new(), "choose the archive")]
    {
        let a = lead.upload("/archives", form(&lead.csrf, &[], name, &body)).await;
        assert!(a.status == StatusCode::UNPROCESSABLE_ENTITY && a.body.contains(words), "{name}: {}", a.body);
    }
    let mut torn = sent.clone();
    let at = torn.len() / 3;
    torn[at] ^= 0xff;
    let a = lead.upload("/archives", form(&lead.csrf, &[], "torn.zip", &torn)).await;
    let a = lead.get(a.location()).await;
    assert!(a.status == StatusCode::UNPROCESSABLE_ENTITY && a.body.contains("not taken in"), "{}", a.body);
    drop(away);
}

const JOURNAL: &str = "/rebuilds/{id}/readings-in";

async fn hand_in(b: &mut Browser, id: &str, text: &str) -> String {
    let a = b.upload(&JOURNAL.replace("{id}", id), form(&b.csrf, &[("pasted", text)], "", b"")).await;
    assert_eq!(a.status, StatusCode::SEE_OTHER, "{}", a.body);
    a.location().to_owned()
}

/// The fields of the form that keeps what a page shows.
fn kept_fields(a: &Answer) -> String {
    a.body
        .split("form=\"keep\" name=\"")
        .skip(1)
        .filter_map(|t| {
            let (name, rest) = t.split_once('"')?;
            let value = rest.split("value=\"").nth(1)?.split('"').next()?;
            Some(format!("{name}={}", value.replace("&#38;", "&").replace('/', "%2F")))
        })
        .collect::<Vec<_>>()
        .join("&")
}

#[tokio::test]
async fn rows_are_understood_shown_and_only_then_kept() {
    let (f, app) = shop().await;
    let id = f.rebuild("R-0412");
    let at = id.to_string();
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let sheets = ironseat_store::write::import::sheets(
        &f.store.run(move |c| ironseat_store::read::bench::load(c, id)).await.unwrap(),
    );
    // A bearing seat that nobody has measured yet, and the size that it is drawn with.
    let c = &mut f.connection();
    let (_, before) = readings_export::readings(c, id).unwrap();
    let open =
        sheets.iter().find(|s| s.0.ends_with("/journal") && !before.iter().any(|t| t.key == s.0)).unwrap().0.clone();
    let seat = open.split('/').next().unwrap().to_owned();
    let d = ironseat_store::read::bench::load(c, id).unwrap().rebuild.facts(&seat).unwrap().bearing.d.get();
    let gauge = ironseat_store::read::shop::list_instruments(c)
        .unwrap()
        .into_iter()
        .find(|i| i.outside && i.lo_mm <= d && i.hi_mm >= d)
        .unwrap();
    let s = &gauge.serial;
    let text = format!(
        "Place;Reading mm;Gauge\r\nA1;{:.3};{s}\r\nplane 2, end A side;{:.3};{s}\r\nC1;{:.2};{s}\r\nD1;{:.3};{s}\r\nE7;{d};{s}\r\nA2;snug;{s}\r\nB2;{d};MQ-999\r\nC2;;{s}\r\n",
        d + 0.009, d + 0.010, d * 10.0, d + 3.0
    )
    .replace('.', ",");
    let page = hand_in(&mut b, &at, &text).await;
    let nothing = b.get(&page).await.body;
    assert!(nothing.contains("Choose above which sheet"), "{nothing}");
    let chosen = format!("{page}?sheet={}", open.replace('/', "%2F"));
    let a = b.get(&chosen).await;
    for words in [
        "Keep 2 readings",
        "a slip of the decimal point",
        "Is it this place, and is the instrument zeroed",
        "There is no such place on this sheet",
        "No instrument of the shop goes by this name",
        "nothing was read",
    ] {
        assert!(a.body.contains(words), "{words}: {}", a.body);
    }
    let count = |c: &mut _| readings_export::readings(c, id).unwrap().1.len();
    assert_eq!(count(c), before.len(), "nothing is kept yet");
    // A person insists on the far one: line 5 of the file.
    let sure = b.get(&format!("{chosen}&sure.5=on")).await;
    assert!(sure.body.contains("Keep 3 readings"), "{}", sure.body);
    let done = b.post(&page, &kept_fields(&sure)).await;
    assert_eq!(done.location(), format!("/rebuilds/{id}/ledger?brought=3"), "{}", done.body);
    assert!(b.get(done.location()).await.body.contains("3 readings were kept"));
    let (_, now) = readings_export::readings(c, id).unwrap();
    let mine: Vec<(String, f64, String)> =
        now.iter().filter(|t| t.key == open).map(|t| (t.cell.clone(), t.value.unwrap(), t.serial.clone())).collect();
    let near = |a: f64, b: f64| (a - b).abs() < 1e-6;
    assert!(mine.len() == 3 && near(mine[0].1, d + 0.009) && mine.iter().all(|m| m.2 == gauge.serial), "{mine:?}");
    assert!(ironseat_store::chain::rebuild::verify(c, id, true).unwrap().whole());

    // The same rows again are there already; another value corrects, and is kept only against what was seen.
    let page = hand_in(&mut b, &at, &format!("cell,value,unit\nA1,{:.3},mm\nB1,{:.3},mm", d + 0.009, d + 0.012)).await;
    let chosen = format!("{page}?sheet={}&instrument={}", open.replace('/', "%2F"), gauge.id);
    let a = b.get(&chosen).await;
    assert!(a.body.contains("Keep 1 correction") && a.body.contains("there already"), "{}", a.body);
    let fields = kept_fields(&a);
    let cell = format!("/rebuilds/{id}/seats/{seat}/sheets/journal/readings");
    let typed = b.post(&cell, &format!("cell=A3&text={:.3}&units=mm&instrument={}", d + 0.008, gauge.id)).await;
    assert_eq!(typed.status, StatusCode::SEE_OTHER, "{}", typed.body);
    let late = b.post(&page, &fields).await;
    assert!(
        late.status == StatusCode::CONFLICT && late.body.contains("somebody wrote in this rebuild meanwhile"),
        "{}",
        late.body
    );
    assert_eq!(b.post(&page, &kept_fields(&late)).await.status, StatusCode::SEE_OTHER);
    assert_eq!(count(c), before.len() + 5);

    // What is no table is told beside its field, with what was typed.
    for (text, words) in [("", "choose a file"), ("place;value", "rows under the heading")] {
        let a = b.upload(&JOURNAL.replace("{id}", &at), form(&b.csrf, &[("pasted", text)], "", b"")).await;
        assert!(
            a.status == StatusCode::UNPROCESSABLE_ENTITY && a.body.contains(words) && a.body.contains(text),
            "{}",
            a.body
        );
    }
    // A finished rebuild takes none.
    let done = f.rebuild("R-0398");
    assert!(b.get(&JOURNAL.replace("{id}", &done.to_string())).await.body.contains("finished and signed"));
}

#[tokio::test]
async fn a_file_that_went_out_says_the_same_when_it_comes_in() {
    let (f, app) = shop().await;
    for number in ["R-0412", "R-0415", "R-0418"] {
        let id = f.rebuild(number);
        let c = &mut f.connection();
        let key =
            tokens::make(c, &f.person("tomasz"), Id::new(), "spreadsheet", &["read".into(), "measure".into()]).unwrap();
        let files = format!("/api/rebuilds/{id}/files/readings.csv");
        let (status, _, text) = asks(&app, "GET", &files, &key, "", Vec::new()).await;
        assert_eq!(status, StatusCode::OK);
        let before = ironseat_store::chain::heads::revision(c, Some(id)).unwrap();
        let path = format!("/api/rebuilds/{id}/readings");
        let (status, said, _) = asks(&app, "POST", &path, &key, "text/csv", text.clone()).await;
        assert_eq!((status, said["kept"].as_u64()), (StatusCode::OK, Some(0)), "{number}: {said}");
        let of = |word: &str| said["lines"].as_array().unwrap().iter().filter(|l| l["became"] == word).count();
        let all = said["lines"].as_array().unwrap().len();
        assert_eq!(of("same") + of("left"), all, "{number}: {said}");
        assert_eq!(
            ironseat_store::chain::heads::revision(c, Some(id)).unwrap(),
            before,
            "{number}: nothing is written"
        );
    }
}

#[tokio::test]
async fn a_key_opens_what_its_owner_may_and_no_more() {
    let (f, app) = shop().await;
    let id = f.rebuild("R-0415");
    let mut b = Browser::signed_in(&app, "ines").await;
    // Made on the page, shown once.
    let made = b.post("/me/keys", "act=make&token_name=gauge+on+bench+2&scopes=read&scopes=measure").await;
    let key = made.body.split("<code>").nth(1).unwrap().split('<').next().unwrap().to_owned();
    let listed = b.get("/me/keys").await.body;
    assert!(
        listed.contains("gauge on bench 2") && listed.contains("read, measure") && !listed.contains(&key),
        "{listed}"
    );
    assert!(listed.contains("never"));
    for (body, words) in [
        ("act=make&token_name=&scopes=read", "expected what it is for"),
        ("act=make&token_name=x", "choose what it opens"),
        ("act=make&token_name=x&scopes=everything", "expected read, measure or take_in"),
    ] {
        let a = b.post("/me/keys", body).await;
        assert!(a.status == StatusCode::UNPROCESSABLE_ENTITY && a.body.contains(words), "{body}: {}", a.body);
    }
    let rebuilds = "/api/rebuilds";
    let (status, said, _) = asks(&app, "GET", rebuilds, &key, "", Vec::new()).await;
    assert_eq!((status, said["rebuilds"].as_array().unwrap().len()), (StatusCode::OK, 6), "{said}");
    assert!(!b.get("/me/keys").await.body.contains("never"), "when it was used");

    // Every way in, with every kind of key.
    let c = &mut f.connection();
    let ines = f.person("ines");
    let all = tokens::make(c, &ines, Id::new(), "all", &["read".into(), "measure".into(), "take_in".into()]).unwrap();
    let read = tokens::make(c, &f.person("tomasz"), Id::new(), "read", &["read".into()]).unwrap();
    assert!(
        tokens::make(c, &f.person("tomasz"), Id::new(), "t", &["take_in".into()]).is_err(),
        "a bench hand takes nothing in"
    );
    assert!(
        tokens::make(c, &f.person("saltmarsh"), Id::new(), "v", &["read".into()]).is_err(),
        "a customer's viewer has no keys"
    );
    let at = format!("/api/rebuilds/{id}");
    let ways = [
        ("GET", rebuilds.to_owned(), "read"),
        ("GET", at.clone(), "read"),
        ("GET", format!("{at}/readings"), "read"),
        ("GET", format!("{at}/files/readings.csv"), "read"),
        ("GET", format!("{at}/files/archive.zip"), "read"),
        ("GET", format!("{at}/files/section.svg"), "read"),
        ("GET", "/api/stock/leaves".into(), "read"),
        ("GET", "/api/stock/patterns".into(), "read"),
        ("POST", format!("{at}/readings"), "measure"),
        ("POST", "/api/archives".into(), "take_in"),
        ("POST", "/api/stock/leaves".into(), "take_in"),
        ("POST", "/api/stock/patterns".into(), "take_in"),
    ];
    for (method, path, scope) in &ways {
        for (who, secret) in [("none", ""), ("a wrong one", "ironseat_00"), ("words", "hello")] {
            let (status, said, _) = asks(&app, method, path, secret, "text/csv", Vec::new()).await;
            assert_eq!(status, StatusCode::UNAUTHORIZED, "{method} {path} with {who}: {said}");
            assert_eq!(said["error"]["field"], "authorization");
        }
        for (name, secret, has) in
            [("read", &read, "read"), ("read measure", &key, "read measure"), ("all", &all, "read measure take_in")]
        {
            let (status, said, _) = asks(&app, method, path, secret, "text/csv", Vec::new()).await;
            let open = has.split(' ').any(|s| s == *scope);
            assert_eq!(status != StatusCode::FORBIDDEN, open, "{method} {path} with {name}: {said}");
            assert!(!status.is_server_error(), "{method} {path} with {name}: {status} {said}");
        }
        // A cookie is no key.
        let r = Request::builder().method(*method).uri(path.as_str()).header(header::HOST, "127.0.0.1:4310");
        let r = app.clone().oneshot(r.header(header::COOKIE, &b.cookie).body(Body::empty()).unwrap()).await.unwrap();
        assert_eq!(r.status(), StatusCode::UNAUTHORIZED, "{method} {path}");
    }
    // And they are described.
    let api: Value = serde_json::from_str(&b.get("/api/openapi.json").await.body).unwrap();
    for (method, path, scope) in &ways {
        let path = path.replace(&id.to_string(), "{id}");
        let path = path.rsplit_once("/files/").map_or(path.clone(), |p| format!("{}/files/{{file}}", p.0));
        let op = &api["paths"][&path][method.to_lowercase()];
        assert_eq!(op["security"], json!([{"key": [scope]}]), "{method} {path}");
    }

    // A person who is put away, or whose sign-in is void, has no keys any more; one that was put away opens nothing.
    roster::put_away(c, &ines, f.person("tomasz").id).unwrap();
    assert_eq!(asks(&app, "GET", rebuilds, &read, "", Vec::new()).await.0, StatusCode::UNAUTHORIZED);
    let yuki = f.person("yuki");
    let hers = tokens::make(c, &yuki, Id::new(), "h", &["read".into()]).unwrap();
    roster::reset(c, Some(&ines), yuki.id).unwrap();
    assert_eq!(asks(&app, "GET", rebuilds, &hers, "", Vec::new()).await.0, StatusCode::UNAUTHORIZED);
    roster::set_role(c, Some(&ines), f.person("pell").id, Role::Lead, None).unwrap();
    let page = b.get("/me/keys").await;
    let token = page.value(&["gauge on bench 2", "name=\"token\""]);
    assert_eq!(b.post("/me/keys", &format!("act=away&token={token}")).await.status, StatusCode::SEE_OTHER);
    assert_eq!(asks(&app, "GET", rebuilds, &key, "", Vec::new()).await.0, StatusCode::UNAUTHORIZED);
    assert!(b.get("/record/people").await.body.contains("put away"), "on record");
    for (chain, name) in ironseat_store::chain::digests::Chain::ALL {
        assert!(ironseat_store::chain::shop::verify(c, chain).unwrap().whole(), "{name}");
    }
}

#[tokio::test]
async fn readings_of_a_program_are_all_kept_or_none() {
    let (f, app) = shop().await;
    let id = f.rebuild("R-0415");
    let c = &mut f.connection();
    let key = tokens::make(c, &f.person("tomasz"), Id::new(), "dial", &["read".into(), "measure".into()]).unwrap();
    let path = format!("/api/rebuilds/{id}/readings");
    let sheet = "sweep.collar/runout.sweep";
    let row = |k: usize, v: &str| json!({"key": sheet, "cell": format!("readings_um.{k}"), "value": v, "unit": "um"});
    let post = |q: &str, rows: Vec<Value>| {
        let (app, path, key) = (app.clone(), format!("{path}{q}"), key.clone());
        let body = json!({"readings": rows}).to_string().into_bytes();
        async move { asks(&app, "POST", &path, &key, "application/json", body).await }
    };
    let count = |c: &mut _| readings_export::readings(c, id).unwrap().1.iter().filter(|t| t.key == sheet).count();
    let (status, said, _) = post("", vec![row(0, "10"), row(1, "far off")]).await;
    assert_eq!((status, count(c)), (StatusCode::UNPROCESSABLE_ENTITY, 0), "{said}");
    assert_eq!(
        (said["lines"][0]["became"].as_str(), said["lines"][1]["became"].as_str()),
        (Some("new"), Some("wrong"))
    );
    let (status, said, _) = post("?look=true", vec![row(0, "10")]).await;
    assert_eq!((status, count(c), said["kept"].as_u64()), (StatusCode::OK, 0, Some(0)));
    let (status, said, _) = post("?partly=true", vec![row(0, "10"), row(1, "far off")]).await;
    assert_eq!((status, count(c), said["kept"].as_u64()), (StatusCode::OK, 1, Some(1)), "{said}");
    // In inches where a row says so; the same once more changes nothing.
    let inch = json!({"key": sheet, "cell": "at 30°", "value": "0.0004", "unit": "in"});
    let (_, said, _) = post("", vec![inch.clone()]).await;
    assert!((said["lines"][0]["value"].as_f64().unwrap() - 10.16).abs() < 1e-6, "{said}");
    let stand = ironseat_store::chain::heads::revision(c, Some(id)).unwrap();
    let (_, said, _) = post("", vec![inch]).await;
    assert_eq!(said["lines"][0]["became"], "same");
    assert_eq!(ironseat_store::chain::heads::revision(c, Some(id)).unwrap(), stand);
    // What never reaches us is told in the same words.
    for (method, path, status) in [
        ("GET", "/api/rebuilds/7", StatusCode::BAD_REQUEST),
        ("DELETE", "/api/rebuilds", StatusCode::METHOD_NOT_ALLOWED),
    ] {
        let (is, said, _) = asks(&app, method, path, &key, "", Vec::new()).await;
        assert!(is == status && said["error"]["message"].is_string(), "{path}: {is} {said}");
    }
    let large = vec![b'x'; 5 << 20];
    let (status, said, _) = asks(&app, "POST", &path, &key, "text/csv", large).await;
    assert!(status == StatusCode::PAYLOAD_TOO_LARGE && said["error"]["message"].is_string(), "{said}");
    // What is no list of readings is told.
    for (kind, body) in [
        ("application/json", "{"),
        ("application/json", r#"{"readings": 7}"#),
        ("application/json", r#"{"readings": [7]}"#),
        ("text/csv", ""),
        ("text/csv", "\u{0}"),
    ] {
        let (status, said, _) = asks(&app, "POST", &path, &key, kind, body.as_bytes().to_vec()).await;
        assert!(status == StatusCode::UNPROCESSABLE_ENTITY && said["error"]["message"].is_string(), "{body}: {said}");
    }
    let (_, said, _) = asks(&app, "GET", &format!("/api/rebuilds/{id}"), &key, "", Vec::new()).await;
    let acts = said["acts"].as_array().unwrap();
    assert!(acts.len() > 40 && acts.iter().any(|a| a["done"] == true), "{}", said["number"]);
    assert_eq!(said["sheets"][0]["key"], sheet);
}

#[tokio::test]
async fn stock_comes_as_tables_and_reaches_the_bench() {
    let (f, app) = shop().await;
    let mut b = Browser::signed_in(&app, "ines").await;
    let leaves = "thickness mm;pieces\n0,05;6\n0,1;4\nthin;1\n";
    let a = b.upload("/stores/leaves", form(&b.csrf, &[], "leaves.csv", leaves.as_bytes())).await;
    let page = a.location().to_owned();
    let a = b.get(&page).await;
    assert!(a.body.contains("1 of 3 rows are not understood") && a.body.contains("Thickness: "), "{}", a.body);
    let refused = b.post(&page, &kept_fields(&a)).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY, "{}", refused.body);
    let a = b.upload("/stores/leaves", form(&b.csrf, &[("pasted", &leaves.replace("thin", "100 um"))], "", b"")).await;
    let page = a.location().to_owned();
    let a = b.get(&page).await;
    assert_eq!(b.post(&page, &kept_fields(&a)).await.location(), "/stores?kept=leaves#leaves");
    let stores = b.get("/stores").await.body;
    assert!(stores.contains("0.100 mm") && stores.contains("× 5"), "{stores}");

    let cover = "x mm,y mm\n0,0\n90,0\n90,60\n0,60\n";
    let a = b.upload("/stores/pattern", form(&b.csrf, &[], "Sump.csv", cover.as_bytes())).await;
    let page = format!("{}?name=Sump+cover", a.location());
    let a = b.get(&page).await;
    assert!(a.body.contains("Keep the cover: 4 bolts"), "{}", a.body);
    let at = page.split('?').next().unwrap().to_owned();
    assert_eq!(b.post(&at, &kept_fields(&a)).await.location(), "/stores?kept=pattern#pattern");
    let stores = b.get("/stores").await;
    assert!(stores.body.contains("Sump cover") && stores.body.contains("4 bolts"));
    // Its order is asked in the Reckoner with its bolts.
    let ask = stores
        .body
        .split("Sump cover")
        .nth(1)
        .unwrap()
        .split("/reckoner/torque.pattern")
        .nth(1)
        .unwrap()
        .split('"')
        .next()
        .unwrap()
        .replace("&#38;", "&");
    let order = b.get(&format!("/reckoner/torque.pattern{ask}")).await;
    assert!(order.status == StatusCode::OK && order.body.contains("Bolts where they stand"), "{}", order.body);
    // Another program sees the same.
    let c = &mut f.connection();
    let key = tokens::make(c, &f.person("ines"), Id::new(), "all", &["read".into(), "take_in".into()]).unwrap();
    let (_, said, _) = asks(&app, "GET", "/api/stock/patterns", &key, "", Vec::new()).await;
    assert_eq!(
        (said["patterns"][1]["name"].as_str(), &said["patterns"][1]["order"]),
        (Some("Sump cover"), &json!([1, 3, 4, 2]))
    );
    let (status, said, _) = asks(
        &app,
        "POST",
        "/api/stock/leaves",
        &key,
        "application/json",
        br#"{"leaves":[{"um":250,"count":3}]}"#.to_vec(),
    )
    .await;
    assert_eq!((status, &said["leaves"]), (StatusCode::OK, &json!([{"um": 250, "pieces": 3}])), "{said}");
    // Deleted by whom is on record.
    let pattern = stores.value(&["Sump cover", "name=\"pattern\""]);
    assert_eq!(b.post("/stores", &format!("pattern={pattern}")).await.status, StatusCode::SEE_OTHER);
    assert!(b.get("/record/stores").await.body.contains("Bolt pattern Sump cover deleted"));
    let mut hand = Browser::signed_in(&app, "tomasz").await;
    assert!(!hand.get("/stores").await.body.contains("Say anew"), "a lead counts");
}

/// Instruments come and go; what one has read keeps the calibration that it was read with.
#[tokio::test]
async fn instruments_are_put_in_calibrated_and_put_away_and_papers_stay_as_they_were() {
    let (f, app) = shop().await;
    let c = &mut f.connection();
    let mut b = Browser::signed_in(&app, "ines").await;
    let finished = f.rebuild("R-0398");
    let paper = |b: &str| {
        let seats = b.split("cert-seat").skip(1).collect::<Vec<_>>().join("");
        (seats.matches("Outside micrometer 50–75").count(), seats.matches("50.007").count())
    };
    let before = paper(&b.get(&format!("/rebuilds/{finished}/certificate")).await.body);
    assert!(before.0 > 1 && before.1 > 0, "{before:?}");
    let at = "/stores/instruments";
    let new = ironseat_store::InstrumentId::new();
    let put = |serial: &str, hi: &str| {
        format!(
            "act=put-in&instrument={new}&name=Outside+micrometer+0–25&serial={serial}&outside=on&lo=0&hi={hi}&resolution=0.001&u=2&due=2027-06-30&pace=bench"
        )
    };
    let a = b.post(at, &put("MQ-060", "soon")).await;
    assert!(a.status == StatusCode::UNPROCESSABLE_ENTITY && a.body.contains("id=\"said-hi\""), "{}", a.body);
    assert!(a.body.contains("value=\"soon\"") && a.body.contains("value=\"MQ-060\""), "nothing typed is lost");
    let a = b.post(at, &put("MQ-023", "25")).await;
    assert!(a.body.contains("has this number: each has its own"), "{}", a.body);
    for _ in 0..2 {
        assert_eq!(b.post(at, &put("MQ-060", "25")).await.status, StatusCode::SEE_OTHER);
    }
    let list = ironseat_store::read::shop::list_instruments(c).unwrap();
    assert_eq!(list.iter().filter(|i| i.serial == "MQ-060").count(), 1, "sent twice it is one");
    let of = |serial: &str| {
        let list = ironseat_store::read::shop::list_instruments(&mut f.connection()).unwrap();
        list.into_iter().find(|i| i.serial == serial && i.in_use()).unwrap()
    };
    // A new calibration: the old figure stays under what it read.
    let old = of("MQ-023");
    let bad = b.post(at, &format!("act=calibrated&instrument={}&u=2.5&due=soon", old.id)).await;
    assert!(bad.status == StatusCode::UNPROCESSABLE_ENTITY && bad.body.contains("id=\"said-due\""), "{}", bad.body);
    for (due, u) in [("12345-01-01", "2"), ("2028-01-31", "-2"), ("2028-01-31", "1e9")] {
        let odd = b.post(at, &format!("act=calibrated&instrument={}&u={u}&due={due}", old.id)).await;
        assert_eq!(odd.status, StatusCode::UNPROCESSABLE_ENTITY, "{due} {u}");
    }
    let good = format!("act=calibrated&instrument={}&u=2.5&due=2028-01-31", old.id);
    assert_eq!(b.post(at, &good).await.status, StatusCode::SEE_OTHER);
    assert_eq!(b.post(at, &good).await.status, StatusCode::CONFLICT, "that one is out of use by now");
    let now = of("MQ-023");
    assert!(now.id != old.id && (now.u_mm - 0.0025).abs() < 1e-9 && now.due_on.to_string() == "2028-01-31");
    let page = b.get(&format!("/rebuilds/{finished}/certificate")).await.body;
    assert_eq!(paper(&page), before);
    let csv = b.get(&format!("/rebuilds/{finished}/ledger.csv")).await.body;
    assert!(csv.contains("0.003") && csv.contains("MQ-023"), "read with U of 3 µm, and so it stays");
    // Put away it is offered nowhere; taken again it is.
    let spindle = f.rebuild("R-0409");
    let sheet = format!("/rebuilds/{spindle}/seats/f2/sheets/journal");
    assert!(b.get(&sheet).await.body.contains(&now.id.to_string()));
    let short = b.post(at, &format!("act=away&instrument={}&why=x", now.id)).await;
    assert!(short.body.contains("id=\"said-why\""), "{}", short.body);
    assert_eq!(b.post(at, &format!("act=away&instrument={}&why=dropped", now.id)).await.status, StatusCode::SEE_OTHER);
    let body = b.get(&sheet).await.body;
    assert!(!body.contains(&format!("<option value=\"{}\"", now.id)), "it is offered nowhere");
    let taken =
        b.post(&format!("{sheet}/readings"), &format!("cell=A1&text=50.006&units=mm&instrument={}", now.id)).await;
    assert!(taken.body.contains("out of use (dropped)"), "{} {}", taken.status, taken.body);
    assert_eq!(b.post(at, &format!("act=back&instrument={}", now.id)).await.status, StatusCode::SEE_OTHER);
    assert!(b.get(&sheet).await.body.contains(&format!("<option value=\"{}\"", now.id)));
    // A dial reaches no seat and is offered on the sheets of acts.
    let dial = put("MQ-070", "10")
        .replace(&new.to_string(), &ironseat_store::InstrumentId::new().to_string())
        .replace("&outside=on", "");
    assert_eq!(b.post(at, &dial.replace("Outside+micrometer+0–25", "Dial+0–10")).await.status, StatusCode::SEE_OTHER);
    let act = format!("/rebuilds/{}/acts/sweep.collar/sheets/runout.sweep", f.rebuild("R-0415"));
    assert!(b.get(&act).await.body.contains("Dial 0–10") && !b.get(&sheet).await.body.contains("Dial 0–10"));
    let record = b.get("/record/stores").await.body;
    for said in
        ["number MQ-060, 0 to 25 mm, U 2 µm", "U 2.5 µm, until 2028-01-31", "put away: dropped", "taken in use again"]
    {
        assert!(record.contains(said), "{said}: {record}");
    }
    assert!(ironseat_store::chain::shop::verify(c, ironseat_store::chain::digests::Chain::Stores).unwrap().whole());
    let mut hand = Browser::signed_in(&app, "tomasz").await;
    assert_eq!(hand.post(at, &good).await.status, StatusCode::FORBIDDEN);
    assert!(!hand.get("/stores").await.body.contains("Put an instrument in"));
}
