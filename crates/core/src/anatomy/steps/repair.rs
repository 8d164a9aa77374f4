//! Repairs that void a mark: what rests on a face that was machined is asked for again (handbook 05, 08).

use super::super::as_found::{self, Question};
use super::super::{Anatomy, Part, PartKind, measure};
use super::{Stage, Step, step};
use crate::anatomy::End;
use std::collections::BTreeSet;

/// As-found answers that are void once a face of a part was machined: marks and stand-outs of the nuts that clamp the stack
/// it lies in, and its own clocking. New ones are asked for.
#[must_use]
pub fn voided_by(a: &Anatomy, part: &str) -> Vec<String> {
    let Some(p) = a.part(part) else { return Vec::new() };
    let mut out = Vec::new();
    if p.clocked {
        out.push(format!("{part}.clock"));
    }
    for n in a.parts.iter().filter(|n| n.kind == PartKind::Nut) {
        let place = a.place(n).0;
        let inwards = |x: f64| if n.from == End::A { x > place } else { x < place };
        // The stack reaches from the nut inwards to the first land that its first ring cannot pass: the shoulder.
        // Clamped is what the nut's face bears on, directly or through others: no halves round it, nothing wider than it.
        let clamped = |x: &&Part| {
            let ring = !matches!(x.kind, PartKind::Key | PartKind::Probe | PartKind::SetScrew);
            inwards(a.place(x).0) && x.carried_by.is_none() && !x.split && ring && a.bore_of(x).0 < n.outside_mm.0
        };
        let solid = |x: &&Part| clamped(x) && x.kind != PartKind::TabWasher;
        let first = a.parts.iter().filter(solid).min_by(|x, y| (a.place(x).0 - place).abs().total_cmp(&(a.place(y).0 - place).abs()));
        let bore = first.map_or(f64::INFINITY, |x| a.bore_of(x).0);
        let own = a.lands.iter().position(|l| l.id == p.land);
        let nuts = a.lands.iter().position(|l| l.id == n.land);
        let shoulder = own.zip(nuts).is_some_and(|(x, y)| a.lands[x.min(y)..=x.max(y)].iter().any(|l| l.d_mm.0 > bore + 1e-9));
        if n.id == part || (clamped(&p) && !shoulder) {
            out.push(format!("{}.mark", n.id));
            out.push(format!("{}.standout", n.id));
        }
    }
    out
}

/// Steps that a repair opens again, or taking one back: what was drawn to a mark that is void, and the new mark itself.
#[must_use]
pub fn opened_by(a: &Anatomy, part: &str) -> BTreeSet<String> {
    let about = |q: &str| q.rsplit_once('.').map_or(q.to_owned(), |x| x.0.to_owned());
    let steps = |q: String| [format!("torque.{}", about(&q)), format!("standout.{}", about(&q)), format!("ask.again.{q}")];
    voided_by(a, part).into_iter().flat_map(steps).collect()
}

/// Questions that are asked again after repairs, about the mark as it is left: `again.nut.mark`.
#[must_use]
pub fn asked_again(a: &Anatomy, repaired: &[String]) -> Vec<Question> {
    let void: BTreeSet<String> = repaired.iter().flat_map(|p| voided_by(a, p)).collect();
    as_found::questions(a)
        .into_iter()
        .filter(|q| void.contains(&q.id) && !q.id.ends_with(".standout"))
        .map(|q| {
            let name = a.name_of(&q.about);
            let words = if q.id.ends_with(".clock") {
                format!("{name}: its old mark is void. Set the new one and write down its angle.")
            } else {
                format!("{name}: its old mark is void. Make the new one: tightened, turned, tightened, then scribed across.")
            };
            Question { id: format!("again.{}", q.id), words, before_off: Vec::new(), ..q }
        })
        .collect()
}

/// Changes the steps of a trail for repairs: nuts are no longer drawn to a mark that is void, what stood beside the old
/// number stands alone, and the new marks are asked for once the part is tight.
pub fn after_repairs(a: &Anatomy, repaired: &[String], steps: &mut Vec<Step>) {
    let void: BTreeSet<String> = repaired.iter().flat_map(|p| voided_by(a, p)).collect();
    if void.is_empty() {
        return;
    }
    let name = |id: &str| a.name_of(id).to_owned();
    for s in steps.iter_mut() {
        if let Some(m) = s.measure.as_mut().filter(|m| void.contains(&m.beside)) {
            m.beside.clear();
            s.words = format!("Measure how far {} stands from the shaft end now: the old figure is void.", name(&s.about));
        }
        if s.id.strip_prefix("torque.").is_some_and(|n| void.contains(&format!("{n}.mark"))) {
            let torque = a.part(&s.about).and_then(|p| p.torque_nm);
            if torque.is_none() {
                s.words = format!(
                    "Tighten {} anew, not to the old mark, it is void: nip, turn the shaft, nip again, by the maker's figure.",
                    name(&s.about)
                );
            }
        }
    }
    let mut fresh = Vec::new();
    for q in asked_again(a, repaired) {
        let after = [format!("torque.{}", q.about), format!("on.{}", q.about)];
        let stage = if q.id.ends_with(".clock") { Stage::CloseUp } else { Stage::TorqueAndLock };
        let tool = if q.unit == Some(measure::Unit::Degree) { "scriber and clock drawing" } else { "scriber" };
        fresh.push(step(format!("ask.{}", q.id), stage, &q.about, q.words, tool, 3.0).after(after));
    }
    let known: BTreeSet<&str> = steps.iter().map(|s| s.id.as_str()).collect();
    for s in &mut fresh {
        s.before.retain(|b| known.contains(b.as_str()));
    }
    let ids: Vec<String> = fresh.iter().map(|s| s.id.clone()).collect();
    if let Some(turn) = steps.iter_mut().find(|s| s.id == "prove.turn") {
        turn.before.extend(ids);
    }
    for s in fresh {
        // Behind its stage's steps: the list stays sorted by stage.
        let at = steps.iter().rposition(|x| x.stage <= s.stage).map_or(0, |k| k + 1);
        steps.insert(at, s);
    }
}
