//! The answer to what is heard or seen of a child: symptoms to pick, and causes with what speaks for them.

use bright_row_core::craft::cause_ranking::RankedCause;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::SymptomId;
use bright_row_core::craft::symptoms::{Answer, ByEar, Fact, Sense, Side, Split, Symptom};
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::state::App;

/// A symptom that can be picked.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SymptomView {
    id: String,
    name: String,
    how: Sense,
    /// What splits it, each with its two answers: one more tap, never a must.
    asks: Vec<Split>,
    /// What the microphone hears where it may be so.
    by_ear: Vec<ByEar>,
    /// It hurts there at first and passes by itself; anything else that hurts stops the playing.
    normal: bool,
}

/// A cause, with what speaks for it.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct CauseView {
    id: String,
    name: String,
    side: Side,
    score: i32,
    /// The symptoms that speak for it, the strongest first.
    symptoms: Vec<String>,
    /// What else speaks for it.
    because: Vec<Because>,
    /// What speaks against it.
    against: Vec<Fact>,
    /// The causes below it that often come from it: it stands here because of them.
    leads_to: Vec<String>,
    /// The first help.
    help: String,
    /// Where recording it counts.
    checkpoint: Option<CauseCheckpoint>,
    /// The slip that it is.
    slip: Option<String>,
}

/// What speaks for a cause beside the symptoms.
#[derive(Serialize, ToSchema)]
#[serde(untagged)]
pub enum Because {
    /// Something of the child.
    Child(ChildSign),
    /// Something of the instrument or its markers.
    Instrument(Fact),
    /// What was answered to a split.
    Answer(Answer),
}

/// What a child shows or says.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum ChildSign {
    /// The slip was ticked lately.
    TickedLately,
    /// The child says of this hand that it is tight or hurts.
    SaysTight,
}

/// Where recording a cause counts.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct CauseCheckpoint {
    pub(super) id: String,
    pub(super) name: String,
    /// The child's present level there; absent while nobody has looked.
    pub(super) level: Option<u8>,
}

/// Symptoms to pick from, and the causes of those picked.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct CausesView {
    /// The symptoms known on the child's instrument.
    pub(super) symptoms: Vec<SymptomView>,
    /// Best first.
    pub(super) causes: Vec<CauseView>,
}

pub(super) fn symptom_view(symptom: &Symptom) -> SymptomView {
    SymptomView {
        id: symptom.id.0.clone(),
        name: symptom.name.clone(),
        how: symptom.how,
        asks: symptom.asks.iter().copied().collect(),
        by_ear: symptom.by_ear.iter().copied().collect(),
        normal: symptom.normal,
    }
}

pub(super) fn cause_view(
    app: &App,
    checklist: &Checklist,
    ranked: &RankedCause<'_>,
    checkpoint: Option<CauseCheckpoint>,
) -> CauseView {
    let (called, help) = ranked.cause.words(checklist);
    let name = |id: &SymptomId| {
        app.content.symptoms.symptom(&id.0).map_or_else(|| id.0.clone(), |symptom| symptom.name.clone())
    };
    let ticked = ranked.ticked.then_some(ChildSign::TickedLately);
    let said = ranked.said.then_some(ChildSign::SaysTight);
    let child = ticked.into_iter().chain(said).map(Because::Child);
    let answers = ranked.answers.iter().copied().map(Because::Answer);
    let because = answers.chain(child).chain(ranked.facts.iter().copied().map(Because::Instrument));
    CauseView {
        id: ranked.cause.id.clone(),
        name: called.to_owned(),
        side: ranked.cause.side,
        score: ranked.score,
        symptoms: ranked.symptoms.iter().map(name).collect(),
        because: because.collect(),
        against: ranked.against.clone(),
        leads_to: ranked.leads_to.iter().map(|name| (*name).to_owned()).collect(),
        help: help.to_owned(),
        checkpoint,
        slip: ranked.cause.slip.as_ref().map(ToString::to_string),
    }
}
