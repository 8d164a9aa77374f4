//! Every paper is read back by another program's eyes: its words, its pages, its size.

#![allow(clippy::unwrap_used, missing_docs)]

use ironseat_report::{Paper, Size, print, square};
use serde_json::{Value, json};

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

fn words(pdf: &[u8]) -> String {
    pdf_extract::extract_text_from_mem(pdf).unwrap().split_whitespace().collect::<Vec<_>>().join(" ")
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
    let pages = pdf_extract::extract_text_from_mem_by_pages(&pdf).unwrap();
    assert!(pages.len() >= 2);
    for (k, page) in pages.iter().enumerate() {
        let page = page.split_whitespace().collect::<Vec<_>>().join(" ");
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
        let document = pdf_extract::Document::load_mem(&pdf).unwrap();
        let page = *document.get_pages().values().next().unwrap();
        let found = document.get_dictionary(page).unwrap().get(b"MediaBox").and_then(|b| b.as_array()).unwrap();
        let at = |k: usize| found[k].as_float().unwrap() as i32;
        assert_eq!((at(2), at(3)), (w, h));
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
    assert!(pdf_extract::extract_text_from_mem_by_pages(&pdf).unwrap().len() >= 2);
    assert!(print(Paper::Labels, Size::A4, &json!({}), &[]).unwrap_err().to_string().contains("could not be set"));
    assert!(print(Paper::Certificate, Size::A4, &certificate(1), &[]).is_err(), "its drawing is missing");
    for (paper, name) in Paper::ALL {
        assert_eq!((Paper::of(name), paper.name()), (Some(paper), name));
    }
    assert!(square(&"x".repeat(10_000)).is_none() && square("http://localhost/rebuilds/1").unwrap().contains("<svg"));
}
