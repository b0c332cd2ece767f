//! An observation on its way in: what of it can be, against the checklist of its class.

use std::collections::BTreeSet;

use chrono::{DateTime, Duration, Utc};
use serde::{Deserialize, Serialize};

use crate::craft::checklist::Checklist;
use crate::craft::id::{CheckpointId, SlipId, Target};
use crate::craft::level::{Level, NoSuchLevel};
use crate::craft::strand::Strand;
use crate::progress::observation::{Observation, Observed, Says, Via};
use crate::{AccountId, ChildId, ObservationId, RoundId};

/// The longest note, in characters.
pub const MAX_NOTE_LENGTH: usize = 500;
/// How far a device's clock may run ahead.
pub const MAX_CLOCK_AHEAD: Duration = Duration::hours(24);

/// One thing seen: a checkpoint with a level, a stage without one ("still there"), or with `retracts` an undo.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct NewObservation {
    /// A `UUIDv7` made by the device; the same id twice is one observation.
    pub id: ObservationId,
    /// Whom.
    pub child: ChildId,
    /// A checkpoint (`hold.tall`) or a stage (`hold.3`).
    pub target: String,
    /// 0 to 4 for a checkpoint; 0 or 3 for one of the tapes.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub level: Option<u8>,
    /// Slips ticked on this checkpoint.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub slips: Vec<String>,
    /// For a stage: the checkpoints it does not vouch for.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub except: Vec<String>,
    /// What the child said, if it was asked.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub says: Option<Says>,
    /// At most 500 characters.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
    /// How the look happened; a visit by default.
    #[serde(default = "visit", skip_serializing_if = "is_visit")]
    pub via: Via,
    /// When, by the device's clock.
    #[serde(deserialize_with = "crate::day::moment")]
    pub observed_at: DateTime<Utc>,
    /// In which round, if in one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub round: Option<RoundId>,
    /// The observation of the same child and target that this one takes back.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub retracts: Option<ObservationId>,
}

fn visit() -> Via {
    Via::Visit
}

// Serde calls it with a reference.
#[allow(clippy::trivially_copy_pass_by_ref)]
fn is_visit(via: &Via) -> bool {
    *via == Via::Visit
}

/// Why an observation cannot be, and what to do.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ObservationFault {
    /// The checklist has no such checkpoint or stage.
    #[error("The checklist has no `{0}`. Load the page again.")]
    Target(String),
    /// The note is too long.
    #[error("The note is longer than {MAX_NOTE_LENGTH} characters. Shorten it.")]
    LongNote,
    /// The note holds NUL, which PostgreSQL does not keep.
    #[error("The note holds a character that cannot be kept. Type it again.")]
    UnstorableNote,
    /// It lies in the future.
    #[error("This look lies in the future. Set the device's clock.")]
    Future,
    /// An undo with something else in it.
    #[error("An undo carries no level, slips or exceptions.")]
    UndoWithMore,
    /// A checkpoint with exceptions.
    #[error("Only a look at a whole stage has exceptions.")]
    CheckpointWithExceptions,
    /// A checkpoint without a level.
    #[error("A look at a checkpoint has a level, 0 to 4.")]
    NoLevel,
    /// A level outside 0 to 4.
    #[error("The {0}.")]
    Level(#[from] NoSuchLevel),
    /// A tape checkpoint at a level in between.
    #[error("A look at the tapes is 0 (not there) or 3 (there).")]
    TapeLevel,
    /// A stage with a level or slips.
    #[error("A look at a whole stage has neither level nor slips; record the checkpoint itself.")]
    StageWithLevel,
    /// An exception that is not of that stage.
    #[error("`{0}` is not part of that stage.")]
    Exception(String),
    /// A slip that is not of that checkpoint.
    #[error("The slip `{0}` is not one of `{1}`.")]
    Slip(String, CheckpointId),
}

impl From<&Observation> for NewObservation {
    fn from(observation: &Observation) -> Self {
        let (level, slips, except, retracts) = match &observation.seen {
            Observed::Level { level, slips } => {
                (Some(level.number()), slips.iter().map(ToString::to_string).collect(), Vec::new(), None)
            }
            Observed::Holds { except } => (None, Vec::new(), except.iter().map(ToString::to_string).collect(), None),
            Observed::Retracts(id) => (None, Vec::new(), Vec::new(), Some(*id)),
        };
        Self {
            id: observation.id,
            child: observation.child,
            target: observation.target.id().to_owned(),
            level,
            slips,
            except,
            says: observation.says,
            note: observation.note.clone(),
            via: observation.via,
            observed_at: observation.observed_at,
            round: observation.round,
            retracts,
        }
    }
}

impl NewObservation {
    /// An observation that was checked when it was taken in, as the rules know it: what the checklist says of it now does not
    /// matter. `None` for a level that is none.
    #[must_use]
    pub fn taken_in(self, observer: AccountId) -> Option<Observation> {
        let target = Target::from_id(&self.target);
        let seen = match (self.retracts, self.level) {
            (Some(retracts), _) => Observed::Retracts(retracts),
            (None, Some(level)) => Observed::Level {
                level: Level::try_from(level).ok()?,
                slips: self.slips.into_iter().map(SlipId::new).collect(),
            },
            (None, None) => Observed::Holds { except: self.except.into_iter().map(CheckpointId::new).collect() },
        };
        Some(Observation {
            id: self.id,
            child: self.child,
            target,
            seen,
            says: self.says,
            note: self.note,
            via: self.via,
            observed_at: self.observed_at,
            recorded_at: self.observed_at,
            observer,
            round: self.round,
        })
    }

    /// The observation as the rules know it, taken in by `observer` at `now`.
    ///
    /// # Errors
    /// [`ObservationFault`]: the first thing of it that cannot be.
    pub fn check(
        self,
        checklist: &Checklist,
        observer: AccountId,
        now: DateTime<Utc>,
    ) -> Result<Observation, ObservationFault> {
        let target = checklist.target(&self.target);
        let target = target.ok_or_else(|| ObservationFault::Target(self.target.clone()))?;
        let seen = self.observed(checklist, &target)?;
        let note = self.note.as_deref().map(str::trim).filter(|note| !note.is_empty()).map(str::to_owned);
        if note.as_ref().is_some_and(|note| note.chars().count() > MAX_NOTE_LENGTH) {
            return Err(ObservationFault::LongNote);
        }
        if note.as_ref().is_some_and(|note| note.contains('\0')) {
            return Err(ObservationFault::UnstorableNote);
        }
        if self.observed_at > now + MAX_CLOCK_AHEAD {
            return Err(ObservationFault::Future);
        }
        Ok(Observation {
            id: self.id,
            child: self.child,
            target,
            seen,
            says: self.says,
            note,
            via: self.via,
            observed_at: self.observed_at,
            recorded_at: now,
            observer,
            round: self.round,
        })
    }

    fn observed(&self, checklist: &Checklist, target: &Target) -> Result<Observed, ObservationFault> {
        if let Some(retracts) = self.retracts {
            return if self.level.is_none() && self.slips.is_empty() && self.except.is_empty() {
                Ok(Observed::Retracts(retracts))
            } else {
                Err(ObservationFault::UndoWithMore)
            };
        }
        match target {
            Target::Checkpoint(id) => {
                if !self.except.is_empty() {
                    return Err(ObservationFault::CheckpointWithExceptions);
                }
                let level = Level::try_from(self.level.ok_or(ObservationFault::NoLevel)?)?;
                check_tape_level(checklist, target, level)?;
                Ok(Observed::Level { level, slips: self.slips(checklist, id)? })
            }
            Target::Stage(_) if self.level.is_some() || !self.slips.is_empty() => Err(ObservationFault::StageWithLevel),
            Target::Stage(stage) => {
                let known = |id: &String| checklist.checkpoint(id).is_some_and(|other| other.stage == *stage);
                match self.except.iter().find(|id| !known(id)) {
                    Some(id) => Err(ObservationFault::Exception(id.clone())),
                    None => Ok(Observed::Holds { except: self.except.iter().map(CheckpointId::new).collect() }),
                }
            }
        }
    }

    fn slips(&self, checklist: &Checklist, id: &CheckpointId) -> Result<BTreeSet<SlipId>, ObservationFault> {
        let known = |slip: &String| checklist.slip(slip).is_some_and(|known| known.checkpoint == *id);
        match self.slips.iter().find(|slip| !known(slip)) {
            Some(slip) => Err(ObservationFault::Slip(slip.clone(), id.clone())),
            None => Ok(self.slips.iter().map(SlipId::new).collect()),
        }
    }
}

/// Tapes are there or they are not: they have no levels in between.
fn check_tape_level(checklist: &Checklist, target: &Target, level: Level) -> Result<(), ObservationFault> {
    let is_tape = checklist.strand_of_target(target) == Some(Strand::Tape);
    if is_tape && !matches!(level, Level::NotYet | Level::Alone) { Err(ObservationFault::TapeLevel) } else { Ok(()) }
}
