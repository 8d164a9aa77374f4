//! Ticks of an older derivation under the names of this one.

use super::acts::Act;
use super::{Anatomy, Derived, Role};
use crate::terms::ActId;
use std::collections::{BTreeMap, BTreeSet};

/// A tick of today that follows from one of an older derivation.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Carried {
    /// Act that counts as done.
    pub act: String,
    /// Tick that it follows from.
    pub from: String,
    /// The number that was read belongs to it.
    pub number: bool,
    /// Nobody was asked for it: it lies before something that is done.
    pub implied: bool,
}

/// The derivation of this program: counts up when acts are added or named anew.
pub const TODAY: i32 = 3;

/// Acts that a derivation did not ask for on their own, by its number: done when what comes after them is done.
const NOT_ASKED: [(i32, &[&str]); 2] = [
    (
        1,
        &[
            "heat",
            "home",
            "nip",
            "seat",
            "straighten",
            "loosen",
            "unlock",
            "open",
            "close",
            "land",
            "kit",
            "grease",
            "drag",
            "lock",
            "key",
            "hole",
            "volts",
        ],
    ),
    (2, &["release", "hold", "drive", "down", "oil", "expand", "mark"]),
];

/// Whether the acts of an older derivation did not have this one.
fn new_since(a: &Anatomy, derivation: i32, id: &str) -> bool {
    let first = id.split_once('#').map_or(id, |x| x.0);
    let (verb, of) = first.split_once('.').unwrap_or((first, ""));
    // A round of before the joints took off what it needed and did not say what had to be let go for it.
    let let_go = || first != id && derivation < 3 && matches!(verb, "loosen" | "unlock" | "straighten" | "open");
    // Turning a collar, and the first filling, share their first word with what was asked before.
    let collar = || verb == "free" && a.part(of).is_some_and(|p| p.kind.role() == Role::Collar);
    NOT_ASKED.iter().any(|(n, verbs)| *n >= derivation && verbs.contains(&verb))
        || let_go()
        || first == "prove.prime"
        || collar()
}

/// Names that an older tick has now.
fn names(a: &Anatomy, d: &Derived, old: &str) -> Vec<String> {
    let parted = |id: &str| a.housings.iter().any(|h| h.id == id && h.split);
    let pieces = |id: &str| {
        d.bodies.pieces_of(id).into_iter().map(|i| d.bodies.list[i].id.clone()).collect::<Vec<_>>().into_iter()
    };
    let (verb, rest) = old.split_once('.').unwrap_or((old, ""));
    let new: Vec<ActId> = match verb {
        "on" if parted(rest) => vec![ActId::on(rest), ActId::close(rest)],
        "off" if parted(rest) => vec![ActId::open(rest), ActId::off(rest)],
        "on" => pieces(rest).map(ActId::On).collect(),
        "off" => pieces(rest).map(ActId::Off).collect(),
        "torque" => vec![ActId::nip(rest), ActId::torque(rest), ActId::set(rest)],
        "refloat" | "shim" => vec![ActId::float(rest)],
        // A nut that is set by its float reads it.
        "float" => {
            let set = a.parts.iter().map(|p| ActId::set(&p.id));
            let reads = |s: &ActId| d.act(&s.text()).is_some_and(|s| s.measure.is_some());
            std::iter::once(ActId::float(rest)).chain(set.filter(reads)).collect()
        }
        "preload" => vec![ActId::preload(rest), ActId::drag(rest)],
        "tab" => vec![ActId::tab(rest), ActId::lock(rest)],
        _ => return if d.act(old).is_some() { vec![old.to_owned()] } else { Vec::new() },
    };
    new.iter().map(ActId::text).filter(|n| d.act(n).is_some()).collect()
}

/// What counts as done now, given the ticks of an older derivation; those that keep their name are not in the list.
/// `list` has the acts of the rounds that were opened since.
///
/// ```
/// # use ironseat_core::anatomy::{Anatomy, derive, older};
/// # let pump: Anatomy = serde_json::from_str(r#"{"key":"p","name":"Pump","version":1,
/// #   "lands":[{"id":"j","name":"journal","length_mm":60,"d_mm":40},{"id":"s","name":"shoulder","length_mm":20,"d_mm":50}],
/// #   "parts":[{"id":"ring","name":"Sleeve","kind":"sleeve","land":"j","at_mm":20,"width_mm":20,"outside_mm":48,"fit":"shrink"}]}"#).unwrap();
/// let d = derive(&pump)?;
/// let now = older::carried(&pump, &d, &[], 1, &["on.ring".into()].into());
/// assert!(now.iter().any(|c| c.act == "heat.ring" && c.from == "on.ring" && c.implied));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
#[must_use]
pub fn carried(a: &Anatomy, d: &Derived, list: &[Act], derivation: i32, ticked: &BTreeSet<String>) -> Vec<Carried> {
    let mut out: BTreeMap<String, Carried> = BTreeMap::new();
    // Since the second derivation what was asked keeps its name.
    for from in ticked.iter().filter(|_| derivation < 2) {
        for act in names(a, d, from).into_iter().filter(|n| !ticked.contains(n)) {
            let number = d.act(&act).is_some_and(|s| s.measure.is_some());
            out.entry(act.clone()).or_insert(Carried { act, from: from.clone(), number, implied: false });
        }
    }
    let mut open: Vec<(String, String)> = ticked
        .iter()
        .map(|t| (t.clone(), t.clone()))
        .chain(out.values().map(|c| (c.act.clone(), c.from.clone())))
        .collect();
    let mut seen: BTreeSet<String> = open.iter().map(|x| x.0.clone()).collect();
    while let Some((id, from)) = open.pop() {
        let again = || list.iter().find(|s| s.id == id && id.contains('#'));
        let Some(act) = d.act(&id).or_else(again) else { continue };
        for b in &act.before {
            if new_since(a, derivation, &b.id) && seen.insert(b.id.clone()) {
                out.insert(
                    b.id.clone(),
                    Carried { act: b.id.clone(), from: from.clone(), number: false, implied: true },
                );
                open.push((b.id.clone(), from.clone()));
            }
        }
    }
    out.into_values().collect()
}
