//! Who may import whom, and what core may depend on: checked, not promised.

use serde_json::Value;

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
    let sorted =
        |name: &str| ours(name).into_iter().collect::<std::collections::BTreeSet<_>>().into_iter().collect::<Vec<_>>();
    assert_eq!(sorted("ironseat-web"), ["ironseat-core", "ironseat-drawing", "ironseat-store"]);
    assert_eq!(sorted("iron-seat"), ["ironseat-core", "ironseat-store", "ironseat-web"]);
    assert_eq!(ours("ironseat-report"), Vec::<String>::new(), "papers know data and no trade");
    assert!(!direct("iron-seat", true).contains(&"diesel".to_owned()), "no SQL in the command");
    assert!(!direct("ironseat-web", false).contains(&"diesel".to_owned()), "no SQL in the rooms");
}

#[test]
fn nothing_reads_outside_the_project() {
    let root = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    for crate_dir in ["core", "drawing", "iron-seat", "report", "store", "web"] {
        let mut dirs = vec![root.join("crates").join(crate_dir).join("src")];
        while let Some(dir) = dirs.pop() {
            for entry in std::fs::read_dir(dir).unwrap() {
                let path = entry.unwrap().path();
                if path.is_dir() {
                    dirs.push(path);
                } else if path.extension().is_some_and(|e| e == "rs") {
                    let text = std::fs::read_to_string(&path).unwrap();
                    assert!(!text.contains("../shared"), "{}", path.display());
                    assert!(text.starts_with("//!"), "{} says what it is for", path.display());
                }
            }
        }
    }
}
