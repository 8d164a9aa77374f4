//! Who may do what: every route and way of asking, for every kind of person. A route that is not in this table fails
//! the test.

use crate::browser::Browser;
use For::*;
use axum::Router;
use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use ironseat_store::read::customers;
use ironseat_store::rows::person::Role;
use ironseat_store::write::roster;
use std::collections::BTreeSet;
use tower::ServiceExt as _;

/// Who a route is for. Each includes those after it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
enum For {
    /// Signed in or not.
    Anybody,
    /// Whoever is signed in, with what is their own.
    SignedIn,
    /// A viewer of the rebuild's customer, and whoever works here.
    Sees,
    /// Apprentice, bench, lead.
    Works,
    Lead,
    /// Nobody by signing in: another program, with a key.
    Keyed,
}

/// Every route with the ways it may be asked: who may look, and who may send.
const TABLE: [(&str, Option<For>, Option<For>); 80] = [
    ("/", Some(SignedIn), None),
    ("/rebuilds", None, Some(Lead)),
    ("/rebuilds/{id}", Some(Sees), Some(Works)),
    ("/rebuilds/{id}/finish", None, Some(Lead)),
    ("/rebuilds/{id}/events", Some(Sees), None),
    ("/rebuilds/{id}/seats/{seat}/sheets/{kind}", Some(Sees), None),
    ("/rebuilds/{id}/seats/{seat}/sheets/{kind}/readings", None, Some(Works)),
    ("/rebuilds/{id}/seats/{seat}/sheets/{kind}/preview", Some(Sees), None),
    ("/rebuilds/{id}/seats/{seat}/sheets/{kind}/instrument", None, Some(Works)),
    ("/rebuilds/{id}/acts/{act}/sheets/{name}", Some(Sees), None),
    ("/rebuilds/{id}/acts/{act}/sheets/{name}/readings", None, Some(Works)),
    ("/rebuilds/{id}/acts/{act}/sheets/{name}/preview", Some(Sees), None),
    ("/rebuilds/{id}/acts/{act}/sheets/{name}/instrument", None, Some(Works)),
    ("/rebuilds/{id}/acts/{act}/sheets/{name}/given", None, Some(Works)),
    // An old address: it says where it leads, and reads nothing.
    ("/rebuilds/{id}/trail", Some(Anybody), Some(Anybody)),
    ("/rebuilds/{id}/pins/{pin}/away", None, Some(Works)),
    ("/reckoner/{name}/pin", None, Some(Works)),
    ("/reckoner/{name}/sheet", None, Some(Works)),
    ("/rebuilds/{id}/pictures", None, Some(Works)),
    ("/rebuilds/{id}/pictures/{picture}", Some(Sees), None),
    ("/rebuilds/{id}/pictures/{picture}/away", None, Some(Works)),
    ("/rebuilds/{id}/version", Some(Sees), Some(Lead)),
    ("/rebuilds/{id}/ledger", Some(Sees), None),
    ("/rebuilds/{id}/ledger.csv", Some(Sees), None),
    ("/rebuilds/{id}/parts-to-order.csv", Some(Sees), None),
    ("/rebuilds/{id}/certificate", Some(Sees), None),
    ("/rebuilds/{id}/section.svg", Some(Sees), None),
    ("/rebuilds/{id}/papers/{file}", Some(Sees), None),
    ("/rebuilds/{id}/archive.zip", Some(Works), None),
    ("/rebuilds/{id}/readings-in", Some(Works), Some(Works)),
    ("/rebuilds/{id}/readings-in/{upload}", Some(Works), Some(Works)),
    ("/archives", Some(Lead), Some(Lead)),
    ("/archives/{upload}", Some(Lead), Some(Lead)),
    ("/stores", Some(Works), Some(Lead)),
    ("/stores/instruments", None, Some(Lead)),
    ("/stores/{kind}", None, Some(Lead)),
    ("/stores/{kind}/{upload}", Some(Lead), Some(Lead)),
    ("/anatomies", Some(Works), Some(Lead)),
    ("/anatomies/{key}", Some(Works), None),
    ("/anatomies/{key}/build-sheet.toml", Some(Works), None),
    ("/anatomies/{key}/section.svg", Some(Works), None),
    ("/anatomies/{key}/strip", Some(Works), None),
    ("/anatomies/{key}/tried", Some(Works), None),
    ("/anatomies/{key}/edit", None, Some(Lead)),
    ("/drafts/{id}", Some(Lead), Some(Lead)),
    ("/drafts/{id}/form", Some(Lead), None),
    ("/drafts/{id}/keep", None, Some(Lead)),
    ("/drafts/{id}/discard", None, Some(Lead)),
    ("/forecasts", Some(Works), Some(Lead)),
    ("/forecasts/explain", None, Some(Works)),
    ("/rules", Some(Works), Some(Lead)),
    ("/why", Some(SignedIn), None),
    ("/reckoner", Some(Works), None),
    ("/reckoner/{name}", Some(Works), None),
    ("/clocks", Some(SignedIn), None),
    ("/events", Some(SignedIn), None),
    ("/record/{chain}", Some(Works), None),
    ("/customers", Some(Works), Some(Lead)),
    ("/people", Some(Lead), Some(Lead)),
    ("/me", Some(SignedIn), Some(SignedIn)),
    ("/first", Some(Anybody), Some(Anybody)),
    ("/me/keys", Some(Works), Some(Works)),
    ("/me/units", None, Some(SignedIn)),
    ("/me/theme", None, Some(SignedIn)),
    ("/sign-in", Some(Anybody), Some(Anybody)),
    ("/sign-out", None, Some(SignedIn)),
    ("/first-run", None, Some(Anybody)),
    ("/api/reckon/{name}", None, Some(Anybody)),
    ("/api/derive", None, Some(Anybody)),
    ("/api/openapi.json", Some(Anybody), None),
    ("/api/archive.schema.json", Some(Anybody), None),
    // With a key, whoever is signed in: the test of keys tries each.
    ("/api/rebuilds", Some(Keyed), None),
    ("/api/rebuilds/{id}", Some(Keyed), None),
    ("/api/rebuilds/{id}/readings", Some(Keyed), Some(Keyed)),
    ("/api/rebuilds/{id}/files/{file}", Some(Keyed), None),
    ("/api/archives", None, Some(Keyed)),
    ("/api/stock/leaves", Some(Keyed), Some(Keyed)),
    ("/api/stock/patterns", Some(Keyed), Some(Keyed)),
    ("/healthz", Some(Anybody), None),
    ("/readyz", Some(Anybody), None),
];
/// Those for machines that watch, and the files of the program.
const PLAIN: [&str; 4] = ["/livez", "/metrics", "/assets/{*path}", "/measure/{bytes}"];

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Who {
    Nobody,
    PutAway,
    OtherViewer,
    Viewer,
    Apprentice,
    Bench,
    Lead,
}

fn may(who: Who, wanted: For) -> bool {
    match who {
        Who::Nobody | Who::PutAway => wanted == Anybody,
        Who::OtherViewer => wanted <= SignedIn,
        Who::Viewer => wanted <= Sees,
        Who::Apprentice | Who::Bench => wanted <= Works,
        Who::Lead => wanted <= Lead,
    }
}

/// Asks, and looks at the head of the answer alone: streams do not end.
async fn ask(app: &Router, b: &Browser, method: &str, path: &str, body: String) -> (StatusCode, String) {
    let form = "application/x-www-form-urlencoded";
    let body = if body.is_empty() { body } else { format!("{body}&_csrf={}", b.csrf) };
    let request = Request::builder()
        .method(method)
        .uri(path)
        .header(header::HOST, "127.0.0.1:4310")
        .header(header::ORIGIN, "http://127.0.0.1:4310")
        .header(header::CONTENT_TYPE, form)
        .header(header::COOKIE, &b.cookie)
        .body(Body::from(body))
        .unwrap();
    let r = app.clone().oneshot(request).await.unwrap();
    let to = r.headers().get(header::LOCATION).map_or(String::new(), |l| l.to_str().unwrap().to_owned());
    (r.status(), to)
}

/// Sent away: to the sign-in, refused, or told that nothing is there.
fn shut(status: StatusCode, to: &str, another: bool) -> bool {
    to.starts_with("/sign-in?next")
        || matches!(status, StatusCode::UNAUTHORIZED | StatusCode::FORBIDDEN)
        || another && status == StatusCode::NOT_FOUND
}

#[tokio::test]
async fn every_route_is_for_whom_it_is_for() {
    let (f, app) = crate::browser::shop().await;
    let listed: BTreeSet<&str> = TABLE.iter().map(|r| r.0).chain(PLAIN).collect();
    let routes: BTreeSet<&str> =
        include_str!("../../src/routes.rs").split(".route(").skip(1).filter_map(|t| t.split('"').nth(1)).collect();
    assert_eq!(routes, listed, "every route stands in the table");

    // A viewer of another customer, and a hand that was put away after signing in.
    let c = &mut f.connection();
    let ines = f.person("ines");
    let other = customers::list(c).unwrap().into_iter().find(|x| !x.name.starts_with("Saltmarsh")).unwrap();
    let code = roster::invite(c, Some(&ines), "lockkeeper", "Lock Keeper", Role::Viewer, Some(other.id)).unwrap();
    let first = roster::First { handle: "lockkeeper".into(), code, password: "narrow boats at noon".into(), pin: None };
    f.store.first_sign_in(first, "127.0.0.9".into()).await.unwrap();
    let all = [
        (Who::Nobody, Browser::new(&app)),
        (Who::PutAway, Browser::signed_in(&app, "yuki").await),
        (Who::OtherViewer, Browser::signed_in_with(&app, "lockkeeper", "narrow+boats+at+noon").await),
        (Who::Viewer, Browser::signed_in(&app, "saltmarsh").await),
        (Who::Apprentice, Browser::signed_in(&app, "pell").await),
        (Who::Bench, Browser::signed_in(&app, "tomasz").await),
        (Who::Lead, Browser::signed_in(&app, "ines").await),
    ];
    roster::put_away(c, &ines, f.person("yuki").id).unwrap();

    let rebuild = f.rebuild("R-0412").to_string();
    let fill = |route: &str| {
        let path = route.replacen("{id}", &rebuild, 1).replace("{seat}", "de").replace("{kind}", "journal");
        let path = path
            .replace("{key}", "overhung-brine-pump")
            .replace("{picture}", &rebuild)
            .replace("{chain}", "rules")
            .replace("{upload}", &rebuild);
        path.replace("{name}", "gauge.capable")
    };
    let before = ironseat_store::chain::heads::revision(c, None).unwrap();
    let mut tried = 0;
    for (route, look, send) in TABLE {
        for (who, b) in &all {
            // What ends the session or takes new ones is tried by hand elsewhere; here for those who may not.
            let ends = ["/sign-out", "/first-run"].contains(&route);
            for (method, wanted) in [("GET", look), ("POST", send)] {
                let Some(wanted) = wanted else { continue };
                if ends && may(*who, wanted) {
                    continue;
                }
                let body = if method == "POST" { "act=nothing&step=x&op=nothing".to_owned() } else { String::new() };
                let (status, to) = ask(&app, b, method, &fill(route), body).await;
                let another = *who == Who::OtherViewer && route.starts_with("/rebuilds/");
                let open = !shut(status, &to, another);
                assert_eq!(open, may(*who, wanted), "{method} {route} as {who:?}: {status} {to}");
                assert!(!status.is_server_error(), "{method} {route} as {who:?}: {status}");
                tried += 1;
            }
            // Another way of asking is no way in.
            for method in ["PUT", "DELETE", "PATCH"] {
                let (status, _) = ask(&app, b, method, &fill(route), String::new()).await;
                assert!(
                    matches!(status, StatusCode::METHOD_NOT_ALLOWED | StatusCode::FORBIDDEN | StatusCode::UNAUTHORIZED),
                    "{method} {route} as {who:?}: {status}"
                );
            }
        }
    }
    assert!(tried > 350, "{tried}");
    // The record of people is a lead's, whatever the others may read.
    for (who, b) in &all {
        let (status, to) = ask(&app, b, "GET", "/record/people", String::new()).await;
        assert_eq!(!shut(status, &to, false), *who == Who::Lead, "{who:?}: {status}");
    }
    // None of it wrote anything into a rebuild.
    assert_eq!(ironseat_store::chain::heads::revision(c, None).unwrap(), before);
}
