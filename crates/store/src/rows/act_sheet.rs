//! A sheet of an act as it is kept.

use crate::rows::reading::ReadingRow;
use crate::{InstrumentId, SheetId};
use ironseat_core::sheet::Given;
use std::collections::BTreeMap;

/// A sheet of an act with all its readings, corrected ones too, oldest first.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct ActSheet {
    pub id: SheetId,
    /// Id of the act.
    pub act: String,
    /// The computation that it ends in.
    pub name: String,
    /// What a person typed beside the readings.
    pub typed: Given,
    pub instrument_id: Option<InstrumentId>,
    pub readings: Vec<ReadingRow>,
    /// Expanded uncertainty of the coarsest instrument that read what stands, in mm; none when nobody noted one.
    pub u_mm: Option<f64>,
}

impl ActSheet {
    /// One that was only begun.
    pub(crate) fn begun(id: SheetId, act: &str, name: &str, typed: Given) -> Self {
        Self {
            id,
            act: act.to_owned(),
            name: name.to_owned(),
            typed,
            instrument_id: None,
            readings: Vec::new(),
            u_mm: None,
        }
    }
    /// The readings that stand, by place.
    #[must_use]
    pub fn standing(&self) -> BTreeMap<String, &ReadingRow> {
        let mut out: BTreeMap<String, &ReadingRow> = BTreeMap::new();
        for r in &self.readings {
            let newest = out.get(&r.cell).is_none_or(|old| old.seq < r.seq);
            if newest {
                out.insert(r.cell.clone(), r);
            }
        }
        out
    }
    /// Their values.
    #[must_use]
    pub fn values(&self) -> BTreeMap<String, f64> {
        self.standing().into_iter().map(|(k, r)| (k, r.value)).collect()
    }
}
