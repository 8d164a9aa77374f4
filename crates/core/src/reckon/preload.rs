//! Names under "preload" of the contract.

use super::Entry;
use super::declare::{Flag, List, NotNegative, Number, One, Positive, Whole, Word, computation, takes};
use crate::preload::{
    BallBearing, CONFORMITY, Class, Facing, MARKS_MPA, Pair, WARN_MPA, Warm, approach_parts, from_drag, push_test,
};
use crate::quantity::{Megapascals, Micrometres, Millimetres, Newtons};
use crate::refusal::{Refusal, Result, expect};

pub(super) static ENTRIES: [&Entry; 5] = [&bearing::ENTRY, &pair::ENTRY, &spacers::ENTRY, &push::ENTRY, &drag::ENTRY];

takes! {
    /// A ball bearing as the contact model takes it.
    pub(crate) struct BearingIn {
        /// balls, a whole number from 3
        z: Number;
        /// ball diameter
        ball_mm: Number;
        /// pitch circle
        pitch_mm: Number;
        /// unloaded contact angle, above 0 to 60
        angle_deg: Number;
        /// conformity of the inner raceway
        [assumed] fi: Number = CONFORMITY;
        /// conformity of the outer raceway
        [assumed] fo: Number = CONFORMITY;
    }
}

computation! {
    /// Axial contact of a ball bearing with change of angle.
    bearing = "preload.bearing";
    formula "F = Z Kn (B Dw)^1.5 (cos a0/cos a - 1)^1.5 sin a; approach = B Dw sin(a - a0)/cos a";
    source "Hertz; Harris and Kotzalas, Essential Concepts of Bearing Technology, chapter Deflection and Preloading (angular-contact ball bearings under axial load)";
    holds "steel balls and rings, elastic, at rest: no centrifugal or gyroscopic load, so up to a speed factor of 500 000 mm/min";
    takes {
        /// the ball bearing
        bearing: One<BearingIn>;
        /// axial load
        fa_n: Option<NotNegative>;
        /// or axial approach
        approach_um: Option<NotNegative>;
    }
    gives {
        /// contact stiffness in N/mm^1.5
        kn: f64;
        /// axial load
        fa_n: Newtons;
        /// axial approach
        approach_um: Micrometres;
        /// contact angle under load
        angle_loaded_deg: f64;
        /// load of a ball
        ball_load_n: Newtons;
        /// stiffness there
        stiffness_n_um: f64;
        /// by the check form
        quick_um: Micrometres;
    }
    limits {
        "the check form is more than 15 % off here" => |_, a| a.approach_um.0 > 0.0 && (a.quick_um.0 / a.approach_um.0 - 1.0).abs() > 0.15;
        "contact angle opened by more than 10 degrees: the contact may run over the shoulder" => |i, a| a.angle_loaded_deg > i.bearing.angle_deg + 10.0;
    }
    example r#"{"bearing": {"z": 18, "ball_mm": 8.731, "pitch_mm": 65, "angle_deg": 15}, "fa_n": 300}"#;
}

fn bearing(i: &bearing::Takes) -> Result<bearing::Gives> {
    let b = model(&i.bearing)?;
    expect(i.fa_n.is_some() != i.approach_um.is_some(), "fa_n", "expected either the load or the approach")?;
    let fa = i.fa_n.map_or_else(|| b.load(Micrometres(i.approach_um.unwrap_or(0.0))), Newtons);
    let approach = i.approach_um.map_or_else(|| b.approach(fa), Micrometres);
    Ok(bearing::Gives {
        kn: b.kn(),
        fa_n: fa,
        approach_um: approach,
        angle_loaded_deg: b.loaded_angle(fa).to_degrees(),
        ball_load_n: b.ball_load(fa),
        stiffness_n_um: b.stiffness(approach),
        quick_um: b.quick_approach(fa),
    })
}

computation! {
    /// A preloaded pair under an outer load.
    pair = "preload.pair";
    formula "F = f1(delta0 + d) - f2(delta0 - d)";
    source "Hertz; Harris and Kotzalas, chapter Deflection and Preloading, preloaded pairs";
    holds "as for a bearing; rings and spacers are stiff, up to a speed factor of 500 000 mm/min";
    takes {
        /// the ball bearing
        bearing: One<BearingIn>;
        /// in tandem left
        [assumed] n_left: Whole<1, 8> = 1;
        /// right
        [assumed] n_right: Whole<1, 8> = 1;
        /// preload
        preload_n: NotNegative;
        /// outer load, loads left
        outer_n: NotNegative;
        /// static rating C0 of one bearing
        c0_n: Option<Positive>;
    }
    gives {
        /// approach of the left at preload
        approach_left_um: Micrometres;
        /// approach of the right at preload
        approach_right_um: Micrometres;
        /// approach of both together
        total_um: f64;
        /// outer load that frees the right
        liftoff_n: Newtons;
        /// shift under the outer load
        shift_um: Micrometres;
        /// load of the left
        load_left_n: Newtons;
        /// load of the right
        load_right_n: Newtons;
        /// slope at the work point
        stiffness_n_um: f64;
        /// the preload is
        ["under" "light" "between" "medium" "heavy" "over"] class: Option<&'static str>;
        /// least of what is called light, medium and heavy
        from_n: Vec<f64>;
        /// most of each
        to_n: Vec<f64>;
    }
    limits {
        "light, medium and heavy are the usual shares of the static rating: the maker's own come first" => |_, a| a.class.is_some();
        "beyond lift-off: the relieved bearing runs without load and its balls skid" => |i, a| i.outer_n > a.liftoff_n.0;
    }
    example r#"{"bearing": {"z": 18, "ball_mm": 8.731, "pitch_mm": 65, "angle_deg": 15}, "preload_n": 300, "outer_n": 400}"#;
}

fn pair(i: &pair::Takes) -> Result<pair::Gives> {
    let p = Pair::new(model(&i.bearing)?, i.n_left as u32, i.n_right as u32, Newtons(i.preload_n));
    let w = p.under(Newtons(i.outer_n));
    let c0 = i.c0_n.map(Newtons);
    let windows = c0.map_or_else(Vec::new, |c0| Class::ALL.map(|(c, _)| c.window(c0)).to_vec());
    Ok(pair::Gives {
        class: c0.map(|c0| Class::of(Newtons(i.preload_n), c0)),
        from_n: windows.iter().map(|w| w.0.0).collect(),
        to_n: windows.iter().map(|w| w.1.0).collect(),
        approach_left_um: p.approach_left,
        approach_right_um: p.approach_right,
        total_um: p.approach_left.0 + p.approach_right.0,
        liftoff_n: p.lift_off(),
        shift_um: w.shift,
        load_left_n: w.load_left,
        load_right_n: w.load_right,
        stiffness_n_um: w.stiffness,
    })
}

computation! {
    /// Preload from spacers, fits and heat, and what to grind.
    spacers = "preload.spacers";
    formula "S = S_b + S_s + S_f + S_t, half to each bearing";
    source "geometry of the pair; Lamé for the fits, linear expansion for heat; Hertz for the pressure; 4 200 MPa is the static limit of ISO 76:2006 for ball bearings";
    holds "as for a pair; shaft and housing of one expansion, up to a speed factor of 500 000 mm/min";
    takes {
        /// the ball bearing
        bearing: One<BearingIn>;
        /// arrangement, DB back-to-back or DF face-to-face; tandem spacers are only equal or not
        ["DB" "DF"] arrangement: Word;
        /// inner spacer
        inner_mm: Positive;
        /// outer spacer
        outer_mm: Positive;
        /// ground into the pair, total
        [assumed] standout_um: Number = 0.0;
        /// growth of the inner raceway, on diameter, per bearing
        [assumed] growth_um: NotNegative = 0.0;
        /// closing of the outer raceway
        [assumed] closing_um: NotNegative = 0.0;
        /// inner assembly hotter
        [assumed] inner_hotter_k: Number = 0.0;
        /// expansion
        [assumed] alpha: Positive = 12e-6;
        /// inner raceway, with heat
        raceway_mm: Option<Positive>;
        /// between the rows, with heat
        row_distance_mm: Option<Positive>;
        /// wanted preload
        wanted_n: Option<NotNegative>;
        /// static rating C0 of one bearing
        c0_n: Option<Positive>;
    }
    gives {
        /// ground into the pair
        s_b_um: f64;
        /// from the spacers
        s_s_um: f64;
        /// from the fits
        s_f_um: f64;
        /// from heat
        s_t_um: f64;
        /// all four together
        total_um: f64;
        /// preload that results
        preload_n: Newtons;
        /// greatest pressure of the inner contact at that preload
        contact_mpa: Megapascals;
        /// warn above 2000 MPa, stop above 4200: the balls leave marks
        ["go" "warn" "stop"] stress_call: &'static str;
        /// approach the wanted preload needs
        needed_um: Option<f64>;
        /// which spacer
        ["inner" "outer" "none"] grind: Option<&'static str>;
        /// how much off it
        grind_um: Option<f64>;
        /// the preload is
        ["under" "light" "between" "medium" "heavy" "over"] class: Option<&'static str>;
    }
    limits {
        "light, medium and heavy are the usual shares of the static rating: the maker's own come first" => |_, a| a.class.is_some();
        "face-to-face on a warm shaft tightens as it warms: a runaway is possible" => |i, _| i.arrangement == "DF" && i.inner_hotter_k > 0.0;
        "back-to-back and yet it tightens as it warms: the rows stand too close for the shaft's length to let go of them" => |i, a| i.arrangement == "DB" && a.s_t_um > 0.0;
        "no approach is left: the pair has end play" => |_, a| a.total_um <= 0.0;
    }
    example r#"{"bearing": {"z": 18, "ball_mm": 8.731, "pitch_mm": 65, "angle_deg": 15}, "arrangement": "DB", "inner_mm": 29.994, "outer_mm": 30, "wanted_n": 300}"#;
}

fn spacers(i: &spacers::Takes) -> Result<spacers::Gives> {
    let b = model(&i.bearing)?;
    let facing = if i.arrangement == "DB" { Facing::BackToBack } else { Facing::FaceToFace };
    let hotter = i.inner_hotter_k;
    let needs = |field, given: Option<f64>| {
        given.ok_or_else(|| Refusal::new(field, "needed when the inner assembly is hotter"))
    };
    let warm = if hotter == 0.0 {
        None
    } else {
        let (raceway_mm, rows_apart_mm) =
            (needs("raceway_mm", i.raceway_mm)?, needs("row_distance_mm", i.row_distance_mm)?);
        Some(Warm { hotter_k: hotter, alpha: i.alpha, raceway_mm, rows_apart_mm })
    };
    let s_b = i.standout_um;
    let (s_s, s_f, s_t) = approach_parts(facing, i.inner_mm, i.outer_mm, i.growth_um + i.closing_um, warm, b.angle());
    let total = s_b + s_s + s_f + s_t;
    let needed = i.wanted_n.map(|w| 2.0 * b.approach(Newtons(w)).0);
    let more = needed.map(|n| n - total);
    let none = more.is_some_and(|m| m.abs() < 0.05);
    // Back-to-back: a shorter inner spacer preloads; face-to-face: a shorter outer one.
    let grind = more.map(|m| {
        if none {
            "none"
        } else if (m > 0.0) == (facing == Facing::BackToBack) {
            "inner"
        } else {
            "outer"
        }
    });
    let preload = b.load(Micrometres(total / 2.0));
    let contact = b.contact_pressure(preload);
    Ok(spacers::Gives {
        s_b_um: s_b,
        s_s_um: s_s,
        s_f_um: s_f,
        s_t_um: s_t,
        total_um: total,
        preload_n: preload,
        contact_mpa: contact,
        stress_call: if contact.0 > MARKS_MPA {
            "stop"
        } else if contact.0 > WARN_MPA {
            "warn"
        } else {
            "go"
        },
        needed_um: needed,
        grind,
        class: i.c0_n.map(|c0| Class::of(preload, Newtons(c0))),
        grind_um: more.map(|m| if none { 0.0 } else { m.abs() }),
    })
}

takes! {
    /// Travel and force.
    pub(crate) struct PointIn {
        /// axial load, either way
        load_n: Number;
        /// shift, the same way
        shift_um: Number;
    }
}

computation! {
    /// Preload of a pair from loads and shifts.
    push = "preload.push_test";
    formula "least squares of shift over preload, and joint stiffness";
    source "least squares over the preloaded pair; JCGM 100:2008 for the uncertainty";
    holds "an equal pair, slow load, hysteresis left out";
    takes {
        /// the ball bearing
        bearing: One<BearingIn>;
        /// loads and shifts
        points: List<PointIn>;
        /// fit a joint stiffness too
        [assumed] fit_joint: Flag = false;
    }
    gives {
        /// preload
        preload_n: Newtons;
        /// stiffness of the joint
        joint_n_um: Option<f64>;
        /// what the fit leaves
        rms_um: Micrometres;
        /// the best preload is an end of the search: it is not measured
        at_bound: bool;
        /// uncertainty of the preload, two standard deviations
        u_preload_n: Option<Newtons>;
    }
    limits {
        "two points or fewer beyond the unknowns: the fit has nothing to check it" => |i, _| i.points.len() < 4;
    }
    example r#"{"bearing": {"z": 18, "ball_mm": 8.731, "pitch_mm": 65, "angle_deg": 15}, "points": [{"load_n": 200, "shift_um": 2.4}, {"load_n": 400, "shift_um": 5.1}, {"load_n": -200, "shift_um": -2.4}]}"#;
}

fn push(i: &push::Takes) -> Result<push::Gives> {
    let b = model(&i.bearing)?;
    let points: Vec<(f64, f64)> = i.points.iter().map(|p| (p.load_n, p.shift_um)).collect();
    expect(points.len() >= 2, "points", "at least two points are expected")?;
    let t = push_test(b, &points, i.fit_joint)?;
    Ok(push::Gives { preload_n: t.preload, joint_n_um: t.joint, rms_um: t.rms, at_bound: t.at_bound, u_preload_n: t.u })
}

computation! {
    /// Preload from the running drag.
    drag = "preload.drag";
    formula "F0 = (M - M0)/(0.5 mu dm n)";
    source "friction torque of the load, M = 0.5 mu dm F: Harris and Kotzalas, chapter Bearing Friction";
    holds "slow, even turning; drag of grease and seals taken off";
    takes {
        /// drag torque
        torque_nm: Option<NotNegative>;
        /// or force of the scale
        force_n: Option<NotNegative>;
        /// at this radius
        radius_mm: Option<Positive>;
        /// drag of grease and seals
        [assumed] m0_nm: NotNegative = 0.0;
        /// pitch circle
        pitch_mm: Positive;
        /// how many
        [assumed] bearings: Whole<1, 1000> = 2;
        /// friction
        [assumed] mu: Positive = 0.0015;
    }
    gives {
        /// torque
        torque_nm: f64;
        /// part of the preload
        m1_nm: f64;
        /// preload
        preload_n: Newtons;
    }
    example r#"{"torque_nm": 0.35, "m0_nm": 0.1, "pitch_mm": 65}"#;
}

fn drag(i: &drag::Takes) -> Result<drag::Gives> {
    let scale = i.force_n.is_some() || i.radius_mm.is_some();
    expect(i.torque_nm.is_some() != scale, "torque_nm", "expected either a torque, or force and radius")?;
    let both = "force and radius belong together: give both";
    let torque = match (i.torque_nm, i.force_n, i.radius_mm) {
        (Some(torque), ..) => torque,
        (_, Some(force), Some(radius)) => force * radius / 1000.0,
        (_, None, _) => return Err(Refusal::new("force_n", both)),
        _ => return Err(Refusal::new("radius_mm", both)),
    };
    let (m1, preload) = from_drag(torque, i.m0_nm, i.mu, Millimetres(i.pitch_mm), i.bearings)?;
    Ok(drag::Gives { torque_nm: torque, m1_nm: m1, preload_n: preload })
}

fn model(b: &BearingIn) -> Result<BallBearing> {
    BallBearing::new(b.z, b.ball_mm, b.pitch_mm, b.angle_deg, b.fi, b.fo)
}
