//! Names for pressing, bushes, run-in and the plan.

use super::input::{guess, may, need, short};
use super::output::{Gives, gives, limit, number, or_null};
use super::{Answer, Entry, Input, Kind, answer};
use crate::fit::bush::{self, BushCall};
use crate::fit::{Material, trace};
use crate::order::Names;
use crate::plan::{self, Task};
use crate::quantity::{Celsius, Micrometres};
use crate::refusal::{Refusal, Result, expect};
use crate::run_in::{self, RunIn};
use serde_json::{Map, Value, json};

/// Whole minutes, and whole numbers of things.
const MINUTES: Kind = Kind::Whole(0, 10_000_000);

pub(super) static ENTRIES: [Entry; 5] = [
    Entry {
        name: "press.trace",
        purpose: "Reads the force trace of a pressing.",
        formula: "two least-squares lines; knee where they cross; mu = slope/(pi d p)",
        source: "least squares; handbook 03",
        fields: &[
            need(
                "points",
                Kind::Objects(&[need("travel_mm", Kind::Number, "travel"), need("force_n", Kind::Number, "force")]),
                "travel and force, travel rising",
            ),
            need("d_mm", Kind::Positive, "joint"),
            need("expected_travel_mm", Kind::Positive, "travel to the shoulder"),
            need("low_n", Kind::NotNegative, "lowest force at full travel"),
            need("high_n", Kind::NotNegative, "highest"),
            may("pressure_mpa", Kind::Positive, "contact pressure, for friction"),
            guess("tolerance_mm", Kind::Positive, "knee within (0.3)"),
        ],
        outputs: &[
            gives("slope_n_mm", Gives::Number, "rise of force"),
            or_null("knee_mm", Gives::Number, "travel at the knee"),
            or_null("force_at_knee_n", Gives::Number, "force there"),
            or_null("mu", Gives::Number, "friction backed out"),
            gives("home", Gives::Flag, "whether the knee is where it should be"),
            gives("call", Gives::Word(&["cocked", "early", "loose", "home", "late", "not_home"]), "judgement"),
        ],
        limits: &[limit("friction outside 0.03 to 0.3: look at pressure, sizes and gauge before believing it", |_, a| {
            number(a, "mu").is_some_and(|m| !(0.03..=0.3).contains(&m))
        })],
        example: r#"{"points": [{"travel_mm": 1, "force_n": 400}, {"travel_mm": 2, "force_n": 800}, {"travel_mm": 3, "force_n": 1200}, {"travel_mm": 4, "force_n": 1600}, {"travel_mm": 5, "force_n": 2000}, {"travel_mm": 5.1, "force_n": 5000}, {"travel_mm": 5.2, "force_n": 8000}], "d_mm": 30, "expected_travel_mm": 5, "low_n": 1500, "high_n": 2500, "pressure_mpa": 40}"#,
        compute: press_trace,
    },
    Entry {
        name: "bush.closing",
        purpose: "Bore of a pressed bush, and what to ream.",
        formula: "closing = 2 p d_o2 d_i/(E (d_o2 - d_i2)), or a share of delta",
        source: "Lamé; handbook 03",
        fields: &[
            need("bore_mm", Kind::Positive, "bore before"),
            need("outside_mm", Kind::Positive, "outside"),
            need("housing_outside_mm", Kind::Positive, "housing"),
            need("delta_um", Kind::NotNegative, "effective interference"),
            guess("bush_material", Kind::Material, "bush (tin_bronze)"),
            guess("housing_material", Kind::Material, "housing (grey_iron)"),
            guess("closing_share", Kind::Number, "share of delta instead of Lamé"),
            need("wanted_min_mm", Kind::Positive, "smallest wanted bore"),
            need("wanted_max_mm", Kind::Positive, "largest"),
            guess("ream_max_um", Kind::NotNegative, "most a hand reamer takes (250); 0: no reaming"),
            guess("bush_yield_mpa", Kind::Positive, "yield of the bush (of its material)"),
            guess("housing_yield_mpa", Kind::Positive, "yield of the housing (of its material)"),
        ],
        outputs: &[
            gives("pressure_mpa", Gives::Number, "contact pressure"),
            gives("closing_um", Gives::Number, "closing of the bore"),
            gives("bore_after_mm", Gives::Number, "bore once pressed"),
            gives("call", Gives::Word(&["as_pressed", "ream", "too_large", "too_small"]), "judgement"),
            or_null("ream_um", Gives::Number, "to be reamed"),
            gives("bush_yield_share", Gives::Number, "Tresca stress of the bush over its yield"),
            gives("housing_yield_share", Gives::Number, "of the housing"),
            gives("stress_call", Gives::Word(&["go", "warn", "stop"]), "warn from 0.7 of yield, stop beyond it"),
        ],
        limits: &[
            limit(
                "thin sintered bushes usually close by 70 to 100 % of the interference: this is less, give closing_share from the shop's own bushes",
                |i, a| {
                    i.text("bush_material", "") == "sintered_bronze"
                        && !i.has("closing_share")
                        && number(a, "closing_um").is_some_and(|c| c < 0.7 * i.num("delta_um", 0.0))
                },
            ),
            limit("wall thicker than a quarter of the bore: the closing is reckoned for an even pressure over the whole length", |i, _| {
                i.num("outside_mm", 0.0) - i.num("bore_mm", 0.0) > 0.5 * i.num("bore_mm", 1.0)
            }),
        ],
        example: r#"{"bore_mm": 20, "outside_mm": 26, "housing_outside_mm": 60, "delta_um": 30, "wanted_min_mm": 20.0, "wanted_max_mm": 20.021}"#,
        compute: bush_closing,
    },
    Entry {
        name: "pairs.match",
        purpose: "Which bush goes into which hole.",
        formula: "least worst |interference - wanted|, then least sum",
        source: "assignment; handbook 03",
        fields: &[
            need("bushes_mm", Kind::Numbers, "outsides"),
            need("holes_mm", Kind::Numbers, "holes"),
            need("wanted_um", Kind::Number, "wanted interference"),
        ],
        outputs: &[
            gives("holes", Gives::Numbers, "hole of each bush, from 0"),
            gives("interference_um", Gives::Numbers, "interference of each"),
            gives("worst_um", Gives::Number, "largest deviation"),
            gives("sum_um", Gives::Number, "sum of deviations"),
        ],
        limits: &[],
        example: r#"{"bushes_mm": [20.030, 20.036], "holes_mm": [20.001, 20.006], "wanted_um": 30}"#,
        compute: pairs_match,
    },
    Entry {
        name: "runin.step",
        purpose: "Whether a run-in step may go on.",
        formula: "rise over 10 min; exponential end by least squares",
        source: "handbook 06",
        fields: &[
            need(
                "log",
                Kind::Objects(&[need("s", Kind::Number, "time"), need("c", Kind::Number, "temperature")]),
                "time and temperature, time rising",
            ),
            need("room_c", Kind::Number, "room"),
            guess("limit_c", Kind::Number, "limit (lower of 60 and room + 35)"),
        ],
        outputs: &[
            gives("limit_c", Gives::Number, "limit"),
            or_null("rise_k", Gives::Number, "rise in the last ten minutes"),
            gives("jump", Gives::Flag, "whether it jumped"),
            or_null("end_c", Gives::Number, "temperature it tends to"),
            gives("will_exceed", Gives::Flag, "whether that is over the limit"),
            gives("call", Gives::Word(&["stop", "hold", "look_again", "next"]), "judgement"),
        ],
        limits: &[limit("the end temperature cannot be told yet", |_, a| a.get("end_c").is_some_and(Value::is_null))],
        example: r#"{"log": [{"s": 0, "c": 24}, {"s": 300, "c": 31}, {"s": 600, "c": 35}, {"s": 900, "c": 37.4}, {"s": 1200, "c": 38.8}], "room_c": 22}"#,
        compute: runin,
    },
    Entry {
        name: "plan.solve",
        purpose: "A schedule of people, means and waits.",
        formula: "serial generation with local search; on the critical path for job shops",
        source: "serial generation with annealing; handbook 10",
        fields: &[
            need(
                "tasks",
                Kind::Objects(&[
                    need("id", Kind::Text, "its id"),
                    need("minutes", MINUTES, "hands-on time"),
                    may("wait_min", MINUTES, "passive wait after it (0)"),
                    may("people", MINUTES, "hands it needs (1)"),
                    may("means", Kind::Texts, "means held with the hands"),
                    may("wait_means", Kind::Texts, "means held during the wait"),
                    may("after", Kind::Texts, "tasks that must have ended"),
                    may("release_min", MINUTES, "not before (0)"),
                ]),
                "what is to be done",
            ),
            need("people", Kind::Whole(1, 10_000_000), "how many people"),
            need("means", Kind::Counts, "how many there are of each"),
            may("seconds", Kind::Number, "time it may take, 0.1 to 60 (2)"),
            may("seed", Kind::Whole(0, 9_000_000_000_000_000), "seed (1)"),
        ],
        outputs: &[
            gives("starts", Gives::Counts, "start of each task, in minutes"),
            gives("makespan_min", Gives::Number, "end of everything"),
            gives("lower_bound_min", Gives::Number, "no plan can end before"),
        ],
        limits: &[],
        example: r#"{"tasks": [{"id": "heat", "minutes": 5, "wait_min": 20, "wait_means": ["heater"]}, {"id": "mount", "minutes": 10, "after": ["heat"]}, {"id": "measure", "minutes": 15}], "people": 1, "means": {"heater": 1}, "seconds": 0.1}"#,
        compute: plan_solve,
    },
];

fn press_trace(i: &Input) -> Answer {
    let points: Vec<(f64, f64)> = i.items("points").iter().map(|p| (p.num("travel_mm", 0.0), p.num("force_n", 0.0))).collect();
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

fn bush_closing(i: &Input) -> Answer {
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
        (i.maybe("bush_yield_mpa"), i.maybe("housing_yield_mpa")),
    )?;
    let call = match p.call {
        BushCall::AsPressed => "as_pressed",
        BushCall::Ream => "ream",
        BushCall::TooLarge => "too_large",
        BushCall::TooSmall => "too_small",
    };
    answer! { pressure_mpa: p.pressure, closing_um: p.closing, bore_after_mm: p.bore_after, call: call, ream_um: p.ream,
    bush_yield_share: p.stress.shaft_share, housing_yield_share: p.stress.hub_share, stress_call: p.stress.call.name() }
}

fn pairs_match(i: &Input) -> Answer {
    let (bushes, holes) = (i.numbers("bushes_mm"), i.numbers("holes_mm"));
    for (list, field) in [(&bushes, "bushes_mm"), (&holes, "holes_mm")] {
        expect(list.iter().all(|v| *v > 0.0), field, "a size is above 0")?;
    }
    let wanted = i.num("wanted_um", 0.0);
    let of = bush::pair(&bushes, &holes, Micrometres(wanted))?;
    let interference: Vec<f64> = bushes.iter().zip(&of).map(|(b, h)| (b - holes[*h]) * 1000.0).collect();
    let off: Vec<f64> = interference.iter().map(|x| (x - wanted).abs()).collect();
    answer! { holes: of.iter().map(|h| *h as f64).collect::<Vec<_>>(), interference_um: interference, worst_um: off.iter().copied().fold(0.0, f64::max), sum_um: off.iter().sum::<f64>() }
}

fn runin(i: &Input) -> Answer {
    let log: Vec<(f64, f64)> = i.items("log").iter().map(|p| (p.num("s", 0.0), p.num("c", 0.0))).collect();
    let s = run_in::step(&log, Celsius(i.num("room_c", 20.0)), i.maybe("limit_c").map(Celsius))?;
    answer! {
        limit_c: s.limit, rise_k: s.rise.map(|r| r.0), jump: s.jump, end_c: s.end, will_exceed: s.will_exceed,
        call: match s.call { RunIn::Stop => "stop", RunIn::Next => "next", RunIn::Hold => "hold", RunIn::LookAgain => "look_again" },
    }
}

fn plan_solve(i: &Input) -> Answer {
    let begun = std::time::Instant::now();
    let seconds = i.num("seconds", 2.0);
    expect((0.1..=60.0).contains(&seconds), "seconds", "expected 0.1 to 60 seconds")?;
    let mut means = Names::default();
    let mut counts = Vec::new();
    for (name, n) in i.counts("means") {
        expect(n.fract() == 0.0 && (0.0..=1e7).contains(&n), "means", "expected whole numbers from 0")?;
        means.number(name);
        counts.push(n as u64);
    }
    let list = i.items("tasks");
    let mut names = Names::default();
    for t in &list {
        let id = t.text("id", "");
        expect(!id.is_empty(), "tasks", "each one needs an id")?;
        expect(names.find(id).is_none(), "tasks", format!("the id {} stands twice", short(id)))?;
        names.number(id);
    }
    let known = |names: &Names, what: Vec<&str>| {
        let find = |w: &&str| names.find(w).ok_or_else(|| Refusal::new("tasks", format!("{} is not known", short(w))));
        what.iter().map(find).collect::<Result<Vec<_>>>()
    };
    let mut tasks = Vec::new();
    for t in &list {
        tasks.push(Task {
            minutes: t.whole("minutes", 0),
            wait: t.whole("wait_min", 0),
            people: t.whole("people", 1),
            means: known(&means, t.texts("means"))?,
            wait_means: known(&means, t.texts("wait_means"))?,
            after: known(&names, t.texts("after"))?,
            release: t.whole("release_min", 0),
        });
    }
    let p = plan::solve(&tasks, i.whole("people", 1), &counts, seconds - begun.elapsed().as_secs_f64(), i.whole("seed", 1))?;
    let starts: Map<String, Value> = names.list.iter().cloned().zip(p.starts.iter().map(|s| json!(s))).collect();
    answer! { starts: Value::Object(starts), makespan_min: json!(p.makespan), lower_bound_min: json!(p.lower_bound) }
}
