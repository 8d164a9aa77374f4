//! What becomes of the parts of a rebuild: in the Ledger, on the certificate, and as a list of what is to be ordered.

use crate::ground::view::moment_of;
use chrono_tz::Tz;
use ironseat_core::inspect::Fate;
use ironseat_core::quantity::show::capital;
use ironseat_store::read::bench::Bench;

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
