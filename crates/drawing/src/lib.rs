//! Core values to SVG. Pure functions: the same data always gives the same drawing, and a changed diameter changes it.
//!
//! Colours and line weights are classes, styled by the page in both themes; nothing here names a colour.

mod clock_face;
mod frame;
mod half_section;
mod joints;
mod journal_map;
mod land_marks;
mod land_view;
mod marks;
mod more_shapes;
mod numbers;
mod part_shapes;
mod reckoned;
mod schemes;
mod svg;
mod where_to_read;

pub use clock_face::{ClockFace, clock_face};
pub use frame::Paper;
pub use half_section::{Fitted, HalfSection, Mark, SeatMark, SectionView, along, half_section};
pub use joints::{Alive, Bolted, Joints};
pub use journal_map::{JournalMap, journal_map};
pub use land_marks::{LandMark, land_marks};
pub use land_view::{LandView, land_view};
pub use marks::mark_sample;
pub use reckoned::{Around, Curve, Rotor, Stairs, Window, around, bolt_pattern, bolts, curve, rotor, stairs, window};
pub use schemes::{Bar, Planned, Turn, Wrench, bars, leaves, nut_turns, plan, ring_section, sequence, turn, wrench};
pub use svg::escape;
pub use where_to_read::{WhereToRead, where_to_read};
