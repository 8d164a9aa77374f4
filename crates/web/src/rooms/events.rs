//! Live events. The record in the database is the source: each process looks at it a few times a second and tells the
//! browsers that listen, so a reading served by another process is seen as well.

use crate::ground::extract::Reader;
use crate::state::App;
use axum::extract::{Path, State};
use axum::response::IntoResponse;
use axum::response::sse::{Event, KeepAlive, Sse};
use axum_login::tower_sessions::Session;
use futures::stream::{self, Stream, StreamExt as _};
use ironseat_store::read::{customers, people};
use ironseat_store::rows::person::Person;
use ironseat_store::write::sessions;
use ironseat_store::{RebuildId, Store, chain};
use std::convert::Infallible;
use std::sync::Arc;
use std::time::Duration;
use tokio::sync::broadcast;

/// A stream looks so often whether its session still stands.
const SESSION_LOOK: Duration = Duration::from_secs(15);

/// Ends when the person may not look any more, or at other things: signed out, expired, put away, another role or
/// customer.
async fn over(app: App, session: Session, who: Arc<Person>) {
    loop {
        tokio::time::sleep(SESSION_LOOK).await;
        let Some(id) = session.id().map(|i| i.to_string()) else { return };
        let was = who.clone();
        let same = app.store.run(move |c| {
            let now = people::get(c, was.id)?;
            Ok(sessions::load(c, &id)?.is_some()
                && now.is_some_and(|p| p.role == was.role && p.customer == was.customer))
        });
        // A database that does not answer ends nobody's session.
        if matches!(same.await, Ok(false)) {
            return;
        }
    }
}

/// A customer's viewer hears of that customer's rebuilds alone.
async fn hears(store: &Store, who: &Arc<Person>, rebuild: RebuildId) -> bool {
    let person = who.clone();
    who.works_here() || store.run(move |c| customers::may_see(c, &person, rebuild)).await.unwrap_or(false)
}

async fn stream(
    app: &App,
    session: Session,
    who: Person,
    only: Option<RebuildId>,
) -> impl Stream<Item = Result<Event, Infallible>> + use<> {
    let mut stop = app.stop.subscribe();
    // Listened first, asked then: what changes after the answer is heard, what changed before it is in it. The page
    // compares it with what it was made from, so that nothing falls between the page and its stream.
    let changed = app.live.changes();
    let stand = app.store.run(move |c| chain::heads::revision(c, only)).await.map_or(String::new(), |n| n.to_string());
    let hello = stream::once(async { Ok(Event::default().event("hello").data(stand).retry(Duration::from_secs(1))) });
    let (store, who) = (app.store.clone(), Arc::new(who));
    let whose = who.clone();
    let changes = stream::unfold(changed, move |mut r| {
        let (store, who) = (store.clone(), who.clone());
        async move {
            loop {
                match r.recv().await {
                    Ok(id) if only.is_none_or(|o| o == id) && (only.is_some() || hears(&store, &who, id).await) => {
                        return Some((Ok(Event::default().event("changed").data(id.to_string())), r));
                    }
                    Ok(_) => {}
                    // Missed some: say that something changed and go on.
                    Err(broadcast::error::RecvError::Lagged(_)) => {
                        return Some((Ok(Event::default().event("changed").data("")), r));
                    }
                    Err(broadcast::error::RecvError::Closed) => return None,
                }
            }
        }
    });
    let app = app.clone();
    hello.chain(changes).take_until(async move {
        tokio::select! {
            _ = stop.wait_for(|s| *s) => {}
            () = over(app, session, whose) => {}
        }
    })
}

/// Changes of one rebuild.
pub async fn of_rebuild(
    State(app): State<App>,
    reader: Reader,
    session: Session,
    Path(id): Path<RebuildId>,
) -> impl IntoResponse {
    Sse::new(stream(&app, session, reader.person, Some(id)).await)
        .keep_alive(KeepAlive::new().interval(Duration::from_secs(15)))
}

/// Changes anywhere.
pub async fn of_floor(State(app): State<App>, reader: Reader, session: Session) -> impl IntoResponse {
    Sse::new(stream(&app, session, reader.person, None).await)
        .keep_alive(KeepAlive::new().interval(Duration::from_secs(15)))
}
