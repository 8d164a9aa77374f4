//! The procedure played in the half section, and as a strip of numbered pictures on paper.

use crate::ground::error::WebResult;
use crate::ground::view::Shell;
use crate::parts::joints;
use askama::Template;
use ironseat_core::anatomy::acts::Verb;
use ironseat_core::anatomy::body::whole;
use ironseat_core::anatomy::scene::{Leaves, Scene};
use ironseat_core::anatomy::{Anatomy, Derived, derive};
use ironseat_core::quantity::Units;
use ironseat_core::terms::End;
use ironseat_drawing::{Fitted, Joints, Paper, SectionView, half_section};
use serde::Serialize;
use std::collections::{BTreeMap, BTreeSet};

/// One act for the player. Rings are in dots of the paper: left, right, upper edge, lower edge.
#[derive(Serialize)]
struct Played {
    id: String,
    words: String,
    stage: &'static str,
    tool: String,
    body: String,
    moves: Vec<String>,
    off: bool,
    half: bool,
    /// -1 towards end A, 1 towards end B, 0 to the side.
    way: i8,
    rings: Vec<[f64; 4]>,
    stack: Vec<String>,
    tight: bool,
    /// The ring of bolts that it is done to, and how it leaves it.
    bolts: Option<(String, &'static str)>,
    /// It makes its body hot, or finds it cold.
    hot: Option<bool>,
    why: Vec<Why>,
}

/// A reason: the act that comes first, by its number, and the body that it is about.
#[derive(Serialize)]
struct Why {
    first: usize,
    words: String,
    body: String,
}

/// What speaks against an act at another place of the order: the words, and the two acts that they stand between.
#[derive(Serialize)]
pub struct Tried {
    words: String,
    first: usize,
    then: usize,
}

/// What speaks against doing act number `act` where number `at` is done.
///
/// # Errors
/// A machine that cannot be derived.
pub fn tried(a: &Anatomy, act: usize, at: usize, units: Units) -> WebResult<Vec<Tried>> {
    let d = derive(a).map_err(ironseat_store::StoreError::from)?;
    Ok(d.tried(a, act, at)
        .into_iter()
        .map(|x| Tried { words: x.words.say(units), first: x.first, then: x.then })
        .collect())
}

/// All acts in the offered order, as JSON that stands in the page.
pub(super) fn data(a: &Anatomy, d: &Derived, paper: &Paper, units: Units) -> WebResult<String> {
    let number: BTreeMap<&str, usize> = d.acts.iter().enumerate().map(|(k, s)| (s.id.as_str(), k)).collect();
    let dots = |v: f64| (v * 10.0).round() / 10.0;
    let list: Vec<Played> = d
        .acts
        .iter()
        .map(|s| {
            let scene = Scene::of(a, d, s);
            let ring = |r: &ironseat_core::anatomy::body::Space| {
                [
                    dots(paper.x0 + r.x0 * paper.scale),
                    dots(paper.x0 + r.x1 * paper.scale),
                    dots(paper.cy - r.r1 * paper.scale),
                    dots(paper.cy - r.r0 * paper.scale),
                ]
            };
            Played {
                id: s.id.clone(),
                words: s.words.say(units),
                stage: s.stage.word(),
                tool: s.tool.clone(),
                body: whole(&s.body).to_owned(),
                way: match scene.leaves {
                    Leaves::Towards(End::A) => -1,
                    Leaves::Towards(End::B) => 1,
                    Leaves::Aside => 0,
                },
                rings: scene.tool.iter().map(ring).collect(),
                moves: scene.moves,
                off: scene.off,
                half: scene.half,
                stack: scene.stack,
                tight: scene.tight,
                bolts: joints::leaves(&s.id).map(|(ring, state)| (ring, state.word())),
                hot: joints::heats(&s.id),
                why: s
                    .before
                    .iter()
                    .filter_map(|b| {
                        let first = *number.get(b.id.as_str())?;
                        Some(Why { first, words: b.words.say(units), body: whole(&d.acts[first].body).to_owned() })
                    })
                    .collect(),
            }
        })
        .collect();
    let text = serde_json::to_string(&list).map_err(ironseat_store::StoreError::from)?;
    // It stands in the page: nothing in it may end the element.
    Ok(text.replace('<', "\\u003c"))
}

/// One picture of the strip.
pub struct Picture {
    n: usize,
    svg: String,
    words: String,
    tool: String,
}

#[derive(Template)]
#[template(path = "rooms/anatomies/strip.html")]
pub struct StripPage {
    shell: Shell,
    key: String,
    name: String,
    /// Taking apart, then putting together.
    ways: [(&'static str, Vec<Picture>); 2],
}

impl StripPage {
    /// A picture for each act after which the machine looks different.
    pub fn build(shell: Shell, a: &Anatomy, units: Units) -> WebResult<Self> {
        let d = derive(a).map_err(ironseat_store::StoreError::from)?;
        let mut on: BTreeSet<String> =
            a.parts.iter().map(|p| p.id.clone()).chain(a.housings.iter().map(|h| h.id.clone())).collect();
        let (mut apart, mut mount, none) = (Vec::new(), Vec::new(), BTreeSet::new());
        for (k, s) in d.acts.iter().enumerate() {
            let scene = Scene::of(a, &d, s);
            if scene.moves.is_empty() {
                continue;
            }
            if !scene.half {
                for id in &scene.moves {
                    if scene.off {
                        on.remove(id);
                    } else {
                        on.insert(id.clone());
                    }
                }
            }
            let body = whole(&s.body).to_owned();
            let view = SectionView {
                width: 330.0,
                height: 130.0,
                fitted: Fitted::Parts { on: &on, scrapped: &none },
                marks: &BTreeMap::new(),
                selected: None,
                in_hand: Some(&body),
                joints: &Joints::default(),
                small: true,
                id: &format!("p{k}"),
            };
            let picture =
                Picture { n: k + 1, svg: half_section(a, &view).svg, words: s.words.say(units), tool: s.tool.clone() };
            if matches!(s.verb, Verb::TakeOff) { apart.push(picture) } else { mount.push(picture) }
        }
        Ok(Self {
            shell,
            key: a.key.clone(),
            name: a.name.clone(),
            ways: [("Take apart", apart), ("Put together", mount)],
        })
    }
}
