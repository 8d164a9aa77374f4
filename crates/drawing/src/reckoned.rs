//! Drawings beside an answer of the Reckoner: what was read, on the circle or line where it was read.

use crate::svg::{Svg, n, polygon};
use std::f64::consts::TAU;
use std::fmt::Write as _;

/// A reading or limit with how it is written.
pub type Said = (f64, String);

/// A window with what was found.
#[derive(Debug)]
pub struct Window {
    /// What is judged.
    pub name: String,
    /// Lower limit.
    pub lo: Said,
    /// Upper limit.
    pub hi: Said,
    /// What was found.
    pub found: Said,
    /// Uncertainty: the whisker of what was found, and what is missing at both ends of the window.
    pub u: f64,
    /// What is aimed at.
    pub aim: Option<Said>,
}

/// A window as a bar: what is surely inside, the guard at both ends, what was found with its uncertainty.
#[must_use]
pub fn window(w: &Window, id: &str) -> String {
    let desc = format!("Found {} between {} and {}.", w.found.1, w.lo.1, w.hi.1);
    let mut s = Svg::open(460.0, 150.0, "img", "reckoned", &w.name, &desc, id);
    let (least, most) = (w.lo.0.min(w.found.0 - w.u), w.hi.0.max(w.found.0 + w.u));
    let span = if most > least { most - least } else { 1.0 };
    let x = |v: f64| 60.0 + (v - least) / span * 340.0;
    let (lo, hi, at) = (x(w.lo.0), x(w.hi.0), x(w.found.0));
    s.line("axis", 20.0, 84.0, 440.0, 84.0);
    s.rect("win", lo, 70.0, hi - lo, 28.0);
    let u = (x(w.lo.0 + w.u) - lo).min((hi - lo) / 2.0);
    s.rect("guard", lo, 70.0, u, 28.0);
    s.rect("guard", hi - u, 70.0, u, 28.0);
    if let Some(aim) = &w.aim {
        s.line("aim", x(aim.0), 66.0, x(aim.0), 102.0);
    }
    s.line("found", x(w.found.0 - w.u), 84.0, x(w.found.0 + w.u), 84.0);
    s.path("found-mark", &format!("M{} 84m-7 -22l14 0l-7 20Z", n(at)));
    // Each limit is written on its own side of the window, what was found above it.
    let narrow = hi - lo < 130.0;
    let anchors = if narrow { ["end", "start"] } else { ["middle"; 2] };
    let left = within(460.0, NOTE, lo, anchors[0], &w.lo.1);
    let right = within(460.0, NOTE, hi.max(left + 8.0), anchors[1], &w.hi.1);
    s.word("limit", left.min(right - 8.0), 124.0, anchors[0], &w.lo.1);
    s.word("limit", right, 124.0, anchors[1], &w.hi.1);
    s.word("figure", within(460.0, FIGURE, at, "middle", &w.found.1), 44.0, "middle", &w.found.1);
    s.close()
}

/// Width of a letter of a figure, and of a note, at most.
const FIGURE: f64 = 11.4;
const NOTE: f64 = 7.6;

/// Where a word is to stand so that none of it runs out of a drawing so wide.
fn within(wide: f64, letter: f64, x: f64, anchor: &str, text: &str) -> f64 {
    let takes = text.chars().count() as f64 * letter;
    let left = match anchor {
        "start" => 0.0,
        "end" => takes,
        _ => takes / 2.0,
    };
    x.min(wide - 4.0 - (takes - left)).max(4.0 + left)
}

fn at(r: f64, deg: f64) -> (f64, f64) {
    let (sin, cos) = deg.to_radians().sin_cos();
    (r * sin, -r * cos)
}

/// Readings around a circle, the mark at the top, clockwise.
#[derive(Debug)]
pub struct Around {
    /// What was read.
    pub name: String,
    /// Angle, reading, and how it is written.
    pub read: Vec<(f64, f64, String)>,
    /// What the readings are counted from: the middle circle of the drawing.
    pub zero: f64,
    /// Amplitude and high spot of once, twice, three times a turn.
    pub waves: Vec<(f64, f64)>,
    /// The high or wide spot.
    pub spot: Option<(f64, String)>,
    /// How wide readings are drawn, in words: the exaggeration.
    pub unit: &'static str,
}

/// Readings around a circle, exaggerated, with the curve that was fitted to them.
#[must_use]
pub fn around(a: &Around, id: &str) -> String {
    let far = a.read.iter().map(|r| (r.1 - a.zero).abs()).fold(1e-9, f64::max);
    let scale = 42.0 / far;
    let said = a.spot.as_ref().map_or(String::new(), |s| format!(" High spot at {} degrees.", n(s.0)));
    let desc = format!("{} readings, the mark at the top, clockwise.{said}", a.read.len());
    let mut s = Svg::open(460.0, 384.0, "img", "reckoned", &a.name, &desc, id);
    s.raw(r#"<g transform="translate(230 188)">"#);
    s.circle("axis", 0.0, 0.0, 90.0);
    s.path("mark", "M-6 -180L6 -180L0 -168Z");
    for k in 0..12 {
        let deg = f64::from(k) * 30.0;
        let ((x0, y0), (x1, y1)) = (at(86.0, deg), at(94.0, deg));
        s.line("axis", x0, y0, x1, y1);
    }
    if !a.waves.is_empty() {
        let mut d = String::new();
        for k in 0..=120 {
            let deg = f64::from(k) * 3.0;
            let sum: f64 =
                (1..).zip(&a.waves).map(|(h, (e, high))| e * (f64::from(h) * (deg - high)).to_radians().cos()).sum();
            let (x, y) = at(90.0 + sum * scale, deg);
            let _ = write!(d, "{}{} {}", if k == 0 { "M" } else { "L" }, n(x), n(y));
        }
        d.push('Z');
        s.path("fitted", &d);
    }
    let crowded = a.read.len() > 24;
    for (deg, v, text) in &a.read {
        let ((x0, y0), (x, y)) = (at(90.0, *deg), at(90.0 + (v - a.zero) * scale, *deg));
        s.line("stalk", x0, y0, x, y);
        s.circle("dot", x, y, 3.5);
        if !crowded {
            let (x, y) = at(152.0, *deg);
            s.word("read", x, y + 5.0, "middle", text);
        }
    }
    if let Some((deg, _)) = a.spot {
        let (x, y) = at(84.0, deg);
        s.line("spot", 0.0, 0.0, x, y);
    }
    if let Some((deg, text)) = &a.spot {
        // Beside the hand that points there.
        let y = if (90.0..270.0).contains(&deg.rem_euclid(360.0)) { -12.0 } else { 26.0 };
        s.word("figure", 0.0, y, "middle", text);
    }
    s.raw("</g>");
    let text = format!("drawn large: the longest line is {} {}", figure(far), a.unit);
    s.word("note", 230.0, 378.0, "middle", &text);
    s.close()
}

fn figure(v: f64) -> String {
    if v >= 10.0 {
        format!("{v:.0}")
    } else if v >= 0.1 {
        format!("{v:.2}")
    } else {
        format!("{v:.4}")
    }
}

/// The bolts of a ring with their place in the order, seen from where one stands.
#[must_use]
pub fn bolts(order: &[u64], id: &str) -> String {
    let count = order.len().max(1);
    let list: Vec<String> = order.iter().map(u64::to_string).collect();
    let mut s = Svg::open(
        460.0,
        380.0,
        "img",
        "reckoned",
        "Bolts in their order",
        &format!("In this order: {}.", list.join(", ")),
        id,
    );
    s.raw(r#"<g transform="translate(230 190)">"#);
    s.circle("axis", 0.0, 0.0, 140.0);
    let r = (140.0 * TAU / count as f64 * 0.42).clamp(3.0, 19.0);
    // The way from bolt to bolt for the first five, which is where the pattern shows.
    let place = |bolt: u64| at(140.0, (bolt as f64 - 1.0) * 360.0 / count as f64);
    for pair in order.windows(2).take(4) {
        let ((x0, y0), (x1, y1)) = (place(pair[0]), place(pair[1]));
        s.line("way", x0, y0, x1, y1);
    }
    s.circle("face", 0.0, 0.0, 74.0);
    for (k, bolt) in order.iter().enumerate() {
        let (x, y) = place(*bolt);
        s.circle(if k == 0 { "bolt first" } else { "bolt" }, x, y, r);
        if r > 9.0 {
            s.word("figure", x, y + 6.0, "middle", &(k + 1).to_string());
        }
    }
    s.raw(r#"<text class="note" x="0" y="-10" text-anchor="middle">number: when</text><text class="note" x="0" y="12" text-anchor="middle">bolt 1 at the top,</text><text class="note" x="0" y="32" text-anchor="middle">clockwise</text>"#);
    s.raw("</g>");
    s.close()
}

/// Places, x to the right and y up, drawn to scale about a middle and into a frame; and how near the nearest two are.
pub(crate) fn to_scale(places: &[(f64, f64)], middle: (f64, f64), frame: (f64, f64)) -> (Vec<(f64, f64)>, f64) {
    let ends = |v: fn(&(f64, f64)) -> f64| {
        let all = places.iter().map(v);
        (all.clone().fold(f64::INFINITY, f64::min), all.fold(f64::NEG_INFINITY, f64::max))
    };
    let ((x0, x1), (y0, y1)) = (ends(|p| p.0), ends(|p| p.1));
    let scale = (frame.0 / (x1 - x0).max(1e-9)).min(frame.1 / (y1 - y0).max(1e-9));
    let to = |p: &(f64, f64)| {
        (middle.0 + (p.0 - f64::midpoint(x0, x1)) * scale, middle.1 - (p.1 - f64::midpoint(y0, y1)) * scale)
    };
    let drawn: Vec<(f64, f64)> = places.iter().map(to).collect();
    let near = (0..drawn.len())
        .flat_map(|i| (0..i).map(move |j| (i, j)))
        .map(|(i, j)| (drawn[i].0 - drawn[j].0).hypot(drawn[i].1 - drawn[j].1))
        .fold(f64::INFINITY, f64::min);
    (drawn, near)
}

/// Bolts where they stand, mm, x to the right and y up, numbered by their turn: `order` counts from 1. Drawn to scale
/// into a frame of `w` by `h`.
#[must_use]
pub fn bolt_pattern(places: &[(f64, f64)], order: &[u64], w: f64, h: f64, id: &str) -> String {
    let list: Vec<String> = order.iter().map(u64::to_string).collect();
    let desc = format!("Bolts as they are drawn; in this order: {}.", list.join(", "));
    let mut s = Svg::open(w, h, "img", "reckoned", "Bolts where they stand", &desc, id);
    let edge = 24.0;
    // Where there is room for it, it is said what the numbers are: the bolts' own stand in the list beside it.
    let foot = if h > 240.0 { 26.0 } else { 0.0 };
    if foot > 0.0 {
        s.raw(&format!(
            r#"<text class="limit" x="{}" y="{}" text-anchor="middle">numbered in the order in which they are drawn</text>"#,
            n(w / 2.0),
            n(h - 8.0)
        ));
    }
    let h = h - foot;
    let (drawn, near) = to_scale(places, (w / 2.0, h / 2.0), (w - 2.0 * edge, h - 2.0 * edge));
    // No larger than half the way to the nearest fellow.
    let r = (near * 0.42).clamp(2.0, 15.0);
    let place = |bolt: &u64| usize::try_from(*bolt).ok().and_then(|b| drawn.get(b.wrapping_sub(1)).copied());
    for pair in order.windows(2).take(4) {
        if let (Some((ax, ay)), Some((bx, by))) = (place(&pair[0]), place(&pair[1])) {
            s.line("way", ax, ay, bx, by);
        }
    }
    for (k, bolt) in order.iter().enumerate() {
        let Some((x, y)) = place(bolt) else { continue };
        s.circle(if k == 0 { "bolt first" } else { "bolt" }, x, y, r);
        if r > 7.0 {
            s.word("figure", x, y + 5.0, "middle", &(k + 1).to_string());
        }
    }
    s.close()
}

/// Steps of something that rises, each with what it is and how long it is held.
#[derive(Debug, Clone)]
pub struct Stairs {
    /// What they are.
    pub name: String,
    /// Height of each, what is written over and under it.
    pub steps: Vec<(f64, String, String)>,
    /// The one that is trodden now, counted from 0.
    pub at: Option<usize>,
}

/// Stairs, those behind the present one filled, the present one lit.
#[must_use]
pub fn stairs(v: &Stairs, id: &str) -> String {
    let said: Vec<String> = v.steps.iter().map(|(_, a, b)| format!("{a}, {b}")).collect();
    let now = v.at.and_then(|k| v.steps.get(k)).map_or(String::new(), |s| format!(" Now: {}.", s.1));
    let mut s = Svg::open(460.0, 220.0, "img", "reckoned", &v.name, &format!("{}.{now}", said.join("; ")), id);
    let top = v.steps.iter().map(|p| p.0).fold(1e-9, f64::max);
    let wide = 432.0 / v.steps.len().max(1) as f64;
    for (k, (up, over, under)) in v.steps.iter().enumerate() {
        let (x, h) = (14.0 + wide * k as f64, (up / top * 136.0).max(4.0));
        let class = match v.at {
            Some(at) if k == at => "stair now",
            Some(at) if k < at => "stair behind",
            _ => "stair",
        };
        s.rect(class, x + 2.0, 180.0 - h, wide - 4.0, h);
        let fits = wide >= 44.0 || k % 2 == 0 || Some(k) == v.at;
        for (class, y, text) in [("figure", 174.0 - h, over), ("note", 200.0, under)].into_iter().filter(|_| fits) {
            s.word(class, x + wide / 2.0, y, "middle", text);
        }
    }
    s.line("axis", 8.0, 180.0, 452.0, 180.0);
    s.close()
}

/// Readings along one axis: a press trace, a run-in log.
#[derive(Debug, Clone, Default)]
pub struct Curve {
    /// What it is.
    pub name: String,
    /// What stands along, and up, with their units.
    pub along: String,
    /// Up.
    pub up: String,
    /// Rising along.
    pub points: Vec<(f64, f64)>,
    /// Reckoned, and not read: no dots stand on it.
    pub smooth: bool,
    /// A point that was found, as written.
    pub mark: Option<(f64, f64, String)>,
    /// Between these the curve should end, at a place along: place, least, most.
    pub band: Option<(f64, f64, f64)>,
    /// It must stay under this, as written.
    pub limit: Option<Said>,
    /// Stretches up that have a name, each between two curves over the same places along: name, lower, upper.
    pub regions: Vec<Region>,
    /// Places along where something changed, as written.
    pub changes: Vec<Said>,
}

/// A stretch between two curves, with its name.
pub type Region = (String, Vec<(f64, f64)>, Vec<(f64, f64)>);

/// A curve through readings, with what was found on it and what it should keep to.
#[must_use]
pub fn curve(c: &Curve, id: &str) -> String {
    let found = c.mark.as_ref().map_or(String::new(), |m| format!(" {}.", m.2));
    let desc = format!("{} points of {} over {}.{found}", c.points.len(), c.up, c.along);
    let mut s = Svg::open(460.0, 300.0, "img", "reckoned", &c.name, &desc, id);
    let xs = c.points.iter().map(|p| p.0).chain(c.band.map(|b| b.0));
    let ys = c.points.iter().map(|p| p.1).chain(c.band.map(|b| b.2)).chain(c.limit.as_ref().map(|l| l.0));
    let ys = ys.chain(c.regions.iter().flat_map(|r| r.2.iter().map(|p| p.1)));
    let (right, top) = (xs.fold(1e-9, f64::max), ys.fold(1e-9, f64::max) * 1.08);
    let left = c.points.iter().map(|p| p.0).fold(0.0, f64::min);
    let x = |v: f64| 48.0 + (v - left) / (right - left) * 380.0;
    let y = |v: f64| 250.0 - v.max(0.0) / top * 216.0;
    for (k, (name, lower, upper)) in c.regions.iter().enumerate() {
        let around = lower.iter().chain(upper.iter().rev()).map(|p| (x(p.0).min(440.0), y(p.1).max(26.0)));
        s.path(&format!("region r{k}"), &polygon(&around.collect::<Vec<_>>()));
        // Named where it leaves the frame.
        let ends = upper.iter().zip(lower).rfind(|(u, _)| x(u.0) <= 440.0 && y(u.1) >= 26.0);
        if let Some((u, l)) = ends {
            // A wide stretch has room at its edge, away from the curve in its middle.
            let (top, foot) = (y(u.1), y(l.1));
            let up = if foot - top > 44.0 { top + 17.0 } else { f64::midpoint(top, foot) + 5.0 };
            s.word("note", x(u.0).min(440.0) - 4.0, up, "end", name);
        }
    }
    for (at, text) in &c.changes {
        s.line("change", x(*at), 250.0, x(*at), 26.0);
        s.word("note", x(*at) + 4.0, 242.0, "start", text);
    }
    s.line("axis", 48.0, 250.0, 440.0, 250.0);
    s.line("axis", 48.0, 250.0, 48.0, 26.0);
    if let Some((at, lo, hi)) = c.band {
        s.line("band", x(at), y(lo), x(at), y(hi));
    }
    if let Some((v, text)) = &c.limit {
        s.line("aim", 48.0, y(*v), 440.0, y(*v));
        s.word("limit", 54.0, y(*v) - 6.0, "start", text);
    }
    let mut d = String::new();
    for (k, (px, py)) in c.points.iter().enumerate() {
        let _ = write!(d, "{}{} {}", if k == 0 { "M" } else { "L" }, n(x(*px)), n(y(*py)));
    }
    if !d.is_empty() {
        s.path("line", &d);
    }
    for (px, py) in c.points.iter().filter(|_| !c.smooth) {
        s.circle("dot", x(*px), y(*py), 3.0);
    }
    if let Some((mx, my, text)) = &c.mark {
        s.line("spot", x(*mx), 250.0, x(*mx), y(*my));
        if c.smooth {
            s.circle("dot", x(*mx), y(*my), 4.5);
        }
        let (at, anchor) = if x(*mx) > 240.0 { (x(*mx) - 10.0, "end") } else { (x(*mx) + 10.0, "start") };
        // To the right of a point on a line that rises there is room below it, to its left and beside one that falls
        // above.
        let rises = c.points.last().zip(c.points.first()).is_some_and(|(b, a)| b.1 > a.1);
        let lowest = c.points.iter().all(|p| p.1 >= *my - 1e-9);
        let up = if c.smooth && (lowest || rises && anchor == "start") {
            (y(*my) + 26.0).min(244.0)
        } else {
            (y(*my) - 12.0).max(40.0)
        };
        s.word("figure", within(460.0, FIGURE, at, anchor, text), up, anchor, text);
    }
    for (text, px, py, anchor) in [(&c.along, 440.0, 280.0, "end"), (&c.up, 48.0, 16.0, "start")] {
        s.word("note", px, py, anchor, text);
    }
    s.close()
}

/// A rotor as its stations say it runs: offset, tilted, bent.
#[derive(Debug, Clone)]
pub struct Rotor {
    /// What it is, with the cause.
    pub name: String,
    /// Place along the shaft in mm and how far out it runs in µm, in the plane where that is most.
    pub stations: Vec<(f64, f64)>,
    /// The straight line through its ends.
    pub line: [(f64, f64); 2],
    /// What the next station should read: place, how far out, as written.
    pub next: Option<(f64, f64, String)>,
}

/// The rotor beside its axis, how far out drawn much larger than how long, and by how much is said.
#[must_use]
pub fn rotor(r: &Rotor, id: &str) -> String {
    let (w, h, middle) = (460.0, 230.0, 108.0);
    let places = || r.stations.iter().copied().chain(r.line).chain(r.next.iter().map(|n| (n.0, n.1)));
    let (left, right) = places().fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), p| (a.min(p.0), b.max(p.0)));
    let out = places().map(|p| p.1.abs()).fold(1e-9, f64::max);
    let along = 380.0 / (right - left).max(1e-9);
    let up = 70.0 / out;
    let at = |p: (f64, f64)| (40.0 + (p.0 - left) * along, middle - p.1 * up);
    let said = r.next.as_ref().map_or_else(String::new, |n| format!(" {}.", n.2));
    let desc = format!("{} stations along the rotor.{said}", r.stations.len());
    let mut s = Svg::open(w, h, "img", "reckoned", &r.name, &desc, id);
    s.line("axis", 20.0, middle, 440.0, middle);
    let path = |list: &[(f64, f64)]| {
        list.iter().enumerate().fold(String::new(), |mut d, (k, p)| {
            let (x, y) = at(*p);
            let _ = write!(d, "{}{} {}", if k == 0 { "M" } else { "L" }, n(x), n(y));
            d
        })
    };
    s.path("fitted", &path(&r.line));
    s.path("line", &path(&r.stations));
    for p in &r.stations {
        let (x, y) = at(*p);
        s.circle("dot", x, y, 5.0);
    }
    if let Some((z, v, text)) = &r.next {
        let (x, y) = at((*z, *v));
        s.line("spot", x, middle, x, y);
        let anchor = if x > 230.0 { "end" } else { "start" };
        s.word("figure", x.clamp(24.0, 436.0), if y < middle { middle + 30.0 } else { middle - 16.0 }, anchor, text);
    }
    let larger = (up * 1000.0 / along).round();
    let words = format!("out of the axis it is drawn {larger} times as large as along it");
    s.raw(&format!(r#"<text class="note" x="{}" y="{}" text-anchor="middle">{words}</text>"#, n(w / 2.0), n(h - 10.0)));
    s.close()
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]
    use super::*;

    fn of(svg: &str, class: &str, attribute: &str) -> Vec<f64> {
        let find = |t: &str| t.split(&format!(" {attribute}=\"")).nth(1)?.split('"').next()?.parse().ok();
        svg.split('<').filter(|t| t.contains(&format!("class=\"{class}\""))).filter_map(find).collect()
    }

    #[test]
    fn what_was_found_stands_where_it_is_and_labels_keep_apart() {
        let said = |v: f64| (v, format!("{v:.3} mm"));
        for (lo, hi, v, u) in
            [(0.25, 0.35, 0.31, 0.01), (0.25, 0.35, 0.423, 0.012), (0.25, 0.2501, 3.0, 0.0), (0.0, 1.0, -5.0, 0.2)]
        {
            let w = Window { name: "Float".into(), lo: said(lo), hi: said(hi), found: said(v), u, aim: None };
            let svg = window(&w, "w");
            let limits = of(&svg, "limit", "x");
            assert!(limits[0] <= limits[1]);
            let anchored = svg.contains("text-anchor=\"end\"");
            assert!(anchored || limits[1] - limits[0] >= 130.0, "{lo} {hi} {v}");
            let (bar, width) = (of(&svg, "win", "x")[0], of(&svg, "win", "width")[0]);
            let found = of(&svg, "found", "x1")[0].midpoint(of(&svg, "found", "x2")[0]);
            assert_eq!((found >= bar - 0.2 && found <= bar + width + 0.2), (lo..=hi).contains(&v), "{svg}");
        }
    }

    #[test]
    fn readings_stand_at_their_angle_and_the_curve_goes_through_a_pure_sine() {
        let read = (0..12)
            .map(|k| f64::from(k) * 30.0)
            .map(|d| (d, 10.0 * (d - 60.0).to_radians().cos(), String::new()))
            .collect();
        let a = Around {
            name: "Sweep".into(),
            read,
            zero: 0.0,
            waves: vec![(10.0, 60.0)],
            spot: Some((60.0, "20 µm".into())),
            unit: "µm",
        };
        let svg = around(&a, "s");
        let (x, y) = (of(&svg, "dot", "cx")[2], of(&svg, "dot", "cy")[2]);
        // The high spot: two o'clock, a third of the way round to the right, as far out as the drawing goes.
        assert!((x.hypot(y) - 132.0).abs() < 0.2 && (x.atan2(-y).to_degrees() - 60.0).abs() < 0.2);
        let d = svg.split("class=\"fitted\" d=\"").nth(1).unwrap();
        assert!(d.contains(&format!("L{} {}", n(x), n(y))), "the curve goes through the reading");
    }

    #[test]
    fn a_curve_stays_on_its_paper_and_its_mark_lies_on_it() {
        let points: Vec<(f64, f64)> = (0..7).map(|k| (f64::from(k) * 3.0, f64::from(k) * 1500.0)).collect();
        let c = Curve {
            name: "Trace".into(),
            along: "travel, mm".into(),
            up: "force, kN".into(),
            points,
            smooth: false,
            mark: Some((18.0, 9000.0, "9.0 kN".into())),
            band: Some((18.0, 4000.0, 14000.0)),
            ..Curve::default()
        };
        let svg = curve(&c, "c");
        let (xs, ys) = (of(&svg, "dot", "cx"), of(&svg, "dot", "cy"));
        assert!(xs.windows(2).all(|w| w[1] > w[0]) && ys.windows(2).all(|w| w[1] < w[0]));
        assert!(xs.iter().all(|x| (48.0..=440.0).contains(x)) && ys.iter().all(|y| (20.0..=250.0).contains(y)));
        assert_eq!((of(&svg, "spot", "x1")[0], of(&svg, "spot", "y2")[0]), (xs[6], ys[6]));
        let (lo, hi) = (of(&svg, "band", "y1")[0], of(&svg, "band", "y2")[0]);
        assert!(hi < ys[6] && ys[6] < lo, "what was found lies in what was foreseen");
        // A reckoned one has no dots but where it was found, and its words stand where the line is not.
        let up: Vec<(f64, f64)> = (0..=60).map(|k| (f64::from(k), f64::from(k) * 20.0)).collect();
        let down: Vec<(f64, f64)> = (0..=60).map(|k| (f64::from(k), 110.0 - f64::from(k))).collect();
        for (points, at, below) in [(up, (20.0, 400.0), true), (down, (20.0, 90.0), false)] {
            let mark = Some((at.0, at.1, "here".into()));
            let smooth = Curve { points, smooth: true, mark, band: None, ..c.clone() };
            let svg = curve(&smooth, "c");
            let (dot, text) = (of(&svg, "dot", "cy"), of(&svg, "figure", "y"));
            assert!(dot.len() == 1 && (text[0] > dot[0]) == below, "{svg}");
        }
        let none = Curve { points: Vec::new(), mark: None, band: None, ..c };
        assert!(!curve(&none, "c").contains("NaN"));
    }

    #[test]
    fn a_rotor_stands_as_far_from_its_axis_as_was_read_and_says_how_much_larger() {
        let r = Rotor {
            name: "Rotor".into(),
            stations: vec![(0.0, 0.0), (100.0, 10.0), (200.0, -5.0)],
            line: [(0.0, 0.0), (200.0, -5.0)],
            next: Some((300.0, -8.0, "TIR 16 µm".into())),
        };
        let svg = rotor(&r, "r");
        let (xs, ys) = (of(&svg, "dot", "cx"), of(&svg, "dot", "cy"));
        // Up is out: 10 µm is twice as far up as 5 µm is down, and the largest fills its room.
        assert!((108.0 - ys[1] - 2.0 * (ys[2] - 108.0)).abs() < 0.3 && (108.0 - ys[1] - 70.0).abs() < 0.1, "{svg}");
        assert!((xs[1] - xs[0] - (xs[2] - xs[1])).abs() < 0.2);
        // 7 px a µm over 380 px for 300 mm: 5526 times.
        assert!(svg.contains("drawn 5526 times as large"), "{svg}");
        let point = Rotor { stations: vec![(5.0, 0.0)], line: [(5.0, 0.0), (5.0, 0.0)], next: None, ..r };
        assert!(!rotor(&point, "r").contains("NaN"));
    }

    #[test]
    fn each_bolt_has_its_number_once() {
        let svg = bolts(&[1, 5, 3, 7, 2, 6, 4, 8], "b");
        for k in 1..=8 {
            assert_eq!(svg.matches(&format!(">{k}</text>")).count(), 1);
        }
        // The second one tightened is opposite the first.
        let (x, y) = (of(&svg, "bolt", "cx")[0], of(&svg, "bolt", "cy")[0]);
        assert!(x.abs() < 0.1 && (y - 140.0).abs() < 0.1);
        assert!(bolts(&[], "b").contains("</svg>") && bolts(&[1], "b").contains("bolt first"));
    }
}
