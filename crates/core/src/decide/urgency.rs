//! How soon a rebuild wants a person, which is the order of the Floor.

use super::State;
use crate::terms::Verdict;

/// How soon, soonest first.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Urgency {
    /// A stop, or a wait that is over.
    Now,
    /// Another call that wants someone, or nothing left but to close it.
    Decide,
    /// A clock runs.
    Waits,
    /// The next act can be done.
    Work,
    /// Finished and signed.
    Finished,
}

impl Urgency {
    /// Somebody should come.
    #[must_use]
    pub fn wants_someone(self) -> bool {
        self <= Self::Decide
    }
}

/// What of a rebuild decides how soon it wants a person, without its clocks.
///
/// ```
/// use ironseat_core::terms::Verdict;
/// use ironseat_core::decide::urgency::{Urgency, Wants};
/// let wants = Wants { worst: Some(Verdict::LookAgain), next: true, finished: false };
/// assert_eq!(wants.urgency(None), Urgency::Decide);
/// assert_eq!(wants.urgency(Some(90)), Urgency::Waits);
/// assert_eq!(wants.urgency(Some(0)), Urgency::Now);
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Wants {
    /// Worst of the calls that want someone.
    pub worst: Option<Verdict>,
    /// There is an act to go on with.
    pub next: bool,
    /// Finished and signed.
    pub finished: bool,
}

impl Wants {
    /// With the seconds left on the clock that runs out first, if one runs.
    #[must_use]
    pub fn urgency(self, left: Option<i64>) -> Urgency {
        match (self.worst, left) {
            _ if self.finished => Urgency::Finished,
            (Some(Verdict::Stop), _) | (_, Some(0)) => Urgency::Now,
            (_, Some(_)) => Urgency::Waits,
            (Some(_), None) => Urgency::Decide,
            (None, None) if self.next => Urgency::Work,
            (None, None) => Urgency::Decide,
        }
    }
}

impl State {
    /// What decides how soon it wants a person.
    #[must_use]
    pub fn wants(&self) -> Wants {
        let worst = self.calls.iter().filter(|c| c.wants_someone()).filter_map(super::Called::verdict).max();
        Wants { worst, next: self.in_hand().is_some(), finished: self.finished }
    }
}
