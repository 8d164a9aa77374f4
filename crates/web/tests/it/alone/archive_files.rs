//! Archives as files.

use ironseat_web::tried::{packed, unpack};

fn zipped(files: &[(&str, &[u8])]) -> Vec<u8> {
    packed(&files.iter().map(|(n, b)| ((*n).to_owned(), b.to_vec())).collect()).unwrap()
}

const ABOUT: &[u8] = br#"{"shop":"Quay","number":"R-1","program":"0"}"#;
const EMPTY: &[u8] = br#"{"format":"iron-seat-rebuild-1","number":"R-1","entries":0,"head":"","people":[],"customers":[],"instruments":[],"tables":{}}"#;

#[test]
fn what_is_no_archive_is_told_and_nothing_is_unpacked_beyond_its_bounds() {
    let whole = zipped(&[("about.json", ABOUT), ("rebuild.json", EMPTY), ("../../etc/passwd", b"x"), ("rows/", b"")]);
    assert_eq!(unpack(&whole).unwrap().document.number, "R-1");
    let bomb = vec![0u8; 193 << 20];
    let late = &whole[..whole.len() - 9];
    let mut torn = whole.clone();
    torn[60] ^= 0x55;
    for (what, bytes) in [
        ("nothing", Vec::new()),
        ("no zip", b"PK nothing of the kind".to_vec()),
        ("cut off", late.to_vec()),
        ("damaged", torn),
        ("no rebuild", zipped(&[("about.json", ABOUT)])),
        ("no JSON", zipped(&[("about.json", ABOUT), ("rebuild.json", b"{")])),
        ("too much", zipped(&[("about.json", ABOUT), ("rebuild.json", &bomb)])),
        ("half a picture", zipped(&[("about.json", ABOUT), ("rebuild.json", EMPTY), ("pictures/x.jpg", b"x")])),
    ] {
        assert_eq!(unpack(&bytes).map(|_| ()).unwrap_err().field, "archive", "{what}");
    }
}

#[test]
fn the_same_files_are_the_same_bytes() {
    assert_eq!(zipped(&[("a.txt", b"1")]), zipped(&[("a.txt", b"1")]));
}
