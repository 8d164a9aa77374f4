//! Cells of a sheet and their places in its drawing.

use ironseat_core::sheet::{self, PLANES, SheetKind};
use ironseat_core::terms::Surface;
use ironseat_web::tried::place_of;

#[test]
fn every_grid_cell_has_its_place_in_the_drawing() {
    let cells = SheetKind::Grid(Surface::Journal).cells();
    let places: Vec<_> = cells.iter().map(|c| place_of(&c.key)).collect();
    let wanted: Vec<_> = (0..sheet::STATIONS).flat_map(|s| (0..PLANES.len()).map(move |p| Some((s, p)))).collect();
    assert_eq!(places, wanted);
    assert_eq!((place_of("F90"), place_of("A0"), place_of("")), (None, None, None));
}
