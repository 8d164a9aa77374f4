//! Parts to order, as a table.

use crate::ground::error::WebResult;
use crate::ground::extract::Reader;
use crate::parts::files::{self, defused};
use crate::state::App;
use axum::extract::{Path, State};
use ironseat_core::inspect::{Disposition, Fate};
use ironseat_store::RebuildId;
use ironseat_store::read::bench;

/// Parts to be ordered, as CSV.
pub async fn show(State(app): State<App>, _: Reader, Path(id): Path<RebuildId>) -> WebResult {
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
