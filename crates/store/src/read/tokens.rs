//! Tokens of programs.

use crate::db::schema::{people as person_rows, tokens};
use crate::rows::token::Token;
use crate::{PersonId, Result};
use diesel::prelude::*;

/// Keys of one person, or of all, newest first.
///
/// # Errors
/// Database errors.
pub fn list(c: &mut MysqlConnection, of: Option<PersonId>) -> Result<Vec<Token>> {
    let mut q = tokens::table.inner_join(person_rows::table).order(tokens::made_at.desc()).into_boxed();
    if let Some(id) = of {
        q = q.filter(tokens::person_id.eq(id));
    }
    Ok(q.select(Token::as_select()).load(c)?)
}
