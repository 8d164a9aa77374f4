//! A newer version of the machine type than a rebuild stands on.

use crate::db::schema::{anatomies, readings, sheets};
use crate::db::stored::Stored;
use crate::read::{bench, rebuilds};
use crate::rows::rebuild::Rebuild;
use crate::{AnatomyId, RebuildId, Result};
use diesel::prelude::*;
use ironseat_core::anatomy::Anatomy;
use ironseat_core::anatomy::body::whole;
use ironseat_core::anatomy::difference::{Difference, difference, no_longer_asked};

/// A newer version and what it changes.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Newer {
    pub id: AnatomyId,
    pub anatomy: Anatomy,
    pub difference: Difference,
    /// Why it cannot be taken over, as a sentence; none when it can.
    pub held: Option<String>,
    /// Words of the ticked steps that the newer version no longer has: they stay on record.
    pub ticked_gone: Vec<String>,
    /// Questions that were answered and are no longer asked: the answers stay on record.
    pub answered_gone: Vec<String>,
}

/// Number of the newest version of a machine type when it is newer than the one a rebuild pins.
///
/// # Errors
/// Database errors.
pub fn newest(c: &mut MysqlConnection, r: &Rebuild) -> Result<Option<i32>> {
    // Another shop's drawing is not ours to go on with.
    if !r.origin.is_empty() {
        return Ok(None);
    }
    let last: Option<i32> = anatomies::table
        .filter(anatomies::type_key.eq(&r.anatomy().key))
        .filter(anatomies::origin.eq(""))
        .select(diesel::dsl::max(anatomies::version))
        .first(c)?;
    Ok(last.filter(|v| i64::from(*v) > i64::from(r.anatomy().version) && r.finished_at.is_none()))
}

/// The newest version beside the pinned one; none when the pinned one is the newest.
///
/// # Errors
/// Not found.
pub fn newer(c: &mut MysqlConnection, rebuild: RebuildId) -> Result<Option<Newer>> {
    let r = rebuilds::get(c, rebuild)?;
    let Some(version) = newest(c, &r)? else { return Ok(None) };
    let (id, Stored(anatomy)): (AnatomyId, Stored<Anatomy>) = anatomies::table
        .filter(anatomies::type_key.eq(&r.anatomy().key))
        .filter(anatomies::origin.eq(""))
        .filter(anatomies::version.eq(version))
        .select((anatomies::id, anatomies::document))
        .first(c)?;
    let difference = difference(r.anatomy(), &anatomy)?;
    let t = bench::load(c, rebuild)?.state;
    let gone: Vec<&str> =
        r.anatomy().seats.iter().filter(|s| anatomy.seat(&s.id).is_none()).map(|s| s.id.as_str()).collect();
    let read: Vec<String> = sheets::table
        .inner_join(readings::table)
        .filter(sheets::rebuild_id.eq(rebuild))
        .filter(sheets::seat.eq_any(&gone))
        .select(sheets::seat)
        .distinct()
        .load(c)?;
    let known = |p: &String| {
        let part = whole(p);
        anatomy.part(part).is_some() || anatomy.housings.iter().any(|h| h.id == *part)
    };
    let on_gone: Vec<String> = t.on().into_iter().filter(|p| !known(p)).collect();
    let held = if let Some(seat) = read.first() {
        let name = r.anatomy().seat(seat).map_or(seat.as_str(), |s| s.name.as_str());
        Some(format!(
            "{name} has readings and is not in version {version}: finish this rebuild on version {}",
            r.anatomy().version
        ))
    } else {
        on_gone
            .first()
            .map(|p| format!("{} is on and not in version {version}: back it out first", r.anatomy().name_of(p)))
    };
    let ticked_gone = difference.gone_steps.iter().filter(|s| t.is_done(&s.0)).map(|s| s.1.clone()).collect();
    let answered: Vec<String> = t.answers.keys().filter(|q| !q.starts_with("again.")).cloned().collect();
    let answered_gone = no_longer_asked(&anatomy, &answered)
        .into_iter()
        .map(|id| t.question(&id).map_or(id.clone(), |q| q.words.clone()))
        .collect();
    Ok(Some(Newer { id, anatomy, difference, held, ticked_gone, answered_gone }))
}
