//! Every paper is read back by another program's eyes: its words, its pages, its size.

use ironseat_report::{Paper, Size, print, square};
use serde_json::{Value, json};
use std::io::Write as _;
use std::process::{Command, Stdio};

const SECTION: &str = r##"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 30" width="100" height="30"><rect width="90" height="20" fill="#fff" stroke="#000"/><text x="5" y="15" font-size="8" font-family="sans-serif">shaft</text></svg>"##;

/// Names that would be commands if they were pasted into the source of a paper.
const HOSTILE: &str = "#panic() $x$ *bold* _it_ <label> @ref \"quoted\" \\ [b] `raw` // no comment";

fn certificate(seats: usize) -> Value {
    let seat = |k: usize| {
        json!({"name": format!("Seat {k}"), "bearing": "6208 C3",
            "surfaces": [{"name": "journal", "min": "40.008", "mean": "40.010", "max": "40.012", "limit": "40.002 … 40.013", "gauge": "Outside micrometer 25–50"}],
            "facts": [["Interference", "+8 … +20 µm"], ["Signed", "Tomasz Brandt (bench)"]],
            "remarks": [HOSTILE]})
    };
    json!({"shop": "Marrow Quay Rotating Works", "number": "R-0398", "draft": true, "address": "http://localhost:4300/rebuilds/1",
        "head": [["Machine", HOSTILE], ["Customer", "Hollow Hill Funicular"]], "unit": "mm",
        "seats": (0..seats).map(seat).collect::<Vec<_>>(),
        "found_left": [{"what": "Thrust float", "found": "0.41 mm", "left": "0.30 mm", "change": "-0.11 mm", "limit": "0.25 … 0.35", "source": "sheet 4", "note": ""}],
        "parts": [{"title": "Read on the way", "head": ["Sheet", "Of", "Answer", "Who"], "rows": [["Runout sweep", "Collar", "tir 8 µm", "Yuki"]]}],
        "instruments": [{"name": "Electronic gauge", "serial": "EG-77", "u": "0.6 µm", "due": "2027-01-31"}],
        "pictures": [], "remarks": [], "named": ["Free-end bearing", "Sheave"], "guard": "Limits judged with the guard band.", "estimates": "", "whole": true,
        "record": "312 entries, ab12", "chain": "ab12cd"})
}

fn files() -> Vec<(String, Vec<u8>)> {
    vec![("section.svg".into(), SECTION.into())]
}

/// What a program of Debian's poppler-utils says of a paper.
fn asked(program: &str, args: &[&str], pdf: &[u8]) -> String {
    let mut child = Command::new(program)
        .args(args)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()
        .expect("a program of Debian's package poppler-utils: bin/test installs it");
    child.stdin.take().unwrap().write_all(pdf).unwrap();
    String::from_utf8(child.wait_with_output().unwrap().stdout).unwrap()
}

fn pages(pdf: &[u8]) -> Vec<String> {
    let text = asked("pdftotext", &["-enc", "UTF-8", "-raw", "-", "-"], pdf);
    let page = |p: &str| p.split_whitespace().collect::<Vec<_>>().join(" ");
    text.trim_end_matches('\u{c}').split('\u{c}').map(page).collect()
}

fn words(pdf: &[u8]) -> String {
    pages(pdf).join(" ")
}

#[test]
fn a_certificate_says_what_it_was_given_and_counts_its_pages() {
    let pdf = print(Paper::Certificate, Size::A4, &certificate(12), &files()).unwrap();
    let text = words(&pdf);
    for said in [
        "Certificate of rebuild",
        "Draft: this rebuild is not finished.",
        "R-0398",
        "#panic() $x$ *bold* _it_ <label> @ref",
        "Seat 11",
        "40.002 … 40.013",
        "EG-77",
        "As found, as left",
        "0.41 mm",
        "Runout sweep",
        "312 entries, ab12",
        "Record whole:",
        "2 Sheave",
    ] {
        assert!(text.contains(said), "{said} is not in {text}");
    }
    let pages = pages(&pdf);
    assert!(pages.len() >= 2);
    for (k, page) in pages.iter().enumerate() {
        assert!(page.contains(&format!("page {} of {}", k + 1, pages.len())) && page.contains("ab12cd"), "{page}");
    }
    assert_eq!(
        pdf,
        print(Paper::Certificate, Size::A4, &certificate(12), &files()).unwrap(),
        "the same data, the same bytes"
    );
}

#[test]
fn paper_has_the_size_that_was_asked_for() {
    for (size, w, h) in [(Size::A4, 595, 841), (Size::Letter, 612, 792)] {
        let pdf = print(Paper::Certificate, size, &certificate(1), &files()).unwrap();
        let about = asked("pdfinfo", &["-"], &pdf);
        let said =
            |key: &str| about.lines().find_map(|l| l.strip_prefix(key)).unwrap_or_else(|| panic!("{about}")).trim();
        let side = |k: usize| said("Page size:").split(' ').nth(k).unwrap().parse::<f64>().unwrap() as i32;
        assert_eq!((side(0), side(2)), (w, h), "{about}");
        assert_eq!(said("Tagged:"), "yes", "what reads aloud is told what is what");
    }
}

#[test]
fn a_travel_sheet_has_a_box_for_what_is_still_to_be_read() {
    let act = |words: &str, done: bool, boxes: u32| {
        json!({"words": words, "done": done, "by": if done { "Yuki" } else { "" }, "read": if done { "0.30 mm" } else { "" },
        "boxes": boxes, "unit": "mm", "limit": "0.25 mm … 0.35 mm", "caution": if done { "" } else { "Hot parts burn." }, "given": ["as found 0.41 mm"], "choices": if words.starts_with("Look") { vec!["use again", "refer"] } else { vec![] }, "said": ""})
    };
    let data = json!({"shop": "Marrow Quay", "number": "R-1", "address": "http://x/1", "head": [["Machine", HOSTILE]], "first": "Local rules first.",
        "stages": [{"word": "Set axially", "acts": [act("Thrust float: push, pull", false, 3), act("Bolts drawn", true, 0), act("Look the sleeve over", false, 0)]}]});
    let text = words(&print(Paper::Travel, Size::Letter, &data, &files()).unwrap());
    for said in [
        "Travel sheet",
        "Set axially",
        "Thrust float: push, pull",
        "Caution: Hot parts burn.",
        "as found 0.41 mm",
        "0.25 mm … 0.35 mm",
        "Local rules first.",
        "use again",
    ] {
        assert!(text.contains(said), "{said} is not in {text}");
    }
}

#[test]
fn labels_fill_as_many_pages_as_they_need_and_what_is_wrong_is_a_fault_not_a_panic() {
    let label = |k: usize| json!({"number": "R-1", "part": format!("Part {k} {HOSTILE}"), "where": "on land 3", "machine": "Pump"});
    let data = json!({"shop": "Marrow Quay", "number": "R-1", "address": "http://x/1", "labels": (0..40).map(label).collect::<Vec<_>>()});
    let pdf = print(Paper::Labels, Size::A4, &data, &[]).unwrap();
    assert!(words(&pdf).contains("Part 39 #panic()"));
    assert!(pages(&pdf).len() >= 2);
    assert!(print(Paper::Labels, Size::A4, &json!({}), &[]).unwrap_err().to_string().contains("could not be set"));
    assert!(print(Paper::Certificate, Size::A4, &certificate(1), &[]).is_err(), "its drawing is missing");
    for (paper, name) in Paper::ALL {
        assert_eq!((Paper::of(name), paper.name()), (Some(paper), name));
    }
    assert!(square(&"x".repeat(10_000)).is_none() && square("http://localhost/rebuilds/1").unwrap().contains("<svg"));
}

#[test]
fn the_program_sets_what_it_is_ordered_and_says_what_it_cannot() {
    let program = |input: &[u8]| {
        let mut child = Command::new(env!("CARGO_BIN_EXE_iron-seat-papers"))
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::piped())
            .spawn()
            .unwrap();
        child.stdin.take().unwrap().write_all(input).unwrap();
        child.wait_with_output().unwrap()
    };
    let head = json!({"paper": "certificate", "size": "letter", "data": certificate(2), "files": [{"name": "section.svg", "bytes": SECTION.len()}]});
    let done = program(format!("{head}\n{SECTION}").as_bytes());
    assert!(
        done.status.success()
            && done.stdout == print(Paper::Certificate, Size::Letter, &certificate(2), &files()).unwrap()
    );
    for (wrong, why) in [
        (String::new(), "cannot be read"),
        (format!("{head}\n{}", &SECTION[1..]), "cut short"),
        (format!("{head}\n{SECTION} "), "more came"),
        (head.to_string().replace("letter", "foolscap"), "no size foolscap"),
        (head.to_string().replace("\"certificate\"", "\"novel\""), "no paper novel"),
    ] {
        let refused = program(wrong.as_bytes());
        let said = String::from_utf8_lossy(&refused.stderr).into_owned();
        assert!(!refused.status.success() && refused.stdout.is_empty() && said.contains(why), "{why}: {said}");
    }
}
