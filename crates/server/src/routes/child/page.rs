//! A child's page: the four ladders and the history.

use crate::routes::names::need_name;
use bright_row_core::progress::observation::Says;
use bright_row_core::role::Role;
use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::approach::{Approach, Choices};
use bright_row_core::craft::checklist::{Checklist, Checkpoint, Stage};
use bright_row_core::craft::id::CheckpointId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::strand::Strand;
use bright_row_core::progress::ladder::{Ladder, StageState, StageView};
use bright_row_core::progress::next::Order;
use bright_row_core::progress::pupil::Pupil;
use bright_row_core::progress::standing::Standing;
use bright_row_store::children::stored_context;
use bright_row_store::observations::standings;
use chrono::{DateTime, Utc};
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::error::ApiError;
use crate::error::answers::ForMembers;
use crate::routes::child::context_views::{
    AccommodationView, ContextOfChild, MadeView, OverrideView, PainView, override_views,
};
use crate::routes::child::history::{History, read_history};
use crate::routes::room::overview::RoomChild;
use crate::use_cases::snapshot::ClassSnapshot;

use crate::auth::guard::MemberOfChild;
use crate::routes::child::next::NextView;
use crate::routes::tapes::views::{TapesView, tapes};
use crate::state::App;
use bright_row_core::progress::rhythm::Recheck;

/// A child with its ladders and the newest of its history.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ChildPage {
    child: RoomChild,
    /// The four strands, in order.
    ladders: Vec<LadderView>,
    tapes: TapesView,
    /// What to work on next, at most three.
    next: Vec<NextView>,
    /// What counts for this child instead of the shared look-fors.
    accommodations: Vec<AccommodationView>,
    /// Choices in which this child may go its own way.
    overrides: Vec<OverrideView>,
    /// When the child said that it hurts, the latest first.
    pain: Vec<PainView>,
    history: History,
    /// What the one who asks may do here.
    role: Role,
}

/// A strand's ladder.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LadderView {
    strand: Strand,
    name: String,
    /// Lowest first.
    stages: Vec<StageOfChild>,
}

/// How a stage stands.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum StageStateView {
    /// Waits for others.
    Shut,
    /// Being worked on.
    Open,
    /// Every required checkpoint at Alone or better.
    Reached,
    /// Every required checkpoint Lasting, none due.
    Settled,
}

/// A stage of a child's ladder.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct StageOfChild {
    /// `hold.4`.
    id: String,
    number: u32,
    name: String,
    state: StageStateView,
    /// Seconds a look at the whole stage takes.
    seconds: u32,
    /// What a shut stage waits for, in words.
    waits_for: Vec<String>,
    /// Who opened it although it waits for others.
    opened: Option<MadeView>,
    /// When a reached stage is looked at again as a whole.
    recheck: Option<Recheck>,
    checkpoints: Vec<CheckpointOfChild>,
}

/// A checkpoint on a child's ladder, worded for its instrument.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct CheckpointOfChild {
    /// `hold.tall`.
    id: String,
    name: String,
    required: bool,
    /// What is there when it is right; the child's own where it has one.
    look_for: String,
    /// Why something else counts for this child.
    accommodated: Option<String>,
    /// Whether it applies to this child.
    applies: bool,
    /// The one quick test that settles it.
    proof: String,
    /// For the child.
    cue: String,
    /// The slips that can be ticked here.
    slips: Vec<SlipView>,
    /// Absent while nobody has looked.
    standing: Option<StandingView>,
}

/// A slip that can be ticked.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SlipView {
    id: String,
    name: String,
    /// How it shows.
    look: String,
    /// The first help.
    help: String,
}

/// How a child stands at a checkpoint.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct StandingView {
    /// 0 to 4.
    level: u8,
    looked_at: DateTime<Utc>,
    /// Absent when nothing is due for it by itself.
    recheck: Option<Recheck>,
    /// The last look found a slip.
    slipped: bool,
    /// The slips ticked at the last look.
    slips: Vec<String>,
    /// What the child said when last asked.
    says: Option<Says>,
}

/// A child with its ladders and the newest of its history.
#[utoipa::path(get, path = "/api/classes/{class}/children/{child}", tag = "room",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child")),
    responses(
        (status = 200, body = ChildPage),
        ForMembers,
    ))]
pub async fn child(State(app): State<App>, found: MemberOfChild) -> Result<Json<ChildPage>, ApiError> {
    let MemberOfChild { member, child } = found;
    let key = member.class.key;
    let (standings, context) = tokio::try_join!(
        standings::of_child(&app.db, key, child.id),
        stored_context::of_child(&app.db, key, child.id)
    )?;
    let decided = ContextOfChild::read(&app, &member, child.id).await?;
    let snapshot = ClassSnapshot::new(&app, &member.class);
    let context = snapshot.assess(&child, context);
    let checklist = snapshot.checklist_of(&context);
    let ladder = snapshot.ladder(&child, &context, &standings);
    let page = Page {
        checklist: &checklist,
        instrument: child.playing.now,
        standings: &standings,
        ladder: &ladder,
        context: &decided,
    };
    let pupil = Pupil {
        checklist: &checklist,
        causes: &app.content.causes,
        instrument: child.playing.now,
        context: &context.context,
        standings: &standings,
        ladder: &ladder,
    };
    Ok(Json(ChildPage {
        next: next(&app.content.approach, &member.class.choices, &pupil, &page),
        accommodations: decided.accommodation_views(&checklist),
        overrides: override_views(&app, &member.class, child.playing.now, &context),
        pain: decided.pain_views(&checklist),
        history: read_history(&app, &member, child.id, None).await?,
        tapes: tapes(&ladder, &context),
        ladders: Strand::ALL.map(|strand| page.ladder(strand)).into(),
        role: member.class.role,
        child: RoomChild::new(&snapshot, child, &standings, &ladder),
    }))
}

fn next(approach: &Approach, choices: &Choices, pupil: &Pupil<'_>, page: &Page<'_>) -> Vec<NextView> {
    let items = pupil.next(Order::of(approach, choices), approach.next_at_once(choices));
    items.iter().map(|item| NextView::new(item, page)).collect()
}

/// Everything that a child's page is made from.
pub(crate) struct Page<'a> {
    pub(crate) checklist: &'a Checklist,
    pub(crate) instrument: Instrument,
    pub(crate) standings: &'a BTreeMap<CheckpointId, Standing>,
    pub(crate) ladder: &'a Ladder,
    pub(crate) context: &'a ContextOfChild,
}

impl Page<'_> {
    fn ladder(&self, strand: Strand) -> LadderView {
        let views = self.checklist.stages().iter().zip(&self.ladder.stages).filter(|(stage, _)| stage.strand == strand);
        LadderView {
            strand,
            name: self.checklist.strand_name(strand).to_owned(),
            stages: views.map(|(stage, view)| self.stage(stage, view)).collect(),
        }
    }

    fn stage(&self, stage: &Stage, view: &StageView) -> StageOfChild {
        let (state, waits_for) = match &view.state {
            StageState::Shut(needs) => {
                (StageStateView::Shut, needs.iter().map(|need| need_name(self.checklist, need)).collect())
            }
            StageState::Open => (StageStateView::Open, Vec::new()),
            StageState::Reached => (StageStateView::Reached, Vec::new()),
            StageState::Settled => (StageStateView::Settled, Vec::new()),
        };
        StageOfChild {
            id: stage.id.to_string(),
            number: stage.number,
            name: stage.name.clone(),
            state,
            seconds: stage.seconds,
            waits_for,
            opened: self.context.opened(&stage.id).filter(|_| view.opened),
            recheck: view.recheck,
            checkpoints: self.checklist.checkpoints_of(&stage.id).filter_map(|c| self.checkpoint(c)).collect(),
        }
    }

    /// What is looked for in this child: its own where it has one.
    pub(crate) fn look_for(&self, checkpoint: &Checkpoint) -> Option<String> {
        let wording = checkpoint.wording.get(&self.instrument)?;
        let own = self.context.accommodation(&checkpoint.id).map(|own| own.look_for.clone());
        Some(own.filter(|own| !own.is_empty()).unwrap_or_else(|| wording.look_for.clone()))
    }

    fn checkpoint(&self, checkpoint: &Checkpoint) -> Option<CheckpointOfChild> {
        let wording = checkpoint.wording.get(&self.instrument)?;
        let slips = self
            .checklist
            .slips()
            .iter()
            .filter(|slip| slip.checkpoint == checkpoint.id && slip.instruments.contains(&self.instrument))
            .map(|slip| SlipView {
                id: slip.id.to_string(),
                name: slip.name.clone(),
                look: slip.look.clone(),
                help: slip.help.clone(),
            });
        let standing = self.standings.get(&checkpoint.id).map(|standing| StandingView {
            level: standing.level.number(),
            looked_at: standing.looked_at,
            recheck: self.ladder.rechecks.get(&checkpoint.id).copied(),
            slipped: standing.slipped,
            slips: standing.slips.iter().map(ToString::to_string).collect(),
            says: standing.says,
        });
        let own = self.context.accommodation(&checkpoint.id);
        Some(CheckpointOfChild {
            id: checkpoint.id.to_string(),
            name: checkpoint.name.clone(),
            required: checkpoint.required,
            look_for: self.look_for(checkpoint)?,
            accommodated: own.map(|own| own.reason.clone()),
            applies: own.is_none_or(|own| !own.look_for.is_empty()),
            proof: wording.proof.clone(),
            cue: wording.cue.clone(),
            slips: slips.collect(),
            standing,
        })
    }
}
