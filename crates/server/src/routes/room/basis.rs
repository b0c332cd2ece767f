//! What the rules in a page read: the rules of a class, and from what everything about its children follows. With them a page
//! says at once what an observation comes to, also without network.

use std::collections::BTreeSet;

use axum::Json;
use axum::extract::State;
use bright_row_core::progress::page::basis::{ChildBasis, ClassRules};
use bright_row_store::children::{self, Child, stored_context};
use bright_row_store::observations;
use chrono::Days;
use serde::Serialize;
use utoipa::ToSchema;

use crate::auth::guard::Member;
use crate::error::ApiError;
use crate::error::answers::ForMembers;
use crate::state::App;
use crate::use_cases::snapshot::ClassSnapshot;

/// The rules of a class.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RulesOfClass {
    /// As the rules in a page read them.
    #[schema(value_type = Object)]
    rules: ClassRules,
}

/// From what everything about the children of a class follows.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct BasisOfClass {
    /// The number of the present meeting.
    meeting: u32,
    /// Everybody in the class, as the rules in a page read them.
    #[schema(value_type = Vec<Object>)]
    children: Vec<ChildBasis>,
}

/// By which rules the children of a class are read: its calendar, rhythm and approach, and every checklist that counts for one
/// of them.
#[utoipa::path(get, path = "/api/classes/{class}/rules", tag = "room",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = RulesOfClass),
        ForMembers,
    ))]
pub async fn rules(State(app): State<App>, member: Member) -> Result<Json<RulesOfClass>, ApiError> {
    let contexts = stored_context::of_class(&app.db, member.class.key).await?;
    Ok(Json(RulesOfClass { rules: ClassSnapshot::new(&app, &member.class).rules(contexts.values()) }))
}

/// From what everything about the children of a class follows: the observations since yesterday, and what came of those
/// before.
#[utoipa::path(get, path = "/api/classes/{class}/basis", tag = "room",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = BasisOfClass),
        ForMembers,
    ))]
pub async fn basis(State(app): State<App>, member: Member) -> Result<Json<BasisOfClass>, ApiError> {
    let class = &member.class;
    let snapshot = ClassSnapshot::new(&app, class);
    let today = class.calendar.day_of(app.now());
    // A device's clock may run behind.
    let since = class.calendar.begins(today.checked_sub_days(Days::new(1)).unwrap_or(today));
    let (here, mut contexts) =
        tokio::try_join!(children::of_class(&app.db, class.key), stored_context::of_class(&app.db, class.key))?;
    let everybody: BTreeSet<_> = here.iter().map(|child| child.id).collect();
    let mut observations = observations::standing_for(&app.db, class.key, &everybody).await?;
    let one = |child: &Child| {
        let context = snapshot.assess(child, contexts.remove(&child.id).unwrap_or_default());
        let observations = observations.remove(&child.id).unwrap_or_default();
        snapshot.basis(child, &context, &observations, Some(since))
    };
    Ok(Json(BasisOfClass { meeting: snapshot.now, children: here.iter().map(one).collect() }))
}
