//! Names under "numbers and parts" of the contract.

use super::input::{may, need};
use super::{Entry, Input, Kind, answer};
use crate::fit::designation::{self, Arrangement};
use crate::fit::{iso286, rings};
use crate::instrument::{Candidate, Capability, Judgement, Limits, capable, decide_with, judge};
use crate::journal_sheet::{Surface, grid};
use crate::quantity::{Micrometres, Millimetres, parse_length};
use crate::refusal::{Refusal, Result};
use serde_json::Value;

pub(super) static ENTRIES: [Entry; 8] = [
    Entry {
        name: "length.parse",
        purpose: "Reads a length as people type it.",
        source: "handbook 02",
        fields: &[
            need("text", Kind::Text, "what was typed"),
            may("unit", Kind::Text, "unit when none is typed: mm (default), um, in, thou, mil, tenth"),
            may("nominal_mm", Kind::Number, "with it, a signed text is a deviation"),
            may("expect_mm", Kind::Number, "with it, slips by 10, 25.4 and 1000 are found"),
        ],
        compute: length_parse,
    },
    Entry {
        name: "iso286.limits",
        purpose: "Limits of a tolerance class at a size.",
        source: "ISO 286-1:2010",
        fields: &[need("nominal_mm", Kind::Number, "nominal size"), need("class", Kind::Text, "class such as k6 or H7")],
        compute: iso_limits,
    },
    Entry {
        name: "bearing.read",
        purpose: "Reads a bearing designation.",
        source: "ISO 15, ISO 355, ISO 104; handbook 03",
        fields: &[need("designation", Kind::Text, "what is written on the bearing")],
        compute: bearing_read,
    },
    Entry {
        name: "bearing.clearance",
        purpose: "Internal radial clearance of a group before fitting.",
        source: "ISO 5753-1:2009",
        fields: &[
            need("type", Kind::Word(&["deep_groove", "cylindrical_roller", "self_aligning_ball"]), "type of bearing"),
            need("d_mm", Kind::Number, "bore"),
            need("group", Kind::Text, "clearance group: 2 N 3 4 5"),
        ],
        compute: bearing_clearance,
    },
    Entry {
        name: "bearing.ring_tolerance",
        purpose: "Mean diameter deviation of a bearing ring.",
        source: "ISO 492:2014",
        fields: &[
            need("ring", Kind::Word(&["inner", "outer"]), "which ring"),
            need("diameter_mm", Kind::Number, "bore or outside"),
            need("class", Kind::Text, "tolerance class: normal 6 5 4 2"),
        ],
        compute: ring_tolerance,
    },
    Entry {
        name: "judge",
        purpose: "Judges a value against limits with the guard band.",
        source: "ISO 14253-1:2017",
        fields: &[
            need("value", Kind::Number, "what was read"),
            may("lo", Kind::Number, "lower limit"),
            may("hi", Kind::Number, "upper limit"),
            may("u", Kind::Number, "expanded uncertainty, k = 2 (0)"),
            may("guard", Kind::Flag, "false: simple acceptance (true)"),
            may("instruments", Kind::Objects, "list of {name, u, cost}"),
        ],
        compute: judge_value,
    },
    Entry {
        name: "gauge.capable",
        purpose: "Whether an instrument is good enough for a tolerance.",
        source: "handbook 02",
        fields: &[
            need("lo", Kind::Number, "lower limit"),
            need("hi", Kind::Number, "upper limit"),
            need("u", Kind::Number, "expanded uncertainty"),
        ],
        compute: gauge_capable,
    },
    Entry {
        name: "journal.grid",
        purpose: "Size and form of a journal or bore from a grid of readings.",
        source: "handbook 02",
        fields: &[
            need("readings_mm", Kind::Rows, "one row per station from end A"),
            may("kind", Kind::Word(&["journal", "bore"]), "journal (default) or bore"),
            may("u_um", Kind::NotNegative, "uncertainty of a reading (3)"),
        ],
        compute: journal_grid,
    },
];

fn length_parse(i: &Input) -> Result<Value> {
    let mm = |name| i.maybe(name).map(Millimetres);
    let p = parse_length(i.text("text", ""), i.text("unit", "mm"), mm("nominal_mm"), mm("expect_mm"))?;
    answer! {
        value_mm: p.value,
        deviation: p.deviation,
        suspect_factor: p.suspicion.map(|s| s.factor),
        did_you_mean_mm: p.suspicion.map(|s| s.did_you_mean),
    }
}

fn iso_limits(i: &Input) -> Result<Value> {
    let l = iso286::limits(Millimetres(i.num("nominal_mm", 0.0)), i.text("class", ""))?;
    answer! {
        kind: match l.kind { iso286::Kind::Shaft => "shaft", iso286::Kind::Hole => "hole" },
        lower_um: l.lower, upper_um: l.upper, it_um: l.it, min_mm: l.min, max_mm: l.max,
    }
}

fn bearing_read(i: &Input) -> Result<Value> {
    let b = designation::read(i.text("designation", ""))?;
    let inside = |f: fn(&designation::Inside) -> Millimetres| b.inside.as_ref().map(f);
    let arrangement = match b.arrangement {
        Arrangement::Single => "single",
        Arrangement::DB => "DB",
        Arrangement::DF => "DF",
        Arrangement::DT => "DT",
    };
    let mut out: Result<Value> = answer! {
        d_mm: b.d, outer_mm: b.outer, width_mm: b.width, seals: b.seals, clearance: b.clearance, class: b.class, arrangement: arrangement,
        angle_deg: b.angle_deg, pitch_mm: inside(|x| x.pitch), ball_mm: inside(|x| x.ball), inner_raceway_mm: inside(|x| x.inner_raceway),
        outer_raceway_mm: inside(|x| x.outer_raceway), inner_shoulder_mm: inside(|x| x.inner_shoulder), outer_shoulder_mm: inside(|x| x.outer_shoulder),
        estimated: b.inside.is_some(), other: b.other,
    };
    if let Ok(Value::Object(map)) = &mut out {
        map.insert("type".into(), serde_json::json!(b.kind));
    }
    out
}

fn bearing_clearance(i: &Input) -> Result<Value> {
    let kind = match i.text("type", "") {
        "cylindrical_roller" => rings::ClearanceKind::CylindricalRoller,
        "self_aligning_ball" => rings::ClearanceKind::SelfAligningBall,
        _ => rings::ClearanceKind::DeepGroove,
    };
    let (min, max) = rings::clearance(kind, Millimetres(i.num("d_mm", 0.0)), i.text("group", ""))?;
    answer! { min_um: min, max_um: max }
}

fn ring_tolerance(i: &Input) -> Result<Value> {
    let ring = if i.text("ring", "") == "outer" { rings::Ring::Outer } else { rings::Ring::Inner };
    let lower = rings::ring_tolerance(ring, Millimetres(i.num("diameter_mm", 0.0)), i.text("class", ""))?;
    answer! { lower_um: lower, upper_um: 0.0 }
}

fn judge_value(i: &Input) -> Result<Value> {
    let limits = Limits::new(i.maybe("lo"), i.maybe("hi"))?;
    let value = i.num("value", 0.0);
    let given = i.num("u", 0.0);
    let u = if i.flag("guard", true) || given < 0.0 { given } else { 0.0 };
    let call = judge(value, &limits, u)?;
    let list = i.list("instruments").map_or(Ok(Vec::new()), |l| l.iter().map(candidate).collect::<Result<Vec<_>>>())?;
    let better = (call == Judgement::Undecided).then(|| decide_with(value, &limits, &list)).flatten();
    answer! { call: call.name(), margin: limits.margin(value), decide_with: better.map(|c| &c.name) }
}

fn candidate(v: &Value) -> Result<Candidate> {
    let bad = || Refusal::new("instruments", "expected a list of {name, u, cost} with u of 0 or more");
    let map = v.as_object().ok_or_else(bad)?;
    if map.keys().any(|k| !matches!(k.as_str(), "name" | "u" | "cost")) {
        return Err(bad());
    }
    let number = |k: &str| map.get(k).and_then(Value::as_f64).filter(|n| n.is_finite()).ok_or_else(bad);
    let (u, cost) = (number("u")?, number("cost")?);
    if u < 0.0 {
        return Err(bad());
    }
    Ok(Candidate { name: map.get("name").and_then(Value::as_str).ok_or_else(bad)?.to_owned(), u, cost })
}

fn gauge_capable(i: &Input) -> Result<Value> {
    let (ratio, call) = capable(i.num("lo", 0.0), i.num("hi", 0.0), i.num("u", 0.0))?;
    answer! { ratio: ratio, call: match call { Capability::Ideal => "ideal", Capability::Good => "good", Capability::NotGood => "not_good" } }
}

fn journal_grid(i: &Input) -> Result<Value> {
    let bad = || Refusal::new("readings_mm", "expected rows of numbers, one row per station");
    let rows: Vec<Vec<f64>> = i
        .list("readings_mm")
        .ok_or_else(bad)?
        .iter()
        .map(|row| row.as_array().ok_or_else(bad)?.iter().map(|v| v.as_f64().ok_or_else(bad)).collect())
        .collect::<Result<_>>()?;
    let surface = if i.text("kind", "journal") == "bore" { Surface::Bore } else { Surface::Journal };
    let g = grid(&rows, surface, Micrometres(i.num("u_um", 3.0)))?;
    answer! {
        min_mm: g.min, max_mm: g.max, mean_mm: g.mean, roundness_um: g.roundness, taper_um: g.taper, barrel_um: g.barrel,
        shape: g.shape.map(|s| s.name()), cylindricity_um: g.cylindricity,
    }
}
