//! Names under "axial" of the contract.

use super::input::{may, need};
use super::lists::{items, needed, numbers};
use super::{Entry, Input, Kind, answer};
use crate::axial::{self, FloatCall, Gap};
use crate::instrument::SLACK;
use crate::quantity::Millimetres;
use crate::refusal::{Refusal, Result, expect};
use crate::rotation;
use serde_json::Value;

pub(super) static ENTRIES: [Entry; 6] = [
    Entry {
        name: "float.shim",
        purpose: "Float against its window, and what the adjusting shim must become.",
        source: "handbook 05",
        fields: &[
            need("pairs", Kind::Objects, "list of {pushed_mm, pulled_mm}"),
            need("lo_mm", Kind::Number, "lower end of the window"),
            need("hi_mm", Kind::Number, "upper end"),
            may("aim_mm", Kind::Number, "aim (middle)"),
            may("u_mm", Kind::NotNegative, "uncertainty (0.01)"),
            may("thicker_reduces", Kind::Flag, "a thicker shim gives less float (true)"),
            may("shim_mm", Kind::Positive, "present shim"),
        ],
        compute: float_shim,
    },
    Entry {
        name: "axial.two_shims",
        purpose: "Several shims set together from several gaps.",
        source: "least squares; handbook 05",
        fields: &[need("gaps", Kind::Objects, "list of {now_mm, wanted_mm, signs}"), need("shims_mm", Kind::Rows, "present thicknesses")],
        compute: two_shims,
    },
    Entry {
        name: "gap.around",
        purpose: "Gaps around a wheel: mean, offset, oval, and the move.",
        source: "least squares; handbook 05",
        fields: &[
            need("gaps_mm", Kind::Rows, "gaps"),
            may("angles_deg", Kind::Rows, "angles (equal steps from 0)"),
            may("u_mm", Kind::NotNegative, "uncertainty (0.02)"),
            may("min_gap_mm", Kind::Number, "smallest gap allowed"),
            may("max_offset_mm", Kind::Number, "largest offset allowed"),
        ],
        compute: gap_around,
    },
    Entry {
        name: "wear_ring",
        purpose: "Wear-ring clearance, total and per side.",
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
        compute: wear_ring,
    },
    Entry {
        name: "shim.stock",
        purpose: "Leaves from stock for a thickness, exact search.",
        source: "handbook 05",
        fields: &[
            need("wanted_um", Kind::NotNegative, "wanted thickness, whole µm"),
            need("stock", Kind::Objects, "list of {um, count}"),
            may("max_leaves", Kind::NotNegative, "most leaves (3)"),
        ],
        compute: shim_stock,
    },
    Entry {
        name: "key.clearance",
        purpose: "Clearance over a key.",
        source: "handbook 05",
        fields: &[
            need("hub_depth_mm", Kind::Positive, "keyway in the hub"),
            need("shaft_depth_mm", Kind::Positive, "keyseat in the shaft"),
            need("key_mm", Kind::Positive, "height of the key"),
            may("lo_mm", Kind::Number, "least clearance (0)"),
            may("hi_mm", Kind::Number, "most clearance"),
        ],
        compute: key_clearance,
    },
];

fn float_shim(i: &Input) -> Result<Value> {
    let pairs = items(i, "pairs", &["pushed_mm", "pulled_mm"])?
        .iter()
        .map(|p| Ok((p.num("pushed_mm")?, p.num("pulled_mm")?)))
        .collect::<Result<Vec<_>>>()?;
    let f = axial::float(
        &pairs,
        (i.num("lo_mm", 0.0), i.num("hi_mm", 0.0)),
        i.maybe("aim_mm"),
        i.num("u_mm", 0.01),
        i.flag("thicker_reduces", true),
    )?;
    let shim = i.maybe("shim_mm").zip(f.change).map(|(s, c)| s + c.0);
    expect(shim.is_none_or(|s| s > 0.0), "shim_mm", "no shim would be left: something else is too long")?;
    answer! {
        float_mm: f.float, range_mm: f.range,
        call: match f.call { FloatCall::Go => "go", FloatCall::Stop => "stop", FloatCall::LookAgain => "look_again" },
        change_mm: f.change,
        action: f.change.map(|c| if c.0 > 0.0 { "add" } else if c.0 < 0.0 { "remove" } else { "none" }),
        amount_mm: f.change.map(|c| Millimetres(c.0.abs())),
        new_shim_mm: shim,
    }
}

fn two_shims(i: &Input) -> Result<Value> {
    let bad = || Refusal::new("gaps", "expected {now_mm, wanted_mm, signs: [one number per shim]}");
    let gaps = i
        .list("gaps")
        .ok_or_else(bad)?
        .iter()
        .map(|g| {
            let number = |k: &str| g[k].as_f64().filter(|n| n.is_finite()).ok_or_else(bad);
            let signs = g["signs"]
                .as_array()
                .ok_or_else(bad)?
                .iter()
                .map(|s| s.as_f64().filter(|n| n.is_finite()).ok_or_else(bad))
                .collect::<Result<Vec<_>>>()?;
            if g.as_object().is_none_or(|m| m.len() != 3) {
                return Err(bad());
            }
            Ok(Gap { now: number("now_mm")?, wanted: number("wanted_mm")?, signs })
        })
        .collect::<Result<Vec<_>>>()?;
    let shims = needed(i, "shims_mm")?;
    expect(shims.len() <= 40 && gaps.len() <= 4000, "gaps", "at most 40 shims and 4000 gaps are taken")?;
    let (change, left) = axial::several_shims(&gaps, &shims)?;
    let new: Vec<f64> = shims.iter().zip(&change).map(|(s, c)| s + c).collect();
    answer! { change_mm: change, new_mm: new, left_mm: left }
}

fn gap_around(i: &Input) -> Result<Value> {
    let gaps = needed(i, "gaps_mm")?;
    let n = gaps.len();
    expect(n >= 3, "gaps_mm", "at least three gaps are expected")?;
    let angles = match numbers(i, "angles_deg")? {
        Some(a) => a,
        None => (0..n).map(|k| 360.0 * k as f64 / n as f64).collect(),
    };
    expect(angles.len() == n, "angles_deg", "as many angles as gaps are expected")?;
    let fit = rotation::around(&gaps, &angles)?;
    let (mean, (ex, ey)) = (fit.mean, fit.first);
    let offset = ex.hypot(ey);
    let deg = rotation::direction(ex, ey, 1.0);
    // Four at right angles, in any order: opposite sums must agree.
    let mut sorted: Vec<(f64, f64)> = angles.iter().map(|a| a.rem_euclid(360.0)).zip(gaps.iter().copied()).collect();
    sorted.sort_by(|a, b| a.0.total_cmp(&b.0));
    let square = n == 4 && (0..4).all(|k| ((sorted[(k + 1) % 4].0 - sorted[k].0).rem_euclid(360.0) - 90.0).abs() < 1e-6);
    let cross = square.then(|| sorted[0].1 + sorted[2].1 - sorted[1].1 - sorted[3].1);
    let consistent = cross.is_none_or(|c| c.abs() <= i.num("u_mm", 0.02) + SLACK);
    let smallest = mean - offset;
    let stop = i.maybe("min_gap_mm").is_some_and(|m| smallest < m - SLACK) || i.maybe("max_offset_mm").is_some_and(|m| offset > m + SLACK);
    answer! {
        mean_mm: mean, offset_mm: offset, offset_deg: deg, smallest_mm: smallest, move_mm: offset,
        move_deg: deg.map(|d| (d + 180.0).rem_euclid(360.0)), oval_mm: fit.second, cross_mm: cross, consistent: consistent,
        call: if !consistent { "look_again" } else if stop { "stop" } else { "go" },
    }
}

fn wear_ring(i: &Input) -> Result<Value> {
    let sizes = i.has("ring_id_mm") || i.has("collar_od_mm");
    expect(sizes != i.has("reading_mm"), "ring_id_mm", "expected either ring and collar, or a reading")?;
    let total = if sizes {
        for f in ["ring_id_mm", "collar_od_mm"] {
            expect(i.has(f), f, "ring and collar belong together: give both")?;
        }
        i.num("ring_id_mm", 0.0) - i.num("collar_od_mm", 0.0)
    } else {
        expect(i.has("reading_kind"), "reading_kind", "is the reading total or per_side? It is never guessed")?;
        i.num("reading_mm", 0.0) * if i.text("reading_kind", "") == "per_side" { 2.0 } else { 1.0 }
    };
    let (lo, hi) = (i.maybe("limit_min_mm"), i.maybe("limit_max_mm"));
    let limited = lo.is_some() || hi.is_some();
    expect(!limited || i.has("limit_kind"), "limit_kind", "are the limits total or per_side? It is never guessed")?;
    expect(lo.zip(hi).is_none_or(|(l, h)| h >= l), "limit_max_mm", "the upper limit must not be below the lower one")?;
    let scale = if i.text("limit_kind", "") == "per_side" { 2.0 } else { 1.0 };
    let outside = lo.is_some_and(|l| total < l * scale - SLACK) || hi.is_some_and(|h| total > h * scale + SLACK);
    let call = if total < -SLACK || outside {
        Some("stop")
    } else if limited {
        Some("go")
    } else {
        None
    };
    answer! { total_mm: total, per_side_mm: total / 2.0, call: call }
}

fn whole(field: &str, v: f64) -> Result<u64> {
    expect(v.fract() == 0.0 && (0.0..=1e9).contains(&v), field, "expected a whole number of 0 or more")?;
    Ok(v as u64)
}

fn shim_stock(i: &Input) -> Result<Value> {
    let wanted = whole("wanted_um", i.num("wanted_um", 0.0))?;
    let stock = items(i, "stock", &["um", "count"])?
        .iter()
        .map(|s| {
            let um = whole("stock", s.num("um")?)?;
            expect(um > 0, "stock", "expected thicknesses above 0")?;
            Ok((um, whole("stock", s.num("count")?)?))
        })
        .collect::<Result<Vec<_>>>()?;
    let found = axial::shim_stock(wanted, &stock, whole("max_leaves", i.num("max_leaves", 3.0))? as usize)?;
    let leaves: Vec<f64> = found.leaves.iter().map(|l| *l as f64).collect();
    let total: f64 = leaves.iter().sum();
    answer! {
        leaves_um: leaves, total_um: total, error_um: found.error as f64,
        grind_from_um: found.grind_from.map(|g| g as f64), grind_um: found.grind_from.map(|g| (g - wanted) as f64),
    }
}

fn key_clearance(i: &Input) -> Result<Value> {
    let (lo, hi) = (i.num("lo_mm", 0.0), i.maybe("hi_mm"));
    expect(hi.is_none_or(|h| h >= lo), "hi_mm", "the upper limit must not be below the lower one")?;
    let c = i.num("hub_depth_mm", 0.0) + i.num("shaft_depth_mm", 0.0) - i.num("key_mm", 0.0);
    let stop = c < -SLACK || c < lo - SLACK || hi.is_some_and(|h| c > h + SLACK);
    answer! { clearance_mm: c, call: if stop { "stop" } else { "go" } }
}
