//! Where the trade is explained: every call names its paragraph of `docs/trade.md`.

/// The trade as the program understands it.
pub const TRADE: &str = include_str!("../../../docs/trade.md");

/// The anchor of a chapter or of a paragraph's first words: lower case, words joined by hyphens.
///
/// ```
/// use ironseat_core::why::slug;
/// assert_eq!(slug("Fits and heat"), "fits-and-heat");
/// assert_eq!(slug("What it can bear."), "what-it-can-bear");
/// ```
#[must_use]
pub fn slug(title: &str) -> String {
    let words = title.split(|c: char| !c.is_alphanumeric()).filter(|w| !w.is_empty());
    words.map(str::to_lowercase).collect::<Vec<_>>().join("-")
}

/// Every anchor that the text has: chapters, and paragraphs that begin in bold.
#[must_use]
pub fn anchors() -> Vec<String> {
    let lead = |l: &'static str| l.strip_prefix("## ").or_else(|| Some(l.strip_prefix("**")?.split_once("**")?.0));
    TRADE.lines().filter_map(lead).map(slug).collect()
}
