//! The act in hand: its words, what holds it, what it asks for, its clock, and at a seat its sheet, choices and
//! figures.

use crate::ground::address::encode;
use crate::ground::view::{ClockView, moment_of};
use crate::parts::act_sheets::{SheetRow, left_for, offered, questions};
use crate::parts::call::why_of_seat;
use crate::parts::drawn::drawn;
use crate::parts::fit::FitView;
use crate::parts::forecast::value;
use crate::parts::found::found_words;
use crate::rooms::bench::BenchQuery;
use chrono_tz::Tz;
use ironseat_core::anatomy::acts::{Act, shim_change};
use ironseat_core::anatomy::as_found::{self, Ask, Question, Topic};
use ironseat_core::anatomy::{SeatFacts, Unit};
use ironseat_core::decide::{Done, State, StepLeft, Who};
use ironseat_core::inspect::{self, Fate, Mark};
use ironseat_core::quantity::{Millimetres, Units, show as fmt};
use ironseat_core::reckon::reckon;
use ironseat_core::seat::asks::of_seat;
use ironseat_core::seat::{Fit, steps};
use ironseat_core::sheet::{self, SheetKind};
use ironseat_core::terms::{ActId, End, Method, StepKind, Surface};
use ironseat_drawing::{ClockFace, LandView, clock_face, land_view, mark_sample};
use ironseat_store::PictureId;
use ironseat_store::read::bench::Bench;
use ironseat_store::read::forecasts::Seen;
use ironseat_store::rows::person::Person;
use serde_json::Value;

pub struct PictureView {
    pub id: PictureId,
    pub alt: String,
    pub by: String,
}

pub struct AskForm {
    pub question: String,
    /// `facing`, `angle`, `hand`, `number` or `words`.
    pub kind: &'static str,
    /// Above the field.
    pub label: &'static str,
    /// It is not left unsaid.
    pub wanted: bool,
    pub hint: &'static str,
    pub state: &'static str,
    pub value: String,
    pub note: String,
    /// Where touching the drawn part leads.
    pub flip: String,
    /// Clock drawing of an angle.
    pub face: String,
    pub pictures: Vec<PictureView>,
    pub picture_id: PictureId,
}

pub struct MeasureForm {
    pub hint: &'static str,
    pub limit: String,
    pub source: String,
    pub found: String,
    pub value: String,
    /// Title of the sheet that it was read on.
    pub from: &'static str,
    pub reason: String,
    /// How many readings make it.
    pub points: u32,
    /// The reason is asked for once a number lies outside.
    pub outside: bool,
}

/// What a seat's own step shows more than an act of the machine.
pub struct SeatHand {
    pub seat: String,
    pub step: &'static str,
    /// Its sheet, where one says that it is done.
    pub sheet: String,
    /// The surface that is measured.
    pub picture: String,
    pub fit: Option<FitView>,
    /// Temperature on the inner ring.
    pub target: String,
    /// It goes on under a press.
    pub presses: bool,
    /// It goes on hot: it grips by itself.
    pub heats: bool,
    /// The housing is warmed for it.
    pub warms: bool,
    /// The ring is on: the way it went on is history.
    pub settled: bool,
    /// A lead overruled the fit: any way may be taken.
    pub any_way: bool,
    /// How the ring cools and where it grips, drawn; nothing where it is not heated.
    pub cooling: String,
    /// An apprentice has signed, and nobody has counter-signed yet.
    pub counter: bool,
    /// Whoever looks may sign now.
    pub may_sign: bool,
    pub typed: String,
}

/// Why it is held, and the act to do first.
pub struct HeldView {
    pub words: String,
    pub href: String,
}

pub struct HandView {
    pub id: String,
    pub label: String,
    pub words: String,
    pub tool: String,
    pub note: String,
    pub caution: &'static str,
    /// Address of the paragraph about its danger, and about itself.
    pub caution_why: String,
    pub why: String,
    pub held: Vec<HeldView>,
    /// What can be done now and leads here: address and words.
    pub way: Option<(String, String)>,
    /// As-found answers that are given back here.
    pub given: Vec<String>,
    /// What was found contradicts the build sheet.
    pub doubt: Vec<String>,
    pub done: String,
    /// What was measured, its limits and why it may stay; or what a seat's step left.
    pub read: String,
    /// Mark of what is done: what was read lies within its limits, or not.
    pub mark: &'static str,
    pub reason: String,
    /// What it says more: how it is done, and this job's numbers.
    pub says: String,
    /// It can be taken back.
    pub back: bool,
    pub two: bool,
    /// Ends that the part may face, the build sheet's first; none where it is the same both ways.
    /// Ends that it can face; with the one that the build sheet says first, and marked.
    pub faces: Vec<(&'static str, bool)>,
    /// It was said that it faces the other end: why is asked.
    pub otherwise: bool,
    pub seat: Option<SeatHand>,
    pub ask: Option<AskForm>,
    pub measure: Option<MeasureForm>,
    /// Sheets that belong to it or were begun on it, and all others by what they are for.
    pub sheets: Vec<SheetRow>,
    pub more: Vec<(&'static str, Vec<SheetRow>)>,
    /// Questions that come up here and want no reading.
    pub asks: Vec<(&'static str, String)>,
    pub clock: Option<ClockView>,
    /// What becomes of the part that is looked at.
    pub fate: Option<FateForm>,
    /// What the land that is looked at may show.
    pub examples: Vec<MarkChoice>,
    /// What came further from what was foreseen than it may.
    pub off: Vec<OffView>,
}

/// A forecast that was off, as the act says it.
pub struct OffView {
    /// Names it in a form.
    pub of: String,
    pub words: &'static str,
    pub foreseen: String,
    pub came: String,
    /// What happened, and who said so.
    pub said: Option<(String, String)>,
    /// What was typed and not taken, and why.
    pub typed: String,
    pub error: String,
}

impl OffView {
    fn of(s: &Seen, units: Units) -> Self {
        let value = |v: f64| value(s.foreseen.kind, v, units);
        let give = s.foreseen.tolerance.map_or_else(String::new, |g| format!(" ± {}", value(g)));
        Self {
            of: s.of.clone(),
            words: s.foreseen.kind.words(),
            foreseen: value(s.foreseen.foreseen) + &give,
            came: value(s.foreseen.came),
            said: s.said.clone(),
            typed: String::new(),
            error: String::new(),
        }
    }
}

/// A mark with what it says, to be touched where it is seen.
pub struct MarkChoice {
    pub mark: &'static Mark,
    pub sample: String,
    pub seen: bool,
}

/// What a land of the shaft may show, drawn: of no part, so nothing is said to become of it.
fn examples(s: &State, act: &Act) -> Vec<MarkChoice> {
    let Some(ActId::Land(land)) = ActId::of(&act.id).map(|i| i.first_time().clone()) else { return Vec::new() };
    let on = s.anatomy().land(&land).map(|l| inspect::on_land(l.kind));
    let one = |m| MarkChoice { mark: m, sample: mark_sample(m.key).unwrap_or_default(), seen: false };
    on.into_iter().flat_map(inspect::marks_on).map(one).collect()
}

/// What becomes of a part.
pub struct FateForm {
    pub part: String,
    /// Name in records, as said, what a reason says; and whether it was said.
    pub dispositions: Vec<(&'static str, &'static str, &'static str, bool)>,
    pub marks: Vec<MarkChoice>,
    pub reason: String,
    /// Who said it, and when.
    pub by: String,
    /// What is looked for on such a part.
    pub look: &'static str,
}

impl FateForm {
    /// A mark was seen.
    pub fn marked(&self) -> bool {
        self.marks.iter().any(|m| m.seen)
    }
}

fn fate_form(s: &State, act: &Act, zone: Tz) -> Option<FateForm> {
    let (a, part) = (s.anatomy(), s.looked_at(act)?);
    let said = s.disposed.get(&part);
    let marks = inspect::on_part(a, &part).into_iter().flat_map(inspect::marks_on).map(|m| MarkChoice {
        mark: m,
        sample: mark_sample(m.key).unwrap_or_default(),
        seen: said.is_some_and(|d| d.marks.iter().any(|x| x == m.key)),
    });
    Some(FateForm {
        dispositions: Fate::ALL.iter().map(|f| (f.1, f.2, f.3, said.is_some_and(|d| d.fate == f.0))).collect(),
        marks: marks.collect(),
        reason: said.map_or_else(String::new, |d| d.reason.clone()),
        by: said.map_or_else(String::new, |d| format!("{}, {}", d.by, moment_of(d.at, zone))),
        look: a.part(&part).and_then(|p| p.kind.row().look).unwrap_or_default(),
        part,
    })
}

/// The part a facing is asked of, as it lies on the drawing: as being said, as recorded, as drawn.
pub fn facing(s: &State, q: &Question, found: &str) -> Option<End> {
    let of = |text: &str| match text.trim().trim_start_matches("end ") {
        "A" => Some(End::A),
        "B" => Some(End::B),
        _ => None,
    };
    of(found).or_else(|| s.answers.get(&q.id).and_then(|a| of(&a.value)))
}

fn ask_form(b: &Bench, q: &Question, query: &BenchQuery, units: Units, zone: Tz) -> AskForm {
    let s = &b.state;
    let a = s.answers.get(&q.id);
    let kind = match q.topic.ask() {
        Ask::Facing => "facing",
        Ask::Angle => "angle",
        Ask::Text => "words",
        Ask::Hand => "hand",
        Ask::Closure => "closure",
        _ => "number",
    };
    let here = |found: &str| format!("?step={}&found={found}", encode(&ActId::Ask(q.id.clone()).to_string()));
    let side = facing(s, q, &query.found);
    let drawn = s.anatomy().part(&q.about).and_then(|p| p.faces).unwrap_or_default();
    let recorded = a.map_or(String::new(), |a| a.value.clone());
    let value = match (q.topic.ask(), side) {
        (Ask::Facing, Some(e)) => format!("end {}", e.letter()),
        (Ask::Angle, _) if !query.found.is_empty() => query.found.clone(),
        _ => recorded,
    };
    let face = if q.topic.ask() == Ask::Angle {
        let others: Vec<(String, f64)> = s
            .questions
            .iter()
            .filter(|o| o.topic.ask() == Ask::Angle && o.id != q.id)
            .filter_map(|o| Some((s.anatomy().name_of(&o.about).to_owned(), s.found(&o.id)?[0])))
            .collect();
        clock_face(&ClockFace {
            name: s.anatomy().name_of(&q.about),
            at_deg: Unit::Degree.read(&value, units).ok(),
            others: &others,
            href: (!s.finished).then(|| here("{}")).as_deref(),
            id: "face",
        })
    } else {
        String::new()
    };
    AskForm {
        question: q.id.clone(),
        kind,
        label: match q.topic {
            Topic::New => "Number or batch of the new one",
            Topic::Which => "Which is right, and by what",
            _ => "What was found",
        },
        wanted: q.topic.later(),
        hint: q.topic.unit().map_or("", |u| u.hint(units)),
        state: a.map_or("", |a| a.state.word()),
        value,
        note: a.map_or(String::new(), |a| a.note.clone()),
        // Touched first, it lies as drawn; touched again, it is turned.
        flip: if kind == "facing" {
            here(match side {
                None => drawn.letter(),
                Some(End::A) => "B",
                Some(End::B) => "A",
            })
        } else {
            String::new()
        },
        face,
        pictures: b.pictures.get(&q.id).map_or_else(Vec::new, |list| {
            list.iter()
                .enumerate()
                .map(|(i, p)| PictureView {
                    id: p.id,
                    alt: format!("Picture {} of {}", i + 1, s.anatomy().name_of(&q.about)),
                    by: format!("{}, {}", p.by, crate::ground::view::moment(p.at, zone)),
                })
                .collect()
        }),
        picture_id: PictureId::new(),
    }
}

/// A question without what it asks: `Lock nut: how far …` becomes `Lock nut, as found`.
fn as_asked(words: &str) -> String {
    format!("{}, as found", words.split(": ").next().unwrap_or(words))
}

/// What the numbers of this job say of a shim.
fn shim_says(s: &State, act: &Act, units: Units) -> String {
    let id = ActId::of(&act.id);
    let Some(ActId::Shim(of)) = id.as_ref().map(ActId::first_time) else { return String::new() };
    let Some(f) = s.anatomy().floats.iter().find(|f| f.id == *of) else { return String::new() };
    // What the round before read.
    let n = id.as_ref().map_or(2, |i| i.round().max(2));
    let before = s
        .rounds
        .iter()
        .find(|r| r.n == n)
        .map_or_else(|| ActId::Float(f.id.clone()).to_string(), |r| r.reading.clone());
    let Some(read) = s.done.get(&before).and_then(|k| k.value) else { return String::new() };
    let change = shim_change(f, Millimetres::new(read).unwrap_or_default()).get();
    let wanted = Unit::Mm.show(f.middle().get(), units);
    if change.abs() < 0.005 {
        format!("{} was read and {wanted} is wanted: leave the shim as it is.", Unit::Mm.show(read, units))
    } else {
        let way = if change > 0.0 { "thicker" } else { "thinner" };
        format!(
            "{} was read and {wanted} is wanted: make the shim {} {way} in all.",
            Unit::Mm.show(read, units),
            Unit::Mm.show(change.abs(), units)
        )
    }
}

/// Who did it and when.
fn done_words(d: &Done, zone: Tz) -> String {
    let with = if d.second.is_empty() { String::new() } else { format!(" with {}", d.second) };
    let by = if d.by.is_empty() { "its own sheets" } else { &d.by };
    format!("{by}{with}, {}", moment_of(d.at, zone))
}

/// The surface that a step measures.
fn picture(kind: SheetKind, f: &SeatFacts, units: Units) -> String {
    let SheetKind::Grid(which) = kind else { return String::new() };
    let d = sheet::nominal(kind, f);
    let length = if which == Surface::Journal { f.land_length } else { f.bearing.width };
    let size = format!("⌀ {}", fmt::size(d, Millimetres::of(1.0), units).0);
    land_view(&LandView {
        size: &size,
        ratio: length.get() / d.get(),
        bore: !which.outside(),
        neighbours: which == Surface::Journal,
        next: Some((0, 0)),
        done: &[],
        stations: sheet::STATIONS,
        name: which.words(),
        id: "land",
    })
}

/// How the ring cools once it is off the heater: the answer that the Reckoner gives for this seat, drawn as there.
fn cooling(facts: &SeatFacts, fit: Option<&Fit>, units: Units) -> String {
    let name = "heat.cooling";
    let asked = fit.and_then(|f| of_seat(name, facts, Some(f)));
    let answered = asked.and_then(|q| Some((reckon(name, &Value::Object(q.clone()).to_string()).ok()?, q)));
    match answered {
        Some((Value::Object(a), q)) => drawn(name, &q, &a, units).unwrap_or_default(),
        _ => String::new(),
    }
}

fn seat_hand(b: &Bench, seat: &str, step: StepKind, facts: &SeatFacts, who: &Who) -> SeatHand {
    let units = who.units;
    let s = &b.state;
    let method = s.method(seat);
    let judged = s.judged.as_ref().filter(|j| j.facts.seat.id == seat);
    let fit = judged.and_then(|j| j.fit.as_ref().ok());
    SeatHand {
        seat: seat.to_owned(),
        step: step.key(),
        sheet: step
            .sheet()
            .map_or(String::new(), |k| format!("/rebuilds/{}/seats/{seat}/sheets/{}", b.rebuild.id, k.key())),
        picture: step.sheet().map_or(String::new(), |k| picture(k, facts, units)),
        target: fit.map_or(String::new(), |f| fmt::join(fmt::temperature(f.heat.target, units))),
        fit: fit.map(|f| FitView::of(f, facts, units, b.rebuild.id)),
        presses: method.is_some_and(|m| matches!(m, Method::Press | Method::HeatAndPress)),
        heats: method.is_some_and(Method::heats),
        warms: method == Some(Method::WarmHousing),
        cooling: if matches!(step, StepKind::Heat | StepKind::PutOn) && method.is_some_and(Method::heats) {
            cooling(facts, fit, units)
        } else {
            String::new()
        },
        settled: s.step(seat, StepKind::PutOn).is_some(),
        any_way: s.call(seat, "fit").is_some_and(|c| c.overruled_by.is_some()),
        counter: s.half_signed.contains_key(seat),
        may_sign: s.signing(seat, who).1,
        typed: String::new(),
    }
}

/// The act as the middle of the room shows it.
#[expect(clippy::too_many_lines, reason = "what the act in hand shows, from top to bottom")]
pub fn hand(b: &Bench, act: &Act, off: &[Seen], query: &BenchQuery, person: &Person) -> HandView {
    let (who, zone) = (&person.who(), person.zone);
    let units = who.units;
    let s = &b.state;
    let done = s.done.get(&act.id);
    let question = ActId::of(&act.id).and_then(|i| i.asks().and_then(|q| s.question(q)));
    let value = done.and_then(|k| k.value).zip(act.measure.as_ref());
    let at = |id: &str| format!("?step={}", encode(id));
    let facts = act.seat.as_ref().and_then(|(seat, _)| b.rebuild.facts(seat).ok());
    let seat = act.seat.as_ref().zip(facts.as_ref());
    let own = matches!(ActId::of(&act.id), Some(ActId::AtSeat { .. }));
    let method = act.seat.as_ref().and_then(|(seat, _)| s.method(seat));
    let label = match &seat {
        Some(((_, _), f)) => {
            let critical = if f.seat.critical { " · critical" } else { "" };
            let bearing = if f.designation.is_empty() { String::new() } else { format!(" · {}", f.designation) };
            format!("{} · {}{bearing}{critical}", act.stage.word(), f.seat.name)
        }
        None => act.stage.word().to_owned(),
    };
    // A step of a seat that stands for an act of the machine says what that says, and how it is done.
    let mut says = seat.as_ref().map_or(String::new(), |((_, k), f)| steps::says(*k, f, method, units));
    if let Some((seat, StepKind::Sign)) = &act.seat {
        says = s.signing(seat, who).0;
    }
    let shim = shim_says(s, act, units);
    if !shim.is_empty() {
        says = shim;
    }
    let detail = done.map_or(String::new(), |d| fmt::capital(&StepLeft::of(&d.detail).says(units)));
    let limits = |(v, m): (f64, &ironseat_core::anatomy::Measure)| {
        let limit = m.limit(units);
        let outside = m.against(v, units).map_or("", |_| ", outside");
        if limit.is_empty() { m.unit.show(v, units) } else { format!("{} of {limit}{outside}", m.unit.show(v, units)) }
    };
    let caution = act.seat.as_ref().and_then(|(_, k)| k.caution(method)).or(act.caution);
    let read = if done.is_some() { None } else { left_for(b, act) };
    let (sheets, more) = offered(b, act);
    let held = if done.is_some() { Vec::new() } else { s.reasons(act, units) };
    let way = if held.is_empty() { None } else { s.way_to(act) };
    HandView {
        id: act.id.clone(),
        label,
        words: match &act.seat {
            Some((_, k)) if own => k.name().to_owned(),
            _ => act.words.say(units),
        },
        tool: act.tool.clone(),
        note: act.effort(),
        caution: caution.map_or("", |c| c.words()),
        caution_why: caution.map_or(String::new(), |c| format!("/why#{}", c.why())),
        why: match &act.seat {
            Some((seat, _)) => format!("{}#{}", why_of_seat(b.rebuild.id, seat), act.why()),
            None => format!("/why#{}", act.why()),
        },
        way: way.map(|w| (at(&w.id), w.words.say(units))),
        held: held
            .into_iter()
            .map(|r| HeldView { href: if r.first.is_empty() { String::new() } else { at(&r.first) }, words: r.words })
            .collect(),
        given: act
            .given
            .iter()
            .filter_map(|q| {
                let found = found_words(s, q, units);
                let words = &s.question(q)?.words;
                (!found.is_empty()).then(|| format!("{}: {found}", as_asked(words)))
            })
            .collect(),
        doubt: s
            .questions
            .iter()
            .filter(|q| ActId::Ask(q.id.clone()).to_string() == act.id || act.given.contains(&q.id))
            .filter_map(|q| as_found::contradicts(s.anatomy(), q, &s.answers.get(&q.id)?.value))
            .collect(),
        done: done.map_or(String::new(), |d| done_words(d, zone)),
        mark: if value.as_ref().is_some_and(|(v, m)| m.against(*v, units).is_some()) { "look_again" } else { "go" },
        read: value.map_or(detail, limits),
        reason: done.map_or(String::new(), |k| k.reason.clone()),
        says,
        back: done.is_some_and(|d| {
            !d.of_seat
                || act
                    .seat
                    .as_ref()
                    .is_some_and(|(seat, k)| s.step(seat, *k).is_some() && k.sheet().is_none() && *k != StepKind::Sign)
        }),
        two: act.people > 1,
        faces: s.facing(act).map_or_else(Vec::new, |f| ways_to_face(f.sheet)),
        otherwise: false,
        seat: seat.map(|((seat, k), f)| seat_hand(b, seat, *k, f, who)),
        ask: question.map(|q| ask_form(b, q, query, units, zone)),
        measure: s.limits(act).map(|m| MeasureForm {
            points: m.points,
            hint: m.unit.hint(units),
            limit: m.limit(units),
            source: m.source.clone(),
            found: if m.beside.is_empty() { String::new() } else { found_words(s, &m.beside, units) },
            value: read.as_ref().map_or_else(String::new, |r| r.0.clone()),
            from: read.as_ref().map_or("", |r| r.1.title),
            reason: String::new(),
            outside: false,
        }),
        sheets,
        more,
        asks: questions(b, act),
        clock: b.clocks.iter().find(|k| mine(k, act)).map(ClockView::of),
        fate: fate_form(s, act, zone),
        examples: examples(s, act),
        off: off.iter().map(|x| OffView::of(x, units)).collect(),
    }
}

/// The clock that an act waits on, or that runs after it.
fn mine(k: &ironseat_store::rows::rebuild::Clock, act: &Act) -> bool {
    match &act.seat {
        Some((seat, StepKind::Heat)) => k.seat == *seat && k.kind == "heat",
        Some((seat, StepKind::Cool)) => k.seat == *seat && k.kind == "cool",
        _ => k.step == act.id,
    }
}

/// Ends that a part can face, the one that the build sheet says first.
fn ways_to_face(sheet: Option<End>) -> Vec<(&'static str, bool)> {
    let first = sheet.unwrap_or_default();
    vec![(first.letter(), sheet.is_some()), (first.other().letter(), false)]
}
