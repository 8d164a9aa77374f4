//! A call, ready to be shown: shape, word, figure, limit, reason, action.

use askama::Template;
use ironseat_core::anatomy::acts::Act;
use ironseat_core::call::{Amount, Call};
use ironseat_core::decide::{Called, State};
use ironseat_core::quantity::Units;
use ironseat_core::terms::Verdict;
use ironseat_store::RebuildId;

/// One call.
#[derive(Debug, Clone, Default)]
pub struct CallView {
    pub key: &'static str,
    pub word: &'static str,
    pub title: String,
    pub figure: String,
    /// The same figure in the other system.
    pub other: String,
    pub limit: String,
    pub source: String,
    pub reason: String,
    pub action: String,
    pub overdue: String,
    pub unguarded: bool,
    pub overruled: String,
    /// Further calls on the same topic.
    pub also: Vec<CallView>,
    pub is_go: bool,
    /// Address of the paragraph that explains it.
    pub why: String,
}

fn range(lo: Option<&Amount>, hi: Option<&Amount>, units: Units) -> String {
    match (lo, hi) {
        (Some(l), Some(h)) => {
            let ((a, ua), (b, ub)) = (l.parts(units), h.parts(units));
            if ua == ub { format!("{a} … {b} {ub}") } else { format!("{a} {ua} … {b} {ub}") }
        }
        (Some(l), None) => format!("at least {}", l.show(units)),
        (None, Some(h)) => format!("at most {}", h.show(units)),
        (None, None) => String::new(),
    }
}

/// Address of *Why* with a seat's numbers put in.
pub fn why_of_seat(rebuild: RebuildId, seat: &str) -> String {
    format!("/why?rebuild={rebuild}&seat={}", crate::ground::address::encode(seat))
}

impl CallView {
    /// One call in a person's units.
    pub fn one(c: &Call, units: Units) -> Self {
        Self {
            key: c.verdict.key(),
            word: c.verdict.word(),
            title: c.title(units),
            figure: c.figure.map_or(String::new(), |f| f.show(units)),
            other: c.figure.filter(|f| !matches!(f, Amount::Time(_))).map_or(String::new(), |f| f.show(units.other())),
            limit: range(c.limit.0.as_ref(), c.limit.1.as_ref(), units),
            source: c.source.clone(),
            reason: c.reason(units),
            action: c.action(units),
            overdue: c.overdue.join(", "),
            unguarded: !c.guarded,
            overruled: String::new(),
            also: Vec::new(),
            is_go: c.verdict == Verdict::Go,
            why: format!("/why#{}", c.situation.why()),
        }
    }

    /// The worst of a list, with the others behind it.
    pub fn list(calls: &[Call], units: Units) -> Option<Self> {
        let (first, rest) = calls.split_first()?;
        Some(Self { also: rest.iter().map(|c| Self::one(c, units)).collect(), ..Self::one(first, units) })
    }

    /// A stored call with its overrule.
    pub fn stored(s: &Called, units: Units) -> Option<Self> {
        let overruled = s.overruled_by.as_ref().map_or(String::new(), |by| format!("{by}: {}", s.overrule_reason));
        Some(Self { overruled, ..Self::list(&s.calls, units)? })
    }

    /// Its paragraph with this seat's numbers put in.
    #[must_use]
    pub fn of_seat(mut self, rebuild: RebuildId, seat: &str) -> Self {
        for c in &mut self.also {
            c.why = c.why.replace("/why#", &format!("{}#", why_of_seat(rebuild, seat)));
        }
        self.why = self.why.replace("/why#", &format!("{}#", why_of_seat(rebuild, seat)));
        self
    }

    /// The number of an act that is done, against its limits.
    pub fn of_number(s: &State, act: &Act, units: Units) -> Option<Self> {
        let m = s.limits(act).filter(|m| m.lo.or(m.hi).is_some())?;
        let done = s.done.get(&act.id)?;
        let value = done.value?;
        let verdict = if m.within(value) { Verdict::Go } else { Verdict::LookAgain };
        let title = match (m.within(value), done.reason.is_empty()) {
            (true, _) => "Within its limits",
            (false, true) => "Outside its limits: the next round mends it",
            (false, false) => "Outside its limits, left so",
        };
        Some(Self {
            key: verdict.key(),
            word: verdict.word(),
            title: title.into(),
            figure: m.unit.show(value, units),
            other: m.unit.show(value, units.other()),
            limit: m.limit(units),
            source: m.source.clone(),
            reason: done.reason.clone(),
            is_go: m.within(value),
            why: format!("/why#{}", act.why()),
            ..Self::default()
        })
    }
}

/// The panel of a call.
#[derive(Template)]
#[template(path = "parts/_call.html")]
pub struct Panel<'a> {
    call: &'a CallView,
}

/// See [`Panel`].
pub fn panel(call: &CallView) -> Panel<'_> {
    Panel { call }
}
