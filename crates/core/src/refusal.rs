//! One kind of error for the whole core: which field, and a sentence that says what was expected.

use serde::{Deserialize, Serialize};

/// An input that cannot be worked with. `message` is shown beside `field`, to the person who typed it.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error, Serialize, Deserialize)]
#[error("{field}: {message}")]
pub struct Refusal {
    /// Name of the field, as in the contract (`d_mm`, `points`).
    pub field: String,
    /// What was expected, and what to do instead.
    pub message: String,
    /// Another field that would settle it, such as the reason why a number may stay; what pages go by, never the
    /// sentence.
    #[serde(skip)]
    pub wants: Option<&'static str>,
}

impl Refusal {
    /// Builds a refusal of `field`.
    pub fn new(field: impl Into<String>, message: impl Into<String>) -> Self {
        Self { field: field.into(), message: message.into(), wants: None }
    }
    /// What is typed into another field would settle it.
    #[must_use]
    pub fn wants(self, field: &'static str) -> Self {
        Self { wants: Some(field), ..self }
    }
}

/// Shorthand used by every computation of this crate.
pub type Result<T> = std::result::Result<T, Refusal>;

/// Refuses `field` with `message` unless `holds`.
pub(crate) fn expect(holds: bool, field: &str, message: impl Into<String>) -> Result<()> {
    if holds { Ok(()) } else { Err(Refusal::new(field, message)) }
}
