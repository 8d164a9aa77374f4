//! Computations on taking apart: ways of getting a part off.

use super::Entry;
use super::declare::{Flag, NotNegative, Number, Word, computation, gives};
use crate::refusal::{Result, expect};
use crate::takedown::{Facts, Method, Nearby, Stuck, TightOn, rank};

pub(super) static ENTRIES: [&Entry; 1] = [&ways::ENTRY];

gives! {
    /// A way that can be gone.
    pub(crate) struct WayOut {
        /// the way
        way: &'static str;
        /// why
        why: String;
        /// stop at
        force_n: Option<f64>;
        /// warmer by
        warmer_k: Option<f64>;
        /// scrap afterwards
        scraps: bool;
        /// how
        steps: String;
        /// mind
        mind: String;
    }
}

gives! {
    /// A way that cannot be gone.
    pub(crate) struct Barred {
        /// the way
        way: &'static str;
        /// why not
        why: &'static str;
    }
}

computation! {
    /// Ways of getting a part off, the least harm first.
    ways = "removal.ways";
    formula "what keeps a part that is used again, then what keeps surfaces, then what is quick";
    source "usual practice of bearing shops";
    holds "pressure, welding and gas only by licensed people; the maker's way comes first";
    takes {
        /// what is stuck
        ["whole_bearing" "inner_ring" "outer_ring_through_bore" "outer_ring_blind_bore" "bush" "collar" "seal"] stuck: Word;
        /// where it is tight
        ["shaft" "housing" "both"] tight: Word;
        /// it is to be used again
        reuse: Flag = false;
        /// there is room behind the inner ring
        behind_inner: Flag = false;
        /// the outer ring can be got hold of
        outer_reachable: Flag = false;
        /// it can be laid on plates under the right ring
        fits_press: Flag = false;
        /// the housing is of light metal
        light_housing: Flag = false;
        /// rust holds it
        rust: Flag = false;
        /// the shaft has oil ducts for it
        oil_grooves: Flag = false;
        /// a ring without lips, for cylindrical rollers
        cylindrical_roller: Flag = false;
        /// welding is allowed, and someone licensed is there
        welding: Flag = false;
        /// a closed space behind it holds pressure
        space_behind: Flag = false;
        /// a seal track lies beside it
        seal_track: Flag = false;
        /// another seat lies beside it
        other_seat: Flag = false;
        /// gas, fuel or vapour is near
        gas_or_fuel: Flag = false;
        /// windings are near
        windings: Flag = false;
        /// paint or seals are near
        paint_or_seals: Flag = false;
        /// most removal force of the fit
        high_n: Option<NotNegative>;
        /// the housing lets go when it is warmer by
        frees_k: Option<Number>;
    }
    gives {
        /// ways, the best first
        ways: Vec<WayOut>;
        /// ways that are barred
        barred: Vec<Barred>;
    }
    example r#"{"stuck": "whole_bearing", "tight": "shaft", "behind_inner": true, "fits_press": true, "high_n": 21000}"#;
}

fn ways(i: &ways::Takes) -> Result<ways::Gives> {
    expect(i.frees_k.is_none_or(|k| k >= 0.0), "frees_k", "expected by how much warmer, 0 or more")?;
    let facts = Facts {
        stuck: match i.stuck.as_str() {
            "whole_bearing" => Stuck::WholeBearing,
            "inner_ring" => Stuck::InnerRing,
            "outer_ring_through_bore" => Stuck::OuterRingThroughBore,
            "outer_ring_blind_bore" => Stuck::OuterRingBlindBore,
            "bush" => Stuck::Bush,
            "collar" => Stuck::Collar,
            _ => Stuck::Seal,
        },
        tight: match i.tight.as_str() {
            "shaft" => TightOn::Shaft,
            "housing" => TightOn::Housing,
            _ => TightOn::Both,
        },
        reuse: i.reuse,
        behind_inner: i.behind_inner,
        outer_reachable: i.outer_reachable,
        fits_press: i.fits_press,
        light_housing: i.light_housing,
        rust: i.rust,
        oil_grooves: i.oil_grooves,
        cylindrical_roller: i.cylindrical_roller,
        welding: i.welding,
        space_behind: i.space_behind,
        nearby: Nearby {
            seal_track: i.seal_track,
            other_seat: i.other_seat,
            gas_or_fuel: i.gas_or_fuel,
            windings: i.windings,
            paint_or_seals: i.paint_or_seals,
        },
    };
    let (ranked, out) = rank(&facts);
    let pulls = |m: Method| matches!(m, Method::Press | Method::PullInner | Method::PullThroughOuter);
    let join = |list: Vec<&str>, between: &str| list.join(between);
    let way = |r: &crate::takedown::Ranked| WayOut {
        way: r.method.name(),
        why: join(r.why.clone(), "; "),
        force_n: i.high_n.filter(|_| pulls(r.method)),
        warmer_k: i.frees_k.filter(|_| r.method == Method::HeatHousing),
        scraps: r.scraps,
        steps: join(r.method.steps().to_vec(), " "),
        mind: join(r.method.cautions().iter().map(|c| c.words()).collect(), " "),
    };
    Ok(ways::Gives {
        ways: ranked.iter().map(way).collect(),
        barred: out.into_iter().map(|(m, why)| Barred { way: m.name(), why }).collect(),
    })
}

#[cfg(test)]
mod tests {
    use crate::reckon::reckon;
    use serde_json::{Value, json};

    fn of(input: &Value) -> Value {
        reckon("removal.ways", &input.to_string()).unwrap()
    }

    #[test]
    fn ways_say_their_force_their_steps_and_what_bars_the_others() {
        let a = of(&json!({"stuck": "whole_bearing", "tight": "shaft", "fits_press": true, "high_n": 21_000}));
        let first = &a["ways"][0];
        assert!(first["way"].as_str().unwrap().starts_with("press") && first["force_n"] == 21_000.0, "{a}");
        assert!(first["mind"].as_str().unwrap().contains("ram") && first["scraps"] == false, "{a}");
        assert!(a["barred"].as_array().unwrap().iter().any(|b| b["why"] == "it is not tight in a housing"), "{a}");
        assert!(a["words"].as_str().unwrap().contains("press on the shaft"), "{a}");
        // In light metal warmth is the least harm, and it says how warm.
        let a =
            of(&json!({"stuck": "outer_ring_blind_bore", "tight": "housing", "light_housing": true, "frees_k": 34}));
        assert!(a["ways"][0]["warmer_k"] == 34.0 && a["ways"][0]["force_n"].is_null(), "{a}");
        // Gas near it: nothing with a flame or sparks is left.
        let near = of(
            &json!({"stuck": "outer_ring_blind_bore", "tight": "housing", "light_housing": true, "welding": true, "gas_or_fuel": true}),
        );
        let left: Vec<&str> = near["ways"].as_array().unwrap().iter().filter_map(|w| w["way"].as_str()).collect();
        assert!(
            left.iter().all(|w| !w.contains("heat") && !w.contains("weld beads") && !w.contains("burr")),
            "{left:?}"
        );
    }
}
