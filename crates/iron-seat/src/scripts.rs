//! `iron-seat reckon` and `iron-seat derive`: for scripts, JSON out.

use ironseat_core::Refusal;
use ironseat_core::anatomy::build_sheet;
use ironseat_core::quantity::Units;
use ironseat_core::reckon;
use serde_json::{Value, json};
use std::io::{self, BufRead, Read, Write};
use std::process::ExitCode;

/// Most bytes of one input.
const MOST: u64 = 64 << 20;
/// Exit code of a bad input.
const BAD: u8 = 2;

/// Lists, describes or reckons; exit 2 and an error naming the field for bad input.
pub fn reckon(name: Option<&str>, list: bool, schema: bool, many: bool) -> ExitCode {
    if list {
        let names: Vec<&str> = reckon::entries().map(|e| e.name).collect();
        return say(&names.join("\n"), ExitCode::SUCCESS);
    }
    if many {
        let (input, output) = (io::stdin().lock(), io::stdout().lock());
        return match lines(name, input, output) {
            Ok(true) => ExitCode::SUCCESS,
            Ok(false) => ExitCode::from(BAD),
            // The reader of our lines has gone away.
            Err(_) => ExitCode::FAILURE,
        };
    }
    let Some(name) = name else {
        return refuse(&Refusal::new("name", "expected the name of a computation, see --list"));
    };
    if schema {
        return match reckon::entry(name) {
            Ok(e) => say(&format!("{:#}", e.schema()), ExitCode::SUCCESS),
            Err(e) => refuse(&e),
        };
    }
    let mut text = String::new();
    match io::stdin().take(MOST + 1).read_to_string(&mut text) {
        Err(_) => refuse(&Refusal::new("input", "expected one JSON object in UTF-8")),
        Ok(n) if n as u64 > MOST => refuse(&Refusal::new("input", "at most 64 MiB are taken at once")),
        Ok(_) => match reckon::reckon(name, &text) {
            Ok(answer) => say(&answer.to_string(), ExitCode::SUCCESS),
            Err(e) => refuse(&e),
        },
    }
}

/// Completion of commands and options for a shell.
pub fn completion(shell: clap_complete::Shell, command: &mut clap::Command) -> ExitCode {
    let mut text = Vec::new();
    clap_complete::generate(shell, command, "iron-seat", &mut text);
    say(String::from_utf8_lossy(&text).trim_end(), ExitCode::SUCCESS)
}

fn say(text: &str, code: ExitCode) -> ExitCode {
    match writeln!(io::stdout(), "{text}") {
        Ok(()) => code,
        Err(_) => ExitCode::FAILURE,
    }
}

fn refuse(e: &Refusal) -> ExitCode {
    say(&json!({ "error": e }).to_string(), ExitCode::from(BAD))
}

/// One answer a line, in the order of the lines; blank lines are passed over. False when any was refused.
fn lines(name: Option<&str>, mut input: impl BufRead, output: impl Write) -> io::Result<bool> {
    let mut output = io::BufWriter::new(output);
    let mut all = true;
    let mut line = Vec::new();
    loop {
        line.clear();
        if input.by_ref().take(MOST).read_until(b'\n', &mut line)? == 0 {
            break;
        }
        if line.iter().all(u8::is_ascii_whitespace) {
            continue;
        }
        match one(name, &line) {
            Ok(answer) => writeln!(output, "{answer}")?,
            Err(e) => {
                all = false;
                writeln!(output, "{}", json!({ "error": e }))?;
            }
        }
        output.flush()?;
    }
    output.flush()?;
    Ok(all)
}

fn one(name: Option<&str>, line: &[u8]) -> Result<Value, Refusal> {
    let text = std::str::from_utf8(line)
        .map_err(|_| Refusal::new("input", "expected one JSON object in UTF-8 on this line"))?;
    if let Some(name) = name {
        return reckon::reckon(name, text);
    }
    let shape = || Refusal::new("input", "expected {\"name\": ..., \"input\": {...}} on each line");
    let value: Value = serde_json::from_str(text).map_err(|_| shape())?;
    let name = value
        .get("name")
        .and_then(Value::as_str)
        .ok_or_else(|| Refusal::new("name", "expected the name of a computation"))?;
    reckon::reckon(name, &value.get("input").ok_or_else(shape)?.to_string())
}

/// `iron-seat derive FILE`: what follows from a build sheet. Text that is no build sheet is refused with exit 2 and its
/// line; a machine that cannot be built is an answer with its faults.
pub fn derive(file: &str, out: Option<&str>, have: &str, check: Option<&str>) -> ExitCode {
    let text = if file == "-" {
        let mut text = String::new();
        match io::stdin().take(build_sheet::LARGEST as u64 + 1).read_to_string(&mut text) {
            Ok(_) => text,
            Err(e) => return refuse(&Refusal::new("sheet", format!("standard input could not be read as text: {e}"))),
        }
    } else {
        match std::fs::read_to_string(file) {
            Ok(text) => text,
            Err(e) => return refuse(&Refusal::new("sheet", format!("{file} could not be read: {e}"))),
        }
    };
    let (a, d) = match build_sheet::parse(&text).and_then(|a| ironseat_core::anatomy::derive(&a).map(|d| (a, d))) {
        Ok(x) => x,
        Err(e) => return refuse(&e),
    };
    let ids =
        |list: &str| list.split(',').map(str::trim).filter(|t| !t.is_empty()).map(str::to_owned).collect::<Vec<_>>();
    if let Some(order) = check {
        let order = ids(order);
        let order: Vec<&str> = order.iter().map(String::as_str).collect();
        return match d.check(&order) {
            Ok(()) => say(&json!({"possible": true, "acts": order.len()}).to_string(), ExitCode::SUCCESS),
            Err((act, words)) => say(&json!({"error": {"act": act, "words": words}}).to_string(), ExitCode::from(BAD)),
        };
    }
    let Some(body) = out else { return say(&d.json(Units::Metric).to_string(), ExitCode::SUCCESS) };
    let have = if have == "all" { d.bodies.list.iter().skip(1).map(|b| b.id.clone()).collect() } else { ids(have) };
    let have: Vec<&str> = have.iter().map(String::as_str).collect();
    match d.back_out(&a, &have, body) {
        Ok(cost) => say(&cost.json(&a, &d, body).to_string(), ExitCode::SUCCESS),
        Err(e) => refuse(&e),
    }
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]

    use super::lines;
    use serde_json::{Value, json};

    fn many(name: Option<&str>, text: &str) -> (bool, Vec<Value>) {
        let mut out = Vec::new();
        let all = lines(name, text.as_bytes(), &mut out).unwrap();
        (all, String::from_utf8(out).unwrap().lines().map(|l| serde_json::from_str(l).unwrap()).collect())
    }

    #[test]
    fn every_line_is_answered_in_its_place() {
        let (all, got) = many(
            Some("gauge.capable"),
            "{\"lo\":0,\"hi\":4,\"u\":1}\n\n{\"lo\":0,\"hi\":4}\nnonsense\n{\"lo\":0,\"hi\":10,\"u\":1}",
        );
        assert!(!all);
        assert_eq!(
            got.iter().map(|v| &v["error"]["field"]).collect::<Vec<_>>(),
            [&Value::Null, &json!("u"), &json!("input"), &Value::Null]
        );
        assert_eq!((&got[0]["call"], &got[3]["call"]), (&json!("good"), &json!("ideal")));
    }

    #[test]
    fn a_line_may_name_its_own_computation() {
        let (all, got) = many(
            None,
            "{\"name\":\"judge\",\"input\":{\"value\":1,\"lo\":0}}\n{\"name\":\"key.clearance\",\"input\":{\"hub_depth_mm\":3,\"shaft_depth_mm\":4,\"key_mm\":6.8}}\n",
        );
        assert!(all && got[0]["call"] == "conforming" && got[1]["call"] == "go", "{got:?}");
        let (all, got) = many(None, "{\"name\":\"no.such\",\"input\":{}}\n{\"input\":{}}\n{\"name\":\"judge\"}\n[]\n");
        assert!(!all);
        assert_eq!(
            got.iter().map(|v| v["error"]["field"].as_str().unwrap()).collect::<Vec<_>>(),
            ["name", "name", "input", "name"]
        );
    }
}
