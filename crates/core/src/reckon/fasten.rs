//! Names under "torque, threads, seals, the rest" of the contract, and the nuts.

use super::input::{Input, guess, may, need};
use super::output::{Gives, gives, limit, number, or_null};
use super::{Answer, Entry, Field, Kind, answer};
use crate::fasten::{self, Hand};
use crate::instrument::SLACK;
use crate::quantity::{Grams, Micrometres, Millimetres, Newtons};
use crate::refusal::expect;
use crate::seal;
use serde_json::Value;

const SURFACE: Kind = Kind::Word(&["dry", "zinc", "oiled", "anti_seize", "retaining", "waxed", "stainless_dry"]);
const PITCH: Field = need("pitch_mm", Kind::Positive, "thread pitch");

pub(super) static ENTRIES: [Entry; 13] = [
    Entry {
        name: "taper.nut",
        purpose: "Turn of an adjusting nut from a float to an aim, and the nearest lock position.",
        formula: "turn = (float - aim)/pitch x 360",
        source: "handbook 06",
        fields: &[
            need("float_mm", Kind::Number, "float now"),
            need("aim_mm", Kind::Number, "wanted float; negative: preload"),
            may("pitch_mm", Kind::Positive, "thread pitch"),
            may("tpi", Kind::Positive, "threads per inch instead"),
            may("step_deg", Kind::Positive, "between lock positions"),
            guess("first_lock_deg", Kind::NotNegative, "first lock position (0)"),
        ],
        outputs: &[
            gives("turn_deg", Gives::Number, "turn"),
            or_null("lock_deg", Gives::Number, "nearest lock position"),
            or_null("float_at_lock_mm", Gives::Number, "float there"),
            or_null("lock_before_deg", Gives::Number, "last lock position not past the aim"),
            or_null("float_before_mm", Gives::Number, "float there"),
            or_null("lock_after_deg", Gives::Number, "first one at or past the aim"),
            or_null("float_after_mm", Gives::Number, "float there"),
            or_null("past_aim", Gives::Flag, "the nearest lock position is past the aim"),
        ],
        limits: &[],
        example: r#"{"float_mm": 0.08, "aim_mm": -0.01, "pitch_mm": 1.5, "step_deg": 30}"#,
        compute: taper_nut,
    },
    Entry {
        name: "nut.slots",
        purpose: "Next lock positions of a slotted nut, tightening only.",
        formula: "step = 360/lcm(slots, tabs); advance = pitch x turn/360",
        source: "handbook 06",
        fields: &[
            need("slots", Kind::Whole(1, 1000), "slots of the nut"),
            need("tabs", Kind::Whole(1, 1000), "tabs of the washer"),
            need("present_deg", Kind::Number, "angle past a lock position"),
            guess("least_deg", Kind::NotNegative, "turn at least this much (0)"),
            PITCH,
            may("count", Kind::Whole(1, 1000), "how many (3)"),
            may("float_mm", Kind::Number, "float now"),
        ],
        outputs: &[
            gives("step_deg", Gives::Number, "between lock positions"),
            gives("turns_deg", Gives::Numbers, "next turns, tightening only"),
            gives("advances_um", Gives::Numbers, "axial advance of each"),
            or_null("floats_mm", Gives::Numbers, "float after each"),
        ],
        limits: &[],
        example: r#"{"slots": 4, "tabs": 17, "present_deg": 3, "pitch_mm": 1.5}"#,
        compute: nut_slots,
    },
    Entry {
        name: "nut.match_mark",
        purpose: "Whether an old match mark still holds.",
        formula: "valid within the limit; stand-out within pitch x limit/360",
        source: "handbook 06",
        fields: &[
            need("old_deg", Kind::Number, "zero to mark, before"),
            need("new_deg", Kind::Number, "zero to mark, now"),
            need("limit_deg", Kind::NotNegative, "allowed difference"),
            PITCH,
            may("old_standout_mm", Kind::Number, "stand-out before"),
            may("new_standout_mm", Kind::Number, "stand-out now"),
        ],
        outputs: &[
            gives("difference_deg", Gives::Number, "new - old, above -180 and up to 180"),
            gives("valid", Gives::Flag, "whether the mark holds"),
            gives("standout_limit_mm", Gives::Number, "allowed change of stand-out"),
            or_null("standout_ok", Gives::Flag, "whether it is within"),
            gives("call", Gives::Word(&["go", "new_mark", "look_again"]), "judgement"),
        ],
        limits: &[],
        example: r#"{"old_deg": 62, "new_deg": 65, "limit_deg": 5, "pitch_mm": 2}"#,
        compute: match_mark,
    },
    Entry {
        name: "torque.value",
        purpose: "Torque for a clamp force, or the force of a torque.",
        formula: "T = K D F; long form F (P/2pi + mu_t d2/(2 cos 30) + mu_b d_b/2)",
        source: "handbook 07",
        fields: &[
            need("d_mm", Kind::Positive, "thread diameter"),
            may("force_n", Kind::NotNegative, "clamp force"),
            may("torque_nm", Kind::NotNegative, "torque instead"),
            may("surface", SURFACE, "what is on the thread"),
            may("k", Kind::Positive, "torque coefficient instead"),
            may("pitch_mm", Kind::Positive, "thread pitch"),
            may("mu_thread", Kind::NotNegative, "thread friction, for the long form"),
            may("mu_head", Kind::NotNegative, "friction under the head"),
            may("head_d_mm", Kind::Positive, "friction diameter under the head"),
            may("property_class", Kind::Word(&["4.6", "5.8", "8.8", "10.9", "12.9"]), "property class"),
        ],
        outputs: &[
            gives("k", Gives::Number, "torque coefficient"),
            gives("torque_nm", Gives::Number, "torque"),
            gives("force_n", Gives::Number, "clamp force"),
            gives("force_low_n", Gives::Number, "with K a quarter higher"),
            gives("force_high_n", Gives::Number, "with K a quarter lower"),
            or_null("exact_nm", Gives::Number, "by the long form"),
            or_null("proof_ratio", Gives::Number, "force over proof load"),
            or_null("call", Gives::Word(&["go", "warn", "stop"]), "warn from 0.9 of the proof load, stop beyond it"),
        ],
        limits: &[
            limit("over 90 % of the proof load", |_, a| number(a, "proof_ratio").is_some_and(|p| p > 0.9)),
            limit("with the scatter of a quarter in K the force may pass the proof load", |_, a| {
                number(a, "proof_ratio").is_some_and(|p| p / 0.75 > 1.0)
            }),
        ],
        example: r#"{"d_mm": 12, "force_n": 30000, "surface": "oiled", "pitch_mm": 1.75, "property_class": "8.8"}"#,
        compute: torque_value,
    },
    Entry {
        name: "torque.other_surface",
        purpose: "A torque given for one surface, used on another.",
        formula: "T used = T given x K used/K given",
        source: "handbook 07",
        fields: &[
            need("torque_nm", Kind::Positive, "given torque"),
            need("given", SURFACE, "surface it was meant for"),
            need("used", SURFACE, "surface it is used on"),
        ],
        outputs: &[
            gives("torque_nm", Gives::Number, "torque on the surface used"),
            gives("ratio", Gives::Number, "of the torques"),
            gives("overstress", Gives::Number, "clamp over the meant one if the torque were not changed"),
        ],
        limits: &[],
        example: r#"{"torque_nm": 100, "given": "dry", "used": "anti_seize"}"#,
        compute: other_surface,
    },
    Entry {
        name: "torque.extension",
        purpose: "Wrench setting with an extension off the axis.",
        formula: "setting = T L/(L + E cos(angle))",
        source: "handbook 07",
        fields: &[
            need("torque_nm", Kind::Positive, "wanted torque"),
            need("wrench_mm", Kind::Positive, "wrench length"),
            need("extension_mm", Kind::NotNegative, "extension"),
            guess("angle_deg", Kind::Number, "between them (0)"),
        ],
        outputs: &[gives("setting_nm", Gives::Number, "set the wrench to")],
        limits: &[
            limit("extension longer than the wrench: a small error of angle is a large error of torque", |i, _| {
                i.num("extension_mm", 0.0) > i.num("wrench_mm", 1.0)
            }),
            limit("the extension multiplies the torque by five or more: no wrench is that exact, take a multiplier made for it", |i, a| {
                number(a, "setting_nm").is_some_and(|s| i.num("torque_nm", 0.0) >= 5.0 * s)
            }),
        ],
        example: r#"{"torque_nm": 100, "wrench_mm": 400, "extension_mm": 100}"#,
        compute: extension,
    },
    Entry {
        name: "torque.order",
        purpose: "Crossing order and rounds of a bolt circle.",
        formula: "next the bolt farthest from the nearest done, then from the last, then the lowest",
        source: "handbook 07",
        fields: &[need("n", Kind::Whole(1, 200), "bolts, 1 to 200"), guess("stages_pct", Kind::Numbers, "stages ([30, 60, 100])")],
        outputs: &[
            gives("order", Gives::Numbers, "crossing order, from 1"),
            gives("rounds", Gives::Objects(&[gives("pct", Gives::Number, "stage"), gives("order", Gives::Numbers, "bolts")]), "each round"),
        ],
        limits: &[],
        example: r#"{"n": 8}"#,
        compute: order,
    },
    Entry {
        name: "thread.hand",
        purpose: "Hand of thread that a turning shaft wants.",
        formula: "clockwise seen from the nut wants a left-hand thread",
        source: "handbook 07",
        fields: &[
            need("rotation", Kind::Word(&["cw", "ccw"]), "rotation of the shaft"),
            need("seen_from", Kind::Word(&["nut_end", "other_end"]), "seen from"),
            may("hand", Kind::Word(&["left", "right"]), "hand of the nut"),
        ],
        outputs: &[
            gives("wanted", Gives::Word(&["left", "right"]), "hand that drag tightens"),
            or_null("agrees", Gives::Flag, "whether the hand agrees"),
            gives("loosen", Gives::Word(&["cw", "ccw"]), "which way loosens, seen from the nut"),
        ],
        limits: &[],
        example: r#"{"rotation": "cw", "seen_from": "nut_end", "hand": "left"}"#,
        compute: hand,
    },
    Entry {
        name: "seal.tilt",
        purpose: "Tilt of a lip seal in its pocket.",
        formula: "tilt = deepest - shallowest",
        source: "handbook 07",
        fields: &[
            need("depths_mm", Kind::Numbers, "depths round the face"),
            need("shaft_mm", Kind::Positive, "shaft"),
            guess("limit_mm", Kind::Positive, "limit (0.2 to a shaft of 50, 0.3 to 100, 0.4 above)"),
        ],
        outputs: &[
            gives("mean_mm", Gives::Number, "mean depth"),
            gives("tilt_mm", Gives::Number, "tilt"),
            gives("limit_mm", Gives::Number, "limit"),
            gives("call", Gives::Word(&["go", "stop"]), "judgement"),
        ],
        limits: &[],
        example: r#"{"depths_mm": [2.0, 2.1, 2.05, 2.0], "shaft_mm": 40}"#,
        compute: seal_tilt,
    },
    Entry {
        name: "seal.track",
        purpose: "Where to set a new lip beside the old track.",
        formula: "travel = pocket - width; deeper, else shallower, by a track width, else a sleeve",
        source: "handbook 07",
        fields: &[
            need("pocket_mm", Kind::Positive, "pocket depth"),
            need("width_mm", Kind::Positive, "seal width"),
            need("old_depth_mm", Kind::NotNegative, "old face below the rim"),
            need("track_mm", Kind::Positive, "track width"),
            guess("lip_mm", Kind::Positive, "lip from the seal's outer face (half the width)"),
        ],
        outputs: &[
            gives("travel_mm", Gives::Number, "free travel"),
            gives("deeper_mm", Gives::Number, "room deeper"),
            gives("shallower_mm", Gives::Number, "room shallower"),
            gives("method", Gives::Word(&["deeper", "shallower", "sleeve"]), "what to do"),
            gives("new_depth_mm", Gives::Number, "new depth of the face"),
            gives("new_lip_mm", Gives::Number, "new place of the lip"),
        ],
        limits: &[],
        example: r#"{"pocket_mm": 12, "width_mm": 8, "old_depth_mm": 1, "track_mm": 1}"#,
        compute: seal_track,
    },
    Entry {
        name: "oring.gland",
        purpose: "Squeeze, stretch and fill of an O-ring.",
        formula: "squeeze (cord - depth)/cord; stretch (groove - ring)/ring; fill = cord area/groove area",
        source: "handbook 07",
        fields: &[
            need("cord_mm", Kind::Positive, "cord"),
            need("ring_id_mm", Kind::Positive, "ring"),
            need("groove_depth_mm", Kind::Positive, "depth"),
            need("groove_width_mm", Kind::Positive, "width"),
            need("groove_d_mm", Kind::Positive, "groove diameter"),
        ],
        outputs: &[
            gives("squeeze_pct", Gives::Number, "squeeze"),
            gives("stretch_pct", Gives::Number, "stretch"),
            gives("fill_pct", Gives::Number, "fill"),
            gives("squeeze_ok", Gives::Flag, "15 to 30"),
            gives("stretch_ok", Gives::Flag, "0 to 5"),
            gives("fill_ok", Gives::Flag, "at most 85"),
            gives("call", Gives::Word(&["go", "stop"]), "judgement"),
        ],
        limits: &[limit("the cord is not thinned by its stretch here: beyond 5 % squeeze and fill come out too high", |_, a| {
            number(a, "stretch_pct").is_some_and(|s| s > 5.0)
        })],
        example: r#"{"cord_mm": 3.53, "ring_id_mm": 50, "groove_depth_mm": 2.8, "groove_width_mm": 4.7, "groove_d_mm": 51}"#,
        compute: oring,
    },
    Entry {
        name: "grease.fill",
        purpose: "Grease for a bearing by speed factor.",
        formula: "free = pi/4 (D2 - d2) B - mass/7.85e-3; share by n dm; top-up 0.005 D B",
        source: "handbook 06",
        fields: &[
            need("d_mm", Kind::Positive, "bore"),
            need("outer_mm", Kind::Positive, "outside"),
            need("width_mm", Kind::Positive, "width"),
            need("mass_g", Kind::Positive, "mass"),
            need("rpm", Kind::NotNegative, "speed"),
        ],
        outputs: &[
            gives("free_mm3", Gives::Number, "free space"),
            gives("speed_factor", Gives::Number, "speed x mean diameter"),
            gives("fill_low_pct", Gives::Number, "least fill"),
            gives("fill_high_pct", Gives::Number, "most fill"),
            gives("grams_low_g", Gives::Number, "least"),
            gives("grams_high_g", Gives::Number, "most"),
            gives("top_up_g", Gives::Number, "top-up"),
        ],
        limits: &[
            limit("speed factor above 600 000: follow the maker's fill and run-in", |_, a| {
                number(a, "speed_factor").is_some_and(|s| s > 600_000.0)
            }),
            limit("speed factor above 500 000: the balls' own forces shift the contact, and preload is reckoned without them", |_, a| {
                number(a, "speed_factor").is_some_and(|s| s > 500_000.0)
            }),
        ],
        example: r#"{"d_mm": 40, "outer_mm": 80, "width_mm": 18, "mass_g": 370, "rpm": 2900}"#,
        compute: grease,
    },
    Entry {
        name: "probe.gap",
        purpose: "Setting an eddy probe by its gap voltage.",
        formula: "move = (target - voltage)/sensitivity",
        source: "handbook 07",
        fields: &[
            need("voltage_v", Kind::Number, "gap voltage"),
            need("sensitivity_mv_um", Kind::Positive, "sensitivity"),
            need("low_v", Kind::Number, "near end of the linear range"),
            need("high_v", Kind::Number, "far end"),
            guess("target_v", Kind::Number, "target (middle)"),
            may("known_v", Kind::Number, "voltage at a known gap"),
            may("known_gap_um", Kind::NotNegative, "that gap"),
        ],
        outputs: &[
            gives("target_v", Gives::Number, "target, without its sign"),
            gives("move_um", Gives::Number, "move the probe by, + away from the shaft"),
            gives("in_range", Gives::Flag, "whether the reading is in the linear range"),
            or_null("gap_um", Gives::Number, "gap"),
            or_null("would_touch", Gives::Flag, "the move would bring it to the shaft, or the sensitivity is wrong"),
        ],
        limits: &[limit("outside the linear range the sensitivity does not hold", |_, a| a.get("in_range") == Some(&Value::Bool(false)))],
        example: r#"{"voltage_v": -8, "sensitivity_mv_um": 7.87, "low_v": -2, "high_v": -18}"#,
        compute: probe,
    },
];

fn taper_nut(i: &Input) -> Answer {
    expect(i.has("pitch_mm") != i.has("tpi"), "pitch_mm", "expected either the pitch or the threads per inch")?;
    let pitch = i.maybe("pitch_mm").unwrap_or_else(|| 25.4 / i.num("tpi", 1.0));
    let t = fasten::nut_turn(
        Millimetres(i.num("float_mm", 0.0)),
        Millimetres(i.num("aim_mm", 0.0)),
        Millimetres(pitch),
        i.maybe("step_deg"),
        i.num("first_lock_deg", 0.0),
    )?;
    let (deg, float) = (|l: Option<fasten::LockAt>| l.map(|l| l.deg), |l: Option<fasten::LockAt>| l.map(|l| l.float));
    answer! {
        turn_deg: t.turn_deg, lock_deg: deg(t.lock), float_at_lock_mm: float(t.lock), lock_before_deg: deg(t.before), float_before_mm: float(t.before),
        lock_after_deg: deg(t.after), float_after_mm: float(t.after), past_aim: t.past_aim,
    }
}

fn nut_slots(i: &Input) -> Answer {
    let step = fasten::lock_step(i.whole("slots", 4), i.whole("tabs", 1))?;
    let turns = fasten::lock_turns(step, i.num("present_deg", 0.0), i.num("least_deg", 0.0), i.whole("count", 3) as usize)?;
    let advance = |t: &f64| i.num("pitch_mm", 0.0) * t / 360.0;
    let advances: Vec<f64> = turns.iter().map(|t| advance(t) * 1000.0).collect();
    let floats: Option<Vec<f64>> = i.maybe("float_mm").map(|f| turns.iter().map(|t| f - advance(t)).collect());
    answer! { step_deg: step, turns_deg: turns, advances_um: advances, floats_mm: floats }
}

fn match_mark(i: &Input) -> Answer {
    for (a, b) in [("old_standout_mm", "new_standout_mm"), ("new_standout_mm", "old_standout_mm")] {
        expect(!i.has(a) || i.has(b), b, "both stand-outs belong together")?;
    }
    let mm = |f| i.maybe(f).map(Millimetres);
    let m = fasten::match_mark(
        i.num("old_deg", 0.0),
        i.num("new_deg", 0.0),
        i.num("limit_deg", 0.0),
        Millimetres(i.num("pitch_mm", 0.0)),
        mm("old_standout_mm").zip(mm("new_standout_mm")),
    );
    answer! {
        difference_deg: m.difference_deg, valid: m.valid, standout_limit_mm: m.standout_limit, standout_ok: m.standout_ok,
        call: if !m.valid { "new_mark" } else if m.standout_ok == Some(false) { "look_again" } else { "go" },
    }
}

fn torque_value(i: &Input) -> Answer {
    expect(i.has("force_n") != i.has("torque_nm"), "force_n", "expected either a clamp force or a torque")?;
    expect(i.has("surface") != i.has("k"), "surface", "expected either a surface or a coefficient k")?;
    let long = ["mu_thread", "mu_head", "head_d_mm"];
    if long.iter().any(|f| i.has(f)) {
        for f in long.iter().chain(&["pitch_mm"]) {
            expect(i.has(f), f, "the long form needs pitch, both frictions and the head diameter")?;
        }
    }
    let (d, pitch) = (i.num("d_mm", 0.0), i.maybe("pitch_mm"));
    expect(pitch.is_none_or(|p| p < d), "pitch_mm", "expected the pitch to be smaller than the thread")?;
    let k = i.maybe("k").or_else(|| fasten::surface_k(i.text("surface", ""))).unwrap_or(0.2);
    let force = i.maybe("force_n").unwrap_or_else(|| i.num("torque_nm", 0.0) * 1000.0 / (k * d));
    let torque = fasten::torque(k, Millimetres(d), Newtons(force));
    let (low, high) = fasten::scatter(Newtons(force));
    let exact = pitch
        .filter(|_| i.has("mu_thread"))
        .map(|p| fasten::exact_torque(force, d, p, i.num("mu_thread", 0.0), i.num("mu_head", 0.0), i.num("head_d_mm", 0.0)));
    let proof = pitch.and_then(|p| fasten::proof_load(i.text("property_class", ""), Millimetres(d), Millimetres(p))).map(|l| force / l.0);
    answer! { k: k, torque_nm: torque, force_n: force, force_low_n: low, force_high_n: high, exact_nm: exact, proof_ratio: proof,
    call: proof.map(|p| if p > 1.0 + SLACK { "stop" } else if p > 0.9 + SLACK { "warn" } else { "go" }) }
}

fn other_surface(i: &Input) -> Answer {
    let k = |f| fasten::surface_k(i.text(f, "")).unwrap_or(0.2);
    let ratio = k("used") / k("given");
    answer! { torque_nm: i.num("torque_nm", 0.0) * ratio, ratio: ratio, overstress: 1.0 / ratio }
}

fn extension(i: &Input) -> Answer {
    let mm = |f| Millimetres(i.num(f, 0.0));
    answer! { setting_nm: fasten::wrench_setting(i.num("torque_nm", 0.0), mm("wrench_mm"), mm("extension_mm"), i.num("angle_deg", 0.0))? }
}

fn order(i: &Input) -> Answer {
    let n = i.whole("n", 1) as usize;
    let stages = if i.has("stages_pct") { i.numbers("stages_pct") } else { vec![30.0, 60.0, 100.0] };
    let rising = stages.windows(2).all(|w| w[1] > w[0]) && stages.first().is_some_and(|f| *f > 0.0) && stages.len() <= 100;
    expect(rising && stages.last().is_some_and(|l| (l - 100.0).abs() < SLACK), "stages_pct", "expected rising stages that end at 100")?;
    let crossing = fasten::crossing_order(n);
    let mut rounds: Vec<Value> = stages.iter().map(|pct| serde_json::json!({"pct": pct, "order": crossing})).collect();
    rounds.push(serde_json::json!({"pct": 100.0, "order": (1..=n).collect::<Vec<_>>()}));
    answer! { order: serde_json::json!(crossing), rounds: Value::Array(rounds) }
}

fn hand(i: &Input) -> Answer {
    let clockwise = (i.text("rotation", "") == "cw") == (i.text("seen_from", "") == "nut_end");
    let wanted = Hand::wanted(clockwise);
    let is = match i.text("hand", "") {
        "left" => Hand::Left,
        "right" => Hand::Right,
        _ => wanted,
    };
    let loosen = if is.loosens_clockwise() { "cw" } else { "ccw" };
    answer! { wanted: wanted.name(), agrees: i.has("hand").then_some(is == wanted), loosen: loosen }
}

fn seal_tilt(i: &Input) -> Answer {
    let limit = i.maybe("limit_mm").map_or_else(|| seal::tilt_limit(Millimetres(i.num("shaft_mm", 0.0))), Millimetres);
    let t = seal::tilt(&i.numbers("depths_mm"), limit)?;
    answer! { mean_mm: t.mean, tilt_mm: t.tilt, limit_mm: t.limit, call: if t.go { "go" } else { "stop" } }
}

fn seal_track(i: &Input) -> Answer {
    let mm = |f| Millimetres(i.num(f, 0.0));
    let t = seal::track(mm("pocket_mm"), mm("width_mm"), mm("old_depth_mm"), mm("track_mm"), i.maybe("lip_mm").map(Millimetres))?;
    answer! {
        travel_mm: t.travel, deeper_mm: t.deeper, shallower_mm: t.shallower, method: t.shift.name(), new_depth_mm: t.new_depth, new_lip_mm: t.new_lip,
    }
}

fn oring(i: &Input) -> Answer {
    let mm = |f| Millimetres(i.num(f, 1.0));
    let g = seal::gland(mm("cord_mm"), mm("ring_id_mm"), mm("groove_depth_mm"), mm("groove_width_mm"), mm("groove_d_mm"));
    answer! {
        squeeze_pct: g.squeeze, stretch_pct: g.stretch, fill_pct: g.fill, squeeze_ok: g.squeeze_ok, stretch_ok: g.stretch_ok, fill_ok: g.fill_ok,
        call: if g.squeeze_ok && g.stretch_ok && g.fill_ok { "go" } else { "stop" },
    }
}

fn grease(i: &Input) -> Answer {
    let mm = |f| Millimetres(i.num(f, 0.0));
    let g = crate::grease::fill(mm("d_mm"), mm("outer_mm"), mm("width_mm"), Grams(i.num("mass_g", 0.0)), i.num("rpm", 0.0))?;
    answer! {
        free_mm3: g.free_mm3, speed_factor: g.speed_factor, fill_low_pct: g.fill_pct.0, fill_high_pct: g.fill_pct.1,
        grams_low_g: g.grams.0, grams_high_g: g.grams.1, top_up_g: g.top_up,
    }
}

fn probe(i: &Input) -> Answer {
    for (a, b) in [("known_v", "known_gap_um"), ("known_gap_um", "known_v")] {
        expect(!i.has(a) || i.has(b), b, "a known gap needs its voltage, and the other way round")?;
    }
    let known = i.maybe("known_v").zip(i.maybe("known_gap_um").map(Micrometres));
    let range = (i.num("low_v", 0.0), i.num("high_v", 0.0));
    let p = seal::probe(i.num("voltage_v", 0.0), i.num("sensitivity_mv_um", 1.0), range, i.maybe("target_v"), known)?;
    answer! { target_v: p.target_v, move_um: p.shift, in_range: p.in_range, gap_um: p.gap,
    would_touch: known.zip(p.gap).map(|((_, known), gap)| gap.0 + p.shift.0 <= 0.1 * known.0 + SLACK || p.shift.0 < -known.0 - SLACK) }
}
