//! Sheets of acts: readings one by one, corrected, asked about, held, met by a second person, in the record and out of
//! the house.

use crate::support::Fresh;
use crate::support::hands::{begin, work_before};
use diesel::MysqlConnection;
use ironseat_core::foreseen::{ForecastKind, learn};
use ironseat_core::quantity::Units;
use ironseat_core::sheet::{Declared, Given, Outcome as Worked, Reading};
use ironseat_store::read::sheet_room::{self, worked};
use ironseat_store::read::{self, bench, readings_export};
use ironseat_store::rows::person::Person;
use ironseat_store::write::readings::{NewReading, Outcome};
use ironseat_store::{Id, ReadingId, RebuildId, StoreError, chain, write};
use serde_json::json;

fn reading(cell: &str, text: &str) -> NewReading {
    NewReading {
        id: Id::new(),
        cell: cell.into(),
        text: text.into(),
        instrument: None,
        over: None,
        sure: false,
        units: Units::Metric,
        reason: String::new(),
    }
}

fn take(c: &mut MysqlConnection, who: &Person, id: RebuildId, at: (&str, &str), cell: &str, text: &str) -> ReadingId {
    let new = reading(cell, text);
    assert_eq!(write::act_sheets::take(c, who, id, at.0, at.1, &new).unwrap(), Outcome::Stored, "{cell} {text}");
    new.id
}

const SWEEP: (&str, &str) = ("sweep.collar", "runout.sweep");

#[tokio::test]
async fn a_sweep_is_taken_one_by_one_corrected_and_worked_out_the_same_everywhere() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (tomasz, yuki) = (f.person("tomasz"), f.person("yuki"));
    let id = f.rebuild("R-0415");
    let gauge = read::shop::list_instruments(c).unwrap()[0].clone();
    write::act_sheets::choose_instrument(c, &tomasz, id, SWEEP.0, SWEEP.1, Some(gauge.id)).unwrap();
    let values = [10, 8, 3, -3, -8, -10, -8, -3, 3, 8, 11];
    let ids: Vec<ReadingId> = values
        .iter()
        .enumerate()
        .map(|(k, v)| take(c, &tomasz, id, SWEEP, &format!("readings_um.{k}"), &v.to_string()))
        .collect();

    // The same request again changes nothing; what stands is not overwritten unseen.
    let b = bench::load(c, id).unwrap();
    let seq = b.rebuild.record_seq;
    let again = NewReading { id: ids[0], ..reading("readings_um.0", "10") };
    assert_eq!(write::act_sheets::take(c, &tomasz, id, SWEEP.0, SWEEP.1, &again).unwrap(), Outcome::Repeated);
    let unseen = write::act_sheets::take(c, &yuki, id, SWEEP.0, SWEEP.1, &reading("readings_um.0", "7"));
    assert!(matches!(unseen, Err(StoreError::Conflict(s)) if s.contains("Tomasz Brandt read 10")));
    let asked = write::act_sheets::take(c, &yuki, id, SWEEP.0, SWEEP.1, &reading("readings_um.11", "0.012")).unwrap();
    assert!(matches!(asked, Outcome::Ask(Reading::DidYouMean { .. })));
    for (cell, text, field) in [("readings_um.11", "snug", "text"), ("readings_um.12", "3", "cell"), ("x", "3", "cell")]
    {
        let r = write::act_sheets::take(c, &yuki, id, SWEEP.0, SWEEP.1, &reading(cell, text));
        assert!(matches!(r, Err(StoreError::Refused(e)) if e.field == field), "{cell} {text}");
    }
    let strange = NewReading { instrument: Some(Id::new()), ..reading("readings_um.11", "12") };
    let r = write::act_sheets::take(c, &yuki, id, SWEEP.0, SWEEP.1, &strange);
    assert!(matches!(r, Err(StoreError::Refused(e)) if e.field == "instrument"));
    assert_eq!(bench::load(c, id).unwrap().rebuild.record_seq, seq, "none of these left anything");
    let part = bench::load(c, id).unwrap();
    let s = part.sheet(SWEEP.0, SWEEP.1).unwrap();
    assert!(matches!(worked(&part, s), Some((_, Worked::SoFar(..)))));
    assert_eq!(s.u_mm, Some(gauge.u_mm));

    // The last, and a correction over what was seen.
    take(c, &tomasz, id, SWEEP, "readings_um.11", "40");
    let over = NewReading {
        over: Some(bench::load(c, id).unwrap().sheet(SWEEP.0, SWEEP.1).unwrap().standing()["readings_um.11"].id),
        ..reading("readings_um.11", "12")
    };
    assert_eq!(write::act_sheets::take(c, &yuki, id, SWEEP.0, SWEEP.1, &over).unwrap(), Outcome::Stored);

    // By hand: the largest less the smallest is 12 less -10.
    let b = bench::load(c, id).unwrap();
    let (declared, Worked::Answer(input, answer)) = worked(&b, b.sheet(SWEEP.0, SWEEP.1).unwrap()).unwrap() else {
        panic!()
    };
    assert_eq!(answer["tir_um"], json!(22.0));
    let mut direct =
        ironseat_core::reckon::reckon(declared.name, &serde_json::Value::Object(input.clone()).to_string()).unwrap();
    assert_eq!(direct.as_object_mut().unwrap(), &answer);
    assert_eq!(input["u_um"], json!((gauge.u_mm * 1e9).round() / 1e6));
    // What was foretold stands beside what was read.
    let fifth = &b.sheet(SWEEP.0, SWEEP.1).unwrap().standing()["readings_um.10"].clone();
    assert!((fifth.expected.unwrap() - 11.0).abs() < 3.0, "{:?}", fifth.expected);

    // What is read keeps its angle.
    let mut fewer = Given::default();
    fewer.counts.insert("readings_um".into(), 8);
    let moved = write::act_sheets::give(c, &tomasz, id, SWEEP.0, SWEEP.1, &fewer);
    assert!(matches!(moved, Err(StoreError::Refused(r)) if r.field == "count.readings_um"));

    // In the record by its name, in the file with its unit, and everything bound.
    let said: Vec<String> = chain::rebuild::entries(c, id)
        .unwrap()
        .iter()
        .filter_map(|e| ironseat_core::decide::Event::read(&e.kind, &e.body))
        .map(|e| e.say(&b.state, Units::Metric))
        .collect();
    assert!(said.iter().any(|s| s.contains("runout sweep, at 330°: 12 over 40")), "{:?}", said.last());
    let (_, list) = readings_export::readings(c, id).unwrap();
    let mine: Vec<_> = list.iter().filter(|t| t.key == "sweep.collar/runout.sweep").collect();
    assert_eq!((mine.len(), mine.iter().filter(|t| t.stands).count()), (13, 12));
    assert!(mine.iter().all(|t| t.unit == "um" && t.instrument == gauge.name));
    assert!(chain::rebuild::verify(c, id, true).unwrap().whole());
}

/// 25 of 30 µm that a bush of 20 mm has were foreseen to close by what Lamé says; what was read then stands beside it.
#[tokio::test]
async fn a_bush_that_is_in_stands_beside_what_was_foreseen() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let tomasz = f.person("tomasz");
    let id = f.rebuild("R-0419");
    let b = bench::load(c, id).unwrap();
    let on = b.state.acts.iter().find(|a| a.id.starts_with("on.")).unwrap().id.clone();
    let before = (on.as_str(), "bush.closing");
    let fields = json!({"housing_outside_mm": 60, "delta_um": 30, "wanted_min_mm": 20.0, "wanted_max_mm": 20.021});
    let given = Given { fields: fields.as_object().unwrap().clone(), ..Given::default() };
    write::act_sheets::give(c, &tomasz, id, before.0, before.1, &given).unwrap();
    take(c, &tomasz, id, before, "bore_mm", "20");
    take(c, &tomasz, id, before, "outside_mm", "26");
    let b = bench::load(c, id).unwrap();
    let act = b.state.act(&on).unwrap();
    let known = sheet_room::given(&b, act, "bush.closed").fields;
    let foreseen = known["foreseen_um"].as_f64().unwrap();
    assert!(known["bore_mm"] == json!(20.0) && foreseen > 15.0 && foreseen < 30.0, "{known:?}");
    let after = (on.as_str(), "bush.closed");
    for (k, read) in ["19.978", "19.981", "19.979", "19.982"].iter().enumerate() {
        take(c, &tomasz, id, after, &format!("after_mm.{k}"), read);
    }
    let (seen, _) = ironseat_store::read::forecasts::all(c).unwrap();
    let mine = seen.iter().find(|s| s.foreseen.kind == ForecastKind::Closing).unwrap();
    assert!((mine.foreseen.came - 20.0).abs() < 1e-6 && (mine.foreseen.foreseen - foreseen).abs() < 1e-9, "{mine:?}");
}

#[tokio::test]
async fn what_rests_on_something_is_read_once_it_is_there_and_leaves_the_number_of_its_act() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let tomasz = f.person("tomasz");
    let id = begin(&f, c, "Six-stage", "R-0701");
    let at = ("float.thrust", "float.shim");
    let early = write::act_sheets::take(c, &tomasz, id, at.0, at.1, &reading("pairs.0.pushed_mm", "0"));
    assert!(matches!(early, Err(StoreError::Held(s)) if s.contains("once it can be")));
    work_before(&f, c, id, "float.thrust");

    // The anatomy fills the window; nothing has to be typed.
    let b = bench::load(c, id).unwrap();
    let act = b.state.act(at.0).unwrap().clone();
    let given = sheet_room::given(&b, &act, at.1);
    assert_eq!((&given.fields["lo_mm"], &given.fields["hi_mm"]), (&json!(0.25), &json!(0.35)));
    for (k, v) in ["0.41", "0.415", "0.412"].iter().enumerate() {
        take(c, &tomasz, id, at, &format!("pairs.{k}.pushed_mm"), "0");
        take(c, &tomasz, id, at, &format!("pairs.{k}.pulled_mm"), v);
    }
    let b = bench::load(c, id).unwrap();
    let (declared, out) = worked(&b, b.sheet(at.0, at.1).unwrap()).unwrap();
    assert_eq!(declared.left(&out), Some(vec![0.41, 0.415, 0.412]));
    let Worked::Answer(_, answer) = &out else { panic!() };
    assert_eq!((&answer["call"], &answer["action"]), (&json!("stop"), &json!("add")), "{answer:?}");

    // A field beside the readings, typed over, counted, and put back to what is known.
    let mut typed = Given::default();
    typed.fields.extend([("lo_mm".into(), json!(0.25)), ("hi_mm".into(), json!(0.45)), ("no_such".into(), json!(1))]);
    typed.counts.insert("pairs".into(), 4);
    write::act_sheets::give(c, &tomasz, id, at.0, at.1, &typed).unwrap();
    let b = bench::load(c, id).unwrap();
    let kept = &b.sheet(at.0, at.1).unwrap().typed;
    assert_eq!(kept.fields.keys().collect::<Vec<_>>(), ["hi_mm"], "what is known is not kept twice");
    assert!(
        matches!(worked(&b, b.sheet(at.0, at.1).unwrap()), Some((_, Worked::SoFar(..)))),
        "a fourth pair is wanted"
    );
    write::act_sheets::give(c, &tomasz, id, at.0, at.1, &Given::default()).unwrap();
    let seq = bench::load(c, id).unwrap().rebuild.record_seq;
    write::act_sheets::give(c, &tomasz, id, at.0, at.1, &Given::default()).unwrap();
    assert_eq!(bench::load(c, id).unwrap().rebuild.record_seq, seq, "the same again is no change");

    for (act, name) in [("float.nothing", at.1), (at.0, "plan.solve"), (at.0, "no.such")] {
        let r = write::act_sheets::take(c, &tomasz, id, act, name, &reading("pairs.0.pushed_mm", "0"));
        assert!(matches!(r, Err(StoreError::NotFound)), "{act} {name}");
    }
    assert!(chain::rebuild::verify(c, id, true).is_ok());

    // A finished rebuild takes no more.
    let done = f.rebuild("R-0398");
    let any = bench::load(c, done).unwrap().state.acts[0].id.clone();
    let r = write::act_sheets::take(c, &tomasz, done, &any, "wear_ring", &reading("ring_id_mm", "60.2"));
    assert!(matches!(r, Err(StoreError::Held(_))));
    let r = write::act_sheets::give(c, &tomasz, done, &any, "wear_ring", &typed);
    assert!(matches!(r, Err(StoreError::Held(_))));
}

/// Removal force and press trace rest on the fit of a seat: bench, API, ledger and papers, which read the rebuild in
/// two ways, work them out as the sheet's own room does.
#[tokio::test]
async fn what_a_seat_knows_of_a_sheet_is_known_in_every_room() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let tomasz = f.person("tomasz");
    let id = f.rebuild("R-0412");
    let pull = ("off.brg-de", "removal.pull");
    let mut rated = Given::default();
    rated.fields.insert("rated_n".into(), json!(50_000));
    write::act_sheets::give(c, &tomasz, id, pull.0, pull.1, &rated).unwrap();
    take(c, &tomasz, id, pull, "force_n", "25000");
    let trace = ("on.brg-ie", "press.trace");
    for (k, (travel, force)) in [(3, 1500), (6, 3000), (9, 4500), (12, 6000), (15, 7500), (18, 9000)].iter().enumerate()
    {
        take(c, &tomasz, id, trace, &format!("points.{k}.travel_mm"), &travel.to_string());
        take(c, &tomasz, id, trace, &format!("points.{k}.force_n"), &force.to_string());
    }
    for at in [pull, trace] {
        let room = sheet_room::room(c, id, at.0, at.1).unwrap();
        let told = |b: &bench::Bench| worked(b, b.sheet(at.0, at.1).unwrap()).unwrap().1;
        let shown = told(&room.bench);
        let Worked::Answer(asked, answer) = &shown else { panic!("{shown:?}") };
        assert!(asked["high_n"].as_f64().unwrap() > asked["low_n"].as_f64().unwrap(), "{asked:?}");
        assert!(at != pull || answer["call"] == "look_again", "{answer:?}");
        assert_eq!(told(&bench::load(c, id).unwrap()), shown, "{at:?}");
        assert_eq!(told(&bench::look(c, id).unwrap()), shown, "{at:?}");
    }
}

/// Whatever sheet at whatever act: the bench opens it, and a first reading of it is kept or said to be wrong.
#[tokio::test]
async fn every_sheet_can_be_begun_at_any_act() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let yuki = f.person("yuki");
    let id = f.rebuild("R-0409");
    let b = bench::load(c, id).unwrap();
    let act = b.state.acts.iter().find(|a| a.id == "look.f1").unwrap().clone();
    for d in ironseat_core::sheet::SHEETS {
        let mut given = Given::default();
        if d.name == "torque.order" {
            given.fields.insert("n".into(), json!(6));
            write::act_sheets::give(c, &yuki, id, &act.id, d.name, &given).unwrap();
        }
        if d.name == "torque.pattern" {
            let bolts = json!([{"x_mm": 0, "y_mm": 0}, {"x_mm": 90, "y_mm": 0}, {"x_mm": 45, "y_mm": 60}]);
            given.fields.insert("bolts".into(), bolts);
            write::act_sheets::give(c, &yuki, id, &act.id, d.name, &given).unwrap();
        }
        let room = sheet_room::room(c, id, &act.id, d.name).unwrap();
        let given = sheet_room::given(&room.bench, &act, d.name);
        let place = d.places(&given, &std::collections::BTreeMap::new())[0].clone();
        let text = if place.pressed() { "done" } else { "12" };
        take(c, &yuki, id, (&act.id, d.name), &place.key, text);
    }
    let b = bench::load(c, id).unwrap();
    assert_eq!(b.sheets.len(), ironseat_core::sheet::SHEETS.len());
    assert!(b.sheets.iter().all(|s| worked(&b, s).is_some()));
    assert!(chain::rebuild::verify(c, id, true).unwrap().whole());
    assert!(Declared::of("judge").is_none());
}

/// What was foreseen is counted over all rebuilds; enough traces make the shop's own friction, which presses then go
/// by.
#[tokio::test]
async fn forecasts_are_held_against_what_came_and_presses_teach_their_friction() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (ines, tomasz) = (f.person("ines"), f.person("tomasz"));
    let id = f.rebuild("R-0409");
    let (before, _) = ironseat_store::read::forecasts::all(c).unwrap();
    assert!(before.iter().any(|s| s.foreseen.kind == ForecastKind::Size), "the demo's journals were foretold");
    for act in ["look.f1", "look.f2", "look.up", "look.pul"] {
        let mut given = Given::default();
        for (k, v) in [
            ("d_mm", 40.0),
            ("expected_travel_mm", 18.0),
            ("low_n", 4000.0),
            ("high_n", 14000.0),
            ("pressure_mpa", 30.0),
        ] {
            given.fields.insert(k.into(), json!(v));
        }
        write::act_sheets::give(c, &tomasz, id, act, "press.trace", &given).unwrap();
        for (k, (mm, n)) in [
            (3.0, 1500),
            (6.0, 3000),
            (9.0, 4500),
            (12.0, 6000),
            (15.0, 7500),
            (18.0, 9000),
            (18.05, 14000),
            (18.1, 19000),
        ]
        .iter()
        .enumerate()
        {
            take(c, &tomasz, id, (act, "press.trace"), &format!("points.{k}.travel_mm"), &mm.to_string());
            take(c, &tomasz, id, (act, "press.trace"), &format!("points.{k}.force_n"), &n.to_string());
        }
    }
    let (all, presses) = ironseat_store::read::forecasts::all(c).unwrap();
    let forces: Vec<_> = all.iter().filter(|s| s.foreseen.kind == ForecastKind::Force).collect();
    assert_eq!((forces.len(), presses.len()), (4, 4));
    // By hand: the middle of 4 and 14 kN was foreseen, 9 kN came; and F = mu p pi d x over 18 mm.
    assert!(
        forces.iter().all(|s| (s.foreseen.foreseen - 9000.0).abs() < 1e-9 && (s.foreseen.came - 9000.0).abs() < 10.0)
    );
    let mu = 9000.0 / (30.0 * std::f64::consts::PI * 40.0 * 18.0);
    assert!(presses.iter().all(|p| (p.mu - mu).abs() < 0.002), "{mu} {presses:?}");

    let settings = read::shop::settings(c).unwrap().unwrap();
    let learned = learn(settings.rules.lubricant, &presses.iter().map(|p| p.mu).collect::<Vec<_>>()).1.unwrap();
    let force = |c: &mut MysqlConnection| {
        let head = ironseat_store::read::rebuilds::get(c, f.rebuild("R-0412")).unwrap();
        let seat = ironseat_store::read::seats::seat_record(c, &head, "ie").unwrap();
        seat.fit().unwrap().press.mid.force.get()
    };
    let usual = force(c);
    write::shop::learn(c, &ines, Some(learned), settings.revision).unwrap();
    assert!((force(c) / usual - learned.mid / 0.12).abs() < 1e-6, "the force follows the friction");
    // Other rules are changed without forgetting it; a stale page is told so; and it goes back.
    let now = read::shop::settings(c).unwrap().unwrap();
    write::shop::change_rules(
        c,
        &ines,
        &ironseat_core::rules::HouseRules { press_share: 0.7, learned: None, ..now.rules.clone() },
        now.zone,
        now.revision,
    )
    .unwrap();
    assert_eq!(read::shop::settings(c).unwrap().unwrap().rules.learned, Some(learned));
    assert!(matches!(write::shop::learn(c, &ines, None, now.revision), Err(StoreError::Conflict(_))));
    write::shop::learn(c, &ines, None, now.revision + 1).unwrap();
    assert!((force(c) - usual).abs() < 1e-9);
}
