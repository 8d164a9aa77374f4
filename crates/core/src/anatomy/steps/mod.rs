//! The trail: from the anatomy the steps of a rebuild, stage by stage, each with its words, tool, caution, hands, minutes
//! and wait (handbook 01, 05, 07, 08, 09). Nothing here is typed per machine.

mod apart;
mod inspect;
mod mount;
mod moves;
mod repair;
mod set;

pub use repair::{after_repairs, asked_again, opened_by, voided_by};
pub use set::shim_change;

use super::as_found;
use super::derive::Derived;
use super::measure::{Measure, Unit};
use super::{Anatomy, End, Part};
use crate::caution::Caution;
use crate::quantity::show;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet, HashSet};

/// Stage of the work (handbook 01).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Stage {
    Receive,
    AsFound,
    TakeApart,
    Inspect,
    Parts,
    FitAndMount,
    TrueUp,
    SetAxially,
    Preload,
    TorqueAndLock,
    CloseUp,
    Prove,
}

impl Stage {
    /// In the order of the work.
    pub const ALL: [Self; 12] = [
        Self::Receive,
        Self::AsFound,
        Self::TakeApart,
        Self::Inspect,
        Self::Parts,
        Self::FitAndMount,
        Self::TrueUp,
        Self::SetAxially,
        Self::Preload,
        Self::TorqueAndLock,
        Self::CloseUp,
        Self::Prove,
    ];
    /// As said.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Receive => "receive",
            Self::AsFound => "as found",
            Self::TakeApart => "take apart",
            Self::Inspect => "inspect",
            Self::Parts => "parts",
            Self::FitAndMount => "fit and mount",
            Self::TrueUp => "true up",
            Self::SetAxially => "set axially",
            Self::Preload => "preload",
            Self::TorqueAndLock => "torque and lock",
            Self::CloseUp => "close up",
            Self::Prove => "prove",
        }
    }
}

/// One step.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Step {
    /// Stable id: `on.b1`, `ask.nut.standout`.
    pub id: String,
    /// Stage.
    pub stage: Stage,
    /// Part, housing or seat it is about; empty for the machine.
    pub about: String,
    /// Verb first, with tool and number.
    pub words: String,
    /// Tool or instrument.
    pub tool: String,
    /// Caution that stands before it.
    pub caution: Option<Caution>,
    /// Hands it needs.
    pub people: u32,
    /// Hands-on minutes.
    pub minutes: f64,
    /// Minutes of passive wait after it, and what waits.
    pub wait_min: f64,
    /// As said: cooling, pressure hold, curing.
    pub wait_word: String,
    /// Steps that must be done before.
    pub before: Vec<String>,
    /// Seat whose sheets it fills.
    pub seat: Option<String>,
    /// Number it asks for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub measure: Option<Measure>,
}

fn step(id: String, stage: Stage, about: &str, words: String, tool: &str, minutes: f64) -> Step {
    Step {
        id,
        stage,
        about: about.to_owned(),
        words,
        tool: tool.to_owned(),
        caution: None,
        people: 1,
        minutes,
        wait_min: 0.0,
        wait_word: String::new(),
        before: Vec::new(),
        seat: None,
        measure: None,
    }
}

impl Step {
    /// Hands and time in words: `15 min, 2 people, then 20 min of cooling`.
    #[must_use]
    pub fn effort(&self) -> String {
        let people = (self.people > 1).then(|| format!("{} people", self.people));
        let wait = (self.wait_min > 0.0).then(|| format!("then {} of {}", show::minutes(self.wait_min), self.wait_word));
        [Some(show::minutes(self.minutes)), people, wait].into_iter().flatten().collect::<Vec<_>>().join(", ")
    }

    fn after(mut self, ids: impl IntoIterator<Item = String>) -> Self {
        self.before.extend(ids);
        self
    }
    fn careful(mut self, c: Caution) -> Self {
        self.caution = Some(c);
        self
    }
    fn hands(mut self, people: u32) -> Self {
        self.people = people.max(1);
        self
    }
    fn reads(mut self, unit: Unit, lo: Option<f64>, hi: Option<f64>, source: &str, beside: String) -> Self {
        self.measure = Some(Measure { unit, lo, hi, source: source.to_owned(), beside, what: String::new() });
        self
    }
    fn sets(mut self, what: &str, unit: Unit, limits: (Option<f64>, Option<f64>), source: &str) -> Self {
        let (lo, hi) = limits;
        self.measure = Some(Measure { unit, lo, hi, source: source.to_owned(), beside: String::new(), what: what.to_owned() });
        self
    }
    fn waits(mut self, minutes: f64, word: &str) -> Self {
        if minutes > 0.0 {
            self.wait_min = minutes;
            self.wait_word = word.to_owned();
        }
        self
    }
}

/// Direct pairs without those that follow from others: what stands in a step's "before".
fn reduced(d: &Derived) -> Vec<Vec<usize>> {
    let n = d.ids.len();
    let Some(order) = &d.plain else { return vec![Vec::new(); n] };
    let mut before = d.before();
    let words = n.div_ceil(64);
    let mut reach = vec![0u64; n * words];
    let mut out = vec![Vec::new(); n];
    let mut place = vec![0; n];
    for (k, i) in order.iter().enumerate() {
        place[*i] = k;
    }
    for &b in order {
        // Nearest first: what is reached through a nearer one is left out.
        before[b].sort_by_key(|a| std::cmp::Reverse(place[*a]));
        let mut seen = vec![0u64; words];
        for &a in &before[b] {
            if seen[a / 64] >> (a % 64) & 1 == 0 {
                out[b].push(a);
            }
            seen[a / 64] |= 1 << (a % 64);
            for w in 0..words {
                seen[w] |= reach[a * words + w];
            }
        }
        reach[b * words..(b + 1) * words].copy_from_slice(&seen);
    }
    out
}

/// All steps of a rebuild, in the order in which a sensible person takes them. Needs an order; none for an anatomy that
/// cannot be built.
#[must_use]
pub fn steps(a: &Anatomy, d: &Derived, order: &[usize]) -> Vec<Step> {
    let questions = as_found::questions(a);
    let direct = reduced(d);
    let mut out = vec![
        step(
            "receive.safe".into(),
            Stage::Receive,
            "",
            "Isolate, tag, try; drain and vent. Note the complaint in the customer's words.".into(),
            "lock and tag",
            10.0,
        )
        .careful(Caution::Isolate),
        step(
            "receive.kind".into(),
            Stage::Receive,
            "",
            format!("Compare plate and machine with this build sheet: {}. Another variant: stop here.", a.name),
            "eyes",
            5.0,
        )
        .after(["receive.safe".to_owned()]),
    ];
    apart::ask(&questions, &mut out);
    apart::take_apart(a, d, order, &direct, &questions, &mut out);
    inspect::inspect(a, &mut out);
    mount::mount(a, d, order, &direct, &mut out);
    set::set(a, &mut out);
    set::prove(a, &mut out);
    // A step that names one that is not in this trail would wait for ever.
    let known: HashSet<String> = out.iter().map(|s| s.id.clone()).collect();
    for s in &mut out {
        let mut seen = HashSet::new();
        s.before.retain(|b| known.contains(b) && seen.insert(b.clone()));
    }
    out.sort_by_key(|s| s.stage);
    out
}

fn people_of(p: &Part) -> u32 {
    if p.people > 0 { p.people } else { 1 + u32::from(p.outside_mm.0 > 250.0) }
}

fn end_word(e: End) -> &'static str {
    match e {
        End::A => "end A",
        End::B => "end B",
    }
}

/// What can be done in the meantime: open steps whose before is done and that do not rest on what waits.
#[must_use]
pub fn meanwhile<'a>(all: &'a [Step], done: &BTreeSet<String>, waiting: &str) -> Vec<&'a Step> {
    all.iter().filter(|s| !done.contains(&s.id) && s.id != waiting && s.before.iter().all(|b| done.contains(b) && b != waiting)).collect()
}

/// Steps that must be done before one and are not, in words: why it is held.
#[must_use]
pub fn missing<'a>(all: &'a [Step], done: &BTreeSet<String>, id: &str) -> Vec<&'a Step> {
    let by_id: BTreeMap<&str, &Step> = all.iter().map(|s| (s.id.as_str(), s)).collect();
    let Some(s) = by_id.get(id) else { return Vec::new() };
    s.before.iter().filter(|b| !done.contains(*b)).filter_map(|b| by_id.get(b.as_str()).copied()).collect()
}
