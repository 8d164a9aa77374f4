//! Text within an address.

/// A text as a value in an address.
pub fn encode(s: &str) -> String {
    serde_urlencoded::to_string([("", s)]).unwrap_or_default().trim_start_matches('=').to_owned()
}
