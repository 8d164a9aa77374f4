//! Taking apart: the same laws with the present state. What is asked comes before what would destroy the answer.

use super::super::as_found::Question;
use super::super::body::What;
use super::super::kinds::Role;
use super::super::{Anatomy, LandKind, LockedBy, space};
use super::graph::needed;
use super::laws::{Because, Relation, Step, plain};
use super::tighten::{holds, turn};
use super::work::Work;
use super::{Act, Law, Phase, Stage, Verb, words};
use crate::anatomy::acts::work::How;
use crate::caution::Caution;
use crate::terms::ActId;

pub(super) fn apart(w: &mut Work, questions: &[Question]) {
    let safe = Act::new(
        "receive.safe",
        Verb::Isolate,
        Phase::Apart,
        Stage::Receive,
        "",
        "Isolate, tag, try; drain and vent. Note the complaint in the customer's words.",
    )
    .with("lock and tag", 10.0)
    .careful(Caution::Isolate);
    let safe = w.g.add(safe);
    let words = format!("Compare plate and machine with this build sheet: {}. Another variant: stop here.", w.a.name);
    let kind =
        w.g.add(Act::new("receive.kind", Verb::Inspect, Phase::Apart, Stage::Receive, "", words).with("eyes", 5.0));
    w.g.before(safe, kind, plain(Law::Safe, "isolated first"));
    for i in 1..w.all.list.len() {
        off(w, i);
    }
    let (off, open) = (w.numbers(ActId::Off), w.numbers(ActId::Open));
    let number = |s: super::Step| match s {
        Step::Place(b) => off[b],
        Step::Close(b) => open[b],
    };
    let turned = |r: &Relation| {
        // Out of its carrier as soon as the whole group lies on the bench.
        let carrier = if matches!(r.why, Because::Bench { .. } | Because::Captive { .. }) {
            Step::Place(w.all.root(r.then.body()))
        } else {
            r.then
        };
        Some((number(carrier)?, number(r.first)?))
    };
    for (first, then, why) in
        needed(w.relations.iter().filter_map(|r| turned(r).map(|(x, y)| (x, y, &r.why))).collect())
    {
        w.g.before(first, then, why.clone());
    }
    for k in 0..w.tighteners.len() {
        loosen(w, k);
    }
    screws(w);
    inspect(w);
    super::asked::ask(w, questions);
    super::joined::apart(w);
    for i in 0..w.g.acts.len() {
        if w.g.acts[i].phase == Phase::Apart && i != safe && i != kind {
            w.g.before(kind, i, plain(Law::Safe, "isolated, and the right machine, first"));
        }
    }
}

fn off(w: &mut Work, i: usize) {
    let b = &w.all.list[i];
    let part = w.all.part(w.a, i);
    let (heavy, people) = w.lifting(i);
    let tool = if heavy { "hoist" } else { part.map_or("jacking screws", words::off_tool) };
    let minutes = part.map_or(15.0, |p| w.a.minutes_of(p));
    let act = Act::new(
        ActId::off(&b.id).text(),
        Verb::TakeOff,
        Phase::Apart,
        Stage::TakeApart,
        &b.id,
        words::off(w.a, w.all, i),
    )
    .with(tool, minutes)
    .hands(people)
    .careful(part.map_or(heavy.then_some(Caution::Lifting), |p| words::caution(p, false, heavy)));
    w.g.add(act);
    if b.split && matches!(b.what, What::Housing(_)) {
        let words = format!(
            "Lift the upper half of {} off: marks looked for first, jacked level, kept with its own lower half.",
            b.name
        );
        let act = Act::new(ActId::open(&b.id).text(), Verb::TakeOff, Phase::Apart, Stage::TakeApart, &b.id, words)
            .with(if heavy { "hoist" } else { "jacking screws" }, 10.0)
            .hands(people)
            .careful(heavy.then_some(Caution::Lifting));
        w.g.add(act);
        let (id, name) = (b.id.clone(), b.name.clone());
        w.g.edge(
            &ActId::open(&id).text(),
            &ActId::off(&id).text(),
            plain(Law::Way, format!("{name} is opened before the shaft is lifted out of it")),
        );
    }
}

/// Unlock, loosen, take off.
#[expect(clippy::too_many_lines, reason = "one way of holding after the other, in the order of the hands")]
fn loosen(w: &mut Work, k: usize) {
    let t = w.tighteners[k].clone();
    let (id, name) = (w.id(t.body).to_owned(), w.name(t.body).to_owned());
    let gone = w.gone(w.hides(t.body));
    let loosen = match t.how {
        How::Clip => ActId::off(&id).text(),
        How::Nut | How::Adjusting | How::Bolts | How::Expander => ActId::loosen(&id).text(),
    };
    match t.how {
        How::Nut | How::Adjusting => {
            let p = w.all.part(w.a, t.body);
            let way = p.and_then(|p| turn(p, false)).map_or_else(
                || "the way its hand says, as found".to_owned(),
                |d| {
                    let left = p.is_some_and(|p| p.hand == Some(crate::fasten::Hand::Left));
                    format!("{}-hand thread, seen from its own end {d} loosens", if left { "left" } else { "right" })
                },
            );
            let act =
                Act::new(&loosen, Verb::Loosen, Phase::Apart, Stage::TakeApart, &id, format!("Loosen {name}: {way}."))
                    .with("hook or face wrench", 4.0);
            w.g.add(act.careful(Caution::Nut));
        }
        How::Bolts => {
            let n = w.a.bolt_rings.iter().find(|b| b.part == id).map_or(0, |b| b.n);
            let words = format!("Loosen the {n} bolts of {name} crosswise, a little each round.");
            w.g.add(
                Act::new(&loosen, Verb::Loosen, Phase::Apart, Stage::TakeApart, &id, words)
                    .with("wrench", 2.0 + f64::from(n) * 0.5),
            );
        }
        How::Expander => {
            let words = format!("Back the screws of {name} off, a little each in turn, before its cap comes away.");
            w.g.add(
                Act::new(&loosen, Verb::Loosen, Phase::Apart, Stage::TakeApart, &id, words)
                    .with("screwdriver or hex key", 3.0),
            );
            for c in super::tighten::covered_by(w, &id) {
                let away = w.gone(w.hides(c));
                w.g.edge(&loosen, &away, plain(Law::Joint, format!("{name} bears against {}", w.name(c))));
            }
        }
        How::Clip => {}
    }
    if t.how != How::Clip {
        w.g.edge(&loosen, &gone, plain(Law::Lock, format!("{name} is loosened before it comes off")));
    }
    for m in &t.stack.members {
        let root = w.all.root(*m);
        let then = ActId::off(w.id(root)).text();
        if root != w.all.root(t.body) {
            w.g.edge(&loosen, &then, Because::Stack { tightener: t.body, member: *m });
        }
    }
    // The tool needs its room when it is loosened as when it is tightened.
    let mut held = vec![loosen.clone()];
    for l in &t.locks {
        let washer = w.all.part(w.a, *l).is_some_and(|q| q.kind.role() == Role::TabWasher);
        let lock = w.id(*l).to_owned();
        if washer {
            let act = ActId::straighten(&lock).text();
            let words = format!("Straighten the tab of {} before {name} is moved; once only.", w.name(*l));
            w.g.add(
                Act::new(&act, Verb::StraightenTab, Phase::Apart, Stage::TakeApart, &lock, words)
                    .with("drift and hammer", 2.0),
            );
            w.g.edge(&act, &loosen, plain(Law::Lock, format!("its tab is straightened before {name} is turned")));
            held.push(act);
        } else {
            let act = ActId::off(&lock).text();
            w.g.edge(&act, &loosen, plain(Law::Lock, format!("{} locks {name}", w.name(*l))));
        }
    }
    let by = w.all.part(w.a, t.body).and_then(|p| p.locked_by);
    if t.locks.is_empty() && by != Some(LockedBy::Prevailing) && w.g.number(&ActId::lock(&id).text()).is_some() {
        let act = ActId::unlock(&id).text();
        let (verb, words) = match by {
            None | Some(LockedBy::Tab) => {
                (Verb::StraightenTab, format!("Straighten the tab of {name} before it is moved."))
            }
            Some(LockedBy::Pin) => (Verb::Unlock, format!("Draw the pin of {name}: it is scrap.")),
            Some(LockedBy::Wire) => (Verb::Unlock, format!("Cut the wire of {name} and pull it out whole.")),
            Some(LockedBy::Stake) => (Verb::Unlock, format!("Lift the stake of {name} out of its groove.")),
            Some(LockedBy::Compound | LockedBy::Prevailing) => {
                (Verb::Unlock, format!("Warm {name} until its compound lets go; no flame near fuel or solvent."))
            }
        };
        w.g.add(Act::new(&act, verb, Phase::Apart, Stage::TakeApart, &id, words).with("pliers, drift", 3.0));
        w.g.edge(&act, &loosen, plain(Law::Lock, format!("{name} is unlocked before it is turned")));
        held.push(act);
    }
    // The screws of an expander are reached through its cap.
    let covers = if t.how == How::Expander { Vec::new() } else { super::tighten::covered_by(w, &id) };
    for c in covers {
        let first = w.gone(w.hides(c));
        for act in &held {
            w.g.edge(&first, act, Because::Covers { body: t.body, cover: c });
        }
    }
    let tool = if t.how == How::Clip { "circlip pliers" } else { "spanner" };
    // What stands around it until it is loosened keeps the tool from leaving at the side.
    let stands = |h: usize| {
        let gone = w.gone(super::Step::Place(h));
        !w.g.number(&gone).zip(w.g.number(&loosen)).is_some_and(|(x, y)| w.g.leads(x, y))
    };
    let room = match w.all.part(w.a, t.body).filter(|_| !matches!(t.how, How::Bolts | How::Expander)) {
        Some(p) => super::tighten::room_of(w, t.body, p, &stands),
        None => t.heads.clone(),
    };
    if w.all.list[t.body].parent.is_none() || t.how != How::Clip {
        clear(w, &held, t.body, tool, &room, &t.locks);
    }
}

/// What takes the room of a tool is off first.
fn clear(w: &mut Work, acts: &[String], held: usize, tool: &'static str, room: &[space::Space], but: &[usize]) {
    let root = w.all.root(held);
    for o in 1..w.all.list.len() {
        let open = w.all.open(w.a, o);
        if w.all.root(o) == root || but.contains(&o) || open || !space::takes_room(room, &w.all.list[o]) {
            continue;
        }
        let first = w.gone(w.hides(o));
        for act in acts {
            w.g.edge(&first, act, Because::Room { tool, held, standing: o });
        }
    }
}

/// Screws, washers and what else holds come off before what they hold.
fn screws(w: &mut Work) {
    for i in 1..w.all.list.len() {
        let Some(p) = w.all.part(w.a, i) else { continue };
        for l in holds(w, p) {
            if w.all.root(l) != w.all.root(i) {
                let (first, then) = (ActId::off(w.id(i)).text(), ActId::off(w.id(w.all.root(l))).text());
                w.g.edge(&first, &then, Because::Holds { holder: i, held: l });
            }
        }
        if p.kind.role() == Role::Screw {
            let held: Vec<usize> = p.locks.iter().filter_map(|l| w.all.number(l)).collect();
            let (act, ray) = (ActId::off(w.id(i)).text(), space::outwards(&w.all.list[i]));
            clear(w, &[act], i, "hex key", &ray, &held);
        }
    }
}

#[expect(clippy::too_many_lines, reason = "one look after the other, as they come on the bench")]
fn inspect(w: &mut Work) {
    let on_land = |a: &Anatomy, land: &str| {
        a.parts
            .iter()
            .find(|p| {
                p.land == land
                    && !p.solid
                    && (p.kind.role().bears() || p.kind.role().taper_ring() || p.kind.role().seals())
            })
            .map(|p| p.name.clone())
    };
    for l in &w.a.lands {
        let bears = on_land(w.a, &l.id);
        let words = match l.kind {
            LandKind::Thread => format!("Run a nut over {}; dress what catches. Chamfer whole?", l.name),
            LandKind::Taper => format!("Straightedge and blue on {}: contact all along?", l.name),
            LandKind::Keyway => format!("Look at the keyway of {}: edges square, no crack in the corner.", l.name),
            LandKind::Plain | LandKind::Groove | LandKind::Spline | LandKind::Hole if bears.is_some() => format!(
                "Look at {} under {}: burr dressed, no gouge, no old track, chamfer whole, size all along.",
                l.name,
                bears.unwrap_or_default()
            ),
            LandKind::Plain | LandKind::Groove | LandKind::Spline | LandKind::Hole => continue,
        };
        let id = ActId::land(&l.id).text();
        w.g.add(Act::new(&id, Verb::Inspect, Phase::Apart, Stage::Inspect, "", words).with("eyes, thread file", 4.0));
        let bare: Vec<String> = (1..w.all.list.len())
            .filter(|i| w.all.part(w.a, *i).is_some_and(|p| p.land == l.id))
            .map(|i| ActId::off(w.id(w.all.root(i))).text())
            .collect();
        for first in bare {
            w.g.edge(&first, &id, plain(Law::Evidence, format!("{} is bare first", l.name)));
        }
    }
    for p in w.a.parts.iter().filter(|p| !p.solid) {
        if let Some(look) = p.kind.row().look {
            let id = ActId::look(&p.id).text();
            let bearing = p.kind.role().bears();
            let act = Act::new(
                &id,
                Verb::Inspect,
                Phase::Apart,
                Stage::Inspect,
                &p.id,
                format!("Clean {} and look: {look}.", p.name),
            )
            .with("clean cloth, glass", 5.0);
            w.g.add(act.careful(if bearing { Caution::Air } else { Caution::Solvent }));
        }
        for i in w.all.pieces_of(&p.id) {
            let (first, then) = (ActId::off(w.id(i)).text(), ActId::look(&p.id).text());
            w.g.edge(&first, &then, plain(Law::Evidence, format!("{} is off first", p.name)));
        }
    }
    for h in &w.a.housings {
        let id = ActId::look(&h.id).text();
        let words = format!("Clean {}: creep in the bores, cracks, drain and feed open, joint face.", h.name);
        w.g.add(
            Act::new(&id, Verb::Inspect, Phase::Apart, Stage::Inspect, &h.id, words)
                .with("clean cloth, dye", 8.0)
                .careful(Caution::Solvent),
        );
        w.g.edge(&ActId::off(&h.id).text(), &id, plain(Law::Evidence, format!("{} is off first", h.name)));
    }
    // What comes off comes off before it goes on.
    for i in 1..w.all.list.len() {
        let (off, on, name) = (ActId::off(w.id(i)).text(), ActId::on(w.id(i)).text(), w.name(i).to_owned());
        w.g.edge(&off, &on, plain(Law::Way, format!("{name} is off first")));
        let heat = ActId::heat(w.id(i)).text();
        w.g.edge(&off, &heat, plain(Law::Way, format!("{name} is off first")));
        let of = w.all.part(w.a, i).map_or(w.id(i).to_owned(), |p| p.id.clone());
        let first = if w.g.number(&heat).is_some() { heat } else { on };
        w.g.edge(
            &ActId::look(&of).text(),
            &first,
            plain(Law::Evidence, format!("{name} is cleaned and looked at before it goes on")),
        );
        for h in w.a.holes.iter().filter(|h| h.housing == of) {
            w.g.edge(
                &ActId::look(&of).text(),
                &ActId::hole(format!("{of}.{}", h.id)).text(),
                plain(Law::Evidence, format!("{name} is cleaned first")),
            );
        }
        if let Some(land) = w.all.part(w.a, i).filter(|_| w.all.list[i].parent.is_none()).map(|p| p.land.clone()) {
            w.g.edge(
                &ActId::land(&land).text(),
                &first,
                plain(Law::Evidence, format!("the land under {name} is looked at first")),
            );
        }
    }
}
