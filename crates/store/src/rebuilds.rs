//! Rebuilds as the Floor and the Bench read them: a fixed number of queries however many there are.

use crate::journal::GENESIS;
use crate::people::{Person, Role};
use crate::schema::{anatomies, calls, clocks, people, rebuilds, sheets, sign_offs, steps};
use crate::{Id, Result, StoreError, journal};
use chrono::{NaiveDate, NaiveDateTime};
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::anatomy::Anatomy;
use ironseat_core::call::{Call, Method, Verdict};
use ironseat_core::sheet::SheetKind;
use ironseat_core::trail::{self, SeatTrail, Standing, StepKind, StepState};
use std::collections::HashMap;

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
    pub signs: Vec<SignOff>,
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
        SeatTrail {
            steps: self
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
                .collect(),
            method: self.method(seat),
            cooling: running("cool"),
            heating: running("heat"),
            fit,
        }
    }

    /// (done, all) over all seats.
    #[must_use]
    pub fn progress(&self) -> (usize, usize) {
        self.rebuild.anatomy.seats.iter().map(|s| self.trail(&s.id).progress()).fold((0, 0), |a, b| (a.0 + b.0, a.1 + b.1))
    }
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
}

/// A finished rebuild stays on the Floor for so many days.
const LATELY_DAYS: i64 = 14;

/// Strips on a page of the Floor.
pub const FLOOR_PAGE: i64 = 25;

/// The Floor: one page of rebuilds with everything their strips show. Six queries; also how many there are.
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
        .map(|h| (h.id, Overview { rebuild: h.clone(), steps: vec![], calls: vec![], clocks: vec![], signs: vec![] }))
        .collect();
    for s in load_steps(c, &ids)? {
        if let Some(b) = by.get_mut(&s.rebuild_id) {
            b.steps.push(s)
        }
    }
    for k in load_calls(c, &ids)? {
        if let Some(b) = by.get_mut(&k.rebuild_id) {
            b.calls.push(k)
        }
    }
    for k in load_clocks(c, &ids)? {
        if let Some(b) = by.get_mut(&k.rebuild_id) {
            b.clocks.push(k)
        }
    }
    Ok((ids.iter().filter_map(|id| by.remove(id)).collect(), count))
}

/// One rebuild with everything the Bench shows. Five queries.
///
/// # Errors
/// [`StoreError::NotFound`].
pub fn bench(c: &mut MysqlConnection, id: Id) -> Result<Overview> {
    let rebuild = get(c, id)?;
    Ok(Overview {
        steps: load_steps(c, &[id])?,
        calls: load_calls(c, &[id])?,
        clocks: load_clocks(c, &[id])?,
        signs: load_signs(c, id)?,
        rebuild,
    })
}

/// A rebuild and its anatomy.
///
/// # Errors
/// [`StoreError::NotFound`].
pub fn get(c: &mut MysqlConnection, id: Id) -> Result<Rebuild> {
    rebuild(rebuilds::table.inner_join(anatomies::table).filter(rebuilds::id.eq(id)).select(rebuild_columns!()).first(c)?)
}

fn load_steps(c: &mut MysqlConnection, ids: &[Id]) -> Result<Vec<Step>> {
    Ok(steps::table
        .left_join(people::table.on(steps::done_by.eq(people::id.nullable())))
        .filter(steps::rebuild_id.eq_any(ids))
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
        .load(c)?)
}

fn load_calls(c: &mut MysqlConnection, ids: &[Id]) -> Result<Vec<StoredCall>> {
    calls::table
        .left_join(people::table.on(calls::overruled_by.eq(people::id.nullable())))
        .filter(calls::rebuild_id.eq_any(ids))
        .select((calls::rebuild_id, calls::seat, calls::topic, calls::document, people::name.nullable(), calls::overrule_reason))
        .load::<(Id, String, String, String, Option<String>, String)>(c)?
        .into_iter()
        .map(|(rebuild_id, seat, topic, document, overruled_by, overrule_reason)| {
            Ok(StoredCall { rebuild_id, seat, topic, calls: serde_json::from_str(&document)?, overruled_by, overrule_reason })
        })
        .collect()
}

fn load_clocks(c: &mut MysqlConnection, ids: &[Id]) -> Result<Vec<Clock>> {
    Ok(clock_query().filter(clocks::rebuild_id.eq_any(ids)).order(clocks::started_at).load(c)?)
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
    ))
}

/// All clocks that nobody has ended, for the top edge of every page.
///
/// # Errors
/// Database errors.
pub fn live_clocks(c: &mut MysqlConnection) -> Result<Vec<Clock>> {
    Ok(clock_query().filter(clocks::ended_at.is_null()).order(clocks::started_at).limit(12).load(c)?)
}

fn load_signs(c: &mut MysqlConnection, id: Id) -> Result<Vec<SignOff>> {
    Ok(sign_offs::table
        .inner_join(people::table)
        .filter(sign_offs::rebuild_id.eq(id))
        .order(sign_offs::at)
        .select((sign_offs::rebuild_id, sign_offs::seat, people::name, sign_offs::role, sign_offs::said, sign_offs::at))
        .load(c)?)
}

/// Keeps a version of a machine type.
///
/// # Errors
/// A refused anatomy, or a conflict when the version is there.
pub fn add_anatomy(c: &mut MysqlConnection, a: Anatomy) -> Result<Id> {
    let a = a.check()?;
    let id = Id::new();
    let version = i32::try_from(a.version).unwrap_or(1);
    diesel::insert_into(anatomies::table)
        .values((
            anatomies::id.eq(id),
            anatomies::type_key.eq(&a.key),
            anatomies::version.eq(version),
            anatomies::name.eq(&a.name),
            anatomies::document.eq(serde_json::to_string(&a)?),
        ))
        .execute(c)?;
    Ok(id)
}

/// Machine types: (id, name), newest version of each.
///
/// # Errors
/// Database errors.
pub fn list_anatomies(c: &mut MysqlConnection) -> Result<Vec<(Id, String)>> {
    let all: Vec<(Id, String, String, i32)> = anatomies::table
        .order((anatomies::name, anatomies::version.desc()))
        .select((anatomies::id, anatomies::name, anatomies::type_key, anatomies::version))
        .load(c)?;
    let mut seen = std::collections::HashSet::new();
    Ok(all.into_iter().filter(|(_, _, key, _)| seen.insert(key.clone())).map(|(id, name, ..)| (id, name)).collect())
}

/// A rebuild to be started.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct NewRebuild {
    pub id: Id,
    pub number: String,
    pub title: String,
    pub customer: String,
    pub anatomy: Id,
    pub due_on: NaiveDate,
}

/// Starts a rebuild: pins the anatomy, lays out its steps and sheets. Repeating the id changes nothing.
///
/// # Errors
/// `title`, `customer` or `number`; held for anyone but a lead; a conflict when the number is taken.
pub fn start(c: &mut MysqlConnection, who: &Person, new: &NewRebuild) -> Result<()> {
    if who.role != Role::Lead {
        return Err(StoreError::Held("only a lead starts a rebuild".into()));
    }
    for (field, text, longest) in [("title", &new.title, 160), ("customer", &new.customer, 160), ("number", &new.number, 20)] {
        let n = text.trim().chars().count();
        if n == 0 || n > longest {
            return Err(Refusal::new(field, format!("expected 1 to {longest} characters")).into());
        }
    }
    if !new.number.bytes().all(|b| b.is_ascii_alphanumeric() || b == b'-') {
        return Err(Refusal::new("number", "expected letters, digits and hyphens, such as R-0412").into());
    }
    c.transaction(|c| {
        if rebuilds::table.find(new.id).select(rebuilds::id).first::<Id>(c).optional()?.is_some() {
            return Ok(());
        }
        let document: String = anatomies::table.find(new.anatomy).select(anatomies::document).first(c)?;
        let anatomy: Anatomy = serde_json::from_str(&document)?;
        let taken: i64 = rebuilds::table.filter(rebuilds::number.eq(&new.number)).count().get_result(c)?;
        if taken > 0 {
            return Err(Refusal::new("number", "this number is taken").into());
        }
        diesel::insert_into(rebuilds::table)
            .values((
                rebuilds::id.eq(new.id),
                rebuilds::number.eq(&new.number),
                rebuilds::title.eq(new.title.trim()),
                rebuilds::customer.eq(new.customer.trim()),
                rebuilds::anatomy_id.eq(new.anatomy),
                rebuilds::due_on.eq(new.due_on),
                rebuilds::journal_seq.eq(0),
                rebuilds::journal_hash.eq(GENESIS),
            ))
            .execute(c)?;
        let rows: Vec<_> = trail::steps(&anatomy)
            .into_iter()
            .enumerate()
            .map(|(i, (seat, kind))| {
                (steps::id.eq(Id::new()), steps::rebuild_id.eq(new.id), steps::seat.eq(seat), steps::kind.eq(kind.key()), steps::position.eq(i32::try_from(i).unwrap_or(0)), steps::done.eq(false), steps::detail.eq(""))
            })
            .collect();
        diesel::insert_into(steps::table).values(rows).execute(c)?;
        let rows: Vec<_> = anatomy
            .seats
            .iter()
            .flat_map(|s| SheetKind::ALL.map(|k| (sheets::id.eq(Id::new()), sheets::rebuild_id.eq(new.id), sheets::seat.eq(s.id.clone()), sheets::kind.eq(k.key()))))
            .collect();
        diesel::insert_into(sheets::table).values(rows).execute(c)?;
        let mut locked = journal::lock(c, new.id)?;
        locked.note(who.id, "started", &serde_json::json!({"number": new.number, "title": new.title.trim(), "customer": new.customer.trim(), "anatomy": anatomy.key, "version": anatomy.version}));
        locked.write(c)
    })
}

/// Closes a rebuild: every seat signed, by a lead with the PIN. Nothing can be written to it afterwards.
///
/// # Errors
/// Held when a seat is not signed or the person is no lead; `pin`.
pub fn finish(c: &mut MysqlConnection, who: &Person, id: Id, pin: &str) -> Result<()> {
    if who.role != Role::Lead {
        return Err(StoreError::Held("only a lead closes a rebuild".into()));
    }
    crate::people::check_pin(c, who.id, pin)?;
    c.transaction(|c| {
        let mut locked = journal::open(c, id)?;
        let open: Vec<String> = steps::table
            .filter(steps::rebuild_id.eq(id))
            .filter(steps::kind.eq(StepKind::Sign.key()))
            .filter(steps::done.eq(false))
            .select(steps::seat)
            .load(c)?;
        if !open.is_empty() {
            return Err(StoreError::Held(format!("not signed yet: {}", open.join(", "))));
        }
        let at = crate::now();
        diesel::insert_into(sign_offs::table)
            .values((
                sign_offs::id.eq(Id::new()),
                sign_offs::rebuild_id.eq(id),
                sign_offs::seat.eq(""),
                sign_offs::person_id.eq(who.id),
                sign_offs::role.eq(who.role.key()),
                sign_offs::said.eq("released"),
                sign_offs::at.eq(at),
            ))
            .execute(c)?;
        diesel::update(rebuilds::table.find(id)).set(rebuilds::finished_at.eq(at)).execute(c)?;
        locked.note(who.id, "finished", &serde_json::json!({"role": who.role.key()}));
        locked.write(c)
    })
}
