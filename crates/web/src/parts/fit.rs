//! The fit of a seat, ready to be shown: interference, force, heat, clearance, tools, ways to put it on.

use crate::parts::call::why_of_seat;
use askama::Template;
use ironseat_core::anatomy::SeatFacts;
use ironseat_core::fit::tooling::{ForceThrough, WhyNot};
use ironseat_core::quantity::{Micrometres, Millimetres, Units, show};
use ironseat_core::seat::{Fit, ways};
use ironseat_core::terms::Method;
use ironseat_store::RebuildId;

/// A way to put the ring on.
#[derive(Debug)]
pub struct ChoiceView {
    pub key: &'static str,
    pub words: &'static str,
    pub possible: bool,
    pub advised: bool,
    pub note: String,
}

/// A tube and whether it fits.
#[derive(Debug)]
pub struct TubeView {
    pub name: String,
    pub fits: bool,
    pub note: String,
}

/// The fit in a person's units.
#[derive(Debug)]
pub struct FitView {
    pub kind: &'static str,
    pub min: String,
    pub mean: String,
    pub max: String,
    pub unit: &'static str,
    pub drawn: String,
    pub force_low: String,
    pub force_mid: String,
    pub force_high: String,
    pub force_unit: &'static str,
    pub press: String,
    pub press_ok: bool,
    pub stop_force: String,
    /// What the housing is warmed to where the ring is tight in it.
    pub warm_to: String,
    pub needed: String,
    pub cap: String,
    pub weakest: &'static str,
    pub heat_ok: bool,
    pub grip: String,
    pub left: String,
    pub left_note: String,
    pub left_ok: bool,
    pub through: &'static str,
    pub tubes: Vec<TubeView>,
    pub choices: Vec<ChoiceView>,
    /// What would open a way, where every way to put the ring on is out.
    pub ways: Vec<String>,
    pub estimated: String,
    /// Address of *Why* with this seat's numbers.
    pub why: String,
}

impl FitView {
    /// Builds it.
    #[expect(clippy::too_many_lines, reason = "the lines of a fit in their order")]
    pub fn of(f: &Fit, facts: &SeatFacts, units: Units, rebuild: RebuildId) -> Self {
        let um = |v: Micrometres| show::join(show::signed(v, units));
        let push = f.push();
        let (low, mid, high) = (push.low, push.mid, push.high);
        let big = show::force(high, units);
        let ([force_low, force_mid, force_high], force_unit) = show::forces([low, mid, high], units);
        let signed = |v| show::signed(v, units).0;
        let kind = match f.drawn {
            (lo, hi) if lo.get() > 0.0 && hi.get() > 0.0 => "interference fit",
            (lo, hi) if lo.get() <= 0.0 && hi.get() <= 0.0 => "clearance fit",
            _ => "transition fit",
        };
        let (press, press_ok) = match &f.press_machine {
            Some((name, allowed)) => {
                (format!("{name}: up to {}", show::join(show::force(*allowed, units))), high.get() <= allowed.get())
            }
            None => ("no press in the shop's list".into(), false),
        };
        let temp = |c| show::join(show::temperature(c, units));
        let clearance = f.clearance.as_ref();
        Self {
            why: why_of_seat(rebuild, &facts.seat.id),
            kind,
            min: signed(f.interference.min),
            mean: signed(f.interference.mean),
            max: signed(f.interference.max),
            unit: show::small(f.interference.mean, units).1,
            drawn: format!(
                "{} … {} by {} and ring class {}",
                um(f.drawn.0),
                um(f.drawn.1),
                facts.seat.shaft_class,
                facts.bearing.class
            ),
            force_low,
            force_mid,
            force_high,
            force_unit,
            press,
            press_ok,
            stop_force: show::join(show::force(f.stop_at(), units)),
            warm_to: f.in_housing.as_ref().map_or(String::new(), |h| temp(h.warm.target)),
            needed: temp(f.heat.needed),
            cap: temp(f.heat.cap),
            weakest: f.weakest,
            heat_ok: f.heats,
            grip: f.grip.map_or(String::new(), |g| {
                if g.get() < 180.0 {
                    format!("{:.0} s", g.get())
                } else {
                    format!("{:.0} min", (g.get() / 60.0).floor())
                }
            }),
            left: clearance.map_or(String::new(), |c| format!("{} … {}", signed(c.left.0), um(c.left.1))),
            left_note: clearance.map_or_else(
                || {
                    if facts.seat.preload_meant {
                        "set by preload, not by this fit".into()
                    } else {
                        "not tabled for this type".into()
                    }
                },
                |_| {
                    format!(
                        "group {}{}",
                        facts.bearing.clearance,
                        if f.housing_from_limits { ", housing by its drawing" } else { "" }
                    )
                },
            ),
            left_ok: clearance.is_none_or(|c| c.call != ironseat_core::fit::clearance::ClearanceCall::Stop),
            through: match f.through {
                ForceThrough::InnerRing => "the inner ring, and only that one",
                ForceThrough::OuterRing => "the outer ring, and only that one",
                ForceThrough::BothRings => "a plate on both rings: both are tight",
                ForceThrough::Neither => "none: it slides on by hand",
            },
            tubes: f
                .tubes
                .iter()
                .map(|t| {
                    let size = |v: Millimetres| show::join(show::size(v, Millimetres::of(0.1), units));
                    TubeView {
                        name: t.tube.name.clone(),
                        fits: t.why_not.is_none(),
                        note: match t.why_not {
                            None => format!("covers {:.0} % of the face", t.cover * 100.0),
                            Some(WhyNot::TooNarrow(v)) => format!("bore under {}", size(v)),
                            Some(WhyNot::TooWide(v)) => format!("over the shoulder, {}", size(v)),
                            Some(WhyNot::TooShort(v)) => format!("shorter than {}", size(v)),
                        },
                    }
                })
                .collect(),
            choices: f
                .choices
                .iter()
                .map(|c| ChoiceView {
                    key: c.method.key(),
                    words: c.method.words(),
                    possible: c.possible,
                    advised: c.advised,
                    note: match c.method {
                        Method::Heat if c.possible => {
                            format!(
                                "to {}, {} to slide with",
                                temp(f.heat.target),
                                show::join(show::small(f.spare, units))
                            )
                        }
                        Method::Heat if f.grows_in_bore() => "hot, it would not enter its bore".into(),
                        Method::Heat => format!("needs {}, cap {}", temp(f.heat.needed), temp(f.heat.cap)),
                        Method::Press if c.possible => format!("up to {}", show::join(big.clone())),
                        Method::Press if f.tube().is_none() => "no tube fits".into(),
                        Method::Press => "too much for the press".into(),
                        Method::HeatAndPress if c.possible => {
                            format!("{}, then up to {}", temp(f.heat.cap), show::join(show::force(f.rest_force, units)))
                        }
                        Method::HeatAndPress if f.grows_in_bore() => "hot, it would not enter its bore".into(),
                        Method::HeatAndPress if f.heats => "not needed".into(),
                        Method::HeatAndPress => "press or tube will not do the rest".into(),
                        Method::Slide => "there is clearance on the shaft".into(),
                        Method::WarmHousing => f.in_housing.as_ref().map_or(String::new(), |h| {
                            let rest = f.push_into_warm();
                            let then = if rest.get() > 0.0 {
                                format!(", then press up to {}", show::join(show::force(rest, units)))
                            } else {
                                String::new()
                            };
                            if c.possible {
                                format!("{} to {}{then}", facts.housing_name, temp(h.warm.target))
                            } else {
                                format!("needs {}, cap {}", temp(h.warm.needed), temp(h.warm.cap))
                            }
                        }),
                    },
                })
                .collect(),
            ways: ways(f, facts, units),
            estimated: f.estimated.join("; "),
        }
    }
}

/// The figures of a fit.
#[derive(Template)]
#[template(path = "parts/_fit.html")]
pub struct Figures<'a> {
    f: &'a FitView,
}

/// See [`Figures`].
pub fn figures(f: &FitView) -> Figures<'_> {
    Figures { f }
}
