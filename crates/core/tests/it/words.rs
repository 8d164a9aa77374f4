//! Every sentence of every call, answer and caution, written out to be read through: `docs/calls.md`.

use crate::demo;
use expect_test::expect_file;
use ironseat_core::anatomy::derive;
use ironseat_core::call::{Situation, words};
use ironseat_core::caution::Caution;
use ironseat_core::quantity::{Celsius, Micrometres, Millimetres, Newtons, Seconds, Units};
use ironseat_core::reckon::{entries, reckon};
use ironseat_core::terms::{Method, Surface};
use serde_json::Value;
use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write as _;

/// One or more of every situation.
fn every_situation() -> Vec<Situation> {
    use Situation as S;
    let um = Micrometres::of;
    let name = || "Outside micrometer".to_owned();
    let some = || Some("Electronic gauge".to_owned());
    let all = [Surface::Journal, Surface::RingBore, Surface::HousingBore, Surface::RingOutside];
    let mut out = vec![S::NothingRead { cells: 12 }];
    for surface in all {
        out.extend([
            S::SizeGood { surface, left: 0, guarded: true },
            S::SizeGood { surface, left: 0, guarded: false },
            S::SizeOver { surface, by: um(6.0), mend: Some((um(9.0), um(19.0))) },
            S::SizeUnder { surface, by: um(4.0), mend: Some((um(7.0), um(17.0))) },
            S::ReadAgain { surface, station: 2, plane: 3, beyond: Some(um(-9.0)) },
            S::ReadAgain { surface, station: 1, plane: 4, beyond: None },
            S::SizeUndecided { surface, margin: um(1.0), instrument: name(), u: um(3.0), better: some() },
            S::OutOfRound { surface, by: um(9.0), allowed: um(8.0), station: 2 },
            S::Taper { surface, by: um(9.0), allowed: um(8.0), larger_at_b: true },
        ]);
    }
    let surface = Surface::Journal;
    out.extend([
        S::SizeGood { surface, left: 1, guarded: true },
        S::SizeUndecided { surface, margin: um(-1.0), instrument: name(), u: um(3.0), better: None },
        S::TooCoarse { surface, instrument: "Calliper".into(), u: um(30.0), tolerance: um(16.0), better: some() },
        S::FormUndecided { surface, by: um(8.0), allowed: um(8.0), instrument: name(), better: some() },
        S::FitWaits { journal: true, bore: true },
        S::FitWaits { journal: true, bore: false },
        S::FitWaits { journal: false, bore: true },
        S::Spins { mean: um(-5.0) },
        S::NoTube { bore: Millimetres::of(40.2), outside: Millimetres::of(49.0), length: Millimetres::of(60.0) },
        S::RingStressHigh { hoop_mpa: 134.0 },
        S::Yields { part: "the shaft".into(), share: 0.82 },
        S::Yields { part: "Bearing bracket".into(), share: 1.3 },
        S::NoClearance { left: um(-4.0), lost_shaft: um(14.0), lost_housing: um(6.0), group: "N".into() },
        S::LittleClearance { left: um(-1.0), group: "2".into() },
        S::LittleClearance { left: um(1.0), group: "3".into() },
        S::MuchClearance { left: um(22.0) },
        S::TightInHousing { mean: Micrometres::of(12.0), force: Newtons::of(4_200.0), warm: None },
        S::TightInHousing { mean: Micrometres::of(24.0), force: Newtons::of(4_200.0), warm: Some(Celsius::of(55.0)) },
        S::GrowsInBore { growth: Micrometres::of(70.0), room: Micrometres::of(15.0) },
        S::GrowsInBore { growth: Micrometres::of(70.0), room: Micrometres::of(-4.0) },
        S::GripShort { seconds: Seconds::of(12.0), hands: Seconds::of(20.0), target: Celsius::of(110.0) },
        S::HeatGood { target: Celsius::of(95.0), seconds: Seconds::of(70.0) },
        S::HomeWaits { left: 4 },
        S::Home { gap: None },
        S::Home { gap: Some(um(10.0)) },
        S::FeelerGoesIn { places: vec!["top".into(), "left".into()] },
        S::DepthOff { by: um(60.0), tolerance: um(30.0) },
        S::DepthOff { by: um(-60.0), tolerance: um(30.0) },
        S::DepthUndecided { by: um(29.0), instrument: "Depth micrometer".into(), better: None },
        S::CannotReckon { field: "shaft_bore_mm".into(), why: "the bore must be smaller than the joint".into() },
    ]);
    for method in [Method::Heat, Method::Press, Method::HeatAndPress, Method::Slide] {
        out.push(S::FitGood { mean: um(15.0), method });
    }
    out.push(S::FitGood { mean: um(-9.0), method: Method::Slide });
    for heat_helps in [true, false] {
        let force = Newtons::of(24_000.0);
        out.push(S::ForceOverPress { force, press: "arbor press".into(), allowed: Newtons::of(16_000.0), heat_helps });
        out.push(S::NoPress { force, heat_helps });
    }
    for (spare, force) in [(-12.0, 9000.0), (4.0, 0.0)] {
        let (cap, needed) = (Celsius::of(80.0), Celsius::of(104.0));
        out.push(S::CapNotEnough {
            cap,
            needed,
            spare: um(spare),
            force: Newtons::of(force),
            weakest: "grease and seals".into(),
        });
    }
    out
}

/// Number of situations there are, from the source: the list above is complete when all are met.
fn kinds() -> usize {
    let source = include_str!("../../src/call/mod.rs");
    let from = source.split("pub enum Situation {").nth(1).unwrap();
    from.split("\n}")
        .next()
        .unwrap()
        .lines()
        .filter(|l| l.starts_with("    ") && l[4..].starts_with(char::is_uppercase))
        .count()
}

/// Answers that say something, by their words with the numbers taken out.
fn reckoned() -> BTreeMap<&'static str, BTreeSet<String>> {
    let mut out: BTreeMap<&'static str, BTreeMap<String, String>> = BTreeMap::new();
    for e in entries().filter(|e| e.name != "plan.solve") {
        let path = format!("{}/tests/vectors/{}.json", env!("CARGO_MANIFEST_DIR"), e.name);
        let vectors: Vec<Value> =
            std::fs::read_to_string(path).map_or_else(|_| Vec::new(), |t| serde_json::from_str(&t).unwrap());
        for input in vectors.iter().map(|v| v["input"].to_string()).chain([e.example.to_owned()]) {
            let Ok(answer) = reckon(e.name, &input) else { continue };
            if let Some(words) = answer["words"].as_str() {
                let shape: String = words.chars().filter(|c| !c.is_ascii_digit() && *c != '.').collect();
                out.entry(e.name).or_default().entry(shape).or_insert_with(|| words.to_owned());
            }
        }
    }
    out.into_iter().map(|(name, m)| (name, m.into_values().collect())).collect()
}

fn document() -> String {
    let mut out = String::from(
        "# What the program says\n\nWritten by a test (`UPDATE_EXPECT=1` renews it), to be read through as a whole; errors stand in [errors.md](errors.md).\n\n## Calls of the sheets\n\n",
    );
    let mut seen = BTreeSet::new();
    for s in every_situation() {
        seen.insert(format!("{s:?}").split([' ', '{']).next().unwrap().to_owned());
        let w = words::of(&s, Units::Metric);
        let _ = writeln!(out, "- **{}.** {} *{}*", w.title, w.reason, w.action);
    }
    assert_eq!(seen.len(), kinds(), "a situation is not listed: {seen:?}");
    out.push_str("\n## Answers of named computations\n\n");
    for (name, all) in reckoned() {
        for words in all {
            let _ = writeln!(out, "- `{name}`: {words}");
        }
    }
    out.push_str("\n## Cautions\n\n");
    let _ = writeln!(out, "{}\n", ironseat_core::caution::FIRST);
    for c in Caution::ALL {
        let _ = writeln!(out, "- {}", c.words());
    }
    out
}

#[test]
fn every_sentence_is_written_down() {
    expect_file!["../../../../docs/calls.md"].assert_eq(&document());
}

#[test]
fn sentences_are_sentences() {
    let anchors = ironseat_core::why::anchors();
    for s in every_situation() {
        assert!(anchors.iter().any(|a| a == s.why()), "{s:?} has no paragraph {}", s.why());
        let w = words::of(&s, Units::Inch);
        assert!(w.reason.ends_with('.') && w.action.ends_with('.') && !w.title.ends_with('.'), "{w:?}");
        assert!(!format!("{w:?}").contains("  "), "{w:?}");
    }
    for c in ironseat_core::caution::Caution::ALL {
        assert!(anchors.iter().any(|a| a == c.why()), "{c:?} has no paragraph {}", c.why());
    }
    for machine in demo::machines() {
        for a in derive(&machine).unwrap().acts {
            assert!(anchors.iter().any(|x| x == a.why()), "{}: {} has no paragraph {}", machine.name, a.id, a.why());
        }
    }
    for (name, all) in reckoned() {
        for words in all {
            assert!(words.ends_with('.') || words.contains('?'), "{name}: {words}");
            assert!(!words.contains("NaN") && !words.contains("-0.000"), "{name}: {words}");
        }
    }
}

/// Calls are kept as text: what was kept by an older program still reads, and speaks.
#[test]
fn calls_that_were_kept_long_ago_still_read() {
    let old = r#"[{"verdict":"stop","situation":{"size_over":{"surface":"journal","by":6.0}},"figure":null,"limit":[null,null],"source":"","expected":null,"overdue":[],"guarded":true},{"verdict":"go","situation":{"size_good":{"surface":"ring_bore","left":0}},"figure":null,"limit":[null,null],"source":"","expected":null,"overdue":[],"guarded":true}]"#;
    let calls: Vec<ironseat_core::call::Call> = serde_json::from_str(old).unwrap();
    assert!(
        calls[0].action(Units::Metric).starts_with("Take at least 6 µm off the diameter"),
        "{}",
        calls[0].action(Units::Metric)
    );
    assert!(calls[1].reason(Units::Metric).contains("by more than the instrument can be wrong"));
}

/// A name is no proper name: inside a sentence it begins small, whoever made the sentence: the derivation, a repair, a
/// round of a float, the steps of a seat.
#[test]
fn names_begin_small_inside_sentences() {
    use ironseat_core::anatomy::MachineType;
    use ironseat_core::anatomy::acts::{self, open_round};
    use ironseat_core::decide::{Facts, Repair, State};
    use std::sync::Arc;
    let (mut sentences, mut rounds) = (0, 0);
    for a in demo::machines() {
        let named = a.parts.iter().map(|p| &p.name).chain(a.housings.iter().map(|h| &h.name));
        let named = named.chain(a.seats.iter().map(|s| &s.name)).chain(a.holes.iter().map(|h| &h.name));
        let large = |n: &&String| {
            let mut c = n.chars();
            c.next().is_some_and(char::is_uppercase) && c.next().is_some_and(char::is_lowercase)
        };
        let names: Vec<String> = named.filter(large).cloned().collect();
        let kind = Arc::new(MachineType::new(a.clone()).unwrap());
        let repair =
            |p: &String| Repair { id: p.clone(), part: p.clone(), what: "ground".into(), by: "Yuki".into(), at: 1 };
        let repairs =
            a.parts.iter().filter(|p| !acts::voided_by(&a, &p.id).is_empty()).map(|p| repair(&p.id)).collect();
        let done = kind.derived.acts.iter().map(|x| x.id.clone()).collect();
        let round = a.floats.iter().find_map(|f| {
            let reading = format!("float.{}", f.id);
            let shim = f.shim.as_deref()?;
            kind.derived.act(&reading)?;
            Some(open_round(&kind.derived.acts, &done, 2, &reading, shim, &[]))
        });
        rounds += usize::from(round.is_some());
        let facts = Facts { repairs, rounds: round.into_iter().collect(), ..Facts::default() };
        let s = State::new(kind.clone(), facts, 1);
        let mut all: Vec<String> = s.acts.iter().map(|x| x.words.say(Units::Metric)).collect();
        all.extend(s.acts.iter().flat_map(|x| x.before.iter().map(|b| b.words.say(Units::Metric))));
        all.extend(s.questions.iter().map(|q| q.words.clone()));
        all.extend(kind.derived.notes.iter().map(|n| n.words.say(Units::Metric)));
        for text in &all {
            // The machine itself goes by its title.
            let text = text.replace(&a.name, "it");
            for name in &names {
                let inside = text.match_indices(name.as_str()).find(|(at, _)| {
                    let before = &text[..*at];
                    !before.is_empty() && !before.ends_with(". ") && !before.ends_with(char::is_alphanumeric)
                });
                assert!(inside.is_none(), "{}: “{name}” in “{text}”", a.key);
            }
        }
        sentences += all.len();
    }
    assert!(sentences > 3000 && rounds > 1, "{sentences} {rounds}");
}
