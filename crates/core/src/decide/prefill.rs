//! What a rebuild knows of the sheet of an act: fields that need not be typed, from the anatomy, from what was found
//! and from the seat.

use super::State;
use crate::anatomy::acts::Act;
use crate::anatomy::{Anatomy, Hold, Part, Role};
use crate::fasten::lock_step;
use crate::fit::designation;
use crate::inspect::{On, on_land};
use crate::reckon::entry;
use crate::seat::asks::of_seat;
use crate::sheet::Declared;
use crate::terms::ActId;
use serde_json::{Map, Value, json};

/// The seat that an act is done at: its own step, or an act of the bearing that sits there.
#[must_use]
pub fn seat_at<'a>(a: &'a Anatomy, act: &'a Act) -> Option<&'a str> {
    let of_part = || a.seats.iter().find(|s| s.part == act.body).map(|s| s.id.as_str());
    act.seat.as_ref().map(|s| s.0.as_str()).or_else(of_part)
}

/// The fields of a computation as far as the rebuild knows them at an act; what a seat knows where the figures of the
/// act's seat are at hand.
#[must_use]
pub fn prefill(s: &State, act: &Act, name: &str) -> Map<String, Value> {
    let seat = seat_at(s.anatomy(), act);
    let judged = s.judged.iter().chain(s.seats.iter()).find(|j| Some(j.facts.seat.id.as_str()) == seat);
    let mut out = judged.and_then(|j| of_seat(name, &j.facts, j.fit.as_ref().ok())).unwrap_or_default();
    let Ok(e) = entry(name) else { return out };
    for (field, v) in of_machine(s, act, name) {
        // What a part does not say is not known.
        if !v.is_null() && e.fields.iter().any(|f| f.name == field) {
            out.entry(field).or_insert(v);
        }
    }
    out
}

/// Questions that come up at an act and want no reading, in the order in which they come up: the first word of its id.
const ASKS: [(&str, &[&str]); 10] = [
    ("off", &["removal.ways"]),
    ("bolts", &["torque.extension", "torque.other_surface", "torque.value"]),
    ("close", &["torque.extension", "torque.other_surface"]),
    ("torque", &["torque.extension", "torque.other_surface", "thread.hand"]),
    ("nip", &["thread.hand"]),
    ("set", &["thread.hand", "preload.pair"]),
    ("shim", &["shim.stock", "axial.two_shims"]),
    ("grease", &["grease.fill"]),
    ("preload", &["preload.bearing", "preload.pair"]),
    ("prove.run", &["runin.plan"]),
];

/// The questions that come up at an act; how a part comes off is asked of one that holds by its fit.
#[must_use]
pub fn questions_at(s: &State, act: &Act) -> &'static [&'static str] {
    let Some(id) = ActId::of(&act.id).map(|i| i.first_time().to_string()) else { return &[] };
    let word = id.split('.').next().unwrap_or_default();
    let slides = || s.anatomy().part(&act.body).is_none_or(|p| !p.fit.tight());
    match ASKS.iter().find(|a| a.0 == word || a.0 == id) {
        Some(("off", _)) if slides() => &[],
        Some((_, list)) => list,
        None => &[],
    }
}

/// Whether a sheet belongs to an act and suits the part that it is done to: what closes in its hole is asked of bushes,
/// oil of what oil drives up, a press of what is pressed.
#[must_use]
pub fn suits(s: &State, act: &Act, sheet: &Declared) -> bool {
    let part = s.anatomy().part(&act.body);
    let id = ActId::of(&act.id);
    // A land that is looked at: what is read of a keyway is read of no journal.
    let land = id.as_ref().and_then(|i| match i.first_time() {
        ActId::Land(l) => s.anatomy().land(l).map(|l| on_land(l.kind)),
        _ => None,
    });
    let of_part = match sheet.name {
        "journal.grid" | "land.marks" | "seal.track" => land.is_none_or(|on| on == On::Land),
        "key.clearance" => land.is_none_or(|on| on == On::Keyway),
        "bush.closing" | "bush.closed" | "pairs.match" => part.is_none_or(|p| p.kind.role() == Role::Bush),
        // Under a cap that an expander fills against, and at the expander itself.
        "plain.expander" => part.is_some_and(|p| {
            p.kind.role() == Role::Expander
                || p.kind.role() == Role::Cap && s.anatomy().parts.iter().any(|x| x.kind.role() == Role::Expander)
        }),
        "hydraulic.driven" => part.is_some_and(|p| p.fit == Hold::Oil),
        "press.trace" => part.is_none_or(|p| matches!(p.fit, Hold::Press | Hold::Shrink)),
        "removal.pull" => part.is_none_or(|p| p.fit.tight()),
        _ => true,
    };
    of_part && id.is_some_and(|id| sheet.belongs(&id))
}

#[expect(clippy::too_many_lines, reason = "an arm a sheet")]
fn of_machine(s: &State, act: &Act, name: &str) -> Vec<(&'static str, Value)> {
    let a = s.anatomy();
    let Some(id) = ActId::of(&act.id) else { return Vec::new() };
    let part = a.part(&act.body);
    let limits = s.limits(act);
    let found = |what: &str| s.found(&format!("{}.{what}", act.body)).and_then(|v| v.first().copied());
    match name {
        "float.shim" | "taper.nut" => {
            let of = match id.first_time() {
                ActId::Float(f) => a.floats.iter().find(|x| x.id == *f),
                ActId::Prove(p) => a.floats.iter().find(|x| p.strip_prefix("float.") == Some(&x.id)),
                ActId::Set(nut) => a.floats.iter().find(|x| x.shim.is_none() && x.after.iter().any(|y| y == nut)),
                _ => None,
            };
            let window = of.map_or_else(Vec::new, |f| {
                vec![
                    ("lo_mm", json!(f.lo_mm.0)),
                    ("hi_mm", json!(f.hi_mm.0)),
                    ("aim_mm", json!(f.middle().0)),
                    ("thicker_reduces", json!(f.thicker_reduces)),
                ]
            });
            window.into_iter().chain(thread(a, part)).collect()
        }
        "gap.around" => {
            let ActId::Gap(g) = id.first_time() else { return Vec::new() };
            a.gaps.iter().filter(|x| x.id == *g).map(|g| ("min_gap_mm", json!(g.min_mm.0))).collect()
        }
        "flinger.back_off" => vec![("wanted_mm", json!(part.and_then(|p| p.back_off_mm).map(|b| b.0)))],
        "seal.tilt" | "seal.track" => {
            let bore = part.map(|p| a.bore_of(p).0).filter(|d| *d > 0.0);
            let limit = limits.and_then(|m| m.hi).filter(|_| name == "seal.tilt");
            vec![("shaft_mm", json!(bore)), ("limit_mm", json!(limit)), ("width_mm", json!(part.map(|p| p.width_mm.0)))]
        }
        "key.clearance" => vec![("lo_mm", json!(limits.and_then(|m| m.lo)))],
        "preload.spacers" | "preload.push_test" | "preload.pair" | "preload.bearing" | "preload.drag" => {
            let pair = a.pairs.iter().find(|p| p.a == act.body || p.b == act.body || p.spacers.contains(&act.body));
            let Some(pair) = pair else { return Vec::new() };
            let read = |id: &str| designation::read(a.part(id)?.designation.as_deref()?).ok();
            let Some(b) = read(&pair.a).or_else(|| read(&pair.b)) else { return Vec::new() };
            let Some(inside) = b.inside.as_ref() else { return Vec::new() };
            vec![
                ("arrangement", json!(Some(&pair.arrangement).filter(|x| matches!(x.as_str(), "DB" | "DF")))),
                ("bearing", json!({"ball_mm": inside.ball.0, "pitch_mm": inside.pitch.0, "angle_deg": b.angle_deg})),
                ("pitch_mm", json!(inside.pitch.0)),
                ("raceway_mm", json!(inside.inner_raceway.0)),
                ("bearings", json!(2)),
            ]
        }
        "nut.slots" | "nut.match_mark" => {
            let mut out = thread(a, part);
            out.extend([
                ("slots", json!(part.and_then(|p| p.slots))),
                ("tabs", json!(part.and_then(|p| p.tabs))),
                ("old_deg", json!(found("mark"))),
                ("old_standout_mm", json!(found("standout"))),
            ]);
            out
        }
        "torque.order" | "torque.extension" | "torque.other_surface" | "torque.value" => {
            let ring = a.bolt_rings.iter().find(|b| b.part == act.body);
            let figure = ring.map(|b| b.torque_nm).or_else(|| part.and_then(|p| p.torque_nm));
            vec![("n", json!(ring.map(|b| b.n))), ("torque_nm", json!(figure))]
        }
        "grease.fill" => {
            let Some(b) = part.and_then(|p| designation::read(p.designation.as_deref()?).ok()) else {
                return Vec::new();
            };
            vec![("d_mm", json!(b.d.0)), ("outer_mm", json!(b.outer.0)), ("width_mm", json!(b.width.0))]
        }
        "plain.caps" | "plain.expander" => {
            let d = part.and_then(|p| a.land(&p.land)).map(|l| l.d_mm.0);
            let (lo, hi) = limits.as_ref().map_or((None, None), |m| (m.lo, m.hi));
            vec![("shaft_mm", json!(d)), ("lo_um", json!(lo)), ("hi_um", json!(hi))]
        }
        "land.marks" => {
            // All of the land, or the stretch of it on which the part sits.
            let land = a.land(part.map_or(act.body.as_str(), |p| &p.land));
            let width = part.map(|p| p.width_mm).or(land.map(|l| l.length_mm));
            vec![("d_mm", json!(land.map(|l| l.d_mm.0))), ("width_mm", json!(width.map(|w| w.0)))]
        }
        "removal.ways" => {
            let stuck = match part.map(|p| p.kind.role()) {
                Some(Role::Bush) => "bush",
                Some(Role::Lip) => "seal",
                Some(Role::Rolling) => "whole_bearing",
                _ => "collar",
            };
            let tight = if matches!(stuck, "bush" | "seal") { "housing" } else { "shaft" };
            vec![("stuck", json!(stuck)), ("tight", json!(tight))]
        }
        "runin.step" | "runin.plan" => vec![("full_rpm", json!(Some(a.run_in_rpm).filter(|r| *r > 0.0)))],
        "thread.hand" => vec![("hand", json!(part.and_then(|p| p.hand)))],
        "probe.gap" => vec![("target_v", json!(part.and_then(|p| p.gap_volts)))],
        _ => Vec::new(),
    }
}

/// The thread that a nut turns on, and how far apart its lock positions are.
fn thread(a: &Anatomy, part: Option<&Part>) -> Vec<(&'static str, Value)> {
    let pitch = part.and_then(|p| a.land(&p.land)).and_then(|l| l.pitch_mm).map(|m| m.0);
    let step = part.and_then(|p| p.slots.zip(p.tabs)).and_then(|(s, t)| lock_step(s.into(), t.into()).ok());
    vec![("pitch_mm", json!(pitch)), ("step_deg", json!(step))]
}
