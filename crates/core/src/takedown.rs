//! Getting things off (docs/trade.md, Taking apart).

use crate::caution::Caution;
use serde::{Deserialize, Serialize};

/// What is stuck.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Stuck {
    WholeBearing,
    InnerRing,
    OuterRingThroughBore,
    OuterRingBlindBore,
    Bush,
    Collar,
    Seal,
}

/// On which side it is tight.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum TightOn {
    Shaft,
    Housing,
    Both,
}

/// What may be heated, and what not.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(default)]
#[allow(missing_docs)]
pub struct Nearby {
    pub seal_track: bool,
    pub other_seat: bool,
    /// Gas, fuel, or vapour of grease or solvent: no flame, no spark, nothing red-hot.
    pub gas_or_fuel: bool,
    pub windings: bool,
    pub paint_or_seals: bool,
}

/// The facts that the advisor asks for.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct Facts {
    pub stuck: Stuck,
    pub tight: TightOn,
    pub reuse: bool,
    /// Room behind the inner ring for jaws or a splitter.
    pub behind_inner: bool,
    /// The outer ring can be got hold of.
    pub outer_reachable: bool,
    /// Can be laid on plates under the right ring in a press.
    pub fits_press: bool,
    pub light_housing: bool,
    pub rust: bool,
    pub oil_grooves: bool,
    pub cylindrical_roller: bool,
    /// Welding is allowed and someone licensed for it is there.
    pub welding: bool,
    /// A hollow space behind that holds pressure, as behind a blind bush.
    pub space_behind: bool,
    #[serde(default)]
    pub nearby: Nearby,
}

/// A way of getting it off.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Method {
    Press,
    PullInner,
    PullThroughOuter,
    PenetrateAndWait,
    HeatHousing,
    InductionRing,
    OilInjection,
    SlotAndChisel,
    BurrFromInside,
    WeldBeads,
    SlideHammer,
    HydraulicGrease,
}

impl Method {
    const ALL: [Self; 12] = [
        Self::Press,
        Self::PullInner,
        Self::PullThroughOuter,
        Self::PenetrateAndWait,
        Self::HeatHousing,
        Self::InductionRing,
        Self::OilInjection,
        Self::SlotAndChisel,
        Self::BurrFromInside,
        Self::WeldBeads,
        Self::SlideHammer,
        Self::HydraulicGrease,
    ];

    /// As said.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::Press => "press on the shaft, ring supported beneath",
            Self::PullInner => "puller on the inner ring",
            Self::PullThroughOuter => "puller through the outer ring",
            Self::PenetrateAndWait => "penetrating oil or wax into the warm joint, and time",
            Self::HeatHousing => "heat the housing, cool the ring",
            Self::InductionRing => "induction ring or hot sleeve",
            Self::OilInjection => "oil injection",
            Self::SlotAndChisel => "slot the ring nearly through, then a chisel",
            Self::BurrFromInside => "slot the outer ring from inside with a burr",
            Self::WeldBeads => "weld beads round the outer ring",
            Self::SlideHammer => "slide hammer on hooked or welded tabs",
            Self::HydraulicGrease => "grease and a close plunger behind it",
        }
    }

    /// What to do, in order.
    #[must_use]
    pub fn steps(self) -> &'static [&'static str] {
        match self {
            Self::Press => &[
                "Lay the ring, not the casting, on two plates.",
                "Set a pusher smaller than the bore on the shaft.",
                "Catch the shaft and press; stop at the removal force.",
            ],
            Self::PullInner => &[
                "Close the splitter behind the ring until it only just touches: it must not bite the shaft.",
                "Set the screw in line and the jaws parallel.",
                "Turn the outer ring while pulling: it turns freely when the balls carry nothing.",
            ],
            Self::PullThroughOuter => &["Hook the outer ring.", "Pull in line.", "Mark the bearing scrap at once."],
            Self::PenetrateAndWait => &[
                "Take loose rust off first.",
                "Warm the joint, let oil or wax be drawn in.",
                "Wait, set the clock, try again.",
            ],
            Self::HeatHousing => &[
                "Warm the housing evenly, by oven or hot air.",
                "Turn it over: the ring drops, or comes with a light blow.",
                "Mind the cap of what is near.",
            ],
            Self::InductionRing => &[
                "Slip the hot ring over the inner ring.",
                "As soon as it moves, draw it off: the shaft must not warm.",
                "Demagnetise.",
            ],
            Self::OilInjection => &[
                "Leave the stop nut on, two turns back.",
                "Pump until oil shows at the edge.",
                "Let it jump against the nut. Expansion pressure off first; the push, where there is one, last.",
            ],
            Self::SlotAndChisel => &[
                "Guard the shaft beside it with sheet.",
                "Grind a slot along the axis nearly through, leave the last tenth.",
                "Turn a chisel in the slot: the ring springs open.",
            ],
            Self::BurrFromInside => &[
                "Burr a slot from inside along the bore, with oil.",
                "Stop at the last skin: it springs free.",
                "Take every chip out.",
            ],
            Self::WeldBeads => &[
                "Isolate electronics, clamp the earth on the ring itself.",
                "Lay two beads round the raceway.",
                "Let it cool and shrink, draw it out.",
            ],
            Self::SlideHammer => {
                &["Hook the lip, or weld tabs where welding is allowed.", "Short, even blows in line."]
            }
            Self::HydraulicGrease => &[
                "Fill the space behind with grease, no air.",
                "Set a close plunger, cover it with cloth.",
                "Press or strike it: the bush walks out.",
            ],
        }
    }

    /// What it scraps.
    #[must_use]
    pub fn scraps(self, f: &Facts) -> bool {
        match self {
            Self::PullThroughOuter | Self::SlotAndChisel | Self::BurrFromInside | Self::WeldBeads => true,
            Self::PullInner | Self::Press => f.stuck == Stuck::WholeBearing && f.tight == TightOn::Housing,
            _ => f.stuck == Stuck::Seal,
        }
    }

    /// Cautions to show before it.
    #[must_use]
    pub fn cautions(self) -> &'static [Caution] {
        match self {
            Self::Press => &[Caution::Press],
            Self::PullInner | Self::PullThroughOuter | Self::SlideHammer => &[Caution::Burst],
            Self::HeatHousing | Self::InductionRing => &[Caution::Hot],
            Self::OilInjection | Self::HydraulicGrease => &[Caution::Injection],
            Self::SlotAndChisel | Self::BurrFromInside => &[Caution::Grinding],
            Self::WeldBeads => &[Caution::Welding, Caution::Hot],
            Self::PenetrateAndWait => &[Caution::Solvent],
        }
    }
}

/// A method with its place in the ranking.
#[derive(Debug, Clone, PartialEq)]
pub struct Ranked {
    /// Surface.
    pub method: Method,
    /// The higher, the better.
    pub score: i32,
    /// Why here.
    pub why: Vec<&'static str>,
    /// The part is scrap afterwards.
    pub scraps: bool,
}

/// A method that is out, and why.
pub type Out = (Method, &'static str);

/// Ranks the methods for the facts: (what can be done, best first; what cannot, with the reason). Least harm first:
/// what keeps a part that is to be used again, then what keeps the surfaces, then what is quick. Source: docs/trade.md,
/// Taking apart.
///
/// ```
/// use ironseat_core::takedown::{Facts, Method, Nearby, Stuck, TightOn, rank};
/// let facts = Facts { stuck: Stuck::InnerRing, tight: TightOn::Shaft, reuse: false, behind_inner: false, outer_reachable: false,
///     fits_press: false, light_housing: false, rust: false, oil_grooves: false, cylindrical_roller: false, welding: false,
///     space_behind: false, nearby: Nearby { seal_track: true, ..Nearby::default() } };
/// let (ranked, _) = rank(&facts);
/// assert_eq!(ranked.last().unwrap().method, Method::SlotAndChisel);
/// assert!(ranked.last().unwrap().why.iter().any(|w| w.contains("seal track")));
/// ```
#[must_use]
pub fn rank(f: &Facts) -> (Vec<Ranked>, Vec<Out>) {
    let mut ranked = Vec::new();
    let mut out = Vec::new();
    for method in Method::ALL {
        match consider(method, f) {
            Ok((base, mut why)) => {
                let scraps = method.scraps(f);
                let mut score = base;
                if scraps && f.reuse {
                    score -= 60;
                    why.push("scraps a part that is to be used again: only when nothing else is left");
                }
                ranked.push(Ranked { method, score, why, scraps });
            }
            Err(reason) => out.push((method, reason)),
        }
    }
    ranked.sort_by_key(|r| std::cmp::Reverse(r.score));
    (ranked, out)
}

/// Whether a method can be used, how well, and why.
#[expect(clippy::too_many_lines, reason = "the ways of taking off weighed beside each other")]
fn consider(method: Method, f: &Facts) -> Result<(i32, Vec<&'static str>), &'static str> {
    let on_shaft = f.tight != TightOn::Housing
        && !matches!(f.stuck, Stuck::OuterRingThroughBore | Stuck::OuterRingBlindBore | Stuck::Bush);
    let in_housing = f.tight != TightOn::Shaft && !matches!(f.stuck, Stuck::InnerRing | Stuck::Collar);
    let outer = matches!(f.stuck, Stuck::OuterRingThroughBore | Stuck::OuterRingBlindBore);
    let no_heat = f.nearby.gas_or_fuel;
    let both = f.stuck == Stuck::WholeBearing && f.tight == TightOn::Both;
    let mut why = Vec::new();
    let mut score: i32;
    match method {
        Method::Press => {
            if !f.fits_press {
                return Err("it cannot be laid on plates under the right ring");
            }
            if both {
                return Err(
                    "tight on both rings: no support takes both at once, so the force would go through the balls; free one ring first",
                );
            }
            score = 90;
            why.push("even force, in line, and the force can be watched");
        }
        Method::PullInner => {
            if !on_shaft {
                return Err("it is not tight on a shaft");
            }
            if !f.behind_inner {
                return Err("there is no room behind the inner ring");
            }
            if both {
                return Err(
                    "the outer ring is tight as well: pulled by the inner one, the force goes through the balls; free the outer ring first",
                );
            }
            score = 80;
            why.push("the force goes through the tight ring only");
        }
        Method::PullThroughOuter => {
            if !on_shaft || f.stuck != Stuck::WholeBearing {
                return Err("only a whole bearing on a shaft can be pulled through its balls");
            }
            if !f.outer_reachable {
                return Err("the outer ring cannot be got hold of");
            }
            score = 40;
            why.push("reaches when nothing else does; the balls dent the raceways");
        }
        Method::PenetrateAndWait => {
            score = if f.rust { 85 } else { 30 };
            why.push(if f.rust {
                "rust holds it: time and oil cost nothing and save the seat"
            } else {
                "helps every other method"
            });
        }
        Method::HeatHousing => {
            if !in_housing {
                return Err("it is not tight in a housing");
            }
            if no_heat {
                return Err("gas or fuel is near: no heat");
            }
            score = if f.light_housing { 95 } else { 35 };
            why.push(if f.light_housing {
                "light metal grows twice as much as the ring: it lets go by itself"
            } else {
                "iron grows no more than the ring: only heat that does not reach the ring helps"
            });
            if f.nearby.windings || f.nearby.paint_or_seals {
                score -= 30;
                why.push("windings, paint or seals near it cap the heat");
            }
        }
        Method::InductionRing => {
            if !(f.stuck == Stuck::InnerRing || f.stuck == Stuck::Collar) || !on_shaft {
                return Err("only a ring on a shaft can be warmed before the shaft is");
            }
            if no_heat {
                return Err("gas or fuel is near: no heat");
            }
            score = if f.cylindrical_roller { 95 } else { 60 };
            why.push(if f.cylindrical_roller {
                "made for rings without lips: quick and harmless"
            } else {
                "quick, before the shaft warms"
            });
        }
        Method::OilInjection => {
            if !f.oil_grooves {
                return Err("the shaft is not prepared with oil ducts");
            }
            score = 97;
            why.push("parts the surfaces: no force, no harm to the seat");
        }
        Method::SlotAndChisel => {
            if !on_shaft || !matches!(f.stuck, Stuck::InnerRing | Stuck::Collar | Stuck::WholeBearing) {
                return Err("there is no ring on a shaft to slot");
            }
            if no_heat {
                return Err("gas or fuel is near: no sparks");
            }
            score = 15;
            why.push("works when nothing else does");
            if f.nearby.seal_track || f.nearby.other_seat {
                score -= 8;
                why.push("a seal track or seat lies beside it: slot along the axis, guard it with sheet");
            }
        }
        Method::BurrFromInside => {
            if !outer && f.stuck != Stuck::Bush {
                return Err("there is no ring in a bore to slot");
            }
            if no_heat {
                return Err("gas, fuel or vapour is near: no sparks");
            }
            score = if f.light_housing { 40 } else { 25 };
            why.push("stop at the last skin and the bore stays whole");
        }
        Method::WeldBeads => {
            if !outer {
                return Err("only an outer ring of steel shrinks on its beads");
            }
            if !f.welding {
                return Err("no welding here");
            }
            if no_heat || f.nearby.windings {
                return Err("gas, fuel or windings are near: no welding");
            }
            score = if f.stuck == Stuck::OuterRingBlindBore { 70 } else { 45 };
            why.push("the ring shrinks as the beads cool and comes out by hand");
        }
        Method::SlideHammer => {
            if !(outer || matches!(f.stuck, Stuck::Bush | Stuck::Seal)) {
                return Err("nothing in a bore to hook");
            }
            score = if f.stuck == Stuck::OuterRingBlindBore || f.stuck == Stuck::Seal { 55 } else { 35 };
            why.push("reaches into a bore that is closed behind");
        }
        Method::HydraulicGrease => {
            if !f.space_behind || !matches!(f.stuck, Stuck::Bush | Stuck::OuterRingBlindBore) {
                return Err("there is no closed space behind it");
            }
            score = 75;
            why.push("even pressure behind it, nothing touches the bore");
        }
    }
    Ok((score, why))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn facts(stuck: Stuck, tight: TightOn) -> Facts {
        Facts {
            stuck,
            tight,
            reuse: false,
            behind_inner: true,
            outer_reachable: true,
            fits_press: false,
            light_housing: false,
            rust: false,
            oil_grooves: false,
            cylindrical_roller: false,
            welding: true,
            space_behind: true,
            nearby: Nearby::default(),
        }
    }

    fn first(f: &Facts) -> Method {
        rank(f).0[0].method
    }

    #[test]
    fn the_best_way_does_the_least_harm() {
        assert_eq!(first(&facts(Stuck::InnerRing, TightOn::Shaft)), Method::PullInner);
        assert_eq!(first(&Facts { fits_press: true, ..facts(Stuck::WholeBearing, TightOn::Shaft) }), Method::Press);
        assert_eq!(first(&Facts { oil_grooves: true, ..facts(Stuck::Collar, TightOn::Shaft) }), Method::OilInjection);
        assert_eq!(
            first(&Facts { light_housing: true, ..facts(Stuck::OuterRingThroughBore, TightOn::Housing) }),
            Method::HeatHousing
        );
        assert_eq!(
            first(&Facts { cylindrical_roller: true, ..facts(Stuck::InnerRing, TightOn::Shaft) }),
            Method::InductionRing
        );
        assert_eq!(first(&facts(Stuck::Bush, TightOn::Housing)), Method::HydraulicGrease);
        let rusty = Facts { rust: true, behind_inner: false, ..facts(Stuck::InnerRing, TightOn::Shaft) };
        assert_eq!(first(&rusty), Method::PenetrateAndWait);
    }

    #[test]
    fn nothing_hot_near_gas_and_every_method_is_ranked_or_told_why_not() {
        for stuck in [
            Stuck::WholeBearing,
            Stuck::InnerRing,
            Stuck::OuterRingThroughBore,
            Stuck::OuterRingBlindBore,
            Stuck::Bush,
            Stuck::Collar,
            Stuck::Seal,
        ] {
            for tight in [TightOn::Shaft, TightOn::Housing, TightOn::Both] {
                let f = Facts { nearby: Nearby { gas_or_fuel: true, ..Nearby::default() }, ..facts(stuck, tight) };
                let (ranked, out) = rank(&f);
                assert_eq!(ranked.len() + out.len(), Method::ALL.len());
                assert!(ranked.iter().all(|r| !matches!(
                    r.method,
                    Method::HeatHousing
                        | Method::InductionRing
                        | Method::SlotAndChisel
                        | Method::BurrFromInside
                        | Method::WeldBeads
                )));
                assert!(
                    ranked
                        .iter()
                        .all(|r| !r.why.is_empty() && !r.method.steps().is_empty() && !r.method.cautions().is_empty())
                );
            }
        }
    }

    /// Every way can be the answer somewhere, and says how it is done and what can hurt.
    #[test]
    fn every_method_is_offered_to_somebody_with_its_steps_and_cautions() {
        let mut offered = std::collections::BTreeMap::new();
        let stuck = [
            Stuck::WholeBearing,
            Stuck::InnerRing,
            Stuck::OuterRingThroughBore,
            Stuck::OuterRingBlindBore,
            Stuck::Bush,
            Stuck::Collar,
            Stuck::Seal,
        ];
        for (stuck, bits) in stuck.into_iter().flat_map(|s| (0..16u8).map(move |bits| (s, bits))) {
            let bit = |n: u8| bits >> n & 1 == 1;
            let f = facts(stuck, if bit(3) { TightOn::Shaft } else { TightOn::Housing });
            let f = Facts {
                light_housing: bit(0),
                fits_press: bit(1),
                rust: bit(2),
                oil_grooves: bit(1),
                cylindrical_roller: true,
                ..f
            };
            for r in rank(&f).0 {
                offered.insert(r.method.name(), r.method);
            }
        }
        assert_eq!(offered.len(), Method::ALL.len(), "{:?}", offered.keys());
        for (name, m) in offered {
            assert!(
                m.steps().iter().all(|s| s.ends_with('.') && s.chars().next().is_some_and(char::is_uppercase)),
                "{name}"
            );
            assert!(!m.cautions().is_empty(), "{name}");
        }
        let hot =
            |m: Method| m.cautions().iter().any(|c| matches!(c, Caution::Hot | Caution::Grinding | Caution::Welding));
        assert!(
            [Method::HeatHousing, Method::InductionRing, Method::SlotAndChisel, Method::WeldBeads].into_iter().all(hot)
        );
    }

    #[test]
    fn what_lies_near_caps_heat_and_guards_the_slot() {
        let near = |n: Nearby| Facts {
            nearby: n,
            light_housing: true,
            ..facts(Stuck::OuterRingThroughBore, TightOn::Housing)
        };
        let score = |f: &Facts| {
            rank(f).0.iter().find(|r| r.method == Method::HeatHousing).map(|r| (r.score, r.why.join(" "))).unwrap()
        };
        let (free, _) = score(&near(Nearby::default()));
        for n in [Nearby { windings: true, ..Nearby::default() }, Nearby { paint_or_seals: true, ..Nearby::default() }]
        {
            let (capped, why) = score(&near(n));
            assert!(capped < free && why.contains("cap the heat"));
        }
        let blind = Facts { outer_reachable: false, ..facts(Stuck::WholeBearing, TightOn::Shaft) };
        assert!(rank(&blind).1.iter().any(|(m, why)| *m == Method::PullThroughOuter && why.contains("got hold of")));
        let unlicensed = Facts { welding: false, ..facts(Stuck::OuterRingBlindBore, TightOn::Housing) };
        assert!(rank(&unlicensed).1.iter().any(|(m, why)| *m == Method::WeldBeads && why.contains("no welding here")));
    }

    #[test]
    fn tight_on_both_rings_no_force_goes_through_one_of_them() {
        let f = Facts { fits_press: true, ..facts(Stuck::WholeBearing, TightOn::Both) };
        let (ranked, out) = rank(&f);
        assert!(ranked.iter().all(|r| !matches!(r.method, Method::Press | Method::PullInner)));
        assert!(out.iter().any(|(m, why)| *m == Method::PullInner && why.contains("through the balls")));
        let through = ranked.iter().find(|r| r.method == Method::PullThroughOuter).unwrap();
        assert!(through.scraps);
    }

    #[test]
    fn a_part_to_be_used_again_is_scrapped_last() {
        let f = Facts { reuse: true, ..facts(Stuck::WholeBearing, TightOn::Shaft) };
        let (ranked, _) = rank(&f);
        let at = |m| ranked.iter().position(|r| r.method == m).unwrap();
        assert!(at(Method::PullInner) < at(Method::PullThroughOuter));
        let keeps = ranked.iter().rposition(|r| !r.scraps).unwrap();
        let scraps = ranked.iter().position(|r| r.scraps).unwrap();
        assert!(keeps < scraps, "{ranked:?}");
    }
}
