//! What may be kept: the same limits for build sheets, forms and columns, so that what is accepted works to the end.

use super::Anatomy;
use crate::refusal::{Refusal, Result, expect};
use crate::terms::text::{self, Text, unseen};
use serde_json::Value;

fn plain_id(id: &str, as_long: Text) -> bool {
    let mut c = id.chars();
    let first = c.next().is_some_and(|c| c.is_ascii_alphanumeric());
    first && id.len() <= as_long.most && c.all(|c| c.is_ascii_alphanumeric() || matches!(c, '-' | '_'))
}

/// Refuses ids that no act, address or column can carry, and texts that cannot be shown as they are.
///
/// # Errors
/// The list that it stands in, or `key` or `name`.
pub(super) fn keepable(a: &Anatomy) -> Result<()> {
    expect(
        plain_id(&a.key, text::KEY),
        "key",
        format!("expected a key of up to {} plain letters, digits and hyphens, such as brine-pump", text::KEY.most),
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
                "name" => text::SHEET_NAME.most,
                _ => text::SHEET_TEXT.most,
            };
            let n = s.chars().count();
            expect(n <= longest, list, format!("“{shown}…” has {n} characters, at most {longest} are taken"))?;
            let id = at == "id";
            let words = format!(
                "the id “{shown}”: expected up to {} plain letters, digits, hyphens and underscores",
                text::ID.most
            );
            expect(!id || plain_id(s, text::ID), list, words)
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
            assert_eq!(plain_id(id, text::ID), good, "{id}");
        }
        assert!(!plain_id(&"x".repeat(41), text::ID));
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
