//! Fits: ISO limits, bearing rings, press fits after Lamé, clearance left, heating and tools.

pub mod advice;
pub mod bush;
pub mod clearance;
pub mod designation;
pub mod heat;
pub mod hydraulic;
pub mod iso286;
pub mod lame;
pub mod learning;
pub mod material;
pub mod rings;
mod sizes;
pub mod tooling;
pub mod trace;

pub use lame::{
    BRITTLE_HOOP_MPA, Finish, Friction, NEAR_YIELD, PressAnswer, PressFit, School, Stress, StressCall, press,
};
pub use material::Material;
