//! Machines to try: those of the demo, and random ones built outward from a collar.

use std::fmt::Write as _;

/// A plain generator of numbers, the same for the same seed.
pub struct Dice(pub u64);

impl Dice {
    pub fn below(&mut self, n: usize) -> usize {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        (self.0 >> 11) as usize % n.max(1)
    }
    pub fn chance(&mut self, percent: usize) -> bool {
        self.below(100) < percent
    }
}

/// One side of a machine, grown outward from the collar. Positions are counted from the collar's face.
struct Side {
    letter: char,
    lands: Vec<(f64, f64, &'static str)>,
    /// (words of the part but place and land, inner face, width, land)
    parts: Vec<(String, f64, f64, usize)>,
    housings: Vec<String>,
    bolts: Vec<String>,
    extra: Vec<String>,
}

/// A machine as a build sheet: a collar in the middle, on each side perhaps an inner cover with its seal, one bearing
/// or a pair with spacers, nut and washer or a circlip, a housing that is whole or parted, an outer cover with its
/// seal, a keyed wheel. Some sizes are drawn so that parts only pass in one order; a few machines cannot be built at
/// all.
pub fn random(seed: u64) -> String {
    let mut d = Dice(seed.wrapping_mul(0x9E37_79B9_7F4A_7C15) | 1);
    let collar = 84.0;
    let sides = ['A', 'B'].map(|letter| side(letter, &mut d));
    let length: [f64; 2] = [0, 1].map(|k| sides[k].lands.iter().map(|l| l.0).sum());
    let mut s = format!(
        "format = 3\nkey = \"r{seed}\"\nname = \"Random {seed}\"\nversion = 1\nrotation = {{ seen_from = \"A\", clockwise = true }}\nlands = [\n"
    );
    let (a, b) = (&sides[0], &sides[1]);
    for (k, l) in a.lands.iter().enumerate().rev() {
        let _ =
            writeln!(s, "  {{ id = \"A{k}\", name = \"A land {k}\", length_mm = {}, d_mm = {}{} }},", l.0, l.1, l.2);
    }
    let _ = writeln!(s, "  {{ id = \"mid\", name = \"collar\", length_mm = 40, d_mm = {collar} }},");
    for (k, l) in b.lands.iter().enumerate() {
        let _ =
            writeln!(s, "  {{ id = \"B{k}\", name = \"B land {k}\", length_mm = {}, d_mm = {}{} }},", l.0, l.1, l.2);
    }
    s.push_str("]\nparts = [\n");
    let start = |side: &Side, land: usize| -> f64 {
        if side.letter == 'A' {
            length[0] - side.lands[..=land].iter().map(|l| l.0).sum::<f64>()
        } else {
            length[0] + 40.0 + side.lands[..land].iter().map(|l| l.0).sum::<f64>()
        }
    };
    let place = |side: &Side, inner: f64, width: f64| {
        if side.letter == 'A' { length[0] - inner - width } else { length[0] + 40.0 + inner }
    };
    for side in &sides {
        for (words, inner, width, land) in &side.parts {
            let at = place(side, *inner, *width) - start(side, *land);
            let _ = writeln!(s, "  {{ {words}, land = \"{}{land}\", at_mm = {at}, width_mm = {width} }},", side.letter);
        }
    }
    s.push_str("]\nhousings = [\n");
    for side in &sides {
        for h in &side.housings {
            // Bores are written from the collar outward: {inner:width:bore}.
            let mut text = h.clone();
            let mut bores = Vec::new();
            while let Some((i, j)) = text.find('<').zip(text.find('>')) {
                let n: Vec<f64> = text[i + 1..j].split(':').map(|v| v.parse().unwrap()).collect();
                bores.push((place(side, n[0], n[1]), n[1], n[2]));
                text.replace_range(i..=j, "");
            }
            bores.sort_by(|x, y| x.0.total_cmp(&y.0));
            let list: Vec<String> =
                bores.iter().map(|(x, w, b)| format!("{{ from_mm = {x}, to_mm = {}, d_mm = {b} }}", x + w)).collect();
            let _ = writeln!(s, "  {{ {text} bores = [ {} ] }},", list.join(", "));
        }
    }
    let bolts: Vec<String> = sides.iter().flat_map(|x| x.bolts.clone()).collect();
    let _ = writeln!(s, "]\nbolt_rings = [ {} ]", bolts.join(", "));
    let extra: Vec<String> = sides.iter().flat_map(|x| x.extra.clone()).collect();
    if !extra.is_empty() {
        let _ = writeln!(s, "pairs = [ {} ]", extra.join(", "));
    }
    if d.chance(15) {
        s = s.replacen("version = 1\n", "version = 1\nstands = \"vertical\"\n", 1);
    }
    if d.chance(70) {
        s.push_str(
            "floats = [ { id = \"f\", name = \"End play\", lo_mm = 0.1, hi_mm = 0.3, source = \"sheet 1\" } ]\n",
        );
    }
    if d.chance(60) {
        s.push_str(
            "runouts = [ { id = \"r\", name = \"collar rim\", part = \"brA\", reads = \"mid\", limit_um = 20, source = \"sheet 1\" } ]\n",
        );
    }
    s
}

fn side(letter: char, d: &mut Dice) -> Side {
    let (bore, outer, width) = [(40.0, 80.0, 18.0), (50.0, 90.0, 20.0), (60.0, 110.0, 22.0)][d.below(3)];
    let number = format!("62{:02}", bore as u32 / 5);
    let l = letter.to_string();
    let from = format!("from = \"{l}\"");
    let mut x = 0.0;
    let mut parts = Vec::new();
    let (mut housings, mut bolts, mut extra) = (Vec::new(), Vec::new(), Vec::new());
    let other = if letter == 'A' { 'B' } else { 'A' };
    let mut inner_cover = false;
    if d.chance(40) {
        // An inner cover with its seal, before the bearing.
        let land = bore + 0.0;
        let seal = bore + 22.0;
        parts.push((format!("id = \"sealI{l}\", name = \"{l} inner seal\", kind = \"seal\", outside_mm = {seal}, faces = \"{l}\", keeps = \"{l}\", {from}, carried_by = \"coverI{l}\""), x + 2.0, 8.0, 0));
        parts.push((
            format!(
                "id = \"coverI{l}\", name = \"{l} inner cover\", kind = \"cover\", outside_mm = {}, bore_mm = {}, {from}",
                outer + 30.0,
                land + 3.0
            ),
            x + 1.0,
            12.0,
            0,
        ));
        inner_cover = true;
        x += 13.0;
        if d.chance(70) {
            parts.push((
                format!(
                    "id = \"spI{l}\", name = \"{l} inner ring spacer\", kind = \"spacer\", outside_mm = {}, {from}",
                    bore + 12.0
                ),
                0.0,
                x,
                0,
            ));
            // The cover lies around it then.
            let n = parts.len();
            parts[n - 2].0 =
                parts[n - 2].0.replace(&format!("bore_mm = {}", land + 3.0), &format!("bore_mm = {}", bore + 13.0));
            parts[n - 3].0 =
                parts[n - 3].0.replace("kind = \"seal\"", &format!("kind = \"seal\", bore_mm = {}", bore + 12.0));
        }
    }
    let first = x;
    let fit = ["shrink", "press", "slide"][d.below(3)];
    let pair = d.chance(25);
    let lean = |first: bool| if first == (letter == 'A') { 'A' } else { 'B' };
    let name = if pair { format!("72{:02} 25", bore as u32 / 5) } else { number };
    parts.push((format!("id = \"br{l}\", name = \"{l} bearing\", kind = \"bearing\", outside_mm = {outer}, designation = \"{name}\", {from}, fit = \"{fit}\", faces = \"{}\"", lean(true)), x, width, 0));
    x += width;
    if pair {
        let w = 10.0 + d.below(10) as f64;
        parts.push((
            format!(
                "id = \"si{l}\", name = \"{l} inner spacer\", kind = \"spacer\", outside_mm = {}, {from}",
                bore + 12.0
            ),
            x,
            w,
            0,
        ));
        parts.push((
            format!(
                "id = \"so{l}\", name = \"{l} outer spacer\", kind = \"spacer\", outside_mm = {}, bore_mm = {}, {from}",
                outer - 0.2,
                outer - 14.0
            ),
            x,
            w,
            0,
        ));
        x += w;
        parts.push((format!("id = \"bs{l}\", name = \"{l} second bearing\", kind = \"bearing\", outside_mm = {outer}, designation = \"{name}\", {from}, fit = \"{fit}\", faces = \"{}\"", lean(false)), x, width, 0));
        x += width;
        extra.push(format!(
            "{{ a = \"br{l}\", b = \"bs{l}\", arrangement = \"DB\", spacers = [\"si{l}\", \"so{l}\"] }}"
        ));
    }
    let last = x;
    let mut lands = vec![(x, bore, "")];
    let nut = d.below(3);
    let mut widest: f64 = bore;
    if nut == 2 {
        parts.push((
            format!("id = \"clip{l}\", name = \"{l} circlip\", kind = \"circlip\", outside_mm = {}, {from}, faces = \"{l}\"", bore + 8.0),
            x,
            2.0,
            1,
        ));
        x += 2.0;
        lands.push((6.0, bore - 1.0, ", kind = \"groove\""));
        x += 4.0;
        widest = bore + 8.0;
    } else {
        if nut == 0 {
            parts.push((
                format!(
                    "id = \"tab{l}\", name = \"{l} tab washer\", kind = \"tab_washer\", outside_mm = {}, {from}, faces = \"{l}\"",
                    bore + 22.0
                ),
                x,
                2.0,
                1,
            ));
            x += 2.0;
        }
        let hand = if letter == 'A' { "left" } else { "right" };
        let lock = if nut == 0 {
            "slots = 4, tabs = 17"
        } else {
            "locked_by = \"compound\", compound = \"threadlocker\", cure_min = 60"
        };
        parts.push((
            format!("id = \"nut{l}\", name = \"{l} nut\", kind = \"nut\", outside_mm = {}, {from}, hand = \"{hand}\", {lock}", bore + 20.0),
            x,
            10.0,
            1,
        ));
        x += 10.0;
        lands.push((x - last, bore - 2.0, ", kind = \"thread\", pitch_mm = 1.5"));
        widest = widest.max(bore + 22.0);
    }
    let end = x;
    // How far what is built reaches outward by now.
    let mut reach = end;
    match d.below(4) {
        0 => {}
        1 => {
            // Parted: the bore, room for the nut, a wall or an open side.
            let wall = widest + [4.0, 20.0, -6.0][d.below(3)];
            let outside = outer + 40.0;
            housings.push(format!("id = \"h{l}\", name = \"{l} block\", outside_mm = {outside}, material = \"grey_iron\", split = true, <{first}:{}:{outer}> <{end}:8:{wall}>", end - first));
            bolts.push(format!("{{ part = \"h{l}\", n = 4, torque_nm = 90 }}"));
            reach = end + 8.0;
        }
        2 => {
            // Whole, from its own end or, where nothing larger stands beyond, from the other.
            let come = if d.chance(85) { letter } else { other };
            let tail = outer + [0.0, 4.0, -8.0][d.below(3)];
            let more = [0.0, 6.0, 40.0][d.below(3)];
            housings.push(format!("id = \"h{l}\", name = \"{l} housing\", outside_mm = {}, material = \"grey_iron\", from = \"{come}\", <{first}:{}:{outer}> <{last}:{}:{tail}>", outer + 40.0, last - first, end - last + more));
            reach = end + more;
        }
        _ => {
            housings.push(format!(
                "id = \"h{l}\", name = \"{l} housing\", outside_mm = {}, material = \"aluminium\", from = \"{l}\", <{first}:{}:{outer}>",
                outer + 30.0,
                last - first
            ));
        }
    }
    let sum = |lands: &Vec<(f64, f64, &str)>| lands.iter().map(|l| l.0).sum::<f64>();
    // Bolted to the far side of what comes off towards this one.
    if inner_cover && !housings.is_empty() && d.chance(60) {
        bolts.push(format!("{{ part = \"coverI{l}\", n = 6, torque_nm = 25 }}"));
    }
    if d.chance(60) {
        // An outer cover with its seal, over the nut.
        let land = bore - 4.0;
        let seal = land + 18.0;
        let at = reach + [0.0, 0.2, 6.0][d.below(3)];
        lands.push((at + 16.0 - sum(&lands), land, ""));
        let place = if d.chance(25) { ", fitted = \"in_place\"" } else { "" };
        let k = lands.len() - 1;
        parts.push((format!("id = \"sealO{l}\", name = \"{l} outer seal\", kind = \"seal\", outside_mm = {seal}, faces = \"{other}\", keeps = \"{other}\", {from}, carried_by = \"coverO{l}\"{place}"), at + 4.0, 8.0, k));
        parts.push((
            format!(
                "id = \"coverO{l}\", name = \"{l} outer cover\", kind = \"cover\", outside_mm = {}, bore_mm = {}, {from}",
                outer + 30.0,
                land + 3.0
            ),
            at,
            12.0,
            k,
        ));
        // Where no face meets it, the sheet may say what it is fastened to.
        let to = if !housings.is_empty() && d.chance(60) { format!("to = \"h{l}\", ") } else { String::new() };
        bolts.push(format!("{{ part = \"coverO{l}\", {to}n = 6, torque_nm = 25 }}"));
        reach = at + 16.0;
    }
    if d.chance(30) {
        let land = bore - 6.0;
        lands.push((reach + 12.0 - sum(&lands), land, ""));
        parts.push((
            format!(
                "id = \"fl{l}\", name = \"{l} flinger\", kind = \"flinger\", outside_mm = {}, {from}, back_off_mm = 0.5, faces = \"{l}\"",
                land + 20.0
            ),
            reach + 3.0,
            5.0,
            lands.len() - 1,
        ));
        if d.chance(60) {
            parts.push((format!("id = \"ss{l}\", name = \"{l} flinger screw\", kind = \"set_screw\", outside_mm = {}, {from}, split = true, locks = [\"fl{l}\"]", land + 18.0), reach + 4.0, 3.0, lands.len() - 1));
        }
        reach += 8.0;
    }
    if d.chance(60) {
        let land = bore - 8.0;
        let k = lands.len();
        let at = sum(&lands).max(reach);
        let short = at - sum(&lands);
        lands.push((short + 40.0, land, ", kind = \"keyway\""));
        parts.push((
            format!("id = \"key{l}\", name = \"{l} key\", kind = \"key\", outside_mm = {}, split = true", land + 6.0),
            at + 8.0,
            24.0,
            k,
        ));
        let size = [bore + 30.0, outer + 60.0][d.below(2)];
        let fit = ["slide", "press", "shrink", "oil"][d.below(4)];
        parts.push((format!("id = \"wheel{l}\", name = \"{l} wheel\", kind = \"wheel\", outside_mm = {size}, {from}, fit = \"{fit}\", key = \"key{l}\", faces = \"{l}\""), at + 8.0, 32.0, k));
        if d.chance(60) {
            // Held by a nut of its own, with a tab under it or a compound on its thread.
            let tab = d.chance(50);
            let at = at + 40.0;
            let k = lands.len();
            lands.push((20.0, land - 2.0, ", kind = \"thread\", pitch_mm = 1.5"));
            if tab {
                parts.push((format!("id = \"wtab{l}\", name = \"{l} wheel tab washer\", kind = \"tab_washer\", outside_mm = {}, {from}, faces = \"{l}\"", land + 16.0), at, 2.0, k));
            }
            let lock = if tab { "slots = 4, tabs = 17" } else { "locked_by = \"wire\"" };
            parts.push((format!("id = \"wnut{l}\", name = \"{l} wheel nut\", kind = \"nut\", outside_mm = {}, {from}, hand = \"right\", {lock}", land + 14.0), at + if tab { 2.0 } else { 0.0 }, 12.0, k));
        }
    }
    Side { letter, lands, parts, housings, bolts, extra }
}
