//! What was foreseen beside what came: how far off, and how good a shop's forecasts are by their kind.

use crate::anatomy::FloatOf;
use crate::fit::Friction;
use crate::fit::learning::Belief;
use crate::reckon::reckon;
use crate::rules::{FITS_TO_LEARN, Learned, SeatLubricant};
use crate::run_in;
use serde_json::{Map, Value};

/// What is foreseen.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
#[allow(missing_docs)]
pub enum ForecastKind {
    Size,
    Sweep,
    Station,
    Repeat,
    Float,
    Force,
    Closing,
    Temperature,
    Preload,
}

impl ForecastKind {
    /// All, with how each is said and the field whose unit it has.
    pub const ALL: [(Self, &'static str, &'static str); 9] = [
        (Self::Size, "the next size on a surface", "off_um"),
        (Self::Sweep, "the next place of a sweep", "off_um"),
        (Self::Station, "the next station along a rotor", "off_um"),
        (Self::Repeat, "a reading taken once more", "off_um"),
        (Self::Float, "the float after its shim was changed", "off_um"),
        (Self::Force, "the force of a press", "off_n"),
        (Self::Closing, "the closing of a bush", "off_um"),
        (Self::Temperature, "the temperature at the end of a run-in", "off_k"),
        (Self::Preload, "the preload after the nut", "off_n"),
    ];
    /// As said.
    #[must_use]
    pub fn words(self) -> &'static str {
        Self::ALL.iter().find(|k| k.0 == self).map_or("", |k| k.1)
    }
    /// A name whose suffix says its unit.
    #[must_use]
    pub fn field(self) -> &'static str {
        Self::ALL.iter().find(|k| k.0 == self).map_or("", |k| k.2)
    }
}

/// One forecast and what came, in the unit of its kind.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Foreseen {
    /// What.
    pub kind: ForecastKind,
    /// What was foreseen.
    pub foreseen: f64,
    /// How far off it may be, where that was said.
    pub tolerance: Option<f64>,
    /// What came.
    pub came: f64,
}

impl Foreseen {
    /// How far off it was.
    #[must_use]
    pub fn off(&self) -> f64 {
        self.came - self.foreseen
    }
    /// It came further off than it was said that it may.
    #[must_use]
    pub fn beyond(&self) -> bool {
        self.tolerance.is_some_and(|g| self.off().abs() > g)
    }
}

/// A reading that had a forecast: of a seat's sheet in mm, or of a sheet of an act in the unit of its place.
#[must_use]
pub fn of_reading(sheet: Option<&str>, place: &str, foreseen: f64, came: f64) -> Option<Foreseen> {
    let field = place.rsplit('.').find(|p| p.contains('_')).unwrap_or("");
    let to_um = if field.ends_with("_um") { 1.0 } else { 1000.0 };
    let kind = match sheet {
        None => ForecastKind::Size,
        Some("runout.sweep" | "runout.face" | "runout.straightness") => ForecastKind::Sweep,
        Some("runout.stations") => ForecastKind::Station,
        Some(_) if field.ends_with("_um") || field.ends_with("_mm") => ForecastKind::Repeat,
        Some(_) => return None,
    };
    Some(Foreseen { kind, foreseen: foreseen * to_um, tolerance: None, came: came * to_um })
}

/// A float that was read again after its shim was changed: the middle of its window was foreseen.
#[must_use]
pub fn of_float(f: &FloatOf, came_mm: f64) -> Foreseen {
    let half = (f.hi_mm.0 - f.lo_mm.0) / 2.0;
    let um = |mm: f64| mm * 1000.0;
    Foreseen { kind: ForecastKind::Float, foreseen: um(f.middle().0), tolerance: Some(um(half)), came: um(came_mm) }
}

/// The force of a press, from what its trace was asked with and what it answered.
#[must_use]
pub fn of_trace(input: &Map<String, Value>, answer: &Map<String, Value>) -> Option<Foreseen> {
    let of = |m: &Map<String, Value>, k: &str| m.get(k)?.as_f64();
    let (lo, hi) = (of(input, "low_n")?, of(input, "high_n")?);
    let came = of(answer, "force_at_knee_n")?;
    Some(Foreseen {
        kind: ForecastKind::Force,
        foreseen: f64::midpoint(lo, hi),
        tolerance: Some((hi - lo) / 2.0),
        came,
    })
}

/// The end temperature of a run-in, as the first half of its log foretold it; none before the log has settled.
#[must_use]
pub fn of_run_in(input: &Map<String, Value>) -> Option<Foreseen> {
    let whole = input.get("log")?.as_array()?;
    let point = |p: &Value| Some((p["s"].as_f64()?, p["c"].as_f64()?));
    let began: Vec<f64> =
        input.get("began_s").and_then(Value::as_array).into_iter().flatten().filter_map(Value::as_f64).collect();
    // Of the present speed alone.
    let (_, since) = run_in::present(&whole.iter().map(point).collect::<Option<Vec<_>>>()?, &began);
    let log = whole.get(since..)?;
    let of = |part: &[Value]| {
        let mut asked = input.clone();
        asked.insert("log".into(), part.into());
        asked.remove("began_s");
        reckon("runin.step", &Value::Object(asked).to_string()).ok()
    };
    let settled = of(log)?["rise_k"].as_f64().is_some_and(|r| r.abs() < 1.0);
    let foreseen = of(&log[..log.len() / 2])?["end_c"].as_f64().filter(|_| settled)?;
    Some(Foreseen { kind: ForecastKind::Temperature, foreseen, tolerance: None, came: log.last()?["c"].as_f64()? })
}

/// How good forecasts of a kind are.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Record {
    pub kind: ForecastKind,
    pub count: usize,
    /// Mean of what came less what was foreseen: off to one side.
    pub mean: f64,
    /// Standard deviation around that mean; none of one.
    pub spread: Option<f64>,
    /// Half of them were off by less than this.
    pub half: f64,
}

impl Record {
    /// Beyond this it is asked what happened: three standard deviations from the mean; none before there are eight.
    #[must_use]
    pub fn beyond(&self) -> Option<f64> {
        self.spread.filter(|_| self.count >= 8).map(|s| 3.0 * s)
    }
    /// Whether a forecast of this kind was off by more than the others are.
    #[must_use]
    pub fn stands_out(&self, f: &Foreseen) -> bool {
        let far = self.beyond().is_some_and(|b| (f.off() - self.mean).abs() > b.max(1e-9));
        f.kind == self.kind && (far || f.beyond())
    }
}

/// The record of each kind that there is something of. Source: mean and standard deviation of the differences.
///
/// ```
/// use ironseat_core::foreseen::{ForecastKind, Foreseen, records};
/// let f = |came| Foreseen { kind: ForecastKind::Force, foreseen: 9000.0, tolerance: None, came };
/// let r = records(&[f(9100.0), f(9300.0)])[0];
/// assert_eq!((r.count, r.mean, r.half), (2, 200.0, 200.0));
/// ```
#[must_use]
pub fn records(list: &[Foreseen]) -> Vec<Record> {
    ForecastKind::ALL
        .iter()
        .filter_map(|(kind, ..)| {
            let mut off: Vec<f64> = list.iter().filter(|f| f.kind == *kind).map(Foreseen::off).collect();
            let n = off.len() as f64;
            let mean = off.iter().sum::<f64>() / n;
            let spread =
                (off.len() > 1).then(|| (off.iter().map(|o| (o - mean).powi(2)).sum::<f64>() / (n - 1.0)).sqrt());
            off.iter_mut().for_each(|o| *o = o.abs());
            off.sort_by(f64::total_cmp);
            let middle = off.len() / 2;
            let half = match off.len() % 2 {
                _ if off.is_empty() => return None,
                0 => f64::midpoint(off[middle - 1], off[middle]),
                _ => off[middle],
            };
            Some(Record { kind: *kind, count: off.len(), mean, spread, half })
        })
        .collect()
}

/// What the shop's own presses say of its friction: the usual figure moved by each of them. None before there are
/// enough; a friction that no press fit has is left out.
#[must_use]
pub fn learn(lubricant: SeatLubricant, mu: &[f64]) -> (Friction, Option<Learned>) {
    let belief = mu.iter().fold(Belief::usual(lubricant.friction()), |b, m| b.learn(*m).unwrap_or(b));
    let f = belief.friction();
    let round = |v: f64| (v * 1e4).round() / 1e4;
    let own = Learned { lubricant, low: round(f.low), mid: round(f.mid), high: round(f.high), fits: belief.fits };
    (f, (belief.fits >= FITS_TO_LEARN).then_some(own))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn force(foreseen: f64, came: f64) -> Foreseen {
        Foreseen { kind: ForecastKind::Force, foreseen, tolerance: None, came }
    }

    #[test]
    fn one_that_stands_out_is_named_once_there_are_enough() {
        let mut list: Vec<Foreseen> = (0..11).map(|k| force(1000.0, 1000.0 + f64::from(k % 3 - 1) * 10.0)).collect();
        let wild = force(1000.0, 1400.0);
        assert!(!records(&list[..3])[0].stands_out(&wild), "three say nothing of what is usual");
        assert!(records(&list)[0].stands_out(&wild));
        assert!(list.iter().all(|f| !records(&list)[0].stands_out(f)));
        list.push(wild);
        // By hand: eleven of -10, 0 and 10 and one of 400.
        let r = records(&list)[0];
        assert!((r.mean - 390.0 / 12.0).abs() < 1e-9 && r.half == 10.0 && r.count == 12, "{r:?}");
        assert!(records(&[]).is_empty() && records(&[wild])[0].spread.is_none());
        let told = Foreseen { tolerance: Some(50.0), ..wild };
        assert!(records(&[told])[0].stands_out(&told), "what was said to be possible is held against it at once");
    }

    #[test]
    fn a_reading_is_counted_in_its_own_unit() {
        let of = |sheet, place| of_reading(sheet, place, 0.01, 0.012);
        let um = of(Some("runout.sweep"), "readings_um.3").unwrap();
        assert!(um.kind == ForecastKind::Sweep && (um.off() - 0.002).abs() < 1e-12);
        let mm = of(Some("float.shim"), "pairs.0.pulled_mm").unwrap();
        assert!(mm.kind == ForecastKind::Repeat && (mm.off() - 2.0).abs() < 1e-9);
        assert_eq!(of(None, "A1").unwrap().kind, ForecastKind::Size);
        assert!(of(Some("probe.gap"), "voltage_v").is_none());
    }

    /// 20 + 30 (1 - exp(-t/900)), read every five minutes for an hour and a half: the first half foretells its 50 °C.
    #[test]
    fn a_run_in_is_foretold_by_its_first_half() {
        let log = |minutes: u32| {
            let at = |k: u32| {
                let s = f64::from(k) * 300.0;
                serde_json::json!({"s": s, "c": 20.0 + 30.0 * (1.0 - (-s / 900.0).exp())})
            };
            serde_json::json!({"log": (0..=minutes / 5).map(at).collect::<Vec<_>>(), "room_c": 20})
        };
        let f = of_run_in(log(90).as_object().unwrap()).unwrap();
        assert!(f.kind == ForecastKind::Temperature && (f.foreseen - 50.0).abs() < 0.5 && f.off().abs() < 0.6, "{f:?}");
        assert!(of_run_in(log(20).as_object().unwrap()).is_none(), "it still rises");
    }

    #[test]
    fn friction_is_learned_from_enough_presses() {
        let (_, few) = learn(SeatLubricant::Oiled, &[0.1, 0.1, 0.1]);
        assert!(few.is_none());
        let (f, own) = learn(SeatLubricant::Oiled, &[0.1, 0.11, 0.09, 0.1, 7.0]);
        let own = own.unwrap();
        assert_eq!(own.fits, 4, "a friction of 7 is no press fit");
        assert!((own.mid - 0.11).abs() < 1e-3 && own.low < own.mid && (f.mid - own.mid).abs() < 1e-4, "{own:?}");
        assert!(crate::rules::HouseRules { learned: Some(own), ..Default::default() }.check().is_ok());
    }
}
