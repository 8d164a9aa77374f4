//! Names under "runout" of the contract, and the vee factor.

use super::Entry;
use super::declare::{List, NotNegative, Number, Numbers, Positive, Whole, computation, takes};
use crate::quantity::{Micrometres, Millimetres};
use crate::refusal::{Refusal, Result};
use crate::rotation::{self, Station, Sweep, direction};

pub(super) static ENTRIES: [&Entry; 5] = [&vee::ENTRY, &sweep::ENTRY, &face::ENTRY, &stations::ENTRY, &clocking::ENTRY];

computation! {
    /// How much a vee-block magnifies lobes.
    vee = "vee.factor";
    formula "|1 + (-1)^n cos(n (90 - half angle))/sin(half angle)|";
    source "ISO 4292:1985, two- and three-point measurement of roundness";
    holds "a small form of one lobe number on an otherwise round part";
    takes {
        /// included angle
        angle_deg: Number;
        /// number of lobes, 2 or more
        lobes: Whole<2, 1_000_000>;
    }
    gives {
        /// indicator over radial amplitude
        factor: f64;
    }
    example r#"{"angle_deg": 90, "lobes": 3}"#;
}

fn vee(i: &vee::Takes) -> Result<vee::Gives> {
    Ok(vee::Gives { factor: rotation::vee_factor(i.angle_deg, i.lobes as u32)? })
}

computation! {
    /// Takes a sweep apart into once, twice, three times a turn.
    sweep = "runout.sweep";
    formula "r(t) = m + a1 cos t + b1 sin t + a2 cos 2t + ...";
    source "discrete Fourier series by least squares; ISO 1101:2017 for total runout";
    holds "equal or known angles, an indicator that stays on one circle";
    takes {
        /// indicator readings
        readings_um: Numbers;
        /// angles
        [assumed] angles_deg: Option<Numbers> = "equal steps from 0";
        /// uncertainty of the indicator
        [assumed] u_um: NotNegative = 1.0;
    }
    gives {
        /// mean
        mean_um: Micrometres;
        /// largest - smallest reading
        tir_um: Micrometres;
        /// largest - smallest of the fitted curve
        fit_tir_um: Micrometres;
        /// highest harmonic fitted
        harmonics: f64;
        /// once a turn
        e1_um: Option<Micrometres>;
        /// high spot
        high_deg: Option<f64>;
        /// twice a turn
        e2_um: Option<Micrometres>;
        /// high spot of twice a turn
        e2_deg: Option<f64>;
        /// three times a turn
        e3_um: Option<Micrometres>;
        /// high spot of three times a turn
        e3_deg: Option<f64>;
        /// what is left over
        rms_um: Micrometres;
        /// whether that is more than the uncertainty
        noise: bool;
    }
    limits {
        "fewer than 9 readings: three-lobed form cannot be told" => |_, a| a.harmonics < 3.0;
    }
    example r#"{"readings_um": [10, 8, 3, -3, -8, -10, -8, -3, 3, 8, 11, 12], "u_um": 3}"#;
}

fn sweep(i: &sweep::Takes) -> Result<sweep::Gives> {
    let s = swept(&i.readings_um, i.angles_deg.as_ref())?;
    let h = |k: usize| s.harmonics.get(k);
    Ok(sweep::Gives {
        mean_um: s.mean,
        tir_um: s.tir,
        fit_tir_um: s.fit_tir,
        harmonics: s.harmonics.len() as f64,
        e1_um: h(0).map(|x| x.amplitude),
        high_deg: h(0).and_then(|x| x.degrees),
        e2_um: h(1).map(|x| x.amplitude),
        e2_deg: h(1).and_then(|x| x.degrees),
        e3_um: h(2).map(|x| x.amplitude),
        e3_deg: h(2).and_then(|x| x.degrees),
        rms_um: s.rms,
        noise: s.rms.0 > i.u_um + crate::instrument::SLACK,
    })
}

computation! {
    /// Squareness and warp of a face from a sweep.
    face = "runout.face";
    formula "tilt = e1/R; warp = 2 e2";
    source "discrete Fourier series by least squares; ISO 1101:2017, axial runout";
    holds "the rotor does not move along its axis while it is swept";
    takes {
        /// indicator readings
        readings_um: Numbers;
        /// angles
        [assumed] angles_deg: Option<Numbers> = "equal steps from 0";
        /// uncertainty
        [assumed] u_um: NotNegative = 1.0;
        /// radius of the sweep
        radius_mm: Positive;
    }
    gives {
        /// largest - smallest reading
        tir_um: Micrometres;
        /// once a turn
        e1_um: f64;
        /// high spot
        high_deg: Option<f64>;
        /// out of square across the face
        across_um: f64;
        /// tilt
        tilt_rad: f64;
        /// warp
        warp_um: Option<f64>;
        /// cause
        ["square" "out_of_square" "warped"] cause: &'static str;
    }
    limits {
        "no second harmonic from fewer than 6 readings: warp cannot be told from out of square" => |_, a| a.warp_um.is_none();
    }
    example r#"{"readings_um": [5, 0, -5, 0], "radius_mm": 40}"#;
}

fn face(i: &face::Takes) -> Result<face::Gives> {
    let s = swept(&i.readings_um, i.angles_deg.as_ref())?;
    let e1 = s.harmonics.first().map_or(0.0, |h| h.amplitude.0);
    let e2 = s.harmonics.get(1).map(|h| h.amplitude.0);
    let cause = if s.tir.0 <= i.u_um + crate::instrument::SLACK {
        "square"
    } else if e2.is_none_or(|e2| e1 >= e2) {
        "out_of_square"
    } else {
        "warped"
    };
    Ok(face::Gives {
        tir_um: s.tir,
        e1_um: e1,
        high_deg: s.harmonics.first().and_then(|h| h.degrees),
        across_um: 2.0 * e1,
        tilt_rad: e1 / 1000.0 / i.radius_mm,
        warp_um: e2.map(|e| 2.0 * e),
        cause,
    })
}

takes! {
    /// A sweep at a place along the shaft.
    pub(crate) struct StationIn {
        /// along the shaft
        z_mm: Number;
        /// eccentricity, cosine part
        x_um: Number;
        /// sine part
        y_um: Number;
    }
}

computation! {
    /// Offset, tilt, bow and cause from several stations.
    stations = "runout.stations";
    formula "e(z) = offset + tilt z through the end stations; bow is the greatest remainder of the others";
    source "line through two points; least squares of the sweep at each";
    holds "sweeps of one setting, marks at one angle";
    takes {
        /// sweeps along the shaft
        stations: List<StationIn>;
        /// place of the seat
        [assumed] seat_z_mm: Option<Number> = "smallest z";
        /// uncertainty
        [assumed] u_um: NotNegative = 2.0;
        /// station to foretell
        predict_z_mm: Option<Number>;
    }
    gives {
        /// offset of the line at z = 0, x
        offset_x_um: f64;
        /// offset of the line at z = 0, y
        offset_y_um: f64;
        /// slope of the line, x
        tilt_x_um_mm: f64;
        /// slope of the line, y
        tilt_y_um_mm: f64;
        /// greatest remainder between the ends
        bow_um: Option<f64>;
        /// direction of the bow
        bow_deg: Option<f64>;
        /// reading to expect
        predicted_tir_um: Option<Micrometres>;
        /// cause
        ["true" "bow" "bow_and_set_over" "tilt" "offset_and_tilt" "offset"] cause: &'static str;
    }
    limits {
        "two stations always lie on a line: bow cannot be told" => |_, a| a.bow_um.is_none();
    }
    example r#"{"stations": [{"z_mm": 0, "x_um": 1, "y_um": 0}, {"z_mm": 100, "x_um": 11, "y_um": 0}], "predict_z_mm": 200}"#;
}

fn stations(i: &stations::Takes) -> Result<stations::Gives> {
    let list: Vec<Station> = i
        .stations
        .iter()
        .map(|s| Station { z: Millimetres(s.z_mm), x: Micrometres(s.x_um), y: Micrometres(s.y_um) })
        .collect();
    let l = rotation::line(&list, i.seat_z_mm.map(Millimetres), Micrometres(i.u_um))?;
    Ok(stations::Gives {
        offset_x_um: l.offset.0,
        offset_y_um: l.offset.1,
        tilt_x_um_mm: l.tilt.0,
        tilt_y_um_mm: l.tilt.1,
        bow_um: l.bow.map(|(x, y)| x.hypot(y)),
        bow_deg: l.bow.and_then(|(x, y)| direction(x, y, 1.0)),
        predicted_tir_um: i.predict_z_mm.map(|z| l.predict(Millimetres(z))),
        cause: l.cause.name(),
    })
}

computation! {
    /// Turning high spots of two bearings against each other.
    clocking = "runout.clocking";
    formula "N = E_f (1 + a/b) - E_r a/b; best with both marks in one line";
    source "levers: the nose moves by E_f (1 + a/b) and - E_r a/b";
    holds "stiff shaft, eccentricities small against the span";
    takes {
        /// eccentricity at the front
        front_um: NotNegative;
        /// eccentricity at the rear
        rear_um: NotNegative;
        /// nose beyond the front bearing
        overhang_mm: Positive;
        /// between the bearings
        span_mm: Positive;
        /// angle between the marks now
        [assumed] present_deg: Number = 180.0;
    }
    gives {
        /// angle between the marks that is best
        best_deg: f64;
        /// runout of the nose then
        best_tir_um: Micrometres;
        /// runout of the nose now
        present_tir_um: Micrometres;
        /// how far off for 10 % more
        tolerance_deg: f64;
    }
    example r#"{"front_um": 3, "rear_um": 5, "overhang_mm": 60, "span_mm": 120}"#;
}

fn clocking(i: &clocking::Takes) -> Result<clocking::Gives> {
    let c = rotation::clocking(
        Micrometres(i.front_um),
        Micrometres(i.rear_um),
        Millimetres(i.overhang_mm),
        Millimetres(i.span_mm),
        i.present_deg,
    )
    .map_err(|e| Refusal::new(e.field, e.message))?;
    Ok(clocking::Gives {
        best_deg: 0.0,
        best_tir_um: c.best_tir,
        present_tir_um: c.present_tir,
        tolerance_deg: c.tolerance_deg,
    })
}

fn swept(readings: &[f64], angles: Option<&Vec<f64>>) -> Result<Sweep> {
    rotation::sweep(readings, angles.map(Vec::as_slice), 3)
}
