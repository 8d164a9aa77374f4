//! Decisions at a bearing seat: choosing, heating, putting on, cooling, signing.

use super::{Clocked, Decision, Denied, Event, State, StepLeft, Ticking, Who, free, held};
use crate::anatomy::acts::Act;
use crate::fit::heat::{COLD, Cooling, STEEL_J_KGK, STILL_AIR_W_M2K, heating_time};
use crate::quantity::{Celsius, Kelvins, Seconds, Units, parse_temperature, show};
use crate::refusal::Refusal;
use crate::seat::Fit;
use crate::terms::{Method, StepKind};

/// Power that reaches a ring on the shop's heater, W: only used to guess how long heating takes.
const HEATER_W: f64 = 600.0;
/// Air of the shop, where nobody measured it.
const ROOM: Celsius = Celsius(20.0);
/// A ring of which nobody wrote down how hot it was.
const HOT_UNSAID: Celsius = Celsius(80.0);

fn act<'a>(s: &'a State, seat: &str, step: StepKind) -> Result<&'a Act, Denied> {
    let _ = s.anatomy().seat(seat).ok_or(Denied::NotThere)?;
    match s.act_of(seat, step) {
        Some(act) => Ok(act),
        None if s.method(seat).is_some_and(|m| !step.belongs(Some(m))) => {
            held("This step is not needed with the chosen method.")
        }
        None => Err(Denied::NotThere),
    }
}

fn fit<'a>(s: &'a State, who: &Who) -> Result<&'a Fit, Denied> {
    match s.judged.as_ref().map(|j| &j.fit) {
        Some(Ok(fit)) => Ok(fit),
        Some(Err(call)) => held(call.reason(who.units)),
        None => Err(Denied::NotThere),
    }
}

fn temperature(text: &str, who: &Who) -> Result<Option<Celsius>, Denied> {
    if text.trim().is_empty() {
        return Ok(None);
    }
    parse_temperature(text, who.units == Units::Inch)
        .map(Some)
        .map_err(|e| Refusal::new("temperature", e.message).into())
}

fn done(seat: &str, step: StepKind, detail: String) -> Event {
    Event::Step { seat: seat.to_owned(), step, detail }
}

fn clock(seat: &str, kind: &str, label: String, seconds: f64) -> Event {
    let seconds = seconds.clamp(1.0, 86_400.0).round() as i32;
    Event::Clock(Clocked { seat: seat.to_owned(), clock: kind.to_owned(), seconds, label, ..Clocked::default() })
}

pub(super) fn choose(s: &State, who: &Who, seat: &str, method: Method) -> Decision {
    let act = act(s, seat, StepKind::Choose)?;
    free(s, who, act)?;
    if s.step(seat, StepKind::PutOn).is_some() {
        return held("the ring is on already: the way it went on stays on record");
    }
    let fit = fit(s, who)?;
    // Overruled on the fit, a lead has said that it goes on all the same: any way may be taken then.
    let overruled = s.call(seat, "fit").is_some_and(|c| c.overruled_by.is_some());
    if !overruled && !fit.choices.iter().any(|c| c.method == method && c.possible) {
        return Err(Refusal::new("method", "this will not do it as the figures stand: read why beside it").into());
    }
    Ok(vec![done(seat, StepKind::Choose, method.key().to_owned())])
}

pub(super) fn on_heater(s: &State, who: &Who, seat: &str) -> Decision {
    let act = act(s, seat, StepKind::Heat)?;
    free(s, who, act)?;
    if s.is_done(&act.id) {
        return held("the ring is hot already");
    }
    let heat = &fit(s, who)?.heat;
    let Some(j) = &s.judged else { return Err(Denied::NotThere) };
    let seconds = heating_time(j.facts.mass_g(), Kelvins((heat.target - ROOM).0), HEATER_W);
    Ok(vec![clock(seat, "heat", format!("{}, heating", j.facts.part_name), seconds.0)])
}

/// Ticks a step that is free and open.
pub(super) fn tick(s: &State, who: &Who, seat: &str, step: StepKind, said: &Ticking) -> Decision {
    match step {
        StepKind::Choose | StepKind::Sign => held("this step is done by filling it in, not by a tick"),
        StepKind::Journal | StepKind::RingBore | StepKind::HousingBore | StepKind::RingOutside | StepKind::Home => {
            held("this step is done by filling its sheet, not by a tick")
        }
        StepKind::Heat => {
            let heat = &fit(s, who)?.heat;
            let at = temperature(&said.temperature, who)?.unwrap_or(heat.target);
            if at.0 > heat.cap.0 + 2.0 {
                let cap = show::join(show::temperature(heat.cap, who.units));
                let words =
                    format!("that is over the cap of {cap}: let it cool, and look at the ring before it is used");
                return Err(Refusal::new("temperature", words).into());
            }
            Ok(vec![done(seat, step, format!("{:.0} °C", at.0))])
        }
        StepKind::PutOn => {
            let method = s.method(seat);
            let way = super::facing(s, act(s, seat, step)?, said)?;
            let mut out = Vec::new();
            if let (true, Some(j)) = (method.is_some_and(Method::heats), &s.judged) {
                let start = hot_at(s, seat).unwrap_or(HOT_UNSAID);
                let cold =
                    Cooling::from_mass(ROOM, start, j.facts.mass_g(), j.facts.area_mm2(), STILL_AIR_W_M2K, STEEL_J_KGK);
                let seconds = cold.ok().and_then(|c| c.until(ROOM + COLD));
                out.push(clock(
                    seat,
                    "cool",
                    format!("{}, cooling", j.facts.part_name),
                    seconds.map_or(600.0, |t| t.0),
                ));
            }
            let reason = way.reason.unwrap_or_default();
            let left = StepLeft { how: method.map_or("", Method::key), faces: way.faces, reason: &reason };
            out.push(done(seat, step, left.kept()));
            Ok(out)
        }
        StepKind::Cool => {
            let left = s.clocks.iter().find(|k| k.seat == seat && k.kind == "cool").map_or(0, |k| k.left(s.now));
            if left > 0 {
                return held(format!(
                    "the clock says {:02}:{:02} more. If the ring is cold, type what the thermometer says and the clock corrects itself.",
                    left / 60,
                    left % 60
                ));
            }
            Ok(vec![done(seat, step, String::new())])
        }
        StepKind::Nip => Ok(vec![done(seat, step, String::new())]),
    }
}

/// How hot the ring came off the heater.
fn hot_at(s: &State, seat: &str) -> Option<Celsius> {
    s.step(seat, StepKind::Heat)?.detail.split_whitespace().next()?.parse().ok().and_then(|v| Celsius::new(v).ok())
}

pub(super) fn thermometer(s: &State, who: &Who, seat: &str, typed: &str) -> Decision {
    let _ = act(s, seat, StepKind::Cool)?;
    let now = temperature(typed, who)?
        .ok_or_else(|| Refusal::new("temperature", "expected what the thermometer says, such as 41"))?;
    let Some(k) = s.clocks.iter().find(|k| k.seat == seat && k.kind == "cool") else {
        return held("no ring is cooling on this seat");
    };
    let first = hot_at(s, seat).unwrap_or(HOT_UNSAID);
    let elapsed = (s.now - k.started) as f64 / 1e6;
    let near = ROOM + COLD;
    let seconds = if now.0 <= near.0 {
        elapsed
    } else if now.0 >= first.0 {
        let was = show::join(show::temperature(first, who.units));
        return Err(Refusal::new(
            "temperature",
            format!("the ring came off the heater at {was}: it cannot be hotter now"),
        )
        .into());
    } else {
        let c = Cooling::from_readings(ROOM, first, now, Seconds(elapsed.max(1.0)))?;
        c.until(near).map_or(elapsed, |t| t.0)
    };
    // Rounded down: a cold ring has no second left to wait.
    Ok(vec![Event::Thermometer { seat: seat.to_owned(), c: now.0, seconds: seconds.clamp(0.0, 86_400.0).floor() }])
}

pub(super) fn sign(s: &State, who: &Who, seat: &str) -> Decision {
    let act = act(s, seat, StepKind::Sign)?;
    if s.signed(seat) {
        // Pressed twice it is signed once.
        return Ok(Vec::new());
    }
    free(s, who, act)?;
    let signed = || Event::Signed { seat: seat.to_owned(), role: who.role.to_owned() };
    let whole = || done(seat, StepKind::Sign, String::new());
    match s.half_signed.get(seat) {
        // Pressed twice it is signed once.
        Some(first) if first.person == who.person => Ok(Vec::new()),
        Some(first) if who.apprentice => {
            held(format!("{} has signed as an apprentice: who counter-signs is none", first.by))
        }
        Some(first) => Ok(vec![
            Event::CounterSigned { seat: seat.to_owned(), role: who.role.to_owned(), of: first.by.clone() },
            whole(),
        ]),
        // The signature stands, and the seat waits for the second one.
        None if who.apprentice => Ok(vec![signed()]),
        None => Ok(vec![signed(), whole()]),
    }
}
