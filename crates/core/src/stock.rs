//! What lies in drawers and stands on drawings, as tables bring it: shim leaves, and the places of bolts.

use crate::fasten::Pattern;
use crate::quantity::{Millimetres, Units, parse_length};
use crate::refusal::{Refusal, Result, expect};
use crate::rows::{FileRow, Role, Table};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Leaves of one thickness.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Leaf {
    /// Thickness, µm.
    pub um: u64,
    /// Pieces.
    pub pieces: u64,
}

/// What a row became: what was understood, or what was expected.
pub type Read<T> = (usize, Result<T>);

/// Columns of a list of leaves.
pub const LEAVES: [Role; 2] = [
    Role {
        key: "thickness", name: "thickness", words: &["thickness", "um", "µm", "mm", "size", "leaf"], needed: true
    },
    Role {
        key: "pieces",
        name: "pieces",
        words: &["pieces", "count", "qty", "quantity", "number", "stock"],
        needed: false,
    },
];

/// Columns of a bolt pattern.
pub const BOLTS: [Role; 2] = [
    Role { key: "x", name: "x, to the right", words: &["x", "x_mm", "x mm", "across"], needed: true },
    Role { key: "y", name: "y, up", words: &["y", "y_mm", "y mm", "up"], needed: true },
];

/// A length of a cell: the unit in it, else `unit` (`mm`, `um` or `in`).
fn length(field: &str, text: &str, unit: &str) -> Result<Millimetres> {
    parse_length(text, unit, None, None).map(|p| p.value).map_err(|e| Refusal::new(field, e.message))
}

/// Reads leaves: one row a thickness, one piece where no column says how many.
///
/// ```
/// use ironseat_core::rows::Table;
/// use ironseat_core::stock::{Leaf, read_leaves};
/// let rows = [["thickness mm", "pieces"], ["0,1", "4"], ["thin", "2"]];
/// let t = Table::new(rows.map(|r| r.map(str::to_owned).to_vec()).to_vec())?;
/// let read = read_leaves(&t, &[Some(0), Some(1)], "mm");
/// assert_eq!(read[0].1, Ok(Leaf { um: 100, pieces: 4 }));
/// assert_eq!(read[1].1.as_ref().unwrap_err().field, "thickness");
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
#[must_use]
pub fn read_leaves(t: &Table, columns: &[Option<usize>], unit: &str) -> Vec<Read<Leaf>> {
    let column = |k: usize| columns.get(k).copied().flatten();
    let one = |l: &FileRow| {
        let um = length("thickness", l.at(column(0)), unit)?.0 * 1000.0;
        let whole = (um - um.round()).abs() < 1e-6 && (1.0..=100_000.0).contains(&um.round());
        expect(whole, "thickness", "expected whole micrometres from 1 µm to 100 mm")?;
        let text = l.at(column(1));
        let pieces = if column(1).is_none() {
            1
        } else {
            text.parse::<u64>()
                .ok()
                .filter(|n| *n <= 100_000)
                .ok_or_else(|| Refusal::new("pieces", "expected a whole number of pieces, 0 to 100 000"))?
        };
        Ok(Leaf { um: um.round() as u64, pieces })
    };
    t.lines.iter().map(|l| (l.number, one(l))).collect()
}

/// Leaves of a drawer: those of one thickness together, thinnest first, none of which there are no pieces.
///
/// # Errors
/// `thickness` outside 1 µm to 100 mm; `leaves` beyond 1000 thicknesses.
pub fn check(list: &[Leaf]) -> Result<Vec<Leaf>> {
    let mut by = BTreeMap::new();
    for l in list {
        expect((1..=100_000).contains(&l.um), "thickness", "expected 1 µm to 100 mm")?;
        let n: &mut u64 = by.entry(l.um).or_default();
        *n = (*n + l.pieces.min(100_000)).min(100_000);
    }
    expect(by.len() <= 1000, "leaves", "expected at most 1000 thicknesses")?;
    Ok(by.into_iter().filter(|(_, n)| *n > 0).map(|(um, pieces)| Leaf { um, pieces }).collect())
}

/// Reads the places of bolts, one a row.
#[must_use]
pub fn read_bolts(t: &Table, columns: &[Option<usize>], unit: &str) -> Vec<Read<(f64, f64)>> {
    let column = |k: usize| columns.get(k).copied().flatten();
    let one = |l: &FileRow| {
        let place = |k: usize, field: &str| {
            let v = length(field, l.at(column(k)), unit)?.0;
            expect(v.abs() <= 20_000.0, field, "expected a place within 20 m")?;
            Ok(v)
        };
        Ok((place(0, "x")?, place(1, "y")?))
    };
    t.lines.iter().map(|l| (l.number, one(l))).collect()
}

/// A pattern from rows that were all understood.
///
/// # Errors
/// `name`; `bolts`, as [`Pattern::new`].
pub fn pattern(name: &str, read: &[Read<(f64, f64)>]) -> Result<Pattern> {
    let places = read.iter().map(|(_, r)| r.clone()).collect::<Result<Vec<_>>>()?;
    Pattern::new(name, places)
}

/// The unit that a heading names: `mm`, `um` or `in`; else that of a person's system.
#[must_use]
pub fn unit_of(heading: &str, units: Units) -> &'static str {
    let words: Vec<String> =
        heading.to_lowercase().split(|c: char| !(c.is_alphabetic() || c == 'µ')).map(str::to_owned).collect();
    let says = |any: &[&str]| words.iter().any(|w| any.contains(&w.as_str()));
    if says(&["um", "µm", "μm", "micron", "microns"]) {
        "um"
    } else if says(&["mm"]) {
        "mm"
    } else if says(&["in", "inch", "inches"]) {
        "in"
    } else {
        match units {
            Units::Metric => "mm",
            Units::Inch => "in",
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn table(rows: &[&str]) -> Table {
        Table::new(rows.iter().map(|l| l.split(';').map(str::to_owned).collect()).collect()).unwrap()
    }

    #[test]
    fn each_row_is_understood_or_says_what_was_expected() {
        let t =
            table(&["Thickness;Stock", "0.25;2", "100 um;4", "0.0005;1", "0.1 in;1", "-0.1;1", "1;few", "1;-2", ";3"]);
        assert_eq!(t.guess(&LEAVES), [Some(0), Some(1)]);
        let read = read_leaves(&t, &t.guess(&LEAVES), unit_of(&t.head[0], Units::Metric));
        let words = |r: &Read<Leaf>| match &r.1 {
            Ok(l) => format!("{} {}", l.um, l.pieces),
            Err(e) => e.field.clone(),
        };
        let all: Vec<String> = read.iter().map(words).collect();
        assert_eq!(all, ["250 2", "100 4", "thickness", "2540 1", "thickness", "pieces", "pieces", "thickness"]);
        assert_eq!(read[2].0, 4, "the line of the file");
    }

    #[test]
    fn leaves_of_one_thickness_are_counted_together() {
        let leaf = |um, pieces| Leaf { um, pieces };
        assert_eq!(
            check(&[leaf(250, 1), leaf(100, 2), leaf(250, 3), leaf(50, 0)]),
            Ok(vec![leaf(100, 2), leaf(250, 4)])
        );
        assert!(check(&[leaf(0, 1)]).is_err());
    }

    #[test]
    fn a_pattern_is_whole_or_none() {
        let t = table(&["x in;y in", "0;0", "4;0", "4;2"]);
        let unit = unit_of(&t.head[0], Units::Metric);
        let p = pattern("Gearbox cover", &read_bolts(&t, &t.guess(&BOLTS), unit)).unwrap();
        assert_eq!(p.bolts()[2], (101.6, 50.8));
        let bad = table(&["x;y", "0;0", "4;east"]);
        assert_eq!(pattern("c", &read_bolts(&bad, &[Some(0), Some(1)], "mm")).unwrap_err().field, "y");
        let twice = table(&["x;y", "1;1", "1;1"]);
        assert_eq!(pattern("c", &read_bolts(&twice, &[Some(0), Some(1)], "mm")).unwrap_err().field, "bolts");
    }
}
