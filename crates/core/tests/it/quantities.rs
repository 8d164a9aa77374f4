//! What people type and what they are shown: tables of known values.

use ironseat_core::quantity::{
    Celsius, Kelvins, Micrometres, Millimetres, Newtons, Seconds, Units, parse_length, parse_temperature, show,
};
use proptest::prelude::*;

#[test]
fn lengths_are_read_as_they_are_said() {
    for (text, unit, mm) in [
        ("1.1268", "in", 28.62072),
        ("28.013 mm", "in", 28.013),
        ("12 thou", "mm", 0.3048),
        ("1/32", "in", 0.79375),
        ("2-3/16 in", "mm", 55.5625),
        ("2 3/16\"", "mm", 55.5625),
        ("25 um", "mm", 0.025),
        ("25µm", "mm", 0.025),
        ("25 μm", "mm", 0.025),
        ("7 microns", "mm", 0.007),
        ("0.5 mil", "mm", 0.0127),
        ("3 tenths", "mm", 0.00762),
        ("12,75", "mm", 12.75),
        (".5in", "mm", 12.7),
        ("5.", "mm", 5.0),
        ("−0.5", "mm", -0.5),
        ("- 1/8 in", "mm", -3.175),
        ("  7  ", "thou", 0.1778),
        ("1 TENTH", "mm", 0.00254),
    ] {
        let got = parse_length(text, unit, None, None).expect(text).value.get();
        assert!((got - mm).abs() < 1e-9, "{text}: {got}");
    }
}

#[test]
fn nonsense_is_refused_with_a_sentence() {
    for text in [
        "",
        "   ",
        "mm",
        "+",
        "-",
        ".",
        "1.2.3",
        "1,2,3",
        "1,2.3",
        "1 2",
        "1-2",
        "1/2/3",
        "1/0",
        "1.5/8",
        "1/8.5",
        "1e3",
        "1e+3",
        "1e400",
        "0x10",
        "NaN",
        "inf",
        "12 furlongs",
        "12 mm 13 mm",
        "<b>1</b>",
        "1\u{0}",
    ] {
        let e = parse_length(text, "mm", None, None).expect_err(text);
        assert!(e.field == "text" && e.message.len() > 15, "{text}: {e}");
    }
    assert_eq!(parse_length("1", "cubit", None, None).unwrap_err().field, "unit");
    assert_eq!(parse_length(&"1".repeat(10_000), "mm", None, None).unwrap_err().field, "text");
}

#[test]
fn a_sign_means_a_deviation_only_where_there_is_a_nominal() {
    let at40 = |t| parse_length(t, "mm", Some(Millimetres::of(40.0)), None).unwrap();
    assert!(at40("+12 um").deviation && (at40("+12 um").value.get() - 40.012).abs() < 1e-9);
    assert!((at40("-0.003").value.get() - 39.997).abs() < 1e-9);
    assert!(!at40("40.012").deviation);
    assert!(!parse_length("-0.003", "mm", None, None).unwrap().deviation);
}

/// A size that is said in another unit or as a deviation is the same number, and meets a limit that it stands on.
#[test]
fn one_size_is_one_number_however_it_is_said() {
    for um in -300..300_i32 {
        let size = |text: &str| parse_length(text, "mm", Some(Millimetres::of(28.0)), None).unwrap().value;
        let plain = format!("{}.{:03}", (28_000 + um) / 1000, (28_000 + um) % 1000);
        assert_eq!(size(&format!("{um:+} um")), size(&plain), "{um}");
        assert_eq!(size(&format!("{} µm", 28_000 + um)), size(&plain), "{um}");
    }
}

#[test]
fn temperatures_are_read_in_three_scales() {
    for (text, fahrenheit, c) in [
        ("84", false, 84.0),
        ("84 c", true, 84.0),
        ("183.2 °F", false, 84.0),
        ("183.2", true, 84.0),
        ("357.15 K", false, 84.0),
        ("-10", false, -10.0),
        ("9,5 °C", false, 9.5),
    ] {
        assert!((parse_temperature(text, fahrenheit).expect(text).get() - c).abs() < 1e-9, "{text}");
    }
    for text in ["", "hot", "84 R", "-300", "1.2.3", "--5"] {
        assert_eq!(parse_temperature(text, false).expect_err(text).field, "text", "{text}");
    }
}

#[test]
fn values_are_shown_with_the_decimals_of_their_instrument() {
    let size = |v, r, u| show::join(show::size(Millimetres::of(v), Millimetres::of(r), u));
    assert_eq!(size(40.0124, 0.001, Units::Metric), "40.012 mm");
    assert_eq!(size(40.0124, 0.01, Units::Metric), "40.01 mm");
    assert_eq!(size(40.0124, 0.0001, Units::Metric), "40.0124 mm");
    assert_eq!(size(40.0124, 0.001, Units::Inch), "1.5753 in");
    assert_eq!(size(80.0, 1.0, Units::Metric), "80 mm");
    let small = |v, u| show::join(show::signed(Micrometres::of(v), u));
    assert_eq!(
        (small(12.0, Units::Metric).as_str(), small(-3.25, Units::Metric).as_str(), small(0.0, Units::Metric).as_str()),
        ("+12 µm", "−3.2 µm", "0 µm")
    );
    assert_eq!(small(25.4, Units::Inch), "+1.00 thou");
    let force = |v, u| show::join(show::force(Newtons::of(v), u));
    assert_eq!(
        (force(724.3, Units::Metric), force(10_137.0, Units::Metric), force(10_137.0, Units::Inch)),
        ("724 N".into(), "10.1 kN".into(), "2279 lbf".into())
    );
    assert_eq!(show::join(show::temperature(Celsius::of(94.2), Units::Inch)), "202 °F");
    assert_eq!(
        (show::clock(Seconds::of(400.0)), show::clock(Seconds::of(3725.0)), show::clock(Seconds::of(-5.0))),
        ("06:40".into(), "1:02:05".into(), "00:00".into())
    );
}

#[test]
fn a_rise_is_added_to_a_temperature_and_nothing_infinite_is_a_quantity() {
    assert!(
        (Celsius::of(20.0) + Kelvins::of(5.0)).get() == 25.0 && (Celsius::of(25.0) - Celsius::of(20.0)).get() == 5.0
    );
    assert!(Millimetres::new(f64::NAN).is_err() && Micrometres::new(f64::INFINITY).is_err());
    assert!(
        serde_json::from_str::<Millimetres>("1e999").is_err() && serde_json::from_str::<Millimetres>("\"4\"").is_err()
    );
    assert_eq!(serde_json::to_string(&Millimetres::of(40.5)).unwrap(), "40.5");
}

proptest! {
    #[test]
    fn showing_and_reading_round_trip(v in -2000f64..2000.0, inch: bool) {
        let units = if inch { Units::Inch } else { Units::Metric };
        let (number, unit) = show::size(Millimetres::of(v), Millimetres::of(0.0001), units);
        let back = parse_length(&format!("{number} {unit}"), "mm", None, None).unwrap().value.get();
        prop_assert!((back - v).abs() < 0.0002, "{number} {unit}");
    }

    #[test]
    fn fractions_are_their_value(whole in 0u32..40, above in 0u32..64, power in 1u32..7) {
        let below = 1 << power;
        let text = format!("{whole}-{above}/{below} in");
        let got = parse_length(&text, "mm", None, None).unwrap().value.get();
        prop_assert!((got - (f64::from(whole) + f64::from(above) / f64::from(below)) * 25.4).abs() < 1e-9);
    }
}
