//! The class at home: how it practises, and who shows what this week.

use std::collections::BTreeSet;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::IntoResponse;
use bright_row_core::lessons::family_answer::{BackAgain, back_again, week_of};
use bright_row_core::lessons::home::HomeSettings;
use bright_row_store::children::family_answers;
use bright_row_store::instruments::loans;
use chrono::NaiveDate;
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::auth::guard::{Director, Member};
use crate::error::ApiError;
use crate::error::answers::{ForDirectorsReplacing, ForMembers};
use crate::extract::Body;
use crate::extract::based_on::{BasedOn, BasedOnHeaders, etag, version};
use crate::extract::fields::Fields;
use crate::routes::lessons::overview::ChildName;
use crate::state::App;
use crate::use_cases::at_home::ClassAtHome;
use crate::use_cases::change_settings;
use crate::use_cases::snapshot::{ClassSnapshot, Learner};

/// A child and what it shows at home.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ChildAtHome {
    child: ChildName,
    /// Names of the checkpoints that the child shows, one to three; none where all rests.
    shows: Vec<String>,
    /// Something is sore: the card leaves it out.
    sore: bool,
    /// The child has an instrument of the school's: there is a loan to sign.
    lent: bool,
    /// What came back this week; absent where nothing has.
    back: Option<BackAgain>,
}

/// The class at home.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct HomeView {
    set: HomeSettings,
    /// The version of `set`.
    version: String,
    /// The first of the seven days that cards are for: that of the next meeting.
    first: NaiveDate,
    /// The Monday of this week: what comes back counts for it.
    week: NaiveDate,
    /// By seat.
    children: Vec<ChildAtHome>,
}

/// The class at home: how it practises, and who shows what this week.
#[utoipa::path(get, path = "/api/classes/{class}/home", tag = "home",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = HomeView),
        ForMembers,
    ))]
pub async fn home(State(app): State<App>, member: Member) -> Result<impl IntoResponse, ApiError> {
    let at_home = ClassAtHome::read(ClassSnapshot::new(&app, &member.class)).await?;
    let mut learners = at_home.snapshot.learners().await?;
    let lent: BTreeSet<_> =
        loans::lent(&app.db, member.class.key.program).await?.into_values().map(|loan| loan.child).collect();
    let calendar = &member.class.calendar;
    let week = week_of(calendar.day_of(app.now()));
    let mut answers = family_answers::of_class(&app.db, member.class.key, calendar.begins(week)).await?;
    learners.sort_by_cached_key(Learner::walking_key);
    let mut children = Vec::with_capacity(learners.len());
    for learner in &learners {
        let shown = at_home.week(learner)?.shown;
        let child = &learner.child;
        let back = back_again(&answers.remove(&child.id).unwrap_or_default(), calendar);
        children.push(ChildAtHome {
            child: ChildName::new(child.id, child.name.clone(), child.playing.now),
            shows: shown.iter().map(|id| learner.checklist.target_name(id.as_str())).collect(),
            sore: !learner.context.context.pain.is_empty(),
            lent: lent.contains(&child.id),
            back: back.into_iter().find(|back| back.week == week),
        });
    }
    let set = member.class.home_settings.clone();
    let version = version(&set);
    Ok((etag(&version), Json(HomeView { set, version, first: at_home.first, week, children })))
}

/// Sets how a class practises at home; directors only.
#[utoipa::path(put, path = "/api/classes/{class}/home", tag = "home",
    params(("class" = Uuid, Path, description = "The class"), BasedOnHeaders),
    request_body = HomeSettings,
    responses(
        (status = 204, description = "Counts from now on"),
        ForDirectorsReplacing,
    ))]
pub async fn keep_home(
    State(app): State<App>,
    Director(member): Director,
    based_on: BasedOn,
    Body(body): Body<HomeSettings>,
) -> Result<StatusCode, ApiError> {
    let mut fields = Fields::default();
    for (field, words) in body.faults() {
        fields.fault(field, words);
    }
    fields.finish()?;
    change_settings::set_home(&app, &member, &body, |class| based_on.allow(Some(&class.home_settings), &body)).await?;
    Ok(StatusCode::NO_CONTENT)
}
