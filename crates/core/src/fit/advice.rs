//! Fit advice by load: which class for the shaft, which for the housing, and why (docs/trade.md, Fits and heat; the
//! usual ISO practice).

use crate::quantity::Millimetres;
use crate::refusal::{Result, expect};

/// Which ring turns relative to the load.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Turning {
    /// The load stands still, the shaft turns: the common case.
    Inner,
    /// The load stands still, the housing turns; or the load turns with the shaft.
    Outer,
    /// Not to be told: out of balance, shock.
    Either,
}

/// Kind of rolling element: rollers want a step tighter.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Elements {
    Balls,
    Rollers,
}

/// What the bearing has to do.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Duty {
    pub d: Millimetres,
    pub turning: Turning,
    pub elements: Elements,
    /// Load over dynamic rating, P/C.
    pub load: f64,
    /// Class 4 or 2: spindles.
    pub precise: bool,
    pub hollow_shaft: bool,
    pub split_housing: bool,
    pub thin_housing: bool,
    /// The end that lets the shaft grow.
    pub floating: bool,
    /// A cylindrical roller bearing that floats inside itself.
    pub floats_inside: bool,
}

/// A chosen class and its reasons.
#[derive(Debug, Clone, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Choice {
    pub class: &'static str,
    pub reasons: Vec<&'static str>,
}

/// Advice for both seats.
#[derive(Debug, Clone, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Advice {
    pub shaft: Choice,
    pub housing: Choice,
    /// What to watch, as sentences.
    pub watch: Vec<&'static str>,
}

const SHAFT: [&str; 8] = ["g6", "h6", "j6", "k6", "m6", "n6", "p6", "r6"];
const HOUSING: [&str; 7] = ["G7", "H7", "J7", "K7", "M7", "N7", "P7"];

/// Advises classes by load. The ring that turns relative to the load creeps unless it is tight; the other may be loose,
/// and must be at the floating end. Tighter by a step for rollers, heavy load, large bores and hollow shafts.
///
/// ```
/// use ironseat_core::fit::advice::{Duty, Elements, Turning, advise};
/// use ironseat_core::quantity::Millimetres;
/// let pump = Duty { d: Millimetres::of(40.0), turning: Turning::Inner, elements: Elements::Balls, load: 0.08, precise: false,
///     hollow_shaft: false, split_housing: false, thin_housing: false, floating: true, floats_inside: false };
/// let a = advise(&pump)?;
/// assert_eq!((a.shaft.class, a.housing.class), ("k6", "H7"));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `d_mm` not above 0 or over 500; `load` below 0 or over 0.5, where no bearing lives.
pub fn advise(duty: &Duty) -> Result<Advice> {
    expect(duty.d.0 > 0.0 && duty.d.0 <= 500.0, "d_mm", "expected a bore above 0 and up to 500 mm")?;
    expect((0.0..=0.5).contains(&duty.load), "load", "expected a load P/C from 0 to 0.5")?;
    let mut watch = Vec::new();
    let heavy = duty.load > 0.15;
    let light = duty.load <= 0.06;
    let inner_tight = duty.turning != Turning::Outer;
    let outer_tight = duty.turning != Turning::Inner;

    let mut reasons = Vec::new();
    let mut step: i32;
    if inner_tight {
        step = 2;
        reasons.push("the inner ring turns against the load: loose it would creep and wear the shaft");
        // j6 small and light, k6 usual, m6 from 100 mm, n6 from 140 mm.
        for (more, holds, why) in [
            (1, duty.d.0 > 18.0 || !light, "usual for this bore and load"),
            (1, duty.d.0 > 100.0, "over 100 mm bore a step tighter"),
            (1, duty.d.0 > 140.0 && !light, "over 140 mm bore another step tighter"),
            (1, duty.elements == Elements::Rollers && duty.d.0 > 40.0, "rollers carry more: a step tighter"),
            (1, heavy, "load over 0.15 of the rating: a step tighter"),
            (1, duty.hollow_shaft && !duty.precise, "a hollow shaft gives way: a step tighter"),
        ] {
            if holds {
                step += more;
                reasons.push(why);
            }
        }
    } else {
        step = if duty.floating { 0 } else { 1 };
        reasons.push("the inner ring stands still against the load: a loose fit does no harm and mounts easily");
    }
    let mut shaft = Choice { class: SHAFT[step.clamp(0, SHAFT.len() as i32 - 1) as usize], reasons };
    if duty.precise {
        // Spindles: little interference, small grades, sizes matched by measuring.
        shaft.class = if heavy { "k4" } else { "js4" };
        shaft.reasons.push("a spindle class takes little interference and a grade of 4: match by measured sizes");
    }

    let mut reasons = Vec::new();
    let mut step: i32;
    if outer_tight {
        step = if heavy {
            6
        } else if light {
            4
        } else {
            5
        };
        reasons.push("the outer ring turns against the load: loose it would creep and wear the housing");
        if duty.thin_housing {
            step = (step + 1).min(6);
            reasons.push("a thin housing gives way: a step tighter");
        }
    } else if duty.split_housing {
        step = 1;
        reasons.push("a split housing pinches a tight ring oval");
    } else if duty.floating && !duty.floats_inside {
        step = 1;
        reasons.push("the floating ring must be able to move along its bore");
    } else {
        step = 2;
        reasons.push("the outer ring stands still against the load: a close sliding fit guides it");
    }
    if duty.floating && !duty.floats_inside && outer_tight {
        watch.push("A ring that is tight in its housing cannot float: use a cylindrical roller bearing that floats inside, or let the other end float.");
    }
    if outer_tight && duty.split_housing {
        watch.push("A split housing and a tight outer ring do not go together: the joint pinches the ring.");
    }
    let mut housing = Choice { class: HOUSING[step as usize], reasons };
    if duty.precise {
        housing.class = if duty.floating { "H5" } else { "JS5" };
        housing.reasons.push("a spindle class asks for a grade of 5");
    }
    if inner_tight && outer_tight {
        watch.push("Both rings tight: reckon the clearance that is left, a larger group is likely needed.");
    } else if shaft.class >= "m6" && !duty.precise {
        watch.push("Reckon the clearance that is left: a tight inner ring takes most of the usual group.");
    }
    Ok(Advice { shaft, housing, watch })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn duty() -> Duty {
        Duty {
            d: Millimetres(60.0),
            turning: Turning::Inner,
            elements: Elements::Balls,
            load: 0.1,
            precise: false,
            hollow_shaft: false,
            split_housing: false,
            thin_housing: false,
            floating: false,
            floats_inside: false,
        }
    }

    fn tight(class: &str) -> f64 {
        let l = crate::fit::iso286::limits(Millimetres(60.0), class).unwrap();
        match l.kind {
            crate::fit::iso286::ShaftOrHole::Shaft => l.lower.get() + l.upper.get(),
            crate::fit::iso286::ShaftOrHole::Hole => -l.lower.get() - l.upper.get(),
        }
    }

    #[test]
    fn more_load_never_loosens_and_every_class_exists() {
        for turning in [Turning::Inner, Turning::Outer, Turning::Either] {
            for elements in [Elements::Balls, Elements::Rollers] {
                for d in [15.0, 60.0, 120.0, 200.0] {
                    let mut before = (f64::NEG_INFINITY, f64::NEG_INFINITY);
                    for load in [0.0, 0.05, 0.1, 0.2, 0.4] {
                        let a = advise(&Duty { d: Millimetres(d), turning, elements, load, ..duty() }).unwrap();
                        let now = (tight(a.shaft.class), tight(a.housing.class));
                        assert!(now.0 >= before.0 && now.1 >= before.1, "{turning:?} {d} {load}");
                        assert!(!a.shaft.reasons.is_empty() && !a.housing.reasons.is_empty());
                        before = now;
                    }
                }
            }
        }
    }

    #[test]
    fn a_floating_ring_can_move_and_contradictions_are_told() {
        let floating = advise(&Duty { floating: true, ..duty() }).unwrap();
        assert!(tight(floating.housing.class) <= 0.0 && floating.watch.iter().all(|w| !w.contains("float")));
        let stuck = advise(&Duty { floating: true, turning: Turning::Outer, split_housing: true, ..duty() }).unwrap();
        assert!(
            stuck.watch.iter().any(|w| w.contains("cannot float")) && stuck.watch.iter().any(|w| w.contains("split"))
        );
        let spindle = advise(&Duty { precise: true, ..duty() }).unwrap();
        assert_eq!((spindle.shaft.class, spindle.housing.class), ("js4", "JS5"));
        assert_eq!(advise(&Duty { load: 0.9, ..duty() }).unwrap_err().field, "load");
    }
}
