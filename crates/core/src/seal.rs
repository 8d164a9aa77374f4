//! Lip seals, O-rings, packing, probes and wires (docs/trade.md, Fastening and sealing).

use crate::instrument::SLACK;
use crate::quantity::{Micrometres, Millimetres};
use crate::refusal::{Result, expect};
use std::f64::consts::PI;

/// Depths of a seal's face round its pocket.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Tilt {
    /// Mean depth.
    pub mean: Millimetres,
    /// Deepest less shallowest.
    pub tilt: Millimetres,
    /// The limit it was held against.
    pub limit: Millimetres,
    /// Within the limit.
    pub go: bool,
}

/// Largest tilt of a seal by shaft: 0.2 mm to 50, 0.3 to 100, 0.4 above. Source: docs/trade.md, Fastening and sealing,
/// a default.
#[must_use]
pub fn tilt_limit(shaft: Millimetres) -> Millimetres {
    Millimetres(match shaft.0 {
        d if d <= 50.0 + SLACK => 0.2,
        d if d <= 100.0 + SLACK => 0.3,
        _ => 0.4,
    })
}

/// Tilt of a seal from three or more depths.
///
/// ```
/// use ironseat_core::{quantity::Millimetres, seal};
/// let t = seal::tilt(&[2.0, 2.1, 2.3, 2.1], seal::tilt_limit(Millimetres::of(40.0)))?;
/// assert!(!t.go && (t.tilt.get() - 0.3).abs() < 1e-9);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `depths_mm` with fewer than three.
pub fn tilt(depths: &[f64], limit: Millimetres) -> Result<Tilt> {
    expect(depths.len() >= 3, "depths_mm", "at least three depths are expected")?;
    let (lo, hi) = depths.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), d| (l.min(*d), h.max(*d)));
    let mean = depths.iter().sum::<f64>() / depths.len() as f64;
    Ok(Tilt { mean: Millimetres(mean), tilt: Millimetres(hi - lo), limit, go: hi - lo <= limit.0 + SLACK })
}

/// Where a new lip is set so that it does not run in the old track.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Shift {
    Deeper,
    Shallower,
    Sleeve,
}

impl Shift {
    /// Name in the contract.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::Deeper => "deeper",
            Self::Shallower => "shallower",
            Self::Sleeve => "sleeve",
        }
    }
}

/// Room and place of a seal in its pocket.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Track {
    pub travel: Millimetres,
    pub deeper: Millimetres,
    pub shallower: Millimetres,
    pub shift: Shift,
    pub new_depth: Millimetres,
    /// Below the rim.
    pub new_lip: Millimetres,
}

/// Shifts a seal by the width of the old track: deeper if there is room, else shallower, else a thin repair sleeve.
/// Source: docs/trade.md, Fastening and sealing.
///
/// ```
/// use ironseat_core::{quantity::Millimetres as Mm, seal};
/// let t = seal::track(Mm::of(12.0), Mm::of(8.0), Mm::of(1.0), Mm::of(1.5), None)?;
/// assert_eq!((t.shift, t.new_depth), (seal::Shift::Deeper, Mm::of(2.5)));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `width_mm` when the seal is wider than its pocket; `old_depth_mm` outside its travel.
pub fn track(
    pocket: Millimetres,
    width: Millimetres,
    old_depth: Millimetres,
    track: Millimetres,
    lip: Option<Millimetres>,
) -> Result<Track> {
    let travel = pocket.0 - width.0;
    expect(travel >= -SLACK, "width_mm", "the seal is wider than its pocket")?;
    expect(
        old_depth.0 >= -SLACK && old_depth.0 <= travel + SLACK,
        "old_depth_mm",
        "the old depth lies outside the travel of the seal in its pocket",
    )?;
    let lip = lip.map_or(width.0 / 2.0, |l| l.0);
    let (deeper, shallower) = (travel - old_depth.0, old_depth.0);
    let (shift, new) = if deeper + SLACK >= track.0 {
        (Shift::Deeper, old_depth.0 + track.0)
    } else if shallower + SLACK >= track.0 {
        (Shift::Shallower, old_depth.0 - track.0)
    } else {
        (Shift::Sleeve, old_depth.0)
    };
    Ok(Track {
        travel: Millimetres(travel),
        deeper: Millimetres(deeper),
        shallower: Millimetres(shallower),
        shift,
        new_depth: Millimetres(new),
        new_lip: Millimetres(new + lip),
    })
}

/// Material of a lip, with the speed it stands when well oiled and little pressed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Lip {
    Nitrile,
    Acrylic,
    Silicone,
    Fluorocarbon,
    Ptfe,
}

impl Lip {
    /// Usual limit of the lip speed in m/s; the maker's figure wins. Source: common practice after ISO 6194-1.
    #[must_use]
    pub fn limit_m_s(self) -> f64 {
        match self {
            Self::Nitrile => 14.0,
            Self::Acrylic => 20.0,
            Self::Silicone | Self::Fluorocarbon => 36.0,
            Self::Ptfe => 30.0,
        }
    }
}

/// Speed of a shaft under a lip, m/s: pi·d·n.
///
/// ```
/// use ironseat_core::{quantity::Millimetres, seal};
/// let v = seal::lip_speed(Millimetres::of(40.0), 2900.0);
/// assert!((v - 6.074).abs() < 1e-3 && v < seal::Lip::Nitrile.limit_m_s());
/// ```
#[must_use]
pub fn lip_speed(shaft: Millimetres, rpm: f64) -> f64 {
    PI * shaft.0 / 1000.0 * rpm.abs() / 60.0
}

/// What an O-ring does in its groove, percent.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Gland {
    pub squeeze: f64,
    pub stretch: f64,
    pub fill: f64,
    /// 15 to 30, static.
    pub squeeze_ok: bool,
    /// 0 to 5.
    pub stretch_ok: bool,
    /// At most 85.
    pub fill_ok: bool,
}

/// Squeeze, stretch and fill of a static O-ring; the cord is not thinned by its stretch. Source: docs/trade.md,
/// Fastening and sealing.
///
/// ```
/// use ironseat_core::{quantity::Millimetres as Mm, seal};
/// let g = seal::gland(Mm::of(3.53), Mm::of(50.0), Mm::of(2.8), Mm::of(4.7), Mm::of(51.0));
/// assert!(g.squeeze_ok && g.stretch_ok && g.fill_ok);
/// ```
#[must_use]
pub fn gland(
    cord: Millimetres,
    ring_id: Millimetres,
    depth: Millimetres,
    width: Millimetres,
    groove_d: Millimetres,
) -> Gland {
    let squeeze = (cord.0 - depth.0) / cord.0 * 100.0;
    let stretch = (groove_d.0 - ring_id.0) / ring_id.0 * 100.0;
    let fill = PI / 4.0 * cord.0 * cord.0 / (depth.0 * width.0) * 100.0;
    let within = |v: f64, lo: f64, hi: f64| v >= lo - SLACK && v <= hi + SLACK;
    Gland {
        squeeze,
        stretch,
        fill,
        squeeze_ok: within(squeeze, 15.0, 30.0),
        stretch_ok: within(stretch, 0.0, 5.0),
        fill_ok: fill <= 85.0 + SLACK,
    }
}

/// Packing rings for a stuffing box.
#[derive(Debug, Clone, PartialEq)]
pub struct Packing {
    /// Side of the square braid: half of box bore less shaft.
    pub side: Millimetres,
    /// Rings that go in.
    pub rings: usize,
    /// Length to cut, square, along the middle of the braid.
    pub cut: Millimetres,
    /// Where the gap of each ring goes, degrees, first ring at 0.
    pub gaps_deg: Vec<f64>,
}

/// Rings of a stuffing box: how many, how long, where the gaps go. Two or three rings are staggered by a third of a
/// turn, more by a quarter. Source: docs/trade.md, Fastening and sealing.
///
/// ```
/// use ironseat_core::{quantity::Millimetres as Mm, seal};
/// let p = seal::packing(Mm::of(40.0), Mm::of(60.0), Mm::of(52.0))?;
/// assert_eq!((p.rings, p.side, &p.gaps_deg[..]), (5, Mm::of(10.0), &[0.0, 90.0, 180.0, 270.0, 0.0][..]));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `box_mm` not larger than the shaft; `depth_mm` too shallow for one ring.
pub fn packing(shaft: Millimetres, bore: Millimetres, depth: Millimetres) -> Result<Packing> {
    expect(bore.0 > shaft.0, "box_mm", "expected the box to be larger than the shaft")?;
    let side = (bore.0 - shaft.0) / 2.0;
    let rings = (depth.0 / side + SLACK) as usize;
    expect((1..=200).contains(&rings), "depth_mm", "expected the box to take at least one ring")?;
    let step = if rings <= 3 { 120.0 } else { 90.0 };
    Ok(Packing {
        side: Millimetres(side),
        rings,
        cut: Millimetres(PI * (shaft.0 + side)),
        gaps_deg: (0..rings).map(|k| (k as f64 * step) % 360.0).collect(),
    })
}

/// A split seal ring in its groove.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SplitRing {
    /// Groove less ring.
    pub side: Millimetres,
    /// Least and largest gap at the split, the ring in its bore.
    pub window: (Millimetres, Millimetres),
    /// The gap lies in it.
    pub gap_right: bool,
    /// What the ring adds to the turning of its collar; none without both torques.
    pub drag_nm: Option<f64>,
    /// The collar turns as freely as before.
    pub free: Option<bool>,
}

/// Groove and gap of a split ring, and whether its collar turns freely with it: a ring that is pinched drags. Without
/// the maker's figures the gap is 0.002 to 0.006 of the bore, and a quarter of the torque before may be added. Source:
/// docs/trade.md, Fastening and sealing.
///
/// ```
/// use ironseat_core::{quantity::Millimetres as Mm, seal};
/// let r = seal::split_ring(Mm::of(80.0), (Mm::of(2.95), Mm::of(3.0)), Mm::of(0.3), (None, None), Some((0.4, 0.9)), None)?;
/// assert!(r.gap_right && r.free == Some(false) && (r.side.get() - 0.05).abs() < 1e-9);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `gap_hi_mm` not above the least gap.
pub fn split_ring(
    bore: Millimetres,
    (ring, groove): (Millimetres, Millimetres),
    gap: Millimetres,
    window: (Option<Millimetres>, Option<Millimetres>),
    torque: Option<(f64, f64)>,
    may_add_nm: Option<f64>,
) -> Result<SplitRing> {
    let lo = window.0.unwrap_or(Millimetres(0.002 * bore.0));
    let hi = window.1.unwrap_or(Millimetres(0.006 * bore.0));
    expect(hi.0 > lo.0, "gap_hi_mm", "expected the largest gap to be above the least")?;
    Ok(SplitRing {
        side: Millimetres(groove.0 - ring.0),
        window: (lo, hi),
        gap_right: gap.0 >= lo.0 - SLACK && gap.0 <= hi.0 + SLACK,
        drag_nm: torque.map(|(before, after)| after - before),
        free: torque.map(|(before, after)| after - before <= may_add_nm.unwrap_or(0.25 * before) + 1e-9),
    })
}

/// Setting an eddy probe.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Probe {
    /// Target, without its sign.
    pub target_v: f64,
    /// Move the probe by this, + away from the shaft.
    pub shift: Micrometres,
    /// The reading lies in the linear range.
    pub in_range: bool,
    /// Gap, with a known pair of volts and gap.
    pub gap: Option<Micrometres>,
}

/// Volts to gap by the sensitivity, about a target that is usually the middle of the linear range. Signs of volts are
/// ignored: gap grows with them. Source: docs/trade.md, Fastening and sealing.
///
/// ```
/// use ironseat_core::seal::probe;
/// let p = probe(-8.0, 7.87, (-2.0, -18.0), None, None)?;
/// assert!((p.shift.get() - 2000.0 / 7.87).abs() < 1e-6 && p.in_range);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `high_v` not above low; `target_v` outside the range.
pub fn probe(
    now_v: f64,
    sensitivity_mv_um: f64,
    range_v: (f64, f64),
    target_v: Option<f64>,
    known: Option<(f64, Micrometres)>,
) -> Result<Probe> {
    let (low, high, now) = (range_v.0.abs(), range_v.1.abs(), now_v.abs());
    expect(high > low, "high_v", "expected the far end to have more volts than the near end")?;
    let target = target_v.map_or(f64::midpoint(low, high), f64::abs);
    expect(
        target >= low - SLACK && target <= high + SLACK,
        "target_v",
        "expected the target to lie in the linear range",
    )?;
    let per_um = sensitivity_mv_um / 1000.0;
    Ok(Probe {
        target_v: target,
        shift: Micrometres((target - now) / per_um),
        in_range: now >= low - SLACK && now <= high + SLACK,
        gap: known.map(|(v, gap)| Micrometres(gap.0 + (now - v.abs()) / per_um)),
    })
}

/// What a wire says before and after a cover goes on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Wire {
    /// The same within what the meter can tell.
    Whole,
    /// No way through: broken.
    Open,
    /// Far less than before, or a way to earth: pinched.
    Pinched,
    /// Changed: look at terminals and route.
    Changed,
}

/// Compares the resistance of a thermocouple or resistance wire before and after closing, and its way to earth. The
/// pinched wire is the classic loss. `share` is what may change, a twentieth if nothing else is known.
///
/// ```
/// use ironseat_core::seal::{Wire, wire};
/// assert_eq!(wire(109.7, 109.9, Some(20e6), 0.05)?, Wire::Whole);
/// assert_eq!(wire(109.7, 109.8, Some(300.0), 0.05)?, Wire::Pinched); // it touches the housing
/// assert_eq!(wire(109.7, f64::INFINITY, None, 0.05)?, Wire::Open);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `before_ohm` not above 0 or not finite: measure it before the cover goes on; `after_ohm` below 0 or not a number.
pub fn wire(before_ohm: f64, after_ohm: f64, earth_ohm: Option<f64>, share: f64) -> Result<Wire> {
    /// Below this a way to earth is a fault: a wet junction still shows more.
    const EARTH_OHM: f64 = 1e6;
    expect(
        before_ohm.is_finite() && before_ohm > 0.0,
        "before_ohm",
        "measure the wire before the cover goes on: expected ohms above 0",
    )?;
    expect(after_ohm >= 0.0, "after_ohm", "expected ohms of 0 or more")?;
    Ok(if earth_ohm.is_some_and(|e| e < EARTH_OHM) {
        Wire::Pinched
    } else if after_ohm > 100.0 * before_ohm {
        Wire::Open
    } else if (after_ohm - before_ohm).abs() <= share * before_ohm + SLACK {
        Wire::Whole
    } else if after_ohm < 0.7 * before_ohm {
        Wire::Pinched
    } else {
        Wire::Changed
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn a_new_lip_never_runs_in_the_old_track_unless_a_sleeve_is_fitted(pocket in 8f64..30.0, width in 4f64..8.0, at in 0f64..1.0, wide in 0.2f64..4.0) {
            let old = (pocket - width) * at;
            let t = track(Millimetres(pocket), Millimetres(width), Millimetres(old), Millimetres(wide), None).unwrap();
            prop_assert!((t.deeper.0 + t.shallower.0 - t.travel.0).abs() < 1e-9);
            prop_assert!(t.new_depth.0 >= -1e-9 && t.new_depth.0 <= t.travel.0 + 1e-9);
            match t.shift {
                Shift::Sleeve => prop_assert!(t.new_depth.0 == old && wide > t.deeper.0.max(t.shallower.0)),
                _ => prop_assert!((t.new_depth.0 - old).abs() >= wide - 1e-9),
            }
        }

        #[test]
        fn a_probe_moved_as_told_reads_its_target(v in -20f64..-1.0, s in 3f64..12.0, gap in 100f64..2000.0) {
            let p = probe(v, s, (-1.0, -20.0), None, Some((v, Micrometres(gap)))).unwrap();
            let then = v.abs() + p.shift.0 * s / 1000.0;
            prop_assert!((then - p.target_v).abs() < 1e-9 && (p.gap.unwrap().0 - gap).abs() < 1e-6);
        }
    }

    #[test]
    fn packing_goes_by_the_box() {
        let p = packing(Millimetres(30.0), Millimetres(46.0), Millimetres(24.0)).unwrap();
        assert_eq!(p.gaps_deg, [0.0, 120.0, 240.0]);
        assert!((p.cut.0 - PI * 38.0).abs() < 1e-9);
        assert_eq!(packing(Millimetres(30.0), Millimetres(30.0), Millimetres(24.0)).unwrap_err().field, "box_mm");
        assert_eq!(packing(Millimetres(30.0), Millimetres(46.0), Millimetres(5.0)).unwrap_err().field, "depth_mm");
    }

    #[test]
    fn a_changed_wire_is_told_from_a_pinched_one() {
        assert_eq!(wire(100.0, 60.0, None, 0.05).unwrap(), Wire::Pinched);
        assert_eq!(wire(100.0, 120.0, None, 0.05).unwrap(), Wire::Changed);
        assert_eq!(wire(0.0, 1.0, None, 0.05).unwrap_err().field, "before_ohm");
    }
}
