//! Sets one paper and ends: an order on standard input, the PDF on standard output. A program of its own, so that a
//! paper that takes too much memory or time ends with it and holds up nobody at a bench.

use ironseat_report::{order, print};
use rlimit::Resource;
use std::io::{Read as _, Write as _};
use std::process::ExitCode;

/// The longest certificate that was tried takes a tenth of this.
const MEMORY: u64 = 3 << 30;
/// Seconds of processor time; whoever asked has given up long before, and may have ended without saying so.
const SECONDS: u64 = 60;

fn set() -> Result<Vec<u8>, String> {
    for (what, most) in [(Resource::AS, MEMORY), (Resource::CPU, SECONDS)] {
        what.set(most, most).map_err(|e| e.to_string())?;
    }
    let mut bytes = Vec::new();
    std::io::stdin().lock().read_to_end(&mut bytes).map_err(|e| e.to_string())?;
    let order = order::read(&bytes)?;
    print(order.paper, order.size, &order.data, &order.files).map_err(|e| e.to_string())
}

fn main() -> ExitCode {
    match set().and_then(|pdf| std::io::stdout().lock().write_all(&pdf).map_err(|e| e.to_string())) {
        Ok(()) => ExitCode::SUCCESS,
        Err(why) => {
            eprintln!("{why}");
            ExitCode::FAILURE
        }
    }
}
