//! Papers are set by a program of its own, one process a paper: one that takes too long or too much memory ends with
//! it, and whoever waits for a page waits for no paper.

use ironseat_web::{Order, Unprinted};
use serde_json::json;
use std::path::PathBuf;
use std::process::Stdio;
use std::time::Duration;
use tokio::io::{AsyncReadExt as _, AsyncWriteExt as _};
use tokio::process::Command;
use tokio::sync::Semaphore;

/// So many at the same time; the others wait their turn.
static AT_ONCE: Semaphore = Semaphore::const_new(2);
/// Whoever waits longer for a turn is told.
const TURN: Duration = Duration::from_secs(10);
/// A certificate with twelve pictures takes a tenth of this in a debug build.
const LONGEST: Duration = Duration::from_secs(30);
/// No paper is larger.
const LARGEST: u64 = 64 << 20;

/// Beside this program, unless `IRON_SEAT_PAPERS` names it.
fn program() -> Option<PathBuf> {
    let named = std::env::var_os("IRON_SEAT_PAPERS").map(PathBuf::from);
    let path = named.or_else(|| std::env::current_exe().ok().map(|own| own.with_file_name("iron-seat-papers")));
    path.filter(|p| p.is_file())
}

/// Sets a paper.
///
/// # Errors
/// Why there is none.
pub async fn set(order: Order) -> Result<Vec<u8>, Unprinted> {
    let program = program().ok_or(Unprinted::NotBuilt)?;
    let Ok(Ok(_turn)) = tokio::time::timeout(TURN, AT_ONCE.acquire()).await else { return Err(Unprinted::Busy) };
    // Whoever hangs up, or waits too long, drops the process, and it is killed with that.
    match tokio::time::timeout(LONGEST, printed(&program, order)).await {
        Ok(done) => done.map_err(Unprinted::Fault),
        Err(_) => Err(Unprinted::Fault(format!("it took more than {} s", LONGEST.as_secs()))),
    }
}

async fn printed(program: &std::path::Path, order: Order) -> Result<Vec<u8>, String> {
    let say = |e: std::io::Error| e.to_string();
    let mut child = Command::new(program)
        .env_clear()
        .kill_on_drop(true)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .map_err(say)?;
    let (Some(mut to), Some(from), Some(errors)) = (child.stdin.take(), child.stdout.take(), child.stderr.take())
    else {
        return Err("its pipes were not opened".into());
    };
    let files: Vec<_> = order.files.iter().map(|(name, b)| json!({"name": name, "bytes": b.len()})).collect();
    let size = if order.letter { "letter" } else { "a4" };
    let head = json!({"paper": order.paper, "size": size, "data": order.data, "files": files}).to_string();
    let (mut pdf, mut why) = (Vec::new(), Vec::new());
    let write = async move {
        to.write_all(head.as_bytes()).await?;
        to.write_all(b"\n").await?;
        for (_, bytes) in &order.files {
            to.write_all(bytes).await?;
        }
        to.shutdown().await
    };
    let (mut from, mut errors) = (from.take(LARGEST), errors.take(4096));
    let (written, read, _) = tokio::join!(write, from.read_to_end(&mut pdf), errors.read_to_end(&mut why));
    read.map_err(say)?;
    let ended = child.wait().await.map_err(say)?;
    if !ended.success() {
        return Err(format!("{ended}: {}", String::from_utf8_lossy(&why).trim()));
    }
    written.map_err(say)?;
    Ok(pdf)
}
