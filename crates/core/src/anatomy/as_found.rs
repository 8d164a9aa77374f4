//! What to write down before evidence is destroyed: the questions follow from the anatomy (docs/trade.md, Order of
//! assembly).

use super::measure::Unit;
use super::{Anatomy, PartKind};
use crate::fit::designation::Seals;
use crate::quantity::Units;
use crate::quantity::show::capital;
use crate::refusal::{Refusal, Result, expect};
use serde::{Deserialize, Serialize};

/// What kind of answer a question wants.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Ask {
    /// Which way it faces: end A or B, by touching the drawn part.
    Facing,
    /// A length.
    Length,
    /// A clocking angle.
    Angle,
    /// A length read as play or runout, with the instrument.
    Reading,
    /// A length at each of several points.
    Points,
    /// Ohms of a wire.
    Ohms,
    /// Words.
    Text,
    /// The hand of a thread: right or left.
    Hand,
    /// How a bearing is closed: open, shielded or sealed.
    Closure,
}

/// One question.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Question {
    /// Stable id: `nut.standout`.
    pub id: String,
    /// What it is about: a part, housing or the rotor (empty).
    pub about: String,
    /// What is asked.
    pub words: String,
    /// What kind of answer.
    pub ask: Ask,
    /// Unit of its number; none for words.
    pub unit: Option<Unit>,
    /// Taking any of these off destroys the evidence.
    pub before_off: Vec<String>,
    /// Loosening anything that locates destroys it, too.
    pub before_loosen: bool,
}

impl Question {
    /// Reads an answer: its numbers in the question's unit, none for words. Points are set apart by semicolons or
    /// blanks.
    ///
    /// ```
    /// # use ironseat_core::{anatomy::{Unit, as_found::{Ask, Question}}, quantity::Units};
    /// let q = Question { id: "gap.g".into(), about: String::new(), words: String::new(), ask: Ask::Points, unit: Some(Unit::Mm), before_off: vec![], before_loosen: false };
    /// assert_eq!(q.read("0.40; 0.45; 0.38; 0.41", Units::Metric)?, [0.40, 0.45, 0.38, 0.41]);
    /// # Ok::<(), ironseat_core::Refusal>(())
    /// ```
    ///
    /// # Errors
    /// Field `value`, with what was expected.
    pub fn read(&self, text: &str, units: Units) -> Result<Vec<f64>> {
        let text = text.trim();
        expect(!text.is_empty(), "value", "expected what was found; or say that it cannot be told, or is not there")?;
        match (self.ask, self.unit) {
            (Ask::Facing, _) => {
                expect(
                    ["end A", "end B"].contains(&text),
                    "value",
                    "expected end A or end B: touch the part until it lies as found",
                )?;
                Ok(Vec::new())
            }
            (Ask::Hand, _) => {
                expect(
                    ["right", "left"].contains(&text),
                    "value",
                    "expected right or left: which way it comes off tells",
                )?;
                Ok(Vec::new())
            }
            (Ask::Closure, _) => {
                expect(
                    Seals::SAID.iter().any(|s| s.0 == text),
                    "value",
                    "expected open, shielded or sealed: look between the rings, a metal disc is a shield, a rubber one a seal",
                )?;
                Ok(Vec::new())
            }
            (Ask::Points, Some(unit)) => {
                let apart = |c: char| if text.contains(';') { c == ';' } else { c.is_whitespace() };
                let list: Vec<&str> = text.split(apart).map(str::trim).filter(|t| !t.is_empty()).collect();
                expect(
                    (1..=12).contains(&list.len()),
                    "value",
                    "expected one to twelve lengths, set apart by semicolons",
                )?;
                list.iter()
                    .map(|t| unit.read(t, units).map_err(|e| Refusal::new("value", format!("“{t}”: {}", e.message))))
                    .collect()
            }
            (_, Some(unit)) => Ok(vec![unit.read(text, units)?]),
            (_, None) => Ok(Vec::new()),
        }
    }
}

/// Id of the question how the bearing of a seat is closed.
#[must_use]
pub fn closure_of(seat: &str) -> String {
    format!("closure.{seat}")
}

/// The questions of a machine, those of the whole rotor first, then along the shaft.
#[must_use]
pub fn questions(a: &Anatomy) -> Vec<Question> {
    let mut out = Vec::new();
    let all: Vec<String> =
        a.parts.iter().map(|p| p.id.clone()).chain(a.housings.iter().map(|h| h.id.clone())).collect();
    let mut ask = |id: String, about: &str, words: String, kind: Ask, before: Vec<String>| {
        let unit = match kind {
            Ask::Facing | Ask::Text | Ask::Hand | Ask::Closure => None,
            Ask::Angle => Some(Unit::Degree),
            Ask::Ohms => Some(Unit::Ohm),
            Ask::Reading if id.starts_with("runout.") => Some(Unit::Um),
            Ask::Length | Ask::Reading | Ask::Points => Some(Unit::Mm),
        };
        let before_loosen = id.starts_with("float.") || id.starts_with("runout.");
        out.push(Question {
            id,
            about: about.to_owned(),
            words: capital(&words),
            ask: kind,
            unit,
            before_off: before,
            before_loosen,
        });
    };
    for f in &a.floats {
        ask(
            format!("float.{}", f.id),
            "",
            format!("{}: push, pull, read, before anything is loosened.", f.name),
            Ask::Reading,
            all.clone(),
        );
    }
    for r in &a.runouts {
        ask(
            format!("runout.{}", r.id),
            &r.part,
            format!("{}: sweep it once before anything is loosened.", r.name),
            Ask::Reading,
            all.clone(),
        );
    }
    for g in &a.gaps {
        ask(
            format!("gap.{}", g.id),
            "",
            format!("{}: top, bottom, left, right.", g.name),
            Ask::Points,
            if g.after.is_empty() { a.housings.iter().map(|h| h.id.clone()).collect() } else { g.after.clone() },
        );
    }
    for (seat, f) in a
        .seats
        .iter()
        .filter_map(|s| Some((s, a.facts(&s.id).ok()?)))
        .filter(|(_, f)| f.bearing.seals == Seals::Unknown)
    {
        ask(
            closure_of(&seat.id),
            &seat.part,
            format!(
                "{}: open, shielded or sealed? “{}” in {} is not understood.",
                f.part_name,
                f.bearing.other.join(" "),
                f.designation
            ),
            Ask::Closure,
            Vec::new(),
        );
    }
    let mut along: Vec<(f64, &super::Part)> = a.parts.iter().map(|p| (a.place(p).0, p)).collect();
    along.sort_by(|p, q| p.0.total_cmp(&q.0));
    for (_, p) in along {
        let off = vec![p.id.clone()];
        if p.kind.has_facing() && !p.solid {
            ask(
                format!("{}.faces", p.id),
                &p.id,
                // A face does not face: it looks.
                format!(
                    "{}: which way does the {} {}?",
                    p.name,
                    p.facing_word(),
                    if p.facing_word().ends_with("face") { "look" } else { "face" }
                ),
                Ask::Facing,
                off.clone(),
            );
        }
        match p.kind {
            PartKind::Nut => {
                ask(
                    format!("{}.standout", p.id),
                    &p.id,
                    format!("{}: how far does its face stand from the shaft end?", p.name),
                    Ask::Length,
                    off.clone(),
                );
                ask(
                    format!("{}.mark", p.id),
                    &p.id,
                    if p.tabs.is_some() {
                        format!("{}: match mark, and which tab is in which slot?", p.name)
                    } else {
                        format!("{}: is there a match mark, and where does it point?", p.name)
                    },
                    Ask::Text,
                    off.clone(),
                );
                if p.hand.is_none() {
                    ask(
                        format!("{}.hand", p.id),
                        &p.id,
                        format!(
                            "{}: which hand is its thread? Look at the free end of it; where it cannot be seen, try gently.",
                            p.name
                        ),
                        Ask::Hand,
                        off,
                    );
                }
            }
            PartKind::Shim => {
                ask(
                    format!("{}.thickness", p.id),
                    &p.id,
                    format!("{}: how thick, and how many leaves?", p.name),
                    Ask::Length,
                    off.clone(),
                );
                ask(format!("{}.place", p.id), &p.id, format!("{}: where did it lie?", p.name), Ask::Text, off);
            }
            PartKind::Seal => {
                ask(format!("{}.depth", p.id), &p.id, format!("{}: how deep below the rim?", p.name), Ask::Length, off);
            }
            PartKind::Probe => {
                ask(
                    format!("{}.wire", p.id),
                    &p.id,
                    format!("{}: wire number and route?", p.name),
                    Ask::Text,
                    off.clone(),
                );
                ask(
                    format!("{}.ohm", p.id),
                    &p.id,
                    format!("{}: how many ohms, before it is touched?", p.name),
                    Ask::Ohms,
                    off,
                );
            }
            PartKind::ShoeSet => {
                ask(
                    format!("{}.order", p.id),
                    &p.id,
                    format!("{}: which shoe in which place?", p.name),
                    Ask::Text,
                    off,
                );
            }
            _ => {}
        }
        if p.clocked {
            ask(
                format!("{}.clock", p.id),
                &p.id,
                format!("{}: at which angle to the mark?", p.name),
                Ask::Angle,
                vec![p.id.clone()],
            );
        }
    }
    for h in &a.housings {
        if h.split {
            ask(
                format!("{}.halves", h.id),
                &h.id,
                format!("{}: match marks of its halves, which cap on which block, which way round?", h.name),
                Ask::Text,
                vec![h.id.clone()],
            );
        }
        if h.clocked {
            ask(
                format!("{}.clock", h.id),
                &h.id,
                format!("{}: how is it clocked to its neighbour?", h.name),
                Ask::Angle,
                vec![h.id.clone()],
            );
        }
        for port in a.holes.iter().filter(|x| x.housing == h.id) {
            ask(
                format!("{}.port.{}", h.id, port.id),
                &h.id,
                format!("{}, {}: which pipe on which port?", h.name, port.name),
                Ask::Text,
                vec![h.id.clone()],
            );
        }
    }
    out
}

/// What is said when an answer contradicts the build sheet: one of the two is wrong. None when they agree, or when the
/// sheet says nothing.
#[must_use]
pub fn contradicts(a: &Anatomy, q: &Question, answer: &str) -> Option<String> {
    let p = a.part(&q.about)?;
    match q.ask {
        Ask::Facing => {
            let sheet = p.faces?;
            let found = match answer.trim() {
                "end A" => crate::terms::End::A,
                "end B" => crate::terms::End::B,
                _ => return None,
            };
            (found != sheet).then(|| {
                format!(
                    "Found with its {} to end {}; the build sheet says end {}. One of them is wrong: find out which before it goes on.",
                    p.facing_word(),
                    found.letter(),
                    sheet.letter()
                )
            })
        }
        Ask::Hand | Ask::Closure | Ask::Length | Ask::Angle | Ask::Reading | Ask::Points | Ask::Ohms | Ask::Text => {
            None
        }
    }
}
