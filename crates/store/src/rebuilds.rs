//! Rebuilds as the Floor and the Bench read them: a fixed number of queries however many there are.

pub use crate::lifecycle::{NewRebuild, add_anatomy, finish, list_anatomies, start};
use crate::schema::{anatomies, calls, clocks, people, rebuilds, repairs, rounds, sign_offs, steps, ticks};
use crate::{Id, Result};
use chrono::{NaiveDate, NaiveDateTime};
use diesel::prelude::*;
use ironseat_core::anatomy::acts::{self, Act, Round};
use ironseat_core::anatomy::{Anatomy, Derived, derive};
use ironseat_core::call::{Call, Method, Verdict};
use ironseat_core::quantity::Units;
use ironseat_core::trail::{SeatTrail, Standing, StepKind, StepState};
use std::collections::{BTreeMap, BTreeSet, HashMap};

/// A rebuild with the anatomy version it pins.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Rebuild {
    pub id: Id,
    pub number: String,
    pub title: String,
    pub customer: String,
    pub due_on: NaiveDate,
    pub finished_at: Option<NaiveDateTime>,
    pub journal_seq: i32,
    pub journal_hash: String,
    pub anatomy: Anatomy,
}

type RebuildRow = (Id, String, String, String, NaiveDate, Option<NaiveDateTime>, i32, String, String);

fn rebuild(r: RebuildRow) -> Result<Rebuild> {
    let (id, number, title, customer, due_on, finished_at, journal_seq, journal_hash, document) = r;
    Ok(Rebuild { id, number, title, customer, due_on, finished_at, journal_seq, journal_hash, anatomy: serde_json::from_str(&document)? })
}

macro_rules! rebuild_columns {
    () => {
        (
            rebuilds::id,
            rebuilds::number,
            rebuilds::title,
            rebuilds::customer,
            rebuilds::due_on,
            rebuilds::finished_at,
            rebuilds::journal_seq,
            rebuilds::journal_hash,
            anatomies::document,
        )
    };
}

/// A step as recorded.
#[derive(Debug, Clone, Queryable)]
#[allow(missing_docs)]
pub struct Step {
    pub id: Id,
    pub rebuild_id: Id,
    pub seat: String,
    pub kind: String,
    pub done: bool,
    pub done_by: Option<String>,
    pub done_at: Option<NaiveDateTime>,
    /// The chosen method, a temperature read: what the step left.
    pub detail: String,
}

/// A stored call: the worst first.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct StoredCall {
    pub rebuild_id: Id,
    pub seat: String,
    pub topic: String,
    pub calls: Vec<Call>,
    pub overruled_by: Option<String>,
    pub overrule_reason: String,
}

impl StoredCall {
    /// The worst verdict.
    #[must_use]
    pub fn verdict(&self) -> Option<Verdict> {
        self.calls.first().map(|c| c.verdict)
    }
}

/// A clock.
#[derive(Debug, Clone, Queryable)]
#[allow(missing_docs)]
pub struct Clock {
    pub id: Id,
    pub rebuild_id: Id,
    pub number: String,
    pub seat: String,
    pub kind: String,
    pub label: String,
    pub started_at: NaiveDateTime,
    pub seconds: i32,
    pub ended_at: Option<NaiveDateTime>,
    /// Step of the trail that waits; empty for the clock of a seat.
    pub step: String,
}

impl Clock {
    /// Seconds left at a time; 0 when it has run out.
    #[must_use]
    pub fn left(&self, at: NaiveDateTime) -> i64 {
        (i64::from(self.seconds) - (at - self.started_at).num_seconds()).max(0)
    }
    /// Not ended yet by a person.
    #[must_use]
    pub fn live(&self) -> bool {
        self.ended_at.is_none()
    }
}

/// A signature.
#[derive(Debug, Clone, Queryable)]
#[allow(missing_docs)]
pub struct SignOff {
    pub rebuild_id: Id,
    pub seat: String,
    pub person: String,
    pub role: String,
    pub said: String,
    pub at: NaiveDateTime,
}

/// Everything the Bench shows of one rebuild.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Overview {
    pub rebuild: Rebuild,
    pub steps: Vec<Step>,
    pub calls: Vec<StoredCall>,
    pub clocks: Vec<Clock>,
    /// From [`bench()`]: all that run anywhere, for the top edge.
    pub running: Vec<Clock>,
    /// The machine's own trail.
    pub machine: Machine,
    /// What the person reads.
    pub units: Units,
}

/// What wants hands next in a rebuild.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Next<'a> {
    /// A step of a seat's own sheets.
    Seat(&'a str, StepKind),
    /// An act of the machine.
    Act(&'a Act),
    /// Everything is done.
    Nothing,
}

/// The machine's own trail beside the seats' sheets.
#[derive(Debug, Clone, Default)]
#[allow(missing_docs)]
pub struct Machine {
    pub acts: Vec<Act>,
    /// Parts and housings that are on.
    pub fitted: BTreeSet<String>,
    /// Acts that are done, those that a seat's sheets say are done too.
    pub done: BTreeSet<String>,
    /// What holds a seat's step: the open acts before it.
    pub holds: BTreeMap<(String, StepKind), Vec<String>>,
}

impl Machine {
    /// From what is derived of its anatomy, what was ticked and what the seats' sheets say.
    fn of(a: &Anatomy, derived: &Derived, own: Own, steps: &[Step]) -> Self {
        let Own { ticked, rounds, repaired } = own;
        let mut acts = derived.acts.clone();
        acts::after_repairs(a, &repaired, &mut acts);
        let acts = rounds.iter().fold(acts, |all, r| acts::with_round(a, all, r));
        let mut done = ticked;
        let by_sheets = |seat: &str, kinds: &[StepKind]| {
            steps.iter().any(|s| s.seat == seat && s.done && StepKind::of(&s.kind).is_some_and(|k| kinds.contains(&k)))
        };
        for s in &acts {
            if let Some((seat, act)) = &s.seat
                && by_sheets(seat, act.said_by())
            {
                done.insert(s.id.clone());
            }
        }
        let mut holds: BTreeMap<(String, StepKind), Vec<String>> = BTreeMap::new();
        for ((seat, which), list) in acts::seats_held(&acts, &done) {
            if !list.is_empty() {
                holds.insert((seat.to_owned(), which.step()), list.iter().map(|x| x.id.clone()).collect());
            }
        }
        // Nothing is in hand before it is isolated; a journal is measured when it is bare.
        for seat in &a.seats {
            for kind in StepKind::ALL {
                let bare = if kind == StepKind::Journal { acts::off_first(&acts, &done, &seat.part) } else { Vec::new() };
                let mut first: Vec<String> = acts::unsafe_yet(&acts, &done).into_iter().chain(bare).map(|s| s.id.clone()).collect();
                if !first.is_empty() {
                    let list = holds.entry((seat.id.clone(), kind)).or_default();
                    first.append(list);
                    *list = first;
                }
            }
        }
        Self { fitted: acts::fitted(a, &derived.bodies, &done, &rounds), acts, done, holds }
    }

    /// An act by id.
    #[must_use]
    pub fn act(&self, id: &str) -> Option<&Act> {
        self.acts.iter().find(|s| s.id == id)
    }
    /// A done act of the machine that rests on a seat's step.
    #[must_use]
    pub fn resting_on(&self, seat: &str, kind: StepKind) -> Option<&Act> {
        let own = |id: &str| self.act(id).and_then(|s| s.seat.as_ref()).is_some_and(|x| x.0 == seat);
        let says = |id: &str| self.act(id).and_then(|s| s.seat.as_ref()).is_some_and(|x| x.0 == seat && x.1.step() == kind);
        self.acts.iter().find(|s| self.done.contains(&s.id) && !own(&s.id) && s.before.iter().any(|b| says(&b.id)))
    }
    /// The acts that hold a seat's step.
    pub fn holding(&self, seat: &str, kind: StepKind) -> impl Iterator<Item = &Act> {
        self.holds.get(&(seat.to_owned(), kind)).into_iter().flatten().filter_map(|id| self.act(id))
    }
}

impl Overview {
    /// The call on a topic of a seat.
    #[must_use]
    pub fn call(&self, seat: &str, topic: &str) -> Option<&StoredCall> {
        self.calls.iter().find(|c| c.seat == seat && c.topic == topic)
    }
    /// A step of a seat.
    #[must_use]
    pub fn step(&self, seat: &str, kind: StepKind) -> Option<&Step> {
        self.steps.iter().find(|s| s.seat == seat && s.kind == kind.key())
    }
    /// The method chosen for a seat.
    #[must_use]
    pub fn method(&self, seat: &str) -> Option<Method> {
        self.step(seat, StepKind::Choose).filter(|s| s.done).and_then(|s| Method::of(&s.detail))
    }
    /// A live clock of a seat.
    #[must_use]
    pub fn clock(&self, seat: &str) -> Option<&Clock> {
        self.clocks.iter().find(|c| c.seat == seat && c.live())
    }

    /// The trail of a seat, ready to be asked what is next and what is held.
    #[must_use]
    pub fn trail(&self, seat: &str) -> SeatTrail {
        let now = crate::now();
        let running = |kind: &str| self.clocks.iter().any(|c| c.seat == seat && c.kind == kind && c.live() && c.left(now) > 0);
        let fit = self.call(seat, "fit").and_then(|c| Some((c.verdict()?, c.overruled_by.is_some())));
        let first = |kind: StepKind| {
            let mut list = self.machine.holding(seat, kind);
            let words = list.next()?.words.say(self.units);
            Some((kind, (words, list.count())))
        };
        let mut steps: Vec<Standing> = self
            .steps
            .iter()
            .filter(|s| s.seat == seat)
            .filter_map(|s| {
                let kind = StepKind::of(&s.kind)?;
                let call = kind.sheet().and_then(|k| self.call(seat, k.key()));
                Some(Standing {
                    kind,
                    state: if s.done { StepState::Done } else { StepState::Open },
                    verdict: call.and_then(StoredCall::verdict),
                    overruled: call.is_some_and(|c| c.overruled_by.is_some()),
                })
            })
            .collect();
        steps.sort_by_key(|s| StepKind::ALL.iter().position(|k| *k == s.kind));
        SeatTrail {
            steps,
            method: self.method(seat),
            cooling: running("cool"),
            heating: running("heat"),
            fit,
            machine: StepKind::ALL.into_iter().filter_map(first).collect(),
        }
    }

    /// (done, all) of the machine's acts and of the seats' own steps that no act stands for.
    #[must_use]
    pub fn progress(&self) -> (usize, usize) {
        let m = &self.machine;
        let acts = (m.acts.iter().filter(|s| m.done.contains(&s.id)).count(), m.acts.len());
        let seats = self.rebuild.anatomy.seats.iter().map(|s| {
            let stood_for = |k: StepKind| m.acts.iter().any(|x| x.seat.as_ref().is_some_and(|x| x.0 == s.id && x.1.step() == k));
            let t = self.trail(&s.id);
            let own: Vec<_> = t.steps.iter().filter(|x| x.kind.belongs(t.method) && !x.kind.optional() && !stood_for(x.kind)).collect();
            (own.iter().filter(|x| x.state == StepState::Done).count(), own.len())
        });
        seats.fold(acts, |a, b| (a.0 + b.0, a.1 + b.1))
    }

    /// What wants hands: a seat whose next step is free, else the first free act of the machine, else a seat that waits.
    #[must_use]
    pub fn next(&self) -> Next<'_> {
        let now = crate::now();
        let seats = &self.rebuild.anatomy.seats;
        let step = |id: &str| self.trail(id).in_hand();
        let waits = |id: &str| self.clock(id).is_some_and(|k| k.left(now) > 0);
        let free = |id: &str| step(id).filter(|k| self.trail(id).held(*k).is_none());
        let seat = seats.iter().filter(|s| !waits(&s.id)).find_map(|s| Some((s.id.as_str(), free(&s.id)?)));
        let act = || acts::free(&self.machine.acts, &self.machine.done).into_iter().find(|s| s.seat.is_none());
        let held = || seats.iter().find_map(|s| Some((s.id.as_str(), step(&s.id)?)));
        match (seat, act(), held()) {
            (Some((id, kind)), ..) => Next::Seat(id, kind),
            (None, Some(act), _) => Next::Act(act),
            (None, None, Some((id, kind))) => Next::Seat(id, kind),
            (None, None, None) => Next::Nothing,
        }
    }
}

// The same three queries for one rebuild and for many. Macros, because a list of ids makes a statement that cannot be
// prepared once and kept, and the Bench asks for one.
macro_rules! load_steps {
    ($c:expr, $which:expr) => {
        steps::table
            .left_join(people::table.on(steps::done_by.eq(people::id.nullable())))
            .filter($which)
            .order((steps::rebuild_id, steps::position))
            .select((
                steps::id,
                steps::rebuild_id,
                steps::seat,
                steps::kind,
                steps::done,
                people::name.nullable(),
                steps::done_at,
                steps::detail,
            ))
            .load::<Step>($c)?
    };
}
macro_rules! load_calls {
    ($c:expr, $which:expr) => {
        calls::table
            .left_join(people::table.on(calls::overruled_by.eq(people::id.nullable())))
            .filter($which)
            .select((calls::rebuild_id, calls::seat, calls::topic, calls::document, people::name.nullable(), calls::overrule_reason))
            .load::<CallRow>($c)?
            .into_iter()
            .map(stored)
            .collect::<Result<Vec<_>>>()?
    };
}
macro_rules! load_clocks {
    ($c:expr, $which:expr) => {
        clock_query().filter($which).order(clocks::started_at).load::<Clock>($c)?
    };
}

type CallRow = (Id, String, String, String, Option<String>, String);

fn stored((rebuild_id, seat, topic, document, overruled_by, overrule_reason): CallRow) -> Result<StoredCall> {
    Ok(StoredCall { rebuild_id, seat, topic, calls: serde_json::from_str(&document)?, overruled_by, overrule_reason })
}

/// Which rebuilds the Floor shows.
#[derive(Debug, Clone, Default)]
pub struct FloorQuery {
    /// Words of number, title or customer.
    pub find: String,
    /// All finished ones, instead of the open and the lately finished.
    pub finished: bool,
    /// Page from 0.
    pub page: i64,
    /// What the person reads.
    pub units: Units,
}

/// A finished rebuild stays on the Floor for so many days.
const LATELY_DAYS: i64 = 14;

/// Strips on a page of the Floor.
pub const FLOOR_PAGE: i64 = 25;

/// The Floor: one page of rebuilds with everything their strips show. Seven queries; also how many there are.
///
/// # Errors
/// Database errors.
pub fn floor(c: &mut MysqlConnection, q: &FloorQuery) -> Result<(Vec<Overview>, i64)> {
    let pattern = format!("%{}%", q.find.trim().chars().take(60).collect::<String>().replace(['%', '_', '\\'], " "));
    let lately = crate::now() - chrono::Duration::days(LATELY_DAYS);
    let chosen = || {
        let base = rebuilds::table.inner_join(anatomies::table).into_boxed();
        let base = if q.finished {
            base.filter(rebuilds::finished_at.is_not_null())
        } else {
            base.filter(rebuilds::finished_at.is_null().or(rebuilds::finished_at.gt(lately)))
        };
        if q.find.trim().is_empty() {
            base
        } else {
            base.filter(
                rebuilds::title
                    .like(pattern.clone())
                    .or(rebuilds::customer.like(pattern.clone()))
                    .or(rebuilds::number.like(pattern.clone())),
            )
        }
    };
    let count: i64 = chosen().count().get_result(c)?;
    let rows: Vec<RebuildRow> = chosen()
        .order((rebuilds::finished_at.is_not_null(), rebuilds::due_on, rebuilds::number))
        .limit(FLOOR_PAGE)
        .offset(q.page.clamp(0, 10_000) * FLOOR_PAGE)
        .select(rebuild_columns!())
        .load(c)?;
    let heads = rows.into_iter().map(rebuild).collect::<Result<Vec<_>>>()?;
    let ids: Vec<Id> = heads.iter().map(|h| h.id).collect();
    let mut by: HashMap<Id, Overview> = heads
        .iter()
        .map(|h| {
            (
                h.id,
                Overview {
                    rebuild: h.clone(),
                    steps: vec![],
                    calls: vec![],
                    clocks: vec![],
                    running: vec![],
                    machine: Machine::default(),
                    units: q.units,
                },
            )
        })
        .collect();
    for s in load_steps!(c, steps::rebuild_id.eq_any(&ids)) {
        if let Some(b) = by.get_mut(&s.rebuild_id) {
            b.steps.push(s)
        }
    }
    for k in load_calls!(c, calls::rebuild_id.eq_any(&ids)) {
        if let Some(b) = by.get_mut(&k.rebuild_id) {
            b.calls.push(k)
        }
    }
    for k in load_clocks!(c, clocks::rebuild_id.eq_any(&ids)) {
        if let Some(b) = by.get_mut(&k.rebuild_id) {
            b.clocks.push(k)
        }
    }
    let mut own = own_of(c, &ids)?;
    // Many rebuilds are of one machine type: what follows from it is derived once.
    let mut derived: HashMap<(String, u32), Derived> = HashMap::new();
    for b in by.values_mut() {
        let a = &b.rebuild.anatomy;
        let known = match derived.entry((a.key.clone(), a.version)) {
            std::collections::hash_map::Entry::Occupied(e) => e.into_mut(),
            std::collections::hash_map::Entry::Vacant(e) => e.insert(derive(a)?),
        };
        let id = b.rebuild.id;
        b.machine = Machine::of(a, known, own.remove(&id).unwrap_or_default(), &b.steps);
    }
    Ok((ids.iter().filter_map(|id| by.remove(id)).collect(), count))
}

/// What is on record of the machine's own acts.
#[derive(Default)]
struct Own {
    ticked: BTreeSet<String>,
    rounds: Vec<Round>,
    repaired: Vec<String>,
}

fn own_of(c: &mut MysqlConnection, ids: &[Id]) -> Result<HashMap<Id, Own>> {
    let mut out: HashMap<Id, Own> = HashMap::new();
    // One query for both: what was ticked, and what was repaired since.
    let of = |what: &'static str| diesel::dsl::sql::<diesel::sql_types::Text>(what);
    let ticked = ticks::table.filter(ticks::rebuild_id.eq_any(ids)).select((ticks::rebuild_id, ticks::step, of("'tick'")));
    let repaired = repairs::table.filter(repairs::rebuild_id.eq_any(ids)).filter(repairs::taken_back_at.is_null()).select((
        repairs::rebuild_id,
        repairs::part,
        of("'repair'"),
    ));
    let rows: Vec<(Id, String, String)> = ticked.union_all(repaired).load(c)?;
    for (id, what, kind) in rows {
        let own = out.entry(id).or_default();
        if kind == "repair" {
            own.repaired.push(what);
        } else {
            own.ticked.insert(what);
        }
    }
    let rows: Vec<(Id, String)> =
        rounds::table.filter(rounds::rebuild_id.eq_any(ids)).order(rounds::n).select((rounds::rebuild_id, rounds::document)).load(c)?;
    for (id, document) in rows {
        out.entry(id).or_default().rounds.push(serde_json::from_str(&document)?);
    }
    Ok(out)
}

/// One rebuild with everything the Bench shows. Six queries.
///
/// # Errors
/// [`crate::StoreError::NotFound`].
pub fn bench(c: &mut MysqlConnection, id: Id, units: Units) -> Result<Overview> {
    let rebuild = get(c, id)?;
    // Its own clocks and all that run anywhere: one query serves the seats and the top edge.
    let clocks = load_clocks!(c, clocks::rebuild_id.eq(id).or(clocks::ended_at.is_null()));
    let steps = load_steps!(c, steps::rebuild_id.eq(id));
    let own = own_of(c, &[id])?.remove(&id).unwrap_or_default();
    Ok(Overview {
        calls: load_calls!(c, calls::rebuild_id.eq(id)),
        running: clocks.iter().filter(|k| k.live()).cloned().collect(),
        clocks: clocks.into_iter().filter(|k| k.rebuild_id == id).collect(),
        machine: Machine::of(&rebuild.anatomy, &derive(&rebuild.anatomy)?, own, &steps),
        steps,
        rebuild,
        units,
    })
}

/// A rebuild and its anatomy.
///
/// # Errors
/// [`crate::StoreError::NotFound`].
pub fn get(c: &mut MysqlConnection, id: Id) -> Result<Rebuild> {
    rebuild(rebuilds::table.inner_join(anatomies::table).filter(rebuilds::id.eq(id)).select(rebuild_columns!()).first(c)?)
}

#[diesel::dsl::auto_type]
fn clock_query() -> _ {
    clocks::table.inner_join(rebuilds::table).select((
        clocks::id,
        clocks::rebuild_id,
        rebuilds::number,
        clocks::seat,
        clocks::kind,
        clocks::label,
        clocks::started_at,
        clocks::seconds,
        clocks::ended_at,
        clocks::step,
    ))
}

/// All clocks that nobody has ended, for the top edge of every page.
///
/// # Errors
/// Database errors.
pub fn live_clocks(c: &mut MysqlConnection) -> Result<Vec<Clock>> {
    Ok(clock_query().filter(clocks::ended_at.is_null()).order(clocks::started_at).limit(12).load(c)?)
}

/// The clocks of one rebuild that nobody has ended.
///
/// # Errors
/// Database errors.
pub(crate) fn clocks_of(c: &mut MysqlConnection, id: Id) -> Result<Vec<Clock>> {
    Ok(clock_query().filter(clocks::ended_at.is_null()).filter(clocks::rebuild_id.eq(id)).order(clocks::started_at).load(c)?)
}

/// The signatures on a rebuild, oldest first.
///
/// # Errors
/// Database errors.
pub fn signatures(c: &mut MysqlConnection, id: Id) -> Result<Vec<SignOff>> {
    Ok(sign_offs::table
        .inner_join(people::table)
        .filter(sign_offs::rebuild_id.eq(id))
        .order(sign_offs::at)
        .select((sign_offs::rebuild_id, sign_offs::seat, people::name, sign_offs::role, sign_offs::said, sign_offs::at))
        .load(c)?)
}
