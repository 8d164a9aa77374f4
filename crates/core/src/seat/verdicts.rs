//! The calls on a fit.

use super::Fit;
use super::ways::housing_figure;
use crate::anatomy::SeatFacts;
use crate::call::{Amount, Call, Situation};
use crate::fit::clearance::ClearanceCall;
use crate::fit::{BRITTLE_HOOP_MPA, StressCall};
use crate::quantity::{Micrometres, Millimetres};
use crate::rules::HouseRules;
use crate::terms::{Method, Verdict};

/// What is said of a part that is pressed near or beyond its yield.
fn near_yield(part: &str, share: f64) -> Option<Call> {
    let verdict = match StressCall::of(share) {
        StressCall::Go => return None,
        StressCall::Warn => Verdict::LookAgain,
        StressCall::Stop => Verdict::Stop,
    };
    Some(Call::of(verdict, Situation::Yields { part: part.to_owned(), share }))
}

/// The calls on a fit, worst first.
#[expect(clippy::too_many_lines, reason = "the order of the checks is the rule")]
pub(super) fn judge_fit(f: &Fit, facts: &SeatFacts, rules: &HouseRules) -> Vec<Call> {
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
        calls.push(fit_limit(
            Call::of(Verdict::Stop, Situation::Spins { mean: f.interference.mean }).figure(small(f.interference.mean)),
        ));
    }
    let force = f.push().high;
    if f.interference.max.0 > 0.0 || f.in_housing.is_some() && f.enters_bore {
        let heat_helps = f.choices.iter().any(|c| c.possible && c.method != Method::Press);
        let verdict = if heat_helps { Verdict::LookAgain } else { Verdict::Stop };
        match &f.press_machine {
            Some((name, allowed)) if force.0 > allowed.0 => calls.push(
                Call::of(
                    verdict,
                    Situation::ForceOverPress { force, press: name.clone(), allowed: *allowed, heat_helps },
                )
                .figure(Amount::Force(force))
                .limit(
                    None,
                    Some(Amount::Force(*allowed)),
                    format!("{:.0} % of the press, house rule", rules.press_share * 100.0),
                ),
            ),
            None if !heat_helps => calls
                .push(Call::of(Verdict::Stop, Situation::NoPress { force, heat_helps }).figure(Amount::Force(force))),
            _ => {}
        }
        if f.grows_in_bore() {
            let room = Micrometres(-f.housing.max.0);
            calls.push(
                Call::of(Verdict::LookAgain, Situation::GrowsInBore { growth: f.growth, room }).figure(small(f.growth)),
            );
        } else if !f.heats {
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
                Call::of(
                    Verdict::LookAgain,
                    Situation::GripShort { seconds: grip, hands: rules.hands(), target: f.heat.target },
                )
                .figure(Amount::Time(grip))
                .limit(Some(Amount::Time(rules.hands())), None, "house rule"),
            );
        }
        if f.press.stress.hoop.0 > BRITTLE_HOOP_MPA {
            calls.push(Call::of(Verdict::LookAgain, Situation::RingStressHigh { hoop_mpa: f.press.stress.hoop.0 }));
        }
        calls.extend(near_yield("the shaft", f.press.stress.shaft_share));
        calls.extend(near_yield("the ring", f.press.stress.hub_share));
        if f.tube().is_none() && (!f.heats || f.grows_in_bore()) && f.interference.max.0 > 0.0 {
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
    // What the housing asks for is said where the ring meets it.
    if let Some(h) = f.in_housing.as_ref().filter(|_| f.enters_bore || f.interference.max.0 <= 0.0) {
        let warm = (h.warm.enough && f.choices.iter().any(|c| c.method == Method::WarmHousing && c.advised))
            .then_some(h.warm.target);
        let s = Situation::TightInHousing { mean: f.housing.mean, force: h.press.high.force, warm };
        calls.push(Call::of(Verdict::Go, s).figure(housing_figure(h)));
    }
    if let Some(h) = &f.in_housing {
        calls.extend(near_yield(&facts.housing_name, h.press.stress.hub_share));
    }
    if let Some(c) = &f.clearance {
        let group = f.group.clone();
        let limit = |call: Call| {
            call.limit(Some(small(Micrometres(0.0))), None, format!("ISO 5753-1 group {}", facts.bearing.clearance))
        };
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
            ClearanceCall::LookAgain => calls.push(limit(
                Call::of(Verdict::LookAgain, Situation::LittleClearance { left: c.left.0, group })
                    .figure(small(c.left.0)),
            )),
            ClearanceCall::Go => {}
        }
    }
    if calls.iter().all(|c| c.verdict == Verdict::Go) {
        let method = f.advised().unwrap_or(Method::Press);
        calls.push(fit_limit(
            Call::of(Verdict::Go, Situation::FitGood { mean: f.interference.mean, method })
                .figure(small(f.interference.mean)),
        ));
    }
    if let Some(c) = f.clearance.as_ref().filter(|c| c.large && c.call == ClearanceCall::Go) {
        calls.push(Call::of(Verdict::Go, Situation::MuchClearance { left: c.mean }).figure(small(c.mean)));
    }
    calls.sort_by_key(|c| std::cmp::Reverse(c.verdict));
    calls
}
