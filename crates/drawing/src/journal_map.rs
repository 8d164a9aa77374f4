//! The unrolled journal as a heat map: taper and out-of-round at a glance, exaggerated by a stated factor.

use crate::svg::{Svg, n};
use ironseat_core::quantity::{Micrometres, Units, show};

/// What to draw.
#[derive(Debug)]
pub struct JournalMap<'a> {
    /// Rows of stations from end A, planes in each; mm.
    pub rows: &'a [Vec<Option<f64>>],
    /// Names of the planes.
    pub planes: &'a [char],
    /// Names of the stations.
    pub stations: &'a [&'a str],
    /// Middle of the limits, mm: white in the map.
    pub middle: f64,
    /// Half the tolerance, mm: full colour.
    pub half: f64,
    /// Units of the figures.
    pub units: Units,
    /// The next cell: (station, plane).
    pub next: Option<(usize, usize)>,
    /// Prefix of ids.
    pub id: &'a str,
}

/// Draws the map. Each cell carries its deviation from the middle of the limits; the line above each station shows the
/// profile over the planes, the factor of exaggeration is written beneath.
#[must_use]
pub fn journal_map(m: &JournalMap<'_>) -> String {
    let (w, h, left, top) = (440.0, 268.0, 84.0, 24.0);
    let (cw, ch) = ((w - left - 8.0) / m.planes.len() as f64, (h - top - 48.0) / m.rows.len() as f64);
    let mut s = Svg::open(
        w,
        h,
        "img",
        "journal-map",
        "Unrolled surface, heat map",
        "Columns are planes, rows are stations from end A. Each cell shows how far it is from the middle of the limits.",
        m.id,
    );
    for (i, p) in m.planes.iter().enumerate() {
        s.text("head", left + cw * (i as f64 + 0.5), top - 8.0, &format!("{p} at {}°", i * 45));
    }
    // Pixels per mm of deviation: the half tolerance fills a third of a row.
    let amplify = ch * 0.33 / m.half.max(1e-6);
    for (j, row) in m.rows.iter().enumerate() {
        let y = top + ch * j as f64;
        s.text("side", left - 10.0, y + ch / 2.0 + 5.0, m.stations.get(j).copied().unwrap_or(""));
        let mut profile = String::new();
        for (i, v) in row.iter().enumerate() {
            let x = left + cw * i as f64;
            let next = m.next == Some((j, i));
            match v {
                Some(v) => {
                    let share = ((v - m.middle) / m.half.max(1e-6)).clamp(-1.5, 1.5);
                    let level = (share.abs() * 4.0).round().min(6.0) as usize;
                    let sign = if share < 0.0 { "minus" } else { "plus" };
                    s.rect(
                        &format!("cell {sign}-{level}{}", if next { " next" } else { "" }),
                        x,
                        y,
                        cw - 2.0,
                        ch - 2.0,
                    );
                    let (t, _) = show::signed(Micrometres::of((v - m.middle) * 1000.0), m.units);
                    s.text("fig", x + cw / 2.0 - 1.0, y + ch - 9.0, &t);
                    let py = y + ch * 0.36 - ((v - m.middle) * amplify).clamp(-ch * 0.32, ch * 0.32);
                    profile.push_str(&format!(
                        "{}{} {}",
                        if profile.is_empty() { "M" } else { "L" },
                        n(x + cw / 2.0),
                        n(py)
                    ));
                }
                None => s.rect(if next { "cell empty next" } else { "cell empty" }, x, y, cw - 2.0, ch - 2.0),
            }
        }
        if !profile.is_empty() {
            s.path("profile", &profile);
        }
    }
    let factor = two_figures(amplify / 0.26); // a CSS pixel is 0.26 mm
    let (half, unit) = show::small(Micrometres::of(m.half * 1000.0), m.units);
    s.text("foot", left, h - 26.0, &format!("The line is drawn about {factor} times its size."));
    s.text("foot", left, h - 9.0, &format!("Full colour: {half} {unit} off the middle of the limits."));
    s.close()
}

/// Rounded to two figures, thousands apart: `7 300`.
fn two_figures(v: f64) -> String {
    let step = 10f64.powf(v.abs().max(1.0).log10().floor() - 1.0).max(1.0);
    let n = ((v / step).round() * step) as u64;
    if n >= 1000 { format!("{}\u{a0}{:03}", n / 1000, n % 1000) } else { n.to_string() }
}
