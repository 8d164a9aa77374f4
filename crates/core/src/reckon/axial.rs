//! Names under "axial" of the contract.

use super::input::{guess, may, need};
use super::output::{Gives, gives, limit, or_null};
use super::{Answer, Entry, Input, Kind, answer};
use crate::axial::{self, FloatCall, Gap, Meant};
use crate::instrument::SLACK;
use crate::quantity::Millimetres;
use crate::refusal::expect;

pub(super) static ENTRIES: [Entry; 6] = [
    Entry {
        name: "float.shim",
        purpose: "Float against its window, and what the adjusting shim must become.",
        formula: "float = mean |pulled - pushed|; change = +-(float - aim)",
        source: "handbook 05",
        fields: &[
            need(
                "pairs",
                Kind::Objects(&[
                    need("pushed_mm", Kind::Number, "reading at one limit"),
                    need("pulled_mm", Kind::Number, "reading at the other"),
                ]),
                "pushed and pulled, three pairs or more are usual",
            ),
            need("lo_mm", Kind::Number, "lower end of the window"),
            need("hi_mm", Kind::Number, "upper end"),
            guess("aim_mm", Kind::Number, "aim (middle)"),
            guess("u_mm", Kind::NotNegative, "uncertainty (0.01)"),
            guess("thicker_reduces", Kind::Flag, "a thicker shim gives less float (true)"),
            may("shim_mm", Kind::Positive, "present shim"),
        ],
        outputs: &[
            gives("float_mm", Gives::Number, "end play"),
            gives("range_mm", Gives::Number, "spread of the pairs"),
            gives("call", Gives::Word(&["go", "look_again", "stop"]), "judgement"),
            or_null("change_mm", Gives::Number, "change of the shim, + thicker"),
            or_null("action", Gives::Word(&["none", "add", "remove"]), "what to do"),
            or_null("amount_mm", Gives::Number, "how much"),
            or_null("new_shim_mm", Gives::Number, "shim afterwards"),
        ],
        limits: &[limit("fewer than three pairs: nothing says how well they repeat", |i, _| i.items("pairs").len() < 3)],
        example: r#"{"pairs": [{"pushed_mm": 0, "pulled_mm": 0.42}, {"pushed_mm": 0, "pulled_mm": 0.42}, {"pushed_mm": 0, "pulled_mm": 0.43}], "lo_mm": 0.25, "hi_mm": 0.35, "u_mm": 0.012, "shim_mm": 4.6}"#,
        compute: float_shim,
    },
    Entry {
        name: "axial.two_shims",
        purpose: "Several shims set together from several gaps.",
        formula: "gap change = sum of sign x shim change, least squares",
        source: "least squares; handbook 05",
        fields: &[
            need(
                "gaps",
                Kind::Objects(&[
                    need("now_mm", Kind::Number, "gap now"),
                    need("wanted_mm", Kind::Number, "gap wanted"),
                    need("signs", Kind::Numbers, "what a thicker shim does to it, one number a shim"),
                ]),
                "gaps measured",
            ),
            need("shims_mm", Kind::Numbers, "present thicknesses"),
        ],
        outputs: &[
            gives("change_mm", Gives::Numbers, "change of each shim"),
            gives("new_mm", Gives::Numbers, "each shim afterwards"),
            gives("left_mm", Gives::Number, "largest gap error left"),
        ],
        limits: &[limit("as many gaps as shims: they always fit, nothing checks the signs", |i, _| {
            i.items("gaps").len() <= i.numbers("shims_mm").len()
        })],
        example: r#"{"gaps": [{"now_mm": 1.2, "wanted_mm": 1.0, "signs": [-1, 0]}, {"now_mm": 0.5, "wanted_mm": 0.3, "signs": [1, -1]}], "shims_mm": [3.0, 4.0]}"#,
        compute: two_shims,
    },
    Entry {
        name: "gap.around",
        purpose: "Gaps around a wheel: mean, offset, oval, and the move.",
        formula: "g(t) = G + ex cos t + ey sin t (+ oval from 6 gaps); smallest G - |e|",
        source: "least squares; handbook 05",
        fields: &[
            need("gaps_mm", Kind::Numbers, "gaps"),
            may("angles_deg", Kind::Numbers, "angles (equal steps from 0)"),
            guess("u_mm", Kind::NotNegative, "uncertainty (0.02)"),
            may("min_gap_mm", Kind::Number, "smallest gap allowed"),
            may("max_offset_mm", Kind::Number, "largest offset allowed"),
        ],
        outputs: &[
            gives("mean_mm", Gives::Number, "mean gap"),
            gives("offset_mm", Gives::Number, "offset"),
            or_null("offset_deg", Gives::Number, "towards the widest gap"),
            gives("smallest_mm", Gives::Number, "smallest gap"),
            gives("move_mm", Gives::Number, "move the housing by"),
            or_null("move_deg", Gives::Number, "in this direction"),
            or_null("oval_mm", Gives::Number, "oval"),
            or_null("cross_mm", Gives::Number, "sum of one pair of opposite gaps - the other"),
            gives("consistent", Gives::Flag, "whether they agree"),
            gives("call", Gives::Word(&["go", "look_again", "stop"]), "judgement"),
        ],
        limits: &[limit("three gaps always fit: nothing checks the readings", |i, _| i.numbers("gaps_mm").len() == 3)],
        example: r#"{"gaps_mm": [0.42, 0.40, 0.34, 0.36]}"#,
        compute: gap_around,
    },
    Entry {
        name: "wear_ring",
        purpose: "Wear-ring clearance, total and per side.",
        formula: "total = ring - collar; per side = half",
        source: "handbook 05",
        fields: &[
            may("ring_id_mm", Kind::Positive, "ring"),
            may("collar_od_mm", Kind::Positive, "collar"),
            may("reading_mm", Kind::Number, "a reading instead"),
            may("reading_kind", Kind::Word(&["total", "per_side"]), "what the reading means"),
            may("limit_min_mm", Kind::Number, "lower limit"),
            may("limit_max_mm", Kind::Number, "upper limit"),
            may("limit_kind", Kind::Word(&["total", "per_side"]), "what the limits mean"),
        ],
        outputs: &[
            gives("total_mm", Gives::Number, "total clearance"),
            gives("per_side_mm", Gives::Number, "per side"),
            or_null("call", Gives::Word(&["go", "stop"]), "judgement"),
        ],
        limits: &[],
        example: r#"{"ring_id_mm": 120.5, "collar_od_mm": 120.0, "limit_max_mm": 0.3, "limit_kind": "per_side"}"#,
        compute: wear_ring,
    },
    Entry {
        name: "shim.stock",
        purpose: "Leaves from stock for a thickness, exact search.",
        formula: "exact search in whole micrometres",
        source: "handbook 05",
        fields: &[
            need("wanted_um", Kind::Whole(0, 100_000), "wanted thickness, whole µm"),
            need(
                "stock",
                Kind::Objects(&[
                    need("um", Kind::Whole(1, 100_000), "thickness"),
                    need("count", Kind::Whole(0, 1_000_000_000), "number left"),
                ]),
                "leaves in stock",
            ),
            guess("max_leaves", Kind::Whole(0, 12), "most leaves (3)"),
        ],
        outputs: &[
            gives("leaves_um", Gives::Numbers, "leaves, thick first"),
            gives("total_um", Gives::Number, "together"),
            gives("error_um", Gives::Number, "total - wanted"),
            or_null("grind_from_um", Gives::Number, "thinnest leaf that can be ground"),
            or_null("grind_um", Gives::Number, "how much off it"),
        ],
        limits: &[],
        example: r#"{"wanted_um": 380, "stock": [{"um": 100, "count": 4}, {"um": 250, "count": 2}, {"um": 500, "count": 1}]}"#,
        compute: shim_stock,
    },
    Entry {
        name: "key.clearance",
        purpose: "Clearance over a key.",
        formula: "clearance = hub depth + shaft depth - key height",
        source: "handbook 05",
        fields: &[
            need("hub_depth_mm", Kind::Positive, "keyway in the hub"),
            need("shaft_depth_mm", Kind::Positive, "keyseat in the shaft"),
            need("key_mm", Kind::Positive, "height of the key"),
            guess("lo_mm", Kind::Number, "least clearance (0)"),
            may("hi_mm", Kind::Number, "most clearance"),
        ],
        outputs: &[
            gives("clearance_mm", Gives::Number, "clearance over the key"),
            gives("call", Gives::Word(&["go", "look_again", "stop"]), "judgement"),
        ],
        limits: &[],
        example: r#"{"hub_depth_mm": 3.4, "shaft_depth_mm": 5.0, "key_mm": 8.2}"#,
        compute: key_clearance,
    },
];

fn float_shim(i: &Input) -> Answer {
    let pairs: Vec<(f64, f64)> = i.items("pairs").iter().map(|p| (p.num("pushed_mm", 0.0), p.num("pulled_mm", 0.0))).collect();
    let f = axial::float(
        &pairs,
        (i.num("lo_mm", 0.0), i.num("hi_mm", 0.0)),
        i.maybe("aim_mm"),
        i.num("u_mm", 0.01),
        i.flag("thicker_reduces", true),
    )?;
    let shim = i.maybe("shim_mm").zip(f.change).map(|(s, c)| s + c.0);
    expect(shim.is_none_or(|s| s > axial::VANISHED), "shim_mm", "no shim would be left: something else is too long")?;
    answer! {
        float_mm: f.float, range_mm: f.range,
        call: match f.call { FloatCall::Go => "go", FloatCall::Stop => "stop", FloatCall::LookAgain => "look_again" },
        change_mm: f.change,
        action: f.change.map(|c| if c.0 > 0.0 { "add" } else if c.0 < 0.0 { "remove" } else { "none" }),
        amount_mm: f.change.map(|c| Millimetres(c.0.abs())),
        new_shim_mm: shim,
    }
}

fn two_shims(i: &Input) -> Answer {
    let gaps: Vec<Gap> = i
        .items("gaps")
        .iter()
        .map(|g| Gap { now: g.num("now_mm", 0.0), wanted: g.num("wanted_mm", 0.0), signs: g.numbers("signs") })
        .collect();
    let shims = i.numbers("shims_mm");
    expect(shims.len() <= 40 && gaps.len() <= 4000, "gaps", "at most 40 shims and 4000 gaps are taken")?;
    let (change, left) = axial::several_shims(&gaps, &shims)?;
    let new: Vec<f64> = shims.iter().zip(&change).map(|(s, c)| s + c).collect();
    answer! { change_mm: change, new_mm: new, left_mm: left }
}

fn gap_around(i: &Input) -> Answer {
    let angles = i.has("angles_deg").then(|| i.numbers("angles_deg"));
    let g = axial::gaps(&i.numbers("gaps_mm"), angles.as_deref())?;
    let consistent = g.consistent(Millimetres(i.num("u_mm", 0.02)));
    let stop = i.maybe("min_gap_mm").map_or(g.smallest.0 <= SLACK, |m| g.smallest.0 < m - SLACK)
        || i.maybe("max_offset_mm").is_some_and(|m| g.offset.0 > m + SLACK);
    answer! {
        mean_mm: g.mean, offset_mm: g.offset, offset_deg: g.offset_deg, smallest_mm: g.smallest, move_mm: g.offset,
        move_deg: g.move_deg(), oval_mm: g.oval, cross_mm: g.cross, consistent: consistent,
        call: if !consistent { "look_again" } else if stop { "stop" } else { "go" },
    }
}

fn wear_ring(i: &Input) -> Answer {
    let meant = |field: &str| if i.text(field, "") == "per_side" { Meant::PerSide } else { Meant::Total };
    let sizes = i.has("ring_id_mm") || i.has("collar_od_mm");
    expect(sizes != i.has("reading_mm"), "ring_id_mm", "expected either ring and collar, or a reading")?;
    let total = if sizes {
        for f in ["ring_id_mm", "collar_od_mm"] {
            expect(i.has(f), f, "ring and collar belong together: give both")?;
        }
        i.num("ring_id_mm", 0.0) - i.num("collar_od_mm", 0.0)
    } else {
        expect(i.has("reading_kind"), "reading_kind", "expected total or per_side: which of them a reading means is never guessed")?;
        meant("reading_kind").total(Millimetres(i.num("reading_mm", 0.0))).0
    };
    let (lo, hi) = (i.maybe("limit_min_mm"), i.maybe("limit_max_mm"));
    let limited = lo.is_some() || hi.is_some();
    expect(!limited || i.has("limit_kind"), "limit_kind", "expected total or per_side: which of them limits mean is never guessed")?;
    expect(lo.zip(hi).is_none_or(|(l, h)| h >= l), "limit_max_mm", "expected the upper limit not to be below the lower one")?;
    let as_total = |l: f64| meant("limit_kind").total(Millimetres(l)).0;
    let outside = lo.is_some_and(|l| total < as_total(l) - SLACK) || hi.is_some_and(|h| total > as_total(h) + SLACK);
    let call = if total < -SLACK || outside {
        Some("stop")
    } else if limited {
        Some("go")
    } else {
        None
    };
    answer! { total_mm: total, per_side_mm: total / 2.0, call: call }
}

fn shim_stock(i: &Input) -> Answer {
    let wanted = i.whole("wanted_um", 0);
    let stock: Vec<(u64, u64)> = i.items("stock").iter().map(|s| (s.whole("um", 1), s.whole("count", 0))).collect();
    let found = axial::shim_stock(wanted, &stock, i.whole("max_leaves", 3) as usize)?;
    let leaves: Vec<f64> = found.leaves.iter().map(|l| *l as f64).collect();
    let total: f64 = leaves.iter().sum();
    answer! {
        leaves_um: leaves, total_um: total, error_um: found.error as f64,
        grind_from_um: found.grind_from.map(|g| g as f64), grind_um: found.grind_from.map(|g| (g - wanted) as f64),
    }
}

fn key_clearance(i: &Input) -> Answer {
    let (lo, hi) = (i.num("lo_mm", 0.0), i.maybe("hi_mm"));
    expect(hi.is_none_or(|h| h >= lo), "hi_mm", "expected the upper limit not to be below the lower one")?;
    let mm = |f| Millimetres(i.num(f, 0.0));
    let c = axial::key_clearance(mm("hub_depth_mm"), mm("shaft_depth_mm"), mm("key_mm")).0;
    let stop = c < -SLACK || c < lo - SLACK || hi.is_some_and(|h| c > h + SLACK);
    // Without an upper limit millimetres of clearance are no key seat: looked at again.
    let large = hi.is_none() && c > (0.05 * i.num("key_mm", 0.0)).max(0.3) + SLACK;
    answer! { clearance_mm: c, call: if stop { "stop" } else if large { "look_again" } else { "go" } }
}
