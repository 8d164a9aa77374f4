//! The marks of a land where they lie: the land rolled out flat, the A side end to the left, once around from top to
//! bottom.

use crate::svg::Svg;

/// A mark: along and wide in mm, where around and how far around in degrees, whether it stands up, and what is written.
#[derive(Debug, Clone, PartialEq)]
#[allow(missing_docs)]
pub struct LandMark {
    pub along: f64,
    pub wide: f64,
    pub at_deg: f64,
    pub around_deg: f64,
    pub raised: bool,
    pub said: String,
}

/// A land with its marks.
#[must_use]
pub fn land_marks(width: f64, marks: &[LandMark], name: &str, id: &str) -> String {
    let said: Vec<String> = marks.iter().enumerate().map(|(k, m)| format!("mark {}: {}", k + 1, m.said)).collect();
    let mut s = Svg::open(460.0, 300.0, "img", "reckoned", name, &format!("{}.", said.join("; ")), id);
    let (left, top, w, h) = (48.0, 34.0, 380.0, 224.0);
    s.rect("face", left, top, w, h);
    for k in 0..=4 {
        let y = top + h * f64::from(k) / 4.0;
        s.line("axis", left - 6.0, y, left, y);
        s.word("note", left - 10.0, y + 5.0, "end", &format!("{}°", k * 90));
    }
    s.word("note", left, 20.0, "start", "A side end");
    for (k, m) in marks.iter().enumerate() {
        let (x, wide) = (left + m.along / width * w, (m.wide / width * w).max(3.0));
        let class = if m.raised { "gouge up" } else { "gouge sunk" };
        // Where it goes over the line at which the land was cut open, it goes on at the other edge.
        let from = if m.around_deg >= 360.0 { 0.0 } else { (m.at_deg - m.around_deg / 2.0).rem_euclid(360.0) };
        let to = from + m.around_deg.min(360.0);
        for (a, b) in [(from, to.min(360.0)), (0.0, to - 360.0)] {
            if b > a {
                s.rect(class, x, top + a / 360.0 * h, wide, ((b - a) / 360.0 * h).max(3.0));
            }
        }
        let middle = top + f64::midpoint(from, to.min(360.0)) / 360.0 * h;
        let right = x + wide / 2.0 < left + w * 0.9;
        let (at, anchor) = if right { (x + wide + 4.0, "start") } else { (x - 4.0, "end") };
        // The number of a track stands at its top, where another may lie beside its middle.
        let y = if m.around_deg >= 360.0 { top + 18.0 } else { (middle + 6.0).clamp(top + 16.0, top + h - 4.0) };
        s.word("figure", at, y, anchor, &(k + 1).to_string());
    }
    s.word("limit", 440.0, 286.0, "end", "rolled out flat, once around from top to bottom");
    s.close()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn mark(at_deg: f64, around_deg: f64) -> LandMark {
        LandMark { along: 5.0, wide: 1.0, at_deg, around_deg, raised: false, said: "-35 µm".into() }
    }

    #[test]
    fn a_mark_over_the_cut_goes_on_at_the_other_edge() {
        let rects = |m: LandMark| land_marks(20.0, &[m], "Marks", "m").matches(r#"class="gouge sunk""#).count();
        assert_eq!((rects(mark(90.0, 40.0)), rects(mark(350.0, 40.0)), rects(mark(0.0, 360.0))), (1, 2, 1));
    }
}
