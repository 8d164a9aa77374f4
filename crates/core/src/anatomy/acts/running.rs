//! What a machine needs before it runs, besides being fastened: oil between journal and shell, packing on the sleeve that
//! it runs on, expanders drawn up, a collar that turns, marks in line, the first filling.

use super::super::body::{Way, What};
use super::super::clamp::{Stack, TOUCH};
use super::super::kinds::Role;
use super::super::{Lubricant, joints};
use super::laws::plain;
use super::work::{How, Tightener, Work, must_come_later};
use super::{Act, Law, Phase, Stage, Verb};
use crate::caution::Caution;
use crate::terms::ActId;

/// Acts that come before the readings.
pub(super) fn mounting(w: &mut Work) {
    for i in 1..w.all.list.len() {
        let Some(role) = w.all.part(w.a, i).map(|p| p.kind.role()) else { continue };
        match role {
            Role::Bush if w.all.list[i].way == Way::Sideways => oiled(w, i),
            Role::Expander => expander(w, i),
            Role::Collar => free(w, i),
            Role::SealRing => packing(w, i, true),
            _ => {}
        }
    }
    for t in w.tighteners.clone().iter().filter(|t| t.how == How::Nut) {
        marks(w, t);
    }
}

/// Acts by which shells are closed in: the cap over them, the upper half of their housing.
fn closing(w: &Work, i: usize) -> Vec<usize> {
    let over = |o: &usize| {
        let lid = match w.all.list[*o].what {
            What::Housing(_) => w.all.list[*o].split,
            What::Part(_) => w.all.part(w.a, *o).is_some_and(|p| p.kind.role() == Role::Cap),
            What::Shaft => false,
        };
        lid && *o != i && around(w, *o, i)
    };
    (1..w.all.list.len()).filter(over).collect()
}

/// Rings of the one lie farther out than the other, over its length.
fn around(w: &Work, outer: usize, inner: usize) -> bool {
    let (x0, x1) = w.all.list[inner].reach();
    let r1 = w.all.list[inner].radii().1;
    w.all.list[outer].rings.iter().any(|r| r.r0 >= r1 - 0.5 && r.x1.min(x1) - r.x0.max(x0) > (x1 - x0) / 2.0)
}

/// Shells and journal are oiled before they are closed in: the first turns are made on that film.
fn oiled(w: &mut Work, i: usize) {
    let (id, name) = (w.id(i).to_owned(), w.name(i).to_owned());
    let lids = closing(w, i);
    if lids.is_empty() {
        return;
    }
    let act = ActId::oil(&id).text();
    let words = format!("Oil the journal and {name} all round, a film on every face, before they are closed in.");
    w.g.add(
        Act::new(&act, Verb::Grease, Phase::Mount, Stage::FitAndMount, &id, words)
            .with("clean oil, lint-free cloth", 2.0),
    );
    for first in w.there(i) {
        w.g.edge(&first, &act, plain(Law::Safe, format!("{name} is in its place first")));
    }
    for bed in joints::beds(w.a, w.all) {
        let laid = ActId::on(w.id(bed)).text();
        if around(w, bed, i) && !must_come_later(w, &act, &laid) {
            w.g.edge(&laid, &act, plain(Law::Safe, "the journal lies in its shells first"));
        }
    }
    for o in lids {
        let then = w.step(w.hides(o));
        if !must_come_later(w, &then, &act) {
            w.g.edge(&act, &then, plain(Law::Safe, format!("{name} is oiled before {} closes over it", w.name(o))));
        }
    }
}

/// An expander is drawn up once its cap is down and the lift under it set: until then it lies loose.
fn expander(w: &mut Work, i: usize) {
    let (id, name) = (w.id(i).to_owned(), w.name(i).to_owned());
    let act = ActId::expand(&id).text();
    let words = format!(
        "Draw the screws of {name} up evenly, a little each, until it bears all round; turn the shaft: no drag is added."
    );
    w.g.add(
        Act::new(&act, Verb::Tighten, Phase::Mount, Stage::SetAxially, &id, words).with("screwdriver or hex key", 4.0),
    );
    w.g.edge(&ActId::on(&id).text(), &act, plain(Law::Joint, format!("{name} is in first")));
    for c in
        (1..w.all.list.len()).filter(|c| *c != i && w.all.part(w.a, *c).is_some_and(|p| p.kind.role() == Role::Cap))
    {
        if !around(w, c, i) {
            continue;
        }
        let (cap, name_of) = (w.id(c).to_owned(), w.name(c).to_owned());
        for first in [ActId::on(&cap), ActId::bolts(&cap), ActId::lift(&cap)] {
            w.g.edge(
                &first.text(),
                &act,
                plain(Law::Joint, format!("{name} is drawn up under {name_of}, once that is set")),
            );
        }
    }
    let held = (1..w.all.list.len())
        .filter(|b| w.all.part(w.a, *b).is_some_and(|p| p.kind.role() == Role::Bush) && around(w, i, *b))
        .collect();
    w.tighteners.push(Tightener {
        body: i,
        how: How::Expander,
        stack: Stack { members: held, ..Stack::default() },
        nipped: act.clone(),
        tight: act,
        locks: Vec::new(),
        heads: Vec::new(),
    });
}

/// A collar turns freely before the plate that takes its thrust shuts it in.
fn free(w: &mut Work, i: usize) {
    let near = |o: &usize| {
        let gap = |r: &super::super::body::Space, m: &super::super::body::Space| {
            (r.x0 - m.x1).max(m.x0 - r.x1) <= 2.0 && r.across(m) > 1.0
        };
        w.all.part(w.a, *o).is_some_and(|p| p.kind.role() == Role::Plate)
            && w.all.list[*o].rings.iter().any(|r| w.all.list[i].rings.iter().any(|m| gap(r, m)))
    };
    let plates: Vec<usize> = (1..w.all.list.len())
        .filter(near)
        .filter(|o| !must_come_later(w, &w.step(w.hides(*o)), &ActId::on(w.id(i)).text()))
        .collect();
    let Some(&last) = plates.last() else { return };
    let (id, name) = (w.id(i).to_owned(), w.name(i).to_owned());
    let act = ActId::free(&id).text();
    let words = format!("Turn {name} by hand, a whole turn: it turns freely before {} shuts it in.", w.name(last));
    w.g.add(Act::new(&act, Verb::Prove, Phase::Mount, Stage::FitAndMount, &id, words).with("hands", 2.0));
    for first in w.there(i) {
        w.g.edge(&first, &act, plain(Law::BothSides, format!("{name} is on first")));
    }
    for o in plates {
        let then = w.step(w.hides(o));
        w.g.edge(&act, &then, plain(Law::Evidence, format!("{} hides whether {name} turns", w.name(o))));
    }
}

/// Rings of packing run on what lies under them and are pressed by their follower: on after the one and before the
/// other, and out the other way round.
fn packing(w: &mut Work, i: usize, on: bool) {
    let carried = w.all.list[i].parent.or(w.all.list[i].stands_in).is_some();
    if !carried || w.all.list[i].way != Way::Sideways {
        return;
    }
    for (o, follower) in neighbours(w, i) {
        let (own, other) = (w.id(i), w.id(w.all.root(o)));
        let acts = if on { [ActId::on(own), ActId::on(other)] } else { [ActId::off(own), ActId::off(other)] };
        let [own, other] = acts.map(|x| x.text());
        let (name, of) = (w.name(i), w.name(o));
        let words = match (on, follower) {
            (true, true) => format!("{of} presses {name}: that is packed first"),
            (true, false) => format!("{name} runs on {of}: that is on first"),
            (false, true) => format!("{name} comes out after its follower, {of}"),
            (false, false) => format!("{name} is out before {of}, on which it runs, is drawn"),
        };
        let (first, then) = if on == follower { (own, other) } else { (other, own) };
        if !must_come_later(w, &then, &first) {
            w.g.edge(&first, &then, plain(Law::Joint, words));
        }
    }
}

/// What packing runs on, and (second) what follows it up.
fn neighbours(w: &Work, i: usize) -> Vec<(usize, bool)> {
    let own = &w.all.list[i].rings;
    let runs = |o: usize| {
        w.all.list[o].parent.is_none()
            && w.all.list[o]
                .rings
                .iter()
                .any(|r| own.iter().any(|m| (r.r1 - m.r0).abs() < 0.5 && r.along(m) > 0.5 * (m.x1 - m.x0)))
    };
    let follows = |o: usize| {
        w.all.part(w.a, o).is_some_and(|p| p.kind.role().closes())
            && w.all.list[i].parent.or(w.all.list[i].stands_in).is_none_or(|c| w.all.root(c) != w.all.root(o))
            && w.all.list[o].rings.iter().any(|r| {
                own.iter().any(|m| ((r.x0 - m.x1).abs() <= TOUCH || (m.x0 - r.x1).abs() <= TOUCH) && r.across(m) > 1.0)
            })
    };
    (1..w.all.list.len())
        .filter(|o| *o != i)
        .filter_map(|o| if runs(o) { Some((o, false)) } else { follows(o).then_some((o, true)) })
        .collect()
}

/// Packing comes out once its follower is away, and before what it runs on is drawn.
pub(super) fn unpacked(w: &mut Work) {
    for i in (1..w.all.list.len()).filter(|i| w.all.part(w.a, *i).is_some_and(|p| p.kind.role() == Role::SealRing)) {
        packing(w, i, false);
    }
}

/// A wheel was balanced with its nut on: where their marks do not meet after the torque the whole is out of balance.
fn marks(w: &mut Work, t: &Tightener) {
    let Some(&wheel) =
        t.stack.members.iter().find(|m| w.all.part(w.a, **m).is_some_and(|p| p.kind.role() == Role::Rotor))
    else {
        return;
    };
    let (nut, name) = (w.id(t.body).to_owned(), w.name(t.body).to_owned());
    let act = ActId::mark(&nut).text();
    let words = format!(
        "Look at the balance marks of {}, {name} and the shaft: in line, as found. Where they are not, the rotor is balanced again.",
        w.name(wheel)
    );
    w.g.add(
        Act::new(&act, Verb::Prove, Phase::Mount, Stage::TorqueAndLock, &nut, words)
            .with("eyes", 1.0)
            .gives([format!("{nut}.mark")]),
    );
    w.g.edge(&t.tight, &act, plain(Law::Lock, format!("{name} is tight before its mark is read")));
    let lock = ActId::lock(&nut).text();
    let tabs = t.locks.iter().map(|l| ActId::tab(w.id(*l)).text());
    for then in std::iter::once(lock).chain(tabs).collect::<Vec<_>>() {
        w.g.edge(&act, &then, plain(Law::Lock, format!("{name} may have to be moved by its marks")));
    }
    super::readings::reached(w, &act, t.body, "eyes");
}

/// The first filling: what runs in oil has it before it turns under power.
pub(super) fn prime(w: &mut Work) {
    if w.a.lubricant != Some(Lubricant::Oil) {
        return;
    }
    let act = ActId::prove("prime").text();
    let words = "Flush, fill and prime: clean oil to its mark, pumped by hand or by the priming pump until it shows at \
                 every drain, air let out at the highest point. Then turn it by hand once more.";
    w.g.add(
        Act::new(&act, Verb::Prove, Phase::Mount, Stage::Prove, "", words)
            .with("oil, priming pump", 10.0)
            .careful(Caution::FirstRun),
    );
    w.g.edge("prove.turn", &act, plain(Law::Safe, "it turns freely before it is filled"));
    w.g.edge(&act, "prove.run", plain(Law::Safe, "what runs in oil is filled and primed before its first run"));
}
