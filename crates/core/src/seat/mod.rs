//! One bearing seat, judged: from readings to interference, force, heat, clearance, tools and the calls on them.

pub mod asks;
mod grid;
mod home;
pub mod steps;
mod verdicts;
mod ways;
pub mod worked;

use verdicts::judge_fit;
pub use ways::{InHousing, Push, ways};
use ways::{choices, in_housing, outside_growth};

pub use grid::{judge_grid, surface_limits};
pub use home::judge_home;

use crate::anatomy::SeatFacts;
use crate::call::Call;
use crate::call::Situation;
use crate::fit::clearance::{ClearanceLeft, FittedBearing, clearance_left};
use crate::fit::designation::{BearingType, Seals};
use crate::fit::heat::{
    COLD, Cooling, HeatTarget, STEEL_J_KGK, STILL_AIR_W_M2K, default_slide, grip_temperature, heat_target, least_slide,
    weakest_cap,
};
use crate::fit::lame::{PressAnswer, PressFit, press};
use crate::fit::rings::{self, ClearanceKind};
use crate::fit::tooling::{ForceThrough, InnerRingPush, Suit, Tube, force_through, tubes_for_inner_ring};
use crate::fit::{Material, School};
use crate::instrument::Candidate;
use crate::journal_sheet::{Feature, Grid, so_far};
use crate::quantity::{Celsius, Micrometres, Millimetres, Newtons, Seconds};
use crate::rules::HouseRules;
use crate::terms::Method;
use crate::terms::Surface;
use crate::terms::Verdict;
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
    pub fn reaches(&self, which: Surface, size: Millimetres) -> bool {
        (if which.outside() { self.outside } else { self.inside })
            && self.range.0.0 <= size.0
            && size.0 <= self.range.1.0
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
    /// Temperature of the shop.
    #[must_use]
    pub fn room(&self) -> Celsius {
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

/// Readings of one surface and what took them.
#[derive(Debug, Clone, PartialEq)]
pub struct Measured {
    /// Rows of stations.
    pub rows: Vec<Vec<Option<f64>>>,
    /// What stood in a place before it was read again; empty where nothing was.
    pub before: Vec<Vec<Option<f64>>>,
    /// The instrument with the largest uncertainty that was used.
    pub gauge: Gauge,
    /// Names of overdue instruments that were used.
    pub overdue: Vec<String>,
}

impl Measured {
    /// A place that was read again and said the same, as far as the instrument can tell.
    #[must_use]
    pub fn confirmed(&self, station: usize, plane: usize) -> bool {
        let at = |rows: &[Vec<Option<f64>>]| rows.get(station).and_then(|r| r.get(plane)).copied().flatten();
        at(&self.rows).zip(at(&self.before)).is_some_and(|(now, was)| (now - was).abs() <= 2.0 * self.gauge.u.0)
    }
    /// Cells still empty.
    #[must_use]
    pub fn left(&self) -> usize {
        self.rows.iter().flatten().filter(|v| v.is_none()).count()
    }
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
    /// What the pressing was reckoned with.
    pub model: PressFit,
    /// The outer ring in its bore, where it is tight there.
    pub in_housing: Option<InHousing>,
    /// The bore is there already when the ring goes on.
    pub enters_bore: bool,
    /// By how much the outside of the ring grows when it is hot.
    pub growth: Micrometres,
    /// Air of the shop.
    pub room: Celsius,
    /// Share of a press that may be used.
    pub press_share: f64,
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
    /// How it cools in still air; none when it is no warmer than the room.
    pub cooling: Option<Cooling>,
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

fn grid_of(m: Option<&Measured>, surface: Feature) -> Option<Grid> {
    m.and_then(|m| so_far(&m.rows, surface, m.gauge.u.um()))
}

/// The fit, or what it waits for.
///
/// # Errors
/// The call that says which surface is not measured yet, or why it cannot be reckoned.
#[expect(clippy::too_many_lines, reason = "one chain from readings to verdict: each figure rests on those above it")]
pub fn fit(facts: &SeatFacts, surfaces: &Surfaces, shop: &Shop) -> Result<Fit, Box<Call>> {
    let (journal, bore) =
        (grid_of(surfaces.journal.as_ref(), Feature::Journal), grid_of(surfaces.ring_bore.as_ref(), Feature::Bore));
    let (Some(journal), Some(bore)) = (&journal, &bore) else {
        return Err(Box::new(Call::of(
            Verdict::Undecided,
            Situation::FitWaits { journal: journal.is_none(), bore: bore.is_none() },
        )));
    };
    let refused = |e: crate::Refusal| {
        Box::new(Call::of(Verdict::LookAgain, Situation::CannotReckon { field: e.field, why: e.message }))
    };
    let interference = Range::between(journal, bore);
    let measured_housing = grid_of(surfaces.housing_bore.as_ref(), Feature::Bore)
        .zip(grid_of(surfaces.ring_outside.as_ref(), Feature::Journal));
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
        friction: rules.friction(),
        ring_hotter: facts.seat.inner_hotter_k,
        ..PressFit::ring_on_shaft(facts.bearing.d, inside.inner_raceway, facts.bearing.width)
    };
    let model = model.interference(interference.min, interference.max);
    let pressed = press(&model).map_err(refused)?;

    let (mut cap, mut weakest) =
        weakest_cap(facts.seat.cage, facts.bearing.seals.greased(), &facts.bearing.class, rules.sealed_cap());
    if rules.open_cap_c < cap.0 {
        (cap, weakest) = (Celsius(rules.open_cap_c), "house rules");
    }
    if facts.bearing.seals == Seals::Unknown && cap == rules.sealed_cap() {
        weakest = "grease and seals that it may have";
    }
    let room = shop.room();
    let heat = heat_target(
        facts.bearing.d,
        interference.max,
        room,
        Material::BearingSteel,
        default_slide(facts.bearing.d),
        cap,
    )
    .map_err(refused)?;
    let grip_at = grip_temperature(facts.bearing.d, interference.max, room, Material::BearingSteel);
    let cooling =
        Cooling::from_mass(room, heat.target, facts.mass_g(), facts.area_mm2(), STILL_AIR_W_M2K, STEEL_J_KGK).ok();
    // What is left to press counts what the ring loses on its way from the heater: the hands' time in still air.
    let there = cooling.map_or(room, |c| c.at(rules.hands()));
    let left = Micrometres(
        interference.max.0 - Material::BearingSteel.expansion() * facts.bearing.d.0 * 1000.0 * (there - room).0,
    );
    let left = Micrometres(left.0.clamp(0.0, interference.max.0.max(0.0)));
    let rest = press(
        &PressFit { school: School::Roughness { rz_inner: Micrometres(0.0), rz_outer: Micrometres(0.0) }, ..model }
            .interference(left, left),
    )
    .map_err(refused)?;

    let kind = match facts.bearing.kind {
        BearingType::DeepGroove => Some(ClearanceKind::DeepGroove),
        BearingType::CylindricalRoller => Some(ClearanceKind::CylindricalRoller),
        BearingType::SelfAligningBall => Some(ClearanceKind::SelfAligningBall),
        _ => None,
    };
    let clearance =
        kind.and_then(|k| rings::clearance(k, facts.bearing.d, &facts.bearing.clearance).ok()).and_then(|group| {
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
    let spare = Micrometres(
        Material::BearingSteel.expansion() * facts.bearing.d.0 * 1000.0 * (heat.target - room).0 - interference.max.0,
    );
    let mut f = Fit {
        spare,
        heats: heat.enough || spare.0 >= least_slide(facts.bearing.d).0,
        drawn: facts.drawn_interference(),
        housing_from_limits: measured_housing.is_none(),
        press: pressed,
        model,
        in_housing: in_housing(facts, &housing, school, shop, cap).map_err(refused)?,
        enters_bore: facts.enters_bore,
        growth: outside_growth(facts, heat.target, room),
        room,
        press_share: rules.press_share,
        press_machine: shop.strongest().map(|p| (p.name.clone(), Newtons(p.capacity.0 * rules.press_share))),
        weakest,
        grip: cooling.and_then(|c| c.until(grip_at)),
        cooling,
        cool: cooling.and_then(|c| c.until(room + COLD)),
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
    let overdue: Vec<String> =
        [&surfaces.journal, &surfaces.ring_bore].into_iter().flatten().flat_map(|m| m.overdue.clone()).collect();
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

#[cfg(test)]
mod tests;
