//! What a bolt and its thread stand (docs/trade.md, Fastening and sealing).

use crate::instrument::SLACK;
use crate::quantity::{Millimetres, Newtons};
use crate::refusal::{Result, expect};
use std::f64::consts::PI;

/// Stress area of a metric thread, mm²: pi/4·(d - 0.9382·P)². Source: ISO 898-1.
#[must_use]
pub fn stress_area(d: Millimetres, pitch: Millimetres) -> f64 {
    PI / 4.0 * (d.0 - 0.9382 * pitch.0).powi(2)
}

/// Proof stress of a property class (4.6 to 12.9) or an inch grade (2, 5, 8) at a thread diameter, MPa.
/// Source: ISO 898-1; the inch grades after common practice, psi turned to MPa.
#[must_use]
pub fn proof_stress(class: &str, d: Millimetres) -> Option<f64> {
    const PSI: f64 = 0.006_894_757;
    let inch = d.0 / 25.4;
    Some(match class {
        "4.6" => 225.0,
        "5.8" => 380.0,
        "8.8" if d.0 <= 16.0 + SLACK => 580.0,
        "8.8" => 600.0,
        "10.9" => 830.0,
        "12.9" => 970.0,
        "grade 2" if inch <= 0.75 + SLACK => 55_000.0 * PSI,
        "grade 2" => 33_000.0 * PSI,
        "grade 5" if inch <= 1.0 + SLACK => 85_000.0 * PSI,
        "grade 5" => 74_000.0 * PSI,
        "grade 8" => 120_000.0 * PSI,
        _ => return None,
    })
}

/// Proof load of a class at a size; none for a class that is not known.
///
/// ```
/// use ironseat_core::{fasten::proof_load, quantity::Millimetres};
/// let m12 = proof_load("8.8", Millimetres::of(12.0), Millimetres::of(1.75)).unwrap();
/// assert!((m12.get() - 48_900.0).abs() < 100.0); // the standard's table says 48.9 kN
/// ```
#[must_use]
pub fn proof_load(class: &str, d: Millimetres, pitch: Millimetres) -> Option<Newtons> {
    proof_stress(class, d).map(|s| Newtons(s * stress_area(d, pitch)))
}

/// What a thread is cut into.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Ground {
    Steel,
    GreyIron,
    Aluminium,
    Bronze,
}

impl Ground {
    /// Shear strength in MPa that may be counted on; low values of common castings and bars.
    #[must_use]
    pub fn shear_mpa(self) -> f64 {
        match self {
            Self::Steel => 250.0,
            Self::GreyIron => 180.0,
            Self::Bronze => 150.0,
            Self::Aluminium => 110.0,
        }
    }
}

/// Force at which the thread in the ground strips: shear area pi·d·L·0.875 at the bolt's outside. The outermost turn on
/// either side carries little, so one pitch is taken off the engaged length. Source: thread geometry of ISO 68-1
/// (0.5 + 0.6495·tan 30°), docs/trade.md, Fastening and sealing.
///
/// ```
/// use ironseat_core::{fasten::{Ground, stripping}, quantity::Millimetres as Mm};
/// let short = stripping(Mm::of(8.0), Mm::of(1.25), Mm::of(6.0), Ground::Aluminium)?;
/// let long = stripping(Mm::of(8.0), Mm::of(1.25), Mm::of(16.0), Ground::Aluminium)?;
/// assert!(short.get() < 21_200.0 && long.get() > 21_200.0); // proof load of M8 8.8 is 21.2 kN: 6 mm are too few
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `engaged_mm` not above one pitch.
pub fn stripping(d: Millimetres, pitch: Millimetres, engaged: Millimetres, ground: Ground) -> Result<Newtons> {
    expect(engaged.0 > pitch.0, "engaged_mm", "expected more than one pitch of engaged thread")?;
    Ok(Newtons(0.875 * PI * d.0 * (engaged.0 - pitch.0) * ground.shear_mpa()))
}

/// Engaged length at which the thread in the ground carries a force.
///
/// ```
/// use ironseat_core::{fasten::{Ground, engaged_for, stripping}, quantity::{Millimetres as Mm, Newtons}};
/// let l = engaged_for(Mm::of(8.0), Mm::of(1.25), Newtons::of(21_200.0), Ground::Aluminium);
/// assert!((stripping(Mm::of(8.0), Mm::of(1.25), l, Ground::Aluminium)?.get() - 21_200.0).abs() < 1e-6);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
#[must_use]
pub fn engaged_for(d: Millimetres, pitch: Millimetres, force: Newtons, ground: Ground) -> Millimetres {
    Millimetres(pitch.0 + force.0 / (0.875 * PI * d.0 * ground.shear_mpa()))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn inch_grades_go_by_size_and_unknown_classes_have_no_load() {
        let (half, big) = (Millimetres(12.7), Millimetres(30.0));
        assert!((proof_stress("grade 5", half).unwrap() - 586.0).abs() < 1.0);
        assert!((proof_stress("grade 5", big).unwrap() - 510.0).abs() < 1.0);
        assert!(proof_stress("grade 2", big) < proof_stress("grade 2", half));
        assert_eq!(proof_load("9.9", half, Millimetres(1.5)), None);
        assert_eq!(stripping(half, Millimetres(1.5), Millimetres(1.0), Ground::Steel).unwrap_err().field, "engaged_mm");
    }

    #[test]
    fn a_harder_class_and_a_larger_thread_stand_more() {
        let p = |c: &str, d: f64| proof_load(c, Millimetres(d), Millimetres(1.5)).unwrap().0;
        let classes = ["4.6", "5.8", "8.8", "10.9", "12.9"];
        assert!(classes.windows(2).all(|w| p(w[0], 12.0) < p(w[1], 12.0)));
        assert!(p("8.8", 12.0) < p("8.8", 20.0));
    }
}
