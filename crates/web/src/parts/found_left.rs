//! As found beside as left beside limit, one line a thing: the Ledger and the Certificate show the same.

use crate::parts::found::found_words;
use ironseat_core::anatomy::acts::Act;
use ironseat_core::anatomy::as_found::Ask;
use ironseat_core::decide::{AnswerState, State};
use ironseat_core::quantity::Units;
use ironseat_core::terms::ActId;
use ironseat_store::read::bench::Bench;

/// One line.
#[derive(Default)]
pub struct FoundLeft {
    pub what: String,
    pub found: String,
    /// Words, not a number.
    pub words: bool,
    pub left: String,
    pub limit: String,
    pub source: String,
    pub change: String,
    /// As left it lies outside its limit, or another way round than it was found.
    pub notable: &'static str,
    pub pictures: Vec<String>,
    pub note: String,
}

/// All lines of a rebuild of which something is known.
pub fn rows(b: &Bench, units: Units) -> Vec<FoundLeft> {
    let t = &b.state;
    t.questions
        .iter()
        .filter(|q| !q.id.starts_with("again."))
        .filter_map(|q| {
            let found = found_words(t, &q.id, units);
            // The last step that reads the same thing and is done says how it was left.
            let last = t.acts.iter().rev().filter(|s| s.measure.as_ref().is_some_and(|m| m.beside == q.id));
            let tick = last
                .clone()
                .find_map(|s| Some((s.measure.as_ref()?, t.done.get(&s.id).filter(|k| k.value.is_some())?)));
            let read = tick.and_then(|(m, k)| Some((m, k.value?)));
            let limits = last.filter_map(|s| s.measure.as_ref()).find(|m| !m.limit(units).is_empty());
            // A new mark counts once it is made, and as long as its repair stands.
            let again = format!("again.{}", q.id);
            let again = if t.is_done(&ActId::Ask(again.clone()).to_string()) {
                found_words(t, &again, units)
            } else {
                String::new()
            };
            let left = match (&read, q.topic.ask()) {
                (Some((m, v)), _) => m.unit.show(*v, units),
                // What the fitter said, never what the build sheet wished.
                (None, Ask::Facing) => t.left_facing(&q.about).map_or(String::new(), |e| format!("end {}", e.letter())),
                _ => again,
            };
            let changed = read.zip(t.found(&q.id)).and_then(|((m, v), was)| Some((m, m.change(&was, v)?)));
            let change = changed.map_or(String::new(), |(m, d)| {
                if d.abs() < 5e-4 {
                    "none".into()
                } else {
                    format!("{}{}", if d > 0.0 { "+" } else { "\u{2212}" }, m.unit.show(d.abs(), units))
                }
            });
            if found.is_empty() && left.is_empty() {
                return None;
            }
            let outside = read.is_some_and(|(_, v)| limits.is_some_and(|m| !m.within(v)));
            let turned = q.topic.ask() == Ask::Facing
                && !left.is_empty()
                && t.answers.get(&q.id).is_some_and(|x| x.state == AnswerState::Recorded && x.value != left);
            Some(FoundLeft {
                what: q.short.clone(),
                words: q.topic.unit().is_none() && q.topic.ask() != Ask::Facing,
                found,
                left,
                limit: limits.map_or(String::new(), |m| m.limit(units)),
                source: limits.map_or(String::new(), |m| m.source.clone()),
                change,
                notable: if outside {
                    "outside its limit"
                } else if turned {
                    "turned round"
                } else {
                    ""
                },
                pictures: b.pictures.get(&q.id).map_or_else(Vec::new, |l| {
                    l.iter().map(|p| format!("/rebuilds/{}/pictures/{}", b.rebuild.id, p.id)).collect()
                }),
                note: [t.answers.get(&q.id).map(|x| &x.note), tick.map(|(_, k)| &k.reason)]
                    .into_iter()
                    .flatten()
                    .filter(|x| !x.is_empty())
                    .map(String::as_str)
                    .collect::<Vec<_>>()
                    .join("; "),
            })
        })
        .chain(t.acts.iter().filter_map(|s| set(t, s, units)))
        .collect()
}

/// A number that nobody can find before taking it apart: a torque, a lift, a tilt.
fn set(t: &State, s: &Act, units: Units) -> Option<FoundLeft> {
    let m = s.measure.as_ref().filter(|m| !m.what.is_empty())?;
    let tick = t.done.get(&s.id)?;
    let value = tick.value?;
    Some(FoundLeft {
        what: format!("{}, {}", t.anatomy().name_of(&s.body), m.what),
        left: m.unit.show(value, units),
        limit: m.limit(units),
        source: m.source.clone(),
        notable: if m.within(value) { "" } else { "outside its limit" },
        note: tick.reason.clone(),
        ..FoundLeft::default()
    })
}
