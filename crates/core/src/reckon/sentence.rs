//! The sentence of a named computation's answer: what a fitter would say of it. Numbers are rounded for the eye only,
//! and as the figures beside them are.

use crate::quantity::{Units, show};
use crate::reckon::{self, shown};
use serde_json::{Map, Value};

/// The sentence for an answer, in a system of units; none where numbers speak for themselves.
///
/// ```
/// use ironseat_core::{reckon, quantity::Units};
/// let a = reckon::reckon("key.clearance", r#"{"hub_depth_mm": 3.0, "shaft_depth_mm": 5.0, "key_mm": 8.2}"#)?;
/// assert_eq!(a["words"], "The key is 0.200 mm too high: the hub would ride on it and run out. Take it off the key, not off the hub.");
/// let answer = a.as_object().unwrap();
/// assert!(reckon::say("key.clearance", &Default::default(), answer, Units::Inch).unwrap().starts_with("The key is 0.0079 in too high"));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
#[must_use]
#[allow(clippy::too_many_lines)] // a phrase book: one arm per answer, nothing to factor out
pub fn say(name: &str, given: &Map<String, Value>, a: &Map<String, Value>, units: Units) -> Option<String> {
    let asked = |k: &str| given.get(k).and_then(Value::as_f64);
    let n = |k: &str| a.get(k).and_then(Value::as_f64);
    let word = |k: &str| a.get(k).and_then(Value::as_str).unwrap_or("");
    let flag = |k: &str| a.get(k).and_then(Value::as_bool).unwrap_or(false);
    let deg = |k: &str| show::fixed(n(k).unwrap_or(0.0), 0) + "°";
    let with_unit = |k: &str, v: f64| reckon::said(k, &Value::from(v), units);
    // As it is, and without its sign.
    let figure = |k: &str| with_unit(k, n(k).unwrap_or(0.0));
    let said = |k: &str| with_unit(k, n(k).unwrap_or(0.0).abs());
    // From one to the other, the unit once where it is the same.
    let from_to = |low: &str, high: &str| {
        let (a, b) = (shown(low, n(low).unwrap_or(0.0), units), shown(high, n(high).unwrap_or(0.0), units));
        if a.1 == b.1 { format!("{} to {} {}", a.0, b.0, b.1) } else { format!("{} {} to {} {}", a.0, a.1, b.0, b.1) }
    };
    let numbered = |k: &str, from: usize| -> Vec<String> {
        let list = a.get(k).and_then(Value::as_array);
        list.into_iter().flatten().filter_map(Value::as_f64).map(|v| show::fixed(v + from as f64, 0)).collect()
    };
    let names = |k: &str| -> Vec<&str> {
        a.get(k).and_then(Value::as_array).into_iter().flatten().filter_map(Value::as_str).collect()
    };
    Some(match (name, word("call")) {
        ("length.parse", _) => match n("did_you_mean_mm") {
            Some(_) => {
                format!("Did you mean {}? What was typed is far from what is expected here.", said("did_you_mean_mm"))
            }
            None => format!("{}.", figure("value_mm")),
        },
        // Without a guard band, or without an uncertainty, nothing is said of the instrument.
        ("judge", call @ ("conforming" | "not_conforming"))
            if given.get("guard") == Some(&Value::Bool(false)) || asked("u").is_none_or(|u| u == 0.0) =>
        {
            if call == "conforming" {
                "Inside its limits, as it was read.".into()
            } else {
                "Outside its limits, as it was read.".into()
            }
        }
        ("judge", "conforming") => "Inside its limits by more than the instrument can be wrong.".into(),
        ("judge", "not_conforming") => "Outside its limits by more than the instrument can be wrong.".into(),
        ("judge", _) => match word("decide_with") {
            "" => "This instrument cannot decide it, and no better one is in the list.".into(),
            better => format!("This instrument cannot decide it: take the {better}."),
        },
        ("gauge.capable", "ideal") => {
            "Good enough and more: its uncertainty is at most a tenth of the tolerance.".into()
        }
        ("gauge.capable", "good") => "Good enough: its uncertainty is at most a quarter of the tolerance.".into(),
        ("gauge.capable", _) => "Too coarse for this tolerance: its uncertainty is more than a quarter of it.".into(),
        ("journal.grid", _) => match word("shape") {
            "barrel" => format!("Thickest in the middle, by {}.", said("barrel_um")),
            "hourglass" => format!("Thinnest in the middle, by {}.", said("barrel_um")),
            "bellmouth" => format!("Wide at the ends, by {}.", said("barrel_um")),
            "straight" if n("taper_um").is_some_and(|t| t.abs() > asked("u_um").unwrap_or(3.0)) => {
                format!("It tapers by {}; neither thick nor thin in the middle.", said("taper_um"))
            }
            "straight"
                if a.get("roundness_um")
                    .and_then(Value::as_array)
                    .is_some_and(|r| r.iter().filter_map(Value::as_f64).any(|r| r > asked("u_um").unwrap_or(3.0))) =>
            {
                "Out of round; neither thick nor thin in the middle.".into()
            }
            "straight" => "Straight within what the gauge can tell.".into(),
            _ => return None,
        },
        ("fit.clearance_left", "stop") => {
            format!(
                "On the mean {} of clearance would be missing: it would run preloaded and hot. Ease the ring that carries the standing load, or take the next group.",
                said("left_mean_um")
            )
        }
        ("fit.clearance_left", "look_again") if n("left_min_um").is_some_and(|l| l < 0.0) => {
            format!(
                "In the worst case {} is missing: turn it by hand once it is on, it must run free.",
                said("left_min_um")
            )
        }
        ("fit.clearance_left", "look_again") => {
            format!(
                "In the worst case only {} is left: turn it by hand once it is on, it must run free.",
                said("left_min_um")
            )
        }
        ("fit.clearance_left", _) if n("left_mean_um").is_some_and(|l| l < 0.0) => {
            format!("{} of preload on the mean, as it is meant.", said("left_mean_um"))
        }
        ("fit.clearance_left", _) if word("remark") == "large" => {
            format!("{} is left on the mean, the upper half of the group: it may run louder.", said("left_mean_um"))
        }
        ("fit.clearance_left", _) => format!("{} is left on the mean: good.", said("left_mean_um")),
        ("fit.hydraulic", "stop") => "The hub would yield before its bore lets go: do not pump it up.".into(),
        ("fit.hydraulic", _) => format!(
            "Expand with {}, push with {}. Expansion pressure off first, hold the push {} minutes, then the push off.",
            said("expansion_mpa"),
            said("push_n"),
            show::fixed(n("hold_min").unwrap_or(0.0), 0)
        ),
        ("heat.target", _) if flag("enough") => format!("Heat to {}: it slides on.", figure("target_c")),
        ("heat.target", _) if n("remaining_um").is_some_and(|r| r < 0.05) => {
            format!("Heat to the cap of {} and be quick: it slides, with less to spare than it should.", figure("cap_c"))
        }
        ("heat.target", _) => {
            format!(
                "Heat to the cap of {} and press the rest: {} of interference is left.",
                figure("cap_c"),
                said("remaining_um")
            )
        }
        ("heat.cooling", _) if a.get("goes_on") == Some(&Value::Bool(false)) => {
            "It does not go on: as hot as it is now it is still too tight.".into()
        }
        ("heat.cooling", _) => match n("grip_s") {
            Some(s) => format!("{} seconds in hand before it grips.", show::fixed(s, 0)),
            None => return None,
        },
        ("runout.straightness", _) => match word("cause") {
            "straight" => "Straight, as far as the indicator can tell.".into(),
            "bent" => format!(
                "Bent by {} at {}, towards {}: straighten it there, or replace it.",
                said("bow_um"),
                said("at_mm"),
                deg("plane_deg")
            ),
            _ => format!(
                "Off its line by {}, and not in one plane: twisted, or the sweeps did not begin at one mark. Sweep it again.",
                said("bow_um")
            ),
        },
        ("vee.sweep", _) => match n("round_um") {
            None => "This vee cannot see such lobes: take one of another angle.".into(),
            Some(_) if flag("seen") => {
                format!("Out of round by {}, which a two-point gauge does not show.", said("round_um"))
            }
            Some(_) => "No such lobes, as far as the indicator can tell.".into(),
        },
        ("parts.compare", "go") => "Alike within the limit.".into(),
        ("parts.compare", "look_again") => {
            "Too near the limit for this instrument: compare them again with a better one.".into()
        }
        ("parts.compare", _) if word("grind") == "none" => {
            "A ring is out of parallel: grinding it thinner does not mend that; grind it parallel or replace it.".into()
        }
        ("parts.compare", _) => {
            format!("Grind {} off the {} ring, and read both again.", said("grind_um"), word("grind"))
        }
        ("wires.compare", "go") => "Every wire reads as it did.".into(),
        ("wires.compare", _) => format!(
            "Wire {} changed by {} %: nipped, or its end is loose. Open it up and look.",
            show::fixed(n("worst").unwrap_or(0.0), 0),
            show::fixed(n("worst_pct").unwrap_or(0.0).abs(), 1)
        ),
        ("press.trace", "cocked") => {
            "More force than the largest interference can need: cocked, over size or no lead-in. Stop and look.".into()
        }
        ("press.trace", "early") => {
            "It stopped short of the shoulder: something is in the way. Take it off and look.".into()
        }
        ("press.trace", "loose") => "Less force than the smallest interference needs: check the sizes.".into(),
        ("press.trace", "home") => "Home: the force rises steeply where the shoulder is.".into(),
        ("press.trace", "late") => {
            "It went further than the shoulder should let it: check the travel and the drawing.".into()
        }
        ("press.trace", _) => "Not home yet: the force still rises evenly.".into(),
        ("bush.closing", _) if word("stress_call") == "stop" => {
            "It would yield as it is pressed in: less interference, or another bush.".into()
        }
        ("fit.press", _) => match word("stress_call") {
            "stop" => "A part would yield as it is pressed: ease the fit.".into(),
            "warn" => "A part is near what it can bear: measure again before pressing.".into(),
            _ if n("delta_eff_high_um").is_some_and(|d| d <= 0.0) => "It is loose: there is nothing to press.".into(),
            _ => format!("Press it with {}; stop at {}.", from_to("force_low_n", "force_high_n"), said("stop_force_n")),
        },
        ("plain.caps", "go") => "Both ends lift as they should: leave the shims.".into(),
        ("plain.caps", _) => {
            let (lo, hi) = (n("window_lo_um").unwrap_or(0.0), n("window_hi_um").unwrap_or(0.0));
            let end = |name: &str, read: &str, out: &str| {
                let v = asked(read).filter(|v| *v < lo || *v > hi)?;
                let (word, way) = if v > hi { ("too much", "out of") } else { ("too little", "into") };
                Some(format!("{word} lift at the {name}: {} {way} each side", said(out)))
            };
            let ends = [end("front", "front_um", "front_out_um"), end("rear", "rear_um", "rear_out_um")];
            let ends: Vec<String> = ends.into_iter().flatten().collect();
            format!("{}. In steps, and try by hand after each.", show::capital(&ends.join("; ")))
        }
        ("thread.proof", "go") => match asked("clamp_n") {
            Some(_) => "The thread and the bolt carry it.".into(),
            None => "The thread carries all that the bolt does.".into(),
        },
        // Which of the two gives way decides what helps.
        ("thread.proof", call) if n("strips_n") < n("proof_n") => format!(
            "The thread {}: {} of it would carry what the bolt does. A longer bolt, or a thread insert.",
            match (call, asked("clamp_n")) {
                ("stop", _) => "would strip",
                (_, Some(_)) => "is within a tenth of stripping",
                (_, None) => "gives way before the bolt",
            },
            said("wanted_mm")
        ),
        ("thread.proof", "stop") => {
            "The bolt would stretch: more thread does not help. Less clamp, or a stronger class by the maker's word.".into()
        }
        ("thread.proof", _) => "The bolt is within a tenth of its proof load: less clamp, or a stronger class by the maker's word.".into(),
        ("fit.advise", _) => format!("Journal {}, bore {}.", word("shaft"), word("housing")),
        ("seal.speed", "go") => "The lip stands it.".into(),
        ("seal.speed", "stop") => "Too fast for this lip: another material, or a seal without contact.".into(),
        ("seal.speed", _) => "Near what this lip stands: oil at it, and no pressure.".into(),
        ("readings.repeat", "go") => "They agree within what the instrument can tell.".into(),
        ("readings.repeat", _) => "They disagree by more than the instrument can be wrong: the set-up moves. Clamp it, wipe it, read again.".into(),
        ("length.at_twenty", "go") => "Warmth hardly matters here.".into(),
        ("length.at_twenty", _) => "Part and gauge differ by more than a tenth of the tolerance: let them stand together before it is judged.".into(),
        ("rotor.position", "go") => "Every wheel stands within its limit: leave the shim.".into(),
        ("rotor.position", "shim") => {
            let way = if n("change_mm").is_some_and(|c| c < 0.0) { "thinner" } else { "thicker" };
            format!("Make the shim {} {way}, and read again.", said("change_mm"))
        }
        ("rotor.position", _) => format!(
            "Wheel {} stands apart from the others: no shim puts that right. Read it again, then look at its sleeve and its key.",
            show::fixed(n("apart").unwrap_or(0.0), 0)
        ),
        ("flinger.back_off", "go") => "Backed off as it should be: snug both screws in turn, then tighten each in turn. Turn by hand: no rub.".into(),
        ("flinger.back_off", _) if n("more_mm").is_some_and(|m| m > 0.0) => format!("Back it off {} more.", said("more_mm")),
        ("flinger.back_off", _) => format!("Too far by {}: in until it touches, and back again.", said("more_mm")),
        ("land.marks", "stop") => "Too little of the land carries the ring: build it up and grind it back. No punch marks, no knurl.".into(),
        ("land.marks", "look_again") => "A gouge this deep may have begun a crack: dye it, and let whoever answers for the shaft decide.".into(),
        ("land.marks", "dress") => format!("Stone off what stands up, {} at most, along the land and no further; then read it again.", said("raised_um")),
        ("land.marks", _) if n("deepest_um").is_some_and(|d| d > 0.0) => "The ring is carried. Leave the hollows: polishing them out costs the fit.".into(),
        ("land.marks", _) => "Nothing that a ring would feel.".into(),
        ("plain.expander", "go") => "It fills its bore and the lift is right: lock the screws as they stand.".into(),
        ("plain.expander", "turn") => "The bearing still moves: a quarter turn more on every screw, alike, and read again.".into(),
        ("plain.expander", "shims") => {
            let (much, take, to) = match n("shims_um") {
                Some(s) if s > 0.0 => ("much", "take", "out of"),
                _ => ("little", "put", "into"),
            };
            format!(
                "It fills its bore, with too {much} lift: {take} {} {to} each side of the cap. More turns only strip the screws.",
                said("shims_um")
            )
        }
        ("plain.expander", _) if n("last_um").is_some_and(|l| l.abs() > asked("u_um").unwrap_or(3.0)) => "The lift went back: a screw gives way in its thread, or the shaft moved. Back them off and begin again.".into(),
        ("plain.expander", _) => "The lift never changed: the screws do not bite, or it was tight before. Look before turning on.".into(),
        ("runin.plan", _) => format!("Each at least so long, and on until the rise is below 1 K in ten minutes: {} h at the least.", show::fixed(n("total_min").unwrap_or(0.0) / 60.0, 1)),
        ("bush.closed", "as_pressed") => "To size as it was pressed: nothing to ream.".into(),
        ("bush.closed", "ream") => format!("Ream {}: forwards only, both bores in one pass.", said("ream_um")),
        ("bush.closed", "too_large") => "One place is larger than is wanted: another bush.".into(),
        ("bush.closed", _) => format!("{} are to come off: more than a hand reamer takes. Bore it, or another bush.", said("ream_um")),
        ("hydraulic.driven", "go") => "It stands where it should and was held: let the push go, and load it only when the oil has left the joint.".into(),
        ("hydraulic.driven", "hold") => format!("Hold the push for {} min more, the oil let go.", show::fixed(n("left_min").unwrap_or(0.0), 0)),
        ("hydraulic.driven", "stop") => "The oil was above what makes the hub yield: measure its bore before anything else.".into(),
        ("hydraulic.driven", _) => match n("off_mm") {
            Some(off) if asked("drive_up_mm").is_some_and(|w| off.abs() > 0.1 * w) => {
                let way = if off < 0.0 { "short of" } else { "beyond" };
                format!("It is {} {way} its way: look whether something lies in between, and whether first contact was right.", said("off_mm"))
            }
            _ => "The oil was less than parts the surfaces: it may have scored on its way.".into(),
        },
        ("removal.ways", _) => {
            let first = a.get("ways").and_then(|w| w.get(0));
            match first.and_then(|w| Some((w["way"].as_str()?, w["scraps"] == Value::Bool(true)))) {
                Some((way, true)) => format!("First: {way}. It is scrap afterwards: mark it at once."),
                Some((way, false)) => format!("First: {way}."),
                None => "Nothing of this gets it off: ask whoever answers for the machine.".into(),
            }
        }
        ("removal.pull", "go") => "The force is what the fit explains.".into(),
        ("removal.pull", "stop") => "More than the puller may carry: let off, nobody in line.".into(),
        ("removal.pull", _) => "More than the fit explains: something else holds it. Look for a lock, a pin, a burr or rust before more force; oil and heat help more.".into(),
        ("seal.split_ring", "go") => "The ring has its room and its gap, and the collar turns as freely as before.".into(),
        ("seal.split_ring", _) if n("side_mm").is_some_and(|s| s <= 0.0) => "The ring has no room in its groove: it would bind as soon as it is warm.".into(),
        ("seal.split_ring", "stop") => "The collar turns harder: the ring is pinched. Out with it, and in again with oil under it.".into(),
        ("seal.split_ring", _) => match asked("gap_mm") {
            Some(g) if n("window_lo_mm").is_some_and(|lo| g < lo) => "The gap is too small: its ends would meet when it is warm.".into(),
            Some(g) if n("window_hi_mm").is_some_and(|hi| g > hi) => "The gap is too large: it leaks there. A new ring.".into(),
            _ => "Turn the collar before and after the ring is in: a ring that is pinched drags.".into(),
        },
        ("packing.rings", _) => {
            "Cut square, each gap turned on from the one before; gland finger tight, let it weep, nip it when it is warm.".into()
        }
        ("bush.closing", "as_pressed") => "Right as pressed: no reaming.".into(),
        ("bush.closing", "ream") => {
            format!("Ream {} out, forwards only, both bores in line in one pass.", said("ream_um"))
        }
        ("bush.closing", "too_small") => {
            format!(
                "{} would have to come out: more than a hand reamer should take. Exchange the bush or bore it.",
                said("ream_um")
            )
        }
        ("bush.closing", _) => "Too large as pressed: take a bush with a smaller bore or more interference.".into(),
        ("vee.factor", _) if n("factor").is_some_and(|f| f < 0.05) => {
            "This vee does not show these lobes at all: take another angle.".into()
        }
        ("runout.sweep", _) if flag("noise") => {
            "More is left over than the indicator can be wrong by: repeat the sweep before concluding.".into()
        }
        ("runout.sweep", _) if n("high_deg").is_none() => "Nothing once a turn.".into(),
        ("runout.sweep", _) => format!(
            "The axis runs out by {} each way{}.",
            said("e1_um"),
            n("high_deg").map_or_else(String::new, |h| format!(", high at {}°", show::fixed(h, 0)))
        ),
        ("runout.face", _) => match word("cause") {
            "square" => "Square, as far as the indicator can tell.".into(),
            "warped" => "Warped: it rises twice a turn. Lap it or replace it.".into(),
            _ => "Out of square: once a turn. Take it off, clean both faces, fit it again.".into(),
        },
        ("runout.stations", _) => match word("cause") {
            "true" => "True, as far as the indicator can tell.".into(),
            "bow_and_set_over" => {
                "Bowed, and set over or askew besides: straighten it first, or the rest cannot be told.".into()
            }
            "bow" => "Bowed: largest in the middle. Straightness sheet, then straighten or replace.".into(),
            "tilt" => {
                "It grows from the seat: a cocked ring, or dirt under a face. Off, clean, check the faces, fit again."
                    .into()
            }
            "offset_and_tilt" => "Set over and askew: indicate the seat in, then look at the faces.".into(),
            _ => "The whole axis is set over: seat, adapter or chuck. Indicate it in.".into(),
        },
        ("runout.clocking", _) => {
            format!("Both marks in one line, on the same side: the nose then runs out by {}.", said("best_tir_um"))
        }
        ("float.shim", "go") => "The float is right: leave the shim.".into(),
        ("float.shim", "look_again") => {
            "The pairs do not repeat: clamp the housing, look for dirt, restrain the levelling plates, read again."
                .into()
        }
        ("float.shim", _) => match word("action") {
            "add" => format!("Make the adjusting shim {} thicker.", said("amount_mm")),
            _ => format!("Take {} off the adjusting shim.", said("amount_mm")),
        },
        ("gap.around", "look_again") => {
            "Top and bottom do not add up to left and right: oval, or misread. Read again.".into()
        }
        ("gap.around", "stop") if n("smallest_mm").is_some_and(|s| s <= 0.0) => {
            format!("It touches. Move the housing {} away from the narrow side before anything turns.", said("move_mm"))
        }
        ("gap.around", "stop") if n("move_deg").is_none() => {
            "Even all round, and too narrow: another ring or wheel.".into()
        }
        ("gap.around", _) if n("move_deg").is_none() => "Even all round.".into(),
        ("gap.around", "stop") => {
            format!(
                "Not as it is: move the housing {} towards {}, away from the wide side.",
                said("move_mm"),
                deg("move_deg")
            )
        }
        ("gap.around", _) => {
            format!(
                "Good. To better it, move the housing {} towards {}, away from the wide side.",
                said("move_mm"),
                deg("move_deg")
            )
        }
        ("wear_ring", "stop") => {
            format!("Outside the limit: {} in total, {} per side.", said("total_mm"), said("per_side_mm"))
        }
        ("wear_ring", _) => format!("{} in total, {} per side.", said("total_mm"), said("per_side_mm")),
        ("shim.stock", _) => match a.get("leaves_um").and_then(Value::as_array) {
            Some(l) if l.is_empty() => {
                format!("No leaf from stock comes nearer than none at all: {} are missing.", said("error_um"))
            }
            Some(l) => {
                let leaves = if l.len() == 1 {
                    "One leaf".into()
                } else {
                    format!("{} leaves, thick outside, thin inside", l.len())
                };
                match n("error_um").unwrap_or(0.0) {
                    0.0 => format!("{leaves}: exactly what is wanted."),
                    e => format!("{leaves}: {} {} than wanted.", said("error_um"), if e > 0.0 { "more" } else { "less" }),
                }
            }
            None => return None,
        },
        ("key.clearance", "stop") if n("clearance_mm").is_some_and(|c| c < 0.0) => {
            format!(
                "The key is {} too high: the hub would ride on it and run out. Take it off the key, not off the hub.",
                said("clearance_mm")
            )
        }
        ("key.clearance", "stop") => format!("{} over the key is outside its window: another key.", said("clearance_mm")),
        ("key.clearance", "look_again") => {
            format!(
                "{} over the key is a lot for one that fits: read the depths again, or ask whether this key belongs here.",
                said("clearance_mm")
            )
        }
        ("key.clearance", _) => format!("{} over the key: good.", said("clearance_mm")),
        ("taper.nut", _) => match n("lock_deg") {
            Some(_) => {
                let at = |turn: &str, float: &str| {
                    let left = n(float).unwrap_or(0.0);
                    n(turn).map(|_| {
                        format!(
                            "{} leaves {} of {}",
                            deg(turn),
                            said(float),
                            if left < 0.0 { "preload" } else { "float" }
                        )
                    })
                };
                let locks: Vec<String> =
                    [at("lock_before_deg", "float_before_mm"), at("lock_after_deg", "float_after_mm")]
                        .into_iter()
                        .flatten()
                        .collect();
                let past = if flag("past_aim") {
                    " The nearest one is past the aim: choose, it is not taken by itself."
                } else {
                    ""
                };
                format!(
                    "Turn it {}, rotating all the while. Locks beside it: {}.{past}",
                    deg("turn_deg"),
                    locks.join("; ")
                )
            }
            None => format!("Turn it {}, rotating all the while.", deg("turn_deg")),
        },
        ("nut.slots", _) => "On to a slot, never back to one.".into(),
        ("nut.match_mark", "new_mark") => {
            "The old mark is void: strike it out, set the nut anew, strike a new one.".into()
        }
        ("nut.match_mark", "look_again") => {
            "The angle agrees, the stand-out does not: look for a face that was machined, or dirt.".into()
        }
        ("nut.match_mark", _) => "The old mark holds.".into(),
        ("torque.value", "stop") => "Beyond the proof load of this bolt: it would stretch for good.".into(),
        ("torque.value", "warn") => "Over nine tenths of the proof load: little is left for what comes on top.".into(),
        ("torque.other_surface", _) if n("overstress").is_some_and(|o| o > 1.0) => {
            format!(
                "Not the book's torque: on this surface it would stretch the bolt {} times as hard.",
                show::fixed(n("overstress").unwrap_or(1.0), 2)
            )
        }
        ("thread.hand", _) => {
            let hand = match a.get("agrees") {
                Some(Value::Bool(false)) => {
                    format!("Wrong hand: the shaft's drag would undo it; a {}-hand nut is wanted. ", word("wanted"))
                }
                _ => format!("A {}-hand nut is right. ", word("wanted")),
            };
            format!(
                "{hand}Seen from the nut, {} loosens.",
                if word("loosen") == "cw" { "clockwise" } else { "anticlockwise" }
            )
        }
        ("seal.tilt", "stop") => {
            format!("The seal sits {} askew: drive it square, a little at opposite points in turn.", said("tilt_mm"))
        }
        ("seal.tilt", _) => "Square in its pocket.".into(),
        ("seal.track", _) => match word("method") {
            "sleeve" => "No room to leave the old track: fit a thin repair sleeve.".into(),
            way => {
                format!("Set it {way}, its face {} below the rim: the lip leaves the old track.", said("new_depth_mm"))
            }
        },
        ("oring.gland", "go") => "Squeeze, stretch and fill are right.".into(),
        ("oring.gland", _) => {
            let bad = [("squeeze_ok", "squeeze"), ("stretch_ok", "stretch"), ("fill_ok", "fill")];
            let list: Vec<&str> = bad.iter().filter(|(k, _)| !flag(k)).map(|(_, w)| *w).collect();
            format!(
                "Another ring: {} not right.",
                if list.len() == 1 { format!("its {} is", list[0]) } else { format!("its {} are", list.join(" and ")) }
            )
        }
        ("probe.gap", _) if flag("would_touch") => {
            "Do not move it so far: it would touch the shaft, or the sensitivity is not that of this probe.".into()
        }
        ("probe.gap", _) => {
            format!(
                "Move it {} {} the shaft.",
                said("move_um"),
                if n("move_um").is_some_and(|m| m < 0.0) { "towards" } else { "away from" }
            )
        }
        ("preload.spacers", _) if word("stress_call") == "stop" => {
            "The balls would mark their raceways at this preload: do not set it.".into()
        }
        ("preload.pair", _) => {
            let left = if n("load_right_n").is_some_and(|r| r <= 0.0) {
                "The right one is free: its balls skid. ".into()
            } else {
                format!("{} is left on the right one, {} on the left. ", said("load_right_n"), said("load_left_n"))
            };
            let class = match word("class") {
                "" => String::new(),
                "under" => "Less preload than what is called light.".into(),
                "over" => "More preload than what is called heavy.".into(),
                "between" => "Between what is called light, medium and heavy.".into(),
                class => format!("A {class} preload."),
            };
            (left + &class).trim_end().to_owned()
        }
        ("preload.push_test", _) if flag("at_bound") => {
            "These points do not tell the preload: push harder, both ways, and read finer.".into()
        }
        ("preload.push_test", _) => match n("u_preload_n") {
            Some(_) => format!("{}, give or take {}.", said("preload_n"), said("u_preload_n")),
            None => return None,
        },
        ("preload.spacers", _) => match (word("grind"), n("total_um")) {
            ("inner" | "outer", _) => format!("Grind {} off the {} spacer.", said("grind_um"), word("grind")),
            ("none", _) => "The spacers are right as they are.".into(),
            (_, Some(t)) if t <= 0.0 => "No preload: the pair has end play.".into(),
            _ => return None,
        },
        ("preload.bearing", _) => format!("{} at {} of approach.", said("fa_n"), said("approach_um")),
        ("preload.drag", _) => format!("{} of preload.", said("preload_n")),
        ("iso286.limits", _) => format!("{}: {}.", from_to("lower_um", "upper_um"), from_to("min_mm", "max_mm")),
        ("bearing.ring_tolerance", _) => format!("{}.", from_to("lower_um", "upper_um")),
        ("bearing.clearance", _) => format!("{} before it is fitted.", from_to("min_um", "max_um")),
        ("bearing.read", _) => {
            format!(
                "{}, {} × {} × {}.",
                show::capital(&word("type").replace('_', " ")),
                shown("d_mm", n("d_mm").unwrap_or(0.0), units).0,
                shown("outer_mm", n("outer_mm").unwrap_or(0.0), units).0,
                figure("width_mm")
            )
        }
        ("heat.frees", _) => match n("frees_k") {
            Some(_) => format!("Warm the housing by {}, the whole of it.", said("frees_k")),
            None => "Warming both frees nothing: the ring grows as much. Keep the ring cold.".into(),
        },
        ("fit.drive_up", _) => {
            format!("Drive it up {} from first contact, and prove {} with the feeler.", said("way_mm"), figure("left_um"))
        }
        ("vee.factor", _) => format!("The dial shows {} times what it is out of round.", figure("factor")),
        ("pairs.match", _) => {
            let each: Vec<String> =
                numbered("holes", 1).iter().enumerate().map(|(k, h)| format!("{} into {h}", k + 1)).collect();
            format!("Bush into hole: {}. At most {} off what is wanted.", each.join(", "), said("worst_um"))
        }
        ("axial.two_shims", _) => {
            let list = a.get("new_mm").and_then(Value::as_array);
            let each: Vec<String> = list
                .into_iter()
                .flatten()
                .filter_map(Value::as_f64)
                .enumerate()
                .map(|(k, v)| format!("shim {} {}", k + 1, with_unit("new_mm", v)))
                .collect();
            format!("Make {}.", each.join(", "))
        }
        ("stack.chain", _) => {
            let inside = n("mc_inside").map_or_else(String::new, |p| {
                format!("; {} % lie inside the limits", show::fixed(p * 100.0, 1))
            });
            format!("{} at the worst{inside}.", from_to("worst_min_mm", "worst_max_mm"))
        }
        ("torque.value", _) => format!("Tighten to {}: it clamps with {}.", said("torque_nm"), said("force_n")),
        ("torque.extension", _) => format!("Set the wrench to {}.", said("setting_nm")),
        ("torque.order" | "torque.pattern", _) => {
            let rounds = a.get("rounds").and_then(Value::as_array).map_or(0, Vec::len);
            format!("{} rounds: {}; the last one around.", rounds, numbered("order", 0).join(", "))
        }
        ("grease.fill", _) => format!("Fill in {}; top up with {}.", from_to("grams_low_g", "grams_high_g"), said("top_up_g")),
        ("plan.solve", _) => {
            let (end, least) = (n("makespan_min").unwrap_or(0.0), n("lower_bound_min").unwrap_or(0.0));
            let best = if end <= least { "no plan ends sooner".into() } else { format!("none can before {}", show::fixed(least, 0)) };
            format!("All is done after {} minutes; {best}.", show::fixed(end, 0))
        }
        ("runin.step", call @ ("stop" | "next")) => {
            let rpm = n("next_rpm").map(|r| format!("{} rpm", show::fixed(r, 0)));
            match (call, rpm) {
                ("stop", Some(rpm)) => format!("Stop: too hot, or a jump. Let it cool and go on at {rpm}."),
                ("stop", None) => "Stop: too hot, or a jump. Let it cool and go on one step lower.".into(),
                (_, Some(rpm)) => format!("It has settled: go to {rpm}, and put down when."),
                (_, None) if n("rpm").is_some() => "It has settled at full speed: it is run in.".into(),
                (_, None) => "It has settled: go to the next speed.".into(),
            }
        }
        ("runin.step", "look_again") => {
            "The thermometer does not feel the bearing, or the machine is slowing: look at both before going on.".into()
        }
        ("runin.step", _) if flag("will_exceed") => {
            format!("Hold, and watch it: it tends to {}, over the limit.", figure("end_c"))
        }
        ("runin.step", _) => "Hold this speed until it settles.".into(),
        ("order.solve", _) if a.get("impossible").and_then(Value::as_array).is_some_and(|i| !i.is_empty()) => {
            "Something cannot get to its place: the sizes are wrong, it comes from the other end, or it is split."
                .into()
        }
        ("order.solve", _) if a.get("cycle").is_some_and(Value::is_array) => {
            "Each of these waits for the next: one of the rules is wrong.".into()
        }
        ("order.solve", _) => format!("On they go: {}.", names("order").join(", ")),
        ("order.back_out", _) => match a.get("off").and_then(Value::as_array).map_or(0, Vec::len) {
            0 => "Nothing has to come off.".into(),
            1 => format!("One part has to come off, {} minutes.", show::fixed(n("minutes").unwrap_or(0.0), 0)),
            k => format!("{k} parts have to come off, {} minutes.", show::fixed(n("minutes").unwrap_or(0.0), 0)),
        },
        _ => return None,
    })
}
