//! Mounting: measuring what goes on, heating, placing, proving home, and the moves that belong to one part.

use super::super::body::What;
use super::super::kinds::Role;
use super::super::text::{mm, um};
use super::super::{Anatomy, Hold, Lubricant, Part, space};
use super::graph::needed;
use super::laws::{Because, Step, plain};
use super::words::{self, must_precede};
use super::work::Work;
use super::{Act, Law, Phase, Stage, Unit, Verb};
use crate::caution::Caution;
use crate::fit::designation;
use crate::preload::running_clearance;
use crate::quantity::Grams;
use crate::seal::tilt_limit;
use crate::terms::{ActId, End, StepKind};
use rustc_hash::FxHashMap as HashMap;

pub(super) fn mount(w: &mut Work) {
    for p in &w.a.parts {
        if !p.solid {
            parts_check(w, p);
        }
    }
    for i in 1..w.all.list.len() {
        place(w, i);
    }
    let (on, close) = (w.numbers(ActId::On), w.numbers(ActId::Close));
    let number = |s: Step| match s {
        Step::Place(b) => on[b],
        Step::Close(b) => close[b],
    };
    let all = w.relations.iter().filter_map(|r| Some((number(r.first)?, number(r.then)?, &r.why))).collect();
    let heat = w.numbers(ActId::Heat);
    let hot: HashMap<usize, usize> = on.iter().zip(&heat).filter_map(|(on, heat)| Some(((*on)?, (*heat)?))).collect();
    for (first, then, why) in needed(all) {
        w.g.before(first, then, why.clone());
        // What must be there before a ring, must be there before it is hot.
        if let Some(heat) = hot.get(&then) {
            w.g.before(first, *heat, plain(Law::Contact, why.say(w.a, w.all).raw()));
        }
    }
    for i in 1..w.all.list.len() {
        home(w, i);
    }
}

/// Moves that belong to one part, once it is known what clamps it.
pub(super) fn own_moves(w: &mut Work) {
    for i in 1..w.all.list.len() {
        moves(w, i);
    }
}

/// What is measured of a part before it goes on, and what it is laid beside.
fn parts_check(w: &mut Work, p: &Part) {
    let id = &p.id;
    if let Some(words) = p.kind.row().kit {
        let said = words.replace("{name}", &p.name);
        w.g.add(
            Act::new(ActId::kit(id).text(), Verb::Measure, Phase::Mount, Stage::Parts, id, said)
                .with("micrometer", 4.0),
        );
    }
    if p.kind.role() == Role::Key {
        let words = format!(
            "Measure {} and both keyways before it is bedded: clearance over the key, never interference.",
            p.name
        );
        // With no clearance the hub rides on its key and runs out.
        let act = Act::new(ActId::key(id).text(), Verb::Measure, Phase::Mount, Stage::Parts, id, words)
            .with("depth micrometer", 5.0);
        w.g.add(act.sets("clearance over it", Unit::Mm, (Some(0.0), None), "the hub must not ride on its key"));
    }
    if w.a.pairs.iter().any(|x| x.spacers.contains(id)) {
        let words =
            format!("Compare the height of {} with its fellow, at four points: the offset sets the preload.", p.name);
        let act = Act::new(ActId::height(id).text(), Verb::Measure, Phase::Mount, Stage::Parts, id, words)
            .with("electronic gauge", 6.0);
        w.g.add(act.sets("height over its fellow", Unit::Um, (None, None), ""));
    }
    if p.kind.role() == Role::Bush && p.fit.tight() {
        let (words, tool) = match hole_of(w, id) {
            Some(hole) => (
                format!(
                    "Measure the hole in {hole} for {}: size at both ends and across, lead-in chamfer, no burr.",
                    p.name
                ),
                "bore gauge",
            ),
            None => (
                format!("Measure the seat under {}: size at both ends and across, lead-in chamfer, no burr.", p.name),
                "micrometer",
            ),
        };
        w.g.add(Act::new(ActId::seat(id).text(), Verb::Measure, Phase::Mount, Stage::Parts, id, words).with(tool, 5.0));
    }
}

/// Name of what has the hole that a bush is pressed into; none for one that is pressed over the shaft.
fn hole_of<'a>(w: &'a Work, bush: &str) -> Option<&'a str> {
    let b = &w.all.list[w.all.number(bush)?];
    Some(w.name(b.parent.or(b.stands_in)?))
}

/// Placing a body, with heating before it where it goes on hot.
#[expect(clippy::too_many_lines, reason = "all that goes with putting one body on")]
fn place(w: &mut Work, i: usize) {
    let (a, all) = (w.a, w.all);
    let b = &all.list[i];
    let part = all.part(a, i);
    let seat = part
        .and_then(|p| a.seats.iter().find(|s| s.part == p.id))
        .filter(|_| !b.id.ends_with(".outer") && !b.id.ends_with(".cage"));
    let bores: Vec<usize> = (1..all.list.len())
        .filter(|h| matches!(all.list[*h].what, What::Housing(_)) && super::super::clamp::grips(all, *h, i))
        .collect();
    // A ring is not heated to enter a bore that is there already: its outside would grow.
    let enters = || bores.iter().any(|h| must_precede(&w.ahead, *h, i));
    let hot = part.is_some_and(|p| p.fit == Hold::Shrink) && b.parent.is_none() && b.stands_in.is_none() && !enters();
    let (heavy, people) = w.lifting(i);
    let tool = if heavy {
        "hoist"
    } else {
        part.map_or("hands", |p| {
            p.kind
                .row()
                .tools
                .map_or(if hot || p.fit != Hold::Shrink { p.fit.tool() } else { Hold::Press.tool() }, |t| t.0)
        })
    };
    let stage = match part.map(|p| p.kind.role()) {
        Some(r) if r.closes() || r == Role::Sensor => Stage::CloseUp,
        _ => Stage::FitAndMount,
    };
    let mut words = words::on(a, all, i, hot);
    if let Some(guard) = words::lip_guard(a, all, i).filter(|_| b.parent.is_none()) {
        words = format!("{words} {guard}");
    }
    if let Some(other) = part.and_then(|p| fellow(w, p)) {
        words = format!("{words} Its mark in line with that of {other}.");
    }
    let minutes = part.map_or(15.0, |p| a.minutes_of(p));
    let mut act = Act::new(ActId::on(&b.id).text(), Verb::Place, Phase::Mount, stage, &b.id, words)
        .with(tool, minutes)
        .hands(people);
    act.caution = match part {
        Some(p) if !hot && p.fit == Hold::Shrink => Some(Caution::Press),
        Some(p) => words::caution(p, true, heavy),
        None => heavy.then_some(Caution::Lifting),
    };
    if hot || part.is_some_and(|p| p.fit == Hold::Oil) {
        let (wait, word) = part.map_or((0.0, ""), |p| {
            (
                p.fit.wait_minutes(p.outside_mm.0),
                if p.fit == Hold::Oil { "pressure hold, then the oil film leaves" } else { "cooling" },
            )
        });
        act = act.waits(wait, word);
    }
    act.seat = seat.map(|s| (s.id.clone(), StepKind::PutOn));
    act.given = given(a, b, part);
    w.g.add(act);
    let on = ActId::on(&b.id).text();
    if hot && let Some(p) = part {
        let words = format!(
            "Heat {} on the heater, probe on the ring that is tight; never above what its cage, seals and grease stand.",
            b.name
        );
        let mut act = Act::new(ActId::heat(&b.id).text(), Verb::Heat, Phase::Mount, Stage::FitAndMount, &b.id, words)
            .with("induction heater", (p.outside_mm.0 / 20.0).clamp(4.0, 20.0).round())
            .careful(Caution::Heater);
        act.seat = seat.map(|s| (s.id.clone(), StepKind::Heat));
        w.g.add(act);
        w.g.edge(&ActId::heat(&b.id).text(), &on, plain(Law::Contact, format!("{} goes on hot", b.name)));
    }
    let first = if hot { ActId::heat(&b.id).text() } else { on.clone() };
    let of = part.map_or(b.id.clone(), |p| p.id.clone());
    for (what, why) in [
        ("kit", "is measured before it goes on"),
        ("key", "is measured before it is bedded"),
        ("height", "is measured before it goes on"),
        ("seat", "has its seat measured before it is pressed home"),
        ("look", "is cleaned and looked at before it goes on"),
    ] {
        w.g.edge(&format!("{what}.{of}"), &first, plain(Law::Evidence, format!("{} {why}", b.name)));
    }
    for h in a.holes.iter().filter(|h| h.housing == b.id) {
        let words = format!("Turn {}; a wire goes through it.", words::hole(a, h));
        let id = ActId::hole(format!("{}.{}", b.id, h.id)).text();
        w.g.add(Act::new(&id, Verb::Set, Phase::Mount, Stage::FitAndMount, &b.id, words).with("eyes, wire", 2.0));
        w.g.edge(&ActId::look(&b.id).text(), &id, plain(Law::Evidence, format!("{} is cleaned first", b.name)));
        w.g.edge(&id, &on, plain(Law::Evidence, format!("{} can only be turned before it is in its place", b.name)));
    }
    if b.split && matches!(b.what, What::Housing(_)) {
        close(w, i);
    }
}

/// The bearing of a pair that is on before this one: the high spots of the two are set by their marks.
fn fellow<'a>(w: &Work<'a>, p: &Part) -> Option<&'a str> {
    let pair = w.a.pairs.iter().find(|x| x.a == p.id || x.b == p.id)?;
    let other = if pair.a == p.id { &pair.b } else { &pair.a };
    let (own, other) = (w.all.number(&p.id)?, w.all.number(other)?);
    let marked = |i: usize| w.all.part(w.a, i).is_some_and(|q| q.kind.role() == Role::Rolling);
    (marked(own) && marked(other) && must_precede(&w.ahead, other, own)).then(|| w.all.list[other].name.as_str())
}

/// As-found answers that are given back when a body goes on.
fn given(a: &Anatomy, b: &super::super::body::Body, p: Option<&Part>) -> Vec<String> {
    let mut out = Vec::new();
    let clocked = match b.what {
        What::Housing(h) => a.housings[h].clocked,
        _ => p.is_some_and(|p| p.clocked),
    };
    if clocked {
        out.push(format!("{}.clock", b.id));
    }
    for h in a.holes.iter().filter(|h| h.housing == b.id) {
        out.push(format!("{}.port.{}", b.id, h.id));
    }
    let Some(p) = p else { return out };
    if p.kind.has_facing() {
        out.push(format!("{}.faces", p.id));
    }
    match p.kind.role() {
        Role::Shim => out.extend([format!("{}.thickness", p.id), format!("{}.place", p.id)]),
        Role::Sensor => out.push(format!("{}.wire", p.id)),
        Role::Lip => out.push(format!("{}.depth", p.id)),
        Role::Shoes => out.push(format!("{}.order", p.id)),
        _ => {}
    }
    out
}

/// The upper half of a parted housing.
fn close(w: &mut Work, i: usize) {
    let (name, id) = (w.name(i).to_owned(), w.id(i).to_owned());
    let (heavy, people) = w.lifting(i);
    let clocked = matches!(w.all.list[i].what, What::Housing(h) if w.a.housings[h].clocked);
    let words = format!(
        "Lay the upper half of {name} on: its own cap, marks together, joint clean, dowels in; nothing is pinched."
    );
    let mut act = Act::new(ActId::close(&id).text(), Verb::Close, Phase::Mount, Stage::CloseUp, &id, words)
        .with(if heavy { "hoist" } else { "hands" }, 10.0)
        .hands(people)
        .careful(heavy.then_some(Caution::Lifting));
    act.given.push(format!("{id}.halves"));
    if clocked {
        act.given.push(format!("{id}.clock"));
    }
    w.g.add(act);
    w.g.edge(&ActId::on(&id).text(), &ActId::close(&id).text(), Because::Halves { housing: i });
    for b in super::super::clamp::gripped(w.all, i) {
        for id2 in w.there(b) {
            w.g.edge(&id2, &ActId::close(&id).text(), Because::Stack { tightener: i, member: b });
        }
    }
}

/// Proving home what is tight, before it is hidden.
fn home(w: &mut Work, i: usize) {
    let (a, all) = (w.a, w.all);
    let Some(p) = all.part(a, i).filter(|p| {
        p.fit.tight() && !(p.kind.role().seals() || matches!(p.kind.role(), Role::Screw | Role::Clip | Role::Sensor))
    }) else {
        return;
    };
    let b = &all.list[i];
    let on = ActId::on(&b.id).text();
    let id = ActId::home(&b.id).text();
    let (words, tool) = if p.kind.role() == Role::Bush && hole_of(w, &p.id).is_some() {
        (
            format!(
                "Measure the bore of {} after pressing, at both ends and across; ream in line where it is under.",
                b.name
            ),
            "bore gauge, reamer",
        )
    } else {
        (
            format!("Prove {} home, cold: the thinnest feeler enters nowhere at four places; then its depth.", b.name),
            "feelers, depth micrometer",
        )
    };
    let mut act = Act::new(&id, Verb::ProveHome, Phase::Mount, Stage::FitAndMount, &b.id, words).with(tool, 5.0);
    let piece = b.id.ends_with(".outer") || b.id.ends_with(".cage");
    act.seat = a.seats.iter().find(|s| s.part == p.id).filter(|_| !piece).map(|s| (s.id.clone(), StepKind::Home));
    w.g.add(act);
    w.g.edge(&on, &id, plain(Law::Lock, format!("{} is on first", b.name)));
    if let Some(c) = b.parent {
        let next = ActId::on(w.id(c)).text();
        w.g.edge(&id, &next, plain(Law::Contact, format!("{} is proved home before {} moves", b.name, w.name(c))));
        return;
    }
    // A ring that is hot grows outside, too: into its bore only when it is cold.
    if w.g.number(&ActId::heat(&b.id).text()).is_some() {
        for h in (1..all.list.len()).filter(|h| matches!(all.list[*h].what, What::Housing(_))) {
            if super::super::clamp::grips(all, h, i) {
                let then = w.step(w.hides(h));
                w.g.edge(
                    &id,
                    &then,
                    plain(Law::Contact, format!("{} goes on hot: {} comes over it once it is cold", b.name, w.name(h))),
                );
            }
        }
    }
}

/// Moves that belong to one part.
#[expect(clippy::too_many_lines, reason = "a role a move: read as a list")]
fn moves(w: &mut Work, i: usize) {
    let (a, all) = (w.a, w.all);
    let Some(p) = all.part(a, i) else { return };
    let (id, on) = (all.list[i].id.clone(), ActId::on(&all.list[i].id).text());
    match p.kind.role() {
        Role::Flinger => {
            let by = p.back_off_mm.map_or_else(|| "the stated amount".to_owned(), |b| mm(b.0));
            let words = format!("Back {} off by {by} from where it touches; turn by hand: no rub.", p.name);
            let limits = p.back_off_mm.map_or((None, None), |b| (Some(b.0 * 0.8), Some(b.0 * 1.2)));
            let act = Act::new(ActId::back(&id).text(), Verb::Set, Phase::Mount, Stage::SetAxially, &id, words)
                .with("feeler or calliper", 5.0);
            w.g.add(act.sets("backed off", Unit::Mm, limits, "a fifth either way"));
            w.g.edge(&on, &ActId::back(&id).text(), plain(Law::BothSides, format!("{} is on first", p.name)));
            // It is backed off from what it touches.
            let (x0, x1) = all.list[i].reach();
            for o in 1..all.list.len() {
                let (y0, y1) = all.list[o].reach();
                let near = (y0 - x1).abs() < 8.0 || (x0 - y1).abs() < 8.0;
                let across =
                    all.list[o].radii().0 < all.list[i].radii().1 && all.list[o].radii().1 > all.list[i].radii().0;
                let fixed = matches!(all.list[o].what, What::Housing(_))
                    || all.part(a, o).is_some_and(|q| q.kind.role().closes());
                if near && across && fixed {
                    let first = w.step(w.hides(o));
                    w.g.edge(
                        &first,
                        &ActId::back(&id).text(),
                        Because::Reads { what: format!("backing {} off", p.name), needs: o, how: "" },
                    );
                }
            }
        }
        Role::Screw => {
            let nuts = p.locks.iter().filter(|l| a.part(l).is_some_and(|n| n.kind.role() == Role::Nut)).count();
            let words = if nuts > 0 {
                format!("Turn {} down on its soft pad until it grips: it locks, it does not dent the thread.", p.name)
            } else {
                format!(
                    "Snug the screws of {} in turn, a quarter turn each, then tighten each: one alone cocks the ring.",
                    p.name
                )
            };
            w.g.add(
                Act::new(ActId::lock(&id).text(), Verb::Lock, Phase::Mount, Stage::TorqueAndLock, &id, words)
                    .with("hex key", 4.0),
            );
            w.g.edge(&on, &ActId::lock(&id).text(), plain(Law::Lock, format!("{} is started first", p.name)));
            for l in &p.locks {
                for first in [ActId::on(l).text(), ActId::back(l).text(), ActId::torque(l).text(), ActId::set(l).text()]
                {
                    w.g.edge(
                        &first,
                        &ActId::lock(&id).text(),
                        plain(Law::Lock, format!("{} locks {} once that is set", p.name, a.name_of(l))),
                    );
                }
                w.g.edge(
                    &ActId::on(l).text(),
                    &on,
                    plain(Law::Lock, format!("{} goes in through {}", p.name, a.name_of(l))),
                );
            }
            let ray = space::outwards(&all.list[i]);
            let held: Vec<usize> = p.locks.iter().filter_map(|l| all.number(l)).collect();
            for act in [on, ActId::lock(&id).text()] {
                w.room(&act, i, "hex key", &ray, &held);
            }
        }
        Role::SealRing if p.split => {
            let words =
                format!("Turn the shaft by hand: {} must turn freely, else it is pinched: out and again.", p.name);
            w.g.add(
                Act::new(ActId::free(&id).text(), Verb::Prove, Phase::Mount, Stage::CloseUp, &id, words)
                    .with("hands", 2.0),
            );
            for first in w.there(i) {
                w.g.edge(
                    &first,
                    &ActId::free(&id).text(),
                    plain(Law::BothSides, format!("{} is in its place first", p.name)),
                );
            }
            // What it runs in is around it.
            for o in 1..all.list.len() {
                if all.root(o) != all.root(i) && space::around(a, all, i, o).is_some() {
                    let first = w.step(w.hides(o));
                    w.g.edge(
                        &first,
                        &ActId::free(&id).text(),
                        Because::Reads { what: format!("free turning of {}", p.name), needs: o, how: "" },
                    );
                }
            }
        }
        Role::Sensor => probe(w, i, p),
        Role::Lip => tilt(w, i, p),
        Role::Cap if p.adjusted => {
            let d = a.land(&p.land).map_or(a.bore_of(p), |l| l.d_mm);
            let (lo, hi) = running_clearance(d);
            let words = format!(
                "Lift test under {}: {} to {}; leaves out or in, both sides alike, tighten, slacken and again.",
                p.name,
                um(lo.0),
                um(hi.0)
            );
            let act = Act::new(ActId::lift(&id).text(), Verb::Set, Phase::Mount, Stage::SetAxially, &id, words)
                .with("dial indicator", 10.0);
            w.g.add(act.sets(
                "lift",
                Unit::Um,
                (Some(lo.0), Some(hi.0)),
                "0.0006 to 0.001 of the diameter, unless the maker says otherwise",
            ));
            let first: Vec<usize> = std::iter::once(i).chain(p.covers.iter().filter_map(|c| all.number(c))).collect();
            for b in first {
                for f in w.there(b) {
                    w.g.edge(
                        &f,
                        &ActId::lift(&id).text(),
                        Because::Reads { what: "the lift".into(), needs: b, how: "" },
                    );
                }
            }
            w.g.edge(
                &ActId::bolts(&id).text(),
                &ActId::lift(&id).text(),
                Because::Reads { what: "the lift".into(), needs: i, how: ", drawn down" },
            );
        }
        _ if p.adjusted && p.kind.role() != Role::Nut => {
            let words = format!("Screw {} to contact, a quarter turn back, lock it, try again.", p.name);
            w.g.add(
                Act::new(ActId::adjust(&id).text(), Verb::Set, Phase::Mount, Stage::SetAxially, &id, words)
                    .with("hex key", 4.0),
            );
            w.g.edge(&on, &ActId::adjust(&id).text(), plain(Law::BothSides, format!("{} is on first", p.name)));
        }
        _ => {}
    }
    extras(w, i, p);
    if p.kind.role().bears() {
        grease(w, i, p);
    }
}

/// Plungers and oilers: only where the sheet says that there is one.
fn extras(w: &mut Work, i: usize, p: &Part) {
    let id = w.id(i).to_owned();
    if p.plunger {
        let words = format!("Screw the plunger of {} down until it bottoms, half a turn back.", p.name);
        let act = Act::new(ActId::plunger(&id).text(), Verb::Set, Phase::Mount, Stage::SetAxially, &id, words)
            .with("screwdriver", 2.0);
        w.g.add(act.careful(Caution::Spring));
        w.g.edge(
            &ActId::on(&id).text(),
            &ActId::plunger(&id).text(),
            plain(Law::BothSides, format!("{} is on first", p.name)),
        );
    }
    if p.oiler {
        let words =
            format!("Hold the oiler of {} down with wire until the spindle lies in place; wick soaked.", p.name);
        w.g.add(
            Act::new(ActId::oiler(&id).text(), Verb::Set, Phase::Mount, Stage::FitAndMount, &id, words)
                .with("wire", 3.0),
        );
        w.g.edge(
            &ActId::oiler(&id).text(),
            &ActId::on(&id).text(),
            plain(Law::Contact, format!("the shaft would shear the oiler of {} off", p.name)),
        );
    }
}

fn probe(w: &mut Work, i: usize, p: &Part) {
    let id = w.id(i).to_owned();
    if let Some(v) = p.gap_volts {
        let words = format!("Set the gap of {} by its volts: {} V.", p.name, crate::quantity::show::tidy(v));
        let act = Act::new(ActId::volts(&id).text(), Verb::Set, Phase::Mount, Stage::CloseUp, &id, words)
            .with("voltmeter, wrench", 5.0);
        w.g.add(act.sets("gap voltage", Unit::Volt, (Some(v - 0.3), Some(v + 0.3)), "0.3 V either way"));
        w.g.edge(
            &ActId::on(&id).text(),
            &ActId::volts(&id).text(),
            plain(Law::BothSides, format!("{} is in first", p.name)),
        );
    }
    let words = format!("Measure the ohms of {} again: as before, and no way to earth.", p.name);
    let act = Act::new(ActId::ohm(&id).text(), Verb::WireCheck, Phase::Mount, Stage::CloseUp, &id, words)
        .with("ohmmeter", 3.0);
    w.g.add(act.reads(Unit::Ohm, (None, None), "a twentieth either way of what was found", format!("{id}.ohm")));
    if let Some(m) = w.g.act_mut(&ActId::ohm(&id).text()).and_then(|a| a.measure.as_mut()) {
        m.near = Some(0.05);
    }
    for first in w.there(i) {
        w.g.edge(&first, &ActId::ohm(&id).text(), plain(Law::BothSides, format!("{} is in first", p.name)));
    }
    // A pinched wire shows once the cover lies on it, and can still be saved before its bolts.
    let covers: Vec<usize> = (1..w.all.list.len())
        .filter(|c| match w.all.list[*c].what {
            What::Part(k) => w.a.parts[k].covers.contains(&p.id),
            What::Housing(h) => w.a.housings[h].covers.contains(&p.id),
            What::Shaft => false,
        })
        .collect();
    for c in covers {
        let (cover, bolts) = (w.step(w.hides(c)), ActId::bolts(w.id(c)).text());
        let bolted = w.a.bolt_rings.iter().any(|b| b.part == w.all.list[c].id);
        if bolted {
            w.g.edge(
                &cover,
                &ActId::ohm(&id).text(),
                plain(Law::BothSides, format!("{} lies on the wire first", w.name(c))),
            );
            w.g.edge(
                &ActId::ohm(&id).text(),
                &bolts,
                plain(Law::Reach, format!("a wire pinched under {} is found before its bolts", w.name(c))),
            );
        } else {
            w.g.edge(&ActId::ohm(&id).text(), &cover, plain(Law::Reach, format!("{} hides the wire", w.name(c))));
        }
    }
}

/// The tilt of a seal is measured at the face that can be reached.
fn tilt(w: &mut Work, i: usize, p: &Part) {
    let id = w.id(i).to_owned();
    let limit = tilt_limit(w.a.bore_of(p));
    let words = format!(
        "Measure the depth of {} at four points, mean as found or shifted from the track; tilt, the largest less the least, at most {}.",
        p.name,
        mm(limit.0)
    );
    let act = Act::new(ActId::tilt(&id).text(), Verb::Measure, Phase::Mount, Stage::CloseUp, &id, words)
        .with("depth micrometer", 4.0);
    // Nothing tilts that rides on the shaft without a pocket; what hangs there until its pocket comes is read after that.
    let home = match (w.all.list[i].parent.or(w.all.list[i].stands_in), super::super::joints::pocket(w.a, w.all, i)) {
        (Some(_), _) => ActId::on(&id).text(),
        (None, Some(o)) => super::pockets::in_pocket(w, i, o),
        (None, None) => return,
    };
    let ways = super::pockets::faces(w, i, &home);
    // Where both faces are hidden by what is there before it, nothing can be measured.
    let Some(hiding) = w.least_hidden(ways, &home) else { return };
    w.g.add(act.sets("tilt", Unit::Mm, (None, Some(limit.0)), "by shaft diameter").gives([format!("{id}.depth")]));
    w.g.edge(
        &ActId::on(&id).text(),
        &ActId::tilt(&id).text(),
        plain(Law::BothSides, format!("{} is in first", p.name)),
    );
    for o in hiding {
        let then = w.step(w.hides(o));
        w.g.edge(&ActId::tilt(&id).text(), &then, Because::Room { tool: "depth micrometer", held: i, standing: o });
    }
}

/// Grease by volume, while one side is open.
fn grease(w: &mut Work, i: usize, p: &Part) {
    let Some(b) = p.designation.as_deref().and_then(|d| designation::read(d).ok()).filter(|b| !b.seals.greased())
    else {
        return;
    };
    if w.a.lubricant != Some(Lubricant::Grease)
        || w.all.list[i].id.ends_with(".inner")
        || w.all.list[i].id.ends_with(".cage")
    {
        return;
    }
    let (id, name) = (w.id(i).to_owned(), w.name(i).to_owned());
    let face = std::f64::consts::FRAC_PI_4 * (b.outer.0.powi(2) - b.d.0.powi(2));
    let mass = Grams(0.7 * 7.85e-3 * face * b.width.0);
    let Ok(fill) = crate::grease::fill(b.d, b.outer, b.width, mass, w.a.run_in_rpm) else { return };
    let cm3 = |pct: f64| crate::quantity::show::tidy((fill.free_mm3 * pct / 100.0 / 100.0).round() / 10.0);
    let (lo, hi) = fill.fill_pct;
    let amount = if lo == hi { format!("{} cm³", cm3(lo)) } else { format!("{} to {} cm³", cm3(lo), cm3(hi)) };
    let words = format!(
        "Grease {name}: {amount}, {} % of its free space, half from each side where both are open, worked in by turning.",
        if lo == hi { format!("{lo}") } else { format!("{lo} to {hi}") }
    );
    w.g.add(
        Act::new(ActId::grease(&id).text(), Verb::Grease, Phase::Mount, Stage::CloseUp, &id, words)
            .with("grease gun", 4.0),
    );
    for first in w.there(i) {
        w.g.edge(&first, &ActId::grease(&id).text(), plain(Law::Contact, format!("{name} is on and cold first")));
    }
    let on = ActId::grease(&id).text();
    let ways = [End::A, End::B].map(|end| {
        space::taking(w.all, i, &space::before_face(w.all, i, end, space::TOOL, (0.4, 0.7), &|h| w.stands(h, &on)))
    });
    // What holds it while it cools is on already: grease goes in around it.
    let holders = super::hot::holders(w, i);
    let ways = ways.map(|l| l.map(|l| l.into_iter().filter(|o| !holders.contains(o)).collect::<Vec<_>>()));
    // Where no side is open any more it is greased through its fitting: nothing has to wait.
    for o in w.least_hidden(ways, &ActId::grease(&id).text()).unwrap_or_default() {
        let then = w.step(w.hides(o));
        w.g.edge(&ActId::grease(&id).text(), &then, Because::Room { tool: "grease gun", held: i, standing: o });
    }
}
