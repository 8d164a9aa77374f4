//! The shop: house rules, instruments, tools, presses.

use crate::bound::Chain;
use crate::people::Person;
use crate::schema::{instruments, presses, shops, tools};
use crate::shop_record::changed;
use crate::stored::{self, Stored};
use crate::{InstrumentId, PressId, Result, StoreError, ToolId};
use chrono::NaiveDate;
use chrono_tz::Tz;
use diesel::prelude::*;
use ironseat_core::fit::tooling::Tube;
use ironseat_core::quantity::{Millimetres, Newtons};
use ironseat_core::rules::{HouseRules, Learned};
use ironseat_core::seat::{Gauge, PressMachine, Shop};
use serde::{Deserialize, Serialize};

/// An instrument of the list; in an archive without the shop that it lies in.
#[derive(Debug, Clone, PartialEq, Queryable, Selectable, Insertable, Serialize, Deserialize)]
#[diesel(table_name = instruments)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Instrument {
    pub id: InstrumentId,
    pub name: String,
    pub outside: bool,
    pub inside: bool,
    pub depth: bool,
    pub lo_mm: f64,
    pub hi_mm: f64,
    pub resolution_mm: f64,
    pub u_mm: f64,
    pub cost: f64,
    pub due_on: NaiveDate,
    /// Its own number, engraved on it.
    pub serial: String,
    /// The shop that it belongs to, when it came with an archive; empty for one of ours.
    #[serde(skip)]
    pub origin: String,
    /// Why it is not taken any more; empty for one in use. Readings that it took keep it.
    #[serde(skip)]
    pub away: String,
}

impl Instrument {
    /// Somebody may take it.
    #[must_use]
    pub fn in_use(&self) -> bool {
        self.ours() && self.away.is_empty()
    }
    /// It lies here; another came with an archive, under the readings that it took.
    #[must_use]
    pub fn ours(&self) -> bool {
        self.origin.is_empty()
    }
    /// As core knows it, on a day.
    ///
    /// # Errors
    /// A stored figure that is not a number.
    pub fn gauge(&self, today: NaiveDate) -> Result<Gauge> {
        Ok(Gauge {
            name: self.name.clone(),
            // What lies in another shop, or was put away, reaches nothing here.
            outside: self.outside && self.in_use(),
            inside: self.inside && self.in_use(),
            depth: self.depth && self.in_use(),
            range: (Millimetres::new(self.lo_mm)?, Millimetres::new(self.hi_mm)?),
            resolution: Millimetres::new(self.resolution_mm)?,
            u: Millimetres::new(self.u_mm)?,
            cost: self.cost,
            overdue: self.due_on < today,
        })
    }
}

/// A shop's name and rules.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct ShopSettings {
    pub name: String,
    pub demo: bool,
    pub rules: HouseRules,
    /// The zone that times are said in; records keep UTC.
    pub zone: Tz,
    /// Counts up with each change, so that two leads do not overwrite each other.
    pub revision: i32,
}

/// A zone as kept: empty is UTC, and so is one that this program does not know any more.
pub(crate) fn known_zone(name: &str) -> Tz {
    name.parse().unwrap_or(Tz::UTC)
}

/// A zone as typed.
///
/// # Errors
/// `zone`, with what was expected.
pub fn zone(typed: &str) -> ironseat_core::refusal::Result<Tz> {
    let typed = typed.trim().replace(' ', "_");
    let refused =
        || ironseat_core::Refusal::new("zone", "expected a zone by its region and city, such as Europe/Lisbon, or UTC");
    Tz::from_str_insensitive(&typed).map_err(|_| refused())
}

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

/// Sets the shop up.
///
/// # Errors
/// `shop` when the name is empty; a conflict when it is set up already.
pub fn create(c: &mut MysqlConnection, name: &str, demo: bool) -> Result<()> {
    let name = name.trim();
    if name.is_empty() || name.chars().count() > 120 {
        return Err(ironseat_core::Refusal::new("shop", "expected the name of the shop, up to 120 characters").into());
    }
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

/// All instruments, by name.
///
/// # Errors
/// Database errors.
pub fn list_instruments(c: &mut MysqlConnection) -> Result<Vec<Instrument>> {
    Ok(instruments::table.order((instruments::cost, instruments::name)).select(Instrument::as_select()).load(c)?)
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
