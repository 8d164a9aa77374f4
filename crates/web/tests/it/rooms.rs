//! The rooms from outside, in process: who may do what, what is refused and how, on a real database.

use crate::browser::{Answer, Browser, shop};
use crate::support;
use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use diesel::connection::SimpleConnection as _;
use http_body_util::BodyExt as _;
use ironseat_core::terms::StepKind;
use ironseat_store::chain;
use std::collections::BTreeSet;
use tower::ServiceExt as _;

fn writes(id: &str) -> Vec<(String, &'static str)> {
    let seat = format!("/rebuilds/{id}/seats/de");
    vec![
        (format!("{seat}/sheets/journal/readings"), "cell=A1&text=40.008"),
        (format!("{seat}/sheets/journal/instrument"), "instrument=01890000-0000-7000-8000-000000000000"),
        (format!("/rebuilds/{id}"), "act=choose&seat=de&method=heat"),
        (format!("/rebuilds/{id}"), "act=sign&seat=de&pin=3512"),
        (format!("/rebuilds/{id}"), "act=overrule&seat=de&topic=journal&reason=because+it+is&pin=3512"),
        (format!("/rebuilds/{id}/finish"), "pin=2408"),
        (format!("/rebuilds/{id}"), "act=tick&step=receive.safe"),
        (format!("/rebuilds/{id}/version"), "version=2"),
        (format!("/rebuilds/{id}/pictures/{id}/away"), "step=x"),
        ("/rebuilds".into(), "number=R-1&title=t&customer=c"),
        ("/rules".into(), "revision=1"),
    ]
}

#[tokio::test]
async fn a_viewer_reads_everything_and_writes_nothing() {
    let (f, app) = shop().await;
    let id = f.rebuild("R-0412").to_string();
    let mut b = Browser::signed_in(&app, "saltmarsh").await;
    for path in ["", "/ledger", "/certificate", "/seats/de/sheets/journal"] {
        assert_eq!(b.get(&format!("/rebuilds/{id}{path}")).await.status, StatusCode::OK);
    }
    for (path, body) in writes(&id) {
        let a = b.post(&path, body).await;
        assert_eq!(a.status, StatusCode::FORBIDDEN, "{path}");
        assert!(a.body.contains("Reference"));
    }
    let page = b.get(&format!("/rebuilds/{id}/seats/de/sheets/journal")).await.body;
    assert!(!page.contains("id=\"entry\"") && page.contains("the bench measures"));
}

#[tokio::test]
async fn sessions_cannot_be_guessed_or_fixed_and_forms_cannot_be_forged() {
    let (f, app) = shop().await;
    let id = f.rebuild("R-0412").to_string();
    let reading = format!("/rebuilds/{id}/seats/de/sheets/journal/readings");

    // A planted id is worth nothing before and after.
    let mut victim = Browser::new(&app);
    victim.cookie = "iron_seat=AAAAAAAAAAAAAAAAAAAAAA".into();
    let a = victim.post_raw("/sign-in", "handle=tomasz&password=marrow-quay").await;
    let set = a.headers.get(header::SET_COOKIE).unwrap().to_str().unwrap();
    assert!(set.contains("HttpOnly") && set.contains("SameSite=Lax") && set.contains("Path=/"), "{set}");
    assert_ne!(victim.cookie, "iron_seat=AAAAAAAAAAAAAAAAAAAAAA");
    let mut thief = Browser::new(&app);
    thief.cookie = "iron_seat=AAAAAAAAAAAAAAAAAAAAAA".into();
    assert_eq!(thief.get("/").await.status, StatusCode::SEE_OTHER);

    // An id differing only in case is another session.
    let flipped: String = victim
        .cookie
        .chars()
        .map(|c| if c.is_ascii_lowercase() { c.to_ascii_uppercase() } else { c.to_ascii_lowercase() })
        .collect();
    thief.cookie = format!("iron_seat={}", &flipped["iron_seat=".len()..]);
    assert_eq!(thief.get("/").await.status, StatusCode::SEE_OTHER);

    // Without token, with another's token, from another origin: refused.
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let other = Browser::signed_in(&app, "yuki").await;
    assert_eq!(b.post_raw(&reading, "cell=A1&text=40.008").await.status, StatusCode::FORBIDDEN);
    assert_eq!(
        b.post_raw(&reading, &format!("_csrf={}&cell=A1&text=40.008", other.csrf)).await.status,
        StatusCode::FORBIDDEN
    );
    for (name, value) in [
        (header::ORIGIN.as_str(), "http://elsewhere.example"),
        (header::ORIGIN.as_str(), "null"),
        ("sec-fetch-site", "cross-site"),
    ] {
        let body = format!("_csrf={}&id={}&cell=A1&text=40.008", b.csrf, ironseat_store::RebuildId::new());
        let a = b
            .send(
                Request::post(&reading)
                    .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded")
                    .header(name, value),
                body,
            )
            .await;
        assert_eq!(a.status, StatusCode::FORBIDDEN, "{name} {value}");
    }
    let csrf_sign_in = b
        .send(
            Request::post("/sign-in")
                .header(header::ORIGIN, "http://elsewhere.example")
                .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded"),
            "handle=tomasz&password=marrow-quay".into(),
        )
        .await;
    assert_eq!(csrf_sign_in.status, StatusCode::FORBIDDEN);

    // Signed out is signed out, also for who kept the cookie.
    let kept = b.cookie.clone();
    assert_eq!(b.post("/sign-out", "").await.location(), "/sign-in");
    b.cookie = kept;
    assert_eq!(b.get("/").await.status, StatusCode::SEE_OTHER);
}

#[tokio::test]
async fn signing_in_is_slow_to_guess_and_never_leads_elsewhere() {
    let (_f, app) = shop().await;
    let mut b = Browser::new(&app);
    for (next, to) in [("//evil.example", "/"), ("https://evil.example", "/"), ("/%5Cevil", "/"), ("/rules", "/rules")]
    {
        let a = Browser::new(&app).post_raw("/sign-in", &format!("handle=yuki&password=marrow-quay&next={next}")).await;
        assert_eq!(a.location(), to, "{next}");
    }
    for _ in 0..6 {
        let a = b.post_raw("/sign-in", "handle=Tomasz&password=wrong").await;
        assert_eq!(a.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(a.body.contains("value=\"Tomasz\""), "what was typed stays");
    }
    let a = b.post_raw("/sign-in", "handle=tomasz&password=marrow-quay").await;
    assert_eq!(a.status, StatusCode::TOO_MANY_REQUESTS);
}

#[tokio::test]
async fn bad_input_gets_a_sentence_and_loses_nothing() {
    let (f, app) = shop().await;
    let base = format!("/rebuilds/{}/seats/de/sheets/journal", f.rebuild("R-0412"));
    let mut b = Browser::signed_in(&app, "tomasz").await;
    // A reading whose id was lost is not kept under a new one: sent twice it would stand twice.
    for id in ["", "&id=", "&id=12"] {
        let a = b.post_raw(&format!("{base}/readings"), &format!("_csrf={}{id}&cell=A1&text=40.008", b.csrf)).await;
        assert_eq!(a.status, StatusCode::BAD_REQUEST, "{id}");
    }
    let long = "9".repeat(10_000);
    for (text, says) in [
        ("", "nothing typed"),
        ("snug", "no number"),
        ("1.2.3", "not a number"),
        ("1e400", "exponent"),
        ("-40.0", "above 0"),
        (long.as_str(), "longer than a size"),
        ("%3Cscript%3Ealert(1)%3C%2Fscript%3E", "no number"),
        ("1.5753", "inches and millimetres"),
        ("400.08", "decimal point"),
        ("41.7", "Is it this land"),
    ] {
        let a = b.post(&format!("{base}/readings"), &format!("cell=A1&text={text}")).await;
        assert_eq!(a.status, StatusCode::UNPROCESSABLE_ENTITY, "{text}");
        assert!(a.body.contains(says) && a.body.contains("role=\"alert\""), "{text}");
        assert!(!a.body.contains("<script>alert"));
        if text.len() < 20 && !text.contains('%') {
            assert!(a.body.contains(&format!("value=\"{text}\"")), "{text} stays in the entry");
        }
    }
    assert!(b.get(&base).await.body.matches("data-reading=\"\"").count() == 12, "nothing was stored");
    // Sure is sure; a deviation and a fraction are read.
    for (cell, text) in [("A1", "%2B8+um"), ("B1", "40.008"), ("C1", "1-37%2F64+in")] {
        let a = b.post(&format!("{base}/readings"), &format!("cell={cell}&text={text}")).await;
        assert_eq!((a.status, a.location()), (StatusCode::SEE_OTHER, base.as_str()), "{text}: {}", a.body);
    }
    // The same id twice stores once; someone else's reading is not overwritten.
    let body = "id=01890000-0000-7000-8000-000000000001&cell=D1&text=40.007";
    for _ in 0..2 {
        assert_eq!(b.post(&format!("{base}/readings"), body).await.status, StatusCode::SEE_OTHER);
    }
    let mut yuki = Browser::signed_in(&app, "yuki").await;
    let a = yuki.post(&format!("{base}/readings"), "cell=D1&text=40.009").await;
    assert_eq!(a.status, StatusCode::CONFLICT);
    assert!(a.body.contains("Tomasz Brandt read 40.007 here meanwhile"));
}

#[tokio::test]
async fn every_answer_is_guarded_and_every_error_can_be_acted_on() {
    let (f, app) = shop().await;
    let mut b = Browser::signed_in(&app, "tomasz").await;
    for (path, status) in [
        ("/", 200),
        ("/nothing/here", 404),
        ("/rebuilds/not-an-id", 400),
        ("/rebuilds/01890000-0000-7000-8000-000000000000", 404),
        ("/healthz", 200),
        ("/metrics", 200),
        ("/assets/app.css", 200),
        ("/assets/../Cargo.toml", 404),
    ] {
        let a = b.get(path).await;
        assert_eq!(a.status.as_u16(), status, "{path}");
        for name in ["content-security-policy", "x-content-type-options", "x-frame-options", "referrer-policy"] {
            assert!(a.headers.contains_key(name), "{path} {name}");
        }
        if status >= 400 && !path.starts_with("/assets") {
            assert!(a.body.contains("Reference") && a.body.contains("<h1>"), "{path}: {}", a.body);
        }
    }
    let id = f.rebuild("R-0398");
    let svg = b.get(&format!("/rebuilds/{id}/section.svg")).await;
    assert!(svg.body.starts_with("<svg xmlns") && svg.headers[header::CONTENT_TYPE] == "image/svg+xml");
    let certificate = b.get(&format!("/rebuilds/{id}/certificate")).await.body;
    assert!(
        certificate.contains("Record whole") && certificate.contains("Ines Okafor") && !certificate.contains("Draft")
    );
    let a = b.send(Request::post("/api/reckon/gauge.capable"), r#"{"lo":0,"hi":4,"u":1}"#.into()).await;
    assert!(a.status == StatusCode::OK && a.body.contains("good"));
    let a = b.send(Request::post("/api/reckon/gauge.capable"), r#"{"lo":0,"hi":4,"u":"x"}"#.into()).await;
    assert!(a.status == StatusCode::UNPROCESSABLE_ENTITY && a.body.contains(r#""field":"u""#));
    let api: serde_json::Value = serde_json::from_str(&b.get("/api/openapi.json").await.body).unwrap();
    let paths = api["paths"].as_object().unwrap();
    // Every computation, and the derivation of a build sheet.
    assert_eq!(
        paths.keys().filter(|p| p.starts_with("/api/reckon/") || *p == "/api/derive").count(),
        ironseat_core::reckon::entries().count() + 1,
        "a path without a computation or a computation without a path"
    );
    // Those that want a key are asked by their own test.
    for (path, of) in paths.iter().filter(|p| p.1["post"].is_object() && p.1["post"]["security"].is_null()) {
        let content = &of["post"]["requestBody"]["content"];
        // A computation takes JSON, the derivation the text of a build sheet.
        let example = content["text/plain"]["example"]
            .as_str()
            .map_or_else(|| content["application/json"]["example"].to_string(), str::to_owned);
        let a = b.send(Request::post(path.as_str()), example).await;
        assert_eq!(a.status, StatusCode::OK, "{path}: {}", a.body);
    }
}

#[tokio::test]
async fn a_lead_sets_rules_and_starts_a_rebuild() {
    let (f, app) = shop().await;
    let mut b = Browser::signed_in(&app, "ines").await;
    let page = b.get("/rules").await.body;
    assert!(page.contains("Keep these rules"));
    let good = "revision=1&units=metric&school=diameter&rz_shaft_um=2.5&rz_ring_um=2&lubricant=oiled&open_cap_c=110&sealed_cap_c=80&form_share=0.5&press_share=0.8&hands_s=20&guard_band=on&zone=UTC";
    let a = b.post("/rules", &good.replace("sealed_cap_c=80", "sealed_cap_c=95")).await;
    assert!(
        a.status == StatusCode::UNPROCESSABLE_ENTITY
            && a.body.contains("needs a reason on record")
            && a.body.contains("value=\"95\"")
    );
    assert_eq!(
        b.post("/rules", &good.replace("hands_s=20", "hands_s=soon")).await.status,
        StatusCode::UNPROCESSABLE_ENTITY
    );
    let away = b.post("/rules", &good.replace("zone=UTC", "zone=Atlantis")).await;
    assert!(away.status == StatusCode::UNPROCESSABLE_ENTITY && away.body.contains("such as Europe/Lisbon"));
    assert_eq!(b.post("/rules", &good.replace("zone=UTC", "zone=asia/kolkata")).await.location(), "/rules?kept");
    assert!(b.get("/rules?kept").await.body.contains("these rules hold from now on"));
    // Times are said in the zone, on the page and nowhere else: records keep UTC.
    let id = f.rebuild("R-0398");
    let ledger = b.get(&format!("/rebuilds/{id}/ledger")).await.body;
    assert!(ledger.contains(" IST</td>") && !ledger.contains(" UTC</td>"));
    assert!(b.get(&format!("/rebuilds/{id}/ledger.csv")).await.body.contains("at_utc"));
    assert!(b.get("/record/rules").await.body.contains("times said in Asia/Kolkata instead of UTC"));
    let good = &good.replace("revision=1", "revision=2");
    assert_eq!(b.post("/rules", good).await.location(), "/rules?kept");
    assert_eq!(b.post("/rules", good).await.status, StatusCode::CONFLICT);

    let anatomy = b.get("/").await.value(&["name=\"anatomy\""]);
    let form = |due: &str| {
        format!(
            "id=01890000-0000-7000-8000-0000000000aa&number=R-0500&title=Spare+pump&customer=Fennel+Lock+Water+Board&anatomy={anatomy}&due_on={due}"
        )
    };
    let a = b.post("/rebuilds", &form("soon")).await;
    assert!(
        a.status == StatusCode::UNPROCESSABLE_ENTITY
            && a.body.contains("expected a date")
            && a.body.contains("Spare pump")
    );
    assert_eq!(
        b.post("/rebuilds", &form("2027-01-15")).await.location(),
        "/rebuilds/01890000-0000-7000-8000-0000000000aa"
    );
    assert!(b.get("/").await.body.contains("R-0500"));
}

#[tokio::test]
async fn the_call_forms_while_typing_and_nothing_is_stored() {
    let (f, app) = shop().await;
    let base = format!("/rebuilds/{}/seats/de/sheets/journal", f.rebuild("R-0412"));
    let mut b = Browser::signed_in(&app, "tomasz").await;
    for (text, says) in [
        ("40.030", "over size"),
        ("39.980", "under size"),
        ("40.010", "Good so far"),
        ("40.017", "undecided with this instrument"),
        ("%2B10+um", "Good so far"),
        ("40.0", "Nothing read yet"),
        ("snug", "Nothing read yet"),
    ] {
        let a = b.get(&format!("{base}/preview?cell=A1&text={text}")).await;
        assert!(a.status == StatusCode::OK && a.body.contains(says), "{text}: {}", a.body);
        assert!(!a.body.contains("<html"), "a fragment");
    }
    assert_eq!(b.get(&base).await.body.matches("data-reading=\"\"").count(), 12);
}

#[tokio::test]
async fn units_and_theme_are_a_persons_own_and_come_back_where_they_were() {
    let (f, app) = shop().await;
    let bench = format!("/rebuilds/{}", f.rebuild("R-0412"));
    let (mut tomasz, mut yuki) = (Browser::signed_in(&app, "tomasz").await, Browser::signed_in(&app, "yuki").await);
    assert!(tomasz.get(&bench).await.body.contains("40.002 … 40.018"));
    let a = tomasz.post("/me/units", &format!("units=inch&here={bench}")).await;
    assert_eq!(a.location(), bench);
    let page = tomasz.get(&bench).await.body;
    assert!(page.contains("1.5749 … 1.5755") && page.contains("journal, in") && !page.contains("40.018"));
    assert!(yuki.get(&bench).await.body.contains("40.018"));
    assert_eq!(tomasz.post("/me/units", "units=metric&here=//evil.example").await.location(), "/");
    assert_eq!(tomasz.post("/me/theme", "theme=dark&here=/").await.status, StatusCode::SEE_OTHER);
    assert!(
        tomasz.get("/").await.body.contains("data-theme=\"dark\"")
            && yuki.get("/").await.body.contains("data-theme=\"auto\"")
    );
    assert_eq!(tomasz.post("/me/theme", "theme=pink&here=/").await.status, StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test]
async fn fragments_are_parts_of_their_pages() {
    let (f, app) = shop().await;
    let id = f.rebuild("R-0412");
    let mut b = Browser::signed_in(&app, "tomasz").await;
    for path in [format!("/rebuilds/{id}"), format!("/rebuilds/{id}/seats/de/sheets/journal")] {
        let page = b.get(&path).await.body;
        let part = b.send(Request::get(&path).header("hx-request", "true"), String::new()).await.body;
        assert!(part.trim_start().starts_with("<div id=\"live\"") && !part.contains("<html"), "{path}");
        assert!(page.contains("<html") && page.contains("id=\"live\""));
    }
    // A reading sent by the page comes back as the fragment with the next cell.
    let body = format!("_csrf={}&id={}&cell=A1&text=40.008", b.csrf, ironseat_store::RebuildId::new());
    let post = Request::post(format!("/rebuilds/{id}/seats/de/sheets/journal/readings"))
        .header("hx-request", "true")
        .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded");
    let a = b.send(post, body).await;
    assert!(a.status == StatusCode::OK && a.body.contains("name=\"cell\" value=\"B1\""), "{}", a.body);
    assert!(
        a.body.contains("next: station 1, plane 2") && a.body.contains("foretold from what was read"),
        "the drawing and the forecast go along"
    );
}

#[tokio::test]
async fn the_floor_finds_and_leads_to_what_is_finished() {
    let (_f, app) = shop().await;
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let strips = |body: &str| body.matches("<article class=\"strip").count();
    assert_eq!(strips(&b.get("/").await.body), 6);
    assert_eq!(strips(&b.get("/?find=brine").await.body), 1);
    assert_eq!(strips(&b.get("/?find=hollow+hill").await.body), 2);
    assert_eq!(strips(&b.get("/?finished=true").await.body), 1);
    let none = b.get("/?find=100%25").await.body;
    assert!(strips(&none) == 0 && none.contains("Nothing answers to"), "a percent sign is not a wildcard");
    assert!(!b.get("/?find=%3Cscript%3E").await.body.contains("<script>\""));
    assert!(!b.get("/").await.body.contains("Start a rebuild"), "that is for leads");
}

#[tokio::test]
async fn live_events_say_that_something_changed() {
    let (f, app) = shop().await;
    let id = f.rebuild("R-0412");
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let sheet = format!("/rebuilds/{id}/seats/de/sheets/journal");
    let pages = [b.get(&format!("/rebuilds/{id}")).await.body, b.get(&sheet).await.body];
    // Between the page and its stream somebody reads: the stream says that the record is further than the page.
    b.post(&format!("{sheet}/readings"), "cell=A1&text=40.009").await;
    let request = Request::get(format!("/rebuilds/{id}/events"))
        .header(header::HOST, "127.0.0.1:4310")
        .header(header::COOKIE, &b.cookie)
        .body(Body::empty())
        .unwrap();
    let mut stream = app.clone().oneshot(request).await.unwrap().into_body();
    let mut next = async || {
        let frame =
            tokio::time::timeout(std::time::Duration::from_secs(5), stream.frame()).await.expect("an event in time");
        String::from_utf8(frame.unwrap().unwrap().into_data().unwrap().to_vec()).unwrap()
    };
    let hello = next().await;
    let stands = chain::heads::revision(&mut f.connection(), Some(id)).unwrap();
    assert!(hello.contains("event: hello") && hello.contains(&format!("data: {stands}\n")), "{hello}");
    for old in pages {
        assert!(old.contains(&format!("data-seen=\"{}\"", stands - 1)), "the page says how far it has come");
    }
    assert!(b.get(&sheet).await.body.contains(&format!("data-seen=\"{stands}\"")));
    let floor = chain::heads::revision(&mut f.connection(), None).unwrap();
    assert!(b.get("/").await.body.contains(&format!("data-seen=\"{floor}\"")));
    let writer = tokio::spawn(async move {
        for (i, cell) in ["B1", "C1", "D1", "A2", "B2"].iter().enumerate() {
            tokio::time::sleep(std::time::Duration::from_millis(250)).await;
            b.post(&format!("/rebuilds/{id}/seats/de/sheets/journal/readings"), &format!("cell={cell}&text=40.00{i}"))
                .await;
        }
    });
    let event = next().await;
    assert!(event.contains("event: changed") && event.contains(&id.to_string()), "{event}");
    writer.await.unwrap();
}

#[tokio::test]
async fn whoever_watches_is_told_what_is_and_nothing_about_anybody() {
    let (f, app) = shop().await;
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let id = f.rebuild("R-0412");
    b.get(&format!("/rebuilds/{id}?step=nonsense")).await;
    let mut nobody = Browser::new(&app);
    assert_eq!(nobody.get("/livez").await.body, "alive\n");
    assert_eq!(nobody.get("/readyz").await.body, "ok\n");
    let figures = nobody.get("/metrics").await.body;
    let counted = |l: &str| {
        l.starts_with("ironseat_requests_total")
            && ["/rebuilds/{id}\"", "method=\"GET\"", "status=\"200\""].iter().all(|w| l.contains(w))
    };
    assert!(figures.lines().any(counted), "{figures}");
    assert!(
        figures.contains("ironseat_request_seconds_bucket") && figures.contains("ironseat_database_connections_most 8")
    );
    assert!(!figures.contains(&id.to_string()) && !figures.contains("tomasz") && !figures.contains("R-0412"));
    // A page that failed names the reference that its header and its lines in the log have.
    let lost = b.get("/rebuilds/00000000-0000-7000-8000-000000000000").await;
    assert!(lost.body.contains(lost.headers["x-reference"].to_str().unwrap()), "{}", lost.body);
    // A schema that is not the one of this program is told, without any page being served from it.
    f.connection().batch_execute("ALTER TABLE draft_states DROP COLUMN said").unwrap();
    let told = nobody.get("/readyz").await;
    assert!(told.status == 503 && told.body.contains("draft_states has no said"), "{}", told.body);
    assert_eq!(nobody.get("/livez").await.status, 200);
}

#[tokio::test]
async fn instruments_are_offered_where_their_range_holds_the_size() {
    let (f, app) = shop().await;
    let mut b = Browser::signed_in(&app, "tomasz").await;
    // A 25 to 50 micrometer does not close over a journal of 50.002 to 50.009; over 40.002 to 40.018 it does.
    for (number, seat, offered, not) in [("R-0409", "f1", "50–75", "25–50"), ("R-0412", "de", "25–50", "50–75")]
    {
        let page = b.get(&format!("/rebuilds/{}/seats/{seat}/sheets/journal", f.rebuild(number))).await.body;
        let list = page.split("id=\"instrument\"").nth(1).unwrap().split("</select>").next().unwrap();
        assert!(list.contains(&format!("Outside micrometer {offered}")) && !list.contains(not), "{number}: {list}");
    }
}

#[tokio::test]
async fn a_seat_that_waits_for_the_machine_leads_to_what_can_be_done() {
    let (_f, app) = shop().await;
    let mut b = Browser::signed_in(&app, "ines").await;
    let page = b.get("/").await.body;
    let option =
        page.split("<option value=\"").find(|o| o.split('<').next().unwrap().contains("Sheave shaft")).unwrap();
    let anatomy = option.split('"').next().unwrap();
    let id = "01890000-0000-7000-8000-0000000000ab";
    let form = format!("id={id}&number=R-0500&title=Sheave+shaft&customer=own&anatomy={anatomy}&due_on=2026-12-24");
    assert_eq!(b.post("/rebuilds", &form).await.status, StatusCode::SEE_OTHER);
    let here = format!("/rebuilds/{id}");
    let bench = b.get(&here).await.body;
    assert!(bench.contains("<h1>Isolate, tag, try"), "nothing else is in hand: {bench}");
    let seat = b.get(&format!("{here}?seat=a&step=journal")).await.body;
    assert!(seat.contains("Held.") && seat.contains("data-way") && seat.contains("?step=receive.safe"), "{seat}");
    // A hand that goes on all the same is told, and nothing is written.
    let a = b.post(&here, "act=on-heater&seat=a&step=heat.a").await;
    assert!(a.status == StatusCode::CONFLICT && a.body.contains("is held"), "{}", a.status);
    assert_eq!(b.post(&here, "act=tick&step=receive.safe").await.location(), here);
    let seat = b.get(&format!("{here}?seat=a&step=journal")).await.body;
    assert!(
        !seat.contains("?step=receive.safe\" data-way") && seat.contains("Free-end bearing"),
        "the journal is not bare yet"
    );
    // The Floor says the same: not the seat, the machine's next act.
    let floor = b.get("/?find=R-0500").await.body;
    let strip = floor.split("<article class=\"strip").nth(1).unwrap();
    assert!(strip.contains("1 of ") && !strip.contains("Measure the journal"), "{strip}");
}

/// What lies dashed in a drawing: the parts that are not on.
fn off(svg: &str) -> std::collections::BTreeSet<String> {
    svg.split("<g class=\"part off")
        .skip(1)
        .map(|g| g.split("data-part=\"").nth(1).unwrap().split('"').next().unwrap().to_owned())
        .collect()
}

/// What stands under each seat of a drawing; a clock only by its word, it runs on.
fn marked(svg: &str) -> Vec<String> {
    let values = svg
        .split("class=\"value\"")
        .skip(1)
        .map(|t| t.split('>').nth(1).unwrap().split('<').next().unwrap().to_owned());
    values.map(|v| v.split(' ').next().unwrap_or("").to_owned()).collect()
}

#[tokio::test]
async fn floor_bench_and_certificate_say_the_same_of_every_rebuild() {
    let (f, app) = shop().await;
    let mut b = Browser::signed_in(&app, "ines").await;
    for number in ["R-0398", "R-0409", "R-0412", "R-0415", "R-0418", "R-0419"] {
        let here = format!("/rebuilds/{}", f.rebuild(number));
        let (floor, bench) = (b.get(&format!("/?find={number}")).await.body, b.get(&here).await.body);
        let (certificate, alone) =
            (b.get(&format!("{here}/certificate")).await.body, b.get(&format!("{here}/section.svg")).await.body);
        // How far it is: the Floor's count is the sum over the stages of the trail.
        let counts = bench
            .split("</summary>")
            .filter_map(|s| s.rsplit("<summary>").next()?.split("<span class=\"num\">").nth(1));
        let pairs: Vec<(usize, usize)> = counts
            .filter_map(|n| n.split('<').next()?.split_once('/'))
            .filter_map(|(d, a)| Some((d.parse().ok()?, a.parse().ok()?)))
            .collect();
        let (done, all) = pairs.iter().fold((0, 0), |s, p| (s.0 + p.0, s.1 + p.1));
        assert!(floor.contains(&format!("{done} of {all} steps done")), "{number}: {done} of {all}");
        // What is on: the same on the map, alone, on the certificate and in the strip.
        let strip = floor.split("<article class=\"strip").nth(1).unwrap();
        for (what, drawing) in [("alone", &alone), ("certificate", &certificate), ("floor", &strip.to_owned())] {
            assert_eq!(off(drawing), off(&bench), "{number}: bench and {what}");
        }
        assert_eq!(marked(&certificate), marked(&bench), "{number}");
        // What wants someone: the act in hand is what the strip names, or a call that stands on the bench, too.
        if !bench.contains("Finished and signed") {
            let hand = bench.split("<h1>").nth(1).unwrap().split("</h1>").next().unwrap().to_lowercase();
            let headline = strip.split("class=\"headline\">").nth(1).unwrap().split('<').next().unwrap();
            let named = strip.to_lowercase().contains(hand.trim_end_matches('.'));
            assert!(named || bench.contains(headline), "{number}: {hand} in hand, {headline} on the Floor");
        }
    }
}

#[tokio::test]
async fn why_puts_the_numbers_of_a_seat_into_its_formulas() {
    let (f, app) = shop().await;
    let id = f.rebuild("R-0412").to_string();
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let bare = b.get("/why").await.body;
    assert!(bare.contains("id=\"pressure-and-force\"") && !bare.contains("own-numbers"));

    // From the call on the bench to its paragraph, and back by the seat's name.
    let bench = b.get(&format!("/rebuilds/{id}?seat=ie&step=choose")).await.body;
    let link = format!("/why?rebuild={id}&#38;seat=ie#");
    assert!(bench.contains(&link), "{bench}");
    let own = b.get(&format!("/why?rebuild={id}&seat=ie")).await;
    assert_eq!(own.status, StatusCode::OK);
    for wanted in ["π d x p µ", "T<sub>shaft</sub> + (δ<sub>max</sub> + slide)/(α d)", "Taken:", "seat=ie\"><b>"] {
        assert!(own.body.contains(wanted), "{wanted}");
    }
    // The formula stands right under its paragraph.
    let (at, next) =
        (own.body.find("id=\"heating\"").expect("paragraph"), own.body.find("id=\"cooling\"").expect("the next"));
    assert!(own.body[at..next].contains("(α d)"));

    for wrong in [
        format!("/why?rebuild={id}&seat=nowhere"),
        format!("/why?rebuild={id}"),
        format!("/why?rebuild={}", ironseat_store::RebuildId::new()),
    ] {
        assert_eq!(b.get(&wrong).await.status, StatusCode::NOT_FOUND, "{wrong}");
    }
    assert_eq!(b.get("/why?rebuild=12").await.status, StatusCode::BAD_REQUEST);
}

#[tokio::test]
async fn a_sign_in_begins_anew_and_leads_nowhere_else() {
    let (_f, app) = shop().await;
    let mut b = Browser::signed_in(&app, "saltmarsh").await;
    let viewer = b.cookie.clone();
    // Somebody else signs in on the same machine: the cookie of before is worth nothing.
    let a = b.post_raw("/sign-in", "handle=ines&password=marrow-quay").await;
    assert_eq!(a.status, StatusCode::SEE_OTHER);
    assert_ne!(b.cookie, viewer, "a new id at every sign-in");
    let mut old = Browser { app: app.clone(), cookie: viewer, csrf: String::new() };
    assert_eq!(old.get("/rules").await.status, StatusCode::SEE_OTHER, "led to the sign-in");
    // Where to go on is a path of ours, whatever a browser makes of it.
    for next in [
        "//evil.example",
        "/%09/evil.example",
        "/%5Cevil.example",
        "/%0D%0ASet-Cookie:%20a=b",
        "https://evil.example",
        "/%E2%80%AE",
        "/sign-out",
    ] {
        let a = b.post_raw("/sign-in", &format!("handle=ines&password=marrow-quay&next={next}")).await;
        assert_eq!((a.status, a.location()), (StatusCode::SEE_OTHER, "/"), "{next}");
    }
    let a = b.post_raw("/sign-in", "handle=ines&password=marrow-quay&next=%2Frules").await;
    assert_eq!(a.location(), "/rules");
}

#[tokio::test]
async fn whoever_guesses_locks_nobody_else_out() {
    use axum::extract::ConnectInfo;
    let (f, app) = shop().await;
    let from = |last: u8, body: &'static str| {
        let app = app.clone();
        async move {
            let mut r = Request::post("/sign-in")
                .header(header::HOST, "localhost")
                .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded")
                .body(Body::from(body))
                .unwrap();
            r.extensions_mut().insert(ConnectInfo(std::net::SocketAddr::from(([10, 0, 0, last], 999))));
            app.oneshot(r).await.unwrap().status()
        }
    };
    // Twenty at the same time from one place: six are judged, no more.
    let all = futures::future::join_all((0..20).map(|_| from(7, "handle=ines&password=guess"))).await;
    assert_eq!(all.iter().filter(|s| **s == StatusCode::UNPROCESSABLE_ENTITY).count(), 6, "{all:?}");
    assert!(all.iter().all(|s| matches!(*s, StatusCode::UNPROCESSABLE_ENTITY | StatusCode::TOO_MANY_REQUESTS)));
    // Ines, from her own bench, signs in all the same; and the name of her PIN's tries is nobody's sign-in name.
    assert_eq!(from(8, "handle=ines&password=marrow-quay").await, StatusCode::SEE_OTHER);
    for _ in 0..7 {
        from(9, "handle=pinines&password=guess").await;
        from(9, "handle=pin%3Aines&password=guess").await;
    }
    ironseat_store::write::secrets::check_pin(&mut f.connection(), f.person("ines").id, "2408").unwrap();
    // One place is given up after many names.
    let names: Vec<StatusCode> =
        futures::future::join_all((0..45).map(|_| from(10, "handle=nobody&password=guess"))).await;
    assert!(names.contains(&StatusCode::TOO_MANY_REQUESTS));
}

#[tokio::test]
async fn only_under_its_own_names_and_an_empty_shop_only_with_the_code() {
    let f = support::Fresh::empty().await;
    let config = ironseat_web::Config {
        hosts: vec!["bench.quay.example".into()],
        first_run_code: "QUAY-CODE".into(),
        tls: true,
        printer: None,
    };
    let app = ironseat_web::router(ironseat_web::App::new(f.store.clone(), config));
    let ask = |host: &'static str, path: &'static str| {
        let app = app.clone();
        async move {
            let r = Request::get(path).header(header::HOST, host).body(Body::empty()).unwrap();
            app.oneshot(r).await.unwrap()
        }
    };
    for (host, status) in [
        ("127.0.0.1:4310", StatusCode::OK),
        ("localhost", StatusCode::OK),
        ("[::1]:4310", StatusCode::OK),
        ("BENCH.quay.example", StatusCode::OK),
        ("evil.example", StatusCode::MISDIRECTED_REQUEST),
        ("127.0.0.1.evil.example:4310", StatusCode::MISDIRECTED_REQUEST),
        ("bench.quay.example.evil", StatusCode::MISDIRECTED_REQUEST),
        ("", StatusCode::MISDIRECTED_REQUEST),
    ] {
        assert_eq!(ask(host, "/sign-in").await.status(), status, "{host}");
        assert_eq!(ask(host, "/healthz").await.status(), status, "{host}");
    }
    let mut b = Browser::new(&app);
    let shop = "shop=Own+shop&name=Ines+Okafor&handle=ines&password=long+enough&pin=2408";
    for code in ["", "&code=", "&code=QUAY", "&code=quay-codf", "&code=QUAY-CODE-1"] {
        let a = b.post_raw("/first-run", &format!("{shop}{code}")).await;
        assert_eq!(a.status, StatusCode::UNPROCESSABLE_ENTITY, "{code}");
        assert!(
            a.body.contains("the code that the program printed") && a.body.contains("value=\"Own shop\""),
            "{code}"
        );
    }
    let a = b.post_raw("/first-run", &format!("{shop}&code=quay+code")).await;
    assert_eq!(a.status, StatusCode::SEE_OTHER, "{}", a.body);
    // Behind TLS the cookie is bound to this host and to TLS.
    let cookie = a.headers.get(header::SET_COOKIE).unwrap().to_str().unwrap();
    assert!(
        cookie.starts_with("__Host-iron_seat=")
            && cookie.contains("Secure")
            && cookie.contains("HttpOnly")
            && cookie.contains("Path=/"),
        "{cookie}"
    );
}

#[tokio::test]
async fn a_stream_ends_with_its_session_and_reckoning_is_bounded() {
    let (_f, app) = shop().await;
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let many =
        |seconds: f64| format!(r#"{{"tasks": [{{"id": "a", "hands_min": 5}}], "people": 1, "seconds": {seconds}}}"#);
    let ask = |body: String| {
        let app = app.clone();
        async move {
            let r = Request::post("/api/reckon/plan.solve")
                .header(header::HOST, "localhost")
                .body(Body::from(body))
                .unwrap();
            Answer::of(app.oneshot(r).await.unwrap()).await
        }
    };
    let long = ask(many(60.0)).await;
    assert!(
        long.status == StatusCode::UNPROCESSABLE_ENTITY && long.body.contains("\"field\":\"seconds\""),
        "{}",
        long.body
    );
    assert_ne!(ask(many(0.05)).await.status, StatusCode::SERVICE_UNAVAILABLE);
    // Signed out, or put away, a stream that was opened before ends by itself.
    let request = Request::get("/events")
        .header(header::HOST, "127.0.0.1:4310")
        .header(header::COOKIE, &b.cookie)
        .body(Body::empty())
        .unwrap();
    let stream = app.clone().oneshot(request).await.unwrap().into_body();
    let mut lead = Browser::signed_in(&app, "ines").await;
    let pell = Browser::signed_in(&app, "pell").await;
    let request = Request::get("/events")
        .header(header::HOST, "127.0.0.1:4310")
        .header(header::COOKIE, &pell.cookie)
        .body(Body::empty())
        .unwrap();
    let other = app.clone().oneshot(request).await.unwrap().into_body();
    let id = lead.get("/people").await.value(&["Pell Adeyemi</th>", "name=\"person\""]);
    assert_eq!(lead.post("/people", &format!("act=away&person={id}")).await.status, StatusCode::SEE_OTHER);
    assert_eq!(b.post("/sign-out", "").await.status, StatusCode::SEE_OTHER);
    let to_the_end = async |mut s: Body| while let Some(Ok(_)) = s.frame().await {};
    let both = futures::future::join(to_the_end(stream), to_the_end(other));
    let ended = tokio::time::timeout(std::time::Duration::from_secs(30), both);
    ended.await.expect("they end within half a minute");
}

#[tokio::test]
async fn people_are_a_leads_business_and_a_code_is_shown_once() {
    let (_f, app) = shop().await;
    for who in ["tomasz", "saltmarsh"] {
        let mut b = Browser::signed_in(&app, who).await;
        assert_eq!(b.get("/people").await.status, StatusCode::FORBIDDEN, "{who}");
        assert_eq!(
            b.post("/people", "act=invite&name=X+Y&handle=xy&role=lead").await.status,
            StatusCode::FORBIDDEN,
            "{who}"
        );
        assert!(!b.get("/").await.body.contains("href=\"/people\""));
        assert_eq!(b.get("/me").await.status, StatusCode::OK);
    }
    let mut b = Browser::signed_in(&app, "ines").await;
    let a = b.post("/people", "act=invite&name=Marek+Quill&handle=Not+One&role=bench").await;
    assert_eq!(a.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(a.body.contains("small letters and digits") && a.body.contains("value=\"Marek Quill\""), "{}", a.body);
    let a = b.post("/people", "act=invite&name=Marek+Quill&handle=marek&role=bench").await;
    assert_eq!(a.status, StatusCode::OK);
    let code = a.body.split("class=\"big num\">").nth(1).unwrap().split('<').next().unwrap().to_owned();
    assert_eq!(code.len(), 14);
    assert!(!b.get("/people").await.body.contains(&code), "and never again");

    // With it Marek sets his own, is signed in, and works under his name.
    let mut m = Browser::new(&app);
    let a = m.post_raw("/first", &format!("handle=marek&code={code}&password=tiny&pin=2711")).await;
    assert!(
        a.status == StatusCode::UNPROCESSABLE_ENTITY
            && a.body.contains("id=\"said-password\"")
            && a.body.contains("value=\"marek\"")
    );
    let a = m.post_raw("/first", &format!("handle=marek&code={code}&password=a+long+enough+one&pin=2711")).await;
    assert_eq!((a.status, a.location()), (StatusCode::SEE_OTHER, "/"));
    let floor = m.get("/").await.body;
    m.csrf = floor.split("data-csrf=\"").nth(1).unwrap().split('"').next().unwrap().to_owned();
    assert!(floor.contains("data-name=\"Marek Quill\""));
    for (body, says) in [
        ("act=pin&old=wrong&fresh=8052&again=8052", "not your password of now"),
        ("act=pin&old=a+long+enough+one&fresh=8052&again=8053", "the two differ"),
        ("act=password&old=a+long+enough+one&fresh=password&again=password", "first that are guessed"),
    ] {
        let a = m.post("/me", body).await;
        assert!(a.status == StatusCode::UNPROCESSABLE_ENTITY && a.body.contains(says), "{body}: {}", a.body);
    }
    let a = m.post("/me", "act=password&old=a+long+enough+one&fresh=yet+another+one&again=yet+another+one").await;
    assert_eq!(a.status, StatusCode::SEE_OTHER);
    assert!(m.get(a.location()).await.body.contains("Your password is changed."));

    // Put away: his session ends with the next request.
    let people = b.get("/people").await;
    let id = people.value(&["Marek Quill</th>", "name=\"person\""]);
    assert_eq!(b.post("/people", &format!("act=away&person={id}")).await.status, StatusCode::SEE_OTHER);
    assert_eq!(m.get("/").await.status, StatusCode::SEE_OTHER, "led to the sign-in");
    // The last lead cannot put herself away.
    let own = people.value(&["<small>you</small>", "name=\"person\""]);
    let a = b.post("/people", &format!("act=away&person={own}")).await;
    assert!(a.status == StatusCode::CONFLICT && a.body.contains("the last lead"), "{}", a.body);
    for wrong in ["act=away&person=12", "act=reset&person=01890000-0000-7000-8000-000000000000"] {
        assert_eq!(b.post("/people", wrong).await.status, StatusCode::NOT_FOUND, "{wrong}");
    }
}

/// Every route of the program, for every kind of person: found from the route table, so that a new one is tried as
/// well.
#[tokio::test]
async fn a_customer_sees_their_own_rebuilds_and_nothing_else() {
    let (f, app) = shop().await;
    let mut lead = Browser::signed_in(&app, "ines").await;
    let mut viewer = Browser::signed_in(&app, "saltmarsh").await;
    let (own, other) = (f.rebuild("R-0412").to_string(), f.rebuild("R-0415").to_string());
    let table = include_str!("../../src/routes.rs");
    let routes: Vec<&str> =
        table.lines().filter_map(|l| l.trim().strip_prefix(".route(\"")?.split('"').next()).collect();
    assert!(routes.len() > 35, "{}", routes.len());
    let fill = |route: &str, id: &str| {
        let key = "overhung-brine-pump";
        let path =
            route.replacen("{id}", id, 1).replace("{seat}", "ie").replace("{kind}", "journal").replace("{key}", key);
        path.replace("{picture}", id).replace("{name}", "judge").replace("{*path}", "app.css")
    };
    // Open to anybody, signed in or not.
    let anybody = [
        "/sign-in",
        "/first",
        "/first-run",
        "/healthz",
        "/livez",
        "/readyz",
        "/metrics",
        "/api/reckon/{name}",
        "/api/derive",
        "/api/openapi.json",
        "/api/archive.schema.json",
        "/assets/{*path}",
    ];
    // Open to whoever is signed in, with what is their own.
    let own_rooms =
        ["/", "/clocks", "/events", "/me", "/me/units", "/me/theme", "/sign-out", "/why", "/measure/{bytes}"];
    let shut = |s: StatusCode| {
        matches!(
            s,
            StatusCode::FORBIDDEN | StatusCode::NOT_FOUND | StatusCode::METHOD_NOT_ALLOWED | StatusCode::UNAUTHORIZED
        )
    };
    for route in routes.iter().filter(|r| !anybody.contains(r) && !own_rooms.contains(r)) {
        // Streams do not end: their head is enough. An old address says where it leads, and reads nothing.
        if route.ends_with("/events") || route.ends_with("/trail") {
            continue;
        }
        let a = viewer.get(&fill(route, &other)).await;
        assert!(shut(a.status), "{route} of another: {}", a.status);
        assert!(!a.body.contains("Fennel Lock") && !a.body.contains("R-0415"), "{route}");
        let a = viewer.post(&fill(route, &other), "act=tick&step=receive.safe").await;
        assert!(shut(a.status), "post {route} of another: {}", a.status);
        if route.starts_with("/rebuilds/{id}") {
            let a = viewer.post(&fill(route, &own), "act=tick&step=receive.safe").await;
            assert!(shut(a.status), "post {route}: {}", a.status);
        }
        let mut nobody = Browser::new(&app);
        let a = nobody.get(&fill(route, &own)).await;
        let no_key = route.starts_with("/api/") && a.status == StatusCode::UNAUTHORIZED;
        assert!(
            no_key || matches!(a.status, StatusCode::SEE_OTHER | StatusCode::METHOD_NOT_ALLOWED),
            "{route} unsigned: {}",
            a.status
        );
    }
    for stream in [format!("/rebuilds/{other}/events")] {
        let r = Request::get(&stream)
            .header(header::HOST, "localhost")
            .header(header::COOKIE, &viewer.cookie)
            .body(Body::empty())
            .unwrap();
        assert_eq!(app.clone().oneshot(r).await.unwrap().status(), StatusCode::NOT_FOUND);
    }
    // Their own: everything that can be read.
    for path in ["", "/ledger", "/ledger.csv", "/certificate", "/section.svg", "/seats/ie/sheets/journal"] {
        assert_eq!(viewer.get(&format!("/rebuilds/{own}{path}")).await.status, StatusCode::OK, "{path}");
    }
    assert_eq!(viewer.get(&format!("/why?rebuild={own}&seat=ie")).await.status, StatusCode::OK);
    assert_eq!(viewer.get(&format!("/why?rebuild={other}&seat=rotor")).await.status, StatusCode::NOT_FOUND);
    // However the address is written.
    for query in ["x=1&rebuild=", "%72ebuild=", "rebuil%64=", "+=&rebuild="] {
        let a = viewer.get(&format!("/why?{query}{other}&seat=ie")).await;
        assert!(a.status == StatusCode::NOT_FOUND && !a.body.contains("R-0415"), "{query}: {}", a.status);
    }
    let floor = viewer.get("/").await.body;
    assert!(
        floor.contains("R-0412")
            && !floor.contains("R-0415")
            && !floor.contains("Fennel")
            && !floor.contains("href=\"/anatomies\"")
    );
    let all = lead.get("/?find=R-04").await.body;
    assert!(all.contains("R-0415"));
    for find in ["R-0415", "Fennel", "%25", "_"] {
        assert!(!viewer.get(&format!("/?find={find}")).await.body.contains("Six-stage"), "{find}");
    }
    // A clock on another's machine is none of theirs.
    let clocks = viewer.get("/clocks").await.body;
    assert!(clocks.contains("R-0412"), "their own ring is cooling: {clocks}");
    let id = lead.get("/people").await.value(&["Saltmarsh Ice &#38; Cold Store</th>", "name=\"person\""]);
    let fennel = lead.get("/customers").await.value(&["<h2>Fennel Lock", "name=\"customer\""]);
    assert_eq!(
        lead.post("/people", &format!("act=role&person={id}&role=viewer")).await.status,
        StatusCode::UNPROCESSABLE_ENTITY,
        "of whom?"
    );
    assert_eq!(
        lead.post("/people", &format!("act=role&person={id}&role=viewer&customer={fennel}")).await.status,
        StatusCode::SEE_OTHER
    );
    assert!(!viewer.get("/clocks").await.body.contains("R-0412"));
    assert_eq!(viewer.get(&format!("/rebuilds/{own}")).await.status, StatusCode::NOT_FOUND, "with the next request");
    assert_eq!(viewer.get(&format!("/rebuilds/{other}")).await.status, StatusCode::OK);
}

#[tokio::test]
async fn customers_have_their_machines_by_serial_number() {
    let (_f, app) = shop().await;
    let mut lead = Browser::signed_in(&app, "ines").await;
    let page = lead.get("/customers").await.body;
    for wanted in ["Hollow Hill Funicular", "HH-S1", "HH-B2", "R-0398", "Looks at them: Saltmarsh Ice &#38; Cold Store"]
    {
        assert!(page.contains(wanted), "{wanted}");
    }
    // The same machine again: one line with two rebuilds, and no second customer for a name in another case.
    let anatomy = lead.get("/").await.value(&["name=\"anatomy\""]);
    let id = ironseat_store::RebuildId::new();
    let form = format!(
        "id={id}&number=R-0777&title=Sheave+shaft&customer=hollow+hill+funicular&serial=HH-S1&anatomy={anatomy}&due_on=2027-01-15"
    );
    assert_eq!(lead.post("/rebuilds", &form).await.status, StatusCode::SEE_OTHER);
    let answer = lead.get("/customers").await;
    let page = &answer.body;
    assert_eq!((page.matches("HH-S1").count(), page.to_lowercase().matches("<h2>hollow hill").count()), (1, 1));
    assert!(page.contains("R-0777"));
    for (body, says) in
        [("act=add&name=", "expected the customer"), ("act=add&name=Fennel+Lock+Water+Board", "is there already")]
    {
        let a = lead.post("/customers", body).await;
        assert!(a.status == StatusCode::UNPROCESSABLE_ENTITY && a.body.contains(says), "{body}");
    }
    let fennel = answer.value(&["<h2>Fennel Lock", "name=\"customer\""]);
    let a = lead.post("/customers", &format!("act=contact&customer={fennel}&contact=Lock+keeper%2C+by+the+bell")).await;
    assert_eq!(a.status, StatusCode::SEE_OTHER);
    let mut bench = Browser::signed_in(&app, "tomasz").await;
    assert!(bench.get("/customers").await.body.contains("Lock keeper, by the bell"));
    assert_eq!(bench.post("/customers", "act=add&name=Another").await.status, StatusCode::FORBIDDEN);
}

/// What was signed is another number now: the sheet asks why, beside the entry, and the certificate shows that it was
/// opened.
#[tokio::test]
async fn a_signed_seat_is_read_again_only_with_a_reason() {
    use diesel::RunQueryDsl as _;
    let (f, app) = shop().await;
    let id = f.rebuild("R-0412");
    let c = &mut f.connection();
    for sql in [
        "UPDATE steps SET done = 1, done_at = UTC_TIMESTAMP(6) WHERE kind = 'sign' AND seat = 'ie' AND rebuild_id = ?",
        "INSERT INTO sign_offs (id, rebuild_id, seat, person_id, role, said, at) SELECT UNHEX(REPLACE(UUID(), '-', '')), ?, 'ie', id, 'bench', 'so', UTC_TIMESTAMP(6) FROM people WHERE handle = 'tomasz'",
    ] {
        diesel::sql_query(sql).bind::<diesel::sql_types::Binary, _>(id).execute(c).unwrap();
    }
    let sheet = format!("/rebuilds/{id}/seats/ie/sheets/journal");
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let page = b.get(&format!("{sheet}?cell=B1")).await;
    assert!(
        page.body.contains("This seat is signed")
            && page.body.contains("id=\"text\"")
            && page.body.contains("form=\"entry\" name=\"reason\"")
    );
    let over = page.value(&["name=\"over\""]);
    let read = |reason: &str| format!("cell=B1&text=40.0085&over={over}&reason={reason}");
    let a = b.post(&format!("{sheet}/readings"), &read("oh")).await;
    assert_eq!(a.status, StatusCode::UNPROCESSABLE_ENTITY);
    for kept in [
        "say in 5 to 300 characters",
        "value=\"40.0085\"",
        "value=\"oh\"",
        "aria-invalid=\"true\" aria-describedby=\"said\"",
    ] {
        assert!(a.body.contains(kept), "{kept}");
    }
    let a = b.post(&format!("{sheet}/readings"), &read("the+first+was+read+beside+the+land")).await;
    assert_eq!(a.status, StatusCode::SEE_OTHER);
    assert!(b.get(&format!("/rebuilds/{id}/certificate")).await.body.contains("opened again since"));
    let ledger = b.get(&format!("/rebuilds/{id}/ledger")).await.body;
    assert!(ledger.contains("to be signed again") && ledger.contains("the first was read beside the land"));
}

#[tokio::test]
async fn an_apprentice_signs_and_a_second_person_counter_signs() {
    use diesel::RunQueryDsl as _;
    let (f, app) = shop().await;
    let id = f.rebuild("R-0412");
    let here = format!("/rebuilds/{id}");
    let set = |sql: &str| {
        diesel::sql_query(sql).bind::<diesel::sql_types::Binary, _>(id).execute(&mut f.connection()).unwrap();
    };
    set(
        "UPDATE steps SET done = 1, done_at = UTC_TIMESTAMP(6), detail = IF(kind = 'choose', 'press', '') WHERE kind <> 'sign' AND seat = 'ie' AND rebuild_id = ?",
    );
    set("UPDATE clocks SET ended_at = UTC_TIMESTAMP(6) WHERE rebuild_id = ?");
    support::hands::work_before(&f, &mut f.connection(), id, &support::hands::at("ie", StepKind::Sign));
    let (mut pell, mut tomasz) = (Browser::signed_in(&app, "pell").await, Browser::signed_in(&app, "tomasz").await);
    let sign = |pin: &str| format!("act=sign&seat=ie&pin={pin}");
    let at = format!("{here}?seat=ie&step=sign");
    assert!(pell.get(&at).await.body.contains("when a second person has counter-signed"));
    let a = pell.post(&here, &sign("5734")).await;
    assert_eq!(a.status, StatusCode::SEE_OTHER, "{}", a.body);
    let waits = pell.get(&at).await.body;
    assert!(
        waits.contains("Pell Adeyemi has signed. It is done when") && !waits.contains("as Pell Adeyemi</button>"),
        "{waits}"
    );
    let second = tomasz.get(&at).await.body;
    assert!(
        second.contains("Pell Adeyemi has signed as an apprentice") && second.contains("Counter-sign as Tomasz Brandt")
    );
    let certificate = format!("{here}/certificate");
    assert!(tomasz.get(&certificate).await.body.contains("waits for a counter-signature"));
    // What is read again under it opens it, with a reason.
    let sheet = format!("{here}/seats/ie/sheets/journal");
    assert!(tomasz.get(&format!("{sheet}?cell=B1")).await.body.contains("This seat is signed"));
    assert_eq!(tomasz.post(&here, &sign("3512")).await.status, StatusCode::SEE_OTHER);
    let whole = tomasz.get(&certificate).await.body;
    assert!(
        whole.contains("Pell Adeyemi (apprentice)")
            && whole.contains("counter-signed by Tomasz Brandt (bench)")
            && !whole.contains("opened again since")
            && !whole.contains("waits for a counter"),
        "{whole}"
    );
    let ledger = tomasz.get(&format!("{here}/ledger")).await.body;
    assert!(ledger.contains("signed as apprentice") && ledger.contains("counter-signed as bench for Pell Adeyemi"));
    // Not an apprentice's to overrule, and not a viewer's to look over.
    let a = pell.post(&here, "act=overrule&seat=ie&topic=fit&reason=it+was+always+so&pin=5734").await;
    assert!(a.body.contains("an apprentice does not overrule"), "{}", a.body);
}

/// A class that no style and no script knows was joined with its neighbour, or misspelt; an id that stands twice leads
/// links and keys to the wrong place.
#[tokio::test]
async fn every_class_of_a_page_is_known_and_every_id_stands_once() {
    let (f, app) = shop().await;
    let assets = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("assets");
    let mut lead = Browser::signed_in(&app, "ines").await;
    let mut known = lead.get("/assets/app.css").await.body;
    known += &std::fs::read_to_string(assets.join("vendor/bootstrap.min.css")).unwrap();
    for script in std::fs::read_dir(assets.join("js")).unwrap() {
        known += &std::fs::read_to_string(script.unwrap().path()).unwrap();
    }
    let known: BTreeSet<&str> = known.split(|c: char| !(c.is_ascii_alphanumeric() || c == '-' || c == '_')).collect();
    let mut paths: Vec<String> = [
        "/",
        "/rules",
        "/people",
        "/customers",
        "/me",
        "/why",
        "/anatomies",
        "/record/rules",
        "/sign-in",
        "/first",
        "/stores",
        "/archives",
        "/me/keys",
    ]
    .map(str::to_owned)
    .to_vec();
    for kind in ["brake-beam", "biogas-turbocharger", "overhung-brine-pump"] {
        paths.extend([format!("/anatomies/{kind}"), format!("/anatomies/{kind}/strip")]);
    }
    for number in ["R-0398", "R-0409", "R-0412", "R-0415", "R-0418"] {
        let here = format!("/rebuilds/{}", f.rebuild(number));
        paths.extend(["", "/ledger", "/certificate", "/version", "/readings-in"].map(|p| format!("{here}{p}")));
    }
    let pump = format!("/rebuilds/{}", f.rebuild("R-0412"));
    paths.extend(
        [
            "?seat=ie&step=choose",
            "?step=look.brg-de",
            "?seat=ie&step=cool",
            "?part=brg-de",
            "/seats/de/sheets/journal",
            "/seats/ie/sheets/home",
            "/acts/at.ie.cool/sheets/runout.stations",
        ]
        .map(|q| format!("{pump}{q}")),
    );
    paths.extend(["/reckoner", "/reckoner/plan.solve", "/reckoner/fit.press", "/forecasts"].map(str::to_owned));
    let draft = lead.post("/anatomies/brake-beam/edit", &format!("id={}", ironseat_store::RebuildId::new())).await;
    paths.push(draft.location().to_owned());
    let mut seen = BTreeSet::new();
    let mut unknown = BTreeSet::new();
    let mut twice = BTreeSet::new();
    for path in &paths {
        let page = lead.get(path).await.body;
        let mut ids = BTreeSet::new();
        for id in page.split(" id=\"").skip(1).filter_map(|t| t.split('"').next()) {
            if !ids.insert(id) {
                twice.insert(format!("{id} at {path}"));
            }
        }
        for class in page.split("class=\"").skip(1).filter_map(|t| t.split('"').next()).flat_map(str::split_whitespace)
        {
            if !known.contains(class) {
                unknown.insert(format!("{class} at {path}"));
            }
            seen.insert(class.to_owned());
        }
    }
    assert!(seen.len() > 120, "{}", seen.len());
    assert!(unknown.is_empty(), "{unknown:#?}");
    assert!(twice.is_empty(), "{twice:#?}");
}

/// Every computation is a form that is filled from its example, and its page shows the figures of the API.
#[tokio::test]
async fn no_figure_differs_between_the_reckoner_and_the_api() {
    use ironseat_core::quantity::Units;
    use ironseat_core::reckon::{entries, question, reckon, shown};
    let (_f, app) = shop().await;
    let mut yuki = Browser::signed_in(&app, "yuki").await;
    let front = yuki.get("/reckoner").await.body;
    for e in entries() {
        let path = format!("/reckoner/{}", e.name);
        assert!(front.contains(&format!("href=\"{path}\"")), "{path}");
        let page = yuki.get(&path).await;
        assert!(page.status == StatusCode::OK && page.body.contains("Type what you know"), "{path}");
        assert!(page.body.contains(&question(e.name).replace('\'', "&#39;")), "{path}");
        let example = page.body.split("href=\"?").nth(1).and_then(|t| t.split('"').next()).unwrap();
        let filled = yuki.get(&format!("{path}?{}", example.replace("&#38;", "&").replace("&amp;", "&"))).await.body;
        assert!(!filled.contains("role=\"alert\"") && !filled.contains("Still wanted"), "{path}");
        // Words, and single figures, are not drawn.
        let plain =
            ["length.parse", "length.at_twenty", "gauge.capable", "heat.frees", "torque.other_surface", "removal.ways"];
        let drawn = filled.contains("class=\"reckon-drawing\"");
        assert!(drawn || plain.contains(&e.name), "{path} has no drawing");
        let answer = reckon(e.name, e.example).unwrap();
        for o in e.outputs {
            if let Some(v) = answer[o.name].as_f64() {
                let (number, _) = shown(o.name, v, Units::Metric);
                assert!(filled.contains(&format!(">{number}<")), "{path}: {} {number}", o.name);
            }
        }
    }
}

#[tokio::test]
async fn the_reckoner_says_what_is_wrong_beside_the_field_and_keeps_what_was_typed() {
    let (_f, app) = shop().await;
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let page = b.get("/reckoner/float.shim?lo_mm=0.25&hi_mm=0.35&pairs.0.pushed_mm=0&pairs.0.pulled_mm=soon").await;
    assert_eq!(page.status, StatusCode::OK);
    assert!(page.body.contains("id=\"said-pairs.0.pulled_mm\"") && page.body.contains("value=\"soon\""));
    // What is refused by the computation itself stands beside its field too.
    let page = b.get("/reckoner/torque.extension?torque_nm=100&wrench_mm=-3&extension_mm=50").await.body;
    assert!(page.contains("id=\"said-wrench_mm\"") && page.contains("Expected a number above 0."));
    let page = b.get("/reckoner/torque.extension?torque_nm=100").await.body;
    assert!(page.contains("Still wanted:") && !page.contains("role=\"alert\""));
    // Another's link keeps its units; the answer stands in one's own, the other beside it.
    let page = b.get("/reckoner/torque.extension?units=inch&torque_nm=74&wrench_mm=16&extension_mm=2").await.body;
    assert!(page.contains("These were typed in inches and pounds") && page.contains("lbf·ft"));
    assert!(page.contains(">89.18<"), "74 lbf·ft x 16/18 in N·m");
    // A search looks in fields and formulas as well; nothing found is said.
    let found = b.get("/reckoner?find=shim").await.body;
    assert!(found.contains("/reckoner/float.shim") && !found.contains("/reckoner/thread.hand"));
    assert!(b.get("/reckoner?find=j%C3%BCrgen").await.body.contains("No question speaks of"));
    assert_eq!(b.get("/reckoner/nothing").await.status, StatusCode::NOT_FOUND);
    // Markup in an address is text.
    let page = b.get("/reckoner/bearing.read?designation=%22%3E%3Cscript%3E1").await.body;
    assert!(!page.contains("<script>1"));
    // More rows than fit on a page, and rows far away, are taken as they come.
    assert_eq!(b.get("/reckoner/float.shim?pairs.99999999999.pushed_mm=1").await.status, StatusCode::OK);
}

/// The file of readings, read back by a parser: those of sheets and of the trail, with what they are judged by.
#[tokio::test]
async fn every_reading_leaves_the_house() {
    let (f, app) = shop().await;
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let (sheave, booster, turbo) = (f.rebuild("R-0398"), f.rebuild("R-0415"), f.rebuild("R-0418"));
    let note =
        "act=answer&step=ask.clipI.faces&question=clipI.faces&state=recorded&value=end+A&note=%3DHYPERLINK(%22x%22)";
    assert!(b.post(&format!("/rebuilds/{turbo}"), note).await.status.is_redirection());
    let mut read = async |id| {
        let a = b.get(&format!("/rebuilds/{id}/ledger.csv")).await;
        assert!(a.headers[header::CONTENT_TYPE].to_str().unwrap().contains("text/csv"));
        let text = a.body.strip_prefix('\u{feff}').expect("a byte-order mark").to_owned();
        let mut r = csv::Reader::from_reader(text.as_bytes());
        let head = r.headers().unwrap().clone();
        let rows =
            r.records().map(|x| head.iter().map(str::to_owned).zip(x.unwrap().iter().map(str::to_owned)).collect());
        rows.collect::<Vec<std::collections::BTreeMap<String, String>>>()
    };
    let of = read(sheave).await;
    let sheets: Vec<_> = of.iter().filter(|r| r["key"].contains('/')).collect();
    assert_eq!(sheets.len(), 2 * (12 + 12 + 7));
    let journal = sheets.iter().find(|r| r["key"].ends_with("/journal")).unwrap();
    assert_eq!((journal["rebuild"].as_str(), journal["unit"].as_str()), ("R-0398", "mm"));
    let number = |r: &std::collections::BTreeMap<String, String>, k: &str| r[k].parse::<f64>().unwrap();
    assert!(number(journal, "lower") < number(journal, "value") && number(journal, "value") < number(journal, "upper"));
    assert!(number(journal, "uncertainty_k2") > 0.0 && journal["serial"].starts_with("MQ-"), "{journal:?}");
    assert!(of.iter().any(|r| r["unit"] == "degc"), "what the thermometer read");
    // The booster's float of the trail: its three readings and their mean beside the window.
    let of = read(booster).await;
    let float: Vec<_> = of.iter().filter(|r| r["key"] == "float.thrust").collect();
    assert_eq!(float.iter().map(|r| r["cell"].as_str()).collect::<Vec<_>>(), ["1", "2", "3", "judged"]);
    assert_eq!(float.iter().map(|r| r["value"].as_str()).collect::<Vec<_>>(), ["0.41", "0.42", "0.4", "0.41"]);
    assert!(number(float[3], "upper") < 0.41 && float[3]["person"].contains("Yuki Halloran"));
    let of = read(turbo).await;
    let found = of.iter().find(|r| r["key"] == "ask.clipI.faces").unwrap();
    assert_eq!((found["typed"].as_str(), found["reason"].as_str()), ("end A", "'=HYPERLINK(\"x\")"));
}

/// An answer is pinned with what was typed, reckoned anew in its place, taken away, and stays on record all the while;
/// a seat fills what it knows with the figures that the Bench shows.
#[tokio::test]
async fn an_answer_is_pinned_to_a_rebuild() {
    let (f, app) = shop().await;
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let (pump, done) = (f.rebuild("R-0412"), f.rebuild("R-0398"));
    let bench = b.get(&format!("/rebuilds/{pump}?seat=de&step=put_on")).await.body;
    let link = format!("/reckoner/fit.press?pin.rebuild={pump}&#38;pin.seat=de");
    assert!(bench.contains(&link), "the Bench asks with its seat");
    let page = b.get(&link.replace("&#38;", "&")).await;
    assert!(page.body.contains("what the seat knows stands in the fields") && page.body.contains("name=\"d_mm\""));
    assert_eq!(page.value(&["id=\"d_mm\""]), "40");
    let c = &mut f.connection();
    let sheave = ironseat_store::read::rebuilds::get(c, done).unwrap();
    let seat = sheave.anatomy().seats[0].id.clone();
    let fit = ironseat_store::read::seats::seat_record(c, &sheave, &seat).unwrap().fit().unwrap();
    let shown = ironseat_core::quantity::show::force(fit.press.mid.force, ironseat_core::quantity::Units::Metric).0;
    let filled = b.get(&format!("/reckoner/fit.press?pin.rebuild={done}&pin.seat={seat}")).await.body;
    assert!(filled.contains(&format!(">{shown}<")), "{shown}, as on the Bench");

    let of = |to: &str, more: &str| {
        format!("pin.rebuild={to}&pin.about=lock+nut&units=metric&slots=4&tabs=13&pitch_mm=2&present_deg=10{more}")
    };
    let to = pump.to_string();
    let at = "/reckoner/nut.slots/pin";
    let no = b.post(at, &of("", "")).await;
    assert!(
        no.status == StatusCode::UNPROCESSABLE_ENTITY && no.body.contains("Choose the rebuild that it belongs to"),
        "{} {}",
        no.status,
        no.body
    );
    assert_eq!(no.value(&["id=\"slots\""]), "4", "nothing typed is lost");
    let bad = b.post(at, &of(&to, "").replace("slots=4", "slots=none")).await;
    assert_eq!(bad.status, StatusCode::UNPROCESSABLE_ENTITY);
    let closed = b.post(at, &of(&done.to_string(), "")).await;
    assert!(closed.status == StatusCode::CONFLICT && closed.body.contains("finished and signed"), "{}", closed.status);

    let first = "01890000-0000-7000-8000-0000000000c1";
    for _ in 0..2 {
        assert!(b.post(at, &of(&to, &format!("&pin.id={first}"))).await.location().ends_with("/ledger#reckoned"));
    }
    let ledger =
        |page: String| page.split("id=\"reckoned\"").nth(1).unwrap_or("").split("</table>").next().unwrap().to_owned();
    let one = ledger(b.get(&format!("/rebuilds/{pump}/ledger")).await.body);
    assert!(one.matches("<tr").count() == 2 && one.contains("lock nut") && one.contains("Tomasz Brandt"), "{one}");
    assert!(b.get(&format!("/rebuilds/{pump}/certificate")).await.body.contains("lock nut"));

    // Reckoned anew: the one before stands struck through, and cannot be replaced twice.
    let again = of(&to, &format!("&pin.replaces={first}")).replace("present_deg=10", "present_deg=11");
    assert!(b.post(at, &again).await.status.is_redirection());
    let late = b.post(at, &again).await;
    assert!(late.status == StatusCode::CONFLICT && late.body.contains("Somebody reckoned this sheet anew"));
    let two = ledger(b.get(&format!("/rebuilds/{pump}/ledger")).await.body);
    assert_eq!((two.matches("<tr").count(), two.matches("struck").count()), (3, 1), "{two}");
    let second = b.get(&format!("/rebuilds/{pump}")).await.body;
    let away = second.split("/pins/").nth(1).unwrap()[..36].to_owned();
    assert!(away != first && second.matches("/away\"").count() == 1);
    assert!(b.post(&format!("/rebuilds/{pump}/pins/{away}/away"), "").await.status.is_redirection());
    assert!(!b.get(&format!("/rebuilds/{pump}")).await.body.contains("id=\"reckoned\""));
    let all = ledger(b.get(&format!("/rebuilds/{pump}/ledger")).await.body);
    assert_eq!(all.matches("struck").count(), 2, "{all}");
    assert!(chain::rebuild::verify(&mut f.connection(), pump, true).unwrap().whole());
}

/// A room that was looked at before is what somebody finds who comes for the first time, whatever was done meanwhile,
/// to the rebuild or in the shop.
#[tokio::test]
async fn a_room_that_is_kept_is_the_room_that_is_made() {
    let (f, app) = shop().await;
    let (mut tomasz, mut ines) = (Browser::signed_in(&app, "tomasz").await, Browser::signed_in(&app, "ines").await);
    let mut rooms = vec!["/".to_owned()];
    for number in ["R-0398", "R-0412", "R-0415", "R-0418"] {
        let id = f.rebuild(number);
        rooms.extend([format!("/rebuilds/{id}"), format!("/rebuilds/{id}?step=receive.safe")]);
    }
    let (pump, turbo) = (f.rebuild("R-0412"), f.rebuild("R-0418"));
    rooms.push(format!("/rebuilds/{pump}?seat=de&step=choose"));
    let rules = "revision=1&units=metric&school=diameter&rz_shaft_um=2.5&rz_ring_um=2&lubricant=dry&open_cap_c=110&sealed_cap_c=80&form_share=0.5&press_share=0.8&hands_s=20&guard_band=on&zone=Europe/Lisbon";
    let commands: [(bool, String, String); 4] = [
        (false, format!("/rebuilds/{pump}/seats/de/sheets/journal/readings"), "cell=A1&text=40.009".into()),
        (
            false,
            format!("/rebuilds/{turbo}"),
            "act=answer&step=ask.clipI.faces&question=clipI.faces&state=recorded&value=end+A".into(),
        ),
        (false, "/me/units".into(), "units=inch&here=/".into()),
        (true, "/rules".into(), rules.into()),
    ];
    for (lead, path, body) in commands {
        for room in &rooms {
            tomasz.get(room).await;
        }
        let who = if lead { &mut ines } else { &mut tomasz };
        let a = who.post(&path, &body).await;
        assert!(a.status.is_redirection() || a.status.is_success(), "{path} {body}: {} {}", a.status, a.body);
        let mut fresh = Browser::signed_in(&app, "tomasz").await;
        for room in &rooms {
            let plain = |page: &str, csrf: &str| {
                let page = page.replace(csrf, "TOKEN");
                let (before, after) = page.split_once("data-now=\"").unwrap();
                let after = after.split_once('"').unwrap().1;
                // Clocks and the time of day go on between two looks.
                let still = |text: &str| {
                    text.split('>')
                        .filter(|t| !t.contains("data-left") && !t.contains(':'))
                        .collect::<Vec<_>>()
                        .join(">")
                };
                still(before) + &still(after)
            };
            let (kept, made) = (tomasz.get(room).await.body, fresh.get(room).await.body);
            if let Some((_, id)) = kept.split_once("name=\"picture\" value=\"") {
                assert!(!made.contains(&id[..36]), "a picture's id is good for one picture");
                continue;
            }
            assert_eq!(plain(&kept, &tomasz.csrf), plain(&made, &fresh.csrf), "{room} after {path} {body}");
        }
    }
}

/// The Floor is in the order in which rebuilds want a person, over all its pages; a page beyond the last says so.
#[tokio::test]
async fn what_wants_a_person_stands_first_over_all_pages() {
    let (f, app) = shop().await;
    let c = &mut f.connection();
    let ines = f.person("ines");
    ironseat_store::bench_data(c, &ines, 60, 0, |_| {}).unwrap();
    // All of them are due before anything else.
    c.batch_execute("UPDATE rebuilds SET due_on = '2026-01-01' WHERE number LIKE 'G-0%'").unwrap();
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let numbers = |page: &str| -> Vec<String> {
        page.split("class=\"id\"><a class=\"num\"")
            .skip(1)
            .map(|x| x.split(['>', '<']).nth(1).unwrap().to_owned())
            .collect()
    };
    let first = b.get("/").await.body;
    assert!(!numbers(&first)[0].starts_with("G-"), "{:?}", numbers(&first));
    let mut all = Vec::new();
    for page in 0..3 {
        all.extend(numbers(&b.get(&format!("/?page={page}")).await.body));
    }
    let one = all.iter().collect::<BTreeSet<_>>();
    assert_eq!((all.len(), one.len()), (66, 66), "each once");
    let beyond = b.get("/?page=9").await;
    assert_eq!(beyond.status, StatusCode::OK);
    assert!(beyond.body.contains("There is no page 10: the last is 3.") && beyond.body.contains("To the first page"));
}
