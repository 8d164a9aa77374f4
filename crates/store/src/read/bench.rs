//! Rebuilds as they stand, for Floor, Bench, Ledger and Certificate: one reading of the records for all of them, so
//! that they say the same; a fixed number of queries however many rebuilds there are.

use crate::db::cache::Cache;
use crate::db::schema::{answers, calls, dispositions, people, repairs, rounds, scrapped, steps, ticks};
use crate::db::stored::Stored;
use crate::read::pictures;
use crate::read::pictures::Picture;
use crate::read::pins::{self, Pin};
use crate::read::seats::seat_record;
use crate::read::{act_sheets, rebuilds};
use crate::rows::act_sheet::ActSheet;
use crate::rows::rebuild::{Clock, Rebuild};
use crate::{RebuildId, RepairId, Result};
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::anatomy::acts::Round;
use ironseat_core::call::Call;
use ironseat_core::decide::{self, Answer, AnswerState, Called, Done, Facts, HalfSigned, Repair, State};
use ironseat_core::inspect::{Disposition, Fate};
use ironseat_core::terms::{End, StepKind};
use std::collections::{BTreeMap, HashMap};
use std::sync::Arc;

/// A rebuild as it stands.
#[derive(Debug)]
#[allow(missing_docs)]
pub struct Bench {
    pub rebuild: Rebuild,
    pub state: State,
    /// Its own clocks that nobody has ended.
    pub clocks: Vec<Clock>,
    /// From [`load`] and [`look`]: all that run anywhere, for the top edge.
    pub running: Vec<Clock>,
    /// From [`load`] and [`look`]: pictures by question.
    pub pictures: BTreeMap<String, Vec<Picture>>,
    /// From [`load`] and [`look`]: reckoned sheets, all that ever were.
    pub pins: Arc<Vec<Pin>>,
    /// From [`load`] and [`look`]: sheets of acts with their readings.
    pub sheets: Arc<Vec<ActSheet>>,
}

impl Bench {
    /// The sheet of an act that ends in a computation, once something stands on it.
    #[must_use]
    pub fn sheet(&self, act: &str, name: &str) -> Option<&ActSheet> {
        self.sheets.iter().find(|s| s.act == act && s.name == name)
    }

    /// Reads the figures of a seat, for what is decided or shown of it.
    ///
    /// # Errors
    /// Not found.
    pub fn judge(&mut self, c: &mut MysqlConnection, seat: &str) -> Result<()> {
        self.state.judged = Some(seat_record(c, &self.rebuild, seat)?.judged());
        Ok(())
    }
}

fn micros(t: NaiveDateTime) -> i64 {
    t.and_utc().timestamp_micros()
}

/// What the records say of a rebuild, without its clocks.
#[derive(Debug)]
struct Known {
    state: State,
    pictures: BTreeMap<String, Vec<Picture>>,
    pins: Arc<Vec<Pin>>,
    sheets: Arc<Vec<ActSheet>>,
}

/// What is known of a rebuild by the head of its own record and the stand of the shop's, whose names stand in it:
/// nothing that rooms show changes without one of them changing, whichever process wrote it. For pages alone: who
/// decides reads the records.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
struct Seen {
    stand: Revision,
    /// With what was found on it, which the Floor does not show.
    whole: bool,
}

/// How far everything had come that a page of a rebuild is made from, apart from its clocks.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Revision {
    rebuild: RebuildId,
    head: String,
    shop: i64,
}

impl Revision {
    pub(crate) fn of(rebuild: &Rebuild, shop: i64) -> Self {
        Self { rebuild: rebuild.id, head: rebuild.record_hash.clone(), shop }
    }
}

/// A rebuild before its records are read, and the clocks that run anywhere.
#[derive(Debug)]
#[allow(missing_docs)]
pub struct Glance {
    pub rebuild: Rebuild,
    pub stand: Revision,
    pub running: Vec<Clock>,
}

impl Glance {
    /// Whether one of its own clocks runs: then what a page says changes by itself.
    #[must_use]
    pub fn waits(&self) -> bool {
        self.running.iter().any(|k| k.rebuild_id == self.rebuild.id)
    }
}

/// One query.
///
/// # Errors
/// Not found.
pub fn glance(c: &mut MysqlConnection, id: RebuildId) -> Result<Glance> {
    let (rebuild, shop, running) = rebuilds::head(c, id)?;
    Ok(Glance { stand: Revision::of(&rebuild, shop), rebuild, running })
}

static SEEN: Cache<Seen, Arc<Known>> = Cache::new(128);

/// One rebuild with everything its rooms show, from the records. A dozen queries.
///
/// # Errors
/// Not found; an anatomy that cannot be built.
pub fn load(c: &mut MysqlConnection, id: RebuildId) -> Result<Bench> {
    let rebuild = rebuilds::get(c, id)?;
    let running = rebuilds::live_clocks(c)?;
    let known = whole(c, &rebuild)?;
    Ok(with(rebuild, &known, running))
}

/// As [`load`], for pages: one query when nothing changed since somebody looked.
///
/// # Errors
/// As [`load`].
pub fn look(c: &mut MysqlConnection, id: RebuildId) -> Result<Bench> {
    let at = glance(c, id)?;
    look_at(c, at)
}

/// What is known of what was glanced at, or all of it.
///
/// # Errors
/// As [`load`].
pub fn look_at(c: &mut MysqlConnection, at: Glance) -> Result<Bench> {
    let key = Seen { stand: at.stand, whole: true };
    let known = match SEEN.get(&key) {
        Some(k) => k,
        None => {
            let fresh = Arc::new(whole(c, &at.rebuild)?);
            SEEN.put(key, fresh.clone());
            fresh
        }
    };
    Ok(with(at.rebuild, &known, at.running))
}

fn whole(c: &mut MysqlConnection, rebuild: &Rebuild) -> Result<Known> {
    let id = rebuild.id;
    let mut facts = common(c, &[id])?.remove(&id).unwrap_or_default();
    facts.derivation = rebuild.older;
    facts.scrapped =
        scrapped::table.filter(scrapped::rebuild_id.eq(id)).select(scrapped::part).load(c)?.into_iter().collect();
    let mut state = State::new(rebuild.kind.clone(), facts, 0);
    let sheets = act_sheets::of_rebuild(c, id)?;
    state.seats = Arc::new(act_sheets::seats_asked(c, rebuild, &state, &sheets)?);
    Ok(Known {
        state,
        pictures: pictures::of_rebuild(c, id)?,
        pins: Arc::new(pins::of_rebuild(c, id)?),
        sheets: Arc::new(sheets),
    })
}

/// Rebuilds as they stand, without their clocks, from the records. Seven queries when there are any.
fn states<'a>(c: &mut MysqlConnection, heads: &[&'a Rebuild]) -> Result<Vec<(&'a Rebuild, State)>> {
    if heads.is_empty() {
        return Ok(Vec::new());
    }
    let ids: Vec<RebuildId> = heads.iter().map(|h| h.id).collect();
    let mut facts = common(c, &ids)?;
    let state = |h: &Rebuild, facts| {
        State::new(h.kind.clone(), Facts { derivation: h.older, ..facts }, 0).at(Vec::new(), h.finished_at.is_some(), 0)
    };
    Ok(heads.iter().map(|h| (*h, state(h, facts.remove(&h.id).unwrap_or_default()))).collect())
}

/// Many rebuilds, with those of the clocks that are theirs: no query when nothing
/// changed since somebody looked.
pub(crate) fn of(c: &mut MysqlConnection, heads: Vec<Rebuild>, running: &[Clock], shop: i64) -> Result<Vec<Bench>> {
    let key = |h: &Rebuild| Seen { stand: Revision::of(h, shop), whole: false };
    let mut known: HashMap<RebuildId, Arc<Known>> =
        heads.iter().filter_map(|h| Some((h.id, SEEN.get(&key(h))?))).collect();
    let unknown: Vec<&Rebuild> = heads.iter().filter(|h| !known.contains_key(&h.id)).collect();
    for (h, state) in states(c, &unknown)? {
        let fresh = Arc::new(Known { state, pictures: BTreeMap::new(), pins: Arc::default(), sheets: Arc::default() });
        SEEN.put(key(h), fresh.clone());
        known.insert(h.id, fresh);
    }
    let one = |h: Rebuild| {
        let clocks = running.iter().filter(|k| k.rebuild_id == h.id).cloned().collect();
        let known = known.get(&h.id)?.clone();
        Some(standing(h, &known, clocks))
    };
    Ok(heads.into_iter().filter_map(one).collect())
}

fn standing(rebuild: Rebuild, known: &Known, clocks: Vec<Clock>) -> Bench {
    let running = clocks
        .iter()
        .map(|k| decide::Clock {
            seat: k.seat.clone(),
            kind: k.kind.clone(),
            step: k.step.clone(),
            label: k.label.clone(),
            started: micros(k.started_at),
            seconds: k.seconds.into(),
        })
        .collect();
    let state = known.state.at(running, rebuild.finished_at.is_some(), micros(crate::now()));
    Bench {
        rebuild,
        state,
        clocks,
        running: Vec::new(),
        pictures: BTreeMap::new(),
        pins: Arc::default(),
        sheets: Arc::default(),
    }
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = ticks)]
struct TickRow {
    rebuild_id: RebuildId,
    step: String,
    #[diesel(select_expression = people::name)]
    by: String,
    second_name: String,
    at: NaiveDateTime,
    value: Option<f64>,
    reason: String,
    readings: String,
    faces: String,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = steps)]
struct StepRow {
    rebuild_id: RebuildId,
    seat: String,
    kind: String,
    done: bool,
    #[diesel(select_expression = people::name.nullable())]
    by: Option<String>,
    #[diesel(select_expression = people::handle.nullable())]
    handle: Option<String>,
    done_at: Option<NaiveDateTime>,
    detail: String,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = calls)]
struct CallRow {
    rebuild_id: RebuildId,
    seat: String,
    topic: String,
    document: Stored<Vec<Call>>,
    #[diesel(select_expression = people::name.nullable())]
    overruled_by: Option<String>,
    overrule_reason: String,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = repairs)]
struct RepairRow {
    id: RepairId,
    rebuild_id: RebuildId,
    part: String,
    what: String,
    #[diesel(select_expression = people::name)]
    by: String,
    at: NaiveDateTime,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = dispositions)]
struct DispositionRow {
    rebuild_id: RebuildId,
    part: String,
    fate: String,
    reason: String,
    marks: String,
    #[diesel(select_expression = people::name)]
    by: String,
    at: NaiveDateTime,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = answers)]
struct AnswerRow {
    rebuild_id: RebuildId,
    question: String,
    state: String,
    value: String,
    note: String,
    #[diesel(select_expression = people::name)]
    by: String,
}

/// What of the records every room shows: what was found, too, for it may hold a part off. Seven queries.
#[expect(clippy::too_many_lines, reason = "one question a table, joined once")]
fn common(c: &mut MysqlConnection, ids: &[RebuildId]) -> Result<HashMap<RebuildId, Facts>> {
    let mut out: HashMap<RebuildId, Facts> = HashMap::new();
    let rows: Vec<TickRow> = ticks::table
        .inner_join(people::table)
        .filter(ticks::rebuild_id.eq_any(ids))
        .select(TickRow::as_select())
        .load(c)?;
    for t in rows {
        let done = Done {
            by: t.by,
            second: t.second_name,
            at: micros(t.at),
            value: t.value,
            reason: t.reason,
            readings: t.readings,
            faces: End::of(&t.faces),
            ..Done::default()
        };
        out.entry(t.rebuild_id).or_default().ticks.insert(t.step, done);
    }
    // Done, or with an apprentice's name under it that waits for a second one.
    let rows: Vec<StepRow> = steps::table
        .left_join(people::table.on(steps::done_by.eq(people::id.nullable())))
        .filter(steps::rebuild_id.eq_any(ids))
        .filter(steps::done.eq(true).or(steps::done_by.is_not_null()))
        .order((steps::rebuild_id, steps::position))
        .select(StepRow::as_select())
        .load(c)?;
    for s in rows {
        let Some(kind) = StepKind::of(&s.kind) else { continue };
        let (by, person) = (s.by.unwrap_or_default(), s.handle.unwrap_or_default());
        let facts = out.entry(s.rebuild_id).or_default();
        if s.done {
            let at = s.done_at.map_or(0, micros);
            let done = Done { by, at, detail: s.detail, of_seat: true, ..Done::default() };
            facts.seat_steps.insert((s.seat, kind), done);
        } else if kind == StepKind::Sign {
            facts.half_signed.insert(s.seat, HalfSigned { by, person });
        }
    }
    let rows: Vec<CallRow> = calls::table
        .left_join(people::table.on(calls::overruled_by.eq(people::id.nullable())))
        .filter(calls::rebuild_id.eq_any(ids))
        .select(CallRow::as_select())
        .load(c)?;
    for r in rows {
        let called = Called {
            seat: r.seat,
            topic: r.topic,
            calls: r.document.0,
            overruled_by: r.overruled_by,
            overrule_reason: r.overrule_reason,
        };
        out.entry(r.rebuild_id).or_default().calls.push(called);
    }
    let rows: Vec<RepairRow> = repairs::table
        .inner_join(people::table)
        .filter(repairs::rebuild_id.eq_any(ids))
        .filter(repairs::taken_back_at.is_null())
        .order(repairs::at)
        .select(RepairRow::as_select())
        .load(c)?;
    for r in rows {
        let repair = Repair { id: r.id.to_string(), part: r.part, what: r.what, by: r.by, at: micros(r.at) };
        out.entry(r.rebuild_id).or_default().repairs.push(repair);
    }
    let rows: Vec<DispositionRow> = dispositions::table
        .inner_join(people::table)
        .filter(dispositions::rebuild_id.eq_any(ids))
        .order((dispositions::at, dispositions::id))
        .select(DispositionRow::as_select())
        .load(c)?;
    for d in rows {
        // A fate that this program does not know is shown by the record alone.
        let Some(fate) = Fate::of(&d.fate) else { continue };
        let marks = d.marks.split_whitespace().map(str::to_owned).collect();
        let said = Disposition { part: d.part.clone(), fate, reason: d.reason, marks, by: d.by, at: micros(d.at) };
        out.entry(d.rebuild_id).or_default().disposed.insert(d.part, said);
    }
    let rows: Vec<AnswerRow> = answers::table
        .inner_join(people::table)
        .filter(answers::rebuild_id.eq_any(ids))
        .select(AnswerRow::as_select())
        .load(c)?;
    for r in rows {
        let Some(state) = AnswerState::of(&r.state) else { continue };
        let answer = Answer { state, value: r.value, note: r.note, by: r.by };
        out.entry(r.rebuild_id).or_default().answers.insert(r.question, answer);
    }
    let rows: Vec<(RebuildId, Stored<Round>)> = rounds::table
        .filter(rounds::rebuild_id.eq_any(ids))
        .order(rounds::n)
        .select((rounds::rebuild_id, rounds::document))
        .load(c)?;
    for (id, round) in rows {
        out.entry(id).or_default().rounds.push(round.0);
    }
    Ok(out)
}

fn with(rebuild: Rebuild, known: &Known, running: Vec<Clock>) -> Bench {
    let own = running.iter().filter(|k| k.rebuild_id == rebuild.id).cloned().collect();
    let mut b = standing(rebuild, known, own);
    (b.running, b.pictures) = (running, known.pictures.clone());
    (b.pins, b.sheets) = (known.pins.clone(), known.sheets.clone());
    b
}
