//! Terms that every subject shares: names of acts and steps, how a part goes on, which surface, how a judgement ends.
//! It rests on nothing but itself.

mod act_id;
mod end;
mod method;
mod step;
mod surface;
pub mod text;
mod verdict;

pub use act_id::ActId;
pub use end::End;
pub use method::Method;
pub use step::StepKind;
pub use surface::Surface;
pub use verdict::Verdict;
