//! What `docs/` says of build sheets is so: its examples can be built, and every kind of part stands in its list.

use expect_test::expect_file;
use ironseat_core::anatomy::{PartKind, Role, build_sheet, derive};
use std::fmt::Write as _;

#[test]
fn every_example_of_a_build_sheet_can_be_built() {
    let text = include_str!("../../../../docs/formats.md");
    let examples: Vec<&str> = text
        .split("```toml\n")
        .skip(1)
        .map(|t| t.split("```").next().unwrap())
        .filter(|t| t.contains("lands ="))
        .collect();
    assert!(!examples.is_empty());
    for e in examples {
        let a = build_sheet::parse(e).unwrap_or_else(|r| panic!("{}: {}\n{e}", r.field, r.message));
        let d = derive(&a).unwrap();
        assert!(d.faults.is_empty(), "{:?}\n{e}", d.faults);
        assert!(d.notes.iter().all(|n| n.words.raw().contains("circle_mm")), "{:?}\n{e}", d.notes);
    }
}

/// What `faces` means for a kind, and what else is its own.
fn row(kind: PartKind) -> (String, &'static str) {
    let r = kind.row();
    let faces = r.facing.map_or_else(|| "alike both ways: none".to_owned(), |f| format!("end to which its {f} looks"));
    let own = match r.role {
        Role::Rolling => {
            "`faces` is the back of the outer ring: high shoulder, marked, takes the thrust; only where it carries thrust at an angle"
        }
        Role::Cone => "faces the other way than the cup that it runs in",
        Role::Cup => "faces the other way than its cone",
        Role::Nut => "`hand` right or left, seen from its own end; not said it is asked as found",
        Role::Clip => "sharp side towards the load",
        Role::Lip => "`keeps` is the end of what it keeps in",
        Role::Screw | Role::Sensor => "`at_mm` and `width_mm` are where its ray goes in",
        Role::Key => "`at_mm` and `width_mm` are its seat; parts name it with `key`",
        Role::Shim | Role::Gasket => "leaves count as one ring",
        Role::SealRing => {
            "split and laid in from the side it is packing; a lantern ring is one with its feed in `holes`"
        }
        Role::Bush => "`split` makes shells of it, rolled in where the shaft lies",
        _ => "",
    };
    (faces, own)
}

#[test]
fn every_kind_of_part_stands_in_the_list() {
    let mut out = "# Kinds of parts\n\nThe `kind` of a part in a build sheet ([formats.md](formats.md)). For all of them `at_mm` is counted from the end A of\nits land to the A face of the part, whatever end it comes from; `from` is the end that it comes from.\n\n| `kind` | `faces` | its own |\n|---|---|---|\n".to_owned();
    for kind in PartKind::ALL {
        let (faces, own) = row(*kind);
        let _ = writeln!(out, "| `{}` {} | {faces} | {own} |", kind.row().key, kind.row().word);
    }
    expect_file!["../../../../docs/kinds.md"].assert_eq(&out);
}
