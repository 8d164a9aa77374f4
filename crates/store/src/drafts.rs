//! Machine types: the versions that are kept, and drafts of new ones with undo and redo.

use crate::people::{Person, Role};
use crate::schema::{anatomies, draft_states, drafts, rebuilds};
use crate::stored::{self, Stored};
use crate::transaction::transaction;
use crate::{AnatomyId, DraftId, Result, StoreError};
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::anatomy::edit::{Edit, free_id};
use ironseat_core::anatomy::{Anatomy, derive};

/// Longest way back by undo.
const LONGEST: i32 = 500;

/// A machine type in the list.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Kind {
    pub id: AnatomyId,
    pub anatomy: Anatomy,
    pub versions: usize,
    pub rebuilds: i64,
}

/// The newest version of every machine type, by name.
///
/// # Errors
/// Database errors.
pub fn kinds(c: &mut MysqlConnection) -> Result<Vec<Kind>> {
    let rows: Vec<(AnatomyId, String, Stored<Anatomy>)> = anatomies::table
        .filter(anatomies::origin.eq(""))
        .order((anatomies::type_key, anatomies::version.desc()))
        .select((anatomies::id, anatomies::type_key, anatomies::document))
        .load(c)?;
    let used: Vec<(AnatomyId, i64)> = rebuilds::table
        .group_by(rebuilds::anatomy_id)
        .select((rebuilds::anatomy_id, diesel::dsl::count_star()))
        .load(c)?;
    let mut out: Vec<Kind> = Vec::new();
    for (id, key, Stored(anatomy)) in rows {
        let n = used.iter().find(|u| u.0 == id).map_or(0, |u| u.1);
        if let Some(k) = out.iter_mut().find(|k| k.anatomy.key == key) {
            k.versions += 1;
            k.rebuilds += n;
        } else {
            out.push(Kind { id, anatomy, versions: 1, rebuilds: n });
        }
    }
    out.sort_by(|a, b| a.anatomy.name.cmp(&b.anatomy.name));
    Ok(out)
}

/// A version of a machine type, the newest when none is named.
///
/// # Errors
/// Not found.
pub fn version(c: &mut MysqlConnection, key: &str, version: Option<i32>) -> Result<Anatomy> {
    let mut q = anatomies::table
        .filter(anatomies::type_key.eq(key))
        .filter(anatomies::origin.eq(""))
        .order(anatomies::version.desc())
        .select(anatomies::document)
        .into_boxed();
    if let Some(v) = version {
        q = q.filter(anatomies::version.eq(v));
    }
    let document: Stored<Anatomy> = q.first(c).optional()?.ok_or(StoreError::NotFound)?;
    Ok(document.0)
}

/// A draft as it stands.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Draft {
    pub id: DraftId,
    pub anatomy: Anatomy,
    /// Number of the state that is shown.
    pub cursor: i32,
    /// What the last change did, and what redo would do again.
    pub undo: Option<String>,
    pub redo: Option<String>,
}

/// Drafts that are being drawn, newest first: (id, name).
///
/// # Errors
/// Database errors.
pub fn open_drafts(c: &mut MysqlConnection) -> Result<Vec<(DraftId, String)>> {
    Ok(drafts::table.order(drafts::changed_at.desc()).select((drafts::id, drafts::name)).load(c)?)
}

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

/// A draft as it stands.
///
/// # Errors
/// Not found.
pub fn draft(c: &mut MysqlConnection, id: DraftId) -> Result<Draft> {
    let cursor: i32 =
        drafts::table.find(id).select(drafts::cursor_at).first(c).optional()?.ok_or(StoreError::NotFound)?;
    read(c, id, cursor)
}

fn read(c: &mut MysqlConnection, id: DraftId, cursor: i32) -> Result<Draft> {
    let Stored(anatomy): Stored<Anatomy> =
        draft_states::table.find((id, cursor)).select(draft_states::document).first(c)?;
    let said = |c: &mut MysqlConnection, seq: i32| -> Result<Option<String>> {
        Ok(draft_states::table.find((id, seq)).select(draft_states::said).first(c).optional()?)
    };
    let undo = if cursor > 0 { said(c, cursor)? } else { None };
    let redo = said(c, cursor + 1)?;
    Ok(Draft { id, anatomy, cursor, undo, redo })
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
        crate::lifecycle::add_anatomy(c, Some(who), a.clone())?;
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

/// A key for a new machine type from its name, not taken yet.
///
/// # Errors
/// `name` without a letter or digit.
pub fn key_for(c: &mut MysqlConnection, name: &str) -> Result<String> {
    if !name.chars().any(|c| c.is_ascii_alphanumeric()) {
        return Err(Refusal::new("name", "expected a name with letters or digits").into());
    }
    let mut taken: Vec<String> =
        anatomies::table.filter(anatomies::origin.eq("")).select(anatomies::type_key).distinct().load(c)?;
    taken.extend(drafts::table.select(drafts::type_key).load::<String>(c)?);
    Ok(free_id(name, 48, "machine", |k| taken.iter().any(|t| t == k)))
}
