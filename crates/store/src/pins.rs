//! What the Reckoner answered, pinned to a rebuild: a sheet with what was typed, the answer, and who asked when.

use crate::people::Person;
use crate::rebuilds::Rebuild;
use crate::schema::{people, pins, rebuilds};
use crate::seat_record::seat_record;
use crate::stored::{self, Document, Stored};
use crate::transaction::transaction;
use crate::{PinId, RebuildId, Result, StoreError, record};
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::decide::Event;
use ironseat_core::reckon::{self, of_seat};
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};

/// Most sheets of one rebuild.
pub const MOST: usize = 60;
/// Largest document, in bytes.
const LARGEST: usize = 200_000;

/// What was asked and what was answered, as computations name it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct Asked {
    pub input: Map<String, Value>,
    pub answer: Map<String, Value>,
}

impl Document for Asked {
    const NAME: &'static str = "reckoned sheet";
}

/// A pinned sheet.
#[derive(Debug, Clone, Queryable, Selectable)]
#[diesel(table_name = pins)]
#[allow(missing_docs)]
pub struct Pin {
    pub id: PinId,
    /// Name of the computation.
    pub name: String,
    /// What of the machine it is about, as said by the person.
    pub about: String,
    pub document: Stored<Asked>,
    pub replaces: Option<PinId>,
    #[diesel(select_expression = people::name)]
    pub by: String,
    pub at: NaiveDateTime,
    pub taken_away_at: Option<NaiveDateTime>,
}

/// The pinned sheets of a rebuild, oldest first, those that were taken away or replaced too.
pub(crate) fn of_rebuild(c: &mut MysqlConnection, rebuild: RebuildId) -> Result<Vec<Pin>> {
    Ok(pins::table
        .inner_join(people::table)
        .filter(pins::rebuild_id.eq(rebuild))
        .order((pins::at, pins::id))
        .select(Pin::as_select())
        .load(c)?)
}

/// Those that stand: neither taken away nor replaced by a newer one.
pub fn standing(all: &[Pin]) -> impl Iterator<Item = &Pin> {
    all.iter().filter(|p| p.taken_away_at.is_none() && !all.iter().any(|n| n.replaces == Some(p.id)))
}

/// What is to be pinned.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct NewPin {
    /// Made by the page: a repeat changes nothing.
    pub id: PinId,
    pub name: String,
    pub about: String,
    pub asked: Asked,
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
    let about = new.about.trim().to_owned();
    let refuse = |words: &str| Err(Refusal::new("about", words).into());
    if about.chars().count() > 120 || about.chars().any(char::is_control) {
        return refuse("expected a few words, up to 120 characters, such as the name of a seat");
    }
    let document = stored::write(&new.asked)?;
    if document.len() > LARGEST {
        return refuse("this answer is too long to be kept: pin a smaller question");
    }
    transaction(c, |c| {
        let mut locked = record::open(c, rebuild)?;
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
        let mut locked = record::open(c, rebuild)?;
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

/// What a question is asked for, as far as a rebuild knows it.
#[derive(Debug, Default)]
#[allow(missing_docs)]
pub struct AskedFor {
    pub rebuild: Option<Rebuild>,
    /// Name of the seat that filled fields.
    pub seat: String,
    /// Fields that the seat fills.
    pub known: Option<Map<String, Value>>,
    /// Open rebuilds that an answer can be pinned to: number and title.
    pub open: Vec<(RebuildId, String, String)>,
}

/// Finds what a question is asked for.
///
/// # Errors
/// Not found.
pub fn asked_for(c: &mut MysqlConnection, name: &str, rebuild: Option<RebuildId>, seat: &str) -> Result<AskedFor> {
    let open = rebuilds::table
        .filter(rebuilds::finished_at.is_null())
        .order((rebuilds::due_on, rebuilds::number))
        .limit(200)
        .select((rebuilds::id, rebuilds::number, rebuilds::title))
        .load(c)?;
    let Some(id) = rebuild else { return Ok(AskedFor { open, ..AskedFor::default() }) };
    let rebuild = crate::rebuilds::get(c, id)?;
    let mut out = AskedFor { open, ..AskedFor::default() };
    if !seat.is_empty() {
        let record = seat_record(c, &rebuild, seat)?;
        out.known = of_seat(name, &record.facts, record.fit().ok().as_ref());
        out.seat.clone_from(&record.facts.seat.name);
    }
    Ok(AskedFor { rebuild: Some(rebuild), ..out })
}
