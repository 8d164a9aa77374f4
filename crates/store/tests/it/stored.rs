//! Documents in columns are read for ever: one of each kind in each format there was stands in `golden/stored`, as the
//! program of its day wrote it. A change that would read one of them as something else, or lose a part of it, fails
//! here and needs a new format.

use ironseat_core::anatomy::Anatomy;
use ironseat_core::anatomy::acts::Round;
use ironseat_core::call::Call;
use ironseat_core::fasten::Pattern;
use ironseat_core::rules::HouseRules;
use ironseat_core::sheet::Given;
use ironseat_store::StoreError;
use ironseat_store::db::stored::{Document, read, write};
use ironseat_store::read::pins::Answered;
use serde_json::Value;
use std::fmt::Debug;

/// Everything in `old` stands in `new`, which may have more.
fn within(old: &Value, new: &Value, at: &str) {
    match (old, new) {
        (Value::Object(o), Value::Object(n)) => {
            for (k, v) in o {
                within(v, n.get(k).unwrap_or_else(|| panic!("{at}.{k} is lost")), &format!("{at}.{k}"));
            }
        }
        (Value::Array(o), Value::Array(n)) if o.len() == n.len() => {
            for (i, (a, b)) in o.iter().zip(n).enumerate() {
                within(a, b, &format!("{at}[{i}]"));
            }
        }
        _ => assert_eq!(old, new, "{at}"),
    }
}

fn kept<T: Document + Debug + PartialEq>(name: &str) {
    kept_since::<T>(name, 0);
}

/// Of a document that was first written in a format.
fn kept_since<T: Document + Debug + PartialEq>(name: &str, first: u32) {
    let stored = |format: u32| {
        let file = format!("{}/tests/golden/stored/{name}.{format}.json", env!("CARGO_MANIFEST_DIR"));
        std::fs::read_to_string(&file).unwrap_or_else(|_| panic!("{file} is missing"))
    };
    let newest = stored(T::FORMAT);
    let document: T = read(&newest).unwrap();
    for format in first..T::FORMAT {
        assert_eq!(read::<T>(&stored(format)).unwrap(), document, "{name} of format {format}");
    }
    let again = write(&document).unwrap();
    assert_eq!(read::<T>(&again).unwrap(), document);
    let (old, new): (Value, Value) = (serde_json::from_str(&newest).unwrap(), serde_json::from_str(&again).unwrap());
    within(&old, &new, name);

    // One of tomorrow is refused, not guessed at.
    let tomorrow = again.replacen(&format!("\"format\":{}", T::FORMAT), &format!("\"format\":{}", T::FORMAT + 1), 1);
    assert!(matches!(read::<T>(&tomorrow), Err(StoreError::Held(why)) if why.contains("newer version")), "{name}");
    for nonsense in ["", "null", "{}[", "{\"format\":1}", "{\"format\":1,\"is\":7}", "[{}]"] {
        assert!(read::<T>(nonsense).is_err(), "{name}: {nonsense}");
    }
}

#[test]
fn what_was_stored_in_any_format_says_the_same_today() {
    kept::<Anatomy>("anatomy");
    kept_since::<Answered>("asked", 1);
    kept_since::<Given>("given", 1);
    kept_since::<Pattern>("pattern", 1);
    kept::<HouseRules>("rules");
    kept::<Vec<Call>>("calls");
    kept::<Round>("round");
}
