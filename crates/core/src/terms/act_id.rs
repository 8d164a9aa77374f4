//! Stable ids of acts: `on.b1`, `ask.nut.standout`, `at.de.journal`, `float.thrust#2`.

use super::StepKind;
use crate::refusal::Refusal;
use std::fmt;
use std::str::FromStr;

macro_rules! act_ids {
    ($($variant:ident $make:ident = $word:literal, $says:literal;)*) => {
        /// What an act is and what it is done to. Written as text in records; the text never changes.
        ///
        /// ```
        /// use ironseat_core::terms::ActId;
        /// use ironseat_core::terms::StepKind;
        /// let id: ActId = "float.thrust#2".parse()?;
        /// assert_eq!(id, ActId::Float("thrust".into()).in_round(2));
        /// assert_eq!((id.first_time(), id.to_string()), (&ActId::Float("thrust".into()), "float.thrust#2".into()));
        /// let seat = ActId::AtSeat { seat: "de".into(), step: StepKind::Journal };
        /// assert_eq!(seat.to_string().parse::<ActId>()?, seat);
        /// # Ok::<(), ironseat_core::Refusal>(())
        /// ```
        #[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Hash)]
        pub enum ActId {
            $(#[doc = $says] $variant(String),)*
            /// A seat's own step.
            AtSeat {
                /// Id of the seat.
                seat: String,
                /// Which step.
                step: StepKind,
            },
            /// The same once more, in the round that a reading opened.
            Again(Box<Self>, u32),
        }

        impl fmt::Display for ActId {
            fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                match self {
                    $(Self::$variant(of) => write!(f, concat!($word, ".{}"), of),)*
                    Self::AtSeat { seat, step } => write!(f, "at.{seat}.{}", step.key()),
                    Self::Again(id, n) => write!(f, "{id}#{n}"),
                }
            }
        }

        impl FromStr for ActId {
            type Err = Refusal;
            fn from_str(text: &str) -> Result<Self, Refusal> {
                let unknown = || Refusal::new("step", "expected the id of an act, such as on.b1");
                if let Some((id, n)) = text.rsplit_once('#') {
                    let n = n.parse().ok().filter(|n| *n >= 2).ok_or_else(unknown)?;
                    return Ok(Self::Again(Box::new(id.parse()?), n));
                }
                let (word, of) = text.split_once('.').filter(|x| !x.1.is_empty()).ok_or_else(unknown)?;
                match word {
                    $($word => Ok(Self::$variant(of.to_owned())),)*
                    "at" => {
                        let (seat, step) = of.rsplit_once('.').filter(|x| !x.0.is_empty()).ok_or_else(unknown)?;
                        Ok(Self::AtSeat { seat: seat.to_owned(), step: StepKind::of(step).ok_or_else(unknown)? })
                    }
                    _ => Err(unknown()),
                }
            }
        }

        impl ActId {
            $(#[doc = $says]
            #[must_use]
            pub fn $make(of: impl fmt::Display) -> Self {
                Self::$variant(of.to_string())
            })*
        }

        impl ActId {
            /// As it is written in records, and in answers of the program.
            #[must_use]
            pub fn text(&self) -> String {
                match self {
                    $(Self::$variant(of) => [concat!($word, "."), of].concat(),)*
                    Self::AtSeat { .. } | Self::Again(..) => self.to_string(),
                }
            }
        }

        #[cfg(test)]
        const WORDS: &[&str] = &[$($word),*];
    };
}

act_ids! {
    Adjust adjust = "adjust", "A plunger or oiler is set.";
    Ask ask = "ask", "What was found is written down: id of the question.";
    Back back = "back", "A flinger is backed off.";
    Bolts bolts = "bolts", "Bolts are drawn down in order.";
    Close close = "close", "An upper half goes on.";
    Down down = "down", "A rotor is let down on what carries it.";
    Drag drag = "drag", "The drag of a pair is read.";
    Drive drive = "drive", "A seal is driven home into its pocket.";
    Expand expand = "expand", "The screws of an expander are drawn up.";
    Float float = "float", "A float is read.";
    Free free = "free", "It turns free.";
    Gap gap = "gap", "A gap is read at its points.";
    Grease grease = "grease", "Grease goes in.";
    Heat heat = "heat", "A ring is heated.";
    Height height = "height", "A spacer is compared with its fellow.";
    Hole hole = "hole", "Drains and holes are free.";
    Hold hold = "hold", "A rotor is hung up before what carries it is undone.";
    Home home = "home", "What is on is proved home.";
    Key key = "key", "A key and its ways are measured.";
    Kit kit = "kit", "A new part is checked.";
    Land land = "land", "A land is looked at.";
    Lift lift = "lift", "The lift under a cap is read.";
    Lock lock = "lock", "It is locked.";
    Look look = "look", "A part is looked at.";
    Loosen loosen = "loosen", "It is loosened.";
    Mark mark = "mark", "Balance marks are compared once their nut is tight.";
    Nip nip = "nip", "A nut is nipped.";
    Oil oil = "oil", "Journal and shells are oiled before they are closed in.";
    Off off = "off", "It comes off.";
    Ohm ohm = "ohm", "Ohms of a wire are read.";
    Oiler oiler = "oiler", "An oiler is set.";
    On on = "on", "It goes on.";
    Open open = "open", "An upper half is lifted.";
    Plunger plunger = "plunger", "A plunger is set.";
    Preload preload = "preload", "The preload of a pair is read.";
    Prove prove = "prove", "The whole is proved.";
    Receive receive = "receive", "What comes in is made safe and looked at.";
    Release release = "release", "Oil lets a collar go.";
    Seat seat = "seat", "The seat of a bush is measured.";
    Set set = "set", "A nut is set to its mark or drag.";
    Shim shim = "shim", "A shim is changed.";
    Standout standout = "standout", "How far a nut stands out is read.";
    Straighten straighten = "straighten", "A tab is straightened.";
    Sweep sweep = "sweep", "Runout is swept.";
    Tab tab = "tab", "A tab is bent.";
    Tilt tilt = "tilt", "The tilt of a seal is read.";
    Torque torque = "torque", "It is tightened.";
    Unlock unlock = "unlock", "A lock is opened.";
    Volts volts = "volts", "The gap voltage of a probe is read.";
}

impl ActId {
    /// The same act without its round.
    #[must_use]
    pub fn first_time(&self) -> &Self {
        match self {
            Self::Again(id, _) => id.first_time(),
            id => id,
        }
    }
    /// Its round: 1 for the first time.
    #[must_use]
    pub fn round(&self) -> u32 {
        match self {
            Self::Again(_, n) => *n,
            _ => 1,
        }
    }
    /// The same act in a round.
    #[must_use]
    pub fn in_round(self, n: u32) -> Self {
        if n < 2 { self } else { Self::Again(Box::new(self), n) }
    }
    /// Body that goes on by it, whichever round.
    #[must_use]
    pub fn puts_on(&self) -> Option<&str> {
        match self.first_time() {
            Self::On(body) => Some(body),
            _ => None,
        }
    }
    /// Question that it writes down.
    #[must_use]
    pub fn asks(&self) -> Option<&str> {
        match self.first_time() {
            Self::Ask(question) => Some(question),
            _ => None,
        }
    }
    /// From the id of an act; none for a text that is not one.
    #[must_use]
    pub fn of(text: &str) -> Option<Self> {
        text.parse().ok()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn every_id_reads_back(word in prop::sample::select(WORDS), of in "[a-zA-Z0-9_-]{1,8}(\\.[a-z0-9]{1,6}){0,2}", n in 1u32..9) {
            let text = if n < 2 { format!("{word}.{of}") } else { format!("{word}.{of}#{n}") };
            let id: ActId = text.parse().unwrap();
            prop_assert_eq!(id.to_string(), text);
            prop_assert_eq!(id.round(), n);
            prop_assert_eq!(id.first_time().clone().in_round(n), id);
        }
        #[test]
        fn whatever_comes_in_ends_in_an_id_or_a_sentence(text in ".{0,40}") {
            if let Ok(id) = text.parse::<ActId>() {
                prop_assert_eq!(id.to_string().parse::<ActId>().unwrap(), id);
            }
        }
    }

    #[test]
    fn what_is_no_id_is_refused() {
        for text in ["", "on", "on.", ".x", "at.de", "at.de.nothing", "at..journal", "on.b#1", "on.b#x", "no.such"] {
            assert!(ActId::of(text).is_none(), "{text}");
        }
    }
}
