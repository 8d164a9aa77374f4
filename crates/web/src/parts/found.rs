//! What was found, for people.

use ironseat_core::anatomy::Unit;
use ironseat_core::decide::{AnswerState, State};
use ironseat_core::quantity::Units;

/// Numbers as a person reads them, points set apart.
pub fn shown(unit: Unit, values: &[f64], units: Units) -> String {
    values.iter().map(|v| unit.show(*v, units)).collect::<Vec<_>>().join(", ")
}

/// What was found, for people: numbers with their unit, otherwise the words.
pub fn found_words(s: &State, question: &str, units: Units) -> String {
    let Some(a) = s.answers.get(question) else { return String::new() };
    match (a.state, s.question(question).and_then(|q| q.topic.unit()), s.found(question)) {
        (AnswerState::Recorded, Some(unit), Some(values)) => shown(unit, &values, units),
        (AnswerState::Recorded, ..) => a.value.clone(),
        (other, ..) => other.word().to_owned(),
    }
}
