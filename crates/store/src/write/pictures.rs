//! Pictures as evidence: what lists read in one table, the bytes in another. They come in as clean JPEG: decoding,
//! shrinking and taking off what a camera writes into them is done before.

use crate::PictureId;
use crate::RebuildId;
use crate::Result;
use crate::StoreError;
use crate::chain;
use crate::db::schema::{picture_bodies, pictures};
use crate::db::transaction::transaction;
use crate::rows::person::Person;
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::decide::Event;
use sha2::{Digest as _, Sha256};

/// Most pictures of one question.
pub const MOST: usize = 8;

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

/// Keeps a picture beside a question. Repeating the id changes nothing.
///
/// # Errors
/// `picture` when there are [`MOST`] already; not found for a question that is not asked; held when the rebuild is
/// finished.
pub fn add(c: &mut MysqlConnection, who: &Person, rebuild: RebuildId, question: &str, new: &NewPicture) -> Result<()> {
    transaction(c, |c| {
        let mut locked = chain::rebuild::open(c, rebuild)?;
        if !wanted(c, rebuild, question, new.id)? {
            return Ok(());
        }
        let sha256 = hex::encode(Sha256::digest(&new.whole));
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

/// Takes a picture away: it is shown no more, and stays on record.
///
/// # Errors
/// Not found; held when the rebuild is finished.
pub fn take_away(c: &mut MysqlConnection, who: &Person, rebuild: RebuildId, picture: PictureId) -> Result<()> {
    transaction(c, |c| {
        let mut locked = chain::rebuild::open(c, rebuild)?;
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

/// Whether a picture may be kept beside a question, before anybody looks at its bytes; false when it is there already.
///
/// # Errors
/// As [`add`].
pub fn wanted(c: &mut MysqlConnection, rebuild: RebuildId, question: &str, picture: PictureId) -> Result<bool> {
    let b = crate::read::bench::load(c, rebuild)?;
    if b.state.finished {
        return Err(chain::rebuild::finished());
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
