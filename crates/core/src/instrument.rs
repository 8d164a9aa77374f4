//! Instruments and what they can decide: the guard-band rule of ISO 14253-1.

use crate::refusal::{Result, expect};
use serde::{Deserialize, Serialize};

/// Comparisons with a limit have this slack, in favour of being inside: it swallows binary rounding only.
pub const SLACK: f64 = 1e-9;

/// A limit, open on either side. Any one unit.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Limits {
    /// Lower limit.
    pub lo: Option<f64>,
    /// Upper limit.
    pub hi: Option<f64>,
}

impl Limits {
    /// Validates limits.
    ///
    /// # Errors
    /// `lo` when there is neither, `hi` when it is below `lo`.
    pub fn new(lo: Option<f64>, hi: Option<f64>) -> Result<Self> {
        expect(lo.is_some() || hi.is_some(), "lo", "a limit is needed: a lower one, an upper one or both")?;
        if let (Some(l), Some(h)) = (lo, hi) {
            expect(h >= l, "hi", "expected the upper limit not to be below the lower one")?;
        }
        Ok(Self { lo, hi })
    }

    /// Distance to the nearest limit; negative outside.
    #[must_use]
    pub fn margin(&self, value: f64) -> f64 {
        let below = self.lo.map_or(f64::INFINITY, |l| value - l);
        let above = self.hi.map_or(f64::INFINITY, |h| h - value);
        below.min(above)
    }
}

/// What a reading says about a limit.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Judgement {
    /// Inside by at least the uncertainty.
    Conforming,
    /// Outside by more than the uncertainty.
    NotConforming,
    /// Too close to a limit for this instrument.
    Undecided,
}

impl Judgement {
    /// Name in the contract.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::Conforming => "conforming",
            Self::NotConforming => "not_conforming",
            Self::Undecided => "undecided",
        }
    }
}

/// Judges a value with the expanded uncertainty `u` (k = 2) of the instrument that took it.
///
/// Conforming: lo + u <= value <= hi - u. Not conforming: value < lo - u or value > hi + u. Otherwise undecided.
/// Source: ISO 14253-1:2017.
///
/// ```
/// use ironseat_core::instrument::{judge, Judgement, Limits};
/// let k6 = Limits::new(Some(40.002), Some(40.018))?;
/// assert_eq!(judge(40.017, &k6, 0.003)?, Judgement::Undecided);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `u` when negative.
pub fn judge(value: f64, limits: &Limits, u: f64) -> Result<Judgement> {
    expect(u >= 0.0, "u", "an uncertainty is 0 or more")?;
    let m = limits.margin(value);
    Ok(if m >= u - SLACK {
        Judgement::Conforming
    } else if m < -u - SLACK {
        Judgement::NotConforming
    } else {
        Judgement::Undecided
    })
}

/// An instrument as far as choosing between them goes.
#[derive(Debug, Clone, PartialEq)]
pub struct Candidate {
    /// Name in the shop's list.
    pub name: String,
    /// Expanded uncertainty, k = 2.
    pub u: f64,
    /// What it costs to use, any scale.
    pub cost: f64,
}

/// The cheapest instrument that would decide at this value; equal cost: the smaller uncertainty.
#[must_use]
pub fn decide_with<'a>(value: f64, limits: &Limits, list: &'a [Candidate]) -> Option<&'a Candidate> {
    list.iter()
        .filter(|c| judge(value, limits, c.u).is_ok_and(|j| j != Judgement::Undecided))
        .min_by(|a, b| a.cost.total_cmp(&b.cost).then(a.u.total_cmp(&b.u)))
}

/// Whether an instrument is good enough for a tolerance, before anything is measured.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Capability {
    /// U is at most a tenth of the tolerance.
    Ideal,
    /// U is at most a quarter of the tolerance.
    Good,
    /// U is more than a quarter: the guard bands leave too little between them.
    NotGood,
}

/// Ratio of uncertainty to tolerance, and what it means.
///
/// # Errors
/// `hi` unless above `lo`; `u` unless above 0.
pub fn capable(lo: f64, hi: f64, u: f64) -> Result<(f64, Capability)> {
    expect(hi > lo, "hi", "expected the upper limit to be above the lower one")?;
    expect(u > 0.0, "u", "an uncertainty above 0 is expected")?;
    let ratio = u / (hi - lo);
    let call = if ratio <= 0.1 + SLACK {
        Capability::Ideal
    } else if ratio <= 0.25 + SLACK {
        Capability::Good
    } else {
        Capability::NotGood
    };
    Ok((ratio, call))
}
