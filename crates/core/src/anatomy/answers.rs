//! What a note asks of the sheet, and the answers that can be given with one touch: made where the question is made, so
//! that none is offered which the machine does not have.

use super::body::{Bodies, What, whole};
use super::items::Item;
use super::{Anatomy, LockedBy, Lubricant, Part, Role, facing};
use crate::fasten::Hand;
use crate::refusal::{Refusal, Result, expect};
use crate::terms::End;

/// What is asked.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Asked {
    /// What the bolts of a part are fastened to.
    To,
    /// Which end the heads of bolts look at.
    Head,
    /// What a nut is turned against.
    Against,
    /// What a part is fitted into at the bench.
    CarriedBy,
    /// What locks a nut.
    LockedBy,
    /// Which hand a thread has.
    Hand,
    /// Which surface a dial touches.
    Reads,
    /// What lubricates the machine.
    Lubricant,
    /// Which ways the two of a pair face.
    Pair,
    /// Which part is turned round.
    Turn,
}

impl Asked {
    /// All, with their names in forms and what was done when one is answered.
    pub const ALL: [(Self, &'static str, &'static str); 10] = [
        (Self::To, "to", "said what bolts are fastened to"),
        (Self::Head, "head", "said where the heads of bolts look"),
        (Self::Against, "against", "said what a nut is turned against"),
        (Self::CarriedBy, "carried_by", "said what a part is fitted into"),
        (Self::LockedBy, "locked_by", "said what locks a nut"),
        (Self::Hand, "hand", "said the hand of a thread"),
        (Self::Reads, "reads", "said what a dial touches"),
        (Self::Lubricant, "lubricant", "said grease or oil"),
        (Self::Pair, "pair", "a pair faced"),
        (Self::Turn, "turn", "part turned round"),
    ];
    /// From its name in forms.
    #[must_use]
    pub fn of(key: &str) -> Option<Self> {
        Self::ALL.iter().find(|a| a.1 == key).map(|a| a.0)
    }
    /// Its name in forms.
    #[must_use]
    pub fn key(self) -> &'static str {
        Self::ALL.iter().find(|a| a.0 == self).map_or("", |a| a.1)
    }
    /// What was done, for the list of changes.
    #[must_use]
    pub fn done(self) -> &'static str {
        Self::ALL.iter().find(|a| a.0 == self).map_or("", |a| a.2)
    }
}

/// A question with the answers to choose from.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Ask {
    /// What is asked.
    pub asked: Asked,
    /// Id of what it is asked of; of a pair `a+b`; empty where the whole machine is asked.
    pub of: String,
    /// What can be answered: its value and its words. None of two is the same.
    pub answers: Vec<(String, String)>,
}

/// No more answers than keys to give them by.
const MOST: usize = 9;

impl Ask {
    fn new(asked: Asked, of: &str, answers: impl IntoIterator<Item = (String, String)>) -> Option<Self> {
        let mut list: Vec<(String, String)> = Vec::new();
        for (with, words) in answers {
            if !list.iter().any(|x| x.0 == with) {
                list.push((with, words));
            }
        }
        list.truncate(MOST);
        (!list.is_empty()).then(|| Self { asked, of: of.to_owned(), answers: list })
    }

    fn bodies(asked: Asked, of: &str, all: &Bodies, list: impl IntoIterator<Item = usize>) -> Option<Self> {
        // The shaft has no id that a sheet could name; pieces go by the whole.
        let named = list.into_iter().filter(|i| *i != 0 && whole(&all.list[*i].id) != of);
        Self::new(asked, of, named.map(|i| (whole(&all.list[i].id).to_owned(), all.list[i].name.clone())))
    }

    /// What bolts are fastened to: the bodies whose faces meet the flange, or those that it looks at, nearest first.
    #[must_use]
    pub fn to(all: &Bodies, part: &str, meets: &[usize], takes_bolts: impl Fn(usize) -> bool) -> Option<Self> {
        if !meets.is_empty() {
            return Self::bodies(Asked::To, part, all, meets.iter().copied());
        }
        let i = all.number(part)?;
        let near = nearest(all, i, None, |o| takes_bolts(o) && all.root(o) != i);
        Self::bodies(Asked::To, part, all, near.into_iter().take(4))
    }

    /// Which end the heads of bolts look at.
    #[must_use]
    pub fn head(part: &str) -> Option<Self> {
        let ends = [End::A, End::B].map(|e| (e.letter().to_owned(), format!("heads towards end {}", e.letter())));
        Self::new(Asked::Head, part, ends)
    }

    /// What a nut is turned against: what its face looks at, nearest first.
    #[must_use]
    pub fn against(a: &Anatomy, all: &Bodies, nut: &Part) -> Option<Self> {
        let i = all.number(&nut.id)?;
        // A key, a screw and a lip are not what a nut is turned against.
        let bears = |o: usize| match all.list[o].what {
            What::Shaft => false,
            What::Housing(_) => true,
            What::Part(k) => {
                let role = a.parts[k].kind.role();
                all.list[o].build != super::Build::Key && all.list[o].build != super::Build::Ray && !role.seals()
            }
        };
        let near = nearest(all, i, Some(nut.from.other()), bears);
        Self::bodies(Asked::Against, &nut.id, all, near.into_iter().take(3))
    }

    /// What a part is fitted into at the bench.
    #[must_use]
    pub fn carried_by(all: &Bodies, part: &str, pocket: usize) -> Option<Self> {
        Self::bodies(Asked::CarriedBy, part, all, [pocket])
    }

    /// What locks a nut.
    #[must_use]
    pub fn locked_by(nut: &str) -> Option<Self> {
        let words = |l: LockedBy| match l {
            LockedBy::Tab => "a tab",
            LockedBy::Pin => "a pin",
            LockedBy::Wire => "a wire",
            LockedBy::Stake => "its staked collar",
            LockedBy::Compound => "threadlocker",
            LockedBy::Prevailing => "its own thread (prevailing)",
        };
        Self::new(Asked::LockedBy, nut, LockedBy::ALL.map(|(l, key)| (key.to_owned(), words(l).to_owned())))
    }

    /// Which hand a thread has.
    #[must_use]
    pub fn hand(nut: &str) -> Option<Self> {
        let hands = [Hand::Right, Hand::Left].map(|h| (h.name().to_owned(), format!("{}-hand", h.name())));
        Self::new(Asked::Hand, nut, hands)
    }

    /// Which surface a dial touches: of the part, of the land that it sits on, of either end of the shaft.
    #[must_use]
    pub fn reads(a: &Anatomy, runout: &str, part: &str) -> Option<Self> {
        let own = (part.to_owned(), a.name_of(part).to_owned());
        let seat = a.part(part).and_then(|p| a.land(&p.land));
        let lands = seat.into_iter().chain(a.lands.first()).chain(a.lands.last());
        let touched = lands.map(|l| (l.id.clone(), format!("the shaft at {}", l.name)));
        Self::new(Asked::Reads, runout, std::iter::once(own).chain(touched))
    }

    /// Grease or oil.
    #[must_use]
    pub fn lubricant() -> Option<Self> {
        Self::new(
            Asked::Lubricant,
            "",
            [("grease".to_owned(), "grease".to_owned()), ("oil".to_owned(), "oil".to_owned())],
        )
    }

    /// Ways to face that form the arrangement that is meant.
    #[must_use]
    pub fn pair(a: &Anatomy, pair: &super::PairOf) -> Option<Self> {
        let (x, y) = (a.part(&pair.a)?, a.part(&pair.b)?);
        let ways = [(End::A, End::B), (End::B, End::A), (End::A, End::A), (End::B, End::B)];
        let formed = ways.into_iter().filter(|(fx, fy)| {
            let turned = |p: &Part, to: End| Part { faces: Some(to), ..p.clone() };
            facing::arrangement(a, &turned(x, *fx), &turned(y, *fy)) == Some(pair.arrangement.as_str())
        });
        let words = |fx: End, fy: End| format!("{} faces end {}, {} end {}", x.name, fx.letter(), y.name, fy.letter());
        Self::new(
            Asked::Pair,
            &Item::Pair(pair.clone()).key(),
            formed.map(|(fx, fy)| (format!("{}{}", fx.letter(), fy.letter()), words(fx, fy))),
        )
    }

    /// Which of these is turned round.
    #[must_use]
    pub fn turn(parts: &[&Part]) -> Option<Self> {
        Self::new(Asked::Turn, "", parts.iter().map(|p| (p.id.clone(), format!("turn {} round", p.name))))
    }
}

/// Other bodies that a body's face looks at, nearest first; only towards an end where one is named.
fn nearest(all: &Bodies, i: usize, to: Option<End>, meant: impl Fn(usize) -> bool) -> Vec<usize> {
    let mut near: Vec<(f64, usize)> =
        (1..all.list.len()).filter(|o| *o != i && meant(*o)).filter_map(|o| Some((apart(all, i, o, to)?, o))).collect();
    near.sort_by(|x, y| x.0.total_cmp(&y.0));
    near.into_iter().map(|n| n.1).collect()
}

/// How far the nearest face of a body is from a face of another that shares a band of the radius with it; only towards
/// an end where one is named.
fn apart(all: &Bodies, i: usize, o: usize, to: Option<End>) -> Option<f64> {
    let gaps = all.list[i].rings.iter().flat_map(|f| all.list[o].rings.iter().map(move |r| (f, r)));
    gaps.filter(|(f, r)| r.across(f) > 0.1)
        .flat_map(|(f, r)| [(End::A, f.x0 - r.x1), (End::B, r.x0 - f.x1)])
        .filter(|(e, gap)| to.is_none_or(|t| t == *e) && *gap > -1.0)
        .map(|(_, gap)| gap.max(0.0))
        .min_by(f64::total_cmp)
}

impl Anatomy {
    /// Writes an answer where the sheet left the question open.
    pub(super) fn answer(&mut self, asked: Asked, of: &str, with: &str) -> Result<()> {
        let gone = || Refusal::new("board", "what this was asked of is not there any more: somebody changed it");
        let unknown = || Refusal::new("board", format!("{with} is none of the answers to this question"));
        let part = |a: &'_ mut Self, id: &str| a.parts.iter().position(|p| p.id == id).ok_or_else(gone);
        match asked {
            Asked::To => {
                self.bolt_rings.iter_mut().find(|b| b.part == of).ok_or_else(gone)?.to = Some(with.to_owned());
            }
            Asked::Head => {
                let head = End::of(with).ok_or_else(unknown)?;
                self.bolt_rings.iter_mut().find(|b| b.part == of).ok_or_else(gone)?.head = Some(head);
            }
            Asked::Against => {
                let i = part(self, of)?;
                expect(self.parts[i].kind.role() == Role::Nut, "board", "only a nut is turned against something")?;
                self.parts[i].against = Some(with.to_owned());
            }
            Asked::CarriedBy => {
                let i = part(self, of)?;
                self.parts[i].carried_by = Some(with.to_owned());
            }
            Asked::LockedBy => {
                let i = part(self, of)?;
                let by = LockedBy::ALL.iter().find(|l| l.1 == with).ok_or_else(unknown)?.0;
                self.parts[i].locked_by = Some(by);
            }
            Asked::Hand => {
                let i = part(self, of)?;
                let hand = [Hand::Right, Hand::Left].into_iter().find(|h| h.name() == with).ok_or_else(unknown)?;
                self.parts[i].hand = Some(hand);
            }
            Asked::Reads => {
                self.runouts.iter_mut().find(|r| r.id == of).ok_or_else(gone)?.reads = Some(with.to_owned());
            }
            Asked::Lubricant => {
                self.lubricant = Some(match with {
                    "grease" => Lubricant::Grease,
                    "oil" => Lubricant::Oil,
                    _ => return Err(unknown()),
                });
            }
            Asked::Pair => {
                let pair = self.pairs.iter().find(|p| Item::Pair((*p).clone()).key() == of).ok_or_else(gone)?.clone();
                let (x, y) = match with {
                    "AA" => (End::A, End::A),
                    "AB" => (End::A, End::B),
                    "BA" => (End::B, End::A),
                    "BB" => (End::B, End::B),
                    _ => return Err(unknown()),
                };
                for (id, end) in [(&pair.a, x), (&pair.b, y)] {
                    let i = part(self, id)?;
                    self.parts[i].faces = Some(end);
                }
            }
            Asked::Turn => {
                let i = part(self, with)?;
                self.parts[i].turn_round()?;
            }
        }
        Ok(())
    }
}

impl Part {
    /// Turns it to face the other end.
    ///
    /// # Errors
    /// `faces`, when it is the same both ways.
    pub(super) fn turn_round(&mut self) -> Result<()> {
        expect(self.kind.has_facing(), "faces", format!("{} is the same both ways", self.name))?;
        self.faces = Some(if self.faces == Some(End::A) { End::B } else { End::A });
        Ok(())
    }
}
