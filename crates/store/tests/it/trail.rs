//! The trail of a rebuild: held, measured, waiting, repaired, backed out, taken to a newer version, with pictures.

use crate::support::hands::{begin, sign, state, with, work_to};
use crate::support::{Fresh, hands as work};
use diesel::{MysqlConnection, RunQueryDsl as _};
use ironseat_core::anatomy::acts::{Act, Stage};
use ironseat_core::anatomy::as_found::Ask;
use ironseat_core::anatomy::edit::Edit;
use ironseat_core::decide::{AnswerState, Command, State, Ticking};
use ironseat_core::quantity::Units;
use ironseat_core::terms::StepKind;
use ironseat_store::read::{self, bench, rebuilds};
use ironseat_store::rows::person::Person;
use ironseat_store::write;
use ironseat_store::write::drafts::{self, Change};
use ironseat_store::write::pictures::{MOST, NewPicture};
use ironseat_store::{Id, RebuildId, RepairId, StoreError};

fn closed(t: &State) -> bool {
    let on = t.on();
    let id = |b: usize| &t.kind.derived.bodies.list[b].id;
    t.kind.derived.relations().iter().all(|r| !on.contains(id(r.then.body())) || on.contains(id(r.first.body())))
}

fn release(c: &mut MysqlConnection, lead: &Person, id: RebuildId, reason: &str) -> Result<(), StoreError> {
    ironseat_store::write::work::signed(c, lead, id, &Command::Release { reason: reason.into() }, "2408")
}

fn whole(c: &mut MysqlConnection, id: RebuildId) -> bool {
    // The hands of these tests sign seats in SQL: their steps are the only rows that no entry speaks for.
    match ironseat_store::chain::rebuild::verify(c, id, true).unwrap() {
        ironseat_store::chain::entry::Verdict::Changed { rows } => rows.iter().all(|r| r.table == "steps"),
        other => other.whole(),
    }
}

#[tokio::test]
async fn a_trail_is_worked_out_of_order_held_answered_and_backed_out() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (tomasz, yuki) = (f.person("tomasz"), f.person("yuki"));
    let id = begin(&f, c, "Blower", "R-0501");
    let none = Ticking::default();
    assert_eq!(state(c, id).in_hand().unwrap().id, "receive.safe");

    // Held: taken apart before anything was written down.
    work::tick(c, &tomasz, id, "receive.safe", &none).unwrap();
    let held = work::tick(c, &tomasz, id, "off.hub", &none).unwrap_err();
    assert!(matches!(&held, StoreError::Held(s) if s.contains("held, first:")), "{held}");
    work::tick(c, &tomasz, id, "receive.kind", &none).unwrap();
    // Its seats say how far they are on their own sheets.
    let t = state(c, id);
    assert!(t.acts.iter().filter(|s| s.seat.as_ref().is_some_and(|x| x.0 == "brA") && !t.is_done(&s.id)).count() > 5);
    // The second hand on the same step is told who was first; nothing is lost.
    assert!(
        matches!(work::tick(c, &yuki, id, "receive.kind", &none), Err(StoreError::Conflict(s)) if s.contains("Tomasz Brandt"))
    );
    assert!(matches!(work::tick(c, &tomasz, id, "ask.hub.faces", &none), Err(StoreError::Held(_))));
    assert!(
        matches!(work::answer(c, &yuki, id, "hub.faces", AnswerState::Recorded, " ", ""), Err(StoreError::Refused(e)) if e.field == "value")
    );
    assert!(matches!(
        work::answer(c, &yuki, id, "no.such", AnswerState::NotPresent, "", ""),
        Err(StoreError::NotFound)
    ));
    let questions = state(c, id).questions;
    let mut hidden = 0;
    for q in questions.iter() {
        let value = if q.topic.ask() == Ask::Facing { "end A" } else { "3.2" };
        let t = state(c, id);
        match t.held(t.act(&format!("ask.{}", q.id)).unwrap(), Units::Metric) {
            None => work::answer(c, &yuki, id, &q.id, AnswerState::Recorded, value, "seen").unwrap(),
            // What cannot be seen yet is not answered, but for saying so.
            Some(_) => {
                let too_early = work::answer(c, &yuki, id, &q.id, AnswerState::Recorded, value, "");
                assert!(matches!(too_early, Err(StoreError::Held(_))), "{}", q.id);
                hidden += 1;
            }
        }
    }
    assert!(hidden > 0 && hidden < questions.len() / 2, "{hidden}");
    work::answer(c, &yuki, id, "hub.faces", AnswerState::CannotTell, "ignored", "").unwrap();
    let t = state(c, id);
    assert_eq!((t.answers["hub.faces"].state, t.answers["hub.faces"].value.as_str()), (AnswerState::CannotTell, ""));

    // Two people, then everything that is free, in any order, up to mounting.
    loop {
        let t = state(c, id);
        let Some(s) = t
            .acts
            .iter()
            .rev()
            .find(|s| s.stage < Stage::Prove && !t.is_done(&s.id) && t.held(s, Units::Metric).is_none())
        else {
            break;
        };
        let s = s.clone();
        if let Some((seat, _)) = s.seat.clone() {
            // Its own sheets prove it: here their signature is set by hand.
            sign(c, id, &seat);
            continue;
        }
        if let Some(q) = s.id.strip_prefix("ask.") {
            let value = if t.question(q).unwrap().topic.ask() == Ask::Facing { "end A" } else { "3.2" };
            work::answer(c, &yuki, id, q, AnswerState::Recorded, value, "seen").unwrap();
            continue;
        }
        if s.people > 1 {
            assert!(
                matches!(work::tick(c, &tomasz, id, &s.id, &none), Err(StoreError::Refused(e)) if e.field == "second")
            );
        }
        work::tick(c, &tomasz, id, &s.id, &with(&t, &s)).unwrap();
        if s.wait_min > 0.0 {
            work::wait_over(c, &tomasz, id, &s.id).unwrap();
        }
    }
    let before = state(c, id);
    assert!(closed(&before) && before.on().len() > 8);

    // The inner flinger was forgotten: what stands in its way comes off again.
    let cost = work::back_out(c, &yuki, id, "flAi").unwrap();
    assert!(cost.off.contains(&"brA".to_owned()) && cost.reheat.contains(&"brA".to_owned()), "{cost:?}");
    let after = state(c, id);
    assert!(!after.signed("brA"), "it is signed again");
    assert!(closed(&after) && cost.off.iter().all(|p| !after.on().contains(p)));
    assert!(after.is_done("off.hub"), "what was taken apart stays so");
    assert!(matches!(work::back_out(c, &yuki, id, "no-such"), Err(StoreError::Refused(e)) if e.field == "part"));

    // A tick is taken back only while nothing rests on it.
    assert!(
        matches!(work::untick(c, &yuki, id, "receive.safe"), Err(StoreError::Held(s)) if s.contains("rests on it"))
    );
    assert!(whole(c, id));
}

#[tokio::test]
async fn a_number_is_judged_stays_outside_only_with_a_reason_and_is_read_in_either_system() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (tomasz, mut yuki) = (f.person("tomasz"), f.person("yuki"));
    let id = f.rebuild("R-0415");
    let say = |value: &str, reason: &str| Ticking {
        second: "Pell Adeyemi".into(),
        value: value.into(),
        reason: reason.into(),
        ..Ticking::default()
    };
    let refused = |r: Result<(), StoreError>| match r {
        Err(StoreError::Refused(e)) => (e.field, e.message),
        other => panic!("{other:?}"),
    };
    // The demo stands in a round: its float lay above its window, and what stands before the shim comes off again.
    let t = state(c, id);
    let round = t.rounds[0].clone();
    assert_eq!((round.n, round.off.last().unwrap().as_str()), (2, "adj"));
    assert_eq!((t.done["float.thrust"].value, t.done["float.thrust"].readings.as_str()), (Some(0.41), "0.41 0.42 0.4"));
    // Its bolts first, then the part.
    assert_eq!((t.in_hand().unwrap().id.as_str(), round.off[0].as_str()), ("loosen.bracket#2", "bracket"));
    loop {
        let t = state(c, id);
        let Some(s) = t.in_hand().cloned().filter(|s| s.id != "float.thrust#2") else { break };
        assert!(s.id.contains("#2"), "{} is not of the round", s.id);
        work::tick(c, &tomasz, id, &s.id, &with(&t, &s)).unwrap();
        if s.wait_min > 0.0 {
            work::wait_over(c, &tomasz, id, &s.id).unwrap();
        }
    }
    let t = state(c, id);
    assert!(t.on().contains(&"adj".to_owned()) && t.is_done("shim.thrust#2") && t.is_done("on.adj#2"));
    // A torque above its window is over-tightened.
    work::untick(c, &tomasz, id, "bolts.bracket#2").unwrap();
    let (field, message) = refused(work::tick(c, &tomasz, id, "bolts.bracket#2", &say("800", "")));
    assert!(
        field == "value"
            && message.contains("above 88 N·m")
            && message.contains("over-tightened")
            && message.contains("stretch"),
        "{message}"
    );
    work::tick(c, &tomasz, id, "bolts.bracket#2", &say("80", "")).unwrap();
    for s in ["sweep.collar#2", "close.thrustcase#2", "bolts.thrustcase#2"] {
        let t = state(c, id);
        if let Some(s) = t.act(s).filter(|s| !t.is_done(&s.id)) {
            work::tick(c, &tomasz, id, &s.id.clone(), &with(&t, s)).unwrap();
        }
    }
    // Three pairs are wanted; what is no number is refused; a step without a number takes none.
    for (value, reason, field, said) in [
        ("", "", "value", "expected 3 readings"),
        ("0.3", "", "value", "expected 3 readings"),
        ("0.3; tight; 0.3", "", "value", "tight"),
        ("0.41;0.41;0.41", "worn", "reason", "10 to 400 characters"),
    ] {
        let (f, m) = refused(work::tick(c, &tomasz, id, "float.thrust#2", &say(value, reason)));
        assert!(f == field && m.contains(said), "{value}: {m}");
    }
    assert_eq!(refused(work::tick(c, &tomasz, id, "free.pkA", &say("3.2", ""))).0, "value");
    // Outside once more, with a reason it stays and opens nothing.
    work::tick(
        c,
        &tomasz,
        id,
        "float.thrust#2",
        &say("0.41; 0.41; 0.41", "collar is at its least width, new one ordered"),
    )
    .unwrap();
    let t = state(c, id);
    let k = &t.done["float.thrust#2"];
    assert_eq!((k.value, k.second.as_str(), t.rounds.len()), (Some(0.41), "Pell Adeyemi", 1));
    assert!(k.reason.contains("least width"));
    work::untick(c, &tomasz, id, "float.thrust#2").unwrap();
    // Twelve thou, by somebody who thinks in inches.
    yuki.units = Units::Inch;
    work::tick(c, &yuki, id, "float.thrust#2", &say("0.012; 0.012; 0.012", "")).unwrap();
    let v = state(c, id).done["float.thrust#2"].value.unwrap();
    assert!((v - 0.3048).abs() < 1e-9, "{v}");
    assert!(whole(c, id));
}

#[tokio::test]
async fn answers_are_kept_in_their_unit_and_nonsense_is_refused() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let mut yuki = f.person("yuki");
    let id = f.rebuild("R-0418");
    let mut answer = |who: &ironseat_store::rows::person::Person, q: &str, value: &str| {
        work::answer(c, who, id, q, AnswerState::Recorded, value, "")
    };
    for (q, value) in [("float.axial", "loose"), ("cw.clock", "400"), ("cw.faces", "left"), ("gap.tip", "0.3; wide")] {
        assert!(matches!(answer(&yuki, q, value), Err(StoreError::Refused(e)) if e.field == "value"), "{q}");
    }
    answer(&yuki, "cw.clock", "30°").unwrap();
    answer(&yuki, "gap.tip", "0.30; 0.34; 0.29; 0.31").unwrap();
    yuki.units = Units::Inch;
    answer(&yuki, "float.axial", "0.004").unwrap();
    let t = state(c, id);
    assert_eq!(t.found("float.axial").unwrap(), [0.1016]);
    assert_eq!(t.found("cw.clock").unwrap(), [30.0]);
    assert_eq!(t.found("gap.tip").unwrap(), [0.30, 0.34, 0.29, 0.31]);
    assert_eq!(t.answers["float.axial"].value, "0.1016 mm");
}

#[tokio::test]
async fn a_wait_holds_what_rests_on_it_and_other_work_goes_on() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let tomasz = f.person("tomasz");
    let id = begin(&f, c, "Taper-roller", "R-0502");
    work_to(&f, c, id, Stage::Parts);
    // Mount until something cools.
    let hot = loop {
        let t = state(c, id);
        let s = t.acts.iter().find(|s| !t.is_done(&s.id) && t.free(s)).unwrap().clone();
        if let Some((seat, _)) = s.seat.clone() {
            sign(c, id, &seat);
            continue;
        }
        work::tick(c, &tomasz, id, &s.id, &with(&t, &s)).unwrap();
        if s.wait_min > 0.0 {
            break s;
        }
    };
    let t = state(c, id);
    let clock = t.waiting(&hot.id).expect("its clock runs");
    assert!(clock.left(t.now) > 0 && clock.label.contains(&hot.wait_word) && clock.step == hot.id);
    let rests = t
        .acts
        .iter()
        .find(|s| s.waits_for(&hot.id) && !t.free(s) && s.before.iter().all(|b| t.is_done(&b.id)))
        .unwrap();
    let why = t.held(rests, Units::Metric).unwrap();
    assert!(why.contains(&clock.label) && why.contains("left"), "{why}");
    assert!(
        matches!(work::tick(c, &tomasz, id, &rests.id, &with(&t, rests)), Err(StoreError::Held(s)) if s.contains("left"))
    );
    // What holds it home may go on, nothing else that rests on it.
    assert!(
        t.meanwhile("")
            .iter()
            .all(|s| !s.waits_for(&hot.id) || t.anatomy().part(&s.body).is_some_and(|p| p.kind.holds_home()))
    );
    // It is on the top edge of every page, and somebody can say that it is cold.
    assert!(rebuilds::live_clocks(c).unwrap().iter().any(|k| k.step == hot.id));
    work::wait_over(c, &tomasz, id, &hot.id).unwrap();
    assert!(matches!(work::wait_over(c, &tomasz, id, &hot.id), Err(StoreError::Held(_))));
    // The clock of a seat names no step: nothing that is sent here ends it.
    let pump = f.rebuild("R-0412");
    for nothing in ["", "no.such", "on.brg-ie"] {
        assert!(work::wait_over(c, &tomasz, pump, nothing).is_err(), "{nothing}");
    }
    assert!(rebuilds::live_clocks(c).unwrap().iter().any(|k| k.rebuild_id == pump && k.seat == "ie"));
    let rests = rests.clone();
    work::tick(c, &tomasz, id, &rests.id, &with(&t, &rests)).unwrap();
    assert!(whole(c, id));
}

#[tokio::test]
async fn a_machined_face_voids_marks_and_the_trail_asks_for_new_ones() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (tomasz, yuki) = (f.person("tomasz"), f.person("yuki"));
    let id = f.rebuild("R-0415");
    // The collar is on: nothing is machined on the shaft.
    assert!(
        matches!(work::repair(c, &yuki, id, "collar", "A face ground 0.05 mm"), Err(StoreError::Held(s)) if s.contains("back it out first"))
    );
    work::back_out(c, &yuki, id, "collar").unwrap();
    assert!(matches!(work::repair(c, &yuki, id, "collar", " "), Err(StoreError::Refused(e)) if e.field == "what"));
    assert!(matches!(work::repair(c, &yuki, id, "none", "faced"), Err(StoreError::Refused(e)) if e.field == "part"));
    assert!(
        matches!(work::repair(c, &yuki, id, "slB", "track polished"), Err(StoreError::Held(s)) if s.contains("no mark rests"))
    );
    work::repair(c, &yuki, id, "collar", "A face ground 0.05 mm").unwrap();
    let t = state(c, id);
    assert_eq!(t.repairs.len(), 1);
    assert!(t.act("torque.nut").unwrap().words.to_string().contains("not to the old mark"));
    assert!(t.act("standout.nut").unwrap().measure.as_ref().unwrap().beside.is_empty());
    // The Floor knows of the repair, too.
    assert_eq!(bench::load(c, id).unwrap().state.acts.len(), t.acts.len());
    let again = t.act("ask.again.nut.mark").unwrap();
    assert!(t.held(again, Units::Metric).is_some(), "the nut is not tight yet");
    assert!(matches!(
        work::answer(c, &yuki, id, "again.nut.mark", AnswerState::Recorded, "scribed anew", ""),
        Err(StoreError::Held(_))
    ));
    // What was found stays on record beside the new mark.
    work_to(&f, c, id, Stage::TorqueAndLock);
    let t = state(c, id);
    assert_eq!(t.answers["again.nut.mark"].value, "3.2");
    assert!(t.answers["nut.mark"].value.contains("scribed across"));
    // Noted by mistake: the old mark counts again and the nut is drawn to it once more.
    let repair = t.repairs[0].id.clone();
    work::repair_back(c, &tomasz, id, &repair).unwrap();
    let t = state(c, id);
    assert!(t.repairs.is_empty() && t.act("ask.again.nut.mark").is_none() && !t.is_done("torque.nut"));
    assert!(t.act("torque.nut").unwrap().words.to_string().contains("to its match mark"));
    assert!(matches!(work::repair_back(c, &tomasz, id, &repair), Err(StoreError::NotFound)));
    assert!(whole(c, id));
}

#[tokio::test]
async fn a_newer_version_is_shown_and_taken_over_without_losing_records() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (ines, tomasz) = (f.person("ines"), f.person("tomasz"));
    let id = begin(&f, c, "Blower", "R-0503");
    work_to(&f, c, id, Stage::Inspect);
    assert!(read::versions::newer(c, id).unwrap().is_none());
    assert!(matches!(write::versions::take_over(c, &ines, id, 2), Err(StoreError::Held(_))));

    // The next version: one part more, one less.
    let old = rebuilds::get(c, id).unwrap().anatomy().clone();
    let draft = Id::new();
    drafts::begin(c, &ines, draft, &old).unwrap();
    let gone = old.parts.iter().find(|p| p.kind == ironseat_core::anatomy::PartKind::Flinger).unwrap().id.clone();
    let d = drafts::change(c, &ines, draft, 0, &Change::Edit(Edit::DropPart { id: gone.clone() })).unwrap();
    let add = Edit::AddPart { kind: ironseat_core::anatomy::PartKind::ORing, land: "B7".into(), into: None };
    drafts::change(c, &ines, draft, d.cursor, &Change::Edit(add)).unwrap();
    let kept = drafts::keep(c, &ines, draft).unwrap();
    assert_eq!(kept.version, 2);
    let pinned = state(c, id);
    assert_eq!(pinned.anatomy().version, 1, "it stays on its version");

    let n = read::versions::newer(c, id).unwrap().unwrap();
    assert!(n.held.is_none() && n.difference.sentences.len() >= 2, "{:?}", n.difference.sentences);
    assert!(!n.ticked_gone.is_empty() && !n.answered_gone.is_empty());
    assert!(matches!(write::versions::take_over(c, &tomasz, id, 2), Err(StoreError::Held(s)) if s.contains("lead")));
    assert!(matches!(write::versions::take_over(c, &ines, id, 7), Err(StoreError::Conflict(_))));
    write::versions::take_over(c, &ines, id, 2).unwrap();
    let t = state(c, id);
    assert_eq!(t.anatomy().version, 2);
    assert!(t.act(&format!("on.{gone}")).is_none() && t.is_done(&format!("off.{gone}")), "the tick stays on record");
    assert_eq!(pinned.answers.len(), t.answers.len());
    let others = |t: &State| t.done.keys().filter(|s| !s.ends_with(&gone)).cloned().collect::<Vec<_>>();
    assert_eq!(others(&pinned), others(&t), "no other tick is touched");
    assert!(closed(&t) && whole(c, id) && read::versions::newer(c, id).unwrap().is_none());
}

#[tokio::test]
async fn a_version_that_would_lose_readings_or_what_is_on_is_held() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let ines = f.person("ines");
    let next = |c: &mut MysqlConnection, id: RebuildId, change: &dyn Fn(&mut ironseat_core::anatomy::Anatomy)| {
        let mut a = rebuilds::get(c, id).unwrap().anatomy().clone();
        change(&mut a);
        let draft = Id::new();
        drafts::begin(c, &ines, draft, &a).unwrap();
        drafts::keep(c, &ines, draft).unwrap().version
    };
    // The pump's seat has readings.
    let pump = f.rebuild("R-0412");
    let v = next(c, pump, &|a| a.seats.retain(|s| s.id != "ie"));
    assert!(
        matches!(write::versions::take_over(c, &ines, pump, v), Err(StoreError::Held(s)) if s.contains("has readings"))
    );
    // With limits changed instead, its calls are made anew.
    let before = state(c, pump);
    let v = next(c, pump, &|a| {
        a.seats.clone_from(&before.anatomy().seats);
        a.seats.iter_mut().for_each(|s| s.shaft_class = "g6".into());
    });
    write::versions::take_over(c, &ines, pump, v).unwrap();
    let after = state(c, pump);
    assert_ne!(before.call("ie", "journal").unwrap().verdict(), after.call("ie", "journal").unwrap().verdict());
    // A part that is on and not in the next version comes off first.
    let booster = f.rebuild("R-0415");
    let v = next(c, booster, &|a| a.parts.retain(|p| p.id != "pkB"));
    assert!(
        matches!(write::versions::take_over(c, &ines, booster, v), Err(StoreError::Held(s)) if s.contains("is on and not in version"))
    );
}

#[tokio::test]
async fn pictures_are_kept_once_counted_and_taken_away_without_being_lost() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (yuki, tomasz) = (f.person("yuki"), f.person("tomasz"));
    let (id, other) = (f.rebuild("R-0418"), f.rebuild("R-0415"));
    let new = |n: u8| NewPicture { id: Id::new(), width: 4, height: 3, whole: vec![n; 64], small: vec![n; 8] };
    let first = new(1);
    write::pictures::add(c, &yuki, id, "thb.faces", &first).unwrap();
    write::pictures::add(c, &yuki, id, "thb.faces", &first).unwrap();
    assert!(matches!(write::pictures::add(c, &yuki, id, "nut.mark", &first), Err(StoreError::Conflict(_))));
    assert!(matches!(write::pictures::add(c, &yuki, id, "no.such", &new(2)), Err(StoreError::NotFound)));
    let kept = &bench::load(c, id).unwrap().pictures["thb.faces"];
    assert_eq!((kept.len(), kept[0].by.as_str(), kept[0].bytes), (1, "Yuki Halloran", 64));
    assert_eq!(read::pictures::body(c, id, first.id, false).unwrap(), vec![1; 64]);
    assert_eq!(read::pictures::body(c, id, first.id, true).unwrap(), vec![1; 8]);
    assert!(
        matches!(read::pictures::body(c, other, first.id, false), Err(StoreError::NotFound)),
        "only with its rebuild"
    );
    for n in 2..=MOST {
        write::pictures::add(c, &yuki, id, "thb.faces", &new(u8::try_from(n).unwrap())).unwrap();
    }
    assert!(
        matches!(write::pictures::add(c, &yuki, id, "thb.faces", &new(9)), Err(StoreError::Refused(e)) if e.field == "picture")
    );
    write::pictures::take_away(c, &tomasz, id, first.id).unwrap();
    assert!(matches!(write::pictures::take_away(c, &tomasz, id, first.id), Err(StoreError::NotFound)));
    assert!(matches!(read::pictures::body(c, id, first.id, false), Err(StoreError::NotFound)));
    assert_eq!(bench::load(c, id).unwrap().pictures["thb.faces"].len(), MOST - 1);
    // Nothing is written to a rebuild that is finished.
    let done = f.rebuild("R-0398");
    assert!(matches!(
        write::pictures::add(c, &yuki, done, "nut-a.mark", &new(3)),
        Err(StoreError::Held(_) | StoreError::Conflict(_))
    ));
    assert!(whole(c, id));
}

#[tokio::test]
async fn a_rebuild_without_a_bearing_seat_is_worked_and_released_by_its_trail() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let ines = f.person("ines");
    let id = f.rebuild("R-0419");
    let open = release(c, &ines, id, "");
    assert!(
        matches!(open, Err(StoreError::Refused(e)) if e.field == "reason" && e.message.contains("steps of the trail are open"))
    );
    work_to(&f, c, id, Stage::Prove);
    let t = state(c, id);
    assert_eq!(t.in_hand().map(|s| s.id.clone()), None);
    release(c, &ines, id, "").unwrap();
    assert_eq!(rebuilds::signatures(c, id).unwrap().last().unwrap().said, "released");
    assert!(matches!(work::untick(c, &ines, id, "prove.turn"), Err(StoreError::Held(_) | StoreError::Conflict(_))));
    // With steps open it can be released, with a reason that stays on the certificate.
    let early = f.rebuild("R-0418");
    let reason = "goes back to the customer as it came, order cancelled";
    release(c, &ines, early, reason).unwrap();
    assert!(rebuilds::signatures(c, early).unwrap().last().unwrap().said.contains(reason));
}

/// Four people tick whatever is free at the same time: every tick stands once, whoever comes later is told who was
/// first, and the journal is whole.
#[tokio::test]
async fn people_at_the_same_trail_at_the_same_time_lose_no_tick() {
    let f = Fresh::demo().await;
    let id = begin(&f, &mut f.connection(), "Blower", "R-0510");
    // Sheets are filled, not ticked.
    let wanted = |s: &Act| s.stage <= Stage::Parts && s.seat.is_none();
    let hands: Vec<_> = ["ines", "tomasz", "yuki", "pell"].iter().map(|n| (f.person(n), f.connection())).collect();
    let (ticked, told): (Vec<usize>, Vec<usize>) = hands
        .into_iter()
        .enumerate()
        .map(|(n, (who, mut c))| {
            std::thread::spawn(move || {
                let (mut mine, mut told) = (0, 0);
                for _ in 0..400 {
                    let t = state(&mut c, id);
                    let open: Vec<Act> =
                        t.acts.iter().filter(|s| wanted(s) && !t.is_done(&s.id) && t.free(s)).cloned().collect();
                    // Each begins at another place of the list, but all want the last ones.
                    let Some(s) = open.get((n * 3) % open.len().max(1)) else { break };
                    let done = match s.id.strip_prefix("ask.") {
                        Some(q) => work::answer(&mut c, &who, id, q, AnswerState::CannotTell, "", ""),
                        None => work::tick(&mut c, &who, id, &s.id, &with(&t, s)),
                    };
                    match done {
                        Ok(()) => mine += 1,
                        Err(StoreError::Conflict(said)) => {
                            assert!(
                                said.contains("has ticked this already: it stands") || said.contains("try again"),
                                "{said}"
                            );
                            told += 1;
                        }
                        Err(StoreError::Held(said)) => assert!(said.contains("held, first"), "{said}"),
                        Err(e) => panic!("{e}"),
                    }
                }
                (mine, told)
            })
        })
        .collect::<Vec<_>>()
        .into_iter()
        .map(|t| t.join().unwrap())
        .unzip();
    let c = &mut f.connection();
    let t = state(c, id);
    let wanted: Vec<&str> = t.acts.iter().filter(|s| wanted(s)).map(|s| s.id.as_str()).collect();
    assert!(wanted.iter().all(|s| t.is_done(s)), "nothing was left out");
    let entries = ironseat_store::chain::rebuild::entries(c, id).unwrap();
    let of = |kind: &str| entries.iter().filter(|e| e.kind == kind).count();
    // The same answer given twice is one entry, and so is a tick.
    let asked = wanted.iter().filter(|s| s.starts_with("ask.")).count();
    assert_eq!((of("ticked"), of("as found")), (wanted.len() - asked, asked));
    assert!(of("ticked") + of("as found") <= ticked.iter().sum::<usize>(), "told {told:?}");
    assert!(whole(c, id));
}

/// A finished rebuild takes nothing any more, whatever is tried.
#[tokio::test]
async fn nothing_is_written_to_a_trail_that_is_finished() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (ines, id) = (f.person("ines"), f.rebuild("R-0398"));
    let before = ironseat_store::chain::rebuild::entries(c, id).unwrap().len();
    let tries: Vec<Result<(), StoreError>> = vec![
        work::tick(c, &ines, id, "prove.turn", &Ticking::default()),
        work::untick(c, &ines, id, "prove.turn"),
        work::wait_over(c, &ines, id, "prove.run"),
        work::answer(c, &ines, id, "nut-a.mark", AnswerState::CannotTell, "", ""),
        work::repair(c, &ines, id, "brg-a", "face ground"),
        work::repair_back(c, &ines, id, &RepairId::new().to_string()),
        work::back_out(c, &ines, id, "sheave").map(|_| ()),
        write::versions::take_over(c, &ines, id, 2),
        release(c, &ines, id, ""),
    ];
    for (n, t) in tries.into_iter().enumerate() {
        let Err(StoreError::Held(said) | StoreError::Conflict(said)) = t else { panic!("{n}: {t:?}") };
        assert!(said.contains("finished"), "{n}: {said}");
    }
    assert_eq!(ironseat_store::chain::rebuild::entries(c, id).unwrap().len(), before);
    // It can still be asked what would have to come off.
    let t = state(c, id);
    assert!(!t.cost("sheave").unwrap().off.is_empty());
}

/// A rebuild that was begun when the derivation had fewer acts keeps what was done in it, under the names of today.
#[tokio::test]
async fn ticks_of_an_older_derivation_count_under_the_names_of_today() {
    use diesel::RunQueryDsl as _;
    use diesel::sql_types::{Binary, Text};
    let f = Fresh::demo().await;
    let mut c = f.connection();
    let id = begin(&f, &mut c, "Blower rotor", "R-OLD");
    let who = f.person("yuki");
    for (step, minute) in
        [("receive.safe", 1), ("receive.kind", 2), ("off.pul", 3), ("off.pbA", 4), ("on.brA", 5), ("torque.none", 6)]
    {
        diesel::sql_query(format!(
            "INSERT INTO ticks (rebuild_id, step, person_id, second_name, at, reason, readings) VALUES (?, ?, ?, '', UTC_TIMESTAMP(6) - INTERVAL {} MINUTE, '', '')",
            60 - minute
        ))
        .bind::<Binary, _>(id)
        .bind::<Text, _>(step)
        .bind::<Binary, _>(who.id)
        .execute(&mut c)
        .unwrap();
    }
    diesel::sql_query("UPDATE rebuilds SET derivation = 1 WHERE id = ?").bind::<Binary, _>(id).execute(&mut c).unwrap();
    #[derive(diesel::QueryableByName)]
    struct Count {
        #[diesel(sql_type = diesel::sql_types::BigInt)]
        n: i64,
    }
    let rows = |c: &mut MysqlConnection| {
        let count = diesel::sql_query("SELECT COUNT(*) AS n FROM ticks WHERE rebuild_id = ?").bind::<Binary, _>(id);
        count.get_result::<Count>(c).unwrap().n
    };
    f.store.migrate().await.unwrap();
    let t = state(&mut c, id);
    // What was one act is several now; what was not asked for on its own and lies before it is done with it.
    for step in ["receive.safe", "off.pul", "loosen.pbA", "open.pbA", "off.pbA", "heat.brA", "on.brA"] {
        assert_eq!(t.done.get(step).map(|k| k.by.as_str()), Some(who.name.as_str()), "{step}: {:?}", t.done.keys());
    }
    assert!(!t.is_done("off.hub") && !t.is_done("ask.hub.faces"), "what was not done is not claimed");
    assert!(t.is_done("torque.none"), "a tick without a newer name stays on record");
    // It is read so, whoever asks; on record stands what was ticked, and it is whole.
    assert_eq!(rows(&mut c), 6);
    let back = ironseat_store::write::work::work(&mut c, &who, id, &Command::TakeBack { act: "heat.brA".into() });
    assert!(
        matches!(&back, Err(StoreError::Held(w)) if w.contains("was not asked for when this was done")),
        "{back:?}"
    );
}

/// A ring is not heated, nipped or taken back while the machine says otherwise; the Floor, the Bench and the trail
/// agree.
#[tokio::test]
async fn a_seat_waits_for_the_machine() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let id = begin(&f, c, "Sheave shaft", "R-0501");
    let tomasz = f.person("tomasz");
    let held = |c: &mut MysqlConnection, kind: StepKind| {
        let t = state(c, id);
        t.held(t.act_of("a", kind).unwrap(), Units::Metric).unwrap_or_default()
    };
    let set = |c: &mut MysqlConnection, kinds: &str| {
        diesel::sql_query(format!(
            "UPDATE steps SET done = 1, done_at = UTC_TIMESTAMP(6), detail = IF(kind = 'choose', 'heat', '') \
             WHERE seat = 'a' AND rebuild_id = ? AND kind IN ({kinds})"
        ))
        .bind::<diesel::sql_types::Binary, _>(id)
        .execute(c)
        .unwrap();
    };
    // Nothing before it is isolated, and a journal only when it is bare.
    assert!(StepKind::ALL.iter().all(|k| !held(c, *k).is_empty()));
    assert!(held(c, StepKind::Journal).contains("Isolate, tag, try"), "{}", held(c, StepKind::Journal));
    work::tick(c, &tomasz, id, "receive.safe", &Ticking::default()).unwrap();
    assert!(held(c, StepKind::Journal).contains("free-end bearing"), "{}", held(c, StepKind::Journal));
    assert_eq!(held(c, StepKind::RingBore), "", "a new ring is measured whatever is still on");
    work_to(&f, c, id, Stage::Parts);
    assert_eq!(held(c, StepKind::Journal), "");
    set(c, "'journal', 'ring_bore', 'choose'");
    // The sheave belongs behind the bearing.
    let why = held(c, StepKind::Heat);
    assert!(why.starts_with("first: ") && why.contains("heave"), "{why}");
    let refused = work::step(c, &tomasz, id, "a", StepKind::Heat, "80");
    assert!(matches!(&refused, Err(StoreError::Held(w)) if w.contains("first: ")), "{refused:?}");
    let tick = |c: &mut MysqlConnection, act: &str| {
        let t = state(c, id);
        let s = t.act(act).unwrap().clone();
        assert_eq!(t.held(&s, Units::Metric), None, "{act} is the next that holds it");
        work::tick(c, &tomasz, id, act, &with(&t, &s)).unwrap();
        if s.wait_min > 0.0 {
            work::wait_over(c, &tomasz, id, act).unwrap();
        }
    };
    let mut way = Vec::new();
    loop {
        let t = state(c, id);
        let Some(next) = t.way_to(t.act_of("a", StepKind::Heat).unwrap()).map(|s| s.id.clone()) else { break };
        tick(c, &next);
        way.push(next);
    }
    assert!(way.contains(&"on.sheave".to_owned()), "{way:?}");
    assert_eq!(held(c, StepKind::Heat), "");
    // On, it is nipped once its washer and nut are there; then it cannot be taken back under them.
    set(c, "'heat', 'put_on'");
    let t = state(c, id);
    assert_eq!(t.way_to(t.act_of("a", StepKind::Nip).unwrap()).unwrap().id, "on.tab-a", "{}", held(c, StepKind::Nip));
    tick(c, "on.tab-a");
    tick(c, "on.nut-a");
    assert_eq!(held(c, StepKind::Nip), "");
    let back = work::step_back(c, &tomasz, id, "a", StepKind::PutOn);
    assert!(matches!(&back, Err(StoreError::Held(w)) if w.contains("rests on it")), "{back:?}");
    // The nip is asked for once: ticked on the bench it is done on the trail.
    work::step(c, &tomasz, id, "a", StepKind::Nip, "").unwrap();
    let t = state(c, id);
    assert!(t.done["nip.nut-a"].of_seat);
    let q = ironseat_store::read::floor::FloorQuery { find: "R-0501".into(), ..Default::default() };
    let floor = ironseat_store::read::floor::floor(c, &q).unwrap().strips;
    let (there, here) = (&floor[0].bench.state, state(c, id));
    assert_eq!(
        (there.progress(), there.in_hand(), there.done_ids()),
        (here.progress(), here.in_hand(), here.done_ids())
    );
}
