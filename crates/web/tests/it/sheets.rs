//! Sheets of acts, papers and forecasts from outside: one source for every figure, whoever shows it.

use crate::browser::Browser;
use crate::support::Fresh;
use axum::Router;
use axum::http::{StatusCode, header};
use ironseat_web::{App, Config, Unprinted, router};
use serde_json::Value;

/// What is to be printed, as it reaches the printer.
async fn shop_with_printer() -> (Fresh, Router) {
    printing(|order| {
        let mut seen = order.data;
        seen["paper"] = order.paper.into();
        seen["letter"] = order.letter.into();
        seen["files"] = order.files.into_iter().map(|f| f.0).collect::<Vec<_>>().into();
        Box::pin(async move { Ok(seen.to_string().into_bytes()) })
    })
    .await
}

async fn printing(printer: ironseat_web::Printer) -> (Fresh, Router) {
    let f = Fresh::demo().await;
    let config = Config { first_run_code: "QUAY-CODE".into(), printer: Some(printer), ..Config::default() };
    let app = router(App::new(f.store.clone(), config));
    (f, app)
}

const READ: [i32; 12] = [10, 8, 3, -3, -8, -10, -8, -3, 3, 8, 11, 12];

/// Numbers with their units as a page shows them, without its tags.
fn plain(html: &str) -> String {
    let mut out = String::new();
    let mut inside = false;
    for c in html.chars() {
        match c {
            '<' => inside = true,
            '>' => {
                inside = false;
                out.push(' ');
            }
            c if !inside => out.push(c),
            _ => {}
        }
    }
    out.replace("&#8230;", "…").replace("&#38;", "&").split_whitespace().collect::<Vec<_>>().join(" ")
}

#[tokio::test]
async fn one_figure_stands_on_sheet_reckoner_api_bench_ledger_and_paper() {
    let (f, app) = shop_with_printer().await;
    let id = f.rebuild("R-0415");
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let sheet = format!("/rebuilds/{id}/acts/sweep.collar/sheets/runout.sweep");
    for (k, v) in READ.iter().enumerate() {
        let a = b.post(&format!("{sheet}/readings"), &format!("cell=readings_um.{k}&text={v}&units=mm")).await;
        assert_eq!(a.status, StatusCode::SEE_OTHER, "{k}: {}", a.body);
    }
    // By hand: 12 less -10.
    let page = b.get(&sheet).await.body;
    let text = plain(&page);
    assert!(text.contains("22 µm is above 12 µm"), "{text}");
    let list = READ.map(|v| v.to_string()).join(",");
    let api = b.post_raw("/api/reckon/runout.sweep", &format!("{{\"readings_um\": [{list}]}}")).await;
    let answer: Value = serde_json::from_str(&api.body).unwrap();
    let high = answer["high_deg"].as_f64().unwrap();
    assert!((answer["tir_um"].as_f64().unwrap() - 22.0).abs() < 1e-9);
    let shown = ironseat_core::reckon::shown("high_deg", high, ironseat_core::quantity::Units::Metric);
    let high = format!("{} {}", shown.0, shown.1);
    let typed = READ.map(|v| v.to_string()).join("+");
    let reckoner = plain(&b.get(&format!("/reckoner/runout.sweep?units=metric&readings_um={typed}")).await.body);
    let paper: Value =
        serde_json::from_str(&b.get(&format!("/rebuilds/{id}/papers/certificate.pdf")).await.body).unwrap();
    let on_paper = paper["parts"][1]["rows"][0].to_string();
    let ledger = plain(&b.get(&format!("/rebuilds/{id}/ledger")).await.body);
    let bench = plain(&b.get(&format!("/rebuilds/{id}?step=sweep.collar")).await.body);
    for (place, text) in [("sheet", &text), ("reckoner", &reckoner), ("paper", &on_paper), ("ledger", &ledger)] {
        assert!(text.contains("22 µm") && text.contains(&high), "{place}: {high} in {text}");
    }
    assert!(bench.contains("Runout sweep 12 of 12"), "{bench}");
    // Where nothing is read, the question is filled from the act.
    let bolts = b.get(&format!("/rebuilds/{id}?step=bolts.bracket")).await.body;
    let link = bolts.split("href=\"").find(|x| x.starts_with("/reckoner/torque.extension?")).unwrap();
    assert!(link.contains("torque_nm=80") && link.contains("pin.about=Thrust+bracket"), "{link}");

    // In inches everywhere alike.
    b.post("/me/units", "units=inch&here=/").await;
    let inch = plain(&b.get(&sheet).await.body);
    let paper: Value =
        serde_json::from_str(&b.get(&format!("/rebuilds/{id}/papers/certificate.pdf")).await.body).unwrap();
    assert!(inch.contains("0.87 thou") && paper["parts"][1]["rows"][0].to_string().contains("0.87 thou"), "{inch}");
}

/// What is asked in the Reckoner becomes the sheet of an act, reading by reading, or nothing of it does.
#[tokio::test]
async fn a_question_of_the_reckoner_becomes_a_sheet_with_its_readings() {
    let (f, app) = shop_with_printer().await;
    let id = f.rebuild("R-0415");
    let mut b = Browser::signed_in(&app, "tomasz").await;
    // The drawing that leads the hand stands here, too, before anything is typed.
    let empty = b.get("/reckoner/runout.clocking").await.body;
    assert!(empty.contains("Clocking of high spots: where to read") && empty.contains(" next\""), "{empty}");
    let typed = |v: &[i32]| v.iter().map(i32::to_string).collect::<Vec<_>>().join("+");
    let ask = format!("units=metric&limit_um=20&readings_um={}", typed(&READ));
    let to = "/reckoner/runout.sweep/sheet";
    let a = b.post(to, &ask).await;
    assert!(a.status == StatusCode::UNPROCESSABLE_ENTITY && a.body.contains("Choose the rebuild"), "{}", a.body);
    let mine = format!("{ask}&pin.rebuild={id}");
    let slip = mine.replace("readings_um=10+", "readings_um=0.012+");
    let a = b.post(to, &slip).await;
    assert!(a.status == StatusCode::UNPROCESSABLE_ENTITY && a.body.contains("At 0°: is 0.012 right?"), "{}", a.body);
    let sheet = format!("/rebuilds/{id}/acts/sweep.collar/sheets/runout.sweep");
    assert!(plain(&b.get(&sheet).await.body).contains("0 of 12 read"), "nothing of it was kept");
    // It belongs to one act of this machine alone.
    let a = b.post(to, &mine).await;
    assert_eq!((a.status, a.location()), (StatusCode::SEE_OTHER, sheet.as_str()), "{}", a.body);
    let text = plain(&b.get(&sheet).await.body);
    assert!(text.contains("22 µm is above 12 µm") && text.contains("All read"), "{text}");
    let c = &mut f.connection();
    let stand = ironseat_store::chain::heads::revision(c, Some(id)).unwrap();
    let a = b.post(to, &format!("{mine}&pin.act=sweep.collar")).await;
    assert!(a.status == StatusCode::CONFLICT && a.body.contains("Readings stand on this sheet"), "{}", a.body);
    assert_eq!(ironseat_store::chain::heads::revision(c, Some(id)).unwrap(), stand);
    // Bolts of a cover are pressed there; what no sheet holds is told beside it.
    let bolts: String = [(0, 0), (90, 0), (90, 60), (0, 60)]
        .iter()
        .enumerate()
        .map(|(k, (x, y))| format!("&bolts.{k}.x_mm={x}&bolts.{k}.y_mm={y}"))
        .collect();
    let cover = format!("units=metric{bolts}&pin.rebuild={id}");
    let a = b.post("/reckoner/torque.pattern/sheet", &cover).await;
    assert!(a.status == StatusCode::UNPROCESSABLE_ENTITY && a.body.contains("Choose the act"), "{}", a.body);
    let close = a.body.split("name=\"pin.act\"").nth(1).unwrap().split("<option value=\"close.").nth(1).unwrap();
    let close = close.split('"').next().unwrap().to_owned();
    let a = b.post("/reckoner/torque.pattern/sheet", &format!("{cover}&pin.act=close.{close}")).await;
    assert_eq!(a.status, StatusCode::SEE_OTHER, "{}", a.body);
    let cover = b.get(a.location()).await.body;
    assert!(cover.contains("Bolt 1 to 30 %") && cover.contains("round 1 of 4"), "{}", plain(&cover));
    let around = format!(
        "{mine}&pin.act=sweep.collar&angles_deg={}",
        typed(&[0, 7, 60, 90, 120, 150, 180, 210, 240, 270, 300, 330])
    );
    let a = b.post(to, &around).await;
    assert!(a.status == StatusCode::CONFLICT || a.body.contains("equal steps"), "{}", a.body);
    assert_eq!(b.post("/reckoner/judge/sheet", &mine).await.status, StatusCode::NOT_FOUND);
    assert!(ironseat_store::chain::rebuild::verify(c, id, true).unwrap().whole());
}

/// Until it is built, while others print and after a fault: a page that says so, and the record is untouched.
#[tokio::test]
async fn a_paper_that_cannot_be_set_is_told() {
    type Told = (ironseat_web::Printer, StatusCode, &'static str);
    let all: [Told; 3] = [
        (|_| Box::pin(async { Err(Unprinted::NotBuilt) }), StatusCode::CONFLICT, "still being built"),
        (|_| Box::pin(async { Err(Unprinted::Busy) }), StatusCode::TOO_MANY_REQUESTS, "Others are printing just now"),
        (
            |_| Box::pin(async { Err(Unprinted::Fault("x".into())) }),
            StatusCode::INTERNAL_SERVER_ERROR,
            "The program stumbled",
        ),
    ];
    for (printer, status, words) in all {
        let (f, app) = printing(printer).await;
        let mut b = Browser::signed_in(&app, "ines").await;
        let a = b.get(&format!("/rebuilds/{}/papers/certificate.pdf", f.rebuild("R-0398"))).await;
        assert_eq!(a.status, status, "{}", a.body);
        assert!(a.body.contains(words), "{words}: {}", a.body);
    }
}

/// Every figure of the certificate's page is on its paper.
#[tokio::test]
async fn the_paper_says_what_the_page_says() {
    let (f, app) = shop_with_printer().await;
    let id = f.rebuild("R-0398");
    let mut b = Browser::signed_in(&app, "ines").await;
    let page = plain(&b.get(&format!("/rebuilds/{id}/certificate")).await.body);
    let a = b.get(&format!("/rebuilds/{id}/papers/certificate.pdf?size=letter")).await;
    assert_eq!(a.headers[header::CONTENT_TYPE], "application/pdf");
    let paper: Value = serde_json::from_str(&a.body).unwrap();
    assert_eq!(
        (&paper["letter"], &paper["files"][0], &paper["whole"]),
        (&true.into(), &"section.svg".into(), &true.into())
    );
    let mut said = Vec::new();
    fn texts(v: &Value, out: &mut Vec<String>) {
        match v {
            Value::String(s) => out.push(s.clone()),
            Value::Array(l) => l.iter().for_each(|x| texts(x, out)),
            Value::Object(m) => m.values().for_each(|x| texts(x, out)),
            _ => {}
        }
    }
    texts(&paper["seats"], &mut said);
    texts(&paper["found_left"], &mut said);
    texts(&paper["parts"][0], &mut said);
    assert!(said.iter().any(|s| s == "Replace") && page.contains("Flutes all along the path; 6310-2RS C3"));
    assert!(said.len() > 40);
    for s in said.iter().filter(|s| !s.is_empty() && s.chars().any(|c| c.is_ascii_digit())) {
        let wanted = s.split_whitespace().collect::<Vec<_>>().join(" ");
        assert!(page.contains(&wanted), "{wanted} is not on the page");
    }
    // Instruments have their numbers, and the record its end.
    assert!(paper["instruments"].as_array().unwrap().iter().any(|i| i["serial"].as_str().unwrap().starts_with("MQ-")));
    assert!(paper["record"].as_str().unwrap().contains("entries") && paper["chain"].as_str().unwrap().len() == 64);
    assert!(paper["address"].as_str().unwrap().ends_with(&format!("/rebuilds/{id}")));

    let open = f.rebuild("R-0415");
    let travel: Value =
        serde_json::from_str(&b.get(&format!("/rebuilds/{open}/papers/travel-sheet.pdf")).await.body).unwrap();
    let acts: Vec<&Value> =
        travel["stages"].as_array().unwrap().iter().flat_map(|s| s["acts"].as_array().unwrap()).collect();
    assert!(acts.iter().any(|a| a["done"] == true) && acts.iter().any(|a| a["boxes"] == 3 && a["done"] == false));
    let looks = |v: &&&Value| v["choices"].as_array().is_some_and(|c| c.len() == 5);
    assert!(acts.iter().filter(looks).count() > 5, "a look has a box for each that may become of a part");
    let labels: Value =
        serde_json::from_str(&b.get(&format!("/rebuilds/{open}/papers/labels.pdf")).await.body).unwrap();
    assert!(labels["labels"].as_array().unwrap().len() > 20);
    for wrong in ["certificate", "no-such.pdf", "certificate.pdf.pdf"] {
        assert_eq!(b.get(&format!("/rebuilds/{open}/papers/{wrong}")).await.status, StatusCode::NOT_FOUND, "{wrong}");
    }
    // A customer has the certificate of what is theirs, and nobody else's.
    let mut viewer = Browser::signed_in(&app, "saltmarsh").await;
    assert_eq!(
        viewer.get(&format!("/rebuilds/{}/papers/certificate.pdf", f.rebuild("R-0412"))).await.status,
        StatusCode::OK
    );
    assert_ne!(viewer.get(&format!("/rebuilds/{id}/papers/certificate.pdf")).await.status, StatusCode::OK);
}

#[tokio::test]
async fn what_is_wrong_beside_the_readings_is_said_beside_its_field_and_nothing_typed_is_lost() {
    let (f, app) = shop_with_printer().await;
    let id = f.rebuild("R-0409");
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let sheet = format!("/rebuilds/{id}/acts/look.f1/sheets/taper.nut");
    assert!(plain(&b.get(&sheet).await.body).contains("Still wanted: wanted float"));
    let a = b.post(&format!("{sheet}/given"), "units=metric&aim_mm=snug&pitch_mm=1.5").await;
    assert_eq!(a.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(a.body.contains("said-aim_mm") && a.body.contains("value=\"snug\"") && a.body.contains("value=\"1.5\""));
    let a = b
        .post(&format!("/rebuilds/{id}/acts/look.f1/sheets/runout.sweep/given"), "units=metric&count.readings_um=1000")
        .await;
    assert_eq!(a.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(a.body.contains("whole number from 1 to 72") && a.body.contains("value=\"1000\""));
    // A person who works in inches finds what was typed in the system that it was typed in.
    let mut inch = Browser::signed_in(&app, "yuki").await;
    inch.post("/me/units", "units=inch&here=/").await;
    let a = inch.post(&format!("{sheet}/given"), "units=metric&aim_mm=snug&pitch_mm=1.5").await;
    assert!(
        a.body.contains("name=\"units\" value=\"metric\"") && a.body.contains("value=\"1.5\""),
        "1.5 mm, not inches"
    );
    let a = b.post(&format!("{sheet}/given"), "units=metric&aim_mm=0.05&pitch_mm=1.5").await;
    assert_eq!(a.status, StatusCode::SEE_OTHER);
    let a = b.post(&format!("{sheet}/readings"), "cell=float_mm&text=much").await;
    assert!(a.status == StatusCode::UNPROCESSABLE_ENTITY && a.body.contains("value=\"much\""));
    let a = b.get(&format!("{sheet}/preview?cell=float_mm&text=0.2")).await;
    assert!(plain(&a.body).contains("36 degrees"), "{}", plain(&a.body));
    assert!(plain(&b.get(&sheet).await.body).contains("0 of 1 read"), "a preview stores nothing");
    for (path, body) in [("readings", "cell=float_mm&text=0.2&instrument=x&units=mm"), ("instrument", "instrument=")] {
        assert!(b.post(&format!("{sheet}/{path}"), body).await.status.is_redirection(), "{path}");
    }
    let gone = b.get(&format!("/rebuilds/{id}/acts/no.such/sheets/taper.nut")).await;
    assert_eq!(gone.status, StatusCode::NOT_FOUND);
    let mut viewer = Browser::signed_in(&app, "saltmarsh").await;
    let a = viewer.post(&format!("{sheet}/readings"), "cell=float_mm&text=0.2").await;
    assert!(a.status == StatusCode::FORBIDDEN || a.status == StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn forecasts_are_counted_and_a_lead_alone_changes_the_friction() {
    let (_f, app) = shop_with_printer().await;
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let page = plain(&b.get("/forecasts").await.body);
    assert!(
        page.contains("the next size on a surface") && page.contains("nothing yet") && page.contains("4 presses"),
        "{page}"
    );
    assert_eq!(b.post("/forecasts", "revision=1&friction=own").await.status, StatusCode::FORBIDDEN);
    let mut ines = Browser::signed_in(&app, "ines").await;
    let a = ines.post("/forecasts", "revision=1&friction=own").await;
    assert!(a.status == StatusCode::CONFLICT && a.body.contains("4 presses or more"), "{} {}", a.status, a.body);
}

/// What came far from what was foreseen is asked about, and what was said of it stands in the record of its rebuild.
#[tokio::test]
async fn what_happened_to_a_forecast_is_said_once_and_kept() {
    let (f, app) = shop_with_printer().await;
    let c = &mut f.connection();
    let id = f.rebuild("R-0415");
    crate::support::hands::work_before(&f, c, id, "float.thrust#2");
    let said = ironseat_core::decide::Ticking {
        second: "Pell Adeyemi".into(),
        value: "0.5; 0.5; 0.5".into(),
        reason: "new collar is ordered for spring".into(),
        ..Default::default()
    };
    crate::support::hands::tick(c, &f.person("ines"), id, "float.thrust#2", &said).unwrap();
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let page = b.get("/forecasts").await.body;
    let of = "float.thrust#2".replace('#', "%23");
    assert!(
        page.contains("value=\"float.thrust#2\"") || page.contains("value=\"float.thrust&#35;2\""),
        "{}",
        plain(&page)
    );
    let say = |what: &str| format!("rebuild={id}&of={of}&what={what}");
    let a = b.post("/forecasts/explain", &say("eh")).await;
    assert!(a.status == StatusCode::UNPROCESSABLE_ENTITY && a.body.contains("Expected what happened"), "{}", a.body);
    assert!(a.body.contains("value=\"eh\""), "nothing typed is lost");
    for (what, rebuild) in [("chip+under+it", id.to_string()), ("chip+under+the+shim", f.rebuild("R-0412").to_string())]
    {
        let elsewhere = b.post("/forecasts/explain", &format!("rebuild={rebuild}&of=no.such&what={what}")).await;
        assert_eq!(elsewhere.status, StatusCode::NOT_FOUND);
    }
    for what in ["chip+under+the+shim", "%3Cb%3Echip%3C/b%3E,+seen+afterwards"] {
        assert_eq!(b.post("/forecasts/explain", &say(what)).await.status, StatusCode::SEE_OTHER, "{what}");
    }
    let page = plain(&b.get("/forecasts").await.body.replace("&#60;", "‹").replace("&#62;", "›"));
    assert!(page.contains("‹b›chip‹/b›, seen afterwards (Tomasz Brandt)") && page.contains("Say it anew"), "{page}");
    let ledger = plain(&b.get(&format!("/rebuilds/{id}/ledger")).await.body);
    assert!(ledger.contains("the float after its shim was changed (float.thrust#2), foreseen 300"), "{ledger}");
    assert!(ledger.contains("came 500") && ledger.contains("chip under the shim"), "both stand in the record");
    assert!(ironseat_store::chain::rebuild::verify(c, id, true).unwrap().whole());
    let mut ines = Browser::signed_in(&app, "ines").await;
    let done =
        ines.post(&format!("/rebuilds/{id}/finish"), "pin=2408&reason=scrapped+by+the+customer,+order+closed").await;
    assert_eq!(done.status, StatusCode::SEE_OTHER);
    let late = b.post("/forecasts/explain", &say("too late for that")).await;
    assert!(late.status == StatusCode::CONFLICT && late.body.contains("is finished"), "{}", late.body);
}

/// What is tried rather than known can be slid, in either system, and what comes of it is drawn.
#[tokio::test]
async fn loads_and_heat_are_slid_and_the_curve_is_drawn() {
    let (_f, app) = shop_with_printer().await;
    let mut b = Browser::signed_in(&app, "tomasz").await;
    let pair = "/reckoner/preload.pair?bearing.z=18&bearing.ball_mm=8.731&bearing.pitch_mm=65&bearing.angle_deg=15&preload_n=300&outer_n=400&units=metric";
    let page = b.get(pair).await.body;
    // By the contract: it shifts by 4.67 µm, and lets go at 1017.6 N.
    for said in ["Outer load over shift", "4.7 µm under 400 N", "lift-off, 1.0 kN", "data-slides=\"outer_n\""] {
        assert!(page.contains(said), "{said}: {page}");
    }
    let max = |page: &str| -> f64 {
        let range = page.split("data-slides=\"outer_n\"").nth(1).unwrap();
        range.split("max=\"").nth(1).unwrap().split('"').next().unwrap().parse().unwrap()
    };
    assert!((max(&page) - 6000.0).abs() < 1e-9);
    b.post("/me/units", "units=inch&here=/").await;
    let inch = b.get("/reckoner/preload.pair").await.body;
    assert!((max(&inch) - 1348.85).abs() < 0.1, "6 kN are 1349 lbf: {}", max(&inch));
    b.post("/me/units", "units=metric&here=/").await;
    let ring =
        b.get("/reckoner/heat.cooling?env_c=20&first_c=110&second_c=95&second_s=60&d_mm=40&delta_um=25&units=metric");
    let ring = ring.await.body;
    assert!(ring.contains("How it cools") && ring.contains("grips after 03:00, 72 °C"), "{ring}");
    // Of a spacer set the preload is asked for: it stands first, as on its sheet.
    let set = "/reckoner/preload.spacers?bearing.z=18&bearing.ball_mm=8.731&bearing.pitch_mm=65&bearing.angle_deg=15&arrangement=DB&inner_mm=29.994&outer_mm=30&wanted_n=300&units=metric";
    let page = plain(&b.get(set).await.body);
    let (first, other) = (page.find("Preload that results").unwrap(), page.rfind("Ground into the pair").unwrap());
    assert!(first < other, "{page}");
}
