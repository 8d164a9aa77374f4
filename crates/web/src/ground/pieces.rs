//! Pieces of pages that many show. Each is a template of its own: a macro is written out wherever it is called, and pages that were made
//! of macros took longer to compile than everything else.

use super::view::Shell;
use askama::Template;

/// The shape of a verdict or state, with its word for whoever does not see it.
#[derive(Template)]
#[template(path = "ground/_mark.html")]
pub struct Mark<'a> {
    key: &'a str,
    word: &'a str,
}

/// See [`Mark`].
pub fn mark<'a>(key: &'a str, word: &'a str) -> Mark<'a> {
    Mark { key, word }
}

/// What is wrong with a field, beside it.
#[derive(Template)]
#[template(path = "ground/_said.html")]
pub struct Beside<'a> {
    name: &'a str,
    field: &'a str,
    error: &'a str,
}

/// The sentence, when it is about the field of this name.
pub fn said<'a>(name: &'a str, field: &'a str, error: &'a str) -> Beside<'a> {
    Beside { name, field, error }
}

/// What is wrong with a field, as a paragraph below it.
#[derive(Template)]
#[template(path = "ground/_said_below.html")]
pub struct Below<'a> {
    here: &'a str,
    field: &'a str,
    error: &'a str,
}

/// The sentence, when it is about the field of this name.
pub fn said_below<'a>(here: &'a str, field: &'a str, error: &'a str) -> Below<'a> {
    Below { here, field, error }
}

/// The rooms of one rebuild.
#[derive(Template)]
#[template(path = "ground/_near.html")]
pub struct Near<'a> {
    id: String,
    at: &'a str,
}

/// Of this rebuild, at this one of them.
pub fn near<'a>(id: &impl ToString, at: &'a str) -> Near<'a> {
    Near { id: id.to_string(), at }
}

/// What every form of the Bench sends along.
#[derive(Template)]
#[template(path = "ground/_form.html")]
pub struct Along<'a> {
    csrf: &'a str,
    act: &'a str,
    step: &'a str,
}

/// What is done, and to which step.
pub fn form<'a>(csrf: &'a str, act: &'a str, step: &'a str) -> Along<'a> {
    Along { csrf, act, step }
}

/// What is the same in the head of every page of the shop.
#[derive(Template)]
#[template(path = "ground/_page_head.html")]
pub struct PageHead;

/// Styles, fonts and scripts.
pub fn page_head() -> PageHead {
    PageHead
}

/// The rooms of the shop.
#[derive(Template)]
#[template(path = "ground/_rooms.html")]
pub struct Rooms<'a> {
    shell: &'a Shell,
}

/// Those that who is signed in may enter.
pub fn rooms(shell: &Shell) -> Rooms<'_> {
    Rooms { shell }
}

/// The end of the top edge: clocks, units, who is signed in.
#[derive(Template)]
#[template(path = "ground/_edge_end.html")]
pub struct EdgeEnd<'a> {
    shell: &'a Shell,
}

/// For who is signed in.
pub fn edge_end(shell: &Shell) -> EdgeEnd<'_> {
    EdgeEnd { shell }
}
