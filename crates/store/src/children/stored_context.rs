//! What is known of children besides their observations, as the rules read it: circumstances, overrides, and the tapes of the
//! instruments they have. A class is read in one query.

use crate::versioned;
use std::collections::BTreeMap;

use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::id::Target;
use bright_row_core::craft::id::{CheckpointId, StageId};
use bright_row_core::progress::context::ChildContext;
use bright_row_core::tapes::assessment::MarkerAssessment;
use bright_row_core::tapes::marker_set::MarkerSet;
use bright_row_core::tapes::record::TapeRecord;
use bright_row_core::{AssetId, ChildId, ObservationId};
use chrono::{DateTime, Utc};
use sea_orm::{ConnectionTrait, FromQueryResult, Statement, Value};
use uuid::Uuid;

use crate::classes::ClassKey;
use crate::error::StoreError;

/// What counts for a child besides its observations.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct StoredContext {
    /// For its ladder; what its tapes come to is added by [`StoredContext::assess`].
    pub context: ChildContext,
    /// Its overrides.
    pub overrides: Choices,
    /// When it said that it hurts, and nobody has said yet what was done.
    pub pain: BTreeMap<ObservationId, Target>,
    /// The instrument that it has.
    pub markers: Option<InstrumentMarkers>,
    /// Since when.
    pub has_since: Option<DateTime<Utc>>,
}

/// The tapes of an instrument that somebody has.
#[derive(Clone, Debug, PartialEq)]
pub struct InstrumentMarkers {
    /// Which.
    pub asset: AssetId,
    /// Its string length, in millimetres.
    pub length_mm: Option<f64>,
    /// What follows from its log.
    pub record: TapeRecord,
}

impl StoredContext {
    /// Adds what the log of the child's instrument comes to under its class's set of markers.
    #[must_use]
    pub fn assess(mut self, set: &MarkerSet) -> Self {
        self.context.tapes =
            self.markers.as_ref().map(|markers_of| MarkerAssessment::of(&markers_of.record, set, markers_of.length_mm));
        self
    }
}

/// One row for each thing known, whatever it is: a class is read in one query.
const KNOWN: &str = "
    select c.child_id, k.kind, k.id, k.choice
    from child c
    join (
      select program_id, child_id, 'exempt' as kind, checkpoint_id as id, '' as choice from accommodation
        where program_id = $1 and ended_at is null and look_for = ''
      union all
      select program_id, child_id, 'opened', stage_id, '' from stage_opened
        where program_id = $1 and ended_at is null
      union all
      select program_id, child_id, 'pain', target, observation_id::text from pain_open where program_id = $1
      union all
      select program_id, child_id, 'override', key, choice from child_choice where program_id = $1
      union all
      select l.program_id, l.child_id, 'tapes', l.asset_id || ' ' || coalesce(a.string_length_mm::text, ''),
             coalesce(r.record::text, '')
        from loan l
        join asset a on a.program_id = l.program_id and a.asset_id = l.asset_id
        left join tape_record r on r.program_id = l.program_id and r.asset_id = l.asset_id
        where l.program_id = $1 and l.until is null
      union all
      select program_id, child_id, 'since', to_json(since at time zone 'UTC') #>> '{}' || 'Z', '' from loan
        where program_id = $1 and until is null
      union all
      -- It had another instrument before this one.
      select l.program_id, l.child_id, 'swapped', to_json(l.since at time zone 'UTC') #>> '{}' || 'Z', ''
        from loan l
        where l.program_id = $1 and l.until is null
          and exists (select from loan b where b.program_id = $1 and b.child_id = l.child_id
                      and b.asset_id <> l.asset_id and b.until <= l.since)
    ) k on k.program_id = c.program_id and k.child_id = c.child_id
    where c.program_id = $1";

#[derive(FromQueryResult)]
struct Row {
    child_id: Uuid,
    kind: String,
    id: String,
    choice: String,
}

async fn known(
    db: &impl ConnectionTrait,
    also: &str,
    values: [Value; 2],
) -> Result<BTreeMap<ChildId, StoredContext>, StoreError> {
    let sql = format!("{KNOWN} and {also}");
    let rows = Row::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
    let mut found: BTreeMap<ChildId, StoredContext> = BTreeMap::new();
    for row in rows.all(db).await? {
        let known = found.entry(row.child_id.into()).or_default();
        match row.kind.as_str() {
            "exempt" => drop(known.context.exempt.insert(CheckpointId::new(row.id))),
            "opened" => drop(known.context.opened.insert(StageId::new(row.id))),
            "pain" => {
                let target = Target::from_id(&row.id);
                known.context.pain.insert(target.clone());
                known.pain.insert(parse_uuid(&row.choice)?.into(), target);
            }
            "since" => known.has_since = Some(parse_moment(row.id)?),
            "tapes" => known.markers = Some(markers_of(&row)?),
            "swapped" => known.context.swapped_at = Some(parse_moment(row.id)?),
            _ => drop(known.overrides.insert(row.id, row.choice)),
        }
    }
    Ok(found)
}

fn parse_moment(text: String) -> Result<DateTime<Utc>, StoreError> {
    text.parse().map_err(|_| StoreError::Unreadable { what: "moment", value: text })
}

fn parse_uuid(text: &str) -> Result<Uuid, StoreError> {
    text.parse().map_err(|_| StoreError::Unreadable { what: "id", value: text.to_owned() })
}

fn markers_of(row: &Row) -> Result<InstrumentMarkers, StoreError> {
    let unreadable = |value: &str| StoreError::Unreadable { what: "tape record", value: value.to_owned() };
    let record = |text: &str| versioned::read(serde_json::from_str(text).map_err(|_| unreadable(text))?);
    let (asset, length) = row.id.split_once(' ').ok_or_else(|| unreadable(&row.id))?;
    let asset = asset.parse::<Uuid>().map_err(|_| unreadable(&row.id))?.into();
    let length_mm = if length.is_empty() { None } else { Some(length.parse().map_err(|_| unreadable(&row.id))?) };
    let record = if row.choice.is_empty() { TapeRecord::default() } else { record(&row.choice)? };
    Ok(InstrumentMarkers { asset, length_mm, record })
}

/// What is known of everybody in a class; children of whom nothing is known are left out.
pub async fn of_class(
    db: &impl ConnectionTrait,
    class: ClassKey,
) -> Result<BTreeMap<ChildId, StoredContext>, StoreError> {
    let values = [class.program.uuid().into(), class.class.uuid().into()];
    known(db, "c.class_id = $2 and c.left_on is null", values).await
}

/// What is known of one child.
pub async fn of_child(db: &impl ConnectionTrait, class: ClassKey, child: ChildId) -> Result<StoredContext, StoreError> {
    let values = [class.program.uuid().into(), child.uuid().into()];
    Ok(known(db, "c.child_id = $2", values).await?.remove(&child).unwrap_or_default())
}
