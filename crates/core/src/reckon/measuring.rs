//! Names under "numbers and parts" of the contract.

use super::input::{guess, may, need};
use super::output::{Gives, gives, limit, or_null};
use super::{Answer, Entry, Input, Kind, answer};
use crate::fit::designation::{self, Arrangement};
use crate::fit::{iso286, rings};
use crate::instrument::{Candidate, Capability, Judgement, Limits, capable, decide_with, judge};
use crate::journal_sheet::{Surface, grid};
use crate::quantity::{Micrometres, Millimetres, parse_length};
use serde_json::Value;

pub(super) static ENTRIES: [Entry; 8] = [
    Entry {
        name: "length.parse",
        purpose: "Reads a length as people type it.",
        formula: "number x unit; a signed text with a nominal is nominal + it",
        source: "handbook 02",
        fields: &[
            need("text", Kind::Text, "what was typed"),
            guess("unit", Kind::Text, "unit when none is typed: mm (default), um, in, thou, mil, tenth"),
            may("nominal_mm", Kind::Number, "with it, a signed text is a deviation"),
            may("expect_mm", Kind::Number, "with it, slips by 10, 25.4 and 1000 are found"),
        ],
        outputs: &[
            gives("value_mm", Gives::Number, "the length"),
            gives("deviation", Gives::Flag, "whether it was read as a deviation from the nominal"),
            or_null("suspect_factor", Gives::Number, "how many times too large it looks, 10, 25.4, 1000 or one over them"),
            or_null("did_you_mean_mm", Gives::Number, "the value without that factor"),
        ],
        limits: &[],
        example: r#"{"text": "2-3/16 in"}"#,
        compute: length_parse,
    },
    Entry {
        name: "iso286.limits",
        purpose: "Limits of a tolerance class at a size.",
        formula: "table of IT grades and fundamental deviations; holes ES = -ei + Delta",
        source: "ISO 286-1:2010",
        fields: &[need("nominal_mm", Kind::Number, "nominal size"), need("class", Kind::Text, "class such as k6 or H7")],
        outputs: &[
            gives("kind", Gives::Word(&["shaft", "hole"]), "what the class is for"),
            gives("lower_um", Gives::Number, "lower deviation"),
            gives("upper_um", Gives::Number, "upper deviation"),
            gives("it_um", Gives::Number, "tolerance"),
            gives("min_mm", Gives::Number, "smallest size"),
            gives("max_mm", Gives::Number, "largest size"),
        ],
        limits: &[],
        example: r#"{"nominal_mm": 40, "class": "k6"}"#,
        compute: iso_limits,
    },
    Entry {
        name: "bearing.read",
        purpose: "Reads a bearing designation.",
        formula: "tables of boundary dimensions; pitch (d + D)/2, ball 0.30 (D - d), raceways pitch -+ ball, shoulders pitch -+ 0.6 ball as estimates",
        source: "ISO 15, ISO 355, ISO 104; handbook 03",
        fields: &[need("designation", Kind::Text, "what is written on the bearing")],
        outputs: &[
            gives(
                "type",
                Gives::Word(&[
                    "deep_groove",
                    "angular_contact",
                    "cylindrical_roller",
                    "taper_roller",
                    "thrust_ball",
                    "self_aligning_ball",
                    "spherical_roller",
                ]),
                "type",
            ),
            gives("d_mm", Gives::Number, "bore"),
            gives("outer_mm", Gives::Number, "outside"),
            gives("width_mm", Gives::Number, "width, height of a thrust bearing"),
            gives("seals", Gives::Word(&["open", "sealed_one", "sealed_both", "shielded_one", "shielded_both", "unknown"]), "closure"),
            gives("clearance", Gives::Word(&["N", "2", "3", "4", "5"]), "clearance group"),
            gives("class", Gives::Word(&["normal", "6", "5", "4", "2"]), "tolerance class"),
            gives("arrangement", Gives::Word(&["single", "DB", "DF", "DT"]), "arrangement"),
            or_null("angle_deg", Gives::Number, "contact angle"),
            or_null("pitch_mm", Gives::Number, "pitch circle, estimated"),
            or_null("ball_mm", Gives::Number, "ball, estimated"),
            or_null("inner_raceway_mm", Gives::Number, "inner raceway, estimated"),
            or_null("outer_raceway_mm", Gives::Number, "outer raceway, estimated"),
            or_null("inner_shoulder_mm", Gives::Number, "inner shoulder, estimated"),
            or_null("outer_shoulder_mm", Gives::Number, "outer shoulder, estimated"),
            gives("estimated", Gives::Flag, "whether any of these was estimated"),
            gives("other", Gives::Texts, "suffixes that are not understood"),
        ],
        limits: &[
            limit("pitch, ball, raceways and shoulders are estimated from bore and outside: measured ones are better", |_, a| {
                a.get("estimated") == Some(&Value::Bool(true))
            }),
            limit("some suffixes are not understood: see the maker's catalogue", |_, a| {
                a.get("other").and_then(Value::as_array).is_some_and(|o| !o.is_empty())
            }),
        ],
        example: r#"{"designation": "6208-2RS C3"}"#,
        compute: bearing_read,
    },
    Entry {
        name: "bearing.clearance",
        purpose: "Internal radial clearance of a group before fitting.",
        formula: "table",
        source: "ISO 5753-1:2009",
        fields: &[
            need("type", Kind::Word(&["deep_groove", "cylindrical_roller", "self_aligning_ball"]), "type of bearing"),
            need("d_mm", Kind::Number, "bore"),
            need("group", Kind::Text, "clearance group: 2 N 3 4 5"),
        ],
        outputs: &[gives("min_um", Gives::Number, "least"), gives("max_um", Gives::Number, "most")],
        limits: &[],
        example: r#"{"type": "deep_groove", "d_mm": 40, "group": "3"}"#,
        compute: bearing_clearance,
    },
    Entry {
        name: "bearing.ring_tolerance",
        purpose: "Mean diameter deviation of a bearing ring.",
        formula: "table",
        source: "ISO 492:2014",
        fields: &[
            need("ring", Kind::Word(&["inner", "outer"]), "which ring"),
            need("diameter_mm", Kind::Number, "bore or outside"),
            need("class", Kind::Text, "tolerance class: normal 6 5 4 2"),
        ],
        outputs: &[gives("lower_um", Gives::Number, "lower deviation"), gives("upper_um", Gives::Number, "upper deviation, 0")],
        limits: &[],
        example: r#"{"ring": "inner", "diameter_mm": 40, "class": "6"}"#,
        compute: ring_tolerance,
    },
    Entry {
        name: "judge",
        purpose: "Judges a value against limits with the guard band.",
        formula: "conforming: lo + u <= value <= hi - u; not conforming: value < lo - u or > hi + u",
        source: "ISO 14253-1:2017",
        fields: &[
            need("value", Kind::Number, "what was read"),
            may("lo", Kind::Number, "lower limit"),
            may("hi", Kind::Number, "upper limit"),
            guess("u", Kind::Number, "expanded uncertainty, k = 2 (0)"),
            guess("guard", Kind::Flag, "false: simple acceptance (true)"),
            may(
                "instruments",
                Kind::Objects(&[
                    need("name", Kind::Text, "as the shop calls it"),
                    need("u", Kind::NotNegative, "its expanded uncertainty"),
                    need("cost", Kind::Number, "what using it costs"),
                ]),
                "instruments in the shop",
            ),
        ],
        outputs: &[
            gives("call", Gives::Word(&["conforming", "not_conforming", "undecided"]), "judgement"),
            gives("margin", Gives::Number, "to the nearest limit, negative outside"),
            or_null("decide_with", Gives::Text, "cheapest instrument that could decide"),
        ],
        limits: &[],
        example: r#"{"value": 40.0021, "lo": 40.002, "hi": 40.018, "u": 0.003, "instruments": [{"name": "comparator", "u": 0.00005, "cost": 5}]}"#,
        compute: judge_value,
    },
    Entry {
        name: "gauge.capable",
        purpose: "Whether an instrument is good enough for a tolerance.",
        formula: "ratio = u/(hi - lo); ideal to 0.1, good to 0.25",
        source: "handbook 02",
        fields: &[
            need("lo", Kind::Number, "lower limit"),
            need("hi", Kind::Number, "upper limit"),
            need("u", Kind::Number, "expanded uncertainty"),
        ],
        outputs: &[
            gives("ratio", Gives::Number, "uncertainty over tolerance"),
            gives("call", Gives::Word(&["ideal", "good", "not_good"]), "judgement"),
        ],
        limits: &[],
        example: r#"{"lo": 0, "hi": 16, "u": 3}"#,
        compute: gauge_capable,
    },
    Entry {
        name: "journal.grid",
        purpose: "Size and form of a journal or bore from a grid of readings.",
        formula: "roundness (max - min)/2 per station; taper last row - first; barrel middle - mean of the ends",
        source: "handbook 02",
        fields: &[
            need("readings_mm", Kind::Grid, "one row per station from end A"),
            may("kind", Kind::Word(&["journal", "bore"]), "journal (default) or bore"),
            guess("u_um", Kind::NotNegative, "uncertainty of a reading (3)"),
        ],
        outputs: &[
            gives("min_mm", Gives::Number, "smallest"),
            gives("max_mm", Gives::Number, "largest"),
            gives("mean_mm", Gives::Number, "mean"),
            gives("roundness_um", Gives::Numbers, "two-point roundness per station"),
            or_null("taper_um", Gives::Number, "last station - first"),
            or_null("barrel_um", Gives::Number, "middle - ends"),
            or_null("shape", Gives::Word(&["straight", "barrel", "hourglass", "bellmouth"]), "shape"),
            gives("cylindricity_um", Gives::Number, "bound of the cylindricity"),
        ],
        limits: &[limit(
            "a two-point reading cannot see an odd number of lobes: if the ring turns rough, check in a vee or on centres",
            |i, a| {
                a.get("roundness_um")
                    .and_then(Value::as_array)
                    .is_some_and(|r| r.iter().filter_map(Value::as_f64).all(|x| x <= i.num("u_um", 3.0)))
            },
        )],
        example: r#"{"readings_mm": [[40.010, 40.011], [40.012, 40.012], [40.010, 40.010]]}"#,
        compute: journal_grid,
    },
];

fn length_parse(i: &Input) -> Answer {
    let mm = |name| i.maybe(name).map(Millimetres);
    let p = parse_length(i.text("text", ""), i.text("unit", "mm"), mm("nominal_mm"), mm("expect_mm"))?;
    answer! {
        value_mm: p.value,
        deviation: p.deviation,
        suspect_factor: p.suspicion.map(|s| s.factor),
        did_you_mean_mm: p.suspicion.map(|s| s.did_you_mean),
    }
}

fn iso_limits(i: &Input) -> Answer {
    let l = iso286::limits(Millimetres(i.num("nominal_mm", 0.0)), i.text("class", ""))?;
    answer! {
        kind: match l.kind { iso286::Kind::Shaft => "shaft", iso286::Kind::Hole => "hole" },
        lower_um: l.lower, upper_um: l.upper, it_um: l.it, min_mm: l.min, max_mm: l.max,
    }
}

fn bearing_read(i: &Input) -> Answer {
    let b = designation::read(i.text("designation", ""))?;
    let inside = |f: fn(&designation::Inside) -> Millimetres| b.inside.as_ref().map(f);
    let arrangement = match b.arrangement {
        Arrangement::Single => "single",
        Arrangement::DB => "DB",
        Arrangement::DF => "DF",
        Arrangement::DT => "DT",
    };
    answer! {
        type: b.kind, d_mm: b.d, outer_mm: b.outer, width_mm: b.width, seals: b.seals, clearance: b.clearance, class: b.class, arrangement: arrangement,
        angle_deg: b.angle_deg, pitch_mm: inside(|x| x.pitch), ball_mm: inside(|x| x.ball), inner_raceway_mm: inside(|x| x.inner_raceway),
        outer_raceway_mm: inside(|x| x.outer_raceway), inner_shoulder_mm: inside(|x| x.inner_shoulder), outer_shoulder_mm: inside(|x| x.outer_shoulder),
        estimated: b.inside.is_some(), other: b.other,
    }
}

fn bearing_clearance(i: &Input) -> Answer {
    let kind = match i.text("type", "") {
        "cylindrical_roller" => rings::ClearanceKind::CylindricalRoller,
        "self_aligning_ball" => rings::ClearanceKind::SelfAligningBall,
        _ => rings::ClearanceKind::DeepGroove,
    };
    let (min, max) = rings::clearance(kind, Millimetres(i.num("d_mm", 0.0)), i.text("group", ""))?;
    answer! { min_um: min, max_um: max }
}

fn ring_tolerance(i: &Input) -> Answer {
    let ring = if i.text("ring", "") == "outer" { rings::Ring::Outer } else { rings::Ring::Inner };
    let lower = rings::ring_tolerance(ring, Millimetres(i.num("diameter_mm", 0.0)), i.text("class", ""))?;
    answer! { lower_um: lower, upper_um: 0.0 }
}

fn judge_value(i: &Input) -> Answer {
    let limits = Limits::new(i.maybe("lo"), i.maybe("hi"))?;
    let value = i.num("value", 0.0);
    let given = i.num("u", 0.0);
    let u = if i.flag("guard", true) || given < 0.0 { given } else { 0.0 };
    let call = judge(value, &limits, u)?;
    let list: Vec<Candidate> = i
        .items("instruments")
        .iter()
        .map(|c| Candidate { name: c.text("name", "").to_owned(), u: c.num("u", 0.0), cost: c.num("cost", 0.0) })
        .collect();
    let better = (call == Judgement::Undecided).then(|| decide_with(value, &limits, &list)).flatten();
    answer! { call: call.name(), margin: limits.margin(value), decide_with: better.map(|c| &c.name) }
}

fn gauge_capable(i: &Input) -> Answer {
    let (ratio, call) = capable(i.num("lo", 0.0), i.num("hi", 0.0), i.num("u", 0.0))?;
    answer! { ratio: ratio, call: match call { Capability::Ideal => "ideal", Capability::Good => "good", Capability::NotGood => "not_good" } }
}

fn journal_grid(i: &Input) -> Answer {
    let rows = i.grid("readings_mm");
    let surface = if i.text("kind", "journal") == "bore" { Surface::Bore } else { Surface::Journal };
    let g = grid(&rows, surface, Micrometres(i.num("u_um", 3.0)))?;
    answer! {
        min_mm: g.min, max_mm: g.max, mean_mm: g.mean, roundness_um: g.roundness, taper_um: g.taper, barrel_um: g.barrel,
        shape: g.shape.map(|s| s.name()), cylindricity_um: g.cylindricity,
    }
}
