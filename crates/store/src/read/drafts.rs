//! Machine types, and drafts that are being drawn.

use crate::db::schema::{anatomies, draft_states, drafts, rebuilds};
use crate::db::stored::Stored;
use crate::{AnatomyId, DraftId, Result, StoreError};
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::anatomy::Anatomy;
use ironseat_core::anatomy::names::free_id;

/// A machine type in the list.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct TypeInList {
    pub id: AnatomyId,
    pub anatomy: Anatomy,
    pub versions: usize,
    pub rebuilds: i64,
}

/// The newest version of every machine type, by name.
///
/// # Errors
/// Database errors.
pub fn kinds(c: &mut MysqlConnection) -> Result<Vec<TypeInList>> {
    let rows: Vec<(AnatomyId, String, Stored<Anatomy>)> = anatomies::table
        .filter(anatomies::origin.eq(""))
        .order((anatomies::type_key, anatomies::version.desc()))
        .select((anatomies::id, anatomies::type_key, anatomies::document))
        .load(c)?;
    let used: Vec<(AnatomyId, i64)> = rebuilds::table
        .group_by(rebuilds::anatomy_id)
        .select((rebuilds::anatomy_id, diesel::dsl::count_star()))
        .load(c)?;
    let mut out: Vec<TypeInList> = Vec::new();
    for (id, key, Stored(anatomy)) in rows {
        let n = used.iter().find(|u| u.0 == id).map_or(0, |u| u.1);
        if let Some(k) = out.iter_mut().find(|k| k.anatomy.key == key) {
            k.versions += 1;
            k.rebuilds += n;
        } else {
            out.push(TypeInList { id, anatomy, versions: 1, rebuilds: n });
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

/// A draft as it stands.
///
/// # Errors
/// Not found.
pub fn draft(c: &mut MysqlConnection, id: DraftId) -> Result<Draft> {
    let cursor: i32 =
        drafts::table.find(id).select(drafts::cursor_at).first(c).optional()?.ok_or(StoreError::NotFound)?;
    read(c, id, cursor)
}

pub(crate) fn read(c: &mut MysqlConnection, id: DraftId, cursor: i32) -> Result<Draft> {
    let Stored(anatomy): Stored<Anatomy> =
        draft_states::table.find((id, cursor)).select(draft_states::document).first(c)?;
    let said = |c: &mut MysqlConnection, seq: i32| -> Result<Option<String>> {
        Ok(draft_states::table.find((id, seq)).select(draft_states::said).first(c).optional()?)
    };
    let undo = if cursor > 0 { said(c, cursor)? } else { None };
    let redo = said(c, cursor + 1)?;
    Ok(Draft { id, anatomy, cursor, undo, redo })
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
