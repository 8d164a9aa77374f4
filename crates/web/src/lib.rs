//! Iron Seat on the web: one module per room, one line per route, fragments and pages from the same templates.

mod ground;
mod live;
mod parts;
mod rooms;
mod routes;
mod state;

pub use routes::{router, routes};
pub use state::printer::{Order, Printer, Unprinted};
pub use state::{App, Config};

/// What is tried on its own, without a room around it: for the tests, and no interface.
#[doc(hidden)]
pub mod tried {
    pub use crate::ground::assets::{Files, MODULES};
    pub use crate::parts::archive::{packed, unpack};
    pub use crate::parts::table::{LARGEST as LARGEST_TABLE, read};
    pub use crate::rooms::anatomies::InHand;
    pub use crate::rooms::anatomies::form::EditForm;
    pub use crate::rooms::anatomies::set_forms::{
        Group, InputKind, SetForm, bores, edit, groups, housings, in_hand, land_more, part_more, turning,
    };
    pub use crate::rooms::bench::pictures::{LARGEST as LARGEST_PICTURE, clean, jpeg};
    pub use crate::rooms::sheet::view::place_of;
}
