//! `bright-row serve`.

use std::net::{IpAddr, SocketAddr};

use bright_row_store::database::{connect, connect_for_notices, connect_for_sessions, schema};
use chrono::TimeDelta;

use crate::automatic_backup::BackupArgs;
use crate::failure::{Failure, only_current};
use crate::state::{App, Options};
use crate::telemetry::metrics;
use crate::{content, serve};

/// Where and how to listen.
#[derive(Debug, clap::Args)]
pub struct ServeArgs {
    /// The port; 0 takes any that is free and prints it.
    #[arg(long, env = "PORT", default_value_t = 8787)]
    port: u16,
    /// The address to listen on; loopback by default.
    #[arg(long, env = "BRIGHT_ROW_ADDRESS", default_value = "127.0.0.1")]
    address: IpAddr,
    /// The application is reached through TLS: cookies are sent over it only.
    #[arg(long, env = "BRIGHT_ROW_BEHIND_TLS")]
    behind_tls: bool,
    /// The address of the proxy that speaks TLS, where it is not on this machine: its word of who asks counts.
    #[arg(long, env = "BRIGHT_ROW_PROXY", requires = "behind_tls")]
    proxy: Option<IpAddr>,
    /// Measurements for Prometheus are served on this port of loopback; without one they are not gathered.
    #[arg(long, env = "BRIGHT_ROW_METRICS_PORT")]
    metrics_port: Option<u16>,
    /// The address by which the database itself is reached, where `DATABASE_URL` leads to something that shares connections between
    /// transactions (`PgBouncer`): notices are heard there.
    #[arg(long, env = "BRIGHT_ROW_NOTICES_URL", hide_env_values = true)]
    notices_url: Option<String>,
    /// A session ends after so many hours without use: 1 to 168.
    #[arg(long, env = "BRIGHT_ROW_QUIET_HOURS", default_value_t = 12, value_parser = clap::value_parser!(i64).range(1..=168))]
    quiet_hours: i64,
    /// A session ends after so many days however much it is used: 1 to 30.
    #[arg(long, env = "BRIGHT_ROW_SESSION_DAYS", default_value_t = 7, value_parser = clap::value_parser!(i64).range(1..=30))]
    session_days: i64,
}

/// Serves until a signal asks it to stop.
///
/// # Errors
/// [`Failure`].
pub async fn run(database_url: &str, backups: &BackupArgs, args: &ServeArgs) -> Result<(), Failure> {
    let backups = backups.read(database_url)?;
    let db = connect(database_url).await?;
    let sessions = connect_for_sessions(database_url).await?;
    only_current(schema(&db).await?)?;
    let notices = match &args.notices_url {
        Some(url) => Some(connect_for_notices(url).await?),
        None => None,
    };
    let address = SocketAddr::new(args.address, args.port);
    let cannot = |port: u16, address: String| {
        move |cause: std::io::Error| match cause.kind() {
            std::io::ErrorKind::AddrInUse => Failure::PortTaken { port },
            _ => Failure::Listen { address, cause },
        }
    };
    let listener = tokio::net::TcpListener::bind(address).await.map_err(cannot(args.port, address.to_string()))?;
    let here = listener.local_addr().map_err(|cause| Failure::Listen { address: address.to_string(), cause })?;
    let options = Options {
        behind_tls: args.behind_tls,
        proxy: args.proxy.map(|proxy| proxy.to_canonical()),
        quiet_session: TimeDelta::hours(args.quiet_hours),
        longest_session: TimeDelta::days(args.session_days),
        backups,
        notices,
        ..Options::default()
    };
    let app = App::new(db, sessions, content::embedded(), options);
    if let Some(port) = args.metrics_port {
        metrics::serve(app.clone(), port).await.map_err(cannot(port, format!("127.0.0.1:{port}")))?;
    }
    println!("Bright Row is at http://{here}");
    serve::serve(app, listener, stop_signal())
        .await
        .map_err(|cause| Failure::Listen { address: here.to_string(), cause })
}

/// Ctrl-C, or the signal that a service manager sends.
async fn stop_signal() {
    use tokio::signal::unix::{SignalKind, signal};
    let Ok(mut terminate) = signal(SignalKind::terminate()) else { return std::future::pending().await };
    tokio::select! {
        _ = tokio::signal::ctrl_c() => {}
        _ = terminate.recv() => {}
    }
}
