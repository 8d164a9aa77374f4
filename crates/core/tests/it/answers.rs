//! What the drawing asks, and the answers that it offers.

use crate::demo;
use ironseat_core::anatomy::answers::Asked;
use ironseat_core::anatomy::edit::Edit;
use ironseat_core::anatomy::{Anatomy, Finding, Role, derive};
use ironseat_core::quantity::Millimetres;
use ironseat_core::terms::End;
use std::collections::BTreeMap;

/// A machine whose sheet leaves open what it can leave open.
fn unsaid(m: &Anatomy) -> Anatomy {
    let mut a = m.clone();
    a.lubricant = None;
    a.bolt_rings.iter_mut().for_each(|b| (b.to, b.head) = (None, None));
    a.runouts.iter_mut().for_each(|r| r.reads = None);
    for p in &mut a.parts {
        (p.against, p.locked_by, p.hand) = (None, None, None);
        match p.kind.role() {
            Role::Nut => (p.tabs, p.locks) = (None, Vec::new()),
            Role::Lip => p.faces = p.keeps.map(End::other),
            Role::Screw | Role::TabWasher => p.locks.clear(),
            _ => {}
        }
    }
    for pair in a.pairs.clone() {
        a.parts.iter_mut().filter(|p| p.id == pair.a || p.id == pair.b).for_each(|p| p.faces = None);
    }
    a
}

fn findings(a: &Anatomy) -> Vec<Finding> {
    let d = derive(a).unwrap();
    d.faults.iter().chain(&d.notes).cloned().collect()
}

/// Gives every answer of every question by itself: each is taken, and what was asked is asked no more.
fn answer_all(a: &Anatomy, met: &mut BTreeMap<&'static str, usize>) {
    for f in findings(a) {
        let Some(ask) = &f.ask else { continue };
        assert!((1..=9).contains(&ask.answers.len()), "{}: {:?}", a.key, ask);
        *met.entry(ask.asked.key()).or_default() += 1;
        for (with, words) in &ask.answers {
            let edit = Edit::Answer { asked: ask.asked, of: ask.of.clone(), with: with.clone() };
            let then =
                edit.apply(a).unwrap_or_else(|e| panic!("{}: {} -> {words}: {}", a.key, f.words.raw(), e.message));
            let still = findings(&then);
            assert!(
                !still.iter().any(|s| s.words == f.words),
                "{}: answered with {words}, and still: {}",
                a.key,
                f.words.raw()
            );
            assert_eq!(edit.said(), ask.asked.done());
        }
    }
}

#[test]
fn every_answer_that_is_offered_is_taken_and_settles_its_question() {
    let mut met = BTreeMap::new();
    for a in demo::machines() {
        answer_all(&unsaid(&a), &mut met);
    }
    for must in ["to", "head", "locked_by", "hand", "reads", "lubricant", "pair", "turn"] {
        assert!(met.contains_key(must), "no machine asks {must}: {met:?}");
    }
}

/// A shaft with a bearing, its nut and its cover, of which one thing is drawn so that it has to be asked.
fn small(nut_at: f64, cover_at: f64, seal_from: &str) -> Anatomy {
    serde_json::from_str::<Anatomy>(&format!(
        r#"{{"key": "m", "name": "M", "version": 1, "lubricant": "grease", "rotation": {{"clockwise": true, "seen_from": "A"}},
        "lands": [{{"id": "out", "name": "shaft end", "length_mm": 60, "d_mm": 25}},
                  {{"id": "th", "name": "thread", "length_mm": 30, "d_mm": 30, "kind": "thread"}},
                  {{"id": "j", "name": "journal", "length_mm": 30, "d_mm": 40}},
                  {{"id": "body", "name": "body", "length_mm": 100, "d_mm": 52}}],
        "parts": [{{"id": "brg", "name": "Bearing", "kind": "bearing", "designation": "6208", "land": "j", "at_mm": 12, "width_mm": 18, "outside_mm": 80, "from": "A"}},
                  {{"id": "nut", "name": "Lock nut", "kind": "nut", "land": "th", "at_mm": {nut_at}, "width_mm": 10, "outside_mm": 50, "from": "A", "hand": "left", "locked_by": "compound"}},
                  {{"id": "cover", "name": "Cover", "kind": "cover", "land": "out", "at_mm": {cover_at}, "width_mm": 10, "outside_mm": 120, "bore_mm": 40, "from": "A"}},
                  {{"id": "lip", "name": "Lip seal", "kind": "seal", "land": "out", "at_mm": {}, "width_mm": 8, "outside_mm": 40, "from": "{seal_from}", "faces": "B", "keeps": "B"}}],
        "housings": [{{"id": "case", "name": "case", "outside_mm": 120, "material": "grey_iron", "from": "A", "bores": [{{"from_mm": 60, "to_mm": 140, "d_mm": 80}}]}}],
        "bolt_rings": [{{"part": "cover", "n": 4, "torque_nm": 20, "circle_mm": 100, "head": "A"}}]}}"#,
        cover_at + 1.0
    ))
    .unwrap()
    .check()
    .unwrap()
}

fn asked(a: &Anatomy, what: Asked) -> Vec<String> {
    let of = |f: Finding| f.ask.filter(|k| k.asked == what).map(|k| k.answers.into_iter().map(|x| x.0).collect());
    findings(a).into_iter().find_map(of).unwrap_or_default()
}

#[test]
fn what_is_offered_is_what_the_face_looks_at() {
    let mut met = BTreeMap::new();
    // The nut stands before the end of its thread; the bearing stands 17 mm behind it.
    let off = small(15.0, 50.0, "A");
    assert_eq!(asked(&off, Asked::Against), ["brg"]);
    answer_all(&off, &mut met);
    // The cover hangs in the air, 20 mm before the case: it looks at that and at nothing else that takes bolts.
    let air = small(15.0, 30.0, "A");
    assert_eq!(asked(&air, Asked::To), ["case"]);
    answer_all(&air, &mut met);
    // A flange on the faces of two housings: either, and nothing else.
    let mut two = small(15.0, 50.0, "A");
    two.parts.iter_mut().find(|p| p.id == "cover").unwrap().outside_mm = Millimetres::new(150.0).unwrap();
    let mut frame = two.housings[0].clone();
    (frame.id, frame.name) = ("frame".into(), "frame".into());
    frame.outside_mm = Millimetres::new(160.0).unwrap();
    frame.bores[0].d_mm = Millimetres::new(122.0).unwrap();
    two.housings.push(frame);
    assert_eq!(asked(&two, Asked::To), ["case", "frame"]);
    answer_all(&two, &mut met);
    assert!(met.contains_key("to") && met.contains_key("against"), "{met:?}");
    // The seal hangs on the shaft; the cover comes over it with its wall before it, and behind it stands the nut.
    let mut hidden = small(4.0, 50.0, "A");
    let cover = hidden.parts.iter_mut().find(|p| p.id == "cover").unwrap();
    cover.rings = serde_json::from_str(
        r#"[{"from_mm": 0, "to_mm": 0.9, "bore_mm": 27, "outside_mm": 120}, {"from_mm": 0.9, "to_mm": 10, "bore_mm": 40, "outside_mm": 120}]"#,
    )
    .unwrap();
    assert_eq!(asked(&hidden, Asked::CarriedBy), ["cover"]);
    answer_all(&hidden, &mut met);
    assert!(met.contains_key("carried_by"), "{met:?}");
}

#[test]
fn an_answer_to_what_nobody_asked_is_refused_as_its_form_would() {
    let a = small(15.0, 50.0, "A");
    let refused = |asked: Asked, of: &str, with: &str| {
        Edit::Answer { asked, of: of.into(), with: with.into() }.apply(&a).unwrap_err().message
    };
    assert!(refused(Asked::To, "brg", "case").contains("not there any more"));
    assert!(refused(Asked::To, "cover", "moon").contains("neither a part nor a housing"));
    assert!(refused(Asked::To, "cover", "cover").contains("fastened to itself"));
    assert!(refused(Asked::Against, "brg", "nut").contains("only a nut"));
    assert!(refused(Asked::Against, "nut", "nut").contains("names itself"));
    for asked in [Asked::Hand, Asked::LockedBy] {
        assert!(refused(asked, "nut", "both").contains("none of the answers"));
    }
    assert!(refused(Asked::Lubricant, "", "water").contains("none of the answers"));
    assert!(refused(Asked::Pair, "brg+nut", "AB").contains("not there any more"));
    assert!(refused(Asked::Turn, "", "cover").contains("the same both ways"));
    let mut gone = a.clone();
    gone.parts.retain(|p| p.id != "nut");
    let edit = Edit::Answer { asked: Asked::Hand, of: "nut".into(), with: "left".into() };
    assert!(edit.apply(&gone).unwrap_err().message.contains("somebody changed it"));
}
