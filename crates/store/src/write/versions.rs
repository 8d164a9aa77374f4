//! A rebuild pins one version of its machine type; a newer one is shown beside it and taken over without losing
//! records.

use crate::db::schema::{rebuilds as rebuild_rows, sheets, steps};
use crate::db::transaction::transaction;
use crate::read::bench;
use crate::read::versions::newer;
use crate::rows::person::{Person, Role};
use crate::write::{readings as taken, rebuilds, ticks};
use crate::{RebuildId, Result, StoreError, chain};
use diesel::prelude::*;
use ironseat_core::decide::Event;
use ironseat_core::terms::{ActId, StepKind};
use std::collections::BTreeSet;

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
        let mut locked = chain::rebuild::open(c, rebuild)?;
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
        rebuilds::lay_out(c, rebuild, &n.anatomy, &fresh)?;
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
            ticks::open_steps(c, rebuild, &[seat], &[StepKind::Sign])?;
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
    ticks::reopen(c, rebuild, &t.and_what_rests_on(opened.iter().cloned().collect()))?;
    Ok(opened)
}
