//! Style sheets: colours and sizes of type have names, and the names stand in one place.

use ironseat_core::terms::Verdict;
use std::collections::BTreeSet;
use std::path::{Path, PathBuf};

/// Style sheets below a folder, without their comments.
fn sheets(dir: &Path) -> Vec<(PathBuf, String)> {
    let mut out = Vec::new();
    for path in std::fs::read_dir(dir).unwrap().map(|e| e.unwrap().path()) {
        if path.is_dir() {
            out.extend(sheets(&path));
        } else if path.extension().is_some_and(|e| e == "css") {
            let text = std::fs::read_to_string(&path).unwrap();
            let plain = text
                .split("/*")
                .enumerate()
                .map(|(k, t)| if k == 0 { t } else { t.split_once("*/").map_or("", |x| x.1) });
            out.push((path, plain.collect()));
        }
    }
    out
}

#[test]
fn colours_and_sizes_of_type_are_named_in_one_place() {
    let all = sheets(&Path::new(env!("CARGO_MANIFEST_DIR")).join("src"));
    assert!(all.len() > 10, "{}", all.len());
    let tokens = &all.iter().find(|s| s.0.ends_with("ground/tokens.css")).unwrap().1;
    for (path, text) in all.iter().filter(|s| !s.0.ends_with("ground/tokens.css")) {
        for line in text.lines().map(str::trim).filter(|l| l.ends_with(';')) {
            let (name, value) = line.split_once(':').unwrap_or((line, ""));
            let colour = value.split('#').skip(1).any(|v| v.starts_with(|c: char| c.is_ascii_hexdigit()))
                || ["rgb", "hsl"].iter().any(|f| value.contains(&format!("{f}(")));
            assert!(!colour, "{}: {line}", path.display());
            let size = ["font-size", "font"].contains(&name) && value.contains("px") && !value.contains("9.6px");
            assert!(!size, "{}: {line}", path.display());
            for used in value.split("var(--").skip(1).map(|v| v.split([')', ',']).next().unwrap()) {
                let here =
                    tokens.contains(&format!("--{used}:")) || all.iter().any(|s| s.1.contains(&format!("--{used}:")));
                assert!(here, "{}: nobody says what --{used} is", path.display());
            }
        }
    }
}

/// A verdict is told by its shape before its colour: each has one of its own, and a style.
#[test]
fn every_verdict_has_a_shape_of_its_own() {
    let (marks, ground) = (include_str!("../../src/ground/_mark.html"), include_str!("../../src/ground/ground.css"));
    let all = [Verdict::Go, Verdict::Undecided, Verdict::LookAgain, Verdict::Stop];
    let shapes: BTreeSet<String> = all
        .map(|v| {
            let from = marks.split(&format!("key == \"{}\"", v.key())).nth(1).unwrap_or_else(|| panic!("{v:?}"));
            let shape = from.split("{% else").next().unwrap();
            assert!(shape.contains(&format!("m-{}", v.key())), "{v:?} is drawn by its own class");
            assert!(ground.contains(&format!(".m-{}", v.key())), "{v:?} has a style");
            shape.replace(v.key(), "")
        })
        .into();
    assert_eq!(shapes.len(), all.len());
}
