//! Runout: what the indicator says, and why (docs/trade.md, Runout).

mod clocking;
mod stations;
mod straight;
mod sweep;
mod vee;

pub use clocking::{Clocking, clocking, ring_on_seat};
pub use stations::{Cause, Station, StationLine, line};
pub use straight::{Straightness, straightness};
pub use sweep::{Harmonic, Sweep, sweep, wave};
pub(crate) use sweep::{around, direction};
pub use vee::vee_factor;
