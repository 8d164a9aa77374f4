//! Cautions: short, before the action, where the danger is (docs/trade.md, Cautions). Never an authority for lifting,
//! pressure, electrical or welding work.

use serde::{Deserialize, Serialize};

/// Said once per page that shows a caution.
pub const FIRST: &str = "Local rules, the maker's manual and licensed people come first.";

/// A caution that belongs to an action.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Caution {
    Isolate,
    HotRing,
    Hot,
    Cold,
    Heater,
    Press,
    Burst,
    Measuring,
    Nut,
    Injection,
    SnapRing,
    Spring,
    Grinding,
    Welding,
    Solvent,
    Lifting,
    Air,
    Dust,
    SharpEdges,
    FirstRun,
    Electrical,
}

impl Caution {
    /// Every caution.
    pub const ALL: [Self; 21] = [
        Self::Isolate,
        Self::HotRing,
        Self::Hot,
        Self::Cold,
        Self::Heater,
        Self::Press,
        Self::Burst,
        Self::Measuring,
        Self::Nut,
        Self::Injection,
        Self::SnapRing,
        Self::Spring,
        Self::Grinding,
        Self::Welding,
        Self::Solvent,
        Self::Lifting,
        Self::Air,
        Self::Dust,
        Self::SharpEdges,
        Self::FirstRun,
        Self::Electrical,
    ];

    /// Anchor of the paragraph of `docs/trade.md` that says what the danger is.
    #[must_use]
    pub fn why(self) -> &'static str {
        match self {
            Self::Isolate => "isolate-tag-try",
            Self::HotRing | Self::Hot | Self::Cold | Self::Heater => "heat-and-cold",
            Self::Press | Self::Burst | Self::Nut | Self::SnapRing | Self::Spring => "force-and-springs",
            Self::Injection => "pressure",
            Self::Measuring | Self::Lifting | Self::SharpEdges => "weight-and-edges",
            Self::Grinding | Self::Solvent | Self::Dust => "dust-vapour-and-sparks",
            Self::Air => "air",
            Self::FirstRun => "first-run",
            Self::Welding | Self::Electrical => "current",
        }
    }

    /// The sentence.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Self::Isolate => {
                "Isolate, tag, try. Drain, vent and purge; fuel, refrigerant and gas only by licensed people."
            }
            Self::Heater => "Induction heater: nobody with a pacemaker near it. No flame, no solvent on the bench.",
            Self::HotRing => {
                "The ring will burn you: gloves rated for heat, tongs, a clear way to the shaft. No flame, no hot oil."
            }
            Self::Hot => "Hot parts: gloves rated for heat, tongs, no flame near solvent. Mind what the heat reaches.",
            Self::Cold => "Liquefied gas: it displaces air. Ventilate, wear cold-proof gloves and a face shield.",
            Self::Press => {
                "Guard down, eye and face cover, nobody in line with the ram, no hand near it. Stop at the stop force."
            }
            Self::Burst => {
                "A bearing under side load can burst: cover it with cloth, eye and face cover, nobody in line."
            }
            Self::Measuring => "Block the rotor so that it cannot turn or roll. Edges and fins are sharp.",
            Self::Nut => "Hold the shaft, not the ring. Stand so that a slip of the wrench cannot throw you.",
            Self::Injection => {
                "Fluid under pressure enters the skin. Keep out of line with the shaft, stop nut on. \
                 Let the expansion pressure go first, hold the push ten minutes, then let the push go. By trained people, with the maker's manual."
            }
            Self::SnapRing => "Snap rings fly: eye cover, and a cloth over the ring.",
            Self::Spring => "Springs and plungers are loaded: let them out slowly, eye cover.",
            Self::Grinding => {
                "Shield, ear and eye cover, look where the sparks go. Never magnesium. Never strike a hardened tool with a hammer."
            }
            Self::Welding => "Fire watch, electronics isolated, earth clamp on the part itself. Licensed people only.",
            Self::Solvent => {
                "Keep solvents and acid rust removers off skin and lungs, never mix them; neutralise acid."
            }
            Self::Lifting => {
                "Heavy: two people or a hoist, rated slings, a balanced pick, by people licensed to sling and lift. Nobody under the load."
            }
            Self::Air => "Never spin a bearing with compressed air: it can burst. Never blow air at skin.",
            Self::Dust => {
                "Old packing and lagging may hold asbestos: stop and ask before it makes dust; only licensed people take it out."
            }
            Self::SharpEdges => {
                "Burrs, labyrinth fins and shims cut: gloves that resist cuts, hold the faces and not the edges."
            }
            Self::FirstRun => {
                "Guards on, no loose clothes or rings, stand aside for the first start. Mind the over-speed trip."
            }
            Self::Electrical => "Electrical tests by licensed people only.",
        }
    }
}
