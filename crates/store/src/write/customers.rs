//! Customers: whose machines they are, how they are reached, and which of their machines were here.

use crate::chain::digests::Chain;
use crate::chain::shop::changed;
use crate::db::schema::customers;
use crate::read::customers::list;
use crate::rows::person::Person;
use crate::{CustomerId, Id, Result, StoreError};
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::terms::text;

fn good(name: &str, contact: &str) -> Result<(String, String)> {
    let name = name.split_whitespace().collect::<Vec<_>>().join(" ");
    let name = text::CUSTOMER.read("name", &name, |range| format!("expected the customer's name, {range}"))?;
    Ok((name, text::CONTACT.read("contact", contact, |range| format!("expected {range}"))?))
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
