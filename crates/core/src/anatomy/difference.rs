//! What a newer version of a machine type changes: in sentences, and what it means for the steps of a running rebuild.

use super::acts::Act;
use super::{Anatomy, as_found, derive};
use crate::refusal::Result;
use serde::Serialize;
use serde_json::{Map, Value};
use std::collections::{BTreeMap, BTreeSet};

/// What one version has and another has not.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Difference {
    /// One sentence for each thing that was added, taken away or changed.
    pub sentences: Vec<String>,
    /// Steps and as-found questions that are new, as `id` and words.
    pub new_steps: Vec<(String, String)>,
    /// Steps that are no longer there.
    pub gone_steps: Vec<(String, String)>,
    /// Seats whose ring, housing or limits changed: what was measured stays, its call is made anew.
    pub seats: Vec<String>,
}

impl Difference {
    /// Nothing differs but the version.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.sentences.is_empty()
    }
}

/// A field as said: its word and whether it is a length.
fn word(field: &str) -> (String, &'static str) {
    let (bare, unit) = if let Some(b) = field.strip_suffix("_mm") {
        (b, " mm")
    } else if let Some(b) = field.strip_suffix("_um") {
        (b, " µm")
    } else if let Some(b) = field.strip_suffix("_nm") {
        (b, " N·m")
    } else if let Some(b) = field.strip_suffix("_deg") {
        (b, "°")
    } else {
        (field, "")
    };
    let said = match bare {
        "d" => "diameter".into(),
        "d_b" => "diameter at end B".into(),
        "lo" => "lower limit".into(),
        "hi" | "limit" => "limit".into(),
        "min" => "least".into(),
        "at" => "place".into(),
        "n" => "bolts".into(),
        "from" => "comes from".into(),
        "faces" => "faces".into(),
        other => other.replace('_', " "),
    };
    (said, unit)
}

fn show(v: Option<&Value>, unit: &str) -> String {
    match v {
        None | Some(Value::Null) => "none".into(),
        Some(Value::String(s)) if s.is_empty() => "none".into(),
        Some(Value::String(s)) => s.replace('_', " "),
        Some(Value::Bool(b)) => if *b { "yes" } else { "no" }.into(),
        Some(Value::Array(list)) if list.is_empty() => "none".into(),
        Some(Value::Array(list)) => list.iter().map(|x| show(Some(x), unit)).collect::<Vec<_>>().join(", "),
        Some(Value::Object(o)) => {
            o.iter().map(|(k, x)| format!("{} {}", word(k).0, show(Some(x), word(k).1))).collect::<Vec<_>>().join(" ")
        }
        Some(n @ Value::Number(_)) => format!("{}{unit}", n.as_f64().map_or(n.to_string(), |f| format!("{f}"))),
    }
}

/// What stands for nothing: fields that are left out when they say no.
fn nothing(v: Option<&Value>) -> bool {
    match v {
        None | Some(Value::Null | Value::Bool(false)) => true,
        Some(Value::String(s)) => s.is_empty(),
        Some(Value::Array(a)) => a.is_empty(),
        _ => false,
    }
}

fn changed(old: &Map<String, Value>, new: &Map<String, Value>) -> Vec<String> {
    let keys: BTreeSet<&String> = old.keys().chain(new.keys()).collect();
    keys.into_iter()
        .filter(|k| old.get(*k) != new.get(*k) && !(nothing(old.get(*k)) && nothing(new.get(*k))))
        .map(|k| {
            let (said, unit) = word(k);
            format!("{said} {} instead of {}", show(new.get(k), unit), show(old.get(k), unit))
        })
        .collect()
}

/// Things of a list by id, each with its name and as an object. Names may be the same twice, ids never.
fn things<T: Serialize>(
    list: &[T],
    id: impl Fn(&T) -> String,
    name: impl Fn(&T) -> String,
) -> BTreeMap<String, (String, Map<String, Value>)> {
    list.iter().filter_map(|t| Some((id(t), (name(t), serde_json::to_value(t).ok()?.as_object()?.clone())))).collect()
}

fn compare<T: Serialize>(
    kind: &str,
    [old, new]: [&[T]; 2],
    id: impl Fn(&T) -> String,
    name: impl Fn(&T) -> String,
    out: &mut Vec<String>,
) {
    let (old, new) = (things(old, &id, &name), things(new, &id, &name));
    for (id, (name, n)) in &new {
        match old.get(id) {
            None => out.push(format!("{kind} {name} is new.")),
            Some((_, o)) => {
                let list = changed(o, n);
                if !list.is_empty() {
                    out.push(format!("{kind} {name}: {}.", list.join("; ")));
                }
            }
        }
    }
    for (name, _) in old.iter().filter(|(id, _)| !new.contains_key(*id)).map(|(_, x)| x) {
        out.push(format!("{kind} {name} is gone."));
    }
}

/// What a newer version changes.
///
/// ```
/// # use ironseat_core::anatomy::{Anatomy, difference::difference};
/// let old: Anatomy = serde_json::from_str(r#"{"key":"p","name":"Pump","version":1,
///   "lands":[{"id":"j","name":"journal","length_mm":60,"d_mm":40}],
///   "parts":[{"id":"s","name":"Lip seal","kind":"seal","land":"j","width_mm":8,"outside_mm":62,"faces":"A"}]}"#).unwrap();
/// let mut new = old.clone();
/// new.parts[0].faces = Some(ironseat_core::terms::End::B);
/// assert_eq!(difference(&old, &new)?.sentences, ["Part Lip seal: faces B instead of A."]);
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// A version from which nothing can be derived.
pub fn difference(old: &Anatomy, new: &Anatomy) -> Result<Difference> {
    let mut d = Difference::default();
    let out = &mut d.sentences;
    if old.name != new.name {
        out.push(format!("It is called {} instead of {}.", new.name, old.name));
    }
    compare("Land", [&old.lands, &new.lands], |l| l.id.clone(), |l| l.name.clone(), out);
    let order = |a: &Anatomy, b: &Anatomy| {
        a.lands.iter().map(|l| l.id.clone()).filter(|id| b.land(id).is_some()).collect::<Vec<_>>()
    };
    if order(old, new) != order(new, old) {
        out.push("The lands lie in another order.".into());
    }
    let name = |id: &str| {
        if new.part(id).is_some() || new.housings.iter().any(|h| h.id == id) {
            new.name_of(id).to_owned()
        } else {
            old.name_of(id).to_owned()
        }
    };
    let both = |a: &str, b: &str| format!("{} and {}", name(a), name(b));
    compare("Part", [&old.parts, &new.parts], |p| p.id.clone(), |p| p.name.clone(), out);
    compare("Housing", [&old.housings, &new.housings], |h| h.id.clone(), |h| h.name.clone(), out);
    compare("Seat", [&old.seats, &new.seats], |s| s.id.clone(), |s| s.name.clone(), out);
    compare("Float", [&old.floats, &new.floats], |f| f.id.clone(), |f| f.name.clone(), out);
    compare("Runout", [&old.runouts, &new.runouts], |r| r.id.clone(), |r| r.name.clone(), out);
    compare("Gap", [&old.gaps, &new.gaps], |g| g.id.clone(), |g| g.name.clone(), out);
    compare("Hole", [&old.holes, &new.holes], |h| h.id.clone(), |h| format!("{} of {}", h.name, name(&h.housing)), out);
    compare("Bolts of", [&old.bolt_rings, &new.bolt_rings], |b| b.part.clone(), |b| name(&b.part), out);
    compare(
        "Rule",
        [&old.before, &new.before],
        |r| format!("{} {}", r.first, r.then),
        |r| format!("{} before {}", name(&r.first), name(&r.then)),
        out,
    );
    compare("Pair", [&old.pairs, &new.pairs], |p| format!("{} {}", p.a, p.b), |p| both(&p.a, &p.b), out);
    compare(
        "Thrust set",
        [&old.thrust_sets, &new.thrust_sets],
        |t| format!("{} {}", t.smaller, t.larger),
        |t| both(&t.smaller, &t.larger),
        out,
    );
    of_the_shaft(old, new, out);
    let (before, after) = (derive(old)?.acts, derive(new)?.acts);
    let without = |a: &[Act], b: &[Act]| -> Vec<(String, String)> {
        let ids: BTreeSet<&str> = b.iter().map(|s| s.id.as_str()).collect();
        a.iter().filter(|s| !ids.contains(s.id.as_str())).map(|s| (s.id.clone(), s.words.to_string())).collect()
    };
    d.new_steps = without(&after, &before);
    d.gone_steps = without(&before, &after);
    let facts = |a: &Anatomy, id: &str| a.facts(id).ok().map(|f| format!("{f:?}"));
    d.seats = new
        .seats
        .iter()
        .filter(|s| old.seat(&s.id).is_some() && facts(old, &s.id) != facts(new, &s.id))
        .map(|s| s.id.clone())
        .collect();
    Ok(d)
}

/// How the whole shaft turns, stands and runs.
fn of_the_shaft(old: &Anatomy, new: &Anatomy, out: &mut Vec<String>) {
    let turns = |a: &Anatomy| {
        a.rotation.map_or("not said".to_owned(), |r| {
            format!(
                "{} seen from end {}",
                if r.clockwise { "clockwise" } else { "anticlockwise" },
                r.seen_from.letter()
            )
        })
    };
    if turns(old) != turns(new) {
        out.push(format!("It turns {} instead of {}.", turns(new), turns(old)));
    }
    if old.stands != new.stands {
        let words = if new.stands == super::Stands::Vertical { "stands, end A up" } else { "lies level" };
        out.push(format!("The shaft {words}."));
    }
    if old.lubricant != new.lubricant {
        let said = |a: &Anatomy| {
            a.lubricant.map_or("not said", |l| if l == super::Lubricant::Grease { "grease" } else { "oil" })
        };
        out.push(format!("Its bearings run in {} instead of {}.", said(new), said(old)));
    }
    if (old.run_in_rpm - new.run_in_rpm).abs() > 1e-9 {
        out.push(format!("It is run in to {} rpm instead of {}.", new.run_in_rpm, old.run_in_rpm));
    }
}

/// Answers to questions that a newer version no longer asks: they stay on record.
#[must_use]
pub fn no_longer_asked(new: &Anatomy, answered: &[String]) -> Vec<String> {
    let asked: BTreeSet<String> = as_found::questions(new).into_iter().map(|q| q.id).collect();
    answered.iter().filter(|id| !asked.contains(*id)).cloned().collect()
}

#[cfg(test)]
mod tests {
    use super::super::tests::machine;
    use super::super::{End, FloatOf, PartKind, Rule, edit::Edit};
    use super::*;
    use crate::quantity::Millimetres;

    #[test]
    fn nothing_differs_from_itself_and_each_change_is_told() {
        let old = machine();
        assert!(difference(&old, &old).unwrap().is_empty());
        let mut turned = old.clone();
        turned.lands.swap(1, 2);
        assert_eq!(difference(&old, &turned).unwrap().sentences, ["The lands lie in another order."]);
        let mut new = Edit::AddPart { kind: PartKind::Shim, land: "jb".into(), into: None }.apply(&old).unwrap();
        new.parts.retain(|p| p.id != "seal");
        new.lands[1].d_mm = Millimetres(40.5);
        new.floats[0].hi_mm = Millimetres(0.35);
        new.floats.push(FloatOf { id: "g".into(), name: "Lift".into(), ..old.floats[0].clone() });
        new.before.push(Rule { first: "fl".into(), then: "b2".into(), reason: "it is in the way".into() });
        new.rotation = None;
        new.run_in_rpm = 2970.0;
        new.name = "Larger blower".into();
        let d = difference(&old, &new).unwrap();
        let all = d.sentences.join("\n");
        for said in [
            "It is called Larger blower instead of Test blower.",
            "Land A journal: diameter 40.5 mm instead of 40 mm.",
            "Part Shim is new.",
            "Part Inner seal is gone.",
            "Float End play: limit 0.35 mm instead of 0.4 mm.",
            "Float Lift is new.",
            "Rule Flinger before Bearing B2 is new.",
            "It turns not said instead of anticlockwise seen from end A.",
            "run in to 2970 rpm",
        ] {
            assert!(all.contains(said), "{said}\n---\n{all}");
        }
        assert!(d.new_steps.iter().any(|s| s.0 == "on.shim") && d.gone_steps.iter().any(|s| s.0 == "off.seal"));
        assert_eq!(no_longer_asked(&new, &["seal.depth".into(), "nut.mark".into()]), ["seal.depth"]);
    }

    #[test]
    fn every_field_of_a_part_that_is_set_is_told() {
        let old = machine();
        let mut new = old.clone();
        let p = &mut new.parts[5];
        (p.from, p.faces, p.split, p.plunger, p.slots) = (End::A, Some(End::B), true, true, Some(4));
        (p.torque_nm, p.designation, p.locks) = (Some(12.0), Some("x".into()), vec!["b2".into()]);
        let said = difference(&old, &new).unwrap().sentences;
        assert_eq!(said.len(), 1);
        for field in [
            "comes from A instead of B",
            "faces B",
            "split yes",
            "plunger yes",
            "slots 4 instead of none",
            "torque 12 N·m",
            "designation x",
            "locks b2 instead of none",
        ] {
            assert!(said[0].contains(field), "{field}: {}", said[0]);
        }
    }
}
