//! What was changed of the shop itself, by whom: people, rules, stores, machine types, customers, and which rebuilds
//! there are.

use crate::ground::error::{WebError, WebResult};
use crate::ground::extract::Reader;
use crate::ground::view::{Shell, page};
use crate::parts::entries::EntryRow;
use crate::state::App;
use askama::Template;
use axum::extract::{Path, State};
use ironseat_store::chain::digests::Chain;
use ironseat_store::read::rebuilds;
use ironseat_store::rows::person::Role;
use ironseat_store::{StoreError, chain};

#[derive(Template)]
#[template(path = "rooms/shop_ledger/shop_ledger.html")]
struct LedgerPage {
    shell: Shell,
    title: &'static str,
    /// The others: name in the address, title, whether it is this one.
    others: Vec<(&'static str, &'static str, bool)>,
    entries: Vec<EntryRow>,
    whole: bool,
    verdict: String,
    remarks: Vec<String>,
}

fn title(chain: Chain) -> &'static str {
    match chain {
        Chain::People => "People",
        Chain::Rules => "House rules",
        Chain::Stores => "Instruments, tools, presses",
        Chain::Types => "Machine types",
        Chain::Rebuilds => "Which rebuilds there are",
        Chain::Customers => "Customers",
    }
}

/// One of the records of the shop.
pub async fn show(State(app): State<App>, reader: Reader, Path(name): Path<String>) -> WebResult {
    let chain = Chain::ALL.iter().find(|c| c.1 == name).map(|c| c.0).ok_or(StoreError::NotFound)?;
    let lead = reader.person.role == Role::Lead;
    if chain == Chain::People && !lead {
        return Err(WebError::NotAllowed("Who is there, and what each may do, a lead sees."));
    }
    let read = move |c: &mut _| {
        Ok((chain::shop::entries(c, chain)?, chain::shop::verify(c, chain)?, rebuilds::live_clocks(c)?))
    };
    let (entries, verdict, clocks) = app.store.run(read).await?;
    let seen = Chain::ALL.iter().filter(|c| lead || c.0 != Chain::People);
    page(&LedgerPage {
        shell: Shell::new(&reader, &clocks, "record", format!("/record/{name}"), String::new()),
        title: title(chain),
        others: seen.map(|c| (c.1, title(c.0), c.0 == chain)).collect(),
        entries: EntryRow::all(entries, reader.person.zone),
        whole: verdict.whole(),
        verdict: verdict.short(),
        remarks: verdict.remarks().to_vec(),
    })
}
