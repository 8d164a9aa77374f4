//! The machine types that come with the program: every kind of machine, every special move, and orders checked by hand.

#![allow(clippy::unwrap_used, missing_docs)]

use ironseat_core::anatomy::steps::{Stage, Step, steps};
use ironseat_core::anatomy::{Anatomy, Derived, PartKind, Unit, as_found, build_sheet, derive, sequence};
use std::collections::BTreeSet;

fn types() -> Vec<(Anatomy, Derived, Vec<Step>)> {
    ironseat_store::machine_types()
        .unwrap()
        .into_iter()
        .map(|a| {
            let d = derive(&a).unwrap();
            let order = sequence::best(&a, &d).unwrap();
            let all = steps(&a, &d, &order);
            (a, d, all)
        })
        .collect()
}

/// Nothing contradicts in any of them, everything can be reached, and each is the same after writing and reading.
#[test]
fn each_is_whole() {
    for (a, d, all) in types() {
        assert!(d.faults.is_empty(), "{}: {:?}", a.name, d.faults);
        assert_eq!(build_sheet::read(&build_sheet::write(&a)).unwrap(), a);
        let mut done = BTreeSet::new();
        loop {
            let free: Vec<String> = ironseat_core::anatomy::steps::meanwhile(&all, &done, "").iter().map(|s| s.id.clone()).collect();
            if free.is_empty() {
                break;
            }
            done.extend(free);
        }
        assert_eq!(done.len(), all.len(), "{}", a.name);
        let stages: BTreeSet<Stage> = all.iter().map(|s| s.stage).collect();
        assert!(stages.len() >= 7 && stages.contains(&Stage::Prove), "{}: {stages:?}", a.name);
    }
}

/// One for each kind of machine (handbook 01), by what makes it that kind.
#[test]
fn every_kind_of_machine_is_there() {
    let all = types();
    let has = |word: &str, kinds: &[PartKind]| {
        let (a, ..) = all.iter().find(|(a, ..)| a.name.to_lowercase().contains(word)).unwrap_or_else(|| panic!("no {word}"));
        for k in kinds {
            assert!(a.parts.iter().any(|p| p.kind == *k), "{} has no {}", a.name, k.word());
        }
    };
    has("overhung", &[PartKind::Impeller, PartKind::Bearing, PartKind::Seal, PartKind::Key]);
    has("six-stage", &[PartKind::Impeller, PartKind::ShoeSet, PartKind::BaseRing, PartKind::Collar, PartKind::Probe]);
    has("biogas", &[PartKind::Wheel, PartKind::Bush, PartKind::Ring, PartKind::Insert, PartKind::Circlip]);
    has("pedestal", &[PartKind::Wheel, PartKind::Impeller, PartKind::Probe]);
    has("blower", &[PartKind::Flinger, PartKind::SetScrew, PartKind::Bearing]);
    has("jig-borer", &[PartKind::Spacer, PartKind::Bearing, PartKind::Nut]);
    has("headstock", &[PartKind::Expander, PartKind::Cap, PartKind::Gear]);
    has("taper-roller", &[PartKind::TaperCone, PartKind::Cup, PartKind::Nut]);
    has("sheave carrier", &[PartKind::Pulley, PartKind::Bearing]);
    has("hydraulic motor", &[PartKind::Insert, PartKind::ORing, PartKind::Seal]);
    has("blade", &[PartKind::TaperCone, PartKind::ThrustWasher]);
    has("brake beam", &[PartKind::Bush]);
}

/// Locks, adjusters and special moves of handbook 05, 06 and 07: each stands in some trail, with its number where it has one.
#[test]
fn every_special_move_is_a_step_somewhere() {
    let all: Vec<Step> = types().into_iter().flat_map(|t| t.2).collect();
    let words: Vec<String> = all.iter().map(|s| s.words.to_lowercase()).collect();
    for (what, needs) in [
        ("flinger back-off", &["back ", "off by 0.", "turn by hand"][..]),
        ("set screws in turn", &["set the screws", "in turn", "% of their torque"]),
        ("plunger", &["plunger", "bottoms", "half a turn back"]),
        ("tab into the slot", &["bend a tab", "into the slot", "never turn the nut back"]),
        ("match mark", &["from zero to its match mark"]),
        ("lock positions", &["they lie", "degrees apart, never back"]),
        ("nut stand-out", &["how far", "stands from the shaft end"]),
        ("expander", &["start the screws of", "before the cap is pulled down"]),
        ("oilers", &["oiler", "down with wire"]),
        ("captive", &["lay ", "before the shaft is fed through"]),
        ("oil collar", &["oil in, push", "pushing pressure held"]),
        ("ohms before", &["how many ohms"]),
        ("ohms after", &["ohms of", "no way to earth"]),
        ("o-ring", &["in from several points"]),
        ("split ring", &["turn the collar by hand", "turn freely"]),
        ("drain", &["down: turn it so before it goes on"]),
        ("feed", &["to its feed hole"]),
        ("feed of a bush", &["feed hole to feed hole"]),
        ("levelling plates", &["levelling plates interlocked"]),
        ("shoes", &["both edges rounded"]),
        ("lift test", &["lift test"]),
        ("spacers", &["the offset sets the preload"]),
        ("drag", &["push test both ways, then the running drag"]),
        ("nip again", &["nip, turn the shaft, nip again"]),
        ("match of a pair", &["a diamond"]),
        ("key", &["clearance over the key, never interference"]),
    ] {
        assert!(words.iter().any(|w| needs.iter().all(|n| w.contains(n))), "{what}: {needs:?}");
    }
    let hold = all.iter().find(|s| s.wait_word.contains("pressure hold")).unwrap();
    assert!(hold.wait_min >= 20.0 && hold.caution.is_some());
    assert!(
        all.iter().any(|s| s.people == 2) && all.iter().any(|s| s.wait_word == "cooling") && all.iter().any(|s| s.wait_word == "run-in")
    );
}

/// Numbers of those steps, reckoned by hand from the sizes of each machine: 0.6 and 1 µm per mm under a cap, tilt by shaft,
/// the torque of the sheet as the least; what is only read has no limit.
#[test]
fn steps_read_the_numbers_of_their_machine() {
    let all = types();
    for (key, step, unit, lo, hi) in [
        ("headstock-spindle", "lift.capF", Unit::Um, Some(42.0), Some(70.0)),
        ("headstock-spindle", "lift.capR", Unit::Um, Some(34.8), Some(58.0)),
        ("overhung-brine-pump", "tilt.seal-in", Unit::Mm, None, Some(0.2)),
        ("taper-roller-spindle", "tilt.slF", Unit::Mm, None, Some(0.3)),
        ("biogas-turbocharger", "torque.nut", Unit::NewtonMetre, Some(8.0), None),
        ("blade-root", "torque.nut", Unit::NewtonMetre, Some(180.0), None),
        ("overhung-brine-pump", "key.imp-key", Unit::Mm, Some(0.0), None),
        ("six-stage-booster-pump", "face.collar", Unit::Um, None, None),
        ("jig-borer-spindle", "preload.f1.f2", Unit::NewtonMetre, None, None),
        ("jig-borer-spindle", "height.sp-i", Unit::Um, None, None),
        ("blower-rotor", "back.flAi", Unit::Mm, None, None),
    ] {
        let steps = &all.iter().find(|t| t.0.key == key).unwrap().2;
        let m =
            steps.iter().find(|s| s.id == step).and_then(|s| s.measure.as_ref()).unwrap_or_else(|| panic!("{key}: {step} reads nothing"));
        let near = |a: Option<f64>, b: Option<f64>| a.zip(b).map_or(a == b, |(a, b)| (a - b).abs() < 1e-9);
        assert!(m.unit == unit && near(m.lo, lo) && near(m.hi, hi), "{key}: {step} reads {m:?}");
        assert!(!m.what.is_empty() && m.beside.is_empty(), "{key}: {step} has no name for the Ledger");
    }
    // A nut that is set by its mark or by feel has no torque to read.
    let pump = &all.iter().find(|t| t.0.key == "six-stage-booster-pump").unwrap().2;
    assert!(pump.iter().find(|s| s.id == "torque.nut").unwrap().measure.is_none());
}

/// What must be on before what, written down by hand for each machine; and what must be asked.
#[test]
#[rustfmt::skip]
fn orders_and_questions_agree_with_lists_made_by_hand() {
    let all = types();
    type ByHand<'a> = (&'a str, &'a [(&'a str, &'a str)], &'a [&'a str]);
    let lists: [ByHand<'_>; 8] = [
        ("six-stage-booster-pump",
         &[("k6", "w6"), ("w6", "w5"), ("w5", "w4"), ("w2", "w1"), ("kc", "collar"), ("collar", "nut"), ("shoeB", "ringB"), ("shoeA", "ringA"), ("adj", "bracket"), ("probe", "bracket")],
         &["float.thrust", "float.total", "runout.collar", "nut.standout", "nut.mark", "w1.faces", "w6.faces", "shim.thickness", "adj.place", "probe.ohm", "probe.wire", "shoeA.order", "thrustcase.port.drain"]),
        ("biogas-turbocharger",
         &[("clipT", "bushT"), ("bushC", "housing"), ("housing", "thr"), ("thr", "thb"), ("thb", "ins"), ("oring", "ins"), ("ins", "clipI"), ("cw", "nut"), ("housing", "cw"), ("cw", "ch")],
         &["float.axial", "runout.nose", "gap.tip", "nut.standout", "cw.faces", "cw.clock", "thb.faces", "housing.clock", "ch.clock", "th.clock", "housing.port.drain"]),
        ("jig-borer-spindle",
         &[("f1", "sp-i"), ("sp-i", "f2"), ("f2", "fnut")],
         &["f1.faces", "f2.faces", "fnut.standout", "fnut.mark"]),
        ("sheave-shaft",
         &[("brg-a", "tab-a"), ("tab-a", "nut-a"), ("brg-b", "tab-b"), ("tab-b", "nut-b"), ("sheave", "brg-a")],
         &["brg-a.faces", "nut-a.mark", "nut-b.standout", "tab-b.faces"]),
        ("taper-roller-spindle",
         &[("coneR", "nut")],
         &["cupF.faces", "coneF.faces", "cupR.faces", "coneR.faces"]),
        ("brake-beam",
         &[("l8", "l7"), ("l2", "l1"), ("wash", "clip")],
         &["clip.faces"]),
        ("blower-rotor",
         &[("flAi", "brA"), ("brA", "flAo"), ("kh", "hub")],
         &["hub.faces", "flAi.faces", "brA.faces"]),
        ("overhung-brine-pump",
         &[("imp-key", "impeller"), ("sleeve", "impeller"), ("impeller", "imp-nut"), ("seal-in", "cap-in"), ("brg-ie", "bracket"), ("bracket", "brg-de"), ("brg-de", "tab"), ("tab", "nut"), ("cap-in", "sleeve")],
         &["impeller.faces", "imp-nut.standout", "seal-in.depth", "seal-out.faces", "tab.faces"]),
    ];
    for (key, pairs, questions) in lists {
        let (a, d, _) = all.iter().find(|t| t.0.key == key).unwrap_or_else(|| panic!("{key}"));
        for (x, y) in pairs {
            let (Some(i), Some(j)) = (d.number(x), d.number(y)) else { panic!("{key}: {x} or {y} is not there: {:?}", d.ids) };
            assert!(d.precedence.reached(i).contains(&j), "{key}: {x} before {y}");
            assert!(!d.precedence.reached(j).contains(&i), "{key}: {y} before {x}");
        }
        let asked: BTreeSet<String> = as_found::questions(a).into_iter().map(|q| q.id).collect();
        for q in questions {
            assert!(asked.contains(*q), "{key}: {q} is not among {asked:?}");
        }
    }
}

/// Taking off one thing asks for what it would destroy, in every machine: nothing is taken off with its question unanswered.
#[test]
fn every_question_holds_the_step_that_would_destroy_it() {
    for (a, _, all) in types() {
        for q in as_found::questions(&a) {
            assert!(!q.before_off.is_empty(), "{}: {}", a.name, q.id);
            for off in &q.before_off {
                let off = all.iter().find(|s| s.id == format!("off.{off}")).unwrap();
                let asked = format!("ask.{}", q.id);
                // Directly, or through something that has to come off before it.
                let mut wanted: Vec<&str> = off.before.iter().map(String::as_str).collect();
                let mut seen = BTreeSet::new();
                while let Some(id) = wanted.pop() {
                    if seen.insert(id) {
                        wanted.extend(all.iter().find(|s| s.id == id).into_iter().flat_map(|s| s.before.iter().map(String::as_str)));
                    }
                }
                assert!(seen.contains(asked.as_str()), "{}: {} is not held by {}", a.name, off.id, q.id);
            }
        }
    }
}

/// Whoever takes whatever is free next never gets stuck, never has a part on before what it waits for, and never takes
/// one off before what it would destroy was asked. Twenty ways through every machine.
#[test]
fn any_way_through_the_steps_comes_to_its_end() {
    for (a, d, all) in types() {
        for way in 0..20u64 {
            let mut state = way.wrapping_mul(0x9E37_79B9_7F4A_7C15) | 1;
            let mut done = BTreeSet::new();
            while done.len() < all.len() {
                let free: Vec<&Step> = all.iter().filter(|s| !done.contains(&s.id) && s.before.iter().all(|b| done.contains(b))).collect();
                assert!(!free.is_empty(), "{}, way {way}: stuck after {} of {}", a.name, done.len(), all.len());
                state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
                let s = free[(state >> 33) as usize % free.len()];
                if let Some(part) = s.id.strip_prefix("on.") {
                    let i = d.number(part).unwrap();
                    for (x, _) in d.precedence.pairs().filter(|(_, y)| *y == i) {
                        assert!(done.contains(&format!("on.{}", d.ids[x])), "{}, way {way}: {part} before {}", a.name, d.ids[x]);
                    }
                    assert!(!done.contains("prove.turn"), "{}: {part} goes on after all was proved", a.name);
                }
                if let Some(part) = s.id.strip_prefix("off.") {
                    for q in as_found::questions(&a).iter().filter(|q| q.before_off.iter().any(|o| o == part)) {
                        assert!(done.contains(&format!("ask.{}", q.id)), "{}, way {way}: {part} came off before {}", a.name, q.id);
                    }
                }
                done.insert(s.id.clone());
            }
        }
    }
}

/// Every number that any machine asks for can be typed as it is shown, in both systems, and its limits tell apart what keeps
/// them and what does not.
#[test]
fn numbers_are_typed_as_they_are_shown() {
    use ironseat_core::quantity::Units;
    for (a, _, all) in types() {
        for (s, m) in all.iter().filter_map(|s| Some((s, s.measure.as_ref()?))) {
            let likely = m.lo.zip(m.hi).map_or(m.lo.or(m.hi).unwrap_or(3.0), |(lo, hi)| f64::midpoint(lo, hi));
            for units in [Units::Metric, Units::Inch] {
                let shown = m.unit.show(likely, units);
                let read = m.unit.read(&shown, units).unwrap_or_else(|e| panic!("{}: {}: {shown}: {e}", a.name, s.id));
                // A shown number is rounded as its instrument reads: a thou or a hundredth, a tenth of a foot-pound.
                let near = match m.unit {
                    Unit::Mm => 0.013,
                    Unit::Um => 2.6,
                    _ => 0.07,
                };
                assert!((read - likely).abs() <= near, "{}: {}: {likely} shown {shown} read {read}", a.name, s.id);
                assert!(m.lo.or(m.hi).is_none() == m.limit(units).is_empty());
                assert!(m.against(likely, units).is_none());
                for (edge, sign, word) in [(m.lo, -1.0, "below"), (m.hi, 1.0, "above")] {
                    if let Some(edge) = edge {
                        assert!(m.against(edge, units).is_none(), "a limit itself is kept");
                        let said = m.against(edge + sign * 10.0, units).unwrap();
                        assert!(said.contains(word) && said.contains(&m.source), "{said}");
                    }
                }
            }
        }
    }
}
