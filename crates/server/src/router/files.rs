//! The routes that take files, beside those of setting up: files may be larger than any other body.

use axum::extract::DefaultBodyLimit;
use bright_row_documents::table::Bounds;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::routes::accounts::handover;
use crate::routes::approach::days_off;
use crate::routes::setup::roster_import;
use crate::routes::tapes::tune_file;
use crate::state::App;

/// Files of one school; reading them stops at the same limit.
pub(super) fn files_in() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(handover::take_over))
        .routes(routes!(days_off::read_days_off))
        .routes(routes!(tune_file::read_tune_file))
        .layer(DefaultBodyLimit::max(Bounds::USUAL.bytes))
}

/// Rosters, which may be those of a whole district.
pub(super) fn rosters_in() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(roster_import::take_roster_file))
        .layer(DefaultBodyLimit::max(Bounds::DISTRICT.bytes))
}
