//! What was made before and cannot change by its key: a bounded number of things, the longest unused dropped first.
//! Nothing that is decided is decided by it.

use lru::LruCache;
use std::hash::Hash;
use std::num::NonZeroUsize;
use std::sync::{Mutex, MutexGuard, OnceLock, PoisonError};

/// Things by what they were made from.
///
/// ```
/// use ironseat_store::db::cache::Cache;
/// static SQUARES: Cache<u32, u32> = Cache::new(2);
/// SQUARES.put(3, 9);
/// assert_eq!(SQUARES.get(&3), Some(9));
/// SQUARES.put(4, 16);
/// SQUARES.put(5, 25);
/// assert_eq!(SQUARES.get(&3), None);
/// ```
pub struct Cache<K, V> {
    room: usize,
    things: OnceLock<Mutex<LruCache<K, V>>>,
}

impl<K, V> std::fmt::Debug for Cache<K, V> {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Cache").field("room", &self.room).finish_non_exhaustive()
    }
}

impl<K: Hash + Eq, V: Clone> Cache<K, V> {
    /// With room for so many.
    #[must_use]
    pub const fn new(room: usize) -> Self {
        Self { room, things: OnceLock::new() }
    }
    fn things(&self) -> MutexGuard<'_, LruCache<K, V>> {
        let room = NonZeroUsize::new(self.room).unwrap_or(NonZeroUsize::MIN);
        self.things.get_or_init(|| Mutex::new(LruCache::new(room))).lock().unwrap_or_else(PoisonError::into_inner)
    }
    /// What was made from this.
    pub fn get(&self, from: &K) -> Option<V> {
        self.things().get(from).cloned()
    }
    /// Keeps it.
    pub fn put(&self, from: K, made: V) {
        self.things().put(from, made);
    }
}
