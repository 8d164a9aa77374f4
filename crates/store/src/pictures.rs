//! Pictures as evidence: what lists read in one table, the bytes in another. They come in as clean JPEG: decoding,
//! shrinking and taking off what a camera writes into them is done before.

use crate::people::Person;
use crate::schema::{people, picture_bodies, pictures};
use crate::transaction::transaction;
use crate::{PictureId, RebuildId, Result, StoreError, hex, record};
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::decide::Event;
use sha2::{Digest as _, Sha256};
use std::collections::BTreeMap;

/// Most pictures of one question.
pub const MOST: usize = 8;

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

/// A picture to be kept: two JPEG bodies without metadata.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct NewPicture {
    pub id: PictureId,
    pub width: u32,
    pub height: u32,
    pub whole: Vec<u8>,
    pub small: Vec<u8>,
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

/// Whether a picture may be kept beside a question, before anybody looks at its bytes; false when it is there already.
///
/// # Errors
/// As [`add`].
pub fn wanted(c: &mut MysqlConnection, rebuild: RebuildId, question: &str, picture: PictureId) -> Result<bool> {
    let b = crate::bench::load(c, rebuild)?;
    if b.state.finished {
        return Err(record::finished());
    }
    if b.state.question(question).is_none() {
        return Err(StoreError::NotFound);
    }
    let known = pictures::table
        .find(picture)
        .select((pictures::rebuild_id, pictures::question))
        .first::<(RebuildId, String)>(c)
        .optional()?;
    if let Some((r, q)) = known {
        let same = r == rebuild && q == question;
        let elsewhere = || StoreError::Conflict("this picture belongs to another question".into());
        return if same { Ok(false) } else { Err(elsewhere()) };
    }
    if b.pictures.get(question).map_or(0, Vec::len) >= MOST {
        let words = format!("{MOST} pictures belong to this question already: take one away first");
        return Err(Refusal::new("picture", words).into());
    }
    Ok(true)
}

/// Keeps a picture beside a question. Repeating the id changes nothing.
///
/// # Errors
/// `picture` when there are [`MOST`] already; not found for a question that is not asked; held when the rebuild is finished.
pub fn add(c: &mut MysqlConnection, who: &Person, rebuild: RebuildId, question: &str, new: &NewPicture) -> Result<()> {
    transaction(c, |c| {
        let mut locked = record::open(c, rebuild)?;
        if !wanted(c, rebuild, question, new.id)? {
            return Ok(());
        }
        let sha256 = hex(&Sha256::digest(&new.whole));
        let int = |n: usize| i32::try_from(n).unwrap_or(i32::MAX);
        diesel::insert_into(pictures::table)
            .values((
                pictures::id.eq(new.id),
                pictures::rebuild_id.eq(rebuild),
                pictures::question.eq(question),
                pictures::width.eq(int(new.width as usize)),
                pictures::height.eq(int(new.height as usize)),
                pictures::bytes.eq(int(new.whole.len())),
                pictures::sha256.eq(&sha256),
                pictures::person_id.eq(who.id),
                pictures::at.eq(crate::now()),
            ))
            .execute(c)?;
        diesel::insert_into(picture_bodies::table)
            .values((
                picture_bodies::picture_id.eq(new.id),
                picture_bodies::whole.eq(&new.whole),
                picture_bodies::small.eq(&new.small),
            ))
            .execute(c)?;
        locked.bind_picture(new.id);
        locked.note(who.id, &Event::Picture { question: question.into(), picture: new.id.to_string(), sha256 });
        locked.write(c)
    })
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
    if !record::picture_stands(c, rebuild, picture)? {
        let words = "this picture is not the one that was put in: it was changed behind the record, and is not shown as evidence";
        return Err(StoreError::Conflict(words.into()));
    }
    Ok(if small {
        here().select(picture_bodies::small).first(c)?
    } else {
        here().select(picture_bodies::whole).first(c)?
    })
}

/// Ids of all pictures of a rebuild, those that were taken away too.
pub(crate) fn all(c: &mut MysqlConnection, rebuild: RebuildId) -> Result<Vec<PictureId>> {
    Ok(pictures::table.filter(pictures::rebuild_id.eq(rebuild)).select(pictures::id).load(c)?)
}

/// Takes a picture away: it is shown no more, and stays on record.
///
/// # Errors
/// Not found; held when the rebuild is finished.
pub fn take_away(c: &mut MysqlConnection, who: &Person, rebuild: RebuildId, picture: PictureId) -> Result<()> {
    transaction(c, |c| {
        let mut locked = record::open(c, rebuild)?;
        let n = diesel::update(
            pictures::table
                .filter(pictures::id.eq(picture))
                .filter(pictures::rebuild_id.eq(rebuild))
                .filter(pictures::taken_away_at.is_null()),
        )
        .set(pictures::taken_away_at.eq(crate::now()))
        .execute(c)?;
        if n == 0 {
            return Err(StoreError::NotFound);
        }
        locked.note(who.id, &Event::PictureTakenAway { picture: picture.to_string() });
        locked.write(c)
    })
}
