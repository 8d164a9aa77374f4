//! The machine types that come with the program: every kind of machine, every special move, and orders checked by hand.

use ironseat_core::anatomy::acts::{self, Act, Phase, Stage};
use ironseat_core::anatomy::{Anatomy, Derived, PartKind, Unit, as_found, build_sheet, derive};
use std::collections::BTreeSet;

fn types() -> Vec<(Anatomy, Derived, Vec<Act>)> {
    ironseat_store::machine_types()
        .unwrap()
        .into_iter()
        .map(|a| {
            let d = derive(&a).unwrap();
            let all = d.acts.clone();
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
            let free = |s: &&Act| !done.contains(&s.id) && s.before.iter().all(|b| done.contains(&b.id));
            let free: Vec<String> = all.iter().filter(free).map(|s| s.id.clone()).collect();
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

/// In a list of what was found every question has a short name of its own, and no tick stands for two acts.
#[test]
fn no_two_questions_or_acts_of_a_machine_share_a_name() {
    for (a, d, all) in types() {
        let short: BTreeSet<&str> = d.questions.iter().map(|q| q.short.as_str()).collect();
        assert_eq!(short.len(), d.questions.len(), "{}: {short:?}", a.name);
        let ids: BTreeSet<&str> = all.iter().map(|s| s.id.as_str()).collect();
        assert_eq!(ids.len(), all.len(), "{}", a.name);
    }
}

/// One for each kind of machine, by what makes it that kind.
#[test]
fn every_kind_of_machine_is_there() {
    let all = types();
    let has = |word: &str, kinds: &[PartKind]| {
        let (a, ..) =
            all.iter().find(|(a, ..)| a.name.to_lowercase().contains(word)).unwrap_or_else(|| panic!("no {word}"));
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

/// Locks, adjusters and special moves of , 06 and 07: each stands in some trail, with its number where it has one.
#[test]
fn every_special_move_is_a_step_somewhere() {
    let all: Vec<Act> = types().into_iter().flat_map(|t| t.2).collect();
    let words: Vec<String> = all.iter().map(|s| s.words.to_string().to_lowercase()).collect();
    for (what, needs) in [
        ("flinger back-off", &["back ", "off by 0.", "turn by hand"][..]),
        ("set screws in turn", &["snug the screws", "in turn", "a quarter turn each"]),
        ("tab into the slot", &["bend a tab", "never bent", "into the slot", "for it"]),
        ("tab before its nut", &["straighten the tab", "before", "is moved"]),
        ("hole measured", &["measure the hole", "lead-in"]),
        ("bore after pressing", &["after pressing", "ream in line"]),
        ("old bearing", &["beside the old one", "the old one is scrap"]),
        ("land under a bearing", &["burr dressed", "no old track", "chamfer whole"]),
        ("lip guard", &["guard the lip of", "sleeve or tape over"]),
        ("thread start", &["turn it backwards until the thread drops in"]),
        ("grease by volume", &["cm³", "of its free space"]),
        ("centred", &["centre it before anything nips it"]),
        ("floating bush", &["it floats and turns freely"]),
        ("cap to its own block", &["its own cap, marks together"]),
        ("slack and prove zero", &["slack back and prove the zero"]),
        ("match mark", &["from zero to its match mark"]),
        ("lock positions", &["on to the next slot, at most", "never back"]),
        ("nut stand-out", &["how far", "stands from the shaft end"]),
        ("expander", &["start the screws of", "before the cap is pulled down"]),
        ("oilers", &["oiler", "down with wire"]),
        ("captive", &["lay ", "before the shaft is fed through"]),
        ("oil collar", &["oil shows at the edge, then push", "push held 10 minutes"]),
        ("ohms before", &["how many ohms"]),
        ("ohms after", &["ohms of", "no way to earth"]),
        ("o-ring", &["in from several points"]),
        ("split ring", &["turn the shaft by hand", "turn freely"]),
        ("drain", &["turn", "down; a wire goes through it"]),
        ("feed", &["to its feed hole"]),
        ("feed of a bush", &["feed hole to feed hole"]),
        ("levelling plates", &["levelling plates interlocked"]),
        ("shoes", &["both edges rounded"]),
        ("lift test", &["lift test"]),
        ("spacers", &["the offset sets the preload"]),
        ("drag", &["the running drag as torque", "against the drag before preload"]),
        ("push test", &["push test both ways"]),
        ("nip again", &["nip ", "turn the shaft, nip again"]),
        ("match of a pair", &["a diamond"]),
        ("key", &["before it is bedded", "clearance over the key, never interference"]),
    ] {
        assert!(words.iter().any(|w| needs.iter().all(|n| w.contains(n))), "{what}: {needs:?}");
    }
    let hold = all.iter().find(|s| s.wait_word.contains("pressure hold")).unwrap();
    assert!(hold.wait_min >= 20.0 && hold.caution.is_some());
    assert!(
        all.iter().any(|s| s.people == 2)
            && all.iter().any(|s| s.wait_word == "cooling")
            && all.iter().any(|s| s.wait_word == "run-in")
    );
}

/// Numbers of those steps, reckoned by hand from the sizes of each machine: 0.6 and 1 µm per mm under a cap, tilt by
/// shaft, the torque of the sheet as the least; what is only read has no limit.
#[test]
fn steps_read_the_numbers_of_their_machine() {
    let all = types();
    for (key, step, unit, lo, hi) in [
        ("headstock-spindle", "lift.capF", Unit::Um, Some(42.0), Some(70.0)),
        ("headstock-spindle", "lift.capR", Unit::Um, Some(34.8), Some(58.0)),
        ("overhung-brine-pump", "tilt.seal-in", Unit::Mm, None, Some(0.2)),
        ("taper-roller-spindle", "tilt.slR", Unit::Mm, None, Some(0.2)),
        ("biogas-turbocharger", "torque.nut", Unit::NewtonMetre, Some(8.0), Some(9.0)),
        ("blade-root", "torque.nut", Unit::NewtonMetre, Some(180.0), Some(234.0)),
        ("overhung-brine-pump", "key.imp-key", Unit::Mm, Some(0.0), None),
        ("jig-borer-spindle", "drag.f1.f2", Unit::NewtonMetre, None, None),
        ("jig-borer-spindle", "height.sp-i", Unit::Um, None, None),
        ("blower-rotor", "back.flAi", Unit::Mm, Some(0.4), Some(0.6)),
    ] {
        let steps = &all.iter().find(|t| t.0.key == key).unwrap().2;
        let m = steps
            .iter()
            .find(|s| s.id == step)
            .and_then(|s| s.measure.as_ref())
            .unwrap_or_else(|| panic!("{key}: {step} reads nothing"));
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
         &[("k6", "w6"), ("w6", "w5"), ("w5", "w4"), ("w2", "w1"), ("kc", "collar"), ("collar", "nut"), ("shoeB", "ringB"), ("shoeA", "ringA"), ("adj", "bracket"), ("probe", "bracket"), ("barrel", "pkA")],
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
         &[("imp-key", "impeller"), ("sleeve", "impeller"), ("impeller", "imp-nut"), ("seal-in", "cap-in"), ("brg-ie", "bracket"), ("brg-de", "bracket"), ("brg-de", "tab"), ("tab", "nut"), ("nut", "cap-out"), ("bracket", "cap-in"), ("cap-in", "sleeve")],
         &["impeller.faces", "imp-nut.standout", "seal-in.depth", "seal-out.faces", "tab.faces"]),
    ];
    for (key, pairs, questions) in lists {
        let (a, d, _) = all.iter().find(|t| t.0.key == key).unwrap_or_else(|| panic!("{key}"));
        for (x, y) in pairs {
            let (x, y) = (format!("on.{x}"), format!("on.{y}"));
            assert!(leads(d, &x, &y), "{key}: {x} before {y}");
            assert!(!leads(d, &y, &x), "{key}: {y} before {x}");
        }
        let asked: BTreeSet<String> = as_found::questions(a).into_iter().map(|q| q.id).collect();
        for q in questions {
            assert!(asked.contains(*q), "{key}: {q} is not among {asked:?}");
        }
    }
}

/// Whether one act comes, directly or not, before another.
fn leads(d: &Derived, first: &str, then: &str) -> bool {
    let mut open = vec![then.to_owned()];
    let mut seen = BTreeSet::new();
    while let Some(id) = open.pop() {
        let before = &d.act(&id).unwrap_or_else(|| panic!("{id} is not there")).before;
        if before.iter().any(|b| b.id == first) {
            return true;
        }
        open.extend(before.iter().map(|b| b.id.clone()).filter(|b| seen.insert(b.clone())));
    }
    false
}

/// Acts other than placing, in the order that was once wrong: by hand, from the faults that were seen.
#[test]
#[rustfmt::skip]
fn what_was_once_wrong_is_in_its_order() {
    let all = types();
    let lists: [(&str, &[(&str, &str)]); 12] = [
        ("jig-borer-spindle", &[("torque.fnut", "on.quill"), ("lock.fnut", "on.quill"), ("torque.fnut", "preload.f1.f2"), ("torque.unut", "sweep.nose"), ("tab.utab", "on.pul"), ("straighten.utab", "loosen.unut")]),
        ("overhung-brine-pump", &[("torque.nut", "on.cap-out"), ("tab.tab", "on.cap-out"), ("off.cap-out", "straighten.tab"), ("straighten.tab", "loosen.nut"), ("ask.nut.mark", "straighten.tab"), ("off.cap-out", "ask.nut.mark"), ("torque.nut", "sweep.end"), ("bolts.cap-out", "float.shaft"), ("key.imp-key", "on.imp-key"), ("tilt.seal-in", "on.sleeve")]),
        ("sheave-shaft", &[("tab.tab-a", "close.block-a"), ("tab.tab-b", "close.block-b"), ("open.block-a", "straighten.tab-a"), ("on.block-a", "close.block-a"), ("home.brg-a", "torque.nut-a")]),
        ("hydraulic-motor-shaft", &[("on.tb", "on.clipI"), ("on.clipI", "on.br"), ("home.br", "on.clipO"), ("on.clipO", "float.axial"), ("tilt.lip", "on.plate")]),
        ("headstock-spindle", &[("oiler.brF", "on.brF"), ("on.capF", "lift.capF"), ("bolts.capF", "lift.capF"), ("set.nut", "lock.screw"), ("on.hs", "set.nut")]),
        ("biogas-turbocharger", &[("on.cw", "gap.tip"), ("torque.nut", "gap.tip"), ("bolts.ch", "gap.tip"), ("torque.nut", "float.axial"), ("on.bushC", "on.housing"), ("torque.nut", "on.ch")]),
        ("pedestal-turbocharger", &[("bolts.cover", "on.bw"), ("torque.nut", "gap.tipB"), ("torque.nut", "float.thrust"), ("torque.nut", "sweep.nut")]),
        ("six-stage-booster-pump", &[("on.bracket", "ohm.probe"), ("ohm.probe", "bolts.bracket"), ("sweep.collar", "close.thrustcase"), ("bolts.thrustcase", "float.thrust"), ("float.total", "on.ringA"), ("torque.nut", "sweep.collar")]),
        ("taper-roller-spindle", &[("on.cupF", "on.quill"), ("on.quill", "on.coneR"), ("set.nut", "tab.tab"), ("tab.tab", "on.cvR"), ("set.nut", "preload.coneF.coneR"), ("on.slF", "heat.coneF")]),
        ("blower-rotor", &[("back.flAo", "lock.ssA"), ("home.brA", "close.pbA"), ("bolts.pbB", "float.grow"), ("off.ssA", "off.flAo")]),
        ("brake-beam", &[("seat.b1", "on.b1"), ("on.b1", "home.b1"), ("home.b1", "on.l1")]),
        ("sheave-carrier", &[("on.pul", "on.frame"), ("on.sp", "on.frame"), ("home.brA", "on.clip"), ("grease.brA", "on.cvA")]),
    ];
    for (key, pairs) in lists {
        let (_, d, _) = all.iter().find(|t| t.0.key == key).unwrap_or_else(|| panic!("{key}"));
        for (x, y) in pairs {
            assert!(leads(d, x, y), "{key}: {x} before {y}");
        }
        // Nothing is done before it is isolated.
        for s in d.acts.iter().filter(|s| s.phase == Phase::Apart && s.id != "receive.safe") {
            assert!(leads(d, "receive.safe", &s.id), "{key}: {}", s.id);
        }
    }
    let find = |key: &str, act: &str| all.iter().find(|t| t.0.key == key).unwrap().1.act(act).cloned();
    assert!(find("biogas-turbocharger", "off.tw").is_none(), "blades that are part of the shaft stay");
    assert!(find("biogas-turbocharger", "on.bushC").unwrap().words.to_string().contains("floats"));
    assert_eq!(find("overhung-brine-pump", "on.cap-out").unwrap().people, 1, "no second person for a small cap");
    assert!(find("overhung-brine-pump", "off.sleeve").unwrap().tool == "hands");
    assert!(find("headstock-spindle", "on.hs").unwrap().words.to_string().starts_with("Lay the shaft into"));
    assert!(find("headstock-spindle", "plunger.exF").is_none() && find("six-stage-booster-pump", "face.collar").is_none());
}

/// Taking off one thing asks for what it would destroy, in every machine: nothing is taken off with its question
/// unanswered.
#[test]
fn every_question_holds_the_step_that_would_destroy_it() {
    for (a, d, _) in types() {
        for q in as_found::questions(&a) {
            assert!(!q.before_off.is_empty() || q.topic.before_loosen(), "{}: {}", a.name, q.id);
            let asked = format!("ask.{}", q.id);
            for off in q.before_off.iter().filter(|x| d.act(&format!("off.{x}")).is_some()) {
                assert!(leads(&d, &asked, &format!("off.{off}")), "{}: off.{off} is not held by {}", a.name, q.id);
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
                let free: Vec<&Act> = all
                    .iter()
                    .filter(|s| !done.contains(&s.id) && s.before.iter().all(|b| done.contains(&b.id)))
                    .collect();
                assert!(!free.is_empty(), "{}, way {way}: stuck after {} of {}", a.name, done.len(), all.len());
                state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
                let s = free[(state >> 33) as usize % free.len()];
                if s.id.starts_with("on.") {
                    let mine = |r: &&acts::Relation| {
                        r.then == acts::Step::Place(r.then.body())
                            && format!("on.{}", d.bodies.list[r.then.body()].id) == s.id
                    };
                    for r in d.relations().iter().filter(mine) {
                        let first = &d.bodies.list[r.first.body()].id;
                        assert!(
                            done.contains(&format!("on.{first}")),
                            "{}, way {way}: {} before {first}",
                            a.name,
                            s.id
                        );
                    }
                    assert!(!done.contains("prove.turn"), "{}: {} after all was proved", a.name, s.id);
                }
                if let Some(part) = s.id.strip_prefix("off.") {
                    for q in as_found::questions(&a).iter().filter(|q| q.before_off.iter().any(|o| o == part)) {
                        assert!(
                            done.contains(&format!("ask.{}", q.id)),
                            "{}, way {way}: {part} came off before {}",
                            a.name,
                            q.id
                        );
                    }
                }
                done.insert(s.id.clone());
            }
        }
    }
}

/// Every number that any machine asks for can be typed as it is shown, in both systems, and its limits tell apart what
/// keeps them and what does not.
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
                    _ => 0.08,
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

/// At any moment of any way through any machine, with any method at its seats: what is held says why, and names
/// something that can be done now and leads there; nothing is offered before it is isolated; the act in hand is free;
/// in the end nothing is left, and no id is one that cannot be read back.
#[test]
fn what_is_held_has_a_way() {
    use ironseat_core::anatomy::MachineType;
    use ironseat_core::decide::Done;
    use ironseat_core::decide::Facts;
    use ironseat_core::decide::State;
    use ironseat_core::quantity::Units;
    use ironseat_core::terms::ActId;
    use ironseat_core::terms::Method;
    use ironseat_core::terms::StepKind;
    let mut asked = 0;
    for (a, ..) in types() {
        let kind = std::sync::Arc::new(MachineType::new(a.clone()).unwrap());
        for (turn, method) in [(0, Method::Heat), (1, Method::Press), (2, Method::Slide)] {
            let mut facts = Facts::default();
            loop {
                let s = State::new(kind.clone(), facts.clone(), 0);
                assert!(s.acts.iter().all(|x| ActId::of(&x.id).is_some_and(|i| i.to_string() == x.id)), "{}", a.name);
                let open: Vec<&Act> = s.acts.iter().filter(|x| !s.is_done(&x.id)).collect();
                let free: Vec<&Act> = open.iter().copied().filter(|x| s.free(x)).collect();
                if !s.is_done("receive.safe") {
                    assert_eq!(free.iter().map(|x| x.id.as_str()).collect::<Vec<_>>(), ["receive.safe"], "{}", a.name);
                }
                for x in &open {
                    let why = s.reasons(x, Units::Metric);
                    assert_eq!(why.is_empty(), s.free(x), "{}: {}", a.name, x.id);
                    assert!(
                        why.iter().all(|w| s.act(&w.first).is_some() && w.words.ends_with('.')),
                        "{}: {}: {why:?}",
                        a.name,
                        x.id
                    );
                    if !why.is_empty() {
                        let way = s.way_to(x).unwrap_or_else(|| panic!("{}: no way to {}", a.name, x.id));
                        assert!(s.free(way) && !s.is_done(&way.id), "{}: {} leads to {}", a.name, way.id, x.id);
                        asked += 1;
                    }
                }
                let Some(hand) = s.in_hand() else {
                    assert!(open.iter().all(|x| State::optional(x)), "{}: something is left", a.name);
                    assert_eq!(s.progress().0, s.progress().1);
                    break;
                };
                assert!(s.free(hand), "{}: {} is in hand and held", a.name, hand.id);
                // Three ways through: from the front, from the back, from the middle.
                let next = [hand, free[free.len() - 1], free[free.len() / 2]][turn];
                match &next.seat {
                    Some((seat, k)) => {
                        let detail = if *k == StepKind::Choose { method.key().into() } else { String::new() };
                        facts.seat_steps.insert((seat.clone(), *k), Done { detail, ..Done::default() });
                    }
                    None => {
                        facts.ticks.insert(next.id.clone(), Done::default());
                    }
                }
            }
        }
    }
    assert!(asked > 10_000, "{asked}");
}
