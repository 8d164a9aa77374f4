//! All readings of a rebuild as a table.

use crate::parts::files::{self, defused};
use ironseat_store::StoreError;
use ironseat_store::read::bench::Bench;
use ironseat_store::read::readings_export::ExportedReading;

/// Columns of the file; docs/formats.md says what each is.
pub const COLUMNS: [&str; 20] = [
    "format",
    "rebuild",
    "place",
    "what",
    "key",
    "cell",
    "seq",
    "stands",
    "value",
    "unit",
    "lower",
    "upper",
    "limits_from",
    "uncertainty_k2",
    "typed",
    "instrument",
    "serial",
    "person",
    "at_utc",
    "reason",
];

/// Readings as a file.
pub fn file(b: &Bench, list: &[ExportedReading]) -> Result<Vec<u8>, StoreError> {
    let number = |v: Option<f64>| v.map_or_else(String::new, |v| v.to_string());
    let row = |t: &ExportedReading| {
        let at = t.at.format("%Y-%m-%dT%H:%M:%S%.6fZ").to_string();
        vec![
            "iron-seat-readings-2".to_owned(),
            defused(&b.rebuild.number),
            defused(&t.place),
            defused(&t.what),
            defused(&t.key),
            t.cell.clone(),
            t.seq.to_string(),
            if t.stands { "yes" } else { "no" }.to_owned(),
            number(t.value),
            t.unit.to_owned(),
            number(t.lower),
            number(t.upper),
            defused(&t.source),
            number(t.uncertainty),
            defused(&t.typed),
            defused(&t.instrument),
            defused(&t.serial),
            defused(&t.person),
            at,
            defused(&t.reason),
        ]
    };
    files::csv(COLUMNS, list.iter().map(row))
}
