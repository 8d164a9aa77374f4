//! What is written to the record keeps its text: the same work writes the same entries as ever. The golden file was
//! made before decisions moved into core; `UPDATE_EXPECT=1` writes it anew, which only a change of format with a reader
//! may do.

use crate::support::hands::{begin, state, work_before};
use crate::support::{Fresh, hands as trail};
use expect_test::expect_file;
use ironseat_core::decide::{AnswerState, Command, Ticking};
use ironseat_core::sheet::{Given, SheetKind};
use ironseat_core::terms::{ActId, StepKind, Surface};
use ironseat_store::read::pins::Answered;
use ironseat_store::read::{self, rebuilds, shop};
use ironseat_store::write::pins::NewPin;
use ironseat_store::write::readings::NewReading;
use ironseat_store::write::{self, act_sheets, work};
use ironseat_store::{Id, chain};
use std::collections::BTreeMap;

/// Ids are numbered as they come, and a clock that started at another second is the same clock.
fn plain(body: &str, ids: &mut BTreeMap<String, usize>) -> String {
    let mut v: serde_json::Value = serde_json::from_str(body).unwrap();
    if let Some(o) = v.as_object_mut() {
        for (k, x) in o.iter_mut() {
            let id = x
                .as_str()
                .filter(|s| s.len() == 36 && s.bytes().filter(|b| *b == b'-').count() == 4)
                .map(str::to_owned);
            if let Some(s) = id {
                let n = ids.len();
                *x = format!("id {}", ids.entry(s).or_insert(n)).into();
            } else if k == "left_s" {
                *x = 0.into();
            }
        }
    }
    v.to_string()
}

#[tokio::test]
async fn the_same_work_writes_the_same_record() {
    let f = Fresh::demo().await;
    let c = &mut f.connection();
    let (tomasz, yuki, ines) = (f.person("tomasz"), f.person("yuki"), f.person("ines"));
    let none = Ticking::default();

    // A machine taken apart and together: seats by hand, waits cut short, a thing forgotten, a face machined.
    let id = begin(&f, c, "Blower", "R-0601");
    trail::tick(c, &tomasz, id, "receive.safe", &none).unwrap();
    trail::untick(c, &tomasz, id, "receive.safe").unwrap();
    work_before(&f, c, id, "prove.run");
    trail::answer(c, &yuki, id, "hub.faces", AnswerState::CannotTell, "", "covered with scale").unwrap();
    trail::back_out(c, &yuki, id, "flAi").unwrap();
    let t = state(c, id);
    let machinable = t.anatomy().parts.iter().map(|p| p.id.clone()).find(|p| {
        !t.is_done(&ActId::On(p.clone()).to_string())
            && !ironseat_core::anatomy::acts::voided_by(t.anatomy(), p).is_empty()
    });
    if let Some(part) = &machinable {
        trail::repair(c, &tomasz, id, part, "A face ground 0.05 mm").unwrap();
        let repair = state(c, id).repairs[0].id.clone();
        trail::repair_back(c, &tomasz, id, &repair).unwrap();
    }

    // What the Reckoner said of it, twice, and away again.
    let asked = || Answered { input: serde_json::Map::new(), answer: serde_json::Map::new() };
    let mut replaces = None;
    for about in ["lock nut", ""] {
        let new = NewPin { id: Id::new(), name: "nut.slots".into(), about: about.into(), asked: asked(), replaces };
        write::pins::pin(c, &yuki, id, &new).unwrap();
        replaces = Some(new.id);
    }
    write::pins::take_away(c, &yuki, id, replaces.unwrap()).unwrap();

    // A float outside its window opens a round, in the reader's inches.
    let booster = f.rebuild("R-0415");
    let t = state(c, booster);
    let next = t.acts.iter().find(|s| s.seat.is_none() && !t.is_done(&s.id) && t.free(s)).unwrap().clone();
    trail::tick(c, &yuki, booster, &next.id, &crate::support::hands::with(&t, &next)).unwrap();

    // A seat on its own sheets.
    let spindle = f.rebuild("R-0409");
    let gauge = shop::list_instruments(c).unwrap().into_iter().find(|i| i.name.starts_with("Electronic")).unwrap().id;
    write::readings::choose_instrument(c, &yuki, spindle, "f1", SheetKind::Grid(Surface::Journal), gauge).unwrap();
    let head = rebuilds::get(c, spindle).unwrap();
    let rec = read::seats::seat_record(c, &head, "f1").unwrap();
    let first = rec.standing(SheetKind::Grid(Surface::Journal))[0].clone();
    let new = NewReading {
        id: Id::new(),
        cell: first.cell.clone(),
        text: "50.0085".into(),
        instrument: Some(gauge),
        over: Some(first.id),
        sure: false,
        units: ironseat_core::quantity::Units::Metric,
        reason: String::new(),
    };
    write::readings::record_reading(c, &yuki, spindle, "f1", SheetKind::Grid(Surface::Journal), &new).unwrap();
    let topics: Vec<String> = state(c, spindle)
        .calls
        .iter()
        .filter(|k| k.seat == "f1" && k.verdict() != Some(ironseat_core::terms::Verdict::Go))
        .map(|k| k.topic.clone())
        .collect();
    for topic in &topics {
        let reason = "agreed with the owner of the spindle".into();
        work::signed(c, &ines, spindle, &Command::Overrule { seat: "f1".into(), topic: topic.clone(), reason }, "2408")
            .unwrap();
    }
    let pump = f.rebuild("R-0412");
    trail::step_back(c, &tomasz, pump, "ie", StepKind::PutOn).ok();

    // A sheet of an act, with its instrument and what stands beside its readings.
    let mut given = Given::default();
    given.counts.insert("readings_um".into(), 8);
    act_sheets::give(c, &yuki, id, "receive.safe", "runout.sweep", &given).unwrap();
    act_sheets::choose_instrument(c, &yuki, id, "receive.safe", "runout.sweep", Some(gauge)).unwrap();
    for (text, over) in [("4", None), ("5", Some(()))] {
        let b = ironseat_store::read::bench::load(c, id).unwrap();
        let stands =
            b.sheet("receive.safe", "runout.sweep").and_then(|s| s.standing().get("readings_um.2").map(|r| r.id));
        let new = NewReading {
            id: Id::new(),
            cell: "readings_um.2".into(),
            text: text.into(),
            over: over.and(stands),
            instrument: None,
            ..new.clone()
        };
        act_sheets::take(c, &yuki, id, "receive.safe", "runout.sweep", &new).unwrap();
    }

    let mut ids = BTreeMap::new();
    let mut numbers = chain::rebuild::all_rebuilds(c).unwrap();
    numbers.sort_by(|a, b| a.1.cmp(&b.1));
    let mut text = String::new();
    for (id, number) in numbers {
        for e in chain::rebuild::entries(c, id).unwrap() {
            text.push_str(&format!("{number}\t{}\t{}\t{}\n", e.seq, e.kind, plain(&e.body, &mut ids)));
        }
    }
    expect_file!["../golden/record.tsv"].assert_eq(&text);
}
