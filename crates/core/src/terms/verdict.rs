//! How a judgement ends.

use serde::{Deserialize, Serialize};

/// The four verdicts, worst last.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Verdict {
    /// Filled disc with a tick.
    Go,
    /// Diamond outline.
    Undecided,
    /// Ring with an arrow.
    LookAgain,
    /// Square with a bar.
    Stop,
}

impl Verdict {
    /// The word beside the shape.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Go => "Go",
            Self::Undecided => "Undecided",
            Self::LookAgain => "Look again",
            Self::Stop => "Stop",
        }
    }
    /// Name used in records and styles.
    #[must_use]
    pub fn key(self) -> &'static str {
        match self {
            Self::Go => "go",
            Self::Undecided => "undecided",
            Self::LookAgain => "look_again",
            Self::Stop => "stop",
        }
    }
}
