//! The rules of the job: everything Iron Seat knows about fitting a part truly on another.
//!
//! One module per subject of the trade, not per layer. Nothing here reads a file, a clock or a
//! database; every computation is a pure function of typed quantities, and every refusal is a
//! sentence that names the field and says what was expected ([`Refusal`]).
//!
//! ```
//! use ironseat_core::fit::{press, Material, PressFit};
//! use ironseat_core::quantity::{Micrometres, Millimetres};
//!
//! let fit = PressFit::ring_on_shaft(Millimetres::of(60.0), Millimetres::of(74.0), Millimetres::of(31.0))
//!     .interference(Micrometres::of(25.4), Micrometres::of(25.4));
//! let answer = press(&fit)?;
//! assert!((answer.mid.force.get() - 10_137.0).abs() < 5.0); // 10.1 kN, the check value
//! # Ok::<(), ironseat_core::Refusal>(())
//! ```

pub mod anatomy;
pub mod axial;
pub mod call;
pub mod caution;
pub mod decide;
pub mod fasten;
pub mod fit;
pub mod foreseen;
pub mod grease;
pub mod inspect;
pub mod instrument;
pub mod journal_sheet;
pub mod land;
pub mod numeric;
pub mod order;
pub mod plan;
pub mod practice;
pub mod preload;
pub mod quantity;
pub mod readings;
pub mod reckon;
pub mod refusal;
pub mod rotation;
pub mod rows;
pub mod rules;
pub mod run_in;
pub mod seal;
pub mod seat;
pub mod sheet;
pub mod stack;
pub mod stock;
pub mod takedown;
pub mod terms;
pub mod why;

pub use refusal::Refusal;
