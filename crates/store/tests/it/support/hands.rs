//! Hands that begin a rebuild and work its trail.

use super::Fresh;
use diesel::{MysqlConnection, RunQueryDsl as _};
use ironseat_core::anatomy::Cost;
use ironseat_core::anatomy::acts::{Act, Stage};
use ironseat_core::anatomy::as_found::Ask;
use ironseat_core::decide::{AnswerState, Command, State, Ticking};
use ironseat_core::fasten::Pattern;
use ironseat_core::rules::HouseRules;
use ironseat_core::stock::Leaf;
use ironseat_core::terms::{ActId, StepKind};
use ironseat_store::read::pins::Answered;
use ironseat_store::read::{bench, rebuilds};
use ironseat_store::rows::person::Person;
use ironseat_store::write::pictures::{self, NewPicture};
use ironseat_store::write::pins::NewPin;
use ironseat_store::write::{self, shop, stock, tokens, work};
use ironseat_store::{Id, RebuildId, Result};

/// The state of a rebuild.
pub fn state(c: &mut MysqlConnection, id: RebuildId) -> State {
    bench::load(c, id).unwrap().state
}

pub fn tick(c: &mut MysqlConnection, who: &Person, id: RebuildId, act: &str, said: &Ticking) -> Result<()> {
    work::work(c, who, id, &Command::Tick { act: act.into(), said: said.clone() })
}
pub fn untick(c: &mut MysqlConnection, who: &Person, id: RebuildId, act: &str) -> Result<()> {
    work::work(c, who, id, &Command::TakeBack { act: act.into() })
}
pub fn wait_over(c: &mut MysqlConnection, who: &Person, id: RebuildId, act: &str) -> Result<()> {
    work::work(c, who, id, &Command::WaitOver { act: act.into(), why: "24 °C by the probe".into() })
}
pub fn answer(
    c: &mut MysqlConnection,
    who: &Person,
    id: RebuildId,
    question: &str,
    state: AnswerState,
    value: &str,
    note: &str,
) -> Result<()> {
    work::work(
        c,
        who,
        id,
        &Command::Answer { question: question.into(), state, value: value.into(), note: note.into() },
    )
}
pub fn repair(c: &mut MysqlConnection, who: &Person, id: RebuildId, part: &str, what: &str) -> Result<()> {
    work::work(c, who, id, &Command::Repair { part: part.into(), what: what.into() })
}
pub fn repair_back(c: &mut MysqlConnection, who: &Person, id: RebuildId, repair: &str) -> Result<()> {
    work::work(c, who, id, &Command::RepairBack { repair: repair.into() })
}
/// What came off for it.
pub fn back_out(c: &mut MysqlConnection, who: &Person, id: RebuildId, part: &str) -> Result<Cost> {
    let cost = state(c, id).cost(part).unwrap_or_default();
    work::work(c, who, id, &Command::BackOut { part: part.into() })?;
    Ok(cost)
}
/// Id of the act that is a step of a seat; what the chosen method leaves out has one too.
pub fn at(seat: &str, step: StepKind) -> String {
    ActId::AtSeat { seat: seat.into(), step }.to_string()
}
/// Ticks a step of a seat.
pub fn step(
    c: &mut MysqlConnection,
    who: &Person,
    id: RebuildId,
    seat: &str,
    step: StepKind,
    temperature: &str,
) -> Result<()> {
    let act = state(c, id).act_of(seat, step).map_or(at(seat, step), |s| s.id.clone());
    tick(c, who, id, &act, &Ticking { temperature: temperature.into(), ..Ticking::default() })
}
/// Takes a step of a seat back.
pub fn step_back(c: &mut MysqlConnection, who: &Person, id: RebuildId, seat: &str, step: StepKind) -> Result<()> {
    let act = state(c, id).act_of(seat, step).map_or(at(seat, step), |s| s.id.clone());
    untick(c, who, id, &act)
}

/// What a hand says when it ticks a step: its number in the middle of its limits, the other's name.
pub fn with(t: &State, s: &Act) -> Ticking {
    let number = t.limits(s).map(|m| match (m.lo, m.hi) {
        (Some(lo), Some(hi)) => f64::midpoint(lo, hi),
        (Some(v), None) | (None, Some(v)) => v,
        (None, None) => 3.2,
    });
    let points = s.measure.as_ref().map_or(1, |m| m.points) as usize;
    let value = number.map_or(String::new(), |v| vec![v.to_string(); points].join("; "));
    Ticking {
        second: "Pell Adeyemi".into(),
        value,
        faces: t.facing(s).and_then(|f| f.sheet).map_or(String::new(), |e| e.letter().to_string()),
        ..Ticking::default()
    }
}

/// Starts a rebuild of a machine type.
pub fn begin(f: &Fresh, c: &mut MysqlConnection, kind: &str, number: &str) -> RebuildId {
    let (anatomy, _) = rebuilds::list_anatomies(c).unwrap().into_iter().find(|(_, n)| n.starts_with(kind)).unwrap();
    let (id, title) = (Id::new(), kind.to_owned());
    let due_on = ironseat_store::now().date();
    let new = write::rebuilds::NewRebuild {
        id,
        number: number.into(),
        title,
        customer: "own".into(),
        anatomy,
        due_on,
        serial: String::new(),
    };
    write::rebuilds::start(c, &f.person("ines"), &new).unwrap();
    id
}

/// Works everything that is free up to a stage, seats by hand, waits cut short.
pub fn work_to(f: &Fresh, c: &mut MysqlConnection, id: RebuildId, last: Stage) {
    work_while(f, c, id, |s| s.stage <= last);
}

/// Works everything that is free, but for one act, and so nothing that rests on it.
pub fn work_before(f: &Fresh, c: &mut MysqlConnection, id: RebuildId, act: &str) {
    work_while(f, c, id, |s| s.id != act);
}

fn work_while(f: &Fresh, c: &mut MysqlConnection, id: RebuildId, wanted: impl Fn(&Act) -> bool) {
    let who = f.person("tomasz");
    loop {
        let t = state(c, id);
        // Only a ring's own place in the trail counts here: what is measured of it is tried elsewhere.
        let its_sheets = |s: &Act| matches!(ActId::of(&s.id), Some(ActId::AtSeat { .. }));
        let free = |s: &Act| {
            s.before.iter().all(|b| t.is_done(&b.id) || t.act(&b.id).is_some_and(its_sheets))
                && t.waiting(&s.id).is_none()
        };
        let Some(s) = t.acts.iter().find(|s| wanted(s) && !t.is_done(&s.id) && !its_sheets(s) && free(s)).cloned()
        else {
            break;
        };
        if let Some(q) = ActId::of(&s.id).as_ref().and_then(ActId::asks) {
            let ask = t.question(q).unwrap().topic.ask();
            let value = match ask {
                Ask::Facing => "end A",
                Ask::Hand => "right",
                Ask::Closure => "open",
                _ => "3.2",
            };
            answer(c, &who, id, q, AnswerState::Recorded, value, "").unwrap();
        } else if let Some(seat) = s.seat.clone() {
            sign(c, id, &seat.0);
        } else {
            tick(c, &who, id, &s.id, &with(&t, &s)).unwrap();
            if s.wait_min > 0.0 {
                wait_over(c, &who, id, &s.id).unwrap();
            }
        }
    }
}

/// The signature of a seat, set by hand: its sheets are tried elsewhere.
pub fn sign(c: &mut MysqlConnection, id: RebuildId, seat: &str) {
    diesel::sql_query("UPDATE steps SET done = 1, done_at = UTC_TIMESTAMP(6) WHERE seat = ? AND rebuild_id = ?")
        .bind::<diesel::sql_types::Text, _>(seat)
        .bind::<diesel::sql_types::Binary, _>(id)
        .execute(c)
        .unwrap();
}

/// A shop in which every table of the record holds something.
pub fn filled(f: &Fresh, c: &mut MysqlConnection) {
    let (ines, tomasz) = (f.person("ines"), f.person("tomasz"));
    let id = begin(f, c, "Biogas engine turbocharger", "R-0501");
    work_to(f, c, id, Stage::TakeApart);
    let a = state(c, id).kind.clone();
    let marked =
        a.anatomy.parts.iter().find(|p| !ironseat_core::anatomy::acts::voided_by(&a.anatomy, &p.id).is_empty());
    repair(c, &tomasz, id, &marked.expect("a part with a mark").id, "face ground 0.05 mm").unwrap();
    let question = state(c, id).questions[0].id.clone();
    let picture =
        NewPicture { id: Id::new(), width: 2, height: 2, whole: vec![255, 216, 1, 2], small: vec![255, 216, 3] };
    pictures::add(c, &tomasz, id, &question, &picture).unwrap();
    let asked = Answered { input: serde_json::Map::new(), answer: serde_json::Map::new() };
    let about = "lock nut".to_owned();
    let pin = NewPin { id: Id::new(), name: "nut.slots".into(), about, asked, replaces: None };
    write::pins::pin(c, &tomasz, id, &pin).unwrap();
    let act = state(c, id).acts[0].id.clone();
    let mut given = ironseat_core::sheet::Given::default();
    given.counts.insert("readings_um".into(), 8);
    ironseat_store::write::act_sheets::give(c, &tomasz, id, &act, "runout.sweep", &given).unwrap();
    // Something that is scrapped by coming off, on a machine without bearing seats: hands set those in SQL.
    let mut scrapped = 0;
    for (k, name) in ["Blade root", "Taper-roller", "Headstock spindle", "Large turbo", "Six-stage", "Biogas"]
        .into_iter()
        .enumerate()
    {
        let id = begin(f, c, name, &format!("R-06{k:02}"));
        work_to(f, c, id, Stage::CloseUp);
        let parts: Vec<String> = state(c, id).kind.anatomy.parts.iter().map(|p| p.id.clone()).collect();
        if let Some(part) = parts.iter().find(|p| state(c, id).cost(p).is_ok_and(|x| !x.scrapped.is_empty())) {
            scrapped += back_out(c, &tomasz, id, part).unwrap().scrapped.len();
            break;
        }
    }
    assert!(scrapped > 0);
    let part = state(c, id).anatomy().parts.iter().find(|p| !state(c, id).fitted().contains(&p.id)).unwrap().id.clone();
    let fate = Some(ironseat_core::inspect::Fate::Replace);
    let said = Command::Dispose { part, fate, reason: "worn to a step".into(), marks: Vec::new() };
    work::work(c, &tomasz, id, &said).unwrap();
    stock::set_leaves(c, &ines, &[Leaf { um: 100, pieces: 4 }]).unwrap();
    stock::keep_pattern(c, &ines, &Pattern::new("Sump cover", vec![(0.0, 0.0), (90.0, 60.0)]).unwrap()).unwrap();
    tokens::make(c, &tomasz, Id::new(), "gauge on the bench", &["read".to_owned()]).unwrap();
    shop::change_rules(c, &ines, &HouseRules { press_share: 0.7, ..HouseRules::default() }, ines.zone, 1).unwrap();
}
