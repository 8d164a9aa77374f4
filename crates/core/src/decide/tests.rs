//! Decisions on a small machine, a bearing with its nut in a bracket: each rule with what it says.

use super::*;
use crate::anatomy::{Anatomy, MachineType};
use crate::call::{Call, Situation};
use std::collections::BTreeMap;
use std::sync::Arc;

const LEAD: Who = Who { person: "ines", apprentice: false, lead: true, role: "lead", units: Units::Metric };
const HAND: Who = Who { person: "tomasz", apprentice: false, lead: false, role: "bench", units: Units::Metric };

fn machine() -> Arc<MachineType> {
    let a: Anatomy = serde_json::from_value(serde_json::json!({
        "key": "t", "name": "quay shaft", "version": 1,
        "lands": [{"id": "body", "name": "body", "length_mm": 100.0, "d_mm": 48.0},
                  {"id": "j", "name": "bearing land", "length_mm": 18.0, "d_mm": 40.0},
                  {"id": "t", "name": "thread", "length_mm": 20.0, "d_mm": 38.0, "kind": "thread"}],
        "parts": [{"id": "b", "name": "Bearing", "kind": "bearing", "land": "j", "width_mm": 18.0, "outside_mm": 80.0, "designation": "6208 C3", "fit": "shrink", "from": "B"},
                  {"id": "n", "name": "Shaft nut", "kind": "nut", "land": "t", "at_mm": 1.0, "width_mm": 10.0, "outside_mm": 55.0, "from": "B"}],
        "housings": [{"id": "h", "name": "Bracket", "outside_mm": 120.0, "material": "grey_iron", "from": "B", "bores": [{"from_mm": 95.0, "to_mm": 125.0, "d_mm": 80.0}]}],
        "seats": [{"id": "s", "name": "Drive end", "part": "b", "housing": "h", "shaft_class": "k6", "housing_class": "H7", "shaft_material": "carbon_steel", "from": "B",
                   "against": "the shoulder", "nut": "the shaft nut", "critical": true,
                   "depth": {"datum": "the shaft end", "expected_mm": 20.0, "tolerance_mm": 0.05}, "source": "test sheet"}],
    }))
    .unwrap();
    Arc::new(MachineType::new(a.check().unwrap()).unwrap())
}

fn seat() -> String {
    machine().anatomy.seats[0].id.clone()
}

fn done(by: &str) -> Done {
    Done { by: by.into(), at: 1, ..Done::default() }
}

/// Everything done but what the test leaves open.
fn facts(open: &[&str], seat_steps: &[(StepKind, &str)]) -> Facts {
    let kind = machine();
    let ticks = kind.derived.acts.iter().filter(|s| s.seat.is_none() && !open.contains(&s.id.as_str()));
    Facts {
        ticks: ticks.map(|s| (s.id.clone(), done("Tomasz"))).collect(),
        seat_steps: seat_steps
            .iter()
            .map(|(k, d)| ((seat(), *k), Done { detail: (*d).into(), ..done("Yuki") }))
            .collect(),
        ..Facts::default()
    }
}

fn recorded(value: &str) -> Answer {
    Answer { state: AnswerState::Recorded, value: value.into(), note: String::new(), by: "Tomasz".into() }
}

fn state(facts: Facts) -> State {
    State::new(machine(), facts, 0)
}

fn said(d: Decision) -> String {
    match d {
        Err(Denied::Held(s) | Denied::Conflict(s)) => s,
        Err(Denied::Refused(r)) => format!("{}: {}", r.field, r.message),
        Err(Denied::NotThere) => "not there".into(),
        Ok(events) => panic!("{events:?}"),
    }
}

fn tick(s: &State, act: &str) -> Decision {
    decide(s, &HAND, &Command::Tick { act: act.into(), said: Ticking::default() })
}

#[test]
fn nothing_is_in_hand_before_it_is_isolated() {
    let s = state(Facts::default());
    assert_eq!(s.in_hand().unwrap().id, "receive.safe");
    assert!(s.meanwhile("").iter().all(|x| x.id == "receive.safe"));
    for act in s.acts.iter().filter(|x| x.id != "receive.safe" && ActId::of(&x.id).unwrap().asks().is_none()) {
        assert!(said(tick(&s, &act.id)).contains("Isolate, tag, try"), "{}", act.id);
    }
    assert!(matches!(&tick(&s, "receive.safe").unwrap()[..], [Event::Ticked(t)] if t.step == "receive.safe"));
}

#[test]
fn a_seat_goes_through_its_steps_in_order_and_says_what_is_missing() {
    use StepKind as K;
    let at = |k: K| ActId::AtSeat { seat: seat(), step: k }.to_string();
    let s = state(facts(&[], &[]));
    let act = |s: &State, k: K| s.act_of(&seat(), k).unwrap().id.clone();
    assert_eq!(s.in_hand().unwrap().id, at(K::Journal));
    assert!(said(tick(&s, &at(K::Journal))).contains("by filling its sheet"));
    assert!(said(tick(&s, &at(K::Choose))).contains("Measure the journal"));
    let s = state(facts(&[], &[(K::Journal, ""), (K::RingBore, "")]));
    assert_eq!(s.in_hand().unwrap().id, at(K::Choose));
    assert!(said(tick(&s, &act(&s, K::PutOn))).contains("Choose how it goes on"));
    // Pressed, nothing is heated and nothing cools; the machine does not ask for it either.
    let pressed = state(facts(&[], &[(K::Journal, ""), (K::RingBore, ""), (K::Choose, "press")]));
    assert!(pressed.act_of(&seat(), K::Heat).is_none() && pressed.act_of(&seat(), K::Cool).is_none());
    assert_eq!(pressed.in_hand().unwrap().id, act(&pressed, K::PutOn));
    assert!(
        said(decide(&pressed, &HAND, &Command::OnHeater { seat: seat() }))
            .contains("not needed with the chosen method")
    );
    let hot = state(facts(&[], &[(K::Journal, ""), (K::RingBore, ""), (K::Choose, "heat")]));
    assert_eq!(hot.in_hand().unwrap().id, act(&hot, K::Heat));
    assert!(hot.acts.len() > pressed.acts.len());
    // What may be left out holds nothing and does not count.
    assert!(!hot.is_done(&at(K::HousingBore)) && State::optional(hot.act(&at(K::HousingBore)).unwrap()));
}

#[test]
fn a_ring_that_cools_holds_what_rests_on_it_and_leaves_hands_free() {
    use StepKind as K;
    let steps = [(K::Journal, ""), (K::RingBore, ""), (K::Choose, "heat"), (K::Heat, "92 °C"), (K::PutOn, "heat")];
    let mut f = facts(&[], &steps);
    f.clocks = vec![Clock {
        seat: seat(),
        kind: "cool".into(),
        step: String::new(),
        label: "Bearing, cooling".into(),
        started: 0,
        seconds: 900,
    }];
    let s = state(f.clone());
    let cool = s.act_of(&seat(), K::Cool).unwrap().clone();
    assert!(s.busy(&cool) && s.free(&cool), "its own clock does not hold it");
    assert!(said(tick(&s, &cool.id)).contains("the clock says 15:00 more"));
    let home = s.act_of(&seat(), K::Home).unwrap();
    assert!(s.held(home, Units::Metric).unwrap().contains("Bearing, cooling: 15:00 left"));
    // A thermometer corrects the clock; what is hotter than it was cannot be.
    let read = |t: &str| decide(&s, &HAND, &Command::Thermometer { seat: seat(), temperature: t.into() });
    assert!(matches!(&read("23").unwrap()[..], [Event::Thermometer { seconds, .. }] if *seconds < 1.0));
    assert!(said(read("150")).contains("it cannot be hotter now") && said(read("")).contains("such as 41"));
    // Inches and Fahrenheit: the sentence is in the reader's degrees.
    let inch = Who { units: Units::Inch, ..HAND };
    let far = decide(&s, &inch, &Command::Thermometer { seat: seat(), temperature: "250".into() });
    assert!(said(far).contains("198 °F"));
    f.clocks[0].seconds = 0;
    let s = state(f);
    assert!(matches!(&tick(&s, &cool.id).unwrap()[..], [Event::Step { step: K::Cool, .. }]));
}

#[test]
fn a_call_that_is_not_good_holds_until_it_is_overruled_by_who_may() {
    use StepKind as K;
    let mut f = facts(&[], &[(K::Journal, ""), (K::RingBore, "")]);
    let over = Call::of(
        Verdict::Stop,
        Situation::SizeOver {
            surface: crate::terms::Surface::Journal,
            by: crate::quantity::Micrometres(20.0),
            mend: None,
        },
    );
    let called = |topic: &str, by: Option<&str>| Called {
        seat: seat(),
        topic: topic.into(),
        calls: vec![over.clone()],
        overruled_by: by.map(Into::into),
        overrule_reason: String::new(),
    };
    f.calls = vec![called("journal", None)];
    let s = state(f.clone());
    let choose = s.act_of(&seat(), K::Choose).unwrap();
    assert!(s.held(choose, Units::Metric).unwrap().contains("The call on “Measure the journal” is stop"));
    assert_eq!(s.reasons(choose, Units::Metric)[0].first, format!("at.{}.journal", seat()));
    let overrule = |who: &Who, reason: &str| {
        decide(&s, who, &Command::Overrule { seat: seat(), topic: "journal".into(), reason: reason.into() })
    };
    assert!(said(overrule(&LEAD, "no")).starts_with("reason:"));
    assert!(
        matches!(&overrule(&LEAD, "seen it run for years").unwrap()[..], [Event::Overruled { topic, .. }] if topic == "journal")
    );
    assert!(said(overrule(&HAND, "seen it run for years")).contains("only a lead"), "its limits are critical");
    f.calls = vec![called("journal", Some("Ines"))];
    assert!(state(f.clone()).free(choose));
    // A stop on the fit holds heater and press, not the choice.
    f.seat_steps.insert((seat(), K::Choose), Done { detail: "heat".into(), ..done("Yuki") });
    f.calls = vec![called("fit", None)];
    let s = state(f);
    assert!(said(tick(&s, &s.act_of(&seat(), K::Heat).unwrap().id)).contains("The call on the fit is stop"));
}

#[test]
fn a_tick_is_taken_back_only_while_nothing_rests_on_it_and_a_signature_never() {
    use StepKind as K;
    let all: Vec<(K, &str)> =
        K::ALL.into_iter().filter(|k| !k.optional()).map(|k| (k, if k == K::Choose { "heat" } else { "" })).collect();
    let s = state(facts(&["prove.run"], &all));
    let back = |s: &State, id: &str| decide(s, &HAND, &Command::TakeBack { act: id.into() });
    let act = |k: K| s.act_of(&seat(), k).unwrap().id.clone();
    assert!(said(back(&s, &act(K::Sign))).contains("a signature is not taken back"));
    assert!(said(back(&s, &act(K::Journal))).contains("correct the reading"));
    assert!(said(back(&s, &act(K::PutOn))).contains("rests on it"));
    assert!(said(back(&s, "prove.run")).contains("not ticked"));
    let steps: Vec<(K, &str)> = all.iter().copied().filter(|x| !matches!(x.0, K::Sign | K::Home)).collect();
    let s = state(facts(&["prove.run", "prove.turn"], &steps));
    if let Some(cool) = s.act_of(&seat(), K::Cool).filter(|x| s.resting_on(&x.id).is_none()) {
        assert!(matches!(&back(&s, &cool.id).unwrap()[..], [Event::Reopened { step: K::Cool, .. }]));
    }
    assert!(matches!(back(&s, "on.no-such"), Err(Denied::NotThere)));
}

#[test]
fn a_release_wants_every_seat_signed_and_a_reason_for_what_is_open() {
    use StepKind as K;
    let all: Vec<(K, &str)> = K::ALL.into_iter().map(|k| (k, if k == K::Choose { "press" } else { "" })).collect();
    let release = |s: &State, who: &Who, reason: &str| decide(s, who, &Command::Release { reason: reason.into() });
    let s = state(facts(&[], &all));
    assert!(said(release(&s, &HAND, "")).contains("only a lead"));
    assert!(matches!(&release(&s, &LEAD, "").unwrap()[..], [Event::Finished { said, .. }] if said == "released"));
    let s = state(facts(&["prove.run"], &all));
    assert!(said(release(&s, &LEAD, "soon")).contains("one step of the trail is open"));
    assert!(release(&s, &LEAD, "the customer runs it in").is_ok());
    assert!(said(release(&state(facts(&[], &all[..3])), &LEAD, "")).contains("not signed yet"));
    // Finished, nothing more is written, whatever it is.
    let s = state(Facts { finished: true, ..facts(&[], &all) });
    for command in [
        Command::BackOut { part: "x".into() },
        Command::Release { reason: String::new() },
        Command::TakeBack { act: "on.x".into() },
    ] {
        assert!(said(decide(&s, &LEAD, &command)).contains("finished and signed"));
    }
}

#[test]
fn what_comes_off_opens_what_was_done_on_top_of_it() {
    use StepKind as K;
    let all: Vec<(K, &str)> = K::ALL.into_iter().map(|k| (k, if k == K::Choose { "press" } else { "" })).collect();
    let s = state(facts(&["prove.run"], &all));
    let part = machine().anatomy.seats[0].part.clone();
    let events = decide(&s, &HAND, &Command::BackOut { part: part.clone() }).unwrap();
    let opened = s.opened_by(&events[0]);
    assert_eq!(opened.seats, [seat()], "it is put on, proved and signed again");
    // Nothing that stays done rests on what is open.
    for x in s.acts.iter().filter(|x| s.is_done(&x.id) && !opened.acts.contains(&x.id)) {
        assert!(x.before.iter().all(|b| !opened.acts.contains(&b.id)), "{} rests on what came off", x.id);
    }
    assert!(
        said(decide(&state(Facts::default()), &HAND, &Command::BackOut { part })).contains("nothing has to come off")
    );
}

/// Every entry that was ever written reads back and writes the same text; each kind has words of its own.
#[test]
fn old_records_still_read() {
    let golden = include_str!("../../../store/tests/golden/record.tsv");
    // Kinds that the golden rebuilds have none of, as they were written.
    let more = [
        ("wait over", r#"{"step":"on.b","left_s":12}"#),
        ("picture", r#"{"question":"b.faces","picture":"id 1","sha256":"ab"}"#),
        ("picture taken away", r#"{"picture":"id 1"}"#),
        ("version", r#"{"from":1,"to":2,"changes":["Part Sleeve is new."],"opened":["on.b"],"no longer":[]}"#),
        ("disposed", r#"{"part":"b","fate":"replace","reason":"fluted; 6208 C3","marks":["flutes"]}"#),
        (
            "explained",
            r#"{"of":"float.b","about":"The float, foreseen 300 µm, came 380 µm","what":"chip under the shim"}"#,
        ),
        ("carried over", r#"{"derivation":2,"ticks":["heat.b"]}"#),
        ("ticked", r#"{"step":"on.b","second":"","faces":"end A","reason":""}"#),
    ];
    let lines = golden.lines().map(|l| {
        let mut f = l.splitn(4, '\t').skip(2);
        (f.next().unwrap(), f.next().unwrap())
    });
    let s = state(facts(&[], &[]));
    let mut kinds = BTreeSet::new();
    for (kind, body) in lines.chain(more) {
        let event = Event::read(kind, body).unwrap_or_else(|| panic!("{kind} {body}"));
        assert_eq!((event.kind().as_str(), event.body().as_str()), (kind, body));
        let words = event.say(&s, Units::Metric);
        assert!(words.chars().count() > 5 && !words.contains("{"), "{kind}: {words}");
        kinds.insert(kind.to_owned());
    }
    assert_eq!(kinds.len(), 28, "{kinds:?}");
    assert!(Event::read("no such kind", "{}").is_none() && Event::read("unticked", "{}").is_none());
}

#[test]
fn what_an_apprentice_signs_a_second_person_counter_signs() {
    use StepKind as K;
    let pell = Who { person: "pell", apprentice: true, role: "apprentice", ..HAND };
    let other = Who { person: "zed", ..pell };
    let sign = |s: &State, who: &Who| decide(s, who, &Command::Sign { seat: seat() });
    let all: Vec<(K, &str)> = K::ALL
        .into_iter()
        .filter(|k| !k.optional() && *k != K::Sign)
        .map(|k| (k, if k == K::Choose { "heat" } else { "" }))
        .collect();
    let first = state(facts(&["prove.run", "prove.turn"], &all));
    // The signature stands, the seat is not done: nothing rests on it yet, and nothing is released.
    assert!(matches!(&sign(&first, &pell).unwrap()[..], [Event::Signed { role, .. }] if role == "apprentice"));
    assert!(matches!(&sign(&first, &HAND).unwrap()[..], [Event::Signed { .. }, Event::Step { step: K::Sign, .. }]));
    let half_signed = [(seat(), HalfSigned { by: "Pell".into(), person: "pell".into() })].into();
    let half = state(Facts { half_signed, ..facts(&["prove.run", "prove.turn"], &all) });
    assert!(!half.signed(&seat()) && half.under_signature(&seat()));
    assert!(said(decide(&half, &LEAD, &Command::Release { reason: "soon enough".into() })).contains("not signed yet"));
    // Pressed twice it is signed once; another apprentice is no second person.
    assert!(sign(&half, &pell).unwrap().is_empty());
    assert!(said(sign(&half, &other)).contains("Pell has signed as an apprentice"));
    for who in [&HAND, &LEAD] {
        let done = sign(&half, who).unwrap();
        assert!(
            matches!(&done[..], [Event::CounterSigned { of, role, .. }, Event::Step { step: K::Sign, .. }] if of == "Pell" && role == who.role),
            "{done:?}"
        );
    }
    // Each is told what their name means, and who may not sign now is told who may.
    let told = |s: &State, who: &Who| s.signing(&seat(), who);
    assert!(told(&first, &HAND).1 && told(&first, &HAND).0.contains("did this"));
    assert!(told(&first, &pell).1 && told(&first, &pell).0.contains("when a second person has counter-signed"));
    assert!(told(&half, &HAND).1 && !told(&half, &HAND).0.contains("did this"));
    // Who signed as an apprentice is no second person to it, whatever they have become since.
    let promoted = Who { person: "pell", ..HAND };
    for who in [&pell, &other, &promoted] {
        assert!(!told(&half, who).1 && told(&half, who).0.contains("somebody who signs alone"), "{}", who.person);
    }
    // Work that goes on under it opens it.
    let home = half.act_of(&seat(), K::Nip).or(half.act_of(&seat(), K::Cool)).unwrap().id.clone();
    let back = decide(&half, &HAND, &Command::TakeBack { act: home.clone() }).unwrap();
    assert!(matches!(&back[..], [Event::Reopened { .. }, Event::SignatureOpened { .. }]), "{back:?}");
    assert_eq!(decide(&first, &HAND, &Command::TakeBack { act: home }).unwrap().len(), 1);
    // An apprentice overrules nothing.
    assert!(
        said(overrule(&half, &pell, &seat(), "fit", "it was always so")).contains("an apprentice does not overrule")
    );
}

#[test]
fn what_becomes_of_a_part_is_said_and_keeps_it_off() {
    use crate::inspect::Fate;
    let s = state(facts(&[], &[]));
    let part = s
        .anatomy()
        .parts
        .iter()
        .find(|p| crate::inspect::on_part(s.anatomy(), &p.id) == Some(crate::inspect::On::Bearing))
        .unwrap()
        .id
        .clone();
    let dispose = |s: &State, fate, reason: &str, marks: &[&str]| {
        let marks = marks.iter().map(|m| (*m).to_owned()).collect();
        decide(s, &HAND, &Command::Dispose { part: part.clone(), fate, reason: reason.into(), marks })
    };
    let field = |d: Decision| match d {
        Err(Denied::Refused(r)) => r.field,
        other => format!("{other:?}"),
    };
    assert_eq!(field(dispose(&s, None, "", &[])), "fate");
    assert_eq!(field(dispose(&s, Some(Fate::Replace), "bad", &[])), "reason", "a reason that another understands");
    assert_eq!(field(dispose(&s, Some(Fate::Reuse), "", &["weather"])), "marks");
    assert_eq!(
        field(dispose(&s, Some(Fate::Reuse), "", &["even", "land_bites"])),
        "marks",
        "no bearing shows a land's"
    );
    assert_eq!(field(dispose(&s, Some(Fate::Reuse), "", &["even", "flutes"])), "fate", "what is fluted is done for");
    let events = dispose(&s, Some(Fate::Replace), "fluted; 6208 C3", &["flutes", "flutes"]).unwrap();
    let Event::Disposed { fate, marks, .. } = &events[0] else { panic!("{events:?}") };
    assert_eq!((*fate, marks.len()), (Fate::Replace, 1));
    assert!(events[0].say(&s, Units::Metric).contains("replace. fluted; 6208 C3. flutes across the path"));

    // Referred, it does not go on until something else was said of it.
    let with = |fate| {
        let d = Disposition {
            part: part.clone(),
            fate,
            reason: "crack, to the maker".into(),
            marks: vec![],
            by: "Ines".into(),
            at: 1,
        };
        state(Facts { disposed: [(part.clone(), d)].into(), ..facts(&[], &[]) })
    };
    let puts_on = |s: &State| {
        let of_seat = s.acts.iter().find(|a| {
            a.seat
                .as_ref()
                .is_some_and(|x| x.1 == StepKind::PutOn && s.anatomy().seat(&x.0).is_some_and(|y| y.part == part))
        });
        of_seat.or_else(|| s.act(&ActId::On(part.clone()).to_string())).unwrap().clone()
    };
    for (fate, held) in
        [(Fate::Refer, true), (Fate::Repair, true), (Fate::Replace, true), (Fate::Reuse, false), (Fate::Dress, false)]
    {
        let s = with(fate);
        let words: String = s.reasons(&puts_on(&s), Units::Metric).into_iter().map(|r| r.words).collect();
        assert_eq!(words.contains("crack, to the maker"), held, "{fate:?}: {words}");
    }
    // What is on was looked at before.
    let on = state(facts(&[], &[(StepKind::Choose, "heat"), (StepKind::Heat, "90 °C"), (StepKind::PutOn, "")]));
    let early = Command::Dispose { part: part.clone(), fate: Some(Fate::Reuse), reason: String::new(), marks: vec![] };
    assert!(said(decide(&on, &HAND, &early)).contains("is on: back it out first"));
    // Said twice it is written once.
    let s = with(Fate::Refer);
    let again = dispose(&s, Some(Fate::Refer), "crack, to the maker", &[]);
    assert!(!again.unwrap().iter().any(|e| matches!(e, Event::Disposed { .. })));
}

/// A sheet that a seat knows a part of is read with the rebuild, or it would say less in other rooms than in its own.
#[test]
fn what_a_seat_knows_of_sheets_is_listed() {
    use crate::seat::asks::SHEETS_OF_SEAT;
    use crate::seat::asks::of_seat;
    let s = state(facts(&[], &[]));
    let known = s.anatomy().facts(&seat()).unwrap();
    for d in crate::sheet::SHEETS {
        assert_eq!(of_seat(d.name, &known, None).is_some(), SHEETS_OF_SEAT.contains(&d.name), "{}", d.name);
    }
}

#[test]
fn what_was_scrapped_does_not_go_back_and_its_place_wants_the_new_one() {
    let fate = |fate: Fate| Disposition {
        part: "b".into(),
        fate,
        reason: "fluted; 6208 C3, promised for the ninth".into(),
        marks: vec![],
        by: "Ines".into(),
        at: 1,
    };
    let with = |d: Disposition, answers: &[&str]| {
        let said = |q: &&str| {
            let a = recorded("6208 C3, batch 7");
            ((*q).to_owned(), a)
        };
        let ticks = answers.iter().map(|q| (format!("ask.{q}"), done("Tomasz")));
        let mut f = facts(&["on.n"], &[(StepKind::Choose, "heat")]);
        f.ticks.extend(ticks);
        f.answers = answers.iter().map(said).collect();
        f.disposed = [("b".to_owned(), d)].into();
        state(f)
    };
    let s = with(fate(Fate::Replace), &[]);
    let asked = s.act("ask.new.b").unwrap();
    assert!(
        asked.words.to_string().starts_with("New bearing: lay the new bearing beside the old one"),
        "{}",
        asked.words
    );
    assert_eq!(s.question("new.b").unwrap().short, "New bearing, number or batch");
    for held in [s.act_of(&seat(), StepKind::Heat).unwrap(), s.act_of(&seat(), StepKind::PutOn).unwrap()] {
        let why = s.held(held, Units::Metric).unwrap();
        assert!(why.contains("promised for the ninth"), "{}: {why}", held.id);
    }
    let answer = Command::Answer {
        question: "new.b".into(),
        state: AnswerState::Recorded,
        value: "6208 C3, batch 7".into(),
        note: String::new(),
    };
    assert!(decide(&s, &HAND, &answer).is_ok());
    let s = with(fate(Fate::Replace), &["new.b"]);
    let why = s.held(s.act_of(&seat(), StepKind::Heat).unwrap(), Units::Metric).unwrap_or_default();
    assert!(!why.contains("promised for the ninth"), "{why}");
    // It was to be used again: nothing new is asked for.
    assert!(with(fate(Fate::Dress), &[]).act("ask.new.b").is_none());
    // Referred, it is not even heated.
    let s = with(fate(Fate::Refer), &[]);
    let why = s.held(s.act_of(&seat(), StepKind::Heat).unwrap(), Units::Metric).unwrap();
    assert!(why.contains("is to be referred"), "{why}");
}

/// A cover on a case with its gasket between them.
fn gasketed() -> Arc<MachineType> {
    let a: Anatomy = serde_json::from_value(serde_json::json!({
        "key": "g", "name": "gear case", "version": 1,
        "lands": [{"id": "j", "name": "journal", "length_mm": 80.0, "d_mm": 40.0}],
        "parts": [{"id": "c", "name": "Cover", "kind": "cover", "land": "j", "at_mm": 9.0, "width_mm": 10.0, "outside_mm": 120.0, "bore_mm": 42.0},
                  {"id": "g", "name": "Gasket", "kind": "gasket", "land": "j", "at_mm": 19.0, "width_mm": 1.0, "outside_mm": 120.0, "bore_mm": 82.0}],
        "housings": [{"id": "case", "name": "case", "outside_mm": 120.0, "material": "grey_iron", "from": "A", "bores": [{"from_mm": 20.0, "to_mm": 60.0, "d_mm": 80.0}]}],
        "bolt_rings": [{"part": "c", "n": 4, "torque_nm": 20.0}],
    }))
    .unwrap();
    Arc::new(MachineType::new(a.check().unwrap()).unwrap())
}

#[test]
fn what_coming_off_again_scraps_wants_a_new_one_each_time() {
    let kind = gasketed();
    let all = |open: &BTreeSet<String>| -> BTreeMap<String, Done> {
        let acts = kind.derived.acts.iter().map(|s| s.id.clone());
        acts.filter(|id| !open.contains(id)).map(|id| (id, done("Tomasz"))).collect()
    };
    let s = State::new(kind.clone(), Facts { ticks: all(&BTreeSet::new()), ..Facts::default() }, 0);
    assert!(s.act("ask.new.g").is_none(), "what its kit checks anyway is not asked the first time");
    let events = decide(&s, &HAND, &Command::BackOut { part: "g".into() }).unwrap();
    assert!(matches!(&events[0], Event::BackedOut { scrapped, .. } if *scrapped == ["g"]), "{events:?}");
    let opened = s.opened_by(&events[0]).acts;
    assert!(opened.contains("on.g") && opened.contains("on.c"));
    let out = |answered: bool| {
        let mut f = Facts { ticks: all(&opened), scrapped: ["g".to_owned()].into(), ..Facts::default() };
        if answered {
            f.ticks.insert("ask.new.g".into(), done("Tomasz"));
            f.answers.insert("new.g".into(), recorded("sheet 0.5, batch 12"));
        }
        State::new(kind.clone(), f, 0)
    };
    let s = out(false);
    let why = s.held(s.act("on.g").unwrap(), Units::Metric).unwrap();
    assert!(why.contains("it came off again"), "{why}");
    assert_eq!(s.in_hand().unwrap().id, "ask.new.g");
    let s = out(true);
    assert_eq!(s.in_hand().unwrap().id, "on.g");
    // Off once more, the number of the one before it is nobody's answer.
    let mut f = Facts { ticks: all(&BTreeSet::new()), scrapped: ["g".to_owned()].into(), ..Facts::default() };
    f.ticks.insert("ask.new.g".into(), done("Tomasz"));
    f.answers.insert("new.g".into(), recorded("sheet 0.5, batch 12"));
    let s = State::new(kind.clone(), f.clone(), 0);
    assert!(s.opened_by(&events[0]).acts.contains("ask.new.g"));
    // On again from a time when nothing was asked: it is not asked now.
    f.answers.clear();
    f.ticks.remove("ask.new.g");
    assert!(State::new(kind.clone(), f.clone(), 0).act("ask.new.g").is_none());
    // In a round the same, of that round only.
    f.scrapped.clear();
    let again = ["on.g", "on.c", "bolts.c"].map(str::to_owned).to_vec();
    let (reading, shim) = ("float.f".to_owned(), "s".to_owned());
    f.rounds = vec![acts::Round { n: 2, reading, shim, off: vec!["c".into(), "g".into()], again }];
    let s = State::new(kind, f, 0);
    let waits = |act: &str| s.act(act).unwrap().before.iter().any(|b| b.id == "ask.new.g#2");
    assert!(waits("on.g#2") && !waits("on.g") && !waits("on.c#2"));
    assert!(s.act("ask.new.c#2").is_none(), "a cover goes back");
    assert_eq!(s.question("new.g#2").unwrap().short, "New gasket, number or batch");
}

/// Two bearings of a pair on a shaft, back to back.
fn pair() -> Arc<MachineType> {
    let bearing = |id: &str, at: f64, faces: &str| {
        serde_json::json!({"id": id, "name": format!("Bearing {id}"), "kind": "bearing", "land": "j", "at_mm": at, "width_mm": 18.0,
                           "outside_mm": 80.0, "designation": "7208 25", "faces": faces, "from": "B"})
    };
    let a: Anatomy = serde_json::from_value(serde_json::json!({
        "key": "p", "name": "pair", "version": 1,
        "lands": [{"id": "body", "name": "body", "length_mm": 100.0, "d_mm": 48.0},
                  {"id": "j", "name": "bearing land", "length_mm": 40.0, "d_mm": 40.0}],
        "parts": [bearing("x", 0.0, "B"), bearing("y", 18.0, "A")],
        "pairs": [{"a": "x", "b": "y", "arrangement": "DB"}],
    }))
    .unwrap();
    Arc::new(MachineType::new(a.check().unwrap()).unwrap())
}

#[test]
fn a_pair_that_would_stand_in_tandem_stops_at_the_ring_that_makes_it_so() {
    let kind = pair();
    let with = |faces: &[(&str, &str)], found: &[(&str, &str)]| {
        let open = |id: &str| {
            id == "on.y" || kind.derived.act(id).is_some_and(|s| s.id.starts_with("p") || s.id.starts_with("drag"))
        };
        let mut f = Facts::default();
        for s in
            kind.derived.acts.iter().filter(|s| !open(&s.id) || faces.iter().any(|x| s.id == format!("on.{}", x.0)))
        {
            let end = faces.iter().find(|x| s.id == format!("on.{}", x.0)).and_then(|x| End::of(x.1));
            f.ticks.insert(s.id.clone(), Done { faces: end, ..done("Tomasz") });
        }
        for (q, value) in found {
            f.answers.insert((*q).to_owned(), recorded(value));
        }
        State::new(kind.clone(), f, 0)
    };
    let put = |s: &State, faces: &str| {
        let said = Ticking {
            faces: faces.into(),
            reason: "so it was found, and the maker says so".into(),
            ..Ticking::default()
        };
        decide(s, &HAND, &Command::Tick { act: "on.y".into(), said })
    };
    // As the sheet has it, and both the other way round with a reason; but not one of them alone.
    assert!(put(&with(&[("x", "B")], &[]), "A").is_ok());
    assert!(put(&with(&[("x", "A")], &[]), "B").is_ok());
    for (x, y) in [("B", "B"), ("A", "A")] {
        let why = said(put(&with(&[("x", x)], &[]), y));
        assert!(why.starts_with("faces: ") && why.contains("would stand in tandem"), "{why}");
    }
    // Of a pair it is said in any case, by whatever way it is ticked.
    assert!(said(put(&with(&[("x", "B")], &[]), "")).contains("it is one of a pair"));
    // Where it stands so on record, the push test, the drag and the proof are held.
    let s = with(&[("x", "B"), ("y", "B")], &[]);
    for act in ["preload.x.y", "drag.x.y", "prove.turn"] {
        let why = s.held(s.act(act).unwrap(), Units::Metric).unwrap_or_default();
        assert!(why.contains("would stand in tandem"), "{act}: {why}");
    }
    assert!(s.tandem_remarks()[0].contains("stand in tandem, and the build sheet wants a diamond"), "the certificate");
    let right = with(&[("x", "B"), ("y", "A")], &[]);
    assert!(right.in_tandem(None, |_| true).is_none() && right.tandem_remarks().is_empty());
    // What was found contradicts the sheet: which is right is said before it goes on.
    let s = with(&[("x", "B")], &[("y.faces", "end B")]);
    let asked = s.act("ask.which.y").unwrap();
    assert!(asked.words.to_string().contains("the build sheet says end A"), "{}", asked.words);
    assert!(s.held(s.act("on.y").unwrap(), Units::Metric).unwrap().contains("contradicts the build sheet"));
    assert!(with(&[("x", "B")], &[("y.faces", "end A")]).act("ask.which.y").is_none());
}
