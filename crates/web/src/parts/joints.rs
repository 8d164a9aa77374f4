//! Bolts, heat and pressure of a rebuild as they stand, for its drawings.

use ironseat_core::anatomy::body::whole;
use ironseat_core::decide::State;
use ironseat_core::terms::ActId;
use ironseat_drawing::{Alive, Bolted, Joints};

/// What the trail says of them: the last act done to a ring of bolts, and what a clock still holds.
#[must_use]
pub fn joints(s: &State) -> Joints {
    let mut out = Joints::default();
    for ring in &s.anatomy().bolt_rings {
        let done = s.acts.iter().enumerate().filter_map(|(k, x)| Some((s.done.get(&x.id)?.at, k, &x.id)));
        let last = done.filter_map(|(at, k, id)| Some((at, k, leaves(id).filter(|l| l.0 == ring.part)?.1))).max();
        if let Some((_, _, state)) = last {
            out.bolts.insert(ring.part.clone(), state);
        }
    }
    for act in s.acts.iter().filter(|x| s.is_done(&x.id)) {
        let Some(clock) = s.waiting(&act.id) else { continue };
        let alive = match (act.wait_word.as_str(), clock.kind.as_str()) {
            ("cooling", _) | (_, "cool") => Alive::Hot,
            (w, _) if w.starts_with("pressure") => Alive::Pressed,
            _ => continue,
        };
        out.alive.insert(whole(&act.body).to_owned(), alive);
    }
    out
}

/// How an act leaves a ring of bolts, and which; none where it is done to none.
#[must_use]
pub fn leaves(act: &str) -> Option<(String, Bolted)> {
    Some(match ActId::of(act)?.first_time() {
        ActId::Bolts(of) => (of.clone(), Bolted::Tight),
        ActId::Loosen(of) | ActId::On(of) | ActId::Close(of) => (of.clone(), Bolted::Slack),
        ActId::Off(of) | ActId::Open(of) => (of.clone(), Bolted::Away),
        _ => return None,
    })
}

/// Whether an act makes what it is done to hot, or finds it cold; none where it does neither.
#[must_use]
pub fn heats(act: &str) -> Option<bool> {
    match ActId::of(act)?.first_time() {
        ActId::Heat(_) => Some(true),
        ActId::Home(_) => Some(false),
        _ => None,
    }
}
