//! Why: the trade as the program understands it, opened at the paragraph that a call rests on, with a seat's own
//! numbers put in where one is named.

use crate::ground::address::encode;
use crate::ground::error::WebResult;
use crate::ground::extract::Reader;
use crate::ground::view::Shell;
use crate::ground::view::page;
use crate::state::App;
use askama::Template;
use axum::extract::{Query, State};
use ironseat_core::quantity::Units;
use ironseat_core::seat::worked::{Worked, worked};
use ironseat_core::why::{TRADE, slug};
use ironseat_store::read::customers;
use ironseat_store::read::rebuilds::{self, live_clocks};
use ironseat_store::read::seats::{SeatRecord, seat_record};
use ironseat_store::rows::rebuild::Rebuild;
use ironseat_store::{RebuildId, StoreError};
use pulldown_cmark::Parser;
use pulldown_cmark::html::push_html;
use serde::Deserialize;
use std::sync::LazyLock;

/// A paragraph and what follows it, up to the next one that has an anchor.
struct Piece {
    anchor: String,
    html: String,
}

/// Anchors and titles.
type Chapters = Vec<(String, String)>;

/// Symbols as they are set: `T_grip` with its index below the line.
fn set(text: &str) -> String {
    let mut out = String::new();
    let mut rest = text;
    while let Some(at) = rest.find('_') {
        let (before, after) = (&rest[..at], &rest[at + 1..]);
        let end = after.find(|c: char| !c.is_alphabetic() && !c.is_ascii_digit()).unwrap_or(after.len());
        out += &format!("{before}<sub>{}</sub>", &after[..end]);
        rest = &after[end..];
    }
    out + rest
}

/// The chapters with their anchors, and the text in pieces. It is the program's own: nothing that somebody typed is in
/// it.
static TEXT: LazyLock<(Chapters, Vec<Piece>)> = LazyLock::new(|| {
    let mut chapters = Vec::new();
    let mut pieces: Vec<(String, String)> = vec![(String::new(), String::new())];
    let mut example = false;
    for line in TRADE.lines().filter(|l| !l.starts_with("# ")) {
        let (anchor, marked) = if let Some(title) = line.strip_prefix("## ") {
            chapters.push((slug(title), title.to_owned()));
            (slug(title), format!("<h2 id=\"{}\">{title}</h2>\n", slug(title)))
        } else if let Some(name) = line.strip_prefix("```example ") {
            // A worked example: its computation by name, then what goes in and what comes out.
            example = true;
            (String::new(), format!("<p class=\"soft\">Reckoned: {name}</p>\n\n```\n"))
        } else if let Some((lead, rest)) = line.strip_prefix("**").filter(|_| !example).and_then(|l| l.split_once("**"))
        {
            (slug(lead), format!("<span id=\"{}\"></span>**{lead}**{}\n", slug(lead), set(rest)))
        } else if let Some(formula) = line.strip_prefix("    ").filter(|_| !example) {
            (String::new(), format!("<p class=\"formula\">{}</p>\n\n", set(formula)))
        } else {
            let text = if example { line.to_owned() } else { set(line) };
            example &= line != "```";
            (String::new(), text + "\n")
        };
        if anchor.is_empty() {
            if let Some(last) = pieces.last_mut() {
                last.1 += &marked;
            }
        } else {
            pieces.push((anchor, marked));
        }
    }
    let html = |marked: &str| {
        let mut out = String::new();
        push_html(&mut out, Parser::new(marked));
        out
    };
    let pieces = pieces.into_iter().map(|(anchor, marked)| Piece { anchor, html: html(&marked) }).collect();
    (chapters, pieces)
});

/// Whose numbers are put in.
#[derive(Deserialize, Default)]
#[serde(default)]
pub struct WhyQuery {
    rebuild: Option<RebuildId>,
    seat: String,
}

struct LineView {
    what: String,
    formula: String,
    numbers: String,
    result: String,
}

struct PieceView {
    html: &'static str,
    lines: Vec<LineView>,
    assumed: Vec<String>,
}

/// The seat whose numbers stand on the page.
struct Whose {
    seat: String,
    number: String,
    title: String,
    back: String,
    /// Nothing is measured yet.
    empty: bool,
}

#[derive(Template)]
#[template(path = "rooms/why/why.html")]
struct WhyPage {
    shell: Shell,
    chapters: &'static [(String, String)],
    pieces: Vec<PieceView>,
    whose: Option<Whose>,
}

fn pieces(own: &[Worked], units: Units) -> Vec<PieceView> {
    let of = |p: &'static Piece| {
        let w = own.iter().find(|w| w.anchor == p.anchor);
        let line = |l: &ironseat_core::seat::worked::WorkedLine| LineView {
            what: l.what.clone(),
            formula: set(l.formula),
            numbers: l.numbers.clone(),
            result: l.result(units),
        };
        PieceView {
            html: &p.html,
            lines: w.map_or_else(Vec::new, |w| w.lines.iter().map(line).collect()),
            assumed: w.map_or_else(Vec::new, |w| w.assumed.clone()),
        }
    };
    TEXT.1.iter().map(of).collect()
}

fn own_numbers(r: &Rebuild, s: &SeatRecord) -> (Whose, Vec<Worked>) {
    let fit = s.fit().ok();
    let own = worked(fit.as_ref(), &s.facts, &s.surfaces(), &s.shop.rules);
    let whose = Whose {
        seat: s.facts.seat.name.clone(),
        number: r.number.clone(),
        title: r.title.clone(),
        back: format!("/rebuilds/{}?seat={}", r.id, encode(&s.facts.seat.id)),
        empty: own.is_empty(),
    };
    (whose, own)
}

/// The whole text; calls link to their paragraph, those of a seat with its numbers.
pub async fn show(State(app): State<App>, reader: Reader, Query(q): Query<WhyQuery>) -> WebResult {
    let here = match q.rebuild {
        Some(id) => format!("/why?rebuild={id}&seat={}", encode(&q.seat)),
        None => "/why".into(),
    };
    let who = reader.person.clone();
    let (clocks, seat) = app
        .store
        .run(move |c| {
            let seat = match q.rebuild {
                Some(id) if !customers::may_see(c, &who, id)? => return Err(StoreError::NotFound),
                Some(id) => {
                    let r = rebuilds::get(c, id)?;
                    let s = seat_record(c, &r, &q.seat)?;
                    Some((r, s))
                }
                None => None,
            };
            Ok::<_, StoreError>((live_clocks(c)?, seat))
        })
        .await?;
    let (whose, own) = seat.map(|(r, s)| own_numbers(&r, &s)).unzip();
    let shell = Shell::new(&reader, &clocks, "why", here, "/events".into());
    page(&WhyPage { shell, chapters: &TEXT.0, pieces: pieces(&own.unwrap_or_default(), reader.person.units), whose })
}
