//! Rolling-bearing rings: ISO 492 mean-diameter tolerances and ISO 5753-1 internal clearance.

use crate::quantity::{Micrometres, Millimetres};
use crate::refusal::{Refusal, Result};

/// Which ring.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Ring {
    /// Sits on the shaft.
    Inner,
    /// Sits in the housing.
    Outer,
}

/// Upper ends (included) and lower deviations of classes normal, 6, 5, 4, 2; µm.
#[rustfmt::skip]
const INNER: [(f64, [f64; 5]); 8] = [
    (10.0, [-8.0, -7.0, -5.0, -4.0, -2.5]), (18.0, [-8.0, -7.0, -5.0, -4.0, -2.5]), (30.0, [-10.0, -8.0, -6.0, -5.0, -2.5]),
    (50.0, [-12.0, -10.0, -8.0, -6.0, -2.5]), (80.0, [-15.0, -12.0, -9.0, -7.0, -4.0]), (120.0, [-20.0, -15.0, -10.0, -8.0, -5.0]),
    (180.0, [-25.0, -18.0, -13.0, -10.0, -7.0]), (250.0, [-30.0, -22.0, -15.0, -12.0, -8.0]),
];
#[rustfmt::skip]
const OUTER: [(f64, [f64; 5]); 9] = [
    (18.0, [-8.0, -7.0, -5.0, -4.0, -2.5]), (30.0, [-9.0, -8.0, -6.0, -5.0, -4.0]), (50.0, [-11.0, -9.0, -7.0, -6.0, -4.0]),
    (80.0, [-13.0, -11.0, -9.0, -7.0, -4.0]), (120.0, [-15.0, -13.0, -10.0, -8.0, -5.0]), (150.0, [-18.0, -15.0, -11.0, -9.0, -5.0]),
    (180.0, [-25.0, -18.0, -13.0, -10.0, -7.0]), (250.0, [-30.0, -20.0, -15.0, -11.0, -8.0]), (315.0, [-35.0, -25.0, -18.0, -13.0, -8.0]),
];

/// Lower deviation of the mean diameter of a ring; the upper one is 0. Source: ISO 492:2014, radial bearings.
///
/// ```
/// use ironseat_core::fit::rings::{ring_tolerance, Ring};
/// use ironseat_core::quantity::Millimetres;
/// assert_eq!(ring_tolerance(Ring::Inner, Millimetres::of(40.0), "normal")?.get(), -12.0);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `class` unless normal, 6, 5, 4 or 2; `diameter_mm` outside the table.
pub fn ring_tolerance(ring: Ring, diameter: Millimetres, class: &str) -> Result<Micrometres> {
    let (table, above): (&[(f64, [f64; 5])], f64) = match ring {
        Ring::Inner => (&INNER, 2.5),
        Ring::Outer => (&OUTER, 6.0),
    };
    let column = ["normal", "6", "5", "4", "2"]
        .iter()
        .position(|c| *c == class)
        .ok_or_else(|| Refusal::new("class", "expected one of the classes normal, 6, 5, 4 or 2"))?;
    let row = table.iter().find(|(end, _)| diameter.0 <= *end).filter(|_| diameter.0 > above).ok_or_else(|| {
        Refusal::new(
            "diameter_mm",
            format!("expected a diameter above {above} and up to {} mm", table[table.len() - 1].0),
        )
    })?;
    Ok(Micrometres(row.1[column]))
}

/// Kinds of bearing whose clearance groups are tabled.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum ClearanceKind {
    DeepGroove,
    CylindricalRoller,
    SelfAligningBall,
}

type Row = (f64, [(f64, f64); 5]);

/// Upper ends (included) and groups 2, N, 3, 4, 5; µm.
#[rustfmt::skip]
const DEEP_GROOVE: [Row; 16] = [
    (10.0, [(0.0, 7.0), (2.0, 13.0), (8.0, 23.0), (14.0, 29.0), (20.0, 37.0)]),
    (18.0, [(0.0, 9.0), (3.0, 18.0), (11.0, 25.0), (18.0, 33.0), (25.0, 45.0)]),
    (24.0, [(0.0, 10.0), (5.0, 20.0), (13.0, 28.0), (20.0, 36.0), (28.0, 48.0)]),
    (30.0, [(1.0, 11.0), (5.0, 20.0), (13.0, 28.0), (23.0, 41.0), (30.0, 53.0)]),
    (40.0, [(1.0, 11.0), (6.0, 20.0), (15.0, 33.0), (28.0, 46.0), (40.0, 64.0)]),
    (50.0, [(1.0, 11.0), (6.0, 23.0), (18.0, 36.0), (30.0, 51.0), (45.0, 73.0)]),
    (65.0, [(1.0, 15.0), (8.0, 28.0), (23.0, 43.0), (38.0, 61.0), (55.0, 90.0)]),
    (80.0, [(1.0, 15.0), (10.0, 30.0), (25.0, 51.0), (46.0, 71.0), (65.0, 105.0)]),
    (100.0, [(1.0, 18.0), (12.0, 36.0), (30.0, 58.0), (53.0, 84.0), (75.0, 120.0)]),
    (120.0, [(2.0, 20.0), (15.0, 41.0), (36.0, 66.0), (61.0, 97.0), (90.0, 140.0)]),
    (140.0, [(2.0, 23.0), (18.0, 48.0), (41.0, 81.0), (71.0, 114.0), (105.0, 160.0)]),
    (160.0, [(2.0, 23.0), (18.0, 53.0), (46.0, 91.0), (81.0, 130.0), (120.0, 180.0)]),
    (180.0, [(2.0, 25.0), (20.0, 61.0), (53.0, 102.0), (91.0, 147.0), (135.0, 200.0)]),
    (200.0, [(2.0, 30.0), (25.0, 71.0), (63.0, 117.0), (107.0, 163.0), (150.0, 230.0)]),
    (225.0, [(2.0, 35.0), (25.0, 85.0), (75.0, 140.0), (125.0, 195.0), (175.0, 265.0)]),
    (250.0, [(2.0, 40.0), (30.0, 95.0), (85.0, 160.0), (145.0, 225.0), (205.0, 300.0)]),
];
#[rustfmt::skip]
const CYLINDRICAL: [Row; 12] = [
    (24.0, [(0.0, 25.0), (20.0, 45.0), (35.0, 60.0), (50.0, 75.0), (65.0, 90.0)]),
    (30.0, [(0.0, 25.0), (20.0, 45.0), (35.0, 60.0), (50.0, 75.0), (70.0, 95.0)]),
    (40.0, [(5.0, 30.0), (25.0, 50.0), (45.0, 70.0), (60.0, 85.0), (80.0, 105.0)]),
    (50.0, [(5.0, 35.0), (30.0, 60.0), (50.0, 80.0), (70.0, 100.0), (95.0, 125.0)]),
    (65.0, [(10.0, 40.0), (40.0, 70.0), (60.0, 90.0), (80.0, 110.0), (110.0, 140.0)]),
    (80.0, [(10.0, 45.0), (40.0, 75.0), (65.0, 100.0), (90.0, 125.0), (130.0, 165.0)]),
    (100.0, [(15.0, 50.0), (50.0, 85.0), (75.0, 110.0), (105.0, 140.0), (155.0, 190.0)]),
    (120.0, [(15.0, 55.0), (50.0, 90.0), (85.0, 125.0), (125.0, 165.0), (180.0, 220.0)]),
    (140.0, [(15.0, 60.0), (60.0, 105.0), (100.0, 145.0), (145.0, 190.0), (200.0, 245.0)]),
    (160.0, [(20.0, 70.0), (70.0, 120.0), (115.0, 165.0), (165.0, 215.0), (225.0, 275.0)]),
    (180.0, [(25.0, 75.0), (75.0, 125.0), (120.0, 170.0), (170.0, 220.0), (250.0, 300.0)]),
    (200.0, [(35.0, 90.0), (90.0, 145.0), (140.0, 195.0), (195.0, 250.0), (275.0, 330.0)]),
];
#[rustfmt::skip]
const SELF_ALIGNING: [Row; 14] = [
    (6.0, [(1.0, 8.0), (5.0, 15.0), (10.0, 20.0), (15.0, 25.0), (21.0, 33.0)]),
    (10.0, [(2.0, 9.0), (6.0, 17.0), (12.0, 25.0), (19.0, 33.0), (27.0, 42.0)]),
    (14.0, [(2.0, 10.0), (6.0, 19.0), (13.0, 26.0), (21.0, 35.0), (30.0, 48.0)]),
    (18.0, [(3.0, 12.0), (8.0, 21.0), (15.0, 28.0), (23.0, 37.0), (32.0, 50.0)]),
    (24.0, [(4.0, 14.0), (10.0, 23.0), (17.0, 30.0), (25.0, 39.0), (34.0, 52.0)]),
    (30.0, [(5.0, 16.0), (11.0, 24.0), (19.0, 35.0), (29.0, 46.0), (40.0, 58.0)]),
    (40.0, [(6.0, 18.0), (13.0, 29.0), (23.0, 40.0), (34.0, 53.0), (46.0, 66.0)]),
    (50.0, [(6.0, 19.0), (14.0, 31.0), (25.0, 44.0), (37.0, 57.0), (50.0, 71.0)]),
    (65.0, [(7.0, 21.0), (16.0, 36.0), (30.0, 50.0), (45.0, 69.0), (62.0, 88.0)]),
    (80.0, [(8.0, 24.0), (18.0, 40.0), (35.0, 60.0), (54.0, 83.0), (76.0, 108.0)]),
    (100.0, [(9.0, 27.0), (22.0, 48.0), (42.0, 70.0), (64.0, 96.0), (89.0, 124.0)]),
    (120.0, [(10.0, 31.0), (25.0, 56.0), (50.0, 83.0), (75.0, 114.0), (105.0, 145.0)]),
    (140.0, [(10.0, 38.0), (30.0, 68.0), (60.0, 100.0), (90.0, 135.0), (125.0, 175.0)]),
    (160.0, [(15.0, 44.0), (35.0, 80.0), (70.0, 120.0), (110.0, 161.0), (150.0, 210.0)]),
];

/// Internal radial clearance (min, max) of a group before fitting. Source: ISO 5753-1:2009, cylindrical bore.
///
/// ```
/// use ironseat_core::fit::rings::{clearance, ClearanceKind};
/// use ironseat_core::quantity::Millimetres;
/// let (min, max) = clearance(ClearanceKind::DeepGroove, Millimetres::of(40.0), "N")?;
/// assert_eq!((min.get(), max.get()), (6.0, 20.0));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `group` unless 2, N, 3, 4 or 5; `d_mm` outside the table.
pub fn clearance(kind: ClearanceKind, d: Millimetres, group: &str) -> Result<(Micrometres, Micrometres)> {
    let (table, above): (&[Row], f64) = match kind {
        ClearanceKind::DeepGroove => (&DEEP_GROOVE, 2.5),
        ClearanceKind::CylindricalRoller => (&CYLINDRICAL, 0.0),
        ClearanceKind::SelfAligningBall => (&SELF_ALIGNING, 2.5),
    };
    let column = ["2", "N", "3", "4", "5"]
        .iter()
        .position(|g| *g == group)
        .ok_or_else(|| Refusal::new("group", "expected a clearance group 2, N, 3, 4 or 5"))?;
    let row = table.iter().find(|(end, _)| d.0 <= *end).filter(|_| d.0 > above).ok_or_else(|| {
        Refusal::new("d_mm", format!("expected a bore above {above} and up to {} mm", table[table.len() - 1].0))
    })?;
    let (min, max) = row.1[column];
    Ok((Micrometres(min), Micrometres(max)))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn groups_rise_with_the_group_and_with_the_bore() {
        for table in [&DEEP_GROOVE[..], &CYLINDRICAL[..], &SELF_ALIGNING[..]] {
            assert!(table.windows(2).all(|w| (0..5).all(|g| w[0].1[g].0 <= w[1].1[g].0 && w[0].1[g].1 <= w[1].1[g].1)));
            for (d, groups) in table {
                for pair in groups.windows(2) {
                    assert!(pair[0].0 <= pair[1].0 && pair[0].1 < pair[1].1, "{d}");
                }
            }
        }
    }

    #[test]
    fn a_finer_class_is_never_wider() {
        for (end, row) in INNER.iter().chain(&OUTER) {
            assert!(row.windows(2).all(|w| w[0] <= w[1]), "{end}");
        }
    }
}
