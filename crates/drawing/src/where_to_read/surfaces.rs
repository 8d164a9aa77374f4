//! Where to read a mark on a land, the lift of a bearing that is spread, a wheel beside its diffuser, a flinger.

use super::Draw;
use crate::svg::polygon;

impl Draw<'_> {
    /// A land rolled out flat, with one mark on it: its place, its size, the dial over it.
    pub(super) fn land(&mut self) {
        let (rows, next) = self.along("marks");
        self.s.rect("part", 60.0, 40.0, 320.0, 170.0);
        self.s.line("centre", 60.0, 40.0, 60.0, 210.0);
        self.s.path("support", "M190 112L206 100L236 104L254 98L258 124L232 132L204 128Z");
        let state = |d: &Self, f: &str| d.state_of(f);
        let (along, wide) = (state(self, "along_mm"), state(self, "wide_mm"));
        let (around, deg, dial) = (state(self, "around_mm"), state(self, "at_deg"), state(self, "dial_um"));
        self.dim(along, (60.0, 186.0), (190.0, 186.0), (125.0, 204.0, "from the A side end"), "middle");
        self.dim(wide, (190.0, 150.0), (258.0, 150.0), (224.0, 170.0, "wide"), "middle");
        self.dim(around, (276.0, 98.0), (276.0, 132.0), (286.0, 120.0, "long around"), "start");
        self.dim(deg, (160.0, 40.0), (160.0, 98.0), (152.0, 76.0, "where"), "end");
        self.dial(224.0, 112.0, 20.0, dial);
        self.word(&format!("dim-name{dial}"), 268.0, 66.0, "start", "up is above 0");
        self.word("note", 52.0, 128.0, "end", "A");
        self.word("note", 60.0, 30.0, "start", "0°, the mark of the shaft");
        let place = next.map_or_else(|| "all marks".to_owned(), |k| format!("mark {} of {rows}", k + 1));
        self.word("dim-name", 220.0, 248.0, "middle", &place);
    }

    /// A plain bearing under its cap, its expander between the halves, and the shaft that is lifted.
    pub(super) fn expander(&mut self) {
        self.s.cut(0, "M70 30H300V70H70Z");
        self.s.cut(0, "M70 210H300V246H70Z");
        self.s.circle("support", 185.0, 140.0, 70.0);
        self.s.circle("part", 185.0, 140.0, 52.0);
        self.s.path("inner", &polygon(&[(236.0, 132.0), (262.0, 124.0), (262.0, 156.0), (236.0, 148.0)]));
        let (turns, lift) = (self.state_of("turns"), self.state_of("lift_um"));
        self.s.line(&format!("arrow{turns}"), 330.0, 140.0, 266.0, 140.0);
        self.s.path(&format!("head{turns}"), &polygon(&[(264.0, 140.0), (276.0, 133.0), (276.0, 147.0)]));
        self.word(&format!("dim-name{turns}"), 336.0, 136.0, "start", "every screw");
        self.word(&format!("dim-name{turns}"), 336.0, 156.0, "start", "alike");
        self.dial(185.0, 88.0, 300.0, lift);
        self.word(&format!("dim-name{lift}"), 66.0, 100.0, "end", "lift");
        self.s.line(&format!("arrow{lift}"), 185.0, 176.0, 185.0, 118.0);
        self.s.path(&format!("head{lift}"), &polygon(&[(185.0, 112.0), (178.0, 124.0), (192.0, 124.0)]));
        self.word("note", 434.0, 56.0, "end", "cap on its shims");
    }

    /// A wheel and its diffuser, both from one face.
    pub(super) fn position(&mut self) {
        let (rows, next) = self.along("stages");
        self.s.rect("part", 60.0, 150.0, 340.0, 40.0);
        self.s.line("centre", 40.0, 170.0, 420.0, 170.0);
        self.s.path("part", &polygon(&[(196.0, 150.0), (204.0, 96.0), (216.0, 84.0), (240.0, 84.0), (252.0, 150.0)]));
        self.s.cut(0, "M180 30H280V62H244V70H216V62H180Z");
        self.s.rect("support", 60.0, 84.0, 14.0, 66.0);
        let (wheel, diffuser) = (self.state_of("wheel_mm"), self.state_of("diffuser_mm"));
        self.dim(wheel, (74.0, 116.0), (228.0, 116.0), (140.0, 108.0, "wheel"), "middle");
        self.dim(diffuser, (74.0, 44.0), (230.0, 44.0), (126.0, 36.0, "diffuser"), "middle");
        self.s.line("arrow", 420.0, 214.0, 372.0, 214.0);
        self.s.path("head", &polygon(&[(370.0, 214.0), (382.0, 207.0), (382.0, 221.0)]));
        self.words(&[(330.0, 242.0, "hard against its running face"), (67.0, 70.0, "one face")]);
        let place = next.map_or_else(|| "all stages".to_owned(), |k| format!("stage {} of {rows}", k + 1));
        self.word("dim-name", 130.0, 242.0, "middle", &place);
    }

    /// A flinger on its shaft beside the cover that it touches.
    pub(super) fn flinger(&mut self) {
        self.s.rect("part", 40.0, 116.0, 360.0, 44.0);
        self.s.line("centre", 24.0, 138.0, 416.0, 138.0);
        self.s.cut(0, "M60 50H110V110H60Z");
        self.s.cut(0, "M60 166H110V226H60Z");
        let (touching, now) = (self.state("touching_mm"), self.state("now_mm"));
        let x = if now == " next" || touching == " done" { 190.0 } else { 112.0 };
        self.s.rect("part", x, 66.0, 40.0, 50.0);
        self.s.rect("part", x, 160.0, 40.0, 50.0);
        self.s.line("hand", x + 20.0, 66.0, x + 20.0, 84.0);
        self.dim(touching, (152.0, 228.0), (400.0, 228.0), (330.0, 248.0, "touching"), "middle");
        self.dim(now, (230.0, 40.0), (400.0, 40.0), (320.0, 30.0, "backed off"), "middle");
    }
}
