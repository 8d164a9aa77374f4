//! Drawings beside an answer that are no readings: figures on one scale, which way a nut turns, a wrench with its
//! extension, a pack of leaves, a plan.

use crate::svg::{Svg, n, polygon};
use std::f64::consts::PI;

/// Figures of one unit: what each is, its value, as written.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Bar {
    pub name: String,
    pub value: f64,
    pub said: String,
}

/// Figures of one unit beside each other, from a common zero.
#[must_use]
pub fn bars(list: &[Bar], name: &str, id: &str) -> String {
    let said: Vec<String> = list.iter().map(|b| format!("{}: {}", b.name, b.said)).collect();
    let h = 44.0 * list.len() as f64 + 12.0;
    let mut s = Svg::open(460.0, h, "img", "reckoned", name, &format!("{}.", said.join("; ")), id);
    let (lo, hi) = list.iter().fold((0.0f64, 0.0f64), |(l, h), b| (l.min(b.value), h.max(b.value)));
    let span = if hi > lo { hi - lo } else { 1.0 };
    let x = |v: f64| 14.0 + (v - lo) / span * 432.0;
    for (k, b) in list.iter().enumerate() {
        let y = 10.0 + 44.0 * k as f64;
        s.word("note", 14.0, y + 12.0, "start", &b.name);
        s.word("figure", 446.0, y + 13.0, "end", &b.said);
        let (a, z) = (x(b.value.min(0.0)), x(b.value.max(0.0)));
        s.rect("bar", a, y + 19.0, (z - a).max(2.0), 11.0);
    }
    s.line("axis", x(0.0), 8.0, x(0.0), h - 6.0);
    s.close()
}

/// Which way a shaft turns and which way its nut comes loose, seen from the nut; clockwise is true.
#[must_use]
pub fn nut_turns(shaft_cw: bool, loosens_cw: bool, hand: &str, id: &str) -> String {
    let way = |cw: bool| if cw { "clockwise" } else { "anticlockwise" };
    let desc = format!("Seen from the nut: the shaft turns {}, {} loosens.", way(shaft_cw), way(loosens_cw));
    let mut s = Svg::open(460.0, 260.0, "img", "reckoned", "Seen from the nut", &desc, id);
    let (cx, cy) = (150.0, 130.0);
    let corner = |k: i32| (f64::from(k) * PI / 3.0).sin_cos();
    let hex: Vec<(f64, f64)> = (0..6).map(corner).map(|(a, b)| (cx + 64.0 * a, cy - 64.0 * b)).collect();
    s.path("face", &polygon(&hex));
    s.circle("face", cx, cy, 34.0);
    arc(&mut s, "way", (cx, cy), 20.0, shaft_cw);
    arc(&mut s, "spot", (cx, cy), 96.0, loosens_cw);
    s.word("figure", 280.0, 96.0, "start", &format!("{hand}-hand nut"));
    for (y, text) in [
        (132.0, "outer arrow: loosens,"),
        (152.0, way(loosens_cw)),
        (188.0, "inner arrow: the shaft,"),
        (208.0, way(shaft_cw)),
    ] {
        s.word("note", 280.0, y, "start", text);
    }
    s.close()
}

/// Three quarters of a circle with a head, the way it goes.
fn arc(s: &mut Svg, class: &str, (cx, cy): (f64, f64), r: f64, cw: bool) {
    let at = |deg: f64, r: f64| {
        let (sin, cos) = deg.to_radians().sin_cos();
        (cx + r * sin, cy - r * cos)
    };
    let (from, to) = if cw { (-120.0, 120.0) } else { (120.0, -120.0) };
    let ((x0, y0), (x1, y1)) = (at(from, r), at(to, r));
    let sweep = u8::from(cw);
    s.path(class, &format!("M{} {}A{r} {r} 0 1 {sweep} {} {}", n(x0), n(y0), n(x1), n(y1)));
    let size = (r * 0.16).max(6.0);
    let ahead = if cw { 1.0 } else { -1.0 };
    let (tx, ty) = at(to + ahead * size / r * 57.3, r);
    s.path("found-mark", &polygon(&[(tx, ty), at(to, r + size * 0.7), at(to, r - size * 0.7)]));
}

/// A wrench with an extension on it: lengths and the angle between them, as written.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Wrench {
    pub wrench: (f64, String),
    pub extension: (f64, String),
    pub angle_deg: f64,
    /// What the bolt gets, and what the wrench is set to.
    pub bolt: String,
    pub setting: String,
}

/// A wrench with its extension, to scale.
#[must_use]
pub fn wrench(v: &Wrench, id: &str) -> String {
    let desc = format!("{} at the bolt with the wrench set to {}.", v.bolt, v.setting);
    let mut s = Svg::open(460.0, 240.0, "img", "reckoned", "Wrench and extension", &desc, id);
    let (sin, cos) = v.angle_deg.to_radians().sin_cos();
    let (ex, ey) = (v.extension.0 * cos, v.extension.0 * sin);
    let (lo, hi) = (ex.min(0.0), v.wrench.0.max(0.0).max(ex));
    // The wrench lies along; its drive is the origin, the bolt at the end of the extension behind it.
    let left = (-ex).min(0.0);
    let scale = (330.0 / (hi - lo + v.extension.0).max(1.0)).min(130.0 / ey.abs().max(1.0));
    let at = |x: f64, y: f64| (60.0 + (x - left) * scale, 120.0 + y * scale);
    let (drive, grip, bolt) = (at(0.0, 0.0), at(v.wrench.0, 0.0), at(-ex, ey));
    s.line("line", drive.0, drive.1, grip.0, grip.1);
    s.line("spot", drive.0, drive.1, bolt.0, bolt.1);
    s.circle("bolt first", bolt.0, bolt.1, 13.0);
    s.circle("dot", drive.0, drive.1, 5.0);
    s.rect("bar", grip.0 - 24.0, grip.1 - 7.0, 48.0, 14.0);
    s.word("note", f64::midpoint(drive.0, grip.0), drive.1 - 12.0, "middle", &v.wrench.1);
    if v.extension.0 > 0.0 {
        let (mx, my) = (f64::midpoint(drive.0, bolt.0), f64::midpoint(drive.1, bolt.1));
        s.word("note", mx, my + 24.0, "middle", &v.extension.1);
    }
    s.word("figure", bolt.0.max(20.0) - 12.0, (bolt.1 - 24.0).max(20.0), "start", &v.bolt);
    s.word("figure", (grip.0 + 24.0).min(446.0), grip.1 - 34.0, "end", &format!("set to {}", v.setting));
    s.close()
}

/// Leaves as they lie, in µm, with how each is written: thick outside, thin inside.
#[must_use]
pub fn leaves(list: &[(f64, String)], whole: &str, id: &str) -> String {
    let mut order: Vec<&(f64, String)> = Vec::new();
    // The thickest go to the outside, one on each side in turn.
    let mut sorted: Vec<&(f64, String)> = list.iter().collect();
    sorted.sort_by(|a, b| a.0.total_cmp(&b.0));
    for (k, leaf) in sorted.into_iter().enumerate() {
        if k % 2 == 0 { order.push(leaf) } else { order.insert(0, leaf) }
    }
    let said: Vec<&str> = order.iter().map(|l| l.1.as_str()).collect();
    let desc = format!("From one side: {}. Together {whole}.", said.join(", "));
    // The thinnest leaf is as high as its figure; what is left of the height goes by thickness.
    let least = 24.0;
    let tall = (least * order.len() as f64).max(170.0);
    let mut s = Svg::open(460.0, tall + 50.0, "img", "reckoned", "The pack of leaves", &desc, id);
    let sum: f64 = order.iter().map(|l| l.0).sum::<f64>().max(1e-9);
    let spare = tall - least * order.len() as f64;
    let mut y = 20.0;
    for (t, text) in order.iter().map(|l| (l.0, &l.1)) {
        let h = least + t / sum * spare;
        s.rect("bar", 60.0, y, 220.0, h - 2.0);
        s.word("figure", 296.0, y + h / 2.0 + 6.0, "start", text);
        y += h;
    }
    s.word("note", 60.0, tall + 44.0, "start", &format!("together {whole}; not to scale"));
    s.close()
}

/// The upper half of a rolling bearing in section, to scale: bore, outside and width in mm, and how they are written.
#[must_use]
pub fn ring_section((d, outer, width): (f64, f64, f64), rolls: bool, said: &[String; 3], id: &str) -> String {
    let desc = format!("Bore {}, outside {}, width {}.", said[0], said[1], said[2]);
    let mut s = Svg::open(460.0, 260.0, "img", "reckoned", "The bearing in section", &desc, id);
    let scale = (130.0 / width).min(196.0 / (outer / 2.0));
    let y = |r: f64| 226.0 - r * scale;
    let (x0, w) = (220.0 - width * scale / 2.0, width * scale);
    let h = (outer - d) / 2.0;
    s.rect("face", x0, y(outer / 2.0), w, 0.3 * h * scale);
    s.rect("face", x0, y(d / 2.0 + 0.3 * h), w, 0.3 * h * scale);
    let (cx, cy) = (220.0, y((d + outer) / 4.0));
    let ball = 0.29 * h * scale;
    if rolls {
        s.rect("face", cx - ball, cy - ball, 2.0 * ball, 2.0 * ball);
    } else {
        s.circle("face", cx, cy, ball.min(w / 2.0));
    }
    s.line("aim", 40.0, y(0.0), 420.0, y(0.0));
    // One on either side, so that neither is written across the other.
    for (edge, out, anchor, r, what) in [
        (x0, -1.0, "end", d / 2.0, format!("bore {}", said[0])),
        (x0 + w, 1.0, "start", outer / 2.0, format!("outside {}", said[1])),
    ] {
        let x = edge + 26.0 * out;
        s.line("spot", x, y(0.0), x, y(r));
        s.line("axis", edge, y(r), x + 6.0 * out, y(r));
        s.word("figure", x + 8.0 * out, y(r).min(200.0) + 20.0, anchor, &what);
    }
    s.line("spot", x0, 244.0, x0 + w, 244.0);
    s.word("figure", (x0 - 8.0).max(8.0), 250.0, if x0 > 120.0 { "end" } else { "start" }, &said[2]);
    s.close()
}

/// Things one after the other, in rows of four; so many as can be read.
#[must_use]
pub fn sequence(list: &[&str], name: &str, id: &str) -> String {
    let shown = &list[..list.len().min(24)];
    let rows = shown.len().div_ceil(4);
    let desc = format!("{name}: {}.", list.join(", "));
    let mut s = Svg::open(460.0, 52.0 * rows as f64 + 8.0, "img", "reckoned", name, &desc, id);
    for (k, text) in shown.iter().enumerate() {
        let (x, y) = (6.0 + 113.0 * (k % 4) as f64, 8.0 + 52.0 * (k / 4) as f64);
        s.rect("face", x, y, 102.0, 38.0);
        if k + 1 < shown.len() && k % 4 < 3 {
            s.line("line", x + 102.0, y + 19.0, x + 113.0, y + 19.0);
        }
        let text: String =
            if text.chars().count() > 10 { text.chars().take(9).chain(['…']).collect() } else { (*text).to_owned() };
        s.word("note", x + 6.0, y + 15.0, "start", &(k + 1).to_string());
        s.word("read", x + 51.0, y + 27.0, "middle", &text);
    }
    s.close()
}

/// A turn of a nut from where it stands: the aim and the lock positions beside it, each with what it leaves.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Turn {
    pub aim: Option<(f64, String)>,
    pub locks: Vec<(f64, String)>,
}

/// The way of a nut laid straight: zero to the left, the aim above, the locks numbered on it.
#[must_use]
pub fn turn(v: &Turn, id: &str) -> String {
    let said: Vec<&str> = v.locks.iter().map(|l| l.1.as_str()).collect();
    let aim = v.aim.as_ref().map_or(String::new(), |a| format!(" Aim: {}.", a.1));
    let h = 100.0 + 26.0 * v.locks.len() as f64;
    let desc = format!("Locks: {}.{aim}", said.join("; "));
    let mut s = Svg::open(460.0, h, "img", "reckoned", "The turn and its locks", &desc, id);
    let far = v.aim.iter().chain(&v.locks).map(|p| p.0.abs()).fold(1e-9, f64::max);
    let x = |deg: f64| 24.0 + deg.max(0.0) / far * 400.0;
    s.line("line", 24.0, 64.0, 440.0, 64.0);
    s.line("axis", 24.0, 54.0, 24.0, 74.0);
    if let Some((deg, text)) = &v.aim {
        let at = x(*deg);
        s.path("found-mark", &polygon(&[(at, 60.0), (at - 8.0, 40.0), (at + 8.0, 40.0)]));
        s.word("figure", 24.0, 24.0, "start", text);
    }
    // Numbered where they lie, told below: two that are near each other would be written into each other.
    for (k, (deg, text)) in v.locks.iter().enumerate() {
        let (no, y) = ((k + 1).to_string(), 112.0 + 26.0 * k as f64);
        s.circle("bolt first", x(*deg), 64.0, 6.0);
        s.word("note", x(*deg), 88.0, "middle", &no);
        s.word("note", 24.0, y, "middle", &no);
        s.word("figure", 44.0, y, "start", text);
    }
    s.close()
}

/// A task of a plan: its name, start, hands-on minutes, and minutes of waiting after it.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Planned {
    pub name: String,
    pub start: f64,
    pub minutes: f64,
    pub wait: f64,
}

/// A plan as bars along the minutes: hands full, waits hatched; so many as can be read.
#[must_use]
pub fn plan(tasks: &[Planned], id: &str) -> String {
    let shown = &tasks[..tasks.len().min(60)];
    let end = tasks.iter().map(|t| t.start + t.minutes + t.wait).fold(1.0, f64::max);
    let said: Vec<String> = shown.iter().map(|t| format!("{} from minute {}", t.name, n(t.start))).collect();
    let row = if shown.len() > 16 { 21.0 } else { 28.0 };
    let h = row * shown.len() as f64 + 40.0;
    let mut s = Svg::open(460.0, h, "img", "reckoned", "The plan", &format!("{}.", said.join("; ")), id);
    let x = |m: f64| 120.0 + m / end * 326.0;
    for (k, t) in shown.iter().enumerate() {
        let y = 10.0 + row * k as f64;
        let name: String =
            if t.name.chars().count() > 13 { t.name.chars().take(12).chain(['…']).collect() } else { t.name.clone() };
        s.word("note", 112.0, y + 15.0, "end", &name);
        s.rect("bar", x(t.start), y, (x(t.minutes) - x(0.0)).max(2.0), 18.0);
        if t.wait > 0.0 {
            s.rect("wait", x(t.start + t.minutes), y + 5.0, x(t.wait) - x(0.0), 8.0);
        }
    }
    s.line("axis", 120.0, h - 24.0, 446.0, h - 24.0);
    s.word("note", 120.0, h - 6.0, "start", "0");
    s.word("note", 446.0, h - 6.0, "end", &format!("{} min", n(end)));
    let more = tasks.len() - shown.len();
    if more > 0 {
        s.word("note", 283.0, h - 6.0, "middle", &format!("and {more} more"));
    }
    s.close()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn ends(svg: &str, class: &str) -> Vec<(f64, f64)> {
        let of = |t: &str, k: &str| t.split(&format!("{k}=\"")).nth(1).and_then(|v| v.split('"').next()?.parse().ok());
        svg.split(&format!("class=\"{class}\"")).skip(1).filter_map(|t| Some((of(t, "x")?, of(t, "width")?))).collect()
    }

    #[test]
    fn bars_begin_at_a_common_zero_on_either_side() {
        let bar = |name: &str, value: f64| Bar { name: name.into(), value, said: format!("{value}") };
        let svg = bars(&[bar("lower", -10.0), bar("upper", 30.0)], "Limits", "b");
        let list = ends(&svg, "bar");
        let (low, high) = (list[0], list[1]);
        assert!((low.0 + low.1 - high.0).abs() < 0.11 && (high.1 / low.1 - 3.0).abs() < 0.01, "{list:?}");
    }

    #[test]
    fn the_thickest_leaves_lie_outside() {
        let leaf = |t: f64| (t, format!("{t}"));
        let svg = leaves(&[leaf(100.0), leaf(50.0), leaf(200.0)], "350", "l");
        let desc = svg.split("From one side: ").nth(1).and_then(|t| t.split('.').next()).unwrap_or_default();
        assert!(desc == "100, 50, 200" || desc == "200, 50, 100", "{desc}");
    }

    #[test]
    fn a_wait_begins_where_its_hands_end() {
        let t = Planned { name: "heat".into(), start: 5.0, minutes: 10.0, wait: 20.0 };
        let svg = plan(&[t], "p");
        let (hands, wait) = (ends(&svg, "bar")[0], ends(&svg, "wait")[0]);
        assert!((hands.0 + hands.1 - wait.0).abs() < 0.11 && (wait.1 / hands.1 - 2.0).abs() < 0.01);
    }
}
