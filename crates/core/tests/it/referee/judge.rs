//! The picture and its rules: written from the laws alone.

mod ready;

use ironseat_core::anatomy::acts::{Act, Phase, Verb};
use ironseat_core::anatomy::{
    Anatomy, Condition, Fitted, FloatOf, Hold, Housing, LandKind, Part, PartKind, Stands, TurnedBy,
};
use ironseat_core::terms::End;
use std::collections::{BTreeMap, BTreeSet};

/// x0, x1, r0, r1.
type Ring = [f64; 4];

struct B<'a> {
    part: Option<&'a Part>,
    housing: Option<&'a Housing>,
    rings: Vec<Ring>,
    carrier: Option<String>,
    stands: Option<String>,
}

pub struct Judge<'a> {
    a: &'a Anatomy,
    all: BTreeMap<String, B<'a>>,
    shaft: Vec<(Ring, &'a str, bool)>,
    /// Where it belongs on the machine.
    world: BTreeSet<String>,
    /// Fitted into its carrier at the bench.
    fitted: BTreeSet<String>,
    closed: BTreeSet<String>,
    nipped: BTreeSet<String>,
    tight: BTreeSet<String>,
    locked: BTreeSet<String>,
    hot: BTreeSet<String>,
    safe: bool,
    apart: bool,
    /// Rings of bolts that are drawn down, by the flange.
    bolted: BTreeSet<String>,
    /// On hot, and nothing holds it yet.
    in_hand: Option<String>,
    /// What came to the machine, in its order.
    came: Vec<String>,
    /// Collars that the oil has let go.
    let_go: BTreeSet<String>,
    /// Seals that were driven home once their pocket was around them.
    driven: BTreeSet<String>,
    /// Oiled, drawn up, marked, turned by hand: what an act of its own has made ready.
    made_ready: BTreeSet<String>,
    /// The rotor hangs on a hoist.
    hung: bool,
    /// It was let down on what carries it.
    let_down: bool,
}

const SOFT: [PartKind; 3] = [PartKind::Circlip, PartKind::ORing, PartKind::Seal];

impl<'a> B<'a> {
    fn kind(&self) -> Option<PartKind> {
        self.part.map(|p| p.kind)
    }
    fn soft(&self) -> bool {
        self.part.is_some_and(|p| SOFT.contains(&p.kind) || p.kind == PartKind::Ring && p.split)
    }
    fn r(&self) -> (f64, f64) {
        self.rings.iter().fold((1e9, 0.0f64), |(a, b), r| (a.min(r[2]), b.max(r[3])))
    }
    fn x(&self) -> (f64, f64) {
        self.rings.iter().fold((1e9, -1e9f64), |(a, b), r| (a.min(r[0]), b.max(r[1])))
    }
    /// Half the section of what springs; of a lip two millimetres.
    fn gives(&self) -> f64 {
        let (a, b) = self.r();
        match (self.soft(), self.kind()) {
            (false, _) => 0.0,
            (true, Some(PartKind::Seal)) => ((b - a) / 2.0).min(2.0),
            (true, _) => (b - a) / 2.0,
        }
    }
    fn parted(&self) -> bool {
        self.housing.is_some_and(|h| h.split)
    }
    /// Comes from the side.
    fn sideways_in(&self) -> bool {
        match (self.part, self.housing) {
            (Some(p), _) => {
                matches!(p.kind, PartKind::Key | PartKind::SetScrew | PartKind::Probe)
                    || p.split && (!self.soft() || p.fitted == Fitted::InPlace)
            }
            (_, Some(h)) => h.split || h.from.is_none(),
            _ => false,
        }
    }
    fn end(&self) -> End {
        self.part.map(|p| p.from).or(self.housing.and_then(|h| h.from)).unwrap_or(End::A)
    }
    /// Whole metal that a thing from the side cannot pass.
    fn whole(&self) -> bool {
        !self.soft() && !matches!(self.kind(), Some(PartKind::Key | PartKind::SetScrew | PartKind::Probe))
    }
}

fn meets(a: &Ring, b: &Ring, give: f64) -> bool {
    a[1].min(b[1]) - a[0].max(b[0]) > 0.05 && a[3].min(b[3]) - a[2].max(b[2]) > give + 1e-3
}

impl<'a> Judge<'a> {
    pub fn new(a: &'a Anatomy) -> Self {
        let mut all = BTreeMap::new();
        let mut shaft = Vec::new();
        let mut x = 0.0;
        for l in &a.lands {
            let d = l.d_b_mm.map_or(l.d_mm.get(), |b| b.get().max(l.d_mm.get()));
            shaft.push(([x, x + l.length_mm.get(), 0.0, d / 2.0], l.id.as_str(), l.kind == LandKind::Plain));
            x += l.length_mm.get();
        }
        let rings = |p: &Part| -> Vec<Ring> {
            let x = a.place(p).get();
            if p.rings.is_empty() {
                return vec![[x, x + p.width_mm.get(), a.bore_of(p).get() / 2.0, p.outside_mm.get() / 2.0]];
            }
            p.rings
                .iter()
                .map(|r| [x + r.from_mm.get(), x + r.to_mm.get(), r.bore_mm.get() / 2.0, r.outside_mm.get() / 2.0])
                .collect()
        };
        let wide = |p: &Part, h: &Housing| {
            let ends = h.bores.first().unwrap().d_mm.get().max(h.bores.last().unwrap().d_mm.get());
            p.inside.as_deref() == Some(&h.id) && p.outside_mm.get() > ends
        };
        for p in &a.parts {
            if p.solid {
                shaft.extend(rings(p).into_iter().map(|r| (r, "", true)));
                continue;
            }
            let house = a.housings.iter().find(|h| p.inside.as_deref() == Some(&h.id) && h.from.is_some() && !h.split);
            // What is too wide lies in it before the shaft; what lies behind such a thing goes in with it.
            let captive = house.filter(|h| a.parts.iter().any(|q| wide(q, h)) && p.carried_by.is_none());
            let at_bench = p.carried_by.clone().filter(|_| p.fitted == Fitted::AtBench);
            let b = B {
                part: Some(p),
                housing: None,
                rings: rings(p),
                carrier: at_bench.or(captive.map(|h| h.id.clone())),
                stands: p.carried_by.clone().filter(|_| p.fitted == Fitted::InPlace),
            };
            all.insert(p.id.clone(), b);
        }
        for h in &a.housings {
            let rings = h
                .bores
                .iter()
                .map(|b| [b.from_mm.get(), b.to_mm.get(), b.d_mm.get() / 2.0, h.outside_mm.get() / 2.0])
                .collect();
            all.insert(h.id.clone(), B { part: None, housing: Some(h), rings, carrier: None, stands: None });
        }
        let empty = BTreeSet::new;
        Self {
            a,
            all,
            shaft,
            world: empty(),
            fitted: empty(),
            closed: empty(),
            nipped: empty(),
            tight: empty(),
            locked: empty(),
            hot: empty(),
            safe: false,
            apart: false,
            bolted: empty(),
            in_hand: None,
            came: Vec::new(),
            let_go: empty(),
            driven: empty(),
            made_ready: empty(),
            hung: false,
            let_down: false,
        }
    }

    /// Everything on, tight, locked, closed.
    pub fn assembled(&mut self) {
        self.world = self.all.keys().cloned().collect();
        self.fitted = self.all.iter().filter(|(_, b)| b.carrier.is_some()).map(|(id, _)| id.clone()).collect();
        self.closed = self.all.iter().filter(|(_, b)| b.parted()).map(|(id, _)| id.clone()).collect();
        self.tight = self.all.keys().cloned().collect();
        self.nipped = self.tight.clone();
        self.locked = self.tight.clone();
        self.bolted = self.a.bolt_rings.iter().map(|b| b.part.clone()).collect();
        self.apart = true;
    }

    fn root<'b>(&'b self, mut id: &'b str) -> &'b str {
        while let Some(c) = &self.all[id].carrier {
            id = c;
        }
        id
    }
    fn group(&self, id: &str) -> Vec<String> {
        let mut out = vec![id.to_owned()];
        let mut k = 0;
        while k < out.len() {
            let more: Vec<String> = self
                .all
                .iter()
                .filter(|(_, b)| b.carrier.as_deref() == Some(&out[k]))
                .map(|(i, _)| i.clone())
                .collect();
            out.extend(more);
            k += 1;
        }
        out
    }
    fn keyed(&self, key: &str, other: &str) -> bool {
        let (k, o) = (&self.all[key], &self.all[other]);
        let ((a, b), (c, d)) = (k.x(), o.x());
        k.kind() == Some(PartKind::Key)
            && (o.part.is_some_and(|p| p.key.as_deref() == Some(key)) || b.min(d) - a.max(c) > 0.05)
    }
    fn taper(&self, x: &str, y: &str) -> Option<(&'a Part, bool)> {
        let (p, q) = (self.all[x].part?, self.all[y].part?);
        let ((a, b), (c, d)) = (self.all[x].x(), self.all[y].x());
        if a >= d || c >= b {
            return None;
        }
        match (p.kind, q.kind) {
            (PartKind::TaperCone, PartKind::Cup) => Some((q, false)),
            (PartKind::Cup, PartKind::TaperCone) => Some((p, true)),
            _ => None,
        }
    }

    /// Moves a group from far away to its place, millimetre by millimetre.
    fn way(&self, group: &[String], end: End, there: &BTreeSet<String>, carrier: Option<&str>) -> Result<(), String> {
        let far = self.shaft.iter().map(|s| s.0[1]).fold(0.0, f64::max) + 60.0;
        let sign = if end == End::A { -1.0 } else { 1.0 };
        let mut obstacles = Vec::new();
        for g in group {
            let m = &self.all[g];
            let land = m.part.map(|p| p.land.as_str());
            if carrier.is_none() {
                for (ring, id, plain) in &self.shaft {
                    let own = Some(*id) == land && !id.is_empty();
                    let give = match (own, plain) {
                        (true, false) => f64::INFINITY,
                        (true, true) => m.gives().max(0.1f64.max(0.004 * m.r().1)),
                        _ => m.gives(),
                    };
                    obstacles.push((g, *ring, give, "the shaft"));
                }
            }
            for o in there {
                let b = &self.all[o];
                if group.contains(o)
                    || self.keyed(g, o)
                    || self.keyed(o, g)
                    || [m, b].iter().any(|x| x.kind() == Some(PartKind::SetScrew))
                {
                    continue;
                }
                if let Some((cup, cup_moves)) = self.taper(g, o) {
                    let back = cup.faces.unwrap();
                    // The cone goes in at the cup's thin side.
                    if cup_moves && back != end || !cup_moves && back == end {
                        return Err(format!("the cone meets the thick wall of {}", cup.id));
                    }
                    continue;
                }
                let own = m.carrier.as_deref() == Some(o) || m.stands.as_deref() == Some(o);
                let give = m.gives().max(b.gives()).max(if own { 0.1f64.max(0.004 * m.r().1) } else { 0.0 });
                // A carrier that is one ring does not show its pocket.
                if own && b.part.is_some_and(|p| p.rings.is_empty() || m.soft()) {
                    continue;
                }
                obstacles.extend(b.rings.iter().map(|r| (g, *r, give, o.as_str())));
            }
        }
        let mut t = far;
        while t >= 0.0 {
            for (g, ring, give, who) in &obstacles {
                for r in &self.all[*g].rings {
                    let moved = [r[0] + sign * t, r[1] + sign * t, r[2], r[3]];
                    if meets(&moved, ring, *give) {
                        return Err(format!("{g} meets {who}, {t} mm before its place"));
                    }
                }
            }
            t -= 1.0;
        }
        Ok(())
    }

    /// From the side: nothing whole or closed lies around it.
    /// Open housings that a cap is bolted down on: under most of its length.
    fn beds<'b>(&'b self, cap: &'b str) -> impl Iterator<Item = &'b str> {
        let c = &self.all[cap];
        let capping = c.kind() == Some(PartKind::Cap) && c.sideways_in();
        let (x0, x1) = c.x();
        self.all.iter().filter_map(move |(id, b)| {
            let open = b.housing.is_some_and(|h| h.from.is_none() && !h.split);
            let under = |r: &Ring| r[1].min(x1) - r[0].max(x0) > (x1 - x0) / 2.0;
            (capping && open && b.rings.iter().any(under)).then_some(id.as_str())
        })
    }

    fn side(&self, id: &str, half: bool) -> Result<(), String> {
        if let Some(bed) = self.beds(id).find(|bed| !self.world.contains(*bed)) {
            return Err(format!("the shaft does not lie in {bed}"));
        }
        let m = &self.all[id];
        for o in &self.world {
            let b = &self.all[o];
            let mine =
                self.root(o) == self.root(id) || m.stands.as_deref() == Some(o) || m.carrier.as_deref() == Some(o);
            let open = b.housing.is_some_and(|h| if h.split { !self.closed.contains(o) } else { h.from.is_none() });
            let through = m.part.is_some_and(|p| {
                p.kind != PartKind::Key
                    && (p.locks.contains(o) || p.inside.as_deref() == Some(o))
                    && matches!(p.kind, PartKind::SetScrew | PartKind::Probe)
            });
            if o == id || mine || open || through || !b.whole() || (m.housing.is_some() && !half) {
                continue;
            }
            for r in &m.rings {
                for q in &b.rings {
                    if r[1].min(q[1]) - r[0].max(q[0]) > 0.05 && q[3] > r[3] + 0.05 && q[2] > r[2] - 0.05 {
                        return Err(format!("{o} lies around {id}"));
                    }
                }
            }
        }
        Ok(())
    }

    fn others(&self, id: &str) -> BTreeSet<String> {
        let group = self.group(id);
        self.world.iter().filter(|o| !group.contains(o)).cloned().collect()
    }

    /// Whether a body with what it carries can get to, or from, where it belongs.
    fn free(&self, id: &str) -> Result<(), String> {
        let b = &self.all[id];
        if b.sideways_in() {
            return self.side(id, false);
        }
        self.way(&self.group(id), b.end(), &self.others(id), None)
    }

    /// Whether a body can get into, or out of, its carrier.
    fn free_of_carrier(&self, id: &str, carrier: &str) -> Result<(), String> {
        let b = &self.all[id];
        if b.part.is_some_and(|p| p.inside.as_deref() == Some(carrier) && p.carried_by.is_none()) {
            return Ok(());
        }
        if b.sideways_in() {
            return Ok(());
        }
        let mut there: BTreeSet<String> = self
            .fitted
            .iter()
            .filter(|o| *o != id && self.all[*o].carrier.as_deref() == Some(carrier))
            .flat_map(|o| self.group(o))
            .collect();
        let own = self.group(id);
        there.retain(|o| !own.contains(o));
        there.insert(carrier.to_owned());
        if self.all[carrier].parted() || self.all[carrier].part.is_some_and(|p| p.split) {
            return Ok(());
        }
        self.way(&own, b.end(), &there, Some(carrier))
            .or_else(|_| self.way(&own, end_other(b.end()), &there, Some(carrier)))
    }

    /// Bodies between a tightener's face and what stops it.
    fn stack(&self, id: &str) -> BTreeSet<String> {
        let to_a = self.all[id].end() == End::B;
        let mut out = BTreeSet::new();
        let faces = |b: &B, inner: bool| -> Vec<(f64, f64, f64)> {
            let two = b.kind() == Some(PartKind::Bearing);
            b.rings
                .iter()
                .map(|r| {
                    (if to_a { r[0] } else { r[1] }, r[2], if two && inner { r[2] + 0.3 * (r[3] - r[2]) } else { r[3] })
                })
                .collect()
        };
        let mut open: Vec<(String, bool)> = vec![(id.to_owned(), false)];
        while let Some((i, inner)) = open.pop() {
            for (x, r0, r1) in faces(&self.all[&i], inner) {
                let stopped = self
                    .shaft
                    .iter()
                    .any(|(s, _, _)| ((if to_a { s[1] } else { s[0] }) - x).abs() <= 0.6 && s[3] > r0 + 0.1);
                // A nut that meets a step of the shaft may press on what sits on that, too.
                if stopped && i != id {
                    continue;
                }
                for (k, b) in &self.all {
                    // Shoes run on their film: nothing is pressed through them.
                    let runs = b.kind() == Some(PartKind::ShoeSet);
                    if *k == i || out.contains(k) || b.housing.is_some() || !b.whole() || runs {
                        continue;
                    }
                    let touches = b.rings.iter().any(|q| {
                        ((if to_a { q[1] } else { q[0] }) - x).abs() <= 0.6 && q[3].min(r1) - q[2].max(r0) > 0.1
                    });
                    if touches {
                        out.insert(k.clone());
                        open.push((k.clone(), true));
                    }
                }
            }
        }
        out
    }

    /// A tool's room, free of all that is there; and on through what stands whole around it.
    fn room(&self, id: &str, end: End, r0: f64, r1: f64, around: bool, length: f64) -> Result<(), String> {
        let (x0, x1) = self.all[id].x();
        let mut depth = length;
        loop {
            let tip = if end == End::A { x0 - depth } else { x1 + depth };
            let tube = self.world.iter().filter(|o| self.root(o) != self.root(id)).filter_map(|o| {
                let b = &self.all[o];
                let whole = b.housing.is_some_and(|h| h.from.is_some() && !h.split);
                whole
                    .then(|| b.rings.iter().find(|r| r[2] >= r1 - 0.05 && r[0] < tip - 0.05 && r[1] > tip + 0.05))
                    .flatten()
            });
            match tube.map(|r| if end == End::A { x0 - r[0] } else { r[1] - x1 }).reduce(f64::max) {
                Some(d) if d > depth + 0.05 => depth = d,
                _ => break,
            }
        }
        let front = if end == End::A { [x0 - depth, x0, r0, r1] } else { [x1, x1 + depth, r0, r1] };
        let mut rooms = vec![front];
        if around {
            rooms.push([x0, x1, self.all[id].r().1, r1]);
        }
        for o in &self.world {
            let b = &self.all[o];
            let open = b.housing.is_some_and(|h| if h.split { !self.closed.contains(o) } else { h.from.is_none() });
            if self.root(o) == self.root(id)
                || open
                || b.kind() == Some(PartKind::Key)
                || matches!(b.kind(), Some(PartKind::TabWasher)) && self.beside(o, id)
            {
                continue;
            }
            if b.rings.iter().any(|r| rooms.iter().any(|t| meets(t, r, 0.0))) {
                return Err(format!("{o} takes the room of the tool"));
            }
        }
        Ok(())
    }
    fn beside(&self, washer: &str, nut: &str) -> bool {
        let (p, q) = (self.all[washer].part.unwrap(), self.all[nut].part);
        q.is_some_and(|q| q.land == p.land && q.from == p.from)
    }

    /// What is said to cover a body hides it, whatever the rings say.
    fn uncovered(&self, id: &str) -> Result<(), String> {
        if let Some(r) = self.a.before.iter().find(|r| r.first == id && self.world.contains(&r.then)) {
            return Err(format!("the sheet wants {} off first", r.then));
        }
        let covers = |o: &&String| {
            let b = &self.all[*o];
            let list = b.part.map(|p| &p.covers).or(b.housing.map(|h| &h.covers));
            list.is_some_and(|c| c.iter().any(|x| x == id))
                && (!b.parted() || self.closed.contains(*o))
                && self.root(o) != self.root(id)
        };
        self.world.iter().find(covers).map_or(Ok(()), |c| Err(format!("{c} covers it")))
    }

    /// The nut that a tab holds: the part itself, or the one beside it.
    fn nut_of(&self, id: &str) -> Result<String, String> {
        if self.all[id].kind() == Some(PartKind::Nut) {
            return Ok(id.to_owned());
        }
        let nut = self.all.iter().find(|(n, b)| b.kind() == Some(PartKind::Nut) && self.beside(id, n));
        nut.map(|x| x.0.clone()).ok_or_else(|| "no nut".into())
    }

    fn spanner(&self, id: &str) -> Result<(), String> {
        self.uncovered(id)?;
        let p = self.all[id].part.unwrap();
        let (r0, r1) = self.all[id].r();
        let wall = (0.3 * r1).max(4.0);
        match p.turned_by {
            TurnedBy::Window => Ok(()),
            TurnedBy::Face => self.room(id, p.from, r0, r1, false, p.tool_mm.map_or(25.0, |m| m.get())),
            TurnedBy::Outside => self.room(id, p.from, r0, r1 + wall, true, p.tool_mm.map_or(25.0, |m| m.get())),
        }
    }

    /// Some face, or the outside, can be reached.
    fn touched(&self, id: &str, outside: bool) -> Result<(), String> {
        let (r0, r1) = self.all[id].r();
        let (x0, x1) = self.all[id].x();
        let shaft = |end: End| {
            let band = if end == End::A { [x0 - 25.0, x0, r0, r1] } else { [x1, x1 + 25.0, r0, r1] };
            self.shaft.iter().any(|s| meets(&band, &s.0, 0.0))
        };
        let ray = [x0 + 0.5, x1 - 0.5, r1, 1e6];
        let clear = self.world.iter().all(|o| {
            let b = &self.all[o];
            let open = b.housing.is_some_and(|h| if h.split { !self.closed.contains(o) } else { h.from.is_none() });
            self.root(o) == self.root(id)
                || open
                || b.kind() == Some(PartKind::Key)
                || !b.rings.iter().any(|r| meets(&ray, r, 0.0))
        });
        if outside && clear {
            return Ok(());
        }
        let mut why = format!("{id} is hidden");
        for end in [End::A, End::B] {
            match self.room(id, end, r0, r1, false, 25.0) {
                Ok(()) if !shaft(end) => return Ok(()),
                Ok(()) => {}
                Err(e) => why = e,
            }
        }
        Err(why)
    }

    /// A grease gun between the rings, from one side.
    fn gun(&self, id: &str) -> Result<(), String> {
        let (r0, r1) = self.all[id].r();
        let (x0, x1) = self.all[id].x();
        let (lo, hi) = (r0 + 0.4 * (r1 - r0), r0 + 0.7 * (r1 - r0));
        let mut why = "the shaft hides both sides".to_owned();
        for end in [End::A, End::B] {
            let band = if end == End::A { [x0 - 25.0, x0, lo, hi] } else { [x1, x1 + 25.0, lo, hi] };
            if self.shaft.iter().any(|s| meets(&band, &s.0, 0.0)) {
                continue;
            }
            match self.room(id, end, lo, hi, false, 25.0) {
                Ok(()) => return Ok(()),
                Err(e) => why = e,
            }
        }
        Err(why)
    }

    /// Everything that a nut or clip of the world holds must be in the state that a reading wants.
    fn held_tight(&self, bodies: &[String]) -> Result<(), String> {
        for b in bodies {
            if !self.world.contains(b) {
                return Err(format!("{b} is not there"));
            }
            if self.hot.contains(b) {
                return Err(format!("{b} is hot or not proved home"));
            }
        }
        for (id, b) in &self.all {
            if b.kind() == Some(PartKind::Nut)
                && !self.tight.contains(id)
                && self.stack(id).iter().any(|m| bodies.contains(m))
            {
                return Err(format!("{id} is not tight"));
            }
        }
        Ok(())
    }

    fn bearings(&self) -> Vec<String> {
        self.all
            .iter()
            .filter(|(_, b)| matches!(b.kind(), Some(PartKind::Bearing | PartKind::TaperCone | PartKind::Cup)))
            .map(|x| x.0.clone())
            .collect()
    }

    /// Has an upper half that is on.
    pub fn parted(&self, id: &str) -> bool {
        self.closed.contains(id)
    }

    /// What was fitted into it where it stands comes out there, too.
    fn empty(&self, id: &str) -> Result<(), String> {
        let stuck = self.world.iter().find(|o| self.all[*o].stands.as_deref() == Some(id));
        stuck.map_or(Ok(()), |o| Err(format!("{o} is in it")))
    }

    /// Lifts an upper half.
    pub fn lift(&mut self, id: &str) -> Result<(), String> {
        self.side(id, true)?;
        self.empty(id)?;
        if !self.closed.remove(id) {
            return Err("it is open already".into());
        }
        Ok(())
    }

    /// Takes a body out, with what it carries; out of its carrier when that is on the bench.
    pub fn out(&mut self, id: &str) -> Result<(), String> {
        let Some(b) = self.all.get(id) else { return Err("there is no such body".into()) };
        if let Some(c) = b.carrier.clone() {
            if self.world.contains(&c) && self.apart && self.world.contains(self.root(id)) {
                return Err(format!("{c} is still on"));
            }
            self.free_of_carrier(id, &c)?;
            self.fitted.remove(id);
            self.world.remove(id);
            return Ok(());
        }
        if b.parted() && self.closed.contains(id) {
            return Err("its upper half is on".into());
        }
        let beds = self.all_beds();
        if self.apart && beds.iter().any(|bed| bed == id) {
            self.lifts()?;
        }
        let b = &self.all[id];
        if self.apart
            && !b.sideways_in()
            && b.stands.is_none()
            && let Some(bed) = beds.iter().find(|bed| self.world.contains(*bed) && self.lies_in(b, &self.all[*bed]))
        {
            return Err(format!("the shaft lies on it in {bed}"));
        }
        let b = &self.all[id];
        if let Some(cap) = self.world.iter().find(|c| self.beds(c).any(|bed| bed == id)) {
            return Err(format!("{cap} is bolted over the shaft in it"));
        }
        // A nut in use needs its spanner, a circlip its pliers.
        if b.kind() == Some(PartKind::Nut) && self.tight.contains(id) {
            let washer =
                self.all.keys().find(|w| self.all[*w].kind() == Some(PartKind::TabWasher) && self.beside(w, id));
            let screws = self.world.iter().any(|w| {
                self.all[w].part.is_some_and(|p| p.kind == PartKind::SetScrew && p.locks.iter().any(|l| l == id))
            });
            if screws {
                return Err("its screw locks it".into());
            }
            let _ = washer;
            self.spanner(id)?;
        }
        for (w, o) in &self.all {
            // A tab washer lies under the nut that it locks.
            let under = o.kind() == Some(PartKind::TabWasher) && b.kind() == Some(PartKind::Nut);
            let holds = !under && o.part.is_some_and(|p| p.locks.iter().any(|l| l == id));
            if holds && self.world.contains(w) && self.root(w) != self.root(id) {
                return Err(format!("{w} holds it"));
            }
        }
        self.packed(id)?;
        self.uncovered(id)?;
        self.empty(id)?;
        self.heads(id)?;
        self.free(id)?;
        for g in self.group(id) {
            self.world.remove(&g);
        }
        Ok(())
    }

    /// Nothing holds the shaft in any of its beds.
    fn lifts(&self) -> Result<(), String> {
        let beds = self.all_beds();
        if let Some(h) = self.closed.iter().find(|h| beds.contains(h)) {
            return Err(format!("the shaft is held by the upper half of {h}"));
        }
        let fast = self.fast(&beds);
        let over = |c: &&String| {
            let b = &self.all[*c];
            let whole = b.housing.is_some_and(|h| h.from.is_some() && !h.split);
            self.beds(c).next().is_some() || whole && !fast.contains(*c)
        };
        self.world.iter().find(over).map_or(Ok(()), |c| Err(format!("the shaft is held by {c}")))
    }
    /// What cannot leave the shaft while it lies: rings that a bed grips, and all that would have to pass them or the bed.
    /// It rises with the shaft.
    fn fast(&self, beds: &[String]) -> BTreeSet<String> {
        let gripped = |o: &&String| {
            beds.iter().any(|bed| {
                self.all[bed].rings.iter().any(|r| {
                    let own = self.all[*o].rings.iter();
                    own.clone().any(|q| (r[2] - q[3]).abs() < 0.3 && r[1].min(q[1]) - r[0].max(q[0]) > 0.5)
                })
            })
        };
        let on_shaft = || self.world.iter().filter(|o| !beds.contains(o));
        let mut fast: BTreeSet<String> = on_shaft().filter(gripped).chain(beds).cloned().collect();
        loop {
            let stuck = |o: &&String| {
                let others: BTreeSet<String> = fast.iter().filter(|f| f != o).cloned().collect();
                !fast.contains(*o) && self.way(&self.group(o), self.all[*o].end(), &others, None).is_err()
            };
            let more: Vec<String> = on_shaft().filter(stuck).cloned().collect();
            if more.is_empty() {
                return fast;
            }
            fast.extend(more);
        }
    }
    /// What a ring of bolts is fastened to: said; its own lower half; the bed under a cap; the one body whose face meets
    /// its flange, through a gasket or a shim. None where that is open.
    fn partner(&self, flange: &str) -> Option<String> {
        let ring = self.a.bolt_rings.iter().find(|b| b.part == flange)?;
        if let Some(to) = &ring.to {
            return Some(to.clone());
        }
        let own = &self.all[flange];
        if own.parted() {
            return Some(flange.to_owned());
        }
        let beds: Vec<&str> = self.beds(flange).collect();
        if let [bed] = beds[..] {
            return Some(bed.to_owned());
        }
        let thick = |b: &B| {
            b.housing.is_some()
                || matches!(b.kind(), Some(PartKind::Cover | PartKind::Insert | PartKind::Cap | PartKind::Plate))
        };
        let mut found: BTreeSet<String> = BTreeSet::new();
        for side in [0, 1] {
            let mut layer = vec![flange.to_owned()];
            let mut seen: BTreeSet<String> = layer.iter().cloned().collect();
            while let Some(k) = layer.pop() {
                for f in &self.all[&k].rings {
                    for (o, b) in &self.all {
                        let touches = b
                            .rings
                            .iter()
                            .any(|r| (r[1 - side] - f[side]).abs() <= 0.6 && r[3].min(f[3]) - r[2].max(f[2]) > 1.0);
                        if !touches || seen.contains(o) {
                            continue;
                        }
                        if thick(b) {
                            found.insert(o.clone());
                        } else if matches!(b.kind(), Some(PartKind::Gasket | PartKind::Shim)) {
                            seen.insert(o.clone());
                            layer.push(o.clone());
                        }
                    }
                }
            }
        }
        found.retain(|o| self.root(o) != flange);
        if found.len() > 1 {
            let carrier = own.carrier.clone().or(own.stands.clone()).filter(|c| found.contains(c));
            let housings: Vec<&String> = found.iter().filter(|o| self.all[*o].housing.is_some()).collect();
            return match (carrier, &housings[..]) {
                (Some(c), _) => Some(c),
                (None, [h]) => Some((*h).clone()),
                _ => None,
            };
        }
        found.into_iter().next()
    }
    /// Where the shaft is laid in.
    fn all_beds(&self) -> Vec<String> {
        self.all
            .iter()
            .filter(|(_, b)| {
                b.housing.is_some_and(|h| {
                    h.from.is_none() && !h.split || h.split && (h.feet || self.all.values().any(|p| self.lies_in(p, b)))
                })
            })
            .map(|(id, _)| id.clone())
            .collect()
    }
    /// As wide outside as a bore of it.
    fn lies_in(&self, p: &B, h: &B) -> bool {
        p.part.is_some()
            && p.rings
                .iter()
                .any(|q| h.rings.iter().any(|r| (r[2] - q[3]).abs() < 0.3 && r[1].min(q[1]) - r[0].max(q[0]) > 0.5))
    }
    /// Bolts that tie what moves to what stays.
    fn tied(&self, moving: &[String]) -> Result<(), String> {
        for flange in &self.bolted {
            let Some(to) = self.partner(flange) else { continue };
            if to != *flange && moving.contains(flange) != moving.contains(&to) {
                return Err(format!("{flange} is still bolted to {to}"));
            }
        }
        Ok(())
    }
    /// Fastened to a bed, or closing one.
    fn of_beds(&self, flange: &str) -> bool {
        let beds = self.all_beds();
        let to = self.partner(flange);
        beds.iter().any(|b| b == flange)
            || to.is_some_and(|t| beds.contains(&t) || beds.iter().any(|b| b == self.root(&t)))
    }
    fn laid(&self) -> Result<(), String> {
        match self.all_beds().into_iter().find(|b| !self.world.contains(b)) {
            Some(b) => Err(format!("the shaft does not lie in {b}")),
            None => Ok(()),
        }
    }
    /// The nut that holds what went on hot, with what lies between: rings and washers that are laid on by hand.
    fn holder(&self, id: &str) -> Option<(String, Vec<String>)> {
        let nuts: Vec<&String> =
            self.all.iter().filter(|(_, b)| b.kind() == Some(PartKind::Nut)).map(|(n, _)| n).collect();
        nuts.into_iter().find_map(|n| {
            let p = self.all[n].part?;
            if p.adjusted || !self.stack(n).contains(id) || self.crossing(n) {
                return None;
            }
            let (x0, x1) = self.all[id].x();
            let (n0, n1) = self.all[n].x();
            let between: Vec<String> = self
                .stack(n)
                .into_iter()
                .filter(|m| m != id)
                .filter(|m| {
                    let (a, b) = self.all[m].x();
                    if n0 >= x1 { a >= x1 - 0.7 && b <= n0 + 0.7 } else { b <= x0 + 0.7 && a >= n1 - 0.7 }
                })
                .collect();
            let loose = |m: &String| {
                let p = self.all[m].part.unwrap();
                !matches!(p.fit, Hold::Press | Hold::Shrink | Hold::Oil)
                    && matches!(p.kind, PartKind::TabWasher | PartKind::Spacer | PartKind::Shim | PartKind::Expander)
            };
            let rest = |m: &String| m == id || between.contains(m) || self.world.contains(self.root(m));
            (between.iter().all(loose) && self.stack(n).iter().all(rest)).then(|| (n.clone(), between))
        })
    }
    /// A nut whose press goes through rolling contact is set, not nipped: tapers, or no shoulder behind them.
    fn crossing(&self, nut: &str) -> bool {
        self.stack(nut).iter().any(|m| matches!(self.all[m].kind(), Some(PartKind::TaperCone | PartKind::Cup)))
    }
    /// Nothing that came later hides whether it is home, stands in its way off, or is pressed against it.
    fn provable(&self, id: &str) -> Result<(), String> {
        let b = &self.all[id];
        if b.carrier.is_some() {
            return Ok(());
        }
        let Some(at) = self.came.iter().position(|c| c == id) else { return Ok(()) };
        let holders = self.holder(id).map(|(n, mut list)| {
            list.push(n);
            list
        });
        let holders = holders.unwrap_or_default();
        for o in &self.came[at + 1..] {
            let q = &self.all[o];
            let washer = q.kind() == Some(PartKind::TabWasher);
            if holders.contains(o) || washer || !self.world.contains(o) || self.root(o) == self.root(id) || !q.whole() {
                continue;
            }
            let open = q.housing.is_some_and(|h| if h.split { !self.closed.contains(o) } else { h.from.is_none() });
            let around =
                |r: &Ring, m: &Ring| r[1].min(m[1]) - r[0].max(m[0]) > 0.05 && r[3] > m[3] + 0.05 && r[2] > m[2] - 0.05;
            let against = |r: &Ring, m: &Ring| {
                ((r[0] - m[1]).abs() <= 0.6 || (r[1] - m[0]).abs() <= 0.6) && r[3].min(m[3]) - r[2].max(m[2]) > 0.1
            };
            if !open && q.rings.iter().any(|r| b.rings.iter().any(|m| around(r, m) || against(r, m))) {
                return Err(format!("{o} is there already, before {id} is proved home"));
            }
        }
        Ok(())
    }
    /// Has the pocket of a seal.
    fn pocket(&self, id: &str) -> Option<String> {
        let own = self.all[id].rings[0];
        let holds =
            |b: &B| b.housing.is_some() || matches!(b.kind(), Some(PartKind::Cover | PartKind::Insert | PartKind::Cap));
        self.all
            .iter()
            .filter(|(o, b)| *o != id && self.root(o) != id && holds(b))
            .find(|(_, b)| {
                b.rings.iter().any(|r| {
                    (r[2] - own[3]).abs() < 0.5 && r[1].min(own[1]) - r[0].max(own[0]) > 0.5 * (own[1] - own[0])
                })
            })
            .map(|(o, _)| o.clone())
    }
    /// Carries a rotor that stands.
    fn carries(&self, id: &str) -> bool {
        matches!(
            self.all[id].kind(),
            Some(
                PartKind::Bearing
                    | PartKind::TaperCone
                    | PartKind::Cup
                    | PartKind::ThrustWasher
                    | PartKind::ShoeSet
                    | PartKind::BaseRing
            )
        )
    }
    /// Joints, whatever else an act needs.
    fn joints(&mut self, s: &Act) -> Result<(), String> {
        let id = s.body.as_str();
        let known = self.all.contains_key(id);
        if let Some(hot) = self.in_hand.clone().filter(|_| s.verb.moves()) {
            let (nut, between) = self.holder(&hot).unwrap();
            let next = id == nut && matches!(s.verb, Verb::Place | Verb::Nip)
                || between.iter().any(|b| b == id) && s.verb == Verb::Place;
            if !next {
                return Err(format!("{hot} is hot and nothing holds it"));
            }
        }
        match (s.phase, s.verb) {
            (Phase::Mount, Verb::BoltDown) => {
                if let Some(to) = self.partner(id) {
                    let root = self.root(&to).to_owned();
                    let bench = root == self.root(id);
                    if !bench && !self.world.contains(&root) {
                        return Err(format!("{to}, which it is bolted to, is not there"));
                    }
                    for b in [&to, &root] {
                        if !bench && *b != id && self.all[b].parted() && !self.closed.contains(b) {
                            return Err(format!("{b} is still open"));
                        }
                    }
                    if bench && to != *id && self.world.contains(&root) {
                        return Err(format!("{root} moved before it was bolted"));
                    }
                }
                if self.of_beds(id) {
                    self.laid()?;
                }
                self.bolted.insert(id.to_owned());
            }
            (Phase::Mount, Verb::Close) => self.laid()?,
            (Phase::Mount, Verb::Place)
                if known && self.all[id].kind() == Some(PartKind::Cap) && self.beds(id).next().is_some() =>
            {
                self.laid()?;
            }
            (Phase::Mount, Verb::Nip) => self.in_hand = None,
            (Phase::Mount, Verb::ProveHome) => self.provable(id)?,
            (Phase::Mount, Verb::Lock) if self.all.get(id).is_some_and(|b| b.kind() == Some(PartKind::SetScrew)) => {
                let p = self.all[id].part.unwrap();
                if let Some(l) = p.locks.iter().find(|l| !self.world.contains(self.root(l))) {
                    return Err(format!("{l} does not stand where it stays"));
                }
            }
            (Phase::Mount, Verb::Set) if s.id.starts_with("drive.") => {
                let pocket = self.pocket(id).ok_or("it has no pocket")?;
                if !self.world.contains(id) || !self.world.contains(self.root(&pocket)) {
                    return Err("its pocket is not around it".into());
                }
                self.driven.insert(id.to_owned());
            }
            (Phase::Mount, Verb::Measure)
                if s.id.starts_with("tilt.") && self.all[id].carrier.is_none() && self.all[id].stands.is_none() =>
            {
                // It came before its pocket did: it is driven by an act of its own.
                if let Some(p) = self.pocket(id) {
                    let at = |x: &str| self.came.iter().position(|c| c == x);
                    let late = at(self.root(&p)).is_none_or(|k| at(id).is_none_or(|m| m < k));
                    if late && !self.driven.contains(id) {
                        return Err("it is not driven home".into());
                    }
                }
            }
            (Phase::Mount, Verb::Set) if s.id.starts_with("down.") => self.let_down = true,
            (Phase::Mount, Verb::Float) if self.a.stands == Stands::Vertical && !self.let_down => {
                return Err("the rotor still hangs on its hoist".into());
            }
            (Phase::Apart, Verb::Set) if s.id.starts_with("hold.") => self.hung = true,
            (Phase::Apart, Verb::Loosen) if s.id.starts_with("release.") => {
                let nuts: Vec<String> = self
                    .all
                    .iter()
                    .filter(|(n, b)| b.kind() == Some(PartKind::Nut) && self.stack(n).contains(id))
                    .map(|x| x.0.clone())
                    .collect();
                for n in nuts {
                    if !self.world.contains(&n) {
                        return Err(format!("{n} is off: nothing catches it"));
                    }
                    if self.tight.contains(&n) {
                        return Err(format!("{n} is not backed off: it cannot jump"));
                    }
                }
                self.let_go.insert(id.to_owned());
            }
            (Phase::Apart, Verb::Loosen | Verb::TakeOff) => {
                let carried = known
                    && (self.carries(id)
                        || s.verb == Verb::Loosen
                            && self.all[id].kind() == Some(PartKind::Nut)
                            && self.stack(id).iter().any(|m| self.carries(m)));
                if self.a.stands == Stands::Vertical && carried && !self.hung {
                    return Err("the rotor hangs from it".into());
                }
                if s.verb == Verb::Loosen {
                    self.bolted.remove(id);
                    return Ok(());
                }
                if known && self.all[id].part.is_some_and(|p| p.fit == Hold::Oil) && !self.let_go.contains(id) {
                    return Err("the oil holds it".into());
                }
                if known && self.all[id].kind() == Some(PartKind::Nut) {
                    let held = self.stack(id).into_iter().find(|m| {
                        self.world.contains(m)
                            && self.all[m].part.is_some_and(|p| p.fit == Hold::Oil)
                            && !self.let_go.contains(m)
                    });
                    if let Some(c) = held {
                        return Err(format!("it has to catch {c}"));
                    }
                }
                if s.id.starts_with("open.") {
                    if let Some(f) = self
                        .bolted
                        .iter()
                        .find(|f| **f == id || self.partner(f).is_some_and(|t| t == id || self.root(&t) == id))
                    {
                        return Err(format!("{f} is still bolted to it"));
                    }
                    return Ok(());
                }
                let moving = self.group(id);
                self.tied(&moving)?;
                let bed = self.all_beds().iter().any(|b| b == id);
                if let Some(f) = self.bolted.iter().find(|f| bed && self.of_beds(f)) {
                    return Err(format!("the shaft is held by {f}"));
                }
            }
            _ => {}
        }
        Ok(())
    }

    pub fn act(&mut self, s: &Act) -> Result<(), String> {
        self.joints(s)?;
        self.ready(s)?;
        if s.verb == Verb::Isolate {
            self.safe = true;
        }
        if s.phase == Phase::Apart && !self.safe {
            return Err("it is not isolated".into());
        }
        let id = s.body.as_str();
        match (s.phase, s.verb) {
            (Phase::Mount, Verb::Heat) => {
                self.hot.insert(id.to_owned());
            }
            (Phase::Mount, Verb::Place) => self.place(id)?,
            (Phase::Mount, Verb::Close) => {
                if !self.world.contains(id) {
                    return Err("its lower half is not there".into());
                }
                self.side(id, true)?;
                self.closed.insert(id.to_owned());
            }
            (Phase::Mount, Verb::ProveHome) => {
                let on = self.world.contains(id) || self.fitted.contains(id);
                if !on {
                    return Err("it is not on".into());
                }
                self.hot.remove(id);
            }
            (Phase::Mount, Verb::Nip | Verb::Tighten) => {
                self.spanner_if(id, s.verb == Verb::Tighten)?;
                for m in self.stack(id) {
                    if !self.world.contains(&m) {
                        return Err(format!("{m} of its stack is not there"));
                    }
                    if s.verb == Verb::Tighten && self.hot.contains(&m) {
                        return Err(format!("{m} is still hot"));
                    }
                }
                self.nipped.insert(id.to_owned());
                if s.verb == Verb::Tighten {
                    self.tight.insert(id.to_owned());
                }
            }
            (Phase::Mount, Verb::BendTab) => {
                let nut = self.nut_of(id)?;
                if !self.tight.contains(&nut) {
                    return Err(format!("{nut} is not tight"));
                }
                self.spanner(&nut)?;
                self.locked.insert(nut);
            }
            (Phase::Mount, Verb::BoltDown) => {
                // Bolted to what it is fitted into at the bench.
                let bench =
                    self.fitted.contains(id) && self.partner(id).is_some_and(|t| self.root(&t) == self.root(id));
                if !self.world.contains(id) && !bench || self.all[id].parted() && !self.closed.contains(id) {
                    return Err("it is not in its place".into());
                }
                self.heads(id)?;
                self.tight.insert(id.to_owned());
            }
            (Phase::Mount, Verb::Set) if self.all.get(id).is_some_and(|b| b.kind() == Some(PartKind::Nut)) => {
                self.spanner_if(id, true)?;
                self.tight.insert(id.to_owned());
            }
            (Phase::Mount, Verb::Float) => {
                let f = self.a.floats.iter().find(|f| s.id.ends_with(&format!(".{}", f.id))).ok_or("no such float")?;
                let named: Vec<String> =
                    f.after.iter().filter(|x| self.all.contains_key(*x)).cloned().chain(f.shim.clone()).collect();
                let list: Vec<String> = if f.after.is_empty() { self.bearings() } else { named };
                let list: Vec<String> = list.into_iter().filter(|x| !f.without.contains(x)).collect();
                self.held_tight(&list)?;
                if let Some(x) = f.without.iter().find(|x| self.world.contains(*x)) {
                    return Err(format!("{x} is in already"));
                }
            }
            (Phase::Mount, Verb::Sweep) => {
                let r = self.a.runouts.iter().find(|r| s.id == format!("sweep.{}", r.id)).ok_or("no such sweep")?;
                let mut list = vec![r.part.clone()];
                list.extend(r.reads.iter().filter(|x| self.all.contains_key(*x)).cloned());
                self.held_tight(&list)?;
                if let Some(x) = r.reads.as_deref().filter(|x| self.all.contains_key(*x)) {
                    self.touched(x, true)?;
                }
            }
            (Phase::Mount, Verb::Gap) => {
                let g = self.a.gaps.iter().find(|g| s.id == format!("gap.{}", g.id)).ok_or("no such gap")?;
                for x in &g.after {
                    let (x0, x1) = self.all[x].x();
                    let inside = |b: &B| {
                        matches!(b.kind(), Some(PartKind::Impeller | PartKind::Wheel)) && b.x().0 < x1 && b.x().1 > x0
                    };
                    let wheels: Vec<String> = self.all.iter().filter(|(_, b)| inside(b)).map(|y| y.0.clone()).collect();
                    self.held_tight(&wheels)?;
                    self.held_tight(std::slice::from_ref(x))?;
                }
            }
            (Phase::Mount, Verb::Preload | Verb::Drag) => {
                let p =
                    self.a.pairs.iter().find(|p| s.id.ends_with(&format!("{}.{}", p.a, p.b))).ok_or("no such pair")?;
                self.held_tight(&[p.a.clone(), p.b.clone()])?;
            }
            (Phase::Mount, Verb::Measure) if s.id.starts_with("tilt.") => self.touched(id, false)?,
            (Phase::Mount, Verb::Measure) if s.id.starts_with("standout.") => {
                let (r0, r1) = self.all[id].r();
                self.room(id, self.all[id].end(), r0, r1, false, 25.0)?;
            }
            (Phase::Mount, Verb::Lock) if self.all[id].kind() == Some(PartKind::Nut) => self.spanner(id)?,
            (Phase::Mount, Verb::Grease) if s.id.starts_with("grease.") => {
                if !self.world.contains(id) && !self.fitted.contains(id) {
                    return Err("it is not on".into());
                }
                // What holds it while it cools is on already.
                if self.holder(id).is_none() || self.a.part(id).is_none_or(|p| p.fit != Hold::Shrink) {
                    self.gun(id)?;
                }
            }
            (Phase::Apart, Verb::StraightenTab) => {
                let nut = self.nut_of(id)?;
                if !self.tight.contains(&nut) {
                    return Err(format!("{nut} was turned with its tab bent"));
                }
                self.spanner(&nut)?;
                self.locked.remove(&nut);
            }
            (Phase::Apart, Verb::Unlock) => {
                self.spanner_if(id, true)?;
                self.locked.remove(id);
            }
            (Phase::Apart, Verb::Loosen) => {
                if self.all[id].kind() == Some(PartKind::Nut) {
                    self.spanner(id)?;
                    self.heads(id)?;
                    let washer =
                        self.all.iter().any(|(w, b)| b.kind() == Some(PartKind::TabWasher) && self.beside(w, id));
                    if washer && self.locked.contains(id) {
                        return Err("its tab is still bent".into());
                    }
                }
                self.tight.remove(id);
            }
            (Phase::Apart, Verb::TakeOff) => {
                if s.id.starts_with("open.") {
                    self.lift(id)?;
                } else {
                    let nut = self.all[id].kind() == Some(PartKind::Nut);
                    let bolted = self.a.bolt_rings.iter().any(|b| b.part == id) && !self.all[id].parted();
                    if (nut || bolted) && self.tight.contains(id) {
                        return Err("it is not loosened".into());
                    }
                    self.out(id)?;
                }
            }
            (Phase::Apart, Verb::Ask) => self.ask(s)?,
            _ => {}
        }
        Ok(())
    }

    /// Bolt heads are reached where the sheet says where they are.
    fn heads(&self, id: &str) -> Result<(), String> {
        let Some((c, head)) = self.a.bolt_rings.iter().find(|b| b.part == id).and_then(|b| b.circle_mm.zip(b.head))
        else {
            return Ok(());
        };
        self.room(id, head, c.get() / 2.0 - 8.0, c.get() / 2.0 + 8.0, false, 25.0)
    }

    fn spanner_if(&self, id: &str, wanted: bool) -> Result<(), String> {
        if !self.world.contains(id) {
            return Err("it is not on".into());
        }
        if wanted && self.all[id].kind() == Some(PartKind::Nut) { self.spanner(id) } else { Ok(()) }
    }

    fn place(&mut self, id: &str) -> Result<(), String> {
        let b = &self.all[id];
        if let Some(c) = b.carrier.clone() {
            if self.world.contains(&c) {
                return Err(format!("{c} is in its place already"));
            }
            // Fitted before its carrier goes to its place, and that is into another carrier, too.
            if let Some(g) = self.group(id).iter().find(|g| *g != id && !self.fitted.contains(*g)) {
                return Err(format!("{g} is not in it"));
            }
            self.free_of_carrier(id, &c)?;
            self.fitted.insert(id.to_owned());
            return Ok(());
        }
        if let Some(c) = &b.stands
            && (!self.world.contains(c) || self.all[c].parted() && !self.closed.contains(c))
        {
            return Err(format!("{c} is not there"));
        }
        if let Some(g) = self.group(id).iter().find(|g| *g != id && !self.fitted.contains(*g)) {
            return Err(format!("{g} is not in it"));
        }
        // A hot ring does not enter a close bore.
        if self.hot.contains(id) {
            for o in &self.world {
                let h = &self.all[o];
                let grips = h.housing.is_some()
                    && h.rings.iter().any(|r| {
                        b.rings.iter().any(|q| (r[2] - q[3]).abs() < 0.3 && r[1].min(q[1]) - r[0].max(q[0]) > 0.5)
                    });
                let whole = h.housing.is_some_and(|h| h.from.is_some() && !h.split);
                if grips && whole {
                    return Err(format!("it is hot and has to enter {o}"));
                }
            }
        }
        let hot = b.part.is_some_and(|p| p.fit == Hold::Shrink) && self.hot.contains(id);
        self.free(id)?;
        self.before_what_is_hot(id)?;
        for g in self.group(id) {
            self.came.push(g.clone());
            self.world.insert(g);
        }
        if hot && self.holder(id).is_some() {
            self.in_hand = Some(id.to_owned());
        }
        if hot {
            self.hot.insert(id.to_owned());
        }
        Ok(())
    }

    /// A ring that was heated and lies in the tongs: what cannot go on after it should have been there before it was
    /// hot.
    fn before_what_is_hot(&mut self, id: &str) -> Result<(), String> {
        let waiting: Vec<String> = self.hot.iter().filter(|h| *h != id && !self.world.contains(*h)).cloned().collect();
        for h in waiting {
            let group = self.group(&h);
            self.world.extend(group.iter().cloned());
            let late = self.free(id).is_err();
            for g in &group {
                self.world.remove(g);
            }
            if late {
                return Err(format!("{h} is hot already, and {id} has to be on before it"));
            }
        }
        Ok(())
    }

    /// From one side, or from outside, nothing that moves as one hides most of it; on the bench everything is seen.
    fn seen(&self, id: &str) -> Result<(), String> {
        let b = &self.all[id];
        if !self.world.contains(self.root(id)) {
            return Ok(());
        }
        let ((x0, x1), (r0, r1)) = (b.x(), b.r());
        // While it stands in its carrier, that may hide it, too.
        let alone = b.carrier.is_some();
        let other = |o: &String| if alone { o != id } else { self.root(o) != self.root(id) };
        // A tab is bent up over its nut.
        let other = |o: &String| {
            other(o)
                && !(b.kind() == Some(PartKind::TabWasher)
                    && self.all[o].kind() == Some(PartKind::Nut)
                    && self.beside(id, o))
        };
        let shown = |b: &B| !matches!(b.kind(), Some(PartKind::Key | PartKind::SetScrew | PartKind::Probe));
        let stands = |o: &String| {
            self.all[o].housing.is_none_or(|h| if h.split { self.closed.contains(o) } else { h.from.is_some() })
        };
        let mut why = "the shaft hides it".to_owned();
        let depth = |end: End| {
            let mut d = 25.0;
            loop {
                let tip = if end == End::A { x0 - d } else { x1 + d };
                let tube = self
                    .all
                    .iter()
                    .filter(|(o, _)| self.world.contains(*o) && self.root(o) != self.root(id))
                    .filter_map(|(_, b)| {
                        let whole = b.housing.is_some_and(|h| h.from.is_some() && !h.split);
                        whole
                            .then(|| {
                                b.rings.iter().find(|r| r[2] >= r1 - 0.05 && r[0] < tip - 0.05 && r[1] > tip + 0.05)
                            })
                            .flatten()
                    });
                match tube.map(|r| if end == End::A { x0 - r[0] } else { r[1] - x1 }).reduce(f64::max) {
                    Some(e) if e > d + 0.05 => d = e,
                    _ => return d,
                }
            }
        };
        let rooms = [[x0 - depth(End::A), x0, r0, r1], [x1, x1 + depth(End::B), r0, r1], [x0 + 0.5, x1 - 0.5, r1, 1e6]];
        'room: for t in rooms {
            if self
                .shaft
                .iter()
                .any(|s| meets(&t, &s.0, 0.0) && (s.0[3].min(t[3]) - t[2]) > 0.6 * (t[3].min(1e5) - t[2]))
            {
                continue;
            }
            let mut groups: BTreeMap<&str, Vec<(f64, f64)>> = BTreeMap::new();
            for o in self.world.iter().filter(|o| other(o) && shown(&self.all[*o]) && stands(o)) {
                for r in self.all[o].rings.iter().filter(|r| meets(&t, r, 0.0)) {
                    groups.entry(self.root(o)).or_default().push((r[2].max(t[2]), r[3].min(t[3])));
                }
            }
            for (g, mut list) in groups {
                list.sort_by(|x, y| x.0.total_cmp(&y.0));
                let (mut sum, mut up) = (0.0, t[2]);
                for (lo, hi) in list {
                    sum += (hi - f64::max(lo, up)).max(0.0);
                    up = f64::max(up, hi);
                }
                if t[3] > 1e5 || sum > 0.6 * (t[3] - t[2]) {
                    why = format!("{g} hides it");
                    continue 'room;
                }
            }
            return Ok(());
        }
        Err(why)
    }

    /// A float that says what has to be out, or slack, for it.
    fn ask_later(&self, f: &FloatOf) -> Result<(), String> {
        if let Some(x) = f.without.iter().find(|x| self.world.contains(*x)) {
            return Err(format!("{x} is still in"));
        }
        for x in f.after.iter().filter(|x| !f.without.contains(x)) {
            if self.all.contains_key(x) && !self.world.contains(self.root(x)) {
                return Err(format!("{x} is off already"));
            }
            let nut = self.all.get(x).is_some_and(|b| b.kind() == Some(PartKind::Nut));
            if f.condition == Condition::Slack && nut && self.tight.contains(x) {
                return Err(format!("{x} is not slack"));
            }
        }
        Ok(())
    }

    fn ask(&self, s: &Act) -> Result<(), String> {
        let id = s.body.as_str();
        if let Some(f) = self.a.floats.iter().find(|f| s.id == format!("ask.float.{}", f.id))
            && (!f.without.is_empty() || f.condition == Condition::Slack)
        {
            return self.ask_later(f);
        }
        if let Some(r) = self.a.runouts.iter().find(|r| s.id == format!("ask.runout.{}", r.id))
            && let Some(x) = r.reads.as_deref().filter(|x| self.all.contains_key(*x))
        {
            let mut whole = Judge::new(self.a);
            whole.assembled();
            if whole.touched(x, true).is_err() {
                self.touched(x, true)?;
                let rests = [x, r.part.as_str()];
                if let Some(gone) = rests.iter().find(|x| !self.world.contains(self.root(x))) {
                    return Err(format!("{gone} is off already"));
                }
                let loose = |n: &&String| {
                    self.all[*n].kind() == Some(PartKind::Nut)
                        && !self.tight.contains(*n)
                        && self.stack(n).contains(r.part.as_str())
                };
                return self.all.keys().find(loose).map_or(Ok(()), |n| Err(format!("{n} is loosened already")));
            }
        }
        if s.id.starts_with("ask.float.") || s.id.starts_with("ask.runout.") {
            let loose = self.all.iter().any(|(i, b)| b.kind() == Some(PartKind::Nut) && !self.tight.contains(i));
            return if loose { Err("a nut is loosened already".into()) } else { Ok(()) };
        }
        let Some(b) = self.all.get(id) else { return Ok(()) };
        if b.kind() == Some(PartKind::Nut) && !self.tight.contains(id) {
            return Err("it is loosened already".into());
        }
        // A wire is traced and measured before what carries its probe is drawn; a probe is felt, not looked at.
        if b.kind() == Some(PartKind::Probe) {
            let root = self.root(id);
            return if self.world.contains(root) { Ok(()) } else { Err(format!("its wire was drawn with {root}")) };
        }
        if b.carrier.is_none() && !self.world.contains(id) {
            return Err("it is off already".into());
        }
        if b.housing.is_some() {
            return Ok(());
        }
        self.seen(id)
    }
}

fn end_other(e: End) -> End {
    if e == End::A { End::B } else { End::A }
}
