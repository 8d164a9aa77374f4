//! The shop: settings, instruments, tools and presses.

use crate::db::schema::{instruments, presses, shops, tools};
use crate::db::stored::Stored;
use crate::rows::shop::Instrument;
use crate::rows::shop::ShopSettings;
use crate::rows::shop::known_zone;
use crate::{Result, StoreError};
use diesel::prelude::*;
use ironseat_core::fit::tooling::Tube;
use ironseat_core::quantity::{Millimetres, Newtons};
use ironseat_core::rules::HouseRules;
use ironseat_core::seat::{PressMachine, Shop};

/// Reads name and rules; none before the shop is set up.
///
/// # Errors
/// Database errors.
pub fn settings(c: &mut MysqlConnection) -> Result<Option<ShopSettings>> {
    let row: Option<(String, bool, Stored<HouseRules>, i32, String)> = shops::table
        .find(1)
        .select((shops::name, shops::demo, shops::rules, shops::revision, shops::zone))
        .first(c)
        .optional()?;
    Ok(row.map(|(name, demo, rules, revision, zone)| ShopSettings {
        name,
        demo,
        rules: rules.0,
        zone: known_zone(&zone),
        revision,
    }))
}

/// All instruments, by name.
///
/// # Errors
/// Database errors.
pub fn list_instruments(c: &mut MysqlConnection) -> Result<Vec<Instrument>> {
    Ok(instruments::table.order((instruments::cost, instruments::name)).select(Instrument::as_select()).load(c)?)
}

/// Everything that decides a call: four queries.
///
/// # Errors
/// Database errors; not found before the shop is set up.
pub fn load(c: &mut MysqlConnection) -> Result<(Shop, Vec<Instrument>)> {
    let rules = settings(c)?.ok_or(StoreError::NotFound)?.rules;
    let list = list_instruments(c)?;
    let today = crate::now().date();
    let gauges = list.iter().map(|i| i.gauge(today)).collect::<Result<_>>()?;
    let tubes = tools::table
        .order(tools::name)
        .select((tools::name, tools::bore_mm, tools::outside_mm, tools::length_mm))
        .load::<(String, f64, f64, f64)>(c)?
        .into_iter()
        .map(|(name, b, o, l)| {
            Ok(Tube { name, bore: Millimetres::new(b)?, outside: Millimetres::new(o)?, length: Millimetres::new(l)? })
        })
        .collect::<Result<_>>()?;
    let machines = presses::table
        .select((presses::name, presses::capacity_n))
        .load::<(String, f64)>(c)?
        .into_iter()
        .map(|(name, n)| Ok(PressMachine { name, capacity: Newtons::new(n)? }))
        .collect::<Result<_>>()?;
    Ok((Shop { gauges, presses: machines, tubes, rules, room: None }, list))
}
