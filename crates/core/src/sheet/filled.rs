//! A question that was asked whole, taken apart into the places of its sheet.

use super::declared::{Declared, Given, Label, Reads};
use crate::refusal::{Refusal, Result};
use serde_json::{Map, Value};
use std::collections::BTreeMap;

/// What stands beside the readings, and the readings by their places.
pub type Filled = (Given, BTreeMap<String, f64>);

impl Declared {
    /// The places that an input of the computation fills. Asked again from them, the sheet gives the same answer.
    ///
    /// ```
    /// use ironseat_core::sheet::Declared;
    /// let input = serde_json::json!({"readings_um": [0, 4, 0, -4], "limit_um": 20});
    /// let (given, read) = Declared::of("runout.sweep").unwrap().filled(input.as_object().unwrap())?;
    /// assert_eq!((given.counts["readings_um"], read["readings_um.1"]), (4, 4.0));
    /// # Ok::<(), ironseat_core::Refusal>(())
    /// ```
    ///
    /// # Errors
    /// The field that no sheet can hold: readings at angles of their own, more rows than there are places for, nothing
    /// that was read.
    pub fn filled(&self, input: &Map<String, Value>) -> Result<Filled> {
        let mut given = Given { fields: input.clone(), counts: BTreeMap::new() };
        let mut read = BTreeMap::new();
        for r in self.reads {
            let field = r.field();
            let Some(v) = given.fields.remove(field) else { continue };
            let list = v.as_array().cloned().unwrap_or_default();
            let mut count = |n: usize, usual: usize, most: usize| {
                if n > most {
                    return Err(Refusal::new(
                        field,
                        format!("a sheet holds {most} of them: this answer can be pinned"),
                    ));
                }
                if n != usual && n > 0 {
                    given.counts.insert(field.to_owned(), n);
                }
                Ok(())
            };
            match *r {
                Reads::One(_) => read.extend(v.as_f64().map(|v| (field.to_owned(), v))),
                Reads::Mean(_, usual, most, _) => {
                    count(1, usual, most)?;
                    read.extend(v.as_f64().map(|v| (format!("{field}.0"), v)));
                }
                Reads::List(_, usual, most, ..) => {
                    count(list.len(), usual, most)?;
                    read.extend(numbers(field, &list));
                }
                Reads::Rows(_, inner, usual, most, ..) | Reads::Log(_, inner, usual, most, _) => {
                    count(list.len(), usual, most)?;
                    for (k, row) in list.iter().enumerate() {
                        let of = |f: &str| Some((format!("{field}.{k}.{f}"), row[f].as_f64()?));
                        read.extend(inner.iter().filter_map(|(f, _)| of(f)));
                    }
                }
                Reads::Grid(_, usual, columns, ..) => {
                    count(list.len(), usual, 12)?;
                    for (k, row) in list.iter().enumerate() {
                        let row = row.as_array().map_or(&[][..], Vec::as_slice);
                        if row.len() != columns {
                            let words = format!("a sheet has {columns} places in a row: this answer can be pinned");
                            return Err(Refusal::new(field, words));
                        }
                        read.extend(numbers(&format!("{field}.{k}"), row));
                    }
                }
                Reads::Bolts => {}
            }
        }
        let around = self.reads.iter().any(|r| matches!(r, Reads::List(.., Label::Around(_), _)));
        if around && given.fields.contains_key("angles_deg") {
            let words = "a sheet is read in equal steps: this answer can be pinned";
            return Err(Refusal::new("angles_deg", words));
        }
        // Of a torque that was typed instead of a force at a radius nothing is read here.
        match self.reads.first().filter(|r| read.is_empty() && !matches!(r, Reads::Bolts)) {
            Some(r) => Err(Refusal::new(r.field(), "nothing of it was read in this way: this answer can be pinned")),
            None => Ok((given, read)),
        }
    }

    /// Where the bolts of a cover stand, when it has such.
    #[must_use]
    pub fn bolts_at(&self, given: &Given) -> Vec<(f64, f64)> {
        let one = |b: &Value| Some((b["x_mm"].as_f64()?, b["y_mm"].as_f64()?));
        let list = given.fields.get("bolts").and_then(Value::as_array);
        list.into_iter().flatten().filter_map(one).collect()
    }
}

fn numbers(field: &str, list: &[Value]) -> Vec<(String, f64)> {
    list.iter().enumerate().filter_map(|(k, v)| Some((format!("{field}.{k}"), v.as_f64()?))).collect()
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]
    use super::*;
    use crate::reckon::{entry, reckon};
    use crate::sheet::{Outcome, SHEETS};

    /// The example of every computation that has a sheet says the same when it is read place by place.
    #[test]
    fn a_question_that_becomes_a_sheet_keeps_its_answer() {
        for d in SHEETS {
            let e = entry(d.name).unwrap();
            let own = r#"{"readings_mm": [[40.01, 40.012, 40.011, 40.01], [40.008, 40.01, 40.009, 40.009]]}"#;
            let example = match d.name {
                // A sheet has four planes; the example of a grid has two.
                "journal.grid" => own,
                "preload.drag" => r#"{"force_n": 4, "radius_mm": 40, "pitch_mm": 65, "bearings": 2}"#,
                _ => e.example,
            };
            let input: Map<String, Value> = serde_json::from_str(example).unwrap();
            let (given, mut read) = match d.filled(&input) {
                Ok(filled) => filled,
                Err(r) => panic!("{}: {r:?}", d.name),
            };
            let places = d.places(&given, &read);
            assert!(read.keys().all(|k| places.iter().any(|p| p.key == *k)), "{}: {read:?}", d.name);
            // Nothing else is read there, but bolts that nobody has drawn yet.
            read.extend(places.iter().filter(|p| p.pressed()).map(|p| (p.key.clone(), 1.0)));
            let whole = reckon(d.name, example).unwrap();
            match d.outcome(&given, &read, None) {
                Outcome::Answer(_, a) | Outcome::SoFar(_, a) => {
                    assert_eq!(Value::Object(a), whole, "{}", d.name);
                }
                other => panic!("{}: {other:?}", d.name),
            }
        }
    }

    #[test]
    fn what_no_sheet_holds_stays_an_answer() {
        let of = |name: &str, input: Value| {
            Declared::of(name).unwrap().filled(input.as_object().unwrap()).map(|_| ()).map_err(|r| r.field)
        };
        let around = serde_json::json!({"readings_um": [0, 1, 2, 3, 4], "angles_deg": [0, 10, 20, 30, 40]});
        assert_eq!(of("runout.sweep", around), Err("angles_deg".into()));
        assert_eq!(of("seal.tilt", serde_json::json!({"depths_mm": vec![1.0; 13]})), Err("depths_mm".into()));
        assert_eq!(of("journal.grid", serde_json::json!({"readings_mm": [[1, 2, 3]]})), Err("readings_mm".into()));
    }
}
