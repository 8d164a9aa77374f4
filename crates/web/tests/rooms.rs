//! The rooms from outside, in process: who may do what, what is refused and how, on a real database.

#![allow(clippy::unwrap_used, missing_docs)]

#[path = "../../store/tests/support/mod.rs"]
mod support;

use axum::Router;
use axum::body::Body;
use axum::http::{Request, Response, StatusCode, header};
use http_body_util::BodyExt as _;
use ironseat_web::{App, router};
use support::Fresh;
use tower::ServiceExt as _;

struct Browser {
    app: Router,
    cookie: String,
    csrf: String,
}

struct Answer {
    status: StatusCode,
    headers: axum::http::HeaderMap,
    body: String,
}

impl Answer {
    async fn of(r: Response<Body>) -> Self {
        let (parts, body) = r.into_parts();
        Self {
            status: parts.status,
            headers: parts.headers,
            body: String::from_utf8_lossy(&body.collect().await.unwrap().to_bytes()).into_owned(),
        }
    }
    fn location(&self) -> &str {
        self.headers.get(header::LOCATION).map_or("", |v| v.to_str().unwrap())
    }
}

impl Browser {
    fn new(app: &Router) -> Self {
        Self { app: app.clone(), cookie: String::new(), csrf: String::new() }
    }

    async fn send(&mut self, request: axum::http::request::Builder, body: String) -> Answer {
        let r = request.header(header::HOST, "127.0.0.1:4310").header(header::COOKIE, &self.cookie).body(Body::from(body)).unwrap();
        let a = Answer::of(self.app.clone().oneshot(r).await.unwrap()).await;
        if let Some(c) = a.headers.get(header::SET_COOKIE) {
            self.cookie = c.to_str().unwrap().split(';').next().unwrap().to_owned();
        }
        a
    }
    async fn get(&mut self, path: &str) -> Answer {
        self.send(Request::get(path), String::new()).await
    }
    async fn post_raw(&mut self, path: &str, body: &str) -> Answer {
        self.send(
            Request::post(path)
                .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded")
                .header(header::ORIGIN, "http://127.0.0.1:4310"),
            body.to_owned(),
        )
        .await
    }
    async fn post(&mut self, path: &str, body: &str) -> Answer {
        let body = format!("_csrf={}&{body}", self.csrf);
        self.post_raw(path, &body).await
    }
    async fn signed_in(app: &Router, handle: &str) -> Self {
        let mut b = Self::new(app);
        let a = b.post_raw("/sign-in", &format!("handle={handle}&password=marrow-quay")).await;
        assert_eq!(a.status, StatusCode::SEE_OTHER, "{}", a.body);
        let page = b.get("/").await.body;
        b.csrf = page.split("data-csrf=\"").nth(1).unwrap().split('"').next().unwrap().to_owned();
        b
    }
}

async fn shop() -> (Fresh, Router) {
    let f = Fresh::demo().await;
    let app = router(App::new(f.store.clone()));
    (f, app)
}

fn writes(id: &str) -> Vec<(String, &'static str)> {
    let seat = format!("/rebuilds/{id}/seats/de");
    vec![
        (format!("{seat}/sheets/journal/readings"), "cell=A1&text=40.008"),
        (format!("{seat}/sheets/journal/instrument"), "instrument=01890000-0000-7000-8000-000000000000"),
        (format!("{seat}/steps/choose"), "act=choose&method=heat"),
        (format!("{seat}/steps/sign"), "act=sign&pin=3512"),
        (format!("{seat}/overrule/journal"), "reason=because+it+is&pin=3512"),
        (format!("/rebuilds/{id}/finish"), "pin=2408"),
        ("/rebuilds".into(), "number=R-1&title=t&customer=c"),
        ("/rules".into(), "revision=1"),
    ]
}

#[tokio::test]
async fn nobody_unsigned_sees_or_changes_anything() {
    let (f, app) = shop().await;
    let id = f.rebuild("R-0412").to_string();
    let mut b = Browser::new(&app);
    for path in ["/", "/rules", "/events", "/clocks"].into_iter().map(str::to_owned).chain(
        [
            "",
            "/ledger",
            "/ledger.csv",
            "/certificate",
            "/section.svg",
            "/events",
            "/seats/de/sheets/journal",
            "/seats/de/sheets/journal/preview",
        ]
        .map(|p| format!("/rebuilds/{id}{p}")),
    ) {
        let a = b.get(&path).await;
        assert!(
            a.status == StatusCode::SEE_OTHER && a.location().starts_with("/sign-in?next=%2F"),
            "{path}: {} {}",
            a.status,
            a.location()
        );
        assert!(!a.body.contains("Brine"), "{path}");
    }
    for (path, body) in writes(&id) {
        assert!(matches!(b.post(&path, body).await.status, StatusCode::UNAUTHORIZED | StatusCode::FORBIDDEN), "{path}");
    }
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
async fn a_bench_hand_is_no_lead() {
    let (f, app) = shop().await;
    let id = f.rebuild("R-0412").to_string();
    let mut b = Browser::signed_in(&app, "tomasz").await;
    for (path, body) in
        [(format!("/rebuilds/{id}/finish"), "pin=2408"), ("/rules".to_owned(), "revision=1"), ("/rebuilds".to_owned(), "number=R-1")]
    {
        assert_eq!(b.post(&path, body).await.status, StatusCode::FORBIDDEN, "{path}");
    }
    let spindle = f.rebuild("R-0409");
    let a = b.post(&format!("/rebuilds/{spindle}/seats/f1/overrule/journal"), "reason=seen+it+run+for+years&pin=3512&step=journal").await;
    assert_eq!(a.status, StatusCode::CONFLICT);
    assert!(a.body.contains("only a lead may overrule"));
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
    let flipped: String =
        victim.cookie.chars().map(|c| if c.is_ascii_lowercase() { c.to_ascii_uppercase() } else { c.to_ascii_lowercase() }).collect();
    thief.cookie = format!("iron_seat={}", &flipped["iron_seat=".len()..]);
    assert_eq!(thief.get("/").await.status, StatusCode::SEE_OTHER);

    // Without token, with another's token, from another origin: refused.
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let other = Browser::signed_in(&app, "yuki").await;
    assert_eq!(b.post_raw(&reading, "cell=A1&text=40.008").await.status, StatusCode::FORBIDDEN);
    assert_eq!(b.post_raw(&reading, &format!("_csrf={}&cell=A1&text=40.008", other.csrf)).await.status, StatusCode::FORBIDDEN);
    for (name, value) in
        [(header::ORIGIN.as_str(), "http://elsewhere.example"), (header::ORIGIN.as_str(), "null"), ("sec-fetch-site", "cross-site")]
    {
        let body = format!("_csrf={}&cell=A1&text=40.008", b.csrf);
        let a = b
            .send(Request::post(&reading).header(header::CONTENT_TYPE, "application/x-www-form-urlencoded").header(name, value), body)
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
    for (next, to) in [("//evil.example", "/"), ("https://evil.example", "/"), ("/%5Cevil", "/"), ("/rules", "/rules")] {
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
    let csv = b.get(&format!("/rebuilds/{id}/ledger.csv")).await.body;
    assert_eq!(csv.lines().count(), 1 + 2 * (12 + 12 + 7));
    let certificate = b.get(&format!("/rebuilds/{id}/certificate")).await.body;
    assert!(certificate.contains("Journal whole") && certificate.contains("Ines Okafor") && !certificate.contains("Draft"));
    let a = b.send(Request::post("/api/reckon/gauge.capable"), r#"{"lo":0,"hi":4,"u":1}"#.into()).await;
    assert!(a.status == StatusCode::OK && a.body.contains("good"));
    let a = b.send(Request::post("/api/reckon/gauge.capable"), r#"{"lo":0,"hi":4,"u":"x"}"#.into()).await;
    assert!(a.status == StatusCode::UNPROCESSABLE_ENTITY && a.body.contains(r#""field":"u""#));
    let api: serde_json::Value = serde_json::from_str(&b.get("/api/openapi.json").await.body).unwrap();
    let paths = api["paths"].as_object().unwrap();
    assert_eq!(paths.len(), ironseat_core::reckon::entries().count());
    for (path, of) in paths {
        let example = of["post"]["requestBody"]["content"]["application/json"]["example"].to_string();
        let a = b.send(Request::post(path.as_str()), example).await;
        assert_eq!(a.status, StatusCode::OK, "{path}: {}", a.body);
    }
}

#[tokio::test]
async fn a_lead_sets_rules_and_starts_a_rebuild() {
    let (_f, app) = shop().await;
    let mut b = Browser::signed_in(&app, "ines").await;
    let page = b.get("/rules").await.body;
    assert!(page.contains("Keep these rules"));
    let good = "revision=1&units=metric&school=diameter&rz_shaft_um=2.5&rz_ring_um=2&lubricant=oiled&open_cap_c=110&sealed_cap_c=80&form_share=0.5&press_share=0.8&hands_s=20&guard_band=on";
    let a = b.post("/rules", &good.replace("sealed_cap_c=80", "sealed_cap_c=95")).await;
    assert!(a.status == StatusCode::UNPROCESSABLE_ENTITY && a.body.contains("needs a reason on record") && a.body.contains("value=\"95\""));
    assert_eq!(b.post("/rules", &good.replace("hands_s=20", "hands_s=soon")).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(b.post("/rules", good).await.location(), "/rules");
    assert_eq!(b.post("/rules", good).await.status, StatusCode::CONFLICT);

    let anatomy = b.get("/").await.body.split("<option value=\"").nth(1).unwrap().split('"').next().unwrap().to_owned();
    let form = |due: &str| {
        format!(
            "id=01890000-0000-7000-8000-0000000000aa&number=R-0500&title=Spare+pump&customer=Fennel+Lock+Water+Board&anatomy={anatomy}&due_on={due}"
        )
    };
    let a = b.post("/rebuilds", &form("soon")).await;
    assert!(a.status == StatusCode::UNPROCESSABLE_ENTITY && a.body.contains("expected a date") && a.body.contains("Spare pump"));
    assert_eq!(b.post("/rebuilds", &form("2027-01-15")).await.location(), "/rebuilds/01890000-0000-7000-8000-0000000000aa");
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
    assert!(tomasz.get(&bench).await.body.contains("40.002 … 40.018 mm"));
    let a = tomasz.post("/me/units", &format!("units=inch&here={bench}")).await;
    assert_eq!(a.location(), bench);
    let page = tomasz.get(&bench).await.body;
    assert!(page.contains("1.5749 … 1.5755 in") && !page.contains("40.018"));
    assert!(yuki.get(&bench).await.body.contains("40.018 mm"));
    assert_eq!(tomasz.post("/me/units", "units=metric&here=//evil.example").await.location(), "/");
    assert_eq!(tomasz.post("/me/theme", "theme=dark&here=/").await.status, StatusCode::SEE_OTHER);
    assert!(tomasz.get("/").await.body.contains("data-theme=\"dark\"") && yuki.get("/").await.body.contains("data-theme=\"auto\""));
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
    let body = format!("_csrf={}&cell=A1&text=40.008", b.csrf);
    let post = Request::post(format!("/rebuilds/{id}/seats/de/sheets/journal/readings"))
        .header("hx-request", "true")
        .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded");
    let a = b.send(post, body).await;
    assert!(a.status == StatusCode::OK && a.body.contains("name=\"cell\" value=\"B1\""), "{}", a.body);
    assert!(
        a.body.contains("next: station 1, plane B") && a.body.contains("foretold from what was read"),
        "the drawing and the forecast go along"
    );
}

#[tokio::test]
async fn the_floor_finds_and_leads_to_what_is_finished() {
    let (_f, app) = shop().await;
    let mut b = Browser::signed_in(&app, "saltmarsh").await;
    let strips = |body: &str| body.matches("<article class=\"strip").count();
    assert_eq!(strips(&b.get("/").await.body), 3);
    assert_eq!(strips(&b.get("/?find=brine").await.body), 1);
    assert_eq!(strips(&b.get("/?find=hollow+hill").await.body), 1);
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
    let request = Request::get(format!("/rebuilds/{id}/events"))
        .header(header::HOST, "127.0.0.1:4310")
        .header(header::COOKIE, &b.cookie)
        .body(Body::empty())
        .unwrap();
    let mut stream = app.clone().oneshot(request).await.unwrap().into_body();
    let mut next = async || {
        let frame = tokio::time::timeout(std::time::Duration::from_secs(5), stream.frame()).await.expect("an event in time");
        String::from_utf8(frame.unwrap().unwrap().into_data().unwrap().to_vec()).unwrap()
    };
    assert!(next().await.contains("event: hello"));
    // The watcher wakes with its first listener; write until it has seen one.
    let writer = tokio::spawn(async move {
        for (i, cell) in ["A1", "B1", "C1", "D1", "A2", "B2"].iter().enumerate() {
            tokio::time::sleep(std::time::Duration::from_millis(250)).await;
            b.post(&format!("/rebuilds/{id}/seats/de/sheets/journal/readings"), &format!("cell={cell}&text=40.00{i}")).await;
        }
    });
    let event = next().await;
    assert!(event.contains("event: changed") && event.contains(&id.to_string()), "{event}");
    writer.await.unwrap();
}

#[tokio::test]
async fn machine_types_are_looked_at_exported_read_in_and_drawn() {
    let (_f, app) = shop().await;
    let mut viewer = Browser::signed_in(&app, "saltmarsh").await;
    let list = viewer.get("/anatomies").await.body;
    for name in ["Biogas engine turbocharger", "Six-stage booster pump", "Brake beam", "Headstock spindle"] {
        assert!(list.contains(name), "{name}");
    }
    assert!(!list.contains("Describe another machine"), "a customer draws nothing");
    let one = viewer.get("/anatomies/blower-rotor").await.body;
    for words in ["cannot get past", "Back A inner flinger off by 0.5 mm", "Held bearing: which way does the thick side face?", "2 people"]
    {
        assert!(one.contains(words), "{words}");
    }
    let svg = viewer.get("/anatomies/blower-rotor/section.svg").await;
    assert!(svg.headers[header::CONTENT_TYPE] == "image/svg+xml" && svg.body.starts_with("<svg xmlns"));
    let sheet = viewer.get("/anatomies/blower-rotor/build-sheet.toml").await.body;
    assert_eq!(viewer.get("/anatomies/no-such").await.status, StatusCode::NOT_FOUND);

    let mut b = Browser::signed_in(&app, "ines").await;
    let id = ironseat_store::Id::new().to_string();
    let begin = |sheet: &str| {
        format!("id={id}&name=Own+kind&sheet={}", serde_urlencoded::to_string([("s", sheet)]).unwrap().trim_start_matches("s="))
    };
    let wrong = b.post("/anatomies", &begin(&sheet.replacen("kind = \"flinger\"", "kind = \"flingr\"", 1))).await;
    assert_eq!(wrong.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(wrong.body.contains("not known: “flingr") && wrong.body.contains("line ") && wrong.body.contains("flingr"), "the text is kept");
    assert_eq!(b.post("/anatomies", &begin(&sheet)).await.status, StatusCode::SEE_OTHER);
    let board = b.get(&format!("/drafts/{id}")).await.body;
    assert!(board.contains("data-seen=\"0\"") && board.contains("Keep as a version"));

    // Typed sizes: an error stands beside its field and keeps what was typed.
    let bad = b.post(&format!("/drafts/{id}"), "op=set-land&seen=0&land=B1&name=hub+land&length=long&d=48&kind=keyway").await;
    assert!(bad.status == StatusCode::UNPROCESSABLE_ENTITY && bad.body.contains("said-length") && bad.body.contains("value=\"long\""));
    let ok = b.post(&format!("/drafts/{id}"), "op=set-land&seen=0&land=B1&name=hub+land&length=4+in&d=48&kind=keyway").await;
    assert_eq!(ok.status, StatusCode::SEE_OTHER);
    assert!(b.get(&format!("/drafts/{id}?land=B1")).await.body.contains("value=\"101.6\""));
    // A form that opens on demand keeps what was typed, open, with its error beside the field.
    let new = b.post(&format!("/drafts/{id}"), "op=add-land&seen=1&name=tail+end&length=soon&d=40").await;
    assert!(new.status == StatusCode::UNPROCESSABLE_ENTITY && new.body.contains("<details open><summary>Lay a land"), "{}", new.body);
    assert!(
        new.body.contains("value=\"tail end\"") && new.body.contains("value=\"soon\"") && new.body.matches("role=\"alert\"").count() == 1
    );
    let case = b.post(&format!("/drafts/{id}"), "op=add-housing&seen=1&name=Case&at=50&to=20&bore=90&outside=120&part=hub").await;
    assert!(case.body.contains("<details open><summary>Draw a housing") && case.body.contains("value=\"120\""));
    assert!(case.body.contains("expected a place beyond the first one") && case.body.matches("role=\"alert\"").count() == 1);
    let title = b.post(&format!("/drafts/{id}"), "op=rename&seen=1&name=+").await;
    assert!(title.body.contains("expected a name of 1 to 80 characters"));
    let late = b.post(&format!("/drafts/{id}"), "op=drop-part&seen=0&part=hub").await;
    assert!(late.status == StatusCode::CONFLICT && late.body.contains("somebody changed this drawing"));
    let turned = b.post(&format!("/drafts/{id}"), "op=flip-part&seen=1&part=cvAi").await;
    assert!(turned.body.contains("same both ways"));
    assert_eq!(b.post(&format!("/drafts/{id}/keep"), "").await.status, StatusCode::SEE_OTHER);
    assert!(b.get("/anatomies/blower-rotor").await.body.contains("version 2"));
    // The bench reads, a lead draws.
    let mut hand = Browser::signed_in(&app, "tomasz").await;
    assert_eq!(hand.post("/anatomies", "id=x&name=x").await.status, StatusCode::FORBIDDEN);
}

#[tokio::test]
async fn a_trail_says_what_is_held_keeps_what_was_typed_and_shows_what_comes_off() {
    let (f, app) = shop().await;
    let id = f.rebuild("R-0409");
    let here = format!("/rebuilds/{id}/trail");
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let page = b.get(&here).await.body;
    assert!(page.contains("Work this seat on the bench") && page.contains("data-here=\"?step=on.f1\""), "its seat is worked on its sheets");
    let held = b.get(&format!("{here}?step=on.quill")).await.body;
    assert!(held.contains("Held,</b> first: "), "{held}");
    let by_hand = b.post(&here, "act=tick&step=on.f1").await;
    assert!(by_hand.status == StatusCode::CONFLICT && by_hand.body.contains("its signature ticks this step"));
    let alone = b.post(&here, "act=tick&step=on.nosecap&second=+").await;
    assert!(alone.status == StatusCode::UNPROCESSABLE_ENTITY && alone.body.contains("said-second"));
    assert_eq!(b.post(&here, "act=tick&step=on.nosecap&second=Pell+Adeyemi").await.status, StatusCode::SEE_OTHER);
    assert!(b.get(&format!("{here}?step=on.nosecap")).await.body.contains("with Pell Adeyemi"));
    let empty = b.post(&here, "act=answer&step=ask.fnut.standout&question=fnut.standout&state=recorded&value=&note=left+side").await;
    assert!(empty.status == StatusCode::UNPROCESSABLE_ENTITY && empty.body.contains("value=\"left side\""), "the note stays");
    assert_eq!(
        b.post(&here, "act=answer&step=ask.fnut.standout&question=fnut.standout&state=recorded&value=12.4+mm").await.status,
        StatusCode::SEE_OTHER
    );
    assert!(b.get(&format!("{here}?step=ask.fnut.standout")).await.body.contains("value=\"12.4 mm\""));
    let cost = b.get(&format!("{here}?part=nosecap")).await.body;
    assert!(cost.contains("<li>nose cap</li>") && cost.contains("Take these off again"));
    assert!(b.get(&format!("{here}?part=f2")).await.body.contains("Nothing has to come off"));
    assert_eq!(b.post(&here, "act=dance").await.status, StatusCode::UNPROCESSABLE_ENTITY);
    // A customer looks; nothing is offered and nothing taken.
    let mut viewer = Browser::signed_in(&app, "saltmarsh").await;
    let page = viewer.get(&format!("{here}?step=ask.fnut.standout")).await.body;
    assert!(!page.contains("Record it") && !page.contains(">Done<"));
    assert_eq!(viewer.post(&here, "act=tick&step=on.sp-i").await.status, StatusCode::FORBIDDEN);
    let ledger = b.get(&format!("/rebuilds/{id}/ledger")).await.body;
    assert!(ledger.contains("as found, fnut.standout: 12.4 mm") && ledger.contains("with Pell Adeyemi"));
}
