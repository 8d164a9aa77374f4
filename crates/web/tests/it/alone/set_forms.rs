//! Forms of the drawing board.

use ironseat_core::anatomy::Anatomy;
use ironseat_web::tried::{
    EditForm, InHand, InputKind, SetForm, bores, edit, groups, housings, in_hand, land_more, part_more, turning,
};
use std::collections::BTreeMap;

/// The form as a browser would send it when nothing is changed.
fn sent(f: &SetForm) -> EditForm {
    let mut more = BTreeMap::new();
    for field in &f.fields {
        match &field.kind {
            InputKind::Text(v) => {
                more.insert(field.name.clone(), v.clone());
            }
            InputKind::Pick(list) => {
                let v = list.iter().find(|c| c.2).or(list.first()).map_or(String::new(), |c| c.0.clone());
                more.insert(field.name.clone(), v);
            }
            InputKind::Tick(on) => {
                on.then(|| more.insert(field.name.clone(), "on".into()));
            }
            InputKind::Many(list) => list.iter().filter(|c| c.2).for_each(|c| {
                more.insert(c.0.clone(), "on".into());
            }),
        }
    }
    EditForm { op: f.op.into(), list: f.list.into(), item: f.key.clone(), more, ..EditForm::default() }
}

/// Every form of every demo machine, sent as it is shown, changes nothing but the order of what was chosen.
#[test]
fn a_form_sent_as_it_is_changes_nothing() {
    let mut tried = 0;
    for a in ironseat_store::machine_types().unwrap() {
        let none = InHand::default();
        let lists = groups(&a, None, &none).into_iter().flat_map(|g| g.forms).filter(|f| !f.key.is_empty());
        // Folded they have no fields; taken in hand each has its own.
        let folded: Vec<SetForm> = lists.chain(housings(&a, None, &none)).collect();
        assert!(folded.iter().all(|f| f.later && f.fields.is_empty()));
        let taken = |f: SetForm| {
            let hand = InHand { list: f.list.into(), item: f.key, ..InHand::default() };
            in_hand(&a, &hand).unwrap()
        };
        let mut forms: Vec<SetForm> = folded.into_iter().map(taken).collect();
        forms.push(turning(&a, None));
        forms.extend(a.parts.iter().map(|p| part_more(&a, p, None)));
        forms.extend(a.lands.iter().filter_map(|l| land_more(&a, l, None)));
        for f in forms {
            let change = edit(&sent(&f), &a).unwrap_or_else(|e| panic!("{}, {}: {e:?}", a.name, f.title)).unwrap();
            let mut after = change.apply(&a).unwrap_or_else(|e| panic!("{}, {}: {e:?}", a.name, f.title));
            let sort = |x: &mut Anatomy| {
                x.parts.iter_mut().for_each(|p| {
                    p.locks.sort();
                    p.covers.sort();
                });
                x.housings.iter_mut().for_each(|h| h.covers.sort());
                x.floats.iter_mut().for_each(|h| h.after.sort());
                x.gaps.iter_mut().for_each(|h| h.after.sort());
                x.floats.iter_mut().for_each(|h| h.without.sort());
                x.pairs.iter_mut().for_each(|h| h.spacers.sort());
            };
            let mut before = a.clone();
            sort(&mut before);
            sort(&mut after);
            assert_eq!(after, before, "{}, {}", a.name, f.title);
            tried += 1;
        }
    }
    assert!(tried >= 300, "{tried}");
}

#[test]
fn what_was_refused_stays_in_its_form_with_the_sentence() {
    let a = ironseat_store::machine_types().unwrap().remove(11);
    let key = a.floats[0].id.clone();
    let f = in_hand(&a, &InHand { list: "float".into(), item: key, ..InHand::default() }).unwrap();
    let mut typed = sent(&f);
    typed.more.insert("hi".into(), "wide".into());
    typed.more.remove("thicker");
    let e = edit(&typed, &a).unwrap_err();
    assert_eq!(e.field, "hi");
    let again = groups(&a, Some((&e.field, &e.message, &typed)), &InHand::default())
        .into_iter()
        .flat_map(|g| g.forms)
        .filter(|f| f.open)
        .collect::<Vec<_>>();
    assert_eq!(again.len(), 1, "only that form folds open");
    assert!(again[0].fields.iter().any(|x| x.name == "hi" && matches!(&x.kind, InputKind::Text(v) if v == "wide")));
    assert!(again[0].fields.iter().any(|x| x.name == "thicker" && matches!(x.kind, InputKind::Tick(false))));
    assert!(!again[0].error.is_empty());
}

#[test]
fn bores_are_read_as_written() {
    assert_eq!(bores("22 to 120 bore 184; 120 to 168,5 bore 92").unwrap()[1].to_mm.get(), 168.5);
    assert!(bores("").unwrap().is_empty());
    for wrong in ["22 to 120", "all of it", "1 2 3 4"] {
        assert!(bores(wrong).unwrap_err().message.contains("such as 22 to 120"), "{wrong}");
    }
}
