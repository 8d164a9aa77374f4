//! Where to read a mark on a land, and the lift of a bearing that is spread.

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
        self.word("note", 336.0, 56.0, "start", "cap on its shims");
    }
}
