//! Names under "preload" of the contract.

use super::input::{may, need};
use super::lists::items;
use super::{Entry, Field, Input, Kind, answer};
use crate::preload::{BallBearing, Facing, Pair, Warm, approach_parts, push_test};
use crate::quantity::{Micrometres, Newtons};
use crate::refusal::{Refusal, Result, expect};
use serde_json::Value;

const BEARING: Field = need("bearing", Kind::Object, "{z, ball_mm, pitch_mm, angle_deg, fi (0.52), fo (0.52)}");

pub(super) static ENTRIES: [Entry; 5] = [
    Entry {
        name: "preload.bearing",
        purpose: "Axial contact of a ball bearing with change of angle.",
        source: "Hertz; handbook 06",
        fields: &[BEARING, may("fa_n", Kind::NotNegative, "axial load"), may("approach_um", Kind::NotNegative, "or axial approach")],
        compute: bearing,
    },
    Entry {
        name: "preload.pair",
        purpose: "A preloaded pair under an outer load.",
        source: "handbook 06",
        fields: &[
            BEARING,
            may("n_left", Kind::Positive, "in tandem left (1)"),
            may("n_right", Kind::Positive, "right (1)"),
            need("preload_n", Kind::NotNegative, "preload"),
            need("outer_n", Kind::NotNegative, "outer load, loads left"),
        ],
        compute: pair,
    },
    Entry {
        name: "preload.spacers",
        purpose: "Preload from spacers, fits and heat, and what to grind.",
        source: "handbook 06",
        fields: &[
            BEARING,
            need("arrangement", Kind::Word(&["DB", "DF"]), "DB back-to-back, DF face-to-face; tandem spacers are only equal or not"),
            need("inner_mm", Kind::Positive, "inner spacer"),
            need("outer_mm", Kind::Positive, "outer spacer"),
            may("standout_um", Kind::Number, "ground into the pair, total (0)"),
            may("growth_um", Kind::Number, "growth of the inner raceway, on diameter, per bearing (0)"),
            may("closing_um", Kind::Number, "closing of the outer raceway (0)"),
            may("inner_hotter_k", Kind::Number, "inner assembly hotter (0)"),
            may("alpha", Kind::Positive, "expansion (12e-6)"),
            may("raceway_mm", Kind::Positive, "inner raceway, with heat"),
            may("row_distance_mm", Kind::Positive, "between the rows, with heat"),
            may("wanted_n", Kind::NotNegative, "wanted preload"),
        ],
        compute: spacers,
    },
    Entry {
        name: "preload.push_test",
        purpose: "Preload of a pair from loads and shifts.",
        source: "least squares; handbook 06",
        fields: &[
            BEARING,
            need("points", Kind::Objects, "list of {load_n, shift_um}"),
            may("fit_joint", Kind::Flag, "fit a joint stiffness too (false)"),
        ],
        compute: push,
    },
    Entry {
        name: "preload.drag",
        purpose: "Preload from the running drag.",
        source: "handbook 06",
        fields: &[
            may("torque_nm", Kind::NotNegative, "drag torque"),
            may("force_n", Kind::NotNegative, "or force of the scale"),
            may("radius_mm", Kind::Positive, "at this radius"),
            may("m0_nm", Kind::NotNegative, "drag of grease and seals (0)"),
            need("pitch_mm", Kind::Positive, "pitch circle"),
            may("bearings", Kind::Positive, "how many (2)"),
            may("mu", Kind::Positive, "friction (0.0015)"),
        ],
        compute: drag,
    },
];

fn model(i: &Input) -> Result<BallBearing> {
    let bad = |what: String| Refusal::new("bearing", what);
    let map = i.object("bearing").ok_or_else(|| bad("expected {z, ball_mm, pitch_mm, angle_deg}".into()))?;
    let known = ["z", "ball_mm", "pitch_mm", "angle_deg", "fi", "fo"];
    if let Some(k) = map.keys().find(|k| !known.contains(&k.as_str())) {
        return Err(bad(format!("“{}” is not known here", k.chars().take(40).collect::<String>())));
    }
    let number = |k: &str, default: Option<f64>| match map.get(k) {
        None | Some(Value::Null) => default.ok_or_else(|| bad(format!("{k} is needed"))),
        Some(v) => v.as_f64().filter(|n| n.is_finite()).ok_or_else(|| bad(format!("{k}: expected a finite number"))),
    };
    BallBearing::new(
        number("z", None)?,
        number("ball_mm", None)?,
        number("pitch_mm", None)?,
        number("angle_deg", None)?,
        number("fi", Some(0.52))?,
        number("fo", Some(0.52))?,
    )
}

fn count(i: &Input, field: &'static str) -> Result<u32> {
    let n = i.num(field, 1.0);
    expect(n.fract() == 0.0 && (1.0..=8.0).contains(&n), field, "expected a whole number from 1 to 8")?;
    Ok(n as u32)
}

fn bearing(i: &Input) -> Result<Value> {
    let b = model(i)?;
    expect(i.has("fa_n") != i.has("approach_um"), "fa_n", "expected either the load or the approach")?;
    let fa = i.maybe("fa_n").map_or_else(|| b.load(Micrometres(i.num("approach_um", 0.0))), Newtons);
    let approach = i.maybe("approach_um").map_or_else(|| b.approach(fa), Micrometres);
    answer! {
        kn: b.kn(), fa_n: fa, approach_um: approach, angle_loaded_deg: b.loaded_angle(fa).to_degrees(), ball_load_n: b.ball_load(fa),
        stiffness_n_um: b.stiffness(approach), quick_um: b.quick_approach(fa),
    }
}

fn pair(i: &Input) -> Result<Value> {
    let p = Pair::new(model(i)?, count(i, "n_left")?, count(i, "n_right")?, Newtons(i.num("preload_n", 0.0)));
    let w = p.under(Newtons(i.num("outer_n", 0.0)));
    answer! {
        approach_left_um: p.approach_left, approach_right_um: p.approach_right, total_um: p.approach_left.0 + p.approach_right.0, liftoff_n: p.lift_off(),
        shift_um: w.shift, load_left_n: w.load_left, load_right_n: w.load_right, stiffness_n_um: w.stiffness,
    }
}

fn spacers(i: &Input) -> Result<Value> {
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
    answer! {
        s_b_um: s_b, s_s_um: s_s, s_f_um: s_f, s_t_um: s_t, total_um: total, preload_n: b.load(Micrometres(total / 2.0)),
        needed_um: needed, grind: grind, grind_um: more.map(|m| if none { 0.0 } else { m.abs() }),
    }
}

fn push(i: &Input) -> Result<Value> {
    let b = model(i)?;
    let points = items(i, "points", &["load_n", "shift_um"])?
        .iter()
        .map(|p| Ok((p.num("load_n")?, p.num("shift_um")?)))
        .collect::<Result<Vec<_>>>()?;
    expect(points.len() >= 2, "points", "at least two points are expected")?;
    let t = push_test(b, &points, i.flag("fit_joint", false))?;
    answer! { preload_n: t.preload, joint_n_um: t.joint, rms_um: t.rms }
}

fn drag(i: &Input) -> Result<Value> {
    let scale = i.has("force_n") || i.has("radius_mm");
    expect(i.has("torque_nm") != scale, "torque_nm", "expected either a torque, or force and radius")?;
    if scale {
        for f in ["force_n", "radius_mm"] {
            expect(i.has(f), f, "force and radius belong together: give both")?;
        }
    }
    let torque = i.maybe("torque_nm").unwrap_or_else(|| i.num("force_n", 0.0) * i.num("radius_mm", 0.0) / 1000.0);
    let m1 = torque - i.num("m0_nm", 0.0);
    expect(m1 >= -1e-9, "m0_nm", "grease and seals alone cannot drag more than the whole")?;
    let n = i.num("bearings", 2.0);
    expect(n.fract() == 0.0, "bearings", "expected a whole number of bearings")?;
    answer! { torque_nm: torque, m1_nm: m1.max(0.0), preload_n: m1.max(0.0) * 1000.0 / (0.5 * i.num("mu", 0.0015) * i.num("pitch_mm", 1.0) * n) }
}
