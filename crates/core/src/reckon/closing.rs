//! Computations: caps and expanders of plain bearings, soft threads, stuffing boxes.

use super::Entry;
use super::declare::{List, NotNegative, Numbers, Positive, Word, computation, takes};
use crate::fasten::{self, Ground};
use crate::preload::{Fills, cap_shims, expanded, lift, running_clearance};
use crate::quantity::{Micrometres, Millimetres, Newtons};
use crate::refusal::{Refusal, Result, expect};
use crate::seal;

pub(super) static ENTRIES: [&Entry; 4] = [&caps::ENTRY, &expander::ENTRY, &proof::ENTRY, &packing::ENTRY];

computation! {
    /// Shims under the caps of a plain bearing, from the lift at both ends.
    caps = "plain.caps";
    formula "take out = lift - middle of the window; of the leaves that are in, the set that comes nearest without closing below it";
    source "usual practice: 0.0006 to 0.001 of the diameter, unless the maker says otherwise";
    holds "a cap that comes down square; the lift read by a dial over the cap, the shaft lifted without bending it";
    takes {
        /// diameter of the journal
        shaft_mm: Positive;
        /// lift at the front
        front_um: NotNegative;
        /// lift at the rear
        rear_um: NotNegative;
        /// least lift, else 0.0006 of the diameter
        lo_um: Option<NotNegative>;
        /// largest lift, else 0.001 of the diameter
        hi_um: Option<NotNegative>;
        /// leaves under each side of the front cap
        front_leaves_um: Option<Numbers>;
        /// leaves under each side of the rear cap
        rear_leaves_um: Option<Numbers>;
    }
    gives {
        /// least lift that is right
        window_lo_um: f64;
        /// largest lift that is right
        window_hi_um: f64;
        /// to take out of each side at the front, negative: to put in
        front_out_um: f64;
        /// and at the rear
        rear_out_um: f64;
        /// leaves that come out at the front
        front_take_um: Vec<f64>;
        /// and at the rear
        rear_take_um: Vec<f64>;
        /// lift at the front then
        front_then_um: f64;
        /// and at the rear
        rear_then_um: f64;
        /// judgement of the lift that was read
        ["go" "look_again"] call: &'static str;
    }
    example r#"{"shaft_mm": 60, "front_um": 110, "rear_um": 55, "front_leaves_um": [50, 50, 25], "rear_leaves_um": [50, 25]}"#;
}

fn caps(i: &caps::Takes) -> Result<caps::Gives> {
    let (lo, hi) = running_clearance(Millimetres(i.shaft_mm));
    let window = (i.lo_um.map_or(lo, Micrometres), i.hi_um.map_or(hi, Micrometres));
    let none = Vec::new();
    let one = |read: f64, leaves: &Option<Vec<f64>>, field: &str| {
        cap_shims(Micrometres(read), window, leaves.as_ref().unwrap_or(&none))
            .map_err(|e| if e.field == "leaves_um" { Refusal::new(field, e.message) } else { e })
    };
    let front = one(i.front_um, &i.front_leaves_um, "front_leaves_um")?;
    let rear = one(i.rear_um, &i.rear_leaves_um, "rear_leaves_um")?;
    let judged = lift(Micrometres(i.front_um), Micrometres(i.rear_um), window);
    Ok(caps::Gives {
        window_lo_um: window.0.0,
        window_hi_um: window.1.0,
        front_out_um: front.take_out.0,
        rear_out_um: rear.take_out.0,
        front_take_um: front.leaves,
        rear_take_um: rear.leaves,
        front_then_um: front.lift_then.0,
        rear_then_um: rear.lift_then.0,
        call: if judged.both_in { "go" } else { "look_again" },
    })
}

takes! {
    /// Turns of the screws, and the lift.
    pub(crate) struct TurnIn {
        /// turns of every screw in all
        turns: NotNegative;
        /// lift that was read
        lift_um: NotNegative;
    }
}

computation! {
    /// Whether the expander of a plain bearing fills its bore, and what its screws do next.
    expander = "plain.expander";
    formula "it fills its bore once the lift changes no more from turn to turn; then shims out = lift - middle of the window";
    source "usual practice: the cap's shims set the smallest, the expander fills";
    holds "its screws begun before the cap was pulled down, all turned by the same; the cap tight on its shims";
    takes {
        /// diameter of the journal
        shaft_mm: Positive;
        /// turns and lift, step by step
        steps: List<TurnIn>;
        /// least lift, else 0.0006 of the diameter
        lo_um: Option<NotNegative>;
        /// largest lift, else 0.001 of the diameter
        hi_um: Option<NotNegative>;
        /// what the dial can be wrong by
        [assumed] u_um: NotNegative = 3.0;
    }
    gives {
        /// least lift that is right
        window_lo_um: f64;
        /// largest lift that is right
        window_hi_um: f64;
        /// lift now
        lift_um: f64;
        /// change by the last turn
        last_um: f64;
        /// change in all
        moved_um: f64;
        /// out from under each side of the cap; below 0: to put in
        shims_um: Option<f64>;
        /// judgement
        ["go" "turn" "shims" "look_again"] call: &'static str;
    }
    example r#"{"shaft_mm": 60, "steps": [{"turns": 0, "lift_um": 20}, {"turns": 0.25, "lift_um": 38}, {"turns": 0.5, "lift_um": 48}, {"turns": 0.75, "lift_um": 49}]}"#;
}

fn expander(i: &expander::Takes) -> Result<expander::Gives> {
    let (lo, hi) = running_clearance(Millimetres(i.shaft_mm));
    let window = (i.lo_um.map_or(lo, Micrometres), i.hi_um.map_or(hi, Micrometres));
    let steps: Vec<(f64, f64)> = i.steps.iter().map(|s| (s.turns, s.lift_um)).collect();
    let e = expanded(&steps, window, Micrometres(i.u_um))?;
    Ok(expander::Gives {
        window_lo_um: window.0.0,
        window_hi_um: window.1.0,
        lift_um: steps.last().map_or(0.0, |s| s.1),
        last_um: e.last.0,
        moved_um: e.moved.0,
        shims_um: e.shims.map(|s| s.0),
        call: match e.next {
            Fills::Lock => "go",
            Fills::Turn => "turn",
            Fills::Shims => "shims",
            Fills::LookAgain => "look_again",
        },
    })
}

computation! {
    /// Whether a thread in soft metal carries its bolt.
    proof = "thread.proof";
    formula "strips at 0.875 pi d (engaged - pitch) times shear strength; proof load = stress area times proof stress";
    source "ISO 898-1, ISO 68-1; shear strengths of common castings, low";
    holds "a whole thread; the outermost turn on either side counts for nothing";
    takes {
        /// diameter of the thread
        d_mm: Positive;
        /// pitch
        pitch_mm: Positive;
        /// thread that is engaged
        engaged_mm: Positive;
        /// what it is cut in
        ["steel" "grey_iron" "bronze" "aluminium"] ground: Word;
        /// class of the bolt, such as 8.8 or grade 5
        ["4.6" "4.8" "5.6" "5.8" "6.8" "8.8" "9.8" "10.9" "12.9" "grade 2" "grade 5" "grade 8"] class: Word;
        /// clamp force that is wanted
        clamp_n: Option<Positive>;
    }
    gives {
        /// force at which the thread strips
        strips_n: f64;
        /// proof load of the bolt
        proof_n: f64;
        /// engaged length that carries the proof load
        wanted_mm: f64;
        /// share of the weaker of the two that the clamp force takes
        share: Option<f64>;
        /// judgement
        ["go" "look_again" "stop"] call: &'static str;
    }
    example r#"{"d_mm": 8, "pitch_mm": 1.25, "engaged_mm": 12, "ground": "aluminium", "class": "8.8", "clamp_n": 15000}"#;
}

fn proof(i: &proof::Takes) -> Result<proof::Gives> {
    let ground = match i.ground.as_str() {
        "grey_iron" => Ground::GreyIron,
        "bronze" => Ground::Bronze,
        "aluminium" => Ground::Aluminium,
        _ => Ground::Steel,
    };
    let (d, pitch) = (Millimetres(i.d_mm), Millimetres(i.pitch_mm));
    expect(i.pitch_mm < i.d_mm / 2.0, "pitch_mm", "expected a pitch that such a thread has")?;
    let strips = fasten::stripping(d, pitch, Millimetres(i.engaged_mm), ground)?;
    let proof = fasten::proof_load(&i.class, d, pitch)
        .ok_or_else(|| Refusal::new("class", "expected a class that this thread comes in"))?;
    let weakest = strips.0.min(proof.0);
    let share = i.clamp_n.map(|c| c / weakest);
    let call = match share {
        Some(s) if s > 1.0 => "stop",
        Some(s) if s > 0.9 => "look_again",
        None if strips.0 < proof.0 => "look_again",
        _ => "go",
    };
    let wanted = fasten::engaged_for(d, pitch, Newtons(proof.0), ground);
    Ok(proof::Gives { strips_n: strips.0, proof_n: proof.0, wanted_mm: wanted.0, share, call })
}

computation! {
    /// Rings of a stuffing box: section, length, how many, where their gaps go.
    packing = "packing.rings";
    formula "side = (box - shaft)/2; cut = pi (shaft + side); gaps a third of a turn apart up to three rings, else a quarter";
    source "usual practice of stuffing boxes";
    holds "braided rings, cut square on a mandrel of the shaft's size";
    takes {
        /// shaft, or its sleeve
        shaft_mm: Positive;
        /// bore of the box
        box_mm: Positive;
        /// depth of the box, less what the gland dips in
        depth_mm: Positive;
    }
    gives {
        /// side of the braid
        side_mm: f64;
        /// rings that go in
        rings: u64;
        /// length of each, cut square
        cut_mm: f64;
        /// where each gap goes, from the first
        gaps_deg: Vec<f64>;
    }
    example r#"{"shaft_mm": 40, "box_mm": 60, "depth_mm": 52}"#;
}

fn packing(i: &packing::Takes) -> Result<packing::Gives> {
    let p = seal::packing(Millimetres(i.shaft_mm), Millimetres(i.box_mm), Millimetres(i.depth_mm))?;
    Ok(packing::Gives { side_mm: p.side.0, rings: p.rings as u64, cut_mm: p.cut.0, gaps_deg: p.gaps_deg })
}

#[cfg(test)]
mod tests {
    use crate::reckon::reckon;
    use serde_json::{Value, json};

    fn of(name: &str, input: Value) -> Value {
        reckon(name, &input.to_string()).unwrap()
    }

    /// M8 of 8.8 stands 36.6 mm² of 580 MPa, 21.2 kN; 10.75 mm of thread in aluminium strip at 0.875 pi 8 10.75 110 =
    /// 26.0 kN.
    #[test]
    fn the_weaker_of_thread_and_bolt_decides_and_what_helps_is_said() {
        let m8 = |engaged: f64, clamp: Option<f64>| {
            of(
                "thread.proof",
                json!({"d_mm": 8, "pitch_mm": 1.25, "engaged_mm": engaged, "ground": "aluminium", "class": "8.8", "clamp_n": clamp}),
            )
        };
        let a = m8(12.0, Some(15_000.0));
        assert!((a["strips_n"].as_f64().unwrap() - 26_004.0).abs() < 10.0, "{a}");
        assert!((a["proof_n"].as_f64().unwrap() - 21_230.0).abs() < 30.0, "{a}");
        assert!((a["share"].as_f64().unwrap() - 0.7066).abs() < 0.001 && a["call"] == "go");
        for (engaged, clamp, call, says) in [
            (12.0, Some(25_000.0), "stop", "more thread does not help"),
            (12.0, Some(20_000.0), "look_again", "within a tenth of its proof load"),
            (12.0, None, "go", "all that the bolt does"),
            (6.0, Some(15_000.0), "stop", "The thread would strip: 10.0"),
            (6.0, Some(11_000.0), "look_again", "within a tenth of stripping"),
            (6.0, Some(5_000.0), "go", "carry it"),
            (6.0, None, "look_again", "gives way before the bolt"),
        ] {
            let a = m8(engaged, clamp);
            assert!(a["call"] == call && a["words"].as_str().unwrap().contains(says), "{engaged} {clamp:?}: {a}");
        }
    }

    /// 60 mm run with 36 to 60 µm, 48 in the middle: of 110 come 62 out; to 20 go 28 in.
    #[test]
    fn each_cap_is_set_by_its_own_lift() {
        let caps = |front: f64, rear: f64| {
            of("plain.caps", json!({"shaft_mm": 60, "front_um": front, "rear_um": rear, "front_leaves_um": [50, 25]}))
        };
        let a = caps(110.0, 20.0);
        assert_eq!(
            (&a["front_out_um"], &a["rear_out_um"], &a["front_take_um"]),
            (&json!(62.0), &json!(-28.0), &json!([50.0]))
        );
        assert_eq!(
            a["words"],
            "Too much lift at the front: 62 µm out of each side; too little lift at the rear: 28 µm into each side. In steps, and try by hand after each."
        );
        assert!(caps(40.0, 110.0)["words"].as_str().unwrap().starts_with("Too much lift at the rear"));
        assert_eq!(caps(36.0, 60.0)["call"], "go");
    }
}
