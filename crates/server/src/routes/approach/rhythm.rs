//! How soon a class looks at things again.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::IntoResponse;
use bright_row_core::progress::rhythm::{MAX_INTERVAL, Rhythm};
use bright_row_store::classes::{Class, RoundSettings};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::auth::guard::{Director, Member};
use crate::error::answers::{ForDirectorsReplacing, ForMembers};
use crate::error::{ApiError, FieldError};
use crate::extract::Body;
use crate::extract::based_on::{BasedOn, BasedOnHeaders, etag, version};
use crate::state::App;
use crate::use_cases::change_settings;

/// The longest walk to the next child.
const MAX_VISIT_SECONDS: u32 = 60;
/// More checks would make a visit a lesson.
const MAX_CHECKS_AT_VISIT: u32 = 5;

/// How soon things are looked at again, all in meetings of the class.
#[derive(Clone, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct RhythmView {
    /// Until the next look at what stands at Alone.
    alone: u32,
    /// Until the next look at what is Lasting for the first time; each further Lasting in a row doubles it.
    lasting: u32,
    /// The longest wait, however often something has lasted.
    longest: u32,
    /// Until a set of markers that was just laid or heard is looked at.
    tapes_first: u32,
    /// Until a set that held once is looked at.
    tapes_later: u32,
    /// A child not looked at for so many meetings must be seen.
    must_see_after: u32,
    /// Seconds to walk to the next child of a round and greet it.
    visit_seconds: u32,
    /// The most checks at one visit.
    max_checks: u32,
}

/// A class's rhythm, and the usual one.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RhythmAnswer {
    now: RhythmView,
    /// The version of `now`.
    version: String,
    usual: RhythmView,
}

impl RhythmView {
    fn new(rhythm: &Rhythm, round: RoundSettings) -> Self {
        Self {
            alone: rhythm.alone,
            lasting: rhythm.lasting,
            longest: rhythm.longest,
            tapes_first: rhythm.tapes_first,
            tapes_later: rhythm.tapes_later,
            must_see_after: round.must_see_after,
            visit_seconds: round.visit_seconds,
            max_checks: round.max_checks,
        }
    }

    fn check(&self) -> Result<(Rhythm, RoundSettings), ApiError> {
        let Self { alone, lasting, longest, tapes_first, tapes_later, .. } = *self;
        let rhythm = Rhythm { alone, lasting, longest, tapes_first, tapes_later };
        let mut faults: Vec<FieldError> =
            rhythm.faults().into_iter().map(|(field, words)| FieldError::new(field, words)).collect();
        if !(1..=MAX_INTERVAL).contains(&self.must_see_after) {
            faults.push(FieldError::new("mustSeeAfter", format!("1 to {MAX_INTERVAL} meetings.")));
        }
        if self.visit_seconds > MAX_VISIT_SECONDS {
            faults.push(FieldError::new("visitSeconds", format!("0 to {MAX_VISIT_SECONDS} seconds.")));
        }
        if !(1..=MAX_CHECKS_AT_VISIT).contains(&self.max_checks) {
            faults.push(FieldError::new("maxChecks", format!("1 to {MAX_CHECKS_AT_VISIT} checks.")));
        }
        let Self { visit_seconds, max_checks, must_see_after, .. } = *self;
        let round = RoundSettings { visit_seconds, max_checks, must_see_after };
        if faults.is_empty() { Ok((rhythm, round)) } else { Err(ApiError::Invalid(faults)) }
    }
}

/// How soon a class looks at things again.
#[utoipa::path(get, path = "/api/classes/{class}/rhythm", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = RhythmAnswer),
        ForMembers,
    ))]
pub async fn rhythm(member: Member) -> Result<impl IntoResponse, ApiError> {
    let Class { rhythm, round, .. } = &*member.class;
    let usual = RhythmView::new(&Rhythm::default(), RoundSettings::default());
    let now = RhythmView::new(rhythm, *round);
    let version = version(&now);
    Ok((etag(&version), Json(RhythmAnswer { now, version, usual })))
}

/// Sets how soon a class looks at things again; directors only. No observation changes: what is due follows anew from all of them.
#[utoipa::path(put, path = "/api/classes/{class}/rhythm", tag = "approach",
    params(("class" = Uuid, Path, description = "The class"), BasedOnHeaders),
    request_body = RhythmView,
    responses(
        (status = 204, description = "Counts from now on"),
        ForDirectorsReplacing,
    ))]
pub async fn keep_rhythm(
    State(app): State<App>,
    Director(member): Director,
    based_on: BasedOn,
    Body(body): Body<RhythmView>,
) -> Result<StatusCode, ApiError> {
    let (rhythm, round) = body.check()?;
    change_settings::set_rhythm(&app, &member, (&rhythm, &round), |class| {
        based_on.allow(Some(&RhythmView::new(&class.rhythm, class.round)), &body)
    })
    .await?;
    Ok(StatusCode::NO_CONTENT)
}
