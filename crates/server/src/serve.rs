//! Serving: the listener with its limits, housekeeping, and how it ends.

use std::time::Duration;

use axum::Router;
use bright_row_store::accounts::{devices, invitations, people, sessions, tries};
use tokio::net::TcpListener;

use crate::auth::recorder::SENDING_AFTER;
use crate::automatic_backup;
use crate::connections::Connections;
use crate::router::router;
use crate::state::App;
use crate::use_cases::keeping;

/// Serves until `stop`; requests under way are answered, live streams are closed, and whoever is slow is let go.
///
/// # Errors
/// What the system says of the listener.
pub async fn serve(
    app: App,
    listener: TcpListener,
    stop: impl Future<Output = ()> + Send + 'static,
) -> std::io::Result<()> {
    let live = app.live.clone();
    let (head, drain, proxy) = (app.options.head_patience, app.options.drain_patience, app.options.proxy);
    let housekeeping = tokio::spawn(keep_house(app.clone()));
    let router: Router = router(app);
    let handle = axum_server::Handle::new();
    let stopping = tokio::spawn({
        let handle = handle.clone();
        async move {
            stop.await;
            live.close();
            handle.graceful_shutdown(Some(drain));
        }
    });
    let mut server = axum_server::from_tcp(listener.into_std()?)?
        .acceptor(Connections::new(proxy))
        .handle(handle)
        .first_request_timeout(head);
    server.http_builder().http1().header_read_timeout(head);
    let served = server.serve(router.into_make_service_with_connect_info::<std::net::SocketAddr>()).await;
    housekeeping.abort();
    stopping.abort();
    served
}

/// Once an hour, what is over is cleared away.
async fn keep_house(app: App) {
    let mut hourly = tokio::time::interval(Duration::from_hours(1));
    loop {
        hourly.tick().await;
        clear(&app).await;
    }
}

/// Clears what is over: sessions, tries, devices and links; substitutes whose time has passed; what retention says.
pub async fn clear(app: &App) {
    let (db, now) = (&app.db, app.now());
    for cleared in [
        sessions::clear_expired(db, now, app.options.quiet_session).await,
        tries::clear_old(db, now).await,
        devices::clear_old(db, now).await,
        invitations::clear_expired_links(db, now).await,
        people::end_substitutes(db, now - SENDING_AFTER).await,
    ] {
        if let Err(error) = cleared {
            tracing::warn!(?error, "what is over stays until the next hour");
        }
    }
    let done = keeping::run_all(app).await;
    if done > 0 {
        tracing::info!(done, "what was due by retention is done");
    }
    match automatic_backup::daily(app).await {
        Ok(Some(file)) => tracing::info!(file = %file.display(), "a backup was made and read back"),
        Ok(None) => {}
        Err(failure) => tracing::error!(%failure, "today's backup was not made; it is tried again in an hour"),
    }
}
