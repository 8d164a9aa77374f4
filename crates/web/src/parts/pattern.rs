//! Bolt patterns of the stores.

use ironseat_core::fasten::Pattern;

/// The question about a pattern's order, with its bolts.
pub fn question(p: &Pattern) -> String {
    let places = p.bolts().iter().enumerate().flat_map(|(k, (x, y))| {
        [(format!("bolts.{k}.x_mm"), format!("{x} mm")), (format!("bolts.{k}.y_mm"), format!("{y} mm"))]
    });
    let pairs: Vec<(String, String)> = places.chain([("units".to_owned(), "metric".to_owned())]).collect();
    format!("/reckoner/torque.pattern?{}", serde_urlencoded::to_string(pairs).unwrap_or_default())
}
