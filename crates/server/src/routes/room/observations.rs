//! ChosenOption observations in: up to 500 at once, each answered, the good ones kept.

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::Target;
use bright_row_core::craft::id::{CheckpointId, SlipId};
use bright_row_core::craft::level::Level;
use bright_row_core::craft::strand::Strand;
use bright_row_core::progress::observation::{Observation, Observed, Says, Via};
use bright_row_core::{AccountId, ObservationId};
use bright_row_store::observations::{self, Outcome, Refusal};
use chrono::{DateTime, Duration, Utc};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::extract::Body;
use crate::error::{ApiError, FieldError, ForMembersAsking};
use crate::routes::views::SaysView;
use crate::state::App;
use crate::auth::guard::Member;

/// The most observations one request carries.
const MOST: usize = 500;
/// The longest note, in characters.
const LONGEST_NOTE: usize = 500;
/// How far a device's clock may run ahead.
pub(super) const AHEAD: Duration = Duration::hours(24);

/// Observations to take in.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Batch {
    /// Up to 500. Read one by one, so that one that cannot be read does not hold up the others.
    #[schema(value_type = Vec<NewObservation>)]
    observations: Vec<serde_json::Value>,
}

/// How a look happened.
#[derive(Clone, Copy, Debug, Default, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum ViaBody {
    /// At the child's chair.
    #[default]
    Visit,
    /// A whole row at once.
    Scan,
    /// From the tape log.
    TapeLog,
}

/// One thing seen: a checkpoint with a level, a stage without one ("still there"), or with `retracts` an undo.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct NewObservation {
    /// A `UUIDv7` made by the device; the same id twice is one observation.
    id: Uuid,
    child: Uuid,
    /// A checkpoint (`hold.tall`) or a stage (`hold.3`).
    target: String,
    /// 0 to 4 for a checkpoint; 0 or 3 for one of the tapes.
    #[serde(default)]
    level: Option<u8>,
    /// Slips ticked on this checkpoint.
    #[serde(default)]
    slips: Vec<String>,
    /// For a stage: the checkpoints it does not vouch for.
    #[serde(default)]
    except: Vec<String>,
    #[serde(default)]
    says: Option<SaysView>,
    /// At most 500 characters.
    #[serde(default)]
    note: Option<String>,
    #[serde(default)]
    via: ViaBody,
    observed_at: DateTime<Utc>,
    #[serde(default)]
    round: Option<Uuid>,
    /// The observation of the same child and target that this one takes back.
    #[serde(default)]
    retracts: Option<Uuid>,
}

/// What became of a batch.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RecordAnswer {
    /// One for each observation, in order.
    results: Vec<RecordResult>,
}

/// What became of an observation.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RecordResult {
    /// The observation's id; absent when it could not be read.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    id: Option<Uuid>,
    outcome: OutcomeView,
    /// Why it was refused and what to do.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    reason: Option<String>,
}

impl RecordResult {
    pub(super) fn new(id: Option<Uuid>, outcome: OutcomeView, reason: Option<String>) -> Self {
        Self { id, outcome, reason }
    }
}

/// Stored now, known already, or refused.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum OutcomeView {
    /// Added.
    Stored,
    /// Was there already.
    StoredContext,
    /// Not added; sending it again will not help.
    Refused,
}

/// Takes observations in. Directors and assistants alike.
#[utoipa::path(post, path = "/api/classes/{class}/observations", tag = "observations",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = Batch,
    responses(
        (status = 200, body = RecordAnswer),
        ForMembersAsking,
    ))]
pub async fn add_observations(
    State(app): State<App>,
    member: Member,
    Body(batch): Body<Batch>,
) -> Result<Json<RecordAnswer>, ApiError> {
    if batch.observations.len() > MOST {
        let most = format!("At most {MOST} observations at once; send the rest in another request.");
        return Err(ApiError::Invalid(vec![FieldError::new("observations", most)]));
    }
    let checklist = &app.checklist(&member.class);
    let taken = Taken { checklist, observer: member.account, now: app.now() };
    let read: Vec<Result<Observation, (Option<Uuid>, String)>> =
        batch.observations.into_iter().map(|observation| taken.read(observation)).collect();
    let good: Vec<Observation> = read.iter().filter_map(|observation| observation.as_ref().ok().cloned()).collect();
    let outcomes =
        if good.is_empty() { Vec::new() } else { observations::add(&app.db, &member.class, checklist, &good).await? };
    if outcomes.contains(&Outcome::Stored) {
        app.live.changed(member.class.key.class);
    }
    let mut outcomes = outcomes.into_iter();
    let answer = |read: Result<Observation, (Option<Uuid>, String)>| match read {
        Ok(observation) => answer(observation.id, outcomes.next().unwrap_or(Outcome::StoredContext)),
        Err((id, reason)) => RecordResult { id, outcome: OutcomeView::Refused, reason: Some(reason) },
    };
    Ok(Json(RecordAnswer { results: read.into_iter().map(answer).collect() }))
}

fn answer(id: ObservationId, outcome: Outcome) -> RecordResult {
    let (outcome, reason) = match outcome {
        Outcome::Stored => (OutcomeView::Stored, None),
        Outcome::StoredContext => (OutcomeView::StoredContext, None),
        Outcome::Refused(refusal) => (OutcomeView::Refused, Some(words(refusal).to_owned())),
    };
    RecordResult { id: Some(id.uuid()), outcome, reason }
}

fn words(refusal: Refusal) -> &'static str {
    match refusal {
        Refusal::NotInClass => "This child is not in this class any more. Look at the room again.",
        Refusal::IdTaken => "Another observation has this id already. Record it again.",
        Refusal::RetractsOther => {
            "This undo names an observation of another child or checkpoint. Undo from the history instead."
        }
        Refusal::RetractsUndo => "An undo cannot be undone. Record it again instead.",
    }
}

/// What every observation of a batch shares.
struct Taken<'a> {
    checklist: &'a Checklist,
    observer: AccountId,
    now: DateTime<Utc>,
}

impl Taken<'_> {
    /// An observation as the rules know it, or its id as far as that could be read, with what is wrong.
    fn read(&self, value: serde_json::Value) -> Result<Observation, (Option<Uuid>, String)> {
        let id = value.get("id").and_then(|id| id.as_str()).and_then(|id| id.parse().ok());
        let new: NewObservation =
            serde_json::from_value(value).map_err(|error| (id, format!("The observation cannot be read: {error}.")))?;
        self.check(&new).map_err(|reason| (id, reason))
    }

    fn check(&self, new: &NewObservation) -> Result<Observation, String> {
        let target = self.checklist.target(&new.target);
        let target = target.ok_or_else(|| format!("The checklist has no `{}`. Load the page again.", new.target))?;
        let seen = self.seen(new, &target)?;
        let note = new.note.as_deref().map(str::trim).filter(|note| !note.is_empty()).map(str::to_owned);
        if note.as_ref().is_some_and(|note| note.chars().count() > LONGEST_NOTE) {
            return Err(format!("The note is longer than {LONGEST_NOTE} characters. Shorten it."));
        }
        if note.as_ref().is_some_and(|note| note.contains('\0')) {
            return Err("The note holds a character that cannot be kept. Type it again.".to_owned());
        }
        if new.observed_at > self.now + AHEAD {
            return Err("This look lies in the future. Set the device's clock.".to_owned());
        }
        Ok(Observation {
            id: new.id.into(),
            child: new.child.into(),
            target,
            seen,
            says: new.says.map(Says::from),
            note,
            via: match new.via {
                ViaBody::Visit => Via::Visit,
                ViaBody::Scan => Via::Scan,
                ViaBody::TapeLog => Via::TapeLog,
            },
            observed_at: new.observed_at,
            recorded_at: self.now,
            observer: self.observer,
            round: new.round.map(Into::into),
        })
    }

    fn seen(&self, new: &NewObservation, target: &Target) -> Result<Observed, String> {
        if let Some(retracts) = new.retracts {
            return if new.level.is_none() && new.slips.is_empty() && new.except.is_empty() {
                Ok(Observed::Retracts(retracts.into()))
            } else {
                Err("An undo carries no level, slips or exceptions.".to_owned())
            };
        }
        match target {
            Target::Checkpoint(id) => {
                if !new.except.is_empty() {
                    return Err("Only a look at a whole stage has exceptions.".to_owned());
                }
                let level = new.level.ok_or("A look at a checkpoint has a level, 0 to 4.")?;
                let level = Level::try_from(level).map_err(|error| format!("The {error}."))?;
                self.check_tape_level(id, level)?;
                Ok(Observed::Level { level, slips: self.slips(new, id)? })
            }
            Target::Stage(_) if new.level.is_some() || !new.slips.is_empty() => {
                Err("A look at a whole stage has neither level nor slips; record the checkpoint itself.".to_owned())
            }
            Target::Stage(stage) => {
                let known = |id: &String| self.checklist.checkpoint(id).is_some_and(|other| other.stage == *stage);
                match new.except.iter().find(|id| !known(id)) {
                    Some(id) => Err(format!("`{id}` is not part of that stage.")),
                    None => Ok(Observed::Holds { except: new.except.iter().map(CheckpointId::new).collect() }),
                }
            }
        }
    }

    /// Tapes are there or they are not: they have no levels in between.
    fn check_tape_level(&self, id: &CheckpointId, level: Level) -> Result<(), String> {
        let checkpoint = self.checklist.checkpoint(id.as_str());
        let is_tape = checkpoint.is_some_and(|checkpoint| self.checklist.strand_of(checkpoint) == Strand::Tape);
        if is_tape && !matches!(level, Level::NotYet | Level::Alone) {
            return Err("A look at the tapes is 0 (not there) or 3 (there).".to_owned());
        }
        Ok(())
    }

    fn slips(&self, new: &NewObservation, id: &CheckpointId) -> Result<std::collections::BTreeSet<SlipId>, String> {
        let known = |slip: &String| self.checklist.slip(slip).is_some_and(|known| known.checkpoint == *id);
        match new.slips.iter().find(|slip| !known(slip)) {
            Some(slip) => Err(format!("The slip `{slip}` is not one of `{id}`.")),
            None => Ok(new.slips.iter().map(SlipId::new).collect()),
        }
    }
}
