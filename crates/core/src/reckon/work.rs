//! Names for pressing, bushes, run-in and the plan.

use super::Entry;
use super::declare::{
    Counts, List, Matter, NotNegative, Number, Numbers, Positive, Text, Texts, Whole, computation, takes,
};
use super::input::short;
use crate::fit::bush;
use crate::fit::{Material, trace};
use crate::order::Names;
use crate::plan::{self, Task};
use crate::quantity::{Celsius, Megapascals, Micrometres, Millimetres};
use crate::refusal::{Refusal, Result, expect};
use crate::run_in::{self, RunIn};
use std::collections::BTreeMap;

pub(super) static ENTRIES: [&Entry; 6] =
    [&press_trace::ENTRY, &bush_closing::ENTRY, &pairs_match::ENTRY, &speeds::ENTRY, &runin::ENTRY, &plan_solve::ENTRY];

takes! {
    /// Travel and force.
    pub(crate) struct PointIn {
        /// travel
        travel_mm: Number;
        /// force
        force_n: Number;
    }
}

computation! {
    /// Reads the force trace of a pressing.
    press_trace = "press.trace";
    formula "two least-squares lines; knee where they cross; mu = slope/(pi d p)";
    source "two-line least squares; friction from F = pi d x p mu, DIN 7190-1:2017";
    holds "one cylinder on one cylinder, even speed, force at the ring";
    takes {
        /// travel and force, travel rising
        points: List<PointIn>;
        /// joint
        d_mm: Positive;
        /// travel to the shoulder
        expected_travel_mm: Positive;
        /// lowest force at full travel
        low_n: NotNegative;
        /// highest
        high_n: NotNegative;
        /// contact pressure, for friction
        pressure_mpa: Option<Positive>;
        /// knee within
        [assumed] tolerance_mm: Positive = 0.3;
    }
    gives {
        /// rise of force
        slope_n_mm: f64;
        /// travel at the knee
        knee_mm: Option<f64>;
        /// force at the knee
        force_at_knee_n: Option<f64>;
        /// friction backed out
        mu: Option<f64>;
        /// whether the knee is where it should be
        home: bool;
        /// judgement
        ["cocked" "early" "loose" "home" "late" "not_home"] call: &'static str;
    }
    limits {
        "friction outside 0.03 to 0.3: look at pressure, sizes and gauge before believing it" => |_, a| a.mu.is_some_and(|m| !(0.03..=0.3).contains(&m));
    }
    example r#"{"points": [{"travel_mm": 1, "force_n": 400}, {"travel_mm": 2, "force_n": 800}, {"travel_mm": 3, "force_n": 1200}, {"travel_mm": 4, "force_n": 1600}, {"travel_mm": 5, "force_n": 2000}, {"travel_mm": 5.1, "force_n": 5000}, {"travel_mm": 5.2, "force_n": 8000}], "d_mm": 30, "expected_travel_mm": 5, "low_n": 1500, "high_n": 2500, "pressure_mpa": 40}"#;
}

fn press_trace(i: &press_trace::Takes) -> Result<press_trace::Gives> {
    let points: Vec<(f64, f64)> = i.points.iter().map(|p| (p.travel_mm, p.force_n)).collect();
    let t = trace::read(&points, i.d_mm, i.expected_travel_mm, (i.low_n, i.high_n), i.pressure_mpa, i.tolerance_mm)?;
    Ok(press_trace::Gives {
        slope_n_mm: t.slope,
        knee_mm: t.knee.map(|k| k.0),
        force_at_knee_n: t.knee.map(|k| k.1),
        mu: t.mu,
        home: t.home,
        call: t.call.name(),
    })
}

computation! {
    /// Bore of a pressed bush, and what to ream.
    bush_closing = "bush.closing";
    formula "closing = 2 p d_o2 d_i/(E (d_o2 - d_i2)), or a share of delta";
    source "Lamé, as in DIN 7190-1:2017";
    holds "even pressure over the whole length; split and flanged bushes close less evenly";
    takes {
        /// bore before
        bore_mm: Positive;
        /// outside
        outside_mm: Positive;
        /// housing
        housing_outside_mm: Positive;
        /// effective interference
        delta_um: NotNegative;
        /// bush
        [assumed] bush_material: Matter = Material::TinBronze;
        /// housing
        [assumed] housing_material: Matter = Material::GreyIron;
        /// share of delta instead of Lamé
        [assumed] closing_share: Option<Number>;
        /// smallest wanted bore
        wanted_min_mm: Positive;
        /// largest
        wanted_max_mm: Positive;
        /// most a hand reamer takes; 0: no reaming
        [assumed] ream_max_um: NotNegative = 250.0;
        /// yield of the bush
        [assumed] bush_yield_mpa: Option<Positive> = "of its material";
        /// yield of the housing
        [assumed] housing_yield_mpa: Option<Positive> = "of its material";
    }
    gives {
        /// contact pressure
        pressure_mpa: Megapascals;
        /// closing of the bore
        closing_um: Micrometres;
        /// bore once pressed
        bore_after_mm: Millimetres;
        /// judgement
        ["as_pressed" "ream" "too_large" "too_small"] call: &'static str;
        /// to be reamed
        ream_um: Option<Micrometres>;
        /// Tresca stress of the bush over its yield
        bush_yield_share: f64;
        /// Tresca stress of the housing over its yield
        housing_yield_share: f64;
        /// warn from 0.7 of yield, stop beyond it
        ["go" "warn" "stop"] stress_call: &'static str;
    }
    limits {
        "thin sintered bushes usually close by 70 to 100 % of the interference: this is less, give closing_share from the shop's own bushes" => |i, a| i.bush_material == Material::SinteredBronze && i.closing_share.is_none() && a.closing_um.0 < 0.7 * i.delta_um;
        "wall thicker than a quarter of the bore: the closing is reckoned for an even pressure over the whole length" => |i, _| i.outside_mm - i.bore_mm > 0.5 * i.bore_mm;
    }
    example r#"{"bore_mm": 20, "outside_mm": 26, "housing_outside_mm": 60, "delta_um": 30, "wanted_min_mm": 20.0, "wanted_max_mm": 20.021}"#;
}

fn bush_closing(i: &bush_closing::Takes) -> Result<bush_closing::Gives> {
    let p = bush::pressed(
        i.bore_mm,
        i.outside_mm,
        i.housing_outside_mm,
        Micrometres(i.delta_um),
        i.bush_material,
        i.housing_material,
        i.closing_share,
        (i.wanted_min_mm, i.wanted_max_mm),
        i.ream_max_um,
        (i.bush_yield_mpa, i.housing_yield_mpa),
    )?;
    Ok(bush_closing::Gives {
        pressure_mpa: p.pressure,
        closing_um: p.closing,
        bore_after_mm: p.bore_after,
        call: p.call.name(),
        ream_um: p.ream,
        bush_yield_share: p.stress.shaft_share,
        housing_yield_share: p.stress.hub_share,
        stress_call: p.stress.call.name(),
    })
}

computation! {
    /// Which bush goes into which hole.
    pairs_match = "pairs.match";
    formula "least worst |interference - wanted|, then least sum";
    source "linear bottleneck and sum assignment: Burkard, Dell'Amico, Martello, Assignment Problems, chapters 4 and 6";
    holds "round parts, sizes at one temperature";
    takes {
        /// outsides
        bushes_mm: Numbers;
        /// holes
        holes_mm: Numbers;
        /// wanted interference
        wanted_um: Number;
    }
    gives {
        /// hole of each bush, from 0
        holes: Vec<f64>;
        /// interference of each
        interference_um: Vec<f64>;
        /// largest deviation
        worst_um: f64;
        /// sum of deviations
        sum_um: f64;
    }
    example r#"{"bushes_mm": [20.030, 20.036], "holes_mm": [20.001, 20.006], "wanted_um": 30}"#;
}

fn pairs_match(i: &pairs_match::Takes) -> Result<pairs_match::Gives> {
    let (bushes, holes) = (&i.bushes_mm, &i.holes_mm);
    for (list, field) in [(bushes, "bushes_mm"), (holes, "holes_mm")] {
        expect(list.iter().all(|v| *v > 0.0), field, "a size is above 0")?;
    }
    let wanted = i.wanted_um;
    let of = bush::pair(bushes, holes, Micrometres(wanted))?;
    let interference: Vec<f64> = bushes.iter().zip(&of).map(|(b, h)| (b - holes[*h]) * 1000.0).collect();
    let off: Vec<f64> = interference.iter().map(|x| (x - wanted).abs()).collect();
    Ok(pairs_match::Gives {
        holes: of.iter().map(|h| *h as f64).collect::<Vec<_>>(),
        interference_um: interference,
        worst_um: off.iter().copied().fold(0.0, f64::max),
        sum_um: off.iter().sum::<f64>(),
    })
}

takes! {
    /// A temperature and its time.
    pub(crate) struct LogIn {
        /// time
        s: Number;
        /// temperature
        c: Number;
    }
}

computation! {
    /// Speeds of a run-in, and how long each is held at least.
    speeds = "runin.plan";
    formula "speed = share x full speed; 20 min, 30 min from half the speed on, and then until the rise is below 1 K in 10 min";
    source "usual practice of grease run-in; the least times are ours";
    holds "the maker's plan comes first";
    takes {
        /// full speed, rpm
        full_rpm: Positive;
        /// shares of it, step by step
        [assumed] steps_pct: Option<Numbers> = "15, 30, 45, 60, 80, 100";
    }
    gives {
        /// shares of the full speed
        pct: Vec<f64>;
        /// speed of each step, rpm
        rpm: Vec<f64>;
        /// each is held at least
        least_min: Vec<u64>;
        /// all of them together at least
        total_min: u64;
    }
    example r#"{"full_rpm": 8000}"#;
}

fn speeds(i: &speeds::Takes) -> Result<speeds::Gives> {
    let plan = run_in::plan(i.full_rpm, i.steps_pct.as_deref())?;
    Ok(speeds::Gives {
        pct: plan.iter().map(|p| p.pct).collect(),
        rpm: plan.iter().map(|p| p.rpm).collect(),
        least_min: plan.iter().map(|p| p.least_min).collect(),
        total_min: plan.iter().map(|p| p.least_min).sum(),
    })
}

computation! {
    /// Whether a run-in step may go on.
    runin = "runin.step";
    formula "rise over 10 min; exponential end by least squares";
    source "lumped capacitance; settled when the rise in ten minutes is below 1 K, as grease run-in is done";
    holds "one speed since it was raised last, a sensor at the outer ring";
    takes {
        /// time and temperature, time rising
        log: List<LogIn>;
        /// room
        room_c: Number;
        /// limit
        [assumed] limit_c: Option<Number> = "lower of 60 and room + 35";
        /// times at which the speed was raised
        began_s: Numbers = [];
        /// full speed, rpm
        full_rpm: Option<Positive>;
        /// shares of it, step by step
        steps_pct: Option<Numbers>;
    }
    gives {
        /// limit
        limit_c: Celsius;
        /// rise in the last ten minutes
        rise_k: Option<f64>;
        /// whether it jumped
        jump: bool;
        /// temperature it tends to
        end_c: Option<Celsius>;
        /// whether that is over the limit
        will_exceed: bool;
        /// speed now, rpm
        rpm: Option<f64>;
        /// speed to go to, rpm; after a stop once it has cooled
        next_rpm: Option<f64>;
        /// this speed was held so far
        held_min: f64;
        /// it is to be held at least
        least_min: Option<u64>;
        /// judgement
        ["stop" "hold" "look_again" "next"] call: &'static str;
    }
    limits {
        "the end temperature cannot be told yet" => |_, a| a.end_c.is_none();
    }
    example r#"{"log": [{"s": 0, "c": 24}, {"s": 300, "c": 31}, {"s": 600, "c": 35}, {"s": 900, "c": 37.4}, {"s": 1200, "c": 38.8}], "room_c": 22}"#;
}

fn runin(i: &runin::Takes) -> Result<runin::Gives> {
    let log: Vec<(f64, f64)> = i.log.iter().map(|p| (p.s, p.c)).collect();
    let (at, since) = run_in::present(&log, &i.began_s);
    let s = run_in::step(&log, since, Celsius(i.room_c), i.limit_c.map(Celsius))?;
    let plan = match i.full_rpm {
        Some(full) => run_in::plan(full, i.steps_pct.as_deref())?,
        None => Vec::new(),
    };
    let more = "expected no more changes of speed than the plan has steps after the first";
    expect(plan.is_empty() || at < plan.len(), "began_s", more)?;
    let rpm = |k: usize| plan.get(k).map(|p| p.rpm);
    Ok(runin::Gives {
        rpm: rpm(at),
        next_rpm: run_in::goes_to(at, s.call, plan.len()).and_then(rpm),
        held_min: (log[log.len() - 1].0 - log[since].0) / 60.0,
        least_min: plan.get(at).map(|p| p.least_min),
        limit_c: s.limit,
        rise_k: s.rise.map(|r| r.0),
        jump: s.jump,
        end_c: s.end,
        will_exceed: s.will_exceed,
        call: match s.call {
            RunIn::Stop => "stop",
            RunIn::Next => "next",
            RunIn::Hold => "hold",
            RunIn::LookAgain => "look_again",
        },
    })
}

takes! {
    /// A task: hands, then a wait.
    pub(crate) struct TaskIn {
        /// its name
        id: Text;
        /// hands-on time, minutes
        minutes: Whole<0, 10_000_000>;
        /// passive wait after it
        wait_min: Whole<0, 10_000_000> = 0;
        /// hands it needs
        people: Whole<0, 10_000_000> = 1;
        /// means held with the hands
        means: Texts = [];
        /// means held during the wait
        wait_means: Texts = [];
        /// tasks that must have ended
        after: Texts = [];
        /// not before
        release_min: Whole<0, 10_000_000> = 0;
    }
}

computation! {
    /// A schedule of people, means and waits.
    plan_solve = "plan.solve";
    formula "serial generation with local search; on the critical path for job shops";
    source "serial schedule generation: Kolisch and Hartmann, in Project Scheduling; job shops by Nowicki and Smutnicki's neighbourhood (Management Science 42, 1996)";
    holds "whole minutes, hands are not interrupted";
    takes {
        /// what is to be done
        tasks: List<TaskIn>;
        /// how many people
        people: Whole<1, 10_000_000>;
        /// means, and how many there are of each
        means: Counts = [];
        /// seconds that the search may take, 0.1 to 60
        seconds: Number = 2.0;
        /// seed
        seed: Whole<0, 9_000_000_000_000_000> = 1;
    }
    gives {
        /// start of each task, in minutes
        starts: BTreeMap<String, u64>;
        /// end of everything
        makespan_min: u64;
        /// no plan can end before
        lower_bound_min: u64;
    }
    example r#"{"tasks": [{"id": "heat", "minutes": 5, "wait_min": 20, "wait_means": ["heater"]}, {"id": "mount", "minutes": 10, "after": ["heat"]}, {"id": "measure", "minutes": 15}], "people": 1, "means": {"heater": 1}, "seconds": 0.1}"#;
}

fn plan_solve(i: &plan_solve::Takes) -> Result<plan_solve::Gives> {
    let begun = std::time::Instant::now();
    let seconds = i.seconds;
    expect((0.1..=60.0).contains(&seconds), "seconds", "expected 0.1 to 60 seconds")?;
    let mut means = Names::default();
    let mut counts = Vec::new();
    for (name, n) in &i.means {
        expect(n.fract() == 0.0 && (0.0..=1e7).contains(n), "means", "expected whole numbers from 0")?;
        means.number(name);
        counts.push(*n as u64);
    }
    let mut names = Names::default();
    for t in &i.tasks {
        let id = t.id.as_str();
        expect(!id.is_empty(), "tasks", "each one needs a name")?;
        expect(names.find(id).is_none(), "tasks", format!("the name {} stands twice", short(id)))?;
        names.number(id);
    }
    let known = |names: &Names, what: &[String]| {
        let find =
            |w: &String| names.find(w).ok_or_else(|| Refusal::new("tasks", format!("{} is not known", short(w))));
        what.iter().map(find).collect::<Result<Vec<_>>>()
    };
    let mut tasks = Vec::new();
    for t in &i.tasks {
        tasks.push(Task {
            minutes: t.minutes,
            wait: t.wait_min,
            people: t.people,
            means: known(&means, &t.means)?,
            wait_means: known(&means, &t.wait_means)?,
            after: known(&names, &t.after)?,
            release: t.release_min,
        });
    }
    let p = plan::solve(&tasks, i.people, &counts, seconds - begun.elapsed().as_secs_f64(), i.seed)?;
    let starts: BTreeMap<String, u64> = names.list.iter().cloned().zip(p.starts.iter().copied()).collect();
    Ok(plan_solve::Gives { starts, makespan_min: p.makespan, lower_bound_min: p.lower_bound })
}
