//! What to write down before evidence is destroyed: the questions follow from the anatomy (docs/trade.md, Order of
//! assembly).

use super::measure::Unit;
use super::{Anatomy, Condition, Role};
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

/// What a question wants to know: everything else about it follows from this.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Topic {
    Float,
    Runout,
    Gap,
    /// How a bearing is closed.
    Closure,
    Facing,
    StandOut,
    MatchMark,
    /// Hand of a thread.
    Hand,
    Thickness,
    Place,
    Depth,
    Wire,
    Resistance,
    /// Which of a set lies in which place.
    Order,
    Clocking,
    /// Which half belongs to which.
    Halves,
    Port,
    /// Number or batch of a part that takes the place of one that was scrapped.
    New,
    /// Which is right, what was found or the build sheet.
    Which,
}

impl Topic {
    /// What kind of answer.
    #[must_use]
    pub fn ask(self) -> Ask {
        match self {
            Self::Float | Self::Runout => Ask::Reading,
            Self::Gap => Ask::Points,
            Self::Closure => Ask::Closure,
            Self::Facing => Ask::Facing,
            Self::StandOut | Self::Thickness | Self::Depth => Ask::Length,
            Self::Hand => Ask::Hand,
            Self::Resistance => Ask::Ohms,
            Self::Clocking => Ask::Angle,
            Self::MatchMark
            | Self::Place
            | Self::Wire
            | Self::Order
            | Self::Halves
            | Self::Port
            | Self::New
            | Self::Which => Ask::Text,
        }
    }
    /// Unit of its number; none for words. A runout is spoken of in micrometres, a play in millimetres.
    #[must_use]
    pub fn unit(self) -> Option<Unit> {
        match self.ask() {
            Ask::Facing | Ask::Text | Ask::Hand | Ask::Closure => None,
            Ask::Angle => Some(Unit::Degree),
            Ask::Ohms => Some(Unit::Ohm),
            Ask::Reading if self == Self::Runout => Some(Unit::Um),
            Ask::Length | Ask::Reading | Ask::Points => Some(Unit::Mm),
        }
    }
    /// Lost as soon as anything that locates is loosened.
    #[must_use]
    pub fn before_loosen(self) -> bool {
        matches!(self, Self::Float | Self::Runout)
    }
    /// Raised by the work itself, and not by the machine as it came in.
    #[must_use]
    pub fn later(self) -> bool {
        matches!(self, Self::New | Self::Which)
    }
    /// Read on a locked nut, of which straightening its tab takes half away.
    #[must_use]
    pub fn of_locked_nut(self) -> bool {
        matches!(self, Self::MatchMark | Self::StandOut | Self::Hand)
    }
    /// Short, behind the name of what it is about: `stand-out`. None where the name says all.
    fn short(self, p: Option<&super::Part>) -> Option<&'static str> {
        Some(match self {
            Self::Float | Self::Runout | Self::Gap | Self::Closure => return None,
            Self::Facing => p.map_or("face", |p| p.facing_word()),
            Self::StandOut => "stand-out",
            Self::MatchMark if p.is_some_and(|p| p.tabs.is_some()) => "match mark and tab",
            Self::MatchMark => "match mark",
            Self::Hand => "hand of its thread",
            Self::Thickness => "thickness",
            Self::Place => "place",
            Self::Depth => "depth",
            Self::Wire => "wire",
            Self::Resistance => "resistance",
            Self::Order => "order of the shoes",
            Self::Clocking => "angle",
            Self::Halves => "halves",
            Self::Port => "pipe",
            Self::New => "number or batch",
            Self::Which => "found or build sheet",
        })
    }
}

/// One question.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Question {
    /// Stable id: `nut.standout`.
    pub id: String,
    /// What it is about: a part, housing or the rotor (empty).
    pub about: String,
    /// What it wants to know.
    pub topic: Topic,
    /// What is asked.
    pub words: String,
    /// In a list of what was found: `Lock nut, stand-out`.
    pub short: String,
    /// Taking any of these off destroys the evidence.
    pub before_off: Vec<String>,
}

impl Question {
    /// Reads an answer: its numbers in the question's unit, none for words. Points are set apart by semicolons or
    /// blanks.
    ///
    /// ```
    /// # use ironseat_core::{anatomy::{PartKind, as_found::questions, edit::{Edit, blank}}, quantity::Units};
    /// let nut = Edit::AddPart { kind: PartKind::Nut, land: "land-1".into(), into: None }.apply(&blank("k", "Machine"))?;
    /// let stand_out = &questions(&nut)[0];
    /// assert_eq!(stand_out.short, "Nut, stand-out");
    /// assert_eq!(stand_out.read("3.25 mm", Units::Metric)?, [3.25]);
    /// assert!(stand_out.read("about three", Units::Metric).is_err());
    /// # Ok::<(), ironseat_core::Refusal>(())
    /// ```
    ///
    /// # Errors
    /// Field `value`, with what was expected.
    pub fn read(&self, text: &str, units: Units) -> Result<Vec<f64>> {
        let text = text.trim();
        expect(!text.is_empty(), "value", "expected what was found; or say that it cannot be told, or is not there")?;
        match (self.topic.ask(), self.topic.unit()) {
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

/// Parts, and the bearings that they turn in.
fn carried_by(a: &Anatomy, parts: &[&str]) -> Vec<String> {
    let bears = |p: &&super::Part| matches!(p.kind.role(), Role::Rolling | Role::Cone | Role::Cup | Role::Bush);
    let mut out: Vec<String> = parts.iter().map(|x| (*x).to_owned()).collect();
    out.extend(a.parts.iter().filter(bears).map(|p| p.id.clone()).filter(|id| !parts.contains(&id.as_str())));
    out
}

/// The questions of a machine, those of the whole rotor first, then along the shaft.
#[must_use]
#[expect(clippy::too_many_lines, reason = "the questions in the order in which they are asked")]
pub fn questions(a: &Anatomy) -> Vec<Question> {
    let mut out = Vec::new();
    let all: Vec<String> =
        a.parts.iter().map(|p| p.id.clone()).chain(a.housings.iter().map(|h| h.id.clone())).collect();
    // A name, then what is asked of it.
    let mut ask = |topic: Topic, id: String, about: &str, name: &str, asked: &str, before: Vec<String>| {
        out.push(Question {
            id,
            about: about.to_owned(),
            topic,
            words: capital(&format!("{name}: {asked}")),
            short: capital(&topic.short(a.part(about)).map_or_else(|| name.to_owned(), |s| format!("{name}, {s}"))),
            before_off: before,
        });
    };
    for f in &a.floats {
        let asked = match (f.without.is_empty(), f.condition) {
            (false, _) => {
                let names: Vec<&str> = f.without.iter().map(|x| a.name_of(x)).collect();
                format!(
                    "push, pull, read, once {} is out and before what carries the shaft is touched.",
                    names.join(" and ")
                )
            }
            (true, Condition::Slack) => "push, pull, read, with its nut slack and all else as found.".to_owned(),
            (true, Condition::Tight | Condition::Nipped) => "push, pull, read, before anything is loosened.".to_owned(),
        };
        // What has to be out, or slack, for it is no loss.
        let later = !f.without.is_empty() || f.condition == Condition::Slack;
        let before = if later { f.after.clone() } else { all.clone() };
        ask(Topic::Float, format!("float.{}", f.id), "", &f.name, &asked, before);
    }
    for r in &a.runouts {
        let asked = "sweep it once, before what carries it is loosened.";
        // Of a part the dial may only find its way once others are off: it is swept before what carries it is.
        let swept = r.reads.as_deref().filter(|x| a.part(x).is_some());
        let before = swept.map_or_else(|| all.clone(), |x| carried_by(a, &[x, &r.part]));
        ask(Topic::Runout, format!("runout.{}", r.id), &r.part, &r.name, asked, before);
    }
    for g in &a.gaps {
        let before =
            if g.after.is_empty() { a.housings.iter().map(|h| h.id.clone()).collect() } else { g.after.clone() };
        ask(Topic::Gap, format!("gap.{}", g.id), "", &g.name, "top, bottom, left, right.", before);
    }
    for (seat, f) in a
        .seats
        .iter()
        .filter_map(|s| Some((s, a.facts(&s.id).ok()?)))
        .filter(|(_, f)| f.bearing.seals == Seals::Unknown)
    {
        let what = f.bearing.other.join(" ");
        let asked = format!("open, shielded or sealed? “{what}” in {} is not understood.", f.designation);
        ask(Topic::Closure, closure_of(&seat.id), &seat.part, &f.part_name, &asked, Vec::new());
    }
    let mut along: Vec<(f64, &super::Part)> = a.parts.iter().map(|p| (a.place(p).0, p)).collect();
    along.sort_by(|p, q| p.0.total_cmp(&q.0));
    for (_, p) in along {
        let mut of = |topic: Topic, key: &str, asked: &str| {
            ask(topic, format!("{}.{key}", p.id), &p.id, &p.name, asked, vec![p.id.clone()]);
        };
        if p.kind.has_facing() && !p.solid {
            let word = p.facing_word();
            // A face does not face: it looks.
            let verb = if word.ends_with("face") { "look" } else { "face" };
            of(Topic::Facing, "faces", &format!("which way does the {word} {verb}?"));
        }
        match p.kind.role() {
            Role::Nut => {
                of(Topic::StandOut, "standout", "how far does its face stand from the shaft end?");
                let mark = if p.tabs.is_some() {
                    "match mark, and which tab is in which slot?"
                } else {
                    "is there a match mark, and where does it point?"
                };
                of(Topic::MatchMark, "mark", mark);
                if p.hand.is_none() {
                    let asked =
                        "which hand is its thread? Look at the free end of it; where it cannot be seen, try gently.";
                    of(Topic::Hand, "hand", asked);
                }
            }
            Role::Shim => {
                of(Topic::Thickness, "thickness", "how thick, and how many leaves?");
                of(Topic::Place, "place", "where did it lie?");
            }
            Role::Lip => of(Topic::Depth, "depth", "how deep below the rim?"),
            Role::Sensor => {
                of(Topic::Wire, "wire", "wire number and route?");
                of(Topic::Resistance, "ohm", "how many ohms, before it is touched?");
            }
            Role::Shoes => of(Topic::Order, "order", "which shoe in which place?"),
            _ => {}
        }
        if p.clocked {
            of(Topic::Clocking, "clock", "at which angle to the mark?");
        }
        for port in a.holes.iter().filter(|x| x.housing == p.id) {
            of(Topic::Port, &format!("port.{}", port.id), &format!("{}, which pipe on which port?", port.name));
        }
    }
    for h in &a.housings {
        let mut of = |topic: Topic, key: &str, name: &str, asked: &str| {
            ask(topic, format!("{}.{key}", h.id), &h.id, name, asked, vec![h.id.clone()]);
        };
        if h.split {
            let asked = "match marks of its halves, which cap on which block, which way round?";
            of(Topic::Halves, "halves", &h.name, asked);
        }
        if h.clocked {
            of(Topic::Clocking, "clock", &h.name, "how is it clocked to its neighbour?");
        }
        for port in a.holes.iter().filter(|x| x.housing == h.id) {
            let name = format!("{}, {}", h.name, port.name);
            of(Topic::Port, &format!("port.{}", port.id), &name, "which pipe on which port?");
        }
    }
    out
}

/// What is said when an answer contradicts the build sheet: one of the two is wrong. None when they agree, or when the
/// sheet says nothing.
#[must_use]
pub fn contradicts(a: &Anatomy, q: &Question, answer: &str) -> Option<String> {
    let p = a.part(&q.about)?;
    match q.topic.ask() {
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
