//! Inspecting what came off, and checking what goes on.

use super::super::{Anatomy, LandKind, PartKind};
use super::{Stage, Step, step};
use crate::caution::Caution;

pub(super) fn inspect(a: &Anatomy, out: &mut Vec<Step>) {
    for l in &a.lands {
        let words = match l.kind {
            LandKind::Thread => format!("Run a nut over {}; dress what catches. Chamfer whole?", l.name),
            LandKind::Taper => format!("Straightedge and blue on {}: contact all along?", l.name),
            LandKind::Keyway => format!("Look at the keyway of {}: edges square, no crack in the corner.", l.name),
            _ => continue,
        };
        out.push(step(format!("land.{}", l.id), Stage::Inspect, "", words, "eyes, thread file", 4.0).after(everything_off(a)));
    }
    for p in &a.parts {
        if p.kind.looked_at() {
            let s = step(
                format!("look.{}", p.id),
                Stage::Inspect,
                &p.id,
                format!("Clean {} and look: {}.", p.name, p.kind.look_for()),
                "clean cloth, glass",
                5.0,
            );
            out.push(s.after([format!("off.{}", p.id)]).careful(if p.kind == PartKind::Bearing { Caution::Air } else { Caution::Solvent }));
        }
    }
    for h in &a.housings {
        let s = step(
            format!("look.{}", h.id),
            Stage::Inspect,
            &h.id,
            format!("Clean {}: creep in the bores, cracks, drain and feed open, joint face.", h.name),
            "clean cloth, dye",
            8.0,
        );
        out.push(s.after([format!("off.{}", h.id)]));
    }
    for p in &a.parts {
        let what = match p.kind {
            PartKind::Seal => "Measure the new seal against shaft, bore and width; lip without nick, spring in place",
            PartKind::ORing | PartKind::Gasket => "Lay out a new one and compare it with the groove or face",
            PartKind::Shim => "Measure each leaf at three points",
            PartKind::Spacer => "Measure its height at four points, with a gauge that reads microns",
            PartKind::Bush => "Measure bore, outside and length; pair it with its hole",
            PartKind::ShoeSet => "Measure every shoe: all within the limit, both edges rounded",
            _ => continue,
        };
        out.push(step(format!("kit.{}", p.id), Stage::Parts, &p.id, format!("{}: {}.", p.name, lower(what)), "micrometer", 4.0));
    }
}

fn lower(s: &str) -> String {
    let mut c = s.chars();
    c.next().map_or_else(String::new, |f| f.to_lowercase().chain(c).collect())
}

fn everything_off(a: &Anatomy) -> Vec<String> {
    a.parts.iter().map(|p| format!("off.{}", p.id)).collect()
}
