//! What the Bench shows: trail, marks, step in hand.

use crate::app::App;
use crate::call_view::CallView;
use crate::error::WebResult;
use crate::extract::Reader;
use crate::seat_view::FitView;
use crate::view::{ClockView, Shell, moment};
use askama::Template;
use ironseat_core::call::{Method, Verdict, Which};
use ironseat_core::quantity::{Micrometres, Millimetres, Units, show as fmt};
use ironseat_core::seat::surface_limits;
use ironseat_core::sheet::SheetKind;
use ironseat_core::trail::{self, StepKind};
use ironseat_drawing::{Fitted, HalfSection, LandView, Mark, SeatMark, SectionView, half_section, land_view};
use ironseat_store::Id;
use ironseat_store::rebuilds::{self, Next, Overview};
use ironseat_store::record::{SeatRecord, seat_record};
use serde::Deserialize;
use std::collections::{BTreeMap, BTreeSet};

/// A step in the trail.
pub(super) struct StepView {
    pub(super) key: &'static str,
    pub(super) name: &'static str,
    pub(super) note: String,
    /// `done`, `hand`, `held`, `todo`, `clock`, or the key of a call.
    pub(super) mark: &'static str,
    pub(super) href: String,
    pub(super) in_hand: bool,
    pub(super) optional: bool,
}

/// A seat in the trail.
pub(super) struct SeatView {
    pub(super) name: String,
    pub(super) done: usize,
    pub(super) all: usize,
    pub(super) open: bool,
    pub(super) href: String,
    pub(super) steps: Vec<StepView>,
}

/// The step in hand.
pub(super) struct HandView {
    pub(super) key: &'static str,
    pub(super) name: &'static str,
    pub(super) says: String,
    pub(super) caution: &'static str,
    pub(super) held: String,
    /// Where on the trail what holds it is done.
    pub(super) held_href: String,
    pub(super) done: bool,
    pub(super) done_by: String,
    pub(super) detail: String,
    pub(super) sheet: String,
    pub(super) picture: String,
    pub(super) post: String,
    pub(super) overrule: String,
    pub(super) clock: Option<ClockView>,
    pub(super) fit: Option<FitView>,
    pub(super) target: String,
    /// It goes on under a press.
    pub(super) presses: bool,
    /// It goes on hot: it grips by itself.
    pub(super) heats: bool,
    pub(super) reopen: bool,
    /// The ring is on: the way it went on is history.
    pub(super) settled: bool,
    pub(super) next: String,
}

#[derive(Template)]
#[template(path = "bench.html", blocks = ["live"])]
pub(super) struct BenchPage {
    pub(super) shell: Shell,
    pub(super) id: Id,
    pub(super) number: String,
    pub(super) title: String,
    pub(super) customer: String,
    pub(super) finished: bool,
    pub(super) can_finish: bool,
    pub(super) section: HalfSection,
    pub(super) seats: Vec<SeatView>,
    pub(super) seat_name: String,
    pub(super) bearing: String,
    pub(super) hand: Option<HandView>,
    pub(super) call: Option<CallView>,
    pub(super) critical: bool,
    /// Label, value, and whether it is words.
    pub(super) brief: Vec<(&'static str, String, bool)>,
    pub(super) meanwhile: String,
    pub(super) meanwhile_href: String,
    pub(super) error: String,
    pub(super) field: String,
    pub(super) typed: String,
    /// Released with steps open: the reason is asked for.
    pub(super) release_reason: bool,
}

/// The seat that wants hands, or the first with an open step.
fn next_seat(o: &Overview) -> Option<String> {
    match o.next() {
        Next::Seat(id, _) => Some(id.to_owned()),
        Next::Act(_) | Next::Nothing => o.rebuild.anatomy.seats.iter().find(|s| o.trail(&s.id).in_hand().is_some()).map(|s| s.id.clone()),
    }
}

/// The mark of each seat in the drawing.
pub fn marks(o: &Overview, selected: Option<&str>, units: Units) -> BTreeMap<String, SeatMark> {
    let now = ironseat_store::now();
    o.rebuild
        .anatomy
        .seats
        .iter()
        .map(|s| {
            let fit = o.call(&s.id, "fit");
            let signed = o.step(&s.id, StepKind::Sign).is_some_and(|x| x.done);
            let mean = fit.and_then(|f| {
                f.calls.iter().find_map(|c| match (&c.situation, c.figure) {
                    (ironseat_core::call::Situation::FitGood { mean, .. }, _) => Some(*mean),
                    _ => None,
                })
            });
            let worst = o
                .calls
                .iter()
                .filter(|c| c.seat == s.id && c.overruled_by.is_none())
                .filter_map(|c| c.calls.first())
                .filter(|c| {
                    !matches!(
                        c.situation,
                        ironseat_core::call::Situation::FitWaits { .. }
                            | ironseat_core::call::Situation::HomeWaits { .. }
                            | ironseat_core::call::Situation::NothingRead { .. }
                    )
                })
                .max_by_key(|c| c.verdict);
            let (mark, value) = if let Some(k) = o.clock(&s.id) {
                (
                    Mark::Clock,
                    format!(
                        "{} {}",
                        if k.kind == "heat" { "heating" } else { "cooling" },
                        if k.left(now) == 0 {
                            "time is up".into()
                        } else {
                            fmt::clock(ironseat_core::quantity::Seconds::of(k.left(now) as f64))
                        }
                    ),
                )
            } else if signed {
                (Mark::Go, mean.map_or("signed".into(), |m| format!("{}, signed", fmt::join(fmt::signed(m, units)))))
            } else {
                let shown = |m: Option<Micrometres>| m.map_or(String::new(), |m| fmt::join(fmt::signed(m, units)));
                match worst {
                    None if selected == Some(&s.id) => (Mark::InHand, "not measured".into()),
                    None => (Mark::Todo, "not measured".into()),
                    Some(c) => match c.verdict {
                        Verdict::Go => (Mark::Go, if mean.is_some() { shown(mean) } else { "good so far".into() }),
                        Verdict::Stop => (Mark::Stop, short(c, units)),
                        Verdict::LookAgain => (Mark::LookAgain, short(c, units)),
                        Verdict::Undecided => (Mark::Undecided, "undecided".into()),
                    },
                }
            };
            (s.id.clone(), SeatMark { mark, value, href: format!("/rebuilds/{}?seat={}", o.rebuild.id, s.id) })
        })
        .collect()
}

pub(super) fn short(c: &ironseat_core::call::Call, units: Units) -> String {
    c.figure.map_or_else(|| c.verdict.word().to_lowercase(), |f| f.show(units))
}

#[derive(Deserialize, Default, Clone)]
pub struct BenchParams {
    #[serde(default)]
    pub(super) seat: String,
    #[serde(default)]
    pub(super) step: String,
}

pub(super) struct Loaded {
    pub(super) over: Overview,
    pub(super) record: Option<SeatRecord>,
    pub(super) seat: String,
    pub(super) step: Option<StepKind>,
}

/// Steps that show the fit, and so need the readings.
pub(super) fn shows_fit(kind: Option<StepKind>) -> bool {
    matches!(kind, Some(StepKind::Choose | StepKind::Heat | StepKind::PutOn))
}

pub(super) async fn load(app: &App, id: Id, q: BenchParams, units: Units) -> WebResult<Loaded> {
    Ok(app
        .store
        .run(move |c| {
            let over = rebuilds::bench(c, id, units)?;
            let seat = if over.rebuild.anatomy.seat(&q.seat).is_some() {
                q.seat
            } else {
                next_seat(&over).or_else(|| over.rebuild.anatomy.seats.first().map(|s| s.id.clone())).unwrap_or_default()
            };
            let step = StepKind::of(&q.step)
                .filter(|k| over.step(&seat, *k).is_some())
                .or_else(|| over.trail(&seat).in_hand())
                .or(Some(StepKind::Sign));
            let record = if shows_fit(step) && over.rebuild.anatomy.seat(&seat).is_some() {
                Some(seat_record(c, &over.rebuild, &seat)?)
            } else {
                None
            };
            Ok(Loaded { over, record, seat, step })
        })
        .await?)
}

pub(super) fn trail_view(o: &Overview, seat: &str, step: Option<StepKind>) -> Vec<SeatView> {
    let id = o.rebuild.id;
    let views = o.rebuild.anatomy.seats.iter().map(|s| {
        let t = o.trail(&s.id);
        let (done, all) = t.progress();
        let steps = t
            .steps
            .iter()
            .filter(|x| x.kind.belongs(t.method))
            .map(|x| {
                let row = o.step(&s.id, x.kind);
                let is_done = row.is_some_and(|r| r.done);
                let held = t.held(x.kind);
                let clock =
                    o.clock(&s.id).filter(|k| matches!((k.kind.as_str(), x.kind), ("heat", StepKind::Heat) | ("cool", StepKind::Cool)));
                let verdict = x
                    .kind
                    .sheet()
                    .and_then(|k| o.call(&s.id, k.key()))
                    .filter(|c| c.overruled_by.is_none())
                    .and_then(rebuilds::StoredCall::verdict);
                let mark = match (clock, verdict, is_done) {
                    (Some(_), ..) => "clock",
                    (_, Some(v), true) => v.key(),
                    (.., true) => "go",
                    _ if held.is_some() => "held",
                    _ => "todo",
                };
                let note = match (clock, is_done, &held) {
                    (Some(k), ..) => fmt::clock(ironseat_core::quantity::Seconds::of(k.left(ironseat_store::now()) as f64)),
                    (_, true, _) => row.map_or(String::new(), |r| {
                        [Method::of(&r.detail).map_or(r.detail.clone(), |m| m.words().to_owned()), r.done_by.clone().unwrap_or_default()]
                            .into_iter()
                            .filter(|v| !v.is_empty())
                            .collect::<Vec<_>>()
                            .join(", ")
                    }),
                    (_, false, Some(why)) => format!("held: {why}"),
                    (_, false, None) if x.kind.optional() => "if you like: else the drawing's limits".into(),
                    _ => String::new(),
                };
                StepView {
                    key: x.kind.key(),
                    name: trail::name(x.kind),
                    note,
                    mark,
                    href: format!("/rebuilds/{id}?seat={}&step={}", s.id, x.kind.key()),
                    in_hand: s.id == seat && Some(x.kind) == step,
                    optional: x.kind.optional(),
                }
            })
            .collect();
        SeatView { name: s.name.clone(), done, all, open: s.id == seat, href: format!("/rebuilds/{id}?seat={}", s.id), steps }
    });
    views.collect()
}

pub(super) fn hand_view(l: &Loaded, units: Units) -> WebResult<Option<HandView>> {
    let Some(kind) = l.step else { return Ok(None) };
    let o = &l.over;
    let Ok(facts) = o.rebuild.anatomy.facts(&l.seat) else { return Ok(None) };
    let t = o.trail(&l.seat);
    let row = o.step(&l.seat, kind);
    let done = row.is_some_and(|r| r.done);
    let base = format!("/rebuilds/{}/seats/{}", o.rebuild.id, l.seat);
    let fit = l.record.as_ref().map(SeatRecord::fit).and_then(Result::ok);
    Ok(Some(HandView {
        key: kind.key(),
        name: trail::name(kind),
        says: trail::says(kind, &facts, t.method, units),
        caution: kind.caution(t.method).map_or("", |c| c.words()),
        held: if done { String::new() } else { t.held(kind).unwrap_or_default() },
        held_href: o
            .machine
            .holding(&l.seat, kind)
            .next()
            .map_or(String::new(), |act| format!("/rebuilds/{}/trail?step={}", o.rebuild.id, crate::view::encode(&act.id))),
        done,
        done_by: row
            .filter(|r| r.done)
            .map_or(String::new(), |r| format!("{}, {}", r.done_by.clone().unwrap_or_default(), r.done_at.map_or(String::new(), moment))),
        detail: row.map_or(String::new(), |r| Method::of(&r.detail).map_or(r.detail.clone(), |m| m.words().to_owned())),
        sheet: kind.sheet().map_or(String::new(), |k| format!("{base}/sheets/{}", k.key())),
        picture: kind.sheet().map_or(String::new(), |k| picture(k, &facts, units)),
        post: format!("{base}/steps/{}", kind.key()),
        overrule: format!("{base}/overrule/{}", topic(kind)),
        clock: o.clock(&l.seat).map(ClockView::of),
        target: fit.as_ref().map_or(String::new(), |f| fmt::join(fmt::temperature(f.heat.target, units))),
        fit: fit.as_ref().map(|f| FitView::of(f, &facts, units)),
        presses: t.method.is_some_and(|m| matches!(m, Method::Press | Method::HeatAndPress)),
        heats: t.method.is_some_and(Method::heats),
        settled: o.step(&l.seat, StepKind::PutOn).is_some_and(|s| s.done),
        reopen: done && kind.sheet().is_none() && kind != StepKind::Sign && o.rebuild.finished_at.is_none(),
        next: t
            .in_hand()
            .filter(|k| *k != kind)
            .map_or(String::new(), |k| format!("/rebuilds/{}?seat={}&step={}", o.rebuild.id, l.seat, k.key())),
    }))
}

/// The surface that a step measures.
fn picture(kind: SheetKind, f: &ironseat_core::anatomy::SeatFacts, units: Units) -> String {
    let SheetKind::Grid(which) = kind else { return String::new() };
    let d = ironseat_core::sheet::nominal(kind, f);
    let length = if which == Which::Journal { f.land_length } else { f.bearing.width };
    let size = format!("⌀ {}", fmt::size(d, Millimetres::of(1.0), units).0);
    land_view(&LandView {
        size: &size,
        ratio: length.get() / d.get(),
        bore: !which.outside(),
        neighbours: which == Which::Journal,
        next: Some((0, 0)),
        done: &[],
        stations: ironseat_core::sheet::STATIONS,
        name: which.words(),
        id: "land",
    })
}

/// The topic whose call stands beside a step.
pub(super) fn topic(kind: StepKind) -> &'static str {
    match kind.sheet() {
        Some(k) => k.key(),
        None if matches!(kind, StepKind::Nip | StepKind::Sign) => "home",
        None => "fit",
    }
}

pub(super) fn build(reader: &Reader, l: &Loaded) -> WebResult<BenchPage> {
    let units = reader.person.units;
    let o = &l.over;
    let r = &o.rebuild;
    let seat_marks = marks(o, Some(&l.seat), units);
    let none = BTreeSet::new();
    let section = half_section(
        &r.anatomy,
        &SectionView {
            width: 968.0,
            height: 296.0,
            fitted: Fitted::Parts { on: &o.machine.fitted, scrapped: &none },
            marks: &seat_marks,
            selected: Some(&l.seat),
            in_hand: None,
            small: false,
            id: "hs",
        },
    );
    let hand = hand_view(l, units)?;
    let call = l.step.and_then(|k| o.call(&l.seat, topic(k))).and_then(|c| CallView::stored(c, units));
    let seat = r.anatomy.seat(&l.seat);
    // While this ring cools or heats, another seat or the machine may want hands.
    let (meanwhile, meanwhile_href) = match o.next() {
        _ if o.clock(&l.seat).is_none() => (String::new(), String::new()),
        Next::Seat(s, k) if s != l.seat => {
            let name = r.anatomy.seat(s).map_or(String::new(), |s| s.name.to_lowercase());
            (format!("{}, {name}", trail::name(k)), format!("/rebuilds/{}?seat={s}", r.id))
        }
        Next::Act(act) => (act.words.say(units), format!("/rebuilds/{}/trail?step={}", r.id, crate::view::encode(&act.id))),
        Next::Seat(..) | Next::Nothing => (String::new(), String::new()),
    };
    let all_signed = r.anatomy.seats.iter().all(|s| o.step(&s.id, StepKind::Sign).is_some_and(|x| x.done));
    let here = format!("/rebuilds/{}?seat={}&step={}", r.id, l.seat, l.step.map_or("", StepKind::key));
    Ok(BenchPage {
        shell: Shell::new(reader, &l.over.running, "", here, format!("/rebuilds/{}/events", r.id)),
        id: r.id,
        number: r.number.clone(),
        title: r.title.clone(),
        customer: r.customer.clone(),
        finished: r.finished_at.is_some(),
        can_finish: all_signed && r.finished_at.is_none(),
        section,
        seats: trail_view(o, &l.seat, l.step),
        seat_name: seat.map_or(String::new(), |s| s.name.clone()),
        bearing: seat.and_then(|s| r.anatomy.part(&s.part)).and_then(|p| p.designation.clone()).unwrap_or_default(),
        critical: seat.is_some_and(|s| s.critical),
        hand,
        call,
        brief: brief(o, &l.seat, units),
        meanwhile_href,
        meanwhile,
        error: String::new(),
        field: String::new(),
        typed: String::new(),
        release_reason: false,
    })
}

/// What is known of a seat before anything is read.
pub(super) fn brief(o: &Overview, seat: &str, units: Units) -> Vec<(&'static str, String, bool)> {
    let Ok(f) = o.rebuild.anatomy.facts(seat) else { return Vec::new() };
    let limits = |which| {
        let (lo, hi, _) = surface_limits(which, &f);
        let show = |v: f64| fmt::size(Millimetres::new(v).unwrap_or_default(), Millimetres::of(0.001), units).0;
        format!("{} … {} {}", show(lo), show(hi), units.sheet_unit())
    };
    let (lo, hi) = f.drawn_interference();
    let size = |v| fmt::size(v, Millimetres::of(0.1), units).0;
    vec![
        ("journal", limits(Which::Journal), false),
        ("ring bore", limits(Which::RingBore), false),
        ("tight by, drawn", format!("{} … {}", fmt::signed(lo, units).0, fmt::join(fmt::signed(hi, units))), false),
        ("bearing", format!("{} × {} × {}", size(f.bearing.d), size(f.bearing.outer), size(f.bearing.width)), false),
        ("housing bore", limits(Which::HousingBore), false),
        ("goes on from", format!("end {}, against {}", f.seat.from.letter(), f.seat.against), true),
        ("limits from", f.seat.source.clone(), true),
    ]
}
