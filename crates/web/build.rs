//! Joins the style sheets that stand beside what they dress into one: tokens, what is on every page, what rooms share,
//! and then the rooms, none of which speaks of another.

use std::path::{Path, PathBuf};
use std::{env, fs};

/// Those that others rest on, in their order; sheets of rooms follow by name.
const FIRST: [&str; 9] = [
    "ground/tokens.css",
    "ground/ground.css",
    "parts/section.css",
    "parts/certificate.css",
    "parts/answer.css",
    "parts/hand_in.css",
    "parts/dispositions.css",
    "parts/parts.css",
    "parts/drawing.css",
];

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let mut list: Vec<PathBuf> = FIRST.iter().map(|f| Path::new("src").join(f)).collect();
    let mut rooms: Vec<PathBuf> = Vec::new();
    for room in fs::read_dir("src/rooms")? {
        let room = room?.path();
        if room.is_dir() {
            println!("cargo::rerun-if-changed={}", room.display());
            for file in fs::read_dir(room)? {
                rooms.push(file?.path());
            }
        }
    }
    rooms.retain(|p| p.extension().is_some_and(|e| e == "css"));
    rooms.sort();
    list.extend(rooms);
    let mut all = String::new();
    for path in list {
        println!("cargo::rerun-if-changed={}", path.display());
        all += &fs::read_to_string(path)?;
    }
    let small = minifier::css::minify(&all)?;
    fs::write(Path::new(&env::var("OUT_DIR")?).join("app.css"), small.to_string())?;
    Ok(())
}
