//! Laws of pressing, reaming, running in, and of the drawn chain, from outside the crate.

use ironseat_core::fit::Material;
use ironseat_core::fit::bush::{BushCall, pressed};
use ironseat_core::fit::trace::{TraceCall, read};
use ironseat_core::quantity::{Celsius, Micrometres};
use ironseat_core::run_in::{RunIn, step};
use proptest::prelude::*;

/// A trace that rises at `slope`, meets the shoulder at `home` and goes on twenty times as steep.
fn trace(slope: f64, home: f64, end: f64) -> Vec<(f64, f64)> {
    (1..=80)
        .map(|k| f64::from(k) * end / 80.0)
        .map(|x| (x, slope * x.min(home) + 20.0 * slope * (x - home).max(0.0)))
        .collect()
}

#[test]
fn each_trace_tells_its_story() {
    let told =
        |slope, home, end| read(&trace(slope, home, end), 60.0, 18.0, (4000.0, 12_000.0), Some(14.456), 0.3).unwrap();
    assert_eq!(told(450.0, 18.0, 19.0).call, TraceCall::Home);
    assert_eq!(told(800.0, 18.0, 19.0).call, TraceCall::Cocked);
    assert_eq!(told(450.0, 12.0, 13.5).call, TraceCall::Early);
    assert_eq!(told(150.0, 18.0, 19.0).call, TraceCall::Loose);
    assert_eq!(told(450.0, 19.0, 20.0).call, TraceCall::Late);
    assert_eq!(told(450.0, 30.0, 16.0).call, TraceCall::NotHome);
    for (points, field) in [(trace(450.0, 18.0, 19.0)[..5].to_vec(), "points"), (vec![(1.0, 1.0); 8], "points")] {
        assert_eq!(read(&points, 60.0, 18.0, (4000.0, 12_000.0), None, 0.3).unwrap_err().field, field);
    }
}

#[test]
fn a_bush_is_left_reamed_or_exchanged() {
    let call = |bore: f64, delta: f64| {
        pressed(
            bore,
            38.0,
            70.0,
            Micrometres::of(delta),
            Material::TinBronze,
            Material::GreyIron,
            None,
            (32.0, 32.025),
            250.0,
            (None, None),
        )
        .unwrap()
        .call
    };
    assert_eq!(
        (call(32.045, 45.0), call(32.0, 45.0), call(32.09, 10.0), call(31.7, 45.0)),
        (BushCall::AsPressed, BushCall::Ream, BushCall::TooLarge, BushCall::TooSmall)
    );
}

#[test]
fn a_run_in_goes_on_holds_or_stops() {
    let log = |end: f64, tau: f64, to: i32| -> Vec<(f64, f64)> {
        (0..=to).map(|k| f64::from(k) * 60.0).map(|t| (t, end - (end - 21.0) * (-t / tau).exp())).collect()
    };
    let judged = |l: &[(f64, f64)]| step(l, 0, Celsius::of(21.0), None).unwrap();
    assert_eq!(judged(&log(38.0, 300.0, 40)).call, RunIn::Next);
    assert_eq!(judged(&log(38.0, 300.0, 8)).call, RunIn::Hold);
    let hot = judged(&log(72.0, 900.0, 12));
    assert!(hot.will_exceed && hot.call == RunIn::Hold && (hot.end.unwrap().get() - 72.0).abs() < 0.5);
    assert_eq!(judged(&[(0.0, 30.0), (60.0, 31.0), (150.0, 42.0)]).call, RunIn::Stop);
    assert!(!judged(&[(0.0, 30.0), (200.0, 45.0)]).jump, "slow is no jump");
}

proptest! {
    #[test]
    fn the_knee_is_found_where_it_was_put_and_friction_comes_back(slope in 100f64..1000.0, home in 8f64..17.0) {
        let t = read(&trace(slope, home, 19.0), 60.0, home, (0.0, 1e9), Some(10.0), 0.3).unwrap();
        let (knee, force) = t.knee.unwrap();
        prop_assert!((knee - home).abs() < 0.15 && t.home && (force - slope * home).abs() < 0.05 * force);
        prop_assert!((t.mu.unwrap() - slope / (std::f64::consts::PI * 60.0 * 10.0)).abs() < 0.02 * t.mu.unwrap());
    }

    #[test]
    fn more_interference_never_leaves_a_larger_bore(delta in 0f64..80.0, more in 0f64..40.0) {
        let after = |d: f64| pressed(32.0, 38.0, 70.0, Micrometres::of(d), Material::TinBronze, Material::GreyIron, None, (32.0, 32.025), 250.0, (None, None)).unwrap().bore_after.get();
        prop_assert!(after(delta + more) <= after(delta) + 1e-12);
    }
}
