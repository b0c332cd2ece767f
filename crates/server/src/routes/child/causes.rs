//! From symptom to cause: what the director hears or sees of one child, and what it may come from.

use bright_row_store::instruments::loans;
use std::collections::BTreeSet;

use axum::Json;
use axum::extract::State;
use bright_row_core::ChildId;
use bright_row_core::craft::cause_ranking::{CauseQuery, RankedCause};
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::{CheckpointId, SymptomId};
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::strand::Strand;
use bright_row_core::craft::symptoms::{Answer, Fact, RECENT_MEETINGS};
use bright_row_core::progress::ladder::{Ladder, StageState};
use bright_row_core::progress::observation::Says;
use bright_row_core::setup::matching::Condition;
use bright_row_store::children::{measures, stored_context};
use bright_row_store::instruments::assets;
use bright_row_store::observations::history::{self, Lately};
use bright_row_store::observations::standings;
use chrono::{DateTime, Utc};
use serde::Deserialize;
use utoipa::IntoParams;

use super::cause_views::{CauseCheckpoint, CausesView, SymptomView, cause_view, symptom_view};
use crate::auth::guard::{ChildInClass, Member};
use crate::error::answers::ForMembersAsking;
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::state::App;
use crate::use_cases::snapshot::ClassSnapshot;
use bright_row_core::progress::facts::{BOW_CARE, fact_of_bow, facts_of_instrument, facts_of_tapes};
use bright_row_core::setup::sizing::compared;

/// What is picked.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct CausesQuery {
    /// Symptoms with a comma between them: `buzz,thud`.
    #[serde(default)]
    symptoms: String,
    /// What was answered to what splits them, with a comma between: `stopped`, `one-string`.
    #[serde(default)]
    answers: String,
    /// What was seen on the instrument, with a comma between: `bridge-moved`, `bridge-as-recorded`, `strings-high`.
    #[serde(default)]
    facts: String,
}

/// Ranks what the picked symptoms may come from, for one child. Nothing is stored.
#[utoipa::path(get, path = "/api/classes/{class}/children/{child}/causes", tag = "room",
    params(
        ("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"),
        CausesQuery,
    ),
    responses(
        (status = 200, body = CausesView),
        ForMembersAsking,
    ))]
pub async fn causes(
    State(app): State<App>,
    found: ChildInClass,
    Query(query): Query<CausesQuery>,
) -> Result<Json<CausesView>, ApiError> {
    let ChildInClass { member, child } = found;
    let key = member.class.key;
    let instrument = child.playing.now;
    let Picked { symptoms, answers, mut facts } = picked(&app, &query)?;
    let snapshot = ClassSnapshot::new(&app, &member.class);
    let (standings, context, lately) = tokio::try_join!(
        standings::of_child(&app.db, key, child.id),
        stored_context::of_child(&app.db, key, child.id),
        history::lately(&app.db, key, child.id, recently(&snapshot))
    )?;
    let context = snapshot.assess(&child, context);
    let checklist = snapshot.checklist_of(&context);
    let ladder = snapshot.ladder(&child, &context, &standings);
    facts.extend(facts_of_tapes(ladder.tapes));
    facts.extend(fact_of_bow(standings.get(&CheckpointId::new(BOW_CARE)), recently(&snapshot)));
    facts.extend(instrument_facts(&app, &member, child.id, instrument).await?);
    let shut = shut(&ladder, &checklist);
    // What is switched off or left out is not asked of this child either.
    let exempt = context.context.exempt.iter().cloned().chain(unasked(&checklist, instrument)).collect();
    let ask = CauseQuery {
        instrument,
        symptoms: &symptoms,
        answers: &answers,
        recent_slips: &lately.slips,
        said: &said(&lately, &checklist),
        facts: &facts,
        shut: &shut,
        exempt: &exempt,
    };
    let cause = |ranked: RankedCause<'_>| {
        let checkpoint = ranked.cause.checkpoint.as_ref().map(|id| CauseCheckpoint {
            id: id.to_string(),
            name: checklist.target_name(id.as_str()),
            level: standings.get(id).map(|standing| standing.level.number()),
        });
        cause_view(&app, &checklist, &ranked, checkpoint)
    };
    Ok(Json(CausesView {
        symptoms: known_symptoms(&app, instrument),
        causes: app.content.symptoms.rank(&app.content.causes, &ask).into_iter().map(cause).collect(),
    }))
}

/// The checkpoints of stages that are not open yet.
fn shut(ladder: &Ladder, checklist: &Checklist) -> BTreeSet<CheckpointId> {
    let stages = ladder.stages.iter().filter(|view| matches!(view.state, StageState::Shut(_)));
    stages.flat_map(|view| checklist.checkpoints_of(&view.stage)).map(|checkpoint| checkpoint.id.clone()).collect()
}

/// The checkpoints that are not asked for on an instrument.
fn unasked(checklist: &Checklist, instrument: Instrument) -> impl Iterator<Item = CheckpointId> {
    let unasked = checklist.checkpoints().iter().filter(move |one| !one.wording.contains_key(&instrument));
    unasked.map(|checkpoint| checkpoint.id.clone())
}

fn known_symptoms(app: &App, instrument: Instrument) -> Vec<SymptomView> {
    let known = app.content.symptoms.symptoms.iter().filter(|symptom| symptom.instruments.contains(&instrument));
    known.map(symptom_view).collect()
}

/// What somebody picked, known word by word.
struct Picked {
    symptoms: BTreeSet<SymptomId>,
    answers: BTreeSet<Answer>,
    facts: BTreeSet<Fact>,
}

fn picked(app: &App, query: &CausesQuery) -> Result<Picked, ApiError> {
    let symptom = |word: &str| app.content.symptoms.symptom(word).map(|symptom| symptom.id.clone());
    Ok(Picked {
        symptoms: words("symptoms", &query.symptoms, symptom)?,
        answers: words("answers", &query.answers, Answer::parse)?,
        facts: words("facts", &query.facts, Fact::parse)?,
    })
}

fn words<T: Ord>(field: &str, text: &str, known: impl Fn(&str) -> Option<T>) -> Result<BTreeSet<T>, ApiError> {
    let word = |word: &str| {
        let unknown = || FieldError::new(field, format!("`{word}` is not known. Load the page again."));
        known(word).ok_or_else(|| ApiError::Invalid(vec![unknown()]))
    };
    text.split(',').map(str::trim).filter(|word| !word.is_empty()).map(word).collect()
}

/// The beginning of the meetings that count as recent.
fn recently(snapshot: &ClassSnapshot<'_>) -> DateTime<Utc> {
    let calendar = &snapshot.class.calendar;
    let first = calendar.date_of(snapshot.now.saturating_sub(RECENT_MEETINGS - 1).max(1));
    first.map_or(DateTime::UNIX_EPOCH, |day| calendar.begins(day))
}

/// The strands at whose checkpoints, or stages, the child said that it is tight or hurts when it was last asked there.
fn said(lately: &Lately, checklist: &Checklist) -> BTreeSet<Strand> {
    let said = lately.says.iter().filter(|(_, says)| matches!(says, Says::Tight | Says::Hurts));
    said.filter_map(|(target, _)| checklist.strand_of_target(target)).collect()
}

/// What the inventory and the child's measures say of the instrument it has.
async fn instrument_facts(
    app: &App,
    member: &Member,
    child: ChildId,
    instrument: Instrument,
) -> Result<Vec<Fact>, ApiError> {
    let key = member.class.key;
    let Some(loan) = loans::of_child(&app.db, key.program, child).await? else { return Ok(Vec::new()) };
    let asset = assets::one(&app.db, key.program, loan.asset).await?;
    let Some(asset) = asset.filter(|asset| asset.instrument == instrument) else { return Ok(Vec::new()) };
    let measured = measures::of_child(&app.db, key, child).await?;
    let facts = &app.content.instruments[&instrument];
    let size = compared(facts, &asset.size, &measured.measures);
    let high = asset.string_height_mm.is_some_and(|mm| facts.has_high_strings(mm));
    Ok(facts_of_instrument(size, asset.condition == Condition::Repair, high).collect())
}
