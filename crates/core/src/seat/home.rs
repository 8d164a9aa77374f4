//! Judging the proof that a ring is home.

use super::{Gauge, Shop};
use crate::anatomy::SeatFacts;
use crate::call::{Amount, Call, Situation};
use crate::instrument::{Judgement, Limits, decide_with, judge};
use crate::quantity::{Micrometres, Millimetres};
use crate::terms::Verdict;

/// Judges the proof that a ring is home: the feeler at four places, then the depth.
#[must_use]
pub fn judge_home(
    facts: &SeatFacts,
    feelers: &[(String, f64)],
    depths: &[f64],
    left: usize,
    gauge: Option<&Gauge>,
    overdue: &[String],
    shop: &Shop,
) -> Call {
    let places: Vec<String> =
        feelers.iter().filter(|(_, v)| *v > 0.5).map(|(k, _)| format!("{}°", k.trim_start_matches('F'))).collect();
    let finish = |c: Call| Call { overdue: overdue.to_vec(), guarded: shop.rules.guard_band, ..c };
    if !places.is_empty() {
        return finish(Call::of(Verdict::Stop, Situation::FeelerGoesIn { places }));
    }
    let depth = &facts.seat.depth;
    let mut home = Call::of(Verdict::Go, Situation::Home { gap: None });
    if let (Some(gauge), false) = (gauge, depths.is_empty()) {
        let worst =
            depths.iter().map(|d| d - depth.expected_mm.0).max_by(|a, b| a.abs().total_cmp(&b.abs())).unwrap_or(0.0);
        let (by, tolerance) = (Micrometres(worst * 1000.0), depth.tolerance_mm.um());
        let u = if shop.rules.guard_band { gauge.u.0 * 1000.0 } else { 0.0 };
        let shown = |c: Call| {
            finish(c.figure(Amount::Size(Millimetres(depth.expected_mm.0 + worst), gauge.resolution)).limit(
                Some(Amount::Size(Millimetres(depth.expected_mm.0 - depth.tolerance_mm.0), gauge.resolution)),
                Some(Amount::Size(Millimetres(depth.expected_mm.0 + depth.tolerance_mm.0), gauge.resolution)),
                facts.seat.source.clone(),
            ))
        };
        let Ok(limits) = Limits::new(Some(-tolerance.0), Some(tolerance.0)) else { return finish(home) };
        match judge(by.0, &limits, u) {
            Ok(Judgement::NotConforming) => {
                return shown(Call::of(Verdict::Stop, Situation::DepthOff { by, tolerance }));
            }
            Ok(Judgement::Undecided) => {
                let better = decide_with(by.0, &limits, &shop.candidates(|g| g.depth, 1000.0)).map(|c| c.name.clone());
                return shown(Call::of(
                    Verdict::Undecided,
                    Situation::DepthUndecided { by, instrument: gauge.name.clone(), better },
                ));
            }
            _ => home = shown(Call::of(Verdict::Go, Situation::Home { gap: Some(by) })),
        }
    }
    if left > 0 { finish(Call::of(Verdict::Undecided, Situation::HomeWaits { left })) } else { finish(home) }
}
