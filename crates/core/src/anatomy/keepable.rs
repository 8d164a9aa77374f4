//! What may be kept: the same limits for build sheets, forms and columns, so that what is accepted works to the end.

use super::Anatomy;
use crate::refusal::{Refusal, Result, expect};
use serde_json::Value;

/// Longest id of anything: acts are named after it.
pub const LONGEST_ID: usize = 40;
/// Longest key of a machine type.
pub const LONGEST_KEY: usize = 60;
/// Longest name.
const LONGEST_NAME: usize = 120;
/// Longest of any other text.
const LONGEST_TEXT: usize = 400;

/// Signs that nobody sees and that turn a line of writing round.
fn unseen(c: char) -> bool {
    c.is_control() && c != '\n'
        || matches!(c, '\u{200b}'..='\u{200f}' | '\u{202a}'..='\u{202e}' | '\u{2060}'..='\u{2069}' | '\u{feff}' | '\u{fffd}')
}

fn plain_id(id: &str, longest: usize) -> bool {
    let mut c = id.chars();
    let first = c.next().is_some_and(|c| c.is_ascii_alphanumeric());
    first && id.len() <= longest && c.all(|c| c.is_ascii_alphanumeric() || matches!(c, '-' | '_'))
}

/// Refuses ids that no act, address or column can carry, and texts that cannot be shown as they are.
///
/// # Errors
/// The list that it stands in, or `key` or `name`.
pub(super) fn keepable(a: &Anatomy) -> Result<()> {
    expect(
        plain_id(&a.key, LONGEST_KEY),
        "key",
        format!("expected a key of up to {LONGEST_KEY} plain letters, digits and hyphens, such as brine-pump"),
    )?;
    let whole = serde_json::to_value(a).map_err(|e| Refusal::new("sheet", e.to_string()))?;
    for (list, v) in whole.as_object().into_iter().flatten() {
        texts(list, list, v)?;
    }
    Ok(())
}

fn texts(list: &str, at: &str, v: &Value) -> Result<()> {
    match v {
        Value::String(s) => {
            let shown: String = s.chars().filter(|c| !unseen(*c)).take(40).collect();
            expect(!s.chars().any(unseen), list, format!("“{shown}” holds signs that cannot be seen: write it again"))?;
            let longest = match at {
                "name" => LONGEST_NAME,
                _ => LONGEST_TEXT,
            };
            let n = s.chars().count();
            expect(n <= longest, list, format!("“{shown}…” has {n} characters, at most {longest} are taken"))?;
            let id = at == "id";
            let words =
                format!("the id “{shown}”: expected up to {LONGEST_ID} plain letters, digits, hyphens and underscores");
            expect(!id || plain_id(s, LONGEST_ID), list, words)
        }
        Value::Array(all) => all.iter().try_for_each(|x| texts(list, at, x)),
        Value::Object(o) => o.iter().try_for_each(|(k, x)| texts(list, k, x)),
        _ => Ok(()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ids_are_plain_and_texts_can_be_seen() {
        for (id, good) in [
            ("b1", true),
            ("L1_x-2", true),
            ("", false),
            ("-b", false),
            ("bü", false),
            ("a.b", false),
            ("a b", false),
            ("<b>", false),
        ] {
            assert_eq!(plain_id(id, LONGEST_ID), good, "{id}");
        }
        assert!(!plain_id(&"x".repeat(41), LONGEST_ID));
        for (text, good) in [
            ("Lagerbock, größer", true),
            ("two\nlines", true),
            ("a\u{202e}b", false),
            ("bell\u{7}", false),
            ("\u{feff}x", false),
        ] {
            assert_eq!(texts("parts", "note", &Value::from(text)).is_ok(), good, "{text:?}");
        }
        assert!(
            texts("parts", "name", &Value::from("n".repeat(121))).is_err()
                && texts("parts", "note", &Value::from("n".repeat(401))).is_err()
        );
        assert!(texts("lands", "id", &Value::from("ü")).unwrap_err().message.contains("plain letters"));
    }
}
