//! Several stations along a shaft: offset, tilt, bow and cause.

use crate::quantity::{Micrometres, Millimetres};
use crate::refusal::{Result, expect};

/// An axis vector at a station.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Station {
    pub z: Millimetres,
    pub x: Micrometres,
    pub y: Micrometres,
}

/// What several stations say together.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Line {
    pub offset: (f64, f64),
    /// µm per mm.
    pub tilt: (f64, f64),
    /// Remainder at the station nearest to the middle; none with two stations.
    pub bow: Option<(f64, f64)>,
    pub cause: Cause,
}

/// The pattern.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Cause {
    True,
    Bow,
    Tilt,
    OffsetAndTilt,
    Offset,
}

impl Cause {
    /// Name in the contract.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::True => "true",
            Self::Bow => "bow",
            Self::Tilt => "tilt",
            Self::OffsetAndTilt => "offset_and_tilt",
            Self::Offset => "offset",
        }
    }
}

impl Line {
    /// Runout to be expected at another station: twice the length of the line there.
    #[must_use]
    pub fn predict(&self, z: Millimetres) -> Micrometres {
        Micrometres(2.0 * (self.offset.0 + self.tilt.0 * z.0).hypot(self.offset.1 + self.tilt.1 * z.0))
    }
}

/// Fits a line through the axis vectors: offset, tilt, and what is left in the middle. Source: complex least squares; handbook 04.
///
/// # Errors
/// `stations` with fewer than two different places.
pub fn line(stations: &[Station], seat_z: Option<Millimetres>, u: Micrometres) -> Result<Line> {
    expect(stations.len() >= 2, "stations", "at least two stations are expected")?;
    let (lo, hi) = stations.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), s| (l.min(s.z.0), h.max(s.z.0)));
    expect(hi > lo, "stations", "at least two different places along the shaft are expected")?;
    let n = stations.len() as f64;
    let z0 = stations.iter().map(|s| s.z.0).sum::<f64>() / n;
    let zz: f64 = stations.iter().map(|s| (s.z.0 - z0).powi(2)).sum();
    let fit = |v: &dyn Fn(&Station) -> f64| {
        let mean = stations.iter().map(v).sum::<f64>() / n;
        let slope = stations.iter().map(|s| (s.z.0 - z0) * v(s)).sum::<f64>() / zz;
        (mean - slope * z0, slope)
    };
    let ((ox, tx), (oy, ty)) = (fit(&|s| s.x.0), fit(&|s| s.y.0));
    let middle = f64::midpoint(lo, hi);
    let bow = (stations.len() > 2).then(|| {
        let s =
            stations.iter().fold(stations[0], |best, s| if (s.z.0 - middle).abs() < (best.z.0 - middle).abs() - 1e-12 { *s } else { best });
        (s.x.0 - ox - tx * s.z.0, s.y.0 - oy - ty * s.z.0)
    });
    let largest = stations.iter().map(|s| s.x.0.hypot(s.y.0)).fold(0.0, f64::max);
    let seat = seat_z.map_or(lo, |z| z.0);
    let (t, o) = (tx.hypot(ty) * (hi - lo), (ox + tx * seat).hypot(oy + ty * seat));
    let b = bow.map_or(0.0, |(x, y)| x.hypot(y));
    let slack = crate::instrument::SLACK;
    let cause = if largest <= u.0 + slack {
        Cause::True
    } else if b > u.0 + slack && b > largest / 2.0 {
        Cause::Bow
    } else if t > u.0 + slack && o <= u.0.max(t / 4.0) + slack {
        Cause::Tilt
    } else if t > u.0 + slack {
        Cause::OffsetAndTilt
    } else {
        Cause::Offset
    };
    Ok(Line { offset: (ox, oy), tilt: (tx, ty), bow, cause })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn at(z: f64, x: f64, y: f64) -> Station {
        Station { z: Millimetres(z), x: Micrometres(x), y: Micrometres(y) }
    }

    proptest! {
        #[test]
        fn a_straight_axis_is_foretold_everywhere(ox in -20.0f64..20.0, oy in -20.0f64..20.0, tx in -0.2f64..0.2, ty in -0.2f64..0.2, z in -50.0f64..400.0) {
            let s: Vec<Station> = [0.0, 60.0, 150.0, 220.0].map(|z| at(z, ox + tx * z, oy + ty * z)).to_vec();
            let l = line(&s, None, Micrometres(2.0)).unwrap();
            prop_assert!(l.bow.is_some_and(|(x, y)| x.hypot(y) < 1e-9));
            prop_assert!((l.predict(Millimetres(z)).0 - 2.0 * (ox + tx * z).hypot(oy + ty * z)).abs() < 1e-6);
        }
    }

    #[test]
    fn the_patterns_of_the_handbook_are_told_apart() {
        let cause = |s: &[Station]| line(s, None, Micrometres(2.0)).unwrap().cause;
        assert_eq!(cause(&[at(0.0, 9.0, 0.0), at(100.0, 9.0, 0.5), at(200.0, 9.0, 0.0)]), Cause::Offset);
        assert_eq!(cause(&[at(0.0, 0.2, 0.0), at(100.0, 10.0, 0.0), at(200.0, 20.0, 0.0)]), Cause::Tilt);
        assert_eq!(cause(&[at(0.0, 0.0, 0.0), at(100.0, 14.0, 0.0), at(200.0, 0.5, 0.0)]), Cause::Bow);
        assert_eq!(cause(&[at(0.0, 8.0, 0.0), at(100.0, 18.0, 0.0), at(200.0, 28.0, 0.0)]), Cause::OffsetAndTilt);
        assert_eq!(cause(&[at(0.0, 1.0, 0.0), at(200.0, 0.0, 1.5)]), Cause::True);
    }
}
