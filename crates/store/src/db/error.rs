//! What can go wrong in the store: exact kinds, the cause kept.

use ironseat_core::Refusal;
use ironseat_core::decide::Denied;

/// Shorthand.
pub type Result<T> = std::result::Result<T, StoreError>;

/// An error of the store.
#[derive(Debug, thiserror::Error)]
#[non_exhaustive]
pub enum StoreError {
    /// No such record.
    #[error("there is no such record")]
    NotFound,
    /// Someone else was there first; the sentence says who and what.
    #[error("{0}")]
    Conflict(String),
    /// An input that cannot be worked with.
    #[error("{0}")]
    Refused(Refusal),
    /// A step that is held, or a person who may not; the sentence says what is missing.
    #[error("{0}")]
    Held(String),
    /// Lost against somebody else's work on the same rows, and rolled back whole: [`crate::Store::run`] does it again.
    #[error("others are writing to the same rows just now: try again")]
    Clash,
    /// Too many tries.
    #[error("{0}")]
    TooMany(String),
    /// The database does not answer.
    #[error("the database does not answer: {0}")]
    Unavailable(String),
    /// The disk that the database writes to is full.
    #[error("the disk of the record book is full: nothing more can be written until there is room")]
    Full,
    /// Anything else.
    #[error("{0}")]
    Internal(String),
}

impl From<diesel::result::Error> for StoreError {
    fn from(e: diesel::result::Error) -> Self {
        use diesel::result::{DatabaseErrorKind as K, Error as E};
        match e {
            E::NotFound => Self::NotFound,
            E::DatabaseError(K::UniqueViolation, info) => {
                Self::Conflict(format!("this is already there ({})", info.constraint_name().unwrap_or("twice")))
            }
            E::DatabaseError(K::ClosedConnection, info) => Self::Unavailable(info.message().to_owned()),
            E::DatabaseError(_, ref info) if gone(info.message()) => Self::Unavailable(info.message().to_owned()),
            E::DatabaseError(_, ref info)
                if ["is full", "Disk full", "No space left"].iter().any(|m| info.message().contains(m)) =>
            {
                Self::Full
            }
            E::DatabaseError(K::SerializationFailure, _) => Self::Clash,
            // Without its savepoint a transaction is not the one that was begun.
            E::DatabaseError(_, ref info)
                if ["Deadlock", "SAVEPOINT whole"].iter().any(|m| info.message().contains(m)) =>
            {
                Self::Clash
            }
            E::DatabaseError(_, ref info) if info.message().contains("Lock wait timeout") => {
                Self::Conflict("someone else is writing to this rebuild just now: try again".into())
            }
            // Letters that no kept text of this kind has: nothing goes by such a name.
            E::DatabaseError(_, ref info) if info.message().contains("Illegal mix of collations") => Self::NotFound,
            // Limits stand before columns everywhere; one that was forgotten is still the sender's to mend.
            E::DatabaseError(_, ref info)
                if ["Data too long", "Incorrect", "Out of range value"].iter().any(|m| info.message().contains(m)) =>
            {
                Self::Refused(Refusal::new("input", "expected less, or something else: this cannot be kept as it is"))
            }
            other => Self::Internal(other.to_string()),
        }
    }
}

/// Messages of a connection that broke under a query.
fn gone(message: &str) -> bool {
    [
        "gone away",
        "Lost connection",
        "server closed",
        "Can't connect",
        "shutdown in progress",
        // A node of a cluster that is not with the others.
        "WSREP",
    ]
    .iter()
    .any(|m| message.contains(m))
}

impl From<Refusal> for StoreError {
    fn from(r: Refusal) -> Self {
        Self::Refused(r)
    }
}

impl From<serde_json::Error> for StoreError {
    fn from(e: serde_json::Error) -> Self {
        Self::Internal(format!("a stored document cannot be read: {e}"))
    }
}

impl From<Denied> for StoreError {
    fn from(d: Denied) -> Self {
        match d {
            Denied::NotThere => Self::NotFound,
            Denied::Held(s) => Self::Held(s),
            Denied::Conflict(s) => Self::Conflict(s),
            Denied::Refused(r) => Self::Refused(r),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use diesel::result::{DatabaseErrorKind, Error};

    #[test]
    fn what_the_database_says_becomes_what_to_do() {
        let of = |words: &str| {
            StoreError::from(Error::DatabaseError(DatabaseErrorKind::Unknown, Box::new(words.to_owned())))
        };
        for full in
            ["The table 'picture_bodies' is full", "Disk full (/tmp/#sql); waiting for someone to free some space..."]
        {
            assert!(matches!(of(full), StoreError::Full), "{full}");
        }
        for gone in [
            "MySQL server has gone away",
            "Lost connection to server during query",
            "WSREP has not yet prepared node for application use",
        ] {
            assert!(matches!(of(gone), StoreError::Unavailable(_)), "{gone}");
        }
        assert!(matches!(of("Deadlock found when trying to get lock; try restarting transaction"), StoreError::Clash));
        assert!(matches!(of("SAVEPOINT whole does not exist"), StoreError::Clash));
        assert!(matches!(of("Lock wait timeout exceeded"), StoreError::Conflict(_)));
        assert!(matches!(of("Data too long for column 'said' at row 1"), StoreError::Refused(_)));
        assert!(matches!(of("You have an error in your SQL syntax"), StoreError::Internal(_)));
    }
}
