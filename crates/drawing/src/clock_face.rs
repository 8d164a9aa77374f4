//! Angles on a clock: a part seen from end A, its mark at the angle that was found, the top mark at 0, clockwise.

use crate::svg::{Svg, escape, n};

/// What to draw.
#[derive(Debug)]
pub struct ClockFace<'a> {
    /// What is clocked.
    pub name: &'a str,
    /// Its angle; none before it is said.
    pub at_deg: Option<f64>,
    /// Others that are known, as name and angle: drawn thin.
    pub others: &'a [(String, f64)],
    /// Where touching a direction leads, with `{}` for the angle; none draws no targets.
    pub href: Option<&'a str>,
    /// Prefix of ids.
    pub id: &'a str,
}

fn at(r: f64, deg: f64) -> (f64, f64) {
    let (s, c) = deg.to_radians().sin_cos();
    (r * s, -r * c)
}

/// Draws the face; every 15 degrees is a target.
#[must_use]
pub fn clock_face(v: &ClockFace<'_>) -> String {
    let said = v.at_deg.map_or("not said yet".to_owned(), |d| format!("at {} degrees", n(d)));
    let mut s = Svg::open(
        290.0,
        290.0,
        if v.href.is_some() { "group" } else { "img" },
        "face",
        &format!("{} on the clock", v.name),
        &format!("Seen from end A, clockwise from the top: {said}."),
        v.id,
    );
    s.raw(r#"<g transform="translate(145 130)">"#);
    s.circle("face-rim", 0.0, 0.0, 92.0);
    s.circle("face-bore", 0.0, 0.0, 30.0);
    for k in 0..24 {
        let deg = f64::from(k) * 15.0;
        let ((x0, y0), (x1, y1)) = (
            at(
                if k % 6 == 0 {
                    76.0
                } else if k % 3 == 0 {
                    82.0
                } else {
                    87.0
                },
                deg,
            ),
            at(92.0, deg),
        );
        s.line("face-tick", x0, y0, x1, y1);
        if k % 6 == 0 {
            let (x, y) = at(if k == 6 || k == 18 { 116.0 } else { 110.0 }, deg);
            s.raw(&format!(
                r#"<text class="face-word" x="{}" y="{}" text-anchor="middle">{}</text>"#,
                n(x),
                n(y + 5.0),
                n(deg)
            ));
        }
    }
    // The datum: a notch at the top.
    s.path("face-notch", "M-5 -98L5 -98L0 -88Z");
    for (name, deg) in v.others {
        let ((x0, y0), (x1, y1)) = (at(34.0, *deg), at(70.0, *deg));
        s.raw(&format!(r#"<g><title>{} at {} degrees</title>"#, escape(name), n(*deg)));
        s.line("face-other", x0, y0, x1, y1);
        s.raw("</g>");
    }
    if let Some(deg) = v.at_deg {
        let ((x0, y0), (x1, y1)) = (at(30.0, deg), at(92.0, deg));
        s.line("face-hand", x0, y0, x1, y1);
        let (x, y) = at(92.0, deg);
        s.circle("face-dot", x, y, 6.0);
    }
    if let Some(href) = v.href {
        for k in 0..24 {
            let deg = f64::from(k) * 15.0;
            let (a, b) = (deg - 7.5, deg + 7.5);
            let ((x0, y0), (x1, y1), (x2, y2), (x3, y3)) = (at(44.0, a), at(128.0, a), at(128.0, b), at(44.0, b));
            s.raw(&format!(
                r#"<a href="{}" data-live aria-label="{} degrees"><path class="face-target" d="M{} {}L{} {}L{} {}L{} {}Z"/></a>"#,
                escape(&href.replace("{}", &n(deg))),
                n(deg),
                n(x0),
                n(y0),
                n(x1),
                n(y1),
                n(x2),
                n(y2),
                n(x3),
                n(y3)
            ));
        }
    }
    s.raw("</g>");
    s.close()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_mark_stands_where_it_is_said_clockwise_from_the_top() {
        let draw = |deg: f64| {
            clock_face(&ClockFace { name: "Housing <1>", at_deg: Some(deg), others: &[], href: None, id: "f" })
        };
        assert!(draw(0.0).contains(r#"cx="0" cy="-92""#) && draw(90.0).contains(r#"cx="92" cy="0""#));
        assert!(
            draw(270.0).contains(r#"cx="-92" cy="0""#)
                && draw(45.0).contains("at 45 degrees")
                && draw(45.0).contains("&lt;1&gt;")
        );
    }

    #[test]
    fn every_direction_can_be_touched_and_the_others_are_named() {
        let others = [("Turbine housing".to_owned(), 120.0)];
        let svg = clock_face(&ClockFace {
            name: "x",
            at_deg: None,
            others: &others,
            href: Some("?step=a&found={}"),
            id: "f",
        });
        assert_eq!(svg.matches("face-target").count(), 24);
        assert!(
            svg.contains("found=345")
                && svg.contains("Turbine housing at 120 degrees")
                && svg.contains("not said yet")
                && !svg.contains("face-hand")
        );
    }
}
