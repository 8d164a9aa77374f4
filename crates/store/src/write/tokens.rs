//! Keys for other programs. A key belongs to a person and opens what that person may do, within its scopes; it is shown
//! once, and kept as a hash.

use crate::chain::digests::Chain;
use crate::chain::shop::changed;
use crate::db::schema::{people as person_rows, tokens};
use crate::read::people;
use crate::rows::person::{Person, Role};
use crate::rows::token::{Scope, Token};
use crate::{PersonId, Result, StoreError, TokenId};
use chrono::{NaiveDateTime, TimeDelta};
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::terms::text;
use rand::Rng as _;
use sha2::{Digest as _, Sha256};

/// What every key begins with, so that one that lies about is recognised.
pub const PREFIX: &str = "ironseat_";

/// Keys of one person that are not put away.
pub const MOST: i64 = 20;

/// That a key is used is written down so often.
const TOUCH: TimeDelta = TimeDelta::seconds(60);

fn hashed(secret: &str) -> String {
    hex::encode(Sha256::digest(secret.as_bytes()))
}

/// Makes a key; what is given back is shown once and kept nowhere. Repeating the id makes no second one.
///
/// # Errors
/// `token_name`, `scopes`; a conflict when it is made already; held for a customer's viewer, for a scope that the
/// person may not use, and beyond [`MOST`].
pub fn make(c: &mut MysqlConnection, who: &Person, id: TokenId, name: &str, scopes: &[String]) -> Result<String> {
    let name = &text::TOKEN.read("token_name", name, |range| format!("expected what it is for, in {range}"))?;
    let mut wanted: Vec<Scope> = scopes
        .iter()
        .map(|s| Scope::of(s).ok_or_else(|| Refusal::new("scopes", "expected read, measure or take_in")))
        .collect::<std::result::Result<_, _>>()?;
    wanted.sort();
    wanted.dedup();
    if wanted.is_empty() {
        return Err(Refusal::new("scopes", "choose what it opens").into());
    }
    if !who.works_here() {
        return Err(StoreError::Held("keys are for the people of the shop".into()));
    }
    if let Some(s) = wanted.iter().find(|s| !may(who, **s)) {
        return Err(StoreError::Held(format!("“{}” is not for your role: a key opens no more than you do", s.key())));
    }
    let secret = format!("{PREFIX}{}", hex::encode(rand::rng().random::<[u8; 24]>()));
    let list: Vec<&str> = wanted.iter().map(|s| s.key()).collect();
    changed(
        c,
        Chain::People,
        Some(who),
        &format!("Key “{name}” made by {}: {}.", who.name, list.join(", ")),
        |c| {
            if tokens::table.find(id).select(tokens::id).first::<TokenId>(c).optional()?.is_some() {
                let words =
                    "this key is made already and is not shown again: put it away and make another if it was lost";
                return Err(StoreError::Conflict(words.into()));
            }
            let there: i64 = tokens::table
                .filter(tokens::person_id.eq(who.id))
                .filter(tokens::put_away_at.is_null())
                .count()
                .get_result(c)?;
            if there >= MOST {
                return Err(StoreError::Held(format!("{MOST} keys are yours already: put one away first")));
            }
            diesel::insert_into(tokens::table)
                .values((
                    tokens::id.eq(id),
                    tokens::person_id.eq(who.id),
                    tokens::name.eq(name),
                    tokens::scopes.eq(list.join(" ")),
                    tokens::secret_hash.eq(hashed(&secret)),
                    tokens::made_at.eq(crate::now()),
                ))
                .execute(c)?;
            Ok(())
        },
    )?;
    Ok(secret)
}

/// What a role may do with a scope.
fn may(who: &Person, scope: Scope) -> bool {
    match scope {
        Scope::Read => who.works_here(),
        Scope::Measure => who.role > Role::Viewer,
        Scope::TakeIn => who.role == Role::Lead,
    }
}

/// Puts a key away: it opens nothing any more. One's own; a lead puts any away.
///
/// # Errors
/// Not found.
pub fn put_away(c: &mut MysqlConnection, who: &Person, id: TokenId) -> Result<()> {
    let t: Token =
        tokens::table.inner_join(person_rows::table).filter(tokens::id.eq(id)).select(Token::as_select()).first(c)?;
    if t.person_id != who.id && who.role != Role::Lead {
        return Err(StoreError::NotFound);
    }
    changed(c, Chain::People, Some(who), &format!("Key “{}” of {} put away.", t.name, t.person), |c| {
        diesel::update(tokens::table.find(id).filter(tokens::put_away_at.is_null()))
            .set(tokens::put_away_at.eq(crate::now()))
            .execute(c)?;
        Ok(())
    })
}

/// Who a key belongs to, if it opens this.
///
/// # Errors
/// Not found for a key that is none, is put away, or whose person is; held for a scope that it does not have.
pub fn open(c: &mut MysqlConnection, secret: &str, scope: Scope) -> Result<Person> {
    let nothing = StoreError::NotFound;
    if !secret.starts_with(PREFIX) || secret.len() > 100 {
        return Err(nothing);
    }
    let row: Option<(TokenId, PersonId, String, Option<NaiveDateTime>)> = tokens::table
        .filter(tokens::secret_hash.eq(hashed(secret)))
        .filter(tokens::put_away_at.is_null())
        .select((tokens::id, tokens::person_id, tokens::scopes, tokens::used_at))
        .first(c)
        .optional()?;
    let Some((id, person, scopes, used)) = row else { return Err(nothing) };
    let Some(who) = people::get(c, person)? else { return Err(nothing) };
    let now = crate::now();
    if used.is_none_or(|u| now - u > TOUCH) {
        diesel::update(tokens::table.find(id)).set(tokens::used_at.eq(now)).execute(c)?;
    }
    if !scopes.split(' ').any(|s| s == scope.key()) || !may(&who, scope) {
        return Err(StoreError::Held(format!("this key does not open this: it needs the scope “{}”", scope.key())));
    }
    Ok(who)
}
