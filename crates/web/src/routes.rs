//! The application: its state, its URL map, and what surrounds every request.

use crate::ground::auth::{Backend, Sessions};
use crate::ground::{assets, error, telemetry};
use crate::rooms::stores::{self, instruments};
use crate::rooms::{
    anatomies, api, archives, bench, certificate, customers, events, floor, forecasts, keys, ledger, orders, papers,
    people, readings_in, reckoner, rules, sheet, shop_ledger, sign_in, why,
};
use crate::state::App;
use axum::extract::DefaultBodyLimit;
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::IntoResponse as _;
use axum::routing::{get, post};
use axum::{Router, middleware};
use axum_login::AuthManagerLayerBuilder;
use axum_login::tower_sessions::cookie::SameSite;
use axum_login::tower_sessions::{Expiry, SessionManagerLayer};
use std::time::Duration;
use tower_http::compression::CompressionLayer;
use tower_http::csrf::CsrfLayer;
use tower_http::set_header::SetResponseHeaderLayer;
use tower_http::timeout::{RequestBodyTimeoutLayer, TimeoutLayer};

/// A page that is not made in this time is not made: what holds it is told in the log.
const PATIENCE: Duration = Duration::from_secs(60);

/// Nothing of a body for so long: it is given up.
const BODY_PATIENCE: Duration = Duration::from_secs(20);

const CSP: &str = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'";

/// All routes: one line each.
pub fn router(app: App) -> Router {
    routes(app, false)
}

/// All routes, and with `measure` the bare one that `bin/bench` compares with.
#[expect(clippy::too_many_lines, reason = "a line a route")]
pub fn routes(app: App, measure: bool) -> Router {
    let sessions = SessionManagerLayer::new(Sessions(app.store.clone()))
        // Behind TLS the name binds the cookie to this host and to TLS.
        .with_name(if app.config.tls { "__Host-iron_seat" } else { "iron_seat" })
        .with_path("/")
        .with_same_site(SameSite::Lax)
        .with_http_only(true)
        .with_secure(app.config.tls)
        .with_expiry(Expiry::OnInactivity(time::Duration::hours(12)));
    let auth = AuthManagerLayerBuilder::new(Backend(app.store.clone()), sessions).build();
    let header_of =
        |name, value: &'static str| SetResponseHeaderLayer::if_not_present(name, HeaderValue::from_static(value));

    Router::new()
        .route("/", get(floor::show))
        .route("/rebuilds", post(floor::start))
        .route("/rebuilds/{id}", get(bench::show).post(bench::act))
        .route("/rebuilds/{id}/finish", post(bench::finish))
        .route("/rebuilds/{id}/events", get(events::of_rebuild))
        .route("/rebuilds/{id}/seats/{seat}/sheets/{kind}", get(sheet::show))
        .route("/rebuilds/{id}/seats/{seat}/sheets/{kind}/readings", post(sheet::record))
        .route("/rebuilds/{id}/seats/{seat}/sheets/{kind}/preview", get(sheet::preview))
        .route("/rebuilds/{id}/seats/{seat}/sheets/{kind}/instrument", post(sheet::instrument))
        .route("/rebuilds/{id}/acts/{act}/sheets/{name}", get(sheet::of_act::show))
        .route("/rebuilds/{id}/acts/{act}/sheets/{name}/readings", post(sheet::of_act::record))
        .route("/rebuilds/{id}/acts/{act}/sheets/{name}/preview", get(sheet::of_act::preview))
        .route("/rebuilds/{id}/acts/{act}/sheets/{name}/instrument", post(sheet::of_act::instrument))
        .route("/rebuilds/{id}/acts/{act}/sheets/{name}/given", post(sheet::of_act::give))
        .route("/rebuilds/{id}/trail", get(bench::moved).post(bench::moved))
        .route(
            "/rebuilds/{id}/pictures",
            post(bench::pictures::add).layer(DefaultBodyLimit::max(bench::pictures::LARGEST + (64 << 10))),
        )
        .route("/rebuilds/{id}/pictures/{picture}", get(bench::pictures::show))
        .route("/rebuilds/{id}/pictures/{picture}/away", post(bench::pictures::take_away))
        .route("/rebuilds/{id}/version", get(bench::version::show).post(bench::version::take_over))
        .route("/rebuilds/{id}/ledger", get(ledger::show))
        .route("/rebuilds/{id}/ledger.csv", get(ledger::csv))
        .route("/rebuilds/{id}/parts-to-order.csv", get(orders::show))
        .route("/rebuilds/{id}/certificate", get(certificate::show))
        .route("/rebuilds/{id}/papers/{file}", get(papers::show))
        .route("/rebuilds/{id}/section.svg", get(bench::section_svg))
        .route("/rebuilds/{id}/archive.zip", get(archives::give_out))
        .route(
            "/rebuilds/{id}/readings-in",
            get(readings_in::begin).post(readings_in::hand_in).layer(DefaultBodyLimit::max(readings_in::BODY)),
        )
        .route("/rebuilds/{id}/readings-in/{upload}", get(readings_in::look).post(readings_in::keep))
        .route("/archives", get(archives::list).post(archives::hand_in).layer(DefaultBodyLimit::max(archives::BODY)))
        .route("/archives/{upload}", get(archives::show).post(archives::take_in))
        .route("/stores", get(stores::show).post(stores::change))
        .route("/stores/instruments", post(instruments::change))
        .route("/stores/{kind}", post(stores::hand_in).layer(DefaultBodyLimit::max(readings_in::BODY)))
        .route("/stores/{kind}/{upload}", get(stores::look).post(stores::keep))
        .route("/anatomies", get(anatomies::list).post(anatomies::begin).layer(DefaultBodyLimit::max(2 << 20)))
        .route("/anatomies/{key}", get(anatomies::show))
        .route("/anatomies/{key}/build-sheet.toml", get(anatomies::sheet))
        .route("/anatomies/{key}/section.svg", get(anatomies::section))
        .route("/anatomies/{key}/strip", get(anatomies::strip))
        .route("/anatomies/{key}/tried", get(anatomies::tried))
        .route("/anatomies/{key}/edit", post(anatomies::edit))
        .route("/drafts/{id}", get(anatomies::draft).post(anatomies::change))
        .route("/drafts/{id}/form", get(anatomies::form))
        .route("/drafts/{id}/keep", post(anatomies::keep))
        .route("/drafts/{id}/discard", post(anatomies::discard))
        .route("/rules", get(rules::show).post(rules::change))
        .route("/forecasts", get(forecasts::show).post(forecasts::learn))
        .route("/forecasts/explain", post(forecasts::explain))
        .route("/why", get(why::show))
        .route("/reckoner", get(reckoner::front))
        .route("/reckoner/{name}", get(reckoner::show))
        .route("/reckoner/{name}/pin", post(reckoner::pinned::pin))
        .route("/reckoner/{name}/sheet", post(reckoner::as_sheet::take_over))
        .route("/rebuilds/{id}/pins/{pin}/away", post(reckoner::pinned::away))
        .route("/clocks", get(floor::clocks))
        .route("/events", get(events::of_floor))
        .route("/record/{chain}", get(shop_ledger::show))
        .route("/customers", get(customers::show).post(customers::change))
        .route("/people", get(people::show).post(people::change))
        .route("/me", get(people::own).post(people::change_own))
        .route("/first", get(people::first).post(people::set_first))
        .route("/me/keys", get(keys::show).post(keys::change))
        .route("/me/units", post(sign_in::units))
        .route("/me/theme", post(sign_in::theme))
        .route("/sign-in", get(sign_in::show).post(sign_in::sign_in))
        .route("/sign-out", post(sign_in::sign_out))
        .route("/first-run", post(sign_in::first_run))
        .merge(if measure { Router::new().route("/measure/{bytes}", get(bench::bare)) } else { Router::new() })
        .layer(auth)
        .route("/api/reckon/{name}", post(api::reckon::reckon).layer(DefaultBodyLimit::max(32 << 20)))
        .route("/api/derive", post(api::reckon::derive).layer(DefaultBodyLimit::max(1 << 20)))
        .route("/api/openapi.json", get(api::reckon::openapi))
        .route("/api/archive.schema.json", get(api::archive_schema))
        .route("/api/rebuilds", get(api::rebuilds))
        .route("/api/rebuilds/{id}", get(api::rebuild))
        .route(
            "/api/rebuilds/{id}/readings",
            get(api::readings).post(api::readings_in).layer(DefaultBodyLimit::max(readings_in::BODY)),
        )
        .route("/api/rebuilds/{id}/files/{file}", get(api::file))
        .route("/api/archives", post(api::archive_in).layer(DefaultBodyLimit::max(archives::BODY)))
        .route("/api/stock/leaves", get(api::leaves).post(api::leaves_in))
        .route("/api/stock/patterns", get(api::patterns).post(api::pattern_in))
        .route("/healthz", get(telemetry::ready))
        .route("/readyz", get(telemetry::ready))
        .route("/livez", get(telemetry::alive))
        .route("/metrics", get(telemetry::metrics))
        .route("/assets/{*path}", get(assets::get))
        .layer(middleware::from_fn_with_state(app.clone(), error::finish))
        // Beside the token of a form: browsers say where such a request comes from.
        .layer(CsrfLayer::new().with_rejection_response(|_| error::WebError::Forged.into_response()))
        .layer(middleware::from_fn_with_state(app.clone(), crate::ground::extract::known_host))
        .layer(middleware::from_fn(telemetry::each))
        .layer(RequestBodyTimeoutLayer::new(BODY_PATIENCE))
        .layer(TimeoutLayer::with_status_code(StatusCode::SERVICE_UNAVAILABLE, PATIENCE))
        .layer(DefaultBodyLimit::max(256 << 10))
        .layer(CompressionLayer::new().gzip(true))
        .layer(header_of(header::CONTENT_SECURITY_POLICY, CSP))
        .layer(header_of(header::X_CONTENT_TYPE_OPTIONS, "nosniff"))
        .layer(header_of(header::X_FRAME_OPTIONS, "DENY"))
        .layer(header_of(header::REFERRER_POLICY, "same-origin"))
        .layer(header_of(header::HeaderName::from_static("cross-origin-opener-policy"), "same-origin"))
        .layer(header_of(
            header::HeaderName::from_static("permissions-policy"),
            "camera=(), microphone=(), geolocation=()",
        ))
        .layer(header_of(header::CACHE_CONTROL, "no-store"))
        .with_state(app)
}
