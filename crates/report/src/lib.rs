//! Papers that leave the house as PDF: typeset from data, with fonts of their own, no network and no clock.
//!
//! A paper is a source in `papers/`; what it says comes in as one JSON document and is never pasted into the source, so
//! that `#`, `*` and `$` in a name stay text. Drawings and pictures are files beside it. The same data make the same
//! bytes.
//!
//! ```
//! use ironseat_report::{Paper, Size, print};
//! let data = serde_json::json!({"shop": "Marrow Quay", "address": "/rebuilds/1", "labels": [
//!     {"number": "R-0398", "part": "Drive-end bearing #2 *new*", "where": "shelf 3", "machine": "Sheave shaft"}]});
//! let pdf = print(Paper::Labels, Size::A4, &data, &[])?;
//! assert!(pdf.starts_with(b"%PDF-"));
//! # Ok::<(), ironseat_report::Fault>(())
//! ```

pub mod order;

use qrcode::QrCode;
use qrcode::render::svg;
use serde_json::Value;
use std::collections::HashMap;
use std::sync::LazyLock;
use typst::diag::{FileError, FileResult, SourceDiagnostic};
use typst::foundations::{Bytes, Datetime, Dict, Duration, IntoValue as _};
use typst::syntax::{FileId, RootedPath, Source, VirtualPath, VirtualRoot};
use typst::text::{Font, FontBook};
use typst::utils::LazyHash;
use typst::{Library, LibraryExt as _, World};
use typst_layout::PagedDocument;

/// What is printed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Paper {
    /// What the customer gets.
    Certificate,
    /// Every act with an empty box, for a bench without power.
    Travel,
    /// One label for each part.
    Labels,
}

impl Paper {
    /// All of them, with their names in addresses.
    pub const ALL: [(Self, &'static str); 3] =
        [(Self::Certificate, "certificate"), (Self::Travel, "travel-sheet"), (Self::Labels, "labels")];
    /// From its name.
    #[must_use]
    pub fn of(name: &str) -> Option<Self> {
        Self::ALL.iter().find(|p| p.1 == name).map(|p| p.0)
    }
    /// Its name.
    #[must_use]
    pub fn name(self) -> &'static str {
        Self::ALL.iter().find(|p| p.0 == self).map_or("", |p| p.1)
    }
    fn source(self) -> &'static str {
        match self {
            Self::Certificate => include_str!("../papers/certificate.typ"),
            Self::Travel => include_str!("../papers/travel.typ"),
            Self::Labels => include_str!("../papers/labels.typ"),
        }
    }
}

/// Size of a sheet of paper.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Size {
    /// 210 mm by 297 mm.
    A4,
    /// 8.5 in by 11 in.
    Letter,
}

impl Size {
    /// From its name in an order.
    #[must_use]
    pub fn of(name: &str) -> Option<Self> {
        match name {
            "a4" => Some(Self::A4),
            "letter" => Some(Self::Letter),
            _ => None,
        }
    }
    fn name(self) -> &'static str {
        match self {
            Self::A4 => "a4",
            Self::Letter => "us-letter",
        }
    }
}

/// Why nothing was printed: a fault of ours, not of the data.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Fault(pub String);

impl std::fmt::Display for Fault {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "the paper could not be set: {}", self.0)
    }
}
impl std::error::Error for Fault {}

static FONTS: LazyLock<(LazyHash<FontBook>, Vec<Font>)> = LazyLock::new(|| {
    let fonts: Vec<Font> = typst_assets::fonts().flat_map(|data| Font::iter(Bytes::new(data))).collect();
    (LazyHash::new(FontBook::from_fonts(&fonts)), fonts)
});

/// Everything that a paper may look at.
struct Desk {
    library: LazyHash<Library>,
    main: Source,
    files: HashMap<FileId, Bytes>,
}

fn id(path: &str) -> Result<FileId, Fault> {
    let path = VirtualPath::new(path).map_err(|e| Fault(format!("{e:?}")))?;
    Ok(FileId::new(RootedPath::new(VirtualRoot::Project, path)))
}

impl World for Desk {
    fn library(&self) -> &LazyHash<Library> {
        &self.library
    }
    fn book(&self) -> &LazyHash<FontBook> {
        &FONTS.0
    }
    fn main(&self) -> FileId {
        self.main.id()
    }
    fn source(&self, id: FileId) -> FileResult<Source> {
        if id == self.main.id() {
            return Ok(self.main.clone());
        }
        let text = self.file(id)?;
        Ok(Source::new(id, String::from_utf8_lossy(&text).into_owned()))
    }
    fn file(&self, id: FileId) -> FileResult<Bytes> {
        self.files.get(&id).cloned().ok_or_else(|| FileError::NotFound("no such file".into()))
    }
    fn font(&self, index: usize) -> Option<Font> {
        FONTS.1.get(index).cloned()
    }
    // A paper says the times that its data say.
    fn today(&self, _: Option<Duration>) -> Option<Datetime> {
        None
    }
}

/// An address as a square that a phone reads, as an SVG file; none for one that is too long.
#[must_use]
pub fn square(address: &str) -> Option<String> {
    let code = QrCode::new(address).ok()?;
    Some(code.render::<svg::Color<'_>>().quiet_zone(true).min_dimensions(120, 120).build())
}

/// Prints a paper: `files` are its drawings and pictures by name. `address` in the data becomes the square `qr.svg`.
///
/// # Errors
/// A fault of the paper's source, or a picture that cannot be read.
pub fn print(paper: Paper, size: Size, data: &Value, files: &[(String, Vec<u8>)]) -> Result<Vec<u8>, Fault> {
    let mut inputs = Dict::new();
    inputs.insert("data".into(), data.to_string().into_value());
    inputs.insert("size".into(), size.name().into_value());
    let mut all = HashMap::new();
    all.insert(id("house.typ")?, Bytes::from_string(include_str!("../papers/house.typ")));
    let qr = data["address"].as_str().and_then(square).unwrap_or_else(|| EMPTY.to_owned());
    all.insert(id("qr.svg")?, Bytes::from_string(qr));
    for (name, bytes) in files {
        all.insert(id(name)?, Bytes::new(bytes.clone()));
    }
    let desk = Desk {
        library: LazyHash::new(Library::builder().with_inputs(inputs).build()),
        main: Source::new(id("main.typ")?, paper.source().to_owned()),
        files: all,
    };
    let said =
        |list: &[SourceDiagnostic]| Fault(list.iter().map(|d| d.message.to_string()).collect::<Vec<_>>().join("; "));
    let set = typst::compile::<PagedDocument>(&desk).output.map_err(|e| said(&e));
    let pdf =
        set.and_then(|document| typst_pdf::pdf(&document, &typst_pdf::PdfOptions::default()).map_err(|e| said(&e)));
    // What was worked out for this paper is of no use to the next.
    comemo::evict(4);
    pdf
}

const EMPTY: &str = r#"<svg xmlns="http://www.w3.org/2000/svg" width="10" height="10"/>"#;
