//! Which of the surfaces of a seat.

use serde::{Deserialize, Serialize};

/// Which surface a sentence is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Surface {
    Journal,
    RingBore,
    HousingBore,
    RingOutside,
}

impl Surface {
    /// As said.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Self::Journal => "journal",
            Self::RingBore => "ring bore",
            Self::HousingBore => "housing bore",
            Self::RingOutside => "ring outside",
        }
    }
    /// True for outside surfaces.
    #[must_use]
    pub fn outside(self) -> bool {
        matches!(self, Self::Journal | Self::RingOutside)
    }
}
