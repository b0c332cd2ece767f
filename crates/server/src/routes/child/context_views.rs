//! What counts for one child, as its page shows it.

use std::collections::BTreeMap;

use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::{CheckpointId, StageId};
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::{AccountId, ChildId, ObservationId};
use bright_row_store::accounts;
use bright_row_store::accounts::Made;
use bright_row_store::children::context::{self, Accommodation, PainNote};
use bright_row_store::children::stored_context::StoredContext;
use bright_row_store::classes::Class;
use chrono::{DateTime, Utc};
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::auth::guard::Member;
use crate::error::ApiError;
use crate::routes::approach::options::{ChoiceView, choice_view};
use crate::routes::names::target_name;
use crate::state::App;

/// How many pains a child's page looks back on.
pub(super) const MAX_PAINS_SHOWN: u64 = 10;

/// Who did something, and when.
#[derive(Clone, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct MadeView {
    /// By name.
    by: String,
    at: DateTime<Utc>,
}

/// What counts for a child instead of the shared look-for.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct AccommodationView {
    checkpoint: String,
    name: String,
    /// What is looked for; absent: the checkpoint does not apply.
    look_for: Option<String>,
    reason: String,
    made: MadeView,
}

/// A choice in which a child may go its own way.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct OverrideView {
    /// The choice; what is chosen is the class's option.
    choice: ChoiceView,
    /// The child's own way; absent: as the class.
    own: Option<String>,
}

/// When a child said that it hurts.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct PainView {
    observation: ObservationId,
    /// Where it was seen.
    target_name: String,
    /// What was written then.
    note: Option<String>,
    seen: MadeView,
    /// What was done; absent while it is flagged.
    done: Option<String>,
    /// Who said so.
    answered: Option<MadeView>,
}

/// What counts for one child, with the names of those who decided it.
pub(crate) struct ContextOfChild {
    accommodations: Vec<Accommodation>,
    opened: BTreeMap<StageId, Made>,
    pain: Vec<PainNote>,
    names: BTreeMap<AccountId, String>,
}

impl ContextOfChild {
    pub(crate) async fn read(app: &App, member: &Member, child: ChildId) -> Result<Self, ApiError> {
        let key = member.class.key;
        let (accommodations, opened, pain) = tokio::try_join!(
            context::accommodations(&app.db, key, child),
            context::opened(&app.db, key, child),
            context::pain_notes(&app.db, key, child, MAX_PAINS_SHOWN)
        )?;
        let made = accommodations.iter().map(|own| own.made).chain(opened.values().copied());
        let pains = pain.iter().flat_map(|pain| [Some(pain.seen), pain.done.as_ref().map(|(_, made)| *made)]);
        let people: Vec<AccountId> = made.chain(pains.flatten()).map(|made| made.by).collect();
        let names =
            if people.is_empty() { BTreeMap::new() } else { accounts::names(&app.db, people.into_iter()).await? };
        Ok(Self { accommodations, opened, pain, names })
    }

    pub(crate) fn accommodation(&self, checkpoint: &CheckpointId) -> Option<&Accommodation> {
        self.accommodations.iter().find(|own| own.checkpoint == *checkpoint)
    }

    pub(crate) fn opened(&self, stage: &StageId) -> Option<MadeView> {
        self.opened.get(stage).map(|made| self.made(*made))
    }

    fn made(&self, made: Made) -> MadeView {
        MadeView { by: self.names.get(&made.by).cloned().unwrap_or_default(), at: made.at }
    }

    pub(crate) fn accommodation_views(&self, checklist: &Checklist) -> Vec<AccommodationView> {
        let view = |own: &Accommodation| AccommodationView {
            checkpoint: own.checkpoint.to_string(),
            name: target_name(checklist, own.checkpoint.as_str()),
            look_for: Some(own.look_for.clone()).filter(|own| !own.is_empty()),
            reason: own.reason.clone(),
            made: self.made(own.made),
        };
        self.accommodations.iter().map(view).collect()
    }

    pub(crate) fn pain_views(&self, checklist: &Checklist) -> Vec<PainView> {
        let view = |pain: &PainNote| PainView {
            observation: pain.observation,
            target_name: target_name(checklist, pain.target.id()),
            note: pain.note.clone(),
            seen: self.made(pain.seen),
            done: pain.done.as_ref().map(|(done, _)| done.clone()),
            answered: pain.done.as_ref().map(|(_, made)| self.made(*made)),
        };
        self.pain.iter().map(view).collect()
    }
}

/// The choices in which a child on this instrument may go its own way.
pub(crate) fn override_views(
    app: &App,
    class: &Class,
    instrument: Instrument,
    context: &StoredContext,
) -> Vec<OverrideView> {
    let choices = app.content.approach.choices.iter();
    let own = choices.filter(|choice| choice.per_child && choice.instruments.contains(&instrument));
    own.map(|choice| OverrideView {
        choice: choice_view(choice, &class.choices),
        own: context.overrides.get(&choice.key).cloned(),
    })
    .collect()
}
