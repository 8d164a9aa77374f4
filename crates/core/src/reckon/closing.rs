//! Computations: caps of plain bearings, soft threads, stuffing boxes.

use super::Entry;
use super::declare::{NotNegative, Numbers, Positive, Word, computation};
use crate::fasten::{self, Ground};
use crate::preload::{cap_shims, lift, running_clearance};
use crate::quantity::{Micrometres, Millimetres, Newtons};
use crate::refusal::{Refusal, Result, expect};
use crate::seal;

pub(super) static ENTRIES: [&Entry; 3] = [&caps::ENTRY, &proof::ENTRY, &packing::ENTRY];

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
        ["go" "close" "open"] call: &'static str;
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
    let call = if judged.both_in {
        "go"
    } else if i.front_um.max(i.rear_um) > window.1.0 {
        "close"
    } else {
        "open"
    };
    Ok(caps::Gives {
        window_lo_um: window.0.0,
        window_hi_um: window.1.0,
        front_out_um: front.take_out.0,
        rear_out_um: rear.take_out.0,
        front_take_um: front.leaves,
        rear_take_um: rear.leaves,
        front_then_um: front.lift_then.0,
        rear_then_um: rear.lift_then.0,
        call,
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
