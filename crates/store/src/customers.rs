//! Customers: whose machines they are, how they are reached, and which of their machines were here.

use crate::bound::Chain;
use crate::people::Person;
use crate::schema::{customers, rebuilds};
use crate::shop_record::changed;
use crate::{CustomerId, Id, RebuildId, Result, StoreError};
use chrono::{NaiveDate, NaiveDateTime};
use diesel::prelude::*;
use ironseat_core::Refusal;

/// A customer.
#[derive(Debug, Clone, Queryable)]
#[allow(missing_docs)]
pub struct Customer {
    pub id: CustomerId,
    pub name: String,
    pub contact: String,
}

/// A rebuild of a customer's machine.
#[derive(Debug, Clone, Queryable)]
#[allow(missing_docs)]
pub struct Machine {
    pub customer: Option<CustomerId>,
    /// Serial number; empty where nobody wrote it down.
    pub serial: String,
    pub title: String,
    pub id: CustomerId,
    pub number: String,
    pub due_on: NaiveDate,
    pub finished_at: Option<NaiveDateTime>,
}

/// All customers, by name.
///
/// # Errors
/// Database errors.
pub fn list(c: &mut MysqlConnection) -> Result<Vec<Customer>> {
    Ok(customers::table.order(customers::name).select((customers::id, customers::name, customers::contact)).load(c)?)
}

/// All machines that were here, by serial number, the newest rebuild first.
///
/// # Errors
/// Database errors.
pub fn machines(c: &mut MysqlConnection) -> Result<Vec<Machine>> {
    Ok(rebuilds::table
        .order((rebuilds::serial, rebuilds::title, rebuilds::due_on.desc()))
        .select((
            rebuilds::customer_id,
            rebuilds::serial,
            rebuilds::title,
            rebuilds::id,
            rebuilds::number,
            rebuilds::due_on,
            rebuilds::finished_at,
        ))
        .load(c)?)
}

fn good(name: &str, contact: &str) -> Result<(String, String)> {
    let name = name.split_whitespace().collect::<Vec<_>>().join(" ");
    if name.is_empty() || name.chars().count() > 160 || name.chars().any(char::is_control) {
        return Err(Refusal::new("name", "expected the customer's name, up to 160 characters").into());
    }
    let contact = contact.trim().to_owned();
    if contact.chars().count() > 400 {
        return Err(Refusal::new("contact", "expected at most 400 characters").into());
    }
    Ok((name, contact))
}

/// The customer of a name, put in when nobody is called so yet.
pub(crate) fn called(c: &mut MysqlConnection, who: Option<&Person>, name: &str) -> Result<CustomerId> {
    let (name, _) = good(name, "")?;
    changed(c, Chain::Customers, who, &format!("{name} put in."), |c| {
        if let Some(id) =
            customers::table.filter(customers::name.eq(&name)).select(customers::id).first(c).optional()?
        {
            return Ok(id);
        }
        let id = Id::new();
        diesel::insert_into(customers::table)
            .values((customers::id.eq(id), customers::name.eq(&name), customers::contact.eq("")))
            .execute(c)?;
        Ok(id)
    })
}

/// Puts a customer in.
///
/// # Errors
/// `name`, also when it is there already; `contact`.
pub fn add(c: &mut MysqlConnection, who: &Person, name: &str, contact: &str) -> Result<CustomerId> {
    let (name, contact) = good(name, contact)?;
    changed(c, Chain::Customers, Some(who), &format!("{name} put in."), |c| {
        let taken: i64 = customers::table.filter(customers::name.eq(&name)).count().get_result(c)?;
        if taken > 0 {
            return Err(Refusal::new("name", "a customer of this name is there already").into());
        }
        let id = Id::new();
        let row = (customers::id.eq(id), customers::name.eq(&name), customers::contact.eq(&contact));
        diesel::insert_into(customers::table).values(row).execute(c)?;
        Ok(id)
    })
}

/// Changes how a customer is reached. Rebuilds keep the name that they were begun under.
///
/// # Errors
/// Not found; `contact`.
pub fn set_contact(c: &mut MysqlConnection, who: &Person, id: CustomerId, contact: &str) -> Result<()> {
    let was = list(c)?.into_iter().find(|x| x.id == id).ok_or(StoreError::NotFound)?;
    let (name, contact) = good(&was.name, contact)?;
    changed(c, Chain::Customers, Some(who), &format!("{name}: another contact."), |c| {
        diesel::update(customers::table.find(id)).set(customers::contact.eq(&contact)).execute(c)?;
        Ok(())
    })
}

/// May this person look at a rebuild? Whoever works here may; a viewer, at those of their own customer. One query for a
/// viewer.
///
/// # Errors
/// Database errors.
pub fn may_see(c: &mut MysqlConnection, who: &Person, rebuild: RebuildId) -> Result<bool> {
    if who.works_here() {
        return Ok(true);
    }
    let Some(own) = who.customer else { return Ok(false) };
    let of: Option<Option<CustomerId>> =
        rebuilds::table.find(rebuild).select(rebuilds::customer_id).first(c).optional()?;
    Ok(of.flatten() == Some(own))
}
