//! Names for pressing, bushes, run-in and the plan.

use super::input::{may, need};
use super::lists::{items, needed};
use super::{Entry, Input, Kind, answer};
use crate::fit::bush::{self, BushCall};
use crate::fit::{Material, trace};
use crate::order::Names;
use crate::plan::{self, Task};
use crate::quantity::{Celsius, Micrometres};
use crate::refusal::{Refusal, Result, expect};
use crate::run_in::{self, RunIn};
use serde_json::{Map, Value, json};

pub(super) static ENTRIES: [Entry; 5] = [
    Entry {
        name: "press.trace",
        purpose: "Reads the force trace of a pressing.",
        source: "least squares; handbook 03",
        fields: &[
            need("points", Kind::Objects, "list of {travel_mm, force_n}, travel rising"),
            need("d_mm", Kind::Positive, "joint"),
            need("expected_travel_mm", Kind::Positive, "travel to the shoulder"),
            need("low_n", Kind::NotNegative, "lowest force at full travel"),
            need("high_n", Kind::NotNegative, "highest"),
            may("pressure_mpa", Kind::Positive, "contact pressure, for friction"),
            may("tolerance_mm", Kind::NotNegative, "knee within (0.3)"),
        ],
        compute: press_trace,
    },
    Entry {
        name: "bush.closing",
        purpose: "Bore of a pressed bush, and what to ream.",
        source: "Lamé; handbook 03",
        fields: &[
            need("bore_mm", Kind::Positive, "bore before"),
            need("outside_mm", Kind::Positive, "outside"),
            need("housing_outside_mm", Kind::Positive, "housing"),
            need("delta_um", Kind::NotNegative, "effective interference"),
            may("bush_material", Kind::Material, "bush (tin_bronze)"),
            may("housing_material", Kind::Material, "housing (grey_iron)"),
            may("closing_share", Kind::Number, "share of delta instead of Lamé"),
            need("wanted_min_mm", Kind::Positive, "smallest wanted bore"),
            need("wanted_max_mm", Kind::Positive, "largest"),
            may("ream_max_um", Kind::NotNegative, "most a hand reamer takes (250)"),
        ],
        compute: bush_closing,
    },
    Entry {
        name: "pairs.match",
        purpose: "Which bush goes into which hole.",
        source: "assignment; handbook 03",
        fields: &[
            need("bushes_mm", Kind::Rows, "outsides"),
            need("holes_mm", Kind::Rows, "holes"),
            need("wanted_um", Kind::Number, "wanted interference"),
        ],
        compute: pairs_match,
    },
    Entry {
        name: "runin.step",
        purpose: "Whether a run-in step may go on.",
        source: "handbook 06",
        fields: &[
            need("log", Kind::Objects, "list of {s, c}"),
            need("room_c", Kind::Number, "room"),
            may("limit_c", Kind::Number, "limit (lower of 60 and room + 35)"),
        ],
        compute: runin,
    },
    Entry {
        name: "plan.solve",
        purpose: "A schedule of people, means and waits.",
        source: "serial generation with annealing; handbook 10",
        fields: &[
            need("tasks", Kind::Objects, "list of {id, minutes, wait_min, people, means, wait_means, after, release_min}"),
            need("people", Kind::Positive, "how many people"),
            need("means", Kind::Object, "{name: number}"),
            may("seconds", Kind::Number, "time it may take, 0.1 to 60 (2)"),
            may("seed", Kind::NotNegative, "seed (1)"),
        ],
        compute: plan_solve,
    },
];

fn press_trace(i: &Input) -> Result<Value> {
    let points = items(i, "points", &["travel_mm", "force_n"])?
        .iter()
        .map(|p| Ok((p.num("travel_mm")?, p.num("force_n")?)))
        .collect::<Result<Vec<_>>>()?;
    let t = trace::read(
        &points,
        i.num("d_mm", 1.0),
        i.num("expected_travel_mm", 1.0),
        (i.num("low_n", 0.0), i.num("high_n", 0.0)),
        i.maybe("pressure_mpa"),
        i.num("tolerance_mm", 0.3),
    )?;
    answer! { slope_n_mm: t.slope, knee_mm: t.knee.map(|k| k.0), force_at_knee_n: t.knee.map(|k| k.1), mu: t.mu, home: t.home, call: t.call.name() }
}

fn bush_closing(i: &Input) -> Result<Value> {
    let n = |f| i.num(f, 1.0);
    let p = bush::pressed(
        n("bore_mm"),
        n("outside_mm"),
        n("housing_outside_mm"),
        Micrometres(i.num("delta_um", 0.0)),
        i.material("bush_material", Material::TinBronze),
        i.material("housing_material", Material::GreyIron),
        i.maybe("closing_share"),
        (n("wanted_min_mm"), n("wanted_max_mm")),
        i.num("ream_max_um", 250.0),
    )?;
    let call = match p.call {
        BushCall::AsPressed => "as_pressed",
        BushCall::Ream => "ream",
        BushCall::TooLarge => "too_large",
        BushCall::TooSmall => "too_small",
    };
    answer! { pressure_mpa: p.pressure, closing_um: p.closing, bore_after_mm: p.bore_after, call: call, ream_um: p.ream }
}

fn pairs_match(i: &Input) -> Result<Value> {
    let (bushes, holes) = (needed(i, "bushes_mm")?, needed(i, "holes_mm")?);
    for (list, field) in [(&bushes, "bushes_mm"), (&holes, "holes_mm")] {
        expect(list.iter().all(|v| *v > 0.0), field, "a size is above 0")?;
    }
    let wanted = i.num("wanted_um", 0.0);
    let of = bush::pair(&bushes, &holes, Micrometres(wanted))?;
    let interference: Vec<f64> = bushes.iter().zip(&of).map(|(b, h)| (b - holes[*h]) * 1000.0).collect();
    let off: Vec<f64> = interference.iter().map(|x| (x - wanted).abs()).collect();
    answer! { holes: of.iter().map(|h| *h as f64).collect::<Vec<_>>(), interference_um: interference, worst_um: off.iter().copied().fold(0.0, f64::max), sum_um: off.iter().sum::<f64>() }
}

fn runin(i: &Input) -> Result<Value> {
    let log = items(i, "log", &["s", "c"])?.iter().map(|p| Ok((p.num("s")?, p.num("c")?))).collect::<Result<Vec<_>>>()?;
    let s = run_in::step(&log, Celsius(i.num("room_c", 20.0)), i.maybe("limit_c").map(Celsius))?;
    answer! {
        limit_c: s.limit, rise_k: s.rise.map(|r| r.0), jump: s.jump, end_c: s.end, will_exceed: s.will_exceed,
        call: match s.call { RunIn::Stop => "stop", RunIn::Next => "next", RunIn::Hold => "hold" },
    }
}

fn plan_solve(i: &Input) -> Result<Value> {
    let whole = |v: f64, field: &str| {
        expect(v.fract() == 0.0 && (0.0..=1e7).contains(&v), field, "expected whole numbers from 0")?;
        Ok::<u64, Refusal>(v as u64)
    };
    let seconds = i.num("seconds", 2.0);
    expect((0.1..=60.0).contains(&seconds), "seconds", "expected 0.1 to 60 seconds")?;
    let mut means = Names::default();
    let mut counts = Vec::new();
    for (name, v) in i.object("means").into_iter().flatten() {
        let n = v.as_f64().ok_or_else(|| Refusal::new("means", "expected whole numbers from 0"))?;
        means.number(name);
        counts.push(whole(n, "means")?);
    }
    let list = items(i, "tasks", &["id", "minutes", "wait_min", "people", "means", "wait_means", "after", "release_min"])?;
    let mut names = Names::default();
    for t in &list {
        let id = t.id()?;
        expect(names.find(&id).is_none(), "tasks", format!("the id {} stands twice", id.chars().take(40).collect::<String>()))?;
        names.number(&id);
    }
    let unknown = |what: &str| Refusal::new("tasks", format!("{} is not known", what.chars().take(40).collect::<String>()));
    let mut tasks = Vec::new();
    for t in &list {
        let use_of = |key: &str| t.texts(key)?.iter().map(|m| means.find(m).ok_or_else(|| unknown(m))).collect::<Result<Vec<_>>>();
        let number = |key: &str, default: f64| whole(t.maybe(key)?.unwrap_or(default), "tasks");
        tasks.push(Task {
            minutes: whole(t.num("minutes")?, "tasks")?,
            wait: number("wait_min", 0.0)?,
            people: number("people", 1.0)?,
            means: use_of("means")?,
            wait_means: use_of("wait_means")?,
            after: t.texts("after")?.iter().map(|a| names.find(a).ok_or_else(|| unknown(a))).collect::<Result<Vec<_>>>()?,
            release: number("release_min", 0.0)?,
        });
    }
    let p = plan::solve(&tasks, whole(i.num("people", 0.0), "people")?, &counts, seconds, whole(i.num("seed", 1.0), "seed")?)?;
    let starts: Map<String, Value> = names.list.iter().cloned().zip(p.starts.iter().map(|s| json!(s))).collect();
    Ok(json!({"starts": starts, "makespan_min": p.makespan, "lower_bound_min": p.lower_bound}))
}
