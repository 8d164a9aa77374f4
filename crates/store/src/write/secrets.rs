//! Passwords, PINs and codes: what is good, trying one, and how often.

use crate::db::named_lock;
use crate::db::schema::{people, sign_in_failures};
use crate::read::people::get;
use crate::rows::person::Person;
use crate::{PersonId, Result, StoreError};
use argon2::password_hash::rand_core::OsRng;
use argon2::password_hash::{PasswordHash, PasswordHasher as _, PasswordVerifier as _, SaltString};
use argon2::{Algorithm, Argon2, Params, Version};
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::terms::text;

/// Failures within this many minutes count.
const WINDOW_MINUTES: i64 = 5;

/// So many are allowed under one name from one place.
const TRIES: i64 = 6;

/// And so many from one place under all names: a shop behind one address still signs in.
const TRIES_FROM_ONE_PLACE: i64 = 40;

fn argon() -> Argon2<'static> {
    // OWASP's second choice: 19 MiB, two passes.
    Argon2::new(Algorithm::Argon2id, Version::V0x13, Params::new(19 * 1024, 2, 1, None).unwrap_or_default())
}

pub(crate) fn hash(secret: &str) -> Result<String> {
    argon()
        .hash_password(secret.as_bytes(), &SaltString::generate(&mut OsRng))
        .map(|h| h.to_string())
        .map_err(|e| StoreError::Internal(e.to_string()))
}

pub(crate) fn matches(secret: &str, hash: &str) -> bool {
    PasswordHash::new(hash).is_ok_and(|h| argon().verify_password(secret.as_bytes(), &h).is_ok())
}

/// Words that are tried first by whoever guesses.
const COMMON: [&str; 48] = [
    "password", "passwort", "kennwort", "letmein", "welcome", "sunshine", "princess", "football", "baseball", "dragon",
    "monkey", "shadow", "master", "superman", "batman", "trustno", "iloveyou", "starwars", "whatever", "computer",
    "internet", "freedom", "michael", "jennifer", "charlie", "jordan", "hunter", "killer", "summer", "winter",
    "spring", "autumn", "hello", "changeme", "secret", "admin", "default", "workshop", "bearing", "ironseat", "qwerty",
    "qwertz", "asdfgh", "zxcvbn", "abcdef", "azerty", "qazwsx", "mustang",
];

/// A password that is not guessed: twelve characters of any kind, or eight that are none of those tried first.
pub(crate) fn good_password(password: &str, handle: &str, name: &str) -> Result<()> {
    let refuse = |message: &str| Err(StoreError::Refused(Refusal::new("password", message)));
    let n = password.chars().count();
    if n < text::PASSWORD.least || password.len() > text::PASSWORD.most {
        return refuse(&format!("expected at least {} characters", text::PASSWORD.least));
    }
    let different = password.chars().collect::<std::collections::BTreeSet<_>>().len();
    if different < 5 {
        return refuse("expected more different characters: this is guessed at once");
    }
    let plain: String = password.to_lowercase().chars().filter(|c| c.is_alphabetic()).collect();
    let own = std::iter::once(handle.to_owned())
        .chain(name.split_whitespace().map(str::to_lowercase))
        .filter(|w| w.chars().count() >= 4);
    let known = COMMON.iter().map(|w| (*w).to_owned()).chain(own);
    if n < text::PASSWORD_OF_ANY_WORDS.least
        && (plain.is_empty()
            || known.into_iter().any(|w| plain == w || plain.len() < w.len() + 3 && plain.contains(&w)))
    {
        let any = text::PASSWORD_OF_ANY_WORDS.least;
        return refuse(&format!("this is among the first that are guessed: take {any} characters, or other words"));
    }
    Ok(())
}

/// How many digits a PIN has.
const PIN: std::ops::RangeInclusive<usize> = 4..=8;

/// How many digits a PIN has, in words: `4 to 8 digits`.
#[must_use]
pub fn pin_digits() -> String {
    format!("{} to {} digits", PIN.start(), PIN.end())
}

/// As many digits as there must be, and not those that are tried first.
pub(crate) fn good_pin(pin: &str) -> Result<()> {
    let refuse = |message: &str| Err(StoreError::Refused(Refusal::new("pin", message)));
    let digits: Vec<i32> = pin.bytes().filter(u8::is_ascii_digit).map(|b| i32::from(b - b'0')).collect();
    if !PIN.contains(&pin.len()) || digits.len() != pin.len() {
        return refuse(&format!("expected a PIN of {}", pin_digits()));
    }
    let steps: Vec<i32> = digits.windows(2).map(|w| w[1] - w[0]).collect();
    if steps.iter().all(|s| *s == 0) || steps.iter().all(|s| *s == 1) || steps.iter().all(|s| *s == -1) {
        return refuse("expected a PIN that is not one digit over and over, nor a run such as 1234");
    }
    Ok(())
}

/// A try of a password or a PIN that was counted and not judged yet.
#[derive(Debug)]
pub(crate) struct Trial {
    key: String,
    from: String,
    person: Option<PersonId>,
    stored: String,
}

impl Trial {
    /// Whether a secret is the one. Takes as long for a name that is not there.
    pub(crate) fn matches(&self, secret: &str) -> bool {
        matches(secret, &self.stored) && self.person.is_some()
    }
}

/// Counts a try before it is judged: by its name from where it comes, and by where it comes from. Whoever tries from
/// elsewhere locks nobody out. Tries of one key are counted one after the other, so that any number at the same time
/// come out exactly. On a cluster each node has its own order: a try is counted once more when it stands, so that never
/// more than the limit pass, and at worst some of those at the same moment on several nodes wait without need.
fn count(c: &mut MysqlConnection, key: &str, from: &str) -> Result<()> {
    let busy = StoreError::TooMany("many try at the same time: wait a moment".into());
    named_lock::alone(c, &format!("{key}|{from}"), 5, busy, |c| count_alone(c, key, from))
}

fn count_alone(c: &mut MysqlConnection, key: &str, from: &str) -> Result<()> {
    let since = crate::now() - chrono::Duration::minutes(WINDOW_MINUTES);
    let within = |c: &mut MysqlConnection, this: i64| -> Result<()> {
        let lately = || {
            sign_in_failures::table.filter(sign_in_failures::address.eq(from)).filter(sign_in_failures::at.gt(since))
        };
        let here: i64 = lately().filter(sign_in_failures::handle.eq(key)).count().get_result(c)?;
        let all: i64 = if from.is_empty() { 0 } else { lately().count().get_result(c)? };
        if here + this > TRIES || all + this > TRIES_FROM_ONE_PLACE {
            let wait = format!("too many wrong tries: wait {WINDOW_MINUTES} minutes, or ask a lead");
            return Err(StoreError::TooMany(wait));
        }
        Ok(())
    };
    within(c, 1)?;
    diesel::insert_into(sign_in_failures::table)
        .values((
            sign_in_failures::handle.eq(key),
            sign_in_failures::at.eq(crate::now()),
            sign_in_failures::address.eq(from),
        ))
        .execute(c)?;
    within(c, 0)
}

/// A try to sign in, counted.
pub(crate) fn try_password(c: &mut MysqlConnection, handle: &str, from: &str) -> Result<Trial> {
    let key: String = handle.trim().to_lowercase().chars().filter(char::is_ascii_alphanumeric).take(40).collect();
    count(c, &key, from)?;
    let row: Option<(PersonId, String)> = people::table
        .filter(people::handle.eq(&key))
        .filter(people::put_away_at.is_null())
        .filter(people::password_hash.like("$%"))
        .select((people::id, people::password_hash))
        .first(c)
        .optional()?;
    Ok(trial(key, from, row))
}

fn trial(key: String, from: &str, row: Option<(PersonId, String)>) -> Trial {
    // A hash of nothing, so that a missing name costs the same time.
    let nobody = "$argon2id$v=19$m=19456,t=2,p=1$AAAAAAAAAAAAAAAAAAAAAA$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA";
    let (person, stored) = row.map_or((None, nobody.into()), |(id, hash)| (Some(id), hash));
    Trial { key, from: from.to_owned(), person, stored }
}

/// A try of a one-time code, counted.
pub(crate) fn try_code(c: &mut MysqlConnection, handle: &str, from: &str) -> Result<Trial> {
    let handle: String = handle.trim().to_lowercase().chars().filter(char::is_ascii_alphanumeric).take(40).collect();
    let key = format!("code:{handle}");
    count(c, &key, from)?;
    let row: Option<(PersonId, Option<String>)> = people::table
        .filter(people::handle.eq(&handle))
        .filter(people::put_away_at.is_null())
        .filter(people::code_until.gt(crate::now()))
        .select((people::id, people::code_hash))
        .first(c)
        .optional()?;
    Ok(trial(key, from, row.and_then(|(id, hash)| Some((id, hash?)))))
}

/// A try of one's own password by who is signed in, counted.
pub(crate) fn try_own(c: &mut MysqlConnection, person: PersonId, from: &str) -> Result<Trial> {
    let (handle, stored): (String, String) =
        people::table.find(person).select((people::handle, people::password_hash)).first(c)?;
    let key = format!("own:{handle}");
    count(c, &key, from)?;
    Ok(trial(key, from, Some((person, stored))))
}

/// A try of a person's own PIN, counted: only who is signed in can spend them.
pub(crate) fn try_pin(c: &mut MysqlConnection, person: PersonId) -> Result<Trial> {
    let (handle, stored): (String, Option<String>) =
        people::table.find(person).select((people::handle, people::pin_hash)).first(c)?;
    let Some(stored) = stored else {
        return Err(Refusal::new("pin", "you have no PIN yet: ask a lead to set one").into());
    };
    // No sign-in name holds a colon.
    let key = format!("pin:{handle}");
    count(c, &key, "")?;
    Ok(Trial { key, from: String::new(), person: Some(person), stored })
}

/// A right one clears what was counted against it.
fn forgive(c: &mut MysqlConnection, t: &Trial) -> Result<()> {
    diesel::delete(
        sign_in_failures::table
            .filter(sign_in_failures::handle.eq(&t.key))
            .filter(sign_in_failures::address.eq(&t.from)),
    )
    .execute(c)?;
    Ok(())
}

/// Ends a try to sign in: who it is, or nobody.
pub(crate) fn tried(c: &mut MysqlConnection, t: &Trial, right: bool) -> Result<Option<Person>> {
    match t.person {
        Some(id) if right => {
            forgive(c, t)?;
            get(c, id)
        }
        _ => Ok(None),
    }
}

/// Ends a try of a PIN.
pub(crate) fn tried_pin(c: &mut MysqlConnection, t: &Trial, right: bool) -> Result<()> {
    if right { forgive(c, t) } else { Err(Refusal::new("pin", "that is not your PIN").into()) }
}

/// Checks name and password, on one connection; a server does it with [`crate::Store::sign_in`].
///
/// # Errors
/// [`StoreError::TooMany`] after six failures within five minutes from one place.
pub fn sign_in(c: &mut MysqlConnection, handle: &str, password: &str) -> Result<Option<Person>> {
    let t = try_password(c, handle, "")?;
    let right = t.matches(password);
    tried(c, &t, right)
}

/// Checks a person's own PIN, on one connection.
///
/// # Errors
/// [`StoreError::TooMany`], or `pin` when it is wrong or none was ever set.
pub fn check_pin(c: &mut MysqlConnection, person: PersonId, pin: &str) -> Result<()> {
    let t = try_pin(c, person)?;
    let right = t.matches(pin.trim());
    tried_pin(c, &t, right)
}

/// Forgets tries that count no more.
///
/// # Errors
/// Database errors.
pub fn purge_tries(c: &mut MysqlConnection) -> Result<usize> {
    let before = crate::now() - chrono::Duration::minutes(WINDOW_MINUTES);
    Ok(diesel::delete(sign_in_failures::table.filter(sign_in_failures::at.lt(before))).execute(c)?)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_guessed_first_is_no_password() {
        let good = |p: &str| good_password(p, "tomasz", "Tomasz Brandt").is_ok();
        for p in ["marrow-quay", "correct horse battery", "long enough", "passwordpassword!", "slöt7 kvast"] {
            assert!(good(p), "{p}");
        }
        for p in [
            "short",
            "password",
            "Password1",
            "12345678",
            "aaaaaaaaaaaa",
            "qwertz123",
            "Tomasz99",
            "brandt2024",
            &"x".repeat(201),
        ] {
            assert!(!good(p), "{p}");
        }
        for (pin, ok) in [
            ("2408", true),
            ("13579", true),
            ("1234", false),
            ("4321", false),
            ("0000", false),
            ("123", false),
            ("12a4", false),
            ("", false),
            ("123456789", false),
        ] {
            assert_eq!(good_pin(pin).is_ok(), ok, "{pin}");
        }
    }
}
