//! The forms of the drawing board, as typed, turned into one change.

use crate::rooms::anatomies::InHand;
use ironseat_core::Refusal;
use ironseat_core::anatomy::answers::Asked;
use ironseat_core::anatomy::edit::{Edit, PartSet};
use ironseat_core::anatomy::{Anatomy, Hold, LandKind, PartKind};
use ironseat_core::fasten::Hand;
use ironseat_core::quantity::{Millimetres, parse_length};
use ironseat_core::terms::End;
use serde::Deserialize;
use std::collections::BTreeMap;

/// Every field of every form of the board. What is described by data finds its own fields in `more`, which holds them
/// all.
#[derive(Deserialize, Clone, Default, Debug)]
#[serde(from = "BTreeMap<String, String>")]
#[allow(missing_docs)] // named as on the page
pub struct EditForm {
    pub op: String,
    pub seen: i32,
    pub part: String,
    pub land: String,
    pub kind: String,
    pub name: String,
    pub length: String,
    pub d: String,
    pub at: String,
    pub width: String,
    pub outside: String,
    pub bore: String,
    pub designation: String,
    pub from: String,
    pub faces: String,
    pub fit: String,
    pub split: String,
    pub hand: String,
    pub locks: String,
    pub key: String,
    pub carried_by: String,
    pub inside: String,
    pub to: String,
    pub housing: String,
    pub list: String,
    pub item: String,
    pub more: BTreeMap<String, String>,
}

impl From<BTreeMap<String, String>> for EditForm {
    fn from(more: BTreeMap<String, String>) -> Self {
        let get = |name: &str| more.get(name).cloned().unwrap_or_default();
        Self {
            op: get("op"),
            // A form without it looked at nothing: no state has this number.
            seen: get("seen").parse().unwrap_or(-1),
            part: get("part"),
            land: get("land"),
            kind: get("kind"),
            name: get("name"),
            length: get("length"),
            d: get("d"),
            at: get("at"),
            width: get("width"),
            outside: get("outside"),
            bore: get("bore"),
            designation: get("designation"),
            from: get("from"),
            faces: get("faces"),
            fit: get("fit"),
            split: get("split"),
            hand: get("hand"),
            locks: get("locks"),
            key: get("key"),
            carried_by: get("carried_by"),
            inside: get("inside"),
            to: get("to"),
            housing: get("housing"),
            list: get("list"),
            item: get("item"),
            more,
        }
    }
}

type Result<T> = std::result::Result<T, Refusal>;

pub(super) fn mm(field: &str, text: &str) -> Result<Millimetres> {
    let p = parse_length(text, "mm", None, None).map_err(|e| Refusal::new(field, e.message))?;
    Ok(p.value)
}

pub(super) fn some(text: &str) -> Option<String> {
    let t = text.trim();
    (!t.is_empty()).then(|| t.to_owned())
}

pub(super) const LAND_KINDS: [(LandKind, &str); 7] = [
    (LandKind::Plain, "plain"),
    (LandKind::Thread, "thread"),
    (LandKind::Keyway, "keyway"),
    (LandKind::Groove, "groove"),
    (LandKind::Taper, "taper"),
    (LandKind::Spline, "spline"),
    (LandKind::Hole, "hole"),
];

pub(super) fn end(text: &str) -> Option<End> {
    match text {
        "A" => Some(End::A),
        "B" => Some(End::B),
        _ => None,
    }
}

impl EditForm {
    /// The change that was asked for.
    pub fn edit(&self) -> Result<Edit> {
        let land_kind = || LAND_KINDS.iter().find(|k| k.1 == self.kind).map_or(LandKind::Plain, |k| k.0);
        Ok(match self.op.as_str() {
            "rename" => Edit::Rename { name: self.name.clone() },
            "add-land" => Edit::AddLand {
                behind: some(&self.land),
                name: self.name.clone(),
                length: mm("length", &self.length)?,
                d: mm("d", &self.d)?,
                kind: land_kind(),
            },
            "set-land" => Edit::SetLand {
                id: self.land.clone(),
                name: self.name.clone(),
                length: mm("length", &self.length)?,
                d: mm("d", &self.d)?,
                kind: land_kind(),
            },
            "drop-land" => Edit::DropLand { id: self.land.clone() },
            "add-part" => Edit::AddPart {
                kind: PartKind::of(&self.kind).ok_or_else(|| Refusal::new("kind", "expected a kind from the shelf"))?,
                land: self.land.clone(),
                into: some(&self.housing),
            },
            "move-part" => Edit::MovePart { id: self.part.clone(), land: self.land.clone(), at: mm("at", &self.at)? },
            "flip-part" => Edit::FlipPart { id: self.part.clone() },
            "drop-part" => Edit::DropPart { id: self.part.clone() },
            "set-part" => Edit::SetPart {
                id: self.part.clone(),
                set: Box::new(PartSet {
                    name: self.name.clone(),
                    at: mm("at", &self.at)?,
                    width: mm("width", &self.width)?,
                    outside: mm("outside", &self.outside)?,
                    bore: some(&self.bore).map(|b| mm("bore", &b)).transpose()?,
                    designation: self.designation.clone(),
                    from: end(&self.from).unwrap_or_default(),
                    faces: end(&self.faces),
                    fit: Hold::ALL.iter().find(|h| h.1 == self.fit).map_or(Hold::Slide, |h| h.0),
                    split: !self.split.is_empty(),
                    hand: match self.hand.as_str() {
                        "left" => Some(Hand::Left),
                        "right" => Some(Hand::Right),
                        _ => None,
                    },
                    locks: some(&self.locks).into_iter().collect(),
                    key: some(&self.key),
                    carried_by: some(&self.carried_by),
                    inside: some(&self.inside),
                }),
            },
            "add-housing" => Edit::AddHousing {
                name: self.name.clone(),
                from: mm("at", &self.at)?,
                to: mm("to", &self.to)?,
                bore: mm("bore", &self.bore)?,
                outside: mm("outside", &self.outside)?,
            },
            "drop-housing" => Edit::DropHousing { id: self.housing.clone() },
            "answer" => {
                let get = |name: &str| self.more.get(name).cloned().unwrap_or_default();
                let asked = Asked::of(&get("asked"))
                    .ok_or_else(|| Refusal::new("board", "expected one of the questions of this drawing"))?;
                Edit::Answer { asked, of: get("of"), with: get("with") }
            }
            _ => return Err(Refusal::new("board", "this change is not known here")),
        })
    }

    /// Whether the form of this change shows an error of this field beside it.
    pub fn has(&self, field: &str) -> bool {
        let fields: &[&str] = match self.op.as_str() {
            "rename" => &["name"],
            "set-land" | "add-land" => &["name", "length", "d"],
            "set-part" => &["name", "at", "width", "outside", "bore", "designation"],
            "add-housing" => &["name", "at", "to", "bore", "outside"],
            _ => &[],
        };
        fields.contains(&field)
    }

    /// What is in hand after it was done: what was just put on, or what was changed if it is still there.
    pub fn hand_after(&self, a: &Anatomy) -> InHand {
        match self.op.as_str() {
            "add-part" => InHand { part: a.parts.last().map_or(String::new(), |p| p.id.clone()), ..InHand::default() },
            "add-land" => {
                let at = a.lands.iter().position(|l| l.id == self.land).map_or(a.lands.len() - 1, |i| i + 1);
                InHand { land: a.lands.get(at).map_or(String::new(), |l| l.id.clone()), ..InHand::default() }
            }
            _ => InHand {
                part: a.part(&self.part).map_or(String::new(), |p| p.id.clone()),
                land: if a.part(&self.part).is_some() {
                    String::new()
                } else {
                    a.land(&self.land).map_or(String::new(), |l| l.id.clone())
                },
                ..InHand::default()
            },
        }
    }
}
