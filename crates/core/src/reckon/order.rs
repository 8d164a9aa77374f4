//! Names under "order" of the contract, and the chain of sizes.

use super::input::{guess, may, need, short};
use super::output::{Gives, gives, limit, or_null};
use super::{Answer, Entry, Input, Kind, answer};
use crate::order::{self, Names, Passing, Precedence};
use crate::refusal::{Refusal, Result, expect};
use crate::stack::{self, Link, Scatter};
use serde_json::json;

pub(super) static ENTRIES: [Entry; 3] = [
    Entry {
        name: "stack.chain",
        purpose: "A chain of sizes: worst case, root sum of squares, Monte Carlo.",
        formula: "worst sum of limits; rss root of sum h2; Monte Carlo",
        source: "handbook 05",
        fields: &[
            need(
                "links",
                Kind::Objects(&[
                    need("nominal_mm", Kind::Number, "nominal size"),
                    guess("plus_mm", Kind::Number, "upper deviation (0)"),
                    guess("minus_mm", Kind::Number, "lower deviation, counted downwards (0)"),
                    may("sign", Kind::Number, "1 or -1 (1)"),
                    guess("dist", Kind::Word(&["normal", "uniform", "triangular"]), "how sizes scatter (normal)"),
                    may("u_mm", Kind::NotNegative, "uncertainty of a measured size, instead of limits"),
                ]),
                "sizes of the chain",
            ),
            may("lo_mm", Kind::Number, "lower limit"),
            may("hi_mm", Kind::Number, "upper limit"),
            may("trials", Kind::Whole(1, stack::MOST_TRIALS as u64), "trials (1 000 000)"),
            may("seed", Kind::Whole(0, 9_000_000_000_000_000), "seed (1)"),
            may("adjust", Kind::Whole(0, 1_000_000), "index of the adjusting link"),
            may("aim_mm", Kind::Number, "aim, with adjust"),
        ],
        outputs: &[
            gives("nominal_mm", Gives::Number, "of the nominals"),
            gives("middle_mm", Gives::Number, "of the middles"),
            gives("worst_min_mm", Gives::Number, "least"),
            gives("worst_max_mm", Gives::Number, "most"),
            gives("rss_half_mm", Gives::Number, "root of sum of squares"),
            gives("shares", Gives::Numbers, "share of each link"),
            gives("mc_mean_mm", Gives::Number, "mean of the trials"),
            gives("mc_sd_mm", Gives::Number, "their standard deviation"),
            or_null("mc_inside", Gives::Number, "share inside the limits"),
            or_null("adjust_mm", Gives::Number, "size of the adjusting link"),
        ],
        limits: &[limit("fewer than 10 000 trials: the share inside is rough", |i, _| i.num("trials", 1e6) < 10_000.0)],
        example: r#"{"links": [{"nominal_mm": 50, "plus_mm": 0.05, "minus_mm": 0.05}, {"nominal_mm": 30, "plus_mm": 0.02, "minus_mm": 0.02, "sign": -1}], "trials": 10000}"#,
        compute: chain,
    },
    Entry {
        name: "order.solve",
        purpose: "What must go on before what, and an order.",
        formula: "a part must clear every land it passes; what it cannot pass goes on after it",
        source: "handbook 08",
        fields: &[
            need(
                "lands",
                Kind::Objects(&[need("id", Kind::Text, "its id"), need("d_mm", Kind::Positive, "diameter")]),
                "lands from A to B",
            ),
            need(
                "parts",
                Kind::Objects(&[
                    need("id", Kind::Text, "its id; shaft is taken"),
                    need("bore_mm", Kind::NotNegative, "bore"),
                    need("outside_mm", Kind::Positive, "outside"),
                    need("land", Kind::Text, "land it sits on"),
                    guess("pos", Kind::Number, "place on the land, counted from A (0)"),
                    guess("end", Kind::Word(&["A", "B"]), "end it comes from (A)"),
                    may("split", Kind::Flag, "can be laid on sideways (false)"),
                    may("locks", Kind::Texts, "parts it locks"),
                    may("covers", Kind::Texts, "parts it covers"),
                    may("key", Kind::Text, "its key"),
                    may("inside", Kind::Text, "housing it lies in"),
                ]),
                "parts on the shaft",
            ),
            may(
                "housings",
                Kind::Objects(&[
                    need("id", Kind::Text, "its id"),
                    need("opening_a_mm", Kind::Positive, "opening at A"),
                    need("opening_b_mm", Kind::Positive, "opening at B"),
                ]),
                "housings",
            ),
            may("before", Kind::Pairs, "more pairs [a, b]: a before b"),
        ],
        outputs: &[
            gives(
                "impossible",
                Gives::Objects(&[
                    gives("part", Gives::Text, "part"),
                    gives("land", Gives::Text, "land it cannot pass"),
                    gives("bore_mm", Gives::Number, "bore"),
                    gives("d_mm", Gives::Number, "diameter of the land"),
                ]),
                "parts that cannot get to their place",
            ),
            gives("pairs", Gives::Pairs, "[a, b]: a before b"),
            or_null("order", Gives::Texts, "an order"),
            or_null("cycle", Gives::Texts, "a shortest loop"),
        ],
        limits: &[],
        example: r#"{"lands": [{"id": "journal", "d_mm": 40}, {"id": "collar", "d_mm": 50}], "parts": [{"id": "seal", "bore_mm": 40, "outside_mm": 62, "land": "journal", "pos": 2}, {"id": "ring", "bore_mm": 40, "outside_mm": 80, "land": "journal", "pos": 1}]}"#,
        compute: solve,
    },
    Entry {
        name: "order.back_out",
        purpose: "What must come off for a forgotten part.",
        formula: "everything on that comes after the part, last first",
        source: "handbook 08",
        fields: &[
            need("pairs", Kind::Pairs, "[a, b]: a before b"),
            need("done", Kind::Texts, "what is on, in the order of mounting"),
            need("part", Kind::Text, "the forgotten part"),
            may(
                "parts",
                Kind::Objects(&[
                    need("id", Kind::Text, "its id"),
                    may("kind", Kind::Text, "seal, tab_washer or another"),
                    may("fit", Kind::Text, "shrink or another"),
                    guess("minutes", Kind::NotNegative, "to take it off (0)"),
                    may("through_balls", Kind::Flag, "it can only be pulled through its balls (false)"),
                    may("tab_bent", Kind::Number, "times its tab was bent (0)"),
                ]),
                "what the parts are",
            ),
        ],
        outputs: &[
            gives("off", Gives::Texts, "to come off, last mounted first"),
            gives("scrapped", Gives::Texts, "scrapped by it"),
            gives("reheat", Gives::Texts, "to be heated again"),
            gives("minutes", Gives::Number, "hands-on time"),
        ],
        limits: &[],
        example: r#"{"pairs": [["seal", "ring"], ["ring", "nut"]], "done": ["ring", "nut"], "part": "seal"}"#,
        compute: back_out,
    },
];

fn chain(i: &Input) -> Answer {
    let link = |l: &Input| {
        let u = l.maybe("u_mm");
        let scatter = match l.text("dist", "normal") {
            "uniform" => Scatter::Uniform,
            "triangular" => Scatter::Triangular,
            _ => Scatter::Normal,
        };
        Link {
            nominal: l.num("nominal_mm", 0.0),
            plus: u.unwrap_or(l.num("plus_mm", 0.0)),
            minus: u.unwrap_or(l.num("minus_mm", 0.0)),
            sign: l.num("sign", 1.0),
            scatter: if u.is_some() { Scatter::Normal } else { scatter },
            measured: u.is_some(),
        }
    };
    let links: Vec<Link> = i.items("links").iter().map(link).collect();
    let (lo, hi) = (i.maybe("lo_mm"), i.maybe("hi_mm"));
    let adjust = match i.maybe("adjust") {
        None => None,
        Some(k) => {
            expect(k < links.len() as f64, "adjust", "there is no link of that number; they count from 0")?;
            expect(i.has("aim_mm"), "aim_mm", "an adjusting link needs an aim")?;
            Some(stack::adjusting_piece(&links, k as usize, i.num("aim_mm", 0.0))?)
        }
    };
    let c = stack::chain(&links, lo.zip(hi), i.whole("trials", 1_000_000), i.whole("seed", 1))?;
    answer! {
        nominal_mm: c.nominal, middle_mm: c.middle, worst_min_mm: c.worst.0, worst_max_mm: c.worst.1, rss_half_mm: c.rss_half, shares: c.shares,
        mc_mean_mm: c.mc_mean, mc_sd_mm: c.mc_sd, mc_inside: c.mc_inside, adjust_mm: adjust,
    }
}

/// The id of an item, which must not be empty.
fn id<'a>(item: &Input<'a>, field: &str) -> Result<&'a str> {
    let id = item.text("id", "");
    expect(!id.is_empty(), field, "each one needs an id")?;
    Ok(id)
}

fn solve(i: &Input) -> Answer {
    let mut lands = Names::default();
    let mut sizes = Vec::new();
    for l in i.items("lands") {
        let id = id(&l, "lands")?;
        expect(lands.find(id).is_none(), "lands", format!("land {} stands twice", short(id)))?;
        lands.number(id);
        sizes.push(l.num("d_mm", 0.0));
    }
    expect(!sizes.is_empty(), "lands", "at least one land is expected")?;
    let mut housings = Names::default();
    let mut openings = Vec::new();
    for h in i.items("housings") {
        let id = id(&h, "housings")?;
        expect(housings.find(id).is_none(), "housings", format!("housing {} stands twice", short(id)))?;
        housings.number(id);
        openings.push((h.num("opening_a_mm", 0.0), h.num("opening_b_mm", 0.0)));
    }
    let list = i.items("parts");
    let mut names = Names::default();
    for p in &list {
        let id = id(p, "parts")?;
        expect(id != "shaft" && names.find(id).is_none(), "parts", format!("the id {} stands twice or is taken", short(id)))?;
        names.number(id);
    }
    let unknown = |what: &str| Refusal::new("parts", format!("{} is not known", short(what)));
    let mut parts = Vec::new();
    for p in &list {
        let (bore, outside) = (p.num("bore_mm", 0.0), p.num("outside_mm", 0.0));
        expect(outside >= bore, "parts", "an outside is not below the bore")?;
        let (land, inside, key) = (p.text("land", ""), p.text("inside", ""), p.text("key", ""));
        // A stretched ring has the bore that it has there; anything smaller is a slip of the pen.
        let own = lands.find(land).map_or(0.0, |l| sizes[l]);
        expect(
            p.flag("split", false) || bore >= 0.99 * own,
            "parts",
            format!("the bore of {} is far below its own land: look at both sizes", short(p.text("id", ""))),
        )?;
        let mut after = Vec::new();
        for id in p.texts("locks").into_iter().chain(p.texts("covers")).chain((!key.is_empty()).then_some(key)) {
            after.push(names.find(id).ok_or_else(|| unknown(id))?);
        }
        parts.push(Passing {
            bore,
            outside,
            land: lands.find(land).ok_or_else(|| unknown(land))?,
            pos: p.num("pos", 0.0),
            from_b: p.text("end", "A") == "B",
            split: p.flag("split", false),
            after,
            inside: if inside.is_empty() { None } else { Some(housings.find(inside).ok_or_else(|| unknown(inside))?) },
        });
    }
    let mut g = order::geometry(&sizes, &parts, &openings)?;
    if !openings.is_empty() {
        names.number("shaft");
    }
    for (a, b) in i.pairs("before") {
        let find = |id: &str| names.find(id).ok_or_else(|| Refusal::new("before", format!("{} is not known", short(id))));
        let (a, b) = (find(a)?, find(b)?);
        g.precedence.add(a, b);
    }
    let name = |k: usize| names.list[k].clone();
    let ordered = g.precedence.order();
    let cycle = if ordered.is_none() { g.precedence.shortest_loop() } else { None };
    answer! {
        impossible: g.impossible.iter().map(|(p, l)| json!({"part": name(*p), "land": lands.list[*l], "bore_mm": parts[*p].bore, "d_mm": sizes[*l]})).collect::<Vec<_>>(),
        pairs: g.precedence.pairs().map(|(a, b)| json!([name(a), name(b)])).collect::<Vec<_>>(),
        order: ordered.filter(|_| g.impossible.is_empty()).map(|o| o.into_iter().map(name).collect::<Vec<_>>()),
        cycle: cycle.map(|c| c.into_iter().map(name).collect::<Vec<_>>()),
    }
}

fn back_out(i: &Input) -> Answer {
    let mut names = Names::default();
    let numbered: Vec<(usize, usize)> = i.pairs("pairs").into_iter().map(|(a, b)| (names.number(a), names.number(b))).collect();
    let mut done = Vec::new();
    let mut on = std::collections::BTreeSet::new();
    for id in i.texts("done") {
        let k = names.number(id);
        expect(on.insert(k), "done", format!("{} was mounted twice", short(id)))?;
        done.push(k);
    }
    let list = i.items("parts");
    let mut facts: std::collections::BTreeMap<usize, Vec<&Input>> = std::collections::BTreeMap::new();
    for p in &list {
        facts.entry(names.number(id(p, "parts")?)).or_default().push(p);
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
        for x in facts.get(k).into_iter().flatten() {
            let kind = x.text("kind", "");
            if kind == "seal" || x.flag("through_balls", false) || (kind == "tab_washer" && x.num("tab_bent", 0.0) >= 1.0) {
                scrapped.push(names.list[*k].clone());
            }
            if x.text("fit", "") == "shrink" {
                reheat.push(names.list[*k].clone());
            }
            minutes += x.num("minutes", 0.0);
        }
    }
    let off: Vec<String> = off.into_iter().map(|k| names.list[k].clone()).collect();
    answer! { off: off, scrapped: scrapped, reheat: reheat, minutes: minutes }
}
