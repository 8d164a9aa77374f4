//! What becomes of the parts of a rebuild: in the Ledger, on the certificate, and as a list of what is to be ordered.

use crate::app::App;
use crate::error::WebResult;
use crate::exchange::files::{self, defused};
use crate::extract::Reader;
use crate::view::moment_of;
use axum::extract::{Path, State};
use chrono_tz::Tz;
use ironseat_core::inspect::{Disposition, Fate};
use ironseat_core::quantity::show::capital;
use ironseat_store::RebuildId;
use ironseat_store::bench::{self, Bench};

/// A part that was looked at.
pub struct FateLine {
    pub part: String,
    /// What becomes of it.
    pub fate: &'static str,
    /// It is to be ordered.
    pub replace: bool,
    /// The reason, and the marks that were seen.
    pub why: String,
    pub by: String,
}

/// Those to be ordered first.
pub fn of(b: &Bench, zone: Tz) -> Vec<FateLine> {
    let mut out: Vec<FateLine> = b
        .state
        .disposed
        .values()
        .map(|d| {
            let marks: Vec<String> = d.seen().iter().map(|m| m.seen.to_lowercase()).collect();
            let seen = if marks.is_empty() { String::new() } else { format!("Seen: {}", marks.join("; ")) };
            let why: Vec<String> = [capital(&d.reason), seen].into_iter().filter(|x| !x.is_empty()).collect();
            FateLine {
                part: b.state.anatomy().name_of(&d.part).to_owned(),
                fate: d.fate.word(),
                replace: d.fate == Fate::Replace,
                why: why.join(". "),
                by: format!("{}, {}", d.by, moment_of(d.at, zone)),
            }
        })
        .collect();
    out.sort_by(|a, b| (!a.replace, &a.part).cmp(&(!b.replace, &b.part)));
    out
}

/// Parts to be ordered, as CSV.
pub async fn orders(State(app): State<App>, _: Reader, Path(id): Path<RebuildId>) -> WebResult {
    let b = app.store.run(move |c| bench::load(c, id)).await?;
    let a = b.state.anatomy();
    let row = |d: &Disposition| {
        let designation =
            a.part(&d.part).and_then(|p| p.designation.as_ref()).map_or(String::new(), ToString::to_string);
        let at = chrono::DateTime::from_timestamp_micros(d.at).unwrap_or_default();
        vec![
            defused(&b.rebuild.number),
            defused(&b.rebuild.title),
            defused(a.name_of(&d.part)),
            defused(&designation),
            defused(&d.reason),
            defused(&d.by),
            at.format("%Y-%m-%dT%H:%M:%S%.6fZ").to_string(),
        ]
    };
    let head = ["rebuild", "machine", "part", "designation", "why", "person", "at_utc"];
    let text = files::csv(head, b.state.disposed.values().filter(|d| d.fate == Fate::Replace).map(row))?;
    Ok(files::table(&format!("{}-parts-to-order.csv", b.rebuild.number), text))
}
