//! Stack-up: a chain of sizes with signs and tolerances; worst case, root sum of squares, Monte Carlo (docs/trade.md,
//! Axial setting).

use crate::instrument::SLACK;
use crate::refusal::{Result, expect};

/// Most trials: 10^8 would not come back within seconds.
pub const MOST_TRIALS: f64 = 2e7;

/// How sizes scatter within their limits.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Scatter {
    Normal,
    Uniform,
    Triangular,
}

/// A link of the chain, mm.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Link {
    pub nominal: f64,
    pub plus: f64,
    /// Positive number downwards.
    pub minus: f64,
    /// 1 or -1.
    pub sign: f64,
    pub scatter: Scatter,
    /// Measured with this uncertainty instead of limits: standard deviation u/2.
    pub measured: bool,
}

impl Link {
    fn middle(&self) -> f64 {
        self.nominal + (self.plus - self.minus) / 2.0
    }
    fn half(&self) -> f64 {
        f64::midpoint(self.plus, self.minus)
    }
}

/// What a chain comes to, mm.
#[derive(Debug, Clone, PartialEq)]
#[allow(missing_docs)]
pub struct Chain {
    pub nominal: f64,
    pub middle: f64,
    pub worst: (f64, f64),
    pub rss_half: f64,
    pub shares: Vec<f64>,
    pub mc_mean: f64,
    pub mc_sd: f64,
    pub mc_inside: Option<f64>,
}

/// A small fast generator (xoshiro256++), seeded: the same seed gives the same trials.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Random([u64; 4]);

impl Random {
    pub(crate) fn new(seed: u64) -> Self {
        let mut x = seed;
        Self([(); 4].map(|()| {
            x = x.wrapping_add(0x9E37_79B9_7F4A_7C15);
            let mut z = x;
            z = (z ^ (z >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
            z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
            z ^ (z >> 31)
        }))
    }
    pub(crate) fn next(&mut self) -> u64 {
        let s = &mut self.0;
        let out = s[0].wrapping_add(s[3]).rotate_left(23).wrapping_add(s[0]);
        let t = s[1] << 17;
        s[2] ^= s[0];
        s[3] ^= s[1];
        s[1] ^= s[2];
        s[0] ^= s[3];
        s[2] ^= t;
        s[3] = s[3].rotate_left(45);
        out
    }
    /// In [0, 1).
    pub(crate) fn unit(&mut self) -> f64 {
        (self.next() >> 11) as f64 * (1.0 / (1u64 << 53) as f64)
    }
    /// Whole number below n.
    pub(crate) fn below(&mut self, n: usize) -> usize {
        ((u128::from(self.next()) * n as u128) >> 64) as usize
    }
}

/// Layers of the ziggurat for the normal distribution (Marsaglia and Tsang 2000).
struct Ziggurat {
    x: [f64; 129],
    y: [f64; 129],
}

const TAIL: f64 = 3.442_619_855_899;
const AREA: f64 = 9.912_563_035_262_17e-3;

impl Ziggurat {
    fn new() -> Self {
        let f = |x: f64| (-0.5 * x * x).exp();
        let (mut x, mut y) = ([0.0; 129], [0.0; 129]);
        x[0] = AREA / f(TAIL);
        x[1] = TAIL;
        for i in 2..128 {
            x[i] = (-2.0 * (AREA / x[i - 1] + f(x[i - 1])).ln()).sqrt();
        }
        for i in 0..129 {
            y[i] = f(x[i]);
        }
        Self { x, y }
    }

    #[inline]
    fn draw(&self, r: &mut Random) -> f64 {
        loop {
            let bits = r.next();
            let i = (bits & 127) as usize;
            // 53 bits with a sign, from the part that the layer does not use.
            let u = ((bits >> 11) as f64) * (2.0 / (1u64 << 53) as f64) - 1.0;
            let v = u * self.x[i];
            if v.abs() < self.x[i + 1] {
                return v;
            }
            if i == 0 {
                loop {
                    let a = -(1.0 - r.unit()).ln() / TAIL;
                    let b = -(1.0 - r.unit()).ln();
                    if b + b >= a * a {
                        return if u < 0.0 { -(TAIL + a) } else { TAIL + a };
                    }
                }
            }
            if self.y[i + 1] + r.unit() * (self.y[i] - self.y[i + 1]) < (-0.5 * v * v).exp() && v.abs() < self.x[i] {
                return v;
            }
        }
    }
}

/// Reckons a chain. Half width h: standard deviation h/3 normal, h/√3 uniform, h/√6 triangular, u/2 for a measured
/// link. Source: docs/trade.md, Axial setting.
///
/// ```
/// use ironseat_core::stack::{chain, Link, Scatter};
/// let link = |nominal, tol, sign| Link { nominal, plus: tol, minus: tol, sign, scatter: Scatter::Normal, measured: false };
/// let c = chain(&[link(120.0, 0.05, 1.0), link(119.6, 0.05, -1.0)], Some((0.3, 0.5)), 100_000, 1)?;
/// assert!((c.worst.0 - 0.3).abs() < 1e-9 && (c.mc_inside.unwrap() - 1.0).abs() < 1e-3);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `links` when empty, a sign that is not 1 or -1, plus below -minus; `trials` above [`MOST_TRIALS`]; `hi_mm` below lo.
pub fn chain(links: &[Link], window: Option<(f64, f64)>, trials: u64, seed: u64) -> Result<Chain> {
    expect(!links.is_empty() && links.len() <= 1000, "links", "expected 1 to 1000 links")?;
    expect(links.iter().all(|l| (l.sign.abs() - 1.0).abs() < 1e-12), "links", "a sign is 1 or -1")?;
    expect(
        links.iter().all(|l| l.plus >= -l.minus - SLACK),
        "links",
        "expected the upper deviation of a link not to be below its lower one",
    )?;
    expect(
        trials >= 1 && trials as f64 * links.len() as f64 <= MOST_TRIALS * 12.0 && trials as f64 <= MOST_TRIALS,
        "trials",
        "expected 1 to 20 million trials (fewer for a long chain)",
    )?;
    expect(window.is_none_or(|(lo, hi)| hi >= lo), "hi_mm", "expected the upper limit not to be below the lower one")?;
    let nominal = links.iter().map(|l| l.sign * l.nominal).sum();
    let middle: f64 = links.iter().map(|l| l.sign * l.middle()).sum();
    let reach: f64 = links.iter().map(Link::half).sum();
    let squares: f64 = links.iter().map(|l| l.half().powi(2)).sum();
    let shares = links.iter().map(|l| if squares > 0.0 { l.half().powi(2) / squares } else { 0.0 }).collect();

    let zig = Ziggurat::new();
    let mut r = Random::new(seed);
    let wide = |s: Scatter| {
        links
            .iter()
            .filter(|l| l.scatter == s && l.half() > 0.0)
            .map(|l| l.half() * if s == Scatter::Normal { if l.measured { 0.5 } else { 1.0 / 3.0 } } else { 1.0 })
            .collect::<Vec<f64>>()
    };
    let (normal, uniform, triangular) = (wide(Scatter::Normal), wide(Scatter::Uniform), wide(Scatter::Triangular));
    let (mut sum, mut sum2, mut inside) = (0.0, 0.0, 0u64);
    let (lo, hi) = window.unwrap_or((0.0, 0.0));
    let (lo, hi) = (lo - middle - SLACK, hi - middle + SLACK);
    for _ in 0..trials {
        let mut d = 0.0;
        for h in &normal {
            d += h * zig.draw(&mut r);
        }
        for h in &uniform {
            d += h * (2.0 * r.unit() - 1.0);
        }
        for h in &triangular {
            d += h * (r.unit() + r.unit() - 1.0);
        }
        sum += d;
        sum2 += d * d;
        inside += u64::from(d >= lo && d <= hi);
    }
    let n = trials as f64;
    let mean = sum / n;
    Ok(Chain {
        nominal,
        middle,
        worst: (middle - reach, middle + reach),
        rss_half: squares.sqrt(),
        shares,
        mc_mean: middle + mean,
        mc_sd: (sum2 / n - mean * mean).max(0.0).sqrt(),
        mc_inside: window.map(|_| inside as f64 / n),
    })
}

/// Middle size that a link must have for the middle of the chain to be the aim.
///
/// # Errors
/// `adjust` when there is no such link.
pub fn adjusting_piece(links: &[Link], index: usize, aim: f64) -> Result<f64> {
    expect(index < links.len(), "adjust", "there is no link of that number; they count from 0")?;
    let rest: f64 = links.iter().enumerate().filter(|(i, _)| *i != index).map(|(_, l)| l.sign * l.middle()).sum();
    Ok((aim - rest) / links[index].sign)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn the_drawn_normal_is_normal() {
        let (zig, mut r, n) = (Ziggurat::new(), Random::new(7), 400_000);
        let (mut m2, mut m4, mut beyond) = (0.0, 0.0, 0);
        for _ in 0..n {
            let v = zig.draw(&mut r);
            m2 += v * v;
            m4 += v.powi(4);
            beyond += i32::from(v.abs() > 2.575_829);
        }
        let n = f64::from(n);
        assert!(
            (m2 / n - 1.0).abs() < 0.01 && (m4 / n - 3.0).abs() < 0.08 && (f64::from(beyond) / n - 0.01).abs() < 0.001,
            "{} {} {beyond}",
            m2 / n,
            m4 / n
        );
    }

    proptest! {
        #[test]
        fn the_adjusting_piece_lands_on_the_aim(sizes in prop::collection::vec((1f64..100.0, 0f64..0.1, any::<bool>()), 2..8), pick in 0usize..8, aim in -5f64..5.0) {
            let mut links: Vec<Link> = sizes.iter().map(|(n, t, s)| Link { nominal: *n, plus: *t, minus: t / 2.0, sign: if *s { 1.0 } else { -1.0 }, scatter: Scatter::Normal, measured: false }).collect();
            let i = pick % links.len();
            let wanted = adjusting_piece(&links, i, aim).unwrap();
            links[i].nominal += wanted - links[i].middle();
            let c = chain(&links, None, 10, 1).unwrap();
            prop_assert!((c.middle - aim).abs() < 1e-9 && c.worst.0 <= c.middle && (c.shares.iter().sum::<f64>() - 1.0).abs() < 1e-9);
        }
    }
}
