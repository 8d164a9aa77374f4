//! Names for press fits and the clearance that is left.

use super::Entry;
use super::declare::{Flag, Matter, NotNegative, Number, Positive, Word, computation};
use crate::fit::advice::{self, Duty, Elements, Turning};
use crate::fit::clearance::{ClearanceCall, FittedBearing, clearance_left};
use crate::fit::{BRITTLE_HOOP_MPA, Finish, Friction, Material, PressFit, School, press};
use crate::quantity::{Kelvins, Megapascals, Micrometres, Millimetres, Newtons};
use crate::refusal::{Refusal, Result};

pub(super) static ENTRIES: [&Entry; 3] = [&advise::ENTRY, &fit_press::ENTRY, &fit_clearance_left::ENTRY];

computation! {
    /// Tolerance classes for the seats of a rolling bearing.
    advise = "fit.advise";
    formula "the ring that turns against the load is tight, the other may slide; a step tighter for rollers, heavy load, large bore, hollow shaft";
    source "usual ISO practice for rolling bearings";
    holds "the maker's or the build sheet's class comes first";
    takes {
        /// bore of the bearing
        d_mm: Positive;
        /// what turns against the load
        ["inner_ring" "outer_ring" "either"] turns: Word = "inner_ring";
        /// rolling elements
        ["balls" "rollers"] elements: Word = "balls";
        /// load over dynamic rating, P/C
        [assumed] load: NotNegative = 0.08;
        /// a spindle bearing, class 4 or 2
        precise: Flag = false;
        /// the shaft is hollow
        hollow_shaft: Flag = false;
        /// the housing is split
        split_housing: Flag = false;
        /// the housing is thin
        thin_housing: Flag = false;
        /// it is the floating end
        floating: Flag = false;
        /// a cylindrical roller bearing that floats inside itself
        floats_inside: Flag = false;
    }
    gives {
        /// class of the journal
        shaft: &'static str;
        /// class of the bore
        housing: &'static str;
        /// journal, because
        shaft_why: Vec<String>;
        /// bore, because
        housing_why: Vec<String>;
        /// mind
        watch: Vec<String>;
    }
    example r#"{"d_mm": 40, "floating": true}"#;
}

fn advise(i: &advise::Takes) -> Result<advise::Gives> {
    let a = advice::advise(&Duty {
        d: Millimetres(i.d_mm),
        turning: match i.turns.as_str() {
            "outer_ring" => Turning::Outer,
            "either" => Turning::Either,
            _ => Turning::Inner,
        },
        elements: if i.elements == "rollers" { Elements::Rollers } else { Elements::Balls },
        load: i.load,
        precise: i.precise,
        hollow_shaft: i.hollow_shaft,
        split_housing: i.split_housing,
        thin_housing: i.thin_housing,
        floating: i.floating,
        floats_inside: i.floats_inside,
    })?;
    let said = |list: Vec<&str>| list.into_iter().map(str::to_owned).collect();
    Ok(advise::Gives {
        shaft: a.shaft.class,
        housing: a.housing.class,
        shaft_why: said(a.shaft.reasons),
        housing_why: said(a.housing.reasons),
        watch: said(a.watch),
    })
}

computation! {
    /// Pressure, force, growth and stress of a press fit.
    fit_press = "fit.press";
    formula "p = delta_eff/(d ((1/Eo)((Do2 + d2)/(Do2 - d2) + nu_o) + (1/Ei)((d2 + di2)/(d2 - di2) - nu_i))); F = pi d x p mu";
    source "DIN 7190-1:2017; Lamé, in Shigley's Mechanical Engineering Design, chapter Load and Stress Analysis, Press and Shrink Fits";
    holds "elastic parts of even wall over the whole length; ends, keyways and grooves carry more";
    takes {
        /// joint diameter
        d_mm: Positive;
        /// outside of the hub; a ring's raceway
        hub_outside_mm: Positive;
        /// bore of a hollow shaft
        [assumed] shaft_bore_mm: NotNegative = 0.0;
        /// engaged length
        length_mm: Positive;
        /// smallest interference
        delta_min_um: Number;
        /// largest interference
        delta_max_um: Number;
        /// outer part
        [assumed] hub_material: Matter = Material::BearingSteel;
        /// inner part
        [assumed] shaft_material: Matter = Material::CarbonSteel;
        /// rule for the effective interference
        [assumed "diameter" "roughness"] school: Word = "diameter";
        /// finish of the seat
        [assumed "ground" "turned"] finish: Word = "ground";
        /// Rz of the inner part, with roughness
        rz_inner_um: Option<NotNegative>;
        /// Rz of the outer part, with roughness
        rz_outer_um: Option<NotNegative>;
        /// what is on the seat
        [assumed "oiled" "dry" "paste"] lubricant: Word = "oiled";
        /// lowest friction
        mu_low: Option<Positive> = "from the lubricant";
        /// usual friction
        [assumed] mu_mid: Option<Positive> = "from the lubricant: dry 0.15, oiled 0.12, paste 0.07";
        /// highest friction
        mu_high: Option<Positive>;
        /// how much hotter the ring runs; below 0 it is colder and tighter
        [assumed] ring_hotter_k: Number = 0.0;
        /// yield of the hub
        [assumed] hub_yield_mpa: Option<Positive> = "of its material";
        /// yield of the inner part
        [assumed] shaft_yield_mpa: Option<Positive> = "of its material";
    }
    gives {
        /// effective interference, least
        delta_eff_low_um: Micrometres;
        /// pressure, least
        pressure_low_mpa: Megapascals;
        /// force, least
        force_low_n: Newtons;
        /// growth of the hub's outside, least
        growth_low_um: Micrometres;
        /// effective interference, mean
        delta_eff_mid_um: Micrometres;
        /// pressure, mean
        pressure_mid_mpa: Megapascals;
        /// force, mean
        force_mid_n: Newtons;
        /// growth of the hub's outside, mean
        growth_mid_um: Micrometres;
        /// effective interference, most
        delta_eff_high_um: Micrometres;
        /// pressure, most
        pressure_high_mpa: Megapascals;
        /// force, most
        force_high_n: Newtons;
        /// growth of the hub's outside, most
        growth_high_um: Micrometres;
        /// hoop stress at the hub's bore
        hub_hoop_high_mpa: Megapascals;
        /// Tresca stress at the hub's bore
        hub_tresca_high_mpa: Megapascals;
        /// hoop stress at the bore of a hollow shaft
        shaft_bore_hoop_high_mpa: Option<Megapascals>;
        /// stop pressing here
        stop_force_n: Newtons;
        /// pressing out, least
        removal_low_n: Newtons;
        /// pressing out, most
        removal_high_n: Newtons;
        /// what is left when the ring runs hotter
        service_delta_eff_mid_um: Micrometres;
        /// hoop stress at the hub's bore in service
        hoop_mpa: Megapascals;
        /// Tresca stress of the hub over its yield
        hub_yield_share: f64;
        /// Tresca stress of the inner part over its yield
        shaft_yield_share: f64;
        /// warn from 0.7 of yield or 120 MPa in a hardened ring, stop beyond yield
        ["go" "warn" "stop"] stress_call: &'static str;
    }
    limits {
        "Rz was given and not used: only the school “roughness” takes it off the interference" => |i, _| i.school == "diameter" && (i.rz_inner_um.is_some() || i.rz_outer_um.is_some());
        "hoop stress over 120 MPa in a hardened ring: it may crack, ease the fit" => |i, a| i.hub_material == Material::BearingSteel && a.hub_hoop_high_mpa.0 > BRITTLE_HOOP_MPA;
        "more than 2 µm of interference per mm of diameter: most materials yield there, and Lamé holds only while nothing yields" => |i, a| a.delta_eff_high_um.0 > 2.0 * i.d_mm;
        "ring thinner than a twentieth of the diameter: it takes up the shape of its seat" => |i, _| i.hub_outside_mm < 1.05 * i.d_mm;
    }
    example r#"{"d_mm": 60, "hub_outside_mm": 74, "length_mm": 31, "delta_min_um": 25.4, "delta_max_um": 25.4, "shaft_material": "bearing_steel"}"#;
}

fn fit_press(i: &fit_press::Takes) -> Result<fit_press::Gives> {
    let school = if i.school == "roughness" {
        let both = "the roughness school needs Rz of both surfaces";
        let rz = |field, rz: Option<f64>| rz.map(Micrometres).ok_or_else(|| Refusal::new(field, both));
        School::Roughness { rz_inner: rz("rz_inner_um", i.rz_inner_um)?, rz_outer: rz("rz_outer_um", i.rz_outer_um)? }
    } else {
        School::Diameter(finish(&i.finish))
    };
    let usual = Friction::of(&i.lubricant).unwrap_or(Friction::OILED);
    let a = press(&PressFit {
        d: Millimetres(i.d_mm),
        hub_outside: i.hub_outside_mm,
        shaft_bore: Millimetres(i.shaft_bore_mm),
        length: Millimetres(i.length_mm),
        delta_min: Micrometres(i.delta_min_um),
        delta_max: Micrometres(i.delta_max_um),
        hub: i.hub_material,
        shaft: i.shaft_material,
        school,
        friction: Friction {
            low: i.mu_low.unwrap_or(usual.low),
            mid: i.mu_mid.unwrap_or(usual.mid),
            high: i.mu_high.unwrap_or(usual.high),
        },
        ring_hotter: Kelvins(i.ring_hotter_k),
        yields: (i.hub_yield_mpa, i.shaft_yield_mpa),
    })?;
    Ok(fit_press::Gives {
        delta_eff_low_um: a.low.delta_eff,
        pressure_low_mpa: a.low.pressure,
        force_low_n: a.low.force,
        growth_low_um: a.low.growth,
        delta_eff_mid_um: a.mid.delta_eff,
        pressure_mid_mpa: a.mid.pressure,
        force_mid_n: a.mid.force,
        growth_mid_um: a.mid.growth,
        delta_eff_high_um: a.high.delta_eff,
        pressure_high_mpa: a.high.pressure,
        force_high_n: a.high.force,
        growth_high_um: a.high.growth,
        hub_hoop_high_mpa: a.hub_hoop,
        hub_tresca_high_mpa: a.hub_tresca,
        shaft_bore_hoop_high_mpa: a.shaft_bore_hoop,
        stop_force_n: a.stop_force,
        removal_low_n: a.removal.0,
        removal_high_n: a.removal.1,
        service_delta_eff_mid_um: a.service_delta_eff_mid,
        hoop_mpa: a.stress.hoop,
        hub_yield_share: a.stress.hub_share,
        shaft_yield_share: a.stress.shaft_share,
        stress_call: a.stress.call.name(),
    })
}

computation! {
    /// Clearance left in a bearing once both rings are fitted.
    fit_clearance_left = "fit.clearance_left";
    formula "left = group - growth of the inner raceway - closing of the outer one - alpha dT D_e";
    source "Lamé, as in DIN 7190-1:2017; Harris and Kotzalas, Essential Concepts of Bearing Technology, chapter Interference Fitting and Clearance";
    holds "even interference all round; the rings are taken as plain cylinders to their raceways";
    takes {
        /// bore
        d_mm: Positive;
        /// outside
        outer_mm: Positive;
        /// inner raceway
        inner_raceway_mm: Positive;
        /// outer raceway
        outer_raceway_mm: Positive;
        /// bore of a hollow shaft
        [assumed] shaft_bore_mm: NotNegative = 0.0;
        /// outside of the housing
        [assumed] housing_outside_mm: Option<Positive> = "thick";
        /// shaft
        [assumed] shaft_material: Matter = Material::CarbonSteel;
        /// housing
        [assumed] housing_material: Matter = Material::GreyIron;
        /// smallest interference on the shaft
        shaft_delta_min_um: Number;
        /// largest
        shaft_delta_max_um: Number;
        /// smallest interference in the housing
        housing_delta_min_um: Number;
        /// largest
        housing_delta_max_um: Number;
        /// smallest clearance of the group
        clearance_min_um: Number;
        /// largest
        clearance_max_um: Number;
        /// how much hotter the inner ring runs
        [assumed] inner_hotter_k: Number = 0.0;
        /// finish of the seat
        [assumed "ground" "turned"] finish: Word = "ground";
        /// runs preloaded on purpose
        preload_meant: Flag = false;
    }
    gives {
        /// growth of the inner raceway, least
        growth_min_um: Micrometres;
        /// growth of the inner raceway, most
        growth_max_um: Micrometres;
        /// closing of the outer raceway, least
        closing_min_um: Micrometres;
        /// closing of the outer raceway, most
        closing_max_um: Micrometres;
        /// taken by heat
        heat_um: Micrometres;
        /// left, least
        left_min_um: Micrometres;
        /// left, most
        left_max_um: Micrometres;
        /// left, mean
        left_mean_um: Micrometres;
        /// judgement
        ["go" "look_again" "stop"] call: &'static str;
        /// large: above the group's upper half
        ["large" ""] remark: &'static str;
    }
    limits {
        "inner ring more than 30 K hotter than the outer: 5 to 10 K are typical, look for the cause" => |i, _| i.inner_hotter_k > 30.0;
        "the sum takes the interference in an outer ring for even all round: a split or thin housing makes it oval" => |i, _| i.housing_outside_mm.is_some_and(|h| h < 1.2 * i.outer_mm);
    }
    example r#"{"d_mm": 40, "outer_mm": 80, "inner_raceway_mm": 48, "outer_raceway_mm": 72, "shaft_delta_min_um": 2, "shaft_delta_max_um": 30, "housing_delta_min_um": 0, "housing_delta_max_um": 0, "clearance_min_um": 6, "clearance_max_um": 20}"#;
}

fn fit_clearance_left(i: &fit_clearance_left::Takes) -> Result<fit_clearance_left::Gives> {
    let range = |lo, hi| (Micrometres(lo), Micrometres(hi));
    let mm = Millimetres;
    let c = clearance_left(&FittedBearing {
        d: mm(i.d_mm),
        inner_raceway: mm(i.inner_raceway_mm),
        outer_raceway: mm(i.outer_raceway_mm),
        outer: mm(i.outer_mm),
        shaft_bore: mm(i.shaft_bore_mm),
        housing_outside: i.housing_outside_mm.map(Millimetres),
        shaft: i.shaft_material,
        housing: i.housing_material,
        shaft_delta: range(i.shaft_delta_min_um, i.shaft_delta_max_um),
        housing_delta: range(i.housing_delta_min_um, i.housing_delta_max_um),
        clearance: range(i.clearance_min_um, i.clearance_max_um),
        inner_hotter: Kelvins(i.inner_hotter_k),
        finish: finish(&i.finish),
        preload_meant: i.preload_meant,
    })?;
    Ok(fit_clearance_left::Gives {
        growth_min_um: c.growth.0,
        growth_max_um: c.growth.1,
        closing_min_um: c.closing.0,
        closing_max_um: c.closing.1,
        heat_um: c.heat,
        left_min_um: c.left.0,
        left_max_um: c.left.1,
        left_mean_um: c.mean,
        call: match c.call {
            ClearanceCall::Go => "go",
            ClearanceCall::LookAgain => "look_again",
            ClearanceCall::Stop => "stop",
        },
        remark: if c.large { "large" } else { "" },
    })
}

fn finish(word: &str) -> Finish {
    if word == "turned" { Finish::Turned } else { Finish::Ground }
}
