//! Parts against each other, straightness, lobes in a vee, wires before and after: what is judged by comparing.

use super::Entry;
use super::declare::{Grid, List, NotNegative, Number, Numbers, Positive, Whole, computation, takes};
use crate::instrument::{Judgement, Limits, SLACK, judge};
use crate::quantity::{Micrometres, Millimetres};
use crate::refusal::{Refusal, Result, expect};
use crate::rotation;

pub(super) static ENTRIES: [&Entry; 4] = [&straight::ENTRY, &lobes::ENTRY, &heights::ENTRY, &wires::ENTRY];

computation! {
    /// How straight a shaft is, from a sweep at each of several stations.
    straight = "runout.straightness";
    formula "axis vector of each station less the line through the first and the last";
    source "first harmonic by least squares; line through two points";
    holds "the shaft carried at its first and last station, the mark at the same place on every sweep";
    takes {
        /// places of the stations along the shaft
        z_mm: Numbers;
        /// one row of readings per station, equal steps from the mark
        readings_um: Grid;
        /// uncertainty of the indicator
        [assumed] u_um: NotNegative = 2.0;
    }
    gives {
        /// bow, from the line through the ends
        bow_um: Micrometres;
        /// at this station
        at_mm: Millimetres;
        /// what a dial reads there, largest - smallest
        tir_um: Micrometres;
        /// plane of the bow from the mark
        plane_deg: Option<f64>;
        /// whether all stations bow in one plane
        one_plane: bool;
        /// judgement
        ["straight" "bent" "twisted"] cause: &'static str;
    }
    example r#"{"z_mm": [0, 200, 400], "readings_um": [[0, 0, 0, 0, 0, 0, 0, 0], [15, 10.6, 0, -10.6, -15, -10.6, 0, 10.6], [0, 0, 0, 0, 0, 0, 0, 0]]}"#;
}

fn straight(i: &straight::Takes) -> Result<straight::Gives> {
    let n = i.readings_um.len();
    expect(i.z_mm.len() == n, "z_mm", "as many places as rows of readings are expected")?;
    let stations = i.z_mm.iter().zip(&i.readings_um).map(|(z, r)| Ok((Millimetres::new(*z)?, r.clone())));
    let named = |r: Refusal| match r.field.as_str() {
        "stations" => Refusal::new("z_mm", r.message),
        _ => r,
    };
    let s = rotation::straightness(&stations.collect::<Result<Vec<_>>>()?, Micrometres::new(i.u_um)?).map_err(named)?;
    Ok(straight::Gives {
        bow_um: s.bow,
        at_mm: Millimetres(i.z_mm[s.at]),
        tir_um: Micrometres(2.0 * s.bow.0),
        plane_deg: s.plane_deg.filter(|_| s.bow.0 > SLACK),
        one_plane: s.one_plane,
        cause: match (s.bow.0 <= i.u_um + SLACK, s.one_plane) {
            (true, _) => "straight",
            (_, true) => "bent",
            (_, false) => "twisted",
        },
    })
}

computation! {
    /// Lobes of a shaft from a sweep in a vee-block, which a two-point gauge cannot see.
    lobes = "vee.sweep";
    formula "out of round = 2 a_n/|1 + (-1)^n cos(n (90 - half angle))/sin(half angle)|";
    source "Fourier series of the sweep; ISO 4292:1985, three-point measurement";
    holds "the shaft lies in the vee where it is read, and is turned in equal steps";
    takes {
        /// indicator readings on the bisector, equal steps
        readings_um: Numbers;
        /// included angle of the vee
        [assumed] angle_deg: Number = 90.0;
        /// number of lobes that are looked for; ground journals have 3, 5 or 7
        lobes: Whole<2, 100>;
        /// uncertainty of the indicator
        [assumed] u_um: NotNegative = 1.0;
    }
    gives {
        /// how much this vee magnifies so many lobes
        factor: f64;
        /// largest - smallest of that wave, as the dial shows it
        shown_um: Micrometres;
        /// out of round by these lobes, largest - smallest radius, where this vee can see them
        round_um: Option<Micrometres>;
        /// whether that is more than the indicator can be wrong
        seen: bool;
    }
    limits {
        "this vee shows less than half of such lobes: take one of another angle" => |_, a| a.factor < 0.5;
    }
    example r#"{"readings_um": [6, 0, -6, 0, 6, 0, -6, 0, 6, 0, -6, 0], "lobes": 3}"#;
}

fn lobes(i: &lobes::Takes) -> Result<lobes::Gives> {
    let n = u32::try_from(i.lobes).unwrap_or(2);
    let factor = rotation::vee_factor(i.angle_deg, n)?;
    let wave = rotation::wave(&i.readings_um, n)?;
    let round = (factor >= 0.1).then(|| Micrometres(2.0 * wave.0 / factor));
    Ok(lobes::Gives {
        factor,
        shown_um: Micrometres(2.0 * wave.0),
        round_um: round,
        seen: round.is_some() && 2.0 * wave.0 > i.u_um + SLACK,
    })
}

computation! {
    /// Two rings of a set against each other: heights around each, and what is ground off which.
    heights = "parts.compare";
    formula "difference = mean a - mean b; parallelism = largest - smallest of one ring";
    source "means of the heights around each ring";
    holds "both read with the same instrument at the same temperature";
    takes {
        /// heights of the first ring, going round
        a_mm: Numbers;
        /// heights of the second ring
        b_mm: Numbers;
        /// how much they may differ, and each be out of parallel
        [assumed] limit_um: Positive = 2.0;
        /// wanted difference, first - second
        [assumed] wanted_um: Number = 0.0;
        /// uncertainty of the comparison
        [assumed] u_um: NotNegative = 0.5;
    }
    gives {
        /// first ring, on the mean
        mean_a_mm: Millimetres;
        /// second ring, on the mean
        mean_b_mm: Millimetres;
        /// first - second
        difference_um: Micrometres;
        /// first ring out of parallel
        parallel_a_um: Micrometres;
        /// second ring out of parallel
        parallel_b_um: Micrometres;
        /// which is ground
        ["first" "second" "none"] grind: &'static str;
        /// how much off it
        grind_um: Micrometres;
        /// judgement
        ["go" "look_again" "stop"] call: &'static str;
    }
    example r#"{"a_mm": [24.003, 24.003, 24.004], "b_mm": [24.000, 23.999, 24.000]}"#;
}

/// Mean height of a ring, and how far it is out of parallel.
fn ring(name: &str, list: &[f64]) -> Result<(Millimetres, Micrometres)> {
    expect(!list.is_empty(), name, "at least one height is expected; three around the ring are usual")?;
    expect(list.iter().all(|h| *h > 0.0), name, "a height is above 0")?;
    let most = list.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    let least = list.iter().copied().fold(f64::INFINITY, f64::min);
    Ok((Millimetres(list.iter().sum::<f64>() / list.len() as f64), Micrometres((most - least) * 1000.0)))
}

fn heights(i: &heights::Takes) -> Result<heights::Gives> {
    let ((mean_a, parallel_a), (mean_b, parallel_b)) = (ring("a_mm", &i.a_mm)?, ring("b_mm", &i.b_mm)?);
    let difference = (mean_a.0 - mean_b.0) * 1000.0;
    let off = difference - i.wanted_um;
    let worst = [off.abs(), parallel_a.0, parallel_b.0].into_iter().fold(0.0, f64::max);
    let call = match judge(worst, &Limits { lo: None, hi: Some(i.limit_um) }, i.u_um)? {
        Judgement::Conforming => "go",
        Judgement::Undecided => "look_again",
        Judgement::NotConforming => "stop",
    };
    let grind = match call {
        "stop" if off.abs() > i.limit_um => {
            if off > 0.0 {
                "first"
            } else {
                "second"
            }
        }
        _ => "none",
    };
    Ok(heights::Gives {
        mean_a_mm: mean_a,
        mean_b_mm: mean_b,
        difference_um: Micrometres(difference),
        parallel_a_um: parallel_a,
        parallel_b_um: parallel_b,
        grind,
        grind_um: Micrometres(if grind == "none" { 0.0 } else { off.abs() }),
        call,
    })
}

takes! {
    /// One wire.
    pub(crate) struct WireIn {
        /// ohms before it was covered
        before_ohm: Positive;
        /// ohms after
        after_ohm: NotNegative;
    }
}

computation! {
    /// Wires of probes and thermometers before and after they are covered.
    wires = "wires.compare";
    formula "change = (after - before)/before";
    source "a wire that was nipped or broken reads another resistance";
    holds "all at one temperature, read with the same meter";
    takes {
        /// the wires, each before and after
        wires: List<WireIn>;
        /// how much a reading may change, of what it was
        [assumed] share_pct: Positive = 5.0;
    }
    gives {
        /// change of each
        changes_pct: Vec<f64>;
        /// the largest of them
        worst_pct: f64;
        /// the wire that it is, from 1
        worst: u64;
        /// judgement
        ["go" "stop"] call: &'static str;
    }
    example r#"{"wires": [{"before_ohm": 109.8, "after_ohm": 109.9}, {"before_ohm": 110.1, "after_ohm": 110.0}]}"#;
}

fn wires(i: &wires::Takes) -> Result<wires::Gives> {
    expect(!i.wires.is_empty(), "wires", "at least one wire is expected, before and after")?;
    let changes: Vec<f64> = i.wires.iter().map(|w| (w.after_ohm - w.before_ohm) / w.before_ohm * 100.0).collect();
    let worst = (0..changes.len()).fold(0, |b, k| if changes[k].abs() > changes[b].abs() + 1e-9 { k } else { b });
    Ok(wires::Gives {
        worst_pct: changes[worst],
        worst: worst as u64 + 1,
        call: if changes[worst].abs() <= i.share_pct + 1e-9 { "go" } else { "stop" },
        changes_pct: changes,
    })
}

#[cfg(test)]
mod tests {
    use crate::reckon::reckon;
    use serde_json::{Value, json};

    fn ask(name: &str, input: &Value) -> Value {
        reckon(name, &input.to_string()).unwrap()
    }
    fn refused(name: &str, input: &Value) -> String {
        reckon(name, &input.to_string()).unwrap_err().field
    }

    /// A bar that is bent by a known arc, swept at five places: its middle is off by the height of the arc.
    #[test]
    fn a_bent_bar_is_told_with_its_plane() {
        let row =
            |e: f64| (0..8).map(|k| e * (f64::from(k) * 45.0 - 60.0).to_radians().cos() + 3.0).collect::<Vec<f64>>();
        let bow = |z: f64| 20.0 * (1.0 - ((z - 200.0) / 200.0).powi(2));
        let z = [0.0, 100.0, 200.0, 300.0, 400.0];
        let a = ask("runout.straightness", &json!({"z_mm": z, "readings_um": z.map(|z| row(bow(z)))}));
        assert!((a["bow_um"].as_f64().unwrap() - 20.0).abs() < 1e-6 && a["at_mm"] == 200.0, "{a}");
        assert!((a["plane_deg"].as_f64().unwrap() - 60.0).abs() < 1e-6 && a["cause"] == "bent");
        let flat = ask("runout.straightness", &json!({"z_mm": z, "readings_um": z.map(|_| row(4.0))}));
        assert_eq!((&flat["cause"], &flat["plane_deg"]), (&json!("straight"), &Value::Null));
        let ends = json!({"z_mm": [0, 400], "readings_um": [row(0.0), row(0.0)]});
        assert_eq!(refused("runout.straightness", &ends), "z_mm");
        assert_eq!(refused("runout.straightness", &json!({"z_mm": [0], "readings_um": ends["readings_um"]})), "z_mm");
    }

    /// A profile of five lobes is laid into the vee and turned: what the dial reads says the lobes again.
    #[test]
    fn lobes_are_told_from_what_the_dial_reads_in_the_vee() {
        for (angle, n) in [(90.0f64, 5.0f64), (60.0, 3.0), (120.0, 7.0)] {
            let half = (angle / 2.0).to_radians();
            let quarter = std::f64::consts::FRAC_PI_2;
            let read = |turn: f64| {
                let support = |dir: f64| 4.0 * (n * (dir - turn)).cos();
                let (l, r) = (support(-quarter - (quarter - half)), support(-quarter + (quarter - half)));
                (l + r) / (2.0 * half.sin()) + support(quarter)
            };
            let readings: Vec<f64> = (0..24).map(|k| read(f64::from(k) * std::f64::consts::PI / 12.0)).collect();
            let a = ask("vee.sweep", &json!({"readings_um": readings, "angle_deg": angle, "lobes": n as u64}));
            assert!((a["round_um"].as_f64().unwrap() - 8.0).abs() < 1e-6 && a["seen"] == true, "{angle} {n}: {a}");
        }
        let blind = ask("vee.sweep", &json!({"readings_um": vec![1.0; 24], "lobes": 7}));
        assert_eq!((&blind["round_um"], &blind["seen"]), (&Value::Null, &json!(false)));
        assert_eq!(refused("vee.sweep", &json!({"readings_um": [0, 1, 0, -1], "lobes": 3})), "readings_um");
    }

    #[test]
    fn rings_and_wires_are_compared() {
        let a = ask(
            "parts.compare",
            &json!({"a_mm": [24.003, 24.003, 24.004, 24.004], "b_mm": [24.0, 24.0, 23.999, 24.001]}),
        );
        assert!((a["difference_um"].as_f64().unwrap() - 3.5).abs() < 1e-6, "{a}");
        assert_eq!((&a["call"], &a["grind"]), (&json!("stop"), &json!("first")));
        let near = ask("parts.compare", &json!({"a_mm": [24.0018], "b_mm": [24.0]}));
        assert_eq!(near["call"], "look_again", "within its limit by less than the gauge can be wrong");
        let meant = ask("parts.compare", &json!({"a_mm": [24.020], "b_mm": [24.0], "wanted_um": 20}));
        assert_eq!((&meant["call"], &meant["grind_um"]), (&json!("go"), &json!(0.0)));
        let tilted = ask("parts.compare", &json!({"a_mm": [24.0, 24.006], "b_mm": [24.003, 24.003]}));
        assert_eq!(
            (&tilted["call"], &tilted["grind"]),
            (&json!("stop"), &json!("none")),
            "grinding evenly mends no wedge"
        );
        assert_eq!(refused("parts.compare", &json!({"a_mm": [], "b_mm": [1]})), "a_mm");

        let ohm = |b: f64, a: f64| json!({"before_ohm": b, "after_ohm": a});
        let w = ask("wires.compare", &json!({"wires": [ohm(109.8, 109.9), ohm(110.0, 131.0)]}));
        assert_eq!((&w["call"], &w["worst"]), (&json!("stop"), &json!(2)));
        assert_eq!(
            ask("wires.compare", &json!({"wires": [ohm(100.0, 105.0)]}))["call"],
            "go",
            "a limit itself is kept"
        );
        assert_eq!(refused("wires.compare", &json!({"wires": [ohm(0.0, 1.0)]})), "wires");
    }
}
