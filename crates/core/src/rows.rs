//! Tables as people send them: which column is what, guessed from its heading and chosen by a person. What a file is
//! and how its cells are separated is read elsewhere.

use crate::refusal::{Refusal, Result, expect};

/// Rows of one file.
pub const MOST: usize = 2000;

/// A row with the number of its line in the file, from 1.
#[derive(Debug, Clone, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct FileRow {
    pub number: usize,
    pub cells: Vec<String>,
}

/// A table: headings, or what stands for them, and rows.
#[derive(Debug, Clone, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Table {
    pub head: Vec<String>,
    pub lines: Vec<FileRow>,
}

/// What a column may be.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Role {
    /// Name in a form.
    pub key: &'static str,
    /// As it is said.
    pub name: &'static str,
    /// Headings that mean it, in lower case; the first that stands in a heading wins.
    pub words: &'static [&'static str],
    /// Nothing can be read without it.
    pub needed: bool,
}

impl Table {
    /// A table from its lines; the first one is the heading unless a number stands in it. Empty lines are left out.
    ///
    /// # Errors
    /// `file` when nothing stands in it, or more than [`MOST`] rows.
    ///
    /// ```
    /// use ironseat_core::rows::Table;
    /// let text = |s: &str| s.split(';').map(str::to_owned).collect();
    /// let t = Table::new(vec![text("place;value"), text("A1;40,012")])?;
    /// assert_eq!((t.head[1].as_str(), t.lines[0].number), ("value", 2));
    /// let bare = Table::new(vec![text("A1;40,012")])?;
    /// assert_eq!((bare.head[1].as_str(), bare.lines[0].number), ("column 2", 1));
    /// # Ok::<(), ironseat_core::Refusal>(())
    /// ```
    pub fn new(rows: Vec<Vec<String>>) -> Result<Self> {
        let plain = |c: String| c.trim().to_owned();
        let mut lines: Vec<FileRow> = (1..)
            .zip(rows)
            .map(|(number, r)| FileRow { number, cells: r.into_iter().map(plain).collect() })
            .filter(|l| l.cells.iter().any(|c| !c.is_empty()))
            .collect();
        let Some(first) = lines.first() else {
            return Err(Refusal::new("file", "expected a table with rows: nothing stands in this file"));
        };
        let headed = !first.cells.iter().any(|c| is_number(c));
        let mut head = if headed { lines.remove(0).cells } else { Vec::new() };
        let width = lines.iter().map(|l| l.cells.len()).max().unwrap_or(0).max(head.len());
        expect(width <= 60, "file", "expected at most 60 columns")?;
        expect(lines.len() <= MOST, "file", format!("expected at most {MOST} rows: send it in parts"))?;
        expect(!lines.is_empty(), "file", "expected rows under the heading: this file has none")?;
        for k in 0..width {
            if k >= head.len() || head[k].is_empty() {
                let name = format!("column {}", k + 1);
                if k < head.len() { head[k] = name } else { head.push(name) }
            }
        }
        Ok(Self { head, lines })
    }

    /// Which column is what, by its heading; none where no heading says so.
    #[must_use]
    pub fn guess(&self, roles: &[Role]) -> Vec<Option<usize>> {
        let heads: Vec<String> = self.head.iter().map(|h| h.to_lowercase()).collect();
        let mut taken: Vec<usize> = Vec::new();
        let has = |head: &str, w: &str| head.split(|c: char| !(c.is_alphanumeric() || c == '_')).any(|x| x == w);
        let one = |r: &Role, taken: &mut Vec<usize>| {
            let free = |k: &usize| !taken.contains(k);
            let exact = |w: &&str| (0..heads.len()).filter(free).find(|k| heads[*k].as_str() == *w);
            let within = |w: &&str| (0..heads.len()).filter(free).find(|k| has(&heads[*k], w));
            let found = r.words.iter().find_map(exact).or_else(|| r.words.iter().find_map(within));
            taken.extend(found);
            found
        };
        roles.iter().map(|r| one(r, &mut taken)).collect()
    }
}

impl FileRow {
    /// What stands in a column; empty where none was chosen or the row is short. A mark against formulas is taken off.
    #[must_use]
    pub fn at(&self, column: Option<usize>) -> &str {
        let text = column.and_then(|k| self.cells.get(k)).map_or("", String::as_str);
        match text.strip_prefix('\'') {
            Some(rest) if rest.starts_with(['=', '+', '-', '@']) => rest,
            _ => text,
        }
    }
}

/// A figure, with or without a unit behind it: no heading looks like that.
fn is_number(text: &str) -> bool {
    let figure = text.trim_start_matches(['+', '-', '−', '\'']);
    figure.starts_with(|c: char| c.is_ascii_digit()) && figure.chars().all(|c| c.is_ascii_digit() || ".,".contains(c))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const ROLES: [Role; 2] = [
        Role { key: "place", name: "place", words: &["cell", "place"], needed: true },
        Role { key: "value", name: "value", words: &["value", "reading"], needed: true },
    ];

    fn table(lines: &[&str]) -> Result<Table> {
        Table::new(lines.iter().map(|l| l.split(',').map(str::to_owned).collect()).collect())
    }

    #[test]
    fn headings_say_what_a_column_is() {
        let t = table(&["Reading (mm),Measured place,cell", "", "40.1,x,A1", "40.2,y"]).unwrap();
        // The exact word before one that only stands in it, and no column twice.
        assert_eq!(t.guess(&ROLES), [Some(2), Some(0)]);
        assert_eq!(t.lines.iter().map(|l| l.number).collect::<Vec<_>>(), [3, 4], "empty lines are counted");
        assert_eq!((t.lines[1].at(Some(2)), t.lines[1].at(None)), ("", ""));
        assert_eq!(table(&["A1,40.1"]).unwrap().guess(&ROLES), [None, None]);
        assert_eq!(table(&["'-8,x"]).unwrap().lines[0].at(Some(0)), "-8");
        for nothing in [&[][..], &["", " , "], &["a,b"]] {
            assert_eq!(table(nothing).unwrap_err().field, "file", "{nothing:?}");
        }
    }

    proptest! {
        #[test]
        fn no_table_makes_it_panic(rows in prop::collection::vec(prop::collection::vec("\\PC{0,12}", 0..6), 0..8)) {
            if let Ok(t) = Table::new(rows) {
                prop_assert!(t.lines.iter().all(|l| l.cells.len() <= t.head.len()));
                let guessed = t.guess(&ROLES);
                prop_assert!(guessed[0].is_none() || guessed[0] != guessed[1]);
                for l in &t.lines { let _ = l.at(guessed[0]); }
            }
        }
    }
}
