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

/// Where a rising function meets a value between two ends, by halving a hundred times: to the last digit of either.
///
/// ```
/// let root = ironseat_core::numeric::where_it_reaches(2.0, 0.0, 2.0, |x| x * x);
/// assert!((root - 2f64.sqrt()).abs() < 1e-15);
/// ```
#[must_use]
pub fn where_it_reaches(value: f64, mut lo: f64, mut hi: f64, rising: impl Fn(f64) -> f64) -> f64 {
    for _ in 0..100 {
        let mid = f64::midpoint(lo, hi);
        if rising(mid) < value { lo = mid } else { hi = mid }
    }
    f64::midpoint(lo, hi)
}

/// Least squares by the normal equations, rows exchanged for the largest pivot; `None` when singular.
///
/// ```
/// // A line through (0, 1), (1, 3) and (2, 5): 1 + 2 x.
/// let rows = [vec![1.0, 0.0], vec![1.0, 1.0], vec![1.0, 2.0]];
/// let line = ironseat_core::numeric::least_squares(&rows, &[1.0, 3.0, 5.0]).unwrap();
/// assert!((line[0] - 1.0).abs() < 1e-12 && (line[1] - 2.0).abs() < 1e-12);
/// ```
#[allow(clippy::needless_range_loop)] // two rows of one matrix: indices say it plainly
#[must_use]
pub fn least_squares(rows: &[Vec<f64>], values: &[f64]) -> Option<Vec<f64>> {
    let n = rows.first()?.len();
    let mut a = vec![vec![0.0; n + 1]; n];
    for (row, v) in rows.iter().zip(values) {
        for i in 0..n {
            for j in 0..n {
                a[i][j] += row[i] * row[j];
            }
            a[i][n] += row[i] * v;
        }
    }
    let scale = (0..n).map(|i| a[i][i]).fold(0.0, f64::max);
    for k in 0..n {
        let p = (k..n).max_by(|x, y| a[*x][k].abs().total_cmp(&a[*y][k].abs()))?;
        if a[p][k].abs() <= 1e-12 * scale {
            return None;
        }
        a.swap(k, p);
        for i in 0..n {
            if i != k {
                let f = a[i][k] / a[k][k];
                for j in k..=n {
                    a[i][j] -= f * a[k][j];
                }
            }
        }
    }
    Some((0..n).map(|i| a[i][n] / a[i][i]).collect())
}
