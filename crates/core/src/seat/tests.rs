//! Things going right and wrong on one seat: each with the right call and the way out.

use super::*;
use crate::anatomy::Anatomy;
use crate::quantity::Units;
use proptest::prelude::*;

pub(super) fn anatomy(designation: &str, shaft_class: &str, housing_class: &str) -> Anatomy {
    let bearing = crate::fit::designation::read(designation).expect("designation");
    let (d, outer, width) = (bearing.d.get(), bearing.outer.get(), bearing.width.get());
    let doc = serde_json::json!({
        "key": "t", "name": "test shaft", "version": 1,
        "lands": [{"id": "a", "name": "middle", "length_mm": 100.0, "d_mm": d + 8.0}, {"id": "b", "name": "bearing land", "length_mm": width, "d_mm": d}, {"id": "c", "name": "end", "length_mm": 60.0, "d_mm": d - 4.0}],
        "parts": [{"id": "r", "name": "bearing", "kind": "bearing", "land": "b", "width_mm": width, "outside_mm": outer, "designation": designation}],
        "housings": [{"id": "h", "name": "housing", "outside_mm": outer + 40.0, "material": "grey_iron", "bores": [{"from_mm": 95.0, "to_mm": 125.0, "d_mm": outer}]}],
        "seats": [{"id": "s", "name": "seat", "part": "r", "housing": "h", "shaft_class": shaft_class, "housing_class": housing_class, "shaft_material": "carbon_steel", "from": "B", "against": "the shoulder",
                   "depth": {"datum": "the shaft end", "expected_mm": 60.0, "tolerance_mm": 0.05}, "source": "test sheet"}],
    });
    serde_json::from_value::<Anatomy>(doc).expect("anatomy").check().expect("sound")
}

pub(super) fn gauge(name: &str, u: f64, cost: f64) -> Gauge {
    Gauge {
        name: name.into(),
        outside: true,
        inside: true,
        depth: true,
        range: (Millimetres::of(0.0), Millimetres::of(200.0)),
        resolution: Millimetres::of(0.001),
        u: Millimetres::of(u),
        cost,
        overdue: false,
    }
}

pub(super) fn shop() -> Shop {
    let tube = |name: &str, b: f64, o: f64, l: f64| Tube {
        name: name.into(),
        bore: Millimetres::of(b),
        outside: Millimetres::of(o),
        length: Millimetres::of(l),
    };
    Shop {
        gauges: vec![
            gauge("calliper", 0.03, 1.0),
            gauge("micrometer", 0.003, 5.0),
            gauge("electronic gauge", 0.0006, 60.0),
        ],
        presses: vec![PressMachine { name: "bench press".into(), capacity: Newtons::of(12_500.0) }],
        tubes: vec![tube("tube 41", 41.0, 52.0, 160.0), tube("tube 51", 51.0, 67.0, 160.0)],
        rules: HouseRules::default(),
        room: None,
    }
}

/// A full sheet around a base, twelve deviations in µm.
pub(super) fn sheet(base: f64, um: [f64; 12], gauge: Gauge) -> Measured {
    let cells: Vec<Option<f64>> = um.iter().map(|d| Some(base + d / 1000.0)).collect();
    let overdue = if gauge.overdue { vec![gauge.name.clone()] } else { vec![] };
    Measured { rows: cells.chunks(4).map(<[_]>::to_vec).collect(), before: Vec::new(), gauge, overdue }
}

const ROUND: [f64; 12] = [0.0; 12];

fn fit_of(a: &Anatomy, journal: f64, bore: f64) -> Fit {
    let s = Surfaces {
        journal: Some(sheet(journal, ROUND, gauge("micrometer", 0.003, 5.0))),
        ring_bore: Some(sheet(bore, ROUND, gauge("comparator", 0.0015, 30.0))),
        ..Surfaces::default()
    };
    fit(&a.facts("s").expect("seat"), &s, &shop()).expect("measured")
}

fn worst(calls: &[Call]) -> (Verdict, &Situation) {
    (calls[0].verdict, &calls[0].situation)
}

/// A meant loose fit is never called tight.
#[test]
fn a_meant_loose_fit_reads_as_loose() {
    let f = fit_of(&anatomy("6208 C3", "g6", "H7"), 39.985, 39.994);
    let said = f.calls[0].title(Units::Metric);
    assert_eq!((f.calls[0].verdict, said.as_str()), (Verdict::Go, "Fit is good: 9 µm loose, as drawn"));
    assert!(
        f.calls.iter().all(|c| !c.title(Units::Metric).contains("tight") && !c.reason(Units::Metric).contains("press"))
    );
    assert!(f.grip.is_none(), "what slides does not grip");
}

#[test]
fn a_good_seat_is_a_go_with_heat() {
    let f = fit_of(&anatomy("6208 C3", "k6", "H7"), 40.008, 39.994);
    assert!(matches!(worst(&f.calls), (Verdict::Go, Situation::FitGood { .. })), "{:?}", f.calls);
    assert_eq!((f.through, f.tube().map(|t| t.tube.name.as_str())), (ForceThrough::InnerRing, Some("tube 41")));
    assert!(f.advised().is_some() && f.grip.is_some_and(|g| g.get() > 100.0));
}

#[test]
fn each_thing_that_goes_wrong_has_its_call() {
    let over = fit_of(&anatomy("6208 C5", "k6", "H7"), 40.050, 39.994);
    assert!(
        over.calls.iter().any(|c| matches!(c.situation, Situation::ForceOverPress { heat_helps: true, .. })
            && c.verdict == Verdict::LookAgain),
        "{:?}",
        over.calls
    );
    assert!(!over.choices.iter().any(|c| c.method == Method::Press && c.possible));

    let hopeless = fit_of(&anatomy("6208 C5", "k6", "H7"), 40.120, 39.994);
    assert!(
        matches!(worst(&hopeless.calls), (Verdict::Stop, Situation::ForceOverPress { heat_helps: false, .. })),
        "{:?}",
        hopeless.calls
    );
    assert_eq!(hopeless.advised(), None);

    let under = fit_of(&anatomy("6208 C3", "k6", "H7"), 39.990, 39.994);
    assert!(matches!(worst(&under.calls), (Verdict::Stop, Situation::Spins { .. })));
    assert!(under.calls[0].action(crate::quantity::Units::Metric).contains("Build the journal up"));

    let both_tight = fit_of(&anatomy("6203", "k6", "N6"), 17.012, 16.998);
    assert!(
        matches!(worst(&both_tight.calls), (Verdict::Stop, Situation::NoClearance { .. })),
        "{:?}",
        both_tight.calls
    );
    assert_eq!(both_tight.through, ForceThrough::BothRings);

    let sealed = fit_of(&anatomy("6208-2RS C5", "p6", "H7"), 40.036, 39.992);
    assert!(
        sealed.calls.iter().any(|c| matches!(&c.situation, Situation::CapNotEnough { force, .. } if force.get() > 0.0)),
        "{:?}",
        sealed.calls
    );
    assert_eq!(sealed.advised(), Some(Method::HeatAndPress));
    assert!(sealed.heat.target.get() <= 80.0 && sealed.rest_force.get() < sealed.press.high.force.get());

    let mut hasty = shop();
    hasty.rules.hands_s = 600.0;
    let a = anatomy("6203 C4", "k5", "H7");
    let s = Surfaces {
        journal: Some(sheet(17.005, ROUND, gauge("electronic gauge", 0.0006, 60.0))),
        ring_bore: Some(sheet(16.996, ROUND, gauge("electronic gauge", 0.0006, 60.0))),
        ..Surfaces::default()
    };
    let short = fit(&a.facts("s").expect("seat"), &s, &hasty).expect("measured");
    assert!(short.calls.iter().any(|c| matches!(c.situation, Situation::GripShort { .. })), "{:?}", short.calls);
}

/// A suffix that nobody knows: as if sealed, until somebody has looked.
#[test]
fn what_is_not_known_to_be_open_is_heated_as_if_it_were_sealed() {
    let a = anatomy("6208 QX", "k6", "H7");
    let facts = a.facts("s").expect("seat");
    let s = Surfaces {
        journal: Some(sheet(40.008, ROUND, gauge("micrometer", 0.003, 5.0))),
        ring_bore: Some(sheet(39.994, ROUND, gauge("comparator", 0.0015, 30.0))),
        ..Surfaces::default()
    };
    let cap = |said: Option<&str>| {
        let f = fit(&facts.clone().closed(said), &s, &shop()).expect("measured");
        (f.heat.cap.get(), f.weakest)
    };
    assert_eq!(cap(None), (80.0, "grease and seals that it may have"));
    assert_eq!(cap(Some("cannot tell")).0, 80.0);
    assert_eq!(cap(Some("shielded")), (80.0, "grease and seals"));
    assert_eq!(cap(Some("open")), (120.0, "ring steel"));
    // What stands on the ring is not talked away.
    let sealed = anatomy("6208-2RS", "k6", "H7").facts("s").expect("seat").closed(Some("open"));
    assert!(sealed.bearing.seals.greased());
    let questions = crate::anatomy::as_found::questions(&a);
    let q = questions.iter().find(|q| q.id == "closure.s").expect("it is asked");
    assert!(q.words.contains("“QX” in 6208 QX is not understood"), "{}", q.words);
    assert!(q.read("sealed", Units::Metric).is_ok() && q.read("shut", Units::Metric).is_err());
    assert!(crate::anatomy::as_found::questions(&anatomy("6208 C3", "k6", "H7")).iter().all(|q| q.id != "closure.s"));
    let mut acts = crate::anatomy::derive(&a).expect("derived").acts;
    crate::anatomy::acts::with_seats(&a, &mut acts, &std::collections::BTreeMap::new());
    let choose = acts.iter().find(|x| x.id == "at.s.choose").expect("chosen");
    assert!(choose.waits_for("ask.closure.s") && acts.iter().any(|x| x.id == "ask.closure.s"));
}

/// A cap that leaves 10 µm is enough for a small ring; a large one tilts and sticks with it.
#[test]
fn room_to_slide_grows_with_the_ring() {
    assert_eq!((least_slide(Millimetres::of(20.0)).get(), least_slide(Millimetres::of(200.0)).get()), (10.0, 50.0));
    // 6240 under a cap of 80: 200 mm grow by 144 µm, of which 124 are taken, so 20 are left to slide with.
    let f = fit_of(&anatomy("6240-2RS C5", "p6", "H7"), 200.110, 199.986);
    assert!((f.spare.get() - 20.0).abs() < 0.5 && !f.heats, "{:?} {}", f.spare, f.heats);
}

/// The ring loses heat on its way: what is left to press is more than at the heater, and less than cold.
#[test]
fn what_is_pressed_hot_counts_the_way_from_the_heater() {
    let f = |hands: f64| {
        let mut shop = shop();
        shop.rules.hands_s = hands;
        let s = Surfaces {
            journal: Some(sheet(40.036, ROUND, gauge("micrometer", 0.003, 5.0))),
            ring_bore: Some(sheet(39.992, ROUND, gauge("comparator", 0.0015, 30.0))),
            ..Surfaces::default()
        };
        fit(&anatomy("6208-2RS C5", "p6", "H7").facts("s").expect("seat"), &s, &shop).expect("measured")
    };
    let (quick, slow) = (f(1.0), f(120.0));
    assert!(quick.rest_force.get() < slow.rest_force.get() && slow.rest_force.get() < slow.press.high.force.get());
    // Never above what the press may give.
    assert!(quick.stop_at().get() <= quick.press_machine.as_ref().map_or(f64::MAX, |p| p.1.get()));
}

#[test]
fn yield_is_told_where_it_matters() {
    let yields = |f: &Fit| {
        f.calls
            .iter()
            .filter_map(|c| {
                if let Situation::Yields { part, share } = &c.situation {
                    Some((part.clone(), *share, c.verdict))
                } else {
                    None
                }
            })
            .collect::<Vec<_>>()
    };
    assert!(yields(&fit_of(&anatomy("6208 C3", "k6", "H7"), 40.008, 39.994)).is_empty());
    // A hollow shaft with a thin wall: 2p/(1 - k) at its bore.
    let mut a = anatomy("6208 C5", "k6", "H7");
    a.seats[0].shaft_bore_mm = Millimetres::of(38.0);
    let f = fit_of(&a, 40.060, 39.994);
    let p = f.press.high.pressure.get();
    let told = yields(&f);
    let share = 2.0 * p / (1.0 - (38.0f64 / 40.0).powi(2)) / 350.0;
    assert!(
        told.iter().any(|(part, s, v)| part == "the shaft"
            && (s - share).abs() < 1e-9
            && (*v == Verdict::Stop) == (share > 1.0)),
        "{told:?} {share}"
    );
}

/// One reading, or one among many, orders nothing to be machined until that place was read again and said the same.
#[test]
fn nothing_is_machined_on_the_word_of_one_reading() {
    let a = anatomy("6208", "k6", "H7");
    let facts = a.facts("s").expect("seat");
    let judge = |m: &Measured| judge_grid(Surface::Journal, &facts, m, &shop());
    let mic = || gauge("micrometer", 0.003, 5.0);
    let mut one = sheet(40.010, ROUND, mic());
    one.rows[1][2] = Some(40.510);
    let turn = judge(&one);
    assert!(
        matches!(worst(&turn), (Verdict::Stop, Situation::ReadAgain { station: 2, plane: 3, .. })) && turn.len() == 1,
        "{turn:?}"
    );
    assert!(turn[0].action(Units::Metric).starts_with("Read plane 3"), "{}", turn[0].action(Units::Metric));
    // Read again and the same: now it is the shaft.
    one.before = vec![vec![None; 4]; 3];
    one.before[1][2] = Some(40.512);
    assert!(judge(&one).iter().any(|c| matches!(c.situation, Situation::SizeOver { .. })));
    // Read again and another: the one that stands now is as lonely as the one before.
    one.before[1][2] = Some(40.010);
    assert!(matches!(worst(&judge(&one)), (_, Situation::ReadAgain { .. })));
    // A first reading stands alone, a second beside it does not.
    let mut first = sheet(40.030, ROUND, mic());
    for (s, row) in first.rows.iter_mut().enumerate() {
        for (p, v) in row.iter_mut().enumerate() {
            *v = v.filter(|_| s == 0 && p == 0);
        }
    }
    assert!(matches!(worst(&judge(&first)), (Verdict::Stop, Situation::ReadAgain { station: 1, plane: 1, .. })));
    first.rows[0][1] = Some(40.031);
    assert!(matches!(worst(&judge(&first)), (Verdict::Stop, Situation::SizeOver { .. })));
}

/// The Reckoner, filled from a seat, gives the figures of the Bench: force, pressure, heat, clearance, time to grip.
#[test]
fn a_question_filled_from_a_seat_gives_the_figures_of_the_bench() {
    use crate::reckon::entry;
    use crate::reckon::reckon;
    use crate::seat::asks::OF_SEAT;
    use crate::seat::asks::of_seat;
    let mut tried = 0;
    for (bearing, shaft, housing, base) in
        [("6208", "k6", "H7", 40.010), ("6208-2RS", "k5", "J7", 40.008), ("NU208", "m6", "K7", 40.014)]
    {
        let a = anatomy(bearing, shaft, housing);
        let facts = a.facts("s").expect("seat");
        let surfaces = Surfaces {
            journal: Some(sheet(base, ROUND, gauge("micrometer", 0.003, 5.0))),
            ring_bore: Some(sheet(39.994, ROUND, gauge("comparator", 0.0015, 30.0))),
            ..Surfaces::default()
        };
        let f = fit(&facts, &surfaces, &shop()).expect("a fit");
        let answer = |name: &str| {
            let input = of_seat(name, &facts, Some(&f))?;
            for k in input.keys() {
                assert!(entry(name).unwrap().fields.iter().any(|x| x.name == *k), "{name} takes no {k}");
            }
            Some(reckon(name, &serde_json::Value::Object(input).to_string()))
        };
        let mut same = |name: &str, field: &str, of: f64| {
            let a = answer(name).unwrap().unwrap();
            let got = a[field].as_f64().unwrap_or_else(|| panic!("{name} {field}: {a}"));
            assert!((got - of).abs() <= 1e-6 * of.abs().max(1.0), "{bearing} {name} {field}: {got} and {of}");
            tried += 1;
        };
        for (way, case) in [("low", &f.press.low), ("mid", &f.press.mid), ("high", &f.press.high)] {
            same("fit.press", &format!("force_{way}_n"), case.force.get());
            same("fit.press", &format!("pressure_{way}_mpa"), case.pressure.get());
        }
        same("heat.target", "target_c", f.heat.target.get());
        same("heat.target", "needed_c", f.heat.needed.get());
        same("heat.target", "cap_c", f.heat.cap.get());
        if let Some(c) = &f.clearance {
            same("fit.clearance_left", "left_min_um", c.left.0.get());
            same("fit.clearance_left", "left_max_um", c.left.1.get());
        }
        if let Some(grip) = f.grip {
            same("heat.cooling", "grip_s", grip.get());
        }
        for name in OF_SEAT {
            let (some, none) = (of_seat(name, &facts, Some(&f)), of_seat(name, &facts, None));
            assert_eq!(some.is_some(), none.is_some(), "{name}");
            // What a seat does not know, such as the speed, is asked for; nothing that it knows is refused.
            if let Some(Err(e)) = answer(name) {
                assert!(e.message.starts_with("this field is needed"), "{name}: {e:?}");
            }
        }
        assert!(of_seat("wear_ring", &facts, Some(&f)).is_none());
    }
    assert!(tried > 25, "{tried}");
}

/// What is taken off lands inside the limits, not on one of them: at least and at most.
#[test]
fn a_mend_lands_inside() {
    let a = anatomy("6208", "k6", "H7");
    let m = sheet(40.028, ROUND, gauge("micrometer", 0.003, 5.0));
    let calls = judge_grid(Surface::Journal, &a.facts("s").expect("seat"), &m, &shop());
    let Situation::SizeOver { mend: Some((least, most)), .. } = calls[0].situation.clone() else { panic!("{calls:?}") };
    // k6 at 40: 2 to 18 µm. 28 - 18 + 3 = 13 at least, 28 - 2 - 3 = 23 at most.
    assert!((least.get() - 13.0).abs() < 1e-6 && (most.get() - 23.0).abs() < 1e-6, "{least:?} {most:?}");
    assert!(
        calls[0].action(Units::Metric).contains("at least 13 µm and at most 23 µm"),
        "{}",
        calls[0].action(Units::Metric)
    );
}

#[test]
fn form_and_size_of_a_journal_are_judged() {
    let a = anatomy("6208", "k6", "H7");
    let facts = a.facts("s").expect("seat");
    let judge = |base: f64, um: [f64; 12], g: Gauge| judge_grid(Surface::Journal, &facts, &sheet(base, um, g), &shop());
    let mic = || gauge("micrometer", 0.003, 5.0);
    let mut tapered = ROUND;
    tapered[8..].fill(14.0);
    let mut oval = ROUND;
    oval[5] = 24.0;
    assert!(matches!(worst(&judge(40.010, ROUND, mic())), (Verdict::Go, Situation::SizeGood { left: 0, .. })));
    assert!(matches!(worst(&judge(40.030, ROUND, mic())), (Verdict::Stop, Situation::SizeOver { .. })));
    assert!(matches!(worst(&judge(39.990, ROUND, mic())), (Verdict::Stop, Situation::SizeUnder { .. })));
    assert!(
        judge(40.003, tapered, mic())
            .iter()
            .any(|c| matches!(c.situation, Situation::Taper { larger_at_b: true, .. }) && c.verdict == Verdict::Stop)
    );
    assert!(
        judge(39.998, oval, mic())
            .iter()
            .any(|c| matches!(c.situation, Situation::OutOfRound { station: 2, .. }) && c.verdict == Verdict::Stop)
    );

    // A micrometer near the limit cannot tell; the electronic gauge is named.
    let near = judge(40.017, ROUND, mic());
    assert!(
        matches!(worst(&near), (Verdict::Undecided, Situation::SizeUndecided { better: Some(b), .. }) if b == "electronic gauge"),
        "{near:?}"
    );
    let coarse = judge(40.010, ROUND, gauge("calliper", 0.03, 1.0));
    assert!(
        matches!(worst(&coarse), (Verdict::Undecided, Situation::TooCoarse { better: Some(b), .. }) if b == "micrometer"),
        "{coarse:?}"
    );

    let mut old = mic();
    old.overdue = true;
    assert_eq!(judge(40.010, ROUND, old)[0].overdue, ["micrometer"]);
    let mut simple = shop();
    simple.rules.guard_band = false;
    let accepted = judge_grid(Surface::Journal, &facts, &sheet(40.017, ROUND, mic()), &simple);
    assert!(accepted[0].verdict == Verdict::Go && !accepted[0].guarded);
}

#[test]
fn a_ring_is_home_only_when_the_feeler_stays_out_and_the_depth_agrees() {
    let a = anatomy("6208", "k6", "H7");
    let facts = a.facts("s").expect("seat");
    let g = gauge("depth micrometer", 0.006, 4.0);
    let feelers = |inside: usize| -> Vec<(String, f64)> {
        ["F0", "F90", "F180", "F270"]
            .iter()
            .enumerate()
            .map(|(i, k)| ((*k).to_owned(), f64::from(u8::from(i < inside))))
            .collect()
    };
    let judge =
        |inside, depths: &[f64], left| judge_home(&facts, &feelers(inside), depths, left, Some(&g), &[], &shop());
    assert!(matches!(judge(1, &[], 3).situation, Situation::FeelerGoesIn { ref places } if places == &["0°"]));
    assert!(matches!(
        judge(0, &[60.0, 60.01, 60.0], 0),
        Call { verdict: Verdict::Go, situation: Situation::Home { .. }, .. }
    ));
    assert!(matches!(judge(0, &[60.3], 2), Call { verdict: Verdict::Stop, situation: Situation::DepthOff { .. }, .. }));
    assert_eq!(judge(0, &[60.048], 2).verdict, Verdict::Undecided);
    assert!(matches!(judge(0, &[60.0], 2).situation, Situation::HomeWaits { left: 2 }));
}

#[test]
fn every_call_speaks_in_both_systems() {
    use crate::quantity::Units;
    for f in [
        fit_of(&anatomy("6208", "k6", "H7"), 40.050, 39.994),
        fit_of(&anatomy("6203", "k6", "N6"), 17.012, 16.998),
        fit_of(&anatomy("6208-2RS", "p6", "H7"), 40.036, 39.992),
    ] {
        for c in &f.calls {
            for text in [c.title(Units::Metric), c.reason(Units::Metric), c.action(Units::Metric)] {
                assert!(!text.is_empty() && text.chars().next().is_some_and(|l| !l.is_lowercase()), "{text}");
            }
            let inch = format!("{} {} {}", c.title(Units::Inch), c.reason(Units::Inch), c.action(Units::Inch));
            assert!(!inch.contains("µm") && !inch.contains("°C") && !inch.contains(" kN"), "{inch}");
        }
    }
}

#[test]
fn a_broken_anatomy_names_what_is_wrong() {
    let sound = serde_json::to_value(anatomy("6208", "k6", "H7")).expect("json");
    for (pointer, value, field, word) in [
        ("/parts/0/land", serde_json::json!("zz"), "parts", "zz"),
        ("/parts/0/designation", serde_json::json!("6299"), "parts", "6299"),
        ("/lands/1/d_mm", serde_json::json!(45.0), "parts", "45"),
        ("/lands/0/length_mm", serde_json::json!(0.0), "lands", "above 0"),
        ("/seats/0/shaft_class", serde_json::json!("q6"), "seats", "letter"),
        ("/seats/0/housing", serde_json::json!("nowhere"), "seats", "nowhere"),
        ("/lands/1/id", serde_json::json!("a"), "lands", "twice"),
    ] {
        let mut doc = sound.clone();
        *doc.pointer_mut(pointer).expect(pointer) = value;
        let e = serde_json::from_value::<Anatomy>(doc).expect("reads").check().expect_err(pointer);
        assert!(e.field == field && e.message.contains(word), "{pointer}: {e}");
    }
}

proptest! {
    #[test]
    fn the_guard_band_never_says_go_outside_the_limits(base in 39.98f64..40.04, um in prop::array::uniform12(-3f64..3.0), u in 0.0005f64..0.004) {
        let a = anatomy("6208", "k6", "H7");
        let facts = a.facts("s").unwrap();
        let m = sheet(base, um, gauge("any", u, 1.0));
        let all_inside = m.rows.iter().flatten().flatten().all(|v| *v >= 40.002 + u - 1e-9 && *v <= 40.018 - u + 1e-9);
        let calls = judge_grid(Surface::Journal, &facts, &m, &shop());
        prop_assert!(calls[0].verdict != Verdict::Go || all_inside, "{:?}", calls);
    }

    #[test]
    fn what_is_advised_is_possible(journal in 39.99f64..40.06, bore in 39.985f64..40.0, sealed: bool) {
        let f = fit_of(&anatomy(if sealed { "6208-2RS C3" } else { "6208 C3" }, "k6", "H7"), journal, bore);
        prop_assert!(f.choices.iter().filter(|c| c.advised).all(|c| c.possible) && f.choices.iter().filter(|c| c.advised).count() <= 1);
        prop_assert!(!f.calls.is_empty() && f.calls.windows(2).all(|w| w[0].verdict >= w[1].verdict));
    }
}

/// The fit of a ring that may enter a bore which is there already, the housing measured too.
fn both(material: &str, enters: bool, journal: f64, bore: f64, hole: f64, ring: f64) -> (Fit, SeatFacts) {
    let mut a = anatomy("6208 C3", "k6", "H7");
    a.housings[0].material = serde_json::from_value(serde_json::json!(material)).expect("material");
    let facts = SeatFacts { enters_bore: enters, ..a.facts("s").expect("seat") };
    let m = |v| Some(sheet(v, ROUND, gauge("comparator", 0.0015, 30.0)));
    let s = Surfaces { journal: m(journal), ring_bore: m(bore), housing_bore: m(hole), ring_outside: m(ring) };
    (fit(&facts, &s, &shop()).expect("measured"), facts)
}

/// Loose on the shaft and tight in the housing: pressed by the outer ring with the housing's force; in light metal the
/// housing is warmed. Never slid on by hand as if there were no second fit.
#[test]
fn loose_on_the_shaft_and_tight_in_the_housing_goes_in_by_its_outer_ring() {
    let (f, _) = both("grey_iron", true, 39.980, 39.994, 79.970, 79.994);
    assert_eq!((f.through, f.advised()), (ForceThrough::OuterRing, Some(Method::Press)));
    assert!(!f.choices.iter().any(|c| c.method == Method::Slide), "{:?}", f.choices);
    // Lamé by hand: grey iron ring 80/120, outer ring 80/raceway, 24 µm less the peaks, oiled.
    let h = f.in_housing.as_ref().expect("tight");
    assert!((f.push().high.get() - h.press.high.force.get()).abs() < 1e-9 && f.push().high.get() > 1000.0);
    assert!(
        f.calls.iter().any(|c| matches!(c.situation, Situation::TightInHousing { warm: None, .. })),
        "{:?}",
        f.calls
    );
    let (f, facts) = both("aluminium", true, 39.980, 39.994, 79.970, 79.994);
    assert_eq!(f.advised(), Some(Method::WarmHousing));
    // 24 µm and 40 µm to slide over 23e-6 · 80 mm: 35 K above the shop.
    let h = f.in_housing.as_ref().expect("tight");
    assert!((h.warm.needed.get() - (20.0 + 64.0 / (23e-6 * 80e3))).abs() < 1e-9);
    let said = f.calls.iter().find(|c| matches!(c.situation, Situation::TightInHousing { .. })).expect("said");
    assert!(said.action(Units::Metric).contains("Warm the housing to 55 °C"), "{}", said.action(Units::Metric));
    assert!(
        steps::says(crate::terms::StepKind::PutOn, &facts, Some(Method::WarmHousing), Units::Metric)
            .contains("Warm housing all round")
    );
}

/// What has to enter a bore that is there already is not heated blindly: hot, its outside grows.
#[test]
fn a_ring_that_enters_a_bore_is_not_heated_blindly() {
    // 15 µm loose in the bore, and hot the ring grows by more than that.
    let (f, _) = both("grey_iron", true, 40.012, 39.994, 80.010, 79.995);
    assert!(f.grows_in_bore() && !f.choices.iter().any(|c| c.method.heats() && c.possible), "{:?}", f.choices);
    assert_eq!(f.advised(), Some(Method::Press));
    let said = f.calls.iter().find(|c| matches!(c.situation, Situation::GrowsInBore { .. })).expect("said");
    assert!(said.reason(Units::Metric).contains("It leaves 15 µm") && said.verdict == Verdict::LookAgain);
    // The same ring with its housing coming over it later is heated as ever.
    let (f, _) = both("grey_iron", false, 40.012, 39.994, 80.010, 79.995);
    assert_eq!(f.advised(), Some(Method::Heat));
    // Tight in both and entering both at once: the forces add up.
    let (f, _) = both("grey_iron", true, 40.012, 39.994, 79.985, 79.995);
    let h = f.in_housing.as_ref().expect("tight");
    assert!((f.push().high.get() - f.press.high.force.get() - h.press.high.force.get()).abs() < 1e-9);
    assert_eq!(f.through, ForceThrough::BothRings);
}

/// Where every way is out it is said what would open one: never an end without a next step.
#[test]
fn a_dead_end_says_what_would_open_a_way() {
    let a = anatomy("6208 C5", "k6", "H7");
    let f = fit_of(&a, 40.120, 39.994);
    assert!(f.choices.iter().all(|c| !c.possible));
    let list = ways(&f, &a.facts("s").expect("seat"), Units::Metric);
    let text = list.join(" ");
    for words in ["Another press", "Take the journal down by at least 96 µm", "Overrule the call"] {
        assert!(text.contains(words), "{words}: {text}");
    }
    assert!(ways(&fit_of(&a, 40.008, 39.994), &a.facts("s").expect("seat"), Units::Metric).is_empty());
    // A ring that would grow in its bore, and no press for it: bore and ring are warmed together.
    let (mut f, facts) = both("aluminium", true, 40.020, 39.994, 80.010, 79.995);
    f.choices.iter_mut().for_each(|c| c.possible = false);
    assert!(
        ways(&f, &facts, Units::Metric).iter().any(|w| w.contains("bore and ring then grow together")),
        "{:?}",
        ways(&f, &facts, Units::Metric)
    );
}
