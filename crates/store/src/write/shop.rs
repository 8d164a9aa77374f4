//! The shop: house rules, instruments, tools, presses.

use crate::chain::digests::Chain;
use crate::chain::shop::changed;
use crate::db::schema::{instruments, presses, shops, tools};
use crate::db::stored;
use crate::read::shop::settings;
use crate::rows::person::Person;
use crate::rows::shop::Instrument;
use crate::rows::shop::ShopSettings;
use crate::{PressId, Result, StoreError, ToolId};
use chrono_tz::Tz;
use diesel::prelude::*;
use ironseat_core::rules::{HouseRules, Learned};
use ironseat_core::terms::text;

/// Sets the shop up.
///
/// # Errors
/// `shop` when the name is empty; a conflict when it is set up already.
pub fn create(c: &mut MysqlConnection, name: &str, demo: bool) -> Result<()> {
    let name = &text::SHOP.read("shop", name, |range| format!("expected the name of the shop, {range}"))?;
    changed(c, Chain::Rules, None, &format!("{name} set up, with the rules as they come."), |c| {
        diesel::insert_into(shops::table)
            .values((
                shops::id.eq(1),
                shops::name.eq(name),
                shops::demo.eq(demo),
                shops::rules.eq(stored::write(&HouseRules::default())?),
                shops::revision.eq(1),
                shops::zone.eq(""),
            ))
            .execute(c)?;
        Ok(())
    })
}

/// Changes the rules and the zone, if nobody did since `revision`.
///
/// # Errors
/// A refused figure, or a conflict.
pub fn change_rules(c: &mut MysqlConnection, who: &Person, rules: &HouseRules, zone: Tz, revision: i32) -> Result<()> {
    let old = settings(c)?.ok_or(StoreError::NotFound)?;
    // What was learned is kept or forgotten by itself.
    let rules = HouseRules { learned: old.rules.learned, ..rules.clone() }.check()?;
    keep_rules(c, who, &old, rules, zone, revision)
}

/// Takes the friction that the shop's own presses say instead of the usual one, or goes back to that.
///
/// # Errors
/// `learned`; a conflict when someone changed the rules meanwhile.
pub fn learn(c: &mut MysqlConnection, who: &Person, learned: Option<Learned>, revision: i32) -> Result<()> {
    let old = settings(c)?.ok_or(StoreError::NotFound)?;
    let rules = HouseRules { learned, ..old.rules.clone() }.check()?;
    let zone = old.zone;
    keep_rules(c, who, &old, rules, zone, revision)
}

fn keep_rules(
    c: &mut MysqlConnection,
    who: &Person,
    old: &ShopSettings,
    rules: HouseRules,
    zone: Tz,
    revision: i32,
) -> Result<()> {
    let mut said = differences(&old.rules, &rules)?;
    if old.zone != zone {
        said.push(format!("times said in {zone} instead of {}", old.zone));
    }
    let said = format!("House rules changed: {}.", said.join("; "));
    let kept = if zone == Tz::UTC { "" } else { zone.name() };
    let n = changed(c, Chain::Rules, Some(who), &said, |c| {
        Ok(diesel::update(shops::table.filter(shops::id.eq(1)).filter(shops::revision.eq(revision)))
            .set((shops::rules.eq(stored::write(&rules)?), shops::zone.eq(kept), shops::revision.eq(revision + 1)))
            .execute(c)?)
    })?;
    if n == 0 {
        return Err(StoreError::Conflict(
            "someone changed the rules meanwhile: these are theirs, put yours in again".into(),
        ));
    }
    Ok(())
}

/// Which rules are others now, by their names in the document.
fn differences(old: &HouseRules, new: &HouseRules) -> Result<Vec<String>> {
    let (old, new) = (serde_json::to_value(old)?, serde_json::to_value(new)?);
    let words = |v: &serde_json::Value| v.as_str().map_or_else(|| v.to_string(), str::to_owned);
    let of = |v: &serde_json::Value| v.as_object().cloned().unwrap_or_default();
    let old = of(&old);
    Ok(of(&new)
        .iter()
        .filter(|(k, v)| old.get(*k) != Some(v))
        .map(|(k, v)| {
            format!("{} {} instead of {}", k.replace('_', " "), words(v), old.get(k).map_or(String::new(), words))
        })
        .collect())
}

/// Adds an instrument.
///
/// # Errors
/// Database errors.
pub fn add_instrument(c: &mut MysqlConnection, i: &Instrument) -> Result<()> {
    let um = i.u_mm * 1000.0;
    changed(
        c,
        Chain::Stores,
        None,
        &format!("Instrument {} put in: {} to {} mm, U {um:.1} µm.", i.name, i.lo_mm, i.hi_mm),
        |c| {
            diesel::insert_into(instruments::table).values(i).execute(c)?;
            Ok(())
        },
    )
}

/// Adds a tube.
///
/// # Errors
/// Database errors.
pub fn add_tool(c: &mut MysqlConnection, name: &str, bore: f64, outside: f64, length: f64) -> Result<()> {
    changed(
        c,
        Chain::Stores,
        None,
        &format!("Tool {name} put in: bore {bore} mm, outside {outside} mm, {length} mm long."),
        |c| {
            diesel::insert_into(tools::table)
                .values((
                    tools::id.eq(ToolId::new()),
                    tools::name.eq(name),
                    tools::bore_mm.eq(bore),
                    tools::outside_mm.eq(outside),
                    tools::length_mm.eq(length),
                ))
                .execute(c)?;
            Ok(())
        },
    )
}

/// Adds a press.
///
/// # Errors
/// Database errors.
pub fn add_press(c: &mut MysqlConnection, name: &str, capacity_n: f64) -> Result<()> {
    changed(c, Chain::Stores, None, &format!("Press {name} put in: up to {:.1} kN.", capacity_n / 1000.0), |c| {
        diesel::insert_into(presses::table)
            .values((presses::id.eq(PressId::new()), presses::name.eq(name), presses::capacity_n.eq(capacity_n)))
            .execute(c)?;
        Ok(())
    })
}
