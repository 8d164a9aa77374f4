//! Truing up, setting axially, preload, bolt rings, proving.

use super::super::{Anatomy, FloatOf};
use super::{Stage, Step, Unit, step};
use crate::caution::Caution;
use crate::quantity::Millimetres;
use crate::quantity::show::tidy;

pub(super) fn set(a: &Anatomy, out: &mut Vec<Step>) {
    let all_on: Vec<String> = a.parts.iter().map(|p| &p.id).chain(a.housings.iter().map(|h| &h.id)).map(|id| format!("on.{id}")).collect();
    let after = |list: &[String]| -> Vec<String> {
        if list.is_empty() { all_on.clone() } else { list.iter().map(|x| format!("on.{x}")).collect() }
    };
    for r in &a.runouts {
        let words = format!("Sweep {}: at most {} µm.", r.name, tidy(r.limit_um.0));
        out.push(
            step(format!("sweep.{}", r.id), Stage::TrueUp, &r.part, words, "test indicator", 8.0)
                .after(after(std::slice::from_ref(&r.part)))
                .reads(Unit::Um, None, Some(r.limit_um.0), &r.source, format!("runout.{}", r.id))
                .careful(Caution::Measuring),
        );
    }
    for f in &a.floats {
        let words = format!("{}: push, pull, read, three pairs; {} to {} mm.", f.name, tidy(f.lo_mm.0), tidy(f.hi_mm.0));
        // Before its shim is set the first reading may lie anywhere; the next one must keep the limits.
        let (lo, hi) = if f.shim.is_some() { (None, None) } else { (Some(f.lo_mm.0), Some(f.hi_mm.0)) };
        let beside = format!("float.{}", f.id);
        let first = step(beside.clone(), Stage::SetAxially, "", words, "dial indicator", 10.0).after(after(&f.after)).hands(2);
        out.push(first.reads(Unit::Mm, lo, hi, &f.source, beside.clone()));
        if let Some(shim) = &f.shim {
            let words = format!(
                "{}: change it by what the float says, {}.",
                a.name_of(shim),
                if f.thicker_reduces { "thicker gives less float" } else { "thicker gives more float" }
            );
            out.push(
                step(format!("shim.{}", f.id), Stage::SetAxially, shim, words, "surface grinder or leaves", 20.0).after([beside.clone()]),
            );
            let words = format!("{}: read it again with the changed shim; {} to {} mm.", f.name, tidy(f.lo_mm.0), tidy(f.hi_mm.0));
            out.push(
                step(format!("refloat.{}", f.id), Stage::SetAxially, "", words, "dial indicator", 8.0)
                    .after([format!("shim.{}", f.id)])
                    .reads(Unit::Mm, Some(f.lo_mm.0), Some(f.hi_mm.0), &f.source, beside)
                    .hands(2),
            );
        }
    }
    for g in &a.gaps {
        let words = format!("{}: at four points, the least of them at least {} mm.", g.name, tidy(g.min_mm.0));
        let least = |s: Step| s.reads(Unit::Mm, Some(g.min_mm.0), None, &g.source, format!("gap.{}", g.id));
        out.push(least(step(format!("gap.{}", g.id), Stage::SetAxially, "", words, "feelers", 8.0).after(after(&g.after))));
    }
    for p in &a.pairs {
        let words = format!(
            "{} and {}: {}; push test both ways, then the running drag as torque.",
            a.name_of(&p.a),
            a.name_of(&p.b),
            arrangement(&p.arrangement)
        );
        let both = [format!("on.{}", p.a), format!("on.{}", p.b)];
        let s = step(format!("preload.{}.{}", p.a, p.b), Stage::Preload, &p.a, words, "indicator, spring scale", 15.0).after(both);
        out.push(s.sets("running drag", Unit::NewtonMetre, (None, None), ""));
    }
    for b in &a.bolt_rings {
        let words = format!(
            "Tighten the {} bolts of {} crosswise to {} N·m in stages, then once round; feel the float as it is drawn down.",
            b.n,
            a.name_of(&b.part),
            tidy(b.torque_nm)
        );
        out.push(
            step(format!("bolts.{}", b.part), Stage::TorqueAndLock, &b.part, words, "torque wrench", 2.0 + f64::from(b.n))
                .after([format!("on.{}", b.part)]),
        );
    }
}

/// What a float that was read says of its shim: how much thicker or thinner it has to be for the middle of the limits.
///
/// ```
/// # use ironseat_core::anatomy::{FloatOf, steps::shim_change};
/// # use ironseat_core::quantity::Millimetres;
/// let f = FloatOf { id: "t".into(), name: "Thrust float".into(), lo_mm: Millimetres::of(0.25), hi_mm: Millimetres::of(0.35),
///     shim: Some("s".into()), thicker_reduces: true, after: vec![], source: String::new() };
/// assert!((shim_change(&f, Millimetres::of(0.41)).get() - 0.11).abs() < 1e-12);
/// ```
#[must_use]
pub fn shim_change(f: &FloatOf, read: Millimetres) -> Millimetres {
    let over = read.0 - f.middle().0;
    Millimetres(if f.thicker_reduces { over } else { -over })
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
            .reads(Unit::Mm, Some(f.lo_mm.0), Some(f.hi_mm.0), &f.source, format!("float.{}", f.id))
            .hands(2),
        );
    }
    let floats = a.floats.iter().map(|f| format!("prove.float.{}", f.id));
    let run = if a.run_in_rpm > 0.0 {
        format!("Run it in by steps to {} rpm, each until the rise is below 1 K in ten minutes.", tidy(a.run_in_rpm))
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
