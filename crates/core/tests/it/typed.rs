//! What is typed into a computation's fields: every example survives being typed and read again, in both systems.

use ironseat_core::quantity::Units;
use ironseat_core::reckon::{
    QUESTIONS, as_typed, entries, number_in, question, reckon, said, shown, typed_input, unit, unit_in,
};
use ironseat_core::sheet::headline;
use proptest::prelude::*;
use serde_json::{Map, Value};
use std::collections::{BTreeMap, BTreeSet};

fn assembled(
    name: &str,
    pairs: &[(String, String)],
    units: Units,
) -> Result<Map<String, Value>, ironseat_core::Refusal> {
    let e = entries().find(|e| e.name == name).unwrap();
    let map: BTreeMap<&str, &str> = pairs.iter().map(|(k, v)| (k.as_str(), v.as_str())).collect();
    let rows = |path: &str| {
        let of = |k: &&str| k.strip_prefix(path)?.strip_prefix('.')?.split('.').next()?.parse::<usize>().ok();
        map.keys().filter_map(of).max().map_or(0, |n| n + 1)
    };
    typed_input(e.fields, &|p| map.get(p).copied().unwrap_or("").to_owned(), &rows, units)
}

#[test]
fn every_computation_answers_one_question() {
    let asked: Vec<&str> = QUESTIONS.iter().flat_map(|p| p.1).map(|q| q.1).collect();
    let there: BTreeSet<&str> = entries().map(|e| e.name).collect();
    assert_eq!(asked.iter().copied().collect::<BTreeSet<_>>(), there);
    assert_eq!(asked.len(), there.len(), "asked twice");
    let all: BTreeSet<&str> = there.iter().map(|n| question(n)).collect();
    assert_eq!(all.len(), there.len());
    assert!(all.iter().all(|q| q.ends_with('?') && q.len() < 60), "{all:?}");
    for e in entries() {
        let gives = |l: &&&str| !e.outputs.iter().any(|o| o.name == **l);
        assert_eq!(headline(e.name).iter().find(gives), None, "{} gives no such figure", e.name);
    }
}

/// The same input, whether whole numbers have a point and whether what is empty is written down.
fn same(a: &Value, b: &Value) -> bool {
    let none = |v: &Value| v.as_array().is_some_and(Vec::is_empty) || v.as_object().is_some_and(Map::is_empty);
    let said = |v: &Value| !(v.is_null() || v == "" || none(v));
    match (a, b) {
        (Value::Object(a), Value::Object(b)) => {
            let keys: BTreeSet<&String> = a.iter().chain(b).filter(|(_, v)| said(v)).map(|(k, _)| k).collect();
            keys.into_iter().all(|k| a.get(k).zip(b.get(k)).is_some_and(|(x, y)| same(x, y)))
        }
        (Value::Array(a), Value::Array(b)) => a.len() == b.len() && a.iter().zip(b).all(|(x, y)| same(x, y)),
        (Value::String(a), Value::String(b)) => a.trim() == b.trim(),
        (Value::Number(a), Value::Number(b)) => a.as_f64() == b.as_f64(),
        _ => a == b,
    }
}

/// What was answered once: the examples of the contract and the inputs of its vectors, with their answers.
fn answered() -> Vec<(&'static str, Map<String, Value>, Value)> {
    let mut out = Vec::new();
    for e in entries() {
        let path = format!("{}/tests/vectors/{}.json", env!("CARGO_MANIFEST_DIR"), e.name);
        let vectors: Vec<Value> =
            std::fs::read_to_string(path).map_or_else(|_| Vec::new(), |text| serde_json::from_str(&text).unwrap());
        let example: Value = serde_json::from_str(e.example).unwrap();
        for input in vectors.iter().map(|v| &v["input"]).chain([&example]).filter_map(Value::as_object) {
            if let Ok(answer) = reckon(e.name, &serde_json::to_string(input).unwrap()) {
                out.push((e.name, input.clone(), answer));
            }
        }
    }
    out
}

/// Lists of names within rows, chains of bearings, machines of twenty parts.
#[test]
fn whatever_was_answered_survives_being_typed() {
    let all = answered();
    assert!(all.len() > 200, "{}", all.len());
    for (name, input, _) in all {
        let e = entries().find(|e| e.name == name).unwrap();
        let again = assembled(name, &as_typed(e.fields, &input), Units::Metric).unwrap();
        assert!(same(&Value::Object(input.clone()), &Value::Object(again.clone())), "{name}: {input:?}\n{again:?}");
    }
}

/// No shop that thinks in inches is told to grind micrometres.
#[test]
fn sentences_speak_the_system_of_who_reads_them() {
    const METRIC: [&str; 9] = ["mm", "µm", "N", "kN", "MPa", "°C", "g", "kg", "N·m"];
    for (name, input, answer) in answered() {
        let answer = answer.as_object().unwrap();
        let said = |units| ironseat_core::reckon::say(name, &input, answer, units).unwrap_or_default();
        assert_eq!(answer.get("words").and_then(Value::as_str).unwrap_or(""), said(Units::Metric), "{name}");
        let inch = said(Units::Inch);
        let other = inch.split([' ', ',', ';', '.', ':']).find(|w| METRIC.contains(w));
        assert_eq!(other, None, "{name}: {inch}");
    }
}

#[test]
fn a_field_of_a_row_takes_several_names() {
    let list = [("tasks.0.id", "heat"), ("tasks.0.minutes", "5"), ("tasks.0.wait_means", " heater , rack,, ")];
    let list: Vec<_> = list.iter().map(|(k, v)| ((*k).to_owned(), (*v).to_owned())).collect();
    let got = assembled("plan.solve", &list, Units::Metric).unwrap();
    assert_eq!(got["tasks"][0]["wait_means"], serde_json::json!(["heater", "rack"]));
    let pairs = serde_json::json!([["seal", "ring"], ["ring", "nut"]]);
    assert_eq!(said("pairs", &pairs, Units::Metric), "seal, ring; ring, nut");
}

#[test]
fn numbers_come_with_or_without_their_unit() {
    let close = |name: &str, text: &str, units, wanted: f64| {
        let got = number_in(name, text, units).unwrap_or_else(|e| panic!("{name} {text}: {}", e.message));
        assert!((got - wanted).abs() <= wanted.abs() * 1e-6 + 1e-9, "{name} {text}: {got}");
    };
    use Units::{Inch, Metric};
    close("d_mm", "40", Metric, 40.0);
    close("d_mm", "1.575 in", Metric, 40.005);
    close("d_mm", "40 mm", Inch, 40.0);
    close("delta_um", "12", Metric, 12.0);
    close("delta_um", "0.5", Inch, 12.7);
    close("delta_um", "5 tenths", Metric, 12.7);
    close("force_n", "2.5 kN", Metric, 2500.0);
    close("force_n", "100", Inch, 444.822_161_5);
    close("torque_nm", "35", Inch, 47.453_628);
    close("torque_nm", "35 Nm", Inch, 35.0);
    close("torque_nm", "120 in-lb", Metric, 13.558_179_5);
    close("pressure_mpa", "300 bar", Metric, 30.0);
    close("pressure_mpa", "1000", Inch, 6.894_757_293);
    close("cap_c", "248", Inch, 120.0);
    close("cap_c", "120 C", Inch, 120.0);
    close("cap_c", "-78", Metric, -78.0);
    close("mass_g", "1.2 kg", Metric, 1200.0);
    close("second_s", "2 min", Metric, 120.0);
    close("rpm", "2950", Metric, 2950.0);
    close("mu", "0,12", Metric, 0.12);
    close("fa_n", "+5", Metric, 5.0);
    for (name, text) in [
        ("rpm", "2950 mm"),
        ("force_n", "12 mm"),
        ("force_n", "kN"),
        ("force_n", ""),
        ("d_mm", "forty"),
        ("d_mm", "4 4"),
        ("cap_c", "warm"),
        ("torque_nm", "1e3"),
        ("mu", "1.2.3"),
    ] {
        let e = number_in(name, text, Metric).unwrap_err();
        assert!(e.field == name && e.message.len() > 12, "{name} {text}: {}", e.message);
    }
}

#[test]
fn what_is_wrong_is_named_by_its_path() {
    let at = |name: &str, pairs: &[(&str, &str)]| {
        let list: Vec<_> = pairs.iter().map(|(k, v)| ((*k).to_owned(), (*v).to_owned())).collect();
        assembled(name, &list, Units::Metric).unwrap_err().field
    };
    assert_eq!(at("float.shim", &[("pairs.1.pulled_mm", "x")]), "pairs.1.pulled_mm");
    assert_eq!(at("journal.grid", &[("readings_mm", "40.001 40.002\n40.003 soon")]), "readings_mm");
    assert_eq!(at("torque.order", &[("n", "7.5")]), "n");
    assert_eq!(at("order.solve", &[("parts.1.bore_mm", "wide")]), "parts.1.bore_mm");
    assert_eq!(at("float.shim", &[("thicker_reduces", "maybe")]), "thicker_reduces");
    // Rows that were left empty are not there.
    let list = [("pairs.0.pushed_mm", "0"), ("pairs.0.pulled_mm", "0.3"), ("pairs.4.pulled_mm", " ")];
    let list: Vec<_> = list.iter().map(|(k, v)| ((*k).to_owned(), (*v).to_owned())).collect();
    assert_eq!(assembled("float.shim", &list, Units::Metric).unwrap()["pairs"].as_array().unwrap().len(), 1);
}

proptest! {
    /// What is read in one system and typed again is the same thing, as far as it was shown.
    #[test]
    fn what_is_shown_can_be_typed(v in -1e5..1e5f64, inch: bool, name in prop::sample::select(vec!["d_mm", "delta_um", "torque_nm", "pressure_mpa", "mass_g", "mu"])) {
        let units = if inch { Units::Inch } else { Units::Metric };
        let (text, said) = shown(name, v, units);
        prop_assert_eq!(said, unit_in(name, units));
        let back = number_in(name, &text.replace('\u{2212}', "-"), units).unwrap();
        let step = match unit(name) { Some("mm") => 0.003, Some("µm") => 1.0, Some("g") => 0.05 + v.abs() * 0.001, _ => v.abs() * 0.001 + 1e-5 };
        prop_assert!((back - v).abs() <= step, "{} {}: {} {}", name, v, text, back);
    }

    /// No text makes it panic, and a number is finite.
    #[test]
    fn any_text_is_a_number_or_a_sentence(text in "\\PC{0,14}", name in prop::sample::select(vec!["d_mm", "delta_um", "force_n", "cap_c", "first_s", "rpm"])) {
        match number_in(name, &text, Units::Inch) {
            Ok(v) => prop_assert!(v.is_finite()),
            Err(e) => prop_assert_eq!(e.field, name),
        }
    }
}
