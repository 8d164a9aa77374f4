//! Names under "fits and heat" of the contract.

use super::input::{guess, may, need};
use super::output::{Gives, gives, limit, number, or_null};
use super::{Answer, Entry, Field, Input, Kind, answer};
use crate::fit::clearance::{ClearanceCall, FittedBearing, clearance_left};
use crate::fit::heat::{
    Cage, Cooling, STEEL_J_KGK, STILL_AIR_W_M2K, default_slide, grip_temperature, heat_target, raised_cap, weakest_cap,
};
use crate::fit::hydraulic;
use crate::fit::{Finish, Friction, Material, PressFit, School, press};
use crate::quantity::{Celsius, Kelvins, Megapascals, Micrometres, Millimetres, Seconds};
use crate::refusal::{Refusal, expect};

const FINISH: Field = guess("finish", Kind::Word(&["ground", "turned"]), "finish of the seat (ground)");

pub(super) static ENTRIES: [Entry; 7] = [
    Entry {
        name: "fit.press",
        purpose: "Pressure, force, growth and stress of a press fit.",
        formula: "p = delta_eff/(d ((1/Eo)((Do2 + d2)/(Do2 - d2) + nu_o) + (1/Ei)((d2 + di2)/(d2 - di2) - nu_i))); F = pi d x p mu",
        source: "Lamé; DIN 7190-1; handbook 03",
        fields: &[
            need("d_mm", Kind::Positive, "joint diameter"),
            need("hub_outside_mm", Kind::Positive, "outside of the hub; a ring's raceway"),
            guess("shaft_bore_mm", Kind::NotNegative, "bore of a hollow shaft (0)"),
            need("length_mm", Kind::Positive, "engaged length"),
            need("delta_min_um", Kind::Number, "smallest interference"),
            need("delta_max_um", Kind::Number, "largest interference"),
            guess("hub_material", Kind::Material, "outer part (bearing_steel)"),
            guess("shaft_material", Kind::Material, "inner part (carbon_steel)"),
            guess("school", Kind::Word(&["diameter", "roughness"]), "rule for the effective interference (diameter)"),
            FINISH,
            may("rz_inner_um", Kind::NotNegative, "Rz of the inner part, with roughness"),
            may("rz_outer_um", Kind::NotNegative, "Rz of the outer part, with roughness"),
            guess("lubricant", Kind::Word(&["oiled", "dry", "paste"]), "what is on the seat (oiled)"),
            may("mu_low", Kind::Positive, "lowest friction (from the lubricant)"),
            guess("mu_mid", Kind::Positive, "usual friction (from the lubricant: dry 0.15, oiled 0.12, paste 0.07)"),
            may("mu_high", Kind::Positive, "highest friction"),
            guess("ring_hotter_k", Kind::Number, "how much hotter the ring runs; below 0 it is colder and tighter (0)"),
            guess("hub_yield_mpa", Kind::Positive, "yield of the hub (of its material)"),
            guess("shaft_yield_mpa", Kind::Positive, "yield of the inner part (of its material)"),
        ],
        outputs: &[
            gives("delta_eff_low_um", Gives::Number, "effective interference, least"),
            gives("pressure_low_mpa", Gives::Number, "pressure, least"),
            gives("force_low_n", Gives::Number, "force, least"),
            gives("growth_low_um", Gives::Number, "growth of the hub's outside, least"),
            gives("delta_eff_mid_um", Gives::Number, "from the mean"),
            gives("pressure_mid_mpa", Gives::Number, "from the mean"),
            gives("force_mid_n", Gives::Number, "from the mean"),
            gives("growth_mid_um", Gives::Number, "from the mean"),
            gives("delta_eff_high_um", Gives::Number, "most"),
            gives("pressure_high_mpa", Gives::Number, "most"),
            gives("force_high_n", Gives::Number, "most"),
            gives("growth_high_um", Gives::Number, "most"),
            gives("hub_hoop_high_mpa", Gives::Number, "hoop stress at the hub's bore"),
            gives("hub_tresca_high_mpa", Gives::Number, "Tresca stress at the hub's bore"),
            or_null("shaft_bore_hoop_high_mpa", Gives::Number, "hoop stress at the bore of a hollow shaft"),
            gives("stop_force_n", Gives::Number, "stop pressing here"),
            gives("removal_low_n", Gives::Number, "pressing out, least"),
            gives("removal_high_n", Gives::Number, "pressing out, most"),
            gives("service_delta_eff_mid_um", Gives::Number, "what is left when the ring runs hotter"),
            gives("hoop_mpa", Gives::Number, "hoop stress at the hub's bore in service"),
            gives("hub_yield_share", Gives::Number, "Tresca stress of the hub over its yield"),
            gives("shaft_yield_share", Gives::Number, "of the inner part"),
            gives(
                "stress_call",
                Gives::Word(&["go", "warn", "stop"]),
                "warn from 0.7 of yield or 120 MPa in a hardened ring, stop beyond yield",
            ),
        ],
        limits: &[
            limit("Rz was given and not used: only the school “roughness” takes it off the interference", |i, _| {
                i.text("school", "diameter") == "diameter" && (i.has("rz_inner_um") || i.has("rz_outer_um"))
            }),
            limit("hoop stress over 120 MPa in a hardened ring: it may crack, ease the fit", |i, a| {
                i.text("hub_material", "bearing_steel") == "bearing_steel" && number(a, "hub_hoop_high_mpa").is_some_and(|h| h > 120.0)
            }),
            limit(
                "more than 2 µm of interference per mm of diameter: most materials yield there, and Lamé holds only while nothing yields",
                |i, a| number(a, "delta_eff_high_um").is_some_and(|d| d > 2.0 * i.num("d_mm", 1.0)),
            ),
            limit("ring thinner than a twentieth of the diameter: it takes up the shape of its seat", |i, _| {
                i.num("hub_outside_mm", 0.0) < 1.05 * i.num("d_mm", 1.0)
            }),
        ],
        example: r#"{"d_mm": 60, "hub_outside_mm": 74, "length_mm": 31, "delta_min_um": 25.4, "delta_max_um": 25.4, "shaft_material": "bearing_steel"}"#,
        compute: fit_press,
    },
    Entry {
        name: "fit.clearance_left",
        purpose: "Clearance left in a bearing once both rings are fitted.",
        formula: "left = group - growth of the inner raceway - closing of the outer one - alpha dT D_e",
        source: "Lamé; handbook 03",
        fields: &[
            need("d_mm", Kind::Positive, "bore"),
            need("outer_mm", Kind::Positive, "outside"),
            need("inner_raceway_mm", Kind::Positive, "inner raceway"),
            need("outer_raceway_mm", Kind::Positive, "outer raceway"),
            guess("shaft_bore_mm", Kind::NotNegative, "bore of a hollow shaft (0)"),
            guess("housing_outside_mm", Kind::Positive, "outside of the housing (thick)"),
            guess("shaft_material", Kind::Material, "shaft (carbon_steel)"),
            guess("housing_material", Kind::Material, "housing (grey_iron)"),
            need("shaft_delta_min_um", Kind::Number, "smallest interference on the shaft"),
            need("shaft_delta_max_um", Kind::Number, "largest"),
            need("housing_delta_min_um", Kind::Number, "smallest interference in the housing"),
            need("housing_delta_max_um", Kind::Number, "largest"),
            need("clearance_min_um", Kind::Number, "smallest clearance of the group"),
            need("clearance_max_um", Kind::Number, "largest"),
            guess("inner_hotter_k", Kind::Number, "how much hotter the inner ring runs (0)"),
            FINISH,
            may("preload_meant", Kind::Flag, "runs preloaded on purpose (false)"),
        ],
        outputs: &[
            gives("growth_min_um", Gives::Number, "growth of the inner raceway, least"),
            gives("growth_max_um", Gives::Number, "most"),
            gives("closing_min_um", Gives::Number, "closing of the outer raceway, least"),
            gives("closing_max_um", Gives::Number, "most"),
            gives("heat_um", Gives::Number, "taken by heat"),
            gives("left_min_um", Gives::Number, "left, least"),
            gives("left_max_um", Gives::Number, "left, most"),
            gives("left_mean_um", Gives::Number, "middle"),
            gives("call", Gives::Word(&["go", "look_again", "stop"]), "judgement"),
            gives("remark", Gives::Word(&["large", ""]), "large: above the group's upper half"),
        ],
        limits: &[
            limit("inner ring more than 30 K hotter than the outer: 5 to 10 K are typical, look for the cause", |i, _| {
                i.num("inner_hotter_k", 0.0) > 30.0
            }),
            limit("the sum takes the interference in an outer ring for even all round: a split or thin housing makes it oval", |i, _| {
                i.maybe("housing_outside_mm").is_some_and(|h| h < 1.2 * i.num("outer_mm", 1.0))
            }),
        ],
        example: r#"{"d_mm": 40, "outer_mm": 80, "inner_raceway_mm": 48, "outer_raceway_mm": 72, "shaft_delta_min_um": 2, "shaft_delta_max_um": 30, "housing_delta_min_um": 0, "housing_delta_max_um": 0, "clearance_min_um": 6, "clearance_max_um": 20}"#,
        compute: fit_clearance_left,
    },
    Entry {
        name: "heat.target",
        purpose: "How hot a ring must be, and may be, to slide on.",
        formula: "T = T_shaft + (delta_max + slide)/(alpha d)",
        source: "handbook 03",
        fields: &[
            need("d_mm", Kind::Positive, "bore"),
            need("delta_max_um", Kind::Number, "largest interference"),
            guess("shaft_c", Kind::Number, "shaft (20)"),
            guess("material", Kind::Material, "what is heated (bearing_steel)"),
            guess("slide_um", Kind::NotNegative, "slide clearance (larger of 10 and 0.5 per mm)"),
            guess("cage", Kind::Word(&["steel", "brass", "polyamide", "phenolic", "none"]), "cage (steel)"),
            guess("sealed", Kind::Flag, "greased and closed, or not known to be open (false)"),
            guess("class", Kind::Word(&["normal", "6", "5", "4", "2"]), "tolerance class (normal)"),
            may("cap_c", Kind::Number, "another cap"),
            may("reason", Kind::Text, "reason for a higher cap"),
        ],
        outputs: &[
            gives("slide_um", Gives::Number, "slide clearance"),
            gives("needed_c", Gives::Number, "needed"),
            gives("cap_c", Gives::Number, "cap of the weakest item"),
            gives("target_c", Gives::Number, "heat to this"),
            gives("enough", Gives::Flag, "whether the cap lets it slide"),
            gives("remaining_um", Gives::Number, "interference left to press"),
        ],
        limits: &[limit("over 120 °C for longer than minutes changes a bearing ring", |i, a| {
            i.text("material", "bearing_steel") == "bearing_steel" && number(a, "target_c").is_some_and(|t| t > 120.0)
        })],
        example: r#"{"d_mm": 40, "delta_max_um": 25}"#,
        compute: heat_target_named,
    },
    Entry {
        name: "heat.cooling",
        purpose: "How fast a heated ring cools and when it grips.",
        formula: "T(t) = T_env + (T0 - T_env) exp(-t/tau); tau = m c/(h A)",
        source: "Newton's cooling; handbook 03",
        fields: &[
            need("env_c", Kind::Number, "room"),
            need("first_c", Kind::Number, "first reading"),
            may("first_s", Kind::Number, "its time (0)"),
            may("second_c", Kind::Number, "second reading"),
            may("second_s", Kind::Number, "its time"),
            may("mass_g", Kind::Positive, "mass, instead of a second reading"),
            may("area_mm2", Kind::Positive, "surface, with the mass"),
            guess("h_w_m2k", Kind::Positive, "heat transfer (12)"),
            guess("c_j_kgk", Kind::Positive, "specific heat (470)"),
            may("target_c", Kind::Number, "temperature to wait for"),
            may("d_mm", Kind::Positive, "bore, with delta_um"),
            may("delta_um", Kind::Number, "interference, with d_mm"),
            guess("shaft_c", Kind::Number, "shaft (the room)"),
            guess("material", Kind::Material, "ring (bearing_steel)"),
        ],
        outputs: &[
            gives("tau_s", Gives::Number, "time constant"),
            or_null("target_s", Gives::Number, "until the target"),
            or_null("grip_c", Gives::Number, "temperature at which the bore grips"),
            or_null("goes_on", Gives::Flag, "as hot as it is now it is wider than the shaft"),
            or_null("grip_s", Gives::Number, "seconds before it grips; 0 when it does not go on"),
            or_null("near_shaft_s", Gives::Number, "until within 5 K of the shaft"),
        ],
        limits: &[
            limit("above 250 °C radiation makes it cool faster than reckoned", |i, _| i.num("first_c", 0.0) > 250.0),
            limit("on the shaft the ring cools faster than in air: count on fewer seconds", |_, a| number(a, "grip_s").is_some()),
        ],
        example: r#"{"env_c": 20, "first_c": 110, "second_c": 95, "second_s": 60, "d_mm": 40, "delta_um": 25}"#,
        compute: heat_cooling,
    },
    Entry {
        name: "fit.hydraulic",
        purpose: "Pressures, push and drive-up of a collar or coupling expanded by oil.",
        formula: "p = Lamé; expansion = margin p, at most yield (1 - (d/D)2)/2; push = pi d L p (mu + taper/2); drive-up = delta/taper",
        source: "Lamé; DIN 7190-1, oil-pressure joints",
        fields: &[
            need("d_mm", Kind::Positive, "mean diameter of the joint"),
            need("hub_outside_mm", Kind::Positive, "outside of the hub"),
            may("shaft_bore_mm", Kind::NotNegative, "bore of a hollow shaft (0)"),
            need("length_mm", Kind::Positive, "length of the joint"),
            need("delta_um", Kind::NotNegative, "interference when home"),
            guess("hub_material", Kind::Material, "hub (carbon_steel)"),
            guess("shaft_material", Kind::Material, "shaft (carbon_steel)"),
            guess("hub_yield_mpa", Kind::Positive, "yield of the hub (of its material)"),
            guess("taper", Kind::NotNegative, "diameter per length, up to 0.2; 1:30 is 0.0333 (0: a cylinder)"),
            guess("margin", Kind::Positive, "expansion over contact pressure (1.1)"),
            guess("mu", Kind::NotNegative, "friction on the oil film (0.02)"),
        ],
        outputs: &[
            gives("contact_mpa", Gives::Number, "contact pressure when home"),
            gives("expansion_mpa", Gives::Number, "expansion pressure that is needed"),
            gives("expansion_limit_mpa", Gives::Number, "the hub's bore yields above it"),
            gives("push_n", Gives::Number, "axial force at the end of the push"),
            or_null("drive_up_mm", Gives::Number, "way from first contact, on a taper"),
            gives("hold_min", Gives::Number, "hold the push so long once the expansion pressure is off"),
            gives("call", Gives::Word(&["go", "stop"]), "stop where the hub would yield"),
        ],
        limits: &[limit(
            "the maker's pressures come first: this is a thick cylinder of one material, without grooves and holes",
            |_, _| true,
        )],
        example: r#"{"d_mm": 120, "hub_outside_mm": 260, "length_mm": 90, "delta_um": 120, "taper": 0.033333333}"#,
        compute: hydraulic_named,
    },
    Entry {
        name: "fit.drive_up",
        purpose: "How far a bearing with a tapered bore is driven up for a wanted loss of clearance.",
        formula: "delta = loss/(k (1 - k0²)/(1 - k² k0²)); way = (delta + smoothing)/taper",
        source: "Lamé, equal steels",
        fields: &[
            need("d_mm", Kind::Positive, "mean bore"),
            need("raceway_mm", Kind::Positive, "inner raceway"),
            may("shaft_bore_mm", Kind::NotNegative, "bore of a hollow shaft (0)"),
            guess("taper", Kind::Positive, "diameter per length, up to 0.2 (1:12)"),
            need("clearance_um", Kind::NotNegative, "radial clearance before"),
            need("loss_um", Kind::NotNegative, "wanted loss of it"),
            guess("smoothing_um", Kind::NotNegative, "what smoothing of the surfaces costs, on diameter (10)"),
        ],
        outputs: &[
            gives("way_mm", Gives::Number, "axial way from first contact"),
            gives("delta_um", Gives::Number, "interference that it makes"),
            gives("left_um", Gives::Number, "radial clearance that is left, to be proved by feeler"),
        ],
        limits: &[limit("first contact is hard to feel: the clearance left, by feeler, decides and not the way", |_, _| true)],
        example: r#"{"d_mm": 100, "raceway_mm": 122, "clearance_um": 75, "loss_um": 45}"#,
        compute: drive_up_named,
    },
    Entry {
        name: "heat.frees",
        purpose: "How much warmer a housing frees an outer ring.",
        formula: "dT = delta/((alpha housing - alpha ring) D), where both warm together",
        source: "linear expansion",
        fields: &[
            need("outer_mm", Kind::Positive, "outside of the ring"),
            need("delta_um", Kind::NotNegative, "interference in the housing"),
            guess("housing_material", Kind::Material, "housing (aluminium)"),
            guess("ring_material", Kind::Material, "ring (bearing_steel)"),
        ],
        outputs: &[or_null("frees_k", Gives::Number, "warmer than the shop by this; null when the ring grows as much")],
        limits: &[limit("the ring grows as much as the housing: warming both frees nothing, keep the ring cold", |_, a| {
            a.get("frees_k").is_some_and(serde_json::Value::is_null)
        })],
        example: r#"{"outer_mm": 80, "delta_um": 30}"#,
        compute: frees_named,
    },
];

fn hydraulic_named(i: &Input) -> Answer {
    let hub = i.material("hub_material", Material::CarbonSteel);
    let a = hydraulic::oil(&hydraulic::OilFit {
        d: Millimetres(i.num("d_mm", 0.0)),
        hub_outside: Millimetres(i.num("hub_outside_mm", 0.0)),
        shaft_bore: Millimetres(i.num("shaft_bore_mm", 0.0)),
        length: Millimetres(i.num("length_mm", 0.0)),
        delta: Micrometres(i.num("delta_um", 0.0)),
        hub,
        shaft: i.material("shaft_material", Material::CarbonSteel),
        taper: i.num("taper", 0.0),
        margin: i.num("margin", 1.1),
        mu: i.num("mu", 0.02),
        yield_mpa: Megapascals(i.num("hub_yield_mpa", hub.yield_mpa())),
    })
    .map_err(|r| if r.field == "yield_mpa" { Refusal::new("hub_yield_mpa", r.message) } else { r })?;
    answer! {
        contact_mpa: a.contact, expansion_mpa: a.expansion, expansion_limit_mpa: a.expansion_limit, push_n: a.push,
        drive_up_mm: a.drive_up, hold_min: hydraulic::HOLD_MIN as f64, call: if a.possible { "go" } else { "stop" },
    }
}

fn drive_up_named(i: &Input) -> Answer {
    let um = |f, default| Micrometres(i.num(f, default));
    let a = hydraulic::drive_up(
        Millimetres(i.num("d_mm", 0.0)),
        Millimetres(i.num("raceway_mm", 0.0)),
        Millimetres(i.num("shaft_bore_mm", 0.0)),
        i.num("taper", 1.0 / 12.0),
        um("clearance_um", 0.0),
        um("loss_um", 0.0),
        um("smoothing_um", 10.0),
    )?;
    answer! { way_mm: a.way, delta_um: a.delta, left_um: a.left }
}

fn frees_named(i: &Input) -> Answer {
    let k = hydraulic::frees_at(
        Millimetres(i.num("outer_mm", 0.0)),
        Micrometres(i.num("delta_um", 0.0)),
        i.material("housing_material", Material::Aluminium),
        i.material("ring_material", Material::BearingSteel),
    );
    answer! { frees_k: k.map(|k| k.0) }
}

fn finish(i: &Input) -> Finish {
    if i.text("finish", "ground") == "turned" { Finish::Turned } else { Finish::Ground }
}

fn fit_press(i: &Input) -> Answer {
    let school = if i.text("school", "diameter") == "roughness" {
        for field in ["rz_inner_um", "rz_outer_um"] {
            expect(i.has(field), field, "the roughness school needs Rz of both surfaces")?;
        }
        School::Roughness { rz_inner: Micrometres(i.num("rz_inner_um", 0.0)), rz_outer: Micrometres(i.num("rz_outer_um", 0.0)) }
    } else {
        School::Diameter(finish(i))
    };
    let handbook = Friction::of(i.text("lubricant", "oiled")).unwrap_or(Friction::OILED);
    let a = press(&PressFit {
        d: Millimetres(i.num("d_mm", 0.0)),
        hub_outside: i.num("hub_outside_mm", 0.0),
        shaft_bore: Millimetres(i.num("shaft_bore_mm", 0.0)),
        length: Millimetres(i.num("length_mm", 0.0)),
        delta_min: Micrometres(i.num("delta_min_um", 0.0)),
        delta_max: Micrometres(i.num("delta_max_um", 0.0)),
        hub: i.material("hub_material", Material::BearingSteel),
        shaft: i.material("shaft_material", Material::CarbonSteel),
        school,
        friction: Friction {
            low: i.num("mu_low", handbook.low),
            mid: i.num("mu_mid", handbook.mid),
            high: i.num("mu_high", handbook.high),
        },
        ring_hotter: Kelvins(i.num("ring_hotter_k", 0.0)),
        yields: (i.maybe("hub_yield_mpa"), i.maybe("shaft_yield_mpa")),
    })?;
    answer! {
        delta_eff_low_um: a.low.delta_eff, pressure_low_mpa: a.low.pressure, force_low_n: a.low.force, growth_low_um: a.low.growth,
        delta_eff_mid_um: a.mid.delta_eff, pressure_mid_mpa: a.mid.pressure, force_mid_n: a.mid.force, growth_mid_um: a.mid.growth,
        delta_eff_high_um: a.high.delta_eff, pressure_high_mpa: a.high.pressure, force_high_n: a.high.force, growth_high_um: a.high.growth,
        hub_hoop_high_mpa: a.hub_hoop, hub_tresca_high_mpa: a.hub_tresca, shaft_bore_hoop_high_mpa: a.shaft_bore_hoop,
        stop_force_n: a.stop_force, removal_low_n: a.removal.0, removal_high_n: a.removal.1, service_delta_eff_mid_um: a.service_delta_eff_mid,
        hoop_mpa: a.stress.hoop, hub_yield_share: a.stress.hub_share, shaft_yield_share: a.stress.shaft_share, stress_call: a.stress.call.name(),
    }
}

fn fit_clearance_left(i: &Input) -> Answer {
    let range = |lo, hi| (Micrometres(i.num(lo, 0.0)), Micrometres(i.num(hi, 0.0)));
    let mm = |name| Millimetres(i.num(name, 0.0));
    let c = clearance_left(&FittedBearing {
        d: mm("d_mm"),
        inner_raceway: mm("inner_raceway_mm"),
        outer_raceway: mm("outer_raceway_mm"),
        outer: mm("outer_mm"),
        shaft_bore: mm("shaft_bore_mm"),
        housing_outside: i.maybe("housing_outside_mm").map(Millimetres),
        shaft: i.material("shaft_material", Material::CarbonSteel),
        housing: i.material("housing_material", Material::GreyIron),
        shaft_delta: range("shaft_delta_min_um", "shaft_delta_max_um"),
        housing_delta: range("housing_delta_min_um", "housing_delta_max_um"),
        clearance: range("clearance_min_um", "clearance_max_um"),
        inner_hotter: Kelvins(i.num("inner_hotter_k", 0.0)),
        finish: finish(i),
        preload_meant: i.flag("preload_meant", false),
    })?;
    answer! {
        growth_min_um: c.growth.0, growth_max_um: c.growth.1, closing_min_um: c.closing.0, closing_max_um: c.closing.1, heat_um: c.heat,
        left_min_um: c.left.0, left_max_um: c.left.1, left_mean_um: c.mean,
        call: match c.call { ClearanceCall::Go => "go", ClearanceCall::LookAgain => "look_again", ClearanceCall::Stop => "stop" },
        remark: if c.large { "large" } else { "" },
    }
}

fn heat_target_named(i: &Input) -> Answer {
    let d = Millimetres(i.num("d_mm", 0.0));
    let (weakest, _) = weakest_cap(
        Cage::of(i.text("cage", "steel")).unwrap_or_default(),
        i.flag("sealed", false),
        i.text("class", "normal"),
        Celsius(80.0),
    );
    let cap = match i.maybe("cap_c") {
        Some(c) => raised_cap(Celsius(c), weakest, i.flag("sealed", false), i.text("reason", ""))?,
        None => weakest,
    };
    let slide = i.maybe("slide_um").map_or_else(|| default_slide(d), Micrometres);
    let h = heat_target(
        d,
        Micrometres(i.num("delta_max_um", 0.0)),
        Celsius(i.num("shaft_c", 20.0)),
        i.material("material", Material::BearingSteel),
        slide,
        cap,
    )?;
    answer! { slide_um: h.slide, needed_c: h.needed, cap_c: h.cap, target_c: h.target, enough: h.enough, remaining_um: h.remaining }
}

fn heat_cooling(i: &Input) -> Answer {
    let (env, first) = (Celsius(i.num("env_c", 0.0)), Celsius(i.num("first_c", 0.0)));
    expect(first.0 > env.0, "first_c", "expected the ring to be warmer than the room to cool")?;
    let readings = i.has("second_c") || i.has("second_s");
    let mass = i.has("mass_g") || i.has("area_mm2");
    let together = |a: &'static str, b: &'static str| match (i.has(a), i.has(b)) {
        (true, false) => Err(Refusal::new(b, format!("{b} belongs to {a}: give both"))),
        (false, true) => Err(Refusal::new(a, format!("{a} belongs to {b}: give both"))),
        _ => Ok(()),
    };
    expect(readings != mass, "second_c", "expected either a second reading with its time, or mass and area")?;
    together("second_c", "second_s")?;
    together("mass_g", "area_mm2")?;
    together("d_mm", "delta_um")?;
    let start = i.num("first_s", 0.0);
    let c = if readings {
        Cooling::from_readings(env, first, Celsius(i.num("second_c", 0.0)), Seconds(i.num("second_s", 0.0) - start))?
    } else {
        Cooling::from_mass(
            env,
            first,
            i.num("mass_g", 0.0),
            i.num("area_mm2", 0.0),
            i.num("h_w_m2k", STILL_AIR_W_M2K),
            i.num("c_j_kgk", STEEL_J_KGK),
        )?
    };
    let shaft = Celsius(i.num("shaft_c", env.0));
    let grip = i.maybe("d_mm").map(|d| {
        grip_temperature(Millimetres(d), Micrometres(i.num("delta_um", 0.0)), shaft, i.material("material", Material::BearingSteel))
    });
    answer! {
        tau_s: c.tau,
        target_s: i.maybe("target_c").and_then(|t| c.until(Celsius(t))),
        grip_c: grip,
        goes_on: grip.map(|g| first.0 > g.0),
        grip_s: grip.and_then(|g| if first.0 > g.0 { c.until(g) } else { Some(Seconds(0.0)) }),
        near_shaft_s: c.until(shaft + Kelvins(5.0)),
    }
}
