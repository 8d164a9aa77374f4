//! Where a part stands in a drawing, and which way it looks.

use ironseat_core::anatomy::Part;
use ironseat_core::terms::End;

/// Where a part lies on the paper.
pub(crate) struct Frame {
    /// A face.
    pub x0: f64,
    /// B face.
    pub x1: f64,
    /// Centre line.
    pub cy: f64,
    /// Half the land's diameter.
    pub r0: f64,
    /// Half the outside.
    pub r1: f64,
    /// Pixels per millimetre.
    pub scale: f64,
}

impl Frame {
    pub(crate) fn w(&self) -> f64 {
        self.x1 - self.x0
    }
    pub(crate) fn mid(&self) -> f64 {
        f64::midpoint(self.x0, self.x1)
    }
    /// A radius share: 0 at the land, 1 at the outside.
    pub(crate) fn r(&self, share: f64) -> f64 {
        self.r0 + (self.r1 - self.r0) * share
    }
}

/// The side a part's thick side or face looks to: -1 towards A, 1 towards B.
pub(crate) fn towards(p: &Part) -> f64 {
    if p.faces == Some(End::A) { -1.0 } else { 1.0 }
}

/// Where lengths of the machine lie on the paper, in its dots.
#[derive(Debug, Clone, Copy)]
pub struct Paper {
    /// End A.
    pub x0: f64,
    /// The axis.
    pub cy: f64,
    /// Dots of the paper per mm.
    pub scale: f64,
}

impl Paper {
    pub(crate) fn x(&self, mm: f64) -> f64 {
        self.x0 + mm * self.scale
    }
    pub(crate) fn r(&self, d_mm: f64) -> f64 {
        d_mm / 2.0 * self.scale
    }
}
