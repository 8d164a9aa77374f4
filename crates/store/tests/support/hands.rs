//! Hands that begin a rebuild and work its trail.

use super::Fresh;
use diesel::{MysqlConnection, RunQueryDsl as _};
use ironseat_core::anatomy::acts::{Act, Stage};
use ironseat_core::anatomy::as_found::Ask;
use ironseat_store::trail_record::{self as trail, AnswerState};
use ironseat_store::trail_work::{self as work, Done};
use ironseat_store::{Id, rebuilds};

/// What a hand says when it ticks a step: its number in the middle of its limits, the other's name.
pub fn with(t: &trail::Trail, s: &Act) -> Done {
    let number = t.limits(s).map(|m| match (m.lo, m.hi) {
        (Some(lo), Some(hi)) => f64::midpoint(lo, hi),
        (Some(v), None) | (None, Some(v)) => v,
        (None, None) => 3.2,
    });
    let points = s.measure.as_ref().map_or(1, |m| m.points) as usize;
    let value = number.map_or(String::new(), |v| vec![v.to_string(); points].join("; "));
    Done { second: "Pell Adeyemi".into(), value, faces: t.facing(s).map_or(String::new(), |e| e.letter().to_string()), ..Done::default() }
}

/// Starts a rebuild of a machine type.
pub fn begin(f: &Fresh, c: &mut MysqlConnection, kind: &str, number: &str) -> Id {
    let (anatomy, _) = rebuilds::list_anatomies(c).unwrap().into_iter().find(|(_, n)| n.starts_with(kind)).unwrap();
    let (id, title) = (Id::new(), kind.to_owned());
    let due_on = ironseat_store::now().date();
    let new = rebuilds::NewRebuild { id, number: number.into(), title, customer: "own".into(), anatomy, due_on };
    rebuilds::start(c, &f.person("ines"), &new).unwrap();
    id
}

/// Works everything that is free up to a stage, seats by hand, waits cut short.
pub fn work_to(f: &Fresh, c: &mut MysqlConnection, id: Id, last: Stage) {
    work(f, c, id, |s| s.stage <= last);
}

/// Works everything that is free, but for one act, and so nothing that rests on it.
#[allow(dead_code)] // not every test file waits before an act
pub fn work_before(f: &Fresh, c: &mut MysqlConnection, id: Id, act: &str) {
    work(f, c, id, |s| s.id != act);
}

fn work(f: &Fresh, c: &mut MysqlConnection, id: Id, wanted: impl Fn(&Act) -> bool) {
    let who = f.person("tomasz");
    loop {
        let t = trail::trail(c, id).unwrap();
        let Some(s) = t.steps.iter().find(|s| wanted(s) && !t.ticks.contains_key(&s.id) && t.free(s)).cloned() else { break };
        if let Some(q) = s.id.strip_prefix("ask.") {
            let ask = t.question(q).unwrap().ask;
            let value = match ask {
                Ask::Facing => "end A",
                Ask::Hand => "right",
                _ => "3.2",
            };
            work::answer(c, &who, id, q, AnswerState::Recorded, value, "").unwrap();
        } else if let Some(seat) = s.seat.clone() {
            sign(c, id, &seat.0);
        } else {
            work::tick(c, &who, id, &s.id, &with(&t, &s)).unwrap();
            if s.wait_min > 0.0 {
                work::wait_over(c, &who, id, &s.id).unwrap();
            }
        }
    }
}

/// The signature of a seat, set by hand: its sheets are tried elsewhere.
pub fn sign(c: &mut MysqlConnection, id: Id, seat: &str) {
    diesel::sql_query("UPDATE steps SET done = 1, done_at = UTC_TIMESTAMP(6) WHERE seat = ? AND rebuild_id = ?")
        .bind::<diesel::sql_types::Text, _>(seat)
        .bind::<diesel::sql_types::Binary, _>(id)
        .execute(c)
        .unwrap();
}
