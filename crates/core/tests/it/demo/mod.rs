//! The machines of the demo, read from their build sheets.

use ironseat_core::anatomy::{Anatomy, build_sheet};

/// The text of a build sheet.
pub fn sheet(name: &str) -> String {
    std::fs::read_to_string(format!("{}/../store/demo/{name}.toml", env!("CARGO_MANIFEST_DIR"))).unwrap()
}

/// All of them with the names of their files, in their order.
pub fn named() -> Vec<(String, Anatomy)> {
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/../store/demo");
    let mut names: Vec<String> = std::fs::read_dir(folder)
        .unwrap()
        .filter_map(|f| Some(f.unwrap().file_name().to_str()?.strip_suffix(".toml")?.to_owned()))
        .collect();
    names.sort();
    assert_eq!(names.len(), 13, "every machine of the demo is tried");
    let read = |n: &String| build_sheet::read(&sheet(n)).unwrap_or_else(|e| panic!("{n}: {}", e.message));
    names.iter().map(|n| (n.clone(), read(n))).collect()
}

/// All of them.
pub fn machines() -> Vec<Anatomy> {
    named().into_iter().map(|m| m.1).collect()
}
