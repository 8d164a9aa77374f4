//! A small writer of SVG text: shapes with a class, numbers to a tenth of a pixel.

use std::fmt::Write as _;

/// Escapes text for use between tags and in quoted attributes.
#[must_use]
pub fn escape(text: &str) -> String {
    text.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;").replace('"', "&quot;").replace('\'', "&#39;")
}

/// SVG being written.
#[derive(Debug)]
pub(crate) struct Svg {
    text: String,
    /// Prefix of ids: hatch patterns are named after the drawing, so that many can stand on one page.
    id: String,
}

/// A number as written in a path: one decimal, no negative zero.
pub(crate) fn n(v: f64) -> String {
    let r = (v * 10.0).round() / 10.0;
    if r == 0.0 { "0".into() } else { format!("{r}") }
}

impl Svg {
    pub fn open(w: f64, h: f64, role: &str, class: &str, title: &str, desc: &str, id: &str) -> Self {
        let mut s = String::with_capacity(8192);
        let _ = write!(
            s,
            r#"<svg class="{class}" viewBox="0 0 {} {}" role="{role}" aria-labelledby="{id}-t {id}-d" preserveAspectRatio="xMidYMid meet"><title id="{id}-t">{}</title><desc id="{id}-d">{}</desc>"#,
            n(w),
            n(h),
            escape(title),
            escape(desc)
        );
        Self { text: s, id: id.to_owned() }
    }
    pub fn close(mut self) -> String {
        self.text.push_str("</svg>");
        self.text
    }
    /// A hatched shape.
    pub fn cut(&mut self, hatch: usize, d: &str) {
        let _ = write!(self.text, r##"<path class="cut" fill="url(#{}-h{hatch})" d="{d}"/>"##, self.id);
    }
    /// A hatched rectangle.
    pub fn cut_rect(&mut self, hatch: usize, x: f64, y: f64, w: f64, h: f64) {
        self.cut(hatch, &polygon(&[(x, y), (x + w, y), (x + w, y + h), (x, y + h)]));
    }
    pub fn raw(&mut self, s: &str) {
        self.text.push_str(s);
    }
    pub fn path(&mut self, class: &str, d: &str) {
        let _ = write!(self.text, r#"<path class="{class}" d="{d}"/>"#);
    }
    pub fn rect(&mut self, class: &str, x: f64, y: f64, w: f64, h: f64) {
        let _ = write!(
            self.text,
            r#"<rect class="{class}" x="{}" y="{}" width="{}" height="{}"/>"#,
            n(x),
            n(y),
            n(w.max(0.0)),
            n(h.max(0.0))
        );
    }
    pub fn circle(&mut self, class: &str, x: f64, y: f64, r: f64) {
        let _ = write!(self.text, r#"<circle class="{class}" cx="{}" cy="{}" r="{}"/>"#, n(x), n(y), n(r));
    }
    pub fn line(&mut self, class: &str, x1: f64, y1: f64, x2: f64, y2: f64) {
        let _ =
            write!(self.text, r#"<line class="{class}" x1="{}" y1="{}" x2="{}" y2="{}"/>"#, n(x1), n(y1), n(x2), n(y2));
    }
    /// A text whose start, middle or end stands at a point.
    pub fn word(&mut self, class: &str, x: f64, y: f64, anchor: &str, text: &str) {
        let (x, y, text) = (n(x), n(y), escape(text));
        let _ = write!(self.text, r#"<text class="{class}" x="{x}" y="{y}" text-anchor="{anchor}">{text}</text>"#);
    }
    pub fn text(&mut self, class: &str, x: f64, y: f64, text: &str) {
        let _ = write!(self.text, r#"<text class="{class}" x="{}" y="{}">{}</text>"#, n(x), n(y), escape(text));
    }
}

/// Path text of a polygon.
pub(crate) fn polygon(points: &[(f64, f64)]) -> String {
    let mut d = String::new();
    for (i, (x, y)) in points.iter().enumerate() {
        let _ = write!(d, "{}{} {}", if i == 0 { "M" } else { "L" }, n(*x), n(*y));
    }
    d.push('Z');
    d
}
