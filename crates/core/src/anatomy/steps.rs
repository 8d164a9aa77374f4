//! The trail: from the anatomy the steps of a rebuild, stage by stage, each with its words, tool, caution, hands, minutes
//! and wait (handbook 01, 05, 07, 08, 09). Nothing here is typed per machine.

use super::as_found::{self, Question};
use super::derive::Derived;
use super::{Anatomy, End, Hold, Part, PartKind};
use crate::caution::Caution;
use crate::fasten::{lock_step, set_screws};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet, HashSet};

/// Stage of the work (handbook 01).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Stage {
    Receive,
    AsFound,
    TakeApart,
    Inspect,
    Parts,
    FitAndMount,
    TrueUp,
    SetAxially,
    Preload,
    TorqueAndLock,
    CloseUp,
    Prove,
}

impl Stage {
    /// In the order of the work.
    pub const ALL: [Self; 12] = [
        Self::Receive,
        Self::AsFound,
        Self::TakeApart,
        Self::Inspect,
        Self::Parts,
        Self::FitAndMount,
        Self::TrueUp,
        Self::SetAxially,
        Self::Preload,
        Self::TorqueAndLock,
        Self::CloseUp,
        Self::Prove,
    ];
    /// As said.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Receive => "receive",
            Self::AsFound => "as found",
            Self::TakeApart => "take apart",
            Self::Inspect => "inspect",
            Self::Parts => "parts",
            Self::FitAndMount => "fit and mount",
            Self::TrueUp => "true up",
            Self::SetAxially => "set axially",
            Self::Preload => "preload",
            Self::TorqueAndLock => "torque and lock",
            Self::CloseUp => "close up",
            Self::Prove => "prove",
        }
    }
}

/// One step.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Step {
    /// Stable id: `on.b1`, `ask.nut.standout`.
    pub id: String,
    /// Stage.
    pub stage: Stage,
    /// Part, housing or seat it is about; empty for the machine.
    pub about: String,
    /// Verb first, with tool and number.
    pub words: String,
    /// Tool or instrument.
    pub tool: String,
    /// Caution that stands before it.
    pub caution: Option<Caution>,
    /// Hands it needs.
    pub people: u32,
    /// Hands-on minutes.
    pub minutes: f64,
    /// Minutes of passive wait after it, and what waits.
    pub wait_min: f64,
    /// As said: cooling, pressure hold, curing.
    pub wait_word: String,
    /// Steps that must be done before.
    pub before: Vec<String>,
    /// Seat whose sheets it fills.
    pub seat: Option<String>,
}

fn step(id: String, stage: Stage, about: &str, words: String, tool: &str, minutes: f64) -> Step {
    Step {
        id,
        stage,
        about: about.to_owned(),
        words,
        tool: tool.to_owned(),
        caution: None,
        people: 1,
        minutes,
        wait_min: 0.0,
        wait_word: String::new(),
        before: Vec::new(),
        seat: None,
    }
}

impl Step {
    fn after(mut self, ids: impl IntoIterator<Item = String>) -> Self {
        self.before.extend(ids);
        self
    }
    fn careful(mut self, c: Caution) -> Self {
        self.caution = Some(c);
        self
    }
    fn hands(mut self, people: u32) -> Self {
        self.people = people.max(1);
        self
    }
    fn waits(mut self, minutes: f64, word: &str) -> Self {
        if minutes > 0.0 {
            self.wait_min = minutes;
            self.wait_word = word.to_owned();
        }
        self
    }
}

/// Number with up to two decimals, no trailing zeros.
fn num(v: f64) -> String {
    let r = (v * 100.0).round() / 100.0;
    format!("{r}")
}

/// Direct pairs without those that follow from others: what stands in a step's "before".
fn reduced(d: &Derived) -> Vec<Vec<usize>> {
    let n = d.ids.len();
    let Some(order) = &d.plain else { return vec![Vec::new(); n] };
    let mut before = vec![Vec::new(); n];
    for (a, b) in d.precedence.pairs() {
        before[b].push(a);
    }
    let words = n.div_ceil(64);
    let mut reach = vec![0u64; n * words];
    let mut out = vec![Vec::new(); n];
    let mut place = vec![0; n];
    for (k, i) in order.iter().enumerate() {
        place[*i] = k;
    }
    for &b in order {
        // Nearest first: what is reached through a nearer one is left out.
        before[b].sort_by_key(|a| std::cmp::Reverse(place[*a]));
        let mut seen = vec![0u64; words];
        for &a in &before[b] {
            if seen[a / 64] >> (a % 64) & 1 == 0 {
                out[b].push(a);
            }
            seen[a / 64] |= 1 << (a % 64);
            for w in 0..words {
                seen[w] |= reach[a * words + w];
            }
        }
        reach[b * words..(b + 1) * words].copy_from_slice(&seen);
    }
    out
}

/// All steps of a rebuild, in the order in which a sensible person takes them. Needs an order; none for an anatomy that
/// cannot be built.
#[must_use]
pub fn steps(a: &Anatomy, d: &Derived, order: &[usize]) -> Vec<Step> {
    let questions = as_found::questions(a);
    let direct = reduced(d);
    let mut out = vec![
        step(
            "receive.safe".into(),
            Stage::Receive,
            "",
            "Isolate, tag, try; drain and vent. Note the complaint in the customer's words.".into(),
            "lock and tag",
            10.0,
        )
        .careful(Caution::Isolate),
        step(
            "receive.kind".into(),
            Stage::Receive,
            "",
            format!("Compare plate and machine with this build sheet: {}. Another variant: stop here.", a.name),
            "eyes",
            5.0,
        )
        .after(["receive.safe".to_owned()]),
    ];
    ask(&questions, &mut out);
    take_apart(a, d, order, &direct, &questions, &mut out);
    inspect(a, &mut out);
    mount(a, d, order, &direct, &mut out);
    set(a, &mut out);
    prove(a, &mut out);
    // A step that names one that is not in this trail would wait for ever.
    let known: HashSet<String> = out.iter().map(|s| s.id.clone()).collect();
    for s in &mut out {
        let mut seen = HashSet::new();
        s.before.retain(|b| known.contains(b) && seen.insert(b.clone()));
    }
    out.sort_by_key(|s| s.stage);
    out
}

fn ask(questions: &[Question], out: &mut Vec<Step>) {
    for q in questions {
        let reading = matches!(q.ask, as_found::Ask::Reading);
        let tool = match q.ask {
            as_found::Ask::Reading => "dial indicator",
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

fn take_apart(a: &Anatomy, d: &Derived, order: &[usize], direct: &[Vec<usize>], questions: &[Question], out: &mut Vec<Step>) {
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

fn people_of(p: &Part) -> u32 {
    if p.people > 0 { p.people } else { 1 + u32::from(p.outside_mm.0 > 250.0) }
}

fn end_word(e: End) -> &'static str {
    match e {
        End::A => "end A",
        End::B => "end B",
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

fn inspect(a: &Anatomy, out: &mut Vec<Step>) {
    for l in &a.lands {
        let words = match l.kind {
            super::LandKind::Thread => format!("Run a nut over {}; dress what catches. Chamfer whole?", l.name),
            super::LandKind::Taper => format!("Straightedge and blue on {}: contact all along?", l.name),
            super::LandKind::Keyway => format!("Look at the keyway of {}: edges square, no crack in the corner.", l.name),
            _ => continue,
        };
        out.push(step(format!("land.{}", l.id), Stage::Inspect, "", words, "eyes, thread file", 4.0).after(everything_off(a)));
    }
    for p in &a.parts {
        if p.kind.looked_at() {
            let s = step(
                format!("look.{}", p.id),
                Stage::Inspect,
                &p.id,
                format!("Clean {} and look: {}.", p.name, p.kind.look_for()),
                "clean cloth, glass",
                5.0,
            );
            out.push(s.after([format!("off.{}", p.id)]).careful(if p.kind == PartKind::Bearing { Caution::Air } else { Caution::Solvent }));
        }
    }
    for h in &a.housings {
        let s = step(
            format!("look.{}", h.id),
            Stage::Inspect,
            &h.id,
            format!("Clean {}: creep in the bores, cracks, drain and feed open, joint face.", h.name),
            "clean cloth, dye",
            8.0,
        );
        out.push(s.after([format!("off.{}", h.id)]));
    }
    for p in &a.parts {
        let what = match p.kind {
            PartKind::Seal => "Measure the new seal against shaft, bore and width; lip without nick, spring in place",
            PartKind::ORing | PartKind::Gasket => "Lay out a new one and compare it with the groove or face",
            PartKind::Shim => "Measure each leaf at three points",
            PartKind::Spacer => "Measure its height at four points, with a gauge that reads microns",
            PartKind::Bush => "Measure bore, outside and length; pair it with its hole",
            PartKind::ShoeSet => "Measure every shoe: all within the limit, both edges rounded",
            _ => continue,
        };
        out.push(step(format!("kit.{}", p.id), Stage::Parts, &p.id, format!("{}: {}.", p.name, lower(what)), "micrometer", 4.0));
    }
}

fn lower(s: &str) -> String {
    let mut c = s.chars();
    c.next().map_or_else(String::new, |f| f.to_lowercase().chain(c).collect())
}

fn everything_off(a: &Anatomy) -> Vec<String> {
    a.parts.iter().map(|p| format!("off.{}", p.id)).collect()
}

/// Where a part's mounting stands among the stages: what closes is the last, an inner cover is not.
fn mount_stage(p: &Part, others_follow: bool) -> Stage {
    match p.kind {
        PartKind::Cover | PartKind::Gasket | PartKind::Cap | PartKind::Probe if !others_follow => Stage::CloseUp,
        _ => Stage::FitAndMount,
    }
}

fn on_words(a: &Anatomy, p: &Part) -> String {
    let from = end_word(p.from);
    let faces = p.faces.map(|e| format!(", {} to {}", p.kind.facing_word(), end_word(e))).unwrap_or_default();
    let carrier = p.carried_by.as_deref().map(|c| a.name_of(c));
    match (p.kind, p.fit) {
        (PartKind::Seal, _) => format!(
            "Drive {} square into {}{faces}, opposite then quarter points; lip oiled, guarded over edges.",
            p.name,
            carrier.unwrap_or("its pocket")
        ),
        (PartKind::ORing, _) => {
            format!("Lay {} in from several points and back towards the start, so that no length is left over; grease holds it.", p.name)
        }
        (PartKind::Ring, _) => format!("Open {} only as far as the land, oil under it, gaps staggered.", p.name),
        (PartKind::Circlip, _) => format!("Spring {} home{faces}; try it all round with a pick.", p.name),
        (PartKind::Key, _) => format!("Bed {} in its seat; clearance over it is checked before the hub goes on.", p.name),
        (PartKind::Flinger, _) => format!("Slide {} in until it touches.", p.name),
        (PartKind::ShoeSet, _) => format!("Lay the shoes of {} in their order, oiled; both edges rounded, free to tilt.", p.name),
        (PartKind::BaseRing, _) => format!("Set {} with its levelling plates interlocked and free.", p.name),
        (PartKind::Expander, _) => format!("Start the screws of {} before the cap is pulled down.", p.name),
        (PartKind::Probe, _) => format!("Screw {} in, wire routed before the cover; set the gap by its volts.", p.name),
        (PartKind::Bush, _) => format!("Press {} into {}, feed hole to feed hole.", p.name, carrier.unwrap_or("its bore")),
        (PartKind::Nut, _) => format!("Spin {} on by hand to the stop: that is zero.", p.name),
        (PartKind::TabWasher, _) => format!("Lay {} on with its tongue in the groove.", p.name),
        (PartKind::SetScrew, _) => format!("Start {} with a clean thread.", p.name),
        (_, Hold::Shrink) => format!("Heat {} and push it home from {from}{faces}; hold it until it grips.", p.name),
        (_, Hold::Oil) => format!("Oil in, push {} home from {from}; expansion pressure off, pushing pressure held.", p.name),
        (_, Hold::Press) => format!(
            "Press {} home{}{faces}, force through the tight ring only.",
            p.name,
            carrier.map_or_else(|| format!(" from {from}"), |c| format!(" into {c}"))
        ),
        (_, Hold::Screwed) => format!("Screw {} in.", p.name),
        _ if p.inside.is_some() && p.carried_by.is_none() => {
            format!("Lay {} in {} before the shaft is fed through{faces}.", p.name, a.name_of(p.inside.as_deref().unwrap_or("")))
        }
        _ if p.split => format!("Lay the halves of {} round the shaft{faces}, marks together.", p.name),
        _ => format!("Slide {} on from {from}{faces}.", p.name),
    }
}

fn on_caution(p: &Part) -> Option<Caution> {
    Some(match (p.kind, p.fit) {
        (PartKind::Circlip, _) => Caution::SnapRing,
        (_, Hold::Shrink) => Caution::HotRing,
        (_, Hold::Oil) => Caution::Injection,
        (_, Hold::Press) => Caution::Press,
        (PartKind::Shim | PartKind::Ring, _) => Caution::SharpEdges,
        _ if p.outside_mm.0 > 250.0 => Caution::Lifting,
        _ => return None,
    })
}

fn mount(a: &Anatomy, d: &Derived, order: &[usize], direct: &[Vec<usize>], out: &mut Vec<Step>) {
    let mut followed = vec![false; d.ids.len()];
    direct.iter().flatten().for_each(|x| followed[*x] = true);
    for &i in order {
        let id = &d.ids[i];
        let before = direct[i].iter().map(|x| format!("on.{}", d.ids[*x]));
        let Some(p) = a.parts.get(i) else {
            let words = format!("Bring {} over the shaft, level and slow; feel that nothing touches.", a.name_of(id));
            let s = step(format!("on.{id}"), Stage::FitAndMount, id, words, "hoist", 15.0).careful(Caution::Lifting).hands(2);
            out.push(s.after(before).after([format!("look.{id}")]).after(hole_checks(a, id)));
            out.extend(hole_steps(a, id));
            continue;
        };
        let wait = p.fit.wait_minutes(p.outside_mm.0);
        let word = if p.fit == Hold::Oil { "pressure hold, then the oil film leaves" } else { "cooling" };
        let mut s = step(format!("on.{id}"), mount_stage(p, followed[i]), id, on_words(a, p), p.fit.tool(), a.minutes_of(p))
            .after(before)
            .after([format!("look.{id}"), format!("kit.{id}"), format!("off.{id}")])
            .hands(people_of(p))
            .waits(wait, word);
        s.caution = on_caution(p);
        s.seat = a.seats.iter().find(|x| x.part == *id).map(|x| x.id.clone());
        if let Some(k) = &p.key {
            s.before.push(format!("key.{k}"));
            let check = format!("Measure {} and both keyways: clearance over the key, never interference.", a.name_of(k));
            out.push(step(format!("key.{k}"), Stage::FitAndMount, k, check, "depth micrometer", 5.0).after([format!("on.{k}")]));
        }
        out.push(s);
        moves(a, p, out);
    }
}

/// What has to be done once a part is on: locks, adjusters and special moves (handbook 05, 06, 07).
fn moves(a: &Anatomy, p: &Part, out: &mut Vec<Step>) {
    let id = &p.id;
    let on = [format!("on.{id}")];
    match p.kind {
        PartKind::Flinger => {
            let by = p.back_off_mm.map_or_else(|| "the stated amount".to_owned(), |b| format!("{} mm", num(b.0)));
            out.push(
                step(
                    format!("back.{id}"),
                    Stage::SetAxially,
                    id,
                    format!("Back {} off by {by} from where it touches; turn by hand: no rub.", p.name),
                    "feeler or calliper",
                    5.0,
                )
                .after(on),
            );
        }
        PartKind::SetScrew => {
            let round = set_screws(2);
            let after = p.locks.iter().map(|l| format!("back.{l}")).chain(on);
            let words = format!(
                "Set the screws of {} in turn, {} to {} % of their torque: one alone cocks the ring.",
                p.name,
                round[0].1,
                round[round.len() - 1].1
            );
            out.push(step(format!("lock.{id}"), Stage::TorqueAndLock, id, words, "hex key, torque", 4.0).after(after));
        }
        PartKind::Nut => nut(a, p, out),
        PartKind::TabWasher => {
            let nuts = a.parts.iter().filter(|n| n.kind == PartKind::Nut && n.land == p.land && n.from == p.from);
            let after: Vec<String> = nuts.map(|n| format!("torque.{}", n.id)).chain(on).collect();
            out.push(
                step(
                    format!("tab.{id}"),
                    Stage::TorqueAndLock,
                    id,
                    format!("Bend a tab of {} into the slot that stands over it; never turn the nut back for it.", p.name),
                    "drift",
                    2.0,
                )
                .after(after),
            );
        }
        PartKind::Ring => {
            let carrier = p.carried_by.iter().map(|c| format!("on.{c}"));
            out.push(
                step(
                    format!("free.{id}"),
                    Stage::CloseUp,
                    id,
                    format!("Turn the collar by hand: it must turn freely, else {} is pinched: out and again.", p.name),
                    "hands",
                    2.0,
                )
                .after(carrier)
                .after(on),
            );
        }
        PartKind::Probe => {
            out.push(
                step(
                    format!("ohm.{id}"),
                    Stage::CloseUp,
                    id,
                    format!("Measure the ohms of {} again, before the cover bolts: same as before, no way to earth.", p.name),
                    "ohmmeter",
                    3.0,
                )
                .after(on),
            );
        }
        PartKind::Seal => {
            out.push(
                step(
                    format!("tilt.{id}"),
                    Stage::CloseUp,
                    id,
                    format!("Measure the face of {} at four points: depth and tilt within the limit.", p.name),
                    "depth micrometer",
                    4.0,
                )
                .after(on),
            );
        }
        PartKind::Collar => {
            out.push(
                step(
                    format!("face.{id}"),
                    Stage::TrueUp,
                    id,
                    format!("Sweep the face of {}: a film face runs true within what the indicator sees.", p.name),
                    "test indicator",
                    6.0,
                )
                .after(on),
            );
        }
        PartKind::Spacer if a.pairs.iter().any(|x| x.spacers.contains(id)) => {
            out.push(
                step(
                    format!("height.{id}"),
                    Stage::Parts,
                    id,
                    format!("{}: compare its height with its fellow; the offset sets the preload.", p.name),
                    "electronic gauge",
                    6.0,
                )
                .after([format!("look.{id}")]),
            );
            if let Some(s) = out.iter_mut().find(|s| s.id == format!("on.{id}")) {
                s.before.push(format!("height.{id}"));
            }
        }
        PartKind::Cap if p.adjusted => {
            out.push(
                step(
                    format!("lift.{id}"),
                    Stage::SetAxially,
                    id,
                    format!("Lift test at both ends under {}; leaves out or in, both sides alike.", p.name),
                    "dial indicator",
                    10.0,
                )
                .after(on),
            );
        }
        _ if p.adjusted => {
            out.push(
                step(
                    format!("adjust.{id}"),
                    Stage::SetAxially,
                    id,
                    format!("Screw {} to contact, a quarter turn back, lock it, try again.", p.name),
                    "hex key",
                    4.0,
                )
                .after(on),
            );
        }
        _ => {}
    }
    if p.kind == PartKind::Expander || p.plunger {
        out.push(
            step(
                format!("plunger.{id}"),
                Stage::SetAxially,
                id,
                format!("Screw the plunger of {} down until it bottoms, half a turn back.", p.name),
                "screwdriver",
                2.0,
            )
            .after([format!("on.{id}")])
            .careful(Caution::Spring),
        );
    }
    if p.oiler {
        out.push(
            step(
                format!("oiler.{id}"),
                Stage::CloseUp,
                id,
                format!("Hold the oiler of {} down with wire until the spindle lies in place; wick soaked.", p.name),
                "wire",
                3.0,
            )
            .after([format!("look.{id}")]),
        );
        if let Some(s) = out.iter_mut().find(|s| s.id == format!("on.{id}")) {
            s.before.push(format!("oiler.{id}"));
        }
    }
}

fn nut(a: &Anatomy, p: &Part, out: &mut Vec<Step>) {
    let id = &p.id;
    let hot: Vec<String> = a.parts.iter().filter(|x| x.fit == Hold::Shrink && x.from == p.from).map(|x| format!("on.{}", x.id)).collect();
    let by = if let Some(t) = p.torque_nm {
        format!("Torque {} to {} N·m with what the figure was meant for on the thread", p.name, num(t))
    } else if p.match_mark {
        format!("Tighten {} from zero to its match mark", p.name)
    } else {
        format!("Tighten {}: nip, turn the shaft, nip again, now that all is cold", p.name)
    };
    let lock = p.slots.zip(p.tabs).and_then(|(s, t)| lock_step(s.into(), t.into()).ok());
    let on_to = lock.map_or_else(String::new, |deg| format!("; then on to the next slot, they lie {} degrees apart, never back", num(deg)));
    out.push(
        step(format!("torque.{id}"), Stage::TorqueAndLock, id, format!("{by}{on_to}."), "torque or hook wrench", 6.0)
            .after([format!("on.{id}")])
            .after(hot)
            .careful(Caution::Nut),
    );
    out.push(
        step(
            format!("standout.{id}"),
            Stage::TorqueAndLock,
            id,
            format!("Measure how far {} stands from the shaft end; compare with as found.", p.name),
            "depth micrometer",
            2.0,
        )
        .after([format!("torque.{id}")]),
    );
}

fn hole_checks(a: &Anatomy, housing: &str) -> Vec<String> {
    a.holes.iter().filter(|h| h.housing == housing).map(|h| format!("hole.{}.{}", housing, h.id)).collect()
}

fn hole_steps(a: &Anatomy, housing: &str) -> Vec<Step> {
    a.holes
        .iter()
        .filter(|h| h.housing == housing)
        .map(|h| {
            let where_to = match h.kind {
                super::HoleKind::Drain => format!("{} of {} down: turn it so before it goes on", h.name, a.name_of(housing)),
                super::HoleKind::Feed => format!("{} of {} to its feed hole, at {} degrees", h.name, a.name_of(housing), num(h.at_deg)),
                super::HoleKind::Port => format!("{} of {} to its pipe, as found", h.name, a.name_of(housing)),
            };
            step(
                format!("hole.{}.{}", housing, h.id),
                Stage::CloseUp,
                housing,
                format!("Turn {where_to}."),
                "eyes, wire through the hole",
                2.0,
            )
            .after([format!("look.{housing}")])
        })
        .collect()
}

fn set(a: &Anatomy, out: &mut Vec<Step>) {
    let all_on: Vec<String> = a.parts.iter().map(|p| &p.id).chain(a.housings.iter().map(|h| &h.id)).map(|id| format!("on.{id}")).collect();
    let after = |list: &[String]| -> Vec<String> {
        if list.is_empty() { all_on.clone() } else { list.iter().map(|x| format!("on.{x}")).collect() }
    };
    for r in &a.runouts {
        let words = format!("Sweep {}: at most {} µm.", r.name, num(r.limit_um.0));
        out.push(
            step(format!("sweep.{}", r.id), Stage::TrueUp, &r.part, words, "test indicator", 8.0)
                .after(after(std::slice::from_ref(&r.part)))
                .careful(Caution::Measuring),
        );
    }
    for f in &a.floats {
        let words = format!("{}: push, pull, read, three pairs; {} to {} mm.", f.name, num(f.lo_mm.0), num(f.hi_mm.0));
        out.push(step(format!("float.{}", f.id), Stage::SetAxially, "", words, "dial indicator", 10.0).after(after(&f.after)).hands(2));
        if let Some(shim) = &f.shim {
            let words = format!(
                "{}: change it by what the float says, {}.",
                a.name_of(shim),
                if f.thicker_reduces { "thicker gives less float" } else { "thicker gives more float" }
            );
            out.push(
                step(format!("shim.{}", f.id), Stage::SetAxially, shim, words, "surface grinder or leaves", 20.0)
                    .after([format!("float.{}", f.id)]),
            );
        }
    }
    for g in &a.gaps {
        let words = format!("{}: at four points, at least {} mm.", g.name, num(g.min_mm.0));
        out.push(step(format!("gap.{}", g.id), Stage::SetAxially, "", words, "feelers", 8.0).after(after(&g.after)));
    }
    for p in &a.pairs {
        let words = format!(
            "{} and {}: {}; push test both ways, then running drag.",
            a.name_of(&p.a),
            a.name_of(&p.b),
            arrangement(&p.arrangement)
        );
        let both = [format!("on.{}", p.a), format!("on.{}", p.b)];
        out.push(step(format!("preload.{}.{}", p.a, p.b), Stage::Preload, &p.a, words, "indicator, spring scale", 15.0).after(both));
    }
    for b in &a.bolt_rings {
        let words = format!(
            "Tighten the {} bolts of {} crosswise to {} N·m in stages, then once round; feel the float as it is drawn down.",
            b.n,
            a.name_of(&b.part),
            num(b.torque_nm)
        );
        out.push(
            step(format!("bolts.{}", b.part), Stage::TorqueAndLock, &b.part, words, "torque wrench", 2.0 + f64::from(b.n))
                .after([format!("on.{}", b.part)]),
        );
    }
}

fn arrangement(a: &str) -> &'static str {
    match a {
        "DB" => "contact lines open outward, a diamond",
        "DF" => "contact lines cross, an X",
        _ => "contact lines parallel",
    }
}

fn prove(a: &Anatomy, out: &mut Vec<Step>) {
    let all: Vec<String> = out.iter().filter(|s| s.stage > Stage::Parts).map(|s| s.id.clone()).collect();
    out.push(
        step(
            "prove.turn".into(),
            Stage::Prove,
            "",
            "Turn it by hand through the full range: even, nothing touches, no tight spot.".into(),
            "hands",
            4.0,
        )
        .after(all),
    );
    for f in &a.floats {
        out.push(
            step(
                format!("prove.float.{}", f.id),
                Stage::Prove,
                "",
                format!("{}: once more, closed up; beside as found.", f.name),
                "dial indicator",
                6.0,
            )
            .after(["prove.turn".to_owned()])
            .hands(2),
        );
    }
    let floats = a.floats.iter().map(|f| format!("prove.float.{}", f.id));
    let run = if a.run_in_rpm > 0.0 {
        format!("Run it in by steps to {} rpm, each until the rise is below 1 K in ten minutes.", num(a.run_in_rpm))
    } else {
        "Run it in by steps, each until the rise is below 1 K in ten minutes.".to_owned()
    };
    out.push(
        step("prove.run".into(), Stage::Prove, "", run, "thermometer", 20.0)
            .after(["prove.turn".to_owned()])
            .after(floats)
            .careful(Caution::FirstRun)
            .waits(90.0, "run-in"),
    );
}

/// What can be done in the meantime: open steps whose before is done and that do not rest on what waits.
#[must_use]
pub fn meanwhile<'a>(all: &'a [Step], done: &BTreeSet<String>, waiting: &str) -> Vec<&'a Step> {
    all.iter().filter(|s| !done.contains(&s.id) && s.id != waiting && s.before.iter().all(|b| done.contains(b) && b != waiting)).collect()
}

/// Steps that must be done before one and are not, in words: why it is held.
#[must_use]
pub fn missing<'a>(all: &'a [Step], done: &BTreeSet<String>, id: &str) -> Vec<&'a Step> {
    let by_id: BTreeMap<&str, &Step> = all.iter().map(|s| (s.id.as_str(), s)).collect();
    let Some(s) = by_id.get(id) else { return Vec::new() };
    s.before.iter().filter(|b| !done.contains(*b)).filter_map(|b| by_id.get(b.as_str()).copied()).collect()
}

/// As-found answers that are void once a face of a part was machined: marks and stand-outs of the nuts that clamp the stack
/// it lies in, and its own clocking. New ones are asked for.
#[must_use]
pub fn voided_by(a: &Anatomy, part: &str) -> Vec<String> {
    let Some(p) = a.part(part) else { return Vec::new() };
    let at = a.place(p).0;
    let mut out = Vec::new();
    if p.clocked {
        out.push(format!("{part}.clock"));
    }
    for n in a.parts.iter().filter(|n| n.kind == PartKind::Nut) {
        let place = a.place(n).0;
        let inwards = |x: f64| if n.from == End::A { x > place } else { x < place };
        // The stack reaches from the nut inwards to the first land that its first ring cannot pass: the shoulder.
        let clamped = |x: &&Part| inwards(a.place(x).0) && x.carried_by.is_none() && x.kind != PartKind::TabWasher;
        let first = a.parts.iter().filter(clamped).min_by(|x, y| (a.place(x).0 - place).abs().total_cmp(&(a.place(y).0 - place).abs()));
        let bore = first.map_or(f64::INFINITY, |x| a.bore_of(x).0);
        let own = a.lands.iter().position(|l| l.id == p.land);
        let nuts = a.lands.iter().position(|l| l.id == n.land);
        let shoulder = own.zip(nuts).is_some_and(|(x, y)| a.lands[x.min(y)..=x.max(y)].iter().any(|l| l.d_mm.0 > bore + 1e-9));
        if n.id == part || (inwards(at) && !shoulder && p.carried_by.is_none()) {
            out.push(format!("{}.mark", n.id));
            out.push(format!("{}.standout", n.id));
        }
    }
    out
}
