//! Who may import whom, and what core may depend on: checked, not promised.

use serde_json::Value;
use std::collections::BTreeSet;
use std::path::{Path, PathBuf};

#[test]
fn crates_import_only_what_they_may() {
    let out = std::process::Command::new(env!("CARGO"))
        .args(["metadata", "--format-version", "1", "--no-deps", "--offline"])
        .output()
        .unwrap();
    let meta: Value = serde_json::from_slice(&out.stdout).unwrap();
    let direct = |name: &str, dev: bool| -> Vec<String> {
        let package = meta["packages"].as_array().unwrap().iter().find(|p| p["name"] == name).unwrap();
        let deps = package["dependencies"].as_array().unwrap().iter().filter(|d| dev || d["kind"] != "dev");
        deps.map(|d| d["name"].as_str().unwrap().to_owned()).collect()
    };
    let ours = |name: &str| direct(name, true).into_iter().filter(|d| d.starts_with("ironseat-")).collect::<Vec<_>>();

    let mut core = direct("ironseat-core", false);
    core.sort();
    assert_eq!(core, ["serde", "serde_json", "thiserror", "toml"], "core is pure: a new dependency is a decision");
    assert_eq!(ours("ironseat-core"), Vec::<String>::new());
    assert_eq!(ours("ironseat-drawing"), ["ironseat-core"]);
    assert_eq!(direct("ironseat-drawing", false), ["ironseat-core"]);
    assert_eq!(ours("ironseat-store"), ["ironseat-core"]);
    let sorted = |name: &str| ours(name).into_iter().collect::<BTreeSet<_>>().into_iter().collect::<Vec<_>>();
    assert_eq!(sorted("ironseat-web"), ["ironseat-core", "ironseat-drawing", "ironseat-store"]);
    assert_eq!(sorted("iron-seat"), ["ironseat-core", "ironseat-store", "ironseat-web"]);
    assert_eq!(ours("ironseat-report"), Vec::<String>::new(), "papers know data and no trade");
    assert!(!direct("iron-seat", true).contains(&"diesel".to_owned()), "no SQL in the command");
    assert!(!direct("ironseat-web", false).contains(&"diesel".to_owned()), "no SQL in the rooms");
}

#[test]
fn nothing_reads_outside_the_project() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    for crate_dir in ["core", "drawing", "iron-seat", "report", "store", "web"] {
        for (path, text) in sources(&root.join("crates").join(crate_dir).join("src")) {
            assert!(!text.contains("../shared"), "{}", path.display());
            assert!(text.starts_with("//!"), "{} says what it is for", path.display());
        }
    }
}

/// Rust files below a folder, with what they say.
fn sources(dir: &Path) -> Vec<(PathBuf, String)> {
    let (mut dirs, mut out) = (vec![dir.to_owned()], Vec::new());
    while let Some(dir) = dirs.pop() {
        for path in std::fs::read_dir(dir).unwrap().map(|e| e.unwrap().path()) {
            if path.is_dir() {
                dirs.push(path);
            } else if path.extension().is_some_and(|e| e == "rs") {
                let text = std::fs::read_to_string(&path).unwrap();
                out.push((path, text));
            }
        }
    }
    out
}

/// What a file takes from the top of its own crate: the first two names of each path behind `crate::`, groups taken apart.
fn taken(text: &str) -> BTreeSet<(String, String)> {
    let word = |t: &str| t.chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect::<String>();
    let mut out = BTreeSet::new();
    for rest in text.split("crate::").skip(1) {
        let first = word(rest);
        let Some(rest) = rest[first.len()..].strip_prefix("::") else {
            out.insert((first, String::new()));
            continue;
        };
        let Some(group) = rest.strip_prefix('{') else {
            out.insert((first, word(rest)));
            continue;
        };
        let (mut depth, mut at_start) = (0, true);
        for (k, c) in group.char_indices() {
            match c {
                '{' => depth += 1,
                '}' if depth == 0 => break,
                '}' => depth -= 1,
                ',' if depth == 0 => at_start = true,
                c if at_start && depth == 0 && !c.is_whitespace() => {
                    out.insert((first.clone(), word(&group[k..])));
                    at_start = false;
                }
                _ => {}
            }
        }
    }
    out
}

#[test]
fn groups_of_imports_are_taken_apart() {
    let text = "use crate::rooms::{bench::{self, view}, ledger}; let x = crate::state::App; crate::live";
    let pairs = |list: &[(&str, &str)]| list.iter().map(|(a, b)| ((*a).to_owned(), (*b).to_owned())).collect();
    let all: BTreeSet<_> = pairs(&[("rooms", "bench"), ("rooms", "ledger"), ("state", "App"), ("live", "")]);
    assert_eq!(taken(text), all);
}

#[test]
fn rooms_know_what_is_below_them_and_no_other_room() {
    const FLOORS: [&str; 6] = ["live", "state", "ground", "parts", "rooms", "routes"];
    let src = Path::new(env!("CARGO_MANIFEST_DIR")).join("../web/src");
    for (path, text) in sources(&src) {
        let own: Vec<String> = path
            .strip_prefix(&src)
            .unwrap()
            .with_extension("")
            .iter()
            .map(|p| p.to_str().unwrap().to_owned())
            .collect();
        let Some(floor) = FLOORS.iter().position(|f| *f == own[0]) else { continue };
        for (other, item) in taken(&text) {
            let Some(at) = FLOORS.iter().position(|f| *f == other) else { continue };
            // The state holds what the ground below it says of printing and counting; all else of the ground stands on it.
            let below = at <= floor || (own[0] == "state" && ["printer", "figures"].contains(&item.as_str()));
            assert!(below, "{} takes {other}::{item}, which stands above it", path.display());
            assert!(
                other != "rooms" || own[0] == "routes" || own[1] == item,
                "{} takes from the room {item}",
                path.display()
            );
        }
    }
}
