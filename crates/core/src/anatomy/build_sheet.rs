//! Build sheets: an anatomy as a `.toml` text that a person can read and write by hand. An error names the line and
//! says what was expected.

use super::{Anatomy, FindingKind, derive};
use crate::refusal::{Refusal, Result};
use serde::{Deserialize, Serialize};

/// Version of the format; older ones are read, a newer one is refused.
pub const FORMAT: u32 = 3;
/// Largest text that is taken, bytes.
pub const LARGEST: usize = 512 << 10;

/// A whole build sheet, short enough to be read at once: a pin with a pressed bush.
///
/// ```
/// use ironseat_core::anatomy::{build_sheet, derive};
/// let derived = derive(&build_sheet::read(build_sheet::EXAMPLE)?)?;
/// assert!(derived.faults.is_empty() && derived.act("home.bush").is_some());
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
pub const EXAMPLE: &str = r#"format = 2
key = "pin"
name = "Pin"
version = 1

lands = [
  { id = "J", name = "journal", length_mm = 40, d_mm = 20 },
  { id = "C", name = "collar", length_mm = 10, d_mm = 30 },
]

parts = [
  { id = "bush", name = "Bush", kind = "bush", land = "J", at_mm = 15, width_mm = 25, outside_mm = 26, from = "A", fit = "press" },
]
"#;

/// The text: a version and the anatomy.
#[derive(Serialize, Deserialize)]
struct Sheet {
    format: u32,
    #[serde(flatten)]
    anatomy: Anatomy,
}

/// Reads a build sheet.
///
/// ```
/// use ironseat_core::anatomy::build_sheet::{read, write};
/// let text = r#"
/// format = 1
/// key = "bush"
/// name = "Pin"
/// version = 1
///
/// [[lands]]
/// id = "pin"
/// name = "pin"
/// length_mm = 40
/// d_mm = 20
///
/// [[parts]]
/// id = "bush"
/// name = "Bush"
/// kind = "bush"
/// land = "pin"
/// width_mm = 20
/// outside_mm = 26
/// fit = "press"
/// "#;
/// let a = read(text)?;
/// assert_eq!(read(&write(&a))?, a);
/// assert_eq!(read(&text.replace("\"bush\"\nland", "\"bosh\"\nland")).unwrap_err().message.split(':').next(), Some("line 16"));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// Field `sheet`: the line, what was expected; also for a part that cannot get to its place and for a loop.
pub fn read(text: &str) -> Result<Anatomy> {
    let anatomy = parse(text)?;
    let anatomy = anatomy.check().map_err(|e| bad(mentioned(text, &e), e.message))?;
    let derived = derive(&anatomy)?;
    match derived.faults.iter().find(|f| matches!(f.kind, FindingKind::Stuck | FindingKind::Loop)) {
        Some(f) => Err(bad(
            f.bodies.first().and_then(|id| find(text, &format!("\"{}\"", super::body::whole(id)))),
            f.words.to_string(),
        )),
        None => Ok(anatomy),
    }
}

fn bad(line: Option<usize>, what: String) -> Refusal {
    Refusal::new("sheet", line.map_or_else(|| what.clone(), |l| format!("line {l}: {what}")))
}

/// Reads a build sheet as it is written: every name leads somewhere, every size can be. Whether the machine can be
/// built is for [`derive()`] to say.
///
/// # Errors
/// Field `sheet`: the line, what was expected.
pub fn parse(text: &str) -> Result<Anatomy> {
    if text.len() > LARGEST {
        return Err(bad(
            None,
            format!("this text is larger than {} kB: a build sheet has a few hundred lines", LARGEST >> 10),
        ));
    }
    let table: toml::Table = toml::from_str(text).map_err(|e| bad(line_of(text, e.span()), plain(e.message())))?;
    match table.get("format").and_then(toml::Value::as_integer) {
        Some(v) if (1..=i64::from(FORMAT)).contains(&v) => {}
        Some(v) if v > i64::from(FORMAT) => {
            return Err(bad(
                find(text, "format"),
                format!("this sheet has format {v}; this program reads up to {FORMAT}: update the program"),
            ));
        }
        _ => return Err(bad(find(text, "format"), format!("expected format = {FORMAT} among the first lines"))),
    }
    if let Some(at) = not_a_number(&toml::Value::Table(table.clone()), "") {
        return Err(bad(find(text, &at), format!("{at}: expected a number")));
    }
    // The format line is blanked out, so that the other lines keep their numbers and errors their places.
    let body: String = text
        .split_inclusive('\n')
        .map(|l| if l.trim_start().starts_with("format") { blank(l) } else { l.to_owned() })
        .collect();
    let anatomy: Anatomy = toml::from_str(&body).map_err(|e| bad(line_of(&body, e.span()), plain(e.message())))?;
    anatomy.check_words().map_err(|e| bad(mentioned(text, &e), e.message))
}

/// Where a number is none that can be reckoned with: `inf` and `nan` are numbers to this format of text.
fn not_a_number(v: &toml::Value, at: &str) -> Option<String> {
    match v {
        toml::Value::Float(f) => (!f.is_finite() || f.abs() > 1e12).then(|| at.to_owned()),
        toml::Value::Array(list) => list.iter().find_map(|x| not_a_number(x, at)),
        toml::Value::Table(t) => t.iter().find_map(|(k, x)| not_a_number(x, k)),
        _ => None,
    }
}

fn blank(line: &str) -> String {
    if line.ends_with('\n') { "\n".into() } else { String::new() }
}

/// Writes a build sheet: the same anatomy comes back when it is read.
#[must_use]
pub fn write(a: &Anatomy) -> String {
    let head =
        format!("# Build sheet: {}. Lengths in mm along the shaft from end A.\n", a.name.replace(['\n', '\r'], " "));
    let body = toml::to_string(&Sheet { format: FORMAT, anatomy: a.clone() }).unwrap_or_default();
    head + &body
}

/// Number of the line, from 1.
fn line_of(text: &str, span: Option<std::ops::Range<usize>>) -> Option<usize> {
    let at = span?.start.min(text.len());
    Some(text.as_bytes()[..at].iter().filter(|b| **b == b'\n').count() + 1)
}

fn find(text: &str, what: &str) -> Option<usize> {
    text.lines().position(|l| l.contains(what)).map(|i| i + 1)
}

/// The line of what a refusal speaks of: the first quoted id of the text that stands in its sentence, nearest to its
/// table.
fn mentioned(text: &str, e: &Refusal) -> Option<usize> {
    let words: Vec<&str> =
        e.message.split(|c: char| !(c.is_alphanumeric() || c == '-' || c == '_' || c == '.')).collect();
    let table = format!("[[{}]]", e.field);
    let mut inside = false;
    for (i, line) in text.lines().enumerate() {
        if line.trim_start().starts_with("[[") {
            inside = line.trim() == table;
        }
        let id = line.split_once('=').filter(|(k, _)| k.trim() == "id").map(|(_, v)| v.trim().trim_matches('"'));
        if inside && id.is_some_and(|id| words.contains(&id)) {
            return Some(i + 1);
        }
    }
    find(text, &table)
}

/// The reader's words turned into a fitter's.
fn plain(message: &str) -> String {
    let first = message.lines().next().unwrap_or("").trim();
    let number = "a number, such as 12.5";
    let text = first
        .replace("invalid type: string", "found the text")
        .replace("invalid type: integer", "found the number")
        .replace("invalid type: floating point", "found the number")
        .replace("invalid type: boolean", "found")
        .replace("invalid type: sequence", "found a list")
        .replace("invalid type: map", "found a table")
        .replace("expected f64", &format!("expected {number}"))
        .replace("expected a string", "expected a text in quotes")
        .replace("expected a boolean", "expected true or false")
        .replace("unknown variant", "not known:")
        .replace("unknown field", "not known here:")
        .replace("missing field", "missing:");
    // Every second mark closes.
    let mut open = false;
    text.chars()
        .map(|c| match c {
            '`' => {
                open = !open;
                if open { '“' } else { '”' }
            }
            c => c,
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::super::tests::{drawn, machine};
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(60))]
        #[test]
        fn what_is_written_can_be_read_again(a in drawn()) {
            let whole = a.clone().check().is_ok() && derive(&a).unwrap().buildable();
            match read(&write(&a)) {
                Ok(back) => prop_assert_eq!(back, a),
                Err(e) => prop_assert!(!whole, "{e}"),
            }
        }

        #[test]
        fn nothing_typed_makes_it_panic(cut in 0usize..4000, put in ".{0,12}") {
            let text = write(&machine());
            let at = (0..=cut.min(text.len())).rev().find(|k| text.is_char_boundary(*k)).unwrap_or(0);
            let _ = read(&format!("{}{put}{}", &text[..at], &text[at..]));
        }
    }

    #[test]
    fn a_machine_comes_back_as_it_was() {
        let m = machine();
        assert_eq!(read(&write(&m)).unwrap(), m);
        assert!(write(&m).lines().count() > 60 && write(&m).contains("[[parts]]"));
    }

    #[test]
    fn an_error_names_its_line_and_says_what_was_expected() {
        let text = write(&machine());
        let line = |what: &str| find(&text, what).unwrap();
        let says = |from: &str, to: &str| read(&text.replacen(from, to, 1)).unwrap_err().message;
        assert!(
            says("length_mm = 42.0", "length_mm = \"long\"")
                .starts_with(&format!("line {}: found the text", line("length_mm = 42.0")))
        );
        assert!(says("kind = \"seal\"", "kind = \"sael\"").contains("not known: “sael”"));
        assert!(says("[[parts]]", "[[parts]]\ncolour = \"red\"").contains("not known here: “colour”"));
        assert!(says("format = 3", "format = 9").contains("reads up to 3"));
        assert!(says("format = 3", "").contains("expected format = 3"));
        for older in ["format = 1", "format = 2"] {
            assert_eq!(read(&text.replacen("format = 3", older, 1)).unwrap(), machine());
        }
        assert!(says("key = ", "key  ").starts_with("line "));
        // The same id twice, a reference to nothing, a size that cannot be, a part that cannot pass.
        assert!(says("id = \"cover\"", "id = \"seal\"").contains("used twice"));
        assert!(says("carried_by = \"cover\"", "carried_by = \"lid\"").contains("names lid"));
        assert!(says("outside_mm = 120.0", "outside_mm = 12.0").contains("line "));
        let m = {
            let mut m = machine();
            m.parts[2].from = crate::terms::End::B;
            m
        };
        assert!(read(&write(&m)).unwrap_err().message.contains("cannot get to its place"));
        let m = {
            let mut m = machine();
            m.before.push(super::super::Rule { first: "nut".into(), then: "cover".into(), reason: String::new() });
            m
        };
        assert!(read(&write(&m)).unwrap_err().message.contains("wait for each other"));
    }

    #[test]
    fn hostile_texts_are_refused_quickly() {
        let begun = std::time::Instant::now();
        for text in [
            "x".repeat(10 << 20),
            "[".repeat(100_000),
            "a.".repeat(100_000),
            format!("format = 1\na = {}1{}", "[".repeat(50_000), "]".repeat(50_000)),
            format!("{}{}", write(&machine()), "\n[[parts]]\nid = \"x\"".repeat(20_000)),
        ] {
            let e = read(&text).unwrap_err();
            assert!(e.field == "sheet" && e.message.len() > 10 && e.message.len() < 4000, "{}", e.message.len());
        }
        // What grows with the square of such a text takes minutes; a slow machine takes two seconds.
        assert!(begun.elapsed() < std::time::Duration::from_secs(15), "{:?}", begun.elapsed());
    }
}
