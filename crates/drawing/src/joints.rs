//! Joints in the half section: bolts drawn to both of their ends, tight, slack or away; what is hot or under pressure.

use crate::frame::Paper;
use crate::svg::{Svg, escape};
use ironseat_core::anatomy::body::{Bodies, Way};
use ironseat_core::anatomy::joints::{Partner, partner};
use ironseat_core::anatomy::{Anatomy, BoltRing, text};
use ironseat_core::terms::End;
use std::collections::BTreeMap;

/// State of a ring of bolts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
#[allow(missing_docs)]
pub enum Bolted {
    Tight,
    Slack,
    Away,
}

impl Bolted {
    fn class(self) -> &'static str {
        match self {
            Self::Tight => "joint fast",
            Self::Slack => "joint slack",
            Self::Away => "joint away",
        }
    }
    /// As said.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Tight => "tight",
            Self::Slack => "slack",
            Self::Away => "away",
        }
    }
}

/// Why nobody leaves a part alone, or lays a hand on it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Alive {
    Hot,
    Pressed,
}

impl Alive {
    pub(crate) fn class(self) -> &'static str {
        match self {
            Self::Hot => " hot",
            Self::Pressed => " pressed",
        }
    }
    /// As said.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Hot => "hot",
            Self::Pressed => "under pressure",
        }
    }
}

/// What is known of the joints of a machine: what is not named is tight where it is on, and cold.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Joints {
    /// By the id of the flange.
    pub bolts: BTreeMap<String, Bolted>,
    /// By the id of the part.
    pub alive: BTreeMap<String, Alive>,
}

/// Least length of a bolt in its partner, mm.
const IN: f64 = 14.0;

/// Every ring of bolts of a machine.
pub(crate) fn draw(s: &mut Svg, a: &Anatomy, joints: &Joints, on: &dyn Fn(&str) -> bool, paper: &Paper) {
    if a.bolt_rings.is_empty() {
        return;
    }
    let all = Bodies::of(a);
    for ring in &a.bolt_rings {
        let Some(i) = all.number(&ring.part).filter(|i| *i != 0) else { continue };
        let state = match (on(&ring.part), joints.bolts.get(&ring.part)) {
            (false, _) => Bolted::Away,
            (true, said) => said.copied().unwrap_or(Bolted::Tight),
        };
        let to = partner(a, &all, ring);
        let says = says(a, &all, ring, &to, state);
        s.raw(&format!(
            r#"<g class="{}" data-joint="{}" tabindex="0" role="img" aria-label="{says}"><title>{says}</title>"#,
            state.class(),
            escape(&ring.part),
            says = escape(&says)
        ));
        let body = &all.list[i];
        let (x0, x1) = body.reach();
        let (r0, r1) = body.radii();
        let lift = if state == Bolted::Slack { 4.0 } else { 0.0 };
        match (&to, body.way) {
            // Pulled down across the split: seen from outside, clear of the shaft, at both ends.
            (Partner::Halves(_), _) => {
                let top = paper.cy + shaft(a, x0, x1) * paper.scale + 10.0;
                for x in [paper.x(x0) + 9.0, paper.x(x1) - 9.0] {
                    upright(s, x, top, (top + 18.0).min(paper.cy + r1 * paper.scale - 2.0), lift);
                }
            }
            (_, Way::Sideways) => {
                for x in [paper.x(x0) + 7.0, paper.x(x1) - 7.0] {
                    upright(s, x, paper.cy - r1 * paper.scale, paper.cy - r0 * paper.scale, lift);
                }
            }
            (_, Way::Axial(from)) => {
                let head = ring.head.unwrap_or(from);
                let r = ring.circle_mm.map_or(r1 - (r1 - r0).min(24.0) / 4.0, |c| c.get() / 2.0);
                let near: Vec<_> = body.rings.iter().filter(|m| m.r0 <= r && r <= m.r1).collect();
                let ends = near.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |e, m| (e.0.min(m.x0), e.1.max(m.x1)));
                let (f0, f1) = if near.is_empty() { (x0, x1) } else { ends };
                let depth =
                    to.body().map_or(IN / 2.0, |t| IN.min((all.list[t].reach().1 - all.list[t].reach().0) / 2.0));
                let (from, tip) = match head {
                    End::A => (paper.x(f0), paper.x(f1 + depth)),
                    End::B => (paper.x(f1), paper.x(f0 - depth)),
                };
                for y in [paper.cy - r * paper.scale, paper.cy + r * paper.scale] {
                    lying(s, (from, tip), y, lift);
                }
            }
        }
        s.raw("</g>");
    }
}

/// Radius of the shaft within a stretch of it.
fn shaft(a: &Anatomy, x0: f64, x1: f64) -> f64 {
    let mut x = 0.0;
    let mut out: f64 = 0.0;
    for l in &a.lands {
        let end = x + l.length_mm.get();
        if x < x1 && end > x0 {
            out = out.max(l.d_mm.get() / 2.0);
        }
        x = end;
    }
    out
}

/// `6 bolts of rear cover hold it to quill: tight.`
fn says(a: &Anatomy, all: &Bodies, ring: &BoltRing, to: &Partner, state: Bolted) -> String {
    let name = text::inside(a.name_of(&ring.part));
    let held = match to {
        Partner::Halves(_) => "hold its halves together".to_owned(),
        Partner::One(t) => format!("hold it to {}", text::inside(&all.list[*t].name)),
        Partner::Unsaid => "hold it to something that the sheet does not say".to_owned(),
        Partner::Several(_) => "hold it to one of several faces: the sheet does not say which".to_owned(),
    };
    format!("{} bolts of {name} {held}: {}.", ring.n, state.word())
}

/// A bolt along the axis: its head at one end, its tip at the other.
fn lying(s: &mut Svg, (from, tip): (f64, f64), y: f64, lift: f64) {
    let out = if tip > from { -1.0 } else { 1.0 };
    let head = from + out * lift;
    s.rect("reach", from.min(tip) - 8.0, y - 8.0, (tip - from).abs() + 16.0, 16.0);
    s.rect("shank", head.min(tip), y - 1.6, (tip - head).abs(), 3.2);
    s.rect("head", if out < 0.0 { head - 4.0 } else { head }, y - 4.0, 4.0, 8.0);
}

/// A bolt across the axis, its head above.
fn upright(s: &mut Svg, x: f64, top: f64, tip: f64, lift: f64) {
    let head = top - lift;
    s.rect("reach", x - 8.0, head - 8.0, 16.0, tip - head + 16.0);
    s.rect("shank", x - 1.6, head, 3.2, tip - head);
    s.rect("head", x - 4.0, head - 4.0, 8.0, 4.0);
}
