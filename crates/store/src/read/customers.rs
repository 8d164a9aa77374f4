//! Customers and their machines.

use crate::db::schema::{customers, rebuilds};
use crate::rows::person::Person;
use crate::{CustomerId, RebuildId, Result};
use chrono::{NaiveDate, NaiveDateTime};
use diesel::prelude::*;

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
