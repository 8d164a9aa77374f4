//! Mounting: how each part goes on, with what before it.

use super::super::derive::Derived;
use super::super::{Anatomy, Hold, HoleKind, Part, PartKind};
use super::moves::moves;
use super::{Stage, Step, Unit, end_word, people_of, step};
use crate::caution::Caution;
use crate::quantity::show::tidy;

/// Where a part's mounting stands among the stages: what closes is the last, an inner cover is not.
fn mount_stage(p: &Part, others_follow: bool) -> Stage {
    match p.kind {
        PartKind::Cover | PartKind::Gasket | PartKind::Cap | PartKind::Probe if !others_follow => Stage::CloseUp,
        _ => Stage::FitAndMount,
    }
}

fn on_words(a: &Anatomy, p: &Part) -> String {
    let from = end_word(p.from);
    let faces = p.faces.map(|e| format!(", {} to {}", p.facing_word(), end_word(e))).unwrap_or_default();
    let carrier = p.carried_by.as_deref().map(|c| a.name_of(c));
    match (p.kind, p.fit) {
        (PartKind::Seal, _) => format!(
            "Drive {} square into {}{faces}, opposite then quarter points; lip oiled, guarded over edges.",
            p.name,
            carrier.unwrap_or("its pocket")
        ),
        (PartKind::ORing, _) => {
            format!("Lay {} in from several points and back towards the start, so that no length is left over; grease holds it.", p.name)
        }
        (PartKind::Ring, _) => format!("Open {} only as far as the land, oil under it, gaps staggered.", p.name),
        (PartKind::Circlip, _) => format!("Spring {} home{faces}; try it all round with a pick.", p.name),
        (PartKind::Key, _) => format!("Bed {} in its seat; clearance over it is checked before the hub goes on.", p.name),
        (PartKind::Flinger, _) => format!("Slide {} in until it touches.", p.name),
        (PartKind::ShoeSet, _) => format!("Lay the shoes of {} in their order, oiled; both edges rounded, free to tilt.", p.name),
        (PartKind::BaseRing, _) => format!("Set {} with its levelling plates interlocked and free.", p.name),
        (PartKind::Expander, _) => format!("Start the screws of {} before the cap is pulled down.", p.name),
        (PartKind::Probe, _) => format!("Screw {} in, wire routed before the cover; set the gap by its volts.", p.name),
        (PartKind::Bush, _) => format!("Press {} into {}, feed hole to feed hole.", p.name, carrier.unwrap_or("its bore")),
        (PartKind::Nut, _) => format!("Spin {} on by hand to the stop: that is zero.", p.name),
        (PartKind::TabWasher, _) => format!("Lay {} on with its tongue in the groove.", p.name),
        (PartKind::SetScrew, _) => format!("Start {} with a clean thread.", p.name),
        (_, Hold::Shrink) => format!("Heat {} and push it home from {from}{faces}; hold it until it grips.", p.name),
        (_, Hold::Oil) => format!("Oil in, push {} home from {from}; expansion pressure off, pushing pressure held.", p.name),
        (_, Hold::Press) => format!(
            "Press {} home{}{faces}, force through the tight ring only.",
            p.name,
            carrier.map_or_else(|| format!(" from {from}"), |c| format!(" into {c}"))
        ),
        (_, Hold::Screwed) => format!("Screw {} in.", p.name),
        _ if p.inside.is_some() && p.carried_by.is_none() => {
            format!("Lay {} in {} before the shaft is fed through{faces}.", p.name, a.name_of(p.inside.as_deref().unwrap_or("")))
        }
        _ if p.split => format!("Lay the halves of {} round the shaft{faces}, marks together.", p.name),
        _ => format!("Slide {} on from {from}{faces}.", p.name),
    }
}

fn on_caution(p: &Part) -> Option<Caution> {
    Some(match (p.kind, p.fit) {
        (PartKind::Circlip, _) => Caution::SnapRing,
        (_, Hold::Shrink) => Caution::HotRing,
        (_, Hold::Oil) => Caution::Injection,
        (_, Hold::Press) => Caution::Press,
        (PartKind::Shim | PartKind::Ring, _) => Caution::SharpEdges,
        _ if p.outside_mm.0 > 250.0 => Caution::Lifting,
        _ => return None,
    })
}

pub(super) fn mount(a: &Anatomy, d: &Derived, order: &[usize], direct: &[Vec<usize>], out: &mut Vec<Step>) {
    let mut followed = vec![false; d.ids.len()];
    direct.iter().flatten().for_each(|x| followed[*x] = true);
    for &i in order {
        let id = &d.ids[i];
        let before = direct[i].iter().map(|x| format!("on.{}", d.ids[*x]));
        let Some(p) = a.parts.get(i) else {
            let words = format!("Bring {} over the shaft, level and slow; feel that nothing touches.", a.name_of(id));
            let s = step(format!("on.{id}"), Stage::FitAndMount, id, words, "hoist", 15.0).careful(Caution::Lifting).hands(2);
            out.push(s.after(before).after([format!("look.{id}")]).after(hole_checks(a, id)));
            out.extend(hole_steps(a, id));
            continue;
        };
        let wait = p.fit.wait_minutes(p.outside_mm.0);
        let word = if p.fit == Hold::Oil { "pressure hold, then the oil film leaves" } else { "cooling" };
        let mut s = step(format!("on.{id}"), mount_stage(p, followed[i]), id, on_words(a, p), p.fit.tool(), a.minutes_of(p))
            .after(before)
            .after([format!("look.{id}"), format!("kit.{id}"), format!("off.{id}")])
            .hands(people_of(p))
            .waits(wait, word);
        s.caution = on_caution(p);
        s.seat = a.seats.iter().find(|x| x.part == *id).map(|x| x.id.clone());
        if let Some(k) = &p.key {
            s.before.push(format!("key.{k}"));
            let check = format!("Measure {} and both keyways: clearance over the key, never interference.", a.name_of(k));
            // One key may carry several hubs: it is checked once.
            if !out.iter().any(|s| s.id == format!("key.{k}")) {
                let s = step(format!("key.{k}"), Stage::FitAndMount, k, check, "depth micrometer", 5.0).after([format!("on.{k}")]);
                // With no clearance the hub rides on its key and runs out (handbook 05).
                out.push(s.sets("clearance over it", Unit::Mm, (Some(0.0), None), "the hub must not ride on its key"));
            }
        }
        out.push(s);
        moves(a, p, out);
    }
}

fn hole_checks(a: &Anatomy, housing: &str) -> Vec<String> {
    a.holes.iter().filter(|h| h.housing == housing).map(|h| format!("hole.{}.{}", housing, h.id)).collect()
}

fn hole_steps(a: &Anatomy, housing: &str) -> Vec<Step> {
    a.holes
        .iter()
        .filter(|h| h.housing == housing)
        .map(|h| {
            let where_to = match h.kind {
                HoleKind::Drain => format!("{} of {} down: turn it so before it goes on", h.name, a.name_of(housing)),
                HoleKind::Feed => format!("{} of {} to its feed hole, at {} degrees", h.name, a.name_of(housing), tidy(h.at_deg)),
                HoleKind::Port => format!("{} of {} to its pipe, as found", h.name, a.name_of(housing)),
            };
            step(
                format!("hole.{}.{}", housing, h.id),
                Stage::CloseUp,
                housing,
                format!("Turn {where_to}."),
                "eyes, wire through the hole",
                2.0,
            )
            .after([format!("look.{housing}")])
        })
        .collect()
}
