//! Edits of a machine type: what they change, and what they refuse.

use super::super::tests::machine;
use super::super::{build_sheet, derive};
use super::*;
use proptest::prelude::*;

/// What a part has already.
fn more(p: &Part) -> PartMore {
    PartMore {
        locks: p.locks.clone(),
        covers: p.covers.clone(),
        keeps: p.keeps,
        slots: p.slots,
        tabs: p.tabs,
        torque_nm: p.torque_nm,
        match_mark: p.match_mark,
        back_off: p.back_off_mm,
        clocked: p.clocked,
        through_balls: p.through_balls,
        adjusted: p.adjusted,
        plunger: p.plunger,
        oiler: p.oiler,
        tab_bent: p.tab_bent,
        minutes: p.minutes,
        people: p.people,
        solid: p.solid,
        fitted: p.fitted,
        turned_by: p.turned_by,
        locked_by: p.locked_by,
        torque_hi_nm: p.torque_hi_nm,
        compound: p.compound.clone(),
        cure_min: p.cure_min,
        tool: p.tool_mm,
        mass_kg: p.mass_kg,
        gap_volts: p.gap_volts,
        against: p.against.clone(),
    }
}

fn bolt_ring(n: u32, torque_nm: f64) -> super::super::BoltRing {
    super::super::BoltRing {
        part: "cover".into(),
        to: None,
        n,
        torque_nm,
        torque_hi_nm: None,
        circle_mm: None,
        head: None,
        compound: None,
    }
}

#[test]
fn a_machine_is_built_from_nothing() {
    let mut a = blank("my-blower", "My blower");
    let mm = Millimetres::of;
    for e in [
        Edit::AddLand { behind: None, name: "body".into(), length: mm(120.0), d: mm(60.0), kind: LandKind::Plain },
        Edit::AddLand { behind: None, name: "B journal".into(), length: mm(60.0), d: mm(40.0), kind: LandKind::Plain },
        Edit::AddPart { kind: PartKind::Bearing, land: "land-1".into(), into: None },
        Edit::AddPart { kind: PartKind::Bearing, land: "land-2".into(), into: None },
        Edit::AddPart { kind: PartKind::Seal, land: "land-2".into(), into: None },
    ] {
        a = e.apply(&a).unwrap_or_else(|r| panic!("{e:?}: {r}"));
        assert!(!e.said().is_empty());
    }
    assert_eq!(a.lands.iter().map(|l| l.id.as_str()).collect::<Vec<_>>(), ["land-1", "land", "land-2"]);
    assert_eq!(a.parts[0].designation.as_deref(), Some("6208"));
    assert_eq!((a.parts[0].from, a.parts[1].from), (End::A, End::B));
    assert!(derive(&a).unwrap().buildable());
    assert_eq!(build_sheet::read(&build_sheet::write(&a)).unwrap(), a);
    // The bearing further in is told to be stuck with both sizes once it comes from the wrong end.
    let set = PartSet { name: "Wrong".into(), designation: "6208".into(), from: End::A, ..PartSet::default() };
    let wrong = Edit::SetPart { id: a.parts[1].id.clone(), set: Box::new(set) }.apply(&a).unwrap();
    assert!(!derive(&wrong).unwrap().buildable());
}

#[test]
fn what_is_taken_off_is_forgotten_everywhere_and_what_carries_others_stays() {
    let m = machine();
    let e = Edit::DropLand { id: "ja".into() }.apply(&m).unwrap_err();
    assert!(e.message.contains("Bearing B1 lies on it"), "{e}");
    let without = Edit::DropPart { id: "cover".into() }.apply(&m).unwrap();
    assert!(without.parts.iter().all(|p| p.carried_by.as_deref() != Some("cover")));
    assert_eq!(Edit::FlipPart { id: "seal".into() }.apply(&m).unwrap().parts[0].faces, Some(End::B));
    assert!(Edit::FlipPart { id: "cover".into() }.apply(&m).unwrap_err().message.contains("same both ways"));
    for (e, field) in [
        (Edit::Rename { name: "  ".into() }, "name"),
        (
            Edit::AddLand {
                behind: None,
                name: "x".into(),
                length: Millimetres(0.0),
                d: Millimetres(1.0),
                kind: LandKind::Plain,
            },
            "length",
        ),
        (Edit::AddPart { kind: PartKind::Bearing, land: "nowhere".into(), into: None }, "part"),
        (
            Edit::AddHousing {
                name: "h".into(),
                from: Millimetres(5.0),
                to: Millimetres(1.0),
                bore: Millimetres(1.0),
                outside: Millimetres(2.0),
            },
            "to",
        ),
    ] {
        assert_eq!(e.apply(&m).unwrap_err().field, field, "{e:?}");
    }
}

#[test]
fn what_is_dropped_in_a_housing_lies_in_it() {
    let house = Edit::AddHousing {
        name: "Case".into(),
        from: Millimetres(60.0),
        to: Millimetres(240.0),
        bore: Millimetres(130.0),
        outside: Millimetres(200.0),
    };
    let m = house.apply(&machine()).unwrap();
    let drop = |kind| {
        Edit::AddPart { kind, land: "mid".into(), into: Some("case".into()) }.apply(&m).unwrap().parts.pop().unwrap()
    };
    let seal = drop(PartKind::Seal);
    assert_eq!((seal.carried_by.as_deref(), seal.outside_mm.0), (Some("case"), 130.0));
    let wheel = drop(PartKind::Wheel);
    assert_eq!((wheel.carried_by, wheel.inside.as_deref()), (None, Some("case")));
    let gone = Edit::AddPart { kind: PartKind::Seal, land: "mid".into(), into: Some("none".into()) };
    assert!(gone.apply(&m).unwrap_err().message.contains("not there any more"));
}

/// Everything a machine has can be put in on the board, and comes out the same.
#[test]
fn a_machine_set_item_by_item_is_the_one_that_was_typed() {
    let mut whole = machine();
    whole.holes.clear();
    let bare = Anatomy { floats: vec![], rotation: None, ..whole.clone() };
    let mut a = Edit::SetTurning { rotation: whole.rotation, rpm: 1480.0, lubricant: None, stands: whole.stands }
        .apply(&bare)
        .unwrap();
    let item = |x: &Anatomy| x.items().into_iter().next().unwrap();
    // A limit needs its source; the id is made from the name.
    assert_eq!(Edit::Put { over: String::new(), item: Box::new(item(&whole)) }.apply(&a).unwrap_err().field, "source");
    whole.floats[0].source = "sheet 2, 2025-01".into();
    let put = Edit::Put { over: String::new(), item: Box::new(item(&whole)) };
    a = put.apply(&a).unwrap();
    assert_eq!(a.floats[0].id, "end-play");
    a = put.apply(&a).unwrap();
    assert_eq!((a.floats[1].id.as_str(), put.said().as_str()), ("end-play-2", "float added"));
    let changed = Item::Float(super::super::FloatOf { hi_mm: Millimetres(0.5), ..whole.floats[0].clone() });
    a = Edit::Put { over: "end-play-2".into(), item: Box::new(changed.clone()) }.apply(&a).unwrap();
    assert_eq!((a.floats.len(), a.floats[1].hi_mm.0, a.floats[1].id.as_str()), (2, 0.5, "end-play-2"));
    assert!(
        Edit::Put { over: "gone".into(), item: Box::new(changed) }
            .apply(&a)
            .unwrap_err()
            .message
            .contains("somebody changed it")
    );
    a = Edit::Take { list: List::Floats, key: "end-play".into() }.apply(&a).unwrap();
    assert_eq!(a.floats.len(), 1);
    assert!(Edit::Take { list: List::Floats, key: "end-play".into() }.apply(&a).is_err());
    assert_eq!((a.rotation, a.run_in_rpm), (whole.rotation, 1480.0));
}

#[test]
#[expect(clippy::too_many_lines, reason = "a row a refusal")]
fn items_are_refused_with_the_field_and_what_was_expected() {
    use super::super::{GapOf, Hole, HoleKind, PairOf, Rule, RunoutOf, ThrustSet};
    let m = machine();
    let mm = Millimetres;
    let source = || "sheet 2".to_owned();
    let cases = [
        (
            Item::Runout(RunoutOf {
                id: String::new(),
                name: "Face".into(),
                part: "b1".into(),
                limit_um: crate::quantity::Micrometres(0.0),
                source: source(),
                reads: None,
                without: vec![],
                trial: vec![],
                condition: Default::default(),
            }),
            "limit",
        ),
        (
            Item::Runout(RunoutOf {
                id: String::new(),
                name: "Face".into(),
                part: "nothing".into(),
                limit_um: crate::quantity::Micrometres(5.0),
                source: source(),
                reads: None,
                without: vec![],
                trial: vec![],
                condition: Default::default(),
            }),
            "runouts",
        ),
        (
            Item::Gap(GapOf {
                id: String::new(),
                name: " ".into(),
                min_mm: mm(1.0),
                after: vec![],
                source: source(),
                without: vec![],
                trial: vec![],
                condition: Default::default(),
            }),
            "name",
        ),
        (
            Item::Gap(GapOf {
                id: String::new(),
                name: "Tip".into(),
                min_mm: mm(1.0),
                after: vec!["x".into()],
                source: source(),
                without: vec![],
                trial: vec![],
                condition: Default::default(),
            }),
            "gaps",
        ),
        (
            Item::Hole(Hole {
                id: String::new(),
                name: "Drain".into(),
                housing: "no".into(),
                kind: HoleKind::Drain,
                at_deg: 180.0,
            }),
            "holes",
        ),
        (
            Item::Hole(Hole {
                id: String::new(),
                name: "Drain".into(),
                housing: "no".into(),
                kind: HoleKind::Drain,
                at_deg: 400.0,
            }),
            "at_deg",
        ),
        (Item::Bolts(bolt_ring(0, 1.0)), "n"),
        (Item::Bolts(bolt_ring(4, 0.0)), "torque"),
        (Item::Rule(Rule { first: "b1".into(), then: "b1".into(), reason: "x".into() }), "then"),
        (Item::Rule(Rule { first: "b1".into(), then: "b2".into(), reason: " ".into() }), "reason"),
        (Item::Pair(PairOf { a: "b1".into(), b: "b2".into(), arrangement: "XX".into(), spacers: vec![] }), "pairs"),
        (Item::Pair(PairOf { a: "b1".into(), b: "b1".into(), arrangement: "DB".into(), spacers: vec![] }), "b"),
        (Item::Thrust(ThrustSet { smaller: "b1".into(), larger: "b1".into(), larger_towards: End::A }), "larger"),
    ];
    for (item, field) in cases {
        let e = Edit::Put { over: String::new(), item: Box::new(item.clone()) }.apply(&m).unwrap_err();
        assert!(e.field == field && e.message.len() > 12, "{item:?}: {e:?}");
    }
    // The same pair, rule or ring of bolts twice is told.
    let bolts = Edit::Put { over: String::new(), item: Box::new(Item::Bolts(bolt_ring(4, 9.0))) };
    assert!(bolts.apply(&bolts.apply(&m).unwrap()).unwrap_err().message.contains("there already"));
}

#[test]
fn housings_lands_and_parts_take_what_is_said_of_them() {
    let m = machine();
    let house = Edit::AddHousing {
        name: "Case".into(),
        from: Millimetres(60.0),
        to: Millimetres(240.0),
        bore: Millimetres(130.0),
        outside: Millimetres(200.0),
    };
    let m = house.apply(&m).unwrap();
    let bore = |f: f64, t: f64, d: f64| Bore { from_mm: Millimetres(f), to_mm: Millimetres(t), d_mm: Millimetres(d) };
    let set = |bores: Vec<Bore>| {
        Box::new(HousingSet {
            name: "Case".into(),
            outside: Millimetres(220.0),
            bores,
            material: Material::DuctileIron,
            feet: true,
            from: Some(End::B),
            split: false,
            clocked: true,
            covers: vec!["cover".into()],
            mass_kg: None,
        })
    };
    let a = Edit::SetHousing { id: "case".into(), set: set(vec![bore(60.0, 100.0, 90.0), bore(100.0, 240.0, 130.0)]) }
        .apply(&m)
        .unwrap();
    assert_eq!((a.housings[0].bores.len(), a.housings[0].from, a.housings[0].covers.len()), (2, Some(End::B), 1));
    for (bores, field) in
        [(vec![], "bores"), (vec![bore(9.0, 3.0, 90.0)], "bores"), (vec![bore(1.0, 3.0, 300.0)], "outside")]
    {
        assert_eq!(Edit::SetHousing { id: "case".into(), set: set(bores) }.apply(&m).unwrap_err().field, field);
    }
    let land = |pitch| Edit::SetLandMore {
        id: "ta".into(),
        hand: Some(Hand::Left),
        pitch: Some(Millimetres(pitch)),
        d_b: None,
    };
    assert_eq!(land(1.5).apply(&m).unwrap().lands[0].hand, Some(Hand::Left));
    assert_eq!(land(0.0).apply(&m).unwrap_err().field, "pitch");
    // What a part has comes back as it was, and a wrong lip is told at once.
    let nut = more(m.part("nut").unwrap());
    let same = Edit::SetPartMore { id: "nut".into(), set: Box::new(nut.clone()) }.apply(&m).unwrap();
    assert_eq!(same, m);
    let wrong = PartMore { keeps: Some(End::B), ..more(m.part("seal").unwrap()) };
    let told = Edit::SetPartMore { id: "seal".into(), set: Box::new(wrong) }.apply(&m).unwrap();
    assert_eq!(derive(&told).unwrap().faults.len(), 1);
    for (set, field) in [
        (PartMore { slots: Some(0), ..nut.clone() }, "slots"),
        (PartMore { torque_nm: Some(-1.0), ..nut.clone() }, "torque"),
        (PartMore { locks: vec!["nut".into()], ..nut.clone() }, "parts"),
        (PartMore { people: 20, ..nut }, "people"),
    ] {
        assert_eq!(Edit::SetPartMore { id: "nut".into(), set: Box::new(set) }.apply(&m).unwrap_err().field, field);
    }
}

proptest! {
    #[test]
    fn every_kind_can_be_put_on_any_land_and_taken_off_again(kind in 0usize..PartKind::ALL.len(), land in 0usize..4) {
        let m = machine();
        let kind = PartKind::ALL[kind];
        let on = Edit::AddPart { kind, land: m.lands[land].id.clone(), into: None }.apply(&m);
        if let Ok(on) = on {
            prop_assert_eq!(on.parts.len(), m.parts.len() + 1);
            let id = on.parts[m.parts.len()].id.clone();
            prop_assert_eq!(Edit::DropPart { id }.apply(&on).unwrap(), m);
        } else {
            prop_assert!(kind == PartKind::Bearing, "{kind:?}");
        }
    }

    /// A run of changes always leaves a whole anatomy that can be written, read and drawn, or changes nothing.
    #[test]
    fn any_run_of_changes_leaves_a_whole_anatomy(run in prop::collection::vec((0u8..8, any::<u16>(), any::<u16>()), 1..25)) {
        let mut a = machine();
        for (what, x, y) in run {
            let part = a.parts.get(usize::from(x) % a.parts.len().max(1)).map_or(String::new(), |p| p.id.clone());
            let land = a.lands[usize::from(y) % a.lands.len()].id.clone();
            let mm = |v: u16| Millimetres(f64::from(v % 90) + 1.0);
            let e = match what {
                0 => Edit::AddPart { kind: PartKind::ALL[usize::from(x) % PartKind::ALL.len()], land, into: None },
                1 => Edit::DropPart { id: part },
                2 => Edit::MovePart { id: part, land, at: mm(y) },
                3 => Edit::FlipPart { id: part },
                4 => Edit::AddLand { behind: Some(land), name: "more".into(), length: mm(x), d: mm(y), kind: LandKind::Plain },
                5 => Edit::DropLand { id: land },
                6 => Edit::SetLand { id: land, name: "set".into(), length: mm(x), d: mm(y), kind: LandKind::Thread },
                _ => Edit::AddHousing { name: "case".into(), from: mm(x), to: mm(y), bore: Millimetres(95.0), outside: Millimetres(140.0) },
            };
            let before = a.clone();
            match e.apply(&a) {
                Ok(next) => {
                    a = next;
                    prop_assert!(!e.said().is_empty());
                }
                Err(r) => prop_assert!(!r.message.is_empty() && a == before),
            }
        }
        prop_assert!(a.clone().check().is_ok());
        if derive(&a).unwrap().buildable() {
            prop_assert_eq!(build_sheet::read(&build_sheet::write(&a)).unwrap(), a);
        }
    }
}
