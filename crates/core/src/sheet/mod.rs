//! Sheets: cells in the order in which hands move, and what a typed reading becomes.

mod declared;
mod filled;
mod table;

pub use declared::{Declared, Expect, Family, Given, Label, Outcome, Place, Reads, read_place};
pub use filled::Filled;
pub use table::SHEETS;

use crate::anatomy::SeatFacts;
use crate::quantity::{Millimetres, Units, parse_length};
use crate::reckon::HEADLINES;
use crate::refusal::{Refusal, Result};
use crate::terms::Surface;
use serde::{Deserialize, Serialize};

/// Stations of a grid.
pub const STATIONS: usize = 3;
/// Planes of a grid, 45° apart.
pub const PLANES: [char; 4] = ['A', 'B', 'C', 'D'];

/// Kind of sheet.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum SheetKind {
    /// A grid over one surface of the seat.
    Grid(Surface),
    /// Feeler at four places, depth at three.
    Home,
}

impl SheetKind {
    /// All sheets of a bearing seat, in the order of the work.
    pub const ALL: [Self; 5] = [
        Self::Grid(Surface::Journal),
        Self::Grid(Surface::RingBore),
        Self::Grid(Surface::HousingBore),
        Self::Grid(Surface::RingOutside),
        Self::Home,
    ];

    /// Name in records.
    #[must_use]
    pub fn key(self) -> &'static str {
        match self {
            Self::Grid(Surface::Journal) => "journal",
            Self::Grid(Surface::RingBore) => "ring_bore",
            Self::Grid(Surface::HousingBore) => "housing_bore",
            Self::Grid(Surface::RingOutside) => "ring_outside",
            Self::Home => "home",
        }
    }
    /// From its name in records.
    #[must_use]
    pub fn of(key: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|k| k.key() == key)
    }

    /// The cells, in the order in which hands move.
    #[must_use]
    pub fn cells(self) -> Vec<Cell> {
        match self {
            Self::Grid(_) => (1..=STATIONS)
                .flat_map(|s| {
                    PLANES.map(|p| Cell {
                        key: format!("{p}{s}"),
                        takes: Takes::Size,
                        label: format!("plane {}, {}", plane(p), station(s)),
                    })
                })
                .collect(),
            Self::Home => ["0°", "90°", "180°", "270°"]
                .iter()
                .map(|a| Cell {
                    key: format!("F{}", a.trim_end_matches('°')),
                    takes: Takes::Feeler,
                    label: format!("feeler at {a}"),
                })
                .chain(["0°", "120°", "240°"].iter().map(|a| Cell {
                    key: format!("D{}", a.trim_end_matches('°')),
                    takes: Takes::Depth,
                    label: format!("depth at {a}"),
                }))
                .collect(),
        }
    }
}

/// How a plane is said: 1 to 4, since letters are the ends'.
#[must_use]
pub fn plane(key: char) -> usize {
    PLANES.iter().position(|p| *p == key).map_or(0, |k| k + 1)
}

/// How a station is said.
#[must_use]
pub fn station(s: usize) -> &'static str {
    match s {
        1 => "end A side",
        2 => "middle",
        _ => "end B side",
    }
}

/// What a cell takes.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Takes {
    /// A size near the nominal.
    Size,
    /// A depth near the drawing's.
    Depth,
    /// Yes or no: does it go in?
    Feeler,
}

/// One place to read.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Cell {
    /// `A1` to `D3`; `F90`, `D120`.
    pub key: String,
    /// What it takes.
    pub takes: Takes,
    /// As said: `plane 3, middle`.
    pub label: String,
}

/// What became of a typed text.
#[derive(Debug, Clone, PartialEq)]
pub enum Reading {
    /// A length, or 1 and 0 for a feeler that goes in or not.
    Value(f64),
    /// Ten, 25.4 or 1000 times off: ask, do not store.
    DidYouMean {
        /// What was typed, in mm.
        typed: Millimetres,
        /// What was probably meant.
        meant: Millimetres,
        /// How many times too large.
        factor: f64,
    },
    /// A slip of the hand that makes a likely size of it: asked before it is stored.
    Perhaps {
        /// What was typed.
        typed: Millimetres,
        /// What was probably meant.
        meant: Millimetres,
        /// What happened.
        slip: Slip,
    },
    /// Further off than any wear: store only when the person is sure.
    FarOff {
        /// What was typed.
        typed: Millimetres,
        /// What the cell expects.
        nominal: Millimetres,
    },
}

/// What the hand did.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Slip {
    /// The thimble was read one turn off: 0.5 mm, or 0.025 in.
    OneTurn,
    /// Only the last digits were typed: micrometres or tenths of a thou over the nominal.
    LastDigits,
}

/// How near to a turn of the thimble a reading lies that is one turn off: wear and tolerance together.
const NEAR_A_TURN: f64 = 0.06;
/// Last digits are at most so many: beyond them a whole number is a size.
const LAST_DIGITS: f64 = 300.0;

/// What was probably meant, when that is a likely size and what was typed is none.
fn slipped(text: &str, value: f64, units: Units, nominal: f64) -> Option<(f64, Slip)> {
    let (turn, last) = match units {
        Units::Metric => (0.5, 0.001),
        Units::Inch => (0.025 * 25.4, 0.0001 * 25.4),
    };
    let off = value - nominal;
    if (off.abs() - turn).abs() <= NEAR_A_TURN {
        return Some((value - turn.copysign(off), Slip::OneTurn));
    }
    // A whole number with no unit, with or without its sign.
    let plain = text.trim().replace('−', "-");
    let digits = plain.strip_prefix(['+', '-']).unwrap_or(&plain).trim();
    let whole: f64 = digits.parse().ok().filter(|_| digits.bytes().all(|b| b.is_ascii_digit()))?;
    // Without a sign it may be a worn size, unless it is nowhere near.
    let far = off.abs() > if digits == plain { 0.25 * nominal } else { 0.5 };
    let far = far && whole > 0.0 && whole <= LAST_DIGITS;
    let sign = if plain.starts_with('-') { -1.0 } else { 1.0 };
    (far && last * whole < 0.02 * nominal).then_some((nominal + sign * whole * last, Slip::LastDigits))
}

/// Reads what was typed into a cell.
///
/// A signed number is a deviation from the nominal. `sure` stores a value that is far off (over 2 % and 0.5 mm) or one
/// turn of the thimble off, but never one that is a slip of the unit.
///
/// # Errors
/// Field `text`, with what was expected.
///
/// ```
/// use ironseat_core::quantity::{Millimetres, Units};
/// use ironseat_core::sheet::{read, Reading, Takes};
/// let nominal = Millimetres::of(40.0);
/// assert_eq!(read(Takes::Size, "+12 um", Units::Metric, nominal, false)?, Reading::Value(40.012));
/// assert!(matches!(read(Takes::Size, "1.5753", Units::Metric, nominal, false)?, Reading::DidYouMean { .. }));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
pub fn read(takes: Takes, text: &str, units: Units, nominal: Millimetres, sure: bool) -> Result<Reading> {
    if takes == Takes::Feeler {
        return match text.trim().to_lowercase().as_str() {
            "in" | "yes" | "y" | "1" | "goes in" => Ok(Reading::Value(1.0)),
            "out" | "no" | "n" | "0" | "stays out" => Ok(Reading::Value(0.0)),
            _ => Err(Refusal::new(
                "text",
                "expected “out” when the feeler stays out, “in” when it goes in (0 and 1 will do)",
            )),
        };
    }
    let p = parse_length(text, units.sheet_unit(), Some(nominal), Some(nominal))?;
    if let Some(s) = p.suspicion {
        return Ok(Reading::DidYouMean { typed: p.value, meant: s.did_you_mean, factor: s.factor });
    }
    let slip = slipped(text, p.value.0, units, nominal.0);
    if let Some((meant, slip)) = slip.filter(|s| !(sure && s.1 == Slip::OneTurn)) {
        return Ok(Reading::Perhaps { typed: p.value, meant: Millimetres(meant), slip });
    }
    if p.value.0 <= 0.0 {
        return Err(Refusal::new(
            "text",
            "a size is above 0; a deviation is typed with its sign in front and stays small, such as -0.003",
        ));
    }
    let off = (p.value.0 - nominal.0).abs();
    if off > 0.5 && off > 0.02 * nominal.0 && !sure {
        return Ok(Reading::FarOff { typed: p.value, nominal });
    }
    Ok(Reading::Value(p.value.0))
}

/// The size a sheet's length cells lie near.
#[must_use]
pub fn nominal(kind: SheetKind, facts: &SeatFacts) -> Millimetres {
    match kind {
        SheetKind::Grid(Surface::Journal | Surface::RingBore) => facts.bearing.d,
        SheetKind::Grid(Surface::HousingBore | Surface::RingOutside) => facts.bearing.outer,
        SheetKind::Home => facts.seat.depth.expected_mm,
    }
}

/// Readings of a grid as rows of stations, from (cell key, value).
#[must_use]
pub fn rows(readings: &[(String, f64)]) -> Vec<Vec<Option<f64>>> {
    let find = |key: String| readings.iter().find(|(k, _)| *k == key).map(|(_, v)| *v);
    (1..=STATIONS).map(|s| PLANES.iter().map(|p| find(format!("{p}{s}"))).collect()).collect()
}

/// What the next cell of a grid will read: the station so far, else the station before; with how far it may be off.
#[must_use]
pub fn foretell(rows: &[Vec<Option<f64>>], station: usize, u_mm: f64) -> Option<(Millimetres, Millimetres)> {
    let row = |i: usize| -> Vec<f64> { rows[i].iter().flatten().copied().collect() };
    let basis = (0..=station).rev().map(row).find(|r| !r.is_empty())?;
    let all: Vec<f64> = rows.iter().flatten().flatten().copied().collect();
    let mean = basis.iter().sum::<f64>() / basis.len() as f64;
    let spread = all.iter().fold(0.0f64, |s, v| s.max((v - mean).abs()));
    Some((Millimetres(mean), Millimetres(spread.max(u_mm))))
}

/// Figures that an answer begins with, in the order in which they are asked for; nothing where they stand in the right
/// order already.
///
/// ```
/// assert_eq!(ironseat_core::sheet::headline("heat.cooling")[0], "grip_s");
/// ```
#[must_use]
pub fn headline(name: &str) -> &'static [&'static str] {
    let sheet = SHEETS.iter().find(|d| d.name == name).map(|d| d.headline);
    sheet.or_else(|| HEADLINES.iter().find(|l| l.0 == name).map(|l| l.1)).unwrap_or(&[])
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn slips_are_asked_about_and_nonsense_is_refused() {
        let n = Millimetres::of(40.0);
        let read = |t: &str, u| read(Takes::Size, t, u, n, false);
        for (text, units) in [
            ("400.12", Units::Metric),
            ("4.0012", Units::Metric),
            ("1.5753", Units::Metric),
            ("40.012", Units::Inch),
            ("40012", Units::Metric),
        ] {
            assert!(
                matches!(read(text, units), Ok(Reading::DidYouMean { meant, .. }) if (meant.get() - 40.01).abs() < 0.02),
                "{text}"
            );
        }
        for (text, units, value) in [
            ("40.012", Units::Metric, 40.012),
            ("1.5753", Units::Inch, 40.01262),
            ("40,012", Units::Metric, 40.012),
            ("+0.012", Units::Metric, 40.012),
            ("40.012 mm", Units::Inch, 40.012),
            ("1-37/64 in", Units::Metric, 40.084375),
        ] {
            assert!(
                matches!(read(text, units), Ok(Reading::Value(v)) if (v - value).abs() < 1e-6),
                "{text}: {:?}",
                read(text, units)
            );
        }
        for text in
            ["", "snug", "1.2.3", "1e400", "-40.012", "<script>alert(1)</script>", &"9".repeat(10_000), "nan", "inf"]
        {
            assert_eq!(read(text, Units::Metric).expect_err(text).field, "text", "{text}");
        }
        assert!(matches!(read("41.6", Units::Metric), Ok(Reading::FarOff { .. })));
        assert_eq!(super::read(Takes::Size, "41.6", Units::Metric, n, true), Ok(Reading::Value(41.6)));
    }

    proptest! {
        #[test]
        fn what_is_shown_can_be_typed_again(v in 39.57f64..40.43, inch: bool) {
            let units = if inch { Units::Inch } else { Units::Metric };
            let (number, _) = crate::quantity::show::size(Millimetres::of(v), Millimetres::of(0.0001), units);
            let Ok(Reading::Value(back)) = read(Takes::Size, &number, units, Millimetres::of(40.0), false) else { panic!("{number}") };
            prop_assert!((back - v).abs() < 0.0002);
        }

        #[test]
        fn nothing_typed_makes_it_panic(text in "\\PC{0,80}") {
            let _ = read(Takes::Size, &text, Units::Metric, Millimetres::of(40.0), false);
        }
    }
}
