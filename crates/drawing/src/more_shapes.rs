//! Shapes of the rarer parts, each from plain geometry.

use crate::frame::{Frame, towards};
use crate::svg::{Svg, n, polygon};
use ironseat_core::anatomy::Part;
use ironseat_core::terms::End;

fn y(f: &Frame, share: f64) -> f64 {
    f.cy - f.r(share)
}

/// A bladed wheel: hub, web, rim, and the blade standing on it, drawn open.
pub(crate) fn wheel(s: &mut Svg, p: &Part, f: &Frame, hatch: usize) {
    let (m, w) = (f.mid(), f.w());
    let dir = towards(p);
    let web = w * 0.1;
    s.cut(
        hatch,
        &polygon(&[
            (f.x0, y(f, 0.0)),
            (f.x0, y(f, 0.18)),
            (m - web, y(f, 0.24)),
            (m - web * 0.7, y(f, 0.62)),
            (m - w * 0.3, y(f, 0.64)),
            (m - w * 0.3, y(f, 0.72)),
            (m + w * 0.3, y(f, 0.72)),
            (m + w * 0.3, y(f, 0.64)),
            (m + web * 0.7, y(f, 0.62)),
            (m + web, y(f, 0.24)),
            (f.x1, y(f, 0.18)),
            (f.x1, y(f, 0.0)),
        ]),
    );
    let (a, b) = (m - dir * w * 0.26, m + dir * w * 0.26);
    s.path(
        "blade",
        &polygon(&[(a, y(f, 0.72)), (b, y(f, 0.72)), (b + dir * w * 0.04, y(f, 1.0)), (a + dir * w * 0.1, y(f, 1.0))]),
    );
    for k in 1..4 {
        let x = a + (b - a) * f64::from(k) / 4.0;
        s.line("thin", x, y(f, 0.72), x + dir * w * 0.06, y(f, 1.0));
    }
}

/// The wheel from outside.
pub(crate) fn wheel_below(s: &mut Svg, p: &Part, f: &Frame) {
    let (m, w) = (f.mid(), f.w());
    s.rect("seen", f.x0, f.cy + f.r0, w, f.r(0.18) - f.r0);
    s.rect("seen", m - w * 0.3, f.cy + f.r(0.18), w * 0.6, f.r(0.72) - f.r(0.18));
    let lean = towards(p) * w * 0.16;
    let (a, b) = (m - w * 0.26, m + w * 0.26);
    s.path(
        "seen",
        &crate::svg::polygon(&[
            (a - lean / 2.0, f.cy + f.r(0.72)),
            (b - lean / 2.0, f.cy + f.r(0.72)),
            (b + lean / 2.0, f.cy + f.r1),
            (a + lean / 2.0, f.cy + f.r1),
        ]),
    );
    for k in 1..4 {
        let x = m - w * 0.26 + w * 0.52 * f64::from(k) / 4.0;
        s.line("thin", x - lean / 2.0, f.cy + f.r(0.72), x + lean / 2.0, f.cy + f.r1);
    }
}

/// A gear: blank, tooth depth and pitch line.
pub(crate) fn gear(s: &mut Svg, f: &Frame, hatch: usize) {
    s.cut_rect(hatch, f.x0, y(f, 0.86), f.w(), f.r(0.86) - f.r0);
    s.rect("tooth", f.x0, y(f, 1.0), f.w(), f.r1 - f.r(0.86));
    s.line("centre", f.x0 - 3.0, y(f, 0.94), f.x1 + 3.0, y(f, 0.94));
}

/// The gear from outside: a few teeth.
pub(crate) fn gear_below(s: &mut Svg, f: &Frame) {
    s.rect("seen", f.x0, f.cy + f.r0, f.w(), f.r1 - f.r0);
    let rows = ((f.r1 - f.r0) / 5.0).clamp(2.0, 9.0) as u32;
    for k in 1..rows {
        let yy = f.cy + f.r0 + (f.r1 - f.r0) * f64::from(k) / f64::from(rows);
        s.line("thin", f.x0, yy, f.x1, yy);
    }
}

/// A thrust washer with the oil grooves of its running face.
pub(crate) fn thrust_washer(s: &mut Svg, p: &Part, f: &Frame, hatch: usize) {
    s.cut_rect(hatch, f.x0, y(f, 1.0), f.w(), f.r1 - f.r0);
    let x = if towards(p) < 0.0 { f.x0 } else { f.x1 };
    s.line("tab", x, y(f, 0.85), x, y(f, 0.2));
}

/// Leaves: solid, with a light line between.
pub(crate) fn shim(s: &mut Svg, f: &Frame) {
    s.rect("solid", f.x0, y(f, 1.0), f.w(), f.r1 - f.r0);
    s.line("leaf", f.mid(), y(f, 1.0), f.mid(), y(f, 0.0));
}

/// An O-ring in its groove.
pub(crate) fn o_ring(s: &mut Svg, f: &Frame) {
    let r = ((f.r1 - f.r0) / 2.0).max(2.0);
    s.circle("rubber", f.mid(), f.cy - f.r0 - r, r);
}

/// A split seal ring: a small section.
pub(crate) fn split_ring(s: &mut Svg, f: &Frame) {
    s.rect("solid", f.x0, y(f, 1.0), f.w(), f.r1 - f.r0);
}

/// A split seal ring from outside, with its gap.
pub(crate) fn split_ring_below(s: &mut Svg, f: &Frame) {
    s.rect("seen", f.x0, f.cy + f.r0, f.w(), f.r1 - f.r0);
    s.line("thin", f.x0, f.cy + f.r(0.3), f.x1, f.cy + f.r(0.7));
}

/// A ring whose outer edges are broken by `c`.
fn chamfered(s: &mut Svg, f: &Frame, hatch: usize, c: f64) {
    let (foot, top) = (y(f, 0.0), y(f, 1.0));
    s.cut(
        hatch,
        &polygon(&[(f.x0, foot), (f.x0, top + c), (f.x0 + c, top), (f.x1 - c, top), (f.x1, top + c), (f.x1, foot)]),
    );
}

/// A thrust collar: chamfered disc.
pub(crate) fn collar(s: &mut Svg, f: &Frame, hatch: usize) {
    chamfered(s, f, hatch, (f.w() * 0.18).min(4.0));
}

/// A flinger: hub, and a disc whose rim turns back over.
pub(crate) fn flinger(s: &mut Svg, p: &Part, f: &Frame, hatch: usize) {
    let dir = towards(p);
    let (front, back) = if dir > 0.0 { (f.x1, f.x0) } else { (f.x0, f.x1) };
    let w = f.w() * dir;
    s.cut(
        hatch,
        &polygon(&[
            (back, y(f, 0.0)),
            (back, y(f, 0.45)),
            (front - w * 0.4, y(f, 0.45)),
            (front - w * 0.4, y(f, 1.0)),
            (front, y(f, 1.0)),
            (front, y(f, 0.82)),
            (front - w * 0.14, y(f, 0.82)),
            (front - w * 0.14, y(f, 0.0)),
        ]),
    );
}

/// A set screw: a stud with a hollow.
pub(crate) fn set_screw(s: &mut Svg, f: &Frame) {
    let x = f.mid() - f.w().clamp(3.0, 8.0) / 2.0;
    let w = f.w().clamp(3.0, 8.0);
    s.rect("seen", x, y(f, 1.0), w, f.r1 - f.r0);
    s.line("thin", x + w * 0.25, y(f, 1.0), x + w * 0.25, y(f, 0.6));
    s.line("thin", x + w * 0.75, y(f, 1.0), x + w * 0.75, y(f, 0.6));
}

/// A cover: flange outside, spigot inside towards the machine.
pub(crate) fn cover(s: &mut Svg, p: &Part, f: &Frame, hatch: usize) {
    // Covers look outwards to the end they come from.
    let dir = if p.from == End::A { 1.0 } else { -1.0 };
    let (out, inn) = if dir > 0.0 { (f.x0, f.x1) } else { (f.x1, f.x0) };
    let step = out + (inn - out) * 0.55;
    s.cut(
        hatch,
        &polygon(&[
            (out, y(f, 0.0)),
            (out, y(f, 1.0)),
            (step, y(f, 1.0)),
            (step, y(f, 0.72)),
            (inn, y(f, 0.72)),
            (inn, y(f, 0.0)),
        ]),
    );
    s.line("centre", out - dir * 5.0, y(f, 0.87), step + dir * 8.0, y(f, 0.87));
}

/// An insert with its O-ring groove.
pub(crate) fn insert(s: &mut Svg, p: &Part, f: &Frame, hatch: usize) {
    let dir = towards(p);
    let m = f.mid();
    let g = f.w() * 0.12;
    s.cut(
        hatch,
        &polygon(&[
            (f.x0, y(f, 0.0)),
            (f.x0, y(f, 1.0)),
            (m - g, y(f, 1.0)),
            (m - g, y(f, 0.86)),
            (m + g, y(f, 0.86)),
            (m + g, y(f, 1.0)),
            (f.x1, y(f, 1.0)),
            (f.x1, y(f, 0.0)),
        ]),
    );
    s.line("tab", m + dir * f.w() * 0.5, y(f, 0.1), m + dir * f.w() * 0.5, y(f, 0.6));
}

/// A bearing cap with its bolts.
pub(crate) fn cap(s: &mut Svg, f: &Frame, hatch: usize) {
    chamfered(s, f, hatch, (f.w() * 0.1).min(6.0));
    for share in [0.18, 0.82] {
        let x = f.x0 + f.w() * share;
        s.line("centre", x, y(f, 1.0) - 7.0, x, y(f, 0.1));
        s.rect("seen", x - 4.0, y(f, 1.0) - 5.0, 8.0, 5.0);
    }
}

/// An expander: a wedge with its slit.
pub(crate) fn expander(s: &mut Svg, f: &Frame, hatch: usize) {
    s.cut(hatch, &polygon(&[(f.x0, y(f, 0.0)), (f.x0, y(f, 0.7)), (f.x1, y(f, 1.0)), (f.x1, y(f, 0.0))]));
    s.line("slit", f.x0 + f.w() * 0.1, y(f, 0.35), f.x1, y(f, 0.5));
}

/// Tilting shoes on their pivots, the running face to where they face.
pub(crate) fn shoes(s: &mut Svg, p: &Part, f: &Frame, hatch: usize) {
    let dir = towards(p);
    let (face, back) = if dir > 0.0 { (f.x1, f.x0) } else { (f.x0, f.x1) };
    let w = f.w() * dir;
    s.cut(
        hatch,
        &polygon(&[
            (back + w * 0.3, y(f, 0.06)),
            (back + w * 0.3, y(f, 0.94)),
            (face - w * 0.12, y(f, 1.0)),
            (face, y(f, 0.92)),
            (face, y(f, 0.08)),
            (face - w * 0.12, y(f, 0.0)),
        ]),
    );
    s.line("white-metal", face, y(f, 0.1), face, y(f, 0.9));
    s.circle("seen", back + w * 0.15, y(f, 0.5), (f.w() * 0.15).clamp(1.6, 6.0));
}

/// The shoes from outside: a ring of pads.
pub(crate) fn shoes_below(s: &mut Svg, f: &Frame) {
    let h = f.r1 - f.r0;
    for k in 0..3 {
        s.rect("seen", f.x0, f.cy + f.r0 + h * (0.03 + f64::from(k) * 0.34), f.w(), h * 0.28);
    }
}

/// A base ring with its levelling plates.
pub(crate) fn base_ring(s: &mut Svg, p: &Part, f: &Frame, hatch: usize) {
    let dir = towards(p);
    let (front, back) = if dir > 0.0 { (f.x1, f.x0) } else { (f.x0, f.x1) };
    let w = f.w() * dir;
    s.cut(
        hatch,
        &polygon(&[
            (back, y(f, 0.0)),
            (back, y(f, 1.0)),
            (front, y(f, 1.0)),
            (front, y(f, 0.82)),
            (back + w * 0.45, y(f, 0.82)),
            (back + w * 0.45, y(f, 0.18)),
            (front, y(f, 0.18)),
            (front, y(f, 0.0)),
        ]),
    );
    s.rect("seen", (back + w * 0.5).min(front), y(f, 0.72), f.w() * 0.42, (f.r(0.72) - f.r(0.28)).max(1.0));
    s.circle("ball", back + w * 0.7, y(f, 0.5), (f.w() * 0.12).clamp(1.2, 4.0));
}

/// A probe: a rod with a thread, its tip near the shaft, its wire.
pub(crate) fn probe(s: &mut Svg, f: &Frame) {
    let w = f.w().clamp(4.0, 10.0);
    let x = f.mid() - w / 2.0;
    s.rect("seen", x, y(f, 1.0), w, f.r1 - f.r0 - 3.0);
    s.rect("solid", x + w * 0.15, f.cy - f.r0 - 6.0, w * 0.7, 4.0);
    let top = y(f, 1.0);
    s.path("wire", &format!("M{} {}c0 -10 14 -6 18 -14", n(f.mid()), n(top)));
}

/// A bush: close hatching, chamfered ends.
pub(crate) fn bush(s: &mut Svg, f: &Frame) {
    let c = (f.w() * 0.08).min(3.0);
    s.cut(
        2,
        &polygon(&[
            (f.x0 + c, y(f, 0.0)),
            (f.x0, y(f, 0.4)),
            (f.x0, y(f, 1.0)),
            (f.x1, y(f, 1.0)),
            (f.x1, y(f, 0.4)),
            (f.x1 - c, y(f, 0.0)),
        ]),
    );
}

/// A gasket: a broken solid line.
pub(crate) fn gasket(s: &mut Svg, f: &Frame) {
    s.line("gasket", f.mid(), y(f, 1.0), f.mid(), y(f, 0.0));
}

/// A plate with bolts.
pub(crate) fn plate(s: &mut Svg, f: &Frame, hatch: usize) {
    s.cut_rect(hatch, f.x0, y(f, 1.0), f.w(), f.r1 - f.r0);
    s.line("centre", f.x0 - 6.0, y(f, 0.8), f.x1 + 6.0, y(f, 0.8));
}
