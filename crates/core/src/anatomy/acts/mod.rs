//! Acts: everything a person does that the order matters for. They are the nodes of one graph; each "before" follows
//! from a law and carries its reason.

mod apart;
mod asked;
mod beds;
mod graph;
mod hot;
mod joined;
mod later;
mod laws;
mod mount;
mod pockets;
mod readings;
mod repair;
mod rounds;
mod running;
mod seats;
mod stored;
mod tighten;
mod words;
mod work;

pub use graph::Graph;
pub use hot::{Run, close_runs, left_alone};
pub use later::{Later, differs, new_again, new_of, new_part, with_later};
pub use laws::{Because, Relation, Step, relations, tangled};
pub use readings::shim_change;
pub use repair::{after_repairs, asked_again, opened_by, voided_by};
pub use rounds::{Round, first_time, fitted, open_round, out_again, with_round};
pub use seats::{steps as steps_of_seats, with_seats};

use super::measure::{Measure, Unit};
use super::text::Text;
use crate::caution::Caution;
use crate::quantity::show;
use crate::terms::StepKind;
use rustc_hash::FxHashMap as HashMap;
use serde::{Deserialize, Serialize};

/// What is done.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Verb {
    Isolate,
    Ask,
    StraightenTab,
    Unlock,
    Loosen,
    TakeOff,
    Inspect,
    Place,
    Heat,
    ProveHome,
    Nip,
    Tighten,
    BendTab,
    Lock,
    BoltDown,
    Sweep,
    Float,
    Gap,
    Position,
    Preload,
    Drag,
    Set,
    Grease,
    Measure,
    WireCheck,
    Close,
    Prove,
    Choose,
    Cool,
    Sign,
}

impl Verb {
    /// Takes hold of parts: everything that only looks or reads does not.
    #[must_use]
    pub fn moves(self) -> bool {
        match self {
            Self::StraightenTab
            | Self::Unlock
            | Self::Loosen
            | Self::TakeOff
            | Self::Place
            | Self::Heat
            | Self::Nip
            | Self::Tighten
            | Self::BendTab
            | Self::Lock
            | Self::BoltDown
            | Self::Set
            | Self::Grease
            | Self::Close => true,
            Self::Isolate
            | Self::Ask
            | Self::Inspect
            | Self::ProveHome
            | Self::Sweep
            | Self::Float
            | Self::Gap
            | Self::Position
            | Self::Preload
            | Self::Drag
            | Self::Measure
            | Self::WireCheck
            | Self::Prove
            | Self::Choose
            | Self::Cool
            | Self::Sign => false,
        }
    }
}

/// Apart or together.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Phase {
    Apart,
    Mount,
}

/// The law that a "before" follows from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Law {
    /// On its way no ring meets one that is there.
    Way,
    /// An act needs a way for its tool.
    Reach,
    /// A stack is complete before it is tightened.
    Clamp,
    /// Tighten, check, lock; unlock, loosen, take off.
    Lock,
    /// A gap is read when both its sides are there and fixed.
    BothSides,
    /// What cannot be recovered is asked first; what goes on is looked at first.
    Evidence,
    /// Heat and force where they belong.
    Contact,
    /// Isolated first.
    Safe,
    /// Both ends of a joint are there before it is fastened, and it is undone before one of them moves.
    Joint,
    /// The build sheet says so.
    Rule,
}

/// Heading over acts. Headings never order anything.
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
    /// In the order in which they usually begin.
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

/// What must be done before an act, and why.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Before {
    /// Id of the other act.
    pub id: String,
    /// Law that it follows from.
    pub law: Law,
    /// The reason, with both sizes or both names.
    pub words: Text,
}

/// One act.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Act {
    /// Stable id: `on.b1`, `ask.nut.standout`.
    pub id: String,
    /// What is done.
    pub verb: Verb,
    /// Body it is done to; empty for the machine.
    pub body: String,
    /// Apart or together.
    pub phase: Phase,
    /// Heading.
    pub stage: Stage,
    /// Verb first, with tool and number.
    pub words: Text,
    /// Tool or instrument.
    pub tool: String,
    /// Caution that stands before it.
    pub caution: Option<Caution>,
    /// People it needs.
    pub people: u32,
    /// Hands-on minutes.
    pub minutes: f64,
    /// Minutes of passive wait after it.
    pub wait_min: f64,
    /// What waits: cooling, pressure hold, curing.
    pub wait_word: String,
    /// Acts that must be done before, without those that follow from others.
    pub before: Vec<Before>,
    /// Seat whose own step it is, and which.
    pub seat: Option<(String, StepKind)>,
    /// Number it asks for.
    pub measure: Option<Measure>,
    /// As-found questions whose answers are given back here.
    pub given: Vec<String>,
}

impl Act {
    /// Anchor of the paragraph of `docs/trade.md` that it rests on.
    #[must_use]
    pub fn why(&self) -> &'static str {
        match (self.verb, self.measure.as_ref().map_or("", |m| m.what.as_str())) {
            (_, "clearance over it") => "keys",
            (_, "height over its fellow") => "a-pair",
            (_, "tilt") => "lip-seals",
            (Verb::Isolate, _) => "isolate-tag-try",
            (Verb::StraightenTab | Verb::Unlock | Verb::Loosen | Verb::TakeOff | Verb::Ask | Verb::Inspect, _) => {
                "taking-apart"
            }
            (Verb::Place | Verb::Close, _) => "order-of-assembly",
            (Verb::Measure, _) => "measuring",
            (Verb::Choose, _) => "which-ring-takes-the-force",
            (Verb::Heat, _) => "heating",
            (Verb::Cool | Verb::Nip, _) => "cooling",
            (Verb::ProveHome, _) => "the-trace",
            (Verb::Tighten | Verb::BoltDown, _) | (_, "torque") => "torque",
            (Verb::BendTab | Verb::Lock, _) => "nuts",
            (Verb::Sweep, _) => "runout",
            (Verb::Float, _) => "float",
            (Verb::Gap, _) => "gaps",
            (Verb::Preload, _) => "a-pair",
            (Verb::Drag, _) => "checking",
            (Verb::Grease, _) => "grease",
            (Verb::WireCheck, _) | (_, "gap voltage") => "probes-and-wires",
            (Verb::Position | Verb::Set, _) => "axial-setting",
            (Verb::Prove, _) => "first-run",
            (Verb::Sign, _) => "judging",
        }
    }

    pub(super) fn new(
        id: impl Into<String>,
        verb: Verb,
        phase: Phase,
        stage: Stage,
        body: &str,
        words: impl Into<String>,
    ) -> Self {
        Self {
            id: id.into(),
            verb,
            body: body.to_owned(),
            phase,
            stage,
            words: Text::new(words).capital(),
            tool: "hands".into(),
            caution: None,
            people: 1,
            minutes: 3.0,
            wait_min: 0.0,
            wait_word: String::new(),
            before: Vec::new(),
            seat: None,
            measure: None,
            given: Vec::new(),
        }
    }
    pub(super) fn with(mut self, tool: &str, minutes: f64) -> Self {
        tool.clone_into(&mut self.tool);
        self.minutes = minutes;
        self
    }
    pub(super) fn careful(mut self, c: impl Into<Option<Caution>>) -> Self {
        self.caution = c.into();
        self
    }
    pub(super) fn hands(mut self, people: u32) -> Self {
        self.people = people.max(1);
        self
    }
    pub(super) fn waits(mut self, minutes: f64, word: &str) -> Self {
        if minutes > 0.0 {
            self.wait_min = minutes;
            word.clone_into(&mut self.wait_word);
        }
        self
    }
    pub(super) fn reads(
        mut self,
        unit: Unit,
        limits: (Option<f64>, Option<f64>),
        source: &str,
        beside: impl Into<String>,
    ) -> Self {
        self.measure = Some(Measure { beside: beside.into(), ..Measure::of(unit, limits.0, limits.1, source) });
        self
    }
    pub(super) fn sets(mut self, what: &str, unit: Unit, limits: (Option<f64>, Option<f64>), source: &str) -> Self {
        self.measure = Some(Measure { what: what.to_owned(), ..Measure::of(unit, limits.0, limits.1, source) });
        self
    }
    pub(super) fn points(mut self, n: u32) -> Self {
        if let Some(m) = &mut self.measure {
            m.points = n;
        }
        self
    }
    pub(super) fn gives(mut self, questions: impl IntoIterator<Item = String>) -> Self {
        self.given.extend(questions);
        self
    }

    /// Hands and time in words: `15 min, 2 people, then 20 min of cooling`.
    #[must_use]
    pub fn effort(&self) -> String {
        let people = (self.people > 1).then(|| format!("{} people", self.people));
        // A seat knows its own ring: how long that cools is said on its sheets, once.
        let wait = (self.wait_min > 0.0 && self.seat.is_none())
            .then(|| format!("then {} of {}", show::minutes(self.wait_min), self.wait_word));
        [Some(show::minutes(self.minutes)), people, wait].into_iter().flatten().collect::<Vec<_>>().join(", ")
    }
    /// Waits directly for another act.
    #[must_use]
    pub fn waits_for(&self, id: &str) -> bool {
        self.before.iter().any(|b| b.id == id)
    }
}

/// Whether an act may be done while the ring that went on before it still cools: what holds it home goes on and is
/// nipped, nothing else rests on it.
#[must_use]
pub fn while_cooling(a: &super::Anatomy, act: &Act, first: &Act) -> bool {
    let holds = a.part(&act.body).is_some_and(|p| p.kind.holds_home());
    first.wait_word == "cooling" && (act.verb == Verb::Nip || act.verb == Verb::Place && holds)
}

/// The whole graph of a machine.
pub(super) fn build(
    a: &super::Anatomy,
    all: &super::body::Bodies,
    relations: &[Relation],
    questions: &[super::as_found::Question],
) -> (Graph, Vec<Run>) {
    let mut ahead: HashMap<Step, Vec<Step>> = HashMap::default();
    for r in relations {
        ahead.entry(r.first).or_default().push(r.then);
    }
    let mut w = work::Work { a, all, relations, ahead, g: Graph::default(), tighteners: Vec::new() };
    mount::mount(&mut w);
    tighten::tighten(&mut w);
    mount::own_moves(&mut w);
    joined::mounting(&mut w);
    running::mounting(&mut w);
    readings::readings(&mut w);
    stored::hung(&mut w);
    apart::apart(&mut w, questions);
    running::unpacked(&mut w);
    joined::locked_after(&mut w);
    let runs = hot::runs(&mut w);
    beds::turned(&mut w);
    readings::prove(&mut w);
    running::prime(&mut w);
    (w.g, runs)
}
