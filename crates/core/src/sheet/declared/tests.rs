//! Every sheet of the table, from its first reading to its last.

use super::super::SHEETS;
use super::*;
use crate::reckon::FieldKind;
use proptest::prelude::*;

fn example(sheet: &Declared) -> Map<String, Value> {
    let Ok(Value::Object(map)) = serde_json::from_str(sheet.entry().unwrap().example) else { panic!() };
    map
}

/// What an example of a computation says of the places of its sheet.
fn read_of(sheet: &Declared, input: &Map<String, Value>) -> (Given, BTreeMap<String, f64>) {
    let mut given = Given::default();
    for f in sheet.given() {
        if let Some(v) = input.get(f.name) {
            given.fields.insert(f.name.into(), v.clone());
        }
    }
    let mut read = BTreeMap::new();
    fn put(path: String, v: &Value, read: &mut BTreeMap<String, f64>) {
        match v {
            Value::Number(n) => read.extend([(path, n.as_f64().unwrap())]),
            Value::Array(list) => list.iter().enumerate().for_each(|(k, x)| put(format!("{path}.{k}"), x, read)),
            Value::Object(map) => map.iter().for_each(|(k, x)| put(format!("{path}.{k}"), x, read)),
            _ => {}
        }
    }
    for r in sheet.reads {
        let Some(v) = input.get(r.field()) else { continue };
        if let Reads::Mean(field, usual, ..) = r {
            // Around one ring the same height everywhere is its mean.
            read.extend((0..*usual).map(|k| (format!("{field}.{k}"), v.as_f64().unwrap())));
            continue;
        }
        put(r.field().into(), v, &mut read);
        if let Some(list) = v.as_array() {
            given.counts.insert(r.field().into(), list.len());
        }
    }
    (given, read)
}

/// Each sheet of the table stands on its computation: the fields are there and of their kind, and what is read at its
/// places is the input again.
#[test]
fn every_sheet_stands_on_its_computation() {
    let mut seen = std::collections::BTreeSet::new();
    for sheet in SHEETS {
        let e = sheet.entry().unwrap_or_else(|_| panic!("{} is no computation", sheet.name));
        assert!(seen.insert(sheet.name), "{} twice", sheet.name);
        for r in sheet.reads {
            if matches!(r, Reads::Bolts) {
                continue;
            }
            let f =
                e.fields.iter().find(|f| f.name == r.field()).unwrap_or_else(|| panic!("{} {}", sheet.name, r.field()));
            let fits = match (*r, f.kind) {
                (Reads::One(_) | Reads::Mean(..), FieldKind::Number | FieldKind::Positive | FieldKind::NotNegative) => {
                    true
                }
                (Reads::List(..), FieldKind::Numbers) | (Reads::Grid(..), FieldKind::Grid) => true,
                (Reads::Rows(_, inner, ..) | Reads::Log(_, inner, ..), FieldKind::Objects(fields)) => {
                    inner.iter().all(|i| fields.iter().any(|f| f.name == i.0))
                        && fields.iter().filter(|f| f.required).all(|f| inner.iter().any(|i| f.name == i.0))
                }
                _ => false,
            };
            assert!(fits, "{}: {} is {:?}", sheet.name, r.field(), f.kind);
        }
        assert!(!sheet.headline.is_empty(), "{}", sheet.name);
        for lead in sheet.headline {
            assert!(e.outputs.iter().any(|o| o.name == *lead), "{}: {lead} is no result", sheet.name);
        }
        let input = example(sheet);
        let (given, read) = read_of(sheet, &input);
        let keys: Vec<String> = sheet.places(&given, &read).into_iter().map(|p| p.key).collect();
        assert!(read.keys().all(|k| keys.contains(k)), "{}: {read:?} {keys:?}", sheet.name);
        assert!(keys.iter().all(|k| k.len() <= 40), "{}: the record keeps 40 characters of a place", sheet.name);
        let out = sheet.input(&given, &read, None);
        for (k, v) in &input {
            let alike =
                |a: &Value, b: &Value| a == b || a.to_string().replace(".0", "") == b.to_string().replace(".0", "");
            assert!(out.get(k).is_some_and(|o| alike(o, v)), "{}: {k} is {:?} of {v}", sheet.name, out.get(k));
        }
        assert!(!sheet.says.is_empty() && sheet.says.ends_with('.'), "{}", sheet.name);
    }
}

/// From the first reading to the last: nothing is judged before all is read, and then it is what the computation says.
#[test]
fn a_sheet_judges_once_everything_is_read() {
    for sheet in SHEETS.iter().filter(|s| s.name != "torque.order") {
        let input = example(sheet);
        let (given, all) = read_of(sheet, &input);
        let mut read = BTreeMap::new();
        for place in sheet.places(&given, &all) {
            let Some(v) = all.get(&place.key) else { continue };
            if !sheet.complete(&given, &read) {
                let early = sheet.outcome(&given, &read, None);
                assert!(!matches!(early, Outcome::Answer(..)), "{} judged with {} read", sheet.name, read.len());
            }
            read.insert(place.key, *v);
        }
        if all.len() == sheet.places(&given, &all).len() {
            let Outcome::Answer(asked, answer) = sheet.outcome(&given, &read, None) else {
                panic!("{}: {:?}", sheet.name, sheet.outcome(&given, &read, None))
            };
            let direct = reckon(sheet.name, &Value::Object(asked).to_string()).unwrap();
            assert_eq!(Value::Object(answer), direct, "{}", sheet.name);
        }
    }
}

#[test]
fn a_part_of_a_sweep_is_read_at_its_own_angles() {
    let sheet = Declared::of("runout.sweep").unwrap();
    let given = Given::default();
    let at = |k: usize| 10.0 * (k as f64 * 30.0 - 70.0).to_radians().cos() + 2.0;
    let read: BTreeMap<String, f64> = [0, 2, 3, 5, 7].iter().map(|k| (format!("readings_um.{k}"), at(*k))).collect();
    let Outcome::SoFar(input, answer) = sheet.outcome(&given, &read, Some(0.002)) else { panic!() };
    assert_eq!((&input["angles_deg"], &input["u_um"]), (&json!([0.0, 60.0, 90.0, 150.0, 210.0]), &json!(2.0)));
    assert!((answer["high_deg"].as_f64().unwrap() - 70.0).abs() < 1e-6, "{answer:?}");
    // The next one is foretold from them.
    let (v, off) = sheet.foretell(&given, &read, "readings_um.9").unwrap();
    assert!((v - at(9)).abs() < 1e-6 && off < 1e-6, "{v} of {}", at(9));
    assert!(sheet.foretell(&given, &BTreeMap::new(), "readings_um.0").is_none());
}

#[test]
fn stations_foretell_the_next_on_a_straight_line() {
    let sheet = Declared::of("runout.stations").unwrap();
    let rows = [(50.0, 2.0, 0.0), (150.0, 6.0, -1.0)];
    let mut read = BTreeMap::new();
    for (k, (z, x, y)) in rows.iter().enumerate() {
        read.extend([("z_mm", z), ("x_um", x), ("y_um", y)].map(|(f, v)| (format!("stations.{k}.{f}"), *v)));
    }
    let given = Given::default();
    assert!(sheet.foretell(&given, &read, "stations.2.x_um").is_none(), "its place is not known yet");
    read.insert("stations.2.z_mm".into(), 300.0);
    assert_eq!(sheet.foretell(&given, &read, "stations.2.x_um"), Some((12.0, 0.0)));
}

#[test]
fn acts_have_their_sheets_and_their_number() {
    let names = |act: &str| Declared::at(act).map(|s| s.name).collect::<Vec<_>>();
    assert_eq!(names("float.thrust#2"), ["float.shim"]);
    assert_eq!(names("prove.float.thrust"), ["float.shim"]);
    assert_eq!(names("prove.run"), ["runin.step"]);
    assert_eq!(names("at.de.put_on"), ["press.trace"]);
    assert!(
        names("sweep.nose").contains(&"runout.sweep") && names("prove.turn").is_empty() && names("nonsense").is_empty()
    );

    let sheet = Declared::of("float.shim").unwrap();
    let mut given = Given::default();
    given.fields.extend([("lo_mm".into(), json!(0.25)), ("hi_mm".into(), json!(0.35))]);
    let mut read = BTreeMap::new();
    for (k, v) in [0.41, 0.42, 0.40].iter().enumerate() {
        read.extend([(format!("pairs.{k}.pushed_mm"), 0.0), (format!("pairs.{k}.pulled_mm"), *v)]);
    }
    let out = sheet.outcome(&given, &read, Some(0.01));
    assert_eq!(sheet.left(&out), Some(vec![0.41, 0.42, 0.4]));
    read.remove("pairs.1.pulled_mm");
    assert_eq!(sheet.left(&sheet.outcome(&given, &read, None)), None, "an act has no number from a part of its sheet");
}

#[test]
fn bolts_go_round_as_the_computation_says() {
    let sheet = Declared::of("torque.order").unwrap();
    assert!(sheet.places(&Given::default(), &BTreeMap::new()).is_empty(), "nobody said how many there are");
    let mut given = Given::default();
    given.fields.insert("n".into(), json!(4));
    let places = sheet.places(&given, &BTreeMap::new());
    // Three rounds crossing, and one more going round.
    assert_eq!(
        (places.len(), places[0].label.as_str(), places[1].label.as_str()),
        (16, "bolt 1 to 30 %", "bolt 3 to 30 %")
    );
    assert_eq!(read_place(&places[0], " done", Units::Metric, None, false), Ok(Reading::Value(1.0)));
    assert!(read_place(&places[0], "7", Units::Metric, None, false).unwrap_err().message.contains("press it"));
}

#[test]
fn what_is_read_keeps_its_place() {
    let with = |field: &str, n: usize| Given { counts: [(field.to_owned(), n)].into(), ..Given::default() };
    let sweep = Declared::of("runout.sweep").unwrap();
    let none = Given::default();
    let one = BTreeMap::from([("readings_um.3".to_owned(), 4.0)]);
    assert!(sweep.may_give(&none, &with("readings_um", 8), &BTreeMap::new()).is_ok(), "nothing is read yet");
    // At 90 degrees of twelve steps; of eight it would be at 135.
    let moved = sweep.may_give(&none, &with("readings_um", 8), &one).unwrap_err();
    assert!(moved.field == "count.readings_um" && moved.message.contains("would move them"));
    assert!(sweep.may_give(&none, &none, &one).is_ok());
    let bushes = Declared::of("pairs.match").unwrap();
    let sixth = BTreeMap::from([("bushes_mm.5".to_owned(), 30.0)]);
    assert!(bushes.may_give(&with("bushes_mm", 6), &with("bushes_mm", 8), &sixth).is_ok(), "a list may grow");
    assert_eq!(
        bushes.may_give(&with("bushes_mm", 6), &with("bushes_mm", 4), &sixth).unwrap_err().field,
        "count.bushes_mm"
    );
    let ring = |n: u64| Given { fields: [("n".to_owned(), json!(n))].into_iter().collect(), ..Given::default() };
    let drawn = BTreeMap::from([("0.1".to_owned(), 1.0)]);
    let bolts = Declared::of("torque.order").unwrap();
    assert_eq!(bolts.may_give(&ring(8), &ring(6), &drawn).unwrap_err().field, "n");
    assert!(bolts.may_give(&ring(8), &ring(8), &drawn).is_ok());
}

#[test]
fn a_log_goes_on_as_long_as_somebody_reads() {
    let sheet = Declared::of("press.trace").unwrap();
    let given = Given::default();
    let mut read = BTreeMap::new();
    let rows = |read: &BTreeMap<String, f64>| sheet.places(&given, read).len() / 2;
    assert_eq!(rows(&read), 6);
    for k in 0..9 {
        read.extend([
            (format!("points.{k}.travel_mm"), f64::from(k)),
            (format!("points.{k}.force_n"), f64::from(k) * 900.0),
        ]);
    }
    assert_eq!(rows(&read), 10);
    assert!(sheet.complete(&given, &read), "one more may be read, none must");
}

#[test]
fn slips_of_unit_and_thimble_are_asked_about() {
    let place =
        |sheet: &str, k: usize| Declared::of(sheet).unwrap().places(&Given::default(), &BTreeMap::new())[k].clone();
    let dial = place("runout.sweep", 0);
    let height = place("parts.compare", 1);
    let read = |p: &Place, text: &str, expected| read_place(p, text, Units::Metric, expected, false);
    for (text, value) in [("8", 8.0), ("+8", 8.0), ("-0.5", -0.5), ("0.012 mm", 12.0), ("1 thou", 25.4), ("0", 0.0)] {
        assert_eq!(read(&dial, text, None), Ok(Reading::Value(value)), "{text}");
    }
    assert!(
        matches!(read(&dial, "0.012", None), Ok(Reading::DidYouMean { meant, .. }) if (meant.0 - 0.012).abs() < 1e-12)
    );
    assert!(matches!(read(&dial, "5000", None), Ok(Reading::FarOff { .. })));
    assert_eq!(read_place(&dial, "5000", Units::Metric, None, true), Ok(Reading::Value(5000.0)));
    assert_eq!(read(&height, "24.003", Some(24.002)), Ok(Reading::Value(24.003)));
    assert!(matches!(read(&height, "24.503", Some(24.002)), Ok(Reading::Perhaps { .. })));
    assert!(matches!(read(&height, "240.03", Some(24.002)), Ok(Reading::DidYouMean { .. })));
    assert!(matches!(read(&height, "0.945", Some(24.002)), Ok(Reading::DidYouMean { .. })), "inches");
    assert!(matches!(read(&height, "30", Some(24.002)), Ok(Reading::FarOff { .. })));
    let gap = place("gap.around", 0);
    assert!(matches!(read(&gap, "30", Some(0.3)), Ok(Reading::FarOff { .. }) | Ok(Reading::DidYouMean { .. })));
    for text in ["", "snug", "1e400", "NaN", "<script>", &"9".repeat(10_000)] {
        assert_eq!(read(&dial, text, None).unwrap_err().field, "text", "{text}");
    }
    let key = place("key.clearance", 0);
    assert!(read(&key, "-3", None).unwrap_err().message.contains("above 0"));
}

proptest! {
    /// Whatever stands in the places, in whatever order they are read, nothing breaks, and what is foretold is finite.
    #[test]
    fn whatever_is_read_nothing_breaks(pick in 0..SHEETS.len(), values in prop::collection::vec((0..60usize, -1e4f64..1e4), 0..30)) {
        let sheet = &SHEETS[pick];
        let (given, _) = read_of(sheet, &example(sheet));
        let mut read = BTreeMap::new();
        for (k, v) in values {
            let places = sheet.places(&given, &read);
            if places.is_empty() { break }
            let place = places[k % places.len()].key.clone();
            if let Some((v, off)) = sheet.foretell(&given, &read, &place) {
                prop_assert!(v.is_finite() && off.is_finite() && off >= 0.0);
            }
            read.insert(place, v);
            let _ = sheet.outcome(&given, &read, Some(0.002));
        }
    }

    /// A lone sweep of a circle that is off centre foretells each place before it is read.
    #[test]
    fn a_turn_is_foretold(e in 1.0f64..50.0, high in 0.0f64..360.0, n in 8usize..24) {
        let sheet = Declared::of("runout.sweep").unwrap();
        let mut given = Given::default();
        given.counts.insert("readings_um".into(), n);
        let at = |k: usize| e * (k as f64 * 360.0 / n as f64 - high).to_radians().cos();
        let mut read = BTreeMap::new();
        for k in 0..n {
            let key = format!("readings_um.{k}");
            if let Some((v, _)) = sheet.foretell(&given, &read, &key) {
                prop_assert!((v - at(k)).abs() < 1e-6 * e.max(1.0), "{k}: {v} of {}", at(k));
            }
            read.insert(key, at(k));
        }
    }
}
