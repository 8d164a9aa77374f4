//! Steps of a bearing seat.

use super::Method;
use serde::{Deserialize, Serialize};

/// Kind of a step.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum StepKind {
    Journal,
    RingBore,
    HousingBore,
    RingOutside,
    Choose,
    Heat,
    PutOn,
    Cool,
    Home,
    Nip,
    Sign,
}

impl StepKind {
    /// In the order of the work.
    pub const ALL: [Self; 11] = [
        Self::Journal,
        Self::RingBore,
        Self::HousingBore,
        Self::RingOutside,
        Self::Choose,
        Self::Heat,
        Self::PutOn,
        Self::Nip,
        Self::Cool,
        Self::Home,
        Self::Sign,
    ];

    /// Name in records.
    #[must_use]
    pub fn key(self) -> &'static str {
        match self {
            Self::Journal => "journal",
            Self::RingBore => "ring_bore",
            Self::HousingBore => "housing_bore",
            Self::RingOutside => "ring_outside",
            Self::Choose => "choose",
            Self::Heat => "heat",
            Self::PutOn => "put_on",
            Self::Cool => "cool",
            Self::Home => "home",
            Self::Nip => "nip",
            Self::Sign => "sign",
        }
    }
    /// From its name in records.
    #[must_use]
    pub fn of(key: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|k| k.key() == key)
    }

    /// May be left out: the drawing's limits stand in.
    #[must_use]
    pub fn optional(self) -> bool {
        matches!(self, Self::HousingBore | Self::RingOutside)
    }

    /// Does it belong to the chosen method? Before the choice everything does.
    #[must_use]
    pub fn belongs(self, method: Option<Method>) -> bool {
        match (self, method) {
            (Self::Heat | Self::Cool, Some(m)) => m.heats(),
            _ => true,
        }
    }
    /// Steps that say that this one is done: what is on was hot, or was put on without heat.
    #[must_use]
    pub fn said_by(self) -> &'static [Self] {
        match self {
            Self::Journal => &[Self::Journal],
            Self::RingBore => &[Self::RingBore],
            Self::HousingBore => &[Self::HousingBore],
            Self::RingOutside => &[Self::RingOutside],
            Self::Choose => &[Self::Choose],
            Self::Heat => &[Self::Heat, Self::PutOn],
            Self::PutOn => &[Self::PutOn, Self::Sign],
            Self::Nip => &[Self::Nip],
            Self::Cool => &[Self::Cool],
            Self::Home => &[Self::Home, Self::Sign],
            Self::Sign => &[Self::Sign],
        }
    }
    /// Its short name.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::Journal => "Measure the journal",
            Self::RingBore => "Measure the ring bore",
            Self::HousingBore => "Measure the housing bore",
            Self::RingOutside => "Measure the ring outside",
            Self::Choose => "Choose how it goes on",
            Self::Heat => "Heat the ring",
            Self::PutOn => "Put the ring on",
            Self::Cool => "Let it grip and cool",
            Self::Home => "Prove that it is home",
            Self::Nip => "Nip the nut",
            Self::Sign => "Sign the seat",
        }
    }
}
