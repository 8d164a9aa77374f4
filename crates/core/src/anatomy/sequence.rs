//! Orders of assembly: which are valid, which is best, what to take off and what it costs (handbook 08).

use super::derive::Derived;
use super::{Anatomy, End, Hold};
use crate::refusal::{Result, expect};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// What taking something off again costs.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Cost {
    /// To come off, in this order.
    pub off: Vec<String>,
    /// Scrapped by it.
    pub scrapped: Vec<String>,
    /// Heated again.
    pub reheat: Vec<String>,
    /// Hands-on minutes, off and on again.
    pub minutes: f64,
    /// To be ordered: what is scrapped, by name.
    pub order: Vec<String>,
}

/// Whether an order of ids is complete and respects every pair.
#[must_use]
pub fn valid(d: &Derived, order: &[&str]) -> bool {
    let at: Vec<Option<usize>> = d.ids.iter().map(|id| order.iter().position(|o| o == id)).collect();
    order.len() == d.ids.len() && at.iter().all(Option::is_some) && d.precedence.pairs().all(|(a, b)| at[a] < at[b])
}

/// What may go on next when these are on: everything of which all that comes before is on.
#[must_use]
pub fn free(d: &Derived, on: &BTreeSet<usize>) -> Vec<usize> {
    let mut waits = vec![false; d.ids.len()];
    for (a, b) in d.precedence.pairs() {
        if !on.contains(&a) {
            waits[b] = true;
        }
    }
    (0..d.ids.len()).filter(|i| !on.contains(i) && !waits[*i]).collect()
}

/// Figures of one thing for the choice of order.
#[derive(Clone, Copy)]
struct Fact {
    minutes: f64,
    wait: f64,
    from: Option<End>,
    tool: Hold,
}

fn facts(a: &Anatomy) -> Vec<Fact> {
    let parts = a.parts.iter().map(|p| Fact {
        minutes: a.minutes_of(p),
        wait: p.fit.wait_minutes(p.outside_mm.0),
        from: p.carried_by.is_none().then_some(p.from),
        tool: p.fit,
    });
    let housings = a.housings.iter().map(|h| Fact { minutes: 15.0, wait: 0.0, from: h.from, tool: Hold::Slide });
    parts.chain(housings).collect()
}

/// What an order costs one person: (idle minutes while something cools, turnings-over, changes of tools).
#[must_use]
pub fn waiting(a: &Anatomy, d: &Derived, order: &[usize]) -> (f64, u32, u32) {
    measure(&facts(a), &d.before(), order)
}

fn measure(f: &[Fact], before: &[Vec<usize>], order: &[usize]) -> (f64, u32, u32) {
    let mut ready = vec![0.0; f.len()];
    let (mut now, mut idle, mut turns, mut tools) = (0.0f64, 0.0, 0, 0);
    let (mut end, mut tool) = (None, None);
    for &i in order {
        let from = before[i].iter().map(|b| ready[*b]).fold(0.0, f64::max);
        if from > now {
            idle += from - now;
            now = from;
        }
        now += f[i].minutes;
        ready[i] = now + f[i].wait;
        if let Some(e) = f[i].from {
            turns += u32::from(end.is_some_and(|x| x != e));
            end = Some(e);
        }
        tools += u32::from(tool.is_some_and(|t| t != f[i].tool));
        tool = Some(f[i].tool);
    }
    (idle, turns, tools)
}

/// A minute of waiting counts 1, turning the assembly over 4, a change of tools 1.
fn price((idle, turns, tools): (f64, u32, u32)) -> f64 {
    idle + 4.0 * f64::from(turns) + f64::from(tools)
}

/// The best order that was found: heated rings first so that their cooling is used, then the same end and the same tool
/// again; for small machines improved by moving single parts. None when there is no order.
#[must_use]
pub fn best(a: &Anatomy, d: &Derived) -> Option<Vec<usize>> {
    if !d.buildable() {
        return None;
    }
    let n = d.ids.len();
    let f = facts(a);
    let before = d.before();
    let mut after = vec![Vec::new(); n];
    for (x, y) in d.precedence.pairs() {
        after[x].push(y);
    }
    // Longest waiting still to come behind each: what leads to a hot ring is urgent.
    let plain = d.plain.as_ref()?;
    let mut behind = vec![0.0f64; n];
    for &i in plain.iter().rev() {
        behind[i] = f[i].wait + after[i].iter().map(|x| behind[*x]).fold(0.0, f64::max);
    }
    let mut left: Vec<usize> = before.iter().map(Vec::len).collect();
    let mut free: BTreeSet<usize> = (0..n).filter(|i| left[*i] == 0).collect();
    // When each may begin, from those before it that are on.
    let mut from = vec![0.0f64; n];
    let (mut now, mut end, mut tool) = (0.0f64, None, None);
    let mut order = Vec::with_capacity(n);
    while !free.is_empty() {
        let score = |i: usize| {
            let idle = (from[i] - now).max(0.0);
            let turn = f[i].from.is_some_and(|e| end.is_some_and(|x| x != e));
            let change = tool.is_some_and(|t| t != f[i].tool);
            idle + 4.0 * f64::from(u8::from(turn)) + f64::from(u8::from(change)) - 0.2 * behind[i]
        };
        let i = free.iter().copied().min_by(|x, y| score(*x).total_cmp(&score(*y)).then(x.cmp(y)))?;
        free.remove(&i);
        now = now.max(from[i]) + f[i].minutes;
        end = f[i].from.or(end);
        tool = Some(f[i].tool);
        order.push(i);
        for x in &after[i] {
            from[*x] = from[*x].max(now + f[i].wait);
            left[*x] -= 1;
            if left[*x] == 0 {
                free.insert(*x);
            }
        }
    }
    // Looking one step ahead may lead astray: the plain order counts, too.
    if price(measure(&f, &before, plain)) < price(measure(&f, &before, &order)) {
        order.clone_from(plain);
    }
    // Small machines: move one part at a time to where it costs least.
    if n <= 60 {
        let mut now = price(measure(&f, &before, &order));
        let mut better = true;
        let mut rounds = 0;
        while better && rounds < 6 {
            better = false;
            rounds += 1;
            for i in 0..n {
                let at = order.iter().position(|x| *x == i)?;
                let mut rest = order.clone();
                rest.remove(at);
                let lo = before[i].iter().filter_map(|b| rest.iter().position(|x| x == b)).max().map_or(0, |p| p + 1);
                let hi = rest.iter().position(|x| after[i].contains(x)).unwrap_or(rest.len());
                for to in lo..=hi {
                    let mut trial = rest.clone();
                    trial.insert(to, i);
                    let cost = price(measure(&f, &before, &trial));
                    if cost < now - 1e-9 {
                        (now, order, better) = (cost, trial, true);
                    }
                }
            }
        }
    }
    Some(order)
}

/// Teardown: the reverse of an order.
#[must_use]
pub fn teardown(order: &[usize]) -> Vec<usize> {
    order.iter().rev().copied().collect()
}

/// What has to come off so that a part can go on or be got at: everything on that comes after it, last mounted first, with
/// what each costs. `itself` says whether the part is on and comes off, too.
///
/// ```
/// # use ironseat_core::anatomy::{Anatomy, derive, sequence};
/// let pump: Anatomy = serde_json::from_str(r#"{"key":"p","name":"Pump","version":1,
///   "lands":[{"id":"j","name":"journal","length_mm":60,"d_mm":40},{"id":"s","name":"shoulder","length_mm":20,"d_mm":50}],
///   "parts":[{"id":"seal","name":"Lip seal","kind":"seal","land":"j","at_mm":50,"width_mm":8,"outside_mm":62},
///            {"id":"ring","name":"Sleeve","kind":"sleeve","land":"j","at_mm":20,"width_mm":20,"outside_mm":48,"fit":"shrink"}]}"#).unwrap();
/// let d = derive(&pump)?;
/// let cost = sequence::back_out(&pump, &d, &["ring"], "seal", false)?;
/// assert_eq!((&cost.off[..], &cost.reheat[..]), (&["ring".to_owned()][..], &["ring".to_owned()][..]));
/// # Ok::<(), ironseat_core::Refusal>(())
/// ```
///
/// # Errors
/// `part` or `done` with an id that is not there.
pub fn back_out(a: &Anatomy, d: &Derived, done: &[&str], part: &str, itself: bool) -> Result<Cost> {
    let target = d.number(part);
    expect(target.is_some(), "part", "this part is not in the anatomy")?;
    let target = target.unwrap_or(0);
    let reached = d.precedence.reached(target);
    let mut cost = Cost::default();
    for id in done.iter().rev() {
        let Some(i) = d.number(id) else { return Err(crate::Refusal::new("done", "something is on that is not in the anatomy")) };
        if !(reached.contains(&i) || (itself && i == target)) {
            continue;
        }
        cost.off.push((*id).to_owned());
        match a.part(id) {
            Some(p) => {
                if p.scrapped_by_removal() {
                    cost.scrapped.push(p.id.clone());
                    cost.order.push(p.name.clone());
                }
                if p.reheated() {
                    cost.reheat.push(p.id.clone());
                }
                cost.minutes += 2.0 * a.minutes_of(p);
            }
            None => cost.minutes += 30.0,
        }
    }
    Ok(cost)
}

#[cfg(test)]
mod tests {
    use super::super::tests::{drawn, machine};
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(120))]
        /// Any sequence of legal ticks keeps what is on closed under "before"; back-out returns to such a state, and
        /// putting the same parts on again returns to the same set.
        #[test]
        fn legal_ticks_stay_closed_and_back_out_and_redo_return(m in drawn(), picks in prop::collection::vec(any::<u16>(), 1..30), part in any::<u16>()) {
            let d = super::super::derive(&m).unwrap();
            let closed = |on: &BTreeSet<usize>| d.precedence.pairs().all(|(a, b)| !on.contains(&b) || on.contains(&a));
            let mut on = BTreeSet::new();
            let mut done = Vec::new();
            for p in picks {
                let f = free(&d, &on);
                if f.is_empty() { break }
                let i = f[p as usize % f.len()];
                on.insert(i);
                done.push(i);
                prop_assert!(closed(&on));
            }
            let ids: Vec<&str> = done.iter().map(|i| d.ids[*i].as_str()).collect();
            let target = part as usize % d.ids.len();
            let cost = back_out(&m, &d, &ids, &d.ids[target], false).unwrap();
            let off: BTreeSet<usize> = cost.off.iter().filter_map(|id| d.number(id)).collect();
            let left: BTreeSet<usize> = on.difference(&off).copied().collect();
            prop_assert!(closed(&left));
            prop_assert!(off.iter().all(|i| d.precedence.reached(target).contains(i)));
            let mut again = left.clone();
            for i in done.iter().filter(|i| off.contains(i)) {
                prop_assert!(d.precedence.pairs().all(|(a, b)| b != *i || again.contains(&a)), "redo is legal");
                again.insert(*i);
            }
            prop_assert_eq!(again, on);
        }

        #[test]
        fn the_best_order_is_valid_no_worse_than_the_plain_one_and_teardown_reverses_it(m in drawn()) {
            let d = super::super::derive(&m).unwrap();
            if let Some(o) = best(&m, &d) {
                let ids: Vec<&str> = o.iter().map(|i| d.ids[*i].as_str()).collect();
                prop_assert!(valid(&d, &ids));
                let plain = d.precedence.order().unwrap();
                prop_assert!(price(waiting(&m, &d, &o)) <= price(waiting(&m, &d, &plain)));
                let down = teardown(&o);
                let at = |x: usize| down.iter().position(|y| *y == x);
                prop_assert!(d.precedence.pairs().all(|(a, b)| at(b) < at(a)));
                prop_assert_eq!(teardown(&down), o);
            }
        }
    }

    #[test]
    fn heated_rings_go_first_so_that_their_cooling_is_used() {
        let m = machine();
        let d = super::super::derive(&m).unwrap();
        let o = best(&m, &d).unwrap();
        let plain = d.precedence.order().unwrap();
        let (best, plain) = (waiting(&m, &d, &o), waiting(&m, &d, &plain));
        assert!(best.0 < plain.0 && price(best) < price(plain), "{best:?} against {plain:?}");
    }

    #[test]
    fn reaching_a_part_takes_it_off_too_and_names_what_to_order() {
        let m = machine();
        let d = super::super::derive(&m).unwrap();
        let o: Vec<&str> = best(&m, &d).unwrap().into_iter().map(|i| d.ids[i].as_str()).collect();
        let cost = back_out(&m, &d, &o, "b1", true).unwrap();
        assert!(cost.off.contains(&"b1".to_owned()) && cost.off.last() == Some(&"b1".to_owned()), "{cost:?}");
        assert!(cost.scrapped.contains(&"tab".to_owned()), "{cost:?}");
        assert!(cost.reheat.contains(&"b1".to_owned()) && cost.minutes > 0.0 && !cost.order.is_empty());
        assert_eq!(back_out(&m, &d, &o, "nothing", true).unwrap_err().field, "part");
    }
}
