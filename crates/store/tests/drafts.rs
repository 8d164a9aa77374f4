//! Machine types: drafts, undo and redo, two people at one board, keeping a version.

#![allow(clippy::unwrap_used, missing_docs)]

mod support;

use diesel::RunQueryDsl as _;
use ironseat_core::trail::{StepKind, StepState};

use ironseat_core::anatomy::edit::{Edit, blank};
use ironseat_core::anatomy::{Anatomy, PartKind};
use ironseat_core::quantity::Millimetres;
use ironseat_store::drafts::{self, Change};
use ironseat_store::{Id, StoreError, rebuilds};
use support::Fresh;

fn add(kind: PartKind, land: &str) -> Change {
    Change::Edit(Edit::AddPart { kind, land: land.into() })
}

fn ids(a: &Anatomy) -> Vec<&str> {
    a.parts.iter().map(|p| p.id.as_str()).collect()
}

#[tokio::test]
async fn a_drawing_is_changed_undone_done_again_and_kept_as_a_version() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (ines, tomasz) = (f.person("ines"), f.person("tomasz"));
    let id = Id::new();
    let key = drafts::key_for(c, "Spare blower").unwrap();
    assert!(matches!(drafts::begin(c, &tomasz, id, blank(&key, "Spare blower")), Err(StoreError::Held(_))));
    drafts::begin(c, &ines, id, blank(&key, "Spare blower")).unwrap();
    drafts::begin(c, &ines, id, blank(&key, "Again")).unwrap();
    assert_eq!(drafts::open_drafts(c).unwrap().len(), 1);

    let d = drafts::change(c, &ines, id, 0, &add(PartKind::Bearing, "land-1")).unwrap();
    let d = drafts::change(c, &ines, id, d.cursor, &add(PartKind::Seal, "land-1")).unwrap();
    assert_eq!((ids(&d.anatomy), d.undo.as_deref(), d.redo), (vec!["bearing", "lip-seal"], Some("lip seal put on"), None));
    let d = drafts::change(c, &ines, id, d.cursor, &Change::Undo).unwrap();
    assert_eq!((ids(&d.anatomy), d.redo.as_deref()), (vec!["bearing"], Some("lip seal put on")));
    let d = drafts::change(c, &ines, id, d.cursor, &Change::Redo).unwrap();
    assert_eq!(ids(&d.anatomy), ["bearing", "lip-seal"]);

    // Another window still shows an older state: told, nothing lost.
    let e = drafts::change(c, &ines, id, 0, &add(PartKind::Nut, "land-1")).unwrap_err();
    assert!(matches!(e, StoreError::Conflict(_)));
    // A refused change leaves the drawing as it is.
    let wrong = Change::Edit(Edit::AddLand {
        behind: None,
        name: "x".into(),
        length: Millimetres::of(0.0),
        d: Millimetres::of(1.0),
        kind: Default::default(),
    });
    assert!(matches!(drafts::change(c, &ines, id, d.cursor, &wrong), Err(StoreError::Refused(e)) if e.field == "length"));
    assert_eq!(drafts::draft(c, id).unwrap().cursor, d.cursor);

    // A new change after an undo forgets what could have been done again.
    let d = drafts::change(c, &ines, id, d.cursor, &Change::Undo).unwrap();
    let d = drafts::change(c, &ines, id, d.cursor, &add(PartKind::Nut, "land-1")).unwrap();
    assert!(d.redo.is_none());
    let kept = drafts::keep(c, &ines, id).unwrap();
    assert_eq!((kept.version, ids(&kept)), (1, vec!["bearing", "nut"]));
    assert!(matches!(drafts::draft(c, id), Err(StoreError::NotFound)));

    // The next version keeps the first one for the rebuilds that pin it.
    let next = Id::new();
    let first = drafts::version(c, &key, None).unwrap();
    drafts::begin(c, &ines, next, first).unwrap();
    drafts::change(c, &ines, next, 0, &Change::Edit(Edit::Rename { name: "Spare blower II".into() })).unwrap();
    assert_eq!(drafts::keep(c, &ines, next).unwrap().version, 2);
    assert_eq!(drafts::version(c, &key, Some(1)).unwrap().name, "Spare blower");
    let kinds = drafts::kinds(c).unwrap();
    let spare = kinds.iter().find(|k| k.anatomy.key == key).unwrap();
    assert_eq!((spare.versions, spare.rebuilds, spare.anatomy.version), (2, 0, 2));
    assert_ne!(drafts::key_for(c, "Spare blower").unwrap(), key);
    // It has no seat with sheets yet, so it cannot be started.
    assert!(rebuilds::list_anatomies(c).unwrap().iter().all(|(_, n)| !n.starts_with("Spare")));
}

#[tokio::test]
async fn a_machine_that_cannot_be_built_is_not_kept_and_a_draft_can_be_thrown_away() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let ines = f.person("ines");
    let id = Id::new();
    let spindle = drafts::version(c, "taper-roller-spindle", None).unwrap();
    drafts::begin(c, &ines, id, spindle).unwrap();
    // Thicker than what has to pass: the middle.
    let land = Edit::SetLand {
        id: "R6".into(),
        name: "nut thread".into(),
        length: Millimetres::of(36.0),
        d: Millimetres::of(64.0),
        kind: Default::default(),
    };
    let d = drafts::change(c, &ines, id, 0, &Change::Edit(land)).unwrap();
    assert_eq!(d.cursor, 1);
    assert!(matches!(drafts::keep(c, &ines, id), Err(StoreError::Held(_))));
    drafts::discard(c, &ines, id).unwrap();
    assert!(matches!(drafts::discard(c, &ines, id), Err(StoreError::NotFound)));
    assert_eq!(drafts::kinds(c).unwrap().len(), 13);
}

#[tokio::test]
async fn a_trail_is_worked_out_of_order_held_answered_and_backed_out() {
    use ironseat_core::anatomy::steps::Stage;
    use ironseat_store::trail_record::{self as trail, AnswerState};
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (ines, tomasz, yuki) = (f.person("ines"), f.person("tomasz"), f.person("yuki"));
    let (blower, _) = rebuilds::list_anatomies(c).unwrap().into_iter().find(|(_, n)| n.starts_with("Blower")).unwrap();
    let id = Id::new();
    let new = rebuilds::NewRebuild {
        id,
        number: "R-0501".into(),
        title: "Blower".into(),
        customer: "own".into(),
        anatomy: blower,
        due_on: ironseat_store::now().date(),
    };
    rebuilds::start(c, &ines, &new).unwrap();
    assert_eq!(trail::trail(c, id).unwrap().in_hand().unwrap().id, "receive.safe");

    // Held: taken apart before anything was written down.
    trail::tick(c, &tomasz, id, "receive.safe", "").unwrap();
    let held = trail::tick(c, &tomasz, id, "off.hub", "").unwrap_err();
    assert!(matches!(&held, StoreError::Held(s) if s.contains("held, first:")), "{held}");
    trail::tick(c, &tomasz, id, "receive.kind", "").unwrap();
    // The second hand on the same step is told who was first; nothing is lost.
    assert!(matches!(trail::tick(c, &yuki, id, "receive.kind", ""), Err(StoreError::Conflict(s)) if s.contains("Tomasz Brandt")));
    assert!(matches!(trail::tick(c, &tomasz, id, "ask.hub.faces", ""), Err(StoreError::Held(_))));
    assert!(
        matches!(trail::answer(c, &yuki, id, "hub.faces", AnswerState::Recorded, " ", ""), Err(StoreError::Refused(e)) if e.field == "value")
    );
    assert!(matches!(trail::answer(c, &yuki, id, "no.such", AnswerState::NotPresent, "", ""), Err(StoreError::NotFound)));
    let questions = trail::trail(c, id).unwrap().questions;
    for q in &questions {
        trail::answer(c, &yuki, id, &q.id, AnswerState::Recorded, "end A", "seen").unwrap();
    }
    trail::answer(c, &yuki, id, "hub.faces", AnswerState::CannotTell, "ignored", "").unwrap();
    let t = trail::trail(c, id).unwrap();
    assert_eq!((t.answers["hub.faces"].state, t.answers["hub.faces"].value.as_str()), (AnswerState::CannotTell, ""));

    // Two people, then everything that is free, in any order, up to mounting.
    loop {
        let t = trail::trail(c, id).unwrap();
        let Some(s) = t.steps.iter().rev().find(|s| s.stage <= Stage::FitAndMount && !t.ticks.contains_key(&s.id) && t.held(s).is_none())
        else {
            break;
        };
        if let Some(seat) = s.seat.clone() {
            // Its own sheets prove it: here their signature is set by hand.
            assert!(matches!(trail::tick(c, &tomasz, id, &s.id, ""), Err(StoreError::Held(w)) if w.contains("its signature")));
            diesel::sql_query("UPDATE steps SET done = 1, done_at = UTC_TIMESTAMP(6) WHERE seat = ? AND rebuild_id = ?")
                .bind::<diesel::sql_types::Text, _>(seat)
                .bind::<diesel::sql_types::Binary, _>(id)
                .execute(c)
                .unwrap();
            continue;
        }
        if s.people > 1 {
            assert!(matches!(trail::tick(c, &tomasz, id, &s.id, ""), Err(StoreError::Refused(e)) if e.field == "second"));
        }
        trail::tick(c, &tomasz, id, &s.id, "Pell Adeyemi").unwrap();
    }
    let before = trail::trail(c, id).unwrap();
    let closed = |t: &trail::Trail| {
        let on = t.on();
        t.derived.precedence.pairs().all(|(x, y)| !on.contains(&t.derived.ids[y]) || on.contains(&t.derived.ids[x]))
    };
    assert!(closed(&before) && before.on().len() > 8);

    // The inner flinger was forgotten: what stands in its way comes off again.
    let cost = trail::back_out(c, &yuki, id, "flAi").unwrap();
    assert!(cost.off.contains(&"brA".to_owned()) && cost.reheat.contains(&"brA".to_owned()), "{cost:?}");
    let after = trail::trail(c, id).unwrap();
    let seat = rebuilds::bench(c, id).unwrap().trail("brA");
    assert!(seat.steps.iter().all(|s| s.kind != StepKind::Sign || s.state != StepState::Done), "it is signed again");
    assert!(closed(&after) && cost.off.iter().all(|p| !after.on().contains(p)));
    assert!(after.ticks.contains_key("off.hub"), "what was taken apart stays so");
    assert!(matches!(trail::back_out(c, &yuki, id, "no-such"), Err(StoreError::Refused(e)) if e.field == "part"));

    // A tick is taken back only while nothing rests on it.
    assert!(matches!(trail::untick(c, &yuki, id, "receive.safe"), Err(StoreError::Held(s)) if s.contains("rests on it")));
    assert!(matches!(ironseat_store::journal::verify(c, id).unwrap(), ironseat_store::journal::Verdict::Whole { .. }));
}
