//! The mark of each seat in a drawing: the same on Floor, Bench and Certificate.

use ironseat_core::call::Situation;
use ironseat_core::decide::{Called, State};
use ironseat_core::quantity::{Micrometres, Seconds, Units, show as fmt};
use ironseat_core::terms::Verdict;
use ironseat_drawing::{Mark, SeatMark};
use ironseat_store::RebuildId;
use std::collections::BTreeMap;

/// The mark of each seat; touching one leads to its act in hand.
pub fn marks(s: &State, rebuild: RebuildId, selected: Option<&str>, units: Units) -> BTreeMap<String, SeatMark> {
    let of = |seat: &ironseat_core::anatomy::Seat| {
        let (mark, value) = mark(s, &seat.id, selected == Some(seat.id.as_str()), units);
        (seat.id.clone(), SeatMark { mark, value, href: format!("/rebuilds/{rebuild}?seat={}", seat.id) })
    };
    s.anatomy().seats.iter().map(of).collect()
}

/// The mean interference of a fit that is good.
fn mean(called: Option<&Called>) -> Option<Micrometres> {
    called?.calls.iter().find_map(|c| match &c.situation {
        Situation::FitGood { mean, .. } => Some(*mean),
        _ => None,
    })
}

fn mark(s: &State, seat: &str, selected: bool, units: Units) -> (Mark, String) {
    let shown = |m: Micrometres| fmt::join(fmt::signed(m, units));
    let mean = mean(s.call(seat, "fit"));
    if let Some(k) = s.clocks.iter().find(|k| k.seat == seat) {
        let left = k.left(s.now);
        let time = if left == 0 { "time is up".into() } else { fmt::clock(Seconds::of(left as f64)) };
        return (Mark::Clock, format!("{} {time}", if k.kind == "heat" { "heating" } else { "cooling" }));
    }
    if s.signed(seat) {
        return (Mark::Go, mean.map_or("signed".into(), |m| format!("{}, signed", shown(m))));
    }
    let waits = |c: &&Called| {
        let situation = c.calls.first().map(|c| &c.situation);
        matches!(
            situation,
            Some(Situation::FitWaits { .. } | Situation::HomeWaits { .. } | Situation::NothingRead { .. })
        )
    };
    let worst =
        s.calls.iter().filter(|c| c.seat == seat && c.overruled_by.is_none() && !waits(c)).max_by_key(|c| c.verdict());
    let short = |c: &Called| {
        let first = c.calls.first();
        first.map_or(String::new(), |c| c.figure.map_or_else(|| c.verdict.word().to_lowercase(), |f| f.show(units)))
    };
    match worst.and_then(|c| Some((c, c.verdict()?))) {
        None if selected => (Mark::InHand, "not measured".into()),
        None => (Mark::Todo, "not measured".into()),
        Some((_, Verdict::Go)) => (Mark::Go, mean.map_or("good so far".into(), shown)),
        Some((c, Verdict::Stop)) => (Mark::Stop, short(c)),
        Some((c, Verdict::LookAgain)) => (Mark::LookAgain, short(c)),
        Some((_, Verdict::Undecided)) => (Mark::Undecided, "undecided".into()),
    }
}
