//! Names for seals, glands, grease and probes.

use super::Entry;
use super::declare::{NotNegative, Number, Numbers, Positive, Word, computation};
use crate::instrument::SLACK;
use crate::quantity::{Grams, Micrometres, Millimetres};
use crate::refusal::{Result, expect};
use crate::seal;

pub(super) static ENTRIES: [&Entry; 6] =
    [&lip_speed::ENTRY, &seal_tilt::ENTRY, &seal_track::ENTRY, &oring::ENTRY, &grease::ENTRY, &probe::ENTRY];

computation! {
    /// Whether a lip stands the speed of its shaft.
    lip_speed = "seal.speed";
    formula "v = pi d n";
    source "common practice after ISO 6194-1, by the material of the lip; the maker's figure comes first";
    holds "well oiled, little pressure";
    takes {
        /// shaft under the lip
        shaft_mm: Positive;
        /// speed, rpm
        rpm: NotNegative;
        /// material of the lip
        ["nitrile" "acrylic" "silicone" "fluorocarbon" "ptfe"] lip: Word = "nitrile";
    }
    gives {
        /// speed under the lip, m/s
        speed: f64;
        /// it stands, m/s
        stands: f64;
        /// share of that
        share_pct: f64;
        /// judgement
        ["go" "look_again" "stop"] call: &'static str;
    }
    example r#"{"shaft_mm": 40, "rpm": 2900}"#;
}

fn lip_speed(i: &lip_speed::Takes) -> Result<lip_speed::Gives> {
    let lip = match i.lip.as_str() {
        "acrylic" => seal::Lip::Acrylic,
        "silicone" => seal::Lip::Silicone,
        "fluorocarbon" => seal::Lip::Fluorocarbon,
        "ptfe" => seal::Lip::Ptfe,
        _ => seal::Lip::Nitrile,
    };
    let (speed, stands) = (seal::lip_speed(Millimetres(i.shaft_mm), i.rpm), lip.limit_m_s());
    let share = speed / stands;
    Ok(lip_speed::Gives {
        speed,
        stands,
        share_pct: 100.0 * share,
        call: match share {
            s if s > 1.0 + SLACK => "stop",
            s if s > 0.8 => "look_again",
            _ => "go",
        },
    })
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
    let t =
        seal::track(mm(i.pocket_mm), mm(i.width_mm), mm(i.old_depth_mm), mm(i.track_mm), i.lip_mm.map(Millimetres))?;
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
    let g =
        seal::gland(mm(i.cord_mm), mm(i.ring_id_mm), mm(i.groove_depth_mm), mm(i.groove_width_mm), mm(i.groove_d_mm));
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
        /// fill, least
        fill_low_pct: f64;
        /// fill, most
        fill_high_pct: f64;
        /// grease, least
        grams_low_g: Grams;
        /// grease, most
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
        would_touch: known
            .zip(p.gap)
            .map(|((_, known), gap)| gap.0 + p.shift.0 <= 0.1 * known.0 + SLACK || p.shift.0 < -known.0 - SLACK),
    })
}
