//! Inputs that nobody means: mutations of the documented examples and of the vectors, for a fixed time. Whatever comes
//! in, there is an answer within seconds, without a panic, with finite numbers only, and a refusal names a field of the
//! input.
//!
//! `IRONSEAT_FUZZ_SECONDS` sets the time (12), `IRONSEAT_FUZZ_SEED` repeats a run.

use ironseat_core::reckon::{Entry, entries, reckon};
use proptest::prelude::Rng;
use proptest::test_runner::{RngAlgorithm, TestRng};
use serde_json::{Map, Value, json};
use std::sync::mpsc;
use std::time::{Duration, Instant};

/// No answer takes longer in a build without optimisation.
const ANSWER: Duration = Duration::from_secs(15);

struct Dice(TestRng);

impl Dice {
    fn below(&mut self, n: usize) -> usize {
        (self.0.next_u64() % n.max(1) as u64) as usize
    }
    fn one<'a, T>(&mut self, of: &'a [T]) -> &'a T {
        &of[self.below(of.len())]
    }
}

/// Values that break programs.
fn strange(d: &mut Dice) -> Value {
    let numbers = [
        0.0,
        -0.0,
        1.0,
        -1.0,
        0.5,
        1e-9,
        -1e-9,
        5e-324,
        1e-300,
        1e-12,
        1e9,
        1e15,
        1e19,
        -1e19,
        1e150,
        -1e150,
        1.7e308,
        -1.7e308,
        3.0,
        7.0,
        360.0,
        1e6,
        4_294_967_296.0,
        9_007_199_254_740_993.0,
    ];
    match d.below(14) {
        0 => Value::Null,
        1 => json!(true),
        2 => json!([]),
        3 => json!({}),
        4 => json!(["NaN", "", "1e5", "Größe \u{202e}µm", "a\u{0}b", "🔩", "../../x"][d.below(7)]),
        5 => json!("x".repeat(1 + d.below(4000))),
        6 => json!([[[[[[1.0]]]]]]),
        7 => json!(vec![*d.one(&numbers); d.below(600)]),
        8 => json!({"id": "a", "z": 3, "d_mm": 1}),
        9 => json!(u64::MAX),
        _ => json!(*d.one(&numbers)),
    }
}

/// Changes one value somewhere inside.
fn mutate(v: &mut Value, d: &mut Dice) {
    match v {
        Value::Array(list) if !list.is_empty() && d.below(5) > 0 => match d.below(8) {
            0 => list.truncate(d.below(list.len())),
            1 => {
                let again = list[d.below(list.len())].clone();
                list.resize(list.len() + d.below(400), again);
            }
            2 => list.reverse(),
            _ => {
                let k = d.below(list.len());
                mutate(&mut list[k], d);
            }
        },
        Value::Object(map) if !map.is_empty() && d.below(8) > 0 => {
            let key = map.keys().nth(d.below(map.len())).cloned().unwrap();
            match d.below(12) {
                0 => drop(map.remove(&key)),
                1 => drop(map.insert(["", "colour", "Größe", "d_mm", "id"][d.below(5)].into(), strange(d))),
                _ => mutate(&mut map[&key], d),
            }
        }
        Value::Number(n) if d.below(3) == 0 => {
            let factor = [0.0, -1.0, 1e-3, 1e3, 1.0 + 1e-12, 1e-200, 1e200][d.below(7)];
            *v = json!(n.as_f64().unwrap_or(1.0) * factor);
        }
        _ => *v = strange(d),
    }
}

/// The mutations of text: keys that stand twice, text that breaks off, numbers that are none.
fn spoil(text: &str, d: &mut Dice) -> String {
    let cut = |at: usize| (0..=at).rev().find(|k| text.is_char_boundary(*k)).unwrap_or(0);
    match d.below(30) {
        0 => text[..cut(d.below(text.len()))].to_owned(),
        1 => text.replacen("{\"", "{\"d_mm\": 1, \"d_mm\": 2, \"", 1),
        2 => text.replacen(": ", ": 1e999, \"x\": ", 1).replacen(':', ": 1e999 ,", d.below(2)),
        3 => format!("{}{text}{}", "[".repeat(d.below(300)), "]".repeat(300)),
        4 => text.replace(['.', '0'], ["", "NaN", "-", "\u{feff}"][d.below(4)]),
        _ => text.to_owned(),
    }
}

/// Long work is asked for short.
fn short(map: &mut Map<String, Value>) {
    for (key, most) in [("trials", 2000.0), ("seconds", 0.1)] {
        if map.get(key).and_then(Value::as_f64).is_some_and(|v| v > most)
            || (key == "trials" && map.contains_key("links"))
        {
            map.insert(key.into(), json!(most));
        }
    }
    if map.contains_key("tasks") {
        map.insert("seconds".into(), json!(0.1));
    }
}

fn finite(v: &Value) -> bool {
    match v {
        Value::Number(n) => n.as_f64().is_some_and(f64::is_finite),
        Value::Array(a) => a.iter().all(finite),
        Value::Object(m) => m.values().all(finite),
        _ => true,
    }
}

#[test]
fn nothing_that_comes_in_hangs_or_breaks_a_computation() {
    let number = |name: &str| std::env::var(name).ok().and_then(|v| v.parse::<u64>().ok());
    let now = std::time::SystemTime::now().duration_since(std::time::UNIX_EPOCH).unwrap().as_nanos() as u64;
    let seed = number("IRONSEAT_FUZZ_SEED").unwrap_or(now);
    let time = Duration::from_secs(number("IRONSEAT_FUZZ_SECONDS").unwrap_or(12));
    let mut bytes = [0; 32];
    bytes[..8].copy_from_slice(&seed.to_le_bytes());
    let mut d = Dice(TestRng::from_seed(RngAlgorithm::ChaCha, &bytes));
    let entries: Vec<&'static Entry> = entries().collect();
    let samples: Vec<Vec<Value>> = entries
        .iter()
        .map(|e| {
            let text = std::fs::read_to_string(format!("{}/tests/vectors/{}.json", env!("CARGO_MANIFEST_DIR"), e.name));
            let vectors: Vec<Value> = text.map_or_else(|_| Vec::new(), |t| serde_json::from_str(&t).unwrap());
            let own = serde_json::from_str(e.example).unwrap();
            vectors
                .into_iter()
                .map(|mut v| v["input"].take())
                .filter(|v| v.to_string().len() < 20_000)
                .chain([own])
                .collect()
        })
        .collect();
    // A worker answers, so that a computation that never ends is seen.
    let (ask, asked) = mpsc::channel::<(&str, String)>();
    let (tell, told) = mpsc::channel();
    std::thread::spawn(move || {
        for (name, text) in asked {
            let _ = tell.send(std::panic::catch_unwind(|| reckon(name, &text)));
        }
    });
    let begun = Instant::now();
    let mut tried = 0;
    while begun.elapsed() < time {
        let k = tried % entries.len();
        tried += 1;
        let mut input = d.one(&samples[k]).clone();
        for _ in 0..=d.below(3) {
            mutate(&mut input, &mut d);
        }
        let mut fields: Vec<String> = vec!["input".into()];
        if let Some(map) = input.as_object_mut() {
            short(map);
            fields.extend(map.keys().map(|k| k.chars().take(40).collect()));
        }
        let whole = input.to_string();
        let text = spoil(&whole, &mut d);
        let e = entries[k];
        let context = || format!("{} with seed {seed}: {}", e.name, text.chars().take(1500).collect::<String>());
        ask.send((e.name, text.clone())).unwrap();
        let said = told.recv_timeout(ANSWER).unwrap_or_else(|_| panic!("no answer: {}", context()));
        match said.unwrap_or_else(|_| panic!("a panic: {}", context())) {
            Ok(answer) => assert!(finite(&answer), "{answer} for {}", context()),
            Err(r) => {
                let known = e.fields.iter().any(|f| f.name == r.field) || fields.contains(&r.field) || text != whole;
                assert!(known && r.message.len() > 8 && r.message.len() < 2000, "{r}: {}", context());
            }
        }
    }
    assert!(tried > 100, "only {tried} inputs were tried");
}
