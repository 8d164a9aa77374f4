//! Each sentence about joints has a machine that breaks it: with the sentence switched off in what was derived, the
//! referee refuses an order that is then allowed.

use super::machines::Dice;
use super::{demo, judged, play};
use ironseat_core::anatomy::acts::{Act, Phase};
use ironseat_core::anatomy::{Anatomy, build_sheet, derive};
use std::collections::{BTreeMap, BTreeSet};

/// Machine (of the demo, or drawn below), words that every reason of the sentence has, what the referee says of an order
/// that is allowed without it. Where it has no notion, nothing: it is enough that the order was forbidden by that alone.
const SENTENCES: &[(&str, Phase, &str, &str)] = &[
    // Partner.
    ("pedestal-turbocharger", Phase::Mount, "that stands in its place first", "which it is bolted to, is not there"),
    ("stuffing-box", Phase::Mount, "before that moves", "moved before it was bolted"),
    // Hold.
    ("overhung-brine-pump", Phase::Apart, "is still bolted to", "cap-out is still bolted to bracket"),
    ("six-stage-booster-pump", Phase::Apart, "is still bolted to", "bracket is still bolted to it"),
    ("sheave-shaft", Phase::Apart, "the shaft is still held by", "the shaft is held by the upper half of block-b"),
    ("sheave-shaft", Phase::Mount, "the shaft lies in", "the shaft does not lie in block-a"),
    ("blower-rotor", Phase::Apart, "the shaft still lies on", "the shaft lies on it in pbA"),
    ("headstock-spindle", Phase::Mount, "would shear the oiler", ""),
    // Undo in order.
    ("blade-root", Phase::Apart, "its tab is straightened", "its tab is still bent"),
    ("taper-roller-spindle", Phase::Apart, "is loosened before it comes off", "cvR is still bolted to quill"),
    ("six-stage-booster-pump", Phase::Apart, "is unlocked before", "was turned with its tab bent"),
    ("blade-root", Phase::Mount, "may have to be opened again by this reading", ""),
    // Stored force.
    ("six-stage-booster-pump", Phase::Apart, "is backed off by", "it cannot jump"),
    ("six-stage-booster-pump", Phase::Apart, "when the oil lets it go", "it has to catch collar"),
    ("standing-rotor", Phase::Apart, "the rotor hangs from", "the rotor hangs from it"),
    ("standing-rotor", Phase::Mount, "the rotor hangs where it runs", "still hangs on its hoist"),
    ("standing-rotor", Phase::Mount, "the rotor hangs from", ""),
    // Hot.
    ("pedestal-turbocharger", Phase::Mount, "is held until it is cold", ""),
    ("pedestal-turbocharger", Phase::Mount, "nothing may be missing that holds it home", ""),
    ("overhung-brine-pump", Phase::Mount, "stands in its way off", "before brg-ie is proved home"),
    ("pedestal-turbocharger", Phase::Mount, "comes around it", "before bw is proved home"),
    ("six-stage-booster-pump", Phase::Mount, "is put against it", "before collar is proved home"),
    ("sheave-shaft", Phase::Mount, "is cold and home before", "which is hot"),
    // Driven.
    ("driven-seal", Phase::Mount, "has its pocket in", "its pocket is not around it"),
    ("driven-seal", Phase::Mount, "is driven home before its tilt", "it is not driven home"),
    ("six-stage-booster-pump", Phase::Mount, "runs on", "on which it runs, is not there"),
    ("six-stage-booster-pump", Phase::Apart, "on which it runs, is drawn", "is packed round it"),
    ("stuffing-box", Phase::Mount, "that is packed first", "which it presses, is not packed"),
    ("stuffing-box", Phase::Apart, "comes out after its follower", "presses it"),
    // Set screw.
    ("stuffing-box", Phase::Mount, "bites once", "does not stand where it stays"),
    ("blower-rotor", Phase::Apart, "holds", "holds it"),
    // Before it runs.
    ("headstock-spindle", Phase::Mount, "is oiled before", "is closed in dry"),
    ("headstock-spindle", Phase::Mount, "is drawn up under", ""),
    ("headstock-spindle", Phase::Mount, "rests on front expander, tight", "exF lies loose"),
    ("biogas-turbocharger", Phase::Mount, "may have to be moved by its marks", "the marks of nut are not looked at"),
    ("stuffing-box", Phase::Mount, "hides whether", "nobody turned collar before it was shut in"),
    ("hydraulic-motor-shaft", Phase::Mount, "filled and primed", "it runs dry"),
];

/// Machines that are drawn for one sentence.
const DRAWN: &[(&str, &str)] = &[
    ("standing-rotor", include_str!("drawn/standing-rotor.toml")),
    ("driven-seal", include_str!("drawn/driven-seal.toml")),
    ("stuffing-box", include_str!("drawn/stuffing-box.toml")),
];

/// Acts that come directly before one, once a sentence is switched off: what came before what it put first, still does.
fn ahead<'a>(acts: &[&'a Act], off: &dyn Fn(&str) -> bool, s: &Act, out: &mut Vec<&'a Act>) {
    for b in &s.before {
        let Some(first) = acts.iter().copied().find(|x| x.id == b.id) else { continue };
        if off(b.words.raw()) {
            ahead(acts, off, first, out);
        } else {
            out.push(first);
        }
    }
}

/// What leads to one act by the reasons that are left, then that act.
fn led<'a>(acts: &[&'a Act], off: &dyn Fn(&str) -> bool, to: &'a Act) -> Vec<&'a Act> {
    let mut need: BTreeSet<&str> = BTreeSet::new();
    let mut open = vec![to];
    while let Some(s) = open.pop() {
        let mut list = Vec::new();
        ahead(acts, off, s, &mut list);
        open.extend(list.into_iter().filter(|first| need.insert(&first.id)));
    }
    let mut out: Vec<&Act> = acts.iter().copied().filter(|x| need.contains(x.id.as_str())).collect();
    out.push(to);
    out
}

/// What leads to the later act, that act, and then what leads to the earlier one, and that.
fn swapped<'a>(acts: &[&'a Act], off: &dyn Fn(&str) -> bool, first: &str, then: &'a Act) -> Option<Vec<&'a Act>> {
    let mut out = led(acts, off, then);
    // It still comes before by another way.
    if out.iter().any(|s| s.id == first) {
        return None;
    }
    let first = acts.iter().copied().find(|s| s.id == first)?;
    let rest: Vec<&Act> = led(acts, off, first).into_iter().filter(|s| !out.iter().any(|x| x.id == s.id)).collect();
    out.extend(rest);
    Some(out)
}

/// Orders that are allowed once a sentence is switched off, with what the referee says of each.
fn without(a: &Anatomy, phase: Phase, words: &str) -> Vec<Option<String>> {
    let d = derive(a).unwrap();
    let acts: Vec<&Act> = d.acts.iter().filter(|s| s.phase == phase).collect();
    let off = |w: &str| w.to_lowercase().contains(words);
    acts.iter()
        .flat_map(|s| s.before.iter().filter(|b| off(b.words.raw())).map(move |b| (b, *s)))
        .filter_map(|(b, s)| Some(play(a, &swapped(&acts, &off, &b.id, s)?).err()))
        .collect()
}

fn drawn() -> Vec<(String, Anatomy)> {
    DRAWN.iter().map(|(name, text)| ((*name).to_owned(), build_sheet::parse(text).unwrap())).collect()
}

#[test]
fn the_drawn_machines_can_be_worked_in_every_order() {
    let mut dice = Dice(23);
    for (name, a) in drawn() {
        let d = derive(&a).unwrap();
        assert!(d.faults.is_empty(), "{name}: {:?}", d.faults);
        judged(&name, &a, 40, &mut dice);
    }
}

#[test]
fn every_sentence_about_joints_is_what_keeps_a_machine_whole() {
    let machines: BTreeMap<String, Anatomy> = demo::named().into_iter().chain(drawn()).collect();
    let mut silent = Vec::new();
    for (name, phase, words, refusal) in SENTENCES {
        let said = without(&machines[*name], *phase, words);
        let found = said.iter().any(|s| refusal.is_empty() || s.as_ref().is_some_and(|s| s.contains(refusal)));
        if !found {
            silent.push(format!("{name}, “{words}”: {said:?}"));
        }
    }
    assert!(silent.is_empty(), "{}", silent.join("\n"));
}

#[test]
fn what_is_hot_is_held_before_anything_else_is_taken_in_hand() {
    let (_, a) = demo::named().into_iter().find(|x| x.0 == "pedestal-turbocharger").unwrap();
    let d = derive(&a).unwrap();
    let acts: Vec<&Act> = d.acts.iter().filter(|s| s.phase == Phase::Mount).collect();
    let (wheel, casing) = (d.act("on.bw").unwrap(), d.act("on.gas").unwrap());
    // By its reasons alone the casing could come at any time: what forbids it is the hot wheel.
    let mut order = led(&acts, &|_| false, wheel);
    let done: Vec<&str> = order.iter().map(|s| s.id.as_str()).collect();
    assert!(d.held_by_run(casing, |id| done.contains(&id)).unwrap().to_string().contains("is hot and not held yet"));
    order.push(casing);
    assert_eq!(play(&a, &order).unwrap_err(), "on.gas: bw is hot and nothing holds it");
}
