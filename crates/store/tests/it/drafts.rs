//! Machine types: drafts, undo and redo, two people at one board, keeping a version.

use crate::support::Fresh;
use ironseat_core::anatomy::edit::{Edit, blank};
use ironseat_core::anatomy::{Anatomy, PartKind};
use ironseat_core::quantity::Millimetres;
use ironseat_store::read::{self, rebuilds};
use ironseat_store::write::drafts::Change;
use ironseat_store::{Id, StoreError, write};

fn add(kind: PartKind, land: &str) -> Change {
    Change::Edit(Edit::AddPart { kind, land: land.into(), into: None })
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
    let key = read::drafts::key_for(c, "Spare blower").unwrap();
    assert!(matches!(write::drafts::begin(c, &tomasz, id, &blank(&key, "Spare blower")), Err(StoreError::Held(_))));
    write::drafts::begin(c, &ines, id, &blank(&key, "Spare blower")).unwrap();
    write::drafts::begin(c, &ines, id, &blank(&key, "Again")).unwrap();
    assert_eq!(read::drafts::open_drafts(c).unwrap().len(), 1);

    let d = write::drafts::change(c, &ines, id, 0, &add(PartKind::Bearing, "land-1")).unwrap();
    let d = write::drafts::change(c, &ines, id, d.cursor, &add(PartKind::Seal, "land-1")).unwrap();
    assert_eq!(
        (ids(&d.anatomy), d.undo.as_deref(), d.redo),
        (vec!["bearing", "lip-seal"], Some("lip seal put on"), None)
    );
    let d = write::drafts::change(c, &ines, id, d.cursor, &Change::Undo).unwrap();
    assert_eq!((ids(&d.anatomy), d.redo.as_deref()), (vec!["bearing"], Some("lip seal put on")));
    let d = write::drafts::change(c, &ines, id, d.cursor, &Change::Redo).unwrap();
    assert_eq!(ids(&d.anatomy), ["bearing", "lip-seal"]);

    // Another window still shows an older state: told, nothing lost.
    let e = write::drafts::change(c, &ines, id, 0, &add(PartKind::Nut, "land-1")).unwrap_err();
    assert!(matches!(e, StoreError::Conflict(_)));
    // A refused change leaves the drawing as it is.
    let wrong = Change::Edit(Edit::AddLand {
        behind: None,
        name: "x".into(),
        length: Millimetres::of(0.0),
        d: Millimetres::of(1.0),
        kind: Default::default(),
    });
    assert!(
        matches!(write::drafts::change(c, &ines, id, d.cursor, &wrong), Err(StoreError::Refused(e)) if e.field == "length")
    );
    assert_eq!(read::drafts::draft(c, id).unwrap().cursor, d.cursor);

    // A new change after an undo forgets what could have been done again.
    let d = write::drafts::change(c, &ines, id, d.cursor, &Change::Undo).unwrap();
    let d = write::drafts::change(c, &ines, id, d.cursor, &add(PartKind::Nut, "land-1")).unwrap();
    assert!(d.redo.is_none());
    let kept = write::drafts::keep(c, &ines, id).unwrap();
    assert_eq!((kept.version, ids(&kept)), (1, vec!["bearing", "nut"]));
    assert!(matches!(read::drafts::draft(c, id), Err(StoreError::NotFound)));

    // The next version keeps the first one for the rebuilds that pin it.
    let next = Id::new();
    let first = read::drafts::version(c, &key, None).unwrap();
    write::drafts::begin(c, &ines, next, &first).unwrap();
    write::drafts::change(c, &ines, next, 0, &Change::Edit(Edit::Rename { name: "Spare blower II".into() })).unwrap();
    assert_eq!(write::drafts::keep(c, &ines, next).unwrap().version, 2);
    assert_eq!(read::drafts::version(c, &key, Some(1)).unwrap().name, "Spare blower");
    let kinds = read::drafts::kinds(c).unwrap();
    let spare = kinds.iter().find(|k| k.anatomy.key == key).unwrap();
    assert_eq!((spare.versions, spare.rebuilds, spare.anatomy.version), (2, 0, 2));
    assert_ne!(read::drafts::key_for(c, "Spare blower").unwrap(), key);
    assert!(
        rebuilds::list_anatomies(c).unwrap().iter().any(|(_, n)| n.starts_with("Spare")),
        "a rebuild can be started from it"
    );
}

#[tokio::test]
async fn a_machine_that_cannot_be_built_is_not_kept_and_a_draft_can_be_thrown_away() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let ines = f.person("ines");
    let id = Id::new();
    let spindle = read::drafts::version(c, "taper-roller-spindle", None).unwrap();
    write::drafts::begin(c, &ines, id, &spindle).unwrap();
    // Thicker than what has to pass: the middle.
    let land = Edit::SetLand {
        id: "R6".into(),
        name: "nut thread".into(),
        length: Millimetres::of(36.0),
        d: Millimetres::of(64.0),
        kind: Default::default(),
    };
    let d = write::drafts::change(c, &ines, id, 0, &Change::Edit(land)).unwrap();
    assert_eq!(d.cursor, 1);
    assert!(matches!(write::drafts::keep(c, &ines, id), Err(StoreError::Held(_))));
    write::drafts::discard(c, &ines, id).unwrap();
    assert!(matches!(write::drafts::discard(c, &ines, id), Err(StoreError::NotFound)));
    assert_eq!(read::drafts::kinds(c).unwrap().len(), 13);
}
