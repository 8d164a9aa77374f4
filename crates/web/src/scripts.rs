//! `iron-seat reckon`: named computations for scripts, JSON in and JSON out.

use ironseat_core::Refusal;
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
    let text = std::str::from_utf8(line).map_err(|_| Refusal::new("input", "expected one JSON object in UTF-8 on this line"))?;
    if let Some(name) = name {
        return reckon::reckon(name, text);
    }
    let shape = || Refusal::new("input", "expected {\"name\": ..., \"input\": {...}} on each line");
    let value: Value = serde_json::from_str(text).map_err(|_| shape())?;
    let name = value.get("name").and_then(Value::as_str).ok_or_else(|| Refusal::new("name", "expected the name of a computation"))?;
    reckon::reckon(name, &value.get("input").ok_or_else(shape)?.to_string())
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
        let (all, got) =
            many(Some("gauge.capable"), "{\"lo\":0,\"hi\":4,\"u\":1}\n\n{\"lo\":0,\"hi\":4}\nnonsense\n{\"lo\":0,\"hi\":10,\"u\":1}");
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
        assert_eq!(got.iter().map(|v| v["error"]["field"].as_str().unwrap()).collect::<Vec<_>>(), ["name", "name", "input", "name"]);
    }
}
