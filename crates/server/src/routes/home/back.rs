//! What came back with the cards: taken in tap by tap, and read back child by child.

use axum::Json;
use axum::extract::{Path, State};
use bright_row_core::lessons::family_answer::{BackAgain, FamilyAnswer, back_again};
use bright_row_core::role::Role;
use bright_row_core::{ChildId, ClassId};
use bright_row_store::accounts;
use bright_row_store::children::{family_answers, membership};
use bright_row_store::classes;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::auth::guard::{MemberOfChild, SignedIn};
use crate::auth::recorder::Recorder;
use crate::error::ApiError;
use crate::error::answers::{ForMembers, ForMembersAsking};
use crate::extract::Body;
use crate::extract::batch::{Batch, RecordAnswer};
use crate::state::App;
use crate::use_cases::record_family_answers::record_family_answers;

/// So many answers of a child are looked back on.
const MOST_ANSWERS: u64 = 100;

/// What families answered.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct FamilyAnswers {
    /// Up to 500. Read one by one, so that one that cannot be read does not hold up the others.
    #[schema(value_type = Vec<FamilyAnswer>)]
    answers: Vec<serde_json::Value>,
}

/// Takes in what families answered about a week at home. Directors and assistants alike.
#[utoipa::path(post, path = "/api/classes/{class}/home/answers", tag = "home",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = FamilyAnswers,
    responses(
        (status = 200, body = RecordAnswer),
        ForMembersAsking,
    ))]
pub async fn add_family_answers(
    State(app): State<App>,
    recorder: Recorder,
    Body(body): Body<FamilyAnswers>,
) -> Result<Json<RecordAnswer>, ApiError> {
    let batch = Batch::read(body.answers, "answers")?;
    Ok(Json(record_family_answers(&app, &recorder, batch).await?))
}

/// What came back of one child.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct BackView {
    /// The newest first.
    weeks: Vec<BackAgain>,
}

/// What came back of one child, week by week.
#[utoipa::path(get, path = "/api/classes/{class}/children/{child}/answers", tag = "home",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child")),
    responses(
        (status = 200, body = BackView),
        ForMembers,
    ))]
pub async fn family_answers_of(State(app): State<App>, found: MemberOfChild) -> Result<Json<BackView>, ApiError> {
    let MemberOfChild { member, child } = found;
    let answers = family_answers::of_child(&app.db, member.class.key, child.id, MOST_ANSWERS).await?;
    Ok(Json(BackView { weeks: back_again(&answers, &member.class.calendar) }))
}

/// Where the child of a card is.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct CardView {
    /// The class that it is in now.
    class: ClassId,
}

/// In which class the child of a card is: its code holds neither class nor name. For whoever looks back on that class; anybody
/// else hears that there is no such card.
#[utoipa::path(get, path = "/api/cards/{child}", tag = "home",
    params(("child" = Uuid, Path, description = "As the code has it")),
    responses(
        (status = 200, body = CardView),
        ForMembers,
    ))]
pub async fn find_card(
    State(app): State<App>,
    SignedIn(account): SignedIn,
    path: Result<Path<Uuid>, axum::extract::rejection::PathRejection>,
) -> Result<Json<CardView>, ApiError> {
    let nothing = || ApiError::NotFound("card");
    let child = ChildId::from(path.map_err(|_| nothing())?.0);
    for program in accounts::programs_of(&app.db, account, app.now()).await? {
        let found = membership::classes_of(&app.db, program.id, &[child].into()).await?;
        let Some(class) = found.get(&child) else { continue };
        let opened = classes::for_account(&app.db, account, *class, app.now()).await?;
        let may = opened.is_some_and(|opened| Role::looks_back(opened.role) && !opened.wants_second_factor);
        return if may { Ok(Json(CardView { class: *class })) } else { Err(nothing()) };
    }
    Err(nothing())
}
