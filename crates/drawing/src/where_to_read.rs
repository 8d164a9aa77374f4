//! Where the next reading of a sheet is taken: parts from plain geometry, each place as a dimension or a mark on a
//! circle, the next one lit, those that are read done.

mod fitting;
mod surfaces;

use crate::svg::{Svg, n, polygon};

/// What to draw.
#[derive(Debug, Clone, Copy)]
pub struct WhereToRead<'a> {
    /// Name of the sheet.
    pub name: &'a str,
    /// As a heading.
    pub title: &'a str,
    /// Key of the next place, and how it is called; none when all is read.
    pub next: Option<(&'a str, &'a str)>,
    /// Keys of all places in their order, and whether each is read.
    pub places: &'a [(String, bool)],
    /// Where bolts stand, of a cover that is no circle.
    pub bolts: &'a [(f64, f64)],
    /// Prefix of ids.
    pub id: &'a str,
}

const W: f64 = 440.0;
const H: f64 = 268.0;

/// The drawing that leads the hand; none for a sheet that has none.
#[must_use]
pub fn where_to_read(v: &WhereToRead<'_>) -> Option<String> {
    let next = v.next.map_or_else(|| "All read.".to_owned(), |x| format!("Next: {}.", x.1));
    let read = v.places.iter().filter(|p| p.1).count();
    let desc = format!("{next} {read} of {} read.", v.places.len());
    let svg = Svg::open(W, H, "img", "lead", &format!("{}: where to read", v.title), &desc, v.id);
    let mut d = Draw { s: svg, v };
    d.hatch();
    match v.name {
        "runout.sweep" => {
            d.around("readings_um", 128.0, 134.0, 92.0, 0.0);
            d.shaft_with_dial(false);
        }
        "runout.face" => {
            d.around("readings_um", 128.0, 134.0, 92.0, 60.0);
            d.shaft_with_dial(true);
        }
        "vee.sweep" => {
            d.s.path("part", "M30 244L128 146L226 244Z");
            d.around("readings_um", 128.0, 116.0, 84.0, 0.0);
            d.words(&[(334.0, 110.0, "dial on the bisector,"), (334.0, 130.0, "at the top")]);
        }
        "runout.straightness" => d.straight(),
        "runout.stations" => d.stations(),
        "runout.clocking" => d.clocking(),
        "rotor.position" => d.position(),
        "flinger.back_off" => d.flinger(),
        "gap.around" => {
            d.s.circle("support", 128.0, 140.0, 108.0);
            d.s.circle("inner", 128.0, 140.0, 94.0);
            d.s.circle("part", 128.0, 140.0, 76.0);
            d.places("gaps_mm", 128.0, 140.0, 85.0, 108.0, 46.0);
            d.words(&[(340.0, 124.0, "feeler between"), (340.0, 144.0, "wheel and housing")]);
        }
        "seal.tilt" => {
            d.s.circle("support", 128.0, 140.0, 108.0);
            d.s.circle("part", 128.0, 140.0, 96.0);
            d.s.circle("inner", 128.0, 140.0, 52.0);
            d.places("depths_mm", 128.0, 140.0, 76.0, 108.0, 0.0);
            d.pocket(true);
        }
        "land.marks" => d.land(),
        "plain.expander" => d.expander(),
        "parts.compare" => d.rings("a_mm", "b_mm", "first", "second"),
        "preload.spacers" => d.rings("inner_mm", "outer_mm", "inner", "outer"),
        "key.clearance" => d.key(),
        "float.shim" => d.float(),
        "wear_ring" => d.wear_ring(),
        "preload.push_test" => d.push_test(),
        "preload.drag" => d.drag(),
        "taper.nut" => d.taper(),
        "nut.slots" => d.nut("present_deg", "", false),
        "nut.match_mark" => d.nut("new_deg", "new_standout_mm", true),
        "plain.caps" => d.caps(),
        "thread.proof" => d.thread(),
        "packing.rings" => d.packing(),
        "torque.order" => d.bolts(),
        "torque.pattern" => d.cover(),
        "seal.split_ring" => d.split_ring(),
        "seal.track" => d.pocket(false),
        "oring.gland" => d.gland(),
        "probe.gap" => d.probe(),
        "wires.compare" => d.wires(),
        "press.trace" => d.press(),
        "bush.closing" => d.bush(),
        "bush.closed" => d.bush_in(),
        "hydraulic.driven" => d.collar(),
        "removal.pull" => d.puller(),
        "pairs.match" => d.pairs(),
        "runin.step" => d.run_in(),
        _ => return None,
    }
    Some(d.s.close())
}

struct Draw<'a> {
    s: Svg,
    v: &'a WhereToRead<'a>,
}

fn at(x: f64, y: f64, r: f64, deg: f64) -> (f64, f64) {
    let (sin, cos) = deg.to_radians().sin_cos();
    (x + r * sin, y - r * cos)
}

impl Draw<'_> {
    fn hatch(&mut self) {
        let id = self.v.id;
        self.s.raw(&format!(
            r##"<defs><pattern id="{id}-h0" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><rect class="hatch-ground" width="7" height="7"/><path class="hatch-line" d="M0 0V7"/></pattern><pattern id="{id}-h1" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)"><rect class="hatch-ground" width="7" height="7"/><path class="hatch-line" d="M0 0V7"/></pattern></defs>"##
        ));
    }

    fn state(&self, key: &str) -> &'static str {
        if self.v.next.is_some_and(|x| x.0 == key) {
            " next"
        } else if self.v.places.iter().any(|p| p.0 == key && p.1) {
            " done"
        } else {
            ""
        }
    }
    /// Of a field whose rows hold it: lit when the next place is in any row.
    fn state_of(&self, field: &str) -> &'static str {
        let mine = |k: &str| k.rsplit('.').next() == Some(field);
        if self.v.next.is_some_and(|x| mine(x.0)) {
            " next"
        } else if self.v.places.iter().any(|p| mine(&p.0) && p.1) {
            " done"
        } else {
            ""
        }
    }

    fn word(&mut self, class: &str, x: f64, y: f64, anchor: &str, text: &str) {
        self.s.word(class, x, y, anchor, text);
    }
    fn words(&mut self, list: &[(f64, f64, &str)]) {
        for (x, y, text) in list {
            self.word("note", *x, *y, "middle", text);
        }
    }

    /// A dimension between two points, with its name at a place of its own.
    fn dim(&mut self, state: &str, from: (f64, f64), to: (f64, f64), name: (f64, f64, &str), anchor: &str) {
        let class = format!("dim{state}");
        self.s.line(&class, from.0, from.1, to.0, to.1);
        let (dx, dy) = (to.0 - from.0, to.1 - from.1);
        let length = dx.hypot(dy).max(1e-9);
        let (ux, uy) = (dy / length * 6.0, -dx / length * 6.0);
        for (x, y) in [from, to] {
            self.s.line(&class, x - ux, y - uy, x + ux, y + uy);
        }
        self.word(&format!("dim-name{state}"), name.0, name.1, anchor, name.2);
    }

    /// A dial with its foot at a point, from outside.
    fn dial(&mut self, x: f64, y: f64, from: f64, state: &str) {
        let (fx, fy) = at(x, y, 34.0, from);
        self.s.line(&format!("dim{state}"), x, y, fx, fy);
        let (cx, cy) = at(x, y, 52.0, from);
        self.s.circle(&format!("dial{state}"), cx, cy, 18.0);
        let (hx, hy) = at(cx, cy, 13.0, 40.0);
        self.s.line("hand", cx, cy, hx, hy);
    }

    /// Places of a list on a circle, the mark at the top, clockwise; with a radius inside, a ring.
    fn around(&mut self, field: &str, x: f64, y: f64, r: f64, inside: f64) {
        self.s.circle("face", x, y, r);
        if inside > 0.0 {
            self.s.circle("inner", x, y, inside);
        }
        self.places(field, x, y, r, r, if inside > 0.0 { 0.0 } else { r - 30.0 });
    }
    /// Places at a radius, the mark outside another one, and the angle of the next one written at a third.
    fn places(&mut self, field: &str, x: f64, y: f64, r: f64, outside: f64, name: f64) {
        let keys: Vec<String> = self
            .v
            .places
            .iter()
            .map(|p| p.0.clone())
            .filter(|k| k.strip_prefix(field).is_some_and(|k| k.starts_with('.')))
            .collect();
        let top = y - outside - 12.0;
        self.s.path("mark", &polygon(&[(x - 6.0, top - 10.0), (x + 6.0, top - 10.0), (x, top)]));
        let count = keys.len().max(1);
        for (k, key) in keys.iter().enumerate() {
            let deg = k as f64 * 360.0 / count as f64;
            let (px, py) = at(x, y, r, deg);
            let state = self.state(key);
            self.s.circle(&format!("place{state}"), px, py, if state == " next" { 9.0 } else { 4.5 });
            if state == " next" {
                let (tx, ty) = at(x, y, name, deg);
                self.word("dim-name next", tx, ty + 5.0, "middle", &format!("{}°", n(deg)));
            }
        }
    }

    fn shaft_with_dial(&mut self, face: bool) {
        self.s.rect("part", 262.0, 120.0, 150.0, 34.0);
        self.s.rect("part", 320.0, 86.0, 34.0, 102.0);
        self.s.line("centre", 250.0, 137.0, 428.0, 137.0);
        for x in [276.0, 396.0] {
            self.s.path("support", &polygon(&[(x, 154.0), (x - 12.0, 182.0), (x + 12.0, 182.0)]));
        }
        let state = if self.v.next.is_some() { " next" } else { "" };
        if face {
            self.dial(354.0, 104.0, 90.0, state);
            self.words(&[(337.0, 222.0, "held against its stop,"), (337.0, 242.0, "dial along the axis")]);
        } else {
            self.dial(337.0, 86.0, 0.0, state);
            self.words(&[(337.0, 222.0, "turn with the rotation,"), (337.0, 242.0, "the mark at the dial first")]);
        }
    }

    /// Rows of a grid or list as stations along a shaft.
    fn along(&self, field: &str) -> (usize, Option<usize>) {
        let row = |k: &str| k.strip_prefix(field)?.strip_prefix('.')?.split('.').next()?.parse::<usize>().ok();
        let rows = self.v.places.iter().filter_map(|p| row(&p.0)).max().map_or(1, |k| k + 1);
        (rows, self.v.next.and_then(|x| row(x.0)))
    }

    fn straight(&mut self) {
        let (rows, next) = self.along("readings_um");
        self.s.rect("part", 30.0, 46.0, 380.0, 36.0);
        self.s.line("centre", 16.0, 64.0, 424.0, 64.0);
        for x in [46.0, 394.0] {
            self.s.path("support", &polygon(&[(x, 82.0), (x - 14.0, 110.0), (x + 14.0, 110.0)]));
        }
        let place = |k: usize| 46.0 + 348.0 * k as f64 / (rows - 1).max(1) as f64;
        for k in 0..rows {
            let class = if Some(k) == next { "station next" } else { "station" };
            self.s.line(class, place(k), 40.0, place(k), 88.0);
            self.word("note", place(k), 30.0, "middle", &(k + 1).to_string());
        }
        let row = next.unwrap_or(0);
        self.around(&format!("readings_um.{row}"), 220.0, 190.0, 56.0, 0.0);
        self.words(&[(356.0, 186.0, "eight steps"), (356.0, 206.0, "from one mark")]);
    }

    fn stations(&mut self) {
        let (rows, next) = self.along("stations");
        self.s.rect("part", 60.0, 108.0, 350.0, 34.0);
        self.s.rect("support", 40.0, 92.0, 46.0, 66.0);
        self.s.line("centre", 24.0, 125.0, 424.0, 125.0);
        let place = |k: usize| 120.0 + 260.0 * k as f64 / (rows - 1).max(1) as f64;
        for k in 0..rows {
            let class = if Some(k) == next { "station next" } else { "station" };
            self.s.line(class, place(k), 100.0, place(k), 150.0);
            self.word("note", place(k), 168.0, "middle", &(k + 1).to_string());
        }
        let k = next.unwrap_or(0);
        let (z, x, y) = (
            self.state(&format!("stations.{k}.z_mm")),
            self.state(&format!("stations.{k}.x_um")),
            self.state(&format!("stations.{k}.y_um")),
        );
        self.dim(z, (86.0, 196.0), (place(k), 196.0), (86.0_f64.midpoint(place(k)), 216.0, "its place"), "middle");
        self.s.line(&format!("arrow{y}"), place(k), 96.0, place(k), 48.0);
        self.word(&format!("dim-name{y}"), place(k) + 8.0, 52.0, "start", "up, 0°");
        self.s.line(&format!("arrow{x}"), place(k), 96.0, place(k) - 34.0, 76.0);
        self.word(&format!("dim-name{x}"), (place(k) - 40.0).max(112.0), 72.0, "end", "across, 90°");
        self.words(&[(220.0, 252.0, "every sweep from the same mark")]);
    }

    fn clocking(&mut self) {
        self.s.rect("part", 30.0, 116.0, 380.0, 40.0);
        self.s.rect("part", 30.0, 100.0, 52.0, 72.0);
        for x in [120.0, 330.0] {
            self.s.rect("support", x, 96.0, 34.0, 80.0);
        }
        self.s.line("centre", 14.0, 136.0, 426.0, 136.0);
        let (front, rear) = (self.state("front_um"), self.state("rear_um"));
        self.dial(137.0, 96.0, 0.0, front);
        self.dial(347.0, 96.0, 0.0, rear);
        self.word(&format!("dim-name{front}"), 137.0, 204.0, "middle", "front");
        self.word(&format!("dim-name{rear}"), 347.0, 204.0, "middle", "rear");
        self.words(&[(56.0, 204.0, "nose"), (220.0, 244.0, "half of what each dial sweeps is its eccentricity")]);
    }

    /// Two rings of a set: seen from above with their places, and in section.
    fn rings(&mut self, a: &str, b: &str, first: &str, second: &str) {
        for (field, x, r, name) in [(a, 112.0, 66.0, first), (b, 318.0, 84.0, second)] {
            self.around(field, x, 134.0, r, r - 22.0);
            let mine = self.v.next.is_some_and(|n| n.0.starts_with(&format!("{field}.")));
            let class = if mine { "dim-name next" } else { "dim-name" };
            self.word(class, x, 250.0, "middle", name);
        }
    }

    fn key(&mut self) {
        self.s.cut(0, "M60 40H380V112H270V84H170V112H60Z");
        self.s.cut(1, "M60 240H380V124H270V190H170V124H60Z");
        self.s.rect("part", 174.0, 96.0, 92.0, 92.0);
        self.words(&[(90.0, 30.0, "hub"), (90.0, 260.0, "shaft"), (220.0, 222.0, "")]);
        let (h, w, k) = (self.state("hub_depth_mm"), self.state("shaft_depth_mm"), self.state("key_mm"));
        self.dim(h, (296.0, 84.0), (296.0, 112.0), (306.0, 104.0, "hub"), "start");
        self.dim(w, (296.0, 124.0), (296.0, 190.0), (306.0, 162.0, "shaft"), "start");
        self.dim(k, (220.0, 96.0), (220.0, 188.0), (212.0, 146.0, "key"), "end");
    }

    fn float(&mut self) {
        self.s.cut(0, "M40 60H84V208H40Z");
        self.s.cut(0, "M356 60H400V208H356Z");
        self.s.rect("part", 60.0, 112.0, 320.0, 44.0);
        self.s.rect("part", 108.0, 76.0, 26.0, 116.0);
        self.s.rect("part", 306.0, 76.0, 26.0, 116.0);
        self.s.line("centre", 20.0, 134.0, 420.0, 134.0);
        let (push, pull) = (self.state_of("pushed_mm"), self.state_of("pulled_mm"));
        for (state, tip, tail, word) in [(push, 150.0, 208.0, "push"), (pull, 290.0, 232.0, "pull")] {
            self.s.line(&format!("arrow{state}"), tail, 36.0, tip, 36.0);
            let back = if tip < tail { 12.0 } else { -12.0 };
            self.s.path(&format!("head{state}"), &polygon(&[(tip, 36.0), (tip + back, 29.0), (tip + back, 43.0)]));
            self.word(&format!("dim-name{state}"), tip, 60.0, "middle", word);
        }
        self.s.circle("dial", 220.0, 222.0, 20.0);
        self.s.line("hand", 220.0, 222.0, 230.0, 210.0);
        self.s.line("dim", 220.0, 202.0, 220.0, 156.0);
        self.words(&[(220.0, 262.0, "dial along the axis, zero on the first push")]);
    }

    fn wear_ring(&mut self) {
        self.s.cut(0, "M60 40H380V84H60Z");
        self.s.cut(0, "M60 184H380V228H60Z");
        self.s.rect("part", 60.0, 96.0, 320.0, 76.0);
        self.s.line("centre", 40.0, 134.0, 400.0, 134.0);
        let (ring, collar) = (self.state("ring_id_mm"), self.state("collar_od_mm"));
        self.dim(ring, (140.0, 84.0), (140.0, 184.0), (152.0, 128.0, "ring, inside"), "start");
        self.dim(collar, (290.0, 96.0), (290.0, 172.0), (302.0, 128.0, "collar"), "start");
    }

    fn push_test(&mut self) {
        self.s.rect("part", 100.0, 112.0, 210.0, 44.0);
        for x in [150.0, 200.0] {
            self.s.rect("support", x, 88.0, 40.0, 92.0);
            self.s.circle("place", x + 20.0, 100.0, 9.0);
            self.s.circle("place", x + 20.0, 168.0, 9.0);
        }
        self.s.line("centre", 40.0, 134.0, 420.0, 134.0);
        let (load, shift) = (self.state_of("load_n"), self.state_of("shift_um"));
        self.s.line(&format!("arrow{load}"), 410.0, 134.0, 322.0, 134.0);
        self.s.path(&format!("head{load}"), &polygon(&[(314.0, 134.0), (328.0, 126.0), (328.0, 142.0)]));
        self.word(&format!("dim-name{load}"), 366.0, 118.0, "middle", "load");
        self.dial(100.0, 134.0, 270.0, shift);
        self.word(&format!("dim-name{shift}"), 48.0, 186.0, "middle", "shift");
        self.words(&[(220.0, 236.0, "every load both ways, the dial on the far end")]);
    }

    fn drag(&mut self) {
        self.s.circle("part", 140.0, 140.0, 82.0);
        self.s.circle("inner", 140.0, 140.0, 30.0);
        let (force, radius) = (self.state("force_n"), self.state("radius_mm"));
        self.s.line(&format!("arrow{force}"), 140.0, 58.0, 330.0, 58.0);
        self.s.rect(&format!("scale{force}"), 330.0, 42.0, 84.0, 32.0);
        self.word(&format!("dim-name{force}"), 372.0, 98.0, "middle", "scale");
        self.dim(radius, (140.0, 140.0), (82.0, 82.0), (140.0, 248.0, "string at this radius"), "middle");
        self.words(&[(330.0, 190.0, "pull evenly, read"), (330.0, 210.0, "while it turns")]);
    }

    fn taper(&mut self) {
        self.s.rect("part", 40.0, 118.0, 320.0, 36.0);
        for (a, b) in [(120.0, 156.0), (252.0, 216.0)] {
            self.s.path("support", &polygon(&[(a, 118.0), (b, 118.0), (b + (a - b) * 0.2, 78.0), (a, 66.0)]));
            self.s.path("support", &polygon(&[(a, 154.0), (b, 154.0), (b + (a - b) * 0.2, 194.0), (a, 206.0)]));
        }
        self.s.rect("part", 272.0, 84.0, 34.0, 104.0);
        self.s.line("centre", 24.0, 136.0, 416.0, 136.0);
        let float = self.state("float_mm");
        self.dial(360.0, 136.0, 90.0, float);
        self.word(&format!("dim-name{float}"), 410.0, 102.0, "middle", "float");
        self.words(&[(289.0, 212.0, "nut, slack"), (180.0, 244.0, "rock the cup while you turn")]);
    }

    fn nut(&mut self, angle: &str, standout: &str, mark: bool) {
        let (x, y) = (140.0, 134.0);
        self.s.circle("part", x, y, 100.0);
        self.s.circle("inner", x, y, 62.0);
        for k in 0..8 {
            let (px, py) = at(x, y, 100.0, f64::from(k) * 45.0 + 14.0);
            self.s.circle("place", px, py, 8.0);
        }
        self.s.path("mark", &polygon(&[(x - 7.0, 12.0), (x + 7.0, 12.0), (x, 28.0)]));
        let state = self.state(angle);
        let (px, py) = at(x, y, 100.0, 59.0);
        self.s.line("centre", x, y, x, y - 112.0);
        self.s.line(&format!("dim{state}"), x, y, px, py);
        self.s.path(
            &format!("arc{state}"),
            &format!(
                "M{} {}A80 80 0 0 1 {} {}",
                n(x),
                n(y - 80.0),
                n(at(x, y, 80.0, 59.0).0),
                n(at(x, y, 80.0, 59.0).1)
            ),
        );
        let name = if mark { "zero to mark" } else { "past a lock" };
        self.word(&format!("dim-name{state}"), 270.0, 74.0, "start", name);
        if !standout.is_empty() {
            let state = self.state(standout);
            self.s.rect("part", 300.0, 150.0, 36.0, 90.0);
            self.s.rect("part", 280.0, 176.0, 112.0, 38.0);
            self.dim(state, (336.0, 166.0), (392.0, 166.0), (396.0, 150.0, "stand-out"), "middle");
        } else {
            self.words(&[(330.0, 150.0, "seen from the nut's"), (330.0, 170.0, "own end")]);
        }
    }

    fn caps(&mut self) {
        self.s.rect("part", 40.0, 124.0, 360.0, 40.0);
        for (x, field, name) in [(90.0, "front_um", "front"), (290.0, "rear_um", "rear")] {
            let state = self.state(field);
            self.s.cut(0, &format!("M{x} 84H{}V124H{x}Z", x + 60.0));
            self.s.cut(0, &format!("M{x} 164H{}V204H{x}Z", x + 60.0));
            self.s.rect("support", x - 16.0, 112.0, 16.0, 12.0);
            self.s.rect("support", x + 60.0, 112.0, 16.0, 12.0);
            self.dim(state, (x + 30.0, 124.0), (x + 30.0, 84.0), (x + 30.0, 72.0, name), "middle");
            self.dial(x + 30.0, 84.0, 0.0, state);
        }
        self.words(&[(220.0, 240.0, "lift with a bar: up less down"), (220.0, 196.0, "shims beside the cap")]);
    }

    fn thread(&mut self) {
        self.s.cut(0, "M80 120H180V230H80Z");
        self.s.cut(0, "M260 120H360V230H260Z");
        self.s.cut(0, "M180 214H260V230H180Z");
        self.s.rect("part", 184.0, 60.0, 72.0, 140.0);
        self.s.rect("part", 164.0, 32.0, 112.0, 28.0);
        let state = self.state("engaged_mm");
        self.dim(state, (276.0, 120.0), (276.0, 200.0), (290.0, 164.0, "engaged"), "start");
    }

    fn packing(&mut self) {
        self.s.cut(0, "M60 40H380V96H60Z");
        self.s.rect("part", 40.0, 150.0, 360.0, 60.0);
        self.s.line("centre", 24.0, 180.0, 420.0, 180.0);
        for k in 0..5 {
            self.s.rect("support", 80.0 + 50.0 * f64::from(k), 100.0, 46.0, 46.0);
        }
        let (shaft, bore, depth) = (self.state("shaft_mm"), self.state("box_mm"), self.state("depth_mm"));
        self.dim(shaft, (360.0, 150.0), (360.0, 210.0), (372.0, 186.0, "shaft"), "start");
        self.dim(bore, (40.0, 96.0), (40.0, 240.0), (52.0, 236.0, "box"), "start");
        self.dim(depth, (80.0, 30.0), (330.0, 30.0), (205.0, 22.0, "depth"), "middle");
    }

    /// A seal in its pocket: how deep its face lies, or the track of its lip.
    fn pocket(&mut self, tilt: bool) {
        if tilt {
            self.s.cut(0, "M266 60H430V100H316V168H430V208H266Z");
            self.s.rect("part", 330.0, 100.0, 30.0, 68.0);
            let state = if self.v.next.is_some() { " next" } else { "" };
            self.dim(state, (360.0, 120.0), (430.0, 120.0), (395.0, 148.0, "depth"), "middle");
            self.words(&[(345.0, 234.0, "from the same rim")]);
            return;
        }
        self.s.cut(0, "M60 30H330V70H190V160H60Z");
        self.s.rect("part", 210.0, 76.0, 62.0, 78.0);
        self.s.path("seal-lip", "M272 150L238 178L232 170L252 148Z");
        self.s.rect("part", 40.0, 178.0, 370.0, 50.0);
        self.s.line("centre", 24.0, 250.0, 420.0, 250.0);
        let (old, track) = (self.state("old_depth_mm"), self.state("track_mm"));
        self.dim(old, (272.0, 96.0), (330.0, 96.0), (340.0, 102.0, "old face"), "start");
        self.s.rect(&format!("track{track}"), 226.0, 178.0, 26.0, 10.0);
        self.dim(track, (226.0, 204.0), (252.0, 204.0), (239.0, 222.0, "track"), "middle");
    }

    fn gland(&mut self) {
        self.s.cut(0, "M40 150H150V216H290V150H400V228H40Z");
        self.s.circle("part", 220.0, 166.0, 49.0);
        self.s.line("dim", 40.0, 117.0, 400.0, 117.0);
        let (cord, depth) = (self.state("cord_mm"), self.state("groove_depth_mm"));
        let (width, d) = (self.state("groove_width_mm"), self.state("groove_d_mm"));
        self.dim(cord, (171.0, 166.0), (269.0, 166.0), (220.0, 158.0, "cord"), "middle");
        self.dim(depth, (340.0, 117.0), (340.0, 216.0), (350.0, 138.0, "depth"), "start");
        self.dim(width, (150.0, 244.0), (290.0, 244.0), (300.0, 249.0, "width"), "start");
        self.dim(d, (24.0, 216.0), (24.0, 262.0), (34.0, 254.0, "groove dia."), "start");
        self.words(&[(220.0, 40.0, "cord before it is stretched; groove dry and clean")]);
    }

    fn probe(&mut self) {
        self.s.cut(0, "M60 30H190V96H60Z");
        self.s.cut(0, "M250 30H380V96H250Z");
        self.s.rect("part", 196.0, 20.0, 48.0, 118.0);
        self.s.circle("part", 220.0, 250.0, 92.0);
        let state = self.state("voltage_v");
        self.dim(state, (262.0, 138.0), (262.0, 158.0), (272.0, 154.0, "gap, read in volts"), "start");
        self.words(&[(376.0, 246.0, "shaft still")]);
    }

    fn wires(&mut self) {
        let (rows, next) = self.along("wires");
        let (before, after) = (self.state_of("before_ohm"), self.state_of("after_ohm"));
        for k in 0..rows.min(6) {
            let y = 70.0 + 26.0 * k as f64;
            let class = if Some(k) == next { "wire next" } else { "wire" };
            self.s.path(class, &format!("M50 {y}C140 {y} 120 {} 220 {}S330 {y} 390 {y}", y + 10.0, y + 10.0, y = n(y)));
            self.word("note", 36.0, y + 5.0, "middle", &(k + 1).to_string());
        }
        self.word(&format!("dim-name{before}"), 110.0, 44.0, "middle", "before");
        self.s.rect("cover", 180.0, 30.0, 80.0, 200.0);
        self.word(&format!("dim-name{after}"), 220.0, 250.0, "middle", "after, covered");
    }

    fn run_in(&mut self) {
        self.s.cut(0, "M110 70H330V110H110Z");
        self.s.cut(0, "M110 178H330V218H110Z");
        self.s.rect("part", 60.0, 122.0, 320.0, 44.0);
        for x in [150.0, 290.0] {
            self.s.circle("place", x, 116.0, 7.0);
            self.s.circle("place", x, 172.0, 7.0);
        }
        self.s.line("centre", 40.0, 144.0, 400.0, 144.0);
        let (time, c) = (self.state_of("s"), self.state_of("c"));
        self.s.line(&format!("dim{c}"), 220.0, 70.0, 220.0, 22.0);
        self.s.circle(&format!("dial{c}"), 220.0, 72.0, 8.0);
        self.word(&format!("dim-name{c}"), 236.0, 30.0, "start", "over the bearing,");
        self.word(&format!("dim-name{c}"), 236.0, 52.0, "start", "on the housing");
        self.s.circle(&format!("dial{time}"), 64.0, 46.0, 22.0);
        self.s.line("hand", 64.0, 46.0, 64.0, 32.0);
        self.s.line("hand", 64.0, 46.0, 76.0, 50.0);
        self.word(&format!("dim-name{time}"), 64.0, 92.0, "middle", "time");
        self.words(&[(220.0, 250.0, "time since it started")]);
    }
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]
    use super::*;
    use ironseat_core::sheet::{Declared, Given, SHEETS};
    use std::collections::BTreeMap;

    const COVER: [(f64, f64); 5] = [(0.0, 0.0), (90.0, 0.0), (90.0, 60.0), (40.0, 90.0), (0.0, 60.0)];

    fn places(d: &Declared) -> Vec<String> {
        let mut given = Given::default();
        given.fields.insert("n".into(), 8.into());
        let bolts: Vec<_> = COVER.iter().map(|(x, y)| serde_json::json!({"x_mm": x, "y_mm": y})).collect();
        given.fields.insert("bolts".into(), bolts.into());
        d.places(&given, &BTreeMap::new()).into_iter().map(|p| p.key).collect()
    }

    fn number(tag: &str, name: &str) -> f64 {
        tag.split(&format!(" {name}=\"")).nth(1).unwrap().split('"').next().unwrap().parse().unwrap()
    }

    /// Words stand within the drawing and clear of each other, by the width that their letters take at most: a lit name
    /// is larger and bold.
    fn legible(name: &str, svg: &str) {
        let mut boxes: Vec<(f64, f64, f64, f64, &str)> = vec![];
        for text in svg.split("<text").skip(1) {
            let (tag, words) = text.split_once('>').unwrap();
            let words = words.split('<').next().unwrap();
            if words.is_empty() || tag.contains("transform") {
                continue;
            }
            let (letter, high) = if tag.contains("dim-name next") { (8.4, 14.0) } else { (6.8, 10.0) };
            let (x, y, wide) = (number(tag, "x"), number(tag, "y"), words.chars().count() as f64 * letter);
            let left = match tag {
                t if t.contains("\"middle\"") => x - wide / 2.0,
                t if t.contains("\"end\"") => x - wide,
                _ => x,
            };
            assert!(left >= 0.0 && left + wide <= W && (11.0..=H - 2.0).contains(&y), "{name}: {words} runs out");
            for b in &boxes {
                let apart = left >= b.1 || left + wide <= b.0 || y - high >= b.3 || y <= b.2;
                assert!(apart, "{name}: {words} over {}", b.4);
            }
            boxes.push((left, left + wide, y - high, y, words));
        }
    }

    /// Each place of each sheet lights something in its drawing, and something else than the place before.
    #[test]
    fn every_place_of_every_sheet_is_shown() {
        for d in SHEETS.iter().filter(|d| d.name != "journal.grid") {
            let keys = places(d);
            let mut before = String::new();
            for (k, key) in keys.iter().enumerate() {
                let list: Vec<(String, bool)> = keys.iter().enumerate().map(|(i, x)| (x.clone(), i < k)).collect();
                let v = WhereToRead {
                    name: d.name,
                    title: d.title,
                    next: Some((key, "there")),
                    places: &list,
                    bolts: &COVER,
                    id: "l",
                };
                let svg = where_to_read(&v).unwrap_or_else(|| panic!("{} has no drawing", d.name));
                assert!(svg.contains(" next\""), "{}: nothing is lit for {key}", d.name);
                legible(d.name, &svg);
                let shape = svg.split("</desc>").nth(1).unwrap().to_owned();
                // Rows of a log look alike but for what is read in them.
                let log =
                    ["push_test", "press.trace", "runin"].iter().any(|x| d.name.contains(x)) || d.name == "float.shim";
                assert!(log || shape != before, "{}: {key} looks as the one before", d.name);
                before = shape;
            }
            let all: Vec<(String, bool)> = keys.iter().map(|x| (x.clone(), true)).collect();
            let v = WhereToRead { name: d.name, title: d.title, next: None, places: &all, bolts: &COVER, id: "l" };
            let done = where_to_read(&v).unwrap();
            assert!(!done.contains(" next\"") && done.contains("All read."), "{}", d.name);
        }
        let none = WhereToRead { name: "plan.solve", title: "", next: None, places: &[], bolts: &[], id: "l" };
        assert!(where_to_read(&none).is_none());
    }
}
