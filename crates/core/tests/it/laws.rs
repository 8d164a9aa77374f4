//! Machines drawn to break one law each. What must come before what is said by hand here, from the picture, not taken
//! from the derivation.

use ironseat_core::anatomy::acts::{Act, Law, Phase, Verb};
use ironseat_core::anatomy::{Derived, FindingKind, build_sheet, derive};
use std::collections::BTreeSet;

/// A shaft from end A: thread 39 to a nut, journal 40, collar 60, journal 40, thread 38. Everything else is said by a
/// test.
const LANDS: &str = r#"
  { id = "tA", name = "A thread", length_mm = 24, d_mm = 38, kind = "thread", hand = "right", pitch_mm = 1.5 },
  { id = "jA", name = "A journal", length_mm = 60, d_mm = 40 },
  { id = "c", name = "collar", length_mm = 80, d_mm = 60 },
  { id = "jB", name = "B journal", length_mm = 60, d_mm = 40 },
  { id = "tB", name = "B thread", length_mm = 24, d_mm = 38, kind = "thread", hand = "right", pitch_mm = 1.5 },
"#;
/// A ball bearing against the collar on the A journal: 66 to 84 from end A.
const BEARING: &str = r#"{ id = "brg", name = "Bearing", kind = "bearing", land = "jA", at_mm = 42, width_mm = 18, outside_mm = 80, designation = "6208", from = "A", fit = "shrink" },"#;
/// Tab washer and nut that clamp it: the washer at 63 to 66, the nut at 51 to 63, on the thread by its A part.
const NUT: &str = r#"
  { id = "tube", name = "Distance sleeve", kind = "spacer", land = "jA", at_mm = 2, width_mm = 40, outside_mm = 52, from = "A" },
  { id = "tab", name = "Tab washer", kind = "tab_washer", land = "tA", at_mm = 23, width_mm = 3, outside_mm = 58, bore_mm = 40, from = "A", locks = ["nut"], tabs = 19 },
  { id = "nut", name = "Lock nut", kind = "nut", land = "tA", at_mm = 11, width_mm = 12, outside_mm = 58, from = "A", slots = 4, tabs = 19, torque_nm = 60 },
"#;

/// A build sheet from its lists; `more` stands after the parts.
fn sheet(parts: &[&str], more: &str) -> String {
    format!(
        "format = 2\nkey = \"m\"\nname = \"Machine\"\nversion = 1\nlands = [{LANDS}]\nparts = [\n{}\n]\n{more}\n",
        parts.join("\n")
    )
}

fn of(text: &str) -> Derived {
    derive(&build_sheet::parse(text).unwrap_or_else(|e| panic!("{}: {}\n{text}", e.field, e.message))).unwrap()
}

/// Without a fault.
fn sound(text: &str) -> Derived {
    let d = of(text);
    assert!(d.faults.is_empty(), "{:?}", d.faults.iter().map(|f| f.words.to_string()).collect::<Vec<_>>());
    d
}

fn act<'a>(d: &'a Derived, id: &str) -> &'a Act {
    d.act(id)
        .unwrap_or_else(|| panic!("there is no {id}: {:?}", d.acts.iter().map(|a| a.id.as_str()).collect::<Vec<_>>()))
}

/// Whether the first comes before the second in every order.
fn leads(d: &Derived, first: &str, then: &str) -> bool {
    let (mut seen, mut open) = (BTreeSet::new(), vec![act(d, then).id.as_str()]);
    while let Some(id) = open.pop() {
        for b in &act(d, id).before {
            if b.id == first {
                return true;
            }
            if seen.insert(b.id.as_str()) {
                open.push(&b.id);
            }
        }
    }
    false
}

#[track_caller]
fn in_order(d: &Derived, ids: &[&str]) {
    for pair in ids.windows(2) {
        act(d, pair[0]);
        assert!(leads(d, pair[0], pair[1]), "{} before {}", pair[0], pair[1]);
    }
}

#[track_caller]
fn either_way(d: &Derived, x: &str, y: &str) {
    act(d, x);
    assert!(!leads(d, x, y) && !leads(d, y, x), "{x} and {y} may be done in any order");
}

/// The reason that stands directly between two acts.
#[track_caller]
fn why(d: &Derived, first: &str, then: &str) -> (Law, String) {
    let b = act(d, then).before.iter().find(|b| b.id == first);
    let b = b.unwrap_or_else(|| panic!("{first} is not directly before {then}: {:?}", act(d, then).before));
    (b.law, b.words.to_string())
}

fn faults(d: &Derived, kind: FindingKind) -> Vec<String> {
    d.faults.iter().filter(|f| f.kind == kind).map(|f| f.words.to_string()).collect()
}

fn words(d: &Derived, id: &str) -> String {
    act(d, id).words.to_string()
}

// 1 Way

#[test]
fn a_cover_with_its_seal_is_an_obstacle_to_what_lies_behind_it() {
    let cover = r#"
  { id = "cap", name = "End cap", kind = "cover", land = "tA", at_mm = 2, width_mm = 8, outside_mm = 120, bore_mm = 44, from = "A" },
  { id = "seal", name = "Lip seal", kind = "seal", land = "tA", at_mm = 3, width_mm = 7, outside_mm = 54, from = "A", carried_by = "cap", keeps = "B" },"#;
    let house = r#"housings = [ { id = "h", name = "Housing", outside_mm = 130, material = "grey_iron", from = "B", bores = [ { from_mm = 30, to_mm = 90, d_mm = 80 } ] } ]
bolt_rings = [ { part = "cap", n = 6, torque_nm = 10 } ]"#;
    let d = sound(&sheet(&[BEARING, NUT, cover], house));
    in_order(&d, &["on.seal", "on.cap"]);
    in_order(&d, &["on.brg", "on.tube", "on.tab", "on.nut", "nip.nut", "torque.nut", "tab.tab", "on.cap"]);
    in_order(&d, &["off.cap", "straighten.tab", "loosen.nut", "off.nut", "off.tab", "off.brg"]);
    let (law, said) = why(&d, "tab.tab", "on.cap");
    assert!(law == Law::Reach || law == Law::Way, "{law:?} {said}");
    // The seal comes off with the cap that carries it.
    in_order(&d, &["off.cap", "off.seal"]);
    let cost = d
        .back_out(
            &build_sheet::parse(&sheet(&[BEARING, NUT, cover], house)).unwrap(),
            &["brg", "tube", "tab", "nut", "seal", "cap"],
            "brg",
        )
        .unwrap();
    assert_eq!(cost.off, ["cap", "nut", "tab", "tube"]);
}

#[test]
fn sizes_decide_the_order_and_stand_in_the_reason() {
    let ring = |at: u32, bore: &str| {
        format!(
            "{BEARING}\n  {{ id = \"wide\", name = \"Inner cover\", kind = \"cover\", land = \"c\", at_mm = {at}, width_mm = 10, outside_mm = 120, bore_mm = {bore}, from = \"A\" }},"
        )
    };
    // Bore 62: it does not pass the bearing of 80 that stands before it.
    let d = sound(&sheet(&[&ring(10, "62")], ""));
    in_order(&d, &["on.wide", "heat.brg", "on.brg"]);
    assert_eq!(why(&d, "on.wide", "heat.brg").1, "Inner cover (bore 62 mm) cannot get past bearing (80 mm)");
    in_order(&d, &["off.brg", "off.wide"]);
    // Bore 82: it passes, and nobody has to wait.
    either_way(&sound(&sheet(&[&ring(10, "82")], "")), "on.wide", "on.brg");
    // Bore 58: it does not even pass the collar that it is drawn on; from end B it would be the same.
    let d = of(&sheet(&[&ring(10, "58")], ""));
    let stuck = faults(&d, FindingKind::Stuck);
    assert!(stuck.len() == 1 && stuck[0].contains("58 mm") && stuck[0].contains("60 mm"), "{stuck:?}");
}

#[test]
fn a_ring_from_the_other_end_is_in_nobodys_way() {
    let b = r#"{ id = "slB", name = "Sleeve", kind = "sleeve", land = "jB", at_mm = 0, width_mm = 20, outside_mm = 55, from = "B" },"#;
    let d = sound(&sheet(&[BEARING, NUT, b], ""));
    either_way(&d, "on.slB", "on.brg");
    either_way(&d, "off.slB", "off.nut");
}

#[test]
fn a_circlip_waits_for_what_has_to_pass_it() {
    let clip = r#"
  { id = "wheel", name = "Wheel", kind = "impeller", land = "jB", at_mm = 0, width_mm = 30, outside_mm = 150, from = "B" },
  { id = "clip", name = "Circlip", kind = "circlip", land = "jB", at_mm = 30, width_mm = 2, outside_mm = 46, bore_mm = 38, from = "B", locks = ["wheel"] },"#;
    let d = sound(&sheet(&[clip], ""));
    in_order(&d, &["on.wheel", "on.clip"]);
    in_order(&d, &["off.clip", "off.wheel"]);
}

#[test]
fn what_is_too_wide_for_both_openings_lies_in_its_housing_before_the_shaft() {
    let inside = r#"{ id = "ring", name = "Oil ring", kind = "ring", land = "c", at_mm = 40, width_mm = 6, outside_mm = 110, bore_mm = 90, inside = "h", from = "A" },"#;
    let h = r#"housings = [ { id = "h", name = "Housing", outside_mm = 150, material = "grey_iron", from = "B", bores = [ { from_mm = 60, to_mm = 84, d_mm = 80 }, { from_mm = 84, to_mm = 150, d_mm = 130 }, { from_mm = 150, to_mm = 165, d_mm = 84 } ] } ]"#;
    let d = sound(&sheet(&[BEARING, inside], h));
    in_order(&d, &["on.ring", "on.h"]);
    in_order(&d, &["off.h", "off.ring"]);
    let (_, said) = why(&d, "on.ring", "on.h");
    assert!(said.contains("110 mm") && said.contains("84 mm"), "{said}");
}

#[test]
fn a_shaft_is_laid_into_an_open_housing_and_caps_close_it() {
    let caps = r#"
  { id = "br", name = "Plain bearing", kind = "bearing", land = "jA", at_mm = 10, width_mm = 40, outside_mm = 56, split = true, inside = "bed" },
  { id = "cap", name = "Bearing cap", kind = "cap", land = "jA", at_mm = 10, width_mm = 40, outside_mm = 90, bore_mm = 56, split = true, covers = ["br"] },"#;
    let bed = r#"housings = [ { id = "bed", name = "Bed", outside_mm = 130, material = "grey_iron", feet = true, bores = [ { from_mm = 34, to_mm = 74, d_mm = 56 } ] } ]
bolt_rings = [ { part = "cap", n = 2, torque_nm = 20 } ]"#;
    let d = of(&sheet(&[caps], bed));
    assert!(faults(&d, FindingKind::Stuck).is_empty() && faults(&d, FindingKind::Loop).is_empty(), "{:?}", d.faults);
    assert!(words(&d, "on.bed").starts_with("Lay the shaft into"), "{}", words(&d, "on.bed"));
    in_order(&d, &["on.bed", "on.cap", "bolts.cap"]);
    in_order(&d, &["off.cap", "off.bed"]);
}

#[test]
fn a_parted_housing_is_two_acts_and_its_bearing_lies_between_them() {
    let h = r#"housings = [ { id = "pb", name = "Pillow block", outside_mm = 140, material = "grey_iron", feet = true, split = true, bores = [ { from_mm = 5, to_mm = 60, d_mm = 70 }, { from_mm = 60, to_mm = 90, d_mm = 80 } ] } ]
bolt_rings = [ { part = "pb", n = 2, torque_nm = 50 } ]"#;
    let d = sound(&sheet(&[BEARING, NUT], h));
    // The nut behind the upper half is tight and locked before that is closed.
    in_order(&d, &["torque.nut", "tab.tab", "close.pb", "bolts.pb"]);
    in_order(&d, &["on.brg", "close.pb"]);
    in_order(&d, &["open.pb", "straighten.tab", "loosen.nut", "off.nut"]);
    // A ring that grows outside when hot goes in cold.
    in_order(&d, &["home.brg", "close.pb"]);
}

#[test]
fn an_o_ring_gives_way_by_half_its_section_and_no_more() {
    let ring = |d: f64| {
        format!(
            "  {{ id = \"o\", name = \"O-ring\", kind = \"o_ring\", land = \"jA\", at_mm = 30, width_mm = 3, outside_mm = {d}, bore_mm = {}, from = \"A\" }},",
            d - 6.0
        )
    };
    // Over the thread of 38 it stretches; a nut of 58 in its way does not let it pass.
    let d = sound(&sheet(
        &[
            BEARING,
            NUT.replace("tube", "gone").lines().filter(|l| !l.contains("gone")).collect::<Vec<_>>().join("\n").as_str(),
            &ring(46.0),
        ],
        "",
    ));
    in_order(&d, &["on.o", "on.nut"]);
}

// 2 Reach

#[test]
fn a_nut_wants_room_for_its_spanner_and_a_face_spanner_none() {
    let wheel = |turned: &str| {
        let nut = NUT.replace("torque_nm = 60", &format!("torque_nm = 60{turned}"));
        let cover = r#"{ id = "tube2", name = "Guard", kind = "cover", land = "jA", at_mm = -20, width_mm = 30, outside_mm = 120, bore_mm = 60, from = "A" },"#;
        sound(&sheet(&[BEARING, &nut, cover], ""))
    };
    in_order(&wheel(""), &["torque.nut", "on.tube2"]);
    in_order(&wheel(""), &["off.tube2", "loosen.nut"]);
    either_way(&wheel(", turned_by = \"face\""), "torque.nut", "on.tube2");
}

#[test]
fn a_hidden_tab_is_asked_about_once_it_is_seen() {
    let cover = r#"{ id = "cap", name = "End cap", kind = "cover", land = "tA", at_mm = 0, width_mm = 10, outside_mm = 120, bore_mm = 39, from = "A" },"#;
    let h = r#"housings = [ { id = "h", name = "Housing", outside_mm = 130, material = "grey_iron", from = "B", bores = [ { from_mm = 10, to_mm = 90, d_mm = 80 } ] } ]
bolt_rings = [ { part = "cap", n = 6, torque_nm = 10 } ]"#;
    let d = sound(&sheet(&[BEARING, NUT, cover], h));
    in_order(&d, &["off.cap", "ask.nut.mark", "straighten.tab"]);
    in_order(&d, &["off.cap", "ask.nut.standout", "loosen.nut"]);
}

// 3 Clamp

#[test]
fn a_nut_is_tightened_with_its_whole_stack_in_place() {
    let d = sound(&sheet(&[BEARING, NUT], ""));
    in_order(&d, &["on.brg", "nip.nut", "torque.nut"]);
    in_order(&d, &["on.tube", "nip.nut"]);
    // Held home while it cools, tightened when it is cold and proved home.
    in_order(&d, &["on.brg", "home.brg", "torque.nut", "tab.tab"]);
    assert!(!leads(&d, "home.brg", "nip.nut"), "it is nipped while it is hot");
    let m = act(&d, "torque.nut").measure.as_ref().unwrap();
    assert!((m.lo, m.hi) == (Some(60.0), Some(78.0)), "{:?}: a tab wants the next slot", (m.lo, m.hi));
}

#[test]
fn readings_rest_on_what_is_tight() {
    let more = r#"floats = [ { id = "end", name = "End float", lo_mm = 0.1, hi_mm = 0.2, after = ["brg"], source = "sheet" } ]
runouts = [ { id = "col", name = "collar", part = "brg", reads = "c", limit_um = 10, source = "sheet" } ]
housings = [ { id = "h", name = "Housing", outside_mm = 130, material = "grey_iron", from = "A", bores = [ { from_mm = 60, to_mm = 90, d_mm = 80 } ] } ]"#;
    let d = of(&sheet(&[BEARING, NUT], more));
    in_order(&d, &["torque.nut", "float.end"]);
    in_order(&d, &["torque.nut", "sweep.col"]);
    in_order(&d, &["on.h", "float.end"]);
}

#[test]
fn a_gap_is_read_with_both_its_sides_there_and_fixed() {
    let wheel = r#"
  { id = "wh", name = "Compressor wheel", kind = "impeller", land = "jA", at_mm = 12, width_mm = 20, outside_mm = 90, from = "A" },
  { id = "sp", name = "Inner spacer", kind = "spacer", land = "jA", at_mm = 32, width_mm = 10, outside_mm = 52, from = "A" },"#;
    let nut = NUT.replace("at_mm = 2, width_mm = 40", "at_mm = 2, width_mm = 10");
    let more = r#"housings = [ { id = "vol", name = "Volute", outside_mm = 160, material = "grey_iron", from = "A", bores = [ { from_mm = 34, to_mm = 60, d_mm = 91 } ] } ]
bolt_rings = [ { part = "vol", n = 6, torque_nm = 20 } ]
gaps = [ { id = "tip", name = "Tip gap", min_mm = 0.3, after = ["wh", "vol"], source = "sheet" } ]"#;
    let d = of(&sheet(&[BEARING, wheel, &nut], more));
    in_order(&d, &["on.wh", "gap.tip"]);
    in_order(&d, &["on.vol", "bolts.vol", "gap.tip"]);
    in_order(&d, &["torque.nut", "gap.tip"]);
}

#[test]
fn a_total_travel_is_read_without_the_shoes() {
    let shoe = r#"{ id = "sh", name = "Thrust ring", kind = "ring", land = "jB", at_mm = 0, width_mm = 12, outside_mm = 90, from = "B" },"#;
    let more = r#"floats = [ { id = "total", name = "Total travel", lo_mm = 5, hi_mm = 7, after = ["brg"], without = ["sh"], source = "sheet" } ]"#;
    let d = of(&sheet(&[BEARING, NUT, shoe], more));
    in_order(&d, &["float.total", "on.sh"]);
}

// 4 Lock

#[test]
fn a_lock_follows_the_tightening_and_goes_first_apart() {
    for (lock, id) in [("pin", "lock.nut"), ("wire", "lock.nut"), ("compound", "lock.nut"), ("stake", "lock.nut")] {
        let nut = format!(
            "{{ id = \"sp\", name = \"Spacer\", kind = \"spacer\", land = \"jA\", at_mm = 0, width_mm = 42, outside_mm = 52, from = \"A\" }},\n  {{ id = \"nut\", name = \"Nut\", kind = \"nut\", land = \"tA\", at_mm = 12, width_mm = 12, outside_mm = 58, from = \"A\", torque_nm = 60, locked_by = \"{lock}\" }},"
        );
        let d = sound(&sheet(&[BEARING, &nut], ""));
        in_order(&d, &["on.nut", "nip.nut", "torque.nut"]);
        if lock != "compound" {
            in_order(&d, &["torque.nut", id]);
        }
        in_order(&d, &["loosen.nut", "off.nut"]);
        in_order(&d, &["unlock.nut", "loosen.nut"]);
    }
}

#[test]
fn a_tab_that_was_bent_is_not_bent_again() {
    let used = NUT.replace("tabs = 19 },\n  { id = \"nut\"", "tabs = 19, tab_bent = 1 },\n  { id = \"nut\"");
    let d = sound(&sheet(&[BEARING, &used], ""));
    let said: Vec<String> = ["on.tab", "tab.tab", "off.tab"]
        .iter()
        .filter_map(|id| d.act(id))
        .map(|a| a.words.to_string().to_lowercase())
        .collect();
    assert!(said.iter().any(|w| w.contains("never bent")), "{said:?}");
    in_order(&d, &["straighten.tab", "loosen.nut", "off.nut", "off.tab"]);
}

#[test]
fn a_left_hand_thread_says_which_way_it_turns() {
    let nut = NUT.replace("torque_nm = 60", "torque_nm = 60, hand = \"left\"");
    let d = of(&sheet(&[BEARING, &nut], ""));
    let said = words(&d, "torque.nut") + &words(&d, "loosen.nut");
    assert!(said.to_lowercase().contains("left") && said.contains("clockwise"), "{said}");
}

// 6 Evidence

#[test]
fn an_angle_that_was_found_is_given_back() {
    let wheel = r#"{ id = "wh", name = "Wheel", kind = "impeller", land = "jB", at_mm = 0, width_mm = 30, outside_mm = 150, from = "B", clocked = true, faces = "B" },"#;
    let d = sound(&sheet(&[wheel], ""));
    in_order(&d, &["ask.wh.clock", "off.wh"]);
    let given = &act(&d, "on.wh").given;
    assert!(given.iter().any(|q| q.contains("clock")), "{given:?}");
    in_order(&d, &["ask.wh.faces", "off.wh"]);
}

#[test]
fn what_is_measured_of_a_key_is_measured_before_it_is_bedded() {
    let hub = r#"
  { id = "k", name = "Key", kind = "key", land = "jB", at_mm = 4, width_mm = 22, outside_mm = 44, split = true },
  { id = "hub", name = "Hub", kind = "wheel", land = "jB", at_mm = 0, width_mm = 30, outside_mm = 90, from = "B", key = "k" },"#;
    let d = sound(&sheet(&[hub], ""));
    in_order(&d, &["key.k", "on.k", "on.hub"]);
    in_order(&d, &["off.hub", "off.k"]);
}

// 7 Contact

#[test]
fn what_floats_is_never_pressed_and_blades_of_the_shaft_stay() {
    let bush = r#"{ id = "fb", name = "Floating bush", kind = "bush", land = "jA", at_mm = 20, width_mm = 20, outside_mm = 56, from = "A" },"#;
    let d = sound(&sheet(&[bush], ""));
    assert!(
        !words(&d, "on.fb").to_lowercase().contains("press") && !act(&d, "on.fb").tool.contains("press"),
        "{}",
        words(&d, "on.fb")
    );
    assert!(d.act("home.fb").is_none() && d.act("heat.fb").is_none());
    let solid = r#"{ id = "tw", name = "Turbine wheel", kind = "impeller", land = "jB", at_mm = 0, width_mm = 30, outside_mm = 100, from = "B", solid = true },"#;
    let d = sound(&sheet(&[BEARING, solid], ""));
    assert!(
        d.acts.iter().all(|a| a.body != "tw" || !matches!(a.verb, Verb::TakeOff | Verb::Place)),
        "it is part of the shaft"
    );
    // It is in the way all the same.
    let ring = r#"{ id = "r", name = "Ring", kind = "sleeve", land = "c", at_mm = 20, width_mm = 10, outside_mm = 80, bore_mm = 60, from = "B" },"#;
    assert_eq!(faults(&of(&sheet(&[solid, ring], "")), FindingKind::Stuck).len(), 1);
}

#[test]
fn a_ring_loose_on_the_shaft_and_tight_in_its_housing_is_not_heated() {
    let brg = BEARING.replace("fit = \"shrink\"", "fit = \"slide\", carried_by = \"h\"");
    let h = r#"housings = [ { id = "h", name = "Housing", outside_mm = 130, material = "grey_iron", from = "A", bores = [ { from_mm = 60, to_mm = 90, d_mm = 80 } ] } ]"#;
    let d = sound(&sheet(&[&brg], h));
    assert!(d.act("heat.brg").is_none());
    in_order(&d, &["on.brg", "on.h"]);
    in_order(&d, &["off.h", "off.brg"]);
}

#[test]
fn a_loose_ring_of_rollers_belongs_to_its_housing() {
    let roller = r#"{ id = "nu", name = "Roller bearing", kind = "bearing", land = "jA", at_mm = 42, width_mm = 18, outside_mm = 80, designation = "NU208", from = "A", fit = "shrink" },"#;
    let h = r#"housings = [ { id = "h", name = "Housing", outside_mm = 130, material = "grey_iron", from = "A", bores = [ { from_mm = 60, to_mm = 90, d_mm = 80 } ] } ]"#;
    let d = sound(&sheet(&[roller], h));
    in_order(&d, &["on.nu.outer", "on.h"]);
    in_order(&d, &["heat.nu.inner", "on.nu.inner"]);
    assert!(d.act("heat.nu.outer").is_none() && d.act("on.nu").is_none());
    assert_eq!(act(&d, "on.nu.inner").phase, Phase::Mount);
}

// 8 Safe

#[test]
fn a_hoist_is_for_mass_and_not_for_a_word() {
    let house = |outside: u32, to: u32| {
        format!(
            "housings = [ {{ id = \"h\", name = \"Housing\", outside_mm = {outside}, material = \"grey_iron\", from = \"A\", bores = [ {{ from_mm = 60, to_mm = {to}, d_mm = 80 }} ] }} ]"
        )
    };
    // Steel of 7.85 g/cm³: π/4·(10² - 8²)·3 cm³ is 0.67 kg; π/4·(40² - 8²)·12 cm³ is 114 kg.
    let small = sound(&sheet(&[BEARING], &house(100, 90)));
    assert!(act(&small, "on.h").people == 1 && !act(&small, "on.h").tool.contains("hoist"));
    let large = sound(&sheet(&[BEARING], &house(400, 180)));
    assert!(act(&large, "on.h").people == 2 && act(&large, "on.h").tool.contains("hoist"), "{:?}", act(&large, "on.h"));
    for d in [small, large] {
        assert!(d.acts.iter().filter(|a| a.phase == Phase::Apart && a.id != "receive.safe").all(|a| leads(
            &d,
            "receive.safe",
            &a.id
        )));
    }
}

// Facing

#[test]
fn two_rows_are_told_by_where_their_backs_look() {
    let pair = |left: &str, right: &str, meant: &str| {
        let parts = format!(
            "  {{ id = \"l\", name = \"Left row\", kind = \"bearing\", land = \"jA\", at_mm = 24, width_mm = 18, outside_mm = 80, designation = \"7208\", from = \"A\", fit = \"shrink\", faces = \"{left}\" }},\n  {{ id = \"r\", name = \"Right row\", kind = \"bearing\", land = \"jA\", at_mm = 42, width_mm = 18, outside_mm = 80, designation = \"7208\", from = \"A\", fit = \"shrink\", faces = \"{right}\" }},"
        );
        faults(
            &of(&sheet(&[&parts], &format!("pairs = [ {{ a = \"l\", b = \"r\", arrangement = \"{meant}\" }} ]"))),
            FindingKind::Arrangement,
        )
    };
    // `faces` is the end to which the thick side, the back, looks: back to back is left to B and right to A.
    for (left, right, is) in [("B", "A", "DB"), ("A", "B", "DF"), ("A", "A", "DT"), ("B", "B", "DT")] {
        for meant in ["DB", "DF", "DT"] {
            let told = pair(left, right, meant);
            assert_eq!(told.is_empty(), is == meant, "{left} {right} meant {meant}: {told:?}");
        }
    }
}

#[test]
fn a_cone_enters_its_cup_at_the_thin_side() {
    let set = |cone: &str, cup: &str| {
        let parts = format!(
            "  {{ id = \"cone\", name = \"Cone\", kind = \"taper_cone\", land = \"jA\", at_mm = 42, width_mm = 18, outside_mm = 68, from = \"A\", fit = \"shrink\", faces = \"{cone}\" }},\n  {{ id = \"cup\", name = \"Cup\", kind = \"cup\", land = \"jA\", at_mm = 42, width_mm = 18, outside_mm = 80, bore_mm = 62, carried_by = \"h\", fit = \"press\", faces = \"{cup}\", from = \"A\" }},"
        );
        of(&sheet(
            &[&parts],
            r#"housings = [ { id = "h", name = "Housing", outside_mm = 130, material = "grey_iron", from = "A", bores = [ { from_mm = 60, to_mm = 90, d_mm = 80 } ] } ]"#,
        ))
    };
    let right = set("B", "A");
    assert!(faults(&right, FindingKind::TaperFacing).is_empty(), "{:?}", right.faults);
    let wrong = faults(&set("A", "A"), FindingKind::TaperFacing);
    assert!(wrong.len() == 1, "{wrong:?}");
    assert_eq!(faults(&set("B", "B"), FindingKind::TaperFacing).len(), 1);
}

#[test]
fn a_nut_that_its_drag_undoes_is_a_fault_only_where_nothing_locks_it() {
    // Clockwise seen from A, at end A: the drag turns a nut anticlockwise against its shaft, so a left-hand thread
    // holds.
    let with = |nut: &str, hand: &str| {
        let nut = nut.replace("torque_nm = 60", &format!("torque_nm = 60, hand = \"{hand}\""));
        of(&sheet(&[BEARING, &nut], "rotation = { seen_from = \"A\", clockwise = true }"))
    };
    let bare = r#"
  { id = "tube", name = "Distance sleeve", kind = "spacer", land = "jA", at_mm = 0, width_mm = 42, outside_mm = 52, from = "A" },
  { id = "nut", name = "Lock nut", kind = "nut", land = "tA", at_mm = 12, width_mm = 12, outside_mm = 58, from = "A", torque_nm = 60 },"#;
    let hands: Vec<usize> = ["left", "right"].iter().map(|h| faults(&with(bare, h), FindingKind::Hand).len()).collect();
    assert_eq!(hands.iter().sum::<usize>(), 1, "one of the two hands loosens: {hands:?}");
    for hand in ["left", "right"] {
        assert!(faults(&with(NUT, hand), FindingKind::Hand).is_empty(), "its tab holds it");
    }
}

// More of the same kinds of fault, each seen once.

#[test]
fn a_seal_is_driven_into_a_cover_that_stands_where_the_sheet_says_so() {
    let cover = |fitted: &str| {
        format!(
            "  {{ id = \"cap\", name = \"End cap\", kind = \"cover\", land = \"tA\", at_mm = 2, width_mm = 8, outside_mm = 120, bore_mm = 54, from = \"A\" }},\n  {{ id = \"seal\", name = \"Lip seal\", kind = \"seal\", land = \"tA\", at_mm = 3, width_mm = 7, outside_mm = 54, from = \"A\", carried_by = \"cap\", keeps = \"B\", fit = \"press\"{fitted} }},"
        )
    };
    let at_bench = sound(&sheet(&[BEARING, NUT, &cover("")], ""));
    in_order(&at_bench, &["on.seal", "on.cap"]);
    let in_place = sound(&sheet(&[BEARING, NUT, &cover(", fitted = \"in_place\"")], ""));
    in_order(&in_place, &["on.cap", "on.seal"]);
    in_order(&in_place, &["tab.tab", "on.seal"]);
}

#[test]
fn a_shaft_with_its_bearing_is_fed_into_a_whole_housing() {
    let h = r#"housings = [ { id = "h", name = "Housing", outside_mm = 130, material = "grey_iron", from = "A", bores = [ { from_mm = 40, to_mm = 66, d_mm = 70 }, { from_mm = 66, to_mm = 90, d_mm = 80 } ] } ]"#;
    let d = sound(&sheet(&[BEARING], h));
    // Its shoulder of 70 stops the ring of 80: the housing comes over the bearing, from end A.
    in_order(&d, &["on.brg", "home.brg", "on.h"]);
    in_order(&d, &["off.h", "off.brg"]);
    // The other way round the shoulder lies behind the ring, and nothing passes.
    let h = h.replace("from = \"A\"", "from = \"B\"");
    let d = of(&sheet(&[BEARING], &h));
    assert!(faults(&d, FindingKind::Loop)[0].contains("80 mm outside") && !d.buildable(), "{:?}", d.faults);
}

#[test]
fn a_fine_take_up_nut_is_set_by_its_float_and_locked_there() {
    let nut = NUT.replace("torque_nm = 60", "adjusted = true");
    let more = r#"floats = [ { id = "end", name = "End float", lo_mm = 0.01, hi_mm = 0.03, after = ["brg"], source = "sheet" } ]"#;
    let d = of(&sheet(&[BEARING, &nut], more));
    assert!(d.act("torque.nut").is_none() && d.act("nip.nut").is_none(), "turning and reading are one act");
    in_order(&d, &["on.nut", "set.nut", "tab.tab"]);
    in_order(&d, &["set.nut", "float.end"]);
    // 4 slots and 19 tabs lock every 4.7°, 0.02 mm of a pitch of 1.5 mm: as much as the whole window.
    let said = words(&d, "set.nut");
    assert!(!said.contains("next slot"), "{said}");
}

#[test]
fn a_dial_and_a_key_are_used_before_what_hides_them() {
    let guard = r#"{ id = "gd", name = "Guard", kind = "cover", land = "c", at_mm = -4, width_mm = 70, outside_mm = 160, bore_mm = 120, from = "A" },"#;
    let more =
        r#"runouts = [ { id = "col", name = "collar", part = "brg", reads = "c", limit_um = 10, source = "sheet" } ]"#;
    let d = of(&sheet(&[BEARING, NUT, guard], more));
    in_order(&d, &["torque.nut", "sweep.col"]);
    assert!(!leads(&d, "on.gd", "sweep.col"), "a guard around the collar does not come before it is read");
}

#[test]
fn grease_goes_in_before_the_cover_closes() {
    let cover = r#"{ id = "cap", name = "End cap", kind = "cover", land = "jA", at_mm = 26, width_mm = 12, outside_mm = 120, bore_mm = 54, from = "A" },"#;
    let h = r#"lubricant = "grease"
housings = [ { id = "h", name = "Housing", outside_mm = 130, material = "grey_iron", from = "A", bores = [ { from_mm = 62, to_mm = 90, d_mm = 80 } ] } ]
bolt_rings = [ { part = "cap", n = 6, torque_nm = 10 } ]"#;
    let text = sheet(&[BEARING, cover], "");
    let text = text.replace("lands = [", &format!("{}\nlands = [", h.lines().next().unwrap()))
        + &h.lines().skip(1).collect::<Vec<_>>().join("\n");
    let d = sound(&text);
    in_order(&d, &["on.brg", "grease.brg", "on.cap"]);
    let said = words(&d, "grease.brg");
    assert!(said.contains("cm³") && said.contains(" % of its free space"), "by amount: {said}");
}

#[test]
fn a_set_screw_locks_after_what_it_locks_is_set() {
    let fl = r#"
  { id = "fl", name = "Flinger", kind = "flinger", land = "jB", at_mm = 10, width_mm = 14, outside_mm = 96, from = "B", faces = "A", back_off_mm = 0.5 },
  { id = "ss", name = "Flinger screws", kind = "set_screw", land = "jB", at_mm = 14, width_mm = 5, outside_mm = 78, from = "B", split = true, locks = ["fl"] },"#;
    let d = sound(&sheet(&[fl], ""));
    in_order(&d, &["on.fl", "back.fl"]);
    let lock = d.acts.iter().find(|a| a.id == "lock.ss" || a.id == "on.ss" && a.phase == Phase::Mount).unwrap();
    assert!(leads(&d, "on.fl", &lock.id));
    in_order(&d, &["off.ss", "off.fl"]);
}

#[test]
fn an_order_is_played_from_its_beginning_and_the_first_that_cannot_be_is_named() {
    let d = sound(&sheet(&[BEARING, NUT], ""));
    for phase in [Phase::Apart, Phase::Mount] {
        let offered: Vec<&str> = d.acts.iter().filter(|a| a.phase == phase).map(|a| a.id.as_str()).collect();
        assert_eq!(d.check(&offered), Ok(()));
        // Every act is refused before what stands directly before it.
        for a in d.acts.iter().filter(|a| a.phase == phase) {
            for b in a.before.iter().filter(|b| d.act(&b.id).is_some_and(|x| x.phase == phase)) {
                let mut wrong: Vec<&str> = offered.iter().copied().filter(|id| *id != a.id).collect();
                let at = wrong.iter().position(|id| *id == b.id).unwrap();
                wrong.insert(at, &a.id);
                let (act, why) = d.check(&wrong).unwrap_err();
                assert!(!why.to_string().is_empty() && offered.contains(&act.as_str()), "{act}: {why}");
            }
        }
    }
    assert_eq!(d.check(&["on.nobody"]).unwrap_err().0, "on.nobody");
    assert!(d.check(&["receive.safe", "receive.safe"]).is_err(), "nothing is done twice");
}

#[test]
fn what_is_tried_out_of_order_says_what_hits_what() {
    let text = sheet(&[BEARING, NUT], "");
    let a = build_sheet::parse(&text).unwrap();
    let d = sound(&text);
    let at = |id: &str| d.acts.iter().position(|s| s.id == id).unwrap();
    let against = d.tried(&a, at("on.nut"), at("on.brg"));
    assert!(against.iter().any(|x| x.law == Law::Way && x.words.to_string().contains("mm")), "{against:?}");
    for (k, s) in d.acts.iter().enumerate() {
        assert!(d.tried(&a, k, k).is_empty(), "{}", s.id);
        // It may go to where its last reason stands, and not before it.
        let Some(last) = s.before.iter().filter_map(|b| d.acts.iter().position(|x| x.id == b.id)).max() else {
            continue;
        };
        assert!(d.tried(&a, k, last + 1).is_empty() || last + 1 == k, "{}", s.id);
        assert!(!d.tried(&a, k, last).is_empty(), "{}", s.id);
    }
}

#[test]
fn a_sheet_that_cannot_be_built_still_answers() {
    let rule = r#"before = [ { first = "nut", then = "brg", reason = "a rule that cannot be kept" } ]"#;
    let d = of(&sheet(&[BEARING, NUT], rule));
    let told = faults(&d, FindingKind::Loop);
    assert!(told.len() == 1 && told[0].contains("wait for each other"), "{told:?}");
    assert!(!d.buildable() && d.acts.len() > 20, "whatever acts can be given are given");
    let twice = BEARING.replace("id = \"brg\"", "id = \"brg2\"").replace("\"Bearing\"", "\"Second bearing\"");
    let d = of(&sheet(&[BEARING, &twice], ""));
    assert_eq!(faults(&d, FindingKind::Overlap).len(), 1, "{:?}", d.faults);
}

#[test]
fn every_act_says_how_and_every_reason_why() {
    let cover = r#"
  { id = "cap", name = "End cap", kind = "cover", land = "tA", at_mm = 2, width_mm = 8, outside_mm = 120, bore_mm = 44, from = "A" },"#;
    let d = sound(&sheet(&[BEARING, NUT, cover], ""));
    for a in &d.acts {
        let said = a.words.to_string();
        assert!(said.ends_with(['.', '?']) && said.chars().next().is_some_and(char::is_uppercase), "{}: {said}", a.id);
        assert!(!said.contains("  ") && !said.contains(" ,") && !said.contains('{'), "{}: {said}", a.id);
        assert!(a.people >= 1 && a.minutes > 0.0 && !a.tool.is_empty() || a.verb == Verb::Ask, "{}", a.id);
        for b in &a.before {
            assert!(d.act(&b.id).is_some() && b.words.to_string().chars().count() > 8, "{}: {:?}", a.id, b);
        }
    }
    let ids: BTreeSet<&str> = d.acts.iter().map(|a| a.id.as_str()).collect();
    assert_eq!(ids.len(), d.acts.len(), "no id twice");
    // The offered order respects every reason.
    let at = |id: &str| d.acts.iter().position(|a| a.id == id).unwrap();
    assert!(d.acts.iter().all(|a| a.before.iter().all(|b| at(&b.id) < at(&a.id))));
}

#[test]
fn a_loop_at_the_end_of_a_long_stack_is_told_and_the_rest_is_given() {
    use std::fmt::Write as _;
    let rings = 120;
    let mut text = format!(
        "format = 2\nkey = \"m\"\nname = \"Long\"\nversion = 1\nlands = [ {{ id = \"s\", name = \"stop\", length_mm = 20, d_mm = 60 }}, {{ id = \"j\", name = \"journal\", length_mm = {}, d_mm = 40 }}, {{ id = \"t\", name = \"thread\", length_mm = 30, d_mm = 38, kind = \"thread\" }} ]\nparts = [\n",
        5 * rings
    );
    for k in 0..rings {
        // The last one is drawn a fifth of a millimetre into the nut.
        let at = f64::from(5 * k) + if k == rings - 1 { 0.2 } else { 0.0 };
        let _ = writeln!(
            text,
            "  {{ id = \"p{k}\", name = \"Ring {k}\", kind = \"spacer\", land = \"j\", at_mm = {at}, width_mm = 5, outside_mm = 60, from = \"B\" }},"
        );
    }
    text.push_str(
        "  { id = \"nut\", name = \"Nut\", kind = \"nut\", land = \"t\", at_mm = 0, width_mm = 12, outside_mm = 58, from = \"B\" },\n]\n",
    );
    let d = of(&text);
    let told = faults(&d, FindingKind::Loop);
    assert!(told.len() == 1 && told[0].contains("ring 119") && told[0].contains("nut"), "{told:?}");
    for k in 0..rings {
        act(&d, &format!("on.p{k}"));
        act(&d, &format!("off.p{k}"));
    }
    assert!(leads(&d, "on.p0", "on.p118") && leads(&d, "off.p118", "off.p0"));
}
