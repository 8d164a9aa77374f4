//! The record can be trusted: nothing lost, nothing twice, nothing changed unseen. Against a real MariaDB.

use crate::support::Fresh;
use crate::support::hands::{answer, at, begin, state, step, step_back, work_to};
use diesel::connection::SimpleConnection as _;
use diesel::prelude::*;
use ironseat_core::anatomy::acts::Stage;
use ironseat_core::call::Situation;
use ironseat_core::decide::{AnswerState, Command};
use ironseat_core::quantity::Units;
use ironseat_core::sheet::{Reading, SheetKind};
use ironseat_core::terms::{StepKind, Surface};
use ironseat_store::chain::digests::Chain;
use ironseat_store::chain::entry::Verdict;
use ironseat_store::db::transaction::transaction;
use ironseat_store::read::seats::{seat_record, seat_records};
use ironseat_store::read::{self, bench, rebuilds};
use ironseat_store::rows::person::{Person, Role};
use ironseat_store::write::people::NewPerson;
use ironseat_store::write::readings::{NewReading, Outcome, record_reading, record_readings};
use ironseat_store::write::{self, work};
use ironseat_store::{Id, ReadingId, RebuildId, StoreError, chain};

const JOURNAL: SheetKind = SheetKind::Grid(Surface::Journal);

fn reading(cell: &str, text: &str, over: Option<ReadingId>) -> NewReading {
    NewReading {
        id: Id::new(),
        cell: cell.into(),
        text: text.into(),
        instrument: None,
        over,
        sure: false,
        units: Units::Metric,
        reason: String::new(),
    }
}

#[tokio::test]
async fn a_repeated_request_changes_nothing_and_a_correction_keeps_the_old() {
    let f = Fresh::demo().await;
    let (c, tomasz, pump) = (&mut f.connection(), f.person("tomasz"), f.rebuild("R-0412"));
    let first = reading("A1", "40.008", None);
    assert_eq!(record_reading(c, &tomasz, pump, "de", JOURNAL, &first).unwrap(), Outcome::Stored);
    let length = rebuilds::get(c, pump).unwrap().record_seq;
    assert_eq!(record_reading(c, &tomasz, pump, "de", JOURNAL, &first).unwrap(), Outcome::Repeated);
    assert_eq!(rebuilds::get(c, pump).unwrap().record_seq, length);

    let second = reading("A1", "+9 um", Some(first.id));
    assert_eq!(record_reading(c, &tomasz, pump, "de", JOURNAL, &second).unwrap(), Outcome::Stored);
    let head = rebuilds::get(c, pump).unwrap();
    let record = seat_record(c, &head, "de").unwrap();
    assert_eq!(record.readings.len(), 2);
    assert!((record.standing(JOURNAL)[0].value - 40.009).abs() < 1e-9);

    // Another person who saw the empty cell does not overwrite what stands.
    let yuki = f.person("yuki");
    let e = record_reading(c, &yuki, pump, "de", JOURNAL, &reading("A1", "40.001", None)).unwrap_err();
    assert!(matches!(&e, StoreError::Conflict(s) if s.contains("Tomasz Brandt read +9 um")), "{e}");
}

#[tokio::test]
async fn slips_and_nonsense_are_not_stored() {
    let f = Fresh::demo().await;
    let (c, tomasz, pump) = (&mut f.connection(), f.person("tomasz"), f.rebuild("R-0412"));
    assert!(matches!(
        record_reading(c, &tomasz, pump, "de", JOURNAL, &reading("A1", "1.5753", None)),
        Ok(Outcome::Ask(Reading::DidYouMean { .. }))
    ));
    for (cell, text, field) in [("A1", "snug", "text"), ("A1", "-40.5", "text"), ("Z9", "40.0", "cell")] {
        assert!(
            matches!(record_reading(c, &tomasz, pump, "de", JOURNAL, &reading(cell, text, None)), Err(StoreError::Refused(e)) if e.field == field),
            "{text}"
        );
    }
    let depth = read::shop::list_instruments(c).unwrap().into_iter().find(|i| i.depth && !i.outside).unwrap().id;
    let wrong = NewReading { instrument: Some(depth), ..reading("A1", "40.008", None) };
    assert!(
        matches!(record_reading(c, &tomasz, pump, "de", JOURNAL, &wrong), Err(StoreError::Refused(e)) if e.field == "instrument")
    );
    let head = rebuilds::get(c, pump).unwrap();
    assert!(seat_record(c, &head, "de").unwrap().readings.is_empty());
}

#[tokio::test]
async fn writers_at_the_same_time_lose_nothing_and_never_overwrite() {
    let f = Fresh::demo().await;
    let pump = f.rebuild("R-0412");
    let people = [f.person("tomasz"), f.person("yuki"), f.person("pell")];
    let cells: Vec<String> = JOURNAL.cells().into_iter().map(|c| c.key).collect();
    let jobs: Vec<_> = (0..36)
        .map(|i| {
            let (store, who, cell) = (f.store.clone(), people[i % 3].clone(), cells[i / 3].clone());
            tokio::spawn(async move {
                store.run(move |c| record_reading(c, &who, pump, "de", JOURNAL, &reading(&cell, "40.008", None))).await
            })
        })
        .collect();
    let (mut stored, mut refused) = (0, 0);
    for job in jobs {
        match job.await.unwrap() {
            Ok(Outcome::Stored) => stored += 1,
            Err(StoreError::Conflict(_)) => refused += 1,
            other => panic!("{other:?}"),
        }
    }
    assert_eq!((stored, refused), (12, 24));
    let c = &mut f.connection();
    assert!(state(c, pump).step("de", StepKind::Journal).is_some(), "a full sheet ticks its step");
    assert!(matches!(chain::rebuild::verify(c, pump, true).unwrap(), Verdict::Whole { .. }));
}

#[tokio::test]
async fn a_caller_that_hangs_up_leaves_connections_whole() {
    let f = Fresh::demo().await;
    let pump = f.rebuild("R-0412");
    for i in 0..200 {
        let store = f.store.clone();
        let job = tokio::spawn(async move { store.run(move |c| bench::load(c, pump)).await.map(|o| o.rebuild.number) });
        if i % 2 == 0 {
            tokio::task::yield_now().await;
            job.abort();
        } else {
            assert_eq!(job.await.unwrap().unwrap(), "R-0412");
        }
    }
    for _ in 0..50 {
        assert_eq!(f.store.run(move |c| rebuilds::get(c, pump)).await.unwrap().number, "R-0412");
    }
}

#[derive(QueryableByName)]
struct Count {
    #[diesel(sql_type = diesel::sql_types::Text)]
    #[diesel(column_name = Value)]
    value: String,
}

fn questions(c: &mut MysqlConnection) -> i64 {
    diesel::sql_query("SHOW SESSION STATUS LIKE 'Com_select'").get_result::<Count>(c).unwrap().value.parse().unwrap()
}

#[tokio::test]
async fn pages_make_a_fixed_number_of_queries() {
    let f = Fresh::demo().await;
    let (c, ines) = (&mut f.connection(), f.person("ines"));
    let floor = |c: &mut MysqlConnection| {
        let before = questions(c);
        let floor = ironseat_store::read::floor::floor(c, &Default::default()).unwrap();
        assert_eq!(floor.strips.len(), floor.count);
        questions(c) - before
    };
    ironseat_store::bench_data(c, &ines, 12, 40, |_| {}).unwrap();
    let first = floor(c);
    assert!(first <= 13, "{first}");
    let again = floor(c);
    assert!(again <= 5, "nothing changed since somebody looked: {again}");
}

/// What a page keeps of a rebuild is what its records say, after whatever was done to it or to a name in it.
#[tokio::test]
async fn a_page_that_was_looked_at_before_says_what_the_records_say() {
    let f = Fresh::demo().await;
    let (c, ines, tomasz) = (&mut f.connection(), f.person("ines"), f.person("tomasz"));
    let id = crate::support::hands::begin(&f, c, "Blower", "R-0602");
    let same = |c: &mut MysqlConnection, after: &str| {
        for _ in 0..2 {
            let (kept, read) = (bench::look(c, id).unwrap(), bench::load(c, id).unwrap());
            let said = |b: &bench::Bench| {
                let s = &b.state;
                let of_seats = (s.progress(), &s.calls, &s.half_signed, s.finished, s.clocks.len());
                format!("{:?} {:?} {:?} {:?} {:?} {of_seats:?}", s.done, s.answers, s.repairs, s.rounds, s.scrapped)
            };
            assert_eq!(said(&kept), said(&read), "{after}");
        }
    };
    same(c, "begun");
    let none = ironseat_core::decide::Ticking::default();
    crate::support::hands::tick(c, &tomasz, id, "receive.safe", &none).unwrap();
    same(c, "a tick");
    crate::support::hands::untick(c, &tomasz, id, "receive.safe").unwrap();
    same(c, "taken back");
    crate::support::hands::work_before(&f, c, id, "prove.run");
    same(c, "work");
    crate::support::hands::back_out(c, &tomasz, id, "flAi").unwrap();
    same(c, "backed out");
    ironseat_store::write::roster::rename(c, &ines, tomasz.id, "Tomasz Longer Name").unwrap();
    same(c, "a name");
    let by = |c: &mut MysqlConnection| bench::look(c, id).unwrap().state.done.values().any(|d| d.by.contains("Longer"));
    assert!(by(c));
}

#[tokio::test]
async fn verification_names_the_first_broken_entry() {
    for (harm, seq) in [
        ("UPDATE journal SET body = REPLACE(body, ':', ': ') WHERE seq = 2", 2),
        ("UPDATE journal SET at = at + INTERVAL 1 SECOND WHERE seq = 3", 3),
        ("DELETE FROM journal WHERE seq = 4", 5),
        ("DELETE FROM journal WHERE seq >= 6", 6),
        ("UPDATE journal SET person_id = (SELECT id FROM people WHERE handle = 'pell') WHERE seq = 5", 5),
    ] {
        let f = Fresh::demo().await;
        let (c, pump) = (&mut f.connection(), f.rebuild("R-0412"));
        assert!(
            matches!(chain::rebuild::verify(c, pump, true).unwrap(), Verdict::Whole { entries, .. } if entries > 24)
        );
        c.batch_execute(harm).unwrap();
        assert!(
            matches!(chain::rebuild::verify(c, pump, true).unwrap(), Verdict::Broken { seq: s, .. } if s == seq),
            "{harm}: {:?}",
            chain::rebuild::verify(c, pump, true).unwrap()
        );
    }
}

fn release(c: &mut MysqlConnection, who: &Person, id: RebuildId, pin: &str) -> Result<(), StoreError> {
    work::signed(c, who, id, &Command::Release { reason: String::new() }, pin)
}

fn overrule(c: &mut MysqlConnection, who: &Person, id: RebuildId, reason: &str, pin: &str) -> Result<(), StoreError> {
    work::signed(
        c,
        who,
        id,
        &Command::Overrule { seat: "f1".into(), topic: "journal".into(), reason: reason.into() },
        pin,
    )
}

#[tokio::test]
async fn roles_pins_and_holds_are_kept() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (tomasz, ines, pump, sheave, spindle) =
        (f.person("tomasz"), f.person("ines"), f.rebuild("R-0412"), f.rebuild("R-0398"), f.rebuild("R-0409"));
    assert_eq!((tomasz.role, ines.role, f.person("saltmarsh").role), (Role::Bench, Role::Lead, Role::Viewer));

    // A held step says what is missing.
    let e = step(c, &tomasz, pump, "de", StepKind::PutOn, "").unwrap_err();
    assert!(matches!(&e, StoreError::Held(s) if s.contains("Choose how it goes on")), "{e}");
    let e = step(c, &tomasz, pump, "ie", StepKind::Cool, "").unwrap_err();
    assert!(matches!(&e, StoreError::Held(s) if s.contains("the clock says")), "{e}");

    // A bench hand cannot release, nor overrule what is critical; a lead can, with the right PIN.
    assert!(matches!(release(c, &tomasz, pump, "3512"), Err(StoreError::Held(_))));
    assert!(matches!(release(c, &ines, pump, "2408"), Err(StoreError::Held(s)) if s.contains("not signed")));
    assert!(
        matches!(overrule(c, &tomasz, spindle, "seen it run for years", "3512"), Err(StoreError::Held(s)) if s.contains("lead"))
    );
    assert!(matches!(overrule(c, &ines, spindle, "no", "2408"), Err(StoreError::Refused(e)) if e.field == "reason"));
    assert!(
        matches!(overrule(c, &ines, spindle, "seen it run for years", "0000"), Err(StoreError::Refused(e)) if e.field == "pin")
    );
    overrule(c, &ines, spindle, "seen it run for years", "2408").unwrap();
    assert_eq!(state(c, spindle).call("f1", "journal").unwrap().overruled_by.as_deref(), Some("Ines Okafor"));

    // A finished rebuild takes no more.
    let e = record_reading(c, &tomasz, sheave, "a", JOURNAL, &reading("A1", "50.007", None)).unwrap_err();
    assert!(matches!(&e, StoreError::Held(s) if s.contains("finished")), "{e}");

    // Six wrong PINs close the door for a while, for this person only.
    for _ in 0..6 {
        let _ = write::secrets::check_pin(c, tomasz.id, "9999");
    }
    assert!(matches!(write::secrets::check_pin(c, tomasz.id, "3512"), Err(StoreError::TooMany(_))));
    write::secrets::check_pin(c, f.person("yuki").id, "4623").unwrap();
}

#[tokio::test]
async fn a_seat_is_worked_to_its_signature_and_a_tick_can_be_taken_back() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (tomasz, pump) = (f.person("tomasz"), f.rebuild("R-0412"));
    work::work(c, &tomasz, pump, &Command::Thermometer { seat: "ie".into(), temperature: "23".into() }).unwrap();
    assert_eq!(bench::load(c, pump).unwrap().clocks[0].left(ironseat_store::now()), 0);
    step(c, &tomasz, pump, "ie", StepKind::Cool, "").unwrap();
    assert!(rebuilds::live_clocks(c).unwrap().is_empty());
    let e = step_back(c, &tomasz, pump, "ie", StepKind::PutOn).unwrap_err();
    assert!(matches!(&e, StoreError::Held(s) if s.contains("rests on it")), "{e}");
    step_back(c, &tomasz, pump, "ie", StepKind::Cool).unwrap();
    step(c, &tomasz, pump, "ie", StepKind::Cool, "").unwrap();
    for cell in SheetKind::Home.cells() {
        let text = if cell.key.starts_with('F') { "out" } else { "142.01" };
        record_reading(c, &tomasz, pump, "ie", SheetKind::Home, &reading(&cell.key, text, None)).unwrap();
    }
    // Signed twice, it is signed once; and never without the person's own PIN.
    let command = Command::Sign { seat: "ie".into() };
    assert!(matches!(work::work(c, &tomasz, pump, &command), Err(StoreError::Held(_))));
    work::signed(c, &tomasz, pump, &command, "3512").unwrap();
    work::signed(c, &tomasz, pump, &command, "3512").unwrap();
    assert!(state(c, pump).signed("ie") && rebuilds::signatures(c, pump).unwrap().len() == 1);
    assert!(matches!(step_back(c, &tomasz, pump, "ie", StepKind::Sign), Err(StoreError::Held(_))));
    assert!(matches!(chain::rebuild::verify(c, pump, true).unwrap(), Verdict::Whole { .. }));
}

#[tokio::test]
async fn rules_are_not_overwritten_unseen_and_the_first_run_works_once() {
    let f = Fresh::empty().await;
    let c = &mut f.connection();
    let lead = NewPerson {
        handle: "own".into(),
        name: "Own Lead".into(),
        role: Role::Lead,
        password: "long enough".into(),
        pin: Some("1357".into()),
        units: Units::Metric,
        customer: None,
    };
    assert!(matches!(ironseat_store::first_run(c, " ", &lead), Err(StoreError::Refused(e)) if e.field == "shop"));
    assert!(!read::people::any(c).unwrap(), "a refused first run leaves nothing behind");
    let id = ironseat_store::first_run(c, "Own shop", &lead).unwrap();
    let lead_now = read::people::get(c, id).unwrap().unwrap();
    assert!(matches!(ironseat_store::first_run(c, "Again", &lead), Err(StoreError::Conflict(_))));
    assert!(rebuilds::list_anatomies(c).unwrap().len() >= 3);

    let now = read::shop::settings(c).unwrap().unwrap();
    let mut rules = now.rules.clone();
    rules.press_share = 0.7;
    write::shop::change_rules(c, &lead_now, &rules, now.zone, now.revision).unwrap();
    assert!(matches!(
        write::shop::change_rules(c, &lead_now, &rules, now.zone, now.revision),
        Err(StoreError::Conflict(_))
    ));
    assert!((read::shop::settings(c).unwrap().unwrap().rules.press_share - 0.7).abs() < 1e-12);
    // Who changed what stands in the record of the rules, and what was set up in those of the shop.
    let said: Vec<_> = chain::shop::entries(c, Chain::Rules).unwrap().into_iter().map(|e| (e.person, e.said)).collect();
    assert_eq!(said.len(), 2);
    assert_eq!(said[1], ("Own Lead".into(), "House rules changed: press share 0.7 instead of 0.8.".into()));
    for (chain, name) in Chain::ALL {
        assert!(chain::shop::verify(c, chain).unwrap().whole(), "{name}");
    }
    assert!(chain::shop::entries(c, Chain::People).unwrap()[0].said.contains("Own Lead put in as lead"));
}

#[tokio::test]
async fn sessions_expire_end_and_are_told_apart_by_case() {
    use ironseat_store::write::sessions;
    let f = Fresh::empty().await;
    let c = &mut f.connection();
    let later = ironseat_store::now() + chrono::Duration::hours(1);
    let sooner = ironseat_store::now() - chrono::Duration::seconds(1);
    assert!(sessions::create(c, "AbCdEfGhIjKlMnOpQrStUv", "{}", later).unwrap());
    assert!(!sessions::create(c, "AbCdEfGhIjKlMnOpQrStUv", "{\"other\":1}", later).unwrap(), "an id is given once");
    assert_eq!(sessions::load(c, "AbCdEfGhIjKlMnOpQrStUv").unwrap().as_deref(), Some("{}"));
    assert_eq!(sessions::load(c, "aBCDEfGhIjKlMnOpQrStUv").unwrap(), None);
    sessions::save(c, "AbCdEfGhIjKlMnOpQrStUv", "{}", sooner).unwrap();
    assert_eq!(sessions::load(c, "AbCdEfGhIjKlMnOpQrStUv").unwrap(), None, "expired");
    assert_eq!(sessions::purge(c).unwrap(), 1);
    sessions::save(c, "0123456789012345678901", "{}", later).unwrap();
    sessions::delete(c, "0123456789012345678901").unwrap();
    assert_eq!(sessions::load(c, "0123456789012345678901").unwrap(), None);
}

#[tokio::test]
async fn people_are_added_with_what_was_expected_and_never_twice() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let good = NewPerson {
        handle: "new".into(),
        name: "New Hand".into(),
        role: Role::Bench,
        password: "long enough".into(),
        pin: Some("9753".into()),
        units: Units::Inch,
        customer: None,
    };
    let changed = |change: fn(&mut NewPerson)| {
        let mut p = good.clone();
        change(&mut p);
        p
    };
    for (p, field) in [
        (changed(|p| p.name = " ".into()), "name"),
        (changed(|p| p.handle = "No Blanks".into()), "handle"),
        (changed(|p| p.password = "short".into()), "password"),
        (changed(|p| p.pin = Some("12a4".into())), "pin"),
        (changed(|p| p.pin = Some("1".into())), "pin"),
    ] {
        assert!(matches!(write::people::add(c, &p), Err(StoreError::Refused(e)) if e.field == field), "{field}");
    }
    let id = write::people::add(c, &good).unwrap();
    assert!(matches!(write::people::add(c, &good), Err(StoreError::Conflict(_))));
    let p = read::people::get(c, id).unwrap().unwrap();
    assert_eq!((p.initials.as_str(), p.units, p.has_pin), ("NH", Units::Inch, true));
    assert!(
        write::secrets::sign_in(c, "NEW", "long enough").unwrap().is_some()
            && write::secrets::sign_in(c, "new", "wrong").unwrap().is_none()
    );
    assert!(!p.password_hash.contains("long enough"));
}

#[tokio::test]
async fn starting_a_rebuild_lays_out_its_trail_once() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (ines, tomasz) = (f.person("ines"), f.person("tomasz"));
    let (anatomy, _) = rebuilds::list_anatomies(c).unwrap().into_iter().find(|(_, n)| n.contains("Jig-borer")).unwrap();
    let new = write::rebuilds::NewRebuild {
        id: Id::new(),
        number: "R-0500".into(),
        title: "Spare spindle".into(),
        customer: "own tool room".into(),
        anatomy,
        due_on: ironseat_store::now().date(),
        serial: String::new(),
    };
    assert!(matches!(write::rebuilds::start(c, &tomasz, &new), Err(StoreError::Held(_))));
    write::rebuilds::start(c, &ines, &new).unwrap();
    write::rebuilds::start(c, &ines, &new).unwrap();
    assert!(
        matches!(write::rebuilds::start(c, &ines, &write::rebuilds::NewRebuild { id: Id::new(), ..new.clone() }), Err(StoreError::Refused(e)) if e.field == "number")
    );
    let over = state(c, new.id);
    // Three seats; the nose-side one has no nut of its own. The machine has 84 acts; journal, ring bore, choice and
    // signature of each seat come on top, and cooling of the two that go on hot: the upper ring enters its quill cold.
    assert_eq!((rebuilds::get(c, new.id).unwrap().record_seq, over.progress()), (1, (0, 84 + 3 * 4 + 2)));
    assert!(matches!(rebuilds::get(c, Id::new()), Err(StoreError::NotFound)));
}

/// What caps the heat is called anew as soon as somebody has looked how the ring is closed.
#[tokio::test]
async fn looking_between_the_rings_changes_the_call() {
    let f = Fresh::demo().await;
    let (c, tomasz) = (&mut f.connection(), f.person("tomasz"));
    c.batch_execute("UPDATE anatomies SET document = REPLACE(document, '6208 C3', '6208 QX C3')").unwrap();
    let id = begin(&f, c, "Brine circulation", "R-0998");
    work_to(&f, c, id, Stage::Inspect);
    let cells = |kind: SheetKind, text: &str| {
        kind.cells().into_iter().map(|k| (kind, reading(&k.key, text, None))).collect::<Vec<_>>()
    };
    let bore = SheetKind::Grid(Surface::RingBore);
    let list: Vec<_> = cells(JOURNAL, "40.018").into_iter().chain(cells(bore, "39.990")).collect();
    record_readings(c, &tomasz, id, "de", &list).unwrap();
    let capped = |c: &mut MysqlConnection| {
        let s = state(c, id);
        let called = s.call("de", "fit").unwrap();
        called.calls.iter().any(|k| matches!(k.situation, Situation::CapNotEnough { .. }))
    };
    assert!(capped(c), "28 µm do not go on at 80 °C");
    let choose = state(c, id).act(&at("de", StepKind::Choose)).unwrap().clone();
    assert!(state(c, id).held(&choose, Units::Metric).is_some_and(|w| w.contains("how it is closed")));
    answer(c, &tomasz, id, "closure.de", AnswerState::CannotTell, "", "").unwrap();
    assert!(capped(c), "not told: as if sealed");
    assert!(answer(c, &tomasz, id, "closure.de", AnswerState::Recorded, "shut", "").is_err());
    answer(c, &tomasz, id, "closure.de", AnswerState::Recorded, "open", "").unwrap();
    assert!(!capped(c), "an open ring may be heated as far as it has to");
    let head = rebuilds::get(c, id).unwrap();
    let records = seat_records(c, &head).unwrap();
    let cap = |seat: &str| records.iter().find(|r| r.facts.seat.id == seat).unwrap().facts.bearing.seals.greased();
    assert!(!cap("de") && cap("ie"), "each seat by its own answer");
}

#[tokio::test]
async fn a_transaction_that_is_lost_on_the_way_leaves_nothing_and_is_done_again() {
    use diesel::connection::SimpleConnection as _;
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let contact = |c: &mut MysqlConnection, x: &str| {
        c.batch_execute(&format!("UPDATE customers SET contact = '{x}'")).map_err(StoreError::from)
    };
    let kept = |c: &mut MysqlConnection| ironseat_store::read::customers::list(c).unwrap().remove(0).contact;
    // As a node of a cluster does it: rolled back, and nobody is told.
    for refused in [false, true] {
        let lost = transaction(c, |c| {
            contact(c, "first half")?;
            c.batch_execute("ROLLBACK")?;
            contact(c, "second half")?;
            if refused { Err(StoreError::Conflict("as half of it looked".into())) } else { Ok(()) }
        });
        assert!(matches!(lost, Err(StoreError::Clash)), "{lost:?}");
        assert!(!kept(c).contains("half"), "{}", kept(c));
    }
    // The connection keeps single statements by themselves again, and whole transactions whole.
    contact(c, "alone").unwrap();
    c.batch_execute("ROLLBACK").unwrap();
    assert_eq!(kept(c), "alone");
    transaction(c, |c| transaction(c, |c| contact(c, "inner"))).unwrap();
    c.batch_execute("ROLLBACK").unwrap();
    assert_eq!(kept(c), "inner");
    let refused: Result<(), _> = transaction(c, |c| {
        contact(c, "refused")?;
        Err(StoreError::NotFound)
    });
    assert!(matches!(refused, Err(StoreError::NotFound)));
    assert_eq!(kept(c), "inner");
    let mut tries = 0;
    let store = f.store.clone();
    let done = store.run(move |c| {
        tries += 1;
        transaction(c, |c| {
            contact(c, "again")?;
            if tries < 3 {
                c.batch_execute("ROLLBACK")?;
            }
            Ok(tries)
        })
    });
    assert_eq!(done.await.unwrap(), 3);
    assert_eq!(kept(c), "again");
}
