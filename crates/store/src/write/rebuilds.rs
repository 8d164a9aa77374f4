//! Machine types, and how a rebuild begins.

use crate::chain::digests::Chain;
use crate::chain::entry::GENESIS;
use crate::chain::shop::changed;
use crate::db::schema::{anatomies, rebuilds, sheets, steps};
use crate::db::stored::{self, Stored};
use crate::rows::person::{Person, Role};
use crate::{AnatomyId, Id, RebuildId, Result, SheetId, StepId, StoreError, chain};
use chrono::{Datelike as _, NaiveDate};
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::anatomy::Anatomy;
use ironseat_core::anatomy::acts::steps_of_seats;
use ironseat_core::decide::Event;
use ironseat_core::sheet::SheetKind;
use ironseat_core::terms::text;

/// Keeps a version of a machine type.
///
/// # Errors
/// A refused anatomy, or a conflict when the version is there.
pub fn add_anatomy(c: &mut MysqlConnection, who: Option<&Person>, a: Anatomy) -> Result<AnatomyId> {
    let a = a.check()?;
    let id = Id::new();
    let version = i32::try_from(a.version).unwrap_or(1);
    changed(c, Chain::Types, who, &format!("{}, version {version}, kept.", a.name), |c| {
        diesel::insert_into(anatomies::table)
            .values((
                anatomies::id.eq(id),
                anatomies::type_key.eq(&a.key),
                anatomies::version.eq(version),
                anatomies::name.eq(&a.name),
                anatomies::document.eq(stored::write(&a)?),
            ))
            .execute(c)?;
        Ok(id)
    })
}

/// A rebuild to be started.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct NewRebuild {
    pub id: RebuildId,
    pub number: String,
    pub title: String,
    pub customer: String,
    pub anatomy: AnatomyId,
    pub due_on: NaiveDate,
    /// Serial number of the machine; empty where there is none.
    pub serial: String,
}

/// Starts a rebuild: pins the anatomy, lays out its steps and sheets. Repeating the id changes nothing.
///
/// # Errors
/// `title`, `customer` or `number`; held for anyone but a lead; a conflict when the number is taken.
pub fn start(c: &mut MysqlConnection, who: &Person, new: &NewRebuild) -> Result<()> {
    if who.role != Role::Lead {
        return Err(StoreError::Held("only a lead starts a rebuild".into()));
    }
    for (field, typed, rule) in [
        ("title", &new.title, text::TITLE),
        ("customer", &new.customer, text::CUSTOMER),
        ("number", &new.number, text::NUMBER),
        ("serial", &new.serial, text::SERIAL),
    ] {
        rule.read(field, typed, |range| format!("expected it on one line, {range}"))?;
    }
    if !(2000..2200).contains(&new.due_on.year()) {
        return Err(Refusal::new("due_on", "expected a date of this century, such as 2026-12-04").into());
    }
    if !new.number.bytes().all(|b| b.is_ascii_alphanumeric() || b == b'-') {
        return Err(Refusal::new("number", "expected letters, digits and hyphens, such as R-0412").into());
    }
    changed(c, Chain::Rebuilds, Some(who), &format!("{} begun.", new.number), |c| {
        if rebuilds::table.find(new.id).select(rebuilds::id).first::<RebuildId>(c).optional()?.is_some() {
            return Ok(());
        }
        let Stored(anatomy): Stored<Anatomy> =
            anatomies::table.find(new.anatomy).select(anatomies::document).first(c)?;
        let taken: i64 = rebuilds::table
            .filter(rebuilds::number.eq(&new.number))
            .filter(rebuilds::origin.eq(""))
            .count()
            .get_result(c)?;
        if taken > 0 {
            return Err(Refusal::new("number", "this number is taken").into());
        }
        let customer = crate::write::customers::called(c, Some(who), &new.customer)?;
        diesel::insert_into(rebuilds::table)
            .values((
                rebuilds::id.eq(new.id),
                rebuilds::number.eq(&new.number),
                rebuilds::title.eq(new.title.trim()),
                rebuilds::customer.eq(new.customer.trim()),
                rebuilds::customer_id.eq(customer),
                rebuilds::serial.eq(new.serial.trim()),
                rebuilds::anatomy_id.eq(new.anatomy),
                rebuilds::due_on.eq(new.due_on),
                rebuilds::record_seq.eq(0),
                rebuilds::derivation.eq(ironseat_core::anatomy::older::TODAY),
                rebuilds::record_hash.eq(GENESIS),
            ))
            .execute(c)?;
        let all: Vec<&str> = anatomy.seats.iter().map(|s| s.id.as_str()).collect();
        lay_out(c, new.id, &anatomy, &all)?;
        let mut locked = chain::rebuild::begin(new.id);
        locked.note(
            who.id,
            &Event::Started {
                number: new.number.clone(),
                title: new.title.trim().into(),
                customer: new.customer.trim().into(),
                anatomy: anatomy.key,
                version: anatomy.version,
            },
        );
        locked.write(c)
    })
}

/// Lays out the steps and sheets of seats.
pub(crate) fn lay_out(c: &mut MysqlConnection, rebuild: RebuildId, anatomy: &Anatomy, seats: &[&str]) -> Result<()> {
    let rows: Vec<_> = steps_of_seats(anatomy)
        .into_iter()
        .enumerate()
        .filter(|(_, (seat, _))| seats.contains(&seat.as_str()))
        .map(|(i, (seat, kind))| {
            let position = i32::try_from(i).unwrap_or(0);
            (
                steps::id.eq(StepId::new()),
                steps::rebuild_id.eq(rebuild),
                steps::seat.eq(seat),
                steps::kind.eq(kind.key()),
                steps::position.eq(position),
                steps::done.eq(false),
                steps::detail.eq(""),
            )
        })
        .collect();
    diesel::insert_into(steps::table).values(rows).execute(c)?;
    let sheet = |s: &&str| {
        SheetKind::ALL.map(|k| {
            (
                sheets::id.eq(SheetId::new()),
                sheets::rebuild_id.eq(rebuild),
                sheets::seat.eq((*s).to_owned()),
                sheets::kind.eq(k.key()),
            )
        })
    };
    let rows: Vec<_> = seats.iter().flat_map(sheet).collect();
    diesel::insert_into(sheets::table).values(rows).execute(c)?;
    Ok(())
}
