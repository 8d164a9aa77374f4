//! Live events. The record in the database is the source: each process looks at it a few times a second and tells the
//! browsers that listen, so a reading served by another process is seen as well.

use ironseat_store::{RebuildId, Store, chain};
use std::collections::HashSet;
use std::sync::Arc;
use std::time::Duration;
use tokio::sync::{broadcast, watch};

pub const PAUSE: Duration = Duration::from_millis(200);

/// Ids of entries are given before their transaction ends, so a lower one may appear after a higher: look back so far.
pub const LOOK_BACK: i64 = 200;

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

    /// What changes from now on.
    #[must_use]
    pub fn changes(&self) -> broadcast::Receiver<RebuildId> {
        self.sender.subscribe()
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
                    None => store.run(chain::heads::newest).await.map(|n| {
                        newest = Some(n);
                        Vec::new()
                    }),
                    Some(n) => store.run(move |c| chain::heads::since(c, n - LOOK_BACK)).await,
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
