//! Ways to put a ring on: both fits are looked at, the shaft's and the housing's; and where every way is out, what
//! would open one.

use super::{Choice, Fit, Range, Shop};
use crate::anatomy::SeatFacts;
use crate::call::Amount;
use crate::fit::heat::{HeatTarget, default_slide, heat_target};
use crate::fit::lame::{PressAnswer, PressFit, press};
use crate::fit::{Material, School};
use crate::quantity::{Celsius, Micrometres, Newtons, Units, show};
use crate::refusal::Result;
use crate::rules::HouseRules;
use crate::terms::Method;

/// The outer ring in a bore that it is tight in.
#[derive(Debug, Clone, PartialEq)]
pub struct InHousing {
    /// Force that presses it in, through the outer ring.
    pub press: PressAnswer,
    /// What warming the housing has to do.
    pub warm: HeatTarget,
    /// Light metal grows twice as much as steel: it is warmed rather than forced.
    pub light: bool,
}

/// Forces of pushing the ring home, over every joint that it is pushed through at once.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Push {
    pub low: Newtons,
    pub mid: Newtons,
    pub high: Newtons,
    pub stop: Newtons,
}

impl Push {
    fn of(p: &PressAnswer) -> Self {
        Self { low: p.low.force, mid: p.mid.force, high: p.high.force, stop: p.stop_force }
    }
    fn and(self, o: Self) -> Self {
        let add = |a: Newtons, b: Newtons| Newtons(a.0 + b.0);
        Self {
            low: add(self.low, o.low),
            mid: add(self.mid, o.mid),
            high: add(self.high, o.high),
            stop: add(self.stop, o.stop),
        }
    }
}

/// Reckons the outer ring in its bore; none where it has clearance there.
pub(super) fn in_housing(
    facts: &SeatFacts,
    housing: &Range,
    school: School,
    shop: &Shop,
    cap: Celsius,
) -> Result<Option<InHousing>> {
    if housing.max.0 <= 0.0 {
        return Ok(None);
    }
    let model = PressFit {
        hub: facts.housing_material,
        shaft: Material::BearingSteel,
        shaft_bore: facts.inside().outer_raceway,
        school,
        friction: shop.rules.friction(),
        ..PressFit::ring_on_shaft(facts.bearing.outer, facts.housing_outside, facts.bearing.width)
    };
    let pressed = press(&model.interference(housing.min, housing.max))?;
    let d = facts.bearing.outer;
    let warm = heat_target(d, housing.max, shop.room(), facts.housing_material, default_slide(d), cap)?;
    Ok(Some(InHousing { press: pressed, warm, light: facts.housing_material == Material::Aluminium }))
}

/// How much the outside of the ring grows by the time its bore slides, on diameter.
pub(super) fn outside_growth(facts: &SeatFacts, target: Celsius, room: Celsius) -> Micrometres {
    Micrometres(Material::BearingSteel.expansion() * facts.bearing.outer.0 * 1000.0 * (target.0 - room.0))
}

impl Fit {
    fn tight_on_shaft(&self) -> bool {
        self.interference.max.0 > 0.0
    }
    /// Hot, it does not enter the bore that is there already.
    #[must_use]
    pub fn grows_in_bore(&self) -> bool {
        self.enters_bore && self.tight_on_shaft() && self.growth.0 + self.housing.max.0 > 0.0
    }
    /// What pushing it home cold takes: over the shaft, and into the bore at the same time where that is there already.
    #[must_use]
    pub fn push(&self) -> Push {
        let shaft = Push::of(&self.press);
        match &self.in_housing {
            Some(h) if !self.tight_on_shaft() => Push::of(&h.press),
            Some(h) if self.enters_bore => shaft.and(Push::of(&h.press)),
            _ => shaft,
        }
    }
    /// Where pressing stops: never above what the press may give.
    #[must_use]
    pub fn stop_at(&self) -> Newtons {
        let stop = self.push().stop;
        self.press_machine.as_ref().map_or(stop, |(_, allowed)| Newtons(stop.0.min(allowed.0)))
    }
    /// What is left to press when the housing is warm.
    #[must_use]
    pub fn push_into_warm(&self) -> Newtons {
        if self.tight_on_shaft() { self.press.high.force } else { Newtons(0.0) }
    }
    fn tool(&self) -> bool {
        // Through one ring by a tube that bears on it alone; both rings, or the outer one, take a plate or a ring of
        // their own.
        self.tube().is_some() || !self.tight_on_shaft() || self.enters_bore && self.in_housing.is_some()
    }
}

/// Least force through least risk: heat when it is enough, then press, then both. Light metal is warmed rather than
/// forced, and nothing is heated that has to enter a bore which is there already.
pub(super) fn choices(f: &Fit, rules: &HouseRules) -> Vec<Choice> {
    let tight = f.tight_on_shaft();
    let meets_housing = f.in_housing.as_ref().filter(|_| f.enters_bore || !tight);
    if !tight && meets_housing.is_none() {
        return vec![Choice { method: Method::Slide, possible: true, advised: true }];
    }
    let in_time = f.grip.is_none_or(|g| g.0 >= rules.hands_s);
    let blocked = f.grows_in_bore();
    let push = f.push().high;
    let can = |m| match m {
        Method::Heat => tight && f.heats && !blocked,
        Method::Press => f.press_can(push) && f.tool(),
        Method::HeatAndPress => tight && !f.heats && !blocked && f.press_can(f.rest_force) && f.tool(),
        Method::WarmHousing => {
            meets_housing.is_some_and(|h| h.warm.enough)
                && (!tight || f.press_can(f.push_into_warm()) && f.tube().is_some())
        }
        // The ring goes on the shaft by hand; the housing comes over it later.
        Method::Slide => !tight && !f.enters_bore,
    };
    let small = push.0 < 3000.0; // a hand press does it cleanly
    let light = meets_housing.is_some_and(|h| h.light);
    let order: Vec<Method> = if light && can(Method::WarmHousing) {
        vec![Method::WarmHousing, Method::Press]
    } else if meets_housing.is_some() {
        vec![Method::Press, Method::WarmHousing, Method::Slide]
    } else if small && can(Method::Press) && !(can(Method::Heat) && in_time) {
        vec![Method::Press, Method::Heat, Method::HeatAndPress]
    } else {
        vec![Method::Heat, Method::HeatAndPress, Method::Press]
    };
    let best = order.into_iter().find(|m| can(*m));
    let shown: Vec<Method> = [Method::Heat, Method::Press, Method::HeatAndPress, Method::WarmHousing, Method::Slide]
        .into_iter()
        .filter(|m| match m {
            Method::Heat | Method::HeatAndPress => tight,
            Method::Press => true,
            Method::WarmHousing => meets_housing.is_some(),
            Method::Slide => !tight && !f.enters_bore,
        })
        .collect();
    shown.into_iter().map(|method| Choice { method, possible: can(method), advised: best == Some(method) }).collect()
}

/// What would open a way where every way is out: sentences, the least effort first.
#[must_use]
pub fn ways(f: &Fit, facts: &SeatFacts, units: Units) -> Vec<String> {
    if f.choices.iter().any(|c| c.possible) {
        return Vec::new();
    }
    let um = |v: Micrometres| show::join(show::small(v, units));
    let temp = |c: Celsius| show::join(show::temperature(c, units));
    let force = |n: Newtons| show::join(show::force(n, units));
    let mut out = Vec::new();
    let push = f.push().high;
    if f.tube().is_none() && f.press_can(push) {
        out.push(
            "A tube that bears on the tight ring alone: its sizes stand with the call. Then it can be pressed cold."
                .into(),
        );
    }
    if f.grows_in_bore() && f.heats {
        // The bore has to take the ring as it grows, and leave it room to slide.
        let slide = default_slide(facts.bearing.outer);
        let need = f.growth.0 + f.housing.max.0 + slide.0;
        let to = f.room.0 + need / (facts.housing_material.expansion() * facts.bearing.outer.0 * 1000.0);
        if to <= f.heat.cap.0 {
            out.push(format!(
                "Warm {} to {} and the ring to {}: bore and ring then grow together.",
                facts.housing_name,
                temp(Celsius(to)),
                temp(f.heat.target)
            ));
        }
    }
    if let Some(h) = f.in_housing.as_ref().filter(|h| !h.warm.enough) {
        out.push(format!(
            "Warming {} would need {}, and the parts beside it allow {}.",
            facts.housing_name,
            temp(h.warm.needed),
            temp(h.warm.cap)
        ));
    }
    let needed = Newtons(push.0 / f.press_share.max(0.1));
    out.push(match &f.press_machine {
        Some((name, _)) if !f.press_can(push) => {
            format!(
                "Another press: {name} is too small, one of {} or more does it at {:.0} % of what it can.",
                force(needed),
                f.press_share * 100.0
            )
        }
        None => format!("A press of {} or more: the shop's list has none.", force(needed)),
        Some(_) => String::new(),
    });
    let over = f.interference.max.0 - f.drawn.1.0;
    if over > 0.0 {
        out.push(format!(
            "Take the journal down by at least {}: so much is it over what its class allows with this ring.",
            um(Micrometres(over))
        ));
    } else if f.interference.max.0 > 0.0 {
        out.push("Measure journal and ring again with the finest instrument: within its class it should go on.".into());
    }
    out.push("Overrule the call with a reason: then any way can be taken, on the word of who overrules it.".into());
    out.retain(|w| !w.is_empty());
    out
}

/// The force and temperature of a call on the housing.
pub(super) fn housing_figure(h: &InHousing) -> Amount {
    Amount::Force(h.press.high.force)
}
