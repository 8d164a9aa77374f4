//! Half sections that were drawn before: one machine type with the same parts on, the same marks and the same size is the
//! same drawing.

use ironseat_core::anatomy::MachineType;
use ironseat_drawing::{HalfSection, SectionView, half_section};
use lru::LruCache;
use std::num::NonZeroUsize;
use std::sync::{Arc, LazyLock, Mutex, PoisonError};

/// By where the machine type lies in memory, which is kept there as long as its drawing, and what is drawn of it.
type Drawn = LruCache<(usize, String), (Arc<MachineType>, Arc<HalfSection>)>;

/// About 40 kB each.
static DRAWN: LazyLock<Mutex<Drawn>> =
    LazyLock::new(|| Mutex::new(LruCache::new(NonZeroUsize::new(256).unwrap_or(NonZeroUsize::MIN))));

/// The half section of a kept machine type.
pub fn section(kind: &Arc<MachineType>, view: &SectionView<'_>) -> Arc<HalfSection> {
    let drawn = || DRAWN.lock().unwrap_or_else(PoisonError::into_inner);
    let key = (Arc::as_ptr(kind).addr(), format!("{view:?}"));
    if let Some((_, there)) = drawn().get(&key) {
        return there.clone();
    }
    let fresh = Arc::new(half_section(&kind.anatomy, view));
    drawn().put(key, (kind.clone(), fresh.clone()));
    fresh
}
