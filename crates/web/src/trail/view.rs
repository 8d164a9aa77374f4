//! What the trail shows: stages and steps, the step in hand with its number, picture and clock, what waits, what comes off.

use crate::error::WebResult;
use crate::extract::Reader;
use crate::view::{ClockView, Shell, encode, moment};
use askama::Template;
use ironseat_core::anatomy::acts::{Act, Phase, Stage, first_time, fitted, shim_change, voided_by};
use ironseat_core::anatomy::as_found::{Ask, Question};
use ironseat_core::anatomy::{Anatomy, Cost, End, Unit, as_found};
use ironseat_core::quantity::{Millimetres, Units, show as fmt};
use ironseat_core::trail::StepKind;
use ironseat_drawing::{ClockFace, Fitted, SectionView, clock_face, half_section};
use ironseat_store::Id;
use ironseat_store::rebuilds::Clock;
use ironseat_store::trail_record::{self, AnswerState, Trail};
use serde::Deserialize;
use std::collections::BTreeMap;

/// What of the trail is looked at.
#[derive(Deserialize, Default, Clone)]
#[serde(default)]
pub struct TrailQuery {
    pub step: String,
    /// Part that was forgotten or is to be got at.
    pub part: String,
    /// What is being said of a facing or an angle, before it is recorded.
    pub found: String,
}

pub struct StepRow {
    pub id: String,
    pub words: String,
    pub state: &'static str,
    pub current: bool,
}

pub struct StageRows {
    pub word: &'static str,
    pub done: usize,
    pub all: usize,
    pub open: bool,
    pub steps: Vec<StepRow>,
}

pub struct PictureView {
    pub id: Id,
    pub alt: String,
    pub by: String,
}

pub struct AskForm {
    pub question: String,
    /// `facing`, `angle`, `number` or `words`.
    pub kind: &'static str,
    pub hint: &'static str,
    pub state: &'static str,
    pub value: String,
    pub note: String,
    /// Where touching the drawn part leads.
    pub flip: String,
    /// Clock drawing of an angle.
    pub face: String,
    pub pictures: Vec<PictureView>,
    pub picture_id: Id,
}

pub struct MeasureForm {
    pub hint: &'static str,
    pub limit: String,
    pub source: String,
    pub found: String,
    pub value: String,
    pub reason: String,
    /// How many readings make it.
    pub points: u32,
    /// The reason is asked for once a number lies outside.
    pub outside: bool,
}

pub struct HandView {
    pub id: String,
    pub stage: &'static str,
    pub words: String,
    pub tool: String,
    pub note: String,
    pub caution: &'static str,
    /// Everything that holds it, each with its reason.
    pub held: Vec<String>,
    /// As-found answers that are given back here.
    pub given: Vec<String>,
    /// What was found contradicts the build sheet.
    pub doubt: Vec<String>,
    pub done: String,
    /// What was measured, its limits and why it may stay.
    pub read: String,
    pub reason: String,
    /// What this job's numbers say of the step.
    pub says: String,
    /// Ticked by hand, so that it can be taken back.
    pub by_hand: bool,
    pub two: bool,
    /// Ends that the part may face, the build sheet's first; none where it is the same both ways.
    pub faces: Vec<&'static str>,
    /// It was said that it faces the other end: why is asked.
    pub otherwise: bool,
    pub seat: String,
    /// Its steps on the bench: address, name, done.
    pub seat_steps: Vec<(String, &'static str, bool)>,
    pub ask: Option<AskForm>,
    pub measure: Option<MeasureForm>,
    pub clock: Option<ClockView>,
}

pub struct CostView {
    pub part: String,
    pub name: String,
    pub off: Vec<String>,
    pub scrapped: Vec<String>,
    pub reheat: Vec<String>,
    pub minutes: String,
}

pub struct RepairView {
    pub id: Id,
    pub part: String,
    pub what: String,
    pub by: String,
    pub void: Vec<String>,
}

#[derive(Template)]
#[template(path = "trail.html", blocks = ["live"])]
pub struct TrailPage {
    pub shell: Shell,
    pub id: Id,
    pub number: String,
    pub title: String,
    pub customer: String,
    pub has_seats: bool,
    pub finished: bool,
    /// Every seat is signed: a lead may release it.
    pub can_finish: bool,
    pub left: usize,
    pub newer: Option<i32>,
    pub svg: String,
    pub facts: Vec<(String, String)>,
    pub stages: Vec<StageRows>,
    pub hand: Option<HandView>,
    pub waits: Vec<(String, ClockView)>,
    pub meanwhile: Vec<(String, String)>,
    /// Why those stand there: something waits, or any order will do.
    pub meanwhile_word: &'static str,
    pub parts: Vec<(String, String, bool)>,
    pub cost: Option<CostView>,
    pub repairs: Vec<RepairView>,
    /// Parts that are off and that a mark rests on.
    pub machinable: Vec<(String, String)>,
    pub open_repair: bool,
    pub field: String,
    pub error: String,
    pub second: String,
    pub what: String,
    pub release_reason: String,
}

fn done_words(t: &Trail, s: &Act) -> String {
    t.ticks.get(&s.id).map_or(String::new(), |k| {
        let with = if k.second.is_empty() { String::new() } else { format!(" with {}", k.second) };
        format!("{}{with}, {}", k.by, moment(k.at))
    })
}

/// The part a facing is asked of, as it lies on the drawing: as being said, as recorded, as drawn.
fn facing(t: &Trail, q: &Question, found: &str) -> Option<End> {
    let of = |text: &str| match text.trim().trim_start_matches("end ") {
        "A" => Some(End::A),
        "B" => Some(End::B),
        _ => None,
    };
    of(found).or_else(|| t.answers.get(&q.id).and_then(|a| of(&a.value)))
}

fn ask_form(t: &Trail, q: &Question, query: &TrailQuery, units: Units) -> AskForm {
    let a = t.answers.get(&q.id);
    let kind = match q.ask {
        Ask::Facing => "facing",
        Ask::Angle => "angle",
        Ask::Text => "words",
        Ask::Hand => "hand",
        _ => "number",
    };
    let here = |found: &str| format!("?step={}&found={found}", encode(&format!("ask.{}", q.id)));
    let side = facing(t, q, &query.found);
    let drawn = t.rebuild.anatomy.part(&q.about).and_then(|p| p.faces).unwrap_or_default();
    let recorded = a.map_or(String::new(), |a| a.value.clone());
    let value = match (q.ask, side) {
        (Ask::Facing, Some(e)) => format!("end {}", e.letter()),
        (Ask::Angle, _) if !query.found.is_empty() => query.found.clone(),
        _ => recorded,
    };
    let face = if q.ask == Ask::Angle {
        let others: Vec<(String, f64)> = t
            .questions
            .iter()
            .filter(|o| o.ask == Ask::Angle && o.id != q.id)
            .filter_map(|o| Some((t.rebuild.anatomy.name_of(&o.about).to_owned(), t.found(&o.id)?[0])))
            .collect();
        clock_face(&ClockFace {
            name: t.rebuild.anatomy.name_of(&q.about),
            at_deg: Unit::Degree.read(&value, units).ok(),
            others: &others,
            href: (t.rebuild.finished_at.is_none()).then(|| here("{}")).as_deref(),
            id: "face",
        })
    } else {
        String::new()
    };
    AskForm {
        question: q.id.clone(),
        kind,
        hint: q.unit.map_or("", |u| u.hint(units)),
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
        pictures: t.pictures.get(&q.id).map_or_else(Vec::new, |list| {
            list.iter()
                .enumerate()
                .map(|(i, p)| PictureView {
                    id: p.id,
                    alt: format!("Picture {} of {}", i + 1, t.rebuild.anatomy.name_of(&q.about)),
                    by: format!("{}, {}", p.by, moment(p.at)),
                })
                .collect()
        }),
        picture_id: Id::new(),
    }
}

/// Numbers as a person reads them, points set apart.
pub fn shown(unit: Unit, values: &[f64], units: Units) -> String {
    values.iter().map(|v| unit.show(*v, units)).collect::<Vec<_>>().join(", ")
}

/// What was found, for people: numbers with their unit, otherwise the words.
pub fn found_words(t: &Trail, question: &str, units: Units) -> String {
    let Some(a) = t.answers.get(question) else { return String::new() };
    match (a.state, t.question(question).and_then(|q| q.unit), t.found(question)) {
        (AnswerState::Recorded, Some(unit), Some(values)) => shown(unit, &values, units),
        (AnswerState::Recorded, ..) => a.value.clone(),
        (other, ..) => other.word().to_owned(),
    }
}

/// A question without what it asks: `Lock nut: how far …` becomes `Lock nut, as found`.
fn as_asked(words: &str) -> String {
    format!("{}, as found", words.split(": ").next().unwrap_or(words))
}

/// What the numbers of this job say of a step.
fn says(t: &Trail, s: &Act, units: Units) -> String {
    let Some(f) = first_time(&s.id).strip_prefix("shim.").and_then(|id| t.rebuild.anatomy.floats.iter().find(|f| f.id == id)) else {
        return String::new();
    };
    // What the round before read.
    let n = s.id.split('#').nth(1).and_then(|n| n.parse::<u32>().ok()).unwrap_or(2);
    let before = t.rounds.iter().find(|r| r.n == n).map_or(format!("float.{}", f.id), |r| r.reading.clone());
    let Some(read) = t.ticks.get(&before).and_then(|k| k.value) else { return String::new() };
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

fn hand(t: &Trail, s: &Act, query: &TrailQuery, units: Units) -> HandView {
    let tick = t.ticks.get(&s.id);
    let question = s.id.strip_prefix("ask.").and_then(|q| t.question(q));
    let clock = t.clocks.iter().find(|k| k.step == s.id);
    let value = tick.and_then(|k| k.value).zip(s.measure.as_ref());
    HandView {
        id: s.id.clone(),
        stage: s.stage.word(),
        words: s.words.say(units),
        tool: s.tool.clone(),
        note: s.effort(),
        caution: s.caution.map_or("", |c| c.words()),
        held: if tick.is_some() { Vec::new() } else { t.reasons(s, units) },
        given: s
            .given
            .iter()
            .filter_map(|q| {
                let found = found_words(t, q, units);
                let words = &t.question(q)?.words;
                (!found.is_empty()).then(|| format!("{}: {found}", as_asked(words)))
            })
            .collect(),
        doubt: t
            .questions
            .iter()
            .filter(|q| format!("ask.{}", q.id) == s.id || s.given.contains(&q.id))
            .filter_map(|q| as_found::contradicts(&t.rebuild.anatomy, q, &t.answers.get(&q.id)?.value))
            .collect(),
        done: done_words(t, s),
        read: value.map_or(String::new(), |(v, m)| {
            let limit = m.limit(units);
            let outside = m.against(v, units).map_or("", |_| ", outside");
            if limit.is_empty() { m.unit.show(v, units) } else { format!("{} of {limit}{outside}", m.unit.show(v, units)) }
        }),
        reason: tick.map_or(String::new(), |k| k.reason.clone()),
        says: says(t, s, units),
        by_hand: tick.is_some_and(|k| !k.by_sheets),
        two: s.people > 1,
        faces: t.facing(s).map_or_else(Vec::new, |e| vec![e.letter(), e.other().letter()]),
        otherwise: false,
        seat: s.seat.as_ref().map_or(String::new(), |x| x.0.clone()),
        seat_steps: s.seat.as_ref().and_then(|(seat, _)| Some((seat, t.seats.get(seat)?))).map_or_else(Vec::new, |(seat, list)| {
            let bench = |k: StepKind| format!("/rebuilds/{}?seat={seat}&step={}", t.rebuild.id, k.key());
            list.iter().map(|(k, done)| (bench(*k), ironseat_core::trail::name(*k), *done)).collect()
        }),
        ask: question.map(|q| ask_form(t, q, query, units)),
        measure: t.limits(s).map(|m| MeasureForm {
            points: m.points,
            hint: m.unit.hint(units),
            limit: m.limit(units),
            source: m.source.clone(),
            found: if m.beside.is_empty() { String::new() } else { found_words(t, &m.beside, units) },
            value: String::new(),
            reason: String::new(),
            outside: false,
        }),
        clock: clock.map(ClockView::of),
    }
}

fn cost_view(t: &Trail, part: &str, cost: &Cost) -> CostView {
    let names = |ids: &[String]| ids.iter().map(|i| t.rebuild.anatomy.name_of(i).to_owned()).collect();
    CostView {
        part: part.to_owned(),
        name: t.rebuild.anatomy.name_of(part).to_owned(),
        off: names(&cost.off),
        scrapped: names(&cost.scrapped),
        reheat: names(&cost.reheat),
        minutes: fmt::minutes(cost.minutes),
    }
}

/// As the machine lies in this rebuild: while it is found and taken apart, parts face as they were found.
fn lying(t: &Trail, current: Option<&Act>, query: &TrailQuery) -> Anatomy {
    let mut a = t.rebuild.anatomy.clone();
    if current.is_none_or(|s| s.phase == Phase::Mount || s.stage == Stage::Inspect) {
        return a;
    }
    let faces: Vec<(String, End)> = t
        .questions
        .iter()
        .filter(|q| q.ask == Ask::Facing)
        .filter_map(|q| {
            let being_said = current.is_some_and(|s| s.id == format!("ask.{}", q.id));
            Some((q.about.clone(), facing(t, q, if being_said { &query.found } else { "" })?))
        })
        .collect();
    for (id, end) in faces {
        if let Some(p) = a.parts.iter_mut().find(|p| p.id == id) {
            p.faces = Some(end);
        }
    }
    a
}

/// The page as it stands.
pub fn build(reader: &Reader, t: &Trail, clocks: &[Clock], newer: Option<i32>, q: &TrailQuery) -> WebResult<TrailPage> {
    let a = &t.rebuild.anatomy;
    let units = reader.person.units;
    let current = t.step(&q.step).or_else(|| t.in_hand());
    let cost = if q.part.is_empty() { None } else { Some(cost_view(t, &q.part, &trail_record::cost(t, &q.part)?)) };
    let state = |s: &Act| {
        if t.waiting(&s.id).is_some() {
            "waits"
        } else if t.ticks.contains_key(&s.id) {
            "done"
        } else if t.free(s) {
            "free"
        } else {
            "held"
        }
    };
    let stages = Stage::ALL
        .into_iter()
        .map(|stage| {
            let steps: Vec<StepRow> = t
                .steps
                .iter()
                .filter(|s| s.stage == stage)
                .map(|s| StepRow {
                    id: s.id.clone(),
                    words: s.words.say(units),
                    state: state(s),
                    current: current.is_some_and(|c| c.id == s.id),
                })
                .collect();
            StageRows {
                word: stage.word(),
                done: steps.iter().filter(|s| matches!(s.state, "done" | "waits")).count(),
                all: steps.len(),
                open: current.is_some_and(|c| c.stage == stage),
                steps,
            }
        })
        .filter(|s| s.all > 0)
        .collect();
    // While something cools, cures or holds, other steps are free: those that do not rest on it.
    let waits: Vec<&Clock> = t.clocks.iter().filter(|k| k.left(ironseat_store::now()) > 0).collect();
    let about_to_wait = current.filter(|s| s.wait_min > 0.0 && !t.ticks.contains_key(&s.id)).map(|s| s.id.as_str());
    // What else may be done is always in sight: nobody has to follow the offered order.
    let meanwhile: Vec<(String, String)> = {
        let rests = |s: &Act| about_to_wait.is_some_and(|w| s.waits_for(w));
        let free = t.meanwhile(about_to_wait.unwrap_or(""));
        let current = current.map_or("", |s| s.id.as_str());
        free.into_iter().filter(|s| !rests(s) && s.id != current).take(5).map(|s| (s.id.clone(), s.words.say(units))).collect()
    };
    let meanwhile_word = match (waits.is_empty(), about_to_wait) {
        (false, _) => "Meanwhile",
        (true, Some(_)) => "While it waits, you can",
        (true, None) => "Also possible now",
    };
    let on = fitted(a, &t.derived.bodies, &t.done(), &t.rounds);
    let lies = lying(t, current, q);
    let drawn = half_section(
        &lies,
        &SectionView {
            width: 900.0,
            height: 280.0,
            fitted: Fitted::Parts { on: &on, scrapped: &t.scrapped },
            marks: &BTreeMap::new(),
            selected: None,
            in_hand: current.map(|s| s.body.as_str()).filter(|s| !s.is_empty()),
            small: false,
            id: "tr",
        },
    );
    let left = t.steps.iter().filter(|s| !t.ticks.contains_key(&s.id)).count();
    let signed = a.seats.iter().all(|s| t.signed(&s.id));
    let name = |id: &str| a.name_of(id).to_owned();
    Ok(TrailPage {
        shell: Shell::new(reader, clocks, "", format!("/rebuilds/{}/trail", t.rebuild.id), format!("/rebuilds/{}/events", t.rebuild.id)),
        id: t.rebuild.id,
        number: t.rebuild.number.clone(),
        title: t.rebuild.title.clone(),
        customer: t.rebuild.customer.clone(),
        has_seats: !a.seats.is_empty(),
        finished: t.rebuild.finished_at.is_some(),
        can_finish: signed
            && t.rebuild.finished_at.is_none()
            && (left == 0 || a.seats.is_empty() && t.step("prove.run").is_none_or(|s| t.free(s))),
        left,
        newer,
        facts: drawn.rows,
        svg: drawn.svg,
        stages,
        hand: current.map(|s| hand(t, s, q, units)),
        waits: waits.iter().map(|k| (k.step.clone(), ClockView::of(k))).collect(),
        meanwhile,
        meanwhile_word,
        parts: a
            .parts
            .iter()
            .map(|p| (p.id.clone(), p.name.clone(), p.id == q.part))
            .chain(a.housings.iter().map(|h| (h.id.clone(), h.name.clone(), h.id == q.part)))
            .collect(),
        cost,
        repairs: t
            .repairs
            .iter()
            .map(|r| RepairView {
                id: r.id,
                part: name(&r.part),
                what: r.what.clone(),
                by: format!("{}, {}", r.by, moment(r.at)),
                void: voided_by(a, &r.part).iter().filter_map(|q| t.question(q)).map(|q| q.words.clone()).collect(),
            })
            .collect(),
        machinable: a
            .parts
            .iter()
            .filter(|p| !t.ticks.contains_key(&format!("on.{}", p.id)) && !voided_by(a, &p.id).is_empty())
            .map(|p| (p.id.clone(), p.name.clone()))
            .collect(),
        open_repair: false,
        field: String::new(),
        error: String::new(),
        second: String::new(),
        what: String::new(),
        release_reason: String::new(),
    })
}
