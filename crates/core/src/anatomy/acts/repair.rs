//! Repairs that void a mark: what rests on a face that was machined is asked for again.

use super::super::as_found::{self, Question, Topic};
use super::super::body::Bodies;
use super::super::{Anatomy, Role, clamp};
use super::{Act, Before, Law, Phase, Stage, Verb};
use crate::anatomy::text::Text;
use crate::terms::ActId;
use std::collections::BTreeSet;

/// As-found answers that are void once a face of a part was machined: marks and stand-outs of the nuts that clamp the
/// stack it lies in, and its own clocking. New ones are asked for.
#[must_use]
pub fn voided_by(a: &Anatomy, part: &str) -> Vec<String> {
    let Some(p) = a.part(part) else { return Vec::new() };
    let all = Bodies::of(a);
    let own = all.pieces_of(part);
    let mut out = Vec::new();
    if p.clocked {
        out.push(format!("{part}.clock"));
    }
    for n in a.parts.iter().filter(|n| n.kind.role() == Role::Nut) {
        let Some(i) = all.number(&n.id) else { continue };
        let stack = clamp::stack(a, &all, i, n.from.other());
        if n.id == part || own.iter().any(|k| stack.members.contains(k)) {
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
    let steps = |q: String| {
        let n = about(&q);
        [
            ActId::torque(&n).text(),
            ActId::set(&n).text(),
            ActId::standout(&n).text(),
            ActId::ask(format!("again.{q}")).text(),
        ]
    };
    voided_by(a, part).into_iter().flat_map(steps).collect()
}

/// Questions that are asked again after repairs, about the mark as it is left: `again.nut.mark`.
#[must_use]
pub fn asked_again(a: &Anatomy, repaired: &[String]) -> Vec<Question> {
    let void: BTreeSet<String> = repaired.iter().flat_map(|p| voided_by(a, p)).collect();
    as_found::questions(a)
        .into_iter()
        .filter(|q| void.contains(&q.id) && q.topic != Topic::StandOut)
        .map(|q| {
            let name = a.name_of(&q.about);
            let words = if q.topic == Topic::Clocking {
                format!("{name}: its old mark is void. Set the new one and write down its angle.")
            } else {
                format!(
                    "{name}: its old mark is void. Make the new one: tightened, turned, tightened, then scribed across."
                )
            };
            Question { id: format!("again.{}", q.id), words, before_off: Vec::new(), ..q }
        })
        .collect()
}

/// Changes the acts of a trail for repairs: nuts are no longer drawn to a mark that is void, what stood beside the old
/// number stands alone, and the new marks are asked for once the part is tight.
pub fn after_repairs(a: &Anatomy, repaired: &[String], acts: &mut Vec<Act>) {
    let void: BTreeSet<String> = repaired.iter().flat_map(|p| voided_by(a, p)).collect();
    if void.is_empty() {
        return;
    }
    let name = |id: &str| a.name_of(id).to_owned();
    for s in acts.iter_mut() {
        s.given.retain(|q| !void.contains(q));
        if let Some(m) = s.measure.as_mut().filter(|m| void.contains(&m.beside)) {
            m.beside.clear();
            s.words = Text::new(format!(
                "Measure how far {} stands from the shaft end now: the old figure is void.",
                name(&s.body)
            ));
        }
        if matches!(ActId::of(&s.id), Some(ActId::Torque(n)) if void.contains(&format!("{n}.mark"))) {
            let torque = a.part(&s.body).and_then(|p| p.torque_nm);
            if torque.is_none() {
                s.words = Text::new(format!(
                    "Tighten {} anew, not to the old mark, it is void: nip, turn the shaft, nip again, by the maker's figure.",
                    name(&s.body)
                ));
            }
        }
    }
    for q in asked_again(a, repaired) {
        let clock = q.topic == Topic::Clocking;
        let stage = if clock { Stage::CloseUp } else { Stage::TorqueAndLock };
        let tool = if clock { "scriber and clock drawing" } else { "scriber" };
        let mut act =
            Act::new(ActId::ask(&q.id).text(), Verb::Ask, Phase::Mount, stage, &q.about, q.words).with(tool, 3.0);
        let first = [ActId::torque(&q.about).text(), ActId::set(&q.about).text(), ActId::on(&q.about).text()];
        let known: Vec<String> = first.into_iter().filter(|f| acts.iter().any(|s| s.id == *f)).collect();
        // The last of them is enough: it rests on the others.
        act.before = known
            .into_iter()
            .take(1)
            .map(|id| Before {
                id,
                law: Law::BothSides,
                words: Text::new("the new mark is made once it is tight").capital(),
            })
            .collect();
        let at = act.before.first().and_then(|b| acts.iter().position(|s| s.id == b.id)).map_or(acts.len(), |k| k + 1);
        if let Some(turn) = acts.iter_mut().find(|s| s.id == "prove.turn") {
            turn.before.push(Before {
                id: act.id.clone(),
                law: Law::BothSides,
                words: Text::new("The new mark is written down first"),
            });
        }
        acts.insert(at, act);
    }
}
