//! What a named computation gives.

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

/// A result that an answer carries only when there is something to say.
pub(crate) const fn said(name: &'static str, kind: Gives, about: &'static str) -> Output {
    Output { name, kind, nullable: false, about }
}
