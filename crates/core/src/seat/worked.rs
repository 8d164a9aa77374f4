//! The formulas of a fit with this seat's numbers put in: what *Why* shows under each paragraph of `docs/trade.md`.
//!
//! The numbers are written as one would write them on paper, so that they can be reckoned again by hand; a test reads
//! each line back, reckons it and compares it with what the fit came to.

use super::{Fit, Surfaces, grid_of};
use crate::anatomy::SeatFacts;
use crate::call::Amount;
use crate::fit::heat::{STEEL_J_KGK, STILL_AIR_W_M2K};
use crate::fit::{Finish, Material, School};
use crate::journal_sheet::Feature;
use crate::quantity::{Micrometres, Units, show};
use crate::rules::HouseRules;
use crate::terms::Surface;

/// One formula, its numbers and what they come to.
#[derive(Debug, Clone, PartialEq)]
pub struct WorkedLine {
    /// What it is.
    pub what: String,
    /// In symbols.
    pub formula: &'static str,
    /// With numbers: lengths in mm, small ones in µm where the symbol is a deviation.
    pub numbers: String,
    /// What the fit came to, in the unit of the formula.
    pub value: f64,
    /// That unit.
    pub unit: &'static str,
    /// Decimals that are worth showing.
    pub decimals: usize,
    /// The same as a quantity, for readers of inches.
    pub amount: Option<Amount>,
}

impl WorkedLine {
    /// The result, with the reader's units beside it where these are others.
    #[must_use]
    pub fn result(&self, units: Units) -> String {
        let own = format!("{} {}", show::fixed(self.value, self.decimals), self.unit).trim_end().to_owned();
        match &self.amount {
            Some(a) if units == Units::Inch => format!("{own}, that is {}", a.show(units)),
            _ => own,
        }
    }
}

/// The lines of one paragraph.
#[derive(Debug, Clone, PartialEq)]
pub struct Worked {
    /// Anchor of the paragraph.
    pub anchor: &'static str,
    /// Its formulas.
    pub lines: Vec<WorkedLine>,
    /// What was not measured but taken.
    pub assumed: Vec<String>,
}

fn um(what: impl Into<String>, formula: &'static str, numbers: String, v: Micrometres) -> WorkedLine {
    WorkedLine {
        what: what.into(),
        formula,
        numbers,
        value: v.0,
        unit: "µm",
        decimals: 1,
        amount: Some(Amount::Small(v)),
    }
}

fn plain(
    what: impl Into<String>,
    formula: &'static str,
    numbers: String,
    value: f64,
    unit: &'static str,
    decimals: usize,
) -> WorkedLine {
    WorkedLine { what: what.into(), formula, numbers, value, unit, decimals, amount: None }
}

/// As many digits as the result needs, no tail of zeros.
fn n(v: f64) -> String {
    let digits = match v.abs() {
        a if a >= 1000.0 => 1,
        a if a >= 10.0 => 4,
        a if a >= 0.1 => 5,
        _ => 8,
    };
    let text = format!("{v:.digits$}");
    let text = if text.contains('.') { text.trim_end_matches('0').trim_end_matches('.') } else { &text };
    if text.starts_with('-') { format!("({})", text.replace('-', "−")) } else { text.to_owned() }
}

/// Every formula that the calls of a seat rest on, with its numbers; surfaces alone where the fit still waits.
#[must_use]
pub fn worked(fit: Option<&Fit>, facts: &SeatFacts, surfaces: &Surfaces, rules: &HouseRules) -> Vec<Worked> {
    let mut out = vec![judging(facts, surfaces, rules), form(surfaces)];
    if let Some(f) = fit {
        out.push(interference(f, surfaces));
        if f.press.mid.pressure.0 > 0.0 {
            out.extend([pressing(f), bearing_it(f)]);
        }
        out.extend([clearance(f, facts), heating(f, facts), cooling(f, facts), light_metal(f, facts)]);
    }
    out.retain(|w| !w.lines.is_empty());
    out
}

fn measured(s: &Surfaces) -> impl Iterator<Item = (Surface, &super::Measured, crate::journal_sheet::Grid)> {
    [
        (Surface::Journal, &s.journal),
        (Surface::RingBore, &s.ring_bore),
        (Surface::HousingBore, &s.housing_bore),
        (Surface::RingOutside, &s.ring_outside),
    ]
    .into_iter()
    .filter_map(|(w, m)| {
        let m = m.as_ref()?;
        Some((w, m, grid_of(Some(m), if w.outside() { Feature::Journal } else { Feature::Bore })?))
    })
}

fn judging(facts: &SeatFacts, s: &Surfaces, rules: &HouseRules) -> Worked {
    let mut lines = Vec::new();
    let mut assumed = Vec::new();
    for (which, m, g) in measured(s) {
        let (lo, hi, _) = super::surface_limits(which, facts);
        let what = which.words();
        let left = |v: f64| Micrometres(v * 1000.0);
        lines.push(um(
            format!("{what}, largest to its upper limit"),
            "limit − largest",
            format!("({} − {}) × 1000", n(hi), n(g.max.0)),
            left(hi - g.max.0),
        ));
        lines.push(um(
            format!("{what}, smallest to its lower limit"),
            "smallest − limit",
            format!("({} − {}) × 1000", n(g.min.0), n(lo)),
            left(g.min.0 - lo),
        ));
        let u = show::fixed(m.gauge.u.0 * 1000.0, 1);
        assumed.push(if rules.guard_band {
            format!("{what}: {} can be wrong by {u} µm; each of the two has to be at least that", m.gauge.name)
        } else {
            format!(
                "{what}: {} can be wrong by {u} µm; the guard band is off, so each has only to be 0 or more",
                m.gauge.name
            )
        });
    }
    Worked { anchor: "judging", lines, assumed }
}

fn form(s: &Surfaces) -> Worked {
    let mut lines = Vec::new();
    for (which, m, g) in measured(s) {
        let what = which.words();
        let full = |row: &&Vec<Option<f64>>| row.iter().flatten().count() >= 2;
        let spread = |row: &[Option<f64>]| {
            let (lo, hi) = row.iter().flatten().fold((f64::INFINITY, 0f64), |(lo, hi), v| (lo.min(*v), hi.max(*v)));
            (lo, hi)
        };
        let worst = m.rows.iter().filter(full).map(|r| spread(r)).max_by(|a, b| (a.1 - a.0).total_cmp(&(b.1 - b.0)));
        if let Some((lo, hi)) = worst {
            let value = g.roundness.iter().map(|r| r.0).fold(0.0, f64::max);
            lines.push(um(
                format!("{what}, out of round"),
                "(largest − smallest)/2",
                format!("({} − {})/2 × 1000", n(hi), n(lo)),
                Micrometres(value),
            ));
        }
        if let Some(t) = g.taper {
            let mean = |row: &[Option<f64>]| {
                let seen: Vec<f64> = row.iter().flatten().copied().collect();
                seen.iter().sum::<f64>() / seen.len() as f64
            };
            let rows: Vec<f64> = m.rows.iter().filter(|r| r.iter().any(Option::is_some)).map(|r| mean(r)).collect();
            if let (Some(first), Some(last)) = (rows.first(), rows.last()) {
                lines.push(um(
                    format!("{what}, taper"),
                    "mean of the last station − mean of the first",
                    format!("({} − {}) × 1000", format_args!("{last:.5}"), format_args!("{first:.5}")),
                    t,
                ));
            }
        }
    }
    Worked { anchor: "form", lines, assumed: Vec::new() }
}

fn school_words(school: School, d: f64, delta: f64) -> (&'static str, String) {
    match school {
        School::Diameter(Finish::Ground) => ("δ d/(d + 2)", format!("{} × {}/({} + 2)", n(delta), n(d), n(d))),
        School::Diameter(Finish::Turned) => ("δ d/(d + 3)", format!("{} × {}/({} + 3)", n(delta), n(d), n(d))),
        School::Roughness { rz_inner, rz_outer } => {
            ("δ − 0.8 (Rz_i + Rz_o)", format!("{} − 0.8 × ({} + {})", n(delta), n(rz_inner.0), n(rz_outer.0)))
        }
    }
}

fn interference(f: &Fit, s: &Surfaces) -> Worked {
    let (journal, bore) = (grid_of(s.journal.as_ref(), Feature::Journal), grid_of(s.ring_bore.as_ref(), Feature::Bore));
    let mut lines = Vec::new();
    if let (Some(j), Some(b)) = (journal, bore) {
        let less = |a: f64, b: f64| format!("({} − {}) × 1000", n(a), n(b));
        lines.push(um("least", "smallest shaft − largest bore", less(j.min.0, b.max.0), f.interference.min));
        lines.push(um("most", "largest shaft − smallest bore", less(j.max.0, b.min.0), f.interference.max));
    }
    if f.press.mid.delta_eff.0 > 0.0 {
        let middle = f64::midpoint(f.interference.min.0, f.interference.max.0);
        let (formula, numbers) = school_words(f.model.school, f.model.d.0, middle);
        lines.push(um(
            "what is left of the middle when its peaks are pressed flat",
            formula,
            numbers,
            f.press.mid.delta_eff,
        ));
    }
    let school = match f.model.school {
        School::Diameter(_) => "the rule by the diameter, house rule",
        School::Roughness { .. } => "the rule by roughness, house rule",
    };
    Worked { anchor: "interference-that-is-there", lines, assumed: vec![format!("peaks: {school}")] }
}

fn pressing(f: &Fit) -> Worked {
    let m = &f.model;
    let (d, hub, bore) = (n(m.d.0), n(m.hub_outside), n(m.shaft_bore.0));
    let part = |outer: &str, inner: &str, sign: &str, x: Material| {
        format!("(({outer}² + {inner}²)/({outer}² − {inner}²) {sign} {})/{}", n(x.poisson()), n(x.young_mpa()))
    };
    let pressure = format!(
        "{}/({d} × ({} + {}))",
        n(f.press.mid.delta_eff.0 / 1000.0),
        part(&hub, &d, "+", m.hub),
        part(&d, &bore, "−", m.shaft)
    );
    let force = |p: f64, mu: f64| format!("π × {d} × {} × {} × {}", n(m.length.0), n(p), n(mu));
    let newtons = |what: &str, formula, numbers, v: crate::quantity::Newtons| WorkedLine {
        amount: Some(Amount::Force(v)),
        ..plain(what, formula, numbers, v.0, "N", 0)
    };
    let p = &f.press;
    let mut lines = vec![
        plain(
            "pressure, middle",
            "δ_eff/(d [((D_o² + d²)/(D_o² − d²) + ν_o)/E_o + ((d² + d_i²)/(d² − d_i²) − ν_i)/E_i])",
            pressure,
            p.mid.pressure.0,
            "MPa",
            1,
        ),
        newtons("force, low", "π d x p µ", force(p.low.pressure.0, m.friction.low), p.low.force),
        newtons("force, middle", "π d x p µ", force(p.mid.pressure.0, m.friction.mid), p.mid.force),
        newtons("force, high", "π d x p µ", force(p.high.pressure.0, m.friction.high), p.high.force),
        newtons("stop", "1.5 F_high", format!("1.5 × {}", n(p.high.force.0)), p.stop_force),
    ];
    lines.retain(|l| l.value > 0.0);
    let mut assumed = vec![format!(
        "friction {} to {}, by what the seat is wiped with or by the shop's own presses, house rule",
        n(m.friction.low),
        n(m.friction.high)
    )];
    assumed.push(format!(
        "D_o {} mm, the raceway estimated from the boundary sizes",
        n((m.hub_outside * 100.0).round() / 100.0)
    ));
    if let Some((name, allowed)) = f.press_machine.as_ref().filter(|(_, a)| a.0 < f.press.stop_force.0) {
        let may = show::join(show::force(*allowed, Units::Metric));
        assumed.push(format!("{name} may give {may}: pressing stops there at the latest"));
    }
    Worked { anchor: "pressure-and-force", lines, assumed }
}

fn bearing_it(f: &Fit) -> Worked {
    let m = &f.model;
    let (d, hub) = (m.d.0, m.hub_outside);
    // A ring that is colder in service shrinks on: the pressure grows with what it takes up.
    let colder = m.hub.expansion() * d * 1000.0 * (-m.ring_hotter.0).max(0.0);
    let high = f.press.high;
    let p = high.pressure.0 * (high.delta_eff.0 + colder) / high.delta_eff.0;
    let (hub, d, p) = (n(hub), n(d), n(p));
    let share = |v: f64| v * 100.0;
    let (shaft_formula, shaft) = if m.shaft_bore.0 > 0.0 {
        let b = n(m.shaft_bore.0);
        ("2 p d²/(d² − d_i²)/R_e", format!("2 × {p} × {d}²/({d}² − {b}²)/{} × 100", n(m.shaft.yield_mpa())))
    } else {
        ("p/R_e", format!("{p}/{} × 100", n(m.shaft.yield_mpa())))
    };
    let lines = vec![
        plain(
            "hoop stress of the ring",
            "p (D_o² + d²)/(D_o² − d²)",
            format!("{p} × ({hub}² + {d}²)/({hub}² − {d}²)"),
            f.press.stress.hoop.0,
            "MPa",
            0,
        ),
        plain(
            "ring, share of its yield",
            "2 p D_o²/(D_o² − d²)/R_e",
            format!("2 × {p} × {hub}²/({hub}² − {d}²)/{} × 100", n(m.hub.yield_mpa())),
            share(f.press.stress.hub_share),
            "%",
            0,
        ),
        plain("shaft, share of its yield", shaft_formula, shaft, share(f.press.stress.shaft_share), "%", 0),
    ];
    Worked {
        anchor: "what-it-can-bear",
        lines,
        assumed: vec!["yields as low as they are usually met: no certificate was asked for".into()],
    }
}

fn clearance(f: &Fit, facts: &SeatFacts) -> Worked {
    let mut w = Worked { anchor: "clearance-left", lines: Vec::new(), assumed: Vec::new() };
    let Some(c) = &f.clearance else { return w };
    let less = |g: f64, a: f64, b: f64| format!("{} − {} − {} − {}", n(g), n(a), n(b), n(c.heat.0));
    if c.heat.0 > 0.0 {
        let outer = n(facts.inside().outer_raceway.0);
        let alpha = Material::BearingSteel.expansion() * 1000.0;
        let numbers = format!("{} × {} × {outer}", n(alpha), n(facts.seat.inner_hotter_k.0));
        w.lines.push(um("lost to the warmer inner ring", "α ΔT D_e", numbers, c.heat));
    }
    let formula = "group − growth − closing − heat";
    w.lines.push(um("left, least", formula, less(c.group.0.0, c.growth.1.0, c.closing.1.0), c.left.0));
    w.lines.push(um("left, most", formula, less(c.group.1.0, c.growth.0.0, c.closing.0.0), c.left.1));
    w.assumed.push(format!("the inner ring runs {} K hotter than the outer one", n(facts.seat.inner_hotter_k.0)));
    if f.housing_from_limits {
        w.assumed.push("the housing by its drawing: it was not measured".into());
    }
    w
}

fn degrees(what: &str, formula: &'static str, numbers: String, v: crate::quantity::Celsius) -> WorkedLine {
    WorkedLine { amount: Some(Amount::Temperature(v)), ..plain(what, formula, numbers, v.0, "°C", 1) }
}

/// Growth of a diameter, µm per K.
fn per_kelvin(m: Material, d: f64) -> String {
    format!("({} × {})", n(m.expansion() * 1000.0), n(d))
}

fn heating(f: &Fit, facts: &SeatFacts) -> Worked {
    let mut w = Worked { anchor: "heating", lines: Vec::new(), assumed: Vec::new() };
    if f.interference.max.0 <= 0.0 {
        return w;
    }
    let d = facts.bearing.d.0;
    let k = per_kelvin(Material::BearingSteel, d);
    w.lines.push(degrees(
        "needed",
        "T_shaft + (δ_max + slide)/(α d)",
        format!("{} + ({} + {})/{k}", n(f.room.0), n(f.interference.max.0), n(f.heat.slide.0)),
        f.heat.needed,
    ));
    w.lines.push(um(
        "left to slide with at the target",
        "α d (T − T_shaft) − δ_max",
        format!("{k} × ({} − {}) − {}", n(f.heat.target.0), n(f.room.0), n(f.interference.max.0)),
        f.spare,
    ));
    w.assumed.push(format!("shaft and shop at {} °C; cap {} °C by {}", n(f.room.0), n(f.heat.cap.0), f.weakest));
    w
}

fn cooling(f: &Fit, facts: &SeatFacts) -> Worked {
    let mut w = Worked { anchor: "cooling", lines: Vec::new(), assumed: Vec::new() };
    let (Some(grip), Some(cooling), true) = (f.grip, f.cooling, f.interference.max.0 > 0.0) else { return w };
    let k = per_kelvin(Material::BearingSteel, facts.bearing.d.0);
    let (mass, area) = (facts.mass_g() / 1000.0, facts.area_mm2() / 1e6);
    let tau = cooling.tau.0;
    w.lines.push(plain(
        "time constant τ",
        "m c/(h A)",
        format!("{} × {}/({} × {})", n(mass), n(STEEL_J_KGK), n(STILL_AIR_W_M2K), n(area)),
        tau,
        "s",
        0,
    ));
    w.lines.push(degrees(
        "grips at",
        "T_shaft + δ_max/(α d)",
        format!("{} + {}/{k}", n(f.room.0), n(f.interference.max.0)),
        f.grip_at,
    ));
    w.lines.push(plain(
        "grips after, in still air",
        "τ ln((T − T_env)/(T_grip − T_env))",
        format!("{} × ln(({} − {})/({} − {}))", n(tau), n(f.heat.target.0), n(f.room.0), n(f.grip_at.0), n(f.room.0)),
        grip.0,
        "s",
        0,
    ));
    w.lines.retain(|l| l.value.is_finite() && l.value > 0.0);
    w.assumed.push("mass of the ring from its boundary; two thermometer readings correct it".into());
    w
}

fn light_metal(f: &Fit, facts: &SeatFacts) -> Worked {
    let mut w = Worked { anchor: "light-metal", lines: Vec::new(), assumed: Vec::new() };
    if let Some(h) = &f.in_housing {
        let k = per_kelvin(facts.housing_material, facts.bearing.outer.0);
        let numbers = format!("{} + ({} + {})/{k}", n(f.room.0), n(f.housing.max.0), n(h.warm.slide.0));
        w.lines.push(degrees("housing warmed to", "T_room + (δ_max + slide)/(α D)", numbers, h.warm.needed));
    }
    if f.grows_in_bore() {
        let k = per_kelvin(Material::BearingSteel, facts.bearing.outer.0);
        let numbers = format!("{k} × ({} − {})", n(f.heat.target.0), n(f.room.0));
        w.lines.push(um("its outside grows in the bore", "α D (T − T_room)", numbers, f.growth));
    }
    w
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::seat::fit;
    use crate::seat::tests::{anatomy, gauge, sheet, shop};
    use proptest::prelude::*;

    /// Reckons what is written, as a reader with a pocket calculator would: + − × / ² ln π and brackets, and nothing
    /// else.
    struct Paper<'a>(std::iter::Peekable<std::str::Chars<'a>>);

    impl Paper<'_> {
        fn reckon(text: &str) -> f64 {
            let mut p = Paper(text.chars().peekable());
            let v = p.sum();
            assert!(p.next().is_none(), "{text}: stopped before its end");
            v
        }
        fn next(&mut self) -> Option<char> {
            while self.0.peek() == Some(&' ') {
                self.0.next();
            }
            self.0.peek().copied()
        }
        fn eat(&mut self, c: char) -> bool {
            let here = self.next() == Some(c);
            if here {
                self.0.next();
            }
            here
        }
        fn sum(&mut self) -> f64 {
            let mut v = self.product();
            loop {
                if self.eat('+') {
                    v += self.product();
                } else if self.eat('−') {
                    v -= self.product();
                } else {
                    return v;
                }
            }
        }
        fn product(&mut self) -> f64 {
            let mut v = self.power();
            loop {
                if self.eat('×') {
                    v *= self.power();
                } else if self.eat('/') {
                    v /= self.power();
                } else {
                    return v;
                }
            }
        }
        fn power(&mut self) -> f64 {
            let v = self.one();
            if self.eat('²') { v * v } else { v }
        }
        fn one(&mut self) -> f64 {
            if self.eat('π') {
                return std::f64::consts::PI;
            }
            if self.eat('−') {
                return -self.one();
            }
            if self.eat('l') {
                assert!(self.eat('n'));
                return self.one().ln();
            }
            if self.eat('(') {
                let v = self.sum();
                assert!(self.eat(')'), "a bracket is open");
                return v;
            }
            let mut digits = String::new();
            self.next();
            while let Some(c) = self.0.peek().filter(|c| c.is_ascii_digit() || **c == '.') {
                digits.push(*c);
                self.0.next();
            }
            digits.parse().unwrap_or_else(|_| panic!("a number was expected, not {:?}", self.0.peek()))
        }
    }

    /// What stands on the page comes out when it is reckoned again.
    fn comes_out(all: &[Worked]) {
        for l in all.iter().flat_map(|w| &w.lines) {
            let again = Paper::reckon(&l.numbers);
            let allowed = 0.51 * 10f64.powi(-(l.decimals as i32)) + 0.002 * l.value.abs();
            assert!(
                (again - l.value).abs() <= allowed,
                "{}: {} = {again}, but the fit came to {}",
                l.what,
                l.numbers,
                l.value
            );
        }
    }

    /// A seat with readings that are neither round nor straight.
    fn seat(
        designation: &str,
        classes: (&str, &str),
        tight: (f64, f64),
        rules: &HouseRules,
        hollow: f64,
    ) -> Vec<Worked> {
        let mut a = anatomy(designation, classes.0, classes.1);
        a.seats[0].shaft_bore_mm = crate::quantity::Millimetres::of(hollow);
        let facts = a.facts("s").expect("seat");
        let (d, outer) = (facts.bearing.d.get(), facts.bearing.outer.get());
        let um = [0.0, 1.0, 2.0, 0.5, 0.4, 1.5, 2.5, 1.0, 0.9, 1.0, 3.0, 1.5];
        let m = |base: f64| Some(sheet(base, um, gauge("micrometer", 0.003, 5.0)));
        let s = Surfaces {
            journal: m(d + tight.0 / 1000.0),
            ring_bore: m(d - 0.004),
            housing_bore: m(outer - tight.1 / 1000.0),
            ring_outside: m(outer - 0.003),
        };
        let shop = crate::seat::Shop { rules: rules.clone(), ..shop() };
        worked(fit(&facts, &s, &shop).ok().as_ref(), &facts, &s, rules)
    }

    #[test]
    fn a_usual_seat_is_worked_through() {
        let all = seat("6208 C3", ("k6", "H7"), (8.0, 5.0), &HouseRules::default(), 0.0);
        comes_out(&all);
        let has: Vec<&str> = all.iter().map(|w| w.anchor).collect();
        let wanted = [
            "judging",
            "form",
            "interference-that-is-there",
            "pressure-and-force",
            "what-it-can-bear",
            "clearance-left",
            "heating",
            "cooling",
            "light-metal",
        ];
        assert_eq!(has, wanted);
        let anchors = crate::why::anchors();
        assert!(has.iter().all(|w| anchors.iter().any(|a| a == w)), "each has its paragraph");
        let line = |anchor: &str, what: &str| {
            all.iter().find(|w| w.anchor == anchor).and_then(|w| w.lines.iter().find(|l| l.what == what)).expect("line")
        };
        // By hand: journals 40.008 to 40.011 in bores of 39.996 to 39.999.
        let most = line("interference-that-is-there", "most");
        assert_eq!(
            (most.numbers.as_str(), most.result(Units::Metric).as_str()),
            ("(40.011 − 39.996) × 1000", "15.0 µm")
        );
        assert_eq!(most.result(Units::Inch), "15.0 µm, that is 0.59 thou");
        let needed = line("heating", "needed");
        assert_eq!(
            (needed.numbers.as_str(), needed.result(Units::Metric).as_str()),
            ("20 + (15 + 20)/(0.012 × 40)", "92.9 °C")
        );
        assert!(all.iter().any(|w| !w.assumed.is_empty()));
    }

    #[test]
    fn what_still_waits_shows_what_there_is() {
        let facts = anatomy("6208 C3", "k6", "H7").facts("s").expect("seat");
        assert!(
            worked(None, &facts, &Surfaces::default(), &HouseRules::default()).is_empty(),
            "nothing read, nothing to show"
        );
        let s = Surfaces {
            journal: Some(sheet(40.008, [0.0; 12], gauge("micrometer", 0.003, 5.0))),
            ..Surfaces::default()
        };
        let all = worked(None, &facts, &s, &HouseRules::default());
        comes_out(&all);
        assert_eq!(all.iter().map(|w| w.anchor).collect::<Vec<_>>(), ["judging", "form"]);
        assert!(all[0].assumed[0].contains("3.0 µm"));
    }

    proptest! {
        #[test]
        fn what_is_shown_can_be_reckoned_again(
            which in 0usize..6, on in -40f64..60.0, into in -40f64..40.0, hollow in prop_oneof![Just(0.0), 2f64..9.0],
            rough in proptest::bool::ANY, guard in proptest::bool::ANY,
        ) {
            let (name, housing) = [("6208 C3", "H7"), ("6203", "N6"), ("6208-2RS", "K7"), ("NU 210 C3", "P7"), ("7206 C", "H6"), ("6320 M", "J7")][which];
            let rules = HouseRules {
                school: if rough { crate::rules::InterferenceSchool::Roughness } else { crate::rules::InterferenceSchool::Diameter },
                guard_band: guard,
                ..HouseRules::default()
            };
            comes_out(&seat(name, ("k6", housing), (on, into), &rules, hollow));
        }
    }
}
