//! Styles, scripts and fonts, embedded: no page makes an external request.

use axum::extract::Path;
use axum::http::{StatusCode, header};
use axum::response::IntoResponse as _;
use axum::response::Response;
use sha2::{Digest as _, Sha256};
use std::sync::OnceLock;

#[derive(rust_embed::RustEmbed)]
#[folder = "assets/"]
struct Files;

/// The modules of every page, named in its head so that they come at once and not one after the other; a test looks whether
/// any is missing.
pub const MODULES: [&str; 14] = [
    "dom", "busy", "clocks", "amiss", "asking", "live", "looking", "waiting", "entry", "keys", "zoom", "board",
    "reckoner", "main",
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
        let sum: String = all.finalize().iter().take(8).map(|b| format!("{b:02x}")).collect();
        format!("/assets/v-{sum}")
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
    match Files::get(name) {
        Some(file) => {
            let mime = mime_guess::from_path(name).first_or_octet_stream();
            ([(header::CONTENT_TYPE, mime.as_ref()), (header::CACHE_CONTROL, kept)], file.data).into_response()
        }
        None => StatusCode::NOT_FOUND.into_response(),
    }
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]
    use super::*;

    #[test]
    fn every_module_is_named_and_every_one_named_is_there() {
        let (mut all, mut waiting) = (vec!["main".to_owned()], vec!["main".to_owned()]);
        while let Some(name) = waiting.pop() {
            let file = Files::get(&format!("js/{name}.js")).unwrap();
            let text = String::from_utf8(file.data.to_vec()).unwrap();
            for other in
                text.split("from \"./").chain(text.split("import \"./")).skip(1).filter_map(|t| t.split_once(".js\""))
            {
                if !all.contains(&other.0.to_owned()) && !other.0.contains('\n') {
                    all.push(other.0.to_owned());
                    waiting.push(other.0.to_owned());
                }
            }
        }
        let mut named: Vec<String> = MODULES.map(str::to_owned).to_vec();
        all.sort();
        named.sort();
        assert_eq!(all, named);
    }
}
