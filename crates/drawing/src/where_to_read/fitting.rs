//! Where to read while parts go on, come off and are bolted.

use super::{Draw, H, W, at};
use crate::reckoned::to_scale;
use crate::svg::{n, polygon};

/// Rounds of bolts as the places of a sheet have them: round, bolt, whether it is drawn.
struct Rounds {
    all: Vec<(usize, u64, bool)>,
    next: Option<(usize, u64)>,
}

impl Rounds {
    fn last(&self) -> usize {
        self.all.iter().map(|x| x.0).max().unwrap_or(0)
    }
    fn words(&self) -> String {
        match self.next {
            Some((round, _)) => format!("round {} of {}", round + 1, self.last() + 1),
            None => "all rounds".to_owned(),
        }
    }
}

impl Draw<'_> {
    fn rounds(&self) -> Rounds {
        let of =
            |k: &str| k.split_once('.').and_then(|(r, b)| Some((r.parse::<usize>().ok()?, b.parse::<u64>().ok()?)));
        Rounds {
            all: self.v.places.iter().filter_map(|p| of(&p.0).map(|(r, b)| (r, b, p.1))).collect(),
            next: self.v.next.and_then(|x| of(x.0)),
        }
    }

    fn bolt(&mut self, r: &Rounds, bolt: u64, (x, y): (f64, f64), size: f64) {
        let round = r.next.map_or(r.last(), |x| x.0);
        let next = r.next.is_some_and(|x| x.1 == bolt);
        let done = r.all.iter().any(|a| a.1 == bolt && a.2 && a.0 == round);
        let class = match (next, done) {
            (true, _) => "bolt next",
            (_, true) => "bolt done",
            _ => "bolt",
        };
        self.s.circle(class, x, y, if next { size + 3.0 } else { size });
        if size > 8.0 {
            self.word("bolt-name", x, y + 5.0, "middle", &bolt.to_string());
        }
    }

    /// Bolts where they stand, seen from their heads.
    pub(super) fn cover(&mut self) {
        let r = self.rounds();
        let bolts = self.v.bolts;
        if bolts.is_empty() {
            self.word("dim-name", W / 2.0, H / 2.0, "middle", "where do the bolts stand?");
            return;
        }
        let (drawn, near) = to_scale(bolts, (W / 2.0, 124.0), (W - 80.0, H - 96.0));
        let size = (near * 0.36).clamp(2.5, 17.0);
        for (k, place) in drawn.iter().enumerate() {
            self.bolt(&r, k as u64 + 1, *place, size);
        }
        self.word("dim-name", W / 2.0, H - 8.0, "middle", &r.words());
    }

    /// A bush in its hole: around its bore, and cut.
    pub(super) fn bush_in(&mut self) {
        self.s.circle("support", 128.0, 140.0, 108.0);
        self.s.circle("part", 128.0, 140.0, 84.0);
        self.s.circle("inner", 128.0, 140.0, 60.0);
        self.places("after_mm", 128.0, 140.0, 60.0, 108.0, 30.0);
        for (y, side) in [(60.0, 1.0), (220.0, -1.0)] {
            self.s.cut(0, &format!("M280 {y}H420V{}H280Z", y + side * 24.0));
            self.s.cut(1, &format!("M296 {}H404V{}H296Z", y + side * 24.0, y + side * 40.0));
        }
        self.s.line("centre", 266.0, 140.0, 434.0, 140.0);
        let state = if self.v.next.is_some() { " next" } else { "" };
        self.dim(state, (350.0, 100.0), (350.0, 180.0), (360.0, 134.0, "bore"), "start");
        self.words(&[(350.0, 254.0, "at both ends")]);
    }

    /// A collar on its taper: oil between, a dial on its face, a push from the end.
    pub(super) fn collar(&mut self) {
        self.s.path("part", "M20 110H150L330 96V184L150 170H20Z");
        self.s.cut(0, "M150 40H270V100.6L150 110Z");
        self.s.cut(0, "M150 240H270V179.4L150 170Z");
        self.s.line("centre", 10.0, 140.0, 430.0, 140.0);
        let (contact, home) = (self.state("contact_mm"), self.state("home_mm"));
        let lit = [contact, home].into_iter().find(|s| *s == " next").unwrap_or(home);
        self.dial(150.0, 60.0, 270.0, lit);
        let word = if contact == " next" { "first contact" } else { "home" };
        self.word(&format!("dim-name{lit}"), 98.0, 30.0, "middle", word);
        let oil = self.state("oil_mpa");
        self.s.line(&format!("dim{oil}"), 210.0, 40.0, 210.0, 104.0);
        self.s.circle(&format!("dial{oil}"), 210.0, 24.0, 16.0);
        self.word(&format!("dim-name{oil}"), 234.0, 28.0, "start", "oil");
        let held = self.state("held_min");
        self.s.line(&format!("arrow{held}"), 420.0, 140.0, 290.0, 140.0);
        self.s.path(&format!("head{held}"), &polygon(&[(276.0, 140.0), (292.0, 132.0), (292.0, 148.0)]));
        self.s.circle(&format!("dial{held}"), 384.0, 88.0, 22.0);
        self.s.line("hand", 384.0, 88.0, 384.0, 74.0);
        self.s.line("hand", 384.0, 88.0, 394.0, 92.0);
        self.word(&format!("dim-name{held}"), 384.0, 54.0, "middle", "push held");
        self.words(&[(350.0, 236.0, "nobody in line"), (350.0, 254.0, "with the shaft")]);
    }

    /// A ring on its shaft between the jaws of a puller.
    pub(super) fn puller(&mut self) {
        self.s.rect("part", 20.0, 112.0, 220.0, 56.0);
        self.s.cut(0, "M170 70H206V112H170Z");
        self.s.cut(0, "M170 168H206V210H170Z");
        self.s.line("centre", 10.0, 140.0, 430.0, 140.0);
        for (y, side) in [(58.0, 1.0), (222.0, -1.0)] {
            let hook = y + side * 36.0;
            let jaw = [
                (156.0, hook),
                (168.0, hook),
                (168.0, y + 8.0 * side),
                (330.0, y + 8.0 * side),
                (330.0, y),
                (156.0, y),
            ];
            self.s.path("support", &polygon(&jaw));
        }
        self.s.rect("support", 316.0, 50.0, 26.0, 180.0);
        let state = self.state("force_n");
        self.s.rect("part", 250.0, 130.0, 150.0, 20.0);
        self.s.line(&format!("arrow{state}"), 300.0, 140.0, 256.0, 140.0);
        self.s.path(&format!("head{state}"), &polygon(&[(242.0, 140.0), (258.0, 132.0), (258.0, 148.0)]));
        self.s.circle(&format!("dial{state}"), 414.0, 140.0, 18.0);
        self.word(&format!("dim-name{state}"), 414.0, 110.0, "middle", "force");
        self.words(&[(84.0, 60.0, "jaws behind"), (84.0, 78.0, "the inner ring"), (90.0, 200.0, "nobody in line")]);
    }

    /// A split ring in its bore and in its groove.
    pub(super) fn split_ring(&mut self) {
        let (gap, ring, groove) = (self.state("gap_mm"), self.state("ring_mm"), self.state("groove_mm"));
        self.s.circle("support", 124.0, 140.0, 104.0);
        self.s.circle("part", 124.0, 140.0, 90.0);
        self.s.circle("inner", 124.0, 140.0, 72.0);
        self.s.rect("face", 114.0, 46.0, 20.0, 26.0);
        self.dim(gap, (114.0, 40.0), (134.0, 40.0), (124.0, 26.0, "gap"), "middle");
        let turn = if self.state("after_nm").is_empty() { self.state("before_nm") } else { self.state("after_nm") };
        let (from, to) = (at(124.0, 140.0, 46.0, 300.0), at(124.0, 140.0, 46.0, 60.0));
        let head = [at(124.0, 140.0, 38.0, 60.0), at(124.0, 140.0, 54.0, 60.0), at(124.0, 140.0, 46.0, 82.0)];
        self.s.path(&format!("head{turn}"), &polygon(&head));
        self.s.path(
            &format!("arrow{turn}"),
            &format!("M{} {}A46 46 0 0 1 {} {}", n(from.0), n(from.1), n(to.0), n(to.1)),
        );
        let word = if self.state("after_nm") == " next" { "turn it, ring in" } else { "turn it first" };
        self.word(&format!("dim-name{turn}"), 124.0, 146.0, "middle", word);
        self.s.cut(0, "M270 150H320V206H376V150H426V250H270Z");
        self.s.cut(1, "M324 96H372V202H324Z");
        self.s.rect("support", 270.0, 70.0, 156.0, 26.0);
        self.dim(ring, (324.0, 126.0), (372.0, 126.0), (384.0, 130.0, "ring"), "start");
        self.dim(groove, (320.0, 230.0), (376.0, 230.0), (348.0, 266.0, "groove"), "middle");
    }

    pub(super) fn bolts(&mut self) {
        let r = self.rounds();
        let count = r.all.iter().map(|x| x.1).max().unwrap_or(0);
        let (x, y) = (220.0, 134.0);
        self.s.circle("part", x, y, 124.0);
        self.s.circle("inner", x, y, 70.0);
        let size = (98.0 * std::f64::consts::TAU / count.max(1) as f64 * 0.42).clamp(3.0, 17.0);
        for bolt in 1..=count {
            let (px, py) = at(x, y, 98.0, (bolt as f64 - 1.0) * 360.0 / count as f64);
            self.bolt(&r, bolt, (px, py), size);
        }
        let text = if count == 0 { "how many bolts?".to_owned() } else { r.words() };
        self.word("dim-name", x, y + 6.0, "middle", &text);
    }

    pub(super) fn press(&mut self) {
        self.s.rect("part", 190.0, 10.0, 60.0, 46.0);
        self.s.cut(0, "M150 56H290V76H270V128H170V76H150Z");
        self.s.rect("part", 184.0, 84.0, 72.0, 150.0);
        self.s.rect("part", 140.0, 190.0, 160.0, 60.0);
        self.s.line("centre", 220.0, 4.0, 220.0, 262.0);
        let (travel, force) = (self.state_of("travel_mm"), self.state_of("force_n"));
        self.dim(travel, (320.0, 128.0), (320.0, 190.0), (332.0, 164.0, "travel"), "start");
        self.s.line(&format!("arrow{force}"), 110.0, 20.0, 110.0, 92.0);
        self.s.path(&format!("head{force}"), &polygon(&[(110.0, 104.0), (102.0, 90.0), (118.0, 90.0)]));
        self.word(&format!("dim-name{force}"), 98.0, 60.0, "end", "force");
        self.words(&[(366.0, 226.0, "shoulder")]);
    }

    pub(super) fn bush(&mut self) {
        self.s.cut(0, "M70 60H250V96H70Z");
        self.s.cut(0, "M70 172H250V208H70Z");
        self.s.line("centre", 50.0, 134.0, 400.0, 134.0);
        let (bore, outside) = (self.state("bore_mm"), self.state("outside_mm"));
        self.dim(bore, (160.0, 96.0), (160.0, 172.0), (172.0, 128.0, "bore"), "start");
        self.dim(outside, (290.0, 60.0), (290.0, 208.0), (302.0, 128.0, "outside"), "start");
        self.words(&[(220.0, 248.0, "before it is pressed, at both ends and across")]);
    }

    pub(super) fn pairs(&mut self) {
        for (field, y, inner, word) in
            [("bushes_mm", 84.0, true, "bushes, outside"), ("holes_mm", 200.0, false, "holes")]
        {
            let keys: Vec<String> =
                self.v.places.iter().map(|p| p.0.clone()).filter(|k| k.starts_with(&format!("{field}."))).collect();
            let step = 400.0 / keys.len().max(1) as f64;
            let r = (step * 0.38).min(30.0);
            for (k, key) in keys.iter().enumerate() {
                let x = 20.0 + step * (k as f64 + 0.5);
                let state = self.state(key);
                self.s.circle(&format!("bolt{state}"), x, y, r);
                if inner {
                    self.s.circle("inner", x, y, r * 0.55);
                }
                if r > 9.0 && !inner {
                    self.word("bolt-name", x, y + 5.0, "middle", &(k + 1).to_string());
                }
            }
            self.word("note", 220.0, y - 42.0, "middle", word);
        }
    }
}
