//! As found and taking apart: what is asked first, and how each part comes off.

use super::super::as_found::{self, Question};
use super::super::derive::Derived;
use super::super::{Anatomy, Hold, Part, PartKind};
use super::{Stage, Step, end_word, people_of, step};
use crate::caution::Caution;
use std::collections::BTreeMap;

pub(super) fn ask(questions: &[Question], out: &mut Vec<Step>) {
    for q in questions {
        let reading = matches!(q.ask, as_found::Ask::Reading | as_found::Ask::Points);
        let tool = match q.ask {
            as_found::Ask::Reading => "dial indicator",
            as_found::Ask::Points => "feelers",
            as_found::Ask::Ohms => "ohmmeter",
            as_found::Ask::Length => "depth micrometer or calliper",
            as_found::Ask::Angle => "scriber and clock drawing",
            as_found::Ask::Facing | as_found::Ask::Text => "eyes, camera",
        };
        let mut s = step(format!("ask.{}", q.id), Stage::AsFound, &q.about, q.words.clone(), tool, if reading { 6.0 } else { 2.0 })
            .after(["receive.kind".to_owned()]);
        if reading {
            s = s.careful(Caution::Measuring);
        }
        // One pushes and reads, the other turns at the coupling.
        if q.id.starts_with("float.") {
            s = s.hands(2);
        }
        out.push(s);
    }
}

pub(super) fn take_apart(a: &Anatomy, d: &Derived, order: &[usize], direct: &[Vec<usize>], questions: &[Question], out: &mut Vec<Step>) {
    let mut after = vec![Vec::new(); d.ids.len()];
    for (b, list) in direct.iter().enumerate() {
        for x in list {
            after[*x].push(b);
        }
    }
    let mut asks: BTreeMap<&str, Vec<String>> = BTreeMap::new();
    for q in questions {
        for off in &q.before_off {
            asks.entry(off).or_default().push(format!("ask.{}", q.id));
        }
    }
    for &i in order.iter().rev() {
        let id = &d.ids[i];
        let asked = asks.remove(id.as_str()).unwrap_or_default();
        let (words, tool, caution, people, minutes) = match a.parts.get(i) {
            Some(p) => (off_words(a, p), off_tool(p), off_caution(p), people_of(p), a.minutes_of(p)),
            None => (
                format!("Take {} off: bolts out crosswise, jack it square, support it before it comes free.", a.name_of(id)),
                "hoist, jacking screws",
                Some(Caution::Lifting),
                2,
                15.0,
            ),
        };
        let mut s = step(format!("off.{id}"), Stage::TakeApart, id, words, tool, minutes)
            .after(after[i].iter().map(|b| format!("off.{}", d.ids[*b])))
            .after(asked)
            .after(["receive.safe".to_owned()])
            .hands(people);
        s.caution = caution;
        out.push(s);
    }
}

fn off_words(a: &Anatomy, p: &Part) -> String {
    let from = end_word(p.from);
    match (p.kind, p.fit) {
        (PartKind::Nut, _) => {
            let left = p.hand == Some(crate::fasten::Hand::Left);
            format!(
                "Undo {}: {}-hand thread, seen from its own end {} loosens. Count the turns.",
                p.name,
                if left { "left" } else { "right" },
                if left { "clockwise" } else { "anticlockwise" }
            )
        }
        (PartKind::TabWasher, _) => format!("Bend the tab of {} back, once only; then draw it off.", p.name),
        (PartKind::Circlip, _) => format!("Spring {} out with circlip pliers, cloth over it.", p.name),
        (PartKind::SetScrew, _) => format!("Back {} out; look for the dimple beneath.", p.name),
        (PartKind::Seal, _) => format!("Lever {} out without touching the shaft: it is scrap.", p.name),
        (PartKind::Probe, _) => format!("Measure the ohms of {}, then unscrew it and lay its wire aside.", p.name),
        (PartKind::ShoeSet, _) => format!("Lift the shoes of {} out one by one and lay them in their order.", p.name),
        (PartKind::Key, _) => format!("Lift {} out of its seat; mark its up side.", p.name),
        (_, Hold::Oil) => format!("Oil in, stop nut on: let {} jump against the nut, then release in order.", p.name),
        (_, Hold::Shrink) => format!("Warm {} quickly and draw it off towards {from} before the shaft warms.", p.name),
        (PartKind::Bearing | PartKind::TaperCone, Hold::Press) if p.through_balls => {
            format!("Pull {} off by its outer ring, in line: it is scrap.", p.name)
        }
        (_, Hold::Press) if p.carried_by.is_some() => {
            format!("Press {} out of {}, supported close by.", p.name, a.name_of(p.carried_by.as_deref().unwrap_or("")))
        }
        (_, Hold::Press) => format!("Pull {} off towards {from}, force through the tight ring only.", p.name),
        (_, Hold::Screwed) => format!("Unscrew {}.", p.name),
        _ if p.split => format!("Part {} and lift its halves away; keep them paired.", p.name),
        _ => format!("Draw {} off towards {from}.", p.name),
    }
}

fn off_tool(p: &Part) -> &'static str {
    match (p.kind, p.fit) {
        (PartKind::Nut, _) => "hook or face wrench",
        (PartKind::TabWasher, _) => "drift and hammer",
        (PartKind::Circlip, _) => "circlip pliers",
        (PartKind::SetScrew, _) => "hex key",
        (PartKind::Seal, _) => "seal hook",
        (_, Hold::Oil) => "pumps and gauges",
        (_, Hold::Shrink) => "induction ring or hot sleeve",
        (_, Hold::Press) => "puller or press",
        _ => "hands",
    }
}

fn off_caution(p: &Part) -> Option<Caution> {
    Some(match (p.kind, p.fit) {
        (PartKind::Circlip, _) => Caution::SnapRing,
        (PartKind::Nut, _) => Caution::Nut,
        (_, Hold::Oil) => Caution::Injection,
        (_, Hold::Shrink) => Caution::Hot,
        (_, Hold::Press) => Caution::Burst,
        (PartKind::Ring | PartKind::Shim, _) => Caution::SharpEdges,
        _ if p.outside_mm.0 > 250.0 => Caution::Lifting,
        _ => return None,
    })
}
