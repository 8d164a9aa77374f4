//! Readings: what each rests on, in the condition that it states. A gap is read only when both its sides are there and
//! what it is read against is fixed.

use super::super::body::{Way, What};
use super::super::kinds::Role;
use super::super::text::{mm, um};
use super::super::{Anatomy, Condition, FloatOf, RunoutOf, clamp, facing, space};
use super::laws::{Because, plain};
use super::work::Work;
use super::{Act, Law, Phase, Stage, Unit, Verb};
use crate::anatomy::acts::work::How;
use crate::caution::Caution;
use crate::quantity::Millimetres;
use crate::quantity::show::tidy;
use crate::terms::ActId;
use std::collections::BTreeSet;

/// What a float that was read says of its shim: how much thicker or thinner it has to be for the middle of the limits.
///
/// ```
/// # use ironseat_core::anatomy::{Condition, FloatOf, acts::shim_change};
/// # use ironseat_core::quantity::Millimetres;
/// let f = FloatOf { id: "t".into(), name: "Thrust float".into(), lo_mm: Millimetres::of(0.25), hi_mm: Millimetres::of(0.35),
///     shim: Some("s".into()), thicker_reduces: true, after: vec![], source: String::new(), without: vec![], trial: vec![], condition: Condition::Tight };
/// assert!((shim_change(&f, Millimetres::of(0.41)).get() - 0.11).abs() < 1e-12);
/// ```
#[must_use]
pub fn shim_change(f: &FloatOf, read: Millimetres) -> Millimetres {
    let over = read.0 - f.middle().0;
    Millimetres(if f.thicker_reduces { over } else { -over })
}

/// A float that an adjusting nut sets: it names the nut, or names nothing.
pub(super) fn set_by(_: &Anatomy, f: &FloatOf, nut: &str) -> bool {
    f.after.is_empty() || f.after.iter().any(|x| x == nut)
}

/// What a reading rests on, gathered before it is wired.
#[derive(Default)]
pub(super) struct Rests {
    pub bodies: BTreeSet<usize>,
    pub housings: BTreeSet<usize>,
    pub without: BTreeSet<usize>,
    /// Parted housings that must be closed and bolted.
    pub closed: BTreeSet<usize>,
    nipped: bool,
}

fn bodies(w: &Work, ids: &[String]) -> BTreeSet<usize> {
    ids.iter().flat_map(|x| w.all.pieces_of(x)).collect()
}

/// Bearings that hold the shaft across its axis.
fn supports(w: &Work) -> BTreeSet<usize> {
    (1..w.all.list.len())
        .filter(|i| {
            w.all.part(w.a, *i).is_some_and(|p| {
                matches!(p.kind.role(), Role::Rolling | Role::Cone | Role::Cup)
                    || p.kind.role() == Role::Bush
                        && (w.a.bore_of(p).0 - w.a.land(&p.land).map_or(0.0, |l| l.d_mm.0)).abs() < 1.0
            })
        })
        .collect()
}

/// Bearings that hold it along its axis, too: washers, shoes, what is a collar between them.
fn axial(w: &Work) -> BTreeSet<usize> {
    let kinds = |i: usize| {
        w.all
            .part(w.a, i)
            .is_some_and(|p| p.kind.role().bears() || p.kind.role().taper_ring() || p.kind.role() == Role::Collar)
    };
    (1..w.all.list.len()).filter(|i| kinds(*i)).collect()
}

/// Housings around bodies: those that grip or carry them, and those that plain bearings are held in, whatever lies
/// between.
fn housings_of(w: &Work, list: &BTreeSet<usize>) -> BTreeSet<usize> {
    let held_in = |b: usize, h: usize| {
        w.all.part(w.a, b).is_some_and(|p| p.kind.role() == Role::Bush) && space::around(w.a, w.all, b, h).is_some()
    };
    (1..w.all.list.len())
        .filter(|h| matches!(w.all.list[*h].what, What::Housing(_)))
        .filter(|h| {
            list.iter().any(|b| {
                clamp::grips(w.all, *h, *b)
                    || w.all.root(*b) == *h
                    || w.all.list[*b].stands_in == Some(*h)
                    || held_in(*b, *h)
            })
        })
        .collect()
}

/// Wires a reading to all that it rests on.
fn rest(w: &mut Work, act: &str, what: &str, r: &Rests) {
    let because = |needs: usize, how: &'static str| Because::Reads { what: what.to_owned(), needs, how };
    for b in r.bodies.difference(&r.without) {
        for first in w.there(*b) {
            w.g.edge(&first, act, because(*b, ""));
        }
    }
    for h in r.housings.difference(&r.without) {
        let first = ActId::on(w.id(*h)).text();
        w.g.edge(&first, act, because(*h, ""));
        if r.closed.contains(h) {
            let first = w.step(w.hides(*h));
            w.g.edge(&first, act, because(*h, ", closed"));
        }
    }
    // The tighteners of the stacks that locate what is read, in the condition that is stated.
    let list = w.tighteners.clone();
    for t in &list {
        let parted = w.all.list[t.body].split && matches!(w.all.list[t.body].what, What::Housing(_));
        let mine = t.stack.members.iter().any(|m| r.bodies.contains(m))
            || r.bodies.contains(&t.body)
            || r.housings.contains(&t.body);
        let lacks = t.stack.members.iter().chain([&t.body]).any(|m| r.without.contains(m));
        if !mine || lacks || (parted && !r.closed.contains(&t.body)) {
            continue;
        }
        let first = if r.nipped { &t.nipped } else { &t.tight };
        w.g.edge(first, act, because(t.body, if r.nipped { ", nipped" } else { ", tight" }));
    }
    for b in &r.without {
        let then = ActId::on(w.id(w.all.root(*b))).text();
        w.g.edge(act, &then, Because::Plain(Law::BothSides, format!("{what} is read without {}", w.name(*b))));
    }
}

pub(super) fn readings(w: &mut Work) {
    sweeps(w);
    floats(w);
    gaps(w);
    pairs(w);
    two_covers(w);
}

fn sweeps(w: &mut Work) {
    for r in w.a.runouts.clone() {
        let id = ActId::sweep(&r.id).text();
        let words = format!(
            "Sweep {}: at most {}; the dial on it for a whole turn, the high spot marked.",
            r.name,
            um(r.limit_um.0)
        );
        let act = Act::new(&id, Verb::Sweep, Phase::Mount, Stage::TrueUp, &r.part, words)
            .with("test indicator", 8.0)
            .careful(Caution::Measuring);
        w.g.add(act.reads(Unit::Um, (None, Some(r.limit_um.0)), &r.source, format!("runout.{}", r.id)));
        let rests = of_runout(w, &r);
        rest(w, &id, &format!("the sweep of {}", r.name), &rests);
        if let Some(i) = r.reads.as_deref().and_then(|x| w.all.number(x)).filter(|i| *i != 0) {
            reached(w, &id, i, "dial");
        }
    }
}

/// A dial, or an eye, reaches its surface from outside, or along the axis to a face: the way that is hidden by less.
pub(super) fn reached(w: &mut Work, act: &str, i: usize, tool: &'static str) {
    let face = |end| space::before_face(w.all, i, end, space::TOOL, (0.0, 1.0), &|h| w.stands(h, act));
    let rooms = [space::outwards(&w.all.list[i]), face(crate::terms::End::A), face(crate::terms::End::B)];
    let ways = rooms.map(|room| space::taking(w.all, i, &room));
    w.reach(act, i, tool, ways);
}

/// What a float rests on.
pub(super) fn of_float(w: &Work, f: &FloatOf) -> Rests {
    let mut rests =
        Rests { nipped: f.condition == Condition::Nipped, without: bodies(w, &f.without), ..Rests::default() };
    if f.after.is_empty() {
        rests.bodies = axial(w);
        let stacks: BTreeSet<usize> = w
            .tighteners
            .iter()
            .filter(|t| t.stack.members.iter().any(|m| rests.bodies.contains(m)))
            .flat_map(|t| t.stack.members.clone())
            .collect();
        rests.bodies.extend(stacks);
        rests.housings = housings_of(w, &rests.bodies);
        rests.closed = rests.housings.clone();
        // What only snaps in holds along the axis, too.
        rests
            .bodies
            .extend((1..w.all.list.len()).filter(|i| w.all.part(w.a, *i).is_some_and(|p| p.kind.role() == Role::Clip)));
    } else {
        let named = bodies(w, &f.after);
        // What is named is closed; what only holds the shaft is there.
        rests.closed = named.clone();
        rests.housings = named.iter().copied().filter(|b| matches!(w.all.list[*b].what, What::Housing(_))).collect();
        rests.bodies = named.difference(&rests.housings).copied().collect();
        rests.bodies.extend(supports(w).difference(&rests.without));
        rests.housings.extend(housings_of(w, &rests.bodies));
    }
    rests.bodies = rests.bodies.difference(&rests.without).copied().collect();
    if let Some(s) = &f.shim {
        rests.bodies.extend(bodies(w, std::slice::from_ref(s)));
    }
    rests
}

/// What a sweep rests on.
pub(super) fn of_runout(w: &Work, r: &RunoutOf) -> Rests {
    let mut rests =
        Rests { nipped: r.condition == Condition::Nipped, without: bodies(w, &r.without), ..Rests::default() };
    rests.bodies = bodies(w, std::slice::from_ref(&r.part));
    rests.bodies.extend(supports(w));
    if let Some(reads) = &r.reads {
        rests.bodies.extend(bodies(w, std::slice::from_ref(reads)));
    }
    rests.housings = rests.bodies.iter().copied().filter(|b| matches!(w.all.list[*b].what, What::Housing(_))).collect();
    rests.bodies.retain(|b| !rests.housings.contains(b));
    rests.housings.extend(housings_of(w, &rests.bodies));
    rests
}

fn floats(w: &mut Work) {
    for f in w.a.floats.clone() {
        let adjusted =
            f.shim.is_none() && w.tighteners.iter().any(|t| t.how == How::Adjusting && set_by(w.a, &f, w.id(t.body)));
        let rests = of_float(w, &f);
        if adjusted {
            // Turning the nut is reading the float: the whole of it is there when it is turned.
            let nuts: Vec<(usize, String)> = w
                .tighteners
                .iter()
                .filter(|t| t.how == How::Adjusting && set_by(w.a, &f, w.id(t.body)))
                .map(|t| (t.body, t.tight.clone()))
                .collect();
            for (body, act) in nuts {
                let mut own = Rests {
                    bodies: rests.bodies.clone(),
                    housings: rests.housings.clone(),
                    closed: rests.closed.clone(),
                    ..Rests::default()
                };
                own.bodies.remove(&body);
                own.bodies.retain(|b| w.all.part(w.a, *b).is_none_or(|p| p.kind.role() != Role::TabWasher));
                rest_but(w, &act, &f.name, &own, body);
            }
            continue;
        }
        let id = ActId::float(&f.id).text();
        let words = format!(
            "{}: push, zero, pull, read, three pairs, slack back and prove the zero; {} to {}.",
            f.name,
            mm(f.lo_mm.0),
            mm(f.hi_mm.0)
        );
        // Before its shim is set the first reading may lie anywhere: it says how much the shim is changed.
        let act = Act::new(&id, Verb::Float, Phase::Mount, Stage::SetAxially, "", words)
            .with("dial indicator", 10.0)
            .hands(2);
        w.g.add(act.reads(Unit::Mm, (Some(f.lo_mm.0), Some(f.hi_mm.0)), &f.source, id.clone()).points(3));
        rest(w, &id, &f.name, &rests);
    }
}

/// As [`rest`], but for one tightener: the act itself.
fn rest_but(w: &mut Work, act: &str, what: &str, r: &Rests, but: usize) {
    let all = std::mem::take(&mut w.tighteners);
    w.tighteners = all.iter().filter(|t| t.body != but && t.how != How::Adjusting).cloned().collect();
    rest(w, act, what, r);
    w.tighteners = all;
}

fn gaps(w: &mut Work) {
    for g in w.a.gaps.clone() {
        let id = ActId::gap(&g.id).text();
        let words = format!("{}: at four points, the least of them at least {}.", g.name, mm(g.min_mm.0));
        let act = Act::new(&id, Verb::Gap, Phase::Mount, Stage::SetAxially, "", words).with("feelers", 8.0);
        w.g.add(act.reads(Unit::Mm, (Some(g.min_mm.0), None), &g.source, id.clone()).points(4));
        let mut rests =
            Rests { nipped: g.condition == Condition::Nipped, without: bodies(w, &g.without), ..Rests::default() };
        let named = if g.after.is_empty() {
            (1..w.all.list.len()).filter(|i| matches!(w.all.list[*i].what, What::Housing(_))).collect()
        } else {
            bodies(w, &g.after)
        };
        rests.housings = named.iter().copied().filter(|b| matches!(w.all.list[*b].what, What::Housing(_))).collect();
        rests.bodies = named.difference(&rests.housings).copied().collect();
        rests.closed = rests.housings.clone();
        // A gap has two sides: the wheels that run inside what is named.
        let wheels: Vec<usize> = (1..w.all.list.len())
            .filter(|i| w.all.part(w.a, *i).is_some_and(|p| p.kind.role() == Role::Rotor))
            .filter(|i| {
                let (x0, x1) = w.all.list[*i].reach();
                rests.housings.iter().any(|h| {
                    let (y0, y1) = w.all.list[*h].reach();
                    x0 < y1 && y0 < x1
                })
            })
            .collect();
        rests.bodies.extend(wheels);
        rests.bodies.extend(supports(w));
        let around = housings_of(w, &rests.bodies);
        rests.housings.extend(around.into_iter().filter(|h| w.all.list[*h].way != Way::Sideways));
        rest(w, &id, &g.name, &rests);
    }
}

fn pairs(w: &mut Work) {
    for p in w.a.pairs.clone() {
        let (x, y) = (w.a.name_of(&p.a).to_owned(), w.a.name_of(&p.b).to_owned());
        let list: Vec<String> = [&p.a, &p.b].into_iter().chain(&p.spacers).cloned().collect();
        let formed = facing::shape(&p.arrangement);
        let mut rests = Rests { bodies: bodies(w, &list), ..Rests::default() };
        let taper = rests.bodies.iter().any(|b| facing::is_taper(w.all.part(w.a, *b)));
        if taper {
            rests.housings = housings_of(w, &rests.bodies);
            rests.closed = rests.housings.clone();
        }
        let (id, drag) =
            (ActId::preload(format!("{}.{}", p.a, p.b)).text(), ActId::drag(format!("{}.{}", p.a, p.b)).text());
        let words = format!("{x} and {y}, {formed}: push test both ways, the deflection at each load.");
        w.g.add(
            Act::new(&id, Verb::Preload, Phase::Mount, Stage::Preload, &p.a, words)
                .with("indicator, spring scale", 10.0),
        );
        rest(w, &id, "the preload", &rests);
        let words = format!(
            "{x} and {y}: the running drag as torque, both ways, against the drag before preload; even, no tight spot."
        );
        let act =
            Act::new(&drag, Verb::Drag, Phase::Mount, Stage::Preload, &p.a, words).with("string and spring scale", 6.0);
        w.g.add(act.sets("running drag", Unit::NewtonMetre, (None, None), ""));
        rest(w, &drag, "the drag", &rests);
    }
}

/// Where two covers set a float, one is tight first.
fn two_covers(w: &mut Work) {
    for f in &w.a.floats {
        let covers: Vec<String> = w
            .tighteners
            .iter()
            .filter(|t| t.how == How::Bolts && matches!(w.all.list[t.body].way, Way::Axial(_)))
            .filter(|t| t.stack.members.iter().any(|m| w.all.part(w.a, *m).is_some_and(|p| p.kind.role().bears())))
            .filter(|t| f.after.is_empty() || f.after.iter().any(|x| *x == w.all.list[t.body].id))
            .map(|t| t.tight.clone())
            .collect();
        for pair in covers.windows(2) {
            let (x, y) = (&pair[0], &pair[1]);
            let back = w.g.number(x).zip(w.g.number(y)).is_some_and(|(x, y)| w.g.leads(y, x));
            if !back {
                w.g.edge(x, y, plain(Law::Clamp, format!("two covers set {}: one is tight first", f.name)));
            }
        }
    }
}

/// The last of all: turned by hand, read once more, run in.
pub(super) fn prove(w: &mut Work) {
    let mount: Vec<usize> = (0..w.g.acts.len()).filter(|i| w.g.acts[*i].phase == Phase::Mount).collect();
    let words = "Turn it by hand through the full range: even, nothing touches, no tight spot.";
    let turn = w.g.add(Act::new("prove.turn", Verb::Prove, Phase::Mount, Stage::Prove, "", words).with("hands", 4.0));
    let last: Vec<usize> = mount.iter().copied().filter(|i| w.g.after(*i).is_empty()).collect();
    for i in last {
        w.g.before(i, turn, plain(Law::BothSides, "everything is on, tight and locked before it is turned"));
    }
    for f in w.a.floats.clone() {
        let id = ActId::prove(format!("float.{}", f.id)).text();
        // Without its shoes the total travel cannot be read again, nor the play of a nut that is no longer slack.
        if !f.without.is_empty() || f.condition == Condition::Slack {
            continue;
        }
        let act = Act::new(
            &id,
            Verb::Float,
            Phase::Mount,
            Stage::Prove,
            "",
            format!("{}: once more, closed up; beside as found.", f.name),
        )
        .with("dial indicator", 6.0)
        .hands(2);
        w.g.add(
            act.reads(Unit::Mm, (Some(f.lo_mm.0), Some(f.hi_mm.0)), &f.source, format!("float.{}", f.id)).points(3),
        );
        w.g.edge("prove.turn", &id, plain(Law::BothSides, "it turns freely first"));
    }
    // What has no speed and no sense of rotation swings or slides: it is worked, not run.
    let runs = w.a.run_in_rpm > 0.0 || w.a.rotation.is_some();
    let run = if w.a.run_in_rpm > 0.0 {
        format!("Run it in by steps to {} rpm, each until the rise is below 1 K in ten minutes.", tidy(w.a.run_in_rpm))
    } else if runs {
        "Run it in by steps, each until the rise is below 1 K in ten minutes.".to_owned()
    } else {
        "Work it through its whole range, light load first, then under load: nothing binds, nothing gets warm."
            .to_owned()
    };
    let act = Act::new("prove.run", Verb::Prove, Phase::Mount, Stage::Prove, "", run)
        .with("thermometer", 20.0)
        .careful(Caution::FirstRun);
    w.g.add(act.waits(if runs { 90.0 } else { 0.0 }, "run-in"));
    w.g.edge("prove.turn", "prove.run", plain(Law::Safe, "it turns freely by hand before it runs"));
    for f in &w.a.floats {
        w.g.edge(
            &ActId::prove(format!("float.{}", f.id)).text(),
            "prove.run",
            plain(Law::Safe, format!("{} is proved before it runs", f.name)),
        );
    }
}
