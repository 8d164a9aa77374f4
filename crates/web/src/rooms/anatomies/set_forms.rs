//! Forms of the drawing board that are described by data: what is set beside lands and parts, and what a part, land or
//! housing has beyond its size. Each form knows its fields; what comes back is turned into one change.

use crate::rooms::anatomies::InHand;
use crate::rooms::anatomies::form::{EditForm, end, mm, some};
use askama::Template;
use ironseat_core::Refusal;
use ironseat_core::anatomy::edit::{Edit, HousingSet, PartMore};
use ironseat_core::anatomy::items::{Item, List};
use ironseat_core::anatomy::{
    Anatomy, BoltRing, Bore, Condition, Depth, Fitted, FloatOf, GapOf, Hole, HoleKind, Housing, Land, LandKind,
    LockedBy, Lubricant, PairOf, Part, Role, Rotation, Rule, RunoutOf, Seat, Stands, ThrustSet, TurnedBy,
};
use ironseat_core::fasten::Hand;
use ironseat_core::fit::Material;
use ironseat_core::quantity::{Micrometres, Millimetres, number, parse_length};
use ironseat_core::terms::End;
use std::collections::BTreeMap;

type Result<T> = std::result::Result<T, Refusal>;

/// One field.
#[allow(missing_docs)] // named as on the page
pub struct Field {
    pub name: String,
    pub label: &'static str,
    pub kind: InputKind,
}

impl Field {
    /// Holds a sentence rather than a number: it gets a line of its own.
    pub fn long(&self) -> bool {
        matches!(self.name.as_str(), "source" | "reason" | "bores" | "against")
    }
}

/// How a field is filled in.
#[allow(missing_docs)] // named as on the page
pub enum InputKind {
    Text(String),
    Pick(Vec<Choice>),
    Tick(bool),
    /// Several at once: (name, word, on).
    Many(Vec<Choice>),
}

/// One form.
#[allow(missing_docs)] // named as on the page
pub struct SetForm {
    pub op: &'static str,
    pub list: &'static str,
    pub key: String,
    /// What it sets, as a sentence; on it the form folds open.
    pub title: String,
    pub fields: Vec<Field>,
    pub open: bool,
    /// Its fields are fetched when it is folded open: a large machine has hundreds of forms, each with all its parts.
    pub later: bool,
    /// Can be taken out.
    pub takes: bool,
    pub field: String,
    pub error: String,
}

impl SetForm {
    /// Whether the sentence stands beside this field.
    pub fn at(&self, name: &str) -> bool {
        self.open && self.field == name
    }
    /// The sentence belongs to no field: it stands at the head.
    pub fn stray(&self) -> bool {
        !self.error.is_empty() && !self.fields.iter().any(|x| x.name == self.field)
    }
}

/// The forms of one list with its heading.
#[allow(missing_docs)] // named as on the page
pub struct Group {
    pub word: &'static str,
    pub note: &'static str,
    pub forms: Vec<SetForm>,
}

fn num(v: f64) -> String {
    format!("{v}")
}

struct Maker<'a> {
    a: &'a Anatomy,
    typed: Option<&'a BTreeMap<String, String>>,
    fields: Vec<Field>,
}

impl<'a> Maker<'a> {
    fn text(mut self, name: &'static str, label: &'static str, now: String) -> Self {
        let value = self.typed.map_or(now, |t| t.get(name).cloned().unwrap_or_default());
        self.fields.push(Field { name: name.into(), label, kind: InputKind::Text(value) });
        self
    }
    fn pick(mut self, name: &'static str, label: &'static str, choices: Vec<(String, String)>, now: &str) -> Self {
        let chosen = self.typed.map_or(now.to_owned(), |t| t.get(name).cloned().unwrap_or_default());
        let kind = InputKind::Pick(choices.into_iter().map(|(v, w)| (v.clone(), w, v == chosen)).collect());
        self.fields.push(Field { name: name.into(), label, kind });
        self
    }
    fn tick(mut self, name: &'static str, label: &'static str, now: bool) -> Self {
        let on = self.typed.map_or(now, |t| t.contains_key(name));
        self.fields.push(Field { name: name.into(), label, kind: InputKind::Tick(on) });
        self
    }
    fn many(mut self, name: &'static str, label: &'static str, choices: Vec<(String, String)>, now: &[String]) -> Self {
        let list = choices
            .into_iter()
            .map(|(id, word)| {
                let key = format!("{name}:{id}");
                let on = self.typed.map_or(now.contains(&id), |t| t.contains_key(&key));
                (key, word, on)
            })
            .collect();
        self.fields.push(Field { name: name.into(), label, kind: InputKind::Many(list) });
        self
    }

    fn parts(&self, of: impl Fn(&Part) -> bool) -> Vec<(String, String)> {
        self.a.parts.iter().filter(|p| of(p)).map(|p| (p.id.clone(), p.name.clone())).collect()
    }
    fn all(&self) -> Vec<(String, String)> {
        let cases = self.a.housings.iter().map(|h| (h.id.clone(), h.name.clone()));
        self.parts(|_| true).into_iter().chain(cases).collect()
    }
    fn cases(&self) -> Vec<(String, String)> {
        self.a.housings.iter().map(|h| (h.id.clone(), h.name.clone())).collect()
    }
}

fn with_none(list: Vec<(String, String)>) -> Vec<(String, String)> {
    std::iter::once((String::new(), "none".to_owned())).chain(list).collect()
}

fn words(list: &[(&str, &str)]) -> Vec<(String, String)> {
    list.iter().map(|(v, w)| ((*v).to_owned(), (*w).to_owned())).collect()
}

const TURNED: [(&str, &str); 3] =
    [("outside", "a spanner round it"), ("face", "pins or a socket in its face"), ("window", "through a window")];
const ENDS: [(&str, &str); 2] = [("A", "end A"), ("B", "end B")];
const HOLES: [(HoleKind, &str); 3] = [(HoleKind::Drain, "drain"), (HoleKind::Feed, "feed"), (HoleKind::Port, "port")];

fn materials() -> Vec<(String, String)> {
    Material::ALL.iter().map(|(k, _)| ((*k).to_owned(), k.replace('_', " "))).collect()
}
fn material_key(m: Material) -> &'static str {
    Material::ALL.iter().find(|x| x.1 == m).map_or("", |x| x.0)
}

/// The sentence on which a form folds open.
fn title(a: &Anatomy, item: &Item) -> String {
    let n = |id: &str| a.name_of(id).to_owned();
    match item {
        Item::Float(x) => format!("{}, {} to {} mm", x.name, x.lo_mm.get(), x.hi_mm.get()),
        Item::Runout(x) => format!("{} on {}, at most {} µm", x.name, n(&x.part), x.limit_um.get()),
        Item::Gap(x) => format!("{}, at least {} mm", x.name, x.min_mm.get()),
        Item::Hole(x) => format!("{} of {}, at {}°", x.name, n(&x.housing), x.at_deg),
        Item::Bolts(x) => format!("{} bolts of {}, {} N·m", x.n, n(&x.part), x.torque_nm),
        Item::Rule(x) => format!("{} before {}", n(&x.first), n(&x.then)),
        Item::Pair(x) => format!("{} and {}, {}", n(&x.a), n(&x.b), x.arrangement),
        Item::Thrust(x) => {
            format!("{} larger than {}, towards {}", n(&x.larger), n(&x.smaller), x.larger_towards.letter())
        }
        Item::Seat(x) => format!("{}, {} / {}", x.name, x.shaft_class, x.housing_class),
    }
}

/// An empty one of a list, to be filled in; none when the drawing has nothing it could be about.
#[expect(clippy::too_many_lines, reason = "an arm a list")]
fn fresh(a: &Anatomy, list: List) -> Option<Item> {
    let (zero, text) = (Millimetres::default(), String::new);
    let part = |of: &dyn Fn(&Part) -> bool| a.parts.iter().find(|p| of(p)).map(|p| p.id.clone());
    let any = || part(&|_| true).or_else(|| a.housings.first().map(|h| h.id.clone()));
    Some(match list {
        List::Floats => Item::Float(FloatOf {
            id: text(),
            name: text(),
            lo_mm: zero,
            hi_mm: zero,
            shim: None,
            thicker_reduces: true,
            after: vec![],
            source: text(),
            without: vec![],
            trial: vec![],
            condition: Condition::Tight,
        }),
        List::Runouts => Item::Runout(RunoutOf {
            id: text(),
            name: text(),
            part: part(&|_| true)?,
            limit_um: Micrometres::default(),
            source: text(),
            reads: None,
            without: vec![],
            trial: vec![],
            condition: Condition::Tight,
        }),
        List::Gaps => Item::Gap(GapOf {
            id: text(),
            name: text(),
            min_mm: zero,
            after: vec![],
            source: text(),
            without: vec![],
            trial: vec![],
            condition: Condition::Tight,
        }),
        List::Holes => {
            Item::Hole(Hole { id: text(), name: text(), housing: any()?, kind: HoleKind::Drain, at_deg: 180.0 })
        }
        List::Bolts => Item::Bolts(BoltRing {
            part: any()?,
            to: None,
            n: 0,
            torque_nm: 0.0,
            torque_hi_nm: None,
            circle_mm: None,
            head: None,
            compound: None,
        }),
        List::Rules => {
            let _ = a.parts.get(1)?;
            Item::Rule(Rule { first: text(), then: text(), reason: text() })
        }
        List::Pairs => {
            let mut rings = a.parts.iter().filter(|p| paired(p));
            let (x, y) = (rings.next()?, rings.next()?);
            Item::Pair(PairOf { a: x.id.clone(), b: y.id.clone(), arrangement: "DB".into(), spacers: vec![] })
        }
        List::Thrusts => {
            let mut discs = a.parts.iter().filter(|p| thrusts(p));
            let (x, y) = (discs.next()?, discs.next()?);
            Item::Thrust(ThrustSet { smaller: x.id.clone(), larger: y.id.clone(), larger_towards: End::A })
        }
        List::Seats => Item::Seat(Box::new(Seat {
            id: text(),
            name: text(),
            part: part(&|p| p.kind.role() == Role::Rolling && !a.seats.iter().any(|s| s.part == p.id))?,
            housing: a.housings.first()?.id.clone(),
            shaft_class: "k5".into(),
            housing_class: "H6".into(),
            shaft_bore_mm: zero,
            shaft_material: Material::CarbonSteel,
            finish: Default::default(),
            cage: Default::default(),
            from: End::A,
            against: text(),
            nut: text(),
            depth: Depth { datum: text(), expected_mm: zero, tolerance_mm: zero },
            preload_meant: false,
            inner_hotter_k: Default::default(),
            critical: false,
            source: text(),
        })),
    })
}

fn paired(p: &Part) -> bool {
    matches!(p.kind.role(), Role::Rolling | Role::Cone)
}
fn thrusts(p: &Part) -> bool {
    matches!(p.kind.role(), Role::ThrustWasher | Role::Plate | Role::Collar | Role::SealRing)
}

fn blank(v: f64) -> String {
    if v == 0.0 { String::new() } else { num(v) }
}

#[expect(clippy::too_many_lines, reason = "an arm a list")]
fn item_fields(m: Maker<'_>, item: &Item) -> Vec<Field> {
    let all = m.all();
    let done = match item {
        Item::Float(x) => {
            let shims = with_none(m.parts(|p| matches!(p.kind.role(), Role::Shim | Role::Spacer | Role::SealRing)));
            m.text("name", "What floats", x.name.clone())
                .text("lo", "At least, mm", blank(x.lo_mm.get()))
                .text("hi", "At most, mm", blank(x.hi_mm.get()))
                .pick("shim", "Set by", shims, x.shim.as_deref().unwrap_or(""))
                .tick("thicker", "a thicker shim gives less", x.thicker_reduces)
                .text("source", "Source and date", x.source.clone())
                .tick("nipped", "read with the nuts nipped only", x.condition == Condition::Nipped)
                .tick("slack", "read with its own nut slack", x.condition == Condition::Slack)
                .many("after", "Bounded by these (none chosen: the bearings)", all.clone(), &x.after)
                .many("without", "Read before these are in", all.clone(), &x.without)
                .many("trial", "Slipped on to carry the shaft for it", all, &x.trial)
        }
        Item::Runout(x) => {
            let parts = m.parts(|_| true);
            let lands = m.a.lands.iter().map(|l| (l.id.clone(), format!("land {}", l.name)));
            let touched = all.iter().cloned().chain(lands).collect();
            m.text("name", "What is swept", x.name.clone())
                .pick("of", "Rests on", parts, &x.part)
                .pick("reads", "The dial touches", with_none(touched), x.reads.as_deref().unwrap_or(""))
                .text("limit", "At most, µm", blank(x.limit_um.get()))
                .text("source", "Source and date", x.source.clone())
                .tick("nipped", "read with the nuts nipped only", x.condition == Condition::Nipped)
                .many("without", "Read before these are in", all.clone(), &x.without)
                .many("trial", "Slipped on to carry the shaft for it", all, &x.trial)
        }
        Item::Gap(x) => m
            .text("name", "Which gap", x.name.clone())
            .text("min", "At least, mm", blank(x.min_mm.get()))
            .text("source", "Source and date", x.source.clone())
            .tick("nipped", "read with the nuts nipped only", x.condition == Condition::Nipped)
            .many("after", "Made by these (none chosen: all)", all.clone(), &x.after)
            .many("without", "Read before these are in", all.clone(), &x.without)
            .many("trial", "Slipped on to carry the shaft for it", all, &x.trial),
        Item::Hole(x) => {
            let kinds = HOLES.iter().map(|k| (k.1.to_owned(), k.1.to_owned())).collect();
            m.text("name", "Name", x.name.clone())
                .pick("case", "In", all, &x.housing)
                .pick("hole", "For", kinds, HOLES.iter().find(|k| k.0 == x.kind).map_or("", |k| k.1))
                .text("at_deg", "Points to, degrees from the top", num(x.at_deg))
        }
        Item::Bolts(x) => m
            .pick("of", "Hold", all.clone(), &x.part)
            .pick("to", "Fastened to (by its face)", with_none(all), x.to.as_deref().unwrap_or(""))
            .text("n", "Bolts", blank(f64::from(x.n)))
            .text("torque", "Torque, N·m", blank(x.torque_nm))
            .text("torque_hi", "at most, N·m (a tenth more)", x.torque_hi_nm.map_or(String::new(), num))
            .text("circle", "Bolt circle, mm", x.circle_mm.map_or(String::new(), |v| num(v.get())))
            .pick("head", "Heads look to", with_none(words(&ENDS)), x.head.map_or("", End::letter))
            .text("compound", "On the threads", x.compound.clone().unwrap_or_default()),
        Item::Rule(x) => m
            .pick("first", "First", with_none(all.clone()), &x.first)
            .pick("then", "Then", with_none(all), &x.then)
            .text("reason", "Because", x.reason.clone()),
        Item::Pair(x) => {
            let (rings, spacers) = (m.parts(paired), m.parts(|p| p.kind.role() == Role::Spacer));
            let m = m.pick("a", "One", rings.clone(), &x.a).pick("b", "The other", rings, &x.b).pick(
                "arrangement",
                "Meant",
                words(&[("DB", "back-to-back, a diamond"), ("DF", "face-to-face, an X"), ("DT", "tandem")]),
                &x.arrangement,
            );
            if spacers.is_empty() { m } else { m.many("spacers", "Spacers between them", spacers, &x.spacers) }
        }
        Item::Thrust(x) => {
            let discs = m.parts(thrusts);
            m.pick("smaller", "Smaller", discs.clone(), &x.smaller).pick("larger", "Larger", discs, &x.larger).pick(
                "towards",
                "The larger lies towards",
                words(&ENDS),
                x.larger_towards.letter(),
            )
        }
        Item::Seat(x) => {
            let (rings, cases) = (m.parts(|p| p.kind.role() == Role::Rolling), m.cases());
            m.text("name", "Name", x.name.clone())
                .pick("of", "Bearing", rings, &x.part)
                .pick("case", "In", cases, &x.housing)
                .text("shaft_class", "Journal class", x.shaft_class.clone())
                .text("housing_class", "Bore class", x.housing_class.clone())
                .pick("material", "Shaft of", materials(), material_key(x.shaft_material))
                .text("shaft_bore", "Bore of a hollow shaft, mm", blank(x.shaft_bore_mm.get()))
                .pick("from", "Put on from", words(&ENDS), x.from.letter())
                .text("against", "Driven against", x.against.clone())
                .text("nut", "Held by", x.nut.clone())
                .text("datum", "Depth measured from", x.depth.datum.clone())
                .text("expected", "Depth, mm", blank(x.depth.expected_mm.get()))
                .text("tolerance", "either way, mm", blank(x.depth.tolerance_mm.get()))
                .tick("preload", "runs preloaded on purpose", x.preload_meant)
                .tick("critical", "critical: a lead overrules", x.critical)
                .text("source", "Source and date", x.source.clone())
        }
    };
    done.fields
}

/// What was refused: (field, sentence, form as typed).
pub type Said<'a> = Option<(&'a str, &'a str, &'a EditForm)>;

/// What a form is for.
struct Head<'a> {
    op: &'static str,
    list: &'static str,
    key: &'a str,
    title: String,
    takes: bool,
    /// What of the board is in hand: only that form has its fields at once. None where the form always has them.
    hand: Option<&'a InHand>,
}

fn form(a: &Anatomy, said: Said<'_>, head: Head<'_>, fields: impl FnOnce(Maker<'_>) -> Vec<Field>) -> SetForm {
    let Head { op, list, key, title, takes, hand } = head;
    let mine = said.filter(|s| s.2.op == op && s.2.list == list && s.2.item == key);
    let open = mine.is_some() || hand.is_some_and(|h| h.list == list && h.item == key);
    let later = hand.is_some() && !open;
    let made = || fields(Maker { a, typed: mine.map(|s| &s.2.more), fields: Vec::new() });
    SetForm {
        op,
        list,
        key: key.to_owned(),
        title,
        open,
        later,
        takes,
        fields: if later { Vec::new() } else { made() },
        field: mine.map_or(String::new(), |s| s.0.to_owned()),
        error: mine.map_or(String::new(), |s| s.1.to_owned()),
    }
}

/// All lists with what stands in them, each ending with an empty form.
pub fn groups(a: &Anatomy, said: Said<'_>, hand: &InHand) -> Vec<Group> {
    let items = a.items();
    let heads: [(&str, &str, &[List]); 4] = [
        ("Limits", "with the source they come from", &[List::Floats, List::Runouts, List::Gaps]),
        ("Bearing seats", "get measuring sheets in a rebuild", &[List::Seats]),
        ("Working together", "", &[List::Pairs, List::Thrusts]),
        ("Holes, bolts, rules", "", &[List::Holes, List::Bolts, List::Rules]),
    ];
    heads
        .into_iter()
        .map(|(word, note, lists)| {
            let mut forms = Vec::new();
            for list in lists {
                let (_, name, said_as) = List::ALL.iter().find(|l| l.0 == *list).copied().unwrap_or((*list, "", ""));
                for item in items.iter().filter(|i| i.list() == *list) {
                    forms.push(form(
                        a,
                        said,
                        Head {
                            op: "put",
                            list: name,
                            key: &item.key(),
                            title: title(a, item),
                            takes: true,
                            hand: Some(hand),
                        },
                        |m| item_fields(m, item),
                    ));
                }
                if let Some(item) = fresh(a, *list) {
                    forms.push(form(
                        a,
                        said,
                        Head {
                            op: "put",
                            list: name,
                            key: "",
                            title: format!("Add a {said_as}"),
                            takes: false,
                            hand: Some(hand),
                        },
                        |m| item_fields(m, &item),
                    ));
                }
            }
            Group { word, note, forms }
        })
        .filter(|g| !g.forms.is_empty())
        .collect()
}

/// What the whole shaft has: its turning.
pub fn turning(a: &Anatomy, said: Said<'_>) -> SetForm {
    let now = a.rotation.map_or("", |r| if r.clockwise { "clockwise" } else { "anticlockwise" });
    let says = a.rotation.map_or("Which way it turns is not said".to_owned(), |r| {
        format!("Turns {now} seen from end {}", r.seen_from.letter())
    });
    form(a, said, Head { op: "set-turning", list: "turning", key: "", title: says, takes: false, hand: None }, |m| {
        m.pick(
            "turns",
            "Turns",
            words(&[("", "not said"), ("clockwise", "clockwise"), ("anticlockwise", "anticlockwise")]),
            now,
        )
        .pick("seen_from", "seen from", words(&ENDS), a.rotation.map_or("A", |r| r.seen_from.letter()))
        .text("rpm", "Run in to, rpm", blank(a.run_in_rpm))
        .pick(
            "lubricant",
            "Bearings run in",
            words(&[("", "not said"), ("grease", "grease"), ("oil", "oil")]),
            match a.lubricant {
                Some(Lubricant::Grease) => "grease",
                Some(Lubricant::Oil) => "oil",
                None => "",
            },
        )
        .pick(
            "stands",
            "The shaft",
            words(&[("level", "lies level"), ("vertical", "stands, end A up")]),
            if a.stands == Stands::Vertical { "vertical" } else { "level" },
        )
        .fields
    })
}

/// What a part has beyond its size: only what its kind can have.
pub fn part_more(a: &Anatomy, p: &Part, said: Said<'_>) -> SetForm {
    let role = p.kind.role();
    let nut = role == Role::Nut;
    form(
        a,
        said,
        Head { op: "set-part-more", list: "part", key: &p.id, title: "More of it".into(), takes: false, hand: None },
        |m| {
            let others: Vec<(String, String)> = m.all().into_iter().filter(|o| o.0 != p.id).collect();
            let mut m = m;
            if role == Role::Lip {
                m = m.pick(
                    "keeps",
                    "Keeps in what lies towards",
                    with_none(words(&ENDS)),
                    p.keeps.map_or("", End::letter),
                );
            }
            if nut {
                m = m
                    .text("slots", "Slots", p.slots.map_or(String::new(), |v| v.to_string()))
                    .text("tabs", "Tabs of its washer", p.tabs.map_or(String::new(), |v| v.to_string()))
                    .text("torque", "Torque, N·m", p.torque_nm.map_or(String::new(), num))
                    .text("torque_hi", "at most, N·m (by its lock)", p.torque_hi_nm.map_or(String::new(), num))
                    .tick("match_mark", "tightened from zero to a match mark", p.match_mark)
                    .pick("turned_by", "Turned by", words(&TURNED), TURNED[p.turned_by as usize].0)
                    .pick(
                        "locked_by",
                        "Locked by",
                        with_none(LockedBy::ALL.iter().map(|l| (l.1.to_owned(), l.1.to_owned())).collect()),
                        p.locked_by.and_then(|l| LockedBy::ALL.iter().find(|x| x.0 == l)).map_or("", |l| l.1),
                    )
                    .pick(
                        "against",
                        "Turned against (by its face)",
                        with_none(others.clone()),
                        p.against.as_deref().unwrap_or(""),
                    )
                    .text("compound", "On the thread", p.compound.clone().unwrap_or_default())
                    .text("cure", "cures, minutes", p.cure_min.map_or(String::new(), num));
            }
            if role == Role::Sensor {
                m = m.text("gap_volts", "Gap voltage, V", p.gap_volts.map_or(String::new(), num));
            }
            if p.carried_by.is_some() {
                m = m.tick("in_place", "fitted where its carrier stands", p.fitted == Fitted::InPlace);
            }
            if role == Role::Flinger {
                m = m.text("back_off", "Backed off by, mm", p.back_off_mm.map_or(String::new(), |v| num(v.get())));
            }
            if role == Role::TabWasher {
                m = m.text("tab_bent", "Times its tab was bent", p.tab_bent.to_string());
            }
            m = m.tick("clocked", "stands at an angle that is kept", p.clocked);
            if paired(p) {
                m = m.tick("through_balls", "comes off only through its balls", p.through_balls);
            }
            m = m
                .tick("adjusted", "set by a screw or shims once it is on", p.adjusted)
                .tick("plunger", "has a spring plunger", p.plunger)
                .tick("oiler", "has an oiler that is held down", p.oiler)
                .tick("solid", "one piece with the shaft or its carrier", p.solid)
                .text("tool", "Tool length, mm (25)", p.tool_mm.map_or(String::new(), |v| num(v.get())))
                .text("mass", "Mass, kg (from its size)", p.mass_kg.map_or(String::new(), num))
                .text("minutes", "Hands-on minutes (by kind)", p.minutes.map_or(String::new(), num))
                .text("people", "People (by size)", if p.people == 0 { String::new() } else { p.people.to_string() });
            m.many("locks", "Locks", others.clone(), &p.locks)
                .many("covers", "Covers: these are in before it", others, &p.covers)
                .fields
        },
    )
}

/// What a thread or taper has beyond its size; none for other lands.
pub fn land_more(a: &Anatomy, l: &Land, said: Said<'_>) -> Option<SetForm> {
    let thread = l.kind == LandKind::Thread;
    (thread || l.kind == LandKind::Taper).then(|| {
        form(
            a,
            said,
            Head {
                op: "set-land-more",
                list: "land",
                key: &l.id,
                title: if thread { "Its thread" } else { "Its taper" }.into(),
                takes: false,
                hand: None,
            },
            |m| {
                if thread {
                    m.pick(
                        "hand",
                        "Hand",
                        words(&[("", "not said"), ("right", "right-hand"), ("left", "left-hand")]),
                        l.hand.map_or("", Hand::name),
                    )
                    .text("pitch", "Pitch, mm", l.pitch_mm.map_or(String::new(), |p| num(p.get())))
                    .fields
                } else {
                    m.text("d_b", "Diameter at end B, mm", l.d_b_mm.map_or(String::new(), |p| num(p.get()))).fields
                }
            },
        )
    })
}

/// The one form that is in hand, with its fields; none where nothing of that name is there.
pub fn in_hand(a: &Anatomy, hand: &InHand) -> Option<SetForm> {
    let lists = groups(a, None, hand).into_iter().flat_map(|g| g.forms);
    housings(a, None, hand).into_iter().chain(lists).find(|f| f.open)
}

/// The housings with all they have.
pub fn housings(a: &Anatomy, said: Said<'_>, hand: &InHand) -> Vec<SetForm> {
    let one = |h: &Housing| {
        form(
            a,
            said,
            Head {
                op: "set-housing",
                list: "housing",
                key: &h.id,
                title: h.name.clone(),
                takes: true,
                hand: Some(hand),
            },
            |m| {
                let covered = m.all().into_iter().filter(|o| o.0 != h.id).collect();
                let bores = h
                    .bores
                    .iter()
                    .map(|b| format!("{} to {} bore {}", b.from_mm.get(), b.to_mm.get(), b.d_mm.get()))
                    .collect::<Vec<_>>()
                    .join("; ");
                m.text("name", "Name", h.name.clone())
                    .text("outside", "Outside, mm", num(h.outside_mm.get()))
                    .text("bores", "Bores from end A, mm", bores)
                    .pick("material", "Cast from", materials(), material_key(h.material))
                    .pick(
                        "from",
                        "Goes over the shaft from",
                        words(&[("", "neither: the shaft is laid in"), ("A", "end A"), ("B", "end B")]),
                        h.from.map_or("", End::letter),
                    )
                    .tick("split", "parted along the axis", h.split)
                    .tick("feet", "stands on feet", h.feet)
                    .tick("clocked", "stands at an angle that is kept", h.clocked)
                    .text("mass", "Mass, kg (from its size)", h.mass_kg.map_or(String::new(), num))
                    .many("covers", "Covers: these are in before it", covered, &h.covers)
                    .fields
            },
        )
    };
    a.housings.iter().map(one).collect()
}

/// Reads the fields of a form back.
struct Typed<'a>(&'a BTreeMap<String, String>);

impl Typed<'_> {
    fn text(&self, name: &str) -> String {
        self.0.get(name).map_or(String::new(), |t| t.trim().to_owned())
    }
    fn mm(&self, name: &str) -> Result<Millimetres> {
        mm(name, &self.text(name))
    }
    fn or_none(&self, name: &str) -> Result<Option<Millimetres>> {
        some(&self.text(name)).map(|t| mm(name, &t)).transpose()
    }
    fn or_zero(&self, name: &str) -> Result<Millimetres> {
        Ok(self.or_none(name)?.unwrap_or_default())
    }
    fn number(&self, name: &str, what: &str) -> Result<Option<f64>> {
        let t = self.text(name);
        if t.is_empty() {
            return Ok(None);
        }
        number(&t).map(Some).ok_or_else(|| Refusal::new(name, format!("expected {what}")))
    }
    fn count(&self, name: &str, what: &str) -> Result<Option<u32>> {
        let t = self.text(name);
        if t.is_empty() {
            return Ok(None);
        }
        t.parse::<u32>().map(Some).map_err(|_| Refusal::new(name, format!("expected {what}, a whole number")))
    }
    fn on(&self, name: &str) -> bool {
        self.0.contains_key(name)
    }
    fn end(&self, name: &str) -> Option<End> {
        end(&self.text(name))
    }
    fn many(&self, name: &str) -> Vec<String> {
        self.0.keys().filter_map(|k| k.strip_prefix(name)?.strip_prefix(':')).map(str::to_owned).collect()
    }
    fn material(&self) -> Result<Material> {
        let key = self.text("material");
        Material::ALL
            .iter()
            .find(|m| m.0 == key)
            .map(|m| m.1)
            .ok_or_else(|| Refusal::new("material", "expected a material of the list"))
    }
}

/// Bores as written: `22 to 120 bore 184; 120 to 168 bore 92`.
pub fn bores(text: &str) -> Result<Vec<Bore>> {
    let bad = |what: &str| {
        Refusal::new("bores", format!("“{what}”: expected bores such as 22 to 120 bore 184; 120 to 168 bore 92"))
    };
    text.split(';')
        .map(str::trim)
        .filter(|t| !t.is_empty())
        .map(|t| {
            let numbers: Vec<f64> = t.split_whitespace().filter_map(number).collect();
            let &[from, to, d] = &numbers[..] else { return Err(bad(t)) };
            let len = |v: f64| Millimetres::new(v).map_err(|_| bad(t));
            Ok(Bore { from_mm: len(from)?, to_mm: len(to)?, d_mm: len(d)? })
        })
        .collect()
}

/// The change that one of these forms asks for; none when it is another form.
#[expect(clippy::too_many_lines, reason = "an arm a form")]
pub fn edit(f: &EditForm, a: &Anatomy) -> Result<Option<Edit>> {
    let t = Typed(&f.more);
    let gone = || Refusal::new("board", "this is not there any more: somebody changed it");
    let list = || List::of(&f.list).ok_or_else(gone);
    Ok(Some(match f.op.as_str() {
        "take" if f.list == "housing" => Edit::DropHousing { id: f.item.clone() },
        "take" => Edit::Take { list: list()?, key: f.item.clone() },
        "put" => Edit::Put { over: f.item.clone(), item: Box::new(item(&t, list()?, a, &f.item)?) },
        "set-turning" => {
            let clockwise = t.text("turns");
            let rotation = (!clockwise.is_empty()).then(|| Rotation {
                seen_from: t.end("seen_from").unwrap_or_default(),
                clockwise: clockwise == "clockwise",
            });
            let lubricant = match t.text("lubricant").as_str() {
                "grease" => Some(Lubricant::Grease),
                "oil" => Some(Lubricant::Oil),
                _ => None,
            };
            Edit::SetTurning {
                rotation,
                lubricant,
                rpm: t.number("rpm", "revolutions a minute, such as 2970")?.unwrap_or(0.0),
                stands: if t.text("stands") == "vertical" { Stands::Vertical } else { Stands::Level },
            }
        }
        "set-land-more" => Edit::SetLandMore {
            id: f.item.clone(),
            hand: match t.text("hand").as_str() {
                "left" => Some(Hand::Left),
                "right" => Some(Hand::Right),
                _ => None,
            },
            pitch: t.or_none("pitch")?,
            d_b: t.or_none("d_b")?,
        },
        "set-part-more" => {
            let p = a.part(&f.item).ok_or_else(gone)?;
            let set = PartMore {
                locks: t.many("locks"),
                covers: t.many("covers"),
                keeps: t.end("keeps"),
                slots: t.count("slots", "how many slots the nut has")?,
                tabs: t.count("tabs", "how many tabs its washer has")?,
                torque_nm: t.number("torque", "a torque in N·m, such as 90")?,
                match_mark: t.on("match_mark"),
                back_off: t.or_none("back_off")?,
                clocked: t.on("clocked"),
                through_balls: t.on("through_balls"),
                adjusted: t.on("adjusted"),
                plunger: t.on("plunger"),
                oiler: t.on("oiler"),
                tab_bent: t.count("tab_bent", "how often the tab was bent")?.unwrap_or(p.tab_bent),
                minutes: t.number("minutes", "minutes, such as 12")?,
                people: t.count("people", "how many people")?.unwrap_or(0),
                solid: t.on("solid"),
                fitted: if p.carried_by.is_none() {
                    p.fitted
                } else if t.on("in_place") {
                    Fitted::InPlace
                } else {
                    Fitted::AtBench
                },
                turned_by: match t.text("turned_by").as_str() {
                    "face" => TurnedBy::Face,
                    "window" => TurnedBy::Window,
                    _ => TurnedBy::Outside,
                },
                locked_by: LockedBy::ALL.iter().find(|l| l.1 == t.text("locked_by")).map(|l| l.0),
                torque_hi_nm: t.number("torque_hi", "a torque in N·m, such as 100")?,
                compound: some(&t.text("compound")),
                cure_min: t.number("cure", "minutes, such as 60")?,
                tool: t.or_none("tool")?,
                mass_kg: t.number("mass", "a mass in kg, such as 12")?,
                gap_volts: t.number("gap_volts", "volts, such as 9.8")?,
                against: some(&t.text("against")),
            };
            Edit::SetPartMore { id: f.item.clone(), set: Box::new(set) }
        }
        "set-housing" => Edit::SetHousing {
            id: f.item.clone(),
            set: Box::new(HousingSet {
                name: t.text("name"),
                outside: t.mm("outside")?,
                bores: bores(&t.text("bores"))?,
                material: t.material()?,
                feet: t.on("feet"),
                from: t.end("from"),
                split: t.on("split"),
                clocked: t.on("clocked"),
                covers: t.many("covers"),
                mass_kg: t.number("mass", "a mass in kg, such as 40")?,
            }),
        },
        _ => return Ok(None),
    }))
}

fn condition(t: &Typed<'_>) -> Condition {
    match (t.on("slack"), t.on("nipped")) {
        (true, _) => Condition::Slack,
        (false, true) => Condition::Nipped,
        (false, false) => Condition::Tight,
    }
}

#[expect(clippy::too_many_lines, reason = "an arm a form")]
fn item(t: &Typed<'_>, list: List, a: &Anatomy, key: &str) -> Result<Item> {
    let id = String::new;
    Ok(match list {
        List::Floats => Item::Float(FloatOf {
            id: id(),
            name: t.text("name"),
            lo_mm: t.or_zero("lo")?,
            hi_mm: t.mm("hi")?,
            shim: some(&t.text("shim")),
            thicker_reduces: t.on("thicker"),
            after: t.many("after"),
            source: t.text("source"),
            without: t.many("without"),
            trial: t.many("trial"),
            condition: condition(t),
        }),
        List::Runouts => {
            let um = parse_length(&t.text("limit"), "um", None, None)
                .map_err(|e| Refusal::new("limit", e.message))?
                .value
                .get()
                * 1000.0;
            let limit_um = Micrometres::new((um * 1e6).round() / 1e6).map_err(|e| Refusal::new("limit", e.message))?;
            Item::Runout(RunoutOf {
                id: id(),
                name: t.text("name"),
                part: t.text("of"),
                limit_um,
                source: t.text("source"),
                reads: some(&t.text("reads")),
                without: t.many("without"),
                trial: t.many("trial"),
                condition: condition(t),
            })
        }
        List::Gaps => Item::Gap(GapOf {
            id: id(),
            name: t.text("name"),
            min_mm: t.mm("min")?,
            after: t.many("after"),
            source: t.text("source"),
            without: t.many("without"),
            trial: t.many("trial"),
            condition: condition(t),
        }),
        List::Holes => Item::Hole(Hole {
            id: id(),
            name: t.text("name"),
            housing: t.text("case"),
            kind: HOLES.iter().find(|k| k.1 == t.text("hole")).map_or(HoleKind::Drain, |k| k.0),
            at_deg: t.number("at_deg", "degrees from 0 to 359")?.unwrap_or(0.0),
        }),
        List::Bolts => Item::Bolts(BoltRing {
            part: t.text("of"),
            to: some(&t.text("to")),
            n: t.count("n", "how many bolts")?.unwrap_or(0),
            torque_nm: t.number("torque", "a torque in N·m, such as 90")?.unwrap_or(0.0),
            torque_hi_nm: t.number("torque_hi", "a torque in N·m, such as 100")?,
            circle_mm: t.or_none("circle")?,
            head: t.end("head"),
            compound: some(&t.text("compound")),
        }),
        List::Rules => {
            let (first, then) = (t.text("first"), t.text("then"));
            for (field, v) in [("first", &first), ("then", &then)] {
                if v.is_empty() {
                    return Err(Refusal::new(field, "expected a part or a housing"));
                }
            }
            Item::Rule(Rule { first, then, reason: t.text("reason") })
        }
        List::Pairs => Item::Pair(PairOf {
            a: t.text("a"),
            b: t.text("b"),
            arrangement: t.text("arrangement"),
            spacers: t.many("spacers"),
        }),
        List::Thrusts => Item::Thrust(ThrustSet {
            smaller: t.text("smaller"),
            larger: t.text("larger"),
            larger_towards: t.end("towards").unwrap_or_default(),
        }),
        List::Seats => {
            // What the form does not show stays as it is.
            let old = a.seat(key);
            Item::Seat(Box::new(Seat {
                id: id(),
                name: t.text("name"),
                part: t.text("of"),
                housing: t.text("case"),
                shaft_class: t.text("shaft_class"),
                housing_class: t.text("housing_class"),
                shaft_bore_mm: t.or_zero("shaft_bore")?,
                shaft_material: t.material()?,
                finish: old.map(|s| s.finish).unwrap_or_default(),
                cage: old.map(|s| s.cage).unwrap_or_default(),
                from: t.end("from").unwrap_or_default(),
                against: t.text("against"),
                nut: t.text("nut"),
                depth: Depth {
                    datum: t.text("datum"),
                    expected_mm: t.or_zero("expected")?,
                    tolerance_mm: t.or_zero("tolerance")?,
                },
                preload_meant: t.on("preload"),
                inner_hotter_k: old.map(|s| s.inner_hotter_k).unwrap_or_default(),
                critical: t.on("critical"),
                source: t.text("source"),
            }))
        }
    })
}

/// A choice of a form: (value, word, chosen).
pub type Choice = (String, String, bool);

/// A field of the board that is chosen from a list.
#[derive(Template)]
#[template(path = "rooms/anatomies/_pick.html")]
pub struct PickLine<'a> {
    name: &'a str,
    word: &'a str,
    choices: &'a [(String, String, bool)],
}

/// See [`PickLine`].
pub fn pick<'a>(name: &'a str, word: &'a str, choices: &'a [(String, String, bool)]) -> PickLine<'a> {
    PickLine { name, word, choices }
}

/// A field of the board that is typed into.
#[derive(Template)]
#[template(path = "rooms/anatomies/_line.html")]
pub struct TypedLine<'a> {
    name: &'a str,
    word: &'a str,
    value: &'a str,
    field: &'a str,
    error: &'a str,
}

/// See [`TypedLine`].
pub fn line<'a>(name: &'a str, word: &'a str, value: &'a str, field: &'a str, error: &'a str) -> TypedLine<'a> {
    TypedLine { name, word, value, field, error }
}

/// A field of what is put in anew; `here` when it is this form that was refused.
#[derive(Template)]
#[template(path = "rooms/anatomies/_fresh.html")]
pub struct FreshLine<'a> {
    name: &'a str,
    word: &'a str,
    value: &'a str,
    here: bool,
    field: &'a str,
    error: &'a str,
}

/// See [`FreshLine`].
pub fn fresh_line<'a>(
    name: &'a str,
    word: &'a str,
    value: &'a str,
    here: &bool,
    field: &'a str,
    error: &'a str,
) -> FreshLine<'a> {
    FreshLine { name, word, value, here: *here, field, error }
}

/// A form of the board, folded.
#[derive(Template)]
#[template(path = "rooms/anatomies/_set_form.html")]
pub struct Shown<'a> {
    f: &'a SetForm,
    id: &'a str,
    csrf: &'a str,
    seen: i32,
    hand: &'a str,
}

/// The fields of such a form by themselves.
#[derive(Template)]
#[template(path = "rooms/anatomies/_set_fields.html")]
pub struct Fields<'a> {
    f: &'a SetForm,
    id: &'a str,
    csrf: &'a str,
    seen: i32,
    hand: &'a str,
}

impl<'a> Fields<'a> {
    /// Of the draft `id` as it was seen.
    pub fn of(f: &'a SetForm, id: &'a str, csrf: &'a str, seen: i32) -> Self {
        Self { f, id, csrf, seen, hand: "" }
    }
}

/// Of the draft `id` as it was seen; `hand` keeps what is in hand.
pub fn shown<'a>(f: &'a SetForm, id: &'a str, csrf: &'a str, seen: &i32, hand: &'a str) -> Shown<'a> {
    Shown { f, id, csrf, seen: *seen, hand }
}
