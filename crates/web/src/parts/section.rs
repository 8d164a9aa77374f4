//! Half sections that were drawn before: one machine type with the same parts on, the same marks and the same size is
//! the same drawing.

use crate::parts::joints::joints;
use crate::parts::seat_marks::marks;
use ironseat_core::anatomy::MachineType;
use ironseat_core::quantity::Units;
use ironseat_drawing::{Fitted, HalfSection, SectionView, half_section};
use ironseat_store::db::cache::Cache;
use ironseat_store::read::bench::Bench;
use std::sync::Arc;

/// By where the machine type lies in memory, which is kept there as long as its drawing, and what is drawn of it.
type Drawn = Cache<(usize, String), (Arc<MachineType>, Arc<HalfSection>)>;

/// About 40 kB each.
static DRAWN: Drawn = Cache::new(256);

/// The half section of a kept machine type.
pub fn section(kind: &Arc<MachineType>, view: &SectionView<'_>) -> Arc<HalfSection> {
    let key = (Arc::as_ptr(kind).addr(), format!("{view:?}"));
    if let Some((_, there)) = DRAWN.get(&key) {
        return there;
    }
    let fresh = Arc::new(half_section(&kind.anatomy, view));
    DRAWN.put(key, (kind.clone(), fresh.clone()));
    fresh
}

/// The half section of a rebuild as it stands, as a file.
pub fn as_file(b: &Bench, units: Units) -> String {
    let s = &b.state;
    let drawn = half_section(
        s.anatomy(),
        &SectionView {
            width: 968.0,
            height: 318.0,
            fitted: Fitted::Parts { on: &s.fitted(), scrapped: &s.scrapped },
            marks: &marks(s, b.rebuild.id, None, units),
            selected: None,
            in_hand: None,
            joints: &joints(s),
            small: false,
            id: "hs",
        },
    );
    drawn.standalone()
}
