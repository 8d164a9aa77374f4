//! Why: the trade as the program understands it, opened at the paragraph that a call rests on.

use crate::app::App;
use crate::error::WebResult;
use crate::extract::Reader;
use crate::view::{Shell, page};
use askama::Template;
use axum::extract::State;
use ironseat_core::why::{TRADE, slug};
use ironseat_store::rebuilds::live_clocks;
use pulldown_cmark::{Parser, html::push_html};
use std::sync::LazyLock;

/// The chapters with their anchors, and the text as HTML. The text is the program's own: nothing that somebody typed is in it.
static TEXT: LazyLock<(Vec<(String, String)>, String)> = LazyLock::new(|| {
    let mut chapters = Vec::new();
    let mut marked = String::new();
    let mut example = false;
    for line in TRADE.lines().filter(|l| !l.starts_with("# ")) {
        if let Some(title) = line.strip_prefix("## ") {
            chapters.push((slug(title), title.to_owned()));
            marked += &format!("<h2 id=\"{}\">{title}</h2>\n", slug(title));
        } else if let Some(name) = line.strip_prefix("```example ") {
            // A worked example: its computation by name, then what goes in and what comes out.
            marked += &format!("<p class=\"soft\">Reckoned: {name}</p>\n\n```\n");
            example = true;
        } else if let Some((lead, rest)) = line.strip_prefix("**").filter(|_| !example).and_then(|l| l.split_once("**")) {
            marked += &format!("<span id=\"{}\"></span>**{lead}**{rest}\n", slug(lead));
        } else {
            example &= line != "```";
            marked += line;
            marked.push('\n');
        }
    }
    let mut html = String::new();
    push_html(&mut html, Parser::new(&marked));
    (chapters, html)
});

#[derive(Template)]
#[template(path = "why.html")]
struct WhyPage {
    shell: Shell,
    chapters: &'static [(String, String)],
    text: &'static str,
}

/// The whole text; calls link to their paragraph.
pub async fn show(State(app): State<App>, reader: Reader) -> WebResult {
    let clocks = app.store.run(live_clocks).await?;
    let shell = Shell::new(&reader, &clocks, "why", "/why".into(), "/events".into());
    page(&WhyPage { shell, chapters: &TEXT.0, text: &TEXT.1 })
}
