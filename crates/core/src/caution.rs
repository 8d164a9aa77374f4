//! Cautions: short, before the action, where the danger is (handbook 12).

/// Said once per page that shows a caution.
pub const FIRST: &str = "Local rules, the maker's manual and licensed people come first.";

/// A caution that belongs to an action.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Caution {
    HotRing,
    Heater,
    Press,
    Measuring,
    Nut,
}

impl Caution {
    /// The sentence.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Self::Heater => "Induction heater: nobody with a pacemaker near it. No flame, no solvent on the bench.",
            Self::HotRing => "The ring burns: gloves rated for heat, tongs, a clear way to the shaft. No flame, no hot oil.",
            Self::Press => "Guard down, eye and face cover, nobody in line with the ram, no hand near it. Stop at the stop force.",
            Self::Measuring => "Block the rotor so that it cannot turn or roll. Edges and fins are sharp.",
            Self::Nut => "Hold the shaft, not the ring. The wrench may slip: keep your weight behind it.",
        }
    }
}
