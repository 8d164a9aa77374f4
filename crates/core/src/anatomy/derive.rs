//! What the geometry says: what must go on before what and why, what cannot get where it should, which facing contradicts
//! (handbook 08).

use super::{Anatomy, End, Hold, Part, PartKind};
use crate::fasten::Hand;
use crate::order::Precedence;
use crate::quantity::show::tidy;
use crate::refusal::Result;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Why one thing must go on before another.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub enum Why {
    /// The first has to pass where the second would stand.
    CannotPass {
        bore: String,
        outside: String,
    },
    Locks,
    Key,
    Covers,
    Carried,
    /// Wider than both openings.
    Captive {
        outside: String,
        opening: String,
    },
    /// The housing cannot pass over it.
    HousingPasses {
        bore: String,
        outside: String,
    },
    Rule(String),
}

/// Something wrong with an anatomy.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub enum Fault {
    /// A part that cannot pass a land on its way: both sizes.
    Stuck {
        part: String,
        land: String,
        bore: String,
        d: String,
    },
    /// A loop, as ids from any start.
    Loop(Vec<String>),
    Lip {
        seal: String,
    },
    Arrangement {
        a: String,
        b: String,
        wanted: String,
        formed: String,
    },
    HandOfThread {
        nut: String,
        wanted: String,
    },
    ThrustSize {
        smaller: String,
        larger: String,
        end: String,
    },
    Overlap {
        a: String,
        b: String,
    },
    Cone {
        cone: String,
        cup: String,
    },
}

/// Everything derived from an anatomy: things by number (parts, then housings), pairs with reasons, faults.
#[derive(Debug, Clone)]
pub struct Derived {
    /// Ids by number: parts in their order, then housings.
    pub ids: Vec<String>,
    /// What must go before what.
    pub precedence: Precedence,
    /// Reasons other than that one cannot pass the other, which follow from the sizes.
    why: BTreeMap<(usize, usize), Why>,
    /// Bore and outside by number.
    sizes: Vec<(f64, f64)>,
    /// An order that respects every pair, lowest number first; none when there is a loop.
    pub plain: Option<Vec<usize>>,
    /// What is wrong; an order exists when no part is stuck and there is no loop.
    pub faults: Vec<Fault>,
    index: BTreeMap<String, usize>,
}

impl Derived {
    /// Number of an id.
    #[must_use]
    pub fn number(&self, id: &str) -> Option<usize> {
        self.index.get(id).copied()
    }
    /// Why a must go on before b; none when nothing says so directly.
    #[must_use]
    pub fn why(&self, a: usize, b: usize) -> Option<Why> {
        if !self.precedence.has(a, b) {
            return None;
        }
        let by_size = || Why::CannotPass { bore: tidy(self.sizes[a].0), outside: tidy(self.sizes[b].1) };
        Some(self.why.get(&(a, b)).cloned().unwrap_or_else(by_size))
    }
    /// What stands directly before each, by number.
    #[must_use]
    pub fn before(&self) -> Vec<Vec<usize>> {
        let mut before = vec![Vec::new(); self.ids.len()];
        for (a, b) in self.precedence.pairs() {
            before[b].push(a);
        }
        before
    }
    /// Whether something can be built as it stands.
    #[must_use]
    pub fn buildable(&self) -> bool {
        !self.faults.iter().any(|f| matches!(f, Fault::Stuck { .. } | Fault::Loop(_)))
    }

    fn add(&mut self, a: usize, b: usize, why: Why) {
        if a != b {
            self.precedence.add(a, b);
            self.why.entry((a, b)).or_insert(why);
        }
    }
}

/// A place on the shaft: middle of a part.
fn middle(a: &Anatomy, p: &Part) -> f64 {
    a.place(p).0 + p.width_mm.0 / 2.0
}

/// Derives what must go before what, with reasons, and what is wrong. Lands between a part's end and its own must pass its
/// bore; where it sweeps, what is wider than its bore goes on after it; a housing sweeps with the least bore that travels
/// over a place; what is locked, keyed, covered or carried follows. Source: handbook 08, rules 1 to 7.
///
/// # Errors
/// `parts` with more than 2000.
pub fn derive(a: &Anatomy) -> Result<Derived> {
    crate::refusal::expect(a.parts.len() + a.housings.len() <= 2000, "parts", "at most 2000 parts and housings are taken")?;
    let ids: Vec<String> = a.parts.iter().map(|p| p.id.clone()).chain(a.housings.iter().map(|h| h.id.clone())).collect();
    let index: BTreeMap<String, usize> = ids.iter().cloned().zip(0..).collect();
    let bore: Vec<f64> = a.parts.iter().map(|p| a.bore_of(p).0).collect();
    let outer = a.parts.iter().map(|p| p.outside_mm.0).chain(a.housings.iter().map(|h| h.outside_mm.0));
    let sizes = bore.iter().copied().chain(a.housings.iter().map(|_| 0.0)).zip(outer).collect();
    let mut d =
        Derived { precedence: Precedence::new(ids.len()), ids, why: BTreeMap::new(), sizes, plain: None, faults: Vec::new(), index };
    let place: Vec<f64> = a.parts.iter().map(|p| middle(a, p)).collect();
    for (i, q) in a.parts.iter().enumerate() {
        passing(a, &mut d, i, q, &place, &bore);
        relations(&mut d, i, q);
    }
    for (k, h) in a.housings.iter().enumerate() {
        housing(a, &mut d, a.parts.len() + k, h, &place);
    }
    for rule in &a.before {
        if let (Some(x), Some(y)) = (d.number(&rule.first), d.number(&rule.then)) {
            d.add(x, y, Why::Rule(rule.reason.clone()));
        }
    }
    d.plain = d.precedence.order();
    if d.plain.is_none()
        && let Some(l) = d.precedence.shortest_loop()
    {
        let names = l.into_iter().map(|i| d.ids[i].clone()).collect();
        d.faults.push(Fault::Loop(names));
    }
    facings(a, &mut d);
    overlaps(a, &mut d, &bore);
    Ok(d)
}

fn passing(a: &Anatomy, d: &mut Derived, i: usize, q: &Part, place: &[f64], bore: &[f64]) {
    // What is split is laid on sideways; what lies in a bore or has no own land goes with its carrier.
    if q.split || q.carried_by.is_some() || matches!(q.kind, PartKind::Key | PartKind::SetScrew | PartKind::Probe) {
        return;
    }
    let Some(own) = a.lands.iter().position(|l| l.id == q.land) else { return };
    let way: Vec<usize> = match q.from {
        End::A => (0..own).collect(),
        End::B => (own + 1..a.lands.len()).rev().collect(),
    };
    if let Some(l) = way.iter().find(|l| a.lands[**l].d_mm.0 > bore[i] + 1e-9) {
        let land = &a.lands[*l];
        d.faults.push(Fault::Stuck { part: q.id.clone(), land: land.id.clone(), bore: tidy(bore[i]), d: tidy(land.d_mm.0) });
    }
    for (j, p) in a.parts.iter().enumerate() {
        let swept = match q.from {
            End::A => place[j] < place[i],
            End::B => place[j] > place[i],
        };
        // A carried part is swept through only with its carrier, a clip in its groove is no wider than it stands out.
        // It passes over what is smaller than its bore, and through what has a larger bore than it is wide.
        let meets = p.outside_mm.0 > bore[i] + 1e-9 && q.outside_mm.0 > bore[j] + 1e-9;
        if i != j && swept && p.carried_by.is_none() && meets && p.key_of(q).is_none() {
            d.precedence.add(i, j);
        }
    }
}

fn relations(d: &mut Derived, i: usize, q: &Part) {
    for (list, why) in [(&q.locks, Why::Locks), (&q.covers, Why::Covers)] {
        for id in list {
            if let Some(x) = d.number(id) {
                d.add(x, i, why.clone());
            }
        }
    }
    if let Some(x) = q.key.as_ref().and_then(|k| d.number(k)) {
        d.add(x, i, Why::Key);
    }
    if let Some(x) = q.carried_by.as_ref().and_then(|c| d.number(c)) {
        d.add(i, x, Why::Carried);
    }
}

fn housing(a: &Anatomy, d: &mut Derived, k: usize, h: &super::Housing, place: &[f64]) {
    for id in &h.covers {
        if let Some(x) = d.number(id) {
            d.add(x, k, Why::Covers);
        }
    }
    if h.split {
        return;
    }
    let Some(from) = h.from else { return };
    let (opening_a, opening_b) = (h.bores.first().map_or(0.0, |b| b.d_mm.0), h.bores.last().map_or(0.0, |b| b.d_mm.0));
    for (j, p) in a.parts.iter().enumerate() {
        if p.carried_by.is_some() || p.split {
            continue;
        }
        // The least bore that travels over this place on the way in.
        let travels = |b: &&super::Bore| match from {
            End::A => b.to_mm.0 > place[j],
            End::B => b.from_mm.0 < place[j],
        };
        let least = h.bores.iter().filter(travels).map(|b| b.d_mm.0).fold(f64::INFINITY, f64::min);
        if p.outside_mm.0 <= least + 1e-9 {
            continue;
        }
        let inside = p.inside.as_deref() == Some(&h.id);
        if inside && p.outside_mm.0 > opening_a.max(opening_b) + 1e-9 {
            d.add(j, k, Why::Captive { outside: tidy(p.outside_mm.0), opening: tidy(opening_a.max(opening_b)) });
        } else if !inside {
            d.add(k, j, Why::HousingPasses { bore: tidy(least), outside: tidy(p.outside_mm.0) });
        }
    }
}

/// Facings that contradict: a lip away from what it keeps in, a pair that forms an X where a diamond is meant, a thread
/// that drag would undo, the larger thrust washer on the wrong side.
fn facings(a: &Anatomy, d: &mut Derived) {
    for p in &a.parts {
        if p.kind == PartKind::Seal
            && let (Some(faces), Some(keeps)) = (p.faces, p.keeps)
            && faces != keeps
        {
            d.faults.push(Fault::Lip { seal: p.id.clone() });
        }
        if p.kind == PartKind::Nut
            && let (Some(rotation), Some(hand)) = (a.rotation, p.hand)
        {
            // Seen from the nut's own end.
            let clockwise = rotation.clockwise_from(p.from);
            let wanted = Hand::wanted(clockwise);
            if hand != wanted {
                d.faults.push(Fault::HandOfThread { nut: p.id.clone(), wanted: wanted.name().into() });
            }
        }
    }
    for pair in &a.pairs {
        if let (Some(x), Some(y)) = (a.part(&pair.a), a.part(&pair.b))
            && let (Some(fx), Some(fy)) = (x.faces, y.faces)
        {
            let (left, right) = if a.place(x).0 <= a.place(y).0 { (fx, fy) } else { (fy, fx) };
            // Contact lines lean to the thick side: apart from each other is a diamond.
            let formed = match (left, right) {
                (End::A, End::B) => "DB",
                (End::B, End::A) => "DF",
                _ => "DT",
            };
            if formed != pair.arrangement {
                d.faults.push(Fault::Arrangement {
                    a: pair.a.clone(),
                    b: pair.b.clone(),
                    wanted: pair.arrangement.clone(),
                    formed: formed.into(),
                });
            }
        }
    }
    for cone in a.parts.iter().filter(|p| p.kind == PartKind::TaperCone) {
        let reach = |p: &Part| (a.place(p).0, a.place(p).0 + p.width_mm.0);
        for cup in a.parts.iter().filter(|p| p.kind == PartKind::Cup) {
            let ((x0, x1), (y0, y1)) = (reach(cone), reach(cup));
            let meets = x0 < y1 && y0 < x1;
            if meets && cone.faces.zip(cup.faces).is_some_and(|(c, u)| c != u) {
                d.faults.push(Fault::Cone { cone: cone.id.clone(), cup: cup.id.clone() });
            }
        }
    }
    for set in &a.thrust_sets {
        if let (Some(s), Some(l)) = (a.part(&set.smaller), a.part(&set.larger)) {
            let larger_towards = if a.place(l).0 < a.place(s).0 { End::A } else { End::B };
            if l.outside_mm.0 <= s.outside_mm.0 || larger_towards != set.larger_towards {
                d.faults.push(Fault::ThrustSize {
                    smaller: set.smaller.clone(),
                    larger: set.larger.clone(),
                    end: set.larger_towards.letter().into(),
                });
            }
        }
    }
}

/// Two parts in one place on the shaft: their ring spaces overlap by more than rounding.
fn overlaps(a: &Anatomy, d: &mut Derived, bore: &[f64]) {
    let solid = |p: &Part| {
        !matches!(p.kind, PartKind::Key | PartKind::SetScrew | PartKind::Probe | PartKind::ORing | PartKind::Circlip | PartKind::Ring)
    };
    let mut along: Vec<(f64, f64, usize)> =
        a.parts.iter().enumerate().filter(|(_, p)| solid(p)).map(|(i, p)| (a.place(p).0, p.width_mm.0, i)).collect();
    along.sort_by(|x, y| x.0.total_cmp(&y.0));
    for (k, (from, width, i)) in along.iter().enumerate() {
        for (_, _, j) in along[k + 1..].iter().take_while(|o| o.0 < from + width - 0.05) {
            let (p, q) = (&a.parts[*i], &a.parts[*j]);
            let across = p.outside_mm.0.min(q.outside_mm.0) - bore[*i].max(bore[*j]);
            let nested = p.carried_by.as_deref() == Some(&q.id) || q.carried_by.as_deref() == Some(&p.id);
            // A cone lies in its cup, leaves lie in the joint of a cap.
            let meant = matches!((p.kind, q.kind), (PartKind::Cup, PartKind::TaperCone) | (PartKind::TaperCone, PartKind::Cup))
                || [p, q].iter().any(|x| x.kind == PartKind::Shim && x.split);
            if across > 0.05 && !nested && !meant {
                d.faults.push(Fault::Overlap { a: p.id.clone(), b: q.id.clone() });
            }
        }
    }
}

impl Part {
    /// The key it shares with another part, if it is that part's key.
    fn key_of(&self, other: &Part) -> Option<()> {
        (other.key.as_deref() == Some(&self.id)).then_some(())
    }
    /// How it comes off scraps it.
    #[must_use]
    pub fn scrapped_by_removal(&self) -> bool {
        self.kind.single_use() || self.through_balls || (self.kind == PartKind::TabWasher && self.tab_bent >= 1)
    }
    /// It is heated again when it has to come off.
    #[must_use]
    pub fn reheated(&self) -> bool {
        self.fit == Hold::Shrink
    }
}

/// A fault as a sentence with the names of the parts.
#[must_use]
pub fn say(a: &Anatomy, f: &Fault) -> String {
    let name = |id: &String| a.name_of(id).to_owned();
    match f {
        Fault::Stuck { part, land, bore, d } => format!(
            "{} cannot get to its place: its bore is {bore} mm, {} on the way is {d} mm. Bring it from the other end, make it split, or mend a size.",
            name(part),
            a.land(land).map_or("a land", |l| &l.name)
        ),
        Fault::Loop(ids) => {
            let mut list: Vec<String> = ids.iter().map(name).collect();
            list.extend(list.first().cloned());
            format!("These wait for each other: {}.", list.join(" before "))
        }
        Fault::Lip { seal } => format!("{} has its lip the wrong way: it must face what it keeps in.", name(seal)),
        Fault::Arrangement { a: x, b, wanted, formed } => {
            let shape = |s: &str| match s {
                "DB" => "a diamond (back-to-back)",
                "DF" => "an X (face-to-face)",
                _ => "tandem",
            };
            format!("{} and {} form {} where {} is meant: turn them round.", name(x), name(b), shape(formed), shape(wanted))
        }
        Fault::HandOfThread { nut, wanted } => format!("{}: the shaft's drag would undo it, a {wanted}-hand thread is wanted.", name(nut)),
        Fault::ThrustSize { smaller, larger, end } => {
            format!("{} must be larger than {} and lie towards end {end}.", name(larger), name(smaller))
        }
        Fault::Cone { cone, cup } => {
            format!("{} and {} do not meet: their thick sides lie at different ends. Turn one round.", name(cone), name(cup))
        }
        Fault::Overlap { a: x, b } => format!("{} and {} stand in the same place: mend a width or a place.", name(x), name(b)),
    }
}

/// Why b waits for a, as the second half of a sentence: "the inner cover cannot get past bearing B1".
#[must_use]
pub fn because(a: &Anatomy, first: &str, then: &str, why: &Why) -> String {
    let (x, y) = (a.name_of(first), a.name_of(then));
    match why {
        Why::CannotPass { bore, outside } => format!("{x} (bore {bore} mm) cannot get past {y} ({outside} mm)"),
        Why::Locks => format!("{y} locks {x}"),
        Why::Key => format!("{x} is the key of {y}"),
        Why::Covers => format!("{y} covers {x}"),
        Why::Carried => format!("{x} is fitted into {y} first"),
        Why::Captive { outside, opening } => {
            format!(
                "{x} ({outside} mm) goes through neither opening of {y} ({opening} mm): it must lie in it before the shaft is fed through"
            )
        }
        Why::HousingPasses { bore, outside } => format!("{x} (bore {bore} mm) cannot pass over {y} ({outside} mm)"),
        Why::Rule(reason) if reason.is_empty() => format!("the build sheet wants {x} before {y}"),
        Why::Rule(reason) => format!("the build sheet wants {x} before {y}: {reason}"),
    }
}
