//! From symptom to cause: what the director hears or sees of one child, and what it may come from.

use std::collections::BTreeSet;

use axum::Json;
use axum::extract::State;
use bright_row_core::ChildId;
use bright_row_core::craft::id::CheckpointId;
use bright_row_core::craft::id::SymptomId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::symptoms::{CauseQuery, Fact, RECENT_MEETINGS, RankedCause, Sense, Side, Symptom};
use bright_row_core::progress::ladder::{Ladder, StageState};
use bright_row_core::progress::observation::Says;
use bright_row_core::setup::matching::Condition;
use bright_row_core::setup::sizing;
use bright_row_core::tapes::status::TapeTrouble;
use bright_row_store::observations::history::{self, Lately};
use bright_row_store::instruments::assets;
use bright_row_store::children::{stored_context, measures};
use bright_row_store::observations::standings;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};

use crate::routes::child::page::target_name;
use crate::extract::Query;
use crate::error::{ApiError, FieldError, ForMembersAsking};
use crate::use_cases::snapshot::ClassSnapshot;
use crate::state::App;
use crate::auth::guard::{Member, MemberOfChild};

/// What is picked.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct CausesQuery {
    /// Symptoms with a comma between them: `buzz,thud`.
    #[serde(default)]
    symptoms: String,
    /// What was seen on the instrument, with a comma between: `bridge-moved`, `strings-high`.
    #[serde(default)]
    facts: String,
}

/// Whether a symptom is heard or seen.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum HowView {
    /// Heard.
    Hear,
    /// Seen.
    See,
}

/// A symptom that can be picked.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SymptomView {
    id: String,
    name: String,
    how: HowView,
}

/// Where a cause lies.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum CauseSide {
    /// In the instrument, the bow or the set-up.
    Instrument,
    /// In how it is held or played.
    Child,
}

/// A cause, with what speaks for it.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct CauseView {
    id: String,
    name: String,
    side: CauseSide,
    score: u32,
    /// The symptoms that speak for it, the strongest first.
    symptoms: Vec<String>,
    /// What else speaks for it, in words.
    because: Vec<String>,
    /// The first help.
    help: String,
    /// Where marking it counts.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    checkpoint: Option<CauseCheckpoint>,
    /// The slip that it is.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    slip: Option<String>,
}

/// Where marking a cause counts.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct CauseCheckpoint {
    id: String,
    name: String,
    /// The child's present level there; absent while nobody has looked.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    level: Option<u8>,
}

/// Symptoms to pick from, and the causes of those picked.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct CausesView {
    /// The symptoms known on the child's instrument.
    symptoms: Vec<SymptomView>,
    /// Best first.
    causes: Vec<CauseView>,
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
    found: MemberOfChild,
    Query(query): Query<CausesQuery>,
) -> Result<Json<CausesView>, ApiError> {
    let MemberOfChild { member, child } = found;
    let key = member.class.key;
    let instrument = child.playing.now;
    let (symptoms, mut facts) = picked(&app, &query)?;
    let snapshot = ClassSnapshot::new(&app, &member.class);
    let (standings, known, lately) = tokio::try_join!(
        standings::of_child(&app.db, key, child.id),
        known::of_child(&app.db, key, child.id),
        seen::lately(&app.db, key, child.id, recently(&snapshot))
    )?;
    let known = snapshot.told(&child, known);
    let checklist = snapshot.checklist_of(&known);
    let ladder = snapshot.ladder(&child, &known, &standings);
    facts.extend(facts_of_tapes(&ladder));
    facts.extend(facts_of_instrument(&app, &member, child.id, instrument).await?);
    let shut = ladder.stages.iter().filter(|view| matches!(view.state, StageState::Shut(_)));
    let shut = shut.flat_map(|view| checklist.checkpoints_of(&view.stage)).map(|checkpoint| checkpoint.id.clone());
    let shut: BTreeSet<CheckpointId> = shut.collect();
    // What is switched off or left out is not asked of this child either.
    let asked = |id: &CheckpointId| {
        checklist.checkpoint(id.as_str()).is_some_and(|checkpoint| checkpoint.wording.contains_key(&instrument))
    };
    let unasked = checklist.checkpoints().iter().map(|c| &c.id).filter(|id| !asked(id)).cloned();
    let exempt: BTreeSet<CheckpointId> = known.context.exempt.iter().cloned().chain(unasked).collect();
    let ask = CauseQuery {
        instrument,
        symptoms: &symptoms,
        recent_slips: &lately.slips,
        tight: tight(&lately),
        facts: &facts,
        shut: &shut,
        exempt: &exempt,
    };
    let cause = |ranked: RankedCause<'_>| {
        let checkpoint = ranked.cause.checkpoint.as_ref().map(|id| CauseCheckpoint {
            id: id.to_string(),
            name: target_name(&checklist, id.as_str()),
            level: standings.get(id).map(|standing| standing.level.number()),
        });
        cause_view(&app, &ranked, checkpoint)
    };
    let known_symptoms = app.content.symptoms.symptoms.iter().filter(|symptom| symptom.instruments.contains(&instrument));
    Ok(Json(CausesView {
        symptoms: known_symptoms.map(symptom_view).collect(),
        causes: app.content.symptoms.rank(&ask).into_iter().map(cause).collect(),
    }))
}

fn picked(app: &App, query: &CausesQuery) -> Result<(BTreeSet<SymptomId>, BTreeSet<Fact>), ApiError> {
    let words = |text: &str| -> Vec<String> {
        text.split(',').map(str::trim).filter(|word| !word.is_empty()).map(str::to_owned).collect()
    };
    let unknown = |field, word: &String| {
        ApiError::Invalid(vec![FieldError::new(field, format!("`{word}` is not known. Load the page again."))])
    };
    let (symptoms, facts) = (words(&query.symptoms), words(&query.facts));
    if let Some(word) = symptoms.iter().find(|word| app.content.symptoms.symptom(word).is_none()) {
        return Err(unknown("symptoms", word));
    }
    if let Some(word) = facts.iter().find(|word| Fact::parse(word).is_none()) {
        return Err(unknown("facts", word));
    }
    Ok((symptoms.into_iter().map(SymptomId).collect(), facts.iter().filter_map(|word| Fact::parse(word)).collect()))
}

/// The beginning of the meetings that count as recent.
fn recently(snapshot: &ClassSnapshot<'_>) -> DateTime<Utc> {
    let calendar = &snapshot.class.calendar;
    let first = calendar.date_of(snapshot.now.saturating_sub(RECENT_MEETINGS - 1).max(1));
    first.map_or(DateTime::UNIX_EPOCH, |day| calendar.begins(day))
}

fn tight(lately: &Lately) -> bool {
    matches!(lately.says, Some(Says::Tight | Says::Hurts))
}

fn facts_of_tapes(ladder: &Ladder) -> impl Iterator<Item = Fact> + use<> {
    let trouble = ladder.tapes.trouble.map(|trouble| match trouble {
        TapeTrouble::Drifted => Fact::Drifted,
        TapeTrouble::LooseOrMissing => Fact::Missing,
        TapeTrouble::WrongInstrument => Fact::WrongInstrument,
    });
    let due = ladder.tapes.recheck.filter(|recheck| recheck.is_due()).map(|_| Fact::RecheckDue);
    trouble.into_iter().chain(due)
}

/// What the inventory and the child's measures say of the instrument it has.
async fn facts_of_instrument(
    app: &App,
    member: &Member,
    child: ChildId,
    instrument: Instrument,
) -> Result<Vec<Fact>, ApiError> {
    let key = member.class.key;
    let lent = assets::lent(&app.db, key.program).await?;
    let all = assets::all(&app.db, key.program).await?;
    let has = |asset: &&assets::Asset| lent.get(&asset.id).is_some_and(|loan| loan.child == child);
    let Some(asset) = all.iter().find(has).filter(|asset| asset.instrument == instrument) else {
        return Ok(Vec::new());
    };
    let measured = measures::of_class(&app.db, key).await?.remove(&child).unwrap_or_default();
    let facts = &app.content.instruments[&instrument];
    let place = |size: &str| facts.sizes.iter().position(|known| known.name == size);
    let proposal = fit::propose(facts, &measured.measures).ok();
    let proposed = proposal.filter(|found| !found.between).and_then(|found| place(&found.proposed?));
    // Sizes stand largest first.
    let too_big = place(&asset.size).zip(proposed).is_some_and(|(has, proposed)| has < proposed);
    let mut found = Vec::new();
    if too_big {
        found.push(Fact::TooBig);
    }
    if asset.condition != Condition::Good {
        found.push(Fact::NeedsRepair);
    }
    Ok(found)
}

fn symptom_view(symptom: &Symptom) -> SymptomView {
    let how = match symptom.how {
        Sense::Hear => HowView::Hear,
        Sense::See => HowView::See,
    };
    SymptomView { id: symptom.id.0.clone(), name: symptom.name.clone(), how }
}

fn cause_view(app: &App, ranked: &RankedCause<'_>, checkpoint: Option<CauseCheckpoint>) -> CauseView {
    let name = |id: &SymptomId| app.content.symptoms.symptom(&id.0).map_or_else(|| id.0.clone(), |symptom| symptom.name.clone());
    let ticked = ranked.ticked.then(|| "ticked lately".to_owned());
    let tight = ranked.tight.then(|| "the child says tight".to_owned());
    let because = ticked.into_iter().chain(tight).chain(ranked.facts.iter().map(|fact| fact_words(*fact).to_owned()));
    CauseView {
        id: ranked.cause.id.clone(),
        name: ranked.cause.name.clone(),
        side: match ranked.cause.side {
            Side::Instrument => CauseSide::Instrument,
            Side::Child => CauseSide::Child,
        },
        score: ranked.score,
        symptoms: ranked.symptoms.iter().map(name).collect(),
        because: because.collect(),
        help: ranked.cause.help.clone(),
        checkpoint,
        slip: ranked.cause.slip.as_ref().map(ToString::to_string),
    }
}

fn fact_words(fact: Fact) -> &'static str {
    match fact {
        Fact::RecheckDue => "observations due for a recheck",
        Fact::Drifted => "observations drifted",
        Fact::Missing => "an observation came off",
        Fact::WrongInstrument => "observations of another instrument",
        Fact::TooBig => "larger than the measures propose",
        Fact::NeedsRepair => "the inventory says: look after it",
        Fact::BridgeMoved => "the bridge leans or has moved",
        Fact::StringsHigh => "strings far from the board",
    }
}
