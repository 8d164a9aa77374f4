//! How a session begins.

use crate::ground::auth::{AuthSession, User};
use crate::ground::error::{WebError, WebResult};
use crate::ground::extract::{BORN, CSRF};
use axum_login::tower_sessions::Session;
use ironseat_store::StoreError;

/// A fresh session id and a fresh form token: a session that was planted before is worth nothing.
pub async fn begin(auth: &mut AuthSession, session: &Session, user: &User) -> WebResult<()> {
    let unavailable = |e: String| WebError::Store(StoreError::Unavailable(e));
    // Whoever was signed in under this cookie before is not any more, and its id is worth nothing.
    session.clear().await;
    session.cycle_id().await.map_err(|e| unavailable(e.to_string()))?;
    tracing::info!(person = user.0.handle, role = user.0.role.key(), "signed in");
    auth.login(user).await.map_err(|e| unavailable(e.to_string()))?;
    let token: String = {
        use rand::Rng as _;
        let mut r = rand::rng();
        (0..32).map(|_| char::from(r.sample(rand::distr::Alphanumeric))).collect()
    };
    session.insert(BORN, chrono::Utc::now().timestamp()).await.map_err(|e| unavailable(e.to_string()))?;
    session.insert(CSRF, token).await.map_err(|e| unavailable(e.to_string()))
}
