//! What is set beside the parts of a machine: floats, runouts, gaps, seats, pairs, holes, bolts and rules. Each can be
//! put in, changed and taken out, and nothing is left that names what is gone.

use crate::demo;

use demo::machines;
use ironseat_core::anatomy::edit::Edit;
use ironseat_core::anatomy::items::{Item, List};
use ironseat_core::anatomy::{Anatomy, build_sheet, derive, older};
use std::collections::BTreeSet;

fn here(a: &Anatomy, list: List, key: &str) -> Option<Item> {
    a.items().into_iter().find(|i| i.list() == list && i.key() == key)
}

#[test]
fn every_set_thing_is_taken_out_and_put_in_again() {
    let mut kinds = BTreeSet::new();
    for a in machines() {
        for item in a.items() {
            let (list, key) = (item.list(), item.key());
            kinds.insert(list.word());
            assert!(List::ALL.iter().any(|l| List::of(l.1) == Some(list)));
            // Put over itself nothing changes.
            let same = Edit::Put { over: key.clone(), item: Box::new(item.clone()) };
            assert_eq!(same.apply(&a).unwrap(), a, "{key}");
            assert!(same.said().contains(list.word()));
            let out = Edit::Take { list, key: key.clone() };
            // A seat that something else rests on stays.
            let Ok(without) = out.apply(&a) else { continue };
            assert!(here(&without, list, &key).is_none() && out.said().contains(list.word()));
            assert_eq!(out.apply(&without).unwrap_err().field, "board", "{key} is gone already");
            assert_eq!(
                Edit::Put { over: key.clone(), item: Box::new(item.clone()) }.apply(&without).unwrap_err().field,
                "board"
            );
            let back = Edit::Put { over: String::new(), item: Box::new(item.clone()) }.apply(&without).unwrap();
            assert_eq!(back.items().len(), a.items().len(), "{key}");
            assert!(derive(&back).is_ok());
        }
    }
    assert_eq!(kinds.len(), List::ALL.len(), "every kind is in some machine of the demo: {kinds:?}");
}

#[test]
fn what_is_missing_is_said_beside_its_field() {
    let all = machines();
    let first =
        |list: List| all.iter().find_map(|a| Some((a, a.items().into_iter().find(|i| i.list() == list)?))).unwrap();
    let refused =
        |a: &Anatomy, item: Item| Edit::Put { over: item.key(), item: Box::new(item) }.apply(a).unwrap_err().field;
    macro_rules! wrong {
        ($list:ident, $kind:ident, $change:expr, $field:literal) => {{
            let (a, item) = first(List::$list);
            let Item::$kind(mut x) = item else { unreachable!() };
            #[allow(clippy::redundant_closure_call)]
            ($change)(&mut x);
            assert_eq!(refused(a, Item::$kind(x)), $field, concat!(stringify!($list), " ", $field));
        }};
    }
    use ironseat_core::anatomy::{BoltRing, FloatOf, GapOf, Hole, PairOf, Rule, RunoutOf, Seat, ThrustSet};
    use ironseat_core::quantity::{Micrometres, Millimetres};
    wrong!(Floats, Float, |x: &mut FloatOf| x.name.clear(), "name");
    wrong!(Floats, Float, |x: &mut FloatOf| x.hi_mm = x.lo_mm, "hi");
    wrong!(Floats, Float, |x: &mut FloatOf| x.source = "  ".into(), "source");
    wrong!(Runouts, Runout, |x: &mut RunoutOf| x.limit_um = Micrometres::of(0.0), "limit");
    wrong!(Runouts, Runout, |x: &mut RunoutOf| x.source.clear(), "source");
    wrong!(Gaps, Gap, |x: &mut GapOf| x.min_mm = Millimetres::of(0.0), "min");
    wrong!(Gaps, Gap, |x: &mut GapOf| x.source.clear(), "source");
    wrong!(Holes, Hole, |x: &mut Hole| x.at_deg = 360.0, "at_deg");
    wrong!(Bolts, Bolts, |x: &mut BoltRing| x.n = 0, "n");
    wrong!(Bolts, Bolts, |x: &mut BoltRing| x.torque_nm = 0.0, "torque");
    wrong!(Seats, Seat, |x: &mut Box<Seat>| x.source.clear(), "source");
    wrong!(Seats, Seat, |x: &mut Box<Seat>| x.part = "nowhere".into(), "part");
    // What two parts name is another one when a name changes: put as a new one.
    let refused =
        |a: &Anatomy, item: Item| Edit::Put { over: String::new(), item: Box::new(item) }.apply(a).unwrap_err().field;
    let (a, Item::Rule(r)) = first(List::Rules) else { unreachable!() };
    assert_eq!(refused(a, Item::Rule(Rule { then: r.first.clone(), ..r.clone() })), "then");
    assert_eq!(refused(a, Item::Rule(Rule { reason: " ".into(), ..r.clone() })), "reason");
    assert_eq!(refused(a, Item::Rule(r)), "board", "there already");
    let (a, Item::Pair(p)) = first(List::Pairs) else { unreachable!() };
    assert_eq!(refused(a, Item::Pair(PairOf { b: p.a.clone(), ..p })), "b");
    let (a, Item::Thrust(t)) = first(List::Thrusts) else { unreachable!() };
    assert_eq!(refused(a, Item::Thrust(ThrustSet { larger: t.smaller.clone(), ..t })), "larger");
}

/// Where a text stands, but not as a kind.
fn named(v: &serde_json::Value, id: &str, at: &str) -> Option<String> {
    match v {
        serde_json::Value::String(s) => (s == id).then(|| at.to_owned()),
        serde_json::Value::Array(list) => list.iter().find_map(|x| named(x, id, at)),
        serde_json::Value::Object(o) => {
            o.iter().filter(|x| x.0 != "kind" && x.0 != "id").find_map(|(k, x)| named(x, id, &format!("{at}.{k}")))
        }
        _ => None,
    }
}

/// A part or housing that is taken away is named nowhere any more.
#[test]
fn nothing_names_what_is_gone() {
    let mut gone = 0;
    for a in machines() {
        let parts = a.parts.iter().map(|p| Edit::DropPart { id: p.id.clone() });
        let housings = a.housings.iter().map(|h| Edit::DropHousing { id: h.id.clone() });
        for edit in parts.chain(housings) {
            let (Edit::DropPart { id } | Edit::DropHousing { id }) = &edit else { unreachable!() };
            let Ok(without) = edit.apply(&a) else { continue };
            gone += 1;
            let left = named(&serde_json::to_value(&without).unwrap(), id, "");
            assert!(left.is_none(), "{}: {id} is still named at {left:?}", a.name);
            // What is left is a machine that a build sheet can hold and that is derived.
            let again = build_sheet::parse(&build_sheet::write(&without)).unwrap();
            assert_eq!(again, without);
            derive(&again).unwrap();
            assert!(!edit.said().is_empty());
        }
    }
    assert!(gone > 20, "{gone}");
}

#[test]
fn what_scripts_read_holds_every_act_and_question() {
    for a in machines() {
        let d = derive(&a).unwrap();
        let v = d.json(ironseat_core::quantity::Units::Metric);
        let ids =
            |k: &str| v[k].as_array().unwrap().iter().map(|x| x["id"].as_str().unwrap().to_owned()).collect::<Vec<_>>();
        assert_eq!(ids("acts"), d.acts.iter().map(|x| x.id.clone()).collect::<Vec<_>>());
        assert_eq!(ids("questions"), d.questions.iter().map(|x| x.id.clone()).collect::<Vec<_>>());
        assert!(v["faults"].as_array().unwrap().is_empty(), "{}: {}", a.name, v["faults"]);
        for act in v["acts"].as_array().unwrap() {
            assert!(act["words"].as_str().is_some_and(|w| w.ends_with(['.', '?'])), "{act}");
        }
        let on: Vec<String> = d.acts.iter().filter_map(|x| x.id.strip_prefix("on.").map(str::to_owned)).collect();
        let have: Vec<&str> = on.iter().map(String::as_str).collect();
        for p in a.parts.iter().filter(|p| !p.solid) {
            let cost = d.back_out(&a, &have, &p.id).unwrap().json(&a, &d, &p.id);
            assert!(cost["words"].as_str().is_some_and(|w| w.contains(&p.name)), "{cost}");
        }
    }
}

/// A round that an older version had begun: what is off again in it was let go for that.
#[test]
fn what_an_old_round_took_off_was_let_go_before() {
    use ironseat_core::anatomy::acts;
    let mut tried = 0;
    for a in machines() {
        let d = derive(&a).unwrap();
        let done: BTreeSet<String> =
            d.acts.iter().map(|x| x.id.clone()).filter(|id| !id.starts_with("prove.")).collect();
        for reading in d.acts.iter().filter(|x| x.id.starts_with("float.")) {
            for p in a.parts.iter().filter(|p| !p.solid) {
                let round = acts::open_round(&d.acts, &done, 2, &reading.id, &p.id, &[]);
                let list = acts::with_round(&a, d.acts.clone(), &round);
                let off = format!("off.{}#2", p.id);
                let Some(act) = list.iter().find(|x| x.id == off) else { continue };
                let let_go =
                    act.before.iter().map(|b| b.id.as_str()).filter(|b| b.starts_with("loosen.") && b.ends_with("#2"));
                let now = |derivation| older::carried(&a, &d, &list, derivation, &[off.clone()].into());
                for first in let_go {
                    tried += 1;
                    assert!(now(2).iter().any(|c| c.act == first && c.implied && c.from == off), "{}: {first}", a.name);
                    assert!(!now(older::TODAY).iter().any(|c| c.act == first), "today it is asked: {first}");
                }
            }
        }
    }
    assert!(tried > 5, "{tried}");
}

/// Ticks of the first derivation under their names of today: nothing that is done is asked for again.
#[test]
fn old_ticks_are_carried_to_the_acts_that_they_are_now() {
    for a in machines() {
        let d = derive(&a).unwrap();
        let bodies = a.parts.iter().map(|p| p.id.clone()).chain(a.housings.iter().map(|h| h.id.clone()));
        let old: BTreeSet<String> =
            bodies.flat_map(|id| ["off", "on", "torque", "tab"].map(|v| format!("{v}.{id}"))).collect();
        let now = older::carried(&a, &d, &[], 1, &old);
        for c in &now {
            let act = d.act(&c.act).unwrap();
            assert!(old.contains(&c.from), "{} follows from a tick that was there", c.act);
            assert!(!c.number || act.measure.is_some());
            assert!(!old.contains(&c.act));
        }
        // Everything that has to lie before something placed is there too, or was asked for by itself.
        let have: BTreeSet<&str> = now.iter().map(|c| c.act.as_str()).chain(old.iter().map(String::as_str)).collect();
        for act in d.acts.iter().filter(|x| have.contains(x.id.as_str())) {
            for b in act.before.iter().filter(|b| b.id.starts_with("heat.") || b.id.starts_with("loosen.")) {
                assert!(have.contains(b.id.as_str()), "{}: {} is done and {} is not", a.name, act.id, b.id);
            }
        }
    }
}
