//! Pictures are written anew, and what is none is refused.

use image::{ImageBuffer, ImageFormat, Rgb, RgbImage, Rgba};
use ironseat_store::PictureId;
use ironseat_web::tried::{LARGEST_PICTURE as LARGEST, clean, jpeg};
use std::io::Cursor;

fn png(w: u32, h: u32) -> Vec<u8> {
    let mut out = Vec::new();
    let p: RgbImage = ImageBuffer::from_fn(w, h, |x, y| Rgb([(x % 251) as u8, (y % 241) as u8, 90]));
    p.write_to(&mut Cursor::new(&mut out), ImageFormat::Png).unwrap();
    out
}

#[test]
fn a_picture_is_shrunk_written_anew_and_keeps_its_shape() {
    let p = clean(PictureId::new(), &png(3200, 1000)).unwrap();
    assert_eq!((p.width, p.height), (1600, 500));
    for (body, side) in [(&p.whole, 1600), (&p.small, 320)] {
        assert_eq!(image::guess_format(body).unwrap(), ImageFormat::Jpeg);
        assert_eq!(image::load_from_memory(body).unwrap().width(), side);
    }
    assert_eq!(clean(PictureId::new(), &png(40, 30)).unwrap().width, 40);
}

#[test]
fn what_a_camera_notes_does_not_come_along_but_turns_the_picture_upright() {
    // A JPEG with an EXIF block: orientation 6 (a quarter turn) and a place name.
    let plain = jpeg(&RgbImage::from_pixel(60, 20, Rgb([200, 10, 10]))).unwrap();
    let mut tiff = b"Exif\0\0II*\0\x08\0\0\0\x02\0".to_vec();
    tiff.extend(b"\x12\x01\x03\0\x01\0\0\0\x06\0\0\0"); // Orientation
    tiff.extend(b"\x0e\x01\x02\0\x14\0\0\0\x26\0\0\0"); // ImageDescription, 20 bytes at 38
    tiff.extend(b"\0\0\0\0");
    tiff.extend(b"QUAYSIDE-PLACE-NAME\0");
    let mut with = plain[..2].to_vec();
    with.extend([0xff, 0xe1]);
    with.extend(u16::try_from(tiff.len() + 2).unwrap().to_be_bytes());
    with.extend(&tiff);
    with.extend(&plain[2..]);
    let p = clean(PictureId::new(), &with).unwrap();
    assert_eq!((p.width, p.height), (20, 60), "turned upright");
    for body in [&p.whole, &p.small] {
        assert!(!body.windows(8).any(|w| w == b"QUAYSIDE") && !body.windows(4).any(|w| w == b"Exif"));
    }
}

#[test]
fn wrong_types_damage_and_bombs_are_refused_with_a_sentence() {
    let said = |b: &[u8]| clean(PictureId::new(), b).unwrap_err();
    assert!(said(b"").message.contains("choose a PNG or JPEG"));
    for wrong in [&b"GIF89a\x01\0\x01\0"[..], b"<svg xmlns='http://www.w3.org/2000/svg'/>", b"%PDF-1.7", b"MZ\x90\0"] {
        assert!(said(wrong).message.contains("neither"));
    }
    let whole = png(200, 200);
    assert!(said(&whole[..whole.len() / 2]).message.contains("damaged"));
    // A header that claims 60 000 by 60 000 points in a few bytes.
    let mut bomb = png(8, 8);
    bomb[16..20].copy_from_slice(&60_000u32.to_be_bytes());
    bomb[20..24].copy_from_slice(&60_000u32.to_be_bytes());
    let crc = bomb[12..29].iter().fold(!0u32, |mut c, b| {
        c ^= u32::from(*b);
        (0..8).for_each(|_| c = if c & 1 == 1 { c >> 1 ^ 0xedb8_8320 } else { c >> 1 });
        c
    });
    bomb[29..33].copy_from_slice(&(!crc).to_be_bytes());
    let begun = std::time::Instant::now();
    assert!(said(&bomb).message.contains("megapixels"), "{}", said(&bomb).message);
    assert!(begun.elapsed() < std::time::Duration::from_secs(1));
    // Really black and really large: compresses to little, is refused by its size alone.
    let mut flat = Vec::new();
    image::GrayImage::new(12_000, 6_000).write_to(&mut Cursor::new(&mut flat), ImageFormat::Png).unwrap();
    assert!(flat.len() < LARGEST && said(&flat).message.contains("megapixels"));
}

#[test]
fn what_is_clear_lies_on_white() {
    let mut out = Vec::new();
    let p: ImageBuffer<Rgba<u8>, Vec<u8>> = ImageBuffer::from_pixel(4, 4, Rgba([0, 0, 0, 0]));
    p.write_to(&mut Cursor::new(&mut out), ImageFormat::Png).unwrap();
    let kept = image::load_from_memory(&clean(PictureId::new(), &out).unwrap().whole).unwrap().to_rgb8();
    assert!(kept.pixels().all(|p| p.0.iter().all(|v| *v > 250)));
}
