//! Elastic and thermal constants (docs/trade.md, Fits and heat).

use serde::{Deserialize, Serialize};

/// A material of a ring, shaft, housing or bush.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Material {
    BearingSteel,
    CarbonSteel,
    Austenitic,
    GreyIron,
    DuctileIron,
    Aluminium,
    TinBronze,
    SinteredBronze,
    Brass,
    Titanium,
}

impl Material {
    /// All of them, with their names in the contract.
    pub const ALL: [(&'static str, Material); 10] = [
        ("bearing_steel", Self::BearingSteel),
        ("carbon_steel", Self::CarbonSteel),
        ("austenitic", Self::Austenitic),
        ("grey_iron", Self::GreyIron),
        ("ductile_iron", Self::DuctileIron),
        ("aluminium", Self::Aluminium),
        ("tin_bronze", Self::TinBronze),
        ("sintered_bronze", Self::SinteredBronze),
        ("brass", Self::Brass),
        ("titanium", Self::Titanium),
    ];

    /// (Young's modulus in MPa, Poisson's ratio, expansion in 1/K).
    const fn constants(self) -> (f64, f64, f64) {
        match self {
            Self::BearingSteel => (206e3, 0.30, 12.0e-6),
            Self::CarbonSteel => (206e3, 0.30, 11.5e-6),
            Self::Austenitic => (193e3, 0.29, 16.5e-6),
            Self::GreyIron => (110e3, 0.26, 10.5e-6),
            Self::DuctileIron => (169e3, 0.28, 11.5e-6),
            Self::Aluminium => (71e3, 0.33, 23.0e-6),
            Self::TinBronze => (110e3, 0.34, 18.0e-6),
            Self::SinteredBronze => (60e3, 0.28, 18.0e-6),
            Self::Brass => (103e3, 0.35, 19.0e-6),
            Self::Titanium => (114e3, 0.33, 8.8e-6),
        }
    }
    /// Young's modulus, MPa.
    #[must_use]
    pub const fn young_mpa(self) -> f64 {
        self.constants().0
    }
    /// Poisson's ratio.
    #[must_use]
    pub const fn poisson(self) -> f64 {
        self.constants().1
    }
    /// Linear expansion, 1/K.
    #[must_use]
    pub const fn expansion(self) -> f64 {
        self.constants().2
    }
    /// Name in the contract.
    #[must_use]
    pub fn name(self) -> &'static str {
        Self::ALL.iter().find(|m| m.1 == self).map_or("", |m| m.0)
    }
    /// Yield strength when none is given, MPa: low values of what is usual. Grey iron and sintered bronze break rather
    /// than yield: theirs is the tensile strength.
    #[must_use]
    pub const fn yield_mpa(self) -> f64 {
        match self {
            Self::BearingSteel => 1500.0,
            Self::CarbonSteel => 350.0,
            Self::Austenitic => 205.0,
            Self::GreyIron => 200.0,
            Self::DuctileIron => 250.0,
            Self::Aluminium => 150.0,
            Self::TinBronze => 130.0,
            Self::SinteredBronze => 90.0,
            Self::Brass => 140.0,
            Self::Titanium => 800.0,
        }
    }
    /// Density, kg/m³.
    #[must_use]
    pub const fn density(self) -> f64 {
        match self {
            Self::BearingSteel | Self::CarbonSteel => 7850.0,
            Self::Austenitic => 7900.0,
            Self::GreyIron => 7200.0,
            Self::DuctileIron => 7100.0,
            Self::Aluminium => 2700.0,
            Self::TinBronze => 8800.0,
            Self::SinteredBronze => 6600.0,
            Self::Brass => 8500.0,
            Self::Titanium => 4500.0,
        }
    }
    /// As said in a sentence.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Self::BearingSteel => "bearing steel",
            Self::CarbonSteel => "carbon steel",
            Self::Austenitic => "stainless steel",
            Self::GreyIron => "grey iron",
            Self::DuctileIron => "ductile iron",
            Self::Aluminium => "aluminium",
            Self::TinBronze => "tin bronze",
            Self::SinteredBronze => "sintered bronze",
            Self::Brass => "brass",
            Self::Titanium => "titanium",
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_material_has_constants_of_a_metal() {
        for (name, m) in Material::ALL {
            assert_eq!((m.name(), Material::ALL.iter().filter(|x| x.1 == m).count()), (name, 1));
            assert!((60e3..=210e3).contains(&m.young_mpa()) && (0.25..=0.36).contains(&m.poisson()), "{name}");
            assert!((8e-6..=24e-6).contains(&m.expansion()) && (2600.0..=8900.0).contains(&m.density()), "{name}");
            assert!((90.0..=1500.0).contains(&m.yield_mpa()) && !m.words().contains('_'), "{name}");
        }
        // What grows most is warmed rather than forced.
        assert!(Material::Aluminium.expansion() > 1.8 * Material::BearingSteel.expansion());
    }
}
