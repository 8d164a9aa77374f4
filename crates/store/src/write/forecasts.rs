//! What happened where a forecast missed, said by somebody.

use crate::read::forecasts::all;
use crate::rows::person::Person;
use crate::write::work;
use crate::{RebuildId, Result, StoreError};
use diesel::prelude::*;
use ironseat_core::decide::Command;
use ironseat_core::quantity::Units;
use ironseat_core::quantity::show::capital;
use ironseat_core::reckon::shown;

/// Says what happened where something came far from what was foreseen.
///
/// # Errors
/// Not found: nothing was foreseen there; `what`, with what was expected; held when the rebuild is finished.
pub fn explain(c: &mut MysqlConnection, who: &Person, rebuild: RebuildId, of: &str, what: &str) -> Result<()> {
    let (all, _) = all(c)?;
    let s = all.iter().find(|s| s.rebuild == rebuild && s.of == of).ok_or(StoreError::NotFound)?;
    let kind = s.foreseen.kind;
    let say = |v: f64| {
        let (number, unit) = shown(kind.field(), v, Units::Metric);
        format!("{number} {unit}")
    };
    let place = if s.place.is_empty() { String::new() } else { format!("{}, ", s.place) };
    let about = format!(
        "{} ({of}), foreseen {}, came {}",
        capital(&format!("{place}{}", kind.words())),
        say(s.foreseen.foreseen),
        say(s.foreseen.came)
    );
    work::work(c, who, rebuild, &Command::Explain { of: of.to_owned(), about, what: what.to_owned() })
}
