//! What is set beside lands and parts: limits, pairs, holes, bolt rings, rules, seats. Each is put in or taken out
//! whole.

use super::{Anatomy, BoltRing, FloatOf, GapOf, Hole, PairOf, Role, Rule, RunoutOf, Seat, ThrustSet};
use crate::anatomy::names::{free_id, named};
use crate::refusal::{Result, expect};

/// One thing that is set.
#[derive(Debug, Clone, PartialEq)]
#[allow(missing_docs)]
pub enum Item {
    Float(FloatOf),
    Runout(RunoutOf),
    Gap(GapOf),
    Hole(Hole),
    Bolts(BoltRing),
    Rule(Rule),
    Pair(PairOf),
    Thrust(ThrustSet),
    Seat(Box<Seat>),
}

/// Which list a thing stands in.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum List {
    Floats,
    Runouts,
    Gaps,
    Holes,
    Bolts,
    Rules,
    Pairs,
    Thrusts,
    Seats,
}

impl List {
    /// All, with their names in forms and the word for one of them.
    pub const ALL: [(Self, &'static str, &'static str); 9] = [
        (Self::Floats, "float", "float"),
        (Self::Runouts, "runout", "runout"),
        (Self::Gaps, "gap", "gap"),
        (Self::Seats, "seat", "bearing seat"),
        (Self::Pairs, "pair", "pair"),
        (Self::Thrusts, "thrust", "thrust set"),
        (Self::Holes, "hole", "hole"),
        (Self::Bolts, "bolts", "bolt ring"),
        (Self::Rules, "rule", "rule"),
    ];
    /// From its name in forms.
    #[must_use]
    pub fn of(key: &str) -> Option<Self> {
        Self::ALL.iter().find(|l| l.1 == key).map(|l| l.0)
    }
    /// The word for one of them.
    #[must_use]
    pub fn word(self) -> &'static str {
        Self::ALL.iter().find(|l| l.0 == self).map_or("", |l| l.2)
    }
}

impl Item {
    /// Its list.
    #[must_use]
    pub fn list(&self) -> List {
        match self {
            Self::Float(_) => List::Floats,
            Self::Runout(_) => List::Runouts,
            Self::Gap(_) => List::Gaps,
            Self::Hole(_) => List::Holes,
            Self::Bolts(_) => List::Bolts,
            Self::Rule(_) => List::Rules,
            Self::Pair(_) => List::Pairs,
            Self::Thrust(_) => List::Thrusts,
            Self::Seat(_) => List::Seats,
        }
    }
    /// What names it within its list.
    #[must_use]
    pub fn key(&self) -> String {
        match self {
            Self::Float(x) => x.id.clone(),
            Self::Runout(x) => x.id.clone(),
            Self::Gap(x) => x.id.clone(),
            Self::Hole(x) => x.id.clone(),
            Self::Seat(x) => x.id.clone(),
            Self::Bolts(x) => x.part.clone(),
            Self::Rule(x) => format!("{}>{}", x.first, x.then),
            Self::Pair(x) => format!("{}+{}", x.a, x.b),
            Self::Thrust(x) => format!("{}+{}", x.smaller, x.larger),
        }
    }

    fn id_mut(&mut self) -> Option<(&mut String, String)> {
        match self {
            Self::Float(x) => Some((&mut x.id, x.name.clone())),
            Self::Runout(x) => Some((&mut x.id, x.name.clone())),
            Self::Gap(x) => Some((&mut x.id, x.name.clone())),
            Self::Hole(x) => Some((&mut x.id, x.name.clone())),
            Self::Seat(x) => Some((&mut x.id, x.name.clone())),
            _ => None,
        }
    }

    fn check(&self, a: &Anatomy) -> Result<()> {
        let apart = |x: &str, y: &str, field: &str| expect(x != y, field, "expected another part than the first one");
        match self {
            Self::Float(x) => {
                named(&x.name)?;
                expect(x.lo_mm.0 >= 0.0 && x.hi_mm.0 > x.lo_mm.0, "hi", "expected an upper limit above the lower one")?;
                expect(!x.source.trim().is_empty(), "source", "expected where the limit comes from, with its date")
            }
            Self::Runout(x) => {
                named(&x.name)?;
                expect(x.limit_um.0 > 0.0, "limit", "expected a limit above 0")?;
                expect(!x.source.trim().is_empty(), "source", "expected where the limit comes from, with its date")
            }
            Self::Gap(x) => {
                named(&x.name)?;
                expect(x.min_mm.0 > 0.0, "min", "expected a gap above 0")?;
                expect(!x.source.trim().is_empty(), "source", "expected where the limit comes from, with its date")
            }
            Self::Hole(x) => {
                named(&x.name)?;
                expect(
                    (0.0..360.0).contains(&x.at_deg),
                    "at_deg",
                    "expected degrees from 0 to 359, clockwise seen from end A",
                )
            }
            Self::Bolts(x) => {
                expect((1..=200).contains(&x.n), "n", "expected 1 to 200 bolts")?;
                expect(x.torque_nm > 0.0, "torque", "expected a torque above 0 N·m")
            }
            Self::Rule(x) => {
                apart(&x.first, &x.then, "then")?;
                expect(
                    !x.reason.trim().is_empty(),
                    "reason",
                    "expected the reason: a rule without one is not believed at the bench",
                )
            }
            Self::Pair(x) => apart(&x.a, &x.b, "b"),
            Self::Thrust(x) => apart(&x.smaller, &x.larger, "larger"),
            Self::Seat(x) => {
                named(&x.name)?;
                let bearing = a.part(&x.part).is_some_and(|p| p.kind.role() == Role::Rolling);
                expect(bearing, "part", "expected a bearing with its designation")?;
                expect(!x.source.trim().is_empty(), "source", "expected where the limits come from, with date")
            }
        }
    }
}

/// Puts one in the place of the one with the same key, at the end when there is none.
fn put<T>(list: &mut Vec<T>, new: T, same: impl Fn(&T) -> bool) {
    match list.iter().position(same) {
        Some(i) => list[i] = new,
        None => list.push(new),
    }
}

impl Anatomy {
    /// Everything that is set, list by list.
    #[must_use]
    pub fn items(&self) -> Vec<Item> {
        let mut out: Vec<Item> = Vec::new();
        out.extend(self.floats.iter().cloned().map(Item::Float));
        out.extend(self.runouts.iter().cloned().map(Item::Runout));
        out.extend(self.gaps.iter().cloned().map(Item::Gap));
        out.extend(self.seats.iter().cloned().map(|s| Item::Seat(Box::new(s))));
        out.extend(self.pairs.iter().cloned().map(Item::Pair));
        out.extend(self.thrust_sets.iter().cloned().map(Item::Thrust));
        out.extend(self.holes.iter().cloned().map(Item::Hole));
        out.extend(self.bolt_rings.iter().cloned().map(Item::Bolts));
        out.extend(self.before.iter().cloned().map(Item::Rule));
        out
    }

    /// Puts an item in: in the place of the one named `over`, as a new one when that is empty.
    pub(super) fn put_item(&mut self, over: &str, mut item: Item) -> Result<()> {
        item.check(self)?;
        let list = item.list();
        if !over.is_empty() {
            let there = self.items().iter().any(|i| i.list() == list && i.key() == over);
            expect(there, "board", format!("this {} is not there any more: somebody changed it", list.word()))?;
        }
        let taken: Vec<String> =
            self.items().iter().filter(|i| i.list() == list).map(Item::key).filter(|k| k != over).collect();
        if let Some((id, name)) = item.id_mut() {
            if over.is_empty() {
                *id = free_id(&name, 24, &list.word().replace(' ', "-"), |k| taken.iter().any(|t| t == k));
            } else {
                over.clone_into(id);
            }
        } else {
            expect(!taken.contains(&item.key()), "board", format!("this {} is there already", list.word()))?;
        }
        let same = |key: String| !over.is_empty() && key == over;
        match item {
            Item::Float(x) => put(&mut self.floats, x, |o| same(o.id.clone())),
            Item::Runout(x) => put(&mut self.runouts, x, |o| same(o.id.clone())),
            Item::Gap(x) => put(&mut self.gaps, x, |o| same(o.id.clone())),
            Item::Hole(x) => put(&mut self.holes, x, |o| same(o.id.clone())),
            Item::Bolts(x) => put(&mut self.bolt_rings, x, |o| same(Item::Bolts(o.clone()).key())),
            Item::Rule(x) => put(&mut self.before, x, |o| same(Item::Rule(o.clone()).key())),
            Item::Pair(x) => put(&mut self.pairs, x, |o| same(Item::Pair(o.clone()).key())),
            Item::Thrust(x) => put(&mut self.thrust_sets, x, |o| same(Item::Thrust(o.clone()).key())),
            Item::Seat(x) => put(&mut self.seats, *x, |o| same(o.id.clone())),
        }
        Ok(())
    }

    /// Takes an item out.
    pub(super) fn take_item(&mut self, list: List, key: &str) -> Result<()> {
        let there = self.items().iter().any(|i| i.list() == list && i.key() == key);
        expect(there, "board", format!("this {} is not there any more: somebody changed it", list.word()))?;
        match list {
            List::Floats => self.floats.retain(|x| x.id != key),
            List::Runouts => self.runouts.retain(|x| x.id != key),
            List::Gaps => self.gaps.retain(|x| x.id != key),
            List::Holes => self.holes.retain(|x| x.id != key),
            List::Seats => self.seats.retain(|x| x.id != key),
            List::Bolts => self.bolt_rings.retain(|x| x.part != key),
            List::Rules => self.before.retain(|x| Item::Rule(x.clone()).key() != key),
            List::Pairs => self.pairs.retain(|x| Item::Pair(x.clone()).key() != key),
            List::Thrusts => self.thrust_sets.retain(|x| Item::Thrust(x.clone()).key() != key),
        }
        Ok(())
    }
}
