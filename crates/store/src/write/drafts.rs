//! Machine types: the versions that are kept, and drafts of new ones with undo and redo.

use crate::db::schema::{anatomies, draft_states, drafts};
use crate::db::stored;
use crate::db::transaction::transaction;
use crate::read::drafts::{Draft, draft, read};
use crate::rows::person::{Person, Role};
use crate::{DraftId, Result, StoreError};
use diesel::prelude::*;
use ironseat_core::anatomy::edit::Edit;
use ironseat_core::anatomy::{Anatomy, derive};

/// Longest way back by undo.
const LONGEST: i32 = 500;

/// Begins a draft. Repeating the id changes nothing.
///
/// # Errors
/// Held for anyone but a lead; a refused anatomy.
pub fn begin(c: &mut MysqlConnection, who: &Person, id: DraftId, anatomy: &Anatomy) -> Result<()> {
    lead(who)?;
    let a = anatomy.clone().check()?;
    transaction(c, |c| {
        if drafts::table.find(id).select(drafts::id).first::<DraftId>(c).optional()?.is_some() {
            return Ok(());
        }
        diesel::insert_into(drafts::table)
            .values((
                drafts::id.eq(id),
                drafts::type_key.eq(&a.key),
                drafts::name.eq(&a.name),
                drafts::cursor_at.eq(0),
                drafts::person_id.eq(who.id),
                drafts::changed_at.eq(crate::now()),
            ))
            .execute(c)?;
        state(c, id, 0, "begun", &a)
    })
}

fn lead(who: &Person) -> Result<()> {
    if who.role == Role::Lead { Ok(()) } else { Err(StoreError::Held("machine types are drawn by a lead".into())) }
}

fn state(c: &mut MysqlConnection, id: DraftId, seq: i32, said: &str, a: &Anatomy) -> Result<()> {
    let said: String = said.chars().take(160).collect();
    diesel::insert_into(draft_states::table)
        .values((
            draft_states::draft_id.eq(id),
            draft_states::seq.eq(seq),
            draft_states::said.eq(said),
            draft_states::document.eq(stored::write(a)?),
        ))
        .execute(c)?;
    Ok(())
}

/// What is done to a draft.
#[derive(Debug, Clone)]
pub enum Change {
    /// A change of the drawing.
    Edit(Edit),
    /// One step back.
    Undo,
    /// One step forward again.
    Redo,
}

/// Changes a draft. `seen` is the state the person looked at: a change by somebody else in between is told, not lost.
///
/// # Errors
/// A conflict, a refusal with its field, held for anyone but a lead.
pub fn change(c: &mut MysqlConnection, who: &Person, id: DraftId, seen: i32, change: &Change) -> Result<Draft> {
    lead(who)?;
    transaction(c, |c| {
        let cursor: i32 = drafts::table
            .find(id)
            .select(drafts::cursor_at)
            .for_update()
            .first(c)
            .optional()?
            .ok_or(StoreError::NotFound)?;
        if cursor != seen {
            return Err(StoreError::Conflict(
                "somebody changed this drawing a moment ago: look at it, then do it again".into(),
            ));
        }
        let d = read(c, id, cursor)?;
        let next = match change {
            Change::Edit(e) => {
                let made = e.apply(&d.anatomy)?;
                if cursor >= LONGEST {
                    return Err(StoreError::Held(format!(
                        "{LONGEST} changes in one draft: keep it as a version, then go on"
                    )));
                }
                diesel::delete(
                    draft_states::table.filter(draft_states::draft_id.eq(id)).filter(draft_states::seq.gt(cursor)),
                )
                .execute(c)?;
                state(c, id, cursor + 1, &e.said(), &made)?;
                cursor + 1
            }
            Change::Undo if d.undo.is_some() => cursor - 1,
            Change::Redo if d.redo.is_some() => cursor + 1,
            Change::Undo => return Err(StoreError::Held("there is nothing to undo".into())),
            Change::Redo => return Err(StoreError::Held("there is nothing to do again".into())),
        };
        let d = read(c, id, next)?;
        diesel::update(drafts::table.find(id))
            .set((drafts::cursor_at.eq(next), drafts::changed_at.eq(crate::now()), drafts::name.eq(&d.anatomy.name)))
            .execute(c)?;
        Ok(d)
    })
}

/// Keeps a draft as the next version of its machine type and closes it.
///
/// # Errors
/// Held when it cannot be built as it stands, or for anyone but a lead.
pub fn keep(c: &mut MysqlConnection, who: &Person, id: DraftId) -> Result<Anatomy> {
    lead(who)?;
    transaction(c, |c| {
        let mut a = draft(c, id)?.anatomy;
        let d = derive(&a)?;
        if !d.buildable() {
            return Err(StoreError::Held("it cannot be built as it stands: mend what is told above first".into()));
        }
        let last: Option<i32> = anatomies::table
            .filter(anatomies::type_key.eq(&a.key))
            .filter(anatomies::origin.eq(""))
            .select(diesel::dsl::max(anatomies::version))
            .first(c)?;
        a.version = u32::try_from(last.unwrap_or(0) + 1).unwrap_or(1);
        crate::write::rebuilds::add_anatomy(c, Some(who), a.clone())?;
        diesel::delete(drafts::table.find(id)).execute(c)?;
        Ok(a)
    })
}

/// Throws a draft away.
///
/// # Errors
/// Held for anyone but a lead; not found.
pub fn discard(c: &mut MysqlConnection, who: &Person, id: DraftId) -> Result<()> {
    lead(who)?;
    match diesel::delete(drafts::table.find(id)).execute(c)? {
        0 => Err(StoreError::NotFound),
        _ => Ok(()),
    }
}
