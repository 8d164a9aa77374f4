//! Several stations along a shaft: offset, tilt, bow and cause.

use crate::instrument::SLACK;
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
pub struct StationLine {
    pub offset: (f64, f64),
    /// µm per mm.
    pub tilt: (f64, f64),
    /// Greatest remainder of the stations between; none with two places.
    pub bow: Option<(f64, f64)>,
    pub cause: Cause,
}

/// The pattern.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Cause {
    True,
    Bow,
    BowAndSetOver,
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
            Self::BowAndSetOver => "bow_and_set_over",
            Self::Tilt => "tilt",
            Self::OffsetAndTilt => "offset_and_tilt",
            Self::Offset => "offset",
        }
    }
}

impl StationLine {
    /// Runout to be expected at another station: twice the length of the line there.
    #[must_use]
    pub fn predict(&self, z: Millimetres) -> Micrometres {
        Micrometres(2.0 * (self.offset.0 + self.tilt.0 * z.0).hypot(self.offset.1 + self.tilt.1 * z.0))
    }
}

/// Lays a line through the axis vectors of the end stations: offset and tilt; what the others leave is bow. Stations at
/// the same place count as one. Source: line through two points; a bent shaft has its ends where the bearings hold it.
///
/// # Errors
/// `stations` with fewer than two different places.
pub fn line(stations: &[Station], seat_z: Option<Millimetres>, u: Micrometres) -> Result<StationLine> {
    expect(stations.len() >= 2, "stations", "at least two stations are expected")?;
    let mut sorted = stations.to_vec();
    sorted.sort_by(|a, b| a.z.0.total_cmp(&b.z.0));
    let mut places: Vec<(Station, f64)> = Vec::new();
    for s in sorted {
        match places.last_mut().filter(|(p, _)| s.z.0 - p.z.0 <= SLACK) {
            Some((p, n)) => {
                *n += 1.0;
                p.x.0 += (s.x.0 - p.x.0) / *n;
                p.y.0 += (s.y.0 - p.y.0) / *n;
            }
            None => places.push((s, 1.0)),
        }
    }
    let [(first, _), between @ .., (last, _)] = &places[..] else {
        return Err(crate::Refusal::new("stations", "at least two different places along the shaft are expected"));
    };
    let length = last.z.0 - first.z.0;
    let (tx, ty) = ((last.x.0 - first.x.0) / length, (last.y.0 - first.y.0) / length);
    let (ox, oy) = (first.x.0 - tx * first.z.0, first.y.0 - ty * first.z.0);
    let rest = between.iter().map(|(s, _)| (s.x.0 - ox - tx * s.z.0, s.y.0 - oy - ty * s.z.0));
    // Of equals the first: the least z.
    let bow = rest.reduce(|best, r| if r.0.hypot(r.1) > best.0.hypot(best.1) + SLACK { r } else { best });
    let largest = stations.iter().map(|s| s.x.0.hypot(s.y.0)).fold(0.0, f64::max);
    let seat = seat_z.map_or(first.z.0, |z| z.0);
    let (t, o) = (tx.hypot(ty) * length, (ox + tx * seat).hypot(oy + ty * seat));
    let b = bow.map_or(0.0, |(x, y)| x.hypot(y));
    let over = |v: f64| v > u.0 + SLACK;
    let cause = if !over(largest) {
        Cause::True
    } else if over(b) && !over(t) && !over(o) {
        Cause::Bow
    } else if over(b) {
        Cause::BowAndSetOver
    } else if over(t) && o <= u.0.max(t / 4.0) + SLACK {
        Cause::Tilt
    } else if over(t) {
        Cause::OffsetAndTilt
    } else {
        Cause::Offset
    };
    Ok(StationLine { offset: (ox, oy), tilt: (tx, ty), bow, cause })
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
    fn the_patterns_are_told_apart() {
        let cause = |s: &[Station]| line(s, None, Micrometres(2.0)).unwrap().cause;
        assert_eq!(cause(&[at(0.0, 9.0, 0.0), at(100.0, 9.0, 0.5), at(200.0, 9.0, 0.0)]), Cause::Offset);
        assert_eq!(cause(&[at(0.0, 0.2, 0.0), at(100.0, 10.0, 0.0), at(200.0, 20.0, 0.0)]), Cause::Tilt);
        assert_eq!(cause(&[at(0.0, 0.0, 0.0), at(100.0, 14.0, 0.0), at(200.0, 0.5, 0.0)]), Cause::Bow);
        assert_eq!(cause(&[at(0.0, 8.0, 0.0), at(100.0, 18.0, 0.0), at(200.0, 28.0, 0.0)]), Cause::OffsetAndTilt);
        assert_eq!(cause(&[at(0.0, 1.0, 0.0), at(200.0, 0.0, 1.5)]), Cause::True);
    }
}
