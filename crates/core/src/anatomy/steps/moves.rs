//! What has to be done once a part is on: locks, adjusters and special moves (handbook 05, 06, 07).

use super::super::{Anatomy, Hold, Part, PartKind};
use super::{Stage, Step, Unit, step};
use crate::caution::Caution;
use crate::fasten::{lock_step, set_screws};
use crate::preload::running_clearance;
use crate::quantity::show::tidy;
use crate::seal::tilt_limit;

/// What has to be done once a part is on: locks, adjusters and special moves (handbook 05, 06, 07).
pub(super) fn moves(a: &Anatomy, p: &Part, out: &mut Vec<Step>) {
    let id = &p.id;
    let on = [format!("on.{id}")];
    match p.kind {
        PartKind::Flinger => {
            let by = p.back_off_mm.map_or_else(|| "the stated amount".to_owned(), |b| format!("{} mm", tidy(b.0)));
            out.push(
                step(
                    format!("back.{id}"),
                    Stage::SetAxially,
                    id,
                    format!("Back {} off by {by} from where it touches; turn by hand: no rub.", p.name),
                    "feeler or calliper",
                    5.0,
                )
                .sets("backed off", Unit::Mm, (None, None), "")
                .after(on),
            );
        }
        PartKind::SetScrew => {
            let round = set_screws(2);
            let after = p.locks.iter().map(|l| format!("back.{l}")).chain(on);
            let words = format!(
                "Set the screws of {} in turn, {} to {} % of their torque: one alone cocks the ring.",
                p.name,
                round[0].1,
                round[round.len() - 1].1
            );
            out.push(step(format!("lock.{id}"), Stage::TorqueAndLock, id, words, "hex key, torque", 4.0).after(after));
        }
        PartKind::Nut => nut(a, p, out),
        PartKind::TabWasher => {
            let nuts = a.parts.iter().filter(|n| n.kind == PartKind::Nut && n.land == p.land && n.from == p.from);
            let after: Vec<String> = nuts.map(|n| format!("torque.{}", n.id)).chain(on).collect();
            out.push(
                step(
                    format!("tab.{id}"),
                    Stage::TorqueAndLock,
                    id,
                    format!("Bend a tab of {} into the slot that stands over it; never turn the nut back for it.", p.name),
                    "drift",
                    2.0,
                )
                .after(after),
            );
        }
        PartKind::Ring => {
            let carrier = p.carried_by.iter().map(|c| format!("on.{c}"));
            out.push(
                step(
                    format!("free.{id}"),
                    Stage::CloseUp,
                    id,
                    format!("Turn the collar by hand: it must turn freely, else {} is pinched: out and again.", p.name),
                    "hands",
                    2.0,
                )
                .after(carrier)
                .after(on),
            );
        }
        PartKind::Probe => {
            out.push(
                step(
                    format!("ohm.{id}"),
                    Stage::CloseUp,
                    id,
                    format!("Measure the ohms of {} again, before the cover bolts: same as before, no way to earth.", p.name),
                    "ohmmeter",
                    3.0,
                )
                .reads(Unit::Ohm, None, None, "", format!("{id}.ohm"))
                .after(on),
            );
        }
        PartKind::Seal => {
            let limit = tilt_limit(a.bore_of(p));
            let words = format!(
                "Measure the depth of {} at four points, mean as found or shifted from the track; tilt, the largest less the least, at most {} mm.",
                p.name,
                tidy(limit.0)
            );
            out.push(
                step(format!("tilt.{id}"), Stage::CloseUp, id, words, "depth micrometer", 4.0)
                    .sets("tilt", Unit::Mm, (None, Some(limit.0)), "by shaft diameter")
                    .after(on),
            );
        }
        PartKind::Collar => {
            out.push(
                step(
                    format!("face.{id}"),
                    Stage::TrueUp,
                    id,
                    format!("Sweep the face of {}: a film face runs true within what the indicator sees.", p.name),
                    "test indicator",
                    6.0,
                )
                .sets("face runout", Unit::Um, (None, None), "")
                .after(on),
            );
        }
        PartKind::Spacer if a.pairs.iter().any(|x| x.spacers.contains(id)) => {
            out.push(
                step(
                    format!("height.{id}"),
                    Stage::Parts,
                    id,
                    format!("{}: compare its height with its fellow; the offset sets the preload.", p.name),
                    "electronic gauge",
                    6.0,
                )
                .sets("height over its fellow", Unit::Um, (None, None), "")
                .after([format!("look.{id}")]),
            );
            if let Some(s) = out.iter_mut().find(|s| s.id == format!("on.{id}")) {
                s.before.push(format!("height.{id}"));
            }
        }
        PartKind::Cap if p.adjusted => {
            let d = a.land(&p.land).map_or(a.bore_of(p), |l| l.d_mm);
            let (lo, hi) = running_clearance(d);
            let words =
                format!("Lift test under {}: {} to {} µm; leaves out or in, both sides alike, and again.", p.name, tidy(lo.0), tidy(hi.0));
            out.push(
                step(format!("lift.{id}"), Stage::SetAxially, id, words, "dial indicator", 10.0)
                    .sets("lift", Unit::Um, (Some(lo.0), Some(hi.0)), "0.0006 to 0.001 of the diameter, unless the maker says otherwise")
                    .after(on),
            );
        }
        _ if p.adjusted => {
            out.push(
                step(
                    format!("adjust.{id}"),
                    Stage::SetAxially,
                    id,
                    format!("Screw {} to contact, a quarter turn back, lock it, try again.", p.name),
                    "hex key",
                    4.0,
                )
                .after(on),
            );
        }
        _ => {}
    }
    if p.kind == PartKind::Expander || p.plunger {
        out.push(
            step(
                format!("plunger.{id}"),
                Stage::SetAxially,
                id,
                format!("Screw the plunger of {} down until it bottoms, half a turn back.", p.name),
                "screwdriver",
                2.0,
            )
            .after([format!("on.{id}")])
            .careful(Caution::Spring),
        );
    }
    if p.oiler {
        out.push(
            step(
                format!("oiler.{id}"),
                Stage::CloseUp,
                id,
                format!("Hold the oiler of {} down with wire until the spindle lies in place; wick soaked.", p.name),
                "wire",
                3.0,
            )
            .after([format!("look.{id}")]),
        );
        if let Some(s) = out.iter_mut().find(|s| s.id == format!("on.{id}")) {
            s.before.push(format!("oiler.{id}"));
        }
    }
}

fn nut(a: &Anatomy, p: &Part, out: &mut Vec<Step>) {
    let id = &p.id;
    let hot: Vec<String> = a.parts.iter().filter(|x| x.fit == Hold::Shrink && x.from == p.from).map(|x| format!("on.{}", x.id)).collect();
    let by = if let Some(t) = p.torque_nm {
        format!("Torque {} to {} N·m with what the figure was meant for on the thread", p.name, tidy(t))
    } else if p.match_mark {
        format!("Tighten {} from zero to its match mark", p.name)
    } else {
        format!("Tighten {}: nip, turn the shaft, nip again, now that all is cold", p.name)
    };
    let lock = p.slots.zip(p.tabs).and_then(|(s, t)| lock_step(s.into(), t.into()).ok());
    let on_to =
        lock.map_or_else(String::new, |deg| format!("; then on to the next slot, they lie {} degrees apart, never back", tidy(deg)));
    let s = step(format!("torque.{id}"), Stage::TorqueAndLock, id, format!("{by}{on_to}."), "torque or hook wrench", 6.0)
        .after([format!("on.{id}")])
        .after(hot)
        .careful(Caution::Nut);
    // On to the next slot only adds: the figure is the least, and what was reached is kept.
    out.push(if let Some(t) = p.torque_nm {
        s.sets("torque", Unit::NewtonMetre, (Some(t), None), "least, on the way to the slot")
    } else {
        s
    });
    out.push(
        step(
            format!("standout.{id}"),
            Stage::TorqueAndLock,
            id,
            format!("Measure how far {} stands from the shaft end; compare with as found.", p.name),
            "depth micrometer",
            2.0,
        )
        .reads(Unit::Mm, None, None, "", format!("{id}.standout"))
        .after([format!("torque.{id}")]),
    );
}
