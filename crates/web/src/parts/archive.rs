//! A rebuild as a file: what this program takes in again, and beside it what people and other programs read.

use crate::ground::error::{WebError, WebResult};
use crate::ground::extract::Reader;
use crate::parts::files::attachment;
use crate::parts::papers::{self, Paper};
use crate::parts::turns::{Unanswered, in_turn};
use crate::parts::{readings_csv, section};
use crate::state::App;
use axum::http::HeaderMap;
use axum::response::Response;
use ironseat_core::Refusal;
use ironseat_core::anatomy::build_sheet;
use ironseat_core::quantity::Units;
use ironseat_core::quantity::show::capital;
use ironseat_store::archive::{self, Archive, Bytes, Document, SCHEMA};
use ironseat_store::{PictureId, RebuildId, StoreError};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::io::{Cursor, Read as _, Write as _};
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipArchive, ZipWriter};

/// Bytes of an archive that comes in, and of what is packed in it.
pub const LARGEST: usize = 48 << 20;

const LARGEST_UNPACKED: u64 = 192 << 20;

/// Files in it.
const MOST_FILES: usize = 4000;

const READ_ME: &str = "A rebuild as it left Iron Seat.

rebuild.json         every row of it and its record; another Iron Seat takes it in again
rebuild.schema.json  what rebuild.json looks like (JSON Schema 2020-12)
about.json           which shop gave it out
pictures/            pictures as they were kept, whole and small
section.svg          half section
build-sheet.toml     the machine type, as it was worked on
readings.csv         every reading
certificate.pdf      the certificate as of the last entry

The record is a chain of hashes: each entry follows from the one before, and says what every row is.
A chain that is whole in itself does not say who wrote it. Compare the end of the record with the
certificate that was signed.
";

/// Which shop gave it out.
#[derive(Debug, Serialize, Deserialize)]
struct About {
    shop: String,
    number: String,
    program: String,
}

/// Files of an archive, by their names.
type Files = Vec<(String, Vec<u8>)>;

/// Files as one archive, the same bytes for the same files.
pub fn packed(files: &Files) -> zip::result::ZipResult<Vec<u8>> {
    let mut w = ZipWriter::new(Cursor::new(Vec::new()));
    for (name, bytes) in files {
        // Pictures and papers are packed already. All have one time, so the same rebuild is the same file.
        let plain = [".jpg", ".png", ".pdf"].iter().any(|e| name.ends_with(e));
        let method = if plain { CompressionMethod::Stored } else { CompressionMethod::Deflated };
        let options = SimpleFileOptions::default().compression_method(method).unix_permissions(0o644);
        w.start_file(name.as_str(), options)?;
        w.write_all(bytes)?;
    }
    Ok(w.finish()?.into_inner())
}

fn fault(e: impl std::fmt::Display) -> StoreError {
    StoreError::Internal(format!("an archive could not be packed: {e}"))
}

/// The archive of a rebuild, and the name of its file.
///
/// # Errors
/// Not found; held when its record is not whole.
pub async fn pack(app: &App, reader: &Reader, id: RebuildId, headers: &HeaderMap) -> WebResult<(String, Vec<u8>)> {
    let (a, b, readings) = app
        .store
        .run(move |c| {
            let a = archive::collect(c, id)?;
            let (b, list) = ironseat_store::read::readings_export::readings(c, id)?;
            Ok((a, b, list))
        })
        .await?;
    let about = About {
        shop: a.shop.clone(),
        number: a.document.number.clone(),
        program: env!("CARGO_PKG_VERSION").to_owned(),
    };
    let mut files: Files = vec![
        ("READ-ME.txt".into(), READ_ME.as_bytes().to_vec()),
        ("about.json".into(), serde_json::to_vec_pretty(&about).map_err(fault)?),
        ("rebuild.json".into(), serde_json::to_vec_pretty(&a.document).map_err(fault)?),
        ("rebuild.schema.json".into(), SCHEMA.as_bytes().to_vec()),
        ("build-sheet.toml".into(), build_sheet::write(b.rebuild.anatomy()).into_bytes()),
        ("section.svg".into(), section::as_file(&b, Units::Metric).into_bytes()),
        ("readings.csv".into(), readings_csv::file(&b, &readings)?),
    ];
    for (picture, bytes) in a.pictures {
        files.push((format!("pictures/{picture}.jpg"), bytes.whole));
        files.push((format!("pictures/{picture}-small.jpg"), bytes.small));
    }
    if app.config.printer.is_some() {
        let paper = Paper { name: "certificate".into(), letter: false };
        files.push(("certificate.pdf".into(), papers::set(app, reader, id, &paper, headers).await?.1));
    }
    let name = format!("{}.zip", about.number);
    let bytes = tokio::task::spawn_blocking(move || packed(&files)).await.map_err(fault)?.map_err(fault)?;
    Ok((name, bytes))
}

/// A file to be kept.
pub fn file((name, bytes): (String, Vec<u8>)) -> Response {
    attachment("application/zip", &name, bytes)
}

fn bad(words: &str) -> Refusal {
    Refusal::new("archive", words)
}

/// Reads an archive: only files that are known are unpacked, and no more than an archive may hold.
///
/// # Errors
/// `archive`, with what was expected.
pub fn unpack(bytes: &[u8]) -> Result<Archive, Refusal> {
    if bytes.is_empty() {
        return Err(bad("choose the archive of a rebuild (.zip)"));
    }
    let none = |_: zip::result::ZipError| {
        bad("expected the archive of a rebuild (.zip): this file is none, or a part of it is missing")
    };
    let mut z = ZipArchive::new(Cursor::new(bytes)).map_err(none)?;
    if z.len() > MOST_FILES {
        return Err(bad("more files stand in it than an archive has"));
    }
    let mut left = LARGEST_UNPACKED;
    let mut all: BTreeMap<String, Vec<u8>> = BTreeMap::new();
    for k in 0..z.len() {
        let mut f = z.by_index(k).map_err(none)?;
        let name = f.name().map_err(none)?.into_owned();
        let wanted = name == "rebuild.json" || name == "about.json" || name.starts_with("pictures/") && !f.is_dir();
        if !wanted {
            continue;
        }
        let mut out = Vec::new();
        // What a file says of its size is not believed.
        let n = f
            .by_ref()
            .take(left + 1)
            .read_to_end(&mut out)
            .map_err(|_| bad("a file in it cannot be unpacked: it was damaged on the way"))?;
        left = left.checked_sub(n as u64).ok_or_else(|| bad("more stands in it than an archive holds"))?;
        if all.insert(name, out).is_some() {
            return Err(bad("a file stands in it twice"));
        }
    }
    let json =
        |name: &str| all.get(name).ok_or_else(|| bad(&format!("{name} is missing: this is no archive of a rebuild")));
    let cannot = |name: &str, e: serde_json::Error| bad(&format!("{name} cannot be read: {e}"));
    let about: About = serde_json::from_slice(json("about.json")?).map_err(|e| cannot("about.json", e))?;
    let document: Document = serde_json::from_slice(json("rebuild.json")?).map_err(|e| cannot("rebuild.json", e))?;
    let mut pictures = BTreeMap::new();
    for (name, whole) in &all {
        let Some(id) = name.strip_prefix("pictures/").and_then(|n| n.strip_suffix(".jpg")) else { continue };
        if id.ends_with("-small") {
            continue;
        }
        let small = all.get(&format!("pictures/{id}-small.jpg")).ok_or_else(|| bad("a small picture is missing"))?;
        let id: PictureId = id.parse().map_err(|_| bad("a picture has a name that is none"))?;
        pictures.insert(id, Bytes { whole: whole.clone(), small: small.clone() });
    }
    Ok(Archive { shop: about.shop, document, pictures })
}

/// Unpacks off the threads that answer others, when it is its turn.
///
/// # Errors
/// `archive`; held when others are at it.
pub async fn unpacked(bytes: Vec<u8>) -> WebResult<Archive> {
    let ours = Refusal::new("archive", "this could not be unpacked: the fault is ours, please report the file");
    match in_turn(ours, move || unpack(&bytes)).await {
        Ok(a) => Ok(a),
        Err(Unanswered::Busy(r)) => Err(StoreError::Held(capital(&r.message)).into()),
        Err(Unanswered::Refused(r) | Unanswered::Fault(r)) => Err(WebError::Store(r.into())),
    }
}
