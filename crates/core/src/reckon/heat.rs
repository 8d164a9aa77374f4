//! Names for heating, cooling and oil pressure.

use super::Entry;
use super::declare::{Flag, Matter, NotNegative, Number, Positive, Text, Word, computation};
use crate::fit::Material;
use crate::fit::heat::{
    COLD, Cage, Cooling, SEALED_CAP, STEEL_J_KGK, STILL_AIR_W_M2K, default_slide, grip_temperature, heat_target,
    raised_cap, weakest_cap,
};
use crate::fit::hydraulic;
use crate::quantity::{Celsius, Megapascals, Micrometres, Millimetres, Newtons, Seconds};
use crate::refusal::{Refusal, Result, expect};

pub(super) static ENTRIES: [&Entry; 5] = [
    &heat_target_named::ENTRY,
    &heat_cooling::ENTRY,
    &hydraulic_named::ENTRY,
    &drive_up_named::ENTRY,
    &frees_named::ENTRY,
];

computation! {
    /// How hot a ring must be, and may be, to slide on.
    heat_target_named = "heat.target";
    formula "T = T_shaft + (delta_max + slide)/(alpha d)";
    source "linear expansion; caps by what greases, cages and ring steels bear, as makers state them";
    holds "even warmth through the ring";
    takes {
        /// bore
        d_mm: Positive;
        /// largest interference
        delta_max_um: Number;
        /// shaft
        [assumed] shaft_c: Number = 20.0;
        /// what is heated
        [assumed] material: Matter = Material::BearingSteel;
        /// slide clearance
        [assumed] slide_um: Option<NotNegative> = "larger of 10 and 0.5 per mm";
        /// cage
        [assumed "steel" "brass" "polyamide" "phenolic" "none"] cage: Word = "steel";
        /// greased and closed, or not known to be open
        [assumed] sealed: Flag = false;
        /// tolerance class
        [assumed "normal" "6" "5" "4" "2"] class: Word = "normal";
        /// another cap
        cap_c: Option<Number>;
        /// reason for a higher cap
        reason: Text = "";
    }
    gives {
        /// slide clearance
        slide_um: Micrometres;
        /// needed
        needed_c: Celsius;
        /// cap of the weakest item
        cap_c: Celsius;
        /// heat to this
        target_c: Celsius;
        /// whether the cap lets it slide
        enough: bool;
        /// interference left to press
        remaining_um: Micrometres;
    }
    limits {
        "over 120 °C for longer than minutes changes a bearing ring" => |i, a| i.material == Material::BearingSteel && a.target_c.0 > 120.0;
    }
    example r#"{"d_mm": 40, "delta_max_um": 25}"#;
}

fn heat_target_named(i: &heat_target_named::Takes) -> Result<heat_target_named::Gives> {
    let d = Millimetres(i.d_mm);
    let (weakest, _) = weakest_cap(Cage::of(&i.cage).unwrap_or_default(), i.sealed, &i.class, SEALED_CAP);
    let cap = match i.cap_c {
        Some(c) => raised_cap(Celsius(c), weakest, i.sealed, &i.reason)?,
        None => weakest,
    };
    let slide = i.slide_um.map_or_else(|| default_slide(d), Micrometres);
    let h = heat_target(d, Micrometres(i.delta_max_um), Celsius(i.shaft_c), i.material, slide, cap)?;
    Ok(heat_target_named::Gives {
        slide_um: h.slide,
        needed_c: h.needed,
        cap_c: h.cap,
        target_c: h.target,
        enough: h.enough,
        remaining_um: h.remaining,
    })
}

computation! {
    /// How fast a heated ring cools and when it grips.
    heat_cooling = "heat.cooling";
    formula "T(t) = T_env + (T0 - T_env) exp(-t/tau); tau = m c/(h A)";
    source "Newton's law of cooling; Incropera, Fundamentals of Heat and Mass Transfer, chapter Transient Conduction, lumped capacitance";
    holds "still air, one body of one temperature, below 250 °C";
    takes {
        /// room
        env_c: Number;
        /// first reading
        first_c: Number;
        /// its time
        first_s: Number = 0.0;
        /// second reading
        second_c: Option<Number>;
        /// its time
        second_s: Option<Number>;
        /// mass, instead of a second reading
        mass_g: Option<Positive>;
        /// surface, with the mass
        area_mm2: Option<Positive>;
        /// heat transfer
        [assumed] h_w_m2k: Positive = STILL_AIR_W_M2K;
        /// specific heat
        [assumed] c_j_kgk: Positive = STEEL_J_KGK;
        /// temperature to wait for
        target_c: Option<Number>;
        /// bore, with its interference
        d_mm: Option<Positive>;
        /// interference, with the bore
        delta_um: Option<Number>;
        /// shaft
        [assumed] shaft_c: Option<Number> = "the room";
        /// ring
        [assumed] material: Matter = Material::BearingSteel;
    }
    gives {
        /// time constant
        tau_s: Seconds;
        /// until the target
        target_s: Option<Seconds>;
        /// temperature at which the bore grips
        grip_c: Option<Celsius>;
        /// as hot as it is now it is wider than the shaft
        goes_on: Option<bool>;
        /// seconds before it grips; 0 when it does not go on
        grip_s: Option<Seconds>;
        /// until within 5 K of the shaft
        near_shaft_s: Option<Seconds>;
    }
    limits {
        "above 250 °C radiation makes it cool faster than reckoned" => |i, _| i.first_c > 250.0;
        "on the shaft the ring cools faster than in air: count on fewer seconds" => |_, a| a.grip_s.is_some();
    }
    example r#"{"env_c": 20, "first_c": 110, "second_c": 95, "second_s": 60, "d_mm": 40, "delta_um": 25}"#;
}

fn heat_cooling(i: &heat_cooling::Takes) -> Result<heat_cooling::Gives> {
    let (env, first) = (Celsius(i.env_c), Celsius(i.first_c));
    expect(first.0 > env.0, "first_c", "expected the ring to be warmer than the room to cool")?;
    let readings = i.second_c.is_some() || i.second_s.is_some();
    let mass = i.mass_g.is_some() || i.area_mm2.is_some();
    expect(readings != mass, "second_c", "expected either a second reading with its time, or mass and area")?;
    let second = together(("second_c", i.second_c), ("second_s", i.second_s))?;
    let body = together(("mass_g", i.mass_g), ("area_mm2", i.area_mm2))?;
    let joint = together(("d_mm", i.d_mm), ("delta_um", i.delta_um))?;
    let c = match (second, body) {
        (Some((c, s)), _) => Cooling::from_readings(env, first, Celsius(c), Seconds(s - i.first_s))?,
        (_, Some((mass, area))) => Cooling::from_mass(env, first, mass, area, i.h_w_m2k, i.c_j_kgk)?,
        _ => return Err(Refusal::new("second_c", "expected a second reading, or mass and area")),
    };
    let shaft = i.shaft_c.map_or(env, Celsius);
    let grip = joint.map(|(d, delta)| grip_temperature(Millimetres(d), Micrometres(delta), shaft, i.material));
    Ok(heat_cooling::Gives {
        tau_s: c.tau,
        target_s: i.target_c.and_then(|t| c.until(Celsius(t))),
        grip_c: grip,
        goes_on: grip.map(|g| first.0 > g.0),
        grip_s: grip.and_then(|g| if first.0 > g.0 { c.until(g) } else { Some(Seconds(0.0)) }),
        near_shaft_s: c.until(shaft + COLD),
    })
}

computation! {
    /// Pressures, push and drive-up of a collar or coupling expanded by oil.
    hydraulic_named = "fit.hydraulic";
    formula "p = Lamé; expansion = margin p, at most yield (1 - (d/D)2)/2; push = pi d L p (mu + taper/2); drive-up = delta/taper";
    source "DIN 7190-1:2017, oil-pressure joints; Lamé";
    holds "a thick cylinder of one material without grooves and holes; the maker's pressures come first";
    takes {
        /// mean diameter of the joint
        d_mm: Positive;
        /// outside of the hub
        hub_outside_mm: Positive;
        /// bore of a hollow shaft
        shaft_bore_mm: NotNegative = 0.0;
        /// length of the joint
        length_mm: Positive;
        /// interference when home
        delta_um: NotNegative;
        /// hub
        [assumed] hub_material: Matter = Material::CarbonSteel;
        /// shaft
        [assumed] shaft_material: Matter = Material::CarbonSteel;
        /// yield of the hub
        [assumed] hub_yield_mpa: Option<Positive> = "of its material";
        /// diameter per length, up to 0.2; 1:30 is 0.0333
        [assumed] taper: Option<NotNegative> = "0: a cylinder";
        /// expansion over contact pressure
        [assumed] margin: Positive = 1.1;
        /// friction on the oil film
        [assumed] mu: NotNegative = 0.02;
    }
    gives {
        /// contact pressure when home
        contact_mpa: Megapascals;
        /// expansion pressure that is needed
        expansion_mpa: Megapascals;
        /// the hub's bore yields above it
        expansion_limit_mpa: Megapascals;
        /// axial force at the end of the push
        push_n: Newtons;
        /// way from first contact, on a taper
        drive_up_mm: Option<Millimetres>;
        /// hold the push so long once the expansion pressure is off
        hold_min: f64;
        /// stop where the hub would yield
        ["go" "stop"] call: &'static str;
    }
    example r#"{"d_mm": 120, "hub_outside_mm": 260, "length_mm": 90, "delta_um": 120, "taper": 0.033333333}"#;
}

fn hydraulic_named(i: &hydraulic_named::Takes) -> Result<hydraulic_named::Gives> {
    let hub = i.hub_material;
    let a = hydraulic::oil(&hydraulic::OilFit {
        d: Millimetres(i.d_mm),
        hub_outside: Millimetres(i.hub_outside_mm),
        shaft_bore: Millimetres(i.shaft_bore_mm),
        length: Millimetres(i.length_mm),
        delta: Micrometres(i.delta_um),
        hub,
        shaft: i.shaft_material,
        taper: i.taper.unwrap_or(0.0),
        margin: i.margin,
        mu: i.mu,
        yield_mpa: Megapascals(i.hub_yield_mpa.unwrap_or(hub.yield_mpa())),
    })
    .map_err(|r| if r.field == "yield_mpa" { Refusal::new("hub_yield_mpa", r.message) } else { r })?;
    Ok(hydraulic_named::Gives {
        contact_mpa: a.contact,
        expansion_mpa: a.expansion,
        expansion_limit_mpa: a.expansion_limit,
        push_n: a.push,
        drive_up_mm: a.drive_up,
        hold_min: hydraulic::HOLD_MIN as f64,
        call: if a.possible { "go" } else { "stop" },
    })
}

computation! {
    /// How far a bearing with a tapered bore is driven up for a wanted loss of clearance.
    drive_up_named = "fit.drive_up";
    formula "delta = loss/(k (1 - k0²)/(1 - k² k0²)); way = (delta + smoothing)/taper";
    source "Lamé, equal steels; ISO 5753-1:2009 for the clearance before";
    holds "first contact is felt at an even seat; the clearance left, by feeler, decides";
    takes {
        /// mean bore
        d_mm: Positive;
        /// inner raceway
        raceway_mm: Positive;
        /// bore of a hollow shaft
        shaft_bore_mm: NotNegative = 0.0;
        /// diameter per length, up to 0.2
        [assumed] taper: Option<Positive> = "1:12";
        /// radial clearance before
        clearance_um: NotNegative;
        /// wanted loss of it
        loss_um: NotNegative;
        /// what smoothing of the surfaces costs, on diameter
        [assumed] smoothing_um: NotNegative = 10.0;
    }
    gives {
        /// axial way from first contact
        way_mm: Millimetres;
        /// interference that it makes
        delta_um: Micrometres;
        /// radial clearance that is left, to be proved by feeler
        left_um: Micrometres;
    }
    example r#"{"d_mm": 100, "raceway_mm": 122, "clearance_um": 75, "loss_um": 45}"#;
}

fn drive_up_named(i: &drive_up_named::Takes) -> Result<drive_up_named::Gives> {
    let a = hydraulic::drive_up(
        Millimetres(i.d_mm),
        Millimetres(i.raceway_mm),
        Millimetres(i.shaft_bore_mm),
        i.taper.unwrap_or(1.0 / 12.0),
        Micrometres(i.clearance_um),
        Micrometres(i.loss_um),
        Micrometres(i.smoothing_um),
    )?;
    Ok(drive_up_named::Gives { way_mm: a.way, delta_um: a.delta, left_um: a.left })
}

computation! {
    /// How much warmer a housing frees an outer ring.
    frees_named = "heat.frees";
    formula "dT = delta/((alpha housing - alpha ring) D), where both warm together";
    source "linear expansion";
    holds "ring and housing warm together and evenly";
    takes {
        /// outside of the ring
        outer_mm: Positive;
        /// interference in the housing
        delta_um: NotNegative;
        /// housing
        [assumed] housing_material: Matter = Material::Aluminium;
        /// ring
        [assumed] ring_material: Matter = Material::BearingSteel;
    }
    gives {
        /// warmer than the shop by this
        frees_k: Option<f64>;
    }
    limits {
        "the ring grows as much as the housing: warming both frees nothing, keep the ring cold" => |_, a| a.frees_k.is_none();
    }
    example r#"{"outer_mm": 80, "delta_um": 30}"#;
}

fn frees_named(i: &frees_named::Takes) -> Result<frees_named::Gives> {
    let k = hydraulic::frees_at(Millimetres(i.outer_mm), Micrometres(i.delta_um), i.housing_material, i.ring_material);
    Ok(frees_named::Gives { frees_k: k.map(|k| k.0) })
}

/// Two fields that belong together: both or none.
fn together(a: (&'static str, Option<f64>), b: (&'static str, Option<f64>)) -> Result<Option<(f64, f64)>> {
    match (a.1, b.1) {
        (Some(_), None) => Err(Refusal::new(b.0, format!("{} belongs to {}: give both", b.0, a.0))),
        (None, Some(_)) => Err(Refusal::new(a.0, format!("{} belongs to {}: give both", a.0, b.0))),
        (x, y) => Ok(x.zip(y)),
    }
}
