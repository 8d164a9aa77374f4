//! Every error sentence of every crate, written out to be read through: `docs/errors.md`.

use expect_test::expect_file;
use std::collections::BTreeSet;
use std::fmt::Write as _;

/// Every error sentence that stands in the source: (file, field, words); where something is held, no field.
fn errors() -> BTreeSet<(String, String, String)> {
    let crates = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
    let mut out = BTreeSet::new();
    let mut dirs: Vec<_> = ["core/src", "store/src", "web/src"].iter().map(|d| crates.join(d)).collect();
    let letters = |words: &str| words.chars().filter(|c| c.is_alphabetic()).count();
    while let Some(dir) = dirs.pop() {
        for entry in std::fs::read_dir(dir).unwrap() {
            let path = entry.unwrap().path();
            if path.is_dir() {
                dirs.push(path);
                continue;
            }
            let text = std::fs::read_to_string(&path).unwrap_or_default();
            let code = text.split("#[cfg(test)]\nmod tests {").next().unwrap();
            let code: String =
                code.lines().filter(|l| !l.trim_start().starts_with("//")).flat_map(|l| [l, "\n"]).collect();
            let file = path.strip_prefix(&crates).unwrap().display().to_string().replace("/src/", "/");
            for call in ["expect(", "Refusal::new(", ".read("] {
                for part in code.split(call).skip(1) {
                    let texts = texts(part);
                    if let [.., field, words] = &texts[..]
                        && letters(words) > 10
                        && !field.contains(' ')
                    {
                        out.insert((file.clone(), field.clone(), words.clone()));
                    }
                }
            }
            for call in ["held(", "Held(", "Conflict(", "Forbidden(", "Problem(", "refused(", "plain("] {
                for part in code.split(call).skip(1) {
                    let said =
                        texts(part).into_iter().filter(|t| letters(t) > 10 && t.contains(' ') && !t.contains('<'));
                    out.extend(said.map(|words| (file.clone(), String::new(), words)));
                }
            }
        }
    }
    out
}

/// Text literals up to the end of the call.
fn texts(part: &str) -> Vec<String> {
    let (mut depth, mut out, mut now, mut escaped) = (1, Vec::new(), None::<String>, false);
    for c in part.chars() {
        match (&mut now, c) {
            (Some(t), _) if escaped => {
                t.push(c);
                escaped = false;
            }
            (Some(_), '\\') => escaped = true,
            (Some(_), '"') => out.extend(now.take()),
            (Some(t), _) => t.push(c),
            (None, '"') => now = Some(String::new()),
            (None, '(') => depth += 1,
            (None, ')') => depth -= 1,
            (None, ';') => break,
            _ => {}
        }
        if depth == 0 {
            break;
        }
    }
    out
}

#[test]
fn every_error_is_written_down() {
    let mut out = String::from(
        "# Errors, and what holds something\n\nWritten by a test (`UPDATE_EXPECT=1` renews it), to be read through as a whole. Shown beside the field \
         that they name; without a field, where it was tried. Braces stand for what is filled in.\n",
    );
    let all = errors();
    assert!(all.len() > 120, "{}", all.len());
    let mut file = String::new();
    for (from, field, words) in all {
        assert!(field.is_empty() || !words.ends_with('.') && words.len() > 12, "{from} {field}: {words}");
        if from != file {
            let _ = write!(out, "\n## {from}\n\n");
            file = from;
        }
        let _ = if field.is_empty() { writeln!(out, "- {words}") } else { writeln!(out, "- `{field}`: {words}") };
    }
    expect_file!["../../../../docs/errors.md"].assert_eq(&out);
}
