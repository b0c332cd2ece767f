//! The API and the pages: the table of routes, and the layers around them.

mod described;
mod files;
mod variants;

use std::any::Any;
use std::time::Duration;

use axum::error_handling::HandleErrorLayer;
use axum::extract::DefaultBodyLimit;
use axum::http::header::CONTENT_TYPE;
use axum::response::{IntoResponse, Response};
use axum::{BoxError, Router};
use tower::ServiceBuilder;
use tower::limit::GlobalConcurrencyLimitLayer;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::compression::predicate::{DefaultPredicate, NotForContentType, Predicate};
use tower_http::timeout::RequestBodyTimeoutLayer;
use utoipa::OpenApi;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::auth;
use crate::error::{ApiError, Problem, again};
use crate::extract::progress;
use crate::routes::accounts::{
    account, classes, contacts, first_run, handover, links, passkeys, people, program, second_factor, session,
};
use crate::routes::approach::{
    calendar, calendar_out, checklist, class_file, drawings, drills, options, own_checkpoints, rhythm, wall,
};
use crate::routes::child::{card, causes, context, history, page, record};
use crate::routes::home::{back, cards, overview as home, practice, sheets, wording};
use crate::routes::lessons::{lead, lesson, overview};
use crate::routes::room::{basis, live, observations, overview as room};
use crate::routes::round::{events, forecast, kit};
use crate::routes::setup::{instruments, inventory_file, matching, measures, roster, seats, sizing, supplies, tags};
use crate::routes::tapes::{bench, instrument, log_entries, note_files, note_map, templates};
use crate::routes::term;
use crate::routes::{calc, health, pages};
use crate::state::App;
use crate::telemetry;

pub use described::{examples, openapi_json};

/// So many requests are answered at once; more than wait for the database in any case. Whoever comes beyond them is asked at once
/// to come again, instead of waiting in vain. Streams of notices do not count once they have begun.
const MOST_AT_ONCE: usize = 200;
/// A body that stands still for so long is given up, so that it takes no place for ever.
const BODY_PAUSE: Duration = Duration::from_secs(20);
/// A batch of 500 observations with notes fits easily.
const LARGEST_BODY: usize = 1024 * 1024;

/// Lines that say how far something is come one by one: compressed they would wait for each other.
const NOT_LINES: NotForContentType = NotForContentType::const_new(progress::LINES);

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
        .routes(routes!(description))
        .routes(routes!(first_run::is_first_run, first_run::begin))
        .routes(routes!(session::session, session::sign_in, session::sign_out))
        .routes(routes!(session::ask_for_passkey))
        .merge(accounts())
        .merge(keeping())
        .routes(routes!(classes::list_classes, classes::add_class))
        .routes(routes!(classes::rename_class))
        .routes(routes!(classes::archive_class))
        .routes(routes!(classes::reopen_class))
        .routes(routes!(classes::end_class))
        .routes(routes!(classes::add_children))
        .routes(routes!(room::room))
        .routes(routes!(basis::rules))
        .routes(routes!(basis::basis))
        .routes(routes!(page::child, roster::edit_child))
        .routes(routes!(history::history))
        .routes(routes!(record::record_json))
        .routes(routes!(record::record_pdf))
        .routes(routes!(card::stand_card_pdf))
        .routes(routes!(observations::add_observations))
        .routes(routes!(live::live))
        .routes(routes!(causes::causes))
        .routes(routes!(overview::class_overview))
        .routes(routes!(lesson::lesson))
        .routes(routes!(lesson::keep_lesson))
        .routes(routes!(lead::lead))
        .merge(round())
        .merge(care())
        .merge(approach())
        .merge(at_home())
        .merge(term())
        .merge(set_up())
        .merge(tapes())
        .merge(files::files_in())
        .merge(files::rosters_in())
}

/// One's account, and links that let somebody in.
fn accounts() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(account::account, account::change_account))
        .routes(routes!(account::change_password))
        .routes(routes!(account::end_other_devices))
        .routes(routes!(account::end_device))
        .routes(routes!(second_factor::propose_factor, second_factor::turn_factor_on, second_factor::turn_factor_off))
        .routes(routes!(passkeys::propose_passkey, passkeys::add_passkey))
        .routes(routes!(passkeys::remove_passkey))
        .routes(routes!(links::look))
        .routes(routes!(links::take))
        .routes(routes!(links::take_password))
}

/// People and keeping of a program.
fn keeping() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(people::people))
        .routes(routes!(people::invite))
        .routes(routes!(people::revoke))
        .routes(routes!(people::set_role, people::remove_person))
        .routes(routes!(people::make_password_link))
        .routes(routes!(program::rename_program))
        .routes(routes!(program::end_program))
        .routes(routes!(program::keeping, program::set_keeping))
        .routes(routes!(program::audit_page))
        .routes(routes!(program::audit_csv))
        .routes(routes!(contacts::contacts))
        .routes(routes!(program::program_archive))
        .routes(routes!(handover::hand_over))
}

/// Rounds.
fn round() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(calc::round::calc_round))
        .routes(routes!(kit::round_kit))
        .routes(routes!(events::add_round_events))
        .routes(routes!(forecast::forecast))
        .routes(routes!(forecast::fewest_minutes))
        .routes(routes!(forecast::rhythm_kept))
        .routes(routes!(calendar::calendar, calendar::set_calendar))
        .routes(routes!(calendar_out::calendar_file))
        .routes(routes!(
            calendar_out::calendar_address,
            calendar_out::make_calendar_address,
            calendar_out::end_calendar_address
        ))
        .routes(routes!(calendar_out::subscribed_calendar))
}

/// Markers on instruments, and what is played where.
fn tapes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(calc::tapes::calc_tapes))
        .routes(routes!(bench::tape_bench))
        .routes(routes!(bench::keep_marker_settings))
        .routes(routes!(log_entries::add_tape_entries))
        .routes(routes!(instrument::tape_page))
        .routes(routes!(templates::count_sheets))
        .routes(routes!(templates::templates_pdf))
        .routes(routes!(templates::templates_svg))
        .routes(routes!(note_map::note_map))
        .routes(routes!(note_files::notes_musicxml))
        .routes(routes!(note_files::notes_mxl))
        .routes(routes!(note_files::notes_midi))
        .routes(routes!(note_files::notes_wav))
        .routes(routes!(note_files::notes_chart))
}

/// What counts for one child.
fn care() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(context::accommodate, context::end_accommodation))
        .routes(routes!(context::set_overrides))
        .routes(routes!(context::open_stage, context::leave_stage))
        .routes(routes!(context::answer_pain))
}

/// The class's schools and its checklist.
fn approach() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(options::approach, options::choose_options))
        .routes(routes!(options::preview_approach))
        .routes(routes!(rhythm::rhythm, rhythm::keep_rhythm))
        .routes(routes!(checklist::checklist, own_checkpoints::add_checkpoint))
        .routes(routes!(checklist::change_checkpoint))
        .routes(routes!(own_checkpoints::change_own, own_checkpoints::remove_own))
        .routes(routes!(drawings::drawings))
        .routes(routes!(wall::wall_pdf))
        .routes(routes!(drills::drills, drills::add_drill))
        .routes(routes!(drills::change_drill, drills::remove_drill))
        .routes(routes!(class_file::class_file_out))
        .routes(routes!(class_file::class_file_in))
}

/// What goes home.
fn at_home() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(home::home, home::keep_home))
        .routes(routes!(wording::family_wording, wording::keep_family_wording))
        .routes(routes!(back::add_family_answers))
        .routes(routes!(back::family_answers_of))
        .routes(routes!(back::find_card))
        .routes(routes!(practice::practice, practice::agree_on_practice))
        .routes(routes!(practice::practice_calendar))
        .routes(routes!(cards::family_card_html))
        .routes(routes!(cards::family_card_pdf))
        .routes(routes!(cards::family_cards_pdf))
        .routes(routes!(sheets::family_sheet_pdf))
}

/// How the class grew, and its small groups.
fn term() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(term::overview::term))
        .routes(routes!(term::came::term_forecast))
        .routes(routes!(term::report::term_csv))
        .routes(routes!(term::report::term_xlsx))
        .routes(routes!(term::report::attendance_csv))
        .routes(routes!(term::report::term_pdf))
        .routes(routes!(term::report::child_term_pdf))
        .routes(routes!(term::groups::keep_group))
        .routes(routes!(term::groups::end_group))
}

/// Setting up a class: roster, fit, instruments, seats, supplies.
fn set_up() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(roster::roster))
        .routes(routes!(roster::roster_csv))
        .routes(routes!(roster::roster_xlsx))
        .routes(routes!(roster::move_child))
        .routes(routes!(roster::remove_child))
        .routes(routes!(roster::undo_import))
        .routes(routes!(calc::fit::calc_fit))
        .routes(routes!(sizing::fit_list))
        .routes(routes!(measures::add_measuring))
        .routes(routes!(measures::add_finding))
        .routes(routes!(sizing::choose))
        .routes(routes!(instruments::instruments))
        .routes(routes!(instruments::loans))
        .routes(routes!(instruments::keep_instrument))
        .routes(routes!(inventory_file::instruments_csv))
        .routes(routes!(inventory_file::instruments_xlsx))
        .routes(routes!(inventory_file::import_instruments))
        .routes(routes!(tags::labels))
        .routes(routes!(tags::find_tag))
        .routes(routes!(matching::match_view))
        .routes(routes!(matching::lend_instruments))
        .routes(routes!(matching::lock_loan))
        .routes(routes!(seats::seats, seats::look_at_seats, seats::keep_seats))
        .routes(routes!(seats::seat_chart))
        .routes(routes!(supplies::supplies_view, supplies::count_supplies))
        .routes(routes!(supplies::supplies_csv))
        .routes(routes!(supplies::supplies_xlsx))
        .routes(routes!(supplies::order_list))
        // Files are larger than any other body; reading them stops at the same limit.
        .layer(DefaultBodyLimit::max(bright_row_documents::table::LARGEST))
}

/// This description.
#[utoipa::path(get, path = "/api/openapi.json", tag = "health", responses((status = 200, description = "OpenAPI 3.1")))]
pub async fn description() -> impl IntoResponse {
    ([(CONTENT_TYPE, "application/json")], openapi_json())
}

/// The API, the pages, and the layers around them.
pub fn router(app: App) -> Router {
    let (api, _) = api().split_for_parts();
    let sessions = auth::session::layer(&app);
    api.fallback(pages::serve)
        .method_not_allowed_fallback(async || ApiError::NoSuchMethod)
        .layer(
            ServiceBuilder::new()
                .layer(CompressionLayer::new().compress_when(DefaultPredicate::new().and(NOT_LINES)))
                .layer(CatchPanicLayer::custom(panicked))
                .layer(DefaultBodyLimit::max(LARGEST_BODY))
                .layer(sessions)
                .layer(axum::middleware::from_fn(again::layer))
                // Inside: what is done for a device that went away is noted all the same.
                .layer(axum::middleware::from_fn_with_state(app.clone(), auth::deeds::layer))
                .layer(axum::middleware::from_fn(auth::site::layer)),
        )
        .layer(RequestBodyTimeoutLayer::new(BODY_PAUSE))
        .layer(
            ServiceBuilder::new()
                .layer(axum::middleware::from_fn(telemetry::requests::layer))
                .layer(axum::middleware::from_fn_with_state(app.clone(), pages::security_headers))
                .layer(HandleErrorLayer::new(async |_: BoxError| ApiError::Busy))
                .load_shed()
                .layer(GlobalConcurrencyLimitLayer::new(MOST_AT_ONCE)),
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
