//! Numbers of parts above a drawing: in rows, moved apart so that none covers another, each with a leader to its part.

use crate::svg::{Svg, n};

/// A part to be numbered, with the place its leader ends at.
pub(crate) struct Numbered<'a> {
    pub number: usize,
    pub name: &'a str,
    pub id: &'a str,
    pub x: f64,
    pub y: f64,
    pub state: String,
}

/// Most numbers in a row of this width.
fn per_row(width: f64) -> usize {
    ((width - 20.0) / 27.0).max(1.0) as usize
}

/// Rows that so many numbers need.
pub(crate) fn rows(count: usize, width: f64) -> usize {
    count.div_ceil(per_row(width)).clamp(usize::from(count > 0), 6)
}

/// Height of a row.
pub(crate) const ROW: f64 = 24.0;

/// Moves places apart so that neighbours keep a distance, each as near to where it wants to be as that allows and
/// within the edges: blocks of places that push each other take the mean of what their members want.
pub(crate) fn spread(wanted: &[f64], apart: f64, lo: f64, hi: f64) -> Vec<f64> {
    // With the distances taken out, places only have to be in order: pool neighbours that are not.
    let mut blocks: Vec<(f64, usize)> = Vec::new();
    for (k, w) in wanted.iter().enumerate() {
        blocks.push((w - k as f64 * apart, 1));
        while let [.., (a, n), (b, m)] = blocks[..] {
            if a <= b {
                break;
            }
            blocks.truncate(blocks.len() - 2);
            blocks.push(((a * n as f64 + b * m as f64) / (n + m) as f64, n + m));
        }
    }
    let last = (hi - wanted.len().saturating_sub(1) as f64 * apart).max(lo);
    let flat = blocks.into_iter().flat_map(|(v, n)| std::iter::repeat_n(v.clamp(lo, last), n));
    flat.enumerate().map(|(k, v)| v + k as f64 * apart).collect()
}

/// Draws them; `list` runs from end A to end B.
pub(crate) fn draw(s: &mut Svg, list: &[Numbered<'_>], width: f64) {
    let rows = rows(list.len(), width);
    if rows == 0 {
        return;
    }
    let apart = (27.0 / rows as f64).min((width - 28.0) / list.len().max(2) as f64);
    let wanted: Vec<f64> = list.iter().map(|p| p.x).collect();
    let at = spread(&wanted, apart, 14.0, width - 14.0);
    let row_y = |k: usize| 15.0 + (k % rows) as f64 * ROW;
    let knee = 15.0 + rows as f64 * ROW - 9.0;
    // Leaders first: numbers lie over them.
    for (k, (p, x)) in list.iter().zip(&at).enumerate() {
        s.raw(&format!(r#"<g data-leader="{}">"#, crate::svg::escape(p.id)));
        s.path(
            &format!("num-line {}", p.state),
            &format!("M{} {}V{}L{} {}", n(*x), n(row_y(k) + 9.0), n(knee), n(p.x), n(p.y)),
        );
        s.circle(&format!("num-dot {}", p.state), p.x, p.y, 1.7);
        s.raw("</g>");
    }
    for (k, (p, x)) in list.iter().zip(&at).enumerate() {
        s.raw(&format!(
            r#"<g class="num-of {}" data-part="{}"><title>{} {}</title>"#,
            p.state,
            crate::svg::escape(p.id),
            p.number,
            crate::svg::escape(p.name)
        ));
        s.circle("num-ring", *x, row_y(k), 10.0);
        s.raw(&format!(
            r#"<text class="num-word{}" x="{}" y="{}" text-anchor="middle">{}</text></g>"#,
            if p.number > 99 { " long" } else { "" },
            n(*x),
            n(row_y(k) + 4.4),
            p.number
        ));
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// Apart, in order, within the edges, and where there is room nobody moves.
        #[test]
        fn numbers_are_apart_in_order_and_near(mut wanted in prop::collection::vec(0.0..1200.0f64, 1..40)) {
            wanted.sort_by(f64::total_cmp);
            let at = spread(&wanted, 27.0, 14.0, 1186.0);
            prop_assert!(at.windows(2).all(|w| w[1] - w[0] >= 27.0 - 1e-6));
            prop_assert!(at.iter().all(|x| (14.0 - 1e-6..=1186.0 + 1e-6).contains(x)));
            let roomy = wanted.windows(2).all(|w| w[1] - w[0] >= 27.0) && wanted.iter().all(|x| (14.0..=1186.0).contains(x));
            if roomy {
                prop_assert!(at.iter().zip(&wanted).all(|(a, w)| (a - w).abs() < 1e-6));
            }
        }

        #[test]
        fn there_are_rows_for_all(count in 0usize..260) {
            let r = rows(count, 1200.0);
            prop_assert!(r == 0 && count == 0 || r * per_row(1200.0) >= count.min(6 * per_row(1200.0)));
        }
    }
}
