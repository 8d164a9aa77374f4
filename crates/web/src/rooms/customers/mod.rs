//! Customers: how each is reached, which of their machines were here by serial number, who looks at them.

use crate::ground::error::{WebResult, refused};
use crate::ground::extract::{Form, Lead, Reader};
use crate::ground::view::{Shell, local, page, page_as};
use crate::state::App;
use askama::Template;
use axum::extract::State;
use axum::response::{IntoResponse as _, Redirect, Response};
use chrono_tz::Tz;
use ironseat_store::chain::digests::Chain;
use ironseat_store::read::customers::Machine;
use ironseat_store::read::rebuilds::live_clocks;
use ironseat_store::read::{self, roster};
use ironseat_store::rows::person::Role;
use ironseat_store::{CustomerId, StoreError, chain, write};
use serde::Deserialize;

struct JobView {
    href: String,
    number: String,
    note: String,
}

struct MachineView {
    serial: String,
    title: String,
    jobs: Vec<JobView>,
}

struct CustomerView {
    id: CustomerId,
    name: String,
    contact: String,
    machines: Vec<MachineView>,
    viewers: Vec<String>,
}

#[derive(Template)]
#[template(path = "rooms/customers/customers.html")]
struct CustomersPage {
    shell: Shell,
    list: Vec<CustomerView>,
    broken: String,
    f: CustomerForm,
    field: String,
    error: String,
}

/// A new customer, or another contact.
#[derive(Deserialize, Default, Clone)]
#[serde(default)]
pub struct CustomerForm {
    act: String,
    customer: String,
    name: String,
    contact: String,
}

/// A machine with all its rebuilds: by serial number, else by what it is called.
fn machines(list: &[Machine], zone: Tz) -> Vec<MachineView> {
    let mut out: Vec<MachineView> = Vec::new();
    for m in list {
        let due = m.due_on.format("%-d %b %Y");
        let note = m
            .finished_at
            .map_or_else(|| format!("due {due}"), |at| format!("finished {}", local(at, zone).format("%-d %b %Y")));
        let job = JobView { href: format!("/rebuilds/{}", m.id), number: m.number.clone(), note };
        match out.last_mut().filter(|o| o.serial == m.serial && (!m.serial.is_empty() || o.title == m.title)) {
            Some(o) => o.jobs.push(job),
            None => out.push(MachineView { serial: m.serial.clone(), title: m.title.clone(), jobs: vec![job] }),
        }
    }
    out
}

async fn build(app: &App, reader: &Reader) -> WebResult<CustomersPage> {
    let (list, jobs, people, verdict, clocks) = app
        .store
        .run(|c| {
            let verdict = chain::shop::verify(c, Chain::Customers)?;
            Ok((read::customers::list(c)?, read::customers::machines(c)?, roster::list(c)?, verdict, live_clocks(c)?))
        })
        .await?;
    let of = |id: CustomerId| jobs.iter().filter(|m| m.customer == Some(id)).cloned().collect::<Vec<_>>();
    let looks = |id: CustomerId| {
        people.iter().filter(move |p| p.customer == Some(id) && p.role() == Role::Viewer && p.put_away_at.is_none())
    };
    Ok(CustomersPage {
        shell: Shell::new(reader, &clocks, "customers", "/customers".into(), String::new()),
        list: list
            .into_iter()
            .map(|x| CustomerView {
                id: x.id,
                machines: machines(&of(x.id), reader.person.zone),
                viewers: looks(x.id).map(|p| p.name.clone()).collect(),
                name: x.name,
                contact: x.contact,
            })
            .collect(),
        broken: if verdict.whole() { String::new() } else { verdict.words() },
        f: CustomerForm::default(),
        field: String::new(),
        error: String::new(),
    })
}

/// The list.
pub async fn show(State(app): State<App>, reader: Reader) -> WebResult {
    page(&build(&app, &reader).await?)
}

/// Puts one in, or changes a contact.
pub async fn change(State(app): State<App>, Lead(reader): Lead, Form(f): Form<CustomerForm>) -> WebResult<Response> {
    let (who, g) = (reader.person.clone(), f.clone());
    let done = app
        .store
        .run(move |c| match g.act.as_str() {
            "contact" => write::customers::set_contact(
                c,
                &who,
                g.customer.parse().map_err(|_| StoreError::NotFound)?,
                &g.contact,
            ),
            _ => write::customers::add(c, &who, &g.name, &g.contact).map(|_| ()),
        })
        .await;
    match done {
        Ok(()) => Ok(Redirect::to("/customers").into_response()),
        Err(e) => {
            let (status, field, error) = refused(e, "general")?;
            let mut p = build(&app, &reader).await?;
            (p.f, p.field, p.error) = (f, field, error);
            page_as(status, &p)
        }
    }
}
