//! Names under "axial" of the contract.

use super::Entry;
use super::declare::{Flag, List, NotNegative, Number, Numbers, Positive, Whole, Word, computation, takes};
use crate::axial::{self, FloatCall, Gap, Meant};
use crate::instrument::SLACK;
use crate::quantity::Millimetres;
use crate::refusal::{Refusal, Result, expect};

pub(super) static ENTRIES: [&Entry; 8] = [
    &float_shim::ENTRY,
    &two_shims::ENTRY,
    &position::ENTRY,
    &backed_off::ENTRY,
    &gap_around::ENTRY,
    &wear_ring::ENTRY,
    &shim_stock::ENTRY,
    &key_clearance::ENTRY,
];

takes! {
    /// What was read at both limits.
    pub(crate) struct PairIn {
        /// reading at one limit
        pushed_mm: Number;
        /// reading at the other
        pulled_mm: Number;
    }
}

computation! {
    /// Float against its window, and what the adjusting shim must become.
    float_shim = "float.shim";
    formula "float = mean |pulled - pushed|; change = +-(float - aim)";
    source "mean of pairs; the sign is that of the machine";
    holds "the same push in every pair; the housing clamped";
    takes {
        /// pushed and pulled, three pairs or more are usual
        pairs: List<PairIn>;
        /// lower end of the window
        lo_mm: Number;
        /// upper end
        hi_mm: Number;
        /// aim
        [assumed] aim_mm: Option<Number> = "middle";
        /// uncertainty
        [assumed] u_mm: NotNegative = 0.01;
        /// a thicker shim gives less float
        [assumed] thicker_reduces: Flag = true;
        /// present shim
        shim_mm: Option<Positive>;
    }
    gives {
        /// end play
        float_mm: Millimetres;
        /// spread of the pairs
        range_mm: Millimetres;
        /// judgement
        ["go" "look_again" "stop"] call: &'static str;
        /// change of the shim, + thicker
        change_mm: Option<Millimetres>;
        /// what to do
        ["none" "add" "remove"] action: Option<&'static str>;
        /// how much
        amount_mm: Option<Millimetres>;
        /// shim afterwards
        new_shim_mm: Option<f64>;
    }
    limits {
        "fewer than three pairs: nothing says how well they repeat" => |i, _| i.pairs.len() < 3;
    }
    example r#"{"pairs": [{"pushed_mm": 0, "pulled_mm": 0.42}, {"pushed_mm": 0, "pulled_mm": 0.42}, {"pushed_mm": 0, "pulled_mm": 0.43}], "lo_mm": 0.25, "hi_mm": 0.35, "u_mm": 0.012, "shim_mm": 4.6}"#;
}

fn float_shim(i: &float_shim::Takes) -> Result<float_shim::Gives> {
    let pairs: Vec<(f64, f64)> = i.pairs.iter().map(|p| (p.pushed_mm, p.pulled_mm)).collect();
    let f = axial::float(&pairs, (i.lo_mm, i.hi_mm), i.aim_mm, i.u_mm, i.thicker_reduces)?;
    let shim = i.shim_mm.zip(f.change).map(|(s, c)| s + c.0);
    expect(shim.is_none_or(|s| s > axial::VANISHED), "shim_mm", "no shim would be left: something else is too long")?;
    Ok(float_shim::Gives {
        float_mm: f.float,
        range_mm: f.range,
        call: match f.call {
            FloatCall::Go => "go",
            FloatCall::Stop => "stop",
            FloatCall::LookAgain => "look_again",
        },
        change_mm: f.change,
        action: f.change.map(|c| {
            if c.0 > 0.0 {
                "add"
            } else if c.0 < 0.0 {
                "remove"
            } else {
                "none"
            }
        }),
        amount_mm: f.change.map(|c| Millimetres(c.0.abs())),
        new_shim_mm: shim,
    })
}

takes! {
    /// A gap, and what each shim does to it.
    pub(crate) struct GapIn {
        /// gap now
        now_mm: Number;
        /// gap wanted
        wanted_mm: Number;
        /// what a thicker shim does to it, one number a shim
        signs: Numbers;
    }
}

computation! {
    /// Several shims set together from several gaps.
    two_shims = "axial.two_shims";
    formula "gap change = sum of sign x shim change, least squares";
    source "linear least squares: Golub and Van Loan, Matrix Computations, chapter Orthogonalization and Least Squares";
    holds "gaps that change in proportion to the shims";
    takes {
        /// gaps measured
        gaps: List<GapIn>;
        /// present thicknesses
        shims_mm: Numbers;
    }
    gives {
        /// change of each shim
        change_mm: Vec<f64>;
        /// each shim afterwards
        new_mm: Vec<f64>;
        /// largest gap error left
        left_mm: f64;
    }
    limits {
        "as many gaps as shims: they always fit, nothing checks the signs" => |i, _| i.gaps.len() <= i.shims_mm.len();
    }
    example r#"{"gaps": [{"now_mm": 1.2, "wanted_mm": 1.0, "signs": [-1, 0]}, {"now_mm": 0.5, "wanted_mm": 0.3, "signs": [1, -1]}], "shims_mm": [3.0, 4.0]}"#;
}

fn two_shims(i: &two_shims::Takes) -> Result<two_shims::Gives> {
    let gaps: Vec<Gap> =
        i.gaps.iter().map(|g| Gap { now: g.now_mm, wanted: g.wanted_mm, signs: g.signs.clone() }).collect();
    let shims = &i.shims_mm;
    expect(shims.len() <= 40 && gaps.len() <= 4000, "gaps", "at most 40 shims and 4000 gaps are taken")?;
    let (change, left) = axial::several_shims(&gaps, shims)?;
    let new: Vec<f64> = shims.iter().zip(&change).map(|(s, c)| s + c).collect();
    Ok(two_shims::Gives { change_mm: change, new_mm: new, left_mm: left })
}

computation! {
    /// Gaps around a wheel: mean, offset, oval, and the move.
    gap_around = "gap.around";
    formula "g(t) = G + ex cos t + ey sin t (+ oval from 6 gaps); smallest G - |e|";
    source "discrete Fourier series by least squares";
    holds "feelers reach the narrowest place at each angle";
    takes {
        /// gaps
        gaps_mm: Numbers;
        /// angles
        angles_deg: Option<Numbers> = "equal steps from 0";
        /// uncertainty
        [assumed] u_mm: NotNegative = 0.02;
        /// smallest gap allowed
        min_gap_mm: Option<Number>;
        /// largest offset allowed
        max_offset_mm: Option<Number>;
        /// read nearby, where the gap itself cannot be reached: the uncertainty counts twice
        indirect: Flag = false;
        /// clearance of the rotor's bearings: it runs higher by half of it
        bearing_clearance_mm: Option<NotNegative>;
        /// where the top is
        top_deg: Number = 0.0;
    }
    gives {
        /// mean gap
        mean_mm: Millimetres;
        /// offset
        offset_mm: Millimetres;
        /// towards the widest gap
        offset_deg: Option<f64>;
        /// smallest gap
        smallest_mm: Millimetres;
        /// move the housing by
        move_mm: Millimetres;
        /// in this direction
        move_deg: Option<f64>;
        /// oval
        oval_mm: Option<Millimetres>;
        /// sum of one pair of opposite gaps - the other
        cross_mm: Option<Millimetres>;
        /// whether they agree
        consistent: bool;
        /// smallest gap while it runs
        running_mm: Option<f64>;
        /// judgement
        ["go" "look_again" "stop"] call: &'static str;
    }
    limits {
        "read indirectly: the uncertainty is doubled" => |i, _| i.indirect;
        "three gaps always fit: nothing checks the readings" => |i, _| i.gaps_mm.len() == 3;
    }
    example r#"{"gaps_mm": [0.42, 0.40, 0.34, 0.36]}"#;
}

fn gap_around(i: &gap_around::Takes) -> Result<gap_around::Gives> {
    let g = axial::gaps(&i.gaps_mm, i.angles_deg.as_deref())?;
    let u = Millimetres(i.u_mm);
    let consistent = g.consistent(if i.indirect { axial::indirect(u) } else { u });
    // What the fit leaves out at rest, such as an oval, is there while it runs as well.
    let around = |k: f64, c: f64| axial::lifted(&g, k, i.top_deg, Millimetres(c)).0;
    let least = |c: f64| (0..720).map(|k| around(f64::from(k) / 2.0, c)).fold(f64::INFINITY, f64::min);
    let running = i.bearing_clearance_mm.map(|c| (g.smallest.0 + least(c) - least(0.0)).max(0.0));
    let small = running.map_or(g.smallest.0, |r| r.min(g.smallest.0));
    let stop = i.min_gap_mm.map_or(small <= SLACK, |m| small < m - SLACK)
        || i.max_offset_mm.is_some_and(|m| g.offset.0 > m + SLACK);
    Ok(gap_around::Gives {
        mean_mm: g.mean,
        offset_mm: g.offset,
        offset_deg: g.offset_deg,
        smallest_mm: g.smallest,
        move_mm: g.offset,
        move_deg: g.move_deg(),
        oval_mm: g.oval,
        cross_mm: g.cross,
        consistent,
        running_mm: running,
        call: if !consistent {
            "look_again"
        } else if stop {
            "stop"
        } else {
            "go"
        },
    })
}

takes! {
    /// A wheel beside its diffuser, both from one face, inboard counted up.
    pub(crate) struct StageIn {
        /// middle of the wheel
        wheel_mm: Number;
        /// middle of its diffuser or nozzle
        diffuser_mm: Number;
    }
}

computation! {
    /// Where a rotor stands against its diffusers, and what its shim becomes.
    position = "rotor.position";
    formula "P = mean of wheel - diffuser, inboard counted up; shim thinner by P where a thicker one moves it inboard, else thicker";
    source "usual practice: the rotor hard against its running thrust face, before the top case goes on";
    holds "all read from one face; the rotor pushed against the face that carries it while it runs";
    takes {
        /// wheels and diffusers
        stages: List<StageIn>;
        /// a thicker shim moves the rotor inboard
        thicker_inboard: Flag = true;
        /// shim that is in
        shim_mm: Option<Positive>;
        /// offset that is allowed
        [assumed] limit_mm: Positive = 0.5;
        /// total travel without the thrust bearing
        travel_mm: Option<Positive>;
        /// running place in it, from the inboard end
        at_mm: Option<NotNegative>;
    }
    gives {
        /// too far inboard by; below 0: outboard
        position_mm: f64;
        /// farthest off its diffuser
        worst_mm: f64;
        /// wheel that is farthest from where the others stand
        apart: u64;
        /// that one is still off, once the shim is changed
        left_mm: f64;
        /// the shim changes by; below 0: thinner
        change_mm: f64;
        /// shim then
        new_shim_mm: Option<f64>;
        /// place in the total travel
        share: Option<f64>;
        /// judgement
        ["go" "shim" "look_again"] call: &'static str;
    }
    limits {
        "it runs nearer than a quarter to an end of its travel" => |_, a| a.share.is_some_and(|s| !(0.25..=0.75).contains(&s));
    }
    example r#"{"stages": [{"wheel_mm": 112.4, "diffuser_mm": 112.1}, {"wheel_mm": 188.5, "diffuser_mm": 188.1}, {"wheel_mm": 264.3, "diffuser_mm": 264.0}], "shim_mm": 4.2, "limit_mm": 0.2}"#;
}

fn position(i: &position::Takes) -> Result<position::Gives> {
    let off: Vec<f64> = i.stages.iter().map(|s| s.wheel_mm - s.diffuser_mm).collect();
    let p = off.iter().sum::<f64>() / off.len().max(1) as f64;
    let farthest = |from: f64| {
        let one = |x: &(usize, &f64)| (x.1 - from).abs();
        off.iter().enumerate().max_by(|a, b| one(a).total_cmp(&one(b)))
    };
    let (Some((_, worst)), Some((apart, odd))) = (farthest(0.0), farthest(p)) else {
        return Err(Refusal::new("stages", "at least one wheel is expected"));
    };
    let left = odd - p;
    let change = axial::position_shim(Millimetres(p), i.thicker_inboard).0;
    let new_shim = i.shim_mm.map(|s| s + change);
    expect(
        new_shim.is_none_or(|s| s > 0.0),
        "shim_mm",
        "the shim cannot give so much: read again, or look for what is missing",
    )?;
    let share = match (i.at_mm, i.travel_mm) {
        (Some(at), Some(travel)) => Some(axial::travel_share(Millimetres(at), Millimetres(travel))?),
        (None, None) => None,
        (Some(_), None) => {
            return Err(Refusal::new("travel_mm", "the running place and the total travel belong together"));
        }
        (None, Some(_)) => return Err(Refusal::new("at_mm", "the running place and the total travel belong together")),
    };
    // Wheels that disagree cannot all be put right by one shim.
    let call = if worst.abs() <= i.limit_mm + SLACK {
        "go"
    } else if left.abs() <= i.limit_mm + SLACK {
        "shim"
    } else {
        "look_again"
    };
    Ok(position::Gives {
        position_mm: p,
        worst_mm: *worst,
        apart: apart as u64 + 1,
        left_mm: left,
        change_mm: change,
        new_shim_mm: new_shim,
        share,
        call,
    })
}

computation! {
    /// Whether a flinger is backed off as it should be.
    backed_off = "flinger.back_off";
    formula "back off = |now - touching|";
    source "usual practice: in until it touches, back by the stated amount, screws snugged in turn";
    holds "both read from the same face, the set screws snug";
    takes {
        /// place where it touches
        touching_mm: Number;
        /// place now
        now_mm: Number;
        /// back it off by
        wanted_mm: Positive;
        /// give or take
        [assumed] tolerance_mm: Option<NotNegative> = "a fifth of it";
    }
    gives {
        /// backed off by
        back_mm: f64;
        /// still to go; below 0: too far
        more_mm: f64;
        /// judgement
        ["go" "stop"] call: &'static str;
    }
    example r#"{"touching_mm": 30.45, "now_mm": 31.2, "wanted_mm": 0.75}"#;
}

fn backed_off(i: &backed_off::Takes) -> Result<backed_off::Gives> {
    let (now, touching, wanted) = (Millimetres(i.now_mm), Millimetres(i.touching_mm), Millimetres(i.wanted_mm));
    let right = axial::backed_off(now, touching, wanted, Millimetres(i.tolerance_mm.unwrap_or(wanted.0 / 5.0)));
    let back = (now.0 - touching.0).abs();
    Ok(backed_off::Gives { back_mm: back, more_mm: wanted.0 - back, call: if right { "go" } else { "stop" } })
}

computation! {
    /// Wear-ring clearance, total and per side.
    wear_ring = "wear_ring";
    formula "total = ring - collar; per side = half";
    source "difference of two diameters; limits as API 610 or the maker gives them";
    holds "round and concentric rings";
    takes {
        /// ring
        ring_id_mm: Option<Positive>;
        /// collar
        collar_od_mm: Option<Positive>;
        /// a reading instead
        reading_mm: Option<Number>;
        /// what the reading means
        ["total" "per_side"] reading_kind: Option<Word>;
        /// lower limit
        limit_min_mm: Option<Number>;
        /// upper limit
        limit_max_mm: Option<Number>;
        /// what the limits mean
        ["total" "per_side"] limit_kind: Option<Word>;
    }
    gives {
        /// total clearance
        total_mm: f64;
        /// per side
        per_side_mm: f64;
        /// judgement
        ["go" "stop"] call: Option<&'static str>;
    }
    example r#"{"ring_id_mm": 120.5, "collar_od_mm": 120.0, "limit_max_mm": 0.3, "limit_kind": "per_side"}"#;
}

fn wear_ring(i: &wear_ring::Takes) -> Result<wear_ring::Gives> {
    let meant = |kind: &Option<String>| if kind.as_deref() == Some("per_side") { Meant::PerSide } else { Meant::Total };
    let sizes = i.ring_id_mm.is_some() || i.collar_od_mm.is_some();
    expect(sizes != i.reading_mm.is_some(), "ring_id_mm", "expected either ring and collar, or a reading")?;
    let total = match (i.ring_id_mm, i.collar_od_mm, i.reading_mm) {
        (Some(ring), Some(collar), _) => ring - collar,
        (ring, _, None) => {
            let missing = if ring.is_none() { "ring_id_mm" } else { "collar_od_mm" };
            return Err(Refusal::new(missing, "ring and collar belong together: give both"));
        }
        (_, _, Some(reading)) => {
            let words = "expected total or per_side: which of them a reading means is never guessed";
            expect(i.reading_kind.is_some(), "reading_kind", words)?;
            meant(&i.reading_kind).total(Millimetres(reading)).0
        }
    };
    let (lo, hi) = (i.limit_min_mm, i.limit_max_mm);
    let limited = lo.is_some() || hi.is_some();
    let words = "expected total or per_side: which of them limits mean is never guessed";
    expect(!limited || i.limit_kind.is_some(), "limit_kind", words)?;
    expect(
        lo.zip(hi).is_none_or(|(l, h)| h >= l),
        "limit_max_mm",
        "expected the upper limit not to be below the lower one",
    )?;
    let as_total = |l: f64| meant(&i.limit_kind).total(Millimetres(l)).0;
    let outside = lo.is_some_and(|l| total < as_total(l) - SLACK) || hi.is_some_and(|h| total > as_total(h) + SLACK);
    let call = if total < -SLACK || outside {
        Some("stop")
    } else if limited {
        Some("go")
    } else {
        None
    };
    Ok(wear_ring::Gives { total_mm: total, per_side_mm: total / 2.0, call })
}

takes! {
    /// Leaves of one thickness.
    pub(crate) struct StockIn {
        /// thickness
        um: Whole<1, 100_000>;
        /// number left
        count: Whole<0, 1_000_000_000>;
    }
}

computation! {
    /// Leaves from stock for a thickness, exact search.
    shim_stock = "shim.stock";
    formula "exact search in whole micrometres";
    source "exact search: subset sums by dynamic programming, Cormen, Introduction to Algorithms";
    holds "leaves lie flat and clean; no allowance for many leaves";
    takes {
        /// wanted thickness, whole µm
        wanted_um: Whole<0, 100_000>;
        /// leaves in stock
        stock: List<StockIn>;
        /// most leaves
        [assumed] max_leaves: Whole<0, 12> = 3;
    }
    gives {
        /// leaves, thick first
        leaves_um: Vec<f64>;
        /// thickness together
        total_um: f64;
        /// total - wanted
        error_um: f64;
        /// thinnest leaf that can be ground
        grind_from_um: Option<f64>;
        /// how much off it
        grind_um: Option<f64>;
    }
    example r#"{"wanted_um": 380, "stock": [{"um": 100, "count": 4}, {"um": 250, "count": 2}, {"um": 500, "count": 1}]}"#;
}

fn shim_stock(i: &shim_stock::Takes) -> Result<shim_stock::Gives> {
    let wanted = i.wanted_um;
    let stock: Vec<(u64, u64)> = i.stock.iter().map(|s| (s.um, s.count)).collect();
    let found = axial::shim_stock(wanted, &stock, i.max_leaves as usize)?;
    let leaves: Vec<f64> = found.leaves.iter().map(|l| *l as f64).collect();
    let total: f64 = leaves.iter().sum();
    Ok(shim_stock::Gives {
        leaves_um: leaves,
        total_um: total,
        error_um: found.error as f64,
        grind_from_um: found.grind_from.map(|g| g as f64),
        grind_um: found.grind_from.map(|g| (g - wanted) as f64),
    })
}

computation! {
    /// Clearance over a key.
    key_clearance = "key.clearance";
    formula "clearance = hub depth + shaft depth - key height";
    source "ISO 773 / DIN 6885-1 for the usual depths; difference of heights";
    holds "parallel keys; heights over the whole length";
    takes {
        /// keyway in the hub
        hub_depth_mm: Positive;
        /// keyseat in the shaft
        shaft_depth_mm: Positive;
        /// height of the key
        key_mm: Positive;
        /// least clearance
        [assumed] lo_mm: Number = 0.0;
        /// most clearance
        hi_mm: Option<Number>;
    }
    gives {
        /// clearance over the key
        clearance_mm: f64;
        /// judgement
        ["go" "look_again" "stop"] call: &'static str;
    }
    example r#"{"hub_depth_mm": 3.4, "shaft_depth_mm": 5.0, "key_mm": 8.2}"#;
}

fn key_clearance(i: &key_clearance::Takes) -> Result<key_clearance::Gives> {
    let (lo, hi) = (i.lo_mm, i.hi_mm);
    expect(hi.is_none_or(|h| h >= lo), "hi_mm", "expected the upper limit not to be below the lower one")?;
    let c = axial::key_clearance(Millimetres(i.hub_depth_mm), Millimetres(i.shaft_depth_mm), Millimetres(i.key_mm)).0;
    let stop = c < -SLACK || c < lo - SLACK || hi.is_some_and(|h| c > h + SLACK);
    // Without an upper limit millimetres of clearance are no key seat: looked at again.
    let large = hi.is_none() && c > (0.05 * i.key_mm).max(0.3) + SLACK;
    let call = if stop {
        "stop"
    } else if large {
        "look_again"
    } else {
        "go"
    };
    Ok(key_clearance::Gives { clearance_mm: c, call })
}
