//! Names under "runout" of the contract, and the vee factor.

use super::input::{guess, may, need};
use super::output::{Gives, gives, limit, number, or_null};
use super::{Answer, Entry, Input, Kind, answer};
use crate::quantity::{Micrometres, Millimetres};
use crate::refusal::{Refusal, Result};
use crate::rotation::{self, Station, Sweep, direction};
use serde_json::Value;

const READINGS: super::Field = need("readings_um", Kind::Numbers, "indicator readings");
const ANGLES: super::Field = guess("angles_deg", Kind::Numbers, "angles (equal steps from 0)");

pub(super) static ENTRIES: [Entry; 5] = [
    Entry {
        name: "vee.factor",
        purpose: "How much a vee-block magnifies lobes.",
        formula: "|1 + (-1)^n cos(n (90 - half angle))/sin(half angle)|",
        source: "support function; handbook 02",
        fields: &[
            need("angle_deg", Kind::Number, "included angle"),
            need("lobes", Kind::Whole(2, 1_000_000), "number of lobes, 2 or more"),
        ],
        outputs: &[gives("factor", Gives::Number, "indicator over radial amplitude")],
        limits: &[],
        example: r#"{"angle_deg": 90, "lobes": 3}"#,
        compute: vee,
    },
    Entry {
        name: "runout.sweep",
        purpose: "Takes a sweep apart into once, twice, three times a turn.",
        formula: "r(t) = m + a1 cos t + b1 sin t + a2 cos 2t + ...",
        source: "least squares; handbook 04",
        fields: &[READINGS, ANGLES, guess("u_um", Kind::NotNegative, "uncertainty of the indicator (1)")],
        outputs: &[
            gives("mean_um", Gives::Number, "mean"),
            gives("tir_um", Gives::Number, "largest - smallest reading"),
            gives("fit_tir_um", Gives::Number, "of the fitted curve"),
            gives("harmonics", Gives::Number, "highest harmonic fitted"),
            gives("e1_um", Gives::Number, "once a turn"),
            or_null("high_deg", Gives::Number, "high spot"),
            or_null("e2_um", Gives::Number, "twice a turn"),
            or_null("e2_deg", Gives::Number, "its high spot"),
            or_null("e3_um", Gives::Number, "three times a turn"),
            or_null("e3_deg", Gives::Number, "its high spot"),
            gives("rms_um", Gives::Number, "what is left over"),
            gives("noise", Gives::Flag, "whether that is more than the uncertainty"),
        ],
        limits: &[limit("fewer than 9 readings: three-lobed form cannot be told", |_, a| number(a, "harmonics").is_some_and(|h| h < 3.0))],
        example: r#"{"readings_um": [10, 8, 3, -3, -8, -10, -8, -3, 3, 8, 11, 12], "u_um": 3}"#,
        compute: sweep,
    },
    Entry {
        name: "runout.face",
        purpose: "Squareness and warp of a face from a sweep.",
        formula: "tilt = e1/R; warp = 2 e2",
        source: "handbook 04",
        fields: &[
            READINGS,
            ANGLES,
            guess("u_um", Kind::NotNegative, "uncertainty (1)"),
            need("radius_mm", Kind::Positive, "radius of the sweep"),
        ],
        outputs: &[
            gives("tir_um", Gives::Number, "largest - smallest reading"),
            gives("e1_um", Gives::Number, "once a turn"),
            or_null("high_deg", Gives::Number, "high spot"),
            gives("across_um", Gives::Number, "out of square across the face"),
            gives("tilt_rad", Gives::Number, "tilt"),
            or_null("warp_um", Gives::Number, "warp"),
            gives("cause", Gives::Word(&["square", "out_of_square", "warped"]), "cause"),
        ],
        limits: &[limit("no second harmonic from fewer than 6 readings: warp cannot be told from out of square", |_, a| {
            a.get("warp_um").is_some_and(Value::is_null)
        })],
        example: r#"{"readings_um": [5, 0, -5, 0], "radius_mm": 40}"#,
        compute: face,
    },
    Entry {
        name: "runout.stations",
        purpose: "Offset, tilt, bow and cause from several stations.",
        formula: "e(z) = offset + tilt z through the end stations; bow is the greatest remainder of the others",
        source: "line through two points; handbook 04",
        fields: &[
            need(
                "stations",
                Kind::Objects(&[
                    need("z_mm", Kind::Number, "along the shaft"),
                    need("x_um", Kind::Number, "eccentricity, cosine part"),
                    need("y_um", Kind::Number, "sine part"),
                ]),
                "sweeps along the shaft",
            ),
            guess("seat_z_mm", Kind::Number, "place of the seat (smallest z)"),
            guess("u_um", Kind::NotNegative, "uncertainty (2)"),
            may("predict_z_mm", Kind::Number, "station to foretell"),
        ],
        outputs: &[
            gives("offset_x_um", Gives::Number, "line at z = 0"),
            gives("offset_y_um", Gives::Number, "line at z = 0"),
            gives("tilt_x_um_mm", Gives::Number, "slope"),
            gives("tilt_y_um_mm", Gives::Number, "slope"),
            or_null("bow_um", Gives::Number, "greatest remainder between the ends"),
            or_null("bow_deg", Gives::Number, "its direction"),
            or_null("predicted_tir_um", Gives::Number, "reading to expect"),
            gives("cause", Gives::Word(&["true", "bow", "bow_and_set_over", "tilt", "offset_and_tilt", "offset"]), "cause"),
        ],
        limits: &[limit("two stations always lie on a line: bow cannot be told", |_, a| a.get("bow_um").is_some_and(Value::is_null))],
        example: r#"{"stations": [{"z_mm": 0, "x_um": 1, "y_um": 0}, {"z_mm": 100, "x_um": 11, "y_um": 0}], "predict_z_mm": 200}"#,
        compute: stations,
    },
    Entry {
        name: "runout.clocking",
        purpose: "Turning high spots of two bearings against each other.",
        formula: "N = E_f (1 + a/b) - E_r a/b; best with both marks in one line",
        source: "handbook 04",
        fields: &[
            need("front_um", Kind::NotNegative, "eccentricity at the front"),
            need("rear_um", Kind::NotNegative, "eccentricity at the rear"),
            need("overhang_mm", Kind::Positive, "nose beyond the front bearing"),
            need("span_mm", Kind::Positive, "between the bearings"),
            guess("present_deg", Kind::Number, "angle between the marks now (180)"),
        ],
        outputs: &[
            gives("best_deg", Gives::Number, "angle between the marks that is best"),
            gives("best_tir_um", Gives::Number, "runout of the nose then"),
            gives("present_tir_um", Gives::Number, "runout of the nose now"),
            gives("tolerance_deg", Gives::Number, "how far off for 10 % more"),
        ],
        limits: &[],
        example: r#"{"front_um": 3, "rear_um": 5, "overhang_mm": 60, "span_mm": 120}"#,
        compute: clocking,
    },
];

fn vee(i: &Input) -> Answer {
    answer! { factor: rotation::vee_factor(i.num("angle_deg", 0.0), i.whole("lobes", 2) as u32)? }
}

fn swept(i: &Input) -> Result<Sweep> {
    rotation::sweep(&i.numbers("readings_um"), i.has("angles_deg").then(|| i.numbers("angles_deg")).as_deref(), 3)
}

fn sweep(i: &Input) -> Answer {
    let s = swept(i)?;
    let h = |k: usize| s.harmonics.get(k);
    answer! {
        mean_um: s.mean, tir_um: s.tir, fit_tir_um: s.fit_tir, harmonics: s.harmonics.len() as f64,
        e1_um: h(0).map(|x| x.amplitude), high_deg: h(0).and_then(|x| x.degrees),
        e2_um: h(1).map(|x| x.amplitude), e2_deg: h(1).and_then(|x| x.degrees),
        e3_um: h(2).map(|x| x.amplitude), e3_deg: h(2).and_then(|x| x.degrees),
        rms_um: s.rms, noise: s.rms.0 > i.num("u_um", 1.0) + crate::instrument::SLACK,
    }
}

fn face(i: &Input) -> Answer {
    let s = swept(i)?;
    let e1 = s.harmonics.first().map_or(0.0, |h| h.amplitude.0);
    let e2 = s.harmonics.get(1).map(|h| h.amplitude.0);
    let cause = if s.tir.0 <= i.num("u_um", 1.0) + crate::instrument::SLACK {
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

fn stations(i: &Input) -> Answer {
    let list: Vec<Station> = i
        .items("stations")
        .iter()
        .map(|s| Station { z: Millimetres(s.num("z_mm", 0.0)), x: Micrometres(s.num("x_um", 0.0)), y: Micrometres(s.num("y_um", 0.0)) })
        .collect();
    let l = rotation::line(&list, i.maybe("seat_z_mm").map(Millimetres), Micrometres(i.num("u_um", 2.0)))?;
    answer! {
        offset_x_um: l.offset.0, offset_y_um: l.offset.1, tilt_x_um_mm: l.tilt.0, tilt_y_um_mm: l.tilt.1,
        bow_um: l.bow.map(|(x, y)| x.hypot(y)), bow_deg: l.bow.and_then(|(x, y)| direction(x, y, 1.0)),
        predicted_tir_um: i.maybe("predict_z_mm").map(|z| l.predict(Millimetres(z))), cause: l.cause.name(),
    }
}

fn clocking(i: &Input) -> Answer {
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
