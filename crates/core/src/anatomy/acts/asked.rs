//! As found: what is asked, when the answer can still be had. After what hides it or makes it impossible, before what
//! moves, loosens or hides it.

use super::super::as_found::{Ask, Question, Topic};
use super::super::body::What;
use super::super::kinds::Role;
use super::super::{Condition, space};
use super::laws::{Because, plain};
use super::readings::{Rests, of_float, of_runout, set_by};
use super::work::{How, Work, must_come_later};
use super::{Act, Law, Phase, Stage, Verb};
use crate::caution::Caution;
use crate::terms::{ActId, End};
use rustc_hash::FxHashMap as HashMap;

/// Ways to look at bodies, worked out once for all that is asked of one.
struct Ways {
    /// The act by which each body is no longer in sight.
    gone: Vec<Option<usize>>,
    /// What is cleared for it, by body; none where it is not cleared before that comes off.
    best: HashMap<usize, Option<Vec<usize>>>,
}

/// When a reading can be taken.
enum When {
    /// As the machine stands.
    AtOnce,
    /// Once these are done, and before those.
    Between { after: Vec<String>, before: Vec<String> },
    /// Not before what it rests on is gone: it is not asked.
    Never,
}

/// Questions: after what hides, before what moves, loosens or hides.
pub(super) fn ask(w: &mut Work, questions: &[Question]) {
    // How a ring is closed is asked of the one that goes on.
    let gone = (0..w.all.list.len()).map(|o| w.g.number(&w.gone(w.hides(o)))).collect();
    let mut seen = Ways { gone, best: HashMap::default() };
    for q in questions.iter().filter(|q| q.topic.ask() != Ask::Closure) {
        let when = when(w, q);
        if matches!(when, When::Never) {
            continue;
        }
        let tool = match q.topic.ask() {
            Ask::Reading => "dial indicator",
            Ask::Points => "feelers",
            Ask::Ohms => "ohmmeter",
            Ask::Length => "depth micrometer or calliper",
            Ask::Angle => "scriber and clock drawing",
            Ask::Facing | Ask::Text | Ask::Hand | Ask::Closure => "eyes, camera",
        };
        let reading = matches!(q.topic.ask(), Ask::Reading | Ask::Points);
        let id = ActId::ask(&q.id).text();
        let mut act = Act::new(&id, Verb::Ask, Phase::Apart, Stage::AsFound, &q.about, q.words.clone())
            .with(tool, if reading { 6.0 } else { 2.0 });
        if reading {
            act = act.careful(Caution::Measuring);
        }
        // One pushes and reads, the other turns at the coupling.
        if q.topic == Topic::Float {
            act = act.hands(2);
        }
        w.g.add(act);
        if let When::Between { after, before } = when {
            for first in after {
                w.g.edge(&first, &id, plain(Law::Evidence, "before that it cannot be read"));
            }
            for then in before {
                w.g.edge(&id, &then, plain(Law::Evidence, "it cannot be told afterwards"));
            }
            continue;
        }
        for off in evidence(w, q) {
            w.g.edge(&id, &off, plain(Law::Evidence, "it cannot be told afterwards"));
        }
        sight(w, q, &id, &mut seen);
    }
}

/// When a float or a sweep can be read as found.
fn when(w: &Work, q: &Question) -> When {
    if let Some(f) = w.a.floats.iter().find(|f| q.topic == Topic::Float && q.id == format!("float.{}", f.id)) {
        let mut after: Vec<String> =
            f.without.iter().flat_map(|x| w.all.pieces_of(x)).map(|b| ActId::off(w.id(w.all.root(b))).text()).collect();
        if f.condition == Condition::Slack {
            let sets = w.tighteners.iter().filter(|t| t.how == How::Adjusting && set_by(w.a, f, w.id(t.body)));
            after.extend(sets.map(|t| ActId::loosen(w.id(t.body)).text()));
        }
        return if after.is_empty() { When::AtOnce } else { between(w, after, &of_float(w, f)) };
    }
    let Some(r) = w.a.runouts.iter().find(|r| q.topic == Topic::Runout && q.id == format!("runout.{}", r.id)) else {
        return When::AtOnce;
    };
    let Some(i) = r.reads.as_deref().and_then(|x| w.all.number(x)).filter(|i| *i != 0) else { return When::AtOnce };
    let face = |end| space::before_face(w.all, i, end, space::TOOL, (0.0, 1.0), &|_| true);
    let rooms = [space::outwards(&w.all.list[i]), face(End::A), face(End::B)];
    let ways: Vec<Vec<usize>> = rooms.iter().filter_map(|room| space::taking(w.all, i, room)).collect();
    let mut ways: Vec<Vec<String>> = ways.iter().map(|way| way.iter().map(|o| w.gone(w.hides(*o))).collect()).collect();
    ways.sort_by_key(Vec::len);
    if ways.first().is_none_or(Vec::is_empty) {
        return When::AtOnce;
    }
    let rests = of_runout(w, r);
    ways.into_iter()
        .map(|after| between(w, after, &rests))
        .find(|when| matches!(when, When::Between { .. }))
        .unwrap_or(When::Never)
}

/// After some acts, and before those that undo what the reading rests on; never, where the one needs the other.
fn between(w: &Work, after: Vec<String>, rests: &Rests) -> When {
    let mut before = Vec::new();
    for b in rests.bodies.union(&rests.housings).filter(|b| !rests.without.contains(b)) {
        before.push(ActId::off(w.id(*b)).text());
        before.push(ActId::off(w.id(w.all.root(*b))).text());
        if rests.closed.contains(b) {
            before.push(ActId::open(w.id(*b)).text());
        }
    }
    let too_late = |x: &String| after.iter().any(|y| x == y || must_come_later(w, x, y));
    if before.iter().any(too_late) {
        return When::Never;
    }
    // What clamps the stacks that locate it; what has to be loosened for the reading is no part of it.
    for t in &w.tighteners {
        let mine = t.stack.members.iter().any(|m| rests.bodies.contains(m));
        let id = w.id(t.body);
        let undone = if t.how == How::Clip { ActId::off(id).text() } else { ActId::loosen(id).text() };
        if mine && !too_late(&undone) {
            before.push(undone);
        }
    }
    When::Between { after, before }
}

/// Acts that destroy what a question asks for.
fn evidence(w: &Work, q: &Question) -> Vec<String> {
    let mut out = Vec::new();
    let take = |i: usize| {
        let root = w.all.root(i);
        let mut list = vec![ActId::off(w.id(i)).text()];
        // Ohms and route of a wire are lost when what carries its probe is drawn.
        let wire = matches!(q.topic, Topic::Wire | Topic::Resistance);
        if matches!(q.topic.ask(), Ask::Reading | Ask::Points) || wire || w.all.list[i].captive {
            list.push(ActId::off(w.id(root)).text());
        }
        list
    };
    for x in &q.before_off {
        for i in w.all.pieces_of(x) {
            out.extend(take(i));
            let id = w.id(i);
            for k in [ActId::loosen(id).text(), ActId::open(id).text()] {
                out.push(k);
            }
        }
        // A mark on the shaft itself is read against what sits on it at an angle.
        if w.all.pieces_of(x).is_empty() {
            out.extend(
                (1..w.all.list.len())
                    .filter(|i| w.all.part(w.a, *i).is_some_and(|p| p.clocked))
                    .map(|i| ActId::off(w.id(i)).text()),
            );
        }
    }
    if q.topic.before_loosen() {
        // Play and runout are lost as soon as anything that locates is loosened.
        out.extend(w.tighteners.iter().map(|t| {
            if t.how == How::Clip { ActId::off(w.id(t.body)).text() } else { ActId::loosen(w.id(t.body)).text() }
        }));
    }
    if q.topic.of_locked_nut() {
        // Which tab lies in which slot is lost when it is straightened.
        let nut = w.all.number(&q.about);
        for t in w.tighteners.iter().filter(|t| Some(t.body) == nut) {
            out.extend(t.locks.iter().flat_map(|l| [ActId::straighten(w.id(*l)).text(), ActId::off(w.id(*l)).text()]));
            out.push(ActId::unlock(w.id(t.body)).text());
        }
    }
    if q.about.is_empty() {
        return out;
    }
    if w.all.pieces_of(&q.about).iter().any(|i| w.all.part(w.a, *i).is_some_and(|p| p.kind.role() == Role::TabWasher)) {
        out.push(ActId::straighten(&q.about).text());
    }
    out
}

/// A hidden thing is not answered: what hides it is off first. What its own carrier hides is seen once that lies on the
/// bench.
fn sight(w: &mut Work, q: &Question, id: &str, known: &mut Ways) {
    if q.about.is_empty() || q.topic.before_loosen() {
        return;
    }
    let Some(i) = w.all.pieces_of(&q.about).into_iter().next() else { return };
    let b = &w.all.list[i];
    if matches!(b.what, What::Housing(_)) {
        return;
    }
    let root = w.all.root(i);
    let rooms = || {
        let band = |end| space::before_face(w.all, i, end, space::TOOL, (0.0, 1.0), &|_| true);
        [band(End::A), band(End::B), space::outwards(b)]
    };
    let own = ActId::off(w.id(root)).text();
    if root != i {
        let seen = rooms().iter().any(|room| space::hiding(w.all, i, i, room).is_some_and(|l| l.is_empty()));
        if !seen && !w.g.number(id).zip(w.g.number(&own)).is_some_and(|(x, y)| w.g.leads(x, y)) {
            w.g.edge(&own, id, Because::Room { tool: "eyes", held: i, standing: root });
        }
        return;
    }
    let Some(at) = w.g.number(&own) else { return };
    let best = known.best.entry(i).or_insert_with(|| {
        // Of the ways to look at it the one that is cleared anyway before it comes off.
        let open = |o: &usize| !known.gone[*o].is_some_and(|x| w.g.leads(x, at));
        // A tab is bent up over its nut: that does not hide it.
        let nuts: Vec<usize> = w.tighteners.iter().filter(|t| t.locks.contains(&i)).map(|t| t.body).collect();
        let way = |room: Vec<space::Space>| {
            let list = space::hiding(w.all, i, root, &room)?;
            Some(list.into_iter().filter(|o| !nuts.contains(o)).collect::<Vec<_>>())
        };
        let ways = rooms().map(way).into_iter().flatten();
        ways.filter(|list| !list.iter().any(open)).min_by_key(Vec::len)
    });
    let (Some(best), Some(y)) = (best.clone().filter(|l| !l.is_empty()), w.g.number(id)) else { return };
    // What is put before it does not come behind it: that stays as it is.
    let behind = w.g.behind(y);
    for o in best {
        let Some(gone) = known.gone[o] else { continue };
        if !behind[gone] {
            let gone = w.gone(w.hides(o));
            w.g.edge(&gone, id, Because::Room { tool: "eyes", held: i, standing: o });
        }
    }
}
