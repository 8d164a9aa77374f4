//! Truing up, setting axially, preload, bolt rings, proving.

use super::super::Anatomy;
use super::{Stage, Step, num, step};
use crate::caution::Caution;

pub(super) fn set(a: &Anatomy, out: &mut Vec<Step>) {
    let all_on: Vec<String> = a.parts.iter().map(|p| &p.id).chain(a.housings.iter().map(|h| &h.id)).map(|id| format!("on.{id}")).collect();
    let after = |list: &[String]| -> Vec<String> {
        if list.is_empty() { all_on.clone() } else { list.iter().map(|x| format!("on.{x}")).collect() }
    };
    for r in &a.runouts {
        let words = format!("Sweep {}: at most {} µm.", r.name, num(r.limit_um.0));
        out.push(
            step(format!("sweep.{}", r.id), Stage::TrueUp, &r.part, words, "test indicator", 8.0)
                .after(after(std::slice::from_ref(&r.part)))
                .careful(Caution::Measuring),
        );
    }
    for f in &a.floats {
        let words = format!("{}: push, pull, read, three pairs; {} to {} mm.", f.name, num(f.lo_mm.0), num(f.hi_mm.0));
        out.push(step(format!("float.{}", f.id), Stage::SetAxially, "", words, "dial indicator", 10.0).after(after(&f.after)).hands(2));
        if let Some(shim) = &f.shim {
            let words = format!(
                "{}: change it by what the float says, {}.",
                a.name_of(shim),
                if f.thicker_reduces { "thicker gives less float" } else { "thicker gives more float" }
            );
            out.push(
                step(format!("shim.{}", f.id), Stage::SetAxially, shim, words, "surface grinder or leaves", 20.0)
                    .after([format!("float.{}", f.id)]),
            );
        }
    }
    for g in &a.gaps {
        let words = format!("{}: at four points, at least {} mm.", g.name, num(g.min_mm.0));
        out.push(step(format!("gap.{}", g.id), Stage::SetAxially, "", words, "feelers", 8.0).after(after(&g.after)));
    }
    for p in &a.pairs {
        let words = format!(
            "{} and {}: {}; push test both ways, then running drag.",
            a.name_of(&p.a),
            a.name_of(&p.b),
            arrangement(&p.arrangement)
        );
        let both = [format!("on.{}", p.a), format!("on.{}", p.b)];
        out.push(step(format!("preload.{}.{}", p.a, p.b), Stage::Preload, &p.a, words, "indicator, spring scale", 15.0).after(both));
    }
    for b in &a.bolt_rings {
        let words = format!(
            "Tighten the {} bolts of {} crosswise to {} N·m in stages, then once round; feel the float as it is drawn down.",
            b.n,
            a.name_of(&b.part),
            num(b.torque_nm)
        );
        out.push(
            step(format!("bolts.{}", b.part), Stage::TorqueAndLock, &b.part, words, "torque wrench", 2.0 + f64::from(b.n))
                .after([format!("on.{}", b.part)]),
        );
    }
}

fn arrangement(a: &str) -> &'static str {
    match a {
        "DB" => "contact lines open outward, a diamond",
        "DF" => "contact lines cross, an X",
        _ => "contact lines parallel",
    }
}

pub(super) fn prove(a: &Anatomy, out: &mut Vec<Step>) {
    let all: Vec<String> = out.iter().filter(|s| s.stage > Stage::Parts).map(|s| s.id.clone()).collect();
    out.push(
        step(
            "prove.turn".into(),
            Stage::Prove,
            "",
            "Turn it by hand through the full range: even, nothing touches, no tight spot.".into(),
            "hands",
            4.0,
        )
        .after(all),
    );
    for f in &a.floats {
        out.push(
            step(
                format!("prove.float.{}", f.id),
                Stage::Prove,
                "",
                format!("{}: once more, closed up; beside as found.", f.name),
                "dial indicator",
                6.0,
            )
            .after(["prove.turn".to_owned()])
            .hands(2),
        );
    }
    let floats = a.floats.iter().map(|f| format!("prove.float.{}", f.id));
    let run = if a.run_in_rpm > 0.0 {
        format!("Run it in by steps to {} rpm, each until the rise is below 1 K in ten minutes.", num(a.run_in_rpm))
    } else {
        "Run it in by steps, each until the rise is below 1 K in ten minutes.".to_owned()
    };
    out.push(
        step("prove.run".into(), Stage::Prove, "", run, "thermometer", 20.0)
            .after(["prove.turn".to_owned()])
            .after(floats)
            .careful(Caution::FirstRun)
            .waits(90.0, "run-in"),
    );
}
