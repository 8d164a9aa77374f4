//! A reference for each request, and figures to draw curves from.

use metrics_exporter_prometheus::{Matcher, PrometheusBuilder, PrometheusHandle};
use std::sync::OnceLock;

tokio::task_local! {
    /// Reference of the request that is answered.
    pub static REFERENCE: String;
}

/// Header with the reference of a request.
pub const HEADER: &str = "x-reference";

/// Reference of the request that is answered, to stand on an error page.
#[must_use]
pub fn reference() -> String {
    REFERENCE.try_with(Clone::clone).unwrap_or_else(|_| new_reference())
}

pub fn new_reference() -> String {
    format!("{:08X}", rand::random::<u32>())
}

/// Upper bounds of the buckets that times are counted in, seconds.
pub const BUCKETS: [f64; 11] = [0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0];

/// Figures of this process, counted from the first request on.
pub fn figures() -> Option<&'static PrometheusHandle> {
    static FIGURES: OnceLock<Option<PrometheusHandle>> = OnceLock::new();
    FIGURES
        .get_or_init(|| {
            let counted = PrometheusBuilder::new().set_buckets_for_metric(Matcher::Suffix("_seconds".into()), &BUCKETS);
            counted
                .and_then(PrometheusBuilder::install_recorder)
                .map_err(|e| tracing::warn!(cause = %e, "nothing is counted"))
                .ok()
        })
        .as_ref()
}

/// Puts what was counted into its buckets now and then, so that it does not pile up when nobody collects it.
pub async fn keep_up(mut stop: tokio::sync::watch::Receiver<bool>) {
    loop {
        tokio::select! {
            () = tokio::time::sleep(std::time::Duration::from_secs(10)) => {}
            _ = stop.changed() => return,
        }
        if let Some(f) = figures() {
            f.run_upkeep();
        }
    }
}
