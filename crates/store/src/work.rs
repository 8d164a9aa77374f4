//! Working the trail: choosing, ticking, clocks, overruling, signing, taking back. One transaction each, journalled.

use crate::people::{Person, Role, check_pin};
use crate::rebuilds::{Overview, bench};
use crate::schema::{calls, clocks, sign_offs, steps};
use crate::{Id, Result, StoreError, journal, record};
use diesel::prelude::*;
use ironseat_core::Refusal;
use ironseat_core::call::Method;
use ironseat_core::fit::heat::{Cooling, heating_time};
use ironseat_core::quantity::{Celsius, Kelvins, Seconds, parse_temperature};
use ironseat_core::trail::{self, SeatTrail, StepKind};

/// Power that reaches a ring on the shop's heater, W: only used to guess how long heating takes.
const HEATER_W: f64 = 600.0;

/// What a person does to a step.
#[derive(Debug, Clone)]
pub enum Act {
    /// Chooses how the ring goes on.
    Choose(Method),
    /// Starts the heating clock.
    Heat,
    /// The step is done. A temperature read off the ring may come with heating; it may be blank.
    Tick {
        /// As typed.
        temperature: String,
        /// Reads plain numbers as Fahrenheit.
        fahrenheit: bool,
    },
    /// A thermometer reading while it cools: corrects the clock.
    Cooling {
        /// As typed.
        temperature: String,
        /// Reads plain numbers as Fahrenheit.
        fahrenheit: bool,
    },
    /// Signs the seat.
    Sign {
        /// The person's own PIN.
        pin: String,
    },
    /// Takes a tick back.
    Reopen,
}

struct Bench<'a> {
    c: &'a mut MysqlConnection,
    locked: journal::Locked,
    over: Overview,
    who: &'a Person,
    seat: &'a str,
}

/// Does something to a step of a seat.
///
/// # Errors
/// [`StoreError::Held`] with what is missing; refusals of `method`, `temperature` or `pin`.
pub fn act(c: &mut MysqlConnection, who: &Person, rebuild: Id, seat: &str, kind: StepKind, act: &Act) -> Result<()> {
    if let Act::Sign { pin } = act {
        check_pin(c, who.id, pin)?;
    }
    c.transaction(|c| {
        let locked = journal::open(c, rebuild)?;
        let over = bench(c, rebuild, who.units)?;
        if over.rebuild.anatomy.seat(seat).is_none() || over.step(seat, kind).is_none() {
            return Err(StoreError::NotFound);
        }
        let mut b = Bench { c, locked, over, who, seat };
        match act {
            Act::Choose(method) => b.choose(*method)?,
            Act::Heat => b.heat()?,
            Act::Tick { temperature, fahrenheit } => b.tick(kind, temperature, *fahrenheit)?,
            Act::Cooling { temperature, fahrenheit } => b.cooling(temperature, *fahrenheit)?,
            Act::Sign { .. } => b.sign()?,
            Act::Reopen => b.reopen(kind)?,
        }
        let Bench { c, locked, .. } = b;
        locked.write(c)
    })
}

impl Bench<'_> {
    fn trail(&self) -> SeatTrail {
        self.over.trail(self.seat)
    }

    fn free(&self, kind: StepKind) -> Result<()> {
        match self.trail().held(kind) {
            Some(why) => Err(StoreError::Held(format!("{} is held: {why}.", trail::name(kind)))),
            None => Ok(()),
        }
    }

    fn record(&mut self) -> Result<record::SeatRecord> {
        record::seat_record(self.c, &self.over.rebuild, self.seat)
    }

    fn done(&mut self, kind: StepKind, detail: &str) -> Result<()> {
        let id = self.over.step(self.seat, kind).ok_or(StoreError::NotFound)?.id;
        diesel::update(steps::table.find(id))
            .set((steps::done.eq(true), steps::done_by.eq(self.who.id), steps::done_at.eq(crate::now()), steps::detail.eq(detail)))
            .execute(self.c)?;
        self.locked.note(self.who.id, "step", &serde_json::json!({"seat": self.seat, "step": kind.key(), "detail": detail}));
        Ok(())
    }

    fn choose(&mut self, method: Method) -> Result<()> {
        self.free(StepKind::Choose)?;
        if self.over.step(self.seat, StepKind::PutOn).is_some_and(|s| s.done) {
            return Err(StoreError::Held("the ring is on already: the way it went on stays on record".into()));
        }
        let fit = self.record()?.fit().map_err(|c| StoreError::Held(c.reason(self.who.units)))?;
        if !fit.choices.iter().any(|c| c.method == method && c.possible) {
            return Err(Refusal::new("method", "this will not do it as the figures stand: read why beside it").into());
        }
        self.done(StepKind::Choose, method.key())
    }

    fn start(&mut self, kind: &str, label: String, seconds: f64) -> Result<()> {
        self.stop_clocks()?;
        let seconds = seconds.clamp(1.0, 86_400.0).round() as i32;
        diesel::insert_into(clocks::table)
            .values((
                clocks::id.eq(Id::new()),
                clocks::rebuild_id.eq(self.over.rebuild.id),
                clocks::seat.eq(self.seat),
                clocks::kind.eq(kind),
                clocks::label.eq(&label),
                clocks::started_at.eq(crate::now()),
                clocks::seconds.eq(seconds),
                clocks::person_id.eq(self.who.id),
            ))
            .execute(self.c)?;
        self.locked.note(self.who.id, "clock", &serde_json::json!({"seat": self.seat, "clock": kind, "seconds": seconds, "label": label}));
        Ok(())
    }

    fn stop_clocks(&mut self) -> Result<()> {
        diesel::update(
            clocks::table
                .filter(clocks::rebuild_id.eq(self.over.rebuild.id))
                .filter(clocks::seat.eq(self.seat))
                .filter(clocks::ended_at.is_null()),
        )
        .set(clocks::ended_at.eq(crate::now()))
        .execute(self.c)?;
        Ok(())
    }

    fn heat(&mut self) -> Result<()> {
        self.free(StepKind::Heat)?;
        let record = self.record()?;
        let fit = record.fit().map_err(|c| StoreError::Held(c.reason(self.who.units)))?;
        let seconds = heating_time(record.facts.mass_g(), fit.heat.target - Celsius::of(20.0), HEATER_W);
        self.start("heat", format!("{}, heating", record.facts.part_name), seconds.get())
    }

    fn tick(&mut self, kind: StepKind, temperature: &str, fahrenheit: bool) -> Result<()> {
        if matches!(kind, StepKind::Choose | StepKind::Sign) || kind.sheet().is_some() {
            return Err(StoreError::Held("this step is done by filling it in, not by a tick".into()));
        }
        self.free(kind)?;
        match kind {
            StepKind::Heat => {
                let read = temperature_of(temperature, fahrenheit)?;
                let cap = self.record()?.fit().map_err(|c| StoreError::Held(c.reason(self.who.units)))?.heat;
                let at = read.unwrap_or(cap.target);
                if at.get() > cap.cap.get() + 2.0 {
                    return Err(Refusal::new(
                        "temperature",
                        format!("that is over the cap of {:.0} °C: let it cool, and look at the ring before it is used", cap.cap.get()),
                    )
                    .into());
                }
                self.stop_clocks()?;
                self.done(kind, &format!("{:.0} °C", at.get()))
            }
            StepKind::PutOn => {
                let method = self.over.method(self.seat);
                if method.is_some_and(Method::heats) {
                    let record = self.record()?;
                    let start = self.hot_at().unwrap_or(Celsius::of(80.0));
                    let seconds = Cooling::from_mass(Celsius::of(20.0), start, record.facts.mass_g(), record.facts.area_mm2(), 12.0, 470.0)
                        .ok()
                        .and_then(|c| c.until(Celsius::of(20.0) + Kelvins::of(5.0)));
                    self.start("cool", format!("{}, cooling", record.facts.part_name), seconds.map_or(600.0, Seconds::get))?;
                }
                self.done(kind, method.map_or("", Method::key))
            }
            StepKind::Cool => {
                if let Some(left) = self.over.clock(self.seat).map(|k| k.left(crate::now())).filter(|l| *l > 0) {
                    return Err(StoreError::Held(format!(
                        "the clock says {:02}:{:02} more. If the ring is cold, type what the thermometer says and the clock corrects itself.",
                        left / 60,
                        left % 60
                    )));
                }
                self.stop_clocks()?;
                self.done(kind, "")
            }
            _ => self.done(kind, ""),
        }
    }

    fn hot_at(&self) -> Option<Celsius> {
        let detail = &self.over.step(self.seat, StepKind::Heat)?.detail;
        detail.split_whitespace().next()?.parse().ok().and_then(|v| Celsius::new(v).ok())
    }

    fn cooling(&mut self, temperature: &str, fahrenheit: bool) -> Result<()> {
        let now_c = temperature_of(temperature, fahrenheit)?
            .ok_or_else(|| Refusal::new("temperature", "expected what the thermometer says, such as 41"))?;
        let clock = self
            .over
            .clock(self.seat)
            .filter(|k| k.kind == "cool")
            .ok_or_else(|| StoreError::Held("no ring is cooling on this seat".into()))?
            .clone();
        let (room, first) = (Celsius::of(20.0), self.hot_at().unwrap_or(Celsius::of(80.0)));
        let elapsed = (crate::now() - clock.started_at).num_milliseconds() as f64 / 1000.0;
        let near = room + Kelvins::of(5.0);
        let seconds = if now_c.get() <= near.get() {
            elapsed
        } else if now_c.get() >= first.get() {
            return Err(Refusal::new(
                "temperature",
                format!("the ring came off the heater at {:.0} °C: it cannot be hotter now", first.get()),
            )
            .into());
        } else {
            let c = Cooling::from_readings(room, first, now_c, Seconds::of(elapsed.max(1.0)))?;
            c.until(near).map_or(elapsed, Seconds::get)
        };
        diesel::update(clocks::table.find(clock.id))
            // Rounded down: a cold ring has no second left to wait.
            .set(clocks::seconds.eq(seconds.clamp(0.0, 86_400.0).floor() as i32))
            .execute(self.c)?;
        self.locked.note(self.who.id, "thermometer", &serde_json::json!({"seat": self.seat, "c": now_c.get(), "seconds": seconds.round()}));
        Ok(())
    }

    fn sign(&mut self) -> Result<()> {
        self.free(StepKind::Sign)?;
        diesel::insert_into(sign_offs::table)
            .values((
                sign_offs::id.eq(Id::new()),
                sign_offs::rebuild_id.eq(self.over.rebuild.id),
                sign_offs::seat.eq(self.seat),
                sign_offs::person_id.eq(self.who.id),
                sign_offs::role.eq(self.who.role.key()),
                sign_offs::said.eq("did this and saw these numbers"),
                sign_offs::at.eq(crate::now()),
            ))
            .execute(self.c)?;
        self.locked.note(self.who.id, "signed", &serde_json::json!({"seat": self.seat, "role": self.who.role.key()}));
        self.done(StepKind::Sign, "")
    }

    /// A tick may be taken back while nothing that rests on it is done.
    fn reopen(&mut self, kind: StepKind) -> Result<()> {
        if kind == StepKind::Sign {
            return Err(StoreError::Held("a signature is not taken back: write what changed as a new reading".into()));
        }
        let rests = StepKind::ALL
            .into_iter()
            .find(|k| SeatTrail::before(*k).contains(&kind) && self.over.step(self.seat, *k).is_some_and(|s| s.done));
        if let Some(k) = rests {
            return Err(StoreError::Held(format!("“{}” rests on it: take that back first.", trail::name(k))));
        }
        if let Some(act) = self.over.machine.resting_on(self.seat, kind) {
            return Err(StoreError::Held(format!(
                "“{}” on the trail rests on it: take that back first.",
                act.words.say(self.who.units).trim_end_matches('.')
            )));
        }
        let step = self.over.step(self.seat, kind).ok_or(StoreError::NotFound)?;
        if !step.done {
            return Ok(());
        }
        diesel::update(steps::table.find(step.id))
            .set((
                steps::done.eq(false),
                steps::done_by.eq(None::<Id>),
                steps::done_at.eq(None::<chrono::NaiveDateTime>),
                steps::detail.eq(""),
            ))
            .execute(self.c)?;
        if matches!(kind, StepKind::PutOn | StepKind::Heat) {
            self.stop_clocks()?;
        }
        self.locked.note(self.who.id, "reopened", &serde_json::json!({"seat": self.seat, "step": kind.key()}));
        Ok(())
    }
}

fn temperature_of(text: &str, fahrenheit: bool) -> Result<Option<Celsius>> {
    if text.trim().is_empty() {
        return Ok(None);
    }
    parse_temperature(text, fahrenheit).map(Some).map_err(|e| Refusal::new("temperature", e.message).into())
}

/// Overrules the call on a topic, with a reason. A critical seat needs a lead; always the person's own PIN.
///
/// # Errors
/// Held for a person who may not; `reason` or `pin`.
pub fn overrule(c: &mut MysqlConnection, who: &Person, rebuild: Id, seat: &str, topic: &str, reason: &str, pin: &str) -> Result<()> {
    let reason = reason.trim();
    if reason.chars().count() < 5 || reason.chars().count() > 400 {
        return Err(Refusal::new("reason", "expected the reason in a sentence, 5 to 400 characters: it stands on the certificate").into());
    }
    check_pin(c, who.id, pin)?;
    c.transaction(|c| {
        let mut locked = journal::open(c, rebuild)?;
        let over = bench(c, rebuild, who.units)?;
        let critical = over.rebuild.anatomy.seat(seat).ok_or(StoreError::NotFound)?.critical;
        if critical && who.role != Role::Lead {
            return Err(StoreError::Held("the limits of this seat are critical: only a lead may overrule them".into()));
        }
        let n = diesel::update(
            calls::table
                .filter(calls::rebuild_id.eq(rebuild))
                .filter(calls::seat.eq(seat))
                .filter(calls::topic.eq(topic))
                .filter(calls::verdict.ne("go")),
        )
        .set((calls::overruled_by.eq(who.id), calls::overrule_reason.eq(reason)))
        .execute(c)?;
        if n == 0 {
            return Err(StoreError::Held("there is nothing to overrule here".into()));
        }
        locked.note(
            who.id,
            "overruled",
            &serde_json::json!({"seat": seat, "topic": topic, "reason": reason, "critical": critical, "role": who.role.key()}),
        );
        locked.write(c)
    })
}
