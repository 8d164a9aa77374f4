//! Decisions of a rebuild: what a person wants to do, and the state it stands in, give what is written to the record,
//! or a sentence that says what holds it. The store loads, locks and keeps; the rooms show.

mod event;
mod prefill;

mod seats;
mod state;
mod step_left;
#[cfg(test)]
mod tests;
pub mod urgency;

pub use event::{AnswerState, Clocked, Event, Read, Ticked};
pub use prefill::{prefill, questions_at, seat_at, suits};
pub use state::{Answer, Called, Clock, Done, Facing, Facts, HalfSigned, Judged, Reason, Repair, State};
pub use step_left::StepLeft;

use crate::anatomy::Unit;
use crate::anatomy::acts::{self, Act, first_time, open_round};
use crate::anatomy::as_found::{Topic, closure_of};
use crate::anatomy::body::whole;
use crate::inspect::{self, Disposition, Fate};
use crate::quantity::Units;
use crate::refusal::Refusal;
use crate::terms::ActId;
use crate::terms::End;
use crate::terms::Method;
use crate::terms::StepKind;
use crate::terms::Verdict;
use crate::terms::text;
use std::collections::BTreeSet;

/// Who does it.
#[derive(Debug, Clone, Copy)]
pub struct Who<'a> {
    /// Sign-in name: two people are told apart by it.
    pub person: &'a str,
    /// What an apprentice signs a second person counter-signs.
    pub apprentice: bool,
    /// A lead overrules critical limits and releases.
    pub lead: bool,
    /// Name of the role in records.
    pub role: &'a str,
    /// Units that plain numbers are typed in.
    pub units: Units,
}

/// What is said when an act is ticked; what an act does not ask for is blank.
#[derive(Debug, Clone, Default)]
#[allow(missing_docs)]
pub struct Ticking {
    /// The other person, where two are needed.
    pub second: String,
    /// What was measured, as typed.
    pub value: String,
    /// Why a number outside its limits may stay, or a part faces the other way.
    pub reason: String,
    /// The end that the part faces now, `A` or `B`, where it has two faces; empty where nobody said.
    pub faces: String,
    /// A temperature read off a ring, as typed.
    pub temperature: String,
}

/// What a person wants to do.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub enum Command {
    /// An act is done.
    Tick {
        act: String,
        said: Ticking,
    },
    /// Takes a tick back.
    TakeBack {
        act: String,
    },
    /// A wait is over: it is cold, it held, it has cured.
    WaitOver {
        act: String,
        /// Why, before its time: a temperature, what was looked at.
        why: String,
    },
    /// Chooses how a ring goes on.
    Choose {
        seat: String,
        method: Method,
    },
    /// The ring is on the heater: its clock starts.
    OnHeater {
        seat: String,
    },
    /// A thermometer on a ring that cools corrects its clock.
    Thermometer {
        seat: String,
        temperature: String,
    },
    /// Signs a seat; the PIN is looked at before.
    Sign {
        seat: String,
    },
    Overrule {
        seat: String,
        topic: String,
        reason: String,
    },
    Answer {
        question: String,
        state: AnswerState,
        value: String,
        note: String,
    },
    /// A face of a part was machined.
    Repair {
        part: String,
        what: String,
    },
    /// What becomes of a part that was looked at.
    Dispose {
        part: String,
        fate: Option<Fate>,
        reason: String,
        marks: Vec<String>,
    },
    /// What happened where a reading came far from what was foreseen.
    Explain {
        /// The sheet and the place, or the act.
        of: String,
        /// In words, with what was foreseen and what came.
        about: String,
        what: String,
    },
    /// That was noted by mistake.
    RepairBack {
        repair: String,
    },
    /// What has to come off for a part comes off again.
    BackOut {
        part: String,
    },
    /// Closes the rebuild; the PIN is looked at before.
    Release {
        reason: String,
    },
}

impl Command {
    /// A name is put under it: it takes the person's own PIN. Every command says so, so that none is forgotten.
    #[must_use]
    pub fn needs_pin(&self) -> bool {
        match self {
            Self::Sign { .. } | Self::Overrule { .. } | Self::Release { .. } => true,
            Self::Tick { .. }
            | Self::TakeBack { .. }
            | Self::WaitOver { .. }
            | Self::Choose { .. }
            | Self::OnHeater { .. }
            | Self::Thermometer { .. }
            | Self::Answer { .. }
            | Self::Repair { .. }
            | Self::Dispose { .. }
            | Self::Explain { .. }
            | Self::RepairBack { .. }
            | Self::BackOut { .. } => false,
        }
    }
    /// The seat whose figures it needs.
    #[must_use]
    pub fn judges<'a>(&'a self, s: &'a State) -> Option<&'a str> {
        match self {
            Self::Choose { seat, .. } | Self::OnHeater { seat } => Some(seat),
            Self::Tick { act, .. } => s
                .act(act)?
                .seat
                .as_ref()
                .filter(|x| matches!(x.1, StepKind::Heat | StepKind::PutOn))
                .map(|x| x.0.as_str()),
            Self::TakeBack { .. }
            | Self::WaitOver { .. }
            | Self::Thermometer { .. }
            | Self::Sign { .. }
            | Self::Overrule { .. }
            | Self::Answer { .. }
            | Self::Repair { .. }
            | Self::Dispose { .. }
            | Self::Explain { .. }
            | Self::RepairBack { .. }
            | Self::BackOut { .. }
            | Self::Release { .. } => None,
        }
    }
}

/// Why it is not done.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Denied {
    /// There is no such thing in this rebuild.
    NotThere,
    /// Held: what is missing, as a sentence.
    Held(String),
    /// Somebody was first.
    Conflict(String),
    /// An input, with what was expected.
    Refused(Refusal),
}

impl From<Refusal> for Denied {
    fn from(r: Refusal) -> Self {
        Self::Refused(r)
    }
}

/// Shorthand.
pub type Decision = std::result::Result<Vec<Event>, Denied>;

pub(crate) fn held<T>(words: impl Into<String>) -> std::result::Result<T, Denied> {
    Err(Denied::Held(words.into()))
}

/// Decides on a command: the entries that are written for it, in their order; nothing when it changes nothing.
///
/// # Errors
/// What holds it, who was first, or what was expected in which field.
pub fn decide(s: &State, who: &Who, command: &Command) -> Decision {
    if s.finished {
        return held("this rebuild is finished and signed: its record takes no more changes");
    }
    let mut out = decided(s, who, command)?;
    // What an apprentice has signed and somebody works on is signed anew: a second person sees what was signed.
    let worked: BTreeSet<&String> =
        out.iter().filter_map(works_on).filter(|x| s.half_signed.contains_key(*x)).collect();
    let opened = worked.into_iter().map(|x| Event::SignatureOpened {
        seat: x.clone(),
        reason: "work on it went on before it was counter-signed".into(),
    });
    let opened: Vec<Event> = opened.collect();
    out.extend(opened);
    Ok(out)
}

/// The seat whose work an event changes.
fn works_on(event: &Event) -> Option<&String> {
    match event {
        Event::Reopened { seat, .. } | Event::Overruled { seat, .. } | Event::Thermometer { seat, .. } => Some(seat),
        Event::Step { seat, step, .. } => (*step != StepKind::Sign).then_some(seat),
        Event::Started { .. }
        | Event::Reading(_)
        | Event::Correction(_)
        | Event::Instrument { .. }
        | Event::Given { .. }
        | Event::SignatureOpened { .. }
        | Event::Clock(_)
        | Event::Signed { .. }
        | Event::CounterSigned { .. }
        | Event::Ticked(_)
        | Event::Unticked { .. }
        | Event::WaitOver { .. }
        | Event::AsFound { .. }
        | Event::Round { .. }
        | Event::BackedOut { .. }
        | Event::Repaired { .. }
        | Event::Disposed { .. }
        | Event::Explained { .. }
        | Event::RepairTakenBack { .. }
        | Event::Picture { .. }
        | Event::PictureTakenAway { .. }
        | Event::Pinned { .. }
        | Event::PinTakenAway { .. }
        | Event::Version { .. }
        | Event::CarriedOver { .. }
        | Event::Bound { .. }
        | Event::Finished { .. } => None,
    }
}

fn decided(s: &State, who: &Who, command: &Command) -> Decision {
    match command {
        Command::Tick { act, said } => tick(s, who, act, said),
        Command::TakeBack { act } => take_back(s, who, act),
        Command::WaitOver { act, why } => wait_over(s, act, why),
        Command::Choose { seat, method } => seats::choose(s, who, seat, *method),
        Command::OnHeater { seat } => seats::on_heater(s, who, seat),
        Command::Thermometer { seat, temperature } => seats::thermometer(s, who, seat, temperature),
        Command::Sign { seat } => seats::sign(s, who, seat),
        Command::Overrule { seat, topic, reason } => overrule(s, who, seat, topic, reason),
        Command::Answer { question, state, value, note } => answer(s, who, question, *state, value, note),
        Command::Repair { part, what } => repair(s, part, what),
        Command::RepairBack { repair } => {
            let r = s.repairs.iter().find(|r| r.id == *repair).ok_or(Denied::NotThere)?;
            Ok(vec![Event::RepairTakenBack { part: r.part.clone(), what: r.what.clone(), repair: r.id.clone() }])
        }
        Command::Dispose { part, fate, reason, marks } => dispose(s, who, part, *fate, reason, marks),
        Command::Explain { of, about, what } => {
            let what = text::HAPPENED.read("what", what, |range| {
                format!("expected what happened, in {range}: “dial slipped”, “chip under the ring”")
            })?;
            Ok(vec![Event::Explained { of: of.clone(), about: about.clone(), what }])
        }
        Command::BackOut { part } => back_out(s, part),
        Command::Release { reason } => release(s, who, reason),
    }
}

/// Holds an act that is not free, with everything that is missing.
pub(crate) fn free(s: &State, who: &Who, act: &Act) -> std::result::Result<(), Denied> {
    match s.held(act, who.units) {
        Some(why) => held(format!("This step is held, {why}.")),
        None => Ok(()),
    }
}

/// What is kept with a tick: the value that is judged, the single readings, and why it may stay outside its limits.
#[derive(Default)]
struct Number {
    value: Option<f64>,
    unit: Option<Unit>,
    readings: Option<String>,
    reason: Option<String>,
    faces: Option<End>,
    /// Outside its limits, with a shim that can be changed for it: the next round mends it.
    round: bool,
}

fn tick(s: &State, who: &Who, id: &str, said: &Ticking) -> Decision {
    let act = s.act(id).ok_or(Denied::NotThere)?;
    if let Some(first) = s.done.get(id) {
        return Err(Denied::Conflict(format!("{} has ticked this already: it stands", first.by)));
    }
    if ActId::of(id).is_some_and(|i| i.asks().is_some()) {
        return held("say what was found, or that it cannot be told");
    }
    free(s, who, act)?;
    if let Some((seat, step)) = &act.seat {
        return seats::tick(s, who, seat, *step, said);
    }
    let second = if act.people > 1 {
        text::SECOND.read("second", &said.second, |range| {
            format!("two people do this: expected the other one's name, {range}")
        })?
    } else {
        String::new()
    };
    let mut number = measured(s, act, who, said)?;
    if number.value.is_none() {
        number = facing(s, act, said)?;
    }
    let mut out = vec![Event::Ticked(Ticked {
        step: id.to_owned(),
        second,
        value: number.value,
        unit: number.unit,
        reason: number.reason,
        readings: number.readings,
        faces: number.faces.map(|e| format!("end {}", e.letter())),
    })];
    if number.round {
        out.extend(round(s, act)?);
    }
    if act.wait_min > 0.0 {
        let label = format!("{}, {}", s.anatomy().name_of(&act.body), act.wait_word);
        out.push(Event::Clock(Clocked {
            step: id.to_owned(),
            seconds: (act.wait_min * 60.0).clamp(1.0, 86_400.0).round() as i32,
            label: label.trim_start_matches(", ").chars().take(160).collect(),
            ..Clocked::default()
        }));
    }
    Ok(out)
}

/// The shim that sets what a float reads.
fn shim_of<'a>(s: &'a State, act: &Act) -> Option<&'a str> {
    match ActId::of(&act.id)?.first_time() {
        ActId::Float(id) => s.anatomy().floats.iter().find(|f| f.id == *id)?.shim.as_deref(),
        _ => None,
    }
}

/// The number of an act, judged: outside its limits it stays only with a reason, or opens a round.
fn measured(s: &State, act: &Act, who: &Who, said: &Ticking) -> std::result::Result<Number, Denied> {
    let Some(m) = s.limits(act) else {
        if said.value.trim().is_empty() {
            return Ok(Number::default());
        }
        return Err(Refusal::new(
            "value",
            "this act asks for no number: leave it out, or write it in the note of the rebuild",
        )
        .into());
    };
    let (value, list) = m.read(&said.value, who.units)?;
    let readings = (list.len() > 1)
        .then(|| list.iter().map(|v| format!("{}", (v * 1e4).round() / 1e4)).collect::<Vec<_>>().join(" "));
    let kept = |reason: &str, round: bool| Number {
        value: Some(value),
        unit: Some(m.unit),
        readings: readings.clone(),
        reason: Some(reason.to_owned()),
        faces: None,
        round,
    };
    let Some(wrong) = m.against(value, who.units) else { return Ok(kept("", false)) };
    if shim_of(s, act).is_some() && said.reason.trim().is_empty() {
        return Ok(kept("", true));
    }
    let over = m.unit == Unit::NewtonMetre && m.hi.is_some_and(|h| value > h);
    let mend = if over {
        "it is over-tightened: slacken it, look for stretch, replace what stretched and tighten it anew; or say below what was measured and why it may stay"
    } else {
        "set it and measure again, or say below why it may stay so"
    };
    if said.reason.trim().is_empty() {
        return Err(Refusal::new("value", format!("{wrong}: {mend}")).wants("reason").into());
    }
    let reason = text::AGAINST.read("reason", &said.reason, |range| {
        format!("expected a reason that another fitter understands, of {range}")
    })?;
    Ok(kept(&reason, false))
}

/// Which way the part was put in, in the fitter's word: against the build sheet only with a reason.
fn facing(s: &State, act: &Act, said: &Ticking) -> std::result::Result<Number, Denied> {
    let Some(asked) = s.facing(act) else {
        if said.faces.is_empty() {
            return Ok(Number::default());
        }
        return Err(Refusal::new("faces", "this part is the same both ways").into());
    };
    let end = match said.faces.as_str() {
        // Of a pair it is known which way each faces: nothing else says that it carries thrust both ways.
        "" if asked.of_pair => {
            let words = "expected the end that it faces, A or B: it is one of a pair";
            return Err(Refusal::new("faces", words).into());
        }
        "" => return Ok(Number::default()),
        text => End::of(text).ok_or_else(|| Refusal::new("faces", "expected the end that it faces, A or B"))?,
    };
    // No reason makes a pair of it that carries thrust both ways.
    let own = whole(&act.body);
    if let Some(p) = s.in_tandem(Some((own, end)), |p| p.a == own || p.b == own) {
        return Err(Refusal::new("faces", state::tandem_words(s.anatomy(), p)).into());
    }
    let reason = match asked.sheet.filter(|sheet| *sheet != end) {
        None => String::new(),
        Some(sheet) => text::AGAINST.read("faces", &said.reason, |range| {
            let letter = sheet.letter();
            format!("the build sheet has it facing end {letter}: turn it round, or say in {range} why it is so")
        })?,
    };
    Ok(Number { faces: Some(end), reason: Some(reason), ..Number::default() })
}

/// A round for a reading outside its limits: the shim comes out, is changed, and the same acts follow again.
fn round(s: &State, act: &Act) -> std::result::Result<Option<Event>, Denied> {
    let Some(shim) = shim_of(s, act) else { return Ok(None) };
    let on = s.on();
    let have: Vec<&str> = on.iter().map(String::as_str).collect();
    let cost = s.kind.derived.back_out(s.anatomy(), &have, shim)?;
    let n = s.rounds.last().map_or(2, |r| r.n + 1);
    let mut done = s.done_ids();
    done.insert(act.id.clone());
    let off: Vec<String> = cost.opened.iter().chain(&cost.off).cloned().collect();
    // A seat's own steps are no part of a round: what is put on again is put on by hand, and its sheets stand.
    let machine: Vec<Act> =
        s.acts.iter().filter(|x| !matches!(ActId::of(&x.id), Some(ActId::AtSeat { .. }))).cloned().collect();
    let r = open_round(&machine, &done, n, &act.id, shim, &off);
    Ok(Some(Event::Round { n: r.n, reading: r.reading, shim: r.shim, off: r.off, again: r.again }))
}

fn take_back(s: &State, who: &Who, id: &str) -> Decision {
    let act = s.act(id).ok_or(Denied::NotThere)?;
    let own = s.done.get(id);
    if let (Some((_, step)), Some(d)) = (&act.seat, own)
        && d.of_seat
    {
        if *step == StepKind::Sign {
            return held("a signature is not taken back: write what changed as a new reading");
        }
        if step.sheet().is_some() {
            return held("its readings say that it is done: correct the reading that is wrong in its cell");
        }
    }
    if own.is_some_and(|d| d.carried) {
        return held("it was not asked for when this was done: it counts as done with what came after it");
    }
    if let Some(rests) = s.resting_on(id) {
        return held(format!(
            "“{}” rests on it: take that back first.",
            rests.words.say(who.units).trim_end_matches('.')
        ));
    }
    match (own, &act.seat) {
        (Some(d), Some((seat, step))) if d.of_seat => {
            if s.step(seat, *step).is_none() {
                return held("what came after it says that it is done: take that back first");
            }
            Ok(vec![Event::Reopened { seat: seat.clone(), step: *step }])
        }
        (Some(_), _) => Ok(vec![Event::Unticked { step: id.to_owned() }]),
        // Twice is once.
        (None, Some(_)) => Ok(Vec::new()),
        (None, None) => held("this is not ticked: somebody took it back already"),
    }
}

fn wait_over(s: &State, id: &str, why: &str) -> Decision {
    // Clocks of seats name no act: only their own steps end them.
    let _ = s.act(id).ok_or(Denied::NotThere)?;
    match s.clocks.iter().find(|k| k.step == id) {
        Some(k) => {
            let left_s = k.left(s.now);
            // Cold, dry or cured comes from the clock; who cuts it short says what was read.
            let rule = text::Text { least: if left_s > 0 { text::HAPPENED.least } else { 0 }, ..text::HAPPENED };
            let why = rule.read("reason", why, |_| {
                let range = text::HAPPENED.range();
                format!("its clock runs: say in {range} how you know that it is over, such as “24 °C by the probe” or “hard on the sample”")
            })?;
            let why = if left_s > 0 { why } else { String::new() };
            Ok(vec![Event::WaitOver { step: id.to_owned(), left_s, why }])
        }
        None => held("no clock runs for this step"),
    }
}

fn overrule(s: &State, who: &Who, seat: &str, topic: &str, reason: &str) -> Decision {
    let reason = text::OVERRULE.read("reason", reason, |range| {
        format!("expected the reason in a sentence, {range}: it stands on the certificate")
    })?;
    let critical = s.anatomy().seat(seat).ok_or(Denied::NotThere)?.critical;
    if who.apprentice {
        return held("an apprentice does not overrule: ask somebody who signs alone");
    }
    if critical && !who.lead {
        return held("the limits of this seat are critical: only a lead may overrule them");
    }
    if s.call(seat, topic).is_none_or(|c| c.verdict().is_none_or(|v| v == Verdict::Go)) {
        return held("there is nothing to overrule here");
    }
    if s.call(seat, topic).is_some_and(|c| c.overruled_by.is_some() && c.overrule_reason == reason) {
        // Pressed twice it is overruled once.
        return Ok(Vec::new());
    }
    Ok(vec![Event::Overruled {
        seat: seat.to_owned(),
        topic: topic.to_owned(),
        reason,
        critical,
        role: who.role.to_owned(),
    }])
}

fn answer(s: &State, who: &Who, question: &str, state: AnswerState, value: &str, note: &str) -> Decision {
    let value = &text::FOUND.read("value", value, |range| format!("expected what was found, {range}"))?;
    let note = text::NOTE.read("note", note, |range| format!("expected what there is to say, {range}"))?;
    let q = s.question(question).ok_or(Denied::NotThere)?;
    let id = ActId::Ask(question.to_owned()).to_string();
    // What is still hidden was not found, and a new mark can only be written down once it is made. That something
    // cannot be told may be said at any time.
    let found = state == AnswerState::Recorded || question.starts_with("again.");
    // What the work itself raised holds its part off until it is answered.
    if q.topic.later() && state != AnswerState::Recorded {
        let words = if q.topic == Topic::New {
            "expected the number or batch of the new part: until it is here its place stays empty"
        } else {
            "expected which is right, what was found or the build sheet, and by what one knows"
        };
        return Err(Refusal::new("value", words).into());
    }
    if let Some(act) = s.act(&id).filter(|_| found) {
        free(s, who, act)?;
    }
    let same = |old: &Answer, value: &str| old.state == state && old.value == value && old.note == note;
    let value = match (state, q.topic.unit()) {
        (AnswerState::Recorded, None) => {
            q.read(value, who.units)?;
            value.to_owned()
        }
        // Kept in its own unit, whatever it was typed in.
        (AnswerState::Recorded, Some(unit)) => {
            let word = match unit {
                Unit::Mm => " mm",
                Unit::Um => " um",
                Unit::Ohm | Unit::Degree | Unit::NewtonMetre | Unit::Volt => "",
            };
            let list: Vec<String> =
                q.read(value, who.units)?.iter().map(|v| format!("{}{word}", (v * 1e4).round() / 1e4)).collect();
            list.join("; ")
        }
        _ => String::new(),
    };
    if s.answers.get(question).is_some_and(|old| same(old, &value)) && s.is_done(&id) {
        // Pressed twice it is said once.
        return Ok(Vec::new());
    }
    let mut out = vec![Event::AsFound { question: question.to_owned(), state, value, note }];
    // How a ring is closed decides its heat: what was signed on the other word is signed again.
    let seat = s.anatomy().seats.iter().find(|x| closure_of(&x.id) == question && s.under_signature(&x.id));
    out.extend(
        seat.map(|x| Event::SignatureOpened {
            seat: x.id.clone(),
            reason: "how its ring is closed was said anew".into(),
        }),
    );
    Ok(out)
}

fn repair(s: &State, part: &str, what: &str) -> Decision {
    let what = text::REPAIR.read("what", what, |range| {
        format!("expected what was done to it, in {range}, such as “A face ground 0.05 mm”")
    })?;
    let a = s.anatomy();
    let name = &a.part(part).ok_or_else(|| Refusal::new("part", "choose the part that was machined"))?.name;
    let void = acts::voided_by(a, part);
    if void.is_empty() {
        return held(format!("no mark rests on {name}: nothing has to be asked again"));
    }
    if s.is_done(&ActId::On(part.to_owned()).to_string()) {
        return held(format!("{name} is on: back it out first, then say what was done to it"));
    }
    Ok(vec![Event::Repaired { part: part.to_owned(), what, void }])
}

/// What becomes of a part; looked at with it, where that is what it waited for.
fn dispose(s: &State, who: &Who, part: &str, fate: Option<Fate>, reason: &str, marks: &[String]) -> Decision {
    let a = s.anatomy();
    if a.part(part).is_none() && !a.housings.iter().any(|h| h.id == part) {
        return Err(Denied::NotThere);
    }
    let look = s.act(&ActId::Look(part.to_owned()).to_string()).filter(|x| !s.is_done(&x.id));
    if let Some(act) = look {
        // What is still in its place nobody has looked at.
        free(s, who, act)?;
    }
    if s.fitted().contains(part) {
        return held(format!("{} is on: back it out first, then say what becomes of it", a.name_of(part)));
    }
    let fate = fate.ok_or_else(|| Refusal::new("fate", "choose what becomes of it"))?;
    let what = Fate::ALL.iter().find(|f| f.0 == fate).map_or("", |f| f.3);
    let rule = text::Text { least: if fate.wants_reason() { text::FATE.least } else { 0 }, ..text::FATE };
    let reason = rule.read("reason", reason, |_| format!("expected {what}, in {}", text::FATE.range()))?;
    let asked = inspect::on_part(a, part);
    let mut seen: Vec<String> = Vec::new();
    for m in marks {
        if asked.is_none() || inspect::mark(m).map(|m| m.on) != asked {
            return Err(Refusal::new("marks", "this mark is not known here").into());
        }
        if !seen.contains(m) {
            seen.push(m.clone());
        }
    }
    let ends = seen.iter().filter_map(|m| inspect::mark(m)).find(|m| m.ends);
    if let Some(m) = ends.filter(|_| matches!(fate, Fate::Reuse | Fate::Dress) && !text::AGAINST.fits(&reason)) {
        let words = format!(
            "{} means that it is done for: replace it, or say in {} letters or more why it goes on again",
            m.seen.to_lowercase(),
            text::AGAINST.least
        );
        return Err(Refusal::new("fate", words).into());
    }
    let same = |d: &Disposition| d.fate == fate && d.reason == reason && d.marks == seen;
    let mut out = Vec::new();
    if s.disposed.get(part).is_none_or(|d| !same(d)) {
        out.push(Event::Disposed { part: part.to_owned(), fate, reason, marks: seen });
    }
    if let Some(act) = look {
        out.extend(decided(s, who, &Command::Tick { act: act.id.clone(), said: Ticking::default() })?);
    }
    Ok(out)
}

fn back_out(s: &State, part: &str) -> Decision {
    let cost = s.cost(part)?;
    if cost.off.is_empty() && cost.opened.is_empty() {
        return held("nothing has to come off for it");
    }
    Ok(vec![Event::BackedOut {
        part: part.to_owned(),
        off: cost.off,
        scrapped: cost.scrapped,
        minutes: cost.minutes,
        opened: cost.opened,
        acts: cost.acts,
    }])
}

fn release(s: &State, who: &Who, reason: &str) -> Decision {
    if !who.lead {
        return held("only a lead closes a rebuild");
    }
    let open: Vec<&str> = s.anatomy().seats.iter().filter(|x| !s.signed(&x.id)).map(|x| x.name.as_str()).collect();
    if !open.is_empty() {
        return held(format!("not signed yet: {}", open.join(", ")));
    }
    let (done, all) = s.progress();
    let said = match all - done {
        0 => "released".to_owned(),
        n => {
            let left = if n == 1 {
                "one step of the trail is open".to_owned()
            } else {
                format!("{n} steps of the trail are open")
            };
            let reason = text::RELEASE.read("reason", reason, |range| {
                format!("{left}: work them, or say in {range} why it is released like this")
            })?;
            format!("released with {n} steps of the trail open: {reason}")
        }
    };
    Ok(vec![Event::Finished { role: who.role.to_owned(), said }])
}

/// What an entry opens again.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Opened {
    /// Ticks that no longer stand, and what was done on top of them.
    pub acts: BTreeSet<String>,
    /// Seats that are put on, proved and signed again; what was measured and said of them stays on record.
    pub seats: Vec<String>,
}

/// Steps of a seat that are done again once it was off.
pub const AGAIN: [StepKind; 6] =
    [StepKind::Heat, StepKind::PutOn, StepKind::Cool, StepKind::Home, StepKind::Nip, StepKind::Sign];

impl State {
    /// What an entry opens again.
    #[must_use]
    pub fn opened_by(&self, event: &Event) -> Opened {
        match event {
            Event::BackedOut { off, opened, acts, scrapped, .. } => {
                let parts: Vec<&str> = off.iter().map(|id| whole(id)).collect();
                let seats = self
                    .anatomy()
                    .seats
                    .iter()
                    .filter(|x| parts.contains(&x.part.as_str()))
                    .map(|x| x.id.clone())
                    .collect();
                Opened { acts: self.and_what_rests_on(self.undone(off, opened, acts, scrapped)), seats }
            }
            Event::Repaired { part, .. } | Event::RepairTakenBack { part, .. } => {
                Opened { acts: self.and_what_rests_on(acts::opened_by(self.anatomy(), part)), seats: Vec::new() }
            }
            _ => Opened::default(),
        }
    }

    /// Acts, and everything done that rests on them.
    #[must_use]
    pub fn and_what_rests_on(&self, mut open: BTreeSet<String>) -> BTreeSet<String> {
        loop {
            let more: Vec<String> = self
                .acts
                .iter()
                .filter(|x| {
                    self.is_done(&x.id) && !open.contains(&x.id) && x.before.iter().any(|b| open.contains(&b.id))
                })
                .map(|x| x.id.clone())
                .collect();
            if more.is_empty() {
                return open;
            }
            open.extend(more);
        }
    }

    /// Ticks that no longer stand once something has come off: placing, closing, and the locks that were opened for it.
    fn undone(&self, off: &[String], opened: &[String], locks: &[String], scrapped: &[String]) -> BTreeSet<String> {
        let mut first: BTreeSet<ActId> = BTreeSet::new();
        for id in off {
            first.extend([ActId::On(id.clone()), ActId::Heat(id.clone())]);
        }
        first.extend(opened.iter().map(|h| ActId::Close(h.clone())));
        // The number of what is scrapped is the next one's no more.
        first.extend(scrapped.iter().map(|p| ActId::ask(acts::new_of(p))));
        for id in locks {
            first.extend(match ActId::of(id) {
                Some(ActId::Loosen(x)) => {
                    vec![ActId::Nip(x.clone()), ActId::Torque(x.clone()), ActId::Set(x.clone()), ActId::Bolts(x)]
                }
                Some(ActId::Straighten(x)) => vec![ActId::Tab(x)],
                Some(ActId::Unlock(x)) => vec![ActId::Lock(x)],
                _ => vec![],
            });
        }
        let hit = |x: &&Act| ActId::of(first_time(&x.id)).is_some_and(|id| first.contains(&id));
        self.acts.iter().filter(hit).map(|x| x.id.clone()).collect()
    }
}
