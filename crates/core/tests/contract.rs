//! Laws of the contract that hold for every name: types, missing and unknown fields, sizes of input, no NaN.

#![allow(clippy::unwrap_used, missing_docs)]

use ironseat_core::reckon::{Kind, entries, reckon};
use serde_json::{Map, Value, json};
use std::time::{Duration, Instant};

/// An input that is accepted, from the vectors.
fn sample(name: &str) -> Map<String, Value> {
    let path = format!("{}/tests/vectors/{name}.json", env!("CARGO_MANIFEST_DIR"));
    let Ok(text) = std::fs::read_to_string(path) else {
        return json!({"angle_deg": 90.0, "lobes": 3}).as_object().unwrap().clone();
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
        assert!(seen.insert(e.name) && !e.purpose.is_empty() && !e.source.is_empty() && !e.fields.is_empty(), "{}", e.name);
        assert!(e.fields.iter().all(|f| !f.about.is_empty()), "{}", e.name);
        let answer = ask(e.name, &sample(e.name)).unwrap_or_else(|r| panic!("{}: {r}", e.name));
        assert!(answer.as_object().is_some_and(|m| !m.is_empty()), "{}", e.name);
    }
    assert_eq!(seen.len(), 49);
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
                Kind::Number | Kind::Positive | Kind::NotNegative => &[json!("12"), json!("NaN"), json!(true), json!([1]), json!({})],
                Kind::Flag => &[json!(1), json!("true"), json!([])],
                Kind::Text | Kind::Word(_) | Kind::Material => &[json!(12), json!(true), json!([]), json!({})],
                Kind::Rows | Kind::Objects => &[json!(12), json!("x"), json!({}), json!(true)],
                Kind::Object => &[json!(12), json!("x"), json!([]), json!(true)],
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
        for f in e.fields.iter().filter(|f| matches!(f.kind, Kind::Number | Kind::Positive | Kind::NotNegative)) {
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
                    assert!(!answer.to_string().contains("NaN") && !answer.to_string().contains("inf"), "{} {} = {v}", e.name, f.name);
                }
                assert!(begun.elapsed() < Duration::from_secs(1), "{} {} = {v}", e.name, f.name);
            }
        }
    }
}

#[test]
fn long_lists_and_absurd_orders_are_refused_quickly() {
    let million = Value::Array(vec![json!(1.0); 1_000_000]);
    for (name, field) in
        [("runout.sweep", "readings_um"), ("seal.tilt", "depths_mm"), ("gap.around", "gaps_mm"), ("pairs.match", "bushes_mm")]
    {
        let mut map = sample(name);
        map.insert(field.into(), million.clone());
        let begun = Instant::now();
        assert_eq!(ask(name, &map).expect_err(name).field, field, "{name}");
        assert!(begun.elapsed() < Duration::from_secs(4), "{name} (debug build)");
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
