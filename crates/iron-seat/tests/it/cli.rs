//! The command line: JSON in and out, exit codes, sentences on what is wrong.

use serde_json::Value;
use std::io::Write as _;
use std::process::{Command, Output, Stdio};

fn iron_seat(args: &[&str], input: &str) -> Output {
    let mut child = Command::new(env!("CARGO_BIN_EXE_iron-seat"))
        .args(args)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    // A command that reads nothing may have ended before it is written to.
    let _ = child.stdin.take().unwrap().write_all(input.as_bytes());
    child.wait_with_output().unwrap()
}

fn json(out: &Output) -> Value {
    serde_json::from_slice(&out.stdout).unwrap_or_else(|e| panic!("{e}: {}", String::from_utf8_lossy(&out.stdout)))
}

fn demo(key: &str) -> String {
    format!("{}/../store/demo/{key}.toml", env!("CARGO_MANIFEST_DIR"))
}

#[test]
fn a_computation_is_asked_by_name() {
    let ok = iron_seat(&["reckon", "gauge.capable"], r#"{"lo":0,"hi":4,"u":1}"#);
    assert!(ok.status.code() == Some(0) && json(&ok)["call"].is_string(), "{:?}", json(&ok));
    let refused = iron_seat(&["reckon", "gauge.capable"], r#"{"lo":0,"hi":4}"#);
    assert_eq!(refused.status.code(), Some(2));
    assert_eq!(json(&refused)["error"]["field"], "u");
    let unknown = iron_seat(&["reckon", "gauge.capabel"], "{}");
    assert!(unknown.status.code() == Some(2) && json(&unknown)["error"]["field"] == "name");
    let many = iron_seat(&["reckon", "gauge.capable", "--many"], "{\"lo\":0,\"hi\":4,\"u\":1}\n{\"lo\":0}\n");
    let lines: Vec<Value> =
        String::from_utf8_lossy(&many.stdout).lines().map(|l| serde_json::from_str(l).unwrap()).collect();
    assert!(many.status.code() == Some(2) && lines.len() == 2 && lines[1]["error"].is_object(), "{lines:?}");
}

#[test]
fn a_build_sheet_is_derived_from_a_file_or_from_standard_input() {
    let file = iron_seat(&["derive", &demo("overhung-brine-pump")], "");
    assert_eq!(file.status.code(), Some(0));
    let text = std::fs::read_to_string(demo("overhung-brine-pump")).unwrap();
    let piped = iron_seat(&["derive", "-"], &text);
    assert_eq!(json(&file), json(&piped));
    let all = json(&file);
    assert!(
        all["faults"].as_array().unwrap().is_empty()
            && all["notes"].is_array()
            && all["questions"].as_array().unwrap().len() > 10
    );
    for act in all["acts"].as_array().unwrap() {
        for key in ["id", "verb", "body", "phase", "stage", "words", "tool", "people", "minutes", "wait_min", "before"]
        {
            assert!(!act[key].is_null(), "{key} of {act}");
        }
        assert!(["apart", "mount"].contains(&act["phase"].as_str().unwrap()));
        for b in act["before"].as_array().unwrap() {
            assert!(b["id"].is_string() && b["law"].is_string() && b["words"].as_str().unwrap().len() > 5, "{b}");
        }
    }
    // What cannot be built is an answer; what is no sheet is refused with its line.
    let turned: Vec<String> =
        text.lines()
            .map(|l| {
                if l.contains("id = \"brg-de\"") { l.replacen("from = \"B\"", "from = \"A\"", 1) } else { l.to_owned() }
            })
            .collect();
    let broken = iron_seat(&["derive", "-"], &turned.join("\n"));
    assert!(broken.status.code() == Some(0) && !json(&broken)["faults"].as_array().unwrap().is_empty());
    for (sheet, said) in
        [("not a sheet", "line 1"), ("", "format"), (&text.replacen("format = 3", "format = 9", 1), "reads up to 3")]
    {
        let refused = iron_seat(&["derive", "-"], sheet);
        assert_eq!(refused.status.code(), Some(2), "{said}");
        let error = json(&refused)["error"]["message"].as_str().unwrap().to_owned();
        assert!(error.contains(said), "{said}: {error}");
    }
    assert_ne!(iron_seat(&["derive", "/nowhere/at/all.toml"], "").status.code(), Some(0));
}

#[test]
fn what_comes_off_and_whether_an_order_holds_is_answered() {
    let sheet = demo("overhung-brine-pump");
    let out = iron_seat(&["derive", &sheet, "--out", "brg-de", "--have", "all"], "");
    assert_eq!(out.status.code(), Some(0), "{}", String::from_utf8_lossy(&out.stderr));
    let cost = json(&out);
    let off: Vec<&str> = cost["off"].as_array().unwrap().iter().map(|x| x.as_str().unwrap()).collect();
    let at = |id: &str| off.iter().position(|x| *x == id);
    assert!(at("cap-out").is_some() && at("cap-out") < at("nut") && at("nut") < at("tab"), "{off:?}");
    assert!(cost["minutes"].as_f64().unwrap() > 0.0 && cost["words"].is_string() && cost["scrapped"].is_array());
    let some = json(&iron_seat(&["derive", &sheet, "--out", "brg-de", "--have", "brg-de,tab,nut"], ""));
    assert_eq!(some["off"], serde_json::json!(["nut", "tab"]));
    assert_eq!(iron_seat(&["derive", &sheet, "--out", "nobody"], "").status.code(), Some(2));

    let acts = json(&iron_seat(&["derive", &sheet], ""));
    let apart: Vec<&str> = acts["acts"]
        .as_array()
        .unwrap()
        .iter()
        .filter(|a| a["phase"] == "apart")
        .map(|a| a["id"].as_str().unwrap())
        .collect();
    assert_eq!(iron_seat(&["derive", &sheet, "--check", &apart.join(",")], "").status.code(), Some(0));
    let wrong = iron_seat(&["derive", &sheet, "--check", "receive.safe,receive.kind,off.cap-out,loosen.nut"], "");
    assert_eq!(wrong.status.code(), Some(2));
    let error = &json(&wrong)["error"];
    assert!(error["act"].is_string() && error["words"].as_str().unwrap().starts_with("First: "), "{error}");
}

#[test]
fn shells_complete_it_and_man_knows_it() {
    let bash = iron_seat(&["completion", "bash"], "");
    let script = String::from_utf8(bash.stdout).unwrap();
    assert!(script.contains("--first-run-code") && script.contains("reckon"));
    // The shell itself says whether it is a script.
    let read = Command::new("bash").args(["-n", "-c", &script]).output().unwrap();
    assert!(read.status.success(), "{}", String::from_utf8_lossy(&read.stderr));
    let folder = std::env::temp_dir().join(format!("iron-seat-man-{}", std::process::id()));
    std::fs::create_dir_all(&folder).unwrap();
    assert!(iron_seat(&["man", folder.to_str().unwrap()], "").status.success());
    let page = std::fs::read_to_string(folder.join("iron-seat-verify.1")).unwrap();
    assert!(page.contains(".TH") && page.contains("against"), "{page}");
    std::fs::remove_dir_all(&folder).unwrap();
    assert_eq!(iron_seat(&["man", "/no/such/folder"], "").status.code(), Some(1));
}
