//! Ends of a shaft.

use serde::{Deserialize, Serialize};

/// An end of the shaft; A is drawn on the left.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Hash, Serialize, Deserialize)]
#[allow(missing_docs)]
pub enum End {
    #[default]
    A,
    B,
}

impl End {
    /// The letter.
    #[must_use]
    pub fn letter(self) -> &'static str {
        match self {
            Self::A => "A",
            Self::B => "B",
        }
    }
    /// From its letter.
    #[must_use]
    pub fn of(letter: &str) -> Option<Self> {
        [Self::A, Self::B].into_iter().find(|e| e.letter() == letter)
    }
}
