//! What a named computation gives, and where it stops holding.

use super::Input;
use serde_json::{Map, Value};

/// What a result is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Gives {
    /// A finite number.
    Number,
    /// True or false.
    Flag,
    /// A text.
    Text,
    /// One of these words.
    Word(&'static [&'static str]),
    /// A list of numbers.
    Numbers,
    /// A list of texts.
    Texts,
    /// A list of pairs of texts.
    Pairs,
    /// Names with a number each.
    Counts,
    /// A list of objects with these results.
    Objects(&'static [Output]),
}

/// One result of a computation.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Output {
    /// Name with its unit as suffix.
    pub name: &'static str,
    /// What it is.
    pub kind: Gives,
    /// Null when it does not exist.
    pub nullable: bool,
    /// Meaning.
    pub about: &'static str,
}

/// A result that is always there.
pub(crate) const fn gives(name: &'static str, kind: Gives, about: &'static str) -> Output {
    Output { name, kind, nullable: false, about }
}
/// A result that is null when it does not exist.
pub(crate) const fn or_null(name: &'static str, kind: Gives, about: &'static str) -> Output {
    Output { name, kind, nullable: true, about }
}

/// A limit of validity: outside it the answer carries the sentence as a warning.
#[derive(Clone, Copy)]
pub struct Limit {
    /// The limit, as a sentence.
    pub words: &'static str,
    pub(super) broken: fn(&Input, &Map<String, Value>) -> bool,
}

/// A limit and the test that it is broken.
pub(crate) const fn limit(words: &'static str, broken: fn(&Input, &Map<String, Value>) -> bool) -> Limit {
    Limit { words, broken }
}

/// A number of an answer, for the test of a limit.
pub(crate) fn number(answer: &Map<String, Value>, name: &str) -> Option<f64> {
    answer.get(name).and_then(Value::as_f64)
}
