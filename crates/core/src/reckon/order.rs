//! Names under "order" of the contract, and the chain of sizes.

use super::input::{may, need};
use super::lists::items;
use super::{Entry, Input, Kind, answer};
use crate::order::{self, Names, Passing, Precedence};
use crate::refusal::{Refusal, Result, expect};
use crate::stack::{self, Link, Scatter};
use serde_json::{Value, json};

pub(super) static ENTRIES: [Entry; 3] = [
    Entry {
        name: "stack.chain",
        purpose: "A chain of sizes: worst case, root sum of squares, Monte Carlo.",
        source: "handbook 05",
        fields: &[
            need("links", Kind::Objects, "list of {nominal_mm, plus_mm, minus_mm, sign, dist, u_mm}"),
            may("lo_mm", Kind::Number, "lower limit"),
            may("hi_mm", Kind::Number, "upper limit"),
            may("trials", Kind::Positive, "trials (1 000 000)"),
            may("seed", Kind::NotNegative, "seed (1)"),
            may("adjust", Kind::NotNegative, "index of the adjusting link"),
            may("aim_mm", Kind::Number, "aim, with adjust"),
        ],
        compute: chain,
    },
    Entry {
        name: "order.solve",
        purpose: "What must go on before what, and an order.",
        source: "handbook 08",
        fields: &[
            need("lands", Kind::Objects, "list of {id, d_mm} from A to B"),
            need("parts", Kind::Objects, "list of {id, bore_mm, outside_mm, land, pos, end, split, locks, covers, key, inside}"),
            may("housings", Kind::Objects, "list of {id, opening_a_mm, opening_b_mm}"),
            may("before", Kind::Rows, "list of [a, b]"),
        ],
        compute: solve,
    },
    Entry {
        name: "order.back_out",
        purpose: "What must come off for a forgotten part.",
        source: "handbook 08",
        fields: &[
            need("pairs", Kind::Rows, "list of [a, b]: a before b"),
            need("done", Kind::Rows, "order of mounting"),
            need("part", Kind::Text, "the forgotten part"),
            may("parts", Kind::Objects, "list of {id, kind, fit, minutes, through_balls, tab_bent}"),
        ],
        compute: back_out,
    },
];

fn chain(i: &Input) -> Result<Value> {
    let mut links = Vec::new();
    for l in items(i, "links", &["nominal_mm", "plus_mm", "minus_mm", "sign", "dist", "u_mm"])? {
        let u = l.maybe("u_mm")?;
        expect(u.is_none_or(|u| u >= 0.0), "links", "u_mm: expected 0 or more")?;
        let scatter = match l.text("dist", "normal")?.as_str() {
            "normal" => Scatter::Normal,
            "uniform" => Scatter::Uniform,
            "triangular" => Scatter::Triangular,
            _ => return Err(Refusal::new("links", "dist: expected normal, uniform or triangular")),
        };
        links.push(Link {
            nominal: l.num("nominal_mm")?,
            plus: u.map_or(l.maybe("plus_mm")?.unwrap_or(0.0), |u| u),
            minus: u.map_or(l.maybe("minus_mm")?.unwrap_or(0.0), |u| u),
            sign: l.maybe("sign")?.unwrap_or(1.0),
            scatter: if u.is_some() { Scatter::Normal } else { scatter },
            measured: u.is_some(),
        });
    }
    let trials = i.num("trials", 1e6);
    expect(trials.fract() == 0.0 && trials <= stack::MOST_TRIALS, "trials", "expected a whole number of trials up to 20 million")?;
    let seed = i.num("seed", 1.0);
    expect(seed.fract() == 0.0 && seed < 9e15, "seed", "expected a whole number as seed")?;
    let (lo, hi) = (i.maybe("lo_mm"), i.maybe("hi_mm"));
    let adjust = match i.maybe("adjust") {
        None => None,
        Some(k) => {
            expect(k.fract() == 0.0 && k < links.len() as f64, "adjust", "there is no link of that number; they count from 0")?;
            expect(i.has("aim_mm"), "aim_mm", "an adjusting link needs an aim")?;
            Some(stack::adjusting_piece(&links, k as usize, i.num("aim_mm", 0.0))?)
        }
    };
    let c = stack::chain(&links, lo.zip(hi), trials as u64, seed as u64)?;
    answer! {
        nominal_mm: c.nominal, middle_mm: c.middle, worst_min_mm: c.worst.0, worst_max_mm: c.worst.1, rss_half_mm: c.rss_half, shares: c.shares,
        mc_mean_mm: c.mc_mean, mc_sd_mm: c.mc_sd, mc_inside: c.mc_inside, adjust_mm: adjust,
    }
}

/// A list of [a, b] of texts.
fn two_texts(i: &Input, field: &'static str) -> Result<Vec<(String, String)>> {
    let bad = || Refusal::new(field, "expected a list of pairs of ids");
    i.list(field)
        .map_or(&[][..], Vec::as_slice)
        .iter()
        .map(|p| match p.as_array().map(Vec::as_slice) {
            Some([Value::String(a), Value::String(b)]) => Ok((a.clone(), b.clone())),
            _ => Err(bad()),
        })
        .collect()
}

fn solve(i: &Input) -> Result<Value> {
    let mut lands = Names::default();
    let mut sizes = Vec::new();
    for l in items(i, "lands", &["id", "d_mm"])? {
        let id = l.id()?;
        expect(lands.find(&id).is_none(), "lands", format!("land {id} stands twice"))?;
        lands.number(&id);
        let d = l.num("d_mm")?;
        expect(d > 0.0, "lands", "a diameter is above 0")?;
        sizes.push(d);
    }
    expect(!sizes.is_empty(), "lands", "at least one land is expected")?;
    let mut housings = Names::default();
    let mut openings = Vec::new();
    for h in items(i, "housings", &["id", "opening_a_mm", "opening_b_mm"])? {
        let id = h.id()?;
        expect(housings.find(&id).is_none(), "housings", format!("housing {id} stands twice"))?;
        housings.number(&id);
        let (a, b) = (h.num("opening_a_mm")?, h.num("opening_b_mm")?);
        expect(a > 0.0 && b > 0.0, "housings", "an opening is above 0")?;
        openings.push((a, b));
    }
    let list = items(i, "parts", &["id", "bore_mm", "outside_mm", "land", "pos", "end", "split", "locks", "covers", "key", "inside"])?;
    let mut names = Names::default();
    for p in &list {
        let id = p.id()?;
        expect(
            id != "shaft" && names.find(&id).is_none(),
            "parts",
            format!("the id {} stands twice or is taken", id.chars().take(40).collect::<String>()),
        )?;
        names.number(&id);
    }
    let unknown = |what: &str| Refusal::new("parts", format!("{} is not known", what.chars().take(40).collect::<String>()));
    let mut parts = Vec::new();
    for p in &list {
        let (bore, outside) = (p.num("bore_mm")?, p.num("outside_mm")?);
        expect(bore >= 0.0 && outside > 0.0 && outside >= bore, "parts", "an outside is above 0 and not below the bore")?;
        let land = p.text("land", "")?;
        let mut after = Vec::new();
        for id in p.texts("locks")?.into_iter().chain(p.texts("covers")?).chain(Some(p.text("key", "")?).filter(|k| !k.is_empty())) {
            after.push(names.find(&id).ok_or_else(|| unknown(&id))?);
        }
        let inside = p.text("inside", "")?;
        parts.push(Passing {
            bore,
            outside,
            land: lands.find(&land).ok_or_else(|| unknown(&land))?,
            pos: p.maybe("pos")?.unwrap_or(0.0),
            from_b: match p.text("end", "A")?.as_str() {
                "A" => false,
                "B" => true,
                _ => return Err(Refusal::new("parts", "end: expected A or B")),
            },
            split: p.flag("split")?,
            after,
            inside: if inside.is_empty() { None } else { Some(housings.find(&inside).ok_or_else(|| unknown(&inside))?) },
        });
    }
    let mut g = order::geometry(&sizes, &parts, &openings)?;
    if !openings.is_empty() {
        names.number("shaft");
    }
    for (a, b) in two_texts(i, "before")? {
        let find = |id: &str| {
            names.find(id).ok_or_else(|| Refusal::new("before", format!("{} is not known", id.chars().take(40).collect::<String>())))
        };
        let (a, b) = (find(&a)?, find(&b)?);
        g.precedence.add(a, b);
    }
    let name = |k: usize| names.list[k].clone();
    let ordered = g.precedence.order();
    let cycle = if ordered.is_none() { g.precedence.shortest_loop() } else { None };
    Ok(json!({
        "impossible": g.impossible.iter().map(|(p, l)| json!({"part": name(*p), "land": lands.list[*l], "bore_mm": parts[*p].bore, "d_mm": sizes[*l]})).collect::<Vec<_>>(),
        "pairs": g.precedence.pairs().map(|(a, b)| json!([name(a), name(b)])).collect::<Vec<_>>(),
        "order": ordered.filter(|_| g.impossible.is_empty()).map(|o| o.into_iter().map(name).collect::<Vec<_>>()),
        "cycle": cycle.map(|c| c.into_iter().map(name).collect::<Vec<_>>()),
    }))
}

fn back_out(i: &Input) -> Result<Value> {
    let pairs = two_texts(i, "pairs")?;
    expect(pairs.len() <= 200_000, "pairs", "at most 200000 pairs are taken")?;
    let mut names = Names::default();
    let numbered: Vec<(usize, usize)> = pairs.iter().map(|(a, b)| (names.number(a), names.number(b))).collect();
    let mut done = Vec::new();
    for d in i.list("done").map_or(&[][..], Vec::as_slice) {
        let id = d.as_str().ok_or_else(|| Refusal::new("done", "expected a list of ids"))?;
        let k = names.number(id);
        expect(!done.contains(&k), "done", format!("{} was mounted twice", id.chars().take(40).collect::<String>()))?;
        done.push(k);
    }
    let list = items(i, "parts", &["id", "kind", "fit", "minutes", "through_balls", "tab_bent"])?;
    for p in &list {
        names.number(&p.id()?);
    }
    let part = names.find(i.text("part", "")).ok_or_else(|| Refusal::new("part", "this part is named nowhere"))?;
    let mut p = Precedence::new(names.list.len());
    for (a, b) in &numbered {
        p.add(*a, *b);
    }
    expect(p.order().is_some(), "pairs", "these pairs run in a loop: nothing could be mounted")?;
    let place: std::collections::HashMap<usize, usize> = done.iter().enumerate().map(|(at, k)| (*k, at)).collect();
    // Also through parts that are not on: what comes after must have come later.
    let against = done.iter().enumerate().any(|(at, k)| p.reached(*k).iter().any(|r| place.get(r).is_some_and(|x| *x < at)));
    expect(!against, "done", "this order of mounting goes against the pairs")?;
    let off = order::back_out(&p, &done, part);
    let (mut scrapped, mut reheat, mut minutes) = (Vec::new(), Vec::new(), 0.0);
    for k in &off {
        for x in &list {
            if x.id()? != names.list[*k] {
                continue;
            }
            let kind = x.text("kind", "")?;
            if kind == "seal" || x.flag("through_balls")? || (kind == "tab_washer" && x.maybe("tab_bent")?.unwrap_or(0.0) >= 1.0) {
                scrapped.push(names.list[*k].clone());
            }
            if x.text("fit", "")? == "shrink" {
                reheat.push(names.list[*k].clone());
            }
            minutes += x.maybe("minutes")?.unwrap_or(0.0);
        }
    }
    let off: Vec<String> = off.into_iter().map(|k| names.list[k].clone()).collect();
    answer! { off: off, scrapped: scrapped, reheat: reheat, minutes: minutes }
}
