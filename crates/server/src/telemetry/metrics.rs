//! Measurements for Prometheus. They are served on a port of their own, on loopback only: an address that nobody outside reaches.

use std::net::Ipv4Addr;
use std::sync::OnceLock;
use std::time::{Duration, Instant};

use axum::Router;
use axum::http::{Method, header};
use axum::routing::get;
use bright_row_store::DatabaseConnection;
use bright_row_store::backup_notes;
use bright_row_store::database::{Pool, pool};
use chrono::{DateTime, Utc};
use metrics::{counter, describe_counter, describe_gauge, describe_histogram, gauge, histogram};
use metrics_exporter_prometheus::{Matcher, PrometheusBuilder, PrometheusHandle};
use tokio::net::TcpListener;

use crate::state::App;

/// Bounds of what takes time, in seconds: from a plain read to a statement's longest.
const SECONDS: [f64; 11] = [0.002, 0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1.0, 5.0, 15.0];
/// Bounds of how old observations are when they come, in seconds: at once, a lesson, a day, a week.
const AGES: [f64; 8] = [2.0, 10.0, 60.0, 600.0, 3_600.0, 86_400.0, 259_200.0, 604_800.0];
/// Bounds of how many observations come at once.
const BATCHES: [f64; 7] = [1.0, 3.0, 10.0, 30.0, 100.0, 300.0, 500.0];

const REQUESTS: &str = "bright_row_requests_total";
const REQUEST_SECONDS: &str = "bright_row_request_seconds";
const BATCH: &str = "bright_row_batch_observations";
const OUTBOX_AGE: &str = "bright_row_outbox_age_seconds";
const RULE_SECONDS: &str = "bright_row_rule_seconds";
const CONNECTIONS: &str = "bright_row_pool_connections";
const BACKUP_AGE: &str = "bright_row_backup_age_seconds";
const PROOF_AGE: &str = "bright_row_backup_proof_age_seconds";

/// Where measurements are gathered, one place a process.
///
/// # Panics
/// Only if something else gathers them already, which nothing here does.
pub fn gathered() -> &'static PrometheusHandle {
    static HANDLE: OnceLock<PrometheusHandle> = OnceLock::new();
    HANDLE.get_or_init(|| {
        let full = |name: &str| Matcher::Full(name.to_owned());
        let builder = PrometheusBuilder::new()
            .set_buckets_for_metric(full(REQUEST_SECONDS), &SECONDS)
            .and_then(|builder| builder.set_buckets_for_metric(full(RULE_SECONDS), &SECONDS))
            .and_then(|builder| builder.set_buckets_for_metric(full(OUTBOX_AGE), &AGES))
            .and_then(|builder| builder.set_buckets_for_metric(full(BATCH), &BATCHES))
            .expect("there are bounds");
        let handle = builder.install_recorder().expect("nothing else gathers measurements");
        describe_counter!(REQUESTS, "Requests answered, by route, method and status.");
        describe_histogram!(REQUEST_SECONDS, "How long answering took, by route and method.");
        describe_histogram!(BATCH, "Observations that came in one request.");
        describe_histogram!(OUTBOX_AGE, "How old observations were when they came: how long they waited on a device.");
        describe_histogram!(RULE_SECONDS, "How long a rule of the core took, by rule.");
        describe_gauge!(CONNECTIONS, "Connections to the database, by pool and whether they are in use.");
        describe_gauge!(BACKUP_AGE, "How long ago the last backup was made.");
        describe_gauge!(PROOF_AGE, "How long ago the last backup was read back and found whole.");
        handle
    })
}

/// A request was answered.
pub fn answered(method: &Method, route: &str, status: u16, took: Duration) {
    let (method, route) = (method.as_str().to_owned(), route.to_owned());
    counter!(REQUESTS, "method" => method.clone(), "route" => route.clone(), "status" => status.to_string())
        .increment(1);
    histogram!(REQUEST_SECONDS, "method" => method, "route" => route).record(took.as_secs_f64());
}

/// So many things that were observed at these moments came at once.
pub fn came(moments: impl ExactSizeIterator<Item = DateTime<Utc>>, now: DateTime<Utc>) {
    #[expect(clippy::cast_precision_loss, reason = "a batch holds 500 at most")]
    #[allow(clippy::as_conversions)]
    histogram!(BATCH).record(moments.len() as f64);
    for at in moments {
        histogram!(OUTBOX_AGE).record((now - at).to_std().unwrap_or_default().as_secs_f64());
    }
}

/// Does something by a rule of the core and measures how long it takes.
pub fn timed<T>(rule: &'static str, work: impl FnOnce() -> T) -> T {
    let begun = Instant::now();
    let done = work();
    rule_took(rule, begun.elapsed());
    done
}

/// Notes how long a rule of the core took.
pub fn rule_took(rule: &'static str, time: Duration) {
    histogram!(RULE_SECONDS, "rule" => rule).record(time.as_secs_f64());
}

fn tell_pool(name: &'static str, db: &DatabaseConnection) {
    let Pool { open, idle } = pool(db);
    gauge!(CONNECTIONS, "pool" => name, "state" => "idle").set(f64::from(idle));
    gauge!(CONNECTIONS, "pool" => name, "state" => "used").set(f64::from(open.saturating_sub(idle)));
}

/// The measurements of this moment, in Prometheus's text format.
pub async fn page(app: &App) -> String {
    tell_pool("requests", &app.db);
    tell_pool("sessions", &app.sessions);
    // A database that does not answer is seen in the other measurements.
    if let Ok(Some(last)) = backup_notes::last(&app.db).await {
        let age = |at: DateTime<Utc>| (app.now() - at).to_std().unwrap_or_default().as_secs_f64();
        gauge!(BACKUP_AGE).set(age(last.made_at));
        if let Some(proved_at) = last.proved_at {
            gauge!(PROOF_AGE).set(age(proved_at));
        }
    }
    gathered().run_upkeep();
    gathered().render()
}

/// Serves the measurements on a port of this machine until the process ends.
///
/// # Errors
/// What the system says of the port.
pub async fn serve(app: App, port: u16) -> std::io::Result<()> {
    gathered();
    let listener = TcpListener::bind((Ipv4Addr::LOCALHOST, port)).await?;
    let text = [(header::CONTENT_TYPE, "text/plain; version=0.0.4; charset=utf-8")];
    let routes = Router::new().route("/metrics", get(async move || (text, page(&app).await)));
    tokio::spawn(async move { axum::serve(listener, routes).await });
    Ok(())
}
