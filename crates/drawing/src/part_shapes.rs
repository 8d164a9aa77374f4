//! The drawn shape of each kind of part. Above the axis cut, below it as seen from outside.

use crate::frame::{Frame, towards};
use crate::more_shapes;
use crate::svg::{Svg, escape, n, polygon};
use ironseat_core::anatomy::{Part, Shape, facing};
use ironseat_core::fit::designation::{Bearing, BearingType};
use ironseat_core::terms::End;

/// Draws one part. `state` is a class of its own: `on`, `off`, `hand`, `scrap`.
pub(crate) fn part(
    s: &mut Svg,
    p: &Part,
    f: &Frame,
    hatch: usize,
    bearing: Option<&Bearing>,
    state: &str,
    hidden_below: bool,
) {
    s.raw(&format!(r#"<g class="part {state}" data-part="{}"><title>{}</title>"#, escape(&p.id), escape(&p.name)));
    // Thin shapes can be touched, too: a clear field over the whole section of the part.
    let (grow, rise) = (((10.0 - f.w()) / 2.0).clamp(0.0, 4.0), ((12.0 - (f.r1 - f.r0)) / 2.0).clamp(0.0, 4.0));
    s.rect("hit", f.x0 - grow, f.cy - f.r1 - rise, f.w() + 2.0 * grow, f.r1 - f.r0 + 2.0 * rise);
    let ring = |s: &mut Svg| s.cut_rect(hatch, f.x0, f.cy - f.r1, f.w(), f.r1 - f.r0);
    match p.kind.row().shape {
        Shape::Rings => rings(s, p, f, hatch, bearing),
        Shape::Cone => taper_cone(s, p, f, hatch),
        Shape::Cup => cup(s, p, f, hatch),
        Shape::Lip => seal(s, p, f),
        Shape::Impeller => impeller(s, p, f, hatch),
        Shape::Wheel => more_shapes::wheel(s, p, f, hatch),
        Shape::Pulley => pulley(s, f, hatch),
        Shape::Gear => more_shapes::gear(s, f, hatch),
        Shape::Nut => nut(s, p, f, hatch),
        Shape::TabWasher => tab_washer(s, p, f),
        Shape::Clip => circlip(s, p, f),
        Shape::Washer => more_shapes::thrust_washer(s, p, f, hatch),
        Shape::Leaf => more_shapes::shim(s, f),
        Shape::Cord => more_shapes::o_ring(s, f),
        Shape::SplitRing => more_shapes::split_ring(s, f),
        Shape::Collar => more_shapes::collar(s, f, hatch),
        Shape::Key => s.rect("key", f.x0, f.cy - f.r1, f.w(), f.r1 - f.r0),
        Shape::Flinger => more_shapes::flinger(s, p, f, hatch),
        Shape::Screw => more_shapes::set_screw(s, f),
        Shape::Cover => more_shapes::cover(s, p, f, hatch),
        Shape::Insert => more_shapes::insert(s, p, f, hatch),
        Shape::Cap => more_shapes::cap(s, f, hatch),
        Shape::Expander => more_shapes::expander(s, f, hatch),
        Shape::Shoes => more_shapes::shoes(s, p, f, hatch),
        Shape::BaseRing => more_shapes::base_ring(s, p, f, hatch),
        Shape::Probe => more_shapes::probe(s, f),
        Shape::Bush => more_shapes::bush(s, f),
        Shape::Gasket => more_shapes::gasket(s, f),
        Shape::Plate => more_shapes::plate(s, f, hatch),
        Shape::Plain => ring(s),
    }
    if !hidden_below {
        below(s, p, f);
    }
    if state.contains("scrap") {
        let r = f.r1.max(f.r0 + 8.0);
        s.path(
            "cross",
            &format!(
                "M{} {}L{} {}M{} {}L{} {}",
                n(f.x0 - 3.0),
                n(f.cy - r),
                n(f.x1 + 3.0),
                n(f.cy - f.r0),
                n(f.x0 - 3.0),
                n(f.cy - f.r0),
                n(f.x1 + 3.0),
                n(f.cy - r)
            ),
        );
    }
    s.raw("</g>");
}

/// A taper cone: thick end towards where it faces, roller leaning with it.
fn taper_cone(s: &mut Svg, p: &Part, f: &Frame, hatch: usize) {
    let dir = towards(p);
    let (thick, thin) = if dir > 0.0 { (f.x1, f.x0) } else { (f.x0, f.x1) };
    let y = |share: f64| f.cy - f.r(share);
    s.cut(
        hatch,
        &polygon(&[
            (thin, y(0.0)),
            (thin, y(0.3)),
            (thin + dir * f.w() * 0.12, y(0.24)),
            (thick - dir * f.w() * 0.16, y(0.42)),
            (thick - dir * f.w() * 0.16, y(0.56)),
            (thick, y(0.56)),
            (thick, y(0.0)),
        ]),
    );
    roller(s, p, f, dir);
}

/// A taper roller, its thick end at the cone's large rib; its contact line stands across it and rises to the cup's
/// back.
fn roller(s: &mut Svg, p: &Part, f: &Frame, dir: f64) {
    let y = |share: f64| f.cy - f.r(share);
    let (a, b) = (f.mid() - dir * f.w() * 0.34, f.mid() + dir * f.w() * 0.3);
    s.path("ball", &polygon(&[(a, y(0.28)), (b, y(0.44)), (b, y(0.86)), (a, y(0.62))]));
    if let Some(end) = facing::lean(p) {
        let (up, lean) = (f.r1 - f.r0, sign(end));
        s.line("contact", f.mid() + lean * up * 0.32, y(1.12), f.mid() - lean * up * 0.42, y(-0.22));
    }
}

/// -1 for end A, 1 for end B.
fn sign(end: End) -> f64 {
    if end == End::A { -1.0 } else { 1.0 }
}

/// A cup: thick where it faces, thin where the cone goes in.
fn cup(s: &mut Svg, p: &Part, f: &Frame, hatch: usize) {
    let dir = towards(p);
    let (thin, thick) = if dir > 0.0 { (f.x0, f.x1) } else { (f.x1, f.x0) };
    let y = |share: f64| f.cy - f.r(share);
    s.cut(hatch, &polygon(&[(thick, y(1.0)), (thin, y(1.0)), (thin, y(0.62)), (thick, y(0.1))]));
}

fn rings(s: &mut Svg, p: &Part, f: &Frame, hatch: usize, bearing: Option<&Bearing>) {
    let inside = bearing.and_then(|b| b.inside);
    let at = |v: Option<f64>, share: f64| v.map_or_else(|| f.r(share), |mm| mm / 2.0 * f.scale);
    let d1 = at(inside.map(|i| i.inner_shoulder.get()), 0.32);
    let d2 = at(inside.map(|i| i.outer_shoulder.get()), 0.68);
    let pitch = at(inside.map(|i| i.pitch.get()), 0.5);
    let ball = inside.map_or((f.r1 - f.r0) * 0.25, |i| i.ball.get() / 2.0 * f.scale).min(f.w() * 0.48);
    let (a, b) = (hatch, (hatch + 1) % 3);
    s.cut_rect(a, f.x0, f.cy - d1, f.w(), d1 - f.r0);
    let angular = bearing.is_some_and(|b| b.angle_deg.is_some());
    match p.faces.filter(|_| angular) {
        // The outer ring has one high shoulder, on its thick side; the other is taken down.
        Some(end) => {
            let (thick, thin) = if end == End::A { (f.x0, f.x1) } else { (f.x1, f.x0) };
            let low = f.cy - d2 - (f.r1 - d2) * 0.45;
            s.cut(
                b,
                &polygon(&[
                    (thick, f.cy - f.r1),
                    (thin, f.cy - f.r1),
                    (thin, low),
                    (f.mid(), f.cy - d2),
                    (thick, f.cy - d2),
                ]),
            );
        }
        None => s.cut_rect(b, f.x0, f.cy - f.r1, f.w(), f.r1 - d2),
    }
    // A ring that is the same both ways still has a side it is marked on.
    if let Some(end) = p.faces.filter(|_| !angular) {
        let x = if end == End::A { f.x0 + 1.2 } else { f.x1 - 1.2 };
        s.line("marked", x, f.cy - f.r1 + 1.0, x, f.cy - d2 - 1.0);
    }
    match bearing.map(|b| b.kind) {
        Some(BearingType::CylindricalRoller | BearingType::TaperRoller | BearingType::SphericalRoller) => {
            s.rect("ball", f.mid() - ball, f.cy - pitch - ball, 2.0 * ball, 2.0 * ball)
        }
        _ => s.circle("ball", f.mid(), f.cy - pitch, ball),
    }
    if let Some((angle, end)) = bearing.and_then(|b| b.angle_deg).zip(facing::lean(p)) {
        // The contact line rises to the side that takes the thrust.
        let lean = angle.to_radians().tan() * sign(end);
        let (up, down) = (f.r1 - pitch + 8.0, pitch - f.r0 + 16.0);
        s.line("contact", f.mid() + lean * up, f.cy - pitch - up, f.mid() - lean * down, f.cy - pitch + down);
    }
    if bearing.is_some_and(|b| b.seals.greased()) {
        let inset = f.w() * 0.12;
        for x in [f.x0 + inset, f.x1 - inset] {
            s.line("lip", x, f.cy - d2, x, f.cy - d1);
        }
    }
}

/// A punched ring: sharp edges on the side it faces, rolled ones on the other.
fn circlip(s: &mut Svg, p: &Part, f: &Frame) {
    let (top, foot) = (f.cy - f.r1, f.cy - f.r(-0.4));
    let round = (f.w() * 0.5).min((foot - top) * 0.3);
    let (sharp, rolled, into) = if p.faces == Some(End::B) { (f.x1, f.x0, 1.0) } else { (f.x0, f.x1, -1.0) };
    let inner = rolled + into * round;
    s.path(
        "solid",
        &polygon(&[
            (sharp, top),
            (inner, top),
            (rolled, top + round),
            (rolled, foot - round),
            (inner, foot),
            (sharp, foot),
        ]),
    );
}

fn seal(s: &mut Svg, p: &Part, f: &Frame) {
    // Case: an L that is open to the side the lip faces; lip and spring reach down to the shaft.
    let towards = if p.faces == Some(End::A) { -1.0 } else { 1.0 };
    let back = if towards < 0.0 { f.x1 } else { f.x0 };
    let front = if towards < 0.0 { f.x0 } else { f.x1 };
    let (top, neck) = (f.cy - f.r1 + 1.5, f.cy - f.r(0.42));
    s.path(
        "case",
        &format!(
            "M{} {}L{} {}L{} {}",
            n(front),
            n(top),
            n(back + towards * 1.5),
            n(top),
            n(back + towards * 1.5),
            n(neck)
        ),
    );
    let lip = f.cy - f.r0;
    let x = back + towards * f.w() * 0.62;
    s.path(
        "lip",
        &format!(
            "M{} {}L{} {}L{} {}L{} {}",
            n(back + towards * 1.5),
            n(neck),
            n(x),
            n(neck + 2.0),
            n(x),
            n(lip),
            n(x - towards * f.w() * 0.3),
            n(f.cy - f.r(0.26))
        ),
    );
    s.circle("spring", x + towards * 1.0, f.cy - f.r(0.34), (f.w() * 0.11).max(1.6));
}

fn impeller(s: &mut Svg, p: &Part, f: &Frame, hatch: usize) {
    // Hub with a back plate that sweeps out to the rim, and the vane's edge in front of it.
    let dir = if p.faces == Some(End::B) { -1.0 } else { 1.0 };
    let (eye, back) = if dir > 0.0 { (f.x0, f.x1) } else { (f.x1, f.x0) };
    let w = f.w() * dir;
    let y = |share: f64| f.cy - f.r(share);
    s.cut(
        hatch,
        &format!(
            "M{e} {r0}L{e} {hub}C{c1} {hub} {c2} {h2} {k} {rim}L{b} {rim}C{b2} {m} {b} {h3} {b} {r0}Z",
            e = n(eye),
            r0 = n(y(0.0)),
            hub = n(y(0.2)),
            c1 = n(eye + w * 0.45),
            c2 = n(eye + w * 0.66),
            h2 = n(y(0.45)),
            k = n(back - w * 0.16),
            rim = n(y(1.0)),
            b = n(back),
            b2 = n(back - w * 0.02),
            m = n(y(0.6)),
            h3 = n(y(0.35))
        ),
    );
    s.path(
        "thin",
        &format!(
            "M{} {}C{} {} {} {} {} {}",
            n(eye + w * 0.08),
            n(y(0.62)),
            n(eye + w * 0.3),
            n(y(0.66)),
            n(eye + w * 0.55),
            n(y(0.8)),
            n(eye + w * 0.6),
            n(y(1.0))
        ),
    );
    s.line("thin", eye + w * 0.08, y(0.62), eye + w * 0.08, y(0.22));
    s.line("thin", eye + w * 0.6, y(1.0), back - w * 0.16, y(1.0));
}

fn pulley(s: &mut Svg, f: &Frame, hatch: usize) {
    let y = |share: f64| f.cy - f.r(share);
    let (m, w) = (f.mid(), f.w());
    let web = w * 0.12;
    s.cut(
        hatch,
        &polygon(&[
            (f.x0, y(0.0)),
            (f.x0, y(0.22)),
            (m - web, y(0.26)),
            (m - web, y(0.7)),
            (m - w * 0.42, y(0.74)),
            (m - w * 0.42, y(1.0)),
            (m - w * 0.26, y(1.0)),
            (m - w * 0.08, y(0.8)),
            (m + w * 0.08, y(0.8)),
            (m + w * 0.26, y(1.0)),
            (m + w * 0.42, y(1.0)),
            (m + w * 0.42, y(0.74)),
            (m + web, y(0.7)),
            (m + web, y(0.26)),
            (f.x1, y(0.22)),
            (f.x1, y(0.0)),
        ]),
    );
}

fn nut(s: &mut Svg, p: &Part, f: &Frame, hatch: usize) {
    let c = (f.w() * 0.2).min(3.0);
    let (t, b) = (f.cy - f.r1, f.cy - f.r0);
    // The chamfer and the slots look to the end it comes from.
    if p.from == End::A {
        s.cut(hatch, &polygon(&[(f.x1, b), (f.x1, t), (f.x0 + c, t), (f.x0, t + c), (f.x0, b)]));
        s.rect("slot", f.x0, t, f.w() * 0.65, (f.r1 - f.r0) * 0.3);
    } else {
        s.cut(hatch, &polygon(&[(f.x0, b), (f.x0, t), (f.x1 - c, t), (f.x1, t + c), (f.x1, b)]));
        s.rect("slot", f.x0 + f.w() * 0.35, t, f.w() * 0.65, (f.r1 - f.r0) * 0.3);
    }
}

fn tab_washer(s: &mut Svg, p: &Part, f: &Frame) {
    s.rect("solid", f.x0, f.cy - f.r1, f.w().max(2.0), f.r1 - f.r0);
    let out = if p.faces == Some(End::A) { -1.0 } else { 1.0 };
    s.line("tab", f.mid(), f.cy - f.r1, f.mid() + out * 7.0, f.cy - f.r1 - 1.0);
}

fn below(s: &mut Svg, p: &Part, f: &Frame) {
    let h = f.r1 - f.r0;
    match p.kind.row().shape {
        Shape::Impeller => {
            let dir = if p.faces == Some(End::B) { -1.0 } else { 1.0 };
            let (eye, back) = if dir > 0.0 { (f.x0, f.x1) } else { (f.x1, f.x0) };
            let w = f.w() * dir;
            s.path(
                "seen",
                &format!(
                    "M{e} {a}L{e1} {b}C{c} {b} {d} {k} {g} {z}L{b0} {z}L{b0} {a}Z",
                    e = n(eye),
                    a = n(f.cy + f.r0),
                    e1 = n(eye + w * 0.08),
                    b = n(f.cy + f.r(0.62)),
                    c = n(eye + w * 0.3),
                    d = n(eye + w * 0.55),
                    k = n(f.cy + f.r(0.8)),
                    g = n(eye + w * 0.6),
                    z = n(f.cy + f.r1),
                    b0 = n(back)
                ),
            );
        }
        Shape::Pulley => {
            let (m, w) = (f.mid(), f.w());
            s.rect("seen", f.x0, f.cy + f.r0, w, f.r(0.22) - f.r0);
            s.rect("seen", m - w * 0.42, f.cy + f.r(0.22), w * 0.84, f.r1 - f.r(0.22));
            s.line("thin", m - w * 0.26, f.cy + f.r(0.22), m - w * 0.26, f.cy + f.r1);
            s.line("thin", m + w * 0.26, f.cy + f.r(0.22), m + w * 0.26, f.cy + f.r1);
        }
        Shape::Lip => s.rect("seen", f.x0, f.cy + f.r(0.42), f.w(), f.r1 - f.r(0.42)),
        Shape::Nut => {
            s.rect("seen", f.x0, f.cy + f.r0, f.w(), h);
            s.rect("slot", f.x0 + f.w() * 0.35, f.cy + f.r0 + h * 0.35, f.w() * 0.65, h * 0.3);
        }
        Shape::Probe | Shape::Screw | Shape::Key | Shape::Cord => {}
        Shape::SplitRing => more_shapes::split_ring_below(s, f),
        Shape::Wheel => more_shapes::wheel_below(s, p, f),
        Shape::Gear => more_shapes::gear_below(s, f),
        Shape::Shoes => more_shapes::shoes_below(s, f),
        Shape::Rings | Shape::Cone => {
            s.rect("seen", f.x0, f.cy + f.r0, f.w(), f.r(0.3) - f.r0);
            s.rect("seen", f.x0, f.cy + f.r(0.7), f.w(), f.r1 - f.r(0.7));
        }
        Shape::Cup
        | Shape::Washer
        | Shape::Plain
        | Shape::Leaf
        | Shape::Collar
        | Shape::Flinger
        | Shape::TabWasher
        | Shape::Clip
        | Shape::Cover
        | Shape::Insert
        | Shape::Cap
        | Shape::Expander
        | Shape::BaseRing
        | Shape::Bush
        | Shape::Gasket
        | Shape::Plate => s.rect("seen", f.x0, f.cy + f.r0, f.w().max(2.0), h),
    }
}
