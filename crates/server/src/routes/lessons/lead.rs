//! A phone steers the page on the projector: what one page says goes to the other pages of the same account.

use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::lessons::lead::LeadSignal;

use crate::auth::guard::InClass;
use crate::error::ApiError;
use crate::error::answers::ForMembersAsking;
use crate::extract::Body;
use crate::extract::fields::Fields;
use crate::state::App;

/// Passes on what a page that leads a drill, or steers one that does, says: as an event `lead` of the class's stream, to pages of
/// the same account only. Nothing is stored.
#[utoipa::path(post, path = "/api/classes/{class}/lead", tag = "lessons",
    params(("class" = uuid::Uuid, Path, description = "The class")),
    request_body = LeadSignal,
    responses(
        (status = 204, description = "Passed on"),
        ForMembersAsking,
    ))]
pub async fn lead(
    State(app): State<App>,
    InClass(member): InClass,
    Body(signal): Body<LeadSignal>,
) -> Result<StatusCode, ApiError> {
    let mut fields = Fields::default();
    if let Some((field, words)) = signal.fault() {
        fields.fault(field, words);
    }
    fields.finish()?;
    app.live.lead(member.class.key.class, member.account, signal);
    Ok(StatusCode::NO_CONTENT)
}
