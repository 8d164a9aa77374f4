//! What the pages of the room show.

use crate::ground::error::WebResult;
use crate::ground::extract::Reader;
use crate::ground::view::Shell;
use crate::rooms::anatomies::form::{EditForm, LAND_KINDS};
use crate::rooms::anatomies::set_forms::{self, Choice, Group, SetForm};
use crate::rooms::anatomies::{InHand, play};
use crate::state::App;
use askama::Template;
use ironseat_core::anatomy::acts::{Law, Stage, Verb};
use ironseat_core::anatomy::answers::Ask;
use ironseat_core::anatomy::body::whole;
use ironseat_core::anatomy::{Anatomy, Derived, Finding, Hold, Part, PartKind, Role, derive};
use ironseat_core::fasten::Hand;
use ironseat_core::quantity::Units;
use ironseat_core::terms::End;
use ironseat_drawing::{Fitted, HalfSection, Joints, SectionView, along, half_section};
use ironseat_store::read::drafts::{self, Draft};
use ironseat_store::read::rebuilds::live_clocks;
use std::collections::BTreeMap;

fn drawing(a: &Anatomy, width: f64, height: f64, small: bool, id: &str, hand: Option<&str>) -> HalfSection {
    let view = SectionView {
        width,
        height,
        fitted: Fitted::All,
        marks: &BTreeMap::new(),
        selected: None,
        joints: &Joints::default(),
        small,
        id,
        in_hand: hand,
    };
    half_section(a, &view)
}

fn draw(a: &Anatomy, width: f64, height: f64, small: bool, id: &str, hand: Option<&str>) -> String {
    drawing(a, width, height, small, id, hand).svg
}

/// The drawing as a file of its own.
pub(super) fn standalone(a: &Anatomy) -> String {
    drawing(a, 1200.0, 460.0, false, "export", None).standalone()
}

pub(super) async fn shell(app: &App, reader: &Reader, here: String) -> WebResult<Shell> {
    let clocks = app.store.run(live_clocks).await?;
    Ok(Shell::new(reader, &clocks, "anatomies", here, String::new()))
}

#[allow(missing_docs)]
pub struct KindRow {
    pub key: String,
    pub name: String,
    pub svg: String,
    pub note: String,
}

#[derive(Template)]
#[template(path = "rooms/anatomies/anatomies.html")]
pub struct ListPage {
    shell: Shell,
    kinds: Vec<KindRow>,
    drafts: Vec<(String, String)>,
    id: String,
    pub name: String,
    sheet: String,
    field: String,
    error: String,
}

impl ListPage {
    pub async fn load(app: &App, reader: &Reader, field: &str, error: &str, sheet: String) -> WebResult<Self> {
        let (kinds, open) = app.store.run(|c| Ok((drafts::kinds(c)?, drafts::open_drafts(c)?))).await?;
        let kinds = kinds
            .iter()
            .enumerate()
            .map(|(i, k)| KindRow {
                key: k.anatomy.key.clone(),
                name: k.anatomy.name.clone(),
                svg: draw(&k.anatomy, 300.0, 116.0, true, &format!("k{i}"), None),
                note: format!(
                    "{} parts, {} mm{}{}",
                    k.anatomy.parts.len(),
                    k.anatomy.length().get(),
                    if k.versions > 1 { format!(", version {}", k.anatomy.version) } else { String::new() },
                    match k.rebuilds {
                        0 => String::new(),
                        1 => ", one rebuild".into(),
                        n => format!(", {n} rebuilds"),
                    }
                ),
            })
            .collect();
        Ok(Self {
            shell: shell(app, reader, "/anatomies".into()).await?,
            kinds,
            drafts: open.into_iter().map(|(id, name)| (id.to_string(), name)).collect(),
            id: ironseat_store::DraftId::new().to_string(),
            name: String::new(),
            sheet,
            field: field.to_owned(),
            error: error.to_owned(),
        })
    }
}

/// One thing in the order, with why it waits.
pub struct OrderRow {
    pub id: String,
    pub name: String,
    pub how: String,
    pub why: Vec<String>,
}

pub struct StepRow {
    /// Its place in the offered order, from 0.
    pub k: usize,
    pub words: String,
    pub tool: String,
    pub note: String,
    pub caution: &'static str,
}

pub struct StageRows {
    pub word: &'static str,
    pub steps: Vec<StepRow>,
}

fn order_rows(a: &Anatomy, d: &Derived, units: Units) -> Vec<OrderRow> {
    d.acts
        .iter()
        .filter(|s| matches!(s.verb, Verb::Place | Verb::Close))
        .map(|s| {
            let part = d.bodies.number(&s.body).and_then(|i| d.bodies.part(a, i));
            let how = part.map_or_else(
                || if s.verb == Verb::Close { "upper half".to_owned() } else { "with the shaft".to_owned() },
                |p| {
                    let from = match (p.carried_by.as_deref(), p.split) {
                        (Some(c), _) => format!("into {}", a.name_of(c)),
                        (_, true) => "laid on".into(),
                        _ => format!("from {}", p.from.letter()),
                    };
                    format!("{from}, {}", p.fit.key())
                },
            );
            // What goes on hot waits where it is heated.
            let heat = d.act(&ironseat_core::terms::ActId::heat(&s.body).text());
            let before = heat.into_iter().chain([s]).flat_map(|x| &x.before);
            let why = before
                .filter(|b| b.law != Law::Evidence && heat.is_none_or(|h| h.id != b.id))
                .map(|b| b.words.say(units))
                .collect();
            let name = d.bodies.number(&s.body).map_or(s.body.clone(), |i| d.bodies.list[i].name.clone());
            OrderRow { id: whole(&s.body).to_owned(), name, how, why }
        })
        .collect()
}

fn stage_rows(d: &Derived, units: Units) -> Vec<StageRows> {
    Stage::ALL
        .into_iter()
        .map(|stage| StageRows {
            word: stage.word(),
            steps: d
                .acts
                .iter()
                .enumerate()
                .filter(|(_, s)| s.stage == stage)
                .map(|(k, s)| StepRow {
                    k,
                    words: s.words.say(units),
                    tool: s.tool.clone(),
                    note: s.effort(),
                    caution: s.caution.map_or("", |c| c.words()),
                })
                .collect(),
        })
        .filter(|r| !r.steps.is_empty())
        .collect()
}

#[derive(Template)]
#[template(path = "rooms/anatomies/anatomy.html")]
pub struct KindPage {
    shell: Shell,
    key: String,
    name: String,
    version: u32,
    id: String,
    svg: String,
    /// What the player shows, as JSON.
    played: String,
    parts: Vec<(String, String)>,
    order: Vec<OrderRow>,
    stages: Vec<StageRows>,
    questions: Vec<String>,
    faults: Vec<String>,
    notes: Vec<String>,
    count: usize,
}

impl KindPage {
    pub async fn build(app: &App, reader: &Reader, a: &Anatomy) -> WebResult<Self> {
        let d = derive(a).map_err(ironseat_store::StoreError::from)?;
        let units = reader.person.units;
        let stages = stage_rows(&d, units);
        let section = drawing(a, 1200.0, 400.0, false, "kind", None);
        Ok(Self {
            played: play::data(a, &d, &section.paper, units)?,
            shell: shell(app, reader, format!("/anatomies/{}", a.key)).await?,
            key: a.key.clone(),
            name: a.name.clone(),
            version: a.version,
            id: ironseat_store::DraftId::new().to_string(),
            svg: section.svg,
            parts: along(a).into_iter().map(|p| (p.name.clone(), sizes(a, p))).collect(),
            order: order_rows(a, &d, units),
            count: stages.iter().map(|s| s.steps.len()).sum(),
            stages,
            questions: d.questions.iter().map(|q| q.words.clone()).collect(),
            faults: d.faults.iter().map(|f| f.words.say(units)).collect(),
            notes: d.notes.iter().map(|f| f.words.say(units)).collect(),
        })
    }
}

fn sizes(a: &Anatomy, p: &Part) -> String {
    let bore = a.bore_of(p).get();
    format!("{bore} × {} × {}", p.outside_mm.get(), p.width_mm.get())
}

/// A fault or a note of the board, with where it can be mended.
pub struct Said {
    pub words: String,
    /// Part to take in hand; empty where it is about none.
    pub part: String,
    pub ask: Option<Ask>,
}

impl Said {
    fn of(a: &Anatomy, f: &Finding, units: Units) -> Self {
        let part = f.bodies.iter().find_map(|b| a.part(whole(b))).map_or(String::new(), |p| p.id.clone());
        Self { words: f.words.say(units), part, ask: f.ask.clone() }
    }
}

/// The land in hand, as its form shows it.
pub struct LandForm {
    pub id: String,
    pub name: String,
    pub length: String,
    pub d: String,
    pub kinds: Vec<Choice>,
}

/// The part in hand, as its form shows it.
pub struct PartForm {
    pub id: String,
    pub kind: &'static str,
    pub name: String,
    pub at: String,
    pub width: String,
    pub outside: String,
    pub bore: String,
    pub designation: String,
    pub bearing: bool,
    pub facing: Option<&'static str>,
    pub from: Vec<Choice>,
    pub faces: Vec<Choice>,
    pub fits: Vec<Choice>,
    pub split: bool,
    pub nut: bool,
    pub hands: Vec<Choice>,
    pub locks: Vec<Choice>,
    pub keys: Vec<Choice>,
    pub carriers: Vec<Choice>,
    pub inside: Vec<Choice>,
}

#[derive(Template)]
#[template(path = "rooms/anatomies/_board.html")]
pub struct DraftPage {
    shell: Shell,
    id: String,
    name: String,
    seen: i32,
    svg: String,
    undo: Option<String>,
    redo: Option<String>,
    /// A part of it reaches its place: it can be kept.
    buildable: bool,
    faults: Vec<Said>,
    /// Notes that somebody has to look at; those that can be answered with a touch stand before them.
    notes: Vec<Said>,
    asked: Vec<Said>,
    order: Vec<OrderRow>,
    questions: usize,
    steps: usize,
    shelf: Vec<(&'static str, &'static str)>,
    lands: Vec<Choice>,
    parts: Vec<(String, String, bool)>,
    housings: Vec<SetForm>,
    groups: Vec<Group>,
    turning: SetForm,
    part_more: Option<SetForm>,
    land_more: Option<SetForm>,
    land: Option<LandForm>,
    part: Option<PartForm>,
    /// Form that was refused, with what was typed in it; its error stands there.
    typed: EditForm,
    field: String,
    error: String,
    /// The error belongs to no field of an open form.
    general: bool,
}

impl DraftPage {
    /// Questions shown at once: one screen of them.
    const ASKED_AT_ONCE: usize = 6;

    /// The refused field when the change came from the form of the part or of the land in hand.
    fn field_of(&self, form: &str) -> &str {
        let from = match self.typed.op.as_str() {
            "set-part" => "part",
            "set-land" => "land",
            "add-land" if !self.typed.land.is_empty() => "land",
            _ => "",
        };
        if from == form { &self.field } else { "" }
    }

    pub async fn build(
        app: &App,
        reader: &Reader,
        d: &Draft,
        hand: InHand,
        said: Option<(String, String, EditForm)>,
    ) -> WebResult<Self> {
        let a = &d.anatomy;
        let derived = derive(a).map_err(ironseat_store::StoreError::from)?;
        let part = a.part(&hand.part).map(|p| part_form(a, p, said.as_ref().map(|s| &s.2)));
        let land_id = if part.is_some() { String::new() } else { hand.land.clone() };
        let land = a.land(&land_id).map(|l| {
            let typed = said.as_ref().map(|s| &s.2).filter(|f| f.op == "set-land" || f.op == "add-land");
            LandForm {
                id: l.id.clone(),
                name: typed.map_or(l.name.clone(), |f| f.name.clone()),
                length: typed.map_or(format!("{}", l.length_mm.get()), |f| f.length.clone()),
                d: typed.map_or(format!("{}", l.d_mm.get()), |f| f.d.clone()),
                kinds: LAND_KINDS.iter().map(|(k, w)| ((*w).to_owned(), (*w).to_owned(), *k == l.kind)).collect(),
            }
        });
        let (field, error, typed) = said.unwrap_or_default();
        let in_form = !typed.list.is_empty() && typed.op != "take" && field != "board";
        let refused = (in_form && !error.is_empty()).then_some((field.as_str(), error.as_str(), &typed));
        let general = !error.is_empty() && !in_form && !typed.has(&field);
        let units = reader.person.units;
        let order = order_rows(a, &derived, units);
        let (asked, notes) = derived.notes.iter().map(|f| Said::of(a, f, units)).partition(|s| s.ask.is_some());
        let shell = shell(app, reader, format!("/drafts/{}", d.id)).await?;
        Ok(Self {
            shell,
            id: d.id.to_string(),
            name: if typed.op == "rename" { typed.name.clone() } else { a.name.clone() },
            seen: d.cursor,
            svg: draw(
                a,
                1200.0,
                280.0,
                false,
                "board",
                part.as_ref().map(|p| p.id.as_str()).or(land.as_ref().map(|l| l.id.as_str())),
            ),
            undo: d.undo.clone(),
            redo: d.redo.clone(),
            buildable: derived.buildable(),
            faults: derived.faults.iter().map(|f| Said::of(a, f, units)).collect(),
            asked,
            notes,
            order,
            questions: derived.questions.len(),
            steps: derived.acts.len(),
            shelf: PartKind::ALL.iter().map(|k| (k.key(), k.word())).collect(),
            lands: a
                .lands
                .iter()
                .map(|l| (l.id.clone(), format!("{} ⌀{}", l.name, l.d_mm.get()), l.id == land_id))
                .collect(),
            parts: along(a).into_iter().map(|p| (p.id.clone(), p.name.clone(), p.id == hand.part)).collect(),
            housings: set_forms::housings(a, refused, &hand),
            groups: set_forms::groups(a, refused, &hand),
            turning: set_forms::turning(a, refused),
            part_more: a.part(&hand.part).map(|p| set_forms::part_more(a, p, refused)),
            land_more: a.land(&land_id).and_then(|l| set_forms::land_more(a, l, refused)),
            land,
            part,
            typed,
            field,
            error,
            general,
        })
    }
}

fn part_form(a: &Anatomy, p: &Part, typed: Option<&EditForm>) -> PartForm {
    let typed = typed.filter(|f| f.op == "set-part" && f.part == p.id);
    let text = |now: String, field: fn(&EditForm) -> &String| typed.map_or(now, |f| field(f).clone());
    let end = |e: Option<End>| -> Vec<Choice> {
        [("", "either"), ("A", "end A"), ("B", "end B")]
            .map(|(v, w)| (v.to_owned(), w.to_owned(), e.map_or("", End::letter) == v))
            .to_vec()
    };
    let others = |chosen: &dyn Fn(&str) -> bool, kinds: &dyn Fn(&Part) -> bool, housings: bool| -> Vec<Choice> {
        let none = (String::new(), "none".to_owned(), false);
        let parts =
            a.parts.iter().filter(|o| o.id != p.id && kinds(o)).map(|o| (o.id.clone(), o.name.clone(), chosen(&o.id)));
        let cases = a.housings.iter().filter(|_| housings).map(|h| (h.id.clone(), h.name.clone(), chosen(&h.id)));
        std::iter::once(none).chain(parts).chain(cases).collect()
    };
    let hand = |h: Option<Hand>| -> Vec<Choice> {
        [("", "not said"), ("right", "right-hand"), ("left", "left-hand")]
            .map(|(v, w)| (v.to_owned(), w.to_owned(), h.map_or("", Hand::name) == v))
            .to_vec()
    };
    PartForm {
        id: p.id.clone(),
        kind: p.kind.word(),
        name: text(p.name.clone(), |f| &f.name),
        at: text(format!("{}", p.at_mm.get()), |f| &f.at),
        width: text(format!("{}", p.width_mm.get()), |f| &f.width),
        outside: text(format!("{}", p.outside_mm.get()), |f| &f.outside),
        bore: text(p.bore_mm.map_or(String::new(), |b| format!("{}", b.get())), |f| &f.bore),
        designation: text(p.designation.clone().unwrap_or_default(), |f| &f.designation),
        bearing: p.kind.role() == Role::Rolling,
        facing: p.kind.has_facing().then(|| p.facing_word()),
        from: end(Some(p.from)).split_off(1),
        faces: end(p.faces),
        fits: Hold::ALL.iter().map(|(h, w)| ((*w).to_owned(), (*w).to_owned(), *h == p.fit)).collect(),
        split: p.split,
        nut: p.kind.role() == Role::Nut,
        hands: hand(p.hand),
        locks: others(&|id| p.locks.iter().any(|l| l == id), &|_| true, false),
        keys: others(&|id| p.key.as_deref() == Some(id), &|o| o.kind.role() == Role::Key, false),
        carriers: others(&|id| p.carried_by.as_deref() == Some(id), &|o| !o.kind.lies_in_bore(), true),
        inside: others(&|id| p.inside.as_deref() == Some(id), &|_| false, true),
    }
}

/// The drawing board with the page around it.
#[derive(Template)]
#[template(path = "rooms/anatomies/draft.html")]
pub struct Whole<'a> {
    shell: &'a Shell,
    board: &'a DraftPage,
}

impl DraftPage {
    /// With the page around it.
    pub fn whole(&self) -> Whole<'_> {
        Whole { shell: &self.shell, board: self }
    }
}
