//! What sets papers, as the rooms see it: the program hands it in, so that whoever tries the rooms need not build it.

use futures::future::BoxFuture;
use serde_json::Value;

/// A paper to be set.
#[derive(Debug)]
pub struct Order {
    /// `certificate`, `travel-sheet` or `labels`.
    pub paper: String,
    /// On Letter, else on A4.
    pub letter: bool,
    /// What it says.
    pub data: Value,
    /// Drawings and pictures by name.
    pub files: Vec<(String, Vec<u8>)>,
}

/// Why no paper was set.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Unprinted {
    /// What sets papers is not there yet.
    NotBuilt,
    /// Others are printing.
    Busy,
    /// A fault of ours, or a paper that took too much time or memory; for the log.
    Fault(String),
}

/// Sets a paper.
pub type Printer = fn(Order) -> BoxFuture<'static, Result<Vec<u8>, Unprinted>>;
