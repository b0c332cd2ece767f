//! What was measured on children, and what was found right in the end. Both are only ever added; the latest counts.

use bright_row_core::setup::body::SetUpPart;
use std::collections::BTreeMap;

use bright_row_core::ChildId;
use bright_row_core::setup::measures::{Measure, Measures};
use chrono::{DateTime, NaiveDate, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter, QueryOrder, Statement};
use uuid::Uuid;

use crate::classes::ClassKey;
use crate::entity::{measuring, setup_found};
use crate::error::StoreError;

/// What is known of a child's body.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Measured {
    /// The latest of each measure.
    pub measures: Measures,
    /// When anything was measured last.
    pub last: Option<NaiveDate>,
}

/// What was found right.
#[derive(Clone, Debug, PartialEq)]
pub struct Finding {
    /// In millimetres, where it is a length.
    pub mm: Option<f64>,
    /// In words; empty for none.
    pub words: String,
    /// When.
    pub at: DateTime<Utc>,
}

/// What was found right of each part.
pub type Findings = BTreeMap<SetUpPart, Finding>;

/// Adds a measuring; the same id twice is one. `measures` holds at least one measure.
pub async fn add(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
    id: Uuid,
    on: NaiveDate,
    measures: &Measures,
) -> Result<(), StoreError> {
    let row = measuring::ActiveModel {
        program_id: Set(class.program.uuid()),
        measuring_id: Set(id),
        child_id: Set(child.uuid()),
        measured_on: Set(on),
        arm_mm: Set(measures.arm_mm),
        height_mm: Set(measures.height_mm),
        span_mm: Set(measures.span_mm),
        knee_mm: Set(measures.knee_mm),
        lip_mm: Set(measures.lip_mm),
        forehead_mm: Set(measures.forehead_mm),
    };
    let once = sea_orm::sea_query::OnConflict::columns([measuring::Column::ProgramId, measuring::Column::MeasuringId])
        .do_nothing()
        .to_owned();
    measuring::Entity::insert(row).on_conflict(once).exec_without_returning(db).await?;
    Ok(())
}

#[derive(FromQueryResult)]
struct OfChild {
    child_id: Uuid,
    measured_on: NaiveDate,
    arm_mm: Option<f64>,
    height_mm: Option<f64>,
    span_mm: Option<f64>,
    knee_mm: Option<f64>,
    lip_mm: Option<f64>,
    forehead_mm: Option<f64>,
}

/// What is known of every child of a class that was ever measured.
pub async fn of_class(db: &impl ConnectionTrait, class: ClassKey) -> Result<BTreeMap<ChildId, Measured>, StoreError> {
    known(db, class, None).await
}

/// What is known of one child of a class.
pub async fn of_child(db: &impl ConnectionTrait, class: ClassKey, child: ChildId) -> Result<Measured, StoreError> {
    Ok(known(db, class, Some(child)).await?.remove(&child).unwrap_or_default())
}

async fn known(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: Option<ChildId>,
) -> Result<BTreeMap<ChildId, Measured>, StoreError> {
    const SQL: &str = "
        select m.child_id, m.measured_on, m.arm_mm, m.height_mm, m.span_mm, m.knee_mm, m.lip_mm, m.forehead_mm
        from child c join measuring m on m.program_id = c.program_id and m.child_id = c.child_id
        where c.program_id = $1 and c.class_id = $2 and ($3::uuid is null or c.child_id = $3)
        order by m.measured_on, m.measuring_id";
    let values = [class.program.uuid().into(), class.class.uuid().into(), child.map(ChildId::uuid).into()];
    let rows = OfChild::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), SQL, values));
    let mut known: BTreeMap<ChildId, Measured> = BTreeMap::new();
    for row in rows.all(db).await? {
        let measured = known.entry(row.child_id.into()).or_default();
        measured.last = Some(row.measured_on);
        let new = Measures {
            arm_mm: row.arm_mm,
            height_mm: row.height_mm,
            span_mm: row.span_mm,
            knee_mm: row.knee_mm,
            lip_mm: row.lip_mm,
            forehead_mm: row.forehead_mm,
        };
        for measure in Measure::ALL {
            if let Some(mm) = new.get(*measure) {
                *measured.measures.get_mut(*measure) = Some(mm);
            }
        }
    }
    Ok(known)
}

/// Adds what was found right; the same id twice is one.
pub async fn add_finding(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
    id: Uuid,
    part: SetUpPart,
    finding: &Finding,
) -> Result<(), StoreError> {
    let row = setup_found::ActiveModel {
        program_id: Set(class.program.uuid()),
        found_id: Set(id),
        child_id: Set(child.uuid()),
        kind: Set(part.word().to_owned()),
        mm: Set(finding.mm),
        words: Set(finding.words.clone()),
        found_at: Set(finding.at),
    };
    let once = sea_orm::sea_query::OnConflict::columns([setup_found::Column::ProgramId, setup_found::Column::FoundId])
        .do_nothing()
        .to_owned();
    setup_found::Entity::insert(row).on_conflict(once).exec_without_returning(db).await?;
    Ok(())
}

/// What was found right for these children.
pub async fn findings(
    db: &impl ConnectionTrait,
    class: ClassKey,
    children: impl Iterator<Item = ChildId>,
) -> Result<BTreeMap<ChildId, Findings>, StoreError> {
    let rows = setup_found::Entity::find()
        .filter(setup_found::Column::ProgramId.eq(class.program.uuid()))
        .filter(setup_found::Column::ChildId.is_in(children.map(ChildId::uuid)))
        .order_by_asc(setup_found::Column::FoundAt)
        .order_by_asc(setup_found::Column::FoundId)
        .all(db)
        .await?;
    let mut known: BTreeMap<ChildId, Findings> = BTreeMap::new();
    for row in rows {
        let part = SetUpPart::parse(&row.kind);
        let part = part.ok_or(StoreError::Unreadable { what: "part of the set-up", value: row.kind })?;
        let finding = Finding { mm: row.mm, words: row.words, at: row.found_at };
        known.entry(row.child_id.into()).or_default().insert(part, finding);
    }
    Ok(known)
}
