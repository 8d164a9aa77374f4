//! The drawings follow the data.

use ironseat_core::anatomy::{Anatomy, PartKind};
use ironseat_core::quantity::{Millimetres, Units};
use ironseat_drawing::{
    Fitted, HalfSection, Joints, JournalMap, LandView, Mark, SeatMark, SectionView, half_section, journal_map,
    land_view,
};
use std::collections::{BTreeMap, BTreeSet};

/// Everything is on, of the bearings only these.
fn with_bearings(a: &Anatomy, bearings: &[&str]) -> BTreeSet<String> {
    let parts = a
        .parts
        .iter()
        .filter(|p| p.kind != PartKind::Bearing || bearings.contains(&p.id.as_str()))
        .map(|p| p.id.clone());
    parts.chain(a.housings.iter().map(|h| h.id.clone())).collect()
}

fn pump() -> Anatomy {
    demo("overhung-brine-pump")
}

fn draw(a: &Anatomy, fitted: &[&str], name: &str) -> HalfSection {
    let mut a = a.clone();
    for s in &mut a.seats {
        if !name.is_empty() {
            s.name = name.into()
        }
    }
    let marks: BTreeMap<String, SeatMark> = a
        .seats
        .iter()
        .map(|s| (s.id.clone(), SeatMark { mark: Mark::Go, value: "+11 µm".into(), href: format!("/x?seat={}", s.id) }))
        .collect();
    let on = with_bearings(&a, fitted);
    half_section(
        &a,
        &SectionView {
            width: 968.0,
            height: 300.0,
            fitted: Fitted::Parts { on: &on, scrapped: &BTreeSet::new() },
            marks: &marks,
            selected: Some("de"),
            in_hand: None,
            joints: &Joints::default(),
            small: false,
            id: "t",
        },
    )
}

/// Every opened tag is closed in order: the drawing is well-formed.
fn well_formed(svg: &str) {
    let mut open = Vec::new();
    let mut rest = svg;
    while let Some(i) = rest.find('<') {
        let end = rest[i..].find('>').expect("a tag ends") + i;
        let tag = &rest[i + 1..end];
        if let Some(name) = tag.strip_prefix('/') {
            assert_eq!(open.pop(), Some(name.to_owned()));
        } else if !tag.ends_with('/') {
            open.push(tag.split_whitespace().next().unwrap().to_owned());
        }
        rest = &rest[end + 1..];
    }
    assert!(open.is_empty(), "{open:?}");
    assert!(!svg.contains("NaN") && !svg.contains("inf"));
}

#[test]
fn a_changed_diameter_changes_the_drawing() {
    let before = draw(&pump(), &[], "").svg;
    let mut a = pump();
    a.lands[5].d_mm = Millimetres::of(52.0);
    assert_ne!(before, draw(&a, &[], "").svg);
    well_formed(&before);
}

#[test]
fn what_is_not_on_is_drawn_off() {
    let state = |fitted: &[&str], part: &str| {
        draw(&pump(), fitted, "").rows.into_iter().find(|(n, _)| n.contains(part)).unwrap().1
    };
    assert_eq!(state(&["brg-ie"], "Impeller nut"), "on");
    assert_eq!(
        (state(&["brg-ie"], "Impeller-end bearing"), state(&["brg-ie"], "Drive-end bearing")),
        ("on".into(), "not on yet".into())
    );
}

#[test]
fn hostile_names_stay_text_and_long_ones_do_not_overlap() {
    let svg = draw(&pump(), &[], "<script>alert('x')</script> & a name that is far longer than any label").svg;
    assert!(!svg.contains("<script>"));
    well_formed(&svg);
    let xs: Vec<f64> = svg
        .match_indices(r#"<text class="name" x=""#)
        .map(|(i, m)| svg[i + m.len()..].split('"').next().unwrap().parse().unwrap())
        .collect();
    assert_eq!(xs.len(), 2);
    assert!((xs[1] - xs[0]).abs() > 150.0 && xs.iter().all(|x| *x > 0.0 && *x < 968.0 - 150.0), "{xs:?}");
}

#[test]
fn the_map_states_its_exaggeration_and_the_land_its_next_place() {
    let rows = vec![vec![Some(40.012), Some(40.010)], vec![None, None]];
    let map = journal_map(&JournalMap {
        rows: &rows,
        planes: &['A', 'B'],
        stations: &["end A side", "end B side"],
        middle: 40.010,
        half: 0.008,
        units: Units::Metric,
        next: Some((1, 0)),
        id: "m",
    });
    well_formed(&map);
    assert!(map.contains("times its size") && map.contains("+2") && map.contains("cell empty next"));
    for bore in [false, true] {
        let land = land_view(&LandView {
            size: "⌀ 40 k6",
            ratio: 0.5,
            bore,
            neighbours: !bore,
            next: Some((2, 3)),
            done: &[(0, 0)],
            stations: 3,
            name: "journal",
            id: "l",
        });
        well_formed(&land);
        assert!(land.contains("next: station 3, plane 4"));
    }
}

const ALL: [&str; 13] = [
    "overhung-brine-pump",
    "jig-borer-spindle",
    "sheave-shaft",
    "biogas-turbocharger",
    "blade-root",
    "blower-rotor",
    "brake-beam",
    "headstock-spindle",
    "hydraulic-motor-shaft",
    "pedestal-turbocharger",
    "sheave-carrier",
    "six-stage-booster-pump",
    "taper-roller-spindle",
];

fn demo(name: &str) -> Anatomy {
    let text = std::fs::read_to_string(format!("{}/../store/demo/{name}.toml", env!("CARGO_MANIFEST_DIR"))).unwrap();
    ironseat_core::anatomy::build_sheet::read(&text).unwrap()
}

#[test]
fn every_demo_machine_is_drawn_with_all_its_parts_large_and_small() {
    for name in ALL {
        let a = demo(name);
        for small in [false, true] {
            let marks = a
                .seats
                .iter()
                .map(|s| (s.id.clone(), SeatMark { mark: Mark::Stop, value: "x".into(), href: "/".into() }))
                .collect();
            let none = with_bearings(&a, &[]);
            let drawn = half_section(
                &a,
                &SectionView {
                    width: 968.0,
                    height: 300.0,
                    fitted: Fitted::Parts { on: &none, scrapped: &BTreeSet::new() },
                    marks: &marks,
                    selected: None,
                    in_hand: None,
                    joints: &Joints::default(),
                    small,
                    id: "z",
                },
            );
            well_formed(&drawn.svg);
            assert_eq!(drawn.rows.len(), a.parts.len(), "{name}");
            assert_eq!(drawn.svg.matches("<g class=\"part ").count(), a.parts.len());
            assert_eq!(drawn.svg.matches("class=\"shaft\"").count(), a.lands.len());
            assert_eq!(drawn.svg.matches("<a href").count(), if small { 0 } else { a.seats.len() }, "{name}");
            assert!(drawn.svg.contains("<title") && drawn.svg.contains("<desc"));
        }
    }
}

#[test]
fn contact_lines_of_a_back_to_back_pair_open_outwards() {
    let a = demo("jig-borer-spindle");
    let marks = BTreeMap::new();
    let svg = half_section(
        &a,
        &SectionView {
            width: 968.0,
            height: 300.0,
            fitted: Fitted::Parts { on: &with_bearings(&a, &[]), scrapped: &BTreeSet::new() },
            marks: &marks,
            selected: None,
            in_hand: None,
            joints: &Joints::default(),
            small: false,
            id: "z",
        },
    )
    .svg;
    let lines: Vec<(f64, f64)> = svg
        .split("<line class=\"contact\"")
        .skip(1)
        .map(|l| {
            let at = |k: &str| {
                l.split(&format!("{k}=\"")).nth(1).unwrap().split('"').next().unwrap().parse::<f64>().unwrap()
            };
            (at("x1"), at("x2"))
        })
        .collect();
    // Towards the axis the lines spread: where they meet it, the load centres, lies farther apart than the rows.
    assert_eq!(lines.len(), 2);
    let (above, below) = (lines[1].0 - lines[0].0, lines[1].1 - lines[0].1);
    assert!(above > 0.0 && below > above, "{lines:?}");
}

proptest::proptest! {
    #[test]
    fn any_shaft_is_drawn_within_the_paper(lengths in proptest::collection::vec((2.0f64..300.0, 5.0f64..200.0), 1..14)) {
        let mut a = demo("overhung-brine-pump");
        a.parts.clear();
        a.seats.clear();
        a.housings.clear();
        a.lands = lengths.iter().enumerate().map(|(i, (l, d))| ironseat_core::anatomy::Land { id: format!("l{i}"), name: String::new(), length_mm: Millimetres::of(*l), d_mm: Millimetres::of(*d), ..Default::default() }).collect();
        let svg = half_section(&a, &SectionView { width: 968.0, height: 300.0, fitted: Fitted::Parts { on: &with_bearings(&a, &[]), scrapped: &BTreeSet::new() }, marks: &BTreeMap::new(), selected: None, in_hand: None, joints: &Joints::default(), small: false, id: "z" }).svg;
        well_formed(&svg);
        for path in svg.split("class=\"shaft\" d=\"").skip(1) {
            let d = path.split('"').next().unwrap();
            let numbers: Vec<f64> = d.split(['M', 'L', 'Z', ' ']).filter_map(|t| t.parse().ok()).collect();
            for (i, v) in numbers.iter().enumerate() {
                let most = [968.0, 300.0][i % 2];
                proptest::prop_assert!((0.0..=most).contains(v));
            }
        }
    }
}

/// What is on is drawn whole, what is off dashed, what was scrapped crossed; alone, a drawing brings its own ink.
#[test]
fn a_trail_is_seen_in_its_drawing_and_a_file_stands_alone() {
    let a = demo("blower-rotor");
    let (on, scrapped) = (BTreeSet::from(["hub".to_owned()]), BTreeSet::from(["flAi".to_owned()]));
    let draw = |fitted| {
        half_section(
            &a,
            &SectionView {
                width: 968.0,
                height: 300.0,
                fitted,
                marks: &BTreeMap::new(),
                selected: None,
                in_hand: Some("brA"),
                joints: &Joints::default(),
                small: false,
                id: "z",
            },
        )
    };
    let part = |svg: &str, id: &str| {
        svg.split(&format!("data-part=\"{id}\""))
            .next()
            .unwrap()
            .rsplit("class=\"part ")
            .next()
            .unwrap()
            .trim_end_matches("\" ")
            .to_owned()
    };
    let trail = draw(Fitted::Parts { on: &on, scrapped: &scrapped });
    assert_eq!(["hub", "flAi", "brA", "pul"].map(|id| part(&trail.svg, id)), ["on", "off scrap", "off hand", "off"]);
    assert_eq!(trail.svg.matches("class=\"cross\"").count(), 1);
    assert!(!trail.svg.contains("land-target"));
    let whole = draw(Fitted::All);
    assert_eq!(whole.svg.matches("class=\"land-target").count(), a.lands.len());
    assert!(whole.rows.iter().all(|r| r.1 == "on"));
    let file = whole.standalone();
    assert!(file.starts_with("<svg xmlns=") && file.contains("<style>") && file.matches("<style>").count() == 1);
    well_formed(&file);
}

/// The demo machines say what they should: buildable, nothing contradicts, every step can be reached.
#[test]
fn every_demo_machine_can_be_built_and_nothing_contradicts() {
    use ironseat_core::anatomy::{acts, derive};
    let mut wrong = Vec::new();
    for name in ALL {
        let text =
            std::fs::read_to_string(format!("{}/../store/demo/{name}.toml", env!("CARGO_MANIFEST_DIR"))).unwrap();
        let a = match ironseat_core::anatomy::build_sheet::read(&text) {
            Ok(a) => a,
            Err(e) => {
                wrong.push(format!("{name}: {e}"));
                continue;
            }
        };
        let d = derive(&a).unwrap();
        wrong.extend(d.faults.iter().map(|f| format!("{name}: {}", f.words)));
        let all = d.acts;
        let mut done = BTreeSet::new();
        loop {
            let ready = |s: &&acts::Act| !done.contains(&s.id) && s.before.iter().all(|b| done.contains(&b.id));
            let free: Vec<String> = all.iter().filter(ready).map(|s| s.id.clone()).collect();
            if free.is_empty() {
                break;
            }
            done.extend(free);
        }
        let stuck: Vec<&str> = all.iter().filter(|s| !done.contains(&s.id)).map(|s| s.id.as_str()).collect();
        if !stuck.is_empty() {
            wrong.push(format!("{name}: never free: {}", stuck.join(", ")));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

fn plain(a: &Anatomy, fitted: Fitted<'_>, hand: Option<&str>) -> HalfSection {
    let view = SectionView {
        width: 1200.0,
        height: 300.0,
        fitted,
        marks: &BTreeMap::new(),
        selected: None,
        in_hand: hand,
        joints: &Joints::default(),
        small: false,
        id: "n",
    };
    half_section(a, &view)
}

/// Numbers of the drawing and of the list beside it are the same, from end A, and each part can be touched.
#[test]
fn parts_are_numbered_from_end_a_and_can_be_touched() {
    for key in ["six-stage-booster-pump", "biogas-turbocharger", "brake-beam", "sheave-carrier"] {
        let a = demo(key);
        let h = plain(&a, Fitted::All, Some(&a.parts[0].id));
        well_formed(&h.svg);
        let along = ironseat_drawing::along(&a);
        assert_eq!(
            h.rows.iter().map(|r| r.0.as_str()).collect::<Vec<_>>(),
            along.iter().map(|p| p.name.as_str()).collect::<Vec<_>>()
        );
        for (i, p) in along.iter().enumerate() {
            let number = format!("<title>{} {}</title>", i + 1, ironseat_drawing::escape(&p.name));
            assert_eq!(h.svg.matches(&number).count(), 1, "{key}: {number}");
        }
        assert_eq!(h.svg.matches("class=\"num-word").count(), a.parts.len());
        assert_eq!(h.svg.matches("class=\"hit\"").count(), a.parts.len());
        assert!(h.svg.contains("num-of on hand"), "what is in hand is lit on its number, too");
        // Where seats are marked there is no room for numbers.
        if !a.seats.is_empty() {
            assert!(!draw(&a, &[], "").svg.contains("num-word"));
        }
    }
}

/// Facings are seen: every kind that faces a way is drawn otherwise when it is turned, and no other is.
#[test]
fn a_part_that_is_turned_round_is_drawn_turned() {
    use ironseat_core::anatomy::PartKind;
    use ironseat_core::anatomy::edit::{Edit, blank};
    use ironseat_core::terms::End;
    for (kind, name) in PartKind::ALL.iter().map(|k| (*k, k.key())) {
        let base = blank("k", "k");
        let a = Edit::AddPart { kind, land: "land-1".into(), into: None }.apply(&base).unwrap();
        let with = |e: End| {
            let mut x = a.clone();
            x.parts[0].faces = Some(e);
            if kind == PartKind::Bearing {
                x.parts[0].designation = Some("7208 25".into());
            }
            plain(&x, Fitted::All, None).svg
        };
        let (to_a, to_b) = (with(End::A), with(End::B));
        well_formed(&to_a);
        if kind.has_facing() {
            assert_ne!(to_a, to_b, "{name} looks the same both ways");
        }
    }
}

/// Every kind has a shape of its own: no two are drawn alike on the same land.
#[test]
fn no_two_kinds_are_drawn_alike() {
    use ironseat_core::anatomy::PartKind;
    use ironseat_core::anatomy::edit::{Edit, blank};
    let mut seen: BTreeMap<String, &str> = BTreeMap::new();
    for (kind, name) in PartKind::ALL.iter().map(|k| (*k, k.key())) {
        let mut a = Edit::AddPart { kind, land: "land-1".into(), into: None }.apply(&blank("k", "k")).unwrap();
        let p = &mut a.parts[0];
        (p.width_mm, p.outside_mm, p.designation) =
            (Millimetres::of(18.0), Millimetres::of(80.0), (kind == PartKind::Bearing).then(|| "6208".into()));
        (p.name, p.id) = ("same".into(), "same".into());
        let svg = plain(&a, Fitted::All, None).svg;
        if let Some(other) = seen.insert(svg, name) {
            // A spacer and a sleeve are the same plain ring: what they are for differs.
            assert!(
                ["spacer", "sleeve"].contains(&name) && ["spacer", "sleeve"].contains(&other),
                "{name} and {other}"
            );
        }
    }
}

/// From one part to a hundred and twenty: numbers stay on the paper and none covers another in its row.
#[test]
fn it_stays_legible_for_few_and_for_many() {
    use ironseat_core::anatomy::PartKind;
    use ironseat_core::anatomy::edit::{Edit, blank};
    let base = blank("k", "k");
    for n in [1usize, 3, 24, 60, 120] {
        let mut a = base.clone();
        a.lands[0].length_mm = Millimetres::of(10.0 * n as f64 + 10.0);
        let one = Edit::AddPart { kind: PartKind::Sleeve, land: "land-1".into(), into: None }
            .apply(&a)
            .unwrap()
            .parts
            .remove(0);
        a.parts = (0..n)
            .map(|i| {
                let mut p = one.clone();
                (p.id, p.name) = (format!("p{i}"), format!("Part {i}"));
                (p.at_mm, p.width_mm) = (Millimetres::of(10.0 * i as f64 + 1.0), Millimetres::of(8.0));
                p
            })
            .collect();
        let svg = plain(&a, Fitted::All, None).svg;
        well_formed(&svg);
        let mut rows: BTreeMap<String, Vec<f64>> = BTreeMap::new();
        for ring in svg.split("class=\"num-ring\" ").skip(1) {
            let of =
                |name: &str| ring.split(&format!("{name}=\"")).nth(1).unwrap().split('"').next().unwrap().to_owned();
            rows.entry(of("cy")).or_default().push(of("cx").parse().unwrap());
        }
        assert_eq!(rows.values().map(Vec::len).sum::<usize>(), n);
        for (y, list) in rows {
            assert!(y.parse::<f64>().unwrap() < 120.0 && list.iter().all(|x| (10.0..=1190.0).contains(x)), "{n}");
            assert!(list.windows(2).all(|w| w[1] - w[0] > 20.0), "{n} parts, row {y}: {list:?}");
        }
    }
}

/// Bolts are drawn into what they hold, say how they stand, and follow their flange; what is hot says so.
#[test]
fn joints_have_both_ends_and_a_state() {
    use ironseat_drawing::{Alive, Bolted};
    let a = demo("overhung-brine-pump");
    let draw = |fitted: Fitted<'_>, joints: &Joints| {
        let view = SectionView {
            width: 968.0,
            height: 300.0,
            fitted,
            marks: &BTreeMap::new(),
            selected: None,
            in_hand: None,
            joints,
            small: false,
            id: "j",
        };
        half_section(&a, &view).svg
    };
    let whole = draw(Fitted::All, &Joints::default());
    assert_eq!(whole.matches("class=\"joint fast\"").count(), a.bolt_rings.len());
    assert!(whole.contains("aria-label=\"4 bolts of outer cap hold it to bearing bracket: tight.\""), "{whole}");
    let loosened = Joints {
        bolts: [("cap-out".to_owned(), Bolted::Slack)].into(),
        alive: [("brg-de".to_owned(), Alive::Hot)].into(),
    };
    let slack = draw(Fitted::All, &loosened);
    assert!(slack.contains("hold it to bearing bracket: slack.") && slack.contains(">hot</text>"));
    let (none, on) = (BTreeSet::new(), BTreeSet::from(["bracket".to_owned()]));
    let off = draw(Fitted::Parts { on: &on, scrapped: &none }, &loosened);
    assert_eq!(off.matches("class=\"joint away\"").count(), a.bolt_rings.len(), "a bolt leaves with its flange");
}
