//! Iron Seat on the web: one module per room, one line per route, fragments and pages from the same templates.

mod ground;
mod live;
mod parts;
mod rooms;
mod routes;
mod state;

pub use ground::printer::{Order, Printer, Unprinted};
pub use routes::{router, routes};
pub use state::{App, Config};
