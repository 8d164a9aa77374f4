//! Questions that the work itself raises before a part goes on: the number of the new part where the old one was
//! scrapped, and which of the two is right where what was found contradicts the build sheet.

use super::super::as_found::{self, Question, Topic};
use super::super::body::whole;
use super::super::{Anatomy, Part};
use super::{Act, Before, Law, Phase, Round, Stage, Verb};
use crate::anatomy::text::{Text, inside};
use crate::quantity::show::capital;
use crate::terms::{ActId, StepKind};
use std::collections::BTreeSet;

/// A question that holds a part off until it is answered.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Later {
    /// What is asked.
    pub question: Question,
    /// Why the part waits for it.
    pub why: String,
    /// The round whose acts wait for it; none where all do.
    pub round: Option<u32>,
}

/// Id of the question for the number of a new part.
#[must_use]
pub fn new_of(part: &str) -> String {
    format!("new.{part}")
}

/// What was scrapped does not go back: the new one is asked for, by number or batch. `why` is what was said of the old
/// one: `fluted; 6208 C3, promised for the ninth`.
#[must_use]
pub fn new_part(a: &Anatomy, part: &str, why: &str) -> Later {
    let name = a.name_of(part);
    let look = a.part(part).and_then(|p| p.kind.row().kit).map_or_else(
        || format!("lay the new {name} beside the old one: the same size, the same material, no burr"),
        |kit| inside(kit.replace("{name}", name).trim_end_matches('.')),
    );
    Later {
        question: Question {
            id: new_of(part),
            about: part.to_owned(),
            topic: Topic::New,
            words: capital(&format!("new {name}: {look}. Write down its number or batch.")),
            short: capital(&format!("new {name}, number or batch")),
            before_off: Vec::new(),
        },
        why: format!(
            "the old one was scrapped ({}): the new one is here, and is looked at first",
            why.trim_end_matches('.')
        ),
        round: None,
    }
}

/// Parts that coming off scraps want new ones when they go on again: those that a back-out took off, and those that come
/// off in a round.
#[must_use]
pub fn new_again(a: &Anatomy, backed_out: &BTreeSet<String>, rounds: &[Round]) -> Vec<Later> {
    let scrapped = |p: &str| a.part(p).is_some_and(Part::scrapped_by_removal);
    let again = backed_out.iter().filter(|p| scrapped(p)).map(|p| new_part(a, p, "it came off again"));
    let in_round = rounds.iter().flat_map(|r| {
        let off: BTreeSet<&str> = r.off.iter().map(|b| whole(b)).filter(|p| scrapped(p)).collect();
        off.into_iter().map(|p| {
            let mut later = new_part(a, p, "it comes off for the shim");
            later.question.id = format!("{}#{}", later.question.id, r.n);
            Later { round: Some(r.n), ..later }
        })
    });
    again.chain(in_round).collect()
}

/// What was found contradicts the build sheet: one of the two is wrong, and which is said before the part goes on. None
/// where they agree.
#[must_use]
pub fn differs(a: &Anatomy, q: &Question, answer: &str) -> Option<Later> {
    let words = as_found::contradicts(a, q, answer)?;
    let name = a.name_of(&q.about);
    Some(Later {
        question: Question {
            id: format!("which.{}", q.about),
            about: q.about.clone(),
            topic: Topic::Which,
            words: capital(&format!("{name}: {words} Write down which is right, and by what: drawing, maker, wear.")),
            short: capital(&format!("{name}, found or build sheet")),
            before_off: Vec::new(),
        },
        why: "what was found contradicts the build sheet: which of them is right is said first".to_owned(),
        round: None,
    })
}

/// Puts such questions into a list of acts: nothing of the part is heated or put on before its answer. What went on before
/// that stays as it was done; gives back what is asked.
pub fn with_later(
    a: &Anatomy,
    list: Vec<Later>,
    done: impl Fn(&str) -> bool,
    answered: impl Fn(&str) -> bool,
    acts: &mut Vec<Act>,
) -> Vec<Question> {
    let mut asked = Vec::new();
    for Later { question: q, why, round } in list {
        let of_part = |s: &Act| match ActId::of(&s.id).map(|i| i.first_time().clone()) {
            Some(ActId::On(b) | ActId::Heat(b)) => whole(&b) == q.about,
            _ => {
                let here = |x: &(String, StepKind)| a.seat(&x.0).is_some_and(|seat| seat.part == q.about);
                s.seat.as_ref().is_some_and(|x| matches!(x.1, StepKind::Heat | StepKind::PutOn) && here(x))
            }
        };
        let in_round = |s: &Act| round.is_none_or(|n| s.id.ends_with(&format!("#{n}")));
        let all: Vec<usize> = (0..acts.len()).filter(|k| of_part(&acts[*k]) && in_round(&acts[*k])).collect();
        let waits: Vec<usize> = all.iter().copied().filter(|k| !done(&acts[*k].id)).collect();
        let Some(&at) = waits.first().or_else(|| all.first().filter(|_| answered(&q.id))) else { continue };
        let id = ActId::ask(&q.id).text();
        for k in waits {
            let words = Text::new(why.clone()).capital();
            acts[k].before.push(Before { id: id.clone(), law: Law::Evidence, words });
        }
        let mut act = Act::new(&id, Verb::Ask, Phase::Mount, Stage::Parts, &q.about, q.words.clone())
            .with("eyes, micrometer", 4.0);
        // It is looked at beside the old one.
        let look = ActId::look(&q.about).text();
        if q.topic == Topic::New && acts.iter().any(|s| s.id == look) {
            let words = Text::new("what came off was looked at first").capital();
            act.before.push(Before { id: look, law: Law::Evidence, words });
        }
        acts.insert(at, act);
        asked.push(q);
    }
    asked
}
