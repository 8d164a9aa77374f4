//! The room: map, trail, act in hand, call, what else is possible, and what is rarely reached for.

use crate::ground::address::encode;
use crate::ground::error::WebResult;
use crate::ground::extract::Reader;
use crate::ground::view::{ClockView, Shell, moment_of};
use crate::parts::call::CallView;
use crate::parts::joints::joints;
use crate::parts::pinned::{self, PinRow};
use crate::parts::seat_marks::marks;
use crate::parts::section as drawn;
use crate::rooms::bench::act_in_hand::{HandView, facing, hand};
use crate::rooms::bench::{ActForm, BenchQuery};
use askama::Template;
use ironseat_core::anatomy::acts::{Act, Phase, Stage, voided_by};
use ironseat_core::anatomy::as_found::Ask;
use ironseat_core::anatomy::{Anatomy, Cost, SeatFacts};
use ironseat_core::decide::{AnswerState, State, StepLeft};
use ironseat_core::quantity::{Millimetres, Seconds, Units, show as fmt};
use ironseat_core::seat::surface_limits;
use ironseat_core::terms::{ActId, End, StepKind, Surface};
use ironseat_drawing::{Fitted, SectionView, half_section};
use ironseat_store::read::bench::Bench;
use ironseat_store::read::room::Room;
use ironseat_store::rows::rebuild::{Clock, Rebuild};
use ironseat_store::{RebuildId, StoreError};
use std::sync::Arc;

/// Acts that the room offers beside the one in hand; the others stand in the trail.
const MEANWHILE: usize = 6;

/// A row of the trail.
pub struct ActRow {
    pub id: String,
    pub words: String,
    /// What it left, or how long it still takes.
    pub note: String,
    /// `done`, `free`, `held`, `waits`, or the key of a call that wants someone.
    pub state: &'static str,
    pub current: bool,
}

pub struct StageRows {
    pub word: &'static str,
    pub done: usize,
    pub all: usize,
    pub open: bool,
    pub acts: Vec<ActRow>,
}

pub struct SeatLink {
    pub href: String,
    pub name: String,
    pub done: usize,
    pub all: usize,
    pub current: bool,
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
    pub id: String,
    pub part: String,
    pub what: String,
    pub by: String,
    pub void: Vec<String>,
}

/// A call elsewhere in the rebuild that wants someone.
pub struct OpenCall {
    pub href: String,
    pub seat: String,
    pub call: CallView,
}

/// The room with the top edge around it.
#[derive(Template)]
#[template(path = "rooms/bench/bench.html")]
pub struct BenchPage {
    pub shell: Shell,
    pub id: RebuildId,
    pub number: String,
    pub title: String,
    pub customer: String,
    pub live: Arc<str>,
}

impl BenchPage {
    /// Around what is kept or was just made.
    pub fn around(reader: &Reader, r: &Rebuild, running: &[Clock], act: &str, live: Arc<str>) -> Self {
        let here = format!("/rebuilds/{}?step={}", r.id, encode(act));
        Self {
            shell: Shell::new(reader, running, "", here, format!("/rebuilds/{}/events", r.id)),
            id: r.id,
            number: r.called(),
            title: r.title.clone(),
            customer: r.customer.clone(),
            live,
        }
    }
}

/// What of the room follows the record.
#[derive(Template)]
#[template(path = "rooms/bench/_bench.html")]
pub struct Live {
    /// Who may do what here, as the top edge knows it.
    pub shell: Shell,
    /// How far the record had come when this was read.
    pub seen: i32,
    pub id: RebuildId,
    pub finished: bool,
    pub can_finish: bool,
    /// Open acts that count.
    pub left: usize,
    pub newer: Option<i32>,
    pub svg: String,
    pub facts: Vec<(String, String)>,
    pub stages: Vec<StageRows>,
    pub seats: Vec<SeatLink>,
    pub hand: Option<HandView>,
    pub call: Option<CallView>,
    /// Topic of the call, where it may be overruled.
    pub overrule: &'static str,
    pub critical: bool,
    /// Label, value, and whether it is words: what is known of the seat in hand before it is measured.
    pub brief: Vec<(&'static str, String, bool)>,
    pub open_calls: Vec<OpenCall>,
    /// What the Reckoner answers of the seat in hand, and where.
    pub questions: Vec<(&'static str, String)>,
    /// Answers that are kept with this rebuild.
    pub pins: Vec<PinRow>,
    pub waits: Vec<(String, ClockView)>,
    pub meanwhile: Vec<(String, String)>,
    pub more: usize,
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
    /// Field that would settle what was refused.
    pub wants: Option<&'static str>,
    pub second: String,
    pub what: String,
    pub release_reason: String,
    pub overrule_reason: String,
    pub wait_reason: String,
}

impl Live {
    /// Whether it carries an id that is good for one command alone: a picture's, which makes sending it again harmless.
    pub fn for_one_command(&self) -> bool {
        self.hand.as_ref().is_some_and(|h| h.ask.is_some())
    }
    /// Puts back what was typed, beside the sentence that says what was expected.
    pub fn typed(&mut self, f: ActForm) {
        if f.act == "explain" {
            let row = self.hand.as_mut().and_then(|h| h.off.iter_mut().find(|o| o.of == f.of));
            if let Some(row) = row {
                // Another form here asks what, too.
                self.field.clear();
                (row.typed, row.error) = (f.what, std::mem::take(&mut self.error));
            }
            return;
        }
        let repairing = f.act == "repair";
        let marks = f.marks();
        self.second = f.second;
        self.open_repair = repairing;
        self.what = f.what;
        if repairing && self.field == "step" && !self.machinable.is_empty() {
            self.field = "what".into();
        }
        if f.act == "overrule" {
            self.overrule_reason.clone_from(&f.reason);
        }
        if f.act == "wait-over" {
            self.wait_reason.clone_from(&f.reason);
        }
        let Some(hand) = self.hand.as_mut() else { return };
        if let Some(ask) = hand.ask.as_mut().filter(|_| f.act == "answer") {
            (ask.value, ask.note) = (f.value.clone(), f.note.clone());
            ask.state = AnswerState::of(&f.state).map_or("", AnswerState::word);
        }
        if let Some(form) = hand.fate.as_mut().filter(|_| f.act == "dispose") {
            for x in &mut form.dispositions {
                x.3 = x.0 == f.fate;
            }
            for m in &mut form.marks {
                m.seen = marks.iter().any(|k| k == m.mark.key);
            }
            form.reason.clone_from(&f.reason);
        }
        hand.otherwise = self.field == "faces";
        if hand.otherwise {
            hand.reason.clone_from(&f.reason);
        }
        if let Some(seat) = hand.seat.as_mut() {
            seat.typed = f.temperature;
        }
        if let Some(m) = hand.measure.as_mut().filter(|_| f.act == "tick") {
            m.outside = self.field == "reason" || self.wants == Some("reason");
            (m.value, m.reason) = (f.value, f.reason);
        }
    }
}

fn cost_view(s: &State, part: &str, cost: &Cost) -> CostView {
    let names = |ids: &[String]| ids.iter().map(|i| s.anatomy().name_of(i).to_owned()).collect();
    CostView {
        part: part.to_owned(),
        name: s.anatomy().name_of(part).to_owned(),
        off: names(&cost.off),
        scrapped: names(&cost.scrapped),
        reheat: names(&cost.reheat),
        minutes: fmt::minutes(cost.minutes),
    }
}

/// As the machine lies in this rebuild: while it is found and taken apart, parts face as they were found.
fn lying(s: &State, current: Option<&Act>, query: &BenchQuery) -> Option<Anatomy> {
    if current.is_none_or(|x| x.phase == Phase::Mount || x.stage == Stage::Inspect) {
        return None;
    }
    let faces: Vec<(String, End)> = s
        .questions
        .iter()
        .filter(|q| q.topic.ask() == Ask::Facing)
        .filter_map(|q| {
            let being_said = current.is_some_and(|x| x.id == ActId::Ask(q.id.clone()).to_string());
            Some((q.about.clone(), facing(s, q, if being_said { &query.found } else { "" })?))
        })
        .collect();
    if faces.is_empty() {
        return None;
    }
    let mut a = s.anatomy().clone();
    for (id, end) in faces {
        if let Some(p) = a.parts.iter_mut().find(|p| p.id == id) {
            p.faces = Some(end);
        }
    }
    Some(a)
}

/// How an act stands in the trail, and what is said beside it.
fn row(s: &State, act: &Act, current: bool, units: Units) -> ActRow {
    let clock = s.clock(act).or_else(|| s.waiting(&act.id)).map(|k| k.left(s.now)).filter(|l| *l > 0);
    let done = s.done.get(&act.id);
    let called = act.seat.as_ref().and_then(|(seat, k)| s.call(seat, k.sheet()?.key())).filter(|c| c.wants_someone());
    let outside = done
        .and_then(|d| d.value)
        .zip(s.limits(act))
        .is_some_and(|(v, m)| !m.within(v) && done.is_some_and(|d| d.reason.is_empty()));
    let state = match (clock, called.and_then(|c| c.verdict()), done) {
        (Some(_), ..) => "waits",
        (None, Some(v), _) => v.key(),
        (None, None, Some(_)) if outside => "look_again",
        (None, None, Some(_)) => "done",
        _ if s.free(act) => "free",
        _ => "held",
    };
    let optional = State::optional(act) && done.is_none();
    let note = match (clock, done) {
        (Some(left), _) => fmt::clock(Seconds::of(left as f64)),
        (None, Some(d)) => StepLeft::of(&d.detail).says(units),
        _ if optional => "if you like: else the drawing's limits".into(),
        _ => String::new(),
    };
    ActRow { id: act.id.clone(), words: act.words.say(units), note, state, current }
}

fn stages(s: &State, current: Option<&Act>, units: Units) -> Vec<StageRows> {
    let of = |stage: Stage| {
        let here: Vec<&Act> = s.acts.iter().filter(|x| x.stage == stage).collect();
        let counted = || here.iter().filter(|x| !State::optional(x));
        StageRows {
            word: stage.word(),
            done: counted().filter(|x| s.is_done(&x.id)).count(),
            all: counted().count(),
            open: current.is_some_and(|c| c.stage == stage),
            acts: here.iter().map(|x| row(s, x, current.is_some_and(|c| c.id == x.id), units)).collect(),
        }
    };
    Stage::ALL.into_iter().map(of).filter(|x| !x.acts.is_empty()).collect()
}

/// What is known of a seat before anything is read.
fn brief(f: &SeatFacts, units: Units) -> Vec<(&'static str, String, bool)> {
    let limits = |which| {
        let (lo, hi, _) = surface_limits(which, f);
        let show = |v: f64| fmt::size(Millimetres::new(v).unwrap_or_default(), Millimetres::of(0.001), units).0;
        format!("{} … {}", show(lo), show(hi))
    };
    let unit = units == Units::Inch;
    let (lo, hi) = f.drawn_interference();
    let size = |v: Millimetres| if unit { fmt::size(v, Millimetres::of(0.1), units).0 } else { fmt::tidy(v.get()) };
    vec![
        (if unit { "journal, in" } else { "journal, mm" }, limits(Surface::Journal), false),
        (if unit { "ring bore, in" } else { "ring bore, mm" }, limits(Surface::RingBore), false),
        ("interference, drawn", format!("{} … {}", fmt::signed(lo, units).0, fmt::join(fmt::signed(hi, units))), false),
        (
            if unit { "bearing, in" } else { "bearing, mm" },
            format!("{} × {} × {}", size(f.bearing.d), size(f.bearing.outer), size(f.bearing.width)),
            false,
        ),
        (if unit { "housing bore, in" } else { "housing bore, mm" }, limits(Surface::HousingBore), false),
        ("goes on from", format!("end {}, against {}", f.seat.from.letter(), f.seat.against), true),
        ("limits from", f.seat.source.clone(), true),
    ]
}

/// Calls that want someone, of other seats or topics than the one beside the act in hand.
fn open_calls(b: &Bench, beside: Option<(&str, &str)>, units: Units) -> Vec<OpenCall> {
    let s = &b.state;
    let other = |seat: &str, topic: &str| beside != Some((seat, topic));
    s.calls
        .iter()
        .filter(|c| c.wants_someone() && other(&c.seat, &c.topic))
        .filter_map(|c| {
            let step = if c.topic == "fit" { StepKind::Choose } else { StepKind::of(&c.topic)? };
            let act = s.act_of(&c.seat, step)?;
            Some(OpenCall {
                href: format!("?step={}", encode(&act.id)),
                seat: s.anatomy().seat(&c.seat)?.name.clone(),
                call: CallView::stored(c, units)?.of_seat(b.rebuild.id, &c.seat),
            })
        })
        .collect()
}

/// What follows the record, as it stands.
#[expect(clippy::too_many_lines, reason = "what the bench shows, from top to bottom")]
pub fn build(reader: &Reader, l: &Room, q: &BenchQuery) -> WebResult<Live> {
    let Room { bench: b, newer, act, off } = l;
    let s = &b.state;
    let a = s.anatomy();
    let units = reader.person.units;
    let current = s.act(act);
    let cost =
        if q.part.is_empty() { None } else { Some(cost_view(s, &q.part, &s.cost(&q.part).map_err(StoreError::from)?)) };
    let seat = current.and_then(|x| x.seat.as_ref()).map(|x| x.0.as_str());
    let selected = seat.or_else(|| a.seat(&q.seat).map(|x| x.id.as_str()));

    // While something cools, cures or holds, other acts are free: those that do not rest on it.
    let waits: Vec<_> = b.clocks.iter().filter(|k| k.left(ironseat_store::now()) > 0).collect();
    let about_to_wait = current.filter(|x| x.wait_min > 0.0 && !s.is_done(&x.id)).map(|x| x.id.as_str());
    // What else may be done is always in sight: nobody has to follow the offered order.
    let free: Vec<&Act> = s
        .meanwhile(act)
        .into_iter()
        .filter(|x| !about_to_wait.is_some_and(|w| x.waits_for(w)) && !State::optional(x))
        .collect();
    let meanwhile_word = match (waits.is_empty(), about_to_wait) {
        (false, _) => "Meanwhile",
        (true, Some(_)) => "While it waits, you can",
        (true, None) => "Also possible now",
    };
    let seat_marks = marks(s, b.rebuild.id, selected, units);
    let lies = lying(s, current, q);
    let fitted = s.fitted();
    let view = SectionView {
        width: 968.0,
        height: 296.0,
        fitted: Fitted::Parts { on: &fitted, scrapped: &s.scrapped },
        marks: &seat_marks,
        selected,
        in_hand: current.map(|x| x.body.as_str()).filter(|x| !x.is_empty()),
        joints: &joints(s),
        small: false,
        id: "hs",
    };
    let drawn = lies.map_or_else(|| drawn::section(&b.rebuild.kind, &view), |a| Arc::new(half_section(&a, &view)));
    let (done, all) = s.progress();
    let left = all - done;
    let signed = a.seats.iter().all(|x| s.signed(&x.id));
    let last = s.act("prove.run").is_none_or(|x| s.free(x) || s.is_done(&x.id));
    let name = |id: &str| a.name_of(id).to_owned();
    let topic = current.and_then(|x| x.seat.as_ref()).map(|(seat, k)| (seat.as_str(), k.topic()));
    let called = topic.and_then(|(seat, topic)| s.call(seat, topic));
    let call = called
        .and_then(|c| Some(CallView::stored(c, units)?.of_seat(b.rebuild.id, &c.seat)))
        .or_else(|| current.and_then(|x| CallView::of_number(s, x, units)));
    let may_overrule = called.is_some_and(|c| {
        c.wants_someone()
            && (c
                .calls
                .first()
                .is_some_and(|k| k.figure.is_some() || k.verdict != ironseat_core::terms::Verdict::Undecided))
    });
    Ok(Live {
        shell: Shell::new(reader, &[], "", String::new(), String::new()),
        seen: b.rebuild.record_seq,
        id: b.rebuild.id,
        finished: s.finished,
        can_finish: signed && !s.finished && (left == 0 || last),
        left,
        newer: *newer,
        facts: drawn.rows.clone(),
        svg: drawn.svg.clone(),
        stages: stages(s, current, units),
        seats: a
            .seats
            .iter()
            .map(|x| {
                let own =
                    || s.acts.iter().filter(|y| y.seat.as_ref().is_some_and(|z| z.0 == x.id) && !State::optional(y));
                SeatLink {
                    href: format!("?seat={}", encode(&x.id)),
                    name: x.name.clone(),
                    done: own().filter(|y| s.is_done(&y.id)).count(),
                    all: own().count(),
                    current: selected == Some(x.id.as_str()),
                }
            })
            .collect(),
        hand: current.map(|x| hand(b, x, off, q, &reader.person)),
        overrule: if may_overrule { topic.map_or("", |t| t.1) } else { "" },
        critical: seat.and_then(|x| a.seat(x)).is_some_and(|x| x.critical),
        brief: seat.and_then(|x| b.rebuild.facts(x).ok()).map_or_else(Vec::new, |f| brief(&f, units)),
        open_calls: open_calls(b, topic, units),
        questions: seat.map_or_else(Vec::new, |x| pinned::of_seat(b.rebuild.id, x)),
        pins: pinned::rows(b, false, units, reader.person.zone),
        call,
        waits: waits.iter().map(|k| (k.step.clone(), ClockView::of(k))).collect(),
        more: free.len().saturating_sub(MEANWHILE),
        meanwhile: free.iter().take(MEANWHILE).map(|x| (x.id.clone(), x.words.say(units))).collect(),
        meanwhile_word,
        parts: a
            .parts
            .iter()
            .map(|p| (p.id.clone(), p.name.clone(), p.id == q.part))
            .chain(a.housings.iter().map(|h| (h.id.clone(), h.name.clone(), h.id == q.part)))
            .collect(),
        cost,
        repairs: s
            .repairs
            .iter()
            .map(|r| RepairView {
                id: r.id.clone(),
                part: name(&r.part),
                what: r.what.clone(),
                by: format!("{}, {}", r.by, moment_of(r.at, reader.person.zone)),
                void: voided_by(a, &r.part).iter().filter_map(|q| s.question(q)).map(|q| q.words.clone()).collect(),
            })
            .collect(),
        machinable: a
            .parts
            .iter()
            .filter(|p| !s.is_done(&ActId::On(p.id.clone()).to_string()) && !voided_by(a, &p.id).is_empty())
            .map(|p| (p.id.clone(), p.name.clone()))
            .collect(),
        open_repair: false,
        field: String::new(),
        error: String::new(),
        wants: None,
        second: String::new(),
        what: String::new(),
        release_reason: String::new(),
        overrule_reason: String::new(),
        wait_reason: String::new(),
    })
}
