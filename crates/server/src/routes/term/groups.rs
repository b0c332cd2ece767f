//! Small groups: kept, ended, and what became of them.

use std::collections::BTreeSet;

use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::ChildId;
use bright_row_core::craft::id::{CheckpointId, SlipId};
use bright_row_core::term::group::SmallGroup;
use serde::Deserialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;
use uuid::Uuid;

use super::overview::Read;
use super::views::{GroupChild, KeptGroup};
use crate::auth::guard::Director;
use crate::error::ApiError;
use crate::error::answers::{ForDirectors, ForDirectorsWriting};
use crate::extract::{Body, GroupInPath};
use crate::state::App;
use crate::use_cases::small_groups;

/// A small group to keep.
#[skip_serializing_none]
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct NewSmallGroup {
    /// Made by the page; the same id twice is one group.
    id: Uuid,
    /// Where its children work together.
    #[schema(max_length = 60)]
    checkpoint: String,
    /// The slip that they share, if it is one.
    #[schema(max_length = 60)]
    slip: Option<String>,
    /// Two to six of the class.
    #[schema(min_items = 2, max_items = 6)]
    children: Vec<ChildId>,
}

/// Keeps a small group; directors only.
#[utoipa::path(post, path = "/api/classes/{class}/groups", tag = "term",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = NewSmallGroup,
    responses(
        (status = 204, description = "Kept; sent twice it is kept once"),
        ForDirectorsWriting,
    ))]
pub async fn keep_group(
    State(app): State<App>,
    Director(member): Director,
    Body(body): Body<NewSmallGroup>,
) -> Result<StatusCode, ApiError> {
    let group = SmallGroup {
        id: body.id.into(),
        checkpoint: CheckpointId::new(body.checkpoint),
        slip: body.slip.map(SlipId::new),
        children: body.children.into_iter().collect::<BTreeSet<ChildId>>(),
        began_at: app.now(),
        ended_at: None,
    };
    small_groups::keep(&app, &member, &group).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Ends a small group; directors only. What became of it stays to be read.
#[utoipa::path(post, path = "/api/classes/{class}/groups/{group}/end", tag = "term",
    params(("class" = Uuid, Path, description = "The class"), ("group" = Uuid, Path, description = "The group")),
    responses(
        (status = 204, description = "Ended, or it was already"),
        ForDirectors,
    ))]
pub async fn end_group(
    State(app): State<App>,
    Director(member): Director,
    GroupInPath(group): GroupInPath,
) -> Result<StatusCode, ApiError> {
    small_groups::end(&app, &member, group).await?;
    Ok(StatusCode::NO_CONTENT)
}

impl Read<'_> {
    /// The groups that were kept, with what became of them.
    pub(super) fn groups(&self) -> Vec<KeptGroup> {
        let checklist = &self.snapshot.checklist;
        let group = |group: &SmallGroup| {
            let outcome = group.outcome(&self.pasts, &self.span);
            let at = group.checkpoint.as_str();
            let slip = group.slip.as_ref().and_then(|slip| checklist.slip(slip.as_str()));
            let children = outcome.children.iter();
            KeptGroup {
                id: group.id,
                name: slip.map_or_else(|| checklist.target_name(at), |slip| slip.name.clone()),
                checkpoint: at.to_owned(),
                checkpoint_name: checklist.target_name(at),
                began: self.span.calendar.day_of(group.began_at),
                ended: group.ended_at.map(|ended| self.span.calendar.day_of(ended)),
                verdict: outcome.verdict,
                children: children
                    .filter_map(|change| Some(GroupChild::new(self.names.get(&change.child)?.clone(), change)))
                    .collect(),
                others: outcome.others.len(),
                others_looked: outcome.others.iter().filter(|change| change.looked).count(),
                others_further: outcome.others.iter().filter(|change| change.further).count(),
            }
        };
        self.past.groups.iter().map(group).collect()
    }
}
