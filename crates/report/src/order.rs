//! What is to be set, as it comes in: one line of JSON, then the files that it names, one behind the other.
//!
//! `{"paper": "certificate", "size": "letter", "data": {…}, "files": [{"name": "section.svg", "bytes": 812}]}`

use crate::{Paper, Size};
use serde::Deserialize;
use serde_json::Value;

/// A paper to be set.
#[derive(Debug, Clone, PartialEq)]
pub struct Order {
    /// What is printed.
    pub paper: Paper,
    /// On which paper.
    pub size: Size,
    /// What it says.
    pub data: Value,
    /// Drawings and pictures by name.
    pub files: Vec<(String, Vec<u8>)>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Head {
    paper: String,
    size: String,
    data: Value,
    #[serde(default)]
    files: Vec<Named>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Named {
    name: String,
    bytes: usize,
}

/// Reads an order.
///
/// # Errors
/// What was expected.
///
/// ```
/// let order = ironseat_report::order::read(b"{\"paper\":\"labels\",\"size\":\"a4\",\"data\":{},\"files\":[{\"name\":\"x\",\"bytes\":2}]}\nab")?;
/// assert_eq!(order.files, [("x".to_owned(), b"ab".to_vec())]);
/// # Ok::<(), String>(())
/// ```
pub fn read(bytes: &[u8]) -> Result<Order, String> {
    let end = bytes.iter().position(|b| *b == b'\n').unwrap_or(bytes.len());
    let head: Head = serde_json::from_slice(&bytes[..end]).map_err(|e| format!("the order cannot be read: {e}"))?;
    let paper = Paper::of(&head.paper).ok_or_else(|| format!("there is no paper {}", head.paper))?;
    let size = Size::of(&head.size).ok_or_else(|| format!("there is no size {}", head.size))?;
    let mut rest = bytes.get(end + 1..).unwrap_or_default();
    let mut files = Vec::new();
    for f in head.files {
        let Some((own, others)) = rest.split_at_checked(f.bytes) else {
            return Err(format!("{} is cut short: expected {} bytes", f.name, f.bytes));
        };
        files.push((f.name, own.to_vec()));
        rest = others;
    }
    if rest.is_empty() {
        Ok(Order { paper, size, data: head.data, files })
    } else {
        Err("more came than was named".into())
    }
}
