//! A drawing as a file of its own, looked at by a renderer that shares nothing with a browser: ink on paper, not a
//! black sheet and not an empty one.

use ironseat_core::anatomy::build_sheet;
use ironseat_drawing::{Fitted, Joints, SectionView, half_section};
use std::collections::BTreeMap;
use std::io::Write as _;
use std::process::{Command, Stdio};

/// Share of a picture that is dark, and that is neither dark nor white: hatching.
fn ink(svg: &str) -> (f64, f64) {
    let mut child = Command::new("rsvg-convert")
        .args(["--format", "png", "--background-color", "white"])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()
        .expect("rsvg-convert of Debian's package librsvg2-bin: bin/test installs it");
    child.stdin.take().unwrap().write_all(svg.as_bytes()).unwrap();
    let png = child.wait_with_output().unwrap().stdout;
    let picture = image::load_from_memory(&png).unwrap().to_luma8();
    let n = picture.pixels().len() as f64;
    let share = |keep: &dyn Fn(u8) -> bool| picture.pixels().filter(|p| keep(p.0[0])).count() as f64 / n;
    (share(&|l| l < 90), share(&|l| (90..250).contains(&l)))
}

#[test]
fn any_renderer_shows_ink_on_paper() {
    let folder = format!("{}/../store/demo", env!("CARGO_MANIFEST_DIR"));
    let mut seen = 0;
    for file in std::fs::read_dir(folder).unwrap() {
        let path = file.unwrap().path();
        if path.extension().is_none_or(|e| e != "toml") {
            continue;
        }
        let a = build_sheet::read(&std::fs::read_to_string(&path).unwrap()).unwrap();
        let drawn = half_section(
            &a,
            &SectionView {
                width: 968.0,
                height: 318.0,
                fitted: Fitted::All,
                marks: &BTreeMap::new(),
                selected: None,
                in_hand: None,
                joints: &Joints::default(),
                small: false,
                id: "hs",
            },
        );
        let (dark, hatched) = ink(&drawn.standalone());
        assert!((0.003..0.16).contains(&dark), "{path:?}: {dark:.3} of it is dark");
        assert!((0.02..0.7).contains(&hatched), "{path:?}: {hatched:.3} of it is hatched");
        seen += 1;
    }
    assert!(seen >= 10, "{seen}");
    // What it is told apart from: the same drawing without its ink.
    let bare =
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 10 10\"><rect width=\"10\" height=\"10\"/></svg>";
    assert!(ink(bare).0 > 0.9);
}
