//! People, by their ids.

use crate::db::schema::people;
use crate::rows::person::{Person, PersonRow};
use crate::{PersonId, Result};
use diesel::prelude::*;

/// Is anybody there yet?
///
/// # Errors
/// Database errors.
pub fn any(c: &mut MysqlConnection) -> Result<bool> {
    Ok(people::table.count().get_result::<i64>(c)? > 0)
}

/// A person by id; none who is put away.
///
/// # Errors
/// Database errors.
pub fn get(c: &mut MysqlConnection, id: PersonId) -> Result<Option<Person>> {
    let here = people::table.find(id).filter(people::put_away_at.is_null());
    Ok(here.select(PersonRow::as_select()).first(c).optional()?.map(Into::into))
}
