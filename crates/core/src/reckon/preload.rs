//! Names under "preload" of the contract.

use super::input::{guess, may, need};
use super::output::{Gives, gives, limit, number, or_null};
use super::{Answer, Entry, Field, Input, Kind, answer};
use crate::preload::{BallBearing, Facing, MARKS_MPA, Pair, WARN_MPA, Warm, approach_parts, from_drag, push_test};
use crate::quantity::{Micrometres, Millimetres, Newtons};
use crate::refusal::{Refusal, Result, expect};

const BEARING: Field = need(
    "bearing",
    Kind::Object(&[
        need("z", Kind::Number, "balls, a whole number from 3"),
        need("ball_mm", Kind::Number, "ball diameter"),
        need("pitch_mm", Kind::Number, "pitch circle"),
        need("angle_deg", Kind::Number, "unloaded contact angle, above 0 to 60"),
        guess("fi", Kind::Number, "conformity of the inner raceway (0.52)"),
        guess("fo", Kind::Number, "conformity of the outer raceway (0.52)"),
    ]),
    "the ball bearing",
);

pub(super) static ENTRIES: [Entry; 5] = [
    Entry {
        name: "preload.bearing",
        purpose: "Axial contact of a ball bearing with change of angle.",
        formula: "F = Z Kn (B Dw)^1.5 (cos a0/cos a - 1)^1.5 sin a; approach = B Dw sin(a - a0)/cos a",
        source: "Hertz; handbook 06",
        fields: &[BEARING, may("fa_n", Kind::NotNegative, "axial load"), may("approach_um", Kind::NotNegative, "or axial approach")],
        outputs: &[
            gives("kn", Gives::Number, "contact stiffness in N/mm^1.5"),
            gives("fa_n", Gives::Number, "axial load"),
            gives("approach_um", Gives::Number, "axial approach"),
            gives("angle_loaded_deg", Gives::Number, "contact angle under load"),
            gives("ball_load_n", Gives::Number, "load of a ball"),
            gives("stiffness_n_um", Gives::Number, "slope"),
            gives("quick_um", Gives::Number, "by the check form"),
        ],
        limits: &[
            limit("the check form is more than 15 % off here", |_, a| {
                number(a, "quick_um").zip(number(a, "approach_um")).is_some_and(|(q, d)| d > 0.0 && (q / d - 1.0).abs() > 0.15)
            }),
            limit("contact angle opened by more than 10 degrees: the contact may run over the shoulder", |i, a| {
                number(a, "angle_loaded_deg").zip(i.object("bearing").and_then(|b| b.maybe("angle_deg"))).is_some_and(|(l, u)| l > u + 10.0)
            }),
        ],
        example: r#"{"bearing": {"z": 18, "ball_mm": 8.731, "pitch_mm": 65, "angle_deg": 15}, "fa_n": 300}"#,
        compute: bearing,
    },
    Entry {
        name: "preload.pair",
        purpose: "A preloaded pair under an outer load.",
        formula: "F = f1(delta0 + d) - f2(delta0 - d)",
        source: "handbook 06",
        fields: &[
            BEARING,
            guess("n_left", Kind::Whole(1, 8), "in tandem left (1)"),
            guess("n_right", Kind::Whole(1, 8), "right (1)"),
            need("preload_n", Kind::NotNegative, "preload"),
            need("outer_n", Kind::NotNegative, "outer load, loads left"),
        ],
        outputs: &[
            gives("approach_left_um", Gives::Number, "approach of the left at preload"),
            gives("approach_right_um", Gives::Number, "of the right"),
            gives("total_um", Gives::Number, "together"),
            gives("liftoff_n", Gives::Number, "outer load that frees the right"),
            gives("shift_um", Gives::Number, "shift under the outer load"),
            gives("load_left_n", Gives::Number, "load of the left"),
            gives("load_right_n", Gives::Number, "load of the right"),
            gives("stiffness_n_um", Gives::Number, "slope at the work point"),
        ],
        limits: &[limit("beyond lift-off: the relieved bearing runs without load and its balls skid", |i, a| {
            number(a, "liftoff_n").is_some_and(|l| i.num("outer_n", 0.0) > l)
        })],
        example: r#"{"bearing": {"z": 18, "ball_mm": 8.731, "pitch_mm": 65, "angle_deg": 15}, "preload_n": 300, "outer_n": 400}"#,
        compute: pair,
    },
    Entry {
        name: "preload.spacers",
        purpose: "Preload from spacers, fits and heat, and what to grind.",
        formula: "S = S_b + S_s + S_f + S_t, half to each bearing",
        source: "handbook 06",
        fields: &[
            BEARING,
            need("arrangement", Kind::Word(&["DB", "DF"]), "DB back-to-back, DF face-to-face; tandem spacers are only equal or not"),
            need("inner_mm", Kind::Positive, "inner spacer"),
            need("outer_mm", Kind::Positive, "outer spacer"),
            guess("standout_um", Kind::Number, "ground into the pair, total (0)"),
            guess("growth_um", Kind::NotNegative, "growth of the inner raceway, on diameter, per bearing (0)"),
            guess("closing_um", Kind::NotNegative, "closing of the outer raceway (0)"),
            guess("inner_hotter_k", Kind::Number, "inner assembly hotter (0)"),
            guess("alpha", Kind::Positive, "expansion (12e-6)"),
            may("raceway_mm", Kind::Positive, "inner raceway, with heat"),
            may("row_distance_mm", Kind::Positive, "between the rows, with heat"),
            may("wanted_n", Kind::NotNegative, "wanted preload"),
        ],
        outputs: &[
            gives("s_b_um", Gives::Number, "ground into the pair"),
            gives("s_s_um", Gives::Number, "from the spacers"),
            gives("s_f_um", Gives::Number, "from the fits"),
            gives("s_t_um", Gives::Number, "from heat"),
            gives("total_um", Gives::Number, "together"),
            gives("preload_n", Gives::Number, "preload that results"),
            gives("contact_mpa", Gives::Number, "greatest pressure of the inner contact at that preload"),
            gives("stress_call", Gives::Word(&["go", "warn", "stop"]), "warn above 2000 MPa, stop above 4200: the balls leave marks"),
            or_null("needed_um", Gives::Number, "approach the wanted preload needs"),
            or_null("grind", Gives::Word(&["inner", "outer", "none"]), "which spacer"),
            or_null("grind_um", Gives::Number, "how much off it"),
        ],
        limits: &[
            limit("face-to-face on a warm shaft tightens as it warms: a runaway is possible", |i, _| {
                i.text("arrangement", "") == "DF" && i.num("inner_hotter_k", 0.0) > 0.0
            }),
            limit(
                "back-to-back and yet it tightens as it warms: the rows stand too close for the shaft's length to let go of them",
                |i, a| i.text("arrangement", "") == "DB" && number(a, "s_t_um").is_some_and(|s| s > 0.0),
            ),
            limit("no approach is left: the pair has end play", |_, a| number(a, "total_um").is_some_and(|t| t <= 0.0)),
        ],
        example: r#"{"bearing": {"z": 18, "ball_mm": 8.731, "pitch_mm": 65, "angle_deg": 15}, "arrangement": "DB", "inner_mm": 29.994, "outer_mm": 30, "wanted_n": 300}"#,
        compute: spacers,
    },
    Entry {
        name: "preload.push_test",
        purpose: "Preload of a pair from loads and shifts.",
        formula: "least squares of shift over preload, and joint stiffness",
        source: "least squares; handbook 06",
        fields: &[
            BEARING,
            need(
                "points",
                Kind::Objects(&[
                    need("load_n", Kind::Number, "axial load, either way"),
                    need("shift_um", Kind::Number, "shift, the same way"),
                ]),
                "loads and shifts",
            ),
            guess("fit_joint", Kind::Flag, "fit a joint stiffness too (false)"),
        ],
        outputs: &[
            gives("preload_n", Gives::Number, "preload"),
            or_null("joint_n_um", Gives::Number, "stiffness of the joint"),
            gives("rms_um", Gives::Number, "what the fit leaves"),
            gives("at_bound", Gives::Flag, "the best preload is an end of the search: it is not measured"),
            or_null("u_preload_n", Gives::Number, "uncertainty of the preload, two standard deviations"),
        ],
        limits: &[limit("two points or fewer beyond the unknowns: the fit has nothing to check it", |i, _| i.items("points").len() < 4)],
        example: r#"{"bearing": {"z": 18, "ball_mm": 8.731, "pitch_mm": 65, "angle_deg": 15}, "points": [{"load_n": 200, "shift_um": 2.4}, {"load_n": 400, "shift_um": 5.1}, {"load_n": -200, "shift_um": -2.4}]}"#,
        compute: push,
    },
    Entry {
        name: "preload.drag",
        purpose: "Preload from the running drag.",
        formula: "F0 = (M - M0)/(0.5 mu dm n)",
        source: "handbook 06",
        fields: &[
            may("torque_nm", Kind::NotNegative, "drag torque"),
            may("force_n", Kind::NotNegative, "or force of the scale"),
            may("radius_mm", Kind::Positive, "at this radius"),
            guess("m0_nm", Kind::NotNegative, "drag of grease and seals (0)"),
            need("pitch_mm", Kind::Positive, "pitch circle"),
            guess("bearings", Kind::Whole(1, 1000), "how many (2)"),
            guess("mu", Kind::Positive, "friction (0.0015)"),
        ],
        outputs: &[
            gives("torque_nm", Gives::Number, "torque"),
            gives("m1_nm", Gives::Number, "part of the preload"),
            gives("preload_n", Gives::Number, "preload"),
        ],
        limits: &[],
        example: r#"{"torque_nm": 0.35, "m0_nm": 0.1, "pitch_mm": 65}"#,
        compute: drag,
    },
];

fn model(i: &Input) -> Result<BallBearing> {
    let b = i.object("bearing").ok_or_else(|| Refusal::new("bearing", "expected a ball bearing"))?;
    BallBearing::new(
        b.num("z", 0.0),
        b.num("ball_mm", 0.0),
        b.num("pitch_mm", 0.0),
        b.num("angle_deg", 0.0),
        b.num("fi", 0.52),
        b.num("fo", 0.52),
    )
}

fn bearing(i: &Input) -> Answer {
    let b = model(i)?;
    expect(i.has("fa_n") != i.has("approach_um"), "fa_n", "expected either the load or the approach")?;
    let fa = i.maybe("fa_n").map_or_else(|| b.load(Micrometres(i.num("approach_um", 0.0))), Newtons);
    let approach = i.maybe("approach_um").map_or_else(|| b.approach(fa), Micrometres);
    answer! {
        kn: b.kn(), fa_n: fa, approach_um: approach, angle_loaded_deg: b.loaded_angle(fa).to_degrees(), ball_load_n: b.ball_load(fa),
        stiffness_n_um: b.stiffness(approach), quick_um: b.quick_approach(fa),
    }
}

fn pair(i: &Input) -> Answer {
    let p = Pair::new(model(i)?, i.whole("n_left", 1) as u32, i.whole("n_right", 1) as u32, Newtons(i.num("preload_n", 0.0)));
    let w = p.under(Newtons(i.num("outer_n", 0.0)));
    answer! {
        approach_left_um: p.approach_left, approach_right_um: p.approach_right, total_um: p.approach_left.0 + p.approach_right.0, liftoff_n: p.lift_off(),
        shift_um: w.shift, load_left_n: w.load_left, load_right_n: w.load_right, stiffness_n_um: w.stiffness,
    }
}

fn spacers(i: &Input) -> Answer {
    let b = model(i)?;
    let facing = if i.text("arrangement", "") == "DB" { Facing::BackToBack } else { Facing::FaceToFace };
    let hotter = i.num("inner_hotter_k", 0.0);
    if hotter != 0.0 {
        for f in ["raceway_mm", "row_distance_mm"] {
            expect(i.has(f), f, "needed when the inner assembly is hotter")?;
        }
    }
    let warm = (hotter != 0.0).then(|| Warm {
        hotter_k: hotter,
        alpha: i.num("alpha", 12e-6),
        raceway_mm: i.num("raceway_mm", 0.0),
        rows_apart_mm: i.num("row_distance_mm", 0.0),
    });
    let s_b = i.num("standout_um", 0.0);
    let (s_s, s_f, s_t) = approach_parts(
        facing,
        i.num("inner_mm", 0.0),
        i.num("outer_mm", 0.0),
        i.num("growth_um", 0.0) + i.num("closing_um", 0.0),
        warm,
        b.angle(),
    );
    let total = s_b + s_s + s_f + s_t;
    let needed = i.maybe("wanted_n").map(|w| 2.0 * b.approach(Newtons(w)).0);
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
    answer! {
        s_b_um: s_b, s_s_um: s_s, s_f_um: s_f, s_t_um: s_t, total_um: total, preload_n: preload, contact_mpa: contact,
        stress_call: if contact.0 > MARKS_MPA { "stop" } else if contact.0 > WARN_MPA { "warn" } else { "go" },
        needed_um: needed, grind: grind, grind_um: more.map(|m| if none { 0.0 } else { m.abs() }),
    }
}

fn push(i: &Input) -> Answer {
    let b = model(i)?;
    let points: Vec<(f64, f64)> = i.items("points").iter().map(|p| (p.num("load_n", 0.0), p.num("shift_um", 0.0))).collect();
    expect(points.len() >= 2, "points", "at least two points are expected")?;
    let t = push_test(b, &points, i.flag("fit_joint", false))?;
    answer! { preload_n: t.preload, joint_n_um: t.joint, rms_um: t.rms, at_bound: t.at_bound, u_preload_n: t.u }
}

fn drag(i: &Input) -> Answer {
    let scale = i.has("force_n") || i.has("radius_mm");
    expect(i.has("torque_nm") != scale, "torque_nm", "expected either a torque, or force and radius")?;
    if scale {
        for f in ["force_n", "radius_mm"] {
            expect(i.has(f), f, "force and radius belong together: give both")?;
        }
    }
    let torque = i.maybe("torque_nm").unwrap_or_else(|| i.num("force_n", 0.0) * i.num("radius_mm", 0.0) / 1000.0);
    let (m1, preload) =
        from_drag(torque, i.num("m0_nm", 0.0), i.num("mu", 0.0015), Millimetres(i.num("pitch_mm", 1.0)), i.whole("bearings", 2))?;
    answer! { torque_nm: torque, m1_nm: m1, preload_n: preload }
}
