//! Which way rows lean: the one place that knows back from front. Drawing, faults, words and preload use it and nothing
//! else.

use super::kinds::Role;
use super::{Anatomy, Part};
use crate::fit::designation::{self, BearingType};
use crate::terms::End;

impl End {
    /// The other end.
    #[must_use]
    pub fn other(self) -> Self {
        match self {
            Self::A => Self::B,
            Self::B => Self::A,
        }
    }
}

fn bearing_type(p: &Part) -> Option<BearingType> {
    (p.kind.role() == Role::Rolling)
        .then(|| p.designation.as_deref().and_then(|d| designation::read(d).ok()))
        .flatten()
        .map(|b| b.kind)
}

/// A taper bearing, whole or one ring of it.
#[must_use]
pub fn is_taper(p: Option<&Part>) -> bool {
    p.is_some_and(|p| {
        matches!(p.kind.role(), Role::Cone | Role::Cup) || bearing_type(p) == Some(BearingType::TaperRoller)
    })
}

/// The end of a cup's thick wall: where the cone cannot enter.
#[must_use]
pub fn cup_back(p: &Part) -> Option<End> {
    match p.kind.role() {
        Role::Cone => p.faces.map(End::other),
        _ if is_taper(Some(p)) => p.faces,
        _ => None,
    }
}

/// The end towards which a row's contact line rises in the upper half of the section.
///
/// Angular contact: the end to which the back of the outer ring looks, its thick side. Taper: the end of the cup's
/// thick wall, which is the opposite of the end of the cone's large rib. None for rows without an angle or with no
/// facing said.
///
/// ```
/// use ironseat_core::anatomy::{Part, PartKind, facing::lean};
/// use ironseat_core::terms::End;
/// let mut cone = Part::plain("c", PartKind::TaperCone, "l");
/// cone.faces = Some(End::A);
/// assert_eq!(lean(&cone), Some(End::B));
/// ```
#[must_use]
pub fn lean(p: &Part) -> Option<End> {
    match p.kind.role() {
        Role::Cone | Role::Cup => cup_back(p),
        _ => matches!(bearing_type(p)?, BearingType::AngularContact | BearingType::TaperRoller)
            .then_some(p.faces)
            .flatten(),
    }
}

/// What two rows form, from the lean of the left one and of the right one: backs together spread the lines (DB), backs
/// outward bring them together (DF), alike is tandem (DT).
///
/// ```
/// use ironseat_core::{anatomy::facing::formed, terms::End};
/// assert_eq!((formed(End::B, End::A), formed(End::A, End::B), formed(End::A, End::A)), ("DB", "DF", "DT"));
/// ```
#[must_use]
pub fn formed(left: End, right: End) -> &'static str {
    match (left, right) {
        (End::B, End::A) => "DB",
        (End::A, End::B) => "DF",
        (End::A, End::A) | (End::B, End::B) => "DT",
    }
}

/// An arrangement as said.
#[must_use]
pub fn shape(arrangement: &str) -> &'static str {
    match arrangement {
        "DB" => "a diamond (back-to-back)",
        "DF" => "an X (face-to-face)",
        _ => "tandem",
    }
}

/// What two parts of a machine form; none when the facing of one is not said. Whatever is made a pair has a back: where
/// no angle is written, the side that it faces is that.
#[must_use]
pub fn arrangement(a: &Anatomy, x: &Part, y: &Part) -> Option<&'static str> {
    let (left, right) = if a.place(x).0 <= a.place(y).0 { (x, y) } else { (y, x) };
    let back = |p: &Part| lean(p).or(p.faces);
    Some(formed(back(left)?, back(right)?))
}
