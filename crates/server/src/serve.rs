//! Serving: the listener, housekeeping, and how it ends.

use std::time::Duration;

use axum::Router;
use bright_row_store::accounts::sessions;
use tokio::net::TcpListener;

use crate::router::router;
use crate::state::App;

/// Serves until `stop`; requests under way are answered, live streams are closed.
///
/// # Errors
/// What the system says of the listener.
pub async fn serve(
    app: App,
    listener: TcpListener,
    stop: impl Future<Output = ()> + Send + 'static,
) -> std::io::Result<()> {
    let live = app.live.clone();
    let housekeeping = tokio::spawn(clear_sessions(app.clone()));
    let router: Router = router(app);
    let served = axum::serve(listener, router)
        .with_graceful_shutdown(async move {
            stop.await;
            live.close();
        })
        .await;
    housekeeping.abort();
    served
}

/// Once an hour, sessions that expired are cleared away.
async fn clear_sessions(app: App) {
    let mut hourly = tokio::time::interval(Duration::from_hours(1));
    loop {
        hourly.tick().await;
        if let Err(error) = sessions::clear_expired(&app.db, app.now()).await {
            tracing::warn!(?error, "expired sessions stay until the next try");
        }
    }
}
