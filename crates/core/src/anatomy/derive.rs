//! What follows from an anatomy: one graph of acts, what is wrong, what is worth a look, what is to be asked.

use super::acts::{self, Act, Because, Phase, Relation, Run, Step};
use super::as_found::{self, Question};
use super::body::{Bodies, Way};
use super::findings::{self, Finding, FindingKind};
use super::text::{Text, inside};
use super::{Anatomy, Role};
use crate::quantity::Units;
use crate::refusal::Result;
use crate::terms::{ActId, End};
use rustc_hash::FxHashMap;
use serde::Serialize;
use std::collections::{BTreeSet, HashMap};

/// Everything derived from an anatomy.
#[derive(Debug, Clone)]
pub struct Derived {
    /// What moves as one piece.
    pub bodies: Bodies,
    /// Acts in the offered order: apart, then together.
    pub acts: Vec<Act>,
    /// It cannot or must not be built so.
    pub faults: Vec<Finding>,
    /// Worth a look.
    pub notes: Vec<Finding>,
    /// To be asked before anything is lost.
    pub questions: Vec<Question>,
    relations: Vec<Relation>,
    index: HashMap<String, usize>,
    /// Acts that follow each other without anything in between.
    pub runs: Vec<Run>,
    /// For each act of taking apart, what directly comes before it: numbers into `acts`, nothing left out.
    undo: Vec<Vec<usize>>,
    /// Every reason between two acts by their numbers in the graph, those that follow from others too.
    why: FxHashMap<(usize, usize), Because>,
    /// Number in the graph of each act.
    order: Vec<usize>,
}

/// Derives the acts of a machine and what is wrong with it.
///
/// ```
/// # use ironseat_core::anatomy::{Anatomy, acts::Law, derive};
/// let pump: Anatomy = serde_json::from_str(r#"{"key":"p","name":"Pump","version":1,
///   "lands":[{"id":"j","name":"journal","length_mm":60,"d_mm":40},{"id":"s","name":"shoulder","length_mm":20,"d_mm":50}],
///   "parts":[{"id":"cover","name":"Cover","kind":"cover","land":"j","at_mm":50,"width_mm":8,"outside_mm":90,"bore_mm":42},
///            {"id":"ring","name":"Sleeve","kind":"sleeve","land":"j","at_mm":20,"width_mm":20,"outside_mm":48,"fit":"shrink"}]}"#).unwrap();
/// let d = derive(&pump)?;
/// let heat = d.act("heat.ring").unwrap();
/// let b = heat.before.iter().find(|b| b.id == "on.cover").unwrap();
/// assert_eq!((b.law, b.words.to_string()), (Law::Contact, "Cover (bore 42 mm) cannot get past sleeve (48 mm)".into()));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `parts` with more than 2000.
pub fn derive(a: &Anatomy) -> Result<Derived> {
    told(&inside_sentences(a))
}

/// From a machine whose names stand as they do inside sentences.
fn told(a: &Anatomy) -> Result<Derived> {
    crate::refusal::expect(
        a.parts.len() + a.housings.len() <= 2000,
        "parts",
        "at most 2000 parts and housings are taken",
    )?;
    let mut bodies = Bodies::of(a);
    let (mut relations, mut stuck) = acts::relations(a, &bodies);
    // What is said to lie inside a housing and finds no other way goes in with it, before the shaft is fed through.
    while let Some(tangle) = acts::tangled(&relations) {
        let inside = |i: &usize| {
            let b = &bodies.list[*i];
            let h = bodies.part(a, *i)?.inside.as_deref().and_then(|h| bodies.number(h))?;
            (b.parent.is_none() && b.stands_in.is_none() && matches!(bodies.list[h].way, Way::Axial(_)))
                .then_some((*i, h))
        };
        let Some((i, h)) = tangle.iter().find_map(inside) else { break };
        bodies.lay_in(i, h);
        (relations, stuck) = acts::relations(a, &bodies);
    }
    let mut faults = stuck;
    if let Some(id) = bodies.circular.first() {
        faults.push(Finding::new(
            FindingKind::Loop,
            [id.clone()],
            format!("{} is carried by what it carries itself.", a.name_of(id)),
        ));
    }
    let mut questions = as_found::questions(a);
    let (mut graph, runs) = acts::build(a, &bodies, &relations, &questions);
    let mut notes = Vec::new();
    findings::untie(a, &bodies, &mut graph, &mut faults);
    graph.reduce(a, &bodies);
    findings::overlaps(a, &bodies, &mut faults);
    findings::facings(a, &mut faults, &mut notes);
    findings::missing(a, &bodies, &mut faults, &mut notes);
    findings::undriven(a, &bodies, &graph, &mut notes);
    let end_of = |act: &Act| -> Option<End> {
        let b = &bodies.list[bodies.number(&act.body)?];
        match b.way {
            Way::Axial(e) if b.parent.is_none() => Some(e),
            Way::Axial(_) | Way::Sideways => None,
        }
    };
    let order = graph.offered(&end_of, &runs);
    let mut place = vec![0; graph.acts.len()];
    for (k, i) in order.iter().enumerate() {
        place[*i] = k;
    }
    let mut undo = vec![Vec::new(); order.len()];
    for (i, act) in graph.acts.iter().enumerate() {
        for n in graph.after(i) {
            if act.phase == Phase::Apart && graph.acts[*n].phase == Phase::Apart {
                undo[place[*n]].push(place[i]);
            }
        }
    }
    let (acts, why) = graph.into_parts();
    let mut list: Vec<Option<Act>> = acts.into_iter().map(Some).collect();
    let acts: Vec<Act> = order.iter().filter_map(|i| list[*i].take()).collect();
    let index: HashMap<String, usize> = acts.iter().enumerate().map(|(i, a)| (a.id.clone(), i)).collect();
    // What can at no time be read on this machine is not asked.
    questions.retain(|q| q.topic == as_found::Topic::Closure || index.contains_key(&ActId::ask(&q.id).text()));
    Ok(Derived { bodies, acts, faults, notes, questions, relations, index, runs, undo, why, order })
}

/// The same machine with its names as they stand inside sentences: what is derived are sentences.
fn inside_sentences(a: &Anatomy) -> Anatomy {
    let mut a = a.clone();
    let names = a.parts.iter_mut().map(|p| &mut p.name).chain(a.housings.iter_mut().map(|h| &mut h.name));
    let names = names.chain(a.seats.iter_mut().map(|s| &mut s.name)).chain(a.holes.iter_mut().map(|h| &mut h.name));
    for name in names {
        *name = inside(name);
    }
    a
}

/// What taking something off again costs.
#[derive(Debug, Clone, PartialEq, Default, Serialize)]
pub struct Cost {
    /// To come off, in this order.
    pub off: Vec<String>,
    /// Scrapped by it.
    pub scrapped: Vec<String>,
    /// Heated again.
    pub reheat: Vec<String>,
    /// Parted housings whose upper half is lifted; their lower half stays.
    pub opened: Vec<String>,
    /// Locks that are opened on the way, as ids of acts.
    pub acts: Vec<String>,
    /// Hands-on minutes, off and on again.
    pub minutes: f64,
    /// To be ordered: what is scrapped, by name.
    pub order: Vec<String>,
}

/// Why two acts cannot change places.
#[derive(Debug, Clone, PartialEq)]
pub struct Against {
    /// Number of the act that comes first.
    pub first: usize,
    /// Number of the act that waits for it.
    pub then: usize,
    /// Law that says so.
    pub law: acts::Law,
    /// Why, with both sizes where bodies meet.
    pub words: Text,
}

impl Cost {
    /// Acts that lift halves and take bodies off, in their order.
    #[must_use]
    pub fn steps(&self, d: &Derived) -> Vec<String> {
        let off: BTreeSet<String> = self.off.iter().map(|b| ActId::off(b).text()).collect();
        let lifts = |s: &Act| self.acts.contains(&s.id) && matches!(ActId::of(&s.id), Some(ActId::Open(_)));
        d.acts.iter().filter(|s| off.contains(&s.id) || lifts(s)).map(|s| s.id.clone()).collect()
    }
    /// The answer of `iron-seat derive FILE --out BODY`.
    #[must_use]
    pub fn json(&self, a: &Anatomy, d: &Derived, body: &str) -> serde_json::Value {
        let name = |id: &String| d.bodies.number(id).map_or(id.clone(), |i| d.bodies.list[i].name.clone());
        let off: Vec<&String> = self.opened.iter().chain(&self.off).collect();
        let said = |id: &String| match ActId::of(id) {
            Some(ActId::Open(h)) => format!("the upper half of {}", name(&h)),
            Some(ActId::Off(b)) => name(&b),
            _ => String::new(),
        };
        let list: Vec<String> = self.steps(d).iter().map(said).collect();
        let words = if off.is_empty() {
            format!("Nothing has to come off for {}.", a.name_of(body))
        } else {
            format!("For {} come off, in this order: {}.", a.name_of(body), list.join(", "))
        };
        let scrap = if self.order.is_empty() {
            String::new()
        } else {
            format!(" Scrapped, to be ordered: {}.", self.order.join(", "))
        };
        serde_json::json!({"off": off, "scrapped": self.scrapped, "reheat": self.reheat, "minutes": self.minutes, "words": format!("{words}{scrap}")})
    }
}

impl Derived {
    /// An act by id.
    #[must_use]
    pub fn act(&self, id: &str) -> Option<&Act> {
        self.index.get(id).map(|i| &self.acts[*i])
    }
    /// Whether something can be built as it stands.
    #[must_use]
    pub fn buildable(&self) -> bool {
        !self.faults.iter().any(|f| matches!(f.kind, FindingKind::Stuck | FindingKind::Loop))
    }
    /// What the way says of bodies.
    #[must_use]
    pub fn relations(&self) -> &[Relation] {
        &self.relations
    }

    /// What has to come off, of what is on, so that a body can be got at: all that stands in its way out, with
    /// unlocking and loosening first. `have` names what is on; the body itself is not in the list.
    ///
    /// # Errors
    /// `part` or `done` with an id that is not there.
    pub fn back_out(&self, a: &Anatomy, have: &[&str], body: &str) -> Result<Cost> {
        let targets = self.bodies.pieces_of(body);
        crate::refusal::expect(!targets.is_empty(), "part", "this part is not in the anatomy")?;
        let mut on: BTreeSet<usize> = BTreeSet::new();
        for id in have {
            let list = self.bodies.pieces_of(id);
            crate::refusal::expect(
                !list.is_empty() || a.part(id).is_some_and(|p| p.solid),
                "done",
                format!("{id} is on and not in the anatomy"),
            )?;
            on.extend(list);
        }
        // Backwards through what comes before taking it off, as far as it is about what is on.
        let about = |act: &Act| self.bodies.pieces_of(&act.body).into_iter().next();
        let mut need: BTreeSet<usize> = BTreeSet::new();
        let mut open: Vec<usize> = targets
            .iter()
            .filter_map(|t| self.index.get(&ActId::off(&self.bodies.list[*t].id).text()).copied())
            .collect();
        while let Some(k) = open.pop() {
            for p in &self.undo[k] {
                let act = &self.acts[*p];
                let moves = matches!(
                    act.verb,
                    acts::Verb::TakeOff | acts::Verb::Loosen | acts::Verb::Unlock | acts::Verb::StraightenTab
                );
                let present = about(act).is_some_and(|b| on.contains(&b) || targets.contains(&b));
                if moves && present && need.insert(*p) {
                    open.push(*p);
                }
            }
        }
        let mut cost = Cost::default();
        let mut seen = BTreeSet::new();
        for k in &need {
            let act = &self.acts[*k];
            if act.verb == acts::Verb::TakeOff {
                let own = about(act).is_some_and(|b| targets.contains(&b));
                if !own && matches!(ActId::of(&act.id), Some(ActId::Off(_))) && seen.insert(act.body.clone()) {
                    cost.off.push(act.body.clone());
                    self.add_price(a, &act.body, &mut cost);
                } else if matches!(ActId::of(&act.id), Some(ActId::Open(_))) {
                    if !own {
                        cost.opened.push(act.body.clone());
                    }
                    cost.acts.push(act.id.clone());
                    cost.minutes += 2.0 * act.minutes;
                }
            } else {
                cost.acts.push(act.id.clone());
                cost.minutes += 2.0 * act.minutes;
            }
        }
        cost.opened.retain(|h| !cost.off.contains(h));
        Ok(cost)
    }

    /// Adds what taking one body off costs.
    pub fn add_price(&self, a: &Anatomy, body: &str, cost: &mut Cost) {
        let Some(i) = self.bodies.number(body) else { return };
        match self.bodies.part(a, i) {
            Some(p) => {
                if p.scrapped_by_removal() {
                    cost.scrapped.push(p.id.clone());
                    cost.order.push(p.name.clone());
                }
                if p.reheated() {
                    cost.reheat.push(p.id.clone());
                }
                cost.minutes += 2.0 * a.minutes_of(p);
            }
            None => cost.minutes += 30.0,
        }
    }

    /// What speaks against doing an act at another place of the offered order: each reason with the two acts that it
    /// stands between, by number, what must come first first. Empty when that order is as good.
    ///
    /// ```
    /// # use ironseat_core::anatomy::{Anatomy, derive};
    /// # let pump: Anatomy = serde_json::from_str(r#"{"key":"p","name":"Pump","version":1,
    /// #   "lands":[{"id":"j","name":"journal","length_mm":60,"d_mm":40},{"id":"s","name":"shoulder","length_mm":20,"d_mm":50}],
    /// #   "parts":[{"id":"cover","name":"Cover","kind":"cover","land":"j","at_mm":50,"width_mm":8,"outside_mm":90,"bore_mm":42},
    /// #            {"id":"ring","name":"Sleeve","kind":"sleeve","land":"j","at_mm":20,"width_mm":20,"outside_mm":48}]}"#).unwrap();
    /// let d = derive(&pump)?;
    /// let at = |id: &str| d.acts.iter().position(|s| s.id == id).unwrap();
    /// let against = d.tried(&pump, at("on.ring"), at("on.cover"));
    /// assert_eq!(against[0].words.to_string(), "Cover (bore 42 mm) cannot get past sleeve (48 mm)");
    /// assert_eq!((against[0].first, against[0].then), (at("on.cover"), at("on.ring")));
    /// # Ok::<(), ironseat_core::Refusal>(())
    /// ```
    #[must_use]
    pub fn tried(&self, a: &Anatomy, act: usize, at: usize) -> Vec<Against> {
        let n = self.acts.len();
        if act >= n || at >= n {
            return Vec::new();
        }
        // Whatever chain leads from one to the other, its last link lies between the two places.
        let pairs: Vec<(usize, usize)> = if at < act {
            (at..act).rev().map(|x| (x, act)).collect()
        } else {
            (act + 1..=at).map(|x| (act, x)).collect()
        };
        let way: HashMap<(Step, Step), &Because> =
            self.relations.iter().rev().map(|r| ((r.first, r.then), &r.why)).collect();
        let mut out: Vec<Against> = pairs
            .into_iter()
            .filter_map(|(first, then)| {
                let why = self
                    .why
                    .get(&(self.order[first], self.order[then]))
                    .or_else(|| self.way_between(&way, first, then))?;
                Some(Against { first, then, law: why.law(), words: why.say(a, &self.bodies).capital() })
            })
            .collect();
        // What meets in space says most.
        out.sort_by_key(|x| x.law != acts::Law::Way);
        out
    }

    /// What the way says of two acts that move something, mounting or taking apart; the graph leaves out what follows
    /// from others.
    fn way_between<'a>(
        &self,
        way: &HashMap<(Step, Step), &'a Because>,
        first: usize,
        then: usize,
    ) -> Option<&'a Because> {
        let step = |k: usize| {
            let act = &self.acts[k];
            let body = self.bodies.number(&act.body)?;
            match ActId::of(&act.id)? {
                ActId::On(_) | ActId::Off(_) => Some(Step::Place(body)),
                ActId::Close(_) | ActId::Open(_) => Some(Step::Close(body)),
                _ => None,
            }
        };
        if self.acts[first].phase != self.acts[then].phase {
            return None;
        }
        let (x, y) = (step(first)?, step(then)?);
        way.get(&if self.acts[first].phase == Phase::Mount { (x, y) } else { (y, x) }).copied()
    }

    /// Why an act waits for the end of what is begun and must not be left alone: a hot ring that nothing holds yet.
    #[must_use]
    pub fn held_by_run(&self, act: &Act, done: impl Fn(&str) -> bool) -> Option<Text> {
        let (run, next) = acts::left_alone(&self.runs, act, done)?;
        let next = self.act(next)?;
        let name = self.bodies.number(&run.body).map_or("it", |i| self.bodies.list[i].name.as_str());
        Some(Text::new(format!("{name} is hot and not held yet. First: {}", next.words.raw())).capital())
    }

    /// Plays an order of acts of one phase from its beginning.
    ///
    /// # Errors
    /// The first act that is not possible, and why.
    pub fn check(&self, order: &[&str]) -> std::result::Result<(), (String, Text)> {
        let Some(phase) = order.iter().find_map(|id| self.act(id)).map(|a| a.phase) else {
            return order.first().map_or(Ok(()), |id| Err(((*id).to_owned(), Text::new("There is no such act."))));
        };
        let mut done: BTreeSet<&str> = BTreeSet::new();
        for id in order {
            let Some(act) = self.act(id) else { return Err(((*id).to_owned(), Text::new("There is no such act."))) };
            if act.phase != phase {
                return Err((act.id.clone(), Text::new("This act belongs to the other phase.")));
            }
            if done.contains(act.id.as_str()) {
                return Err((act.id.clone(), Text::new("This act is done already.")));
            }
            if let Some(words) = self.held_by_run(act, |id| done.contains(id)) {
                return Err((act.id.clone(), words));
            }
            done.insert(&act.id);
            let lacks = act
                .before
                .iter()
                .find(|b| !done.contains(b.id.as_str()) && self.act(&b.id).is_some_and(|x| x.phase == phase));
            if let Some(b) = lacks {
                let first = self.act(&b.id).map_or(String::new(), |x| x.words.raw().trim_end_matches('.').to_owned());
                return Err((act.id.clone(), Text::new(format!("First: {first}. {}.", b.words.raw()))));
            }
        }
        Ok(())
    }

    /// The answer of `iron-seat derive`.
    #[must_use]
    pub fn json(&self, units: Units) -> serde_json::Value {
        let finding =
            |f: &Finding| serde_json::json!({"kind": f.kind, "bodies": f.bodies, "words": f.words.say(units)});
        let act = |s: &Act| {
            let mut v = serde_json::json!({
                "id": s.id, "verb": s.verb, "body": s.body, "phase": s.phase, "stage": s.stage, "words": s.words.say(units), "tool": s.tool,
                "caution": s.caution.map(crate::caution::Caution::words), "people": s.people, "minutes": s.minutes, "wait_min": s.wait_min,
                "before": s.before.iter().map(|b| serde_json::json!({"id": b.id, "law": b.law, "words": b.words.say(units)})).collect::<Vec<_>>(),
            });
            v["limits"] = s.measure.as_ref().filter(|m| m.lo.or(m.hi).is_some()).map_or(
                serde_json::Value::Null,
                |m| serde_json::json!({"lo": m.lo, "hi": m.hi, "unit": m.unit.word()}),
            );
            v
        };
        serde_json::json!({
            "faults": self.faults.iter().map(finding).collect::<Vec<_>>(),
            "notes": self.notes.iter().map(finding).collect::<Vec<_>>(),
            "acts": self.acts.iter().map(act).collect::<Vec<_>>(),
            "questions": self.questions.iter().map(|q| {
                let ask = q.id.rsplit_once('.').map_or(q.id.as_str(), |x| x.1);
                let ask = if q.about.is_empty() { q.id.split('.').next().unwrap_or("") } else if q.id.contains(".port.") { "port" } else { ask };
                serde_json::json!({"id": q.id, "body": q.about, "ask": ask, "words": q.words})
            }).collect::<Vec<_>>(),
        })
    }
}

impl super::Part {
    /// How it comes off scraps it.
    #[must_use]
    pub fn scrapped_by_removal(&self) -> bool {
        self.kind.single_use() || self.through_balls || (self.kind.role() == Role::TabWasher && self.tab_bent >= 1)
    }
    /// It is heated again when it has to come off.
    #[must_use]
    pub fn reheated(&self) -> bool {
        self.fit == super::Hold::Shrink
    }
}

/// A machine type with everything that follows from it: made once, shared by all its rebuilds.
#[derive(Debug, Clone)]
pub struct MachineType {
    /// As described.
    pub anatomy: Anatomy,
    /// With its names as they stand inside sentences: whatever makes an act speaks of it so.
    pub named: Anatomy,
    /// What follows.
    pub derived: Derived,
}

impl MachineType {
    /// Derives it.
    ///
    /// # Errors
    /// As [`derive()`].
    pub fn new(anatomy: Anatomy) -> Result<Self> {
        let named = inside_sentences(&anatomy);
        Ok(Self { derived: told(&named)?, named, anatomy })
    }
    /// Whether the ring of a seat enters a bore that is there already: heated, its outside would grow into it.
    #[must_use]
    pub fn enters_bore(&self, seat: &str) -> bool {
        let of = |k| self.derived.acts.iter().any(|s| s.seat.as_ref().is_some_and(|x| x.0 == seat && x.1 == k));
        let part = self.anatomy.seat(seat).and_then(|s| self.anatomy.part(&s.part));
        part.is_some_and(|p| p.fit == super::Hold::Shrink)
            && of(crate::terms::StepKind::PutOn)
            && !of(crate::terms::StepKind::Heat)
    }
}
