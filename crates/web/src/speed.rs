//! x
use ironseat_store::Store;
pub async fn measure(_: Store, _: usize, _: usize) -> Result<(), String> { Ok(()) }
