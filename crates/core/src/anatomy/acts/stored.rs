//! Stored force let out on purpose: a rotor that stands and hangs from what carries it, a collar that sits by oil.

use super::super::body::Way;
use super::super::kinds::Role;
use super::super::{Stands, space};
use super::laws::plain;
use super::work::{How, Work, must_come_later};
use super::{Act, Law, Phase, Stage, Verb};
use crate::caution::Caution;
use crate::terms::ActId;

/// A collar that was drawn up by oil jumps when the oil lets it go: its nut stays on the thread and catches it.
pub(super) fn let_go(w: &mut Work, i: usize) {
    let (id, name) = (w.id(i).to_owned(), w.name(i).to_owned());
    let nut = w.tighteners.iter().find(|t| {
        t.how == How::Nut
            && (t.stack.members.contains(&i) || w.all.part(w.a, t.body).is_some_and(|p| p.locks.contains(&id)))
    });
    let between: Vec<usize> = nut.map_or_else(Vec::new, |t| {
        t.stack.members.iter().copied().take_while(|m| *m != i).chain(t.locks.iter().copied()).collect()
    });
    let nut = nut.map(|t| t.body);
    let catch = nut.map_or("a stop plate bolted to the shaft end".to_owned(), |n| w.name(n).to_owned());
    let words = format!(
        "Let {name} go: expansion pressure until it jumps against {catch}, nobody in line with it. Expansion pressure off first, then the push; wait until the oil has run out."
    );
    let go = ActId::release(&id).text();
    let act = Act::new(&go, Verb::Loosen, Phase::Apart, Stage::TakeApart, &id, words)
        .with("pumps and gauges", 15.0)
        .careful(Caution::Injection);
    w.g.add(act.waits(20.0, "the oil film leaves"));
    w.g.edge(&go, &ActId::off(&id).text(), plain(Law::Joint, format!("{name} is let go before it is drawn off")));
    for o in 1..w.all.list.len() {
        let Way::Axial(from) = w.all.list[i].way else { continue };
        // What stands where it jumps, but for its nut, is off before.
        if o != i && nut != Some(o) && !between.contains(&o) && space::in_way(w.a, w.all, i, from, o).is_some() {
            let off = w.gone(w.hides(o));
            w.g.edge(&off, &go, plain(Law::Joint, format!("{} stands where {name} jumps", w.name(o))));
        }
    }
    let Some(n) = nut else { return };
    let (loosen, off) = (ActId::loosen(w.id(n)).text(), ActId::off(w.id(n)).text());
    if let Some(act) = w.g.act_mut(&loosen) {
        let back = format!(" Back it off by what {name} may jump and leave it on its thread: it catches {name}.");
        act.words = crate::anatomy::text::Text::new(format!("{}{back}", act.words.raw()));
    }
    w.g.edge(&loosen, &go, plain(Law::Joint, format!("{} is backed off by what {name} may jump", w.all.list[n].name)));
    w.g.edge(&go, &off, plain(Law::Joint, format!("{} catches {name} when the oil lets it go", w.all.list[n].name)));
}

/// What carries a rotor that stands, and what is tightened on it: body and act.
fn hangs_from(w: &Work) -> (Vec<usize>, Vec<(usize, String)>) {
    if w.a.stands != Stands::Vertical {
        return (Vec::new(), Vec::new());
    }
    let carries = |i: &usize| {
        w.all
            .part(w.a, *i)
            .is_some_and(|p| p.kind.role().bears() && p.kind.role() != Role::Bush || p.kind.role().taper_ring())
    };
    let carriers: Vec<usize> = (1..w.all.list.len()).filter(carries).collect();
    let holds = |t: &&super::work::Tightener| {
        t.stack.members.iter().any(|m| carriers.contains(m)) || carriers.contains(&t.body)
    };
    let tight = w.tighteners.iter().filter(holds).map(|t| (t.body, t.tight.clone())).collect();
    (carriers, tight)
}

/// A rotor that stands is held before what it hangs from is undone.
pub(super) fn held_up(w: &mut Work) {
    let (carriers, tight) = hangs_from(w);
    if carriers.is_empty() {
        return;
    }
    let hold = ActId::hold("rotor").text();
    let words = "Hang the rotor: eye bolt in its upper end, the hoist takes the weight until what carries it is free; a second stop below.";
    w.g.add(
        Act::new(&hold, Verb::Set, Phase::Apart, Stage::TakeApart, "", words)
            .with("hoist", 10.0)
            .hands(2)
            .careful(Caution::Lifting),
    );
    for b in &carriers {
        let why = plain(Law::Joint, format!("the rotor hangs from {}", w.all.list[*b].name));
        for k in [*b, w.all.root(*b)] {
            for act in [ActId::off(w.id(k)).text(), ActId::open(w.id(k)).text()] {
                w.g.edge(&hold, &act, why.clone());
            }
        }
    }
    for (b, _) in &tight {
        let why = plain(Law::Joint, format!("the rotor hangs from what {} holds", w.all.list[*b].name));
        for act in [ActId::loosen(w.id(*b)).text(), ActId::off(w.id(*b)).text()] {
            w.g.edge(&hold, &act, why.clone());
        }
    }
}

/// A rotor that stands is let down on what carries it once that is there and tight.
pub(super) fn hung(w: &mut Work) {
    let (carriers, tight) = hangs_from(w);
    if carriers.is_empty() {
        return;
    }
    let down = ActId::down("rotor").text();
    let words = "Let the rotor down on what carries it, slowly, the coupling free; then the sling off.";
    w.g.add(
        Act::new(&down, Verb::Set, Phase::Mount, Stage::FitAndMount, "", words)
            .with("hoist", 8.0)
            .hands(2)
            .careful(Caution::Lifting),
    );
    for b in &carriers {
        for first in w.there(*b) {
            w.g.edge(&first, &down, plain(Law::Joint, format!("{} carries the rotor: it is there first", w.name(*b))));
        }
    }
    for (b, act) in &tight {
        w.g.edge(act, &down, plain(Law::Joint, format!("{} holds what the rotor hangs from", w.name(*b))));
    }
    // Readings rest on a rotor that hangs where it will hang.
    let rest: Vec<String> = w
        .g
        .acts
        .iter()
        .filter(|s| s.phase == Phase::Mount && matches!(s.verb, Verb::Float | Verb::Gap | Verb::Position | Verb::Sweep))
        .map(|s| s.id.clone())
        .collect();
    for act in rest {
        if !must_come_later(w, &act, &down) {
            w.g.edge(&down, &act, plain(Law::Joint, "the rotor hangs where it runs first"));
        }
    }
}
