//! What the Reckoner answered, pinned to a rebuild: a sheet with what was typed, the answer, and who asked when.

use crate::db::schema::pins;
use crate::db::stored;
use crate::db::transaction::transaction;
use crate::read::pins::{Answered, of_rebuild, standing};
use crate::rows::person::Person;
use crate::{PinId, RebuildId, Result, StoreError, chain};
use diesel::prelude::*;
use ironseat_core::decide::Event;
use ironseat_core::terms::text;
use ironseat_core::{Refusal, reckon};

/// Most sheets of one rebuild.
pub const MOST: usize = 60;

/// Largest document, in bytes.
const LARGEST: usize = 200_000;

/// What is to be pinned.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct NewPin {
    /// Made by the page: a repeat changes nothing.
    pub id: PinId,
    pub name: String,
    pub about: String,
    pub asked: Answered,
    /// The sheet it is reckoned anew for.
    pub replaces: Option<PinId>,
}

/// Keeps what was asked and answered with a rebuild. Repeating the id changes nothing.
///
/// # Errors
/// `about`; a conflict when the sheet was replaced or taken away meanwhile; held when the
/// rebuild is finished.
pub fn pin(c: &mut MysqlConnection, who: &Person, rebuild: RebuildId, new: &NewPin) -> Result<()> {
    reckon::entry(&new.name)?;
    let about = text::PIN_ABOUT
        .read("about", &new.about, |range| format!("expected a few words, {range}, such as the name of a seat"))?;
    let refuse = |words: &str| Err(Refusal::new("about", words).into());
    let document = stored::write(&new.asked)?;
    if document.len() > LARGEST {
        return refuse("this answer is too long to be kept: pin a smaller question");
    }
    transaction(c, |c| {
        let mut locked = chain::rebuild::open(c, rebuild)?;
        let all = of_rebuild(c, rebuild)?;
        if all.iter().any(|p| p.id == new.id) {
            return Ok(());
        }
        if let Some(old) = new.replaces.filter(|old| !standing(&all).any(|p| p.id == *old)) {
            let there = all.iter().any(|p| p.id == old);
            let words = "somebody reckoned this sheet anew or took it away meanwhile: look at the one that stands now";
            return Err(if there { StoreError::Conflict(words.into()) } else { StoreError::NotFound });
        }
        if standing(&all).count() >= MOST {
            return refuse(&format!("{MOST} sheets are pinned to this rebuild already: take one away first"));
        }
        diesel::insert_into(pins::table)
            .values((
                pins::id.eq(new.id),
                pins::rebuild_id.eq(rebuild),
                pins::name.eq(&new.name),
                pins::about.eq(&about),
                pins::document.eq(&document),
                pins::replaces.eq(new.replaces),
                pins::person_id.eq(who.id),
                pins::at.eq(crate::now()),
            ))
            .execute(c)?;
        let (pin, replaces) = (new.id.to_string(), new.replaces.map(|r| r.to_string()));
        locked.note(who.id, &Event::Pinned { name: new.name.clone(), about: about.clone(), pin, replaces });
        locked.write(c)
    })
}

/// Takes a sheet away: it is shown no more, and stays on record.
///
/// # Errors
/// Not found; held when the rebuild is finished.
pub fn take_away(c: &mut MysqlConnection, who: &Person, rebuild: RebuildId, pin: PinId) -> Result<()> {
    transaction(c, |c| {
        let mut locked = chain::rebuild::open(c, rebuild)?;
        let all = of_rebuild(c, rebuild)?;
        match all.iter().find(|p| p.id == pin) {
            None => return Err(StoreError::NotFound),
            Some(p) if p.taken_away_at.is_some() => return Ok(()),
            Some(_) => {}
        }
        diesel::update(pins::table.find(pin)).set(pins::taken_away_at.eq(crate::now())).execute(c)?;
        locked.note(who.id, &Event::PinTakenAway { pin: pin.to_string() });
        locked.write(c)
    })
}
