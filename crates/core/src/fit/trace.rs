//! The force trace of a pressing: a rising line, a knee, and what it tells (docs/trade.md, Fits and heat).

use crate::instrument::SLACK;
use crate::refusal::{Result, expect};
use std::f64::consts::PI;

/// What a trace says.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum TraceCall {
    Cocked,
    Early,
    Loose,
    Home,
    Late,
    NotHome,
}

impl TraceCall {
    /// Name in the contract.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::Cocked => "cocked",
            Self::Early => "early",
            Self::Loose => "loose",
            Self::Home => "home",
            Self::Late => "late",
            Self::NotHome => "not_home",
        }
    }
}

/// A trace, read.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Trace {
    /// N/mm of the rising line.
    pub slope: f64,
    /// Where the lines cross, and the force of the first line there.
    pub knee: Option<(f64, f64)>,
    pub mu: Option<f64>,
    pub home: bool,
    pub call: TraceCall,
}

/// Running sums of a line, updated point by point so that long traces stay exact.
#[derive(Clone, Copy, Default)]
struct RunningLine {
    n: f64,
    mx: f64,
    my: f64,
    xx: f64,
    xy: f64,
    yy: f64,
}

impl RunningLine {
    fn add(mut self, (x, y): (f64, f64)) -> Self {
        self.n += 1.0;
        let (dx, dy) = (x - self.mx, y - self.my);
        self.mx += dx / self.n;
        self.my += dy / self.n;
        self.xx += dx * (x - self.mx);
        self.xy += dx * (y - self.my);
        self.yy += dy * (y - self.my);
        self
    }
    fn slope(&self) -> f64 {
        self.xy / self.xx
    }
    fn error(&self) -> f64 {
        (self.yy - self.xy * self.xy / self.xx).max(0.0)
    }
    fn at(&self, x: f64) -> f64 {
        self.my + self.slope() * (x - self.mx)
    }
}

/// Reads a trace of (travel mm, force N): of all cuts the two lines with least squares; a knee when the second is over
/// five times as steep. mu = slope/(pi·d·p). Source: docs/trade.md, Fits and heat.
///
/// # Errors
/// `points` fewer than six or travel not rising; `high_n` below low.
pub fn read(
    points: &[(f64, f64)],
    d: f64,
    expected: f64,
    band: (f64, f64),
    pressure: Option<f64>,
    tolerance: f64,
) -> Result<Trace> {
    expect(points.len() >= 6, "points", "at least six points are expected")?;
    expect(points.windows(2).all(|w| w[1].0 > w[0].0), "points", "expected travel to rise from point to point")?;
    expect(band.1 >= band.0, "high_n", "expected the high force not to be below the low one")?;
    let n = points.len();
    let mut fronts = vec![RunningLine::default(); n + 1];
    let mut backs = vec![RunningLine::default(); n + 1];
    for k in 0..n {
        fronts[k + 1] = fronts[k].add(points[k]);
        backs[k + 1] = backs[k].add(points[n - 1 - k]);
    }
    // Cuts that differ by rounding only are one: the first of them counts.
    let whole = fronts[n].yy.abs().max(1e-300);
    let mut best: Option<(f64, usize)> = None;
    for k in 3..=n - 2 {
        let e = fronts[k].error() + backs[n - k].error();
        if best.is_none_or(|(b, _)| e < b - 1e-13 * whole) {
            best = Some((e, k));
        }
    }
    let k = best.map_or(3, |b| b.1);
    let (a, b) = (fronts[k], backs[n - k]);
    let is_knee = a.slope() > 0.0 && b.slope() > 0.0 && b.slope() > 5.0 * a.slope();
    let knee = is_knee.then(|| {
        let x = (b.at(0.0) - a.at(0.0)) / (a.slope() - b.slope());
        (x, a.at(x))
    });
    let slope = if is_knee { a.slope() } else { fronts[n].slope() };
    let home = knee.is_some_and(|(x, _)| (x - expected).abs() <= tolerance + SLACK);
    let full = slope * expected;
    // One reading above the band before the ring can be home is enough, whatever the line through all says.
    let before = knee.map_or_else(|| &points[..n / 2], |(x, _)| &points[..points.partition_point(|p| p.0 < x)]);
    let over = before.iter().any(|p| p.1 > band.1 + SLACK);
    let call = if full > band.1 + SLACK || over {
        TraceCall::Cocked
    } else if knee.is_some_and(|(x, _)| x < expected - tolerance - SLACK) {
        TraceCall::Early
    } else if full < band.0 - SLACK {
        TraceCall::Loose
    } else if home {
        TraceCall::Home
    } else if knee.is_some() {
        TraceCall::Late
    } else {
        TraceCall::NotHome
    };
    Ok(Trace { slope, knee, mu: pressure.map(|p| slope / (PI * d * p)), home, call })
}
