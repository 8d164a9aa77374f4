//! Styles, scripts and fonts, embedded: no page makes an external request.

use axum::extract::Path;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse as _, Response};
use sha2::{Digest as _, Sha256};
use std::sync::OnceLock;

/// What ships beside the style sheets.
#[derive(rust_embed::RustEmbed)]
#[folder = "assets/"]
pub struct Files;

/// All style sheets as one, made when the program was built.
const STYLES: &str = include_str!(concat!(env!("OUT_DIR"), "/app.css"));
const STYLES_NAME: &str = "app.css";

/// The modules of every page, named in its head so that they come at once and not one after the other; a test looks
/// whether any is missing.
pub const MODULES: [&str; 17] = [
    "dom", "busy", "clocks", "errors", "asking", "live", "looking", "joints", "waiting", "entry", "keys", "zoom",
    "board", "reckoner", "main", "keymap", "view_box",
];

/// Where this program's files are: the address holds what they are, so that a browser never mixes those of two versions
/// and keeps them as long as it likes.
#[must_use]
pub fn base() -> &'static str {
    static BASE: OnceLock<String> = OnceLock::new();
    BASE.get_or_init(|| {
        let mut names: Vec<_> = Files::iter().collect();
        names.sort();
        let all = names.iter().fold(Sha256::new(), |all, name| {
            let hash = Files::get(name).map(|f| f.metadata.sha256_hash()).unwrap_or_default();
            all.chain_update(name.as_bytes()).chain_update(hash)
        });
        let all = all.chain_update(STYLES);
        format!("/assets/v-{}", hex::encode(&all.finalize()[..8]))
    })
}

/// A shipped file, under the address of this version or under its bare name.
pub async fn get(Path(path): Path<String>) -> Response {
    let current = base().trim_start_matches("/assets/");
    let (name, kept) = match path.strip_prefix(current).and_then(|p| p.strip_prefix('/')) {
        Some(name) => (name, "public, max-age=31536000, immutable"),
        None => (
            path.split_once('/').filter(|(v, _)| v.starts_with("v-")).map_or(path.as_str(), |(_, name)| name),
            "no-cache",
        ),
    };
    let data = if name == STYLES_NAME { Some(STYLES.as_bytes().into()) } else { Files::get(name).map(|f| f.data) };
    match data {
        Some(data) => {
            let mime = mime_guess::from_path(name).first_or_octet_stream();
            ([(header::CONTENT_TYPE, mime.as_ref()), (header::CACHE_CONTROL, kept)], data).into_response()
        }
        None => StatusCode::NOT_FOUND.into_response(),
    }
}
