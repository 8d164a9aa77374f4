//! What a mark on a bearing looks like: a stretch of a ring's groove, laid flat, with the balls' pitch drawn below.

use crate::svg::{Svg, n};

/// A sample of a mark by its name in records; none for one that is not drawn.
#[must_use]
pub fn mark_sample(key: &str) -> Option<String> {
    let mut s = Svg::open(132.0, 46.0, "img", "mark-sample", "How it looks", key, &format!("m-{key}"));
    s.rect("ring", 1.0, 1.0, 130.0, 44.0);
    let band = |s: &mut Svg, y: f64, h: f64| s.rect("path", 1.0, y, 130.0, h);
    let balls =
        |s: &mut Svg, class: &str, r: f64| (0..4).for_each(|k| s.circle(class, 18.0 + 32.0 * f64::from(k), 23.0, r));
    match key {
        "even" => band(&mut s, 17.0, 12.0),
        "one_side" => band(&mut s, 30.0, 11.0),
        "wanders" => s.path("wave", "M1 14C34 14 34 32 66 32S98 14 131 14"),
        "all_round" => {
            band(&mut s, 12.0, 22.0);
            s.line("edge", 1.0, 12.0, 131.0, 12.0);
            s.line("edge", 1.0, 34.0, 131.0, 34.0);
        }
        "two_zones" => {
            s.rect("dent", 14.0, 14.0, 30.0, 18.0);
            s.rect("dent", 88.0, 14.0, 30.0, 18.0);
        }
        "dents_pitch" => balls(&mut s, "dent", 5.0),
        "shiny_pitch" => balls(&mut s, "shine", 8.0),
        "flutes" => (0..16).for_each(|k| {
            let x = 5.0 + 8.0 * f64::from(k);
            s.line("flute", x, 10.0, x, 36.0);
        }),
        "flaked" => s.path("flake", "M38 20L50 12L66 16L74 26L64 36L46 33L34 28Z"),
        "smeared" => (0..3).for_each(|k| {
            let y = 16.0 + 7.0 * f64::from(k);
            s.line("smear", 22.0, y, 108.0, y);
        }),
        "blue" => s.rect("heat", 1.0, 1.0, 130.0, 44.0),
        "fretted" => {
            s.path("rust", "M12 8L40 14L58 6L76 16L110 10L120 30L96 38L66 30L40 40L18 32Z");
        }
        "cracked" => s.path("crack", "M62 1L70 12L60 22L72 33L64 45"),
        "cage" => {
            (0..4).for_each(|k| {
                s.raw(&format!(r#"<circle class="cage-hole" cx="{}" cy="23" r="11"/>"#, n(18.0 + 32.0 * f64::from(k))))
            });
            s.path("crack", "M34 12L29 23L38 34");
        }
        "rust_pitch" => balls(&mut s, "rust", 7.0),
        "grooved" => {
            s.line("flute", 1.0, 18.0, 131.0, 18.0);
            s.line("flute", 1.0, 24.0, 131.0, 24.0);
            (0..7).for_each(|k| s.circle("dent", 12.0 + 18.0 * f64::from(k), 31.0 - 5.0 * f64::from(k % 3), 1.8));
        }
        _ => return None,
    }
    Some(s.close())
}

#[cfg(test)]
mod tests {
    use super::*;
    use ironseat_core::inspect::MARKS;

    #[test]
    fn every_mark_has_a_sample_of_its_own() {
        let all: Vec<String> =
            MARKS.iter().map(|m| mark_sample(m.key).unwrap_or_else(|| panic!("{}", m.key))).collect();
        for (k, a) in all.iter().enumerate() {
            let drawn = |t: &str| t.split("</desc>").nth(1).unwrap_or_default().to_owned();
            assert!(all[k + 1..].iter().all(|b| drawn(a) != drawn(b)), "{}", MARKS[k].key);
        }
        assert!(mark_sample("weather").is_none());
    }
}
