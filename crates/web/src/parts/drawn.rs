//! Which drawing stands beside an answer, and what of question and answer it shows.

mod schemes;

use ironseat_core::fit::heat::Cooling;
use ironseat_core::preload::{BallBearing, CONFORMITY, Class, Pair};
use ironseat_core::quantity::{Celsius, Millimetres, Newtons, Seconds, Units, show};
use ironseat_core::reckon::{shown, unit_in};
use ironseat_core::run_in;
use ironseat_drawing::{
    Around, Bar, Curve, LandMark, Rotor, Stairs, Window, around, bars, bolt_pattern, bolts, curve, land_marks, rotor,
    stairs, window,
};
use serde_json::{Map, Value};

/// Question and answer, by the names of the contract.
struct AskedAnswered<'a> {
    input: &'a Map<String, Value>,
    answer: &'a Map<String, Value>,
    units: Units,
}

impl AskedAnswered<'_> {
    fn given(&self, name: &str) -> Option<f64> {
        self.input.get(name)?.as_f64()
    }
    fn found(&self, name: &str) -> Option<f64> {
        self.answer.get(name)?.as_f64()
    }
    fn list(&self, name: &str) -> Option<Vec<f64>> {
        self.input.get(name)?.as_array()?.iter().map(Value::as_f64).collect()
    }
    /// Rows of a list as points.
    fn points(&self, list: &str, along: &str, up: &str) -> Option<Vec<(f64, f64)>> {
        let point = |p: &Value| Some((p[along].as_f64()?, p[up].as_f64()?));
        self.input.get(list)?.as_array()?.iter().map(point).collect()
    }
    fn said(&self, name: &str, v: f64) -> (f64, String) {
        let (number, unit) = shown(name, v, self.units);
        (v, if unit.is_empty() { number } else { format!("{number} {unit}") })
    }
    /// Angles as given, or equal steps from the top.
    fn angles(&self, count: usize) -> Vec<f64> {
        let equal = || (0..count).map(|k| k as f64 * 360.0 / count.max(1) as f64).collect();
        self.list("angles_deg").filter(|a| a.len() == count).unwrap_or_else(equal)
    }

    fn window(&self, name: &str, found: (&str, f64), ends: (f64, f64), u: f64, aim: Option<f64>) -> String {
        let w = Window {
            name: name.to_owned(),
            lo: self.said(found.0, ends.0),
            hi: self.said(found.0, ends.1),
            found: self.said(found.0, found.1),
            u,
            aim: aim.map(|a| self.said(found.0, a)),
        };
        window(&w, "answer")
    }

    fn sweep(&self) -> Option<String> {
        let readings = self.list("readings_um")?;
        let angles = self.angles(readings.len());
        let wave = |e: &str, deg: &str| Some((self.found(e)?, self.found(deg).unwrap_or(0.0)));
        let waves: Vec<(f64, f64)> = [wave("e1_um", "high_deg"), wave("e2_um", "e2_deg"), wave("e3_um", "e3_deg")]
            .into_iter()
            .flatten()
            .collect();
        let high = self.found("high_deg");
        let tir = self.said("tir_um", self.found("tir_um")?).1;
        let read = angles.into_iter().zip(readings).map(|(d, v)| (d, v, shown("r_um", v, self.units).0)).collect();
        let a = Around {
            name: "Readings around the circle".into(),
            read,
            zero: self.found("mean_um").unwrap_or(0.0),
            // Without all three the curve would not be the one that was fitted.
            waves: if self.found("e1_um").is_some() && self.answer.contains_key("e2_um") { waves } else { Vec::new() },
            spot: high.map(|h| (h, tir)),
            unit: "µm",
        };
        let times = [("once a turn", "e1_um"), ("twice", "e2_um"), ("three times", "e3_um")];
        let bar = |(name, e): (&str, &str)| {
            let value = self.found(e)?;
            Some(Bar { name: name.to_owned(), value, said: self.said(e, value).1 })
        };
        let list: Vec<Bar> = times.into_iter().filter_map(bar).collect();
        let below = if list.len() > 1 { bars(&list, "How often a turn it comes back", "waves") } else { String::new() };
        Some(around(&a, "answer") + &below)
    }

    fn gaps(&self) -> Option<String> {
        let gaps = self.list("gaps_mm")?;
        let angles = self.angles(gaps.len());
        let offset = self.found("offset_mm")?;
        let wide = self.found("offset_deg");
        let read = angles.into_iter().zip(gaps).map(|(d, v)| (d, v, shown("g_mm", v, self.units).0)).collect();
        let a = Around {
            name: "Gaps around the wheel".into(),
            read,
            zero: self.found("mean_mm")?,
            waves: wide.map_or_else(Vec::new, |w| vec![(offset, w)]),
            spot: wide.map(|w| (w, self.said("offset_mm", offset).1)),
            unit: "mm",
        };
        Some(around(&a, "answer"))
    }
}

impl AskedAnswered<'_> {
    /// How a ring cools, and where it grips.
    fn cooling(&self) -> Option<String> {
        let c = Cooling {
            env: Celsius::new(self.given("env_c")?).ok()?,
            first: Celsius::new(self.given("first_c")?).ok()?,
            tau: Seconds::new(self.found("tau_s")?).ok()?,
        };
        let grip = self.found("grip_s").zip(self.found("grip_c"));
        let end = self.found("near_shaft_s").unwrap_or(3.0 * c.tau.get()).max(grip.map_or(0.0, |g| 1.2 * g.0));
        let at = |k: usize| {
            let t = end * k as f64 / 60.0;
            Some((t, c.at(Seconds::new(t).ok()?).get()))
        };
        let v = Curve {
            name: "How it cools".into(),
            along: "time, s".into(),
            up: format!("temperature, {}", unit_in("env_c", Units::Metric)),
            points: (0..=60).map(at).collect::<Option<_>>()?,
            smooth: true,
            mark: grip.map(|(s, t)| {
                let after = show::clock(Seconds::of(s));
                (s, t, format!("grips after {after}, {}", self.said("grip_c", t).1))
            }),
            ..Curve::default()
        };
        Some(curve(&v, "answer"))
    }

    /// The rotor in the plane where it runs out most.
    fn rotor(&self) -> Option<String> {
        let row = |p: &Value| Some((p["z_mm"].as_f64()?, p["x_um"].as_f64()?, p["y_um"].as_f64()?));
        let mut list: Vec<(f64, f64, f64)> =
            self.input.get("stations")?.as_array()?.iter().map(row).collect::<Option<_>>()?;
        list.sort_by(|a, b| a.0.total_cmp(&b.0));
        let most = list.iter().max_by(|a, b| a.1.hypot(a.2).total_cmp(&b.1.hypot(b.2)))?;
        let far = most.1.hypot(most.2);
        let (ux, uy) = if far > 0.0 { (most.1 / far, most.2 / far) } else { (1.0, 0.0) };
        let out = |x: f64, y: f64| x * ux + y * uy;
        let line = |z: f64| {
            let of = |offset: &str, tilt: &str| Some(self.found(offset)? + self.found(tilt)? * z);
            Some(out(of("offset_x_um", "tilt_x_um_mm")?, of("offset_y_um", "tilt_y_um_mm")?))
        };
        let (first, last) = (list.first()?.0, list.last()?.0);
        let next = self.given("predict_z_mm").zip(self.found("predicted_tir_um")).and_then(|(z, tir)| {
            let place = show::join(show::size(Millimetres::new(z).ok()?, Millimetres::of(1.0), self.units));
            let words = format!("{} at {place}", self.said("predicted_tir_um", tir).1);
            Some((z, (tir / 2.0).copysign(line(z)?), words))
        });
        let cause = self.answer.get("cause").and_then(Value::as_str).unwrap_or_default().replace('_', " ");
        let r = Rotor {
            name: format!("The rotor as it runs: {cause}"),
            stations: list.iter().map(|s| (s.0, out(s.1, s.2))).collect(),
            line: [(first, line(first)?), (last, line(last)?)],
            next,
        };
        Some(rotor(&r, "answer"))
    }

    /// The land rolled out flat.
    fn land(&self) -> Option<String> {
        let (round, width) = (std::f64::consts::PI * self.given("d_mm")?, self.given("width_mm")?);
        let one = |m: &Value| {
            let (around, dial) = (m["around_mm"].as_f64()?, m["dial_um"].as_f64()?);
            let number = self.said("dial_um", dial).1;
            Some(LandMark {
                along: m["along_mm"].as_f64()?,
                wide: m["wide_mm"].as_f64()?,
                at_deg: m["at_deg"].as_f64().unwrap_or(0.0),
                around_deg: if around == 0.0 { 360.0 } else { around / round * 360.0 },
                raised: dial > 0.0,
                said: if dial > 0.0 { format!("+{number}") } else { number },
            })
        };
        let marks: Vec<LandMark> = self.input.get("marks")?.as_array()?.iter().map(one).collect::<Option<_>>()?;
        Some(land_marks(width, &marks, "Marks on the land", "answer"))
    }

    /// Lift over the turns of an expander, with the window that it should end in.
    fn expander(&self) -> Option<String> {
        let points = self.points("steps", "turns", "lift_um")?;
        let (first, last) = (points.first()?.0, points.last()?.0);
        let level = |name: &str| Some([first, last].map(|t| (t, self.found(name).unwrap_or(0.0))).to_vec());
        let c = Curve {
            name: "Lift while it is spread".into(),
            along: "turns in all".into(),
            up: format!("lift, {}", unit_in("lift_um", Units::Metric)),
            points,
            regions: vec![("right".into(), level("window_lo_um")?, level("window_hi_um")?)],
            ..Curve::default()
        };
        Some(curve(&c, "answer"))
    }

    /// Temperature over time with the speeds, and below it the plan with the present step.
    fn run_in(&self) -> Option<String> {
        let log = self.points("log", "s", "c")?;
        let mut began: Vec<f64> = self.list("began_s").unwrap_or_default();
        began.sort_by(f64::total_cmp);
        let (at, _) = run_in::present(&log, &began);
        let plan = self.plan();
        let rpm = |k: usize| plan.get(k).map_or_else(String::new, |p| format!("{:.0} rpm", p.rpm));
        let c = Curve {
            name: "Temperature while it runs in".into(),
            along: "time, s".into(),
            up: format!("temperature, {}", unit_in("limit_c", Units::Metric)),
            points: log,
            limit: self.found("limit_c").map(|l| self.said("limit_c", l)),
            changes: (1..).zip(began).take(at).map(|(k, s)| (s, rpm(k))).collect(),
            ..Curve::default()
        };
        let below = if plan.is_empty() { String::new() } else { speeds(&plan, Some(at)) };
        Some(curve(&c, "answer") + &below)
    }

    /// The steps of speed; none where the full speed is not said.
    fn plan(&self) -> Vec<run_in::Planned> {
        let steps = self.list("steps_pct");
        self.given("full_rpm").and_then(|full| run_in::plan(full, steps.as_deref()).ok()).unwrap_or_default()
    }

    fn ball_bearing(&self) -> Option<BallBearing> {
        let bearing = self.input.get("bearing")?;
        let of = |name: &str, usual: f64| bearing.get(name).and_then(Value::as_f64).unwrap_or(usual);
        BallBearing::new(
            of("z", 0.0),
            of("ball_mm", 0.0),
            of("pitch_mm", 0.0),
            of("angle_deg", 0.0),
            of("fi", CONFORMITY),
            of("fo", CONFORMITY),
        )
        .ok()
    }

    /// Outer load over shift: steep while both carry, and from lift-off on the left alone. Light, medium and heavy
    /// preload are stretches behind it.
    fn pair(&self, preload: f64, lift: f64) -> Option<String> {
        let count = |name: &str| self.given(name).map_or(1, |v| v as u32);
        let b = self.ball_bearing()?;
        let at = |n: f64| Some(Pair::new(b, count("n_left"), count("n_right"), Newtons::new(n).ok()?));
        let work = self.given("outer_n").zip(self.found("shift_um"));
        let outer = work.map_or(0.0, |w| w.0);
        let pair = at(preload)?;
        let lift = if lift > 0.0 { lift } else { pair.lift_off().get() };
        let largest = Newtons::new((1.3 * lift).max(1.15 * outer).max(1.0)).ok()?;
        let points = |p: &Pair| p.curve(largest, 60).into_iter().map(|(load, w)| (w.shift.get(), load.get())).collect();
        let c0 = self.given("c0_n").and_then(|c| Newtons::new(c).ok());
        let region = |(class, name): &(Class, &str)| {
            let (lo, hi) = class.window(c0?);
            Some(((*name).to_owned(), points(&at(lo.get())?), points(&at(hi.get())?)))
        };
        let v = Curve {
            name: "Outer load over shift".into(),
            along: format!("shift, {}", unit_in("shift_um", Units::Metric)),
            up: "outer load".into(),
            points: points(&pair),
            smooth: true,
            mark: work.map(|(outer, shift)| {
                let words = format!("{} under {}", self.said("shift_um", shift).1, self.said("outer_n", outer).1);
                (shift, outer, words)
            }),
            regions: Class::ALL.iter().filter_map(region).collect(),
            limit: Some((lift, format!("lift-off, {}", self.said("liftoff_n", lift).1))),
            ..Curve::default()
        };
        Some(curve(&v, "answer"))
    }
}

/// The steps of a run-in as stairs.
fn speeds(plan: &[run_in::Planned], at: Option<usize>) -> String {
    let steps = plan.iter().map(|p| (p.rpm, format!("{:.0}", p.rpm), format!("{} min", p.least_min))).collect();
    stairs(&Stairs { name: "Speeds, rpm, and how long each at least".into(), steps, at }, "plan")
}

/// The drawing of an answer; none where a drawing would say nothing that the figures do not.
#[expect(clippy::too_many_lines, reason = "an arm a drawing")]
pub fn drawn(name: &str, input: &Map<String, Value>, answer: &Map<String, Value>, units: Units) -> Option<String> {
    let q = AskedAnswered { input, answer, units };
    match name {
        "runout.sweep" | "runout.face" => q.sweep(),
        "gap.around" => q.gaps(),
        "torque.order" => {
            let order: Vec<u64> = answer.get("order")?.as_array()?.iter().filter_map(Value::as_u64).collect();
            Some(bolts(&order, "answer"))
        }
        "torque.pattern" => {
            let order: Vec<u64> = answer.get("order")?.as_array()?.iter().filter_map(Value::as_u64).collect();
            let places = q.points("bolts", "x_mm", "y_mm")?;
            Some(bolt_pattern(&places, &order, 460.0, 380.0, "answer"))
        }
        "press.trace" => {
            let points = q.points("points", "travel_mm", "force_n")?;
            let knee = q.found("knee_mm").zip(q.found("force_at_knee_n"));
            let end = q.given("expected_travel_mm").zip(q.given("low_n").zip(q.given("high_n")));
            let c = Curve {
                name: "Press trace".into(),
                along: format!("travel, {}", unit_in("travel_mm", units)),
                up: "force".into(),
                points,
                mark: knee.map(|(x, f)| (x, f, q.said("force_at_knee_n", f).1)),
                band: end.map(|(x, (lo, hi))| (x, lo, hi)),
                ..Curve::default()
            };
            Some(curve(&c, "answer"))
        }
        "runout.stations" => q.rotor(),
        "heat.cooling" => q.cooling(),
        "preload.pair" => q.pair(q.given("preload_n")?, q.found("liftoff_n")?),
        // Spacers, fits and heat that are slid move the curve of the pair that they make.
        "preload.spacers" => q.pair(q.found("preload_n").filter(|n| *n > 0.0)?, 0.0),
        "land.marks" => q.land(),
        "plain.expander" => q.expander(),
        "runin.plan" => Some(speeds(&q.plan(), None)),
        "runin.step" => q.run_in(),
        "seal.tilt" => {
            let depths = q.list("depths_mm")?;
            let angles = q.angles(depths.len());
            let read = angles.into_iter().zip(depths).map(|(d, v)| (d, v, shown("d_mm", v, units).0)).collect();
            let tilt = q.said("tilt_mm", q.found("tilt_mm")?).1;
            let a = Around {
                name: format!("Depths around the face, tilt {tilt}"),
                read,
                zero: q.found("mean_mm")?,
                waves: Vec::new(),
                spot: None,
                unit: "mm",
            };
            Some(around(&a, "answer"))
        }
        "float.shim" => {
            let ends = (q.given("lo_mm")?, q.given("hi_mm")?);
            let aim = q.given("aim_mm").unwrap_or(f64::midpoint(ends.0, ends.1));
            let u = q.given("u_mm").unwrap_or(0.0);
            Some(q.window("Float in its window", ("float_mm", q.found("float_mm")?), ends, u, Some(aim)))
        }
        "judge" => {
            let (lo, hi) = (q.given("lo")?, q.given("hi")?);
            Some(q.window(
                "Value in its limits",
                ("value", q.given("value")?),
                (lo, hi),
                q.given("u").unwrap_or(0.0),
                None,
            ))
        }
        "key.clearance" => {
            let (lo, hi) = (q.given("lo_mm")?, q.given("hi_mm")?);
            Some(q.window("Clearance over the key", ("clearance_mm", q.found("clearance_mm")?), (lo, hi), 0.0, None))
        }
        "thread.hand" => q.nut(),
        "torque.extension" => q.wrench(),
        "shim.stock" => q.leaves(),
        "plan.solve" => q.schedule(),
        "preload.bearing" => q.bearing(),
        "stack.chain" => q.shares(),
        "taper.nut" => q.nut_set(),
        "nut.slots" => q.nut_locks(),
        "runout.clocking" => q.clocking(),
        "readings.repeat" => q.repeats(),
        "vee.factor" => q.vee(),
        "fit.advise" => q.classes(),
        "bearing.read" => q.section(),
        "axial.two_shims" => q.shims(),
        "order.solve" => q.one_by_one("order", "In this order"),
        "order.back_out" => q.one_by_one("off", "What comes off, one after the other"),
        _ => q.figures(name),
    }
}
