//! Reading what is written on a bearing: `6208-2RS C3`, `7010 15 P4 DB`, `NU 212`, `30208`.

use super::sizes::{self as t, Size};
use crate::quantity::Millimetres;
use crate::refusal::{Refusal, Result};
use serde::{Deserialize, Serialize};

/// Type of bearing.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum BearingType {
    DeepGroove,
    AngularContact,
    CylindricalRoller,
    TaperRoller,
    ThrustBall,
    SelfAligningBall,
    SphericalRoller,
}

/// Seals or shields.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Seals {
    Open,
    SealedOne,
    SealedBoth,
    ShieldedOne,
    ShieldedBoth,
    /// Something on it was not understood: it may be closed.
    Unknown,
}

impl Seals {
    /// Closed by a seal or shield, or not known to be open: limits the heat.
    #[must_use]
    pub fn greased(self) -> bool {
        self != Self::Open
    }
    /// What a person says who has looked, with what it means.
    pub const SAID: [(&'static str, Self); 3] =
        [("open", Self::Open), ("shielded", Self::ShieldedBoth), ("sealed", Self::SealedBoth)];
}

/// Set of two, if any.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub enum Arrangement {
    #[serde(rename = "single")]
    Single,
    DB,
    DF,
    DT,
}

/// Inside sizes, estimated from the boundary (docs/trade.md, Fits and heat).
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Inside {
    /// Pitch circle, (d + D)/2.
    pub pitch: Millimetres,
    /// Ball, 0.30·(D - d); 0.25 for angular contact of series 10 and 19.
    pub ball: Millimetres,
    /// Inner raceway, pitch - ball.
    pub inner_raceway: Millimetres,
    /// Outer raceway, pitch + ball.
    pub outer_raceway: Millimetres,
    /// Inner shoulder d1, pitch - 0.6·ball.
    pub inner_shoulder: Millimetres,
    /// Outer shoulder D1, pitch + 0.6·ball.
    pub outer_shoulder: Millimetres,
}

/// A designation, understood.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct Bearing {
    pub kind: BearingType,
    pub d: Millimetres,
    pub outer: Millimetres,
    /// Width; a taper's whole width T, a thrust bearing's height.
    pub width: Millimetres,
    pub seals: Seals,
    /// Clearance group: N, 2, 3, 4, 5.
    pub clearance: String,
    /// Tolerance class: normal, 6, 5, 4, 2.
    pub class: String,
    pub arrangement: Arrangement,
    /// Contact angle of an angular-contact bearing, when written.
    pub angle_deg: Option<f64>,
    /// Estimated inside, for deep groove and angular contact.
    pub inside: Option<Inside>,
    /// Suffixes that were not understood, capitals.
    pub other: Vec<String>,
}

fn unknown(text: &str) -> Refusal {
    let shown: String = text.trim().chars().take(24).collect();
    Refusal::new(
        "designation",
        format!(
            "“{shown}” is not a bearing I know: expected a number such as 6208-2RS C3, 7010 15 P4 DB, NU 212 or 30208"
        ),
    )
}

/// Reads a designation. Case is not heeded; blanks, hyphens and slashes separate.
///
/// ```
/// use ironseat_core::fit::designation::{read, Seals};
/// let b = read("6208-2RS C3")?;
/// assert_eq!((b.d.get(), b.outer.get(), b.width.get(), b.seals), (40.0, 80.0, 18.0, Seals::SealedBoth));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `designation`, when the number is of no known series or size.
pub fn read(text: &str) -> Result<Bearing> {
    if text.len() > 80 {
        return Err(unknown(text));
    }
    let upper = text.trim().to_uppercase();
    let separator = |c: char| c.is_whitespace() || c == '-' || c == '/';
    let letters = upper.find(|c: char| !c.is_ascii_alphabetic()).unwrap_or(upper.len());
    let (prefix, rest) = upper.split_at(letters);
    let rest = rest.trim_start_matches(separator);
    let digits = rest.find(|c: char| !c.is_ascii_digit()).unwrap_or(rest.len());
    let (number, suffixes) = rest.split_at(digits);
    let (kind, (d, outer, width), fine) = size(prefix, number).ok_or_else(|| unknown(text))?;

    let mut bearing = Bearing {
        kind,
        d: Millimetres(d),
        outer: Millimetres(outer),
        width: Millimetres(width),
        seals: Seals::Open,
        clearance: "N".into(),
        class: "normal".into(),
        arrangement: Arrangement::Single,
        angle_deg: None,
        inside: None,
        other: Vec::new(),
    };
    for token in suffixes.split(separator).filter(|t| !t.is_empty()) {
        match cut(token, kind) {
            Some(parts) => parts.iter().for_each(|p| apply(&mut bearing, p)),
            None => bearing.other.push(token.to_owned()),
        }
    }
    if !bearing.other.is_empty() && bearing.seals == Seals::Open {
        bearing.seals = Seals::Unknown;
    }
    if matches!(kind, BearingType::DeepGroove | BearingType::AngularContact) {
        let pitch = (d + outer) / 2.0;
        let ball = if fine { 0.25 } else { 0.30 } * (outer - d);
        bearing.inside = Some(Inside {
            pitch: Millimetres(pitch),
            ball: Millimetres(ball),
            inner_raceway: Millimetres(pitch - ball),
            outer_raceway: Millimetres(pitch + ball),
            inner_shoulder: Millimetres(pitch - 0.6 * ball),
            outer_shoulder: Millimetres(pitch + 0.6 * ball),
        });
    }
    Ok(bearing)
}

/// Type, size, and whether balls are the smaller ones of a thin angular-contact series.
fn size(prefix: &str, number: &str) -> Option<(BearingType, Size, bool)> {
    use BearingType as B;
    if number.len() < 3 {
        return None;
    }
    let (series, code) = number.split_at(number.len() - 2);
    let roller = matches!(prefix, "N" | "NU" | "NJ" | "NUP");
    if !prefix.is_empty() && !roller {
        return None;
    }
    let small = |table: &[Size]| -> Option<Size> {
        let bore: f64 = number[2..].parse().ok()?;
        table.iter().find(|s| s.0 == bore).copied()
    };
    if !roller && number.len() == 3 {
        return match &number[..2] {
            "60" => Some((B::DeepGroove, small(&t::SMALL_60)?, false)),
            "62" => Some((B::DeepGroove, small(&t::SMALL_62)?, false)),
            _ => None,
        };
    }
    let (kind, table, fine): (B, &[Size], bool) = match (roller, series) {
        (true, "2") => (B::CylindricalRoller, &t::S02, false),
        (true, "3") => (B::CylindricalRoller, &t::S03, false),
        (true, "10") => (B::CylindricalRoller, &t::S10, false),
        (true, _) => return None,
        (_, "60") => (B::DeepGroove, &t::S10, false),
        (_, "62") => (B::DeepGroove, &t::S02, false),
        (_, "63") => (B::DeepGroove, &t::S03, false),
        (_, "64") => (B::DeepGroove, &t::S04, false),
        (_, "618") => (B::DeepGroove, &t::S18, false),
        (_, "619") => (B::DeepGroove, &t::S19, false),
        (_, "70") => (B::AngularContact, &t::S10, true),
        (_, "72") => (B::AngularContact, &t::S02, false),
        (_, "73") => (B::AngularContact, &t::S03, false),
        (_, "719") => (B::AngularContact, &t::S19, true),
        (_, "302") => (B::TaperRoller, &t::T302, false),
        (_, "303") => (B::TaperRoller, &t::T303, false),
        (_, "320") => (B::TaperRoller, &t::T320, false),
        (_, "322") => (B::TaperRoller, &t::T322, false),
        (_, "511") => (B::ThrustBall, &t::H511, false),
        (_, "512") => (B::ThrustBall, &t::H512, false),
        (_, "222") => (B::SphericalRoller, &t::S22, false),
        (_, "12") => (B::SelfAligningBall, &t::S02, false),
        (_, "13") => (B::SelfAligningBall, &t::S03, false),
        _ => return None,
    };
    let bore = match code {
        "00" => 10.0,
        "01" => 12.0,
        "02" => 15.0,
        "03" => 17.0,
        c => c.parse::<f64>().ok()? * 5.0,
    };
    Some((kind, *table.iter().find(|s| s.0 == bore)?, fine))
}

/// Cuts a glued token into known suffixes, longest first with a way back; none when a rest stays.
fn cut(token: &str, kind: BearingType) -> Option<Vec<&'static str>> {
    // The last ones say nothing about seals: cages, inner design, taper bore, groove and snap ring, lubrication holes.
    const COMMON: [&str; 29] = [
        "2RS1", "2RS", "RS", "2Z", "ZZ", "Z", "C2", "C3", "C4", "C5", "CN", "P6", "P5", "P4", "P2", "DB", "DF", "DT",
        "W33", "MA", "MB", "M", "TN", "J", "EC", "E", "NR", "N", "K",
    ];
    const ANGULAR: [&str; 6] = ["15", "25", "40", "AC", "C", "B"];
    if token.is_empty() {
        return Some(Vec::new());
    }
    let taper: &[&str] = if kind == BearingType::TaperRoller { &["X"] } else { &[] };
    let angular: &[&str] = if kind == BearingType::AngularContact { &ANGULAR } else { &[] };
    COMMON.iter().chain(angular).chain(taper).copied().find_map(|known| {
        let mut rest = cut(token.strip_prefix(known)?, kind)?;
        rest.insert(0, known);
        Some(rest)
    })
}

fn apply(b: &mut Bearing, suffix: &str) {
    match suffix {
        "2RS1" | "2RS" => b.seals = Seals::SealedBoth,
        "RS" => b.seals = Seals::SealedOne,
        "2Z" | "ZZ" => b.seals = Seals::ShieldedBoth,
        "Z" => b.seals = Seals::ShieldedOne,
        "15" | "C" => b.angle_deg = Some(15.0),
        "25" | "AC" => b.angle_deg = Some(25.0),
        "40" | "B" => b.angle_deg = Some(40.0),
        "DB" => b.arrangement = Arrangement::DB,
        "DF" => b.arrangement = Arrangement::DF,
        "DT" => b.arrangement = Arrangement::DT,
        "W33" | "MA" | "MB" | "M" | "TN" | "J" | "EC" | "E" | "NR" | "N" | "K" => {}
        c if c.starts_with('C') => b.clearance = c[1..].to_owned(),
        p if p.starts_with('P') => b.class = p[1..].to_owned(),
        _ => {}
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn glued_suffixes_are_cut_apart() {
        for (text, seals, clearance, class) in [
            ("6208zzc3", Seals::ShieldedBoth, "3", "normal"),
            ("6208-2RS1/C4P6", Seals::SealedBoth, "4", "6"),
            ("6208 - - RS", Seals::SealedOne, "N", "normal"),
        ] {
            let b = read(text).expect(text);
            assert_eq!(
                (b.seals, b.clearance.as_str(), b.class.as_str(), b.other.len()),
                (seals, clearance, class, 0),
                "{text}"
            );
        }
        let pair = read("7010ACP4DB").expect("angular");
        assert_eq!((pair.angle_deg, pair.arrangement), (Some(25.0), Arrangement::DB));
    }

    #[test]
    fn sizes_rise_with_the_bore() {
        for table in [
            &t::S10[..],
            &t::S02,
            &t::S03,
            &t::S04,
            &t::S18,
            &t::S19,
            &t::T302,
            &t::T303,
            &t::T320,
            &t::T322,
            &t::H511,
            &t::H512,
            &t::S22,
        ] {
            assert!(
                table.windows(2).all(|w| w[0].0 < w[1].0 && w[0].1 < w[1].1 && w[0].2 <= w[1].2 + 0.3),
                "{table:?}"
            );
        }
    }

    proptest! {
        #[test]
        fn nothing_typed_makes_it_panic(text in "\\PC{0,40}") { let _ = read(&text); }
    }
}
