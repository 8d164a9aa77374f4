//! What clamps: nuts, circlips, bolted covers; what locks them; the room their tools need.

use super::super::body::{Way, What};
use super::super::clamp::{self, Stack};
use super::super::kinds::Role;
use super::super::text::{mm, nm};
use super::super::{BoltRing, LockedBy, Part, TurnedBy, space};
use super::laws::{Because, plain};
use super::work::Work;
use super::{Act, Law, Phase, Stage, Unit, Verb};
use crate::anatomy::acts::work::{How, Tightener};
use crate::caution::Caution;
use crate::fasten::{Hand, lock_step};
use crate::quantity::show::tidy;
use crate::terms::{ActId, StepKind};

pub(super) fn tighten(w: &mut Work) {
    for i in 1..w.all.list.len() {
        let Some(p) = w.all.part(w.a, i) else { continue };
        match p.kind.role() {
            Role::Nut => nut(w, i, p),
            Role::Clip => clip(w, i, p),
            _ => {}
        }
        // A washer or screw comes after what it holds.
        if !matches!(p.kind.role(), Role::Nut | Role::Clip) {
            for l in holds(w, p) {
                let (first, then) = (ActId::on(w.id(l)).text(), ActId::on(w.id(i)).text());
                w.g.edge(&first, &then, Because::Holds { holder: i, held: l });
            }
        }
    }
    for k in 0..w.a.bolt_rings.len() {
        bolts(w, k);
    }
}

/// What a part holds in its place: there before it, off after it. A tab washer lies under the nut that it locks.
pub(super) fn holds(w: &Work, p: &Part) -> Vec<usize> {
    let under =
        |l: &String| p.kind.role() == Role::TabWasher && w.a.part(l).is_some_and(|n| n.kind.role() == Role::Nut);
    p.locks.iter().filter(|l| !under(l)).flat_map(|l| w.all.pieces_of(l)).collect()
}

/// What locks a nut: the washer under it, screws that name it.
fn locks_of(w: &Work, i: usize, p: &Part, stack: &Stack) -> Vec<usize> {
    (1..w.all.list.len())
        .filter(|k| {
            let Some(q) = w.all.part(w.a, *k) else { return false };
            q.locks_nut(p) || q.kind.role() == Role::TabWasher && stack.members.first() == Some(k)
        })
        .filter(|k| *k != i)
        .collect()
}

/// The seat whose ring a nut holds home: the nearest of its stack that has sheets with a nut on them.
fn seat_of(w: &Work, stack: &Stack) -> Option<String> {
    let of =
        |m: &usize| w.all.part(w.a, *m).and_then(|p| w.a.seats.iter().find(|s| s.part == p.id && !s.nut.is_empty()));
    stack.members.iter().find_map(of).map(|s| s.id.clone())
}

/// Bodies that are said to cover another.
pub(super) fn covered_by(w: &Work, id: &str) -> Vec<usize> {
    (1..w.all.list.len())
        .filter(|c| match w.all.list[*c].what {
            What::Part(k) => w.a.parts[k].covers.iter().any(|x| x == id),
            What::Housing(h) => w.a.housings[h].covers.iter().any(|x| x == id),
            What::Shaft => false,
        })
        .collect()
}

/// Which way tightens or loosens, seen from the nut's own end.
pub(super) fn turn(p: &Part, tighten: bool) -> Option<&'static str> {
    let right = p.hand? == Hand::Right;
    Some(if right == tighten { "clockwise" } else { "anticlockwise" })
}

fn nut(w: &mut Work, i: usize, p: &Part) {
    let stack = clamp::stack(w.a, w.all, i, p.from.other());
    let locks = locks_of(w, i, p, &stack);
    let adjusting = p.adjusted || stack.crosses;
    let (id, name) = (p.id.clone(), p.name.clone());
    let tight = if adjusting { ActId::set(&id).text() } else { ActId::torque(&id).text() };
    let nipped = if adjusting { tight.clone() } else { ActId::nip(&id).text() };
    let washer = locks.iter().any(|k| w.all.part(w.a, *k).is_some_and(|q| q.kind.role() == Role::TabWasher));
    let slots =
        washer || p.locked_by == Some(LockedBy::Tab) || p.locked_by.is_none() && locks.is_empty() && p.tabs.is_some();
    let step = p
        .slots
        .zip(p.tabs)
        .filter(|_| slots && p.locked_by.is_none_or(|l| l == LockedBy::Tab))
        .and_then(|(s, t)| lock_step(s.into(), t.into()).ok());
    let pitch = w.a.land(&p.land).and_then(|l| l.pitch_mm).map(|m| m.0);
    let way = turn(p, true)
        .map_or_else(|| "the way its hand says, as found".to_owned(), |t| format!("{t} seen from its own end"));
    let tool = match p.turned_by {
        TurnedBy::Outside => "torque or hook wrench",
        TurnedBy::Face => "pin wrench",
        TurnedBy::Window => "bar through the window",
    };
    if adjusting {
        w.g.add(adjust(w, p, &tight, step, pitch, &way).with(tool, 12.0).careful(Caution::Nut));
    } else {
        let words = format!("Nip {name}, turn the shaft, nip again: {way}; it holds the stack until all is cold.");
        let mut nip = Act::new(&nipped, Verb::Nip, Phase::Mount, Stage::FitAndMount, &id, words).with(tool, 2.0);
        nip.seat = seat_of(w, &stack).map(|s| (s, StepKind::Nip));
        w.g.add(nip);
        w.g.add(
            tighten_act(p, &tight, step, pitch, &way)
                .with(tool, 6.0)
                .careful(Caution::Nut)
                .gives([format!("{id}.mark")]),
        );
        w.g.edge(&nipped, &tight, plain(Law::Lock, format!("{name} is nipped first")));
    }
    w.g.edge(&ActId::on(&id).text(), &nipped, plain(Law::Lock, format!("{name} is on its thread first")));
    complete(w, i, &stack, &nipped, &tight);
    for l in p.locks.iter().flat_map(|l| w.all.pieces_of(l)).collect::<Vec<_>>() {
        let first = ActId::on(w.id(l)).text();
        w.g.edge(&first, &nipped, Because::Holds { holder: i, held: l });
    }
    let room = room_of(w, i, p, &|h| w.stands(h, &tight));
    w.room(&tight, i, "spanner", &room, &locks);
    let words = format!("Measure how far {name} stands from the shaft end; compare with as found.");
    let out = Act::new(ActId::standout(&id).text(), Verb::Measure, Phase::Mount, Stage::TorqueAndLock, &id, words)
        .with("depth micrometer", 2.0);
    w.g.add(out.reads(Unit::Mm, (None, None), "", format!("{id}.standout")));
    w.g.edge(&tight, &ActId::standout(&id).text(), plain(Law::BothSides, format!("{name} is tight first")));
    let act = ActId::standout(&id).text();
    let depth = space::before_face(w.all, i, p.from, space::TOOL, (0.0, 1.0), &|h| w.stands(h, &act));
    w.room(&act, i, "depth micrometer", &depth, &locks);
    lock(w, i, p, &tight, &locks, &room, step);
    for c in covered_by(w, &id) {
        let then = w.step(w.hides(c));
        let acts: Vec<String> = [tight.clone(), ActId::lock(&id).text()]
            .into_iter()
            .chain(locks.iter().map(|k| ActId::tab(w.id(*k)).text()))
            .collect();
        for act in acts {
            w.g.edge(&act, &then, Because::Covers { body: i, cover: c });
        }
    }
    w.tighteners.push(Tightener {
        body: i,
        how: if adjusting { How::Adjusting } else { How::Nut },
        stack,
        tight,
        nipped,
        locks,
        heads: Vec::new(),
    });
}

/// The whole stack is there before it is pressed together, and cold before it is tight.
fn complete(w: &mut Work, i: usize, stack: &Stack, nipped: &str, tight: &str) {
    for m in &stack.members {
        for (k, first) in w.there(*m).into_iter().enumerate() {
            let then = if k < 2 && !matches!(ActId::of(&first), Some(ActId::Home(_))) { nipped } else { tight };
            w.g.edge(&first, then, Because::Stack { tightener: i, member: *m });
        }
    }
    for h in stack.stops.iter().filter(|h| **h != 0) {
        let first = ActId::on(w.id(w.all.root(*h))).text();
        w.g.edge(&first, nipped, Because::Stack { tightener: i, member: *h });
    }
}

fn tighten_act(p: &Part, id: &str, step: Option<f64>, pitch: Option<f64>, way: &str) -> Act {
    let name = &p.name;
    let by = match (p.torque_nm, p.match_mark) {
        (Some(t), _) => format!(
            "Torque {name} to {}, {way}{}",
            nm(t),
            p.compound.as_deref().map_or(", with what the figure was meant for on the thread".to_owned(), |c| format!(
                ", with {c} on the thread"
            ))
        ),
        (None, true) => format!("Tighten {name} from zero to its match mark, {way}, and stop there"),
        (None, false) => {
            format!("Tighten {name}, {way}: turn the shaft, tighten, slacken and repeat, now that all is cold")
        }
    };
    let slot = match (step, p.match_mark) {
        (Some(deg), false) => format!(
            "; then on to the next slot, at most {} degrees{}, never back",
            tidy(deg),
            pitch.map_or(String::new(), |m| format!(" ({})", mm((m * deg / 360.0 * 1e3).round() / 1e3)))
        ),
        _ => String::new(),
    };
    let act = Act::new(id, Verb::Tighten, Phase::Mount, Stage::TorqueAndLock, &p.id, format!("{by}{slot}."));
    match p.torque_nm {
        Some(t) => {
            let (lo, hi) = window(t, p.torque_hi_nm, step.is_some());
            act.sets(
                "torque",
                Unit::NewtonMetre,
                (Some(lo), Some(hi)),
                if p.torque_hi_nm.is_some() {
                    "build sheet"
                } else {
                    "the figure, and what the way to the slot may add"
                },
            )
        }
        None => act,
    }
}

/// Least and largest torque: on the way to a slot a third more may be needed, without one a tenth.
pub(super) fn window(torque: f64, said: Option<f64>, slot: bool) -> (f64, f64) {
    (torque, said.unwrap_or((torque * if slot { 1.3 } else { 1.1 } * 1e3).round() / 1e3))
}

/// A nut whose stack goes through rolling contact: turning it is reading it.
fn adjust(w: &Work, p: &Part, id: &str, step: Option<f64>, pitch: Option<f64>, way: &str) -> Act {
    let name = &p.name;
    let float = w.a.floats.iter().find(|f| f.shim.is_none() && super::readings::set_by(w.a, f, &p.id));
    let what = float.map_or_else(
        || "until the float just goes and the drag is even".to_owned(),
        |f| format!("until {} reads {} to {}", f.name, mm(f.lo_mm.0), mm(f.hi_mm.0)),
    );
    // Where one slot is more than the whole window, the slot does not decide.
    let advance = step.zip(pitch).map(|(deg, m)| m * deg / 360.0);
    let lock = match (advance, float, step) {
        (Some(mm_step), Some(f), Some(deg)) if mm_step > f.hi_mm.0 - f.lo_mm.0 => {
            format!(
                "; a slot of {} degrees is {}, more than the window: set it by the float and lock it there",
                tidy(deg),
                mm((mm_step * 1e3).round() / 1e3)
            )
        }
        (_, _, Some(deg)) => {
            format!("; choose the slot, {} degrees apart, by what each leaves: past the aim is said", tidy(deg))
        }
        _ => String::new(),
    };
    let words = format!("Set {name}, {way}, turning the shaft all the while, {what}{lock}.");
    let act = Act::new(id, Verb::Set, Phase::Mount, Stage::Preload, &p.id, words).gives([format!("{}.mark", p.id)]);
    match float {
        Some(f) => act
            .reads(Unit::Mm, (Some(f.lo_mm.0), Some(f.hi_mm.0)), &f.source, format!("float.{}", f.id))
            .points(3)
            .hands(2),
        None => act,
    }
}

fn lock(w: &mut Work, i: usize, p: &Part, tight: &str, locks: &[usize], room: &[space::Space], step: Option<f64>) {
    let id = &p.id;
    for k in locks {
        let q = w.all.part(w.a, *k).map_or(Role::Screw, |q| q.kind.role());
        let washer = w.id(*k).to_owned();
        if q == Role::TabWasher {
            let words = format!(
                "Bend a tab of {} that was never bent into the slot that stands over it; never turn {} back for it.",
                w.name(*k),
                p.name
            );
            let act = ActId::tab(&washer).text();
            w.g.add(
                Act::new(&act, Verb::BendTab, Phase::Mount, Stage::TorqueAndLock, &washer, words).with("drift", 2.0),
            );
            w.g.edge(tight, &act, plain(Law::Lock, format!("{} is tight before its tab is bent", p.name)));
            w.g.edge(&ActId::on(&washer).text(), &act, plain(Law::Lock, format!("{} is on first", w.name(*k))));
            w.g.edge(&ActId::on(&washer).text(), &ActId::on(id).text(), Because::Holds { holder: *k, held: i });
            w.room(&act, i, "drift", room, locks);
        }
    }
    if !locks.is_empty() {
        return;
    }
    let by = p.locked_by.or(step.map(|_| LockedBy::Tab));
    let Some(by) = by else { return };
    let words = match by {
        LockedBy::Tab => {
            format!("Bend the tab of {} into the slot that stands over it; never turn it back for it.", p.name)
        }
        LockedBy::Pin => format!("Pin {}: a new pin, legs bent round.", p.name),
        LockedBy::Wire => format!("Wire {} so that the wire pulls it tight; a new wire.", p.name),
        LockedBy::Stake => {
            format!("Stake the collar of {} into its groove; a new nut when it was staked before.", p.name)
        }
        LockedBy::Compound => {
            format!("Leave {} alone until {} has cured.", p.name, p.compound.as_deref().unwrap_or("the compound"))
        }
        LockedBy::Prevailing => {
            format!("See that {} is new and that the thread stands two turns out of its insert.", p.name)
        }
    };
    let verb = if by == LockedBy::Tab { Verb::BendTab } else { Verb::Lock };
    let act = Act::new(ActId::lock(id).text(), verb, Phase::Mount, Stage::TorqueAndLock, id, words)
        .with("pliers, drift", 3.0);
    w.g.add(act.waits(p.cure_min.filter(|_| by == LockedBy::Compound).unwrap_or(0.0), "cure"));
    w.g.edge(tight, &ActId::lock(id).text(), plain(Law::Lock, format!("{} is tight before it is locked", p.name)));
    w.room(&ActId::lock(id).text(), i, "pliers", room, locks);
}

/// Room of the tool that turns a nut or springs a clip.
pub(super) fn room_of(w: &Work, i: usize, p: &Part, stands: space::Stands<'_>) -> Vec<space::Space> {
    let length = p.tool_mm.map_or(space::TOOL, |m| m.0);
    match (p.kind.role(), p.turned_by) {
        (Role::Clip, _) => space::pliers(w.all, i, p.from, length, stands),
        (_, TurnedBy::Window) => Vec::new(),
        (_, t) => space::spanner(w.all, i, p.from, t == TurnedBy::Outside, length, stands),
    }
}

fn clip(w: &mut Work, i: usize, p: &Part) {
    let to = p.from.other();
    let stack = clamp::stack(w.a, w.all, i, to);
    let on = ActId::on(&p.id).text();
    for m in stack.members.clone() {
        if w.all.list[m].parent == w.all.list[i].parent {
            let first = ActId::on(w.id(m)).text();
            w.g.edge(&first, &on, Because::Stack { tightener: i, member: m });
            w.g.edge(&ActId::home(w.id(m)).text(), &on, Because::Stack { tightener: i, member: m });
        }
    }
    for l in p.locks.iter().flat_map(|l| w.all.pieces_of(l)).collect::<Vec<_>>() {
        let first = ActId::on(w.id(l)).text();
        w.g.edge(&first, &on, Because::Holds { holder: i, held: l });
        w.g.edge(&ActId::home(w.id(l)).text(), &on, Because::Holds { holder: i, held: l });
    }
    let room = room_of(w, i, p, &|h| w.stands(h, &on));
    if w.all.list[i].parent.is_none() {
        w.room(&on, i, "circlip pliers", &room, &[]);
    }
    w.tighteners.push(Tightener {
        body: i,
        how: How::Clip,
        stack,
        tight: on.clone(),
        nipped: on,
        locks: Vec::new(),
        heads: Vec::new(),
    });
}

/// Words of drawing bolts down; the shaft is turned meanwhile where all that carries it is in.
pub(super) fn bolt_words(name: &str, b: &BoltRing, turned: bool) -> String {
    let compound = b.compound.as_deref().map_or(String::new(), |c| format!(", {c} on the threads"));
    let turn = if turned { "; turn the shaft as it is drawn down: what binds is being clamped" } else { "" };
    format!(
        "Tighten the {} bolts of {name} crosswise to {} in stages{compound}, then once round{turn}.",
        b.n,
        nm(b.torque_nm)
    )
}

fn bolts(w: &mut Work, k: usize) {
    let b = w.a.bolt_rings[k].clone();
    let Some(i) = w.all.number(&b.part).filter(|i| *i != 0) else { return };
    let parted = w.all.list[i].split && matches!(w.all.list[i].what, What::Housing(_));
    let stack = match (parted, w.all.list[i].way) {
        (true, _) => Stack { members: clamp::gripped(w.all, i).collect(), ..Stack::default() },
        (false, Way::Axial(from)) => clamp::stack(w.a, w.all, i, from.other()),
        (false, Way::Sideways) => Stack::default(),
    };
    let (id, name) = (w.id(i).to_owned(), w.name(i).to_owned());
    let tight = ActId::bolts(&id).text();
    let words = bolt_words(&name, &b, true);
    let (lo, hi) = window(b.torque_nm, b.torque_hi_nm, false);
    let act = Act::new(&tight, Verb::BoltDown, Phase::Mount, Stage::TorqueAndLock, &id, words)
        .with("torque wrench", 2.0 + f64::from(b.n))
        .sets("torque", Unit::NewtonMetre, (Some(lo), Some(hi)), "the figure and a tenth");
    w.g.add(act);
    let placed = w.step(w.hides(i));
    // Bolted to what it is fitted into at the bench it is tight before both move.
    let inner = w.all.root(i) != i
        && super::super::joints::partner(w.a, w.all, &b).body().is_some_and(|t| w.all.root(t) == w.all.root(i));
    if !inner {
        w.g.edge(&placed, &tight, plain(Law::Lock, format!("{name} is in its place first")));
    }
    // On the bench the whole of it has not moved yet: what lies in it is there, it itself is not.
    let here = |k: usize| inner && w.all.root(k) == w.all.root(i);
    let own = ActId::on(w.id(w.all.root(i))).text();
    for m in stack.members.clone() {
        for first in w.there(m).into_iter().filter(|f| !(here(m) && *f == own)) {
            w.g.edge(&first, &tight, Because::Stack { tightener: i, member: m });
        }
    }
    for h in stack.stops.clone().into_iter().filter(|h| *h != 0 && !(inner && w.all.root(*h) == w.all.root(i))) {
        let first = ActId::on(w.id(w.all.root(h))).text();
        w.g.edge(&first, &tight, Because::Stack { tightener: i, member: h });
    }
    let mut room = Vec::new();
    if let (Some(c), Some(head)) = (b.circle_mm, b.head) {
        let (x0, x1) = w.all.list[i].reach();
        let (r0, r1) = (c.0 / 2.0 - 8.0, c.0 / 2.0 + 8.0);
        room.push(match head {
            crate::terms::End::A => space::Space { x0: x0 - space::TOOL, x1: x0, r0, r1 },
            crate::terms::End::B => space::Space { x0: x1, x1: x1 + space::TOOL, r0, r1 },
        });
        w.room(&tight, i, "wrench", &room, &[]);
    }
    w.tighteners.push(Tightener {
        body: i,
        how: How::Bolts,
        stack,
        nipped: tight.clone(),
        tight,
        locks: Vec::new(),
        heads: room,
    });
}
