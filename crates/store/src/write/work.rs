//! Working a rebuild: what a person does is decided in core on the newest state, under the rebuild's lock; what follows
//! is kept and written to the record in the same transaction.

use crate::db::schema::{
    answers, calls, clocks, dispositions, rebuilds, repairs, rounds, scrapped, sign_offs, steps, ticks,
};
use crate::db::stored;
use crate::db::transaction::transaction;
use crate::read::bench::{self, Bench};
use crate::rows::person::Person;
use crate::rows::rebuild::COUNTER_SIGNED;
use crate::write::readings;
use crate::write::secrets::{Trial, tried_pin, try_pin};
use crate::write::ticks::{open_steps, put_tick, reopen, stop_waits};
use crate::{ClockId, DispositionId, RebuildId, RepairId, Result, SignOffId, StoreError, chain};
use chrono::NaiveDateTime;
use diesel::prelude::*;
use ironseat_core::anatomy::acts::Round;
use ironseat_core::anatomy::as_found::closure_of;
use ironseat_core::decide::{self, Clocked, Command, Event, Ticked};
use ironseat_core::terms::{ActId, StepKind};

/// Does something to a rebuild.
///
/// # Errors
/// What holds it, a conflict with who was first, or what was expected in which field.
pub fn work(c: &mut MysqlConnection, who: &Person, rebuild: RebuildId, command: &Command) -> Result<()> {
    if command.needs_pin() {
        return Err(StoreError::Held("this needs your PIN".into()));
    }
    decided(c, who, rebuild, command)
}

/// Does something that a person puts a name under: with the person's own PIN. On one connection; a server does it with
/// [`crate::Store::obey`].
///
/// # Errors
/// As [`work`]; `pin`.
pub fn signed(c: &mut MysqlConnection, who: &Person, rebuild: RebuildId, command: &Command, pin: &str) -> Result<()> {
    let t = before_pin(c, who, rebuild, command)?;
    let right = t.matches(pin.trim());
    after_pin(c, who, rebuild, command, &t, right)
}

/// What cannot be done is said before a try of the PIN is spent on it.
pub(crate) fn before_pin(
    c: &mut MysqlConnection,
    who: &Person,
    rebuild: RebuildId,
    command: &Command,
) -> Result<Trial> {
    let b = bench::load(c, rebuild)?;
    decide::decide(&b.state, &who.who(), command)?;
    try_pin(c, who.id)
}

pub(crate) fn after_pin(
    c: &mut MysqlConnection,
    who: &Person,
    rebuild: RebuildId,
    command: &Command,
    t: &Trial,
    right: bool,
) -> Result<()> {
    tried_pin(c, t, right)?;
    decided(c, who, rebuild, command)
}

fn decided(c: &mut MysqlConnection, who: &Person, rebuild: RebuildId, command: &Command) -> Result<()> {
    transaction(c, |c| {
        let mut locked = chain::rebuild::open(c, rebuild)?;
        let mut b = bench::load(c, rebuild)?;
        if let Some(seat) = command.judges(&b.state).map(str::to_owned) {
            b.judge(c, &seat)?;
        }
        for event in decide::decide(&b.state, &who.who(), command)? {
            keep(c, &b, who, &event)?;
            locked.note(who.id, &event);
        }
        locked.write(c)
    })
}

/// Keeps what an entry says in the tables that rooms read.
#[expect(clippy::too_many_lines, reason = "an arm an event: what is kept of it")]
pub(crate) fn keep(c: &mut MysqlConnection, b: &Bench, who: &Person, event: &Event) -> Result<()> {
    let rebuild = b.rebuild.id;
    let now = crate::now();
    match event {
        Event::Ticked(t) => put_tick(c, rebuild, who, t)?,
        Event::Unticked { step } => {
            diesel::delete(ticks::table.find((rebuild, step))).execute(c)?;
            stop_waits(c, rebuild, &[step])?;
        }
        Event::WaitOver { step, .. } => stop_waits(c, rebuild, &[step])?,
        Event::Clock(k) => start_clock(c, rebuild, who, k)?,
        Event::Step { seat, step, detail } => {
            if matches!(step, StepKind::Heat | StepKind::Cool) {
                stop_clocks_at(c, rebuild, seat)?;
            }
            diesel::update(step_of(rebuild, seat, *step))
                .set((
                    steps::done.eq(true),
                    steps::done_by.eq(who.id),
                    steps::done_at.eq(now),
                    steps::detail.eq(detail),
                ))
                .execute(c)?;
        }
        Event::Reopened { seat, step } => {
            if matches!(step, StepKind::Heat | StepKind::PutOn) {
                stop_clocks_at(c, rebuild, seat)?;
            }
            open_steps(c, rebuild, &[seat], &[*step])?;
        }
        Event::SignatureOpened { seat, .. } => open_steps(c, rebuild, &[seat], &[StepKind::Sign])?,
        Event::Thermometer { seat, seconds, .. } => {
            diesel::update(
                clocks::table
                    .filter(clocks::rebuild_id.eq(rebuild))
                    .filter(clocks::seat.eq(seat))
                    .filter(clocks::kind.eq("cool"))
                    .filter(clocks::ended_at.is_null()),
            )
            .set(clocks::seconds.eq(*seconds as i32))
            .execute(c)?;
        }
        Event::Signed { seat, .. } => {
            sign_off(c, rebuild, who, seat, "did this and saw these numbers", now)?;
            // Whose it is stands at the step; whether it is done, an event of its own says.
            diesel::update(step_of(rebuild, seat, StepKind::Sign)).set(steps::done_by.eq(who.id)).execute(c)?;
        }
        Event::CounterSigned { seat, .. } => {
            sign_off(c, rebuild, who, seat, COUNTER_SIGNED, now)?;
        }
        Event::Finished { said, .. } => {
            sign_off(c, rebuild, who, "", said, now)?;
            diesel::update(rebuilds::table.find(rebuild)).set(rebuilds::finished_at.eq(now)).execute(c)?;
        }
        Event::Overruled { seat, topic, reason, .. } => {
            diesel::update(
                calls::table
                    .filter(calls::rebuild_id.eq(rebuild))
                    .filter(calls::seat.eq(seat))
                    .filter(calls::topic.eq(topic))
                    .filter(calls::verdict.ne("go")),
            )
            .set((calls::overruled_by.eq(who.id), calls::overrule_reason.eq(reason)))
            .execute(c)?;
        }
        Event::AsFound { question, state, value, note } => {
            diesel::replace_into(answers::table)
                .values((
                    answers::rebuild_id.eq(rebuild),
                    answers::question.eq(question),
                    answers::state.eq(state.key()),
                    answers::value.eq(value),
                    answers::note.eq(note),
                    answers::person_id.eq(who.id),
                    answers::at.eq(now),
                ))
                .execute(c)?;
            let step = ActId::Ask(question.clone()).to_string();
            if !b.state.is_done(&step) {
                put_tick(c, rebuild, who, &Ticked { step, ..Ticked::default() })?;
            }
            // How a ring is closed caps its heat: what was called of its fit is called anew.
            let seat = b.rebuild.anatomy().seats.iter().find(|s| closure_of(&s.id) == *question);
            if let Some(seat) = seat {
                readings::judge_again(c, rebuild, std::slice::from_ref(&seat.id), who)?;
            }
        }
        Event::Round { n, reading, shim, off, again } => {
            let round =
                Round { n: *n, reading: reading.clone(), shim: shim.clone(), off: off.clone(), again: again.clone() };
            diesel::insert_into(rounds::table)
                .values((
                    rounds::rebuild_id.eq(rebuild),
                    rounds::n.eq(i32::try_from(*n).unwrap_or(i32::MAX)),
                    rounds::document.eq(stored::write(&round)?),
                    rounds::person_id.eq(who.id),
                    rounds::at.eq(now),
                ))
                .execute(c)?;
        }
        Event::BackedOut { scrapped: lost, .. } => {
            let lost: Vec<_> = lost
                .iter()
                .map(|p| (scrapped::rebuild_id.eq(rebuild), scrapped::part.eq(p), scrapped::at.eq(now)))
                .collect();
            diesel::insert_into(scrapped::table).values(lost).execute(c)?;
        }
        Event::Repaired { part, what, .. } => {
            diesel::insert_into(repairs::table)
                .values((
                    repairs::id.eq(RepairId::new()),
                    repairs::rebuild_id.eq(rebuild),
                    repairs::part.eq(part),
                    repairs::what.eq(what),
                    repairs::person_id.eq(who.id),
                    repairs::at.eq(now),
                ))
                .execute(c)?;
        }
        Event::Disposed { part, fate, reason, marks } => {
            diesel::insert_into(dispositions::table)
                .values((
                    dispositions::id.eq(DispositionId::new()),
                    dispositions::rebuild_id.eq(rebuild),
                    dispositions::part.eq(part),
                    dispositions::fate.eq(fate.key()),
                    dispositions::reason.eq(reason),
                    dispositions::marks.eq(marks.join(" ")),
                    dispositions::person_id.eq(who.id),
                    dispositions::at.eq(now),
                ))
                .execute(c)?;
        }
        Event::RepairTakenBack { repair, .. } => {
            let repair: RepairId = repair.parse().map_err(|_| StoreError::NotFound)?;
            diesel::update(repairs::table.find(repair)).set(repairs::taken_back_at.eq(now)).execute(c)?;
        }
        // Kept where they are taken: readings with their sheets, pictures with their bytes, versions with the rebuild.
        Event::Started { .. }
        | Event::Reading(_)
        | Event::Correction(_)
        | Event::Instrument { .. }
        | Event::Given { .. }
        | Event::Picture { .. }
        | Event::PictureTakenAway { .. }
        | Event::Pinned { .. }
        | Event::PinTakenAway { .. }
        | Event::Explained { .. }
        | Event::Version { .. }
        | Event::CarriedOver { .. }
        | Event::Bound { .. } => {}
    }
    let opened = b.state.opened_by(event);
    let seats: Vec<&String> = opened.seats.iter().collect();
    open_steps(c, rebuild, &seats, &decide::AGAIN)?;
    reopen(c, rebuild, &opened.acts)
}

#[diesel::dsl::auto_type]
fn step_of<'a>(rebuild: RebuildId, seat: &'a String, step: StepKind) -> _ {
    let kind: &'static str = step.key();
    steps::table.filter(steps::rebuild_id.eq(rebuild)).filter(steps::seat.eq(seat)).filter(steps::kind.eq(kind))
}

fn start_clock(c: &mut MysqlConnection, rebuild: RebuildId, who: &Person, k: &Clocked) -> Result<()> {
    if !k.seat.is_empty() {
        stop_clocks_at(c, rebuild, &k.seat)?;
    }
    diesel::insert_into(clocks::table)
        .values((
            clocks::id.eq(ClockId::new()),
            clocks::rebuild_id.eq(rebuild),
            clocks::seat.eq(&k.seat),
            clocks::kind.eq(if k.seat.is_empty() { "trail" } else { k.clock.as_str() }),
            clocks::label.eq(&k.label),
            clocks::started_at.eq(crate::now()),
            clocks::seconds.eq(k.seconds),
            clocks::person_id.eq(who.id),
            clocks::step.eq(&k.step),
        ))
        .execute(c)?;
    Ok(())
}

/// Ends the clocks of a seat.
fn stop_clocks_at(c: &mut MysqlConnection, rebuild: RebuildId, seat: &str) -> Result<()> {
    diesel::update(
        clocks::table
            .filter(clocks::rebuild_id.eq(rebuild))
            .filter(clocks::seat.eq(seat))
            .filter(clocks::ended_at.is_null()),
    )
    .set(clocks::ended_at.eq(crate::now()))
    .execute(c)?;
    Ok(())
}

fn sign_off(
    c: &mut MysqlConnection,
    rebuild: RebuildId,
    who: &Person,
    seat: &str,
    said: &str,
    at: NaiveDateTime,
) -> Result<()> {
    diesel::insert_into(sign_offs::table)
        .values((
            sign_offs::id.eq(SignOffId::new()),
            sign_offs::rebuild_id.eq(rebuild),
            sign_offs::seat.eq(seat),
            sign_offs::person_id.eq(who.id),
            sign_offs::role.eq(who.role.key()),
            sign_offs::said.eq(said),
            sign_offs::at.eq(at),
        ))
        .execute(c)?;
    Ok(())
}
