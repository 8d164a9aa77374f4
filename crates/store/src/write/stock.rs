//! What lies in drawers and on drawings: shim leaves, and where the bolts of covers stand that are no circle.

use crate::chain::digests::Chain;
use crate::chain::shop::changed;
use crate::db::schema::{bolt_patterns, leaves};
use crate::db::stored;
use crate::rows::person::{Person, Role};
use crate::{PatternId, Result, StoreError};
use diesel::prelude::*;
use ironseat_core::fasten::Pattern;
use ironseat_core::stock::Leaf;

/// Patterns that are kept.
pub const MOST: i64 = 200;

fn lead(who: &Person) -> Result<()> {
    if who.role == Role::Lead { Ok(()) } else { Err(StoreError::Held("a lead says what is in stock".into())) }
}

/// Says anew what lies in the drawer.
///
/// # Errors
/// Held for anyone but a lead.
pub fn set_leaves(c: &mut MysqlConnection, who: &Person, list: &[Leaf]) -> Result<()> {
    lead(who)?;
    let all = ironseat_core::stock::check(list)?;
    let pieces: u64 = all.iter().map(|l| l.pieces).sum();
    let said = format!("Shim leaves counted: {} thicknesses, {pieces} pieces.", all.len());
    changed(c, Chain::Stores, Some(who), &said, |c| {
        diesel::delete(leaves::table).execute(c)?;
        let int = |n: u64| i32::try_from(n).unwrap_or(i32::MAX);
        let rows: Vec<_> = all.iter().map(|l| (leaves::um.eq(int(l.um)), leaves::pieces.eq(int(l.pieces)))).collect();
        diesel::insert_into(leaves::table).values(rows).execute(c)?;
        Ok(())
    })
}

/// Keeps a pattern; one of the same name is replaced.
///
/// # Errors
/// Held for anyone but a lead, and beyond [`MOST`].
pub fn keep_pattern(c: &mut MysqlConnection, who: &Person, p: &Pattern) -> Result<()> {
    lead(who)?;
    let said = format!("Bolt pattern {} kept: {} bolts.", p.name(), p.bolts().len());
    changed(c, Chain::Stores, Some(who), &said, |c| {
        let document = stored::write(p)?;
        let there = bolt_patterns::table.filter(bolt_patterns::name.eq(p.name()));
        if diesel::update(there).set(bolt_patterns::document.eq(&document)).execute(c)? > 0
            || there.count().get_result::<i64>(c)? > 0
        {
            return Ok(());
        }
        if bolt_patterns::table.count().get_result::<i64>(c)? >= MOST {
            return Err(StoreError::Held(format!("{MOST} patterns are kept already: delete one first")));
        }
        diesel::insert_into(bolt_patterns::table)
            .values((
                bolt_patterns::id.eq(PatternId::new()),
                bolt_patterns::name.eq(p.name()),
                bolt_patterns::document.eq(document),
            ))
            .execute(c)?;
        Ok(())
    })
}

/// Deletes a pattern.
///
/// # Errors
/// Held for anyone but a lead; not found.
pub fn delete_pattern(c: &mut MysqlConnection, who: &Person, id: PatternId) -> Result<()> {
    lead(who)?;
    let name: String = bolt_patterns::table.find(id).select(bolt_patterns::name).first(c)?;
    changed(c, Chain::Stores, Some(who), &format!("Bolt pattern {name} deleted."), |c| {
        diesel::delete(bolt_patterns::table.find(id)).execute(c)?;
        Ok(())
    })
}
