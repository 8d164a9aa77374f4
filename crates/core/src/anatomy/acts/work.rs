//! What is at hand while the acts are made: bodies, relations, the graph so far; who hides what, what a tool needs.

use super::super::body::{Bodies, What, mass};
use super::super::{Anatomy, space};
use super::Graph;
use super::laws::{Because, Relation, Step};
use crate::anatomy::clamp::Stack;
use crate::terms::ActId;
use rustc_hash::FxHashMap as HashMap;

/// More than one person lifts, kg.
const ONE_PERSON_KG: f64 = 15.0;

/// Everything at hand while the acts are made.
pub(super) struct Work<'a> {
    pub a: &'a Anatomy,
    pub all: &'a Bodies,
    pub relations: &'a [Relation],
    /// Steps that directly follow each by a relation.
    pub ahead: HashMap<Step, Vec<Step>>,
    pub g: Graph,
    pub tighteners: Vec<Tightener>,
}

impl Work<'_> {
    pub(super) fn id(&self, i: usize) -> &str {
        &self.all.list[i].id
    }
    pub(super) fn name(&self, i: usize) -> &str {
        &self.all.list[i].name
    }
    /// The act by which a body is there when mounting.
    pub(super) fn step(&self, s: Step) -> String {
        match s {
            Step::Place(b) => ActId::on(self.id(b)).text(),
            Step::Close(b) => ActId::close(self.id(b)).text(),
        }
    }
    /// The act by which it is no longer there when taking apart.
    pub(super) fn gone(&self, s: Step) -> String {
        match s {
            Step::Place(b) => ActId::off(self.id(b)).text(),
            Step::Close(b) => ActId::open(self.id(b)).text(),
        }
    }
    /// Numbers of the acts of one kind, by body.
    pub(super) fn numbers(&self, kind: fn(String) -> ActId) -> Vec<Option<usize>> {
        self.all.list.iter().map(|b| self.g.number(&kind(b.id.clone()).text())).collect()
    }
    /// From when on a body is in the way of tools: with its carrier, of a parted housing with its upper half.
    pub(super) fn hides(&self, o: usize) -> Step {
        let parted = self.all.list[o].split && matches!(self.all.list[o].what, What::Housing(_));
        if parted { Step::Close(o) } else { Step::Place(self.all.root(o)) }
    }
    /// A housing that may be there when an act is done: the act does not have to come before it.
    pub(super) fn stands(&self, h: usize, act: &str) -> bool {
        !must_come_later(self, act, &ActId::on(self.id(h)).text())
    }
    /// An act that needs room is done before what takes the room, but for what has to be there first.
    pub(super) fn room(&mut self, act: &str, held: usize, tool: &'static str, spaces: &[space::Space], but: &[usize]) {
        let root = self.all.root(held);
        for o in 1..self.all.list.len() {
            let same = self.all.root(o) == root || o == held || but.contains(&o);
            let open = self.all.open(self.a, o);
            if same || open || !space::takes_room(spaces, &self.all.list[o]) {
                continue;
            }
            let then = self.step(self.hides(o));
            self.g.edge(act, &then, Because::Room { tool, held, standing: o });
        }
    }
    /// Of several ways to reach a body the one that is hidden by less; bodies that must be there before `act` hide for
    /// good.
    pub(super) fn least_hidden(
        &self,
        ways: impl IntoIterator<Item = Option<Vec<usize>>>,
        act: &str,
    ) -> Option<Vec<usize>> {
        let late = |list: &Vec<usize>| {
            let before = |o: &usize| must_come_later(self, &self.step(self.hides(*o)), act);
            (list.iter().filter(|o| before(o)).count(), list.len())
        };
        let best = ways.into_iter().flatten().min_by_key(late)?;
        (late(&best).0 == 0).then_some(best)
    }
    /// What takes the room of a tool comes after the act: by the way that is hidden by less. Where every way is hidden
    /// by what must be there before, the two wait for each other, and that is told as a fault.
    pub(super) fn reach(&mut self, act: &str, held: usize, tool: &'static str, ways: [Option<Vec<usize>>; 3]) {
        let list =
            self.least_hidden(ways.iter().cloned(), act).or_else(|| ways.into_iter().flatten().min_by_key(Vec::len));
        for o in list.unwrap_or_default() {
            let then = self.step(self.hides(o));
            self.g.edge(act, &then, Because::Room { tool, held, standing: o });
        }
    }
    /// People and tool of moving a group.
    pub(super) fn lifting(&self, i: usize) -> (bool, u32) {
        let heavy = mass(self.a, self.all, i) > ONE_PERSON_KG;
        let said = self.all.part(self.a, i).map_or(0, |p| p.people);
        (heavy, if said > 0 { said } else { 1 + u32::from(heavy) })
    }
    /// Every act that a body needs before it counts as fixed: placed, proved home.
    pub(super) fn there(&self, i: usize) -> Vec<String> {
        let mut out = vec![ActId::on(self.id(self.all.root(i))).text()];
        if self.all.root(i) != i {
            out.push(ActId::on(self.id(i)).text());
        }
        out.push(ActId::home(self.id(i)).text());
        out
    }
}

/// Whether one act comes before another, directly or not.
pub(super) fn must_come_later(w: &Work, first: &str, then: &str) -> bool {
    w.g.number(first).zip(w.g.number(then)).is_some_and(|(a, b)| w.g.leads(a, b))
}

/// How a tightener is made tight.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum How {
    /// Nipped and tightened.
    Nut,
    /// Turned and read in one act.
    Adjusting,
    Clip,
    Bolts,
    /// Its own screws, under the cap that holds it.
    Expander,
}

/// Something that clamps a stack.
#[derive(Debug, Clone)]
pub(crate) struct Tightener {
    pub body: usize,
    pub how: How,
    pub stack: Stack,
    /// Act that leaves it tight.
    pub tight: String,
    /// Act that leaves it nipped.
    pub nipped: String,
    /// Washers and screws that lock it.
    pub locks: Vec<usize>,
    /// Room that its bolt heads need.
    pub heads: Vec<space::Space>,
}
