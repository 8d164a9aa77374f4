//! Where the next reading is taken: the land from the side with its stations, and its end with the planes.

use crate::svg::{Svg, n};

/// What to draw.
#[derive(Debug)]
pub struct LandView<'a> {
    /// Diameter, mm: shown as written.
    pub size: &'a str,
    /// Length over diameter of the land: sets the proportions.
    pub ratio: f64,
    /// Inside (a bore) or outside.
    pub bore: bool,
    /// Draw the lands beside it.
    pub neighbours: bool,
    /// The next cell: (station from 0, plane from 0); none when all is read.
    pub next: Option<(usize, usize)>,
    /// Cells that are read: (station, plane).
    pub done: &'a [(usize, usize)],
    /// Stations.
    pub stations: usize,
    /// Name of the surface.
    pub name: &'a str,
    /// Prefix of ids.
    pub id: &'a str,
}

/// Draws the land with the anvils of the instrument at the next place.
#[must_use]
pub fn land_view(v: &LandView<'_>) -> String {
    let (w, h) = (440.0, 264.0);
    let where_next = v.next.map_or("all read".to_owned(), |(s, p)| {
        format!("next: station {}, plane {}", s + 1, ["1", "2", "3", "4"][p.min(3)])
    });
    let mut s = Svg::open(w, h, "img", "land", &format!("{}: where to measure", v.name), &where_next, v.id);
    let (cy, r) = (122.0, 76.0);
    let len = (r * 2.0 * v.ratio).clamp(112.0, 168.0);
    let (x0, x1) = (38.0, 38.0 + len);
    // Side view: the land between its neighbours, stations as chain lines.
    if v.bore {
        s.path("cutland", &format!("M{a} {t}H{b}V{u}H{a}Z", a = n(x0), b = n(x1), t = n(cy - r - 22.0), u = n(cy - r)));
        s.path("cutland", &format!("M{a} {t}H{b}V{u}H{a}Z", a = n(x0), b = n(x1), t = n(cy + r), u = n(cy + r + 22.0)));
        s.rect("shaft", x0, cy - r, len, 2.0 * r);
    } else {
        if v.neighbours {
            s.rect("neighbour", x0 - 20.0, cy - r * 0.84, 20.0, r * 1.68);
            s.rect("neighbour", x1, cy - r * 1.14, 20.0, r * 2.28);
        }
        s.rect("shaft", x0, cy - r, len, 2.0 * r);
    }
    s.line("centre", x0 - 26.0, cy, x1 + 30.0, cy);
    for i in 0..v.stations {
        let x = station_x(x0, len, i, v.stations);
        let full = v.done.iter().filter(|(st, _)| *st == i).count() >= 4;
        s.line(
            if v.next.is_some_and(|(st, _)| st == i) {
                "station next"
            } else if full {
                "station full"
            } else {
                "station"
            },
            x,
            cy - r - 8.0,
            x,
            cy + r + 8.0,
        );
    }
    s.text("size", f64::midpoint(x0, x1), cy + r + if v.bore { 46.0 } else { 32.0 }, v.size);
    s.text("end", x0 - 26.0, cy + r + if v.bore { 46.0 } else { 32.0 }, "A");
    s.text("end", x1 + 22.0, cy + r + if v.bore { 46.0 } else { 32.0 }, "B");
    // End view: planes 45 degrees apart, seen from end A.
    let (ex, er) = (332.0, if v.bore { 60.0 } else { 76.0 });
    s.circle(if v.bore { "ringland" } else { "shaft" }, ex, cy, if v.bore { er + 22.0 } else { er });
    if v.bore {
        s.circle("shaft", ex, cy, er);
    }
    s.line("centre", ex - er - 6.0, cy, ex + er + 6.0, cy);
    s.line("centre", ex, cy - er - 6.0, ex, cy + er + 6.0);
    for p in 0..4usize {
        let a = (p as f64 * 45.0 - 90.0).to_radians();
        let (c, d) = (a.cos(), a.sin());
        let next = v.next.is_some_and(|(_, pl)| pl == p);
        let out = er + if v.bore { 36.0 } else { 18.0 };
        if next {
            s.line("plane next", ex - c * er, cy - d * er, ex + c * er, cy + d * er);
            s.circle("anvil", ex + c * er, cy + d * er, 6.0);
            s.circle("anvil", ex - c * er, cy - d * er, 6.0);
        } else {
            let read = v.next.is_some_and(|(st, _)| v.done.contains(&(st, p)));
            s.line(if read { "plane full" } else { "plane" }, ex - c * er, cy - d * er, ex + c * er, cy + d * er);
        }
        s.text(
            if next { "plane-name next" } else { "plane-name" },
            ex + c * out,
            cy + d * out + 5.0,
            ["1", "2", "3", "4"][p],
        );
    }
    s.text("foot", ex, cy + r + if v.bore { 46.0 } else { 38.0 }, "seen from end A");
    if let Some((st, _)) = v.next {
        let x = station_x(x0, len, st, v.stations);
        let (top, bottom) = (cy - r, cy + r);
        s.circle("anvil", x, top, 6.0);
        s.circle("anvil", x, bottom, 6.0);
    }
    s.close()
}

fn station_x(x0: f64, len: f64, i: usize, of: usize) -> f64 {
    let inset = (len * 0.14).min(16.0);
    if of < 2 { x0 + len / 2.0 } else { x0 + inset + (len - 2.0 * inset) * i as f64 / (of - 1) as f64 }
}
