//! Names and ids of what is drawn.

use crate::refusal::Result;
use crate::terms::text;

/// An id made from a name, not taken yet; `otherwise` when the name has neither letter nor digit.
///
/// ```
/// use ironseat_core::anatomy::names::free_id;
/// assert_eq!(free_id("Lip seal, 38×62", 24, "part", |id| id == "lip-seal-38-62"), "lip-seal-38-62-2");
/// ```
#[must_use]
pub fn free_id(name: &str, longest: usize, otherwise: &str, taken: impl Fn(&str) -> bool) -> String {
    let plain: String = name.to_lowercase().chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '-' }).collect();
    let base: String =
        plain.split('-').filter(|s| !s.is_empty()).collect::<Vec<_>>().join("-").chars().take(longest).collect();
    let base = if base.is_empty() { otherwise.to_owned() } else { base };
    (1..).map(|k| if k == 1 { base.clone() } else { format!("{base}-{k}") }).find(|id| !taken(id)).unwrap_or(base)
}

pub(crate) fn named(name: &str) -> Result<String> {
    text::DRAWN.read("name", name, |range| format!("expected a name of {range}"))
}
