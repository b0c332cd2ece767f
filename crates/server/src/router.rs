//! The API and the pages: one file a place, one table of routes.

pub mod approach;
pub mod calc_round;
pub mod calc_tapes;
pub mod calendar;
pub mod care;
pub mod causes;
pub mod checklist;
pub mod child;
pub mod class_file;
pub mod classes;
pub mod extract;
pub mod files;
pub mod first_run;
pub mod fit;
pub mod forecast;
pub mod health;
pub mod history;
pub mod instruments;
pub mod inventory_file;
pub mod laying;
pub mod lesson;
pub mod lessons;
pub mod live;
pub mod observations;
pub mod matching;
pub mod measures;
pub mod note_map;
pub mod own_checkpoints;
pub mod pages;
pub mod problem;
mod snapshot;
pub mod rhythm;
pub mod room;
pub mod roster;
pub mod roster_columns;
pub mod roster_import;
pub mod round;
pub mod round_check;
pub mod round_events;
pub mod seats;
pub mod session;
pub mod supplies;
pub mod tape_bench;
mod tape_landing;
pub mod tape_page;
pub mod tape_view;
mod tape_words;
pub mod tape_work;
pub mod templates;
pub mod things;
pub mod views;

use std::any::Any;

use axum::Router;
use axum::extract::DefaultBodyLimit;
use axum::response::{IntoResponse, Response};
use tower::ServiceBuilder;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::trace::TraceLayer;
use utoipa::OpenApi;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::state::App;
use crate::auth;
use problem::{ApiError, Problem};

/// A batch of 500 observations with notes fits easily.
const LARGEST_BODY: usize = 1024 * 1024;

#[derive(OpenApi)]
#[openapi(
    info(
        title = "Bright Row",
        description = "A mixed string class, looked at child by child. JSON in camelCase, moments \
in RFC 3339 UTC, dates in ISO 8601, errors as RFC 9457 problems."
    ),
    components(schemas(Problem))
)]
struct Described;

/// Every route of the API, with its description.
fn api() -> OpenApiRouter<App> {
    OpenApiRouter::with_openapi(Described::openapi())
        .routes(routes!(health::alive))
        .routes(routes!(health::ready))
        .routes(routes!(health::description))
        .routes(routes!(first_run::first_run, first_run::begin))
        .routes(routes!(session::session, session::sign_in, session::sign_out))
        .routes(routes!(classes::list_classes, classes::add_class))
        .routes(routes!(classes::add_children))
        .routes(routes!(room::room))
        .routes(routes!(child::child, roster::edit_child, roster::remove_child))
        .routes(routes!(history::history))
        .routes(routes!(observations::add_observations))
        .routes(routes!(live::live))
        .routes(routes!(causes::causes))
        .routes(routes!(lessons::class_overview))
        .routes(routes!(lesson::lesson))
        .routes(routes!(lesson::keep_lesson))
        .merge(round())
        .merge(care())
        .merge(approach())
        .merge(set_up())
        .merge(tapes())
}

/// Rounds.
fn round() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(calc_round::calc_round))
        .routes(routes!(round::round_kit))
        .routes(routes!(round_events::add_round_events))
        .routes(routes!(forecast::forecast))
        .routes(routes!(forecast::fewest_minutes))
        .routes(routes!(calendar::calendar, calendar::set_calendar))
        .routes(routes!(calendar::read_days_off))
        .routes(routes!(calendar::calendar_file))
}

/// Markers on instruments, and what is played where.
fn tapes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(calc_tapes::calc_tapes))
        .routes(routes!(tape_bench::tape_bench))
        .routes(routes!(tape_bench::set_marker_settings))
        .routes(routes!(tape_work::add_tape_entries))
        .routes(routes!(tape_page::tape_page))
        .routes(routes!(templates::count_sheets))
        .routes(routes!(templates::templates_pdf))
        .routes(routes!(templates::templates_svg))
        .routes(routes!(note_map::note_map))
        .routes(routes!(note_map::notes_musicxml))
        .routes(routes!(note_map::notes_chart))
}

/// What counts for one child.
fn care() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(care::accommodate, care::end_accommodation))
        .routes(routes!(care::set_overrides))
        .routes(routes!(care::open_stage, care::leave_stage))
        .routes(routes!(care::answer_pain))
}

/// The class's schools and its checklist.
fn approach() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(approach::approach, approach::take_approach))
        .routes(routes!(approach::preview_approach))
        .routes(routes!(rhythm::rhythm, rhythm::set_rhythm))
        .routes(routes!(checklist::checklist, own_checkpoints::add_checkpoint))
        .routes(routes!(checklist::change_checkpoint))
        .routes(routes!(own_checkpoints::change_own, own_checkpoints::remove_own))
        .routes(routes!(class_file::class_file_out))
        .routes(routes!(class_file::class_file_in))
}

/// Setting up a class: roster, fit, instruments, seats, supplies.
fn set_up() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(roster::roster))
        .routes(routes!(roster::roster_csv))
        .routes(routes!(roster::move_child))
        .routes(routes!(roster::undo_import))
        .routes(routes!(roster_import::import_roster))
        .routes(routes!(fit::calc_fit))
        .routes(routes!(fit::fit_list))
        .routes(routes!(measures::add_measuring))
        .routes(routes!(measures::add_finding))
        .routes(routes!(fit::choose))
        .routes(routes!(instruments::instruments))
        .routes(routes!(instruments::loans))
        .routes(routes!(instruments::keep_instrument))
        .routes(routes!(inventory_file::instruments_csv))
        .routes(routes!(inventory_file::import_instruments))
        .routes(routes!(instruments::labels))
        .routes(routes!(matching::match_view))
        .routes(routes!(matching::lend))
        .routes(routes!(matching::lock_loan))
        .routes(routes!(seats::seats, seats::look_at_seats, seats::keep_seats))
        .routes(routes!(seats::seat_chart))
        .routes(routes!(supplies::supplies_view, supplies::count_supplies))
        .routes(routes!(supplies::supplies_csv))
        .routes(routes!(supplies::order_list))
        // Files are larger than any other body; snapshot them stops at the same limit.
        .layer(DefaultBodyLimit::max(bright_row_documents::table::LARGEST))
}

/// The description of the API, as it is committed in `docs/openapi.json`.
#[must_use]
pub fn openapi_json() -> String {
    let mut openapi = api().into_openapi();
    // The version of the product is not the API's: it would change the file with every release.
    "1".clone_into(&mut openapi.info.version);
    openapi.info.license = None;
    openapi.to_pretty_json().expect("a description is JSON")
}

/// The API, the pages, and the layers around them.
pub fn router(app: App) -> Router {
    let (api, _) = api().split_for_parts();
    let sessions = auth::session::layer(&app);
    api.fallback(pages::serve)
        .method_not_allowed_fallback(async || ApiError::NoSuchMethod)
        .layer(
            ServiceBuilder::new()
                .layer(TraceLayer::new_for_http())
                .layer(axum::middleware::from_fn(pages::security_headers))
                .layer(CompressionLayer::new())
                .layer(CatchPanicLayer::custom(panicked))
                .layer(DefaultBodyLimit::max(LARGEST_BODY))
                .layer(sessions),
        )
        .with_state(app)
}

// The layer hands the panic over by value.
#[allow(clippy::needless_pass_by_value)]
fn panicked(panic: Box<dyn Any + Send>) -> Response {
    let text = panic.downcast_ref::<String>().cloned();
    let text = text.or_else(|| panic.downcast_ref::<&str>().map(|text| (*text).to_owned()));
    ApiError::Internal(text.unwrap_or_default()).into_response()
}
