//! Names under "order" of the contract, and the chain of sizes.

use super::Entry;
use super::declare::{
    Flag, List, NotNegative, Number, Pairs, Positive, Text, Texts, Whole, Word, computation, gives, takes,
};
use super::input::short;
use crate::order::{self, Names, Passing, Precedence};
use crate::refusal::{Refusal, Result, expect};
use crate::stack::{self, Link, Scatter};

pub(super) static ENTRIES: [&Entry; 3] = [&chain::ENTRY, &solve::ENTRY, &back_out::ENTRY];

takes! {
    /// A size of the chain.
    pub(crate) struct LinkIn {
        /// nominal size
        nominal_mm: Number;
        /// upper deviation
        [assumed] plus_mm: Number = 0.0;
        /// lower deviation, counted downwards
        [assumed] minus_mm: Number = 0.0;
        /// 1 or -1
        sign: Number = 1.0;
        /// how sizes scatter
        [assumed "normal" "uniform" "triangular"] dist: Word = "normal";
        /// uncertainty of a measured size, instead of limits
        u_mm: Option<NotNegative>;
    }
}

computation! {
    /// A chain of sizes: worst case, root sum of squares, Monte Carlo.
    chain = "stack.chain";
    formula "worst sum of limits; rss root of sum h2; Monte Carlo";
    source "worst case, root sum of squares and Monte Carlo: JCGM 101:2008";
    holds "independent sizes; a size scatters as its distribution says";
    takes {
        /// sizes of the chain
        links: List<LinkIn>;
        /// lower limit
        lo_mm: Option<Number>;
        /// upper limit
        hi_mm: Option<Number>;
        /// trials
        trials: Whole<1, { stack::MOST_TRIALS as u64 }> = 1000000;
        /// seed
        seed: Whole<0, 9_000_000_000_000_000> = 1;
        /// index of the adjusting link
        adjust: Option<Whole<0, 1_000_000>>;
        /// aim, with adjust
        aim_mm: Option<Number>;
    }
    gives {
        /// sum of the nominals
        nominal_mm: f64;
        /// sum of the middles
        middle_mm: f64;
        /// worst case, least
        worst_min_mm: f64;
        /// worst case, most
        worst_max_mm: f64;
        /// root of sum of squares
        rss_half_mm: f64;
        /// share of each link
        shares: Vec<f64>;
        /// mean of the trials
        mc_mean_mm: f64;
        /// standard deviation of the trials
        mc_sd_mm: f64;
        /// share inside the limits
        mc_inside: Option<f64>;
        /// size of the adjusting link
        adjust_mm: Option<f64>;
    }
    limits {
        "fewer than 10 000 trials: the share inside is rough" => |i, _| i.trials < 10_000;
    }
    example r#"{"links": [{"nominal_mm": 50, "plus_mm": 0.05, "minus_mm": 0.05}, {"nominal_mm": 30, "plus_mm": 0.02, "minus_mm": 0.02, "sign": -1}], "trials": 10000}"#;
}

fn chain(i: &chain::Takes) -> Result<chain::Gives> {
    let link = |l: &LinkIn| {
        let u = l.u_mm;
        let scatter = match l.dist.as_str() {
            "uniform" => Scatter::Uniform,
            "triangular" => Scatter::Triangular,
            _ => Scatter::Normal,
        };
        Link {
            nominal: l.nominal_mm,
            plus: u.unwrap_or(l.plus_mm),
            minus: u.unwrap_or(l.minus_mm),
            sign: l.sign,
            scatter: if u.is_some() { Scatter::Normal } else { scatter },
            measured: u.is_some(),
        }
    };
    let links: Vec<Link> = i.links.iter().map(link).collect();
    let (lo, hi) = (i.lo_mm, i.hi_mm);
    let adjust = match i.adjust {
        None => None,
        Some(k) => {
            expect(k < links.len() as u64, "adjust", "there is no link of that number; they count from 0")?;
            let aim = i.aim_mm.ok_or_else(|| Refusal::new("aim_mm", "an adjusting link needs an aim"))?;
            Some(stack::adjusting_piece(&links, k as usize, aim)?)
        }
    };
    let c = stack::chain(&links, lo.zip(hi), i.trials, i.seed)?;
    Ok(chain::Gives {
        nominal_mm: c.nominal,
        middle_mm: c.middle,
        worst_min_mm: c.worst.0,
        worst_max_mm: c.worst.1,
        rss_half_mm: c.rss_half,
        shares: c.shares,
        mc_mean_mm: c.mc_mean,
        mc_sd_mm: c.mc_sd,
        mc_inside: c.mc_inside,
        adjust_mm: adjust,
    })
}

takes! {
    /// A land of the shaft.
    pub(crate) struct LandIn {
        /// its name
        id: Text;
        /// diameter
        d_mm: Positive;
    }
}

takes! {
    /// A part on the shaft.
    pub(crate) struct PartIn {
        /// its name, other than shaft
        id: Text;
        /// bore
        bore_mm: NotNegative;
        /// outside
        outside_mm: Positive;
        /// land it sits on
        land: Text;
        /// place on the land, counted from A
        [assumed] pos: Number = 0.0;
        /// end it comes from
        [assumed "A" "B"] end: Word = "A";
        /// can be laid on sideways
        split: Flag = false;
        /// parts it locks
        locks: Texts = [];
        /// parts it covers
        covers: Texts = [];
        /// its key
        key: Option<Text>;
        /// housing it lies in
        inside: Option<Text>;
    }
}

takes! {
    /// A housing that the shaft goes into.
    pub(crate) struct HousingIn {
        /// its name
        id: Text;
        /// opening at A
        opening_a_mm: Positive;
        /// opening at B
        opening_b_mm: Positive;
    }
}

gives! {
    /// A part that cannot get to its place, and what is in its way.
    pub(crate) struct ImpossibleOut {
        /// part
        part: String;
        /// land it cannot pass
        land: String;
        /// bore
        bore_mm: f64;
        /// diameter of the land
        d_mm: f64;
    }
}

computation! {
    /// What must go on before what, and an order.
    solve = "order.solve";
    formula "a part must clear every land it passes; what it cannot pass goes on after it";
    source "sweep of a bore past every land and part; order by Kahn's method, loops by breadth-first search: Cormen, Introduction to Algorithms";
    holds "straight paths along one shaft, round parts";
    takes {
        /// lands from A to B
        lands: List<LandIn>;
        /// parts on the shaft
        parts: List<PartIn>;
        /// housings
        housings: List<HousingIn> = [];
        /// more pairs: the first of each goes on before the second
        before: Pairs = [];
    }
    gives {
        /// parts that cannot get to their place
        impossible: Vec<ImpossibleOut>;
        /// pairs: the first of each goes on before the second
        pairs: Vec<(String, String)>;
        /// an order
        order: Option<Vec<String>>;
        /// a shortest loop
        cycle: Option<Vec<String>>;
    }
    example r#"{"lands": [{"id": "journal", "d_mm": 40}, {"id": "collar", "d_mm": 50}], "parts": [{"id": "seal", "bore_mm": 40, "outside_mm": 62, "land": "journal", "pos": 2}, {"id": "ring", "bore_mm": 40, "outside_mm": 80, "land": "journal", "pos": 1}]}"#;
}

#[expect(clippy::too_many_lines, reason = "takes a task apart field by field")]
fn solve(i: &solve::Takes) -> Result<solve::Gives> {
    let mut lands = Names::default();
    let mut sizes = Vec::new();
    for l in &i.lands {
        let id = id(&l.id, "lands")?;
        expect(lands.find(id).is_none(), "lands", format!("land {} stands twice", short(id)))?;
        lands.number(id);
        sizes.push(l.d_mm);
    }
    expect(!sizes.is_empty(), "lands", "at least one land is expected")?;
    let mut housings = Names::default();
    let mut openings = Vec::new();
    for h in &i.housings {
        let id = id(&h.id, "housings")?;
        expect(housings.find(id).is_none(), "housings", format!("housing {} stands twice", short(id)))?;
        housings.number(id);
        openings.push((h.opening_a_mm, h.opening_b_mm));
    }
    let mut names = Names::default();
    for p in &i.parts {
        let id = id(&p.id, "parts")?;
        expect(
            id != "shaft" && names.find(id).is_none(),
            "parts",
            format!("the name {} stands twice or is taken", short(id)),
        )?;
        names.number(id);
    }
    let unknown = |what: &str| Refusal::new("parts", format!("{} is not known", short(what)));
    let mut parts = Vec::new();
    for p in &i.parts {
        let (bore, outside) = (p.bore_mm, p.outside_mm);
        expect(outside >= bore, "parts", "an outside is not below the bore")?;
        let (land, inside, key) = (p.land.as_str(), p.inside.as_deref().unwrap_or(""), p.key.as_deref().unwrap_or(""));
        // A stretched ring has the bore that it has there; anything smaller is a slip of the pen.
        let own = lands.find(land).map_or(0.0, |l| sizes[l]);
        expect(
            p.split || bore >= 0.99 * own,
            "parts",
            format!("the bore of {} is far below its own land: look at both sizes", short(&p.id)),
        )?;
        let mut after = Vec::new();
        for id in p.locks.iter().chain(&p.covers).map(String::as_str).chain((!key.is_empty()).then_some(key)) {
            after.push(names.find(id).ok_or_else(|| unknown(id))?);
        }
        parts.push(Passing {
            bore,
            outside,
            land: lands.find(land).ok_or_else(|| unknown(land))?,
            pos: p.pos,
            from_b: p.end == "B",
            split: p.split,
            after,
            inside: if inside.is_empty() { None } else { Some(housings.find(inside).ok_or_else(|| unknown(inside))?) },
        });
    }
    let mut g = order::geometry(&sizes, &parts, &openings)?;
    if !openings.is_empty() {
        names.number("shaft");
    }
    for (a, b) in &i.before {
        let find =
            |id: &str| names.find(id).ok_or_else(|| Refusal::new("before", format!("{} is not known", short(id))));
        let (a, b) = (find(a)?, find(b)?);
        g.precedence.add(a, b);
    }
    let name = |k: usize| names.list[k].clone();
    let ordered = g.precedence.order();
    let cycle = if ordered.is_none() { g.precedence.shortest_loop() } else { None };
    Ok(solve::Gives {
        impossible: g
            .impossible
            .iter()
            .map(|(p, l)| ImpossibleOut {
                part: name(*p),
                land: lands.list[*l].clone(),
                bore_mm: parts[*p].bore,
                d_mm: sizes[*l],
            })
            .collect(),
        pairs: g.precedence.pairs().map(|(a, b)| (name(a), name(b))).collect(),
        order: ordered.filter(|_| g.impossible.is_empty()).map(|o| o.into_iter().map(name).collect::<Vec<_>>()),
        cycle: cycle.map(|c| c.into_iter().map(name).collect::<Vec<_>>()),
    })
}

takes! {
    /// A part, as far as taking it off asks.
    pub(crate) struct BackIn {
        /// its name
        id: Text;
        /// seal, tab_washer or another
        kind: Option<Text>;
        /// shrink or another
        fit: Option<Text>;
        /// to take it off
        [assumed] minutes: NotNegative = 0.0;
        /// it can only be pulled through its balls
        through_balls: Flag = false;
        /// times its tab was bent
        tab_bent: Number = 0.0;
    }
}

computation! {
    /// What must come off for a forgotten part.
    back_out = "order.back_out";
    formula "everything on that comes after the part, last first";
    source "reachability in the order of mounting";
    holds "the pairs are complete";
    takes {
        /// pairs: the first of each goes on before the second
        pairs: Pairs;
        /// what is on, in the order of mounting
        done: Texts;
        /// the forgotten part
        part: Text;
        /// what the parts are
        parts: List<BackIn> = [];
    }
    gives {
        /// to come off, last mounted first
        off: Vec<String>;
        /// scrapped by it
        scrapped: Vec<String>;
        /// to be heated again
        reheat: Vec<String>;
        /// hands-on time
        minutes: f64;
    }
    example r#"{"pairs": [["seal", "ring"], ["ring", "nut"]], "done": ["ring", "nut"], "part": "seal"}"#;
}

fn back_out(i: &back_out::Takes) -> Result<back_out::Gives> {
    let mut names = Names::default();
    let numbered: Vec<(usize, usize)> = i.pairs.iter().map(|(a, b)| (names.number(a), names.number(b))).collect();
    let mut done = Vec::new();
    let mut on = std::collections::BTreeSet::new();
    for id in &i.done {
        let k = names.number(id);
        expect(on.insert(k), "done", format!("{} was mounted twice", short(id)))?;
        done.push(k);
    }
    let mut facts: std::collections::BTreeMap<usize, Vec<&BackIn>> = std::collections::BTreeMap::new();
    for p in &i.parts {
        facts.entry(names.number(id(&p.id, "parts")?)).or_default().push(p);
    }
    let part = names.find(&i.part).ok_or_else(|| Refusal::new("part", "this part is named nowhere"))?;
    let mut p = Precedence::new(names.list.len());
    for (a, b) in &numbered {
        p.add(*a, *b);
    }
    expect(p.order().is_some(), "pairs", "these pairs run in a loop: nothing could be mounted")?;
    let place: std::collections::HashMap<usize, usize> = done.iter().enumerate().map(|(at, k)| (*k, at)).collect();
    // Also through parts that are not on: what comes after must have come later.
    let against =
        done.iter().enumerate().any(|(at, k)| p.reached(*k).iter().any(|r| place.get(r).is_some_and(|x| *x < at)));
    expect(!against, "done", "this order of mounting goes against the pairs")?;
    let off = order::back_out(&p, &done, part);
    let (mut scrapped, mut reheat, mut minutes) = (Vec::new(), Vec::new(), 0.0);
    for k in &off {
        for x in facts.get(k).into_iter().flatten() {
            let kind = x.kind.as_deref().unwrap_or("");
            if kind == "seal" || x.through_balls || (kind == "tab_washer" && x.tab_bent >= 1.0) {
                scrapped.push(names.list[*k].clone());
            }
            if x.fit.as_deref() == Some("shrink") {
                reheat.push(names.list[*k].clone());
            }
            minutes += x.minutes;
        }
    }
    let off: Vec<String> = off.into_iter().map(|k| names.list[k].clone()).collect();
    Ok(back_out::Gives { off, scrapped, reheat, minutes })
}

/// The id of an item, which must not be empty.
fn id<'a>(id: &'a str, field: &str) -> Result<&'a str> {
    expect(!id.is_empty(), field, "each one needs a name")?;
    Ok(id)
}
