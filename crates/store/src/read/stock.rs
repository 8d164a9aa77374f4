//! Shim leaves and bolt patterns that are there.

use crate::db::schema::{bolt_patterns, leaves};
use crate::db::stored::Stored;
use crate::{PatternId, Result};
use diesel::prelude::*;
use ironseat_core::fasten::Pattern;
use ironseat_core::stock::Leaf;

/// The leaves in the drawer, thinnest first.
///
/// # Errors
/// Database errors.
pub fn all_leaves(c: &mut MysqlConnection) -> Result<Vec<Leaf>> {
    let rows: Vec<(i32, i32)> = leaves::table.order(leaves::um).load(c)?;
    let whole = |n: i32| u64::try_from(n).unwrap_or(0);
    Ok(rows.into_iter().map(|(um, pieces)| Leaf { um: whole(um), pieces: whole(pieces) }).collect())
}

/// All bolt patterns, by name.
///
/// # Errors
/// Database errors.
pub fn patterns(c: &mut MysqlConnection) -> Result<Vec<(PatternId, Pattern)>> {
    let rows: Vec<(PatternId, Stored<Pattern>)> =
        bolt_patterns::table.order(bolt_patterns::name).select((bolt_patterns::id, bolt_patterns::document)).load(c)?;
    Ok(rows.into_iter().map(|(id, d)| (id, d.0)).collect())
}
