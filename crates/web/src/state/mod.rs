//! What all requests share.

pub mod figures;
pub mod printer;

use crate::live::Live;
use crate::state::printer::Printer;
use ironseat_store::Store;
use std::sync::Arc;
use std::time::Duration;
use tokio::sync::watch as signal;

/// How it is reached.
#[derive(Debug, Clone, Default)]
pub struct Config {
    /// Host names that it goes by beside those of this machine's own loopback.
    pub hosts: Vec<String>,
    /// A front end ends TLS before it: cookies are for TLS alone.
    pub tls: bool,
    /// Code without which an empty shop is not set up; printed where the program was started.
    pub first_run_code: String,
    /// Sets papers as PDF; none in tests of the rooms.
    pub printer: Option<Printer>,
}

/// Shared by all requests. Nothing that matters is kept here: any number of processes on one database behave as one.
#[derive(Clone, Debug)]
pub struct App {
    /// The records.
    pub store: Store,
    /// Live events of this process.
    pub live: Arc<Live>,
    /// Set when the process is to end.
    pub stop: signal::Sender<bool>,
    /// How it is reached.
    pub config: Arc<Config>,
}

impl App {
    /// An application on a store; starts looking for live events.
    #[must_use]
    pub fn new(store: Store, config: Config) -> Self {
        let (stop, _) = signal::channel(false);
        let live = Live::start(store.clone(), stop.subscribe());
        tokio::spawn(tidy(store.clone(), stop.subscribe()));
        tokio::spawn(figures::keep_up(stop.subscribe()));
        Self { store, live, stop, config: Arc::new(config) }
    }

    /// Is this one of its host names, with or without a port?
    #[must_use]
    pub fn goes_by(&self, host: &str) -> bool {
        let name = match host.rsplit_once(':') {
            Some((name, port)) if port.bytes().all(|b| b.is_ascii_digit()) => name,
            _ => host,
        };
        let own = ["localhost", "127.0.0.1", "[::1]"];
        own.iter().copied().chain(self.config.hosts.iter().map(String::as_str)).any(|h| h.eq_ignore_ascii_case(name))
    }
}

/// Every hour: sessions that have expired, wrong tries that count no more, files that nobody came back to.
async fn tidy(store: Store, mut stop: signal::Receiver<bool>) {
    loop {
        let work = |c: &mut _| {
            use ironseat_store::write::{secrets, sessions, uploads};
            Ok((sessions::purge(c)?, secrets::purge_tries(c)?, uploads::purge(c)?))
        };
        match store.run(work).await {
            Ok((sessions, tries, files)) if sessions + tries + files > 0 => {
                tracing::info!(sessions, tries, files, "tidied");
            }
            Ok(_) => {}
            Err(e) => tracing::warn!(cause = %e, "could not tidy"),
        }
        tokio::select! {
            () = tokio::time::sleep(Duration::from_secs(3600)) => {}
            _ = stop.changed() => return,
        }
    }
}
