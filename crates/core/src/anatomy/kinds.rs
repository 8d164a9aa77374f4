//! Kinds of parts and what follows from each: its word, how long it takes, what a mistake costs, what to look at.

use serde::{Deserialize, Serialize};

/// Kind of a part: each has its own drawn shape (handbook 08).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum PartKind {
    Bearing,
    TaperCone,
    Cup,
    ThrustWasher,
    Spacer,
    Shim,
    Seal,
    ORing,
    Ring,
    Sleeve,
    Collar,
    Key,
    Impeller,
    Wheel,
    Pulley,
    Gear,
    Flinger,
    Nut,
    TabWasher,
    Circlip,
    SetScrew,
    Cover,
    Insert,
    Cap,
    Expander,
    ShoeSet,
    BaseRing,
    Probe,
    Bush,
    Gasket,
    Plate,
}

impl PartKind {
    /// All kinds with their name in build sheets and the word on the shelf.
    #[rustfmt::skip]
    pub const ALL: [(Self, &'static str, &'static str); 31] = [
        (Self::Bearing, "bearing", "bearing"), (Self::TaperCone, "taper_cone", "taper cone"), (Self::Cup, "cup", "cup"),
        (Self::ThrustWasher, "thrust_washer", "thrust washer"), (Self::Spacer, "spacer", "spacer"), (Self::Shim, "shim", "shim"),
        (Self::Seal, "seal", "lip seal"), (Self::ORing, "o_ring", "O-ring"), (Self::Ring, "ring", "seal ring"), (Self::Sleeve, "sleeve", "sleeve"),
        (Self::Collar, "collar", "thrust collar"), (Self::Key, "key", "key"), (Self::Impeller, "impeller", "impeller"), (Self::Wheel, "wheel", "wheel"),
        (Self::Pulley, "pulley", "pulley"), (Self::Gear, "gear", "gear"), (Self::Flinger, "flinger", "flinger"), (Self::Nut, "nut", "nut"),
        (Self::TabWasher, "tab_washer", "tab washer"), (Self::Circlip, "circlip", "circlip"), (Self::SetScrew, "set_screw", "set screw"),
        (Self::Cover, "cover", "cover"), (Self::Insert, "insert", "insert"), (Self::Cap, "cap", "cap"), (Self::Expander, "expander", "expander"),
        (Self::ShoeSet, "shoe_set", "shoe set"), (Self::BaseRing, "base_ring", "base ring"), (Self::Probe, "probe", "probe"),
        (Self::Bush, "bush", "bush"), (Self::Gasket, "gasket", "gasket"), (Self::Plate, "plate", "plate"),
    ];

    /// Name in build sheets.
    #[must_use]
    pub fn key(self) -> &'static str {
        Self::ALL.iter().find(|k| k.0 == self).map_or("", |k| k.1)
    }
    /// As said.
    #[must_use]
    pub fn word(self) -> &'static str {
        Self::ALL.iter().find(|k| k.0 == self).map_or("", |k| k.2)
    }
    /// From its name in build sheets.
    #[must_use]
    pub fn of(key: &str) -> Option<Self> {
        Self::ALL.iter().find(|k| k.1 == key).map(|k| k.0)
    }

    /// Hands-on minutes to put it on, before the shop has its own: by kind, more from 100 mm outside on.
    #[must_use]
    pub fn minutes(self, outside_mm: f64) -> f64 {
        let base = match self {
            Self::Bearing | Self::TaperCone | Self::Collar | Self::ShoeSet => 15.0,
            Self::Impeller | Self::Wheel | Self::Gear | Self::Pulley | Self::Bush | Self::Cup => 12.0,
            Self::Cover | Self::Cap | Self::Plate | Self::Insert | Self::Expander | Self::BaseRing | Self::Probe => 10.0,
            Self::Seal | Self::Sleeve | Self::Nut | Self::Flinger => 6.0,
            _ => 3.0,
        };
        base * if outside_mm > 250.0 {
            2.0
        } else if outside_mm > 100.0 {
            1.4
        } else {
            1.0
        }
    }

    /// Always scrap once it was fitted and taken off: a used seal is never put back, a gasket and an O-ring neither.
    #[must_use]
    pub fn single_use(self) -> bool {
        matches!(self, Self::Seal | Self::ORing | Self::Gasket)
    }
    /// Faces a way that matters: lip, thick side, eye, large diameter.
    #[must_use]
    pub fn has_facing(self) -> bool {
        matches!(
            self,
            Self::Bearing
                | Self::TaperCone
                | Self::Cup
                | Self::Seal
                | Self::ThrustWasher
                | Self::Impeller
                | Self::Wheel
                | Self::TabWasher
                | Self::Circlip
                | Self::Insert
                | Self::Flinger
        )
    }
    /// What its facing is called.
    #[must_use]
    pub fn facing_word(self) -> &'static str {
        match self {
            Self::Bearing | Self::TaperCone | Self::Cup => "thick side",
            Self::Seal => "lip",
            Self::Impeller | Self::Wheel => "eye",
            Self::ThrustWasher => "grooved face",
            Self::TabWasher => "bent tab",
            Self::Circlip => "sharp side",
            _ => "face",
        }
    }
    /// Sits in a bore at the bench before its carrier goes over the shaft.
    #[must_use]
    pub fn lies_in_bore(self) -> bool {
        matches!(
            self,
            Self::Cup
                | Self::Seal
                | Self::ORing
                | Self::Bush
                | Self::BaseRing
                | Self::Insert
                | Self::Probe
                | Self::Ring
                | Self::Expander
                | Self::ShoeSet
        )
    }
    /// Metal that carries or is worn: it is looked at before it is used again.
    #[must_use]
    pub fn looked_at(self) -> bool {
        !self.single_use() && !matches!(self, Self::SetScrew | Self::Circlip | Self::TabWasher | Self::Key | Self::Shim)
    }
    /// What to look for (handbook 09).
    #[must_use]
    pub fn look_for(self) -> &'static str {
        match self {
            Self::Bearing | Self::TaperCone | Self::Cup => "path, dents, colour, cage; bore and outside for creep",
            Self::Impeller | Self::Wheel => "bore, keyway, wear ring step, erosion, balance marks",
            Self::Sleeve => "wear track under the lip, faces square",
            Self::Collar | Self::ThrustWasher | Self::Plate => "faces for scoring, runout, nick at the edges",
            Self::ShoeSet => "white metal wiped or white, edges rounded on both sides, no nick",
            Self::BaseRing => "levelling plates whole and interlocked",
            Self::Bush => "bore for scoring and size, both alike",
            Self::Ring => "gap, groove, edges",
            Self::Nut => "threads by hand, slots, faces square",
            Self::Cover | Self::Cap | Self::Insert => "joint face, cracks, drain and feed holes open",
            Self::Probe => "wire, insulation, ohms",
            Self::Gear => "teeth, bore, keyway",
            Self::Spacer | Self::Expander => "faces parallel, burrs",
            Self::Flinger | Self::Pulley => "bore, groove, cracks",
            _ => "wear, burrs, cracks",
        }
    }
}

/// How a part sits.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Hold {
    Loose,
    #[default]
    Slide,
    Press,
    Shrink,
    Oil,
    Screwed,
}

impl Hold {
    /// All, with their names in build sheets.
    pub const ALL: [(Self, &'static str); 6] = [
        (Self::Loose, "loose"),
        (Self::Slide, "slide"),
        (Self::Press, "press"),
        (Self::Shrink, "shrink"),
        (Self::Oil, "oil"),
        (Self::Screwed, "screwed"),
    ];

    /// Name in build sheets.
    #[must_use]
    pub fn key(self) -> &'static str {
        Self::ALL.iter().find(|k| k.0 == self).map_or("", |k| k.1)
    }
    /// Tool it is put on with: what a change of tools counts.
    #[must_use]
    pub fn tool(self) -> &'static str {
        match self {
            Self::Loose | Self::Slide => "hands",
            Self::Press => "press and tube",
            Self::Shrink => "heater, gloves and tongs",
            Self::Oil => "pumps and gauges",
            Self::Screwed => "wrench",
        }
    }
    /// Minutes that nothing but waiting passes after it is on: cooling by size, oil film and hold.
    #[must_use]
    pub fn wait_minutes(self, outside_mm: f64) -> f64 {
        match self {
            Self::Shrink => (outside_mm / 4.0).clamp(10.0, 60.0).round(),
            Self::Oil => crate::fit::hydraulic::HOLD_MIN as f64 + 20.0,
            _ => 0.0,
        }
    }
}
