//! The shaft in its beds: laid into all of them before one is closed, lifted out of all when nothing holds it in any.

use super::super::body::{Way, What};
use super::super::kinds::Role;
use super::super::{clamp, joints};
use super::Law;
use super::laws::plain;
use super::work::{How, Work, must_come_later};
use crate::terms::ActId;

/// The shaft lies in all its beds, level, before anything is closed over it in one of them or fastened to one.
pub(super) fn laid_in(w: &mut Work) {
    let beds = joints::beds(w.a, w.all);
    if beds.is_empty() {
        return;
    }
    let (fastened, caps, over) = (fastened_to(w, &beds), caps_over(w, &beds), whole_over(w));
    let set: Vec<_> = w.tighteners.iter().filter(|t| t.how == How::Adjusting).cloned().collect();
    for bed in &beds {
        let laid = ActId::on(w.id(*bed)).text();
        let name = w.name(*bed).to_owned();
        for other in &beds {
            let words = format!("the shaft lies in {name}, too, before {} is closed over it", w.name(*other));
            w.g.edge(&laid, &ActId::close(w.id(*other)).text(), plain(Law::Joint, words));
        }
        for cap in caps.iter().copied() {
            let words = format!("the shaft lies in {name} before {} is laid over it", w.name(cap));
            w.g.edge(&laid, &ActId::on(w.id(cap)).text(), plain(Law::Joint, words));
        }
        for i in &fastened {
            let words = format!("the shaft lies in {name} before {} is fastened", w.name(*i));
            w.g.edge(&laid, &ActId::bolts(w.id(*i)).text(), plain(Law::Joint, words));
        }
        // Set against what stands, with the shaft in it; what holds an oiler down is done before.
        for t in &set {
            let words = format!("the shaft lies in {name} before {} is set", w.name(t.body));
            if !must_come_later(w, &t.tight, &laid) {
                w.g.edge(&laid, &t.tight, plain(Law::Joint, words));
            }
        }
        for p in w.a.parts.iter().filter(|p| p.oiler) {
            let words = format!("the shaft would shear the oiler of {} off", p.name);
            w.g.edge(&ActId::oiler(&p.id).text(), &laid, plain(Law::Joint, words));
        }
        // What carries it there is on before it is laid in.
        for b in lies_on(w, *bed) {
            let (on, words) = (ActId::on(w.id(b)).text(), format!("the shaft lies on {} in {name}", w.name(b)));
            if !must_come_later(w, &laid, &on) {
                w.g.edge(&on, &laid, plain(Law::Joint, words));
            }
            // The weight of the rotor rests on nothing that is hot, or not home.
            let (home, words) = (
                ActId::home(w.id(b)).text(),
                format!("{} is cold and home before the shaft lies on it in {name}", w.name(b)),
            );
            if !must_come_later(w, &laid, &home) {
                w.g.edge(&home, &laid, plain(Law::Joint, words));
            }
        }
        // A whole housing goes over a shaft that lies: it could not be lifted with it.
        for h in over.iter().copied() {
            let (over, words) =
                (ActId::on(w.id(h)).text(), format!("the shaft lies in {name} before {} goes over it", w.name(h)));
            if !must_come_later(w, &over, &laid) {
                w.g.edge(&laid, &over, plain(Law::Joint, words));
            }
        }
    }
}

/// Rings that go on the shaft from an end and that it lies on in a bed; shells are rolled in and out where it lies.
fn lies_on(w: &Work, bed: usize) -> Vec<usize> {
    let on_shaft = |b: &usize| {
        matches!(w.all.list[*b].way, Way::Axial(_)) && w.all.root(*b) == *b && w.all.list[*b].stands_in.is_none()
    };
    clamp::gripped(w.all, bed).filter(on_shaft).collect()
}

/// Flanges that are bolted to one of these, or that hold their halves together.
fn fastened_to(w: &Work, beds: &[usize]) -> Vec<usize> {
    let held = |b: &crate::anatomy::BoltRing| {
        let i = w.all.number(&b.part).filter(|i| *i != 0)?;
        let to = joints::partner(w.a, w.all, b).body();
        (beds.contains(&i) || to.is_some_and(|t| beds.contains(&t) || beds.contains(&w.all.root(t)))).then_some(i)
    };
    w.a.bolt_rings.iter().filter_map(held).collect()
}

/// Caps on open housings.
fn caps_over(w: &Work, beds: &[usize]) -> Vec<usize> {
    let cap = |c: &usize| w.all.part(w.a, *c).is_some_and(|p| p.kind.role() == Role::Cap);
    (1..w.all.list.len())
        .filter(cap)
        .filter(|c| w.all.list[*c].way == Way::Sideways)
        .filter(|c| joints::beds_under(w.a, w.all, *c).any(|b| beds.contains(&b)))
        .collect()
}

/// Housings that go over the shaft from an end and stand by themselves.
fn whole_over(w: &Work) -> Vec<usize> {
    let whole = |h: &usize| {
        matches!(w.all.list[*h].what, What::Housing(_))
            && matches!(w.all.list[*h].way, Way::Axial(_))
            && w.all.list[*h].parent.is_none()
    };
    (1..w.all.list.len()).filter(whole).collect()
}

/// The shaft is lifted out of its beds, all at once, when nothing holds it in any of them.
pub(super) fn lifted(w: &mut Work) {
    let beds = joints::beds(w.a, w.all);
    let fastened = fastened_to(w, &beds);
    let (caps, over) = (caps_over(w, &beds), whole_over(w));
    for bed in &beds {
        let lift = ActId::off(w.id(*bed)).text();
        let held = |what: &str| plain(Law::Joint, format!("the shaft is still held by {what}"));
        for other in &beds {
            let name = format!("the upper half of {}", w.name(*other));
            w.g.edge(&ActId::open(w.id(*other)).text(), &lift, held(&name));
        }
        for c in &caps {
            w.g.edge(&ActId::off(w.id(*c)).text(), &lift, held(w.name(*c)));
        }
        for i in &fastened {
            w.g.edge(&ActId::loosen(w.id(*i)).text(), &lift, held(w.name(*i)));
        }
        for b in lies_on(w, *bed) {
            let off = ActId::off(w.id(b)).text();
            if !must_come_later(w, &off, &lift) {
                w.g.edge(&lift, &off, plain(Law::Joint, format!("the shaft still lies on {}", w.name(b))));
            }
        }
        for h in over.iter().copied() {
            let off = ActId::off(w.id(h)).text();
            if !must_come_later(w, &lift, &off) {
                w.g.edge(&off, &lift, held(w.name(h)));
            } else if let Some(act) = w.g.act_mut(&lift) {
                // Its way off leads past this bed.
                let with = format!("{} {} rises with it: slung, too.", act.words.raw(), w.all.list[h].name);
                act.words = crate::anatomy::text::Text::new(with);
            }
        }
    }
}

/// The shaft is turned while bolts are drawn down only where everything that carries it is in.
pub(super) fn turned(w: &mut Work) {
    let carriers: Vec<usize> = (1..w.all.list.len())
        .filter(|i| w.all.part(w.a, *i).is_some_and(|p| p.kind.role().bears() || p.kind.role().taper_ring()))
        .collect();
    for k in 0..w.a.bolt_rings.len() {
        let ring = w.a.bolt_rings[k].clone();
        let Some(i) = w.all.number(&ring.part).filter(|i| *i != 0) else { continue };
        let bolts = ActId::bolts(w.id(i)).text();
        let there = |b: &usize| w.there(*b).into_iter().take(1).all(|on| must_come_later(w, &on, &bolts));
        if carriers.is_empty() || !carriers.iter().all(there) {
            let words = super::tighten::bolt_words(w.name(i), &ring, false);
            if let Some(act) = w.g.act_mut(&bolts) {
                act.words = crate::anatomy::text::Text::new(words).capital();
            }
        }
    }
}
