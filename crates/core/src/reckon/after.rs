//! Computations on what was read once it was done: bushes that are in, collars that were driven up, parts that are
//! pulled, split rings, lands with marks.

use super::Entry;
use super::declare::{List, NotNegative, Number, Numbers, Positive, computation, takes};
use crate::fit::bush;
use crate::fit::hydraulic::{self, Next};
use crate::land;
use crate::quantity::{Megapascals, Micrometres, Millimetres};
use crate::refusal::{Refusal, Result, expect};
use crate::seal;

pub(super) static ENTRIES: [&Entry; 5] = [&marks::ENTRY, &closed::ENTRY, &driven::ENTRY, &pull::ENTRY, &split::ENTRY];

takes! {
    /// A mark on a land.
    pub(crate) struct MarkIn {
        /// from the A side end to its nearer edge
        along_mm: NotNegative;
        /// wide along the shaft
        wide_mm: Positive;
        /// where around, from the mark of the shaft
        at_deg: Number;
        /// long around; 0: all round
        around_mm: NotNegative;
        /// dial over it: above 0 it stands up, below it is sunk
        dial_um: Number;
    }
}

computation! {
    /// A land with gouges and old tracks: whether it still carries its ring, and what is done to it.
    marks = "land.marks";
    formula "lost = area of what is sunk / area of the land; clean up = 2 x deepest";
    source "usual practice: what stands up is stoned off, hollows up to a tenth of the land are left";
    holds "the dial zeroed beside each mark; marks that lie in each other are counted twice";
    takes {
        /// diameter of the land
        d_mm: Positive;
        /// its width
        width_mm: Positive;
        /// gouges, burrs and old tracks
        marks: List<MarkIn>;
        /// smallest diameter that was measured
        smallest_mm: Option<Positive>;
        /// lower limit of the diameter
        least_mm: Option<Positive>;
        /// share of the land that may be lost
        [assumed] most_pct: NotNegative = 10.0;
        /// deeper than this may begin a crack
        [assumed] deep_um: NotNegative = 100.0;
        /// what the dial can be wrong by
        [assumed] u_um: NotNegative = 3.0;
    }
    gives {
        /// share of the land that carries nothing
        lost_pct: f64;
        /// highest that stands up
        raised_um: f64;
        /// deepest
        deepest_um: f64;
        /// off the diameter to clean it up
        clean_up_um: f64;
        /// may come off before the fit is lost
        spare_um: Option<f64>;
        /// judgement
        ["go" "dress" "look_again" "stop"] call: &'static str;
    }
    limits {
        "under its lower limit already: the fit is lost, whatever the marks are" => |_, a| a.spare_um.is_some_and(|s| s < 0.0);
    }
    example r#"{"d_mm": 40, "width_mm": 20, "marks": [{"along_mm": 3, "wide_mm": 0.8, "at_deg": 90, "around_mm": 12, "dial_um": -35}, {"along_mm": 15, "wide_mm": 1, "at_deg": 0, "around_mm": 0, "dial_um": -6}], "smallest_mm": 40.009, "least_mm": 40.002}"#;
}

fn marks(i: &marks::Takes) -> Result<marks::Gives> {
    let mm = Millimetres;
    let one = |m: &MarkIn| land::Mark {
        along: mm(m.along_mm),
        wide: mm(m.wide_mm),
        at_deg: m.at_deg,
        around: mm(m.around_mm),
        dial: Micrometres(m.dial_um),
    };
    let list: Vec<land::Mark> = i.marks.iter().map(one).collect();
    let (u, deep) = (Micrometres(i.u_um), Micrometres(i.deep_um));
    let m = land::marked((mm(i.d_mm), mm(i.width_mm)), &list, u, i.most_pct / 100.0, deep)?;
    Ok(marks::Gives {
        lost_pct: 100.0 * m.lost,
        raised_um: m.raised.0,
        deepest_um: m.deepest.0,
        clean_up_um: m.clean_up.0,
        spare_um: i.smallest_mm.zip(i.least_mm).map(|(is, least)| (is - least) * 1000.0),
        call: m.next.name(),
    })
}

computation! {
    /// Bore of a bush that is in: how it closed, and what is to be reamed.
    closed = "bush.closed";
    formula "closing = bore before - mean now; ream = middle of the wanted size - smallest now";
    source "usual practice; the share of the interference shows how the shop's own bushes close";
    holds "read at several places around and at both ends; the bush as warm as its housing";
    takes {
        /// bore before it was pressed in
        bore_mm: Positive;
        /// bore now, at several places
        after_mm: Numbers;
        /// interference it had
        delta_um: NotNegative;
        /// smallest wanted bore
        wanted_min_mm: Positive;
        /// largest wanted bore
        wanted_max_mm: Positive;
        /// closing that was foreseen
        foreseen_um: Option<Number>;
        /// most that a hand reamer takes
        [assumed] ream_max_um: NotNegative = 250.0;
    }
    gives {
        /// closing of the bore
        closing_um: f64;
        /// of its interference
        share: Option<f64>;
        /// largest less smallest
        oval_um: f64;
        /// closing less what was foreseen
        off_um: Option<f64>;
        /// to be reamed
        ream_um: Option<f64>;
        /// judgement
        ["as_pressed" "ream" "too_large" "too_small"] call: &'static str;
    }
    limits {
        "it closed by more than its interference, or opened: read both again, and look whether the hole is round" => |_, a| a.share.is_some_and(|s| !(0.0..=1.1).contains(&s));
    }
    example r#"{"bore_mm": 20, "after_mm": [19.978, 19.981, 19.979, 19.982], "delta_um": 28, "wanted_min_mm": 20, "wanted_max_mm": 20.021}"#;
}

fn closed(i: &closed::Takes) -> Result<closed::Gives> {
    let wanted = (i.wanted_min_mm, i.wanted_max_mm);
    let c = bush::closed(i.bore_mm, &i.after_mm, Micrometres(i.delta_um), wanted, i.ream_max_um)?;
    Ok(closed::Gives {
        closing_um: c.closing.0,
        share: c.share,
        oval_um: c.oval.0,
        off_um: i.foreseen_um.map(|f| c.closing.0 - f),
        ream_um: c.ream.map(|r| r.0),
        call: c.call.name(),
    })
}

computation! {
    /// Whether a collar that oil drove up stands where it should, and may be let go.
    driven = "hydraulic.driven";
    formula "way = dial at home - dial at first contact, within a tenth of the wanted one; the push is held once the oil is off";
    source "usual practice of oil-pressure joints; the maker's pressures and times come first";
    holds "the dial touches the collar, not the pump; nobody in line with the shaft";
    takes {
        /// oil pressure that parts the surfaces
        expansion_mpa: Positive;
        /// oil pressure at which the hub yields
        limit_mpa: Option<Positive>;
        /// wanted way from first contact, on a taper
        drive_up_mm: Option<Positive>;
        /// dial at first contact
        contact_mm: Number;
        /// highest oil pressure that was read
        oil_mpa: Positive;
        /// dial at home
        home_mm: Number;
        /// the push was held for so long, the oil let go
        held_min: NotNegative;
        /// it is to be held for so long
        [assumed] hold_min: NotNegative = 10.0;
    }
    gives {
        /// way it went
        way_mm: f64;
        /// that less the wanted way
        off_mm: Option<f64>;
        /// still to be held
        left_min: f64;
        /// judgement
        ["go" "hold" "look_again" "stop"] call: &'static str;
    }
    example r#"{"expansion_mpa": 90, "limit_mpa": 137, "drive_up_mm": 3.6, "contact_mm": 0.12, "oil_mpa": 95, "home_mm": 3.7, "held_min": 10}"#;
}

fn driven(i: &driven::Takes) -> Result<driven::Gives> {
    if let Some(l) = i.limit_mpa {
        expect(l > i.expansion_mpa, "limit_mpa", "expected the hub to yield above what parts the surfaces")?;
    }
    let d = hydraulic::driven(
        Megapascals(i.oil_mpa),
        Megapascals(i.expansion_mpa),
        i.limit_mpa.map(Megapascals),
        (Millimetres(i.contact_mm), Millimetres(i.home_mm)),
        i.drive_up_mm.map(Millimetres),
        (i.held_min, i.hold_min),
    );
    Ok(driven::Gives {
        way_mm: d.way.0,
        off_mm: d.off.map(|o| o.0),
        left_min: (i.hold_min - i.held_min).max(0.0),
        call: match d.next {
            Next::Yielded => "stop",
            Next::LookAgain => "look_again",
            Next::Hold => "hold",
            Next::Release => "go",
        },
    })
}

computation! {
    /// Whether a part that is pulled takes the force that it should.
    pull = "removal.pull";
    formula "force = pressure x piston area; beside the removal force of its fit: above it something else holds";
    source "usual practice; removal force as in fit.press";
    holds "the screw in line, the jaws parallel, the balls not carrying the force";
    takes {
        /// least removal force of the fit
        low_n: Option<NotNegative>;
        /// most removal force of the fit
        high_n: Positive;
        /// what the puller may carry
        rated_n: Positive;
        /// area of the piston, when a pressure is read
        piston_mm2: Option<Positive>;
        /// highest force that was read
        force_n: Option<NotNegative>;
        /// highest pressure that was read
        pressure_mpa: Option<NotNegative>;
    }
    gives {
        /// force it took
        force_n: f64;
        /// of the most that the fit explains
        share: f64;
        /// of what the puller may carry
        of_rated: f64;
        /// pressure at which to stop
        stop_mpa: Option<f64>;
        /// judgement
        ["go" "look_again" "stop"] call: &'static str;
    }
    example r#"{"low_n": 9000, "high_n": 21000, "rated_n": 50000, "piston_mm2": 1250, "force_n": 15000}"#;
}

fn pull(i: &pull::Takes) -> Result<pull::Gives> {
    let by_gauge = i.piston_mm2.zip(i.pressure_mpa).map(|(a, p)| a * p);
    let force = match (i.force_n, by_gauge) {
        (Some(f), _) | (None, Some(f)) => f,
        (None, None) if i.pressure_mpa.is_some() => {
            return Err(Refusal::new("piston_mm2", "expected the area of the piston beside a pressure"));
        }
        (None, None) => return Err(Refusal::new("force_n", "expected a force, or a pressure and the piston's area")),
    };
    if let Some(low) = i.low_n {
        expect(low <= i.high_n, "high_n", "expected the most not to be below the least")?;
    }
    // What the fit explains, or what the tool carries, whichever is less.
    let stop = i.high_n.min(i.rated_n);
    let call = match force {
        f if f > i.rated_n => "stop",
        f if f > i.high_n => "look_again",
        _ => "go",
    };
    Ok(pull::Gives {
        force_n: force,
        share: force / i.high_n,
        of_rated: force / i.rated_n,
        stop_mpa: i.piston_mm2.map(|a| stop / a),
        call,
    })
}

computation! {
    /// Split seal rings: groove, gap at the split, and whether their collar turns freely.
    split = "seal.split_ring";
    formula "side = groove - ring; the gap lies in its window; torque after - torque before is what the ring drags";
    source "usual practice of split rings: a gap of 0.002 to 0.006 of the bore, unless the maker says otherwise";
    holds "the ring read in the bore that it closes in; oil under it; torque read while it turns";
    takes {
        /// bore that it closes in
        bore_mm: Positive;
        /// width of the ring
        ring_mm: Positive;
        /// width of its groove
        groove_mm: Positive;
        /// gap at the split, in its bore
        gap_mm: NotNegative;
        /// torque that turned the collar before
        before_nm: Option<NotNegative>;
        /// and with the ring in
        after_nm: Option<NotNegative>;
        /// least gap
        [assumed] gap_lo_mm: Option<NotNegative> = "0.002 of the bore";
        /// largest gap
        [assumed] gap_hi_mm: Option<Positive> = "0.006 of the bore";
        /// torque that the ring may add
        [assumed] may_add_nm: Option<NotNegative> = "a quarter of that before";
    }
    gives {
        /// room beside the ring
        side_mm: f64;
        /// least gap that is right
        window_lo_mm: f64;
        /// largest gap that is right
        window_hi_mm: f64;
        /// torque that the ring adds
        drag_nm: Option<f64>;
        /// stop when it is pinched or has no room
        ["go" "look_again" "stop"] call: &'static str;
    }
    example r#"{"bore_mm": 80, "ring_mm": 2.95, "groove_mm": 3.0, "gap_mm": 0.3, "before_nm": 0.4, "after_nm": 0.45}"#;
}

fn split(i: &split::Takes) -> Result<split::Gives> {
    let mm = |v: Option<f64>| v.map(Millimetres);
    let r = seal::split_ring(
        Millimetres(i.bore_mm),
        (Millimetres(i.ring_mm), Millimetres(i.groove_mm)),
        Millimetres(i.gap_mm),
        (mm(i.gap_lo_mm), mm(i.gap_hi_mm)),
        i.before_nm.zip(i.after_nm),
        i.may_add_nm,
    )?;
    let call = if r.side.0 <= 0.0 || r.free == Some(false) {
        "stop"
    } else if !r.gap_right || r.free.is_none() {
        "look_again"
    } else {
        "go"
    };
    Ok(split::Gives {
        side_mm: r.side.0,
        window_lo_mm: r.window.0.0,
        window_hi_mm: r.window.1.0,
        drag_nm: r.drag_nm,
        call,
    })
}

#[cfg(test)]
mod tests {
    use crate::reckon::reckon;
    use serde_json::{Value, json};

    fn of(name: &str, input: Value) -> Value {
        reckon(name, &input.to_string()).unwrap()
    }
    fn near(v: &Value, wanted: f64) -> bool {
        v.as_f64().is_some_and(|v| (v - wanted).abs() < 1e-6)
    }

    /// 20.000 read at 19.978, 19.981, 19.979, 19.982: the mean is 19.980, it closed by 20 µm of 28; 20.0105 is the
    /// middle.
    #[test]
    fn a_bush_that_is_in_says_how_it_closed_and_what_is_reamed() {
        let bush = |after: Value, wanted: (f64, f64)| {
            of(
                "bush.closed",
                json!({"bore_mm": 20, "after_mm": after, "delta_um": 28, "foreseen_um": 18, "wanted_min_mm": wanted.0, "wanted_max_mm": wanted.1}),
            )
        };
        let read = json!([19.978, 19.981, 19.979, 19.982]);
        let a = bush(read.clone(), (20.0, 20.021));
        assert!(near(&a["closing_um"], 20.0) && near(&a["share"], 20.0 / 28.0) && near(&a["off_um"], 2.0), "{a}");
        assert!(near(&a["oval_um"], 4.0) && near(&a["ream_um"], 32.5) && a["call"] == "ream", "{a}");
        assert_eq!(bush(read.clone(), (19.97, 19.99))["call"], "as_pressed");
        assert_eq!(bush(read.clone(), (19.95, 19.981))["call"], "too_large", "one place is over");
        assert_eq!(bush(read, (20.5, 20.521))["call"], "too_small", "half a millimetre is no reamer's work");
        let a = bush(json!([20.003]), (20.0, 20.021));
        assert!(a["warnings"][0].as_str().unwrap().contains("opened"), "{a}");
        let far = reckon(
            "bush.closed",
            r#"{"bore_mm": 20, "after_mm": [25], "delta_um": 28, "wanted_min_mm": 20, "wanted_max_mm": 21}"#,
        );
        assert_eq!(far.unwrap_err().field, "after_mm");
    }

    /// 0.8 x 12 and 1 x pi 40 of pi 40 x 20 mm²: 0.38 % and 5 %.
    #[test]
    fn a_land_says_what_it_lost_and_what_may_still_come_off() {
        let land = |marks: Value| {
            of(
                "land.marks",
                json!({"d_mm": 40, "width_mm": 20, "marks": marks, "smallest_mm": 40.009, "least_mm": 40.002}),
            )
        };
        let gouge = json!({"along_mm": 3, "wide_mm": 0.8, "at_deg": 90, "around_mm": 12, "dial_um": -35});
        let track = json!({"along_mm": 15, "wide_mm": 1, "at_deg": 0, "around_mm": 0, "dial_um": -6});
        let a = land(json!([gouge, track]));
        assert!(
            near(&a["lost_pct"], 100.0 * (9.6 + 40.0 * std::f64::consts::PI) / (800.0 * std::f64::consts::PI)),
            "{a}"
        );
        assert!(near(&a["clean_up_um"], 70.0) && near(&a["spare_um"], 7.0) && a["call"] == "go", "{a}");
        assert!(a["words"].as_str().unwrap().contains("Leave"), "{a}");
        let burr = json!({"along_mm": 3, "wide_mm": 0.8, "at_deg": 200, "around_mm": 2, "dial_um": 9});
        assert!(land(json!([gouge, burr]))["words"].as_str().unwrap().contains("9 µm"));
        let wide = json!({"along_mm": 5, "wide_mm": 4, "at_deg": 0, "around_mm": 0, "dial_um": -6});
        assert_eq!(land(json!([wide]))["call"], "stop");
        let deep = json!({"along_mm": 3, "wide_mm": 0.8, "at_deg": 9, "around_mm": 12, "dial_um": -135});
        assert_eq!(land(json!([deep]))["call"], "look_again");
    }

    #[test]
    fn a_collar_is_let_go_when_it_stands_and_was_held() {
        let collar = |oil: f64, home: f64, held: f64| {
            of(
                "hydraulic.driven",
                json!({"expansion_mpa": 90, "limit_mpa": 137, "drive_up_mm": 3.6, "contact_mm": 0.1, "oil_mpa": oil, "home_mm": home, "held_min": held}),
            )
        };
        for (oil, home, held, call, says) in [
            (95.0, 3.7, 10.0, "go", "let the push go"),
            (95.0, 3.7, 4.0, "hold", "6 min"),
            (95.0, 3.2, 10.0, "look_again", "short of its way"),
            (95.0, 4.2, 10.0, "look_again", "beyond its way"),
            (80.0, 3.7, 10.0, "look_again", "less than parts the surfaces"),
            (140.0, 3.7, 10.0, "stop", "yield"),
        ] {
            let a = collar(oil, home, held);
            assert!(a["call"] == call && a["words"].as_str().unwrap().contains(says), "{oil} {home} {held}: {a}");
        }
        // Pushed the other way past the dial it is the same way; a cylinder has none.
        let a = of(
            "hydraulic.driven",
            json!({"expansion_mpa": 90, "contact_mm": 3.7, "oil_mpa": 95, "home_mm": 0.1, "held_min": 10}),
        );
        assert!(near(&a["way_mm"], 3.6) && a["off_mm"].is_null() && a["call"] == "go", "{a}");
    }

    #[test]
    fn a_puller_stops_before_what_the_fit_explains() {
        let pull = |bar: f64| {
            of(
                "removal.pull",
                json!({"low_n": 9000, "high_n": 21000, "rated_n": 50000, "piston_mm2": 1250, "pressure_mpa": bar}),
            )
        };
        let a = pull(12.0);
        assert!(near(&a["force_n"], 15_000.0) && near(&a["stop_mpa"], 16.8) && a["call"] == "go", "{a}");
        assert_eq!(pull(20.0)["call"], "look_again");
        assert_eq!(pull(41.0)["call"], "stop");
        // A weak puller stops first.
        let weak = of("removal.pull", json!({"high_n": 21000, "rated_n": 10000, "force_n": 9000, "piston_mm2": 1000}));
        assert!(near(&weak["stop_mpa"], 10.0) && weak["call"] == "go");
        let none = |input: &str| reckon("removal.pull", input).unwrap_err().field;
        assert_eq!(none(r#"{"high_n": 1, "rated_n": 1, "pressure_mpa": 1}"#), "piston_mm2");
        assert_eq!(none(r#"{"high_n": 1, "rated_n": 1}"#), "force_n");
    }

    #[test]
    fn a_ring_that_is_pinched_comes_out_again() {
        let ring = |groove: f64, gap: f64, after: Option<f64>| {
            of(
                "seal.split_ring",
                json!({"bore_mm": 80, "ring_mm": 2.95, "groove_mm": groove, "gap_mm": gap, "before_nm": 0.4, "after_nm": after}),
            )
        };
        for (groove, gap, after, call, says) in [
            (3.0, 0.3, Some(0.45), "go", "turns as freely"),
            (3.0, 0.3, Some(0.6), "stop", "pinched"),
            (2.95, 0.3, Some(0.4), "stop", "no room"),
            (3.0, 0.05, Some(0.4), "look_again", "too small"),
            (3.0, 0.9, Some(0.4), "look_again", "too large"),
            (3.0, 0.3, None, "look_again", "Turn the collar"),
        ] {
            let a = ring(groove, gap, after);
            assert!(a["call"] == call && a["words"].as_str().unwrap().contains(says), "{groove} {gap} {after:?}: {a}");
        }
    }
}
