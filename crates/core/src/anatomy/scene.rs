//! What an act changes in a picture of the machine: what moves and which way, where the tool reaches, what is drawn
//! tight.

use super::acts::{Act, Verb};
use super::body::{self, Way, What};
use super::kinds::Role;
use super::space::{self, Space};
use super::{Anatomy, Derived, TurnedBy, clamp};
use crate::terms::{ActId, End};
use std::collections::BTreeSet;

/// Which way a body leaves its place: it comes back the same way.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Leaves {
    /// Along the shaft towards an end.
    Towards(End),
    /// To the side: halves lifted away, what is drawn out of its carrier.
    Aside,
}

/// One act as a picture shows it. Lengths in mm: along the shaft from end A, and from its axis.
#[derive(Debug, Clone, PartialEq)]
pub struct Scene {
    /// Parts and housings that move with it, as ids of the build sheet; none where nothing moves.
    pub moves: Vec<String>,
    /// Comes off; else what moves goes on.
    pub off: bool,
    /// Only the upper half of a housing moves.
    pub half: bool,
    /// Its way.
    pub leaves: Leaves,
    /// Rings that must be free for the spanner, the pliers or the dial.
    pub tool: Vec<Space>,
    /// The stack that is drawn tight, or goes slack, the tightener last.
    pub stack: Vec<String>,
    /// The stack is tight afterwards.
    pub tight: bool,
}

impl Scene {
    /// Of an act.
    ///
    /// ```
    /// # use ironseat_core::anatomy::{Anatomy, derive, scene::Scene};
    /// let a: Anatomy = serde_json::from_str(r#"{"key":"p","name":"Pump","version":1,
    ///   "lands":[{"id":"t","name":"thread","length_mm":20,"d_mm":38,"kind":"thread"},{"id":"j","name":"journal","length_mm":20,"d_mm":40},
    ///            {"id":"s","name":"shoulder","length_mm":20,"d_mm":50}],
    ///   "parts":[{"id":"ring","name":"Ring","kind":"sleeve","land":"j","at_mm":0,"width_mm":20,"outside_mm":48},
    ///            {"id":"nut","name":"Nut","kind":"nut","land":"t","at_mm":8,"width_mm":12,"outside_mm":56}]}"#).unwrap();
    /// let d = derive(&a)?;
    /// let s = Scene::of(&a, &d, d.act("on.nut").unwrap());
    /// assert!(s.moves == ["nut"] && !s.off);
    /// assert_eq!(Scene::of(&a, &d, d.act("loosen.nut").unwrap()).stack, ["ring", "nut"]);
    /// # Ok::<(), ironseat_core::Refusal>(())
    /// ```
    #[must_use]
    pub fn of(a: &Anatomy, d: &Derived, act: &Act) -> Self {
        let mut out = Self {
            moves: Vec::new(),
            off: act.verb == Verb::TakeOff,
            half: act.verb == Verb::Close || matches!(ActId::of(&act.id), Some(ActId::Open(_))),
            leaves: Leaves::Aside,
            tool: Vec::new(),
            stack: Vec::new(),
            tight: false,
        };
        let all = &d.bodies;
        let Some(i) = all.number(&act.body).filter(|i| *i != 0) else { return out };
        let whole = |i: usize| body::whole(&all.list[i].id).to_owned();
        let b = &all.list[i];
        if matches!(act.verb, Verb::TakeOff | Verb::Place | Verb::Close) {
            let group: BTreeSet<String> =
                (1..all.list.len()).filter(|j| all.within(*j, i).is_some()).map(whole).chain([whole(i)]).collect();
            out.moves = group.into_iter().collect();
            out.leaves = match b.way {
                Way::Axial(end) if b.parent.is_none() => Leaves::Towards(end),
                _ => Leaves::Aside,
            };
        }
        let nobody = |_: usize| false;
        let part = all.part(a, i);
        let turned = matches!(act.verb, Verb::Loosen | Verb::Nip | Verb::Tighten | Verb::Set | Verb::BoltDown);
        if let Some(p) = part {
            let length = p.tool_mm.map_or(space::TOOL, |m| m.0);
            out.tool = match (p.kind.role(), p.turned_by) {
                (Role::Clip, _) if !out.moves.is_empty() => space::pliers(all, i, p.from, length, &nobody),
                (Role::Nut, TurnedBy::Window) => Vec::new(),
                (Role::Nut, t) if turned => space::spanner(all, i, p.from, t == TurnedBy::Outside, length, &nobody),
                _ => Vec::new(),
            };
        }
        if act.verb == Verb::Sweep {
            let reads = a
                .runouts
                .iter()
                .find(|r| act.id == ActId::sweep(&r.id).text())
                .and_then(|r| r.reads.as_deref())
                .and_then(|x| all.number(x));
            let read = &all.list[reads.unwrap_or(i)];
            // A dial stands a hand's breadth away.
            out.tool =
                space::outwards(read).into_iter().map(|r| Space { r1: r.r1.min(r.r0 + space::TOOL), ..r }).collect();
        }
        let clamps = turned
            && (part.is_some_and(|p| p.kind.role() == Role::Nut)
                || matches!(b.what, What::Housing(_))
                || act.verb == Verb::BoltDown);
        if let (true, Way::Axial(end)) = (clamps, b.way) {
            out.stack = clamp::stack(a, all, i, end.other()).members.into_iter().rev().map(whole).collect();
            out.stack.push(whole(i));
            out.stack.dedup();
            out.tight = act.verb != Verb::Loosen;
        }
        out
    }
}
