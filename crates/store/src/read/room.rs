//! What the page of the Bench shows beside the rebuild.

use crate::Result;
use crate::read::bench::{Bench, Glance, look_at};
use crate::read::{forecasts, versions};
use diesel::prelude::*;
use ironseat_core::decide::State;

/// What the Bench shows.
#[derive(Debug)]
pub struct Room {
    /// With the figures of the seat that is looked at.
    pub bench: Bench,
    /// The number of the newest version of the machine type, when it is newer than the pinned one.
    pub newer: Option<i32>,
    /// Id of the act that is looked at.
    pub act: String,
    /// What came there further from what was foreseen than it may.
    pub off: Vec<forecasts::Seen>,
}

/// What the Bench shows of what was glanced at; `looks` names the act that is looked at, and the seat whose figures it
/// shows.
///
/// # Errors
/// As [`crate::read::bench::load`].
pub fn room(
    c: &mut MysqlConnection,
    at: Glance,
    looks: impl FnOnce(&State) -> (String, Option<String>),
) -> Result<Room> {
    let mut bench = look_at(c, at)?;
    let newer = versions::newest(c, &bench.rebuild)?;
    let (act, seat) = looks(&bench.state);
    if let Some(seat) = seat {
        bench.judge(c, &seat)?;
    }
    let off = forecasts::off_at(c, &bench, &act)?;
    Ok(Room { bench, newer, act, off })
}
