//! What is written to the record of a rebuild: one entry for every change. Kind and body keep their text for ever; old
//! records are read with the same types.

use crate::anatomy::Unit;
use crate::decide::{State, StepLeft};
use crate::inspect::{self, Fate};
use crate::quantity::{Celsius, Units, show};
use crate::sheet::{Declared, Given, SheetKind};
use crate::terms::{ActId, StepKind};
use serde::{Deserialize, Serialize};

/// One entry.
///
/// ```
/// use ironseat_core::decide::Event;
/// let e = Event::read("unticked", r#"{"step":"on.ring"}"#).unwrap();
/// assert_eq!(e, Event::Unticked { step: "on.ring".into() });
/// assert_eq!((e.kind(), e.body()), ("unticked".into(), r#"{"step":"on.ring"}"#.into()));
/// ```
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", content = "body", rename_all = "lowercase")]
#[allow(missing_docs)] // fields are named as in the record
pub enum Event {
    Started {
        number: String,
        title: String,
        customer: String,
        anatomy: String,
        version: u32,
    },
    Reading(Read),
    /// A reading over one that stood: what stood is `over`.
    Correction(Read),
    Instrument {
        seat: String,
        sheet: String,
        instrument: String,
        #[serde(default, skip_serializing_if = "String::is_empty")]
        act: String,
    },
    /// What stands beside the readings of an act's sheet.
    Given {
        act: String,
        sheet: String,
        given: Given,
    },
    /// A step of a seat is done; what it left: the method, a temperature.
    Step {
        seat: String,
        step: StepKind,
        detail: String,
    },
    Reopened {
        seat: String,
        step: StepKind,
    },
    /// What was signed is another now: it is signed again.
    #[serde(rename = "signature opened")]
    SignatureOpened {
        seat: String,
        reason: String,
    },
    Clock(Clocked),
    /// A thermometer on a ring that cools corrects its clock.
    Thermometer {
        seat: String,
        c: f64,
        seconds: f64,
    },
    Overruled {
        seat: String,
        topic: String,
        reason: String,
        critical: bool,
        role: String,
    },
    Signed {
        seat: String,
        role: String,
    },
    /// A second person has looked at what an apprentice signed.
    #[serde(rename = "counter-signed")]
    CounterSigned {
        seat: String,
        role: String,
        of: String,
    },
    Ticked(Ticked),
    Unticked {
        step: String,
    },
    #[serde(rename = "wait over")]
    WaitOver {
        step: String,
        left_s: i64,
        /// Why it was over before its time.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        why: String,
    },
    #[serde(rename = "as found")]
    AsFound {
        question: String,
        state: AnswerState,
        value: String,
        note: String,
    },
    /// A reading outside its limits: the shim comes out, and the same acts follow again.
    Round {
        n: u32,
        reading: String,
        shim: String,
        off: Vec<String>,
        again: Vec<String>,
    },
    #[serde(rename = "backed out")]
    BackedOut {
        #[serde(rename = "for")]
        part: String,
        off: Vec<String>,
        scrapped: Vec<String>,
        minutes: f64,
        /// Upper halves that are lifted and locks that are opened for it: what is opened again follows from them.
        #[serde(skip)]
        opened: Vec<String>,
        #[serde(skip)]
        acts: Vec<String>,
    },
    Repaired {
        part: String,
        what: String,
        void: Vec<String>,
    },
    /// What becomes of a part that was looked at.
    Disposed {
        part: String,
        fate: Fate,
        reason: String,
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        marks: Vec<String>,
    },
    /// What happened where a reading came far from what was foreseen.
    Explained {
        /// The sheet and the place, or the act.
        of: String,
        /// In words, with what was foreseen and what came.
        about: String,
        what: String,
    },
    #[serde(rename = "repair taken back")]
    RepairTakenBack {
        part: String,
        what: String,
        /// Surface: known while it is decided.
        #[serde(skip)]
        repair: String,
    },
    Picture {
        question: String,
        picture: String,
        sha256: String,
    },
    #[serde(rename = "picture taken away")]
    PictureTakenAway {
        picture: String,
    },
    /// An answer of the Reckoner is kept with the rebuild.
    Pinned {
        name: String,
        about: String,
        pin: String,
        #[serde(default, skip_serializing_if = "Option::is_none")]
        replaces: Option<String>,
    },
    #[serde(rename = "pin taken away")]
    PinTakenAway {
        pin: String,
    },
    Version {
        from: u32,
        to: u32,
        changes: Vec<String>,
        opened: Vec<String>,
        #[serde(rename = "no longer")]
        no_longer: Vec<String>,
    },
    #[serde(rename = "carried over")]
    CarriedOver {
        derivation: i32,
        ticks: Vec<String>,
    },
    /// Rows that were kept before entries spoke for rows are spoken for from here on.
    Bound {
        rows: usize,
    },
    Finished {
        role: String,
        said: String,
    },
}

/// A reading in the record.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct Read {
    pub reading: String,
    pub seat: String,
    pub sheet: String,
    pub cell: String,
    pub value: f64,
    pub typed: String,
    pub instrument: Option<String>,
    /// What stood in the cell before, as it was typed.
    pub over: Option<String>,
    /// The act whose sheet it is, and what stood beside its readings; empty for a sheet of a seat.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub act: String,
    /// The place as it was called there.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub place: String,
}

/// A clock in the record: of a seat, or of an act that waits.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct Clocked {
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub seat: String,
    /// `heat` or `cool` at a seat.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub clock: String,
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub step: String,
    pub seconds: i32,
    pub label: String,
}

/// A tick in the record.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct Ticked {
    pub step: String,
    pub second: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub faces: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub value: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub unit: Option<Unit>,
    /// Why a number outside its limits may stay, or a part faces the other way.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reason: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub readings: Option<String>,
}

/// Recorded, or why not.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum AnswerState {
    Recorded,
    CannotTell,
    NotPresent,
}

impl AnswerState {
    /// All, with their names in records.
    pub const ALL: [(Self, &'static str, &'static str); 3] = [
        (Self::Recorded, "recorded", "recorded"),
        (Self::CannotTell, "cannot_tell", "cannot tell"),
        (Self::NotPresent, "not_present", "not present"),
    ];
    /// From its name in records.
    #[must_use]
    pub fn of(key: &str) -> Option<Self> {
        Self::ALL.iter().find(|s| s.1 == key).map(|s| s.0)
    }
    /// Name in records.
    #[must_use]
    pub fn key(self) -> &'static str {
        Self::ALL.iter().find(|s| s.0 == self).map_or("", |s| s.1)
    }
    /// As said.
    #[must_use]
    pub fn word(self) -> &'static str {
        Self::ALL.iter().find(|s| s.0 == self).map_or("", |s| s.2)
    }
}

impl Event {
    fn parts(&self) -> (String, serde_json::Value) {
        match serde_json::to_value(self) {
            Ok(serde_json::Value::Object(mut o)) => {
                let kind = o.get("kind").and_then(serde_json::Value::as_str).unwrap_or_default().to_owned();
                (kind, o.remove("body").unwrap_or_default())
            }
            _ => (String::new(), serde_json::Value::Null),
        }
    }
    /// Its kind, as written.
    #[must_use]
    pub fn kind(&self) -> String {
        self.parts().0
    }
    /// Its body, as written.
    #[must_use]
    pub fn body(&self) -> String {
        self.parts().1.to_string()
    }
    /// Reads an entry back; none for a kind that is not known here, or a body that is not of its kind.
    #[must_use]
    pub fn read(kind: &str, body: &str) -> Option<Self> {
        let body: serde_json::Value = serde_json::from_str(body).ok()?;
        serde_json::from_value(serde_json::json!({"kind": kind, "body": body})).ok()
    }

    /// As the ledger says it: acts, seats and questions by their names in this machine.
    #[must_use]
    #[expect(clippy::too_many_lines, reason = "a phrase book: an arm an event")]
    pub fn say(&self, s: &State, units: Units) -> String {
        let a = &s.kind.anatomy;
        let seat = |id: &str| a.seat(id).map_or(id.to_owned(), |x| x.name.clone());
        let act = |id: &str| s.act(id).map_or(id.to_owned(), |x| x.words.say(units).trim_end_matches('.').to_owned());
        let question =
            |id: &str| s.question(id).map_or(id.to_owned(), |q| q.words.trim_end_matches(['.', '?']).to_owned());
        let step = |k: &StepKind| k.name().to_lowercase();
        let sheet = |key: &str| match (SheetKind::of(key).and_then(|_| StepKind::of(key)), Declared::of(key)) {
            (Some(k), _) => k.name().to_lowercase(),
            (_, Some(d)) => d.title.to_lowercase(),
            _ => key.replace('_', " "),
        };
        // Cells by what they are called on their sheet, never by their key.
        let cell = |r: &Read| {
            let of_seat = || SheetKind::of(&r.sheet)?.cells().into_iter().find(|c| c.key == r.cell).map(|c| c.label);
            let named = Some(r.place.clone()).filter(|p| !p.is_empty());
            named.or_else(of_seat).unwrap_or_else(|| r.cell.clone())
        };
        let on = |of: &str, at: &str, key: &str| {
            if of.is_empty() { format!("{}, {}", seat(at), sheet(key)) } else { format!("{}, {}", act(of), sheet(key)) }
        };
        let behind = |text: &str| if text.is_empty() { String::new() } else { format!(", {text}") };
        let minutes = |s: i64| format!("{} min {} s", s / 60, s % 60);
        match self {
            Self::Started { anatomy, version, .. } => format!("Started from {anatomy} version {version}"),
            Self::Reading(r) => {
                let with = behind(r.instrument.as_deref().unwrap_or(""));
                format!("{}, {}: {}{with}", on(&r.act, &r.seat, &r.sheet), cell(r), r.typed)
            }
            Self::Correction(r) => {
                let over = r.over.as_deref().unwrap_or("nothing");
                format!("{}, {}: {} over {over}", on(&r.act, &r.seat, &r.sheet), cell(r), r.typed)
            }
            Self::Instrument { seat: at, sheet: of, instrument, act } => {
                format!("{}: took the {instrument}", on(act, at, of))
            }
            Self::Given { act: of, sheet: name, given } => {
                let fields = Declared::of(name).map_or_else(Vec::new, Declared::given);
                let about = |k: &String| fields.iter().find(|f| f.name == *k).map_or("", |f| f.about);
                let said: Vec<String> = given
                    .fields
                    .iter()
                    .map(|(k, v)| format!("{} {}", about(k), crate::reckon::said(k, v, units)).trim().to_owned())
                    .collect();
                format!(
                    "{}, {}: given {}",
                    act(of),
                    sheet(name),
                    if said.is_empty() { "nothing".into() } else { said.join(", ") }
                )
            }
            Self::Step { seat: at, step: k, detail } => {
                let left = StepLeft::of(detail);
                format!("{}: {}{}{}", seat(at), step(k), behind(&left.says(units)), behind(left.reason))
            }
            Self::SignatureOpened { seat: at, reason } => {
                format!("{}: to be signed again, for what was signed is another now: {reason}", seat(at))
            }
            Self::Reopened { seat: at, step: k } => format!("{}: took back “{}”", seat(at), step(k)),
            Self::Clock(k) => format!("{}: clock set, {}", k.label, minutes(k.seconds.into())),
            Self::Thermometer { seat: at, c, .. } => {
                let read = Celsius::new(*c).map_or(String::new(), |c| show::join(show::temperature(c, units)));
                format!("{}: thermometer says {read}", seat(at))
            }
            Self::Overruled { seat: at, topic, reason, .. } => {
                let topic = if topic == "fit" { "the fit".into() } else { sheet(topic) };
                format!("{}, {topic}: overruled, {reason}", seat(at))
            }
            Self::Signed { seat: at, role } => format!("{}: signed as {role}", seat(at)),
            Self::CounterSigned { seat: at, role, of } => {
                format!("{}: counter-signed as {role} for {of}", seat(at))
            }
            Self::Ticked(t) => {
                let with = if t.second.is_empty() { String::new() } else { format!(", with {}", t.second) };
                let read = t.value.zip(t.unit).map_or(String::new(), |(v, u)| format!(", {}", u.show(v, units)));
                let faces = t.faces.as_ref().map_or(String::new(), |f| format!(", faces {f}"));
                let why =
                    t.reason.as_ref().filter(|r| !r.is_empty()).map_or(String::new(), |r| format!(", left so: {r}"));
                format!("{}: done{read}{faces}{with}{why}", act(&t.step))
            }
            Self::Unticked { step } => format!("{}: taken back", act(step)),
            Self::WaitOver { step, left_s, why } if *left_s > 0 => {
                format!("{}: the wait is over, {} before its time{}", act(step), minutes(*left_s), behind(why))
            }
            Self::WaitOver { step, .. } => format!("{}: the wait is over", act(step)),
            Self::AsFound { question: q, state, value, note } => {
                let found =
                    if *state == AnswerState::Recorded { shown(s, q, value, units) } else { state.word().to_owned() };
                format!("As found, {}: {found}{}", question(q), behind(note))
            }
            Self::Round { n, reading, shim, .. } => {
                format!("{}: outside its limits, round {n} opened; {} is changed", act(reading), a.name_of(shim))
            }
            Self::BackedOut { part, off, .. } => {
                let off: Vec<&str> = off.iter().map(|p| a.name_of(p)).collect();
                format!("Backed out for {}: {}", a.name_of(part), off.join(", "))
            }
            Self::Repaired { part, what, void } => {
                let void: Vec<String> = void.iter().map(|q| question(q)).collect();
                format!("{} machined: {what}. Void: {}", a.name_of(part), void.join("; "))
            }
            Self::Disposed { part, fate, reason, marks } => {
                let seen: Vec<String> =
                    marks.iter().filter_map(|m| inspect::mark(m)).map(|m| m.seen.to_lowercase()).collect();
                let behind = [reason.clone(), seen.join("; ")].into_iter().filter(|x| !x.is_empty());
                let behind: String = behind.map(|x| format!(". {x}")).collect();
                format!("{}: {}{behind}", a.name_of(part), fate.word().to_lowercase())
            }
            Self::Explained { about, what, .. } => format!("{about}: {what}"),
            Self::RepairTakenBack { part, what, .. } => format!("{}: “{what}” was noted by mistake", a.name_of(part)),
            Self::Picture { question: q, sha256, .. } => {
                format!("Picture beside “{}”, {}", question(q), sha256.chars().take(12).collect::<String>())
            }
            Self::PictureTakenAway { .. } => "A picture taken away".into(),
            Self::Pinned { name, about, replaces, .. } => {
                let again =
                    if replaces.is_some() { "reckoned again and pinned in its place" } else { "reckoned and pinned" };
                format!("“{}”{}: {again}", crate::reckon::question(name), behind(about))
            }
            Self::PinTakenAway { .. } => "A reckoned sheet taken away".into(),
            Self::Version { from, to, .. } => format!("Version {to} taken over instead of {from}"),
            Self::Bound { rows } => {
                format!("Everything kept until here, {rows} rows, is bound to the record from here on")
            }
            Self::CarriedOver { ticks, .. } => {
                format!("Carried over to the acts of today: {} more count as done", ticks.len())
            }
            Self::Finished { said, .. } => {
                if said.is_empty() {
                    "Released".into()
                } else {
                    show::capital(said)
                }
            }
        }
    }
}

/// What was found, in the reader's units where it is a number.
fn shown(s: &State, question: &str, value: &str, units: Units) -> String {
    let read = s
        .question(question)
        .and_then(|q| Some((q.topic.unit()?, q.read(value, Units::Metric).ok().filter(|l| !l.is_empty())?)));
    read.map_or_else(
        || value.to_owned(),
        |(unit, list)| list.iter().map(|v| unit.show(*v, units)).collect::<Vec<_>>().join(", "),
    )
}

/// Ids of acts in an entry: what a reader of the record looks them up by.
impl Ticked {
    /// The act, where the record names one that is known.
    #[must_use]
    pub fn act(&self) -> Option<ActId> {
        ActId::of(&self.step)
    }
}
