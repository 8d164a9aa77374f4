//! A rebuild pins one version of its machine type; a newer one is shown beside it and taken over without losing
//! records.

use crate::people::{Person, Role};
use crate::rebuilds::{self, Rebuild};
use crate::schema::{anatomies, readings, rebuilds as rebuild_rows, sheets, steps};
use crate::stored::Stored;
use crate::transaction::transaction;
use crate::{AnatomyId, RebuildId, Result, StoreError, bench, lifecycle, readings as taken, record, work};
use diesel::prelude::*;
use ironseat_core::anatomy::Anatomy;
use ironseat_core::anatomy::body::whole;
use ironseat_core::anatomy::difference::{Difference, difference, no_longer_asked};
use ironseat_core::decide::{ActId, Event};
use ironseat_core::seat::steps::StepKind;
use std::collections::BTreeSet;

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

/// Pins the newest version instead. Ticks and answers stay; a tick that no longer rests on what is done is opened
/// again; seats that are new get their sheets, and calls on seats whose limits changed are made anew.
///
/// # Errors
/// Held for anyone but a lead, or when records would lose their place; a conflict when yet another version came out.
pub fn take_over(c: &mut MysqlConnection, who: &Person, rebuild: RebuildId, version: u32) -> Result<()> {
    if who.role != Role::Lead {
        return Err(StoreError::Held("a lead takes a newer version over".into()));
    }
    transaction(c, |c| {
        let mut locked = record::open(c, rebuild)?;
        let Some(n) = newer(c, rebuild)? else {
            return Err(StoreError::Held("this rebuild has the newest version already".into()));
        };
        if n.anatomy.version != version {
            return Err(StoreError::Conflict(format!(
                "version {} came out meanwhile: look at what it changes first",
                n.anatomy.version
            )));
        }
        if let Some(why) = n.held {
            return Err(StoreError::Held(why));
        }
        let bench = bench::load(c, rebuild)?;
        let old = bench.rebuild.anatomy();
        diesel::update(rebuild_rows::table.find(rebuild)).set(rebuild_rows::anatomy_id.eq(n.id)).execute(c)?;
        let fresh: Vec<&str> =
            n.anatomy.seats.iter().filter(|s| old.seat(&s.id).is_none()).map(|s| s.id.as_str()).collect();
        lifecycle::lay_out(c, rebuild, &n.anatomy, &fresh)?;
        let gone: Vec<&str> =
            old.seats.iter().filter(|s| n.anatomy.seat(&s.id).is_none()).map(|s| s.id.as_str()).collect();
        diesel::delete(steps::table.filter(steps::rebuild_id.eq(rebuild)).filter(steps::seat.eq_any(&gone)))
            .execute(c)?;
        diesel::delete(sheets::table.filter(sheets::rebuild_id.eq(rebuild)).filter(sheets::seat.eq_any(&gone)))
            .execute(c)?;
        taken::judge_again(c, rebuild, &n.difference.seats, who)?;
        let event = Event::Version {
            from: old.version,
            to: version,
            changes: n.difference.sentences,
            opened: settle_ticks(c, rebuild)?,
            no_longer: n.ticked_gone,
        };
        locked.note(who.id, &event);
        for seat in n.difference.seats.iter().filter(|s| bench.state.under_signature(s)) {
            work::open_steps(c, rebuild, &[seat], &[StepKind::Sign])?;
            let reason = format!("its limits are others in version {version}");
            locked.note(who.id, &Event::SignatureOpened { seat: seat.clone(), reason });
        }
        locked.write(c)
    })
}

/// Opens ticks whose "before" the new version does not fulfil, so that what is on stays closed under "before",
/// and what was done on top of them, as when they are backed out.
fn settle_ticks(c: &mut MysqlConnection, rebuild: RebuildId) -> Result<Vec<String>> {
    let t = bench::load(c, rebuild)?.state;
    let mut done: BTreeSet<&str> = t.done.keys().map(String::as_str).collect();
    let mut opened = Vec::new();
    let places = |id: &str| ActId::of(id).is_some_and(|i| i.puts_on().is_some());
    loop {
        let more: Vec<&str> = t
            .acts
            .iter()
            // Something was found or came off whatever the new version wants first; what is on must rest on what is on.
            .filter(|s| done.contains(s.id.as_str()) && places(&s.id) && !t.done.get(&s.id).is_some_and(|k| k.of_seat))
            .filter(|s| s.before.iter().any(|b| places(&b.id) && !done.contains(b.id.as_str())))
            .map(|s| s.id.as_str())
            .collect();
        if more.is_empty() {
            break;
        }
        for id in more {
            done.remove(id);
            opened.push(id.to_owned());
        }
    }
    work::reopen(c, rebuild, &t.and_what_rests_on(opened.iter().cloned().collect()))?;
    Ok(opened)
}
