//! A child's page: the four ladders and the history.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::id::StageId;
use bright_row_core::progress::page::basis::ChildBasis;
use bright_row_core::progress::page::context::{AccommodationView, MadeView};
use bright_row_core::progress::page::next_item::NextView;
use bright_row_core::progress::page::progress::{ChildProgress, PageContext};
use bright_row_core::role::Role;
use bright_row_store::children::stored_context;
use bright_row_store::observations::{self, standings};
use serde::Serialize;
use utoipa::ToSchema;

use crate::auth::guard::ChildInClass;
use crate::error::ApiError;
use crate::error::answers::ForMembers;
use crate::extract::based_on::version;
use crate::routes::child::context_views::{ContextOfChild, OverrideView, override_views};
use crate::routes::child::history::read_history;
use crate::state::App;
use crate::use_cases::snapshot::ClassSnapshot;

/// A child with its ladders and the newest of its history.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ChildPage {
    #[serde(flatten)]
    progress: ChildProgress,
    /// What counts for this child instead of the shared look-fors.
    accommodations: Vec<AccommodationView>,
    /// Choices in which this child may go its own way.
    overrides: Vec<OverrideView>,
    /// The version of its own ways, all of them.
    overrides_version: String,
    /// Who opened stages although they wait for others.
    #[schema(value_type = BTreeMap<String, MadeView>)]
    opened_by: BTreeMap<StageId, MadeView>,
    /// The number of the present meeting.
    meeting: u32,
    /// From what everything about it follows, as the rules in a page read it.
    #[schema(value_type = Object)]
    basis: ChildBasis,
    /// What the one who asks may do here.
    role: Role,
    /// Whether that is to change what counts for this child.
    may_change: bool,
    /// Whether that is to read what lies behind it: history, notes, answers to pain.
    looks_back: bool,
}

impl ChildPage {
    /// What comes next, at most three.
    pub(crate) fn next(&self) -> &[NextView] {
        &self.progress.next
    }

    /// Whether something else counts for this child there.
    pub(crate) fn accommodates(&self, checkpoint: &str) -> bool {
        self.accommodations.iter().any(|own| own.checkpoint == checkpoint)
    }
}

/// A child with its ladders and the newest of its history.
#[utoipa::path(get, path = "/api/classes/{class}/children/{child}", tag = "room",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child")),
    responses(
        (status = 200, body = ChildPage),
        ForMembers,
    ))]
pub async fn child(State(app): State<App>, found: ChildInClass) -> Result<Json<ChildPage>, ApiError> {
    let ChildInClass { member, child } = found;
    let (key, only) = (member.class.key, [child.id].into());
    let (standings, context, mut observations) = tokio::try_join!(
        standings::of_child(&app.db, key, child.id),
        stored_context::of_child(&app.db, key, child.id),
        observations::standing_for(&app.db, key, &only)
    )?;
    let decided = ContextOfChild::read(&app, &member, child.id).await?;
    let snapshot = ClassSnapshot::new(&app, &member.class);
    let context = snapshot.assess(&child, context);
    let rules = snapshot.rules([&context]);
    let basis = snapshot.basis(&child, &context, &observations.remove(&child.id).unwrap_or_default(), None);
    let now = snapshot.now_of(&child, &context, standings);
    let mut context_of_page = PageContext {
        accommodations: decided.accommodation_views(&now.checklist),
        opened: decided.opened_by(),
        pain: decided.pain_views(&now.checklist),
        history: read_history(&app, &member, child.id, None).await?,
    };
    if !member.role.looks_back() {
        context_of_page.keep_to_today();
    }
    Ok(Json(ChildPage {
        accommodations: context_of_page.accommodations.clone(),
        overrides_version: version(&context.overrides),
        overrides: override_views(&app, &member.class, child.playing.now, &context),
        opened_by: context_of_page.opened.clone(),
        progress: ChildProgress::of(&rules, &basis, context_of_page, &now, ""),
        meeting: snapshot.now,
        basis,
        role: member.role,
        may_change: member.may_change(),
        looks_back: member.role.looks_back(),
    }))
}
