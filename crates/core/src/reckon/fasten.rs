//! Names for nuts, torque and threads.

use super::Entry;
use super::declare::{List, NotNegative, Number, Numbers, Positive, Whole, Word, computation, gives, takes};
use crate::fasten::{self, Hand};
use crate::instrument::SLACK;
use crate::quantity::{Millimetres, Newtons};
use crate::refusal::{Result, expect};

pub(super) static ENTRIES: [&Entry; 9] = [
    &taper_nut::ENTRY,
    &nut_slots::ENTRY,
    &match_mark::ENTRY,
    &torque_value::ENTRY,
    &other_surface::ENTRY,
    &extension::ENTRY,
    &order::ENTRY,
    &pattern::ENTRY,
    &hand::ENTRY,
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
        /// float at the nearest lock position
        float_at_lock_mm: Option<Millimetres>;
        /// last lock position not past the aim
        lock_before_deg: Option<f64>;
        /// float at the last one before
        float_before_mm: Option<Millimetres>;
        /// first one at or past the aim
        lock_after_deg: Option<f64>;
        /// float at the first one past
        float_after_mm: Option<Millimetres>;
        /// the nearest lock position is past the aim
        past_aim: Option<bool>;
    }
    example r#"{"float_mm": 0.08, "aim_mm": -0.01, "pitch_mm": 1.5, "step_deg": 30}"#;
}

fn taper_nut(i: &taper_nut::Takes) -> Result<taper_nut::Gives> {
    expect(i.pitch_mm.is_some() != i.tpi.is_some(), "pitch_mm", "expected either the pitch or the threads per inch")?;
    let pitch = i.pitch_mm.unwrap_or_else(|| 25.4 / i.tpi.unwrap_or(f64::INFINITY));
    let t = fasten::nut_turn(
        Millimetres(i.float_mm),
        Millimetres(i.aim_mm),
        Millimetres(pitch),
        i.step_deg,
        i.first_lock_deg,
    )?;
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
        /// clamp force with K a quarter off, least
        force_low_n: Newtons;
        /// clamp force with K a quarter off, most
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
    let long =
        [("mu_thread", i.mu_thread), ("mu_head", i.mu_head), ("head_d_mm", i.head_d_mm), ("pitch_mm", i.pitch_mm)];
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
        (Some(p), Some(thread), Some(head), Some(head_d)) => {
            Some(fasten::exact_torque(force, d, p, thread, head, head_d))
        }
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
        /// torque on the used over the given surface
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
    let setting =
        fasten::wrench_setting(i.torque_nm, Millimetres(i.wrench_mm), Millimetres(i.extension_mm), i.angle_deg)?;
    Ok(extension::Gives { setting_nm: setting })
}

gives! {
    /// A round over the bolts.
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

/// Stages as asked, or the usual ones.
fn stages(asked: Option<&Vec<f64>>) -> Result<Vec<f64>> {
    let stages = asked.cloned().unwrap_or_else(|| vec![30.0, 60.0, 100.0]);
    let rising =
        stages.windows(2).all(|w| w[1] > w[0]) && stages.first().is_some_and(|f| *f > 0.0) && stages.len() <= 100;
    expect(
        rising && stages.last().is_some_and(|l| (l - 100.0).abs() < SLACK),
        "stages_pct",
        "expected rising stages that end at 100",
    )?;
    Ok(stages)
}

fn order(i: &order::Takes) -> Result<order::Gives> {
    let stages = stages(i.stages_pct.as_ref())?;
    let crossing: Vec<u64> = fasten::crossing_order(i.n as usize).into_iter().map(|b| b as u64).collect();
    let mut rounds: Vec<RoundOut> = stages.iter().map(|pct| RoundOut { pct: *pct, order: crossing.clone() }).collect();
    rounds.push(RoundOut { pct: 100.0, order: (1..=i.n).collect() });
    Ok(order::Gives { order: crossing, rounds })
}

takes! {
    /// Where a bolt stands.
    pub(crate) struct BoltIn {
        /// to the right
        x_mm: Number;
        /// up
        y_mm: Number;
    }
}

computation! {
    /// Order and rounds of a cover whose bolts stand where they are drawn.
    pattern = "torque.pattern";
    formula "spread: next the bolt farthest from the nearest done; across: from the middle outwards, each followed by the one opposite";
    source "EN 1591-4 and ASME PCC-1:2019, crossing patterns";
    holds "equal bolts; a cover that is drawn seen from the heads";
    takes {
        /// where the bolts stand, 1 to 400
        bolts: List<BoltIn>;
        /// rule
        [assumed "spread" "across"] rule: Word = "spread";
        /// stages
        [assumed] stages_pct: Option<Numbers> = "[30, 60, 100]";
    }
    gives {
        /// order, from 1
        order: Vec<u64>;
        /// each round
        rounds: Vec<RoundOut>;
    }
    example r#"{"bolts": [{"x_mm": 0, "y_mm": 0}, {"x_mm": 90, "y_mm": 0}, {"x_mm": 90, "y_mm": 60}, {"x_mm": 0, "y_mm": 60}]}"#;
}

fn pattern(i: &pattern::Takes) -> Result<pattern::Gives> {
    let stages = stages(i.stages_pct.as_ref())?;
    let places: Vec<(f64, f64)> = i.bolts.iter().map(|b| (b.x_mm, b.y_mm)).collect();
    let order = if i.rule == "across" { fasten::rectangle_order(&places)? } else { fasten::drawn_order(&places)? };
    let order: Vec<u64> = order.into_iter().map(|b| b as u64 + 1).collect();
    let mut rounds: Vec<RoundOut> = stages.iter().map(|pct| RoundOut { pct: *pct, order: order.clone() }).collect();
    rounds.push(RoundOut { pct: 100.0, order: (1..=places.len() as u64).collect() });
    Ok(pattern::Gives { order, rounds })
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
