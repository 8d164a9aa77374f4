//! Speed of the heavy computations, with the limits they have to keep on one core. `bin/bench` runs this.
//!
//! `cargo bench -p ironseat-core` gives criterion's statistics; with `-- --limits` only the table of limits is printed,
//! and the exit code says whether all were kept.

#![allow(clippy::unwrap_used, missing_docs)]

use criterion::Criterion;
use ironseat_core::anatomy::{Anatomy, derive};
use ironseat_core::axial::shim_stock;
use ironseat_core::instrument::{Limits, judge};
use ironseat_core::plan::{Task, solve};
use ironseat_core::preload::{BallBearing, Pair};
use ironseat_core::quantity::Newtons;
use ironseat_core::rotation::sweep;
use ironseat_core::stack::{Link, Scatter, chain};
use serde_json::json;
use std::hint::black_box;
use std::time::{Duration, Instant};

fn twelve() -> Vec<f64> {
    (0..12)
        .map(|k| {
            12.0 * (f64::from(k) * 30.0 - 70.0).to_radians().cos() + 3.0 * (f64::from(k) * 60.0).to_radians().sin()
        })
        .collect()
}

fn links() -> Vec<Link> {
    let one = |k: usize| Link {
        nominal: 10.0 + k as f64,
        plus: 0.02,
        minus: 0.01,
        sign: if k.is_multiple_of(2) { 1.0 } else { -1.0 },
        scatter: [Scatter::Normal, Scatter::Uniform, Scatter::Triangular][k % 3],
        measured: false,
    };
    (0..12).map(one).collect()
}

fn spindle() -> Pair {
    Pair::new(BallBearing::new(18.0, 8.731, 65.0, 15.0, 0.52, 0.52).unwrap(), 1, 1, Newtons::of(300.0))
}

fn shims() -> Vec<(u64, u64)> {
    (0..60).map(|k| (40 + 17 * k, 1 + k % 3)).collect()
}

/// A stepped shaft with 300 parts, half from each end.
fn machine_of_300() -> Anatomy {
    let lands: Vec<_> = (0..60)
        .map(|k| json!({"id": format!("l{k}"), "name": format!("land {k}"), "length_mm": 30, "d_mm": 40 + 30 - i32::abs(30 - k)}))
        .collect();
    let parts: Vec<_> = (0..300)
        .map(|k| {
            let land = k * 60 / 300;
            let d = 40 + 30 - i32::abs(30 - land);
            json!({
                "id": format!("p{k}"), "name": format!("Part {k}"), "kind": (["sleeve", "seal", "spacer", "nut", "impeller"][k as usize % 5]),
                "land": format!("l{land}"), "at_mm": k % 5 * 6, "width_mm": 5, "outside_mm": d + 20, "from": if land > 30 { "B" } else { "A" },
                "fit": if k % 7 == 0 { "shrink" } else { "slide" },
            })
        })
        .collect();
    serde_json::from_value(
        json!({"key": "three-hundred", "name": "Three hundred", "version": 1, "lands": lands, "parts": parts}),
    )
    .unwrap()
}

/// 30 cells along a shaft, each with a hot bearing, its washer and nut, in a parted block with a bolted cover, its seal,
/// gasket, shim, spacer and flinger with a screw: 300 bodies, and joints of all kinds between them.
fn joined_300() -> Anatomy {
    let (mut lands, mut parts, mut housings, mut bolts, mut floats) = (vec![], vec![], vec![], vec![], vec![]);
    for k in 0..30 {
        let from = if k < 15 { "A" } else { "B" };
        let d = 40 + 2 * if k < 15 { k } else { 29 - k };
        lands.push(json!({"id": format!("l{k}"), "name": format!("land {k}"), "length_mm": 100, "d_mm": d}));
        let mut part = |id: &str, kind: &str, at: i32, width: i32, outside: i32, more: serde_json::Value| {
            // Outward from the middle: the bearing first, its cover last.
            let at = if from == "A" { 100 - at - width } else { at };
            let mut p = json!({"id": format!("{id}{k}"), "name": format!("{id} {k}"), "kind": kind, "land": format!("l{k}"),
                "at_mm": at, "width_mm": width, "outside_mm": d + outside, "from": from});
            p.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
            parts.push(p);
        };
        part("spacer", "spacer", 0, 8, 10, json!({}));
        part("bearing", "bearing", 8, 18, 40, json!({"fit": "shrink"}));
        part("tab", "tab_washer", 26, 2, 16, json!({}));
        part("nut", "nut", 28, 10, 18, json!({"hand": "right", "slots": 4, "tabs": 17, "locks": [format!("tab{k}")]}));
        part("gasket", "gasket", 52, 1, 60, json!({"bore_mm": d + 42}));
        part("cover", "cover", 53, 12, 60, json!({"bore_mm": d + 4}));
        part("seal", "seal", 54, 8, 24, json!({"carried_by": format!("cover{k}")}));
        part("flinger", "flinger", 68, 6, 20, json!({}));
        part("screw", "set_screw", 69, 3, 20, json!({"split": true, "locks": [format!("flinger{k}")]}));
        let x = f64::from(k) * 100.0 + if from == "A" { 48.0 } else { 0.0 };
        housings.push(json!({"id": format!("block{k}"), "name": format!("block {k}"), "outside_mm": d + 70, "material": "grey_iron",
            "split": true, "feet": true, "bores": [{"from_mm": x, "to_mm": x + 52.0, "d_mm": d + 40}]}));
        bolts.push(json!({"part": format!("block{k}"), "n": 4, "torque_nm": 60}));
        bolts.push(json!({"part": format!("cover{k}"), "to": format!("block{k}"), "n": 4, "torque_nm": 20}));
    }
    floats.push(json!({"id": "f", "name": "end play", "lo_mm": 0.1, "hi_mm": 0.3, "source": "sheet"}));
    serde_json::from_value(
        json!({"key": "joined", "name": "Three hundred, joined", "version": 1, "lands": lands, "parts": parts,
        "housings": housings, "bolt_rings": bolts, "floats": floats}),
    )
    .unwrap()
}

fn order_of_300(a: &Anatomy) -> usize {
    let d = derive(a).unwrap();
    let on: Vec<&str> = d.bodies.list.iter().skip(1).map(|b| b.id.as_str()).collect();
    d.acts.len() + d.back_out(a, &on, &a.parts[150].id).unwrap().off.len()
}

fn judged() -> usize {
    let limits = Limits::new(Some(40.002), Some(40.018)).unwrap();
    (0..20_000).filter(|k| judge(40.0 + f64::from(*k) * 1e-6, black_box(&limits), 0.003).is_ok()).count()
}

/// Numbers for shapes of shops: a linear congruential generator, as such benchmarks are usually made.
fn draw(state: &mut u64, lo: u64, hi: u64) -> u64 {
    *state = *state * 16_807 % 2_147_483_647;
    lo + *state * (hi - lo + 1) / 2_147_483_647
}

/// A job shop: every job visits every means once.
fn job_shop(jobs: usize, means: usize, seed: u64) -> (Vec<Task>, Vec<u64>) {
    let mut s = seed;
    let mut tasks = Vec::new();
    for j in 0..jobs {
        let mut way: Vec<usize> = (0..means).collect();
        for i in 0..means {
            way.swap(i, draw(&mut s, i as u64, means as u64 - 1) as usize);
        }
        for (i, m) in way.into_iter().enumerate() {
            let after = if i == 0 { vec![] } else { vec![j * means + i - 1] };
            tasks.push(Task { minutes: draw(&mut s, 1, 99), people: 1, means: vec![m], after, ..Task::default() });
        }
    }
    (tasks, vec![1; means])
}

/// The 10x10 shop of the literature of 1963 whose best end, 930, took twenty-six years to prove.
fn classical() -> (Vec<Task>, Vec<u64>) {
    const ROWS: [&str; 10] = [
        "0 29 1 78 2 9 3 36 4 49 5 11 6 62 7 56 8 44 9 21",
        "0 43 2 90 4 75 9 11 3 69 1 28 6 46 5 46 7 72 8 30",
        "1 91 0 85 3 39 2 74 8 90 5 10 7 12 6 89 9 45 4 33",
        "1 81 2 95 0 71 4 99 6 9 8 52 7 85 3 98 9 22 5 43",
        "2 14 0 6 1 22 5 61 3 26 4 69 8 21 7 49 9 72 6 53",
        "2 84 1 2 5 52 3 95 8 48 9 72 0 47 6 65 4 6 7 25",
        "1 46 0 37 3 61 2 13 6 32 5 21 9 32 8 89 7 30 4 55",
        "2 31 0 86 1 46 5 74 4 32 6 88 8 19 9 48 7 36 3 79",
        "0 76 1 69 3 76 5 51 2 85 9 11 6 40 7 89 4 26 8 74",
        "1 85 0 13 2 61 6 7 8 64 9 76 5 47 3 52 4 90 7 45",
    ];
    let mut tasks = Vec::new();
    for (j, row) in ROWS.iter().enumerate() {
        let n: Vec<u64> = row.split(' ').map(|x| x.parse().unwrap()).collect();
        for i in 0..10 {
            let after = if i == 0 { vec![] } else { vec![j * 10 + i - 1] };
            tasks.push(Task {
                minutes: n[2 * i + 1],
                people: 1,
                means: vec![n[2 * i] as usize],
                after,
                ..Task::default()
            });
        }
    }
    (tasks, vec![1; 10])
}

/// 200 steps of ten rebuilds for four people and six means.
fn workshop(seed: u64) -> (Vec<Task>, Vec<u64>) {
    let mut s = seed;
    let mut tasks = Vec::new();
    for j in 0..10 {
        for i in 0..20 {
            let means = if draw(&mut s, 0, 9) < 6 { vec![draw(&mut s, 0, 5) as usize] } else { vec![] };
            let wait = [0, 0, 0, 20, 40, 90][draw(&mut s, 0, 5) as usize];
            let wait_means =
                if wait > 0 && draw(&mut s, 0, 9) < 3 { vec![draw(&mut s, 0, 5) as usize] } else { vec![] };
            let after =
                if i == 0 { vec![] } else { vec![j * 20 + i - 1 - draw(&mut s, 0, 1).min(i as u64 - 1) as usize] };
            let people = if draw(&mut s, 0, 99) < 15 { 2 } else { 1 };
            tasks.push(Task { minutes: draw(&mut s, 5, 60), wait, people, means, wait_means, after, release: 0 });
        }
    }
    (tasks, vec![1, 1, 2, 1, 1, 2])
}

/// Keeps a result from being reckoned away.
fn keep<T>(result: T) {
    black_box(result);
}

/// Median time of a computation.
fn time(f: &mut dyn FnMut(), least_runs: usize) -> Duration {
    f();
    let mut all: Vec<Duration> = (0..least_runs)
        .map(|_| {
            let begun = Instant::now();
            f();
            begun.elapsed()
        })
        .collect();
    all.sort();
    all[all.len() / 2]
}

fn limits() -> bool {
    let mut kept = true;
    let mut row = |what: &str, got: f64, limit: f64, unit: &str| {
        let ok = got <= limit;
        kept &= ok;
        println!("  {what:<62} {got:>9.3} {unit:<3} limit {limit:>7} {unit:<3} {}", if ok { "kept" } else { "MISSED" });
    };
    let us = |d: Duration| d.as_secs_f64() * 1e6;
    let readings = twelve();
    let many = time(&mut || (0..1000).for_each(|_| keep(sweep(black_box(&readings), None, 3))), 21);
    row("sweep of 12 readings, equal steps", us(many) / 1000.0, 3.0, "µs");
    let l = links();
    row(
        "10^6 trials of a chain of 12 links",
        us(time(&mut || keep(chain(&l, None, 1_000_000, 1)), 5)) / 1e3,
        120.0,
        "ms",
    );
    let pair = spindle();
    row(
        "curve of a pair, 1000 points",
        us(time(&mut || keep(pair.curve(Newtons::of(2000.0), 1000)), 21)) / 1e3,
        2.0,
        "ms",
    );
    let stock = shims();
    for leaves in [3, 6] {
        let what = format!("exact search over 60 shims, {leaves} leaves");
        row(&what, us(time(&mut || keep(shim_stock(1234, &stock, leaves).unwrap()), 11)) / 1e3, 20.0, "ms");
    }
    let m = machine_of_300();
    row("order, back-out and trail of 300 parts", us(time(&mut || keep(order_of_300(&m)), 11)) / 1e3, 50.0, "ms");
    let m = joined_300();
    let what = format!("the same with joints, {} bodies", derive(&m).unwrap().bodies.list.len());
    row(&what, us(time(&mut || keep(order_of_300(&m)), 11)) / 1e3, 50.0, "ms");
    row("20 000 judged readings", us(time(&mut || keep(judged()), 11)) / 1e3, 10.0, "ms");

    let mut over = Vec::new();
    let (tasks, means) = classical();
    over.push(solve(&tasks, 10, &means, 2.0, 1).unwrap().makespan as f64 / 930.0);
    for (jobs, machines, seed) in [(10, 10, 11), (15, 15, 5), (20, 15, 7), (20, 20, 3), (20, 20, 9)] {
        let (tasks, means) = job_shop(jobs, machines, seed);
        let best = solve(&tasks, jobs as u64, &means, 30.0, 2).unwrap().makespan.max(1);
        let quick = solve(&tasks, jobs as u64, &means, 2.0, 1).unwrap().makespan;
        over.push(quick as f64 / best as f64);
    }
    let mean = over.iter().sum::<f64>() / over.len() as f64;
    row("job shops 10x10 to 20x20 in 2 s over optimum or a long run", (mean - 1.0) * 100.0, 5.0, "%");
    for seed in [1, 2] {
        let (tasks, means) = workshop(seed);
        let long = solve(&tasks, 4, &means, 30.0, 2).unwrap().makespan;
        let begun = Instant::now();
        let quick = solve(&tasks, 4, &means, 2.0, 1).unwrap().makespan;
        row(
            "200 steps, 4 people, 6 means in 2 s over a long run",
            (quick as f64 / long as f64 - 1.0) * 100.0,
            5.0,
            "%",
        );
        row("  and the time it took", begun.elapsed().as_secs_f64(), 3.0, "s");
    }
    kept
}

fn main() {
    if std::env::args().any(|a| a == "--limits") {
        println!("Speed of the core, one thread:");
        std::process::exit(i32::from(!limits()));
    }
    let mut c = Criterion::default().configure_from_args();
    let readings = twelve();
    c.bench_function("sweep of 12", |b| b.iter(|| sweep(black_box(&readings), None, 3)));
    let l = links();
    c.bench_function("chain of 12, 10^5 trials", |b| b.iter(|| chain(black_box(&l), None, 100_000, 1)));
    let pair = spindle();
    c.bench_function("pair curve, 1000 points", |b| b.iter(|| black_box(&pair).curve(Newtons::of(2000.0), 1000)));
    let stock = shims();
    c.bench_function("shim stock of 60", |b| b.iter(|| shim_stock(1234, black_box(&stock), 3)));
    let m = machine_of_300();
    c.bench_function("order, back-out and trail of 300 parts", |b| b.iter(|| order_of_300(black_box(&m))));
    let m = joined_300();
    c.bench_function("300 parts, joined", |b| b.iter(|| order_of_300(black_box(&m))));
    c.bench_function("20 000 judged readings", |b| b.iter(judged));
    c.final_summary();
}
