//! Every machine of the demo rebuilt from receipt to release by decisions alone, on paper: no database, no page. What
//! is decided is put on record as the store would, and the next act is taken from what then stands.

use crate::demo;
use ironseat_core::anatomy::acts::{self, Verb};
use ironseat_core::anatomy::as_found::{Ask, closure_of};
use ironseat_core::anatomy::scene::{Leaves, Scene};
use ironseat_core::anatomy::{MachineType, Unit};
use ironseat_core::decide::{
    AGAIN, Answer, AnswerState, Clock, Command, Denied, Done, Event, Facts, Judged, Repair, State, Ticking, Who, decide,
};
use ironseat_core::fit::tooling::Tube;
use ironseat_core::quantity::{Millimetres, Newtons, Units};
use ironseat_core::rules::HouseRules;
use ironseat_core::seat::{Gauge, Measured, PressMachine, Shop, Surfaces, fit, surface_limits};
use ironseat_core::terms::{ActId, Method, StepKind, Surface};
use std::collections::BTreeSet;
use std::sync::Arc;

const LEAD: Who = Who { person: "ines", apprentice: false, lead: true, role: "lead", units: Units::Metric };
const HAND: Who = Who { person: "tomasz", apprentice: false, lead: false, role: "bench", units: Units::Metric };

fn machines() -> Vec<Arc<MachineType>> {
    demo::machines().into_iter().map(|a| Arc::new(MachineType::new(a).unwrap())).collect()
}

fn gauge() -> Gauge {
    Gauge {
        name: "electronic gauge".into(),
        outside: true,
        inside: true,
        depth: true,
        range: (Millimetres::of(0.0), Millimetres::of(500.0)),
        resolution: Millimetres::of(0.0001),
        u: Millimetres::of(0.0002),
        cost: 1.0,
        overdue: false,
    }
}

/// One rebuild: what is on record, and a clock.
struct Job {
    kind: Arc<MachineType>,
    facts: Facts,
    now: i64,
}

impl Job {
    fn new(kind: &Arc<MachineType>) -> Self {
        Self { kind: kind.clone(), facts: Facts::default(), now: 1_000_000 }
    }
    fn state(&self) -> State {
        State::new(self.kind.clone(), self.facts.clone(), self.now)
    }
    fn done(&self, by: &str, detail: &str) -> Done {
        Done { by: by.into(), at: self.now, detail: detail.into(), ..Done::default() }
    }

    /// The seat's figures: journal and bore in the middle of their limits.
    fn judged(&self, seat: &str) -> Judged {
        let facts = self.kind.anatomy.facts(seat).unwrap();
        let m = |which: Surface| {
            let (lo, hi, _) = surface_limits(which, &facts);
            Some(Measured {
                rows: vec![vec![Some(f64::midpoint(lo, hi)); 4]; 3],
                before: Vec::new(),
                gauge: gauge(),
                overdue: Vec::new(),
            })
        };
        let tube = |k: f64| Tube {
            name: format!("tube {k}"),
            bore: Millimetres::of(k),
            outside: Millimetres::of(k + 8.0),
            length: Millimetres::of(900.0),
        };
        let shop = Shop {
            gauges: vec![gauge()],
            presses: vec![PressMachine { name: "press".into(), capacity: Newtons::of(400_000.0) }],
            tubes: (10..200).map(|k| tube(f64::from(k))).collect(),
            rules: HouseRules::default(),
            room: None,
        };
        let s = Surfaces {
            journal: m(Surface::Journal),
            ring_bore: m(Surface::RingBore),
            housing_bore: m(Surface::HousingBore),
            ring_outside: m(Surface::RingOutside),
        };
        let fit = fit(&facts, &s, &shop);
        Judged { facts, fit }
    }

    /// Puts on record what was decided.
    fn put(&mut self, s: &State, events: Vec<Event>) {
        for e in events {
            // What is written can be read again and has words.
            assert_eq!(Event::read(&e.kind(), &e.body()).map(|r| r.kind()), Some(e.kind()));
            assert!(!e.say(s, Units::Inch).is_empty());
            let opened = s.opened_by(&e);
            self.facts.ticks.retain(|id, _| !opened.acts.contains(id));
            for seat in &opened.seats {
                self.facts.seat_steps.retain(|(x, k), _| x != seat || !AGAIN.contains(k));
            }
            match e {
                Event::Ticked(t) => {
                    let done = Done {
                        value: t.value,
                        second: t.second,
                        reason: t.reason.unwrap_or_default(),
                        readings: t.readings.unwrap_or_default(),
                        ..self.done("Yuki", "")
                    };
                    assert!(self.facts.ticks.insert(t.step.clone(), done).is_none(), "{} was ticked twice", t.step);
                }
                Event::Unticked { step } => assert!(self.facts.ticks.remove(&step).is_some()),
                Event::Step { seat, step, detail } => {
                    let ended = match step {
                        StepKind::Heat => "heat",
                        StepKind::Cool => "cool",
                        _ => "",
                    };
                    self.facts.clocks.retain(|k| k.seat != seat || k.kind != ended);
                    self.facts.seat_steps.insert((seat, step), self.done("Yuki", &detail));
                }
                Event::Reopened { seat, step } => assert!(self.facts.seat_steps.remove(&(seat, step)).is_some()),
                Event::Clock(k) => self.facts.clocks.push(Clock {
                    seat: k.seat,
                    kind: k.clock,
                    step: k.step,
                    label: k.label,
                    started: self.now,
                    seconds: k.seconds.into(),
                }),
                Event::WaitOver { step, .. } => self.facts.clocks.retain(|k| k.step != step),
                Event::AsFound { question, state, value, note } => {
                    self.facts.ticks.insert(ActId::Ask(question.clone()).to_string(), self.done("Yuki", ""));
                    self.facts.answers.insert(question, Answer { state, value, note, by: "Yuki".into() });
                }
                Event::Round { n, reading, shim, off, again } => {
                    self.facts.rounds.push(acts::Round { n, reading, shim, off, again })
                }
                Event::BackedOut { scrapped, .. } => self.facts.scrapped.extend(scrapped),
                Event::Repaired { part, what, .. } => {
                    self.facts.repairs.push(Repair { id: "r1".into(), part, what, by: "Yuki".into(), at: self.now });
                }
                Event::RepairTakenBack { repair, .. } => self.facts.repairs.retain(|r| r.id != repair),
                Event::Finished { .. } => self.facts.finished = true,
                _ => {}
            }
        }
        self.now += 60_000_000;
    }

    fn decide(&mut self, who: &Who, command: &Command) -> Result<(), Denied> {
        let mut s = self.state();
        s.judged = command.judges(&s).map(|seat| self.judged(seat));
        let events = decide(&s, who, command)?;
        self.put(&s, events);
        Ok(())
    }

    /// Does what is in hand, as whoever reads it would. False when nothing is left.
    fn next(&mut self) -> bool {
        let s = self.state();
        let Some(act) = s.in_hand().filter(|x| !s.is_done(&x.id)).cloned() else { return false };
        assert!(
            s.reasons(&act, Units::Metric).is_empty() || s.busy(&act),
            "in hand, and held: {:?}",
            s.reasons(&act, Units::Metric)
        );
        if s.busy(&act) {
            self.now += 7_200_000_000;
            return true;
        }
        let id = act.id.clone();
        if let Some(q) = ActId::of(&id).and_then(|i| i.asks().and_then(|q| s.question(q).cloned())) {
            let value = match (q.topic.ask(), q.topic.unit()) {
                (Ask::Facing, _) => "end A",
                (Ask::Hand, _) => "right",
                (Ask::Closure, _) => "sealed",
                (Ask::Points, _) => "0.40; 0.41; 0.40; 0.42",
                (_, Some(Unit::Ohm)) => "110",
                (_, Some(Unit::Degree)) => "45",
                (_, Some(_)) => "0.30",
                _ => "as it was",
            };
            let answer = Command::Answer {
                question: q.id.clone(),
                state: AnswerState::Recorded,
                value: value.into(),
                note: String::new(),
            };
            self.decide(&HAND, &answer).unwrap_or_else(|e| panic!("{id}: {e:?}"));
            return true;
        }
        if let Some((seat, step)) = act.seat.clone() {
            self.at_seat(&id, &seat, step);
            return true;
        }
        let value = match s.limits(&act) {
            None => String::new(),
            Some(m) => {
                let v = match (m.lo, m.hi) {
                    (Some(lo), Some(hi)) => f64::midpoint(lo, hi),
                    (Some(x), None) | (None, Some(x)) => x,
                    (None, None) => 1.0,
                };
                vec![format!("{v}"); m.points as usize].join("; ")
            }
        };
        let faces = self.faces(&id);
        let said = Ticking { second: "Pell".into(), value, faces, ..Ticking::default() };
        self.decide(&HAND, &Command::Tick { act: id.clone(), said })
            .unwrap_or_else(|e| panic!("{}: {id}: {e:?}", self.kind.anatomy.name));
        if let Some(k) = self.facts.clocks.iter().find(|k| k.step == id).cloned() {
            self.now += k.seconds * 1_000_000;
            self.decide(&HAND, &Command::WaitOver { act: k.step, why: String::new() }).unwrap();
        }
        true
    }

    /// Which way a part is put in: as the build sheet has it.
    fn faces(&self, act: &str) -> String {
        let s = self.state();
        let sheet = s.act(act).and_then(|x| s.facing(x)).and_then(|f| f.sheet);
        sheet.map_or(String::new(), |e| e.letter().to_owned())
    }

    fn at_seat(&mut self, id: &str, seat: &str, step: StepKind) {
        if step.sheet().is_some() {
            // Sheets are filled elsewhere; that they are full stands as the step.
            self.facts.seat_steps.insert((seat.into(), step), self.done("Yuki", ""));
            return;
        }
        let faces = self.faces(id);
        let tick = |temperature: &str| Command::Tick {
            act: id.into(),
            said: Ticking { temperature: temperature.into(), faces: faces.clone(), ..Ticking::default() },
        };
        match step {
            StepKind::Choose => {
                let fit = self.judged(seat).fit.unwrap_or_else(|c| panic!("{seat}: {c:?}"));
                let method = fit.advised().unwrap_or_else(|| panic!("{seat}: no way on {:?}", fit.calls));
                for wrong in [Method::Heat, Method::Press, Method::Slide] {
                    if !fit.choices.iter().any(|c| c.method == wrong && c.possible) {
                        let no = self.decide(&HAND, &Command::Choose { seat: seat.into(), method: wrong });
                        assert!(matches!(no, Err(Denied::Refused(r)) if r.field == "method"), "{seat}: {wrong:?}");
                    }
                }
                self.decide(&HAND, &Command::Choose { seat: seat.into(), method }).unwrap();
            }
            StepKind::Heat => {
                self.decide(&HAND, &Command::OnHeater { seat: seat.into() }).unwrap();
                assert!(self.facts.clocks.iter().any(|k| k.kind == "heat" && k.seconds >= 30));
                let hot = self.decide(&HAND, &tick("170"));
                assert!(matches!(hot, Err(Denied::Refused(r)) if r.message.contains("over the cap")));
                self.decide(&HAND, &tick("")).unwrap();
                assert!(
                    matches!(self.decide(&HAND, &Command::OnHeater { seat: seat.into() }), Err(Denied::Held(w)) if w.contains("hot already"))
                );
            }
            StepKind::Cool => {
                self.now += 120_000_000;
                let hands = self.state();
                if hands.clocks.iter().any(|k| k.kind == "cool" && k.left(hands.now) > 0) {
                    self.decide(&HAND, &Command::Thermometer { seat: seat.into(), temperature: "24".into() }).unwrap();
                    self.now += 7_200_000_000;
                }
                self.decide(&HAND, &tick("")).unwrap();
            }
            StepKind::Sign => {
                self.decide(&HAND, &Command::Sign { seat: seat.into() }).unwrap();
                let again = decide(&self.state(), &HAND, &Command::Sign { seat: seat.into() });
                assert_eq!(again, Ok(Vec::new()), "signed twice is signed once");
            }
            _ => self.decide(&HAND, &tick("")).unwrap_or_else(|e| panic!("{id}: {e:?}")),
        }
    }

    fn work_on(&mut self) {
        let mut n = 0;
        while self.next() {
            n += 1;
            assert!(n < 2000, "{} never ends", self.kind.anatomy.name);
        }
    }
}

#[test]
fn every_machine_goes_from_receipt_to_release() {
    for kind in machines() {
        let mut job = Job::new(&kind);
        job.work_on();
        let s = job.state();
        let (done, all) = s.progress();
        assert_eq!(done, all, "{}: {:?}", kind.anatomy.name, s.in_hand().map(|x| &x.id));
        // Everything that is drawn is on, and every seat is signed.
        let on = s.fitted();
        assert!(kind.anatomy.parts.iter().filter(|p| !p.solid).all(|p| on.contains(&p.id)), "{}", kind.anatomy.name);
        assert!(kind.anatomy.seats.iter().all(|x| s.signed(&x.id)));
        assert!(matches!(decide(&s, &HAND, &Command::Release { reason: String::new() }), Err(Denied::Held(_))));
        job.decide(&LEAD, &Command::Release { reason: String::new() }).unwrap();
        assert!(matches!(
            job.decide(&LEAD, &Command::BackOut { part: kind.anatomy.parts[0].id.clone() }),
            Err(Denied::Held(_))
        ));
    }
}

/// Whatever is backed out at the end, the trail leads to the end again, and what was scrapped is replaced.
#[test]
fn whatever_comes_off_again_goes_on_again() {
    for kind in machines() {
        let mut ended = Job::new(&kind);
        ended.work_on();
        for p in kind.anatomy.parts.iter().filter(|p| !p.solid) {
            let mut job = Job { kind: kind.clone(), facts: ended.facts.clone(), now: ended.now };
            let before = job.state().progress();
            match job.decide(&HAND, &Command::BackOut { part: p.id.clone() }) {
                Ok(()) => {}
                Err(Denied::Held(w)) => {
                    assert!(w.contains("nothing has to come off"), "{}: {w}", p.id);
                    continue;
                }
                Err(e) => panic!("{}: {e:?}", p.id),
            }
            assert!(
                job.state().progress().0 < before.0,
                "{}: {} came off and nothing is open",
                kind.anatomy.name,
                p.name
            );
            job.work_on();
            // A number or batch is asked of each new one.
            let new = job.facts.scrapped.len();
            let after = (before.0 + new, before.1 + new);
            assert_eq!(job.state().progress(), after, "{}: after {}", kind.anatomy.name, p.name);
            assert!(job.facts.scrapped.iter().all(|x| job.facts.answers.contains_key(&acts::new_of(x))));
        }
    }
}

/// A tick is taken back in the opposite order, one by one, down to nothing; each that something rests on is held.
#[test]
fn ticks_go_back_one_by_one() {
    for kind in machines() {
        let mut job = Job::new(&kind);
        job.work_on();
        // What a seat's own steps say is taken back at the seat.
        let plain: Vec<String> = job.state().acts.iter().filter(|x| x.seat.is_none()).map(|x| x.id.clone()).collect();
        let mut free_again = 0;
        for id in plain.iter().rev() {
            let s = job.state();
            match decide(&s, &HAND, &Command::TakeBack { act: id.clone() }) {
                Ok(events) => {
                    job.put(&s, events);
                    free_again += 1;
                    let s = job.state();
                    let act = s.act(id).unwrap();
                    assert!(
                        !s.is_done(id) && s.reasons(act, Units::Metric).is_empty(),
                        "{id}: {:?}",
                        s.reasons(act, Units::Metric)
                    );
                }
                Err(Denied::Held(why)) => assert!(why.contains("rests on it"), "{id}: {why}"),
                Err(e) => panic!("{id}: {e:?}"),
            }
        }
        assert!(free_again > 0, "{}", kind.anatomy.name);
    }
}

/// Readings outside their limits: a shim makes a round, anything else asks for a reason.
#[test]
fn a_reading_outside_its_limits_is_never_just_kept() {
    let (mut rounds, mut refused) = (0, 0);
    for kind in machines() {
        let mut job = Job::new(&kind);
        let mut tried = BTreeSet::new();
        loop {
            let s = job.state();
            let Some(act) = s.in_hand().filter(|x| !s.is_done(&x.id)).cloned() else { break };
            let m = s.limits(&act).filter(|m| m.hi.is_some() && !s.busy(&act) && act.seat.is_none());
            let asks = ActId::of(&act.id).is_some_and(|i| i.asks().is_some());
            if let (Some(m), false, true) = (m, asks, tried.insert(acts::first_time(&act.id).to_owned())) {
                let far = vec![format!("{}", m.hi.unwrap() * 1.5 + 1.0); m.points as usize].join("; ");
                let said = |value: &str, reason: &str| Command::Tick {
                    act: act.id.clone(),
                    said: Ticking {
                        second: "Pell".into(),
                        value: value.into(),
                        reason: reason.into(),
                        ..Ticking::default()
                    },
                };
                let before = job.facts.rounds.len();
                match job.decide(&HAND, &said(&far, "")) {
                    Ok(()) => {
                        assert_eq!(job.facts.rounds.len(), before + 1, "{} was kept", act.id);
                        rounds += 1;
                    }
                    Err(Denied::Refused(r)) => {
                        assert_eq!(r.field, "value", "{}", act.id);
                        assert!(
                            matches!(job.decide(&HAND, &said(&far, "so what")), Err(Denied::Refused(r)) if r.field == "reason")
                        );
                        assert!(
                            matches!(job.decide(&HAND, &said(&far, &"x".repeat(401))), Err(Denied::Refused(r)) if r.field == "reason")
                        );
                        assert!(
                            matches!(job.decide(&HAND, &said("soon", "")), Err(Denied::Refused(r)) if r.field == "value")
                        );
                        refused += 1;
                    }
                    Err(e) => panic!("{}: {e:?}", act.id),
                }
                continue;
            }
            assert!(job.next());
        }
        let s = job.state();
        assert_eq!(s.progress().0, s.progress().1, "{}: rounds end too", kind.anatomy.name);
    }
    assert!(rounds >= 2 && refused >= 3, "{rounds} rounds, {refused} refused");
}

/// What moves in the picture of an act is what the act names, and a part that is taken off leaves to a free end.
#[test]
fn the_scene_of_every_act_shows_what_the_act_moves() {
    for kind in machines() {
        let (a, d) = (&kind.anatomy, &kind.derived);
        for act in &d.acts {
            let scene = Scene::of(a, d, act);
            let named = a.part(&act.body).is_some() || a.housings.iter().any(|h| h.id == act.body);
            match act.verb {
                Verb::TakeOff | Verb::Place if named => {
                    assert!(scene.moves.contains(&act.body), "{}: {:?}", act.id, scene.moves);
                    assert_eq!(scene.off, act.verb == Verb::TakeOff);
                }
                Verb::Tighten | Verb::BoltDown if !scene.stack.is_empty() => {
                    assert!(scene.tight && scene.stack.contains(&act.body), "{}: {:?}", act.id, scene.stack);
                }
                Verb::Isolate | Verb::Ask | Verb::Sign => {
                    assert!(scene.moves.is_empty() && scene.stack.is_empty(), "{}", act.id)
                }
                _ => {}
            }
            if let (Leaves::Towards(_), false) = (&scene.leaves, scene.moves.is_empty()) {
                assert!(scene.tool.iter().all(|t| t.r1 > t.r0), "{}: a tool has room", act.id);
            }
        }
    }
}

#[test]
fn how_a_ring_is_closed_is_said_before_its_way_is_chosen() {
    let mut a = machines().into_iter().find(|k| k.anatomy.name.contains("Brine")).unwrap().anatomy.clone();
    let part = a.seats[0].part.clone();
    let seat = a.seats[0].id.clone();
    a.parts.iter_mut().find(|p| p.id == part).unwrap().designation = Some("6208 QX C3".into());
    let mut job = Job::new(&Arc::new(MachineType::new(a).unwrap()));
    let asked = closure_of(&seat);
    assert!(job.state().question(&asked).is_some());
    let answer = |value: &str| Command::Answer {
        question: asked.clone(),
        state: AnswerState::Recorded,
        value: value.into(),
        note: String::new(),
    };
    while job.facts.ticks.is_empty() {
        assert!(job.next());
    }
    assert!(
        matches!(job.decide(&HAND, &answer("greased")), Err(Denied::Refused(r)) if r.message.contains("open, shielded or sealed"))
    );
    job.work_on();
    assert_eq!(job.facts.answers[&asked].value, "sealed");
}

/// Everything that is held says what is missing, and the way to it is open now.
#[test]
fn what_is_held_shows_a_way_that_is_open() {
    for kind in machines() {
        let mut job = Job::new(&kind);
        let mut looked = 0;
        loop {
            let s = job.state();
            for act in s.acts.iter().filter(|x| !s.is_done(&x.id) && !s.reasons(x, Units::Metric).is_empty()) {
                if let Some(way) = s.way_to(act) {
                    assert!(
                        s.free(way) && !s.is_done(&way.id),
                        "{}: {} leads to {}",
                        kind.anatomy.name,
                        act.id,
                        way.id
                    );
                    looked += 1;
                }
                let ticked = decide(&s, &HAND, &Command::Tick { act: act.id.clone(), said: Ticking::default() });
                assert!(matches!(ticked, Err(Denied::Held(_))), "{}: {ticked:?}", act.id);
            }
            // One look in three acts is enough to see every stage.
            if !(job.next() && job.next() && job.next()) {
                break;
            }
        }
        assert!(looked > 10, "{}", kind.anatomy.name);
    }
}

/// Slips of the hand at a tick: each is refused beside its field, and nothing is written.
#[test]
fn slips_are_refused_beside_their_field() {
    let mut seen = BTreeSet::new();
    for kind in machines() {
        let mut job = Job::new(&kind);
        loop {
            let s = job.state();
            let Some(act) = s.in_hand().filter(|x| !s.is_done(&x.id)).cloned() else { break };
            let asks = ActId::of(&act.id).is_some_and(|i| i.asks().is_some());
            let plain = act.seat.is_none() && !asks && !s.busy(&act);
            let tick = |said: Ticking| decide(&s, &HAND, &Command::Tick { act: act.id.clone(), said });
            let mut refused = |said: Ticking, field: &str| {
                let r = tick(said);
                assert!(matches!(&r, Err(Denied::Refused(x)) if x.field == field), "{}: {r:?}", act.id);
                seen.insert(field.to_owned());
            };
            let two = Ticking { second: "Pell".into(), ..Ticking::default() };
            if plain && act.people > 1 {
                refused(Ticking::default(), "second");
                refused(Ticking { second: "P".into(), ..Ticking::default() }, "second");
            } else if plain && act.measure.is_none() {
                refused(Ticking { value: "12".into(), ..two.clone() }, "value");
                match s.facing(&act) {
                    None => refused(Ticking { faces: "A".into(), ..two.clone() }, "faces"),
                    Some(asked) => {
                        refused(Ticking { faces: "up".into(), ..two.clone() }, "faces");
                        let other = asked.sheet.unwrap().other().letter().to_string();
                        refused(Ticking { faces: other.clone(), reason: "why not".into(), ..two.clone() }, "faces");
                        // With a reason it is kept, and the rebuild remembers it.
                        let reason = "the lip was damaged on that side".to_owned();
                        let said = Ticking { faces: other, reason, ..two.clone() };
                        job.decide(&HAND, &Command::Tick { act: act.id.clone(), said }).unwrap();
                        assert!(job.facts.ticks[&act.id].reason.contains("damaged"));
                        seen.insert("turned".into());
                        job.now += 86_400_000_000;
                        let again = decide(&job.state(), &HAND, &Command::Tick { act: act.id.clone(), said: two });
                        assert!(matches!(again, Err(Denied::Conflict(w)) if w.contains("already")));
                        continue;
                    }
                }
            } else if asks {
                assert!(matches!(tick(two), Err(Denied::Held(w)) if w.contains("say what was found")));
            }
            assert!(matches!(
                decide(&s, &HAND, &Command::WaitOver { act: act.id.clone(), why: "24 °C by the probe".into() }),
                Err(Denied::Held(_))
            ));
            assert!(job.next());
        }
    }
    let wanted: BTreeSet<String> = ["faces", "second", "turned", "value"].map(String::from).into();
    assert_eq!(seen, wanted);
}

/// A machined face voids the marks that rest on it; they are made again before the end, or the repair is taken back.
#[test]
fn a_repair_voids_marks_until_they_are_made_again() {
    let mut voided = 0;
    for kind in machines() {
        let mut job = Job::new(&kind);
        // Up to where everything is apart.
        let apart = |job: &Job| job.state().in_hand().is_none_or(|x| x.phase == acts::Phase::Mount);
        while !apart(&job) && job.next() {}
        let a = &kind.anatomy;
        for p in a.parts.iter().filter(|p| !p.solid) {
            let what = |what: &str| Command::Repair { part: p.id.clone(), what: what.into() };
            assert!(matches!(job.decide(&HAND, &what("x")), Err(Denied::Refused(r)) if r.field == "what"));
            if acts::voided_by(a, &p.id).is_empty() {
                assert!(
                    matches!(job.decide(&HAND, &what("face ground")), Err(Denied::Held(w)) if w.contains("no mark rests on"))
                );
                continue;
            }
            if job.state().is_done(&ActId::On(p.id.clone()).to_string()) {
                continue;
            }
            let asked = job.state().questions.len();
            job.decide(&HAND, &what("face ground")).unwrap();
            assert!(job.state().questions.len() > asked, "its marks are asked for again");
            job.decide(&HAND, &Command::RepairBack { repair: "r1".into() }).unwrap();
            assert_eq!(job.state().questions.len(), asked);
            assert!(matches!(job.decide(&HAND, &Command::RepairBack { repair: "r1".into() }), Err(Denied::NotThere)));
            job.decide(&HAND, &what("face ground")).unwrap();
            voided += 1;
            break;
        }
        job.work_on();
        let (done, all) = job.state().progress();
        assert_eq!(done, all, "{}", a.name);
    }
    assert!(voided >= 2, "{voided}");
    let mut job = Job::new(&machines()[0]);
    assert!(
        matches!(job.decide(&HAND, &Command::Repair { part: "no".into(), what: "ground".into() }), Err(Denied::Refused(r)) if r.field == "part")
    );
}
