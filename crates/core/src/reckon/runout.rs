//! Names under "runout" of the contract, and the vee factor.

use super::input::{may, need};
use super::lists::{items, needed, numbers};
use super::{Entry, Input, Kind, answer};
use crate::quantity::{Micrometres, Millimetres};
use crate::refusal::{Refusal, Result, expect};
use crate::rotation::{self, Station, Sweep, direction};
use serde_json::Value;

const READINGS: super::Field = need("readings_um", Kind::Rows, "indicator readings");
const ANGLES: super::Field = may("angles_deg", Kind::Rows, "angles (equal steps from 0)");

pub(super) static ENTRIES: [Entry; 5] = [
    Entry {
        name: "vee.factor",
        purpose: "How much a vee-block magnifies lobes.",
        source: "support function; handbook 02",
        fields: &[need("angle_deg", Kind::Number, "included angle"), need("lobes", Kind::Number, "number of lobes, 2 or more")],
        compute: vee,
    },
    Entry {
        name: "runout.sweep",
        purpose: "Takes a sweep apart into once, twice, three times a turn.",
        source: "least squares; handbook 04",
        fields: &[READINGS, ANGLES, may("u_um", Kind::NotNegative, "uncertainty of the indicator (0)")],
        compute: sweep,
    },
    Entry {
        name: "runout.face",
        purpose: "Squareness and warp of a face from a sweep.",
        source: "handbook 04",
        fields: &[
            READINGS,
            ANGLES,
            may("u_um", Kind::NotNegative, "uncertainty (0)"),
            need("radius_mm", Kind::Positive, "radius of the sweep"),
        ],
        compute: face,
    },
    Entry {
        name: "runout.stations",
        purpose: "Offset, tilt, bow and cause from several stations.",
        source: "complex least squares; handbook 04",
        fields: &[
            need("stations", Kind::Objects, "list of {z_mm, x_um, y_um}"),
            may("seat_z_mm", Kind::Number, "place of the seat (smallest z)"),
            may("u_um", Kind::NotNegative, "uncertainty (2)"),
            may("predict_z_mm", Kind::Number, "station to foretell"),
        ],
        compute: stations,
    },
    Entry {
        name: "runout.clocking",
        purpose: "Turning high spots of two bearings against each other.",
        source: "handbook 04",
        fields: &[
            need("front_um", Kind::NotNegative, "eccentricity at the front"),
            need("rear_um", Kind::NotNegative, "eccentricity at the rear"),
            need("overhang_mm", Kind::Positive, "nose beyond the front bearing"),
            need("span_mm", Kind::Positive, "between the bearings"),
            may("present_deg", Kind::Number, "angle between the marks now (180)"),
        ],
        compute: clocking,
    },
];

fn vee(i: &Input) -> Result<Value> {
    let n = i.num("lobes", 0.0);
    expect(n.fract() == 0.0 && (2.0..=1e6).contains(&n), "lobes", "expected a whole number of lobes, 2 or more")?;
    answer! { factor: rotation::vee_factor(i.num("angle_deg", 0.0), n as u32)? }
}

fn swept(i: &Input) -> Result<Sweep> {
    rotation::sweep(&needed(i, "readings_um")?, numbers(i, "angles_deg")?.as_deref(), 3)
}

fn sweep(i: &Input) -> Result<Value> {
    let s = swept(i)?;
    let h = |k: usize| s.harmonics.get(k);
    answer! {
        mean_um: s.mean, tir_um: s.tir, fit_tir_um: s.fit_tir, harmonics: s.harmonics.len() as f64,
        e1_um: h(0).map(|x| x.amplitude), high_deg: h(0).and_then(|x| x.degrees),
        e2_um: h(1).map(|x| x.amplitude), e2_deg: h(1).and_then(|x| x.degrees),
        e3_um: h(2).map(|x| x.amplitude), e3_deg: h(2).and_then(|x| x.degrees),
        rms_um: s.rms, noise: s.rms.0 > i.num("u_um", 0.0) + crate::instrument::SLACK,
    }
}

fn face(i: &Input) -> Result<Value> {
    let s = swept(i)?;
    let e1 = s.harmonics.first().map_or(0.0, |h| h.amplitude.0);
    let e2 = s.harmonics.get(1).map(|h| h.amplitude.0);
    let cause = if s.tir.0 <= i.num("u_um", 0.0) + crate::instrument::SLACK {
        "square"
    } else if e2.is_none_or(|e2| e1 >= e2) {
        "out_of_square"
    } else {
        "warped"
    };
    answer! {
        tir_um: s.tir, e1_um: e1, high_deg: s.harmonics.first().and_then(|h| h.degrees), across_um: 2.0 * e1,
        tilt_rad: e1 / 1000.0 / i.num("radius_mm", 1.0), warp_um: e2.map(|e| 2.0 * e), cause: cause,
    }
}

fn stations(i: &Input) -> Result<Value> {
    let list = items(i, "stations", &["z_mm", "x_um", "y_um"])?
        .iter()
        .map(|s| Ok(Station { z: Millimetres(s.num("z_mm")?), x: Micrometres(s.num("x_um")?), y: Micrometres(s.num("y_um")?) }))
        .collect::<Result<Vec<_>>>()?;
    let l = rotation::line(&list, i.maybe("seat_z_mm").map(Millimetres), Micrometres(i.num("u_um", 2.0)))?;
    answer! {
        offset_x_um: l.offset.0, offset_y_um: l.offset.1, tilt_x_um_mm: l.tilt.0, tilt_y_um_mm: l.tilt.1,
        bow_um: l.bow.map(|(x, y)| x.hypot(y)), bow_deg: l.bow.and_then(|(x, y)| direction(x, y, 1.0)),
        predicted_tir_um: i.maybe("predict_z_mm").map(|z| l.predict(Millimetres(z))), cause: l.cause.name(),
    }
}

fn clocking(i: &Input) -> Result<Value> {
    let c = rotation::clocking(
        Micrometres(i.num("front_um", 0.0)),
        Micrometres(i.num("rear_um", 0.0)),
        Millimetres(i.num("overhang_mm", 0.0)),
        Millimetres(i.num("span_mm", 0.0)),
        i.num("present_deg", 180.0),
    )
    .map_err(|e| Refusal::new(e.field, e.message))?;
    answer! { best_deg: 0.0, best_tir_um: c.best_tir, present_tir_um: c.present_tir, tolerance_deg: c.tolerance_deg }
}
