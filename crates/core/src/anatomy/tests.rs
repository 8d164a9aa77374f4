//! A small machine of its own, and what is derived from it against lists made by hand.

#![allow(clippy::unwrap_used)]

use super::*;
use crate::anatomy::steps::{Stage, steps};
use crate::fasten::Hand;
use crate::quantity::Units;
use proptest::prelude::*;
use std::collections::BTreeSet;

/// A small blower rotor, not in the demo: a collar in the middle, a hot bearing each side, seal and cover behind B1.
pub(crate) fn machine() -> Anatomy {
    let text = r#"{
      "key": "test-blower", "name": "Test blower", "version": 1,
      "lands": [
        {"id": "ta", "name": "A thread", "length_mm": 20, "d_mm": 38, "kind": "thread"},
        {"id": "ja", "name": "A journal", "length_mm": 40, "d_mm": 40},
        {"id": "mid", "name": "body", "length_mm": 200, "d_mm": 60},
        {"id": "jb", "name": "B journal", "length_mm": 60, "d_mm": 40}],
      "parts": [
        {"id": "seal", "name": "Inner seal", "kind": "seal", "land": "mid", "at_mm": 4, "width_mm": 8, "outside_mm": 85, "faces": "A", "keeps": "A", "carried_by": "cover"},
        {"id": "cover", "name": "Inner cover", "kind": "cover", "land": "mid", "at_mm": 2, "width_mm": 14, "outside_mm": 120, "bore_mm": 62, "from": "A"},
        {"id": "b1", "name": "Bearing B1", "kind": "bearing", "land": "ja", "at_mm": 20, "width_mm": 18, "outside_mm": 80, "designation": "6208", "fit": "shrink", "from": "A", "faces": "A"},
        {"id": "tab", "name": "Tab washer", "kind": "tab_washer", "land": "ta", "at_mm": 12, "width_mm": 2, "outside_mm": 60, "from": "A", "tab_bent": 1, "locks": ["b1"]},
        {"id": "nut", "name": "Lock nut", "kind": "nut", "land": "ta", "at_mm": 2, "width_mm": 10, "outside_mm": 58, "from": "A", "hand": "right", "slots": 4, "tabs": 17, "locks": ["tab"]},
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
                        a.lands.iter().map(|l| l.d_mm.0).fold(0.0, f64::max).min(a.lands[land].d_mm.0 + f64::from(*thick) - 1.0),
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

#[test]
fn the_derived_order_agrees_with_a_list_made_by_hand() {
    let m = machine();
    let d = derive(&m).unwrap();
    assert!(d.buildable(), "{:?}", d.faults);
    let pairs: BTreeSet<(&str, &str)> = d.precedence.pairs().map(|(a, b)| (d.ids[a].as_str(), d.ids[b].as_str())).collect();
    let by_hand: BTreeSet<(&str, &str)> = [
        ("seal", "cover"), // fitted into it at the bench
        ("cover", "b1"),   // bore 62 cannot pass the ring's 80
        ("b1", "tab"),     // it locks the ring, and bore 40 cannot pass 60
        ("b1", "nut"),     // bore 40 cannot pass 58
        ("tab", "nut"),    // the nut locks the washer
        ("fl", "b2"),      // bore 40 cannot pass 80
    ]
    .into();
    let missing: Vec<_> = by_hand.difference(&pairs).collect();
    assert!(missing.is_empty(), "{missing:?}");
    let more: Vec<_> = pairs.difference(&by_hand).filter(|p| **p != ("cover", "tab") && **p != ("cover", "nut")).collect();
    assert!(more.is_empty(), "{more:?}");
    let why = d.why(d.number("cover").unwrap(), d.number("b1").unwrap()).unwrap();
    assert_eq!(because(&m, "cover", "b1", &why), "Inner cover (bore 62 mm) cannot get past Bearing B1 (80 mm)");
}

#[test]
fn the_questions_agree_with_a_list_made_by_hand() {
    let ids: BTreeSet<String> = as_found::questions(&machine()).into_iter().map(|q| q.id).collect();
    let by_hand = ["float.f", "seal.faces", "seal.depth", "b1.faces", "tab.faces", "nut.standout", "nut.mark", "fl.faces", "b2.faces"];
    assert_eq!(ids, by_hand.iter().map(ToString::to_string).collect());
    let all = as_found::questions(&machine());
    let held: Vec<&str> = as_found::holding(&all, "nut", &|id| id == "float.f").iter().map(|q| q.id.as_str()).collect();
    assert_eq!(held, ["nut.standout", "nut.mark"]);
}

#[test]
fn the_trail_has_its_stages_moves_and_holds() {
    let m = machine();
    let d = derive(&m).unwrap();
    let order = sequence::best(&m, &d).unwrap();
    let all = steps(&m, &d, &order);
    let find =
        |id: &str| all.iter().find(|s| s.id == id).unwrap_or_else(|| panic!("{id} in {:?}", all.iter().map(|s| &s.id).collect::<Vec<_>>()));
    assert!(find("off.nut").words.contains("anticlockwise loosens"));
    assert!(find("off.nut").before.contains(&"ask.nut.standout".to_owned()));
    assert!(find("off.b1").before.contains(&"off.tab".to_owned()));
    assert!(find("on.seal").words.contains("lip to end A") && find("on.cover").before.contains(&"on.seal".to_owned()));
    assert!(
        find("on.b1").wait_min > 0.0
            && find("on.b1").wait_word == "cooling"
            && find("on.b1").caution == Some(crate::caution::Caution::HotRing)
    );
    assert!(find("back.fl").words.contains("0.8 mm"));
    assert!(find("torque.nut").words.contains("5.29 degrees apart") && find("torque.nut").before.contains(&"on.b1".to_owned()));
    assert!(find("tab.tab").before.contains(&"torque.nut".to_owned()));
    assert_eq!(find("float.f").people, 2);
    assert!(find("prove.turn").before.len() > 10);
    let stages: Vec<Stage> = all.iter().map(|s| s.stage).collect();
    assert!(stages.windows(2).all(|w| w[0] <= w[1]));
    // Every step can be reached: working what is free empties the trail.
    let mut done = BTreeSet::new();
    loop {
        let free: Vec<String> = steps::meanwhile(&all, &done, "").iter().map(|s| s.id.clone()).collect();
        if free.is_empty() {
            break;
        }
        done.extend(free);
    }
    assert_eq!(done.len(), all.len(), "{:?}", all.iter().filter(|s| !done.contains(&s.id)).collect::<Vec<_>>());
    assert_eq!(steps::missing(&all, &BTreeSet::new(), "receive.kind").len(), 1);
}

#[test]
fn a_machined_face_voids_the_marks_that_rest_on_it() {
    let m = machine();
    assert_eq!(steps::voided_by(&m, "tab"), ["nut.mark", "nut.standout"]);
    assert_eq!(steps::voided_by(&m, "b1"), ["nut.mark", "nut.standout"]);
    assert!(steps::voided_by(&m, "b2").is_empty() && steps::voided_by(&m, "seal").is_empty());

    // The trail asks for new ones, and nothing is drawn to the old mark any more.
    let mut m = machine();
    m.parts[4].match_mark = true;
    let d = derive(&m).unwrap();
    let order = sequence::best(&m, &d).unwrap();
    let before = steps(&m, &d, &order);
    let words = |all: &[steps::Step], id: &str| all.iter().find(|s| s.id == id).map_or(String::new(), |s| s.words.clone());
    assert!(words(&before, "torque.nut").contains("to its match mark"));
    let mut all = before.clone();
    steps::after_repairs(&m, &["b2".into(), "seal".into()], &mut all);
    assert_eq!(all, before);
    steps::after_repairs(&m, &["b1".into()], &mut all);
    assert!(words(&all, "torque.nut").contains("not to the old mark, it is void"), "{}", words(&all, "torque.nut"));
    assert!(words(&all, "standout.nut").contains("the old figure is void"));
    let again = all.iter().find(|s| s.id == "ask.again.nut.mark").unwrap();
    assert!(again.before.contains(&"torque.nut".to_owned()) && again.stage == Stage::TorqueAndLock);
    assert!(all.iter().find(|s| s.id == "prove.turn").unwrap().before.contains(&"ask.again.nut.mark".to_owned()));
    assert!(all.windows(2).all(|w| w[0].stage <= w[1].stage));
    let asked: Vec<String> = steps::asked_again(&m, &["b1".into(), "tab".into()]).into_iter().map(|q| q.id).collect();
    assert_eq!(asked, ["again.nut.mark"]);
}

#[test]
fn numbers_are_asked_for_where_a_limit_stands_and_beside_what_was_found() {
    let mut m = machine();
    m.parts.push(Part { name: "Adjusting shim".into(), ..Part::plain("shim", PartKind::Shim, "jb") });
    (m.parts[7].outside_mm, m.parts[7].from, m.parts[7].at_mm) = (Millimetres(50.0), End::B, Millimetres(40.0));
    let trail = |m: &Anatomy| {
        let d = derive(m).unwrap();
        steps(m, &d, &sequence::best(m, &d).unwrap())
    };
    let measure = |m: &Anatomy, id: &str| trail(m).into_iter().find(|s| s.id == id).and_then(|s| s.measure).unwrap();
    let f = measure(&m, "float.f");
    assert_eq!((f.lo, f.hi, f.beside.as_str()), (Some(0.2), Some(0.4), "float.f"));
    assert_eq!(measure(&m, "standout.nut").beside, "nut.standout");
    // With a shim the first reading says what to do, and the next must keep the limits.
    m.floats[0].shim = Some("shim".into());
    assert_eq!((measure(&m, "float.f").hi, measure(&m, "refloat.f").hi, measure(&m, "prove.float.f").lo), (None, Some(0.4), Some(0.2)));
    m.floats[0].thicker_reduces = false;
    assert!((steps::shim_change(&m.floats[0], Millimetres(0.5)).0 + 0.2).abs() < 1e-12);
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
    let mut m = machine();
    m.parts[2].designation = Some("7208 25".into());
    assert!(as_found::questions(&m).iter().any(|q| q.words == "Bearing B1: which way does the thick side face?"));
    assert!(q("nut.mark").read("third tab", Units::Metric).unwrap().is_empty() && q("nut.mark").read(" ", Units::Metric).is_err());
    let gap = as_found::Question { ask: as_found::Ask::Points, ..q("nut.standout").clone() };
    assert_eq!(gap.read("0.4 0.5 0.4", Units::Metric).unwrap().len(), 3);
    assert_eq!(gap.read("0.4 mm; 16 thou", Units::Metric).unwrap().len(), 2);
    assert!(
        gap.read(&"1;".repeat(20), Units::Metric).is_err() && gap.read("0.4; wide", Units::Metric).unwrap_err().message.contains("wide")
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
    let faults = |m: &Anatomy| derive(m).unwrap().faults.iter().map(|f| say(m, f)).collect::<Vec<_>>().join("\n");
    assert_eq!(faults(&m), "");
    m.parts[5].faces = Some(End::A);
    assert!(faults(&m).contains("cone and cup do not meet: their thick sides lie at different ends"), "{}", faults(&m));
}

#[test]
fn what_contradicts_is_told_with_both_sizes_and_names() {
    let mut m = machine();
    let faults = |m: &Anatomy| derive(m).unwrap().faults.iter().map(|f| say(m, f)).collect::<Vec<_>>().join("\n");
    assert_eq!(faults(&m), "");
    m.parts[0].faces = Some(End::B);
    m.parts[4].hand = Some(Hand::Left);
    assert!(
        faults(&m).contains("Inner seal has its lip the wrong way") && faults(&m).contains("a right-hand thread is wanted"),
        "{}",
        faults(&m)
    );
    let mut m = machine();
    m.parts[2].from = End::B;
    assert!(faults(&m).contains("its bore is 40 mm, body on the way is 60 mm"), "{}", faults(&m));
    let mut m = machine();
    m.before.push(Rule { first: "nut".into(), then: "cover".into(), reason: String::new() });
    assert!(faults(&m).contains("wait for each other"), "{}", faults(&m));
    assert!(!derive(&m).unwrap().buildable());
    let mut m = machine();
    m.parts[6].faces = Some(End::A);
    m.parts[2].faces = Some(End::B);
    m.pairs.push(PairOf { a: "b1".into(), b: "b2".into(), arrangement: "DB".into(), spacers: vec![] });
    assert!(faults(&m).contains("form an X (face-to-face) where a diamond (back-to-back) is meant"), "{}", faults(&m));
    m.parts[5].at_mm = Millimetres(18.0);
    assert!(faults(&m).contains("stand in the same place"), "{}", faults(&m));
}

#[test]
fn the_larger_thrust_washer_belongs_to_its_end_and_tandem_is_neither() {
    let mut m = machine();
    let faults = |m: &Anatomy| derive(m).unwrap().faults.iter().map(|f| say(m, f)).collect::<Vec<_>>().join("\n");
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
    assert_eq!(faults(&m), "large washer must be larger than small washer and lie towards end A.");
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
    (m.parts[2].faces, m.parts[6].faces) = (Some(End::A), Some(End::B));
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
            id: id.into(),
            name: format!("{id} block"),
            outside_mm: Millimetres(200.0),
            bores: vec![],
            material: Material::GreyIron,
            feet: true,
            from: None,
            split: true,
            covers: vec![],
            clocked: false,
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
    let bore = |from: f64, to: f64, d: f64| Bore { from_mm: Millimetres(from), to_mm: Millimetres(to), d_mm: Millimetres(d) };
    m.housings.push(Housing {
        id: "case".into(),
        name: "Case".into(),
        outside_mm: Millimetres(300.0),
        bores: vec![bore(60.0, 70.0, 90.0), bore(70.0, 250.0, 250.0), bore(250.0, 262.0, 90.0)],
        material: Material::GreyIron,
        feet: false,
        from: Some(End::A),
        split: false,
        covers: vec![],
        clocked: false,
    });
    let mut wheel = m.parts[5].clone();
    (wheel.id, wheel.name, wheel.kind) = ("wheel".into(), "Wheel".into(), PartKind::Wheel);
    (wheel.land, wheel.at_mm, wheel.outside_mm, wheel.inside) = ("mid".into(), Millimetres(80.0), Millimetres(200.0), Some("case".into()));
    m.parts.push(wheel);
    let d = derive(&m).unwrap();
    let why = |a: &str, b: &str| d.why(d.number(a).unwrap(), d.number(b).unwrap());
    assert!(matches!(why("wheel", "case"), Some(Why::Captive { .. })));
    assert!(
        matches!(why("case", "cover"), Some(Why::HousingPasses { .. })),
        "{:?}",
        d.precedence.pairs().map(|(a, b)| (&d.ids[a], &d.ids[b])).collect::<Vec<_>>()
    );
    assert!(d.buildable(), "{:?}", d.faults);
    assert!(why("wheel", "case").is_some_and(|w| because(&m, "wheel", "case", &w).contains("goes through neither opening")));
}

/// A bare shaft has a trail, too: nothing to take apart, but to receive and to prove.
#[test]
fn a_bare_shaft_has_a_trail() {
    let a = edit::blank("bare", "Bare shaft");
    let d = derive(&a).unwrap();
    let all = steps(&a, &d, &sequence::best(&a, &d).unwrap());
    assert_eq!(all.iter().map(|s| s.id.as_str()).collect::<Vec<_>>(), ["receive.safe", "receive.kind", "prove.turn", "prove.run"]);
    assert!(as_found::questions(&a).is_empty() && d.buildable());
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    /// Whatever free step is taken next, the trail never gets stuck, what is done stays closed under "before", and the
    /// sentence of a held step names something that is really missing.
    #[test]
    fn a_trail_is_worked_in_any_valid_order(m in drawn(), picks in prop::collection::vec(any::<u16>(), 400), repaired in prop::collection::vec(0usize..12, 0..3)) {
        let d = derive(&m).unwrap();
        let Some(order) = sequence::best(&m, &d) else { return Ok(()) };
        let mut all = steps(&m, &d, &order);
        let parts: Vec<String> = repaired.iter().filter_map(|i| m.parts.get(*i)).map(|p| p.id.clone()).collect();
        steps::after_repairs(&m, &parts, &mut all);
        let mut done = BTreeSet::new();
        for k in picks {
            let free: Vec<String> = steps::meanwhile(&all, &done, "").iter().map(|s| s.id.clone()).collect();
            if free.is_empty() {
                break;
            }
            for s in &all {
                let missing = steps::missing(&all, &done, &s.id);
                prop_assert_eq!(missing.is_empty(), s.before.iter().all(|b| done.contains(b)));
                prop_assert!(missing.iter().all(|x| !done.contains(&x.id)));
            }
            done.insert(free[usize::from(k) % free.len()].clone());
            let on = |i: usize| done.contains(&format!("on.{}", d.ids[i]));
            prop_assert!(d.precedence.pairs().all(|(a, b)| !on(b) || on(a)));
        }
        if all.len() <= 400 {
            prop_assert_eq!(done.len(), all.len());
        }
        let ids: BTreeSet<&str> = all.iter().map(|s| s.id.as_str()).collect();
        prop_assert_eq!(ids.len(), all.len(), "every step has an id of its own");
    }

    /// Taken apart in the order of the trail, nothing comes off while something that was put on after it is still on.
    #[test]
    fn what_went_on_last_comes_off_first(m in drawn()) {
        let d = derive(&m).unwrap();
        let Some(order) = sequence::best(&m, &d) else { return Ok(()) };
        let all = steps(&m, &d, &order);
        let off: Vec<usize> = all.iter().filter_map(|s| s.id.strip_prefix("off.")).filter_map(|id| d.number(id)).collect();
        let place = |i: usize| off.iter().position(|x| *x == i).unwrap();
        prop_assert!(d.precedence.pairs().all(|(a, b)| place(b) < place(a)));
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
