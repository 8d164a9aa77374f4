//! Judging one grid: size against its limits, form against its share of the tolerance.

use super::{Measured, Shop};
use crate::anatomy::SeatFacts;
use crate::call::{Amount, Call, Situation};
use crate::fit::rings;
use crate::instrument::{Judgement, Limits, decide_with, judge};
use crate::journal_sheet::{Feature, Grid, so_far};
use crate::quantity::{Micrometres, Millimetres};
use crate::rules::HouseRules;
use crate::terms::{Surface, Verdict};

/// Limits of a surface in mm and where they come from.
#[must_use]
pub fn surface_limits(which: Surface, facts: &SeatFacts) -> (f64, f64, String) {
    let source = &facts.seat.source;
    let ring = |r, d: Millimetres| {
        let lower = facts.ring_lower(r).0 / 1000.0;
        (d.0 + lower, d.0, format!("ISO 492 class {}", facts.bearing.class))
    };
    match which {
        Surface::Journal => (
            facts.journal.min.0,
            facts.journal.max.0,
            format!("{} {}, {source}", facts.bearing.d.0, facts.seat.shaft_class),
        ),
        Surface::HousingBore => (
            facts.bore.min.0,
            facts.bore.max.0,
            format!("{} {}, {source}", facts.bearing.outer.0, facts.seat.housing_class),
        ),
        Surface::RingBore => ring(rings::Ring::Inner, facts.bearing.d),
        Surface::RingOutside => ring(rings::Ring::Outer, facts.bearing.outer),
    }
}

/// Judges one grid: size first, then form; the worst call comes first. Nothing is machined on the word of one reading:
/// where every such call rests on a single one, that place is read again first.
#[must_use]
pub fn judge_grid(which: Surface, facts: &SeatFacts, m: &Measured, shop: &Shop) -> Vec<Call> {
    let calls = judge_all(which, facts, m, shop);
    let machines = |calls: &[Call]| calls.iter().any(|c| c.situation.machines());
    if !machines(&calls) {
        return calls;
    }
    let lonely = |(station, plane): &(usize, usize)| {
        let mut without = m.clone();
        without.rows[*station][*plane] = None;
        !m.confirmed(*station, *plane) && !machines(&judge_all(which, facts, &without, shop))
    };
    let read = m.rows.iter().enumerate().flat_map(|(s, row)| (0..row.len()).map(move |p| (s, p)));
    let mut alone = read.filter(|(s, p)| m.rows[*s][*p].is_some()).filter(lonely);
    let Some(((station, plane), worst)) = alone.next().zip(calls.iter().find(|c| c.situation.machines())) else {
        return calls;
    };
    // Two that each explain it by themselves contradict each other: neither is taken at its word, the first is read.
    let value = m.rows[station][plane].unwrap_or_default();
    let beyond = match worst.situation {
        Situation::SizeOver { by, .. } => Some(by),
        Situation::SizeUnder { by, .. } => Some(Micrometres(-by.0)),
        _ => None,
    };
    let again = Situation::ReadAgain { surface: which, station: station + 1, plane: plane + 1, beyond };
    let call =
        Call { situation: again, figure: Some(Amount::Size(Millimetres(value), m.gauge.resolution)), ..worst.clone() };
    let rest = calls.into_iter().filter(|c| !c.situation.machines());
    std::iter::once(call).chain(rest).collect()
}

#[expect(clippy::too_many_lines, reason = "the order of the checks is the rule")]
fn judge_all(which: Surface, facts: &SeatFacts, m: &Measured, shop: &Shop) -> Vec<Call> {
    let (lo, hi, source) = surface_limits(which, facts);
    let rules = &shop.rules;
    let u = if rules.guard_band { m.gauge.u.0 } else { 0.0 };
    let surface = if which.outside() { Feature::Journal } else { Feature::Bore };
    let size = |v: f64| Amount::Size(Millimetres(v), m.gauge.resolution);
    let finish = |c: Call| {
        Call { overdue: m.overdue.clone(), guarded: rules.guard_band, ..c }.limit(
            Some(size(lo)),
            Some(size(hi)),
            source.clone(),
        )
    };
    let Some(g) = so_far(&m.rows, surface, m.gauge.u.um()) else {
        return vec![finish(Call::of(Verdict::Undecided, Situation::NothingRead { cells: m.left() }))];
    };
    let mut calls = Vec::new();
    let better = |value: f64, limits: &Limits, scale: f64| {
        decide_with(
            value,
            limits,
            &shop
                .candidates(|c| c.reaches(which, Millimetres(value)) || scale < 1.0 && c.reaches(which, g.mean), scale),
        )
        .map(|c| c.name.clone())
    };

    let tolerance = hi - lo;
    if rules.guard_band && m.gauge.u.0 > tolerance / 2.0 {
        // No value at all could be inside by U on both sides.
        let finer = shop
            .gauges
            .iter()
            .filter(|c| c.reaches(which, g.mean) && !c.overdue && c.u.0 <= tolerance / 4.0 + 1e-9)
            .min_by(|a, b| a.cost.total_cmp(&b.cost));
        calls.push(finish(
            Call::of(
                Verdict::Undecided,
                Situation::TooCoarse {
                    surface: which,
                    instrument: m.gauge.name.clone(),
                    u: m.gauge.u.um(),
                    tolerance: Micrometres(tolerance * 1000.0),
                    better: finer.map(|c| c.name.clone()),
                },
            )
            .figure(size(g.mean.0)),
        ));
    }
    if let Ok(limits) = Limits::new(Some(lo), Some(hi)) {
        for (value, over) in [(g.max.0, true), (g.min.0, false)] {
            let past = if over { value - hi } else { lo - value };
            match judge(value, &limits, u) {
                Ok(Judgement::NotConforming) if past > 0.0 => {
                    let by = Micrometres(past * 1000.0);
                    // Well inside, where the instrument can tell that; else inside.
                    let sure = if tolerance > 2.0 * u { u } else { 0.0 };
                    // What is taken off the extreme moves the other end as well: it stays in, too.
                    let spread = g.max.0 - g.min.0;
                    let most = (past + tolerance - spread - sure).max(past + sure);
                    let mend = Some((Micrometres((past + sure) * 1000.0), Micrometres(most * 1000.0)));
                    let situation = if over {
                        Situation::SizeOver { surface: which, by, mend }
                    } else {
                        Situation::SizeUnder { surface: which, by, mend }
                    };
                    calls.push(finish(Call::of(Verdict::Stop, situation).figure(size(value))));
                }
                Ok(Judgement::Undecided) if calls.is_empty() && past > -u => calls.push(finish(
                    Call::of(
                        Verdict::Undecided,
                        Situation::SizeUndecided {
                            surface: which,
                            margin: Micrometres(-past * 1000.0),
                            instrument: m.gauge.name.clone(),
                            u: m.gauge.u.um(),
                            better: better(value, &limits, 1.0),
                        },
                    )
                    .figure(size(value)),
                )),
                _ => {}
            }
        }
    }
    calls.extend(judge_form(which, &g, m, u, tolerance, rules, &better).into_iter().map(|c| Call {
        overdue: m.overdue.clone(),
        guarded: rules.guard_band,
        ..c
    }));
    if calls.is_empty() {
        calls.push(finish(
            Call::of(Verdict::Go, Situation::SizeGood { surface: which, left: m.left(), guarded: rules.guard_band })
                .figure(size(g.mean.0)),
        ));
    }
    calls.sort_by_key(|c| std::cmp::Reverse(c.verdict));
    calls
}

/// Form against its share of the tolerance. A half difference of two readings, and a difference of two means of four,
/// both carry U/sqrt 2 when readings are independent.
fn judge_form(
    which: Surface,
    g: &Grid,
    m: &Measured,
    u: f64,
    tolerance: f64,
    rules: &HouseRules,
    better: &dyn Fn(f64, &Limits, f64) -> Option<String>,
) -> Vec<Call> {
    let allowed = Micrometres(tolerance * 1000.0 * rules.form_share);
    let root = std::f64::consts::FRAC_1_SQRT_2;
    let u_form = u * 1000.0 * root;
    let Ok(limits) = Limits::new(None, Some(allowed.0)) else { return Vec::new() };
    let share = format!("{:.0} % of the tolerance, house rule", rules.form_share * 100.0);
    let verdict = |v: f64, stop: Situation| {
        let (verdict, situation) = match judge(v, &limits, u_form) {
            Ok(Judgement::NotConforming) => (Verdict::Stop, stop),
            Ok(Judgement::Undecided) if v > allowed.0 / 2.0 => (
                Verdict::Undecided,
                Situation::FormUndecided {
                    surface: which,
                    by: Micrometres(v),
                    allowed,
                    instrument: m.gauge.name.clone(),
                    better: better(v, &limits, root * 1000.0),
                },
            ),
            _ => return None,
        };
        Some(Call::of(verdict, situation).figure(Amount::Small(Micrometres(v))).limit(
            None,
            Some(Amount::Small(allowed)),
            share.clone(),
        ))
    };
    let round = g
        .roundness
        .iter()
        .enumerate()
        .max_by(|a, b| a.1.0.total_cmp(&b.1.0))
        .and_then(|(i, r)| verdict(r.0, Situation::OutOfRound { surface: which, by: *r, allowed, station: i + 1 }));
    let taper = g
        .taper
        .and_then(|t| verdict(t.0.abs(), Situation::Taper { surface: which, by: t, allowed, larger_at_b: t.0 > 0.0 }));
    round.into_iter().chain(taper).collect()
}
