//! Connections: how many, how long one may take to say what it wants, and an end that lets open pages finish.

use axum::Router;
use axum::body::Body;
use axum::extract::ConnectInfo;
use hyper::Request;
use hyper::body::Incoming;
use hyper_util::rt::{TokioExecutor, TokioIo, TokioTimer};
use hyper_util::server::conn::auto::Builder;
use hyper_util::server::graceful::GracefulShutdown;
use std::sync::Arc;
use std::time::Duration;
use tokio::net::TcpListener;
use tokio::sync::{Semaphore, watch};
use tower::ServiceExt as _;

/// Connections at the same time; the next one waits until one of them ends.
const MOST: usize = 4000;
/// The head of a request comes in this time, or the connection is closed.
const HEAD: Duration = Duration::from_secs(15);
/// Whoever still hangs on when the program ends is cut off after this.
const FAREWELL: Duration = Duration::from_secs(4);

/// Serves until the program is told to end; streams are told by `stop`.
pub async fn run(listener: TcpListener, routes: Router, stop: watch::Sender<bool>) {
    let mut server = Builder::new(TokioExecutor::new());
    server.http1().timer(TokioTimer::new()).header_read_timeout(HEAD);
    server
        .http2()
        .timer(TokioTimer::new())
        .keep_alive_interval(HEAD)
        .keep_alive_timeout(HEAD)
        .max_concurrent_streams(64);
    let (graceful, room) = (GracefulShutdown::new(), Arc::new(Semaphore::new(MOST)));
    let mut end = std::pin::pin!(told_to_end());
    loop {
        let Ok(place) = room.clone().acquire_owned().await else { break };
        let (stream, peer) = tokio::select! {
            accepted = listener.accept() => match accepted {
                Ok(a) => a,
                Err(e) => {
                    // Out of files, or gone before it was taken: the others go on.
                    tracing::warn!(cause = %e, "a connection could not be taken");
                    tokio::time::sleep(Duration::from_millis(50)).await;
                    continue;
                }
            },
            () = &mut end => break,
        };
        let routes = routes.clone();
        let service = hyper::service::service_fn(move |request: Request<Incoming>| {
            let mut request = request.map(Body::new);
            request.extensions_mut().insert(ConnectInfo(peer));
            routes.clone().oneshot(request)
        });
        let connection =
            graceful.watch(server.serve_connection_with_upgrades(TokioIo::new(stream), service).into_owned());
        tokio::spawn(async move {
            // How a connection ends is the browser's business.
            let _ = connection.await;
            drop(place);
        });
    }
    drop(listener);
    let _ = stop.send(true);
    tokio::select! {
        () = graceful.shutdown() => {}
        () = tokio::time::sleep(FAREWELL) => {}
    }
}

async fn told_to_end() {
    let mut term = tokio::signal::unix::signal(tokio::signal::unix::SignalKind::terminate()).ok();
    tokio::select! {
        _ = tokio::signal::ctrl_c() => {}
        () = async { match &mut term { Some(t) => { t.recv().await; } None => std::future::pending().await } } => {}
    }
}
