//! Tables as they arrive.

use ironseat_web::tried::{LARGEST_TABLE as LARGEST, read};

fn cells(bytes: &[u8]) -> Vec<Vec<String>> {
    let t = read(bytes).unwrap();
    std::iter::once(t.head.clone()).chain(t.lines.into_iter().map(|l| l.cells)).collect()
}

#[test]
fn files_of_every_program_become_the_same_rows() {
    let wanted = vec![vec!["place".to_owned(), "value µm".into()], vec!["A1".into(), "40,012".into()]];
    let wide = |s: &str, little: bool| {
        let mark = if little { vec![0xff, 0xfe] } else { vec![0xfe, 0xff] };
        s.encode_utf16().fold(mark, |mut v, u| {
            v.extend(if little { u.to_le_bytes() } else { u.to_be_bytes() });
            v
        })
    };
    let plain = "place;value µm\r\nA1;40,012\r\n";
    for bytes in [
        plain.as_bytes().to_vec(),
        format!("\u{feff}{plain}").into_bytes(),
        wide(plain, true),
        wide(plain, false),
        b"place;value \xb5m\nA1;40,012\n".to_vec(),
        "place\tvalue µm\nA1\t40,012".as_bytes().to_vec(),
        "place,value µm\n\"A1\",\"40,012\"\n".as_bytes().to_vec(),
        "place | value µm\nA1 | 40,012".as_bytes().to_vec(),
    ] {
        assert_eq!(cells(&bytes), wanted, "{bytes:?}");
    }
    // Decimal commas are no separators where semicolons are.
    assert_eq!(cells(b"1,5;2,5\n3,5;4,5")[1], ["1,5", "2,5"]);
}

#[test]
fn lines_have_the_numbers_that_an_editor_shows() {
    let t = read(b"place;value\n\n\nA1;40\n\"over\ntwo\";41\nA3;42\n").unwrap();
    assert_eq!(t.lines.iter().map(|l| l.number).collect::<Vec<_>>(), [4, 5, 7]);
}

#[test]
fn what_is_no_table_is_told() {
    for bytes in [&b""[..], b"\x89PNG\r\n\x1a\n\0\0\0", b"\n\n", &[b'x'; LARGEST + 1]] {
        assert_eq!(read(bytes).unwrap_err().field, "file");
    }
    let many = (0..9000).map(|k| format!("A1;{k}\n")).collect::<String>();
    assert!(read(many.as_bytes()).unwrap_err().message.contains("2000 rows"));
}
