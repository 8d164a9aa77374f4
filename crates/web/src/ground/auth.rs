//! Signing in: sessions kept in the database, people checked on every request.

use async_trait::async_trait;
use axum_login::tower_sessions::session::{Id as SessionId, Record};
use axum_login::tower_sessions::session_store::{self, SessionStore};
use axum_login::{AuthUser, AuthnBackend};
use ironseat_store::read::people;
use ironseat_store::rows::person::Person;
use ironseat_store::write::sessions;
use ironseat_store::{PersonId, Store, StoreError};

/// Sessions over the store.
#[derive(Clone, Debug)]
pub struct Sessions(pub Store);

fn expiry(r: &Record) -> chrono::NaiveDateTime {
    chrono::DateTime::from_timestamp(r.expiry_date.unix_timestamp(), 0).unwrap_or_default().naive_utc()
}
fn backend(e: impl std::fmt::Display) -> session_store::Error {
    session_store::Error::Backend(e.to_string())
}

#[async_trait]
impl SessionStore for Sessions {
    async fn create(&self, record: &mut Record) -> session_store::Result<()> {
        loop {
            let (id, text, at) =
                (record.id.to_string(), serde_json::to_string(record).map_err(backend)?, expiry(record));
            if self.0.run(move |c| sessions::create(c, &id, &text, at)).await.map_err(backend)? {
                return Ok(());
            }
            record.id = SessionId::default();
        }
    }
    async fn save(&self, record: &Record) -> session_store::Result<()> {
        let (id, text, at) = (record.id.to_string(), serde_json::to_string(record).map_err(backend)?, expiry(record));
        self.0.run(move |c| sessions::save(c, &id, &text, at)).await.map_err(backend)
    }
    async fn load(&self, id: &SessionId) -> session_store::Result<Option<Record>> {
        let id = id.to_string();
        let text = self.0.run(move |c| sessions::load(c, &id)).await.map_err(backend)?;
        text.map(|t| serde_json::from_str(&t).map_err(backend)).transpose()
    }
    async fn delete(&self, id: &SessionId) -> session_store::Result<()> {
        let id = id.to_string();
        self.0.run(move |c| sessions::delete(c, &id)).await.map_err(backend)
    }
}

/// A person as the session layer sees them.
#[derive(Clone, Debug)]
pub struct User(pub Person);

impl AuthUser for User {
    type Id = PersonId;
    fn id(&self) -> PersonId {
        self.0.id
    }
    /// A session made with an old password ends when the password changes.
    fn session_auth_hash(&self) -> &[u8] {
        self.0.password_hash.as_bytes()
    }
}

/// Name and password.
#[derive(Clone)]
pub struct Credentials {
    /// Sign-in name.
    pub handle: String,
    /// Password.
    pub password: String,
    /// Address that it is tried from.
    pub from: String,
}

/// Checks people against the store.
#[derive(Clone, Debug)]
pub struct Backend(pub Store);

impl AuthnBackend for Backend {
    type User = User;
    type Credentials = Credentials;
    type Error = StoreError;

    async fn authenticate(&self, creds: Credentials) -> Result<Option<User>, StoreError> {
        self.0.sign_in(creds.handle, creds.password, creds.from).await.map(|p| p.map(User))
    }
    async fn get_user(&self, id: &PersonId) -> Result<Option<User>, StoreError> {
        let id = *id;
        self.0.run(move |c| people::get(c, id)).await.map(|p| p.map(User))
    }
}

/// The session extractor of this application.
pub type AuthSession = axum_login::AuthSession<Backend>;
