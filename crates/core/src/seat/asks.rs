//! What a seat of a rebuild knows of a question: the fields of a computation that need not be typed. The figures that
//! the Bench shows and those that the Reckoner gives for the same seat are the same: a test holds them together.

use crate::anatomy::SeatFacts;
use crate::fit::designation::{BearingType, Seals};
use crate::fit::rings::{self, ClearanceKind};
use crate::fit::{Finish, Material, School};
use crate::quantity::Micrometres;
use crate::seat::Fit;
use serde_json::{Map, Value, json};

/// Questions that a seat answers a part of, in the order in which they come up.
pub const OF_SEAT: [&str; 8] = [
    "fit.press",
    "fit.clearance_left",
    "heat.target",
    "heat.cooling",
    "heat.frees",
    "bearing.read",
    "bearing.clearance",
    "grease.fill",
];

/// Sheets of acts that a seat knows a part of: read where they are said, with the figures of their seat.
pub const SHEETS_OF_SEAT: [&str; 3] = ["press.trace", "removal.pull", "land.marks"];

fn tidy(v: f64) -> f64 {
    (v * 1e6).round() / 1e6
}

fn finish(f: Finish) -> &'static str {
    match f {
        Finish::Ground => "ground",
        Finish::Turned => "turned",
    }
}

/// Fields of a computation as far as the seat knows them: from what was measured, else from the drawing's limits. None
/// for a computation that asks nothing of a seat.
#[must_use]
#[expect(clippy::too_many_lines, reason = "an arm a question")]
pub fn of_seat(name: &str, facts: &SeatFacts, fit: Option<&Fit>) -> Option<Map<String, Value>> {
    let (b, seat, inside) = (&facts.bearing, &facts.seat, facts.inside());
    let um = |v: Micrometres| tidy(v.get());
    let pair = |r: (Micrometres, Micrometres)| (um(r.0), um(r.1));
    let (least, most) =
        fit.map_or_else(|| pair(facts.drawn_interference()), |f| (um(f.interference.min), um(f.interference.max)));
    let housing =
        fit.map_or_else(|| pair(facts.drawn_housing_interference()), |f| (um(f.housing.min), um(f.housing.max)));
    let kind = match b.kind {
        BearingType::DeepGroove => Some((ClearanceKind::DeepGroove, "deep_groove")),
        BearingType::CylindricalRoller => Some((ClearanceKind::CylindricalRoller, "cylindrical_roller")),
        BearingType::SelfAligningBall => Some((ClearanceKind::SelfAligningBall, "self_aligning_ball")),
        _ => None,
    };
    let bore = tidy(b.d.get());
    let sealed = !matches!(b.seals, Seals::Open);
    let value = match name {
        "fit.press" => {
            let mut v = json!({
                "d_mm": bore,
                "hub_outside_mm": tidy(inside.inner_raceway.get()),
                "shaft_bore_mm": tidy(seat.shaft_bore_mm.get()),
                "length_mm": tidy(b.width.get()),
                "delta_min_um": least,
                "delta_max_um": most,
                "hub_material": Material::BearingSteel.name(),
                "shaft_material": seat.shaft_material.name(),
                "finish": finish(seat.finish),
                "ring_hotter_k": tidy(seat.inner_hotter_k.get()),
            });
            if let Some(f) = fit {
                let friction = f.model.friction;
                for (k, mu) in [("mu_low", friction.low), ("mu_mid", friction.mid), ("mu_high", friction.high)] {
                    v[k] = json!(mu);
                }
                if let School::Roughness { rz_inner, rz_outer } = f.model.school {
                    v["school"] = json!("roughness");
                    (v["rz_inner_um"], v["rz_outer_um"]) = (json!(um(rz_inner)), json!(um(rz_outer)));
                }
            }
            v
        }
        "fit.clearance_left" => {
            let group = rings::clearance(kind?.0, b.d, &b.clearance).ok()?;
            let (lo, hi) = pair(group);
            json!({
                "d_mm": bore,
                "outer_mm": tidy(b.outer.get()),
                "inner_raceway_mm": tidy(inside.inner_raceway.get()),
                "outer_raceway_mm": tidy(inside.outer_raceway.get()),
                "shaft_bore_mm": tidy(seat.shaft_bore_mm.get()),
                "housing_outside_mm": tidy(facts.housing_outside.get()),
                "shaft_material": seat.shaft_material.name(),
                "housing_material": facts.housing_material.name(),
                "shaft_delta_min_um": least,
                "shaft_delta_max_um": most,
                "housing_delta_min_um": housing.0,
                "housing_delta_max_um": housing.1,
                "clearance_min_um": lo,
                "clearance_max_um": hi,
                "inner_hotter_k": tidy(seat.inner_hotter_k.get()),
                "finish": finish(seat.finish),
                "preload_meant": seat.preload_meant,
            })
        }
        "heat.target" => {
            let mut v = json!({
                "d_mm": bore,
                "delta_max_um": most,
                "cage": serde_json::to_value(seat.cage).ok()?,
                "sealed": sealed,
                "class": b.class,
            });
            if let Some(f) = fit {
                v["shaft_c"] = json!(tidy(f.room.get()));
                // The shop's caps may be lower than those of its weakest part.
                v["cap_c"] = json!(tidy(f.heat.cap.get()));
                // Above the usual cap only by a house rule, which has its reason on record.
                if sealed && f.heat.cap.get() > 80.0 {
                    v["reason"] = json!("the house rule for sealed bearings");
                }
            }
            v
        }
        "heat.cooling" => json!({
            "env_c": fit.map_or(20.0, |f| tidy(f.room.get())),
            "first_c": fit.map(|f| tidy(f.heat.target.get())),
            "mass_g": tidy(facts.mass_g()),
            "area_mm2": tidy(facts.area_mm2()),
            "d_mm": bore,
            "delta_um": most,
            "material": Material::BearingSteel.name(),
        }),
        "heat.frees" => json!({
            "outer_mm": tidy(b.outer.get()),
            "delta_um": housing.1,
            "housing_material": facts.housing_material.name(),
            "ring_material": Material::BearingSteel.name(),
        }),
        // The ring begins to grip at the lead-in, and is home after its width.
        "press.trace" => {
            let mut v = json!({ "d_mm": bore, "expected_travel_mm": tidy(b.width.get()) });
            if let Some(f) = fit {
                (v["low_n"], v["high_n"]) =
                    (json!(tidy(f.press.low.force.get())), json!(tidy(f.press.high.force.get())));
                v["pressure_mpa"] = json!(tidy(f.press.mid.pressure.get()));
            }
            v
        }
        // By what the fit explains; where nothing is measured yet, by what its drawing allows.
        "removal.pull" => {
            let asked = Value::Object(of_seat("fit.press", facts, fit)?);
            let press = crate::reckon::reckon("fit.press", &asked.to_string()).ok()?;
            let of = |k: &str| press[k].as_f64().map(tidy);
            json!({ "low_n": of("removal_low_n"), "high_n": of("removal_high_n") })
        }
        "removal.ways" => {
            let tight = match (most > 0.0, housing.1 > 0.0) {
                (true, true) => "both",
                (false, true) => "housing",
                _ => "shaft",
            };
            let light = facts.housing_material == Material::Aluminium;
            let frees = of_seat("heat.frees", facts, fit)
                .and_then(|q| crate::reckon::reckon("heat.frees", &Value::Object(q).to_string()).ok())
                .and_then(|a| a["frees_k"].as_f64())
                .filter(|k| *k > 0.0);
            json!({
                "stuck": "whole_bearing",
                "tight": tight,
                "light_housing": light,
                "cylindrical_roller": b.kind == BearingType::CylindricalRoller,
                "high_n": of_seat("removal.pull", facts, fit)?.get("high_n"),
                "frees_k": frees.map(tidy),
            })
        }
        "land.marks" => json!({
            "d_mm": bore,
            "width_mm": tidy(b.width.get()),
            "least_mm": tidy(b.d.get() + facts.journal.lower.get() / 1000.0),
        }),
        "bearing.read" => json!({ "designation": facts.designation }),
        "bearing.clearance" => json!({ "type": kind?.1, "d_mm": bore, "group": b.clearance }),
        "grease.fill" => json!({
            "d_mm": bore,
            "outer_mm": tidy(b.outer.get()),
            "width_mm": tidy(b.width.get()),
            "mass_g": tidy(facts.mass_g()),
        }),
        _ => return None,
    };
    let Value::Object(map) = value else { return None };
    Some(map.into_iter().filter(|(_, v)| !v.is_null()).collect())
}
