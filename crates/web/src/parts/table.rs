//! Tables as they arrive: bytes of a file or text that was pasted in, to rows of cells. Which column is what is decided
//! elsewhere.

use csv::{ReaderBuilder, Trim};
use encoding_rs::{UTF_16BE, UTF_16LE, WINDOWS_1252};
use ironseat_core::Refusal;
use ironseat_core::quantity::Units;
use ironseat_core::rows::{MOST, Role, Table};
use ironseat_core::stock::unit_of;
use std::collections::BTreeMap;

/// Bytes of a table.
pub const LARGEST: usize = 2 << 20;
/// What may stand between cells. A comma comes last: it may be a decimal one.
const BETWEEN: [u8; 4] = [b';', b'\t', b'|', b','];

fn refused(words: &str) -> Refusal {
    Refusal::new("file", words)
}

/// The text of a file: UTF-8, UTF-16 with its mark, else what spreadsheets write in the west.
fn text(bytes: &[u8]) -> Result<String, Refusal> {
    let wide = match bytes {
        [0xff, 0xfe, ..] => Some(UTF_16LE),
        [0xfe, 0xff, ..] => Some(UTF_16BE),
        _ => None,
    };
    let out = match wide {
        Some(e) => e.decode(bytes).0.into_owned(),
        None => match std::str::from_utf8(bytes) {
            Ok(s) => s.trim_start_matches('\u{feff}').to_owned(),
            Err(_) => WINDOWS_1252.decode(bytes).0.into_owned(),
        },
    };
    if out.contains('\0') {
        return Err(refused("expected a table as text (.csv): this file is something else"));
    }
    Ok(out)
}

/// What stands between cells: what most of the first lines have the same number of.
fn between(text: &str) -> u8 {
    let lines: Vec<&str> = text.lines().filter(|l| !l.trim().is_empty()).take(12).collect();
    let count = |l: &str, b: u8| {
        let mut quoted = false;
        let outside = |c: &&u8| {
            quoted ^= **c == b'"';
            !quoted && **c == b
        };
        l.as_bytes().iter().filter(outside).count()
    };
    let even = |b: u8| {
        let first = lines.first().map_or(0, |l| count(l, b));
        let same = lines.iter().filter(|l| count(l, b) == first).count();
        if first == 0 { (0, 0) } else { (same, first) }
    };
    if let Some(b) = BETWEEN.into_iter().find(|b| even(*b).0 == lines.len()) {
        return b;
    }
    let mut best = (BETWEEN[0], (0, 0));
    for b in BETWEEN {
        let e = even(b);
        if e > best.1 {
            best = (b, e);
        }
    }
    best.0
}

/// Reads a table.
///
/// # Errors
/// `file`, with what was expected.
pub fn read(bytes: &[u8]) -> Result<Table, Refusal> {
    if bytes.is_empty() {
        return Err(refused("choose a file, or paste the rows"));
    }
    if bytes.len() > LARGEST {
        return Err(refused("expected at most 2 MB: send it in parts"));
    }
    let text = text(bytes)?;
    let mut reader = ReaderBuilder::new()
        .has_headers(false)
        .flexible(true)
        .delimiter(between(&text))
        .trim(Trim::All)
        .from_reader(text.as_bytes());
    let mut rows: Vec<Vec<String>> = Vec::new();
    for record in reader.records() {
        let record = record.map_err(|_| refused("expected a table as text (.csv): a quotation mark is not closed"))?;
        // Empty lines are passed over before a record begins.
        let at = record.position().map_or(0, |p| usize::try_from(p.byte()).unwrap_or(0)).min(text.len());
        let at = at + text.as_bytes()[at..].iter().take_while(|b| matches!(b, b'\r' | b'\n')).count();
        let line = 1 + text.as_bytes()[..at].iter().filter(|b| **b == b'\n').count();
        // Lines that were empty are counted, so that a line has the number that an editor shows.
        while rows.len() + 1 < line && rows.len() < 2 * MOST {
            rows.push(Vec::new());
        }
        rows.push(record.iter().map(|c| c.chars().filter(|x| !x.is_control()).take(400).collect()).collect());
        if rows.len() > 2 * MOST {
            break;
        }
    }
    Table::new(rows)
}

/// A column as a choice.
pub struct Choice {
    pub index: usize,
    pub head: String,
    pub chosen: bool,
}

/// What a column may be, with the columns of a file to choose from.
pub struct RoleView {
    pub key: &'static str,
    pub name: &'static str,
    pub needed: bool,
    pub choices: Vec<Choice>,
}

/// Columns as they are named in an address: `column.value=2`, empty for none; what no address names is guessed.
pub fn columns(t: &Table, roles: &[Role], asked: &BTreeMap<String, String>) -> Vec<Option<usize>> {
    let guessed = t.guess(roles);
    let one = |(r, g): (&Role, Option<usize>)| match asked.get(&format!("column.{}", r.key)) {
        Some(text) => text.parse().ok().filter(|k| *k < t.head.len()),
        // A single column holds the figures.
        None => g.or_else(|| (r.needed && t.head.len() == 1).then_some(0)),
    };
    roles.iter().zip(guessed).map(one).collect()
}

/// The unit of the first column: as an address names it, as its heading says, else that of whoever asks.
pub fn unit(asked: &BTreeMap<String, String>, t: &Table, columns: &[Option<usize>], units: Units) -> &'static str {
    match asked.get("unit").map(String::as_str) {
        Some("um") => "um",
        Some("mm") => "mm",
        Some("in") => "in",
        _ => unit_of(columns[0].map_or("", |k| t.head[k].as_str()), units),
    }
}

/// The choices of a page.
pub fn roles(t: &Table, roles: &'static [Role], columns: &[Option<usize>]) -> Vec<RoleView> {
    let sample = |k: usize| t.lines.first().map_or("", |l| l.at(Some(k))).chars().take(24).collect::<String>();
    let one = |(r, chosen): (&Role, &Option<usize>)| RoleView {
        key: r.key,
        name: r.name,
        needed: r.needed,
        choices: t
            .head
            .iter()
            .enumerate()
            .map(|(k, h)| Choice {
                index: k,
                head: format!("{}: {}", h.chars().take(40).collect::<String>(), sample(k)),
                chosen: *chosen == Some(k),
            })
            .collect(),
    };
    roles.iter().zip(columns).map(one).collect()
}

/// The columns in words: `reading from “Reading mm”`.
pub fn said(t: &Table, roles: &[Role], columns: &[Option<usize>]) -> String {
    let one = |(r, c): (&Role, &Option<usize>)| c.map(|k| format!("{} from “{}”", r.name, t.head[k]));
    roles.iter().zip(columns).filter_map(one).collect::<Vec<_>>().join(", ")
}
