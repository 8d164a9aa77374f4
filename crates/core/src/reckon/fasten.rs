//! Names under "torque, threads, seals, the rest" of the contract, and the nuts.

use super::Entry;
use super::declare::{NotNegative, Number, Numbers, Positive, Whole, Word, computation, gives};
use crate::fasten::{self, Hand};
use crate::instrument::SLACK;
use crate::quantity::{Grams, Micrometres, Millimetres, Newtons};
use crate::refusal::{Result, expect};
use crate::seal;

pub(super) static ENTRIES: [&Entry; 13] = [
    &taper_nut::ENTRY,
    &nut_slots::ENTRY,
    &match_mark::ENTRY,
    &torque_value::ENTRY,
    &other_surface::ENTRY,
    &extension::ENTRY,
    &order::ENTRY,
    &hand::ENTRY,
    &seal_tilt::ENTRY,
    &seal_track::ENTRY,
    &oring::ENTRY,
    &grease::ENTRY,
    &probe::ENTRY,
];

computation! {
    /// Turn of an adjusting nut from a float to an aim, and the nearest lock position.
    taper_nut = "taper.nut";
    formula "turn = (float - aim)/pitch x 360";
    source "pitch times turn over 360";
    holds "all slack is taken out, the rollers turn along; threads without play";
    takes {
        /// float now
        float_mm: Number;
        /// wanted float; negative: preload
        aim_mm: Number;
        /// thread pitch
        pitch_mm: Option<Positive>;
        /// threads per inch instead
        tpi: Option<Positive>;
        /// between lock positions
        step_deg: Option<Positive>;
        /// first lock position
        [assumed] first_lock_deg: NotNegative = 0.0;
    }
    gives {
        /// turn
        turn_deg: f64;
        /// nearest lock position
        lock_deg: Option<f64>;
        /// float there
        float_at_lock_mm: Option<Millimetres>;
        /// last lock position not past the aim
        lock_before_deg: Option<f64>;
        /// float there
        float_before_mm: Option<Millimetres>;
        /// first one at or past the aim
        lock_after_deg: Option<f64>;
        /// float there
        float_after_mm: Option<Millimetres>;
        /// the nearest lock position is past the aim
        past_aim: Option<bool>;
    }
    example r#"{"float_mm": 0.08, "aim_mm": -0.01, "pitch_mm": 1.5, "step_deg": 30}"#;
}

fn taper_nut(i: &taper_nut::Takes) -> Result<taper_nut::Gives> {
    expect(i.pitch_mm.is_some() != i.tpi.is_some(), "pitch_mm", "expected either the pitch or the threads per inch")?;
    let pitch = i.pitch_mm.unwrap_or_else(|| 25.4 / i.tpi.unwrap_or(f64::INFINITY));
    let t = fasten::nut_turn(Millimetres(i.float_mm), Millimetres(i.aim_mm), Millimetres(pitch), i.step_deg, i.first_lock_deg)?;
    let (deg, float) = (|l: Option<fasten::LockAt>| l.map(|l| l.deg), |l: Option<fasten::LockAt>| l.map(|l| l.float));
    Ok(taper_nut::Gives {
        turn_deg: t.turn_deg,
        lock_deg: deg(t.lock),
        float_at_lock_mm: float(t.lock),
        lock_before_deg: deg(t.before),
        float_before_mm: float(t.before),
        lock_after_deg: deg(t.after),
        float_after_mm: float(t.after),
        past_aim: t.past_aim,
    })
}

computation! {
    /// Next lock positions of a slotted nut, tightening only.
    nut_slots = "nut.slots";
    formula "step = 360/lcm(slots, tabs); advance = pitch x turn/360";
    source "least common multiple of slots and tabs";
    holds "slots and tabs evenly spaced";
    takes {
        /// slots of the nut
        slots: Whole<1, 1000>;
        /// tabs of the washer
        tabs: Whole<1, 1000>;
        /// angle past a lock position
        present_deg: Number;
        /// turn at least this much
        [assumed] least_deg: NotNegative = 0.0;
        /// thread pitch
        pitch_mm: Positive;
        /// how many
        count: Whole<1, 1000> = 3;
        /// float now
        float_mm: Option<Number>;
    }
    gives {
        /// between lock positions
        step_deg: f64;
        /// next turns, tightening only
        turns_deg: Vec<f64>;
        /// axial advance of each
        advances_um: Vec<f64>;
        /// float after each
        floats_mm: Option<Vec<f64>>;
    }
    example r#"{"slots": 4, "tabs": 17, "present_deg": 3, "pitch_mm": 1.5}"#;
}

fn nut_slots(i: &nut_slots::Takes) -> Result<nut_slots::Gives> {
    let step = fasten::lock_step(i.slots, i.tabs)?;
    let turns = fasten::lock_turns(step, i.present_deg, i.least_deg, i.count as usize)?;
    let advance = |t: &f64| i.pitch_mm * t / 360.0;
    let advances: Vec<f64> = turns.iter().map(|t| advance(t) * 1000.0).collect();
    let floats: Option<Vec<f64>> = i.float_mm.map(|f| turns.iter().map(|t| f - advance(t)).collect());
    Ok(nut_slots::Gives { step_deg: step, turns_deg: turns, advances_um: advances, floats_mm: floats })
}

computation! {
    /// Whether an old match mark still holds.
    match_mark = "nut.match_mark";
    formula "valid within the limit; stand-out within pitch x limit/360";
    source "angle between two marks; pitch times angle for the stand-out";
    holds "the same nut, washer and faces as when the mark was made";
    takes {
        /// zero to mark, before
        old_deg: Number;
        /// zero to mark, now
        new_deg: Number;
        /// allowed difference
        limit_deg: NotNegative;
        /// thread pitch
        pitch_mm: Positive;
        /// stand-out before
        old_standout_mm: Option<Number>;
        /// stand-out now
        new_standout_mm: Option<Number>;
    }
    gives {
        /// new - old, above -180 and up to 180
        difference_deg: f64;
        /// whether the mark holds
        valid: bool;
        /// allowed change of stand-out
        standout_limit_mm: Millimetres;
        /// whether it is within
        standout_ok: Option<bool>;
        /// judgement
        ["go" "new_mark" "look_again"] call: &'static str;
    }
    example r#"{"old_deg": 62, "new_deg": 65, "limit_deg": 5, "pitch_mm": 2}"#;
}

fn match_mark(i: &match_mark::Takes) -> Result<match_mark::Gives> {
    let (old, new) = (i.old_standout_mm.map(Millimetres), i.new_standout_mm.map(Millimetres));
    expect(old.is_none() || new.is_some(), "new_standout_mm", "both stand-outs belong together")?;
    expect(new.is_none() || old.is_some(), "old_standout_mm", "both stand-outs belong together")?;
    let m = fasten::match_mark(i.old_deg, i.new_deg, i.limit_deg, Millimetres(i.pitch_mm), old.zip(new));
    let call = if !m.valid {
        "new_mark"
    } else if m.standout_ok == Some(false) {
        "look_again"
    } else {
        "go"
    };
    Ok(match_mark::Gives {
        difference_deg: m.difference_deg,
        valid: m.valid,
        standout_limit_mm: m.standout_limit,
        standout_ok: m.standout_ok,
        call,
    })
}

computation! {
    /// Torque for a clamp force, or the force of a torque.
    torque_value = "torque.value";
    formula "T = K D F; long form F (P/2pi + mu_t d2/(2 cos 30) + mu_b d_b/2)";
    source "VDI 2230-1:2015; K D F short form in Shigley's Mechanical Engineering Design, chapter Screws and Fasteners; ISO 898-1:2013 for proof";
    holds "clean coarse or fine metric threads, hard washers; K scatters by a quarter";
    takes {
        /// thread diameter
        d_mm: Positive;
        /// clamp force
        force_n: Option<NotNegative>;
        /// torque instead
        torque_nm: Option<NotNegative>;
        /// what is on the thread
        ["dry" "zinc" "oiled" "anti_seize" "retaining" "waxed" "stainless_dry"] surface: Option<Word>;
        /// torque coefficient instead
        k: Option<Positive>;
        /// thread pitch
        pitch_mm: Option<Positive>;
        /// thread friction, for the long form
        mu_thread: Option<NotNegative>;
        /// friction under the head
        mu_head: Option<NotNegative>;
        /// friction diameter under the head
        head_d_mm: Option<Positive>;
        /// property class
        ["4.6" "5.8" "8.8" "10.9" "12.9"] property_class: Option<Word>;
    }
    gives {
        /// torque coefficient
        k: f64;
        /// torque
        torque_nm: f64;
        /// clamp force
        force_n: f64;
        /// with K a quarter higher
        force_low_n: Newtons;
        /// with K a quarter lower
        force_high_n: Newtons;
        /// by the long form
        exact_nm: Option<f64>;
        /// force over proof load
        proof_ratio: Option<f64>;
        /// warn from 0.9 of the proof load, stop beyond it
        ["go" "warn" "stop"] call: Option<&'static str>;
    }
    limits {
        "over 90 % of the proof load" => |_, a| a.proof_ratio.is_some_and(|p| p > 0.9);
        "with the scatter of a quarter in K the force may pass the proof load" => |_, a| a.proof_ratio.is_some_and(|p| p > 0.75);
    }
    example r#"{"d_mm": 12, "force_n": 30000, "surface": "oiled", "pitch_mm": 1.75, "property_class": "8.8"}"#;
}

fn torque_value(i: &torque_value::Takes) -> Result<torque_value::Gives> {
    expect(i.force_n.is_some() != i.torque_nm.is_some(), "force_n", "expected either a clamp force or a torque")?;
    expect(i.surface.is_some() != i.k.is_some(), "surface", "expected either a surface or a coefficient k")?;
    let long = [("mu_thread", i.mu_thread), ("mu_head", i.mu_head), ("head_d_mm", i.head_d_mm), ("pitch_mm", i.pitch_mm)];
    if long[..3].iter().any(|f| f.1.is_some()) {
        for (field, given) in long {
            expect(given.is_some(), field, "the long form needs pitch, both frictions and the head diameter")?;
        }
    }
    let (d, pitch) = (i.d_mm, i.pitch_mm);
    expect(pitch.is_none_or(|p| p < d), "pitch_mm", "expected the pitch to be smaller than the thread")?;
    let k = i.k.or_else(|| fasten::surface_k(i.surface.as_deref()?)).unwrap_or(0.2);
    let force = i.force_n.unwrap_or_else(|| i.torque_nm.unwrap_or(0.0) * 1000.0 / (k * d));
    let torque = fasten::torque(k, Millimetres(d), Newtons(force));
    let (low, high) = fasten::scatter(Newtons(force));
    let exact = match (pitch, i.mu_thread, i.mu_head, i.head_d_mm) {
        (Some(p), Some(thread), Some(head), Some(head_d)) => Some(fasten::exact_torque(force, d, p, thread, head, head_d)),
        _ => None,
    };
    let class = i.property_class.as_deref().unwrap_or("");
    let proof = pitch.and_then(|p| fasten::proof_load(class, Millimetres(d), Millimetres(p))).map(|l| force / l.0);
    let call = proof.map(|p| {
        if p > 1.0 + SLACK {
            "stop"
        } else if p > 0.9 + SLACK {
            "warn"
        } else {
            "go"
        }
    });
    Ok(torque_value::Gives {
        k,
        torque_nm: torque,
        force_n: force,
        force_low_n: low,
        force_high_n: high,
        exact_nm: exact,
        proof_ratio: proof,
        call,
    })
}

computation! {
    /// A torque given for one surface, used on another.
    other_surface = "torque.other_surface";
    formula "T used = T given x K used/K given";
    source "T = K D F for both surfaces; Shigley, chapter Screws and Fasteners";
    holds "the same bolt, head and washer; K scatters by a quarter";
    takes {
        /// given torque
        torque_nm: Positive;
        /// surface it was meant for
        ["dry" "zinc" "oiled" "anti_seize" "retaining" "waxed" "stainless_dry"] given: Word;
        /// surface it is used on
        ["dry" "zinc" "oiled" "anti_seize" "retaining" "waxed" "stainless_dry"] used: Word;
    }
    gives {
        /// torque on the surface used
        torque_nm: f64;
        /// of the torques
        ratio: f64;
        /// clamp over the meant one if the torque were not changed
        overstress: f64;
    }
    example r#"{"torque_nm": 100, "given": "dry", "used": "anti_seize"}"#;
}

fn other_surface(i: &other_surface::Takes) -> Result<other_surface::Gives> {
    let k = |surface: &str| fasten::surface_k(surface).unwrap_or(0.2);
    let ratio = k(&i.used) / k(&i.given);
    Ok(other_surface::Gives { torque_nm: i.torque_nm * ratio, ratio, overstress: 1.0 / ratio })
}

computation! {
    /// Wrench setting with an extension off the axis.
    extension = "torque.extension";
    formula "setting = T L/(L + E cos(angle))";
    source "levers";
    holds "pull at the middle of the grip, square to the wrench";
    takes {
        /// wanted torque
        torque_nm: Positive;
        /// wrench length
        wrench_mm: Positive;
        /// extension
        extension_mm: NotNegative;
        /// between them
        [assumed] angle_deg: Number = 0.0;
    }
    gives {
        /// set the wrench to
        setting_nm: f64;
    }
    limits {
        "extension longer than the wrench: a small error of angle is a large error of torque" => |i, _| i.extension_mm > i.wrench_mm;
        "the extension multiplies the torque by five or more: no wrench is that exact, take a multiplier made for it" => |i, a| i.torque_nm >= 5.0 * a.setting_nm;
    }
    example r#"{"torque_nm": 100, "wrench_mm": 400, "extension_mm": 100}"#;
}

fn extension(i: &extension::Takes) -> Result<extension::Gives> {
    let setting = fasten::wrench_setting(i.torque_nm, Millimetres(i.wrench_mm), Millimetres(i.extension_mm), i.angle_deg)?;
    Ok(extension::Gives { setting_nm: setting })
}

gives! {
    /// One of the list.
    pub(crate) struct RoundOut {
        /// stage
        pct: f64;
        /// bolts
        order: Vec<u64>;
    }
}

computation! {
    /// Crossing order and rounds of a bolt circle.
    order = "torque.order";
    formula "next the bolt farthest from the nearest done, then from the last, then the lowest";
    source "EN 1591-4 and ASME PCC-1:2019, crossing patterns";
    holds "one circle of equal bolts on a gasket or face";
    takes {
        /// bolts, 1 to 200
        n: Whole<1, 200>;
        /// stages
        [assumed] stages_pct: Option<Numbers> = "[30, 60, 100]";
    }
    gives {
        /// crossing order, from 1
        order: Vec<u64>;
        /// each round
        rounds: Vec<RoundOut>;
    }
    example r#"{"n": 8}"#;
}

fn order(i: &order::Takes) -> Result<order::Gives> {
    let n = i.n as usize;
    let stages = i.stages_pct.clone().unwrap_or_else(|| vec![30.0, 60.0, 100.0]);
    let rising = stages.windows(2).all(|w| w[1] > w[0]) && stages.first().is_some_and(|f| *f > 0.0) && stages.len() <= 100;
    expect(rising && stages.last().is_some_and(|l| (l - 100.0).abs() < SLACK), "stages_pct", "expected rising stages that end at 100")?;
    let crossing: Vec<u64> = fasten::crossing_order(n).into_iter().map(|b| b as u64).collect();
    let mut rounds: Vec<RoundOut> = stages.iter().map(|pct| RoundOut { pct: *pct, order: crossing.clone() }).collect();
    rounds.push(RoundOut { pct: 100.0, order: (1..=i.n).collect() });
    Ok(order::Gives { order: crossing, rounds })
}

computation! {
    /// Hand of thread that a turning shaft wants.
    hand = "thread.hand";
    formula "clockwise seen from the nut wants a left-hand thread";
    source "the drag on a turning shaft's nut runs against its turning";
    holds "drag at the nut's face is what would turn it";
    takes {
        /// rotation of the shaft
        ["cw" "ccw"] rotation: Word;
        /// seen from
        ["nut_end" "other_end"] seen_from: Word;
        /// hand of the nut
        ["left" "right"] hand: Option<Word>;
    }
    gives {
        /// hand that drag tightens
        ["left" "right"] wanted: &'static str;
        /// whether the hand agrees
        agrees: Option<bool>;
        /// which way loosens, seen from the nut
        ["cw" "ccw"] loosen: &'static str;
    }
    example r#"{"rotation": "cw", "seen_from": "nut_end", "hand": "left"}"#;
}

fn hand(i: &hand::Takes) -> Result<hand::Gives> {
    let clockwise = (i.rotation == "cw") == (i.seen_from == "nut_end");
    let wanted = Hand::wanted(clockwise);
    let is = match i.hand.as_deref() {
        Some("left") => Hand::Left,
        Some("right") => Hand::Right,
        _ => wanted,
    };
    let loosen = if is.loosens_clockwise() { "cw" } else { "ccw" };
    Ok(hand::Gives { wanted: wanted.name(), agrees: i.hand.is_some().then_some(is == wanted), loosen })
}

computation! {
    /// Tilt of a lip seal in its pocket.
    seal_tilt = "seal.tilt";
    formula "tilt = deepest - shallowest";
    source "ISO 6194-1:2007, squareness of a mounted lip seal, rounded up to steps";
    holds "depths from one face, all round";
    takes {
        /// depths round the face
        depths_mm: Numbers;
        /// shaft
        shaft_mm: Positive;
        /// limit
        [assumed] limit_mm: Option<Positive> = "0.2 to a shaft of 50, 0.3 to 100, 0.4 above";
    }
    gives {
        /// mean depth
        mean_mm: Millimetres;
        /// tilt
        tilt_mm: Millimetres;
        /// limit
        limit_mm: Millimetres;
        /// judgement
        ["go" "stop"] call: &'static str;
    }
    example r#"{"depths_mm": [2.0, 2.1, 2.05, 2.0], "shaft_mm": 40}"#;
}

fn seal_tilt(i: &seal_tilt::Takes) -> Result<seal_tilt::Gives> {
    let limit = i.limit_mm.map_or_else(|| seal::tilt_limit(Millimetres(i.shaft_mm)), Millimetres);
    let t = seal::tilt(&i.depths_mm, limit)?;
    Ok(seal_tilt::Gives { mean_mm: t.mean, tilt_mm: t.tilt, limit_mm: t.limit, call: if t.go { "go" } else { "stop" } })
}

computation! {
    /// Where to set a new lip beside the old track.
    seal_track = "seal.track";
    formula "travel = pocket - width; deeper, else shallower, by a track width, else a sleeve";
    source "geometry of pocket and lip; ISO 6194-1:2007 for the terms";
    holds "a rigid outer case that may stand anywhere in its pocket";
    takes {
        /// pocket depth
        pocket_mm: Positive;
        /// seal width
        width_mm: Positive;
        /// old face below the rim
        old_depth_mm: NotNegative;
        /// track width
        track_mm: Positive;
        /// lip from the seal's outer face
        [assumed] lip_mm: Option<Positive> = "half the width";
    }
    gives {
        /// free travel
        travel_mm: Millimetres;
        /// room deeper
        deeper_mm: Millimetres;
        /// room shallower
        shallower_mm: Millimetres;
        /// what to do
        ["deeper" "shallower" "sleeve"] method: &'static str;
        /// new depth of the face
        new_depth_mm: Millimetres;
        /// new place of the lip
        new_lip_mm: Millimetres;
    }
    example r#"{"pocket_mm": 12, "width_mm": 8, "old_depth_mm": 1, "track_mm": 1}"#;
}

fn seal_track(i: &seal_track::Takes) -> Result<seal_track::Gives> {
    let mm = Millimetres;
    let t = seal::track(mm(i.pocket_mm), mm(i.width_mm), mm(i.old_depth_mm), mm(i.track_mm), i.lip_mm.map(Millimetres))?;
    Ok(seal_track::Gives {
        travel_mm: t.travel,
        deeper_mm: t.deeper,
        shallower_mm: t.shallower,
        method: t.shift.name(),
        new_depth_mm: t.new_depth,
        new_lip_mm: t.new_lip,
    })
}

computation! {
    /// Squeeze, stretch and fill of an O-ring.
    oring = "oring.gland";
    formula "squeeze (cord - depth)/cord; stretch (groove - ring)/ring; fill = cord area/groove area";
    source "ISO 3601-2:2016, gland fill, squeeze and stretch";
    holds "static radial glands; the cord is not thinned by its stretch";
    takes {
        /// cord
        cord_mm: Positive;
        /// ring
        ring_id_mm: Positive;
        /// depth
        groove_depth_mm: Positive;
        /// width
        groove_width_mm: Positive;
        /// groove diameter
        groove_d_mm: Positive;
    }
    gives {
        /// squeeze
        squeeze_pct: f64;
        /// stretch
        stretch_pct: f64;
        /// fill
        fill_pct: f64;
        /// 15 to 30
        squeeze_ok: bool;
        /// 0 to 5
        stretch_ok: bool;
        /// at most 85
        fill_ok: bool;
        /// judgement
        ["go" "stop"] call: &'static str;
    }
    limits {
        "the cord is not thinned by its stretch here: beyond 5 % squeeze and fill come out too high" => |_, a| a.stretch_pct > 5.0;
    }
    example r#"{"cord_mm": 3.53, "ring_id_mm": 50, "groove_depth_mm": 2.8, "groove_width_mm": 4.7, "groove_d_mm": 51}"#;
}

fn oring(i: &oring::Takes) -> Result<oring::Gives> {
    let mm = Millimetres;
    let g = seal::gland(mm(i.cord_mm), mm(i.ring_id_mm), mm(i.groove_depth_mm), mm(i.groove_width_mm), mm(i.groove_d_mm));
    Ok(oring::Gives {
        squeeze_pct: g.squeeze,
        stretch_pct: g.stretch,
        fill_pct: g.fill,
        squeeze_ok: g.squeeze_ok,
        stretch_ok: g.stretch_ok,
        fill_ok: g.fill_ok,
        call: if g.squeeze_ok && g.stretch_ok && g.fill_ok { "go" } else { "stop" },
    })
}

computation! {
    /// Grease for a bearing by speed factor.
    grease = "grease.fill";
    formula "free = pi/4 (D2 - d2) B - mass/7.85e-3; share by n dm; top-up 0.005 D B";
    source "free space from the mass of steel; fill by speed factor and top-up 0.005 D B as common in maintenance guides";
    holds "rolling bearings with grease of common density, 0.9 g/cm³";
    takes {
        /// bore
        d_mm: Positive;
        /// outside
        outer_mm: Positive;
        /// width
        width_mm: Positive;
        /// mass
        mass_g: Positive;
        /// speed
        rpm: NotNegative;
    }
    gives {
        /// free space
        free_mm3: f64;
        /// speed x mean diameter
        speed_factor: f64;
        /// least fill
        fill_low_pct: f64;
        /// most fill
        fill_high_pct: f64;
        /// least
        grams_low_g: Grams;
        /// most
        grams_high_g: Grams;
        /// top-up
        top_up_g: Grams;
    }
    limits {
        "speed factor above 600 000: follow the maker's fill and run-in" => |_, a| a.speed_factor > 600_000.0;
        "speed factor above 500 000: the balls' own forces shift the contact, and preload is reckoned without them" => |_, a| a.speed_factor > 500_000.0;
    }
    example r#"{"d_mm": 40, "outer_mm": 80, "width_mm": 18, "mass_g": 370, "rpm": 2900}"#;
}

fn grease(i: &grease::Takes) -> Result<grease::Gives> {
    let mm = Millimetres;
    let g = crate::grease::fill(mm(i.d_mm), mm(i.outer_mm), mm(i.width_mm), Grams(i.mass_g), i.rpm)?;
    Ok(grease::Gives {
        free_mm3: g.free_mm3,
        speed_factor: g.speed_factor,
        fill_low_pct: g.fill_pct.0,
        fill_high_pct: g.fill_pct.1,
        grams_low_g: g.grams.0,
        grams_high_g: g.grams.1,
        top_up_g: g.top_up,
    })
}

computation! {
    /// Setting an eddy probe by its gap voltage.
    probe = "probe.gap";
    formula "move = (target - voltage)/sensitivity";
    source "API 670:2014, linear range and scale of eddy-current probes";
    holds "the sensitivity holds for this cable, driver and shaft material";
    takes {
        /// gap voltage
        voltage_v: Number;
        /// sensitivity
        sensitivity_mv_um: Positive;
        /// near end of the linear range
        low_v: Number;
        /// far end
        high_v: Number;
        /// target
        [assumed] target_v: Option<Number> = "middle";
        /// voltage at a known gap
        known_v: Option<Number>;
        /// that gap
        known_gap_um: Option<NotNegative>;
    }
    gives {
        /// target, without its sign
        target_v: f64;
        /// move the probe by, + away from the shaft
        move_um: Micrometres;
        /// whether the reading is in the linear range
        in_range: bool;
        /// gap
        gap_um: Option<Micrometres>;
        /// the move would bring it to the shaft, or the sensitivity is wrong
        would_touch: Option<bool>;
    }
    limits {
        "outside the linear range the sensitivity does not hold" => |_, a| !a.in_range;
    }
    example r#"{"voltage_v": -8, "sensitivity_mv_um": 7.87, "low_v": -2, "high_v": -18}"#;
}

fn probe(i: &probe::Takes) -> Result<probe::Gives> {
    let words = "a known gap needs its voltage, and the other way round";
    expect(i.known_v.is_none() || i.known_gap_um.is_some(), "known_gap_um", words)?;
    expect(i.known_gap_um.is_none() || i.known_v.is_some(), "known_v", words)?;
    let known = i.known_v.zip(i.known_gap_um.map(Micrometres));
    let range = (i.low_v, i.high_v);
    let p = seal::probe(i.voltage_v, i.sensitivity_mv_um, range, i.target_v, known)?;
    Ok(probe::Gives {
        target_v: p.target_v,
        move_um: p.shift,
        in_range: p.in_range,
        gap_um: p.gap,
        would_touch: known.zip(p.gap).map(|((_, known), gap)| gap.0 + p.shift.0 <= 0.1 * known.0 + SLACK || p.shift.0 < -known.0 - SLACK),
    })
}
