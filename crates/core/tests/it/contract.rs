//! Laws of the contract that hold for every name: types, missing and unknown fields, sizes of input, no NaN.

use expect_test::expect_file;
use ironseat_core::reckon::{ASSUMED, FieldKind, Gives, Output, WARNINGS, WORDS, entries, reckon};
use serde_json::{Map, Value, json};
use std::time::{Duration, Instant};

/// An input that is accepted, from the vectors.
fn sample(name: &str) -> Map<String, Value> {
    let Ok(text) = std::fs::read_to_string(format!("{}/tests/vectors/{name}.json", env!("CARGO_MANIFEST_DIR"))) else {
        return serde_json::from_str(entries().find(|e| e.name == name).unwrap().example).unwrap();
    };
    let list: Vec<Value> = serde_json::from_str(&text).unwrap();
    list.iter().find(|v| v.get("expect").is_some()).unwrap()["input"].as_object().unwrap().clone()
}

fn ask(name: &str, map: &Map<String, Value>) -> Result<Value, ironseat_core::Refusal> {
    reckon(name, &Value::Object(map.clone()).to_string())
}

#[test]
fn names_are_unique_described_and_work() {
    let mut seen = std::collections::BTreeSet::new();
    for e in entries() {
        assert!(
            seen.insert(e.name) && !e.purpose.is_empty() && !e.source.is_empty() && !e.fields.is_empty(),
            "{}",
            e.name
        );
        assert!(e.fields.iter().all(|f| !f.about.is_empty()), "{}", e.name);
        // A source is one that a reader can look up, or the rule itself where it is one line of geometry.
        assert!(e.source.len() > 5 && !e.source.contains("docs/"), "{}", e.name);
        let answer = ask(e.name, &sample(e.name)).unwrap_or_else(|r| panic!("{}: {r}", e.name));
        assert!(answer.as_object().is_some_and(|m| !m.is_empty()), "{}", e.name);
    }
}

#[test]
fn every_required_field_is_named_when_it_is_missing_or_null() {
    for e in entries() {
        for f in e.fields.iter().filter(|f| f.required) {
            for absent in [None, Some(Value::Null)] {
                let mut map = sample(e.name);
                match absent {
                    None => {
                        map.remove(f.name);
                    }
                    Some(v) => {
                        map.insert(f.name.into(), v);
                    }
                }
                let r = ask(e.name, &map).expect_err(&format!("{} without {}", e.name, f.name));
                assert_eq!(r.field, f.name, "{}", e.name);
            }
        }
    }
}

#[test]
fn a_field_of_another_type_is_named_and_an_unknown_one_too() {
    for e in entries() {
        for f in e.fields {
            let wrong: &[Value] = match f.kind {
                FieldKind::Number | FieldKind::Positive | FieldKind::NotNegative | FieldKind::Whole(..) => {
                    &[json!("12"), json!("NaN"), json!(true), json!([1]), json!({})]
                }
                FieldKind::Flag => &[json!(1), json!("true"), json!([])],
                FieldKind::Text | FieldKind::Word(_) | FieldKind::Material => {
                    &[json!(12), json!(true), json!([]), json!({})]
                }
                FieldKind::Numbers => {
                    &[json!(12), json!("x"), json!({}), json!(true), json!(["1"]), json!([null]), json!([[1.0]])]
                }
                FieldKind::Grid => &[json!(12), json!("x"), json!({}), json!([1.0]), json!([["1"]])],
                FieldKind::Texts => &[json!(12), json!("x"), json!({}), json!([1])],
                FieldKind::Pairs => {
                    &[json!(12), json!("x"), json!({}), json!([["a"]]), json!([["a", 1]]), json!(["a", "b"])]
                }
                FieldKind::Objects(_) => {
                    &[json!(12), json!("x"), json!({}), json!(true), json!([1]), json!([{"colour": 1}]), json!([[]])]
                }
                FieldKind::Object(_) | FieldKind::Counts => {
                    &[json!(12), json!("x"), json!([]), json!(true), json!({"colour": "red"})]
                }
            };
            for w in wrong {
                let mut map = sample(e.name);
                map.insert(f.name.into(), w.clone());
                let r = ask(e.name, &map).expect_err(&format!("{} with {} = {w}", e.name, f.name));
                assert_eq!(r.field, f.name, "{} with {w}", e.name);
                assert!(r.message.len() > 8 && !r.message.contains("serde"), "{r}");
            }
        }
        let mut map = sample(e.name);
        map.insert("colour".into(), json!("red"));
        assert_eq!(ask(e.name, &map).expect_err(e.name).field, "colour");
    }
}

#[test]
fn numbers_out_of_range_are_refused_or_answered_without_nan_within_a_second() {
    for e in entries() {
        for f in e.fields.iter().filter(|f| {
            matches!(f.kind, FieldKind::Number | FieldKind::Positive | FieldKind::NotNegative | FieldKind::Whole(..))
        }) {
            for v in [0.0, -1.0, 1e-300, 1e300, -1e300, f64::MAX, 0.5, 1e9] {
                // A million trials or sixty seconds of planning are not out of range.
                if matches!(
                    (e.name, f.name),
                    ("plan.solve", "seconds")
                        | ("stack.chain", "trials" | "seed" | "lo_mm" | "hi_mm" | "aim_mm" | "adjust")
                        | ("plan.solve", "seed" | "people")
                ) {
                    continue;
                }
                let mut map = sample(e.name);
                if e.name == "stack.chain" {
                    map.insert("trials".into(), json!(100));
                }
                map.insert(f.name.into(), json!(v));
                let begun = Instant::now();
                if let Ok(answer) = ask(e.name, &map) {
                    assert!(
                        !answer.to_string().contains("NaN") && !answer.to_string().contains("inf"),
                        "{} {} = {v}",
                        e.name,
                        f.name
                    );
                }
                assert!(begun.elapsed() < Duration::from_secs(1), "{} {} = {v}", e.name, f.name);
            }
        }
    }
}

#[test]
fn long_lists_and_absurd_orders_are_refused_quickly() {
    let million = Value::Array(vec![json!(1.0); 1_000_000]);
    for (name, field) in [
        ("runout.sweep", "readings_um"),
        ("seal.tilt", "depths_mm"),
        ("gap.around", "gaps_mm"),
        ("pairs.match", "bushes_mm"),
    ] {
        let mut map = sample(name);
        map.insert(field.into(), million.clone());
        // A machine that stalls for a moment delays one try: what is slow is slow each time.
        let tries = (0..3).map(|_| {
            let begun = Instant::now();
            assert_eq!(ask(name, &map).expect_err(name).field, field, "{name}");
            begun.elapsed()
        });
        let quick = tries.into_iter().any(|took| took < Duration::from_secs(4));
        assert!(quick, "{name} (debug build)");
    }
    for (name, field, v) in [
        ("stack.chain", "trials", 1e9),
        ("plan.solve", "seconds", 1e6),
        ("shim.stock", "max_leaves", 1e6),
        ("torque.order", "n", 1e6),
        ("nut.slots", "count", 1e9),
    ] {
        let mut map = sample(name);
        map.insert(field.into(), json!(v));
        assert_eq!(ask(name, &map).expect_err(name).field, field, "{name}");
    }
}

/// Whether a value has the shape that its registry entry promises.
fn promised(value: &Value, o: &Output) -> bool {
    let every = |f: &dyn Fn(&Value) -> bool| value.as_array().is_some_and(|a| a.iter().all(f));
    (value.is_null() && o.nullable)
        || match o.kind {
            Gives::Number => value.is_number(),
            Gives::Flag => value.is_boolean(),
            Gives::Text => value.is_string(),
            Gives::Word(words) => value.as_str().is_some_and(|w| words.contains(&w)),
            Gives::Numbers => every(&Value::is_number),
            Gives::Texts => every(&Value::is_string),
            Gives::Pairs => every(&|p| p.as_array().is_some_and(|p| p.len() == 2 && p.iter().all(Value::is_string))),
            Gives::Counts => value.as_object().is_some_and(|m| m.values().all(Value::is_number)),
            Gives::Objects(inner) => every(&|v| v.as_object().is_some_and(|m| kept(m, inner))),
        }
}

fn kept(answer: &Map<String, Value>, outputs: &[Output]) -> bool {
    outputs.iter().all(|o| answer.get(o.name).is_some_and(|v| promised(v, o)))
        && answer.keys().all(|k| {
            outputs.iter().any(|o| o.name == k) || [WORDS.name, WARNINGS.name, ASSUMED.name].contains(&k.as_str())
        })
}

#[test]
fn every_example_and_every_vector_gives_what_the_registry_promises() {
    for e in entries() {
        let path = format!("{}/tests/vectors/{}.json", env!("CARGO_MANIFEST_DIR"), e.name);
        let vectors: Vec<Value> =
            std::fs::read_to_string(path).map_or_else(|_| Vec::new(), |t| serde_json::from_str(&t).unwrap());
        // The long searches are tried by the vectors themselves.
        let few = if e.name == "plan.solve" { 1 } else { usize::MAX };
        let inputs = vectors.iter().filter(|v| v.get("expect").is_some()).take(few).map(|v| v["input"].to_string());
        for input in inputs.chain([e.example.to_owned()]) {
            let answer = reckon(e.name, &input).unwrap_or_else(|r| panic!("{}: {r} for {input}", e.name));
            assert!(kept(answer.as_object().unwrap(), e.outputs), "{}: {answer} for {input}", e.name);
        }
    }
}

#[test]
fn limits_of_validity_and_estimates_are_named_in_the_answer() {
    let has = |name: &str, input: Value, list: &str, words: &str| {
        let a = reckon(name, &input.to_string()).unwrap();
        a[list].as_array().is_some_and(|l| l.iter().any(|w| w.as_str().unwrap().contains(words)))
    };
    let press = |delta: f64| json!({"d_mm": 40, "hub_outside_mm": 48, "length_mm": 18, "delta_min_um": delta, "delta_max_um": delta});
    assert!(
        has("fit.press", press(90.0), "warnings", "120 MPa") && !has("fit.press", press(15.0), "warnings", "120 MPa")
    );
    assert!(has("fit.press", press(15.0), "assumed", "mu_mid"));
    assert!(has("bearing.read", json!({"designation": "6208 QX"}), "warnings", "estimated"));
    assert!(has("bearing.read", json!({"designation": "6208 QX"}), "warnings", "suffixes"));
    assert!(!has("bearing.read", json!({"designation": "NU 212"}), "warnings", "estimated"));
    assert!(has("runout.sweep", json!({"readings_um": [1, 0, -1, 0]}), "warnings", "fewer than 9"));
    assert!(has(
        "probe.gap",
        json!({"voltage_v": -20, "sensitivity_mv_um": 7.87, "low_v": -2, "high_v": -18}),
        "warnings",
        "linear range"
    ));
    let bearing = json!({"z": 18, "ball_mm": 8.731, "pitch_mm": 65, "angle_deg": 15});
    assert!(has("preload.pair", json!({"bearing": bearing, "preload_n": 100, "outer_n": 900}), "warnings", "lift-off"));
    assert!(has("preload.pair", json!({"bearing": bearing, "preload_n": 100, "outer_n": 0}), "assumed", "bearing.fi"));
    let df = json!({"bearing": bearing, "arrangement": "DF", "inner_mm": 30, "outer_mm": 29.99, "inner_hotter_k": 8, "raceway_mm": 56, "row_distance_mm": 46});
    assert!(has("preload.spacers", df, "warnings", "face-to-face"));
    for e in entries() {
        assert!(e.limits.iter().chain([&e.holds]).all(|l| l.len() > 20 && !l.ends_with('.')), "{}", e.name);
    }
}

#[test]
fn schemas_follow_the_registry() {
    for e in entries() {
        let s = e.schema();
        assert_eq!(s["title"], e.name);
        assert_eq!(s["input"]["properties"].as_object().unwrap().len(), e.fields.len());
        assert_eq!(s["input"]["required"].as_array().unwrap().len(), e.fields.iter().filter(|f| f.required).count());
        assert_eq!(s["output"]["required"].as_array().unwrap().len(), e.outputs.len());
    }
    let s = ironseat_core::reckon::entry("float.shim").unwrap().schema();
    assert_eq!(s["input"]["properties"]["pairs"]["items"]["required"], json!(["pushed_mm", "pulled_mm"]));
    assert_eq!(s["input"]["properties"]["u_mm"]["type"], json!(["number", "null"]));
    assert_eq!(s["output"]["properties"]["float_mm"]["description"], "end play, mm");
}

#[test]
fn the_written_contract_is_current() {
    expect_file!["../../../../docs/reckon.md"].assert_eq(&ironseat_core::reckon::document());
}

/// The worked examples of the trade are reckoned again: `name value`, with ± where a figure is rounded.
#[test]
fn the_examples_of_the_trade_hold() {
    let text =
        std::fs::read_to_string(std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/trade.md")).unwrap();
    let blocks: Vec<&str> = text.split("```example ").skip(1).filter_map(|b| b.split("```").next()).collect();
    assert!(blocks.len() > 10);
    for block in blocks {
        let mut lines = block.lines();
        let (name, input) = (lines.next().unwrap(), lines.next().unwrap());
        let answer = reckon(name, input).unwrap_or_else(|r| panic!("{name}: {r}"));
        for line in lines {
            let (field, want) = line.split_once(' ').unwrap();
            let (value, off) = want.split_once(" ±").map_or((want, 1e-9), |(v, o)| (v, o.parse().unwrap()));
            let got = &answer[field];
            let holds = value.parse::<f64>().map_or_else(
                |_| got.as_str() == Some(value) || got.as_bool().is_some_and(|b| b.to_string() == value),
                |v| got.as_f64().is_some_and(|g| (g - v).abs() <= off),
            );
            assert!(holds, "{name}: {field} is {got}, the text says {want}");
        }
    }
}
