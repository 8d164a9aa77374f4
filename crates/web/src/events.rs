//! Live events. The record in the database is the source: each process looks at it a few times a second and tells the
//! browsers that listen, so a reading served by another process is seen as well.

use crate::app::App;
use crate::extract::Reader;
use axum::extract::{Path, State};
use axum::response::IntoResponse;
use axum::response::sse::{Event, KeepAlive, Sse};
use axum_login::tower_sessions::Session;
use futures::stream::{self, Stream, StreamExt as _};
use ironseat_store::people::Person;
use ironseat_store::{RebuildId, Store, customers, people, record, sessions};
use std::collections::HashSet;
use std::convert::Infallible;
use std::sync::Arc;
use std::time::Duration;
use tokio::sync::{broadcast, watch};

const PAUSE: Duration = Duration::from_millis(200);
/// Ids of entries are given before their transaction ends, so a lower one may appear after a higher: look back so far.
const LOOK_BACK: i64 = 200;

/// A stream looks so often whether its session still stands.
const SESSION_LOOK: Duration = Duration::from_secs(15);

/// The events of this process.
#[derive(Debug)]
pub struct Live {
    sender: broadcast::Sender<RebuildId>,
}

impl Live {
    /// How many streams are open.
    #[must_use]
    pub fn listeners(&self) -> usize {
        self.sender.receiver_count()
    }

    /// Starts looking.
    #[must_use]
    pub fn start(store: Store, mut stop: watch::Receiver<bool>) -> Arc<Self> {
        let (sender, _) = broadcast::channel(256);
        let live = Arc::new(Self { sender });
        let out = live.sender.clone();
        tokio::spawn(async move {
            let mut newest: Option<i64> = None;
            let mut seen: HashSet<i64> = HashSet::new();
            loop {
                tokio::select! {
                    () = tokio::time::sleep(PAUSE) => {}
                    _ = stop.changed() => return,
                }
                // A database that does not answer is not an event; it is asked again.
                let found = match newest {
                    None => store.run(record::newest).await.map(|n| {
                        newest = Some(n);
                        Vec::new()
                    }),
                    Some(n) => store.run(move |c| record::since(c, n - LOOK_BACK)).await,
                };
                let first = seen.is_empty();
                let mut rebuilds = HashSet::new();
                for (id, rebuild) in found.unwrap_or_default() {
                    if seen.insert(id) && (!first || newest.is_some_and(|n| id > n)) {
                        rebuilds.insert(rebuild);
                    }
                    newest = newest.max(Some(id));
                }
                seen.retain(|id| newest.is_some_and(|n| *id > n - 2 * LOOK_BACK));
                for r in rebuilds {
                    let _ = out.send(r);
                }
            }
        });
        live
    }
}

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
    let changed = app.live.sender.subscribe();
    let stand = app.store.run(move |c| record::stand(c, only)).await.map_or(String::new(), |n| n.to_string());
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
