//! Numeric pieces that several subjects share: each once.

/// Where a function of one valley is least between two ends, after so many golden-section steps; one evaluation a step.
///
/// ```
/// let x = ironseat_core::numeric::golden_section(0.0, 10.0, 60, |x| (x - 3.0f64).powi(2));
/// assert!((x - 3.0).abs() < 1e-7);
/// ```
#[must_use]
pub fn golden_section(mut lo: f64, mut hi: f64, steps: u32, f: impl Fn(f64) -> f64) -> f64 {
    let share = (5f64.sqrt() - 1.0) / 2.0;
    let (mut a, mut b) = (hi - share * (hi - lo), lo + share * (hi - lo));
    let (mut fa, mut fb) = (f(a), f(b));
    for _ in 0..steps {
        if fa < fb {
            (hi, b, fb) = (b, a, fa);
            a = hi - share * (hi - lo);
            fa = f(a);
        } else {
            (lo, a, fa) = (a, b, fb);
            b = lo + share * (hi - lo);
            fb = f(b);
        }
    }
    f64::midpoint(lo, hi)
}
