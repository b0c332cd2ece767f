//! Observations as rows of their table, and back.

use crate::classes::ClassKey;
use crate::entity::observation;
use crate::error::StoreError;
use crate::rows::{as_stored, read_says};
use bright_row_core::craft::id::CheckpointId;
use bright_row_core::craft::id::SlipId;
use bright_row_core::craft::id::Target;
use bright_row_core::craft::level::Level;
use bright_row_core::progress::observation::Observation;
use bright_row_core::progress::observation::Observed;
use bright_row_core::progress::observation::Via;
use std::collections::BTreeSet;

/// What inserts rows of the program `$1` that stand in a source, by their names.
pub(super) fn insert_from(source: &str) -> String {
    format!(
        "insert into observation (program_id, observation_id, class_id, child_id, target, level, retracts, slips, except_checkpoints,
           says, note, via, observed_at, recorded_at, observer, round_id)
         select $1, observation_id, class_id, child_id, target, level, retracts, slips, except_checkpoints, says, note, via,
           observed_at, recorded_at, observer, round_id
         from {source}"
    )
}

pub(crate) fn row(class: ClassKey, observation: &Observation) -> observation::Model {
    let (level, retracts, slips, except) = match &observation.seen {
        Observed::Level { level, slips } => {
            (Some(i16::from(level.number())), None, texts(slips, SlipId::as_str), vec![])
        }
        Observed::Holds { except } => (None, None, vec![], texts(except, CheckpointId::as_str)),
        Observed::Retracts(id) => (None, Some(id.uuid()), vec![], vec![]),
    };
    observation::Model {
        program_id: class.program.uuid(),
        observation_id: observation.id.uuid(),
        class_id: class.class.uuid(),
        child_id: observation.child.uuid(),
        target: observation.target.id().to_owned(),
        level,
        retracts,
        slips,
        except_checkpoints: except,
        says: observation.says.map(|says| says.word().to_owned()),
        note: observation.note.clone(),
        via: observation.via.word().to_owned(),
        observed_at: as_stored(observation.observed_at),
        recorded_at: as_stored(observation.recorded_at),
        observer: observation.observer.uuid(),
        round_id: observation.round.map(bright_row_core::RoundId::uuid),
    }
}

fn texts<T>(ids: &BTreeSet<T>, text: impl Fn(&T) -> &str) -> Vec<String> {
    ids.iter().map(|id| text(id).to_owned()).collect()
}

pub(crate) fn read_all(rows: Vec<observation::Model>) -> Result<Vec<Observation>, StoreError> {
    rows.into_iter().map(read).collect()
}

pub(crate) fn read(row: observation::Model) -> Result<Observation, StoreError> {
    let seen = match (row.level, row.retracts) {
        (Some(level), _) => {
            Observed::Level { level: read_level(level)?, slips: row.slips.into_iter().map(SlipId::new).collect() }
        }
        (None, Some(id)) => Observed::Retracts(id.into()),
        (None, None) => Observed::Holds { except: row.except_checkpoints.into_iter().map(CheckpointId::new).collect() },
    };
    Ok(Observation {
        id: row.observation_id.into(),
        child: row.child_id.into(),
        target: Target::from_id(&row.target),
        seen,
        says: read_says(row.says)?,
        note: row.note,
        via: Via::parse(&row.via).ok_or(StoreError::Unreadable { what: "way of looking", value: row.via })?,
        observed_at: row.observed_at,
        recorded_at: row.recorded_at,
        observer: row.observer.into(),
        round: row.round_id.map(Into::into),
    })
}

pub(crate) fn read_level(number: i16) -> Result<Level, StoreError> {
    u8::try_from(number)
        .ok()
        .and_then(|number| Level::try_from(number).ok())
        .ok_or_else(|| StoreError::Unreadable { what: "level", value: number.to_string() })
}
