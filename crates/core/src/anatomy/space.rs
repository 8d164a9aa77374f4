//! What is in whose way: sweeps along the axis, ways from the side, and the room that a tool needs.

pub use super::body::Space;
use super::body::{Bodies, Body, What};
use super::kinds::{Build, Role};
use super::{Anatomy, facing};
use crate::terms::End;

/// Faces that touch share no length.
const ALONG: f64 = 0.05;
/// Sizes that are the same share no radius.
const ACROSS: f64 = 1e-3;

/// Two rings that meet: the moving one and the one in its way.
pub type Meeting = (Space, Space);

/// Where a moving ring meets one that stands, coming from an end.
fn sweep(moving: &[Space], from: End, standing: &[Space], give: f64) -> Option<Meeting> {
    for m in moving {
        for o in standing {
            let passed = match from {
                End::A => o.x0 < m.x1 - ALONG,
                End::B => o.x1 > m.x0 + ALONG,
            };
            if passed && m.across(o) > give + ACROSS {
                return Some((*m, *o));
            }
        }
    }
    None
}

/// A lip gives way no farther than this, mm.
const LIP: f64 = 2.0;

/// How far a body gives way: half the section of what springs, of a lip two millimetres at most.
fn yielding(a: &Anatomy, b: &Body) -> f64 {
    if b.build != Build::Yields {
        return 0.0;
    }
    let (r0, r1) = b.radii();
    let lip = matches!(b.what, What::Part(k) if a.parts[k].kind.role() == Role::Lip);
    if lip { ((r1 - r0) / 2.0).min(LIP) } else { (r1 - r0) / 2.0 }
}

/// A cone and the cup it runs in: places that meet.
fn mates(a: &Anatomy, all: &Bodies, x: usize, y: usize) -> bool {
    if !facing::is_taper(all.part(a, x)) || !facing::is_taper(all.part(a, y)) {
        return false;
    }
    let (p, q) = (all.list[x].reach(), all.list[y].reach());
    if p.0 >= q.1 || q.0 >= p.1 {
        return false;
    }
    let taper = |i: usize, role: Role| all.part(a, i).is_some_and(|p| p.kind.role() == role);
    let pair = (taper(x, Role::Cone) && taper(y, Role::Cup)) || (taper(x, Role::Cup) && taper(y, Role::Cone));
    pair || all.list[x].what == all.list[y].what
}

/// A key and what has its keyway: a part that names it, or that covers its place.
fn keyed(a: &Anatomy, all: &Bodies, x: usize, y: usize) -> bool {
    let over = |key: usize, other: usize| {
        let b = &all.list[key];
        if b.build != Build::Key {
            return false;
        }
        let named = all.part(a, other).is_some_and(|p| p.key.as_deref() == Some(&b.id));
        let (p, q) = (b.reach(), all.list[other].reach());
        named || p.1.min(q.1) - p.0.max(q.0) > ALONG
    };
    over(x, y) || over(y, x)
}

/// Where one body, moving to its place, meets another that is there; none when its way is free. For a body that is
/// carried this is asked of each member of the moving group.
pub fn in_way(a: &Anatomy, all: &Bodies, mover: usize, from: End, standing: usize) -> Option<Meeting> {
    let (m, o) = (&all.list[mover], &all.list[standing]);
    let paired = mates(a, all, mover, standing);
    // Most pairs of a long machine do not meet at all.
    if !paired && sweep(&m.rings, from, &o.rings, 0.0).is_none() {
        return None;
    }
    // A screw lies in what it locks; it is no ring.
    if [m, o].iter().any(|b| b.build == Build::Ray && screw(a, b)) || keyed(a, all, mover, standing) {
        return None;
    }
    if paired {
        // The cone goes in at the cup's thin side, whichever of the two moves.
        let cup_moves = all.part(a, mover).is_some_and(|p| p.kind.role() == Role::Cup) || m.id.ends_with(".outer");
        let cup = if cup_moves { mover } else { standing };
        let back = all.part(a, cup).and_then(facing::cup_back)?;
        let blocked = if cup_moves { back != from } else { back == from };
        return blocked.then(|| (m.rings[0], o.rings[0]));
    }
    // A carrier that is given as one ring does not show the pocket of what is fitted into it where it stands.
    if m.stands_in == Some(standing) && matches!(o.what, What::Part(k) if a.parts[k].rings.is_empty()) {
        return None;
    }
    let own = if standing == 0 { all.part(a, mover).map(|p| p.land.clone()) } else { None };
    let give = yielding(a, m).max(yielding(a, o));
    match own {
        // Interference does not count at a part's own seat.
        Some(land) => sweep_shaft(a, all, m, from, &land, give),
        None => {
            let give =
                if m.parent == Some(standing) || m.stands_in == Some(standing) { give.max(fit_give(m)) } else { give };
            sweep(&m.rings, from, &o.rings, give)
        }
    }
}

fn screw(a: &Anatomy, b: &Body) -> bool {
    matches!(b.what, What::Part(k) if a.parts[k].kind.role() == Role::Screw)
}

/// Interference at a seat: a few thousandths of the size, a tenth at least.
fn fit_give(b: &Body) -> f64 {
    0.1f64.max(0.004 * b.radii().1)
}

fn sweep_shaft(a: &Anatomy, all: &Bodies, m: &Body, from: End, own: &str, give: f64) -> Option<Meeting> {
    let (x0, x1) = a.start(own).map_or((0.0, 0.0), |s| {
        let l = a.land(own).map_or(0.0, |l| l.length_mm.0);
        (s.0, s.0 + l)
    });
    let thread = a.land(own).is_some_and(|l| l.kind != super::LandKind::Plain);
    for o in &all.list[0].rings {
        let mine = o.x0 >= x0 - 1e-9 && o.x1 <= x1 + 1e-9 && o.r0 == 0.0;
        let give = match (mine, thread) {
            (true, true) => f64::INFINITY,
            (true, false) => give.max(fit_give(m)),
            (false, _) => give,
        };
        if let Some(hit) = sweep(&m.rings, from, std::slice::from_ref(o), give) {
            return Some(hit);
        }
    }
    None
}

/// A whole ring that lies around a body which has to come from the side.
pub fn around(a: &Anatomy, all: &Bodies, mover: usize, standing: usize) -> Option<Meeting> {
    let (m, o) = (&all.list[mover], &all.list[standing]);
    if standing == 0 || o.build != Build::Whole {
        return None;
    }
    // A screw goes in through what it locks, and anything through what carries it.
    let through = all.part(a, mover).is_some_and(|p| p.locks.contains(&o.id) || p.inside.as_deref() == Some(&o.id));
    if through && m.build == Build::Ray || m.parent == Some(standing) || m.stands_in == Some(standing) {
        return None;
    }
    nested(m, o)
}

/// The outer of two that share a stretch of the axis.
fn nested(m: &Body, o: &Body) -> Option<Meeting> {
    m.rings
        .iter()
        .flat_map(|x| o.rings.iter().map(move |y| (*x, *y)))
        .find(|(x, y)| x.along(y) > ALONG && y.r1 > x.r1 + 0.05 && y.r0 > x.r0 - 0.05)
}

/// Two bodies that stand in the same place.
pub fn overlap(a: &Anatomy, all: &Bodies, x: usize, y: usize) -> Option<Meeting> {
    let (m, o) = (&all.list[x], &all.list[y]);
    let soft = |b: &Body| b.build != Build::Whole;
    let leaf = |i: usize| all.part(a, i).is_some_and(|p| p.kind.role() == Role::Shim && p.split);
    // Caps are the upper side of what is open or parted below them.
    let cap = |i: usize, h: usize| {
        let lower = all.open(a, h) || all.list[h].split && matches!(all.list[h].what, What::Housing(_));
        lower && all.list[i].split && matches!(all.list[i].what, What::Part(_))
    };
    if soft(m) || soft(o) || mates(a, all, x, y) || leaf(x) || leaf(y) || m.what == o.what || cap(x, y) || cap(y, x) {
        return None;
    }
    // What is fitted into a carrier lies in a pocket of it.
    if m.parent == Some(y) || o.parent == Some(x) || m.stands_in == Some(y) || o.stands_in == Some(x) {
        return None;
    }
    let own = |i: usize, r: &Space| {
        // Threads, tapers and splines of the land that a part sits on.
        all.part(a, i).and_then(|p| a.land(&p.land).map(|l| (l, a.start(&l.id)))).is_some_and(|(l, s)| {
            let s = s.map_or(0.0, |s| s.0);
            l.kind != super::LandKind::Plain && r.x0 >= s - 1e-9 && r.x1 <= s + l.length_mm.0 + 1e-9
        })
    };
    m.rings.iter().flat_map(|p| o.rings.iter().map(move |q| (*p, *q))).find(|(p, q)| {
        let give = fit_give(m).max(fit_give(o)).max(0.05);
        p.along(q) > ALONG.max(0.05) && p.across(q) > give && !(x == 0 && own(y, p)) && !(y == 0 && own(x, q))
    })
}

/// The room of a tool and what of it a body takes up.
pub fn takes_room(tool: &[Space], o: &Body) -> bool {
    o.build != Build::Key && tool.iter().any(|t| o.rings.iter().any(|r| t.along(r) > ALONG && t.across(r) > ACROSS))
}

/// A tool is so long before it may leave from the side, mm.
pub const TOOL: f64 = 25.0;

/// Which housings stand whole around something while an act is done.
pub type Stands<'a> = &'a dyn Fn(usize) -> bool;

/// A band before a face: as deep as a tool is long, and on through what stands whole around it there, as the tool
/// cannot leave from the side before.
fn front(all: &Bodies, i: usize, end: End, length: f64, r0: f64, r1: f64, stands: Stands<'_>) -> Space {
    let (x0, x1) = all.list[i].reach();
    let root = all.root(i);
    let mut depth = length;
    let mut again = true;
    while again {
        again = false;
        let tip = if end == End::A { x0 - depth } else { x1 + depth };
        for (k, b) in all.list.iter().enumerate() {
            let whole = matches!(b.what, What::Housing(_)) && matches!(b.way, super::body::Way::Axial(_));
            if !whole || all.root(k) == root || !stands(k) {
                continue;
            }
            for r in b.rings.iter().filter(|r| r.r0 >= r1 - 0.05 && r.x0 < tip - ALONG && r.x1 > tip + ALONG) {
                depth = if end == End::A { x0 - r.x0 } else { r.x1 - x1 };
                again = true;
            }
        }
    }
    match end {
        End::A => Space { x0: x0 - depth, x1: x0, r0, r1 },
        End::B => Space { x0: x1, x1: x1 + depth, r0, r1 },
    }
}

/// A spanner round a nut, or pins in its face, reaching to its open side: the ring that must be free.
#[must_use]
pub fn spanner(all: &Bodies, i: usize, from: End, wall: bool, length: f64, stands: Stands<'_>) -> Vec<Space> {
    let b = &all.list[i];
    let ((x0, x1), (r0, r1)) = (b.reach(), b.radii());
    let room = if wall { (0.15 * 2.0 * r1).max(4.0) } else { 0.0 };
    let mut out = vec![front(all, i, from, length, r0, r1 + room, stands)];
    if wall {
        out.push(Space { x0, x1, r0: r1, r1: r1 + room });
    }
    out
}

/// The band before a face: pliers, a depth gauge, a grease gun, eyes. `inner` and `outer` are shares of the section.
#[must_use]
pub fn before_face(
    all: &Bodies,
    i: usize,
    end: End,
    length: f64,
    (inner, outer): (f64, f64),
    stands: Stands<'_>,
) -> Vec<Space> {
    let (r0, r1) = all.list[i].radii();
    let at = |s: f64| r0 + (r1 - r0) * s;
    vec![front(all, i, end, length, at(inner), at(outer), stands)]
}

/// The room of circlip pliers: the inner half of the ring, which is where its ears are.
#[must_use]
pub fn pliers(all: &Bodies, i: usize, end: End, length: f64, stands: Stands<'_>) -> Vec<Space> {
    before_face(all, i, end, length, (0.25, 0.5), stands)
}

/// Bodies that hide a band from sight: whatever moves as one and takes up most of it; none when enough of it can be
/// seen. What moves with `root` hides nothing. No answer when the shaft itself is in front of it.
#[must_use]
pub fn hiding(all: &Bodies, i: usize, root: usize, room: &[Space]) -> Option<Vec<usize>> {
    let mut out = Vec::new();
    for t in room {
        let mut bands: Vec<(usize, f64, f64)> = Vec::new();
        for o in (0..all.list.len()).filter(|o| *o != i && (*o == 0 || all.root(*o) != root)) {
            let b = &all.list[o];
            // An open housing lies below: it is looked into from above.
            let open = matches!(b.what, What::Housing(_)) && b.way == super::body::Way::Sideways && !b.split;
            if open || matches!(b.build, Build::Ray | Build::Key) {
                continue;
            }
            for r in b.rings.iter().filter(|r| t.along(r) > ALONG && t.across(r) > ACROSS) {
                bands.push((all.root(o), r.r0.max(t.r0), r.r1.min(t.r1)));
            }
        }
        bands.sort_by(|x, y| x.0.cmp(&y.0).then(x.1.total_cmp(&y.1)));
        for group in bands.chunk_by(|x, y| x.0 == y.0) {
            let (mut covered, mut up) = (0.0, t.r0);
            for (_, lo, hi) in group {
                covered += (hi - lo.max(up)).max(0.0);
                up = up.max(*hi);
            }
            // A ray that goes outwards for ever is hidden by any ring in it.
            if t.r1 > 1e5 || covered > 0.6 * (t.r1 - t.r0) {
                if group[0].0 == 0 {
                    return None;
                }
                out.push(group[0].0);
            }
        }
    }
    out.sort_unstable();
    out.dedup();
    Some(out)
}

/// Bodies that take up room of a tool, but for those that move with the body itself. No answer when the shaft takes it.
#[must_use]
pub fn taking(all: &Bodies, i: usize, room: &[Space]) -> Option<Vec<usize>> {
    let root = all.root(i);
    if takes_room(room, &all.list[0]) {
        return None;
    }
    Some((1..all.list.len()).filter(|o| all.root(*o) != root && takes_room(room, &all.list[*o])).collect())
}

/// What lies along a ray from a body outwards.
#[must_use]
pub fn outwards(b: &Body) -> Vec<Space> {
    let ((x0, x1), (_, r1)) = (b.reach(), b.radii());
    let (a, c) = if x1 - x0 > 2.0 { (x0 + 0.5, x1 - 0.5) } else { (x0, x1) };
    vec![Space { x0: a, x1: c, r0: r1, r1: 1e6 }]
}
