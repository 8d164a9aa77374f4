//! Figures beside each other, nuts, wrenches, leaves, plans and classes: what is drawn of an answer that is no reading.

use crate::parts::drawn::AskedAnswered;
use ironseat_core::fit::iso286;
use ironseat_core::quantity::{Micrometres, Millimetres, Units, show};
use ironseat_core::reckon::{entry, reckon, unit_in};
use ironseat_core::rotation::vee_factor;
use ironseat_drawing::{
    Bar, Curve, Planned, Turn, Wrench, bars, curve, leaves, nut_turns, plan, ring_section, sequence, turn, wrench,
};
use serde_json::{Map, Value};

impl AskedAnswered<'_> {
    pub(super) fn word(&self, from: &Map<String, Value>, name: &str) -> Option<String> {
        from.get(name)?.as_str().map(str::to_owned)
    }

    pub(super) fn nut(&self) -> Option<String> {
        let cw = self.word(self.input, "rotation")? == "cw";
        let from_nut = self.word(self.input, "seen_from")? == "nut_end";
        let hand = self.word(self.answer, "wanted")?;
        Some(nut_turns(cw == from_nut, self.word(self.answer, "loosen")? == "cw", &hand, "answer"))
    }

    pub(super) fn wrench(&self) -> Option<String> {
        let long = |name: &str| {
            let v = self.given(name)?;
            Some((v, show::join(show::size(Millimetres::new(v).ok()?, Millimetres::of(1.0), self.units))))
        };
        let v = Wrench {
            wrench: long("wrench_mm")?,
            extension: long("extension_mm")?,
            angle_deg: self.given("angle_deg").unwrap_or(0.0),
            bolt: self.said("torque_nm", self.given("torque_nm")?).1,
            setting: self.said("setting_nm", self.found("setting_nm")?).1,
        };
        Some(wrench(&v, "answer"))
    }

    pub(super) fn leaves(&self) -> Option<String> {
        let list = self.answer.get("leaves_um")?.as_array()?;
        let all: Vec<(f64, String)> = list.iter().filter_map(Value::as_f64).map(|v| self.said("leaf_um", v)).collect();
        let whole = self.said("total_um", self.found("total_um")?).1;
        (!all.is_empty()).then(|| leaves(&all, &whole, "answer"))
    }

    pub(super) fn schedule(&self) -> Option<String> {
        let starts = self.answer.get("starts")?.as_object()?;
        let one = |t: &Value| {
            let id = t["id"].as_str()?;
            let minutes = |k: &str| t[k].as_f64().unwrap_or(0.0);
            let start = starts.get(id)?.as_f64()?;
            Some(Planned { name: id.to_owned(), start, minutes: minutes("minutes"), wait: minutes("wait_min") })
        };
        let mut tasks: Vec<Planned> = self.input.get("tasks")?.as_array()?.iter().filter_map(one).collect();
        tasks.sort_by(|a, b| a.start.total_cmp(&b.start));
        (!tasks.is_empty()).then(|| plan(&tasks, "answer"))
    }

    /// The load of a bearing over the way that it is pushed.
    pub(super) fn bearing(&self) -> Option<String> {
        let b = self.ball_bearing()?;
        let (at, load) = (self.found("approach_um")?, self.found("fa_n")?);
        let point = |k: u32| {
            let um = 1.4 * at * f64::from(k) / 60.0;
            (um, b.load(Micrometres::of(um)).get())
        };
        let c = Curve {
            name: "Load over approach".into(),
            along: format!("approach, {}", unit_in("approach_um", Units::Metric)),
            up: "axial load".into(),
            points: (0..=60).map(point).collect(),
            smooth: true,
            mark: Some((at, load, format!("{} at {}", self.said("fa_n", load).1, self.said("approach_um", at).1))),
            ..Curve::default()
        };
        (at > 0.0).then(|| curve(&c, "answer"))
    }

    /// How much each link of a chain of sizes has of its scatter.
    pub(super) fn shares(&self) -> Option<String> {
        let links = self.input.get("links")?.as_array()?;
        let one = |(k, v): (usize, &Value)| {
            let pct = v.as_f64()? * 100.0;
            let own = links.get(k).and_then(|l| l["nominal_mm"].as_f64()).map(|n| self.said("nominal_mm", n).1);
            let name = format!("link {}, {}", k + 1, own.unwrap_or_default());
            Some(Bar { name, value: pct, said: format!("{pct:.0} %") })
        };
        let list: Vec<Bar> = self.answer.get("shares")?.as_array()?.iter().enumerate().filter_map(one).collect();
        (2..=10).contains(&list.len()).then(|| bars(&list, "Share of each link in the scatter", "answer"))
    }

    /// The turn of a nut that sets a float, with the locks beside it.
    pub(super) fn nut_set(&self) -> Option<String> {
        let leaves = |deg: f64, mm: f64| format!("{deg:.1}° leaves {}", self.said("float_mm", mm).1);
        let lock = |deg: &str, mm: &str| {
            let (deg, mm) = (self.found(deg)?, self.found(mm)?);
            Some((deg, leaves(deg, mm)))
        };
        let aim = self.found("turn_deg").zip(self.given("aim_mm"));
        let locks = [lock("lock_before_deg", "float_before_mm"), lock("lock_after_deg", "float_after_mm")];
        let v = Turn {
            aim: aim.map(|(deg, mm)| (deg, format!("aim, {}", leaves(deg, mm)))),
            locks: locks.into_iter().flatten().collect(),
        };
        Some(turn(&v, "answer"))
    }

    /// The next locks of a nut.
    pub(super) fn nut_locks(&self) -> Option<String> {
        let numbers = |name: &str| -> Vec<f64> {
            self.answer.get(name).and_then(Value::as_array).into_iter().flatten().filter_map(Value::as_f64).collect()
        };
        let (turns, floats, advances) = (numbers("turns_deg"), numbers("floats_mm"), numbers("advances_um"));
        let said = |k: usize, deg: f64| match (floats.get(k), advances.get(k)) {
            (Some(mm), _) => format!("{deg:.1}° leaves {}", self.said("float_mm", *mm).1),
            (_, Some(um)) => format!("{deg:.1}° goes on {}", self.said("advance_um", *um).1),
            _ => format!("{deg:.1}°"),
        };
        let locks = turns.iter().take(5).enumerate().map(|(k, deg)| (*deg, said(k, *deg))).collect();
        (!turns.is_empty()).then(|| turn(&Turn { aim: None, locks }, "answer"))
    }

    /// Runout of the nose over the angle between the marks of its bearings.
    pub(super) fn clocking(&self) -> Option<String> {
        let at = |deg: f64| {
            let mut asked = self.input.clone();
            asked.insert("present_deg".into(), deg.into());
            let a = reckon("runout.clocking", &Value::Object(asked).to_string()).ok()?;
            Some((deg, a["present_tir_um"].as_f64()?))
        };
        let (best, least) = (self.found("best_deg")?, self.found("best_tir_um")?);
        let now = self.given("present_deg").unwrap_or(180.0).rem_euclid(360.0);
        let c = Curve {
            name: "Runout of the nose".into(),
            along: "angle between the marks, degrees".into(),
            up: format!("runout, {}", unit_in("best_tir_um", Units::Metric)),
            points: (0..=72).map(|k| at(f64::from(k) * 5.0)).collect::<Option<_>>()?,
            smooth: true,
            mark: Some((best, least, format!("{} at {best:.0}°", self.said("best_tir_um", least).1))),
            changes: vec![(now, "now".to_owned())],
            ..Curve::default()
        };
        Some(curve(&c, "answer"))
    }

    /// Readings of one size, each by how far it lies off their mean.
    pub(super) fn repeats(&self) -> Option<String> {
        let mean = self.found("mean_mm")?;
        let bar = |(k, r): (usize, f64)| {
            let off = (r - mean) * 1000.0;
            Bar { name: format!("reading {}", k + 1), value: off, said: self.said("off_um", off).1 }
        };
        let list: Vec<Bar> = self.list("readings_mm")?.into_iter().enumerate().map(bar).collect();
        (2..=12).contains(&list.len()).then(|| bars(&list, "Readings beside their mean", "answer"))
    }

    /// What a vee shows of each number of lobes.
    pub(super) fn vee(&self) -> Option<String> {
        let angle = self.given("angle_deg")?;
        let bar = |n: u32| {
            let factor = vee_factor(angle, n).ok()?;
            let name = if self.given("lobes") == Some(f64::from(n)) {
                format!("{n} lobes: asked")
            } else {
                format!("{n} lobes")
            };
            Some(Bar { name, value: factor, said: format!("{factor:.2}") })
        };
        Some(bars(&(2..=10).filter_map(bar).collect::<Vec<_>>(), "What this vee shows of lobes", "answer"))
    }

    /// The classes that are advised, at this bore.
    pub(super) fn classes(&self) -> Option<String> {
        let d = Millimetres::new(self.given("d_mm")?).ok()?;
        let of = |name: &str, what: &str| {
            let class = self.answer.get(name)?.as_str()?;
            let l = iso286::limits(d, class).ok()?;
            let bar = |end: &str, v: Micrometres| Bar {
                name: format!("{what} {class}, {end}"),
                value: v.get(),
                said: self.said("end_um", v.get()).1,
            };
            Some([bar("least", l.lower), bar("most", l.upper)])
        };
        let all: Vec<Bar> = of("shaft", "journal").into_iter().chain(of("housing", "bore")).flatten().collect();
        (!all.is_empty()).then(|| bars(&all, "The classes at this size", "answer"))
    }

    /// The section of a rolling bearing, to scale.
    pub(super) fn section(&self) -> Option<String> {
        let (d, outer, width) = (self.found("d_mm")?, self.found("outer_mm")?, self.found("width_mm")?);
        let long = |v: f64| Some(show::join(show::size(Millimetres::new(v).ok()?, Millimetres::of(1.0), self.units)));
        let rolls = self.answer.get("type").and_then(Value::as_str).is_some_and(|t| t.contains("roller"));
        let said = [long(d)?, long(outer)?, long(width)?];
        (outer > d).then(|| ring_section((d, outer, width), rolls, &said, "answer"))
    }

    /// Parts one after the other, as they go on or come off.
    pub(super) fn one_by_one(&self, list: &str, name: &str) -> Option<String> {
        let all: Vec<&str> = self.answer.get(list)?.as_array()?.iter().filter_map(Value::as_str).collect();
        (!all.is_empty()).then(|| sequence(&all, name, "answer"))
    }

    /// What each shim changes by.
    pub(super) fn shims(&self) -> Option<String> {
        let bar = |(k, v): (usize, &Value)| {
            let v = v.as_f64()?;
            Some(Bar { name: format!("shim {}", k + 1), value: v, said: self.said("change_mm", v).1 })
        };
        let list: Vec<Bar> = self.answer.get("change_mm")?.as_array()?.iter().enumerate().filter_map(bar).collect();
        (!list.is_empty()).then(|| bars(&list, "What each shim changes by", "answer"))
    }

    /// Figures of one unit beside each other, where nothing says more than they do.
    pub(super) fn figures(&self, name: &str) -> Option<String> {
        let e = entry(name).ok()?;
        let bar = |of: &&str| {
            let about = e.outputs.iter().find(|o| o.name == *of).map(|o| o.about);
            let about = about.or_else(|| e.fields.iter().find(|f| f.name == *of).map(|f| f.about))?;
            let value = self.found(of).or_else(|| self.given(of))?;
            Some(Bar { name: show::capital(about), value, said: self.said(of, value).1 })
        };
        let list: Vec<Bar> = SCALES.iter().find(|s| s.0 == name)?.1.iter().filter_map(bar).collect();
        (list.len() > 1).then(|| bars(&list, "Figures on one scale", "answer"))
    }
}

/// Figures of questions and answers that are told best beside each other.
const SCALES: &[(&str, &[&str])] = &[
    ("fit.press", &["force_low_n", "force_mid_n", "force_high_n", "stop_force_n", "removal_high_n"]),
    ("fit.clearance_left", &["clearance_min_um", "clearance_max_um", "left_min_um", "left_mean_um", "left_max_um"]),
    ("fit.hydraulic", &["contact_mpa", "expansion_mpa", "expansion_limit_mpa"]),
    ("fit.drive_up", &["delta_um", "left_um"]),
    ("heat.target", &["needed_c", "target_c", "cap_c"]),
    ("iso286.limits", &["lower_um", "upper_um"]),
    ("bearing.ring_tolerance", &["lower_um", "upper_um"]),
    ("bearing.clearance", &["min_um", "max_um"]),
    ("torque.value", &["force_low_n", "force_n", "force_high_n"]),
    ("grease.fill", &["grams_low_g", "grams_high_g", "top_up_g"]),
    ("seal.speed", &["speed", "stands"]),
];
