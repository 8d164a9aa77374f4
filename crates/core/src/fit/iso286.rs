//! Limits and fits: the rounded tables of ISO 286-1:2010 to 500 mm.

use crate::quantity::{Micrometres, Millimetres};
use crate::refusal::{Refusal, Result, expect};

/// Upper ends (included) of the thirteen main ranges, mm.
const MAIN: [f64; 13] = [3.0, 6.0, 10.0, 18.0, 30.0, 50.0, 80.0, 120.0, 180.0, 250.0, 315.0, 400.0, 500.0];
/// Upper ends of the sub-ranges used from r upwards, mm.
const FINE: [f64; 25] = [
    3.0, 6.0, 10.0, 14.0, 18.0, 24.0, 30.0, 40.0, 50.0, 65.0, 80.0, 100.0, 120.0, 140.0, 160.0, 180.0, 200.0, 225.0,
    250.0, 280.0, 315.0, 355.0, 400.0, 450.0, 500.0,
];

/// Grades in the order 01, 0, 1 ... 18; one row per grade, one column per main range, µm.
#[rustfmt::skip]
const IT: [[f64; 13]; 20] = [
    [0.3, 0.4, 0.4, 0.5, 0.6, 0.6, 0.8, 1.0, 1.2, 2.0, 2.5, 3.0, 4.0],
    [0.5, 0.6, 0.6, 0.8, 1.0, 1.0, 1.2, 1.5, 2.0, 3.0, 4.0, 5.0, 6.0],
    [0.8, 1.0, 1.0, 1.2, 1.5, 1.5, 2.0, 2.5, 3.5, 4.5, 6.0, 7.0, 8.0],
    [1.2, 1.5, 1.5, 2.0, 2.5, 2.5, 3.0, 4.0, 5.0, 7.0, 8.0, 9.0, 10.0],
    [2.0, 2.5, 2.5, 3.0, 4.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 13.0, 15.0],
    [3.0, 4.0, 4.0, 5.0, 6.0, 7.0, 8.0, 10.0, 12.0, 14.0, 16.0, 18.0, 20.0],
    [4.0, 5.0, 6.0, 8.0, 9.0, 11.0, 13.0, 15.0, 18.0, 20.0, 23.0, 25.0, 27.0],
    [6.0, 8.0, 9.0, 11.0, 13.0, 16.0, 19.0, 22.0, 25.0, 29.0, 32.0, 36.0, 40.0],
    [10.0, 12.0, 15.0, 18.0, 21.0, 25.0, 30.0, 35.0, 40.0, 46.0, 52.0, 57.0, 63.0],
    [14.0, 18.0, 22.0, 27.0, 33.0, 39.0, 46.0, 54.0, 63.0, 72.0, 81.0, 89.0, 97.0],
    [25.0, 30.0, 36.0, 43.0, 52.0, 62.0, 74.0, 87.0, 100.0, 115.0, 130.0, 140.0, 155.0],
    [40.0, 48.0, 58.0, 70.0, 84.0, 100.0, 120.0, 140.0, 160.0, 185.0, 210.0, 230.0, 250.0],
    [60.0, 75.0, 90.0, 110.0, 130.0, 160.0, 190.0, 220.0, 250.0, 290.0, 320.0, 360.0, 400.0],
    [100.0, 120.0, 150.0, 180.0, 210.0, 250.0, 300.0, 350.0, 400.0, 460.0, 520.0, 570.0, 630.0],
    [140.0, 180.0, 220.0, 270.0, 330.0, 390.0, 460.0, 540.0, 630.0, 720.0, 810.0, 890.0, 970.0],
    [250.0, 300.0, 360.0, 430.0, 520.0, 620.0, 740.0, 870.0, 1000.0, 1150.0, 1300.0, 1400.0, 1550.0],
    [400.0, 480.0, 580.0, 700.0, 840.0, 1000.0, 1200.0, 1400.0, 1600.0, 1850.0, 2100.0, 2300.0, 2500.0],
    [600.0, 750.0, 900.0, 1100.0, 1300.0, 1600.0, 1900.0, 2200.0, 2500.0, 2900.0, 3200.0, 3600.0, 4000.0],
    [1000.0, 1200.0, 1500.0, 1800.0, 2100.0, 2500.0, 3000.0, 3500.0, 4000.0, 4600.0, 5200.0, 5700.0, 6300.0],
    [1400.0, 1800.0, 2200.0, 2700.0, 3300.0, 3900.0, 4600.0, 5400.0, 6300.0, 7200.0, 8100.0, 8900.0, 9700.0],
];

#[rustfmt::skip]
mod deviations {
    pub const D: [f64; 13] = [20.0, 30.0, 40.0, 50.0, 65.0, 80.0, 100.0, 120.0, 145.0, 170.0, 190.0, 210.0, 230.0];
    pub const E: [f64; 13] = [14.0, 20.0, 25.0, 32.0, 40.0, 50.0, 60.0, 72.0, 85.0, 100.0, 110.0, 125.0, 135.0];
    pub const F: [f64; 13] = [6.0, 10.0, 13.0, 16.0, 20.0, 25.0, 30.0, 36.0, 43.0, 50.0, 56.0, 62.0, 68.0];
    pub const G: [f64; 13] = [2.0, 4.0, 5.0, 6.0, 7.0, 9.0, 10.0, 12.0, 14.0, 15.0, 17.0, 18.0, 20.0];
    pub const J56: [f64; 13] = [2.0, 2.0, 2.0, 3.0, 4.0, 5.0, 7.0, 9.0, 11.0, 13.0, 16.0, 18.0, 20.0];
    pub const J7: [f64; 13] = [4.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 15.0, 18.0, 21.0, 26.0, 28.0, 32.0];
    pub const HOLE_J: [[f64; 13]; 3] = [
        [2.0, 5.0, 5.0, 6.0, 8.0, 10.0, 13.0, 16.0, 18.0, 22.0, 25.0, 29.0, 33.0],
        [4.0, 6.0, 8.0, 10.0, 12.0, 14.0, 18.0, 22.0, 26.0, 30.0, 36.0, 39.0, 43.0],
        [6.0, 10.0, 12.0, 15.0, 20.0, 24.0, 28.0, 34.0, 41.0, 47.0, 55.0, 60.0, 66.0],
    ];
    pub const K: [f64; 13] = [0.0, 1.0, 1.0, 1.0, 2.0, 2.0, 2.0, 3.0, 3.0, 4.0, 4.0, 4.0, 5.0];
    pub const M: [f64; 13] = [2.0, 4.0, 6.0, 7.0, 8.0, 9.0, 11.0, 13.0, 15.0, 17.0, 20.0, 21.0, 23.0];
    pub const N: [f64; 13] = [4.0, 8.0, 10.0, 12.0, 15.0, 17.0, 20.0, 23.0, 27.0, 31.0, 34.0, 37.0, 40.0];
    pub const P: [f64; 13] = [6.0, 12.0, 15.0, 18.0, 22.0, 26.0, 32.0, 37.0, 43.0, 50.0, 56.0, 62.0, 68.0];
    const X: f64 = f64::NAN; // the standard has no value here
    pub const R: [f64; 25] = [10.0, 15.0, 19.0, 23.0, 23.0, 28.0, 28.0, 34.0, 34.0, 41.0, 43.0, 51.0, 54.0, 63.0, 65.0, 68.0, 77.0, 80.0, 84.0, 94.0, 98.0, 108.0, 114.0, 126.0, 132.0];
    pub const S: [f64; 25] = [14.0, 19.0, 23.0, 28.0, 28.0, 35.0, 35.0, 43.0, 43.0, 53.0, 59.0, 71.0, 79.0, 92.0, 100.0, 108.0, 122.0, 130.0, 140.0, 158.0, 170.0, 190.0, 208.0, 232.0, 252.0];
    pub const T: [f64; 25] = [X, X, X, X, X, X, 41.0, 48.0, 54.0, 66.0, 75.0, 91.0, 104.0, 122.0, 134.0, 146.0, 166.0, 180.0, 196.0, 218.0, 240.0, 268.0, 294.0, 330.0, 360.0];
    pub const U: [f64; 25] = [18.0, 23.0, 28.0, 33.0, 33.0, 41.0, 48.0, 60.0, 70.0, 87.0, 102.0, 124.0, 144.0, 170.0, 190.0, 210.0, 236.0, 258.0, 284.0, 315.0, 350.0, 390.0, 435.0, 490.0, 540.0];
}

/// Shaft or hole, told by the case of the letter.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum ShaftOrHole {
    /// Small letters.
    Shaft,
    /// Capitals.
    Hole,
}

/// The limits of a tolerance class at a size.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ClassLimits {
    /// Shaft or hole.
    pub kind: ShaftOrHole,
    /// Lower deviation.
    pub lower: Micrometres,
    /// Upper deviation.
    pub upper: Micrometres,
    /// Width of the tolerance.
    pub it: Micrometres,
    /// Smallest size.
    pub min: Millimetres,
    /// Largest size.
    pub max: Millimetres,
}

/// Limits of a class such as `k6` or `H7` at a nominal size. Source: ISO 286-1:2010, tables 1 to 5.
///
/// ```
/// use ironseat_core::fit::iso286::limits;
/// use ironseat_core::quantity::Millimetres;
/// let k6 = limits(Millimetres::of(40.0), "k6")?;
/// assert_eq!((k6.lower.get(), k6.upper.get()), (2.0, 18.0));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `nominal_mm` outside (0, 500]; `class` when the letter or grade is unknown or the standard has no value there.
pub fn limits(nominal: Millimetres, class: &str) -> Result<ClassLimits> {
    let d = nominal.0;
    expect(d > 0.0 && d <= 500.0, "nominal_mm", "expected a size above 0 and up to 500 mm")?;
    let no_value = || {
        Refusal::new(
            "class",
            format!("ISO 286 has no value for {} at this size", class.chars().take(12).collect::<String>()),
        )
    };
    let text = class.trim();
    let split = text.find(|c: char| c.is_ascii_digit()).ok_or_else(unknown)?;
    let (letter, grade) = text.split_at(split);
    let row = match grade {
        "01" => 0,
        "0" => 1,
        g if g.len() <= 2 && !g.starts_with('0') => {
            g.parse::<usize>().ok().filter(|n| (1..=18).contains(n)).ok_or_else(unknown)? + 1
        }
        _ => return Err(unknown()),
    };
    let column = MAIN.iter().position(|end| d <= *end).ok_or_else(no_value)?;
    let fine = FINE.iter().position(|end| d <= *end).ok_or_else(no_value)?;
    if row >= 15 && d <= 1.0 {
        return Err(no_value());
    }
    let it = IT[row][column];
    let lower_letter = letter.to_ascii_lowercase();
    let (kind, lower, upper) = if letter.is_empty() {
        return Err(unknown());
    } else if letter == lower_letter {
        let (lo, hi) =
            shaft(letter, row, column, fine, it).ok_or_else(|| if known(letter) { no_value() } else { unknown() })?;
        (ShaftOrHole::Shaft, lo, hi)
    } else if letter == letter.to_ascii_uppercase() {
        let (lo, hi) = hole(&lower_letter, row, column, fine, it)
            .ok_or_else(|| if known(&lower_letter) { no_value() } else { unknown() })?;
        (ShaftOrHole::Hole, lo, hi)
    } else {
        return Err(unknown());
    };
    Ok(ClassLimits {
        kind,
        lower: Micrometres(lower),
        upper: Micrometres(upper),
        it: Micrometres(it),
        min: Millimetres(d + lower / 1000.0),
        max: Millimetres(d + upper / 1000.0),
    })
}

fn unknown() -> Refusal {
    Refusal::new("class", "expected a letter d to u (capital for a hole) and a grade 01 to 18, such as k6, H7 or js5")
}

fn known(letter: &str) -> bool {
    matches!(letter, "d" | "e" | "f" | "g" | "h" | "js" | "j" | "k" | "m" | "n" | "p" | "r" | "s" | "t" | "u")
}

/// Rows of the grade table: grade n stands in row n + 1.
const fn grade(n: usize) -> usize {
    n + 1
}

/// Magnitude of the fundamental deviation of the letters from m upwards.
fn tight(letter: &str, column: usize, fine: usize) -> Option<f64> {
    use deviations as t;
    let v = match letter {
        "m" => t::M[column],
        "n" => t::N[column],
        "p" => t::P[column],
        "r" => t::R[fine],
        "s" => t::S[fine],
        "t" => t::T[fine],
        "u" => t::U[fine],
        _ => return None,
    };
    (!v.is_nan()).then_some(v)
}

fn loose(letter: &str, column: usize) -> Option<f64> {
    use deviations as t;
    Some(match letter {
        "d" => t::D[column],
        "e" => t::E[column],
        "f" => t::F[column],
        "g" => t::G[column],
        "h" => 0.0,
        _ => return None,
    })
}

/// (lower, upper) deviation of a shaft.
fn shaft(letter: &str, row: usize, column: usize, fine: usize, it: f64) -> Option<(f64, f64)> {
    if let Some(gap) = loose(letter, column) {
        return Some((-gap - it, -gap));
    }
    let lower = match letter {
        "js" => -it / 2.0,
        "j" if row == grade(5) || row == grade(6) => -deviations::J56[column],
        "j" if row == grade(7) => -deviations::J7[column],
        "j" => return None,
        "k" if (grade(4)..=grade(7)).contains(&row) => deviations::K[column],
        "k" => 0.0,
        _ => tight(letter, column, fine)?,
    };
    Some((lower, lower + it))
}

/// (lower, upper) deviation of a hole, from the small letter.
fn hole(letter: &str, row: usize, column: usize, fine: usize, it: f64) -> Option<(f64, f64)> {
    if let Some(gap) = loose(letter, column) {
        return Some((gap, gap + it));
    }
    // Delta of the standard: the step to the next finer grade, above 3 mm only.
    let delta = if column == 0 || row == 0 { 0.0 } else { it - IT[row - 1][column] };
    let to8 = row <= grade(8);
    let upper = match letter {
        "js" => it / 2.0,
        "j" if (grade(6)..=grade(8)).contains(&row) => deviations::HOLE_J[row - grade(6)][column],
        "j" => return None,
        "k" if column == 0 => 0.0,
        "k" if to8 => -deviations::K[column] + delta,
        "k" => return None,
        "m" if row == grade(6) && column == 10 => -9.0, // the one exception of the standard, 250 to 315 mm
        "m" => -tight(letter, column, fine)? + if to8 { delta } else { 0.0 },
        "n" if column == 0 => -4.0,
        "n" if to8 => -tight(letter, column, fine)? + delta,
        "n" => 0.0,
        _ => -tight(letter, column, fine)? + if row <= grade(7) { delta } else { 0.0 },
    };
    Some((upper - it, upper))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn the_check_values_hold() {
        for (d, class, lo, hi) in [
            (40.0, "k6", 2.0, 18.0),
            (40.0, "H7", 0.0, 25.0),
            (25.0, "m5", 8.0, 17.0),
            (120.0, "p6", 37.0, 59.0),
            (60.0, "js5", -6.5, 6.5),
            (72.0, "J7", -12.0, 18.0),
            (90.0, "N7", -45.0, -10.0),
            (50.0, "P6", -37.0, -21.0),
            (180.0, "r6", 68.0, 93.0),
            (300.0, "M6", -41.0, -9.0),
        ] {
            let l = limits(Millimetres::of(d), class).expect(class);
            assert_eq!((l.lower.get(), l.upper.get()), (lo, hi), "{d} {class}");
        }
    }

    proptest! {
        #[test]
        fn the_rounded_grades_follow_the_formula(column in 3usize..13, grade in 5usize..17) {
            // i = 0.45·D^(1/3) + 0.001·D at the geometric mean of the range; 7i 10i 16i 25i 40i 64i 100i ...
            let units = [7.0, 10.0, 16.0, 25.0, 40.0, 64.0, 100.0, 160.0, 250.0, 400.0, 640.0, 1000.0, 1600.0][grade - 5];
            let mean = (MAIN[column - 1] * MAIN[column]).sqrt();
            let i = 0.45 * mean.cbrt() + 0.001 * mean;
            prop_assert!((IT[grade + 1][column] / (units * i) - 1.0).abs() < 0.09);
        }

        #[test]
        fn a_finer_grade_is_never_wider(d in 1.1f64..500.0, g in 2usize..18, letter in prop::sample::select(vec!["h", "k", "p", "H", "JS"])) {
            let wide = limits(Millimetres::of(d), &format!("{letter}{g}"));
            let fine = limits(Millimetres::of(d), &format!("{letter}{}", g - 1));
            if let (Ok(w), Ok(f)) = (wide, fine) { prop_assert!(f.it.get() <= w.it.get()); }
        }
    }
}
