//! The contract: every vector of every named computation.

use serde_json::Value;

/// Compares as the contract says: within a relative or an absolute tolerance, `$near`, `$range` and `$set`.
fn close(got: &Value, want: &Value, tol: &Value) -> bool {
    let (rel, abs) = (tol["rel"].as_f64().unwrap_or(1e-6), tol["abs"].as_f64().unwrap_or(1e-9));
    match (got, want) {
        (_, Value::Object(w)) if w.contains_key("$near") => {
            let want = serde_json::json!(w["$near"]);
            close(got, &want, &Value::Object(w.clone()))
        }
        (_, Value::Object(w)) if w.contains_key("$range") => {
            let g = got.as_f64().unwrap();
            g >= w["$range"][0].as_f64().unwrap() && g <= w["$range"][1].as_f64().unwrap()
        }
        // Checked against the input by `schedule_holds`.
        (Value::Object(_), Value::Object(w)) if w.contains_key("$schedule") => true,
        (Value::Array(g), Value::Object(w)) if w.contains_key("$rotation") => {
            let wanted = w["$rotation"].as_array().unwrap();
            g.len() == wanted.len()
                && (0..g.len().max(1)).any(|k| (0..g.len()).all(|i| g[(i + k) % g.len()] == wanted[i]))
        }
        (Value::Array(g), Value::Object(w)) if w.contains_key("$order") => {
            let (items, pairs) = (w["$order"]["items"].as_array().unwrap(), w["$order"]["pairs"].as_array().unwrap());
            let at = |x: &Value| g.iter().position(|y| y == x).unwrap();
            g.len() == items.len() && items.iter().all(|x| g.contains(x)) && pairs.iter().all(|p| at(&p[0]) < at(&p[1]))
        }
        (Value::Array(g), Value::Object(w)) if w.contains_key("$set") => {
            let wanted = w["$set"].as_array().unwrap();
            g.len() == wanted.len() && wanted.iter().all(|x| g.contains(x))
        }
        (Value::Number(g), Value::Number(w)) => {
            let (g, w) = (g.as_f64().unwrap(), w.as_f64().unwrap());
            (g - w).abs() <= abs || (g - w).abs() <= rel * w.abs()
        }
        (Value::Array(g), Value::Array(w)) => g.len() == w.len() && g.iter().zip(w).all(|(g, w)| close(g, w, tol)),
        (Value::Object(g), Value::Object(w)) => w.iter().all(|(k, w)| g.get(k).is_some_and(|g| close(g, w, tol))),
        _ => got == want,
    }
}

/// Starts that respect releases, precedence, people and means at every minute, and end at the makespan.
fn schedule_holds(input: &Value, starts: &Value, makespan: u64) -> bool {
    let (tasks, none) = (input["tasks"].as_array().unwrap(), vec![]);
    let n = |t: &Value, k: &str, d: u64| t[k].as_u64().unwrap_or(d);
    let start = |id: &Value| starts[id.as_str().unwrap()].as_u64().unwrap();
    let hands = |t: &Value| start(&t["id"]) + n(t, "minutes", 0);
    let end = |t: &Value| hands(t) + n(t, "wait_min", 0);
    let list = |t: &Value, k: &str| t[k].as_array().unwrap_or(&none).clone();
    let find = |id: &Value| tasks.iter().find(|t| t["id"] == *id).unwrap();
    let order = tasks.iter().all(|t| {
        start(&t["id"]) >= n(t, "release_min", 0) && list(t, "after").iter().all(|a| start(&t["id"]) >= end(find(a)))
    });
    let minutes = (0..makespan).all(|m| {
        let working: Vec<&Value> = tasks.iter().filter(|t| (start(&t["id"])..hands(t)).contains(&m)).collect();
        let waiting: Vec<&Value> = tasks.iter().filter(|t| (hands(t)..end(t)).contains(&m)).collect();
        working.iter().map(|t| n(t, "people", 1)).sum::<u64>() <= input["people"].as_u64().unwrap()
            && input["means"].as_object().unwrap().iter().all(|(name, have)| {
                let uses = |t: &&Value, k: &str| list(t, k).iter().filter(|x| *x == name).count() as u64;
                working.iter().map(|t| uses(t, "means")).sum::<u64>()
                    + waiting.iter().map(|t| uses(t, "wait_means")).sum::<u64>()
                    <= have.as_u64().unwrap()
            })
    });
    order && minutes && tasks.iter().map(end).max().unwrap_or(0) == makespan
}

#[test]
fn every_vector_holds() {
    let mut wrong = Vec::new();
    let mut count = 0;
    for file in std::fs::read_dir(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/vectors")).unwrap() {
        let path = file.unwrap().path();
        let name = path.file_stem().unwrap().to_str().unwrap().to_owned();
        let list: Vec<Value> = serde_json::from_str(&std::fs::read_to_string(&path).unwrap()).unwrap();
        for v in list {
            count += 1;
            let got = ironseat_core::reckon::reckon(&name, &v["input"].to_string());
            let case = format!("{name} / {}", v["name"]);
            match (&got, v.get("expect_error_field")) {
                (Err(e), Some(field)) if e.field == field.as_str().unwrap() && !e.message.is_empty() => {}
                (Ok(answer), None) => {
                    if name == "plan.solve"
                        && !schedule_holds(&v["input"], &answer["starts"], answer["makespan_min"].as_u64().unwrap())
                    {
                        wrong.push(format!("{case}: these starts do not hold"));
                    }
                    for (key, want) in v["expect"].as_object().unwrap() {
                        let tol = v["tol"].get(key).or_else(|| v["tol"].get("*")).unwrap_or(&v["tol"]);
                        if !answer.get(key).is_some_and(|g| close(g, want, tol)) {
                            wrong.push(format!("{case}: {key} = {:?}, expected {want}", answer.get(key)));
                        }
                    }
                }
                _ => wrong.push(format!(
                    "{case}: got {got:?}, expected {}",
                    v.get("expect_error_field").unwrap_or(&v["expect"])
                )),
            }
        }
    }
    assert!(count > 150, "only {count} vectors found");
    assert!(wrong.is_empty(), "{} of {count} vectors fail:\n{}", wrong.len(), wrong.join("\n"));
}

#[test]
fn broken_text_names_what_is_wrong() {
    for (text, field) in [
        ("", "input"),
        ("[]", "input"),
        ("{", "input"),
        (r#"{"lo": 1e999, "hi": 1, "u": 1}"#, "lo"),
        (r#"{"lo": 0, "hi": 1, "u": -1e999}"#, "u"),
    ] {
        assert_eq!(ironseat_core::reckon::reckon("gauge.capable", text).unwrap_err().field, field, "{text}");
    }
    assert_eq!(ironseat_core::reckon::reckon("no.such", "{}").unwrap_err().field, "name");
    let deep = "[".repeat(100_000);
    assert_eq!(ironseat_core::reckon::reckon("judge", &deep).unwrap_err().field, "input");
}
