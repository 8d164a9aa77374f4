//! The demo shop and generated data, made through the same functions that people use.

use crate::db::transaction::transaction;
use crate::read::{self, bench};
use crate::rows::person::{Person, Role};
use crate::rows::shop::Instrument;
use crate::write::people::NewPerson;
use crate::write::readings::{NewReading, record_readings};
use crate::write::rebuilds::NewRebuild;
use crate::write::{self, stock, ticks, work};
use crate::{AnatomyId, Id, InstrumentId, PersonId, RebuildId, Result, StoreError, chain};
use chrono::Days;
use diesel::MysqlConnection;
use ironseat_core::anatomy::acts::{Act, Phase, Stage};
use ironseat_core::anatomy::as_found::Ask;
use ironseat_core::anatomy::{Anatomy, Measure, Unit, build_sheet};
use ironseat_core::decide::{AnswerState, Command, Event, State, Ticked, Ticking};
use ironseat_core::fasten::Pattern;
use ironseat_core::inspect::Fate;
use ironseat_core::quantity::Units;
use ironseat_core::sheet::{SheetKind, Takes};
use ironseat_core::stock::Leaf;
use ironseat_core::terms::{ActId, Method, StepKind, Surface};

/// (sign-in name, what they are) of the demo; the password of all is [`DEMO_PASSWORD`].
pub const DEMO_SIGN_INS: [(&str, &str, Option<&str>); 5] = [
    ("tomasz", "bench", Some("3512")),
    ("yuki", "bench", Some("4623")),
    ("pell", "apprentice", Some("5734")),
    ("ines", "lead", Some("2408")),
    ("saltmarsh", "viewer (customer)", None),
];

/// Password of every demo person.
pub const DEMO_PASSWORD: &str = "marrow-quay";

const DOCUMENTS: [&str; 13] = [
    include_str!("../demo/overhung-brine-pump.toml"),
    include_str!("../demo/jig-borer-spindle.toml"),
    include_str!("../demo/sheave-shaft.toml"),
    include_str!("../demo/biogas-turbocharger.toml"),
    include_str!("../demo/blade-root.toml"),
    include_str!("../demo/blower-rotor.toml"),
    include_str!("../demo/brake-beam.toml"),
    include_str!("../demo/headstock-spindle.toml"),
    include_str!("../demo/hydraulic-motor-shaft.toml"),
    include_str!("../demo/pedestal-turbocharger.toml"),
    include_str!("../demo/sheave-carrier.toml"),
    include_str!("../demo/six-stage-booster-pump.toml"),
    include_str!("../demo/taper-roller-spindle.toml"),
];

/// The machine types that come with the program.
///
/// # Errors
/// A document that core refuses.
pub fn machine_types() -> Result<Vec<Anatomy>> {
    DOCUMENTS.iter().map(|d| Ok(build_sheet::read(d)?)).collect()
}

/// Instruments, tubes and presses that a new shop starts with; `today` sets their calibration dates.
pub(crate) fn equip(c: &mut MysqlConnection) -> Result<()> {
    let today = crate::now().date();
    let due = |days: i64| {
        if days < 0 { today - Days::new(days.unsigned_abs()) } else { today + Days::new(days.unsigned_abs()) }
    };
    // name, outside, inside, depth, from, to, resolution, U, cost, days until calibration is due, serial number
    #[rustfmt::skip]
    #[allow(clippy::type_complexity)] // a table, read once
    let list: [(&str, bool, bool, bool, f64, f64, f64, f64, f64, i64, &str); 10] = [
        ("Calliper 0–150", true, true, true, 0.0, 150.0, 0.01, 0.03, 1.0, 210, "MQ-011"),
        ("Outside micrometer 25–50", true, false, false, 25.0, 50.0, 0.001, 0.003, 5.0, 160, "MQ-021"),
        ("Outside micrometer 25–50, bench drawer", true, false, false, 25.0, 50.0, 0.001, 0.003, 6.0, -41, "MQ-022"),
        ("Outside micrometer 50–75", true, false, false, 50.0, 75.0, 0.001, 0.003, 5.5, 98, "MQ-023"),
        ("Outside micrometer 75–125", true, false, false, 75.0, 125.0, 0.001, 0.004, 6.5, 120, "MQ-024"),
        ("Bore gauge 35–60", false, true, false, 35.0, 60.0, 0.001, 0.004, 8.0, 75, "MQ-031"),
        ("Bore gauge 60–120", false, true, false, 60.0, 120.0, 0.001, 0.004, 8.5, 75, "MQ-032"),
        ("Bore comparator 18–60", false, true, false, 18.0, 60.0, 0.0005, 0.0015, 30.0, 240, "MQ-033"),
        ("Electronic gauge", true, true, false, 10.0, 120.0, 0.0001, 0.0006, 60.0, 300, "MQ-041"),
        ("Depth micrometer 0–150", false, false, true, 0.0, 150.0, 0.01, 0.006, 4.0, 140, "MQ-051"),
    ];
    for (name, outside, inside, depth, lo_mm, hi_mm, resolution_mm, u_mm, cost, days, serial) in list {
        write::shop::add_instrument(
            c,
            &Instrument {
                id: Id::new(),
                name: name.into(),
                outside,
                inside,
                depth,
                lo_mm,
                hi_mm,
                resolution_mm,
                u_mm,
                cost,
                due_on: due(days),
                serial: serial.into(),
                origin: String::new(),
                away: String::new(),
            },
        )?;
    }
    for (name, bore, outside, length) in [
        ("Tube 41 × 47, 120 long", 41.0, 47.0, 120.0),
        ("Tube 42 × 52, 160 long", 42.0, 52.0, 160.0),
        ("Tube 46 × 54, 120 long", 46.0, 54.0, 120.0),
        ("Tube 51 × 60, 250 long", 51.0, 60.0, 250.0),
        ("Tube 51 × 67, 160 long", 51.0, 67.0, 160.0),
        ("Old ring, slit, 45", 45.2, 75.0, 16.0),
    ] {
        write::shop::add_tool(c, name, bore, outside, length)?;
    }
    write::shop::add_press(c, "arbor press, 5 kN", 5_000.0)?;
    write::shop::add_press(c, "bench press, 12.5 kN", 12_500.0)
}

/// Sets up a shop with its first lead, the machine types and a usual set of instruments.
///
/// # Errors
/// Refused fields; a conflict when it is set up already.
pub fn first_run(c: &mut MysqlConnection, shop_name: &str, lead: &NewPerson) -> Result<PersonId> {
    transaction(c, |c| {
        if read::people::any(c)? {
            return Err(StoreError::Conflict("the shop is set up already: sign in".into()));
        }
        write::shop::create(c, shop_name, false)?;
        equip(c)?;
        for a in machine_types()? {
            write::rebuilds::add_anatomy(c, None, a)?;
        }
        write::people::add(c, lead)
    })
}

struct Hands<'a> {
    c: &'a mut MysqlConnection,
    instruments: Vec<Instrument>,
}

impl Hands<'_> {
    /// Fills a grid: `base` in mm and twelve deviations in µm, in the order hands move.
    #[allow(clippy::too_many_arguments)] // one call a line reads like the sheet it fills
    fn grid(
        &mut self,
        who: &Person,
        rebuild: RebuildId,
        seat: &str,
        which: Surface,
        instrument: &str,
        base: f64,
        um: [f64; 12],
    ) -> Result<()> {
        let kind = SheetKind::Grid(which);
        let id = self.instruments.iter().find(|i| i.name.starts_with(instrument)).map(|i| i.id);
        let list: Vec<_> = kind
            .cells()
            .iter()
            .zip(um)
            .map(|(cell, d)| (kind, reading(&cell.key, format!("{:.4}", base + d / 1000.0), id)))
            .collect();
        record_readings(self.c, who, rebuild, seat, &list)
    }

    fn command(&mut self, who: &Person, rebuild: RebuildId, command: &Command) -> Result<()> {
        work::work(self.c, who, rebuild, command)
    }

    /// Chooses heat and puts the ring on.
    fn hot(&mut self, who: &Person, rebuild: RebuildId, seat: &str, celsius: &str) -> Result<()> {
        self.command(who, rebuild, &Command::Choose { seat: seat.into(), method: Method::Heat })?;
        self.command(who, rebuild, &Command::OnHeater { seat: seat.into() })?;
        self.tick(who, rebuild, seat, StepKind::Heat, celsius)?;
        self.tick(who, rebuild, seat, StepKind::PutOn, "")
    }

    fn tick(&mut self, who: &Person, rebuild: RebuildId, seat: &str, step: StepKind, temperature: &str) -> Result<()> {
        let s = bench::load(self.c, rebuild)?.state;
        let act = s.act_of(seat, step).ok_or(StoreError::NotFound)?;
        let faces = s.facing(act).and_then(|f| f.sheet).map_or(String::new(), |e| e.letter().to_owned());
        let said = Ticking { temperature: temperature.into(), faces, ..Ticking::default() };
        self.command(who, rebuild, &Command::Tick { act: act.id.clone(), said })
    }

    fn home(&mut self, who: &Person, rebuild: RebuildId, seat: &str, depth: f64) -> Result<()> {
        let id = self.instruments.iter().find(|i| i.depth && i.u_mm < 0.01).map(|i| i.id);
        let list: Vec<_> = SheetKind::Home
            .cells()
            .iter()
            .enumerate()
            .map(|(i, cell)| match cell.takes {
                Takes::Feeler => (SheetKind::Home, reading(&cell.key, "out".into(), None)),
                _ => (SheetKind::Home, reading(&cell.key, format!("{:.2}", depth + [0.0, 0.01, 0.0][i % 3]), id)),
            })
            .collect();
        record_readings(self.c, who, rebuild, seat, &list)
    }
}

/// What was found on a demo machine: as drawn, and worn where it runs.
fn as_found(t: &State, question: &str) -> (AnswerState, String, String) {
    let Some(q) = t.question(question) else { return (AnswerState::CannotTell, String::new(), String::new()) };
    let a = t.anatomy();
    let (about, what) = question.rsplit_once('.').unwrap_or((question, ""));
    let found = |value: String| (AnswerState::Recorded, value, String::new());
    let number = a.parts.iter().position(|p| p.id == q.about).unwrap_or(0);
    match (q.topic.ask(), what) {
        (Ask::Facing, _) => {
            found(format!("end {}", a.part(&q.about).and_then(|p| p.faces).unwrap_or_default().letter()))
        }
        (Ask::Reading, _) if about == "float" => {
            let worn = a.floats.iter().find(|f| f.id == what).map_or(0.0, |f| f.hi_mm.get() * 1.3);
            found(format!("{worn:.2} mm"))
        }
        (Ask::Reading, _) => {
            found(format!("{:.0} um", a.runouts.iter().find(|r| r.id == what).map_or(0.0, |r| r.limit_um.get() * 1.4)))
        }
        (Ask::Points, _) => {
            let least = a.gaps.iter().find(|g| g.id == what).map_or(0.2, |g| g.min_mm.get());
            found(format!("{:.2} mm; {:.2} mm; {:.2} mm; {:.2} mm", least * 1.2, least * 0.9, least * 1.1, least * 1.1))
        }
        (Ask::Length, "thickness") => found("1.85 mm".into()),
        (Ask::Length, _) => found(format!("{:.1} mm", 1.5 + 0.4 * (number % 4) as f64)),
        (Ask::Angle, _) => found(format!("{}", (number * 45) % 360)),
        (Ask::Ohms, _) => found("109.8".into()),
        (Ask::Hand, _) => found("right".into()),
        (Ask::Closure, _) => found("open".into()),
        (Ask::Text, "halves") => found("one punch on cap and block, both towards end A".into()),
        (Ask::Text, "mark") => found("scribed across nut and shaft, second tab in the slot".into()),
        (Ask::Text, "wire") => found("wire 4, clipped along the left side".into()),
        (Ask::Text, "order") => found("numbered clockwise from the top, 1 to 6".into()),
        (Ask::Text, "place") => found("between shoulder and ring".into()),
        (Ask::Text, _) if question.contains(".port.") => found("tagged with wire, blue".into()),
        (Ask::Text, _) => (AnswerState::CannotTell, String::new(), "covered with scale".into()),
    }
}

/// A number that a good fitter would have read: within its limits, and of a size that such a thing has.
fn likely(t: &State, s: &Act, m: &Measure) -> f64 {
    let part = t.anatomy().part(&s.body);
    match (m.lo, m.hi, m.unit) {
        (Some(lo), Some(hi), _) => f64::midpoint(lo, hi),
        (Some(lo), None, Unit::Mm) => (lo + 0.1).max(lo * 1.2),
        (Some(lo), None, _) => (lo * 1.2).round(),
        (None, Some(hi), _) => hi * 0.5,
        (None, None, Unit::Mm) => part.and_then(|p| p.back_off_mm).map_or(0.5, |b| b.get()),
        (None, None, Unit::NewtonMetre) => 0.18,
        (None, None, _) => 3.0,
    }
}

/// What was said of parts that lay on the bench: rebuild, part, what becomes of it, why, marks.
const FATES: [(&str, &str, Fate, &str, &[&str]); 3] = [
    ("R-0398", "brg-a", Fate::Replace, "ring crept in its seat; 6310-2RS C3", &["fretted"]),
    ("R-0398", "brg-b", Fate::Replace, "flutes all along the path; 6310-2RS C3", &["flutes"]),
    ("R-0398", "sheave", Fate::Dress, "burr stoned off the keyway, both ends", &[]),
];

/// How far a demo rebuild has come.
#[derive(Clone, Copy)]
enum Upto<'a> {
    /// Apart, inspected, parts checked.
    Parts,
    /// Up to this act, which is not done.
    Act(&'a str),
    /// All of it.
    End,
}

/// Ticks acts in the offered order up to one that is named, or a whole phase: the demo's rebuilds stand in the middle
/// of their work. A seat's own steps are left to their sheets.
fn catch_up(c: &mut MysqlConnection, who: &Person, rebuild: RebuildId, upto: Upto) -> Result<()> {
    let b = bench::load(c, rebuild)?;
    let (t, number) = (b.state, b.rebuild.number);
    let mut ticks = Vec::new();
    for s in t.acts.iter().filter(|s| !t.is_done(&s.id)) {
        let wanted = match upto {
            Upto::Act(id) if s.id == id => break,
            Upto::Act(_) | Upto::End => true,
            Upto::Parts => s.phase == Phase::Apart || s.stage == Stage::Parts,
        };
        if !wanted || s.seat.is_some() {
            continue;
        }
        if let Some(q) = ActId::of(&s.id).as_ref().and_then(ActId::asks) {
            let (state, value, note) = as_found(&t, q);
            write_down(c, who, rebuild, &mut ticks)?;
            work::work(c, who, rebuild, &Command::Answer { question: q.into(), state, value, note })?;
            continue;
        }
        let said = FATES.iter().find(|f| f.0 == number && s.id.strip_prefix("look.") == Some(f.1));
        if let Some((_, part, fate, reason, marks)) = said {
            write_down(c, who, rebuild, &mut ticks)?;
            let marks = marks.iter().map(|m| (*m).to_owned()).collect();
            let command = Command::Dispose { part: (*part).into(), fate: Some(*fate), reason: (*reason).into(), marks };
            work::work(c, who, rebuild, &command)?;
            if *fate == Fate::Replace {
                let question = ironseat_core::anatomy::acts::new_of(part);
                let value = "6310-2RS C3, batch 26-114".to_owned();
                let state = AnswerState::Recorded;
                work::work(c, who, rebuild, &Command::Answer { question, state, value, note: String::new() })?;
            }
            continue;
        }
        let value = match t.limits(s) {
            Some(m) if m.lo.or(m.hi).is_none() && !m.beside.is_empty() => {
                bench::load(c, rebuild)?.state.found(&m.beside).map(|v| v[0])
            }
            Some(m) => Some(likely(&t, s, &m)),
            None => None,
        };
        let tick = Ticked {
            step: s.id.clone(),
            second: if s.people > 1 { "Yuki Halloran".into() } else { String::new() },
            value,
            faces: t.facing(s).and_then(|f| f.sheet).map(|e| e.letter().to_string()),
            ..Ticked::default()
        };
        ticks.push(tick);
    }
    write_down(c, who, rebuild, &mut ticks)
}

/// Ticks with their entries, all in one transaction.
fn write_down(c: &mut MysqlConnection, who: &Person, rebuild: RebuildId, ticks: &mut Vec<Ticked>) -> Result<()> {
    if ticks.is_empty() {
        return Ok(());
    }
    transaction(c, |c| {
        let mut locked = chain::rebuild::open(c, rebuild)?;
        for tick in ticks.drain(..) {
            ticks::put_tick(c, rebuild, who, &tick)?;
            locked.note(who.id, &Event::Ticked(tick));
        }
        locked.write(c)
    })
}

fn reading(cell: &str, text: String, instrument: Option<InstrumentId>) -> NewReading {
    NewReading {
        id: Id::new(),
        cell: cell.into(),
        text,
        instrument,
        over: None,
        sure: false,
        units: Units::Metric,
        reason: String::new(),
    }
}

/// What is stamped on the machines of the demo; the tool room's spindle has none.
fn serial(number: &str) -> &'static str {
    match number {
        "R-0412" => "SI-2207",
        "R-0398" => "HH-S1",
        "R-0415" => "FL-0091",
        "R-0418" => "QB-TC-3",
        "R-0419" => "HH-B2",
        _ => "",
    }
}

/// Loads the demo shop into an empty database.
///
/// # Errors
/// A conflict when somebody is there already.
#[expect(clippy::too_many_lines, reason = "the demo shop, told from its beginning")]
pub fn load_demo(c: &mut MysqlConnection) -> Result<()> {
    if read::people::any(c)? {
        return Err(StoreError::Conflict("there is a shop in this database already".into()));
    }
    write::shop::create(c, "Marrow Quay Rotating Works", true)?;
    equip(c)?;
    let names = ["Tomasz Brandt", "Yuki Halloran", "Pell Adeyemi", "Ines Okafor", "Saltmarsh Ice & Cold Store"];
    let mut staff = Vec::new();
    for ((handle, role, pin), name) in DEMO_SIGN_INS.iter().zip(names) {
        let role = if role.starts_with("lead") {
            Role::Lead
        } else if role.starts_with("apprentice") {
            Role::Apprentice
        } else if role.starts_with("bench") {
            Role::Bench
        } else {
            Role::Viewer
        };
        let customer = if role == Role::Viewer { Some(crate::write::customers::called(c, None, name)?) } else { None };
        let id = write::people::add(
            c,
            &NewPerson {
                handle: (*handle).into(),
                name: name.into(),
                role,
                password: DEMO_PASSWORD.into(),
                pin: pin.map(Into::into),
                units: Units::Metric,
                customer,
            },
        )?;
        staff.push(read::people::get(c, id)?.ok_or(StoreError::NotFound)?);
    }
    let [tomasz, yuki, pell, ines, _] = &staff[..] else { return Err(StoreError::NotFound) };
    let leaf = |(um, pieces): (u64, u64)| Leaf { um, pieces };
    stock::set_leaves(c, ines, &[(25, 6), (50, 10), (100, 10), (150, 4), (250, 6), (500, 3), (1000, 2)].map(leaf))?;
    let cover = [
        (0.0, 0.0),
        (70.0, 0.0),
        (140.0, 0.0),
        (140.0, 65.0),
        (140.0, 130.0),
        (70.0, 130.0),
        (0.0, 130.0),
        (0.0, 65.0),
    ];
    stock::keep_pattern(c, ines, &Pattern::new("Gear case cover", cover.to_vec())?)?;
    let mut types = Vec::new();
    for a in machine_types()? {
        types.push(write::rebuilds::add_anatomy(c, None, a)?);
    }
    let today = crate::now().date();
    let mut begin = |number: &str, title: &str, customer: &str, anatomy: AnatomyId, days: u64| -> Result<RebuildId> {
        let id = Id::new();
        write::rebuilds::start(
            c,
            ines,
            &NewRebuild {
                id,
                number: number.into(),
                title: title.into(),
                customer: customer.into(),
                anatomy,
                due_on: today + Days::new(days),
                serial: serial(number).into(),
            },
        )?;
        Ok(id)
    };
    let pump = begin("R-0412", "Brine circulation pump, overhung", "Saltmarsh Ice & Cold Store", types[0], 2)?;
    let spindle = begin("R-0409", "Jig-borer spindle", "own tool room", types[1], 3)?;
    let sheave = begin("R-0398", "Sheave shaft in two pillow blocks", "Hollow Hill Funicular", types[2], 0)?;
    let booster = begin("R-0415", "Six-stage booster pump", "Fennel Lock Water Board", types[11], 6)?;
    let turbo = begin("R-0418", "Biogas engine turbocharger", "Quarrybank Orchard Press", types[3], 9)?;
    let beam = begin("R-0419", "Brake beam of car 2", "Hollow Hill Funicular", types[6], 12)?;
    for x in crate::read::customers::list(c)? {
        let contact = match x.name.as_str() {
            "Saltmarsh Ice & Cold Store" => {
                "Engine room, day shift. Ring the yard bell; the pump has to be back before the herring."
            }
            "Hollow Hill Funicular" => {
                "Upper station, winding engineer. No car runs between the last at night and the first."
            }
            "Fennel Lock Water Board" => "Pump house at the lock, mornings.",
            _ => continue,
        };
        crate::write::customers::set_contact(c, ines, x.id, contact)?;
    }
    for (rebuild, upto) in [
        (pump, Upto::Parts),
        (spindle, Upto::Parts),
        (sheave, Upto::End),
        (booster, Upto::Act("float.thrust")),
        (turbo, Upto::Act("ask.clipI.faces")),
        (beam, Upto::Parts),
    ] {
        catch_up(c, tomasz, rebuild, upto)?;
    }
    // The booster's float lies above its window: the shim comes out again.
    let said = Ticking { second: "Yuki Halloran".into(), value: "0.41; 0.42; 0.40".into(), ..Ticking::default() };
    work::work(c, tomasz, booster, &Command::Tick { act: "float.thrust".into(), said })?;
    let instruments = read::shop::list_instruments(c)?;
    let mut h = Hands { c, instruments };

    // The pump: one ring cooling on the shaft, the drive end still to be measured.
    h.grid(
        tomasz,
        pump,
        "ie",
        Surface::Journal,
        "Outside micrometer 25–50",
        40.008,
        [0.0, 1.0, 0.0, -1.0, 1.0, 1.0, 0.0, 0.0, 0.0, 1.0, 1.0, -1.0],
    )?;
    h.grid(
        tomasz,
        pump,
        "ie",
        Surface::RingBore,
        "Bore comparator",
        39.994,
        [0.0, 0.5, 0.0, -0.5, 0.0, 0.0, 0.5, 0.0, 0.0, 0.5, 0.0, 0.0],
    )?;
    h.hot(tomasz, pump, "ie", "92")?;

    // The spindle: the apprentice took a micrometer where the limits are seven microns apart.
    h.grid(
        pell,
        spindle,
        "f1",
        Surface::Journal,
        "Outside micrometer 50–75",
        50.006,
        [0.0, 0.0, 1.0, 0.0, 0.0, -1.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0],
    )?;
    h.grid(
        yuki,
        spindle,
        "f1",
        Surface::RingBore,
        "Electronic gauge",
        49.997,
        [0.0, 0.2, 0.1, -0.2, 0.0, 0.1, 0.2, 0.0, -0.1, 0.0, 0.1, 0.2],
    )?;

    // The sheave shaft: finished, with its certificate.
    for (seat, who, journal, depth) in [("a", tomasz, 50.007, 19.0), ("b", yuki, 50.008, 79.0)] {
        h.grid(
            who,
            sheave,
            seat,
            Surface::Journal,
            "Outside micrometer 50–75",
            journal,
            [0.0, 1.0, 0.0, 0.0, 1.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0, 1.0],
        )?;
        h.grid(
            who,
            sheave,
            seat,
            Surface::RingBore,
            "Bore comparator",
            49.994,
            [0.0, 0.5, 0.5, 0.0, 0.0, -0.5, 0.0, 0.5, 0.0, 0.0, 0.5, 0.0],
        )?;
        h.hot(who, sheave, seat, "80")?;
        h.command(who, sheave, &Command::Thermometer { seat: seat.into(), temperature: "24".into() })?;
        h.tick(who, sheave, seat, StepKind::Cool, "")?;
        h.home(who, sheave, seat, depth)?;
        h.tick(who, sheave, seat, StepKind::Nip, "")?;
        let pin = if seat == "a" { "3512" } else { "4623" };
        work::signed(h.c, who, sheave, &Command::Sign { seat: seat.into() }, pin)?;
    }
    work::signed(h.c, ines, sheave, &Command::Release { reason: String::new() }, "2408")
}

/// Generates rebuilds of the first machine type with readings, for measuring speed. Returns their ids.
///
/// # Errors
/// Database errors; needs a lead.
pub fn bench_data(
    c: &mut MysqlConnection,
    lead: &Person,
    rebuild_count: usize,
    readings_each: usize,
    mut progress: impl FnMut(usize),
) -> Result<Vec<RebuildId>> {
    let (anatomy, _) =
        read::rebuilds::list_anatomies(c)?.into_iter().find(|(_, n)| n.contains("pump")).ok_or(StoreError::NotFound)?;
    let due = crate::now().date() + Days::new(30);
    let instruments = read::shop::list_instruments(c)?;
    let pick = |name: &str| instruments.iter().find(|i| i.name.starts_with(name)).map(|i| i.id);
    let by_sheet = [
        (SheetKind::Grid(Surface::Journal), 40.010, pick("Outside micrometer 25–50")),
        (SheetKind::Grid(Surface::RingBore), 39.994, pick("Bore comparator")),
        (SheetKind::Grid(Surface::HousingBore), 80.015, pick("Bore gauge 60")),
        (SheetKind::Grid(Surface::RingOutside), 79.994, pick("Outside micrometer 75")),
    ];
    let mut ids = Vec::new();
    for n in 0..rebuild_count {
        let id = Id::new();
        write::rebuilds::start(
            c,
            lead,
            &NewRebuild {
                id,
                number: format!("G-{n:05}"),
                title: format!("Generated pump {n}"),
                customer: "Fennel Lock Water Board".into(),
                anatomy,
                due_on: due,
                serial: String::new(),
            },
        )?;
        let mut left = readings_each;
        'seats: for seat in ["ie", "de"] {
            let mut list: Vec<(SheetKind, NewReading)> = Vec::new();
            let mut last = std::collections::HashMap::new();
            // Rounds: the first fills the cells, the next ones correct them.
            for round in 0.. {
                for (kind, base, instrument) in &by_sheet {
                    for (i, cell) in kind.cells().iter().enumerate() {
                        if left == 0 || list.len() >= readings_each.div_ceil(2) {
                            record_readings(c, lead, id, seat, &list)?;
                            if left == 0 { break 'seats } else { continue 'seats }
                        }
                        let mut new = reading(
                            &cell.key,
                            format!("{:.4}", base + ((n + i + round) % 3) as f64 / 1000.0),
                            *instrument,
                        );
                        new.over = last.insert((kind.key(), cell.key.clone()), new.id);
                        list.push((*kind, new));
                        left -= 1;
                    }
                }
            }
        }
        ids.push(id);
        progress(n + 1);
    }
    Ok(ids)
}
