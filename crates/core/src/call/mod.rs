//! What a sheet ends in: a call. Verdict, figure, limit and where it came from; reason and action come from
//! [`words`], the one place where the sentences live.

pub mod words;

use crate::quantity::{Celsius, Micrometres, Millimetres, Newtons, Seconds, Units, show};
use crate::terms::{Method, Surface, Verdict};
use serde::{Deserialize, Serialize};

/// A figure of any kind that knows how to show itself.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Amount {
    Small(Micrometres),
    /// A size and the resolution it was read with.
    Size(Millimetres, Millimetres),
    Force(Newtons),
    Temperature(Celsius),
    Time(Seconds),
}

impl Amount {
    /// Number and unit.
    #[must_use]
    pub fn parts(&self, units: Units) -> (String, &'static str) {
        match self {
            Self::Small(v) => show::small(*v, units),
            Self::Size(v, r) => show::size(*v, *r, units),
            Self::Force(v) => show::force(*v, units),
            Self::Temperature(v) => show::temperature(*v, units),
            Self::Time(v) => (format!("{:.0}", v.0), "s"),
        }
    }
    /// Number and unit in one text.
    #[must_use]
    pub fn show(&self, units: Units) -> String {
        show::join(self.parts(units))
    }
}

/// What was found: data only; [`words`] makes the sentences.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Situation {
    NothingRead {
        cells: usize,
    },
    SizeGood {
        surface: Surface,
        left: usize,
        /// Inside by more than the instrument can be wrong; calls that were kept before this was told were.
        #[serde(default = "with_guard_band")]
        guarded: bool,
    },
    /// Beyond a limit; to be well inside it takes at least so much and at most so much. Calls that were kept before
    /// this was told have none.
    SizeOver {
        surface: Surface,
        by: Micrometres,
        #[serde(default)]
        mend: Option<(Micrometres, Micrometres)>,
    },
    SizeUnder {
        surface: Surface,
        by: Micrometres,
        #[serde(default)]
        mend: Option<(Micrometres, Micrometres)>,
    },
    /// Beyond a limit by the word of one reading alone.
    ReadAgain {
        surface: Surface,
        /// From end A, 1 to 3.
        station: usize,
        /// 1 to 4.
        plane: usize,
        /// How far it lies above a limit, or below with a minus; none where it is the form that it spoils.
        beyond: Option<Micrometres>,
    },
    SizeUndecided {
        surface: Surface,
        margin: Micrometres,
        instrument: String,
        u: Micrometres,
        better: Option<String>,
    },
    TooCoarse {
        surface: Surface,
        instrument: String,
        u: Micrometres,
        tolerance: Micrometres,
        better: Option<String>,
    },
    OutOfRound {
        surface: Surface,
        by: Micrometres,
        allowed: Micrometres,
        station: usize,
    },
    Taper {
        surface: Surface,
        by: Micrometres,
        allowed: Micrometres,
        larger_at_b: bool,
    },
    FormUndecided {
        surface: Surface,
        by: Micrometres,
        allowed: Micrometres,
        instrument: String,
        better: Option<String>,
    },
    FitGood {
        mean: Micrometres,
        method: Method,
    },
    FitWaits {
        journal: bool,
        bore: bool,
    },
    Spins {
        mean: Micrometres,
    },
    ForceOverPress {
        force: Newtons,
        press: String,
        allowed: Newtons,
        heat_helps: bool,
    },
    NoPress {
        force: Newtons,
        heat_helps: bool,
    },
    NoTube {
        bore: Millimetres,
        outside: Millimetres,
        length: Millimetres,
    },
    RingStressHigh {
        hoop_mpa: f64,
    },
    /// A part is pressed near or beyond its yield: which one, and the share of it.
    Yields {
        part: String,
        share: f64,
    },
    NoClearance {
        left: Micrometres,
        lost_shaft: Micrometres,
        lost_housing: Micrometres,
        group: String,
    },
    LittleClearance {
        left: Micrometres,
        group: String,
    },
    MuchClearance {
        left: Micrometres,
    },
    CapNotEnough {
        cap: Celsius,
        needed: Celsius,
        spare: Micrometres,
        force: Newtons,
        weakest: String,
    },
    GripShort {
        seconds: Seconds,
        hands: Seconds,
        target: Celsius,
    },
    /// Tight in its housing: what that asks for, and whether the housing is warmed for it.
    TightInHousing {
        mean: Micrometres,
        force: Newtons,
        warm: Option<Celsius>,
    },
    /// It enters a bore that is there already: heated, its outside grows into it.
    GrowsInBore {
        growth: Micrometres,
        room: Micrometres,
    },
    HeatGood {
        target: Celsius,
        seconds: Seconds,
    },
    HomeWaits {
        left: usize,
    },
    Home {
        gap: Option<Micrometres>,
    },
    FeelerGoesIn {
        places: Vec<String>,
    },
    DepthOff {
        by: Micrometres,
        tolerance: Micrometres,
    },
    DepthUndecided {
        by: Micrometres,
        instrument: String,
        better: Option<String>,
    },
    CannotReckon {
        field: String,
        why: String,
    },
}

/// A verdict with what it rests on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Call {
    /// Go, undecided, look again or stop.
    pub verdict: Verdict,
    /// What was found.
    pub situation: Situation,
    /// The figure that was judged.
    pub figure: Option<Amount>,
    /// Lower and upper limit.
    pub limit: (Option<Amount>, Option<Amount>),
    /// Where the limit came from.
    pub source: String,
    /// What was predicted, if anything was.
    pub expected: Option<Amount>,
    /// Instruments with overdue calibration under this call.
    pub overdue: Vec<String>,
    /// False when the guard band was switched off.
    pub guarded: bool,
}

fn with_guard_band() -> bool {
    true
}

impl Situation {
    /// It says that metal is to be taken off, built up or thrown away for its size or its form.
    #[must_use]
    pub fn machines(&self) -> bool {
        matches!(self, Self::SizeOver { .. } | Self::SizeUnder { .. } | Self::OutOfRound { .. } | Self::Taper { .. })
    }
    /// Anchor of the paragraph of `docs/trade.md` that it rests on.
    #[must_use]
    pub fn why(&self) -> &'static str {
        match self {
            Self::NothingRead { .. } | Self::FitWaits { .. } | Self::HomeWaits { .. } => "measuring",
            Self::SizeGood { .. }
            | Self::SizeUndecided { .. }
            | Self::TooCoarse { .. }
            | Self::DepthUndecided { .. } => "judging",
            Self::SizeOver { .. } | Self::SizeUnder { .. } | Self::ReadAgain { .. } => "limits",
            Self::OutOfRound { .. } | Self::Taper { .. } | Self::FormUndecided { .. } => "form",
            Self::FitGood { .. } | Self::Spins { .. } | Self::CannotReckon { .. } => "interference-that-is-there",
            Self::ForceOverPress { .. } | Self::NoPress { .. } => "pressure-and-force",
            Self::NoTube { .. } => "which-ring-takes-the-force",
            Self::RingStressHigh { .. } | Self::Yields { .. } => "what-it-can-bear",
            Self::NoClearance { .. } | Self::LittleClearance { .. } | Self::MuchClearance { .. } => "clearance-left",
            Self::CapNotEnough { .. } | Self::HeatGood { .. } => "heating",
            Self::TightInHousing { .. } | Self::GrowsInBore { .. } => "light-metal",
            Self::GripShort { .. } => "cooling",
            Self::Home { .. } | Self::FeelerGoesIn { .. } | Self::DepthOff { .. } => "the-trace",
        }
    }
}

impl Call {
    /// A call without figures.
    #[must_use]
    pub fn of(verdict: Verdict, situation: Situation) -> Self {
        Self {
            verdict,
            situation,
            figure: None,
            limit: (None, None),
            source: String::new(),
            expected: None,
            overdue: Vec::new(),
            guarded: true,
        }
    }
    /// Adds the figure that was judged.
    #[must_use]
    pub fn figure(mut self, figure: Amount) -> Self {
        self.figure = Some(figure);
        self
    }
    /// Adds the limit and its source.
    #[must_use]
    pub fn limit(mut self, lo: Option<Amount>, hi: Option<Amount>, source: impl Into<String>) -> Self {
        self.limit = (lo, hi);
        self.source = source.into();
        self
    }
    /// `Go: inside its limits`.
    #[must_use]
    pub fn title(&self, units: Units) -> String {
        words::of(&self.situation, units).title
    }
    /// One sentence a mechanic would say.
    #[must_use]
    pub fn reason(&self, units: Units) -> String {
        words::of(&self.situation, units).reason
    }
    /// What to do, with its number.
    #[must_use]
    pub fn action(&self, units: Units) -> String {
        words::of(&self.situation, units).action
    }
}
