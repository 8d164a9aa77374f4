//! What is typed into sheets and acts, and what becomes of it: tables of known values.

use crate::demo;
use ironseat_core::anatomy::{Measure, Unit, build_sheet};
use ironseat_core::quantity::{Millimetres, Newtons, Units, show};
use ironseat_core::sheet::{Reading, SheetKind, Takes, foretell, nominal, read, rows, station};
use ironseat_core::terms::Surface;
use proptest::prelude::*;

#[test]
fn every_cell_has_a_key_and_a_place_of_its_own() {
    let grid = SheetKind::Grid(Surface::Journal).cells();
    assert_eq!((grid.len(), grid[0].key.as_str(), grid[11].key.as_str()), (12, "A1", "D3"));
    assert!(grid.iter().all(|c| c.takes == Takes::Size && c.label.starts_with("plane ")));
    let home = SheetKind::Home.cells();
    assert_eq!(
        home.iter().map(|c| c.key.as_str()).collect::<Vec<_>>(),
        ["F0", "F90", "F180", "F270", "D0", "D120", "D240"]
    );
    assert_eq!(home.iter().filter(|c| c.takes == Takes::Feeler).count(), 4);
    assert_eq!([1, 2, 3].map(station), ["end A side", "middle", "end B side"]);
    for kind in [SheetKind::Home, SheetKind::Grid(Surface::RingBore), SheetKind::Grid(Surface::RingOutside)] {
        assert_eq!(SheetKind::of(kind.key()), Some(kind));
        let mut keys: Vec<String> = kind.cells().into_iter().map(|c| c.key).collect();
        keys.dedup();
        assert_eq!(keys.len(), kind.cells().len());
    }
    assert_eq!(SheetKind::of("spindle"), None);
}

#[test]
fn each_sheet_expects_the_size_of_its_surface() {
    let pump = demo::sheet("overhung-brine-pump");
    let a = build_sheet::read(&pump).unwrap();
    let facts = a.facts(&a.seats[0].id).unwrap();
    for (which, mm) in [
        (Surface::Journal, 40.0),
        (Surface::RingBore, 40.0),
        (Surface::HousingBore, 80.0),
        (Surface::RingOutside, 80.0),
    ] {
        assert_eq!(nominal(SheetKind::Grid(which), &facts).get(), mm, "{which:?}");
    }
    assert_eq!(nominal(SheetKind::Home, &facts).get(), 142.0);
}

#[test]
fn a_feeler_goes_in_or_stays_out() {
    let zero = Millimetres::of(0.0);
    for (text, value) in [
        ("in", 1.0),
        ("YES", 1.0),
        (" 1 ", 1.0),
        ("goes in", 1.0),
        ("out", 0.0),
        ("n", 0.0),
        ("stays out", 0.0),
        ("0", 0.0),
    ] {
        assert_eq!(read(Takes::Feeler, text, Units::Metric, zero, false).unwrap(), Reading::Value(value), "{text}");
    }
    for text in ["", "maybe", "0.03", "inn"] {
        let e = read(Takes::Feeler, text, Units::Metric, zero, false).unwrap_err();
        assert!(e.field == "text" && e.message.contains("“out”"), "{text}");
    }
}

#[test]
fn what_is_far_off_is_asked_about_and_a_slip_of_the_unit_never_stored() {
    let d = Millimetres::of(40.0);
    let r = |text: &str, sure| read(Takes::Size, text, Units::Metric, d, sure).unwrap();
    assert_eq!(r("40.012", false), Reading::Value(40.012));
    assert!(matches!(r("38", false), Reading::FarOff { nominal, .. } if nominal.get() == 40.0));
    assert_eq!(r("38", true), Reading::Value(38.0), "worn that far, and said to be so");
    for (text, factor) in [("4.0012", 0.1), ("400.12", 10.0), ("1.57528", 1.0 / 25.4)] {
        for sure in [false, true] {
            let Reading::DidYouMean { meant, factor: f, .. } = r(text, sure) else { panic!("{text} was stored") };
            assert!((meant.get() - 40.012).abs() < 1e-3 && (f - factor).abs() < 0.01, "{text}: {meant:?} {f}");
        }
    }
}

#[test]
fn a_turn_of_the_thimble_and_last_digits_are_asked_about() {
    use ironseat_core::sheet::Slip;
    let r =
        |text: &str, units, nominal: f64, sure| read(Takes::Size, text, units, Millimetres::of(nominal), sure).unwrap();
    use Units::{Inch, Metric};
    for (text, units, nominal, meant, slip) in [
        ("50.505", Metric, 50.0, 50.005, Slip::OneTurn),
        ("49.512", Metric, 50.0, 50.012, Slip::OneTurn),
        ("+0.508", Metric, 50.0, 50.008, Slip::OneTurn),
        ("1.6000", Inch, 40.0, 40.005, Slip::OneTurn),
        ("8", Metric, 40.0, 40.008, Slip::LastDigits),
        ("+8", Metric, 40.0, 40.008, Slip::LastDigits),
        ("-12", Metric, 40.0, 39.988, Slip::LastDigits),
        ("3", Inch, 40.0, 40.00762, Slip::LastDigits),
    ] {
        let Reading::Perhaps { meant: m, slip: s, .. } = r(text, units, nominal, false) else {
            panic!("{text}: {:?}", r(text, units, nominal, false))
        };
        assert!((m.get() - meant).abs() < 1e-6 && s == slip, "{text}: {m:?} {s:?}");
        // A turn may be real, and is stored when it is insisted on; last digits never are.
        let stored = matches!(r(text, units, nominal, true), Reading::Value(_));
        assert_eq!(stored, slip == Slip::OneTurn, "{text}");
    }
    // With its unit, in full, or near: as it stands.
    for (text, value) in [("+8 um", 40.008), ("40.008", 40.008), ("40.3", 40.3), ("40.7", 40.7)] {
        assert!(matches!(r(text, Metric, 40.0, false), Reading::Value(v) if (v - value).abs() < 1e-9), "{text}");
    }
    assert!(matches!(r("8 mm", Metric, 40.0, false), Reading::FarOff { .. }));
}

#[test]
fn the_next_reading_is_foretold_from_its_neighbours() {
    let cells = |list: &[(&str, f64)]| rows(&list.iter().map(|(k, v)| ((*k).to_owned(), *v)).collect::<Vec<_>>());
    let some = cells(&[("A1", 40.010), ("B1", 40.012), ("A2", 40.020)]);
    assert_eq!((some.len(), some[0].len(), some[0][1], some[2][0]), (3, 4, Some(40.012), None));
    // At its own station first, else at the one before; the spread never below what the instrument can be wrong by.
    let (at, spread) = foretell(&some, 0, 0.003).unwrap();
    assert!((at.get() - 40.011).abs() < 1e-9 && (spread.get() - 0.009).abs() < 1e-9);
    let (at, spread) = foretell(&some, 2, 0.025).unwrap();
    assert!((at.get() - 40.020).abs() < 1e-9 && (spread.get() - 0.025).abs() < 1e-9);
    assert_eq!(foretell(&cells(&[]), 1, 0.003), None);
}

#[test]
fn every_unit_is_read_and_shown_in_either_system() {
    use Units::{Inch, Metric};
    for (unit, typed, units, value, shown) in [
        (Unit::Mm, "0.3", Metric, 0.3, "0.30 mm"),
        (Unit::Mm, "0.012", Inch, 0.3048, "0.012 in"),
        (Unit::Um, "12", Metric, 12.0, "12 µm"),
        (Unit::Um, "2", Inch, 50.8, "2.00 thou"),
        (Unit::Ohm, "109,8 Ω", Metric, 109.8, "109.8 Ω"),
        (Unit::Volt, "-9.8 V", Metric, -9.8, "-9.8 V"),
        (Unit::Degree, "45°", Inch, 45.0, "45°"),
        (Unit::NewtonMetre, "120 N·m", Metric, 120.0, "120 N·m"),
        (Unit::NewtonMetre, "88.5", Inch, 119.99, "88.5 lbf·ft"),
    ] {
        let read = unit.read(typed, units).unwrap();
        assert!((read - value).abs() < 1e-9, "{typed}: {read}");
        assert_eq!(unit.show(read, units), shown);
        assert!(!unit.hint(units).is_empty() && !unit.word().is_empty());
    }
    for (unit, text) in [
        (Unit::Mm, "30 m"),
        (Unit::Mm, "30000"),
        (Unit::Ohm, "-1"),
        (Unit::Volt, "250 V"),
        (Unit::Degree, "400"),
        (Unit::NewtonMetre, "tight"),
        (Unit::NewtonMetre, "-5"),
        (Unit::NewtonMetre, "inf"),
        (Unit::Volt, "NaN"),
    ] {
        let e = unit.read(text, Metric).unwrap_err();
        assert!(e.field == "value" && e.message.contains("expected") || unit == Unit::Mm, "{text}: {}", e.message);
    }
}

#[test]
fn several_points_make_one_number_and_a_gap_is_its_least() {
    let gap = Measure { points: 4, ..Measure::of(Unit::Mm, Some(0.25), None, "sheet") };
    let (value, all) = gap.read("0.40; 0.31; 0,38; 0.41", Units::Metric).unwrap();
    assert_eq!((value, all.len()), (0.31, 4));
    let float = Measure { points: 3, ..Measure::of(Unit::Mm, Some(0.25), Some(0.35), "sheet") };
    assert_eq!(float.read("0.29 0.30 0.31", Units::Metric).unwrap().0, 0.3);
    for text in ["0.3", "0.3; 0.3", "", "0.3; x; 0.3", &["0.3"; 13].join(";")] {
        assert_eq!(float.read(text, Units::Metric).unwrap_err().field, "value", "{text}");
    }
    assert_eq!(float.limit(Units::Metric), "0.25 mm … 0.35 mm");
    assert_eq!(
        (gap.limit(Units::Metric), Measure::of(Unit::Um, None, None, "").limit(Units::Inch)),
        ("at least 0.25 mm".into(), String::new())
    );
    // Beside what was found: a twentieth either way, and never less than half a unit.
    let ohms = Measure { near: Some(0.05), ..Measure::of(Unit::Ohm, None, None, "as found") };
    let near = ohms.beside_found(Some(&[110.0]));
    assert_eq!((near.lo, near.hi), (Some(104.5), Some(115.5)));
    assert_eq!(ohms.beside_found(Some(&[2.0])).hi, Some(2.5));
    assert_eq!(ohms.beside_found(None), ohms);
    assert!(gap.against(0.2, Units::Metric).unwrap().contains("below") && gap.against(0.25, Units::Metric).is_none());
    assert_eq!(gap.change(&[], 0.3), None);
}

#[test]
fn a_band_of_forces_has_one_unit() {
    let band = |v: [f64; 3], u| show::forces(v.map(Newtons::of), u);
    assert_eq!(band([720.0, 950.0, 990.0], Units::Metric), (["720", "950", "990"].map(Into::into), "N"));
    assert_eq!(band([720.0, 1960.0, 3400.0], Units::Metric), (["0.7", "2.0", "3.4"].map(Into::into), "kN"));
    assert_eq!(band([720.0, 1960.0, 3400.0], Units::Inch), (["162", "441", "764"].map(Into::into), "lbf"));
    assert_eq!(band([150_000.0, 200_000.0, 250_000.0], Units::Metric).0, ["150", "200", "250"].map(String::from));
    assert_eq!((show::minutes(12.4), show::minutes(150.0)), ("12 min".into(), "2.5 h".into()));
    assert_eq!((Units::Metric.other(), Units::Inch.other()), (Units::Inch, Units::Metric));
}

proptest! {
    /// What is shown, typed again, is what was shown: in both systems, for every unit.
    #[test]
    fn what_is_shown_can_be_typed(v in -90f64..90.0, which in 0usize..6, inch in proptest::bool::ANY) {
        let unit = [Unit::Mm, Unit::Um, Unit::Ohm, Unit::Volt, Unit::Degree, Unit::NewtonMetre][which];
        let units = if inch { Units::Inch } else { Units::Metric };
        let v = if matches!(unit, Unit::Mm | Unit::Um | Unit::Volt) { v } else { v.abs() };
        let shown = unit.show(v, units);
        let again = unit.read(&shown, units).unwrap();
        prop_assert_eq!(unit.show(again, units), shown);
    }
}
