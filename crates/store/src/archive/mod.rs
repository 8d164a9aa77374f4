//! A rebuild as it leaves the house and comes into another: every row of it, who wrote in it, with what it was
//! measured, its pictures and its record. What was taken in is what was given out, row by row, so its chain stands
//! there too.

mod document;
mod rows;

pub use document::{Archive, Bytes, Document, FORMAT, Gauge, Owner, SCHEMA, Writer};

use crate::chain::digests::Chain;
use crate::chain::entry::Verdict;
use crate::chain::shop::changed;
use crate::db::schema::{anatomies, customers, instruments, people, picture_bodies, pictures, rebuilds, shop_chains};
use crate::db::stored;
use crate::db::transaction::{transaction, undone};
use crate::read::bench;
use crate::rows::person::{Person, Role};
use crate::rows::shop::Instrument;
use crate::{AnatomyId, CustomerId, InstrumentId, PersonId, PictureId, RebuildId, Result, StoreError, chain};
use diesel::prelude::*;
use document::Row;
use ironseat_core::Refusal;
use ironseat_core::anatomy::Anatomy;
use ironseat_core::terms::text::{self, Text};
use rows::{TABLES, Table};
use std::collections::{BTreeMap, BTreeSet};

/// What taking one in does.
#[derive(Debug, Clone, PartialEq)]
#[allow(missing_docs)]
pub struct TakenIn {
    pub rebuild: RebuildId,
    pub number: String,
    pub title: String,
    pub customer: String,
    /// The shop that it is kept under.
    pub from: String,
    pub finished: bool,
    pub readings: usize,
    pub pictures: usize,
    pub entries: i64,
    pub head: String,
    /// Who wrote in it and is not known here: put in as somebody who cannot sign in.
    pub unknown: Vec<String>,
    /// Who is known here under another name: theirs, ours.
    pub renamed: Vec<(String, String)>,
    pub instruments: Vec<String>,
    /// Name and version of a machine type that comes with it.
    pub machine_type: Option<(String, u32)>,
    /// It is here already, entry by entry: nothing is changed.
    pub already: bool,
    /// What is odd in its record and breaks nothing.
    pub remarks: Vec<String>,
}

/// Everything of a rebuild, as of one moment.
///
/// # Errors
/// Not found; held when its record is not whole: a row that was changed behind it would go out as if it were true.
pub fn collect(c: &mut MysqlConnection, id: RebuildId) -> Result<Archive> {
    transaction(c, |c| {
        let (number, entries, head, origin, customer): (String, i32, String, String, String) = rebuilds::table
            .find(id)
            .select((
                rebuilds::number,
                rebuilds::record_seq,
                rebuilds::record_hash,
                rebuilds::origin,
                rebuilds::customer,
            ))
            .first(c)?;
        let verdict = chain::rebuild::verify(c, id, true)?;
        if !verdict.whole() {
            return Err(StoreError::Held(format!(
                "its record is not whole, so it is not given out: {}",
                verdict.words()
            )));
        }
        let known = rows::tables(c)?;
        let mut tables = BTreeMap::new();
        for t in &known {
            tables.insert(t.name.to_owned(), rows::read(c, t, id)?);
        }
        let (who, owners, gauges) = referred(&known, &tables);
        let own: Vec<PictureId> = pictures::table.filter(pictures::rebuild_id.eq(id)).select(pictures::id).load(c)?;
        let mut bytes = BTreeMap::new();
        for p in own {
            let (whole, small) =
                picture_bodies::table.find(p).select((picture_bodies::whole, picture_bodies::small)).first(c)?;
            bytes.insert(p, Bytes { whole, small });
        }
        let document = Document {
            format: FORMAT.into(),
            number,
            entries: entries.into(),
            head,
            people: people::table
                .filter(people::id.eq_any(who))
                .order(people::id)
                .select((people::id, people::name, people::initials))
                .load(c)?,
            // As it was called when the rebuild was begun, whatever it is called here.
            customers: owners.into_iter().map(|id| Owner { id, name: customer.clone() }).collect(),
            instruments: instruments::table
                .filter(instruments::id.eq_any(gauges))
                .order(instruments::id)
                .select(Instrument::as_select())
                .load::<Instrument>(c)?
                .into_iter()
                .map(Gauge::from)
                .collect(),
            tables,
        };
        let shop = if origin.is_empty() {
            crate::read::shop::settings(c)?.map_or_else(String::new, |s| s.name)
        } else {
            origin
        };
        Ok(Archive { shop, document, pictures: bytes })
    })
}

/// People, customers and instruments that rows name.
fn referred(
    known: &[Table],
    tables: &BTreeMap<String, Vec<Row>>,
) -> (BTreeSet<PersonId>, BTreeSet<CustomerId>, BTreeSet<InstrumentId>) {
    let (mut who, mut owners, mut gauges) = (BTreeSet::new(), BTreeSet::new(), BTreeSet::new());
    for t in known {
        for (column, to) in t.refers() {
            for v in tables.get(t.name).into_iter().flatten().filter_map(|r| r.get(&column)?.as_str()) {
                match to {
                    rows::To::Person => who.extend(v.parse::<PersonId>().ok()),
                    rows::To::Customer => owners.extend(v.parse::<CustomerId>().ok()),
                    rows::To::Instrument => gauges.extend(v.parse::<InstrumentId>().ok()),
                }
            }
        }
    }
    (who, owners, gauges)
}

fn bad(words: impl Into<String>) -> StoreError {
    Refusal::new("archive", words).into()
}

/// What taking an archive in would do: it is done, looked at, and undone.
///
/// # Errors
/// As [`take_in`].
pub fn look(c: &mut MysqlConnection, who: &Person, a: &Archive) -> Result<TakenIn> {
    undone(c, |c| put(c, who, a))
}

/// Takes an archive in, whole or not at all. One that is here already changes nothing.
///
/// # Errors
/// `archive`, with what is wrong in it; held for anyone but a lead; a conflict when the rebuild is here with another
/// record.
pub fn take_in(c: &mut MysqlConnection, who: &Person, a: &Archive) -> Result<TakenIn> {
    transaction(c, |c| put(c, who, a))
}

fn put(c: &mut MysqlConnection, who: &Person, a: &Archive) -> Result<TakenIn> {
    if who.role != Role::Lead {
        return Err(StoreError::Held("only a lead takes an archive in".into()));
    }
    // All chains that are written to, locked in one order before anything is read.
    let _: Vec<i32> = shop_chains::table.order(shop_chains::name).select(shop_chains::seq).for_update().load(c)?;
    let d = &a.document;
    if d.format != FORMAT {
        return Err(bad(format!("expected the format {FORMAT}: a newer one needs a newer program")));
    }
    let known = rows::tables(c)?;
    let rebuild = check(&known, a)?;
    let shop = name("the shop", &a.shop, text::SHOP)?;
    let mut out = TakenIn {
        rebuild,
        number: d.number.clone(),
        title: String::new(),
        customer: String::new(),
        from: String::new(),
        finished: false,
        readings: d.tables.get("readings").map_or(0, Vec::len),
        pictures: a.pictures.len(),
        entries: d.entries,
        head: d.head.clone(),
        unknown: Vec::new(),
        renamed: Vec::new(),
        instruments: Vec::new(),
        machine_type: None,
        already: false,
        remarks: Vec::new(),
    };
    let here: Option<(i32, String)> =
        rebuilds::table.find(rebuild).select((rebuilds::record_seq, rebuilds::record_hash)).first(c).optional()?;
    match here {
        Some((seq, head)) if i64::from(seq) == d.entries && head == d.head => out.already = true,
        Some((seq, _)) => {
            return Err(StoreError::Conflict(format!(
                "{} is here already with a record of {seq} entries, and this archive has another of {}: two records cannot stand for one rebuild",
                d.number, d.entries
            )));
        }
        None => {
            referred_rows(c, who, a, &known, &shop, &mut out)?;
            own_rows(c, who, a, &known, &shop)?;
        }
    }
    settled(c, rebuild, &mut out)?;
    Ok(out)
}

/// Whether every row belongs to the one rebuild that the archive is of, and everything that it names comes with it.
fn check(known: &[Table], a: &Archive) -> Result<RebuildId> {
    let d = &a.document;
    for name in d.tables.keys() {
        if !known.iter().any(|t| t.name == name) {
            return Err(bad(format!("the table {name} is not known here: it needs a newer program")));
        }
    }
    let of = |table: &str| d.tables.get(table).map_or(&[][..], Vec::as_slice);
    let text = |r: &Row, column: &str| r.get(column).and_then(|v| v.as_str()).map(str::to_owned);
    let ([rebuild], [machine_type]) = (of("rebuilds"), of("anatomies")) else {
        return Err(bad("expected one rebuild with its machine type"));
    };
    let id = text(rebuild, "id").ok_or_else(|| bad("expected the id of the rebuild"))?;
    if text(machine_type, "id") != text(rebuild, "anatomy_id") {
        return Err(bad("the machine type is not the one that the rebuild was worked on"));
    }
    if text(rebuild, "number").as_deref() != Some(d.number.as_str()) {
        return Err(bad("the number on the outside is not that of the rebuild"));
    }
    let sheets: BTreeSet<String> = of("sheets").iter().filter_map(|r| text(r, "id")).collect();
    for t in known {
        for r in of(t.name) {
            let own = !t.columns.iter().any(|x| x.name == "rebuild_id") || text(r, "rebuild_id").as_ref() == Some(&id);
            let placed = t.name != "readings" || text(r, "sheet_id").is_some_and(|s| sheets.contains(&s));
            if !own || !placed {
                return Err(bad(format!("a row of {} belongs to another rebuild", t.name)));
            }
        }
    }
    let shown: BTreeSet<PictureId> = of("pictures").iter().filter_map(|r| text(r, "id")?.parse().ok()).collect();
    if shown != a.pictures.keys().copied().collect() {
        return Err(bad("its pictures are not those that its record names"));
    }
    let (who, owners, gauges) = referred(known, &d.tables);
    let all = who.iter().all(|w| d.people.iter().any(|p| p.id == *w))
        && owners.iter().all(|w| d.customers.iter().any(|p| p.id == *w))
        && gauges.iter().all(|w| d.instruments.iter().any(|p| p.id == *w));
    if !all {
        return Err(bad("somebody who wrote in it, or an instrument, does not come with it"));
    }
    if of("record").is_empty() {
        return Err(bad("it has no record"));
    }
    id.parse().map_err(|_| bad("expected the id of the rebuild"))
}

/// A name that may stand on a page.
fn name(of: &str, text: &str, rule: Text) -> Result<String> {
    rule.read("archive", text, |range| format!("expected one of {range}"))
        .map_err(|e| bad(format!("the name of {of}: {}", e.message)))
}

/// What rows name: people, a customer, instruments, the machine type. Those that are known here stay as they are.
fn referred_rows(
    c: &mut MysqlConnection,
    who: &Person,
    a: &Archive,
    known: &[Table],
    shop: &str,
    out: &mut TakenIn,
) -> Result<()> {
    let d = &a.document;
    let said = |what: String| format!("{what} with the archive of {} from {shop}.", d.number);
    let ids: Vec<PersonId> = d.people.iter().map(|p| p.id).collect();
    let there: BTreeMap<PersonId, String> =
        people::table.filter(people::id.eq_any(ids)).select((people::id, people::name)).load(c)?.into_iter().collect();
    let mut fresh = Vec::new();
    for p in &d.people {
        let called = name("a person", &p.name, text::PERSON)?;
        match there.get(&p.id) {
            Some(ours) if *ours != called => out.renamed.push((called, ours.clone())),
            Some(_) => {}
            None => {
                out.unknown.push(called.clone());
                fresh.push((p, called));
            }
        }
    }
    if !fresh.is_empty() {
        let words =
            said(format!("{} put in as people who wrote elsewhere and cannot sign in, ", out.unknown.join(", ")));
        changed(c, Chain::People, Some(who), &words, |c| {
            let row = |(p, called): &(&Writer, String)| {
                let initials: String = p.initials.chars().filter(|x| !x.is_control()).take(4).collect();
                (
                    people::id.eq(p.id),
                    people::handle.eq(format!("elsewhere-{}", &p.id.to_string()[26..])),
                    people::name.eq(called.clone()),
                    people::initials.eq(initials),
                    people::role.eq(Role::Apprentice.key()),
                    people::password_hash.eq(crate::rows::person::NO_PASSWORD),
                    people::units.eq("metric"),
                    people::theme.eq("system"),
                    people::put_away_at.eq(crate::now()),
                )
            };
            diesel::insert_into(people::table).values(fresh.iter().map(row).collect::<Vec<_>>()).execute(c)?;
            Ok(())
        })?;
    }
    for o in &d.customers {
        let called = name("a customer", &o.name, text::CUSTOMER)?;
        if customers::table.find(o.id).select(customers::id).first::<CustomerId>(c).optional()?.is_some() {
            continue;
        }
        let taken: i64 = customers::table.filter(customers::name.eq(&called)).count().get_result(c)?;
        let from = format!(" (from {})", shop.chars().take(12).collect::<String>());
        let room = text::CUSTOMER.most - from.chars().count();
        let kept = if taken > 0 { called.chars().take(room).chain(from.chars()).collect() } else { called };
        changed(c, Chain::Customers, Some(who), &said(format!("{kept} put in")), |c| {
            diesel::insert_into(customers::table)
                .values((customers::id.eq(o.id), customers::name.eq(&kept), customers::contact.eq("")))
                .execute(c)?;
            Ok(())
        })?;
    }
    let ids: Vec<InstrumentId> = d.instruments.iter().map(|i| i.id).collect();
    let there: Vec<InstrumentId> =
        instruments::table.filter(instruments::id.eq_any(ids)).select(instruments::id).load(c)?;
    let mut fresh = Vec::new();
    for i in d.instruments.iter().filter(|i| !there.contains(&i.id)) {
        name("the serial number of an instrument", &i.serial, text::SERIAL)?;
        let called = name("an instrument", &i.name, text::INSTRUMENT)?;
        let figures = [i.lo_mm, i.hi_mm, i.resolution_mm, i.u_mm, i.cost];
        if !figures.iter().all(|v| v.is_finite() && (0.0..1e6).contains(v)) {
            return Err(bad(format!("a figure of the {called} is none that an instrument has")));
        }
        fresh.push(i.clone().of_shop(shop, called));
    }
    if !fresh.is_empty() {
        out.instruments = fresh.iter().map(|i| i.name.clone()).collect();
        let words = said(format!("{} put in, which lie in another shop,", out.instruments.join(", ")));
        changed(c, Chain::Stores, Some(who), &words, |c| {
            diesel::insert_into(instruments::table).values(&fresh).execute(c)?;
            Ok(())
        })?;
    }
    machine_type(c, who, a, known, shop, out)
}

/// The machine type in the version that was worked on.
fn machine_type(
    c: &mut MysqlConnection,
    who: &Person,
    a: &Archive,
    known: &[Table],
    shop: &str,
    out: &mut TakenIn,
) -> Result<()> {
    let d = &a.document;
    let row = &d.tables["anatomies"][0];
    let text = |column: &str| row.get(column).and_then(|v| v.as_str()).unwrap_or_default().to_owned();
    let id: AnatomyId = text("id").parse().map_err(|_| bad("expected the id of the machine type"))?;
    let document = text("document");
    let there: Option<String> = anatomies::table.find(id).select(anatomies::document).first(c).optional()?;
    if let Some(ours) = there {
        return if ours == document {
            Ok(())
        } else {
            Err(bad("its machine type is here under the same id, drawn otherwise"))
        };
    }
    let anatomy: Anatomy = stored::read(&document).map_err(|e| bad(format!("its machine type cannot be read: {e}")))?;
    let anatomy = anatomy.check().map_err(|r| bad(format!("its machine type cannot be read: {}", r.message)))?;
    let version = i32::try_from(anatomy.version).unwrap_or(i32::MAX);
    if text("type_key") != anatomy.key || row.get("version").and_then(serde_json::Value::as_i64) != Some(version.into())
    {
        return Err(bad("its machine type goes by another name than it says"));
    }
    let origin = free(shop, |origin| {
        Ok(anatomies::table
            .filter(anatomies::type_key.eq(&anatomy.key))
            .filter(anatomies::version.eq(version))
            .filter(anatomies::origin.eq(origin))
            .count()
            .get_result::<i64>(c)?
            == 0)
    })?;
    out.machine_type = Some((anatomy.name.clone(), anatomy.version));
    let said = format!("{}, version {version}, put in with the archive of {} from {shop}.", anatomy.name, d.number);
    let table = known.iter().find(|t| t.name == "anatomies").ok_or(StoreError::NotFound)?;
    changed(c, Chain::Types, Some(who), &said, |c| rows::write(c, table, &d.tables["anatomies"], Some(&origin)))
}

/// The name of a shop, counted on where another one has it.
fn free(shop: &str, mut is_free: impl FnMut(&str) -> Result<bool>) -> Result<String> {
    for n in 1..1000 {
        let origin = if n == 1 { shop.to_owned() } else { format!("{shop} ({n})") };
        if is_free(&origin)? {
            return Ok(origin);
        }
    }
    Err(bad("too many of this name are here already"))
}

/// The rows of the rebuild itself.
fn own_rows(c: &mut MysqlConnection, who: &Person, a: &Archive, known: &[Table], shop: &str) -> Result<()> {
    let d = &a.document;
    let origin = free(shop, |origin| {
        let taken = rebuilds::table.filter(rebuilds::number.eq(&d.number)).filter(rebuilds::origin.eq(origin));
        Ok(taken.count().get_result::<i64>(c)? == 0)
    })?;
    let said =
        format!("{} from {origin} taken in from an archive: {} entries, the last {}.", d.number, d.entries, d.head);
    changed(c, Chain::Rebuilds, Some(who), &said, |c| {
        for name in TABLES.iter().filter(|t| **t != "anatomies") {
            let (Some(table), Some(list)) = (known.iter().find(|t| t.name == *name), d.tables.get(*name)) else {
                continue;
            };
            rows::write(c, table, list, (*name == "rebuilds").then_some(origin.as_str()))?;
        }
        for (picture, b) in &a.pictures {
            diesel::insert_into(picture_bodies::table)
                .values((
                    picture_bodies::picture_id.eq(picture),
                    picture_bodies::whole.eq(&b.whole),
                    picture_bodies::small.eq(&b.small),
                ))
                .execute(c)?;
        }
        Ok(())
    })
}

/// Its chain is followed, its rows are compared with it, and it is read as every page reads it.
fn settled(c: &mut MysqlConnection, rebuild: RebuildId, out: &mut TakenIn) -> Result<()> {
    match chain::rebuild::verify(c, rebuild, true)? {
        Verdict::Whole { remarks, entries, .. } if i64::try_from(entries) == Ok(out.entries) => out.remarks = remarks,
        Verdict::Whole { .. } => return Err(bad("its record has another number of entries than it says")),
        other => return Err(bad(format!("its record is not whole: {}", other.words()))),
    }
    let b = bench::load(c, rebuild).map_err(|e| match e {
        e @ (StoreError::Clash | StoreError::Unavailable(_)) => e,
        other => bad(format!("it cannot be read as a rebuild: {other}")),
    })?;
    out.title.clone_from(&b.rebuild.title);
    out.customer.clone_from(&b.rebuild.customer);
    out.from.clone_from(&b.rebuild.origin);
    out.finished = b.rebuild.finished_at.is_some();
    name("the machine", &out.title, text::TITLE)?;
    name("the customer", &out.customer, text::CUSTOMER)?;
    Ok(())
}

/// JSON Schema of the document, from the columns that the database has.
///
/// # Errors
/// Database errors.
pub fn schema(c: &mut MysqlConnection) -> Result<serde_json::Value> {
    rows::schema(c)
}
