//! A small machine of its own, and what is derived from it against lists made by hand.

#![allow(clippy::unwrap_used)]

use super::*;
use crate::anatomy::acts::{Law, Verb};
use crate::fasten::Hand;
use crate::quantity::Units;
use proptest::prelude::*;
use serde_json::json;
use std::collections::BTreeSet;

/// A small blower rotor, not in the demo: a collar in the middle, a hot bearing each side, seal and cover behind B1.
pub(crate) fn machine() -> Anatomy {
    let text = r#"{
      "key": "test-blower", "name": "Test blower", "version": 1,
      "lands": [
        {"id": "ta", "name": "A thread", "length_mm": 42, "d_mm": 38, "kind": "thread"},
        {"id": "ja", "name": "A journal", "length_mm": 18, "d_mm": 40},
        {"id": "mid", "name": "body", "length_mm": 200, "d_mm": 60},
        {"id": "jb", "name": "B journal", "length_mm": 60, "d_mm": 40}],
      "parts": [
        {"id": "seal", "name": "Inner seal", "kind": "seal", "land": "mid", "at_mm": 4, "width_mm": 8, "outside_mm": 85, "faces": "A", "keeps": "A", "carried_by": "cover"},
        {"id": "cover", "name": "Inner cover", "kind": "cover", "land": "mid", "at_mm": 2, "width_mm": 14, "outside_mm": 120, "bore_mm": 62, "from": "A"},
        {"id": "b1", "name": "Bearing B1", "kind": "bearing", "land": "ja", "at_mm": 0, "width_mm": 18, "outside_mm": 80, "designation": "6208", "fit": "shrink", "from": "A", "faces": "A"},
        {"id": "tab", "name": "Tab washer", "kind": "tab_washer", "land": "ta", "at_mm": 40, "width_mm": 2, "outside_mm": 60, "from": "A", "tab_bent": 1, "locks": ["b1"]},
        {"id": "nut", "name": "Lock nut", "kind": "nut", "land": "ta", "at_mm": 30, "width_mm": 10, "outside_mm": 58, "from": "A", "hand": "right", "slots": 4, "tabs": 17, "locks": ["tab"]},
        {"id": "fl", "name": "Flinger", "kind": "flinger", "land": "jb", "at_mm": 4, "width_mm": 6, "outside_mm": 70, "from": "B", "back_off_mm": 0.8},
        {"id": "b2", "name": "Bearing B2", "kind": "bearing", "land": "jb", "at_mm": 20, "width_mm": 18, "outside_mm": 80, "designation": "6208", "fit": "shrink", "from": "B"}],
      "rotation": {"seen_from": "A", "clockwise": false},
      "floats": [{"id": "f", "name": "End play", "lo_mm": 0.2, "hi_mm": 0.4}]
    }"#;
    serde_json::from_str::<Anatomy>(text).unwrap().check().unwrap()
}

/// Random stepped shafts with sleeves from both ends.
pub(crate) fn drawn() -> impl Strategy<Value = Anatomy> {
    let land = 20u32..60;
    let part = (0usize..6, 0u32..3, 2u32..40, any::<bool>(), 0u8..4, any::<bool>());
    (prop::collection::vec(land, 2..6), prop::collection::vec(part, 1..12)).prop_map(|(lands, parts)| {
        let mut a = Anatomy { key: "drawn".into(), name: "Drawn".into(), version: 1, ..machine() };
        a.floats.clear();
        a.lands = lands
            .iter()
            .enumerate()
            .map(|(i, d)| Land {
                id: format!("l{i}"),
                name: format!("land {i}"),
                length_mm: Millimetres(30.0),
                d_mm: Millimetres(f64::from(*d)),
                kind: LandKind::Plain,
                hand: None,
                pitch_mm: None,
                d_b_mm: None,
            })
            .collect();
        let sleeve = machine().parts[5].clone();
        a.parts = parts
            .iter()
            .enumerate()
            .map(|(i, (land, pos, thick, from_b, fit, single))| {
                let land = land % a.lands.len();
                Part {
                    id: format!("p{i}"),
                    name: format!("Part {i}"),
                    kind: if *single { PartKind::Seal } else { PartKind::Sleeve },
                    land: a.lands[land].id.clone(),
                    at_mm: Millimetres(f64::from(*pos) * 9.0 + i as f64 * 0.01),
                    width_mm: Millimetres(8.0),
                    outside_mm: Millimetres(a.lands[land].d_mm.0 + f64::from(*thick)),
                    bore_mm: Some(Millimetres(
                        a.lands
                            .iter()
                            .map(|l| l.d_mm.0)
                            .fold(0.0, f64::max)
                            .min(a.lands[land].d_mm.0 + f64::from(*thick) - 1.0),
                    )),
                    from: if *from_b { End::B } else { End::A },
                    fit: if *fit == 0 { Hold::Shrink } else { Hold::Slide },
                    back_off_mm: None,
                    ..sleeve.clone()
                }
            })
            .collect();
        a
    })
}

fn pairs(d: &Derived) -> BTreeSet<(String, String)> {
    let places = d.acts.iter().filter(|a| a.verb == Verb::Place);
    places
        .flat_map(|a| {
            a.before.iter().filter(|b| b.id.starts_with("on.")).map(|b| (b.id[3..].to_owned(), a.body.clone()))
        })
        .collect()
}

/// Open acts with everything before them done.
fn ready(all: &[acts::Act], done: &BTreeSet<String>) -> Vec<String> {
    let free = |s: &&acts::Act| !done.contains(&s.id) && s.before.iter().all(|b| done.contains(&b.id));
    all.iter().filter(free).map(|s| s.id.clone()).collect()
}

#[test]
fn the_derived_order_agrees_with_a_list_made_by_hand() {
    let m = machine();
    let d = derive(&m).unwrap();
    assert!(d.buildable(), "{:?}", d.faults);
    let by_hand: BTreeSet<(String, String)> = [
        ("seal", "cover"), // fitted into it at the bench
        ("b1", "tab"),     // bore 40 cannot pass 60
        ("tab", "nut"),    // bore 38 cannot pass 58
    ]
    .map(|(a, b)| (a.to_owned(), b.to_owned()))
    .into();
    assert_eq!(pairs(&d), by_hand);
    // What must be there before a ring, must be there before it is hot.
    let heat = |id: &str, first: &str| {
        d.act(id).unwrap().before.iter().find(|b| b.id == first).map(|b| (b.law, b.words.to_string()))
    };
    let words = "Inner cover (bore 62 mm) cannot get past bearing B1 (80 mm)";
    assert_eq!(heat("heat.b1", "on.cover"), Some((Law::Contact, words.to_owned())));
    assert!(heat("heat.b2", "on.fl").is_some());
}

#[test]
fn the_questions_agree_with_a_list_made_by_hand() {
    let ids: BTreeSet<String> = as_found::questions(&machine()).into_iter().map(|q| q.id).collect();
    let by_hand = [
        "float.f",
        "seal.faces",
        "seal.depth",
        "b1.faces",
        "tab.faces",
        "nut.standout",
        "nut.mark",
        "fl.faces",
        "b2.faces",
    ];
    assert_eq!(ids, by_hand.iter().map(ToString::to_string).collect());
    let mut m = machine();
    m.parts[4].hand = None;
    assert!(as_found::questions(&m).iter().any(|q| q.id == "nut.hand"), "a hand that the sheet does not give is asked");
    // Which tab lies in which slot is lost when the tab is straightened.
    let d = derive(&m).unwrap();
    assert!(
        d.act("straighten.tab").unwrap().waits_for("ask.nut.mark"),
        "{:?}",
        d.act("straighten.tab").unwrap().before
    );
    assert!(!d.act("loosen.nut").unwrap().words.to_string().contains("clockwise"), "no direction is claimed");
}

#[test]
fn the_trail_has_its_acts_and_holds() {
    let m = machine();
    let d = derive(&m).unwrap();
    let find = |id: &str| {
        d.act(id).unwrap_or_else(|| panic!("{id} in {:?}", d.acts.iter().map(|s| &s.id).collect::<Vec<_>>()))
    };
    let words = |id: &str| find(id).words.to_string();
    assert!(words("loosen.nut").contains("anticlockwise loosens"));
    assert!(find("straighten.tab").waits_for("ask.nut.standout") && find("loosen.nut").waits_for("straighten.tab"));
    assert!(find("off.b1").waits_for("off.tab") && find("off.nut").waits_for("loosen.nut"));
    assert!(words("on.seal").contains("lip to end A") && find("on.cover").waits_for("on.seal"));
    let hot = find("on.b1");
    assert!(hot.wait_min > 0.0 && hot.wait_word == "cooling" && hot.caution == Some(crate::caution::Caution::HotRing));
    assert!(words("back.fl").contains("0.8 mm"));
    // Nipped while it cools, proved home cold, then tightened, then locked.
    let at = |id: &str| d.acts.iter().position(|s| s.id == id).unwrap();
    assert!(
        find("torque.nut").waits_for("home.b1")
            && find("home.b1").waits_for("nip.nut")
            && at("torque.nut") < at("tab.tab")
    );
    assert!(words("torque.nut").contains("at most 5.29 degrees"));
    assert_eq!(find("float.f").people, 2);
    // Every act can be reached: working what is free empties the trail.
    let mut done = BTreeSet::new();
    loop {
        let now: Vec<String> = ready(&d.acts, &done);
        if now.is_empty() {
            break;
        }
        done.extend(now);
    }
    assert_eq!(done.len(), d.acts.len(), "{:?}", d.acts.iter().filter(|s| !done.contains(&s.id)).collect::<Vec<_>>());
}

#[test]
fn a_machined_face_voids_the_marks_that_rest_on_it() {
    let m = machine();
    assert_eq!(acts::voided_by(&m, "tab"), ["nut.mark", "nut.standout"]);
    assert!(acts::voided_by(&m, "b2").is_empty() && acts::voided_by(&m, "seal").is_empty());

    // The trail asks for new ones, and nothing is drawn to the old mark any more.
    let mut m = machine();
    m.parts[4].match_mark = true;
    let before = derive(&m).unwrap().acts;
    let words =
        |all: &[acts::Act], id: &str| all.iter().find(|s| s.id == id).map_or(String::new(), |s| s.words.to_string());
    assert!(
        words(&before, "torque.nut").contains("to its match mark")
            && !words(&before, "torque.nut").contains("next slot")
    );
    let mut all = before.clone();
    acts::after_repairs(&m, &["b2".into(), "seal".into()], &mut all);
    assert_eq!(all, before);
    acts::after_repairs(&m, &["b1".into()], &mut all);
    assert!(words(&all, "torque.nut").contains("not to the old mark, it is void"), "{}", words(&all, "torque.nut"));
    assert!(words(&all, "standout.nut").contains("the old figure is void"));
    let again = all.iter().find(|s| s.id == "ask.again.nut.mark").unwrap();
    assert!(again.waits_for("torque.nut"));
    assert!(all.iter().find(|s| s.id == "prove.turn").unwrap().waits_for("ask.again.nut.mark"));
    let asked: Vec<String> = acts::asked_again(&m, &["b1".into(), "tab".into()]).into_iter().map(|q| q.id).collect();
    assert_eq!(asked, ["again.nut.mark"]);
}

#[test]
fn numbers_are_asked_for_where_a_limit_stands_and_beside_what_was_found() {
    let measure = |m: &Anatomy, id: &str| derive(m).unwrap().act(id).unwrap().measure.clone().unwrap();
    let mut m = machine();
    let f = measure(&m, "float.f");
    assert_eq!((f.lo, f.hi, f.beside.as_str(), f.points), (Some(0.2), Some(0.4), "float.f", 3), "three pairs");
    assert_eq!(measure(&m, "standout.nut").beside, "nut.standout");
    assert_eq!(measure(&m, "prove.float.f").lo, Some(0.2));
    m.floats[0].thicker_reduces = false;
    assert!((acts::shim_change(&m.floats[0], Millimetres(0.5)).0 + 0.2).abs() < 1e-12);
    // A torque has a window: on the way to a slot a third more, without one a tenth.
    m.parts[4].torque_nm = Some(90.0);
    assert_eq!((measure(&m, "torque.nut").lo, measure(&m, "torque.nut").hi), (Some(90.0), Some(117.0)));
    m.parts[4].torque_hi_nm = Some(95.0);
    assert_eq!(measure(&m, "torque.nut").hi, Some(95.0));
}

/// Only what a nut sets is read with that nut slack.
#[test]
fn slack_belongs_to_floats() {
    let read = |list: &str, condition: &str| {
        let row = match list {
            "runouts" => json!({"id": "x", "name": "Nose", "part": "b1", "limit_um": 10, "condition": condition}),
            "gaps" => json!({"id": "x", "name": "Ring", "min_mm": 0.2, "condition": condition}),
            _ => json!({"id": "x", "name": "End play", "lo_mm": 0.1, "hi_mm": 0.3, "condition": condition}),
        };
        let mut sheet = serde_json::to_value(machine()).unwrap();
        sheet[list] = json!([row]);
        serde_json::from_value::<Anatomy>(sheet).unwrap().check_words().map(|_| ()).map_err(|e| e.field.to_string())
    };
    assert_eq!(read("floats", "slack"), Ok(()));
    for list in ["runouts", "gaps"] {
        assert_eq!(read(list, "nipped"), Ok(()), "{list}");
        assert_eq!(read(list, "slack"), Err(list.to_owned()));
    }
}

#[test]
fn a_float_outside_its_limits_opens_a_round() {
    let mut m = machine();
    m.parts.push(Part { name: "Adjusting shim".into(), from: End::B, ..Part::plain("shim", PartKind::Shim, "jb") });
    let shim = m.parts.last_mut().unwrap();
    (shim.outside_mm, shim.at_mm) = (Millimetres(50.0), Millimetres(40.0));
    m.floats[0].shim = Some("shim".into());
    m.floats[0].after = vec!["b1".into(), "b2".into()];
    let d = derive(&m).unwrap();
    assert!(d.buildable() && d.act("float.f").unwrap().waits_for("on.shim"), "{:?}", d.faults);
    let done: BTreeSet<String> = d.acts.iter().map(|a| a.id.clone()).take_while(|id| id != "prove.turn").collect();
    let round = acts::open_round(&d.acts, &done, 2, "float.f", "shim", &[]);
    assert_eq!((round.off.as_slice(), round.again.contains(&"on.shim".to_owned())), (&["shim".to_owned()][..], true));
    let all = acts::with_round(&m, d.acts.clone(), &round);
    let find = |id: &str| all.iter().find(|a| a.id == id).unwrap_or_else(|| panic!("{id}"));
    assert!(find("off.shim#2").waits_for("float.f") && find("shim.f#2").waits_for("off.shim#2"));
    assert!(find("on.shim#2").waits_for("shim.f#2") && find("float.f#2").waits_for("on.shim#2"));
    assert!(
        find("float.f#2").measure.is_some()
            && find("tab.tab#2").waits_for("float.f#2")
            && find("prove.turn").waits_for("tab.tab#2"),
        "{:?}",
        find("prove.turn").before
    );
    // And another one on top of it.
    let done: BTreeSet<String> = all.iter().map(|a| a.id.clone()).take_while(|id| id != "prove.turn").collect();
    let third = acts::open_round(&all, &done, 3, "float.f#2", "shim", &[]);
    let all = acts::with_round(&m, all, &third);
    assert!(all.iter().any(|a| a.id == "float.f#3") && !all.iter().any(|a| a.id.contains("#2#")));
}

#[test]
fn a_bearing_that_comes_apart_is_two_bodies() {
    let mut m = machine();
    m.parts[2].designation = Some("NU 208".into());
    m.housings.push(Housing {
        from: Some(End::A),
        ..Housing::plain(
            "block",
            "Block",
            Millimetres(110.0),
            vec![Bore { from_mm: Millimetres(41.0), to_mm: Millimetres(60.0), d_mm: Millimetres(80.0) }],
        )
    });
    let d = derive(&m).unwrap();
    assert!(d.faults.is_empty(), "{:?}", d.faults);
    // The ring with the rollers goes into the housing, the loose ring on to the shaft.
    assert!(d.act("on.block").unwrap().waits_for("home.b1.outer"), "{:?}", d.act("on.block").unwrap().before);
    assert!(d.act("heat.b1.inner").is_some() && d.act("heat.b1.outer").is_none() && d.act("on.b1").is_none());
    assert!(d.act("on.b1.outer").unwrap().words.to_string().contains("into block"));
}

#[test]
fn what_is_part_of_the_shaft_is_never_taken_off() {
    let mut m = machine();
    m.parts[5].solid = true;
    let d = derive(&m).unwrap();
    assert!(d.act("on.fl").is_none() && d.act("off.fl").is_none() && !d.questions.iter().any(|q| q.id == "fl.faces"));
}

/// The kind of part that exists only here: one row of the table, and everything that follows from it.
#[test]
fn a_new_kind_of_part_is_one_row() {
    let mut m = machine();
    m.parts.push(Part {
        name: "Painted ring".into(),
        from: End::B,
        faces: Some(End::B),
        ..Part::plain("new", PartKind::Trial, "jb")
    });
    let p = m.parts.last_mut().unwrap();
    (p.at_mm, p.width_mm, p.outside_mm) = (Millimetres(44.0), Millimetres(5.0), Millimetres(60.0));
    let text = build_sheet::write(&m);
    assert!(text.contains("kind = \"trial\"") && build_sheet::read(&text).unwrap() == m);
    let d = derive(&m).unwrap();
    assert_eq!(d.act("on.new").unwrap().words.to_string(), "Hang painted ring on, painted face to end B.");
    assert_eq!(
        (d.act("on.new").unwrap().tool.as_str(), d.act("kit.new").unwrap().words.to_string()),
        ("tongs", "Count painted ring.".into())
    );
    assert!(d.act("on.new").unwrap().before.iter().any(|b| b.id == "home.b2"));
    assert!(d.questions.iter().any(|q| q.words == "Painted ring: which way does the painted face look?"));
    let have: Vec<&str> = d.bodies.list.iter().skip(1).map(|b| b.id.as_str()).collect();
    let cost = d.back_out(&m, &have, "b2").unwrap();
    assert_eq!((cost.off, cost.scrapped), (vec!["new".to_owned()], vec!["new".to_owned()]));
    let added = edit::Edit::AddPart { kind: PartKind::Trial, land: "jb".into(), into: None }.apply(&machine()).unwrap();
    assert_eq!((added.parts.last().unwrap().width_mm.0, added.parts.last().unwrap().outside_mm.0), (5.0, 52.0));
}

/// Load centres taken from the drawn lines, without the words: back-to-back they lie farther apart than the rows.
#[test]
fn the_lean_of_two_rows_agrees_with_their_load_centres() {
    for (left, right) in [(End::A, End::A), (End::A, End::B), (End::B, End::A), (End::B, End::B)] {
        for angle in [15.0f64, 25.0, 40.0] {
            // A line through the ball at (x, r) that rises towards its lean meets the axis on the other side.
            let centre = |x: f64, lean: End| {
                let slope = angle.to_radians().tan() * if lean == End::B { 1.0 } else { -1.0 };
                x - 30.0 * slope
            };
            let (rows, centres) = (20.0, centre(20.0, right) - centre(0.0, left));
            let by_picture = if centres > rows + 1e-9 {
                "DB"
            } else if centres < rows - 1e-9 {
                "DF"
            } else {
                "DT"
            };
            assert_eq!(facing::formed(left, right), by_picture);
        }
    }
}

#[test]
fn answers_are_read_by_their_kind() {
    let all = as_found::questions(&machine());
    let q = |id: &str| all.iter().find(|q| q.id == id).unwrap();
    assert_eq!(q("nut.standout").read("3.25", Units::Metric).unwrap(), [3.25]);
    assert!(q("nut.standout").read("about three", Units::Metric).unwrap_err().message.len() > 10);
    assert!(q("seal.faces").read("end B", Units::Metric).unwrap().is_empty());
    assert!(q("seal.faces").read("left", Units::Metric).unwrap_err().message.contains("touch the part"));
    assert_eq!(q("b1.faces").words, "Bearing B1: which way does the marked side face?");
    let short: Vec<&str> = ["nut.standout", "seal.faces", "b1.faces"].map(|id| q(id).short.as_str()).to_vec();
    assert_eq!(short, ["Lock nut, stand-out", "Inner seal, lip", "Bearing B1, marked side"]);
    let mut m = machine();
    m.parts[2].designation = Some("7208 25".into());
    assert!(as_found::questions(&m).iter().any(|q| q.words == "Bearing B1: which way does the thick side face?"));
    assert!(
        q("nut.mark").read("third tab", Units::Metric).unwrap().is_empty()
            && q("nut.mark").read(" ", Units::Metric).is_err()
    );
    let gap = as_found::Question { topic: as_found::Topic::Gap, ..q("nut.standout").clone() };
    assert_eq!(gap.read("0.4 0.5 0.4", Units::Metric).unwrap().len(), 3);
    assert_eq!(gap.read("0.4 mm; 16 thou", Units::Metric).unwrap().len(), 2);
    assert!(
        gap.read(&"1;".repeat(20), Units::Metric).is_err()
            && gap.read("0.4; wide", Units::Metric).unwrap_err().message.contains("wide")
    );
}

#[test]
fn a_cone_that_turns_its_back_on_its_cup_is_told() {
    let mut m = machine();
    for (i, kind, id) in [(5, PartKind::TaperCone, "cone"), (6, PartKind::Cup, "cup")] {
        let p = &mut m.parts[i];
        (p.kind, p.id, p.name, p.designation, p.faces) = (kind, id.into(), id.into(), None, Some(End::B));
        (p.at_mm, p.width_mm, p.split) = (Millimetres(10.0), Millimetres(18.0), false);
    }
    (m.parts[5].outside_mm, m.parts[6].bore_mm) = (Millimetres(70.0), Some(Millimetres(60.0)));
    let faults =
        |m: &Anatomy| derive(m).unwrap().faults.iter().map(|f| f.words.to_string()).collect::<Vec<_>>().join("\n");
    assert!(faults(&m).contains("one and cup do not meet"), "both face end B: {}", faults(&m));
    m.parts[5].faces = Some(End::A);
    assert!(!faults(&m).contains("do not meet"), "{}", faults(&m));
    assert_eq!(
        (facing::lean(&m.parts[5]), facing::lean(&m.parts[6])),
        (Some(End::B), Some(End::B)),
        "one bearing, one lean"
    );
}

#[test]
fn what_contradicts_is_told_with_both_sizes_and_names() {
    let mut m = machine();
    let faults =
        |m: &Anatomy| derive(m).unwrap().faults.iter().map(|f| f.words.to_string()).collect::<Vec<_>>().join("\n");
    assert_eq!(faults(&m), "");
    m.parts[0].faces = Some(End::B);
    m.parts[4].hand = Some(Hand::Left);
    assert!(
        faults(&m).contains("Inner seal has its lip the wrong way") && !faults(&m).contains("hand thread"),
        "{}",
        faults(&m)
    );
    // Drag that undoes a thread is a fault only where nothing locks the nut.
    assert!(
        derive(&m)
            .unwrap()
            .notes
            .iter()
            .any(|n| n.words.to_string().contains("a right-hand thread is wanted; its lock holds it"))
    );
    m.parts.retain(|p| p.kind != PartKind::TabWasher);
    let nut = m.parts.iter_mut().find(|p| p.id == "nut").unwrap();
    (nut.tabs, nut.slots, nut.locks) = (None, None, vec![]);
    assert!(faults(&m).contains("a right-hand thread is wanted, and nothing locks it"), "{}", faults(&m));
    let mut m = machine();
    m.parts[2].from = End::B;
    assert!(faults(&m).contains("its bore is 40 mm, body on the way is 60 mm"), "{}", faults(&m));
    let mut m = machine();
    m.before.push(Rule { first: "nut".into(), then: "cover".into(), reason: String::new() });
    assert!(faults(&m).contains("wait for each other"), "{}", faults(&m));
    assert!(!derive(&m).unwrap().buildable());
    let mut m = machine();
    m.parts[6].faces = Some(End::B);
    m.parts[2].faces = Some(End::A);
    m.pairs.push(PairOf { a: "b1".into(), b: "b2".into(), arrangement: "DB".into(), spacers: vec![] });
    assert!(faults(&m).contains("form an X (face-to-face) where a diamond (back-to-back) is meant"), "{}", faults(&m));
    m.parts[5].at_mm = Millimetres(18.0);
    assert!(faults(&m).contains("stand in the same place"), "{}", faults(&m));
}

#[test]
fn the_larger_thrust_washer_belongs_to_its_end_and_tandem_is_neither() {
    let mut m = machine();
    let faults =
        |m: &Anatomy| derive(m).unwrap().faults.iter().map(|f| f.words.to_string()).collect::<Vec<_>>().join("\n");
    for (id, at, outside) in [("small", 60.0, 70.0), ("large", 90.0, 90.0)] {
        m.parts.push(Part {
            name: format!("{id} washer"),
            at_mm: Millimetres(at),
            outside_mm: Millimetres(outside),
            from: End::B,
            ..Part::plain(id, PartKind::ThrustWasher, "mid")
        });
    }
    m.thrust_sets.push(ThrustSet { smaller: "small".into(), larger: "large".into(), larger_towards: End::B });
    assert_eq!(faults(&m), "");
    // At the wrong end, and no larger than the other.
    m.thrust_sets[0].larger_towards = End::A;
    assert_eq!(faults(&m), "Large washer must be larger than small washer and lie towards end A.");
    m.thrust_sets[0].larger_towards = End::B;
    let n = m.parts.len();
    m.parts[n - 1].outside_mm = Millimetres(70.0);
    assert!(faults(&m).contains("must be larger than small washer"), "{}", faults(&m));
    // Both thick sides at one end carry one way only.
    let mut m = machine();
    (m.parts[2].faces, m.parts[6].faces) = (Some(End::A), Some(End::A));
    for wanted in ["DB", "DF", "DT"] {
        m.pairs = vec![PairOf { a: "b1".into(), b: "b2".into(), arrangement: wanted.into(), spacers: vec![] }];
        assert_eq!(faults(&m).contains("form tandem where"), wanted != "DT", "{wanted}: {}", faults(&m));
    }
    (m.parts[2].faces, m.parts[6].faces) = (Some(End::B), Some(End::A));
    assert!(faults(&m).contains("form a diamond (back-to-back) where tandem is meant"), "{}", faults(&m));
}

/// Two holes of one name in two housings are two things, whichever of them changes.
#[test]
fn what_has_the_name_of_another_is_told_apart_from_it() {
    let mut m = machine();
    let hole = |id: &str, housing: &str, at: f64| Hole {
        id: id.into(),
        name: "Drain".into(),
        housing: housing.into(),
        kind: HoleKind::Drain,
        at_deg: at,
    };
    m.housings = ["left", "right"]
        .map(|id| Housing {
            feet: true,
            split: true,
            ..Housing::plain(id, &format!("{id} block"), Millimetres(200.0), vec![])
        })
        .to_vec();
    m.holes = vec![hole("a", "left", 180.0), hole("b", "right", 180.0)];
    let said = |n: &Anatomy| difference::difference(&m, n).unwrap().sentences;
    let mut n = m.clone();
    n.holes[0].at_deg = 90.0;
    assert_eq!(said(&n), ["Hole Drain of left block: place 90° instead of 180°."]);
    n.holes = vec![hole("b", "right", 180.0)];
    assert_eq!(said(&n), ["Hole Drain of left block is gone."]);
    n.holes = vec![hole("a", "left", 180.0), hole("b", "right", 180.0), hole("c", "right", 170.0)];
    assert_eq!(said(&n), ["Hole Drain of right block is new."]);
}

#[test]
fn a_housing_waits_for_what_it_cannot_pass_and_takes_in_what_is_captive() {
    let mut m = machine();
    let bore =
        |from: f64, to: f64, d: f64| Bore { from_mm: Millimetres(from), to_mm: Millimetres(to), d_mm: Millimetres(d) };
    m.housings.push(Housing {
        from: Some(End::A),
        ..Housing::plain(
            "case",
            "Case",
            Millimetres(300.0),
            vec![bore(80.0, 90.0, 90.0), bore(90.0, 250.0, 250.0), bore(250.0, 262.0, 90.0)],
        )
    });
    let mut wheel = m.parts[5].clone();
    (wheel.id, wheel.name, wheel.kind) = ("wheel".into(), "Wheel".into(), PartKind::Wheel);
    (wheel.land, wheel.at_mm, wheel.outside_mm, wheel.inside) =
        ("mid".into(), Millimetres(80.0), Millimetres(200.0), Some("case".into()));
    m.parts.push(wheel);
    let d = derive(&m).unwrap();
    let why = |first: &str, then: &str| {
        d.act(then).unwrap().before.iter().find(|b| b.id == first).map(|b| b.words.to_string())
    };
    assert!(
        why("on.wheel", "on.case").is_some_and(|w| w.contains("goes through neither opening")),
        "{:?}",
        d.act("on.case").unwrap().before
    );
    assert!(
        why("on.case", "on.cover").is_some_and(|w| w.contains("cannot get past")),
        "{:?}",
        d.act("on.cover").unwrap().before
    );
    assert!(d.buildable(), "{:?}", d.faults);
}

/// A bare shaft has a trail, too: nothing to take apart, but to receive and to prove.
#[test]
fn a_bare_shaft_has_a_trail() {
    let a = edit::blank("bare", "Bare shaft");
    let d = derive(&a).unwrap();
    assert_eq!(
        d.acts.iter().map(|s| s.id.as_str()).collect::<Vec<_>>(),
        ["receive.safe", "receive.kind", "prove.turn", "prove.run"]
    );
    assert!(as_found::questions(&a).is_empty() && d.buildable());
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    /// Whatever free step is taken next, the trail never gets stuck, what is done stays closed under "before", and the
    /// sentence of a held step names something that is really missing.
    #[test]
    fn a_trail_is_worked_in_any_valid_order(m in drawn(), picks in prop::collection::vec(any::<u16>(), 400), repaired in prop::collection::vec(0usize..12, 0..3)) {
        let d = derive(&m).unwrap();
        if !d.buildable() {
            return Ok(());
        }
        let mut all = d.acts.clone();
        let parts: Vec<String> = repaired.iter().filter_map(|i| m.parts.get(*i)).map(|p| p.id.clone()).collect();
        acts::after_repairs(&m, &parts, &mut all);
        let mut done = BTreeSet::new();
        for k in picks {
            let free: Vec<String> = ready(&all, &done);
            if free.is_empty() {
                break;
            }
            done.insert(free[usize::from(k) % free.len()].clone());
            prop_assert!(all.iter().filter(|s| done.contains(&s.id)).all(|s| s.before.iter().all(|b| done.contains(&b.id))));
        }
        if all.len() <= 400 {
            prop_assert_eq!(done.len(), all.len());
        }
        let ids: BTreeSet<&str> = all.iter().map(|s| s.id.as_str()).collect();
        prop_assert_eq!(ids.len(), all.len(), "every step has an id of its own");
    }

    /// Taken apart in the offered order, nothing comes off while something that went on after it is still on.
    #[test]
    fn what_went_on_last_comes_off_first(m in drawn()) {
        let d = derive(&m).unwrap();
        if !d.buildable() {
            return Ok(());
        }
        let place = |id: &str| d.acts.iter().position(|s| s.id == id).unwrap();
        for r in d.relations() {
            let (first, then) = (&d.bodies.list[r.first.body()].id, &d.bodies.list[r.then.body()].id);
            let at = [format!("on.{first}"), format!("on.{then}"), format!("off.{then}"), format!("off.{first}")].map(|id| place(&id));
            prop_assert!(at[0] < at[1] && at[2] < at[3]);
        }
    }

    /// What has to come off for a part is closed: putting it on again in the offered order leads back.
    #[test]
    fn back_out_and_redo_return(m in drawn(), n in any::<u16>(), part in any::<u16>()) {
        let d = derive(&m).unwrap();
        if !d.buildable() {
            return Ok(());
        }
        let order: Vec<&str> = d.acts.iter().filter(|s| s.verb == acts::Verb::Place).map(|s| s.body.as_str()).collect();
        let on: Vec<&str> = order.iter().copied().take(usize::from(n) % (order.len() + 1)).collect();
        let target = &d.bodies.list[1 + usize::from(part) % d.bodies.count()].id;
        let cost = d.back_out(&m, &on, target).unwrap();
        prop_assert!(cost.off.iter().all(|o| on.contains(&o.as_str()) && o != target));
        let left: BTreeSet<&str> = on.iter().copied().filter(|o| !cost.off.iter().any(|x| x == o)).collect();
        // Nothing that is left rests on something that is off.
        for r in d.relations() {
            let (first, then) = (d.bodies.list[r.first.body()].id.as_str(), d.bodies.list[r.then.body()].id.as_str());
            prop_assert!(!left.contains(then) || left.contains(first) || !on.contains(&first), "{then} is left on {first}");
        }
    }

    /// Two versions differ by the same steps whichever is looked at first, and not at all from themselves.
    #[test]
    fn versions_differ_both_ways_alike(m in drawn(), drop in 0usize..12, grow in 0usize..12, by in 1u32..9) {
        use super::difference::difference;
        let mut new = m.clone();
        if let Some(p) = new.parts.get_mut(grow) {
            p.width_mm.0 += f64::from(by);
        }
        if new.parts.len() > 1 {
            let gone = new.parts[drop % new.parts.len()].id.clone();
            new = edit::Edit::DropPart { id: gone }.apply(&new).unwrap_or(new);
        }
        let (there, back) = (difference(&m, &new).unwrap(), difference(&new, &m).unwrap());
        prop_assert_eq!(&there.new_steps, &back.gone_steps);
        prop_assert_eq!(&there.gone_steps, &back.new_steps);
        prop_assert_eq!(there.sentences.len(), back.sentences.len());
        prop_assert_eq!(there.is_empty(), m == new);
    }
}
