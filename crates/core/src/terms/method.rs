//! How a ring goes on.

use serde::{Deserialize, Serialize};

/// How a ring is put on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Method {
    /// Heated until it slides on.
    Heat,
    /// Pressed cold.
    Press,
    /// Heated to its cap, the rest pressed.
    HeatAndPress,
    /// By hand: there is clearance.
    Slide,
    /// The housing is warmed until the ring drops into it.
    WarmHousing,
}

impl Method {
    /// Name in records.
    #[must_use]
    pub fn key(self) -> &'static str {
        match self {
            Self::Heat => "heat",
            Self::Press => "press",
            Self::HeatAndPress => "heat_and_press",
            Self::Slide => "slide",
            Self::WarmHousing => "warm_housing",
        }
    }
    /// From its name in records.
    #[must_use]
    pub fn of(key: &str) -> Option<Self> {
        Some(match key {
            "heat" => Self::Heat,
            "press" => Self::Press,
            "heat_and_press" => Self::HeatAndPress,
            "slide" => Self::Slide,
            "warm_housing" => Self::WarmHousing,
            _ => return None,
        })
    }
    /// As said.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Self::Heat => "heat the ring",
            Self::Press => "press it cold",
            Self::HeatAndPress => "heat to the cap, press the rest",
            Self::Slide => "slide it on by hand",
            Self::WarmHousing => "warm the housing",
        }
    }
    /// Does the ring go on the heater?
    #[must_use]
    pub fn heats(self) -> bool {
        matches!(self, Self::Heat | Self::HeatAndPress)
    }
}
