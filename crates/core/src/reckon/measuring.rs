//! Names under "numbers and parts" of the contract.

use super::Entry;
use super::declare::{
    Flag, Grid, List, Matter, NotNegative, Number, Numbers, Positive, Text, Word, computation, takes,
};
use crate::fit::designation::{self, Arrangement, BearingType, Seals};
use crate::fit::{Material, iso286, rings};
use crate::instrument::{Candidate, Capability, Judgement, Limits, capable, decide_with, judge};
use crate::journal_sheet::{Feature, grid};
use crate::quantity::{Celsius, Micrometres, Millimetres, parse_length};
use crate::readings;
use crate::refusal::{Refusal, Result, expect};

pub(super) static ENTRIES: [&Entry; 10] = [
    &length_parse::ENTRY,
    &iso_limits::ENTRY,
    &bearing_read::ENTRY,
    &bearing_clearance::ENTRY,
    &ring_tolerance::ENTRY,
    &repeat::ENTRY,
    &at_twenty::ENTRY,
    &judge_value::ENTRY,
    &gauge_capable::ENTRY,
    &journal_grid::ENTRY,
];

computation! {
    /// Reads a length as people type it.
    length_parse = "length.parse";
    formula "number x unit; a signed text with a nominal is nominal + it";
    source "common workshop notation; 1 in = 25.4 mm by ISO 80000-1";
    holds "one length in one text; feet and compound units are not read";
    takes {
        /// what was typed
        text: Text;
        /// unit when none is typed: mm, um, in, thou, mil, tenth
        [assumed] unit: Text = "mm";
        /// with it, a signed text is a deviation
        nominal_mm: Option<Number>;
        /// with it, slips by 10, 25.4 and 1000 are found
        expect_mm: Option<Number>;
    }
    gives {
        /// the length
        value_mm: Millimetres;
        /// whether it was read as a deviation from the nominal
        deviation: bool;
        /// how many times too large it looks, 10, 25.4, 1000 or one over them
        suspect_factor: Option<f64>;
        /// the value without that factor
        did_you_mean_mm: Option<Millimetres>;
    }
    example r#"{"text": "2-3/16 in"}"#;
}

fn length_parse(i: &length_parse::Takes) -> Result<length_parse::Gives> {
    let unit = i.unit.as_str();
    let p = parse_length(&i.text, unit, i.nominal_mm.map(Millimetres), i.expect_mm.map(Millimetres))?;
    Ok(length_parse::Gives {
        value_mm: p.value,
        deviation: p.deviation,
        suspect_factor: p.suspicion.map(|s| s.factor),
        did_you_mean_mm: p.suspicion.map(|s| s.did_you_mean),
    })
}

computation! {
    /// Limits of a tolerance class at a size.
    iso_limits = "iso286.limits";
    formula "table of IT grades and fundamental deviations; holes ES = -ei + Delta";
    source "ISO 286-1:2010, tables 1 to 3";
    holds "nominal sizes above 0 to 500 mm and the classes of the table; other classes are refused";
    takes {
        /// nominal size
        nominal_mm: Number;
        /// class such as k6 or H7
        class: Text;
    }
    gives {
        /// what the class is for
        ["shaft" "hole"] kind: &'static str;
        /// lower deviation
        lower_um: Micrometres;
        /// upper deviation
        upper_um: Micrometres;
        /// tolerance
        it_um: Micrometres;
        /// smallest size
        min_mm: Millimetres;
        /// largest size
        max_mm: Millimetres;
    }
    example r#"{"nominal_mm": 40, "class": "k6"}"#;
}

fn iso_limits(i: &iso_limits::Takes) -> Result<iso_limits::Gives> {
    let l = iso286::limits(Millimetres(i.nominal_mm), &i.class)?;
    Ok(iso_limits::Gives {
        kind: match l.kind {
            iso286::ShaftOrHole::Shaft => "shaft",
            iso286::ShaftOrHole::Hole => "hole",
        },
        lower_um: l.lower,
        upper_um: l.upper,
        it_um: l.it,
        min_mm: l.min,
        max_mm: l.max,
    })
}

computation! {
    /// Reads a bearing designation.
    bearing_read = "bearing.read";
    formula "tables of boundary dimensions; pitch (d + D)/2, ball 0.30 (D - d), raceways pitch -+ ball, shoulders pitch -+ 0.6 ball as estimates";
    source "ISO 15:2017, ISO 355:2019, ISO 104:2015 (boundary dimensions); inside sizes by the proportions of common series";
    holds "metric series of the table; inside sizes are proportions, good to some 5 %";
    takes {
        /// what is written on the bearing
        designation: Text;
    }
    gives {
        /// type
        ["deep_groove" "angular_contact" "cylindrical_roller" "taper_roller" "thrust_ball" "self_aligning_ball" "spherical_roller"] r#type: BearingType;
        /// bore
        d_mm: Millimetres;
        /// outside
        outer_mm: Millimetres;
        /// width, height of a thrust bearing
        width_mm: Millimetres;
        /// closure
        ["open" "sealed_one" "sealed_both" "shielded_one" "shielded_both" "unknown"] seals: Seals;
        /// clearance group
        ["N" "2" "3" "4" "5"] clearance: String;
        /// tolerance class
        ["normal" "6" "5" "4" "2"] class: String;
        /// arrangement
        ["single" "DB" "DF" "DT"] arrangement: &'static str;
        /// contact angle
        angle_deg: Option<f64>;
        /// pitch circle, estimated
        pitch_mm: Option<Millimetres>;
        /// ball, estimated
        ball_mm: Option<Millimetres>;
        /// inner raceway, estimated
        inner_raceway_mm: Option<Millimetres>;
        /// outer raceway, estimated
        outer_raceway_mm: Option<Millimetres>;
        /// inner shoulder, estimated
        inner_shoulder_mm: Option<Millimetres>;
        /// outer shoulder, estimated
        outer_shoulder_mm: Option<Millimetres>;
        /// whether any of these was estimated
        estimated: bool;
        /// suffixes that are not understood
        other: Vec<String>;
    }
    limits {
        "pitch, ball, raceways and shoulders are estimated from bore and outside: measured ones are better" => |_, a| a.estimated;
        "some suffixes are not understood: see the maker's catalogue" => |_, a| !a.other.is_empty();
    }
    example r#"{"designation": "6208-2RS C3"}"#;
}

fn bearing_read(i: &bearing_read::Takes) -> Result<bearing_read::Gives> {
    let b = designation::read(&i.designation)?;
    let inside = |f: fn(&designation::Inside) -> Millimetres| b.inside.as_ref().map(f);
    let arrangement = match b.arrangement {
        Arrangement::Single => "single",
        Arrangement::DB => "DB",
        Arrangement::DF => "DF",
        Arrangement::DT => "DT",
    };
    Ok(bearing_read::Gives {
        r#type: b.kind,
        d_mm: b.d,
        outer_mm: b.outer,
        width_mm: b.width,
        seals: b.seals,
        clearance: b.clearance,
        class: b.class,
        arrangement,
        angle_deg: b.angle_deg,
        pitch_mm: inside(|x| x.pitch),
        ball_mm: inside(|x| x.ball),
        inner_raceway_mm: inside(|x| x.inner_raceway),
        outer_raceway_mm: inside(|x| x.outer_raceway),
        inner_shoulder_mm: inside(|x| x.inner_shoulder),
        outer_shoulder_mm: inside(|x| x.outer_shoulder),
        estimated: b.inside.is_some(),
        other: b.other,
    })
}

computation! {
    /// Internal radial clearance of a group before fitting.
    bearing_clearance = "bearing.clearance";
    formula "table";
    source "ISO 5753-1:2009, tables 1 to 3";
    holds "cylindrical bores of the listed types and sizes";
    takes {
        /// type of bearing
        ["deep_groove" "cylindrical_roller" "self_aligning_ball"] r#type: Word;
        /// bore
        d_mm: Number;
        /// clearance group: 2 N 3 4 5
        group: Text;
    }
    gives {
        /// clearance, least
        min_um: Micrometres;
        /// clearance, most
        max_um: Micrometres;
    }
    example r#"{"type": "deep_groove", "d_mm": 40, "group": "3"}"#;
}

fn bearing_clearance(i: &bearing_clearance::Takes) -> Result<bearing_clearance::Gives> {
    let kind = match i.r#type.as_str() {
        "cylindrical_roller" => rings::ClearanceKind::CylindricalRoller,
        "self_aligning_ball" => rings::ClearanceKind::SelfAligningBall,
        _ => rings::ClearanceKind::DeepGroove,
    };
    let (min, max) = rings::clearance(kind, Millimetres(i.d_mm), &i.group)?;
    Ok(bearing_clearance::Gives { min_um: min, max_um: max })
}

computation! {
    /// Mean diameter deviation of a bearing ring.
    ring_tolerance = "bearing.ring_tolerance";
    formula "table";
    source "ISO 492:2014, tables for radial bearings";
    holds "mean diameter of radial bearings, single values may lie outside";
    takes {
        /// which ring
        ["inner" "outer"] ring: Word;
        /// bore or outside
        diameter_mm: Number;
        /// tolerance class: normal 6 5 4 2
        class: Text;
    }
    gives {
        /// lower deviation
        lower_um: Micrometres;
        /// upper deviation, 0
        upper_um: f64;
    }
    example r#"{"ring": "inner", "diameter_mm": 40, "class": "6"}"#;
}

fn ring_tolerance(i: &ring_tolerance::Takes) -> Result<ring_tolerance::Gives> {
    let ring = if i.ring == "outer" { rings::Ring::Outer } else { rings::Ring::Inner };
    let lower = rings::ring_tolerance(ring, Millimetres(i.diameter_mm), &i.class)?;
    Ok(ring_tolerance::Gives { lower_um: lower, upper_um: 0.0 })
}

takes! {
    /// An instrument that could decide.
    pub(crate) struct InstrumentIn {
        /// as the shop calls it
        name: Text;
        /// its expanded uncertainty
        u: NotNegative;
        /// what using it costs
        cost: Number;
    }
}

computation! {
    /// Repeated readings of one size: what they say, and whether the set-up moves.
    repeat = "readings.repeat";
    formula "mean; largest - smallest; root of the sum of squares over n - 1";
    source "JCGM 100:2008, type A";
    holds "the same place, read again from the start each time";
    takes {
        /// readings
        readings_mm: Numbers;
        /// uncertainty of the instrument
        [assumed] u_mm: NotNegative = 0.003;
    }
    gives {
        /// mean
        mean_mm: f64;
        /// largest less smallest
        range_um: f64;
        /// standard deviation of one reading
        deviation_um: Option<f64>;
        /// judgement
        ["go" "look_again"] call: &'static str;
    }
    example r#"{"readings_mm": [40.012, 40.013, 40.011]}"#;
}

fn repeat(i: &repeat::Takes) -> Result<repeat::Gives> {
    let r = readings::repeats(&i.readings_mm, i.u_mm)
        .map_err(|e| if e.field == "readings" { Refusal::new("readings_mm", e.message) } else { e })?;
    Ok(repeat::Gives {
        mean_mm: r.mean,
        range_um: r.range * 1000.0,
        deviation_um: r.deviation.map(|d| d * 1000.0),
        call: if r.moves { "look_again" } else { "go" },
    })
}

computation! {
    /// A length that was read warm, brought to 20 °C.
    at_twenty = "length.at_twenty";
    formula "L20 = L (1 - alpha (T - 20) + alpha gauge (T gauge - 20))";
    source "ISO 1:2022, reference temperature; linear expansion";
    holds "part and gauge each warm all through; a gauge of steel";
    takes {
        /// length as read
        read_mm: Positive;
        /// part
        part_c: Number;
        /// gauge
        [assumed] gauge_c: Number = 20.0;
        /// material of the part
        [assumed] material: Matter = Material::CarbonSteel;
        /// tolerance that it is judged by
        tolerance_um: Positive;
    }
    gives {
        /// length at 20 °C
        length_mm: f64;
        /// added
        added_um: f64;
        /// judgement
        ["go" "look_again"] call: &'static str;
    }
    example r#"{"read_mm": 100.0115, "part_c": 30, "tolerance_um": 22}"#;
}

fn at_twenty(i: &at_twenty::Takes) -> Result<at_twenty::Gives> {
    for (field, t) in [("part_c", i.part_c), ("gauge_c", i.gauge_c)] {
        expect((-60.0..=400.0).contains(&t), field, "expected a temperature of -60 to 400 °C")?;
    }
    let (part, gauge, tolerance) = (Celsius(i.part_c), Celsius(i.gauge_c), Micrometres(i.tolerance_um));
    let a = readings::at_twenty(Millimetres(i.read_mm), i.material, part, gauge, tolerance);
    Ok(at_twenty::Gives {
        length_mm: a.length.0,
        added_um: a.correction.0,
        call: if a.matters { "look_again" } else { "go" },
    })
}

computation! {
    /// Judges a value against limits with the guard band.
    judge_value = "judge";
    formula "conforming: lo + u <= value <= hi - u; not conforming: value < lo - u or > hi + u";
    source "ISO 14253-1:2017";
    holds "errors of the instrument are normal and its uncertainty is stated at k = 2";
    takes {
        /// what was read
        value: Number;
        /// lower limit
        lo: Option<Number>;
        /// upper limit
        hi: Option<Number>;
        /// expanded uncertainty, k = 2
        [assumed] u: Number = 0.0;
        /// false: simple acceptance
        [assumed] guard: Flag = true;
        /// instruments in the shop
        instruments: List<InstrumentIn> = [];
    }
    gives {
        /// judgement
        ["conforming" "not_conforming" "undecided"] call: &'static str;
        /// to the nearest limit, negative outside
        margin: f64;
        /// cheapest instrument that could decide
        decide_with: Option<String>;
    }
    example r#"{"value": 40.0021, "lo": 40.002, "hi": 40.018, "u": 0.003, "instruments": [{"name": "comparator", "u": 0.00005, "cost": 5}]}"#;
}

fn judge_value(i: &judge_value::Takes) -> Result<judge_value::Gives> {
    let limits = Limits::new(i.lo, i.hi)?;
    let value = i.value;
    let given = i.u;
    let u = if i.guard || given < 0.0 { given } else { 0.0 };
    let call = judge(value, &limits, u)?;
    let list: Vec<Candidate> =
        i.instruments.iter().map(|c| Candidate { name: c.name.to_owned(), u: c.u, cost: c.cost }).collect();
    let better = (call == Judgement::Undecided).then(|| decide_with(value, &limits, &list)).flatten();
    Ok(judge_value::Gives {
        call: call.name(),
        margin: limits.margin(value),
        decide_with: better.map(|c| c.name.clone()),
    })
}

computation! {
    /// Whether an instrument is good enough for a tolerance.
    gauge_capable = "gauge.capable";
    formula "ratio = u/(hi - lo); ideal to 0.1, good to 0.25";
    source "JCGM 106:2012, measurement capability; the tenth and the quarter are shop practice";
    holds "one characteristic with two limits";
    takes {
        /// lower limit
        lo: Number;
        /// upper limit
        hi: Number;
        /// expanded uncertainty
        u: Number;
    }
    gives {
        /// uncertainty over tolerance
        ratio: f64;
        /// judgement
        ["ideal" "good" "not_good"] call: &'static str;
    }
    example r#"{"lo": 0, "hi": 16, "u": 3}"#;
}

fn gauge_capable(i: &gauge_capable::Takes) -> Result<gauge_capable::Gives> {
    let (ratio, call) = capable(i.lo, i.hi, i.u)?;
    Ok(gauge_capable::Gives {
        ratio,
        call: match call {
            Capability::Ideal => "ideal",
            Capability::Good => "good",
            Capability::NotGood => "not_good",
        },
    })
}

computation! {
    /// Size and form of a journal or bore from a grid of readings.
    journal_grid = "journal.grid";
    formula "roundness (max - min)/2 per station; taper last row - first; barrel middle - mean of the ends";
    source "ISO 12180-1:2011 and ISO 12181-1:2011, terms; two-point diameters";
    holds "two-point diameters: an odd number of lobes is not seen";
    takes {
        /// one row per station from end A
        readings_mm: Grid;
        /// journal or bore
        [assumed "journal" "bore"] kind: Word = "journal";
        /// uncertainty of a reading
        [assumed] u_um: NotNegative = 3.0;
    }
    gives {
        /// smallest
        min_mm: Millimetres;
        /// largest
        max_mm: Millimetres;
        /// mean
        mean_mm: Millimetres;
        /// two-point roundness per station
        roundness_um: Vec<Micrometres>;
        /// last station - first
        taper_um: Option<Micrometres>;
        /// middle - ends
        barrel_um: Option<Micrometres>;
        /// shape
        ["straight" "barrel" "hourglass" "bellmouth"] shape: Option<&'static str>;
        /// bound of the cylindricity
        cylindricity_um: Micrometres;
    }
    limits {
        "a two-point reading cannot see an odd number of lobes: if the ring turns rough, check in a vee or on centres" => |i, a| a.roundness_um.iter().all(|r| r.0 <= i.u_um);
    }
    example r#"{"readings_mm": [[40.010, 40.011], [40.012, 40.012], [40.010, 40.010]]}"#;
}

fn journal_grid(i: &journal_grid::Takes) -> Result<journal_grid::Gives> {
    let rows = &i.readings_mm;
    let surface = if i.kind == "bore" { Feature::Bore } else { Feature::Journal };
    let g = grid(rows, surface, Micrometres(i.u_um))?;
    Ok(journal_grid::Gives {
        min_mm: g.min,
        max_mm: g.max,
        mean_mm: g.mean,
        roundness_um: g.roundness,
        taper_um: g.taper,
        barrel_um: g.barrel,
        shape: g.shape.map(|s| s.name()),
        cylindricity_um: g.cylindricity,
    })
}
