//! Pictures as evidence: taken in as PNG or JPEG, turned upright, shrunk, written anew as JPEG so that nothing a camera
//! notes comes along, and served only to people who are signed in.

use crate::ground::address::encode;
use crate::ground::error::{WebError, WebResult};
use crate::ground::extract::{Form, Reader, Upload, Worker};
use crate::rooms::bench::{BenchQuery, again_with};
use crate::state::App;
use axum::extract::{Path, Query, State};
use axum::http::header;
use axum::response::{IntoResponse as _, Redirect, Response};
use image::codecs::jpeg::JpegEncoder;
use image::imageops::FilterType;
use image::{DynamicImage, ImageDecoder as _, ImageFormat, ImageReader, Limits, RgbImage};
use ironseat_core::Refusal;
use ironseat_core::terms::ActId;
use ironseat_store::write;
use ironseat_store::write::pictures::{self, NewPicture};
use ironseat_store::{PictureId, RebuildId, StoreError, read};
use serde::Deserialize;
use std::io::Cursor;
use tokio::sync::Semaphore;

/// Largest file that is taken in.
pub const LARGEST: usize = 12 << 20;
/// Longest side and number of points that are decoded at all: a small file can claim to be a huge picture.
const LONGEST_SIDE: u32 = 16_000;
const MOST_POINTS: u64 = 60_000_000;
const MOST_BYTES: u64 = 320 << 20;
/// Longest sides as kept.
const WHOLE: u32 = 1600;
const SMALL: u32 = 320;
/// So many pictures are decoded at the same time; others wait.
static DECODING: Semaphore = Semaphore::const_new(1);

fn bad(what: impl Into<String>) -> Refusal {
    Refusal::new("picture", what)
}

/// Decodes a picture within its limits and writes it anew in two sizes.
pub fn clean(id: PictureId, bytes: &[u8]) -> Result<NewPicture, Refusal> {
    if bytes.is_empty() {
        return Err(bad("expected a picture: choose a PNG or JPEG file, or take one"));
    }
    let format = match image::guess_format(bytes) {
        Ok(f @ (ImageFormat::Png | ImageFormat::Jpeg)) => f,
        _ => return Err(bad("expected a PNG or a JPEG picture: this file is neither")),
    };
    let unreadable = |_| bad("this picture is damaged: take it again");
    let mut reader = ImageReader::with_format(Cursor::new(bytes), format);
    let mut limits = Limits::default();
    limits.max_image_width = Some(LONGEST_SIDE);
    limits.max_image_height = Some(LONGEST_SIDE);
    limits.max_alloc = Some(MOST_BYTES);
    reader.limits(limits);
    let too_large =
        || bad(format!("expected at most {} megapixels: take it again with a smaller size", MOST_POINTS / 1_000_000));
    let mut decoder = reader.into_decoder().map_err(|e| match e {
        image::ImageError::Limits(_) => too_large(),
        _ => bad("this picture is damaged: take it again"),
    })?;
    let (w, h) = decoder.dimensions();
    if u64::from(w) * u64::from(h) > MOST_POINTS || decoder.total_bytes() > MOST_BYTES {
        return Err(too_large());
    }
    let upright = decoder.orientation().map_err(unreadable)?;
    let mut picture = DynamicImage::from_decoder(decoder).map_err(unreadable)?;
    let fit = |p: &DynamicImage, side: u32, filter| {
        if p.width().max(p.height()) > side { p.resize(side, side, filter) } else { p.clone() }
    };
    picture = fit(&picture, WHOLE, FilterType::Triangle);
    picture.apply_orientation(upright);
    let whole = on_paper(&picture);
    let small = on_paper(&fit(&picture, SMALL, FilterType::Triangle));
    Ok(NewPicture { id, width: whole.width(), height: whole.height(), whole: jpeg(&whole)?, small: jpeg(&small)? })
}

/// Without transparency: on white.
fn on_paper(p: &DynamicImage) -> RgbImage {
    if !p.color().has_alpha() {
        return p.to_rgb8();
    }
    let mut out = RgbImage::new(p.width(), p.height());
    for (to, from) in out.pixels_mut().zip(p.to_rgba8().pixels()) {
        let a = u32::from(from[3]);
        for (c, v) in to.0.iter_mut().zip(&from.0[..3]) {
            *c = u8::try_from((u32::from(*v) * a + 255 * (255 - a)) / 255).unwrap_or(255);
        }
    }
    out
}

/// As JPEG.
pub fn jpeg(p: &RgbImage) -> Result<Vec<u8>, Refusal> {
    let mut out = Vec::new();
    JpegEncoder::new_with_quality(&mut out, 82)
        .encode_image(p)
        .map_err(|_| bad("this picture could not be kept: take it again"))?;
    Ok(out)
}

/// Takes a picture in beside a question.
pub async fn add(
    State(app): State<App>,
    Worker(reader): Worker,
    Path(id): Path<RebuildId>,
    form: Upload,
) -> WebResult<Response> {
    let field = |name: &str| form.fields.get(name).cloned().unwrap_or_default();
    let question = field("question");
    let step = ActId::Ask(question.clone()).to_string();
    let picture: PictureId = field("picture").parse().unwrap_or_default();
    // What would be refused is refused before its bytes are looked at: that is cheap, and decoding is not.
    let asked = question.clone();
    match app.store.run(move |c| pictures::wanted(c, id, &asked, picture)).await {
        Ok(true) => {}
        Ok(false) => return Ok(Redirect::to(&format!("/rebuilds/{id}?step={}", encode(&step))).into_response()),
        Err(e) => return again_with(&app, &reader, id, BenchQuery { step, ..BenchQuery::default() }, e, |_| {}).await,
    }
    let turn = DECODING.acquire().await.map_err(|_| WebError::Unreadable)?;
    let file = form.file.clone();
    let cleaned = tokio::task::spawn_blocking(move || clean(picture, &file)).await.map_err(|_| WebError::Unreadable)?;
    drop(turn);
    let who = reader.person.clone();
    let kept = match cleaned {
        Ok(new) => app.store.run(move |c| write::pictures::add(c, &who, id, &question, &new)).await,
        Err(e) => Err(e.into()),
    };
    match kept {
        Ok(()) => Ok(Redirect::to(&format!("/rebuilds/{id}?step={}", encode(&step))).into_response()),
        Err(e) => again_with(&app, &reader, id, BenchQuery { step, ..BenchQuery::default() }, e, |_| {}).await,
    }
}

/// Which size.
#[derive(Deserialize, Default)]
pub struct SizeQuery {
    #[serde(default)]
    small: bool,
}

/// A picture, to those who may read the rebuild.
pub async fn show(
    State(app): State<App>,
    _: Reader,
    Path((id, picture)): Path<(RebuildId, PictureId)>,
    Query(q): Query<SizeQuery>,
) -> WebResult {
    let body = app.store.run(move |c| read::pictures::body(c, id, picture, q.small)).await?;
    Ok(([(header::CONTENT_TYPE, "image/jpeg"), (header::CONTENT_DISPOSITION, "inline")], body).into_response())
}

/// What takes a picture away.
#[derive(Deserialize)]
pub struct AwayForm {
    #[serde(default)]
    step: String,
}

/// Takes a picture away.
pub async fn take_away(
    State(app): State<App>,
    Worker(reader): Worker,
    Path((id, picture)): Path<(RebuildId, PictureId)>,
    Form(f): Form<AwayForm>,
) -> WebResult<Response> {
    let who = reader.person.clone();
    match app.store.run(move |c| write::pictures::take_away(c, &who, id, picture)).await {
        // Away already: somebody else did it, or the button was pressed twice.
        Ok(()) | Err(StoreError::NotFound) => {
            Ok(Redirect::to(&format!("/rebuilds/{id}?step={}", encode(&f.step))).into_response())
        }
        Err(e) => again_with(&app, &reader, id, BenchQuery { step: f.step, ..BenchQuery::default() }, e, |_| {}).await,
    }
}
