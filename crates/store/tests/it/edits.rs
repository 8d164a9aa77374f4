//! Laws of the drawing board and of versions, tried on every machine of the demo: what an edit takes away is gone
//! everywhere, what is put back is the same, and what differs is said.

use ironseat_core::anatomy::difference::difference;
use ironseat_core::anatomy::edit::Edit;
use ironseat_core::anatomy::{Anatomy, as_found, build_sheet, derive};

fn machines() -> Vec<Anatomy> {
    ironseat_store::machine_types().unwrap()
}

/// The anatomy holds, can be derived and written, and knows nothing of an id that is gone.
fn sound(a: &Anatomy, gone: &str) {
    a.clone().check().unwrap_or_else(|e| panic!("{} without {gone}: {e}", a.name));
    let d = derive(a).unwrap();
    {
        let all = &d.acts;
        let ids: std::collections::BTreeSet<&str> = all.iter().map(|s| s.id.as_str()).collect();
        assert_eq!(ids.len(), all.len(), "{}: every step once", a.name);
        for s in all {
            assert!(
                s.before.iter().all(|b| ids.contains(b.id.as_str())),
                "{}: {} waits for what is not there",
                a.name,
                s.id
            );
            assert!(gone.is_empty() || s.body != gone, "{}: {} is about what is gone", a.name, s.id);
        }
    }
    let text = build_sheet::write(a);
    // What cannot be built may be drawn, but is not read in.
    if d.buildable() {
        assert_eq!(&build_sheet::read(&text).unwrap(), a);
    }
    if !gone.is_empty() {
        assert!(a.part(gone).is_none() && a.housings.iter().all(|h| h.id != gone), "{}: {gone} is still there", a.name);
        assert!(
            // A runout may bear the id of the part it was first read at.
            !text
                .replace(&format!("kind = \"{gone}\""), "")
                .replace(&format!("\nid = \"{gone}\""), "")
                .contains(&format!("\"{gone}\"")),
            "{}: {gone} is still named in\n{text}",
            a.name
        );
    }
}

/// Takes part after part off, until nothing is left: whatever the order, each rest is a machine.
#[test]
fn what_is_taken_off_is_named_nowhere_in_any_machine() {
    for a in machines() {
        for p in &a.parts {
            match (Edit::DropPart { id: p.id.clone() }).apply(&a) {
                Ok(b) => {
                    sound(&b, &p.id);
                    let d = difference(&a, &b).unwrap();
                    assert!(
                        d.sentences.iter().any(|s| s.contains(&p.name)),
                        "{}: {} is not said: {:?}",
                        a.name,
                        p.name,
                        d.sentences
                    );
                    assert!(
                        p.solid || d.gone_steps.iter().any(|s| s.0 == format!("on.{}", p.id)),
                        "{}: {}",
                        a.name,
                        p.id
                    );
                }
                // What is held has a sentence that says by what.
                Err(e) => assert!(e.message.len() > 20 && !e.message.contains('_'), "{}: {}: {e}", a.name, p.name),
            }
        }
        for h in &a.housings {
            match (Edit::DropHousing { id: h.id.clone() }).apply(&a) {
                Ok(b) => sound(&b, &h.id),
                Err(e) => assert!(
                    a.seats.iter().any(|s| s.housing == h.id) && e.field == "housing",
                    "{}: {}: {e}",
                    a.name,
                    h.name
                ),
            }
        }
        for forwards in [true, false] {
            let mut rest = a.clone();
            let ids: Vec<String> = rest.parts.iter().map(|p| p.id.clone()).collect();
            let ids: Vec<String> = if forwards { ids } else { ids.into_iter().rev().collect() };
            for id in ids {
                if let Ok(b) = (Edit::DropPart { id: id.clone() }).apply(&rest) {
                    sound(&b, &id);
                    rest = b;
                }
            }
            for l in a.lands.iter().rev() {
                match (Edit::DropLand { id: l.id.clone() }).apply(&rest) {
                    Ok(b) => rest = b,
                    Err(e) => assert!(e.message.contains("lies on it") || rest.lands.len() == 1, "{}: {e}", a.name),
                }
            }
            sound(&rest, "");
        }
    }
}

/// Limits, seats, pairs, holes, bolts and rules: taken out and put in again, and put over themselves.
#[test]
fn what_is_put_back_is_what_was_taken_out() {
    for a in machines() {
        for item in a.items() {
            let (list, key) = (item.list(), item.key());
            let over = Edit::Put { over: key.clone(), item: Box::new(item.clone()) }
                .apply(&a)
                .unwrap_or_else(|e| panic!("{}: {key}: {e}", a.name));
            assert_eq!(over, a, "{}: {key} put over itself", a.name);
            let take = Edit::Take { list, key: key.clone() };
            let without = take.apply(&a).unwrap();
            assert_eq!(without.items().len() + 1, a.items().len(), "{}: {key}", a.name);
            assert!(take.apply(&without).unwrap_err().message.contains("not there any more"));
            assert!(!difference(&a, &without).unwrap().is_empty(), "{}: that {key} went is said", a.name);
            let back = Edit::Put { over: String::new(), item: Box::new(item.clone()) }.apply(&without).unwrap();
            assert_eq!(back.items().len(), a.items().len());
            // The same but for its id, which a new thing gets from its name.
            let bare = |a: &Anatomy| {
                let mut list: Vec<String> = a.items().iter().map(|i| format!("{:?} {}", i.list(), i.key())).collect();
                list.sort();
                list
            };
            if bare(&back) == bare(&a) {
                assert!(difference(&a, &back).unwrap().is_empty(), "{}: {key} came back another", a.name);
            } else {
                assert_eq!(bare(&back).iter().filter(|k| !bare(&a).contains(k)).count(), 1, "{}: {key}", a.name);
            }
        }
    }
}

/// Turned round twice a part lies as before; once, its question and its contradictions are looked at anew.
#[test]
fn turning_a_part_round_twice_changes_nothing() {
    for a in machines() {
        for p in a.parts.iter().filter(|p| p.faces.is_some()) {
            let flip = Edit::FlipPart { id: p.id.clone() };
            let Ok(once) = flip.apply(&a) else { continue };
            assert_ne!(once, a);
            assert_eq!(flip.apply(&once).unwrap(), a, "{}: {}", a.name, p.name);
            let said = difference(&a, &once).unwrap().sentences.join(" ");
            assert!(said.contains(&p.name) && said.contains("faces"), "{}: {said}", a.name);
            let asked = |x: &Anatomy| as_found::questions(x).into_iter().map(|q| q.id).collect::<Vec<_>>();
            assert_eq!(asked(&a), asked(&once), "which way it lies is asked, not told");
        }
    }
}

/// A version differs from itself in nothing, and from another in both directions alike.
#[test]
fn differences_are_the_same_seen_from_either_side() {
    let all = machines();
    for a in &all {
        let mut next = a.clone();
        next.version += 1;
        let d = difference(a, &next).unwrap();
        assert!(d.is_empty() && d.new_steps.is_empty() && d.gone_steps.is_empty() && d.seats.is_empty(), "{}", a.name);
        for p in a.parts.iter().take(6) {
            let Ok(b) = (Edit::DropPart { id: p.id.clone() }).apply(a) else { continue };
            let (to, fro) = (difference(a, &b).unwrap(), difference(&b, a).unwrap());
            assert_eq!((&to.gone_steps, &to.new_steps), (&fro.new_steps, &fro.gone_steps), "{}: {}", a.name, p.name);
            assert_eq!(to.sentences.len(), fro.sentences.len());
        }
    }
}
