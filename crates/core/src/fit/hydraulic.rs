//! Oil injection and tapered bores (docs/trade.md, Fits and heat).

use super::Material;
use super::lame::stiffness;
use crate::quantity::{Kelvins, Megapascals, Micrometres, Millimetres, Newtons};
use crate::refusal::{Result, expect};
use std::f64::consts::PI;

/// A collar or coupling on a slight taper, expanded by oil and pushed home.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct OilFit {
    /// Mean diameter of the joint.
    pub d: Millimetres,
    pub hub_outside: Millimetres,
    pub shaft_bore: Millimetres,
    pub length: Millimetres,
    /// Interference when home.
    pub delta: Micrometres,
    pub hub: Material,
    pub shaft: Material,
    /// Diameter per length: 1/30 is 0.0333; 0 for a cylinder.
    pub taper: f64,
    /// Expansion over contact pressure, 1.1 if nothing else is known.
    pub margin: f64,
    /// Friction on an oil film.
    pub mu: f64,
    /// Yield of the hub.
    pub yield_mpa: Megapascals,
}

/// What the pumps must do.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct OilAnswer {
    /// Contact pressure when home.
    pub contact: Megapascals,
    /// Expansion pressure that is needed.
    pub expansion: Megapascals,
    /// Highest expansion pressure before the hub's bore yields (Tresca).
    pub expansion_limit: Megapascals,
    /// The needed one is below the limit.
    pub possible: bool,
    /// Axial force at the end of the push; on a taper it holds against sliding back, too.
    pub push: Newtons,
    /// Axial way from first contact: delta/taper; none on a cylinder.
    pub drive_up: Option<Millimetres>,
}

/// Minutes the pushing pressure is held after the expansion pressure is let go, if the maker says nothing.
pub const HOLD_MIN: u64 = 10;

/// Expansion must exceed the contact pressure (Lamé) by a margin and stay below the yield of the hub's bore, p·2/(1 -
/// (d/D)²) ≤ yield; the push is pi·d·L·p·(mu + taper/2); drive-up = delta/taper. Source: docs/trade.md, Fits and heat.
///
/// ```
/// use ironseat_core::fit::{Material, hydraulic::{OilFit, oil}};
/// use ironseat_core::quantity::{Megapascals, Micrometres, Millimetres as Mm};
/// let a = oil(&OilFit { d: Mm::of(120.0), hub_outside: Mm::of(260.0), shaft_bore: Mm::of(0.0), length: Mm::of(90.0),
///     delta: Micrometres::of(120.0), hub: Material::CarbonSteel, shaft: Material::CarbonSteel, taper: 1.0 / 30.0,
///     margin: 1.1, mu: 0.02, yield_mpa: Megapascals::of(350.0) })?;
/// assert!(a.possible && (a.drive_up.unwrap().get() - 3.6).abs() < 1e-9); // 0.12 mm on 1:30
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `hub_outside_mm` not above d, `shaft_bore_mm` not below it; `length_mm`, `yield_mpa` not above 0; `margin` below 1;
/// `taper` outside 0 to 0.2; `mu` below 0.
pub fn oil(f: &OilFit) -> Result<OilAnswer> {
    let d = f.d.0;
    expect(d > 0.0 && f.hub_outside.0 > d, "hub_outside_mm", "expected the hub's outside to be larger than the joint")?;
    expect(
        f.shaft_bore.0 >= 0.0 && f.shaft_bore.0 < d,
        "shaft_bore_mm",
        "expected the bore of the shaft to be smaller than the joint",
    )?;
    expect(f.length.0 > 0.0, "length_mm", "expected a length above 0")?;
    expect(f.yield_mpa.0 > 0.0, "yield_mpa", "expected a yield strength above 0")?;
    expect(
        f.margin >= 1.0,
        "margin",
        "expansion below contact pressure does not part the surfaces: expected 1 or more",
    )?;
    expect((0.0..=0.2).contains(&f.taper), "taper", "expected a taper from 0 (a cylinder) to 0.2")?;
    expect(f.mu >= 0.0, "mu", "expected a friction of 0 or more")?;
    let contact = (f.delta.0 / 1000.0).max(0.0) * stiffness(d, f.hub_outside.0, f.shaft_bore.0, f.hub, f.shaft);
    let q = (d / f.hub_outside.0).powi(2);
    let (expansion, limit) = (contact * f.margin, f.yield_mpa.0 * (1.0 - q) / 2.0);
    Ok(OilAnswer {
        contact: Megapascals(contact),
        expansion: Megapascals(expansion),
        expansion_limit: Megapascals(limit),
        possible: expansion <= limit,
        push: Newtons(PI * d * f.length.0 * contact * (f.mu + f.taper / 2.0)),
        drive_up: (f.taper > 0.0).then(|| Millimetres(f.delta.0.max(0.0) / 1000.0 / f.taper)),
    })
}

/// A collar that was driven up, as the pumps and the dial said.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Driven {
    /// From first contact to home.
    pub way: Millimetres,
    /// That way less the wanted one; none on a cylinder.
    pub off: Option<Millimetres>,
    /// What is to be done now.
    pub next: Next,
}

/// What a collar that is driven up wants now.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Next {
    /// The hub may have yielded: it is looked at before anything else.
    Yielded,
    /// It was not expanded by what it needs, or does not stand where it should.
    LookAgain,
    /// The push is held on.
    Hold,
    /// The push may be let go.
    Release,
}

/// Whether a collar is where it should be and may be let go: the oil was above what parts the surfaces and below what
/// makes the hub yield, the way is that of the taper within a tenth, the push was held. Source: docs/trade.md, Fits and
/// heat.
///
/// ```
/// use ironseat_core::fit::hydraulic::{Next, driven};
/// use ironseat_core::quantity::{Megapascals as Mpa, Millimetres as Mm};
/// let d = |held| driven(Mpa::of(95.0), Mpa::of(90.0), Some(Mpa::of(137.0)), (Mm::of(0.12), Mm::of(3.7)), Some(Mm::of(3.6)), (held, 10.0));
/// assert_eq!((d(4.0).next, d(10.0).next), (Next::Hold, Next::Release));
/// assert!((d(10.0).way.get() - 3.58).abs() < 1e-9);
/// ```
#[must_use]
pub fn driven(
    oil: Megapascals,
    wanted: Megapascals,
    limit: Option<Megapascals>,
    dial: (Millimetres, Millimetres),
    way_wanted: Option<Millimetres>,
    (held_min, hold_min): (f64, f64),
) -> Driven {
    let way = (dial.1.0 - dial.0.0).abs();
    let off = way_wanted.map(|w| way - w.0);
    let short = off.zip(way_wanted).is_some_and(|(off, w)| off.abs() > 0.1 * w.0 + 1e-9);
    let next = if limit.is_some_and(|l| oil.0 > l.0) {
        Next::Yielded
    } else if short || oil.0 < wanted.0 {
        Next::LookAgain
    } else if held_min + 1e-9 < hold_min {
        Next::Hold
    } else {
        Next::Release
    };
    Driven { way: Millimetres(way), off: off.map(Millimetres), next }
}

/// A bearing with a tapered bore on a tapered seat or sleeve.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct DriveUp {
    /// Axial way from first contact.
    pub way: Millimetres,
    /// Interference it makes.
    pub delta: Micrometres,
    /// Radial clearance that is left, measured by feeler.
    pub left: Micrometres,
}

/// Drive-up for a wanted loss of radial clearance: the inner raceway grows by k·(1 - k0²)/(1 - k²·k0²) of the
/// interference (k = d/raceway, k0 = bore/d, equal steels), and interference is taper times way. Smoothing of the two
/// surfaces costs some more way, `smoothing` (10 µm if unknown). Source: docs/trade.md, Fits and heat, derived.
///
/// ```
/// use ironseat_core::{fit::hydraulic::drive_up, quantity::{Micrometres, Millimetres as Mm}};
/// let a = drive_up(Mm::of(100.0), Mm::of(122.0), Mm::of(0.0), 1.0 / 12.0, Micrometres::of(75.0), Micrometres::of(45.0), Micrometres::of(10.0))?;
/// assert!((a.left.get() - 30.0).abs() < 1e-9 && (0.7..0.85).contains(&a.way.get()));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `raceway_mm` not above d; `shaft_bore_mm` not below d; `taper` not above 0; `loss_um` negative or more than there
/// is.
pub fn drive_up(
    d: Millimetres,
    raceway: Millimetres,
    shaft_bore: Millimetres,
    taper: f64,
    clearance: Micrometres,
    loss: Micrometres,
    smoothing: Micrometres,
) -> Result<DriveUp> {
    expect(d.0 > 0.0 && raceway.0 > d.0, "raceway_mm", "expected the raceway to be larger than the bore")?;
    expect(
        (0.0..d.0).contains(&shaft_bore.0),
        "shaft_bore_mm",
        "expected the bore of the shaft to be smaller than the seat",
    )?;
    expect(taper > 0.0 && taper <= 0.2, "taper", "expected a taper such as 1/12 or 1/30")?;
    expect(loss.0 >= 0.0 && loss.0 <= clearance.0, "loss_um", "expected a loss between 0 and the clearance there is")?;
    let (k, k0) = (d.0 / raceway.0, shaft_bore.0 / d.0);
    let share = k * (1.0 - k0 * k0) / (1.0 - k * k * k0 * k0);
    let delta = loss.0 / share;
    let way = if loss.0 == 0.0 { 0.0 } else { (delta + smoothing.0) / 1000.0 / taper };
    Ok(DriveUp { way: Millimetres(way), delta: Micrometres(delta), left: Micrometres(clearance.0 - loss.0) })
}

/// How much warmer the housing (or cooler the ring) must be for a ring to come free: interference/(alpha_diff·D), where
/// heating both frees it only by the difference of their growth. None when the ring grows as much as the housing.
///
/// ```
/// use ironseat_core::{fit::{Material, hydraulic::frees_at}, quantity::{Micrometres, Millimetres}};
/// let k = frees_at(Millimetres::of(80.0), Micrometres::of(30.0), Material::Aluminium, Material::BearingSteel).unwrap();
/// assert!((k.get() - 30.0 / 1000.0 / (11.0e-6 * 80.0)).abs() < 1e-9); // some 34 K: an oven does it
/// assert!(frees_at(Millimetres::of(80.0), Micrometres::of(30.0), Material::GreyIron, Material::BearingSteel).is_none());
/// ```
#[must_use]
pub fn frees_at(outside: Millimetres, delta: Micrometres, housing: Material, ring: Material) -> Option<Kelvins> {
    let difference = housing.expansion() - ring.expansion();
    (difference > 1e-7).then(|| Kelvins((delta.0 / 1000.0).max(0.0) / (difference * outside.0)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn fit(delta: f64, taper: f64) -> OilFit {
        OilFit {
            d: Millimetres(100.0),
            hub_outside: Millimetres(200.0),
            shaft_bore: Millimetres(0.0),
            length: Millimetres(80.0),
            delta: Micrometres(delta),
            hub: Material::CarbonSteel,
            shaft: Material::CarbonSteel,
            taper,
            margin: 1.1,
            mu: 0.02,
            yield_mpa: Megapascals(300.0),
        }
    }

    proptest! {
        #[test]
        fn more_interference_never_needs_less(delta in 0.0f64..300.0, more in 0.0f64..100.0, taper in 0.001f64..0.1) {
            let (a, b) = (oil(&fit(delta, taper)).unwrap(), oil(&fit(delta + more, taper)).unwrap());
            prop_assert!(b.contact.0 >= a.contact.0 && b.push.0 >= a.push.0 && b.drive_up.unwrap().0 >= a.drive_up.unwrap().0);
            prop_assert!(a.possible || !b.possible);
            prop_assert!(a.expansion.0 >= a.contact.0);
        }

        #[test]
        fn a_slower_taper_needs_a_longer_way(loss in 1.0f64..60.0) {
            let way = |taper: f64| drive_up(Millimetres(100.0), Millimetres(122.0), Millimetres(0.0), taper, Micrometres(80.0), Micrometres(loss), Micrometres(10.0)).unwrap().way.0;
            prop_assert!((way(1.0 / 30.0) / way(1.0 / 12.0) - 2.5).abs() < 1e-9);
        }
    }

    #[test]
    fn a_cylinder_has_no_drive_up_and_bad_sizes_are_named() {
        assert_eq!(oil(&fit(50.0, 0.0)).unwrap().drive_up, None);
        assert_eq!(
            oil(&OilFit { hub_outside: Millimetres(90.0), ..fit(50.0, 0.0) }).unwrap_err().field,
            "hub_outside_mm"
        );
        assert_eq!(oil(&OilFit { margin: 0.9, ..fit(50.0, 0.0) }).unwrap_err().field, "margin");
        assert!(!oil(&fit(900.0, 0.0)).unwrap().possible);
    }
}
