//! Pictures of a rebuild.

use crate::db::schema::{people, picture_bodies, pictures};
use crate::{PictureId, RebuildId, Result, StoreError, chain};
use chrono::NaiveDateTime;
use diesel::prelude::*;
use std::collections::BTreeMap;

/// A picture as lists show it.
#[derive(Debug, Clone, Queryable, Selectable)]
#[diesel(table_name = pictures)]
#[allow(missing_docs)]
pub struct Picture {
    pub id: PictureId,
    pub width: i32,
    pub height: i32,
    pub bytes: i32,
    #[diesel(select_expression = people::name)]
    pub by: String,
    pub at: NaiveDateTime,
}

/// The pictures of a rebuild that were not taken away, by question, oldest first.
pub(crate) fn of_rebuild(c: &mut MysqlConnection, rebuild: RebuildId) -> Result<BTreeMap<String, Vec<Picture>>> {
    let rows: Vec<(String, Picture)> = pictures::table
        .inner_join(people::table)
        .filter(pictures::rebuild_id.eq(rebuild))
        .filter(pictures::taken_away_at.is_null())
        .order(pictures::at)
        .select((pictures::question, Picture::as_select()))
        .load(c)?;
    let mut out: BTreeMap<String, Vec<Picture>> = BTreeMap::new();
    for (question, picture) in rows {
        out.entry(question).or_default().push(picture);
    }
    Ok(out)
}

/// The bytes of a picture of a rebuild, whole or small.
///
/// # Errors
/// Not found, also for a picture of another rebuild or one that was taken away; a conflict for bytes that are not those
/// that were put in.
pub fn body(c: &mut MysqlConnection, rebuild: RebuildId, picture: PictureId, small: bool) -> Result<Vec<u8>> {
    let here = || {
        picture_bodies::table
            .inner_join(pictures::table)
            .filter(pictures::id.eq(picture))
            .filter(pictures::rebuild_id.eq(rebuild))
            .filter(pictures::taken_away_at.is_null())
    };
    if here().count().get_result::<i64>(c)? == 0 {
        return Err(StoreError::NotFound);
    }
    if !chain::rebuild::picture_stands(c, rebuild, picture)? {
        let words = "this picture is not the one that was put in: it was changed behind the record, and is not shown as evidence";
        return Err(StoreError::Conflict(words.into()));
    }
    Ok(if small {
        here().select(picture_bodies::small).first(c)?
    } else {
        here().select(picture_bodies::whole).first(c)?
    })
}
