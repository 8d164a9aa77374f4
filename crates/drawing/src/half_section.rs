//! The half section of a machine, drawn from its anatomy: the map of the bench.

use crate::frame::{Frame, Paper};
use crate::joints::{self, Joints};
use crate::svg::{Svg, escape, n, polygon};
use crate::{numbers, part_shapes};
use ironseat_core::anatomy::{Anatomy, Housing, LandKind, Part};
use std::collections::{BTreeMap, BTreeSet};

/// What the mark of a seat shows.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Mark {
    Todo,
    InHand,
    Clock,
    Go,
    Undecided,
    LookAgain,
    Stop,
}

impl Mark {
    fn class(self) -> &'static str {
        match self {
            Self::Todo => "todo",
            Self::InHand => "hand",
            Self::Clock => "clock",
            Self::Go => "go",
            Self::Undecided => "undecided",
            Self::LookAgain => "look_again",
            Self::Stop => "stop",
        }
    }
    /// The word for it, so that colour and shape are never alone.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Todo => "not begun",
            Self::InHand => "in hand",
            Self::Clock => "clock running",
            Self::Go => "go",
            Self::Undecided => "undecided",
            Self::LookAgain => "look again",
            Self::Stop => "stop",
        }
    }
}

/// Mark of one seat.
#[derive(Debug, Clone)]
pub struct SeatMark {
    /// Its shape.
    pub mark: Mark,
    /// A few characters under the name: `+11 µm, home`.
    pub value: String,
    /// Where a touch leads.
    pub href: String,
}

/// What is on the shaft.
#[derive(Debug, Clone, Copy)]
pub enum Fitted<'a> {
    /// Everything: a machine type, not a rebuild.
    All,
    /// These parts by the trail of a rebuild, and which came off as scrap.
    Parts {
        /// Parts and housings that are on.
        on: &'a BTreeSet<String>,
        /// Scrapped by coming off.
        scrapped: &'a BTreeSet<String>,
    },
}

impl Fitted<'_> {
    fn off(self, part: &Part) -> bool {
        match self {
            Self::All => false,
            Self::Parts { on, .. } => !on.contains(&part.id),
        }
    }
    fn housing_off(self, h: &Housing) -> bool {
        matches!(self, Self::Parts { on, .. } if !on.contains(&h.id))
    }
    fn has(self, id: &str) -> bool {
        match self {
            Self::All => true,
            Self::Parts { on, .. } => on.contains(id),
        }
    }
    fn scrapped(self, part: &Part) -> bool {
        matches!(self, Self::Parts { scrapped, .. } if scrapped.contains(&part.id))
    }
    fn machine_type(self) -> bool {
        matches!(self, Self::All)
    }
}

/// What to draw.
#[derive(Debug)]
pub struct SectionView<'a> {
    /// Size of the paper.
    pub width: f64,
    /// Height of the paper.
    pub height: f64,
    /// What is on.
    pub fitted: Fitted<'a>,
    /// Marks by seat id.
    pub marks: &'a BTreeMap<String, SeatMark>,
    /// Seat in hand.
    pub selected: Option<&'a str>,
    /// Part or land in hand, lit.
    pub in_hand: Option<&'a str>,
    /// Bolts and what is hot or under pressure.
    pub joints: &'a Joints,
    /// Small, without names: for a strip.
    pub small: bool,
    /// Prefix of ids, unique on the page.
    pub id: &'a str,
}

/// A drawing and the same facts as a table for those who prefer words.
#[derive(Debug)]
pub struct HalfSection {
    /// The drawing.
    pub svg: String,
    /// Name of each part and whether it is on, from end A: the first has number 1 on the drawing.
    pub rows: Vec<(String, String)>,
    /// Where lengths of the machine lie on the paper.
    pub paper: Paper,
}

impl HalfSection {
    /// The drawing as a file of its own: with its namespace, and ink on paper instead of the page's styles.
    #[must_use]
    pub fn standalone(&self) -> String {
        const INK: &str = "<style>.hatch-ground{fill:#f4f1e8;stroke:none}.hatch-line{stroke-width:.8}path.shaft,.blade,rect.tooth{fill:#fbfaf5}\
            rect.solid,path.solid,circle.rubber{fill:#26292b}circle.ball,path.ball,rect.ball,rect.key,rect.slot,circle.spring{fill:#fff}\
            rect.touch,rect.hit,rect.land-target{stroke:none}line.centre{stroke-dasharray:12 3 2 3;stroke-width:.8}\
            line.gasket{stroke-dasharray:5 3;stroke-width:3}.thin,.thread,.contact{stroke-width:.8}.marked{stroke-width:3}\
            .part.off path,.part.off rect,.part.off circle{stroke-dasharray:6 4;fill:none}.cross{stroke-width:2.4}\
            .num-line{stroke-width:.6}.num-ring{fill:#fff;stroke-width:.9}.num-dot{fill:#26292b}.num-word{font-size:11px}\
            text{font:14px sans-serif;fill:#26292b;stroke:none}text.num-word{font-size:11px}.joint rect{stroke-width:.8}\
            .joint rect.reach{stroke:none}.joint.fast rect.head{fill:#26292b}.joint.away rect{stroke-dasharray:3 2}</style>";
        // What holds unless a class says otherwise is inherited from the root: every renderer knows that much, and few
        // know more of style sheets than a class.
        const ROOT: &str =
            "<svg xmlns=\"http://www.w3.org/2000/svg\" fill=\"none\" stroke=\"#26292b\" stroke-width=\"1.2\" ";
        let svg = self.svg.replacen("<svg ", ROOT, 1);
        svg.replacen("</desc>", &format!("</desc>{INK}"), 1)
    }
}

/// Parts from end A by their middles: so the drawing numbers them, and lists beside it do the same.
#[must_use]
pub fn along(a: &Anatomy) -> Vec<&Part> {
    let mut list: Vec<&Part> = a.parts.iter().collect();
    let middle = |p: &Part| a.place(p).get() + p.width_mm.get() / 2.0;
    list.sort_by(|p, q| middle(p).total_cmp(&middle(q)));
    list
}

/// Draws an anatomy in half section: above the axis cut, below it from outside; to scale, centre line dashed,
/// what is not on yet dashed, the seat in hand lit. Touching or focusing a seat leads to it.
#[must_use]
#[expect(clippy::too_many_lines, reason = "layer upon layer, from the paper up")]
pub fn half_section(a: &Anatomy, view: &SectionView<'_>) -> HalfSection {
    // Where no seats are marked the parts are numbered.
    let number = !view.small && view.marks.is_empty();
    let number_rows = if number { numbers::rows(a.parts.len(), view.width) } else { 0 };
    let (margin, top, bottom) = match (view.small, view.fitted.machine_type() || view.marks.is_empty()) {
        (true, _) => (8.0, 6.0, 6.0),
        (false, true) => (50.0, 16.0 + number_rows as f64 * numbers::ROW, 14.0),
        (false, false) => (46.0, 62.0, 26.0),
    };
    let length = a.length().get();
    let tallest = a
        .parts
        .iter()
        .map(|p| p.outside_mm.get())
        .chain(a.housings.iter().map(|h| h.outside_mm.get() + if h.feet { 12.0 } else { 0.0 }))
        .chain(a.lands.iter().map(|l| l.d_mm.get()))
        .fold(1.0, f64::max);
    let scale = ((view.width - 2.0 * margin) / length).min((view.height - top - bottom) / tallest);
    let paper = Paper { x0: (view.width - length * scale) / 2.0, cy: top + (view.height - top - bottom) / 2.0, scale };

    let title = format!("{}, half section", a.name);
    let names: Vec<&str> = a.parts.iter().map(|p| p.name.as_str()).collect();
    let desc = format!("Shaft of {} lands from end A on the left to end B, with {}.", a.lands.len(), names.join(", "));
    let mut s = Svg::open(
        view.width,
        view.height,
        if view.small { "img" } else { "group" },
        if view.small { "section small" } else { "section" },
        &title,
        &desc,
        view.id,
    );
    hatches(&mut s, view.id);

    let order = along(a);
    for h in &a.housings {
        housing_seen(&mut s, h, &paper, view.fitted.housing_off(h));
    }
    shaft(&mut s, a, &paper);
    for (i, h) in a.housings.iter().enumerate() {
        housing_cut(&mut s, h, &paper, i, view.fitted.housing_off(h));
    }
    if view.fitted.machine_type() && !view.small {
        land_targets(&mut s, a, &paper, view.in_hand);
    }
    let mut rows = Vec::new();
    let mut numbered = Vec::new();
    for (i, part) in order.iter().enumerate() {
        let off = view.fitted.off(part);
        let scrap = view.fitted.scrapped(part);
        let hand = view.in_hand == Some(part.id.as_str())
            || view.selected.and_then(|id| a.seat(id)).is_some_and(|seat| seat.part == part.id);
        let state = match (hand, off) {
            _ if scrap => "off scrap",
            (true, true) => "off hand",
            (true, false) => "on hand",
            (false, true) => "off",
            (false, false) => "on",
        };
        let alive = view.joints.alive.get(&part.id);
        let state = &format!("{state}{}", alive.map_or("", |x| x.class()));
        let x0 = paper.x(a.place(part).get());
        let frame = Frame {
            x0,
            // Thin parts are stretched so that they can be read.
            x1: x0 + (part.width_mm.get() * scale).max(if view.small { 1.5 } else { 3.0 }),
            cy: paper.cy,
            r0: paper.r(a.bore_of(part).get()),
            r1: paper.r(part.outside_mm.get()),
            scale,
        };
        // What lies in a housing or in another part is not seen from outside.
        let hidden = part.carried_by.is_some() || a.housings.iter().any(|h| covers(h, frame.x0, frame.x1, &paper));
        let bearing = a.bearing(part).ok();
        part_shapes::part(&mut s, part, &frame, i % 3, bearing.as_ref(), state, hidden);
        if let Some(x) = alive.filter(|_| !view.small) {
            let mid = f64::midpoint(frame.x0, frame.x1);
            s.word("alive", mid, paper.cy - frame.r1 - 6.0, "middle", x.word());
        }
        numbered.push(numbers::Numbered {
            number: i + 1,
            name: &part.name,
            id: &part.id,
            x: f64::midpoint(frame.x0, frame.x1),
            y: paper.cy - f64::midpoint(frame.r0, frame.r1),
            state: state.clone(),
        });
        rows.push((part.name.clone(), if off { "not on yet".into() } else { "on".to_owned() }));
    }
    if !view.small {
        joints::draw(&mut s, a, view.joints, &|id| view.fitted.has(id), &paper);
    }
    let (left, right) = (paper.x(0.0), paper.x(length));
    let over = if view.small { 6.0 } else { 24.0 };
    s.line("centre", left - over, paper.cy, right + over, paper.cy);
    if !view.small {
        s.text("end", left - over - 16.0, paper.cy + 5.0, "A");
        s.text("end", right + over + 6.0, paper.cy + 5.0, "B");
    }
    if number {
        numbers::draw(&mut s, &numbered, view.width);
    }
    marks(&mut s, a, view, &paper);
    HalfSection { svg: s.close(), rows, paper }
}

fn covers(h: &Housing, x0: f64, x1: f64, paper: &Paper) -> bool {
    let (from, to) = span(h);
    let mid = f64::midpoint(x0, x1);
    mid > paper.x(from) && mid < paper.x(to)
}

fn span(h: &Housing) -> (f64, f64) {
    (h.bores.first().map_or(0.0, |b| b.from_mm.get()), h.bores.last().map_or(0.0, |b| b.to_mm.get()))
}

fn hatches(s: &mut Svg, id: &str) {
    s.raw("<defs>");
    for (i, (pitch, turn)) in [(5.0, -45.0), (5.0, 45.0), (3.4, -45.0), (7.5, 45.0), (7.5, -45.0)].iter().enumerate() {
        s.raw(&format!(
            r#"<pattern id="{id}-h{i}" width="{pitch}" height="{pitch}" patternUnits="userSpaceOnUse" patternTransform="rotate({turn})"><rect class="hatch-ground" width="{pitch}" height="{pitch}"/><path class="hatch-line" d="M0 0V{pitch}"/></pattern>"#
        ));
    }
    s.raw("</defs>");
}

fn shaft(s: &mut Svg, a: &Anatomy, paper: &Paper) {
    let mut x = 0.0;
    for (i, land) in a.lands.iter().enumerate() {
        let (x0, x1) = (paper.x(x), paper.x(x + land.length_mm.get()));
        let r = paper.r(land.d_mm.get());
        if let Some(end) = land.d_b_mm.filter(|_| land.kind == LandKind::Taper) {
            let rb = paper.r(end.get());
            let cy = paper.cy;
            s.path("shaft", &polygon(&[(x0, cy - r), (x1, cy - rb), (x1, cy + rb), (x0, cy + r)]));
            x += land.length_mm.get();
            continue;
        }
        let c = (1.2 * paper.scale).min(r * 0.2).min((x1 - x0) * 0.2);
        // Chamfers at the ends of the shaft and on shoulders towards a smaller neighbour.
        let cut = |other: Option<f64>| if other.is_none_or(|d| d < land.d_mm.get()) { c } else { 0.0 };
        let ca = cut(i.checked_sub(1).and_then(|j| a.lands.get(j)).map(|l| l.d_mm.get()));
        let cb = cut(a.lands.get(i + 1).map(|l| l.d_mm.get()));
        let cy = paper.cy;
        s.path(
            "shaft",
            &polygon(&[
                (x0, cy - r + ca),
                (x0 + ca, cy - r),
                (x1 - cb, cy - r),
                (x1, cy - r + cb),
                (x1, cy + r - cb),
                (x1 - cb, cy + r),
                (x0 + ca, cy + r),
                (x0, cy + r - ca),
            ]),
        );
        match land.kind {
            LandKind::Thread => {
                let core = r - (1.1 * paper.scale).clamp(1.6, 4.0);
                s.line("thread", x0, cy - core, x1, cy - core);
                s.line("thread", x0, cy + core, x1, cy + core);
            }
            LandKind::Keyway => {
                let (w, h) = ((x1 - x0) * 0.72, r * 0.5);
                let kx = x0 + (x1 - x0) * 0.14;
                s.raw(&format!(
                    r#"<rect class="key" x="{}" y="{}" width="{}" height="{}" rx="{}"/>"#,
                    n(kx),
                    n(cy - h / 2.0),
                    n(w),
                    n(h),
                    n(h / 2.0)
                ));
            }
            LandKind::Groove => s.line("thin", f64::midpoint(x0, x1), cy - r, f64::midpoint(x0, x1), cy + r),
            LandKind::Spline => {
                for k in 1..4 {
                    let off = r * (f64::from(k) / 2.0 - 1.0) * 0.9;
                    s.line("thin", x0, cy + off, x1, cy + off);
                }
            }
            LandKind::Hole => s.circle("key", f64::midpoint(x0, x1), cy, (r * 0.3).min((x1 - x0) * 0.35)),
            LandKind::Plain | LandKind::Taper => {}
        }
        x += land.length_mm.get();
    }
}

/// Places to touch or drop on: one over each land, reaching a little beyond the shaft.
fn land_targets(s: &mut Svg, a: &Anatomy, paper: &Paper, in_hand: Option<&str>) {
    let mut x = 0.0;
    for l in &a.lands {
        let (x0, x1) = (paper.x(x), paper.x(x + l.length_mm.get()));
        let r = paper.r(l.d_mm.get()) + 10.0;
        let lit = if in_hand == Some(l.id.as_str()) { " hand" } else { "" };
        s.raw(&format!(
            r#"<rect class="land-target{lit}" data-land="{}" x="{}" y="{}" width="{}" height="{}"><title>{}</title></rect>"#,
            escape(&l.id),
            n(x0),
            n(paper.cy - r),
            n(x1 - x0),
            n(2.0 * r),
            escape(&l.name)
        ));
        x += l.length_mm.get();
    }
}

fn housing_cut(s: &mut Svg, h: &Housing, paper: &Paper, index: usize, off: bool) {
    let (from, to) = span(h);
    let r = paper.r(h.outside_mm.get());
    let cy = paper.cy;
    let c = (3.0 * paper.scale).min(6.0);
    let mut points = vec![
        (paper.x(from), cy - r + c),
        (paper.x(from) + c, cy - r),
        (paper.x(to) - c, cy - r),
        (paper.x(to), cy - r + c),
    ];
    for b in h.bores.iter().rev() {
        points.push((paper.x(b.to_mm.get()), cy - paper.r(b.d_mm.get())));
        points.push((paper.x(b.from_mm.get()), cy - paper.r(b.d_mm.get())));
    }
    let state = if off { " off" } else { "" };
    s.raw(&format!(r#"<g class="case{state}" data-housing="{}"><title>{}</title>"#, escape(&h.id), escape(&h.name)));
    s.cut(3 + index % 2, &polygon(&points));
    s.raw("</g>");
}

fn housing_seen(s: &mut Svg, h: &Housing, paper: &Paper, off: bool) {
    let (from, to) = span(h);
    let r = paper.r(h.outside_mm.get());
    let (x0, x1, cy) = (paper.x(from), paper.x(to), paper.cy);
    let c = (3.0 * paper.scale).min(6.0);
    s.raw(&format!(r#"<g{} data-below="{}">"#, if off { r#" class="below off""# } else { "" }, escape(&h.id)));
    s.path(
        "seen",
        &polygon(&[(x0, cy), (x0, cy + r - c), (x0 + c, cy + r), (x1 - c, cy + r), (x1, cy + r - c), (x1, cy)]),
    );
    if h.feet {
        let foot = 12.0 * paper.scale / 2.0;
        let w = ((x1 - x0) * 0.16).clamp(6.0, 40.0);
        for x in [x0 + w * 0.3, x1 - w * 1.3] {
            s.rect("seen", x, cy + r, w, foot);
        }
    }
    s.raw("</g>");
}

/// Marks of the seats: in a row on top, moved apart so that none covers another, each with a leader to its place.
fn marks(s: &mut Svg, a: &Anatomy, view: &SectionView<'_>, paper: &Paper) {
    let mut seats: Vec<(f64, f64, &str, &str, &SeatMark)> = a
        .seats
        .iter()
        .filter_map(|seat| {
            let part = a.part(&seat.part)?;
            let mark = view.marks.get(&seat.id)?;
            let x = paper.x(a.place(part).get() + part.width_mm.get() / 2.0);
            Some((x, paper.cy - paper.r(part.outside_mm.get()), seat.id.as_str(), seat.name.as_str(), mark))
        })
        .collect();
    seats.sort_by(|p, q| p.0.total_cmp(&q.0));
    if view.small {
        for (x, y, _, _, m) in &seats {
            s.raw(&format!(r#"<g class="mark" transform="translate({} {}) scale(.62)">"#, n(*x), n(*y - 2.0)));
            shape(s, m.mark);
            s.raw("</g>");
        }
        return;
    }
    let room = |name: &str, value: &str| {
        34.0 + (name.chars().count().min(24) as f64 * 7.1).max(value.chars().count() as f64 * 7.6)
    };
    let mut at: Vec<f64> = Vec::new();
    for (i, (x, ..)) in seats.iter().enumerate() {
        let wanted = (x - 40.0).max(14.0);
        let free = if i == 0 { 14.0 } else { at[i - 1] + room(seats[i - 1].3, &seats[i - 1].4.value) };
        at.push(wanted.max(free));
    }
    // Push back from the right edge.
    let mut edge = view.width - 8.0;
    for i in (0..seats.len()).rev() {
        at[i] = at[i].min(edge - room(seats[i].3, &seats[i].4.value)).max(14.0);
        edge = at[i];
    }
    for ((x, y, id, name, m), lx) in seats.iter().zip(&at) {
        let shown: String =
            if name.chars().count() > 24 { name.chars().take(23).chain(['…']).collect() } else { (*name).to_owned() };
        let selected = view.selected == Some(*id);
        s.raw(&format!(
            r#"<a href="{}" class="seat{}" data-seat="{}">"#,
            escape(&m.href),
            if selected { " selected" } else { "" },
            escape(id)
        ));
        s.rect("touch", lx - 6.0, 6.0, room(name, &m.value) - 4.0, 44.0);
        s.path("leader", &format!("M{} 44L{} {}", n(lx + 11.0), n(*x), n(*y - 3.0)));
        s.circle("leader-end", *x, *y - 3.0, 2.2);
        s.raw(&format!(
            r#"<g class="mark" transform="translate({} 28)"><title>{}</title>"#,
            n(lx + 11.0),
            m.mark.word()
        ));
        shape(s, m.mark);
        s.raw("</g>");
        s.text("name", lx + 30.0, 25.0, &shown);
        s.text("value", lx + 30.0, 41.0, &m.value);
        let part_box = a.seat(id).and_then(|seat| a.part(&seat.part));
        if let Some(p) = part_box {
            s.rect(
                "touch",
                paper.x(a.place(p).get()) - 8.0,
                *y - 8.0,
                p.width_mm.get() * paper.scale + 16.0,
                2.0 * (paper.cy - *y) + 16.0,
            );
        }
        s.raw("</a>");
    }
}

/// The four shapes of a call, and the three that come before one. Drawn around 0, 11 px in radius.
fn shape(s: &mut Svg, mark: Mark) {
    let c = mark.class();
    match mark {
        Mark::Go => {
            s.circle(&format!("m-{c}"), 0.0, 0.0, 11.0);
            s.path("tick", "M-5.5 0l3.8 4.4 7-8.2");
        }
        Mark::Stop => {
            s.rect(&format!("m-{c}"), -10.0, -10.0, 20.0, 20.0);
            s.path("tick", "M-5.5 0H5.5");
        }
        Mark::Undecided => s.path(&format!("m-{c}"), "M0 -11L11 0L0 11L-11 0Z"),
        Mark::LookAgain => {
            s.path(&format!("m-{c}"), "M7.4 -6.2A9.6 9.6 0 1 0 9.6 1");
            s.path(&format!("m-{c} head"), "M3.2 -8.6L9.4 -7.6L8 -1.6");
        }
        Mark::Clock => {
            s.circle(&format!("m-{c}"), 0.0, 0.0, 11.0);
            s.path("tick", "M0 -6V0L4.6 3.2");
        }
        Mark::InHand | Mark::Todo => s.circle(&format!("m-{c}"), 0.0, 0.0, 9.6),
    }
}
