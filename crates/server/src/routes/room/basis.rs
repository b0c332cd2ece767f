//! What the rules in a page read: the rules of a class, and from what everything about its children follows. With them a page
//! says at once what an observation comes to, also without network.

use std::collections::BTreeSet;

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::progress::page::basis::{ChildBasis, ClassRules};
use bright_row_core::tapes::hand_run::TunedStrings;
use bright_row_store::children::{self, Child, stored_context};
use bright_row_store::observations;
use bright_row_store::observations::attribution::changed_since;
use chrono::{DateTime, Days, TimeDelta, Utc};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};

use crate::auth::guard::InClass;
use crate::error::ApiError;
use crate::error::answers::{ForMembers, ForMembersAsking};
use crate::extract::Query;
use crate::state::App;
use crate::use_cases::snapshot::ClassSnapshot;

/// The rules of a class.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RulesOfClass {
    /// As the rules in a page read them.
    #[schema(value_type = Object)]
    rules: ClassRules,
    /// The strings of all four instruments as the class tunes them, to listen for.
    strings: Vec<TunedStrings>,
}

/// From what everything about the children of a class follows.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct BasisOfClass {
    /// The number of the present meeting.
    meeting: u32,
    /// To ask with the next time.
    at: DateTime<Utc>,
    /// Everybody in the class, or those of whom something changed, as the rules in a page read them.
    #[schema(value_type = Vec<Object>)]
    children: Vec<ChildBasis>,
}

/// An observation may be seen by others so long after the moment that it says it was taken in.
const TAKING_IN: TimeDelta = TimeDelta::seconds(30);

/// Of whom.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct BasisQuery {
    /// Only of children for whom observations that were taken in since then stand; of everybody where it is absent.
    #[serde(default, deserialize_with = "bright_row_core::day::moment_or_none")]
    since: Option<DateTime<Utc>>,
}

/// By which rules the children of a class are read: its calendar, rhythm and approach, and every checklist that counts for one
/// of them.
#[utoipa::path(get, path = "/api/classes/{class}/rules", tag = "room",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = RulesOfClass),
        ForMembers,
    ))]
pub async fn rules(State(app): State<App>, InClass(member): InClass) -> Result<Json<RulesOfClass>, ApiError> {
    let contexts = stored_context::of_class(&app.db, member.class.key).await?;
    let snapshot = ClassSnapshot::new(&app, &member.class);
    let strings = Instrument::ALL.map(|instrument| {
        let set = snapshot.set_of(instrument);
        TunedStrings::new(&set.facts, &set.settings)
    });
    Ok(Json(RulesOfClass { rules: snapshot.rules(contexts.values()), strings: strings.into() }))
}

/// From what everything about the children of a class follows: the observations since yesterday, and what came of those
/// before.
#[utoipa::path(get, path = "/api/classes/{class}/basis", tag = "room",
    params(("class" = Uuid, Path, description = "The class"), BasisQuery),
    responses(
        (status = 200, body = BasisOfClass),
        ForMembersAsking,
    ))]
pub async fn basis(
    State(app): State<App>,
    InClass(member): InClass,
    Query(query): Query<BasisQuery>,
) -> Result<Json<BasisOfClass>, ApiError> {
    let class = &member.class;
    let snapshot = ClassSnapshot::new(&app, class);
    let today = class.calendar.day_of(app.now());
    // A device's clock may run behind.
    let since = class.calendar.begins(today.checked_sub_days(Days::new(1)).unwrap_or(today));
    let (mut here, mut contexts) =
        tokio::try_join!(children::of_class(&app.db, class.key), stored_context::of_class(&app.db, class.key))?;
    if let Some(since) = query.since {
        let changed = changed_since(&app.db, class.key, since - TAKING_IN).await?;
        here.retain(|child| changed.contains(&child.id));
    }
    let everybody: BTreeSet<_> = here.iter().map(|child| child.id).collect();
    let mut observations = observations::standing_for(&app.db, class.key, &everybody).await?;
    let one = |child: &Child| {
        let context = snapshot.assess(child, contexts.remove(&child.id).unwrap_or_default());
        let observations = observations.remove(&child.id).unwrap_or_default();
        snapshot.basis(child, &context, &observations, Some(since))
    };
    Ok(Json(BasisOfClass { meeting: snapshot.now, at: app.now(), children: here.iter().map(one).collect() }))
}
