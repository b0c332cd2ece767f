//! What counts for one child, as its page shows it.

use std::collections::BTreeMap;

use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::StageId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::progress::page::context::{AccommodationView, MadeView, PainView};
use bright_row_core::{AccountId, ChildId};
use bright_row_store::accounts;
use bright_row_store::accounts::Made;
use bright_row_store::children::context::{self, Accommodation};
use bright_row_store::children::pain::{self, PainNote};
use bright_row_store::children::stored_context::StoredContext;
use bright_row_store::classes::Class;
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use super::context::AccommodationBody;
use crate::auth::guard::Member;
use crate::error::ApiError;
use crate::extract::based_on::version;
use crate::routes::approach::options::{ChoiceView, choice_view};
use crate::state::App;

const MAX_PAINS: u64 = 10;

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
            pain::pain_notes(&app.db, key, child, MAX_PAINS)
        )?;
        let made = accommodations.iter().map(|own| own.made).chain(opened.values().copied());
        let pains = pain.iter().flat_map(|pain| [Some(pain.seen), pain.done.as_ref().map(|(_, made)| *made)]);
        let people: Vec<AccountId> = made.chain(pains.flatten()).map(|made| made.by).collect();
        let names =
            if people.is_empty() { BTreeMap::new() } else { accounts::names(&app.db, people.into_iter()).await? };
        Ok(Self { accommodations, opened, pain, names })
    }

    /// Who opened stages although they wait for others.
    pub(crate) fn opened_by(&self) -> BTreeMap<StageId, MadeView> {
        self.opened.iter().map(|(stage, made)| (stage.clone(), self.made(*made))).collect()
    }

    fn made(&self, made: Made) -> MadeView {
        MadeView { by: self.names.get(&made.by).cloned().unwrap_or_default(), at: made.at }
    }

    pub(crate) fn accommodation_views(&self, checklist: &Checklist) -> Vec<AccommodationView> {
        let view = |own: &Accommodation| AccommodationView {
            checkpoint: own.checkpoint.to_string(),
            name: checklist.target_name(own.checkpoint.as_str()),
            look_for: Some(own.look_for.clone()).filter(|own| !own.is_empty()),
            reason: own.reason.clone(),
            version: version(&AccommodationBody { look_for: own.look_for.clone(), reason: own.reason.clone() }),
            made: self.made(own.made),
        };
        self.accommodations.iter().map(view).collect()
    }

    pub(crate) fn pain_views(&self, checklist: &Checklist) -> Vec<PainView> {
        let view = |pain: &PainNote| PainView {
            observation: pain.observation,
            at_home: pain.at_home,
            target_name: checklist.target_name(pain.target.id()),
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
    let (choices, today) = (app.content.approach.choices.iter(), class.calendar.day_of(app.now()));
    let own = choices.filter(|choice| choice.per_child && choice.instruments.contains(&instrument));
    own.map(|choice| OverrideView {
        choice: choice_view(choice, class, today),
        own: context.overrides.get(&choice.key).cloned(),
    })
    .collect()
}
