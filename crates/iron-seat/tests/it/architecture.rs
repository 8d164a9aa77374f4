//! Who may import whom, and what core may depend on: checked, not promised.

use serde_json::Value;
use std::collections::{BTreeMap, BTreeSet};
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
    assert_eq!(
        core,
        ["rustc-hash", "serde", "serde_json", "thiserror", "toml"],
        "core is pure: a new dependency is a decision"
    );
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
    files(dir, "rs")
}

/// Files of an ending below a folder, with what they say.
fn files(dir: &Path, ending: &str) -> Vec<(PathBuf, String)> {
    let (mut dirs, mut out) = (vec![dir.to_owned()], Vec::new());
    while let Some(dir) = dirs.pop() {
        for path in std::fs::read_dir(dir).unwrap().map(|e| e.unwrap().path()) {
            if path.is_dir() {
                dirs.push(path);
            } else if path.extension().is_some_and(|e| e == ending) {
                let text = std::fs::read_to_string(&path).unwrap();
                out.push((path, text));
            }
        }
    }
    out
}

/// A module of a crate: where it stands, and what it names of its crate.
struct Module {
    at: Vec<String>,
    names: BTreeSet<Vec<String>>,
}

/// All modules of a crate, without their tests.
fn modules(name: &str) -> Vec<Module> {
    let src = Path::new(env!("CARGO_MANIFEST_DIR")).join("..").join(name).join("src");
    let module = |(path, text): (PathBuf, String)| {
        let at: Vec<String> = path
            .strip_prefix(&src)
            .unwrap()
            .with_extension("")
            .iter()
            .map(|p| p.to_str().unwrap().to_owned())
            .filter(|p| !["mod", "lib", "main"].contains(&p.as_str()))
            .collect();
        if at.last().is_some_and(|l| l == "tests") {
            return None;
        }
        let text = text.split("\n#[cfg(test)]\nmod tests {").next().unwrap();
        let code: String = text.lines().filter(|l| !l.trim_start().starts_with("//")).flat_map(|l| [l, "\n"]).collect();
        Some(Module { names: named(&at, &code), at })
    };
    sources(&src).into_iter().filter_map(module).collect()
}

/// Paths behind `crate::`, `super::` and `self::`, from the top of the crate, groups taken apart.
fn named(at: &[String], code: &str) -> BTreeSet<Vec<String>> {
    let mut out = BTreeSet::new();
    for (k, _) in code.match_indices("::") {
        let word = code[..k].rsplit(|c: char| !c.is_alphanumeric() && c != '_').next().unwrap();
        let first = !code[..k - word.len()].ends_with("::");
        let from = match word {
            "crate" => Vec::new(),
            "self" if first => at.to_vec(),
            "super" if first => at[..at.len().saturating_sub(1)].to_vec(),
            _ => continue,
        };
        tree(&from, &code[k + 2..], &mut out);
    }
    out
}

/// What stands behind `::`: a name with what stands behind it, or a group. Returns how much was read.
fn tree(from: &[String], code: &str, out: &mut BTreeSet<Vec<String>>) -> usize {
    if let Some(group) = code.strip_prefix('{') {
        let mut k = 0;
        loop {
            k += group[k..].len() - group[k..].trim_start_matches([' ', '\n', ',']).len();
            if group[k..].is_empty() || group[k..].starts_with('}') {
                return k + 2;
            }
            let read = tree(from, &group[k..], out);
            // What a name is called here is of no interest.
            k += read + group[k + read..].find([',', '}', '{']).unwrap_or(0);
            if read == 0 {
                return k + 1;
            }
        }
    }
    let word: String = code.chars().take_while(|c| c.is_alphanumeric() || *c == '_' || *c == '*').collect();
    let mut path = from.to_vec();
    match word.as_str() {
        "super" => drop(path.pop()),
        "self" => {}
        w => path.push(w.to_owned()),
    }
    match code[word.len()..].strip_prefix("::") {
        Some(rest) if !word.is_empty() => word.len() + 2 + tree(&path, rest, out),
        _ => {
            out.insert(path);
            word.len()
        }
    }
}

#[test]
fn paths_are_read_whatever_their_form() {
    let code = "use crate::rooms::{bench::{self, view as v}, ledger, *};\nlet x = crate::state::App; use super::a; use super::super::b::C;";
    let at = ["x", "y", "z"].map(str::to_owned);
    let all: BTreeSet<String> = named(&at, code).iter().map(|p| p.join("::")).collect();
    let wanted =
        ["rooms::bench", "rooms::bench::view", "rooms::ledger", "rooms::*", "state::App", "x::y::a", "x::b::C"];
    assert_eq!(all, wanted.into_iter().map(str::to_owned).collect());
}

/// Who stands beside whom in a folder, and takes from whom: with one place where it does.
fn beside(all: &[Module]) -> BTreeMap<Vec<String>, BTreeMap<(String, String), String>> {
    let there: BTreeSet<&[String]> = all.iter().map(|m| m.at.as_slice()).collect();
    let mut out: BTreeMap<Vec<String>, BTreeMap<(String, String), String>> = BTreeMap::new();
    for m in all {
        for path in &m.names {
            let to = (0..=path.len()).rev().map(|n| &path[..n]).find(|p| there.contains(p)).unwrap_or(&[]);
            let same = m.at.iter().zip(to).take_while(|(a, b)| a == b).count();
            let (Some(a), Some(b)) = (m.at.get(same), to.get(same)) else { continue };
            let place = format!("{} takes {}", m.at.join("::"), path.join("::"));
            out.entry(to[..same].to_vec()).or_default().insert((a.clone(), b.clone()), place);
        }
    }
    out
}

/// No subject rests on one that rests on it, at any depth: of two that stand beside each other one is below.
#[test]
fn nothing_goes_round_in_a_circle() {
    for name in ["core", "drawing", "iron-seat", "report", "store", "web"] {
        for (folder, edges) in beside(&modules(name)) {
            let mut left: Vec<_> = edges.iter().collect();
            // What rests on nothing that is left is put down; what cannot be put down goes round.
            loop {
                let before = left.len();
                let rests: BTreeSet<&str> = left.iter().map(|((a, _), _)| a.as_str()).collect();
                left.retain(|((_, b), _)| rests.contains(b.as_str()));
                if left.len() == before {
                    break;
                }
            }
            let list: Vec<&String> = left.iter().map(|(_, place)| *place).collect();
            assert!(list.is_empty(), "{name}, within {:?}, goes round: {list:#?}", folder.join("::"));
        }
    }
}

/// `bin/test` tries a crate's tests again when that crate, the documents, the demo's machines or the compiled program
/// have changed. That is enough as long as its tests read nothing else; what reads other crates has its place here.
#[test]
fn tests_read_their_own_crate_documents_and_demo_machines_alone() {
    let crates = Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
    for name in ["core", "drawing", "report", "store", "web"] {
        for (path, text) in sources(&crates.join(name)) {
            let compiled_in = |l: &str| ["include_str!(", "#[path = "].iter().any(|w| l.contains(w));
            let compared = |l: &str| {
                l.split("expect_file![\"").nth(1).is_some_and(|p| {
                    ["../../../../docs/calls.md", "../../../../docs/reckon.md"].iter().any(|d| p.starts_with(d))
                        || p.matches("../").count() <= 2
                })
            };
            for line in text.lines().filter(|l| !l.trim_start().starts_with("//") && !compiled_in(l) && !compared(l)) {
                let read = ["../store/demo", "../../docs/trade.md"];
                let allowed = read.iter().fold(line.to_owned(), |l, r| l.replace(r, ""));
                let out = allowed.contains("\"..\"") || allowed.contains("/../") || allowed.contains("\"../");
                let hostile = ["/etc", "/assets/../", "../../x"].iter().any(|w| line.contains(w));
                assert!(!out || hostile, "{}: {line}", path.display());
            }
        }
    }
}

/// What a part does is its role: no code but the table names a kind, so that a new row of the table is all of a new
/// kind.
#[test]
fn only_the_table_of_kinds_names_a_kind() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
    for name in ["core", "drawing", "iron-seat", "store", "web"] {
        for (path, text) in sources(&root.join(name).join("src")) {
            if path.ends_with("anatomy/kinds.rs") || path.file_stem().is_some_and(|n| n == "tests") {
                continue;
            }
            let code = text.split("#[cfg(test)]\nmod tests {").next().unwrap();
            for line in code.lines().filter(|l| !l.trim_start().starts_with("//")) {
                let named = line.match_indices("PartKind::").any(|(k, p)| {
                    let mut name = line[k + p.len()..].chars();
                    name.next().is_some_and(char::is_uppercase) && name.next().is_some_and(char::is_lowercase)
                });
                assert!(!named, "{}: {}", path.display(), line.trim());
            }
        }
    }
}

/// How long a text may be is said in one list: forms take it from there.
#[test]
fn forms_take_as_much_as_checks_do() {
    let templates = files(&Path::new(env!("CARGO_MANIFEST_DIR")).join("../web/src"), "html");
    let longest = |text: &str| text.matches("maxlength=\"").count();
    assert!(templates.iter().map(|(_, text)| longest(text)).sum::<usize>() > 30);
    for (path, text) in templates {
        for said in text.split("maxlength=\"").skip(1) {
            assert!(said.starts_with("{{"), "{}: name it in ironseat_core::terms::text", path.display());
        }
    }
}

/// Floors of a crate, the lowest first: each takes from those below it alone.
fn floors(name: &str, floors: &[&str]) -> Vec<Module> {
    let all = modules(name);
    for m in &all {
        let Some(own) = m.at.first().and_then(|f| floors.iter().position(|x| x == f)) else { continue };
        for path in &m.names {
            let Some(at) = path.first().and_then(|f| floors.iter().position(|x| x == f)) else { continue };
            assert!(at <= own, "{} takes {}, which stands above it", m.at.join("::"), path.join("::"));
        }
    }
    for floor in floors {
        assert!(all.iter().any(|m| m.at.first().is_some_and(|f| f == floor)), "{name} has no floor {floor}");
    }
    all
}

#[test]
fn what_reads_knows_nothing_that_writes() {
    floors("store", &["db", "rows", "chain", "read", "write", "archive", "demo"]);
}

#[test]
fn rooms_know_what_is_below_them_and_no_other_room() {
    for m in floors("web", &["live", "state", "ground", "parts", "rooms", "routes"]) {
        let room = |p: &[String]| p.first().is_some_and(|f| f == "rooms").then(|| p.get(1).cloned()).flatten();
        let Some(own) = room(&m.at) else { continue };
        for path in &m.names {
            assert!(room(path).is_none_or(|r| r == own), "{} takes {}", m.at.join("::"), path.join("::"));
        }
    }
}

/// Documents that say where a thing stands say it as it is today.
#[test]
fn places_that_documents_name_are_there() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let mut from: Vec<PathBuf> = vec![root.clone(), root.join("crates"), root.join("e2e"), root.join("docs")];
    for name in ["core", "drawing", "iron-seat", "report", "store", "web"] {
        let one = root.join("crates").join(name);
        from.extend([one.join("src"), one.join("tests"), one]);
    }
    let made = ["var/", "target/", "/", "http", "api/"];
    let mut seen = 0;
    for file in ["README.md", "CONTRIBUTING.md", "docs/architecture.md", "docs/decisions.md"] {
        let text = std::fs::read_to_string(root.join(file)).unwrap();
        for word in text.split('`').skip(1).step_by(2) {
            let path = word.split("::").next().unwrap();
            let plain = path.chars().all(|c| c.is_ascii_alphanumeric() || "/._-".contains(c));
            let stands_for = ["NAME", "SUBJECT", "DATE"].iter().any(|w| path.contains(w));
            let a_file = [".rs", ".md", ".html", ".css", ".js", ".toml", ".txt", "/"].iter().any(|e| path.ends_with(e));
            if !path.contains('/') || !plain || stands_for || made.iter().any(|m| path.starts_with(m)) || !a_file {
                continue;
            }
            seen += 1;
            assert!(from.iter().any(|f| f.join(path).exists()), "{file} names `{word}`, which is not there");
        }
    }
    assert!(seen > 40, "{seen}");
}
