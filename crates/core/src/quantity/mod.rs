//! Quantities with their units in the type, what people type, and how values are shown.
//!
//! Lengths are held in one unit and never rounded; [`show`] rounds for the eye only, to the
//! decimals that the instrument can resolve.

mod parse;
pub mod show;

pub(crate) use parse::as_written;
pub use parse::{ParsedLength, Suspicion, number, parse_length, parse_temperature};
pub use show::Units;

use crate::refusal::{Refusal, Result};
use serde::{Deserialize, Serialize};

macro_rules! quantity {
    ($(#[$doc:meta])* $name:ident, $unit:literal) => {
        $(#[$doc])*
        #[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Serialize, Deserialize, Default)]
        #[serde(try_from = "f64", into = "f64")]
        pub struct $name(pub(crate) f64);

        impl $name {
            /// Unit symbol.
            pub const UNIT: &'static str = $unit;

            /// Takes a finite number.
            ///
            /// # Errors
            /// NaN and infinity are refused, with the field `value`.
            pub fn new(value: f64) -> Result<Self> {
                if value.is_finite() { Ok(Self(value)) } else {
                    Err(Refusal::new("value", concat!("expected a finite number of ", $unit)))
                }
            }

            /// For numbers written in the source.
            ///
            /// # Panics
            /// When the number is not finite.
            #[must_use]
            pub const fn of(value: f64) -> Self {
                assert!(value.is_finite(), "a quantity is finite");
                Self(value)
            }

            /// The plain number, in the unit of the type.
            #[must_use]
            pub const fn get(self) -> f64 { self.0 }
        }

        impl TryFrom<f64> for $name {
            type Error = Refusal;
            fn try_from(value: f64) -> Result<Self> { Self::new(value) }
        }
        impl From<$name> for f64 {
            fn from(q: $name) -> f64 { q.0 }
        }
    };
}

quantity!(/** A length in millimetres. */ Millimetres, "mm");
quantity!(/** A length in micrometres: interference, form, deviation. */ Micrometres, "µm");
quantity!(/** A force in newtons. */ Newtons, "N");
quantity!(/** A pressure or stress in megapascals. */ Megapascals, "MPa");
quantity!(/** A temperature in degrees Celsius. Not a rise: see [`Kelvins`].
///
/// ```compile_fail
/// use ironseat_core::quantity::{Celsius, Kelvins};
/// fn heats_by(rise: Kelvins) {}
/// heats_by(Celsius::of(80.0)); // a temperature is not a rise
/// ``` */ Celsius, "°C");
quantity!(/** A temperature difference in kelvins. */ Kelvins, "K");
quantity!(/** A span of time in seconds. */ Seconds, "s");
quantity!(/** A mass in grams. */ Grams, "g");

impl Millimetres {
    /// The same length in micrometres.
    #[must_use]
    pub const fn um(self) -> Micrometres {
        Micrometres(self.0 * 1000.0)
    }
}
impl Micrometres {
    /// The same length in millimetres.
    #[must_use]
    pub const fn mm(self) -> Millimetres {
        Millimetres(self.0 / 1000.0)
    }
}
impl std::ops::Add<Kelvins> for Celsius {
    type Output = Celsius;
    fn add(self, rise: Kelvins) -> Celsius {
        Celsius(self.0 + rise.0)
    }
}
impl std::ops::Sub for Celsius {
    type Output = Kelvins;
    fn sub(self, other: Celsius) -> Kelvins {
        Kelvins(self.0 - other.0)
    }
}
