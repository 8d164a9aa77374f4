//! What a mark looks like: of a bearing a stretch of a ring's groove, laid flat; of other parts a stretch of what is
//! looked at.

use crate::svg::{Svg, n};
use ironseat_core::inspect::{On, mark};

/// A sample of a mark by its name in records; none for one that is not drawn.
#[must_use]
pub fn mark_sample(key: &str) -> Option<String> {
    let mut s = Svg::open(132.0, 46.0, "img", "mark-sample", "How it looks", key, &format!("m-{key}"));
    if let Some(on) = mark(key).map(|m| m.on) {
        ground(&mut s, on);
    }
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
        _ => return elsewhere(s, key),
    }
    Some(s.close())
}

/// What the mark lies on: a groove, a land beside its shoulder, a thread, a bore, a face of white metal, vanes, a lip.
fn ground(s: &mut Svg, on: On) {
    match on {
        On::Bearing | On::Slides => s.rect("ring", 1.0, 1.0, 130.0, 44.0),
        On::Land => {
            s.rect("ring", 1.0, 9.0, 104.0, 28.0);
            s.rect("ring", 105.0, 1.0, 26.0, 44.0);
        }
        On::Thread => {
            let tooth = |k: i32| format!("L{} 8L{} 38", n(6.0 + 12.0 * f64::from(k)), n(12.0 + 12.0 * f64::from(k)));
            s.path("ring", &format!("M1 45V38{}L131 45Z", (0..10).map(tooth).collect::<String>()));
        }
        On::Keyway => {
            s.rect("ring", 1.0, 1.0, 130.0, 44.0);
            s.path("slot", "M30 1V30H102V1Z");
        }
        On::Housing => {
            s.path("ring", "M1 1H131V45H101A35 30 0 0 0 31 45H1Z");
        }
        On::Wheel => {
            s.rect("ring", 1.0, 37.0, 130.0, 8.0);
            for k in 0..3 {
                let x = 16.0 + 38.0 * f64::from(k);
                s.path(
                    "ring",
                    &format!(
                        "M{} 37C{} 24 {} 12 {} 3L{} 3C{} 14 {} 26 {} 37Z",
                        n(x),
                        n(x + 2.0),
                        n(x + 10.0),
                        n(x + 26.0),
                        n(x + 32.0),
                        n(x + 18.0),
                        n(x + 10.0),
                        n(x + 8.0)
                    ),
                );
            }
        }
        On::Lip => {
            s.path("ring", "M1 1H70V18L112 32L104 40L58 30H1Z");
            s.line("edge", 84.0, 43.0, 131.0, 43.0);
        }
    }
}

/// Marks on other parts than bearings.
#[expect(clippy::too_many_lines, reason = "a sample a mark")]
fn elsewhere(mut s: Svg, key: &str) -> Option<String> {
    let lines = |s: &mut Svg, class: &str, list: &[(f64, f64, f64, f64)]| {
        list.iter().for_each(|l| s.line(class, l.0, l.1, l.2, l.3));
    };
    match key {
        "land_creep" => {
            s.rect("path", 26.0, 9.0, 58.0, 28.0);
            (0..6).for_each(|k| s.line("smear", 32.0 + 9.0 * f64::from(k), 9.0, 32.0 + 9.0 * f64::from(k), 37.0));
        }
        "land_scored" => {
            lines(&mut s, "flute", &[(4.0, 16.0, 98.0, 16.0), (20.0, 22.0, 104.0, 23.0), (12.0, 30.0, 86.0, 29.0)])
        }
        "land_dent" => {
            s.path("edge", "M40 9C44 3 50 3 53 9");
            s.circle("dent", 47.0, 14.0, 6.0);
        }
        "land_bites" => {
            s.path("dent", "M90 9H102L96 17Z");
            s.path("dent", "M90 37H102L96 29Z");
        }
        "land_track" => {
            s.rect("dent", 44.0, 9.0, 9.0, 28.0);
            lines(&mut s, "edge", &[(44.0, 9.0, 44.0, 37.0), (53.0, 9.0, 53.0, 37.0)]);
        }
        "land_blue" => s.rect("heat", 20.0, 9.0, 60.0, 28.0),
        "land_crack" => s.path("crack", "M105 9L99 16L104 22L98 30"),
        "thread_torn" => s.path("flake", "M36 24L48 12L66 15L76 24L62 31L44 32Z"),
        "thread_galled" => {
            (0..4).for_each(|k| s.line("smear", 20.0, 16.0 + 6.0 * f64::from(k), 112.0, 14.0 + 6.0 * f64::from(k)))
        }
        "key_crack" => s.path("crack", "M102 30L110 34L108 40L116 45"),
        "key_rolled" => s.path("edge", "M22 1C24 8 28 8 30 12M110 1C108 8 104 8 102 12"),
        "bore_creep" => (0..3).for_each(|k| {
            let r = 35.0 + 4.0 * f64::from(k);
            s.path("edge", &format!("M{} 45A{} {} 0 0 1 {} 45", n(66.0 - r), n(r), n(r * 0.86), n(66.0 + r)));
        }),
        "bore_pinched" => {
            s.path("dent", "M31 45A35 30 0 0 1 38 28L32 23A43 37 0 0 0 23 45Z");
            s.path("dent", "M101 45A35 30 0 0 0 94 28L100 23A43 37 0 0 1 109 45Z");
        }
        "housing_crack" => {
            s.circle("dent", 112.0, 12.0, 5.0);
            s.path("crack", "M107 14L98 16L92 24L84 24");
        }
        "housing_heat" => s.path("heat", "M14 1H118L101 45A35 30 0 0 0 31 45Z"),
        "joint_nick" => {
            s.line("edge", 1.0, 5.0, 131.0, 5.0);
            s.path("dent", "M50 1H62L56 9Z");
            s.rect("rust", 84.0, 1.0, 24.0, 5.0);
        }
        "passage" => {
            s.circle("dent", 30.0, 14.0, 7.0);
            s.circle("rust", 30.0, 17.0, 5.0);
            s.circle("dent", 102.0, 14.0, 7.0);
        }
        "dowel_burr" => {
            s.circle("dent", 66.0, 9.0, 6.0);
            s.path("edge", "M58 5C57 1 62 0 64 2M68 2C71 0 75 1 74 5");
        }
        "wiped" => {
            s.path("shine", "M8 6H112C122 14 128 22 131 34L118 40H8Z");
            lines(&mut s, "smear", &[(20.0, 16.0, 118.0, 18.0), (20.0, 24.0, 122.0, 27.0)]);
        }
        "scored" => {
            lines(&mut s, "flute", &[(4.0, 14.0, 128.0, 14.0), (4.0, 19.0, 128.0, 19.0), (4.0, 31.0, 128.0, 31.0)])
        }
        "edge_sharp" => s.path("edge", "M104 1V45M104 1L131 1M104 45L131 45M112 12L126 12M112 34L126 34"),
        "shoe_nick" => {
            s.path("dent", "M1 18L12 23L1 28Z");
            s.path("edge", "M1 16C8 14 15 18 16 23C15 28 8 32 1 30");
        }
        "crazed" => {
            s.path("crack", "M14 8L40 16L62 8L86 18L116 10M40 16L34 34L58 38L70 26L62 8M70 26L96 36L86 18M96 36L122 30")
        }
        "pitted" => (0..22).for_each(|k| {
            s.circle(
                "dent",
                10.0 + f64::from(k % 11) * 11.0,
                14.0 + f64::from(k / 11) * 14.0 + f64::from(k % 3) * 3.0,
                1.6,
            )
        }),
        "vane_thin" => s.path("flake", "M42 3L48 3L44 8L40 6L36 12L34 8ZM80 3L86 3L82 8L78 6L74 12L72 8Z"),
        "spongy" => (0..9).for_each(|k| {
            s.circle(
                "dent",
                24.0 + f64::from(k % 3) * 4.0 + f64::from(k / 3) * 38.0,
                30.0 - f64::from(k % 3) * 6.0,
                2.4,
            )
        }),
        "rub" => s.rect("shine", 1.0, 37.0, 44.0, 8.0),
        "fins_rolled" => s.path("edge", "M16 37C16 30 22 28 26 32M46 37C46 30 52 28 56 32M92 37V26M112 37V26"),
        "wheel_crack" => s.path("crack", "M56 45L60 40L56 35L64 29L66 24"),
        "lip_hard" => s.path("crack", "M84 23L80 29M94 26L90 33M104 30L100 36M74 20L70 27"),
        "lip_cut" => s.path("slot", "M98 26L104 40L92 37Z"),
        "blown" => s.path("flake", "M1 24L10 30L18 25L26 31L34 26L42 32L30 38H1Z"),
        "flat" => s.rect("slot", 98.0, 36.0, 18.0, 8.0),
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
