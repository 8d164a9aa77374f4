//! One bearing seat, judged: from readings to interference, force, heat, clearance, tools and the calls on them.

use crate::anatomy::SeatFacts;
use crate::call::{Amount, Call, Method, Situation, Verdict, Which};
use crate::fit::clearance::{ClearanceCall, ClearanceLeft, FittedBearing, clearance_left};
use crate::fit::designation::BearingType;
use crate::fit::heat::{Cooling, HeatTarget, default_slide, grip_temperature, heat_target, weakest_cap};
use crate::fit::lame::{PressAnswer, PressFit, press};
use crate::fit::rings::{self, ClearanceKind};
use crate::fit::tooling::{ForceThrough, InnerRingPush, Suit, Tube, force_through, tubes_for_inner_ring};
use crate::fit::{Material, School};
use crate::instrument::{Candidate, Judgement, Limits, decide_with, judge};
use crate::journal_sheet::{Grid, Surface, so_far};
use crate::quantity::{Celsius, Kelvins, Micrometres, Millimetres, Newtons, Seconds};
use crate::rules::HouseRules;
use serde::{Deserialize, Serialize};

/// An instrument of the shop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct Gauge {
    pub name: String,
    /// Reads outsides.
    pub outside: bool,
    /// Reads bores.
    pub inside: bool,
    /// Reads depths.
    pub depth: bool,
    pub range: (Millimetres, Millimetres),
    pub resolution: Millimetres,
    /// Expanded uncertainty, k = 2.
    pub u: Millimetres,
    /// For "the cheapest that can": any scale.
    pub cost: f64,
    pub overdue: bool,
}

impl Gauge {
    /// Can it be put on this surface at this size?
    #[must_use]
    pub fn reaches(&self, which: Which, size: Millimetres) -> bool {
        (if which.outside() { self.outside } else { self.inside }) && self.range.0.0 <= size.0 && size.0 <= self.range.1.0
    }
}

/// A press of the shop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PressMachine {
    /// Name.
    pub name: String,
    /// What it can do.
    pub capacity: Newtons,
}

/// What the shop has.
#[derive(Debug, Clone, PartialEq, Default)]
#[allow(missing_docs)]
pub struct Shop {
    pub gauges: Vec<Gauge>,
    pub presses: Vec<PressMachine>,
    pub tubes: Vec<Tube>,
    pub rules: HouseRules,
    pub room: Option<Celsius>,
}

impl Shop {
    fn room(&self) -> Celsius {
        self.room.unwrap_or(Celsius(20.0))
    }
    fn strongest(&self) -> Option<&PressMachine> {
        self.presses.iter().max_by(|a, b| a.capacity.0.total_cmp(&b.capacity.0))
    }
    fn candidates(&self, fits: impl Fn(&Gauge) -> bool, scale: f64) -> Vec<Candidate> {
        self.gauges
            .iter()
            .filter(|g| fits(g) && !g.overdue)
            .map(|g| Candidate { name: g.name.clone(), u: g.u.0 * scale, cost: g.cost })
            .collect()
    }
}

/// The slide clearance of handbook 03 is the larger of this and 0.5 µm per mm; a cap that leaves at least this will do.
const LEAST_SLIDE_UM: f64 = 10.0;

/// Readings of one surface and what took them.
#[derive(Debug, Clone, PartialEq)]
pub struct Measured {
    /// Rows of stations.
    pub rows: Vec<Vec<Option<f64>>>,
    /// The instrument with the largest uncertainty that was used.
    pub gauge: Gauge,
    /// Names of overdue instruments that were used.
    pub overdue: Vec<String>,
}

impl Measured {
    /// Cells still empty.
    #[must_use]
    pub fn left(&self) -> usize {
        self.rows.iter().flatten().filter(|v| v.is_none()).count()
    }
}

/// Limits of a surface in mm and where they come from.
#[must_use]
pub fn surface_limits(which: Which, facts: &SeatFacts) -> (f64, f64, String) {
    let source = &facts.seat.source;
    let ring = |r, d: Millimetres| {
        let lower = facts.ring_lower(r).0 / 1000.0;
        (d.0 + lower, d.0, format!("ISO 492 class {}", facts.bearing.class))
    };
    match which {
        Which::Journal => (facts.journal.min.0, facts.journal.max.0, format!("{} {}, {source}", facts.bearing.d.0, facts.seat.shaft_class)),
        Which::HousingBore => {
            (facts.bore.min.0, facts.bore.max.0, format!("{} {}, {source}", facts.bearing.outer.0, facts.seat.housing_class))
        }
        Which::RingBore => ring(rings::Ring::Inner, facts.bearing.d),
        Which::RingOutside => ring(rings::Ring::Outer, facts.bearing.outer),
    }
}

/// Judges one grid: size first, then form; the worst call comes first.
#[must_use]
pub fn judge_grid(which: Which, facts: &SeatFacts, m: &Measured, shop: &Shop) -> Vec<Call> {
    let (lo, hi, source) = surface_limits(which, facts);
    let rules = &shop.rules;
    let u = if rules.guard_band { m.gauge.u.0 } else { 0.0 };
    let surface = if which.outside() { Surface::Journal } else { Surface::Bore };
    let size = |v: f64| Amount::Size(Millimetres(v), m.gauge.resolution);
    let finish =
        |c: Call| Call { overdue: m.overdue.clone(), guarded: rules.guard_band, ..c }.limit(Some(size(lo)), Some(size(hi)), source.clone());
    let Some(g) = so_far(&m.rows, surface, m.gauge.u.um()) else {
        return vec![finish(Call::of(Verdict::Undecided, Situation::NothingRead { cells: m.left() }))];
    };
    let mut calls = Vec::new();
    let better = |value: f64, limits: &Limits, scale: f64| {
        decide_with(
            value,
            limits,
            &shop.candidates(|c| c.reaches(which, Millimetres(value)) || scale < 1.0 && c.reaches(which, g.mean), scale),
        )
        .map(|c| c.name.clone())
    };

    let tolerance = hi - lo;
    if rules.guard_band && m.gauge.u.0 > tolerance / 2.0 {
        // No value at all could be inside by U on both sides.
        let finer = shop
            .gauges
            .iter()
            .filter(|c| c.reaches(which, g.mean) && !c.overdue && c.u.0 <= tolerance / 4.0 + 1e-9)
            .min_by(|a, b| a.cost.total_cmp(&b.cost));
        calls.push(finish(
            Call::of(
                Verdict::Undecided,
                Situation::TooCoarse {
                    surface: which,
                    instrument: m.gauge.name.clone(),
                    u: m.gauge.u.um(),
                    tolerance: Micrometres(tolerance * 1000.0),
                    better: finer.map(|c| c.name.clone()),
                },
            )
            .figure(size(g.mean.0)),
        ));
    }
    if let Ok(limits) = Limits::new(Some(lo), Some(hi)) {
        for (value, over) in [(g.max.0, true), (g.min.0, false)] {
            let past = if over { value - hi } else { lo - value };
            match judge(value, &limits, u) {
                Ok(Judgement::NotConforming) if past > 0.0 => {
                    let by = Micrometres(past * 1000.0);
                    let situation =
                        if over { Situation::SizeOver { surface: which, by } } else { Situation::SizeUnder { surface: which, by } };
                    calls.push(finish(Call::of(Verdict::Stop, situation).figure(size(value))));
                }
                Ok(Judgement::Undecided) if calls.is_empty() && past > -u => calls.push(finish(
                    Call::of(
                        Verdict::Undecided,
                        Situation::SizeUndecided {
                            surface: which,
                            margin: Micrometres(-past * 1000.0),
                            instrument: m.gauge.name.clone(),
                            u: m.gauge.u.um(),
                            better: better(value, &limits, 1.0),
                        },
                    )
                    .figure(size(value)),
                )),
                _ => {}
            }
        }
    }
    calls.extend(judge_form(which, &g, m, u, tolerance, rules, &better).into_iter().map(|c| Call {
        overdue: m.overdue.clone(),
        guarded: rules.guard_band,
        ..c
    }));
    if calls.is_empty() {
        calls.push(finish(Call::of(Verdict::Go, Situation::SizeGood { surface: which, left: m.left() }).figure(size(g.mean.0))));
    }
    calls.sort_by_key(|c| std::cmp::Reverse(c.verdict));
    calls
}

/// Form against its share of the tolerance. A half difference of two readings, and a difference of two means of four,
/// both carry U/sqrt 2 when readings are independent.
fn judge_form(
    which: Which,
    g: &Grid,
    m: &Measured,
    u: f64,
    tolerance: f64,
    rules: &HouseRules,
    better: &dyn Fn(f64, &Limits, f64) -> Option<String>,
) -> Vec<Call> {
    let allowed = Micrometres(tolerance * 1000.0 * rules.form_share);
    let root = std::f64::consts::FRAC_1_SQRT_2;
    let u_form = u * 1000.0 * root;
    let Ok(limits) = Limits::new(None, Some(allowed.0)) else { return Vec::new() };
    let share = format!("{:.0} % of the tolerance, house rule", rules.form_share * 100.0);
    let verdict = |v: f64, stop: Situation| {
        let (verdict, situation) = match judge(v, &limits, u_form) {
            Ok(Judgement::NotConforming) => (Verdict::Stop, stop),
            Ok(Judgement::Undecided) if v > allowed.0 / 2.0 => (
                Verdict::Undecided,
                Situation::FormUndecided {
                    surface: which,
                    by: Micrometres(v),
                    allowed,
                    instrument: m.gauge.name.clone(),
                    better: better(v, &limits, root * 1000.0),
                },
            ),
            _ => return None,
        };
        Some(Call::of(verdict, situation).figure(Amount::Small(Micrometres(v))).limit(None, Some(Amount::Small(allowed)), share.clone()))
    };
    let round = g
        .roundness
        .iter()
        .enumerate()
        .max_by(|a, b| a.1.0.total_cmp(&b.1.0))
        .and_then(|(i, r)| verdict(r.0, Situation::OutOfRound { surface: which, by: *r, allowed, station: i + 1 }));
    let taper = g.taper.and_then(|t| verdict(t.0.abs(), Situation::Taper { surface: which, by: t, allowed, larger_at_b: t.0 > 0.0 }));
    round.into_iter().chain(taper).collect()
}

/// A range with its mean.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct Range {
    pub min: Micrometres,
    pub mean: Micrometres,
    pub max: Micrometres,
}

impl Range {
    /// Interference: (smallest shaft - largest bore) to (largest shaft - smallest bore), and of the means.
    #[must_use]
    pub fn between(shaft: &Grid, bore: &Grid) -> Self {
        Self {
            min: Micrometres((shaft.min.0 - bore.max.0) * 1000.0),
            mean: Micrometres((shaft.mean.0 - bore.mean.0) * 1000.0),
            max: Micrometres((shaft.max.0 - bore.min.0) * 1000.0),
        }
    }
    fn drawn((lo, hi): (Micrometres, Micrometres)) -> Self {
        Self { min: lo, mean: Micrometres(f64::midpoint(lo.0, hi.0)), max: hi }
    }
}

/// How the ring could be put on, and why or why not.
#[derive(Debug, Clone, PartialEq)]
pub struct Choice {
    /// The method.
    pub method: Method,
    /// Can it be done?
    pub possible: bool,
    /// What this shop would do.
    pub advised: bool,
}

/// Everything that is known of a seat once both surfaces are measured.
#[derive(Debug, Clone, PartialEq)]
#[allow(missing_docs)]
pub struct Fit {
    pub interference: Range,
    /// What the drawing's limits allow.
    pub drawn: (Micrometres, Micrometres),
    pub housing: Range,
    /// The housing figures come from the drawing, not from a sheet.
    pub housing_from_limits: bool,
    pub press: PressAnswer,
    /// Strongest press and how much of it may be used.
    pub press_machine: Option<(String, Newtons)>,
    pub heat: HeatTarget,
    /// Clearance to slide with at the target; negative: that much is still tight.
    pub spare: Micrometres,
    /// Heat alone does it: the needed temperature is within the cap, or the cap still leaves the least slide clearance.
    pub heats: bool,
    pub weakest: &'static str,
    /// From the heater until it grips in still air, and until it is near the shaft.
    pub grip: Option<Seconds>,
    pub grip_at: Celsius,
    pub cool: Option<Seconds>,
    /// Force for what is left at the heat cap.
    pub rest_force: Newtons,
    pub clearance: Option<ClearanceLeft>,
    pub group: String,
    pub through: ForceThrough,
    pub tubes: Vec<Suit>,
    pub choices: Vec<Choice>,
    pub calls: Vec<Call>,
    /// Figures that were not measured.
    pub estimated: Vec<&'static str>,
}

/// Surfaces of a seat that were measured.
#[derive(Debug, Clone, Default)]
#[allow(missing_docs)]
pub struct Surfaces {
    pub journal: Option<Measured>,
    pub ring_bore: Option<Measured>,
    pub housing_bore: Option<Measured>,
    pub ring_outside: Option<Measured>,
}

fn grid_of(m: Option<&Measured>, surface: Surface) -> Option<Grid> {
    m.and_then(|m| so_far(&m.rows, surface, m.gauge.u.um()))
}

/// The fit, or what it waits for.
///
/// # Errors
/// The call that says which surface is not measured yet, or why it cannot be reckoned.
pub fn fit(facts: &SeatFacts, surfaces: &Surfaces, shop: &Shop) -> Result<Fit, Box<Call>> {
    let (journal, bore) = (grid_of(surfaces.journal.as_ref(), Surface::Journal), grid_of(surfaces.ring_bore.as_ref(), Surface::Bore));
    let (Some(journal), Some(bore)) = (&journal, &bore) else {
        return Err(Box::new(Call::of(Verdict::Undecided, Situation::FitWaits { journal: journal.is_none(), bore: bore.is_none() })));
    };
    let refused = |e: crate::Refusal| Box::new(Call::of(Verdict::LookAgain, Situation::Overruled { by: e.field, reason: e.message }));
    let interference = Range::between(journal, bore);
    let measured_housing =
        grid_of(surfaces.housing_bore.as_ref(), Surface::Bore).zip(grid_of(surfaces.ring_outside.as_ref(), Surface::Journal));
    let housing = measured_housing
        .as_ref()
        .map_or_else(|| Range::drawn(facts.drawn_housing_interference()), |(hole, ring)| Range::between(ring, hole));
    let rules = &shop.rules;
    let inside = facts.inside();
    let school = rules.effective(facts.seat.finish);
    let model = PressFit {
        shaft: facts.seat.shaft_material,
        shaft_bore: facts.seat.shaft_bore_mm,
        school,
        friction: rules.lubricant.friction(),
        ring_hotter: facts.seat.inner_hotter_k,
        ..PressFit::ring_on_shaft(facts.bearing.d, inside.inner_raceway, facts.bearing.width)
    };
    let pressed = press(&model.interference(interference.min, interference.max)).map_err(refused)?;

    let (mut cap, mut weakest) = weakest_cap(facts.seat.cage, facts.bearing.seals.greased(), &facts.bearing.class, rules.sealed_cap());
    if rules.open_cap_c < cap.0 {
        (cap, weakest) = (Celsius(rules.open_cap_c), "house rules");
    }
    let room = shop.room();
    let heat = heat_target(facts.bearing.d, interference.max, room, Material::BearingSteel, default_slide(facts.bearing.d), cap)
        .map_err(refused)?;
    let rest = press(
        &PressFit { school: School::Roughness { rz_inner: Micrometres(0.0), rz_outer: Micrometres(0.0) }, ..model }
            .interference(heat.remaining, heat.remaining),
    )
    .map_err(refused)?;
    let grip_at = grip_temperature(facts.bearing.d, interference.max, room, Material::BearingSteel);
    let cooling = Cooling::from_mass(room, heat.target, facts.mass_g(), facts.area_mm2(), 12.0, 470.0).ok();

    let kind = match facts.bearing.kind {
        BearingType::DeepGroove => Some(ClearanceKind::DeepGroove),
        BearingType::CylindricalRoller => Some(ClearanceKind::CylindricalRoller),
        BearingType::SelfAligningBall => Some(ClearanceKind::SelfAligningBall),
        _ => None,
    };
    let clearance = kind.and_then(|k| rings::clearance(k, facts.bearing.d, &facts.bearing.clearance).ok()).and_then(|group| {
        clearance_left(&FittedBearing {
            d: facts.bearing.d,
            inner_raceway: inside.inner_raceway,
            outer_raceway: inside.outer_raceway,
            outer: facts.bearing.outer,
            shaft_bore: facts.seat.shaft_bore_mm,
            housing_outside: Some(facts.housing_outside),
            shaft: facts.seat.shaft_material,
            housing: facts.housing_material,
            shaft_delta: (interference.min, interference.max),
            housing_delta: (housing.min, housing.max),
            clearance: group,
            inner_hotter: facts.seat.inner_hotter_k,
            finish: facts.seat.finish,
            preload_meant: facts.seat.preload_meant,
        })
        .ok()
    });
    let tight = |r: &Range| r.mean.0 > 0.0;
    let spare = Micrometres(Material::BearingSteel.expansion() * facts.bearing.d.0 * 1000.0 * (heat.target - room).0 - interference.max.0);
    let mut f = Fit {
        spare,
        heats: heat.enough || spare.0 >= LEAST_SLIDE_UM,
        drawn: facts.drawn_interference(),
        housing_from_limits: measured_housing.is_none(),
        press: pressed,
        press_machine: shop.strongest().map(|p| (p.name.clone(), Newtons(p.capacity.0 * rules.press_share))),
        weakest,
        grip: cooling.and_then(|c| c.until(grip_at)),
        cool: cooling.and_then(|c| c.until(room + Kelvins(5.0))),
        grip_at,
        rest_force: rest.high.force,
        clearance,
        group: facts.bearing.clearance.clone(),
        through: force_through(tight(&interference), tight(&housing)),
        tubes: tubes_for_inner_ring(
            &InnerRingPush {
                shaft: journal.max,
                largest_land: facts.largest_land,
                shoulder: inside.inner_shoulder,
                protrusion: facts.protrusion,
            },
            &shop.tubes,
        ),
        choices: Vec::new(),
        calls: Vec::new(),
        estimated: Vec::new(),
        interference,
        housing,
        heat,
    };
    f.estimated.push("raceways and shoulders from the boundary sizes");
    f.estimated.push("ring mass from its volume");
    if f.housing_from_limits {
        f.estimated.push("housing fit from the drawing's limits");
    }
    f.choices = choices(&f, rules);
    f.calls = judge_fit(&f, facts, rules);
    let overdue: Vec<String> = [&surfaces.journal, &surfaces.ring_bore].into_iter().flatten().flat_map(|m| m.overdue.clone()).collect();
    for c in &mut f.calls {
        c.overdue.clone_from(&overdue);
        c.guarded = rules.guard_band;
    }
    Ok(f)
}

impl Fit {
    /// Best tube that fits.
    #[must_use]
    pub fn tube(&self) -> Option<&Suit> {
        self.tubes.iter().find(|t| t.why_not.is_none())
    }
    /// May the strongest press be used for a force?
    #[must_use]
    pub fn press_can(&self, force: Newtons) -> bool {
        self.press_machine.as_ref().is_some_and(|(_, allowed)| force.0 <= allowed.0)
    }
    /// The method this shop would choose.
    #[must_use]
    pub fn advised(&self) -> Option<Method> {
        self.choices.iter().find(|c| c.advised).map(|c| c.method)
    }
}

/// Least force through least risk: heat when it is enough, then press, then both (handbook 01).
fn choices(f: &Fit, rules: &HouseRules) -> Vec<Choice> {
    if f.interference.max.0 <= 0.0 {
        return vec![Choice { method: Method::Slide, possible: true, advised: true }];
    }
    let tool = f.tube().is_some();
    let in_time = f.grip.is_none_or(|g| g.0 >= rules.hands_s);
    let heat = f.heats;
    let press = f.press_can(f.press.high.force) && tool;
    let both = !f.heats && f.press_can(f.rest_force) && tool;
    let small = f.press.high.force.0 < 3000.0; // a hand press does it cleanly
    let order = if small && press && !(heat && in_time) {
        [Method::Press, Method::Heat, Method::HeatAndPress]
    } else {
        [Method::Heat, Method::HeatAndPress, Method::Press]
    };
    let can = |m| match m {
        Method::Heat => heat,
        Method::Press => press,
        Method::HeatAndPress => both,
        Method::Slide => false,
    };
    let best = order.into_iter().find(|m| can(*m));
    [Method::Heat, Method::Press, Method::HeatAndPress]
        .map(|method| Choice { method, possible: can(method), advised: best == Some(method) })
        .into()
}

fn judge_fit(f: &Fit, facts: &SeatFacts, rules: &HouseRules) -> Vec<Call> {
    let mut calls = Vec::new();
    let small = |v: Micrometres| Amount::Small(v);
    let fit_limit = |c: Call| {
        c.limit(
            Some(small(f.drawn.0)),
            Some(small(f.drawn.1)),
            format!("{} on a class {} bore", facts.seat.shaft_class, facts.bearing.class),
        )
    };
    if f.interference.mean.0 <= 0.0 && f.drawn.1.0 + f.drawn.0.0 > 0.0 {
        calls.push(fit_limit(Call::of(Verdict::Stop, Situation::Spins { mean: f.interference.mean }).figure(small(f.interference.mean))));
    }
    let force = f.press.high.force;
    if f.interference.max.0 > 0.0 {
        let heat_helps = f.choices.iter().any(|c| c.possible && c.method.heats());
        let verdict = if heat_helps { Verdict::LookAgain } else { Verdict::Stop };
        match &f.press_machine {
            Some((name, allowed)) if force.0 > allowed.0 => calls.push(
                Call::of(verdict, Situation::ForceOverPress { force, press: name.clone(), allowed: *allowed, heat_helps })
                    .figure(Amount::Force(force))
                    .limit(None, Some(Amount::Force(*allowed)), format!("{:.0} % of the press, house rule", rules.press_share * 100.0)),
            ),
            None if !heat_helps => {
                calls.push(Call::of(Verdict::Stop, Situation::NoPress { force, heat_helps }).figure(Amount::Force(force)))
            }
            _ => {}
        }
        if !f.heats {
            calls.push(
                Call::of(
                    Verdict::LookAgain,
                    Situation::CapNotEnough {
                        cap: f.heat.cap,
                        needed: f.heat.needed,
                        spare: f.spare,
                        force: f.rest_force,
                        weakest: f.weakest.into(),
                    },
                )
                .figure(Amount::Temperature(f.heat.needed))
                .limit(None, Some(Amount::Temperature(f.heat.cap)), f.weakest),
            );
        } else if let Some(grip) = f.grip.filter(|g| g.0 < rules.hands_s) {
            calls.push(
                Call::of(Verdict::LookAgain, Situation::GripShort { seconds: grip, hands: rules.hands(), target: f.heat.target })
                    .figure(Amount::Time(grip))
                    .limit(Some(Amount::Time(rules.hands())), None, "house rule"),
            );
        }
        if f.press.hub_hoop.0 > 120.0 {
            calls.push(Call::of(Verdict::LookAgain, Situation::RingStressHigh { hoop_mpa: f.press.hub_hoop.0 }));
        }
        if f.tube().is_none() && !f.heats {
            let i = facts.inside();
            calls.push(Call::of(
                Verdict::LookAgain,
                Situation::NoTube {
                    bore: Millimetres((facts.bearing.d.0 + 0.2).max(facts.largest_land.0 + 0.05)),
                    outside: i.inner_shoulder,
                    length: facts.protrusion,
                },
            ));
        }
    }
    if let Some(c) = &f.clearance {
        let group = f.group.clone();
        let limit = |call: Call| call.limit(Some(small(Micrometres(0.0))), None, format!("ISO 5753-1 group {}", facts.bearing.clearance));
        match c.call {
            ClearanceCall::Stop => calls.push(limit(
                Call::of(
                    Verdict::Stop,
                    Situation::NoClearance {
                        left: c.mean,
                        lost_shaft: Micrometres(f64::midpoint(c.growth.0.0, c.growth.1.0)),
                        lost_housing: Micrometres(f64::midpoint(c.closing.0.0, c.closing.1.0)),
                        group,
                    },
                )
                .figure(small(c.mean)),
            )),
            ClearanceCall::LookAgain => calls
                .push(limit(Call::of(Verdict::LookAgain, Situation::LittleClearance { left: c.left.0, group }).figure(small(c.left.0)))),
            ClearanceCall::Go => {}
        }
    }
    if calls.is_empty() {
        let method = f.advised().unwrap_or(Method::Press);
        calls.push(fit_limit(
            Call::of(Verdict::Go, Situation::FitGood { mean: f.interference.mean, method }).figure(small(f.interference.mean)),
        ));
    }
    if let Some(c) = f.clearance.as_ref().filter(|c| c.large && c.call == ClearanceCall::Go) {
        calls.push(Call::of(Verdict::Go, Situation::MuchClearance { left: c.mean }).figure(small(c.mean)));
    }
    calls.sort_by_key(|c| std::cmp::Reverse(c.verdict));
    calls
}

/// Judges the proof that a ring is home: the feeler at four places, then the depth.
#[must_use]
pub fn judge_home(
    facts: &SeatFacts,
    feelers: &[(String, f64)],
    depths: &[f64],
    left: usize,
    gauge: Option<&Gauge>,
    overdue: &[String],
    shop: &Shop,
) -> Call {
    let places: Vec<String> = feelers.iter().filter(|(_, v)| *v > 0.5).map(|(k, _)| format!("{}°", k.trim_start_matches('F'))).collect();
    let finish = |c: Call| Call { overdue: overdue.to_vec(), guarded: shop.rules.guard_band, ..c };
    if !places.is_empty() {
        return finish(Call::of(Verdict::Stop, Situation::FeelerGoesIn { places }));
    }
    let depth = &facts.seat.depth;
    let mut home = Call::of(Verdict::Go, Situation::Home { gap: None });
    if let (Some(gauge), false) = (gauge, depths.is_empty()) {
        let worst = depths.iter().map(|d| d - depth.expected_mm.0).max_by(|a, b| a.abs().total_cmp(&b.abs())).unwrap_or(0.0);
        let (by, tolerance) = (Micrometres(worst * 1000.0), depth.tolerance_mm.um());
        let u = if shop.rules.guard_band { gauge.u.0 * 1000.0 } else { 0.0 };
        let shown = |c: Call| {
            finish(c.figure(Amount::Size(Millimetres(depth.expected_mm.0 + worst), gauge.resolution)).limit(
                Some(Amount::Size(Millimetres(depth.expected_mm.0 - depth.tolerance_mm.0), gauge.resolution)),
                Some(Amount::Size(Millimetres(depth.expected_mm.0 + depth.tolerance_mm.0), gauge.resolution)),
                facts.seat.source.clone(),
            ))
        };
        let Ok(limits) = Limits::new(Some(-tolerance.0), Some(tolerance.0)) else { return finish(home) };
        match judge(by.0, &limits, u) {
            Ok(Judgement::NotConforming) => return shown(Call::of(Verdict::Stop, Situation::DepthOff { by, tolerance })),
            Ok(Judgement::Undecided) => {
                let better = decide_with(by.0, &limits, &shop.candidates(|g| g.depth, 1000.0)).map(|c| c.name.clone());
                return shown(Call::of(Verdict::Undecided, Situation::DepthUndecided { by, instrument: gauge.name.clone(), better }));
            }
            _ => home = shown(Call::of(Verdict::Go, Situation::Home { gap: Some(by) })),
        }
    }
    if left > 0 { finish(Call::of(Verdict::Undecided, Situation::HomeWaits { left })) } else { finish(home) }
}

#[cfg(test)]
#[path = "seat_tests.rs"]
mod tests;
